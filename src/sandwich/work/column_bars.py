"""Bars over and through the columns of a slab: top bars near them, the moment these take, bottom bars through them."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from sandwich.core.trace import unrecorded
from sandwich.design.bar_sets import Given
from sandwich.design.schedule.rows import BarRow
from sandwich.design.schedule.shapes import straight
from sandwich.design.settings import Settings
from sandwich.model.plan import Plan
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.column import SlabColumn
from sandwich.standards.interface import Near, SlabJoint, Through
from sandwich.standards.interface.columns import LEVER, MEETS
from sandwich.work.layout import LayerPlan, anchored_bar, layer_plan, plan_at
from sandwich.work.loaded_areas import LoadedArea

Floats = NDArray[np.float64]
TOP: Final = "top bars near the column"
MOMENT: Final = "moment to the column by flexure"
THROUGH: Final = "bottom bars through the column"
ASIDE: Final = 0.5  # tangent up to which the next column counts as straight on
INSIDE: Final = "inside"
SLIVER: Final = 1e-3  # of the part of a point: what touches a band does not lie in it
NEAR: Final = 1.0  # mm by which a column may stand beside its slab


class Supported(NamedTuple):
    """A column, as punching has it, and the faces of the slab that it puts in tension, True for the top."""

    area: LoadedArea
    column: SlabColumn
    tops: tuple[bool, ...]


@dataclass(frozen=True)
class Band:
    """Bars of one layer that lie near a column.

    Attributes
    ----------
    column : str
        Its name.
    number : int
        Of the layer.
    check : str
        What they are for.
    whole : ndarray, shape (s,)
        What the clause starts from at each station: area that both half panels require [mm2], or the moment [N mm].
    rule : Near
        What the bars of the band have to do where that is largest.
    across : tuple of float
        From and to across the bars in the plan of the layer [mm].
    stations : ndarray, shape (s, 2)
        From and to along the bars [mm].
    need : ndarray, shape (s,)
        Bars in the band at each station [mm2/mm], nan where a point of the panels fails.
    """

    column: str
    number: int
    check: str
    whole: Floats
    rule: Near
    across: tuple[float, float]
    stations: Floats
    need: Floats


@dataclass(frozen=True)
class BarsThrough:
    """Bottom bars of one layer through a column: how many, and how many more than the base mesh surely has there.

    `length` is that of the bars that are added [mm].
    """

    column: str
    number: int
    rule: Through
    base: int
    added: int
    length: float


def columns_of(areas: Sequence[Supported]) -> list[Supported]:
    """Those that are columns: ends of walls and loads are none."""
    return [a for a in areas if a.area.entry.kind == "column"]


def bands_of(areas: Sequence[Supported], z: ZoneInput, strength: Floats, settings: Settings) -> list[Band]:
    """Bands of bars near the columns of a zone.

    Parameters
    ----------
    areas : sequence of Supported
        Loaded areas of the zone.
    z : ZoneInput
        The zone, which asks for such bars.
    strength : ndarray, shape (p, b)
        Steel that its points require by strength [mm2/mm], nan where they fail.
    settings : Settings
        Of the zone.
    """
    plan = plan_at(z)
    if z.zone.column_bars is None or isinstance(plan, str) or plan.radius:
        return []
    columns, out = columns_of(areas), []
    size = _sizes(z)
    for i in _layers(settings):
        flat = layer_plan(plan, float(settings.bars.angles[i]))
        at = np.array([flat.turned(_place(c.area, z, plan)) for c in columns]).reshape(-1, 2)
        for n, c in enumerate(columns):
            if (settings.bars.sides[i] < 0) not in c.tops:
                continue
            own = [_over_panels(c, at, n, flat, z=z, layer=i, strength=strength[:, i], size=size, settings=settings),
                   _by_flexure(c, i, at[n], flat, z, settings)]  # fmt: skip
            out += [b for b in own if b is not None]
    return out


def askew(areas: Sequence[Supported], z: ZoneInput, settings: Settings) -> list[tuple[str, float, str]]:
    """Columns whose moment no band takes: bars are askew of a free edge; name, moment [N mm] and clause of each."""
    plan, rule = plan_at(z), settings.standard.moment_near_column
    if isinstance(plan, str) or rule(SlabJoint(1.0, 1.0, 1.0, 1.0, 1.0, None)) is not None:
        return []  # a rule that goes by no edge
    ways = [layer_plan(plan, float(settings.bars.angles[i])).along for i in _layers(settings)]
    out = []
    for c in columns_of(areas):
        along = [_turned(c.area, z, way) for way in ways]
        lost = [n for n in c.column.edges if not any(_meets(n, v) for v in along)]
        moment = max((float(np.abs(c.area.forces.moment @ n).max(initial=0.0)) for n in lost), default=0.0)
        near = rule(SlabJoint(moment, 1.0, 1.0, 1.0, 1.0, 1.0))
        if near is not None and moment > 0.0:
            out.append((c.area.name, moment, near.clause))
    return out


def raised_near(bands: Sequence[Band], z: ZoneInput, area: Floats, settings: Settings) -> Floats:
    """Steel at the points of a zone with what the bands need, (p, b) [mm2/mm]."""
    out = area.copy()
    weights = weights_in(z, settings)
    for b in bands:
        for station, need in zip(b.stations, b.need, strict=True):
            inside = weights(b.number, station, b.across) > 0.0
            out[inside, b.number] = np.fmax(out[inside, b.number], need)
    return out


def band_at(bands: Sequence[Band], z: ZoneInput, settings: Settings, layer: int, point: int) -> tuple[Band, int] | None:
    """The band with its station that needs most of a layer at a point of the zone, None where none does."""
    weights = weights_in(z, settings)
    there = [
        (b, k) for b in bands if b.number == layer for k, station in enumerate(b.stations)
        if weights(layer, station, b.across)[point] > 0.0
    ]  # fmt: skip
    return max(there, key=lambda of: float(np.nan_to_num(of[0].need[of[1]])), default=None)


def provided_in(band: Band, weights: Callable[[int, Floats, tuple[float, float]], Floats], area: Floats) -> Floats:
    """Mean of the bars in a band at each station [mm2/mm]."""
    out = np.zeros(len(band.need))
    for k, station in enumerate(band.stations):
        own = weights(band.number, station, band.across)
        out[k] = float(own @ area[:, band.number]) / max(float(own.sum()), 1e-9)
    return out


def weights_in(z: ZoneInput, settings: Settings) -> Callable[[int, Floats, tuple[float, float]], Floats]:
    """How much of each point's part of the zone lies in a rectangle along and across the bars of a layer."""
    plan, size = plan_at(z), _sizes(z)
    held: dict[int, Floats] = {}

    def weights(layer: int, along: Floats, across: tuple[float, float]) -> Floats:
        if isinstance(plan, str):
            raise TypeError(plan)
        if layer not in held:
            held[layer] = layer_plan(plan, float(settings.bars.angles[layer])).places
        return _inside(held[layer][:, 0], size, *along) * _inside(held[layer][:, 1], size, *across)

    return weights


