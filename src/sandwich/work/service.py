"""The service state of a job's zones: bars as they are laid, what is asked of them, steel that is added."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.core.errors import Faults
from sandwich.core.numbers import most_of
from sandwich.core.shown import Measure, Sentence
from sandwich.design.added import Added, ServiceLoads, add_steel, smaller_bars, wanting
from sandwich.design.advice import REMEDY
from sandwich.design.averaging import averaged_cases
from sandwich.design.bar_sets import Given, arrangements
from sandwich.design.record import Ultimate
from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service, ServiceRule
from sandwich.design.service_tables import added_frame, cracks_frame, service_checks
from sandwich.design.settings import Settings
from sandwich.job.service import BarWidths, FaceWidths
from sandwich.project.project import Project
from sandwich.project.store import arrays_of, content, formulas, load_arrays, record_of, save_arrays
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Standard, Tightness
from sandwich.tables.write import file_name
from sandwich.work.bars import bars_at_depth, lay_bars, rule_of

Floats = NDArray[np.float64]
_ROUNDS: Final = 8
_USUAL: Final = (6.0, 8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 25.0)  # mm
_WORST: Final = 1.0 + 1e-6
SMALLER: Final = "by smaller bars"


@dataclass(frozen=True)
class ZoneService:
    """Service state of a zone: with its bars as they are, as the ultimate design left them, and what was added.

    `required` (p, b) is what service asks for: minimum steel against cracking, and the bars with which limits hold
    where more than those of the ultimate design are needed, zero elsewhere [mm2/mm].
    """

    zone: str
    rule: ServiceRule
    E_short: float
    E_long: float
    bars: ServiceBars
    before: Service
    state: Service
    added: Added | None
    cracks: pd.DataFrame
    checks: pd.DataFrame
    steel: pd.DataFrame | None
    remedies: pd.DataFrame
    required: Floats


def _both_ways(width: float | BarWidths) -> tuple[float, float]:
    """Crack widths allowed across the x and the y bars [mm]."""
    return (width.x, width.y) if isinstance(width, BarWidths) else (width, width)


def rule_of_zone(z: ZoneInput, standard: Standard) -> ServiceRule | None:
    """What the job asks of the service state of a zone, with the widths of the standard where it names none."""
    asked = z.zone.service
    if asked is None:
        return None
    given = dict(asked.widths) or dict(standard.width_limits)
    widths = {
        situation: (_both_ways(v.bottom), _both_ways(v.top)) if isinstance(v, FaceWidths) else (_both_ways(v),) * 2
        for situation, v in given.items()
    }
    return ServiceRule(
        widths=widths,
        creep=asked.creep,
        load_durations=tuple(d == "long" for d in asked.load_durations),
        simplified=asked.simplified,
        simplified_rules=standard.simplified_rules,
        minimum_reinforcement=asked.minimum_reinforcement,
        fct_eff_ratio=asked.fct_eff_ratio,
        uncracked=asked.uncracked,
        imposed=asked.imposed_deformation,
        add_reinforcement=asked.add_reinforcement,
        concrete_stress=np.inf if asked.concrete_stress is None else asked.concrete_stress,
        steel_stress=np.inf if asked.steel_stress is None else asked.steel_stress,
    )


def check_asked(project: Project, faults: Faults) -> None:
    """Note what is asked of the service state and cannot be answered."""
    standard, service = project.standard, project.combinations.service()
    for z in project.zones:
        asked, where = z.zone.service, f"{project.job.path}, zones.{z.name}.service"
        if asked is None:
            continue
        if not service.names:
            faults.add(where, "no service combination", "write one, or name its situation in rules.situations")
        rule = rule_of_zone(z, standard)
        lost = [s for s in rule.widths if s not in service.situations] if rule is not None else []
        if service.names and lost:
            there = ", ".join(dict.fromkeys(service.situations))
            faults.add(f"{where}.widths", f"no {lost[0]} combination", f"there are {there}")
        some = ("fct_eff_ratio", "imposed_deformation", "simplified")
        project.job.refuse_unused(("zones", z.name, "service"), some, standard.own_settings, standard.name, faults)
        if asked.water is not None:
            if not isinstance(standard, Tightness):
                faults.add(f"{where}.water", f"{standard.name} has no rule of tightness", "use EN 1992-1-1:2004")
            if not np.isfinite(z.xyz).all():
                faults.add(f"{where}.water", "a bare table has no heights", "bring nodes and elements")


def loads_of(z: ZoneInput, service: Combinations) -> ServiceLoads:
    """What acts on a zone in service, averaged over the strips of its bars."""
    water = z.zone.service.water if z.zone.service is not None else None
    none = np.zeros(len(z.h))
    head = none if water is None else np.maximum(1e3 * water.level - z.xyz[:, 2], 0.0)
    turn = none if z.turn is None else z.turn
    cases = z.cases if z.strips is None else averaged_cases(z.cases, z.strips)
    return ServiceLoads(cases, service.factors, service.situations, z.h, head, turn)


def laid_bars(z: ZoneInput, u: Ultimate, laid: Given | None, standard: Standard) -> ServiceBars:
    """Bars of a zone: the mesh chosen or given, else what is required in bars of the assumed diameters."""
    settings = z.settings(standard)
    assumed = settings.bars.diameters
    if laid is None:
        return ServiceBars(u.a_s, settings.bars.axes(z.h), assumed, laid=False)
    area = np.where((u.failing >= 0)[:, None] & laid.chosen, np.nan, laid.area)
    return bars_at_depth(z, laid, area, settings)


def laid_after_service(z: ZoneInput) -> bool:
    """Whether bars are laid out once service has asked for its own: what a layout may leave out is not known before."""
    return z.zone.layout is not None and z.zone.service is not None and z.zone.service.add_reinforcement


def _largest(z: ZoneInput, settings: Settings, thickest: float) -> float:
    """Area of the heaviest bars that the rule of a zone has [mm2/mm]; inf without a rule."""
    rule = rule_of(z, settings)
    if rule is None:
        return np.inf
    fit = replace(rule, diameters=tuple(d for d in rule.diameters if d <= thickest))
    return max((b.area for b in arrangements(fit)), default=np.inf)


def _remedies(
    z: ZoneInput, loads: ServiceLoads, bars: ServiceBars, before: Service, settings: Settings, rule: ServiceRule,
    added: Added | None,
) -> pd.DataFrame:  # fmt: skip
    """The widest crack of each face that is too wide with the bars of the ultimate design, and the remedy there."""
    rows = []
    for j, face in enumerate(settings.faces):
        over = np.nan_to_num(before.use[:, j], nan=0.0) > _WORST
        if not over.any():
            continue
        i = most_of(np.where(over, before.use[:, j], 0.0), np.nan_to_num(before.strain[:, j]))
        at = np.array([i])
        own, one = loads.at(at), bars.part(at)
        more = added if added is not None else add_steel(own, one, settings, rule, own.check(one, settings, rule))
        steel = more.area[i if added is not None else 0]
        layers = [
            Sentence("{} of {}", Measure(1e3 * a, "mm2/m", ".0f"), n)
            for a, n in zip(steel.tolist(), settings.names, strict=True)
            if a > 1e-4
        ]
        choice, least = (z.zone.rule.diameters, z.zone.rule.spacing_min) if z.zone.rule is not None else (_USUAL, 0.0)
        finer = smaller_bars(own, one, settings, rule, j, choice, least)
        rows.append(
            {
                "zone": z.name, "face": face, "points": int(over.sum()), "at point": str(z.labels[i]),
                "crack width [mm]": before.width[i, j], "allowed [mm]": before.limit[i, j],
                REMEDY: Sentence.joined(", ", layers) if layers else "none",
                SMALLER: "not enough" if finer is None
                else Sentence("the same steel in bars of {}", Measure(finer, "mm", "g")),
            }
        )  # fmt: skip
    return pd.DataFrame(rows)


def service_of(
    z: ZoneInput, u: Ultimate, laid: Given | None, service: Combinations, standard: Standard, store: Path,
    workers: int = 0,
) -> tuple[ZoneService | None, Given | None]:  # fmt: skip
    """Service state of a zone, and its bars, chosen again where steel is added and a rule chooses them.

    Parameters
    ----------
    z, u, laid
        The zone, its ultimate design and bars.
    service : Combinations
        Service combinations.
    standard : Standard
        Standard of the job.
    store : Path
        Folder of what a second run takes over.
    workers : int
        Threads; 0 takes one a core.

    Returns
    -------
    tuple
        None in first place where the zone asks for no service state.
    """
    rule = rule_of_zone(z, standard)
    if rule is None:
        return None, laid
    loads, settings = loads_of(z, service), z.settings(standard)
    exact = laid_after_service(z)
    first = bars = laid_bars(z, u, None if exact else laid, standard)
    grown = laid if laid is not None and laid.chosen else None
    file, key = store / f"{file_name(z.name)}+service.npz", _key(loads, first, z, rule, standard)

    thickest = float(settings.bars.diameters.max())
    most = _largest(z, settings, thickest)

    def with_steel(more: Floats) -> tuple[Given | None, ServiceBars]:
        """Bars chosen again for the larger of both states where a rule chooses them."""
        if grown is None and not exact:
            return None, replace(first, area=first.area + more)
        # no thicker than the ultimate design knows them: depths stay true; no more than the rule has
        area = np.maximum(u.a_s, np.minimum(first.area + more, most))
        wanted = replace(u, a_s=np.where(more > 0.0, area, u.a_s))
        chosen = lay_bars(z, wanted, standard, thickest, store)
        if chosen is not None:  # layers that ask for more than the rule has
            past = ((more > 0.0) & (np.nan_to_num(first.area) + more > most * (1.0 + 1e-9))).any(0)
            chosen = replace(chosen, most=tuple(sorted({*chosen.most, *np.flatnonzero(past).tolist()})))
        return chosen, laid_bars(z, wanted, chosen, standard)

    held = _held(file, key)
    if held is not None:
        before, state, added = held
        if added is not None and (exact or added.placed.any()):
            grown, bars = with_steel(added.placed)
    else:
        before = state = loads.check(first, settings, rule, workers)
        added = add_steel(loads, first, settings, rule, before) if rule.add_reinforcement else None
        if added is not None and (exact or added.area.any()):
            more, placed, again = added.area, np.zeros(first.area.shape), grown
            for _ in range(_ROUNDS):
                last = bars
                again, bars = with_steel(more)
                placed = more
                if _same(bars, last):
                    break  # the rule has no more
                state = loads.check(bars, settings, rule, workers)
                short = np.nan_to_num(wanting(state, rule)) > _WORST
                # of bars that are laid out, the minimum steel may be another than that of what is required alone
                bare = (np.nan_to_num(state.minimum) > np.nan_to_num(bars.area) * _WORST).any(1) & exact
                if again is None or not ((short | bare) & added.enough).any():
                    break
                # a thicker bar may crack wider, and takes more
                further = add_steel(loads, bars, settings, rule, state)
                if not further.area.any():
                    break
                more = np.where(further.area > 0.0, bars.area + further.area - first.area, more)
            short = np.nan_to_num(wanting(state, rule)) > _WORST
            grown, added = again, replace(added, area=more, placed=placed, enough=~short)
        kept = arrays_of(before, "before.") | arrays_of(state, "state.")
        save_arrays(file, key, kept if added is None else kept | arrays_of(added, "added."))
    labels, names = z.labels.astype(object), service.names
    remedies = _remedies(z, loads, first, before, settings, rule, added)
    required = np.where(np.isfinite(first.axes), np.nan_to_num(before.minimum), 0.0)
    if added is not None:
        required = np.fmax(required, np.where(added.area > 0.0, np.nan_to_num(first.area) + added.area, 0.0))
        final = np.maximum(np.nan_to_num(bars.area), np.nan_to_num(before.minimum))
        required = np.where(added.enough[:, None], np.minimum(required, final), required)
    found = ZoneService(
        zone=z.name,
        rule=rule,
        E_short=standard.modulus(settings.concrete, 0.0),
        E_long=standard.modulus(settings.concrete, rule.creep),
        bars=bars,
        before=before,
        state=state,
        added=added,
        cracks=cracks_frame(z.name, labels, state, names, settings),
        checks=service_checks(z.name, labels, state, names, bars.area, settings, rule),
        steel=None if added is None else added_frame(z.name, labels, added, first.area, settings),
        remedies=remedies,
        required=required,
    )
    return found, grown or laid


def _same(bars: ServiceBars, last: ServiceBars) -> bool:
    """Whether bars are the same in all that a service state sees."""
    both = ((getattr(bars, f.name), getattr(last, f.name)) for f in fields(ServiceBars))
    return all(np.array_equal(a, b, equal_nan=True) for a, b in both)


def _key(loads: ServiceLoads, bars: ServiceBars, z: ZoneInput, rule: ServiceRule, standard: Standard) -> str:
    """Digest of what the service state of a zone is made from."""
    asked = repr((rule, z.zone.rule, z.zone.layout, z.settings(standard).bars, z.zone.concrete, z.zone.steel, standard))
    acts = (loads.cases, loads.factors, loads.situations, loads.h, loads.head, loads.turn)
    return content([formulas(), *acts, bars.area, bars.axes, bars.diameter, bars.one, bars.cover, asked])


def _held(file: Path, key: str) -> tuple[Service, Service, Added | None] | None:
    """Service state of a zone before and after steel was added, or None where it was made from something else."""
    held = load_arrays(file, key)
    if held is None:
        return None
    try:
        added = record_of(Added, held, "added.") if "added.area" in held else None
        return record_of(Service, held, "before."), record_of(Service, held, "state."), added
    except KeyError:
        return None
