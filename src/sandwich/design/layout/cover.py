"""Additional bars of a layer as a cover of what its base mesh lacks: the least steel and marks, with a bound."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sandwich.design.bar_sets import ParallelBars
from sandwich.design.layout.candidates import Box, grown, hull, patches
from sandwich.design.layout.fold import Fold

Floats = NDArray[np.float64]
SMALL = 1e-9
GAP = 0.02  # of the mixed-integer program to its own bound
OVER = 2  # rectangles over each other at most; the program of cover counts on two
FEW = 12  # pairs of rectangles that are looked at before two are joined
NEAREST = (300, 600)  # options of the mixed-integer program, more where these give nothing


@dataclass(frozen=True)
class Patch:
    """Additional bars of a rectangle of squares."""

    box: Box
    bars: ParallelBars


@dataclass(frozen=True)
class Problem:
    """What is to be covered.

    Attributes
    ----------
    short : ndarray, shape (n, m)
        What squares lack of the base mesh [mm2/mm].
    boxes : list of tuple of int
        Rectangles that may have bars.
    bars : list of ParallelBars
        Bars that may lie in them.
    module, beyond : float
        Side of a square, and how far bars go past both ends of a rectangle [mm].
    price : float
        Volume of steel that one rectangle more may save at least [mm3].
    most : int
        Rectangles of the layer at most.
    room : float
        Bars per width that may lie between those of the base mesh [1/mm].
    fold : Fold
        How the squares are folded.
    least : tuple of int
        Squares of the shortest sides along and across the bars.
    wide, long : ndarray, shape (n,), (m,)
        Sizes of squares in space over those in the plan, see `Grid`.
    """

    short: Floats
    boxes: list[Box]
    bars: list[ParallelBars]
    module: float
    beyond: float
    price: float
    most: int
    room: float
    fold: Fold
    least: tuple[int, int]
    wide: Floats
    long: Floats

    def marks(self, box: Box) -> int:
        """Rectangles of the zone that one of the grid stands for."""
        return len(self.fold.boxes(box))

    def cost(self, box: Box, bars: ParallelBars) -> float:
        """Steel of bars in a rectangle with what goes past its ends, and the price of its marks [mm3]."""
        every = self.fold.boxes(box)
        i0, i1, j0, j1 = every[0]  # the others are its images
        share = float(self.long[j0:j1].mean())
        long, wide = share * (i1 - i0) * self.module, float(self.wide[i1 - 1]) * (j1 - j0) * self.module
        whole = share * self.fold.count[0] * self.module  # bars end at the edge of the zone
        return len(every) * (float(bars.area * wide * min(long + 2.0 * self.beyond, max(whole, long))) + self.price)


@dataclass(frozen=True)
class Cover:
    """Rectangles with bars, what they cost, and a lower bound of it [mm3]; inf where nothing covers."""

    patches: tuple[Patch, ...]
    cost: float
    bound: float


NOTHING = Cover((), 0.0, 0.0)
NONE = Cover((), math.inf, 0.0)


def options_of(problem: Problem) -> list[Patch]:
    """Rectangles with bars, less those with more than would do."""
    out = []
    ordered = sorted(problem.bars, key=lambda b: b.area)
    for box in problem.boxes:
        most = float(problem.short[box[0] : box[1], box[2] : box[3]].max(initial=0.0))
        if most <= SMALL:
            continue
        for bars in ordered:
            out.append(Patch(box, bars))
            if bars.area >= most - SMALL:
                break
    return out


def simple(problem: Problem) -> Cover:
    """One rectangle round each patch, two at a time joined, those that cost least, until there are few enough."""
    ordered = sorted(problem.bars, key=lambda b: b.area)
    boxes = [grown(box, problem.least, problem.short.shape) for box in patches(problem.short > SMALL)]
    found = [_least(problem, [], box, ordered) for box in dict.fromkeys(boxes)]
    chosen = [f for f in found if f is not None]
    while sum(problem.marks(c.box) for c in chosen) > problem.most:
        pairs = list(itertools.combinations(range(len(chosen)), 2))
        rough = [
            problem.cost(hull(chosen[a].box, chosen[b].box), max(chosen[a].bars, chosen[b].bars, key=lambda v: v.area))
            - problem.cost(chosen[a].box, chosen[a].bars) - problem.cost(chosen[b].box, chosen[b].bars)
            for a, b in pairs
        ]  # fmt: skip
        best: tuple[float, list[Patch]] | None = None
        for k in np.argsort(rough, kind="stable")[:FEW]:
            rest = [c for n, c in enumerate(chosen) if n not in pairs[k]]
            made = _least(problem, rest, hull(chosen[pairs[k][0]].box, chosen[pairs[k][1]].box), ordered)
            if made is None:
                continue
            cost = sum(problem.cost(c.box, c.bars) for c in (*rest, made))
            if best is None or cost < best[0]:
                best = cost, [*rest, made]
        if best is None:
            return NONE
        chosen = best[1]
    return Cover(tuple(chosen), _cost(problem, chosen), 0.0) if covers(problem, chosen) else NONE


def _cost(problem: Problem, chosen: Sequence[Patch]) -> float:
    return sum(problem.cost(o.box, o.bars) for o in chosen)


def _least(problem: Problem, rest: list[Patch], box: Box, ordered: list[ParallelBars]) -> Patch | None:
    """The least bars of a rectangle that cover it beside others, None where none find room or do."""
    i0, i1, j0, j1 = box
    left, dense = problem.short[i0:i1, j0:j1].copy(), np.zeros((i1 - i0, j1 - j0))
    over = np.zeros(left.shape)
    for o in rest:
        a, b, c, d = max(o.box[0], i0), min(o.box[1], i1), max(o.box[2], j0), min(o.box[3], j1)
        if a < b and c < d:
            left[a - i0 : b - i0, c - j0 : d - j0] -= o.bars.area
            dense[a - i0 : b - i0, c - j0 : d - j0] += 1.0 / o.bars.spacing
            over[a - i0 : b - i0, c - j0 : d - j0] += 1
    if over.max() >= OVER:
        return None
    need, room = float(left.max()), problem.room - float(dense.max())
    fit = (b for b in ordered if b.area >= need - SMALL and 1.0 / b.spacing <= room + SMALL)
    found = next(fit, None)
    return None if found is None else Patch(box, found)


def covers(problem: Problem, chosen: Sequence[Patch]) -> bool:
    """Whether bars of rectangles give every square what it lacks."""
    laid = np.zeros(problem.short.shape)
    for o in chosen:
        i0, i1, j0, j1 = o.box
        laid[i0:i1, j0:j1] += o.bars.area
    return bool((laid >= problem.short - SMALL).all())


@dataclass(frozen=True)
class Program:
    """The cover of a problem as a linear program, and its lower bound.

    Attributes
    ----------
    problem : Problem
        What is to be covered.
    options : list of Patch
        Rectangles with bars.
    rows : ndarray, shape (r, n)
        Whether the squares of a row lie in each of them.
    lacks : ndarray, shape (r,)
        What the squares of a row lack at most [mm2/mm].
    cost : ndarray, shape (n,)
        Of each option [mm3].
    bound : float
        Cost of the relaxed program [mm3], inf where it has no answer.
    reduced : ndarray, shape (n,)
        Cost that an option lacks to come into it [mm3].
    """

    problem: Problem
    options: list[Patch]
    rows: Floats
    lacks: Floats
    cost: Floats
    bound: float
    reduced: Floats

    def constraints(self, of: NDArray[np.int64]) -> tuple[Floats, Floats]:
        """Matrix and right-hand side for some options: cover, room, rectangles over each other, all of them."""
        area = np.array([self.options[k].bars.area for k in of])
        dense = np.array([1.0 / self.options[k].bars.spacing for k in of])
        rows = self.rows[:, of]
        wanted = self.lacks > SMALL
        lack, there = self.lacks[wanted, None], rows[wanted] > 0.0
        # no option counts for more than is lacking: the bound is the better for it
        cover = there * np.minimum(area, lack)
        # and as two lie over each other at most: one that is enough or two others, of which one gives half or more
        enough = there & (area >= lack - SMALL)
        partner = np.where(there & ~enough, area, 0.0).max(1, keepdims=True, initial=0.0)
        other = there & ~enough & (area + partner >= lack - SMALL)
        larger = other & (2.0 * area >= lack - SMALL)
        counted = np.vstack([enough + 0.5 * other, enough | larger])[np.tile((there & ~enough).any(1), 2)]
        marks = np.array([float(self.problem.marks(self.options[k].box)) for k in of])
        A = np.vstack([-cover, -counted, rows * dense, rows, marks[None]])
        room, over = np.full(len(rows), self.problem.room + SMALL), np.full(len(rows), float(OVER))
        least = [-(self.lacks[wanted] - SMALL), np.full(len(counted), SMALL - 1.0)]
        return A, np.concatenate([*least, room, over, [float(self.problem.most)]])


def program_of(problem: Problem) -> Program:
    """The relaxed program of a problem, solved.

    References
    ----------
    Set cover as a linear program, by HiGHS (Huangfu and Hall 2018).
    """
    from scipy.optimize import linprog  # late: slow to import

    options, none = options_of(problem), np.zeros(0)
    if not options:  # as where nearly all lacks a little: bars over that are a base mesh
        return Program(problem, options, rows=none, lacks=none, cost=none, bound=math.inf, reduced=none)
    inside = np.zeros((len(problem.boxes), *problem.short.shape), dtype=bool)
    for k, (i0, i1, j0, j1) in enumerate(problem.boxes):
        inside[k, i0:i1, j0:j1] = True
    cells = np.flatnonzero(inside.any(0).ravel() | (problem.short.ravel() > SMALL))
    held, same = np.unique(inside.reshape(len(inside), -1)[:, cells].T, axis=0, return_inverse=True)
    lacks = np.zeros(len(held))
    np.maximum.at(lacks, same.ravel(), problem.short.ravel()[cells])
    number = {box: k for k, box in enumerate(problem.boxes)}
    rows = held[:, [number[o.box] for o in options]].astype(float)
    cost = np.array([problem.cost(o.box, o.bars) for o in options])
    program = Program(
        problem=problem, options=options, rows=rows, lacks=lacks, cost=cost, bound=math.inf,
        reduced=np.zeros(len(options)),
    )  # fmt: skip
    A, b = program.constraints(np.arange(len(options)))
    scale = float(cost.max())
    found = linprog(cost / scale, A_ub=A, b_ub=b, bounds=(0.0, 1.0), method="highs")
    if found.x is None or found.fun is None:
        return program
    reduced = np.abs(np.asarray(found.lower.marginals, dtype=float)) * scale
    return replace(program, bound=float(found.fun) * scale, reduced=reduced)


def best_of(program: Program, seconds: float) -> Cover:
    """The least cost among the rectangles that come nearest to the relaxed program, by a mixed-integer program.

    Parameters
    ----------
    program : Program
        The relaxed program.
    seconds : float
        Time for it.

    Returns
    -------
    Cover
        With the bound of the relaxed program; the simple one where nothing better is found.
    """
    problem, first = program.problem, simple(program.problem)
    if not math.isfinite(program.bound):
        return first
    bound = min(program.bound, first.cost)
    for nearest in NEAREST:
        found = _chosen(program, np.sort(np.argsort(program.reduced, kind="stable")[:nearest]), seconds)
        total = _cost(problem, found)
        if found and total < first.cost and covers(problem, found):
            return Cover(tuple(found), total, min(program.bound, total))
        if nearest >= len(program.options):
            break
    return replace(first, bound=bound)


def _chosen(program: Program, of: NDArray[np.int64], seconds: float) -> list[Patch]:
    """The least of some options that cover all, none where there are no such or time is up."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # late: slow to import
    from scipy.sparse import csr_array

    A, b = program.constraints(of)
    found = milp(
        program.cost[of] / float(program.cost.max()),
        integrality=np.ones(len(of), dtype=np.int64),
        bounds=Bounds(0, 1),
        constraints=LinearConstraint(csr_array(A), -np.inf, b),
        options={"time_limit": seconds, "mip_rel_gap": GAP},
    )
    return [] if found.x is None else [program.options[k] for k, x in zip(of, found.x, strict=True) if x > 0.5]
