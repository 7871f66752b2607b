"""Ends of seismic walls, storey by storey: their demands, and what the standard asks of them."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.status import Status
from sandwich.core.trace import about, unrecorded
from sandwich.design.walls.bars import WallSteel
from sandwich.design.walls.checks import PartCheck, governs, wall_part
from sandwich.design.walls.sections import SectionStrength
from sandwich.job.walls import Seismic
from sandwich.project.project import Project
from sandwich.standards.interface import BoundaryNeed, SeismicDemand, SeismicShear, SeismicWalls, WallEnd, WallPart
from sandwich.work.walls.checks import FORCE, CheckedPart
from sandwich.work.walls.stations import WallCuts

Floats = NDArray[np.float64]
SEISMIC: Final = "seismic"
TIE: Final = 10.0  # mm, assumed
PROBABLE: Final = 1.25  # of the yield strength
HELD: Final = 1.0 + 1e-9
ENDS: Final = ("left", "right")
COLUMNS: Final = [
    "wall", "storey", "part", "end", "boundary element", "by", "demand", "limit", "unit", "length [mm]",
    "thickness [mm]", "minimum thickness [mm]", "up to [m]", "ties each way [%]", "spacing of ties [mm]",
    "held bars apart [mm]", "ties from [mm]", "minimum bars [%]", "height [m]", "combination", "clause", "status",
]  # fmt: skip
SHEAR_COLUMNS: Final = [
    "wall", "storey", "part", "check", "utilisation", "demand", "capacity", "unit", "factor on V", "factor by",
    "combination", "clause", "status",
]  # fmt: skip


@dataclass(frozen=True)
class CheckedEnd:
    """One end of a part at its foot, with what the standard asks of it and the combination that presses it most.

    `need` is None of a part that is a column by its length.
    """

    part: CheckedPart
    end: str
    need: BoundaryNeed | None
    combination: str
    height: float


def demand_of(asked: Seismic, h_w: float) -> SeismicDemand:
    """Settings as the standard takes them, of a wall so high above its base [mm]."""
    drift = math.nan if asked.displacement is None else asked.displacement / h_w
    T_1, T_C = (math.nan if t is None else t for t in (asked.T_1, asked.T_C))
    return SeismicDemand(
        high=asked.ductility == "DCH", displacement=drift, q_0=asked.q_0,
        q=asked.q if asked.q is not None else asked.q_0, T_1=T_1, T_C=T_C,
        class_b=asked.steel_class == "B",
    )  # fmt: skip


def ends_of(
    project: Project, cuts: WallCuts, parts: list[CheckedPart], only: CheckedPart | None = None
) -> list[CheckedEnd]:
    """Both ends of all piers and walls of seismic walls, or of one; parts without seismic combinations have none."""
    standard = project.standard
    if not isinstance(standard, SeismicWalls):
        return []
    out: list[CheckedEnd] = []
    below = {s.name for s in cuts.walls.storeys if s.basement}
    todo = parts if only is None else [p for p in parts if _under(p, only)]
    for c in sorted(todo, key=lambda p: p.part.low):
        asked = project.job.walls[c.part.wall].seismic
        if asked is None or not isinstance(c.steel, WallSteel):
            continue
        at = _place(c, parts, below)
        ends = _ends(c, c.steel)
        if ends is None:
            continue
        at_base = _base(at.foot)
        for name, (N, M, depth, which) in ends.items():
            part = wall_part(c.geometry, c.steel, c.member.of, SEISMIC)
            bars = [c.steel.vertical.diameter] + ([c.steel.ends.diameter] if c.steel.ends is not None else [])
            before = [e for e in out if e.end == name and e.part is not c and _under(e.part, c)]
            last = max(before, key=lambda e: e.height, default=None)
            end = WallEnd(
                concrete=c.member.of.concrete, steel=c.member.of.steel, l_w=c.geometry.length,
                t=c.geometry.thickness, h_w=at.h_w, h_s=c.geometry.height, z=at.z, storeys=at.storeys,
                cover=c.member.of.cover.cover, d_tie=TIE, d_b=min(bars), rho_v=part.across, M_u_base=at_base[0],
                V_u_base=at_base[1], M_R_base=at_base[2], N=N, M=M, c=depth, area=part.area,
                modulus=c.geometry.thickness * c.geometry.length**2 / 6.0,
                goes_on=last is not None and last.need is not None and last.need.needed,
                asked=demand_of(asked, at.h_w),
            )  # fmt: skip
            column = c.geometry.length / c.geometry.thickness <= standard.column_ratio
            with about(f"{name} end") if only is None or c is only else unrecorded():
                need = None if column else standard.boundary(end)
            worst = int(which[int(np.argmax(M + 0.5 * N * c.geometry.length))])
            out.append(CheckedEnd(c, name, need, cuts.rows[worst].name, at.z))
    return [e for e in out if only is None or e.part is only]


@dataclass(frozen=True)
class _Place:
    """Where a part stands in its wall: lowest part under it, height of the wall and of the part above the base [mm]."""

    foot: CheckedPart
    h_w: float
    z: float
    storeys: int


def _place(c: CheckedPart, parts: list[CheckedPart], below: set[str]) -> _Place:
    mine = [p for p in parts if p.part.wall == c.part.wall and p.part.kind.upright]
    over = [p for p in mine if p.part.storey not in below] or mine
    base, top = min(p.part.low for p in over), max(p.part.high for p in over)
    # the critical section of a part of the basement stands over it
    foot = min((p for p in over if _under(p, c) or _under(c, p)), key=lambda p: p.part.low, default=c)
    return _Place(foot, top - base, c.part.low - base, len({p.part.storey for p in over}))


def _under(low: CheckedPart, high: CheckedPart) -> bool:
    """Whether a part stands under another of the same panel, or is it."""
    a, b = low.part, high.part
    inside = a.a <= (b.a + b.b) / 2.0 <= a.b
    return (a.wall, a.panel) == (b.wall, b.panel) and a.kind.upright and a.low <= b.low and inside


def _ends(c: CheckedPart, steel: WallSteel) -> dict[str, tuple[Floats, Floats, Floats, NDArray[np.int64]]] | None:
    """Demands at the foot that press each end: N, M, depth of the neutral axis, combination."""
    d = c.member.demand
    at = np.flatnonzero((c.member.situations[d.combination] == SEISMIC) & (d.station == 0))
    if not len(at):
        return None
    strength = c.member.strengths.of(c.geometry, steel, c.member.of, SEISMIC)
    nominal = SectionStrength(strength.section, strength.law, nominal=True)
    out = {}
    for name, way in zip(ENDS, (-1.0, 1.0), strict=True):
        # a moment that presses this end whole, or not at all; without one both ends are pressed alike
        pressing = np.maximum(way * d.M[at] * _sense(nominal), 0.0)
        s = nominal.strength(d.N[at], np.zeros(len(at)), way * _sense(nominal) * np.ones(len(at)), ray=False)
        depth = np.where(np.isfinite(s.c), s.c, c.geometry.length)
        out[name] = np.maximum(-d.N[at], 0.0), pressing, depth, d.combination[at]
    return out


def _sense(strength: SectionStrength) -> float:
    """Sign of the moment in the plane that presses the right end."""
    s = strength.strength(0.0, 0.0, 1.0, ray=False)
    return 1.0 if math.cos(float(s.theta[0])) > 0.0 else -1.0


def _base(foot: CheckedPart) -> tuple[float, float, float]:
    """Largest moment and shear of seismic combinations at the base, and the moment that is carried there."""
    d = foot.member.demand
    at = np.flatnonzero((foot.member.situations[d.combination] == SEISMIC) & (d.station == 0))
    if not len(at):
        return 0.0, 0.0, 0.0
    i = int(at[np.argmax(np.abs(d.M[at]))])
    strength = foot.member.strengths.of(foot.geometry, foot.steel, foot.member.of, SEISMIC)
    carried = float(strength.strength(d.N[i], 0.0, d.M[i], ray=False).moment[0])
    return float(np.abs(d.M[at]).max()), float(d.V[at].max()), carried if math.isfinite(carried) else 0.0


def ends_frame(ends: list[CheckedEnd]) -> pd.DataFrame:
    """One row an end: first those that cannot have the boundary element they need, then from below."""
    rows = []
    order = [(3 if (n := e.need) is None else 0 if n.remedy else 2 - n.needed, e.height) for e in ends]
    for e in (ends[i] for i in sorted(range(len(ends)), key=lambda i: order[i])):
        p, n, g = e.part.part, e.need, e.part.geometry
        row: dict[str, object] = {"wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}", "end": e.end}
        told = f"a column, l_w/t {g.length / g.thickness:.1f}"
        row |= {"boundary element": "column", "status": Status.NOT_CHECKED.because(told)} if n is None else {
            "boundary element": "needed" if n.needed else "not needed", "by": n.trigger, "demand": n.demand,
            "limit": n.limit, "unit": n.unit, "length [mm]": n.length, "thickness [mm]": g.thickness,
            "minimum thickness [mm]": n.width, "up to [m]": n.extent / 1e3, "ties each way [%]": 100.0 * n.ties,
            "spacing of ties [mm]": n.spacing, "held bars apart [mm]": n.held, "ties from [mm]": n.d_tie,
            "minimum bars [%]": 100.0 * n.rho, "height [m]": e.height / 1e3, "combination": e.combination,
            "clause": n.clause, "status": Status.EXCEEDED.because(n.remedy) if n.remedy else str(Status.OK),
        }  # fmt: skip
        rows.append(row)
    frame = pd.DataFrame(rows, columns=COLUMNS)
    words = ["by", "unit", "combination", "clause"]
    return frame.assign(**{c: frame[c].astype(object).fillna("") for c in words})


@dataclass(frozen=True)
class CheckedShear:
    """One check of the shear of a part of a seismic wall, under the demand that governs it."""

    part: CheckedPart
    check: PartCheck
    factor: float
    clause: str
    combination: str
    remedy: str


def shears_of(project: Project, cuts: WallCuts, parts: list[CheckedPart]) -> list[CheckedShear]:
    """Shear of all piers and walls of seismic walls, amplified as the standard has it."""
    standard = project.standard
    if not isinstance(standard, SeismicWalls):
        return []
    below = {s.name for s in cuts.walls.storeys if s.basement}
    out, probable = [], dict[int, float]()
    for c in parts:
        asked = project.job.walls[c.part.wall].seismic
        d = c.member.demand
        mine = np.flatnonzero(c.member.situations[d.combination] == SEISMIC)
        if asked is None or not isinstance(c.steel, WallSteel) or not len(mine):
            continue
        if c.geometry.length / c.geometry.thickness <= standard.column_ratio:
            continue
        at = _place(c, parts, below)
        M_u, _, M_R = _base(at.foot)
        if id(at.foot) not in probable:
            probable[id(at.foot)] = _probable(at.foot)
        part = wall_part(c.geometry, c.steel, c.member.of, SEISMIC)
        of = SeismicShear(
            part=part, h_w=at.h_w, h_s=c.geometry.height, z=at.z, storeys=at.storeys, M_u_base=M_u, M_R_base=M_R,
            M_pr_base=probable[id(at.foot)], asked=demand_of(asked, at.h_w),
        )  # fmt: skip
        # the largest moment in the storey of the same combination gives the shear span
        most = np.zeros(len(cuts.rows))
        np.maximum.at(most, d.combination[mine], np.abs(d.M[mine]))
        factor, clause, checks = standard.seismic_shear(of, d.V[mine], d.N[mine], most[d.combination[mine]])
        for check in checks:
            worst = governs(check, mine)
            name = cuts.rows[d.combination[worst.index]].name
            out.append(
                CheckedShear(c, worst, factor, clause, name, _more(worst, part) if worst.utilisation > 1.0 else "")
            )
    return out


def _more(check: PartCheck, part: WallPart) -> str:
    """What would do: concrete where struts fail, else bars."""
    if check.name.startswith("struts"):
        return f"{check.utilisation * part.thickness:.0f} mm of thickness"
    bars = "vertical" if check.name in ("sliding at joints", "vertical web bars") else "horizontal"
    return f"more {bars} bars" + (", or a rougher joint" if check.name == "sliding at joints" else "")


def _probable(foot: CheckedPart) -> float:
    """Moment at the base with 1.25 f_y and without reduction, the largest beside the axial forces there [N mm]."""
    d = foot.member.demand
    at = np.flatnonzero((foot.member.situations[d.combination] == SEISMIC) & (d.station == 0))
    if not len(at) or not isinstance(foot.steel, WallSteel):
        return 0.0
    plain = foot.member.strengths.of(foot.geometry, foot.steel, foot.member.of, SEISMIC)
    # of the yield strength, whatever partial factor the law of the situation has
    strong = replace(plain.law.steel, strength=PROBABLE * foot.member.of.steel.f_yk)
    strength = SectionStrength(plain.section, replace(plain.law, steel=strong), nominal=True)
    moments = strength.strength(d.N[at], 0.0 * d.N[at], np.where(d.M[at] < 0.0, -1.0, 1.0), ray=False).moment
    return float(np.nanmax(moments, initial=0.0))


def shears_frame(shears: list[CheckedShear]) -> pd.DataFrame:
    """One row a part and check, the worst first."""
    rows = []
    for s in sorted(shears, key=lambda s: -s.check.utilisation):
        p, k = s.part.part, s.check
        unit, scale = FORCE.get(k.unit, (k.unit, 1.0))
        rows.append({
            "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}", "check": k.name,
            "utilisation": k.utilisation, "demand": k.demand * scale, "capacity": k.capacity * scale, "unit": unit,
            "factor on V": s.factor, "factor by": s.clause, "combination": s.combination, "clause": k.clause,
            "status": Status.EXCEEDED.because(s.remedy) if k.utilisation > HELD else str(Status.OK),
        })  # fmt: skip
    return pd.DataFrame(rows, columns=SHEAR_COLUMNS)
