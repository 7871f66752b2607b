"""IS 456:2000, 25.4, 32.2, 39.6 and 39.7: slender walls in compression, out of their plane."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 39.6", formula="P_uz = 0.45 f_ck A_c + 0.75 f_y A_sc")
def P_uz(f_ck: Any, f_y: Any, A_c: Any, A_sc: Any) -> Any:
    """Axial strength without a moment.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].
    f_y : float or ndarray
        Yield strength [MPa].
    A_c, A_sc : float or ndarray
        Areas of concrete and bars [mm2].

    Returns
    -------
    P_uz : float or ndarray
        Axial force, compression positive [N].

    References
    ----------
    IS 456:2000, 39.6.

    Examples
    --------
    >>> P_uz(25.0, 415.0, 1e5, 1e3)
    1436250.0
    """
    return 0.45 * f_ck * A_c + 0.75 * f_y * A_sc


@clause("IS 456:2000, 39.7.1", formula="M_a = P_u D/2000 (l_e/D)^2")
def M_additional(P_u: Any, D: Any, l_e: Any) -> Any:
    """Additional moment of a slender member.

    Parameters
    ----------
    P_u : float or ndarray
        Axial force, compression positive [N].
    D : float or ndarray
        Thickness [mm].
    l_e : float or ndarray
        Effective length [mm].

    Returns
    -------
    M_additional : float or ndarray
        Moment [N mm].

    References
    ----------
    IS 456:2000, 39.7.1.

    Examples
    --------
    >>> M_additional(1e6, 200.0, 4000.0)
    40000000.0
    """
    return P_u * D / 2000.0 * (l_e / D) ** 2


@clause("IS 456:2000, 39.7.1.1", formula="k = (P_uz - P_u)/(P_uz - P_b), 1 or less")
def k_additional(P_u: Any, P_uz: Any, P_b: Any) -> Any:
    """Reduction of the additional moment by the axial force.

    Parameters
    ----------
    P_u, P_uz, P_b : float or ndarray
        Axial forces, compression positive: acting, without a moment, at the balanced strain [N].

    Returns
    -------
    k_additional : float or ndarray
        Factor [-]; inf where the section does not carry the axial force at all.

    References
    ----------
    IS 456:2000, 39.7.1.1.

    Examples
    --------
    >>> float(k_additional(900.0, 1400.0, 400.0))
    0.5
    """
    left = P_uz - np.asarray(P_u, dtype=float)
    return np.where(left > 0.0, np.minimum(left / (P_uz - P_b), 1.0), np.inf)


@clause("IS 456:2000, 25.4", formula="e_min = l/500 + D/30, 20 mm or more")
def e_min_length(l: Any, D: Any) -> Any:
    """Minimum eccentricity of a column.

    Parameters
    ----------
    l : float or ndarray
        Unsupported length [mm].
    D : float or ndarray
        Thickness [mm].

    Returns
    -------
    e_min_length : float or ndarray
        Eccentricity [mm].

    References
    ----------
    IS 456:2000, 25.4.

    Examples
    --------
    >>> float(e_min_length(3000.0, 150.0)), float(e_min_length(6000.0, 300.0))
    (20.0, 22.0)
    """
    return np.maximum(l / 500.0 + D / 30.0, 20.0)


@clause("IS 456:2000, 32.2.5", formula="e_a = H_we^2/(2500 t)")
def e_a(H_we: Any, t: Any) -> Any:
    """Additional eccentricity of a wall.

    Parameters
    ----------
    H_we : float or ndarray
        Effective height [mm].
    t : float or ndarray
        Thickness [mm].

    Returns
    -------
    e_a : float or ndarray
        Eccentricity [mm].

    References
    ----------
    IS 456:2000, 32.2.5.

    Examples
    --------
    >>> e_a(3000.0, 200.0)
    18.0
    """
    return H_we**2 / (2500.0 * t)


@clause("IS 456:2000, 32.2.2, 32.2.5", formula="P_uw = 0.3 (t - 1.2 e - 2 e_a) f_ck, e 0.05 t or more")
def p_uw(t: Any, e: Any, e_a: Any, f_ck: Any) -> Any:
    """Axial strength of a braced wall per length.

    Parameters
    ----------
    t : float or ndarray
        Thickness [mm].
    e : float or ndarray
        Eccentricity of the load at right angles to the wall, 0.05 t or more [mm].
    e_a : float or ndarray
        Additional eccentricity [mm].
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    p_uw : float or ndarray
        Axial force per length, compression positive [N/mm].

    References
    ----------
    IS 456:2000, 32.2.2, 32.2.5.

    Examples
    --------
    >>> round(float(p_uw(200.0, 0.0, 18.0, 25.0)))
    1140
    """
    return 0.3 * np.maximum(t - 1.2 * np.maximum(e, 0.05 * t) - 2.0 * e_a, 0.0) * f_ck
