"""What all models of the job file share."""

from __future__ import annotations

import functools
from typing import Annotated, Any, Final

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from sandwich.core.units import read_value

_MOST: Final = 1e15


def _no_truth(value: Any) -> Any:
    """Refuse true and false, which Python counts as 1 and 0."""
    if isinstance(value, bool):
        raise ValueError(f"{str(value).lower()} is no number; a number is wanted")  # noqa: TRY004  # pydantic's own kind
    return value


def _of_this_world(value: float) -> float:
    """Refuse sizes whose powers no computer holds."""
    if abs(value) > _MOST:
        raise ValueError(f"found {value:g}; give a number up to {_MOST:g}")
    return value


Number = BeforeValidator(_no_truth)
Sane = AfterValidator(_of_this_world)
Positive = Annotated[float, Number, Field(gt=0, allow_inf_nan=False), Sane]
NotNegative = Annotated[float, Number, Field(ge=0, allow_inf_nan=False), Sane]
Finite = Annotated[float, Number, Field(allow_inf_nan=False), Sane]


def _read(quantity: str, scale: float = 1.0) -> BeforeValidator:
    """Numbers are taken as they are, texts with their unit."""

    def read(value: Any) -> Any:
        return read_value(quantity, value) * scale if isinstance(value, str) else _no_truth(value)

    return BeforeValidator(read)


Millimetres = Annotated[float, _read("length"), Field(gt=0, allow_inf_nan=False), Sane]
Millimetres0 = Annotated[float, _read("length"), Field(ge=0, allow_inf_nan=False), Sane]
Offset = Annotated[float, _read("length"), Field(allow_inf_nan=False), Sane]
Metres = Annotated[float, _read("length", 1e-3), Field(gt=0, allow_inf_nan=False), Sane]
Coordinate = Annotated[float, _read("length", 1e-3), Field(allow_inf_nan=False), Sane]
Megapascals = Annotated[float, _read("stress"), Field(allow_inf_nan=False), Sane]
Place = tuple[Coordinate, Coordinate, Coordinate]


class Model(BaseModel):
    """Frozen, and no key that is not known."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)

    @model_validator(mode="before")
    @classmethod
    def _truth_where_it_is_asked(cls, data: Any) -> Any:
        """Refuse true and false for numbers that have no type of this module, and other words for them."""
        if isinstance(data, dict):
            for name, alias, truth in _fields(cls):
                value = data.get(name, data.get(alias))
                if isinstance(value, bool) and not truth:
                    raise ValueError(f"'{alias}' is {str(value).lower()}; another kind of value is wanted")
                if truth and value is not None and not isinstance(value, bool):
                    raise ValueError(f"'{alias}' is {value!r}; true or false is wanted")
        return data


@functools.cache
def _fields(model: type[Model]) -> tuple[tuple[str, str, bool], ...]:
    """Name, alias and whether it is true or false, of each field."""
    found = model.model_fields.items()
    return tuple((name, of.alias or name, "bool" in str(of.annotation)) for name, of in found)
