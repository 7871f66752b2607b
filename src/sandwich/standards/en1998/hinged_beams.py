"""EN 1998-1:2004, 5.4.2.2, 5.4.3.1, 5.5.3.1: shear and links of beams, of coupling beams without diagonals, too."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

GAMMA_RD: Final = {"DCM": 1.0, "DCH": 1.2}  # 5.4.2.2(2)b, 5.5.2.1(2)


@clause(
    "EN 1998-1:2004, 5.4.2.2, 5.5.2.1",
    formula="gamma_Rd (M_Rb,1 + M_Rb,2)/l_cl + V_g; gamma_Rd 1.0 of DCM, 1.2 of DCH",
)
def V_hinges(M_Rb_1: Any, M_Rb_2: Any, l_cl: Any, V_g: Any, gamma_Rd: Any) -> Any:
    """Shear of a beam by its hinges at both ends and the load between.

    Parameters
    ----------
    M_Rb_1, M_Rb_2 : float or ndarray
        Moments carried at both ends [N mm].
    l_cl : float or ndarray
        Clear span [mm].
    V_g : float or ndarray
        Shear by the load beside the earthquake [N].
    gamma_Rd : float or ndarray
        Overstrength [-].

    Returns
    -------
    V_hinges : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.4.2.2, 5.5.2.1.

    Examples
    --------
    >>> float(V_hinges(200e6, 200e6, 1000.0, 10e3, 1.2))
    490000.0
    """
    return gamma_Rd * (np.asarray(M_Rb_1) + M_Rb_2) / l_cl + V_g


@clause(
    "EN 1998-1:2004, 5.4.3.1.2(6)c, 5.5.3.1.3(6)c",
    formula="DCM: min(h_w/4, 24 d_bw, 225, 8 d_bL); DCH: min(h_w/4, 24 d_bw, 175, 6 d_bL)",
)
def s_links(h_w: Any, d_bw: Any, d_bL: Any, high: Any) -> Any:
    """Largest spacing of the links in the critical regions of a beam.

    Parameters
    ----------
    h_w : float or ndarray
        Depth of the beam [mm].
    d_bw, d_bL : float or ndarray
        Diameters of the links and of the smallest bar [mm].
    high : float or ndarray
        Whether of high ductility [-].

    Returns
    -------
    s_links : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.1.2(6)c, 5.5.3.1.3(6)c.

    Examples
    --------
    >>> float(s_links(800.0, 8.0, 16.0, False)), float(s_links(800.0, 8.0, 16.0, True))
    (128.0, 96.0)
    """
    times, most = np.where(high, 6.0, 8.0), np.where(high, 175.0, 225.0)
    own = np.minimum(24.0 * np.asarray(d_bw), times * np.asarray(d_bL))
    return np.minimum(np.minimum(np.asarray(h_w) / 4.0, own), most)


@clause("EN 1998-1:2004, 5.5.3.5(3)d; EN 1992-1-1, 9.7(2)", formula="min(2 b_w, 300 mm)")
def s_deep(b_w: Any) -> Any:
    """Largest spacing of the bars at the faces of a coupling beam with diagonals.

    Parameters
    ----------
    b_w : float or ndarray
        Width of the beam [mm].

    Returns
    -------
    s_deep : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1998-1:2004, 5.5.3.5(3)d; EN 1992-1-1, 9.7(2).

    Examples
    --------
    >>> float(s_deep(250.0))
    300.0
    """
    return np.minimum(2.0 * np.asarray(b_w), 300.0)
