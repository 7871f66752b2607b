"""The report of a run: one self-contained HTML page and the maps beside it, from what the stages left."""

from __future__ import annotations

import base64
import re
from collections.abc import Iterable
from functools import partial
from importlib.metadata import version
from pathlib import Path
from typing import Any, Self

import numpy as np
import pandas as pd
from jinja2 import Environment, PackageLoader, StrictUndefined

from sandwich._version import __version__
from sandwich.core.errors import Fault, InputError
from sandwich.core.numbers import cell, is_number
from sandwich.core.on_disc import give_back
from sandwich.core.progress import Progress
from sandwich.core.shown import Shown
from sandwich.core.trace import Sheet
from sandwich.drawing.records import SectionDescription
from sandwich.drawing.wall_records import StrengthDescription
from sandwich.drawing.workers import PictureQueue, Task
from sandwich.project.outcome import Figure, Outcome, Pictures, Section, Table, Text, figures_of
from sandwich.project.project import Project
from sandwich.project.store import content, described, sources
from sandwich.tables.write import check_folder, write_aside, write_text

GENERATOR = 'content="sandwich-rc"'  # what a page of this program says of itself
MAPS_RANK = 10
WARNINGS_RANK = 31


def environment() -> Environment:
    """Templates and their filters."""
    loader = PackageLoader("sandwich.report")
    env = Environment(loader=loader, autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    env.filters["cell"] = lambda value, column: cell(column, value)
    env.globals["rows"] = rows_of
    return env


def rows_of(table: Table, shown: Shown) -> dict[str, Any]:
    """A table as a page shows it: headings with units, which columns hold numbers, cells in words."""
    frame = table.shown(shown)
    columns = list(map(str, frame.columns))
    numbers = [is_number(frame[c]) for c in columns]
    rows = [
        ([cell(c, v) for c, v in zip(columns, row, strict=True)], table.row_is_bad(i))
        for i, row in enumerate(frame.itertuples(index=False))
    ]
    return {"columns": list(zip(columns, numbers, strict=True)), "rows": rows}


class Album:
    """Pictures of a page: drawn once, taken over from the last run where they show the same.

    `known` are pictures of the last run by file name, with the digest of what they show.
    """

    def __init__(self, folder: Path, shown: Shown, known: dict[str, str]) -> None:
        self.folder, self.shown, self.known = folder, shown, known
        self.drawn: dict[str, str] = {}
        self.titles: dict[str, str] = {}
        self._of: dict[str, str] = {}  # figure by file
        self._queue = PictureQueue()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *what: object) -> None:
        self._queue.__exit__(*what)

    def begin(self, outcome: Outcome[Any]) -> None:
        """Begin to draw the figures of an outcome that were not drawn before."""
        for name, figure in figures_of([outcome]).items():
            if name in self.titles:
                continue
            file, shows = self._file(figure), figure.describe(self.shown)
            key = content([version("matplotlib"), sources(("drawing",)), *described(shows)])
            self.drawn[file.name], self.titles[name] = key, shows.title
            if self.known.get(file.name) != key or not file.is_file():
                self._queue.add(file.name, Task(*figure.draw, shows))

    def finish(self, progress: Progress) -> None:
        """Write the pictures that were begun."""
        give_back()
        for name, picture in self._queue.finished(partial(progress, "pictures")).items():
            self.folder.mkdir(exist_ok=True)
            write_aside(self.folder / name, partial(_write, picture))

    def picture(self, figure: Figure) -> tuple[str, str]:
        """Title and source of the image of a figure that was drawn."""
        return self.titles[figure.name], image(self._file(figure).read_bytes())

    def _file(self, figure: Figure) -> Path:
        plain = figure.name.replace(" ", "_")
        if self._of.setdefault(plain, figure.name) != figure.name:  # "a b" beside "a_b"
            plain = figure.name.replace(" ", "%20")
        return self.folder / f"{plain}.png"


def _write(picture: bytes, path: Path) -> None:
    path.write_bytes(picture)


def image(picture: bytes) -> str:
    """A picture as the source of an image."""
    return "data:image/png;base64," + base64.b64encode(picture).decode()


