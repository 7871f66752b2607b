"""The service checks of a job by themselves, on the bars of its last run."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Final

import pandas as pd

from sandwich.core.errors import Fault, Faults, InputError
from sandwich.core.progress import Progress, unwatched
from sandwich.core.shown import Shown
from sandwich.design.service_tables import BARS, CONCRETE, LEAST, QUICK
from sandwich.job import Job
from sandwich.project.outcome import Outcome
from sandwich.project.project import Project
from sandwich.stages.service import SERVICE, ServiceState, shown_service
from sandwich.stages.tendons import TENDONS
from sandwich.tables.owned import results_folder
from sandwich.tables.write import write_table
from sandwich.work.service import ZoneService
from sandwich.work.tendons import TendonState

TENDONS_ONLY: Final = "tendons"
CHECKS: Final = {
    "cracks": ("crack width", QUICK), "stresses": (CONCRETE, BARS), "minimum": (LEAST,)
}  # fmt: skip


@dataclass(frozen=True, repr=False)
class Checked:
    """Service checks of a job, and the files they left.

    Attributes
    ----------
    project : Project
        The job with what its stages left.
    outcomes : list of Outcome
        What was checked, as a terminal or a page shows it.
    service : ServiceState or None
        Cracks and checks.
    tendons : TendonState or None
        The tendons.
    folder : Path
        Where the tables are.
    page : Path or None
        The page.
    """

    project: Project
    outcomes: list[Outcome[Any]]
    service: ServiceState | None
    tendons: TendonState | None
    folder: Path
    page: Path | None = None

    @property
    def tables(self) -> dict[str, pd.DataFrame]:
        """All tables by name, in SI units."""
        return {name: frame for o in self.outcomes for name, frame in o.tables.items()}

    def __repr__(self) -> str:
        return f"Checked({self.project.job.title}; tables in {self.folder})"


def check_job(
    job: str | Path | Job | Project, only: str | None = None, *, progress: Progress = unwatched, pictures: bool = True
) -> Checked:
    """Check the service state of a job that has been run, by itself.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it has been run and not changed since.
    only : {'cracks', 'stresses', 'minimum', 'tendons'}, optional
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
    if only is not None and only not in (*CHECKS, TENDONS_ONLY):
        raise InputError([Fault("--only", f"no check '{only}'", f"there are {', '.join((*CHECKS, TENDONS_ONLY))}")])
    project = Project.last_run(job)
    of = project.job
    wanted = {name for name, z in of.zones.items() if z.service is not None and only != TENDONS_ONLY}
    tendons = bool(of.tendons) and only in (None, TENDONS_ONLY)
    if not wanted and not tendons:
        what = "no tendons" if only == TENDONS_ONLY else "no zone asks for its service state"
        remedy = "write [tendons.NAME]" if only == TENDONS_ONLY else "write [zones.NAME.service]"
        raise InputError([Fault(str(of.path), what, remedy)])
    project.load(progress)
    faults = Faults()
    SERVICE.check(project, faults)
    faults.stop()
    outcomes: list[Outcome[Any]] = []
    found = [
        (b.zone, _picked(b.service, only))
        for name, b in project.left(SERVICE).items()
        if name in wanted and b.service is not None
    ]
    if found:
        outcomes.append(shown_service(found, project.standard, project.left(SERVICE)))
    state = project.left(TENDONS) if tendons else None
    if tendons:
        outcomes.append(project.outcomes[TENDONS.name])
    folder, shown = of.results / "service", Shown(of.output.units)
    with results_folder(of):
        folder.mkdir(exist_ok=True)
        for name, frame in {n: f for o in outcomes for n, f in o.tables.items()}.items():
            write_table(frame, folder, name, csv=of.output.csv, shown=shown)
        checked = Checked(project, outcomes, ServiceState.of([s for _, s in found]) if found else None, state, folder)
        if not pictures:
            return checked
        from sandwich.report.page import Album, write_page

        about = f"Service state \N{MIDDLE DOT} {project.standard.name}"
        with Album(folder, shown, {}) as album:
            page = write_page(folder / "service.html", of.title, about, project, outcomes, album, progress)
        return replace(checked, page=page)


def _picked(state: ZoneService, only: str | None) -> ZoneService:
    """The state with the rows of one check alone."""
    if only is None:
        return state
    kept = state.checks["check"].str.startswith(CHECKS[only])
    cracks = state.cracks if only == "cracks" else state.cracks.head(0)
    return replace(state, checks=state.checks[kept].reset_index(drop=True), cracks=cracks)
