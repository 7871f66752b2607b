"""Limit analysis of a section in many layers: load factor of given bars, as a cone program.

The section is cut into layers of constant stress, which is a field in equilibrium: the load factor found is one
the section reaches (lower bound). The mechanism dual to it, with its work integrated through the depth, gives
the factor it cannot pass (upper bound).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from numbers import Integral
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.errors import check_number
from sandwich.mechanics.certificate import sides_of
from sandwich.mechanics.cones import LAYERS, concrete_cones, dyads_of, equal_layers, programs, solve_cones

Floats = NDArray[np.float64]
_THICKNESS: Final = (1.0, 1e5)  # mm
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

    Raises
    ------
    TypeError, ValueError
        If a value is no number, or lies outside what it can be.

    References
    ----------
    Lower and upper bound theorems of limit analysis; concrete by principal stresses in [-fc, 0].

    Examples
    --------
    >>> state = load_factor([100.0, 0, 0, 0, 0, 0], 200.0, [0.0], [0.0], [250.0], 20.0)
    >>> round(state.lower, 3)
    2.5
    """
    clarabel, sparse = programs()
    load = np.asarray(resultants, dtype=float)
    e, angles, force = (np.asarray(v, dtype=float) for v in (e, angles, force))
    _check(load, h, {"e": e, "angles": angles, "force": force}, np.asarray(fc, dtype=float), compressed_bars, layers)
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
    dyads = dyads_of(angles)
    balance[:3, 1 : 1 + b] = -dyads
    balance[3:, 1 : 1 + b] = -dyads * e / h
    for i in range(3):
        balance[i, 1 + b + i :: 3] = -t / h
        balance[3 + i, 1 + b + i :: 3] = -t * y / h**2
    limit = np.zeros((2 * b, size))
    limit[:b, 1 : 1 + b] = np.eye(b)
    limit[b:, 1 : 1 + b] = -np.eye(b)
    least = compressed_bars * force
    rows, right, cones = concrete_cones(1, profile / top, 1 + b, size)
    price = np.zeros(size)
    price[0] = -1.0
    found = solve_cones(
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
    return LimitState(max(float(x[0]), 0.0) / largest, upper, x[1 : 1 + b] * top * h, concrete, mechanism, profile)


def _check(load: Floats, h: float, bars: dict[str, Floats], fc: Floats, compressed_bars: float, layers: int) -> None:
    """Refuse what is no section, no load or no bars."""
    check_number("h", h, *_THICKNESS, " mm")
    check_number("compressed_bars", compressed_bars, 0.0, 1.0)
    if isinstance(layers, bool) or not isinstance(layers, Integral) or layers < 1:
        raise ValueError(f"layers = {layers!r}; a number of layers of 1 or more is wanted")
    shapes = {"resultants": (load, (6,)), **{k: (v, bars["e"].shape[:1]) for k, v in bars.items()}}
    for name, (values, shape) in shapes.items():
        if values.shape != shape:
            raise ValueError(f"{name} has shape {values.shape}; {shape} is wanted")
        if not np.isfinite(values).all():
            raise ValueError(f"{name} = {values.tolist()}; finite numbers are wanted")
    if (np.abs(bars["e"]) > h / 2.0).any():
        raise ValueError(f"e = {bars['e'].tolist()} mm; places within {h / 2.0:g} mm of mid-depth are wanted")
    if (bars["force"] < 0.0).any():
        raise ValueError(f"force = {bars['force'].tolist()} N/mm; zero or more is wanted")
    if fc.shape not in ((), (layers,)) or not np.isfinite(fc).all() or not (fc > 0.0).all():
        raise ValueError(f"fc = {fc.tolist()} MPa; a strength above zero, or one a layer, is wanted")


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
            none, dyads = 0.0 * force[pulls], dyads_of(angles[pulls])
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
