"""A job run from its file to tables, maps and report."""

from __future__ import annotations

import html
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pandas as pd

from sandwich.combine.table import Combinations
from sandwich.core.progress import Progress, unwatched
from sandwich.core.records import WarningNote
from sandwich.core.shown import SI, Shown
from sandwich.design.summary import Certificate, peaks
from sandwich.job import Job
from sandwich.project.executor import execute
from sandwich.project.outcome import Figure, Outcome, figures_of
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.bars import BARS
from sandwich.stages.order import STAGES
from sandwich.stages.required import REQUIRED_STAGE
from sandwich.stages.service import SERVICE, ServiceState
from sandwich.stages.strips import STRIPS
from sandwich.stages.tendons import TENDONS
from sandwich.stages.ultimate import ULTIMATE
from sandwich.standards.interface import Standard
from sandwich.work.bars import BarUse
from sandwich.work.strips import StripResult
from sandwich.work.tendons import TendonState

if TYPE_CHECKING:
    from matplotlib.axes import Axes


@dataclass(frozen=True, repr=False)
class RunResult:
    """What a run leaves: the project with what its stages left, and the files written.

    Attributes
    ----------
    project : Project
        Job, standard, results, combinations, zones; `project.outcomes` by stage.
    report : Path or None
        The page.
    reused : tuple of str
        Zones taken over from the last run.
    """

    project: Project
    report: Path | None = None
    reused: tuple[str, ...] = ()

    @property
    def job(self) -> Job:
        """The job."""
        return self.project.job

    @property
    def standard(self) -> Standard:
        """Its standard."""
        return self.project.standard

    @property
    def combinations(self) -> Combinations:
        """Its combinations."""
        return self.project.combinations

    @property
    def folder(self) -> Path:
        """Folder of the results."""
        return self.job.results

    @property
    def zones(self) -> list[ZoneInput]:
        """The zones as they were designed."""
        return [d.zone for d in self.project.left(ULTIMATE).values()]

    @property
    def tables(self) -> dict[str, pd.DataFrame]:
        """All tables by name, in SI units."""
        return {name: SI.frame(o.frame(name)) for name, o in self._with_table.items()}

    @property
    def _with_table(self) -> dict[str, Outcome[Any]]:
        """The outcome that has each table."""
        return {name: o for o in self.project.outcomes.values() for name in (*o.tables, *o.long)}

    def frame(self, name: str) -> pd.DataFrame:
        """One table, with units in its headings.

        Raises
        ------
        KeyError
            If the run left no such table.
        """
        found = self._with_table
        if name not in found:
            raise KeyError(f"no table '{name}'; there are {', '.join(found)}")
        return SI.frame(found[name].frame(name))

    @property
    def points(self) -> pd.DataFrame:
        """One row a point."""
        return self.frame("points")

    @property
    def steel(self) -> pd.DataFrame:
        """One row a point and bar layer."""
        return self.frame("steel")

    @property
    def checks(self) -> pd.DataFrame:
        """One row a point and check, the worst first."""
        return self.frame("checks")

    @property
    def failures(self) -> pd.DataFrame:
        """Points that fail, by zone and reason, each with a remedy."""
        return SI.frame(self.project.left(REQUIRED_STAGE).failures)

    @property
    def exceeded(self) -> pd.DataFrame:
        """Checks that are exceeded, by zone, each with a remedy."""
        return SI.frame(self.project.left(REQUIRED_STAGE).exceeded)

    @property
    def certificate(self) -> Certificate:
        """What the stress fields and bounds of all points add up to."""
        return self.project.left(REQUIRED_STAGE).certificate

    @property
    def warnings(self) -> list[WarningNote]:
        """What stands in doubt in the input or the design, grave warnings first."""
        found = [w for o in self.project.outcomes.values() for w in o.warnings]
        return sorted(found, key=lambda w: not w.grave)

    @property
    def bars(self) -> tuple[BarUse, ...]:
        """Bars of the zones that have a rule or bars of their own."""
        return self.project.left(BARS) if BARS.name in self.project.outcomes else ()

    @property
    def service(self) -> ServiceState | None:
        """The service state of the zones that ask for it."""
        zones = [b.service for b in self.project.left(SERVICE).values() if b.service is not None]
        return ServiceState.of(zones) if zones else None

    @property
    def strips(self) -> tuple[StripResult, ...]:
        """Totals along the strips."""
        return self.project.left(STRIPS) if STRIPS.name in self.project.outcomes else ()

    @property
    def tendons(self) -> TendonState | None:
        """The tendons."""
        return self.project.left(TENDONS) if TENDONS.name in self.project.outcomes else None

    @property
    def figures(self) -> dict[str, Figure]:
        """Pictures by name: `describe` gives the numbers of one, `plot` draws it."""
        return figures_of(self.project.outcomes.values())

    def plot(self, name: str, ax: Axes | None = None) -> Axes:
        """Draw a picture with Matplotlib.

        Parameters
        ----------
        name : str
            One of `figures`, such as ``"floor bottom x"``.
        ax : Axes, optional
            Where a map is drawn; a figure of its own by default.

        Returns
        -------
        Axes
            What was drawn.

        Raises
        ------
        KeyError
            If there is no such picture.
        """
        if name not in self.figures:
            raise KeyError(f"no picture '{name}'; there are {', '.join(self.figures)}")
        figure = self.figures[name]
        draw: Callable[..., Axes] = getattr(import_module(f"sandwich.drawing.{figure.draw[0]}"), figure.draw[1])
        shows = figure.describe(Shown(self.job.output.units))
        return draw(shows) if ax is None else draw(shows, ax)

    def __repr__(self) -> str:
        if not self.job.designs_shells:
            return f"RunResult({self.job.title}; tables in {self.folder})"
        c = self.certificate
        fails = f", {c.failed} fail" if c.failed else ""
        return (
            f"RunResult({self.job.title}: {c.certified} of {c.points} points certified{fails}; tables in {self.folder})"
        )

    def _repr_html_(self) -> str:
        """The maximum steel of each zone and bar layer."""
        if not self.job.designs_shells:
            return f"<p>{html.escape(repr(self))}</p>"
        table = peaks(self.steel).to_html(index=False, float_format="{:.4g}".format)
        return f"<p>{html.escape(repr(self))}</p>{table}"


def run_job(
    job: str | Path | Job | Project, *, stages: Sequence[Stage[Any]] = STAGES, progress: Progress = unwatched,
    pictures: bool = True,
) -> RunResult:  # fmt: skip
    """Run a job to tables, maps and report.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job file, a job as a program has it, or a project.
    stages : sequence of Stage
        Those that there are, your own among them; the job says which it asks for.
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
        If anything that was read cannot be used; nothing is written then.
    """
    project = Project.of(job)
    report = None
    if pictures:
        from sandwich.report.page import RunReport

        report = RunReport
    page, reused = execute(project, stages, progress, report)
    return RunResult(project, page, reused)