def bars_through(
    areas: Sequence[Supported], z: ZoneInput, given: Given, settings: Settings
) -> list[BarsThrough]:  # fmt: skip
    """Bottom bars through the columns of a zone, beside those of its base mesh."""
    asked, rule, plan = z.zone.column_bars, settings.standard.through_column(), plan_at(z)
    if asked is None or not asked.through or rule is None or isinstance(plan, str):
        return []
    out = []
    for c in columns_of(areas):
        if True not in c.tops or (rule.internal and c.column.place != INSIDE):
            continue
        for i in np.flatnonzero(settings.bars.sides > 0):
            base = given.base[i]
            if base is None:
                continue
            flat = layer_plan(plan, float(settings.bars.angles[i]))
            along, across = (_turned(c.area, z, v) for v in (flat.along, flat.across))
            core = c.column.size(across) - 2.0 * float(z.zone.bars.cover_bottom) - base.diameter
            there = max(math.floor(core / base.spacing + 1e-9), 0)
            with unrecorded():
                past = settings.standard.anchorage(anchored_bar(z, settings, int(i), base, base.spacing)).value
            out.append(BarsThrough(
                column=c.area.name, number=int(i), rule=rule, base=there, added=max(rule.number - there, 0),
                length=c.column.size(along) + 2.0 * past,
            ))  # fmt: skip
    return out


