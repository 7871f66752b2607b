"""Strength of compressed layers under ACI 318-19: our reading, for the standard has no three-layer model."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause

PHI_TENSION: float = 0.9
PHI_COMPRESSION: float = 0.65
PHI_STRUT: float = 0.75
BETA_S: float = 0.75


@clause("ACI 318-19, Table 21.2.2", formula="phi = 0.9 where the bars in tension strain by eps_ty + 0.003, else 0.65")
def phi(tension_controlled: Any) -> Any:
    """Strength reduction factor by the strain check, without the transition between.

    Parameters
    ----------
    tension_controlled : bool or ndarray
        Whether the net tensile strain reaches eps_ty + 0.003 [-].

    Returns
    -------
    phi : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, Table 21.2.2; the transition region takes the lower value.

    Examples
    --------
    >>> float(phi(True)), float(phi(False))
    (0.9, 0.65)
    """
    return np.where(tension_controlled, PHI_TENSION, PHI_COMPRESSION)


@clause("ACI 318-19, 22.2.2.4.1, Table 21.2.2; our reading for layers", formula="fc = phi 0.85 f_c'")
def fc_whole(f_c: Any, phi: Any) -> Any:
    """Strength of a layer without transverse tension.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].
    phi : float or ndarray
        Strength reduction factor [-].

    Returns
    -------
    fc_whole : float or ndarray
        Strength [MPa].

    References
    ----------
    ACI 318-19, 22.2.2.4.1.

    Examples
    --------
    >>> round(fc_whole(28.0, 0.9), 2)
    21.42
    """
    return phi * 0.85 * f_c


@clause("ACI 318-19, 23.4.3, Table 23.4.3(a), 21.2.1(g); our reading for layers", formula="fc = phi 0.85 beta_s f_c'")
def fc_cracked(f_c: Any, *, beta_s: Any = BETA_S, phi: Any = PHI_STRUT) -> Any:
    """Strength of a layer with transverse tension: that of a strut crossed by bars.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].
    beta_s : float
        Coefficient of a strut with distributed steel across it [-].
    phi : float
        Factor of strut-and-tie models [-].

    Returns
    -------
    fc_cracked : float or ndarray
        Strength [MPa].

    References
    ----------
    ACI 318-19, 23.4.3 and Table 23.4.3(a) with the steel of 23.5; Table 21.2.1(g).

    Examples
    --------
    >>> round(fc_cracked(28.0), 4)
    13.3875
    """
    return phi * 0.85 * beta_s * f_c


@clause("ACI 318-19, 22.4.2.1, Table 22.4.2.1(b), 22.4.2.2", formula="phi P_n,max = 0.80 fc h")
def p_n_max(fc: Any, h: Any) -> Any:
    """Maximum axial compression of a section, bars left out.

    Parameters
    ----------
    fc : float or ndarray
        Strength of the concrete with its phi, phi 0.85 f_c' of a whole section [MPa].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    p_n_max : float or ndarray
        Compression [N/mm].

    References
    ----------
    ACI 318-19, 22.4.2.1 for members with ties; spirals do not occur.

    Examples
    --------
    >>> round(float(p_n_max(15.47, 250.0)), 1)
    3094.0
    """
    return 0.80 * fc * h


@clause("ACI 318-19, 19.2.3.1", formula="f_r = 0.62 f_c'^(1/2)")
def f_r(f_c: Any) -> Any:
    """Flexural strength of concrete.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].

    Returns
    -------
    f_r : float or ndarray
        Stress at which the extreme fibre cracks [MPa].

    References
    ----------
    ACI 318-19 (SI), 19.2.3.1, normalweight concrete.

    Examples
    --------
    >>> round(float(f_r(25.0)), 2)
    3.1
    """
    return 0.62 * np.sqrt(f_c)
