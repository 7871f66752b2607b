"""Stiffness of walls in plan, by the second moments of area of their sections."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.model.walls.outline import Stretch, line_of
from sandwich.model.walls.panels import Panel

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class PlanStiffness:
    """Centre of stiffness of a storey [mm], torsional radii in x and y [mm]."""

    centre: tuple[float, float]
    radius: tuple[float, float]


def plan_stiffness(stretches: Sequence[Sequence[Stretch]], panels: Sequence[Sequence[Panel]]) -> PlanStiffness | None:
    """Centre of stiffness and torsional radii of walls; None where a direction has no wall.

    Each stretch bends about its own centroid; what it has about its thickness is left out.

    Parameters
    ----------
    stretches : sequence of sequence of Stretch
        What stands of the panels of each wall.
    panels : sequence of sequence of Panel
        Panels of each wall.

    References
    ----------
    EN 1998-1:2004, 4.2.3.2(6) to (9).
    """
    rows = []
    for own, of in zip(stretches, panels, strict=True):
        by = {p.name: p for p in of}
        rows += [_bending(line_of(by[s.panel], s.a, s.b), s.thickness) for s in own]
    if not rows:
        return None
    x, y, k_x, k_y = np.array(rows).T
    if min(k_x.sum(), k_y.sum()) <= 1e-6 * max(k_x.sum(), k_y.sum()):
        return None
    centre = float(k_y @ x / k_y.sum()), float(k_x @ y / k_x.sum())
    torsion = float(k_y @ (x - centre[0]) ** 2 + k_x @ (y - centre[1]) ** 2)
    return PlanStiffness(centre, (float(np.sqrt(torsion / k_y.sum())), float(np.sqrt(torsion / k_x.sum()))))


def _bending(line: Floats, thickness: float) -> tuple[float, float, float, float]:
    """Centroid x and y of a stretch [mm], and its second moments of area for bending in x and in y [mm4]."""
    way = np.diff(line, axis=0)
    length = np.linalg.norm(way, axis=1)
    middle = (line[:-1] + line[1:]) / 2.0
    centre = length @ middle / length.sum()
    own = (length[:, None] * (way**2 / 12.0 + (middle - centre) ** 2)).sum(0) * thickness
    return float(centre[0]), float(centre[1]), float(own[0]), float(own[1])