def through_rows(through: Sequence[BarsThrough], z: ZoneInput, given: Given, names: Sequence[str]) -> list[BarRow]:
    """Rows of the schedule, without marks, for bars through columns."""
    out: dict[tuple[int, float], int] = {}
    for t in through:
        if t.added:
            key = t.number, t.length
            out[key] = out.get(key, 0) + t.added
    rows = []
    for (i, length), number in out.items():
        base = given.base[i]
        if base is not None:
            rows.append(BarRow(of=z.name, storey="", place="through columns", layer=names[i], diameter=base.diameter,
                               number=number, shape=straight(length)))  # fmt: skip
    return rows


def _layers(settings: Settings) -> list[int]:
    return [i for i, side in enumerate(settings.bars.sides) if side != 0]


def _sizes(z: ZoneInput) -> Floats:
    """Side of the part of the zone that each point stands for [mm]."""
    return np.where(np.isfinite(z.size) & (z.size > 0.0), z.size, 1.0)


def _inside(at: Floats, size: Floats, low: float, high: float) -> Floats:
    """Part of a length about each place that lies between two places."""
    part = (np.minimum(at + size / 2.0, high) - np.maximum(at - size / 2.0, low)) / size
    return np.asarray(np.where(part > SLIVER, part, 0.0))


def _place(area: LoadedArea, z: ZoneInput, plan: Plan) -> Floats:
    """Place of a column in the plan of its zone [mm]."""
    near = int(np.linalg.norm(z.xyz - area.origin, axis=1).argmin())
    return np.asarray(plan.places[near] + z.on_mesh.points.bars[near, :2] @ (area.origin - z.xyz[near]))


def _turned(area: LoadedArea, z: ZoneInput, way: Floats) -> Floats:
    """A direction in the plan of a zone, (2,), along the axes of a column."""
    near = int(np.linalg.norm(z.xyz - area.origin, axis=1).argmin())
    return np.asarray(area.axes[:2] @ (way @ z.on_mesh.points.bars[near, :2]))


def _widths(at: Floats, n: int, axis: int) -> tuple[float, float] | None:
    """Widths of the panels before and after a column along one axis [mm]; None where no column follows on a side."""
    off = at - at[n]
    straight_on = np.abs(off[:, 1 - axis]) <= ASIDE * np.abs(off[:, axis])
    before, after = (s * off[straight_on & (s * off[:, axis] > 1.0), axis] for s in (-1.0, 1.0))
    return (float(before.min()), float(after.min())) if len(before) and len(after) else None


def _over_panels(
    c: Supported, at: Floats, n: int, flat: LayerPlan, *, z: ZoneInput, layer: int, strength: Floats, size: Floats,
    settings: Settings,
) -> Band | None:  # fmt: skip
    """The part of the top bars of both half panels that lies near an internal column, at stations along them.

    A column is internal where punching has it inside the slab, and columns follow on both sides across the bars.
    """
    asked = z.zone.column_bars
    if c.column.place != INSIDE or asked is None:
        return None
    if asked.panel is not None:
        length, width = np.abs(np.stack([flat.along, flat.across]) * 1e3 * np.array(asked.panel)).sum(1).tolist()
        lengths, widths = (length, length), (width, width)
    else:
        found = _widths(at, n, 1)
        if found is None:
            return None
        widths, lengths = found, _widths(at, n, 0) or found
    a, b = at[n]
    step = max(float(np.median(size)), 100.0)
    edges = np.arange(-math.ceil(lengths[0] / 2.0 / step) - 0.5, math.ceil(lengths[1] / 2.0 / step) + 1.0)
    stations = a + step * np.stack([edges[:-1], edges[1:]], 1)
    half = (b - widths[0] / 2.0, b + widths[1] / 2.0)
    across = _inside(flat.places[:, 1], size, *half)
    whole = np.zeros(len(stations))
    for k, station in enumerate(stations):
        own = across * _inside(flat.places[:, 0], size, *station)
        there = own > 0.0  # a point that fails leaves its station without an answer
        if there.any():
            whole[k] = own[there] @ strength[there] / float(own[there].sum()) * (half[1] - half[0])
    most = int(np.nan_to_num(whole).argmax())
    with unrecorded():
        rules = [settings.standard.top_near_column(float(A_t), *widths) for A_t in whole]
    rule = rules[most]
    if rule is None or not (whole[most] > 0.0 or np.isnan(whole).any()):
        return None
    need = np.array([r.value / r.width for r in rules if r is not None])
    band = (b - rule.width / 2.0, b + rule.width / 2.0)
    return Band(
        column=c.area.name, number=layer, check=TOP, whole=whole, rule=rule, across=band,
        stations=stations, need=need,
    )  # fmt: skip


