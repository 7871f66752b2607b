"""Steel for the service state: the least that is added to given bars until their limits are met."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service, ServiceRule, check_service
from sandwich.design.settings import Settings
from sandwich.mechanics import cracked

Floats = NDArray[np.float64]
_ROUNDS: Final = 6
_HALVINGS: Final = 12
_FIRST: Final = 0.05  # mm2/mm; the first steel that is tried
NOT_ENOUGH: Final = "more steel than the greatest of the standard"


@dataclass(frozen=True)
class Added:
    """Steel that is added at p points [mm2/mm], shape (p, b), and whether it is enough, shape (p,)."""

    area: Floats
    enough: NDArray[np.bool_]


@dataclass(frozen=True)
class ServiceLoads:
    """What acts on p points in service, as `check_service` takes it."""

    cases: Floats
    factors: Floats
    situations: list[str]
    h: Floats
    head: Floats
    turn: Floats

    def at(self, points: NDArray[np.int64]) -> ServiceLoads:
        """The same of some points."""
        return replace(self, cases=self.cases[points], h=self.h[points], head=self.head[points], turn=self.turn[points])

    def check(self, bars: ServiceBars, settings: Settings, rule: ServiceRule, workers: int = 0) -> Service:
        """Service state with these bars."""
        return check_service(
            self.cases, self.factors, self.situations, self.h, bars, settings, rule, head=self.head, turn=self.turn,
            workers=workers,
        )  # fmt: skip


def wanting(s: Service) -> Floats:
    """Largest use of crack widths and of the bars' stress, shape (p,); inf without equilibrium, nan without bars."""
    use = np.fmax(np.nan_to_num(s.use, nan=0.0).max(1), np.nan_to_num(s.steel_use, nan=0.0))
    return np.where(s.status == cracked.OK, use, np.where(s.status == cracked.NO_EQUILIBRIUM, np.inf, np.nan))


def add_steel(loads: ServiceLoads, bars: ServiceBars, settings: Settings, rule: ServiceRule, found: Service) -> Added:
    """Least steel to add so that crack widths, bar stresses and least steel against cracking hold.

    Parameters
    ----------
    loads : ServiceLoads
        Points and combinations.
    bars : ServiceBars
        Bars that are there.
    settings, rule
        Materials and standard; what is asked.
    found : Service
        The service state with these bars.

    Returns
    -------
    Added
        Steel to add; zero where nothing is asked.

    References
    ----------
    For each face whose width is passed, bars are added in the layers that cross its worst crack, in the ratio of
    cos2 to its normal or in the best of them alone, whichever takes less; bars that are strained too far are added to
    by themselves. The amount is found by halving.
    """
    start = np.nan_to_num(bars.area)
    area = np.maximum(start, np.where(np.isfinite(bars.axes), found.least, 0.0))
    enough = np.ones(len(start), dtype=bool)
    most = settings.standard.greatest_steel(loads.h)
    todo = np.flatnonzero((np.nan_to_num(wanting(found), nan=0.0) > 1.0) | (area > start + 1e-12).any(1))
    todo = todo[np.isfinite(bars.area[todo]).all(1)]
    for _ in range(_ROUNDS):
        if not len(todo):
            break
        at = loads.at(todo)
        held = ServiceBars(area[todo], bars.axes[todo], bars.diameter)
        for goal_of in (_equilibrium, _both_faces, _one_face(0), _one_face(1), _stress):
            goal = goal_of(at.check(held, settings, rule), held, settings)
            short = np.flatnonzero(goal.short)
            if len(short):
                own = at.at(short)
                taken, good = _least(own, held, short, goal, settings, rule, most[todo[short]])
                held.area[short] += taken
                enough[todo[short]] &= good
        area[todo] = held.area
        again = np.nan_to_num(wanting(at.check(held, settings, rule)), nan=0.0) > 1.0 + 1e-6
        todo = todo[again & enough[todo]]
    enough[todo] = False
    return Added(area - start, enough)


