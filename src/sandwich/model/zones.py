"""Zones on the mesh: which side of them is up, where their bars run."""

from __future__ import annotations

import heapq
import itertools
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.model.mesh import KINK, Mesh, diagonal_normals, edges, frame

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
STEEP = 0.02  # sine of the angle to the normal below which a direction says nothing about the surface
_UP = np.array([0.0, 0.0, 1.0])


Place = tuple[float, float, float]
Along = Literal["vector", "horizontal", "vertical", "radial", "tangential", "polyline", "element"]


@dataclass(frozen=True)
class Direction:
    """Direction of bars on a surface: along a vector, about a centre [m], a line of places [m]; turned by [deg]."""

    along: Along = "vector"
    vector: Place = (1.0, 0.0, 0.0)
    centre: Place = (0.0, 0.0, 0.0)
    line: tuple[Place, ...] = ()
    angle: float = 0.0


@dataclass(frozen=True)
class TopSide:
    """Where the top face of a zone looks: along a vector or away from a centre [m]."""

    towards: Place | None = None
    away_from: Place | None = None


@dataclass(frozen=True)
class Orientation:
    """How the results of each element of a zone are turned into its bar directions.

    Attributes
    ----------
    flipped : ndarray of bool, shape (e,)
        Elements whose own normal points to the bottom of the zone.
    angle : ndarray, shape (e,)
        Angle from local x to the x bars, after turning over [rad].
    bars : ndarray, shape (e, 3, 3)
        Unit vectors of the x bars, the y bars and the zone's normal in global axes.
    """

    flipped: NDArray[np.bool_]
    angle: Floats
    bars: Floats


def orient(
    direction: Direction, top_side: TopSide, mesh: Mesh, elements: Ints, where: str, faults: Faults
) -> Orientation:
    """Choose one side of a zone as its top and turn every element to the bar directions."""
    own = mesh.axes[elements]
    centres = mesh.centres[elements]
    z = own[:, 2]
    up = _consistent(mesh, elements)
    if _declared(top_side):
        ahead = _towards(top_side, z, centres)
        edgeways = np.abs(ahead) < STEEP
        if edgeways.any():
            found = f"does not tell top from bottom at element {mesh.element_ids[elements[edgeways]][0]}"
            faults.add(f"{where}.top_side", found, "choose a direction that crosses the surface")
        up = np.where(ahead >= 0.0, 1.0, -1.0)
    normal = z * up[:, None]
    x = _along(direction, own[:, 0], normal, centres)
    x = x / np.maximum(np.linalg.norm(x, axis=1, keepdims=True), 1e-9)
    inplane = x - np.sum(x * normal, axis=1, keepdims=True) * normal
    short = np.linalg.norm(inplane, axis=1) < STEEP
    if short.any():
        found = f"the direction of the x bars stands at right angles to element {mesh.element_ids[elements[short][0]]}"
        faults.add(f"{where}.direction", found, "choose a vector in the surface, or 'horizontal', 'vertical', 'radial'")
        inplane[short] = own[short, 0]
    bars = frame(inplane, normal)
    turn = direction.angle * np.pi / 180.0
    if turn:
        bars = frame(np.cos(turn) * bars[:, 0] + np.sin(turn) * bars[:, 1], normal)
    local_y = own[:, 1] * up[:, None]  # turning over about x turns y too
    angle = np.arctan2(np.sum(bars[:, 0] * local_y, axis=1), np.sum(bars[:, 0] * own[:, 0], axis=1))
    return Orientation(up < 0, angle, bars)


def turn_of(direction: Direction, bars: Floats, places: Floats) -> Floats:
    """Angle from given bars to a direction of their own at places, from x towards y [rad].

    Parameters
    ----------
    direction : Direction
        Any but that of the elements.
    bars : ndarray, shape (p, 3, 3)
        Unit vectors of the x bars, the y bars and the normal.
    places : ndarray, shape (p, 3)
        Where [mm]; the middle of a radial direction has none of its own and is not turned.
    """
    x = _along(direction, bars[:, 0], bars[:, 2], places)
    a, b = np.sum(x * bars[:, 0], axis=1), np.sum(x * bars[:, 1], axis=1)
    short = np.hypot(a, b) < STEEP * np.maximum(np.linalg.norm(x, axis=1), 1e-9)
    angle = np.where(short, 0.0, np.arctan2(b, a)) + direction.angle * np.pi / 180.0
    # bars have no sense: the same direction is one angle
    return np.asarray(np.round((angle + np.pi / 2) % np.pi - np.pi / 2, 7))


def _declared(side: TopSide) -> bool:
    return side.towards is not None or side.away_from is not None


