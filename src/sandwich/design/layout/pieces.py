"""Bars cut to length: where lines cross a zone, what lies between its edges, and laps of stock lengths."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.design.schedule.shapes import rounded_up

Floats = NDArray[np.float64]
NEAR = 1.0  # mm


@dataclass(frozen=True)
class Piece:
    """A bar: from and to along its direction, its place across it [mm]."""

    start: float
    end: float
    across: float

    @property
    def length(self) -> float:
        """Length [mm], rounded up."""
        return rounded_up(self.end - self.start)


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
    cells: Floats, span: tuple[float, float], reach: tuple[float, float], spacing: float, cover: float
) -> Iterator[Piece]:
    """Bars over a part of a zone, cut at its edges.

    Parameters
    ----------
    cells : ndarray, shape (e, 4, 2)
        Elements of the zone along and across the bars [mm].
    span : tuple of float
        From and to across the bars [mm].
    reach : tuple of float
        From and to along them, with what goes past their place [mm].
    spacing, cover : float
        Of the bars [mm].
    """
    for across in lines(*span, spacing):
        for start, end in chords(cells, float(across)):
            a, b = max(start + cover, reach[0]), min(end - cover, reach[1])
            if b > a:
                yield Piece(a, b, float(across))


def laps_of(length: float, stock: float, lap: float) -> int:
    """Laps of a bar that is longer than the bars in stock [mm]."""
    return 0 if length <= stock else math.ceil((length - stock) / (stock - lap) - 1e-9)
