"""The service checks of a job by themselves, on the bars of its last run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from sandwich.design.service_tables import BARS, CONCRETE, LEAST
from sandwich.errors import Fault, Faults, InputError
from sandwich.incoming import Incoming, bring_in
from sandwich.prepare import ZoneInput, standard_of
from sandwich.report.shown import Shown
from sandwich.resume import fresh_job
from sandwich.serviceability import ServiceState, ZoneService, check_asked, joined, stored_service
from sandwich.standards.interface import Standard
from sandwich.tables.write import check_folder, write_table

CHECKS: Final = {
    "cracks": ("crack width", "cracks by bars"), "stresses": (CONCRETE, BARS), "least": (LEAST,)
}  # fmt: skip


@dataclass(frozen=True)
class Checked:
    """Service checks of a job, and the files they left."""

    came: Incoming
    standard: Standard
    service: ServiceState
    folder: Path
    page: Path | None = None


def check_job(
    path: str | Path, only: str | None = None, *, progress: Callable[[str, int, int], None] | None = None,
    pictures: bool = True,
) -> Checked:  # fmt: skip
    """Check the service state of a job that has been run, by itself.

    Parameters
    ----------
    path : str or Path
        The job file; it has been run and not changed since.
    only : {'cracks', 'stresses', 'least'}, optional
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
        If there is no such check, or no zone asks for its service state.
    StaleError
        If the job was not run, or has changed since.
    """
    if only is not None and only not in CHECKS:
        raise InputError([Fault("--only", f"no check '{only}'", f"there are {', '.join(CHECKS)}")])
    report = progress or (lambda _what, _done, _of: None)
    job = fresh_job(path)
    if all(z.service is None for z in job.zones.values()):
        raise InputError([Fault(str(job.path), "no zone asks for its service state", "write [zones.NAME.service]")])
    report("reading", 0, 1)
    came = bring_in(path)
    report("reading", 1, 1)
    zones = [replace(z, zone=job.zones[z.name]) for z in came.zones]
    standard = standard_of(job)
    faults = Faults()
    check_asked(job, zones, came.combinations.service(), faults)
    faults.stop()
    found = []
    asked = [z for z in zones if z.zone.service is not None]
    for i, z in enumerate(asked):
        report("service state", i, len(asked))
        found.append(_zone(z, came, standard, job.results, only))
    report("service state", len(asked), len(asked))
    service = joined(found)
    assert service is not None
    folder = job.results / "service"
    check_folder(folder)
    for name, frame in service.tables.items():
        write_table(frame, folder, name, csv=job.output.csv, shown=Shown(job.output.units).frame)
    result = Checked(replace(came, zones=zones), standard, service, folder)
    if not pictures:
        return result
    from sandwich.report.service_page import write_service

    return replace(result, page=write_service(result, report))


def _zone(z: ZoneInput, came: Incoming, standard: Standard, results: Path, only: str | None) -> ZoneService:
    state = stored_service(z, came.combinations, standard, results / "store")
    if only is None:
        return state
    kept = state.checks["check"].str.startswith(CHECKS[only])
    cracks = state.cracks if only == "cracks" else state.cracks.head(0)
    return replace(state, checks=state.checks[kept].reset_index(drop=True), cracks=cracks)
