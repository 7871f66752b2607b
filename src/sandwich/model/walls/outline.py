"""Outline of a level section through panels: walls of some thickness about their lines, whole at their corners."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import shapely
from numpy.typing import NDArray

from sandwich.core.connected import connected
from sandwich.model.walls.panels import Panel

Floats = NDArray[np.float64]
TOUCH: Final = 20.0  # mm between lines that meet
CLOSED: Final = 0.25  # of the area inside an outline: holes of a closed section
SMALL: Final = 1.0  # mm: what a line may leave its place by when it is simplified


@dataclass(frozen=True)
class Stretch:
    """A stretch of one panel in a section: from a to b along it, and its thickness [mm]."""

    panel: str
    a: float
    b: float
    thickness: float


def line_of(panel: Panel, a: float, b: float) -> Floats:
    """Places of a panel's line from a to b, which may lie past its ends [mm], shape (q, 2)."""
    inner = [s for s in panel.stations[1:-1] if a < s < b]
    return panel.place([a, *inner, b])[0]


def outline(stretches: Sequence[Stretch], panels: Sequence[Panel]) -> tuple[list[Floats], list[Floats]]:
    """Outlines and holes of a section [mm].

    Parameters
    ----------
    stretches : sequence of Stretch
        What stands of the panels.
    panels : sequence of Panel
        All panels of the wall.

    Returns
    -------
    list of ndarray, list of ndarray
        Corners of outlines and of holes.
    """
    by = {p.name: p for p in panels}
    lines = []
    for s in stretches:
        panel = by[s.panel]
        a, b = s.a, s.b
        for other in stretches:
            if other.panel == s.panel:
                continue
            if _meets(panel, a, by[other.panel], other):
                a -= other.thickness / 2.0
            if _meets(panel, b, by[other.panel], other):
                b += other.thickness / 2.0
        lines.append(line_of(panel, a, b))
    return walls_about(lines, [s.thickness for s in stretches])


def walls_about(lines: Sequence[Floats], thickness: Sequence[float]) -> tuple[list[Floats], list[Floats]]:
    """Outlines and holes of walls of some thickness about lines in plan [mm]."""
    walls = [
        shapely.LineString(line).buffer(t / 2.0, cap_style="flat", join_style="mitre")
        for line, t in zip(lines, thickness, strict=True)
    ]
    whole = shapely.union_all(walls, grid_size=0.01).simplify(SMALL if any(len(v) > 2 for v in lines) else 0.01)
    outer, holes = [], []
    for part in shapely.get_parts(whole):
        outer.append(np.array(part.exterior.coords)[:-1])
        holes += [np.array(ring.coords)[:-1] for ring in part.interiors]
    return outer, holes


def follow(line: Floats, along: Floats, aside: Floats) -> Floats:
    """Places along a line and to its left [mm], shape (b, 2)."""
    way = np.diff(line, axis=0)
    length = np.linalg.norm(way, axis=1)
    stations = np.concatenate([[0.0], np.cumsum(length)])
    i = np.clip(np.searchsorted(stations, along, side="right") - 1, 0, len(length) - 1)
    unit = way[i] / length[i, None]
    left = np.stack([-unit[:, 1], unit[:, 0]], axis=1)
    return np.asarray(line[i] + (along - stations[i])[:, None] * unit + aside[:, None] * left)


def centroid(stretches: Sequence[Stretch], panels: Sequence[Panel]) -> tuple[Floats, float]:
    """Centroid of stretches in plan [mm], by thickness and length of their lines, and their area [mm2]."""
    by = {p.name: p for p in panels}
    middles, areas = [], []
    for s in stretches:
        line = line_of(by[s.panel], s.a, s.b)
        length = np.linalg.norm(np.diff(line, axis=0), axis=1)
        middles.append((line[:-1] + line[1:]) / 2.0)
        areas.append(s.thickness * length)
    area = np.concatenate(areas)
    return area @ np.concatenate(middles) / area.sum(), float(area.sum())


def pieces(stretches: Sequence[Stretch], panels: Sequence[Panel]) -> list[tuple[Stretch, ...]]:
    """Stretches that hang together in plan, from the front to the back and from left to right."""
    by = {p.name: p for p in panels}
    lines = np.array([shapely.LineString(line_of(by[s.panel], s.a, s.b)) for s in stretches])
    meet = np.nonzero(shapely.distance(lines[:, None], lines) < TOUCH)
    label = connected(len(stretches), *meet)
    groups = [tuple(s for s, own in zip(stretches, label, strict=True) if own == v) for v in np.unique(label)]
    return sorted(groups, key=lambda g: tuple(np.round(centroid(g, panels)[0][::-1], -1)))


def middle_line(outer: Floats, holes: Sequence[Floats], thickness: float) -> tuple[float, float] | None:
    """Area inside the middle line of the outer walls of a closed section [mm2], and its length [mm]; None if open.

    A section counts as closed where its holes take more than a quarter of what its outline holds.
    """
    whole = shapely.Polygon(outer)
    if not holes or sum(shapely.Polygon(h).area for h in holes) < CLOSED * whole.area:
        return None
    line = whole.buffer(-thickness / 2.0, join_style="mitre")
    return float(line.area), float(line.length)


def _meets(panel: Panel, s: float, other: Panel, stretch: Stretch) -> bool:
    """Whether the end of a stretch lies on an end of another one: a corner, where both run on to their outer faces."""
    ends = other.place([stretch.a, stretch.b])[0]
    return float(np.linalg.norm(ends - panel.place(s)[0], axis=1).min()) < TOUCH
