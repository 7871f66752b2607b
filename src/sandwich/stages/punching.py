"""Punching of the loaded areas: tables, plans, the worst of them."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.shown import Measure, Sentence, Shown
from sandwich.core.status import Status, is_status
from sandwich.design.advice import REMEDY
from sandwich.drawing.records import PlaceDescription, PlanDescription
from sandwich.project.outcome import Figure, Outcome, Section, Table
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.standards.column import Reinforcement
from sandwich.standards.interface import Standard
from sandwich.tables.write import file_name
from sandwich.work.loaded_areas import LoadedArea, loaded_areas
from sandwich.work.punching import PunchedArea, joint_perimeters, punch, punch_laid, thinner_slabs

LEVEL: Final = 0.9  # cosine of the slope up to which a slab is drawn in plan
NAME: Final = "loaded area"
MINIMUM_OVER: Final = "minimum bars over it [mm2/m]"
TERMINAL: Final = {
    NAME: NAME, "where": "where", "V [kN]": "V [kN]", "v_Ed [MPa]": "v_Ed [MPa]", "utilisation": "utilisation",
    "utilisation at the face": "at the face", "perimeters of reinforcement": "perimeters",
    "status": "status", REMEDY: REMEDY,
}  # fmt: skip
REPORT: Final = (
    NAME, "kind", "combination", "V [kN]", "V e along c1 [kNm]", "V e across [kNm]", "V by the other method [kN]",
    "d [mm]", "perimeter [mm]", "v_Ed [MPa]", "v_Rd,c [MPa]", "utilisation", "utilisation at the face",
    "bars over it", "bars raised by", "status", REMEDY,
)  # fmt: skip
MOST: Final = 8  # loaded areas in a terminal


class PunchingStage(Stage[tuple[PunchedArea, ...]]):
    """Punching of every loaded area."""

    name = "punching"
    needs = ("ultimate", "service")
    tables = ("punching", "punching perimeters")

    def asked(self, project: Project) -> bool:
        """Whether the job names loaded areas."""
        return bool(project.job.punching)

    def check(self, project: Project, faults: Faults) -> None:
        """Note where flexure cannot take more of a moment."""
        job = project.job
        for name, entry in job.punching.items():
            where, zone = f"{job.path}, punching.{name}.modified_gamma_f", job.zones.get(entry.zone)
            if not entry.modified_gamma_f or zone is None:
                continue
            if not project.standard.modifies_transfer:
                faults.add(where, f"{project.standard.name} has one part of a moment for flexure", "take it out")
            elif zone.column_bars is None:
                faults.add(
                    where, "the moment that flexure takes needs bars", f"give zones.{entry.zone}.column_bars = {{}}"
                )
            elif any(t.zone == entry.zone for t in job.tendons.values()):
                faults.add(where, "8.4.2.2.4 is for slabs without tendons", "take it out")

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[PunchedArea, ...]]:  # noqa: ARG002
        """Check the loaded areas with the bars that lie there, where they are chosen or given."""
        standard, laid = project.standard, project.left(SERVICE)
        areas = loaded_areas(project, Faults())
        found: list[PunchedArea] = []
        for name, d in project.left(ULTIMATE).items():
            designed = d.punched if d.punched is not None else punch(areas, d.zone, d.own, standard)[0]
            bars = laid[name].laid
            if bars is not None and not all(f.steel.laid for f in designed):
                designed = punch_laid(designed, d.zone, bars, standard)
            found += designed
        if not found:
            return Outcome(())
        frame, rows = punching_frame(found, standard), rows_frame(found, standard)
        tables = {"punching": frame} | ({"punching perimeters": rows} if len(rows) else {})
        clause = standard.clauses["punching"]
        bad = is_status(frame["status"], Status.EXCEEDED)
        more = f"{len(frame)} loaded areas" + (", the worst eight" if len(frame) > MOST else "")
        short = frame[list(TERMINAL)].rename(columns=TERMINAL).head(MOST)
        zones = dict.fromkeys(f.area.zone for f in found)
        note = (
            "The worst combination of each loaded area, the worst area first. V is the force without the load on the "
            "elements beside the area; where it came from reactions, the other way is by the resultants of these "
            "elements, and the reverse. The bars over it are those provided where bars are chosen or given, at their "
            "own depth, else those required; they were raised as required ones, before they were chosen."
        )
        blocks = [Table("", frame[list(REPORT)], note, bad)]
        blocks += [Table("Perimeters of punching reinforcement", rows)] if len(rows) else []
        return Outcome(
            tuple(found),
            tables=tables,
            summary=(Table(f"Punching, clause {clause}: {more}", short, bad=bad),),
            figures=tuple(_plan([f for f in found if f.area.zone == zone], zone, standard) for zone in zones),
            warnings=(*thinner_slabs(found, project), *joint_perimeters(found, project)),
            sections=(Section("Punching", tuple(blocks)),),
        )


PUNCHING: Final = PunchingStage()


def punching_frame(found: list[PunchedArea], standard: Standard) -> pd.DataFrame:
    """One row a loaded area, the worst first."""
    rows = []
    for f in sorted(found, key=lambda f: -max(f.punched.use, f.punched.use_face)):
        p, area, r = f.punched, f.area, f.punched.reinforcement
        there = r if r is not None and not r.why else Reinforcement()
        rows.append(
            {
                NAME: area.name, "zone": area.zone, "kind": area.entry.kind, "where": f.column.place,
                "combination": area.chosen.names[f.by],
                "V [kN]": area.forces.V[f.by] / 1e3,
                "V e along c1 [kNm]": area.forces.moment[f.by, 0] / 1e6,
                "V e across [kNm]": area.forces.moment[f.by, 1] / 1e6,
                "d [mm]": f.column.d, "perimeter [mm]": f.column.control.u,
                "v_Ed [MPa]": p.v_Ed, "v_Rd,c [MPa]": p.v_Rd_c, "utilisation": p.use,
                "v_Ed,face [MPa]": p.v_face, "v_Rd,max [MPa]": p.v_max,
                "utilisation at the face": p.use_face,
                "combination at the face": area.chosen.names[f.face_by],
                "clause": standard.clauses["punching"],
                "bars over it": "provided" if f.steel.laid else "required",
                "bars raised by": f.raised, MINIMUM_OVER: f.minimum * 1e3,
                "perimeters of reinforcement": len(there.distance),
                "area a perimeter [mm2]": max(there.area, default=0.0),
                "V by the other method [kN]": np.nan if area.other is None else area.other.V[f.by] / 1e3,
                "status": f.status, REMEDY: f.remedy,
            }
        )  # fmt: skip
    return pd.DataFrame(rows)


def rows_frame(found: list[PunchedArea], standard: Standard) -> pd.DataFrame:
    """One row a perimeter of punching reinforcement."""
    out = []
    for f in found:
        r = f.punched.reinforcement
        if r is not None and not r.why:
            columns = {
                NAME: f.area.name, "perimeter": np.arange(len(r.distance)) + 1, "from the face [mm]": r.distance,
                "length [mm]": r.length, "area [mm2]": r.area, "minimum legs": r.legs,
                "clause": standard.clauses["punching links"],
            }  # fmt: skip
            out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True) if out else pd.DataFrame()


def _plan(found: list[PunchedArea], zone: str, standard: Standard) -> Figure:
    """The plan of a slab with its loaded areas, the worst first."""

    def describe(shown: Shown) -> PlanDescription:
        order = sorted(found, key=lambda f: -max(f.punched.use, f.punched.use_face))
        first = order[0].area
        level = abs(first.axes[2, 2]) > LEVEL
        basis = np.eye(3)[:2] if level else first.axes[:2]

        def plan(xy: np.ndarray, area: LoadedArea) -> np.ndarray:
            """Places in the axes of a loaded area, in those of the picture."""
            return np.asarray((area.origin + xy @ area.axes[:2]) @ basis.T / 1e3 * shown.factor("m"))

        rings = [plan(np.array(ring.coords), first) for ring in (first.slab.exterior, *first.slab.interiors)]
        places = []
        for f in order:
            p, c = f.punched, f.column
            rows = p.reinforcement.distance if p.reinforcement is not None else ()
            laid = [c.at(a, "round").segments for a in rows]
            told = Sentence(
                "V {}, {} of {}, {}", Measure(abs(f.load.V) / 1e3, "kN"), f"{p.v_Ed:.3g}",
                Measure(p.v_Rd_c, "MPa", ".3g"), f.status,
            )  # fmt: skip
            places.append(
                PlaceDescription(
                    name=f.area.name,
                    told=shown.text(told),
                    area=plan(np.array(f.area.area(c.d, standard).exterior.coords)[:-1], f.area),
                    perimeter=plan(c.control.segments, f.area),
                    behind=plan(f.area.behind(c, standard), f.area),
                    rows=plan(np.concatenate(laid) if laid else np.zeros((0, 2, 2)), f.area),
                    use=max(p.use, p.use_face),
                    fails=f.exceeded,
                    panel=f.area.entry.is_panel,
                )
            )
        note = (
            f"maximum utilisation of each loaded area without punching reinforcement; {standard.name}, clause "
            f"{standard.clauses['punching']}"
        )
        axes = [shown.heading(f"{a} [m]") for a in (("x", "y") if level else ("along", "across"))]
        return PlanDescription(f"{zone}: punching", note, rings, places, (axes[0], axes[1]))

    return Figure(f"{file_name(zone)} punching", ("perimeters", "draw_plan"), describe, zone, 95)
