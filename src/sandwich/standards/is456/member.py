"""IS 456:2000, 38.1 and 39.1: parabola and rectangle of sections in bending with axial force."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause
from sandwich.mechanics.planesection import BarLaw, ConcreteLaw
from sandwich.standards.interface.member import MemberLaw
from sandwich.standards.is456.layers import f_yd


@clause("IS 456:2000, 38.1(c), figure 21", formula="0.446 f_ck")
def fc_compression(f_ck: Any) -> Any:
    """Largest design stress of concrete: 0.67 f_ck over 1.5, as figure 22 has it.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    fc_compression : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 38.1(c), figure 21.

    Examples
    --------
    >>> round(fc_compression(25.0), 2)
    11.15
    """
    return 0.446 * f_ck


def member_law(f_ck: float, f_y: float, *, E_s: float = 200_000.0) -> MemberLaw:
    """Parabola up to 0.002 and rectangle up to 0.0035; bars elastic, then at 0.87 f_y, for every grade.

    Parameters
    ----------
    f_ck, f_y : float
        Characteristic cube strength and yield strength [MPa].
    E_s : float
        Modulus of the bars [MPa].

    Returns
    -------
    MemberLaw
        Sections wholly in compression fail at 0.0035 less 0.75 times the strain at the less compressed side.

    References
    ----------
    IS 456:2000, 38.1, 39.1(a), (b).

    Examples
    --------
    >>> member_law(25.0, 415.0).concrete.eps_cu
    0.0035
    """
    concrete = ConcreteLaw(float(fc_compression(f_ck)), 0.002, 0.0035, 0.002, 2.0)
    return MemberLaw(concrete, BarLaw(float(f_yd(f_y)), E_s), "39.5, 38.1, 39.1")
