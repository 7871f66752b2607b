"""Order of the stages of a job: read, combine, ultimate, tables, maps, report."""

from __future__ import annotations

import json
import logging
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd

from sandwich import compiled
from sandwich._version import __version__
from sandwich.combine.envelope import UNIT, envelope_frame, worst_of
from sandwich.combine.table import Combinations
from sandwich.design.advice import advice, with_advice
from sandwich.design.bars import BARS, SPACING
from sandwich.design.compression import compression_frame
from sandwich.design.results import TURN, checks_frame, links_frame, steel_frame
from sandwich.design.sections import ServiceBars
from sandwich.design.summary import certificate_of, exceeded, failures
from sandwich.design.ultimate import Ultimate, design_ultimate
from sandwich.errors import Faults, StaleError
from sandwich.incoming import Incoming, bring_in
from sandwich.inspection.doubts import doubts_of
from sandwich.job import Job, load_job
from sandwich.mechanics.superpose import extremes
from sandwich.meshes import ZoneBars, bars_of, check_bars, deeper, lay_bars
from sandwich.places import Place, places_of
from sandwich.prepare import ZoneInput, standard_of
from sandwich.punching import PunchedPlace, punch_places, punching_frame, rows_frame
from sandwich.report.shown import Shown
from sandwich.result import RunResult
from sandwich.resultants import COMPONENTS
from sandwich.resume import (
    COMBINATIONS,
    content,
    digest,
    load_ultimate,
    read_record,
    save_combinations,
    save_ultimate,
    zone_key,
)
from sandwich.serviceability import SERVICE_TABLES, ServiceState, check_asked, joined, laid_bars, service_of
from sandwich.standards.interface import Standard
from sandwich.strips import StripResult, strips_of
from sandwich.tables.owned import Owned, results_folder
from sandwich.tables.write import file_name, read_store, table_file, write_store, write_table, write_text
from sandwich.tendons import TENDON_TABLES, check_tendons, lay_tendons
from sandwich.tendons import Laid as LaidTendons

log = logging.getLogger("sandwich")
TABLES = (
    "points", "steel", "checks", "combinations", "service resultants", "envelopes", "extremes", "averaged peaks",
    "strips", "strip checks", "methods", "links",
    *SERVICE_TABLES, *TENDON_TABLES,
    "bars", "utilisation of bars", "punching", "punching rows", "compression bars",
)  # fmt: skip
NEW = ".new"
RESERVED = (
    "record.json", "report.html", "methods.png",
    *(table_file(name, kind) for name in TABLES for kind in ("parquet", "csv")),
)  # fmt: skip
Progress = Callable[[str, int, int], None]


def _nothing(what: str, done: int, of: int) -> None:
    """Progress that nobody watches."""


def points_frame(zones: list[ZoneInput], ultimate: list[Ultimate], combinations: Combinations) -> pd.DataFrame:
    """One row a point: place, thickness, doubts about its resultants."""
    out = []
    for z, u in zip(zones, ultimate, strict=True):
        low = np.zeros(len(z.labels)) if z.low is None else np.abs(z.low @ combinations.factors.T).max(1, initial=0.0)
        out.append(
            pd.DataFrame(
                {
                    "zone": z.name,
                    "point": z.labels.astype(object),
                    "x [m]": z.xyz[:, 0] / 1e3,
                    "y [m]": z.xyz[:, 1] / 1e3,
                    "z [m]": z.xyz[:, 2] / 1e3,
                    "thickness [mm]": z.h,
                    "one-sided": z.one_sided,
                    "averaged over [m]": _width(z),
                    "moment low by up to [kNm/m]": low / 1e3,
                    "steel by strength [mm2/m]": u.a_s_ultimate.sum(1) * 1e3,
                    "weighted steel [mm2/m]": u.total * 1e3,
                    "lower bound of weighted steel [mm2/m]": u.bound * 1e3,
                    "certified": u.certified,
                    "cracking, uncracked up to 0": u.cracking,
                }
            )
        )
    return pd.concat(out, ignore_index=True)


