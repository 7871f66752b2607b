"""ACI 318-19, 18.6: beams of special frames, and coupling beams without diagonals (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause
from sandwich.standards.aci318.boundary_ties import TIMES, by_grade

RHO_MAX: Final = (0.025, 0.020)  # of the bars of one side, grades 420 and 550: 18.6.3.1
HOOPS: Final = 150.0  # mm, 18.6.4.4
FIRST_HOOP: Final = 50.0  # mm from the face of the support, 18.6.4.4


@clause("ACI 318-19, 18.6.5.1, 2.2", formula="1.25 f_y A_s (d - 1.25 f_y A_s/(1.7 f_c' b))")
def M_pr(A_s: Any, f_y: Any, f_c: Any, b: Any, d: Any) -> Any:
    """Probable moment of a beam by the bars of one side.

    Parameters
    ----------
    A_s : float or ndarray
        Area of the bars of one side [mm2].
    f_y, f_c : float or ndarray
        Strengths of bars and concrete [MPa].
    b, d : float or ndarray
        Width and effective depth [mm].

    Returns
    -------
    M_pr : float or ndarray
        Moment, with a factor of 1 on the resistance [N mm].

    References
    ----------
    ACI 318-19, 18.6.5.1, 2.2.

    Examples
    --------
    >>> round(float(M_pr(804.0, 420.0, 30.0, 250.0, 600.0)) / 1e6, 1)
    239.3
    """
    pulled = 1.25 * np.asarray(f_y) * A_s
    return pulled * (d - pulled / (1.7 * f_c * b))


@clause("ACI 318-19, 18.6.5.1", formula="(M_pr1 + M_pr2)/l_n + V_g")
def V_e(M_pr_1: Any, M_pr_2: Any, l_n: Any, V_g: Any) -> Any:
    """Shear of a beam by its hinges at both ends and the load between.

    Parameters
    ----------
    M_pr_1, M_pr_2 : float or ndarray
        Probable moments at both ends [N mm].
    l_n : float or ndarray
        Clear span [mm].
    V_g : float or ndarray
        Shear by the load beside the earthquake [N].

    Returns
    -------
    V_e : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.6.5.1.

    Examples
    --------
    >>> float(V_e(200e6, 200e6, 1000.0, 10e3))
    410000.0
    """
    return (np.asarray(M_pr_1) + M_pr_2) / l_n + V_g


@clause("ACI 318-19, 18.6.5.2, (22.5.8.5.3)", formula="A_v f_yt d/s")
def V_s(rho: Any, f_yt: Any, b: Any, d: Any) -> Any:
    """Nominal shear strength by the hoops, the concrete left out.

    Parameters
    ----------
    rho : float or ndarray
        Area of the legs over their spacing and the width [-].
    f_yt : float or ndarray
        Yield strength of the hoops [MPa].
    b, d : float or ndarray
        Width and effective depth [mm].

    Returns
    -------
    V_s : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.6.5.2, (22.5.8.5.3).

    Examples
    --------
    >>> float(V_s(0.005, 420.0, 250.0, 600.0))
    315000.0
    """
    return np.asarray(rho) * f_yt * b * d


@clause("ACI 318-19, 18.6.4.4", formula="min(d/4, 150 mm, 6, 5, 4 d_b of grades 420, 550, 690)")
def s_hoops(d: Any, d_b: Any, f_y: Any) -> Any:
    """Largest spacing of the hoops next to the supports.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    d_b : float or ndarray
        Smallest diameter of the bars [mm].
    f_y : float or ndarray
        Their yield strength [MPa].

    Returns
    -------
    s_hoops : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 18.6.4.4.

    Examples
    --------
    >>> float(s_hoops(600.0, 16.0, 420.0))
    96.0
    """
    return np.minimum(np.minimum(np.asarray(d) / 4.0, HOOPS), by_grade(TIMES, f_y) * np.asarray(d_b))
