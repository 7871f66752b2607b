"""EN 1992-1-1:2004, 3.1.7(1) and 6.1: parabola and rectangle of sections in bending with axial force."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause
from sandwich.mechanics.planesection import BarLaw, ConcreteLaw
from sandwich.standards.en1992.materials import f_cd, f_yd
from sandwich.standards.interface.member import MemberLaw


@clause(
    "EN 1992-1-1:2004, table 3.1",
    formula="eps_c2 = 2.0/1000 up to f_ck = 50 MPa, else (2.0 + 0.085 (f_ck - 50)^0.53)/1000",
)
def eps_c2(f_ck: Any) -> Any:
    """Strain at which the parabola reaches the design strength.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].

    Returns
    -------
    eps_c2 : float or ndarray
        Strain [-].

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> float(eps_c2(30.0)), float(eps_c2(90.0).round(4))
    (0.002, 0.0026)
    """
    return np.where(np.asarray(f_ck) <= 50.0, 2.0e-3, (2.0 + 0.085 * np.maximum(f_ck - 50.0, 0.0) ** 0.53) / 1000.0)


@clause(
    "EN 1992-1-1:2004, table 3.1",
    formula="eps_cu2 = 3.5/1000 up to f_ck = 50 MPa, else (2.6 + 35 ((90 - f_ck)/100)^4)/1000",
)
def eps_cu2(f_ck: Any) -> Any:
    """Ultimate compressive strain of the parabola and rectangle.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].

    Returns
    -------
    eps_cu2 : float or ndarray
        Strain [-].

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> float(eps_cu2(30.0)), float(eps_cu2(90.0))
    (0.0035, 0.0026)
    """
    return np.where(np.asarray(f_ck) <= 50.0, 3.5e-3, (2.6 + 35.0 * ((90.0 - f_ck) / 100.0) ** 4) / 1000.0)


@clause(
    "EN 1992-1-1:2004, 3.1.7(1), (3.17), (3.18), table 3.1",
    formula="n = 2.0 up to f_ck = 50 MPa, else 1.4 + 23.4 ((90 - f_ck)/100)^4",
)
def n_parabola(f_ck: Any) -> Any:
    """Exponent of the parabola.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].

    Returns
    -------
    n : float or ndarray
        Exponent [-].

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> float(n_parabola(30.0)), float(n_parabola(90.0))
    (2.0, 1.4)
    """
    return np.where(np.asarray(f_ck) <= 50.0, 2.0, 1.4 + 23.4 * ((90.0 - f_ck) / 100.0) ** 4)


def member_law(
    f_ck: float, f_yk: float, *, gamma_c: Any = 1.5, gamma_s: Any = 1.15, alpha_cc: Any = 1.0, E_s: float = 200_000.0
) -> MemberLaw:
    """Parabola and rectangle, bars elastic and then at f_yd without a limit of strain.

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
    MemberLaw
        Strain planes turn about the pivots of figure 6.1.

    References
    ----------
    EN 1992-1-1:2004, 3.1.7(1), 3.2.7(2)b, 6.1(3)P, figure 6.1.

    Examples
    --------
    >>> member_law(30.0, 500.0).concrete.stress
    20.0
    """
    concrete = ConcreteLaw(
        stress=float(f_cd(f_ck, gamma_c=gamma_c, alpha_cc=alpha_cc)),
        eps_c=float(eps_c2(f_ck)),
        eps_cu=float(eps_cu2(f_ck)),
        eps_uniform=float(eps_c2(f_ck)),
        n=float(n_parabola(f_ck)),
    )
    return MemberLaw(concrete, BarLaw(float(f_yd(f_yk, gamma_s=gamma_s)), E_s), "6.1, 3.1.7(1)")