def _width(z: ZoneInput) -> np.ndarray:
    """Width over which each point's peak was averaged [m], nan where it is not."""
    out = np.full(len(z.labels), np.nan)
    if z.averaged is not None and z.zone.peaks is not None:
        out[z.averaged.point] = z.zone.peaks.width
    return out


def peaks_frame(zones: list[ZoneInput], ultimate: Combinations) -> pd.DataFrame:
    """One row an averaged point and component: greatest magnitude as it came in, and as it was designed."""
    parts = []
    for z in zones:
        if z.averaged is None or z.raw is None:
            continue
        at = z.averaged.point
        raw, used = (np.maximum.reduce(list(map(np.abs, extremes(v[at], ultimate.factors)))) for v in (z.raw, z.cases))
        for i, name in enumerate(COMPONENTS):
            unit, scale = UNIT[name]
            columns = {"zone": z.name, "point": z.labels[at].astype(object), "component": name, "unit": unit}
            parts.append(pd.DataFrame({**columns, "raw": raw[:, i] * scale, "averaged": used[:, i] * scale}))
    return pd.concat(parts, ignore_index=True) if parts else pd.DataFrame()


def run_job(path: str | Path, *, progress: Progress = _nothing, pictures: bool = True) -> RunResult:
    """Run a job from its file to tables, maps and report.

    Parameters
    ----------
    path : str or Path
        The job file.
    progress : callable, optional
        Called with the stage, the work done and the whole.
    pictures : bool
        Whether maps and the report are made.

    Returns
    -------
    RunResult
        Frames, certificate and the files written.

    Raises
    ------
    InputError
        If anything that came in cannot be used; nothing is written then.
    """
    progress("reading", 0, 1)
    start = digest(load_job(path))
    came = bring_in(path)
    progress("reading", 1, 1)
    job, combinations, zones = came.job, came.combinations, came.zones
    standard = standard_of(job)
    faults = Faults()
    places = places_of(came, faults)
    strips = strips_of(came, standard, faults)
    check_bars(job, zones, faults)
    tendons = lay_tendons(came, faults)
    check_asked(job, zones, combinations.service(), faults)
    faults.stop()
    with results_folder(job, RESERVED) as owned:
        return _write_results(came, standard, places, strips, tendons, start, owned, progress, pictures=pictures)


