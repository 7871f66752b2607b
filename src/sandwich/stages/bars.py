"""Bars of the zones, and how far they are used."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.progress import Progress
from sandwich.core.status import HOLDS, is_status
from sandwich.design.bars import EXTRA
from sandwich.project.outcome import Figure, Outcome, Section, Table
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.maps import LIMIT_100, zone_map
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.work.bars import BarUse, bars_of

SHORT: Final = 6  # points in a terminal
LIMIT_ANALYSIS: Final = "The most used points by limit analysis of the layered section"


class BarsStage(Stage[tuple[BarUse, ...]]):
    """Utilisation of the bars that were chosen or given."""

    name = "bars"
    needs = ("ultimate", "service")
    tables = ("bars", "utilisation of bars")

    def asked(self, project: Project) -> bool:
        """Whether a zone has a rule or bars of its own."""
        return project.job.designs_shells and any(
            z.shell and (z.rule is not None or z.provided) for z in project.job.zones.values()
        )

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[BarUse, ...]]:  # noqa: ARG002
        """Hold the bars of each zone against what is required."""
        standard = project.standard
        designs = project.left(ULTIMATE)
        found = []
        for name, b in project.left(SERVICE).items():
            if b.laid is not None:
                required = b.service.required if b.service is not None else None
                final = designs[name].final
                found.append(
                    bars_of(b.zone, final, b.laid, project.ultimate_of(b.zone), standard, required, project.store)
                )
        if not found:
            return Outcome(())
        bars = pd.concat([m.bars for m in found], ignore_index=True)
        points = pd.concat([m.points for m in found], ignore_index=True)
        short = bars.drop(columns=EXTRA) if (bars[EXTRA] == "none").all() else bars
        short = short.sort_values("utilisation", ascending=False, kind="stable")
        summary = [Table("Bars", short, bad=_not_ok(short), rank=70)]
        note = (
            "Diameter and spacing of each layer against the most that any point requires. Where bars are short of what "
            "one design requires, the limit analysis below says whether the section carries its loads all the same."
        )
        blocks = [Table("", bars, note, _not_ok(bars))]
        if len(points):
            worst = points.sort_values("load factor", kind="stable").head(SHORT)
            summary.append(Table(LIMIT_ANALYSIS, worst, bad=_not_ok(worst), rank=71))
            told = (
                "Load factor of the section in forty layers, bars in tension only, strengths as in the design; "
                "utilisation is 1 over the factor."
            )
            blocks.append(Table("The most used points by limit analysis", points, told, _not_ok(points)))
        return Outcome(
            tuple(found),
            tables={"bars": bars, "utilisation of bars": points},
            summary=tuple(summary),
            figures=tuple(_map(project, m) for m in found if designs[m.zone].zone.surface is not None),
            sections=(Section("Bars", tuple(blocks), 45),),
        )


BARS: Final = BarsStage()


def _not_ok(frame: pd.DataFrame) -> np.ndarray:
    return ~is_status(frame["status"], *HOLDS)


def _map(project: Project, of: BarUse) -> Figure:
    most = np.nan_to_num(of.use.ratio, posinf=np.inf).max(1)
    ratio = 100.0 * np.where(np.isnan(of.use.ratio).all(1), np.nan, most)
    told = "the most that one design requires over the bars, of all layers; limit analysis may say less"
    z = project.left(ULTIMATE)[of.zone].zone
    return zone_map(z, "utilisation of bars", "%", np.minimum(ratio, 1e4), told, scale=LIMIT_100, rank=40)
