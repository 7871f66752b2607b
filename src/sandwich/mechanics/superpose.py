"""Factored sums of cases: combined resultants of a block of points, in a fixed order of summation."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np
from numpy.typing import NDArray

ROWS: Final = 2**18  # combined rows held at once


def superpose(cases: NDArray[np.float64], factors: NDArray[np.float64]) -> NDArray[np.float64]:
    """Combined resultants.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case [N, mm].
    factors : ndarray, shape (k, c)
        Factor [-] of each case in each combination.

    Returns
    -------
    ndarray, shape (p, k, 8)
        Resultants of each combination [N, mm]; the order of summation does not depend on the block.

    References
    ----------
    Superposition of linear analyses.

    Examples
    --------
    >>> superpose(np.ones((1, 2, 8)), np.array([[1.35, 1.5]]))[0, 0, 0]
    np.float64(2.85)
    """
    out = np.empty((len(cases), len(factors), 8))
    of_case = np.ascontiguousarray(cases.swapaxes(0, 1))
    for k, row in enumerate(factors):
        total = np.zeros((len(cases), 8))  # in one piece: a sum inside `out` takes three times as long
        for c in np.flatnonzero(row):
            total += row[c] * of_case[c]
        out[:, k] = total
    return out


def blocks(points: int, combinations: int, most: int = 2048) -> Iterator[slice]:
    """Blocks of points whose combined resultants fit into bounded memory."""
    size = max(1, min(most, ROWS // max(combinations, 1)))
    for start in range(0, points, size):
        yield slice(start, min(start + size, points))


def extremes(
    cases: NDArray[np.float64], factors: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Minimum and maximum of each component over the combinations.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case [N, mm].
    factors : ndarray, shape (k, c)
        Factor [-] of each case in each combination, k at least 1.

    Returns
    -------
    tuple of ndarray, each of shape (p, 8)
        Extremes [N, mm].

    References
    ----------
    Superposition of linear analyses.
    """
    least, greatest = np.empty((len(cases), 8)), np.empty((len(cases), 8))
    for part in blocks(len(cases), len(factors)):
        combined = superpose(cases[part], factors)
        least[part], greatest[part] = combined.min(1), combined.max(1)
    return least, greatest
