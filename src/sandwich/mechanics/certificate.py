"""Checks of a design by a witness, and lower bounds by a mechanism: plain statics, no code of the designers.

A witness of one combination at one point is a set of bar forces, the forces of the concrete of two outer
layers as tensors, and the thicknesses of the layers. If it balances the resultants, holds no tension in
concrete and stays within the strengths, the section carries the combination (lower bound theorem). A
mechanism is a plane of strains; the work of the resultants on it bounds the steel from below.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Witness:
    """Stress fields of r rows.

    Attributes
    ----------
    bars : ndarray, shape (r, 4)
        Forces of bottom x, bottom y, top x, top y [N/mm].
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
        Greatest principal tension in the concrete of a layer.
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


def violations(
    resultants: ArrayLike, h: ArrayLike, axes: ArrayLike, capacity: ArrayLike, witness: Witness, *, moments: bool = True
) -> Violations:
    """Check witnesses against the resultants they claim to carry.

    Parameters
    ----------
    resultants : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N] in the bar directions.
    h : array_like, shape (r,)
        Thickness [mm].
    axes : array_like, shape (r, 4)
        Distance of each bar axis from mid-depth, positive towards the bottom [mm]; nan where there is no bar.
    capacity : array_like, shape (r, 4)
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
    balance = np.zeros((len(loads), 6))
    for i in range(3):
        steel = f[:, i] + f[:, i + 2] if i < 2 else 0.0
        couple = f[:, i] * arm[:, i] + f[:, i + 2] * arm[:, i + 2] if i < 2 else 0.0
        balance[:, i] = loads[:, i] - steel - witness.bottom[:, i] - witness.top[:, i]
        balance[:, i + 3] = (loads[:, i + 3] - couple - witness.bottom[:, i] * zb - witness.top[:, i] * zt) / h
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
    resultants: ArrayLike, h: ArrayLike, axes: ArrayLike, t_bottom: ArrayLike, t_top: ArrayLike, strains: ArrayLike
) -> Floats:
    """Least total bar force that any field with these layers can have, by the work of a mechanism.

    Parameters
    ----------
    resultants : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N] in the bar directions.
    h, t_bottom, t_top : array_like, shape (r,)
        Thickness of the section and of the layers [mm].
    axes : array_like, shape (r, 4)
        Distance of each bar axis from mid-depth, positive towards the bottom [mm]; nan where there is no bar.
    strains : array_like, shape (r, 4)
        Proposed strains [-] at the middle of the layers: x bottom, x top, y bottom, y top.

    Returns
    -------
    ndarray, shape (r,)
        Lower bound [N/mm], zero or more. Any proposal gives a bound: it is first made admissible.

    Notes
    -----
    Admissible: no strain of a layer below zero, none of a bar above 1. The shear strain that does most work
    is 2 sqrt(eps_x eps_y), with the sign of the layer's shear.

    References
    ----------
    Upper bound theorem of limit analysis; duality of the convex problem of least steel.
    """
    loads = np.asarray(resultants, dtype=float)
    h, tb, tt = (np.asarray(a, dtype=float) for a in (h, t_bottom, t_top))
    bars = np.asarray(axes, dtype=float)
    eps = np.maximum(np.nan_to_num(np.asarray(strains, dtype=float), posinf=0.0), 0.0)
    yb, yt = (h - tb) / 2, (h - tt) / 2
    depth = yb + yt
    at_bar = np.empty((len(loads), 4))
    for i in range(4):
        low, high = (0, 1) if i % 2 == 0 else (2, 3)
        at_bar[:, i] = ((yt + bars[:, i]) * eps[:, low] + (yb - bars[:, i]) * eps[:, high]) / depth
    most = np.nan_to_num(at_bar, nan=0.0).max(-1)
    eps = eps / np.where(most > 1.0, most, 1.0)[:, None]
    work = np.zeros(len(loads))
    for layer, (lever, sign) in enumerate(((yt, 1.0), (yb, -1.0))):
        n = (loads[:, :3] * lever[:, None] + sign * loads[:, 3:6]) / depth[:, None]
        ex, ey = eps[:, layer], eps[:, layer + 2]
        work += n[:, 0] * ex + n[:, 1] * ey + 2.0 * np.abs(n[:, 2]) * np.sqrt(ex * ey)
    return np.maximum(work, 0.0)
