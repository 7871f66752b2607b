"""Rows for which three layers may ask for more steel than need be: proved minimum, or designed in many layers.

Only the combinations that make the envelope of a point are looked at. Where the mechanism of the three layers bounds
the steel of any field closely, the row stays as it is; elsewhere a program in many layers gives field and bound.
"""

from __future__ import annotations

from dataclasses import fields as fields_of_record
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.rows import Fields, Floats, Ints, Layered, Rows, fields_of, strained
from sandwich.design.settings import Settings
from sandwich.mechanics import manylayers, threelayer
from sandwich.mechanics.certificate import Witness
from sandwich.standards.interface import Strengths

_PRESSED: Final = 0.1  # of the thickness: thinner layers leave the lever arm to the bars, and three do
_LITTLE: Final = 2e-3  # of the strength of the concrete: less steel is not worth the search
_MUCH: Final = 1e-3  # of the strength of the concrete: so much steel is looked for in sections of any kind
_SAVES: Final = 0.998  # of the steel of three layers: above it they stay
_NOTHING: Final = 2e-7  # of max(|n|, |m|/h, 1 N/mm): bar forces below it are what the barrier leaves
_ALIKE: Final = 1e-6  # of the steel: bars that differ by less are one, so that rounding noise does not choose
_FIT: Final = (threelayer.LAYERS_DO_NOT_FIT, threelayer.NOT_CONVERGED)


def in_many_layers(found: Fields, strengths: list[Strengths], settings: Settings, *, every: bool = False) -> Fields:
    """The design with the rows that need less steel, or have a field at all, in many layers.

    Parameters
    ----------
    found : Fields
        Designs of single combinations in three layers.
    strengths : list of Strengths
        Of each combination.
    settings : Settings
        Bars and weights.
    every : bool
        Whether every combination counts by itself, and not only those that make the envelope.

    Returns
    -------
    Fields
        Rows that make the envelope have bounds for any number of layers. Nothing changes with a standard that takes
        strength away by the angle of the compression.

    References
    ----------
    Lower and upper bound theorems of limit analysis.
    """
    if any(s.per_degree for s in strengths):
        return found
    rows, weights = found.rows, settings.bars.weights
    p, k = len(found.area), len(strengths)
    there = np.asarray(np.isfinite(rows.axes).all(axis=0))
    state = _State(rows)
    tried = np.zeros((p, k), dtype=bool)
    alive = (rows.ok | np.isin(rows.status, _FIT)).reshape(p, k).all(1)
    while True:
        ok = state.status.reshape(p, k) == threelayer.OK
        alive &= ~(tried & ~ok).any(1)
        lost = ~ok & ~tried & alive[:, None]
        area = state.bars.reshape(p, k, -1) / rows.f_yd.reshape(p, k)[:, :, None]
        asked = (area > 0.0).any(2)
        if not every:
            most = area.max(1, keepdims=True)
            asked &= ((area >= most * (1.0 - _ALIKE)) & (most > _ALIKE * most.max(2, keepdims=True))).any(2)
        # a point with rows that fail is settled by these first
        now = np.where(lost.any(1)[:, None], lost, asked & alive[:, None]) & ~tried
        at = np.flatnonzero(now)
        if not len(at):
            break
        tried.ravel()[at] = True
        state.settle(at, at % k, strengths, weights, there)
    return state.fields(weights, p, alive)


