"""Checks of a design by a witness, and lower bounds by a mechanism: plain statics, no code of the designers.

A witness of one combination at one point is a set of bar forces, the forces of the concrete of two outer
layers as tensors, and the thicknesses of the layers. If it balances the resultants, holds no tension in
concrete and stays within the strengths, the section carries the combination (lower bound theorem). A
mechanism is a plane of strains; the work of the resultants on it bounds the steel from below.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
_WITHIN: Final = 5  # places through a layer at which a mechanism is looked at
MIDDLE: Final = 0.1  # of the thickness: bars nearer to mid-depth belong to both halves


@dataclass(frozen=True)
class Witness:
    """Stress fields of r rows.

    Attributes
    ----------
    bars : ndarray, shape (r, b)
        Bar forces [N/mm].
    bottom, top : ndarray, shape (r, 3)
        Concrete forces cx, cy, cxy of the outer layers [N/mm], tension positive.
    t_bottom, t_top : ndarray, shape (r,)
        Layer thicknesses [mm].
    fc_bottom, fc_top : ndarray, shape (r,)
        Strengths they count on [MPa].
    """

    bars: Floats
    bottom: Floats
    top: Floats
    t_bottom: Floats
    t_top: Floats
    fc_bottom: Floats
    fc_top: Floats


@dataclass(frozen=True)
class Violations:
    """How far each row misses each condition [N/mm]; moments are divided by the thickness.

    Attributes
    ----------
    balance : ndarray, shape (r, 6)
        Residuals of nx ny nxy and mx/h my/h mxy/h.
    bars : ndarray, shape (r,)
        Bar force below zero or above what the bars can carry.
    tension : ndarray, shape (r,)
        Maximum principal tension in the concrete of a layer.
    crushing : ndarray, shape (r,)
        Compression above strength times thickness.
    fit : ndarray, shape (r,)
        Layers thicker than the section, times the strength.
    """

    balance: Floats
    bars: Floats
    tension: Floats
    crushing: Floats
    fit: Floats

    @property
    def largest(self) -> Floats:
        """Largest violation of each row [N/mm], shape (r,)."""
        parts = [np.abs(self.balance).max(-1), self.bars, self.tension, self.crushing, self.fit]
        return np.asarray(np.max(parts, axis=0))


def _principal(c: Floats) -> tuple[Floats, Floats]:
    mean, radius = (c[:, 0] + c[:, 1]) / 2, np.hypot((c[:, 0] - c[:, 1]) / 2, c[:, 2])
    return mean + radius, mean - radius


def dyads(angles: ArrayLike) -> Floats:
    """cos^2, sin^2 and sin cos of directions [rad], shape (..., 3)."""
    angles = np.asarray(angles, dtype=float)
    c, s = np.cos(angles), np.sin(angles)
    return np.stack([c * c, s * s, c * s], axis=-1)


def violations(
    resultants: ArrayLike,
    h: ArrayLike,
    axes: ArrayLike,
    angles: ArrayLike,
    capacity: ArrayLike,
    witness: Witness,
    *,
    moments: bool = True,
) -> Violations:
    """Check witnesses against the resultants they claim to carry.

    Parameters
    ----------
    resultants : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N].
    h : array_like, shape (r,)
        Thickness [mm].
    axes : array_like, shape (r, b)
        Distance of each bar axis from mid-depth, positive towards the bottom [mm]; nan where there is no bar.
    angles : array_like, shape (b,) or (r, b)
        Directions of the bars from x towards y [rad].
    capacity : array_like, shape (r, b)
        Force each bar layer can carry [N/mm].
    witness : Witness
        The stress fields.
    moments : bool
        Whether the three moment equations are asked of the field.

    Returns
    -------
    Violations
        Zero or more everywhere but `balance`, which has signs [N/mm].

    References
    ----------
    Lower bound theorem of limit analysis; six equations of equilibrium.
    """
    loads = np.asarray(resultants, dtype=float)
    h = np.asarray(h, dtype=float)
    axes = np.asarray(axes, dtype=float)
    present = np.isfinite(axes)
    arm = np.where(present, axes, 0.0)
    f = witness.bars
    zb, zt = (h - witness.t_bottom) / 2, -(h - witness.t_top) / 2
    steel = np.einsum("rb,rbi->ri", f, np.broadcast_to(dyads(angles), (*f.shape, 3)))
    couple = np.einsum("rb,rbi->ri", f * arm, np.broadcast_to(dyads(angles), (*f.shape, 3)))
    balance = np.empty((len(loads), 6))
    balance[:, :3] = loads[:, :3] - steel - witness.bottom - witness.top
    balance[:, 3:] = loads[:, 3:6] - couple - witness.bottom * zb[:, None] - witness.top * zt[:, None]
    balance[:, 3:] /= h[:, None]
    if not moments:
        balance[:, 3:] = 0.0
    high_b, low_b = _principal(witness.bottom)
    high_t, low_t = _principal(witness.top)
    over = np.maximum(f - np.where(present, np.asarray(capacity, dtype=float), 0.0), -f)
    crush_b = -low_b - witness.fc_bottom * witness.t_bottom
    crush_t = -low_t - witness.fc_top * witness.t_top
    fit = (witness.t_bottom + witness.t_top - h) * np.maximum(witness.fc_bottom, witness.fc_top)
    return Violations(
        balance=balance,
        bars=np.maximum(over.max(-1), 0.0),
        tension=np.maximum(np.maximum(high_b, high_t), 0.0),
        crushing=np.maximum(np.maximum(crush_b, crush_t), 0.0),
        fit=np.maximum(fit, 0.0),
    )


def lower_bound(
    resultants: ArrayLike,
    h: ArrayLike,
    axes: ArrayLike,
    angles: ArrayLike,
    t: ArrayLike,
    strains: ArrayLike,
    *,
    strength: ArrayLike | None = None,
    weights: ArrayLike | None = None,
) -> Floats:
    """Minimum total bar force that any fields with these layers can have, by the work of mechanisms.

    Parameters
    ----------
    resultants : array_like, shape (p, k, 6)
        nx ny nxy [N/mm], mx my mxy [N] of combinations that the same bars serve.
    h : array_like, shape (p,)
        Thickness [mm].
    axes : array_like, shape (p, b)
        Distance of each bar axis from mid-depth, positive towards the bottom [mm]; nan where there is no bar.
    angles : array_like, shape (b,) or (p, b)
        Directions of the bars from x towards y [rad].
    t : array_like, shape (p, k, 2)
        Thickness of the bottom and the top layer in each combination [mm].
    strains : array_like, shape (p, k, 2, 3)
        Proposed strains eps_x, eps_y, eps_xy (tensor) [-] at the middle of the bottom and the top layer.
    strength : array_like, shape (k,) or (p, k), optional
        Yield strength in each combination over that of reference [-]; 1 by default.
    weights : array_like, shape (b,), optional
        Weight of each bar in the total [-]; 1 by default.

    Returns
    -------
    ndarray, shape (p,)
        Lower bound [N/mm of the reference strength], zero or more. Any proposal gives a bound: it is first made
        admissible.

    Notes
    -----
    Admissible: no layer shortens in any direction, and the strains of a bar in all combinations, each times its
    strength, come to no more than its weight; a bar that shortens counts as none.

    References
    ----------
    Upper bound theorem of limit analysis; duality of the convex problem of minimum steel.
    """
    loads = np.asarray(resultants, dtype=float)
    h, t, axes = (np.asarray(a, dtype=float) for a in (h, t, axes))
    eps = np.nan_to_num(np.asarray(strains, dtype=float), posinf=0.0, neginf=0.0)
    ex, ey = np.maximum(eps[..., 0], 0.0), np.maximum(eps[..., 1], 0.0)
    most = np.sqrt(ex * ey)
    exy = np.clip(eps[..., 2], -most, most)
    yb, yt = (h[:, None] - t[..., 0]) / 2, (h[:, None] - t[..., 1]) / 2
    depth = yb + yt
    d = np.broadcast_to(dyads(angles), (*axes.shape, 3))[:, None, None]
    of_layer = ex[..., None] * d[..., 0] + ey[..., None] * d[..., 1] + 2.0 * exy[..., None] * d[..., 2]
    share = (yt[..., None] + np.nan_to_num(axes)[:, None]) / depth[..., None]
    at_bar = np.where(np.isfinite(axes)[:, None], share * of_layer[:, :, 0] + (1.0 - share) * of_layer[:, :, 1], 0.0)
    ratio = np.broadcast_to(1.0 if strength is None else np.asarray(strength, dtype=float), loads.shape[:2])
    weight = np.ones(axes.shape[1]) if weights is None else np.asarray(weights, dtype=float)
    asked = ((np.maximum(at_bar, 0.0) * ratio[..., None]).sum(1) / weight).max(1)
    work = np.zeros(len(loads))
    for layer, (lever, sign) in enumerate(((yt, 1.0), (yb, -1.0))):
        n = (loads[..., :3] * lever[..., None] + sign * loads[..., 3:6]) / depth[..., None]
        part = n[..., 0] * ex[..., layer] + n[..., 1] * ey[..., layer] + 2.0 * n[..., 2] * exy[..., layer]
        work += part.sum(1)
    return np.asarray(np.maximum(work / np.maximum(asked, 1.0), 0.0))


def sides_of(axes: ArrayLike, h: ArrayLike) -> NDArray[np.int64]:
    """Half that bars lie in: 1 bottom, -1 top, 0 near mid-depth, where they belong to both."""
    e, h = np.asarray(axes, dtype=float), np.asarray(h, dtype=float)
    return np.asarray(np.where(e > MIDDLE * h, 1, np.where(e < -MIDDLE * h, -1, 0)))


def keeps_cracked_rule(forces: Floats, axes: Floats, h: float, fc: Floats, fc_cracked: float) -> bool:
    """Whether no half whose bars pull counts on more than the strength of cracked concrete.

    `fc` (layers,) are the strengths that layers from the bottom up count on [MPa], half of them in each half. Of bars
    near mid-depth one half at least is cracked.
    """
    pulls = forces > 1e-6 * max(float(np.abs(forces).max(initial=0.0)), 1e-9)
    sides, middle = sides_of(axes, h), len(fc) // 2
    weak = {1: fc[:middle].max() <= fc_cracked, -1: fc[middle:].max() <= fc_cracked}
    of_faces = all(weak[side] for side in (1, -1) if (pulls & (sides == side)).any())
    return bool(of_faces and (weak[1] or weak[-1] or not (pulls & (sides == 0)).any()))


def layered_violations(
    demand: Floats, h: Floats, axes: Floats, angles: Floats, forces: Floats, capacity: Floats, stress: Floats,
    fc: Floats, y: Floats, t: Floats, *, pressed: float = 0.0,
) -> Floats:  # fmt: skip
    """Largest violation of fields in many layers that resultants are to be carried by.

    Parameters
    ----------
    demand : ndarray, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N].
    h : ndarray, shape (r,)
        Thickness [mm].
    axes, forces, capacity : ndarray, shape (r, b)
        Bar axes, nan where there is no bar [mm], forces and strengths [N/mm].
    angles : ndarray, shape (b,)
        Directions of the bars [rad].
    stress : ndarray, shape (r, layers, 3)
        Stresses of the layers of concrete from the bottom up [MPa].
    fc : ndarray, shape (r, layers)
        Strength of the concrete [MPa].
    y, t : ndarray, shape (layers,)
        Middles of the layers, positive towards the bottom, and their thickness, both over h.
    pressed : float
        Part of their strength that bars carry in compression [-].

    Returns
    -------
    ndarray, shape (r,)
        Of equilibrium, of the strength of bars and of the concrete, which carries no tension [N/mm].

    References
    ----------
    Lower bound theorem of limit analysis; six equations of equilibrium.
    """
    d, present = dyads(angles), np.isfinite(axes)
    arm = np.where(present, axes, 0.0) / h[:, None]
    balance = np.empty((len(demand), 6))
    balance[:, :3] = demand[:, :3] - forces @ d - h[:, None] * np.einsum("l,rli->ri", t, stress)
    couple = (arm * forces) @ d + h[:, None] * np.einsum("l,rli->ri", t * y, stress)
    balance[:, 3:] = demand[:, 3:] / h[:, None] - couple
    mean, half = (stress[..., 0] + stress[..., 1]) / 2, (stress[..., 0] - stress[..., 1]) / 2
    radius = np.hypot(half, stress[..., 2])
    most = np.where(present, capacity, 0.0)
    of_bars = np.maximum(forces - most, -forces - pressed * most).max(1, initial=0.0)
    of_concrete = (t * np.maximum(mean + radius, radius - mean - fc)).max(1) * h
    return np.asarray(np.maximum(np.maximum(np.abs(balance).max(1), of_bars), of_concrete))


def layered_bound(
    resultants: Floats, h: float, axes: Floats, angles: Floats, fc: Floats, mechanisms: Floats, *,
    weights: Floats, pressed: float = 0.0,
) -> float:  # fmt: skip
    """Minimum weighted total of bars that any field, in any number of layers, can have, by the work of mechanisms.

    Parameters
    ----------
    resultants, mechanisms : ndarray, shape (k, 6)
        nx ny nxy [N/mm], mx my mxy [N] of combinations that the same bars serve; eps_x, eps_y, gamma_xy of mid-depth
        and curvatures [1/mm] proposed for each. Any proposal gives a bound.
    h : float
        Thickness [mm].
    axes, angles, weights : ndarray, shape (b,)
        Bar axes, positive towards the bottom [mm], directions [rad], weights in the total [-].
    fc : ndarray, shape (layers,)
        Strength of equal layers of concrete from the bottom up [MPa].
    pressed : float
        Part of their strength that bars carry in compression [-].

    Returns
    -------
    float
        Lower bound [N/mm], zero or more; inf where no bars suffice.

    Notes
    -----
    Work of the resultants, less that of concrete that crushes, over that of bars of unit weight. The work of the
    concrete is convex through the depth: the trapezoidal rule gives it too large, the bound too small.

    References
    ----------
    Upper bound theorem of limit analysis.
    """
    ends = h / 2 - h / len(fc) * np.arange(len(fc) + 1)
    y = np.linspace(ends[:-1], ends[1:], _WITHIN, axis=-1)
    strain = mechanisms[:, None, None, :3] + y[..., None] * mechanisms[:, None, None, 3:]
    mean = (strain[..., 0] + strain[..., 1]) / 2
    radius = np.hypot((strain[..., 0] - strain[..., 1]) / 2, strain[..., 2] / 2)
    crush = np.maximum(radius - mean, 0.0) + np.maximum(-radius - mean, 0.0)
    held = (-np.trapezoid(crush, y, axis=-1) * fc).sum()
    d = dyads(angles)
    of_bars = mechanisms[:, :3] @ d.T + axes * (mechanisms[:, 3:] @ d.T)
    asked = (np.maximum(of_bars, 0.0) + pressed * np.maximum(-of_bars, 0.0)).sum(0) / weights
    work, most = float((resultants * mechanisms).sum() - held), float(asked.max(initial=0.0))
    if not work > 0.0:
        return 0.0
    return work / most if most > 0.0 else np.inf
