"""Bearing walls and footing walls of a job."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.shown import Sentence
from sandwich.core.status import Status, is_status
from sandwich.project.outcome import FAILS, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.work.walls.plain import (
    CheckedBearing,
    SizedFooting,
    bearing_frame,
    bearing_wall,
    check_plain,
    footing_frame,
    footing_wall,
)

RANK: Final = 14
BEARING: Final = (
    "A strip of a metre, held at its foot and its head: at the head the loads with their eccentricity and the "
    "parapet, at mid-height wind, half of that moment and second order, at the foot the whole weight. N is positive "
    "in tension."
)
FOOTING: Final = (
    "Ground by characteristic combinations, linear pressure without tension; sections by ultimate ones, the largest "
    "pressure over the whole overhang less what lies on it."
)


class PlainWallsStage(Stage[tuple[list[CheckedBearing], list[SizedFooting]]]):
    """Walls whose loads are given directly."""

    name = "plain walls"
    tables = ("bearing walls", "footing walls")

    def asked(self, project: Project) -> bool:
        """Whether the job has such walls."""
        return bool(project.job.bearing_walls or project.job.footing_walls)

    def check(self, project: Project, faults: Faults) -> None:
        """Note what their loads and methods lack."""
        check_plain(project, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[list[CheckedBearing], list[SizedFooting]]]:  # noqa: ARG002
        """Check them, with bars and sizes chosen where none are given."""
        bearing = [bearing_wall(project, name) for name in project.job.bearing_walls]
        footing = [footing_wall(project, name) for name in project.job.footing_walls]
        frames: dict[str, pd.DataFrame] = {}
        if bearing:
            frames["bearing walls"] = bearing_frame(bearing)
        if footing:
            frames["footing walls"] = footing_frame(footing)
        verdict, summary, sections = [], [], []
        for (name, frame), note in zip(frames.items(), [BEARING] * bool(bearing) + [FOOTING], strict=False):
            bad = np.asarray(is_status(frame["status"], Status.EXCEEDED))
            worst = frame.iloc[0]
            text = Sentence(
                "{}: {}; largest utilisation {} ({}, {})", name,
                f"{bad.sum()} checks exceeded" if bad.any() else "all checks hold", f"{worst['utilisation']:.2f}",
                str(worst["wall"]), str(worst["check"]),
            )  # fmt: skip
            verdict.append(Text(text, "bad" if bad.any() else "good", FAILS if bad.any() else RANK))
            summary.append(Table(name.capitalize(), frame, bad=bad))
            sections.append(Section(name.capitalize(), (Table("", frame, note, bad),), RANK))
        return Outcome(
            (bearing, footing), tables=frames, verdict=tuple(verdict), summary=tuple(summary), sections=tuple(sections)
        )


PLAIN_WALLS: Final = PlainWallsStage()
