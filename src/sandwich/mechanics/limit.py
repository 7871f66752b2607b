"""Limit analysis of a section in many layers: load factor of given bars, minimum steel, as cone programs.

The section is cut into layers of constant stress, which is a field in equilibrium: the load factor found is one
the section reaches (lower bound). The mechanism dual to it, with its work integrated through the depth, gives
the factor it cannot pass (upper bound).
"""

from __future__ import annotations

import functools
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.certificate import layered_bound, sides_of

Floats = NDArray[np.float64]
LAYERS: Final = 40
_FINE: Final = 4000  # points through the depth for the work of a mechanism
UNLIMITED: Final = np.inf


@dataclass(frozen=True)
class LimitState:
    """Limit state of a section.

    Attributes
    ----------
    lower, upper : float
        Load factor reached by a stress field, and that of the mechanism; inf without loads, nan without a field.
    bars : ndarray, shape (b,)
        Bar forces [N/mm].
    concrete : ndarray, shape (layers, 3)
        Stresses of the layers from the bottom up [MPa].
    mechanism : ndarray, shape (6,)
        Strains of mid-depth eps_x, eps_y, gamma_xy and curvatures [1/mm] of the failure.
    fc : ndarray, shape (layers,)
        Strength that the layers count on [MPa].
    """

    lower: float
    upper: float
    bars: Floats
    concrete: Floats
    mechanism: Floats
    fc: Floats


@functools.cache
def _programs() -> tuple[Any, Any]:
    """The solver of cone programs and its matrices, which take a while to import."""
    import clarabel
    from scipy import sparse

    return clarabel, sparse


def _dyads(angles: Floats) -> Floats:
    c, s = np.cos(angles), np.sin(angles)
    return np.stack([c * c, s * s, c * s])


def _concrete(count: int, fc: Floats, first: int, size: int) -> tuple[list[Any], list[Floats], list[Any]]:
    """Cones of `count` fields of layer stresses from variable `first` on: none in tension, none above fc (layers,)."""
    clarabel, _ = _programs()
    number = len(fc) * count
    right = []
    for offset in (0.0 * fc, 2.0 * fc):
        b = np.zeros(3 * number)
        b[::3] = np.tile(offset, count)
        right.append(b)
    return _cone_rows(number, first, size), right, [clarabel.SecondOrderConeT(3)] * (2 * number)


@functools.lru_cache(maxsize=32)
def _cone_rows(number: int, first: int, size: int) -> list[Any]:
    """Rows of the cones of `number` tensors: first those of no tension, then those of the strength."""
    _, sparse = _programs()
    # (a, b, c): trace, difference, twice the shear
    map3 = np.array([[1.0, 1.0, 0.0], [1.0, -1.0, 0.0], [0.0, 0.0, 2.0]])
    eye = np.eye(number)
    free_of_tension = sparse.kron(eye, map3 * np.array([[1.0], [1.0], [1.0]]))
    within = sparse.kron(eye, map3 * np.array([[-1.0], [1.0], [1.0]]))
    rows = []
    for block in (free_of_tension, within):
        whole = sparse.csc_matrix((3 * number, size)).tolil()
        whole[:, first : first + 3 * number] = block
        rows.append(whole.tocsc())
    return rows


def _solve(price: Floats, rows: list[Any], right: list[Floats], cones: list[Any]) -> Any:
    clarabel, sparse = _programs()
    options = clarabel.DefaultSettings()
    options.verbose = False
    options.tol_gap_abs = options.tol_gap_rel = options.tol_feas = 1e-9
    size = price.size
    solver = clarabel.DefaultSolver(
        sparse.csc_matrix((size, size)),
        price,
        sparse.csc_matrix(sparse.vstack(rows)),
        np.concatenate(right),
        cones,
        options,
    )
    return solver.solve()


def equal_layers(count: int) -> tuple[Floats, Floats]:
    """Middles of equal layers from the bottom up, positive towards the bottom, and their thickness, both over h."""
    return 0.5 - (np.arange(count) + 0.5) / count, np.full(count, 1.0 / count)


