"""Service state of a zone: widths allowed, creep, water, minimum steel against cracking."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag, model_validator

from sandwich.job.base import Coordinate, Megapascals, Millimetres, Model, NotNegative, record
from sandwich.standards.interface import ServiceSituation


@record
class BarWidths(Model):
    """Crack widths allowed across the x bars and across the y bars of a zone [mm]."""

    x: Millimetres
    y: Millimetres


def _of_face(value: Any) -> str:
    """Which way of writing a width is meant, so that its faults are told in the words of that one alone."""
    return "bars" if isinstance(value, dict | Model) else "width"


def _kind(value: Any) -> str:
    given = value if isinstance(value, dict) else vars(value) if isinstance(value, Model) else {}
    return "faces" if {"bottom", "top"} & set(given) else _of_face(value)


_Width = Annotated[Millimetres, Tag("width")] | Annotated[BarWidths, Tag("bars")]


@record
class FaceWidths(Model):
    """Crack widths allowed at the two faces [mm]."""

    bottom: Annotated[_Width, Discriminator(_of_face)]
    top: Annotated[_Width, Discriminator(_of_face)]


@record
class Water(Model):
    """Water that the zone holds back: level of its surface, global z [m]; tightness class 1 of EN 1992-3."""

    level: Coordinate


@record
class ServiceChecks(Model):
    """What the service state of a zone is checked for."""

    widths: dict[ServiceSituation, Annotated[_Width | Annotated[FaceWidths, Tag("faces")], Discriminator(_kind)]] = (
        Field(default_factory=dict)
    )
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
