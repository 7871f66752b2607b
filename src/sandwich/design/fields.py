"""Stress fields of all combinations: the designer that suits the bars, with witness and lower bound of every row."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.pressed import in_many_layers
from sandwich.design.rows import Fields, Rows, fields_of, strained, witness_of
from sandwich.design.settings import Settings
from sandwich.mechanics import certificate, settle, threelayer
from sandwich.mechanics.anydirection import optimum_forces
from sandwich.mechanics.joint import joint_design
from sandwich.standards.interface import Strengths

Floats = NDArray[np.float64]
# bar forces, thicknesses, strengths, dual strains, status of rows, and which have bars of equal weight
Designed = tuple[Floats, Floats, Floats, Floats, NDArray[np.int64], NDArray[np.bool_]]
_TURNS: Final = 4
_ROUNDS: Final = 4  # joint designs of a point whose combinations lose the strain of their strengths


def design_combined(combined: Floats, strengths: list[Strengths], h: Floats, axes: Floats, settings: Settings) -> Rows:
    """Design p x k rows, the rows of `combined`, shape (p, k, 8), one after another.

    Where a standard reduces strengths by the strain of the bars, rows that miss its limit, or in which no bar
    pulls, are designed again with the lower ones.
    """
    p, k, _ = combined.shape
    demand = combined.reshape(p * k, 8)[:, :6].copy()
    if settings.method == "plate":
        demand[:, :3] = 0.0
    if settings.method == "membrane":
        demand[:, 3:] = 0.0
    demand[~np.isfinite(combined.reshape(p * k, 8)).all(1)] = np.nan
    depth, bars = np.repeat(h, k), np.repeat(axes, k, axis=0)
    cracked, bending, whole, f_yd, low = (
        np.tile([getattr(s, name) for s in strengths], p)
        for name in ("fc_cracked", "fc_bending", "fc_uncracked", "f_yd", "f_yd_deep")
    )
    out = _designed(demand, depth, bars, cracked, np.maximum(bending, cracked), settings)
    again = np.zeros(p * k, dtype=bool)
    if any(s.by_strain for s in strengths):
        force, t = out[0].reshape(p, k, -1), out[1].reshape(p, k, 2)
        again = ~strained(demand.reshape(p, k, 6), force, t, strengths, h, axes).ravel() & np.isfinite(demand.sum(1))
        second = _designed(
            demand[again], depth[again], bars[again], np.minimum(cracked, whole)[again], whole[again], settings
        )
        for first, new in zip(out, second, strict=True):
            first[again] = new
        f_yd = np.where(again, low, f_yd)
    angles = settings.bars.angles
    use = np.zeros(p * k)
    if any(s.per_degree for s in strengths):
        use = _by_angle(
            demand,
            depth,
            bars,
            cracked,
            whole=np.maximum(bending, cracked),
            out=out,
            strengths=strengths,
            settings=settings,
        )
    forces, t, fc, strains, status, even = out
    if settings.method == "membrane":
        half = (demand[:, :3] - forces @ certificate.dyads(angles)) / 2
        witness = certificate.Witness(forces, half, half, t[:, 0], t[:, 1], fc[:, 0], fc[:, 1])
    else:
        witness = witness_of(demand, depth, bars, angles, forces, t, fc)
    bound = certificate.lower_bound(
        demand[:, None], depth, bars, angles, t[:, None], strains[:, None], weights=settings.bars.weights
    )
    held = np.where(status == threelayer.OK, bound, 0.0)
    nowhere = np.zeros(p * k, dtype=bool)
    return Rows(
        demand=demand,
        h=depth,
        axes=bars,
        angles=angles,
        status=status,
        strains=strains,
        witness=witness,
        bound=held,
        any_layers=nowhere,
        f_yd=f_yd,
        turned=use,
        deep=again,
        even=even,
    )


def _by_angle(
    demand: Floats, h: Floats, axes: Floats, cracked: Floats, *, whole: Floats,
    out: Designed, strengths: list[Strengths], settings: Settings,
) -> Floats:  # fmt: skip
    """Design rows again until cracked layers have no more strength than the angle of their compression allows.

    Changes `out`, the rows as they were designed. Gives how far the angles use what is allowed [-].
    """
    slope, most = (
        np.tile([getattr(s, name) for s in strengths], len(demand) // len(strengths))
        for name in ("per_degree", "max_turn")
    )
    strength = cracked.copy()
    for last in (False,) * _TURNS + (True,):
        angle = _turned(demand, h, axes, out, strength, settings)
        allowed = cracked * (1.0 - slope * np.minimum(angle, most))
        low = strength > allowed * (1.0 + 1e-9)
        if last or not low.any():
            break
        strength = np.where(low, allowed, strength)
        again = _designed(demand[low], h[low], axes[low], strength[low], whole[low], settings)
        for first, new in zip(out, again, strict=True):
            first[low] = new
    return np.asarray(np.maximum(angle / most, np.where(angle > 0.0, strength / allowed, 0.0)))


def _turned(
    demand: Floats, h: Floats, axes: Floats, out: Designed,
    cracked: Floats, settings: Settings,
) -> Floats:  # fmt: skip
    """Largest angle between compression in a cracked layer and in the elastic shell [deg]."""
    forces, t, fc, _, status, _ = out
    layers = threelayer.layer_tensors(demand, h, axes, settings.bars.angles, forces, t)
    worst = np.zeros(len(demand))
    for layer, sign, strength in zip(layers, (1.0, -1.0), fc.T, strict=True):
        elastic = demand[:, :3] / h[:, None] + sign * 6.0 * demand[:, 3:] / h[:, None] ** 2
        way = [np.arctan2(2.0 * s[:, 2], s[:, 0] - s[:, 1]) / 2.0 for s in (layer, elastic)]
        angle = np.degrees(np.arccos(np.clip(np.abs(np.cos(way[0] - way[1])), 0.0, 1.0)))
        pressed = np.abs(layer).max(1) > 1e-6 * np.maximum(np.abs(demand[:, :3]).max(1), 1.0)
        counts = pressed & (strength <= cracked * (1.0 + 1e-9)) & (status == threelayer.OK)
        worst = np.where(counts, np.maximum(worst, angle), worst)
    return worst


def _designed(demand: Floats, h: Floats, axes: Floats, cracked: Floats, whole: Floats, settings: Settings) -> Designed:
    """Rows by the designer that suits the bars."""
    forces, even = np.zeros(axes.shape), np.zeros(len(demand), dtype=bool)
    if settings.bars.closed_form:
        out = threelayer.design(
            demand, np.arange(len(demand)), np.column_stack([h, axes, cracked, whole]), method=settings.method
        )
        status = out[:, 12].astype(np.int64)
        out = np.where((status == threelayer.OK)[:, None], out, 0.0)
        forces, t, fc = out[:, :4], out[:, 4:6], out[:, 10:12]
        strains = threelayer.strain_tensors(demand, h, out)
    else:
        there = np.isfinite(axes).all(0)
        found = settle.design(
            demand, h, axes[:, there], settings.bars.angles[there], cracked, whole,
            weights=settings.bars.weights[there], method=settings.method,
        )  # fmt: skip
        status, t, fc, strains = found.status, found.t, found.fc, found.prices
        forces[:, there] = found.forces
        # weights that pull the layers apart: the minimum steel without them is a design all the same
        lost = np.flatnonzero(np.isin(status, (threelayer.LAYERS_DO_NOT_FIT, threelayer.NOT_CONVERGED)))
        if len(lost) and np.ptp(settings.bars.weights[there]) > 0.0:
            plain = settle.design(
                demand[lost], h[lost], axes[lost][:, there], settings.bars.angles[there], cracked[lost], whole[lost],
                method=settings.method,
            )  # fmt: skip
            good = plain.status == threelayer.OK
            at = lost[good]
            status[at], t[at], fc[at], strains[at] = threelayer.OK, plain.t[good], plain.fc[good], plain.prices[good]
            forces[np.ix_(at, there)] = plain.forces[good]
            even[at] = True
    fc = np.where((status == threelayer.OK)[:, None], fc, 1.0)
    return forces.copy(), t.copy(), fc, strains, status, even


def stress_fields(combined: Floats, strengths: list[Strengths], h: Floats, axes: Floats, settings: Settings) -> Fields:
    """Fields of each combination by itself, and of all together where the zone asks for that."""
    p, k, _ = combined.shape
    rows = design_combined(combined, strengths, h, axes, settings)
    single = fields_of(rows, p, settings.bars.weights)
    layered = in_many_layers(single, strengths, settings) if settings.method == "sandwich" else single
    if not settings.joint or k == 1:
        return layered
    if settings.method == "membrane":
        return _together_in_plane(single, strengths, h, settings)
    return _cheaper(_together(single, strengths, h, settings), layered, settings)


def _cheaper(joint: Fields, single: Fields, settings: Settings) -> Fields:
    """The joint design, and single ones where their envelope needs less steel since they have many layers."""
    p = len(joint.area)
    k = len(joint.rows.h) // p
    total = single.area @ settings.bars.weights
    failing = ~joint.rows.ok.reshape(p, k).all(1)
    less = failing | (total < joint.area @ settings.bars.weights * (1.0 - 1e-9))
    less &= single.rows.ok.reshape(p, k).all(1)
    return replace(
        joint, rows=joint.rows.mixed(single.rows, np.repeat(less, k)),
        area=np.where(less[:, None], single.area, joint.area), envelope=single.envelope,
        bound=np.where(less, single.bound, joint.bound), gap=single.gap, any_layers=less & single.any_layers,
    )  # fmt: skip


def _together(single: Fields, strengths: list[Strengths], h: Floats, settings: Settings) -> Fields:
    """Minimum steel for all combinations together, at the points where every one has a field.

    The strain that some strengths ask for is that of the joint fields: combinations that lose it there are taken with
    the lower strengths and the point is designed again; where that saves nothing, the envelope stays.
    """
    k, (p, b) = len(strengths), single.envelope.shape
    rows, w, weights = single.rows, single.rows.witness, settings.bars.weights
    f_yd, deep = rows.f_yd.reshape(p, k).copy(), rows.deep.reshape(p, k).copy()
    there = np.isfinite(rows.axes).all(0)
    columns = np.append(there, [True] * 4)
    whole = np.column_stack([w.bars, w.t_bottom, w.t_top, w.fc_bottom, w.fc_top]).reshape(p, k, b + 4)
    demand, axes = rows.demand.reshape(p, k, 6), rows.axes[::k]
    cracked = np.array([s.fc_cracked for s in strengths])
    fields, area, bound = whole.copy(), single.area.copy(), single.bound.copy()
    strength, by_strain = f_yd.copy(), any(s.by_strain for s in strengths)
    todo = np.flatnonzero(rows.ok.reshape(p, k).all(1))
    for turn in range(_ROUNDS):
        if not len(todo):
            break
        options = {"strength": f_yd[todo] / f_yd[todo, :1], "weights": weights[there]}
        within = demand[todo], h[todo], axes[todo][:, there], rows.angles[there]
        joint = joint_design(*within, cracked, whole[todo][:, :, columns], **options)
        low = certificate.lower_bound(*within, joint.priced_t, joint.prices, **options) / f_yd[todo, 0]
        found = whole[todo].copy()
        found[:, :, columns] = joint.fields
        new = np.zeros((len(todo), b))
        new[:, there] = joint.forces / f_yd[todo, :1]
        bad = np.zeros((len(todo), k), dtype=bool)
        if by_strain:
            own = found[:, :, :b], found[:, :, b : b + 2]
            bad = ~(strained(demand[todo], *own, strengths, h[todo], axes[todo]) | deep[todo])
        lost = (joint.rounds > 0) & bad.any(1)
        better = ~lost & ((turn == 0) | (new @ weights < area[todo] @ weights * (1.0 - 1e-9)))
        at = todo[better]
        fields[at], area[at], strength[at] = found[better], new[better], f_yd[at]
        # a joint design has layers of its own: the bounds of single designs hold at theirs, which the envelope keeps
        bound[at] = np.where(joint.rounds > 0, low, np.maximum(bound[todo], low))[better]
        good = _lowered(whole, f_yd, deep, todo[lost], bad=bad[lost], strengths=strengths, rows=rows, settings=settings)
        todo = todo[lost][good]
    flat = fields.reshape(p * k, b + 4)
    witness = witness_of(rows.demand, rows.h, rows.axes, rows.angles, flat[:, :b], flat[:, b : b + 2], flat[:, b + 2 :])
    return replace(
        single, rows=replace(rows, witness=witness, f_yd=strength.ravel()), area=area, bound=bound
    )  # fmt: skip


def _lowered(
    whole: Floats, f_yd: Floats, deep: NDArray[np.bool_], points: NDArray[np.int64], *, bad: NDArray[np.bool_],
    strengths: list[Strengths], rows: Rows, settings: Settings,
) -> NDArray[np.bool_]:  # fmt: skip
    """Design rows (point, combination) marked `bad` again with the lower strengths; which points have all fields.

    Changes `whole`, `f_yd` and `deep`.
    """
    point, k = np.nonzero(bad)
    at = points[point]
    if not len(at):
        return np.ones(len(points), dtype=bool)
    row, count = at * len(strengths) + k, whole.shape[2] - 4
    cracked, full, low = (
        np.array([getattr(s, n) for s in strengths])[k] for n in ("fc_cracked", "fc_uncracked", "f_yd_deep")
    )
    forces, t, fc, _, status, _ = _designed(
        rows.demand[row], rows.h[row], rows.axes[row], np.minimum(cracked, full), full, settings
    )  # fmt: skip
    whole[at, k, :count], whole[at, k, count : count + 2], whole[at, k, count + 2 :] = forces, t, fc
    f_yd[at, k], deep[at, k] = low, True
    good = np.ones(len(points), dtype=bool)
    good[point[status != threelayer.OK]] = False
    return good


def _together_in_plane(single: Fields, strengths: list[Strengths], h: Floats, settings: Settings) -> Fields:
    """Minimum steel of the membrane forces of all combinations together, at the points where every one has a field.

    Each combination uses the part of the bars with which its concrete is just free of tension; where that would crush,
    or would lose the strain its strengths ask for, the envelope stays.
    """
    p, b = single.envelope.shape
    rows, w = single.rows, single.rows.witness
    k = len(rows.h) // p
    f_yd, demand = rows.f_yd.reshape(p, k), rows.demand.reshape(p, k, 6)
    good = np.flatnonzero((rows.ok & ~rows.deep).reshape(p, k).all(axis=1))
    there, axes = np.asarray(np.isfinite(rows.axes).all(axis=0)), rows.axes[::k]
    ratio = f_yd[good] / f_yd[good, :1]
    directions = np.array([0.0, np.pi / 2]) if settings.bars.closed_form else rows.angles[there]
    weights = np.ones(2) if settings.bars.closed_form else settings.bars.weights[there]
    found = optimum_forces(demand[good][..., :3] / ratio[..., None], directions, weights=weights)
    F = np.zeros((len(good), b))
    if settings.bars.closed_form:  # bars of a direction share their force so that they leave no moment
        e = axes[good]
        with np.errstate(invalid="ignore"):
            low = np.where(there[2:], np.where(there[:2], e[:, 2:] / (e[:, 2:] - e[:, :2]), 0.0), 1.0)
        F[:, :2], F[:, 2:] = found.forces * low, found.forces * (1.0 - low)
    else:
        F[:, there] = found.forces
    F *= 1.0 + 1e-9
    tensor = F @ certificate.dyads(rows.angles)
    n, whole = demand[good][..., :3], tensor[:, None] * ratio[..., None]
    low_part, part = np.zeros(ratio.shape), np.ones(ratio.shape)
    for _ in range(40):
        middle = (low_part + part) / 2.0
        free = _greatest(n - middle[..., None] * whole) <= 0.0
        low_part, part = np.where(free, low_part, middle), np.where(free, middle, part)
    concrete = n - part[..., None] * whole
    forces = (part * ratio)[..., None] * F[:, None]
    fc = np.where(w.fc_bottom.reshape(p, k)[good] > 0.0, w.fc_bottom.reshape(p, k)[good], 1.0)
    pulled = forces.sum(2) > 1e-9 * np.maximum(np.abs(n).max(2), 1.0)
    weak = np.where(pulled, np.minimum(fc, fc.min(1, keepdims=True)), fc)
    t = 0.5 * np.maximum(_greatest(-concrete), 0.0) / weak
    better = np.isfinite(found.total) & (2.0 * t <= h[good, None]).all(1)
    if any(s.by_strain for s in strengths):
        both = np.stack([t, t], axis=-1)
        better &= strained(demand[good], forces, both, strengths, h[good], axes[good]).all(1)
    better &= F @ settings.bars.weights <= single.area[good] * f_yd[good, :1] @ settings.bars.weights * (1.0 - 1e-9)
    at = good[better]
    area, bound = single.area.copy(), single.bound.copy()
    area[at], bound[at] = (F / f_yd[good, :1])[better], (found.bound / f_yd[good, 0])[better]
    bars, half, thick, strength = (
        w.bars.reshape(p, k, b).copy(), w.bottom.reshape(p, k, 3).copy(), w.t_bottom.reshape(p, k).copy(),
        w.fc_bottom.reshape(p, k).copy(),
    )  # fmt: skip
    bars[at], half[at], thick[at], strength[at] = forces[better], (concrete / 2.0)[better], t[better], weak[better]
    halves, each = half.reshape(p * k, 3), (thick.ravel(), thick.ravel(), strength.ravel(), strength.ravel())
    witness = certificate.Witness(bars.reshape(p * k, b), halves, halves, *each)
    return replace(single, rows=replace(rows, witness=witness), area=area, bound=bound)


def _greatest(n: Floats) -> Floats:
    """Greater principal value of tensors (..., 3)."""
    return np.asarray((n[..., 0] + n[..., 1]) / 2 + np.hypot((n[..., 0] - n[..., 1]) / 2, n[..., 2]))
