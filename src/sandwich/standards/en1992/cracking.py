"""EN 1992-1-1:2004, 7.3.3 and 7.3.4: crack width, and the tables of diameters and spacings."""

from __future__ import annotations

import tomllib
from importlib.resources import files
from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

TABLES: Final = tomllib.loads(
    files("sandwich.standards").joinpath("parameters", "en1992_cracking.toml").read_text("utf-8")
)
SIGNIFICANT: Final = 15.0  # deg between crack and bars from which 7.15 counts, 7.3.4(4)


@clause("EN 1992-1-1:2004, 7.3.2(3), figure 7.1", formula="h_c,ef = min(2.5 (h - d), (h - x)/3 where x > 0, h/2)")
def h_c_ef(h: Any, d: Any, x: Any) -> Any:
    """Depth of the effective tension area of one face.

    Parameters
    ----------
    h, d, x : float or ndarray
        Thickness, effective depth and compressed depth along the crack's normal [mm]; x = 0 where all is in tension.

    Returns
    -------
    h_c_ef : float or ndarray
        Depth [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.2(3) and figure 7.1: (h - x)/3 in bending alone, figure 7.1 c) for tension members.

    Examples
    --------
    >>> float(h_c_ef(430.0, 385.0, 96.0).round(2))
    111.33
    """
    bent = np.where(np.asarray(x) > 0.0, (h - np.asarray(x)) / 3.0, np.inf)
    return np.minimum(np.minimum(2.5 * (h - np.asarray(d)), bent), np.asarray(h) / 2.0)


@clause("EN 1992-1-1:2004, 7.3.4(2), (7.10)", formula="rho_p,eff = a_s/h_c,ef")
def rho_p_eff(a_s: Any, h_c_ef: Any) -> Any:
    """Ratio of steel in the effective tension area.

    Parameters
    ----------
    a_s : float or ndarray
        Area of the bars of one layer [mm2/mm].
    h_c_ef : float or ndarray
        Depth of the effective tension area [mm].

    Returns
    -------
    rho_p_eff : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(2), expression (7.10), without bonded tendons.

    Examples
    --------
    >>> rho_p_eff(1.0, 100.0)
    0.01
    """
    return a_s / h_c_ef


@clause(
    "EN 1992-1-1:2004, 7.3.4(2), (7.9)",
    formula="max((sigma_s - k_t f_ct,eff/rho_p,eff (1 + alpha_e rho_p,eff))/E_s, 0.6 sigma_s/E_s)",
)
def eps_difference(sigma_s: Any, f_ct_eff: Any, rho_p_eff: Any, alpha_e: Any, k_t: Any, E_s: Any) -> Any:
    """Mean strain of the bars less that of the concrete between cracks, eps_sm - eps_cm.

    Parameters
    ----------
    sigma_s, f_ct_eff : float or ndarray
        Stress of the bars in the crack, tensile strength of the concrete [MPa].
    rho_p_eff, alpha_e : float or ndarray
        Ratio of effective steel, E_s/E_cm [-].
    k_t : float or ndarray
        0.6 for short, 0.4 for long-term loading [-].
    E_s : float or ndarray
        Modulus of the bars [MPa].

    Returns
    -------
    eps_difference : float or ndarray
        Strain [-].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(2), expression (7.9).

    Examples
    --------
    >>> round(float(eps_difference(290.0, 2.9, 0.005, 6.0, 0.6, 2e5)), 6)
    0.00087
    """
    stiffened = (sigma_s - k_t * f_ct_eff / rho_p_eff * (1.0 + alpha_e * rho_p_eff)) / E_s
    return np.maximum(stiffened, 0.6 * sigma_s / E_s)


@clause("EN 1992-1-1:2004, 7.3.4(3), (7.13)", formula="k_2 = (eps_1 + eps_2)/(2 eps_1), eps_2 >= 0")
def k_2(eps_1: Any, eps_2: Any) -> Any:
    """Coefficient of the strain distribution: 0.5 in bending, 1 in pure tension.

    Parameters
    ----------
    eps_1, eps_2 : float or ndarray
        Greater and lesser strain across the crack at the two faces of the cracked section [-].

    Returns
    -------
    k_2 : float or ndarray
        Coefficient [-].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(3), expression (7.13) between the values of bending and pure tension.

    Examples
    --------
    >>> float(k_2(1e-3, 0.0)), float(k_2(1e-3, 1e-3))
    (0.5, 1.0)
    """
    high = np.maximum(np.maximum(eps_1, eps_2), 1e-300)
    low = np.clip(np.minimum(eps_1, eps_2), 0.0, None)
    return (high + low) / (2.0 * high)


