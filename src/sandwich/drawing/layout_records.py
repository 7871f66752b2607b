"""What plans of bars are made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LayoutPatch:
    """Additional bars: the ring of their rectangle (4, 2), one of them as it is cut (2, 2), and what is told."""

    ring: Floats
    bar: Floats
    label: str
    upright: bool


@dataclass(frozen=True)
class LayoutDescription:
    """Bars of a face in plan: sides of the zone (n, 2, 2), rectangles, names of both axes."""

    title: str
    note: str
    sides: Floats
    patches: list[LayoutPatch]
    quantities: tuple[str, str]
