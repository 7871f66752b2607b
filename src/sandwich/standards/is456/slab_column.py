"""Punching by IS 456:2000, 31.6 from the critical section to the rows of links."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.core.trace import unrecorded
from sandwich.standards.column import (
    ColumnLoad,
    ControlRule,
    Punched,
    Reinforcement,
    SlabColumn,
    eccentric,
    farthest,
    spread,
)
from sandwich.standards.is456 import shear

_MOST: Final = 1.5  # 31.6.3.2: maximum stress over tau_c
_SPACING: Final = 0.75  # of d, 26.5.1.5


def control(h: float) -> ControlRule:
    """Critical section at d/2 (31.6.1); openings up to ten times the thickness (31.6.1.2)."""
    return ControlRule(0.5, "straight", 10.0 * h, widen=False)


def punch(concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
    """Punching of one combination, with the links it asks for where they are allowed.

    Parameters
    ----------
    concrete, steel : Concrete, Steel
        Materials; links of 415 MPa at most [MPa].
    column : SlabColumn
        The loaded area.
    load : ColumnLoad
        The combination.

    Returns
    -------
    Punched
        Stresses, resistances, links; the limit at the face is 1.5 tau_c.

    References
    ----------
    IS 456:2000, 31.6.1 to 31.6.3.
    """
    tau_v = eccentric(column, column.control, load, shear.moment_by_shear)
    short, long = sorted((column.size(np.array([1.0, 0.0])), column.size(np.array([0.0, 1.0]))))
    tau_c = float(shear.tau_punching(concrete.cube, 1.0 if column.round else short / long))
    found = None
    if tau_v > tau_c and column.shear != "none":
        found = _reinforce(steel, column, load, tau_v, tau_c)
    return Punched(tau_v, tau_c, tau_v, _MOST * tau_c, 1.0 if tau_v <= tau_c else np.inf, found)


def _reinforce(steel: Steel, column: SlabColumn, load: ColumnLoad, tau_v: float, tau_c: float) -> Reinforcement:
    """Rows of links beside half of tau_c, up to where the stress is no more than that half (31.6.3.2)."""
    if tau_v > _MOST * tau_c:
        return Reinforcement(why="tau_v is above 1.5 tau_c, the limit with links (31.6.3.2)")
    d = column.d

    def enough(a: float) -> bool:
        return eccentric(column, column.at(a, "cut"), load, shear.moment_by_shear) <= 0.5 * tau_c

    with unrecorded():
        reach = farthest(enough, 0.5 * d, d)
    if reach is None:
        return Reinforcement(why="no perimeter on the slab is long enough to end the links")
    s = _SPACING * d
    distance = spread(0.5 * d, s, reach)
    length = tuple(column.at(a, "cut").u for a in distance)
    area = float(shear.a_sv(tau_v, 0.5 * tau_c, steel.f_yk)) * column.control.u * s
    legs = tuple(int(np.ceil(u / (1.5 * d))) for u in length)
    return Reinforcement(distance, length, (area,) * len(distance), legs, reach)
