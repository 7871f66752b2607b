"""Tendons of a job: tables and diagrams along them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Final

import numpy as np

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.shown import Measure, Sentence, Shown
from sandwich.core.status import HOLDS, is_status
from sandwich.design.tendons import TendonStresses
from sandwich.drawing.records import DiagramDescription
from sandwich.project.outcome import Figure, Outcome, Pictures, Section, Table
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.service import SERVICE
from sandwich.stages.strips import DRAW_DIAGRAM
from sandwich.stages.ultimate import ULTIMATE
from sandwich.tables.write import file_name
from sandwich.work.tendons import TendonState, check_tendons, lay_tendons

MOST: Final = 8  # tendons in a terminal
SHORT: Final = [
    "tendon", "concrete at the duct [MPa]", "at [m]", "combination", "increase [MPa]", "range [MPa]", "status",
]  # fmt: skip
NOTE: Final = (
    "Concrete stress along each tendon at the edges of the zone around its duct, of the uncracked section; increase "
    "and range of its stress by the strain of the cracked section at its depth, between combinations with the same "
    "prestress. The worst tendon first."
)


class TendonsStage(Stage[TendonState | None]):
    """Decompression and stresses of the tendons, with the bars as they finally stand."""

    name = "tendons"
    needs = ("ultimate", "service")
    tables = ("tendons", "tendon crossings", "tendon stations")

    def asked(self, project: Project) -> bool:
        """Whether the job has tendons."""
        return bool(project.job.tendons)

    def check(self, project: Project, faults: Faults) -> None:
        """Note tendons that cannot be laid."""
        project.once("tendons", lambda: lay_tendons(project, faults))

    def run(self, project: Project, progress: Progress) -> Outcome[TendonState | None]:  # noqa: ARG002
        """Check them."""
        lines = project.once("tendons", lambda: lay_tendons(project, Faults()))
        zones = [d.zone for d in project.left(ULTIMATE).values()]
        bars = {name: b.bars for name, b in project.left(SERVICE).items()}
        state = check_tendons(lines, zones, bars, project)
        if state is None:
            return Outcome(None)
        frame = state.tendons
        bad = ~is_status(frame["status"], *HOLDS)
        groups = dict.fromkeys(t.group for t, _ in state.found)
        figures = tuple(
            Figure(f"tendons {file_name(g)}", DRAW_DIAGRAM, partial(tendon_diagram, state, g)) for g in groups
        )
        return Outcome(
            state,
            tables=state.tables,
            summary=(Table("Tendons, the worst eight", frame[SHORT].head(MOST), bad=bad),),
            sections=(Section("Tendons", (Table("", frame, NOTE, bad), Pictures(figures))),),
        )


TENDONS: Final = TendonsStage()


def tendon_diagram(state: TendonState, group: str, shown: Shown) -> DiagramDescription:
    """A group of tendons: concrete stress at both edges around the ducts, increase of their stress."""
    own = [(t, s) for t, s in state.found if t.group == group]
    longest = max(float(t.line.s[-1]) for t, _ in own)
    share = np.linspace(0.0, 1.0, 101)

    def along(pick: Callable[[TendonStresses], np.ndarray]) -> np.ndarray:
        return np.stack([np.interp(share, t.line.s / t.line.s[-1], pick(s)) for t, s in own], axis=1)

    asked = own[0][0].asked
    panels = [
        (shown.heading("upper edge [MPa]"), shown.values(along(lambda s: s.upper[:, 1]), "MPa")),
        (shown.heading("lower edge [MPa]"), shown.values(along(lambda s: s.lower[:, 1]), "MPa")),
        (shown.heading("increase of tendon stress [MPa]"), shown.values(along(lambda s: s.increase), "MPa")),
    ]
    note = Sentence(
        f"{len(own)} tendons, a line each; maximum concrete stress along them {{}} around ducts of {{}}, {{}}; "
        "increase from {} to {}",
        Measure(asked.within, "mm", "g"), Measure(asked.duct, "mm", "g"), asked.decompression,
        asked.stress_from, asked.stress_to,
    )  # fmt: skip
    return DiagramDescription(
        f"Tendons {group}", shown.text(note), shown.values(share * longest / 1e3, "m"), panels,
        shown.heading("along the tendons [m]"),
    )  # fmt: skip
