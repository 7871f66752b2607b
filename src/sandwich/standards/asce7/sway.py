"""ASCE 7-16, 12.3, 12.8, 12.12: drift, second order, torsion and separation of buildings."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

NEGLECTED: Final = 0.10  # stability coefficient, 12.8.7
IRREGULAR: Final = 1.2  # largest over mean drift, Table 12.3-1, 1a


@clause("ASCE 7-16, 12.8.6, (12.8-15)", formula="delta_x = C_d delta_xe/I_e")
def delta_x(C_d: Any, delta_xe: Any, I_e: Any) -> Any:
    """Deflection of a level by the strength-level seismic forces.

    Parameters
    ----------
    C_d : float or ndarray
        Deflection amplification factor [-].
    delta_xe : float or ndarray
        Deflection by the elastic analysis [mm].
    I_e : float or ndarray
        Importance factor [-].

    Returns
    -------
    delta_x : float or ndarray
        Deflection [mm].

    References
    ----------
    ASCE 7-16, 12.8.6, (12.8-15).

    Examples
    --------
    >>> float(delta_x(5.0, 4.0, 1.25))
    16.0
    """
    return np.asarray(C_d) * delta_xe / I_e


@clause("ASCE 7-16, 12.8.7, (12.8-16)", formula="theta = P_x Delta I_e/(V_x h_sx C_d)")
def theta(P_x: Any, Delta: Any, I_e: Any, V_x: Any, h_sx: Any, C_d: Any) -> Any:
    """Stability coefficient.

    Parameters
    ----------
    P_x : float or ndarray
        Vertical design load at and above the level, load factors up to 1 [N].
    Delta : float or ndarray
        Design storey drift [mm].
    I_e : float or ndarray
        Importance factor [-].
    V_x : float or ndarray
        Seismic shear of the storey [N].
    h_sx : float or ndarray
        Storey height [mm].
    C_d : float or ndarray
        Deflection amplification factor [-].

    Returns
    -------
    theta : float or ndarray
        Coefficient [-].

    References
    ----------
    ASCE 7-16, 12.8.7, (12.8-16).

    Examples
    --------
    >>> float(theta(20e6, 75.0, 1.0, 1e6, 3000.0, 5.0))
    0.1
    """
    return np.asarray(P_x) * Delta * I_e / (np.asarray(V_x) * h_sx * C_d)


@clause("ASCE 7-16, 12.8.7, (12.8-17)", formula="theta_max = 0.5/(beta C_d) <= 0.25")
def theta_max(beta: Any, C_d: Any) -> Any:
    """Largest stability coefficient.

    Parameters
    ----------
    beta : float or ndarray
        Shear demand over shear capacity of the storey [-].
    C_d : float or ndarray
        Deflection amplification factor [-].

    Returns
    -------
    theta_max : float or ndarray
        Coefficient [-].

    References
    ----------
    ASCE 7-16, 12.8.7, (12.8-17).

    Examples
    --------
    >>> float(theta_max(1.0, 5.0))
    0.1
    """
    return np.minimum(0.5 / (np.asarray(beta) * C_d), 0.25)


@clause("ASCE 7-16, 12.8.7", formula="1/(1 - theta) of theta above 0.10")
def second_order(theta: Any) -> Any:
    """Factor on displacements and forces for second order.

    Parameters
    ----------
    theta : float or ndarray
        Stability coefficient [-].

    Returns
    -------
    second_order : float or ndarray
        Factor [-].

    References
    ----------
    ASCE 7-16, 12.8.7.

    Examples
    --------
    >>> float(second_order(0.2)), float(second_order(0.05))
    (1.25, 1.0)
    """
    theta = np.asarray(theta)
    return np.where(theta > NEGLECTED, 1.0 / np.maximum(1.0 - theta, 1e-9), 1.0)


@clause(
    "ASCE 7-16, 12.12.1, Table 12.12-1",
    formula="Delta_a = 0.010 to 0.025 h_sx by the structure and its risk category",
)
def Delta_max(ratio: Any, h_sx: Any) -> Any:
    """Allowable storey drift.

    Parameters
    ----------
    ratio : float or ndarray
        Of the table [-].
    h_sx : float or ndarray
        Storey height [mm].

    Returns
    -------
    Delta_max : float or ndarray
        Drift [mm].

    References
    ----------
    ASCE 7-16, 12.12.1, Table 12.12-1.

    Examples
    --------
    >>> float(Delta_max(0.020, 3000.0))
    60.0
    """
    return np.asarray(ratio) * h_sx


@clause("ASCE 7-16, 12.8.4.3, (12.8-14)", formula="A_x = (delta_max/(1.2 delta_avg))^2, 1 to 3")
def A_x(delta_max: Any, delta_avg: Any) -> Any:
    """Amplification of the accidental torsion.

    Parameters
    ----------
    delta_max, delta_avg : float or ndarray
        Largest and mean displacement of a level [mm].

    Returns
    -------
    A_x : float or ndarray
        Factor [-].

    References
    ----------
    ASCE 7-16, 12.8.4.3, (12.8-14).

    Examples
    --------
    >>> round(float(A_x(18.0, 12.0)), 4), float(A_x(12.0, 12.0))
    (1.5625, 1.0)
    """
    ratio = np.asarray(delta_max) / (1.2 * np.asarray(delta_avg))
    return np.clip(ratio**2, 1.0, 3.0)


@clause("ASCE 7-16, 12.12.3, (12.12-2)", formula="delta_MT = sqrt(delta_M1^2 + delta_M2^2)")
def separation(delta_M1: Any, delta_M2: Any) -> Any:
    """Separation of adjacent structures on one property.

    Parameters
    ----------
    delta_M1, delta_M2 : float or ndarray
        Largest inelastic displacements of both [mm].

    Returns
    -------
    separation : float or ndarray
        Width [mm].

    References
    ----------
    ASCE 7-16, 12.12.3, (12.12-2).

    Examples
    --------
    >>> float(separation(30.0, 40.0))
    50.0
    """
    return np.hypot(delta_M1, delta_M2)
