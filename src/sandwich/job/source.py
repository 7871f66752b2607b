"""Input: tables and how they are written, their columns, units and signs; further result sets."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import BeforeValidator, Field, model_validator

from sandwich.core.resultants import COMPONENTS
from sandwich.job.base import Model, record

MESH_TABLES: Final = ("nodes", "elements", "axes", "properties", "assignments")
RESULT_TABLES: Final = ("cases", "resultants", "reactions", "nodal_forces", "displacements")
TABLES: Final = (*MESH_TABLES, *RESULT_TABLES)


@record
class Units(Model):
    """Units of the tables, by quantity."""

    length: str = "m"
    thickness: str = "m"
    membrane: str = "kN/m"
    moment: str = "kN*m/m"
    shear: str = "kN/m"
    force: str = "kN"
    couple: str = "kN*m"


@record
class OwnUnits(Model):
    """Units of one table where they differ from those of `input.units`."""

    length: str | None = None
    thickness: str | None = None
    membrane: str | None = None
    moment: str | None = None
    shear: str | None = None
    force: str | None = None
    couple: str | None = None


@record
class Signs(Model):
    """How the source counts: face that a positive moment pulls, components to negate, reactions, nodal forces."""

    positive_moment_tension: Literal["bottom", "top"] = "bottom"
    negate: tuple[Literal["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"], ...] = ()
    reactions_act_on: Literal["structure", "supports"] = "structure"
    nodal_forces_act_on: Literal["elements", "nodes"] = "elements"


@record
class Table(Model):
    """A table and how it is written; what is left out is found out and reported."""

    file: str | tuple[str, ...]
    sheets: tuple[str, ...] = ()
    separator: Annotated[str, Field(pattern=r"^[ -~\t]$")] | None = None
    decimal: Literal[".", ","] | None = None
    thousands: Literal[".", ",", " ", "'"] | None = None
    encoding: str | None = None
    header_row: Annotated[int, Field(ge=1)] | None = None
    units_row: Literal["check", "ignore"] = "check"
    repeated: Literal["refuse", "same"] = "refuse"
    columns: dict[str, str] = Field(default_factory=dict)
    fixed: dict[str, str] = Field(default_factory=dict)
    case_from: Literal["column", "sheet", "file"] = "column"
    at: Literal["corners", "nodes", "centres"] = "corners"
    units: OwnUnits = OwnUnits()

    @property
    def files(self) -> tuple[str, ...]:
        """All its files."""
        return (self.file,) if isinstance(self.file, str) else self.file


def _shorthand(value: Any) -> Any:
    return {"file": value} if isinstance(value, str) else value


ATable = Annotated[Table, BeforeValidator(_shorthand)]


@record
class MeshFile(Model):
    """An open mesh file: names of its arrays by what they hold."""

    file: str
    arrays: str = "{case}:{component}"
    components: dict[str, str] = Field(default_factory=dict)
    node: str = "node_id"
    element: str = "element_id"
    thickness: str = "thickness"
    group: str = "group"
    local_x: str = "local_x"
    local_z: str = "local_z"

    @model_validator(mode="after")
    def _pattern(self) -> MeshFile:
        if self.arrays.count("{case}") > 1 or self.arrays.count("{component}") != 1:
            raise ValueError(f"arrays = '{self.arrays}'; use a pattern like '{{case}}:{{component}}'")
        lost = sorted(set(self.components) - set(COMPONENTS))
        if lost:
            raise ValueError(f"no component '{lost[0]}'; use one of {', '.join(COMPONENTS)}")
        return self


@record
class Input(Model):
    """Tables that are read; without nodes and elements the resultants are a bare table of points."""

    mesh: Annotated[MeshFile, BeforeValidator(_shorthand)] | None = None
    nodes: ATable | None = None
    elements: ATable | None = None
    axes: ATable | None = None
    properties: ATable | None = None
    assignments: ATable | None = None
    cases: ATable | None = None
    resultants: ATable | None = None
    reactions: ATable | None = None
    nodal_forces: ATable | None = None
    displacements: ATable | None = None
    case_names: dict[str, str] = Field(default_factory=dict)
    missing: Literal["stop", "leave out"] = "stop"
    units: Units = Units()
    signs: Signs = Signs()

    @model_validator(mode="after")
    def _whole(self) -> Input:
        if self.mesh is None and (self.nodes is None) != (self.elements is None):
            raise ValueError("a mesh needs both 'nodes' and 'elements'; give both, or neither for a bare table")
        return self


@record
class ResultSet(Model):
    """Another analysis of the same mesh: its results and cases, with units and signs of their own."""

    resultants: ATable
    cases: ATable | None = None
    case_names: dict[str, str] = Field(default_factory=dict)
    units: OwnUnits = OwnUnits()
    signs: Signs | None = None
