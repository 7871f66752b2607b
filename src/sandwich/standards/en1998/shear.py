"""EN 1998-1:2004, 5.5.3.4: shear resistance and sliding of walls of high ductility."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LEVER: Final = 0.8  # of the length of a wall, 5.5.3.4.2


@clause(
    "EN 1998-1:2004, 5.5.3.4.2(1)",
    formula="alpha_cw b_w z nu_1 f_cd/2, z = 0.8 l_w, struts of 45 degrees; 0.4 of it in the critical region",
)
def V_Rd_max_dch(b_w: Any, l_w: Any, nu_1: Any, f_cd: Any, critical: Any) -> Any:
    """Shear by the struts of the web of a wall of high ductility.

    Parameters
    ----------
    b_w, l_w : float or ndarray
        Thickness and length of the wall [mm].
    nu_1 : float or ndarray
        Strength factor of cracked concrete in shear, EN 1992-1-1, (6.6N) [-].
    f_cd : float or ndarray
        Design strength of the concrete [MPa].
    critical : float or ndarray
        Whether in the critical region [-].

    Returns
    -------
    V_Rd_max_dch : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.2(1).

    Examples
    --------
    >>> round(float(V_Rd_max_dch(300.0, 5800.0, 0.516, 70 / 3, False)) / 1e3)
    8380
    """
    return np.where(critical, 0.4, 1.0) * b_w * LEVER * l_w * nu_1 * f_cd / 2.0


@clause(
    "EN 1998-1:2004, 5.5.3.4.3(1), (2), (5.39)",
    formula="alpha_s = M_Ed/(V_Ed l_w) from 2: rho_h f_yd,h b_w z; below: V_Rd,c + 0.75 rho_h f_yd,h b_w alpha_s l_w",
)
def V_Rd_web_dch(alpha_s: Any, V_Rd_c: Any, rho_h: Any, f_yd: Any, b_w: Any, l_w: Any) -> Any:
    """Shear by the web bars of a wall of high ductility.

    Parameters
    ----------
    alpha_s : float or ndarray
        Shear span ratio [-].
    V_Rd_c : float or ndarray
        Shear without bars, zero under tension in the critical region [N].
    rho_h : float or ndarray
        Ratio of the horizontal bars [-].
    f_yd : float or ndarray
        Their design strength [MPa].
    b_w, l_w : float or ndarray
        Thickness and length of the wall [mm].

    Returns
    -------
    V_Rd_web_dch : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.3(1), (2), (5.39).

    Examples
    --------
    >>> round(float(V_Rd_web_dch(1.339823, 835e3, 0.0025, 434.782609, 300.0, 5800.0)) / 1e3)
    2736
    """
    bars = np.asarray(rho_h) * f_yd * b_w * l_w
    return np.where(np.asarray(alpha_s) >= 2.0, LEVER * bars, V_Rd_c + 0.75 * bars * alpha_s)


@clause("EN 1998-1:2004, 5.5.3.4.3(3), (5.40)", formula="rho_h f_yd,h b_w z <= rho_v f_yd,v b_w z + min N_Ed")
def V_vertical_dch(rho_v: Any, f_yd: Any, b_w: Any, l_w: Any, N_Ed: Any) -> Any:
    """Horizontal bars that the vertical ones and the axial force can balance, as a shear.

    Parameters
    ----------
    rho_v : float or ndarray
        Ratio of the vertical web bars [-].
    f_yd : float or ndarray
        Their design strength [MPa].
    b_w, l_w : float or ndarray
        Thickness and length of the wall [mm].
    N_Ed : float or ndarray
        Least axial force, compression positive [N].

    Returns
    -------
    V_vertical_dch : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.3(3), (5.40).

    Examples
    --------
    >>> round(float(V_vertical_dch(0.003, 434.782609, 300.0, 5800.0, 6090e3)) / 1e3)
    7906
    """
    return np.asarray(rho_v) * f_yd * b_w * LEVER * l_w + N_Ed


@clause("EN 1998-1:2004, 5.5.3.4.4(2), (5.42)", formula="min(1.3 A_sj (f_cd f_yd)^(1/2), 0.25 f_yd A_sj)")
def V_dd(A_sj: Any, f_cd: Any, f_yd: Any) -> Any:
    """Sliding shear by dowel action of vertical bars.

    Parameters
    ----------
    A_sj : float or ndarray
        Area of the vertical bars of the web, and those placed in the ends for it [mm2].
    f_cd, f_yd : float or ndarray
        Design strengths [MPa].

    Returns
    -------
    V_dd : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.4(2), (5.42).

    Examples
    --------
    >>> round(float(V_dd(5320.0, 23.333333, 434.782609)))
    578261
    """
    return np.asarray(A_sj) * np.minimum(1.3 * np.sqrt(np.asarray(f_cd) * f_yd), 0.25 * np.asarray(f_yd))


@clause("EN 1998-1:2004, 5.5.3.4.4(2), (5.43)", formula="A_si f_yd cos phi")
def V_id(A_si: Any, f_yd: Any, phi: Any) -> Any:
    """Sliding shear by inclined bars.

    Parameters
    ----------
    A_si : float or ndarray
        Area of the inclined bars in each direction [mm2].
    f_yd : float or ndarray
        Design strength [MPa].
    phi : float or ndarray
        Angle to the plane of sliding [rad].

    Returns
    -------
    V_id : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.4(2), (5.43).

    Examples
    --------
    >>> round(float(V_id(1200.0, 434.782609, 0.785398)))
    368925
    """
    return np.asarray(A_si) * f_yd * np.cos(phi)


@clause("EN 1998-1:2004, 5.5.3.4.4(2), (5.44)", formula="mu_f ((A_sj f_yd + N_Ed) xi + M_Ed/z), V_fd,max or less")
def V_fd(mu_f: Any, clamp: Any, xi: Any, M_Ed: Any, z: Any, most: Any) -> Any:
    """Sliding shear by friction of the compressed zone.

    Parameters
    ----------
    mu_f : float or ndarray
        Friction: 0.6 of smooth, 0.7 of rough surfaces [-].
    clamp : float or ndarray
        A_sj f_yd + N_Ed, compression positive [N].
    xi : float or ndarray
        Depth of the neutral axis over the length [-].
    M_Ed, z : float or ndarray
        Moment [N mm] and lever arm [mm].
    most : float or ndarray
        Its limit by the struts [N].

    Returns
    -------
    V_fd : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.4(2), (5.44).

    Examples
    --------
    >>> round(float(V_fd(0.7, 5860e3, 0.5, 15e9, 3040.0, 4575e3)) / 1e3)
    4575
    """
    return np.minimum(mu_f * (np.asarray(clamp) * xi + np.asarray(M_Ed) / z), most)


@clause("EN 1998-1:2004, 5.5.3.4.4(2), (5.44)", formula="0.5 eta f_cd xi l_w b_w, eta = 0.6 (1 - f_ck/250)")
def V_fd_max(f_ck: Any, f_cd: Any, xi: Any, l_w: Any, b_w: Any) -> Any:
    """Largest sliding shear by friction.

    Parameters
    ----------
    f_ck, f_cd : float or ndarray
        Strengths of the concrete [MPa].
    xi : float or ndarray
        Depth of the neutral axis over the length [-].
    l_w, b_w : float or ndarray
        Length and thickness [mm].

    Returns
    -------
    V_fd_max : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.4(2), (5.44).

    Examples
    --------
    >>> round(V_fd_max(35.0, 70 / 3, 0.5, 3800.0, 400.0) / 1e3)
    4575
    """
    return 0.3 * (1.0 - f_ck / 250.0) * f_cd * xi * l_w * b_w


@clause(
    "EN 1998-1:2004, 5.5.3.4.5(17), (5.49)",
    formula="(1.3 f_ctd - N_Ed/A_w)/(f_yd (1 + 1.5 (f_cd/f_yd)^(1/2))), 0.0025 or more",
)
def rho_joint(f_ctd: Any, f_cd: Any, f_yd: Any, N_Ed: Any, A_w: Any) -> Any:
    """Minimum ratio of bars across a construction joint of a wall of high ductility.

    Parameters
    ----------
    f_ctd, f_cd, f_yd : float or ndarray
        Design strengths [MPa].
    N_Ed : float or ndarray
        Least axial force, compression positive [N].
    A_w : float or ndarray
        Area of the section [mm2].

    Returns
    -------
    rho_joint : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1998-1:2004, 5.5.3.4.5(17), (5.49).

    Examples
    --------
    >>> float(rho_joint(1.2, 20.0, 434.78, 2700e3, 880e3)), round(float(rho_joint(1.2, 20.0, 434.78, 0.0, 1e6)), 5)
    (0.0025, 0.00271)
    """
    need = (1.3 * np.asarray(f_ctd) - np.asarray(N_Ed) / A_w) / (f_yd * (1.0 + 1.5 * np.sqrt(np.asarray(f_cd) / f_yd)))
    return np.maximum(need, 0.0025)
