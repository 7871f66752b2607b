"""EN 1992-1-1:2004, 6.2.2 and EN 1992-2:2005, Annex LL: transverse shear of shells without links."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-2:2005, Annex LL, (LL.121), (LL.122)", formula="v_Ed = sqrt(v_x^2 + v_y^2), tan phi = v_y/v_x")
def principal_shear(v_x: Any, v_y: Any) -> Any:
    """Principal transverse shear and its direction.

    Parameters
    ----------
    v_x, v_y : float or ndarray
        Transverse shear forces [N/mm], any shape.

    Returns
    -------
    v_Ed : float or ndarray
        Principal shear [N/mm].
    phi : float or ndarray
        Its direction from x towards y [rad].

    References
    ----------
    EN 1992-2:2005, Annex LL, expressions (LL.121), (LL.122).

    Examples
    --------
    >>> float(principal_shear(30.0, 40.0)[0])
    50.0
    """
    return np.hypot(v_x, v_y), np.arctan2(v_y, v_x)


@clause(
    "EN 1992-2:2005, Annex LL, (LL.123)",
    formula="rho_l = rho_x cos^2 phi + rho_y sin^2 phi + 2 rho_xy sin phi cos phi <= 0.02",
)
def rho_l(rho_x: Any, rho_y: Any, phi: Any, rho_xy: Any = 0.0) -> Any:
    """Ratio of tension steel in the direction of the principal shear.

    Parameters
    ----------
    rho_x, rho_y : float or ndarray
        Ratios A_s/d of the tension face along x and y [-].
    phi : float or ndarray
        Direction of the principal shear [rad].
    rho_xy : float or ndarray
        Sum of rho_i sin cos of bars that run askew [-]; zero for bars along x and y, as the clause has it.

    Returns
    -------
    rho_l : float or ndarray
        Ratio, at most 0.02 as 6.2.2(1) has it [-].

    References
    ----------
    EN 1992-2:2005, Annex LL, expression (LL.123); EN 1992-1-1:2004, 6.2.2(1).

    Examples
    --------
    >>> rho_l(0.004, 0.008, 0.0)
    np.float64(0.004)
    """
    along = rho_x * np.cos(phi) ** 2 + rho_y * np.sin(phi) ** 2 + 2.0 * rho_xy * np.sin(phi) * np.cos(phi)
    return np.minimum(along, 0.02)


@clause("EN 1992-1-1:2004, 6.2.2(1)", formula="k = 1 + sqrt(200/d) <= 2.0, d in mm")
def k(d: Any) -> Any:
    """Size factor of members without links.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm], any shape.

    Returns
    -------
    k : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 6.2.2(1).

    Examples
    --------
    >>> k(200.0)
    np.float64(2.0)
    """
    return np.minimum(1.0 + np.sqrt(200.0 / d), 2.0)


def v_min_factor(d: Any, shallow: float, deep: float) -> Any:
    """Factor of (6.3N) by the effective depth [mm]: one up to 600 mm, another from 800 mm, a straight line between."""
    return np.interp(d, (600.0, 800.0), (shallow, deep))


@clause("EN 1992-1-1:2004, 6.2.2(1), (6.3N)", formula="v_min = 0.035 k^(3/2) f_ck^(1/2)")
def v_min(k: Any, f_ck: Any, *, factor: Any = 0.035) -> Any:
    """Minimum shear strength of members without links.

    Parameters
    ----------
    k : float or ndarray
        Size factor [-].
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    factor : float
        Nationally determined factor [MPa^(1/2)].

    Returns
    -------
    v_min : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.2.2(1), expression (6.3N).

    Examples
    --------
    >>> round(float(v_min(2.0, 25.0)), 4)
    0.495
    """
    return factor * np.power(k, 1.5) * np.sqrt(f_ck)


@clause("EN 1992-1-1:2004, 6.2.2(1)", formula="sigma_cp = N_Ed/A_c < 0.2 f_cd, compression positive")
def sigma_cp(n_Ed: Any, h: Any, f_cd: Any) -> Any:
    """Mean concrete stress from the axial force in the direction of the shear.

    Parameters
    ----------
    n_Ed : float or ndarray
        Axial force, compression positive [N/mm].
    h : float or ndarray
        Thickness [mm].
    f_cd : float or ndarray
        Design compressive strength [MPa].

    Returns
    -------
    sigma_cp : float or ndarray
        Stress, compression positive [MPa]; tension lowers the resistance.

    References
    ----------
    EN 1992-1-1:2004, 6.2.2(1).

    Examples
    --------
    >>> float(sigma_cp(-330.0, 320.0, 20.0))
    -1.03125
    """
    return np.minimum(n_Ed / h, 0.2 * f_cd)


@clause(
    "EN 1992-1-1:2004, 6.2.2(1), (6.2.a), (6.2.b)",
    formula="v_Rd,c = max(C_Rd,c k (100 rho_l f_ck)^(1/3), v_min) d + k_1 sigma_cp d, not below zero",
)
def v_Rd_c(
    d: Any, k: Any, rho_l: Any, f_ck: Any, v_min: Any, sigma_cp: Any, *, C_Rd_c: Any = 0.12, k_1: Any = 0.15
) -> Any:
    """Shear resistance without links, per unit width.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    k, rho_l : float or ndarray
        Size factor and ratio of tension steel [-].
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    v_min, sigma_cp : float or ndarray
        Minimum strength and mean axial stress [MPa].
    C_Rd_c : float
        0.18/gamma_c, nationally determined [MPa^(2/3)].
    k_1 : float
        Factor on the axial stress [-].

    Returns
    -------
    v_Rd_c : float or ndarray
        Resistance [N/mm].

    Notes
    -----
    Strong tension would make the expression negative: zero is returned there.

    References
    ----------
    EN 1992-1-1:2004, 6.2.2(1), expressions (6.2.a), (6.2.b).

    Examples
    --------
    >>> round(float(v_Rd_c(200.0, 2.0, 0.005, 25.0, 0.495, 0.0)), 1)
    111.4
    """
    strength = np.maximum(C_Rd_c * k * np.cbrt(100.0 * rho_l * f_ck), v_min) + k_1 * sigma_cp
    return np.maximum(strength * d, 0.0)
