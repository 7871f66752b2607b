"""The worked calculation of a whole section of a wall."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from sandwich.core.trace import Quantity, Sheet, Step, recording
from sandwich.design.walls.checks import BENDING
from sandwich.design.walls.worked import KN, KNM, once, result_step, strength_steps
from sandwich.project.project import Project
from sandwich.standards.interface import TorsionWalls
from sandwich.work.walls.sections import CheckedSection
from sandwich.work.walls.stations import WallCuts


def worked_section(project: Project, cuts: WallCuts, c: CheckedSection, concrete: object, steel: object) -> Sheet:
    """Bending with axial force and torsion of a whole section under their governing combinations.

    Parameters
    ----------
    project, cuts : Project, WallCuts
        The job and its cuts.
    c : CheckedSection
        The section.
    concrete, steel : Concrete, Steel
        Its materials.

    Returns
    -------
    Sheet
        The utilisations as the answer.
    """
    d, i, s = c.demand, c.index, c.station
    situation = str(c.situations[d.combination[i]])
    with recording() as sheet:
        sheet.heading = "Section"
        sheet.add(Step(
            "Outline, bars and centroid", f"{s.by} at the {s.at}, {s.place / 1e3:.2f} m", "",
            (
                Quantity("panels", " ".join(dict.fromkeys(r.panel for r in s.runs)), ""),
                Quantity("flanges", c.flanges, ""),
            ),
            (
                Quantity("area", c.section.A, "mm2"), Quantity("bars", len(c.section.area), ""),
                Quantity("area of bars", float(c.section.area.sum()), "mm2"),
                *(Quantity(f"centroid {a}", float(v), "mm") for a, v in zip("xy", c.section.centroid, strict=True)),
            ),
        ))  # fmt: skip
        sheet.heading = "Bending with axial force"
        project.standard.member_law(concrete, steel, situation)  # type: ignore[arg-type]
        acting = (
            Quantity("N", float(d.N[i]) * KN, "kN"), Quantity("Mx", float(d.M_out[i]) * KNM, "kNm"),
            Quantity("My", float(d.M[i]) * KNM, "kNm"),
        )  # fmt: skip
        sheet.add(Step("Forces about its own centroid", cuts.rows[d.combination[i]].name, "", (), acting))
        for step in strength_steps(c.strength, float(d.N[i]), float(d.M[i]), float(d.M_out[i])):
            sheet.add(step)
        if c.torsion and c.closed is not None and isinstance(project.standard, TorsionWalls):
            sheet.heading = "Torsion with shear"
            _torsion(project.standard, cuts, c, sheet)
    once(sheet)
    torsion = (Quantity(t.name, t.utilisation, "-") for t in c.torsion)
    sheet.answer = (Quantity(BENDING, c.utilisation, "-"), *torsion)
    return sheet


def _torsion(standard: TorsionWalls, cuts: WallCuts, c: CheckedSection, sheet: Sheet) -> None:
    forces = cuts.combined(c.station)
    most = np.abs(forces.steady) + forces.either
    for index in dict.fromkeys(t.index for t in c.torsion):
        row = cuts.rows[index]
        T, V_1, V_2 = (float(most[index, j]) for j in (5, 1, 2))
        acting = (Quantity("T", T * KNM, "kNm"), Quantity("V1", V_1 * KN, "kN"), Quantity("V2", V_2 * KN, "kN"))
        sheet.add(Step("Forces", row.name, "", (), acting))
        assert c.closed is not None
        of = replace(c.closed, situation=row.situation)
        inside = (Quantity("area inside", of.area, "mm2"), Quantity("thinnest wall", of.thickness, "mm"))
        sheet.add(Step("Closed section", "middle line of its outer walls", "", (), inside))
        standard.torsion(of, T, V_1, V_2)
        for t in c.torsion:
            if t.index == index:
                sheet.add(result_step(t))
