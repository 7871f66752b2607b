"""ACI 318-19, 25.3: bends and hooks."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

NO_25: Final = 25.5  # mm, No. 8 and less
NO_36: Final = 35.9  # No. 11 and less
NO_16: Final = 16.0  # No. 5 and less


@clause("ACI 318-19, 25.3.1, table 25.3.1", formula="6 d_b up to No. 25, 8 d_b up to No. 36, 10 d_b above")
def bend_diameter(d_b: Any) -> Any:
    """Minimum inside diameter of the bend of a bar.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the bar [mm].

    Returns
    -------
    bend_diameter : float or ndarray
        Diameter [mm].

    References
    ----------
    ACI 318-19, table 25.3.1.

    Examples
    --------
    >>> float(bend_diameter(25.4)), float(bend_diameter(32.3))
    (152.39999999999998, 258.4)
    """
    d = np.asarray(d_b, dtype=float)
    return np.where(d <= NO_25, 6.0, np.where(d <= NO_36, 8.0, 10.0)) * d


@clause("ACI 318-19, 25.3.1, table 25.3.1", formula="12 d_b")
def l_ext(d_b: Any) -> Any:
    """Straight length past a hook of 90 degrees of a bar.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the bar [mm].

    Returns
    -------
    l_ext : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, table 25.3.1.

    Examples
    --------
    >>> float(l_ext(16.0))
    192.0
    """
    return 12.0 * np.asarray(d_b)


@clause("ACI 318-19, 25.3.2, table 25.3.2", formula="4 d_b up to No. 16, 6 d_b above")
def bend_diameter_tie(d_b: Any) -> Any:
    """Minimum inside diameter of the bends of stirrups, ties and hoops.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the tie [mm].

    Returns
    -------
    bend_diameter_tie : float or ndarray
        Diameter [mm].

    References
    ----------
    ACI 318-19, table 25.3.2.

    Examples
    --------
    >>> float(bend_diameter_tie(10.0)), float(bend_diameter_tie(20.0))
    (40.0, 120.0)
    """
    d = np.asarray(d_b, dtype=float)
    return np.where(d <= NO_16, 4.0, 6.0) * d


@clause("ACI 318-19, 25.3.2, 25.3.4", formula="max(6 d_b, 75 mm)")
def l_ext_tie(d_b: Any) -> Any:
    """Straight length past a hook of 135 degrees of a tie, a seismic hook among them.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the tie [mm].

    Returns
    -------
    l_ext_tie : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, table 25.3.2, 25.3.4(b).

    Examples
    --------
    >>> float(l_ext_tie(10.0)), float(l_ext_tie(16.0))
    (75.0, 96.0)
    """
    return np.maximum(6.0 * np.asarray(d_b), 75.0)
