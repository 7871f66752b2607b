"""ACI 318-19, 6.6.3, 6.6.4 and 11.5.3: slender walls by magnified moments and by the simplified method."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 6.6.4.4.4(a)", formula="EI = 0.4 E_c I_g/(1 + beta_dns)")
def EI_gross(E_c: Any, I_g: Any, beta_dns: Any) -> Any:
    """Effective stiffness by the gross section.

    Parameters
    ----------
    E_c : float or ndarray
        Modulus of the concrete [MPa].
    I_g : float or ndarray
        Second moment of area of the gross section [mm4].
    beta_dns : float or ndarray
        Sustained part of the axial force [-].

    Returns
    -------
    EI_gross : float or ndarray
        Stiffness [N mm2].

    References
    ----------
    ACI 318-19, 6.6.4.4.4(a).

    Examples
    --------
    >>> EI_gross(25_000.0, 1e9, 0.25)
    8000000000000.0
    """
    return 0.4 * E_c * I_g / (1.0 + beta_dns)


@clause("ACI 318-19, 6.6.4.4.4(b)", formula="EI = (0.2 E_c I_g + E_s I_se)/(1 + beta_dns)")
def EI_with_bars(E_c: Any, I_g: Any, I_se: Any, beta_dns: Any, *, E_s: Any = 200_000.0) -> Any:
    """Effective stiffness by concrete and bars.

    Parameters
    ----------
    E_c : float or ndarray
        Modulus of the concrete [MPa].
    I_g, I_se : float or ndarray
        Second moments of area of the gross section and of the bars [mm4].
    beta_dns : float or ndarray
        Sustained part of the axial force [-].
    E_s : float or ndarray
        Modulus of the bars [MPa].

    Returns
    -------
    EI_with_bars : float or ndarray
        Stiffness [N mm2].

    References
    ----------
    ACI 318-19, 6.6.4.4.4(b).

    Examples
    --------
    >>> EI_with_bars(25_000.0, 1e9, 1e7, 0.0)
    7000000000000.0
    """
    return (0.2 * E_c * I_g + E_s * I_se) / (1.0 + beta_dns)


@clause(
    "ACI 318-19, 6.6.3.1.1, Table 6.6.3.1.1(b)",
    formula="I = (0.80 + 25 A_st/A_g)(1 - M_u/(P_u h) - 0.5 P_u/P_o) I_g, 0.35 I_g to 0.875 I_g",
)
def I_alternative(I_g: Any, A_st: Any, A_g: Any, M_u: Any, P_u: Any, P_o: Any, h: Any) -> Any:
    """Alternative second moment of area of columns and walls.

    Parameters
    ----------
    I_g : float or ndarray
        Second moment of area of the gross section [mm4].
    A_st, A_g : float or ndarray
        Areas of the bars and of the gross section [mm2].
    M_u : float or ndarray
        Moment [N mm].
    P_u, P_o : float or ndarray
        Axial force and nominal strength without eccentricity, compression positive [N].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    I_alternative : float or ndarray
        Second moment of area [mm4].

    References
    ----------
    ACI 318-19, 6.6.3.1.1, Table 6.6.3.1.1(b).

    Examples
    --------
    >>> round(float(I_alternative(1.0, 675.0, 225_000.0, 8e6, 6e5, 6.69375e6, 225.0)), 4)
    0.7839
    """
    part = (0.80 + 25.0 * A_st / A_g) * (1.0 - M_u / (P_u * h) - 0.5 * P_u / P_o)
    return I_g * np.clip(part, 0.35, 0.875)


@clause("ACI 318-19, 6.6.4.4.4(c)", formula="EI = E_c I/(1 + beta_dns)")
def EI_effective(E_c: Any, I: Any, beta_dns: Any) -> Any:
    """Effective stiffness by the alternative second moment of area.

    Parameters
    ----------
    E_c : float or ndarray
        Modulus of the concrete [MPa].
    I : float or ndarray
        Second moment of area of Table 6.6.3.1.1(b) [mm4].
    beta_dns : float or ndarray
        Sustained part of the axial force [-].

    Returns
    -------
    EI_effective : float or ndarray
        Stiffness [N mm2].

    References
    ----------
    ACI 318-19, 6.6.4.4.4(c).

    Examples
    --------
    >>> EI_effective(30_000.0, 1e9, 0.5)
    20000000000000.0
    """
    return E_c * I / (1.0 + beta_dns)


@clause("ACI 318-19, 6.6.4.4.2", formula="P_c = pi^2 EI/(k l_u)^2")
def P_c(EI: Any, k: Any, l_u: Any) -> Any:
    """Critical buckling load.

    Parameters
    ----------
    EI : float or ndarray
        Effective stiffness [N mm2].
    k : float or ndarray
        Factor of the effective length [-].
    l_u : float or ndarray
        Unsupported length [mm].

    Returns
    -------
    P_c : float or ndarray
        Axial force, compression positive [N].

    References
    ----------
    ACI 318-19, 6.6.4.4.2.

    Examples
    --------
    >>> round(P_c(2.677e12, 0.8, 3300.0) / 1e3)
    3791
    """
    return math.pi**2 * EI / (k * l_u) ** 2


@clause("ACI 318-19, 6.6.4.5.3", formula="C_m = 0.6 - 0.4 M_1/M_2; 1.0 with loads between the ends")
def C_m(M_1: Any, M_2: Any, *, transverse: bool = False) -> Any:
    """Factor of the equivalent uniform moment.

    Parameters
    ----------
    M_1, M_2 : float or ndarray
        End moments, |M_2| >= |M_1|; their ratio is negative where they bend the wall one way [N mm].
    transverse : bool
        Whether loads act between the ends [-].

    Returns
    -------
    C_m : float or ndarray
        Factor [-]; 1.0 without end moments.

    References
    ----------
    ACI 318-19, 6.6.4.5.3.

    Examples
    --------
    >>> float(C_m(-1.0, 2.0)), float(C_m(1.0, 2.0, transverse=True))
    (0.8, 1.0)
    """
    M_2 = np.asarray(M_2, dtype=float)
    ratio = np.where(M_2 != 0.0, M_1 / np.where(M_2 != 0.0, M_2, 1.0), -1.0)
    return np.where(transverse, 1.0, 0.6 - 0.4 * ratio)


@clause("ACI 318-19, 6.6.4.5.2", formula="delta = C_m/(1 - P_u/(0.75 P_c)), 1.0 or more")
def delta_ns(C_m: Any, P_u: Any, P_c: Any) -> Any:
    """Moment magnification factor of a braced member.

    Parameters
    ----------
    C_m : float or ndarray
        Factor of the equivalent uniform moment [-].
    P_u, P_c : float or ndarray
        Axial force and buckling load, compression positive [N].

    Returns
    -------
    delta_ns : float or ndarray
        Factor [-]; inf where the member is unstable.

    References
    ----------
    ACI 318-19, 6.6.4.5.2.

    Examples
    --------
    >>> round(float(delta_ns(0.7154, 899.0, 3791.0)), 3)
    1.046
    """
    left = 1.0 - np.asarray(P_u, dtype=float) / (0.75 * P_c)
    with np.errstate(divide="ignore"):
        return np.where(left > 0.0, np.maximum(C_m / left, 1.0), np.inf)


@clause("ACI 318-19, 6.6.4.5.4", formula="M_2,min = P_u (15 + 0.03 h)")
def M_2_min(P_u: Any, h: Any) -> Any:
    """Minimum end moment.

    Parameters
    ----------
    P_u : float or ndarray
        Axial force, compression positive [N].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    M_2_min : float or ndarray
        Moment [N mm].

    References
    ----------
    ACI 318-19, 6.6.4.5.4.

    Examples
    --------
    >>> M_2_min(899e3, 200.0)
    18879000.0
    """
    return P_u * (15.0 + 0.03 * h)


@clause("ACI 318-19, 11.5.3.1", formula="P_n = 0.55 f_c' A_g (1 - (k l_c/(32 h))^2)")
def P_n_simplified(f_c: Any, A_g: Any, k: Any, l_c: Any, h: Any) -> Any:
    """Nominal axial strength of a wall whose force stays within the middle third.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].
    A_g : float or ndarray
        Gross area [mm2].
    k : float or ndarray
        Factor of the effective length [-].
    l_c : float or ndarray
        Height [mm].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    P_n_simplified : float or ndarray
        Axial force, compression positive [N].

    References
    ----------
    ACI 318-19, 11.5.3.1.

    Examples
    --------
    >>> round(0.65 * float(P_n_simplified(28.0, 230_000.0, 1.0, 3600.0, 230.0)) / 1e3)
    1751
    """
    return 0.55 * f_c * A_g * np.maximum(1.0 - (k * l_c / (32.0 * h)) ** 2, 0.0)