@clause("EN 1992-1-1:2004, 7.3.4(3), (7.11)", formula="s_r,max = k_3 c + k_1 k_2 k_4 phi/rho_p,eff")
def s_r_max(c: Any, phi: Any, rho_p_eff: Any, k_2: Any, *, k_1: Any = 0.8, k_3: Any = 3.4, k_4: Any = 0.425) -> Any:
    """Maximum spacing of cracks across bars that lie close.

    Parameters
    ----------
    c, phi : float or ndarray
        Cover to the bars of the layer, their diameter [mm].
    rho_p_eff, k_2 : float or ndarray
        Ratio of effective steel, coefficient of the strain distribution [-].
    k_1, k_3, k_4 : float or ndarray
        Coefficients [-]: bond, 0.8 for deformed bars; nationally determined.

    Returns
    -------
    s_r_max : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(3), expression (7.11).

    Examples
    --------
    >>> round(s_r_max(40.0, 10.0, 0.005, 0.5), 6)
    476.0
    """
    return k_3 * c + k_1 * k_2 * k_4 * phi / rho_p_eff


@clause("EN 1992-1-1:2004, 7.3.4(3), (7.14)", formula="s_r,max = 1.3 (h - x), bars further apart than 5 (c + phi/2)")
def s_r_max_wide(h: Any, x: Any) -> Any:
    """Maximum spacing of cracks across bars that lie far apart.

    Parameters
    ----------
    h, x : float or ndarray
        Thickness, compressed depth along the crack's normal [mm].

    Returns
    -------
    s_r_max_wide : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(3), expression (7.14).

    Examples
    --------
    >>> round(s_r_max_wide(430.0, 96.0), 1)
    434.2
    """
    return 1.3 * (h - x)


@clause("EN 1992-1-1:2004, 7.3.4(4), (7.15)", formula="s_r,max = 1/(cos theta/s_r,max,y + sin theta/s_r,max,z)")
def s_r_max_skew(theta: Any, s_r_max_y: Any, s_r_max_z: Any) -> Any:
    """Maximum spacing of cracks that cross bars of two directions at an angle.

    Parameters
    ----------
    theta : float or ndarray
        Angle between the y bars and the principal tension [rad].
    s_r_max_y, s_r_max_z : float or ndarray
        Spacings along the bars of each direction [mm].

    Returns
    -------
    s_r_max_skew : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(4), expression (7.15), for angles of more than 15 degrees.

    Examples
    --------
    >>> round(float(s_r_max_skew(0.84, 235.0, 130.0)), 2)
    116.71
    """
    return 1.0 / (np.abs(np.cos(theta)) / s_r_max_y + np.abs(np.sin(theta)) / s_r_max_z)


@clause(
    "EN 1992-1-1:2004, 7.3.4 (our reading)",
    formula="eps_1 - delta/sum cos2, delta = sum over the bars of (eps_s - (eps_sm - eps_cm)) share",
)
def eps_across(eps_1: Any, delta: Any, squares: Any) -> Any:
    """Mean strain across a crack, formed again from the mean strains of the bars.

    Parameters
    ----------
    eps_1 : float or ndarray
        Principal strain of the cracked section at the bars [-].
    delta : float or ndarray
        What concrete between cracks takes from the strains of the bars, by the share of eps_1 in them [-].
    squares : float or ndarray
        Sum of cos2 between the bars and the crack's normal [-].

    Returns
    -------
    eps_across : float or ndarray
        Strain [-]; not below zero.

    References
    ----------
    EN 1992-1-1:2004, 7.3.4: for two layers at right angles and eps_2 in compression it is eps_x + eps_y - eps_2.

    Examples
    --------
    >>> round(float(eps_across(2.2e-3, 0.8e-3, 1.0)), 6)
    0.0014
    """
    return np.maximum(eps_1 - np.asarray(delta) / squares, 0.0)


