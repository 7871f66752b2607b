"""What a project has loaded, kept beside its results: a job that was run is opened without reading its tables again.

Records are written as JSON, their arrays as files of NumPy; nothing but records of this package is read back.
"""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from dataclasses import asdict, fields, is_dataclass
from pathlib import Path
from typing import Any, Final, TypeVar

import numpy as np
import pandas as pd

from sandwich.combine.table import Column, Combinations, Row
from sandwich.design.averaging import AveragingStrips
from sandwich.job.actions import Case
from sandwich.job.zone import Zone
from sandwich.model.averaging import Averaged
from sandwich.model.held_edges import PatchEdges
from sandwich.model.mesh import Mesh
from sandwich.model.points import Points
from sandwich.model.zones import Orientation
from sandwich.project.zone_input import Surface, ZoneInput
from sandwich.tables.assemble import Results
from sandwich.tables.write import write_text

T = TypeVar("T")
RECORDS: Final = {
    c.__name__: c
    for c in (
        Averaged, AveragingStrips, Combinations, Mesh, Orientation, PatchEdges, Points, Results, Row, Surface,
        ZoneInput,
    )
}  # fmt: skip
INDEX: Final = "index.json"
KEY: Final = "key.txt"
LARGE: Final = "corner"  # read where it is asked for, never as a whole


def save(folder: Path, key: str, loaded: dict[str, Any]) -> None:
    """Keep records with the key of what they were made from.

    Parameters
    ----------
    folder : Path
        Where they go; what was there before goes.
    key : str
        Digest of what they were made from.
    loaded : dict
        Records, lists and texts by name.
    """
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(parents=True)
    seen: dict[int, tuple[np.ndarray, str]] = {}  # with the array, which keeps its identity

    def array(value: np.ndarray, name: str) -> dict[str, str]:
        if id(value) not in seen:
            seen[id(value)] = value, f"{len(seen)} {name}.npy"
            np.save(folder / seen[id(value)][1], value, allow_pickle=False)
        return {"array": seen[id(value)][1]}  # once, such as the mesh, which every zone has

    index = {name: _packed(value, name, array) for name, value in loaded.items()}
    write_text(folder / INDEX, json.dumps(index))
    write_text(folder / KEY, key)  # last: what has a key is whole


def _packed(value: Any, name: str, array: Callable[[np.ndarray, str], dict[str, str]]) -> Any:
    if isinstance(value, np.ndarray):
        return {"objects": value.tolist()} if value.dtype == object else array(value, name)
    if isinstance(value, Zone):
        return None  # the job has it
    if isinstance(value, Case):
        return {"case": asdict(value)}
    if isinstance(value, Column):
        return {"column": list(value)}
    if isinstance(value, pd.DataFrame):
        rows = _packed(np.asarray(value.index), f"{name} index", array)
        columns = {c: _packed(np.asarray(value[c]), f"{name} {c}", array) for c in map(str, value.columns)}
        return {"frame": columns, "index": rows}
    if is_dataclass(value) and not isinstance(value, type):
        own = {f.name: _packed(getattr(value, f.name), f.name, array) for f in fields(value)}
        return {"record": type(value).__name__, "fields": own}
    if isinstance(value, dict):
        return {"dict": [[k, _packed(v, name, array)] for k, v in value.items()]}
    if isinstance(value, tuple | list):
        return {type(value).__name__: [_packed(v, name, array) for v in value]}
    return value.item() if isinstance(value, np.generic) else value


def load_key(folder: Path) -> str:
    """The key of what is kept in a folder, '' where there is nothing."""
    try:
        return (folder / KEY).read_text("utf-8")
    except OSError:
        return ""


def load(folder: Path, key: str) -> dict[str, Any] | None:
    """What `save` kept, or None where there is nothing, or it was made from something else than `key` says."""
    if load_key(folder) != key:
        return None
    try:
        index = json.loads((folder / INDEX).read_text("utf-8"))
        arrays: dict[str, np.ndarray] = {}
        return {name: _restored(value, folder, arrays) for name, value in index.items()}
    except (OSError, ValueError, KeyError, TypeError):
        return None


def _restored(value: Any, folder: Path, arrays: dict[str, np.ndarray]) -> Any:
    if not isinstance(value, dict):
        return value
    ((kind, held), *_) = value.items()
    if kind == "array":
        if held not in arrays:
            large = held.endswith(f" {LARGE}.npy")
            arrays[held] = np.load(folder / held, mmap_mode="r" if large else None, allow_pickle=False)
        return arrays[held]
    if kind == "objects":
        return np.array([*held, None], dtype=object)[:-1]
    if kind == "record":
        own = {name: _restored(v, folder, arrays) for name, v in value["fields"].items()}
        return RECORDS[held](**own)
    if kind == "case":
        return Case(**held)
    if kind == "column":
        return Column(*held)
    if kind == "frame":
        rows = _restored(value["index"], folder, arrays)
        return pd.DataFrame({c: _restored(v, folder, arrays) for c, v in held.items()}, index=rows)
    if kind == "dict":
        return {k: _restored(v, folder, arrays) for k, v in held}
    each = [_restored(v, folder, arrays) for v in held]
    return each if kind == "list" else tuple(each)
