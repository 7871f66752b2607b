"""The building as a whole under earthquakes: drift, second order, torsion, joints, the part that walls take."""

from __future__ import annotations

from functools import partial
from typing import Final

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.status import Status, is_status
from sandwich.project.outcome import FAILS, Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.walls import WALL_CUTS
from sandwich.standards.interface import Buildings
from sandwich.work.walls.building import CheckedBuilding, checked_building, checks_frame, motion
from sandwich.work.walls.building_pictures import storeys_up
from sandwich.work.walls.sway import beyond_known

RANK: Final = 14
TITLE: Final = "The building under earthquakes"
CHECKS_TABLE: Final = "building checks"
STOREYS_TABLE: Final = "storey drifts"
SHARES_TABLE: Final = "base shear of walls"
DRAW: Final = ("building", "draw_storeys")
MOST: Final = 12
SETTINGS: Final = (
    "q_d", "importance", "nu", "partitions", "C_d", "I_e", "drift_limit", "R", "second_order", "A_x", "regular_in_plan",
    "centre_of_stiffness", "torsional_radius", "centre_of_mass", "plan",
)  # fmt: skip
NEEDED: Final = ("C_d", "R")
NOTE: Final = (
    "Seismic cases with the factors of each seismic combination, the largest of them taken as 1; displacements of the "
    "analysis times the factor of the standard. The drift of a storey is the mean of the smallest and the largest of "
    "its points."
)
NOTE_STOREYS: Final = "Under the combination with the largest drift of the storey; displacements are the largest."
NOTE_SHARES: Final = "At the foot of the lowest storey over the basement, under the combination with the largest shear."


class BuildingStage(Stage[CheckedBuilding | None]):
    """Checks of the building as a whole."""

    name = "building"
    needs = ("wall cuts",)
    tables = (CHECKS_TABLE, STOREYS_TABLE, SHARES_TABLE)

    def asked(self, project: Project) -> bool:
        """Whether the job has a building."""
        return project.job.building is not None

    def check(self, project: Project, faults: Faults) -> None:
        """Note settings that the standard does not use, those it needs, and drifts that cannot be found."""
        job, standard = project.job, project.standard
        takes = standard.building_settings if isinstance(standard, Buildings) else frozenset()
        job.refuse_unused(("building",), SETTINGS, takes, standard.name, faults)
        for key in SETTINGS:
            if key in NEEDED and key in takes and not job.writes("building", key):
                where = f"{job.path}, building.{key}"
                faults.add(where, "is missing", f"{standard.name} has displacements times a factor of the system")
        if "q_d" in takes and not job.writes("building", "q_d") and not job.seismic_walls:
            told = "displacements are those of the analysis times it: give q, or a seismic design of the walls"
            faults.add(f"{job.path}, building.q_d", "is missing", told)
        if not faults.found:
            cuts = project.left(WALL_CUTS)
            if cuts is not None:
                motion(project, cuts, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[CheckedBuilding | None]:  # noqa: ARG002
        """Look at all storeys both ways."""
        cuts = project.left(WALL_CUTS)
        found = checked_building(project, cuts) if cuts is not None else None
        if found is None:
            note = WarningNote("building", "no seismic combination", 'give one: situation = "seismic"', grave=True)
            return Outcome(None, warnings=(note,))
        checks = checks_frame(found.checks)
        bad, open_ = is_status(checks["status"], Status.EXCEEDED), is_status(checks["status"], Status.NOT_CHECKED)
        count, left = int(bad.sum()), int(open_.sum())
        told = f"building: {len(found.storeys)} storeys and directions; " + (
            f"{count} of {len(checks)} checks exceeded" if count else "all checks hold"
        )  # fmt: skip
        told += f"; {left} not checked" if left else ""
        of_nodes = project.job.building is not None and project.job.building.drifts is None
        unseen = beyond_known(project, cuts) if of_nodes and cuts is not None else []
        warnings = tuple(
            WarningNote(
                f"building, {storey}",
                f"displacements do not reach all of the floor: nodes {', '.join(nodes[:3])} lie beyond",
                "it may move more there", "rows that are missing", grave=True,
            )
            for storey, nodes in unseen
        )  # fmt: skip
        figure = Figure("building", DRAW, partial(storeys_up, found))
        blocks = (
            Pictures((figure,)),
            Table("Checks", checks, NOTE, bad),
            Table("Storeys", found.storeys, NOTE_STOREYS),
            *((Table("Base shear of the walls", found.shares, NOTE_SHARES),) if len(found.shares) else ()),
        )
        return Outcome(
            found,
            warnings=warnings,
            tables={CHECKS_TABLE: checks, STOREYS_TABLE: found.storeys, SHARES_TABLE: found.shares},
            verdict=(Text(told, "bad" if count else "plain" if left else "good", FAILS if count else RANK),),
            summary=(Table(f"Building, the worst {min(MOST, len(checks))} of {len(checks)} checks",
                           checks.head(MOST), bad=bad[:MOST]),),
            sections=(Section(TITLE, blocks, RANK),),
        )  # fmt: skip


BUILDING: Final = BuildingStage()
