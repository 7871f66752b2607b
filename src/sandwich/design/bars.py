"""How far the bars of a zone are used: required over given, and load factors of limit analysis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.numbers import most_of
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import Sentence
from sandwich.core.status import POINT_FAILS, Status
from sandwich.design.bar_sets import NO_MESH, Given
from sandwich.design.record import Ultimate
from sandwich.design.rows import compressed_depth
from sandwich.design.settings import Settings
from sandwich.design.transverse import shear_rows
from sandwich.design.ultimate import fields_and_links
from sandwich.mechanics.inplane import membrane_factor
from sandwich.mechanics.limit import LimitState, cracked_load_factor
from sandwich.mechanics.superpose import superpose
from sandwich.standards.interface import Strengths

Floats = NDArray[np.float64]
WORST: Final = 12  # points of a zone that get a limit analysis
_COMBINATIONS: Final = 3  # heaviest combinations of such a point, more where more are short
BARS: Final = "bars: "
EXTRA: Final = "extra bars [mm]"
SPACING: Final = "spacing of bars: "
THICK: Final = "diameter of bars: "


@dataclass(frozen=True)
class Used:
    """How far given bars are used at p points.

    Attributes
    ----------
    ratio : ndarray, shape (p, b)
        Required over given area; inf where no bars are given that are required, nan where the point fails.
    factor : ndarray, shape (p,)
        Load factor of the limit analysis at the worst points, nan elsewhere.
    by : ndarray of int, shape (p,)
        Combination of the factor, -1 elsewhere.
    excused : ndarray of bool, shape (p,)
        Bars short of what one design requires that hold by limit analysis, have the minimum steel, and leave the shear
        without links within its resistance.
    """

    ratio: Floats
    factor: Floats
    by: NDArray[np.int64]
    excused: NDArray[np.bool_]

    @property
    def utilisation(self) -> Floats:
        """1 over the load factor where there is one, else the largest ratio of a layer, shape (p,)."""
        return np.where(
            np.isfinite(self.factor),
            1.0 / np.maximum(self.factor, 1e-9),
            np.nan_to_num(self.ratio, nan=0.0, posinf=np.inf).max(1),
        )


def ratio_of(u: Ultimate, given: Given) -> Floats:
    """Required over given area (p, b): inf where none are given that are required, nan where the point fails."""
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = np.where(u.a_s > 0.0, u.a_s / given.area, 0.0)
    return np.where(np.isfinite(u.a_s), ratio, np.nan)


def used(
    cases: Floats, factors: Floats, situations: list[str], h: Floats, u: Ultimate, given: Given, settings: Settings
) -> Used:
    """Required over given steel at all points, and the load factor of limit analysis at the worst.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case in the bar directions [N, mm].
    factors, situations
        Combinations, as in `design_ultimate`.
    h : ndarray, shape (p,)
        Thickness [mm].
    u : Ultimate
        What is required.
    given : Given
        What is there.
    settings : Settings
        Bars, materials, standard, method.

    Returns
    -------
    Used
        Ratios and load factors.

    References
    ----------
    Lower bound theorem: a point whose given bars reach what one design requires holds; limit analysis in layers
    says by how much bars may fall short of it and still hold.
    """
    ratio = ratio_of(u, given)
    p = len(ratio)
    factor, by = np.full(p, np.nan), np.full(p, -1)
    # with bars in compression a point holds by its own design alone, which the analysis of pulling bars cannot better
    good = (u.failing < 0) & ~(u.pressed > 0.0).any(1)
    if settings.method == "membrane" and settings.bars.closed_form and not u.turn.any():
        factor, by = _membrane(cases, factors, situations, h, given, settings)
        factor[~good], by[~good] = np.nan, -1
        excused = (np.nan_to_num(factor) >= 1.0) & (given.area >= u.a_s_minimum * (1.0 - 1e-9)).all(1)
        return Used(ratio, factor, by, excused & (u.shear.raised <= 1.0))
    if settings.method != "sandwich":
        return Used(ratio, factor, by, np.zeros(p, dtype=bool))
    most = np.where(good, np.nan_to_num(ratio, nan=0.0, posinf=np.inf).max(1), -1.0)
    lacking = np.nan_to_num(u.a_s - given.area).max(1)
    # where no bars lie all are used alike: those that lack most; rounding noise does not choose
    worst = np.lexsort((-lacking.round(9), -most.round(9)))[:WORST]
    for i in worst[good[worst]]:
        factor[i], by[i] = _factor(
            cases[i : i + 1],
            factors,
            situations,
            h[i : i + 1],
            u=u,
            i=i,
            area=given.area[i],
            settings=settings.turned(float(u.turn[i])),
        )
    excused = np.nan_to_num(factor) >= 1.0
    excused &= (given.area >= u.a_s_minimum * (1.0 - 1e-9)).all(1) & (u.shear.raised <= 1.0)
    for angle in np.unique(u.turn[excused]):
        at, of = np.flatnonzero(excused & (u.turn == angle)), settings.turned(float(angle))
        combined, axes = superpose(cases[at], factors), settings.bars.axes(h[at])
        shear = shear_rows(combined, situations, h[at], axes, given.area[at], of, u.shear.support[at])
        excused[at] = (shear.use.max(1) <= 1.0) | (u.shear.a_sw[at] > 0.0) & (
            shear.use.max(1) <= u.shear.utilisation[at]
        )
    return Used(ratio, factor, by, excused)


def _membrane(
    cases: Floats, factors: Floats, situations: list[str], h: Floats, given: Given, settings: Settings
) -> tuple[Floats, NDArray[np.int64]]:
    """Load factor of membrane forces by its closed form, and the combination, at all points."""
    n = superpose(cases, factors)[..., :3]
    along = np.cos(settings.bars.angles) ** 2 > 0.5
    found = np.empty(n.shape[:2])
    for k, situation in enumerate(situations):
        s = settings.standard.strengths(settings.concrete, settings.steel, situation)
        mean, radius = n[:, k, :2].mean(1), np.hypot((n[:, k, 0] - n[:, k, 1]) / 2, n[:, k, 2])
        strength = np.where(mean + radius > 0.0, s.fc_cracked, s.fc_uncracked)
        bars = [s.f_yd * given.area[:, of].sum(1) for of in (along, ~along)]
        found[:, k] = membrane_factor(n[:, k], bars[0], bars[1], strength * h)
    by = found.argmin(1)
    return found[np.arange(len(found)), by], by


def _factor(
    case: Floats,
    factors: Floats,
    situations: list[str],
    h: Floats,
    *,
    u: Ultimate,
    i: int,
    area: Floats,
    settings: Settings,
) -> tuple[float, int]:
    """Minimum load factor of the heaviest combinations of one point, and which one it is."""
    combined = superpose(case, factors)
    axes = settings.bars.axes(h)
    strengths = [settings.standard.strengths(settings.concrete, settings.steel, s) for s in situations]
    loaded = fields_and_links(combined, strengths, situations, h, axes, settings, u.shear.support[i : i + 1])
    rows, carried = loaded.fields.rows, loaded.pushed[0]
    demand = rows.witness.bars / rows.f_yd[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        need = np.where(demand > 1e-6 * u.a_s[i].max(), demand / area, 0.0).max(1)
    found = []
    # a combination whose own field lies within the bars holds by that field; every other one is analysed
    count = max(_COMBINATIONS, int((need > 1.0).sum()))
    for k in np.argsort(-need, kind="stable")[:count]:
        factor = _carried(carried[k, :6], float(h[0]), axes[0], area, strengths[k], settings)
        found.append((max(factor, 1.0) if need[k] <= 1.0 else factor, int(k)))
    return min(found)


def _carried(demand: Floats, h: float, axes: Floats, area: Floats, s: Strengths, settings: Settings) -> float:
    """Load factor of given bars with strengths that fit the field found; zero without one."""
    there = np.isfinite(axes)
    angles = settings.bars.angles[there]
    cracked = s.fc_cracked * (1.0 - s.per_degree * s.max_turn)
    full = cracked_load_factor(
        demand, h, axes[there], angles, s.f_yd * area[there], cracked, max(s.fc_bending, cracked)
    )  # fmt: skip
    best = full.lower if np.isfinite(full.lower) else 0.0
    if not s.by_strain or ((full.bars > 0.0).any() and _yields(full, h, axes, s)):
        return float(best)
    cracked = min(cracked, s.fc_uncracked)
    low = cracked_load_factor(demand, h, axes[there], angles, s.f_yd_deep * area[there], cracked, s.fc_uncracked)
    return float(low.lower) if np.isfinite(low.lower) else 0.0


def _yields(state: LimitState, h: float, axes: Floats, s: Strengths) -> bool:
    """Whether the compressed depth of a field in layers keeps the limit at which its bars yield."""
    mean = (state.concrete[:, 0] + state.concrete[:, 1]) / 2
    pressed = np.hypot((state.concrete[:, 0] - state.concrete[:, 1]) / 2, state.concrete[:, 2]) - mean
    t = (pressed / state.fc).reshape(2, -1).sum(1) * h / len(state.fc)
    bars = np.zeros(len(axes))
    bars[np.isfinite(axes)] = state.bars
    return bool(compressed_depth(bars[None, None], t[None, None], [s], np.array([h]), axes[None])[0, 0] <= 1.0)


def bars_frame(
    zone: str, labels: NDArray[np.object_], u: Ultimate, given: Given, use: Used, settings: Settings,
    extra: dict[str, Sentence] | None = None, weights: Floats | None = None,
) -> pd.DataFrame:  # fmt: skip
    """One row a layer: bars, extra bars in words, area where most is used, what is required there, use, weight.

    A point that holds by limit analysis is not short. `weights` are the areas that points stand for, alike if left out.
    """
    out = []
    for i, (name, base) in enumerate(zip(settings.names, given.base, strict=True)):
        required = np.nan_to_num(u.a_s[:, i])
        if base is None and not required.any() and not given.area[:, i].any():
            continue
        ratio = np.nan_to_num(use.ratio[:, i], nan=-1.0, posinf=np.inf)
        over = ratio > 1.0 + 1e-9
        short = over & ~use.excused
        at = most_of(np.where(short, ratio, -1.0) if short.any() else ratio, required)
        status = str(Status.OK)
        if over.any():
            told = Status.SHORT.because(NO_MESH) if i in given.most else Status.SHORT
            status = told if short.any() else Status.EXCUSED
        lost = int((u.failing >= 0).sum())
        if lost:
            told = f"{lost} points fail and are not counted"
            status = f"{status}; {told}" if ": " in status else f"{status}: {told}"
        out.append(
            {
                "zone": zone, "layer": name, "bars [mm]": Sentence("{}", base) if base is not None else "none",
                EXTRA: (extra or {}).get(name, "none"),
                "provided [mm2/m]": given.area[at, i] * 1e3, "required [mm2/m]": required[at] * 1e3,
                "utilisation": ratio[at], "at point": str(labels[at]), "points insufficient": int(short.sum()),
                "mass [kg/m2]": 1e6 * STEEL_DENSITY * float(np.average(given.area[:, i], weights=weights)),
                "status": status,
            }
        )  # fmt: skip
    return pd.DataFrame(out)


def use_frame(
    zone: str, labels: NDArray[np.object_], use: Used, combinations: list[str], settings: Settings
) -> pd.DataFrame:
    """One row a point with a limit analysis, the most used first, of a membrane the twelve most used."""
    at = np.flatnonzero(np.isfinite(use.factor))
    at = at[np.argsort(use.factor[at], kind="stable")][:WORST]
    worst = np.nan_to_num(use.ratio[at], nan=0.0, posinf=np.inf)
    return pd.DataFrame(
        {
            "zone": np.full(len(at), zone, dtype=object), "point": labels[at],
            "required / provided": worst.max(1, initial=0.0),
            "layer": [settings.names[i] for i in worst.argmax(1)] if len(at) else [],
            "load factor": use.factor[at], "utilisation": use.utilisation[at],
            "combination": [combinations[k] for k in use.by[at]],
            "status": np.where(use.factor[at] >= 1.0, Status.OK, Status.EXCEEDED).astype(object),
        }
    )  # fmt: skip


def given_checks(
    zone: str, labels: NDArray[np.object_], u: Ultimate, given: Given, use: Used, combinations: list[str],
    settings: Settings,
) -> pd.DataFrame:  # fmt: skip
    """Rows for the table of checks, of given bars: every layer of a point that is short, else the most used one."""
    ratios = np.nan_to_num(use.ratio, nan=-1.0, posinf=np.inf)
    shown = ratios > 1.0 + 1e-9
    shown[np.arange(len(ratios)), ratios.argmax(1)] = True
    at, worst = np.nonzero(shown)
    ratio = np.where(u.failing[at] >= 0, np.nan, use.ratio[at, worst])
    over = np.where(use.excused[at], Status.EXCUSED, Status.EXCEEDED)
    status = np.where(ratio > 1.0 + 1e-9, over, Status.OK).astype(object)
    status[u.failing[at] >= 0] = POINT_FAILS
    return pd.DataFrame(
        {
            "zone": zone, "point": labels[at], "check": [BARS + settings.names[i] for i in worst], "clause": "",
            "demand": 1e3 * u.a_s[at, worst],
            "capacity": 1e3 * given.area[at, worst], "unit": "mm2/m", "utilisation": ratio,
            "combination": np.append(np.asarray(combinations, dtype=object), "")[u.governing[at, worst]],
            "status": status,
        }
    )  # fmt: skip
