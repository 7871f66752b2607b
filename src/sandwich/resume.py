"""What results were made from, by content, so that only what changed is made again."""

from __future__ import annotations

import functools
import hashlib
import json
import zipfile
from collections.abc import Iterable
from dataclasses import fields
from pathlib import Path
from typing import Any

import numpy as np

from sandwich._version import __version__
from sandwich.combine.table import Combinations
from sandwich.design.added import Added, ServiceLoads
from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service, ServiceRule
from sandwich.design.transverse import ShearCheck
from sandwich.design.ultimate import Ultimate
from sandwich.errors import StaleError
from sandwich.job import Job, load_job
from sandwich.prepare import ZoneInput
from sandwich.standards.interface import Standard
from sandwich.tables.write import write_aside, write_text

COMBINATIONS = "ultimate.json"
_SHOWS = ("report", "drawing", "inspection", "demo_data", "templates")  # rooms that compute no result


def digest(job: Job) -> str:
    """Digest of everything a job's results are made from: job file, tables, version and formulas."""
    found = hashlib.sha256((__version__ + formulas()).encode())
    for file in (job.path, *(job.folder / f for f in job.files)):
        for part in sorted(file.rglob("*")) if file.is_dir() else [file]:
            if part.is_file():
                found.update(part.name.encode() + part.read_bytes())
    return found.hexdigest()


@functools.cache
def sources(rooms: tuple[str, ...]) -> str:
    """Digest of the sources of some rooms: another formula makes other results."""
    found = hashlib.sha256()
    for room in rooms:
        for file in sorted((Path(__file__).parent / room).rglob("*")):
            if file.suffix in (".py", ".toml", ".html", ".css"):
                found.update(file.name.encode() + file.read_bytes())
    return found.hexdigest()


@functools.cache
def formulas() -> str:
    """Digest of every module and table of the package that results are made by."""
    found, root = hashlib.sha256(), Path(__file__).parent
    for file in sorted(root.rglob("*")):
        of = file.relative_to(root)
        if file.suffix in (".py", ".toml") and of.parts[0] not in (*_SHOWS, "cli.py"):
            found.update(of.as_posix().encode() + file.read_bytes())
    return found.hexdigest()


def fresh_job(path: str | Path) -> Job:
    """The job of a file whose results are those of the job as it stands.

    Raises
    ------
    StaleError
        If the job was not run, or has changed since.
    """
    job = load_job(path)
    record = read_record(job.results)
    if not record:
        raise StaleError(f"{job.results} holds no results; run the job first")
    if record.get("digest") != digest(job):
        raise StaleError(f"the job or its tables have changed since {job.results} was made; run the job again")
    laid = record.get("bars", {})
    zones = {n: z.with_diameters(laid[n]["diameters"]) if n in laid else z.as_laid() for n, z in job.zones.items()}
    return job.model_copy(update={"zones": zones})


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


def zone_key(z: ZoneInput, ultimate: Combinations, standard: Standard) -> str:
    """Digest of what the ultimate design of a zone is made from."""
    s = z.settings(standard)
    settings = (
        s.bars,
        s.concrete,
        s.steel,
        s.method,
        s.minimum,
        s.vertical,
        s.together,
        s.links,
        s.uncracked,
        s.shear_steel,
        s.compression,
        s.eccentricity,
        standard,
    )
    names = [c.label for c in ultimate.columns], z.labels
    bands = () if z.bands is None else (z.bands.cells, z.bands.tributary)
    turn = () if z.turn is None else (z.turn,)
    at = z.support if z.support is not None else np.empty(0)
    return content(
        [formulas(), z.cases, z.h, at, *bands, *turn, ultimate.factors, ultimate.situations, settings, *names]
    )


def save_ultimate(path: Path, key: str, u: Ultimate) -> None:
    """Keep the arrays of a zone with the key of what they were made from."""
    arrays = {f.name: getattr(u, f.name) for f in fields(u) if f.name != "shear"}
    arrays |= {f"shear.{f.name}": getattr(u.shear, f.name) for f in fields(u.shear)}

    _save(path, key, arrays)


def _save(path: Path, key: str, arrays: dict[str, Any]) -> None:
    def write(aside: Path) -> None:
        with aside.open("wb") as file:
            np.savez(file, key=np.array(key), **arrays)

    write_aside(path, write)


def _load(path: Path, key: str | None) -> dict[str, Any] | None:
    """Arrays of a file, or None where there are none or they were made from something else than `key` says."""
    try:
        with path.open("rb") as file, np.load(file, allow_pickle=False) as held:
            if key is not None and str(held["key"]) != key:
                return None
            return dict(held)
    except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
        return None


def load_ultimate(path: Path, key: str | None = None) -> Ultimate | None:
    """Arrays of a zone, or None where there are none or they were made from something else than `key` says."""
    held = _load(path, key)
    if held is None:
        return None
    try:
        shear = ShearCheck(**{f.name: held[f"shear.{f.name}"] for f in fields(ShearCheck)})
        own = {f.name: held[f.name] for f in fields(Ultimate) if f.name != "shear"}
    except KeyError:
        return None
    return Ultimate(**own, shear=shear)


def save_combinations(store: Path, ultimate: Combinations) -> None:
    """Keep the factors of the ultimate combinations beside the stores they are over."""
    rows = {"names": ultimate.names, "situations": ultimate.situations, "factors": ultimate.factors.tolist()}
    write_text(store / COMBINATIONS, json.dumps(rows) + "\n")


def load_combinations(store: Path) -> tuple[list[str], list[str], np.ndarray]:
    """Names, situations and factors, shape (k, columns), of the ultimate combinations of the last run."""
    held = json.loads((store / COMBINATIONS).read_text("utf-8"))
    return held["names"], held["situations"], np.array(held["factors"], dtype=float)


def read_record(folder: Path) -> dict[str, Any]:
    """The record of the last run in a folder, empty where there is none."""
    try:
        found = json.loads((folder / "record.json").read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return found if isinstance(found, dict) else {}


def service_key(loads: ServiceLoads, bars: ServiceBars, z: ZoneInput, rule: ServiceRule, standard: Standard) -> str:
    """Digest of what the service state of a zone is made from."""
    asked = repr((rule, z.zone.rule, z.settings(standard).bars, z.zone.concrete, z.zone.steel, standard))
    acts = (loads.cases, loads.factors, loads.situations, loads.h, loads.head, loads.turn)
    return content([formulas(), *acts, bars.area, bars.axes, bars.diameter, bars.one, bars.cover, asked])


def save_service(path: Path, key: str, before: Service, state: Service, added: Added | None) -> None:
    """Keep the service state of a zone with the key of what it was made from."""
    arrays = {f"{n}.{f.name}": getattr(s, f.name) for n, s in (("before", before), ("state", state)) for f in fields(s)}
    if added is not None:
        arrays |= {"added.area": added.area, "added.placed": added.placed, "added.enough": added.enough}
    _save(path, key, arrays)


def load_service(path: Path, key: str) -> tuple[Service, Service, Added | None] | None:
    """Service state of a zone before and after steel was added, or None where it was made from something else."""
    held = _load(path, key)
    if held is None:
        return None
    try:
        before, state = (
            Service(**{f.name: held[f"{n}.{f.name}"] for f in fields(Service)}) for n in ("before", "state")
        )
        added = Added(held["added.area"], held["added.placed"], held["added.enough"]) if "added.area" in held else None
    except KeyError:
        return None
    return before, state, added
