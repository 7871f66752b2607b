"""A project: a job loaded once, with its standard, results, combinations and zones, and what its stages have left."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import Any, NamedTuple, Protocol, TypeVar, cast

import numpy as np

from sandwich._version import __version__
from sandwich.combine.build import combinations_of
from sandwich.combine.table import Combinations, unsigned_columns
from sandwich.core.errors import Fault, Faults, StaleError
from sandwich.core.progress import Progress, unwatched
from sandwich.job import Job, load_job
from sandwich.project import loaded
from sandwich.project.bars_table import with_bars_tables
from sandwich.project.outcome import Outcome
from sandwich.project.prepare import prepare
from sandwich.project.second_order import bowed, combinations_of_zone
from sandwich.project.store import formulas
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Standard
from sandwich.standards.registry import standard_named
from sandwich.tables.assemble import Results, read_job

T = TypeVar("T")
RECORD = "record.json"
INPUT = "input"  # folder of what was loaded


class Runs(Protocol[T]):
    """What leaves an outcome of a project: a stage."""

    name: str

    def run(self, project: Project, progress: Progress) -> Outcome[T]:
        """Do its work."""


class _Loaded(NamedTuple):
    results: Results
    combinations: Combinations
    zones: list[ZoneInput]
    open: tuple[Fault, ...]


class Project:
    """A job and everything it is made into; nothing is read before it is asked for.

    Parameters
    ----------
    job : Job
        The job, as its file or a program has it.
    to_design : bool
        Whether combinations must be whole and one of them ultimate; without it their faults are left open.
    """

    def __init__(self, job: Job, *, to_design: bool = True) -> None:
        self.job = with_bars_tables(job)
        self.to_design = to_design
        self.outcomes: dict[str, Outcome[Any]] = {}
        self.writes = False  # only a run writes to the store
        self._once: dict[str, Any] = {}
        self._digests: dict[Path, tuple[tuple[int, int, int], bytes]] = {}

    @classmethod
    def of(cls, given: str | Path | Job | Project, *, to_design: bool = True) -> Project:
        """The project of a job file, of a job, or itself."""
        if isinstance(given, Project):
            return given
        return cls(given if isinstance(given, Job) else load_job(given), to_design=to_design)

    @classmethod
    def last_run(cls, given: str | Path | Job | Project) -> Project:
        """The project, whose results must be those of the job as it stands.

        Raises
        ------
        StaleError
            If the job was not run, or has changed since.
        """
        project = cls.of(given)
        folder = project.job.results
        if not project.record:
            raise StaleError(f"{folder} holds no results; run the job first")
        if project.record.get("digest") != project.made_from:
            raise StaleError(f"the job or its tables have changed since {folder} was made; run the job again")
        return project

    def __repr__(self) -> str:
        return f"Project({self.job.title})"

    @cached_property
    def standard(self) -> Standard:
        """The standard of the job with its values.

        Raises
        ------
        InputError
            If they are in a file that will not do.
        """
        of = self.job.design
        return standard_named(of.standard, of.parameters, folder=self.job.folder, cracked=of.cracked_layers)

    @cached_property
    def _loaded(self) -> _Loaded:
        held = loaded.load(self.store / INPUT, self.made_from) if self.to_design else None
        if held is not None:
            zones = [replace(z, zone=self.job.zones[z.name].as_laid()) for z in held["zones"]]
            return _Loaded(held["results"], held["combinations"], zones, ())
        results = read_job(self.job, every_case=not self.to_design)
        faults = Faults()
        zones = prepare(self.job, results, self.standard, faults)
        of_rules = faults if self.to_design else Faults()
        combinations = combinations_of(
            self.job, results.kinds, _live(results, zones), of_rules, to_design=self.to_design
        )
        faults.stop()
        zones = [bowed(z, combinations.ultimate(), self.standard) for z in zones]
        return _Loaded(results, combinations, zones, () if self.to_design else tuple(of_rules.found))

    def load(self, progress: Progress = unwatched) -> Project:
        """Read all tables and make the zones ready.

        Raises
        ------
        InputError
            With every fault of the job, then of all tables, then of combinations and zones.
        """
        progress("reading", 0, 1)
        _ = self._loaded
        progress("reading", 1, 1)
        return self

    @property
    def results(self) -> Results:
        """What the tables hold."""
        return self._loaded.results

    @property
    def combinations(self) -> Combinations:
        """Combinations, listed and by rule."""
        return self._loaded.combinations

    def ultimate_of(self, z: ZoneInput) -> Combinations:
        """Ultimate combinations of a zone, with what second order adds to them there."""
        return combinations_of_zone(z, self.combinations.ultimate())

    @property
    def zones(self) -> list[ZoneInput]:
        """Zones with their resultants in the bar directions, as the job has them."""
        return self._loaded.zones

    @property
    def open(self) -> tuple[Fault, ...]:
        """What keeps a job from its design that was loaded to be looked at."""
        return self._loaded.open

    @property
    def store(self) -> Path:
        """Folder of what a second run takes over."""
        return self.job.results / "store"

    @cached_property
    def record(self) -> dict[str, Any]:
        """What the last run left about itself, empty where there was none."""
        try:
            found = json.loads((self.job.results / RECORD).read_text("utf-8"))
        except (OSError, ValueError):
            return {}
        return found if isinstance(found, dict) else {}

    @cached_property
    def made_from(self) -> str:
        """The digest when it was first asked for."""
        return self.digest()

    def digest(self) -> str:
        """Digest of everything results are made from: the job, its tables as they are now, version and formulas."""
        job = self.job
        found = hashlib.sha256((__version__ + formulas() + repr(job)).encode())
        for file in (job.folder / f for f in job.files):
            for part in sorted(file.rglob("*")) if file.is_dir() else [file]:
                if part.is_file():
                    found.update(part.name.encode() + self._digest_of(part))
        return found.hexdigest()

    def _digest_of(self, file: Path) -> bytes:
        """Digest of the content of a file, which is read again where it was written since."""
        now = file.stat()
        state = (now.st_ino, now.st_size, now.st_mtime_ns)
        if file not in self._digests or self._digests[file][0] != state:
            with file.open("rb") as content:
                self._digests[file] = state, hashlib.file_digest(content, "blake2b").digest()
        return self._digests[file][1]

    def changed(self, job: Job) -> Project:
        """The project of a changed job on the results and combinations of this one; for trials."""
        other = Project(job, to_design=self.to_design)
        other.__dict__["_loaded"] = self._loaded
        return other

    def keep_loaded(self) -> None:
        """Keep what was loaded, so that the next command need not read the tables again."""
        folder = self.store / INPUT
        if loaded.load_key(folder) != self.made_from:
            held = {"results": self.results, "combinations": self.combinations, "zones": self.zones}
            loaded.save(folder, self.made_from, held)

    def forget(self) -> None:
        """Take back what the last run said of its results: they are about to change."""
        (self.job.results / RECORD).unlink(missing_ok=True)

    def once(self, name: str, make: Callable[[], T]) -> T:
        """What `make` gives, made once."""
        if name not in self._once:
            self._once[name] = make()
        return cast("T", self._once[name])

    def left(self, stage: Runs[T]) -> T:
        """What a stage has left; it runs here where it has not run yet."""
        if stage.name not in self.outcomes:
            self.outcomes[stage.name] = stage.run(self, unwatched)
        return cast("T", self.outcomes[stage.name].left)

    def zone(self, name: str) -> ZoneInput:
        """The zone of a name, as the job has it."""
        return next(z for z in self.zones if z.name == name)


def _live(results: Results, zones: list[ZoneInput]) -> dict[str, set[str]]:
    """Components of each case without signs that are anywhere more than zero."""
    signed = {c: kind.signed is not False for c, kind in results.kinds.items()}
    live: dict[str, set[str]] = {}
    for i, column in enumerate(unsigned_columns(signed)):
        if column.component and any(np.nan_to_num(z.cases[:, i]).any() for z in zones):
            live.setdefault(column.case, set()).add(column.component)
    return live
