"""Bars of slabs over and through their columns."""

from __future__ import annotations

from typing import Final, NamedTuple, Protocol

LEVER: Final = 0.9  # of the effective depth, of the bars that take a moment
MEETS: Final = 0.9  # cosine up to which a direction meets an edge at right angles


class Near(NamedTuple):
    """What bars near a column have to do, in which width [mm], and the clause it follows.

    `value` is an area of bars [mm2], or a moment that they resist [N mm].
    """

    value: float
    width: float
    clause: str


class SlabJoint(NamedTuple):
    """Where a slab gives a moment M_sc [N mm] to a column.

    `b_1`, `b_2` are the sizes of the critical section along and across the bars, `c_2` that of the column across, h the
    thickness, `y` the distance from a free edge that the bars meet there to the innermost face of the column, None
    without one; of a drop panel the distance from the column to its edge across the bars and the thickness of the slab
    beyond [mm]; `modified` is whether flexure may transfer more than usual, `at_edge` whether the column stands at a
    free edge.
    """

    M_sc: float
    b_1: float
    b_2: float
    c_2: float
    h: float
    y: float | None
    panel: tuple[float, float] | None = None
    modified: bool = False
    at_edge: bool = False


class Through(NamedTuple):
    """Bars that pass through a column in each direction, whether that is for internal ones alone, and the clause."""

    number: int
    internal: bool
    clause: str


class ColumnBars(Protocol):
    """Bars over and through columns."""

    @property
    def modifies_transfer(self) -> bool:
        """Whether flexure may transfer more of a moment between slab and column where shear is low."""

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:
        """Area of the top bars near an internal column, of what both half panels beside it require.

        `A_t` [mm2] is that of the half panels, `l_1` and `l_2` the widths of both panels [mm].
        """

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """Moment between slab and column [N mm] that bars near it resist."""

    def through_column(self) -> Through | None:
        """Bottom bars that pass through a column in each direction."""
