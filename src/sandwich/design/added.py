"""Steel for the service state: what is added to given bars until their limits are met."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service, ServiceRule, check_service
from sandwich.design.settings import Settings
from sandwich.mechanics import cracked

Floats = NDArray[np.float64]
_ROUNDS: Final = 60
_STEEP: Final = 4.0  # maximum excess that one round answers
_PAST: Final = 1.003  # a little past the limit, so that the rounds end
_ALONG: Final = 0.02  # cos2; bars that run along a crack are left as they are
_TRIFLE: Final = 2e-4  # of the thickness: first steel of a layer that has none


@dataclass(frozen=True)
class Added:
    """Steel that is asked for and that was placed at p points [mm2/mm], (p, b), and whether it is enough, (p,)."""

    area: Floats
    placed: Floats
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


def wanting(s: Service, rule: ServiceRule) -> Floats:
    """Largest use of crack control and of the bars' stress, shape (p,); inf without equilibrium, nan without bars."""
    use = np.fmax(np.nan_to_num(s.cracking_use(rule), nan=0.0).max(1), np.nan_to_num(s.steel_use, nan=0.0))
    return np.where(s.status == cracked.OK, use, np.where(s.status == cracked.NO_EQUILIBRIUM, np.inf, np.nan))


def add_steel(loads: ServiceLoads, bars: ServiceBars, settings: Settings, rule: ServiceRule, found: Service) -> Added:
    """Steel to add so that crack widths, bar stresses and minimum steel against cracking hold.

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

    Notes
    -----
    In each round the layers of a face grow by cos2 of their angle to the normal of its worst crack and by the root of
    what it is too wide, those that are strained too far by the excess of their stress. Steel grows from below and stops
    where nothing is passed any more, so the worst crack ends at its limit.
    """
    start, there = np.nan_to_num(bars.area), np.isfinite(bars.axes)
    most = np.where(there, settings.standard.maximum_steel(loads.h)[:, None], 0.0)
    area = np.maximum(start, np.where(there, np.nan_to_num(found.minimum), 0.0))
    todo = np.flatnonzero((np.nan_to_num(wanting(found, rule), nan=0.0) > 1.0) | (area > start + 1e-12).any(1))
    todo = todo[np.isfinite(bars.area[todo]).all(1)]
    enough = np.ones(len(start), dtype=bool)
    for _ in range(_ROUNDS):
        if not len(todo):
            break
        held = replace(bars.part(todo), area=area[todo])
        state = loads.at(todo).check(held, settings, rule)
        more = wanting(state, rule) > 1.0
        todo = todo[more]
        wants = _grown(state, held, settings, rule, loads.h[todo], more)
        grown = np.maximum(area[todo], np.minimum(wants, most[todo]))
        stuck = (grown <= area[todo]).all(1)
        enough[todo[stuck]] = False
        area[todo] = grown
        todo = todo[~stuck]
    enough[todo] = False
    return Added(area - start, area - start, enough)


def _grown(
    s: Service, bars: ServiceBars, settings: Settings, rule: ServiceRule, h: Floats, more: NDArray[np.bool_]
) -> Floats:
    """Areas of the points that want more after one round."""
    area, there = bars.area[more], np.isfinite(bars.axes[more])
    factor = np.ones(area.shape)
    for face, side in enumerate((1, -1)):
        own = np.isin(settings.bars.sides, (0, side)) & there
        across = np.where(own, np.cos(settings.bars.angles - np.nan_to_num(s.theta[more][:, [face]])) ** 2, 0.0)
        across[across < _ALONG] = 0.0
        use = np.clip(np.nan_to_num(s.cracking_use(rule)[more, face], nan=0.0, posinf=_STEEP), 0.0, _STEEP)
        factor = np.maximum(factor, 1.0 + across * np.where(use > 1.0, np.sqrt(_PAST * use) - 1.0, 0.0)[:, None])
    use = np.nan_to_num(s.steel_use[more])
    alone = np.eye(area.shape[1])[s.steel_layer[more]]
    factor = np.maximum(factor, 1.0 + alone * np.where(use > 1.0, _PAST * np.minimum(use, _STEEP) - 1.0, 0.0)[:, None])
    lost = s.status[more] == cracked.NO_EQUILIBRIUM
    factor[lost] = np.where(there[lost], 2.0, 1.0)
    trifle = np.where(there & (factor > 1.0), _TRIFLE * h[:, None], 0.0)
    return np.asarray(np.maximum(area, trifle) * factor)


def smaller_bars(
    loads: ServiceLoads, bars: ServiceBars, settings: Settings, rule: ServiceRule, face: int,
    diameters: tuple[float, ...], minimum_spacing: float = 0.0,
) -> float | None:  # fmt: skip
    """Largest diameter below that of a face [mm] with which the same steel of one point keeps the width there.

    Parameters
    ----------
    loads, bars : ServiceLoads, ServiceBars
        One point and its bars, which keep their areas and depths.
    settings, rule
        Materials and standard; what is asked.
    face : {0, 1}
        Bottom or top.
    diameters : tuple of float
        Those that may be chosen [mm].
    minimum_spacing : float
        Closest the bars may lie [mm].

    Returns
    -------
    float or None
        None where no smaller bars are enough.

    References
    ----------
    Crack width by the standard of the settings: finer bars at the same steel crack finer.
    """
    own = np.isin(settings.bars.sides, (0, 1 if face == 0 else -1)) & np.isfinite(bars.axes[0])
    if not own.any():
        return None
    for d in sorted((d for d in diameters if d < bars.diameter[0, own].max()), reverse=True):
        trial = bars.finer(own, d)
        if (trial.spacing[0, own] < minimum_spacing - 1e-9).any():
            return None
        if loads.check(trial, settings, rule).cracking_use(rule)[0, face] <= 1.0:
            return float(d)
    return None
