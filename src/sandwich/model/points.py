"""Points: where results are designed. Node means inside smooth patches, raw corners, or element centres."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.connected import connected
from sandwich.model.mesh import KINK, Mesh, diagonal_normals, edges, frame
from sandwich.model.zones import Orientation

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
AT_NODE: Final = 1.0  # mm
EVEN: Final = 0.5  # length of the mean of unit vectors that have one direction in common


def split(corners: NDArray[Any]) -> NDArray[Any]:
    """Two triangles for each element: (e, 4, ...) becomes (2 e, 3, ...)."""
    return corners[:, np.array([[0, 1, 2], [0, 2, 3]])].reshape(-1, 3, *corners.shape[2:])


def split_both_ways(corners: NDArray[Any]) -> NDArray[Any]:
    """Triangles by both diagonals of each element, (e, 4, ...) becomes (4 e, 3, ...): whichever corner comes first.

    Together they cover each element twice.
    """
    both = np.array([[0, 1, 2], [0, 2, 3], [0, 1, 3], [1, 2, 3]])
    return corners[:, both].reshape(-1, 3, *corners.shape[2:])


@dataclass(frozen=True)
class Points:
    """The points of one zone and the element corners each of them takes the mean of.

    Attributes
    ----------
    labels : ndarray of str, shape (p,)
        Name of each point within the zone.
    xyz : ndarray, shape (p, 3)
        Place [mm].
    thickness : ndarray, shape (p,)
        Thickness [mm].
    one_sided : ndarray of bool, shape (p,)
        At an edge of the patch: corner values there come from one side only.
    size : ndarray, shape (p,)
        Mean element size at the point [mm].
    bars : ndarray, shape (p, 3, 3)
        Unit vectors of x bars, y bars, normal.
    element, corner, point : ndarray of int, shape (c,)
        Element (within the zone), corner and point of each corner used.
    """

    labels: NDArray[np.str_]
    xyz: Floats
    thickness: Floats
    one_sided: NDArray[np.bool_]
    size: Floats
    bars: Floats
    element: Ints
    corner: Ints
    point: Ints

    def of_corners(self, count: int) -> Ints:
        """Point of each corner of the zone's elements, shape (count, 4), -1 for the fourth corner of a triangle."""
        at = np.full((count, 4), -1)
        at[self.element, self.corner] = self.point
        return at

    def mean(self, corners: Floats) -> Floats:
        """Mean over the corners of each point: (c, e, 4, k) becomes (c, p, k).

        A corner with nan is left out of its case; a point without another corner is nan there.
        """
        order = np.argsort(self.point, kind="stable")
        starts = np.concatenate([[0], np.cumsum(np.bincount(self.point, minlength=len(self.labels)))[:-1]])
        element, corner = self.element[order], self.corner[order]
        out = np.empty((len(corners), len(self.labels), corners.shape[-1]))
        for i, one in enumerate(corners):
            picked = one[element, corner]
            whole = np.isfinite(picked).all(axis=-1)
            picked[~whole] = 0.0
            count = np.add.reduceat(whole.astype(float), starts)
            out[i] = np.add.reduceat(picked, starts, axis=0) / np.where(count > 0, count, np.nan)[:, None]
        return out


def make_points(mesh: Mesh, elements: Ints, h: Floats, orientation: Orientation, kind: str) -> Points:
    """Points of a zone of the kind 'nodes', 'corners' or 'centres'."""
    corners = mesh.corners[elements]
    element, corner = np.nonzero(corners >= 0)
    node = corners[element, corner]
    smooth = smooth_edges(mesh, elements, h, orientation)
    border = _on_border(mesh, elements, smooth)
    if kind == "centres":
        point = element
        labels = np.array([f"e{i}" for i in mesh.element_ids[elements]])
        xyz = mesh.centres[elements]
        one_sided = np.zeros(len(elements), dtype=bool)
    elif kind == "corners":
        point = np.arange(len(element))
        ids = zip(mesh.element_ids[elements[element]], mesh.node_ids[node], strict=True)
        labels = np.array([f"e{e}.{n}" for e, n in ids])
        xyz = mesh.xyz[node]
        one_sided = border[node]
    else:
        part = _patches(corners, element, corner, smooth)
        # by node, then by the least number of an element of the patch: the same whatever the order of the rows
        rank = np.argsort(np.argsort(mesh.element_ids[elements]))
        least = np.full(int(part.max(initial=0)) + 1, len(elements))
        np.minimum.at(least, part, rank[element])
        key = node * len(elements) + least[part]
        _, first, point = np.unique(key, return_index=True, return_inverse=True)
        at = node[first]
        labels = _node_labels(mesh.node_ids[at])
        xyz = mesh.xyz[at]
        one_sided = border[at]
    count = np.bincount(point)
    some = np.zeros(len(count), dtype=np.int64)
    some[point] = element
    own = orientation.bars[some]
    total = np.zeros((len(count), 3, 3))
    np.add.at(total, point, orientation.bars[element])
    # not the middle of a direction round a centre, nor elements on each other
    even = (np.linalg.norm(total[:, [0, 2]], axis=2) > EVEN * count[:, None]).all(1)
    own[even] = frame(total[even, 0], total[even, 2])
    size = np.bincount(point, mesh.sizes[elements[element]]) / count
    return Points(
        labels=labels,
        xyz=xyz,
        thickness=h[some],
        one_sided=one_sided,
        size=size,
        bars=own,
        element=element,
        corner=corner,
        point=np.asarray(point),
    )


