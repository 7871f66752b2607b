"""ACI 318-19, 18.10.6: what the ends of a special wall need, from its clauses in the order of a calculation."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import ArrayLike

from sandwich.standards.aci318 import boundary, boundary_ties, seismic_walls
from sandwich.standards.interface.seismic import BoundaryNeed, SeismicShear, WallEnd
from sandwich.standards.interface.walls import MemberCheck, WallPart

SLENDER = 2.0  # h_w/l_w from which the displacement trigger may be used, 18.10.6.2


class ACI318Ends:
    """What `ACI318` does for the ends of seismic walls."""

    seismic_settings = frozenset({"displacement"})
    column_ratio = 2.5  # 18.10.8.1
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
        width = float(boundary.b_min(end.h_s, end.h_w, end.l_w, c))
        held = float(boundary_ties.h_x_max(end.t))
        if not needed:
            rho = float(seismic_walls.rho_end_min(math.sqrt(f_c), end.steel.f_yk))
            spacing = float(boundary_ties.s_table(end.d_b, end.steel.f_yk, end.z <= extent))
            return BoundaryNeed(
                needed=False, trigger=trigger, clause=f"{clause}, 18.10.6.5", demand=demand, limit=limit,
                unit=unit, length=length, width=0.0, extent=0.0, ties=math.nan, spacing=spacing, held=held,
                d_tie=10.0, rho=rho if end.h_w / end.l_w >= SLENDER else 0.0,
            )  # fmt: skip
        core = (length - end.cover) * (end.t - 2.0 * end.cover)
        ties = float(boundary_ties.rho_ties(length * end.t, core, f_c, end.steel.f_yk))
        spacing = float(boundary_ties.s_special(min(end.t, length), end.d_b, end.steel.f_yk, boundary_ties.s_o(held)))
        if by_displacement and not end.t >= float(boundary.b_drift(c, end.l_w)):
            V_e = 3.0 * end.V_u_base  # the most that 18.10.3 asks for
            area = end.l_w * end.t
            capacity = float(boundary.drift_capacity(c, end.t, end.l_w, V_e, math.sqrt(f_c), area))
            short = capacity < 1.5 * drift
        else:
            short = False
        narrow = f"{width:.0f} mm of thickness" if end.t < width else ""
        drifts = f"{float(boundary.b_drift(c, end.l_w)):.0f} mm of thickness for the drift" if short else ""
        return BoundaryNeed(
            needed=True, trigger=trigger, clause=f"{clause}, 18.10.6.4", demand=demand, limit=limit, unit=unit,
            length=length, width=width, extent=extent if by_displacement else math.nan, ties=ties, spacing=spacing,
            held=held, d_tie=10.0, rho=0.0, remedy="; ".join(t for t in (narrow, drifts) if t),
        )  # fmt: skip

    def seismic_shear(
        self,
        of: SeismicShear,
        V: ArrayLike,
        N: ArrayLike,
        M: ArrayLike,  # noqa: ARG002
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """Overstrength and dynamic factors of 18.10.3.1 on the shear, strength of 18.10.4."""
        # a base that carries no moment beside its axial force leaves the factor at its most
        over = seismic_walls.Omega_v(of.M_pr_base or math.inf, max(of.M_u_base, 1e-9), of.h_w, of.part.length)
        count = seismic_walls.storeys_counted(of.storeys, of.h_w)
        factor = float(seismic_walls.V_e(1.0, over, seismic_walls.omega_v(count, of.h_w, of.part.length)))
        return factor, "18.10.3.1", self.wall_shear(of.part, factor * np.asarray(V, dtype=float), N)
