"""The service state of a job's zones: bars as they are laid, what is asked of them, steel that is added."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.design.added import Added, ServiceLoads, add_steel, smaller_bars, wanting
from sandwich.design.bands import averaged_cases
from sandwich.design.bars import Given, Laid
from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service, ServiceRule
from sandwich.design.service_tables import added_frame, cracks_frame, service_checks
from sandwich.design.settings import Settings
from sandwich.design.ultimate import Ultimate
from sandwich.errors import Faults, StaleError
from sandwich.incoming import Incoming
from sandwich.job import Job
from sandwich.job.service import FaceWidths
from sandwich.meshes import bars_at_depth, lay_bars, rule_of
from sandwich.places import places_of
from sandwich.prepare import ZoneInput, standard_of
from sandwich.punching import punch_places
from sandwich.resume import load_service, load_ultimate, save_service, service_key
from sandwich.standards.interface import Standard
from sandwich.tables.write import file_name

Floats = NDArray[np.float64]
SERVICE_TABLES: Final = ("cracks", "service checks", "service steel", "too wide")
_ROUNDS: Final = 4
_USUAL: Final = (6.0, 8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 25.0)  # mm
_WORST: Final = 1.0 + 1e-6


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


@dataclass(frozen=True)
class ServiceState:
    """Service state of a job: its zones, cracks, checks with the worst first, steel added where a zone asks for it."""

    zones: tuple[ZoneService, ...]
    cracks: pd.DataFrame
    checks: pd.DataFrame
    steel: pd.DataFrame | None
    remedies: pd.DataFrame

    @property
    def tables(self) -> dict[str, pd.DataFrame]:
        """Tables by name."""
        found = zip(SERVICE_TABLES, (self.cracks, self.checks, self.steel, self.remedies), strict=True)
        return {name: frame for name, frame in found if frame is not None and (name != "too wide" or len(frame))}


def joined(zones: list[ZoneService]) -> ServiceState | None:
    """The service state of all zones that ask for it."""
    if not zones:
        return None
    checks = pd.concat([z.checks for z in zones]).sort_values("utilisation", ascending=False, kind="stable")
    grown = [z.steel for z in zones if z.steel is not None]
    return ServiceState(
        tuple(zones), pd.concat([z.cracks for z in zones], ignore_index=True), checks.reset_index(drop=True),
        pd.concat(grown, ignore_index=True) if grown else None,
        pd.concat([z.remedies for z in zones], ignore_index=True),
    )  # fmt: skip


def rule_of_zone(z: ZoneInput, standard: Standard) -> ServiceRule | None:
    """What the job asks of the service state of a zone, with the widths of the standard where it names none."""
    asked = z.zone.service
    if asked is None:
        return None
    widths: dict[str, tuple[float, float]] = {
        situation: (v.bottom, v.top) if isinstance(v, FaceWidths) else (v, v) for situation, v in asked.widths.items()
    } or {situation: (v, v) for situation, v in standard.width_limits.items()}
    return ServiceRule(
        widths, asked.creep, tuple(age == "long" for age in asked.ages), asked.quick, standard.quick_rules, asked.least,
        asked.strength_then, asked.uncracked, asked.imposed_deformation, asked.adds,
    )  # fmt: skip


def check_asked(job: Job, zones: list[ZoneInput], service: Combinations, faults: Faults) -> None:
    """Note what is asked of the service state and cannot be answered."""
    standard = standard_of(job)
    for z in zones:
        asked, where = z.zone.service, f"{job.path}, zones.{z.name}.service"
        if asked is None:
            continue
        if not service.names:
            faults.add(where, "no service combination", "write one, or name its situation in rules.situations")
        rule = rule_of_zone(z, standard)
        assert rule is not None
        lost = [s for s in rule.widths if s not in service.situations]
        if service.names and lost:
            there = ", ".join(dict.fromkeys(service.situations))
            faults.add(f"{where}.widths", f"no {lost[0]} combination", f"there are {there}")
        if asked.water is not None:
            try:
                standard.tightness(z.h[:1], z.h[:1])
            except NotImplementedError:
                faults.add(f"{where}.water", f"{standard.name} has no rule of tightness", "EN 1992-1-1:2004 would do")
            if not np.isfinite(z.xyz).all():
                faults.add(f"{where}.water", "a bare table has no heights", "bring nodes and elements")


def loads_of(z: ZoneInput, service: Combinations) -> ServiceLoads:
    """What acts on a zone in service, averaged over the strips of its bars."""
    water = z.zone.service.water if z.zone.service is not None else None
    none = np.zeros(len(z.h))
    head = none if water is None else np.maximum(1e3 * water.level - z.xyz[:, 2], 0.0)
    turn = none if z.turn is None else z.turn
    cases = z.cases if z.bands is None else averaged_cases(z.cases, z.bands)
    return ServiceLoads(cases, service.factors, service.situations, z.h, head, turn)


def laid_bars(z: ZoneInput, u: Ultimate, laid: Given | None, standard: Standard) -> ServiceBars:
    """Bars of a zone: the mesh chosen or given, else what is required in bars of the assumed diameters."""
    settings = z.settings(standard)
    assumed = settings.bars.diameters
    if laid is None:
        return ServiceBars(u.a_s, settings.bars.axes(z.h), assumed, laid=False)
    area = np.where((u.failing >= 0)[:, None] & laid.chosen, np.nan, laid.area)
    return bars_at_depth(z, laid, area, settings)


def _largest(z: ZoneInput, settings: Settings, thickest: float) -> float:
    """Area of the heaviest bars that the rule of a zone has [mm2/mm]; inf without a rule."""
    rule = rule_of(z, settings)
    if rule is None or not rule.spacings:
        return np.inf
    return max((Laid(d, min(rule.spacings)).area for d in rule.diameters if d <= thickest), default=np.inf)


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
        i = int(np.argmax(np.where(over, before.use[:, j], 0.0)))
        at = np.array([i])
        own, one = loads.at(at), bars.part(at)
        more = added if added is not None else add_steel(own, one, settings, rule, own.check(one, settings, rule))
        steel = more.area[i if added is not None else 0]
        layers = [f"{1e3 * a:.0f} mm2/m of {n}" for a, n in zip(steel, settings.names, strict=True) if a > 1e-4]
        choice, least = (z.zone.rule.diameters, z.zone.rule.least) if z.zone.rule is not None else (_USUAL, 0.0)
        finer = smaller_bars(own, one, settings, rule, j, choice, least)
        rows.append(
            {
                "zone": z.name, "face": face, "points": int(over.sum()), "at point": str(z.labels[i]),
                "crack width [mm]": before.width[i, j], "allowed [mm]": before.limit[i, j],
                "steel that would do there": ", ".join(layers) or "none",
                "or the same steel": "in no bars that may be chosen" if finer is None else f"in bars of {finer:g} mm",
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
        Folder of the results that a second run takes over.
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
    first = bars = laid_bars(z, u, laid, standard)
    grown = laid if laid is not None and laid.chosen else None
    file, key = store / f"{file_name(z.name)}+service.npz", service_key(loads, first, z, rule, standard)

    thickest = float(settings.bars.diameters.max())
    most = _largest(z, settings, thickest)

    def with_steel(more: Floats) -> tuple[Given | None, ServiceBars]:
        """Bars chosen again for the larger of both states where a rule chooses them."""
        if grown is None:
            return None, replace(first, area=first.area + more)
        # no thicker than the ultimate design knows them: depths stay true; no more than the rule has
        area = np.maximum(u.a_s, np.minimum(first.area + more, most))
        wanted = replace(u, a_s=np.where(more > 0.0, area, u.a_s))
        chosen = lay_bars(z, wanted, standard, thickest)
        return chosen, laid_bars(z, wanted, chosen, standard)

    held = load_service(file, key)
    if held is not None:
        before, state, added = held
        if added is not None and added.placed.any():
            grown, bars = with_steel(added.placed)
    else:
        before = state = loads.check(first, settings, rule, workers)
        added = add_steel(loads, first, settings, rule, before) if rule.adds else None
        if added is not None and added.area.any():
            more, placed, again = added.area, np.zeros(first.area.shape), grown
            for _ in range(_ROUNDS):
                again, bars = with_steel(more)
                placed = more
                state = loads.check(bars, settings, rule, workers)
                short = np.nan_to_num(wanting(state, rule)) > _WORST
                if again is None or not (short & added.enough).any():
                    break
                # a thicker bar may crack wider, and takes more
                further = add_steel(loads, bars, settings, rule, state)
                more = np.where(further.area > 0.0, bars.area + further.area - first.area, more)
            short = np.nan_to_num(wanting(state, rule)) > _WORST
            grown, added = again, replace(added, area=more, placed=placed, enough=~short)
        save_service(file, key, before, state, added)
    labels, names = z.labels.astype(object), service.names
    remedies = _remedies(z, loads, first, before, settings, rule, added)
    required = np.where(np.isfinite(first.axes), np.nan_to_num(before.least), 0.0)
    if added is not None:
        required = np.fmax(required, np.where(added.area > 0.0, np.nan_to_num(first.area) + added.area, 0.0))
        final = np.maximum(np.nan_to_num(bars.area), np.nan_to_num(before.least))
        required = np.where(added.enough[:, None], np.minimum(required, final), required)
    return (
        ZoneService(
            z.name, rule, standard.modulus(settings.concrete, 0.0), standard.modulus(settings.concrete, rule.creep),
            bars, before, state, added, cracks_frame(z.name, labels, state, names, settings),
            service_checks(z.name, labels, state, names, bars.area, settings, rule),
            None if added is None else added_frame(z.name, labels, added, first.area, settings), remedies,
            required,
        ),
        grown or laid,
    )  # fmt: skip


def stored_service(z: ZoneInput, came: Incoming, standard: Standard, store: Path) -> ZoneService:
    """Service state of a zone that asks for it, with the bars of its last run.

    Raises
    ------
    StaleError
        If the store has no design of the zone.
    """
    u, laid = _stored(z, came, standard, store)
    found, _ = service_of(z, u, laid, came.combinations.service(), standard, store)
    assert found is not None
    return found


def stored_bars(z: ZoneInput, came: Incoming, standard: Standard, store: Path) -> ServiceBars:
    """Bars of a zone as its last run left them; `StaleError` where the store has no design of it."""
    if z.zone.service is not None:
        return stored_service(z, came, standard, store).bars
    return laid_bars(z, *_stored(z, came, standard, store), standard)


def _stored(z: ZoneInput, came: Incoming, standard: Standard, store: Path) -> tuple[Ultimate, Given | None]:
    """The stored design with the bars that punching raises, as the run lays them."""
    u = load_ultimate(store / f"{file_name(z.name)}.npz")
    if u is None:
        raise StaleError(f"{store} holds no design of zone '{z.name}'; run the job again")
    if any(p.zone == z.name for p in came.job.punching.values()):
        _, u = punch_places(places_of(came, Faults()), z, u, standard)
    return u, lay_bars(z, u, standard)
