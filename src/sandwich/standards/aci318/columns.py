"""ACI 318-19, 8.4.2.2 and 8.7.4.2: moments between slabs and columns, bars through columns."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause
from sandwich.standards.aci318.punching import gamma_v
from sandwich.standards.interface.columns import Near, SlabJoint, Through

BARS_THROUGH: Final = 2


@clause("ACI 318-19, 8.4.2.2.2", formula="gamma_f = 1 / (1 + 2/3 (b_1/b_2)^(1/2))")
def gamma_f(b_1: Any, b_2: Any) -> Any:
    """Part of the moment between slab and column that flexure transfers.

    Parameters
    ----------
    b_1, b_2 : float or ndarray
        Sides of the critical section along the span of the moment and across it [mm].

    Returns
    -------
    gamma_f : float or ndarray
        Part [-].

    References
    ----------
    ACI 318-19, 8.4.2.2.2.

    Examples
    --------
    >>> round(float(gamma_f(600.0, 600.0)), 3)
    0.6
    """
    return 1.0 - gamma_v(b_1, b_2)


@clause("ACI 318-19, 8.4.2.2.3", formula="b_slab = c_2 + 2 min(1.5 h, x_panel + 1.5 h_slab)")
def b_slab(c_2: Any, h: Any, x_panel: Any = np.inf, h_slab: Any = 0.0) -> Any:
    """Width of the slab that transfers moment to a column by flexure.

    Parameters
    ----------
    c_2 : float or ndarray
        Side of the column across the span of the moment [mm].
    h : float or ndarray
        Thickness; of the drop panel, if the column stands on one [mm].
    x_panel, h_slab : float or ndarray
        Distance from the column to the edge of the panel, and thickness of the slab beyond [mm].

    Returns
    -------
    b_slab : float or ndarray
        Width [mm].

    References
    ----------
    ACI 318-19, 8.4.2.2.3.

    Examples
    --------
    >>> float(b_slab(400.0, 200.0))
    1000.0
    """
    return c_2 + 2.0 * np.minimum(1.5 * h, x_panel + 1.5 * h_slab)


class ACI318Columns:
    """What `ACI318` does for bars near columns."""

    def top_near_column(self, A_t: float, l_1: float, l_2: float) -> Near | None:  # noqa: ARG002
        """No rule: strips of the direct design method are none of a finite-element model."""
        return None

    def moment_near_column(self, of: SlabJoint) -> Near | None:
        """gamma_f M_sc in b_slab; gamma_f is not raised by 8.4.2.2.4."""
        value = float(gamma_f(of.c_1 + of.d, of.c_2 + of.d)) * of.M_sc
        return Near(value, float(b_slab(of.c_2, of.h, *(of.panel or ()))), "8.4.2.2.2, 8.4.2.2.3")

    def through_column(self) -> Through | None:
        """8.7.4.2.2."""
        return Through(BARS_THROUGH, internal=False, clause="8.7.4.2.2")
