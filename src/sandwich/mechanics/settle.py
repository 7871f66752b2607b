"""Three layers for bars in any directions: thickness, strengths, bar forces of one combination, with limits or without.

The statement of `optimumbars.py` with two tensors, the demands of the outer layers. Thickness of a layer is its
compression over its strength, iterated as in `threelayer.py`, whose states of strength and status codes hold here.
"""

from __future__ import annotations

import math
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.fixedlayers import layers
from sandwich.mechanics.loops import copy, copy_rows, fill, fill_rows, filled, finite, largest
from sandwich.mechanics.optimumbars import GAP, NOTHING, PENALTY, evenly, optimum_bars, start
from sandwich.mechanics.states import STATES, is_consistent, is_tried, level_ends, principal_minimum, state, with_bars
from sandwich.mechanics.threelayer import (
    LACKS_BOTTOM,
    LACKS_TOP,
    LAYERS_DO_NOT_FIT,
    MEMBRANE,
    METHODS,
    NO_FIELD,
    NOT_CONVERGED,
    NOT_FINITE,
    OK,
    PLATE,
    extrapolated,
    tension_at_both_ends,
)

Floats = NDArray[np.float64]
_ROUNDS: Final = 60
_TIGHT: Final = 1e-7  # of the thickness: a layer may be thicker than it needs by this, never thinner
_LOOSER: Final = 10.0  # where many fields cost the same the thickness scatters: every so many rounds allow more


@kernel
def demands(n, m, h, e, tb, tt, demand, share):
    """Demand of both layers and the share of each bar in them, at given thicknesses."""
    yb, yt, nbx, ntx, nby, nty, _, _, _ = layers(n, m, h, tb, tt)
    part = 1.0 / (yb + yt)
    demand[0, 0], demand[0, 1], demand[0, 2] = nbx, nby, (n[2] * yt + m[2]) * part
    demand[1, 0], demand[1, 1], demand[1, 2] = ntx, nty, (n[2] * yb - m[2]) * part
    for i in range(e.size):
        share[0, i] = (yt + e[i]) * part
        share[1, i] = 1.0 - share[0, i]


@kernel
def compressions(demand, share, along, f):
    """Largest compression of the concrete of the bottom and the top layer under bar forces."""
    out = (0.0, 0.0)
    for j in range(2):
        a, b, c = with_bars(-demand[j, 0], -demand[j, 1], -demand[j, 2], share, j, along, f)
        value = max(0.0, -principal_minimum(-a, -b, -c))
        out = (value, out[1]) if j == 0 else (out[0], value)
    return out


@kernel
def _inside(demand, share, along, most, f, s):
    """Whether the maximum bar forces, or like forces without limits, lie inside all conditions; leaves them in f."""
    if most[0] == math.inf:
        return start(demand, share, along, f, s)
    scale = max(largest(demand), 1e-9)
    for i in range(f.size):
        f[i] = most[i]
    for j in range(2):
        a, b, c = with_bars(-demand[j, 0], -demand[j, 1], -demand[j, 2], share, j, along, f)
        if principal_minimum(a, b, c) <= 1e-7 * scale:
            return False
    for i in range(f.size):
        f[i] *= 1.0 - 1e-8
    return True


@large_kernel
def _with_help(demand, share, along, weight, most, f, price):
    """Minimum bars with two helping bars that hold every layer at a high price: shows whether a field exists."""
    bars = f.size
    scale = max(largest(demand), 1e-9)
    wide_share, wide_along = np.empty((2, bars + 2)), np.zeros((bars + 2, 2))
    wide_weight, wide_most = filled(bars + 2, PENALTY), filled(bars + 2, math.inf)
    wide_f = np.empty(bars + 2)
    fill_rows(wide_share, 1.0)
    copy_rows(share, wide_share)
    copy_rows(along, wide_along)
    wide_along[bars, 0] = wide_along[bars + 1, 1] = 1.0
    for i in range(bars):
        wide_weight[i], wide_most[i] = weight[i], most[i]
        wide_f[i] = min(0.5 * most[i], scale)
    help_force, inside = scale, False
    while not inside and help_force < 1e6 * scale:
        help_force *= 2.0
        wide_f[bars] = wide_f[bars + 1] = help_force
        inside = True
        for j in range(2):
            a, b, c = with_bars(-demand[j, 0], -demand[j, 1], -demand[j, 2], wide_share, j, wide_along, wide_f)
            inside = inside and principal_minimum(a, b, c) > 1e-3 * scale
    if not inside:
        return math.inf, 0.0, 0
    total, bound, rounds = optimum_bars(demand, wide_share, wide_along, wide_weight, wide_most, wide_f, price, GAP)
    for i in range(bars):
        f[i] = wide_f[i]
    helped = wide_f[bars] + wide_f[bars + 1]
    if helped > 1e-7 * scale:
        return math.inf, bound, rounds
    return total - PENALTY * helped, bound, rounds


