"""EN 1998-1:2004, 5.4.3.4 and 5.5.3.4: what the ends of a ductile wall need, in the order of a calculation."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.core.shown import Sentence
from sandwich.standards.arrangement import Floats
from sandwich.standards.en1992 import links, materials, member
from sandwich.standards.en1998 import behaviour, boundary, confinement, lightly, shear
from sandwich.standards.en1998.wall_web import web_checks
from sandwich.standards.interface.anchorage import Length
from sandwich.standards.interface.seismic import (
    BoundaryNeed,
    DynamicAxial,
    LaidEnd,
    SeismicDemand,
    SeismicShear,
    WallEnd,
)
from sandwich.standards.interface.seismic_names import BARS, HELD_BARS, LENGTH, SPACING, TIE, TIES
from sandwich.standards.interface.walls import MemberCheck, WallPart

EFFECTIVE = 0.5  # of the confinement by ties, until they are laid
STRAIN = 0.002  # of the concrete from which bars of a boundary element are asked for above the critical height
COLUMN = 0.02  # ratio of vertical bars from which they have the ties of columns, EN 1992-1-1, 9.6.4(1)
SLENDER: Final = 2.0  # h_w/l_w above which a wall is slender
FRICTION: Final = {"very smooth": 0.6, "smooth": 0.6, "rough": 0.7, "indented": 0.7}  # 5.5.3.4.4(3)
MEDIUM: Final = {
    LENGTH: "5.4.3.4.2(6)", BARS: "5.4.3.4.2(8)", TIES: "5.4.3.4.2(4), (9)", SPACING: "5.4.3.2.2(11)a",
    HELD_BARS: "5.4.3.2.2(11)b", TIE: "5.4.3.2.2(10)b",
}  # fmt: skip
HIGH: Final = MEDIUM | {
    TIES: "5.4.3.4.2(4), 5.5.3.4.5(10)", SPACING: "5.5.3.2.2(12)b", HELD_BARS: "5.5.3.2.2(12)c", TIE: "5.5.3.2.2(12)a",
}  # fmt: skip
AS_COLUMN: Final = {SPACING: "EN 1992-1-1, 9.6.4(1), 9.5.3(3)"}


class EN1998Ends:
    """What `EN1992` does for the ends of seismic walls, from its values."""

    seismic_settings = frozenset(
        {"ductility", "q", "q_0", "T_1", "T_C", "steel_class", "system", "alpha_u_1", "regular"}
    )
    systems: Mapping[str, float] = {
        **dict.fromkeys(("uncoupled", "coupled", "dual", "torsionally flexible"), math.inf),
        lightly.NAME: lightly.LARGE_T_1,
    }
    column_ratio = 4.0  # 5.1.2
    ties_by_volume = True  # 5.4.3.2.2(8)
    wall_shear: Callable[[WallPart, ArrayLike, ArrayLike], tuple[MemberCheck, ...]]
    shear_without_bars: Callable[[WallPart, ArrayLike, ArrayLike], Any]
    parameters: dict[str, Any]

    def _strengths(self, concrete: Concrete, steel: Steel) -> tuple[float, float]:
        """Design strengths of concrete and bars in seismic situations [MPa]."""
        partial, alpha_cc = self.parameters["seismic"], float(self.parameters["values"]["alpha_cc"])
        f_cd = materials.f_cd(concrete.cylinder, gamma_c=partial["gamma_c"], alpha_cc=alpha_cc)
        return float(f_cd), float(materials.f_yd(steel.f_yk, gamma_s=partial["gamma_s"]))

    def boundary(self, end: WallEnd) -> BoundaryNeed:
        """Confined from the curvature that q asks for in the critical height; above it bars and ties of EN 1992."""
        asked = end.asked
        f_cd, f_yd = self._strengths(end.concrete, end.steel)
        if asked.lightly:
            moved = self.dynamic_axial(asked)
            return lightly.boundary_need(end, f_cd, f_cd * _mean(end.concrete, moved.eps_cu if moved else 0.0))
        most = boundary.NU_MAX["DCH" if asked.high else "DCM"]
        nu = float(boundary.nu_d(float(np.max(end.N, initial=0.0)), end.area, f_cd))
        height = float(boundary.h_cr(end.l_w, end.h_w, end.h_s, end.storeys))
        omega_v = float(boundary.omega_v(end.rho_v, f_yd, f_cd))
        b_0 = end.t - 2.0 * end.cover - end.d_tie
        over = max(end.M_R_base, 1e-9)
        mu = float(behaviour.mu_phi(asked.q_0, min(end.M_u_base, over), over, asked.T_1, asked.T_C, asked.class_b))
        need = float(confinement.alpha_omega(mu, nu, omega_v, f_yd / end.steel.E_s, end.t, max(b_0, 1e-9)))
        spared = bool(boundary.no_confinement(nu, False))
        laid = end.laid
        effective = EFFECTIVE if laid is None or not laid.tied else max(_effective(laid, b_0), 1e-3)
        ties = float(confinement.omega_wd(need, effective, asked.high))
        x = float(boundary.x_u(nu, omega_v, end.l_w, end.t, max(b_0, 1e-9)))
        length = min(float(boundary.l_c(x, confinement.eps_cu2_c(effective * ties), end.l_w, end.t)), end.l_w)
        width = float(boundary.b_w_boundary(length, end.t, end.l_w, end.h_s))
        spacing = float(confinement.s_ties(b_0, end.d_b, asked.high))
        d_tie = float(confinement.d_ties(end.d_b, f_yd, f_yd, asked.high))
        inside = end.z <= height
        in_flange = end.flange[1] > 0.0 and bool(boundary.no_boundary_in_flange(*end.flange, end.h_s))
        needed = inside and not spared and not in_flange
        trigger = "critical height" if needed else "above the critical height" if not inside else (
            "nu_d up to 0.15" if spared else "in a flange"
        )  # fmt: skip
        limits = (
            MemberCheck("axial force", "5.5.3.4.1(2)" if asked.high else "5.4.3.4.1(2)", np.array([nu]),
                        np.array([most]), "nu_d", f"less axial force: {nu:.2f} of {most:.2f}"),
            MemberCheck("thickness of the end", "5.4.3.4.2(10)", np.array([width]), np.array([end.t]), "mm",
                        Sentence.minimum("{} of thickness", width)),
        )  # fmt: skip
        dense = laid is not None and laid.area(length) > COLUMN * length * end.t
        plain = min(20.0 * end.d_b, end.t, 400.0) if dense else np.nan  # EN 1992-1-1, 9.5.3(3)
        return BoundaryNeed(
            needed=needed, trigger=trigger, clause="5.5.3.4.5" if asked.high else "5.4.3.4.2", demand=nu, limit=most,
            unit="nu_d", length=length, width=width if inside and not in_flange else 0.0, extent=height,
            ties=ties * f_cd / f_yd / 2.0 if needed else np.nan, spacing=spacing if needed else plain,
            held=float(confinement.held_max(asked.high)), d_tie=d_tie,
            rho=boundary.RHO_BOUNDARY if (inside and not in_flange) or end.strain() > STRAIN else 0.0,
            rho_length=length,
            clauses=(HIGH if asked.high else MEDIUM) | ({} if needed else AS_COLUMN),
            limits=(limits[:1] if in_flange else limits) if inside else (),
        )  # fmt: skip

    def seismic_shear(
        self, of: SeismicShear, V: ArrayLike, N: ArrayLike, M: ArrayLike
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """DCM: 1.5 times the shear against EN 1992-1-1; DCH: epsilon times the shear against 5.5.3.4."""
        plain_V = np.abs(np.asarray(V, dtype=float))
        if of.asked.lightly:
            factor, acts = (float(behaviour.V_Ed_lightly(1.0, of.asked.q)), behaviour.V_Ed_lightly(plain_V, of.asked.q))
            thick = web_checks(of, -np.asarray(N, dtype=float), self._web_strengths(of.part))
            found = self.wall_shear(of.part, acts, N)
            return factor, "5.4.2.5(2)", (*found, *thick, lightly.long_enough(of))
        if not of.asked.high:
            acts, clause = _up_the_height(of, np.asarray(behaviour.V_Ed_dcm(plain_V)), 1.5, "5.4.2.4(7)")
            found = self.wall_shear(of.part, acts, N)
            web = web_checks(of, -np.asarray(N, dtype=float), self._web_strengths(of.part))
            return _over(acts, plain_V, 1.5), clause, (*found, *web)
        asked, part = of.asked, of.part
        spectrum = max(asked.T_1 / asked.T_C, 1.0)  # S_e falls by 1/T past T_C
        # a base that carries no moment beside its axial force leaves the factor at its most
        factor = float(behaviour.epsilon_dch(
            asked.q, of.M_R_base or math.inf, max(of.M_u_base, 1e-9), spectrum, 1.0, of.h_w, part.length
        ))  # fmt: skip
        f_cd, f_yd = self._strengths(part.concrete, part.steel)
        critical = of.z <= float(boundary.h_cr(part.length, of.h_w, of.h_s, of.storeys))
        nu_1 = links.nu_1(part.concrete.cylinder, factor=float(self.parameters["values"]["nu_factor"]))
        acts, by = _up_the_height(of, factor * plain_V, factor, "5.5.2.4.1(7)")
        P = -np.asarray(N, dtype=float)
        span = np.abs(np.asarray(M, dtype=float)) / np.maximum(plain_V * part.length, 1e-9)
        plain = self.shear_without_bars(part, acts, N)
        alone = np.where(critical & (P < 0.0), 0.0, plain)
        struts = shear.V_Rd_max_dch(part.thickness, part.length, nu_1, f_cd, critical)
        web = shear.V_Rd_web_dch(span, alone, part.along, f_yd, part.thickness, part.length)
        across = shear.V_vertical_dch(part.across, f_yd, part.thickness, part.length, P)
        need = np.full(acts.shape, part.along * f_yd * part.thickness * shear.LEVER * part.length)
        checks: tuple[MemberCheck, ...] = (
            MemberCheck("struts of the shear", "5.5.3.4.2", acts, np.broadcast_to(struts, acts.shape), "N"),
            MemberCheck("shear in plane", "5.5.3.4.3", acts, np.asarray(web), "N"),
            MemberCheck("vertical web bars", "5.5.3.4.3(3)", np.where(span < 2.0, need, 0.0), across, "N"),
        )
        if of.z <= 0.0:
            checks += (_sliding(of, acts, P, np.abs(np.asarray(M, dtype=float)), f_cd, f_yd),)
        return _over(acts, plain_V, factor), by, (*checks, *web_checks(of, P, self._web_strengths(part)))

    def _web_strengths(self, part: WallPart) -> tuple[float, float, float]:
        """f_cd, f_yd and f_ctd in seismic situations [MPa]."""
        f_ctm = materials.f_ctm(part.concrete.cylinder)
        f_ctd = float(materials.f_ctd(f_ctm, gamma_c=self.parameters["seismic"]["gamma_c"]))
        return (*self._strengths(part.concrete, part.steel), f_ctd)

    def behaviour(
        self, system: str, alpha: float | None, h_w: Sequence[float], l_w: Sequence[float], *, high: bool, regular: bool
    ) -> tuple[float, float]:
        """Table 5.1 with alpha_u/alpha_1 of 5.2.2.2(5), k_w of 5.2.2.2(11)."""
        ratio = alpha if alpha is not None else behaviour.ALPHA.get(system, 1.0)
        q_0 = behaviour.q_basic(system, high, ratio)
        k_w = behaviour.k_w(behaviour.alpha_0(h_w, l_w)) if len(h_w) else 1.0
        return q_0 * (1.0 if regular else 0.8), float(behaviour.q_behaviour(q_0, k_w, regular))

    def piers(self, parts: Sequence[WallPart], V: Floats) -> MemberCheck | None:  # noqa: ARG002
        """No limit of several together."""
        return None

    def dynamic_axial(self, asked: SeismicDemand) -> DynamicAxial | None:
        """Half of the axial force by gravity, of large lightly reinforced walls with q above 2."""
        ratio = float(lightly.N_dynamic(1.0, asked.q)) if asked.lightly else 0.0
        return DynamicAxial(ratio, lightly.EPS_CU_DYNAMIC, "5.4.2.5(4)") if ratio else None

    def flange_width(self, free: float, distance: float, h_above: float, h_w: float) -> Length:  # noqa: ARG002
        """Half of the distance to the next web and a quarter of the height above at most."""
        return Length(float(boundary.flange_width(free, distance / 2.0, h_above)), "5.4.3.4.1(4)")

    def seismic_moment(self, of: SeismicShear, z: ArrayLike, M_base: ArrayLike) -> tuple[Floats, str]:
        """Of slender walls an envelope that falls from the base, moved up by the tension shift of the struts."""
        l_w = of.part.length
        if of.asked.lightly or of.h_w / l_w <= SLENDER:
            return np.zeros(np.shape(M_base)), ""
        a_1 = shear.LEVER * l_w * (1.0 if of.asked.high else of.part.cot_theta_max) / 2.0
        return np.asarray(behaviour.M_envelope(z, of.h_w, np.abs(M_base), a_1), dtype=float), "5.4.2.4(5)"


def _up_the_height(of: SeismicShear, V: Floats, factor: float, clause: str) -> tuple[Floats, str]:
    """Design shear [N] and its clause: of slender walls of dual systems their envelope, within a basement the hinge."""
    if of.asked.dual and of.h_w / of.part.length > SLENDER and of.z >= 0.0:
        ends = (min(z, of.h_w) for z in (of.z, of.z + of.h_s))
        more = [behaviour.V_Ed_dual(z, of.h_w, V, factor * of.V_base, factor * of.V_third) for z in ends]
        found = np.maximum(*(np.asarray(m, dtype=float) for m in more))
        return found, "5.4.2.4(8)" if found.max(initial=0.0) > V.max(initial=0.0) else clause
    if of.z >= 0.0 or of.basement <= 0.0:
        return V, clause
    least = float(behaviour.V_basement(of.M_R_base, of.basement, of.asked.high))
    return np.maximum(V, least), "5.8.1(5)" if least > V.max(initial=0.0) else clause


def _over(acts: Floats, V: Floats, factor: float) -> float:
    """Factor on the largest shear of the analysis."""
    most, design = float(V.max(initial=0.0)), float(acts.max(initial=0.0))
    return design / most if design > factor * most * (1.0 + 1e-9) and most > 0.0 else factor


def _sliding(of: SeismicShear, acts: Floats, P: Floats, M: Floats, f_cd: float, f_yd: float) -> MemberCheck:
    """Sliding of a wall of high ductility over its base, by its web bars and the friction of the pressed part."""
    part = of.part
    A_sj = part.across * part.area
    friction = FRICTION[part.joint]
    most = shear.V_fd_max(part.concrete.cylinder, f_cd, of.xi, part.length, part.thickness)
    rubs = shear.V_fd(friction, np.maximum(A_sj * f_yd + P, 0.0), of.xi, M, shear.LEVER * part.length, most)
    carried = np.asarray(shear.V_dd(A_sj, f_cd, f_yd) + rubs, dtype=float)
    return MemberCheck("sliding at the base", "5.5.3.4.4", acts, carried, "N")


def _mean(concrete: Concrete, eps_cu: float) -> float:
    """Mean stress over the compression zone of parabola and rectangle, over the design strength [-]."""
    f_ck = concrete.cylinder
    most = max(float(member.eps_cu2(f_ck)), eps_cu)
    return 1.0 - float(member.eps_c2(f_ck)) / most / (float(member.n_parabola(f_ck)) + 1.0)


def _effective(laid: LaidEnd, b_0: float) -> float:
    """Effectiveness of the ties that lie at an end, from the distances of the bars they hold round the core."""
    h_0 = laid.reach - laid.d_tie
    if h_0 <= 0.0 or b_0 <= 0.0:
        return 0.0
    round_it = 2 * laid.gaps(laid.across, along=True) + 2 * laid.gaps(laid.along, along=False)
    return float(confinement.alpha_confinement(round_it, b_0, h_0, laid.spacing))
