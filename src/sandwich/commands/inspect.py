"""A job looked at before any design: the input, pictures of it, warnings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.numbers import digits
from sandwich.core.progress import Progress, unwatched
from sandwich.core.resultants import COMPONENTS
from sandwich.core.shown import Shown
from sandwich.inspection.overview import Inspection, inspect
from sandwich.job import Job
from sandwich.project.outcome import END, Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.inputs import model_figure
from sandwich.tables.owned import results_folder
from sandwich.tables.write import file_name, write_table
from sandwich.work.walls.layout import lay_walls

NO_WARNINGS = "No warnings: axes, neighbours, slopes, supports and sizes agree."


@dataclass(frozen=True, repr=False)
class Inspected:
    """An inspection and the page it left."""

    inspection: Inspection
    folder: Path
    page: Path | None = None

    def __repr__(self) -> str:
        of = self.inspection
        return f"Inspected({of.project.job.title}: {len(of.warnings)} warnings; tables in {self.folder})"

    @property
    def outcome(self) -> Outcome[Any]:
        """What was found, as a terminal or a page shows it."""
        return _outcome(self.inspection)


def inspect_job(job: str | Path | Job | Project, *, progress: Progress = unwatched, pictures: bool = True) -> Inspected:
    """Look at what a job brings in, before any design.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it needs no combinations yet.
    progress : callable, optional
        Called with the stage, the work done and the whole.
    pictures : bool
        Whether pictures and the page are made.

    Returns
    -------
    Inspected
        Overview, ranges and warnings; tables and page are in ``inspection`` inside the folder of the results.

    Raises
    ------
    InputError
        If anything that was read cannot be used; nothing is written then.
    """
    project = Project.of(job, to_design=False).load(progress)
    found, of = inspect(project), project.job
    folder = of.results / "inspection"
    with results_folder(of):
        folder.mkdir(exist_ok=True)
        for name in ("tables", "zones", "cases", "ranges"):
            write_table(getattr(found, name), folder, name, csv=of.output.csv)
        inspected = Inspected(found, folder)
        if not pictures:
            return inspected
        from sandwich.report.page import Album, write_page

        files = ", ".join(dict.fromkeys(of.files))
        about = f"Looked at before any design \N{MIDDLE DOT} {files}"
        title = f"{of.title}: the input"
        with Album(folder, Shown(), {}) as album:
            page = write_page(folder / "inspection.html", title, about, project, [inspected.outcome], album, progress)
        return replace(inspected, page=page)


def ranges_of(inspection: Inspection, zone: str) -> pd.DataFrame:
    """Ranges of one zone as people read them: one row a case, minimum .. maximum of each component."""
    of = inspection.ranges[inspection.ranges["zone"] == zone]
    out: dict[str, object] = {"case": of["case"]}
    for name in COMPONENTS:
        low, high = (c for c in of.columns if c.startswith(f"{name} "))
        unit = low.partition("[")[2].rstrip("]")
        out[f"{name} [{unit}]"] = [f"{digits(a, 3)} .. {digits(b, 3)}" for a, b in zip(of[low], of[high], strict=True)]
    return pd.DataFrame(out)


def _outcome(of: Inspection) -> Outcome[Any]:
    turned = of.zones.set_index("zone").T.rename_axis("zone").reset_index() if len(of.zones) else of.zones
    count = len(of.warnings)
    verdict = f"{count} warning{'s' if count > 1 else ''}." if count else NO_WARNINGS
    tables = [Table("Zones", turned), Table("Cases", of.cases), Table("Tables", of.tables)]
    walls = lay_walls(of.project, Faults()) if of.project.job.walls else None
    if walls is not None:
        parts = [Table("Walls", walls.frame), Table("Openings of walls", walls.openings_frame)]
        tables[1:1] = [t for t in parts if len(t.frame)]
    tables = [t for t in tables if len(t.frame)]
    by_title = {t.title: t for t in tables}
    sections = [
        Section("Zones and axes", (Pictures(tuple(_figures(of.project.zones, of.project.job.title))),), 40),
        *(Section(t.title, (t,)) for name, t in by_title.items() if name != "Tables"),
        *(
            Section(f"Ranges of {z.name}, in the bar directions at its points", (Table("", ranges_of(of, z.name)),))
            for z in of.project.zones
        ),
        Section("Combinations", (Table("", of.project.combinations.frame()),), END),
        *(Section("Tables", (t,), END) for name, t in by_title.items() if name == "Tables"),
    ]
    return Outcome(
        of,
        verdict=(Text(verdict, "bad" if count else "good"),),
        summary=(*_each(of), *tables),
        warnings=tuple(of.warnings),
        sections=tuple(sections),
    )


def _each(of: Inspection) -> Iterator[Text]:
    """Every warning in a terminal: what, its evidence, its usual cause."""
    for w in of.warnings:
        yield Text(f"{w.subject}: {w.text}", "bad")
        yield Text(f"    {w.evidence}")
        if w.cause:
            yield Text(f"    usually: {w.cause}", "quiet")


def _figures(zones: list[ZoneInput], title: str) -> Iterator[Figure]:
    """The zones with their normals, then the axes of each."""
    if not zones or zones[0].surface is None:
        return
    yield model_figure(zones, f"{title}: zones; red: normals to the top face", normals=True, name="zones")
    for z in zones:
        yield Figure(f"axes {file_name(z.name)}", ("axes", "draw_axes"), partial(_axes, z))


def _axes(z: ZoneInput, shown: Shown) -> Any:  # noqa: ARG001
    from sandwich.drawing.axes import describe_axes

    s, o = z.on_mesh, z.on_mesh.orientation
    return describe_axes(
        title=f"{z.name}: axes",
        corners=np.asarray(s.mesh.xyz[s.corners]),
        nodes=s.corners,
        bars=o.bars,
        local_x=s.mesh.axes[s.elements, 0],
        angle=o.angle,
        over=o.flipped,
        faces=(z.zone.faces.bottom, z.zone.faces.top),
    )