@large_kernel
def layered_bars(demand, share, along, weight, most, f, price, gap):
    """Minimum bars of the two layers at given thicknesses; the total is infinite where there is no field."""
    needed = False
    for j in range(2):
        x, y, q = demand[j, 0], demand[j, 1], demand[j, 2]
        needed = needed or 0.5 * (x + y) + math.hypot(0.5 * (x - y), q) > NOTHING
    if not needed:
        fill(f, 0.0)
        fill_rows(price, 0.0)
        return 0.0, 0.0, 1
    s = np.empty((2, 3))
    if _inside(demand, share, along, most, f, s):
        return optimum_bars(demand, share, along, weight, most, f, price, gap)
    for i in range(f.size):
        if most[0] == math.inf or min(share[0, i], share[1, i]) < 0.0:
            return _with_help(demand, share, along, weight, most, f, price)
    return math.inf, 0.0, 0


@large_kernel
def settle(n, m, h, e, along, weight, most, fcb, fct, tb, tt, f, price, gap, tight):
    """Thicknesses and minimum bars of one combination at fixed strengths, from thicknesses to start with.

    Ends where no layer is thicker than it needs by more than `tight` h. Leaves bar forces in `f` and prices in
    `price`. Returns (status, total, bound, tb, tt, rounds).
    """
    demand, share = np.empty((2, 3)), np.empty((2, e.size))
    rb_old, rt_old, gb_old, gt_old = 0.0, 0.0, 0.0, 0.0
    slack = tight * h
    total, bound, rounds = 0.0, 0.0, 0
    held, held_b, held_t = False, tb, tt
    for rounds in range(1, _ROUNDS + 1):
        demands(n, m, h, e, tb, tt, demand, share)
        total, bound, _ = layered_bars(demand, share, along, weight, most, f, price, gap)
        if total == math.inf:
            if not held:
                return NO_FIELD, total, bound, tb, tt, rounds
            # the step left the thicknesses that have a field: half of it
            tb, tt = 0.5 * (tb + held_b), 0.5 * (tt + held_t)
            continue
        held, held_b, held_t = True, tb, tt
        pb, pt = compressions(demand, share, along, f)
        if rounds % 10 == 0 and rounds <= 40:
            slack *= _LOOSER
        gb, gt = pb / fcb + 0.5 * slack, pt / fct + 0.5 * slack
        rb, rt = gb - tb, gt - tt
        if max(abs(rb), abs(rt)) <= 0.5 * slack:
            return (OK if tb + tt <= h else LAYERS_DO_NOT_FIT), total, bound, tb, tt, rounds
        nb, nt = gb, gt
        if rounds > 1 and rounds % 10 != 0:
            nb, nt = extrapolated(rb, rt, rb_old, rt_old, gb, gt, gb_old, gt_old)
        rb_old, rt_old, gb_old, gt_old = rb, rt, gb, gt
        tb, tt = min(max(nb, 0.0), h), min(max(nt, 0.0), h)
        if tb + tt > 1.8 * h:
            return LAYERS_DO_NOT_FIT, total, bound, tb, tt, rounds
    return (LAYERS_DO_NOT_FIT if tb + tt > 0.9 * h else NOT_CONVERGED), total, bound, tb, tt, rounds


