"""EN 1992-1-1 and EN 1992-1-2 behind the interface of cover and fire."""

from __future__ import annotations

import math
from typing import Final

from sandwich.standards.en1992 import cover, fire
from sandwich.standards.interface.durability import CoverDemand, CoverNeed, FireDemand, FireNeed

FLAT: Final = "flat"


class EN1992Cover:
    """What `EN1992` does for cover and fire."""

    exposures = cover.EXPOSURES
    cover_settings = frozenset({"design_life", "structural_class", "quality_control", "tolerance"})
    fire_settings = frozenset({"sides", "mu_fi", "spans"})
    fire_minutes = fire.MINUTES

    def nominal_cover(self, of: CoverDemand) -> CoverNeed:
        """c_nom of 4.4.1."""
        start = int(of.structural_class.removeprefix("S") or cover.BASE)
        strong = of.concrete.cylinder >= cover.STRONG[of.exposure]
        found = int(cover.structural_class(start, of.life, strong, of.slab, of.quality))
        by_dur = cover.c_min_dur(found, cover.COLUMN[of.exposure])
        deviation = cover.DEVIATION if math.isnan(of.tolerance) else of.tolerance
        value = float(cover.c_nom(cover.c_min(of.diameter, by_dur), deviation))
        by = f"{of.exposure}, S{found}: max({by_dur:g}, bar, 10) + {deviation:g} mm"
        return CoverNeed(value, "4.4.1.1, tables 4.3N, 4.4N", by)

    def fire(self, of: FireDemand) -> FireNeed:
        """Tables 5.4, 5.8, 5.9 of EN 1992-1-2."""
        m = of.minutes
        if not of.slab:
            h, a = fire.h_wall(m, of.sides, of.mu_fi), fire.a_wall(m, of.sides, of.mu_fi)
            return FireNeed(h, a, math.nan, "EN 1992-1-2, table 5.4")
        if of.spans == FLAT:
            return FireNeed(fire.h_flat(m), fire.a_flat(m), math.nan, "EN 1992-1-2, table 5.9")
        return FireNeed(fire.h_s(m), fire.a_slab(m, fire.SPANS[of.spans]), math.nan, "EN 1992-1-2, table 5.8")
