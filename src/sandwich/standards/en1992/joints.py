"""EN 1992-1-1:2004, 6.2.5: sliding along construction joints."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 6.2.5(1), (6.24)", formula="v_Edi = V_Ed/(z b_i), beta = 1")
def v_Edi(V_Ed: Any, z: Any, b_i: Any) -> Any:
    """Shear stress along a joint.

    Parameters
    ----------
    V_Ed : float or ndarray
        Shear force along the joint [N].
    z : float or ndarray
        Lever arm [mm].
    b_i : float or ndarray
        Width of the joint [mm].

    Returns
    -------
    v_Edi : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.2.5(1), (6.24).

    Examples
    --------
    >>> v_Edi(480e3, 2400.0, 200.0)
    1.0
    """
    return V_Ed / (z * b_i)


@clause("EN 1992-1-1:2004, 6.2.5(1), (6.25)", formula="v_Rdi = c f_ctd + mu sigma_n + rho f_yd mu, 0.5 nu f_cd or less")
def v_Rdi(c: Any, f_ctd: Any, mu: Any, sigma_n: Any, rho: Any, f_yd: Any, nu: Any, f_cd: Any) -> Any:
    """Shear resistance of a joint crossed by bars at right angles.

    Parameters
    ----------
    c : float or ndarray
        Factor of the bond by the roughness [-].
    f_ctd : float or ndarray
        Design tensile strength [MPa].
    mu : float or ndarray
        Coefficient of friction by the roughness [-].
    sigma_n : float or ndarray
        Stress across the joint, compression positive, 0.6 f_cd counts at most [MPa].
    rho : float or ndarray
        Ratio of the bars that cross it [-].
    f_yd : float or ndarray
        Design yield strength [MPa].
    nu : float or ndarray
        Factor of cracked concrete [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].

    Returns
    -------
    v_Rdi : float or ndarray
        Stress [MPa]; without the bond of c where the joint is pulled open.

    References
    ----------
    EN 1992-1-1:2004, 6.2.5(1), (6.25).

    Examples
    --------
    >>> round(float(v_Rdi(0.4, 1.35, 0.7, 1.0, 0.003, 435.0, 0.528, 20.0)), 3)
    2.153
    """
    bond = np.where(np.asarray(sigma_n) < 0.0, 0.0, c) * f_ctd
    pressed = np.minimum(sigma_n, 0.6 * f_cd)
    return np.clip(bond + mu * pressed + rho * f_yd * mu, 0.0, 0.5 * nu * f_cd)
