"""Corner results of a zone, turned from each element's own axes into the bar directions at mid-depth."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sandwich.model.zones import Orientation
from sandwich.resultants import rotate, to_mid_depth, turn_over

Floats = NDArray[np.float64]


def turn_corners(corner: Floats, orientation: Orientation, offset: float = 0.0) -> Floats:
    """Turn corner results: over where the normal is flipped, then to the x bars, then to mid-depth.

    Parameters
    ----------
    corner : ndarray, shape (..., e, 4, 8)
        Results in element axes [N, mm].
    orientation : Orientation
        Of the same elements.
    offset : float
        Distance of the results' surface from mid-depth, positive towards the bottom of the zone [mm].

    Returns
    -------
    ndarray, shape (..., e, 4, 8)
        In the bar directions [N, mm].

    References
    ----------
    Tensor rule.
    """
    upright = np.where(orientation.flipped[:, None, None], turn_over(corner), corner)
    turned = rotate(upright, orientation.angle[:, None])
    return to_mid_depth(turned, np.full(turned.shape[:-1], offset)) if offset else turned
