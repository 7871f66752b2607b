"""Runs the stages of a project and writes what they leave; knows none of them."""

from __future__ import annotations

import graphlib
import json
import logging
from collections.abc import Callable, Sequence
from contextlib import nullcontext
from pathlib import Path
from typing import Any, Final, Protocol, Self

from sandwich._version import __version__
from sandwich.core.errors import Fault, Faults, InputError
from sandwich.core.on_disc import give_back
from sandwich.core.progress import Progress
from sandwich.core.shown import Shown
from sandwich.project.outcome import Outcome
from sandwich.project.project import INPUT, RECORD, Project
from sandwich.project.stage import Stage
from sandwich.tables.owned import Owned, results_folder
from sandwich.tables.write import file_name, table_file, write_long_table, write_table, write_text

log = logging.getLogger("sandwich")
NEW: Final = ".new"
PAGE: Final = "report.html"
KINDS: Final = ("parquet", "csv")


class Report(Protocol):
    """The report of a run, whose pictures begin as soon as a stage has left them."""

    def __enter__(self) -> Self: ...

    def __exit__(self, *what: object) -> None: ...

    def begin(self, outcome: Outcome[Any]) -> None:
        """Begin with the pictures of an outcome."""

    def write(self, progress: Progress) -> tuple[Path, dict[str, str]]:
        """The page that was written, and its pictures with digests of what they show."""


def in_order(stages: Sequence[Stage[Any]], project: Project) -> list[Stage[Any]]:
    """The stages that the job asks for, each after those it needs; else in the order given.

    Raises
    ------
    InputError
        If a stage needs one that there is not, or two are called alike.
    """
    by_name = {s.name: s for s in stages}
    if len(by_name) < len(stages):
        raise InputError([Fault("stages", "two stages have one name", "give each its own")])
    for s in stages:
        lost = [n for n in s.needs if n not in by_name]
        if lost:
            raise InputError([Fault(f"stage '{s.name}'", f"needs '{lost[0]}'", f"there are {', '.join(by_name)}")])
    sorter = graphlib.TopologicalSorter({s.name: s.needs for s in stages})
    sorter.prepare()
    order: list[str] = []
    rank = {name: i for i, name in enumerate(by_name)}
    while sorter.is_active():
        ready = sorted(sorter.get_ready(), key=rank.__getitem__)
        order += ready
        sorter.done(*ready)
    return [by_name[n] for n in order if by_name[n].asked(project)]


def execute(
    project: Project, stages: Sequence[Stage[Any]], progress: Progress, report: Callable[[Project], Report] | None
) -> tuple[Path | None, tuple[str, ...]]:
    """Run the stages of a project and write tables, pictures and the report.

    Parameters
    ----------
    project : Project
        What is run.
    stages : sequence of Stage
        Those that there are; the job says which it asks for.
    progress : callable
        Called with the stage, the work done and the whole.
    report : callable, optional
        Gives the report of the project.

    Returns
    -------
    Path or None, tuple of str
        The report, and the zones taken over from the last run.

    Raises
    ------
    InputError
        If anything that was read cannot be used; nothing is written then.
    """
    give_back()
    start, last = project.made_from, project.record
    project.load(progress)
    chosen = in_order(stages, project)
    faults = Faults()
    for stage in chosen:
        stage.check(project, faults)
    faults.stop()
    names = [name for stage in stages for name in stage.tables]
    reserved = (RECORD, PAGE, *(table_file(name, kind) for name in names for kind in KINDS))
    with results_folder(project.job, reserved) as owned, nullcontext() if report is None else report(project) as pages:
        project.writes = True
        awaited = {name for stage in stages for name in stage.needs}
        # those that others wait for come first: their pictures are drawn while the rest runs
        for stage in sorted(chosen, key=lambda s: s.name not in awaited):
            give_back()
            project.outcomes[stage.name] = stage.run(project, progress)
            if pages is not None:
                pages.begin(project.outcomes[stage.name])
        project.outcomes = {stage.name: project.outcomes[stage.name] for stage in chosen}
        give_back()
        project.writes = False
        keys = {stage.name: stage.key(project) for stage in chosen}
        _replace_tables(project, owned, keys, {name for stage in chosen for name in stage.stores})
        now = project.digest()
        if now != start:
            log.warning("the job or its tables changed while they were read; run the job again")
        record: dict[str, Any] = {
            "digest": now if now == start else "", "version": __version__, "standard": project.standard.name,
            "stages": keys,
        }  # fmt: skip
        give_back()
        if record["digest"]:
            project.keep_loaded()
            give_back()
        page, record["pictures"] = _pages(project, owned, last, pages, progress)
        write_text(project.job.results / RECORD, json.dumps(record, indent=1) + "\n")
        project.__dict__.pop("record", None)
    reused = tuple(zone for stage in chosen for zone in project.outcomes[stage.name].reused)
    return page, reused


def _pages(
    project: Project, owned: Owned, last: dict[str, Any], pages: Report | None, progress: Progress
) -> tuple[Path | None, dict[str, str]]:
    """The report, or the last one where nothing has changed; pictures that nothing shows go."""
    if pages is not None:
        page, drawn = pages.write(progress)
        for old in owned.inside("maps"):
            if old.removeprefix("maps/") not in drawn:
                owned.remove(old)
        return page, drawn
    if last.get("digest") == project.made_from and PAGE in owned.files:  # nothing has changed: the last report holds
        return project.job.results / PAGE, last.get("pictures", {})
    for old in (PAGE, *owned.inside("maps")):
        owned.remove(old)
    return None, {}


def _replace_tables(project: Project, owned: Owned, keys: dict[str, str], own_stores: set[str]) -> None:
    """Write new tables aside, then put them in the place of the old ones; what no longer belongs here goes.

    A stage with the key of the last run leaves its tables as they are.
    """
    folder, aside = project.job.results, project.job.results / NEW
    aside.mkdir(exist_ok=True)
    shown, known = Shown(project.job.output.units), project.record.get("stages", {})
    kept = set()
    for name, outcome in project.outcomes.items():
        changed = known.get(name) != keys.get(name)
        for table, frame in outcome.tables.items():
            csv = project.job.output.csv
            files = {table_file(table, kind) for kind in (KINDS if csv else KINDS[:1])}
            kept |= files
            if changed or not files <= owned.files:
                write_table(frame, aside, table, csv=csv, shown=shown)
        for table, frames in outcome.long.items():
            file = table_file(table, KINDS[0])
            kept.add(file)
            if changed or file not in owned.files:
                write_long_table(frames(), aside, table)
    new = {f.name for f in aside.iterdir()}
    stores = {f"store/{name}" for name in (*(file_name(z.name) for z in project.zones), *own_stores)}
    kept_apart = f"store/{INPUT}/"
    old = [
        f
        for f in owned.inside("store")
        if f.rpartition(".")[0].partition("+")[0] not in stores and not f.startswith(kept_apart)
    ]
    stale = [f for f in owned.files if "/" not in f and f not in kept and f not in (PAGE, RECORD)]
    # the record first, so that nothing explains old tables
    for name in (RECORD, *old, *stale):
        owned.remove(name)
    for name in sorted(new):
        (aside / name).replace(folder / name)
    aside.rmdir()
