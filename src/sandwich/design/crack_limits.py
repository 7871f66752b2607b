"""Crack widths that are allowed, by the direction of the crack."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def width_allowed(widths: Floats, theta: Floats) -> Floats:
    """Crack width allowed where cracks cross bars at an angle: 1 / (cos2 / w_x + sin2 / w_y).

    Parameters
    ----------
    widths : ndarray, shape (r, 2)
        Allowed across the x and across the y bars [mm], inf without a limit.
    theta : ndarray, shape (r,)
        Normal of the crack from the x bars [rad], nan without a crack.

    Returns
    -------
    ndarray, shape (r,)
        Width [mm], between both; the smaller one without a crack.

    Examples
    --------
    >>> width_allowed(np.array([[0.2, 0.3]] * 3), np.array([0.0, np.pi / 4, np.nan])).round(2)
    array([0.2 , 0.24, 0.2 ])
    """
    c = np.cos(theta) ** 2
    with np.errstate(divide="ignore"):
        found = 1.0 / (c / widths[:, 0] + (1.0 - c) / widths[:, 1])
    return np.where(np.isnan(theta), widths.min(1), np.clip(found, widths.min(1), widths.max(1)))
