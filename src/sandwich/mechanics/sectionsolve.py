"""Kernel of sections: the state on the surface of resistance that meets a demand, by Newton's method."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.compiled import kernel, large_kernel
from sandwich.mechanics.sectionstates import state_at

Floats = NDArray[np.float64]
STEPS: Final = 10
CLOSE: Final = 1e-8  # of the size of the surface: a solution
BY: Final = 1e-7  # by which way and place are moved for the slopes


@kernel
def reduced(eps_t: float, turns: Floats) -> Any:
    """Factor on the resistance [-]: linear between the strains turns[0] and turns[1], from turns[2] to turns[3]."""
    if np.isnan(eps_t):
        return turns[2]
    share = min(max((eps_t - turns[0]) / (turns[1] - turns[0]), 0.0), 1.0)
    return turns[2] + (turns[3] - turns[2]) * share


@large_kernel
def meet_demands(
    demands: Floats, ways: Floats, places: Floats, sizes: Floats, extents: Floats, turns: Floats, along_ray: bool,
    step: float, from_: Floats, to: Floats, bars: Floats, area: Floats, concrete: Floats, steel: Floats, net: bool,
    abscissae: Floats, weights: Floats,
) -> Any:  # fmt: skip
    """Way, place and whether the state there meets the demand (k, 3), from ways and places near it.

    `demands` are N, M_x, M_y (k, 3), `sizes` the force and moment that residuals are held against, `extents` width and
    depth of the section, `turns` as `reduced` takes them, `step` the largest change of a way; see `planesection`.
    """
    out = np.empty((len(demands), 3))
    r = np.empty((3, 2))
    for k in range(len(demands)):
        force, mx, my = demands[k, 0], demands[k, 1], demands[k, 2]
        way, p, met = ways[k], places[k], np.nan if np.isnan(ways[k]) else 0.0
        size = np.hypot(mx, my)
        ux, uy = (mx / size, my / size) if size > 0.0 else (1.0, 0.0)
        scale = max(abs(force) * sizes[1] + size * sizes[0], 1e-300)
        for _ in range(STEPS):
            if met != 0.0:
                break
            dp = BY * max(p, 1e-3) * (-1.0 if p > 1.9 else 1.0)
            for q in range(3):
                at = way + (BY if q == 1 else 0.0)
                theta = np.arctan2(np.sin(at) / extents[1], np.cos(at) / extents[0])
                N, Mx, My, _, eps_t = state_at(
                    theta, p + (dp if q == 2 else 0.0), from_, to, bars, area, concrete, steel, net, abscissae, weights
                )
                phi = reduced(eps_t, turns)
                N, Mx, My = phi * N, phi * Mx, phi * My
                along = Mx * ux + My * uy
                r[q, 0] = (N * size - force * along) / scale if along_ray else (N - force) / sizes[0]
                r[q, 1] = (My * ux - Mx * uy) / sizes[1]
            if abs(r[0, 0]) < CLOSE and abs(r[0, 1]) < CLOSE:
                met = 1.0
                break
            a0, a1 = (r[1, 0] - r[0, 0]) / BY, (r[1, 1] - r[0, 1]) / BY
            b0, b1 = (r[2, 0] - r[0, 0]) / dp, (r[2, 1] - r[0, 1]) / dp
            det = a0 * b1 - a1 * b0
            turn, move = -(r[0, 0] * b1 - r[0, 1] * b0) / det, -(a0 * r[0, 1] - a1 * r[0, 0]) / det
            room = 0.3 * min(max(p, 1e-6), max(2.0 - p, 1e-6))
            if np.isfinite(turn):
                way += min(max(turn, -step), step)
            if np.isfinite(move):
                p = min(max(p + min(max(move, -room), room), 0.0), 2.0)
        out[k, 0], out[k, 1], out[k, 2] = way, p, met
    return out
