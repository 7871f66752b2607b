"""EN 1992-1-1:2004, 5.8.7 and 5.8.8: second order by nominal curvature and by nominal stiffness."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause(
    "EN 1992-1-1:2004, 5.8.8.3(3), (5.36)",
    formula="K_r = (n_u - n)/(n_u - n_bal), 1 or less; n_u = 1 + omega, n_bal = 0.4",
)
def K_r(n: Any, omega: Any) -> Any:
    """Correction of the curvature by the axial force.

    Parameters
    ----------
    n : float or ndarray
        Relative axial force N_Ed/(A_c f_cd), compression positive [-].
    omega : float or ndarray
        Mechanical ratio A_s f_yd/(A_c f_cd) [-].

    Returns
    -------
    K_r : float or ndarray
        Factor [-]; inf where the section does not carry the axial force at all.

    References
    ----------
    EN 1992-1-1:2004, 5.8.8.3(3), (5.36).

    Examples
    --------
    >>> float(K_r(0.25, 0.1))
    1.0
    """
    n_u = 1.0 + np.asarray(omega, dtype=float)
    return np.where(n < n_u, np.minimum((n_u - n) / (n_u - 0.4), 1.0), np.inf)


@clause(
    "EN 1992-1-1:2004, 5.8.8.3(4), (5.37)",
    formula="K_phi = 1 + beta phi_ef, 1 or more; beta = 0.35 + f_ck/200 - lambda/150",
)
def K_phi(f_ck: Any, slenderness: Any, phi_ef: Any) -> Any:
    """Correction of the curvature by creep.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    slenderness : float or ndarray
        Slenderness l_0/i [-].
    phi_ef : float or ndarray
        Effective creep coefficient [-].

    Returns
    -------
    K_phi : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 5.8.8.3(4), (5.37).

    Examples
    --------
    >>> round(float(K_phi(30.0, 35.76, 1.3)), 3)
    1.34
    """
    return np.maximum(1.0 + (0.35 + f_ck / 200.0 - slenderness / 150.0) * phi_ef, 1.0)


@clause("EN 1992-1-1:2004, 5.8.8.3(1), (5.34)", formula="1/r = K_r K_phi eps_yd/(0.45 d)")
def curvature(K_r: Any, K_phi: Any, eps_yd: Any, d: Any) -> Any:
    """Nominal curvature.

    Parameters
    ----------
    K_r, K_phi : float or ndarray
        Corrections by axial force and creep [-].
    eps_yd : float or ndarray
        Strain f_yd/E_s at which bars yield [-].
    d : float or ndarray
        Effective depth; h/2 + i_s where bars lie between the faces [mm].

    Returns
    -------
    curvature : float or ndarray
        Curvature [1/mm].

    References
    ----------
    EN 1992-1-1:2004, 5.8.8.3(1), (5.34).

    Examples
    --------
    >>> round(float(curvature(1.0, 1.0, 0.002174, 195.0)) * 1e6, 2)
    24.77
    """
    return K_r * K_phi * eps_yd / (0.45 * d)


@clause("EN 1992-1-1:2004, 5.8.8.2(3)", formula="e_2 = (1/r) l_0^2/c")
def e_2(curvature: Any, l_0: Any, *, c: Any = 10.0) -> Any:
    """Deflection of second order by the nominal curvature.

    Parameters
    ----------
    curvature : float or ndarray
        Nominal curvature [1/mm].
    l_0 : float or ndarray
        Effective length [mm].
    c : float or ndarray
        Factor of the shape of the curvature: 10 for a sine, 8 where it is constant [-].

    Returns
    -------
    e_2 : float or ndarray
        Deflection [mm].

    References
    ----------
    EN 1992-1-1:2004, 5.8.8.2(3).

    Examples
    --------
    >>> round(e_2(24.77e-6, 6700.0), 1)
    111.2
    """
    return curvature * l_0**2 / c


@clause(
    "EN 1992-1-1:2004, 5.8.7.2(2), (5.22) to (5.24)",
    formula="K_c = k_1 k_2/(1 + phi_ef); k_1 = (f_ck/20)^(1/2), k_2 = n lambda/170, 0.20 or less",
)
def K_c(f_ck: Any, n: Any, slenderness: Any, phi_ef: Any) -> Any:
    """Factor of the concrete in the nominal stiffness, with K_s = 1; bars of 0.2 % or more.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    n : float or ndarray
        Relative axial force N_Ed/(A_c f_cd), compression positive [-].
    slenderness : float or ndarray
        Slenderness l_0/i [-].
    phi_ef : float or ndarray
        Effective creep coefficient [-].

    Returns
    -------
    K_c : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 5.8.7.2(2), (5.22) to (5.24).

    Examples
    --------
    >>> round(float(K_c(30.0, 0.03129, 33.52, 1.2)), 5)
    0.00343
    """
    return np.sqrt(f_ck / 20.0) * np.minimum(n * slenderness / 170.0, 0.20) / (1.0 + phi_ef)


@clause("EN 1992-1-1:2004, 5.8.7.2(3), (5.26)", formula="K_c = 0.3/(1 + 0.5 phi_ef)")
def K_c_simplified(phi_ef: Any) -> Any:
    """Factor of the concrete in the nominal stiffness, with K_s = 0; bars of 1 % or more.

    Parameters
    ----------
    phi_ef : float or ndarray
        Effective creep coefficient [-].

    Returns
    -------
    K_c_simplified : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 5.8.7.2(3), (5.26).

    Examples
    --------
    >>> round(K_c_simplified(2.0), 3)
    0.15
    """
    return 0.3 / (1.0 + 0.5 * phi_ef)


@clause("EN 1992-1-1:2004, 5.8.7.2(1), (5.21)", formula="EI = K_c E_cd I_c + K_s E_s I_s, E_cd = E_cm/gamma_cE")
def EI_nominal(K_c: Any, K_s: Any, E_cm: Any, I_c: Any, I_s: Any, *, E_s: Any = 200_000.0, gamma_cE: Any = 1.2) -> Any:
    """Nominal stiffness of a slender member in compression.

    Parameters
    ----------
    K_c, K_s : float or ndarray
        Factors of concrete and bars [-].
    E_cm : float or ndarray
        Secant modulus of the concrete [MPa].
    I_c, I_s : float or ndarray
        Second moments of area of concrete and bars [mm4].
    E_s : float or ndarray
        Modulus of the bars [MPa].
    gamma_cE : float or ndarray
        Factor on the modulus of the concrete [-].

    Returns
    -------
    EI_nominal : float or ndarray
        Stiffness [N mm2].

    References
    ----------
    EN 1992-1-1:2004, 5.8.7.2(1), (5.21).

    Examples
    --------
    >>> round(EI_nominal(0.003435, 1.0, 33000.0, 2.4826e9, 11.253e6) / 1e12, 3)
    2.485
    """
    return K_c * E_cm / gamma_cE * I_c + K_s * E_s * I_s


@clause("EN 1992-1-1:2004, 5.8.7.3(1)", formula="N_B = pi^2 EI/l_0^2")
def N_B(EI: Any, l_0: Any) -> Any:
    """Buckling load by the nominal stiffness.

    Parameters
    ----------
    EI : float or ndarray
        Nominal stiffness [N mm2].
    l_0 : float or ndarray
        Effective length [mm].

    Returns
    -------
    N_B : float or ndarray
        Axial force, compression positive [N].

    References
    ----------
    EN 1992-1-1:2004, 5.8.7.3(1).

    Examples
    --------
    >>> round(N_B(2.485e12, 3000.0) / 1e3)
    2725
    """
    return math.pi**2 * EI / l_0**2


@clause("EN 1992-1-1:2004, 5.8.7.3(1), (2), (5.28), (5.29)", formula="1 + beta/(N_B/N_Ed - 1), beta = pi^2/c_0")
def moment_factor(N_B: Any, N_Ed: Any, *, c_0: Any = 8.0) -> Any:
    """Design moment over the first order moment.

    Parameters
    ----------
    N_B, N_Ed : float or ndarray
        Buckling load and axial force, compression positive [N].
    c_0 : float or ndarray
        Factor of the shape of the first order moment: 8 constant, 9.6 parabola, 12 triangle [-].

    Returns
    -------
    moment_factor : float or ndarray
        Factor [-]; inf where the member buckles.

    References
    ----------
    EN 1992-1-1:2004, 5.8.7.3(1), (2), (5.28), (5.29).

    Examples
    --------
    >>> round(float(moment_factor(2725e3, 194e3, c_0=9.6)), 4)
    1.0788
    """
    with np.errstate(divide="ignore"):
        factor = 1.0 + math.pi**2 / c_0 / (N_B / np.asarray(N_Ed, dtype=float) - 1.0)
    return np.where(N_Ed < N_B, factor, np.inf)
