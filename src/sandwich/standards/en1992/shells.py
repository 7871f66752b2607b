"""EN 1992-2:2005, Annex LL and 6.109: uncracked shells, and compressed concrete of cracked layers."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

MAX_TURN: Final = 15.0  # degrees, 6.109(103)


@clause(
    "EN 1992-2:2005, Annex LL, (LL.101)",
    formula="Phi = alpha J_2/f_cm^2 + lambda J_2^(1/2)/f_cm + beta I_1/f_cm - 1, uncracked where Phi <= 0",
)
def Phi(sigma_1: Any, sigma_2: Any, f_cm: Any, f_ctm: Any) -> Any:
    """Cracking criterion of a plane state of stress.

    Parameters
    ----------
    sigma_1, sigma_2 : float or ndarray
        Principal stresses, tension positive; the third is zero [MPa].
    f_cm, f_ctm : float or ndarray
        Mean compressive and tensile strength [MPa].

    Returns
    -------
    Phi : float or ndarray
        Criterion [-].

    References
    ----------
    EN 1992-2:2005, Annex LL, (LL.101) to (LL.110); N. S. Ottosen, 1977.

    Examples
    --------
    >>> round(float(Phi(-38.0, 0.0, 38.0, 2.9)), 2), float(Phi(0.0, 0.0, 38.0, 2.9))
    (0.01, -1.0)
    """
    k = np.asarray(f_ctm) / f_cm
    alpha, beta = 1.0 / (9.0 * k**1.4), 1.0 / (3.7 * k**1.1)
    c_1, c_2 = 1.0 / (0.7 * k**0.9), 1.0 - 6.8 * (k - 0.07) ** 2
    a, b = np.asarray(sigma_1, dtype=float), np.asarray(sigma_2, dtype=float)
    I_1 = a + b
    J_2 = ((a - b) ** 2 + a**2 + b**2) / 6.0
    mean = I_1 / 3.0
    J_3 = -(a - mean) * (b - mean) * mean
    ratio = np.where(J_2 > 0.0, 1.5 * np.sqrt(3.0) * J_3 / np.maximum(J_2, 1e-30) ** 1.5, 0.0)
    cos_3 = np.clip(ratio, -1.0, 1.0)
    low = c_1 * np.cos(np.pi / 3.0 - np.arccos(np.clip(-c_2 * cos_3, -1.0, 1.0)) / 3.0)
    high = c_1 * np.cos(np.arccos(np.clip(c_2 * cos_3, -1.0, 1.0)) / 3.0)
    factor = np.where(cos_3 >= 0.0, high, low)
    return alpha * J_2 / f_cm**2 + factor * np.sqrt(J_2) / f_cm + beta * I_1 / f_cm - 1.0


@clause("EN 1992-2:2005, 6.109(103), (6.110)", formula="sigma_cd,max = 0.85 f_cd (1 + 3.80 alpha)/(1 + alpha)^2")
def sigma_cd_whole(f_cd: Any, alpha: Any = 0.0) -> Any:
    """Strength of a layer that is compressed both ways.

    Parameters
    ----------
    f_cd : float or ndarray
        Design compressive strength [MPa].
    alpha : float or ndarray
        Smaller over greater compression, up to 1; zero where it is compressed one way [-].

    Returns
    -------
    sigma_cd_whole : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-2:2005, 6.109(103), expression (6.110).

    Examples
    --------
    >>> sigma_cd_whole(20.0), sigma_cd_whole(20.0, 1.0)
    (17.0, 20.4)
    """
    return 0.85 * f_cd * (1.0 + 3.80 * alpha) / (1.0 + alpha) ** 2


@clause(
    "EN 1992-2:2005, 6.109(103), (6.112)",
    formula="sigma_cd,max = nu f_cd (1 - 0.032 |theta - theta_el|), up to 15 degrees",
)
def sigma_cd_max(nu: Any, f_cd: Any, turned: Any = 0.0, *, factor: Any = 0.032) -> Any:
    """Strength of a cracked layer whose compression is turned from that of the uncracked shell.

    Parameters
    ----------
    nu : float or ndarray
        Reduction factor of (6.6N) [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].
    turned : float or ndarray
        |theta - theta_el|, the angle between compression in the design and in the uncracked elastic shell [deg];
        beyond 15 degrees the rule does not hold, and the value at 15 is given.
    factor : float
        0.032 of (6.112) [1/deg].

    Returns
    -------
    sigma_cd_max : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-2:2005, 6.109(103), expression (6.112).

    Examples
    --------
    >>> round(float(sigma_cd_max(0.528, 20.0, 10.0)), 3), round(float(sigma_cd_max(0.528, 20.0, 15.1)), 3)
    (7.181, 5.491)
    """
    return nu * f_cd * (1.0 - factor * np.minimum(turned, MAX_TURN))
