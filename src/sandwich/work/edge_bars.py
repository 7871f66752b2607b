"""Bars at free edges and openings of zones: U-bars, bars beside openings for those they cut, diagonals at corners."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import shapely
from numpy.typing import NDArray

from sandwich.core.shown import Measure, Sentence
from sandwich.core.trace import unrecorded
from sandwich.design.bar_sets import Given, ParallelBars
from sandwich.design.layout.pieces import Piece, Round, laps_of, laps_round, pieces_at
from sandwich.design.schedule.rows import BarRow
from sandwich.design.schedule.shapes import LEGS, TWICE_BENT, Shape, rounded_up, straight
from sandwich.design.settings import Settings
from sandwich.job.bars import CLEAR
from sandwich.model.plan import Plan
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Length
from sandwich.work.layout import anchored_bar, layer_plan

Floats = NDArray[np.float64]
EDGES: Final = "free edges"
APART: Final = 50.0  # mm between bars beside an opening, with their diameter and 20 mm at least
CORNERS: Final = 12  # of an opening, up to which they count as corners
SHARP: Final = 50.0  # mm by which an opening may leave a line between its corners
ALIKE: Final = 1e-6
ROUNDING: Final = 1.0  # mm


@dataclass(frozen=True)
class BarsBeside:
    """Bars of one layer beside an opening, on both sides of it.

    Attributes
    ----------
    place, layer : str
        Which opening, and which layer.
    number : int
        Of the layer.
    bars : ParallelBars
        Diameter, and the distance between them [mm].
    cut : float
        Bars of the base mesh that the opening cuts.
    each : int
        Bars on each side of it.
    beyond : Length
        Anchorage past the opening [mm].
    pieces : tuple of Piece
        The bars.
    regions : tuple
        From and to along and across, on each side [mm].
    """

    place: str
    layer: str
    number: int
    bars: ParallelBars
    cut: float
    each: int
    beyond: Length
    pieces: tuple[Piece, ...]
    regions: tuple[tuple[float, float, float, float], ...]

    @property
    def warning(self) -> str | Sentence | None:
        """What does not fit between the opening and the edges of the zone."""
        a0, a1, *_ = self.regions[0]
        past = [p for p in self.pieces if p.start <= a0 + ALIKE and p.end >= a1 - ALIKE]
        missing = 2 * self.each - len({p.across for p in past})
        if missing > 0:
            room = f"{missing} of {2 * self.each} bars have no room between it and the edge of the zone"
            return f"{self.place}, {self.layer}: {room}"
        least = min(((min(a0 - p.start, p.end - a1)) * p.scale for p in past), default=math.inf)
        if least > self.beyond.value - ROUNDING:
            return None
        text = "{}, {}: bars end at the edge of the zone {} past the opening, and are to be anchored over {}"
        both = (Measure(v, "mm", ".0f") for v in (least, self.beyond.value))
        return Sentence(text, self.place, self.layer, *both)


@dataclass(frozen=True)
class EdgeSteel:
    """Bars at the edges of a zone: beside its openings, and rows of U-bars and diagonals without marks.

    `bare` says that it has free edges and asks for U-bars, and no layer has bars in both faces for these to close.
    """

    beside: tuple[BarsBeside, ...] = ()
    rows: tuple[BarRow, ...] = ()
    bare: bool = False


def edge_steel(z: ZoneInput, plan: Plan, given: Given, settings: Settings, stock: float) -> EdgeSteel:
    """Bars that a zone asks for at its free edges and openings; the stock is the longest bars there are [mm]."""
    asked = z.zone.edges
    if asked is None:
        return EdgeSteel()
    cells = plan.corners
    sides = cells_sides(cells)[free_sides(z)]
    rings = openings_of(cells, sides)
    beside = _beside(z, plan, cells, rings, given, settings) if asked.openings else []
    rows = list(_u_bars(z, plan, sides, given, settings, stock)) if asked.u_bars else []
    bare = asked.u_bars and len(sides) > 0 and not rows
    if asked.corners:
        rows += _diagonals(z, [plan.drawn(ring) for ring in rings], given, settings)
    return EdgeSteel(tuple(beside), tuple(rows), bare)


def cells_sides(cells: Floats) -> Floats:
    """Sides of elements in a plan, (e, 4, 2, 2)."""
    return np.stack([cells, np.roll(cells, -1, axis=1)], axis=2)


def free_sides(z: ZoneInput) -> NDArray[np.bool_]:
    """Sides of the elements of a zone where the mesh has no other element and nothing holds it, (e, 4)."""
    s = z.on_mesh
    out = np.zeros((len(s.elements), 4), dtype=bool)
    every = s.mesh.edges
    free = every.sides == 1
    if s.held is not None:
        held = every.find(np.sort(s.held.node, axis=1))
        free[held[held >= 0]] = False
    for c in range(4):
        a, b = s.corners[:, c], s.corners[:, (c + 1) % 4]
        b = np.where(b < 0, s.corners[:, 0], b)
        real = a >= 0
        at = every.find(np.sort(np.stack([a, b], 1)[real], axis=1))
        out[real, c] = free[at]
    # the third side of a triangle closes it: in the plan it runs from the repeated corner
    triangle = s.corners[:, 3] < 0
    out[triangle, 3] = out[triangle, 2]
    out[triangle, 2] = False
    return out


def openings_of(cells: Floats, sides: Floats) -> list[Floats]:
    """Rings of the openings that free sides make in a zone, (v, 2) each."""
    polygons = shapely.polygons(cells)
    whole = shapely.union_all(shapely.make_valid(polygons), grid_size=0.1)
    real = sides[np.abs(sides[:, 0] - sides[:, 1]).max(1) > ALIKE]
    found = shapely.get_parts(shapely.polygonize(list(shapely.linestrings(real.round(1)))))
    inside = [p for p in found if not whole.contains(p.representative_point())]
    rings = [np.array(p.simplify(SHARP / 10.0).exterior.coords)[:-1] for p in inside]
    return sorted(rings, key=lambda r: tuple(r.mean(0).round(0)))


def _beside(
    z: ZoneInput, plan: Plan, cells: Floats, rings: list[Floats], given: Given, settings: Settings
) -> list[BarsBeside]:
    """Bars that an opening cuts, half of them on each side of it, anchored past it."""
    out = []
    for n, ring in enumerate(rings, start=1):
        for i, name in enumerate(settings.names):
            base = given.base[i]
            if base is None:
                continue
            flat = layer_plan(plan, float(settings.bars.angles[i]))
            own, turned = flat.turned(cells), flat.turned(ring)
            (a0, c0), (a1, c1) = turned.min(0).tolist(), turned.max(0).tolist()
            cut = (c1 - c0) / base.spacing * flat.way.share(a1, float(own[..., 0].max()))
            each = max(math.ceil(cut / 2.0 - ALIKE), 1)
            step = max(APART, base.diameter + CLEAR)
            with unrecorded():
                beyond = settings.standard.anchorage(anchored_bar(z, settings, i, base, step))
            cover = float(z.zone.bars.cover_bottom if settings.bars.sides[i] >= 0 else z.zone.bars.cover_top)
            first = cover + base.diameter / 2.0
            # radial bars keep their distance where they are nearest to the middle
            spread = flat.way.spread(max(a0 - beyond.value, float(own[..., 0].min())))
            pieces, regions = [], []
            for edge, side in ((c0, -spread), (c1, spread)):
                at = [edge + side * (first + k * step) for k in range(each)]
                pieces += [p for c in at for p in _over(own, c, (a0, a1), beyond.value, cover, flat.way)]
                regions.append((a0, a1, min(at[0], at[-1]), max(at[0], at[-1])))
            out.append(BarsBeside(
                place=f"beside opening {n}", layer=name, number=i, bars=ParallelBars(base.diameter, step), cut=cut,
                each=each, beyond=beyond, pieces=tuple(pieces), regions=tuple(regions),
            ))  # fmt: skip
    return out


def _over(
    cells: Floats, across: float, opening: tuple[float, float], beyond: float, cover: float, way: Round
) -> list[Piece]:  # fmt: skip
    """Bars on a line past an opening that goes from and to along them, cut at the edges of the zone."""
    at = across % way.whole if way.whole and not way.along else across
    if way.along and way.outer and at <= 0.0:
        return []
    past = beyond / way.scale(at)
    return [replace(p, across=across) for p in pieces_at(cells, at, opening[0] - past, opening[1] + past, cover, way)]


def _u_bars(
    z: ZoneInput, plan: Plan, sides: Floats, given: Given, settings: Settings, stock: float
) -> list[BarRow]:  # fmt: skip
    """U-bars round free edges at the spacing of the base mesh, of layers that lie in both faces."""
    bars, h, out = settings.bars, float(z.h.max()), []
    for i, name in enumerate(settings.names):
        base = given.base[i]
        partner = [
            j for j in range(len(settings.names))
            if bars.sides[i] > 0 > bars.sides[j] and abs(math.sin(bars.angles[i] - bars.angles[j])) < ALIKE
            and given.base[j] is not None
        ]  # fmt: skip
        if base is None or not partner:
            continue
        flat = layer_plan(plan, float(bars.angles[i]))
        turned = flat.turned(sides)
        width = np.abs(turned[:, 0, 1] - turned[:, 1, 1])
        if flat.way.outer and not flat.way.along:  # radial bars, by the way round at the edge itself
            width = width * turned[..., 0].mean(1) / flat.way.outer
        number = math.ceil(float(width.sum()) / base.spacing - ALIKE)
        with unrecorded():
            leg = settings.standard.edge_leg(h)
            bend = settings.standard.bend(base.diameter, leg.value)
        axes = bars.axes(np.array([h]))[0]
        wide = float(axes[i] - axes[partner[0]]) + base.diameter
        one = rounded_up(leg.value, LEGS)
        if number:
            shape = Shape(TWICE_BENT, (one, wide, one), bend.mandrel)
            words = name.removeprefix(settings.faces[0]).strip()
            out.append(_row(z, EDGES, f"U-bars along {words}", base.diameter, number, shape))
            bare = sum(_inside(j, axes, given, settings) < bend.inside for j in (i, partner[0]))
            if bare:
                own = ParallelBars(bend.inside, base.spacing)
                with unrecorded():
                    lap = settings.standard.lap(anchored_bar(z, settings, i, own, base.spacing)).value
                for length, closed in _runs(plan, sides[width > ALIKE], float(z.zone.bars.cover_bottom)):
                    row = _row(z, EDGES, f"in bends of U-bars along {words}", own.diameter, bare, straight(length))
                    laps = (laps_round if closed else laps_of)(row.length, max(stock, 2.0 * lap), lap)
                    out.append(replace(row, laps=laps, lap=lap) if laps else row)
    return out


def _inside(layer: int, axes: Floats, given: Given, settings: Settings) -> float:
    """Diameter of the base mesh that crosses a layer on its inner side [mm], 0 where none does."""
    bars = settings.bars
    return max(
        (
            b.diameter for j, b in enumerate(given.base)
            if b is not None and bars.sides[j] == bars.sides[layer] and abs(axes[j]) < abs(axes[layer])
            and abs(math.sin(bars.angles[j] - bars.angles[layer])) > ALIKE
        ),
        default=0.0,
    )  # fmt: skip


def _runs(plan: Plan, sides: Floats, cover: float) -> list[tuple[float, bool]]:
    """Lengths of bars along edges that go on from side to side, less the cover at both ends [mm], and if they close."""
    drawn = plan.drawn(sides.reshape(-1, 2)).reshape(-1, 2, 2).round(1)
    merged = shapely.line_merge(shapely.union_all(shapely.linestrings(drawn)))
    runs = [(float(p.length) - (0.0 if p.is_ring else 2.0 * cover), bool(p.is_ring)) for p in shapely.get_parts(merged)]
    return [run for run in runs if run[0] > 0.0]


def _diagonals(z: ZoneInput, rings: list[Floats], given: Given, settings: Settings) -> list[BarRow]:
    """One bar a face across each corner of an opening that has corners, anchored on both sides."""
    out = []
    for n, ring in enumerate(rings, start=1):
        polygon = shapely.Polygon(ring).simplify(SHARP)
        count = len(polygon.exterior.coords) - 1
        if count > CORNERS or shapely.Polygon(ring).area > 1.01 * polygon.area:
            continue
        for side, face in ((1, settings.faces[0]), (-1, settings.faces[1])):
            bases = [(i, b) for i, b in enumerate(given.base) if b is not None and settings.bars.sides[i] == side]
            for i, base in bases[:1]:
                with unrecorded():
                    length = settings.standard.anchorage(anchored_bar(z, settings, i, base, APART)).value
                place, layer = f"corners of opening {n}", f"{face} diagonal"
                out.append(_row(z, place, layer, base.diameter, count, straight(2.0 * length)))
    return out


def _row(z: ZoneInput, place: str, layer: str, diameter: float, number: int, shape: Shape) -> BarRow:
    return BarRow(of=z.name, storey="", place=place, layer=layer, diameter=diameter, number=number, shape=shape)
