"""The summary of a run: what is certified, what fails, where most steel is. Read from the frames."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.status import Status, is_status
from sandwich.design.record import TOLERANCE, Ultimate
from sandwich.design.results import LAYER, REASON, REQUIRED

PARTS: Final = {"plate": "the moments alone", "membrane": "the membrane forces alone"}


@dataclass(frozen=True)
class Certificate:
    """What the witnesses and bounds of all points add up to.

    Attributes
    ----------
    points, certified, failed, uncertified : int
        Counts; failed points have no steel and a reason, uncertified ones have steel and no witness.
    violation : float
        Largest violation of a certified point, of max(|n|, |m|/h, 1 N/mm).
    gap_median, gap_95 : float
        Steel of the envelope over the lower bound of the worst combination, minus 1.
    single_median, single_worst : float
        Largest distance of a single combination from its own lower bound, over the points.
    partial : tuple of str
        Zones whose method looks at a part of the resultants, and which.
    averages : tuple of str
        Zones with averaged peaks, and how many points.
    joint : tuple of str
        Zones designed for all combinations together, with saving and distance from the minimum.
    any_layers : int
        Points whose lower bound holds for any number of layers.
    even : int
        Points designed with bars of equal weight, since layers do not fit with those asked for.
    """

    points: int
    certified: int
    failed: int
    uncertified: int
    violation: float
    gap_median: float
    gap_95: float
    single_median: float
    single_worst: float
    partial: tuple[str, ...] = ()
    averages: tuple[str, ...] = ()
    joint: tuple[str, ...] = ()
    any_layers: int = 0
    even: int = 0


def certificate_of(
    parts: list[Ultimate],
    methods: Mapping[str, str] | None = None,
    averages: dict[str, tuple[int, int]] | None = None,
    joint: dict[str, Ultimate] | None = None,
) -> Certificate:
    """Certificate of all zones; methods, averaged points of all points and joint designs come by the zone's name."""
    certified = np.concatenate([u.certified for u in parts])
    failed = np.concatenate([u.failing >= 0 for u in parts])
    violation = np.concatenate([u.violation for u in parts])[certified]
    total = np.concatenate([u.total for u in parts])
    bound = np.concatenate([u.bound for u in parts])
    single = np.concatenate([u.gap for u in parts])
    steel = certified & (bound > 0.05 * np.nanmax(np.append(bound, 0.0)))
    over = (total / np.where(bound > 0.0, bound, 1.0) - 1.0)[steel]
    own = single[steel]
    return Certificate(
        points=len(certified),
        certified=int(certified.sum()),
        failed=int(failed.sum()),
        uncertified=int((~certified & ~failed).sum()),
        violation=float(violation.max(initial=0.0)),
        gap_median=float(np.median(over)) if len(over) else 0.0,
        gap_95=float(np.quantile(over, 0.95)) if len(over) else 0.0,
        single_median=float(np.median(own)) if len(own) else 0.0,
        single_worst=float(own.max(initial=0.0)),
        partial=tuple(f"{name}: {PARTS[m]}" for name, m in (methods or {}).items() if m in PARTS),
        averages=tuple(f"{name}: {count} of {points}" for name, (count, points) in (averages or {}).items() if count),
        any_layers=int(sum(u.any_layers.sum() for u in parts)),
        even=int(sum(u.even.sum() for u in parts)),
        joint=tuple(_saving(name, u) for name, u in (joint or {}).items()),
    )


def _saving(zone: str, u: Ultimate) -> str:
    """What a joint design saves against the envelope, and how near it is to its bound."""
    good = u.certified & (u.a_s_envelope.sum(1) > 0.0)
    envelope, steel = u.a_s_envelope[good].sum(1), u.a_s_ultimate[good].sum(1)
    if not good.any():
        return f"{zone}: no steel"
    most = _percent(float((1.0 - steel / envelope).max()))
    saved = f"{zone} {_percent(1.0 - float(steel.sum() / envelope.sum()))} (at one point {most})"
    known = good & (u.bound > 0.0)  # bars averaged over strips have none
    if not known.any():
        return saved
    near = _percent(float(np.quantile(u.total[known] / u.bound[known] - 1.0, 0.95)))
    return f"{saved}, 95 % of its points within {near} of the minimum"


