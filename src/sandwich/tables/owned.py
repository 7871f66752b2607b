"""The folder of results: whose files are in it, one run at a time, what a killed run left.

A ledger in the folder lists what runs have written. Nothing else is overwritten or removed.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final

from filelock import FileLock, Timeout

from sandwich.core.errors import Fault, InputError
from sandwich.job import Job
from sandwich.tables.write import check_folder, write_text

LEDGER: Final = "written.json"
_LOCK: Final = ".lock"
_FOLDERS: Final = ("store", "maps", "inspection", "service")
_ASIDE: Final = re.compile(r"\.\d+-.+")  # what `write_aside` writes before it renames


@dataclass
class Owned:
    """The files of a folder that runs have written, as paths relative to it."""

    folder: Path
    files: set[str] = field(default_factory=set)

    def remove(self, name: str) -> None:
        """Remove a file, if it is one that a run wrote."""
        if name in self.files:
            (self.folder / name).unlink(missing_ok=True)
            self.files.discard(name)

    def inside(self, folder: str) -> list[str]:
        """Names of the files in a folder."""
        return sorted(f for f in self.files if f.startswith(f"{folder}/"))


def check_output(job: Job) -> None:
    """Refuse a folder of results that holds the job or one of its inputs.

    Raises
    ------
    InputError
        With what it holds.
    """
    folder = job.results.resolve()
    where = f"{job.path}, output.folder"
    remedy = 'use a folder of its own, such as "results"'
    if job.path.resolve().is_relative_to(folder):
        raise InputError([Fault(where, f"'{job.output.folder}' holds the job", remedy)])
    for file in job.files:
        if (job.folder / file).resolve().is_relative_to(folder):
            raise InputError([Fault(where, f"'{job.output.folder}' holds {file}, which the job reads", remedy)])


@contextmanager
def results_folder(job: Job, reserved: tuple[str, ...] = ()) -> Iterator[Owned]:
    """The folder of a job's results while one command writes to it.

    Parameters
    ----------
    job : Job
        Names the folder, which is made where there is none.
    reserved : tuple of str
        Names beside the subfolders of results that a command may write.

    Yields
    ------
    Owned
        What earlier runs wrote.

    Raises
    ------
    InputError
        If it cannot be written, another run is at it, or a file of somebody else stands where results go.
    """
    check_output(job)
    folder = job.results
    check_folder(folder)
    lock = FileLock(folder / _LOCK)
    try:
        lock.acquire(timeout=0)
    except Timeout:
        found = "another run is writing its results"
        raise InputError(
            [Fault(f"folder {folder}", found, "wait until it has ended, or name another folder")]
        ) from None
    try:
        there, known, foreign = _files(folder), set[str](), set[str]()
        ledger = _ledger(folder)
        if ledger is None:
            foreign = there
        elif ledger.get("running"):
            foreign = set(ledger["foreign"])  # that run was killed: what came since is its own
            known = there - foreign
        else:
            known = there & set(ledger["files"])
            foreign = there - known
        for name in [f for f in known if _ASIDE.fullmatch(Path(f).name)]:
            (folder / name).unlink(missing_ok=True)
            known.discard(name)
        strange = sorted(f for f in foreign if f in reserved or f.partition("/")[0] in _FOLDERS)
        if strange:
            more = f" and {len(strange) - 1} more" if len(strange) > 1 else ""
            found = f"holds {strange[0]}{more}, which no run of this program wrote"
            raise InputError([Fault(f"folder {folder}", found, "move it, or name another folder in output.folder")])
        _write(folder, known, foreign, running=True)
        owned = Owned(folder, known)
        try:
            yield owned
        finally:
            _write(folder, _files(folder) - foreign, foreign, running=False)
    finally:
        lock.release()


def _files(folder: Path) -> set[str]:
    found = (f.relative_to(folder).as_posix() for f in folder.rglob("*") if f.is_file() or f.is_symlink())
    return {f for f in found if f not in (LEDGER, _LOCK)}


def _ledger(folder: Path) -> dict[str, list[str]] | None:
    try:
        found = json.loads((folder / LEDGER).read_text("utf-8"))
        names = [*found["files"], *found["foreign"]]
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return found if all(isinstance(n, str) for n in names) else None


def _write(folder: Path, files: set[str], foreign: set[str], *, running: bool) -> None:
    record = {"files": sorted(files), "foreign": sorted(foreign), **({"running": True} if running else {})}
    write_text(folder / LEDGER, json.dumps(record, indent=1) + "\n")
