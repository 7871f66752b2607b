"""EN 1992-1-1:2004, 6.2.3 and 9.2.2: transverse shear with vertical links."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LINKS_FROM: Final = 200.0  # mm, thickness of a slab with shear reinforcement, 9.3.2(1)


@clause("EN 1992-1-1:2004, 6.2.2(6), (6.6N)", formula="nu_1 = 0.6 (1 - f_ck/250)")
def nu_1(f_ck: Any, *, factor: Any = 0.6) -> Any:
    """Reduction factor for concrete cracked in shear.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    factor : float
        Nationally determined factor [-].

    Returns
    -------
    nu_1 : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 6.2.2(6), expression (6.6N); 6.2.3(3).

    Examples
    --------
    >>> nu_1(30.0)
    0.528
    """
    return factor * (1.0 - f_ck / 250.0)


@clause("EN 1992-1-1:2004, 6.2.3(3), (6.9)", formula="v_Rd,max = z nu_1 f_cd / (cot theta + tan theta)")
def v_Rd_max(z: Any, nu_1: Any, f_cd: Any, cot_theta: Any = 1.0) -> Any:
    """Strut limit of a section with vertical links, per unit width, without prestress.

    Parameters
    ----------
    z : float or ndarray
        Lever arm [mm].
    nu_1 : float or ndarray
        Reduction factor [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].
    cot_theta : float or ndarray
        Inclination of the struts [-].

    Returns
    -------
    v_Rd_max : float or ndarray
        Resistance [N/mm].

    References
    ----------
    EN 1992-1-1:2004, 6.2.3(3), expression (6.9) with alpha_cw = 1.

    Examples
    --------
    >>> round(v_Rd_max(180.0, 0.528, 20.0), 1)
    950.4
    """
    return z * nu_1 * f_cd / (cot_theta + 1.0 / cot_theta)


@clause("EN 1992-1-1:2004, 6.2.3(3), (6.8)", formula="v_Rd,s = a_sw z f_ywd cot theta")
def v_Rd_s(a_sw: Any, z: Any, f_ywd: Any, cot_theta: Any = 1.0) -> Any:
    """Resistance of vertical links, per unit width.

    Parameters
    ----------
    a_sw : float or ndarray
        Area of links over the area of the plan they serve [-].
    z : float or ndarray
        Lever arm [mm].
    f_ywd : float or ndarray
        Design yield strength of the links [MPa].
    cot_theta : float or ndarray
        Inclination of the struts [-].

    Returns
    -------
    v_Rd_s : float or ndarray
        Resistance [N/mm].

    References
    ----------
    EN 1992-1-1:2004, 6.2.3(3), expression (6.8), A_sw/(s b).

    Examples
    --------
    >>> round(v_Rd_s(0.002, 180.0, 435.0), 1)
    156.6
    """
    return a_sw * z * f_ywd * cot_theta


@clause("EN 1992-1-1:2004, 6.2.3(3)", formula="a_sw = v_Ed / (z f_ywd cot theta)")
def a_sw(v_Ed: Any, z: Any, f_ywd: Any, cot_theta: Any = 1.0) -> Any:
    """Links that a shear force asks for, over the area of the plan.

    Parameters
    ----------
    v_Ed : float or ndarray
        Shear force [N/mm].
    z : float or ndarray
        Lever arm [mm].
    f_ywd : float or ndarray
        Design yield strength of the links [MPa].
    cot_theta : float or ndarray
        Inclination of the struts [-].

    Returns
    -------
    a_sw : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    EN 1992-1-1:2004, 6.2.3(3), expression (6.8).

    Examples
    --------
    >>> round(a_sw(156.6, 180.0, 435.0), 6)
    0.002
    """
    return v_Ed / (z * f_ywd * cot_theta)


@clause(
    "EN 1992-1-1:2004, 6.2.3(2), (6.7N); (6.9)",
    formula="largest cot theta in [1, 2.5] with v_Ed (cot + tan) <= z nu_1 f_cd; nan where there is none",
)
def cot_theta(v_Ed: Any, z: Any, nu_1: Any, f_cd: Any, *, most: Any = 2.5) -> Any:
    """Flattest struts that a shear force allows.

    Parameters
    ----------
    v_Ed : float or ndarray
        Shear force [N/mm].
    z : float or ndarray
        Lever arm [mm].
    nu_1 : float or ndarray
        Reduction factor [-].
    f_cd : float or ndarray
        Design compressive strength [MPa].
    most : float
        Maximum cot theta [-]; nationally determined.

    Returns
    -------
    cot_theta : float or ndarray
        Inclination [-].

    References
    ----------
    EN 1992-1-1:2004, 6.2.3(2), expression (6.7N), and 6.2.3(3), expression (6.9).

    Examples
    --------
    >>> float(cot_theta(100.0, 180.0, 0.528, 20.0))
    2.5
    """
    ratio = z * nu_1 * f_cd / np.maximum(v_Ed, 1e-12)
    flattest = (ratio + np.sqrt(np.maximum(ratio**2 - 4.0, 0.0))) / 2.0
    return np.where(ratio >= 2.0, np.minimum(flattest, most), np.nan)


@clause("EN 1992-1-1:2004, 9.2.2(5), (9.5N); 9.3.2(2)", formula="rho_w,min = 0.08 f_ck^(1/2) / f_yk")
def rho_w_min(f_ck: Any, f_yk: Any, *, factor: Any = 0.08) -> Any:
    """Minimum ratio of links where links are asked for.

    Parameters
    ----------
    f_ck, f_yk : float or ndarray
        Cylinder and yield strength [MPa].
    factor : float
        Nationally determined factor [MPa^(1/2)].

    Returns
    -------
    rho_w_min : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    EN 1992-1-1:2004, 9.2.2(5), expression (9.5N), and 9.3.2(2) for slabs.

    Examples
    --------
    >>> round(float(rho_w_min(30.0, 500.0)), 6)
    0.000876
    """
    return factor * np.sqrt(f_ck) / f_yk
