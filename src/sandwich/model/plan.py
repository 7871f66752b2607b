"""Zones laid flat: places along and across their bars, of plane zones and of upright drums."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
EVEN = 0.03  # of the unit vectors, by which bars of a plane zone may turn
FLAT = 500.0  # mm between the highest and the lowest point of a plane zone
ROUND = 0.01  # of the radius, by which a drum may be out of round
NOTHING = "its bars neither keep one direction in a plane nor run round an upright drum"


@dataclass(frozen=True)
class Plan:
    """Places of points along the x bars and along the y bars [mm], and back.

    Attributes
    ----------
    places : ndarray, shape (p, 2)
        Of the points: of a plane zone their coordinates along both directions; round a drum the way from the seam, and
        the height.
    x, y : ndarray, shape (3,)
        Directions of the bars of a plane zone; of a drum the centre and the start, see `radius`.
    radius : float
        Of a drum [mm], 0 of a plane zone.
    seam : float
        Angle of a drum from which the way round starts [rad].
    out : float
        Of a plane zone its coordinate along the normal; of a drum the sense of its bars, 1 or -1.
    """

    places: Floats
    x: Floats
    y: Floats
    radius: float = 0.0
    seam: float = 0.0
    out: float = 0.0

    def in_space(self, places: Floats) -> Floats:
        """Places in space [mm] of places in the plan, (n, 2)."""
        if not self.radius:
            return places @ np.stack([self.x, self.y]) + self.out * np.cross(self.x, self.y)
        angle = self.seam + self.out * places[:, 0] / self.radius
        return np.stack([
            self.x[0] + self.radius * np.cos(angle), self.x[1] + self.radius * np.sin(angle), places[:, 1],
        ], axis=1)  # fmt: skip


def plan_of(xyz: Floats, x: Floats, y: Floats) -> Plan | None:
    """A zone laid flat by the directions of its bars, None of one that cannot be.

    Parameters
    ----------
    xyz : ndarray, shape (p, 3)
        Points [mm].
    x, y : ndarray, shape (p, 3)
        Directions of the x and y bars at them.
    """
    mean = np.stack([x.mean(0), y.mean(0)])
    even = max(np.linalg.norm(x - mean[0], axis=1).max(), np.linalg.norm(y - mean[1], axis=1).max())
    if even < EVEN:
        ex = mean[0] / np.linalg.norm(mean[0])
        ey = mean[1] - (mean[1] @ ex) * ex
        ey = ey / np.linalg.norm(ey)
        out = xyz @ np.cross(ex, ey)
        return Plan(xyz @ np.stack([ex, ey]).T, ex, ey, out=float(out.mean())) if np.ptp(out) < FLAT else None
    return _drum(xyz, x, y)


def _drum(xyz: Floats, x: Floats, y: Floats) -> Plan | None:
    """An upright drum whose x bars run round and whose y bars rise."""
    if np.abs(x[:, 2]).max() > EVEN or y[:, 2].min() < 1.0 - EVEN:
        return None
    flat = xyz[:, :2]
    rows = np.column_stack([2.0 * flat, np.ones(len(flat))])
    found, *_ = np.linalg.lstsq(rows, (flat**2).sum(1), rcond=None)
    centre = found[:2]
    off = flat - centre
    radii = np.linalg.norm(off, axis=1)
    radius = float(radii.mean())
    tangent = np.column_stack([-off[:, 1], off[:, 0]]) / radii[:, None]
    along = (tangent * x[:, :2]).sum(1)
    if np.ptp(radii) > ROUND * radius or np.abs(np.abs(along) - 1.0).max() > EVEN or len(set(np.sign(along))) > 1:
        return None
    angle = np.sort(np.unique(np.arctan2(off[:, 1], off[:, 0]).round(6)))
    gaps = np.diff(np.append(angle, angle[0] + 2.0 * np.pi))
    sense = float(np.sign(along[0]))
    # a seam in the widest gap, or anywhere on a whole round
    widest = int(gaps.argmax())
    seam = float(angle[(widest + 1) % len(angle)] if sense > 0 else angle[widest])
    way = np.mod(sense * (np.arctan2(off[:, 1], off[:, 0]) - seam) + 1e-5, 2.0 * np.pi) - 1e-5
    middle = np.array([*centre, 0.0])
    return Plan(np.column_stack([radius * way, xyz[:, 2]]), middle, middle, radius, seam, sense)
