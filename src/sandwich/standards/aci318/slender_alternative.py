"""ACI 318-19, 11.8: the alternative method for slender walls out of their plane."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 24.2.3.5", formula="M_cr = f_r I_g/y_t, y_t = h/2")
def M_cr(f_r: Any, I_g: Any, h: Any) -> Any:
    """Cracking moment.

    Parameters
    ----------
    f_r : float or ndarray
        Modulus of rupture [MPa].
    I_g : float or ndarray
        Second moment of area of the gross section [mm4].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    M_cr : float or ndarray
        Moment [N mm].

    References
    ----------
    ACI 318-19, 24.2.3.5.

    Examples
    --------
    >>> round(M_cr(3.2807, 1e3 * 200.0**3 / 12.0, 200.0) / 1e6, 2)
    21.87
    """
    return f_r * I_g / (h / 2.0)


@clause(
    "ACI 318-19, 11.8.3.1, (11.8.3.1c)",
    formula="I_cr = (E_s/E_c)(A_s + P_u h/(2 f_y d))(d - c)^2 + l_w c^3/3, E_s/E_c 6 or more",
)
def I_cr(modular: Any, A_s: Any, P_u: Any, h: Any, d: Any, f_y: Any, c: Any, l_w: Any) -> Any:
    """Second moment of area of the cracked section.

    Parameters
    ----------
    modular : float or ndarray
        E_s/E_c, 6 or more [-].
    A_s : float or ndarray
        Area of the bars in tension [mm2].
    P_u : float or ndarray
        Axial force, compression positive [N].
    h, d : float or ndarray
        Thickness and depth of the bars [mm].
    f_y : float or ndarray
        Specified yield strength [MPa].
    c : float or ndarray
        Depth of the neutral axis [mm].
    l_w : float or ndarray
        Length of the wall [mm].

    Returns
    -------
    I_cr : float or ndarray
        Second moment of area [mm4].

    References
    ----------
    ACI 318-19, 11.8.3.1, (11.8.3.1c).

    Examples
    --------
    >>> round(float(I_cr(8.0418, 520.0, 32e3, 200.0, 155.0, 420.0, 12.378, 1e3)) / 1e6, 2)
    93.73
    """
    return np.maximum(modular, 6.0) * (A_s + P_u * h / (2.0 * f_y * d)) * (d - c) ** 2 + l_w * c**3 / 3.0


@clause("ACI 318-19, 11.8.3.1(b), (11.8.3.1d)", formula="M_u = M_ua/(1 - 5 P_u l_c^2/(0.75 48 E_c I_cr))")
def M_u_alternative(M_ua: Any, P_u: Any, l_c: Any, E_c: Any, I_cr: Any) -> Any:
    """Magnified moment of the alternative method.

    Parameters
    ----------
    M_ua : float or ndarray
        First order moment at midheight [N mm].
    P_u : float or ndarray
        Axial force, compression positive [N].
    l_c : float or ndarray
        Height [mm].
    E_c : float or ndarray
        Modulus of the concrete [MPa].
    I_cr : float or ndarray
        Second moment of area of the cracked section [mm4].

    Returns
    -------
    M_u_alternative : float or ndarray
        Moment [N mm]; inf where the wall is unstable.

    References
    ----------
    ACI 318-19, 11.8.3.1(b), (11.8.3.1d).

    Examples
    --------
    >>> round(float(M_u_alternative(6.5e6, 32e3, 6000.0, 24870.0, 93.734e6)) / 1e6, 3)
    6.979
    """
    left = 1.0 - 5.0 * np.asarray(P_u, dtype=float) * l_c**2 / (0.75 * 48.0 * E_c * I_cr)
    with np.errstate(divide="ignore"):
        return np.where(left > 0.0, M_ua / left, np.inf)


@clause("ACI 318-19, 11.8.4.3", formula="Delta = 5 M l_c^2/(48 E_c I)")
def Delta(M: Any, l_c: Any, E_c: Any, I: Any) -> Any:
    """Deflection at midheight at the cracking or the nominal moment.

    Parameters
    ----------
    M : float or ndarray
        Moment at midheight [N mm].
    l_c : float or ndarray
        Height [mm].
    E_c : float or ndarray
        Modulus of the concrete [MPa].
    I : float or ndarray
        Second moment of area: gross at M_cr, cracked at M_n [mm4].

    Returns
    -------
    Delta : float or ndarray
        Deflection [mm].

    References
    ----------
    ACI 318-19, 11.8.4.3.

    Examples
    --------
    >>> round(Delta(21.8715e6, 6000.0, 24870.0, 1e3 * 200.0**3 / 12.0), 3)
    4.947
    """
    return 5.0 * M * l_c**2 / (48.0 * E_c * I)


@clause(
    "ACI 318-19, 11.8.4.1, Table 11.8.4.1",
    formula="(M_a/M_cr) Delta_cr up to 2/3 M_cr, then by a straight line to Delta_n at M_n",
)
def Delta_s(M_a: Any, M_cr: Any, M_n: Any, Delta_cr: Any, Delta_n: Any) -> Any:
    """Deflection in service.

    Parameters
    ----------
    M_a, M_cr, M_n : float or ndarray
        Moments: in service with the deflection, cracking and nominal [N mm].
    Delta_cr, Delta_n : float or ndarray
        Deflections at the cracking and the nominal moment [mm].

    Returns
    -------
    Delta_s : float or ndarray
        Deflection [mm].

    References
    ----------
    ACI 318-19, 11.8.4.1, Table 11.8.4.1.

    Examples
    --------
    >>> round(float(Delta_s(4.8716e6, 21.8715e6, 35.735e6, 4.9468, 57.484)), 3)
    1.102
    """
    part = 2.0 / 3.0
    over = (M_a - part * M_cr) / (M_n - part * M_cr)
    return np.where(M_a <= part * M_cr, M_a / M_cr * Delta_cr, part * Delta_cr + over * (Delta_n - part * Delta_cr))


@clause("ACI 318-19, 11.8.4.2", formula="M_a = M_sa + P_s Delta_s, Delta_s of Table 11.8.4.1 at M_a")
def M_a(M_sa: Any, P_s: Any, M_cr: Any, M_n: Any, Delta_cr: Any, Delta_n: Any) -> Any:
    """Moment at midheight in service with that of the deflection, solved for the straight lines of the table.

    Parameters
    ----------
    M_sa : float or ndarray
        Moment of the service loads [N mm].
    P_s : float or ndarray
        Axial force in service, compression positive [N].
    M_cr, M_n : float or ndarray
        Cracking and nominal moment [N mm].
    Delta_cr, Delta_n : float or ndarray
        Deflections at the cracking and the nominal moment [mm].

    Returns
    -------
    M_a : float or ndarray
        Moment, infinite where none balances [N mm].

    References
    ----------
    ACI 318-19, 11.8.4.2.

    Examples
    --------
    >>> round(float(M_a(4.836e6, 32e3, 21.8715e6, 35.735e6, 4.9468, 57.484)) / 1e6, 4)
    4.8713
    """
    part, M_sa = 2.0 / 3.0, np.asarray(M_sa, dtype=float)
    with np.errstate(divide="ignore", invalid="ignore"):
        first = P_s * Delta_cr / M_cr
        uncracked = np.where(first < 1.0, M_sa / (1.0 - first), np.inf)
        slope = (Delta_n - part * Delta_cr) / (M_n - part * M_cr)
        left = 1.0 - P_s * slope
        cracked = np.where(
            (left > 0.0) & (M_n > part * M_cr), (M_sa + P_s * part * (Delta_cr - slope * M_cr)) / left, np.inf
        )
    return np.where(uncracked <= part * M_cr, uncracked, cracked)
