"""Cases by kind, the actions they belong to, rules that combine them, and listed combinations."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from sandwich.job.base import Finite, Model, NotNegative, record
from sandwich.standards.interface import Situation

Kind = Literal[
    "permanent", "imposed", "roof", "wind", "snow", "rain", "earth", "water", "temperature", "settlement",
    "prestress", "stage", "seismic", "accidental", "mode", "combined", "unused",
]  # fmt: skip
Arrangement = Literal["together", "exclusive", "patterns"]


@record
class Case(Model):
    """What a case is; what is left out comes from the table of cases."""

    kind: Kind | None = None
    category: str | None = None
    action: str | None = None
    direction: Literal["x", "y", "z"] | None = None
    stage: Annotated[int, Field(ge=1)] | None = None
    situation: Situation | None = None
    signed: bool | None = None
    description: str | None = None
    signs_from: str | None = None


@record
class Action(Model):
    """How the cases of one action act: together, one at a time, or in any pattern."""

    arrangement: Arrangement | None = None
    both_ways: bool | None = None
    may_be_absent: bool | None = None


@record
class Rules(Model):
    """Rules that make combinations from the kinds of the cases."""

    code: Literal["EN 1990:2002", "ASCE 7-16", "ASCE 7-22", "IS 456:2000"]
    parameters: str = "recommended"
    ultimate: Literal["6.10", "6.10a/b"] = "6.10"
    situations: tuple[Situation, ...] = ()
    accidental_lead: Literal["frequent", "quasi-permanent"] = "frequent"
    snow_altitude: Literal["up to 1000 m", "above 1000 m"] = "up to 1000 m"
    orthogonal: NotNegative = 0.3
    live_companion: Annotated[float, Field(ge=0.5, le=1.0)] = 1.0
    S_DS: NotNegative | None = None
    rho: Annotated[float, Field(ge=1.0, le=1.3)] = 1.0
    Omega_0: Annotated[float, Field(ge=1.0)] | None = None
    sets: tuple[str, ...] = ("",)
    excluded: tuple[str, ...] = ()
    max_combinations: Annotated[int, Field(ge=1)] = 2000


@record
class Combination(Model):
    """A factored sum of cases for one situation."""

    name: str
    situation: Situation
    factors: dict[str, Finite]
    result_set: str = Field(default="", alias="set")
    designed: bool = True

    @field_validator("factors")
    @classmethod
    def _not_empty(cls, value: dict[str, float]) -> dict[str, float]:
        if not value:
            raise ValueError("no case has a factor; write { CASE = factor }")
        return value

    @model_validator(mode="after")
    def _acts(self) -> Combination:
        if not any(self.factors.values()):
            raise ValueError(f"all factors of '{self.name}' are zero; give one that is not")
        return self
