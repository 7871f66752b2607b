"""Zones laid flat: places along and across their bars, of plane zones, upright drums and fans of radial bars."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
EVEN = 0.03  # of the unit vectors, by which bars of a plane zone may turn
FLAT = 500.0  # mm between the highest and the lowest point of a plane zone
ROUND = 0.01  # of the radius, by which a drum may be out of round
SAME = 1e-5  # rad between points of one column
OPEN = 3.0  # times the next gap between columns: an open drum, not a whole one
INNER = 0.1  # of the outer radius of a fan, inside which its bars would meet
NOTHING = (
    "its bars neither keep one direction in a plane, nor run round an upright drum, nor round the open middle of a "
    "plane and from there"
)


@dataclass(frozen=True)
class Fan:
    """A plane zone whose bars run from a middle and round it.

    Attributes
    ----------
    centre : ndarray, shape (2,)
        The middle, in two axes of its plane [mm].
    axes : ndarray, shape (2, 3)
        These axes.
    seam, sense : float
        Angle at which the way round starts, and whether it goes on by the right hand (1) or not (-1) [rad].
    """

    centre: Floats
    axes: Floats
    seam: float
    sense: float

    def places(self, r: Floats, turned: Floats) -> Floats:
        """Places in its plane by their distance from the middle [mm] and the way round from the seam [rad]."""
        angle = self.sense * (turned + self.seam)
        return np.asarray(self.centre + r[..., None] * np.stack([np.cos(angle), np.sin(angle)], -1))


@dataclass(frozen=True)
class Plan:
    """Places of points along the x bars and along the y bars [mm].

    Attributes
    ----------
    places : ndarray, shape (p, 2)
        Of the points: of a plane zone their coordinates along both directions; round a drum the way from its seam, and
        the height; of a fan the distance from its middle, and the way round at its outer edge.
    radius : float
        Of a drum, or of the outer edge of a fan [mm], 0 of other zones.
    turning : int
        Which of the two goes round.
    closed : bool
        Whether the zone goes all round.
    fan : Fan or None
        Where a fan lies.
    start : tuple of float
        Place of the seam [mm].
    corners : ndarray, shape (e, 4, 2)
        Of the elements, a triangle's last one twice; none of a plan of points alone.
    """

    places: Floats
    radius: float = 0.0
    turning: int = 0
    closed: bool = False
    fan: Fan | None = None
    start: tuple[float, ...] = ()
    corners: Floats = field(default_factory=lambda: np.empty((0, 4, 2)))

    def cells(self, corners: NDArray[np.int64]) -> Floats:
        """Elements in the plan [mm], (e, 4, 2), by the numbers of their corners (e, 4), -1 of a triangle's fourth."""
        cells = self.places[np.where(corners >= 0, corners, corners[:, [2]])]
        if self.radius:  # elements over the seam of a zone that goes all round
            way, t = np.pi * self.radius, self.turning
            over = np.ptp(cells[..., t], axis=1) > way
            cells[over, :, t] += np.where(cells[over, :, t] < way, 2.0 * way, 0.0)
        return np.asarray(cells)

    def spread(self) -> Floats:
        """Lengths in the plan over those in space at the points, along both of its directions (p, 2)."""
        out = np.ones(self.places.shape)
        if self.fan is not None:
            out[:, self.turning] = self.radius / self.places[:, 1 - self.turning]
        return out

    def drawn(self, places: Floats) -> Floats:
        """Places of the plan as a plan of a fan shows them in its plane [mm]; else as they are."""
        if self.fan is None:
            return places
        return self.fan.places(places[..., 1 - self.turning], places[..., self.turning] / self.radius)


def plan_of(xyz: Floats, at: Floats, x: Floats, y: Floats) -> Plan | None:
    """A zone laid flat by the directions of its bars, None of one that cannot be.

    Parameters
    ----------
    xyz : ndarray, shape (p, 3)
        Points [mm].
    at, x, y : ndarray, shape (e, 3)
        Middles of the elements [mm], and directions of the x and y bars there.
    """
    mean = np.stack([x.mean(0), y.mean(0)])
    even = max(np.linalg.norm(x - mean[0], axis=1).max(), np.linalg.norm(y - mean[1], axis=1).max())
    if even < EVEN:
        ex = mean[0] / np.linalg.norm(mean[0])
        ey = mean[1] - (mean[1] @ ex) * ex
        ey = ey / np.linalg.norm(ey)
        out = xyz @ np.cross(ex, ey)
        return Plan(xyz @ np.stack([ex, ey]).T) if np.ptp(out) < FLAT else None
    return _drum(xyz, at, x, y) or _fan(xyz, at, x, y)


