"""Minimum steel of one combination by a field in many layers, with the mechanism dual to it: for pressed sections.

Three layers of uniform stress carry what most sections ask for. Where compression decides, stresses that turn and
change through the depth need less steel. The section is cut into layers of constant stress: a field in equilibrium,
which is safe. The mechanism dual to it bounds the steel of any field from below. Each half of the section is cracked
or whole; `optimumlayers.py` solves one such state.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import large_kernel
from sandwich.mechanics.certificate import dyads, sides_of
from sandwich.mechanics.optimumlayers import NO_BARS, least, work_of
from sandwich.mechanics.threelayer import tension_at_both_ends

Floats = NDArray[np.float64]
LAYERS: Final = 60
CLOSE: Final = 0.99  # of the steel: a bound above it proves a field good enough
_FEWER: Final = 16  # layers that find a mechanism
_ROUGH: Final = 3e-4  # barrier of the search for a mechanism, over the steel
_LAST: Final = 1e-8  # barrier at the end, in parts of the strength of the section


@large_kernel
def _state(row, h, axes, along, sides, weights, cracked, whole, bottom, top, y, few_y, load, a, weight, at, c, c_few):
    """A state of cracking in parts of its strength: resultants, the bars that may pull, strengths of the layers.

    Returns (bars, maximum strength); the last six arrays are filled. No bars: -1 where a half that is taken to be
    whole is in tension at every lever arm.
    """
    n, m = (row[0], row[1], row[2]), (row[3], row[4], row[5])
    if not bottom and (whole <= cracked or tension_at_both_ends(n, m, 0.5 * h)):
        return -1, 0.0
    if not top and (whole <= cracked or tension_at_both_ends(n, (-m[0], -m[1], -m[2]), 0.5 * h)):
        return -1, 0.0
    fcb, fct = cracked if bottom else whole, cracked if top else whole
    most, count = max(fcb, fct), 0
    for k in range(y.size):
        c[k] = (fcb if y[k] > 0.0 else fct) / most
    for k in range(few_y.size):
        c_few[k] = (fcb if few_y[k] > 0.0 else fct) / most
    for i in range(axes.size):
        side = sides[i]
        if (side > 0 and bottom) or (side < 0 and top) or (side == 0 and (bottom or top)):
            at[count], weight[count] = i, weights[i]
            for j in range(3):
                a[count, j], a[count, j + 3] = along[i, j], along[i, j] * axes[i] / h
            count += 1
    for j in range(3):
        load[j], load[j + 3] = row[j] / (most * h), row[j + 3] / (most * h * h)
    return count, most


@large_kernel
def design_rows(
    rows, h, axes, along, sides, weights, cracked, whole, y, t, few_y, few_t, total, bound, forces, concrete, fc
):
    """The loop over rows: minimum steel over the states of cracking; fills the last five."""
    bars = axes.shape[1]
    z, load, c, s, c_few, s_few = (
        np.empty(6), np.empty(6), np.empty(y.size), np.empty((y.size, 3)), np.empty(few_y.size),
        np.empty((few_y.size, 3)),
    )  # fmt: skip
    a, weight, at, f = np.empty((bars, 6)), np.empty(bars), np.empty(bars, dtype=np.int64), np.empty(bars)
    for r in range(rows.shape[0]):
        total[r], bound[r] = math.inf, math.inf
        for bottom, top in ((False, False), (True, False), (False, True), (True, True)):  # cracked halves
            count, most = _state(
                rows[r], h[r], axes[r], along, sides[r], weights, cracked[r], whole[r], bottom, top, y, few_y, load, a,
                weight, at, c, c_few,
            )  # fmt: skip
            if count < 0:
                continue
            unit = most * h[r]
            if total[r] < math.inf:  # a state that cannot be better, by the mechanism of fewer layers
                last = max(_ROUGH * total[r] / unit, _LAST)
                least(load, few_y, few_t, c_few, a[:count], weight[:count], last, z, f[:count], s_few)
                low = work_of(z, load, y, t, c, a[:count], weight[:count]) * unit
                if low >= total[r]:
                    bound[r] = min(bound[r], low)
                    continue
            found, low = least(load, y, t, c, a[:count], weight[:count], _LAST, z, f[:count], s)
            if low > NO_BARS:
                low = math.inf
            bound[r] = min(bound[r], low * unit)
            if found * unit < total[r]:
                total[r], fc[r, 0], fc[r, 1] = found * unit, cracked[r] if bottom else whole[r], whole[r]
                if top:
                    fc[r, 1] = cracked[r]
                for i in range(bars):
                    forces[r, i] = 0.0
                for i in range(count):
                    forces[r, at[i]] = f[i] * unit
                for k in range(y.size):
                    for j in range(3):
                        concrete[r, k, j] = s[k, j] * most


@large_kernel
def bound_rows(rows, h, axes, along, sides, weights, cracked, whole, thick, strains, total, y, t, few_y, few_t, out):
    """The loop over rows: bounds by mechanisms, first those that strains (r, 2, 3) of two outer layers stand for."""
    bars = axes.shape[1]
    z, load, c, c_few, s = (
        np.empty(6), np.empty(6), np.empty(y.size), np.empty(few_y.size), np.empty((few_y.size, 3)),
    )  # fmt: skip
    a, weight, at, f = np.empty((bars, 6)), np.empty(bars), np.empty(bars, dtype=np.int64), np.empty(bars)
    for r in range(rows.shape[0]):
        out[r] = math.inf
        for bottom, top in ((True, False), (False, True), (True, True), (False, False)):
            count, most = _state(
                rows[r], h[r], axes[r], along, sides[r], weights, cracked[r], whole[r], bottom, top, y, few_y, load, a,
                weight, at, c, c_few,
            )  # fmt: skip
            if count < 0:
                continue
            unit, best = most * h[r], 0.0
            for part in (0.5, 0.75, 1.0):  # of a layer: where its strains are taken to be
                yb, yt = 0.5 - part * thick[r, 0] / h[r], 0.5 - part * thick[r, 1] / h[r]
                for j in range(3):
                    eb, et = strains[r, 0, j], strains[r, 1, j]
                    if j == 2:  # tensor to engineering strain
                        eb, et = 2.0 * eb, 2.0 * et
                    z[j + 3] = (eb - et) / max(yb + yt, 0.1)
                    z[j] = eb - yb * z[j + 3]
                best = max(best, work_of(z, load, y, t, c, a[:count], weight[:count]) * unit)
                if best >= out[r]:  # another state is below it
                    break
            if best < min(CLOSE * total[r], out[r]):  # the mechanism of fewer layers, found roughly
                last = max(_ROUGH * total[r] / unit, _LAST)
                least(load, few_y, few_t, c_few, a[:count], weight[:count], last, z, f[:count], s)
                best = max(best, work_of(z, load, y, t, c, a[:count], weight[:count]) * unit)
            out[r] = min(out[r], best)


@dataclass(frozen=True)
class ManyLayers:
    """Minimum steel of r rows by fields in many layers.

    Attributes
    ----------
    total, bound : ndarray, shape (r,)
        Weighted total [N/mm], inf where no bars suffice, and the one that no field in any layers goes below.
    forces : ndarray, shape (r, b)
        Bar forces [N/mm].
    concrete : ndarray, shape (r, layers, 3)
        Stresses of the layers of `depths` [MPa].
    fc : ndarray, shape (r, 2)
        Strength of the bottom and the top half [MPa].
    """

    total: Floats
    bound: Floats
    forces: Floats
    concrete: Floats
    fc: Floats


def design(
    rows: ArrayLike, h: ArrayLike, axes: ArrayLike, angles: ArrayLike, cracked: ArrayLike, whole: ArrayLike, *,
    weights: ArrayLike | None = None,
) -> ManyLayers:  # fmt: skip
    """Minimum steel of single combinations by fields in sixty layers, bars in tension alone.

    Parameters
    ----------
    rows : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N].
    h, cracked, whole : array_like, shape (r,)
        Thickness [mm]; strength of cracked and of whole concrete [MPa].
    axes, angles : array_like, shapes (r, b), (b,)
        Bar axes, positive towards the bottom [mm], and directions [rad].
    weights : array_like, shape (b,), optional
        Weight of each bar in the total; 1 by default.

    Returns
    -------
    ManyLayers
        The best of four states, each half cracked or whole. Bars of a whole half are left out, and a half is not
        whole that is in tension at every lever arm from a quarter to half of the thickness.

    References
    ----------
    Lower and upper bound theorems of limit analysis; strengths as in `settle.py`.

    Examples
    --------
    >>> axes, angles = [[90.0, 80.0, -90.0, -80.0]], [0.0, np.pi / 2, 0.0, np.pi / 2]
    >>> found = design([[0, 0, 0, 60e3, 0, 0]], [250.0], axes, angles, [15.0], [15.0])
    >>> found.bound.round(1), found.total.round(1)
    (array([292.3]), array([292.4]))
    """
    rows, axes = np.ascontiguousarray(rows, dtype=float), np.ascontiguousarray(axes, dtype=float)
    h, cracked, whole = (np.ascontiguousarray(v, dtype=float) for v in (h, cracked, whole))
    count, bars = axes.shape
    weight = np.ones(bars) if weights is None else np.ascontiguousarray(weights, dtype=float)
    total, bound, forces = np.empty(count), np.empty(count), np.zeros((count, bars))
    concrete, fc = np.zeros((count, LAYERS, 3)), np.ones((count, 2))
    design_rows(
        rows, h, axes, dyads(angles), sides_of(axes, h[:, None]), weight, cracked, whole, *depths(), *depths(_FEWER),
        total, bound, forces, concrete, fc,
    )  # fmt: skip
    return ManyLayers(total, bound, forces, concrete, fc)


def bounds_of(
    rows: Floats, h: Floats, axes: Floats, angles: Floats, cracked: Floats, whole: Floats, weights: Floats, t: Floats,
    strains: Floats, total: Floats,
) -> Floats:  # fmt: skip
    """Lower bounds for fields in any number of layers, near the steel of designs in three layers or far from it.

    Parameters
    ----------
    rows, h, axes, angles, cracked, whole, weights
        As in `design`.
    t : ndarray, shape (r, 2)
        Thickness of the bottom and the top layer of the designs [mm].
    strains : ndarray, shape (r, 2, 3)
        Dual strains eps_x, eps_y, eps_xy (tensor) of both layers [-].
    total : ndarray, shape (r,)
        Weighted total of the designs [N/mm]: no better mechanism is looked for where the bound comes close to it.

    Returns
    -------
    ndarray, shape (r,)
        Bound of the weighted total, the minimum over the states of cracking [N/mm].

    References
    ----------
    Upper bound theorem of limit analysis.
    """
    out = np.empty(len(rows))
    within = (np.ascontiguousarray(v) for v in (rows[:, :6], h, axes, dyads(angles)))
    bound_rows(
        *within, sides_of(axes, h[:, None]), weights, cracked, whole, t, np.ascontiguousarray(strains), total,
        *depths(), *depths(_FEWER), out,
    )  # fmt: skip
    return out


def depths(count: int = LAYERS) -> tuple[Floats, Floats]:
    """Middles of the layers from the bottom up, positive towards the bottom, and their thickness, both over h.

    Layers are thin at the faces, where stress changes most and the lever arm is decided.
    """
    ends = 0.5 * np.cos(np.pi * np.arange(count + 1) / count)
    return (ends[:-1] + ends[1:]) / 2, ends[:-1] - ends[1:]
