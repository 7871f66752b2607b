"""Shear of seismic walls, amplified as the standard has it, and their moments up the height."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.shown import Sentence, Words
from sandwich.core.trace import unrecorded
from sandwich.design.walls.bars import LintelSteel, WallSteel
from sandwich.design.walls.checks import SEISMIC, PartCheck, bending, governs, wall_part
from sandwich.design.walls.ends import bars_alone
from sandwich.job.walls import Seismic
from sandwich.project.project import Project
from sandwich.standards.interface import MemberCheck, SeismicShear, SeismicWalls, WallPart
from sandwich.standards.interface.seismic_names import (
    CURTAINS,
    DIAMETER_H,
    DIAMETER_V,
    JOINT,
    LARGE,
    MINIMUM_V,
    OVER,
    SPACING_V,
    WEB,
)
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.dynamic import DYNAMIC, DYNAMIC_OUT, dynamic_checks
from sandwich.work.walls.ends import SeismicEnds
from sandwich.work.walls.feet import seismic_foot
from sandwich.work.walls.stations import WallCuts

UP: Final = "bending up the height"
MORE_V: Final = "more vertical bars"
# what vertical bars mend, and what no bars do
BY_VERTICAL: Final = (
    "vertical web bars", "sliding at joints", "sliding at the base", UP, MINIMUM_V, SPACING_V, DIAMETER_V, JOINT, OVER,
    DYNAMIC, DYNAMIC_OUT,
)  # fmt: skip
BY_NO_BARS: Final = (WEB, CURTAINS, LARGE)


@dataclass(frozen=True)
class CheckedShear:
    """One check of the shear of a part of a seismic wall, under the demand that governs it."""

    part: CheckedPart
    check: PartCheck
    factor: float
    clause: str
    combination: str
    remedy: Words


def shears_of(project: Project, cuts: WallCuts, parts: list[CheckedPart]) -> list[CheckedShear]:
    """Shear of all piers and walls of seismic walls, amplified as the standard has it."""
    if not isinstance(project.standard, SeismicWalls):
        return []
    ends = SeismicEnds(project, cuts, parts, project.standard)
    return [s for c in parts for s in shears_at(ends, c)]


def shears_at(
    ends: SeismicEnds, c: CheckedPart, steel: WallSteel | None = None, *, bends: bool = True, exact: bool = True
) -> list[CheckedShear]:
    """Shear and bending of one part of a seismic wall, with its own bars or others.

    `bends` says whether bending is looked at, `exact` whether its utilisation is wanted or whether it holds alone.
    """
    laid = steel or c.steel
    d, found = c.member.demand, _looked_at(ends, c, laid)
    if found is None or not isinstance(laid, WallSteel):
        return []
    of, mine, (factor, clause, checks), rows = *found, ends.cuts.rows
    out = []
    for check in checks:
        worst = governs(check, mine)
        # what asks of the bars alone has one demand, and no combination
        alone = np.size(check.demand) == 1 and len(mine) > 1
        name = "" if alone else rows[d.combination[worst.index]].name
        remedy = _more(worst, of.part) if worst.utilisation > 1.0 else ""
        out.append(CheckedShear(c, worst, factor, clause, name, remedy))
    together = _together(ends, c) if steel is None else None  # no bars mend it
    if together is not None:
        out.append(CheckedShear(c, together, factor, clause, rows[together.index].name, together.note))
    if not bends:
        return out
    moment = _moment_up(ends, c, laid, of, exact=exact)
    return [*out, *([moment] if moment is not None else []), *_dynamic(ends, c, laid, of, exact=exact)]


Found = tuple[float, str, tuple[MemberCheck, ...]]


def _looked_at(
    ends: SeismicEnds, c: CheckedPart, steel: WallSteel | LintelSteel
) -> tuple[SeismicShear, NDArray[np.int64], Found] | None:
    """A part as its shear looks at it, its seismic demands, and factor, clause and checks; None where it has none."""
    asked, d = ends.asked(c), c.member.demand
    mine = np.flatnonzero(c.member.situations[d.combination] == SEISMIC)
    if asked is None or not isinstance(steel, WallSteel) or not len(mine) or ends.column(c):
        return None
    of = _shear_of(ends, c, steel, asked)
    # the largest moment in the storey of the same combination gives the shear span
    most = np.zeros(len(ends.cuts.rows))
    np.maximum.at(most, d.combination[mine], np.abs(d.M[mine]))
    N = d.N[mine] * (c.geometry.along / c.geometry.length)  # of a curved part what its extent has of it
    return of, mine, ends.standard.seismic_shear(of, d.V[mine], N, most[d.combination[mine]])


def _together(ends: SeismicEnds, c: CheckedPart) -> PartCheck | None:
    """All piers of a wall in one direction of a storey, each with its own factor, told at the first of them."""
    piers = ends.piers(c)
    if not piers or piers[0].part is not c.part:
        return None
    V = np.zeros(len(ends.cuts.rows))
    parts: list[WallPart] = []
    for p in piers:
        with unrecorded():
            found = _looked_at(ends, p, p.steel)
        if found is None:
            continue
        of, mine, (factor, _, _) = found
        most = np.zeros(len(V))
        np.maximum.at(most, p.member.demand.combination[mine], np.abs(p.member.demand.V[mine]))
        V += factor * most
        parts.append(of.part)
    check = ends.standard.piers(parts, V) if parts else None
    worst = None if check is None else governs(check, np.arange(len(V)))
    return None if worst is None else replace(worst, note=worst.note if worst.utilisation > 1.0 else "")


def _shear_of(ends: SeismicEnds, c: CheckedPart, steel: WallSteel, asked: Seismic) -> SeismicShear:
    """A part as its seismic shear looks at it."""
    at = ends.place(c)
    foot = at.foot if at.foot.part is not c.part else replace(c, steel=steel)
    M_u, V_u, M_R = ends.base(foot)
    M_n, M_pr = ends.probable(foot)
    return SeismicShear(
        part=wall_part(c.geometry, steel, c.member.of, SEISMIC), h_w=at.h_w, h_s=c.geometry.height, z=at.z,
        storeys=at.storeys, M_u_base=M_u, M_R_base=M_R, M_n_base=M_n, M_pr_base=M_pr, xi=ends.shallow(c, steel),
        asked=ends.demand(c, asked, at), coupled=ends.coupled(c),
        basement=at.basement, V_base=V_u, V_third=ends.shear_at(c, at, at.h_w / 3.0),
    )  # fmt: skip


def _moment_up(
    ends: SeismicEnds, c: CheckedPart, steel: WallSteel, of: SeismicShear, *, exact: bool
) -> CheckedShear | None:
    """Bending under the moment that the standard has up the height, where it is more than that of the analysis.

    It starts from the lowest part of the same length: a pier over a whole wall has its own.
    """
    foot = ends.lowest_alike(c)
    above = foot.part.low - (c.part.low - of.z)
    of = replace(of, h_w=of.h_w - above, z=of.z - above)
    d, of_foot = c.member.demand, foot.member.demand
    mine = np.flatnonzero(c.member.situations[d.combination] == SEISMIC)
    base, at = np.zeros(len(ends.cuts.rows)), seismic_foot(foot)
    np.maximum.at(base, of_foot.combination[at], np.abs(of_foot.M[at]))
    z = np.array([s.place for s in c.stations])[d.station[mine]] - c.part.low + of.z
    asked, clause = ends.standard.seismic_moment(of, z, base[d.combination[mine]])
    picked = d.picked(mine)
    more = asked > np.abs(picked.M)
    if not more.any():
        return None
    strength = c.member.strengths.of(c.geometry, bars_alone(steel), c.member.of, SEISMIC)
    moved = replace(picked, M=np.where(picked.M < 0.0, -1.0, 1.0) * np.maximum(asked, np.abs(picked.M)))
    check = bending(UP, strength, moved, mine, exact=exact, rays=False, clause=clause)
    name = ends.cuts.rows[d.combination[check.index]].name
    return CheckedShear(c, check, math.nan, clause, name, MORE_V if check.utilisation > 1.0 else "")


def _dynamic(
    ends: SeismicEnds, c: CheckedPart, steel: WallSteel, of: SeismicShear, *, exact: bool
) -> Iterator[CheckedShear]:
    """Bending beside the axial force that acts either way, of walls that have one."""
    acts = ends.standard.dynamic_axial(of.asked)
    if acts is None:
        return
    d = c.member.demand
    for check in dynamic_checks(ends.project, ends.cuts, c, steel, acts, exact=exact):
        name = ends.cuts.rows[d.combination[check.index]].name
        yield CheckedShear(c, check, math.nan, check.clause, name, MORE_V if check.utilisation > 1.0 else "")


def _more(check: PartCheck, part: WallPart) -> Words:
    """What would do: concrete where struts fail, else bars."""
    if check.name in (*BY_NO_BARS, DIAMETER_H, DIAMETER_V):
        return check.note
    if check.name.startswith("struts"):
        return Sentence.minimum("{} of thickness", check.utilisation * part.thickness)
    bars = "vertical" if check.name in BY_VERTICAL else "horizontal"
    return f"more {bars} bars" + (", or a rougher joint" if check.name == "sliding at joints" else "")
