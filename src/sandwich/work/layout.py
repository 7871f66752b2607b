"""Bars of a zone laid out: a base mesh and additional bars in rectangles, from what is required at its points."""

from __future__ import annotations

import itertools
import json
import math
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.bar_sets import BarRule, ExtraBars, Given, LayerBound, ParallelBars
from sandwich.design.layout.cover import Patch
from sandwich.design.layout.grid import Grid, grid_of
from sandwich.design.layout.layer import LaidLayer, LayoutRule, lay_layer
from sandwich.design.layout.pieces import STRAIGHT, Round
from sandwich.design.record import Ultimate
from sandwich.design.settings import Settings
from sandwich.job.bars import Arranged
from sandwich.model.plan import NOTHING, Plan, plan_of
from sandwich.project.store import content, formulas, load_arrays, save_arrays
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import AnchoredBar, Length
from sandwich.tables.write import file_name

Floats = NDArray[np.float64]
KEPT: Final = 48  # layouts of layers of a zone that a second run takes over
SHALLOW: Final = 250.0  # mm of a slab up to which all bars have good bond, EN 1992-1-1, figure 8.2
UPRIGHT: Final = 0.7  # sine of the slope from which a bar counts as upright
FLAT: Final = "a bare table"
NEAR: Final = 1.0  # mm
ALIKE: Final = 1e-6
NEARLY: Final = 0.99  # cosine between bars and a direction from which they count as along it


@dataclass(frozen=True)
class LayerPlan:
    """Places of points along and across the bars of a layer [mm], both directions in the plan, how it goes round.

    `corners` are those of the elements, (e, 4, 2).
    """

    places: Floats
    along: Floats
    across: Floats
    way: Round
    corners: Floats | None = None

    def turned(self, places: Floats) -> Floats:
        """Places along and across the bars [mm] of places in the plan of the zone, (..., 2)."""
        return np.asarray(places @ np.stack([self.along, self.across]).T)

    @property
    def ends(self) -> tuple[Floats, Floats]:
        """From and to along and across the bars [mm], (2,) each: of the zone, or all round."""
        at = self.places if self.corners is None else self.corners.reshape(-1, 2)
        low, high = at.min(0), at.max(0)
        if self.way.whole:
            low[self._round], high[self._round] = 0.0, self.way.whole
        return low, high

    @property
    def _round(self) -> int:
        return 0 if self.way.along else 1

    def within(self, places: Floats, low: Floats, high: Floats) -> Floats:
        """Places brought back between the ends of the zone, or round to the other side of its seam [mm]."""
        out = np.clip(places, low, high)
        if self.way.whole:
            out[:, self._round] = np.mod(places[:, self._round], self.way.whole)
        return np.asarray(out)

    def reach(self, plan: Plan, reach: Floats) -> Floats:
        """Lengths in space at the points (p,) as they are in the plan along and across the bars [mm], (p, 2)."""
        if plan.fan is None:
            return np.stack([reach, reach], 1)
        return np.asarray(reach[:, None] * (plan.spread() @ np.abs(np.stack([self.along, self.across]).T)))


def plan_at(z: ZoneInput) -> Plan | str:
    """A zone laid flat, or why it cannot be."""
    if z.surface is None:
        return FLAT
    s = z.surface
    of_elements = (s.mesh.centres[s.elements], *np.moveaxis(s.orientation.bars[:, :2], 1, 0))
    if z.zone.points != "centres":
        plan = plan_of(z.xyz, *of_elements)
        return NOTHING if plan is None else replace(plan, corners=plan.cells(s.corner_points))
    used, number = np.unique(np.where(s.corners >= 0, s.corners, s.corners[:, [2]]), return_inverse=True)
    plan = plan_of(s.mesh.xyz[used], *of_elements)
    if plan is None:
        return NOTHING
    cells = plan.cells(number.reshape(-1, 4))
    middles = np.where((s.corners[:, 3] >= 0)[:, None], cells.mean(1), cells[:, :3].mean(1))
    if plan.closed:
        middles[:, plan.turning] %= 2.0 * math.pi * plan.radius
    return replace(plan, places=middles, corners=cells)


def layer_plan(plan: Plan, angle: float) -> LayerPlan:
    """Places along the bars of a layer at an angle from the x bars [rad], and across them, towards x or y."""
    along = np.array([math.cos(angle), math.sin(angle)]).round(12)
    across = np.array([-along[1], along[0]])
    across = across * (1.0 if across.sum() >= 0.0 else -1.0)
    way = STRAIGHT
    if plan.radius:
        whole = 2.0 * math.pi * plan.radius if plan.closed else 0.0
        way = Round(whole, bool(abs(along[plan.turning]) > NEARLY), plan.radius if plan.fan is not None else 0.0)
    turn = np.stack([along, across]).T
    return LayerPlan(plan.places @ turn, along, across, way, plan.corners @ turn)


