"""Service state of a zone: widths allowed, creep, water, minimum steel against cracking."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.job.base import Coordinate, Megapascals, Millimetres, Model, NotNegative, record
from sandwich.standards.interface import ServiceSituation


@record
class BarWidths(Model):
    """Crack widths allowed across the x bars and across the y bars of a zone [mm]."""

    x: Millimetres
    y: Millimetres


@record
class FaceWidths(Model):
    """Crack widths allowed at the two faces [mm]."""

    bottom: Millimetres | BarWidths
    top: Millimetres | BarWidths


@record
class Water(Model):
    """Water that the zone holds back: level of its surface, global z [m]; tightness class 1 of EN 1992-3."""

    level: Coordinate


@record
class ServiceChecks(Model):
    """What the service state of a zone is checked for."""

    widths: dict[ServiceSituation, Millimetres | BarWidths | FaceWidths] = Field(default_factory=dict)
    creep: NotNegative = 2.0
    load_durations: Annotated[tuple[Literal["short", "long"], ...], Field(min_length=1)] = ("short", "long")
    simplified: bool = True
    minimum_reinforcement: Literal["none", "bending", "tension", "restraint"] = "none"
    fct_eff_ratio: Annotated[float, Field(gt=0.0, le=1.0)] = 1.0
    uncracked: Literal["report", "exempt"] = "report"
    imposed_deformation: bool = False
    add_reinforcement: bool = False
    concrete_stress: Megapascals | None = None
    steel_stress: Megapascals | None = None
    water: Water | None = None

    @model_validator(mode="after")
    def _durations_differ(self) -> ServiceChecks:
        if len(set(self.load_durations)) != len(self.load_durations):
            raise ValueError("a duration stands twice; name each once")
        return self
