"""What results were made from, by content, and arrays that a second run takes over."""

from __future__ import annotations

import functools
import hashlib
import zipfile
from collections.abc import Iterable
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any, Final, TypeVar, get_type_hints

import numpy as np

from sandwich.tables.write import write_aside

R = TypeVar("R")
ROOT: Final = Path(__file__).parent.parent
_SHOWS: Final = ("report", "drawing", "inspection", "demo_data", "templates", "cli.py")  # what computes no result


@functools.cache
def sources(rooms: tuple[str, ...]) -> str:
    """Digest of the sources of some rooms: another formula makes other results."""
    found = hashlib.sha256()
    for room in rooms:
        for file in sorted((ROOT / room).rglob("*")):
            if file.suffix in (".py", ".toml", ".html", ".css"):
                found.update(file.name.encode() + file.read_bytes())
    return found.hexdigest()


@functools.cache
def formulas() -> str:
    """Digest of every module and table of the package that results are made by."""
    found = hashlib.sha256()
    for file in sorted(ROOT.rglob("*")):
        of = file.relative_to(ROOT)
        if file.suffix in (".py", ".toml") and of.parts[0] not in _SHOWS:
            found.update(of.as_posix().encode() + file.read_bytes())
    return found.hexdigest()


def content(parts: Iterable[Any]) -> str:
    """Digest of arrays and of anything with a stable text."""
    found = hashlib.sha256()
    for part in parts:
        if isinstance(part, np.ndarray) and part.dtype != object:
            found.update(f"{part.dtype}{part.shape}".encode() + np.ascontiguousarray(part).tobytes())
        else:
            found.update(repr(part.tolist() if isinstance(part, np.ndarray) else part).encode())
        found.update(b"|")
    return found.hexdigest()


def save_arrays(path: Path, key: str, arrays: dict[str, Any]) -> None:
    """Keep arrays with the key of what they were made from."""

    def write(aside: Path) -> None:
        with aside.open("wb") as file:
            np.savez(file, key=np.array(key), **arrays)

    path.parent.mkdir(parents=True, exist_ok=True)
    write_aside(path, write)


def load_arrays(path: Path, key: str | None = None) -> dict[str, Any] | None:
    """Arrays of a file, or None where there are none or they were made from something else than `key` says."""
    try:
        with path.open("rb") as file, np.load(file, allow_pickle=False) as held:
            if key is not None and str(held["key"]) != key:
                return None
            return dict(held)
    except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
        return None


def arrays_of(record: Any, prefix: str = "") -> dict[str, Any]:
    """Arrays of a dataclass by name; those of a dataclass inside it by both names."""
    out: dict[str, Any] = {}
    for f in fields(record):
        value = getattr(record, f.name)
        name = f"{prefix}{f.name}"
        out |= arrays_of(value, f"{name}.") if is_dataclass(value) else {name: value}
    return out


def record_of(kind: type[R], held: dict[str, Any], prefix: str = "") -> R:
    """A dataclass from what `arrays_of` gave.

    Raises
    ------
    KeyError
        If an array is missing.
    """
    hints = get_type_hints(kind)
    values = {
        f.name: record_of(hints[f.name], held, f"{prefix}{f.name}.")
        if is_dataclass(hints[f.name])
        else held[f"{prefix}{f.name}"]
        for f in fields(kind)  # type: ignore[arg-type]
    }
    return kind(**values)


def described(value: Any) -> Iterable[Any]:
    """What a description of a picture holds, flat: arrays, numbers and texts in their order."""
    if is_dataclass(value):
        yield from (part for f in fields(value) for part in described(getattr(value, f.name)))
    elif isinstance(value, list | tuple):
        yield len(value)
        yield from (part for v in value for part in described(v))
    else:
        yield value
