"""Rectangles that may have additional bars: round what passes the base mesh, joined and split."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Box = tuple[int, int, int, int]  # first and past the last square along the bars, and across them
DEPTH = 4  # times a rectangle is split
MOST = 400  # rectangles


def candidates(short: Floats, levels: list[float], least: tuple[int, int]) -> list[Box]:
    """Rectangles of squares round what is short, those of the largest needs first.

    Parameters
    ----------
    short : ndarray, shape (n, m)
        What squares lack of the base mesh, 0 where they lack nothing [mm2/mm].
    levels : list of float
        Areas of the additional bars [mm2/mm]: patches that pass each of them have rectangles of their own.
    least : tuple of int
        Squares of the shortest sides along and across the bars.

    Returns
    -------
    list of tuple of int
        Rectangles as ranges of squares, each once.
    """
    out: dict[Box, None] = {}
    for level in (0.0, *levels):
        mask = short > level + 1e-12
        if not mask.any():
            continue
        own = patches(mask)
        for box in own:
            out |= dict.fromkeys(grown(b, least, short.shape) for b in (box, *_split(mask, box, DEPTH)))
        out |= dict.fromkeys(grown(b, least, short.shape) for b in _joined(own))
    return list(out)[:MOST]


def grown(box: Box, least: tuple[int, int], shape: tuple[int, ...]) -> Box:
    """A rectangle with sides no shorter than the least, to both sides as far as the grid goes."""
    i0, i1 = _widened(box[0], box[1], least[0], shape[0])
    j0, j1 = _widened(box[2], box[3], least[1], shape[1])
    return i0, i1, j0, j1


def _widened(a: int, b: int, least: int, most: int) -> tuple[int, int]:
    more = max(min(least, most) - (b - a), 0)
    a = max(a - more // 2, 0)
    b = min(max(b + (more + 1) // 2, a + min(least, most)), most)
    return max(min(a, b - min(least, most)), 0), b


def patches(mask: NDArray[np.bool_]) -> list[Box]:
    """Boxes round squares that touch."""
    from scipy.ndimage import find_objects, label  # late: slow to import

    found, _ = label(mask, structure=np.ones((3, 3)))
    return [(i.start, i.stop, j.start, j.stop) for i, j in find_objects(found)]


def _joined(boxes: list[Box]) -> Iterator[Box]:
    """Boxes round pairs, and round more and more of the nearest."""
    for a, b in itertools.combinations(boxes[:24], 2):
        yield hull(a, b)
    rest = list(boxes[:24])
    while len(rest) > 1:
        a, b = min(itertools.combinations(rest, 2), key=lambda p: _size(hull(*p)) - _size(p[0]) - _size(p[1]))
        rest = [c for c in rest if c not in (a, b)] + [hull(a, b)]
        yield rest[-1]


def hull(a: Box, b: Box) -> Box:
    """The rectangle round two."""
    return min(a[0], b[0]), max(a[1], b[1]), min(a[2], b[2]), max(a[3], b[3])


def _size(box: Box) -> int:
    return (box[1] - box[0]) * (box[3] - box[2])


def _split(mask: NDArray[np.bool_], box: Box, depth: int) -> Iterator[Box]:
    """Halves of a box at the cut that saves most, and their halves."""
    if depth == 0:
        return
    i0, i1, j0, j1 = box
    along, across = (_cut(m) for m in (mask[i0:i1, j0:j1], mask[i0:i1, j0:j1].T))
    best = min((c for c in (along, across) if c is not None), key=lambda c: c[0], default=None)
    if best is None or best[0] >= _size(box):
        return
    for a0, a1, b0, b1 in best[1:]:
        half = (i0 + a0, i0 + a1, j0 + b0, j0 + b1) if best is along else (i0 + b0, i0 + b1, j0 + a0, j0 + a1)
        yield half
        yield from _split(mask, half, depth - 1)


def _cut(mask: NDArray[np.bool_]) -> tuple[int, Box, Box] | None:
    """Size of both tight boxes at the cut across the first axis that leaves least, and the boxes."""
    n, m = mask.shape
    full = mask.any(1)
    rows = np.flatnonzero(full)
    if len(rows) < 2:
        return None
    first, last = np.where(full, mask.argmax(1), m), np.where(full, m - 1 - mask[:, ::-1].argmax(1), -1)
    low = np.minimum.accumulate(first), np.minimum.accumulate(first[::-1])[::-1]
    high = np.maximum.accumulate(last), np.maximum.accumulate(last[::-1])[::-1]
    number = np.arange(n)
    end = np.maximum.accumulate(np.where(full, number, -1))  # last full row up to each
    start = np.minimum.accumulate(np.where(full, number, n)[::-1])[::-1]  # first full row from each
    at = np.arange(rows[0] + 1, rows[-1] + 1)
    left = (end[at - 1] - rows[0] + 1) * (high[0][at - 1] - low[0][at - 1] + 1)
    right = (rows[-1] - start[at] + 1) * (high[1][at] - low[1][at] + 1)
    k = int((left + right).argmin())
    a = int(at[k])
    return (
        int((left + right)[k]),
        (int(rows[0]), int(end[a - 1]) + 1, int(low[0][a - 1]), int(high[0][a - 1]) + 1),
        (int(start[a]), int(rows[-1]) + 1, int(low[1][a]), int(high[1][a]) + 1),
    )
