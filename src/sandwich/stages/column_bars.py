"""Bars over and through columns: what lies near them against what the clauses ask for."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.advice import REMEDY
from sandwich.design.bar_sets import Given
from sandwich.project.outcome import FAILS, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.bars import BARS
from sandwich.stages.punching import PUNCHING
from sandwich.stages.ultimate import ULTIMATE
from sandwich.work.column_bars import (
    MOMENT,
    THROUGH,
    TOP,
    Band,
    BarsThrough,
    askew,
    bands_of,
    bars_through,
    provided_in,
    weights_in,
)
from sandwich.work.layout import plan_at
from sandwich.work.punching import PunchedArea, supported

RANK: Final = 45
TABLE: Final = "column bars"
MOST: Final = 8  # rows in a terminal
TITLE: Final = "Bars over and through columns"
NOTE: Final = (
    "Top bars near internal columns: those required by strength across both half panels beside the column, at stations "
    "along the bars, against what lies in the width over it; the worst station is shown. A moment to a column is taken "
    "with a lever arm of 0.9 d. Bottom bars through a column are those that a base mesh surely has inside the column "
    "wherever its bars lie, and the bars that are added; these stand in the bar schedule."
)
NOTHING: Final = (
    "column_bars asks for nothing: no column is internal, with columns on both sides, and none at a free edge takes a "
    "moment"
)
LOST: Final = "a point of the panels beside it fails"
ASKEW: Final = "bars are askew of the free edge"
TURN: Final = "give bars along and across it in a zone about the column"
SHORT: Final = ("column", "layer", "check", "demand", "capacity", "unit", "utilisation", "added bars", "status", REMEDY)


class ColumnBarsStage(Stage[pd.DataFrame]):
    """Bars over and through the columns of zones that ask for them."""

    name = "column bars"
    needs = ("ultimate", "punching", "bars")
    tables = (TABLE,)

    def asked(self, project: Project) -> bool:
        """Whether a zone asks for them."""
        return any(z.column_bars is not None for z in project.job.zones.values())

    def check(self, project: Project, faults: Faults) -> None:
        """Note zones without columns or a plane, and settings for which the standard has no rule."""
        job, standard = project.job, project.standard
        for z in project.zones:
            where, asked = f"{job.path}, zones.{z.name}.column_bars", z.zone.column_bars
            if asked is None:
                continue
            if z.turn is not None:
                faults.add(where, "goes without top_direction: its bands follow the bars of the zone", "take one out")
            plan = plan_at(z)
            if isinstance(plan, str) or plan.radius:
                faults.add(where, "goes with bars that keep one direction in a plane", "take it out")
            if not any(p.zone == z.name and p.kind == "column" for p in job.punching.values()):
                faults.add(where, "no column stands on the zone", "name its columns in [punching], or take it out")
            rules = {"panel": standard.top_near_column(1.0, 1.0, 1.0), "through": standard.through_column()}
            takes = [key for key, rule in rules.items() if rule is not None]
            job.refuse_unused(("zones", z.name, "column_bars"), rules, takes, standard.name, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[pd.DataFrame]:  # noqa: ARG002
        """Hold the bars near columns against what is asked for."""
        designs, punched = project.left(ULTIMATE), project.left(PUNCHING)
        rows: list[dict[str, object]] = []
        warnings = []
        for use in project.left(BARS):
            z = designs[use.zone].zone
            if z.zone.column_bars is not None:
                own = _rows(z, use.given, designs[use.zone].own.a_s_ultimate, punched, project)
                rows += own
                if not own:
                    warnings.append(WarningNote(f"zone {z.name}", NOTHING))
        frame = pd.DataFrame(rows)
        if frame.empty:
            return Outcome(frame, warnings=tuple(warnings))
        # bars through columns are added until they are enough: they stand last; what is not checked follows what fails
        frame = frame.sort_values("utilisation", ascending=False, kind="stable", key=lambda u: u.fillna(1.0))
        frame = frame.sort_values("check", key=lambda c: c == THROUGH, kind="stable").reset_index(drop=True)
        bad, open_ = is_status(frame["status"], Status.EXCEEDED), is_status(frame["status"], Status.NOT_CHECKED)
        words = f"bars over and through columns: {int(bad.sum())} of {len(frame)} checks exceeded"
        words += f", {int(open_.sum())} not checked" if open_.any() else ""
        told = Text(words, "bad" if bad.any() else "plain", FAILS)
        title = TITLE + (f": {len(frame)} checks, the worst eight" if len(frame) > MOST else "")
        return Outcome(
            frame, warnings=tuple(warnings), tables={TABLE: frame}, verdict=(told,) if (bad | open_).any() else (),
            summary=(Table(title, frame[list(SHORT)].head(MOST), bad=bad[:MOST], rank=71),),
            sections=(Section(TITLE, (Table("", frame, NOTE, bad),), RANK),),
        )  # fmt: skip


COLUMN_BARS: Final = ColumnBarsStage()


def through_columns(
    z: ZoneInput, given: Given, punched: tuple[PunchedArea, ...], project: Project
) -> list[BarsThrough]:
    """Bars through the columns of a zone."""
    own = [supported(p) for p in punched if p.area.zone == z.name]
    return bars_through(own, z, given, z.settings(project.standard))


def _rows(
    z: ZoneInput, given: Given, strength: np.ndarray, punched: tuple[PunchedArea, ...], project: Project
) -> list[dict[str, object]]:
    """A row a band of bars, and one a layer of bars through a column."""
    settings = z.settings(project.standard)
    own = [supported(p) for p in punched if p.area.zone == z.name]
    weights = weights_in(z, settings)
    out = []
    for b in bands_of(own, z, strength, settings):
        there = provided_in(b, weights, given.area)
        with np.errstate(divide="ignore", invalid="ignore"):
            use = np.where(b.need == 0.0, 0.0, b.need / there)
        out.append(band_row(z.name, b, settings.names[b.number], there, use))
    for name, moment, clause in askew(own, z, settings):
        out.append({
            "zone": z.name, "column": name, "layer": "", "check": MOMENT, "clause": clause, "width [mm]": np.nan,
            "panels [mm2]": np.nan, "moment [kNm]": moment / 1e6, "demand": np.nan, "capacity": np.nan,
            "unit": "mm2/m", "utilisation": np.nan, "added bars": 0, "status": Status.NOT_CHECKED.because(ASKEW),
            REMEDY: TURN,
        })  # fmt: skip
    return out + [
        {
            "zone": z.name, "column": t.column, "layer": settings.names[t.number], "check": THROUGH,
            "clause": t.rule.clause, "width [mm]": np.nan, "panels [mm2]": np.nan, "moment [kNm]": np.nan,
            "demand": float(t.rule.number), "capacity": float(t.base + t.added), "unit": "bars",
            "utilisation": t.rule.number / (t.base + t.added), "added bars": t.added, "status": Status.OK, REMEDY: "",
        }
        for t in through_columns(z, given, punched, project)
    ]  # fmt: skip


def band_row(zone: str, b: Band, layer: str, provided: np.ndarray, uses: np.ndarray) -> dict[str, object]:
    """The worst station of a band."""
    lost = np.isnan(uses)
    k = int(np.where(lost, np.inf, uses).argmax())
    need, there, use, whole = (float(v[k]) for v in (b.need, provided, uses, b.whole))
    top = b.check == TOP
    more = Sentence("{} in {}", Measure(1e3 * need, "mm2/m", ".0f"), Measure(b.rule.width, "mm", ".0f"))
    held = lost.any() or use <= 1.0 + 1e-9
    status = Status.NOT_CHECKED.because(LOST) if lost.any() else Status.OK if held else Status.EXCEEDED
    return {
        "zone": zone, "column": b.column, "layer": layer, "check": b.check, "clause": b.rule.clause,
        "width [mm]": b.rule.width, "panels [mm2]": whole if top else np.nan,
        "moment [kNm]": np.nan if top else whole / 1e6, "demand": 1e3 * need, "capacity": 1e3 * there,
        "unit": "mm2/m", "utilisation": use, "added bars": 0, "status": status,
        REMEDY: "" if held else more,
    }  # fmt: skip
