"""From a zone in space to a flat picture: floors in plan, walls in elevation, cylinders unrolled, cores by faces."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.connected import connected
from sandwich.model.mesh import KINK

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
MOST_FACES: Final = 24  # beside each other; more are shown in the best plane
GAP: Final = 0.2  # between faces, of their mean width


@dataclass(frozen=True)
class Flat:
    """Element corners in the picture [m], (e, 4, 2); axis labels; kind of view; its axes in space, (e, 2, 3).

    `names` are the faces of a view of several side by side: place [m] and what is written above each.
    """

    corners: Floats
    labels: tuple[str, str]
    kind: str
    frame: Floats
    names: tuple[tuple[float, float, str], ...] = ()

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
        Plan where normals are vertical, elevation of a plane wall, unrolled cylinder; several such faces that meet at
        corners side by side; else the best plane.
    """
    metres = corners / 1e3
    whole = _one(metres, normals)
    if whole.kind != "best plane":
        return whole
    face = _faces(metres, normals)
    return _side_by_side(metres, normals, face) if 1 < face.max() + 1 <= MOST_FACES else whole


def _one(metres: Floats, normals: Floats) -> Flat:
    n = len(metres)
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


def _faces(metres: Floats, normals: Floats) -> Ints:
    """Smooth face that each element belongs to: no corner of more than 15 degrees inside it."""
    place = np.unique(np.round(metres.reshape(-1, 3), 5), axis=0, return_inverse=True)[1].reshape(-1, 4)
    ends = np.sort(np.stack([place, np.roll(place, -1, axis=1)], axis=-1).reshape(-1, 2), axis=1)
    owner = np.repeat(np.arange(len(metres)), 4)
    keep = ends[:, 0] != ends[:, 1]
    edge = np.unique(ends[keep], axis=0, return_inverse=True)[1].ravel()
    order = np.argsort(edge, kind="stable")
    edge, owner = edge[order], owner[keep][order]
    pairs = []
    for step in (1, 2, 3):  # owners of an edge where walls cross
        same = np.flatnonzero(edge[step:] == edge[:-step])
        pairs.append(np.stack([owner[same], owner[same + step]], axis=1))
    a, b = np.concatenate(pairs).T
    smooth = np.abs(np.sum(normals[a] * normals[b], axis=1)) >= KINK
    return connected(len(metres), a[smooth], b[smooth])


def _side_by_side(metres: Floats, normals: Floats, face: Ints) -> Flat:
    """Faces beside each other, walls first and round about, on a common height where they are walls."""
    count = int(face.max()) + 1
    flats = [_one(metres[face == f], normals[face == f]) for f in range(count)]
    normal = np.stack([normals[face == f][0] for f in range(count)])
    middle = np.stack([metres[face == f].reshape(-1, 3).mean(0) for f in range(count)])
    level = np.abs(normal[:, 2]) > 0.5
    azimuth = np.round(np.degrees(np.arctan2(normal[:, 1], normal[:, 0])) + 90.0) % 360.0
    along = np.round(np.sum(middle * normal, axis=1), 2)
    order = np.lexsort((along, np.where(level, 0.0, azimuth), level))
    foot = min(float(flats[f].corners[..., 1].min()) for f in np.flatnonzero(~level)) if not level.all() else 0.0
    gap = GAP * float(np.mean([np.ptp(v.corners[..., 0]) for v in flats]))
    corners, frame, names, x = np.empty((*metres.shape[:2], 2)), np.empty((len(metres), 2, 3)), [], 0.0
    for f in order:
        own = flats[f].corners.copy()
        own[..., 0] += x - own[..., 0].min()
        if level[f] or flats[f].kind == "best plane":
            own[..., 1] += foot - own[..., 1].min()
        corners[face == f], frame[face == f] = own, flats[f].frame
        right = float(own[..., 0].max())
        names.append(((x + right) / 2, float(own[..., 1].max()), _name(normal[f], middle[f])))
        x = right + gap
    labels = ("faces side by side [m]", "[m]" if level.any() else "z [m]")
    return Flat(corners, labels, "faces", frame, tuple(names))


def _name(normal: Floats, middle: Floats) -> str:
    """Plane of a face, or where it looks and lies."""
    axis = int(np.argmax(np.abs(normal)))
    if abs(normal[axis]) > 0.999:
        return f"{'xyz'[axis]} = {middle[axis] + 0.0:.4g}"
    return f"about ({middle[0]:.3g}, {middle[1]:.3g})"


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