def trims(z: ZoneInput) -> Floats:
    """Area of the zone that each point stands for [mm2]."""
    s = z.on_mesh
    out, corners = np.zeros(len(z.labels)), s.corner_points
    xyz = s.mesh.xyz[np.maximum(s.corners, 0)]
    last = np.where((s.corners[:, 3] >= 0)[:, None], xyz[:, 3], xyz[:, 2])
    area = 0.5 * np.linalg.norm(np.cross(xyz[:, 2] - xyz[:, 0], last - xyz[:, 1]), axis=1)
    area = np.where(s.corners[:, 3] >= 0, area,
                    0.5 * np.linalg.norm(np.cross(xyz[:, 1] - xyz[:, 0], xyz[:, 2] - xyz[:, 0]), axis=1))  # fmt: skip
    count = (corners >= 0).sum(1)
    for column in corners.T:
        there = column >= 0
        np.add.at(out, column[there], (area / count)[there])
    return out


def anchored_bar(z: ZoneInput, settings: Settings, layer: int, bars: ParallelBars, apart: float) -> AnchoredBar:
    """A bar of a layer as its anchorage sees it, so far from the next [mm]."""
    h, side = float(z.h.max()), int(settings.bars.sides[layer])
    axis = np.abs(settings.bars.axes(np.array([h]))[0])
    outer = h / 2.0 - float(axis[layer]) - bars.diameter / 2.0
    normal = z.on_mesh.orientation.bars[:, 2].mean(0)
    angle = float(settings.bars.angles[layer])
    x, y = z.on_mesh.orientation.bars[:, 0].mean(0), z.on_mesh.orientation.bars[:, 1].mean(0)
    upright = abs(float((x * math.cos(angle) + y * math.sin(angle))[2])) > UPRIGHT
    slab = abs(float(normal[2])) > UPRIGHT
    good = upright or (slab and (side > 0 or h <= SHALLOW))
    return AnchoredBar(
        concrete=settings.concrete, steel=settings.steel, diameter=bars.diameter, cover=max(outer, 0.0),
        clear=max(apart - bars.diameter, 0.0), good=good,
    )  # fmt: skip


def beyond_of(z: ZoneInput, settings: Settings, layer: int, bars: ParallelBars, apart: float) -> Length:
    """How far additional bars of a layer go past both ends of their rectangle."""
    h = float(z.h.max())
    axis = abs(float(settings.bars.axes(np.array([h]))[0][layer]))
    bar = anchored_bar(z, settings, layer, bars, apart)
    cot = z.zone.links.cot_theta if z.zone.links is not None else None
    return settings.standard.beyond(bar, h / 2.0 + axis, cot)


def laid_out(
    z: ZoneInput, u: Ultimate, settings: Settings, rule: BarRule, given: tuple[ParallelBars | None, ...],
    store: Path | None,
) -> Given:  # fmt: skip
    """Base meshes and additional bars of a zone.

    Parameters
    ----------
    z : ZoneInput
        The zone, which asks for it.
    u : Ultimate
        What its points require.
    settings : Settings
        Of the zone.
    rule : BarRule
        Bars that may be chosen.
    given : tuple of ParallelBars or None
        Base meshes that the job gives.
    store : Path, optional
        Folder of what a second run takes over.
    """
    asked = z.zone.layout
    plan = plan_at(z)
    if asked is None or isinstance(plan, str):
        raise ValueError(f"zone '{z.name}' cannot be laid out: {plan if isinstance(plan, str) else 'it does not ask'}")
    required = np.where(np.isfinite(u.a_s), u.a_s, 0.0)
    there = np.asarray(np.isfinite(settings.bars.axes(z.h)).all(0))
    reach = np.where(np.isfinite(z.size), z.size, 0.0) / 2.0
    held = _held(store, z.name)
    known = len(held)
    made_from = [formulas(), z.xyz, reach, repr(asked), repr(rule), settings, z.h]
    layers: list[LaidLayer | None] = []
    for i, exists in enumerate(there):
        key = content([*made_from, i, required[:, i], repr(given[i])])
        if not exists:
            layers.append(None)
            continue
        if key not in held:
            flat = layer_plan(plan, float(settings.bars.angles[i]))
            mirrored = _mirrored(asked, float(settings.bars.angles[i]))
            grid = grid_of(flat.places, flat.reach(plan, reach), required[:, i], 1e3 * asked.module, mirrored, flat.way)
            held[key] = asdict(_laid(z, settings, rule_at(flat, rule), given[i], i, grid, asked))
        layers.append(_layer(held[key]))
    if store is not None and len(held) > known:
        _keep(store, z.name, held)
    return _given(z, settings, plan, layers, asked)


def rule_at(flat: LayerPlan, rule: BarRule) -> BarRule:
    """The rule with the distance that bars of a layer keep: radial ones come as near as half of their spacing."""
    apart = 2.0 * rule.clear + max(rule.diameters, default=0.0)
    return replace(rule, clear=apart) if flat.way.outer and not flat.way.along else rule


