"""ACI 318-19: walls, piers and lintels from its clauses, in the order of a calculation."""

from __future__ import annotations

import math
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.section import Steel
from sandwich.core.trace import about
from sandwich.standards.aci318 import (
    cracking,
    flexure,
    layers,
    member,
    minimum,
    shear,
    slender,
    slender_alternative,
    torsion,
    wall_shear,
)
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.walls import (
    ClosedSection,
    MemberCheck,
    OutOfPlane,
    SlenderWall,
    WallPart,
    ratio_check,
    spacing_check,
)

PHI_SHEAR: Final = 0.75  # Table 21.2.1(b)
PIER: Final = 0.83  # 18.10.4.4
WHOLE: Final = 0.66  # 11.5.4.2
TWO_CURTAINS: Final = 250.0  # mm, 11.7.2.3
RADIUS: Final = 0.3  # of the thickness, 6.2.5.2
MAGNIFIED: Final = 1.4  # 6.2.5.3
F_YT_TORSION: Final = 420.0  # Table 20.2.2.4(a)
EPS_CU: Final = 0.003  # 22.2.2.1
BRACED: Final = 1.0  # k of a braced wall, 6.6.4.4.3
DEFLECTION: Final = "deflection in service"
MIDHEIGHT: Final = 150.0  # l_c over it, 11.8.1.1(e)


class _CrackedWall(NamedTuple):
    """A slender wall of 11.8 beside its axial force: modulus [MPa], c [mm], I_cr [mm4], moments [N mm]."""

    E_c: float
    c: Floats
    I_cr: Floats
    M_cr: float
    M_n: Floats


def _cracked_wall(of: SlenderWall, P: Floats) -> _CrackedWall:
    f_c, f_y, h = of.concrete.cylinder, of.steel.f_yk, of.thickness
    E_c = float(cracking.E_c(f_c))
    A_s = of.bars / 2.0 if of.depth > h / 2.0 + 1.0 else of.bars  # the bars of one face pull
    a = (P + A_s * f_y) / (0.85 * f_c * of.length)
    c = a / float(flexure.beta_1(f_c))
    I_cr = slender_alternative.I_cr(of.steel.E_s / E_c, A_s, P, h, of.depth, f_y, c, of.length)
    M_cr = float(slender_alternative.M_cr(layers.f_r(f_c), of.length * h**3 / 12.0, h))
    return _CrackedWall(E_c, c, I_cr, M_cr, A_s * f_y * (of.depth - a / 2.0) + P * (h - a) / 2.0)


