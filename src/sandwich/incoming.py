"""What came in, made ready for design: results, combinations, zones. Every command starts here."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from sandwich.combine.build import combinations_of
from sandwich.combine.table import Combinations, unsigned_columns
from sandwich.errors import Fault, Faults
from sandwich.job import Job, load_job
from sandwich.prepare import ZoneInput, prepare
from sandwich.tables.assemble import Results, read_job


@dataclass(frozen=True, repr=False)
class Incoming:
    """A job with its results, combinations and zones, and what is open where nothing is designed yet."""

    job: Job
    results: Results
    combinations: Combinations
    zones: list[ZoneInput]
    open: tuple[Fault, ...] = ()

    def __repr__(self) -> str:
        return f"Incoming({self.job.title}: {', '.join(f'{z.name} {len(z.h)} points' for z in self.zones)})"


def bring_in(path: str | Path, *, to_design: bool = True) -> Incoming:
    """Read a job and all it names.

    Parameters
    ----------
    path : str or Path
        The job file.
    to_design : bool
        Whether combinations must be whole and one of them ultimate; without it their faults are left open.

    Returns
    -------
    Incoming
        Results in the bar directions at the points of every zone, N and mm.

    Raises
    ------
    InputError
        With every fault of the job, then of all tables, then of combinations and zones.
    """
    job = load_job(path)
    results = read_job(job)
    faults = Faults()
    zones = prepare(job, results, faults)
    of_rules = faults if to_design else Faults()
    combinations = combinations_of(job, results.kinds, _live(results, zones), of_rules, to_design=to_design)
    faults.stop()
    return Incoming(job, results, combinations, zones, () if to_design else tuple(of_rules.found))


def _live(results: Results, zones: list[ZoneInput]) -> dict[str, set[str]]:
    """Components of each case without signs that are anywhere more than zero."""
    signed = {c: kind.signed is not False for c, kind in results.kinds.items()}
    live: dict[str, set[str]] = {}
    for i, column in enumerate(unsigned_columns(signed)):
        if column.component and any(np.nan_to_num(z.cases[:, i]).any() for z in zones):
            live.setdefault(column.case, set()).add(column.component)
    return live
