"""Minimum steel of a point for all its combinations together: bars that each combination may use up to their force.

Each combination has a stress field of its own, f_k <= F. At given thicknesses the F of minimum total is one
convex program over the combinations that matter; the thicknesses follow from the fields, and combinations
that the F does not serve join until there are none. The envelope of the separate designs is where it starts
and what it falls back to.
"""

from __future__ import annotations

import math
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.loops import copy, copy_rows, fill, fill_rows, filled
from sandwich.mechanics.optimumbars import optimum_bars, start
from sandwich.mechanics.settle import compressions, demands, layered_bars, settle
from sandwich.mechanics.states import cracked_layers
from sandwich.mechanics.threelayer import OK

Floats = NDArray[np.float64]
MARGIN: Final = 1e-6  # of the bar forces: room for the fields of single combinations
_THICKER: Final = 2e-5  # of the thickness: room for the layers of those fields
_ROUGH: Final = 1e-5  # gap of a field within F, which need not be the very minimum
_FINE: Final = 1e-7  # gap of F
_SUBSTITUTIONS: Final = 25
_SAME: Final = 1e-6  # of the total: below it the envelope is taken as it is
_ROUNDS: Final = 25


@kernel
def _serves(k, f, single, strength, bars):
    """Whether the bars of the combination's own design lie within F."""
    served = True
    for i in range(bars):
        served = served and single[k, i] <= f[i] * strength[k] * (1.0 + 1e-9) + 1e-9
    return served


@large_kernel
def _own_field(row, h, e, along, weight, limit, fc_cracked, own, f, price):
    """Stress field of one combination within bar limits; leaves (f, tb, tt, fcb, fct) in `own`."""
    bars = e.size
    n, m = (row[0], row[1], row[2]), (row[3], row[4], row[5])
    for _ in range(3):
        status, _, _, tb, tt, _ = settle(
            n,
            m,
            h,
            e,
            along,
            weight,
            limit,
            own[bars + 2],
            own[bars + 3],
            own[bars],
            own[bars + 1],
            f,
            price,
            _ROUGH,
            _THICKER,
        )
        if status != OK:
            return False
        is_b, is_t = cracked_layers(n, m, h, tb, tt, e, f)
        weak_b = is_b and own[bars + 2] > fc_cracked
        weak_t = is_t and own[bars + 3] > fc_cracked
        for i in range(bars):
            own[i] = f[i]
        own[bars], own[bars + 1] = tb, tt
        if not (weak_b or weak_t):
            return True
        if weak_b:
            own[bars + 2] = fc_cracked
        if weak_t:
            own[bars + 3] = fc_cracked
    return False


@large_kernel
def _at_thicknesses(rows, h, e, along, weight, strength, active, count, own, frozen, f, demand, share, s, price):
    """Minimum F of the active combinations at their thicknesses; (total, bound), infinite where none was found."""
    bars = e.size
    for a in range(count):
        k = active[a]
        r = rows[k]
        demands(
            (r[0], r[1], r[2]), (r[3], r[4], r[5]), h, e, own[k, bars], own[k, bars + 1],
            demand[2 * a : 2 * a + 2], share[2 * a : 2 * a + 2],
        )  # fmt: skip
        for j in range(2):
            for i in range(bars):
                g = share[2 * a + j, i]
                if frozen[k, i]:  # this field leaves the bar below its force: it is no variable of the combination
                    x, y = along[i, 0], along[i, 1]
                    demand[2 * a + j, 0] -= g * own[k, i] * x * x
                    demand[2 * a + j, 1] -= g * own[k, i] * y * y
                    demand[2 * a + j, 2] -= g * own[k, i] * x * y
                    share[2 * a + j, i] = 0.0
                else:
                    share[2 * a + j, i] = g * strength[k]
    one = demand[: 2 * count]
    part = share[: 2 * count]
    if not start(one, part, along, f, s[: 2 * count]):
        return math.inf, 0.0
    most = filled(bars, math.inf)
    total, bound, _ = optimum_bars(one, part, along, weight, most, f, price[: 2 * count], _FINE)
    return total, bound


@kernel
def _freeze(k, f, strength, own, h, frozen, bars, e):
    """Bars that the field of a combination leaves below F although more would press a layer: held as they are."""
    yb, yt = 0.5 * (h - own[k, bars]), 0.5 * (h - own[k, bars + 1])
    for i in range(bars):
        g = (yt + e[i]) / (yb + yt)
        outside = g < 0.0 or g > 1.0
        frozen[k, i] = outside and own[k, i] < f[i] * strength[k] * (1.0 - 1e-3)


