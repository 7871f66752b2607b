"""Designed rows: bars, layers, strengths and bounds of combinations at points, and what is checked of them."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.mechanics import certificate, manylayers, threelayer
from sandwich.standards.interface import Strengths

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_NOTHING: Final = 1e-6  # N/mm of bar force that rounding leaves


@dataclass(frozen=True)
class Layered:
    """Fields in many layers of q rows, which stand in place of the two outer layers of these.

    Attributes
    ----------
    at : ndarray of int, shape (q,)
        Places of the rows.
    stress : ndarray, shape (q, layers, 3)
        Stresses of the layers of `manylayers.depths` [MPa].
    fc : ndarray, shape (q, 2)
        Strength that the bottom and the top half count on [MPa].
    cracked : ndarray, shape (q,)
        Strength of cracked concrete [MPa].
    """

    at: Ints
    stress: Floats
    fc: Floats
    cracked: Floats


@dataclass(frozen=True)
class Rows:
    """The designed rows of a block: p points times k combinations, one after another; b bar layers.

    Attributes
    ----------
    demand : ndarray, shape (r, 6)
        Resultants that the method looks at [N/mm, N].
    h, axes, angles : ndarray, shapes (r,), (r, b), (b,)
        Section: thickness and bar axes [mm], directions [rad].
    status : ndarray of int, shape (r,)
        Status code of `threelayer`; forces and thicknesses are zero where it is not OK.
    strains : ndarray, shape (r, 2, 3)
        Dual strains of the layers as tensors [-].
    witness : Witness
        Bars, layers and strengths.
    bound : ndarray, shape (r,)
        Lower bound of the weighted total of each row by itself [N/mm].
    any_layers : ndarray of bool, shape (r,)
        Rows whose bound holds for any number of layers, and not only at the thicknesses of the two.
    f_yd : ndarray, shape (r,)
        Design strength of the bars [MPa].
    turned : ndarray, shape (r,)
        Largest angle between compression in a cracked layer and in the uncracked elastic shell, over the one at
        which the layer has the strength it was given, or over the maximum that the rule allows; zero without one [-].
    deep : ndarray of bool, shape (r,)
        Rows with the lower strengths of a standard that reduces them by the strain of the bars.
    even : ndarray of bool, shape (r,)
        Rows with bars of equal weight, since layers do not fit with those asked for.
    layered : Layered, optional
        Fields in many layers, where they need less steel; layers of the witness are then those of its halves.
    """

    demand: Floats
    h: Floats
    axes: Floats
    angles: Floats
    status: NDArray[np.int64]
    strains: Floats
    witness: certificate.Witness
    bound: Floats
    any_layers: NDArray[np.bool_]
    f_yd: Floats
    turned: Floats
    deep: NDArray[np.bool_]
    even: NDArray[np.bool_]
    layered: Layered | None = None

    @property
    def ok(self) -> NDArray[np.bool_]:
        """Rows with a field."""
        return np.asarray(self.status == threelayer.OK)

    def mixed(self, other: Rows, at: NDArray[np.bool_]) -> Rows:
        """These rows, with those of another design where `at` says so."""

        def of(a: object, b: object, names: list[str]) -> dict[str, Any]:
            each = {n: (getattr(a, n), getattr(b, n)) for n in names}
            return {n: np.where(at.reshape(-1, *[1] * (x.ndim - 1)), y, x) for n, (x, y) in each.items()}

        layered = other.layered
        if layered is not None:
            kept = at[layered.at]
            layered = Layered(*(getattr(layered, f.name)[kept] for f in fields(Layered)))
        witness = certificate.Witness(**of(self.witness, other.witness, [f.name for f in fields(certificate.Witness)]))
        names = ["status", "strains", "bound", "any_layers", "f_yd", "turned", "deep", "even"]
        return replace(self, witness=witness, layered=layered, **of(self, other, names))

    def violation(self, capacity: Floats, method: str) -> Floats:
        """Largest violation of each row over max(|n|, |m|/h, 1 N/mm) with bars of some capacity (r, b) [N/mm]."""
        found = certificate.violations(
            self.demand, self.h, self.axes, self.angles, capacity, self.witness, moments=method != "membrane"
        )
        moment = np.abs(self.demand[:, 3:]).max(1) / self.h
        scale = np.maximum(np.maximum(np.abs(self.demand[:, :3]).max(1), moment), 1.0)
        largest = found.largest
        if self.layered is not None:
            largest[self.layered.at] = self._in_layers(capacity, self.layered)
        return np.where(self.ok, largest / scale, np.inf)

    def _in_layers(self, capacity: Floats, found: Layered) -> Floats:
        """Largest violation of the rows with many layers [N/mm], infinite where cracked halves count as whole."""
        at, (y, t) = found.at, manylayers.depths()
        fc = np.repeat(found.fc, len(y) // 2, axis=1)
        forces, axes = self.witness.bars[at], self.axes[at]
        out = certificate.layered_violations(
            self.demand[at], self.h[at], axes, self.angles, forces, capacity[at], found.stress, fc, y, t
        )
        for q, h in enumerate(self.h[at]):
            if not certificate.keeps_cracked_rule(forces[q], np.nan_to_num(axes[q]), h, fc[q], found.cracked[q]):
                out[q] = np.inf
        return out


def witness_of(
    demand: Floats, h: Floats, axes: Floats, angles: Floats, forces: Floats, t: Floats, fc: Floats
) -> certificate.Witness:
    """Witness of rows from their bar forces (r, b), layer thicknesses (r, 2) and strengths (r, 2)."""
    bottom, top = threelayer.layer_tensors(demand, h, axes, angles, forces, t)
    return certificate.Witness(forces, bottom, top, t[:, 0], t[:, 1], fc[:, 0], fc[:, 1])


@dataclass(frozen=True)
class Fields:
    """Stress fields of p points for k combinations and the steel they ask for.

    Attributes
    ----------
    rows : Rows
        The fields: of single combinations, or of the joint design within its bars.
    area, envelope : ndarray, shape (p, b)
        Steel by strength, and the largest of the designs of single combinations [mm2/mm].
    bound : ndarray, shape (p,)
        Lower bound of the weighted area [mm2/mm].
    gap : ndarray, shape (p,)
        Largest distance of a single combination's steel from its own lower bound, over the heaviest one's.
    any_layers : ndarray of bool, shape (p,)
        Points whose bounds hold for any number of layers, and not only at the thicknesses of the fields.
    """

    rows: Rows
    area: Floats
    envelope: Floats
    bound: Floats
    gap: Floats
    any_layers: NDArray[np.bool_]


def compressed_depth(force: Floats, t: Floats, strengths: list[Strengths], h: Floats, axes: Floats) -> Floats:
    """Neutral axis depth over the maximum at which pulling bars yield; forces (p, k, b), thicknesses (p, k, 2)."""
    block = np.array([s.block for s in strengths])
    limit = np.array([s.depth_limit for s in strengths])
    worst = np.zeros(force.shape[:2])
    for i in range(force.shape[2]):
        low, middle = np.nan_to_num(axes[:, i]) >= 0.0, np.abs(axes[:, i]) < 0.1 * h
        far = np.where(low[:, None], t[:, :, 1], t[:, :, 0])
        # a curtain at mid-depth may have either layer before it: the thicker, at its smaller depth
        far = np.where(middle[:, None], t.max(2), far)
        d = h / 2 + np.where(middle, -1.0, 1.0) * np.abs(axes[:, i])
        pulls = force[:, :, i] > np.maximum(1e-6 * force.max(2), _NOTHING)
        ratio = far / block / np.where(np.isfinite(d), d, np.inf)[:, None] / limit
        worst = np.maximum(worst, np.where(pulls, ratio, 0.0))
    return worst


def strained(
    demand: Floats, force: Floats, t: Floats, strengths: list[Strengths], h: Floats, axes: Floats
) -> NDArray[np.bool_]:
    """Whether bars pull and reach the strain that the higher strengths ask for, shape (p, k)."""
    pulls = force.max(2) > 1e-6 * np.maximum(np.abs(demand[..., :3]).max(2), 1.0)
    return np.asarray(pulls & (compressed_depth(force, t, strengths, h, axes) <= 1.0))


def fields_of(rows: Rows, points: int, weights: Floats) -> Fields:
    """Envelope over the rows of each point, with their bounds."""
    force = rows.witness.bars.reshape(points, -1, rows.axes.shape[1])
    f_yd, bound = rows.f_yd.reshape(points, -1), rows.bound.reshape(points, -1)
    total = force @ weights
    gap = ((total - bound) / np.maximum(total.max(1), 1e-3)[:, None]).max(1)
    demand = np.abs(rows.demand.reshape(points, -1, 6))
    scale = np.maximum(demand[..., :3].max((1, 2)), demand[..., 3:].max((1, 2)) / rows.h.reshape(points, -1)[:, 0])
    tiny = 1e-8 * scale  # what rounding leaves where no bar is needed
    envelope = (np.where(force > tiny[:, None, None], force, 0.0) / f_yd[:, :, None]).max(1)
    return Fields(rows, envelope, envelope, (bound / f_yd).max(1), gap, np.zeros(points, dtype=bool))
