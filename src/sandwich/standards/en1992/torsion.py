"""EN 1992-1-1:2004, 6.3: torsion of closed thin-walled sections."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause


@clause(
    "EN 1992-1-1:2004, 6.3.2(4), (6.30)",
    formula="T_Rd,max = 2 nu f_cd A_k t_ef/(cot theta + tan theta), alpha_cw = 1",
)
def T_Rd_max(nu: Any, f_cd: Any, A_k: Any, t_ef: Any, cot_theta: Any) -> Any:
    """Largest torsion that the struts of a closed section carry.

    Parameters
    ----------
    nu : float or ndarray
        Factor of cracked concrete [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].
    A_k : float or ndarray
        Area inside the middle line of the walls [mm2].
    t_ef : float or ndarray
        Thickness of the thinnest wall [mm].
    cot_theta : float or ndarray
        Slope of the struts [-].

    Returns
    -------
    T_Rd_max : float or ndarray
        Torsion [N mm].

    References
    ----------
    EN 1992-1-1:2004, 6.3.2(4), (6.30).

    Examples
    --------
    >>> T_Rd_max(0.5, 20.0, 1e6, 200.0, 1.0)
    2000000000.0
    """
    return 2.0 * nu * f_cd * A_k * t_ef / (cot_theta + 1.0 / cot_theta)


@clause("EN 1992-1-1:2004, 6.3.1(3), 6.3.2(2), (6.26), (6.8)", formula="T_Rd,s = 2 A_k a_s f_ywd cot theta")
def T_Rd_s(a_s: Any, f_ywd: Any, A_k: Any, cot_theta: Any) -> Any:
    """Torsion that the bars round a closed section carry.

    Parameters
    ----------
    a_s : float or ndarray
        Area of the horizontal bars over their spacing, of the wall that has least [mm2/mm].
    f_ywd : float or ndarray
        Design yield strength [MPa].
    A_k : float or ndarray
        Area inside the middle line of the walls [mm2].
    cot_theta : float or ndarray
        Slope of the struts [-].

    Returns
    -------
    T_Rd_s : float or ndarray
        Torsion [N mm].

    References
    ----------
    EN 1992-1-1:2004, 6.3.1(3), 6.3.2(2), (6.26), (6.8).

    Examples
    --------
    >>> T_Rd_s(1.0, 400.0, 1e6, 1.0)
    800000000.0
    """
    return 2.0 * A_k * a_s * f_ywd * cot_theta


@clause("EN 1992-1-1:2004, 6.3.2(3), (6.28)", formula="T_Rd,l = 2 A_k f_yd (A_sl/u_k)/cot theta")
def T_Rd_l(A_sl: Any, u_k: Any, f_yd: Any, A_k: Any, cot_theta: Any) -> Any:
    """Torsion that the bars along a closed section carry.

    Parameters
    ----------
    A_sl : float or ndarray
        Area of all bars along it [mm2].
    u_k : float or ndarray
        Length of the middle line of the walls [mm].
    f_yd : float or ndarray
        Design yield strength [MPa].
    A_k : float or ndarray
        Area inside that line [mm2].
    cot_theta : float or ndarray
        Slope of the struts [-].

    Returns
    -------
    T_Rd_l : float or ndarray
        Torsion [N mm].

    References
    ----------
    EN 1992-1-1:2004, 6.3.2(3), (6.28).

    Examples
    --------
    >>> T_Rd_l(8000.0, 8000.0, 400.0, 1e6, 1.0)
    800000000.0
    """
    return 2.0 * A_k * f_yd * A_sl / u_k / cot_theta