def load_factor(
    resultants: ArrayLike,
    h: float,
    e: ArrayLike,
    angles: ArrayLike,
    force: ArrayLike,
    fc: ArrayLike,
    *,
    compressed_bars: float = 1.0,
    layers: int = LAYERS,
) -> LimitState:
    """Largest factor on resultants that a section with given bars carries.

    Parameters
    ----------
    resultants : array_like, shape (6,)
        nx ny nxy [N/mm], mx my mxy [N].
    h : float
        Thickness [mm].
    e, angles, force : array_like, shape (b,)
        Bar axes, positive towards the bottom [mm], directions [rad], strengths A_s f_y [N/mm].
    fc : array_like, shape () or (layers,)
        Strength of the concrete, of each layer from the bottom up where they differ [MPa].
    compressed_bars : float
        Part of their strength that bars carry in compression [-]; zero for bars in tension only.
    layers : int
        Layers of constant stress.

    Returns
    -------
    LimitState
        Factors with the field and the mechanism that prove them.

    References
    ----------
    Lower and upper bound theorems of limit analysis; concrete by principal stresses in [-fc, 0].

    Examples
    --------
    >>> state = load_factor([100.0, 0, 0, 0, 0, 0], 200.0, [0.0], [0.0], [250.0], 20.0)
    >>> round(state.lower, 3)
    2.5
    """
    clarabel, sparse = _programs()
    load = np.asarray(resultants, dtype=float)
    e, angles, force = (np.asarray(v, dtype=float) for v in (e, angles, force))
    b = e.size
    y, t = h * equal_layers(layers)[0], h / layers
    profile = np.broadcast_to(np.asarray(fc, dtype=float), (layers,))
    top = float(profile.max())
    units = np.array([1.0, 1.0, 1.0, h, h, h]) * top * h  # equations and loads in parts of the section's strength
    scaled = load / units
    largest = float(np.abs(scaled).max(initial=0.0))
    if largest == 0.0:
        return LimitState(UNLIMITED, UNLIMITED, np.zeros(b), np.zeros((layers, 3)), np.zeros(6), profile)
    scaled = scaled / largest
    size = 1 + b + 3 * layers
    balance = np.zeros((6, size))
    balance[:, 0] = scaled
    dyads = _dyads(angles)
    balance[:3, 1 : 1 + b] = -dyads
    balance[3:, 1 : 1 + b] = -dyads * e / h
    for i in range(3):
        balance[i, 1 + b + i :: 3] = -t / h
        balance[3 + i, 1 + b + i :: 3] = -t * y / h**2
    limit = np.zeros((2 * b, size))
    limit[:b, 1 : 1 + b] = np.eye(b)
    limit[b:, 1 : 1 + b] = -np.eye(b)
    least = compressed_bars * force
    rows, right, cones = _concrete(1, profile / top, 1 + b, size)
    price = np.zeros(size)
    price[0] = -1.0
    found = _solve(
        price,
        [sparse.csc_matrix(balance), sparse.csc_matrix(limit), *rows],
        [np.zeros(6), np.concatenate([force, least]) / (top * h), *right],
        [clarabel.ZeroConeT(6), clarabel.NonnegativeConeT(2 * b), *cones],
    )
    x = np.array(found.x)
    if "Solved" not in str(found.status):
        nothing = np.full(6, np.nan)
        return LimitState(np.nan, np.nan, np.full(b, np.nan), np.full((layers, 3), np.nan), nothing, profile)
    mechanism = np.array(found.z)[:6] / np.array([1.0, 1.0, 1.0, h, h, h])
    upper = _upper(load, h, e, dyads, force, least, profile, mechanism)
    concrete = x[1 + b :].reshape(layers, 3) * top
    return LimitState(float(x[0]) / largest, upper, x[1 : 1 + b] * top * h, concrete, mechanism, profile)