class ACI318Walls:
    """What `ACI318` does for walls."""

    own_settings: frozenset[str] = frozenset({"simplified"})
    second_order = ("moment magnification", "alternative")
    f_yt_wall = 690.0  # MPa, Table 20.2.2.4(a), walls
    in_plane = ("11.5.4.3", "11.5.4.2")  # clauses of strength and its limit

    def _strength(self, of: WallPart, N: Floats, along: ArrayLike) -> tuple[Floats, Floats]:
        """Nominal strength with a ratio of horizontal bars, and the largest there may be (k,) [N]."""
        root = shear.root_f_c(of.concrete.cylinder)
        if of.beam:
            v_c = self._beam_concrete(of, N, root)
            steel = np.asarray(along) * min(of.steel.f_yk, 420.0) * of.d
            return (v_c + steel) * of.thickness, shear.v_max(v_c, root, of.d) * of.thickness
        return self._wall_strength(of, N, along, root)

    def _beam_concrete(self, of: WallPart, N: Floats, root: float) -> Floats:
        """Shear strength of the concrete of a lintel [N/mm]."""
        axial = shear.axial_term(-N / of.area, of.concrete.cylinder)
        return np.asarray(shear.v_c(of.d, shear.lambda_s(of.d), of.across, root, axial))

    def _wall_strength(self, of: WallPart, N: Floats, along: ArrayLike, root: float) -> tuple[Floats, Floats]:
        """Nominal strength of a wall, and the largest there may be [N]."""
        pulled = N > 0.0
        alpha = np.where(pulled, wall_shear.alpha_c_tension(-N, of.area), wall_shear.alpha_c(of.height, of.length))
        strength = wall_shear.V_n(alpha, root, along, min(of.steel.f_yk, self.f_yt_wall), of.area)
        factor = PIER if of.situation == "seismic" else WHOLE
        return np.asarray(strength), np.full(N.shape, wall_shear.V_n_max(root, of.area, factor))

    def wall_shear(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:
        """Shear by 11.5.4, in seismic combinations by 18.10.4; of lintels by 22.5."""
        v, n = np.abs(np.asarray(V, dtype=float)), np.asarray(N, dtype=float)
        with about("shear in plane"):
            strength, most = self._strength(of, n, of.along)
        strong, limited = self.in_plane
        clause = "22.5" if of.beam else "18.10.4.1" if of.situation == "seismic" else strong
        limit = "22.5.1.2" if of.beam else "18.10.4.4" if of.situation == "seismic" else limited
        return (
            MemberCheck("shear in plane", clause, v, PHI_SHEAR * np.minimum(strength, most), "N"),
            MemberCheck("struts of the shear", limit, v, PHI_SHEAR * most, "N"),
        )

    def shear_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> Floats:
        """Ratio by 11.5.4.3 or 22.5.8 beside the concrete, and the minimum of 11.6."""
        v, n = np.abs(np.asarray(V, dtype=float)), np.asarray(N, dtype=float)
        bare, most = self._strength(of, n, 0.0)
        one, _ = self._strength(of, n, 1.0)
        need = np.maximum((v / PHI_SHEAR - bare) / (one - bare), 0.0)
        least, _, _ = self._least(of, v, n)
        return np.where(v > PHI_SHEAR * most, np.inf, np.maximum(need, least))

    def _least(self, of: WallPart, V: Floats, N: Floats) -> tuple[Floats, Floats, NDArray[np.bool_]]:
        """Minimum ratios along and across the shear, and where the shear asks for bars."""
        if of.beam:
            along = float(shear.a_v_min(of.concrete.cylinder, min(of.steel.f_yk, 420.0)))
            return np.full(V.shape, along), np.zeros(V.shape), np.ones(V.shape, dtype=bool)
        bare, _ = self._strength(of, N, 0.0)
        one, _ = self._strength(of, N, 1.0)
        asked = 0.5 * PHI_SHEAR * bare < V
        need = np.maximum((V / PHI_SHEAR - bare) / (one - bare), 0.0025)
        across = np.minimum(wall_shear.rho_l_min(of.height, of.length, need), need)
        return (
            np.where(asked, 0.0025, minimum.rho_t_wall(of.diameters[0], of.steel.f_yk)),
            np.where(asked, across, minimum.rho_l_wall(of.diameters[1], of.steel.f_yk)),
            asked,
        )

    def wall_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:
        """11.6 and 11.7 of walls by the demand that asks for most, 9.6 and 9.7 of lintels."""
        v, n = np.abs(np.atleast_1d(np.asarray(V, dtype=float))), np.atleast_1d(np.asarray(N, dtype=float))
        each_along, each_across, by_shear = self._least(of, v, n)
        along, across, asked = float(each_along.max()), float(each_across.max()), bool(by_shear.any())
        if of.beam:
            chord = max(0.25 * math.sqrt(of.concrete.cylinder), 1.4) / of.steel.f_yk
            return (
                ratio_check("minimum links", "9.6.3.4", along, of.along),
                ratio_check("minimum chord", "9.6.1.2", chord, of.across),
                spacing_check("spacing of links", "9.7.6.2.2", of.spacings[0], min(of.d / 2.0, 600.0)),
            )
        plain = float(minimum.s_max(of.thickness, wall=True))
        most = [float(wall_shear.s_max_shear(of.length, of.thickness, part)) if asked else plain for part in (5.0, 3.0)]
        curtains = 2.0 if of.thickness > TWO_CURTAINS else 1.0
        clause = "11.6.2" if asked else "11.6.1"
        return (
            ratio_check("minimum vertical", clause, across, of.across),
            ratio_check("minimum horizontal", clause, along, of.along),
            spacing_check("spacing vertical", "11.7.2.1", of.spacings[1], most[1]),
            spacing_check("spacing horizontal", "11.7.3.1", of.spacings[0], most[0]),
            MemberCheck("curtains", "11.7.2.3", np.array([curtains]), np.array([float(of.curtains)]), "-"),
        )

    def out_of_plane(self, of: SlenderWall, N: ArrayLike, M_1: ArrayLike, M_2: ArrayLike) -> OutOfPlane:
        """Magnified moments of 6.6.4 past the slenderness of 6.2.5; the limit 1.4 of 6.2.5.3."""
        P = np.maximum(-np.asarray(N, dtype=float), 0.0)
        one, two = np.asarray(M_1, dtype=float), np.asarray(M_2, dtype=float)
        swap = np.abs(one) > np.abs(two)
        low, high = np.where(swap, two, one), np.where(swap, one, two)
        # the ratio is negative where both ends bend the wall one way; ours have one sign then
        small, large = -low * np.where(high < 0.0, -1.0, 1.0), np.abs(high)
        k = of.factor if of.factor is not None else BRACED
        slim = k * of.height / (RADIUS * of.thickness)
        ratio = np.where(large > 0.0, small / np.where(large > 0.0, large, 1.0), -1.0)
        slender_ = (P > 0.0) & (slim > np.minimum(34.0 + 12.0 * ratio, 40.0))
        EI = slender.EI_gross(cracking.E_c(of.concrete.cylinder), of.length * of.thickness**3 / 12.0, of.sustained)
        delta = slender.delta_ns(slender.C_m(small, large, transverse=of.transverse), P, slender.P_c(EI, k, of.height))
        with np.errstate(invalid="ignore"):
            magnified = delta * np.maximum(large, slender.M_2_min(P, of.thickness))
        moment = np.where(slender_, magnified, large)
        second = np.where(
            slender_, magnified / np.maximum(np.maximum(large, slender.M_2_min(P, of.thickness)), 1e-9), 1.0
        )
        limit = MemberCheck("second order", "6.2.5.3", second, np.full(P.shape, MAGNIFIED), "-")
        return OutOfPlane(moment, slender_, "6.2.5, 6.6.4", (limit,))

    def alternative_moment(self, of: SlenderWall, N: ArrayLike, M: ArrayLike) -> OutOfPlane:
        """Magnified moment of 11.8.3 with the cracked section; its conditions of 11.8.1.1 as limits."""
        P = np.maximum(-np.asarray(N, dtype=float), 0.0)
        first, f_c, h = np.abs(np.asarray(M, dtype=float)), of.concrete.cylinder, of.thickness
        s = _cracked_wall(of, P)
        moment = slender_alternative.M_u_alternative(first, P, of.height, s.E_c, s.I_cr)
        eps_t = EPS_CU * (of.depth - s.c) / s.c
        phi = self._phi(eps_t, of.steel)
        limits = (
            MemberCheck("axial stress", "11.8.1.1(d)", P / (of.length * h), np.full(P.shape, 0.06 * f_c), "MPa"),
            MemberCheck("cracking moment", "11.8.1.1(c)", np.full(P.shape, s.M_cr), phi * s.M_n, "N mm"),
            MemberCheck("tension-controlled", "11.8.1.1(b)", np.full(P.shape, self._controlled(of.steel)), eps_t, "-"),
        )
        return OutOfPlane(np.asarray(moment), P > 0.0, "11.8.3", limits)

    def service_deflection(self, of: SlenderWall, N: ArrayLike, M: ArrayLike) -> MemberCheck:
        """Deflection of 11.8.4 with that of the axial force, l_c/150 at most."""
        P = np.maximum(-np.asarray(N, dtype=float), 0.0)
        s, l_c = _cracked_wall(of, P), of.height
        at_cr = slender_alternative.Delta(s.M_cr, l_c, s.E_c, of.length * of.thickness**3 / 12.0)
        at_n = slender_alternative.Delta(s.M_n, l_c, s.E_c, s.I_cr)
        M_a = slender_alternative.M_a(np.abs(np.asarray(M, dtype=float)), P, s.M_cr, s.M_n, at_cr, at_n)
        found = np.where(
            np.isfinite(M_a), slender_alternative.Delta_s(M_a, s.M_cr, s.M_n, at_cr, at_n), np.inf
        )  # fmt: skip
        return MemberCheck(DEFLECTION, "11.8.1.1(e), 11.8.4", found, np.full(P.shape, l_c / MIDHEIGHT), "mm")

    def _phi(self, eps_t: Floats, steel: Steel) -> Floats:
        """Factor of Table 21.2.2 [-]."""
        return np.asarray(member.phi(eps_t, steel.f_yk))

    def _controlled(self, steel: Steel) -> float:
        """Net tensile strain of tension-controlled sections [-]."""
        return steel.f_yk / steel.E_s + 0.003

    def torsion(self, of: ClosedSection, T: ArrayLike, V_1: ArrayLike, V_2: ArrayLike) -> tuple[MemberCheck, ...]:
        """Bars by 22.7.6 with those of the shear, stress of a hollow section by 22.7.7.1(b), struts at 45 degrees."""
        root, f_y = shear.root_f_c(of.concrete.cylinder), min(of.steel.f_yk, F_YT_TORSION)
        inside = 0.85 * of.area  # A_o of 22.7.6.1.1, the middle line for that of the bars
        with about("torsion"):
            round_ = torsion.T_n_transverse(inside, of.transverse, f_y, 1.0)
            along = torsion.T_n_along(inside, of.along, f_y, of.round, 1.0)
            stress = torsion.torsion_stress(np.abs(np.asarray(T, dtype=float)), of.area, of.thickness)
        twist, *shears = (np.abs(np.asarray(v, dtype=float)) for v in (T, V_1, V_2))
        bars, acts = twist / (PHI_SHEAR * round_), np.asarray(stress)
        for v, web, steel in zip(shears, of.webs, of.web_steel, strict=True):
            bars = bars + v / max(PHI_SHEAR * steel * f_y, 1e-9)
            acts = acts + v / max(web, 1e-9)
        most = PHI_SHEAR * (0.17 + WHOLE) * float(root)
        return (
            MemberCheck("struts of shear and torsion", "22.7.7.1(b)", acts, np.full(twist.shape, most), "MPa"),
            MemberCheck(
                "horizontal bars of shear and torsion", "22.7.6.1(a), 9.5.4.3", bars, np.ones(twist.shape), "-"
            ),
            MemberCheck(
                "bars along for torsion", "22.7.6.1(b)", twist, np.full(twist.shape, PHI_SHEAR * float(along)), "N mm"
            ),
        )
