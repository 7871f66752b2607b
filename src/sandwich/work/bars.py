"""Bars of the zones of a job: meshes chosen by rule or given, extra bars in places, and how far they are used."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.core.shown import Sentence
from sandwich.core.status import Status
from sandwich.design.bar_sets import BarRule, ExtraBars, Given, ParallelBars, choose_mesh
from sandwich.design.bars import SPACING, THICK, Used, bars_frame, given_checks, ratio_of, use_frame, used
from sandwich.design.record import Ultimate
from sandwich.design.sections import ServiceBars
from sandwich.design.settings import Settings
from sandwich.job.bars import CLEAR, Additional
from sandwich.model.inside import inside
from sandwich.model.plan import Plan
from sandwich.project.store import arrays_of, content, formulas, load_arrays, record_of, save_arrays
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.cracks import OWN_LIMIT
from sandwich.standards.interface import Standard
from sandwich.tables.write import file_name
from sandwich.work.layout import LayerPlan, counted, laid_out, layer_plan, plan_at, rule_at, trims

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class BarUse:
    """Bars of a zone and their use."""

    zone: str
    given: Given
    use: Used
    bars: pd.DataFrame
    points: pd.DataFrame
    checks: pd.DataFrame


def rule_of(z: ZoneInput, settings: Settings) -> BarRule | None:
    """The bar rule of a zone, with the spacings that its standard allows at its thinnest place."""
    if z.zone.rule is None:
        return None
    thin = float(z.h.min())
    depth = thin / 2 + float(np.nanmin(np.abs(settings.bars.axes(thin))))
    most = settings.standard.maximum_spacing(settings.minimum, thin, depth)
    thickest = largest_bar(z, thin)
    fit = tuple(d for d in z.zone.rule.diameters if d <= thickest and _fits(z, d, settings))
    return BarRule(fit, tuple(s for s in z.zone.rule.spacings if s <= most), CLEAR)


def largest_bar(z: ZoneInput, h: Any) -> Any:
    """Largest diameter of bars by the thickness [mm] that the zone allows, inf without a limit."""
    own = z.zone.limits.bar_ratio if z.zone.limits is not None else None
    return math.inf if own is None else own * h


def _fits(z: ZoneInput, diameter: float, settings: Settings) -> bool:
    """Whether bars of a diameter in all layers lie inside the thinnest section."""
    laid = z.zone.with_diameters([max(diameter, float(d)) for d in settings.bars.diameters])
    try:
        laid.bars.layers().axes(float(z.h.min()))
    except ValueError:
        return False
    return True


def deeper(z: ZoneInput, u: Ultimate, settings: Settings, store: Path | None = None) -> ZoneInput | None:
    """The zone with the diameters chosen for it, where one of them is thicker than was assumed and bars lie deeper."""
    rule = rule_of(z, settings)
    if rule is None or all_provided(z, settings):
        return None
    there = np.asarray(np.isfinite(settings.bars.axes(z.h)).all(0))
    assumed = settings.bars.diameters
    if max(rule.diameters, default=0.0) <= assumed[there].min(initial=np.inf):
        return None  # none is thicker
    given = _mesh(z, u, settings, rule) if z.zone.layout is None else _laid_out(z, u, settings, rule, store)
    chosen = given.diameters
    if not np.any(chosen > assumed):
        return None
    most = [float(d) for d in np.maximum(chosen, assumed)]
    return replace(z, zone=z.zone.with_diameters(most))


def given_of(z: ZoneInput, settings: Settings) -> Given | None:
    """The bars that the job gives a zone, with the extra ones; None where it gives none, or a rule chooses some."""
    if not z.zone.provided or (z.zone.rule is not None and not all_provided(z, settings)):
        return None
    base = _provided(z, settings)
    area = np.array([b.area if b is not None else 0.0 for b in base])
    return _with_extra(Given(base, np.tile(area, (len(z.labels), 1)), chosen=False), z, settings)


def all_provided(z: ZoneInput, settings: Settings) -> bool:
    """Whether the job gives the bars of all layers, and nothing is left to a rule."""
    there = np.asarray(np.isfinite(settings.bars.axes(z.h)).all(0))
    return z.zone.layout is None and all(n in z.zone.provided for n, t in zip(settings.names, there, strict=True) if t)


def _mesh(z: ZoneInput, u: Ultimate, settings: Settings, rule: BarRule) -> Given:
    """Base meshes that the job gives, those of the other layers chosen by the rule."""
    there = np.asarray(np.isfinite(settings.bars.axes(z.h)).all(0))
    provided = _provided(z, settings)
    found = choose_mesh(u, there & np.array([b is None for b in provided]), rules_of(z, rule, settings))
    base = tuple(own or other for own, other in zip(provided, found.base, strict=True))
    area = np.array([b.area if b is not None else 0.0 for b in base])
    return replace(found, base=base, area=np.broadcast_to(area, u.a_s.shape).copy())


def rules_of(z: ZoneInput, rule: BarRule, settings: Settings) -> list[BarRule]:
    """The rule for each layer, with the distance that its bars keep from each other where they are closest."""
    plan = plan_at(z)
    if isinstance(plan, str):
        return [rule] * len(settings.names)
    return [rule_at(layer_plan(plan, float(angle)), rule) for angle in settings.bars.angles]


def _provided(z: ZoneInput, settings: Settings) -> tuple[ParallelBars | None, ...]:
    """Base meshes that the job gives."""
    return tuple(
        ParallelBars(m.diameter, m.spacing) if (m := z.zone.provided.get(name)) is not None else None
        for name in settings.names
    )


def _laid_out(z: ZoneInput, u: Ultimate, settings: Settings, rule: BarRule, store: Path | None) -> Given:
    """Bars laid out by the rule, over base meshes that are given where they are."""
    return laid_out(z, u, settings, rule, _provided(z, settings), store)


def _with_extra(given: Given, z: ZoneInput, settings: Settings) -> Given:
    extra = counted(tuple(_extra(z, settings)), lambda i: _flat(z, i))
    for e in extra:
        given.area[e.at, e.layer] += e.bars.area
    return replace(given, extra=extra)


def _extra(z: ZoneInput, settings: Settings) -> Iterator[ExtraBars]:
    """Additional bars that the job gives a zone."""
    plan = plan_at(z) if any(e.along is not None for e in z.zone.additional) else ""
    for extra in z.zone.additional:
        if extra.along is not None and not isinstance(plan, str):
            yield in_plan(z, extra, plan)
            continue
        at = inside(z.xyz / 1e3, np.array(extra.polygon, dtype=float), extra.within)
        yield ExtraBars(settings.names.index(extra.layer), ParallelBars(extra.diameter, extra.spacing), at)


def in_plan(z: ZoneInput, extra: Additional, plan: Plan) -> ExtraBars:
    """Additional bars in a rectangle of the plan of a zone."""
    layers = z.zone.bars.layers()
    layer = layers.names(z.zone.faces.bottom, z.zone.faces.top).index(extra.layer)
    spans = [1e3 * v for span in (extra.along, extra.across) if span is not None for v in span]
    region = spans[0], spans[1], spans[2], spans[3]
    bars = ExtraBars(layer, ParallelBars(extra.diameter, extra.spacing), np.zeros(len(z.labels), dtype=bool), region)
    return counted((bars,), lambda i: layer_plan(plan, float(layers.angles[i])))[0]


def _flat(z: ZoneInput, layer: int) -> LayerPlan:
    """A layer laid flat."""
    plan = plan_at(z)
    assert not isinstance(plan, str)
    return layer_plan(plan, float(z.zone.bars.layers().angles[layer]))


def bars_at_depth(z: ZoneInput, given: Given, area: Floats, settings: Settings) -> ServiceBars:
    """Bars of a zone at their own depth, point by point: base and extra bars of a layer lie on the same plane.

    Parameters
    ----------
    z : ZoneInput
        The zone.
    given : Given
        Its bars.
    area : ndarray, shape (p, b)
        Their area [mm2/mm], nan where they do not count.
    settings : Settings
        Of the zone.

    Returns
    -------
    ServiceBars
        The equivalent diameter sum(n phi^2)/sum(n phi) where base and extra bars differ, their common spacing as if
        the extra bars lay between the others, the axis of their area; the next layer lies on the thickest.

    References
    ----------
    EN 1992-1-1:2004, 7.3.4(3), expression (7.12).
    """
    shape, sides = area.shape, settings.bars.sides
    n, thick = np.zeros((4, *shape)), np.zeros(shape)  # sums of phi^0 .. phi^3 over the spacing

    def put(at: Any, layer: int, bars: ParallelBars) -> None:
        n[:, at, layer] += (bars.diameter ** np.arange(4.0) / bars.spacing).reshape(
            4, *np.ones(n[0, at, layer].ndim, int)
        )
        thick[at, layer] = np.maximum(thick[at, layer], bars.diameter)

    for layer, base in enumerate(given.base):
        if base is not None:
            put(slice(None), layer, base)
    for e in given.extra:
        put(e.at, e.layer, e.bars)
    bare = n[0] == 0.0
    thick = np.where(bare, settings.bars.diameters, thick)
    mean = np.where(bare, thick, n[3] / np.where(bare, 1.0, n[2]))  # of the area
    axes = np.empty(shape)
    for row in np.unique(thick, axis=0):
        at = (thick == row).all(1)
        axes[at] = z.zone.with_diameters([float(d) for d in row]).bars.layers().axes(z.h[at])
    cover = z.h[:, None] / 2.0 - np.abs(axes) - thick / 2.0
    mixed = (mean < thick - 1e-9) & (sides != 0)
    return ServiceBars(
        area, axes + np.where(mixed, sides * (thick - mean) / 2.0, 0.0),
        np.where(bare, thick, n[2] / np.where(bare, 1.0, n[1])),
        one=np.where(bare, np.pi * thick**2 / 4.0, np.pi / 4.0 * n[2] / np.where(bare, 1.0, n[0])),
        cover=np.where(mixed, cover, np.nan),
    )  # fmt: skip


def laid_axes(z: ZoneInput, laid: Given, settings: Settings) -> Floats:
    """Axes of the bars of a zone below mid-depth [mm], (p, b), nan where a layer does not exist."""
    there = np.isfinite(settings.bars.axes(z.h))
    return np.where(there, bars_at_depth(z, laid, laid.area, settings).axes, np.nan)


def lay_bars(
    z: ZoneInput, u: Ultimate, standard: Standard, thickest: float = math.inf, store: Path | None = None
) -> Given | None:
    """Bars of a zone, chosen up to a thickest diameter [mm] or given; None where the job names none."""
    settings = z.settings(standard)
    rule = rule_of(z, settings)
    if rule is None or all_provided(z, settings):
        return given_of(z, settings)
    fit = replace(rule, diameters=tuple(d for d in rule.diameters if d <= thickest))
    if z.zone.layout is not None:
        return _laid_out(z, u, settings, fit, store)
    return _with_extra(_mesh(z, u, settings, fit), z, settings)


def bars_of(
    z: ZoneInput,
    u: Ultimate,
    given: Given,
    ultimate: Combinations,
    standard: Standard,
    required: Floats | None,
    store: Path,
) -> BarUse:
    """Use of the bars of a zone by the ultimate state, and by what its service state requires (p, b) [mm2/mm].

    Limit analysis excuses bars that are short for the ultimate state, and never for service.
    """
    settings, labels = z.settings(standard), z.labels.astype(object)
    use = _used(z, u, given, ultimate, settings, store)
    if required is not None and (required > np.nan_to_num(u.a_s)).any():
        u = replace(u, a_s=np.where(np.isnan(u.a_s), np.nan, np.fmax(u.a_s, required)))
        enough = (required <= given.area * (1.0 + 1e-9)).all(1)
        use = replace(use, ratio=ratio_of(u, given), excused=use.excused & enough)
    weights = trims(z) if z.surface is not None and given.extra else None
    return BarUse(
        z.name, given, use, bars_frame(z.name, labels, u, given, use, settings, extra_text(given, settings), weights),
        use_frame(z.name, labels, use, ultimate.names, settings),
        pd.concat(
            [given_checks(z.name, labels, u, given, use, ultimate.names, settings), spacing_checks(z, given, settings)],
            ignore_index=True,
        ),
    )  # fmt: skip


def _used(z: ZoneInput, u: Ultimate, given: Given, ultimate: Combinations, settings: Settings, store: Path) -> Used:
    """Use of the bars by the ultimate state, taken over from the last run where it was made from the same."""
    file = store / f"{file_name(z.name)}+bars.npz"
    made_from = [z.cases, z.h, given.area, ultimate.factors, ultimate.situations, settings, *arrays_of(u).values()]
    key = content([formulas(), *made_from])
    held = load_arrays(file, key)
    if held is not None:
        return record_of(Used, held)
    use = used(z.cases, ultimate.factors, ultimate.situations, z.h, u, given, settings)
    save_arrays(file, key, arrays_of(use))
    return use


def extra_text(given: Given, settings: Settings) -> dict[str, Sentence]:
    """Extra bars of each layer in words: bars and how many points have them."""
    there: dict[tuple[int, ParallelBars], NDArray[np.bool_]] = {}
    for e in given.extra:
        there[e.layer, e.bars] = there.get((e.layer, e.bars), False) | e.at
    out: dict[str, list[Sentence]] = {}
    for (layer, bars), at in there.items():
        count = int(at.sum())
        told = Sentence("{} at {}", bars, f"{count} point{'s' if count > 1 else ''}")
        out.setdefault(settings.names[layer], []).append(told)
    return {name: Sentence.joined(", ", each) for name, each in out.items()}


def spacing_checks(z: ZoneInput, given: Given, settings: Settings) -> pd.DataFrame:
    """One row a layer for the table of checks: the widest spacing of bars against the maximum allowed."""
    rows, bars = [], bars_at_depth(z, given, given.area, settings)
    for i, name in enumerate(settings.names):
        at = np.flatnonzero(given.area[:, i] > 0.0)
        depth = z.h / 2 + np.abs(bars.axes[:, i])
        most = np.array([settings.standard.maximum_spacing(settings.minimum, z.h[j], depth[j]) for j in at])
        if not len(at) or not np.isfinite(most).any():
            continue
        use = bars.spacing[at, i] / most
        worst = int(use.argmax())
        rows.append(
            {
                "zone": z.name, "point": z.labels[at[worst]], "check": SPACING + name,
                "clause": settings.standard.clauses["spacing"], "demand": bars.spacing[at[worst], i],
                "capacity": most[worst], "unit": "mm", "utilisation": use[worst], "combination": "",
                "status": Status.EXCEEDED if use[worst] > 1.0 + 1e-9 else Status.OK,
            }
        )  # fmt: skip
    return pd.DataFrame(rows + _thick_bars(z, given, settings))


def _thick_bars(z: ZoneInput, given: Given, settings: Settings) -> list[dict[str, Any]]:
    """Rows of layers whose bars are thicker than the zone allows at its thinnest place."""
    most, rows = float(largest_bar(z, float(z.h.min()))), []
    for name, d in zip(settings.names, given.diameters, strict=True):
        if d > 0.0 and math.isfinite(most):
            rows.append({
                "zone": z.name, "point": z.labels[int(z.h.argmin())], "check": THICK + name, "clause": OWN_LIMIT,
                "demand": d, "capacity": most, "unit": "mm", "utilisation": d / most, "combination": "",
                "status": Status.EXCEEDED if d > most * (1.0 + 1e-9) else Status.OK,
            })  # fmt: skip
    return rows