@dataclass(frozen=True)
class _Goal:
    """Points that fall short of one thing, how steel may be added for it (options, p, b), and its use."""

    short: NDArray[np.bool_]
    options: Floats
    use: Callable[[Service], Floats]


def _equilibrium(s: Service, bars: ServiceBars, settings: Settings) -> _Goal:  # noqa: ARG001
    there = np.isfinite(bars.axes)
    lost = s.status == cracked.NO_EQUILIBRIUM
    return _Goal(lost, there[None] * 1.0, lambda of: np.where(of.status == cracked.OK, 0.0, 2.0))


def _across(s: Service, bars: ServiceBars, settings: Settings, face: int) -> Floats:
    """cos2 between the layers of a face and the normal of its crack, shape (p, b)."""
    own = np.isin(settings.bars.sides, (0, 1 if face == 0 else -1)) & np.isfinite(bars.axes)
    return np.where(own, np.cos(settings.bars.angles - np.nan_to_num(s.theta[:, [face]])) ** 2, 0.0)


def _passed(s: Service, face: int) -> NDArray[np.bool_]:
    return np.asarray(np.nan_to_num(s.use[:, face], nan=0.0, posinf=2.0) > 1.0)


def _both_faces(s: Service, bars: ServiceBars, settings: Settings) -> _Goal:
    """Where the whole depth is pulled, steel at one face alone would bend the section."""
    across = np.maximum(*(_across(s, bars, settings, face) for face in range(2)))
    return _Goal(_passed(s, 0) & _passed(s, 1), across[None], lambda of: of.use.max(1))


def _one_face(face: int) -> Callable[[Service, ServiceBars, Settings], _Goal]:
    def goal(s: Service, bars: ServiceBars, settings: Settings) -> _Goal:
        across = _across(s, bars, settings, face)
        best = np.eye(across.shape[1])[across.argmax(1)]
        short = _passed(s, face) & (across.max(1) > 0.0)
        return _Goal(short, np.stack([across, best]), lambda of: of.use[:, face])

    return goal


def _stress(s: Service, bars: ServiceBars, settings: Settings) -> _Goal:  # noqa: ARG001
    alone = np.eye(bars.area.shape[1])[s.steel_layer]
    return _Goal(np.nan_to_num(s.steel_use) > 1.0, alone[None], lambda of: of.steel_use)


def _least(
    loads: ServiceLoads, bars: ServiceBars, short: NDArray[np.int64], goal: _Goal, settings: Settings,
    rule: ServiceRule, most: Floats,
) -> tuple[Floats, NDArray[np.bool_]]:  # fmt: skip
    """Least steel of the options that brings the use to one, and whether it can."""
    base, axes = bars.area[short], bars.axes[short]
    found, good = np.zeros(base.shape), np.zeros(len(short), dtype=bool)
    for option in goal.options[:, short]:

        def holds(amount: Floats, option: Floats = option) -> NDArray[np.bool_]:
            trial = ServiceBars(base + amount[:, None] * option, axes, bars.diameter)
            use = goal.use(loads.check(trial, settings, rule))
            return np.asarray(np.nan_to_num(use, nan=np.inf, posinf=np.inf) <= 1.0)

        high = np.full(len(short), _FIRST)
        low = np.zeros(len(short))
        while True:
            kept = holds(high)
            more = ~kept & (high < most)
            if not more.any():
                break
            low = np.where(more, high, low)
            high = np.where(more, np.minimum(2.0 * high, most), high)
        for _ in range(_HALVINGS):
            middle = (low + high) / 2.0
            inside = holds(middle)
            low, high = np.where(kept & ~inside, middle, low), np.where(kept & inside, middle, high)
        taken = high[:, None] * option
        better = kept & (~good | (taken.sum(1) < found.sum(1)))
        found, good = np.where((better | ~(good | kept))[:, None], taken, found), good | kept
    return found, good
