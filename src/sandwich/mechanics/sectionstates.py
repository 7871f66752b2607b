"""Kernel of plane sections: resultants of concrete and bars at ultimate strain planes."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.compiled import kernel, large_kernel

Floats = NDArray[np.float64]
NEAREST: Final = 1e-9  # p at which all bars pull
FLAT: Final = 1e-11  # 1/mm: curvature that an even plane is taken with
UNIFORM: Final = 1e-4  # 2 - p at which the strain counts as uniform
_GAUSS = np.polynomial.legendre.leggauss(4)
ABSCISSAE: Final = (_GAUSS[0] + 1.0) / 2.0
WEIGHTS: Final = _GAUSS[1] / 2.0


@kernel
def stress_at(strain: float, stress: float, eps_c: float, n: float) -> Any:
    """Stress of concrete at a compressive strain [MPa]: a parabola of exponent n and a rectangle, a block for 0."""
    if n == 0.0:
        return stress if strain >= eps_c else 0.0
    left = 1.0 - min(max(strain / eps_c, 0.0), 1.0)
    power = left * left if n == 2.0 else left**n
    return stress * (1.0 - power)


@kernel
def stress_integrals(strain: float, stress: float, eps_c: float, n: float) -> Any:
    """Integrals of the stress, and of stress times strain, from zero to a compressive strain [MPa]."""
    beyond = max(strain, eps_c)
    flat, first = beyond - eps_c, (beyond * beyond - eps_c * eps_c) / 2.0
    if n == 0.0:
        return stress * flat, stress * first
    e = min(max(strain, 0.0), eps_c)
    left = 1.0 - e / eps_c
    power = left * left * left if n == 2.0 else left ** (n + 1.0)
    bent = e + eps_c / (n + 1.0) * (power - 1.0)
    own = e * e / 2.0 - eps_c * eps_c * ((1.0 - power) / (n + 1.0) - (1.0 - power * left) / (n + 2.0))
    return stress * (bent + flat), stress * (own + first)


@kernel
def plane_forces(
    cos: float, sin: float, top: float, most: float, kappa: float, from_: Floats, to: Floats, bars: Floats,
    area: Floats, concrete: Floats, steel: Floats, net: bool, abscissae: Floats, weights: Floats,
) -> Any:  # fmt: skip
    """N, M_x, M_y of a strain plane, and the least compressive strain of a bar.

    The plane rises towards (cos, sin) by the curvature kappa, up to the strain `most` at the distance `top`.
    """
    # about the most compressed corner: nothing cancels where all is flat
    stress, eps_c, n = concrete[0], concrete[1], concrete[4]
    strength, E_s = steel[0], steel[1]
    f_most, g_most = stress_integrals(most, stress, eps_c, n)
    force, first, second = 0.0, 0.0, 0.0
    for i in range(len(from_)):
        s1, s2 = from_[i, 0] * cos + from_[i, 1] * sin, to[i, 0] * cos + to[i, 1] * sin
        t1, t2 = from_[i, 1] * cos - from_[i, 0] * sin, to[i, 1] * cos - to[i, 0] * sin
        if t1 == t2:
            continue
        e1, e2 = most - kappa * (top - s1), most - kappa * (top - s2)
        a = b = 0.0
        if e1 != e2:  # a side is cut where the law changes
            a = min(max((0.0 - e1) / (e2 - e1), 0.0), 1.0)
            b = min(max((eps_c - e1) / (e2 - e1), 0.0), 1.0)
        low = 0.0
        for part in range(3):
            high = min(a, b) if part == 0 else max(a, b) if part == 1 else 1.0
            if high > low:
                for q in range(4):
                    at = low + (high - low) * abscissae[q]
                    f, g = stress_integrals(max(e1 + (e2 - e1) * at, 0.0), stress, eps_c, n)
                    share = weights[q] * (high - low) * (t2 - t1)
                    f -= f_most
                    force += share * f
                    first += share * (g - g_most - most * f)
                    second += share * f * (t1 + (t2 - t1) * at)
            low = high
    force, first, second = force / kappa, top * force / kappa + first / (kappa * kappa), second / kappa
    N, Mx, My = -force, -(first * sin + second * cos), first * cos - second * sin
    lowest = np.inf
    for j in range(len(bars)):
        strain = most - kappa * (top - (bars[j, 0] * cos + bars[j, 1] * sin))
        lowest = min(lowest, strain)
        carried = min(max(E_s * strain, -strength), strength)
        if net:
            carried -= stress_at(strain, stress, eps_c, n)
        carried *= area[j]
        N -= carried
        Mx -= carried * bars[j, 1]
        My += carried * bars[j, 0]
    return N, Mx, My, lowest


@kernel
def state_at(
    theta: float, p: float, from_: Floats, to: Floats, bars: Floats, area: Floats, concrete: Floats, steel: Floats,
    net: bool, abscissae: Floats, weights: Floats,
) -> Any:  # fmt: skip
    """N, M_x, M_y, depth of the neutral axis and strain of the most pulled bar of one ultimate state."""
    eps_cu, eps_uniform = concrete[2], concrete[3]
    cos, sin = np.cos(theta), np.sin(theta)
    top, bottom = -np.inf, np.inf
    for i in range(len(from_)):
        s = from_[i, 0] * cos + from_[i, 1] * sin
        top, bottom = max(top, s), min(bottom, s)
    h = top - bottom
    c = max(p, NEAREST) * h if p <= 1.0 else h / max(2.0 - p, UNIFORM)
    pivot = (1.0 - eps_uniform / eps_cu) * h
    most = eps_cu if c <= h else eps_uniform * c / max(c - pivot, 1e-300)
    kappa = most / c
    N, Mx, My, lowest = plane_forces(
        cos, sin, top, most, kappa, from_, to, bars, area, concrete, steel, net, abscissae, weights
    )
    return N, Mx, My, c, -lowest if len(bars) else np.nan


@large_kernel
def section_states(
    theta: Floats, p: Floats, from_: Floats, to: Floats, bars: Floats, area: Floats, concrete: Floats, steel: Floats,
    net: bool, abscissae: Floats, weights: Floats,
) -> Any:  # fmt: skip
    """Resultants of ultimate states: N, M_x, M_y, depth of the neutral axis, strain of the most pulled bar, (s, 5).

    `concrete` is stress, eps_c, eps_cu, eps_uniform, n, and `steel` strength and modulus; see `planesection`.
    """
    out = np.empty((len(theta), 5))
    for k in range(len(theta)):
        if not (np.isfinite(theta[k]) and np.isfinite(p[k])):
            out[k] = np.nan  # no state
            continue
        N, Mx, My, c, eps_t = state_at(theta[k], p[k], from_, to, bars, area, concrete, steel, net, abscissae, weights)
        out[k, 0], out[k, 1], out[k, 2], out[k, 3], out[k, 4] = N, Mx, My, c, eps_t
    return out


@large_kernel
def plane_resultants(
    planes: Floats, from_: Floats, to: Floats, bars: Floats, area: Floats, concrete: Floats, steel: Floats, net: bool,
    abscissae: Floats, weights: Floats,
) -> Any:  # fmt: skip
    """N, M_x, M_y of strain planes (s, 3): compressive strain at the centroid and its slopes, shape (s, 3)."""
    out = np.empty((len(planes), 3))
    for k in range(len(planes)):
        slope = np.hypot(planes[k, 1], planes[k, 2])
        kappa = max(slope, FLAT)
        cos, sin = (planes[k, 1] / slope, planes[k, 2] / slope) if slope > 0.0 else (1.0, 0.0)
        top = -np.inf
        for i in range(len(from_)):
            top = max(top, from_[i, 0] * cos + from_[i, 1] * sin)
        N, Mx, My, _ = plane_forces(
            cos, sin, top, planes[k, 0] + kappa * top, kappa, from_, to, bars, area, concrete, steel, net, abscissae,
            weights,
        )  # fmt: skip
        out[k, 0], out[k, 1], out[k, 2] = N, Mx, My
    return out
