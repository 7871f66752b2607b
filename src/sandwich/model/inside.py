"""Which places lie inside a flat polygon in space."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray


def inside(places: NDArray[np.float64], polygon: NDArray[np.float64], within: float) -> NDArray[np.bool_]:
    """Places inside a polygon or on its edge, no further from its plane than `within`.

    Parameters
    ----------
    places : ndarray, shape (p, 3)
        Places.
    polygon : ndarray, shape (v, 3)
        Corners in order, three or more, in one plane.
    within : float
        Maximum distance from the plane.

    Returns
    -------
    ndarray of bool, shape (p,)
        By the even-odd rule.

    Examples
    --------
    >>> square = np.array([[0.0, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]])
    >>> inside(np.array([[1.0, 1, 0.1], [3, 1, 0], [2, 1, 0]]), square, 0.2).tolist()
    [True, False, True]
    """
    start = polygon[0]
    normal = np.zeros(3)
    for a, b in itertools.pairwise(polygon[1:]):
        normal += np.cross(a - start, b - start)
    normal /= np.linalg.norm(normal)
    first = (polygon[1] - start) / np.linalg.norm(polygon[1] - start)
    axes = np.stack([first, np.cross(normal, first)])
    flat, corners = (places - start) @ axes.T, (polygon - start) @ axes.T
    x, y = flat[:, 0], flat[:, 1]
    crossed, edge = np.zeros(len(flat), dtype=bool), np.zeros(len(flat), dtype=bool)
    near = 1e-9 * np.ptp(corners, axis=0).max()
    for (x1, y1), (x2, y2) in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        with np.errstate(divide="ignore", invalid="ignore"):
            at = x1 + (y - y1) / (y2 - y1) * (x2 - x1)
        crossed ^= ((y1 > y) != (y2 > y)) & (x < at)
        length = np.hypot(x2 - x1, y2 - y1)
        along = ((x - x1) * (x2 - x1) + (y - y1) * (y2 - y1)) / length
        off = np.abs((x - x1) * (y2 - y1) - (y - y1) * (x2 - x1)) / length
        edge |= (off <= near) & (along >= -near) & (along <= length + near)
    return np.asarray((crossed | edge) & (np.abs((places - start) @ normal) <= within))
