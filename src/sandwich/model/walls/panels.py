"""Panels of walls: upright sheets of elements, straight or curved in plan, found from the mesh."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.connected import connected
from sandwich.model.mesh import KINK, Mesh, diagonal_normals

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LEAN: Final = 0.26  # sine of 15 degrees: a normal that rises more is no wall's
FINE: Final = 6  # digits of a mm
INSIDE: Final = 20.0  # mm that a box in the elevation may pass its ends by
SAME: Final = 1.0  # mm between places in plan that count as one
BENT: Final = 2e-3  # of its length: how far a straight panel may leave its line
WHOLE: Final = 0.99  # of the most wall over a place of a ring: no opening there
NEAR: Final = 8  # neighbours in plan among which the line of a curved panel is looked for


@dataclass(frozen=True)
class Panel:
    """One upright sheet: its line in plan and the elevation of its elements.

    Attributes
    ----------
    name : str
        Letter within its wall, in the order of the plan.
    elements : ndarray of int, shape (e,)
        Elements of the mesh.
    line : ndarray, shape (q, 2)
        Line in plan [mm]; two places of a straight panel. A closed panel ends where it starts.
    s, z : ndarray, shape (e, 4)
        Corners of the elements along the line and upwards [mm]; a triangle repeats its third.
    thickness : ndarray, shape (e,)
        Of the elements [mm].
    """

    name: str
    elements: Ints
    line: Floats
    s: Floats
    z: Floats
    thickness: Floats

    @cached_property
    def stations(self) -> Floats:
        """Places of the line along it [mm], shape (q,)."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.line, axis=0), axis=1))])

    @property
    def length(self) -> float:
        """Length of the line [mm]."""
        return float(self.stations[-1])

    @property
    def straight(self) -> bool:
        """Whether the line is straight."""
        return len(self.line) == 2

    @property
    def closed(self) -> bool:
        """Whether it ends where it starts."""
        return not self.straight and bool(np.linalg.norm(self.line[0] - self.line[-1]) < SAME)

    def along(self, xyz: Floats) -> Floats:
        """Places (..., 3) along the line [mm], of its nearest piece."""
        at = xyz[..., :2]
        start, length = self.line[:-1], np.diff(self.stations)
        on = np.einsum("...qi,qi->...q", at[..., None, :] - start, self._ways)
        low = np.where(np.arange(len(length)) == 0, -np.inf, 0.0)  # the ends run on
        high = np.where(np.arange(len(length)) == len(length) - 1, np.inf, length)
        on = np.clip(on, low, high)
        off = np.linalg.norm(start + on[..., None] * self._ways - at[..., None, :], axis=-1)
        best = off.argmin(-1)
        return np.asarray(np.take_along_axis(on, best[..., None], -1)[..., 0] + self.stations[best])

    @cached_property
    def _ways(self) -> Floats:
        """Unit tangents of the pieces of the line, shape (q - 1, 2)."""
        ways = np.diff(self.line, axis=0)
        return np.asarray(ways / np.linalg.norm(ways, axis=1, keepdims=True))

    def place(self, s: ArrayLike) -> tuple[Floats, Floats]:
        """Places in plan at stations (...), and the unit tangents there, at a vertex between both; each (..., 2)."""
        at = np.asarray(s, dtype=float)
        count = len(self.line) - 1
        i = np.minimum(np.maximum(np.searchsorted(self.stations, at) - 1, 0), count - 1)
        place, way = self.line[i] + (at - self.stations[i])[..., None] * self._ways[i], self._ways[i]
        if self.straight:
            return place, way
        step = (at > self.stations[i + 1] - SAME).astype(int) - (at < self.stations[i] + SAME)
        beside = (i + step) % count if self.closed else np.clip(i + step, 0, count - 1)
        both = way + self._ways[beside]
        return place, both / np.linalg.norm(both, axis=-1, keepdims=True)

    def pieces(self, a: float, b: float) -> tuple[Floats, Floats]:
        """Lengths [mm] (k,) and unit tangents (k, 2) of the pieces of the line between two stations of it."""
        ends = np.clip(self.stations, a, b)
        ends[0], ends[-1] = a, b  # the ends run on
        length = np.diff(ends)
        return length[length > 0.0], self._ways[length > 0.0]

    @property
    def extent(self) -> str:
        """From where to where it goes, along it and upwards."""
        return f"0 to {self.length / 1e3:g} m, {self.z.min() / 1e3:g} to {self.z.max() / 1e3:g} m high"

    def holds(self, a: float, b: float, low: float, high: float) -> bool:
        """Whether a box lies in its elevation [mm]."""
        return bool(max(-a, b - self.length, self.z.min() - low, high - self.z.max()) <= INSIDE)

    def thickness_in(self, a: float, b: float, low: float, high: float) -> Floats:
        """Least and largest thickness of the elements whose middles lie in a part of the elevation [mm], (2,)."""
        s, z = self.s.mean(1), self.z.mean(1)
        inside = (s > a) & (s < b) & (z > low) & (z < high)
        of = self.thickness[inside] if inside.any() else self.thickness
        return np.array([of.min(), of.max()])

    def thickness_at(self, a: float, b: float, z: float) -> float:
        """Least thickness of the elements that stand at a height, between two places along the panel [mm]."""
        here = (self.s.max(1) > a) & (self.s.min(1) < b) & (self.z.max(1) > z) & (self.z.min(1) < z)
        return float((self.thickness[here] if here.any() else self.thickness).min())


