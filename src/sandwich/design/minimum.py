"""Minimum steel of a zone by its rule."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings
from sandwich.standards.arrangement import Arrangement

Floats = NDArray[np.float64]
PULLS: Final = 1e-4  # of the most steel of a point: below it a layer does not count as in tension


def minimum_steel(area: Floats, h: Floats, depths: Floats, settings: Settings) -> Floats:
    """Minimum steel (p, b) of the zone's rule [mm2/mm] and its own minimum.

    What a joint design leaves over in a layer is no tension.
    """
    b = settings.bars
    pulling = np.where(area > PULLS * area.max(1, keepdims=True), area, 0.0)
    bars = Arrangement(depths, b.angles, b.sides, b.diameters, settings.vertical)
    found = settings.standard.minimum_steel(settings.minimum, settings.concrete, settings.steel, h, bars, pulling)
    if not settings.own_minimum:
        return found
    return np.where(np.isfinite(depths), np.maximum(found, settings.own_minimum), found)
