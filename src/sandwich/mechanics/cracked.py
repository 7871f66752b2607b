"""Cracked elastic section of a shell under its six membrane forces and moments.

Strains vary linearly through the depth. Concrete is elastic in compression and takes no tension, its principal
stresses keep the directions of its principal strains, without Poisson's effect; bars are elastic in tension and
compression at their true depths. The state of equilibrium is where the energy, which is convex, has its minimum:
Newton's method with the exact tangent. The depth is cut where a principal strain changes sign and where the
directions turn fastest; each part is integrated by itself.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.loops import copy, fill, fill_rows, finite, solve

Floats = NDArray[np.float64]
OK: Final = 0
NOT_CONVERGED: Final = 1
NO_EQUILIBRIUM: Final = 2
NOT_FINITE: Final = 3
TOLERANCE: Final = 1e-8  # of the largest resultant, n and 2 m/h
_MOST_STEPS: Final = 120
_MOST_CUTS: Final = 20
_FIRM: Final = 1e12  # of the stiffness of the whole section: damping past which a step cannot be solved
_TOO_FAR: Final = 1e6  # of the strain of plain concrete: past it a section counts as without equilibrium
_X, _W = np.polynomial.legendre.leggauss(5)
_TURNS: Final = np.array([1.5, 6.0, 24.0])
_G: Final = 1.0 / math.sqrt(3.0)


@dataclass(frozen=True)
class CrackedState:
    """State of cracked sections.

    Attributes
    ----------
    strain : ndarray, shape (..., 3)
        Strains at mid-depth eps_x, eps_y, gamma_xy [-].
    curvature : ndarray, shape (..., 3)
        kappa_x, kappa_y, kappa_xy [1/mm]; the strain at z is strain - z curvature.
    bar_stress : ndarray, shape (..., b)
        Stress of each bar layer [MPa], tension positive; nan where there is no bar.
    status : ndarray of int, shape (...)
        OK, NOT_CONVERGED, NO_EQUILIBRIUM or NOT_FINITE; strains and stresses are nan where it is not OK.
    residual : ndarray, shape (...)
        What is left of equilibrium, of the largest resultant (n and 2 m/h) [-].
    """

    strain: Floats
    curvature: Floats
    bar_stress: Floats
    status: NDArray[np.int64]
    residual: Floats

    def at(self, z: ArrayLike) -> Floats:
        """Strains (..., 3) at heights z (...) over mid-depth [mm]."""
        return np.asarray(self.strain - np.asarray(z, dtype=float)[..., None] * self.curvature)


@kernel
def _add_one(sums, at, value, w, first, second):
    sums[6 + at] += w * value
    sums[12 + at] -= first * value
    sums[18 + at] += second * value


@kernel
def _add(sums, w, zeta, nx, ny, nxy, k00, k01, k02, k11, k12, k22):
    """One concrete force with its tangent at zeta, of weight w."""
    first, second = w * zeta, w * zeta * zeta
    sums[0] += w * nx
    sums[1] += w * ny
    sums[2] += w * nxy
    sums[3] -= first * nx
    sums[4] -= first * ny
    sums[5] -= first * nxy
    _add_one(sums, 0, k00, w, first, second)
    _add_one(sums, 1, k01, w, first, second)
    _add_one(sums, 2, k02, w, first, second)
    _add_one(sums, 3, k11, w, first, second)
    _add_one(sums, 4, k12, w, first, second)
    _add_one(sums, 5, k22, w, first, second)


@kernel
def _insert(cuts, parts, zeta):
    """One more cut in its place, if it lies inside; gives the number of parts."""
    if not -1.0 < zeta < 1.0:
        return parts
    at = parts
    while cuts[at - 1] > zeta:
        cuts[at] = cuts[at - 1]
        at -= 1
    cuts[at] = zeta
    return parts + 1


@kernel
def _cuts(t0, t1, a0, a1, b0, b1, cuts):
    """Where to cut the depth, rising from -1 to 1; gives the number of parts."""
    cuts[0] = -1.0
    parts = 1
    # a principal strain is zero: t^2 = a^2 + b^2
    p = t1 * t1 - a1 * a1 - b1 * b1
    q = t0 * t1 - a0 * a1 - b0 * b1
    r = t0 * t0 - a0 * a0 - b0 * b0
    inside = q * q - p * r
    if inside > 0.0:
        root = q + math.copysign(math.sqrt(inside), q)
        parts = _insert(cuts, parts, root / p)
        parts = _insert(cuts, parts, r / root)
    else:  # where it comes nearest to zero: the cuts stay where they are as it begins to pass it
        parts = _insert(cuts, parts, q / p)
    # the directions turn within a few times `width` of `centre`
    bend = a1 * a1 + b1 * b1
    centre = (a0 * a1 + b0 * b1) / bend
    width = abs(a0 * b1 - b0 * a1) / bend
    parts = _insert(cuts, parts, centre)
    for i in range(_TURNS.size):
        parts = _insert(cuts, parts, centre - _TURNS[i] * width)
        parts = _insert(cuts, parts, centre + _TURNS[i] * width)
    cuts[parts] = 1.0
    return parts


@kernel
def _concrete(u, stiff, sums, cuts):
    """Sums of force and tangent of the concrete for strains u = (eps, kappa h/2) at zeta = 2 z/h; stiff is E_c h/2."""
    t0, a0, b0 = (u[0] + u[1]) / 2.0, (u[0] - u[1]) / 2.0, u[2] / 2.0
    t1, a1, b1 = (u[3] + u[4]) / 2.0, (u[3] - u[4]) / 2.0, u[5] / 2.0
    for part in range(_cuts(t0, t1, a0, a1, b0, b1, cuts)):
        half, middle = (cuts[part + 1] - cuts[part]) / 2.0, (cuts[part + 1] + cuts[part]) / 2.0
        t, a, b = t0 - middle * t1, a0 - middle * a1, b0 - middle * b1
        radius = math.sqrt(a * a + b * b)
        if t - radius >= 0.0 or half <= 0.0:
            continue
        if t + radius <= 0.0:  # compressed both ways, where two places are exact
            for side in range(2):
                zeta = middle + half * (_G if side else -_G)
                nx, ny, nxy = u[0] - zeta * u[3], u[1] - zeta * u[4], 0.5 * (u[2] - zeta * u[5])
                _add(sums, half * stiff, zeta, nx, ny, nxy, 1.0, 0.0, 0.0, 1.0, 0.0, 0.5)
            continue
        for g in range(5):
            zeta = middle + half * _X[g]
            t, a, b = t0 - zeta * t1, a0 - zeta * a1, b0 - zeta * b1
            radius = math.sqrt(a * a + b * b)
            if t - radius >= 0.0 or radius == 0.0:
                continue
            inverse = 1.0 / radius
            ca, cb = a * inverse, b * inverse
            s0, s1, s2 = 0.5 * (1.0 - ca), 0.5 * (1.0 + ca), -0.5 * cb
            pressed = t - radius
            turning = -0.25 * pressed * inverse
            aa, ab, bb = turning * ca * ca, turning * ca * cb, turning * cb * cb
            _add(
                sums, half * _W[g] * stiff, zeta, pressed * s0, pressed * s1, pressed * s2,
                s0 * s0 + bb, s0 * s1 - bb, s0 * s2 - ab, s1 * s1 + bb, s1 * s2 + ab, s2 * s2 + aa,
            )  # fmt: skip


@kernel
def _spread(sums, tangent):
    """The sums of the tangent in their places of the lower triangle (6, 6)."""
    m = 0
    for i in range(3):
        for j in range(i, 3):
            tangent[j, i] = sums[6 + m]
            tangent[3 + i, j] = sums[12 + m]
            tangent[3 + j, i] = sums[12 + m]
            tangent[3 + j, 3 + i] = sums[18 + m]
            m += 1


@kernel
def _respond(u, stiff, pull, stiffness, load, out, tangent, sums, cuts):
    """Force of the section less the load (6,), and its tangent; bars have gradients pull (b, 6), stiffness (b,)."""
    fill(sums, 0.0)
    _concrete(u, stiff, sums, cuts)
    _spread(sums, tangent)
    for i in range(6):
        out[i] = sums[i] - load[i]
    for b in range(stiffness.size):
        if stiffness[b] > 0.0:
            strain = 0.0
            for i in range(6):
                strain += pull[b, i] * u[i]
            for i in range(6):
                out[i] += stiffness[b] * strain * pull[b, i]
                for j in range(i + 1):
                    tangent[i, j] += stiffness[b] * pull[b, i] * pull[b, j]


@kernel
def _dot(a, b):
    total = 0.0
    for i in range(6):
        total += a[i] * b[i]
    return total


@kernel
def _size(vector):
    out = 0.0
    for i in range(vector.size):
        out = max(out, abs(vector[i]))
    return out


@large_kernel
def _settle(load, stiff, pull, stiffness, u, d, left, trial, rest, tangent, other, sums, cuts):
    """Newton's method from the uncracked section; gives the status and what is left of equilibrium."""
    size = _size(load)
    fill(u, 0.0)
    if size == 0.0:
        return OK, 0.0
    whole = np.empty(6)
    for i in range(6):
        whole[i] = stiff * (2.0 if i < 3 else 2.0 / 3.0) * (0.5 if i % 3 == 2 else 1.0)
    for b in range(stiffness.size):
        for i in range(6):
            whole[i] += max(stiffness[b], 0.0) * pull[b, i] ** 2
    for i in range(6):
        u[i] = load[i] / whole[i]
    _respond(u, stiff, pull, stiffness, load, left, tangent, sums, cuts)
    damping, off = 1e-10, _size(left) / size
    for _ in range(_MOST_STEPS):
        if off <= TOLERANCE:
            return OK, off
        if _size(u) * stiff > _TOO_FAR * size:
            return NO_EQUILIBRIUM, off
        solved = False
        while not solved and damping < _FIRM:
            for i in range(6):
                d[i] = -left[i]
                for j in range(i + 1):
                    other[i, j] = tangent[i, j]
                other[i, i] += damping * whole[i]
            solved = solve(other, d, 6)
            if not solved:
                damping *= 100.0
        if not solved:
            return NOT_CONVERGED, off
        # the energy is convex: its slope along the step rises; a step that ends past the minimum is drawn back
        start = _dot(left, d)
        low, high, at = 0.0, 0.0, 1.0
        low_slope, high_slope = start, 0.0
        for cut in range(_MOST_CUTS):
            for i in range(6):
                trial[i] = u[i] + at * d[i]
            _respond(trial, stiff, pull, stiffness, load, rest, tangent, sums, cuts)
            slope = _dot(rest, d)
            if slope <= -0.5 * start:
                if cut == 0:
                    damping = max(0.1 * damping, 1e-14)
                break
            high, high_slope = at, slope
            at = low + (high - low) * min(max(-low_slope / (high_slope - low_slope), 0.05), 0.7)
            damping = min(10.0 * damping, 1e-3)
        copy(trial, u)
        copy(rest, left)
        off = _size(left) / size
    return NOT_CONVERGED, off


