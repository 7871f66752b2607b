"""ACI 318-19, 21.2 and 22.2: the rectangular stress block of a tension-controlled section."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause
from sandwich.mechanics.block import StressBlock


@clause("ACI 318-19, 22.2.2.4.3", formula="beta_1 = 0.85 - 0.05 (f_c' - 28)/7, 0.65 to 0.85")
def beta_1(f_c: float) -> float:
    """Depth of the stress block over that of the neutral axis.

    Parameters
    ----------
    f_c : float
        Specified cylinder strength f_c' [MPa], 17 or more.

    Returns
    -------
    beta_1 : float
        Ratio [-].

    References
    ----------
    ACI 318-19 (SI), Table 22.2.2.4.3.

    Examples
    --------
    >>> beta_1(28.0), round(beta_1(35.0), 9), beta_1(70.0)
    (0.85, 0.8, 0.65)
    """
    return min(max(0.85 - 0.05 * (f_c - 28.0) / 7.0, 0.65), 0.85)


@clause("ACI 318-19, 22.2.1.2, 22.2.2.4.1", formula="epsilon_t = 0.003 (0.85 beta_1 f_c'/(rho f_y) - 1)")
def epsilon_t(rho: Any, f_c: Any, f_y: Any, beta_1: Any) -> Any:
    """Net tensile strain at nominal strength of a section in bending.

    Parameters
    ----------
    rho : float or ndarray
        Bars in tension over width and effective depth [-].
    f_c, f_y : float
        Specified cylinder strength f_c' and yield strength [MPa].
    beta_1 : float
        Depth of the stress block over that of the neutral axis [-].

    Returns
    -------
    epsilon_t : float or ndarray
        Strain [-].

    References
    ----------
    ACI 318-19, 22.2.1.2, 22.2.2.1, 22.2.2.4.1.

    Examples
    --------
    >>> round(float(epsilon_t(0.00833, 28.0, 420.0, 0.85)), 4)
    0.0143
    """
    return 0.003 * (0.85 * beta_1 * f_c / (np.maximum(rho, 1e-9) * f_y) - 1.0)


def stress_block(f_c: float, f_y: float, *, E_s: float = 200_000.0, controlled: float | None = None) -> StressBlock:
    """Equivalent rectangular concrete stress with bars at yield and phi of a tension-controlled section.

    Parameters
    ----------
    f_c, f_y : float
        Specified cylinder strength f_c' and yield strength [MPa].
    E_s : float
        Modulus of the bars [MPa].
    controlled : float, optional
        Net tensile strain of tension-controlled sections [-], eps_ty + 0.003 by default.

    Returns
    -------
    StressBlock
        0.85 f_c' over beta_1 c, phi = 0.9, c/d up to the net tensile strain of tension-controlled sections.

    References
    ----------
    ACI 318-19, 22.2.2.1, 22.2.2.4.1, 21.2.1(a), Table 21.2.2; 7.3.3.1 for one-way slabs.

    Examples
    --------
    >>> round(stress_block(28.0, 420.0).stress, 2)
    23.8
    """
    eps_t = f_y / E_s + 0.003 if controlled is None else controlled
    return StressBlock(0.85 * f_c, beta_1(f_c), f_y, 0.003 / (0.003 + eps_t), 0.9)
