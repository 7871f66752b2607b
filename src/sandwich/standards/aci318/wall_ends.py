"""ACI 318-19, 18.10.6: what the ends of a special wall need, from its clauses in the order of a calculation."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.shown import Measure, Sentence
from sandwich.standards.aci318 import boundary, boundary_ties, coupling, seismic_walls
from sandwich.standards.aci318.wall_beams import coupled_wall
from sandwich.standards.aci318.wall_web import piers_check, web_checks
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.anchorage import Length
from sandwich.standards.interface.seismic import BoundaryNeed, DynamicAxial, SeismicDemand, SeismicShear, WallEnd
from sandwich.standards.interface.seismic_names import ACROSS, ALONG, BARS, HELD_BARS, LENGTH, SPACING, TIE, one_check
from sandwich.standards.interface.walls import MemberCheck, WallPart, spacing_check

OMEGA_0: Final = 2.5  # overstrength of the general building code that the shear of wall piers need not exceed
PHI_SHEAR: Final = 0.75
FAR = 0.15  # of the length: within it lie the bars of an end, 18.10.2.4(a)
SLENDER = 2.0  # h_w/l_w from which the displacement trigger may be used, 18.10.6.2
CLAUSES: Final = {
    LENGTH: "18.10.6.4(a)", BARS: "18.10.2.4(a)", ACROSS: "Table 18.10.6.4(g)", ALONG: "Table 18.10.6.4(g)",
    SPACING: "18.10.6.4(e), 18.7.5.3", HELD_BARS: "18.10.6.4(f)", TIE: "25.7.2.2",
}  # fmt: skip
ORDINARY: Final = CLAUSES | {SPACING: "Table 18.10.6.5(b)", HELD_BARS: "18.10.6.5(b), 18.7.5.2(e)"}


class ACI318Ends:
    """What `ACI318` does for the ends of seismic walls."""

    seismic_settings = frozenset({"displacement", "ties_round", "system"})
    systems: Mapping[str, float] = {"ductile coupled": math.inf}
    column_ratio = 2.5  # 18.10.8.1
    ties_by_volume = False
    drift_capacity = True  # whether 18.10.6.2(b) is asked
    grade = 690.0  # MPa, bars of special walls, Table 20.2.2.4(a)
    wall_shear: Callable[[WallPart, ArrayLike, ArrayLike], tuple[MemberCheck, ...]]

    def boundary(self, end: WallEnd) -> BoundaryNeed:
        """By displacement (18.10.6.2) where it is given and the wall is slender, else by stress (18.10.6.3)."""
        drift = end.asked.displacement
        f_c, c = end.concrete.cylinder, float(np.max(end.c, initial=0.0))
        by_displacement = not math.isnan(drift) and end.h_w / end.l_w >= SLENDER
        extent = float(boundary.confined_extent(end.l_w, end.M_u_base, max(end.V_u_base, 1e-9)))
        if by_displacement:
            limit = float(boundary.c_displacement(end.l_w, boundary.design_drift(drift * end.h_w, end.h_w)))
            needed = c >= limit and end.z <= extent
            trigger, demand, unit, clause = "displacement", c, "mm", "18.10.6.2"
        else:
            stress = boundary.edge_stress(end.N, end.M, end.area, end.modulus)
            start, stop = boundary.stress_limits(f_c)
            demand, limit, unit, clause = float(np.max(stress, initial=0.0)), float(start), "MPa", "18.10.6.3"
            needed, trigger = demand >= limit, "stress"
            if not needed and demand >= float(stop) and end.goes_on:
                needed, trigger, limit = True, "stress, going on from below", float(stop)
        length = float(boundary.l_be(c, end.l_w))
        if end.flange[1] > 0.0:
            # the panel ends in the middle of the flange
            length = float(boundary.l_web_of_flanged(length, end.flange[0] / 2.0)) + end.flange[0] / 2.0
        width = float(boundary.b_min(end.h_s, end.h_w, end.l_w, c))
        held = float(boundary_ties.h_x_max(end.t))
        near = end.z <= float(seismic_walls.end_bars_extent(end.l_w, end.M_u_base, max(end.V_u_base, 1e-9)))
        slender = end.h_w / end.l_w >= SLENDER
        rho = self._end_ratio(end) if slender and near else 0.0
        laid = end.laid
        if not needed:
            spacing = float(boundary_ties.s_table(end.d_b, end.steel.f_yk, end.z <= extent))
            if laid is not None:
                # web bars alone are as dense there as elsewhere
                ratio = laid.area(laid.length) / (laid.length * end.t) if laid.length else end.rho_v
                dense = ratio > float(boundary_ties.rho_untied(end.steel.f_yk))
                spacing = spacing if dense else math.nan
            return BoundaryNeed(
                needed=False, trigger=trigger, clause=f"{clause}, 18.10.6.5", demand=demand, limit=limit,
                unit=unit, length=length, width=0.0, extent=0.0, ties=math.nan, spacing=spacing, held=held,
                d_tie=10.0, rho=rho, rho_length=FAR * end.l_w, clauses=ORDINARY, limits=self._grade(end),
            )  # fmt: skip
        own = length if laid is None or not laid.length else max(laid.length, length)
        long = laid.reach if laid is not None and laid.tied and laid.length else own - end.cover
        core = long * (end.t - 2.0 * end.cover)
        ties = float(boundary_ties.rho_ties(own * end.t, core, f_c, end.steel.f_yk))
        apart = held if laid is None or not laid.tied else min(laid.apart, held)
        spacing = float(boundary_ties.s_special(min(end.t, own), end.d_b, end.steel.f_yk, boundary_ties.s_o(apart)))
        note = Sentence.minimum("{} of thickness", width)
        thick = MemberCheck(
            "thickness of the end", "18.10.6.4(b), (c)", np.array([width]), np.array([end.t]), "mm", note
        )
        limits = [*self._grade(end), thick]
        wide = float(boundary.b_drift(c, end.l_w))
        if self.drift_capacity and by_displacement and end.t < wide:
            V_e = 3.0 * end.V_u_base  # the most that 18.10.3 asks for
            area = end.l_w * end.t
            capacity = float(boundary.drift_capacity(c, end.t, end.l_w, V_e, math.sqrt(f_c), area))
            limits.append(MemberCheck("drift capacity", "18.10.6.2(b)", np.array([1.5 * drift]), np.array([capacity]),
                                      "-", Sentence.minimum("{} of thickness for the drift", wide)))  # fmt: skip
        return BoundaryNeed(
            needed=True, trigger=trigger, clause=f"{clause}, 18.10.6.4", demand=demand, limit=limit, unit=unit,
            length=length, width=width, extent=extent if by_displacement else math.nan, ties=ties, spacing=spacing,
            held=held, d_tie=10.0, rho=rho, rho_length=FAR * end.l_w, clauses=CLAUSES, limits=tuple(limits),
        )  # fmt: skip

    def seismic_shear(
        self,
        of: SeismicShear,
        V: ArrayLike,
        N: ArrayLike,
        M: ArrayLike,  # noqa: ARG002
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """Overstrength and dynamic factors of 18.10.3.1 on the shear, strength of 18.10.4."""
        factor, part, clause = self._amplified(of), of.part, "18.10.3.1"
        pier = coupling.pier_kind(of.h_s, part.length, part.thickness) == "wall pier"
        if pier and factor < OMEGA_0:
            factor, clause = OMEGA_0, "18.10.8.1(a)"
        checks = self.wall_shear(part, factor * np.asarray(V, dtype=float), N)
        at_M_n = np.abs(np.asarray(V, dtype=float)) * of.M_n_base / max(of.M_u_base, 1e-9)
        found = (*(_by_bending(c, at_M_n) for c in checks), *web_checks(of, np.abs(np.asarray(V, dtype=float))))
        if pier:
            found += (spacing_check("spacing of hoops", "18.10.8.1(d)", part.spacings[0], coupling.HOOPS_OF_PIER),)
        if of.asked.coupled and of.coupled and of.z <= 0.0:
            found += (coupled_wall(of.h_w, part.length),)
        return factor, clause, found

    def behaviour(
        self,
        system: str,  # noqa: ARG002
        alpha: float | None,  # noqa: ARG002
        h_w: Sequence[float],  # noqa: ARG002
        l_w: Sequence[float],  # noqa: ARG002
        *,
        high: bool,  # noqa: ARG002
        regular: bool,  # noqa: ARG002
    ) -> tuple[float, float]:
        """No use for them."""
        return 1.0, 1.0

    def piers(self, parts: Sequence[WallPart], V: Floats) -> MemberCheck | None:
        """18.10.4.4."""
        return piers_check(parts, V)

    def _amplified(self, of: SeismicShear) -> float:
        """Overstrength and dynamic factors of 18.10.3.1 [-]."""
        # a base that carries no moment beside its axial force leaves the factor at its most
        over = seismic_walls.Omega_v(of.M_pr_base or math.inf, max(of.M_u_base, 1e-9), of.h_w, of.part.length)
        count = seismic_walls.storeys_counted(of.storeys, of.h_w)
        return float(seismic_walls.V_e(1.0, over, seismic_walls.omega_v(count, of.h_w, of.part.length)))

    def _end_ratio(self, end: WallEnd) -> float:
        """Minimum ratio of bars within 0.15 l_w of an end, 18.10.2.4 [-]."""
        return float(seismic_walls.rho_end_min(math.sqrt(end.concrete.cylinder), end.steel.f_yk))

    def _grade(self, end: WallEnd) -> tuple[MemberCheck, ...]:
        """Largest yield strength of the bars of special walls."""
        if end.steel.f_yk <= self.grade:
            return ()
        note = Sentence("bars of {}", Measure(self.grade, "MPa", ".0f"))
        return (one_check("grade", "20.2.2.4", end.steel.f_yk, self.grade, "MPa", note),)

    def dynamic_axial(self, asked: SeismicDemand) -> DynamicAxial | None:  # noqa: ARG002
        """None."""
        return None

    def flange_width(self, free: float, distance: float, h_above: float, h_w: float) -> Length:  # noqa: ARG002
        """Half of the distance to the next web and a quarter of the height above at most."""
        return Length(min(free, float(seismic_walls.flange_width(distance, h_above))), "18.10.5.2")

    def seismic_moment(self, of: SeismicShear, z: ArrayLike, M_base: ArrayLike) -> tuple[Floats, str]:  # noqa: ARG002
        """No moment besides that of the analysis."""
        return np.zeros(np.shape(M_base)), ""


def _by_bending(check: MemberCheck, at_M_n: Floats) -> MemberCheck:
    """A check of shear with the factor of members whose shear strength does not reach that of their bending."""
    if check.unit != "N":
        return check
    V_n = np.asarray(check.capacity, dtype=float) / PHI_SHEAR
    phi = np.asarray(seismic_walls.phi_shear(V_n, at_M_n), dtype=float)
    clause = f"{check.clause}, 21.2.4.1" if (phi < PHI_SHEAR).any() else check.clause
    return replace(check, capacity=phi * V_n, clause=clause)
