"""EN 1992-1-1:2004, 5.2, 5.8.3, 5.8.8.2 and 12.6.5: slenderness, effective length, imperfections of walls."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 5.8.3.1(1), (5.13N)", formula="lambda_lim = 20 A B C/n^(1/2)")
def lambda_lim(n: Any, *, A: Any = 0.7, B: Any = 1.1, C: Any = 0.7) -> Any:
    """Slenderness up to which second order effects may be left out.

    Parameters
    ----------
    n : float or ndarray
        Relative axial force N_Ed/(A_c f_cd), compression positive [-].
    A : float or ndarray
        Factor of creep, 1/(1 + 0.2 phi_ef); 0.7 where it is not known [-].
    B : float or ndarray
        Factor of the bars, (1 + 2 omega)^(1/2); 1.1 where it is not known [-].
    C : float or ndarray
        Factor of the end moments, 1.7 - M_01/M_02; 0.7 where it is not known [-].

    Returns
    -------
    lambda_lim : float or ndarray
        Slenderness [-].

    References
    ----------
    EN 1992-1-1:2004, 5.8.3.1(1), (5.13N).

    Examples
    --------
    >>> round(float(lambda_lim(0.426)), 2)
    16.52
    """
    return 20.0 * A * B * C / np.sqrt(n)


@clause("EN 1992-1-1:2004, 5.8.3.2(1), (5.14)", formula="lambda = l_0/i, i = h/12^(1/2)")
def slenderness(l_0: Any, h: Any) -> Any:
    """Slenderness of a wall across its thickness.

    Parameters
    ----------
    l_0 : float or ndarray
        Effective length [mm].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    slenderness : float or ndarray
        Slenderness with the radius of gyration of the uncracked section [-].

    References
    ----------
    EN 1992-1-1:2004, 5.8.3.2(1), (5.14).

    Examples
    --------
    >>> round(float(slenderness(3200.0, 310.0)), 2)
    35.76
    """
    return l_0 * math.sqrt(12.0) / h


@clause(
    "EN 1992-1-1:2004, 12.6.5.1(3), Table 12.1",
    formula="1; 1/(1 + (l_w/3b)^2); 1/(1 + (l_w/b)^2), b/(2 l_w) where b < l_w",
)
def beta_wall(l_w: Any, b: Any, edges: Any) -> Any:
    """Effective length of a wall over its clear height.

    Parameters
    ----------
    l_w : float or ndarray
        Clear height [mm].
    b : float or ndarray
        Length between the transverse walls, or from one to the free edge [mm].
    edges : float or ndarray
        Edges that are held: 2, 3 or 4 [-].

    Returns
    -------
    beta_wall : float or ndarray
        Coefficient beta [-].

    References
    ----------
    EN 1992-1-1:2004, 12.6.5.1(3), Table 12.1.

    Examples
    --------
    >>> beta_wall(3000.0, 6000.0, 4), round(float(beta_wall(3000.0, 2000.0, 3)), 3)
    (0.8, 0.8)
    """
    if edges == 2:
        return 1.0
    if edges == 3:
        return 1.0 / (1.0 + (l_w / (3.0 * b)) ** 2)
    return 1.0 / (1.0 + (l_w / b) ** 2) if b >= l_w else b / (2.0 * l_w)


@clause("EN 1992-1-1:2004, 5.2(9)", formula="e_i = l_0/400")
def e_i(l_0: Any) -> Any:
    """Eccentricity of imperfections of a wall in a braced system.

    Parameters
    ----------
    l_0 : float or ndarray
        Effective length [mm].

    Returns
    -------
    e_i : float or ndarray
        Eccentricity [mm].

    References
    ----------
    EN 1992-1-1:2004, 5.2(9).

    Examples
    --------
    >>> e_i(3600.0)
    9.0
    """
    return l_0 / 400.0


@clause("EN 1992-1-1:2004, 5.8.8.2(2), (5.32)", formula="M_0e = 0.6 M_02 + 0.4 M_01, 0.4 M_02 or more")
def M_0e(M_01: Any, M_02: Any) -> Any:
    """Equivalent first order moment of different end moments.

    Parameters
    ----------
    M_01, M_02 : float or ndarray
        End moments, |M_02| >= |M_01|, of one sign where they pull one side [N mm].

    Returns
    -------
    M_0e : float or ndarray
        Moment [N mm].

    References
    ----------
    EN 1992-1-1:2004, 5.8.8.2(2), (5.32).

    Examples
    --------
    >>> float(M_0e(10.2e6, 72.2e6))
    47400000.0
    """
    return np.maximum(0.6 * M_02 + 0.4 * M_01, 0.4 * M_02)
