"""Plan of a slab about a loaded area: its edges and openings, and the perimeters they leave."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Final, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, MultiLineString, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from sandwich.mechanics.perimeter import Perimeter

Floats = NDArray[np.float64]
Corners = Literal["round", "straight", "cut"]
_JOIN: Final[dict[Corners, Literal["round", "mitre", "bevel"]]] = {
    "round": "round",
    "straight": "mitre",
    "cut": "bevel",
}
_SPECK: Final = 1.0  # mm; gaps and slivers of a mesh
_QUARTER: Final = 16  # chords of a quarter of a circle
_FAR: Final = 1e5  # mm


def plan_of(polygons: Floats, place: Floats) -> Polygon | None:
    """The part of a slab that holds a place: the union of its elements, with its openings; None if none does.

    Parameters
    ----------
    polygons : ndarray, shape (e, 4, 2)
        Corners of the elements [mm]; a triangle repeats its third.
    place : ndarray, shape (2,)
        A place on the slab or at its edge [mm].
    """
    elements = shapely.make_valid([Polygon(p) for p in polygons])  # those that fold in the projection
    whole = shapely.union_all(elements).buffer(_SPECK).buffer(-_SPECK)
    parts = [p for p in getattr(whole, "geoms", [whole]) if p.distance(Point(place)) <= _SPECK]
    return orient(parts[0].simplify(_SPECK)) if parts else None


def rectangle(c1: float, c2: float) -> Polygon:
    """A rectangle about the origin, c1 along the first axis [mm]."""
    return shapely.box(-c1 / 2, -c2 / 2, c1 / 2, c2 / 2)


def circle(diameter: float) -> Polygon:
    """A circle about the origin [mm], by chords of its own circumference."""
    n = 4 * _QUARTER
    radius = np.pi * diameter / (2 * n * np.sin(np.pi / n))  # the polygon has the circumference of the circle
    angle = 2 * np.pi * np.arange(n) / n
    return Polygon(radius * np.stack([np.cos(angle), np.sin(angle)], 1))


def leg(along: Floats, thickness: float, length: float, back: float = 0.0) -> Polygon:
    """The piece of a wall that counts [mm]: from its end at the origin, or from a place behind it at a corner."""
    across, start, end = thickness / 2 * np.array([-along[1], along[0]]), -back * along, length * along
    return Polygon([start - across, end - across, end + across, start + across])


@dataclass(frozen=True)
class Plan:
    """A loaded area on its slab, both about the middle of the area [mm].

    Attributes
    ----------
    slab : Polygon
        The slab with its openings.
    area : Polygon
        The loaded area.
    legs : tuple of (direction, length)
        Of a wall: where it goes on beyond the area, (1 for an end, 2 for a corner); no perimeter there.
    reach : float
        Openings up to this distance from the area cut the perimeter [mm].
    widen : bool
        Whether the shadow of an opening deeper than wide is widened, as EN 1992-1-1 Figure 6.14 has it.
    """

    slab: Polygon
    area: Polygon
    legs: tuple[tuple[Floats, float], ...] = ()
    reach: float = 0.0
    widen: bool = False

    @cached_property
    def near_edges(self) -> list[tuple[Floats, float]]:
        """Outward normals and distances of the slab edges that face the area, the three nearest."""
        ring = np.array(self.slab.exterior.coords)
        found = []
        for a, b in itertools.pairwise(ring):
            length = float(np.hypot(*(b - a)))
            t = (b - a) / length
            if -_SPECK <= -a @ t <= length + _SPECK:
                normal = np.array([t[1], -t[0]])
                found.append((normal, max(float(a @ normal), 0.0)))
        found = [f for i, f in enumerate(found) if not any(f[0] @ g[0] > 0.999 for g in found[:i])]
        return sorted(found, key=lambda f: f[1])[:3]

    @cached_property
    def shadows(self) -> BaseGeometry:
        """What lies behind the openings near the area, seen from its middle."""
        wedges = []
        for ring in self.slab.interiors:
            hole = Polygon(ring)
            if hole.distance(self.area) > self.reach or hole.contains(Point(0.0, 0.0)):
                continue
            v = np.array(ring.coords)[:-1]
            middle = np.array(hole.centroid.coords[0])
            ahead = middle / max(float(np.hypot(*middle)), 1e-9)
            aside = np.array([-ahead[1], ahead[0]])
            low, high = (float(f(np.arctan2(v @ aside, v @ ahead))) for f in (np.min, np.max))
            deep, wide = float(np.ptp(v @ ahead)), float(np.ptp(v @ aside))
            if self.widen and deep > wide:
                low, high = (float(np.arctan(np.tan(a) * np.sqrt(deep / wide))) for a in (low, high))
            ends = [np.cos(a) * ahead + np.sin(a) * aside for a in np.linspace(low, high, 9)]
            wedges.append(Polygon([np.zeros(2), *(_FAR * e for e in ends)]))
        return shapely.union_all(wedges) if wedges else Polygon()

    def perimeter(self, distance: float, corners: Corners) -> tuple[Perimeter, Floats]:
        """The shortest perimeter at a distance from the area, and the outward normals of the edges it runs to.

        Parameters
        ----------
        distance : float
            From the faces of the area [mm].
        corners : {'round', 'straight', 'cut'}
            Its corners.

        Returns
        -------
        Perimeter
            Pieces inside the slab.
        ndarray, shape (0 to 2, 2)
            Normals of free edges [-].

        References
        ----------
        EN 1992-1-1:2004, 6.4.2 with Figures 6.13 to 6.15; ACI 318-19, 22.6.4; IS 456:2000, 31.6.1.
        """
        line, edges = self._shortest(distance, corners)
        segments = np.array(list(_segments(line.difference(self.shadows)))).reshape(-1, 2, 2)
        return Perimeter(segments), edges

    def behind(self, distance: float, corners: Corners) -> Floats:
        """Pieces of that perimeter behind openings [mm], shape (s, 2, 2)."""
        line, _ = self._shortest(distance, corners)
        return np.array(list(_segments(line.intersection(self.shadows)))).reshape(-1, 2, 2)

    def _shortest(self, distance: float, corners: Corners) -> tuple[BaseGeometry, Floats]:
        """The line that is shortest without its parts behind openings, with these parts; normals of its edges."""
        best: tuple[float, BaseGeometry, Floats] | None = None
        for edges in self._choices(distance):
            around = self._reached(edges, distance).buffer(
                distance, quad_segs=_QUARTER, join_style=_JOIN[corners], mitre_limit=10.0
            )
            line = self._cut(around.exterior)
            length = line.difference(self.shadows).length
            if best is None or length < best[0] - _SPECK:
                best = length, line, np.array(around.exterior.coords)
        assert best is not None
        met = [n for n, away in self.near_edges if (best[2] @ n).max() >= away - _SPECK]
        return best[1], np.array(met[:2]).reshape(-1, 2)

    def face(self) -> float:
        """Length of the faces of the area that touch the slab [mm]."""
        return float(self._cut(self.area.exterior).length)

    def _choices(self, distance: float) -> Iterator[list[tuple[Floats, float]]]:
        size = float(np.hypot(*np.ptp(np.array(self.area.exterior.coords), axis=0)))
        near = [e for e in self.near_edges if e[1] <= size + np.pi * distance]
        yield []
        yield from ([e] for e in near)
        yield from (list(pair) for pair in itertools.combinations(near, 2))

    def _reached(self, edges: list[tuple[Floats, float]], distance: float) -> Polygon:
        """The area drawn out over some edges, so that its perimeter meets them at right angles."""
        ways = [np.zeros(2)]
        for normal, away in edges:
            ways += [w + (away + 3.0 * distance) * normal for w in ways]
        v = np.array(self.area.exterior.coords)
        return self.area if len(ways) == 1 else shapely.MultiPoint(np.concatenate([v + w for w in ways])).convex_hull

    def _cut(self, line: BaseGeometry) -> BaseGeometry:
        """The part of a line on the slab, not along its edges and not where a wall goes on."""
        line = line.intersection(self.slab.buffer(-_SPECK))
        for along, length in self.legs:
            across = np.array([-along[1], along[0]])
            start, far = length * along - _SPECK * along, _FAR * along
            line = line.difference(Polygon([start - _FAR * across, far - _FAR * across, far + _FAR * across,
                                            start + _FAR * across]))  # fmt: skip
        if len(self.legs) == 2:
            first, second = (a for a, _ in self.legs)
            line = line.difference(Polygon([np.zeros(2), _FAR * first, _FAR * (first + second), _FAR * second]))
        return line


def _segments(lines: BaseGeometry) -> Iterator[list[tuple[float, float]]]:
    """Straight pieces of lines."""
    for part in getattr(lines, "geoms", [lines]):
        if isinstance(part, LineString) and part.length > _SPECK:
            yield from ([a, b] for a, b in itertools.pairwise(part.coords))
        elif isinstance(part, MultiLineString):
            yield from _segments(part)
