"""EN 1992-1-1:2004, 3.1.7 and 6.1: the rectangular stress block."""

from __future__ import annotations

from typing import Any

from sandwich.mechanics.block import StressBlock
from sandwich.standards.en1992.materials import eps_cu3, eta, f_cd, f_yd, lambda_


def stress_block(
    f_ck: float, f_yk: float, *, gamma_c: Any = 1.5, gamma_s: Any = 1.15, alpha_cc: Any = 1.0, E_s: float = 200_000.0
) -> StressBlock:
    """Rectangular stress distribution with bars at yield.

    Parameters
    ----------
    f_ck, f_yk : float
        Cylinder and yield strength [MPa].
    gamma_c, gamma_s, alpha_cc : float
        Partial factors and long-term coefficient [-]; nationally determined.
    E_s : float
        Modulus of the bars [MPa].

    Returns
    -------
    StressBlock
        eta f_cd over lambda x; bars yield up to x/d = eps_cu3 / (eps_cu3 + f_yd/E_s).

    References
    ----------
    EN 1992-1-1:2004, 3.1.7(3), expressions (3.19) to (3.22); 6.1(2)P.

    Examples
    --------
    >>> stress_block(30.0, 500.0).stress
    20.0
    """
    strength = float(f_yd(f_yk, gamma_s=gamma_s))
    crushing = float(eps_cu3(f_ck))
    stress = float(eta(f_ck) * f_cd(f_ck, gamma_c=gamma_c, alpha_cc=alpha_cc))
    return StressBlock(stress, float(lambda_(f_ck)), strength, crushing / (crushing + strength / E_s))
