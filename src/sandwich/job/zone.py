"""Zones: elements that are designed alike, and where their bars lie and run."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Annotated, Any, Final, Literal

from pydantic import Field, field_validator, model_validator

from sandwich.core.section import Concrete, Steel
from sandwich.job.bars import Additional, Arranged, Bars, ColumnBars, EdgeBars, OwnLimits, Parallel, Rule
from sandwich.job.base import (
    Coordinate,
    Finite,
    Megapascals,
    Metres,
    Millimetres,
    Model,
    NotNegative,
    Offset,
    Place,
    record,
)
from sandwich.job.cover import Exposure, Fire
from sandwich.job.service import ServiceChecks
from sandwich.model import zones


@record
class Direction(Model):
    """Direction of the x bars of a zone."""

    along: zones.Along = "vector"
    vector: Place = (1.0, 0.0, 0.0)
    centre: Place = (0.0, 0.0, 0.0)
    line: tuple[Place, ...] = ()
    angle: Finite = 0.0

    @model_validator(mode="after")
    def _line_has_length(self) -> Direction:
        if self.along == "polyline":
            if len(self.line) < 2:
                raise ValueError("a polyline needs line = [[x, y, z], [x, y, z], ...] in m; give two places or more")
            if any(a == b for a, b in zip(self.line, self.line[1:], strict=False)):
                raise ValueError("two places of the line that follow each other are the same; remove one")
        return self

    def plain(self) -> zones.Direction:
        """The same for the geometry."""
        return zones.Direction(**asdict(self))


@record
class TopSide(Model):
    """Where the top face of a zone looks: along a vector or away from a centre."""

    towards: Place | None = None
    away_from: Place | None = None

    def plain(self) -> zones.TopSide:
        """The same for the geometry."""
        return zones.TopSide(**asdict(self))


@record
class Peaks(Model):
    """Peaks that are averaged over a width [m]: those that are found, or at places of the user's own [m]."""

    width: Metres
    at: Literal["found"] | tuple[Place, ...] = "found"


@record
class ShearLinks(Model):
    """Vertical links where the shear asks for them, and how far bars may be raised before [-]."""

    cot_theta: Annotated[float, Field(ge=1.0, le=2.5)] = 1.0
    raise_bars: Annotated[float, Field(ge=1.0, le=3.0)] = 1.0


@record
class SecondOrder(Model):
    """Imperfection, minimum eccentricity and second order of a wall out of its plane, over an effective length [m]."""

    effective_length: Metres
    creep: NotNegative = 2.0


@record
class Support(Model):
    """A wall or beam under a zone: a line [m] and its width [mm]."""

    line: Annotated[tuple[Place, ...], Field(min_length=2)]
    width: Millimetres

    @model_validator(mode="after")
    def _has_length(self) -> Support:
        if any(a == b for a, b in zip(self.line, self.line[1:], strict=False)):
            raise ValueError("two places of the line that follow each other are the same; remove one")
        return self


@record
class StripEdges(Model):
    """Strips over which bars are averaged: edges across the x bars and across the y bars, from a place [m]."""

    origin: Place = (0.0, 0.0, 0.0)
    x: tuple[Coordinate, ...] = ()
    y: tuple[Coordinate, ...] = ()
    step: Metres = 0.5

    @model_validator(mode="after")
    def _rise(self) -> StripEdges:
        for name, edges in (("x", self.x), ("y", self.y)):
            if edges and (len(edges) < 2 or any(b <= a for a, b in itertools.pairwise(edges))):
                raise ValueError(f"edges across the {name} bars do not rise; give two or more, each above the last")
        if not (self.x or self.y):
            raise ValueError("no edges; give those across the x bars, x = [0, 2, 5], or across the y bars")
        return self


@record
class Faces(Model):
    """Names of the faces in tables and pictures."""

    bottom: str = "bottom"
    top: str = "top"

    @model_validator(mode="after")
    def _two_names(self) -> Faces:
        if self.bottom == self.top:
            raise ValueError(f"both faces are called '{self.top}'; give each its own name")
        return self


OF_ELEMENTS: Final = ("groups", "elements", "all")  # which elements of a mesh are in a zone
OF_SHELLS: Final = (  # what a zone that is read as a wall alone has no use for
    "offset", "method", "minimum", "minimum_gaps", "joint", "uncracked", "compression_bars", "minimum_eccentricity",
    "second_order", "shear_factor", "shear_steel", "vertical", "points", "carry_to_edges", "peaks",
    "averaging_strips", "supports", "links", "rule", "layout", "edges", "column_bars", "limits", "service", "provided",
    "additional", "bars_table", "direction", "top_direction", "top_side", "faces", "unsigned", "bars",
)  # fmt: skip


