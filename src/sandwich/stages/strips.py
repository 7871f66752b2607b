"""Totals along the strips of a job: tables and diagrams."""

from __future__ import annotations

from functools import partial
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.shown import Measure, Sentence, Shown
from sandwich.core.situations import ULTIMATE
from sandwich.drawing.records import DiagramDescription
from sandwich.project.outcome import Figure, Outcome, Pictures, Section
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.ultimate import ULTIMATE as ULTIMATE_STAGE
from sandwich.tables.write import file_name
from sandwich.work.strips import StripResult, strips_of, with_steel

DRAW_DIAGRAM: Final = ("diagram", "draw_diagram")


class StripsStage(Stage[tuple[StripResult, ...]]):
    """Integrals across the strips of a job."""

    name = "strips"
    needs = ("ultimate",)
    tables = ("strips", "strip checks")

    def asked(self, project: Project) -> bool:
        """Whether the job has strips."""
        return bool(project.job.strips)

    def check(self, project: Project, faults: Faults) -> None:
        """Note strips that cannot be integrated."""
        project.once("strips", lambda: strips_of(project, faults))

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[StripResult, ...]]:  # noqa: ARG002
        """Integrate them."""
        laid = project.left(ULTIMATE_STAGE)  # bars that are thicker than assumed lie deeper
        found = [
            with_steel(s, laid[s.strip.zone].zone, project.standard)
            for s in project.once("strips", lambda: strips_of(project, Faults()))
        ]
        figures = tuple(Figure(f"strip {file_name(s.name)}", DRAW_DIAGRAM, partial(strip_diagram, s)) for s in found)
        return Outcome(
            tuple(found),
            tables={
                "strips": pd.concat([s.frame() for s in found], ignore_index=True),
                "strip checks": pd.concat([s.checks() for s in found], ignore_index=True),
            },
            sections=(Section("Along strips", (Pictures(figures),), 20),),
        )


STRIPS: Final = StripsStage()


def strip_diagram(strip: StripResult, shown: Shown) -> DiagramDescription:
    """Moment, shear and steel per width along a strip: of the ultimate combinations, or of all where none is."""
    chosen = [i for i, s in enumerate(strip.situations) if s in ULTIMATE] or list(range(len(strip.situations)))
    per_width = strip.per_width[:, chosen]
    panels = [
        (shown.heading("M [kNm/m]"), shown.values(per_width[..., 3] / 1e3, "kNm/m")),
        (shown.heading("V [kN/m]"), shown.values(per_width[..., 6], "kN/m")),
    ]
    steel = shown.values(strip.steel[:, chosen] * 1e3, "mm2/m")
    if np.isfinite(steel).any():
        both = np.concatenate([steel[..., 0], -steel[..., 1]], axis=1)
        panels.append((shown.heading(f"steel [mm2/m], {strip.faces[1]} below zero"), both))
    note = Sentence(
        "zone {}, width {}, {} combinations; a positive moment puts the {} in tension; the free body leaves at most {} "
        "% of the largest moment",
        strip.strip.zone, Measure(strip.strip.width, "m", "g"), str(len(chosen)), strip.faces[0],
        f"{100.0 * strip.left(chosen):.2g}",
    )  # fmt: skip
    s = shown.values(strip.s, "m")
    return DiagramDescription(
        f"Strip {strip.name}", shown.text(note), s, panels, shown.heading("s along the strip [m]")
    )
