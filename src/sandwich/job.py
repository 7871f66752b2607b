"""The job file: TOML in the order of the work, validated with messages that name file and key."""

from __future__ import annotations

import difflib
import tomllib
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator, model_validator

from sandwich.errors import Fault, Faults, InputError
from sandwich.section import BarLayers, Concrete, Layout, Steel
from sandwich.standards.interface import ULTIMATE, Situation

Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
TABLES = ("nodes", "elements", "axes", "cases", "resultants")


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


class Units(_Model):
    """Units of the tables, by quantity."""

    length: str = "m"
    thickness: str = "m"
    membrane: str = "kN/m"
    moment: str = "kN*m/m"
    shear: str = "kN/m"


class Signs(_Model):
    """How the source counts: which face a positive moment puts in tension, and components to negate."""

    positive_moment_tension: Literal["bottom", "top"] = "bottom"
    negate: tuple[Literal["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"], ...] = ()


class Columns(_Model):
    """Column names of the source under the names of the house, a table each."""

    nodes: dict[str, str] = {}
    elements: dict[str, str] = {}
    axes: dict[str, str] = {}
    cases: dict[str, str] = {}
    resultants: dict[str, str] = {}


class Input(_Model):
    """Tables that come in; without nodes and elements the resultants are a bare table of points."""

    resultants: str
    nodes: str | None = None
    elements: str | None = None
    axes: str | None = None
    cases: str | None = None
    units: Units = Units()
    signs: Signs = Signs()
    columns: Columns = Columns()

    @model_validator(mode="after")
    def _mesh_is_whole(self) -> Input:
        if (self.nodes is None) != (self.elements is None):
            raise ValueError("a mesh needs both 'nodes' and 'elements'; give both, or neither for a bare table")
        return self


class Direction(_Model):
    """Direction of the x bars of a zone."""

    along: Literal["vector", "horizontal", "vertical", "radial", "element"] = "vector"
    vector: tuple[Finite, Finite, Finite] = (1.0, 0.0, 0.0)
    centre: tuple[Finite, Finite, Finite] = (0.0, 0.0, 0.0)
    angle: Finite = 0.0


class TopSide(_Model):
    """Where the top face of a zone looks: along a vector or away from a centre."""

    towards: tuple[Finite, Finite, Finite] | None = None
    away_from: tuple[Finite, Finite, Finite] | None = None


class Bars(_Model):
    """Where the bars of a zone lie [mm]."""

    layout: Layout = "both"
    cover_bottom: NotNegative = 30.0
    cover_top: NotNegative = 30.0
    diameter_x: Positive = 12.0
    diameter_y: Positive = 12.0
    outer: Literal["x", "y"] = "x"

    def layers(self) -> BarLayers:
        """The same for the core."""
        return BarLayers(**self.model_dump())


class Faces(_Model):
    """Names of the faces in tables and pictures."""

    bottom: str = "bottom"
    top: str = "top"

    @model_validator(mode="after")
    def _two_names(self) -> Faces:
        if self.bottom == self.top:
            raise ValueError(f"both faces are called '{self.top}'; give each its own name")
        return self


class Zone(_Model):
    """Elements that are designed alike."""

    groups: tuple[str, ...] = ()
    elements: tuple[int | str, ...] = ()
    everything: bool = Field(default=False, alias="all")
    thickness: Positive | None = None
    offset: Finite = 0.0
    f_ck: Finite = 30.0
    f_yk: Finite = 500.0
    method: Literal["sandwich", "plate", "membrane"] = "sandwich"
    minimum: Literal["slab", "wall", "none"] = "none"
    vertical: Literal["x", "y"] = "y"
    points: Literal["nodes", "corners", "centres"] = "nodes"
    direction: Direction = Direction()
    top_side: TopSide = TopSide()
    bars: Bars = Bars()
    faces: Faces = Faces()

    @field_validator("f_ck")
    @classmethod
    def _concrete_exists(cls, value: float) -> float:
        return Concrete(value).f_ck

    @field_validator("f_yk")
    @classmethod
    def _steel_exists(cls, value: float) -> float:
        return Steel(value).f_yk

    @property
    def concrete(self) -> Concrete:
        """Concrete of the zone."""
        return Concrete(self.f_ck)

    @property
    def steel(self) -> Steel:
        """Steel of the zone."""
        return Steel(self.f_yk)


