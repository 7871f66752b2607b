"""Units of what is shown: SI, or US customary units where a job asks for them. Inside and in Parquet all stays SI."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Protocol

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.numbers import digits

_US: Final = {  # SI unit: US unit, how many of it one SI unit is
    "mm2/m2": ("in2/ft2", 25.4**-2 * 304.8**2 * 1e-6),
    "mm2/m": ("in2/ft", 25.4**-2 * 0.3048),
    "mm2": ("in2", 25.4**-2),
    "m2": ("ft2", 0.3048**-2),
    "m3": ("ft3", 0.3048**-3),
    "kNm/m": ("kip ft/ft", 1.0 / 4.4482216152605),
    "kN/m2": ("psf", 1000.0 / (4.4482216152605 / 0.3048**2)),
    "kN/m": ("kip/ft", 0.3048 / 4.4482216152605),
    "kNm": ("kip ft", 1.0 / (4.4482216152605 * 0.3048)),
    "kN": ("kip", 1.0 / 4.4482216152605),
    "kg/m2": ("lb/ft2", 0.3048**2 / 0.45359237),
    "kg/m3": ("lb/ft3", 0.3048**3 / 0.45359237),
    "kg": ("lb", 1.0 / 0.45359237),
    "MPa": ("psi", 1e6 * 0.0254**2 / 4.4482216152605),
    "mm": ("in", 1.0 / 25.4),
    "m": ("ft", 1.0 / 0.3048),
}
_HEADING: Final = re.compile(rf"\[({'|'.join(map(re.escape, _US))})([,\]])")


_EVEN: Final = 1e-6  # mm by which a length may miss a whole number of them
BY_ROW: Final = ("demand", "capacity", "raw", "averaged")  # columns in the unit of their row


class Sized(Protocol):
    """What can say itself in the units shown."""

    def in_units(self, shown: Shown) -> str:
        """Its text."""


@dataclass(frozen=True)
class Measure:
    """A value with its SI unit, written with a format of its own."""

    value: float
    unit: str
    form: str = ".4g"

    def __str__(self) -> str:
        return f"{self.value:{self.form}} {self.unit}"

    def in_units(self, shown: Shown) -> str:
        """The value in the unit shown."""
        if shown.system == "SI" or self.unit not in _US:
            return str(self)
        return f"{digits(self.value * shown.factor(self.unit))} {shown.unit(self.unit)}"


@dataclass(frozen=True)
class Sentence:
    """A text in SI units that keeps the measures in it apart, so that it can be shown in others.

    Examples
    --------
    >>> thick = Sentence("{} of thickness, or f_ck {}", Measure(254.0, "mm", "g"), Measure(30.0, "MPa", "g"))
    >>> print(thick, "|", Shown("US").text(thick))
    254 mm of thickness, or f_ck 30 MPa | 10 in of thickness, or f_ck 4351 psi
    """

    form: str
    of: tuple[Sized | str, ...]

    def __init__(self, form: str, *of: Sized | str) -> None:
        object.__setattr__(self, "form", form)
        object.__setattr__(self, "of", of)

    @classmethod
    def minimum(cls, form: str, length: float) -> Sentence:
        """A text with a minimum, in millimetres rounded up."""
        return cls(form, Measure(float(np.ceil(length - _EVEN)), "mm", ".0f"))

    @classmethod
    def maximum(cls, form: str, length: float) -> Sentence:
        """A text with a maximum, in millimetres rounded down.

        Examples
        --------
        >>> print(Sentence.maximum("ties at {}", 200.0 / 3.0), "|", Sentence.minimum("{} of thickness", 200.2))
        ties at 66 mm | 201 mm of thickness
        """
        return cls(form, Measure(float(np.floor(length + _EVEN)), "mm", ".0f"))

    @classmethod
    def joined(cls, between: str, parts: Sequence[Sized | str]) -> Sentence:
        """Several with a text between them."""
        return cls(between.join(["{}"] * len(parts)), *parts)

    def in_units(self, shown: Shown) -> str:
        """The text in the units shown."""
        return self.form.format(*map(shown.text, self.of)) if self.of else self.form

    def __str__(self) -> str:
        return self.in_units(SI)


Words = Sentence | str


@dataclass(frozen=True)
class Shown:
    """What is shown in units of a system, 'SI' or 'US'."""

    system: str = "SI"

    def unit(self, unit: str) -> str:
        """Name of the unit that stands for an SI unit."""
        return _US[unit][0] if self.system == "US" and unit in _US else unit

    def factor(self, unit: str) -> float:
        """How many shown units one SI unit is."""
        return _US[unit][1] if self.system == "US" and unit in _US else 1.0

    def heading(self, text: str) -> str:
        """A heading with its unit in brackets.

        Examples
        --------
        >>> Shown("US").heading("required [mm2/m]"), Shown().heading("required [mm2/m]")
        ('required [in2/ft]', 'required [mm2/m]')
        """
        return _HEADING.sub(lambda m: f"[{self.unit(m[1])}{m[2]}", text)

    def text(self, of: Sized | str) -> str:
        """A measure, a sentence or bars in the units shown."""
        return of if isinstance(of, str) else of.in_units(self)

    def values(self, values: NDArray[np.float64], unit: str) -> NDArray[np.float64]:
        """Values of an SI unit."""
        return values * self.factor(unit)

    def frame(self, frame: pd.DataFrame) -> pd.DataFrame:
        """A table: columns by the unit of their heading, rows by their column 'unit', sentences by their measures."""
        columns: dict[str, object] = {}
        code, units = pd.factorize(frame["unit"]) if "unit" in frame else (np.empty(0, dtype=np.int64), ())
        by_row = np.append([self.factor(str(u)) for u in units], 1.0)[code] if "unit" in frame else None
        for name in map(str, frame.columns):
            values = frame[name]
            found = _HEADING.search(name)
            number = pd.api.types.is_numeric_dtype(values) and not pd.api.types.is_bool_dtype(values)
            if number and found is not None:
                values = values * self.factor(found[1])
            elif number and by_row is not None and name in BY_ROW:
                values = values * by_row
            elif name == "unit":
                names = np.array([*(self.unit(str(u)) for u in units), ""], dtype=object)
                values = pd.Series(names, dtype=values.dtype).take(code).set_axis(frame.index)
            elif values.dtype == object:
                values = values.map(lambda v: v.in_units(self) if hasattr(v, "in_units") else v)
            columns[self.heading(name)] = values
        return pd.DataFrame(columns, index=frame.index)


SI: Final = Shown()
