"""The service checks of a job by themselves, on the bars of its last run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from sandwich.design.service_tables import BARS, CONCRETE, LEAST, QUICK
from sandwich.errors import Fault, Faults, InputError
from sandwich.incoming import Incoming, bring_in
from sandwich.prepare import ZoneInput, standard_of
from sandwich.report.shown import Shown
from sandwich.resume import fresh_job
from sandwich.serviceability import ServiceState, ZoneService, check_asked, joined, stored_bars, stored_service
from sandwich.standards.interface import Standard
from sandwich.tables.owned import results_folder
from sandwich.tables.write import write_table
from sandwich.tendons import TendonState, check_tendons, lay_tendons

TENDONS: Final = "tendons"
CHECKS: Final = {
    "cracks": ("crack width", QUICK), "stresses": (CONCRETE, BARS), "least": (LEAST,)
}  # fmt: skip


@dataclass(frozen=True, repr=False)
class Checked:
    """Service checks of a job, and the files they left."""

    came: Incoming
    standard: Standard
    service: ServiceState | None
    prestress: TendonState | None
    folder: Path
    page: Path | None = None

    def __repr__(self) -> str:
        return f"Checked({self.came.job.title}; tables in {self.folder})"


def check_job(
    path: str | Path, only: str | None = None, *, progress: Callable[[str, int, int], None] | None = None,
    pictures: bool = True,
) -> Checked:  # fmt: skip
    """Check the service state of a job that has been run, by itself.

    Parameters
    ----------
    path : str or Path
        The job file; it has been run and not changed since.
    only : {'cracks', 'stresses', 'least', 'tendons'}, optional
        One check; all by default.
    progress : callable, optional
        Called with the stage, the work done and the whole.
    pictures : bool
        Whether maps and the page are made.

    Returns
    -------
    Checked
        Cracks and checks, the same as those of the run; tables, maps and page are in ``service`` inside the folder of
        the results.

    Raises
    ------
    InputError
        If there is no such check, or nothing asks for it.
    StaleError
        If the job was not run, or has changed since.
    """
    if only is not None and only not in (*CHECKS, TENDONS):
        raise InputError([Fault("--only", f"no check '{only}'", f"there are {', '.join((*CHECKS, TENDONS))}")])
    report = progress or (lambda _what, _done, _of: None)
    job = fresh_job(path)
    wanted = [name for name, z in job.zones.items() if z.service is not None and only != TENDONS]
    tendons = bool(job.tendons) and only in (None, TENDONS)
    if not wanted and not tendons:
        what = "no tendons" if only == TENDONS else "no zone asks for its service state"
        remedy = "write [tendons.NAME]" if only == TENDONS else "write [zones.NAME.service]"
        raise InputError([Fault(str(job.path), what, remedy)])
    report("reading", 0, 1)
    came = bring_in(path)
    report("reading", 1, 1)
    zones = [replace(z, zone=job.zones[z.name]) for z in came.zones]
    standard = standard_of(job)
    faults = Faults()
    check_asked(job, zones, came.combinations.service(), faults)
    lines = lay_tendons(came, faults) if tendons else []
    faults.stop()
    found = []
    asked = [z for z in zones if z.name in wanted]
    for i, z in enumerate(asked):
        report("service state", i, len(asked))
        found.append(_zone(z, came, standard, job.results, only))
    report("service state", len(asked), len(asked))
    service = joined(found)
    store = job.results / "store"
    bars = {z.name: stored_bars(z, came, standard, store) for z in zones} if lines else {}
    prestress = check_tendons(lines, zones, bars, came, standard)
    folder = job.results / "service"
    with results_folder(job):
        folder.mkdir(exist_ok=True)
        tables = {**(service.tables if service is not None else {}), **(prestress.tables if prestress else {})}
        for name, frame in tables.items():
            write_table(frame, folder, name, csv=job.output.csv, shown=Shown(job.output.units).frame)
        result = Checked(replace(came, zones=zones), standard, service, prestress, folder)
        if not pictures:
            return result
        from sandwich.report.service_page import write_service

        return replace(result, page=write_service(result, report))


def _zone(z: ZoneInput, came: Incoming, standard: Standard, results: Path, only: str | None) -> ZoneService:
    state = stored_service(z, came, standard, results / "store")
    if only is None:
        return state
    kept = state.checks["check"].str.startswith(CHECKS[only])
    cracks = state.cracks if only == "cracks" else state.cracks.head(0)
    return replace(state, checks=state.checks[kept].reset_index(drop=True), cracks=cracks)
