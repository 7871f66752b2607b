"""IS 456 behind the interface of cover and fire."""

from __future__ import annotations

import math

from sandwich.standards.interface.durability import CoverDemand, CoverNeed, FireDemand, FireNeed
from sandwich.standards.is456 import cover


class IS456Cover:
    """What `IS456` does for cover and fire."""

    exposures = cover.EXPOSURES
    cover_settings: frozenset[str] = frozenset()
    fire_settings = frozenset({"continuous"})
    fire_minutes = cover.MINUTES

    def nominal_cover(self, of: CoverDemand) -> CoverNeed:
        """Table 16."""
        value = cover.nominal_cover(cover.EXPOSURES.index(of.exposure), of.concrete.cube, of.diameter)
        return CoverNeed(value, "26.4.1, 26.4.2", f"{of.exposure}, M{of.concrete.cube:g}")

    def fire(self, of: FireDemand) -> FireNeed:
        """Table 16A and figure 1; no cover of walls."""
        if of.slab:
            thin, c = cover.slab_thickness(of.minutes), cover.fire_cover(of.minutes, of.continuous)
            return FireNeed(thin, math.nan, c, "21.2, figure 1; 26.4.3, table 16A")
        return FireNeed(cover.wall_thickness(of.minutes, of.ratio), math.nan, math.nan, "21.2, figure 1")
