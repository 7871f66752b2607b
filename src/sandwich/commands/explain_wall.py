"""The explanation of one part of a wall of a job, from the forces of its cases to its checks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
import pandas as pd

from sandwich.core.errors import Fault, InputError, StaleError
from sandwich.core.shown import Shown
from sandwich.core.trace import Quantity, Sheet, Step, recording
from sandwich.design.walls.checks import BENDING
from sandwich.design.walls.ends import HELD, EndCheck
from sandwich.design.walls.worked import result_step, worked_part
from sandwich.drawing.wall_records import StrengthDescription
from sandwich.job import Job
from sandwich.project.project import Project
from sandwich.stages.walls import WALL_CUTS
from sandwich.work.walls.checks import CheckedPart, members_of
from sandwich.work.walls.coupling import beams_of
from sandwich.work.walls.ends import ends_of
from sandwich.work.walls.laps import BarsUp, laps_frame
from sandwich.work.walls.pictures import strength_of
from sandwich.work.walls.sections import sections_of
from sandwich.work.walls.seismic_tables import ends_frame
from sandwich.work.walls.stations import FORCES, Station, WallCuts
from sandwich.work.walls.store import load_bars
from sandwich.work.walls.worked import worked_section

SECTION = "section"  # in the names of whole sections
SAME = 1e-6  # of a stored utilisation


@dataclass(frozen=True, repr=False)
class ExplainedPart:
    """The worked calculation of a part, and its curves as a picture shows them; none of a whole section."""

    sheet: Sheet
    strength: StrengthDescription | None = None


def explain_wall(job: str | Path | Job | Project, part: str) -> ExplainedPart:
    """Worked calculation of one part of a wall, of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job.
    part : str
        Storey and part as in the table of wall checks, such as ``ground A P1``; its name on drawings; the whole name
        ``core A ground P1``; or a whole section, such as ``ground section 1 bottom``.

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
    parts = parts_of_last_run(project, cuts)
    if SECTION in part:
        return ExplainedPart(_section(project, cuts, parts, " ".join(part.split())))
    found = find_part(parts, part)
    names = [r.name for r in cuts.rows]
    places = [f"{s.at} at {s.place / 1e3:.2f} m{f', {s.by}' if s.is_share else ''}" for s in found.stations]
    sheet = worked_part(found.member, found.steel, names, places)
    _cases(sheet, found, cuts)
    _compare(sheet, project, found)
    _ends(sheet, project, cuts, parts, found)
    _beam(sheet, project, cuts, found)
    _laps(sheet, project, cuts, parts, found)
    bent = any(k.name == BENDING for k in found.checks)
    return ExplainedPart(sheet, strength_of(found, cuts, Shown(project.job.output.units)) if bent else None)


def _section(project: Project, cuts: WallCuts, parts: list[CheckedPart], name: str) -> Sheet:
    """Worked calculation of a whole section, equal to the stored table."""
    found = {
        f"{s.station.wall} {s.station.storey} {s.station.part} {s.station.at}": s
        for s in sections_of(project, cuts, parts)
    }
    mine = [k for k in found if name in (k, k.partition(" ")[2])]
    if len(mine) != 1:
        told = f"several sections are called '{name}'" if mine else f"no section is called '{name}'"
        there = mine or [k.partition(" ")[2] for k in found][:8]
        raise InputError([Fault("--wall", told, f"there are {', '.join(there)}")])
    c = found[mine[0]]
    of = next(p.member.of for p in parts if p.part.wall == c.station.wall and p.part.storey == c.station.storey)
    sheet = worked_section(project, cuts, c, of.concrete, of.steel)
    _put_cases(sheet, cuts, c.station, int(c.demand.combination[c.index]))
    table = pd.read_parquet(project.job.results / "wall_sections.parquet")
    s = c.station
    own = table[
        (table["wall"] == s.wall) & (table["storey"] == s.storey) & (table["section"] == s.part) & (table["at"] == s.at)
    ]
    _equal(BENDING, c.utilisation, float(own["utilisation"].iloc[0]))
    return sheet


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
    _put_cases(sheet, cuts, c.stations[d.station[worst.index]], int(d.combination[worst.index]))


