"""Moments at the edges of a patch, where corner results come from one side only, by equilibrium of the last element.

In common shell elements a moment hardly changes along its own direction within an element, so that a corner value is
nearer to that of the middle. Towards an edge it goes on by dm/ds = shear.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh
from sandwich.model.points import SmoothEdges
from sandwich.model.zones import Orientation

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True)
class PatchEdges:
    """Sides of elements at the edge of their smooth patch.

    Attributes
    ----------
    element : ndarray of int, shape (s,)
        Element within the zone.
    corner, opposite : ndarray of int, shape (s, 2)
        Corners at both ends of the side, and those across from them.
    normal : ndarray, shape (s, 2)
        Outward normal in the bar directions.
    along, length : ndarray, shapes (s, 2), (s,)
        Unit vector from the first corner to the second in the bar directions, and their distance [mm].
    reach : ndarray, shape (s,)
        Distance from the middle of the element to the side [mm].
    node : ndarray of int, shape (s, 2)
        Nodes of the side.
    free : ndarray of bool, shape (s,)
        Whether no other element of the mesh is there.
    """

    element: Ints
    corner: Ints
    opposite: Ints
    normal: Floats
    along: Floats
    length: Floats
    reach: Floats
    node: Ints
    free: Bools

    def picked(self, which: Bools) -> PatchEdges:
        """Some of the sides."""
        return PatchEdges(*(getattr(self, name)[which] for name in self.__dataclass_fields__))


def patch_edges(mesh: Mesh, elements: Ints, orientation: Orientation, smooth: SmoothEdges) -> PatchEdges:
    """Sides of the elements of a zone that no smooth neighbour continues."""
    corners = mesh.corners[elements]
    e, c = np.nonzero(corners >= 0)
    count = (corners >= 0).sum(1)[e]
    d = (c + 1) % count
    node = np.stack([corners[e, c], corners[e, d]], axis=1)
    edge = mesh.edges.find(np.sort(node, axis=1))
    outer = np.ones(len(mesh.edges.nodes), dtype=bool)
    outer[mesh.edges.find(smooth.nodes)] = False
    keep = outer[edge]
    e, c, d, count, node, edge = (v[keep] for v in (e, c, d, count, node, edge))
    along = mesh.xyz[node[:, 1]] - mesh.xyz[node[:, 0]]
    out = np.cross(along, orientation.bars[e, 2])
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-300)
    away = np.sum(out * (mesh.xyz[node].mean(1) - mesh.centres[elements[e]]), axis=1)
    out *= np.sign(away)[:, None]
    normal = np.einsum("sd,sad->sa", out, orientation.bars[e, :2])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    length = np.linalg.norm(along, axis=1)
    line = np.einsum("sd,sad->sa", along, orientation.bars[e, :2]) / np.maximum(length, 1e-300)[:, None]
    return PatchEdges(
        element=e,
        corner=np.stack([c, d], axis=1),
        opposite=np.stack([(c - 1) % count, (d + 1) % count], axis=1),
        normal=normal,
        along=line,
        length=length,
        reach=np.abs(away),
        node=node,
        free=mesh.edges.sides[edge] == 1,
    )


def towards_edges(turned: Floats, sides: PatchEdges) -> Floats:
    """What moments gain from the middle of the last element to its side, as far as corner values do not show it.

    Parameters
    ----------
    turned : ndarray, shape (c, e, 4, 8)
        Corner results of each case in the bar directions [N, mm].
    sides : PatchEdges
        Sides that are looked at.

    Returns
    -------
    ndarray, shape (c, s, 2, 3)
        To add to mx, my, mxy at both corners of each side [N]; zero where it would make the moment across smaller.

    References
    ----------
    Equilibrium of a plate element along the outward normal s and the edge t: dm_s/ds = -v_s - dm_st/dt.
    """
    nx, ny = sides.normal.T
    at = turned[:, sides.element[:, None], sides.corner]
    far = turned[:, sides.element[:, None], sides.opposite]
    shear = _mean_shear(turned, sides)

    def across(values: Floats) -> Floats:
        x, y, xy = (values[..., 3 + i] for i in range(3))
        return np.asarray(x * nx[:, None] ** 2 + y * ny[:, None] ** 2 + 2.0 * xy * (nx * ny)[:, None])

    tx, ty = sides.along.T
    twist = (
        at[..., 3] * (nx * tx)[:, None] + at[..., 4] * (ny * ty)[:, None] + at[..., 5] * (nx * ty + ny * tx)[:, None]
    )
    slope = -(shear[..., 0] * nx + shear[..., 1] * ny) - (twist[..., 1] - twist[..., 0]) / sides.length
    whole = (slope * sides.reach)[..., None]
    moment = across(at)
    shown = (moment - across(far)) / 2.0  # from the middle of the element to the side
    sign = np.sign(whole)
    gain = sign * np.clip(np.abs(whole) - sign * shown, 0.0, np.abs(whole))
    gain = np.where(np.abs(moment + gain) > np.abs(moment), gain, 0.0)
    return np.asarray(np.nan_to_num(gain)[..., None] * np.stack([nx**2, ny**2, nx * ny], -1)[:, None])


def _mean_shear(turned: Floats, sides: PatchEdges) -> Floats:
    """Mean shear of the element of each side, which is better than any corner value, (c, s, 2)."""
    v = turned[:, sides.element, :, 6:]
    there = np.isfinite(v)
    return np.asarray(np.where(there, v, 0.0).sum(2) / np.maximum(there.sum(2), 1))


def magnitudes_towards_edges(turned: Floats, sides: PatchEdges) -> Floats:
    """The same for results without signs: |v| over the distance, added to the magnitudes."""
    nx, ny = np.abs(sides.normal.T)
    shear = _mean_shear(turned, sides)
    gain = (shear[..., 0] * nx + shear[..., 1] * ny) * sides.reach
    each = np.nan_to_num(gain)[..., None, None] * np.stack([nx**2, ny**2, nx * ny], -1)[:, None]
    return np.asarray(np.repeat(each, 2, axis=2))


def edge_gain(turned: Floats, sides: PatchEdges, signed: Bools) -> Floats:
    """What moments of all cases gain at some sides, shape (c, s, 2, 3) [N]."""
    out = np.zeros((len(turned), len(sides.element), 2, 3))
    out[signed] = towards_edges(turned[signed], sides)
    out[~signed] = magnitudes_towards_edges(turned[~signed], sides)
    return out


def gained(shape: tuple[int, ...], sides: PatchEdges, gain: Floats) -> Floats:
    """What mx, my, mxy of corners gain, shape (c, e, 4, 3); a corner of two sides takes the larger of each component.

    Parameters
    ----------
    shape : tuple of int
        (c, e, 4).
    sides : PatchEdges
        Sides that moments are carried to.
    gain : ndarray, shape (c, s, 2, 3)
        From `edge_gain` [N].
    """
    more = np.zeros((*shape, 3))
    for i in range(2):  # the first corners of all sides are different ones, and so are the second
        at = slice(None), sides.element, sides.corner[:, i]
        now, new = more[at], gain[:, :, i]
        more[at] = np.where(np.abs(new) > np.abs(now), new, now)
    return more
