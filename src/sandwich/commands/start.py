"""Jobs to start from: a commented job file for a new folder, and the demo that ships with the package."""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from importlib import resources
from pathlib import Path
from typing import Final

from sandwich.core.errors import Fault, InputError

CORE: Final = Path("core") / "job.toml"  # job of the stair and lift core, from the folder of the demo


def _make(folder: Path) -> None:
    if (folder / "job.toml").exists():
        raise InputError([Fault(str(folder / "job.toml"), "is there already", "name another folder")])
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError([Fault(str(folder), f"cannot be made ({error.strerror})", "name another folder")]) from None


def new_job(folder: str | Path, files: Sequence[str | Path] = ()) -> Path:
    """Write a commented job file with the defaults of practice, or one drafted from the files of an export.

    Parameters
    ----------
    folder : str or Path
        Folder to make; the file is ``job.toml`` in it.
    files : sequence of str or Path
        Tables, workbooks or a mesh file to guess names and units from.

    Returns
    -------
    Path
        The job file.

    Raises
    ------
    InputError
        If there is a job already, the folder cannot be made or a file cannot be read.
    """
    folder = Path(folder)
    there = folder.exists()
    _make(folder)
    if files:
        from sandwich.commands.draft import draft

        try:
            text = draft(folder, [Path(f) for f in files])
        except InputError:
            if not there:
                folder.rmdir()
            raise
    else:
        text = resources.files("sandwich").joinpath("templates", "job.toml").read_text("utf-8")
    (folder / "job.toml").write_text(text, "utf-8")
    return folder / "job.toml"


def copy_demo(folder: str | Path) -> Path:
    """Copy the demo jobs and their tables: the observatory, and its stair and lift core in the folder ``core``.

    Parameters
    ----------
    folder : str or Path
        Folder to make; a demo that is there already is used as it is.

    Returns
    -------
    Path
        The job file of the observatory.

    Raises
    ------
    InputError
        If the folder cannot be made.
    """
    folder = Path(folder)
    if not (folder / "job.toml").exists():
        _make(folder)
        with resources.as_file(resources.files("sandwich").joinpath("demo_data")) as source:
            shutil.copytree(source, folder, dirs_exist_ok=True, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    return folder / "job.toml"