def lean(mesh: Mesh, elements: Ints) -> Floats:
    """Part of the normals that points up, shape (e,): 0 of an upright wall, 1 of a floor."""
    normal = diagonal_normals(mesh.xyz, mesh.corners[elements])
    return np.asarray(np.abs(normal[:, 2]) / np.linalg.norm(normal, axis=1))


def sheets(mesh: Mesh, elements: Ints) -> Ints:
    """Number of the sheet of each element: across an edge it goes on where two elements face each other without a kink.

    At a joint of three or more the two that run through stay one sheet.
    """
    own = mesh.edges
    mine = np.full(len(mesh.element_ids), -1)
    mine[elements] = np.arange(len(elements))
    side = np.flatnonzero(mine[own.owner] >= 0)
    edge, owner = own.edge[side], mine[own.owner[side]]
    order = np.argsort(edge, kind="stable")
    edge, owner = edge[order], owner[order]
    normal = diagonal_normals(mesh.xyz, mesh.corners[elements])
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    centre = mesh.centres[elements]
    pairs = []
    apart = 1
    while True:  # all pairs at one edge, by how far they stand apart in the order
        a, b = np.arange(len(edge) - apart), np.arange(apart, len(edge))
        same = edge[a] == edge[b]
        if not same.any():
            break
        pairs.append(np.stack([a[same], b[same]], axis=1))
        apart += 1
    if not pairs:
        return np.arange(len(elements))
    at = np.concatenate(pairs)
    i, j = owner[at[:, 0]], owner[at[:, 1]]
    nodes = own.nodes[edge[at[:, 0]]]
    middle = mesh.xyz[nodes].mean(1)
    smooth = np.abs(np.sum(normal[i] * normal[j], axis=1)) >= KINK
    smooth &= np.sum((centre[i] - middle) * (centre[j] - middle), axis=1) < 0.0
    return connected(len(elements), i[smooth], j[smooth])


def panels_of(mesh: Mesh, elements: Ints, thickness: Floats) -> list[Panel]:
    """Panels of a wall, by letters in the order of their middles in plan.

    Parameters
    ----------
    mesh : Mesh
        The mesh.
    elements : ndarray of int, shape (e,)
        Elements of the wall, none leaning by more than 15 degrees.
    thickness : ndarray, shape (e,)
        Their thickness [mm].

    Returns
    -------
    list of Panel
        One a sheet.

    Raises
    ------
    ValueError
        If a sheet has no line in plan, as where it branches.
    """
    of = sheets(mesh, elements)
    found = []
    for sheet in np.unique(of):
        mine = np.flatnonzero(of == sheet)
        line = _line(mesh, elements[mine])
        found.append((line.mean(0), mine, line))
    found.sort(key=lambda f: (round(float(f[0][1]), -1), round(float(f[0][0]), -1)))
    return [_panel(_letters(k), mesh, elements[mine], thickness[mine], line) for k, (_, mine, line) in enumerate(found)]