@large_kernel
def _rows(loads, h, E_c, z, directions, stiffness, strains, stresses, status, residual):
    """All rows: loads (r, 6), h and E_c (r,), bars (r, b) with their stiffness A E [N/mm]."""
    count = z.shape[1]
    pull, load, u, d = np.empty((count, 6)), np.empty(6), np.empty(6), np.empty(6)
    left, trial, rest = np.empty(6), np.empty(6), np.empty(6)
    tangent, other = np.empty((6, 6)), np.empty((6, 6))
    sums, cuts = np.empty(24), np.empty(11)
    for row in range(loads.shape[0]):
        fill_rows(pull, 0.0)
        for b in range(count):
            if stiffness[row, b] > 0.0:
                c, s = math.cos(directions[row, b]), math.sin(directions[row, b])
                zeta = 2.0 * z[row, b] / h[row]
                pull[b, 0], pull[b, 1], pull[b, 2] = c * c, s * s, c * s
                pull[b, 3], pull[b, 4], pull[b, 5] = -zeta * c * c, -zeta * s * s, -zeta * c * s
        for i in range(3):
            load[i], load[3 + i] = loads[row, i], loads[row, 3 + i] * 2.0 / h[row]
        stiff = E_c[row] * h[row] / 2.0
        known = finite(load) and finite(stiffness[row]) and E_c[row] > 0.0 and 0.0 < stiff < np.inf
        if not known or not finite(pull.ravel()):
            status[row], residual[row] = NOT_FINITE, np.nan
            continue
        status[row], residual[row] = _settle(
            load, stiff, pull, stiffness[row], u, d, left, trial, rest, tangent, other,
            sums, cuts,
        )  # fmt: skip
        if status[row] == OK and not (finite(u) and finite(left)):
            status[row] = NOT_CONVERGED
        if status[row] != OK:
            continue
        for i in range(3):
            strains[row, i], strains[row, 3 + i] = u[i], u[3 + i] * 2.0 / h[row]
        for b in range(count):
            if stiffness[row, b] > 0.0:
                stresses[row, b] = _dot(pull[b], u)


