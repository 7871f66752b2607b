"""IS 13920:2016, 10.5: coupling beams."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 13920:2016, 10.5.1", formula="0.1 f_ck^(1/2) l_s/D")
def tau_no_diagonals(f_ck: Any, l_s: Any, D: Any) -> Any:
    """Shear stress up to which a coupling beam needs no diagonals.

    Parameters
    ----------
    f_ck : float or ndarray
        Cube strength [MPa].
    l_s, D : float or ndarray
        Clear span and depth of the beam [mm].

    Returns
    -------
    tau_no_diagonals : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 13920:2016, 10.5.1.

    Examples
    --------
    >>> round(float(tau_no_diagonals(30.0, 1040.0, 650.0)), 4)
    0.8764
    """
    return 0.1 * np.sqrt(f_ck) * np.asarray(l_s) / D


@clause("IS 13920:2016, 10.5.2", formula="V_u/(1.74 f_y sin alpha)")
def A_sd(V_u: Any, f_y: Any, alpha: Any) -> Any:
    """Area of the bars of one diagonal of a coupling beam.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    f_y : float or ndarray
        Yield strength [MPa].
    alpha : float or ndarray
        Angle between the diagonals and the axis of the beam [rad].

    Returns
    -------
    A_sd : float or ndarray
        Area [mm2].

    References
    ----------
    IS 13920:2016, 10.5.2.

    Examples
    --------
    >>> round(float(A_sd(389e3, 500.0, 0.440306)))
    1049
    """
    return V_u / (1.74 * f_y * np.sin(alpha))


@clause("IS 13920:2016, 10.5.3", formula="1.5 L_d")
def L_anchored(L_d: Any) -> Any:
    """Anchorage length of bars of a coupling beam in the walls beside it.

    Parameters
    ----------
    L_d : float or ndarray
        Anchorage length in tension of other bars [mm].

    Returns
    -------
    L_anchored : float or ndarray
        Length [mm].

    References
    ----------
    IS 13920:2016, 10.5.3.

    Examples
    --------
    >>> float(L_anchored(800.0))
    1200.0
    """
    return 1.5 * np.asarray(L_d)
