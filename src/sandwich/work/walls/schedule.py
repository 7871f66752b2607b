"""Bars of walls as they are cut and bent: vertical and level bars, those of ends with their ties, lintels."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from sandwich.core.trace import unrecorded
from sandwich.design.layout.pieces import laps_of, laps_round
from sandwich.design.schedule.rows import BarRow, Concrete
from sandwich.design.schedule.shapes import BENT, LEGS, LINK, TIE, TWICE_BENT, Shape, rounded_up, straight
from sandwich.design.walls.bars import LintelSteel, WallSteel, place_lintel
from sandwich.design.walls.ends import laid_end
from sandwich.model.walls.parts import TOUCH
from sandwich.standards.interface import Anchorage, AnchoredBar
from sandwich.work.walls.beam_anchorage import BeamAnchorage
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.coupling import CheckedBeam
from sandwich.work.walls.laps import ENDS, BarsUp, LaidBars

VERTICAL, LEVEL, CLOSING, IN_BENDS = "vertical", "level", "closing bars", "in bends of closing bars"
END_BARS, END_TIES, CROSS_TIES = "bars of ends", "ties of ends", "cross ties of ends"
CHORDS, LINKS, DIAGONALS = "chords", "links", "diagonals"
DIAGONAL_TIES, DIAGONAL_CROSS_TIES = "ties of diagonals", "cross ties of diagonals"


class WallSchedule:
    """Rows of the schedule of all walls."""

    def __init__(self, up: BarsUp, laid: list[LaidBars], lintels: list[CheckedPart], beams: list[CheckedBeam],
                 stock: float) -> None:  # fmt: skip
        self.up, self.laid, self.lintels, self.stock = up, laid, lintels, stock
        self.standard = up.standard
        self._beams = {b.part.part.full_name: b for b in beams}

    def rows(self) -> Iterator[BarRow]:
        """All rows, walls and piers first."""
        for b in self.laid:
            yield from self._upright(b)
        for c in self.up.upright:
            yield from self._level(c)
            yield from self._ties(c)
        for c in self.lintels:
            yield from self._lintel(c)

    def concrete(self) -> list[Concrete]:
        """Concrete of each storey of each wall, its piers, walls and lintels."""
        found: dict[tuple[str, str], tuple[float, float]] = {}
        for c in (*self.up.upright, *self.lintels):
            surface, volume = found.get((c.part.wall, c.part.storey), (0.0, 0.0))
            own = c.part.width * c.part.height
            found[c.part.wall, c.part.storey] = surface + own, volume + own * c.geometry.thickness
        return [Concrete(*key, *value) for key, value in found.items()]

    def _row(self, c: CheckedPart, layer: str, diameter: float, number: int, shape: Shape, lap: float = 0.0) -> BarRow:
        p = c.part
        row = BarRow(
            of=p.wall, storey=p.storey, place=p.label or f"{p.panel} {p.name}", layer=layer, diameter=diameter,
            number=number, shape=shape,
        )  # fmt: skip
        return replace(row, laps=laps_of(row.length, self.stock, lap), lap=lap) if lap else row

    def _upright(self, b: LaidBars) -> Iterator[BarRow]:
        """Vertical bars from their lap, or the foot of what they run through, up to their top."""
        c = b.part
        steel, of = c.steel, c.member.of.cover
        assert isinstance(steel, WallSteel)
        web, ends = steel.counts(c.geometry.length, c.geometry.thickness, of)
        number, layer = (2 * ends, END_BARS) if b.which == ENDS else (web, VERTICAL)
        if b.lap_from is None or not number:
            return  # bars from below run through
        d = b.bars.diameter
        going = math.ceil(number * b.going - 1e-6)
        if b.bent:
            bend = self.standard.bend(d)
            leg = rounded_up(bend.tail + bend.mandrel / 2.0 + d, LEGS)
            yield self._row(
                c, layer, d, number, Shape(BENT, (b.top - of.cover - b.lap_from, leg), bend.mandrel), b.lap.value
            )
            return
        others = b.top if b.others is None else b.others
        if going:  # bars all of which are lapped with thinner ones go as far as those that end
            top = max(b.top, others) if going == number else b.top
            yield self._row(c, layer, d, going, straight(top - b.lap_from), b.lap.value)
        if number > going:
            yield self._row(c, layer, d, number - going, straight(others - b.lap_from), b.lap.value)

    def _level(self, c: CheckedPart) -> Iterator[BarRow]:
        """Level bars of both faces, closed at the ends of the part by U-bars that are lapped with them."""
        steel, of, t = c.steel, c.member.of.cover, c.geometry.thickness
        assert isinstance(steel, WallSteel)
        bars = steel.horizontal
        levels = math.ceil(c.part.height / bars.spacing - 1e-6)
        inside = of.cover + (steel.vertical.diameter if of.vertical_outside else 0.0)
        bar = AnchoredBar(
            concrete=c.member.of.concrete, steel=c.member.of.steel, diameter=bars.diameter,
            cover=min(inside, t / 2.0 - bars.diameter / 2.0), clear=bars.spacing - bars.diameter, good=False,
        )  # fmt: skip
        with unrecorded():
            lap = self.standard.lap(bar).value
        panel = c.wall.panel(c.part.panel)
        if panel.closed and c.part.width > panel.length - TOUCH:  # a ring has no ends
            row = self._row(c, LEVEL, bars.diameter, of.curtains * levels, straight(c.part.width))
            yield replace(row, laps=laps_round(row.length, max(self.stock, 2.0 * lap), lap), lap=lap)
            return
        length = c.part.width - 2.0 * of.cover
        yield self._row(c, LEVEL, bars.diameter, of.curtains * levels, straight(length), lap)
        if of.curtains > 1:
            bend = self.standard.bend(bars.diameter, lap)
            leg = rounded_up(max(min(lap, length), bend.mandrel / 2.0 + bars.diameter), LEGS)
            closing = Shape(TWICE_BENT, (leg, t - 2.0 * inside, leg), bend.mandrel)
            yield self._row(c, CLOSING, bars.diameter, 2 * levels, closing)
            upright = 0.0 if of.vertical_outside else (steel.ends or steel.vertical).diameter
            if upright < bend.inside:  # two at each end
                yield self._row(c, IN_BENDS, bend.inside, 4, straight(c.part.height + lap), lap)

    def _ties(self, c: CheckedPart) -> Iterator[BarRow]:
        """Closed ties of both ends, and cross ties where more legs are asked for."""
        steel, of, t = c.steel, c.member.of.cover, c.geometry.thickness
        assert isinstance(steel, WallSteel)
        ties = steel.ties
        if ties is None or steel.ends is None:
            return
        bend = self.standard.tie_bend(ties.diameter, seismic=self.up.seismic(c))
        number = 2 * math.ceil(c.part.height / ties.spacing - 1e-6)
        sides = t - 2.0 * of.cover, laid_end(c.geometry.length, t, steel, of, 0.0).reach
        yield self._row(c, END_TIES, ties.diameter, number, Shape(LINK, sides, *bend[:2]))
        for side, legs in zip(sides, (ties.across, ties.along), strict=True):
            if legs > 2:
                yield self._row(c, CROSS_TIES, ties.diameter, number * (legs - 2), Shape(TIE, (side,), *bend[:2]))

    def _lintel(self, c: CheckedPart) -> Iterator[BarRow]:
        """Chords with their anchorage beyond both faces, links, diagonals with their ties."""
        steel, of, g = c.steel, c.member.of.cover, c.geometry
        assert isinstance(steel, LintelSteel)
        beam = self._beams.get(c.part.full_name)
        seismic = beam is not None
        h, b, l_n = g.length, g.thickness, g.height
        count = len(place_lintel(h, b, steel, of).places)
        yield from self._anchored(c, CHORDS, steel.chords.diameter, count, l_n)
        bend = self.standard.tie_bend(steel.links.diameter, seismic=seismic)
        number = math.ceil(l_n / steel.links.spacing - 1e-6)
        ring = b - 2.0 * of.cover, h - 2.0 * of.cover
        yield self._row(c, LINKS, steel.links.diameter, number, Shape(LINK, ring, *bend[:2]))
        if beam is None or beam.laid is None or steel.diagonals is None:
            return
        laid = beam.laid
        span = l_n / math.cos(laid.alpha)
        yield from self._anchored(c, DIAGONALS, laid.diameter, 2 * laid.count, span)
        bend = self.standard.tie_bend(laid.d_tie, seismic=True)
        if not laid.whole:
            number = 2 * math.ceil(span / laid.spacing - 1e-6)
            yield self._row(c, DIAGONAL_TIES, laid.d_tie, number, Shape(LINK, laid.core, *bend[:2]))
        for side, legs in zip(laid.core, reversed(laid.legs), strict=True):
            if legs > 2:
                cross = Shape(TIE, (side,), *bend[:2])
                yield self._row(c, DIAGONAL_CROSS_TIES, laid.d_tie, number * (legs - 2), cross)

    def _anchored(self, c: CheckedPart, layer: str, d: float, number: int, span: float) -> Iterator[BarRow]:
        """Bars of a lintel over their span with what goes into the walls, straight or bent there."""
        found = self._anchorage(c, layer, d)
        bend = found.bend
        if bend is None:
            yield self._row(c, layer, d, number, straight(span + 2.0 * found.length.value))
            return
        # along the bar, or up to the outside of the bend with the tail past it
        past = found.length.value - found.takes if found.takes < found.length.value else bend.tail
        leg = rounded_up(max(past, bend.tail) + bend.mandrel / 2.0 + d, LEGS)
        yield self._row(c, layer, d, number, Shape(TWICE_BENT, (leg, span + 2.0 * found.takes, leg), bend.mandrel))

    def _anchorage(self, c: CheckedPart, layer: str, d: float) -> BeamAnchorage:
        """Of a coupling beam as it was checked, of another lintel straight."""
        beam = self._beams.get(c.part.full_name)
        if beam is not None:
            return next(a for a in beam.anchored if a.which == layer)
        standard: Anchorage = self.standard
        steel, of = c.steel, c.member.of
        assert isinstance(steel, LintelSteel)
        places = place_lintel(c.geometry.length, c.geometry.thickness, steel, of.cover).places
        apart = np.abs(np.diff(np.unique(places[:, 1]))).min(initial=c.geometry.thickness)
        bar = AnchoredBar(
            concrete=of.concrete, steel=of.steel, diameter=d, cover=of.cover.cover + steel.links.diameter,
            clear=max(float(apart) - d, 0.0), good=False,
        )  # fmt: skip
        with unrecorded():
            length = standard.anchorage(bar)
        return BeamAnchorage(layer, length, "straight", length.value, math.inf)
