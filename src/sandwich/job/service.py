"""Service state of a zone: widths allowed, creep, water, minimum steel against cracking."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.job.base import Coordinate, Millimetres, Model, NotNegative
from sandwich.standards.interface import ServiceSituation


class FaceWidths(Model):
    """Crack widths allowed at the two faces [mm]."""

    bottom: Millimetres
    top: Millimetres


class Water(Model):
    """Water that the zone holds back: level of its surface, global z [m]; tightness class 1 of EN 1992-3."""

    level: Coordinate


class ServiceChecks(Model):
    """What the service state of a zone is checked for."""

    widths: dict[ServiceSituation, Millimetres | FaceWidths] = {}
    creep: NotNegative = 2.0
    ages: Annotated[tuple[Literal["short", "long"], ...], Field(min_length=1)] = ("short", "long")
    quick: bool = True
    least: Literal["none", "bending", "tension", "restraint"] = "none"
    strength_then: Annotated[float, Field(gt=0.0, le=1.0)] = 1.0
    uncracked: Literal["informs", "saves"] = "informs"
    imposed_deformation: bool = False
    adds: bool = False
    water: Water | None = None

    @model_validator(mode="after")
    def _ages_differ(self) -> ServiceChecks:
        if len(set(self.ages)) != len(self.ages):
            raise ValueError("an age stands twice; name each once")
        return self
