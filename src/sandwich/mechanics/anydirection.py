"""Steel of in-plane forces for bars in any two or more directions, for one tensor or many together."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel
from sandwich.mechanics.loops import copy, fill, fill_rows, filled, finite
from sandwich.mechanics.optimumbars import GAP, NOTHING, evenly, optimum_bars, start

Floats = NDArray[np.float64]
CLOSEST = np.radians(15.0)  # bars closer in direction than this do not count as two


class Bars(NamedTuple):
    """Bar forces (p, b), totals (p,) and lower bounds (p,) of p points [N/mm]; nan where there is no field."""

    forces: Floats
    total: Floats
    bound: Floats

    @property
    def gap(self) -> Floats:
        """Total over the lower bound, minus 1."""
        return np.asarray(
            np.where(self.bound > 0.0, self.total / np.where(self.bound > 0.0, self.bound, 1.0) - 1.0, 0.0)
        )


@kernel
def _rows(tensors, along, weight, forces, total, bound):
    p, k, _ = tensors.shape
    b = weight.size
    share, most = np.empty((k, b)), filled(b, np.inf)
    fill_rows(share, 1.0)
    price, s, f = np.empty((k, 3)), np.empty((k, 3)), np.empty(b)
    for row in range(p):
        fill(forces[row], np.nan)
        total[row], bound[row] = np.nan, np.nan
        # nothing but compression asks for nothing
        needed = False
        whole = True
        for j in range(k):
            whole = whole and finite(tensors[row, j])
            x, y, q = tensors[row, j, 0], tensors[row, j, 1], tensors[row, j, 2]
            if 0.5 * (x + y) + np.hypot(0.5 * (x - y), q) > NOTHING:
                needed = True
        if whole and not needed:
            fill(forces[row], 0.0)
            total[row], bound[row] = 0.0, 0.0
        if not (whole and needed) or not start(tensors[row], share, along, f, s):
            continue
        found, low, rounds = optimum_bars(tensors[row], share, along, weight, most, f, price, GAP)
        if rounds > 0 or found - low <= 1e-7 * found:
            evenly(along, weight, f)
            copy(f, forces[row])
            total[row], bound[row] = found, low


def optimum_forces(tensors: ArrayLike, angles: ArrayLike, *, weights: ArrayLike | None = None) -> Bars:
    """Bar forces of minimum weighted total that serve all tensors of a point together.

    Parameters
    ----------
    tensors : array_like, shape (p, 3) or (p, k, 3)
        nx ny nxy [N/mm], tension positive, of p points, for one or k combinations.
    angles : array_like, shape (b,)
        Directions of the bars from x towards y [rad]; two of them at least 15 degrees apart.
    weights : array_like, shape (b,), optional
        Weight of each bar in the total; 1 by default.

    Returns
    -------
    Bars
        Forces, totals and lower bounds [N/mm]; nan where a tensor is not finite.

    Raises
    ------
    ValueError
        If the directions do not hold every tensor, or a weight is not positive.

    References
    ----------
    M. P. Nielsen, Limit Analysis and Concrete Plasticity, 1984: sum f_i d_i d_i^T - N has no negative
    eigenvalue; interior point method after C. Helmberg et al., SIAM Journal on Optimization 6, 1996.

    Examples
    --------
    >>> optimum_forces([[100.0, -20.0, 50.0]], [0.0, np.pi / 2]).forces.round(3)
    array([[150.,  30.]])
    """
    t = np.asarray(tensors, dtype=float)
    t = np.ascontiguousarray(t[:, None] if t.ndim == 2 else t)
    direction = np.asarray(angles, dtype=float)
    weight = np.ones(direction.size) if weights is None else np.array(weights, dtype=float)
    check_directions(direction)
    if not np.all(weight > 0.0):
        raise ValueError(f"weights are {weight.tolist()}; every one more than zero is wanted")
    along = np.stack([np.cos(direction), np.sin(direction)], axis=-1)
    forces, total, bound = np.empty((len(t), weight.size)), np.empty(len(t)), np.empty(len(t))
    _rows(t, along, weight, forces, total, bound)
    return Bars(forces, total, bound)


def check_directions(angles: Floats) -> None:
    """Refuse directions of which no two are 15 degrees apart [rad]."""
    if angles.ndim != 1 or not np.isfinite(angles).all():
        raise ValueError(f"angles are {angles.tolist()}; a list of directions in radians is wanted")
    apart = np.abs(np.sin(angles[:, None] - angles[None]))
    if angles.size < 2 or apart.max() < np.sin(CLOSEST) - 1e-9:
        found = ", ".join(f"{v:g}" for v in np.degrees(angles))
        raise ValueError(f"bars run at {found} degrees; two directions 15 degrees apart or more are wanted")