@large_kernel
def _settled(
    rows, h, e, along, weight, strength, fc_cracked, active, count, own, frozen, f, demand, share, s, price, priced
):
    """F of the active combinations with thicknesses that suit their fields; leaves the fields in `own`.

    Returns (total, bound, whether it settled); the total is infinite where there was no F.
    """
    bars = e.size
    limit, field, held = np.empty(bars), np.empty(bars), np.empty((2, 3))
    one, part, t = np.empty((2, 3)), np.empty((2, bars)), np.empty((count, 2))
    total, bound = math.inf, 0.0
    for _ in range(_SUBSTITUTIONS):
        total, bound = _at_thicknesses(
            rows, h, e, along, weight, strength, active, count, own, frozen, f, demand, share, s, price
        )
        if total == math.inf:
            break
        settled = True
        for a in range(count):
            c = active[a]
            n, m = (rows[c, 0], rows[c, 1], rows[c, 2]), (rows[c, 3], rows[c, 4], rows[c, 5])
            copy(own[c, bars : bars + 2], priced[c])
            for i in range(bars):
                limit[i] = f[i] * strength[c] * (1.0 + MARGIN)
            demands(n, m, h, e, own[c, bars], own[c, bars + 1], one, part)
            if layered_bars(one, part, along, weight, limit, field, held, _ROUGH)[0] == math.inf:
                settled = False
                for i in range(bars):
                    field[i] = min(limit[i], own[c, i]) if frozen[c, i] else limit[i]
            pb, pt = compressions(one, part, along, field)
            t[a, 0] = min(pb / own[c, bars + 2] + _THICKER * h, h)
            t[a, 1] = min(pt / own[c, bars + 3] + _THICKER * h, h)
            # a field fits where its layers need no more than they had, and both lie within the section
            settled = settled and own[c, bars] + own[c, bars + 1] <= h
            for j in range(2):
                settled = settled and abs(t[a, j] - own[c, bars + j]) <= _THICKER * h
            for i in range(bars):
                own[c, i] = field[i]
            is_b, is_t = cracked_layers(n, m, h, own[c, bars], own[c, bars + 1], e, field)
            if is_b and own[c, bars + 2] > fc_cracked[c]:
                own[c, bars + 2], settled = fc_cracked[c], False
            if is_t and own[c, bars + 3] > fc_cracked[c]:
                own[c, bars + 3], settled = fc_cracked[c], False
        if settled:
            return total, bound, True
        for a in range(count):
            copy(t[a], own[active[a], bars : bars + 2])
            _freeze(active[a], f, strength, own, h, frozen, bars, e)
    return total, bound, False


@large_kernel
def _lacking_most(rows, h, e, along, weight, strength, fc_cracked, single, is_active, f, own):
    """The combination whose own design lies furthest beyond F and that has no field within it; -1 where none is."""
    bars = e.size
    limit, field, held = np.empty(bars), np.empty(bars), np.empty((2, 3))
    worst, short = -1, 0.0
    for c in range(rows.shape[0]):
        if is_active[c]:
            continue
        copy(single[c], own[c])
        if _serves(c, f, single, strength, bars):
            continue
        lack = 0.0
        for i in range(bars):
            limit[i] = f[i] * strength[c] * (1.0 + MARGIN)
            lack = max(lack, single[c, i] - limit[i])
        if lack > short and not _own_field(rows[c], h, e, along, weight, limit, fc_cracked[c], own[c], field, held):
            copy(single[c], own[c])
            worst, short = c, lack
    return worst


@kernel
def _envelope(weight, strength, single, f, active, is_active):
    """Envelope of the separate designs in f; the combinations that govern it become active.

    Returns (its total, the largest total of one combination, how many are active).
    """
    k, bars = single.shape[0], weight.size
    best, greatest, count = 0.0, 0.0, 0
    fill(f, 0.0)
    for c in range(k):
        total = 0.0
        for i in range(bars):
            total += weight[i] * single[c, i] / strength[c]
            f[i] = max(f[i], single[c, i] / strength[c])
        greatest = max(greatest, total)
    for i in range(bars):
        best += weight[i] * f[i]
    for i in range(bars):
        for c in range(k):
            if f[i] > 1e-6 * best and single[c, i] / strength[c] == f[i]:
                if not is_active[c]:
                    is_active[c] = True
                    active[count] = c
                    count += 1
                break
    return best, greatest, count


