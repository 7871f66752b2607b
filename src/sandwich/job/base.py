"""What all models of the job file share."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Place = tuple[Finite, Finite, Finite]


class Model(BaseModel):
    """Frozen, and no key that is not known."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)
