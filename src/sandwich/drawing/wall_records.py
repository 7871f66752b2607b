"""What pictures of walls are made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Box:
    """A box in an elevation: place, size, and what is told of it; an opening has no kind."""

    x: float
    y: float
    width: float
    height: float
    name: str = ""
    value: float = np.nan
    told: str = ""
    kind: str = ""


@dataclass(frozen=True, kw_only=True)
class WallDescription:
    """A wall rolled out: panels with their starts and lengths, levels with their storeys, lines of panels in plan."""

    title: str
    note: str
    openings: list[Box]
    panels: list[tuple[str, float, float]]
    levels: list[tuple[str, float]]
    plan: list[tuple[str, Floats]]
    unit: str


@dataclass(frozen=True, kw_only=True)
class ElevationDescription(WallDescription):
    """Parts of a wall by their utilisation."""

    parts: list[Box]


@dataclass(frozen=True, kw_only=True)
class WallBarsDescription(WallDescription):
    """Bars of a wall: lines x, y, x, y with a diameter in mm (q, 5), labels at places with the room they have."""

    lines: Floats
    labels: list[tuple[float, float, str, float]]


@dataclass(frozen=True)
class CurveDescription:
    """Axial force and moment about one axis: curve, key points, demands (k, 2), the governing one, units.

    `before` has forces and moments of another curve to compare with.
    """

    title: str
    N: Floats
    M: Floats
    keys: list[tuple[str, float, float]]
    demands: Floats
    governing: Floats
    force: str
    moment: str
    before: tuple[Floats, Floats] | None = None


@dataclass(frozen=True)
class StrengthDescription:
    """Curves of a section; its rings about the centroid, bars with diameters and stresses, the plane of strains.

    The plane is the compressive strain at the centroid and its slopes, None where no plane carries the axial force;
    `at` says of which state it is.
    """

    title: str
    note: str
    curves: tuple[CurveDescription, ...]
    rings: list[Floats]
    bars: Floats
    diameters: Floats
    stresses: Floats
    plane: tuple[float, float, float] | None
    most: float
    at: str
    length: str
    stress: str
