"""IS 456:2000, 31.6 and 40: one-way shear and punching of slabs. f_ck is the cube strength."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause
from sandwich.standards.is456.columns import alpha

_GRADES = (15.0, 20.0, 25.0, 30.0, 35.0, 40.0)
_TAU_C_MAX = (2.5, 2.8, 3.1, 3.5, 3.7, 4.0)


@clause(
    "IS 456:2000, 40.2.1, Table 19; SP 24",
    formula="tau_c = 0.85 (0.8 f_ck)^(1/2) ((1 + 5 beta)^(1/2) - 1) / (6 beta), beta = 0.8 f_ck / (6.89 p_t) >= 1",
)
def tau_c(p_t: Any, f_ck: Any) -> Any:
    """Design shear strength of concrete.

    Parameters
    ----------
    p_t : float or ndarray
        Ratio of tension steel [%], counted up to 3.
    f_ck : float or ndarray
        Characteristic cube strength [MPa], counted up to 40.

    Returns
    -------
    tau_c : float or ndarray
        Strength [MPa].

    References
    ----------
    IS 456:2000, Table 19, by the expression it was made from (SP 24:1983, 39.2).

    Examples
    --------
    >>> round(float(tau_c(1.0, 20.0)), 2), round(float(tau_c(0.5, 25.0)), 2)
    (0.62, 0.49)
    """
    strength = 0.8 * np.minimum(f_ck, 40.0)
    beta = np.maximum(strength / (6.89 * np.maximum(np.minimum(p_t, 3.0), 1e-6)), 1.0)
    return 0.85 * np.sqrt(strength) * (np.sqrt(1.0 + 5.0 * beta) - 1.0) / (6.0 * beta)


@clause("IS 456:2000, 40.2.1.1", formula="k = 1.30 up to 150 mm, 1.00 from 300 mm, linear between")
def k_slab(D: Any) -> Any:
    """Factor of solid slabs on the shear strength.

    Parameters
    ----------
    D : float or ndarray
        Overall depth of the slab [mm].

    Returns
    -------
    k_slab : float or ndarray
        Factor [-].

    References
    ----------
    IS 456:2000, 40.2.1.1.

    Examples
    --------
    >>> round(float(k_slab(240.0)), 3)
    1.12
    """
    return np.clip(1.6 - 0.002 * D, 1.0, 1.3)


_TENSION: Final = 0.29  # 1/MPa


@clause(
    "IS 456:2000, 40.2.2; our reading in tension",
    formula="delta = 1 + 3 P_u/(A_g f_ck) <= 1.5 in compression, 1 + 0.29 P_u/A_g >= 0 in tension (MPa)",
)
def delta(sigma: Any, f_ck: Any) -> Any:
    """Factor of axial force on the shear strength.

    Parameters
    ----------
    sigma : float or ndarray
        P_u/A_g, compression positive [MPa].
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    delta : float or ndarray
        Factor [-].

    Notes
    -----
    The clause speaks of compression alone. In tension the factor falls as that of ACI 318-14, 22.5.7.1, and is gone at
    3.4 MPa, near the tensile strength of the concrete.

    References
    ----------
    IS 456:2000, 40.2.2.

    Examples
    --------
    >>> float(delta(1.5, 30.0)), round(float(delta(-3.0, 30.0)), 2)
    (1.15, 0.13)
    """
    sigma = np.asarray(sigma, dtype=float)
    return np.where(sigma < 0.0, np.maximum(1.0 + _TENSION * sigma, 0.0), np.minimum(1.0 + 3.0 * sigma / f_ck, 1.5))


@clause("IS 456:2000, 40.2.3, 40.2.3.1, Table 20", formula="tau_c,max of Table 20, half of it for solid slabs")
def tau_c_max(f_ck: Any, *, slab: bool = True) -> Any:
    """Maximum shear stress with links.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].
    slab : bool
        Whether the half of solid slabs holds [-].

    Returns
    -------
    tau_c_max : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 40.2.3 and Table 20, by straight lines between the grades.

    Examples
    --------
    >>> float(tau_c_max(20.0))
    1.4
    """
    return np.interp(f_ck, _GRADES, _TAU_C_MAX) * (0.5 if slab else 1.0)


@clause("IS 456:2000, 40.4(a)", formula="a_sv = (tau_v - tau_c) / (0.87 f_y)")
def a_sv(tau_v: Any, tau_c: Any, f_y: Any) -> Any:
    """Vertical links that a shear stress asks for, over the area of the plan.

    Parameters
    ----------
    tau_v, tau_c : float or ndarray
        Nominal shear stress and strength of concrete [MPa].
    f_y : float or ndarray
        Yield strength of the links [MPa], counted up to 415.

    Returns
    -------
    a_sv : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    IS 456:2000, 40.4(a); 26.5.1.6 for the minimum, 0.4/(0.87 f_y).

    Examples
    --------
    >>> round(float(a_sv(1.0, 0.6, 415.0)), 6)
    0.001108
    """
    return np.maximum(tau_v - tau_c, 0.0) / (0.87 * np.minimum(f_y, 415.0))


@clause("IS 456:2000, 26.5.1.6", formula="a_sv,min = 0.4 / (0.87 f_y)")
def a_sv_min(f_y: Any) -> Any:
    """Minimum links where links are asked for, over the area of the plan.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength of the links [MPa], counted up to 415.

    Returns
    -------
    a_sv_min : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    IS 456:2000, 26.5.1.6, which speaks of beams.

    Examples
    --------
    >>> round(float(a_sv_min(415.0)), 6)
    0.001108
    """
    return 0.4 / (0.87 * np.minimum(f_y, 415.0))


@clause("IS 456:2000, 31.6.3.1", formula="tau = k_s 0.25 f_ck^(1/2), k_s = 0.5 + beta_c <= 1")
def tau_punching(f_ck: Any, beta_c: Any = 1.0) -> Any:
    """Punching strength without shear reinforcement, on a section d/2 from the column.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].
    beta_c : float or ndarray
        Short over long side of the column [-].

    Returns
    -------
    tau_punching : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 31.6.3.1.

    Examples
    --------
    >>> float(tau_punching(25.0, 0.25))
    0.9375
    """
    return np.minimum(0.5 + beta_c, 1.0) * 0.25 * np.sqrt(f_ck)


@clause("IS 456:2000, 31.6.2.2, 31.3.3", formula="1 - alpha, alpha = 1 / (1 + 2/3 (a_1/a_2)^(1/2))")
def moment_by_shear(a_1: Any, a_2: Any) -> Any:
    """Part of the unbalanced moment that eccentricity of shear carries.

    Parameters
    ----------
    a_1, a_2 : float or ndarray
        Sizes of the critical section along the eccentricity and across it [mm].

    Returns
    -------
    moment_by_shear : float or ndarray
        Part 1 - alpha [-].

    References
    ----------
    IS 456:2000, 31.6.2.2 with 31.3.3.

    Examples
    --------
    >>> round(float(moment_by_shear(600.0, 600.0)), 3)
    0.4
    """
    return 1.0 - alpha(a_1, a_2)
