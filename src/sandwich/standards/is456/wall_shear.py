"""IS 456:2000, 32.4: in-plane shear of walls."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 32.4.2", formula="tau_vw = V_u/(t d), d = 0.8 L_w")
def tau_vw(V_u: Any, t: Any, L_w: Any) -> Any:
    """Nominal shear stress of a wall.

    Parameters
    ----------
    V_u : float or ndarray
        Shear force [N].
    t, L_w : float or ndarray
        Thickness and length [mm].

    Returns
    -------
    tau_vw : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 32.4.2.

    Examples
    --------
    >>> tau_vw(320e3, 200.0, 2000.0)
    1.0
    """
    return V_u / (t * 0.8 * L_w)


@clause("IS 456:2000, 32.4.2.1", formula="tau_vw <= 0.17 f_ck")
def tau_vw_max(f_ck: Any) -> Any:
    """Largest nominal shear stress of a wall in the limit state.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    tau_vw_max : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 32.4.2.1.

    Examples
    --------
    >>> round(tau_vw_max(30.0), 2)
    5.1
    """
    return 0.17 * f_ck


@clause(
    "IS 456:2000, 32.4.3",
    formula="r = H_w/L_w: (3 - r) 0.2 f_ck^0.5; past r = 1 up to 0.045 f_ck^0.5 (r + 1)/(r - 1), 0.15 f_ck^0.5 or more",
)
def tau_cw(f_ck: Any, H_w: Any, L_w: Any) -> Any:
    """Design shear strength of the concrete of a wall.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].
    H_w, L_w : float or ndarray
        Height and length of the wall [mm].

    Returns
    -------
    tau_cw : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 32.4.3.

    Examples
    --------
    >>> round(float(tau_cw(25.0, 3000.0, 3000.0)), 3), round(float(tau_cw(25.0, 6000.0, 3000.0)), 3)
    (2.0, 0.75)
    """
    ratio = np.asarray(H_w, dtype=float) / L_w
    root = np.sqrt(f_ck)
    low = (3.0 - ratio) * 0.2 * root
    high = 0.045 * root * (ratio + 1.0) / np.maximum(ratio - 1.0, 1e-9)
    return np.where(ratio <= 1.0, low, np.maximum(np.minimum(low, high), 0.15 * root))


@clause("IS 456:2000, 32.4.4", formula="V_us = 0.87 f_y rho t 0.8 L_w")
def V_us(rho: Any, f_y: Any, t: Any, L_w: Any) -> Any:
    """Shear force that bars of a wall carry.

    Parameters
    ----------
    rho : float or ndarray
        Ratio of the bars [-].
    f_y : float or ndarray
        Their yield strength [MPa].
    t, L_w : float or ndarray
        Thickness and length of the wall [mm].

    Returns
    -------
    V_us : float or ndarray
        Force [N].

    References
    ----------
    IS 456:2000, 32.4.4.

    Examples
    --------
    >>> round(V_us(0.0025, 500.0, 200.0, 2000.0))
    348000
    """
    return 0.87 * f_y * rho * t * 0.8 * L_w
