"""IS 456:2000, 6.2.3, 35.3.2 and annex F: modulus and crack width."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 6.2.3.1", formula="E_c = 5000 f_ck^(1/2)")
def E_c(f_ck: Any) -> Any:
    """Short-term modulus of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    E_c : float or ndarray
        Modulus [MPa].

    References
    ----------
    IS 456:2000, 6.2.3.1.

    Examples
    --------
    >>> float(E_c(25.0))
    25000.0
    """
    return 5000.0 * np.sqrt(f_ck)


@clause("IS 456:2000, C-4.1", formula="E_ce = E_c/(1 + theta)")
def E_ce(E_c: Any, theta: Any) -> Any:
    """Effective modulus of concrete that creeps.

    Parameters
    ----------
    E_c : float or ndarray
        Short-term modulus [MPa].
    theta : float or ndarray
        Creep coefficient [-].

    Returns
    -------
    E_ce : float or ndarray
        Modulus [MPa].

    References
    ----------
    IS 456:2000, annex C, C-4.1.

    Examples
    --------
    >>> E_ce(25000.0, 1.5)
    10000.0
    """
    return E_c / (1.0 + theta)


@clause("IS 456:2000, annex F", formula="a_cr = ((s/2)^2 + d_c^2)^(1/2) - phi/2")
def a_cr(s: Any, d_c: Any, phi: Any) -> Any:
    """Distance from the place where cracks are widest to the surface of the nearest bar.

    Parameters
    ----------
    s, d_c, phi : float or ndarray
        Spacing, distance from the face to the axes, diameter [mm].

    Returns
    -------
    a_cr : float or ndarray
        Distance [mm].

    References
    ----------
    IS 456:2000, annex F: at the face, half way between bars.

    Examples
    --------
    >>> float(a_cr(80.0, 30.0, 10.0))
    45.0
    """
    return np.hypot(np.asarray(s) / 2.0, d_c) - np.asarray(phi) / 2.0


@clause("IS 456:2000, annex F", formula="eps_m = eps_1 - b (h - x)(a - x)/(3 E_s A_s (d - x)), a = h")
def eps_m(eps_1: Any, h: Any, x: Any, d: Any, A_s: Any, E_s: Any) -> Any:
    """Mean strain at the face with the concrete between cracks.

    Parameters
    ----------
    eps_1 : float or ndarray
        Strain at the face without the concrete in tension [-].
    h, x, d : float or ndarray
        Thickness, compressed depth, effective depth [mm].
    A_s : float or ndarray
        Area of the bars in tension [mm2/mm].
    E_s : float or ndarray
        Modulus of the bars [MPa].

    Returns
    -------
    eps_m : float or ndarray
        Strain [-]; not below zero.

    References
    ----------
    IS 456:2000, annex F, with a = h: the level of the face.

    Examples
    --------
    >>> round(float(eps_m(0.0015, 410.0, 123.0, 365.0, 0.785, 2e5)), 7)
    0.0007774
    """
    held = (h - np.asarray(x)) ** 2 / (3.0 * E_s * A_s * (np.asarray(d) - x))
    return np.maximum(eps_1 - held, 0.0)


@clause("IS 456:2000, annex F", formula="w_cr = 3 a_cr eps_m/(1 + 2 (a_cr - C_min)/(h - x))")
def w_cr(a_cr: Any, eps_m: Any, C_min: Any, h: Any, x: Any) -> Any:
    """Surface crack width in bending.

    Parameters
    ----------
    a_cr : float or ndarray
        Distance from the place to the surface of the nearest bar [mm].
    eps_m : float or ndarray
        Mean strain there [-].
    C_min, h, x : float or ndarray
        Minimum cover to the bars, thickness, compressed depth [mm].

    Returns
    -------
    w_cr : float or ndarray
        Width [mm].

    References
    ----------
    IS 456:2000, annex F.

    Examples
    --------
    >>> round(float(w_cr(90.0, 0.0007773508, 35.0, 410.0, 123.0)), 5)
    0.15173
    """
    return 3.0 * a_cr * eps_m / (1.0 + 2.0 * (a_cr - np.asarray(C_min)) / (h - np.asarray(x)))


@clause("IS 456:2000, annex F (our reading)", formula="w_cr = 3 a_cr eps_m")
def w_cr_tension(a_cr: Any, eps_m: Any) -> Any:
    """Surface crack width where the whole depth is in tension.

    Parameters
    ----------
    a_cr : float or ndarray
        Distance from the place to the surface of the nearest bar [mm].
    eps_m : float or ndarray
        Strain there [-].

    Returns
    -------
    w_cr_tension : float or ndarray
        Width [mm].

    References
    ----------
    IS 456:2000, annex F, whose denominator falls to 1 with growing depth; the annex is for bending alone.

    Examples
    --------
    >>> round(w_cr_tension(90.0, 0.001), 2)
    0.27
    """
    return 3.0 * a_cr * eps_m
