"""One layer laid out: the base mesh and the additional bars that together take the least steel and marks."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from sandwich.core.section import STEEL_DENSITY
from sandwich.design.bar_sets import BarRule, ParallelBars
from sandwich.design.layout.candidates import candidates
from sandwich.design.layout.cover import NOTHING, Patch, Problem, Program, best_of, program_of, simple
from sandwich.design.layout.grid import Grid

ALIKE = 0.08  # of the area: bars that differ by less are one choice
LOST = 2  # base meshes one after another that no rectangles make enough
LEVELS = 6  # additional bars beside a base mesh
WHOLE = 0.5  # of the zone, that a rectangle takes at most
CLOSE = 3  # base meshes whose cover is made the least


@dataclass(frozen=True)
class LayoutRule:
    """How a layer is laid out.

    Attributes
    ----------
    bars : BarRule
        Bars that may be chosen.
    base : ParallelBars, optional
        Base mesh that is given.
    rectangles : int
        Rectangles with additional bars at most.
    least : tuple of float
        Shortest sides of rectangles along and across the bars [mm].
    price : float
        Steel that one rectangle more has to save at least [kg].
    beyond : callable
        How far bars of a diameter go past both ends of a rectangle [mm].
    seconds : float
        Time for the optimum of one base mesh.
    """

    bars: BarRule
    base: ParallelBars | None
    rectangles: int
    least: tuple[float, float]
    price: float
    beyond: Callable[[float], float]
    seconds: float


@dataclass(frozen=True)
class LaidLayer:
    """Base mesh and rectangles of a layer.

    Attributes
    ----------
    base : ParallelBars, optional
        None where the rule has no bars.
    patches : tuple of Patch
        Additional bars in rectangles of squares.
    mass, bound : float
        Steel with anchorage and the prices of marks, and the lower bound over all base meshes that were looked at [kg].
    start : tuple of float
        Corner of the first square along and across the bars [mm].
    enough : bool
        Whether they give all that is required; else the most of the rule where more is.
    """

    base: ParallelBars | None
    patches: tuple[Patch, ...]
    mass: float
    bound: float
    start: tuple[float, float] = (0.0, 0.0)
    enough: bool = True


def lay_layer(grid: Grid, rule: LayoutRule) -> LaidLayer:
    """Base mesh and additional bars of a layer.

    Parameters
    ----------
    grid : Grid
        What is required.
    rule : LayoutRule
        What may be laid.

    Returns
    -------
    LaidLayer
        Of the base meshes of the rule the one that is cheapest with its rectangles.
    """
    best = _cheapest(grid, rule)
    if best is not None:
        return best
    for most in reach_of(rule.bars, rule.base):
        best = _cheapest(replace(grid, required=np.minimum(grid.required, most)), rule)
        if best is not None:
            return replace(best, enough=False)
    return LaidLayer(None, (), math.nan, math.nan, grid.start, enough=False)


def reach_of(rule: BarRule, base: ParallelBars | None) -> tuple[float, ...]:
    """The most that bars of a rule can give in places, then all over [mm2/mm]; nothing where it has no bars."""
    heaviest = base if base is not None else next(reversed(_distinct(rule)), None)
    if heaviest is None:
        return ()
    beside = max((b.area for b in additional_beside(heaviest, rule, math.inf)), default=0.0)
    return heaviest.area + beside, heaviest.area


def _cheapest(grid: Grid, rule: LayoutRule) -> LaidLayer | None:
    """The base mesh that is cheapest with its rectangles; None where none is enough."""
    bases = [rule.base] if rule.base is not None else _bases(grid, rule)
    lightest, tried, lost = math.inf, list[tuple[float, ParallelBars, Program | None]](), 0
    for base in bases:
        own = base.area * grid.area
        if own >= lightest:
            continue  # the mesh alone is heavier than another one with its rectangles
        problem = _problem(grid, rule, base)
        program = None if problem is None else program_of(problem)
        tried.append((own + (0.0 if program is None else program.bound), base, program))
        if problem is None:
            lightest = own
        elif program is not None and math.isfinite(program.bound):
            lightest, lost = min(lightest, own + simple(problem).cost), 0
        else:
            lost += 1
            if lost == LOST:
                break  # rectangles do not cover what lighter meshes lack
    tried = sorted((t for t in tried if math.isfinite(t[0])), key=lambda t: t[0])
    best: LaidLayer | None = None
    for bound, base, program in tried[:CLOSE]:
        if best is not None and STEEL_DENSITY * bound >= best.mass:
            break
        cover = NOTHING if program is None else best_of(program, rule.seconds)
        mass = STEEL_DENSITY * (base.area * grid.area + cover.cost)
        if best is None or mass < best.mass:
            patches = tuple(Patch(box, p.bars) for p in cover.patches for box in grid.fold.boxes(p.box))
            best = LaidLayer(base, patches, mass, min(STEEL_DENSITY * tried[0][0], mass), grid.start)
    return best if best is not None and math.isfinite(best.mass) else None


def _bases(grid: Grid, rule: LayoutRule) -> list[ParallelBars]:
    """Base meshes that may be the cheapest, by falling area."""
    needs = grid.required[grid.inside]
    top, low = float(needs.max(initial=0.0)), float(np.quantile(needs, 0.05)) if len(needs) else 0.0
    found = _distinct(rule.bars)
    enough = [b for b in found if b.area >= top * (1.0 - 1e-9)][:1]
    usual = [b for b in found if low * (1.0 - 1e-9) <= b.area < top * (1.0 - 1e-9)]
    return [*enough, *reversed(usual)]


def _distinct(rule: BarRule) -> list[ParallelBars]:
    """Bars by rising area, of those that are much alike the one with the wider spacing."""
    every = [ParallelBars(d, s) for d in rule.diameters for s in rule.spacings if s - d >= rule.clear]
    out: list[ParallelBars] = []
    for b in sorted(every, key=lambda b: (b.area, -b.spacing)):
        if out and b.area < out[-1].area * (1.0 + ALIKE):
            if b.spacing > out[-1].spacing:
                out[-1] = b
            continue
        out.append(b)
    heaviest = max(every, key=lambda b: b.area, default=None)
    return [*out, heaviest] if heaviest is not None and heaviest.area > out[-1].area * (1.0 + 1e-9) else out


def _problem(grid: Grid, rule: LayoutRule, base: ParallelBars) -> Problem | None:
    """What the base mesh lacks and what may cover it; None where it lacks nothing."""
    short = np.maximum(grid.required - base.area, 0.0)
    short[short <= 1e-9 * max(base.area, 1e-12)] = 0.0
    if not short.any():
        return None
    bars = additional_beside(base, rule.bars, float(short.max()))
    least = tuple(max(math.ceil(side / grid.module - 1e-6), 1) for side in rule.least)
    thickest = max((b.diameter for b in bars), default=base.diameter)
    boxes = candidates(short, [b.area for b in bars[:-1]], (least[0], least[1]))
    most = WHOLE * grid.inside.sum()  # bars over nearly all are a base mesh
    return Problem(
        short=short, boxes=[b for b in boxes if (b[1] - b[0]) * (b[3] - b[2]) <= most], bars=bars,
        module=grid.module, beyond=rule.beyond(thickest), price=rule.price / STEEL_DENSITY, most=rule.rectangles,
        room=1.0 / (rule.bars.clear + thickest) - 1.0 / base.spacing, fold=grid.fold, least=(least[0], least[1]),
        wide=grid.wide, long=grid.long,
    )  # fmt: skip


def additional_beside(base: ParallelBars, rule: BarRule, most: float) -> list[ParallelBars]:
    """Additional bars that fit between those of a base mesh, by rising area, up to the first that gives the most.

    Their spacing is that of the base mesh, half of it or twice.
    """
    found = []
    for d in rule.diameters:
        for s in (base.spacing / 2.0, base.spacing, 2.0 * base.spacing):
            apart = 1.0 / (1.0 / base.spacing + 1.0 / s)
            if apart - (base.diameter + d) / 2.0 >= rule.clear - 1e-9 and s <= 2.0 * max(rule.spacings, default=s):
                found.append(ParallelBars(d, s))
    out: list[ParallelBars] = []
    for b in sorted(found, key=lambda b: (b.area, -b.spacing)):
        if out and b.area < out[-1].area * (1.0 + ALIKE):
            continue
        out.append(b)
        if b.area >= most:
            break
    if len(out) > LEVELS:
        out = [out[i] for i in np.unique(np.linspace(0, len(out) - 1, LEVELS).round().astype(int))]
    return out
