"""The ultimate stage: bars of both faces for all combinations, checks, witness and lower bound of every row.

Takes point-major resultants and gives one record of arrays. Clauses come from the standard, mechanics from
the kernels; here is only their order.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, fields
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings
from sandwich.design.transverse import ShearCheck, check_shear
from sandwich.mechanics import certificate, threelayer
from sandwich.mechanics.superpose import blocks, superpose
from sandwich.standards.interface import Strengths

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
BLOCK: Final = 2048
TOLERANCE: Final = 1e-6  # of max(|N|, 1 N/mm): largest violation a certified row may have
MATTERS: Final = 0.05  # share of the bar force above which a neglected force is reported


@dataclass(frozen=True)
class Ultimate:
    """Results of p points; combinations are counted in the order they were given, -1 for none.

    Attributes
    ----------
    a_s, a_s_ultimate, a_s_minimum : ndarray, shape (p, 4)
        Required, by strength alone, and least area of each bar layer [mm2/mm]; nan where a point fails.
    governing : ndarray of int, shape (p, 4)
        Combination that asked for most steel.
    force : ndarray, shape (p, 4)
        Bar force it asked for [N/mm].
    status, failing : ndarray of int, shape (p,)
        Status code of `threelayer` and the first combination that failed.
    layers, layers_by : ndarray, shape (p,)
        Thickness of both layers over the section's, and the combination.
    depth, depth_by : ndarray, shape (p,)
        Compressed depth over the one at which bars still yield, and the combination.
    neglected, neglected_by : ndarray, shape (p,)
        Force the method leaves out over the bar force (of compression, half its share of the section's strength),
        and the combination.
    violation : ndarray, shape (p,)
        Largest violation of the witness over max(|N|, 1 N/mm).
    bound, total : ndarray, shape (p,)
        Lower bound of the area of any bars for the worst combination, and the area of the envelope, before
        minimum steel [mm2/mm].
    gap : ndarray, shape (p,)
        Largest distance of a single combination's steel from its own lower bound, over the heaviest one's.
    shear : ShearCheck
        Transverse shear without links.
    """

    a_s: Floats
    a_s_ultimate: Floats
    a_s_minimum: Floats
    governing: Ints
    force: Floats
    status: Ints
    failing: Ints
    layers: Floats
    layers_by: Ints
    depth: Floats
    depth_by: Ints
    neglected: Floats
    neglected_by: Ints
    violation: Floats
    bound: Floats
    total: Floats
    gap: Floats
    shear: ShearCheck

    @property
    def certified(self) -> NDArray[np.bool_]:
        """Points whose every combination has a witness."""
        return np.asarray((self.status == threelayer.OK) & (self.violation <= TOLERANCE))


@dataclass(frozen=True)
class Rows:
    """The designed rows of a block: p points times k combinations."""

    demand: Floats
    designed: Floats
    sections: Floats
    witness: certificate.Witness
    bound: Floats

    def violation(self, capacity: Floats, method: str) -> Floats:
        """Largest violation of each row over max(|n|, 1 N/mm) with bars of some capacity (r, 4) [N/mm]."""
        h, axes = self.sections[:, 0], self.sections[:, 1:5]
        found = certificate.violations(self.demand, h, axes, capacity, self.witness, moments=method != "membrane")
        scale = np.maximum(np.abs(self.demand[:, :3]).max(1), 1.0)
        return np.where(self.designed[:, 12] == threelayer.OK, found.largest / scale, np.inf)


def design_ultimate(
    cases: Floats,
    factors: Floats,
    situations: list[str],
    h: Floats,
    settings: Settings,
    *,
    workers: int = 0,
    block: int = BLOCK,
    progress: Callable[[int], None] | None = None,
) -> Ultimate:
    """Design all points for all combinations.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case in the bar directions [N, mm].
    factors : ndarray, shape (k, c)
        Factors of the combinations [-].
    situations : list of str, length k
        Situation of each combination.
    h : ndarray, shape (p,)
        Thickness [mm].
    settings : Settings
        Bars, materials, standard, method.
    workers : int
        Threads; 0 takes one a core. Results do not depend on it, nor on `block`.
    block : int
        Points designed at once, at most; fewer where there are many combinations.
    progress : callable, optional
        Called with the number of points after each block, from the calling thread.

    Returns
    -------
    Ultimate
        Arrays over the points.

    Raises
    ------
    ValueError
        If a bar axis lies outside a section.
    """
    axes = settings.bars.axes(h)
    strengths = {s: settings.standard.strengths(settings.concrete, settings.steel, s) for s in set(situations)}
    of = [strengths[s] for s in situations]

    def work(part: slice) -> Ultimate:
        return _block(superpose(cases[part], factors), of, situations, h[part], axes[part], settings)

    parts = []
    with ThreadPoolExecutor(workers or os.cpu_count() or 1) as pool:
        for part in pool.map(work, blocks(len(cases), len(factors), block)):
            parts.append(part)
            if progress is not None:
                progress(len(part.status))
    return _join(parts)


def _join(parts: list[Ultimate]) -> Ultimate:
    joined: dict[str, Any] = {}
    for field in fields(Ultimate):
        values = [getattr(p, field.name) for p in parts]
        if field.name == "shear":
            names = [f.name for f in fields(ShearCheck)]
            joined["shear"] = ShearCheck(**{n: np.concatenate([getattr(v, n) for v in values]) for n in names})
        else:
            joined[field.name] = np.concatenate(values)
    return Ultimate(**joined)


def design_combined(combined: Floats, strengths: list[Strengths], h: Floats, axes: Floats, settings: Settings) -> Rows:
    """Design p x k rows, the rows of `combined`, shape (p, k, 8), one after another."""
    p, k, _ = combined.shape
    loads = combined.reshape(p * k, 8)
    sections = np.empty((p, k, 7))
    sections[:, :, 0] = h[:, None]
    sections[:, :, 1:5] = axes[:, None]
    sections[:, :, 5] = [s.fc_cracked for s in strengths]
    sections[:, :, 6] = [s.fc_uncracked for s in strengths]
    sections = np.reshape(sections, (p * k, 7))
    designed = threelayer.design(loads, np.arange(p * k), sections, method=settings.method)
    demand = loads[:, :6].copy()
    if settings.method == "plate":
        demand[:, :3] = 0.0
    ok = designed[:, 12] == threelayer.OK
    safe = np.where(ok[:, None], designed, 0.0)
    bottom, top = threelayer.layer_tensors(demand, sections[:, 0], sections[:, 1:5], safe)
    if settings.method == "membrane":
        demand[:, 3:] = 0.0
        concrete = demand[:, :3].copy()
        concrete[:, :2] -= safe[:, :2] + safe[:, 2:4]
        bottom = top = concrete / 2
    witness = certificate.Witness(
        safe[:, :4], bottom, top, safe[:, 4], safe[:, 5], np.where(ok, safe[:, 10], 1.0), np.where(ok, safe[:, 11], 1.0)
    )
    bound = certificate.lower_bound(demand, sections[:, 0], sections[:, 1:5], safe[:, 4], safe[:, 5], safe[:, 6:10])
    return Rows(demand, designed, sections, witness, np.where(ok, bound, 0.0))


def _block(
    combined: Floats, strengths: list[Strengths], situations: list[str], h: Floats, axes: Floats, settings: Settings
) -> Ultimate:
    p, k, _ = combined.shape
    rows = design_combined(combined, strengths, h, axes, settings)
    designed = rows.designed.reshape(p, k, -1)
    status = designed[:, :, 12].astype(np.int64)
    failed = (status != threelayer.OK).any(1)
    failing = np.where(failed, (status != threelayer.OK).argmax(1), -1)
    f_yd = np.array([s.f_yd for s in strengths])
    force = designed[:, :, :4]
    membrane, moment = np.abs(combined[:, :, :3]).max((1, 2)), np.abs(combined[:, :, 3:6]).max((1, 2))
    tiny = 1e-8 * np.maximum(membrane, moment / h)  # what rounding leaves where no bar is needed
    area = np.where(force > tiny[:, None, None], force, 0.0) / f_yd[:, None]
    governing = area.argmax(1)
    ultimate = np.take_along_axis(area, governing[:, None], 1)[:, 0]
    governed = np.take_along_axis(force, governing[:, None], 1)[:, 0]
    depths = h[:, None] / 2 + np.abs(axes)
    least = settings.standard.minimum_steel(
        settings.minimum, settings.concrete, settings.steel, h, depths, ultimate, vertical=settings.vertical
    )
    required = np.maximum(ultimate, least)
    shear = check_shear(combined, situations, h, axes, np.where(failed[:, None], 0.0, required), settings)
    layers = (designed[:, :, 4] + designed[:, :, 5]) / h[:, None]
    depth = _compressed_depth(designed, strengths, h, axes)
    neglected = _neglected(combined, force.sum(2), h, strengths, settings.method)
    carried = (np.where(failed[:, None], 0.0, required)[:, None] * f_yd[:, None]).reshape(p * k, 4)
    violation = rows.violation(carried, settings.method).reshape(p, k)
    total = force.sum(2)
    gap = (total - rows.bound.reshape(p, k)) / np.maximum(total.max(1), 1e-3)[:, None]
    nan = np.where(failed, np.nan, 1.0)
    return Ultimate(
        a_s=required * nan[:, None],
        a_s_ultimate=ultimate * nan[:, None],
        a_s_minimum=least * nan[:, None],
        governing=np.where((ultimate > 0.0) & ~failed[:, None], governing, -1),
        force=governed * nan[:, None],
        status=np.where(failed, status[np.arange(p), failing], threelayer.OK),
        failing=failing,
        layers=layers.max(1) * nan,
        layers_by=layers.argmax(1),
        depth=depth.max(1) * nan,
        depth_by=depth.argmax(1),
        neglected=neglected.max(1) * nan,
        neglected_by=neglected.argmax(1),
        violation=violation.max(1),
        bound=(rows.bound.reshape(p, k) / f_yd).max(1) * nan,
        total=ultimate.sum(1) * nan,
        gap=np.where(failed, np.nan, gap.max(1)),
        shear=shear,
    )


def _compressed_depth(designed: Floats, strengths: list[Strengths], h: Floats, axes: Floats) -> Floats:
    """Neutral axis depth over the greatest at which pulling bars yield, for each point and combination."""
    block = np.array([s.block for s in strengths])
    limit = np.array([s.depth_limit for s in strengths])
    worst = np.zeros(designed.shape[:2])
    for i in range(4):
        far = designed[:, :, 5] if i < 2 else designed[:, :, 4]
        d = h / 2 + (axes[:, i] if i < 2 else -axes[:, i])
        pulls = designed[:, :, i] > 1e-6 * designed[:, :, :4].max(2)
        ratio = far / block / np.where(np.isfinite(d), d, np.inf)[:, None] / limit
        worst = np.maximum(worst, np.where(pulls, ratio, 0.0))
    return worst


def _neglected(combined: Floats, total: Floats, h: Floats, strengths: list[Strengths], method: str) -> Floats:
    """Force that the method leaves out over the bar force; of compression half its share of the section's strength."""
    if method == "sandwich":
        return np.zeros(total.shape)
    start = 0 if method == "plate" else 3
    a, b, c = (combined[:, :, start + i] for i in range(3))
    mean, radius = (a + b) / 2, np.hypot((a - b) / 2, c)
    if method == "membrane":
        left_out = (np.abs(mean) + radius) / (0.8 * h[:, None])
        return np.asarray(left_out / np.maximum(np.maximum(total, left_out), 1.0))
    pull, push = np.maximum(mean + radius, 0.0), np.maximum(radius - mean, 0.0)
    whole = h[:, None] * np.array([s.fc_uncracked for s in strengths])
    return np.asarray(np.maximum(pull / np.maximum(np.maximum(total, pull), 1.0), 0.5 * push / whole))
