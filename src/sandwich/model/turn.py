"""Corner results of a zone, turned from each element's own axes into the bar directions at mid-depth."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sandwich.core.on_disc import unload
from sandwich.core.resultants import rotate, to_mid_depth, turn_over
from sandwich.model.zones import Orientation

Floats = NDArray[np.float64]


def turn_corners(
    corner: Floats, orientation: Orientation, offset: float = 0.0, elements: NDArray[np.integer] | slice = slice(None)
) -> Floats:
    """Turn corner results: over where the normal is flipped, then to the x bars, then to mid-depth.

    Parameters
    ----------
    corner : ndarray, shape (..., e, 4, 8)
        Results in element axes [N, mm].
    orientation : Orientation
        Of the same elements.
    offset : float
        Distance of the results' surface from mid-depth, positive towards the bottom of the zone [mm].
    elements : ndarray of int or slice
        Which of the elements of `corner` these are, all without.

    Returns
    -------
    ndarray, shape (..., e, 4, 8)
        In the bar directions [N, mm].

    References
    ----------
    Tensor rule.
    """
    if corner.ndim > 3:  # case by case: results are turned without several copies of them all
        out = np.empty((*corner.shape[:-3], len(orientation.angle), *corner.shape[-2:]))
        for i, one in enumerate(corner):
            out[i] = turn_corners(one, orientation, offset, elements)
            unload()
        return out
    corner = corner[elements]
    over = orientation.flipped
    upright = np.where(over[:, None, None], turn_over(corner), corner) if over.any() else corner
    turned = rotate(upright, orientation.angle[:, None])
    return to_mid_depth(turned, np.full(turned.shape[:-1], offset)) if offset else turned


def turn_magnitudes(corner: Floats, orientation: Orientation, offset: float = 0.0) -> Floats:
    """Maximum magnitudes in the bar directions of results without signs.

    Parameters
    ----------
    corner : ndarray, shape (..., e, 4, 8)
        Magnitudes in element axes [N, mm].
    orientation : Orientation
        Of the same elements.
    offset : float
        Distance of the results' surface from mid-depth [mm].

    Returns
    -------
    ndarray, shape (..., e, 4, 8)
        Exact where the angle is a multiple of 90 degrees, else a bound: the worst of all signs [N, mm].

    References
    ----------
    Tensor rule with every term positive: c2 nx + s2 ny + 2 |sc| nxy.
    """
    old = np.abs(corner)
    c, s = np.abs(np.cos(orientation.angle))[:, None], np.abs(np.sin(orientation.angle))[:, None]
    new = np.empty_like(old)
    for start in (0, 3):
        ax, ay, axy = (old[..., start + i] for i in range(3))
        new[..., start] = ax * c * c + ay * s * s + 2 * axy * s * c
        new[..., start + 1] = ax * s * s + ay * c * c + 2 * axy * s * c
        new[..., start + 2] = (ax + ay) * s * c + axy * np.abs(c * c - s * s)
    new[..., 6] = old[..., 6] * c + old[..., 7] * s
    new[..., 7] = old[..., 7] * c + old[..., 6] * s
    new[..., 3:6] += new[..., :3] * abs(offset)
    return new
