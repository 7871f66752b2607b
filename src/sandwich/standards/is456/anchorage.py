"""IS 456:2000, 26.2: development length and laps of bars."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

TAU_BD: Final = ((20.0, 25.0, 30.0, 35.0, 40.0), (1.2, 1.4, 1.5, 1.7, 1.9))  # f_ck, plain bars in tension: 26.2.1.1


@clause(
    "IS 456:2000, 26.2.1.1",
    formula="1.2 to 1.9 MPa by the grade, 60 % more of deformed bars, 25 % more in compression",
)
def tau_bd(f_ck: Any, tension: bool) -> Any:
    """Design bond stress of deformed bars.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].
    tension : bool
        Whether the bar pulls [-].

    Returns
    -------
    tau_bd : float or ndarray
        Stress, of the grade below between two [MPa].

    References
    ----------
    IS 456:2000, 26.2.1.1.

    Examples
    --------
    >>> round(float(tau_bd(30.0, True)), 3), round(float(tau_bd(30.0, False)), 3)
    (2.4, 3.0)
    """
    grades, stresses = TAU_BD
    at = np.clip(np.searchsorted(grades, np.asarray(f_ck) + 1e-9, side="right") - 1, 0, len(grades) - 1)
    return np.asarray(stresses)[at] * 1.6 * np.where(tension, 1.0, 1.25)


@clause("IS 456:2000, 26.2.1", formula="L_d = phi sigma_s/(4 tau_bd)")
def L_d(phi: Any, sigma_s: Any, tau_bd: Any) -> Any:
    """Development length.

    Parameters
    ----------
    phi : float or ndarray
        Diameter [mm].
    sigma_s : float or ndarray
        Stress of the bar [MPa].
    tau_bd : float or ndarray
        Bond stress [MPa].

    Returns
    -------
    L_d : float or ndarray
        Length [mm].

    References
    ----------
    IS 456:2000, 26.2.1.

    Examples
    --------
    >>> round(float(L_d(16.0, 0.87 * 415.0, 2.4)))
    602
    """
    return np.asarray(phi) * sigma_s / (4.0 * np.asarray(tau_bd))


@clause("IS 456:2000, 26.2.2.1", formula="L_d - 8 phi")
def hooked(L_d: Any, phi: Any) -> Any:
    """Anchorage value of a standard right-angle bend taken off the development length.

    Parameters
    ----------
    L_d : float or ndarray
        Development length [mm].
    phi : float or ndarray
        Diameter [mm].

    Returns
    -------
    hooked : float or ndarray
        Length up to the bend [mm].

    References
    ----------
    IS 456:2000, 26.2.2.1.

    Examples
    --------
    >>> float(hooked(602.0, 16.0))
    474.0
    """
    return np.maximum(np.asarray(L_d) - 8.0 * np.asarray(phi), 8.0 * np.asarray(phi))


@clause(
    "IS 456:2000, 26.2.5.1(c), (d)",
    formula="max(L_d, 30 phi), 1.4 times with little cover, 15 phi, 200 mm; compression max(L_d, 24 phi)",
)
def lap(L_d: Any, phi: Any, tension: bool, near: bool) -> Any:
    """Lap of bars.

    Parameters
    ----------
    L_d : float or ndarray
        Development length [mm].
    phi : float or ndarray
        Diameter [mm].
    tension : bool
        Whether the bars pull [-].
    near : bool
        Whether covers are under 2 phi, or laps nearer than 75 mm or 6 phi [-].

    Returns
    -------
    lap : float or ndarray
        Length [mm].

    References
    ----------
    IS 456:2000, 26.2.5.1(c), (d).

    Examples
    --------
    >>> float(lap(602.0, 16.0, True, False)), float(lap(300.0, 16.0, False, False))
    (602.0, 384.0)
    """
    phi = np.asarray(phi, dtype=float)
    pulled = np.maximum(np.maximum(L_d, 30.0 * phi) * np.where(near, 1.4, 1.0), np.maximum(15.0 * phi, 200.0))
    return np.where(tension, pulled, np.maximum(L_d, 24.0 * phi))


@clause("IS 456:2000, 26.2.3.1", formula="max(d, 12 phi, L_d)")
def extension(d: Any, phi: Any, L_d: Any) -> Any:
    """How far bars go beyond the place where they are no longer required.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    phi : float or ndarray
        Diameter [mm].
    L_d : float or ndarray
        Development length [mm].

    Returns
    -------
    extension : float or ndarray
        Length [mm].

    References
    ----------
    IS 456:2000, 26.2.3.1.

    Examples
    --------
    >>> float(extension(500.0, 16.0, 602.0))
    602.0
    """
    return np.maximum(np.maximum(d, 12.0 * np.asarray(phi)), L_d)
