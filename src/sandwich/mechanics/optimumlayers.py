"""One state of a section in many layers: minimum bars by Newton's method on the six strains of its mechanism.

To each strain belong, in closed form, the stresses of a layer that lie between no tension and the strength, smoothed
by a barrier that is taken away in steps. All is in parts of the strength of a section of unit thickness.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.loops import solve

NO_BARS: Final = 1e3  # steel over the strength of the section beyond which no bars suffice
_STEPS: Final = 200  # of Newton's method at most
_LESS: Final = 0.02  # by which the barrier is lowered
_BALANCED: Final = 1e-9  # of the strength of the section
_FINE: Final = 4  # parts of a layer for the work of a mechanism


@kernel
def _pressed(strain, c, mu):
    """Principal stress between -c and 0 that belongs to a strain, and its derivative."""
    q = 0.25 * c * c
    root = math.sqrt(mu * mu + strain * strain * q)
    return strain * q / (mu + root) - 0.5 * c, q * mu / (root * (mu + root))


@large_kernel
def _value(z, load, y, t, c, a, weight, mu):
    """Dual function: what the Newton steps raise."""
    out = 0.0
    for j in range(6):
        out += load[j] * z[j]
    for i in range(weight.size):
        left = weight[i]
        for j in range(6):
            left -= a[i, j] * z[j]
        if left <= 0.0:
            return -math.inf
        out += mu * math.log(left)
    for k in range(y.size):
        ex, ey, g = z[0] + y[k] * z[3], z[1] + y[k] * z[4], z[2] + y[k] * z[5]
        mean, radius = 0.5 * (ex + ey), math.hypot(0.5 * (ex - ey), 0.5 * g)
        for strain in (mean + radius, mean - radius):
            q = 0.25 * c[k] * c[k]
            root = math.sqrt(mu * mu + strain * strain * q)
            s = strain * q / (mu + root) - 0.5 * c[k]
            # s (s + c) = -2 q mu / (mu + root), without loss of digits
            out -= t[k] * (strain * s + mu * math.log(2.0 * q * mu / (mu + root)))
    return out


@large_kernel
def work_of(z, load, y, t, c, a, weight):
    """Lower bound of the total by a mechanism; inf where no bar takes part in one that does work."""
    work, most = 0.0, 0.0
    for j in range(6):
        work += load[j] * z[j]
    for k in range(y.size):
        for part in range(_FINE + 1):
            # the work is convex through the depth: the trapezoidal rule is on the safe side
            at = y[k] + t[k] * (part / _FINE - 0.5)
            share = (0.5 if part in (0, _FINE) else 1.0) / _FINE
            ex, ey, g = z[0] + at * z[3], z[1] + at * z[4], z[2] + at * z[5]
            mean, dx = 0.5 * (ex + ey), ex - ey
            # of the principal strains in compression; hypot takes longer, and nothing here is that large or small
            work -= share * t[k] * c[k] * (max(0.5 * math.sqrt(dx * dx + g * g), abs(mean)) - mean)
    for i in range(weight.size):
        strain = 0.0
        for j in range(6):
            strain += a[i, j] * z[j]
        most = max(most, strain / weight[i])
    if work <= 0.0:
        return 0.0
    return work / most if most > 0.0 else math.inf


@large_kernel
def least(load, y, t, c, a, weight, last, z, f, s):
    """Minimum bars for one set of resultants; leaves mechanism z (6,), bar forces f (b,), stresses s (layers, 3).

    load (6,) in parts of strength times thickness, and times thickness twice; y and t (layers,) over the thickness;
    c (layers,) strengths in parts of the maximum; a (b, 6) work of a bar of unit force on each strain; last, the
    barrier at the end, in parts of the strength of the section. Returns (total, lower bound); the total is inf where
    no bars suffice.
    """
    bars = weight.size
    grad, step, trial, matrix = np.empty(6), np.empty(6), np.empty(6), np.empty((6, 6))
    for j in range(6):
        z[j] = 0.0
    mu, steps = 0.1, 0
    total = math.inf
    value = _value(z, load, y, t, c, a, weight, mu)
    while steps < _STEPS:
        steps += 1
        for j in range(6):
            grad[j] = load[j]
            for m in range(6):
                matrix[j, m] = 1e-300 if j == m else 0.0
        for k in range(y.size):
            ex, ey, g = z[0] + y[k] * z[3], z[1] + y[k] * z[4], z[2] + y[k] * z[5]
            mean, dx, radius = 0.5 * (ex + ey), 0.5 * (ex - ey), math.hypot(0.5 * (ex - ey), 0.5 * g)
            c2, s2 = (dx / radius, 0.5 * g / radius) if radius > 0.0 else (1.0, 0.0)
            s_1, d_1 = _pressed(mean + radius, c[k], mu)
            s_2, d_2 = _pressed(mean - radius, c[k], mu)
            shear = 0.25 * (s_1 - s_2) / radius if radius > 1e-12 * (abs(mean) + mu) else 0.5 * d_1
            half, middle = 0.5 * (s_1 - s_2), 0.5 * (s_1 + s_2)
            s[k, 0], s[k, 1], s[k, 2] = middle + half * c2, middle - half * c2, half * s2
            cc, ss, cs = 0.5 * (1.0 + c2), 0.5 * (1.0 - c2), 0.5 * s2
            # strains of the principal axes from ex, ey, gamma
            one, two, turn = (cc, ss, cs), (ss, cc, -cs), (-2.0 * cs, 2.0 * cs, c2)
            for j in range(3):
                grad[j] -= t[k] * s[k, j]
                grad[j + 3] -= t[k] * y[k] * s[k, j]
                for m in range(3):
                    d = t[k] * (d_1 * one[j] * one[m] + d_2 * two[j] * two[m] + shear * turn[j] * turn[m])
                    matrix[j, m] += d
                    matrix[j + 3, m] += y[k] * d
                    matrix[j + 3, m + 3] += y[k] * y[k] * d
        for i in range(bars):
            left = weight[i]
            for j in range(6):
                left -= a[i, j] * z[j]
            f[i] = mu / left
            for j in range(6):
                grad[j] -= a[i, j] * f[i]
                for m in range(6):
                    matrix[j, m] += f[i] * f[i] / mu * a[i, j] * a[i, m]
        for j in range(3):  # the lower triangle is all that is read; its upper block follows from symmetry
            for m in range(3):
                matrix[j, m + 3] = matrix[m + 3, j]
        missing = 0.0
        for j in range(6):
            missing = max(missing, abs(grad[j]))
            step[j] = grad[j]
        if not solve(matrix, step, 6):
            break
        climb = 0.0
        for j in range(6):
            climb += grad[j] * step[j]
        if missing <= _BALANCED or (missing <= 10.0 * _BALANCED and climb <= 1e-13 * (abs(value) + mu)):
            total = 0.0
            for i in range(bars):
                total += weight[i] * f[i]
            if mu <= last:
                break
            mu = max(_LESS * mu, last)
            value = _value(z, load, y, t, c, a, weight, mu)
            total = math.inf
            continue
        size = 1.0
        for i in range(bars):
            along, left = 0.0, weight[i]
            for j in range(6):
                along += a[i, j] * step[j]
                left -= a[i, j] * z[j]
            if along > 0.0:
                size = min(size, 0.95 * left / along)
        better = -math.inf
        for _ in range(40):
            for j in range(6):
                trial[j] = z[j] + size * step[j]
            better = _value(trial, load, y, t, c, a, weight, mu)
            # at the top the rise is lost in rounding
            if better >= value + 1e-4 * size * climb or climb <= 1e-12 * (abs(value) + mu):
                break
            size *= 0.5
        value = better
        for j in range(6):
            z[j] = trial[j]
        if value > NO_BARS:
            break
    return total, work_of(z, load, y, t, c, a, weight)
