"""Strips: a line with a width over which resultants are integrated."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.job.base import Finite, Metres, Model, Place, record


@record
class Strip(Model):
    """A line on a zone and the width across it [m]; loads along the top normal [kN/m2] by case, where known.

    `block` is the stress block whose steel stands beside the moments, for a comparison by hand.
    """

    zone: str
    start: Place
    end: Place
    width: Metres
    stations: Annotated[int, Field(ge=2, le=1001)] = 41
    combinations: tuple[str, ...] = ("*",)
    load: dict[str, Finite] = Field(default_factory=dict)
    block: Literal["EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000"] = "EN 1992-1-1:2004"

    @model_validator(mode="after")
    def _has_length(self) -> Strip:
        if self.start == self.end:
            raise ValueError("start and end are one place; give two")
        return self
