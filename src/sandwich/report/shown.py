"""Units of what is shown: SI, or US customary units where a job asks for them. Inside and in Parquet all stays SI."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.report.numbers import digits

if TYPE_CHECKING:
    from sandwich.result import RunResult
    from sandwich.serviceability import ServiceState

_US: Final = {  # SI unit: US unit, how many of it one SI unit is
    "mm2/m2": ("in2/ft2", 25.4**-2 * 304.8**2 * 1e-6),
    "mm2/m": ("in2/ft", 25.4**-2 * 0.3048),
    "mm2": ("in2", 25.4**-2),
    "kNm/m": ("kip ft/ft", 1.0 / 4.4482216152605),
    "kN/m2": ("psf", 1000.0 / (4.4482216152605 / 0.3048**2)),
    "kN/m": ("kip/ft", 0.3048 / 4.4482216152605),
    "kNm": ("kip ft", 1.0 / (4.4482216152605 * 0.3048)),
    "kN": ("kip", 1.0 / 4.4482216152605),
    "kg/m2": ("lb/ft2", 0.3048**2 / 0.45359237),
    "MPa": ("psi", 1e6 * 0.0254**2 / 4.4482216152605),
    "mm": ("in", 1.0 / 25.4),
    "m": ("ft", 1.0 / 0.3048),
}
_NUMBER: Final = re.compile(rf"(?<![\w.])(-?\d+(?:\.\d+)?(?:e-?\d+)?) ({'|'.join(map(re.escape, _US))})(?![\w/])")
_HEADING: Final = re.compile(rf"\[({'|'.join(map(re.escape, _US))})([,\]])")


def _scaled(text: str, by: float) -> str:
    """Numbers of a text such as '14/125' times a factor."""
    return re.sub(r"\d+(\.\d+)?", lambda m: f"{float(m[0]) * by:.3g}", text)


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

    def text(self, text: str) -> str:
        """A sentence with its numbers in the units shown.

        Examples
        --------
        >>> Shown("US").text("254 mm of thickness, or f_ck 30 MPa")
        '10 in of thickness, or f_ck 4351 psi'
        """
        if self.system == "SI":
            return text
        return _NUMBER.sub(lambda m: f"{digits(float(m[1]) * self.factor(m[2]))} {self.unit(m[2])}", text)

    def values(self, values: NDArray[np.float64], unit: str) -> NDArray[np.float64]:
        """Values of an SI unit."""
        return values * self.factor(unit)

    def frame(self, frame: pd.DataFrame, *, rename: bool = True) -> pd.DataFrame:
        """A table: columns by the unit of their heading, rows by their column 'unit', sentences by their numbers.

        Without `rename` the columns keep their names, for tables whose columns are picked by name.
        """
        if self.system == "SI":
            return frame
        if frame.empty:
            return frame.rename(columns=self.heading) if rename else frame
        columns: dict[str, object] = {}
        named = self.heading if rename else str
        by_row = np.array([self.factor(str(u)) for u in frame["unit"]]) if "unit" in frame else None
        for name in map(str, frame.columns):
            values = frame[name]
            found = _HEADING.search(name)
            number = pd.api.types.is_numeric_dtype(values) and not pd.api.types.is_bool_dtype(values)
            if number and found is not None:
                columns[named(name)] = values * self.factor(found[1])
            elif number and by_row is not None and name != "utilisation":
                columns[name] = values * by_row
            elif name == "unit":
                columns[name] = [self.unit(str(u)) for u in values]
            elif found is not None:  # such as diameter and spacing
                columns[named(name)] = [_scaled(str(v), self.factor(found[1])) for v in values]
            elif number:
                columns[name] = values
            else:
                columns[name] = [self.text(v) if isinstance(v, str) else v for v in values]
        return pd.DataFrame(columns, index=frame.index)

    def result(self, result: RunResult) -> RunResult:
        """A run with its tables in the units shown, columns still named by SI units."""
        if self.system == "SI":
            return result
        names = (
            "points", "steel", "checks", "extremes", "links", "punching", "punching_rows", "compression", "failures",
            "exceeded",
        )  # fmt: skip
        there: dict[str, Any] = {n: f for n in names if (f := getattr(result, n)) is not None}
        there |= {n: self.frame(f, rename=False) for n, f in there.items()}
        meshes = tuple(
            replace(m, bars=self.frame(m.bars, rename=False), points=self.frame(m.points, rename=False))
            for m in result.meshes
        )
        service = self.service(result.service)
        prestress = result.prestress
        if prestress is not None:
            prestress = replace(prestress, tendons=self.frame(prestress.tendons, rename=False))
        return replace(result, **there, meshes=meshes, service=service, prestress=prestress)

    def service(self, service: ServiceState | None) -> ServiceState | None:
        """A service state with its tables in the units shown, columns still named by SI units."""
        if service is None or self.system == "SI":
            return service
        names = ("cracks", "checks", "steel", "remedies")
        frames: dict[str, Any] = {
            n: self.frame(f, rename=False) for n in names if (f := getattr(service, n)) is not None
        }
        return replace(service, **frames)
