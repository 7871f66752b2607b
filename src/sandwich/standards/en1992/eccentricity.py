"""EN 1992-1-1:2004, 6.4.3: what an unbalanced moment adds to the punching stress."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 6.4.3(3), Table 6.1", formula="k: 0.45 at c_1/c_2 <= 0.5, 0.60 at 1, 0.70 at 2, 0.80 from 3")
def k_moment(ratio: Any) -> Any:
    """Part of the unbalanced moment that shear carries.

    Parameters
    ----------
    ratio : float or ndarray
        c_1/c_2, c_1 along the eccentricity [-].

    Returns
    -------
    k_moment : float or ndarray
        Factor k, by straight lines between the values of the table [-].

    References
    ----------
    EN 1992-1-1:2004, 6.4.3(3), Table 6.1.

    Examples
    --------
    >>> round(float(k_moment(1.5)), 3)
    0.65
    """
    return np.interp(ratio, (0.5, 1.0, 2.0, 3.0), (0.45, 0.60, 0.70, 0.80))


@clause(
    "EN 1992-1-1:2004, 6.4.3(3), (6.39), (6.43)",
    formula="beta = 1 + u_1/V_Ed ((k_1 M_1/W_1)^2 + (k_2 M_2/W_2)^2)^(1/2)",
)
def beta_inside(V_Ed: Any, u_1: Any, k_1: Any, k_2: Any, M_1: Any, M_2: Any, W_1: Any, W_2: Any) -> Any:
    """Factor of the unbalanced moments of both directions, by (6.39) and joined as in (6.43).

    Parameters
    ----------
    V_Ed : float or ndarray
        Punching force [N].
    u_1 : float or ndarray
        Control perimeter [mm].
    k_1, k_2 : float or ndarray
        Factors of Table 6.1 of both directions [-].
    M_1, M_2 : float or ndarray
        V_Ed times the eccentricity along both directions, from the centroid of the perimeter [N mm].
    W_1, W_2 : float or ndarray
        Integrals of |e| along both directions [mm2].

    Returns
    -------
    beta : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 6.4.3(3), expressions (6.39), (6.40), (6.43).

    Examples
    --------
    >>> round(float(beta_inside(500e3, 4000.0, 0.6, 0.6, 50e6, 0.0, 2.5e6, 2.5e6)), 3)
    1.096
    """
    return 1.0 + u_1 / V_Ed * np.hypot(k_1 * M_1 / W_1, k_2 * M_2 / W_2)


@clause(
    "EN 1992-1-1:2004, 6.4.3(4), (6.44)", formula="beta = u_1/u_1* + k M_par/V_Ed u_1/W_1, eccentricity to the inside"
)
def beta_edge(V_Ed: Any, u_1: Any, u_1_red: Any, k: Any, M_par: Any, W_1: Any) -> Any:
    """Factor of the unbalanced moment of a column at an edge.

    Parameters
    ----------
    V_Ed : float or ndarray
        Punching force [N].
    u_1, u_1_red : float or ndarray
        Control perimeter and its reduced length u_1* of Figure 6.20 a) [mm].
    k : float or ndarray
        Factor of Table 6.1 for c_1/(2 c_2) [-].
    M_par : float or ndarray
        V_Ed times the eccentricity along the edge [N mm].
    W_1 : float or ndarray
        Integral of |e| along the edge [mm2].

    Returns
    -------
    beta : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 6.4.3(4), expression (6.44).

    Examples
    --------
    >>> round(float(beta_edge(300e3, 3000.0, 2600.0, 0.45, 0.0, 1.5e6)), 3)
    1.154
    """
    return u_1 / u_1_red + k * np.abs(M_par) / V_Ed * u_1 / W_1


@clause("EN 1992-1-1:2004, 6.4.3(5), (6.46)", formula="beta = u_1/u_1*, eccentricity to the inside")
def beta_corner(u_1: Any, u_1_red: Any) -> Any:
    """Factor of the unbalanced moment of a column at a corner.

    Parameters
    ----------
    u_1, u_1_red : float or ndarray
        Control perimeter and its reduced length u_1* of Figure 6.20 b) [mm].

    Returns
    -------
    beta : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, 6.4.3(5), expression (6.46).

    Examples
    --------
    >>> beta_corner(1800.0, 1500.0)
    1.2
    """
    return u_1 / u_1_red
