"""Checks of the building as a whole: storeys that sway, floors that turn, joints, the part that walls take."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.shown import Sentence
from sandwich.core.status import Status
from sandwich.design.walls.checks import PartCheck, governs
from sandwich.design.walls.ends import HELD
from sandwich.job.building import Building, Neighbour
from sandwich.job.walls import Seismic
from sandwich.model.walls.stiffness import PlanStiffness, plan_stiffness
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.standards.interface import BuildingDemand, Buildings, SeismicWalls, Standard, Sway
from sandwich.standards.interface.building import ECCENTRICITY, SECOND_ORDER
from sandwich.work.walls.checks import worst_first
from sandwich.work.walls.given import standing
from sandwich.work.walls.stations import WallCuts
from sandwich.work.walls.sway import WAYS, BuildingMotion, StoreyMotion, motion_of, sections_at

Floats = NDArray[np.float64]
Q_0: Final = 3.0  # where nothing is said of it
NO_LOADS: Final = "loads and shears of the storeys are not known"
CHECKS: Final = ["storey", "direction", "check", "utilisation", "demand", "capacity", "unit", "combination", "clause",
                 "status"]  # fmt: skip
STOREYS: Final = [
    "storey", "direction", "height [m]", "drift [mm]", "design drift [mm]", "drift/height [%]",
    "design displacement [mm]", "largest over mean [-]", "P [kN]", "V [kN]", "second order [-]", "combination",
]  # fmt: skip
SHARES: Final = ["direction", "wall", "V [kN]", "V of the storey [kN]", "share [%]", "system", "clause"]


@dataclass(frozen=True)
class BuildingCheck:
    """One check of the building; `check` is None where it is not made, and `told` says why not."""

    storey: str
    way: str
    name: str
    check: PartCheck | None
    combination: str
    told: str = ""


@dataclass(frozen=True)
class CheckedBuilding:
    """Checks, what each storey does, and the part of the base shear that walls take."""

    motion: BuildingMotion
    demand: BuildingDemand
    checks: list[BuildingCheck]
    storeys: pd.DataFrame
    shares: pd.DataFrame


def demand_of(project: Project, asked: Building) -> BuildingDemand:
    """Settings as the standard takes them."""
    walls = [w.seismic for w in project.job.walls.values() if w.seismic is not None]
    # k_w, up to 1, is left out, which makes displacements no smaller
    q = [w.q if w.q is not None else basic_factor(w, project.standard) for w in walls]
    q_d = asked.q_d if asked.q_d is not None else max(q, default=1.0)
    return BuildingDemand(
        q_d=q_d, nu=math.nan if asked.nu is None else asked.nu, drift=asked.drift_limit,
        importance=asked.importance, partitions=asked.partitions, C_d=asked.C_d or 1.0, I_e=asked.I_e,
        R=asked.R or 1.0, second_order=asked.second_order, A_x=asked.A_x,
    )  # fmt: skip


def basic_factor(asked: Seismic, standard: Standard) -> float:
    """Basic value of the behaviour factor of a seismic design [-]."""
    if asked.system is None or not isinstance(standard, SeismicWalls):
        return asked.q_0 if asked.q_0 is not None else Q_0
    return standard.behaviour(
        asked.system, asked.alpha_u_1, (), (), high=asked.ductility == "DCH", regular=asked.regular
    )[0]


def motion(project: Project, cuts: WallCuts, faults: Faults | None = None) -> BuildingMotion | None:
    """How the building of a job moves, found once."""
    return project.once("building motion", lambda: motion_of(project, cuts, faults or Faults()))


def checked_building(project: Project, cuts: WallCuts) -> CheckedBuilding | None:
    """All checks of the building of a job; None without one, or without seismic combinations."""
    asked, standard, moves = project.job.building, project.standard, motion(project, cuts)
    if asked is None or moves is None or not moves.rows or not isinstance(standard, Buildings):
        return None
    of = demand_of(project, asked)
    checks: list[BuildingCheck] = []
    rows = []
    base = next((s for s in moves.storeys if not s.storey.basement), moves.storeys[-1])
    for at in moves.storeys:
        if at.storey.basement:
            continue
        for way, name in enumerate(WAYS):
            sway = moves.sway(at, way, standard)
            if not sway.drift.max(initial=0.0) > 0.0:
                continue
            found = standard.sway_checks(sway, of)
            for c in found:
                worst = governs(c, np.arange(len(moves.rows)))
                checks.append(BuildingCheck(at.storey.name, name, c.name, worst, moves.rows[worst.index].name))
            if all(c.name != SECOND_ORDER for c in found):
                checks.append(BuildingCheck(at.storey.name, name, SECOND_ORDER, None, "", NO_LOADS))
            rows.append(_row(at, name, sway, moves, standard, of))
        if asked.torsional_radius is None or at is base:
            checks += _torsion(cuts, at.storey, asked, standard)
    for neighbour in asked.neighbours:
        checks.append(_joint(moves, neighbour, standard, of))
    storeys = pd.DataFrame(rows, columns=STOREYS)
    return CheckedBuilding(moves, of, checks, storeys, _shares(project, cuts, moves, standard))


def _row(
    at: StoreyMotion, way: str, sway: Sway, moves: BuildingMotion, standard: Buildings, of: BuildingDemand
) -> dict[str, object]:
    """What a storey does under the combination with its largest drift."""
    i = int(np.argmax(sway.drift))
    drift = float(standard.design_displacement(sway.drift[i], of))
    loads = bool(np.isfinite(sway.P).all() and np.isfinite(sway.V).all())
    return {
        "storey": at.storey.name, "direction": way, "height [m]": sway.h / 1e3, "drift [mm]": float(sway.drift[i]),
        "design drift [mm]": drift, "drift/height [%]": 100.0 * drift / sway.h,
        "design displacement [mm]": float(standard.design_displacement(sway.top_most, of).max()),
        "largest over mean [-]": float(sway.drift_most[i] / sway.drift[i]), "P [kN]": float(sway.P[i]) / 1e3,
        "V [kN]": float(sway.V[i]) / 1e3, "second order [-]": float(standard.theta(sway, of)[i]) if loads else math.nan,
        "combination": moves.rows[i].name,
    }  # fmt: skip


def plan_of_walls(cuts: WallCuts, storey: Storey) -> PlanStiffness | None:
    """Stiffness of all walls in plan at mid-height of a storey."""
    z = (storey.low + storey.high) / 2.0
    walls = cuts.walls.walls
    return plan_stiffness([standing(w, z) for w in walls], [w.panels for w in walls])


def _torsion(cuts: WallCuts, storey: Storey, asked: Building, standard: Buildings) -> list[BuildingCheck]:
    """Eccentricity and torsional radius of a storey, of standards that ask for them."""
    if not standard.torsion_checks(0.0, 1.0, (1.0, 1.0)):
        return []
    plan = asked.plan
    if plan is None and cuts.walls.mesh is not None:
        xy = cuts.walls.mesh.xyz[np.abs(cuts.walls.mesh.xyz[:, 2] - storey.high) < 1.0, :2] / 1e3
        plan = (*xy.min(0), *xy.max(0)) if len(xy) else None
    if asked.centre_of_stiffness is not None and asked.torsional_radius is not None:
        centre, radius = ([1e3 * v for v in of] for of in (asked.centre_of_stiffness, asked.torsional_radius))
        stiff: PlanStiffness | None = PlanStiffness((centre[0], centre[1]), (radius[0], radius[1]))
    else:
        stiff = plan_of_walls(cuts, storey)
    out: list[BuildingCheck] = []
    for way, name in enumerate(WAYS):
        if stiff is None or plan is None:
            told = "walls in one direction alone" if stiff is None else "give plan: x, y, x, y of the floor in m"
            out.append(BuildingCheck(storey.name, name, "torsional radius", None, "", told))
            continue
        mass = asked.centre_of_mass or ((plan[0] + plan[2]) / 2.0, (plan[1] + plan[3]) / 2.0)
        e_0 = abs(1e3 * mass[way] - stiff.centre[way])
        sides = 1e3 * (plan[2] - plan[0]), 1e3 * (plan[3] - plan[1])
        out += [
            BuildingCheck(storey.name, name, c.name, governs(c), "")
            for c in standard.torsion_checks(e_0, stiff.radius[way], sides)
            if asked.regular_in_plan or c.name != ECCENTRICITY
        ]
    return out


def _joint(moves: BuildingMotion, to: Neighbour, standard: Buildings, of: BuildingDemand) -> BuildingCheck:
    """Width of the joint to a neighbour, at the highest floor of this building that it reaches."""
    way = "xy".index(to.side[1])
    reached = [s for s in moves.storeys if to.top is None or s.storey.high <= 1e3 * to.top + 1.0]
    at = reached[-1] if reached else moves.storeys[0]
    where = at.storey.name
    name = f"joint at {to.side}"
    if not np.isfinite(at.top[np.abs(moves.seismic).max(0) > 0.0]).all():
        return BuildingCheck(where, "xy"[way], name, None, "", "give displacements too: ux and uy")
    own = standard.design_displacement(moves.sway(at, way, standard).top_most, of)
    width, clause = standard.joint(own, to.displacement, of, aligned=to.aligned)
    i = int(np.argmax(width))
    most = float(width[i])
    check = PartCheck(
        name=name, clause=clause, demand=most, capacity=to.gap, unit="mm",
        utilisation=most / to.gap if to.gap > 0.0 else math.inf, index=i,
        note=Sentence.minimum("a gap of {}", most),
    )  # fmt: skip
    return BuildingCheck(where, "xy"[way], name, check, moves.rows[i].name)


def _shares(project: Project, cuts: WallCuts, moves: BuildingMotion, standard: Buildings) -> pd.DataFrame:
    """Part of the base shear that each wall takes, under the combination with the largest shear."""
    base = next((s for s in moves.storeys if not s.storey.basement), moves.storeys[-1])
    factors, rows = moves.seismic, []
    for way, name in enumerate(WAYS):
        of_walls = {
            w.name: moves.combined(sections_at(project, cuts, base.storey.name, w.name)[:, way], factors)
            for w in cuts.walls.walls
        }
        total = moves.combined(base.forces[:, 1 + way], factors)
        i = int(np.argmax(total)) if np.isfinite(total).all() else int(np.argmax(np.sum(list(of_walls.values()), 0)))
        if not max((float(v[i]) for v in of_walls.values()), default=0.0) > 0.0:
            continue
        whole = float(total[i])
        for wall, V in of_walls.items():
            share = 100.0 * float(V[i]) / whole if whole > 0.0 else math.nan
            rows.append([name, wall, float(V[i]) / 1e3, whole / 1e3, share, "", ""])
        if of_walls and whole > 0.0:
            share = min(sum(float(V[i]) for V in of_walls.values()) / whole, 1.0)
            system, clause = standard.system(share)
            V_all = sum(float(V[i]) for V in of_walls.values())
            rows.append([name, "all walls", V_all / 1e3, whole / 1e3, 100.0 * share, system, clause])
    return pd.DataFrame(rows, columns=SHARES)


def checks_frame(checks: list[BuildingCheck]) -> pd.DataFrame:
    """One row a check, the worst first; those that are not made last."""
    rows = []
    for c in checks:
        k = c.check
        own: dict[str, object] = {"storey": c.storey, "direction": c.way, "check": c.name, "combination": c.combination}
        if k is None:
            own |= {"utilisation": math.nan, "demand": math.nan, "capacity": math.nan, "unit": "", "clause": "",
                    "status": Status.NOT_CHECKED.because(c.told)}  # fmt: skip
        else:
            status = Status.EXCEEDED.because(k.note) if k.utilisation > HELD else str(Status.OK)
            own |= {"utilisation": k.utilisation, "demand": k.demand, "capacity": k.capacity, "unit": k.unit,
                    "clause": k.clause, "status": status}  # fmt: skip
        rows.append(own)
    return worst_first(pd.DataFrame(rows, columns=CHECKS))