class Combination(_Model):
    """A factored sum of cases for one situation."""

    name: str
    situation: Situation
    factors: dict[str, Finite]

    @field_validator("factors")
    @classmethod
    def _not_empty(cls, value: dict[str, float]) -> dict[str, float]:
        if not value:
            raise ValueError("no case has a factor; write { CASE = factor }")
        return value


class Design(_Model):
    """Standard of the design."""

    standard: Literal["EN 1992-1-1:2004"] = "EN 1992-1-1:2004"
    workers: Annotated[int, Field(ge=0)] = 0


class Output(_Model):
    """Where results go, and whether tables are written as CSV too."""

    folder: str = "results"
    csv: bool = True


class Job(_Model):
    """A whole job; paths are relative to the job file."""

    title: str
    input: Input
    zones: dict[str, Zone]
    combinations: tuple[Combination, ...]
    design: Design = Design()
    output: Output = Output()
    path: Path = Field(default=Path(), exclude=True)

    @model_validator(mode="after")
    def _names(self) -> Job:
        if not self.zones:
            raise ValueError("no zone; write at least one [zones.NAME]")
        names = [c.name for c in self.combinations]
        repeated = sorted({n for n in names if names.count(n) > 1})
        if repeated:
            raise ValueError(f"combinations named twice: {', '.join(repeated)}; give each its own name")
        if not any(c.situation in ULTIMATE for c in self.combinations):
            raise ValueError("no combination of an ultimate situation; persistent, accidental or seismic would do")
        return self

    @property
    def folder(self) -> Path:
        """Folder the paths of the job are relative to."""
        return self.path.parent

    @property
    def results(self) -> Path:
        """Folder of the results."""
        return self.folder / self.output.folder

    @property
    def has_mesh(self) -> bool:
        """Whether the job brings nodes and elements."""
        return self.input.nodes is not None


def load(path: str | Path) -> Job:
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
    try:
        data = tomllib.loads(path.read_text("utf-8"))
    except FileNotFoundError:
        raise InputError([Fault(str(path), "no such file", "give the path of a job file")]) from None
    except IsADirectoryError:
        raise InputError([Fault(str(path), "is a folder", "give the path of a job file")]) from None
    except UnicodeDecodeError as error:
        raise InputError([Fault(str(path), f"is not UTF-8 text ({error.reason})", "save it as UTF-8")]) from None
    except tomllib.TOMLDecodeError as error:
        raise InputError([Fault(str(path), f"is not valid TOML: {error}", "mend that place")]) from None
    return from_dict(data, path)


def from_dict(data: dict[str, Any], path: str | Path) -> Job:
    """Validate a job given as nested dictionaries; `path` is where its relative paths start."""
    try:
        return Job.model_validate({**data, "path": Path(path)})
    except ValidationError as error:
        faults = Faults()
        for e in error.errors():
            _explain(faults, str(path), e)
        raise InputError(faults.found) from None


def _explain(faults: Faults, file: str, e: Any) -> None:
    keys = [str(k) for k in e["loc"]]
    where = f"{file}, key {'.'.join(keys) or '(top)'}"
    if e["type"] == "extra_forbidden":
        near = difflib.get_close_matches(keys[-1], _known(keys[:-1]), 2)
        remedy = f"did you mean {' or '.join(repr(n) for n in near)}?" if near else _one_of(_known(keys[:-1]))
        faults.add(where, "no such key", remedy)
    elif e["type"] == "missing":
        faults.add(where, "is missing", "it has no default: write it")
    elif e["type"] == "value_error":
        message = str(e["ctx"]["error"])
        found, _, remedy = message.rpartition("; ")
        faults.add(where, found or message, remedy if found else "see the message")
    else:
        message = e["msg"][0].lower() + e["msg"][1:]
        faults.add(where, f"found {e['input']!r}", f"{message}")


def _one_of(names: list[str]) -> str:
    return f"one of {', '.join(names)} would do" if names else "remove it"


def _known(keys: list[str]) -> list[str]:
    """Keys that are allowed at a place of the job."""
    model: Any = Job
    for key in keys:
        if not (isinstance(model, type) and issubclass(model, BaseModel)):
            continue
        if key not in model.model_fields:
            continue
        model = model.model_fields[key].annotation
        inner = {"zones": Zone, "combinations": Combination}.get(key)
        model = inner or model
    if isinstance(model, type) and issubclass(model, BaseModel):
        return [f.alias or n for n, f in model.model_fields.items() if n != "path"]
    return []