@kernel
def _face_without_bars(n, m, h, e):
    """Which face is in tension and has no bars, by the demands of thin layers; OK where none is."""
    _, _, nbx, ntx, nby, nty, qb, qt, scale = layers(n, m, h, 0.1 * h, 0.1 * h)
    bottom, top = False, False
    for i in range(e.size):
        bottom, top = bottom or e[i] > -0.1 * h, top or e[i] < 0.1 * h
    if not bottom and -principal_minimum(-nbx, -nby, qb) > 1e-6 * scale:
        return LACKS_BOTTOM
    if not top and -principal_minimum(-ntx, -nty, qt) > 1e-6 * scale:
        return LACKS_TOP
    return OK


@large_kernel
def design_any(n, m, h, e, along, weight, most, fc_cracked, fc_uncracked, f, price):
    """Minimum steel of one combination for any bars: the highest strengths that turn out consistent.

    Returns (status, total, bound, tb, tt, fcb, fct, rounds).
    """
    sure_b = tension_at_both_ends(n, m, 0.5 * h)
    sure_t = tension_at_both_ends(n, (-m[0], -m[1], -m[2]), 0.5 * h)
    best_f, best_price = np.zeros(e.size), np.zeros((2, 3))
    best, found, tb, tt = math.inf, False, 0.0, 0.0
    out = (NO_FIELD, math.inf, 0.0, 0.0, 0.0, fc_cracked, fc_cracked, 0)
    for k in range(STATES):
        if found and level_ends(k):
            break
        if not is_tried(k, sure_b, sure_t):
            continue
        cracked_b, cracked_t = state(k)
        fcb = fc_cracked if cracked_b else fc_uncracked
        fct = fc_cracked if cracked_t else fc_uncracked
        status, total, bound, tb, tt, rounds = settle(
            n, m, h, e, along, weight, most, fcb, fct, tb, tt, f, price, GAP, _TIGHT
        )
        consistent = status == OK and is_consistent(k, n, m, h, tb, tt, e, f)
        if (consistent and total < best) or not found:
            if consistent:
                best, found = total, True
            copy(f, best_f)
            copy_rows(price, best_price)
            out = (status, total, bound, tb, tt, fcb, fct, rounds)
        if status != OK:
            tb, tt = 0.0, 0.0
    copy(best_f, f)
    copy_rows(best_price, price)
    if out[0] != OK:
        lacks = _face_without_bars(n, m, h, e)
        if lacks != OK:
            return lacks, out[1], out[2], out[3], out[4], out[5], out[6], out[7]
    return out


class LayeredBars(NamedTuple):
    """Designs of r rows with b bars.

    `forces` (r, b) [N/mm]; `t` (r, 2) thickness [mm], `fc` (r, 2) strength [MPa] and `prices` (r, 2, 3) dual strains
    [-] of the bottom and the top layer; `total` and `bound` (r,) [N/mm]; `status` and `rounds` (r,).
    """

    forces: Floats
    t: Floats
    fc: Floats
    prices: Floats
    total: Floats
    bound: Floats
    status: NDArray[np.int64]
    rounds: NDArray[np.int64]


@kernel
def _membrane(x, h, along, weight, most, fc_cracked, fc_uncracked, f, price):
    """In-plane forces alone: all bars in one layer. Returns what `design_any` does."""
    bars = weight.size
    demand, share, s = np.empty((1, 3)), np.empty((1, bars)), np.empty((1, 3))
    fill_rows(share, 1.0)
    demand[0, 0], demand[0, 1], demand[0, 2] = x[0], x[1], x[2]
    total, bound, rounds = 0.0, 0.0, 1
    if 0.5 * (x[0] + x[1]) + math.hypot(0.5 * (x[0] - x[1]), x[2]) <= NOTHING:
        fill(f, 0.0)
        fill_rows(price, 0.0)
    elif start(demand, share, along, f, s):
        total, bound, rounds = optimum_bars(demand, share, along, weight, most, f, price[:1], GAP)
        copy(price[0], price[1])
        evenly(along, weight, f)
    else:
        return NO_FIELD, math.inf, 0.0, 0.0, 0.0, fc_cracked, fc_cracked, 0
    a, b, c = with_bars(-x[0], -x[1], -x[2], share, 0, along, f)
    fc = fc_cracked if total > 0.0 else fc_uncracked
    half = 0.5 * max(0.0, -principal_minimum(-a, -b, -c)) / fc
    return (OK if 2.0 * half <= h else LAYERS_DO_NOT_FIT), total, bound, half, half, fc, fc, rounds


