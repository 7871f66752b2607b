"""EN 1992-1-1:2004, 9.4.1: bars of flat slabs over and through internal columns."""

from __future__ import annotations

from typing import Any, Final

from sandwich.core.trace import clause
from sandwich.standards.interface.columns import Near, Through

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


class EN1992Columns:
    """What `EN1992` does for bars near columns."""

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:
        """9.4.1(2)."""
        return Near(float(a_s_near(A_t)), float(b_near(l_1, l_2)), "9.4.1(2)")

    def moment_near_column(self, M_sc: float, c_1: float, c_2: float, d: float, h: float) -> Near | None:  # noqa: ARG002
        """No rule."""
        return None

    def through_column(self) -> Through | None:
        """9.4.1(3)."""
        return Through(BARS_THROUGH, internal=True, clause="9.4.1(3)")
