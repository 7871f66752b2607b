"""What is required of a layer, on a grid of squares along and across its bars."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.design.layout.fold import Fold
from sandwich.design.layout.pieces import STRAIGHT, Round

Floats = NDArray[np.float64]
INSIDE = 1e-6  # of a square, by which a box has to reach into it


@dataclass(frozen=True)
class Grid:
    """Squares of a module, along the bars (first axis) and across them.

    Attributes
    ----------
    start : tuple of float
        Corner with the smallest coordinates [mm].
    module : float
        Side of a square [mm].
    required : ndarray, shape (n, m)
        The most that a point requires whose surroundings reach into the square [mm2/mm].
    inside : ndarray of bool, shape (n, m)
        Squares of the zone.
    area : float
        Area of the squares of the zone [mm2].
    fold : Fold
        How the grid is folded, where what is laid is to be the same on both sides of a middle.
    wide : ndarray, shape (n,)
        Width of a square in space at its far end over that in the plan; less than 1 where bars run from a middle.
    long : ndarray, shape (m,)
        Its length, where they go round one.
    """

    start: tuple[float, float]
    module: float
    required: Floats
    inside: NDArray[np.bool_]
    area: float
    fold: Fold
    wide: Floats
    long: Floats


def grid_of(
    places: Floats, reach: Floats, required: Floats, module: float, mirrored: tuple[bool, bool] = (False, False),
    way: Round = STRAIGHT,
) -> Grid:  # fmt: skip
    """Requirements of points on a grid whose lines are multiples of the module.

    Parameters
    ----------
    places : ndarray, shape (p, 2)
        Points along and across the bars [mm].
    reach : ndarray, shape (p, 2)
        Half of the distance to the next points along and across the bars [mm].
    required : ndarray, shape (p,)
        What they require [mm2/mm].
    module : float
        Side of the squares [mm].
    mirrored : tuple of bool
        Whether the layout is the same on both sides of the middle of the zone along the bars, and across them: the
        lines of the grid then count from there.
    way : Round
        How a zone that goes round is measured.

    Returns
    -------
    Grid
        A square has the most of the points whose surroundings reach into it, and into those that lie on it.
    """
    ends = places.min(0), places.max(0)
    if way.whole:  # what lies at the seam lies on both sides of it
        turning = 0 if way.along else 1
        ends[0][turning], ends[1][turning] = 0.0, way.whole
        seam = places[:, turning] < reach[:, turning]
        turn = way.whole * np.eye(2)[turning]
        places, reach = np.vstack([places, places[seam] + turn]), np.vstack([reach, reach[seam]])
        required = np.append(required, required[seam])
    # nothing reaches past the edges of the zone
    low, high = np.maximum(places - reach, ends[0]), np.minimum(places + reach, ends[1])
    first = np.floor(low.min(0) / module + INSIDE)
    count = np.maximum(np.ceil(high.max(0) / module - INSIDE) - first, 1).astype(int)
    for k in np.flatnonzero(mirrored):
        side = high.max(0)[k] - low.min(0)[k]
        count[k] = max(int(np.ceil(side / module - INSIDE)), 1)
        first[k] = (high.max(0)[k] + low.min(0)[k]) / (2.0 * module) - count[k] / 2.0
    found, there = np.zeros(count), np.zeros(count, dtype=bool)
    from_, to = (low / module - first), (high / module - first)
    i0, j0 = np.floor(from_ + INSIDE).astype(int).clip(0).T
    i1, j1 = np.maximum(np.ceil(to - INSIDE).astype(int), np.floor(from_ + INSIDE).astype(int) + 1).T
    for a, b, c, d, value in zip(i0, i1, j0, j1, required, strict=True):
        square = found[a:b, c:d]
        np.maximum(square, value, out=square)
        there[a:b, c:d] = True
    fold = Fold((int(count[0]), int(count[1])), mirrored)
    wide, long = np.ones(count[0]), np.ones(count[1])
    if way.outer and way.along:
        long = (first[1] + np.arange(count[1]) + 0.5) * module / way.outer
    elif way.outer:
        wide = (first[0] + np.arange(count[0]) + 1.0) * module / way.outer
    return Grid(
        start=(float(first[0] * module), float(first[1] * module)), module=module,
        required=fold.folded(found, np.maximum), inside=fold.folded(there, np.logical_or),
        area=float(wide @ there @ long) * module**2, fold=fold, wide=wide, long=long,
    )  # fmt: skip
