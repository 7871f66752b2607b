"""The job file: TOML in the order of the work, validated with messages that name file and key."""

from __future__ import annotations

import difflib
import tomllib
import unicodedata
from collections import Counter
from collections.abc import Container, Iterable, Iterator
from copy import deepcopy
from dataclasses import field
from pathlib import Path
from typing import Annotated, Any, Final, Literal

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from sandwich.core.errors import Fault, Faults, InputError
from sandwich.job.actions import Action, Case, Combination, Rules
from sandwich.job.base import Model, fields_of, record
from sandwich.job.building import Building, Neighbour
from sandwich.job.keys import key_parts
from sandwich.job.plain_walls import BearingWall, FootingWall
from sandwich.job.punching import Punching
from sandwich.job.source import TABLES, Input, MeshFile, ResultSet, Table
from sandwich.job.strip import Strip
from sandwich.job.tendons import Tendons
from sandwich.job.walls import OwnCut, Seismic, Spectrum, Storeys, Wall, WallBars
from sandwich.job.wording import UNKNOWN, gathered, shown
from sandwich.job.zone import OF_ELEMENTS, OF_SHELLS, Zone

_OURS: Final = ("path", "written")  # of the job, which no file holds


@record
class Design(Model):
    """Standard of the design, and whose values of it: the recommended ones, or a TOML file of the user's own."""

    standard: Literal["EN 1992-1-1:2004", "ACI 318-19", "ACI 318-14", "IS 456:2000"] = "EN 1992-1-1:2004"
    parameters: str = "recommended"
    cracked_layers: Literal["6.5.2", "EN 1992-2, 6.109"] = "6.5.2"
    workers: Annotated[int, Field(ge=0)] = 0

    @model_validator(mode="after")
    def _values_are_national(self) -> Design:
        if self.parameters != "recommended" and not self.standard.startswith("EN"):
            raise ValueError(f"{self.standard} has no national values; take 'parameters' out")
        if self.cracked_layers != "6.5.2" and not self.standard.startswith("EN"):
            raise ValueError(f"cracked_layers is a choice of EN 1992, not of {self.standard}; take it out")
        return self


@record
class Output(Model):
    """Where results go, whether tables are written as CSV too, and the units of what is shown."""

    folder: str = "results"
    csv: bool = False
    units: Literal["SI", "US"] = "SI"


