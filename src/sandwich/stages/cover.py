"""Cover by exposure, and dimensions by fire resistance."""

from __future__ import annotations

from typing import Final

import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.status import Status, is_status
from sandwich.project.outcome import FAILS, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.bars import BARS
from sandwich.stages.service import SERVICE
from sandwich.stages.walls import WALL_CHECKS
from sandwich.work.cover import cover_frame, covered_part, covered_zone

RANK: Final = 47
TABLE: Final = "cover and fire"
COVER_KEYS: Final = ("design_life", "structural_class", "quality_control", "tolerance")
FIRE_KEYS: Final = ("sides", "mu_fi", "spans", "aggregate", "restrained", "continuous")
NOTE: Final = (
    "Cover to the outer bars as they lie, against what the standard asks for in the exposure of the face; minimum "
    "thickness and axis distance or cover by the tables of fire resistance: of floors at the bottom, of walls at both "
    "faces. Of the parts of walls the worst of each zone is shown. Links of the shear design are not looked at."
)


class CoverStage(Stage[pd.DataFrame]):
    """Cover and fire resistance of zones that ask for them."""

    name = "cover"
    needs = ("bars", "wall checks")
    tables = (TABLE,)

    def asked(self, project: Project) -> bool:
        """Whether a zone has an exposure or a fire resistance."""
        return any(z.exposure is not None or z.fire is not None for z in project.job.zones.values())

    def check(self, project: Project, faults: Faults) -> None:
        """Note classes, minutes and keys that the standard does not have."""
        job, standard = project.job, project.standard
        for name, zone in job.zones.items():
            where = f"{job.path}, zones.{name}"
            for face in ("bottom", "top") if zone.exposure is not None else ():
                if getattr(zone.exposure, face) not in standard.exposures:
                    found = f"'{getattr(zone.exposure, face)}' is no exposure of {standard.name}"
                    faults.add(f"{where}.exposure.{face}", found, f"there are {', '.join(standard.exposures)}")
            if zone.fire is not None and zone.fire.minutes not in standard.fire_minutes:
                told = ", ".join(map(str, standard.fire_minutes))
                faults.add(f"{where}.fire.minutes", f"{zone.fire.minutes} min is in no table", f"there are {told}")
            for table, keys, takes in (
                ("exposure", COVER_KEYS, standard.cover_settings), ("fire", FIRE_KEYS, standard.fire_settings),
            ):  # fmt: skip
                job.refuse_unused(("zones", name, table), keys, takes, standard.name, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[pd.DataFrame]:  # noqa: ARG002
        """Hold cover and dimensions against what is asked for."""
        job = project.job
        found = []
        if job.designs_shells:
            uses = {u.zone: u for u in project.left(BARS)} if BARS.asked(project) else {}
            found += [covered_zone(b.zone, uses.get(name)) for name, b in project.left(SERVICE).items()]
        if job.walls:
            parts, _ = project.left(WALL_CHECKS)
            names = [c.wall.zone_at(c.part) for c in parts]
            found += [covered_part(c, name, job.zones[name]) for c, name in zip(parts, names, strict=True)]
        frame = cover_frame(found, project.standard)
        if not len(frame):
            return Outcome(frame)
        bad = is_status(frame["status"], Status.EXCEEDED)
        told = Text(f"cover and fire: {int(bad.sum())} of {len(frame)} checks exceeded", "bad", FAILS)
        table = Table("", frame, NOTE, bad)
        return Outcome(
            frame, tables={TABLE: frame}, verdict=(told,) if bad.any() else (),
            summary=(Table("Cover and fire", frame, bad=bad, rank=74),),
            sections=(Section("Cover and fire", (table,), RANK),),
        )  # fmt: skip


COVER: Final = CoverStage()