def _drum(xyz: Floats, at: Floats, x: Floats, y: Floats) -> Plan | None:
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
    sense = _sense(at[:, :2] - centre, x[:, :2])
    if np.ptp(radii) > ROUND * radius or not sense:
        return None
    turned = np.arctan2(off[:, 1], off[:, 0])
    seam, closed = _seam(np.mod(sense * turned, 2.0 * np.pi))
    start = centre + radius * np.array([np.cos(seam), sense * np.sin(seam)])
    return Plan(
        np.column_stack([radius * _way(sense * turned, seam), xyz[:, 2]]), radius, closed=closed,
        start=(*start.tolist(), float(xyz[:, 2].min())),
    )  # fmt: skip


def _fan(xyz: Floats, at: Floats, x: Floats, y: Floats) -> Plan | None:
    """A plane zone whose bars run from a middle that is not part of it, and round that."""
    normals = np.cross(x, y)
    normal = normals.mean(0)
    askew = np.linalg.norm(normal) < 0.5  # x and y bars that are nearly one direction
    if askew or np.linalg.norm(normals - normal, axis=1).max() > EVEN or np.ptp(xyz @ normal) > FLAT:
        return None
    normal /= np.linalg.norm(normal)
    first = np.eye(3)[0 if abs(normal[0]) < 0.9 else 1]
    first = first - (first @ normal) * normal
    first /= np.linalg.norm(first)
    axes = np.stack([first, np.cross(normal, first)])
    flat, middles, ways = xyz @ axes.T, at @ axes.T, (x @ axes.T, y @ axes.T)
    for turning in (1, 0):  # radial x bars, and x bars that go round
        radial, round_ = ways[1 - turning], ways[turning]
        centre, *_ = np.linalg.lstsq(round_, (round_ * middles).sum(1), rcond=None)
        off, own = flat - centre, middles - centre
        radii = np.linalg.norm(off, axis=1)
        radius = float(radii.max())
        if radii.min() < INNER * radius or not (sense := _sense(own, round_)):
            continue
        if len(set(np.sign((own * radial).sum(1)))) > 1:
            continue
        turned = sense * np.arctan2(off[:, 1], off[:, 0])
        seam, closed = _seam(np.mod(turned, 2.0 * np.pi))
        fan = Fan(centre, axes, seam, sense)
        places = [radii, radius * _way(turned, seam)]
        start = fan.places(np.array(radius), np.zeros(())) @ axes + (xyz.mean(0) @ normal) * normal
        return Plan(
            np.column_stack(places if turning else places[::-1]), radius, turning=turning, closed=closed, fan=fan,
            start=tuple(start.tolist()),
        )  # fmt: skip
    return None


def _sense(off: Floats, way: Floats) -> float:
    """Whether directions (e, 2) run round a middle by the right hand (1) or the other way (-1), 0 where they do not."""
    out = off / np.maximum(np.linalg.norm(off, axis=1), 1e-9)[:, None]
    along = out[:, 0] * way[:, 1] - out[:, 1] * way[:, 0]
    round_ = np.abs((out * way).sum(1)).max() <= EVEN and len(set(np.sign(along))) == 1
    return float(np.sign(along[0])) if round_ else 0.0


def _way(turned: Floats, seam: float) -> Floats:
    """Angles from the seam [rad], those at it 0."""
    return np.asarray(np.mod(turned - seam + SAME, 2.0 * np.pi) - SAME)


def _seam(turned: Floats) -> tuple[float, bool]:
    """Where a zone is cut open [rad], of points so far round it: after its gap, or furthest from its openings.

    The place goes with the zone however it stands, unless one place is like another. And whether it goes all round.
    """
    at = np.sort(turned)
    new = np.diff(at, prepend=at[-1] - 2.0 * np.pi) > SAME
    angles, first = at[new], np.flatnonzero(new)
    points = np.diff(np.append(first, first[0] + len(at)))
    gaps = np.diff(np.append(angles, angles[0] + 2.0 * np.pi))
    if gaps.max() > min(OPEN * float(np.partition(gaps, -2)[-2]), np.pi / 2.0):
        return float(angles[(int(gaps.argmax()) + 1) % len(angles)]), False
    short = angles[points < points.max()]
    if not len(short):
        return float(angles[0]), True
    ways = np.diff(np.append(short, short[0] + 2.0 * np.pi))
    longest = int(ways.argmax())
    middle = short[longest] + ways[longest] / 2.0
    return float(angles[np.mod(angles - middle + SAME, 2.0 * np.pi).argmin()]), True
