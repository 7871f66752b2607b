"""The explanation of one part of a wall of a job, from the forces of its cases to its checks."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pandas as pd

from sandwich.core.errors import Fault, InputError, StaleError
from sandwich.core.shown import Shown
from sandwich.core.trace import Quantity, Sheet, Step
from sandwich.design.walls.worked import worked_part
from sandwich.drawing.wall_records import StrengthDescription
from sandwich.job import Job
from sandwich.project.project import Project
from sandwich.stages.walls import WALL_CUTS
from sandwich.work.walls.checks import CheckedPart, members_of
from sandwich.work.walls.pictures import strength_of
from sandwich.work.walls.stations import FORCES, WallCuts
from sandwich.work.walls.store import load_bars

SAME = 1e-6  # of a stored utilisation


@dataclass(frozen=True, repr=False)
class ExplainedPart:
    """The worked calculation of a part, and its curves as a picture shows them."""

    sheet: Sheet
    strength: StrengthDescription


def explain_wall(job: str | Path | Job | Project, part: str) -> ExplainedPart:
    """Worked calculation of one part of a wall, of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job.
    part : str
        Storey and part as in the table of wall checks, such as ``ground A P1``; its name on drawings; or the whole
        name ``core A ground P1``.

    Returns
    -------
    ExplainedPart
        Equal to the stored table to 1e-6.

    Raises
    ------
    InputError
        If there is no such part.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    cuts = project.left(WALL_CUTS) if project.job.walls else None
    if cuts is None:
        raise InputError([Fault("--wall", "the job has no walls", "write [walls.NAME] with its zones")])
    found = find_part(parts_of_last_run(project, cuts), part)
    names = [r.name for r in cuts.rows]
    places = [f"{s.at} at {s.place / 1e3:.2f} m" for s in found.stations]
    sheet = worked_part(found.member, found.steel, names, places)
    _cases(sheet, found, cuts)
    _compare(sheet, project, found)
    return ExplainedPart(sheet, strength_of(found, cuts, Shown(project.job.output.units)))


def parts_of_last_run(project: Project, cuts: WallCuts) -> list[CheckedPart]:
    """All parts with the bars that the last run left; nothing is checked before it is asked for."""
    return members_of(project, cuts, known=load_bars(project, project.made_from))


def find_part(parts: list[CheckedPart], name: str) -> CheckedPart:
    """The part of a name.

    Raises
    ------
    InputError
        If none has it, or several.
    """
    wanted = " ".join(name.split())
    ways = {
        i: (f"{c.part.storey} {c.part.panel} {c.part.name}", c.part.full_name, c.part.label,
            f"{c.part.wall} {c.part.storey} {c.part.panel} {c.part.name}")
        for i, c in enumerate(parts)
    }  # fmt: skip
    found = [parts[i] for i, names in ways.items() if wanted in names]
    if len(found) == 1:
        return found[0]
    told = f"several parts are called '{wanted}'" if found else f"no part is called '{wanted}'"
    there = [c.part.full_name for c in found] or [names[0] for names in ways.values()][:8]
    raise InputError([Fault("--wall", told, f"there are {', '.join(there)}")])


def _cases(sheet: Sheet, c: CheckedPart, cuts: WallCuts) -> None:
    """Forces of the cases that the governing demand adds, before everything else."""
    worst = next((k for k in c.checks if k.index >= 0), None)
    if worst is None:
        return
    d = c.member.demand
    row, station = cuts.rows[d.combination[worst.index]], c.stations[d.station[worst.index]]
    steps = []
    for name, factor in row.factors.items():
        if factor:
            own = station.cases[cuts.case_names.index(name)]
            units = ("kN",) * 3 + ("kNm",) * 3
            scale = np.array([1e-3] * 3 + [1e-6] * 3)
            values = tuple(Quantity(f, float(v), u) for f, v, u in zip(FORCES, own * scale, units, strict=True))
            steps.append(
                Step(
                    f"Case {name}",
                    f"cut at the {station.at}, {station.place / 1e3:.2f} m",
                    f"factor {factor:g}",
                    (),
                    values,
                )
            )
    sheet.steps[:0] = [(f"Cases of {row.name}: {row.expression}", s) for s in steps]


def _compare(sheet: Sheet, project: Project, c: CheckedPart) -> None:
    """Refuse a calculation that differs from the stored table."""
    table = pd.read_parquet(project.job.results / "wall_checks.parquet")
    p = c.part
    own = table[(table["wall"] == p.wall) & (table["storey"] == p.storey) & (table["part"] == f"{p.panel} {p.name}")]
    stored = dict(zip(own["check"], own["utilisation"], strict=True))
    for q in sheet.answer:
        value, there = float(str(q.value)), float(stored.get(q.symbol, np.nan))
        if not (value == there or abs(value - there) <= SAME * max(abs(there), 1.0)):
            raise StaleError(f"{q.symbol} is {value:.6g}, the table has {there:.6g}; run the job again")
