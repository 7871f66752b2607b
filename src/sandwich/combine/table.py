"""Combinations as a table: a row of factors over the columns of the store for each."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Final, NamedTuple

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.resultants import COMPONENTS
from sandwich.core.situations import ULTIMATE

LISTED: Final = "listed in the job"
GIVEN: Final = "combined in the analysis"


class Column(NamedTuple):
    """What one column of the store holds: a case, or one component of a case without signs."""

    case: str
    component: str = ""

    @property
    def label(self) -> str:
        """Name in the store."""
        return f"{self.case} |{self.component}|" if self.component else self.case


@dataclass(frozen=True)
class Row:
    """One combination: factors by case, where it comes from, whether it is designed, signs of its unsigned cases."""

    name: str
    situation: str
    factors: dict[str, float]
    clause: str = LISTED
    designed: bool = True
    signs: dict[str, int] = field(default_factory=dict)
    base: str = ""

    @property
    def ruled(self) -> bool:
        """Whether a rule made it."""
        return self.clause not in (LISTED, GIVEN)

    @property
    def expression(self) -> str:
        """Readable sum."""
        terms = [f"{'-' if f < 0 else '+'} {abs(f):g} {c}" for c, f in self.factors.items() if f]
        text = " ".join(terms).removeprefix("+ ")
        pattern = " ".join(f"{'+' if s > 0 else '-'}{c}" for c, s in self.signs.items())
        return f"{text}; signs {pattern}" if pattern else text


@dataclass(frozen=True)
class Combinations:
    """Rows over named columns, and their factors, shape (k, c)."""

    rows: tuple[Row, ...]
    columns: tuple[Column, ...]

    @property
    def names(self) -> list[str]:
        """Names of the rows."""
        return [r.name for r in self.rows]

    @property
    def situations(self) -> list[str]:
        """Situations of the rows."""
        return [r.situation for r in self.rows]

    @property
    def factors(self) -> NDArray[np.float64]:
        """Factor of each row on each column, shape (k, c); an unsigned component takes its sign."""
        out = np.zeros((len(self.rows), len(self.columns)))
        for k, row in enumerate(self.rows):
            for c, column in enumerate(self.columns):
                factor = row.factors.get(column.case, 0.0)
                out[k, c] = abs(factor) * row.signs.get(column.component, 0) if column.component else factor
        return out

    def ultimate(self) -> Combinations:
        """Those that are designed in an ultimate situation."""
        return replace(self, rows=tuple(r for r in self.rows if r.designed and r.situation in ULTIMATE))

    def service(self) -> Combinations:
        """Those of a service situation that are not switched off."""
        return replace(self, rows=tuple(r for r in self.rows if r.designed and r.situation not in ULTIMATE))

    def row(self, name: str) -> Row:
        """The row of a name."""
        return next(r for r in self.rows if r.name == name)

    def frame(self) -> pd.DataFrame:
        """Table people read; rows that differ in signs alone are one line with their number."""
        bases: dict[str, list[Row]] = {}
        for r in self.rows:
            bases.setdefault(r.base or r.name, []).append(r)
        lines = [
            (name, of[0].situation, of[0].clause, replace(of[0], signs={}).expression, len(of), of[0].designed)
            for name, of in bases.items()
        ]
        headings = ["combination", "situation", "clause", "expression", "sign patterns", "designed"]
        return pd.DataFrame(lines, columns=headings)


def unsigned_columns(cases: dict[str, bool]) -> tuple[Column, ...]:
    """Columns of the store for cases by whether they have signs: one, or one a component."""
    out: list[Column] = []
    for case, signed in cases.items():
        out += [Column(case)] if signed else [Column(case, c) for c in COMPONENTS]
    return tuple(out)
