"""EN 1998-1:2004, 5.2 to 5.5: behaviour factor, curvature ductility, design moment and shear of walls."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.trace import clause

FLEXIBLE: Final = "torsionally flexible"
COUPLED: Final = ("coupled", "dual")
ALPHA: Final = {"coupled": 1.2, "dual": 1.2}  # alpha_u/alpha_1 unless it is known, 5.2.2.2(5); others 1.0
GAMMA_RD: Final = 1.2  # overstrength of the steel, 5.5.2.4.1(7)


@clause("EN 1998-1:2004, 5.2.2.2(12)", formula="alpha_0 = sum h_w/sum l_w")
def alpha_0(h_w: ArrayLike, l_w: ArrayLike) -> float:
    """Prevailing aspect ratio of the walls of a building.

    Parameters
    ----------
    h_w, l_w : ArrayLike
        Heights and lengths of all its walls [mm].

    Returns
    -------
    alpha_0 : float
        Ratio [-].

    References
    ----------
    EN 1998-1:2004, 5.2.2.2(12).

    Examples
    --------
    >>> alpha_0([15e3, 15e3], [3e3, 2e3])
    6.0
    """
    return float(np.sum(h_w) / np.sum(l_w))


@clause("EN 1998-1:2004, 5.2.2.2(11)P", formula="k_w = (1 + alpha_0)/3, 0.5 to 1")
def k_w(alpha_0: Any) -> Any:
    """Factor of the failure of walls.

    Parameters
    ----------
    alpha_0 : float or ndarray
        Prevailing aspect ratio [-].

    Returns
    -------
    k_w : float or ndarray
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.2.2.2(11)P.

    Examples
    --------
    >>> float(k_w(6.0)), float(k_w(1.1))
    (1.0, 0.7000000000000001)
    """
    return np.clip((1.0 + np.asarray(alpha_0)) / 3.0, 0.5, 1.0)


@clause(
    "EN 1998-1:2004, 5.2.2.2(2), table 5.1",
    formula="DCM 3.0, coupled or dual 3.0 alpha; DCH 4.0 alpha, coupled or dual 4.5 alpha; flexible 2.0, 3.0",
)
def q_basic(system: Any, high: Any, alpha: Any) -> float:
    """Basic value of the behaviour factor of buildings with walls, regular in elevation.

    Parameters
    ----------
    system : str
        uncoupled, coupled, dual or torsionally flexible [-].
    high : bool
        Whether of high ductility [-].
    alpha : float or ndarray
        alpha_u/alpha_1 [-].

    Returns
    -------
    q_basic : float
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.2.2.2(2), table 5.1.

    Examples
    --------
    >>> round(q_basic("coupled", False, 1.2), 6), q_basic("uncoupled", True, 1.0)
    (3.6, 4.0)
    """
    if system == FLEXIBLE:
        return 3.0 if high else 2.0
    if system in COUPLED:
        return (4.5 if high else 3.0) * float(alpha)
    return 4.0 * float(alpha) if high else 3.0


@clause(
    "EN 1998-1:2004, 5.2.2.2(1)P",
    formula="q = q_0 k_w, 1.5 or more; q_0 less by a fifth where not regular in elevation",
)
def q_behaviour(q_0: Any, k_w: Any, regular: Any) -> Any:
    """Behaviour factor.

    Parameters
    ----------
    q_0 : float or ndarray
        Basic value [-].
    k_w : float or ndarray
        Factor of the failure of walls [-].
    regular : float or ndarray
        Whether the building is regular in elevation [-].

    Returns
    -------
    q_behaviour : float or ndarray
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.2.2.2(1)P.

    Examples
    --------
    >>> float(q_behaviour(3.0, 1.0, True)), float(q_behaviour(3.0, 1.0, False))
    (3.0, 2.4000000000000004)
    """
    return np.maximum(np.where(regular, 1.0, 0.8) * q_0 * k_w, 1.5)


@clause(
    "EN 1998-1:2004, 5.2.3.4(3), (5.4), (5.5), 5.4.3.4.2(2)",
    formula="2 q - 1 from T_1 = T_C, else 1 + 2 (q - 1) T_C/T_1; q = q_0 M_Ed/M_Rd",
)
def mu_phi(q_0: Any, M_Ed: Any, M_Rd: Any, T_1: Any, T_C: Any, class_b: Any) -> Any:
    """Curvature ductility factor that a critical region has to have.

    Parameters
    ----------
    q_0 : float or ndarray
        Basic value of the behaviour factor [-].
    M_Ed, M_Rd : float or ndarray
        Design moment of the analysis and resistance at the base [N mm].
    T_1, T_C : float or ndarray
        First period, and that at the end of constant acceleration [s].
    class_b : float or ndarray
        Whether the bars are of class B, which asks for half as much again, 5.2.3.4(4) [-].

    Returns
    -------
    mu_phi : float or ndarray
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.2.3.4(3), (5.4), (5.5), 5.4.3.4.2(2).

    Examples
    --------
    >>> round(float(mu_phi(5.1, 15.3, 21.6, 0.8, 0.6, True)), 4)
    9.3375
    """
    q = np.asarray(q_0) * M_Ed / M_Rd
    ratio = np.asarray(T_C, dtype=float) / T_1
    factor = np.where(ratio > 1.0, 1.0 + 2.0 * (q - 1.0) * ratio, 2.0 * q - 1.0)
    return factor * np.where(class_b, 1.5, 1.0)


@clause("EN 1998-1:2004, 5.4.1.2.3(1)", formula="b_wo = max(150 mm, h_s/20)")
def b_w_min(h_s: Any) -> Any:
    """Minimum thickness of the web of a ductile wall.

    Parameters
    ----------
    h_s : float or ndarray
        Clear height of the storey [mm].

    Returns
    -------
    b_w_min : float or ndarray
        Thickness [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.1.2.3(1).

    Examples
    --------
    >>> float(b_w_min(4200.0))
    210.0
    """
    return np.maximum(150.0, np.asarray(h_s) / 20.0)


@clause("EN 1998-1:2004, 5.8.1(5)", formula="V = gamma_Rd M_Rd/h; gamma_Rd 1.1 of DCM, 1.2 of DCH")
def V_basement(M_Rd: Any, h: Any, high: bool) -> Any:
    """Shear of a wall within a box-type basement, by the overstrength of its hinge at the roof of the basement.

    Parameters
    ----------
    M_Rd : float or ndarray
        Moment carried at the roof of the basement [N mm].
    h : float or ndarray
        Free height of the wall within the basement [mm].
    high : bool
        Whether of high ductility [-].

    Returns
    -------
    V_basement : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.8.1(5).

    Examples
    --------
    >>> round(float(V_basement(6000e6, 3000.0, False)) / 1e3), round(float(V_basement(6000e6, 3000.0, True)) / 1e3)
    (2200, 2400)
    """
    return np.where(high, 1.2, 1.1) * np.asarray(M_Rd) / h


@clause("EN 1998-1:2004, 5.4.2.4(7)", formula="V_Ed = 1.5 V")
def V_Ed_dcm(V: Any) -> Any:
    """Design shear of a wall of medium ductility.

    Parameters
    ----------
    V : float or ndarray
        Shear of the analysis [N].

    Returns
    -------
    V_Ed_dcm : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.4.2.4(7).

    Examples
    --------
    >>> V_Ed_dcm(2e6)
    3000000.0
    """
    return 1.5 * V


@clause(
    "EN 1998-1:2004, 5.4.2.4(8), figure 5.4",
    formula="from a third of the height V_Ed/2 at the top, straight from V(h_w/3); as the analysis below",
)
def V_Ed_dual(z: Any, h_w: Any, V: Any, V_base: Any, V_third: Any) -> Any:
    """Design shear of a wall of a dual system of medium ductility, up its height.

    Parameters
    ----------
    z, h_w : float or ndarray
        Height above the base, and of the wall [mm].
    V : float or ndarray
        Amplified shear of the analysis at z [N].
    V_base, V_third : float or ndarray
        The same at the base and at h_w/3 [N].

    Returns
    -------
    V_Ed_dual : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.4.2.4(8), figure 5.4.

    Examples
    --------
    >>> float(V_Ed_dual(15e3, 15e3, 100e3, 2e6, 1.2e6))
    1000000.0
    """
    share = np.clip((np.asarray(z) / h_w - 1.0 / 3.0) / (2.0 / 3.0), 0.0, 1.0)
    line = np.asarray(V_third) + share * (np.asarray(V_base) / 2.0 - V_third)
    return np.where(np.asarray(z) <= h_w / 3.0, V, np.maximum(V, line))


@clause("EN 1998-1:2004, 5.4.2.5(2), (5.19)", formula="V_Ed = V (q + 1)/2")
def V_Ed_lightly(V: Any, q: Any) -> Any:
    """Design shear of a large lightly reinforced wall.

    Parameters
    ----------
    V : float or ndarray
        Shear of the analysis [N].
    q : float or ndarray
        Behaviour factor [-].

    Returns
    -------
    V_Ed_lightly : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.4.2.5(2), (5.19).

    Examples
    --------
    >>> float(V_Ed_lightly(2e6, 2.0))
    3000000.0
    """
    return V * (np.asarray(q) + 1.0) / 2.0


@clause(
    "EN 1998-1:2004, 5.5.2.4.1(6) to (8), (5.25)",
    formula="q ((1.2/q M_Rd/M_Ed)^2 + 0.1 (S_e(T_C)/S_e(T_1))^2)^(1/2); h_w/l_w <= 2: 1.2 M_Rd/M_Ed; 1.5 to q",
)
def epsilon_dch(q: Any, M_Rd: Any, M_Ed: Any, S_C: Any, S_1: Any, h_w: Any, l_w: Any) -> Any:
    """Amplification of the shear of a wall of high ductility.

    Parameters
    ----------
    q : float or ndarray
        Behaviour factor [-].
    M_Rd, M_Ed : float or ndarray
        Resistance and design moment at the base [N mm].
    S_C, S_1 : float or ndarray
        Elastic spectrum at T_C and at the first period, in one unit [-].
    h_w, l_w : float or ndarray
        Height and length of the wall [mm].

    Returns
    -------
    epsilon_dch : float or ndarray
        Factor [-].

    References
    ----------
    EN 1998-1:2004, 5.5.2.4.1(6) to (8), (5.25).

    Examples
    --------
    >>> round(float(epsilon_dch(4.2, 39.1, 14.6, 4.8, 3.7, 15050.0, 3500.0)), 4)
    3.6465
    """
    over = GAMMA_RD * np.asarray(M_Rd, dtype=float) / M_Ed
    tall = q * np.sqrt((over / q) ** 2 + 0.1 * (np.asarray(S_C) / S_1) ** 2)
    squat = np.asarray(h_w) / l_w <= 2.0
    return np.minimum(np.where(squat, over, np.maximum(tall, 1.5)), q)


@clause(
    "EN 1998-1:2004, 5.4.2.4(5), figure 5.3",
    formula="straight from the base to the top, raised by the tension shift a_1",
)
def M_envelope(z: Any, h_w: Any, M_base: Any, a_1: Any) -> Any:
    """Design moment of a slender wall up its height.

    Parameters
    ----------
    z, h_w : float or ndarray
        Height above the base, and of the wall [mm].
    M_base : float or ndarray
        Design moment at the base [N mm].
    a_1 : float or ndarray
        Tension shift [mm].

    Returns
    -------
    M_envelope : float or ndarray
        Moment [N mm].

    References
    ----------
    EN 1998-1:2004, 5.4.2.4(5), figure 5.3.

    Examples
    --------
    >>> float(M_envelope(15e3, 60e3, 36.4e9, 2600.0).round(-6))
    28877000000.0
    """
    return M_base * np.clip(1.0 - (np.asarray(z, dtype=float) - a_1) / h_w, 0.0, 1.0)