def _ends(sheet: Sheet, project: Project, cuts: WallCuts, parts: list[CheckedPart], part: CheckedPart) -> None:
    """What the standard asks of both ends of a part of a seismic wall, equal to the stored table."""
    with recording() as inner:
        ends = ends_of(project, cuts, parts, part)
    if not ends:
        return
    sheet.heading = "Ends of the seismic wall"
    for _, step in inner.steps:
        sheet.add(step)
    found = ends_frame(ends, {})
    p = part.part
    stored = pd.read_parquet(project.job.results / "boundary_elements.parquet")
    mine = (stored["wall"] == p.wall) & (stored["storey"] == p.storey) & (stored["part"] == f"{p.panel} {p.name}")
    for now, then in zip(found.to_dict("records"), stored[mine].to_dict("records"), strict=True):
        if now["boundary element"] == "column":
            sheet.add(Step(f"{now['end']} end: {now['status']}", "", "rules of columns hold", (), ()))
            continue
        held = tuple(Quantity(k, now[k], now["unit"]) for k in ("demand", "limit"))
        given = (Quantity("length", now["length [mm]"], "mm"), Quantity("ties each way", now["ties each way [%]"], "%"))
        told = f"{now['end']} end: boundary element {now['boundary element']}"
        sheet.add(Step(told, now["clause"], f"{now['by']}: demand against limit", held, given))
        _equal(f"boundary element, {now['end']} end", now["length [mm]"], then["length [mm]"])
        _equal(f"checks of the {now['end']} end", now["utilisation"], then["utilisation"])
    for e in ends:
        _put_checks(sheet, f"{e.end} end: ", e.checks)


def _beam(sheet: Sheet, project: Project, cuts: WallCuts, part: CheckedPart) -> None:
    """A lintel of a seismic wall as a coupling beam, equal to the stored table."""
    with recording() as inner:
        found = beams_of(project, cuts, [part])
    if not found:
        return
    sheet.heading = "Coupling beam"
    for _, step in inner.steps:
        sheet.add(step)
    beam, p = found[0], part.part
    stored = pd.read_parquet(project.job.results / "coupling_beams.parquet")
    mine = (stored["wall"] == p.wall) & (stored["storey"] == p.storey) & (stored["part"] == f"{p.panel} {p.name}")
    _equal("coupling beam", beam.worst.check.utilisation, float(stored[mine]["utilisation"].iloc[0]))
    _put_checks(sheet, "", beam.checks)


def _laps(sheet: Sheet, project: Project, cuts: WallCuts, parts: list[CheckedPart], part: CheckedPart) -> None:
    """Laps and ends of the vertical bars of a part, equal to the stored table."""
    up = BarsUp(project, cuts, parts)
    if part not in up.upright:
        return
    with recording() as inner:
        found = up.all(part)
    sheet.heading = "Laps and ends of vertical bars"
    for i, (_, step) in enumerate(inner.steps):
        if all(step != s for _, s in inner.steps[:i]):  # a lap and an anchorage share their first steps
            sheet.add(step)
    p = part.part
    stored = pd.read_parquet(project.job.results / "wall_laps.parquet")
    mine = (stored["wall"] == p.wall) & (stored["storey"] == p.storey) & (stored["part"] == f"{p.panel} {p.name}")
    for now, then in zip(laps_frame(found).to_dict("records"), stored[mine].to_dict("records"), strict=True):
        _equal(f"end of bars, {now['bars']}", now["up to [m]"], then["up to [m]"])
        given = (Quantity("lap", now["lap [mm]"], "mm"), Quantity("from", now["lap from [m]"], "m"))
        held = (Quantity("anchorage", now["anchorage [mm]"], "mm"), Quantity("up to", now["up to [m]"], "m"))
        told = f"{now['bars']} {now['provided [mm]']}: {now['go on above']} above"
        sheet.add(Step(told, now["clause"], f"lap {now['lap by']}", given, held))


def _put_checks(sheet: Sheet, of: str, checks: tuple[EndCheck, ...]) -> None:
    for c in checks:
        step = result_step(c.check)
        sheet.add(
            replace(step, title=f"{of}{c.check.name}", formula=str(c.remedy) if c.check.utilisation > HELD else "")
        )


def _put_cases(sheet: Sheet, cuts: WallCuts, station: Station, combination: int) -> None:
    """Forces of the cases of a combination at a station, before everything else."""
    row, steps = cuts.rows[combination], []
    for name, factor in row.factors.items():
        if factor:
            own = station.cases[cuts.case_names.index(name)]
            units = ("kN",) * 3 + ("kNm",) * 3
            scale = np.array([1e-3] * 3 + [1e-6] * 3)
            values = tuple(Quantity(f, float(v), u) for f, v, u in zip(FORCES, own * scale, units, strict=True))
            steps.append(
                Step(
                    f"Case {name}",
                    f"{station.by} at the {station.at}, {station.place / 1e3:.2f} m",
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
        _equal(q.symbol, float(str(q.value)), float(stored.get(q.symbol, np.nan)))


def _equal(name: str, value: float, there: float) -> None:
    if not (value == there or abs(value - there) <= SAME * max(abs(there), 1.0)):
        raise StaleError(f"{name} is {value:.6g}, the table has {there:.6g}; run the job again")