def cracked_section(
    resultants: ArrayLike, h: ArrayLike, axes: ArrayLike, angles: ArrayLike, area: ArrayLike, *, E_c: ArrayLike,
    E_s: ArrayLike = 200_000.0,
) -> CrackedState:  # fmt: skip
    """Strains and bar stresses of cracked elastic sections in equilibrium with their resultants.

    Parameters
    ----------
    resultants : array_like, shape (..., 6) or more
        nx, ny, nxy [N/mm], mx, my, mxy [N]; further components are left out.
    h : array_like, shape (...)
        Thickness [mm].
    axes : array_like, shape (..., b)
        Distance of the bar axes from mid-depth, positive towards the bottom [mm]; nan where there is no bar.
    angles : array_like, shape (..., b)
        Directions of the bars from x towards y [rad].
    area : array_like, shape (..., b)
        Area of the bars [mm2/mm]; zero where there is no bar.
    E_c, E_s : array_like
        Moduli of concrete, shape (...), effective where it creeps, and of each bar layer, shape (..., b) [MPa].

    Returns
    -------
    CrackedState
        With a status for each section; nothing is raised where there is no equilibrium. NOT_FINITE tells a value that
        is no number, an area below zero, a bar outside the concrete, and a thickness or a modulus that is not more
        than zero.

    Notes
    -----
    Concrete displaced by bars is not deducted; tension between cracks is left to the clauses of crack width.

    References
    ----------
    Minimum potential energy of a section that is elastic in compression alone: tension field theory, Wagner 1929, with
    strains that vary linearly through the depth.

    Examples
    --------
    Pure tension along x is carried by the bars alone:

    >>> state = cracked_section([200, 0, 0, 0, 0, 0], 300, [100, 90, -100, -90], [0, 1.57, 0, 1.57], 1.0, E_c=33000)
    >>> state.bar_stress.round(1)
    array([100.,   0., 100.,   0.])
    """
    loads = np.asarray(resultants, dtype=float)[..., :6]
    e, turned, a_s, E = np.broadcast_arrays(*(np.asarray(v, dtype=float) for v in (axes, angles, area, E_s)))
    shape = np.broadcast_shapes(loads.shape[:-1], np.shape(h), np.shape(E_c), e.shape[:-1])
    bars = e.shape[-1]
    there = np.isfinite(e) & (a_s > 0.0)
    outside = there & (np.abs(np.nan_to_num(e)) > np.asarray(h, dtype=float)[..., None] / 2.0)
    wrong = ~((a_s >= 0.0) & (E > 0.0)) | outside

    def row(v: ArrayLike) -> Floats:
        return np.array(np.broadcast_to(np.asarray(v, dtype=float), shape)).reshape(-1)

    def rows(v: ArrayLike, width: int) -> Floats:
        return np.array(np.broadcast_to(v, (*shape, width))).reshape(-1, width)

    count = math.prod(shape)
    strains, stresses = np.full((count, 6), np.nan), np.full((count, bars), np.nan)
    status, residual = np.zeros(count, dtype=np.int64), np.zeros(count)
    _rows(
        rows(loads, 6), row(h), row(E_c), rows(-np.nan_to_num(e), bars), rows(turned, bars),
        rows(np.where(wrong, np.nan, np.where(there, a_s * E, 0.0)), bars), strains, stresses, status, residual,
    )  # fmt: skip
    strains = strains.reshape(*shape, 6)
    return CrackedState(
        strains[..., :3], strains[..., 3:], stresses.reshape(*shape, bars) * E, status.reshape(shape),
        residual.reshape(shape),
    )  # fmt: skip
