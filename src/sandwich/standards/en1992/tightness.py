"""EN 1992-3:2006, 7.3.1: cracks through walls that hold water back."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-3:2006, 7.3.1(111)", formula="w_k1 = 0.2 mm up to h_D/h = 5, 0.05 mm from 35, linear between")
def w_k1(h_D: Any, h: Any) -> Any:
    """Maximum width of cracks through the whole thickness of a wall that holds water back, tightness class 1.

    Parameters
    ----------
    h_D, h : float or ndarray
        Head of water, thickness [mm].

    Returns
    -------
    w_k1 : float or ndarray
        Width [mm].

    References
    ----------
    EN 1992-3:2006, 7.3.1(111), recommended values.

    Examples
    --------
    >>> float(w_k1(4000.0, 200.0).round(3))
    0.125
    """
    return np.interp(np.asarray(h_D) / np.asarray(h), [5.0, 35.0], [0.2, 0.05])


@clause("EN 1992-3:2006, 7.3.1(113)", formula="x_min = min(50 mm, 0.2 h)")
def x_min(h: Any) -> Any:
    """Minimum compressed depth of a section that cracks do not pass through.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    x_min : float or ndarray
        Depth [mm].

    References
    ----------
    EN 1992-3:2006, 7.3.1(113), recommended value.

    Examples
    --------
    >>> float(x_min(200.0)), float(x_min(400.0))
    (40.0, 50.0)
    """
    return np.minimum(50.0, 0.2 * np.asarray(h))
