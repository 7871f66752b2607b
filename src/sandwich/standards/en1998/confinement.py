"""EN 1998-1:2004, 5.4.3.2.2, 5.4.3.4.2 and 5.5.3.2.2: confinement and ties of boundary elements."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.trace import clause


@clause(
    "EN 1998-1:2004, 5.4.3.4.2(4), (5.20)",
    formula="alpha omega_wd >= 30 mu_phi (nu_d + omega_v) eps_sy,d b_c/b_0 - 0.035",
)
def alpha_omega(mu_phi: Any, nu_d: Any, omega_v: Any, eps_sy: Any, b_c: Any, b_0: Any) -> Any:
    """Ratio of confinement that a boundary element has to have.

    Parameters
    ----------
    mu_phi : float or ndarray
        Curvature ductility factor [-].
    nu_d, omega_v : float or ndarray
        Normalised axial force, ratio of the vertical web bars [-].
    eps_sy : float or ndarray
        Design strain of the bars at yield [-].
    b_c, b_0 : float or ndarray
        Gross width, and that of the confined core to the middle of the ties [mm].

    Returns
    -------
    alpha_omega : float or ndarray
        Ratio, zero or more [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(4), (5.20).

    Examples
    --------
    >>> round(float(alpha_omega(5.8, 0.340968, 0.065217, 434.782609 / 200e3, 300.0, 230.0)), 4)
    0.1654
    """
    return np.maximum(30.0 * mu_phi * (np.asarray(nu_d) + omega_v) * eps_sy * b_c / b_0 - 0.035, 0.0)


@clause(
    "EN 1998-1:2004, 5.4.3.2.2(8), (5.16a), (5.17a)",
    formula="(1 - sum b_i^2/(6 b_0 h_0)) (1 - s/(2 b_0)) (1 - s/(2 h_0))",
)
def alpha_confinement(b_i: ArrayLike, b_0: float, h_0: float, s: float) -> float:
    """Effectiveness of the confinement by ties.

    Parameters
    ----------
    b_i : ArrayLike
        Distances between bars that are held, all round [mm].
    b_0, h_0 : float
        Core to the middle of the ties [mm].
    s : float
        Spacing of the ties [mm].

    Returns
    -------
    alpha_confinement : float
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.2.2(8), (5.16a), (5.17a).

    Examples
    --------
    >>> round(alpha_confinement([270.0] * 2 + [107.5] * 8, 270.0, 430.0, 125.0), 4)
    0.4322
    """
    between = 1.0 - float(np.sum(np.asarray(b_i, dtype=float) ** 2)) / (6.0 * b_0 * h_0)
    return max(between, 0.0) * max(1.0 - s / (2.0 * b_0), 0.0) * max(1.0 - s / (2.0 * h_0), 0.0)


@clause(
    "EN 1998-1:2004, 5.4.3.2.2(9), 5.5.3.4.5(10)",
    formula="alpha omega_wd/alpha, 0.08 or more of DCM, 0.12 of DCH",
)
def omega_wd(alpha_omega: Any, alpha: Any, high: Any) -> Any:
    """Mechanical volumetric ratio of the ties in the critical region.

    Parameters
    ----------
    alpha_omega : float or ndarray
        Ratio by (5.20) [-].
    alpha : float or ndarray
        Effectiveness of the confinement [-].
    high : float or ndarray
        Whether of high ductility [-].

    Returns
    -------
    omega_wd : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.2.2(9), 5.5.3.4.5(10).

    Examples
    --------
    >>> float(omega_wd(0.02398, 0.63, False)), float(omega_wd(0.02398, 0.63, True))
    (0.08, 0.12)
    """
    return np.maximum(np.asarray(alpha_omega) / alpha, np.where(high, 0.12, 0.08))


@clause("EN 1998-1:2004, 5.4.3.4.2(6)", formula="0.0035 + 0.1 alpha omega_wd")
def eps_cu2_c(alpha_omega: Any) -> Any:
    """Ultimate strain of the confined concrete.

    Parameters
    ----------
    alpha_omega : float or ndarray
        Effectiveness times mechanical ratio of the ties [-].

    Returns
    -------
    eps_cu2_c : float or ndarray
        Strain [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(6).

    Examples
    --------
    >>> round(eps_cu2_c(0.1654), 5)
    0.02004
    """
    return 0.0035 + 0.1 * alpha_omega


@clause(
    "EN 1998-1:2004, 5.4.3.2.2(11), 5.5.3.2.2(12)",
    formula="DCM: min(b_0/2, 175, 8 d_bL); DCH: min(b_0/2, 125, 6 d_bL)",
)
def s_ties(b_0: Any, d_bL: Any, high: Any) -> Any:
    """Largest spacing of the ties of a boundary element.

    Parameters
    ----------
    b_0 : float or ndarray
        Least dimension of its core [mm].
    d_bL : float or ndarray
        Least diameter of its bars [mm].
    high : float or ndarray
        Whether of high ductility [-].

    Returns
    -------
    s_ties : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.2.2(11), 5.5.3.2.2(12).

    Examples
    --------
    >>> float(s_ties(490.0, 25.0, True)), float(s_ties(230.0, 16.0, False))
    (125.0, 115.0)
    """
    times, most = np.where(high, 6.0, 8.0), np.where(high, 125.0, 175.0)
    return np.minimum(np.minimum(np.asarray(b_0) / 2.0, most), times * np.asarray(d_bL))


@clause("EN 1998-1:2004, 5.4.3.2.2(10), 5.5.3.2.2(12)", formula="6 mm; DCH: 0.4 d_bL (f_yd,L/f_yd,w)^(1/2) or more")
def d_ties(d_bL: Any, f_yd_L: Any, f_yd_w: Any, high: Any) -> Any:
    """Minimum diameter of the ties of a boundary element.

    Parameters
    ----------
    d_bL : float or ndarray
        Largest diameter of its bars [mm].
    f_yd_L, f_yd_w : float or ndarray
        Design strengths of bars and ties [MPa].
    high : float or ndarray
        Whether of high ductility [-].

    Returns
    -------
    d_ties : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.2.2(10), 5.5.3.2.2(12).

    Examples
    --------
    >>> float(d_ties(25.0, 434.78, 434.78, True)), float(d_ties(25.0, 434.78, 434.78, False))
    (10.0, 6.0)
    """
    return np.where(high, np.maximum(0.4 * np.asarray(d_bL) * np.sqrt(np.asarray(f_yd_L) / f_yd_w), 6.0), 6.0)


@clause("EN 1998-1:2004, 5.4.3.2.2(11)b, 5.5.3.2.2(12)c", formula="200 mm of DCM, 150 mm of DCH")
def held_max(high: Any) -> Any:
    """Largest distance between bars of a boundary element that ties hold.

    Parameters
    ----------
    high : float or ndarray
        Whether of high ductility [-].

    Returns
    -------
    held_max : float or ndarray
        Distance [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.2.2(11)b, 5.5.3.2.2(12)c.

    Examples
    --------
    >>> float(held_max(True))
    150.0
    """
    return np.where(high, 150.0, 200.0)


@clause("EN 1998-1:2004, 5.6.3(3)c, (4)", formula="min(h/4, 100 mm, 50 A_st f_ywd/(d_bL f_yld))")
def s_lap(h: Any, A_st: Any, d_bL: Any, f_yld: Any, f_ywd: Any) -> Any:
    """Largest spacing of ties over laps at the ends of a wall.

    Parameters
    ----------
    h : float or ndarray
        Smallest dimension of the section [mm].
    A_st : float or ndarray
        Area of one leg of the ties [mm2].
    d_bL : float or ndarray
        Diameter of the lapped bars [mm].
    f_yld, f_ywd : float or ndarray
        Design yield strengths of bars and ties [MPa].

    Returns
    -------
    s_lap : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1998-1:2004, 5.6.3(3)c, (4).

    Examples
    --------
    >>> float(s_lap(250.0, 50.0, 16.0, 435.0, 435.0)), float(s_lap(500.0, 28.0, 20.0, 435.0, 435.0))
    (62.5, 70.0)
    """
    legs = 50.0 * np.asarray(A_st) * f_ywd / (np.asarray(d_bL) * f_yld)
    return np.minimum(np.minimum(np.asarray(h) / 4.0, 100.0), legs)
