"""Tendons laid over the elements of a zone: where each runs, its direction and its depth. Geometry without results."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh
from sandwich.model.points import Points, split
from sandwich.model.zones import Orientation

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_NEAREST: Final = 12  # elements that are tried for a place
_OUT: Final = 0.02  # of an element: how far out of the zone a place may lie
_STATIONS: Final = 4  # a mean element


@dataclass(frozen=True)
class TendonLine:
    """A tendon at n stations.

    Attributes
    ----------
    s : ndarray, shape (n,)
        Length along it in the surface [mm].
    xyz : ndarray, shape (n, 3)
        Places of its axis [mm].
    element : ndarray of int, shape (n,)
        Element of the zone it lies in, -1 outside the zone.
    points, weights : ndarray, shape (n, 4)
        Points of the zone around the station, and their weights.
    angle : ndarray, shape (n,)
        Direction from the x bars [rad].
    height : ndarray, shape (n,)
        Of the axis over mid-depth, towards the top [mm].
    """

    s: Floats
    xyz: Floats
    element: Ints
    points: Ints
    weights: Floats
    angle: Floats
    height: Floats


def lay(places: Floats, depth: Floats | None, mesh: Mesh, elements: Ints, o: Orientation, points: Points) -> TendonLine:
    """Stations of a tendon over a zone.

    Parameters
    ----------
    places : ndarray, shape (m, 3)
        Places along the tendon [mm]; with depths they may lie anywhere along the normals of the zone.
    depth : ndarray, shape (m,), optional
        Depth of the axis below the top face [mm], where it does not follow from the places.
    mesh, elements, o, points
        The zone.

    Returns
    -------
    TendonLine
        A station a quarter of a mean element, with element -1 where the tendon is outside the zone.
    """
    from scipy.spatial import cKDTree

    step = float(mesh.sizes[elements].mean()) / _STATIONS
    length = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(places, axis=0), axis=1))])
    s = np.linspace(0.0, length[-1], max(int(np.ceil(length[-1] / step)), 2) + 1)
    xyz = np.stack([np.interp(s, length, places[:, i]) for i in range(3)], axis=1)
    segment = np.clip(np.searchsorted(length, s, side="right") - 1, 0, len(places) - 2)
    tangent = places[segment + 1] - places[segment]
    corners = mesh.corners[elements]
    corners = np.where(corners >= 0, corners, corners[:, 2:3])
    tree = cKDTree(mesh.centres[elements])
    near = tree.query(xyz, k=min(_NEAREST, len(elements)))[1].reshape(len(s), -1)
    at = points.of_corners(len(elements))
    triangles, owners = split(mesh.xyz[corners]), np.where(at >= 0, at, at[:, 2:3])
    best = np.full(len(s), -np.inf)
    found = np.full(len(s), -1)
    for k in range(near.shape[1]):
        for half in range(2):
            which = 2 * near[:, k] + half
            w = _barycentric(xyz, triangles[which], o.bars[near[:, k], 2])
            inside = w.min(1)
            better = inside > best + 1e-9
            best[better], found[better] = inside[better], near[better, k]
    within = np.maximum(found, 0)
    weights, own = _bilinear(xyz, mesh.xyz[corners[within]], o.bars[within], at[within, 3] < 0), owners[within]
    found[best < -_OUT] = -1
    bars = o.bars[np.maximum(found, 0)]
    angle = np.arctan2(np.einsum("ni,ni->n", tangent, bars[:, 1]), np.einsum("ni,ni->n", tangent, bars[:, 0]))
    middle = np.einsum("nt,nti->ni", weights, points.xyz[own])
    height = np.einsum("ni,ni->n", xyz - middle, bars[:, 2])
    if depth is not None:
        h = np.einsum("nt,nt->n", weights, points.thickness[own])
        height = h / 2.0 - np.interp(s, length, depth)
    flat = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(middle, axis=0), axis=1))])
    return TendonLine(s=flat, xyz=xyz, element=found, points=own, weights=weights, angle=angle, height=height)


def _bilinear(p: Floats, corners: Floats, bars: Floats, triangle: NDArray[np.bool_]) -> Floats:
    """Weights (n, 4) of the corners of elements (n, 4, 3) for places seen along their normals.

    They are the same whichever corner comes first; a triangle repeats its third corner, which gets no weight there.
    """
    plane = np.einsum("nci,nai->nca", corners - p[:, None], bars[:, :2])
    t = np.full((len(p), 2), 0.5)
    for _ in range(12):
        x, y = t.T
        shape = np.stack([(1 - x) * (1 - y), x * (1 - y), x * y, (1 - x) * y], axis=1)
        along = np.stack([y - 1, 1 - y, y, -y], axis=1), np.stack([x - 1, -x, x, 1 - x], axis=1)
        left = np.einsum("nc,nca->na", shape, plane)
        a, b = (np.einsum("nc,nca->na", d, plane) for d in along)
        det = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        det = np.where(np.abs(det) > 1e-9, det, 1.0)
        step = np.stack([left[:, 0] * b[:, 1] - left[:, 1] * b[:, 0], a[:, 0] * left[:, 1] - a[:, 1] * left[:, 0]], 1)
        t = np.clip(t - step / det[:, None], -0.5, 1.5)
    x, y = t.T
    out = np.stack([(1 - x) * (1 - y), x * (1 - y), x * y, (1 - x) * y], axis=1)
    flat = _barycentric(p, corners[:, :3], bars[:, 2])
    return np.where(triangle[:, None], np.concatenate([flat, np.zeros((len(p), 1))], axis=1), out)


def _barycentric(p: Floats, triangle: Floats, normal: Floats) -> Floats:
    """Weights (n, 3) of the corners of triangles (n, 3, 3) for places seen along the normals; -1 for no area."""
    a, b, c = triangle[:, 1] - triangle[:, 0], triangle[:, 2] - triangle[:, 0], p - triangle[:, 0]
    area = np.einsum("ni,ni->n", np.cross(a, b), normal)
    there = np.abs(area) > 1e-9
    size = np.where(there, area, 1.0)
    v = np.einsum("ni,ni->n", np.cross(c, b), normal) / size
    w = np.einsum("ni,ni->n", np.cross(a, c), normal) / size
    return np.where(there[:, None], np.stack([1.0 - v - w, v, w], axis=1), -1.0)
