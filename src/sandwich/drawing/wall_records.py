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


@dataclass(frozen=True)
class EndBox:
    """Bars at an end in an elevation: place, size, whether it has ties, its largest utilisation."""

    x: float
    y: float
    width: float
    height: float
    tied: bool
    value: float


@dataclass(frozen=True, kw_only=True)
class SeismicElevationDescription(WallDescription):
    """Boundary elements, bars at ends and coupling beams of a wall in its elevation.

    `lines` are diagonals x, y, x, y (q, 4); `labels` stand at places with the room they have.
    """

    parts: list[Box]
    ends: list[EndBox]
    lines: Floats
    labels: list[tuple[float, float, str, float]]


@dataclass(frozen=True)
class HeightDescription:
    """Demand and capacity up the height: levels with names, steps of storeys (low, high, value), all in units shown."""

    title: str
    quantity: str
    levels: list[tuple[str, float]]
    series: list[tuple[str, list[tuple[float, float, float]]]]


Steps = list[tuple[float, float, float]]  # from, to, value


@dataclass(frozen=True)
class BuildingDescription:
    """Storeys of a building up their height, in x and y: what they do and the limit of it, displacements of floors.

    `measures` are a quantity, the steps of its demand by direction, and those of its limit; `moved` has displacement
    and height of each floor.
    """

    title: str
    note: str
    levels: list[tuple[str, float]]
    measures: list[tuple[str, dict[str, Steps], Steps]]
    moved: dict[str, list[tuple[float, float]]]
    displacement: str
    height: str


@dataclass(frozen=True)
class EndDetail:
    """Section of an end: size that is drawn, bars, ties round it and between, as rectangles and lines [unit]."""

    title: str
    size: tuple[float, float]
    bars: Floats  # x, y, diameter
    ring: tuple[float, float, float, float]
    legs: list[tuple[float, float, float, float]]
    length: float
    told: str
    unit: str


@dataclass(frozen=True)
class BeamDetail:
    """Elevation of a coupling beam: span and depth, diagonals as lines with their width, links at places [unit]."""

    title: str
    size: tuple[float, float]
    diagonals: list[tuple[float, float, float, float]]
    group: float
    chords: list[float]
    links: list[float]
    ties: list[float]
    told: str
    unit: str


@dataclass(frozen=True)
class SeismicDetailDescription:
    """Moments and shear up the height of one wall, its worst boundary element and its worst coupling beam."""

    title: str
    note: str
    heights: tuple[HeightDescription, ...]
    end: EndDetail | None
    beam: BeamDetail | None
