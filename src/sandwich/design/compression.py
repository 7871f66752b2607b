"""Points whose concrete would crush, with bars in compression where the zone allows them, designed in many layers."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.design.fields import design_combined
from sandwich.design.minimum import minimum_steel
from sandwich.design.record import Ultimate
from sandwich.design.results import LAYER
from sandwich.design.settings import Settings
from sandwich.design.transverse import ShearCheck, check_shear, shear_rows
from sandwich.mechanics import threelayer
from sandwich.mechanics.certificate import layered_violations
from sandwich.mechanics.cones import equal_layers
from sandwich.mechanics.leaststeel import optimum_steel as optimum_in_layers
from sandwich.mechanics.limit import load_factor
from sandwich.mechanics.superpose import superpose
from sandwich.standards.interface import Strengths

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_MORE: Final = 1.0 + 1e-6  # bars beyond the minimum, so that the field found within them carries the whole


def with_compression(
    u: Ultimate, cases: Floats, factors: Floats, situations: list[str], h: Floats, settings: Settings, support: Ints
) -> Ultimate:
    """The design with bars in compression at the points whose layers did not fit.

    Parameters
    ----------
    u : Ultimate
        The design without.
    cases, factors, situations, h, settings, support
        As in `design_ultimate`.

    Returns
    -------
    Ultimate
        Points that bars in compression save have areas, a certified field and the forces of these bars; where none
        do, the point fails as before.

    References
    ----------
    Lower bound theorem in forty layers; concrete cracked where a bar pulls.
    """
    arrays = {f.name: getattr(u, f.name).copy() for f in fields(u) if f.name != "shear"}
    shear = {f.name: getattr(u.shear, f.name).copy() for f in fields(ShearCheck)}
    axes = settings.bars.axes(h)
    strengths = [settings.standard.strengths(settings.concrete, settings.steel, s) for s in situations]
    for i in np.flatnonzero(u.status == threelayer.LAYERS_DO_NOT_FIT):
        combined = superpose(cases[i : i + 1], factors)
        rows = design_combined(combined, strengths, h[[i]], axes[[i]], settings)
        lost = np.flatnonzero(~rows.ok)
        if not len(lost) or np.any(rows.status[lost] != threelayer.LAYERS_DO_NOT_FIT):
            continue  # it fails by the thrust of links alone, or otherwise
        area = (rows.witness.bars / rows.f_yd[:, None]).max(0)
        found = [_least(rows.demand[k], float(h[i]), axes[i], strengths[k], settings) for k in lost]
        if any(f is None for f in found):
            continue
        asked = np.stack([f for f in found if f is not None])
        whole = np.maximum(area, asked.max(0))
        checks = [
            _field(rows.demand[k], float(h[i]), axes[i], own, strengths[k], settings)
            for k, own in zip(lost, asked, strict=True)
        ]
        depths = h[[i], None] / 2 + np.abs(axes[[i]])
        least = minimum_steel(whole[None], h[[i]], depths, settings)[0]
        governing = np.where(asked.max(0) >= area, lost[asked.argmax(0)], rows.witness.bars.argmax(0))
        required = np.maximum(whole, least)
        held = rows.violation(required * rows.f_yd[:, None], settings.method)[rows.ok]
        kept = float(held.max(initial=0.0))
        new = {
            "a_s": required, "a_s_ultimate": whole, "a_s_envelope": whole, "a_s_minimum": least,
            "governing": np.where(whole > 0.0, governing, -1), "force": whole * strengths[lost[0]].f_yd_deep,
            "status": threelayer.OK, "failing": -1, "layers": 1.0, "layers_by": lost[0],
            "depth": np.nan, "neglected": 0.0,
            "violation": max(kept, *(v for v, _ in checks)), "any_layers": False,
            "bound": np.nan, "total": float(whole @ settings.bars.weights), "gap": 0.0, "turned": 0.0,
            "pressed": np.max([p for _, p in checks], axis=0),
        }  # fmt: skip
        for name, value in new.items():
            arrays[name][i] = value
        arrays["axial_limit"][i] += _along(arrays["pressed"][i], combined[0, u.axial_by[i]], settings)
        sheared = shear_rows(combined, situations, h[[i]], axes[[i]], required[None], settings, support[[i]])
        checked = check_shear(sheared, np.zeros(sheared.v_Ed.shape, dtype=bool), np.ones(1), situations, settings)
        for name, values in shear.items():
            values[i] = getattr(checked, name)[0]
    return replace(u, **arrays, shear=ShearCheck(**shear))


def _along(pressed: Floats, row: Floats, settings: Settings) -> float:
    """What bars in compression carry along the principal compression of the membrane forces [N/mm]."""
    theta = 0.5 * np.arctan2(2.0 * row[2], row[0] - row[1]) + np.pi / 2
    return float(np.nan_to_num(pressed) @ np.cos(settings.bars.angles - theta) ** 2)


def _least(demand: Floats, h: float, axes: Floats, s: Strengths, settings: Settings) -> Floats | None:
    """Minimum areas (b,) with which one set of resultants is carried; None where none do."""
    there = np.isfinite(axes)
    for fc, cracked in ((s.fc_uncracked, False), (s.fc_cracked, True)):
        found = optimum_in_layers(
            demand, h, axes[there], settings.bars.angles[there], fc, weights=settings.bars.weights[there],
            compressed_bars=s.compressed,
        )  # fmt: skip
        if not np.isfinite(found.total):
            continue
        out = np.zeros(len(axes))
        out[there] = np.maximum(found.forces, 0.0) / s.f_yd_deep * _MORE
        if cracked or not _pulls(demand, h, axes, out, s, settings):
            return out
    return None


def _strength(demand: Floats, h: float, axes: Floats, area: Floats, s: Strengths, settings: Settings) -> float:
    return s.fc_cracked if _pulls(demand, h, axes, area, s, settings) else s.fc_uncracked


def _pulls(demand: Floats, h: float, axes: Floats, area: Floats, s: Strengths, settings: Settings) -> bool:
    """Whether a bar has to pull, or does in the field within the bars at the strength of whole concrete."""
    state = _state(demand, h, axes, area, s, settings, s.fc_uncracked)
    return state is None or bool((state[0] > 1e-4 * np.abs(demand[:3]).max(initial=1.0)).any())


def _state(
    demand: Floats, h: float, axes: Floats, area: Floats, s: Strengths, settings: Settings, fc: float
) -> tuple[Floats, Floats] | None:
    """Bar forces (of the layers that exist) and concrete stresses within given bars; None where they do not hold."""
    there = np.isfinite(axes)
    state = load_factor(
        demand, h, axes[there], settings.bars.angles[there], s.f_yd_deep * area[there], fc, compressed_bars=s.compressed
    )
    if not state.lower >= 1.0 - 1e-7:
        return None
    return state.bars / state.lower, state.concrete / state.lower


def _field(
    demand: Floats, h: float, axes: Floats, area: Floats, s: Strengths, settings: Settings
) -> tuple[float, Floats]:
    """Violation of the field within given bars over max(|n|, |m|/h, 1 N/mm), and forces of bars in compression (b,)."""
    there = np.isfinite(axes)
    fc = _strength(demand, h, axes, area, s, settings)
    state = _state(demand, h, axes, area, s, settings, fc)
    pressed = np.zeros(len(axes))
    if state is None:
        return np.inf, pressed
    pressed[there] = np.maximum(-state[0], 0.0)
    scale = max(float(np.abs(demand[:3]).max()), float(np.abs(demand[3:]).max()) / h, 1.0)
    angles, capacity = settings.bars.angles[there], s.f_yd_deep * area[there]
    y, t = equal_layers(len(state[1]))
    wrong = layered_violations(
        demand[None], np.array([h]), axes[None, there], angles, state[0][None], capacity[None], state[1][None],
        np.full((1, len(t)), fc), y, t, pressed=s.compressed,
    )  # fmt: skip
    return max(float(wrong[0]), 0.0) / scale, pressed


def compression_frame(
    zone: str, labels: NDArray[np.object_], u: Ultimate, h: Floats, settings: Settings
) -> pd.DataFrame:
    """One row a point and layer with bars in compression, with the ties that hold them; the largest force first."""
    point, layer = np.nonzero(np.nan_to_num(u.pressed) > 1e-3)
    order = np.argsort(-u.pressed[point, layer], kind="stable")
    point, layer = point[order], layer[order]
    diameter, spacing = settings.standard.ties(settings.bars.diameters[layer], h[point])
    return pd.DataFrame(
        {
            "zone": np.full(len(point), zone, dtype=object), "point": labels[point],
            LAYER: [settings.names[i] for i in layer], "compression [kN/m]": u.pressed[point, layer],
            "required [mm2/m]": 1e3 * u.a_s[point, layer], "ties from [mm]": diameter, "ties apart up to [mm]": spacing,
            "clause": settings.standard.clauses["ties"],
        }
    )  # fmt: skip
