"""Bars of slabs over and through their columns."""

from __future__ import annotations

from typing import NamedTuple, Protocol


class Near(NamedTuple):
    """What bars near a column have to do, in which width [mm], and the clause it follows.

    `value` is an area of bars [mm2], or a moment that they resist [N mm].
    """

    value: float
    width: float
    clause: str


class SlabJoint(NamedTuple):
    """Where a slab gives a moment M_sc [N mm] to a column.

    `c_1`, `c_2` are the sides of the column along and across the bars, d their effective depth, h the thickness, `y`
    the distance from a free edge that the bars meet there to the innermost face of the column, None without one; of a
    drop panel the distance from the column to its edge across the bars and the thickness of the slab beyond [mm].
    """

    M_sc: float
    c_1: float
    c_2: float
    d: float
    h: float
    y: float | None
    panel: tuple[float, float] | None = None


class Through(NamedTuple):
    """Bars that pass through a column in each direction, whether that is for internal ones alone, and the clause."""

    number: int
    internal: bool
    clause: str


class ColumnBars(Protocol):
    """Bars over and through columns."""

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:
        """Area of the top bars near an internal column, of what both half panels beside it require.

        `A_t` [mm2] is that of the half panels, `l_1` and `l_2` the widths of both panels [mm].
        """

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """Moment between slab and column [N mm] that bars near it resist."""

    def through_column(self) -> Through | None:
        """Bottom bars that pass through a column in each direction."""