def _write_results(
    came: Incoming, standard: Standard, places: list[Place], strips: list[StripResult], tendons: list[LaidTendons],
    start: str, owned: Owned, progress: Progress, *, pictures: bool,
) -> RunResult:  # fmt: skip
    """Design and write: new tables stand whole before old ones go."""
    job, results, combinations, zones = came.job, came.results, came.combinations, came.zones
    if compiled.is_cold():
        log.warning("compiling once; later runs start at once")
    last = read_record(job.results)
    zones, designed, reused, laid, punched = _design(
        job, zones, combinations.ultimate(), standard, progress, last, places
    )
    meshes, service = _bars_and_service(job, zones, designed, combinations, standard, progress)
    bars = {z.name: _bars_in_service(z, u, meshes, service, standard) for z, u in zip(zones, designed, strict=True)}
    prestress = check_tendons(tendons, zones, bars, came, standard)
    asked = {of.zone: of.required for of in service.zones} if service is not None else {}
    points, steel, checks = _frames(zones, designed, combinations.ultimate(), standard, meshes, asked)
    tables = {"points": points, "steel": steel, "checks": checks, "combinations": combinations.frame()}
    if combinations.service().names:
        tables["service resultants"] = _service_frame(zones, combinations.service())
    envelope = pd.concat([envelope_frame(z.name, z.labels, z.cases, combinations.ultimate()) for z in zones])
    tables["extremes"] = worst_of(envelope.reset_index(drop=True))
    if any(z.zone.links is not None for z in zones):
        tables["links"] = pd.concat(
            [
                links_frame(z.name, z.labels, u, combinations.ultimate().names, z.settings(standard))
                for z, u in zip(zones, designed, strict=True)
                if z.zone.links is not None
            ],
            ignore_index=True,
        )
    pressed = [
        compression_frame(z.name, z.labels.astype(object), u, z.h, z.settings(standard))
        for z, u in zip(zones, designed, strict=True)
        if z.zone.compression_bars
    ]
    if pressed:
        tables["compression bars"] = pd.concat(pressed, ignore_index=True)
    if any(z.averaged is not None for z in zones):
        tables["averaged peaks"] = peaks_frame(zones, combinations.ultimate())
    if strips:
        tables["strips"] = pd.concat([s.frame() for s in strips], ignore_index=True)
        tables["strip checks"] = pd.concat([s.checks() for s in strips], ignore_index=True)
    if punched:
        tables["punching"] = punching_frame(punched, standard)
        if len(rows := rows_frame(punched, standard)):
            tables["punching rows"] = rows
    if meshes:
        tables["bars"] = pd.concat([m.bars for m in meshes], ignore_index=True)
        tables["utilisation of bars"] = pd.concat([m.points for m in meshes], ignore_index=True)
    if service is not None:
        tables |= service.tables
    if prestress is not None:
        tables |= prestress.tables
    _replace_tables(job, tables, envelope, zones, owned)
    doubts = doubts_of(came)
    strengths = {z.name: standard.strengths(z.zone.concrete, z.zone.steel, "persistent") for z in zones}
    averages = {z.name: (len(z.averaged.point), len(z.h)) for z in zones if z.averaged is not None}
    averages |= {
        z.name: (int((u.cells >= 0).any(1).sum()), len(z.h))
        for z, u in zip(zones, designed, strict=True)
        if z.bands is not None
    }
    joint = {z.name: u for z, u in zip(zones, designed, strict=True) if z.zone.together}
    certificate = certificate_of(designed, {z.name: z.zone.method for z in zones}, averages, joint)
    result = RunResult(
        job, results, zones, combinations, points, steel, checks, certificate, strengths, job.results, standard,
        tuple(map(str, doubts)), tuple(reused), tuple(strips), tables["extremes"],
        tables.get("links"), standard.own_rules, standard.readings, tuple(meshes), tuple(punched),
        tables.get("punching"), tables.get("punching rows"), tables.get("compression bars"),
        service, prestress,
        *_doubtful(zones, steel, checks, combinations.ultimate(), standard), grave=sum(d.grave for d in doubts),
    )  # fmt: skip
    now = digest(job)
    if now != start:
        log.warning("the job or its tables changed while they were read; run the job again")
    vouched = now if now == start else ""
    record: dict[str, Any] = {"digest": vouched, "version": __version__, "standard": standard.name, "bars": laid}
    drawn: dict[str, str] = {}
    if pictures:
        from sandwich.report.page import write_report

        page, drawn = write_report(result, standard.name, progress, last.get("pictures", {}))
        result, record["pictures"] = replace(result, report=page), drawn
        for old in owned.inside("maps"):
            if old.removeprefix("maps/") not in drawn:
                owned.remove(old)
    elif last.get("digest") == now and "report.html" in owned.files:  # nothing has changed: the last report holds
        result, record["pictures"] = replace(result, report=job.results / "report.html"), last.get("pictures", {})
    else:
        for old in ("report.html", *owned.inside("maps")):
            owned.remove(old)
    write_text(job.results / "record.json", json.dumps(record, indent=1) + "\n")
    return result


def _bars_and_service(
    job: Job, zones: list[ZoneInput], designed: list[Ultimate], combinations: Combinations, standard: Standard,
    progress: Progress,
) -> tuple[list[ZoneBars], ServiceState | None]:  # fmt: skip
    """Bars of the zones and their service state, which may ask for more bars."""
    ultimate, service = combinations.ultimate(), combinations.service()
    laid, services = [], []
    whole, done = sum(z.zone.service is not None for z in zones), 0
    for z, u in zip(zones, designed, strict=True):
        state, given = service_of(
            z, u, lay_bars(z, u, standard), service, standard, job.results / "store", job.design.workers
        )
        laid.append((z, u, given, state.required if state is not None else None))
        if state is not None:
            services.append(state)
            done += 1
            progress("service state", done, whole)
    meshes = [bars_of(z, u, given, ultimate, standard, asked) for z, u, given, asked in laid if given is not None]
    return meshes, joined(services)


