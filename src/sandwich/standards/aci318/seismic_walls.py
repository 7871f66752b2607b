"""ACI 318-19, 18.10.2 to 18.10.5 and 21.2.4: ratios, design shear and strength of special walls (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

MOST_AMPLIFIED: Final = 3.0  # 18.10.3.1


@clause("ACI 318-19, 18.10.2.1", formula="V_u > 0.083 lambda f_c'^(1/2) A_cv asks for 0.0025 both ways, lambda = 1")
def V_reduced_ratios(root_f_c: Any, A_cv: Any) -> Any:
    """Shear up to which the ratios of 11.6.1 are enough in a special wall.

    Parameters
    ----------
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cv : float or ndarray
        Thickness times length [mm2].

    Returns
    -------
    V_reduced_ratios : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.10.2.1.

    Examples
    --------
    >>> round(V_reduced_ratios(5.0, 1e6))
    415000
    """
    return 0.083 * root_f_c * A_cv


@clause("ACI 318-19, 18.10.2.2", formula="two curtains: V_u > 0.17 lambda f_c'^(1/2) A_cv or h_w/l_w >= 2.0")
def two_curtains(V_u: Any, root_f_c: Any, A_cv: Any, h_w: Any, l_w: Any) -> Any:
    """Whether a special wall has to have two curtains.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cv : float or ndarray
        Thickness times length [mm2].
    h_w, l_w : float or ndarray
        Height and length of the wall [mm].

    Returns
    -------
    two_curtains : bool or ndarray
        Whether it has [-].

    References
    ----------
    ACI 318-19, 18.10.2.2.

    Examples
    --------
    >>> bool(two_curtains(200e3, 5.0, 1e6, 3000.0, 4000.0)), bool(two_curtains(200e3, 5.0, 1e6, 9000.0, 4000.0))
    (False, True)
    """
    return (V_u > 0.17 * root_f_c * A_cv) | (np.asarray(h_w) / l_w >= 2.0)


@clause("ACI 318-19, 18.10.2.4(a)", formula="rho = 0.50 f_c'^(1/2)/f_y over 0.15 l_w times the thickness")
def rho_end_min(root_f_c: Any, f_y: Any) -> Any:
    """Minimum ratio of vertical bars in the ends of a wall with h_w/l_w of 2 or more and one critical section.

    Parameters
    ----------
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_end_min : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, 18.10.2.4(a).

    Examples
    --------
    >>> round(rho_end_min(5.2915, 420.0), 5)
    0.0063
    """
    return 0.50 * root_f_c / f_y


@clause("ACI 318-19, 18.10.2.4(b)", formula="max(l_w, M_u/(3 V_u)) above and below the critical section")
def end_bars_extent(l_w: Any, M_u: Any, V_u: Any) -> Any:
    """How far the bars of the ends go on above and below the critical section.

    Parameters
    ----------
    l_w : float or ndarray
        Length of the wall [mm].
    M_u, V_u : float or ndarray
        Factored moment [N mm] and shear [N] there.

    Returns
    -------
    end_bars_extent : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.2.4(b).

    Examples
    --------
    >>> float(end_bars_extent(5000.0, 36e9, 2e6))
    6000.0
    """
    return np.maximum(l_w, np.asarray(M_u) / (3.0 * np.asarray(V_u)))


@clause("ACI 318-19, Table 18.10.3.1.2", formula="h_wcs/l_w > 1.5: max(M_pr/M_u, 1.5), else 1.0")
def Omega_v(M_pr: Any, M_u: Any, h_wcs: Any, l_w: Any) -> Any:
    """Overstrength factor at the critical section.

    Parameters
    ----------
    M_pr, M_u : float or ndarray
        Probable strength (1.25 f_y, phi = 1) and factored moment [N mm].
    h_wcs, l_w : float or ndarray
        Height above the critical section and length [mm].

    Returns
    -------
    Omega_v : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 18.10.3.1.2.

    Examples
    --------
    >>> float(Omega_v(50e9, 25e9, 30e3, 5e3)), float(Omega_v(50e9, 25e9, 6e3, 5e3))
    (2.0, 1.0)
    """
    return np.where(np.asarray(h_wcs) / l_w > 1.5, np.maximum(np.asarray(M_pr) / M_u, 1.5), 1.0)


@clause("ACI 318-19, 18.10.3.1.3", formula="n_s of 0.00028 h_wcs or more")
def storeys_counted(n_s: Any, h_wcs: Any) -> Any:
    """Number of storeys above the critical section, as the dynamic factor counts it.

    Parameters
    ----------
    n_s : int or ndarray
        Storeys there are [-].
    h_wcs : float or ndarray
        Height above the critical section [mm].

    Returns
    -------
    storeys_counted : float or ndarray
        Number [-].

    References
    ----------
    ACI 318-19, 18.10.3.1.3.

    Examples
    --------
    >>> round(float(storeys_counted(5, 30_000.0)), 1)
    8.4
    """
    return np.maximum(n_s, 0.00028 * np.asarray(h_wcs))


@clause(
    "ACI 318-19, 18.10.3.1.3",
    formula="h_wcs/l_w < 2: 1; else 0.9 + n_s/10 up to n_s = 6, 1.3 + n_s/30 up to 1.8 above",
)
def omega_v(n_s: Any, h_wcs: Any, l_w: Any) -> Any:
    """Dynamic amplification of the shear.

    Parameters
    ----------
    n_s : float or ndarray
        Storeys above the critical section as `storeys_counted` gives them [-].
    h_wcs, l_w : float or ndarray
        Height above the critical section and length [mm].

    Returns
    -------
    omega_v : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 18.10.3.1.3.

    Examples
    --------
    >>> [round(float(omega_v(n, 30e3, 5e3)), 2) for n in (4, 9, 30)]
    [1.3, 1.6, 1.8]
    """
    n_s = np.asarray(n_s, dtype=float)
    tall = np.where(n_s <= 6.0, 0.9 + n_s / 10.0, np.minimum(1.3 + n_s / 30.0, 1.8))
    return np.where(np.asarray(h_wcs) / l_w < 2.0, 1.0, tall)


@clause("ACI 318-19, 18.10.3.1, (18.10.3.1)", formula="V_e = Omega_v omega_v V_u <= 3 V_u")
def V_e(V_u: Any, Omega_v: Any, omega_v: Any) -> Any:
    """Design shear of a special wall.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear of the analysis [N].
    Omega_v, omega_v : float or ndarray
        Overstrength and dynamic factors [-].

    Returns
    -------
    V_e : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.10.3.1.

    Examples
    --------
    >>> round(float(V_e(1e6, 1.5, 1.3))), float(V_e(1e6, 2.2, 1.8))
    (1950000, 3000000.0)
    """
    return np.minimum(np.asarray(Omega_v) * omega_v, MOST_AMPLIFIED) * V_u


@clause("ACI 318-19, 18.10.4.3", formula="rho_l >= rho_t where h_w/l_w <= 2.0")
def rho_l_squat(h_w: Any, l_w: Any, rho_t: Any) -> Any:
    """Minimum ratio of vertical bars of a squat wall by its horizontal ones.

    Parameters
    ----------
    h_w, l_w : float or ndarray
        Height and length [mm].
    rho_t : float or ndarray
        Ratio of the horizontal bars [-].

    Returns
    -------
    rho_l_squat : float or ndarray
        Ratio [-], zero of a taller wall.

    References
    ----------
    ACI 318-19, 18.10.4.3.

    Examples
    --------
    >>> float(rho_l_squat(6000.0, 4000.0, 0.004)), float(rho_l_squat(9000.0, 4000.0, 0.004))
    (0.004, 0.0)
    """
    return np.where(np.asarray(h_w) / l_w <= 2.0, rho_t, 0.0)


@clause("ACI 318-19, 18.10.4.4", formula="sum V_n <= 0.66 f_c'^(1/2) A_cv of all piers, 0.83 f_c'^(1/2) A_cw of each")
def V_n_group(V_n: Any, root_f_c: Any, A_cv: Any) -> Any:
    """Nominal shear strength of piers that share a lateral force.

    Parameters
    ----------
    V_n : array_like, shape (piers,)
        Strength of each by itself [N].
    root_f_c : float
        Square root of f_c' [MPa].
    A_cv : array_like, shape (piers,)
        Thickness times length of each [mm2].

    Returns
    -------
    V_n_group : float
        Force [N].

    References
    ----------
    ACI 318-19, 18.10.4.4.

    Examples
    --------
    >>> round(V_n_group([3e6, 2e6], 5.0, [600e3, 700e3]) / 1e3)
    4290
    """
    areas = np.asarray(A_cv, dtype=float)
    each = np.minimum(V_n, 0.83 * root_f_c * areas)
    return float(min(each.sum(), 0.66 * root_f_c * areas.sum()))


@clause("ACI 318-19, 18.10.5.2", formula="min(half of the clear distance to the next web, 0.25 of the height above)")
def flange_width(distance: Any, h_above: Any) -> Any:
    """Effective width of a flange on one side of a web.

    Parameters
    ----------
    distance : float or ndarray
        From the face of the web to that of the next [mm].
    h_above : float or ndarray
        Height of the wall above the section [mm].

    Returns
    -------
    flange_width : float or ndarray
        Width [mm].

    References
    ----------
    ACI 318-19, 18.10.5.2.

    Examples
    --------
    >>> float(flange_width(6000.0, 10_000.0))
    2500.0
    """
    return np.minimum(np.asarray(distance) / 2.0, 0.25 * np.asarray(h_above))


@clause("ACI 318-19, 21.2.4.1", formula="0.60 where V_n is less than the shear at the nominal moment, else 0.75")
def phi_shear(V_n: Any, V_at_M_n: Any) -> Any:
    """Strength reduction factor of the shear of a special wall.

    Parameters
    ----------
    V_n : float or ndarray
        Nominal shear strength [N].
    V_at_M_n : float or ndarray
        Shear that goes with the nominal flexural strength [N].

    Returns
    -------
    phi_shear : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 21.2.4.1, Table 21.2.1.

    Examples
    --------
    >>> float(phi_shear(2e6, 1.8e6)), float(phi_shear(2e6, 2.4e6))
    (0.75, 0.6)
    """
    return np.where(np.asarray(V_n) < V_at_M_n, 0.60, 0.75)
