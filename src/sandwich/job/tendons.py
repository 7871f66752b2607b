"""Tendons of a zone: their places along, ducts, and what is checked along them."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from sandwich.job.base import Megapascals, Millimetres, Millimetres0, Model, record
from sandwich.job.source import ATable
from sandwich.standards.interface import ServiceSituation


@record
class Tendons(Model):
    """Tendons of one kind in one zone; their prestress is a case of the analysis."""

    zone: str
    table: ATable
    duct: Millimetres
    decompression: ServiceSituation = "quasi-permanent"
    within: Millimetres0 = 25.0
    E_p: Annotated[Megapascals, Field(gt=0)] = 195_000.0
    stress_from: ServiceSituation = "quasi-permanent"
    stress_to: ServiceSituation = "characteristic"
    range_of: ServiceSituation | None = None
    sigma_p: Annotated[Megapascals, Field(gt=0)] | None = None
    f_pk: Annotated[Megapascals, Field(gt=0)] | None = None
    range_allowed: Annotated[Megapascals, Field(gt=0)] | None = None

    @model_validator(mode="after")
    def _stress_has_a_limit(self) -> Tendons:
        if (self.sigma_p is None) != (self.f_pk is None):
            raise ValueError("sigma_p and f_pk go together: the stress after losses and the strength; give both")
        if self.range_allowed is not None and self.range_of is None:
            raise ValueError("range_allowed limits the range of a situation; name it in range_of")
        return self
