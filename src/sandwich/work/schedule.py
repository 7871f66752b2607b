"""Bars of zones as they are cut: their places, marks, lengths and mass."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.section import STEEL_DENSITY
from sandwich.core.trace import unrecorded
from sandwich.design.bar_sets import Given, ParallelBars
from sandwich.design.layout.pieces import Piece, laps_of, laps_round, pieces
from sandwich.design.schedule.rows import BarRow, marked, told_marks
from sandwich.design.schedule.shapes import straight
from sandwich.design.settings import Settings
from sandwich.model.plan import Plan
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Length
from sandwich.work.edge_bars import EdgeSteel, edge_steel
from sandwich.work.layout import anchored_bar, beyond_of, layer_plan, plan_at, trims

Floats = NDArray[np.float64]
BASE: Final = "base"
PLACES: Final = [
    "zone", "layer", "place", "bars [mm]", "along from [m]", "along to [m]", "across from [m]", "across to [m]",
    "beyond each end [mm]", "beyond by", "marks", "number of bars", "mass [kg]",
]  # fmt: skip


@dataclass(frozen=True)
class Placed:
    """Bars of one place of a layer: the base mesh, or those of a rectangle.

    Attributes
    ----------
    zone, layer, place : str
        Where.
    number : int
        Of the layer.
    bars : ParallelBars
        Diameter and spacing [mm].
    region : tuple of float
        From and to along and across the bars, where they count in full [mm].
    beyond : Length
        How far they go past both ends, 0 of a base mesh.
    pieces : tuple of Piece
        The bars.
    lap : Length
        Of those longer than the stock.
    stock : float
        Longest bars [mm].
    marks : tuple of int
        Marks of its lengths; none before they are numbered.
    """

    zone: str
    layer: str
    place: str
    number: int
    bars: ParallelBars
    region: tuple[float, float, float, float]
    beyond: Length
    pieces: tuple[Piece, ...]
    lap: Length
    stock: float
    marks: tuple[int, ...] = ()

    @property
    def lengths(self) -> dict[tuple[float, bool], int]:
        """Rounded lengths [mm], the longest first, whether the bar closes, and how many bars have them."""
        return dict(sorted(Counter((p.length, p.closed) for p in self.pieces).items(), reverse=True))

    @property
    def rows(self) -> list[BarRow]:
        """A row of the schedule for each length."""
        lap = self.lap.value
        marks = self.marks or (0,) * len(self.lengths)
        return [
            BarRow(
                of=self.zone, storey="", place=self.place, layer=self.layer, diameter=self.bars.diameter,
                number=number, shape=straight(length), lap=lap, mark=mark,
                laps=laps_round(length, self.stock, lap) if closed else laps_of(length, self.stock, lap),
            )
            for ((length, closed), number), mark in zip(self.lengths.items(), marks, strict=True)
        ]  # fmt: skip

    @property
    def mass(self) -> float:
        """Of all bars [kg]."""
        return sum(r.mass for r in self.rows)


@dataclass(frozen=True)
class ZoneSchedule:
    """Bars of a zone, and what they weigh beside what is required.

    Attributes
    ----------
    zone : ZoneInput
        The zone.
    plan : Plan
        It laid flat.
    names : tuple of str
        Of its layers.
    given : Given
        Its bars.
    places : tuple of Placed
        Layer by layer.
    required, provided : ndarray, shape (b,)
        Mass of what is required and of the bars by their areas [kg].
    area, volume : float
        Of the zone [mm2, mm3].
    edges : EdgeSteel
        Bars at its edges and openings.
    others : tuple of BarRow
        Those bars, and further ones, with their marks.
    """

    zone: ZoneInput
    plan: Plan
    names: tuple[str, ...]
    given: Given
    places: tuple[Placed, ...]
    required: Floats
    provided: Floats
    area: float
    volume: float
    edges: EdgeSteel
    others: tuple[BarRow, ...]

    @property
    def rows(self) -> list[BarRow]:
        """All rows of the schedule."""
        return [*(r for p in self.places for r in p.rows), *self.others]


def schedule_of(
    z: ZoneInput, given: Given, required: Floats, settings: Settings, stock: float, first: int,
    further: Sequence[BarRow] = (),
) -> ZoneSchedule | str:  # fmt: skip
    """Bars of a zone cut to length, or why they cannot be.

    Parameters
    ----------
    z, given, settings : ZoneInput, Given, Settings
        The zone and its bars.
    required : ndarray, shape (p, b)
        What is required [mm2/mm].
    stock : float
        Longest bars [mm].
    first : int
        The first mark.
    further : sequence of BarRow
        Further bars of the zone, without marks.
    """
    plan = plan_at(z)
    if isinstance(plan, str):
        return plan
    if any(e.region is None for e in given.extra):
        return "additional bars in polygons of space are not cut to length"
    if z.turn is not None and z.turn.any():
        return "top bars in a direction of their own are not cut to length"
    places: list[Placed] = []
    for i, name in enumerate(settings.names):
        base, more = given.base[i], [e for e in given.extra if e.layer == i]
        if base is None and not more:
            continue
        flat = layer_plan(plan, float(settings.bars.angles[i]))
        cells = flat.turned(plan.corners)
        low, high = cells.min((0, 1)), cells.max((0, 1))
        whole = (float(low[0]), float(high[0]), float(low[1]), float(high[1]))
        cover = float(z.zone.bars.cover_bottom if settings.bars.sides[i] >= 0 else z.zone.bars.cover_top)
        rows = []
        if base is not None:
            with unrecorded():  # bars that end before they meet are anchored past that
                ends = flat.way.outer and not flat.way.along
                past = beyond_of(z, settings, i, base, base.spacing) if ends else Length(0.0, "")
            rows = [(BASE, base, whole, past)]
        for n, e in enumerate(more, start=1):
            apart = 1.0 / ((1.0 / base.spacing if base is not None else 0.0) + 1.0 / e.bars.spacing)
            with unrecorded():
                beyond = beyond_of(z, settings, i, e.bars, apart)
            rows.append((f"{'sector' if plan.fan else 'rectangle'} {n}", e.bars, e.region or whole, beyond))
        for place, bars, region, beyond in rows:
            cut = tuple(pieces(cells, region, beyond.value, bars.spacing, cover, flat.way))
            with unrecorded():
                lap = settings.standard.lap(anchored_bar(z, settings, i, bars, bars.spacing))
            places.append(Placed(
                zone=z.name, layer=name, place=place, number=i, bars=bars, region=region, beyond=beyond, pieces=cut,
                lap=lap, stock=max(stock, 2.0 * lap.value),
            ))  # fmt: skip
    edges = edge_steel(z, plan, given, settings, stock)
    every = iter(marked([*(r for p in places for r in p.rows), *_beside_rows(z, edges), *edges.rows, *further], first))
    places = [replace(p, marks=tuple(r.mark for r in itertools.islice(every, len(p.lengths)))) for p in places]
    area = trims(z)
    need = np.where(np.isfinite(required), required, 0.0)
    return ZoneSchedule(
        zone=z, plan=plan, names=settings.names, given=given, places=tuple(places),
        required=STEEL_DENSITY * area @ need, provided=STEEL_DENSITY * area @ given.area,
        area=float(area.sum()), volume=float(area @ z.h),
        edges=edges, others=tuple(every),
    )  # fmt: skip


def _beside_rows(z: ZoneInput, edges: EdgeSteel) -> list[BarRow]:
    """A row for each length of bars beside openings."""
    return [
        BarRow(of=z.name, storey="", place=b.place, layer=b.layer, diameter=b.bars.diameter, number=count,
               shape=straight(length))
        for b in edges.beside for length, count in sorted(Counter(p.length for p in b.pieces).items(), reverse=True)
    ]  # fmt: skip


def places_frame(of: list[ZoneSchedule]) -> pd.DataFrame:
    """One row a base mesh or rectangle."""
    rows = []
    for p in (p for s in of for p in s.places):
        a0, a1, c0, c1 = (v / 1e3 for v in p.region)
        rows.append({
            "zone": p.zone, "layer": p.layer, "place": p.place, "bars [mm]": p.bars, "along from [m]": a0,
            "along to [m]": a1, "across from [m]": c0, "across to [m]": c1,
            "beyond each end [mm]": p.beyond.value if p.beyond.clause else np.nan, "beyond by": p.beyond.clause,
            "marks": told_marks(p.marks),
            "number of bars": len(p.pieces), "mass [kg]": p.mass,
        })  # fmt: skip
    return pd.DataFrame(rows, columns=PLACES)


def layers_frame(of: list[ZoneSchedule]) -> pd.DataFrame:
    """One row a layer: base mesh, rectangles, what is required and provided, how near to the bound."""
    rows = []
    for s in of:
        bounds = {b.layer: b for b in s.given.bounds}
        for i, name in enumerate(s.names):
            base, own = s.given.base[i], [p for p in s.places if p.number == i]
            if not own:
                continue
            bound = bounds.get(i)
            square = s.area / 1e6
            rows.append({
                "zone": s.zone.name, "layer": name, "base [mm]": base if base is not None else "none",
                "rectangles": sum(p.place != BASE for p in own),
                "required [kg/m2]": s.required[i] / square, "provided [kg/m2]": s.provided[i] / square,
                "excess [%]": 100.0 * (s.provided[i] / s.required[i] - 1.0) if s.required[i] > 0.0 else np.nan,
                "cut bars [kg]": sum(p.mass for p in own),
                "above the bound [%]": 100.0 * bound.gap if bound is not None and bound.bound > 0.0 else np.nan,
            })  # fmt: skip
    return pd.DataFrame(rows)
