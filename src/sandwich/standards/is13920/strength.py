"""IS 13920:2016, Annex A: moment of a wall with evenly spread bars beside its axial force."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


def _alpha_1(phi: Any, beta: Any) -> Any:
    """Coefficient alpha_1 of Annex A."""
    beta = np.asarray(beta)
    return 0.36 + np.asarray(phi) * (1.0 - beta / 2.0 - 1.0 / (2.0 * beta))


@clause(
    "IS 13920:2016, Annex A",
    formula="(phi + lambda)/(2 phi + 0.36) to 1/(1 + beta), else alpha_1 x^2 + (phi/beta - lambda) x = phi/(2 beta)",
)
def x_u_web(lambda_: Any, phi: Any, beta: Any) -> Any:
    """Depth of the neutral axis of a wall with even bars, over its length.

    Parameters
    ----------
    lambda_ : float or ndarray
        P_u/(f_ck t_w l_w) [-].
    phi : float or ndarray
        0.87 f_y rho/f_ck [-].
    beta : float or ndarray
        0.87 f_y/(0.0035 E_s) [-].

    Returns
    -------
    x_u_web : float or ndarray
        Ratio, nan past 1 [-].

    References
    ----------
    IS 13920:2016, Annex A.

    Examples
    --------
    >>> round(float(x_u_web(0.160333, 0.057768, 0.515786)), 4)
    0.4586
    """
    near = (np.asarray(phi) + lambda_) / (2.0 * np.asarray(phi) + 0.36)
    a, b = _alpha_1(phi, beta), np.asarray(phi) / beta - lambda_
    far = (-b + np.sqrt(b * b + 2.0 * a * np.asarray(phi) / beta)) / (2.0 * a)
    found = np.where(near <= 1.0 / (1.0 + np.asarray(beta)), near, far)
    return np.where(found <= 1.0, found, np.nan)


@clause(
    "IS 13920:2016, Annex A",
    formula="(phi + lambda)(1/2 - 0.416 x) - phi x^2 (0.168 + beta^2/3); else a_1 x - a_2 x^2 - a_3 - lambda/2",
)
def M_uv(lambda_: Any, phi: Any, beta: Any) -> Any:
    """Moment of a wall with even bars beside its axial force, over f_ck t_w l_w^2.

    Parameters
    ----------
    lambda_ : float or ndarray
        P_u/(f_ck t_w l_w) [-].
    phi : float or ndarray
        0.87 f_y rho/f_ck [-].
    beta : float or ndarray
        0.87 f_y/(0.0035 E_s) [-].

    Returns
    -------
    M_uv : float or ndarray
        Ratio, nan where the whole section is compressed [-].

    References
    ----------
    IS 13920:2016, Annex A.

    Examples
    --------
    >>> round(float(M_uv(0.160333, 0.057768, 0.515786)), 4)
    0.0643
    """
    x = x_u_web(lambda_, phi, beta)
    phi = np.asarray(phi)
    near = (phi + lambda_) * (0.5 - 0.416 * x) - phi * x**2 * (0.168 + np.asarray(beta) ** 2 / 3.0)
    alpha_2 = 0.15 + phi / 2.0 * (1.0 - beta + np.asarray(beta) ** 2 / 3.0 - 1.0 / (3.0 * np.asarray(beta)))
    alpha_3 = phi / (6.0 * np.asarray(beta)) * (1.0 / x - 3.0)
    far = _alpha_1(phi, beta) * x - alpha_2 * x**2 - alpha_3 - np.asarray(lambda_) / 2.0
    return np.where(x <= 1.0 / (1.0 + np.asarray(beta)), near, far)
