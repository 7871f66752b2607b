"""Seismic walls: their amplified shear, and what the standard asks of their ends."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Final

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.status import Status, is_status
from sandwich.project.outcome import FAILS, Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.walls import WALL_CHECKS, WALL_CUTS
from sandwich.standards.interface import SeismicWalls
from sandwich.tables.write import file_name
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.coupling import CheckedBeam, beams_of
from sandwich.work.walls.ends import CheckedEnd, ends_of
from sandwich.work.walls.laps import ENDS, BarsUp, has_bars
from sandwich.work.walls.seismic_pictures import seismic_details, seismic_elevation
from sandwich.work.walls.seismic_shear import CheckedShear, shears_of
from sandwich.work.walls.seismic_tables import (
    beam_checks_frame,
    beams_frame,
    end_checks_frame,
    ends_frame,
    shears_frame,
)
from sandwich.work.walls.stations import WallCuts

RANK: Final = 13
TITLE: Final = "Seismic walls"
SHEAR_TABLE: Final = "seismic shear"
CHECKS_TABLE: Final = "boundary checks"
BEAMS_TABLE: Final = "coupling beams"
BEAM_CHECKS_TABLE: Final = "coupling checks"
OF_TABLE: Final = "boundary elements"
SHORT: Final = [
    "wall", "storey", "part", "end", "boundary element", "by", "length [mm]", "provided over [mm]",
    "provided bars [mm]", "provided ties [mm]", "bars up to [m]", "utilisation", "governing check", "status",
]  # fmt: skip
UNSHOWN: Final = [
    "wall", "unit", "thickness [mm]", "minimum thickness [mm]", "ties from [mm]", "held bars apart [mm]", "height [m]",
    "ties each way [%]", "spacing of ties [mm]", "minimum bars [%]",
]  # fmt: skip
DRAW_ELEVATION: Final = ("seismic", "draw_seismic_elevation")
DRAW_DETAILS: Final = ("seismic", "draw_seismic_details")
SETTINGS: Final = (
    "ductility", "displacement", "q", "q_0", "T_1", "T_C", "steel_class", "ties_round", "system", "alpha_u_1",
    "regular",
)  # fmt: skip
MOST: Final = 12
ROUNDED: Final = 5e-3  # of a factor as it is told
PAGE: Final = 40  # rows on the page; the table has all
NOTE: Final = (
    "Each end of a part at the foot of its storey, under the seismic combinations: whether it has to be a boundary "
    "element and by which rule, how long, and the bars and ties that lie there with the worst of their checks; all "
    "checks are in the table of boundary checks. The forces are those of the analysis. The table has the rows after "
    f"the first {PAGE}, too."
)


SHORT_BEAM: Final = [
    "wall", "storey", "part", "l_n/h", "V [kN]", "V without diagonals [kN]", "diagonals", "provided diagonals [mm]",
    "links [mm]", "utilisation", "governing check", "status",
]  # fmt: skip
NOTE_BEAMS: Final = (
    "Lintels under the seismic combinations: whether the standard asks for diagonals, and the worst of their checks; "
    "all checks are in the table of coupling checks. Without diagonals the shear is that of hinges at both ends."
)
NOTE_SHEAR: Final = (
    "The shear of the analysis times the factor of the standard, against the bars that lie there; bending under the "
    "moment that the standard has up the height, where it is more than that of the analysis. The table has the "
    f"rows after the worst {PAGE}, too."
)


@dataclass(frozen=True)
class SeismicState:
    """Ends of piers and walls and coupling beams, as they were checked."""

    ends: list[CheckedEnd]
    beams: list[CheckedBeam]


class SeismicWallsStage(Stage[SeismicState]):
    """Amplified shear and boundary elements of seismic walls."""

    name = "seismic walls"
    needs = ("wall checks",)
    tables = (OF_TABLE, CHECKS_TABLE, SHEAR_TABLE, BEAMS_TABLE, BEAM_CHECKS_TABLE)

    def asked(self, project: Project) -> bool:
        """Whether a wall has a seismic design."""
        return project.job.seismic_walls

    def check(self, project: Project, faults: Faults) -> None:
        """Note settings that the standard does not use."""
        job, standard = project.job, project.standard
        for name, wall in job.walls.items():
            takes = standard.seismic_settings if isinstance(standard, SeismicWalls) else frozenset()
            systems = standard.systems if isinstance(standard, SeismicWalls) else {}
            asked, place = wall.seismic, ("walls", name, "seismic")
            if asked is not None and job.writes(*place, "system") and asked.system not in systems and systems:
                faults.add(
                    f"{job.path}, walls.{name}.seismic.system", f"is no system of {standard.name}",
                    f"use {' or '.join(sorted(systems))}, or take it out",
                )  # fmt: skip
            if asked is not None and (asked.T_1 or 0.0) > systems.get(asked.system or "", math.inf):
                faults.add(
                    f"{job.path}, walls.{name}.seismic.system", f"is for T_1 up to {systems[asked.system or '']:g} s",
                    "give another system",
                )  # fmt: skip
            job.refuse_unused(place, SETTINGS, takes, standard.name, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[SeismicState]:  # noqa: ARG002
        """Look at both ends of all piers and walls."""
        parts, _ = project.left(WALL_CHECKS)
        cuts = project.left(WALL_CUTS)
        if cuts is None:
            return Outcome(SeismicState([], []))
        ends, coupling = ends_of(project, cuts, parts), beams_of(project, cuts, parts)
        seen = {e.part.part.wall for e in ends} | {b.part.part.wall for b in coupling}
        warnings = tuple(
            WarningNote(
                f"wall {name}", "has a seismic design and no seismic combination", 'give one: situation = "seismic"',
                grave=True,
            )
            for name, wall in project.job.walls.items()
            if wall.seismic is not None and name not in seen
        )  # fmt: skip
        if not seen:
            return Outcome(SeismicState([], []), warnings=warnings)
        warnings += (*_ties(project, seen), *_curved(ends))
        shears = shears_of(project, cuts, parts)
        warnings += tuple(_shells(project, shears))
        laid = BarsUp(project, cuts, parts)
        up_to = {c.part.full_name: laid.of(c, ENDS).top for c in laid.upright if has_bars(c, ENDS)}
        frame, checks = ends_frame(ends, up_to), end_checks_frame(ends)
        shear = shears_frame(shears)
        beams, beam_checks = beams_frame(coupling), beam_checks_frame(coupling)
        bad, weak = is_status(frame["status"], Status.EXCEEDED), is_status(shear["status"], Status.EXCEEDED)
        count = {k: int((frame["boundary element"] == k).sum()) for k in ("needed", "column")}
        crossed = is_status(beams["status"], Status.EXCEEDED)
        failing = int(bad.sum()) + int(weak.sum()) + int(crossed.sum())
        told = (
            f"seismic walls: {count['needed']} of {len(frame)} ends need a boundary element, "
            f"{int((beams['diagonals'] == 'required').sum())} of {len(beams)} coupling beams diagonals; "
            + (f"{failing} checks exceeded" if failing else "all hold")
            + (f"; {count['column']} ends are of columns and not checked" if count["column"] else "")
        )
        alone = len(seen) == 1
        page = frame.drop(columns=UNSHOWN if alone else UNSHOWN[1:])
        few = (
            Table(f"Shear and bending of seismic walls, the worst {min(MOST, len(shear))} of {len(shear)} checks",
                  shear.head(MOST), bad=weak[:MOST]),
            *((Table(f"Coupling beams, the worst {min(MOST, len(beams))} of {len(beams)}",
                     beams[SHORT_BEAM].head(MOST), bad=crossed[:MOST]),) if len(beams) else ()),
            Table(f"Boundary elements, the first {min(MOST, len(frame))} of {len(frame)} ends",
                  frame[SHORT].head(MOST), bad=bad[:MOST]),
        )  # fmt: skip
        blocks = (
            Pictures(tuple(_figures(cuts, parts, ends, shears, coupling))),
            Table("Shear and bending", shear.head(PAGE), NOTE_SHEAR, weak[:PAGE]),
            *((Table("Coupling beams", beams.head(PAGE), NOTE_BEAMS, crossed[:PAGE]),) if len(beams) else ()),
            Table("Boundary elements", page.head(PAGE), NOTE, bad[:PAGE]),
        )
        return Outcome(
            SeismicState(ends, coupling),
            tables={
                OF_TABLE: frame,
                CHECKS_TABLE: checks,
                SHEAR_TABLE: shear,
                BEAMS_TABLE: beams,
                BEAM_CHECKS_TABLE: beam_checks,
            },
            warnings=warnings,
            verdict=(Text(told, "bad" if failing else "good", FAILS if failing else RANK),),
            summary=few,
            sections=(Section(TITLE, blocks, RANK),),
        )


def _ties(project: Project, walls: set[str]) -> Iterator[WarningNote]:
    """Continuous ties of large lightly reinforced walls, which the analysis of the wall does not give."""
    for name in sorted(walls):
        asked = project.job.walls[name].seismic
        if asked is not None and asked.lightly:
            yield WarningNote(
                f"wall {name}", "its continuous ties (EN 1998-1, 5.4.3.5.3(4)) are not among its bars",
                "draw them where panels meet, at floors and round openings, by EN 1992-1-1, 9.10",
            )  # fmt: skip


def _curved(ends: list[CheckedEnd]) -> Iterator[WarningNote]:
    """Curved parts, which the rules for ends and for shear do not know."""
    found: dict[str, dict[str, None]] = {}
    for e in ends:
        if e.part.geometry.line:
            found.setdefault(e.part.part.wall, {})[e.part.part.panel] = None
    for name, panels in found.items():
        yield WarningNote(
            f"wall {name}", f"curved panels designed for earthquakes as straight ones: {', '.join(panels)}",
            "ends, boundary elements and shear by the length; shear across the chord without the factor on V: check "
            "these by hand, or take seismic out", grave=True,
        )  # fmt: skip


def _shells(project: Project, shears: list[CheckedShear]) -> Iterator[WarningNote]:
    """Zones that are designed as shells with less in-plane shear than their seismic walls have."""
    most: dict[str, float] = {}
    for s in (s for s in shears if math.isfinite(s.factor)):
        zone = s.part.wall.zone_at(s.part.part)
        most[zone] = max(most.get(zone, 1.0), s.factor)
    for name, factor in most.items():
        own = project.job.zones[name].shear_factor
        if project.job.designs_shells and project.job.zones[name].shell and factor > own + ROUNDED:
            wanted = math.ceil(100.0 * factor - ROUNDED) / 100.0
            yield WarningNote(
                f"zone {name}", f"is designed as a shell with nxy times {own:g}, its wall with up to {factor:.3g} V",
                f"give shear_factor = {wanted:g} in [zones.{name}]", grave=True,
            )  # fmt: skip


def _figures(
    cuts: WallCuts, parts: list[CheckedPart], ends: list[CheckedEnd], shears: list[CheckedShear],
    beams: list[CheckedBeam],
) -> Iterator[Figure]:  # fmt: skip
    """Elevation and details of each wall that has ends."""
    for wall in cuts.walls.walls:
        own_ends = [e for e in ends if e.part.part.wall == wall.name]
        own_shears = [s for s in shears if s.part.part.wall == wall.name]
        own_beams = [b for b in beams if b.part.part.wall == wall.name]
        own = [c for c in parts if c.part.wall == wall.name]
        name = f"wall {file_name(wall.name)} seismic"
        if own_ends or own_beams:
            yield Figure(name, DRAW_ELEVATION, partial(seismic_elevation, cuts.walls, wall, own_ends, own_beams))
        if own_shears:
            describe = partial(seismic_details, cuts.walls, wall, own, own_ends, own_shears, own_beams)
            yield Figure(f"{name} details", DRAW_DETAILS, describe)


SEISMIC_WALLS: Final = SeismicWallsStage()
