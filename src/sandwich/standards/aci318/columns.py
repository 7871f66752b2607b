"""ACI 318-19, 8.4.2.2 and 8.7.4.2: moments between slabs and columns, bars through columns."""

from __future__ import annotations

from typing import Final

from sandwich.standards.aci318 import transfer
from sandwich.standards.interface.columns import Near, SlabJoint, Through

BARS_THROUGH: Final = 2


class ACI318Columns:
    """What `ACI318` does for bars near columns."""

    @property
    def modifies_transfer(self) -> bool:
        """Flexure may transfer more of a moment by 8.4.2.2.4."""
        return True

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:  # noqa: ARG002
        """No rule: strips of the direct design method are none of a finite-element model."""
        return None

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """gamma_f M_sc in b_slab; the most that 8.4.2.2.4 may count on where it is asked for."""
        gamma, clauses = float(transfer.gamma_f(of.b_1, of.b_2)), "8.4.2.2.2, 8.4.2.2.3"
        if of.modified:
            gamma = 1.0 if of.at_edge else min(transfer.MORE * gamma, 1.0)
            clauses = "8.4.2.2.3, 8.4.2.2.4"
        return Near(gamma * of.M_sc, float(transfer.b_slab(of.c_2, of.h, *(of.panel or ()))), clauses)

    def through_column(self) -> Through | None:
        """8.7.4.2.2."""
        return Through(BARS_THROUGH, internal=False, clause="8.7.4.2.2")