def _letters(k: int) -> str:
    return (_letters(k // 26 - 1) if k >= 26 else "") + chr(65 + k % 26)


def _corners(mesh: Mesh, elements: Ints) -> Ints:
    corners = mesh.corners[elements]
    return np.where(corners >= 0, corners, corners[:, 2:3])


def _line(mesh: Mesh, elements: Ints) -> Floats:
    """Line in plan of one sheet, from left to right or from the front to the back where it is straight."""
    nodes = np.unique(_corners(mesh, elements))
    plan = mesh.xyz[nodes, :2]
    middle = plan.mean(0)
    way = np.linalg.svd(plan - middle, full_matrices=False)[2][0]
    main = int(np.abs(way).argmax())
    way = way * np.sign(way[main])
    along, off = (plan - middle) @ way, (plan - middle) @ np.array([-way[1], way[0]])
    if np.abs(off).max() <= max(BENT * np.ptp(along), SAME):
        return np.asarray(middle + np.outer([along.min(), along.max()], way))
    apart = np.unique(np.round(plan / SAME).astype(np.int64), axis=0) * SAME
    return _curve(mesh, elements, apart.astype(float))


def _curve(mesh: Mesh, elements: Ints, plan: Floats) -> Floats:
    """Places of a curved sheet in the order in which they follow each other; a ring starts far from its openings."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import minimum_spanning_tree
    from scipy.spatial import cKDTree

    found = cKDTree(plan).query(plan, k=min(NEAR, len(plan)))
    away, near = (np.asarray(v) for v in found)
    rows = np.repeat(np.arange(len(plan)), near.shape[1] - 1)
    graph = coo_matrix((away[:, 1:].ravel(), (rows, near[:, 1:].ravel())), shape=(len(plan),) * 2)
    tree = minimum_spanning_tree(graph.tocsr()).tocoo()
    beside: list[list[int]] = [[] for _ in plan]
    for a, b in zip(tree.row, tree.col, strict=True):
        beside[a].append(int(b))
        beside[b].append(int(a))
    ends = [i for i, of in enumerate(beside) if len(of) == 1]
    if len(ends) != 2 or any(len(of) > 2 for of in beside):
        raise ValueError("has no single line in plan; give its sheets as walls of their own")
    order, last = [min(ends)], -1
    while len(order) < len(plan):
        step = next(i for i in beside[order[-1]] if i != last)
        last = order[-1]
        order.append(step)
    line = plan[order]
    gap = np.linalg.norm(line[0] - line[-1])
    corner = np.round(mesh.xyz[_corners(mesh, elements), :2] / SAME) * SAME
    close = [(np.abs(corner - end).max(-1) <= SAME).any(1) for end in (line[0], line[-1])]
    if not (close[0] & close[1]).any() or gap > 3.0 * np.median(np.linalg.norm(np.diff(line, axis=0), axis=1)):
        return line
    # a ring, counter-clockwise
    if np.sum(line[:, 0] * np.roll(line[:, 1], -1) - np.roll(line[:, 0], -1) * line[:, 1]) < 0.0:
        line = line[::-1]
    at = np.asarray(cKDTree(line).query(corner.reshape(-1, 2))[1])
    tall = np.repeat(np.ptp(mesh.xyz[_corners(mesh, elements), 2], axis=1), 4)
    start = _seam(np.asarray(np.bincount(at, weights=tall, minlength=len(line)), dtype=float))
    turned = np.roll(line, -start, axis=0)
    return np.concatenate([turned, turned[:1]])


def _seam(tall: Floats) -> int:
    """Place of a ring at which it is cut: the middle of the longest run where most wall stands."""
    whole = tall > WHOLE * tall.max()
    if whole.all():
        return 0
    first = int((~whole).argmax())  # no run goes over the ends of what is looked at from here
    turned = np.roll(whole, -first).astype(int)
    starts, ends = (np.flatnonzero(np.diff(turned, append=0, prepend=0) == k) for k in (1, -1))
    longest = int((ends - starts).argmax())
    return int(first + (starts[longest] + ends[longest]) // 2) % len(tall)


def _panel(name: str, mesh: Mesh, elements: Ints, thickness: Floats, line: Floats) -> Panel:
    xyz = mesh.xyz[_corners(mesh, elements)]
    bare = Panel(name, elements, line, np.empty((0, 4)), np.empty((0, 4)), thickness)
    s = bare.along(xyz)
    if bare.closed:  # an element at the seam has corners at both ends of the line
        half = bare.length / 2.0
        middle = bare.along(xyz.mean(1))[:, None]
        s = np.where(s - middle > half, s - bare.length, np.where(middle - s > half, s + bare.length, s))
    return Panel(name, elements, line, np.round(s, FINE), np.round(xyz[..., 2], FINE), thickness)
