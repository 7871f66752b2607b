"""Bars cut to length: where lines cross a zone, what lies between its edges, and laps of stock lengths."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.schedule.shapes import rounded_up

Floats = NDArray[np.float64]
NEAR: Final = 1.0  # mm
HALVINGS: Final = 4  # of the radius, at which radial bars end


@dataclass(frozen=True)
class Piece:
    """A bar: from and to along its direction, its place across it [mm].

    `scale` is its length over that between both places, `closed` says that it goes all round and laps with itself.
    """

    start: float
    end: float
    across: float
    scale: float = 1.0
    closed: bool = False

    @property
    def length(self) -> float:
        """Length [mm], rounded up."""
        return rounded_up((self.end - self.start) * self.scale)


@dataclass(frozen=True)
class Round:
    """How a zone that goes round is measured.

    Attributes
    ----------
    whole : float
        The way once round along or across the bars [mm], 0 of a zone that does not go round.
    along : bool
        Whether the bars go round; else they stand across.
    outer : float
        Radius at which the way round is measured in a plane zone [mm]; 0 of a drum, which has one radius.
    """

    whole: float = 0.0
    along: bool = True
    outer: float = 0.0

    def scale(self, across: float) -> float:
        """Length of a bar over the way between its ends, by its place across."""
        return across / self.outer if self.outer and self.along else 1.0

    def spread(self, end: float) -> float:
        """Way round between bars over the distance between them at their far end [-]."""
        return self.outer / end if self.outer and not self.along else 1.0

    def inner(self, number: int, end: float) -> float:
        """Place where a radial bar ends near the middle [mm].

        Each second one ends at half the radius of its far end, each fourth one at a quarter: bars come no closer than
        half of their distance there.
        """
        if not self.outer or self.along:
            return -math.inf
        halvings = next((k for k in range(HALVINGS) if number >> k & 1), HALVINGS)
        return end / 2.0 ** (halvings + 1) if halvings < HALVINGS else -math.inf

    def share(self, at: float, end: float) -> float:
        """Share of radial bars up to a far end that are still there at a place [mm] nearer to the middle."""
        if not self.outer or self.along or at >= end:
            return 1.0
        return 0.5 ** min(math.floor(math.log2(end / at)), HALVINGS)


STRAIGHT: Final = Round()


def chords(cells: Floats, across: float) -> list[tuple[float, float]]:
    """Where a line along the bars lies in a zone.

    Parameters
    ----------
    cells : ndarray, shape (e, 4, 2)
        Corners of its elements along and across the bars [mm]; triangles have a corner twice.
    across : float
        Place of the line [mm].

    Returns
    -------
    list of tuple of float
        From and to, from the first to the last.
    """
    a, b = cells, np.roll(cells, -1, axis=1)
    low, high = np.minimum(a[..., 1], b[..., 1]), np.maximum(a[..., 1], b[..., 1])
    crossed = (low <= across) & (high > across)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = a[..., 0] + (across - a[..., 1]) / (b[..., 1] - a[..., 1]) * (b[..., 0] - a[..., 0])
    some = crossed.any(1)
    if not some.any():
        return []
    first = np.where(crossed, at, np.inf)[some].min(1)
    last = np.where(crossed, at, -np.inf)[some].max(1)
    out: list[tuple[float, float]] = []
    for i in np.argsort(first, kind="stable"):
        if out and first[i] <= out[-1][1] + NEAR:
            out[-1] = out[-1][0], max(out[-1][1], float(last[i]))
        else:
            out.append((float(first[i]), float(last[i])))
    return out


def lines(low: float, high: float, spacing: float) -> Floats:
    """Places of parallel bars between two edges, the outer ones half a spacing from them at most [mm]."""
    count = max(math.ceil((high - low) / spacing - 1e-6), 1)
    return np.asarray(low + (np.arange(count) + 0.5) * (high - low) / count)


def pieces(
    cells: Floats, region: tuple[float, float, float, float], beyond: float, spacing: float, cover: float,
    way: Round = STRAIGHT,
) -> Iterator[Piece]:  # fmt: skip
    """Bars over a part of a zone, cut at its edges.

    Parameters
    ----------
    cells : ndarray, shape (e, 4, 2)
        Elements of the zone along and across the bars [mm].
    region : tuple of float
        From and to along and across the bars, where they count in full [mm].
    beyond : float
        How far they go past both ends of it [mm].
    spacing, cover : float
        Of the bars [mm]; of radial bars the spacing at their far ends.
    way : Round
        How a zone that goes round is measured.
    """
    a0, a1, c0, c1 = region
    for number, across in enumerate(lines(c0, c1, spacing * way.spread(a1)).tolist()):
        past = beyond / way.scale(across)
        yield from pieces_at(cells, across, max(a0, way.inner(number, a1)) - past, a1 + past, cover, way)


def pieces_at(
    cells: Floats, across: float, low: float, high: float, cover: float, way: Round = STRAIGHT
) -> Iterator[Piece]:
    """Bars on one line between two places along it, cut at the edges of a zone; arguments as of `pieces` [mm]."""
    scale = way.scale(across)
    whole = way.whole if way.along else 0.0
    over = bool(whole) and high - low >= whole - NEAR  # the place goes all round
    for start, end in joined(chords(cells, across), whole):
        if whole and end - start >= whole - NEAR:
            yield Piece(0.0, whole, across, scale, closed=True) if over else Piece(low, high, across, scale)
            continue
        for turn in (0.0,) if over or not whole else (-whole, 0.0, whole):
            a, b = start + turn + cover / scale, end + turn - cover / scale
            a, b = (a, b) if over else (max(a, low), min(b, high))
            if b > a:
                yield Piece(a, b, across, scale)


def joined(found: list[tuple[float, float]], whole: float) -> list[tuple[float, float]]:
    """Where a line lies in a zone that goes round, what meets at its seam as one; `whole` is the way round [mm]."""
    if not whole or len(found) < 2 or found[0][0] > NEAR or found[-1][1] < whole - NEAR:
        return found
    return [*found[1:-1], (found[-1][0], whole + found[0][1])]


def laps_of(length: float, stock: float, lap: float) -> int:
    """Laps of a bar that is longer than the bars in stock [mm]."""
    return 0 if length <= stock else math.ceil((length - stock) / (stock - lap) - 1e-6)


def laps_round(length: float, stock: float, lap: float) -> int:
    """Laps of a bar that goes all round [mm]: it laps with itself."""
    return max(math.ceil(length / (stock - lap) - 1e-6), 1)