def _meets(normal: Floats, along: Floats) -> bool:
    """Whether bars meet a free edge at right angles."""
    return abs(float(normal @ along)) > MEETS


def _panel(c: Supported, across: Floats, side: float, settings: Settings) -> tuple[float, float] | None:
    """Distance from a column to the nearer edge of its drop panel on both sides, and the thickness beyond [mm].

    A panel that ends with the slab has no edge there.
    """
    p = c.area.panel
    if p is None:
        return None
    ring = np.array(p.area(0.8 * p.h, settings.standard).exterior.coords)
    out = c.area.flat(p.origin + ring @ p.axes[:2])
    found = [(float((out @ way).max()), way) for way in (across, -across)]
    inner = [e for e, way in found if c.area.slab.contains(shapely.Point((e + NEAR) * way))]
    return max(min(inner, default=np.inf) - side / 2.0, 0.0), p.h


def _by_flexure(
    c: Supported, i: int, at: Floats, flat: LayerPlan, z: ZoneInput, settings: Settings
) -> Band | None:  # fmt: skip
    """Bars that take the part of the moment between slab and column that flexure transfers."""
    along, across = (_turned(c.area, z, v) for v in (flat.along, flat.across))
    moment = float(np.abs(c.area.forces.moment @ along).max(initial=0.0))
    h = c.area.h
    d = h / 2.0 + abs(float(settings.bars.axes(np.array([h]))[0, i]))
    sides = c.column.size(along), c.column.size(across)
    met = [gap for normal, gap in zip(c.column.edges, c.column.gaps, strict=True) if _meets(normal, along)]
    y = min(met) + sides[0] if met else None
    line = c.column.control.segments
    b_1, b_2 = (max(float(np.ptp(line @ v)), 1.0) for v in (along, across))
    with unrecorded():
        rule = settings.standard.moment_near_column(
            SlabJoint(
                M_sc=moment, b_1=b_1, b_2=b_2, c_2=sides[1], h=h, y=y, panel=_panel(c, across, sides[1], settings),
                modified=c.column.modified, at_edge=c.column.place != INSIDE,
            )
        )  # fmt: skip
    if rule is None or not moment > 0.0:
        return None
    whole = rule.width
    cross = shapely.LineString(np.outer([-whole / 2.0, whole / 2.0], across))
    there = float(cross.intersection(c.area.slab.buffer(NEAR)).length)
    rule = rule._replace(width=float(np.clip(there, min(sides[1], whole), whole)))  # no further than the slab goes
    f_yd = settings.standard.strengths(settings.concrete, settings.steel, "persistent").f_yd
    need = rule.value / (LEVER * d * f_yd) / rule.width
    reach = sides[0] / 2.0 + (whole - sides[1]) / 2.0
    band = (float(at[1] - whole / 2.0), float(at[1] + whole / 2.0))
    stations = np.array([[at[0] - reach, at[0] + reach]])
    return Band(
        column=c.area.name, number=i, check=MOMENT, whole=np.array([moment]), rule=rule, across=band, stations=stations,
        need=np.array([need]),
    )  # fmt: skip
