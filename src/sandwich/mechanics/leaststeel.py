"""Minimum steel of a section in many layers, as a cone program with the bound by its mechanisms."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.certificate import layered_bound
from sandwich.mechanics.cones import LAYERS, concrete_cones, dyads_of, equal_layers, programs, solve_cones

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LeastSteel:
    """Minimum bars of a section in many layers.

    Attributes
    ----------
    total, bound : float
        Weighted total [N/mm], inf where no bars suffice, and the one that no field in any layers goes below.
    forces : ndarray, shape (b,)
        Strengths A_s f_y of the bars [N/mm].
    bars : ndarray, shape (k, b)
        Bar forces in each combination [N/mm].
    concrete : ndarray, shape (k, layers, 3)
        Stresses of the layers from the bottom up [MPa].
    fc : ndarray, shape (layers,)
        Strength that the layers count on [MPa].
    """

    total: float
    bound: float
    forces: Floats
    bars: Floats
    concrete: Floats
    fc: Floats


def optimum_steel(
    resultants: ArrayLike,
    h: float,
    e: ArrayLike,
    angles: ArrayLike,
    fc: ArrayLike,
    *,
    weights: ArrayLike | None = None,
    compressed_bars: float = 1.0,
    layers: int = LAYERS,
) -> LeastSteel:
    """Minimum bars with which a section in many layers carries all of several resultants.

    Parameters
    ----------
    resultants : array_like, shape (6,) or (k, 6)
        nx ny nxy [N/mm], mx my mxy [N] of each combination.
    h : float
        Thickness [mm].
    e, angles : array_like, shape (b,)
        Bar axes, positive towards the bottom [mm], and directions [rad].
    fc : array_like, shape () or (layers,)
        Strength of the concrete, of each layer from the bottom up where they differ [MPa].
    weights : array_like, shape (b,), optional
        Weight of each bar in the total; 1 by default.
    compressed_bars : float
        Part of their strength that bars carry in compression [-]; zero for bars in tension only.
    layers : int
        Layers of constant stress.

    Returns
    -------
    LeastSteel
        Bars with the fields that prove them enough, and the bound by the mechanisms dual to these.

    References
    ----------
    Lower and upper bound theorems of limit analysis, as a second-order cone program.

    Examples
    --------
    >>> minimum = optimum_steel([0, 0, 0, 60e3, 0, 0], 250.0, [90.0], [0.0], 15.0, compressed_bars=0.0)
    >>> round(minimum.bound, 1), round(minimum.total, 1)
    (292.1, 292.5)
    """
    clarabel, sparse = programs()
    loads = np.atleast_2d(np.asarray(resultants, dtype=float))
    e, angles = np.asarray(e, dtype=float), np.asarray(angles, dtype=float)
    k, b = len(loads), e.size
    y, t = h * equal_layers(layers)[0], h / layers
    profile = np.broadcast_to(np.asarray(fc, dtype=float), (layers,))
    top = float(profile.max())
    units = np.array([1.0, 1.0, 1.0, h, h, h]) * top * h
    size = b + k * b + 3 * layers * k
    first = b + k * b
    balance, limit = np.zeros((6 * k, size)), np.zeros((2 * k * b, size))
    dyads = dyads_of(angles)
    for c in range(k):
        bars = slice(b + c * b, b + (c + 1) * b)
        balance[6 * c : 6 * c + 3, bars] = dyads
        balance[6 * c + 3 : 6 * c + 6, bars] = dyads * e / h
        start = first + 3 * layers * c
        for i in range(3):
            balance[6 * c + i, start + i : start + 3 * layers : 3] = t / h
            balance[6 * c + 3 + i, start + i : start + 3 * layers : 3] = t * y / h**2
        limit[2 * b * c : 2 * b * c + b, bars] = np.eye(b)
        limit[2 * b * c : 2 * b * c + b, :b] = -np.eye(b)
        limit[2 * b * c + b : 2 * b * (c + 1), bars] = -np.eye(b)
        limit[2 * b * c + b : 2 * b * (c + 1), :b] = -compressed_bars * np.eye(b)
    rows, right, cones = concrete_cones(k, profile / top, first, size)
    price = np.zeros(size)
    weight = np.ones(b) if weights is None else np.asarray(weights, dtype=float)
    price[:b] = weight
    found = solve_cones(
        price,
        [sparse.csc_matrix(balance), sparse.csc_matrix(limit), *rows],
        [(loads / units).ravel(), np.zeros(2 * k * b), *right],
        [clarabel.ZeroConeT(6 * k), *([clarabel.NonnegativeConeT(2 * k * b)] if b else []), *cones],
    )
    mechanisms = -np.array(found.z)[: 6 * k].reshape(k, 6) / np.array([1.0, 1.0, 1.0, h, h, h])
    bound = layered_bound(loads, h, e, angles, profile, mechanisms, weights=weight, pressed=compressed_bars)
    if "Solved" not in str(found.status):
        nothing = np.full((k, layers, 3), np.nan)
        return LeastSteel(np.inf, bound, np.full(b, np.nan), np.full((k, b), np.nan), nothing, profile)
    x = np.array(found.x)
    forces, concrete = x[:b] * top * h, x[first:].reshape(k, layers, 3) * top
    return LeastSteel(float(weight @ forces), bound, forces, x[b:first].reshape(k, b) * top * h, concrete, profile)
