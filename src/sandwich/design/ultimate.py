"""The ultimate stage: bars of both faces for all combinations, checks, witness and lower bound of every row.

Takes point-major resultants and gives one record of arrays. Clauses come from the standard, mechanics from
the kernels; here is only their order.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sandwich.design.averaging import AveragingStrips, averaged
from sandwich.design.compression import with_compression
from sandwich.design.fields import stress_fields
from sandwich.design.minimum import PULLS, minimum_steel
from sandwich.design.record import Ultimate, joined, picked
from sandwich.design.rows import Fields, compressed_depth
from sandwich.design.settings import Settings
from sandwich.design.transverse import check_shear, raise_bars, shear_rows
from sandwich.mechanics import threelayer
from sandwich.mechanics.core import thrust
from sandwich.mechanics.superpose import blocks, superpose
from sandwich.standards.interface import ShearDemand, Strengths

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
BLOCK: Final = 2048  # points designed at once, at most
FEW: Final = 64  # and at least, however many threads there are


def design_ultimate(
    cases: Floats,
    factors: Floats,
    situations: list[str],
    h: Floats,
    settings: Settings,
    *,
    support: Ints | None = None,
    strips: AveragingStrips | None = None,
    turn: Floats | None = None,
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
    support : ndarray of int, shape (p,), optional
        1 within an effective depth of a support, 2 inside one: transverse shear is not designed for there.
    strips : AveragingStrips, optional
        Cells over which bars are averaged.
    turn : ndarray, shape (p,), optional
        Angle from the bars of the zone to those of the top face, where these run in a field of their own [rad].
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
    if turn is not None and turn.any():
        parts, order = [], []
        for angle in np.unique(turn):
            at = np.flatnonzero(turn == angle)
            near = None if support is None else support[at]
            parts.append(
                design_ultimate(
                    cases[at], factors, situations, h[at], settings.turned(float(angle)), support=near, workers=workers,
                    block=block, progress=progress,
                )
            )  # fmt: skip
            order.append(at)
        return picked(joined(parts), np.argsort(np.concatenate(order)))
    axes = settings.bars.axes(h)
    strengths = {s: settings.standard.strengths(settings.concrete, settings.steel, s) for s in set(situations)}
    of = [strengths[s] for s in situations]

    at = np.zeros(len(cases), dtype=np.int64) if support is None else support

    def work(part: slice) -> Ultimate:
        combined = superpose(cases[part], factors)
        combined[~np.isfinite(combined).all(2)] = np.nan  # one component that is missing leaves nothing to design
        return _block(combined, of, situations, h[part], axes[part], settings, at[part])

    threads = workers or os.cpu_count() or 1
    parts, slices = [], list(blocks(len(cases), len(factors), min(block, max(-(-len(cases) // threads), FEW))))
    with ThreadPoolExecutor(threads) as pool:
        for part in pool.map(work, slices) if len(slices) > 1 else map(work, slices):
            parts.append(part)
            if progress is not None:
                progress(len(part.status))
    whole = joined(parts)
    if settings.compression and (whole.status == threelayer.LAYERS_DO_NOT_FIT).any():
        whole = with_compression(whole, cases, factors, situations, h, settings, at)
    if strips is not None:
        whole = averaged(whole, cases, factors, situations, h=h, settings=settings, support=at, strips=strips)
    return whole


def _block(
    combined: Floats,
    strengths: list[Strengths],
    situations: list[str],
    h: Floats,
    axes: Floats,
    settings: Settings,
    support: Ints,
) -> Ultimate:
    p, k, _ = combined.shape
    b = axes.shape[1]
    cracking = cracking_of(combined, h, settings)
    found, pushed, need, raised = fields_and_links(combined, strengths, situations, h, axes, settings, support)
    rows = found.rows
    saved = (cracking <= 0.0) & (settings.uncracked == "exempt")
    ultimate = np.where(saved[:, None], 0.0, found.area)
    status = rows.status.reshape(p, k)
    failed = (status != threelayer.OK).any(1)
    failing = np.where(failed, (status != threelayer.OK).argmax(1), -1)
    f_yd = rows.f_yd.reshape(p, k)
    force = rows.witness.bars.reshape(p, k, b)
    area = force / f_yd[:, :, None]
    governing = area.argmax(1)
    governed = np.take_along_axis(force, governing[:, None], 1)[:, 0]
    depths = h[:, None] / 2 + np.abs(axes)
    least = minimum_steel(ultimate, h, depths, settings)
    required = np.maximum(ultimate, least) * raised
    held = np.where(failed[:, None], 0.0, required)
    checked = check_shear(
        shear_rows(combined, situations, h, axes, held, settings, support), need, raised.max(1), situations, settings
    )
    t = np.stack([rows.witness.t_bottom, rows.witness.t_top], axis=-1).reshape(p, k, 2)
    layers = t.sum(2) / h[:, None]
    depth = compressed_depth(force, t, strengths, h, axes)
    neglected = _neglected(pushed, force.sum(2), h, strengths, settings.method)
    carried = (held[:, None] * f_yd[:, :, None]).reshape(p * k, b)
    violation = rows.violation(carried, settings.method).reshape(p, k)
    violation[saved & ~failed] = 0.0  # uncracked in every combination, and the zone asks for no bars by strength then
    nan = np.where(failed, np.nan, 1.0)
    turned = rows.turned.reshape(p, k)
    axial, axial_limit, axial_by = axial_compression(combined, strengths, h, settings)
    return Ultimate(
        a_s=required * nan[:, None],
        a_s_ultimate=ultimate * nan[:, None],
        a_s_minimum=least * nan[:, None],
        a_s_envelope=found.envelope * nan[:, None],
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
        bound=np.where(saved, 0.0, found.bound) * nan,
        total=ultimate @ settings.bars.weights * nan,
        gap=np.where(failed, np.nan, found.gap),
        cracking=cracking,
        turned=turned.max(1) * nan,
        turned_by=turned.argmax(1),
        pressed=np.zeros((p, b)),
        cells=np.full((p, b), -1),
        tributary=np.zeros(p),
        axial=axial,
        axial_limit=axial_limit,
        axial_by=axial_by,
        any_layers=found.any_layers & ~failed & (status == threelayer.OK).all(1),
        even=np.asarray(rows.even.reshape(p, k).any(axis=1)),
        turn=np.full(p, settings.bars.top_turn),
        shear=checked,
    )


class Loaded(NamedTuple):
    """Stress fields with the thrust of struts, the resultants they carry (p, k, 8), rows with links, factors on bars.

    `need` (p, k) says where links are needed, `raised` (p, b) by how much bars in tension are raised to avoid them.
    """

    fields: Fields
    pushed: Floats
    need: NDArray[np.bool_]
    raised: Floats


def fields_and_links(
    combined: Floats,
    strengths: list[Strengths],
    situations: list[str],
    h: Floats,
    axes: Floats,
    settings: Settings,
    support: Ints | None = None,
) -> Loaded:
    """Stress fields of all combinations, with the thrust of the struts where links are needed."""
    found = stress_fields(combined, strengths, h, axes, settings)
    p, k, _ = combined.shape
    if settings.links is None:
        return Loaded(found, combined, np.zeros((p, k), dtype=bool), np.ones(axes.shape))
    good = np.asarray(found.rows.ok.reshape(p, k).all(1))
    depths = h[:, None] / 2 + np.abs(axes)
    held = np.where(good[:, None], np.maximum(found.area, minimum_steel(found.area, h, depths, settings)), 0.0)
    raised = raise_bars(combined, situations, h, axes, held, settings, support)
    shear = shear_rows(combined, situations, h, axes, held * raised, settings, support)
    good &= h >= settings.standard.links_thickness
    need = np.asarray((shear.use > 1.0) & good[:, None])
    if not need.any():
        return Loaded(found, combined, need, raised)
    forces = shear.v_Ed, shear.d, shear.capacity
    cot = settings.standard.links(
        ShearDemand(settings.concrete, settings.steel, situations[0], *forces, settings.links.cot_theta)
    ).cot_theta
    push = thrust(combined[:, :, 6], combined[:, :, 7], cot)
    while True:
        pushed = combined.copy()
        pushed[:, :, :3] += np.where(need[..., None], push, 0.0)
        found = stress_fields(pushed, strengths, h, axes, settings)
        # other bars may leave a combination short that needed no links before
        held = np.maximum(found.area, minimum_steel(found.area, h, depths, settings)) * raised
        rows = shear_rows(combined, situations, h, axes, held, settings, support)
        more = (rows.use > 1.0) & good[:, None] & ~need
        if not more.any():
            return Loaded(found, pushed, need, raised)
        need = need | more


def cracking_of(combined: Floats, h: Floats, settings: Settings) -> Floats:
    """Largest criterion of cracking at both faces and at mid-depth of the elastic section, shape (p,)."""
    worst = np.full(len(combined), -np.inf)
    for place in (-1.0, 0.0, 1.0):
        s = combined[..., :3] / h[:, None, None] + place * 6.0 * combined[..., 3:6] / h[:, None, None] ** 2
        mean, radius = (s[..., 0] + s[..., 1]) / 2, np.hypot((s[..., 0] - s[..., 1]) / 2, s[..., 2])
        found = settings.standard.cracking(settings.concrete, mean + radius, mean - radius)
        worst = np.maximum(worst, np.nan_to_num(found, nan=np.inf).max(1))
    return worst


def axial_compression(
    combined: Floats, strengths: list[Strengths], h: Floats, settings: Settings
) -> tuple[Floats, Floats, Ints]:
    """Principal compression, what carries it and the combination where that is nearest, each (p,)."""
    n = combined[..., :3]
    mean, radius = (n[..., 0] + n[..., 1]) / 2, np.hypot((n[..., 0] - n[..., 1]) / 2, n[..., 2])
    across = mean + radius > PULLS * np.maximum(radius - mean, 1.0)
    cracked, whole = (np.array([getattr(s, f) for s in strengths]) for f in ("fc_cracked", "fc_uncracked"))
    fc = np.where(across, np.minimum(cracked, whole), whole)
    carried = settings.standard.axial_resistance(fc, h[:, None])
    pressed = np.maximum(radius - mean, 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        by = np.nan_to_num(np.where(pressed > 0.0, pressed / carried, 0.0), nan=-1.0).argmax(1)
    at = np.arange(len(h))
    return pressed[at, by], carried[at, by], by


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
