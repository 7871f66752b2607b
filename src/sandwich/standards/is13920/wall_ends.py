"""IS 13920:2016, 10.4: what the ends of a ductile wall need."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.anchorage import Length
from sandwich.standards.interface.seismic import (
    BoundaryNeed,
    DynamicAxial,
    LaidEnd,
    SeismicDemand,
    SeismicShear,
    WallEnd,
)
from sandwich.standards.interface.seismic_names import BARS, LENGTH
from sandwich.standards.interface.walls import MemberCheck, WallPart
from sandwich.standards.is456 import shear
from sandwich.standards.is13920 import boundary, strength, walls
from sandwich.standards.is13920.wall_web import web_checks

CLAUSES: Final = {LENGTH: "10.4.1", BARS: "10.4.3"}
LEGS: Final = 300.0  # mm between legs of ties


class IS13920Ends:
    """What `IS456` does for the ends of seismic walls."""

    seismic_settings: frozenset[str] = frozenset()
    systems: Mapping[str, float] = {}
    column_ratio = walls.L_T_MIN  # 10.1.3
    ties_by_volume = False

    def boundary(self, end: WallEnd) -> BoundaryNeed:
        """By the stress of the gross section, 10.4.1; as long as that passes 0.15 f_ck, which is our reading."""
        stress = boundary.edge_stress(end.N, end.M, end.area, end.modulus * end.l_w / 2.0, end.l_w)
        start, stop = (float(v) for v in boundary.stress_limits(end.concrete.cube))
        i = int(np.argmax(stress))
        most, even = float(stress[i]), float(end.N[i]) / end.area
        needed = most > start or (most >= stop and end.goes_on)
        # stresses are linear: the end goes on to where they fall to the limit at which it may end
        share = (most - stop) / (2.0 * max(most - even, 1e-9))
        length = end.l_w * min(max(share, 0.0), 0.5) if needed else 0.0
        ties = float(boundary.rho_ties(end.concrete.cube, end.steel.f_yk))
        legs = LEGS if end.laid is None or not end.laid.tied else min(end.laid.apart, LEGS)
        own = max(length, end.laid.length if end.laid is not None else 0.0)
        spacing = float(boundary.s_ties(min(end.t, own) if own else end.t, end.d_b, legs))
        limits = _short_column(end, end.laid, own) if needed and end.laid is not None else ()
        return BoundaryNeed(
            needed=needed, trigger="stress", clause="10.4.4" if needed else "10.4.1", demand=most, limit=start,
            unit="MPa", length=length, width=0.0, extent=math.nan, ties=ties if needed else math.nan,
            spacing=spacing if needed else math.nan, held=LEGS, d_tie=8.0,
            rho=boundary.RHO_BOUNDARY[0] if needed else 0.0, rho_length=length, clauses=CLAUSES,
            limits=limits,
        )  # fmt: skip

    def seismic_shear(
        self,
        of: SeismicShear,
        V: ArrayLike,
        N: ArrayLike,
        M: ArrayLike,  # noqa: ARG002
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """The shear of the analysis against 10.2, with d_w = 0.8 l_w."""
        part, acts = of.part, np.abs(np.asarray(V, dtype=float))
        f_ck, f_y, section = part.concrete.cube, part.steel.f_yk, walls.LEVER * part.area
        alone = shear.tau_c(100.0 * part.across, f_ck)
        web = float(walls.V_u_web(alone, part.thickness, part.length, f_y, part.along * part.thickness))
        struts = float(shear.tau_c_max(f_ck, slab=False)) * section
        return (
            1.0,
            "10.2",
            (
                MemberCheck("shear in plane", "10.2.3", acts, np.full(acts.shape, web), "N"),
                MemberCheck("struts of the shear", "10.2.2", acts, np.full(acts.shape, struts), "N"),
                *web_checks(of, acts, np.maximum(-np.asarray(N, dtype=float), 0.0)),
            ),
        )

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

    def piers(self, parts: Sequence[WallPart], V: Floats) -> MemberCheck | None:  # noqa: ARG002
        """No limit of several together."""
        return None

    def dynamic_axial(self, asked: SeismicDemand) -> DynamicAxial | None:  # noqa: ARG002
        """None."""
        return None

    def flange_width(self, free: float, distance: float, h_above: float, h_w: float) -> Length:  # noqa: ARG002
        """Half of the distance to the next web and a tenth of the height of the wall at most."""
        return Length(float(walls.flange_width(free, distance, h_w)), "10.1.5")

    def seismic_moment(self, of: SeismicShear, z: ArrayLike, M_base: ArrayLike) -> tuple[Floats, str]:  # noqa: ARG002
        """No moment besides that of the analysis."""
        return np.zeros(np.shape(M_base)), ""


def _short_column(end: WallEnd, laid: LaidEnd, length: float) -> tuple[MemberCheck, ...]:
    """Axial forces of a boundary element by overturning beside its share of the load, 10.4.2, and its most bars."""
    f_ck, f_y, area = end.concrete.cube, end.steel.f_yk, length * end.t
    beta = 0.87 * f_y / (0.0035 * end.steel.E_s)
    web = strength.M_uv(end.N / (f_ck * end.area), 0.87 * f_y * end.rho_v / f_ck, beta) * f_ck * end.area * end.l_w
    both = boundary.P_boundary(end.N * area / end.area, end.M, np.nan_to_num(web), end.l_w - length)
    A_s = laid.area(length)
    short = float(boundary.P_short_column(f_ck, f_y, area, A_s))
    pulled = np.full(end.N.shape, 0.87 * f_y * A_s)
    more = "more bars at the ends, or a longer boundary element"
    return (
        MemberCheck(
            "axial force of the end", "10.4.2", np.maximum(both[0], 0.0), np.full(end.N.shape, short), "N", more
        ),
        MemberCheck("tension of the end", "10.4.2", np.maximum(-both[1], 0.0), pulled, "N", more),
        MemberCheck(
            "maximum bars at the end",
            "10.4.3",
            np.array([100.0 * A_s / area]),
            np.array([100.0 * boundary.RHO_BOUNDARY[1]]),
            "%",
            "fewer bars at the ends",
        ),
    )