def sections_of(outcomes: list[Outcome[Any]], zones: Iterable[str]) -> list[Section]:
    """All sections of a page in order, the maps of each zone among them."""
    maps: dict[str, list[Figure]] = {zone: [] for zone in zones}
    for figure in (f for o in outcomes for f in o.figures):
        maps.setdefault(figure.zone, []).append(figure)
    out = [s for o in outcomes for s in o.sections]
    for zone, figures in maps.items():
        ordered = tuple(sorted(figures, key=lambda f: f.rank))
        out.append(Section(f"Maps of {zone}" if zone else "Pictures", (Pictures(ordered),), MAPS_RANK))
    warnings = warnings_table(outcomes)
    if warnings is not None:
        out.append(Section("Warnings", (warnings,), WARNINGS_RANK))
    return sorted((s for s in out if _filled(s)), key=lambda s: s.rank)


def warnings_table(outcomes: list[Outcome[Any]]) -> Table | None:
    """All warnings, grave ones first; None without any."""
    warnings = sorted((w for o in outcomes for w in o.warnings), key=lambda w: not w.grave)
    if not warnings:
        return None
    frame = pd.DataFrame(
        {
            "subject": [w.subject for w in warnings],
            "warning": [w.text for w in warnings],
            "evidence": [w.evidence for w in warnings],
            "usual cause": [w.cause for w in warnings],
        },
        dtype=object,
    )
    return Table("", frame.loc[:, (frame != "").any()], bad=np.array([w.grave for w in warnings]))


def _filled(section: Section) -> bool:
    return any(not isinstance(b, Pictures) or b.figures for b in section.blocks)


def write_page(
    path: Path,
    title: str,
    about: str,
    project: Project,
    outcomes: list[Outcome[Any]],
    album: Album,
    progress: Progress,
) -> Path:
    """Write a page of what some stages left.

    Parameters
    ----------
    path : Path
        The file.
    title, about : str
        What stands at its head.
    project : Project
        Whose stages they are.
    outcomes : list of Outcome
        What is shown.
    album : Album
        Draws its pictures, some of which may have begun.
    progress : callable
        Called for each picture.
    """
    shown, sections = album.shown, sections_of(outcomes, project.job.zones)
    for outcome in outcomes:
        album.begin(outcome)
    album.finish(progress)
    verdict = [t for o in outcomes for t in o.verdict]
    text = environment().get_template("page.html").render(
        title=title, about=about, version=__version__, shown=shown, sections=sections, album=album,
        verdict=[(shown.text(t.text), t.tone) for t in verdict], bad=any(t.tone == "bad" for t in verdict),
        kind=_kind, anchor=_anchor,
    )  # fmt: skip
    return write_text(path, text)


def _kind(block: Text | Table | Pictures) -> str:
    return type(block).__name__


def _anchor(section: Section) -> str:
    return re.sub(r"[^a-z0-9]+", "-", section.title.lower())


class RunReport:
    """Pictures of a run in ``maps/``, and ``report.html`` with all of them inside."""

    def __init__(self, project: Project) -> None:
        self.project = project
        known = project.record.get("pictures", {})
        self._album = Album(project.job.results / "maps", Shown(project.job.output.units), known)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *what: object) -> None:
        self._album.__exit__(*what)

    def begin(self, outcome: Outcome[Any]) -> None:
        """Begin with the pictures that a stage has left."""
        self._album.begin(outcome)

    def write(self, progress: Progress) -> tuple[Path, dict[str, str]]:
        """The page, and its pictures by file name with the digest of what they show."""
        project, path = self.project, self.project.job.results / "report.html"
        about = f"Reinforcement from shell resultants \N{MIDDLE DOT} {project.standard.name}"
        outcomes = list(project.outcomes.values())
        page = write_page(path, project.job.title, about, project, outcomes, self._album, progress)
        return page, self._album.drawn


def write_worked(
    sheet: Sheet, title: str, path: Path, section: SectionDescription | None = None,
    strength: StrengthDescription | None = None,
) -> Path:  # fmt: skip
    """Write a worked calculation as one HTML page, with a cracked section or curves; `InputError` where it cannot be.

    A file that is there already is written over only where it is such a page.
    """
    if path.suffix.lower() not in (".html", ".htm"):
        raise InputError([Fault(str(path), "is no name of a page", "use a name that ends in .html")])
    if path.exists() and GENERATOR not in path.read_bytes()[:2000].decode("utf-8", "replace"):
        raise InputError([Fault(str(path), "is there, and is no page of this program", "name another file")])
    check_folder(path.parent)
    picture = ""
    if section is not None:
        from sandwich.drawing.maps import png
        from sandwich.drawing.section import draw_section

        picture = image(png(draw_section, section))
    if strength is not None:
        from sandwich.drawing.maps import png
        from sandwich.drawing.walls import draw_strength

        picture = image(png(draw_strength, strength))
    return write_text(path, environment().get_template("worked.html").render(title=title, sheet=sheet, picture=picture))
