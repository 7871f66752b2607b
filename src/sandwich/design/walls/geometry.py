"""What checks know of the shape of a part of a wall, and the ways in which it is sheared."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sandwich.design.walls.demands import Demand
from sandwich.model.walls.flanges import ALONG
from sandwich.standards.interface import MemberCheck, WallPart

Floats = NDArray[np.float64]
ACROSS: Final = " across the chord"
SAME: Final = 1.0  # mm between the ends of a ring


@dataclass(frozen=True)
class PartGeometry:
    """What the checks of a part know of it [mm]: length, thickness, clear height, edges that are held.

    `line` has the places of the line of a curved part along its first axis and across it, none of a straight one;
    `tall` is the height that counts for shear in the plane, by the whole wall where that is the more slender, 0 for
    the clear height.
    """

    length: float
    thickness: float
    height: float
    edges: int = 2
    between: float = 0.0
    line: tuple[tuple[float, float], ...] = ()
    tall: float = 0.0

    @property
    def key(self) -> tuple[object, ...]:
        """Its section, rounded to a tenth of a millimetre."""
        return round(self.length, 1), round(self.thickness, 1), self.line

    @property
    def along(self) -> float:
        """Its extent in the direction of the shear [mm]."""
        return float(np.ptp(np.array(self.line)[:, 0])) if self.line else self.length

    @property
    def ring(self) -> bool:
        """Whether its line ends where it starts."""
        return bool(self.line) and math.dist(self.line[0], self.line[-1]) < SAME

    @property
    def across(self) -> float:
        """Its extent across that where more of it than its thickness stands this way, as it is curved [mm]; else 0."""
        if not self.line:
            return 0.0
        ways = np.diff(np.array(self.line), axis=0)
        length = np.linalg.norm(ways, axis=1)
        stands = float(length[np.abs(ways[:, 1]) > ALONG * length].sum())
        return float(np.ptp(np.array(self.line)[:, 1])) if stands > self.thickness else 0.0


class Sheared(NamedTuple):
    """A part as its shear one way looks at it: the end of the names of its checks, and forces (k,) [N]."""

    way: str
    part: WallPart
    V: Floats
    N: Floats

    def named(self, check: MemberCheck) -> MemberCheck:
        """A check under its name of this way."""
        return replace(check, name=check.name.removesuffix(" in plane") + self.way) if self.way else check

    def tells(self, name: str) -> bool:
        """Whether a check of a name is of this way."""
        return name.endswith(ACROSS) == bool(self.way)


def sheared(geometry: PartGeometry, part: WallPart, d: Demand) -> list[Sheared]:
    """The ways in which a part is sheared: along it, of one that is curved far enough across it as well.

    A curved part resists by its extent one way, which has that share of its axial force; a ring alike in all ways.
    """
    if not geometry.line:
        return [Sheared("", part, d.V, d.N)]
    ways = [("", geometry.along, d.V), (ACROSS, geometry.across, d.V_out)]
    if geometry.ring:
        ways = [("", min(geometry.along, geometry.across), np.hypot(d.V, d.V_out))]
    return [
        Sheared(way, replace(part, length=extent), V, d.N * extent / geometry.length)
        for way, extent, V in ways if extent > 0.0
    ]  # fmt: skip
