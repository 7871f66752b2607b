"""Combinations listed in a job: a row of factors over the cases for each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.errors import Faults
from sandwich.job import Job
from sandwich.job.actions import Case
from sandwich.standards.interface import ULTIMATE


@dataclass(frozen=True)
class Combinations:
    """Names, situations and factors, shape (k, c), of combinations over named cases."""

    names: list[str]
    situations: list[str]
    cases: tuple[str, ...]
    factors: NDArray[np.float64]

    def ultimate(self) -> Combinations:
        """Those of an ultimate situation."""
        return self._pick([s in ULTIMATE for s in self.situations])

    def service(self) -> Combinations:
        """Those of a service situation."""
        return self._pick([s not in ULTIMATE for s in self.situations])

    def _pick(self, keep: list[bool]) -> Combinations:
        at = np.flatnonzero(keep)
        return Combinations([self.names[i] for i in at], [self.situations[i] for i in at], self.cases, self.factors[at])

    def expression(self, name: str) -> str:
        """Readable sum of one combination."""
        row = self.factors[self.names.index(name)]
        terms = [(f, c) for f, c in zip(row, self.cases, strict=True) if f]
        text = " ".join(f"{'-' if f < 0 else '+'} {abs(f):g} {c}" for f, c in terms)
        return text.removeprefix("+ ")

    def frame(self) -> pd.DataFrame:
        """Table people read: name, situation, expression."""
        rows = [(n, s, self.expression(n)) for n, s in zip(self.names, self.situations, strict=True)]
        return pd.DataFrame(rows, columns=["combination", "situation", "expression"])


def combinations_of(job: Job, kinds: dict[str, Case], faults: Faults) -> Combinations:
    """The combinations of a job as factors over the cases that came in.

    Notes a combination that names no case, draws unsigned results or adds to a combined case, and that none is
    ultimate.
    """
    cases = tuple(kinds)
    factors = np.zeros((len(job.combinations), len(cases)))
    for k, c in enumerate(job.combinations):
        where = f"{job.path}, combinations[{k}] '{c.name}'"
        for name, factor in c.factors.items():
            case = f"{c.result_set}/{name}" if c.result_set and "/" not in name else name
            if case not in kinds:
                own = [n for n in cases if n.startswith(f"{c.result_set}/")] if c.result_set else cases
                faults.add(where, f"names case '{case}', which has no results", f"there are {', '.join(own)}")
                continue
            factors[k, cases.index(case)] = factor
            if kinds[case].signed is False:
                faults.add(where, f"case '{case}' has no signs", "bring modal or signed results of it")
            if kinds[case].kind == "combined" and (len(c.factors) > 1 or factor != 1.0):
                found = f"adds to or scales '{case}', which is combined already"
                faults.add(where, found, f"{{ {name} = 1.0 }} alone would do")
    listed = Combinations([c.name for c in job.combinations], [c.situation for c in job.combinations], cases, factors)
    if not listed.ultimate().names:
        found = "no combination of an ultimate situation"
        faults.add(str(job.path), found, "list one that is persistent, accidental or seismic")
    return listed
