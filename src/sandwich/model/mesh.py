"""The mesh: nodes, elements of three or four corners, their own axes, thickness and group."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
KINK: Final = math.cos(math.radians(15.0))  # between normals: a sharper edge is a corner


@dataclass(frozen=True)
class Mesh:
    """Geometry without results.

    Attributes
    ----------
    node_ids : ndarray, shape (n,)
        Identifiers of the nodes.
    xyz : ndarray, shape (n, 3)
        Coordinates [mm].
    element_ids : ndarray, shape (e,)
        Identifiers of the elements.
    corners : ndarray of int, shape (e, 4)
        Node index of each corner, -1 for the fourth corner of a triangle.
    thickness : ndarray, shape (e,)
        Thickness [mm], nan where the table gives none.
    group : ndarray of str, shape (e,)
        Group of each element, '' where the table gives none.
    axes : ndarray, shape (e, 3, 3)
        Unit vectors of local x, y, z in global axes.
    """

    node_ids: NDArray[np.generic]
    xyz: Floats
    element_ids: NDArray[np.generic]
    corners: Ints
    thickness: Floats
    group: NDArray[np.str_]
    axes: Floats

    @cached_property
    def edges(self) -> Edges:
        """All its edges."""
        return edges(self.corners)

    @property
    def centres(self) -> Floats:
        """Mean of the corners [mm], shape (e, 3)."""
        real = self.corners >= 0
        return np.asarray(np.einsum("ecd,ec->ed", self.xyz[self.corners], real) / real.sum(1)[:, None])

    @property
    def sizes(self) -> Floats:
        """Square root of the area of each element [mm], shape (e,)."""
        return np.asarray(np.sqrt(element_areas(self.xyz, self.corners)))


def diagonal_normals(xyz: Floats, corners: Ints) -> Floats:
    """Cross product of the diagonals: normal by the right hand round the corners, twice as long as the area."""
    p = xyz[corners]
    last = np.where((corners[:, 3] >= 0)[:, None], p[:, 3], p[:, 0])
    return np.asarray(np.cross(p[:, 2] - p[:, 0], last - p[:, 1]))


def crossed(xyz: Floats, corners: Ints) -> NDArray[np.bool_]:
    """Elements whose sides cross: corners that do not run round them, shape (e,)."""
    normal, quad = diagonal_normals(xyz, corners), corners[:, 3] >= 0
    p = xyz[corners]
    back, ahead = p - np.roll(p, 1, axis=1), np.roll(p, -1, axis=1) - p
    inward = np.einsum("eci,ei->ec", np.cross(back, ahead), normal) < 0.0
    return np.asarray(quad & (inward.sum(1) >= 2))


def element_areas(xyz: Floats, corners: Ints) -> Floats:
    """Area of each element [mm2], shape (e,)."""
    return np.asarray(np.linalg.norm(diagonal_normals(xyz, corners), axis=1) / 2)


def corner_axes(xyz: Floats, corners: Ints) -> Floats:
    """Axes from the corner order: x along the first edge, z by the right hand round the corners, shape (e, 3, 3)."""
    return frame(xyz[corners[:, 1]] - xyz[corners[:, 0]], diagonal_normals(xyz, corners))


def frame(x: Floats, z: Floats) -> Floats:
    """Orthonormal axes x, y, z with the given z and x projected onto its plane, shape (..., 3, 3)."""
    z = z / np.linalg.norm(z, axis=-1, keepdims=True)
    x = x - np.sum(x * z, axis=-1, keepdims=True) * z
    x = x / np.linalg.norm(x, axis=-1, keepdims=True)
    return np.stack([x, np.cross(z, x), z], axis=-2)


@dataclass(frozen=True)
class Edges:
    """Edges of a mesh and the sides of elements that lie at them.

    Attributes
    ----------
    nodes : ndarray of int, shape (k, 2)
        Both nodes of each edge, the smaller first, in rising order.
    edge, owner : ndarray of int, shape (s,)
        Edge and element of each side.
    forward : ndarray of bool, shape (s,)
        Whether the corners of the element run from the smaller node to the larger.
    """

    nodes: Ints
    edge: Ints
    owner: Ints
    forward: NDArray[np.bool_]

    @property
    def sides(self) -> Ints:
        """Number of elements at each edge, shape (k,)."""
        return np.bincount(self.edge, minlength=len(self.nodes))

    def find(self, nodes: Ints) -> Ints:
        """Which edge has these two nodes, the smaller first; -1 where none has."""
        count = int(max(self.nodes.max(initial=0), nodes.max(initial=0))) + 1
        keys, wanted = (of[:, 0] * count + of[:, 1] for of in (self.nodes, nodes))
        at = np.minimum(np.searchsorted(keys, wanted), max(len(keys) - 1, 0))
        return np.where(keys[at] == wanted, at, -1) if len(keys) else np.full(len(nodes), -1)


def edges(corners: Ints) -> Edges:
    """Edges of elements of three or four corners, shape (e, 4)."""
    sides, owner, forward = [], [], []
    for c in range(4):
        a, b = corners[:, c], corners[:, (c + 1) % 4]
        b = np.where(b < 0, corners[:, 0], b)
        real = a >= 0
        sides.append(np.sort(np.stack([a, b], 1)[real], axis=1))
        owner.append(np.flatnonzero(real))
        forward.append((a < b)[real])
    both = np.concatenate(sides)
    count = int(both.max(initial=0)) + 1
    key, edge = np.unique(both[:, 0] * count + both[:, 1], return_inverse=True)  # in the order of the pairs
    nodes = np.stack([key // count, key % count], axis=1)
    return Edges(nodes, edge, np.concatenate(owner), np.concatenate(forward))
