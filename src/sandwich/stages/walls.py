"""Walls of a job: their parts and cuts, then their bars and checks."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.numbers import utilisation
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.walls.checks import SECOND_ORDER
from sandwich.job.zone import Zone
from sandwich.model.walls.parts import TOUCH
from sandwich.project.outcome import FAILS, Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.required import REQUIRED_STAGE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.tables.write import file_name
from sandwich.work.walls.against_shell import against_shell
from sandwich.work.walls.balance import balance_frame
from sandwich.work.walls.checks import CheckedPart, bars_frame, checks_frame, members_of
from sandwich.work.walls.cuts import cut_walls
from sandwich.work.walls.layout import LaidWall, Walls, lay_walls
from sandwich.work.walls.pictures import elevation, most_bent, strength_of
from sandwich.work.walls.sections import CheckedSection, sections_frame, sections_of
from sandwich.work.walls.seismic import designed
from sandwich.work.walls.stations import WallCuts
from sandwich.work.walls.store import BARS, CUTS, load_bars, load_stations, save_bars, save_stations

MOST: Final = 12  # rows in a terminal
ONE_SIDED: Final = 0.5  # of a section: more is a warning
APART: Final = 1.0  # % between a cut and the reactions
RANK: Final = 12  # of utilisation and bars; parts and cuts stand behind the steel
PARTS: Final = 82
DRAW_ELEVATION: Final = ("walls", "draw_elevation")
DRAW_STRENGTH: Final = ("walls", "draw_strength")
SHORT: Final = [
    "wall",
    "storey",
    "part",
    "check",
    "utilisation",
    "demand",
    "capacity",
    "unit",
    "combination",
    "clause",
    "status",
]
NOTE_PARTS: Final = (
    "Parts that the openings leave: W a whole panel, P a pier, L a lintel, B a parapet; numbered from left to right in "
    "each storey. Lengths are those of the mesh."
)
NOTE_CHECKS: Final = (
    "The governing demand of each check. Bending is checked in and out of the plane together, at constant axial force; "
    "N is positive in tension; shear in the plane counts with the bars along it."
)
NOTE_SECTIONS: Final = (
    "All that is connected in a level section, as one plane section with the bars of its parts; moments about its "
    "centroid, x and y those of the plan; the worst of bending (utilisation) and torsion first."
)
OF_SECTION: Final = ["wall", "storey", "section", "at"]
TORSION: Final = ["torsion with shear", "T [kNm]", "torsion by", "status"]
UNSHOWN: Final = ["T [kNm]", "torsion by", "area [m2]", "bars"]  # beside bending
NOTE_TORSION: Final = (
    "About the centroid of the section, with the shear that acts at the same time: the utilisation of the worst check."
)
NOTE_SHELL: Final = (
    "Bars of both faces by the wall, and the most that a point of it requires where its zone is designed as a shell. A "
    "shell asks for more at corners of openings and edges, where it has peaks that a section evens out, for bending "
    "across the wall, and because it carries tension where it acts: with fewer bars the wall cracks there first."
)
NOTE_BALANCE: Final = (
    "The cut at the foot of each wall against the reactions of its own supports; differences in % of the largest "
    "force, or moment, of the case."
)


class WallCutsStage(Stage[WallCuts | None]):
    """Storeys, parts and cuts of the walls."""

    name = "wall cuts"
    stores = (CUTS,)
    tables = ("wall parts", "wall openings", "wall forces", "wall balance")

    def asked(self, project: Project) -> bool:
        """Whether the job has walls."""
        return bool(project.job.walls)

    def check(self, project: Project, faults: Faults) -> None:
        """Note walls that cannot be laid or cut."""
        _cuts_of(project, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[WallCuts | None]:  # noqa: ARG002
        """Lay and cut them."""
        cuts = _cuts_of(project, Faults())
        if cuts is None:
            return Outcome(None)
        walls = cuts.walls
        if project.writes:
            save_stations(project, cuts.stations)
        balance = balance_frame(project, cuts)
        parts = walls.frame
        storeys = pd.DataFrame({
            "storey": [s.name for s in walls.storeys], "from [m]": [s.low / 1e3 for s in walls.storeys],
            "to [m]": [s.high / 1e3 for s in walls.storeys],
            "": ["basement" if s.basement else "" for s in walls.storeys],
        })  # fmt: skip
        tables = {"wall parts": parts, "wall openings": walls.openings_frame, "wall forces": cuts.frame()}
        blocks: list[Text | Table | Pictures] = [Table("Storeys", storeys), Table("Parts", parts, NOTE_PARTS)]
        if balance is not None:
            tables["wall balance"] = balance
            blocks.append(Table("Balance", balance, NOTE_BALANCE, balance["largest difference [%]"].to_numpy() > APART))
        return Outcome(
            cuts, tables=tables, warnings=tuple(_warnings(cuts, balance)),
            sections=(Section("Walls: storeys and parts", tuple(blocks), PARTS),),
        )  # fmt: skip


def _cuts_of(project: Project, faults: Faults) -> WallCuts | None:
    """Cuts of the walls, those of the last run where nothing has changed."""
    walls: Walls | None = project.once("walls", lambda: lay_walls(project, faults))
    if walls is None:
        return None
    known = load_stations(project, walls, project.made_from)
    return project.once("wall cuts", lambda: cut_walls(project, walls, faults, known))


def _warnings(cuts: WallCuts, balance: pd.DataFrame | None) -> list[WarningNote]:
    out = []
    of_shares = {w.name: [s for s in cuts.stations if s.wall == w.name and s.is_share] for w in cuts.walls.walls}
    for wall, shared in of_shares.items():
        if shared:
            s, parts = shared[0], len({s.key for s in shared})
            told = (
                f"{parts} parts have no forces of their own and take their share of those around them, {s.part} first"
            )
            out.append(WarningNote(f"wall {wall}", told, "a section that stays plane; lintels get nothing by it"))
    out += [note for wall in cuts.walls.walls for note in _seams(wall)]
    half = [s for s in cuts.stations if s.one_sided > ONE_SIDED]
    if half:
        s = half[0]
        found = f"{len(half)} sections have results on one side alone, {s.part} at its {s.at} first"
        out.append(WarningNote(f"wall {s.wall}, {s.storey}", found, "corner results of one side are low at held edges"))
    if balance is not None:
        for r in balance[balance["largest difference [%]"] > APART].to_dict("records")[:3]:
            differs = Sentence("the cut at the foot differs from the reactions in case {} by {} %", str(r["case"]),
                             f"{r['largest difference [%]']:.2g}")  # fmt: skip
            out.append(WarningNote(f"wall {r['wall']}", differs, cause="supports along its height, or a coarse mesh"))
    return out


def _seams(wall: LaidWall) -> Iterator[WarningNote]:
    """Piers of a ring that stand on both sides of its seam, each side a part of its own."""
    for panel in (p for p in wall.panels if p.closed):
        upright = [p for p in wall.parts if p.panel == panel.name and p.kind.upright]
        left = [p for p in upright if p.a < TOUCH and p.b < panel.length - TOUCH]
        pairs = [(p, q) for p in left for q in upright if q.storey == p.storey and q.b > panel.length - TOUCH
                 and min(p.high, q.high) > max(p.low, q.low) + TOUCH]  # fmt: skip
        if pairs:
            p, q = pairs[0]
            first = f"{p.name} and {q.name} in '{p.storey}'"
            told = f"ring {panel.name}: {len(pairs)} piers stand over its seam, {first} first"
            yield WarningNote(f"wall {wall.name}", told, "each side is checked as a pier of its own, by its own forces")


def of_first_order(zone: Zone) -> bool:
    """Whether a zone is designed as a shell for the moments of the analysis alone."""
    return zone.shell and zone.second_order is None


def _slender(project: Project, parts: list[CheckedPart]) -> Iterator[WarningNote]:
    """Zones that are designed as shells, whose parts are so slender that second order counts."""
    found: dict[str, list[CheckedPart]] = {}
    for c in parts:
        zone = c.wall.zone_at(c.part)
        if of_first_order(project.job.zones[zone]) and any(str(k.note).startswith(SECOND_ORDER) for k in c.checks):
            found.setdefault(zone, []).append(c)
    for zone, of in found.items():
        p = of[0].part
        told = f"second order out of the plane counts in {len(of)} parts, {p.storey} {p.panel} {p.name} first"
        evidence = (
            "the shell design takes moments of first order; take the vertical bars of the wall there, or give the zone "
            "second_order"
        )
        yield WarningNote(f"zone {zone}", told, evidence, grave=True)


def _unchecked(cuts: WallCuts, parts: list[CheckedPart]) -> Iterator[WarningNote]:
    """Walls some of whose parts have no forces."""
    done = {c.part.full_name for c in parts}
    for wall in cuts.walls.walls:
        left = [p for p in wall.parts if p.full_name not in done]
        if left:
            first = f"{left[0].storey} {left[0].panel} {left[0].name}"
            told = f"{len(left)} of {len(wall.parts)} parts are not checked, they have no forces: {first} first"
            remedy = (
                "give them rows in the table of forces" if wall.asked.forces is not None else "look at the mesh there"
            )
            yield WarningNote(
                f"wall {wall.name}", told, f"{remedy}, or leave them out by kind none in the table of parts", grave=True
            )


class WallChecksStage(Stage[tuple[list[CheckedPart], list[CheckedSection]]]):
    """Bars of the walls, given or chosen, and their checks."""

    name = "wall checks"
    needs = ("wall cuts", "required")
    stores = (BARS,)
    tables = ("wall bars", "wall checks", "wall sections", "wall against shell")

    def asked(self, project: Project) -> bool:
        """Whether the job has walls."""
        return bool(project.job.walls)

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[list[CheckedPart], list[CheckedSection]]]:
        """Choose bars and check them."""
        cuts = project.left(WALL_CUTS)
        if cuts is None:
            return Outcome(([], []))
        known = load_bars(project, project.made_from)
        parts = members_of(project, cuts, known=known, progress=lambda done, of: progress("walls", done, of))
        found = designed(project, cuts, parts)
        parts = found.parts
        if project.writes:
            save_bars(project, parts)
        sections = sections_of(project, cuts, parts)
        bars, checks, whole = bars_frame(parts), checks_frame(parts, cuts), sections_frame(sections, cuts)
        bad = is_status(checks["status"], Status.EXCEEDED)
        bad_sections = is_status(whole["status"], Status.EXCEEDED) if len(whole) else np.zeros(0, dtype=bool)
        figures = []
        for wall in cuts.walls.walls:
            mine = [c for c in parts if c.part.wall == wall.name]
            name = file_name(wall.name)
            figures.append(Figure(f"wall {name}", DRAW_ELEVATION, partial(elevation, cuts.walls, wall, mine)))
            if mine:
                figures.append(
                    Figure(f"wall {name} strength", DRAW_STRENGTH, partial(strength_of, most_bent(mine), cuts))
                )
        worst = checks.iloc[0] if len(checks) else None
        failing = int(bad.sum()) + int(bad_sections.sum())
        verdict = []
        if worst is not None:
            most, where = worst["utilisation"], f"{worst['check']}, {worst['storey']} {worst['part']}"
            section = max(sections, key=lambda c: c.worst[0], default=None)
            if section is not None and section.worst[0] > most:
                most, s = section.worst[0], section.station
                where = f"{section.worst[1]}, {s.storey} {s.part} {s.at}"
            text = (
                f"walls: {len(parts)} parts and {len(sections)} sections checked, "
                f"{f'{failing} checks exceeded' if failing else 'all hold'}; "
                f"largest utilisation {utilisation(most)} ({where})"
            )
            verdict.append(Text(text, "bad" if failing else "good", FAILS if failing else PARTS))
        mass = float(np.nansum(bars["mass [kg]"])) if len(bars) else 0.0
        total = Sentence("Bars of walls and piers {}, laps and anchorage left out.", Measure(mass, "kg", ",.0f"))
        tables = {"wall bars": bars, "wall checks": checks, "wall sections": whole}
        unrest = (
            WarningNote(
                "seismic walls", "more vertical bars and the shear they bring did not come to rest",
                "look at the checks of seismic shear; a thicker wall or other bars of the rule would do", grave=True,
            ),
        )  # fmt: skip
        warnings = (
            *(() if found.settled else unrest), *_unchecked(cuts, parts),
            *(_slender(project, parts) if project.job.designs_shells else ()),
        )  # fmt: skip
        blocks: list[Text | Table | Pictures] = [
            Pictures(tuple(figures)), Table("Bars", bars, str(total)),
            Table("Checks", checks.head(60), NOTE_CHECKS, bad),
            Table("Whole sections", whole.drop(columns=UNSHOWN, errors="ignore"), NOTE_SECTIONS, bad_sections),
        ]  # fmt: skip
        if len(whole):
            blocks.append(Table("Torsion of whole sections", whole[OF_SECTION + TORSION], NOTE_TORSION, bad_sections))
        if project.job.designs_shells:
            zones = [d.zone for d in project.left(ULTIMATE).values()]
            shell = against_shell(parts, zones, project.left(REQUIRED_STAGE).steel)
            if shell is not None:
                tables["wall against shell"] = shell
                more = shell["shell over wall"].to_numpy() > 1.0
                blocks.append(Table("Against the shell design", shell.head(40), NOTE_SHELL, more))
        return Outcome(
            (parts, sections),
            tables=tables,
            warnings=warnings,
            verdict=tuple(verdict),
            summary=(
                Table(f"Walls, the worst {min(MOST, len(checks))} of {len(checks)} checks", checks[SHORT].head(MOST),
                      bad=bad[:MOST]),
            ),
            sections=(Section("Walls: utilisation and bars", tuple(blocks), RANK),),
        )  # fmt: skip


WALL_CUTS: Final = WallCutsStage()
WALL_CHECKS: Final = WallChecksStage()