@large_kernel
def joint_point(rows, h, e, along, weight, strength, fc_cracked, single, f, own, prices, priced):
    """Minimum bars of one point for all its combinations, from their separate designs.

    rows (k, 6); strength (k,) yield strength over that of reference; single (k, b + 4) bar forces, thicknesses
    and strengths of the separate designs. Leaves F (b,), the fields `own` (k, b + 4), the prices (k, 2, 3) and
    the thicknesses `priced` (k, 2) they belong to. Returns (total, bound, rounds); the envelope where nothing
    better is found, with rounds negative.
    """
    k, bars = rows.shape[0], e.size
    active, is_active = np.empty(k, np.int64), np.zeros(k, np.bool_)
    for c in range(k):
        copy(single[c], own[c])
        fill_rows(prices[c], 0.0)
        copy(single[c, bars : bars + 2], priced[c])
    best, greatest, count = _envelope(weight, strength, single, f, active, is_active)
    if best - greatest <= _SAME * best or best == 0.0:
        return best, greatest, 0
    frozen, envelope = np.zeros((k, bars), np.bool_), np.empty(bars)
    copy(f, envelope)
    demand, share = np.empty((2 * k, 3)), np.empty((2 * k, bars))
    price, s = np.empty((2 * k, 3)), np.empty((2 * k, 3))
    rounds, at = 0, np.empty((k, 2))
    # at the thicknesses of the separate designs: what the envelope, if it is kept, is measured against
    total, low = _at_thicknesses(
        rows, h, e, along, weight, strength, active, count, own, frozen, f, demand, share, s, price
    )
    if total < math.inf:
        for a in range(count):
            copy_rows(price[2 * a : 2 * a + 2], prices[active[a]])
    while rounds < _ROUNDS:
        rounds += 1
        total, bound, settled = _settled(
            rows, h, e, along, weight, strength, fc_cracked, active, count, own, frozen, f, demand, share, s, price, at
        )
        if not settled or total >= best * (1.0 - _SAME):
            break
        worst = _lacking_most(rows, h, e, along, weight, strength, fc_cracked, single, is_active, f, own)
        if worst < 0:
            for i in range(bars):
                f[i] *= 1.0 + MARGIN
            for a in range(count):
                copy_rows(price[2 * a : 2 * a + 2], prices[active[a]])
                copy(at[active[a]], priced[active[a]])
            return total * (1.0 + MARGIN), bound, rounds
        is_active[worst] = True
        active[count] = worst
        count += 1
    copy(envelope, f)
    for c in range(k):
        copy(single[c], own[c])
    return best, max(low, greatest), -rounds


class JointBars(NamedTuple):
    """Joint designs of p points with b bars for k combinations.

    `forces` (p, b) [N/mm of the reference strength]; `fields` (p, k, b + 4) bar forces [N/mm], thicknesses [mm] and
    strengths [MPa] of the combinations; `prices` (p, k, 2, 3) and the thicknesses (p, k, 2) they belong to;
    `total` and `bound` (p,) [N/mm]; `rounds` (p,), negative where the envelope was kept.
    """

    forces: Floats
    fields: Floats
    prices: Floats
    priced_t: Floats
    total: Floats
    bound: Floats
    rounds: NDArray[np.int64]


@kernel
def _points(
    rows, h, e, along, weight, strength, fc_cracked, single, forces, fields, prices, priced, total, bound, rounds
):
    for p in range(rows.shape[0]):
        total[p], bound[p], rounds[p] = joint_point(
            rows[p], h[p], e[p], along[p], weight, strength[p], fc_cracked, single[p], forces[p], fields[p], prices[p],
            priced[p],
        )  # fmt: skip


def joint_design(
    rows: ArrayLike,
    h: ArrayLike,
    e: ArrayLike,
    angles: ArrayLike,
    fc_cracked: ArrayLike,
    single: ArrayLike,
    *,
    strength: ArrayLike | None = None,
    weights: ArrayLike | None = None,
) -> JointBars:
    """Minimum bars of points for all their combinations together, from the designs of single combinations.

    Parameters
    ----------
    rows : array_like, shape (p, k, 6)
        nx ny nxy [N/mm], mx my mxy [N] of each combination.
    h : array_like, shape (p,)
        Thickness [mm].
    e, angles : array_like, shape (p, b)
        Bar axes, positive towards the bottom [mm], and directions from x towards y [rad].
    fc_cracked : array_like, shape (k,)
        Strength of a cracked layer [MPa].
    single : array_like, shape (p, k, b + 4)
        Bar forces [N/mm], thicknesses [mm] and strengths [MPa] of the bottom and the top layer designed for each
        combination by itself; every one of them must have a field.
    strength : array_like, shape (k,) or (p, k), optional
        Yield strength of the combination over that of reference; 1 by default.
    weights : array_like, shape (b,), optional
        Weight of each bar in the total; 1 by default.

    Returns
    -------
    JointBars
        Bars with a field of each combination within them, and prices for `certificate.joint_bound`.

    References
    ----------
    Lower bound theorem of limit analysis; many combinations are one convex program at given thicknesses.
    """
    rows, single = np.ascontiguousarray(rows, dtype=float)[..., :6].copy(), np.ascontiguousarray(single, dtype=float)
    p, k, _ = rows.shape
    e = np.ascontiguousarray(e, dtype=float)
    angles = np.broadcast_to(np.asarray(angles, dtype=float), e.shape)
    along = np.stack([np.cos(angles), np.sin(angles)], axis=-1)
    bars = e.shape[1]
    ratio = np.broadcast_to(1.0 if strength is None else np.asarray(strength, dtype=float), (p, k)).copy()
    weight = np.ones(bars) if weights is None else np.array(weights, dtype=float)
    out = JointBars(
        forces=np.zeros((p, bars)),
        fields=np.zeros((p, k, bars + 4)),
        prices=np.zeros((p, k, 2, 3)),
        priced_t=np.zeros((p, k, 2)),
        total=np.zeros(p),
        bound=np.zeros(p),
        rounds=np.zeros(p, dtype=np.int64),
    )
    cracked = np.broadcast_to(np.asarray(fc_cracked, dtype=float), (k,)).copy()
    _points(rows, np.ascontiguousarray(h, dtype=float), e, along, weight, ratio, cracked, single, *out)
    return out
