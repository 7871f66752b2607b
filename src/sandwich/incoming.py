"""What came in, made ready for design: results, combinations, zones. Every command starts here."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from sandwich.combine.listed import Combinations, combinations_of
from sandwich.errors import Faults
from sandwich.job import Job, load
from sandwich.prepare import ZoneInput, prepare
from sandwich.tables.assemble import Results, read_job


@dataclass(frozen=True)
class Incoming:
    """A job with its results, combinations and zones."""

    job: Job
    results: Results
    combinations: Combinations
    zones: list[ZoneInput]


def bring_in(path: str | Path) -> Incoming:
    """Read a job and all it names.

    Parameters
    ----------
    path : str or Path
        The job file.

    Returns
    -------
    Incoming
        Results in the bar directions at the points of every zone, N and mm.

    Raises
    ------
    InputError
        With every fault of the job, then of all tables, then of combinations and zones.
    """
    job = load(path)
    results = read_job(job)
    faults = Faults()
    combinations = combinations_of(job, results.kinds, faults)
    zones = prepare(job, results, faults)
    faults.stop()
    return Incoming(job, results, combinations, zones)
