"""Order of the stages of a job: read, combine, ultimate, tables, maps, report."""

from __future__ import annotations

import hashlib
import json
import logging
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd

from sandwich import __version__, compiled
from sandwich.combine.table import Combinations
from sandwich.design.results import checks_frame, steel_frame
from sandwich.design.summary import certificate_of
from sandwich.design.ultimate import Ultimate, design_ultimate
from sandwich.incoming import bring_in
from sandwich.inspection.doubts import doubts_of
from sandwich.job import Job
from sandwich.mechanics.superpose import superpose
from sandwich.prepare import ZoneInput
from sandwich.result import RunResult
from sandwich.resultants import COMPONENTS
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.interface import Standard
from sandwich.tables.write import check_folder, file_name, read_store, write_store, write_table, write_text

log = logging.getLogger("sandwich")
Progress = Callable[[str, int, int], None]


def _nothing(what: str, done: int, of: int) -> None:
    """Progress that nobody watches."""


def points_frame(zones: list[ZoneInput], ultimate: list[Ultimate], combinations: Combinations) -> pd.DataFrame:
    """One row a point: place, thickness, doubts about its resultants."""
    out = []
    for z, u in zip(zones, ultimate, strict=True):
        worst_v = np.abs(superpose(z.cases, combinations.factors)[:, :, 6:]).max((1, 2))
        low = np.where(z.one_sided, worst_v * np.nan_to_num(z.size) / 2, 0.0)
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
                    "moment low by up to [kNm/m]": low / 1e3,
                    "lower bound [mm2/m]": u.bound * 1e3,
                    "steel by strength [mm2/m]": u.total * 1e3,
                    "certified": u.certified,
                }
            )
        )
    return pd.concat(out, ignore_index=True)


def digest(job: Job) -> str:
    """Digest of everything a job's results are made from: job file, tables, version."""
    found = hashlib.sha256(__version__.encode())
    for file in (job.path, *(job.folder / f for f in job.files)):
        for part in sorted(file.rglob("*")) if file.is_dir() else [file]:
            if part.is_file():
                found.update(part.name.encode() + part.read_bytes())
    return found.hexdigest()


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
    came = bring_in(path)
    progress("reading", 1, 1)
    job, results, combinations, zones = came.job, came.results, came.combinations, came.zones
    check_folder(job.results)
    standard = EN1992.recommended()
    if compiled.is_cold():
        log.warning("compiling once; later runs start at once")
    _clear(job.results)
    designed = _design(job, zones, combinations.ultimate(), standard, progress)
    points, steel, checks = _frames(zones, designed, combinations.ultimate(), standard)
    tables = {"points": points, "steel": steel, "checks": checks, "combinations": combinations.frame()}
    if combinations.service().names:
        tables["service resultants"] = _service_frame(zones, combinations.service())
    for name, frame in tables.items():
        write_table(frame, job.results, name, csv=job.output.csv)
    strengths = {z.name: standard.strengths(z.zone.concrete, z.zone.steel, "persistent") for z in zones}
    certificate = certificate_of(designed, {z.name: z.zone.method for z in zones})
    result = RunResult(
        job, results, zones, combinations, points, steel, checks, certificate, strengths, job.results,
        tuple(map(str, doubts_of(came))),
    )  # fmt: skip
    if pictures:
        from sandwich.report.page import write_report

        result = replace(result, report=write_report(result, standard.name, progress))
    record = {"digest": digest(job), "version": __version__, "standard": standard.name}
    write_text(job.results / "record.json", json.dumps(record, indent=1) + "\n")
    return result


def _clear(folder: Path) -> None:
    """Take away what would not belong to the new tables: the record first, so that nothing explains old ones."""
    for old in (folder / "record.json", folder / "report.html", *folder.glob("maps/*.png"), *folder.glob("store/*")):
        old.unlink(missing_ok=True)


def _design(
    job: Job,
    zones: list[ZoneInput],
    ultimate: Combinations,
    standard: Standard,
    progress: Progress,
) -> list[Ultimate]:
    """Write the store of each zone and design from it."""
    store = job.results / "store"
    store.mkdir(exist_ok=True)
    whole, done = sum(len(z.labels) for z in zones), 0

    def advance(count: int) -> None:
        nonlocal done
        done += count
        progress("ultimate design", done, whole)

    designed, labels = [], tuple(c.label for c in ultimate.columns)
    for z in zones:
        file = store / f"{file_name(z.name)}.parquet"
        write_store(file, pd.DataFrame({"point": z.labels.astype(object), "thickness": z.h}), z.cases, labels)
        _, stored, _ = read_store(file)
        settings = z.settings(standard)
        designed.append(
            design_ultimate(
                stored,
                ultimate.factors,
                ultimate.situations,
                z.h,
                settings,
                workers=job.design.workers,
                progress=advance,
            )
        )
    return designed


def _frames(
    zones: list[ZoneInput], designed: list[Ultimate], ultimate: Combinations, standard: Standard
) -> tuple[pd.DataFrame, pd.DataFrame, pd.DataFrame]:
    """Points, steel and checks of all zones; the checks with the worst first."""
    steel, checks = [], []
    for z, u in zip(zones, designed, strict=True):
        settings = z.settings(standard)
        steel.append(steel_frame(z.name, z.labels, u, ultimate.names, settings.bars.axes(z.h), settings))
        checks.append(checks_frame(z.name, z.labels, u, ultimate.names, z.h, settings))
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
        combined = superpose(z.cases, service.factors)
        columns: dict[str, Any] = {"zone": z.name, "point": z.labels.astype(object)}
        for i, name in enumerate(COMPONENTS):
            unit, scale = ("kNm/m", 1e-3) if name.startswith("m") else ("kN/m", 1.0)
            columns[f"{name} least [{unit}]"] = combined[:, :, i].min(1) * scale
            columns[f"{name} greatest [{unit}]"] = combined[:, :, i].max(1) * scale
        out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True)