@record
class Job(Model):
    """A whole job; paths are relative to the job file.

    Attributes
    ----------
    path : Path
        The job file.
    written : dict
        What stands in it, without defaults.
    """

    title: str
    input: Input = Input()
    sets: dict[str, ResultSet] = Field(default_factory=dict)
    zones: dict[str, Zone] = Field(default_factory=dict)
    cases: dict[str, Case] = Field(default_factory=dict)
    actions: dict[str, Action] = Field(default_factory=dict)
    rules: Rules | None = None
    combinations: tuple[Combination, ...] = ()
    strips: dict[str, Strip] = Field(default_factory=dict)
    punching: dict[str, Punching] = Field(default_factory=dict)
    tendons: dict[str, Tendons] = Field(default_factory=dict)
    storeys: Storeys = Storeys()
    walls: dict[str, Wall] = Field(default_factory=dict)
    spectra: dict[str, Spectrum] = Field(default_factory=dict)
    building: Building | None = None
    bearing_walls: dict[str, BearingWall] = Field(default_factory=dict)
    footing_walls: dict[str, FootingWall] = Field(default_factory=dict)
    design: Design = Design()
    output: Output = Output()
    path: Path = field(default=Path(), repr=False)
    written: dict[str, Any] = field(default_factory=dict, repr=False, compare=False)

    @model_validator(mode="after")
    def _names(self) -> Job:
        if self.output.units == "US" and not self.design.standard.startswith("ACI"):
            raise ValueError("US customary units are for ACI 318; choose it in design.standard, or take them out")
        by_angle = self.design.cracked_layers != "6.5.2"
        if by_angle and any(z.joint for z in self.zones.values()):
            raise ValueError("the angle rule of 6.109 holds for each combination; take 'joint' out, or choose 6.5.2")
        if not self.zones and not self.of_forces:
            raise ValueError("no zone; write at least one [zones.NAME]")
        repeated = sorted(n for n, k in Counter(c.name for c in self.combinations).items() if k > 1)
        if repeated:
            raise ValueError(f"combinations named twice: {', '.join(repeated)}; give each its own name")
        if self.actions and self.rules is None:
            raise ValueError("actions are for rules of combination; write [rules] or take [actions] out")
        lost = sorted({c.result_set for c in self.combinations} - {"", *self.sets})
        if lost:
            raise ValueError(f"no result set '{lost[0]}'; write [sets.{lost[0]}] or take 'set' out of the combination")
        lost = sorted(set(self.rules.sets) - {"", *self.sets}) if self.rules else []
        if lost:
            raise ValueError(f"rules.sets names '{lost[0]}'; write [sets.{lost[0]}] or take it out")
        if not self.has_shells and not self.of_forces:
            raise ValueError(
                'input: no resultants; name their table in resultants = "...", or a mesh file that holds them, or give '
                "every wall its forces and panels"
            )
        for name, zone in self.zones.items():
            why = "there are no results of shells" if not self.has_shells else "shell = false" if not zone.shell else ""
            keys = OF_SHELLS if self.has_shells else (*OF_ELEMENTS, *OF_SHELLS)
            idle = [k for k in keys if why and self.writes("zones", name, k)]
            if idle:
                are, them = ("is", "it") if len(idle) == 1 else ("are", "them")
                raise ValueError(
                    f"zones.{name}: {', '.join(idle)} {are} for the design of a shell, and {why}; take {them} out"
                )
        for name, wall in self.walls.items():
            idle = [k for k in ("distance", "offset") if wall.forces is not None and self.writes("walls", name, k)]
            if idle:
                raise ValueError(
                    f"walls.{name}: {idle[0]} places cuts, and this wall brings its forces; take {idle[0]} out"
                )
            lost = sorted(set(wall.zones) - set(self.zones))
            if lost:
                raise ValueError(f"walls.{name} names zone '{lost[0]}'; use some of {', '.join(self.zones)}")
            off = [z for z in wall.zones if self.zones[z].offset and wall.forces is None]
            if off:
                raise ValueError(
                    f"walls.{name}: zone {off[0]} has an offset, and cuts go by the surface of the results; bring "
                    "results of mid-depth, or take offset out"
                )
        for key, kind in (("reactions_act_on", "reactions"), ("nodal_forces_act_on", "nodal_forces")):
            if self.writes("input", "signs", key) and getattr(self.input, kind) is None:
                raise ValueError(f"input.signs.{key} is for {kind}; name their table too, or take it out")
        if self.building is not None and not self.walls:
            raise ValueError("building goes by the storeys of its walls; write [walls.NAME] too, or take it out")
        if self.writes("storeys") and not self.walls:
            raise ValueError("storeys are those of walls; write [walls.NAME] too, or take them out")
        leads: dict[str, str] = {}
        for name, wall in self.walls.items():
            lead = self.walls[leads.setdefault(wall.group or name, name)]
            apart = [k for k in ("rule", "curtains", "same_bars", "end_bars") if getattr(wall, k) != getattr(lead, k)]
            if apart:
                raise ValueError(
                    f"walls.{name} and walls.{leads[wall.group]} are of group '{wall.group}' and differ in {apart[0]}; "
                    "give both the same, as they get the same bars"
                )
        wrong = [s for s in self.sets if "/" in s or not s]
        if wrong:
            raise ValueError(f"a result set is called '{wrong[0]}'; use a name without /")
        return self

    def with_values(self, values: dict[str, Any]) -> Job:
        """The job with other values, validated as any other.

        Parameters
        ----------
        values : dict
            Key of the job file -> value, such as ``{"zones.floor.thickness": 300}``; a name with a dot in quotes.

        Raises
        ------
        InputError
            If a key or a value will not do; all faults at once.
        """
        data = deepcopy(self.written)
        faults = Faults()
        parts = {key: key_parts(key) for key in values}
        for key, value in values.items():
            over = next((k for k, p in parts.items() if k != key and parts[key][: len(p)] == p), None)
            if over is not None:  # which of them holds would go by their order
                faults.add(f"key {key}", f"stands in '{over}', which is given too", "give one of them")
                continue
            *path, last = parts[key]
            place: Any = data
            for part in path:
                place = place.setdefault(part, {}) if isinstance(place, dict) else None
            if isinstance(place, dict):
                place[last] = value
            else:
                faults.add(f"key {key}", f"'{path[-1]}' holds no keys", "name a key of a table")
        faults.stop()
        return from_dict(data, self.path)

    def writes(self, *keys: str) -> bool:
        """Whether a key stands in the job file itself, and is no default."""
        place: Any = self.written
        for key in keys:
            if not isinstance(place, dict) or key not in place:
                return False
            place = place[key]
        return True

    def refuse_unused(
        self, place: tuple[str, ...], keys: Iterable[str], takes: Container[str], of: str, faults: Faults
    ) -> None:
        """Note keys of a table that stand in the job file and that a standard or code, `of`, does not take."""
        for key in keys:
            if key not in takes and self.writes(*place, key):
                faults.add(f"{self.path}, {'.'.join((*place, key))}", f"{of} has no use for it", "take it out")

    @property
    def folder(self) -> Path:
        """Folder the paths of the job are relative to."""
        return self.path.parent

    @property
    def files(self) -> tuple[str, ...]:
        """Every file that is read, as the job names it."""
        tables = [getattr(self.input, kind) for kind in TABLES]
        tables += [t for s in self.sets.values() for t in (s.resultants, s.cases)]
        tables += [t.table for t in self.tendons.values()]
        tables += [self.storeys.labels]
        tables += [self.building.drifts, self.building.forces] if self.building is not None else []
        tables += [t for w in self.walls.values() for t in (w.parts, w.forces, w.panels, w.openings)]
        mesh = (self.input.mesh.file,) if self.input.mesh is not None else ()
        own = [self.design.parameters, self.rules.parameters if self.rules else ""]
        values = [f for f in own if f.endswith(".toml")]
        return (*mesh, *(f for t in tables if t is not None for f in t.files), *values)

    @property
    def results(self) -> Path:
        """Folder of the results."""
        return self.folder / self.output.folder

    @property
    def of_forces(self) -> bool:
        """Whether every wall brings its own forces and geometry, so that no results are needed."""
        there = self.walls or self.bearing_walls or self.footing_walls
        return bool(there) and all(w.forces is not None and w.panels is not None for w in self.walls.values())

    @property
    def seismic_walls(self) -> bool:
        """Whether a wall has a seismic design."""
        return any(w.seismic is not None for w in self.walls.values())

    @property
    def designs_shells(self) -> bool:
        """Whether there are results of shells, and zones that are designed for them."""
        return self.has_shells and any(z.shell for z in self.zones.values())

    @property
    def has_shells(self) -> bool:
        """Whether the job brings results of shells."""
        return self.input.mesh is not None or self.input.resultants is not None

    @property
    def has_mesh(self) -> bool:
        """Whether the job brings nodes and elements."""
        return self.input.nodes is not None or self.input.mesh is not None


