"""Vertical bars of walls up the height: laps, anchorage, where bars end."""

from __future__ import annotations

from typing import Final

from sandwich.core.progress import Progress
from sandwich.core.status import Status, is_status
from sandwich.project.outcome import FAILS, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.walls import WALL_CHECKS, WALL_CUTS
from sandwich.work.walls.laps import BarsUp, LaidBars, laps_frame

RANK: Final = 83
TABLE: Final = "wall laps"
PAGE: Final = 60
NOTE: Final = (
    "Vertical bars of each part: their lap at the foot, where it starts, what of them goes on above, and how far the "
    "others go past the floor from which they are no longer required. All bars are lapped at one place, at full "
    f"stress; ties across a lap count where the standard takes them. The table has the rows after {PAGE}, too."
)


class WallLapsStage(Stage[list[LaidBars]]):
    """Laps and ends of the vertical bars of walls."""

    name = "wall laps"
    needs = ("wall checks",)
    tables = (TABLE,)

    def asked(self, project: Project) -> bool:
        """Whether the job has walls."""
        return bool(project.job.walls)

    def run(self, project: Project, progress: Progress) -> Outcome[list[LaidBars]]:  # noqa: ARG002
        """Lay the bars of all parts up the height."""
        parts, _ = project.left(WALL_CHECKS)
        cuts = project.left(WALL_CUTS)
        if cuts is None or not parts:
            return Outcome([])
        laid = BarsUp(project, cuts, parts).all()
        frame = laps_frame(laid)
        bad = is_status(frame["status"], Status.EXCEEDED)
        verdict = Text(f"walls: {int(bad.sum())} laps do not fit", "bad", FAILS)
        table = Table("Vertical bars", frame.head(PAGE), NOTE, bad[:PAGE])
        return Outcome(
            laid, tables={TABLE: frame}, verdict=(verdict,) if bad.any() else (),
            sections=(Section("Walls: laps and ends of bars", (table,), RANK),),
        )  # fmt: skip


WALL_LAPS: Final = WallLapsStage()