@record
class Zone(Model):
    """Elements that are designed alike."""

    groups: tuple[str, ...] = ()
    elements: tuple[int | str, ...] = ()
    everything: bool = Field(default=False, alias="all")
    shell: bool = True
    thickness: Millimetres | None = None
    offset: Offset = 0.0
    f_ck: Megapascals = 30.0
    strength: Literal["cylinder", "cube"] = "cylinder"
    f_yk: Megapascals = 500.0
    method: Literal["sandwich", "plate", "membrane"] = "sandwich"
    minimum: Literal["slab", "wall", "none"] = "none"
    minimum_gaps: NotNegative = 4.0
    joint: bool = False
    uncracked: Literal["report", "exempt"] = "report"
    compression_bars: bool = False
    minimum_eccentricity: bool | None = None
    second_order: SecondOrder | None = None
    shear_factor: Annotated[float, Field(ge=1.0, le=5.0)] = 1.0
    shear_steel: Literal["cos2", "cos4"] = "cos2"
    vertical: Literal["x", "y"] = "y"
    points: Literal["nodes", "corners", "centres"] = "nodes"
    carry_to_edges: bool = True
    unsigned: Literal["stop", "bound"] = "stop"
    peaks: Peaks | None = None
    averaging_strips: StripEdges | None = None
    supports: Literal["found"] | tuple[Support, ...] = ()
    links: ShearLinks | None = None
    rule: Rule | None = None
    layout: Arranged | None = None
    edges: EdgeBars | None = None
    column_bars: ColumnBars | None = None
    limits: OwnLimits | None = None
    service: ServiceChecks | None = None
    exposure: Exposure | None = None
    fire: Fire | None = None
    provided: dict[str, Parallel] = Field(default_factory=dict)
    additional: tuple[Additional, ...] = ()
    bars_table: str = ""
    direction: Direction = Direction()
    top_direction: Direction | None = None
    top_side: TopSide = TopSide()
    bars: Bars = Bars()
    faces: Faces = Faces()

    @model_validator(mode="after")
    def _concrete_exists(self) -> Zone:
        Concrete(self.f_ck, self.strength)
        return self

    @model_validator(mode="after")
    def _strips_will_do(self) -> Zone:
        if self.averaging_strips is not None and (
            self.links is not None or self.bars.layers().lines or self.peaks is not None
        ):
            raise ValueError(
                "averaging_strips average bars along x and y of a zone without links and peaks; take one of them out"
            )
        if self.averaging_strips is not None and self.direction.along not in ("vector", "horizontal", "vertical"):
            raise ValueError("averaging_strips need bars of one direction; use direction = { along = 'vector' }")
        return self

    @model_validator(mode="after")
    def _top_direction_will_do(self) -> Zone:
        if self.top_direction is not None and (
            self.averaging_strips is not None or self.top_direction.along == "element"
        ):
            raise ValueError(
                "top bars of their own direction go without averaging_strips and not along elements; take that out"
            )
        return self

    @model_validator(mode="after")
    def _can_be_laid_out(self) -> Zone:
        if self.layout is not None and self.rule is None:
            raise ValueError("layout lays bars of a rule; give rule = {} too, or take layout out")
        if self.layout is not None and self.additional:
            raise ValueError("layout chooses the additional bars; take additional out, or layout")
        if self.layout is not None and (self.averaging_strips is not None or self.top_direction is not None):
            raise ValueError("layout goes without averaging_strips and top_direction; take one of them out")
        return self

    @model_validator(mode="after")
    def _edges_have_bars(self) -> Zone:
        if self.edges is not None and self.rule is None and not (self.provided or self.bars_table):
            raise ValueError("edges follow the base mesh; give rule = {} or provided bars too, or take edges out")
        if self.column_bars is not None and self.rule is None and not (self.provided or self.bars_table):
            raise ValueError("column_bars go by bars; give rule = {} or provided bars too, or take column_bars out")
        return self

    @model_validator(mode="after")
    def _can_bow(self) -> Zone:
        if self.second_order is not None and self.method == "membrane":
            raise ValueError("second_order adds moments, which method = 'membrane' leaves out; take one of them out")
        return self

    @field_validator("f_yk")
    @classmethod
    def _steel_exists(cls, value: float) -> float:
        return Steel(value).f_yk

    def with_diameters(self, diameters: Sequence[float]) -> Zone:
        """The zone with other diameters of its layers [mm], in the order of the tables."""
        b = self.bars
        if b.layers().lines:
            lines = [replace(line, diameter=d) for line, d in zip((*b.bottom, *b.top), diameters, strict=True)]
            update: dict[str, Any] = {"bottom": tuple(lines[: len(b.bottom)]), "top": tuple(lines[len(b.bottom) :])}
        else:
            names = ("diameter_x", "diameter_y", "top_diameter_x", "top_diameter_y")
            if b.layout == "mid-depth":
                diameters = [max(diameters[0::2]), max(diameters[1::2])] * 2
            update = dict(zip(names, diameters, strict=True))
        return replace(self, bars=replace(b, **update))

    def as_laid(self) -> Zone:
        """The zone with the diameters of the bars provided; additional bars count where they are thicker."""
        layers = self.bars.layers()
        diameters = [float(d) for d in layers.diameters]
        for i, name in enumerate(layers.names(self.faces.bottom, self.faces.top)):
            own = [self.provided[name].diameter] if name in self.provided else [diameters[i]]
            diameters[i] = max(own + [e.diameter for e in self.additional if e.layer == name])
        return self.with_diameters(diameters) if diameters != layers.diameters.tolist() else self

    @property
    def concrete(self) -> Concrete:
        """Concrete of the zone."""
        return Concrete(self.f_ck, self.strength)

    @property
    def steel(self) -> Steel:
        """Steel of the zone."""
        return Steel(self.f_yk)
