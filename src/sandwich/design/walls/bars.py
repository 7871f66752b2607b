"""Bars of walls: both ways at the faces, at the ends, in lintels; where they stand in a section."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.bar_sizes import size
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import SI, Shown
from sandwich.design.bar_sets import BarRule, ParallelBars

Floats = NDArray[np.float64]
APART: Final = 2.5  # diameters between the layers of a chord


@dataclass(frozen=True)
class BarGroup:
    """Bars at an end of a part: their number, diameter [mm], the length they take [mm].

    `layers` is how many stand over the thickness, 0 for one in each curtain.
    """

    count: int
    diameter: float
    length: float
    layers: int = 0

    @property
    def area(self) -> float:
        """Area of all [mm2]."""
        return self.count * math.pi * self.diameter**2 / 4.0

    def __str__(self) -> str:
        return f"{self.count}x{size(self.diameter)}"

    def in_units(self, shown: Shown) -> str:
        """Number and diameter in the units shown."""
        by = shown.factor("mm")
        return f"{self.count}x{size(self.diameter, by)}"


@dataclass(frozen=True)
class Ties:
    """Ties of the bars at an end: diameter and spacing [mm], legs across the wall and along it."""

    diameter: float
    spacing: float
    across: int
    along: int = 2

    @property
    def leg(self) -> float:
        """Area of one leg [mm2]."""
        return math.pi * self.diameter**2 / 4.0

    def __str__(self) -> str:
        return f"{size(self.diameter)}/{self.spacing:g}, {self.across} across, {self.along} along"

    def in_units(self, shown: Shown) -> str:
        """Diameter, spacing and legs in the units shown."""
        bars = ParallelBars(self.diameter, self.spacing).in_units(shown)
        return f"{bars}, {self.across} across, {self.along} along"


@dataclass(frozen=True)
class Cover:
    """Where the bars of a wall lie: cover to the outer ones [mm], layers, which lie outside."""

    cover: float
    curtains: int = 2
    vertical_outside: bool = False

    def depth(self, vertical: float, horizontal: float) -> float:
        """From a face to the axis of the vertical bars [mm]."""
        return self.cover + (0.0 if self.vertical_outside else horizontal) + vertical / 2.0


@dataclass(frozen=True)
class WallSteel:
    """Bars of a wall or a pier; spacings are those of each curtain; ties are those of the bars at its ends."""

    vertical: ParallelBars
    horizontal: ParallelBars
    ends: BarGroup | None = None
    ties: Ties | None = None

    def counts(self, length: float, thickness: float, cover: Cover) -> tuple[int, int]:
        """Vertical bars of the web, and of each end of its own, in a section [mm]."""
        whole = len(place_wall(length, thickness, self, cover).places)
        if self.ends is None:
            return whole, 0
        layers = self.ends.layers or cover.curtains
        each = layers * max(math.ceil(self.ends.count / layers), 1)
        return whole - 2 * each, each

    def ratios(self, thickness: float, curtains: int) -> tuple[float, float]:
        """Ratios of the horizontal and of the vertical web bars [-]."""
        return curtains * self.horizontal.area / thickness, curtains * self.vertical.area / thickness


@dataclass(frozen=True)
class Diagonals:
    """Bars of each of two diagonals of a lintel: number, diameter [mm], and the ties round each.

    Without ties of their own the links hold them, with ties across: they go round the whole lintel.
    """

    count: int
    diameter: float
    ties: ParallelBars | None = None

    @property
    def area(self) -> float:
        """Area of the bars of one diagonal [mm2]."""
        return self.count * math.pi * self.diameter**2 / 4.0

    def __str__(self) -> str:
        return self.in_units(SI)

    def in_units(self, shown: Shown) -> str:
        """Number, diameter and ties in the units shown."""
        bars = BarGroup(self.count, self.diameter, 0.0).in_units(shown)
        return f"2 of {bars}, " + (f"ties {self.ties.in_units(shown)}" if self.ties else "ties all round")


@dataclass(frozen=True)
class LintelSteel:
    """Bars of a lintel: each chord, links of as many legs as the wall has curtains, diagonals of a coupling beam."""

    chords: BarGroup
    links: ParallelBars
    diagonals: Diagonals | None = None


@dataclass(frozen=True)
class Placed:
    """Bars in a section: places (b, 2), along and across it from its lower left corner [mm]; diameters (b,) [mm]."""

    places: Floats
    diameters: Floats

    @property
    def areas(self) -> Floats:
        """Area of each [mm2]."""
        return np.asarray(math.pi * self.diameters**2 / 4.0)


def place_wall(length: float, thickness: float, steel: WallSteel, cover: Cover) -> Placed:
    """Vertical bars of a wall, no further apart than their spacing, those of its ends in pairs at both faces.

    Parameters
    ----------
    length, thickness : float
        Of the section [mm].
    steel : WallSteel
        Its bars.
    cover : Cover
        Where they lie.

    Returns
    -------
    Placed
        Symmetric about both middles.
    """
    d, outer = steel.vertical.diameter, steel.horizontal.diameter
    places: list[tuple[float, float]] = []
    diameters: list[float] = []

    def row(x: float, diameter: float, outer: float, layers: int) -> None:
        depth = min(cover.depth(diameter, outer), thickness / 2.0)
        step = (thickness - 2.0 * depth) / (layers - 1) if layers > 1 else 0.0
        for i in range(layers):
            places.append((x, depth + i * step if layers > 1 else thickness / 2.0))
            diameters.append(diameter)

    def pair(x: float, diameter: float) -> None:
        row(x, diameter, outer, cover.curtains)

    low, high = cover.depth(d, outer), length - cover.depth(d, outer)
    if steel.ends is not None:
        end = steel.ends
        about = max(outer, steel.ties.diameter) if steel.ties is not None else outer
        layers = end.layers or cover.curtains
        first = cover.depth(end.diameter, about)
        rows = max(math.ceil(end.count / layers), 1)
        reach = min(max(end.length, first), length / 2.0)
        last = max(reach - end.diameter, first) if rows > 1 else first
        for x in np.linspace(first, last, rows) if rows > 1 else [first]:
            row(float(x), end.diameter, about, layers)
            row(length - float(x), end.diameter, about, layers)
        gap = length - 2.0 * last
        between = max(math.ceil(gap / steel.vertical.spacing - 1e-6) - 1, 0)
        for i in range(between):
            pair(last + (i + 1) * gap / (between + 1), d)
    elif high >= low:
        count = max(math.ceil((high - low) / steel.vertical.spacing - 1e-6), 0) + 1
        for x in np.linspace(low, high, count) if count > 1 else [(low + high) / 2.0]:
            pair(float(x), d)
    else:
        pair(length / 2.0, d)
    return Placed(np.array(places), np.array(diameters, dtype=float))


def place_lintel(height: float, thickness: float, steel: LintelSteel, cover: Cover) -> Placed:
    """Bars of both chords of a lintel, along its height from below: in layers of two, or one with one curtain."""
    d, link = steel.chords.diameter, steel.links.diameter
    first, step = cover.cover + link + d / 2.0, APART * d
    layers = math.ceil(steel.chords.count / 2)
    reach = min(max(steel.chords.length - first, (layers - 1) * step), height / 2.0 - first) if layers > 1 else 0.0
    side = min(cover.cover + link + d / 2.0, thickness / 2.0)
    places = [
        (x, y)
        for at in np.linspace(first, first + max(reach, 0.0), layers)
        for x in (float(at), height - float(at))
        for y in (side, thickness - side)
    ]
    return Placed(np.array(places), np.full(len(places), d))


def effective_depth(height: float, steel: LintelSteel, cover: Cover) -> float:
    """Effective depth of a lintel [mm]."""
    at = place_lintel(height, 1.0, steel, cover).places[:, 0]
    return float(height - at[at < height / 2.0].mean())


def end_groups(rule: BarRule, length: float, curtains: int) -> Iterator[BarGroup]:
    """Bars that may stand at an end, by rising area: in pairs 100 mm apart, in a fifth of the length."""
    step, most = 100.0, max(length / 5.0, 200.0) + 1e-3  # noise of a length takes no pair away
    options = [
        BarGroup(curtains * rows, d, max((rows - 1) * step, 0.0) + 100.0)
        for d in rule.diameters
        for rows in range(2, 2 + max(int(most // step), 1))
    ]
    yield from sorted(options, key=lambda o: o.area)


def mass(length: float, height: float, thickness: float, steel: WallSteel, cover: Cover) -> float:
    """Mass of the bars of a wall or pier with the ties of its ends, laps and anchorage left out [kg]."""
    vertical = float(place_wall(length, thickness, steel, cover).areas.sum()) * height
    horizontal = cover.curtains * steel.horizontal.area * height * length
    ties = 0.0
    if steel.ties is not None and steel.ends is not None:
        legs = steel.ties.across * (thickness - 2.0 * cover.cover) + steel.ties.along * steel.ends.length
        ties = 2.0 * steel.ties.leg / steel.ties.spacing * legs * height
    return STEEL_DENSITY * (vertical + horizontal + ties)