def _bars_in_service(
    z: ZoneInput, u: Ultimate, meshes: list[ZoneBars], service: ServiceState | None, standard: Standard
) -> ServiceBars:
    """Bars of a zone as its service state left them."""
    for of in service.zones if service is not None else ():
        if of.zone == z.name:
            return of.bars
    return laid_bars(z, u, next((m.given for m in meshes if m.zone == z.name), None), standard)


def _doubtful(
    zones: list[ZoneInput], steel: pd.DataFrame, checks: pd.DataFrame, ultimate: Combinations, standard: Standard
) -> tuple[pd.DataFrame, pd.DataFrame]:
    """Points that fail and checks that are exceeded, each with what would help the point it names."""
    by_name = {z.name: z for z in zones}

    def ask(zone: str, point: str, check: str | None) -> str:
        if check == TURN:
            return "strength by 6.5.2, without the angle rule"
        if check is not None and check.startswith(SPACING):
            return "bars closer together"
        if check is not None and check.startswith(BARS):
            row = checks[(checks["zone"] == zone) & (checks["point"] == point) & (checks["check"] == check)].iloc[0]
            return f"{row['demand']:.0f} mm2/m"
        z = by_name[zone]
        i = int(np.flatnonzero(z.labels == point)[0])
        return advice(
            z.cases[i], ultimate.factors, ultimate.situations, float(z.h[i]), z.settings_at(i, standard), check,
            support=None if z.support is None else z.support[[i]],
        )  # fmt: skip

    return (
        with_advice(failures(steel), ask, "first"),
        with_advice(exceeded(checks), ask, "point", "check"),
    )


def _replace_tables(
    job: Job, tables: dict[str, pd.DataFrame], envelope: pd.DataFrame, zones: list[ZoneInput], owned: Owned
) -> None:
    """Write the new tables aside, then put them in the place of the old ones; what no longer belongs here goes."""
    folder, aside = job.results, job.results / NEW
    aside.mkdir(exist_ok=True)
    write_table(envelope, aside, "envelopes", csv=False)  # long, and for looking
    for name, frame in tables.items():
        write_table(frame, aside, name, csv=job.output.csv, shown=Shown(job.output.units).frame)
    new = {f.name for f in aside.iterdir()}
    stores = {f"store/{file_name(z.name)}" for z in zones}
    stores |= {f"store/{file_name(z.name)}+service" for z in zones if z.zone.service is not None}
    old = [f for f in owned.inside("store") if f.rpartition(".")[0] not in stores and f != f"store/{COMBINATIONS}"]
    # the record first, so that nothing explains old tables
    for name in ("record.json", "methods.png", *old, *(f for f in RESERVED if f not in new and f != "report.html")):
        owned.remove(name)
    for name in sorted(new):
        (aside / name).replace(folder / name)
    aside.rmdir()


