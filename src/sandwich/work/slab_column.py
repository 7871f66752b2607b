"""A loaded area on its slab as a standard sees it."""

from __future__ import annotations

import functools
from dataclasses import replace
from math import inf
from typing import Final, get_args

import numpy as np
from shapely import Polygon

from sandwich.core.errors import check_choice, check_number
from sandwich.mechanics.perimeter import Perimeter
from sandwich.model.perimeter import Plan
from sandwich.standards.column import Corners, Kind, Shear, SlabColumn
from sandwich.standards.interface import Standard

_NOTHING: Final = 1e-3  # mm


def column_on(
    plan: Plan, h: float, d: float, standard: Standard, *, kind: Kind = "column", round_: bool = False,
    beta: float | None = None, shear: Shear = "none", modified: bool = False,
) -> SlabColumn:  # fmt: skip
    """A loaded area, what of it lies on its slab, of thickness h and depth d [mm] as a standard sees it.

    See `SlabColumn`.

    Raises
    ------
    TypeError, ValueError
        If a number or a word is none that can be, or nothing of the area lies on the slab.
    """
    check_number("h", h, 1.0, inf, " mm")
    check_number("d", d, 1.0, float(h), " mm")
    check_choice("kind", kind, get_args(Kind))
    check_choice("shear", shear, get_args(Shear))
    if modified and not (standard.modifies_transfer and kind == "column" and beta is None):
        raise ValueError("modified goes with columns without beta by ACI 318-19; leave it out")
    if beta is not None:
        check_number("beta", beta, 1.0, inf)
    area = plan.area if plan.slab.covers(plan.area) else on_slab(plan.area, plan.slab)
    if not area.area > 0.0:
        raise ValueError("the loaded area does not lie on the slab; move it, or give the slab under it")
    rule = standard.control(h, d)
    plan = replace(plan, area=area, reach=rule.reach, widen=rule.widen)

    @functools.cache
    def at(distance: float, corners: Corners) -> Perimeter:
        return plan.perimeter(distance, corners)[0]

    control, edges = plan.perimeter(rule.distance * d, rule.corners)
    if control.u <= 0.0:  # openings all round: any force is too much
        control = Perimeter(np.array([[[0.0, 0.0], [_NOTHING, 0.0]]]))
    sides = np.array(plan.area.exterior.coords)[:-1]
    away = {tuple(n): distance for n, distance in plan.near_edges}
    gaps = np.array([away[tuple(n)] - float((sides @ n).max()) for n in edges])
    return SlabColumn(
        kind=kind,
        sides=sides,
        round=round_,
        edges=edges,
        gaps=gaps,
        face=plan.face(),
        h=h,
        d=d,
        control=control,
        at=at,
        beta=beta,
        shear=shear,
        modified=modified,
    )


def on_slab(area: Polygon, slab: Polygon) -> Polygon:
    """The part of an area that lies on the slab."""
    part = area.intersection(slab)
    return max(getattr(part, "geoms", [part]), key=lambda p: p.area, default=Polygon())
