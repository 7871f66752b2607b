"""EN 1992-1-1:2004: walls, piers and lintels from its clauses, in the order of a calculation."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.trace import about
from sandwich.standards.arrangement import Floats
from sandwich.standards.en1992 import (
    compression,
    joints,
    links,
    materials,
    minimum,
    second_order,
    shear,
    slender,
    torsion,
)
from sandwich.standards.interface.walls import (
    ClosedSection,
    MemberCheck,
    OutOfPlane,
    SlenderWall,
    WallPart,
    ratio_check,
    spacing_check,
)

LEVER: Final = 0.8  # of the length of a wall
ROUGHNESS: Final = {"very smooth": (0.025, 0.5), "smooth": (0.20, 0.6), "rough": (0.40, 0.7), "indented": (0.50, 0.9)}
SEISMIC_BOND: Final = 0.5  # of c, 6.2.5(5)
STIFFNESS: Final = "nominal stiffness"
LEAST_STIFF: Final = 0.002  # ratio of bars from which 5.8.7.2(2) holds
LINK_PART: Final = 0.75  # of d: spacing of links of beams, (9.6N)


class EN1992Walls:
    """What `EN1992` does for walls, from its values."""

    own_settings = frozenset({
        "cot_theta", "cot_theta_max", "creep", "fct_eff_ratio", "imposed_deformation", "joint", "simplified",
    })  # fmt: skip
    second_order = ("nominal curvature", STIFFNESS)
    parameters: dict[str, Any]

    def _value(self, key: str) -> float:
        return float(self.parameters["values"][key])

    def _materials(self, of: WallPart | SlenderWall) -> tuple[float, float, Mapping[str, float]]:
        partial = self.parameters[of.situation]
        f_cd = materials.f_cd(of.concrete.cylinder, gamma_c=partial["gamma_c"], alpha_cc=self._value("alpha_cc"))
        return float(f_cd), float(materials.f_yd(of.steel.f_yk, gamma_s=partial["gamma_s"])), partial

    def _shear(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        """Shear per thickness, lever arm, resistance without bars, by struts, and the slope of the struts."""
        f_cd, _, partial = self._materials(of)
        f_ck, v = of.concrete.cylinder, np.abs(np.asarray(V, dtype=float)) / of.thickness
        z = 0.9 * of.d if of.beam else LEVER * of.length
        d = z / 0.9
        N = np.asarray(N, dtype=float)
        rho_l = min(of.across if of.beam else of.across / 2.0, 0.02)
        size = shear.k(d)
        least = shear.v_min(
            size, f_ck, factor=shear.v_min_factor(d, self._value("v_min_factor"), self._value("v_min_deep_factor"))
        )
        sigma = shear.sigma_cp(-N / of.thickness, of.length, f_cd)
        alone = shear.v_Rd_c(
            d,
            size,
            rho_l,
            f_ck,
            least,
            sigma,
            C_Rd_c=self._value("C_Rd_c_factor") / partial["gamma_c"],
            k_1=self._value("k_1"),
        )
        nu = links.nu_1(f_ck, factor=self._value("nu_factor"))
        most = min(of.cot_theta_max, self._value("cot_theta_max"))
        flattest = links.cot_theta(v, z, nu, f_cd, most=most)
        # our reading: struts of 45 degrees where the whole section is pulled; they carry most where all are crushed
        cot = np.where((N > 0.0) | np.isnan(flattest), 1.0, flattest)
        struts = links.v_Rd_max(z, nu, f_cd, cot)
        return v, np.full(v.shape, z), np.maximum(alone, 0.0), np.asarray(struts), np.asarray(cot)

    def shear_without_bars(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> Floats:
        """Shear that the concrete carries by 6.2.2 [N]."""
        return self._shear(of, V, N)[2] * of.thickness

    def wall_shear(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:
        """Shear by 6.2.2, or by 6.2.3 with the bars along it; sliding along joints by 6.2.5."""
        f_cd, f_yd, _ = self._materials(of)
        with about("shear in plane"):
            v, z, alone, struts, cot = self._shear(of, V, N)
            bars = links.v_Rd_s(of.along, z, f_yd, cot)
        t = of.thickness
        holds = np.maximum(alone, np.minimum(bars, struts))
        out = [
            MemberCheck("shear in plane", "6.2.2, 6.2.3", v * t, holds * t, "N"),
            MemberCheck("struts of the shear", "6.2.3(3)", v * t, struts * t, "N"),
        ]
        return (*out, self._sliding(of, V, N, f_cd, f_yd)) if not of.beam else tuple(out)

    def _sliding(self, of: WallPart, V: ArrayLike, N: ArrayLike, f_cd: float, f_yd: float) -> MemberCheck:
        c, mu = ROUGHNESS[of.joint]
        c *= SEISMIC_BOND if of.situation == "seismic" else 1.0
        partial = self.parameters[of.situation]
        f_ctd = materials.f_ctd(materials.f_ctm(of.concrete.cylinder), gamma_c=partial["gamma_c"])
        with about("construction joint"):
            acts = joints.v_Edi(np.abs(np.asarray(V, dtype=float)), of.length, of.thickness)
            holds = joints.v_Rdi(
                c, f_ctd, mu, -np.asarray(N, dtype=float) / of.area, of.across, f_yd,
                links.nu_1(of.concrete.cylinder, factor=self._value("nu_factor")), f_cd,
            )  # fmt: skip
        return MemberCheck("sliding at joints", "6.2.5", np.asarray(acts), np.asarray(holds), "MPa", of.joint)

    def shear_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> Floats:
        """Ratio by 6.2.3 where 6.2.2 is not enough, and the minimum of 9.6.3 or 9.2.2(5)."""
        _, f_yd, _ = self._materials(of)
        v, z, alone, struts, cot = self._shear(of, V, N)
        need = np.where(v > alone, links.a_sw(v, z, f_yd, cot), 0.0)
        return np.asarray(np.where(v > struts, np.inf, np.maximum(need, self._least_along(of))))

    def _least_along(self, of: WallPart) -> float:
        if of.beam:
            return float(links.rho_w_min(of.concrete.cylinder, of.steel.f_yk, factor=self._value("rho_w_factor")))
        return float(minimum.a_s_hmin(1.0, of.across, ratio=self._value("A_s_hmin")))

    def wall_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:  # noqa: ARG002
        """9.6.2 and 9.6.3 of walls, 9.2 of lintels."""
        h = of.thickness
        if of.beam:
            f_ctm = materials.f_ctm(of.concrete.cylinder)
            chord = float(minimum.a_s_min_slab(1.0, f_ctm, of.steel.f_yk))
            return (
                ratio_check("minimum links", "9.2.2(5)", self._least_along(of), of.along),
                ratio_check("minimum chord", "9.2.1.1(1)", chord, of.across),
                spacing_check("spacing of links", "9.2.2(6)", of.spacings[0], LINK_PART * of.d),
            )
        most = float(minimum.s_max_slabs(h, part=self._value("s_factor_wall"), most=self._value("s_most_wall")))
        least_up = float(minimum.a_s_vmin(1.0, ratio=self._value("A_s_vmin")))
        return (
            ratio_check("minimum vertical", "9.6.2(1)", least_up, of.across),
            ratio_check("minimum horizontal", "9.6.3(1)", self._least_along(of), of.along),
            MemberCheck("maximum vertical", "9.6.2(1)", np.array([100.0 * of.across]),
                        np.array([100.0 * float(minimum.a_s_max(1.0, ratio=self._value("A_s_max")))]), "%"),
            spacing_check("spacing vertical", "9.6.2(3)", of.spacings[1], most),
            spacing_check("spacing horizontal", "9.6.3(2)", of.spacings[0], self._value("s_most_wall")),
        )  # fmt: skip

    def out_of_plane(self, of: SlenderWall, N: ArrayLike, M_1: ArrayLike, M_2: ArrayLike) -> OutOfPlane:
        """Imperfection by 5.2(9), minimum eccentricity by 6.1(4); past lambda_lim second order by 5.8.8 or 5.8.7."""
        f_cd, f_yd, _ = self._materials(of)
        P = np.maximum(-np.asarray(N, dtype=float), 0.0)
        one, two = np.asarray(M_1, dtype=float), np.asarray(M_2, dtype=float)
        turn = np.where(np.abs(two) >= np.abs(one), np.sign(two), np.sign(one))
        low, high = np.where(np.abs(two) >= np.abs(one), one, two) * turn, np.maximum(np.abs(one), np.abs(two))
        beta = of.factor if of.factor is not None else float(slender.beta_wall(of.height, of.between, of.edges))
        l_0 = beta * of.height
        area = of.length * of.thickness
        n, omega = np.maximum(P / (area * f_cd), 1e-9), of.bars * f_yd / (area * f_cd)
        slim = slender.slenderness(l_0, of.thickness)
        e_i = slender.e_i(l_0)
        M_01, M_02 = low + P * e_i, np.maximum(high + P * e_i, P * compression.e_0(of.thickness))
        # moments of loads between the ends, or of imperfections, are taken as even
        even = of.transverse | (P * e_i > high)
        C = 1.7 - np.where(even, 1.0, M_01 / np.maximum(M_02, 1e-9))
        limit = slender.lambda_lim(
            n, A=1.0 / (1.0 + 0.2 * of.creep), B=np.sqrt(1.0 + 2.0 * omega), C=np.clip(C, 0.7, 2.7)
        )
        slender_ = (P > 0.0) & (slim > limit)
        M_0e, limits = slender.M_0e(M_01, M_02), tuple[MemberCheck, ...]()
        if of.method == STIFFNESS:
            method = "5.8.7"
            grown = M_0e * self._factor_by_stiffness(of, P, n, slim, l_0)
            least = ratio_check("steel for the nominal stiffness", "5.8.7.2(2)", LEAST_STIFF, of.bars / area)
            limits = (least,) if slender_.any() else ()
        else:
            method = "5.8.8"
            K_r = np.where(n < 1.0 + omega, second_order.K_r(n, omega), 1.0)
            K_phi = second_order.K_phi(of.concrete.cylinder, slim, of.creep)
            bent = second_order.curvature(K_r, K_phi, f_yd / of.steel.E_s, of.depth)
            grown = M_0e + P * second_order.e_2(bent, l_0)
        moment = np.where(slender_, np.maximum(grown, M_02), M_02)
        return OutOfPlane(np.where(P > 0.0, moment, high), slender_, f"5.2, 5.8.3, {method}, 6.1(4)", limits)

    def _factor_by_stiffness(self, of: SlenderWall, P: Floats, n: Floats, slim: float, l_0: float) -> Floats:
        """Second over first order moment by the nominal stiffness; even moments, c_0 = 8, on the safe side."""
        E_cm = materials.E_cm(materials.f_cm(of.concrete.cylinder))
        I_c, I_s = of.length * of.thickness**3 / 12.0, of.bars * (of.depth - of.thickness / 2.0) ** 2
        K_c = second_order.K_c(of.concrete.cylinder, n, slim, of.creep)
        EI = second_order.EI_nominal(
            K_c, 1.0, E_cm, I_c, I_s, E_s=of.steel.E_s, gamma_cE=self._value("gamma_cE")
        )  # fmt: skip
        return np.asarray(second_order.moment_factor(second_order.N_B(EI, l_0), np.maximum(P, 1e-9)))

    def torsion(self, of: ClosedSection, T: ArrayLike, V_1: ArrayLike, V_2: ArrayLike) -> tuple[MemberCheck, ...]:
        """Struts by (6.29) with the shear of both axes, bars by 6.3.2, struts at 45 degrees."""
        partial = self.parameters[of.situation]
        f_cd = materials.f_cd(of.concrete.cylinder, gamma_c=partial["gamma_c"], alpha_cc=self._value("alpha_cc"))
        f_yd = materials.f_yd(of.steel.f_yk, gamma_s=partial["gamma_s"])
        nu = links.nu_1(of.concrete.cylinder, factor=self._value("nu_factor"))
        with about("torsion"):
            most = torsion.T_Rd_max(nu, f_cd, of.area, of.thickness, 1.0)
            round_ = torsion.T_Rd_s(of.transverse, f_yd, of.area, 1.0)
            along = torsion.T_Rd_l(of.along, of.round, f_yd, of.area, 1.0)
        twist, *shears = (np.abs(np.asarray(v, dtype=float)) for v in (T, V_1, V_2))
        struts, bars = twist / most, twist / round_
        for v, web, steel in zip(shears, of.webs, of.web_steel, strict=True):
            struts = struts + v / max(LEVER * web * float(nu * f_cd) / 2.0, 1e-9)
            bars = bars + v / max(LEVER * steel * float(f_yd), 1e-9)
        one = np.ones(twist.shape)
        return (
            MemberCheck("struts of shear and torsion", "6.3.2(4), (6.29)", struts, one, "-"),
            MemberCheck("horizontal bars of shear and torsion", "6.2.3, 6.3.2(2)", bars, one, "-"),
            MemberCheck(
                "bars along for torsion", "6.3.2(3), (6.28)", twist, np.full(twist.shape, float(along)), "N mm"
            ),
        )
