"""Minimum steel of bars in any directions for one or many tensors: the one principle as a small convex program.

Bars i with direction d_i carry 0 <= f_i <= F_i; tensor j receives the share g_ji of each. The concrete of
every tensor carries compression only: S_j = sum_i g_ji f_i d_i d_i^T - N_j has no negative eigenvalue. Minimum
sum w_i f_i. In plane g is 1; two layers of a shell are two tensors; many combinations are more tensors.

Solved by a primal-dual interior point method. Every iterate f lies inside all conditions, so the answer is
on the safe side; the prices Z_j (strains of a mechanism) give a lower bound, so it is not wasteful either.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.loops import fill, filled, largest, solve
from sandwich.mechanics.states import with_bars

ROUNDS: Final = 60
GAP: Final = 1e-9  # at which the search for minimum bars ends
NOTHING: Final = 1e-9  # N/mm; less tension asks for no bars
PENALTY: Final = 1e5  # price of the two helping bars that show whether a field exists
_SHORT = 0.98  # part of the way to the edge that a step may go


@kernel
def bounded_step(a, b, c, da, db, dc):
    """Largest step t at which (a, b, c) + t (da, db, dc) still has no negative eigenvalue; 1e30 if none ends it."""
    # det(t) = a0 + a1 t + a2 t^2, positive at t = 0
    a0 = a * b - c * c
    a1 = a * db + b * da - 2.0 * c * dc
    a2 = da * db - dc * dc
    disc = a1 * a1 - 4.0 * a2 * a0
    # a double root may hide in rounding; there the trace vanishes too
    step = -(a + b) / (da + db) if da + db < 0.0 else 1e30
    if a2 == 0.0:
        return min(step, -a0 / a1) if a1 < 0.0 else step
    if disc <= 0.0:
        return step
    half = -0.5 * (a1 + math.copysign(math.sqrt(disc), a1))
    first = half / a2
    second = a0 / half if half != 0.0 else 1e30
    if 0.0 < first < step:
        step = first
    if 0.0 < second < step:
        step = second
    return step


@kernel
def _slack(f, share, along, demand, s):
    """S_j of all tensors; the minimum determinant over the squared trace, negative where one is not positive."""
    worst = 1.0
    for j in range(demand.shape[0]):
        a, b, c = with_bars(-demand[j, 0], -demand[j, 1], -demand[j, 2], share, j, along, f)
        s[j, 0], s[j, 1], s[j, 2] = a, b, c
        trace = a + b
        if trace <= 0.0:
            return -1.0
        worst = min(worst, (a * b - c * c) / (trace * trace))
    return worst


@large_kernel
def start(demand, share, along, f, s):
    """A field inside all conditions by like forces in all bars; False where that is not one.

    Right for bars whose shares are positive: more force then always helps.
    """
    scale = largest(demand)
    if scale == 0.0:
        scale = 1.0
    force = scale
    for _ in range(40):
        fill(f, force)
        if _slack(f, share, along, demand, s) > 1e-4:
            return True
        force *= 2.0
        if force > 1e5 * scale:
            break
    return False


@large_kernel
def optimum_bars(demand, share, along, weight, most, f, price, gap):
    """Minimum bars from a start `f` inside all conditions; leaves the forces in `f`, the prices in `price`.

    demand (j, 3) [N/mm], share (j, i), along (i, 2) unit vectors, weight (i,), most (i,) maximum forces (inf: none),
    gap of the total or the largest tensor at which the search ends. Returns (total, lower bound, rounds); a
    negative number of rounds says that it did not settle.
    """
    tensors, bars = demand.shape[0], f.size
    s, ds = np.empty((tensors, 3)), np.empty((tensors, 3))
    dz = np.empty((tensors, 3))
    z, y = np.empty(bars), np.empty(bars)
    step, right = np.empty(bars), np.empty(bars)
    matrix = np.empty((bars, bars))
    greatest = largest(demand)
    _slack(f, share, along, demand, s)
    conditions = 2 * tensors + bars
    total = 0.0
    room = filled(bars, math.inf)
    for i in range(bars):
        total += weight[i] * f[i]
        if most[i] < math.inf:
            conditions += 1
            room[i] = most[i] - f[i]
    mu = total / conditions
    for i in range(bars):
        z[i] = mu / f[i]
        y[i] = mu / room[i]
    for j in range(tensors):
        det = s[j, 0] * s[j, 1] - s[j, 2] * s[j, 2]
        price[j, 0], price[j, 1], price[j, 2] = mu * s[j, 1] / det, mu * s[j, 0] / det, -mu * s[j, 2] / det
    centring, settled, rounds = 0.2, False, 0
    while rounds < ROUNDS:
        rounds += 1
        aim = centring * mu
        for i in range(bars):
            right[i] = aim / f[i] - weight[i] - aim / room[i]
            for k in range(i + 1):
                matrix[i, k] = 0.0
            matrix[i, i] = z[i] / f[i] + y[i] / room[i]
        for j in range(tensors):
            a, b, c = s[j, 0], s[j, 1], s[j, 2]
            part = 1.0 / (a * b - c * c)
            for i in range(bars):
                gi, xi, yi = share[j, i], along[i, 0], along[i, 1]
                sx, sy = (b * xi - c * yi) * part, (a * yi - c * xi) * part
                zx, zy = price[j, 0] * xi + price[j, 2] * yi, price[j, 1] * yi + price[j, 2] * xi
                right[i] += aim * gi * (sx * xi + sy * yi)
                for k in range(i + 1):
                    xk, yk = along[k, 0], along[k, 1]
                    matrix[i, k] += gi * share[j, k] * (sx * xk + sy * yk) * (zx * xk + zy * yk)
        for i in range(bars):
            step[i] = right[i]
        if not solve(matrix, step, bars):
            break
        forth, back = 1e30, 1e30
        for i in range(bars):
            dzi = aim / f[i] - z[i] - z[i] * step[i] / f[i]
            if step[i] < 0.0:
                forth = min(forth, -f[i] / step[i])
            if dzi < 0.0:
                back = min(back, -z[i] / dzi)
            dyi = aim / room[i] - y[i] + y[i] * step[i] / room[i]
            if step[i] > 0.0:
                forth = min(forth, room[i] / step[i])
            if dyi < 0.0:
                back = min(back, -y[i] / dyi)
        for j in range(tensors):
            a, b, c = with_bars(0.0, 0.0, 0.0, share, j, along, step)
            ds[j, 0], ds[j, 1], ds[j, 2] = a, b, c
            forth = min(forth, bounded_step(s[j, 0], s[j, 1], s[j, 2], a, b, c))
            # dZ = aim S^-1 - Z - sym(Z dS S^-1)
            part = 1.0 / (s[j, 0] * s[j, 1] - s[j, 2] * s[j, 2])
            ia, ib, ic = s[j, 1] * part, s[j, 0] * part, -s[j, 2] * part
            za, zb, zc = price[j, 0], price[j, 1], price[j, 2]
            p11, p12 = za * a + zc * c, za * c + zc * b
            p21, p22 = zc * a + zb * c, zc * c + zb * b
            dz[j, 0] = aim * ia - za - (p11 * ia + p12 * ic)
            dz[j, 1] = aim * ib - zb - (p21 * ic + p22 * ib)
            dz[j, 2] = aim * ic - zc - 0.5 * (p11 * ic + p12 * ib + p21 * ia + p22 * ic)
            back = min(back, bounded_step(za, zb, zc, dz[j, 0], dz[j, 1], dz[j, 2]))
        forth, back = min(1.0, _SHORT * forth), min(1.0, _SHORT * back)
        for i in range(bars):
            dzi = aim / f[i] - z[i] - z[i] * step[i] / f[i]
            y[i] += back * (aim / room[i] - y[i] + y[i] * step[i] / room[i])
            z[i] += back * dzi
        for i in range(bars):
            f[i] += forth * step[i]
            room[i] -= forth * step[i]
        for j in range(tensors):
            for m in range(3):
                price[j, m] += back * dz[j, m]
        if _slack(f, share, along, demand, s) <= 0.0:
            break
        mu, total = 0.0, 0.0
        for j in range(tensors):
            mu += s[j, 0] * price[j, 0] + s[j, 1] * price[j, 1] + 2.0 * s[j, 2] * price[j, 2]
        for i in range(bars):
            mu += f[i] * z[i]
            total += weight[i] * f[i]
            if most[i] < math.inf:
                mu += room[i] * y[i]
        mu /= conditions
        if mu * conditions <= gap * max(total, greatest) and back > 0.5:
            settled = True
            break
        centring = 0.02 if min(forth, back) > 0.8 else 0.3
    bound = bound_of(demand, share, along, weight, most, price)
    return total, bound, rounds if settled else -rounds


@large_kernel
def bound_of(demand, share, along, weight, most, price):
    """Lower bound of the total by prices: they are scaled so that no bar asks for more than its weight."""
    over, work = 1.0, 0.0
    for i in range(weight.size):
        strain = 0.0
        for j in range(demand.shape[0]):
            x, y = along[i, 0], along[i, 1]
            strain += share[j, i] * (price[j, 0] * x * x + price[j, 1] * y * y + 2.0 * price[j, 2] * x * y)
        if most[i] == math.inf:
            over = max(over, strain / weight[i])
        else:
            work -= most[i] * max(0.0, strain - weight[i])
    for j in range(demand.shape[0]):
        work += demand[j, 0] * price[j, 0] + demand[j, 1] * price[j, 1] + 2.0 * demand[j, 2] * price[j, 2]
    return max(0.0, work / over)


@kernel
def evenly(along, weight, f):
    """Share the forces of bars of one direction and weight among them: a total does not tell them apart."""
    for i in range(f.size):
        total, count, first = 0.0, 0, i
        for j in range(f.size):
            if abs(along[i, 0] * along[j, 1] - along[i, 1] * along[j, 0]) < 1e-9 and weight[i] == weight[j]:
                total, count, first = total + f[j], count + 1, min(first, j)
        if first < i:
            f[i] = f[first]
        else:
            f[i] = total / count