@clause("EN 1992-1-1:2004, 7.3.4(1), (7.8)", formula="w_k = s_r,max eps")
def w_k(s_r_max: Any, eps: Any) -> Any:
    """Crack width.

    Parameters
    ----------
    s_r_max : float or ndarray
        Maximum spacing of cracks [mm].
    eps : float or ndarray
        Mean strain across the crack, of bars less that of concrete [-].

    Returns
    -------
    w_k : float or ndarray
        Width [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(1), expression (7.8).

    Examples
    --------
    >>> w_k(300.0, 1e-3)
    0.3
    """
    return s_r_max * eps


def _of_table(name: str, sigma_s: Any, w: Any) -> Any:
    """A table over stress and width, linear between; zero past its last stress, its smallest width below that."""
    table = TABLES[name]
    columns = [np.interp(sigma_s, table["sigma_s"], column, right=0.0) for column in table["values"]]
    low, mid, high = columns
    w = np.asarray(w)
    upper = mid + (high - mid) * np.clip((w - 0.3) / 0.1, 0.0, 1.0)
    lower = low + (mid - low) * np.clip((w - 0.2) / 0.1, 0.0, 1.0)
    return np.where(w < 0.2 - 1e-9, 0.0, np.where(w > 0.3, upper, lower))


@clause("EN 1992-1-1:2004, 7.3.3(2), table 7.2N", formula="phi*_s by sigma_s and w_k, linear between")
def phi_star(sigma_s: Any, w: Any) -> Any:
    """Maximum diameter of bars for a crack width, before its corrections.

    Parameters
    ----------
    sigma_s : float or ndarray
        Stress of the bars [MPa].
    w : float or ndarray
        Width allowed [mm].

    Returns
    -------
    phi_star : float or ndarray
        Diameter [mm]; zero where the table has none: above its stresses, and for widths below 0.2 mm.

    References
    ----------
    EN 1992-1-1:2004, 7.3.3(2), table 7.2N.

    Examples
    --------
    >>> float(phi_star(240.0, 0.3)), float(phi_star(500.0, 0.3))
    (16.0, 0.0)
    """
    return _of_table("7.2N", sigma_s, w)


@clause(
    "EN 1992-1-1:2004, 7.3.3(2), (7.6N), (7.7N)",
    formula="phi*_s (f_ct,eff/2.9) k_c h_cr/(2 (h - d)), or phi*_s (f_ct,eff/2.9) h_cr/(8 (h - d)) in tension alone",
)
def phi_s(phi_star: Any, f_ct_eff: Any, k_c: Any, h_cr: Any, h: Any, d: Any) -> Any:
    """Maximum diameter of bars for a crack width.

    Parameters
    ----------
    phi_star : float or ndarray
        Diameter of the table [mm].
    f_ct_eff : float or ndarray
        Tensile strength [MPa].
    k_c : float or ndarray
        Coefficient of the stress distribution, 1 in tension alone [-].
    h_cr, h, d : float or ndarray
        Depth of the tension zone just before cracking, thickness, effective depth [mm].

    Returns
    -------
    phi_s : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1992-1-1:2004, 7.3.3(2), expressions (7.6N) and (7.7N).

    Examples
    --------
    >>> round(float(phi_s(16.0, 2.9, 0.4, 150.0, 300.0, 260.0)), 2)
    12.0
    """
    factor = np.where(np.asarray(k_c) >= 1.0, h_cr / (8.0 * (h - d)), k_c * h_cr / (2.0 * (h - d)))
    return phi_star * f_ct_eff / 2.9 * factor


@clause("EN 1992-1-1:2004, 7.3.3(2), table 7.3N", formula="s by sigma_s and w_k, linear between")
def s_bars(sigma_s: Any, w: Any) -> Any:
    """Maximum spacing of bars for a crack width.

    Parameters
    ----------
    sigma_s : float or ndarray
        Stress of the bars [MPa].
    w : float or ndarray
        Width allowed [mm].

    Returns
    -------
    s_bars : float or ndarray
        Spacing [mm]; zero where the table has none: above its stresses, and for widths below 0.2 mm.

    References
    ----------
    EN 1992-1-1:2004, 7.3.3(2), table 7.3N, for cracks due to loading.

    Examples
    --------
    >>> round(float(s_bars(240.0, 0.3)), 6), float(s_bars(340.0, 0.2))
    (200.0, 0.0)
    """
    return _of_table("7.3N", sigma_s, w)
