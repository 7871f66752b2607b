"""A job looked at before any design: what came in, pictures of it, doubts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from sandwich.incoming import bring_in
from sandwich.inspection.overview import Inspection, inspect
from sandwich.tables.owned import results_folder
from sandwich.tables.write import write_table


@dataclass(frozen=True, repr=False)
class Inspected:
    """An inspection and the page it left."""

    inspection: Inspection
    folder: Path
    page: Path | None = None

    def __repr__(self) -> str:
        of = self.inspection
        return f"Inspected({of.came.job.title}: {len(of.doubts)} doubts; tables in {self.folder})"


def inspect_job(
    path: str | Path, *, progress: Callable[[str, int, int], None] | None = None, pictures: bool = True
) -> Inspected:
    """Look at what a job brings in, before any design.

    Parameters
    ----------
    path : str or Path
        The job file; it needs no combinations yet.
    progress : callable, optional
        Called with the stage, the work done and the whole.
    pictures : bool
        Whether pictures and the page are made.

    Returns
    -------
    Inspected
        Overview, ranges and doubts; tables and page are in ``inspection`` inside the folder of the results.

    Raises
    ------
    InputError
        If anything that came in cannot be used; nothing is written then.
    """
    report = progress or (lambda _what, _done, _of: None)
    report("reading", 0, 1)
    found = inspect(bring_in(path, to_design=False))
    report("reading", 1, 1)
    job = found.came.job
    folder = job.results / "inspection"
    with results_folder(job):
        folder.mkdir(exist_ok=True)
        for name in ("tables", "zones", "cases", "ranges"):
            write_table(getattr(found, name), folder, name, csv=job.output.csv)
        if not pictures:
            return Inspected(found, folder)
        from sandwich.report.inspect_page import write_inspection

        return Inspected(found, folder, write_inspection(found, folder, report))
