"""Zones laid flat: places along and across their bars, of plane zones and of upright drums."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
EVEN = 0.03  # of the unit vectors, by which bars of a plane zone may turn
FLAT = 500.0  # mm between the highest and the lowest point of a plane zone
ROUND = 0.01  # of the radius, by which a drum may be out of round
SAME = 1e-5  # rad between points of one column
OPEN = 3.0  # times the next gap between columns: an open drum, not a whole one
NOTHING = "its bars neither keep one direction in a plane nor run round an upright drum"


@dataclass(frozen=True)
class Plan:
    """Places of points along the x bars and along the y bars [mm].

    Attributes
    ----------
    places : ndarray, shape (p, 2)
        Of the points: of a plane zone their coordinates along both directions; round a drum the way from its seam, and
        the height.
    radius : float
        Of a drum [mm], 0 of a plane zone.
    """

    places: Floats
    radius: float = 0.0

    def cells(self, corners: NDArray[np.int64]) -> Floats:
        """Elements in the plan [mm], (e, 4, 2), by the numbers of their corners (e, 4), -1 of a triangle's fourth."""
        cells = self.places[np.where(corners >= 0, corners, corners[:, [2]])]
        if self.radius:  # elements over the seam of a whole drum
            way = np.pi * self.radius
            over = np.ptp(cells[..., 0], axis=1) > way
            cells[over, :, 0] += np.where(cells[over, :, 0] < way, 2.0 * way, 0.0)
        return np.asarray(cells)


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
        return Plan(xyz @ np.stack([ex, ey]).T) if np.ptp(out) < FLAT else None
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
    sense = float(np.sign(along[0]))
    turned = np.arctan2(off[:, 1], off[:, 0])
    seam = _seam(np.mod(sense * turned, 2.0 * np.pi))
    way = np.mod(sense * turned - seam + 1e-5, 2.0 * np.pi) - 1e-5
    return Plan(np.column_stack([radius * way, xyz[:, 2]]), radius)


def _seam(turned: Floats) -> float:
    """Where a drum is cut open [rad], of points so far round it: after its gap, or furthest from its openings.

    The place goes with the drum however it stands, unless one place is like another.
    """
    at = np.sort(turned)
    new = np.diff(at, prepend=at[-1] - 2.0 * np.pi) > SAME
    angles, first = at[new], np.flatnonzero(new)
    points = np.diff(np.append(first, first[0] + len(at)))
    gaps = np.diff(np.append(angles, angles[0] + 2.0 * np.pi))
    if gaps.max() > min(OPEN * float(np.partition(gaps, -2)[-2]), np.pi / 2.0):
        return float(angles[(int(gaps.argmax()) + 1) % len(angles)])
    short = angles[points < points.max()]
    if not len(short):
        return float(angles[0])
    ways = np.diff(np.append(short, short[0] + 2.0 * np.pi))
    longest = int(ways.argmax())
    middle = short[longest] + ways[longest] / 2.0
    return float(angles[np.mod(angles - middle + SAME, 2.0 * np.pi).argmin()])
