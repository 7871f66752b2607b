"""Openings of a panel, found in its elevation: holes, and gaps at its edges such as doors and slots."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
import shapely

from sandwich.model.walls.panels import Panel

SMALL: Final = 50.0  # mm: narrower gaps are seams of the mesh


@dataclass(frozen=True)
class Opening:
    """A box in the elevation of a panel [mm]: along it, upwards, and the area that is open [mm2]."""

    a: float
    b: float
    low: float
    high: float
    area: float

    @property
    def width(self) -> float:
        """Its width [mm]."""
        return self.b - self.a

    @property
    def height(self) -> float:
        """Its height [mm]."""
        return self.high - self.low


def elevation(panel: Panel) -> shapely.Geometry:
    """What stands of a panel in its elevation."""
    sides = shapely.polygons(np.stack([panel.s, panel.z], axis=-1))
    return shapely.union_all(shapely.make_valid(sides), grid_size=0.01)


def openings_of(panel: Panel) -> list[Opening]:
    """Openings of a panel, from left to right and upwards.

    A hole is one; a gap at the edge of the elevation is one where wall stands above it, or on both its sides. So a step
    in the outline is none, and a door at the end of a wall or a slot down to its foot is one.
    """
    stands = elevation(panel)
    left, low, right, high = stands.bounds
    gaps = shapely.box(left, low, right, high).difference(stands)
    out = []
    for gap in shapely.get_parts(gaps.buffer(-SMALL / 2, join_style="mitre").buffer(SMALL / 2, join_style="mitre")):
        a, under, b, over = gap.bounds
        if gap.is_empty or b - a < SMALL or over - under < SMALL:
            continue
        middle = gap.representative_point()
        column = shapely.LineString([(middle.x, over), (middle.x, high + 1.0)])
        covered = stands.intersection(column).length > SMALL
        row = [shapely.LineString([(x, middle.y), (end, middle.y)]) for x, end in ((a, left - 1.0), (b, right + 1.0))]
        sides = all(stands.intersection(r).length > SMALL for r in row)
        if covered or sides:
            out.append(Opening(float(a), float(b), float(under), float(over), float(gap.area)))
    return sorted(out, key=lambda o: (round(o.low), o.a))