def _mirrored(asked: Arranged, angle: float) -> tuple[bool, bool]:
    """Whether a layer at an angle from the x bars [rad] is mirrored along its bars, and across them."""
    x, y = (asked.symmetric in (way, "both") for way in ("x", "y"))
    return (x, y) if abs(math.cos(angle)) > UPRIGHT else (y, x)


def _laid(
    z: ZoneInput, settings: Settings, rule: BarRule, base: ParallelBars | None, layer: int, grid: Grid, asked: Arranged
) -> LaidLayer:
    """One layer laid out."""

    def beyond(d: float) -> float:
        apart = base.spacing if base is not None else rule.spacings[0]
        return beyond_of(z, settings, layer, ParallelBars(d, apart), apart).value

    own = LayoutRule(
        bars=rule, base=base, rectangles=asked.rectangles, least=(1e3 * asked.length, 1e3 * asked.width),
        price=asked.price, beyond=beyond, seconds=asked.seconds,
    )  # fmt: skip
    return lay_layer(grid, own)


def _given(z: ZoneInput, settings: Settings, plan: Plan, layers: list[LaidLayer | None], asked: Arranged) -> Given:
    base = tuple(None if found is None else found.base for found in layers)
    area = np.tile([b.area if b is not None else 0.0 for b in base], (len(z.labels), 1))
    extra: list[ExtraBars] = []
    bounds = []
    module = 1e3 * asked.module
    for i, found in enumerate(layers):
        if found is None:
            continue
        bounds.append(LayerBound(i, found.mass, found.bound))
        flat = layer_plan(plan, float(settings.bars.angles[i]))
        low, high = flat.ends
        for patch in found.patches:
            i0, i1, j0, j1 = patch.box
            a0, a1 = (float(np.clip(found.start[0] + v * module, low[0], high[0])) for v in (i0, i1))
            c0, c1 = (float(np.clip(found.start[1] + v * module, low[1], high[1])) for v in (j0, j1))
            region = (a0, a1, c0, c1)
            extra.append(ExtraBars(i, patch.bars, np.zeros(len(area), dtype=bool), region))
    extra = list(counted(extra, lambda i: layer_plan(plan, float(settings.bars.angles[i]))))
    for e in extra:
        area[e.at, e.layer] += e.bars.area
    most = tuple(i for i, found in enumerate(layers) if found is not None and not found.enough)
    return Given(base, area, chosen=True, extra=tuple(extra), bounds=tuple(bounds), most=most)


def counted(extra: Sequence[ExtraBars], flat: Callable[[int], LayerPlan]) -> tuple[ExtraBars, ...]:
    """Additional bars in rectangles with the points that have them.

    A point on the edge of rectangles has those of the side with fewer bars: those of both sides do not lie there.

    Parameters
    ----------
    extra : sequence of ExtraBars
        Bars; those without a region stay as they are.
    flat : callable
        Gives a layer laid flat.
    """
    out = list(extra)
    for layer in {e.layer for e in extra}:
        mine = [i for i, e in enumerate(extra) if e.layer == layer and e.region is not None]
        if not mine:
            continue
        own = flat(layer)
        at, (low, high) = own.places, own.ends
        areas = np.array([extra[i].bars.area for i in mine])
        regions = np.array([extra[i].region for i in mine]).reshape(-1, 2, 2)
        there, least = np.zeros((len(mine), len(at)), dtype=bool), np.full(len(at), np.inf)
        for off in itertools.product((-NEAR, NEAR), repeat=2):
            moved = own.within(at + off, low, high)
            reach = (moved >= regions[:, None, :, 0] - ALIKE) & (moved <= regions[:, None, :, 1] + ALIKE)
            inside = np.asarray(reach.all(2))
            total = areas @ inside
            fewer = np.asarray(total < least - ALIKE)
            there[:, fewer], least[fewer] = inside[:, fewer], total[fewer]
        for i, held in zip(mine, there, strict=True):
            out[i] = replace(extra[i], at=held)
    return tuple(out)


def _held(store: Path | None, zone: str) -> dict[str, Any]:
    found = load_arrays(store / f"{file_name(zone)}+layout.npz") if store is not None else None
    return {} if found is None else dict(json.loads(str(found["layouts"])))


def _keep(store: Path, zone: str, held: dict[str, Any]) -> None:
    last = dict(list(held.items())[-KEPT:])
    save_arrays(store / f"{file_name(zone)}+layout.npz", "layouts", {"layouts": np.array(json.dumps(last))})


def _layer(of: dict[str, Any]) -> LaidLayer:
    base = None if of["base"] is None else ParallelBars(**of["base"])
    patches = tuple(Patch(tuple(p["box"]), ParallelBars(**p["bars"])) for p in of["patches"])
    return LaidLayer(base, patches, of["mass"], of["bound"], tuple(of["start"]), of["enough"])
