"""Points: where results are designed. Node means inside smooth patches, raw corners, or element centres."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sandwich.model.mesh import KINK, Mesh, edges
from sandwich.model.zones import Orientation

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def split(corners: NDArray[Any]) -> NDArray[Any]:
    """Two triangles for each element: (e, 4, ...) becomes (2 e, 3, ...)."""
    return corners[:, np.array([[0, 1, 2], [0, 2, 3]])].reshape(-1, 3, *corners.shape[2:])


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
        """Mean over the corners of each point: (..., e, 4, 8) becomes (..., p, 8).

        A corner with nan is left out of its case; a point without another corner is nan there.
        """
        order = np.argsort(self.point, kind="stable")
        starts = np.concatenate([[0], np.cumsum(np.bincount(self.point, minlength=len(self.labels)))[:-1]])
        picked = corners[..., self.element[order], self.corner[order], :]
        whole = np.asarray(np.isfinite(picked).all(axis=-1))
        total = np.add.reduceat(np.where(whole[..., None], picked, 0.0), starts, axis=-2)
        count = np.add.reduceat(whole.astype(float), starts, axis=-1)
        return np.asarray(total / np.where(count > 0, count, np.nan)[..., None])


def make_points(mesh: Mesh, elements: Ints, h: Floats, orientation: Orientation, kind: str) -> Points:
    """Points of a zone of the kind 'nodes', 'corners' or 'centres'."""
    corners = mesh.corners[elements]
    element, corner = np.nonzero(corners >= 0)
    node = corners[element, corner]
    smooth_edge = smooth_edges(mesh, elements, h, orientation)
    border = _on_border(mesh, elements, smooth_edge)
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
        one_sided = np.array([n in border for n in node.tolist()])
    else:
        part = _patches(corners, element, corner, smooth_edge)
        key = node * (int(part.max(initial=0)) + 1) + part  # ordered by node, then by patch
        _, first, point = np.unique(key, return_index=True, return_inverse=True)
        at = node[first]
        labels = _node_labels(mesh.node_ids[at])
        xyz = mesh.xyz[at]
        one_sided = np.array([n in border for n in at.tolist()])
    count = np.bincount(point)
    some = np.zeros(len(count), dtype=np.int64)
    some[point] = element
    size = np.bincount(point, mesh.sizes[elements[element]]) / count
    return Points(
        labels=labels,
        xyz=xyz,
        thickness=h[some],
        one_sided=one_sided,
        size=size,
        bars=orientation.bars[some],
        element=element,
        corner=corner,
        point=np.asarray(point),
    )


def _node_labels(ids: NDArray[np.generic]) -> NDArray[np.str_]:
    """Node numbers; a node with several patches gets .1, .2 ... behind it."""
    names: list[str] = []
    seen: dict[int, int] = {}
    repeated = {v for v, k in zip(*np.unique(ids, return_counts=True), strict=True) if k > 1}
    for v in ids.tolist():
        seen[v] = seen.get(v, 0) + 1
        names.append(f"{v}.{seen[v]}" if v in repeated else f"{v}")
    return np.array(names)


def smooth_edges(
    mesh: Mesh, elements: Ints, h: Floats, orientation: Orientation
) -> list[tuple[int, int, tuple[int, int]]]:
    """Pairs of elements of the zone (within it) that share a smooth edge, with its nodes."""
    pairs, edge, owner = edges(mesh.corners)
    inside = np.full(len(mesh.corners), -1)
    inside[elements] = np.arange(len(elements))
    sides = np.bincount(edge, minlength=len(pairs))
    order = np.argsort(edge, kind="stable")
    edge, owner = edge[order], owner[order]
    two = np.flatnonzero((edge[1:] == edge[:-1]) & (sides[edge[:-1]] == 2))
    a, b = inside[owner[two]], inside[owner[two + 1]]
    both = (a >= 0) & (b >= 0)
    two, a, b = two[both], a[both], b[both]
    normal = orientation.bars[:, 2]
    flat = np.abs(np.sum(normal[a] * normal[b], axis=1)) >= KINK
    same = np.isclose(h[a], h[b], rtol=1e-6)
    keep = flat & same
    nodes = [(int(i), int(j)) for i, j in pairs[edge[two[keep]]]]
    return list(zip(a[keep].tolist(), b[keep].tolist(), nodes, strict=True))


def _on_border(mesh: Mesh, elements: Ints, smooth: list[tuple[int, int, tuple[int, int]]]) -> set[int]:
    """Nodes on an edge of a patch."""
    inner = {nodes for _, _, nodes in smooth}
    pairs, _, _ = edges(mesh.corners[elements])
    return {n for pair in pairs.tolist() if tuple(pair) not in inner for n in pair}


def _patches(
    corners: Ints, element: Ints, corner: Ints, smooth: list[tuple[int, int, tuple[int, int]]]
) -> NDArray[np.int32]:
    """Number of the patch each corner belongs to: corners of a node joined across its smooth edges."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    number = np.full(corners.shape, -1)
    number[element, corner] = np.arange(len(element))
    both = np.array([(a, b) for a, b, _ in smooth], dtype=np.int64).reshape(-1, 2)
    nodes = np.array([n for _, _, n in smooth], dtype=np.int64).reshape(-1, 2)
    rows, columns = (
        np.concatenate([number[of, (corners[of] == nodes[:, [i]]).argmax(1)] for i in range(2)]) for of in both.T
    )
    graph = coo_matrix((np.ones(len(rows)), (rows, columns)), shape=(len(element), len(element)))
    return np.asarray(connected_components(graph, directed=False)[1])
