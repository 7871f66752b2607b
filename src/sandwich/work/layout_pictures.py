"""What the plan of the bars of a face shows: the outline of the zone, rectangles, bars with their marks."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.bar_sizes import size
from sandwich.core.shown import Shown
from sandwich.design.schedule.rows import told_marks
from sandwich.drawing.layout_records import LayoutDescription, LayoutPatch
from sandwich.model.plan import Plan
from sandwich.work.edge_bars import BarsBeside
from sandwich.work.layout import LayerPlan, layer_plan
from sandwich.work.schedule import BASE, Placed, ZoneSchedule

FACES: Final = {1: "bottom", -1: "top", 0: "curtain"}
SMOOTH: Final = 72  # pieces of a side that goes round
SHARES: Final = np.array([0.5, 0.3, 0.7, 0.4, 0.6, 0.2, 0.8])  # of a rectangle across its bars, where one may be drawn


def face_plan(of: ZoneSchedule, side: int, shown: Shown) -> LayoutDescription:
    """Bars of one face of a zone, both ways."""
    layers = of.zone.zone.bars.layers()
    metre, small = shown.factor("m") / 1e3, shown.factor("mm")
    corners = of.zone.on_mesh.corners
    corners = np.where(corners >= 0, corners, corners[:, [2]])
    plan = of.plan
    patches, told = [], []
    for i, name in enumerate(of.names):
        base = of.given.base[i]
        if layers.sides[i] != side or not any(p.number == i for p in of.places):
            continue
        flat = layer_plan(plan, float(layers.angles[i]))
        told.append(f"{name} {base.in_units(shown) if base is not None else 'none'}")
        mine = [p for p in of.places if p.number == i and p.place != BASE]
        patches += [_patch(p, plan, flat, metre, small, shown) for p in mine]
        patches += [_beside(b, of, flat, k, metre, shown) for b in of.edges.beside if b.number == i for k in (0, 1)]
    own, places = of.zone.zone.faces, "sectors" if plan.fan else "rectangles"
    face = {1: own.bottom, -1: own.top, 0: FACES[0]}[side]
    return LayoutDescription(
        title=f"{of.zone.name}: bars, {face}",
        note=f"base mesh: {', '.join(told)}; {places}: additional bars, marks with sizes, spacings and lengths"
        + ("; beside openings: for the bars they cut" if of.edges.beside else ""),
        sides=metre * plan.drawn(_outline(plan.corners, corners)), patches=patches,
        quantities=_quantities(plan, shown.unit("m")),
    )  # fmt: skip


def _quantities(plan: Plan, unit: str) -> tuple[str, str]:
    """Names of both axes of a plan."""
    if plan.fan is None:
        return f"along the x bars [{unit}]", f"along the y bars [{unit}]"
    most = [(int(np.abs(v).argmax()), v) for v in plan.fan.axes]
    first, second = (f"{'' if v[k] > 0.0 else '-'}{'xyz'[k]} [{unit}]" for k, v in most)
    return first, second


def _curve(plan: Plan, flat: LayerPlan, *places: tuple[float, float]) -> np.ndarray:
    """A line through places along and across the bars, as the plan of the zone shows it (n, 2) [mm]."""
    corners = np.array(places)
    if plan.fan is not None:
        at = np.linspace(0.0, len(corners) - 1.0, SMOOTH * (len(corners) - 1) + 1)
        corners = np.stack([np.interp(at, np.arange(len(corners)), corners[:, k]) for k in (0, 1)], 1)
    return plan.drawn(corners @ np.stack([flat.along, flat.across]))


def _beside(b: BarsBeside, of: ZoneSchedule, flat: LayerPlan, side: int, metre: float, shown: Shown) -> LayoutPatch:
    """Bars on one side of an opening."""
    a0, a1, c0, c1 = b.regions[side]
    mine = [p for p in b.pieces if c0 - 1.0 <= p.across <= c1 + 1.0]
    start, end = min((p.start for p in mine), default=a0), max((p.end for p in mine), default=a1)
    ring = _curve(of.plan, flat, (start, c0), (end, c0), (end, c1), (start, c1))
    bar = _curve(of.plan, flat, (start, (c0 + c1) / 2.0), (end, (c0 + c1) / 2.0))
    span = _curve(of.plan, flat, ((start + end) / 2.0, c0), ((start + end) / 2.0, c1))
    marks = told_marks(r.mark for r in of.others if r.place == b.place and r.layer == b.layer)
    label = f"({marks})  {len(mine)}x{size(b.bars.diameter, shown.factor('mm'))}"
    second = abs(flat.along[1]) > abs(flat.along[0])
    return LayoutPatch(metre * ring, metre * bar[None], metre * span[None], label, second=second,
                       upright=second and of.plan.fan is None)  # fmt: skip


def _patch(p: Placed, plan: Plan, flat: LayerPlan, metre: float, small: float, shown: Shown) -> LayoutPatch:
    a0, a1, c0, c1 = p.region
    ring = _curve(plan, flat, (a0, c0), (a1, c0), (a1, c1), (a0, c1), (a0, c0))
    bars, spans = [], []
    for middle in c0 + SHARES * (c1 - c0):
        typical = min(p.pieces, key=lambda b: abs(b.across - middle), default=None)
        ends = (a0, a1) if typical is None else (typical.start, typical.end)
        bars.append(_curve(plan, flat, (ends[0], middle), (ends[1], middle)))
        spans.append(_curve(plan, flat, (sum(ends) / 2.0, c0), (sum(ends) / 2.0, c1)))
    lengths = sorted(length for length, _ in p.lengths)
    told = " to ".join(f"{v * small:.0f}" for v in dict.fromkeys((lengths[0], lengths[-1]))) if lengths else ""
    label = f"({told_marks(p.marks)})  {len(p.pieces)}x{p.bars.in_units(shown)}  l = {told}"
    label = label if p.marks else p.bars.in_units(shown)
    second = abs(flat.along[1]) > abs(flat.along[0])
    return LayoutPatch(
        metre * ring, metre * np.array(bars), metre * np.array(spans), label, second=second,
        upright=second and plan.fan is None,
    )  # fmt: skip


def _outline(cells: np.ndarray, corners: np.ndarray) -> np.ndarray:
    """Sides of elements that no other has, (n, 2, 2)."""
    sides = np.stack([cells, np.roll(cells, -1, axis=1)], axis=2).reshape(-1, 2, 2)
    keys = np.sort(np.stack([corners, np.roll(corners, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    real = keys[:, 0] != keys[:, 1]
    _, first, count = np.unique(keys[real], axis=0, return_index=True, return_counts=True)
    return np.asarray(sides[real][first[count == 1]])