def _design(
    job: Job,
    zones: list[ZoneInput],
    ultimate: Combinations,
    standard: Standard,
    progress: Progress,
    last: dict[str, Any],
    places: list[Place],
) -> tuple[list[ZoneInput], list[Ultimate], list[str], dict[str, Any], list[PunchedPlace]]:
    """Write the store of each zone and design from it; a zone whose content is that of the last run is taken over.

    A zone whose chosen bars are thicker than assumed is designed again with them. Gives the zones as they were
    designed, the designs, the names of those taken over, for the record the diameters that were chosen, and the
    places that may punch.
    """
    store = job.results / "store"
    store.mkdir(exist_ok=True)
    save_combinations(store, ultimate)
    keys = [content([zone_key(z, ultimate, standard), repr((z.zone.rule, z.zone.given, z.zone.extra))]) for z in zones]
    held: list[tuple[ZoneInput, Ultimate] | None] = []
    for z, key in zip(zones, keys, strict=True):
        known = last.get("bars", {}).get(z.name, {})
        as_laid = replace(z, zone=z.zone.with_diameters(known["diameters"])) if known.get("from") == key else z
        u = load_ultimate(store / f"{file_name(z.name)}.npz", zone_key(as_laid, ultimate, standard))
        held.append((as_laid, u) if u is not None else None)
    whole, done = sum(len(z.labels) for z, u in zip(zones, held, strict=True) if u is None), 0

    def advance(count: int) -> None:
        nonlocal done
        done += count
        progress("ultimate design", done, max(whole, done))

    def design(z: ZoneInput, stored: np.ndarray) -> Ultimate:
        return design_ultimate(
            stored, ultimate.factors, ultimate.situations, z.h, z.settings(standard),
            support=z.support, bands=z.bands, turn=z.turn, workers=job.design.workers, progress=advance,
        )  # fmt: skip

    out, designed, reused, laid, over = [], [], [], {}, []
    labels = tuple(c.label for c in ultimate.columns)
    for z, key, found in zip(zones, keys, held, strict=True):
        file = store / f"{file_name(z.name)}.parquet"
        fresh = found is None or not _whole(file)
        if fresh:
            (job.results / "record.json").unlink(missing_ok=True)  # what it vouches for goes now
            write_store(file, pd.DataFrame({"point": z.labels.astype(object), "thickness": z.h}), z.cases, labels)
        _, stored, _ = read_store(file)
        used, u = found if found is not None and not fresh else (z, design(z, stored))
        punched, raised = punch_places(places, used, u, standard)
        while (lower := deeper(used, raised, used.settings(standard))) is not None:
            used, u, fresh = lower, design(lower, stored), True
            punched, raised = punch_places(places, used, u, standard)
        if fresh:
            save_ultimate(store / f"{file_name(z.name)}.npz", zone_key(used, ultimate, standard), u)
        else:
            reused.append(z.name)
        if used.zone != z.zone:
            laid[z.name] = {"from": key, "diameters": used.settings(standard).bars.diameters.tolist()}
        out.append(used)
        designed.append(raised)
        over += punched
    return out, designed, reused, laid, over


def _whole(file: Path) -> bool:
    """Whether a store can be read."""
    try:
        read_store(file)
    except StaleError:
        return False
    return True


def _frames(
    zones: list[ZoneInput],
    designed: list[Ultimate],
    ultimate: Combinations,
    standard: Standard,
    meshes: list[ZoneBars],
    service: dict[str, np.ndarray],
) -> tuple[pd.DataFrame, pd.DataFrame, pd.DataFrame]:
    """Points, steel and checks of all zones, with what service asks for; the checks with the worst first."""
    steel, checks = [], []
    for z, u in zip(zones, designed, strict=True):
        settings = z.settings(standard)
        axes = settings.bars.axes(z.h)
        steel.append(steel_frame(z.name, z.labels, u, ultimate.names, axes, settings, service.get(z.name)))
        checks.append(checks_frame(z.name, z.labels, u, ultimate.names, z.h, settings))
    checks += [m.checks for m in meshes if not m.given.chosen]
    order = pd.concat(checks, ignore_index=True).sort_values("utilisation", ascending=False, kind="stable")
    return (
        points_frame(zones, designed, ultimate),
        pd.concat(steel, ignore_index=True),
        order.reset_index(drop=True),
    )


def _service_frame(zones: list[ZoneInput], service: Combinations) -> pd.DataFrame:
    """Extremes of each component over the service combinations, one row a point."""
    out = []
    for z in zones:
        least, greatest = extremes(z.cases, service.factors)
        columns: dict[str, Any] = {"zone": z.name, "point": z.labels.astype(object)}
        for i, name in enumerate(COMPONENTS):
            unit, scale = UNIT[name]
            columns[f"{name} least [{unit}]"] = least[:, i] * scale
            columns[f"{name} greatest [{unit}]"] = greatest[:, i] * scale
        out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True)
