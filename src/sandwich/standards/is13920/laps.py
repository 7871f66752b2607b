"""IS 13920:2016, 10.9: where bars of ductile walls may be lapped."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

TIES: Final = 150.0  # mm, largest spacing of ties over a lap


@clause("IS 13920:2016, 10.9.2", formula="the larger of l_w and h_w/6, 2 l_w at most")
def no_lap(l_w: Any, h_w: Any) -> Any:
    """Height above the base within which laps of vertical bars are avoided.

    Parameters
    ----------
    l_w : float or ndarray
        Length of the wall [mm].
    h_w : float or ndarray
        Height of the wall [mm].

    Returns
    -------
    no_lap : float or ndarray
        Height [mm].

    References
    ----------
    IS 13920:2016, 10.9.2.

    Examples
    --------
    >>> float(no_lap(3000.0, 24000.0))
    4000.0
    """
    return np.minimum(np.maximum(l_w, np.asarray(h_w) / 6.0), 2.0 * np.asarray(l_w))


@clause("IS 13920:2016, 10.9.3", formula="max(6 mm, d_b/4), of bars thicker than 16 mm")
def d_lap_ties(d_b: Any) -> Any:
    """Minimum diameter of ties over laps, 150 mm apart at most.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the lapped bars [mm].

    Returns
    -------
    d_lap_ties : float or ndarray
        Diameter, 0 of bars that ask for none [mm].

    References
    ----------
    IS 13920:2016, 10.9.3.

    Examples
    --------
    >>> float(d_lap_ties(28.0)), float(d_lap_ties(16.0))
    (7.0, 0.0)
    """
    d_b = np.asarray(d_b, dtype=float)
    return np.where(d_b > 16.0, np.maximum(6.0, d_b / 4.0), 0.0)