_JOB: Final = TypeAdapter(Job)


def load_job(path: str | Path) -> Job:
    """Read and validate a job file.

    Parameters
    ----------
    path : str or Path
        The TOML file.

    Returns
    -------
    Job
        Frozen, with defaults filled in.

    Raises
    ------
    InputError
        If the file is missing, is no TOML or holds keys or values that will not do; all faults at once.
    """
    path = Path(path)
    if path.exists() and not path.is_file() and not path.is_dir():
        raise InputError([Fault(str(path), "is no plain file", "give the path of a job file")])
    try:
        data = tomllib.loads(path.read_text("utf-8-sig"))
    except FileNotFoundError:
        raise InputError([Fault(str(path), "no such file", "give the path of a job file")]) from None
    except IsADirectoryError:
        raise InputError([Fault(str(path), "is a folder", "give the path of a job file")]) from None
    except UnicodeDecodeError as error:
        raise InputError([Fault(str(path), f"is not UTF-8 text ({error.reason})", "save it as UTF-8")]) from None
    except RecursionError:
        raise InputError([Fault(str(path), "is nested too deeply", "a job file has a few levels")]) from None
    except OSError as error:
        raise InputError(
            [Fault(str(path), f"cannot be read ({error.strerror})", "give the path of a job file")]
        ) from None
    except ValueError as error:
        told = "a number of too many digits" if "set_int_max_str_digits" in str(error) else str(error)
        raise InputError([Fault(str(path), f"is not valid TOML: {told}", "mend that place")]) from None
    return from_dict(data, path)