def certificate_lines(c: Certificate) -> list[str]:
    """The certificate in words."""
    proof = f"largest violation {c.violation:.1e} of max(|n|, |m|/h, 1 N/mm), limit {TOLERANCE:.0e}"
    field = "a stress field in equilibrium within the strengths"
    failed = f"{c.failed} {'point fails' if c.failed == 1 else 'points fail'}"
    single = f"median {_percent(c.single_median)}, worst {_percent(c.single_worst)}"
    together = f"median {_percent(c.gap_median)}, 95 % of the points within {_percent(c.gap_95)}"
    of = "the heaviest one, or of all together" if c.joint else "the heaviest one"
    every = "any stress field of these strengths, in any number of layers"
    here = f"{every} at {c.any_layers} points, at the others for fields in layers of the thicknesses found"
    bound = (
        every if c.any_layers == c.points - c.failed else here if c.any_layers else "layers of the thicknesses found"
    )
    lines = [
        f"{c.certified} of {c.points} points certified for every combination: {field}; {proof}",
        f"{failed}, without steel; points with steel and without a stress field: {c.uncertified}",
        f"Steel of each combination by itself: {single} above its lower bound",
        f"Steel of all combinations: {together} above the lower bound of {of}",
        f"The lower bound holds for {bound}",
    ]
    if c.joint:
        lines.append(f"Steel for all combinations together saves against their envelope: {'; '.join(c.joint)}")
    if c.even:
        lines.append(f"Bars of equal weight, since layers do not fit with the weights asked for: {c.even} points")
    if c.partial:
        lines.append(f"Certified is a part of the resultants in {', '.join(c.partial)}")
    if c.averages:
        of = ", ".join(c.averages)
        lines.append(f"Certified is the average over a width, not the raw peak, at these points: {of}")
    return lines


def _percent(value: float) -> str:
    return "less than 0.001 %" if 100 * value < 1e-3 else f"{100 * value:.2g} %"


def peaks(steel: pd.DataFrame) -> pd.DataFrame:
    """Most steel of each zone and layer, with its point and the combination or other reason that governs."""
    found = steel.dropna(subset=[REQUIRED])
    at = found.groupby(["zone", LAYER], sort=False)[REQUIRED].idxmax()
    out = found.loc[at, ["zone", LAYER, REQUIRED, "point", "combination", REASON]].reset_index(drop=True)
    reason = out[REASON].replace("none", "none needed")
    return out.assign(combination=out["combination"].where(reason == "strength", reason)).drop(columns=REASON)


def failures(steel: pd.DataFrame) -> pd.DataFrame:
    """Points that fail by zone and reason, most first."""
    bad = steel[steel["status"] != Status.OK].drop_duplicates(["zone", "point"])
    reason = bad["status"].str.replace(r" \([^()]*\)$", "", regex=True)
    counted = bad.groupby(["zone", reason], sort=False).agg(points=("point", "size"), first=("point", "first"))
    return counted.reset_index().sort_values("points", ascending=False, ignore_index=True)


def exceeded(checks: pd.DataFrame) -> pd.DataFrame:
    """Checks that are exceeded by zone, with count, worst utilisation and its point."""
    over = checks[is_status(checks["status"], Status.EXCEEDED)].sort_values(
        "utilisation", ascending=False, kind="stable"
    )
    grouped = over.groupby(["zone", "check", "clause"], sort=False)
    return grouped.agg(points=("point", "size"), worst=("utilisation", "first"), point=("point", "first")).reset_index()


def worst_checks(checks: pd.DataFrame) -> pd.DataFrame:
    """The worst row of each zone and check, with how many points are exceeded."""
    over = checks[is_status(checks["status"], Status.EXCEEDED)].groupby(["zone", "check"], sort=False).size()
    lost = checks[is_status(checks["status"], Status.NOT_CHECKED)].groupby(["zone", "check"], sort=False).size()
    worst = checks.sort_values("utilisation", ascending=False, kind="stable").drop_duplicates(["zone", "check"])
    keys = list(zip(worst["zone"], worst["check"], strict=True))
    counts = {
        "points exceeded": [int(over.get(k, 0)) for k in keys],
        "points not checked": [int(lost.get(k, 0)) for k in keys],
    }
    return worst.assign(**counts).reset_index(drop=True)


def added_by_layer(steel: pd.DataFrame) -> pd.DataFrame:
    """Steel that is added for service by zone and layer: points, the most, where."""
    first = steel.drop_duplicates(["zone", LAYER]).set_index(["zone", LAYER])
    counts = steel.groupby(["zone", LAYER], sort=False).agg(
        points=("point", "size"), short=("status", lambda s: int((s != Status.OK).sum()))
    )
    return counts.join(first[["added [mm2/m]", "before [mm2/m]", "point"]]).reset_index()
