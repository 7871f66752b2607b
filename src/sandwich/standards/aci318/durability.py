"""ACI 318 and ACI 216.1 behind the interface of cover and fire."""

from __future__ import annotations

import math

from sandwich.standards.aci318 import cover
from sandwich.standards.interface.durability import CoverDemand, CoverNeed, FireDemand, FireNeed


class ACI318Cover:
    """What `ACI318` does for cover and fire."""

    exposures = cover.EXPOSURES
    cover_settings: frozenset[str] = frozenset()
    fire_settings = frozenset({"aggregate", "restrained"})
    fire_minutes = cover.MINUTES

    def nominal_cover(self, of: CoverDemand) -> CoverNeed:
        """Table 20.5.1.3.1."""
        value = cover.specified_cover(cover.EXPOSURES.index(of.exposure), of.diameter)
        return CoverNeed(value, "20.5.1.3.1", of.exposure)

    def fire(self, of: FireDemand) -> FireNeed:
        """Tables 4.2 and 4.3.1.1 of ACI 216.1; no cover of walls."""
        kind = cover.AGGREGATES.index(of.aggregate)
        h = cover.equivalent_thickness(of.minutes, kind)
        c = cover.slab_cover(of.minutes, kind, of.restrained) if of.slab else math.nan
        return FireNeed(h, math.nan, c, "ACI 216.1, table 4.2" + (", 4.3.1.1" if of.slab else ""))
