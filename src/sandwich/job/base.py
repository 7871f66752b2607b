"""What all models of the job file share."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from sandwich.units import read_value

Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]


def _read(quantity: str, scale: float = 1.0) -> BeforeValidator:
    """Numbers are taken as they are, texts with their unit."""

    def read(value: Any) -> Any:
        return read_value(quantity, value) * scale if isinstance(value, str) else value

    return BeforeValidator(read)


Millimetres = Annotated[float, _read("length"), Field(gt=0, allow_inf_nan=False)]
Millimetres0 = Annotated[float, _read("length"), Field(ge=0, allow_inf_nan=False)]
Offset = Annotated[float, _read("length"), Field(allow_inf_nan=False)]
Metres = Annotated[float, _read("length", 1e-3), Field(gt=0, allow_inf_nan=False)]
Coordinate = Annotated[float, _read("length", 1e-3), Field(allow_inf_nan=False)]
Megapascals = Annotated[float, _read("stress"), Field(allow_inf_nan=False)]
Place = tuple[Coordinate, Coordinate, Coordinate]


class Model(BaseModel):
    """Frozen, and no key that is not known."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)
