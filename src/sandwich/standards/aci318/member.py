"""ACI 318-19, 21.2 and 22.4: sections in bending with axial force."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause
from sandwich.mechanics.planesection import BarLaw, ConcreteLaw
from sandwich.standards.aci318.flexure import beta_1
from sandwich.standards.interface.member import MemberLaw

EPS_CU: Final = 0.003
TIED, SPIRAL, TENSION = 0.65, 0.75, 0.90
F_Y_AT_MOST: Final = 550.0  # MPa


@clause(
    "ACI 318-19, 21.2.2, Table 21.2.2",
    formula="phi = 0.65 + 0.25 (eps_t - eps_ty)/0.003, 0.65 to 0.90; 0.75 + 0.15 with spirals; eps_ty = f_y/E_s",
)
def phi(eps_t: Any, f_y: Any, *, E_s: Any = 200_000.0, spiral: bool = False) -> Any:
    """Strength reduction factor of moment with axial force.

    Parameters
    ----------
    eps_t : float or ndarray
        Net tensile strain of the extreme bar in tension at nominal strength, tension positive [-].
    f_y : float or ndarray
        Specified yield strength [MPa].
    E_s : float
        Modulus of the bars [MPa].
    spiral : bool
        Whether spirals confine the section [-].

    Returns
    -------
    phi : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, 21.2.2, 21.2.2.1, Table 21.2.2.

    Examples
    --------
    >>> float(phi(0.0, 420.0)), float(phi(0.01, 420.0)), float(phi(0.0036, 420.0))
    (0.65, 0.9, 0.775)
    """
    least = SPIRAL if spiral else TIED
    part = np.clip((np.asarray(eps_t) - f_y / E_s) / 0.003, 0.0, 1.0)
    return least + (TENSION - least) * part


@clause("ACI 318-19, 22.4.2.2", formula="P_o = 0.85 f_c' (A_g - A_st) + f_y A_st, f_y up to 550 MPa")
def P_o(f_c: Any, f_y: Any, A_g: Any, A_st: Any) -> Any:
    """Nominal axial strength at zero eccentricity.

    Parameters
    ----------
    f_c, f_y : float or ndarray
        Specified cylinder strength f_c' and yield strength [MPa].
    A_g, A_st : float or ndarray
        Gross area and area of the bars [mm2].

    Returns
    -------
    P_o : float or ndarray
        Axial strength, compression positive [N].

    References
    ----------
    ACI 318-19 (SI), 22.4.2.2 and 22.4.2.1.

    Examples
    --------
    >>> round(P_o(28.0, 420.0, 250_000.0, 2500.0) / 1e3)
    6940
    """
    return 0.85 * f_c * (A_g - A_st) + np.minimum(f_y, F_Y_AT_MOST) * A_st


@clause("ACI 318-19, 22.4.2.1, Table 22.4.2.1", formula="P_n,max/P_o = 0.80 with ties, 0.85 with spirals")
def P_n_max_ratio(*, spiral: bool = False) -> float:
    """Maximum nominal axial strength over that at zero eccentricity.

    Parameters
    ----------
    spiral : bool
        Whether spirals confine the section [-].

    Returns
    -------
    P_n_max_ratio : float
        P_n,max/P_o [-].

    References
    ----------
    ACI 318-19, Table 22.4.2.1.

    Examples
    --------
    >>> P_n_max_ratio()
    0.8
    """
    return 0.85 if spiral else 0.80


def member_law(
    f_c: float, f_y: float, *, E_s: float = 200_000.0, reduction: Callable[[Any], Any] | None = None,
    turns: tuple[float, float] | None = None,
) -> MemberLaw:  # fmt: skip
    """Rectangular block with a strain of 0.003 at the corner, bars elastic and then at f_y, phi of tied members.

    Parameters
    ----------
    f_c, f_y : float
        Specified cylinder strength f_c' and yield strength [MPa].
    E_s : float
        Modulus of the bars [MPa].
    reduction : callable, optional
        Gives phi by the net tensile strain, `phi` by default.
    turns : tuple of float, optional
        Strains between which it changes [-].

    Returns
    -------
    MemberLaw
        Nominal values; the reduction and the most axial strength are beside them.

    References
    ----------
    ACI 318-19, 22.2.2.1, 22.2.2.4, 20.2.2.1, 21.2.2, 22.4.2.1.

    Examples
    --------
    >>> round(member_law(28.0, 420.0).concrete.eps_c, 6)
    0.00045
    """
    concrete = ConcreteLaw(0.85 * f_c, (1.0 - beta_1(f_c)) * EPS_CU, EPS_CU, EPS_CU)
    reduction = reduction or partial(phi, f_y=f_y, E_s=E_s)
    turns = turns or (f_y / E_s, f_y / E_s + 0.003)
    most = P_n_max_ratio()
    return MemberLaw(
        concrete=concrete, steel=BarLaw(f_y, E_s), clause="22.4, 22.2.2, 21.2.2", reduction=reduction, turns=turns,
        most=most, steel_at_most=F_Y_AT_MOST,
    )  # fmt: skip
