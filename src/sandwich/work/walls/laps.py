"""Vertical bars of walls up the height: where they are lapped, how far they go, how they end."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.shown import Measure, Sentence, Words
from sandwich.core.status import Status
from sandwich.core.trace import about, unrecorded
from sandwich.design.bar_sets import ParallelBars
from sandwich.design.walls.bars import BarGroup, WallSteel
from sandwich.design.walls.ends import laid_end
from sandwich.project.project import Project
from sandwich.standards.interface import AnchoredBar, EndedBars, LappedEnd, Length
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.stations import WallCuts

WEB, ENDS = "web", "each end"
NOTHING: Final = "none"
TIES: Final = (6.0, 8.0, 10.0, 12.0, 16.0)  # mm, diameters of ties over a lap
STEP: Final = 5.0  # mm, of their spacing
LEVEL: Final = 20.0  # mm between a top and the foot over it
COLUMNS: Final = [
    "wall", "storey", "part", "bars", "provided [mm]", "lap from [m]", "lap [mm]", "lap by", "ties over the lap [mm]",
    "go on above",
    "others end at [m]", "up to [m]", "anchorage [mm]", "clause", "status",
]  # fmt: skip


@dataclass(frozen=True)
class LaidBars:
    """Vertical bars of one kind of one part; levels in mm, None where there is none.

    `lap` is at their foot; `goes_on` tells what of them goes on above, up to `top`, and `going` which part of them;
    `others` is where the rest ends; `bent` whether they are bent at the top.
    """

    part: CheckedPart
    which: str
    bars: BarGroup | ParallelBars
    lap: Length
    lap_from: float | None
    goes_on: str
    top: float
    others: float | None
    anchorage: Length
    status: Words
    through: str = ""
    ties: str = ""
    going: float = 1.0
    bent: bool = False


class BarsUp:
    """Vertical bars of the walls of a job, part by part."""

    def __init__(self, project: Project, cuts: WallCuts, parts: list[CheckedPart]) -> None:
        self.project, self.standard = project, project.standard
        self.upright = [c for c in parts if c.part.kind.upright and isinstance(c.steel, WallSteel)]
        self._below = {s.name for s in cuts.walls.storeys if s.basement}
        self._heights = {s.name: s.high - s.low for s in cuts.walls.storeys}

    def seismic(self, c: CheckedPart) -> bool:
        """Whether the wall of a part has a seismic design."""
        return self.project.job.walls[c.part.wall].seismic is not None

    def _lightly(self, c: CheckedPart) -> bool:
        """Whether the wall of a part is a large lightly reinforced one."""
        asked = self.project.job.walls[c.part.wall].seismic
        return asked is not None and asked.lightly

    @cached_property
    def _ranges(self) -> dict[str, tuple[float, float]]:
        """Level of the base over the basement and of the top of each wall [mm]."""
        out = {}
        for name in {c.part.wall for c in self.upright}:
            mine = [c for c in self.upright if c.part.wall == name]
            over = [c for c in mine if c.part.storey not in self._below] or mine
            out[name] = min(c.part.low for c in over), max(c.part.high for c in over)
        return out

    def above(self, c: CheckedPart) -> list[CheckedPart]:
        """Parts that stand on a part."""
        p = c.part
        return [
            o for o in self.upright
            if (o.part.wall, o.part.panel) == (p.wall, p.panel) and abs(o.part.low - p.high) < LEVEL
            and min(o.part.b, p.b) - max(o.part.a, p.a) > LEVEL
        ]  # fmt: skip

    def _no_lap(self, c: CheckedPart) -> Length:
        """Level up to which bars at the ends of a part are not lapped [mm]."""
        base, top = self._ranges[c.part.wall]
        if not self.seismic(c) or c.part.low < base - LEVEL:
            return Length(c.part.low, "")
        stack = [o for o in self.upright if abs(o.part.low - base) < LEVEL and o.part.panel == c.part.panel]
        under = [o for o in stack if min(o.part.b, c.part.b) > max(o.part.a, c.part.a)]
        foot = under[0] if under else c
        found = self.standard.no_lap(foot.geometry.length, top - base, self._heights[foot.part.storey])
        return Length(base + found.value, found.clause)

    def bar(self, c: CheckedPart, which: str) -> AnchoredBar:
        """A bar of a part as its anchorage sees it."""
        steel, cover, t = _steel(c), c.member.of.cover, c.geometry.thickness
        d = steel.vertical.diameter
        outer = 0.0 if cover.vertical_outside else steel.horizontal.diameter
        clear, ties = steel.vertical.spacing - d, 0.0
        if which == ENDS and steel.ends is not None:
            d = steel.ends.diameter
            laid = laid_end(c.geometry.length, t, steel, cover, 0.0)
            gaps = np.concatenate([np.diff([x for x, _ in laid.rows]), np.diff(laid.layers)])
            clear = float(gaps.min(initial=steel.ends.length)) - d
            if steel.ties is not None:
                outer = max(outer, steel.ties.diameter)
                # the legs along the wall hold the bars of one face
                face = max(len(laid.rows), 1)
                ties = min(steel.ties.across, face) * steel.ties.leg / (steel.ties.spacing * face)
        base = self._ranges[c.part.wall][0]
        yields = self.seismic(c) and base - LEVEL <= c.part.low < max(self._no_lap(c).value, base + LEVEL)
        return AnchoredBar(
            concrete=c.member.of.concrete, steel=c.member.of.steel, diameter=d,
            cover=min(cover.cover + outer, t / 2.0 - d / 2.0), clear=max(clear, 0.0), ties=ties, yields=yields,
            clamps=self._lightly(c),
        )  # fmt: skip

    def lap(self, c: CheckedPart, which: str) -> tuple[Length, float | None]:
        """Lap at the foot of bars and the level it starts from, None where they run through from below."""
        with unrecorded():
            bar = self.bar(c, which)
        length, level = self.standard.lap(bar), c.part.low
        limit = self._no_lap(c).value if which == ENDS else level
        if limit > level + LEVEL:
            if limit + length.value > c.part.high + LEVEL:
                return length, None
            level = limit
        return length, level

    def _reach(self, c: CheckedPart, which: str) -> float:
        """Level up to which bars from below go to be lapped with those of a part [mm]."""
        length, level = self.lap(c, which)
        if level is not None:
            return level + length.value
        over = self.above(c)
        return max((self._reach(o, which if has_bars(o, which) else WEB) for o in over), default=c.part.high)

    def of(self, c: CheckedPart, which: str) -> LaidBars:
        """Bars of one kind of a part."""
        steel, over = _steel(c), self.above(c)
        bars: BarGroup | ParallelBars = steel.ends if which == ENDS and steel.ends is not None else steel.vertical
        with unrecorded():
            bar = self.bar(c, which)
        with about(which):
            lap, level = self.lap(c, which)
            anchorage = self.standard.anchorage(bar) if over else self.standard.hook(bar)
        goes_on, top, others, going = f"{NOTHING}: bent at the top", c.part.high, None, 1.0
        if over:
            goes_on, fewer, going = _goes_on(c, over, which)
            partners = [o for o in over if has_bars(o, which)] or over
            with unrecorded():
                top = max(self._reach(o, which if has_bars(o, which) else WEB) for o in partners)
            if fewer:
                h_next = max(self._heights[o.part.storey] for o in over)
                ended = EndedBars(anchorage.value, bar.diameter, c.geometry.length, c.member.of.cot_theta_max, h_next,
                                  self.seismic(c) and not self._lightly(c))  # fmt: skip
                with about(which):
                    found = self.standard.extension(ended)
                others = min(c.part.high + found.value, self._ranges[c.part.wall][1])
                top = others if goes_on == NOTHING else top
                anchorage = Length(anchorage.value, f"{anchorage.clause}; {found.clause}")
        with unrecorded():
            through = self._no_lap(c).clause
        return LaidBars(
            part=c, which=which, bars=bars, lap=lap, lap_from=level, goes_on=goes_on, top=top, others=others,
            anchorage=anchorage, status=self._fits(c, which, lap, level), through=through,
            ties=self._ties(c, bar, which) if level is not None else "", going=going, bent=not over,
        )  # fmt: skip

    def _fits(self, c: CheckedPart, which: str, lap: Length, level: float | None) -> Words:
        """Whether a lap fits in its storey, and ends far enough below the base."""
        if lap.value > c.part.height:
            return Status.EXCEEDED.because("the lap is longer than the storey: thinner bars, or couplers")
        base = self._ranges[c.part.wall][0]
        if level is None or which != ENDS or not self.seismic(c) or abs(c.part.high - base) > LEVEL:
            return str(Status.OK)
        with unrecorded():
            keep = self.standard.no_lap_below(self.bar(c, which))
        if level + lap.value > base - keep.value + LEVEL and keep.value:
            form = "the lap ends within {} below the base ({}): thinner bars, or couplers"
            told = Sentence(form, Measure(keep.value, "mm", ".0f"), keep.clause)
            return Status.EXCEEDED.because(told)
        return str(Status.OK)

    def _ties(self, c: CheckedPart, bar: AnchoredBar, which: str) -> str:
        """Ties over a lap of bars at an end of a seismic wall, of a standard that has a rule for them."""
        if which != ENDS or not self.seismic(c):
            return ""
        laid = _steel(c).ties
        end = LappedEnd(bar.diameter, laid.diameter if laid else 0.0, bar.steel.f_yk, c.geometry.thickness)
        with about(which):
            found = self.standard.lap_ties(end)
        if found is None:
            return ""
        apart = min(found.spacing, laid.spacing if laid else math.inf)
        size = next((d for d in TIES if d >= found.diameter - 1e-9), found.diameter)
        return f"{size:g}/{math.floor(apart / STEP) * STEP:.0f} by {found.clause}"

    def all(self, only: CheckedPart | None = None) -> list[LaidBars]:
        """All of them, or those of one part, from below."""
        mine = self.upright if only is None else [only]
        order = sorted(mine, key=lambda c: (c.part.wall, c.part.panel, c.part.low, c.part.a))
        return [self.of(c, which) for c in order for which in (WEB, ENDS) if has_bars(c, which)]


def _steel(c: CheckedPart) -> WallSteel:
    assert isinstance(c.steel, WallSteel)
    return c.steel


def has_bars(c: CheckedPart, which: str) -> bool:
    """Whether a part has bars of a kind."""
    return which == WEB or _steel(c).ends is not None


def _goes_on(c: CheckedPart, over: list[CheckedPart], which: str) -> tuple[str, bool, float]:
    """What of the bars of a part goes on above, whether the rest ends there, and which part of them goes on."""
    if which == WEB:
        here = _steel(c).vertical
        others = [_steel(o).vertical for o in over]
        if all(v == here for v in others):
            return "all", False, 1.0
        least = min(others, key=lambda v: v.area)
        return f"lapped with {least}", least.area < here.area, 1.0
    own = _steel(c).ends
    assert own is not None
    ends = [_steel(o).ends for o in over]
    if any(e is None for e in ends):
        return NOTHING, True, 0.0
    least_end = min((e for e in ends if e is not None), key=lambda e: e.area)
    if least_end.diameter == own.diameter:
        if least_end.count >= own.count:
            return "all", False, 1.0
        return f"{least_end.count} of {own.count}", True, least_end.count / own.count
    return f"lapped with {least_end}", least_end.area < own.area, 1.0


def laps_frame(laid: list[LaidBars]) -> pd.DataFrame:
    """One row a part and kind of bars."""
    rows = []
    for b in laid:
        p = b.part.part
        rows.append({
            "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}", "bars": b.which,
            "provided [mm]": b.bars, "lap from [m]": math.nan if b.lap_from is None else b.lap_from / 1e3,
            "lap [mm]": math.nan if b.lap_from is None else b.lap.value,
            "lap by": b.lap.clause if b.lap_from is not None else f"runs through from below, {b.through}",
            "ties over the lap [mm]": b.ties, "go on above": b.goes_on,
            "others end at [m]": math.nan if b.others is None else b.others / 1e3,
            "up to [m]": b.top / 1e3, "anchorage [mm]": b.anchorage.value, "clause": b.anchorage.clause,
            "status": b.status,
        })  # fmt: skip
    return pd.DataFrame(rows, columns=COLUMNS)
