"""EN 1992-1-1:2004, 6.4 with amendment A1:2014: punching of slabs at columns and loaded areas."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 6.4.3(1), (6.38)", formula="v_Ed = beta V_Ed / (u_i d)")
def v_Ed(V_Ed: Any, u_i: Any, d: Any, beta: Any = 1.0) -> Any:
    """Maximum punching stress on a perimeter.

    Parameters
    ----------
    V_Ed : float or ndarray
        Punching force [N].
    u_i : float or ndarray
        Length of the perimeter [mm].
    d : float or ndarray
        Mean effective depth [mm].
    beta : float or ndarray
        Factor of the unbalanced moment [-].

    Returns
    -------
    v_Ed : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.4.3(3), expression (6.38); (6.53) at the face of the column.

    Examples
    --------
    >>> v_Ed(500e3, 2500.0, 200.0, 1.15)
    1.15
    """
    return beta * V_Ed / (u_i * d)


@clause(
    "EN 1992-1-1:2004, 6.4.2(9), (6.34), (6.35)",
    formula="r_cont - 2 d = min(0.56 (l_1 l_2)^(1/2), 0.69 l_1), l_1 <= l_2",
)
def r_head(l_1: Any, l_2: Any) -> Any:
    """Radius of the circle that a rectangular head counts with; its control section lies 2 d further out.

    Parameters
    ----------
    l_1, l_2 : float or ndarray
        Overall sides of the head, in any order [mm].

    Returns
    -------
    r_head : float or ndarray
        Radius [mm].

    References
    ----------
    EN 1992-1-1:2004, 6.4.2(9), (6.34), (6.35).

    Examples
    --------
    >>> round(float(r_head(2000.0, 2400.0)), 1)
    1226.9
    """
    l_1, l_2 = np.minimum(l_1, l_2), np.maximum(l_1, l_2)
    return np.minimum(0.56 * np.sqrt(l_1 * l_2), 0.69 * l_1)


@clause("EN 1992-1-1:2004, 6.4.4(1)", formula="rho_l = (rho_ly rho_lz)^(1/2) <= 0.02")
def rho_l(rho_ly: Any, rho_lz: Any) -> Any:
    """Ratio of tension steel across a perimeter.

    Parameters
    ----------
    rho_ly, rho_lz : float or ndarray
        Ratios of both directions in the width of the column and 3 d each side [-].

    Returns
    -------
    rho_l : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1992-1-1:2004, 6.4.4(1).

    Examples
    --------
    >>> float(rho_l(0.004, 0.009))
    0.006
    """
    return np.minimum(np.sqrt(rho_ly * rho_lz), 0.02)


@clause(
    "EN 1992-1-1:2004, 6.4.4(1), (6.47)",
    formula="v_Rd,c = max(C_Rd,c k (100 rho_l f_ck)^(1/3), v_min) + k_1 sigma_cp",
)
def v_Rd_c(
    k: Any, rho_l: Any, f_ck: Any, v_min: Any, sigma_cp: Any = 0.0, *, C_Rd_c: Any = 0.12, k_1: Any = 0.1
) -> Any:
    """Punching resistance without punching reinforcement.

    Parameters
    ----------
    k, rho_l : float or ndarray
        Size factor and ratio of tension steel [-].
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    v_min, sigma_cp : float or ndarray
        Minimum strength; mean axial stress of both directions, compression positive [MPa].
    C_Rd_c : float
        0.18/gamma_c, nationally determined [MPa^(2/3)].
    k_1 : float
        Factor on the axial stress [-].

    Returns
    -------
    v_Rd_c : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.4.4(1), expression (6.47).

    Examples
    --------
    >>> round(float(v_Rd_c(2.0, 0.006, 30.0, 0.542)), 4)
    0.629
    """
    return np.maximum(np.maximum(C_Rd_c * k * np.cbrt(100.0 * rho_l * f_ck), v_min) + k_1 * sigma_cp, 0.0)


@clause("EN 1992-1-1:2004/A1:2014, 6.4.5(3), (6.53)", formula="v_Rd,max = 0.4 nu f_cd")
def v_Rd_max(nu: Any, f_cd: Any, *, factor: Any = 0.4) -> Any:
    """Maximum punching stress at the face of the column.

    Parameters
    ----------
    nu : float or ndarray
        Reduction factor of (6.6N) [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].
    factor : float
        0.4 since the amendment, 0.5 before; nationally determined [-].

    Returns
    -------
    v_Rd_max : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004 with A1:2014, 6.4.5(3).

    Examples
    --------
    >>> round(v_Rd_max(0.528, 20.0), 3)
    4.224
    """
    return factor * nu * f_cd


@clause("EN 1992-1-1:2004, 6.4.5(4), (6.54)", formula="u_out = beta V_Ed / (v_Rd,c d)")
def u_out(V_Ed: Any, v_Rd_c: Any, d: Any, beta: Any = 1.0) -> Any:
    """Perimeter beyond which no punching reinforcement is needed.

    Parameters
    ----------
    V_Ed : float or ndarray
        Punching force [N].
    v_Rd_c : float or ndarray
        Resistance without reinforcement [MPa].
    d : float or ndarray
        Mean effective depth [mm].
    beta : float or ndarray
        Factor of the unbalanced moment [-].

    Returns
    -------
    u_out : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, 6.4.5(4), expression (6.54).

    Examples
    --------
    >>> round(u_out(500e3, 0.6, 200.0, 1.15), 1)
    4791.7
    """
    return beta * V_Ed / (v_Rd_c * d)


@clause("EN 1992-1-1:2004, 6.4.5(1)", formula="f_ywd,ef = 250 + 0.25 d <= f_ywd")
def f_ywd_ef(d: Any, f_ywd: Any) -> Any:
    """Effective strength of punching reinforcement.

    Parameters
    ----------
    d : float or ndarray
        Mean effective depth [mm].
    f_ywd : float or ndarray
        Design yield strength [MPa].

    Returns
    -------
    f_ywd_ef : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.4.5(1).

    Examples
    --------
    >>> float(f_ywd_ef(200.0, 435.0))
    300.0
    """
    return np.minimum(250.0 + 0.25 * d, f_ywd)


@clause(
    "EN 1992-1-1:2004/A1:2014, 6.4.5(1), (6.52)",
    formula="v_Rd,cs = min(0.75 v_Rd,c + 1.5 (d/s_r) A_sw f_ywd,ef / (u_1 d), k_max v_Rd,c)",
)
def v_Rd_cs(v_Rd_c: Any, d: Any, s_r: Any, A_sw: Any, f_ywd_ef: Any, u_1: Any, *, k_max: Any = 1.5) -> Any:
    """Punching resistance with vertical punching reinforcement.

    Parameters
    ----------
    v_Rd_c : float or ndarray
        Resistance without reinforcement [MPa].
    d, s_r : float or ndarray
        Mean effective depth and radial spacing of the perimeters of reinforcement [mm].
    A_sw : float or ndarray
        Area of one perimeter of reinforcement [mm2].
    f_ywd_ef : float or ndarray
        Effective strength [MPa].
    u_1 : float or ndarray
        Basic control perimeter [mm].
    k_max : float
        Maximum gain; nationally determined [-].

    Returns
    -------
    v_Rd_cs : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.4.5(1), expression (6.52), with the limit of A1:2014.

    Examples
    --------
    >>> round(float(v_Rd_cs(0.6, 200.0, 150.0, 900.0, 300.0, 4000.0)), 3)
    0.9
    """
    return np.minimum(0.75 * v_Rd_c + 1.5 * (d / s_r) * A_sw * f_ywd_ef / (u_1 * d), k_max * v_Rd_c)


@clause(
    "EN 1992-1-1:2004/A1:2014, 6.4.5(1), (6.52) for A_sw",
    formula="A_sw = (v_Ed - 0.75 v_Rd,c) u_1 s_r / (1.5 f_ywd,ef)",
)
def A_sw(v_Ed: Any, v_Rd_c: Any, u_1: Any, s_r: Any, f_ywd_ef: Any) -> Any:
    """Area of one perimeter of vertical punching reinforcement.

    Parameters
    ----------
    v_Ed, v_Rd_c : float or ndarray
        Stress and resistance without reinforcement at the control perimeter [MPa].
    u_1, s_r : float or ndarray
        Control perimeter and radial spacing [mm].
    f_ywd_ef : float or ndarray
        Effective strength [MPa].

    Returns
    -------
    A_sw : float or ndarray
        Area [mm2].

    References
    ----------
    EN 1992-1-1:2004, 6.4.5(1), expression (6.52).

    Examples
    --------
    >>> round(A_sw(0.9, 0.6, 4000.0, 150.0, 300.0), 6)
    600.0
    """
    return (v_Ed - 0.75 * v_Rd_c) * u_1 * s_r / (1.5 * f_ywd_ef)


@clause("EN 1992-1-1:2004, 9.4.3(2), (9.11)", formula="A_sw,min = 0.08 f_ck^(1/2)/f_yk s_r u / 1.5")
def A_sw_min(f_ck: Any, f_yk: Any, s_r: Any, u: Any, *, factor: Any = 0.08) -> Any:
    """Minimum area of one perimeter of vertical punching reinforcement.

    Parameters
    ----------
    f_ck, f_yk : float or ndarray
        Cylinder strength and yield strength of the links [MPa].
    s_r, u : float or ndarray
        Radial spacing, and length over which the legs are spread: their number times s_t [mm].
    factor : float
        0.08 of (9.11) [MPa^(1/2)].

    Returns
    -------
    A_sw_min : float or ndarray
        Area [mm2].

    References
    ----------
    EN 1992-1-1:2004, 9.4.3(2), expression (9.11) with vertical legs.

    Examples
    --------
    >>> round(float(A_sw_min(25.0, 500.0, 150.0, 3000.0)), 1)
    240.0
    """
    return factor * np.sqrt(f_ck) / f_yk * s_r * u / 1.5