def cracked_load_factor(
    resultants: ArrayLike,
    h: float,
    e: ArrayLike,
    angles: ArrayLike,
    force: ArrayLike,
    fc_cracked: float,
    fc_whole: float,
    *,
    layers: int = LAYERS,
) -> LimitState:
    """Largest factor by a field that counts on whole concrete only in a half whose bars do not pull.

    Parameters
    ----------
    resultants : array_like, shape (6,)
        nx ny nxy [N/mm], mx my mxy [N].
    h : float
        Thickness [mm].
    e, angles, force : array_like, shape (b,)
        Bar axes, positive towards the bottom [mm], directions [rad], strengths A_s f_y in tension [N/mm].
    fc_cracked, fc_whole : float
        Strength of cracked and of whole concrete [MPa].
    layers : int
        Layers of constant stress, an even number.

    Returns
    -------
    LimitState
        The best of four states, each half cracked or whole. Bars of a whole half, and bars at mid-depth where both
        are whole, are left out, so that every state keeps the rule by itself. Its upper factor holds in that state.

    References
    ----------
    Lower bound theorem of limit analysis; strengths as in `settle.py`.

    Examples
    --------
    >>> state = cracked_load_factor([0, 0, 0, 60e3, 0, 0], 250.0, [90.0, -90.0], [0.0, 0.0], [300.0] * 2, 10.0, 20.0)
    >>> float(state.fc[0]), float(state.fc[-1]), round(state.lower, 2)
    (10.0, 20.0, 1.04)
    """
    load, e, angles, force = (np.asarray(v, dtype=float) for v in (resultants, e, angles, force))
    sides = sides_of(e, h)
    best = None
    for bottom, top in ((True, True), (True, False), (False, True), (False, False)):
        if fc_whole <= fc_cracked and not (bottom and top):
            break
        pulls = np.where(sides > 0, bottom, np.where(sides < 0, top, bottom or top))
        half = [fc_cracked if cracked else fc_whole for cracked in (bottom, top)]
        fc = np.repeat(half, layers // 2)
        if best is not None and np.isfinite(best.mechanism).all():
            # what a state does in any mechanism it cannot pass
            none, dyads = 0.0 * force[pulls], _dyads(angles[pulls])
            if _upper(load, h, e[pulls], dyads, force[pulls], none, fc, best.mechanism) <= best.lower:
                continue
        state = load_factor(load, h, e[pulls], angles[pulls], force[pulls], fc, compressed_bars=0.0, layers=layers)
        if best is None or state.lower > best.lower or np.isnan(best.lower):
            bars = np.zeros(e.size)
            bars[pulls] = state.bars
            best = replace(state, bars=bars)
    assert best is not None
    return best


def _upper(
    load: Floats, h: float, e: Floats, dyads: Floats, force: Floats, least: Floats, fc: Floats, mechanism: Floats
) -> float:
    """Work that the section does in a mechanism over that of the loads."""
    work = float(load @ mechanism)
    if work <= 0.0:
        return np.inf
    each = -(-_FINE // len(fc))
    y = h * (0.5 - (np.arange(each * len(fc)) + 0.5) / (each * len(fc)))
    ex, ey, g = (mechanism[i] + y * mechanism[3 + i] for i in range(3))
    mean, radius = (ex + ey) / 2, np.hypot((ex - ey) / 2, g / 2)
    crush = np.maximum(-(mean + radius), 0.0) + np.maximum(-(mean - radius), 0.0)
    strain = dyads.T @ mechanism[:3] + e * (dyads.T @ mechanism[3:])
    held = np.maximum(strain, 0.0) @ force + np.maximum(-strain, 0.0) @ least
    return float(((np.repeat(fc, each) * crush).mean() * h + held) / work)


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
    clarabel, sparse = _programs()
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
    dyads = _dyads(angles)
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
    rows, right, cones = _concrete(k, profile / top, first, size)
    price = np.zeros(size)
    weight = np.ones(b) if weights is None else np.asarray(weights, dtype=float)
    price[:b] = weight
    found = _solve(
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
