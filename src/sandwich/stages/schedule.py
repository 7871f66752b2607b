"""Bar schedule: bars of zones and walls as they are cut and bent, with their mass."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Final

from sandwich.core.progress import Progress
from sandwich.core.shown import Measure, Sentence
from sandwich.design.schedule.rows import (
    MASSES,
    SIZES,
    BarRow,
    Concrete,
    Schedule,
    marked,
    masses_frame,
    schedule_frame,
    sizes_frame,
    to_look_at,
)
from sandwich.design.schedule.rows import SCHEDULE as SCHEDULE_TABLE
from sandwich.design.schedule.shapes import ROUNDED
from sandwich.project.outcome import Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.layout import LAYOUT, STOCK
from sandwich.stages.seismic_walls import SEISMIC_WALLS
from sandwich.stages.wall_laps import WALL_LAPS
from sandwich.stages.walls import WALL_CHECKS, WALL_CUTS
from sandwich.tables.write import file_name
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.laps import BarsUp
from sandwich.work.walls.pictures import laid_bars
from sandwich.work.walls.schedule import WallSchedule
from sandwich.work.walls.stations import WallCuts

RANK: Final = 84
DRAW_BARS: Final = ("walls", "draw_bars")
PAGE: Final = 60
NOTE: Final = Sentence(
    "Bars of one mark are alike. Shapes have the codes of ISO 3766; a, b and c are measured from outside to outside, "
    "lengths along the axis of the bar, without laps, rounded up to {}; mandrels and tails past hooks are the minimum "
    "of the standard. Level bars of walls are closed by U-bars at both ends of each part. The table has the rows after "
    "{}, too.", Measure(ROUNDED, "mm", ".3g"), str(PAGE),
)  # fmt: skip


class ScheduleStage(Stage[Schedule]):
    """All bars of a job as they are cut and bent."""

    name = "schedule"
    needs = ("layout", "wall laps", "seismic walls")
    tables = (SCHEDULE_TABLE, MASSES, SIZES)

    def asked(self, project: Project) -> bool:
        """Whether bars of a zone are chosen or given, or there are walls."""
        return LAYOUT.asked(project) or WALL_LAPS.asked(project)

    def run(self, project: Project, progress: Progress) -> Outcome[Schedule]:  # noqa: ARG002
        """Number the bars of all zones and walls."""
        zones = project.left(LAYOUT) if LAYOUT.asked(project) else ()
        rows = [r for s in zones for r in s.rows]
        concrete = [Concrete(s.zone.name, "", s.area, s.volume) for s in zones]
        figures: tuple[Figure, ...] = ()
        cuts = project.left(WALL_CUTS) if WALL_LAPS.asked(project) else None
        if cuts is not None:
            parts, _ = project.left(WALL_CHECKS)
            beams = project.left(SEISMIC_WALLS).beams if SEISMIC_WALLS.asked(project) else []
            walls = WallSchedule(
                BarsUp(project, cuts, parts), project.left(WALL_LAPS), [c for c in parts if not c.part.kind.upright],
                beams, 1e3 * STOCK,
            )  # fmt: skip
            own = marked(list(walls.rows()), 1 + max((r.mark for r in rows), default=0))
            rows += own
            concrete += walls.concrete()
            figures = tuple(_elevations(cuts, parts, own))
        if not rows:
            return Outcome(Schedule())
        found = Schedule(tuple(rows), tuple(concrete))
        frame, masses, sizes = schedule_frame(found), masses_frame(found), sizes_frame(found)
        marks = frame["mark"].nunique()
        surface, volume = masses["surface [m2]"].sum(), masses["concrete [m3]"].sum()
        told = Sentence(
            "Bars: {} in {} marks, {} of surface, {} of concrete.", Measure(found.mass, "kg", ",.0f"), str(marks),
            Measure(found.mass / surface, "kg/m2", ".1f"), Measure(found.mass / volume, "kg/m3", ".0f"),
        )  # fmt: skip
        blocks = (
            Text(told),
            *((Pictures(figures),) if figures else ()),
            Table("Mass of bars", masses),
            Table("Bars by diameter", to_look_at(sizes)),
            Table("Bar schedule", to_look_at(frame).head(PAGE), NOTE),
        )
        return Outcome(
            found,
            tables={SCHEDULE_TABLE: frame, MASSES: masses, SIZES: sizes},
            summary=(Text(told, "plain", 78),),
            sections=(Section("Bar schedule", blocks, RANK),),
        )


SCHEDULE: Final = ScheduleStage()


def _elevations(cuts: WallCuts, parts: list[CheckedPart], rows: list[BarRow]) -> Iterator[Figure]:
    """Bars of each wall in its elevation, with their marks."""
    marks: dict[tuple[str, str, str, str], list[int]] = {}
    for r in rows:
        marks.setdefault((r.of, r.storey, r.place, r.layer), []).append(r.mark)
    for wall in cuts.walls.walls:
        mine = [c for c in parts if c.part.wall == wall.name]
        yield Figure(f"wall {file_name(wall.name)} bars", DRAW_BARS, partial(laid_bars, cuts.walls, wall, mine, marks))
