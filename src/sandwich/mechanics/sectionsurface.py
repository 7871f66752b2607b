"""Kernels of the strength surface of sections: the facet that meets a demand, the way out of it along the axis."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from sandwich.core.compiled import large_kernel

Floats = NDArray[np.float64]


@large_kernel
def meet_surface(
    places: Floats, N: Floats, Mx: Floats, My: Floats, demands: Floats, sizes: Floats, along_ray: bool
) -> Any:
    """The largest moment of the surface's facets that meets each demand.

    Parameters
    ----------
    places, N, Mx, My : ndarray, shape (w, q)
        Places, axial forces and moments of the states of a surface, w ways of q places.
    demands : ndarray, shape (k, 3)
        N, M_x, M_y.
    sizes : ndarray, shape (2,)
        Axial force and moment that the surface is about as large as.
    along_ray : bool
        Whether the demand grows with its axial force, or at it.

    Returns
    -------
    ndarray, shape (k, 4)
        Way and the share to the next one, place, and the moment; nan where no facet meets it.
    """
    ways, count = places.shape
    out = np.full((len(demands), 4), np.nan)
    at = np.empty((ways, 3))
    for k in range(len(demands)):
        force, mx, my = demands[k, 0], demands[k, 1], demands[k, 2]
        size = np.hypot(mx, my)
        ux, uy = (mx / size, my / size) if size > 0.0 else (1.0, 0.0)
        for w in range(ways):
            at[w, 0] = np.nan
            most = -np.inf
            for j in range(count - 1):
                low, high = N[w, j] - force, N[w, j + 1] - force
                along, next_ = Mx[w, j] * ux + My[w, j] * uy, Mx[w, j + 1] * ux + My[w, j + 1] * uy
                if along_ray:
                    low, high = N[w, j] * size - force * along, N[w, j + 1] * size - force * next_
                if (low < 0.0) == (high < 0.0):
                    continue
                share = low / (low - high)
                if along_ray:
                    ahead = (N[w, j] * (1.0 - share) + N[w, j + 1] * share) * force / (sizes[0] * sizes[0])
                    ahead += (along * (1.0 - share) + next_ * share) * size / (sizes[1] * sizes[1])
                    if ahead <= 0.0:
                        continue
                moment = np.hypot(Mx[w, j], My[w, j]) * (1.0 - share) + np.hypot(Mx[w, j + 1], My[w, j + 1]) * share
                if moment > most:
                    most = moment
                    x = Mx[w, j] * (1.0 - share) + Mx[w, j + 1] * share
                    y = My[w, j] * (1.0 - share) + My[w, j + 1] * share
                    at[w, 0], at[w, 1] = x * ux + y * uy, y * ux - x * uy
                    at[w, 2] = places[w, j] * (1.0 - share) + places[w, j + 1] * share
        best = -np.inf
        for w in range(ways):
            v = w + 1 if w + 1 < ways else 0
            side, other = at[w, 1], at[v, 1]
            if not (np.isfinite(at[w, 0]) and np.isfinite(at[v, 0])) or side * other > 0.0:
                continue
            turn = min(max(side / (side - other), 0.0), 1.0) if side != other else 0.0
            reached = at[w, 0] * (1.0 - turn) + at[v, 0] * turn
            if reached > 0.0 and reached > best:
                best = reached
                out[k, 0], out[k, 1], out[k, 3] = w, turn, reached
                out[k, 2] = at[w, 2] * (1.0 - turn) + at[v, 2] * turn
    return out


@large_kernel
def leaves_axis(N: Floats, Mx: Floats, My: Floats, limit: float, halvings: int) -> float:
    """Axial force up to a limit at which the axis without moments leaves a surface of w ways of q places [N].

    It lies within where the contour on the chords of the facets runs round it.
    """
    ways, count = N.shape
    angle = np.empty(ways)
    low, high = 0.0, 1.0
    for _ in range(halvings):
        middle = (low + high) / 2.0
        within = True
        for w in range(ways):
            most = -np.inf
            for j in range(count - 1):
                before, after = N[w, j] - middle * limit, N[w, j + 1] - middle * limit
                if (before > 0.0) == (after > 0.0):
                    continue
                share = min(max(before / (before - after), 0.0), 1.0)
                x = Mx[w, j] * (1.0 - share) + Mx[w, j + 1] * share
                y = My[w, j] * (1.0 - share) + My[w, j + 1] * share
                if np.hypot(x, y) > most:
                    most = np.hypot(x, y)
                    angle[w] = np.arctan2(y, x)
            if most < 0.0:
                within = False
                break
        if within:
            turn = 0.0
            for w in range(ways):
                step = angle[(w + 1) % ways] - angle[w]
                turn += step - 2.0 * np.pi * np.round(step / (2.0 * np.pi))
            within = abs(turn) > np.pi
        low, high = (middle, high) if within else (low, middle)
    return low * limit
