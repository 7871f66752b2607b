"""What is required of a layer, on a grid of squares along and across its bars."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

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
    """

    start: tuple[float, float]
    module: float
    required: Floats
    inside: NDArray[np.bool_]

    @property
    def area(self) -> float:
        """Area of the squares of the zone [mm2]."""
        return float(self.inside.sum()) * self.module**2


def grid_of(places: Floats, reach: Floats, required: Floats, module: float) -> Grid:
    """Requirements of points on a grid whose lines are multiples of the module.

    Parameters
    ----------
    places : ndarray, shape (p, 2)
        Points along and across the bars [mm].
    reach : ndarray, shape (p,)
        Half of the distance to the next points [mm].
    required : ndarray, shape (p,)
        What they require [mm2/mm].
    module : float
        Side of the squares [mm].

    Returns
    -------
    Grid
        A square has the most of the points whose surroundings reach into it.
    """
    # nothing reaches past the edges of the zone
    low = np.maximum(places - reach[:, None], places.min(0))
    high = np.minimum(places + reach[:, None], places.max(0))
    first = np.floor(low.min(0) / module + INSIDE)
    count = np.maximum(np.ceil(high.max(0) / module - INSIDE) - first, 1).astype(int)
    found, there = np.zeros(count), np.zeros(count, dtype=bool)
    from_, to = (low / module - first), (high / module - first)
    i0, j0 = np.floor(from_ + INSIDE).astype(int).clip(0).T
    i1, j1 = np.maximum(np.ceil(to - INSIDE).astype(int), np.floor(from_ + INSIDE).astype(int) + 1).T
    for a, b, c, d, value in zip(i0, i1, j0, j1, required, strict=True):
        square = found[a:b, c:d]
        np.maximum(square, value, out=square)
        there[a:b, c:d] = True
    return Grid((float(first[0] * module), float(first[1] * module)), module, found, there)
