"""IS 1893 (Part 1):2016, 7.1, 7.11, and IS 456:2000, annex E: drift, stability, torsion and joints of buildings."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

DRIFT: Final = 0.004  # of the storey height, 7.11.1.1
NO_SWAY: Final = 0.04  # stability index, IS 456, E-2
IRREGULAR: Final = 1.5  # largest over smallest displacement of a floor, Table 5 (i)


@clause("IS 1893 (Part 1):2016, 7.11.1.1", formula="0.004 h")
def drift_max(h: Any) -> Any:
    """Largest storey drift under the design base shear, load factor 1.

    Parameters
    ----------
    h : float or ndarray
        Storey height [mm].

    Returns
    -------
    drift_max : float or ndarray
        Drift [mm].

    References
    ----------
    IS 1893 (Part 1):2016, 7.11.1.1.

    Examples
    --------
    >>> float(drift_max(3000.0))
    12.0
    """
    return DRIFT * np.asarray(h)


@clause("IS 456:2000, E-2", formula="Q = sum P_u Delta_u/(H_u h_s)")
def Q(P_u: Any, Delta_u: Any, H_u: Any, h_s: Any) -> Any:
    """Stability index of a storey.

    Parameters
    ----------
    P_u : float or ndarray
        Axial loads of all columns and walls of the storey [N].
    Delta_u : float or ndarray
        Elastically computed first-order lateral deflection [mm].
    H_u : float or ndarray
        Lateral force within the storey [N].
    h_s : float or ndarray
        Height of the storey [mm].

    Returns
    -------
    Q : float or ndarray
        Index [-].

    References
    ----------
    IS 456:2000, E-2.

    Examples
    --------
    >>> float(Q(20e6, 6.0, 1e6, 3000.0))
    0.04
    """
    return np.asarray(P_u) * Delta_u / (np.asarray(H_u) * h_s)


@clause("IS 1893 (Part 1):2016, 7.11.3", formula="R_1 Delta_1 + R_2 Delta_2")
def separation(R_1: Any, R_2: Any, Delta_1: Any, Delta_2: Any) -> Any:
    """Separation between adjacent buildings, or units of one, with a joint.

    Parameters
    ----------
    R_1, R_2 : float or ndarray
        Response reduction factors [-].
    Delta_1, Delta_2 : float or ndarray
        Calculated storey displacements [mm].

    Returns
    -------
    separation : float or ndarray
        Width [mm].

    References
    ----------
    IS 1893 (Part 1):2016, 7.11.3.

    Examples
    --------
    >>> float(separation(4.0, 5.0, 6.0, 10.0))
    74.0
    """
    return np.asarray(R_1) * Delta_1 + np.asarray(R_2) * Delta_2