def _texts(data: Any, keys: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], str]]:
    """Every text of nested dictionaries and lists with the keys that lead to it; keys are texts too."""
    if isinstance(data, dict):
        for key, value in data.items():
            yield (*keys, str(key)), str(key)
            yield from _texts(value, (*keys, str(key)))
    elif isinstance(data, list | tuple):
        for value in data:
            yield from _texts(value, keys)
    elif isinstance(data, str):
        yield keys, data


def from_dict(data: dict[str, Any], path: str | Path) -> Job:
    """Validate a job given as nested dictionaries; `path` is where its relative paths start."""
    faults = Faults()
    for keys, text in _texts(data):
        if any(unicodedata.category(c) == "Cc" for c in text):
            faults.add(f"{path}, key {'.'.join(keys)!r}", f"{text!r} holds a control character", "use plain text")
    for key in _OURS:
        if key in data:
            faults.add(f"{path}, key {key}", "no such key", _one_of(_known([])))
    faults.stop()
    try:
        return _JOB.validate_python({**data, "path": Path(path), "written": data})
    except ValidationError as error:
        faults = Faults()
        for place, e, ways in gathered(error.errors(), data):
            _explain(faults, str(path), [str(k) for k in place], e, ways)
        raise InputError(faults.found) from None


def _explain(faults: Faults, file: str, keys: list[str], e: Any, ways: list[str]) -> None:
    where = f"{file}, key {'.'.join(keys) or '(top)'}"
    if e["type"] == UNKNOWN:
        near = difflib.get_close_matches(keys[-1], _known(keys[:-1]), 2)
        remedy = f"did you mean {' or '.join(repr(n) for n in near)}?" if near else _one_of(_known(keys[:-1]))
        faults.add(where, "no such key", remedy)
    elif e["type"] == "missing" and not keys[-1].isdigit():
        faults.add(where, "is missing", "it has no default: write it")
    elif e["type"] == "value_error":
        message = str(e["ctx"]["error"])
        found, _, remedy = message.rpartition("; ")
        faults.add(where, found or message, remedy if found else "see the message")
    else:
        found = "is missing" if e["type"] == "missing" else f"found {shown(e['input'])}"
        faults.add(where, found, f"use {' or '.join(ways)}")


def _one_of(names: list[str]) -> str:
    return f"use one of {', '.join(names)}" if names else "remove it"


def _inner(model: Any, key: str) -> Any:
    """Model of a key; of the entries where it holds many or may be left out."""
    entries = {
        "zones": Zone,
        "combinations": Combination,
        "sets": ResultSet,
        "cases": Case,
        "actions": Action,
        "strips": Strip,
        "punching": Punching,
        "tendons": Tendons,
        "walls": Wall,
        "spectra": Spectrum,
        "bearing_walls": BearingWall,
        "footing_walls": FootingWall,
    }
    if model is Job and key in (*entries, "rules", "building"):
        return {**entries, "rules": Rules, "building": Building}[key]
    if model is Building and key in ("drifts", "forces", "neighbours"):
        return Neighbour if key == "neighbours" else Table
    if model is Wall and key in ("bars", "cuts", "seismic"):
        return {"bars": WallBars, "cuts": OwnCut, "seismic": Seismic}[key]
    if model in (Input, ResultSet) and key in TABLES:
        return Table
    return MeshFile if key == "mesh" else fields_of(model)[key].annotation


def _known(keys: list[str]) -> list[str]:
    """Keys that are allowed at a place of the job."""
    model: Any = Job
    for key in keys:
        if key in fields_of(model):
            model = _inner(model, key)
    return [f.alias or n for n, f in fields_of(model).items() if n not in _OURS]
