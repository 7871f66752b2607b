"""ACI 318-19, 19.2.2 and 24.3: modulus, spacing of bars for cracking, crack width by Frosch."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 19.2.2.1(b)", formula="E_c = 4700 f_c'^(1/2)")
def E_c(f_c: Any) -> Any:
    """Modulus of normalweight concrete.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].

    Returns
    -------
    E_c : float or ndarray
        Modulus [MPa].

    References
    ----------
    ACI 318-19 (SI), 19.2.2.1(b).

    Examples
    --------
    >>> round(float(E_c(25.0)))
    23500
    """
    return 4700.0 * np.sqrt(f_c)


@clause("ACI 318-19, 24.3.2, table 24.3.2", formula="s = min(380 (280/f_s) - 2.5 c_c, 300 (280/f_s))")
def s_crack(f_s: Any, c_c: Any) -> Any:
    """Maximum spacing of the bars nearest to the face in tension.

    Parameters
    ----------
    f_s : float or ndarray
        Stress of the bars under service loads, 2/3 f_y without calculation [MPa].
    c_c : float or ndarray
        Minimum distance from the bars to the face [mm].

    Returns
    -------
    s_crack : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19 (SI), 24.3.2 and 24.3.2.1.

    Examples
    --------
    >>> float(s_crack(280.0, 20.0))
    300.0
    """
    return np.minimum(380.0 * (280.0 / f_s) - 2.5 * c_c, 300.0 * (280.0 / f_s))


@clause("ACI 318-19, R24.3; Frosch 1999, equation 13", formula="d* = ((d_c)^2 + (s/2)^2)^(1/2)")
def d_star(d_c: Any, s: Any) -> Any:
    """Controlling distance from the bars to the face.

    Parameters
    ----------
    d_c : float or ndarray
        Distance from the face to the axes of the bars [mm].
    s : float or ndarray
        Spacing of the bars [mm].

    Returns
    -------
    d_star : float or ndarray
        Distance [mm].

    References
    ----------
    ACI 318-19, R24.3.2 names the model; Frosch, R. J., ACI Structural Journal 96 (1999), 437-442.

    Examples
    --------
    >>> float(d_star(30.0, 80.0))
    50.0
    """
    return np.hypot(d_c, np.asarray(s) / 2.0)


@clause("ACI 318-19, R24.3; Frosch 1999, equation 9", formula="beta = strain at the face / strain at the bars")
def beta(eps_face: Any, eps_bars: Any) -> Any:
    """Growth of the strain from the bars to the face.

    Parameters
    ----------
    eps_face, eps_bars : float or ndarray
        Strain across the crack at the face and at the bars [-].

    Returns
    -------
    beta : float or ndarray
        Factor [-]; not below 1.

    References
    ----------
    Frosch, R. J., ACI Structural Journal 96 (1999), 437-442; named by ACI 318-19, R24.3.2.

    Examples
    --------
    >>> float(beta(1.2e-3, 1e-3))
    1.2
    """
    return np.maximum(np.asarray(eps_face) / eps_bars, 1.0)


@clause("ACI 318-19, R24.3; Frosch 1999, equation 15", formula="w_c = 2 eps_s beta d*")
def w_c(eps_s: Any, beta: Any, d_star: Any) -> Any:
    """Maximum crack width at the face.

    Parameters
    ----------
    eps_s : float or ndarray
        Strain across the crack at the bars, f_s/E_s in one-way bending [-].
    beta : float or ndarray
        Growth of the strain to the face [-].
    d_star : float or ndarray
        Controlling distance [mm].

    Returns
    -------
    w_c : float or ndarray
        Width [mm].

    References
    ----------
    Frosch, R. J., ACI Structural Journal 96 (1999), 437-442; named by ACI 318-19, R24.3.2.

    Examples
    --------
    >>> round(w_c(1e-3, 1.2, 100.0), 2)
    0.24
    """
    return 2.0 * eps_s * beta * d_star
