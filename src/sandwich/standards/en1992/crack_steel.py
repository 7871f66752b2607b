"""EN 1992-1-1:2004, 7.3.2: minimum steel that controls the first cracks."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 7.3.2(2)", formula="k = 1.0 up to h = 300 mm, 0.65 from 800 mm, linear between")
def k(h: Any) -> Any:
    """Coefficient of stresses that balance each other within the section.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    k : float or ndarray
        Coefficient [-].

    References
    ----------
    EN 1992-1-1:2004, 7.3.2(2).

    Examples
    --------
    >>> round(float(k(750.0)), 3)
    0.685
    """
    return np.interp(h, [300.0, 800.0], [1.0, 0.65])


@clause(
    "EN 1992-1-1:2004, 7.3.2(2), (7.2)", formula="k_c = min(0.4 (1 - sigma_c/(k_1 (h/h*) f_ct,eff)), 1), 1 in tension"
)
def k_c(sigma_c: Any, h: Any, f_ct_eff: Any) -> Any:
    """Coefficient of the stress distribution just before cracking, of a rectangular section in bending.

    Parameters
    ----------
    sigma_c : float or ndarray
        Mean stress of the concrete, compression positive [MPa].
    h : float or ndarray
        Thickness [mm].
    f_ct_eff : float or ndarray
        Tensile strength when cracks are first expected [MPa].

    Returns
    -------
    k_c : float or ndarray
        Coefficient [-]; not below zero.

    References
    ----------
    EN 1992-1-1:2004, 7.3.2(2), expression (7.2), k_1 = 1.5 in compression, 2 h*/(3 h) in tension, h* = min(h, 1 m).

    Examples
    --------
    >>> float(k_c(0.0, 300.0, 2.9)), round(float(k_c(-0.375, 800.0, 2.9)), 4)
    (0.4, 0.4776)
    """
    least = np.minimum(h, 1000.0)
    k_1 = np.where(np.asarray(sigma_c) > 0.0, 1.5, 2.0 * least / (3.0 * np.asarray(h)))
    return np.clip(0.4 * (1.0 - sigma_c / (k_1 * (h / least) * f_ct_eff)), 0.0, 1.0)


@clause("EN 1992-1-1:2004, 7.3.2(2), (7.1)", formula="A_s,min = k_c k f_ct,eff A_ct/sigma_s")
def A_s_min(k_c: Any, k: Any, f_ct_eff: Any, A_ct: Any, sigma_s: Any) -> Any:
    """Minimum steel that controls cracking, in the tension zone.

    Parameters
    ----------
    k_c, k : float or ndarray
        Coefficients of the stress distribution and of balanced stresses [-].
    f_ct_eff : float or ndarray
        Tensile strength when cracks are first expected [MPa].
    A_ct : float or ndarray
        Concrete in tension just before cracking, per width [mm].
    sigma_s : float or ndarray
        Stress the bars may have after cracking [MPa].

    Returns
    -------
    A_s_min : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.2(2), expression (7.1).

    Examples
    --------
    >>> round(A_s_min(1.0, 0.685, 2.9, 750.0, 400.0), 4)
    3.7247
    """
    return k_c * k * f_ct_eff * A_ct / sigma_s
