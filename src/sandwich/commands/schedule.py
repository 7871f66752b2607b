"""The bar schedule of a job that was run: its tables, a workbook, JSON."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import pandas as pd

from sandwich.core.errors import Fault, InputError
from sandwich.core.shown import Shown
from sandwich.design.schedule.rows import MASSES, SCHEDULE, SIZES, to_look_at
from sandwich.job import Job
from sandwich.project.outcome import Table
from sandwich.project.project import Project
from sandwich.tables.schedule_files import write_json, write_workbook
from sandwich.tables.write import table_file

MOST = 40  # rows of a terminal


@dataclass(frozen=True, repr=False)
class BarSchedule:
    """Bars of a job as they are cut and bent.

    Attributes
    ----------
    project : Project
        The job.
    schedule, masses, sizes : DataFrame
        Bars by place and mark; mass by zones and storeys of walls; bars by diameter. In SI units.
    """

    project: Project
    schedule: pd.DataFrame
    masses: pd.DataFrame
    sizes: pd.DataFrame

    @property
    def blocks(self) -> tuple[Table, ...]:
        """As a terminal shows it."""
        first = f"the first {MOST} of {len(self.schedule)} rows" if len(self.schedule) > MOST else "all rows"
        return (
            Table("Mass of bars", self.masses), Table("Bars by diameter", to_look_at(self.sizes)),
            Table(f"Bar schedule, {first}", to_look_at(self.schedule).head(MOST)),
        )  # fmt: skip

    def write(self, path: str | Path) -> Path:
        """Write it as a workbook (.xlsx) in the units of the job, or as JSON (.json) in mm and kg.

        Raises
        ------
        InputError
            If the path has another ending, or cannot be written.
        """
        path, job = Path(path), self.project.job
        try:
            if path.suffix == ".json":
                return write_json(path, job.title, self.project.standard.name, self.schedule)
            if path.suffix == ".xlsx":
                frames = {SCHEDULE: self.schedule, MASSES: self.masses, SIZES: self.sizes}
                return write_workbook(path, job.title, frames, Shown(job.output.units))
        except OSError as error:
            raise InputError([Fault(str(path), f"cannot be written ({error.strerror})", "name another file")]) from None
        raise InputError([Fault(str(path), "is no kind of file that is written", "use .xlsx or .json")])

    def __repr__(self) -> str:
        return f"BarSchedule({self.project.job.title}; {len(self.schedule)} rows)"


def bar_schedule(job: str | Path | Job | Project) -> BarSchedule:
    """Bar schedule of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it has been run and not changed since.

    Returns
    -------
    BarSchedule
        Its tables, which can be written as a workbook or as JSON.

    Raises
    ------
    InputError
        If the job has no bars.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    folder = project.job.results
    files = [folder / table_file(name, "parquet") for name in (SCHEDULE, MASSES, SIZES)]
    if not all(f.is_file() for f in files):
        remedy = "give rule = {} or provided bars in a zone, or walls"
        raise InputError([Fault(str(project.job.path), "no bars are chosen or given", remedy)])
    return BarSchedule(project, *(pd.read_parquet(f) for f in files))