def directions_at(mesh: Mesh, elements: Ints, bars: Floats, place: Floats) -> Floats:
    """Directions of the x bars, the y bars and the normal at a place.

    Parameters
    ----------
    mesh : Mesh
        Geometry.
    elements : ndarray of int, shape (e,)
        Elements of the zone.
    bars : ndarray, shape (e, 3, 3)
        Their directions.
    place : ndarray, shape (3,)
        Where [mm].

    Returns
    -------
    ndarray, shape (3, 3)
        Of the elements that meet in a node there, else of the nearest ones; their mean where no fold lies between.
    """
    nodes = mesh.corners[elements]
    there = ((np.linalg.norm(mesh.xyz[nodes] - place, axis=2) < AT_NODE) & (nodes >= 0)).any(1)
    if not there.any():
        away = np.linalg.norm(mesh.centres[elements] - place, axis=1)
        there = away < away.min() + AT_NODE
    at = np.flatnonzero(there)
    first = bars[at[np.argsort(mesh.element_ids[elements[at]])[0]]]
    whole = bars[at][bars[at, 2] @ first[2] > KINK].sum(0)
    even = np.linalg.norm(whole[0]) > EVEN * np.linalg.norm(whole[2])
    return np.asarray(frame(whole[0], whole[2]) if even else first)


def _node_labels(ids: NDArray[np.generic]) -> NDArray[np.str_]:
    """Node numbers; a node with several patches gets .1, .2 ... behind it."""
    names: list[str] = []
    seen: dict[int, int] = {}
    repeated = {v for v, k in zip(*np.unique(ids, return_counts=True), strict=True) if k > 1}
    for v in ids.tolist():
        seen[v] = seen.get(v, 0) + 1
        names.append(f"{v}.{seen[v]}" if v in repeated else f"{v}")
    return np.array(names)


@dataclass(frozen=True)
class SmoothEdges:
    """Edges across which a surface goes on smoothly.

    Attributes
    ----------
    a, b : ndarray of int, shape (k,)
        Elements of the zone on both sides.
    nodes : ndarray of int, shape (k, 2)
        Both nodes of the edge, the smaller first.
    """

    a: Ints
    b: Ints
    nodes: Ints

    def __len__(self) -> int:
        return len(self.a)


def smooth_edges(mesh: Mesh, elements: Ints, h: Floats, orientation: Orientation) -> SmoothEdges:
    """Edges of the mesh at which two elements of the zone of one thickness meet without a corner, and no other."""
    inside = np.full(len(mesh.corners), -1)
    inside[elements] = np.arange(len(elements))
    edge, a, b = _between_two(mesh)
    both = (inside[a] >= 0) & (inside[b] >= 0)
    edge, a, b = edge[both], inside[a[both]], inside[b[both]]
    normal = orientation.bars[:, 2]
    flat = np.abs(np.sum(normal[a] * normal[b], axis=1)) >= KINK
    keep = flat & np.isclose(h[a], h[b], rtol=1e-6)
    return SmoothEdges(a[keep], b[keep], mesh.edges.nodes[edge[keep]])


def _between_two(mesh: Mesh) -> tuple[Ints, Ints, Ints]:
    """Edges of the mesh with two elements at them, and these."""
    order = np.argsort(mesh.edges.edge, kind="stable")
    edge, owner = mesh.edges.edge[order], mesh.edges.owner[order]
    two = np.flatnonzero((edge[1:] == edge[:-1]) & (mesh.edges.sides[edge[:-1]] == 2))
    return edge[two], owner[two], owner[two + 1]


def common_border(mesh: Mesh, first: Ints, second: Ints) -> float:
    """Length of the edges across which the surface of some elements goes on smoothly into that of others [mm]."""
    part = np.zeros(len(mesh.corners), dtype=np.int64)
    part[first], part[second] = 1, 2
    edge, a, b = _between_two(mesh)
    normals = diagonal_normals(mesh.xyz, mesh.corners)
    normals /= np.linalg.norm(normals, axis=1)[:, None]
    flat = np.abs(np.sum(normals[a] * normals[b], axis=1)) >= KINK
    ends = mesh.xyz[mesh.edges.nodes[edge[flat & (part[a] * part[b] == 2)]]]
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def _on_border(mesh: Mesh, elements: Ints, smooth: SmoothEdges) -> NDArray[np.bool_]:
    """Nodes of the mesh on an edge of a patch."""
    own = edges(mesh.corners[elements])
    inner = np.zeros(len(own.nodes), dtype=bool)
    inner[own.find(smooth.nodes)] = True
    border = np.zeros(len(mesh.xyz), dtype=bool)
    border[own.nodes[~inner]] = True
    return border


def _patches(corners: Ints, element: Ints, corner: Ints, smooth: SmoothEdges) -> Ints:
    """Number of the patch each corner belongs to: corners of a node joined across its smooth edges."""
    number = np.full(corners.shape, -1)
    number[element, corner] = np.arange(len(element))
    rows, columns = (
        np.concatenate([number[of, (corners[of] == smooth.nodes[:, [i]]).argmax(1)] for i in range(2)])
        for of in (smooth.a, smooth.b)
    )
    return connected(len(element), rows, columns)
