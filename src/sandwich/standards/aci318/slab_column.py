"""Two-way shear at a column by ACI 318-19, 22.6 with 8.4.4, from the critical section to the reinforcement."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.core.shown import Measure, Sentence
from sandwich.core.trace import unrecorded
from sandwich.standards.aci318 import flexure, punching, shear, transfer
from sandwich.standards.column import (
    ColumnLoad,
    ControlRule,
    Part,
    Punched,
    Reinforcement,
    SlabColumn,
    eccentric,
    farthest,
    spread,
)
from sandwich.standards.interface.columns import LEVER, MEETS

STIRRUPS_FROM: Final = 150.0  # mm of effective depth, 22.6.7.1
_PHI: Final = 0.75  # Table 21.2.1(b)
_PHI_FLEXURE: Final = 0.9  # of sections controlled by tension, Table 21.2.2
_ALPHA_S: Final = {"inside": 40.0, "edge": 30.0, "corner": 20.0}


def control(h: float, d: float) -> ControlRule:
    """Critical section at d/2 with straight sides (22.6.4.1); openings up to 4 h (22.6.4.3); bars in b_slab."""
    return ControlRule(0.5, "straight", 4.0 * h, widen=False, beside=transfer.BESIDE * h / d)


def punch(
    concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad, size: float, table: transfer.Modification
) -> Punched:
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
    table : Modification
        What flexure may take of a moment.

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
    long, short = sorted((column.size(np.array([1.0, 0.0])), column.size(np.array([0.0, 1.0]))), reverse=True)
    ratio = 1.0 if column.round else long / short
    v_c = float(shear.v_c_punching(d, size, root, ratio, b_o, _ALPHA_S[column.place]))
    parts = _parts(concrete, steel, column, load, _PHI * v_c, table)
    v_u = eccentric(column, column.control, load, *parts)
    studs = column.shear == "studs"
    share, greatest = (float(v) for v in punching.v_c_reinforced(v_c, size, root, studs=studs))
    found = None
    if v_u > _PHI * v_c and column.shear != "none":
        found = _reinforce(
            steel, column, load, parts, v_u=v_u, share=share, greatest=greatest, root=float(root), size=size
        )  # fmt: skip
    limit = _PHI * greatest if column.shear != "none" else _PHI * max(greatest, v_c)
    return Punched(v_u, _PHI * v_c, v_u, limit, 1.0 if v_u <= _PHI * v_c else np.inf, found)


def _parts(
    concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad, strength: float,
    table: transfer.Modification,
) -> tuple[Part, Part]:  # fmt: skip
    """What shear carries of the moment of each axis; less where 8.4.2.2.4 is asked for and permits it.

    The strain is that of the bars there, or of those that flexure with all that it may take then needs in b_slab.
    """
    if not column.modified:
        return punching.gamma_v, punching.gamma_v
    b_o, d, f_c = column.control.u, column.d, concrete.cylinder
    v_uv = load.V / (b_o * d) if b_o > 0.0 else np.inf
    found: list[Part] = []
    for way, rho, moment in zip(np.eye(2), (load.rho_x, load.rho_y), load.moment, strict=True):
        meets = np.abs(column.edges @ way) > MEETS
        row = table.other if not meets.any() else table.corner if len(meets) > 1 else table.across_edge
        b_1, b_2 = np.maximum(column.control.extent, 1.0)[:: 1 if way[0] else -1]
        most = min(row.most * float(transfer.gamma_f(b_1, b_2)), 1.0)
        lost = np.maximum(transfer.BESIDE * column.h - column.gaps[~meets], 0.0).sum()  # past an edge
        width = float(transfer.b_slab(column.size(way[::-1]), column.h)) - float(lost)
        by_moment = most * abs(float(moment)) / (_PHI_FLEXURE * steel.f_yk * LEVER * d * d * width)
        strain = float(flexure.epsilon_t(max(rho, by_moment), f_c, steel.f_yk, flexure.beta_1(f_c)))
        k = float(transfer.k_f(v_uv, strength, strain, *row))
        found.append(transfer.part_by_shear(k))
    return found[0], found[1]


def minimum_over_column(steel: Steel, concrete: Concrete, column: SlabColumn, load: ColumnLoad) -> float:
    """Minimum tension steel [mm2/mm] in the width of the column and 1.5 h on both sides (8.6.1.2)."""
    d, b_o = column.d, column.control.u
    width = max(column.size(np.array([1.0, 0.0])), column.size(np.array([0.0, 1.0]))) + 3.0 * column.h
    root, size = shear.root_f_c(concrete.cylinder), shear.lambda_s(d)
    alone = load.V / (b_o * d)
    area = punching.A_s_column(alone, width, b_o, _ALPHA_S[column.place], steel.f_yk, size, root, phi=_PHI)
    return float(area) / width


def _reinforce(
    steel: Steel, column: SlabColumn, load: ColumnLoad, parts: tuple[Part, Part], *, v_u: float, share: float,
    greatest: float, root: float, size: float,
) -> Reinforcement:  # fmt: skip
    """Rows of stirrups or studs until 0.17 lambda_s f_c'^(1/2) is enough d/2 beyond the last."""
    d = column.d
    kind = "studs" if column.shear == "studs" else "links"
    if v_u > _PHI * greatest:
        return Reinforcement(why=f"v_u is above the maximum stress with {kind}")
    if kind == "links" and d < STIRRUPS_FROM:
        depths = (Measure(v, "mm", ".0f") for v in (d, STIRRUPS_FROM))
        return Reinforcement(why=Sentence("d is {} and stirrups need {} (22.6.7.1); use studs", *depths))
    ends = _PHI * 0.17 * size * root

    def enough(a: float) -> bool:
        return eccentric(column, column.at(a, "cut"), load, *parts) <= ends

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
