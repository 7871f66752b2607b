"""Two-way shear at a column by ACI 318-19, 22.6 with 8.4.4, from the critical section to the reinforcement."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.core.trace import unrecorded
from sandwich.standards.aci318 import punching, shear
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

_PHI: Final = 0.75  # Table 21.2.1(b)
_ALPHA_S: Final = {"inside": 40.0, "edge": 30.0, "corner": 20.0}


def control(h: float) -> ControlRule:
    """Critical section at d/2 with straight sides (22.6.4.1); openings up to 4 h (22.6.4.3)."""
    return ControlRule(0.5, "straight", 4.0 * h, widen=False)


def punch(concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad, size: float) -> Punched:
    """Two-way shear of one combination, with the reinforcement it asks for where that is allowed.

    Parameters
    ----------
    concrete, steel : Concrete, Steel
        Materials; shear reinforcement of 420 MPa at most [MPa].
    column : SlabColumn
        The loaded area.
    load : ColumnLoad
        The combination.
    size : float
        Size effect factor [-].

    Returns
    -------
    Punched
        Stresses, resistances, reinforcement; the limit at the face is that of Table 22.6.6.3, or without
        reinforcement that of the concrete.

    References
    ----------
    ACI 318-19 (SI), 8.4.4.2, 8.7.6, 8.7.7, 22.6.
    """
    d, b_o = column.d, column.control.u
    root = shear.root_f_c(concrete.cylinder)
    v_u = eccentric(column, column.control, load, punching.gamma_v)
    long, short = sorted((column.size(np.array([1.0, 0.0])), column.size(np.array([0.0, 1.0]))), reverse=True)
    ratio = 1.0 if column.round else long / short
    v_c = float(shear.v_c_punching(d, size, root, ratio, b_o, _ALPHA_S[column.place]))
    studs = column.shear == "studs"
    share, greatest = (float(v) for v in punching.v_c_reinforced(v_c, size, root, studs=studs))
    found = None
    if v_u > _PHI * v_c and column.shear != "none":
        found = _reinforce(steel, column, load, v_u, share=share, greatest=greatest, root=float(root), size=size)
    limit = _PHI * greatest if column.shear != "none" else _PHI * max(greatest, v_c)
    return Punched(v_u, _PHI * v_c, v_u, limit, 1.0 if v_u <= _PHI * v_c else np.inf, found)


def minimum_over_column(steel: Steel, concrete: Concrete, column: SlabColumn, load: ColumnLoad) -> float:
    """Minimum tension steel [mm2/mm] in the width of the column and 1.5 h on both sides (8.6.1.2)."""
    d, b_o = column.d, column.control.u
    width = max(column.size(np.array([1.0, 0.0])), column.size(np.array([0.0, 1.0]))) + 3.0 * column.h
    root, size = shear.root_f_c(concrete.cylinder), shear.lambda_s(d)
    alone = load.V / (b_o * d)
    area = punching.A_s_column(alone, width, b_o, _ALPHA_S[column.place], steel.f_yk, size, root, phi=_PHI)
    return float(area) / width


def _reinforce(
    steel: Steel, column: SlabColumn, load: ColumnLoad, v_u: float, *, share: float, greatest: float, root: float,
    size: float,
) -> Reinforcement:  # fmt: skip
    """Rows of stirrups or studs until 0.17 lambda_s f_c'^(1/2) is enough d/2 beyond the last."""
    d = column.d
    kind = "studs" if column.shear == "studs" else "links"
    if v_u > _PHI * greatest:
        return Reinforcement(why=f"v_u is above the maximum stress with {kind}")
    if kind == "links" and d < 150.0:
        return Reinforcement(why=f"d is {d:.0f} mm and stirrups need 150 mm (22.6.7.1); use studs")
    ends = _PHI * 0.17 * size * root

    def enough(a: float) -> bool:
        return eccentric(column, column.at(a, "cut"), load, punching.gamma_v) <= ends

    with unrecorded():
        reach = farthest(enough, d, d)
    if reach is None:
        return Reinforcement(why="no perimeter on the slab is long enough to end the reinforcement")
    s = 0.75 * d if kind == "studs" and v_u <= _PHI * 0.5 * root else 0.5 * d
    f_yt = min(steel.f_yk, 420.0)
    distance = spread(0.5 * d, s, reach - 0.5 * d)
    length = tuple(column.at(a, "cut").u for a in distance)
    whole = float(punching.A_v_punching(v_u, share, column.control.u, s, f_yt, phi=_PHI))
    if kind == "studs":
        whole = max(whole, 0.17 * root * column.control.u * s / f_yt)  # 22.6.8.3
    legs = int(np.ceil(length[0] / (2.0 * d)))
    return Reinforcement(distance, length, (whole,) * len(distance), (legs,) * len(distance), reach)
