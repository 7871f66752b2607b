"""Zones on the mesh: which side of them is up, where their bars run."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sandwich.core.connected import connected
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
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import minimum_spanning_tree

    corners, count = mesh.corners[elements], len(elements)
    geometric = diagonal_normals(mesh.xyz, corners)
    same = np.where(np.sum(geometric * mesh.axes[elements, 2], axis=1) >= 0.0, 1.0, -1.0)
    unit = geometric / np.maximum(np.linalg.norm(geometric, axis=1, keepdims=True), 1e-12)
    a, b, agree, crowded = _meetings(corners)
    flat = np.abs(np.sum(unit[a] * unit[b], axis=1))
    keep = ~crowded | (flat >= KINK)
    a, b, agree, flat = a[keep], b[keep], agree[keep], flat[keep]
    bend = np.where(flat >= KINK, 0.0, 1.0 - flat)
    order = np.argsort(bend, kind="stable")
    pair, first = np.unique((np.minimum(a, b) * count + np.maximum(a, b))[order], return_index=True)
    agree, bend = agree[order][first], bend[order][first]
    graph = coo_matrix((1.0 + bend, (pair // count, pair % count)), shape=(count, count))
    tree = minimum_spanning_tree(graph).tocoo()
    agree = agree[np.searchsorted(pair, tree.row.astype(np.int64) * count + tree.col)]
    part = connected(count, tree.row, tree.col)
    # every element twice, as it is and turned over: what the tree joins to its first element runs round as that does
    here, there = np.tile(tree.row, 2), np.concatenate([tree.col, tree.col + count])
    here = here + np.concatenate([np.where(agree, 0, count), np.where(agree, count, 0)])
    side = connected(2 * count, here, there)[:count]
    _, root = np.unique(part, return_index=True)
    round_ = np.where(side == side[root[part]], 1.0, -1.0)
    round_ *= np.where(np.bincount(part, round_ * same) < 0.0, -1.0, 1.0)[part]
    return np.asarray(round_ * same)


def _meetings(corners: Ints) -> tuple[Ints, Ints, NDArray[np.bool_], NDArray[np.bool_]]:
    """Pairs of elements at a common edge; whether both run round alike; whether more than these two meet there."""
    found = edges(corners)
    order = np.argsort(found.edge, kind="stable")
    edge, owner, forward = found.edge[order], found.owner[order], found.forward[order]
    rows: list[tuple[Ints, Ints]] = []
    for apart in range(1, int(found.sides.max(initial=1))):
        first = np.flatnonzero(edge[apart:] == edge[:-apart])
        rows.append((first, first + apart))
    one, other = (np.concatenate([r[i] for r in rows]) if rows else np.empty(0, dtype=np.int64) for i in (0, 1))
    # corners that run the same way round run their common edge in opposite ways
    return owner[one], owner[other], forward[one] != forward[other], found.sides[edge[one]] > 2


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
