"""EN 1998-1:2004, 4.2.3, 4.3.4, 4.4.2, 4.4.3, 5.1.2: drift, second order, torsion and joints of buildings."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

DRIFT: Final = {"brittle": 0.005, "ductile": 0.0075, "separate": 0.010}  # of the storey height, 4.4.3.2(1)
NU: Final = {"I": 0.5, "II": 0.5, "III": 0.4, "IV": 0.4}  # recommended, 4.4.3.2(2)
NEGLECTED, APPROXIMATE, MOST = 0.10, 0.20, 0.30  # theta, 4.4.2.2(2) to (4)
ALIGNED: Final = 0.7  # of the joint where floors lie at the same level, 4.4.2.7(3)
WALL_SYSTEM, DUAL = 0.65, 0.50  # of the base shear, 5.1.2


@clause("EN 1998-1:2004, 4.3.4(1)P, (4.23)", formula="d_s = q_d d_e")
def d_s(q_d: Any, d_e: Any) -> Any:
    """Displacement by the design seismic action.

    Parameters
    ----------
    q_d : float or ndarray
        Displacement behaviour factor, q unless otherwise stated [-].
    d_e : float or ndarray
        Displacement by the linear analysis with the design spectrum [mm].

    Returns
    -------
    d_s : float or ndarray
        Displacement [mm].

    References
    ----------
    EN 1998-1:2004, 4.3.4(1)P, (4.23).

    Examples
    --------
    >>> float(d_s(3.0, 4.0))
    12.0
    """
    return np.asarray(q_d) * d_e


@clause("EN 1998-1:2004, 4.4.2.2(2), (4.28)", formula="theta = P_tot d_r/(V_tot h)")
def theta(P_tot: Any, d_r: Any, V_tot: Any, h: Any) -> Any:
    """Interstorey drift sensitivity coefficient.

    Parameters
    ----------
    P_tot : float or ndarray
        Gravity load at and above the storey in the seismic design situation [N].
    d_r : float or ndarray
        Design interstorey drift [mm].
    V_tot : float or ndarray
        Seismic storey shear [N].
    h : float or ndarray
        Interstorey height [mm].

    Returns
    -------
    theta : float or ndarray
        Coefficient [-].

    References
    ----------
    EN 1998-1:2004, 4.4.2.2(2), (4.28).

    Examples
    --------
    >>> float(theta(20e6, 15.0, 1e6, 3000.0))
    0.1
    """
    return np.asarray(P_tot) * d_r / (np.asarray(V_tot) * h)


@clause("EN 1998-1:2004, 4.4.2.2(3)", formula="1/(1 - theta)")
def second_order(theta: Any) -> Any:
    """Factor on the seismic action effects for second order, of theta between 0.1 and 0.2.

    Parameters
    ----------
    theta : float or ndarray
        Interstorey drift sensitivity coefficient [-].

    Returns
    -------
    second_order : float or ndarray
        Factor, 1 up to theta = 0.1 [-].

    References
    ----------
    EN 1998-1:2004, 4.4.2.2(3).

    Examples
    --------
    >>> float(second_order(0.2)), float(second_order(0.05))
    (1.25, 1.0)
    """
    theta = np.asarray(theta)
    return np.where(theta > NEGLECTED, 1.0 / np.maximum(1.0 - theta, 1e-9), 1.0)


@clause(
    "EN 1998-1:2004, 4.4.3.2(1)",
    formula="d_r nu <= 0.005, 0.0075, 0.010 h; brittle, ductile, separate partitions",
)
def d_r_max(ratio: Any, h: Any, nu: Any) -> Any:
    """Largest interstorey drift for limited damage.

    Parameters
    ----------
    ratio : float or ndarray
        0.005, 0.0075 or 0.010 [-].
    h : float or ndarray
        Interstorey height [mm].
    nu : float or ndarray
        Reduction for the lower return period [-].

    Returns
    -------
    d_r_max : float or ndarray
        Drift [mm].

    References
    ----------
    EN 1998-1:2004, 4.4.3.2(1).

    Examples
    --------
    >>> float(d_r_max(0.005, 3000.0, 0.5))
    30.0
    """
    return np.asarray(ratio) * h / nu


@clause(
    "EN 1998-1:2004, 4.4.2.7(2), (3)",
    formula="sqrt(d_1^2 + d_2^2), 0.7 of it where floors lie at the same level",
)
def joint(d_1: Any, d_2: Any, aligned: bool) -> Any:
    """Width of the joint between buildings of one property.

    Parameters
    ----------
    d_1, d_2 : float or ndarray
        Displacements of both at the level [mm].
    aligned : bool
        Whether their floors lie at the same level [-].

    Returns
    -------
    joint : float or ndarray
        Width [mm].

    References
    ----------
    EN 1998-1:2004, 4.4.2.7(2), (3).

    Examples
    --------
    >>> float(joint(30.0, 40.0, False)), float(joint(30.0, 40.0, True))
    (50.0, 35.0)
    """
    return np.hypot(d_1, d_2) * np.where(aligned, ALIGNED, 1.0)


@clause("EN 1998-1:2004, 4.2.3.2(6), (4.1a)", formula="e_0 <= 0.30 r")
def e_0_max(r: Any) -> Any:
    """Largest eccentricity between centre of stiffness and centre of mass of a regular building.

    Parameters
    ----------
    r : float or ndarray
        Torsional radius [mm].

    Returns
    -------
    e_0_max : float or ndarray
        Eccentricity [mm].

    References
    ----------
    EN 1998-1:2004, 4.2.3.2(6), (4.1a).

    Examples
    --------
    >>> float(e_0_max(10e3))
    3000.0
    """
    return 0.30 * np.asarray(r)


@clause("EN 1998-1:2004, 4.2.3.2(6), (4.1b)", formula="l_s = sqrt((L^2 + B^2)/12)")
def l_s(L: Any, B: Any) -> Any:
    """Radius of gyration of a rectangular floor.

    Parameters
    ----------
    L, B : float or ndarray
        Sides of the floor [mm].

    Returns
    -------
    l_s : float or ndarray
        Radius [mm].

    References
    ----------
    EN 1998-1:2004, 4.2.3.2(6), (4.1b).

    Examples
    --------
    >>> round(float(l_s(24e3, 18e3)))
    8660
    """
    return np.sqrt((np.asarray(L) ** 2 + np.asarray(B) ** 2) / 12.0)
