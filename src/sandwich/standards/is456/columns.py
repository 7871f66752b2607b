"""IS 456:2000, 31.3.3: moments between slabs and columns."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause
from sandwich.standards.interface.columns import Near, SlabJoint, Through


@clause("IS 456:2000, 31.3.3", formula="alpha = 1 / (1 + 2/3 (a_1/a_2)^(1/2))")
def alpha(a_1: Any, a_2: Any) -> Any:
    """Part of the moment between slab and column that flexure transfers.

    Parameters
    ----------
    a_1, a_2 : float or ndarray
        Sides of the critical section along the span of the moment and across it [mm].

    Returns
    -------
    alpha : float or ndarray
        Part [-].

    References
    ----------
    IS 456:2000, 31.3.3.

    Examples
    --------
    >>> round(alpha(500.0, 500.0), 3)
    0.6
    """
    return 1.0 / (1.0 + 2.0 / 3.0 * (a_1 / a_2) ** 0.5)


@clause("IS 456:2000, 31.3.3", formula="c_2 + 2 x 1.5 D")
def b_flexure(c_2: Any, D: Any) -> Any:
    """Width of the slab that transfers moment to a column by flexure.

    Parameters
    ----------
    c_2 : float or ndarray
        Side of the column across the span of the moment [mm].
    D : float or ndarray
        Thickness, of the drop panel where there is one [mm].

    Returns
    -------
    b_flexure : float or ndarray
        Width [mm].

    References
    ----------
    IS 456:2000, 31.3.3.

    Examples
    --------
    >>> b_flexure(450.0, 200.0)
    1050.0
    """
    return c_2 + 2.0 * 1.5 * D


class IS456Columns:
    """What `IS456` does for bars near columns."""

    @property
    def modifies_transfer(self) -> bool:
        """No: 31.3.3 has one value."""
        return False

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:  # noqa: ARG002
        """No rule: strips of the direct design method are none of a finite-element model."""
        return None

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """The part alpha of M within 1.5 D of the column on both sides, 31.3.3."""
        value = float(alpha(of.b_1, of.b_2)) * of.M_sc
        return Near(value, float(b_flexure(of.c_2, of.h)), "31.3.3")

    def through_column(self) -> Through | None:
        """No rule."""
        return None
