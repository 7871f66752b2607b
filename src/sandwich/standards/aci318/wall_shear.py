"""ACI 318-19, 11.5.4, 11.6, 11.7 and 18.10.4: in-plane shear of walls (SI constants)."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 11.5.4.3, 18.10.4.1", formula="alpha_c = 0.25 up to h_w/l_w = 1.5, 0.17 from 2.0, linear between")
def alpha_c(h_w: Any, l_w: Any) -> Any:
    """Factor of the concrete in the shear strength of a wall.

    Parameters
    ----------
    h_w, l_w : float or ndarray
        Height and length of the wall or segment [mm].

    Returns
    -------
    alpha_c : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 11.5.4.3, 18.10.4.1.

    Examples
    --------
    >>> round(float(alpha_c(3500.0, 2000.0)), 3)
    0.21
    """
    return np.interp(np.asarray(h_w) / l_w, [1.5, 2.0], [0.25, 0.17])


@clause("ACI 318-19, 11.5.4.4", formula="alpha_c = 0.17 (1 + N_u/(3.5 A_g)), 0 or more; N_u negative in tension")
def alpha_c_tension(N_u: Any, A_g: Any) -> Any:
    """The same factor of a wall under net axial tension.

    Parameters
    ----------
    N_u : float or ndarray
        Axial force, tension negative [N].
    A_g : float or ndarray
        Gross area [mm2].

    Returns
    -------
    alpha_c_tension : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 11.5.4.4.

    Examples
    --------
    >>> round(float(alpha_c_tension(-500e3, 500e3)), 4)
    0.1214
    """
    return np.maximum(0.17 * (1.0 + N_u / (3.5 * A_g)), 0.0)


@clause("ACI 318-19, 11.5.4.3, 18.10.4.1", formula="V_n = (alpha_c lambda f_c'^(1/2) + rho_t f_yt) A_cv, lambda = 1")
def V_n(alpha_c: Any, root_f_c: Any, rho_t: Any, f_yt: Any, A_cv: Any) -> Any:
    """Nominal shear strength of a wall in its plane.

    Parameters
    ----------
    alpha_c : float or ndarray
        Factor of the concrete [-].
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    rho_t : float or ndarray
        Ratio of the horizontal bars [-].
    f_yt : float or ndarray
        Their yield strength [MPa].
    A_cv : float or ndarray
        Thickness times length [mm2].

    Returns
    -------
    V_n : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 11.5.4.3, 18.10.4.1.

    Examples
    --------
    >>> V_n(0.25, 5.0, 0.0025, 420.0, 1e6)
    2300000.0
    """
    return (alpha_c * root_f_c + rho_t * f_yt) * A_cv


@clause(
    "ACI 318-19, 11.5.4.2, 18.10.4.4, 18.10.4.5",
    formula="V_n <= 0.66 f_c'^(1/2) A_cv; 0.83 of one pier or a horizontal segment",
)
def V_n_max(root_f_c: Any, A_cv: Any, factor: Any) -> Any:
    """Largest nominal shear strength of a wall in its plane.

    Parameters
    ----------
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cv : float or ndarray
        Thickness times length [mm2].
    factor : float or ndarray
        0.66 or 0.83 [-].

    Returns
    -------
    V_n_max : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 11.5.4.2, 18.10.4.4, 18.10.4.5.

    Examples
    --------
    >>> round(V_n_max(5.0, 1e6, 0.66))
    3300000
    """
    return factor * root_f_c * A_cv


@clause("ACI 318-19, 11.6.2(a)", formula="rho_l = 0.0025 + 0.5 (2.5 - h_w/l_w)(rho_t - 0.0025), 0.0025 or more")
def rho_l_min(h_w: Any, l_w: Any, rho_t: Any) -> Any:
    """Minimum ratio of vertical bars of a wall whose shear asks for bars.

    Parameters
    ----------
    h_w, l_w : float or ndarray
        Height and length of the wall [mm].
    rho_t : float or ndarray
        Ratio of horizontal bars that the strength asks for [-].

    Returns
    -------
    rho_l_min : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, 11.6.2(a).

    Examples
    --------
    >>> round(float(rho_l_min(3000.0, 2000.0, 0.0045)), 4)
    0.0035
    """
    return np.maximum(0.0025 + 0.5 * (2.5 - h_w / l_w) * (rho_t - 0.0025), 0.0025)


@clause(
    "ACI 318-19, 11.7.2.1, 11.7.3.1",
    formula="s = min(3 h, 450 mm, l_w/3 of vertical and l_w/5 of horizontal bars)",
)
def s_max_shear(l_w: Any, h: Any, part: Any) -> Any:
    """Maximum spacing of bars of a wall whose shear asks for bars.

    Parameters
    ----------
    l_w, h : float or ndarray
        Length and thickness of the wall [mm].
    part : float or ndarray
        3 of vertical, 5 of horizontal bars [-].

    Returns
    -------
    s_max_shear : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 11.7.2.1, 11.7.3.1.

    Examples
    --------
    >>> float(s_max_shear(1800.0, 200.0, 5.0))
    360.0
    """
    return np.minimum(np.minimum(3.0 * h, 450.0), l_w / part)
