"""IS 13920:2016, 10.1, 10.2 and 10.7: dimensions, bars and shear of ductile walls."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LEVER: Final = 0.8  # of the length of a wall, 10.2.1
L_T_MIN: Final = 4.0  # length over thickness, 10.1.3
CLASSES: Final = ((1.0, "squat"), (2.0, "intermediate"))  # h_w/l_w, 10.1.4; slender above


def wall_class(h_w: float, l_w: float) -> str:
    """Whether a wall is squat, intermediate or slender.

    References
    ----------
    IS 13920:2016, 10.1.4.

    Examples
    --------
    >>> wall_class(6300.0, 6100.0), wall_class(34200.0, 6500.0)
    ('intermediate', 'slender')
    """
    ratio = h_w / l_w
    if ratio < CLASSES[0][0]:
        return CLASSES[0][1]
    return CLASSES[1][1] if ratio <= CLASSES[1][0] else "slender"


@clause("IS 13920:2016, 10.1.2", formula="150 mm, 300 mm of coupled walls")
def t_w_min(coupled: Any) -> Any:
    """Minimum thickness of a wall.

    Parameters
    ----------
    coupled : float or ndarray
        Whether coupling beams join it to others [-].

    Returns
    -------
    t_w_min : float or ndarray
        Thickness [mm].

    References
    ----------
    IS 13920:2016, 10.1.2.

    Examples
    --------
    >>> float(t_w_min(False)), float(t_w_min(True))
    (150.0, 300.0)
    """
    return np.where(coupled, 300.0, 150.0)


@clause("IS 13920:2016, 10.1.5", formula="min(actual, half of the distance to the next web, h_w/10)")
def flange_width(actual: Any, distance: Any, h_w: Any) -> Any:
    """Effective width of a flange on one side of a web.

    Parameters
    ----------
    actual : float or ndarray
        Width of the flange from the face of the web [mm].
    distance : float or ndarray
        From the face of the web to that of the next [mm].
    h_w : float or ndarray
        Height of the wall [mm].

    Returns
    -------
    flange_width : float or ndarray
        Width [mm].

    References
    ----------
    IS 13920:2016, 10.1.5.

    Examples
    --------
    >>> float(flange_width(4000.0, 6000.0, 15e3))
    1500.0
    """
    return np.minimum(np.minimum(actual, np.asarray(distance) / 2.0), np.asarray(h_w) / 10.0)


@clause("IS 13920:2016, 10.1.7", formula="tau_v > 0.25 f_ck^(1/2) or t_w >= 200 mm")
def two_curtains(tau_v: Any, f_ck: Any, t_w: Any) -> Any:
    """Whether a wall has to have two curtains.

    Parameters
    ----------
    tau_v : float or ndarray
        Shear stress [MPa].
    f_ck : float or ndarray
        Cube strength [MPa].
    t_w : float or ndarray
        Thickness [mm].

    Returns
    -------
    two_curtains : bool or ndarray
        Whether it has [-].

    References
    ----------
    IS 13920:2016, 10.1.7.

    Examples
    --------
    >>> bool(two_curtains(1.0, 25.0, 180.0)), bool(two_curtains(1.0, 25.0, 200.0))
    (False, True)
    """
    return (np.asarray(tau_v) > 0.25 * np.sqrt(f_ck)) | (np.asarray(t_w) >= 200.0)


@clause("IS 13920:2016, 10.1.8", formula="t_w/10")
def d_max(t_w: Any) -> Any:
    """Largest diameter of bars in a wall.

    Parameters
    ----------
    t_w : float or ndarray
        Thickness [mm].

    Returns
    -------
    d_max : float or ndarray
        Diameter [mm].

    References
    ----------
    IS 13920:2016, 10.1.8.

    Examples
    --------
    >>> d_max(250.0)
    25.0
    """
    return t_w / 10.0


@clause("IS 13920:2016, 10.1.9", formula="min(l_w/5, 3 t_w, 450 mm)")
def s_max(l_w: Any, t_w: Any) -> Any:
    """Largest spacing of bars in a wall.

    Parameters
    ----------
    l_w, t_w : float or ndarray
        Length and thickness [mm].

    Returns
    -------
    s_max : float or ndarray
        Spacing [mm].

    References
    ----------
    IS 13920:2016, 10.1.9.

    Examples
    --------
    >>> float(s_max(6100.0, 325.0)), float(s_max(1500.0, 325.0))
    (450.0, 300.0)
    """
    return np.minimum(np.minimum(np.asarray(l_w) / 5.0, 3.0 * np.asarray(t_w)), 450.0)


@clause("IS 13920:2016, 10.2.1", formula="V_u/(t_w d_w), d_w = 0.8 l_w")
def tau_v(V_u: Any, t_w: Any, l_w: Any) -> Any:
    """Shear stress of a wall.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    t_w, l_w : float or ndarray
        Thickness and length [mm].

    Returns
    -------
    tau_v : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 13920:2016, 10.2.1.

    Examples
    --------
    >>> round(float(tau_v(2470e3, 325.0, 6100.0)), 4)
    1.5574
    """
    return np.asarray(V_u) / (np.asarray(t_w) * LEVER * l_w)


@clause("IS 13920:2016, 10.2.3", formula="(V_u - tau_c t_w d_w)/(0.87 f_y d_w)")
def A_h(V_u: Any, tau_c: Any, t_w: Any, l_w: Any, f_y: Any) -> Any:
    """Horizontal bars over their spacing that a wall needs.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    tau_c : float or ndarray
        Strength of the concrete, IS 456, table 19 [MPa].
    t_w, l_w : float or ndarray
        Thickness and length [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    A_h : float or ndarray
        Area a length [mm2/mm].

    References
    ----------
    IS 13920:2016, 10.2.3.

    Examples
    --------
    >>> round(float(A_h(1580e3, 0.36891273, 325.0, 3700.0, 415.0)), 4)
    1.1463
    """
    d_w = LEVER * np.asarray(l_w)
    return np.maximum(V_u - np.asarray(tau_c) * t_w * d_w, 0.0) / (0.87 * f_y * d_w)


@clause("IS 13920:2016, 10.2.3", formula="tau_c t_w d_w + 0.87 f_y A_h d_w/s_v")
def V_u_web(tau_c: Any, t_w: Any, l_w: Any, f_y: Any, A_h: Any) -> Any:
    """Shear that the concrete and horizontal bars of a wall carry.

    Parameters
    ----------
    tau_c : float or ndarray
        Strength of the concrete, IS 456, table 19 [MPa].
    t_w, l_w : float or ndarray
        Thickness and length [mm].
    f_y : float or ndarray
        Yield strength [MPa].
    A_h : float or ndarray
        Horizontal bars over their spacing [mm2/mm].

    Returns
    -------
    V_u_web : float or ndarray
        Force [N].

    References
    ----------
    IS 13920:2016, 10.2.3.

    Examples
    --------
    >>> round(float(V_u_web(0.36891273, 325.0, 3700.0, 415.0, 157.08 / 200.0)) / 1e3)
    1194
    """
    return (np.asarray(tau_c) * t_w + 0.87 * f_y * np.asarray(A_h)) * LEVER * l_w


@clause("IS 13920:2016, 10.7.1", formula="0.92/f_y (tau_v - P_u/A_g)")
def rho_joint(tau_v: Any, P_u: Any, A_g: Any, f_y: Any) -> Any:
    """Minimum ratio of the vertical bars across a construction joint.

    Parameters
    ----------
    tau_v : float or ndarray
        Shear stress [MPa].
    P_u : float or ndarray
        Axial force, compression positive [N].
    A_g : float or ndarray
        Area [mm2].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_joint : float or ndarray
        Ratio [-].

    References
    ----------
    IS 13920:2016, 10.7.1.

    Examples
    --------
    >>> round(float(rho_joint(2.5, 800e3, 1420e3, 415.0)), 5)
    0.00429
    """
    return np.maximum(0.92 / f_y * (np.asarray(tau_v) - np.asarray(P_u) / A_g), 0.0)
