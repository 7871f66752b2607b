"""From a zone in space to a flat picture: floors in plan, walls in elevation, cylinders unrolled."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Flat:
    """Element corners in the picture [m], (e, 4, 2); axis labels; kind of view; its axes in space, (e, 2, 3)."""

    corners: Floats
    labels: tuple[str, str]
    kind: str
    frame: Floats

    def direction(self, vectors: Floats, element: NDArray[np.int64]) -> Floats:
        """Unit vectors in space as directions in the picture, shape (n, 2)."""
        return np.asarray(np.einsum("nij,nj->ni", self.frame[element], vectors))


def flatten(corners: Floats, normals: Floats) -> Flat:
    """Lay a zone flat.

    Parameters
    ----------
    corners : ndarray, shape (e, 4, 3)
        Corner places [mm]; a triangle repeats its third corner.
    normals : ndarray, shape (e, 3)
        Zone normals.

    Returns
    -------
    Flat
        Plan where normals are vertical, elevation of a plane wall, unrolled cylinder; else the best plane.
    """
    n = len(corners)
    metres = corners / 1e3
    if np.all(np.abs(normals[:, 2]) > 0.9):
        frame = np.broadcast_to(np.eye(3)[:2], (n, 2, 3))
        return Flat(metres[..., :2], ("x [m]", "y [m]"), "plan", frame)
    upright = np.all(np.abs(normals[:, 2]) < 0.3)
    first = normals[0]
    if upright and np.all(np.abs(normals @ first) > 0.99):
        along = np.cross([0.0, 0.0, 1.0], first)
        along /= np.linalg.norm(along)
        along *= 1.0 if along[np.argmax(np.abs(along))] > 0 else -1.0
        frame = np.broadcast_to(np.stack([along, [0.0, 0.0, 1.0]]), (n, 2, 3))
        return Flat(metres @ frame[0].T, ("along the wall [m]", "z [m]"), "elevation", frame)
    if upright:
        rolled = _unroll(metres)
        if rolled is not None:
            return rolled
    centre = metres.reshape(-1, 3).mean(0)
    axes = np.linalg.svd(metres.reshape(-1, 3) - centre, full_matrices=False)[2][:2]
    frame = np.broadcast_to(axes, (n, 2, 3))
    return Flat((metres - centre) @ axes.T, ("[m]", "[m]"), "best plane", frame)


def _unroll(metres: Floats) -> Flat | None:
    """Vertical circular cylinder, cut opposite the x axis or where it is open; None if it is no such cylinder."""
    xy = metres[..., :2].reshape(-1, 2)
    a = np.column_stack([2 * xy, np.ones(len(xy))])
    (cx, cy, c), *_ = np.linalg.lstsq(a, (xy**2).sum(1), rcond=None)
    radius = np.sqrt(c + cx**2 + cy**2)
    off = np.abs(np.hypot(xy[:, 0] - cx, xy[:, 1] - cy) - radius)
    if off.max() > 0.03 * radius:
        return None
    angle = np.arctan2(metres[..., 1] - cy, metres[..., 0] - cx)
    middle = np.arctan2(np.sin(angle).mean(1), np.cos(angle).mean(1))
    angle = middle[:, None] + np.angle(np.exp(1j * (angle - middle[:, None])))
    tangent = np.stack([-np.sin(middle), np.cos(middle), np.zeros(len(middle))], 1)
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    flat = np.stack([angle * radius, metres[..., 2]], -1)
    label = f"along the wall, unrolled from +x [m], R = {radius:.2f} m"
    return Flat(flat, (label, "z [m]"), "unrolled", np.stack([tangent, up], 1))
