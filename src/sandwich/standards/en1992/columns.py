"""EN 1992-1-1:2004, 9.4: bars of flat slabs over and through internal columns, and at columns at edges."""

from __future__ import annotations

from typing import Any, Final

from sandwich.core.trace import clause
from sandwich.standards.interface.columns import Near, SlabJoint, Through

BARS_THROUGH: Final = 2


@clause("EN 1992-1-1:2004, 9.4.1(2)", formula="0.5 A_t")
def a_s_near(A_t: Any) -> Any:
    """Minimum area of the top bars near an internal column.

    Parameters
    ----------
    A_t : float or ndarray
        Area that resists the full negative moment of the two half panels beside the column [mm2].

    Returns
    -------
    a_s_near : float or ndarray
        Area [mm2].

    References
    ----------
    EN 1992-1-1:2004, 9.4.1(2).

    Examples
    --------
    >>> a_s_near(4200.0)
    2100.0
    """
    return 0.5 * A_t


@clause("EN 1992-1-1:2004, 9.4.1(2)", formula="0.125 l_1 + 0.125 l_2")
def b_near(l_1: Any, l_2: Any) -> Any:
    """Width over an internal column in which half of the top bars lie.

    Parameters
    ----------
    l_1, l_2 : float or ndarray
        Widths of the panels on both sides of the column [mm].

    Returns
    -------
    b_near : float or ndarray
        Width [mm].

    References
    ----------
    EN 1992-1-1:2004, 9.4.1(2).

    Examples
    --------
    >>> b_near(6000.0, 7200.0)
    1650.0
    """
    return 0.125 * l_1 + 0.125 * l_2


@clause("EN 1992-1-1:2004, 9.4.2(1), figure 9.9", formula="b_e = c_z + y")
def b_e(c_z: Any, y: Any) -> Any:
    """Width at a column at an edge in which bars across the edge transmit moments between slab and column.

    At a corner it ends at the other edge: z + y/2.

    Parameters
    ----------
    c_z : float or ndarray
        Side of the column along the edge [mm].
    y : float or ndarray
        Distance from the edge to the innermost face of the column [mm].

    Returns
    -------
    b_e : float or ndarray
        Width [mm].

    References
    ----------
    EN 1992-1-1:2004, 9.4.2(1), figure 9.9.

    Examples
    --------
    >>> b_e(400.0, 500.0)
    900.0
    """
    return c_z + y


class EN1992Columns:
    """What `EN1992` does for bars near columns."""

    @property
    def modifies_transfer(self) -> bool:
        """No: beta has the moment."""
        return False

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:
        """9.4.1(2)."""
        return Near(float(a_s_near(A_t)), float(b_near(l_1, l_2)), "9.4.1(2)")

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """9.4.2(1), of bars that meet a free edge beside the column."""
        return None if of.y is None else Near(of.M_sc, float(b_e(of.c_2, of.y)), "9.4.2(1)")

    def through_column(self) -> Through | None:
        """9.4.1(3)."""
        return Through(BARS_THROUGH, internal=True, clause="9.4.1(3)")