@kernel
def _design_rows(
    rows, h, e, along, weight, fc_cracked, fc_uncracked, membrane,
    forces, t, fc, prices, total, bound, status, rounds,
):  # fmt: skip
    bars = weight.size
    f, price, most = np.empty(bars), np.empty((2, 3)), filled(bars, math.inf)
    for r in range(rows.shape[0]):
        x = rows[r]
        if not finite(x):
            status[r] = NOT_FINITE
            continue
        if membrane:
            status[r], total[r], bound[r], t[r, 0], t[r, 1], fc[r, 0], fc[r, 1], rounds[r] = _membrane(
                x, h[r], along[r], weight, most, fc_cracked[r], fc_uncracked[r], f, price
            )
            copy(f, forces[r])
            copy_rows(price, prices[r])
            continue
        status[r], total[r], bound[r], t[r, 0], t[r, 1], fc[r, 0], fc[r, 1], rounds[r] = design_any(
            (x[0], x[1], x[2]), (x[3], x[4], x[5]), h[r], e[r], along[r], weight, most, fc_cracked[r], fc_uncracked[r],
            f, price,
        )  # fmt: skip
        copy(f, forces[r])
        copy_rows(price, prices[r])


def design(
    rows: ArrayLike,
    h: ArrayLike,
    e: ArrayLike,
    angles: ArrayLike,
    fc_cracked: ArrayLike,
    fc_uncracked: ArrayLike,
    *,
    weights: ArrayLike | None = None,
    method: str = "sandwich",
) -> LayeredBars:
    """Design many rows of resultants by three layers, each by itself, with bars in any directions.

    Parameters
    ----------
    rows : array_like, shape (r, 6) or (r, 8)
        nx ny nxy [N/mm], mx my mxy [N]; further columns are not used.
    h, fc_cracked, fc_uncracked : array_like, shape () or (r,)
        Thickness [mm], strength of a cracked and of an uncracked layer [MPa].
    e, angles : array_like, shape (b,) or (r, b)
        Bar axes, positive towards the bottom [mm], and directions from x towards y [rad].
    weights : array_like, shape (b,), optional
        Weight of each bar in the total; 1 by default.
    method : {'sandwich', 'plate', 'membrane'}
        Three layers; the moments alone; the membrane forces alone, with all bars in one layer.

    Returns
    -------
    LayeredBars
        Bars, layers and bounds; zero where a row has no field, with a status of `threelayer.py`.

    References
    ----------
    P. Marti, "Design of concrete slabs for transverse shear", ACI Structural Journal 87, 1990; minimum steel over
    all fields of two layers as a convex program.

    Examples
    --------
    >>> design([[0, 0, 0, 60e3, 0, 0]], 250.0, [90.0, 80.0], [0.0, 1.0], 10.0, 20.0).forces.round(1)
    array([[288.8,   0. ]])
    """
    rows = np.asarray(rows, dtype=float)[:, :6].copy()
    if METHODS[method] == PLATE:
        rows[:, :3] = 0.0
    r = len(rows)
    e = np.atleast_2d(np.asarray(e, dtype=float))
    bars = e.shape[-1]
    angles = np.broadcast_to(np.asarray(angles, dtype=float), (r, bars))
    along = np.stack([np.cos(angles), np.sin(angles)], axis=-1)
    given = [np.broadcast_to(np.asarray(v, dtype=float), (r,)).copy() for v in (h, fc_cracked, fc_uncracked)]
    weight = np.ones(bars) if weights is None else np.array(weights, dtype=float)
    out = LayeredBars(
        forces=np.zeros((r, bars)),
        t=np.zeros((r, 2)),
        fc=np.ones((r, 2)),
        prices=np.zeros((r, 2, 3)),
        total=np.zeros(r),
        bound=np.zeros(r),
        status=np.zeros(r, dtype=np.int64),
        rounds=np.zeros(r, dtype=np.int64),
    )
    depths, membrane = np.broadcast_to(e, (r, bars)).copy(), METHODS[method] == MEMBRANE
    _design_rows(rows, given[0], depths, along, weight, given[1], given[2], membrane, *out)
    lost = out.status != OK
    for part in (out.forces, out.t, out.prices, out.total, out.bound):
        part[lost] = 0.0
    return out