def _towards(side: TopSide, z: Floats, centres: Floats) -> Floats:
    """Cosine between the normals and the declared direction."""
    if side.towards is not None:
        wanted = np.broadcast_to(np.asarray(side.towards, dtype=float), z.shape)
    else:
        wanted = centres - 1000.0 * np.asarray(side.away_from, dtype=float)
    length = np.maximum(np.linalg.norm(wanted, axis=1), 1e-12)
    return np.asarray(np.sum(z * wanted, axis=1) / length)


def _consistent(mesh: Mesh, elements: Ints) -> Floats:
    """Signs that make neighbours' normals agree; each connected part follows the majority of its elements.

    A smooth surface is followed before its corners, and at an edge where several surfaces meet nothing is followed
    round a corner: one plane has one side, whatever way leads from element to element.
    """
    corners = mesh.corners[elements]
    _, edge, owner = edges(corners)
    order = np.argsort(edge, kind="stable")
    edge, owner = edge[order], owner[order]
    z = mesh.axes[elements, 2]
    geometric = diagonal_normals(mesh.xyz, corners)
    same = np.where(np.sum(geometric * z, axis=1) >= 0.0, 1.0, -1.0)
    unit = geometric / np.maximum(np.linalg.norm(geometric, axis=1, keepdims=True), 1e-12)
    direction = _edge_directions(corners)
    neighbours: list[list[tuple[float, int, bool]]] = [[] for _ in elements]
    for group in np.split(owner, np.flatnonzero(np.diff(edge)) + 1):
        for a, b in itertools.combinations(group.tolist(), 2):
            flat = abs(float(unit[a] @ unit[b]))
            if flat < KINK and len(group) > 2:
                continue
            # corners that run the same way round run their common edge in opposite ways
            agree = direction[a][_key(corners, a, b)] != direction[b][_key(corners, a, b)]
            bend = 0.0 if flat >= KINK else 1.0 - flat
            neighbours[a].append((bend, b, agree))
            neighbours[b].append((bend, a, agree))
    round_ = np.zeros(len(elements))
    for seed in range(len(elements)):
        if round_[seed]:
            continue
        round_[seed], part = 1.0, [seed]
        queue = [(bend, b, 1.0 if agree else -1.0) for bend, b, agree in neighbours[seed]]
        heapq.heapify(queue)
        while queue:
            _, a, sign = heapq.heappop(queue)
            if round_[a]:
                continue
            round_[a] = sign
            part.append(a)
            for bend, b, agree in neighbours[a]:
                if not round_[b]:
                    heapq.heappush(queue, (bend, b, sign if agree else -sign))
        if np.sum(round_[part] * same[part]) < 0.0:
            round_[part] *= -1.0
    return round_ * same


def _edge_directions(corners: Ints) -> list[dict[tuple[int, int], bool]]:
    out = []
    for row in corners.tolist():
        ring = [n for n in row if n >= 0]
        pairs = zip(ring, ring[1:] + ring[:1], strict=True)
        out.append({(min(a, b), max(a, b)): a < b for a, b in pairs})
    return out


def _key(corners: Ints, a: int, b: int) -> tuple[int, int]:
    common = sorted((set(corners[a].tolist()) & set(corners[b].tolist())) - {-1})
    return common[0], common[1]


def _nearest_segment(line: Floats, places: Floats) -> Floats:
    """Direction of the segment of a line that is nearest to each place."""
    start, along = line[:-1], np.diff(line, axis=0)
    t = np.einsum("psd,sd->ps", places[:, None] - start, along) / np.sum(along**2, axis=1)
    foot = start + np.clip(t, 0.0, 1.0)[..., None] * along
    return np.asarray(along[np.linalg.norm(places[:, None] - foot, axis=2).argmin(1)])


def _along(direction: Direction, own_x: Floats, normal: Floats, centres: Floats) -> Floats:
    """Direction of the x bars of each element, not yet in its plane."""
    if direction.along == "element":
        return own_x
    if direction.along == "vector":
        return np.broadcast_to(np.asarray(direction.vector, dtype=float), own_x.shape)
    if direction.along == "vertical":
        return np.broadcast_to(_UP, own_x.shape)
    if direction.along == "horizontal":
        return np.cross(_UP, normal)
    if direction.along == "polyline":
        return _nearest_segment(1000.0 * np.asarray(direction.line, dtype=float), centres)
    if direction.along == "tangential":
        return np.cross(normal, centres - 1000.0 * np.asarray(direction.centre, dtype=float))
    return centres - 1000.0 * np.asarray(direction.centre, dtype=float)
