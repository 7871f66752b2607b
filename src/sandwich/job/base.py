"""What all records of the job file share: frozen dataclasses that are validated where they are made."""

from __future__ import annotations

import functools
from typing import Annotated, Any, Final, TypeVar, dataclass_transform

from pydantic import AfterValidator, BeforeValidator, ConfigDict, Field, model_validator
from pydantic.dataclasses import dataclass

from sandwich.core.units import read_value

T = TypeVar("T")
_MOST: Final = 1e15
_STRICT: Final = ConfigDict(extra="forbid", populate_by_name=True, defer_build=True)


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


@dataclass_transform(kw_only_default=True, frozen_default=True, field_specifiers=(Field,))
def record(of: type[T]) -> type[T]:
    """A frozen dataclass of a part of the job file, which refuses keys it does not know."""
    made: type[T] = dataclass(frozen=True, kw_only=True, config=_STRICT)(of)  # type: ignore[assignment]
    return made


@record
class Model:
    """Refuses true and false where they say nothing."""

    @model_validator(mode="before")
    @classmethod
    def _truth_where_it_is_asked(cls, data: Any) -> Any:
        """Refuse true and false for numbers that have no type of this module, and other words for them."""
        given = data if isinstance(data, dict) else getattr(data, "kwargs", None) or {}
        for name, alias, truth in _fields(cls):  # type: ignore[arg-type]  # a dataclass, frozen, has a hash
            value = given.get(name, given.get(alias))
            if isinstance(value, bool) and not truth:
                raise ValueError(f"'{alias}' is {str(value).lower()}; another kind of value is wanted")
            if truth and value is not None and not isinstance(value, bool):
                raise ValueError(f"'{alias}' is {value!r}; true or false is wanted")
        return data


@functools.cache
def _fields(of: Any) -> tuple[tuple[str, str, bool], ...]:
    """Name, alias and whether it is true or false, of each field."""
    return tuple((name, f.alias or name, "bool" in str(f.annotation)) for name, f in fields_of(of).items())


def fields_of(of: Any) -> dict[str, Any]:
    """Fields of a record as the validator knows them; none of anything else."""
    return dict(getattr(of, "__pydantic_fields__", {}))