class _State:
    """Rows while they are settled."""

    def __init__(self, rows: Rows) -> None:
        self.rows = rows
        w = rows.witness
        self.bars, self.bound, self.status, self.even = (
            w.bars.copy(),
            rows.bound.copy(),
            rows.status.copy(),
            rows.even.copy(),
        )
        self.t = np.stack([w.t_bottom, w.t_top], axis=-1)
        self.fc = np.stack([w.fc_bottom, w.fc_top], axis=-1)
        self.halves = np.stack([w.bottom, w.top], axis=1)
        self.any_layers = rows.any_layers.copy()
        self.layered: list[Layered] = []

    def settle(self, at: Ints, k: Ints, strengths: list[Strengths], weights: Floats, there: NDArray[np.bool_]) -> None:
        """Bounds of rows `at` of combinations `k`, and fields in many layers where three do not come close."""
        rows = self.rows
        cracked, bending, whole = (
            np.array([getattr(s, name) for s in strengths])[k] for name in ("fc_cracked", "fc_bending", "fc_uncracked")
        )
        deep, total = rows.deep[at], np.where(rows.ok[at], rows.witness.bars[at] @ weights, np.inf)
        weak = np.where(deep, np.minimum(cracked, whole), cracked)
        strong = np.where(deep, whole, np.maximum(bending, cracked))
        h, axes, angles = rows.h[at], rows.axes[at][:, there], rows.angles[there]
        low = manylayers.bounds_of(
            rows.demand[at], h, axes, angles, weak, strong, weights[there], self.t[at], rows.strains[at],
            np.where(rows.ok[at], total, 0.0),
        )  # fmt: skip
        low = np.where(rows.ok[at], np.minimum(low, total), 0.0)
        self.bound[at], self.any_layers[at] = low, True
        strength = strong * h
        pressed = (self.t[at].sum(1) > _PRESSED * h) & (total > _LITTLE * strength)
        searched = (pressed | (total - low > _MUCH * strength)) & (low < manylayers.CLOSE * total)
        far = np.flatnonzero(searched | ~rows.ok[at] | rows.even[at])
        if not len(far):
            return
        at, k, total, low, deep, h = at[far], k[far], total[far], low[far], deep[far], h[far]
        weak = weak[far]
        found = manylayers.design(rows.demand[at], h, axes[far], angles, weak, strong[far], weights=weights[there])
        self.bound[at] = np.where(np.isfinite(found.bound), np.minimum(np.maximum(found.bound, 0.0), total), low)
        scale = np.maximum(np.abs(rows.demand[at, :3]).max(1), np.abs(rows.demand[at, 3:]).max(1) / h)
        forces = np.zeros((len(at), len(there)))
        forces[:, there] = np.where(found.forces > _NOTHING * np.maximum(scale, 1.0)[:, None], found.forces, 0.0)
        thick, half = _halves(found, h)
        good = np.isfinite(found.total) & (found.total < _SAVES * total)
        for c in np.unique(k[good]):  # rows whose strengths ask for the strain of their bars
            if strengths[c].by_strain:
                own = np.flatnonzero(good & (k == c) & ~deep)
                good[own] = strained(
                    rows.demand[at[own]][:, None], forces[own][:, None], thick[own][:, None], [strengths[c]], h[own],
                    rows.axes[at[own]],
                )[:, 0]  # fmt: skip
        new = at[good]
        self.bars[new], self.t[new], self.fc[new] = forces[good], thick[good], found.fc[good]
        self.halves[new], self.status[new], self.even[new] = half[good], threelayer.OK, False
        self.layered.append(Layered(new, found.concrete[good], found.fc[good], weak[good]))

    def fields(self, weights: Floats, points: int, alive: NDArray[np.bool_]) -> Fields:
        """The whole, with the envelope of the points made anew."""
        witness = Witness(self.bars, self.halves[:, 0], self.halves[:, 1], *self.t.T, *self.fc.T)
        parts = [v for v in self.layered if len(v.at)]
        names = [f.name for f in fields_of_record(Layered)]
        layered = Layered(*(np.concatenate([getattr(v, n) for v in parts]) for n in names)) if parts else None
        rows = replace(
            self.rows, witness=witness, status=self.status, bound=self.bound, any_layers=self.any_layers,
            even=self.even, layered=layered,
        )  # fmt: skip
        proved = fields_of(replace(rows, bound=np.where(self.any_layers, self.bound, 0.0)), points, weights)
        total = (self.bars @ weights).reshape(points, -1)
        left = np.where(self.any_layers, self.bars @ weights - self.bound, 0.0).reshape(points, -1)
        gap = (left / np.maximum(total.max(1), 1e-3)[:, None]).max(1)
        return replace(proved, rows=rows, gap=gap, any_layers=alive)


def _halves(found: manylayers.ManyLayers, h: Floats) -> tuple[Floats, Floats]:
    """Thickness of both layers that the compression of each half fills (r, 2) [mm], and its force (r, 2, 3) [N/mm]."""
    _, t = manylayers.depths()
    stress, count = found.concrete, len(t) // 2
    mean = (stress[..., 0] + stress[..., 1]) / 2
    pressed = np.hypot((stress[..., 0] - stress[..., 1]) / 2, stress[..., 2]) - mean
    filled = (pressed * t).reshape(len(h), 2, count).sum(2) / found.fc * h[:, None]
    force = (stress * t[:, None]).reshape(len(h), 2, count, 3).sum(2) * h[:, None, None]
    return filled, force
