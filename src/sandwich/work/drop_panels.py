"""Drop panels and heads: the thinner slab beyond them, and places whose slab grows thinner where no panel says so."""

from __future__ import annotations

from typing import Final

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.job.punching import DROP
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.work.flat import FLAT

Floats = NDArray[np.float64]
THINNER: Final = 0.99  # of the thickness in the middle: what is less is the thinner slab
NEAR: Final = 6.0  # thicknesses from a loaded area beyond which a thinner slab does not govern its punching
_EDGE: Final = 1.0  # mm


def _level(z: ZoneInput, origin: Floats, axes: Floats) -> tuple[Floats, Floats]:
    """Places (p, 2) and thicknesses (p,) of the points of a zone in the plane of a slab [mm]."""
    if z.surface is None:
        return np.empty((0, 2)), np.empty(0)
    away = (z.xyz - origin) @ axes.T
    level = (np.abs(away[:, 2]) < z.h / 2.0) & (np.abs(z.surface.points.bars[:, 2] @ axes[2]) > FLAT)
    return away[level, :2], z.h[level]


def thickness_at(zones: list[ZoneInput], origin: Floats, axes: Floats, area: Polygon | None = None) -> float:
    """Thickness of the slab at a place: the thinnest of the nearest points, and of those in an area [mm].

    It is nan where some zones have no point at its level.
    """
    each = [_level(z, origin, axes) for z in zones]
    xy, thickness = np.concatenate([p for p, _ in each]), np.concatenate([t for _, t in each])
    if not len(thickness):
        return np.nan
    away = np.linalg.norm(xy, axis=1)
    there = away <= away.min() + _EDGE
    if area is not None:
        there |= shapely.intersects_xy(area.buffer(_EDGE), xy[:, 0], xy[:, 1])
    return float(thickness[there].min())


def thickness_beyond(z: ZoneInput, panel: Polygon, origin: Floats, axes: Floats, h: float) -> float | str:
    """Thickness of the slab beyond a drop panel of thickness h [mm], or why there is none to check.

    Parameters
    ----------
    z : ZoneInput
        The zone of the slab beyond.
    panel : Polygon
        The panel in plan, along the axes from the origin [mm].
    origin, axes : ndarray, shape (3,), (3, 3)
        Its middle, and its axes with the normal.
    h : float
        Thickness in its middle [mm].
    """
    xy, thickness = _level(z, origin, axes)
    thin = thickness < THINNER * h
    inside = shapely.intersects_xy(panel.buffer(-_EDGE), xy[:, 0], xy[:, 1])
    if (thin & inside).any():
        return "is larger than the thick part of the slab"
    away = shapely.distance(panel, shapely.points(xy))
    beside = away <= away.min(where=~inside & (away < np.inf), initial=np.inf) + h
    if not (thin & beside).any():
        return "has no thinner slab around it"
    return float(thickness[thin & beside].min())


def thinner_around(
    name: str, area: Polygon, origin: Floats, axes: Floats, h: float, perimeter: float, project: Project
) -> WarningNote | None:
    """A warning where the slab near a loaded area is thinner than at the area, whose thickness its check takes.

    It is grave where the thinner slab reaches the control perimeter, at its distance [mm], or lies on all sides.
    """
    each = [_level(z, origin, axes) for z in project.zones]
    xy, thickness = np.concatenate([p for p, _ in each]), np.concatenate([t for _, t in each])
    there = np.linalg.norm(xy, axis=1) <= shapely.hausdorff_distance(area, shapely.Point(0.0, 0.0)) + NEAR * h
    xy, thickness = xy[there], thickness[there]
    away = shapely.distance(area, shapely.points(xy))
    near, thin = (away > 0.0) & (away <= NEAR * h), thickness < THINNER * h
    if not (near & thin).any():
        return None
    least = float(thickness[near & thin].min())
    side = (xy[:, 0] > 0.0) + 2 * (xy[:, 1] > 0.0)
    around = set(side[near]) == set(side[near & thin])
    return WarningNote(
        name,
        Sentence("the slab near it is {} thick, at it {}", Measure(least, "mm", "g"), Measure(h, "mm", "g")),
        "punching is checked with the thickness at the loaded area alone",
        f'a drop panel or head that no entry of [punching] with kind = "{DROP}" stands for',
        grave=around or bool((thin & (away <= perimeter)).any()),
    )
