"""IS 13920:2016, 6.3: shear and links of beams, of coupling beams without diagonals, too."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 13920:2016, 6.3.3", formula="V_g + 1.4 (M_u1 + M_u2)/L")
def V_hinges(M_u_1: Any, M_u_2: Any, L: Any, V_g: Any) -> Any:
    """Shear of a beam by its hinges at both ends and the load between.

    Parameters
    ----------
    M_u_1, M_u_2 : float or ndarray
        Moments of resistance at both ends [N mm].
    L : float or ndarray
        Clear span [mm].
    V_g : float or ndarray
        Shear by the load beside the earthquake [N].

    Returns
    -------
    V_hinges : float or ndarray
        Force [N].

    References
    ----------
    IS 13920:2016, 6.3.3.

    Examples
    --------
    >>> float(V_hinges(200e6, 200e6, 1000.0, 10e3))
    570000.0
    """
    return V_g + 1.4 * (np.asarray(M_u_1) + M_u_2) / L


@clause("IS 13920:2016, 6.3.5", formula="min(d/4, 6 d_b, 100 mm)")
def s_links(d: Any, d_b: Any) -> Any:
    """Largest spacing of the links next to the supports.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    d_b : float or ndarray
        Smallest diameter of the bars [mm].

    Returns
    -------
    s_links : float or ndarray
        Spacing [mm].

    References
    ----------
    IS 13920:2016, 6.3.5.

    Examples
    --------
    >>> float(s_links(600.0, 12.0))
    72.0
    """
    return np.minimum(np.minimum(np.asarray(d) / 4.0, 6.0 * np.asarray(d_b)), 100.0)
