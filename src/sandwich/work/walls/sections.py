"""Whole connected sections of walls: their outline with the bars of all their parts, checked in bending."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.status import Status
from sandwich.design.walls.bars import Placed, WallSteel, place_wall
from sandwich.design.walls.checks import BENDING, SEISMIC, PartCheck, governs
from sandwich.design.walls.demands import Demand, corners, demands
from sandwich.design.walls.sections import SectionStrength
from sandwich.mechanics.planesection import PlaneSection
from sandwich.model.walls.flanges import ALONG
from sandwich.model.walls.outline import middle_line, outline
from sandwich.project.project import Project
from sandwich.standards.interface import ClosedSection, TorsionWalls
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.effective_flanges import Flanges
from sandwich.work.walls.layout import LaidWall
from sandwich.work.walls.stations import Station, WallCuts

Floats = NDArray[np.float64]
HELD: Final = 1.0 + 1e-9
OPEN: Final = "none: open, its panels carry it as bending"
NO_CLAUSE: Final = "none: the standard has no clause for it"
NEARLY: Final = 0.8  # of the larger share of both directions: what bends both ways alike has both to hold


@dataclass(frozen=True)
class CheckedSection:
    """One whole section: its outline and bars in plan, its demands about its own centroid, how far it is used.

    Attributes
    ----------
    station : Station
        The cut.
    section : PlaneSection
        In the axes of the cut, from the origin of the plan [mm].
    diameters : ndarray, shape (b,)
        Of its bars [mm].
    strengths : dict
        Strength by situation.
    demand : Demand
        All demands.
    situations : ndarray of str, shape (k,)
        Situation of each combination.
    utilisation, along_ray : float
        Of the governing demand [-].
    index : int
        Which demand governs.
    moment : float
        What is carried beside its axial force, in its direction [N mm].
    torsion : tuple of PartCheck
        Torsion with shear, the governing demand of each check; none of an open section, or where the standard has no
        clause for it.
    closed : ClosedSection or None
        The section as its torsion looks at it.
    flanges : str
        Whether they count whole in what governs, or by which clause they are cut.
    """

    station: Station
    section: PlaneSection
    diameters: Floats
    strengths: dict[str, SectionStrength]
    demand: Demand
    situations: NDArray[np.object_]
    utilisation: float
    along_ray: float
    index: int
    moment: float
    torsion: tuple[PartCheck, ...] = ()
    closed: ClosedSection | None = None
    flanges: str = "whole"

    @property
    def worst(self) -> tuple[float, str]:
        """Its largest utilisation, and by which check."""
        twist = self.torsion[0] if self.torsion else None
        if twist is not None and twist.utilisation > self.utilisation:
            return twist.utilisation, twist.name
        return self.utilisation, BENDING

    @property
    def strength(self) -> SectionStrength:
        """Strength in the situation that governs."""
        return self.strengths[self.situations[self.demand.combination[self.index]]]


@dataclass(frozen=True)
class Outline:
    """Concrete and bars of a section in the axes of its cut, its bars' diameters [mm], strengths by situation."""

    section: PlaneSection
    diameters: Floats
    strengths: dict[str, SectionStrength]


def sections_of(
    project: Project, cuts: WallCuts, parts: list[CheckedPart], only: Callable[[Station], bool] = lambda _: True
) -> list[CheckedSection]:
    """Whole sections with the bars of their parts, in the order of the cuts: all, or those that are asked for."""
    by: dict[tuple[str, str, str], list[CheckedPart]] = {}
    for c in parts:
        if c.part.kind.upright:
            by.setdefault((c.part.wall, c.part.storey, c.part.panel), []).append(c)
    situations = np.array([r.situation for r in cuts.rows], dtype=object)
    walls = {w.name: w for w in cuts.walls.walls}
    flanges = Flanges(project, cuts)
    made: dict[tuple[object, ...], Outline] = {}
    out = []
    for s in cuts.stations:
        if s.part_of is not None or s.kind != "section" or not only(s):
            continue
        wall = walls[s.wall]
        mine = {run.panel: by.get((s.wall, s.storey, run.panel), []) for run in s.runs}
        first = next((c for of in mine.values() for c in of), None)
        if first is None:
            continue
        outlines = []
        cut = flanges.of(wall, s)
        for runs in (s.runs, *(cut.runs if cut is not None else ())):
            key = (
                runs,
                s.axes.tobytes(),
                *((p.part.name, p.steel) for of in mine.values() for p in of),
                first.member.of,
            )
            if key not in made:
                made[key] = Outline(*_section(wall, replace(s, runs=runs), mine), {})
            one = made[key]
            for situation in dict.fromkeys(situations):
                if situation not in one.strengths:
                    law = project.standard.member_law(first.member.of.concrete, first.member.of.steel, situation)
                    one.strengths[situation] = SectionStrength(one.section, law)
            outlines.append(one)
        checked = _checked(cuts, s, outlines, situations)
        if cut is not None and checked.section is not outlines[0].section:
            checked = replace(checked, flanges=f"cut, {cut.clause}")
        closed = _closed(wall, s, outlines[0].section, mine, first)
        if closed is not None:
            checked = replace(checked, torsion=_torsion(project, cuts, checked, closed), closed=closed)
        out.append(checked)
    return out


def _closed(
    wall: LaidWall, s: Station, section: PlaneSection, parts: dict[str, list[CheckedPart]], first: CheckedPart
) -> ClosedSection | None:
    """The section as its torsion looks at it; None of an open one, whose torsion its panels carry as bending."""
    t = min(r.thickness for r in s.runs)
    found = middle_line(section.rings[0], section.rings[1:], t)
    if found is None:
        return None
    area, length = found
    webs, steel = np.zeros(2), np.zeros(2)
    least = np.inf
    for r in s.runs:
        own = [c for c in parts[r.panel] if isinstance(c.steel, WallSteel) and c.part.a < r.b and c.part.b > r.a]
        for c in own:
            if isinstance(c.steel, WallSteel):
                bars = c.member.of.cover.curtains * c.steel.horizontal.area
                reach, ways = wall.panel(r.panel).pieces(max(c.part.a, r.a), min(c.part.b, r.b))
                share = np.abs(ways @ s.axes[:2, :2].T)
                along = reach @ np.where(share > ALONG, share, 0.0)
                webs += along * r.thickness
                steel += along * bars
                least = min(least, bars)
    if not np.isfinite(least):
        return None
    of = first.member.of
    return ClosedSection(
        concrete=of.concrete, steel=of.steel, situation="", area=area, round=length, thickness=t,
        transverse=float(least), along=float(section.area.sum()), webs=(float(webs[0]), float(webs[1])),
        web_steel=(float(steel[0]), float(steel[1])),
    )  # fmt: skip


def _torsion(project: Project, cuts: WallCuts, c: CheckedSection, closed: ClosedSection) -> tuple[PartCheck, ...]:
    """Torsion with shear in all combinations, the worst of each check."""
    standard = project.standard
    if not isinstance(standard, TorsionWalls):
        return ()
    forces = cuts.combined(c.station)
    most = np.abs(forces.steady) + forces.either
    found: dict[str, PartCheck] = {}
    for situation in dict.fromkeys(c.situations):
        mine = np.flatnonzero(c.situations == situation)
        checks = standard.torsion(replace(closed, situation=situation), most[mine, 5], most[mine, 1], most[mine, 2])
        for check in checks:
            worst = governs(check, mine)
            if check.name not in found or worst.utilisation > found[check.name].utilisation:
                found[check.name] = worst
    return tuple(sorted(found.values(), key=lambda k: -k.utilisation))


def _checked(
    cuts: WallCuts, s: Station, outlines: list[Outline], situations: NDArray[np.object_]
) -> CheckedSection:  # fmt: skip
    """All demands on the whole outline, seismic ones by their direction on those with cut flanges that follow it."""
    whole, *cut = outlines
    d = _demand(cuts, s, whole.section)
    of = situations[d.combination]
    share = np.abs([d.M, d.M_out]) / whole.section.depth([0.0, np.pi / 2.0])[:, None]
    cases = [(whole, (of != SEISMIC) | (not cut))]
    cases += [(o, (of == SEISMIC) & (share[k] >= NEARLY * share[1 - k])) for k, o in enumerate(cut)]
    best = (-1.0, 0, 0.0, d, whole)
    for one, which in cases:
        d = _demand(cuts, s, one.section)
        for situation in dict.fromkeys(of[which]):
            at = np.flatnonzero(which & (of == situation))
            e = d.picked(at)
            few = corners(e.N, e.M_out, e.M)
            found = one.strengths[situation].strength(e.N[few], e.M_out[few], e.M[few], ray=False)
            i = int(found.utilisation.argmax())
            if found.utilisation[i] > best[0]:
                best = float(found.utilisation[i]), int(at[few[i]]), float(found.moment[i]), d, one
    use, index, moment, d, one = best
    strength = one.strengths[of[index]]
    ray = float(strength.strength(d.N[index], d.M_out[index], d.M[index]).along_ray[0])
    return CheckedSection(
        station=s, section=one.section, diameters=one.diameters, strengths=one.strengths, demand=d,
        situations=situations, utilisation=use, along_ray=ray, index=index, moment=moment,
    )  # fmt: skip


def _demand(cuts: WallCuts, s: Station, section: PlaneSection) -> Demand:
    """Demands about the centroid of an outline, which has its corners once."""
    c = cuts.combined(s)
    own = section.centroid - np.array([s.centroid @ s.axes[0], s.centroid @ s.axes[1]])
    steady, either = c.steady.copy(), c.either.copy()
    steady[:, 3] -= steady[:, 0] * own[1]
    steady[:, 4] += steady[:, 0] * own[0]
    either[:, 3] += either[:, 0] * abs(own[1])
    either[:, 4] += either[:, 0] * abs(own[0])
    return demands(steady[None], either[None])


def _section(wall: LaidWall, s: Station, parts: dict[str, list[CheckedPart]]) -> tuple[PlaneSection, Floats]:
    """Outline and bars in the axes of the cut."""
    outer, holes = outline(s.runs, wall.panels)
    turn = s.axes[:2, :2]
    places, diameters = _bars(wall, s, parts)
    own = np.pi * diameters**2 / 4.0
    section = PlaneSection.of(
        [o @ turn.T for o in outer], places @ turn.T, own, holes=[h @ turn.T for h in holes], trusted=True
    )
    return section, diameters


def _bars(wall: LaidWall, s: Station, parts: dict[str, list[CheckedPart]]) -> tuple[Floats, Floats]:
    """Vertical bars of all parts in a section; at corners those of the panel whose bars run through."""
    order = [*wall.asked.through, *sorted(p.name for p in wall.panels if p.name not in wall.asked.through)]
    taken: list[tuple[Floats, Floats, float]] = []  # line and half thickness of what stands already
    places, diameters = [], []
    for name in order:
        panel = next((p for p in wall.panels if p.name == name), None)
        runs = [r for r in s.runs if r.panel == name]
        if panel is None or not runs:
            continue
        for c in parts.get(name, []):
            if not isinstance(c.steel, WallSteel):
                continue
            placed: Placed = place_wall(c.geometry.length, c.geometry.thickness, c.steel, c.member.of.cover)
            along = c.part.a + placed.places[:, 0]
            inside = np.any([(along > r.a - 1.0) & (along < r.b + 1.0) for r in runs], axis=0)
            at, way = panel.place(along[inside])
            off = placed.places[inside, 1] - c.geometry.thickness / 2.0
            at = at + off[:, None] * np.stack([-way[:, 1], way[:, 0]], axis=1)
            free = ~np.any([_within(at, *t) for t in taken], axis=0) if taken else np.full(len(at), True)
            places.append(at[free])
            diameters.append(placed.diameters[inside][free])
        if panel.straight:
            for r in runs:
                (start, end), _ = panel.place([r.a, r.b])
                taken.append((start, end, r.thickness / 2.0))
    if not places:
        return np.empty((0, 2)), np.empty(0)
    return np.concatenate(places), np.concatenate(diameters)


def _within(places: Floats, start: Floats, end: Floats, half: float) -> NDArray[np.bool_]:
    """Whether places (k, 2) lie in a wall that stands already, its corners with it."""
    way = end - start
    length = float(np.linalg.norm(way))
    on = (places - start) @ way / length
    off = np.abs((places - start) @ np.array([-way[1], way[0]])) / length
    return np.asarray((-half <= on) & (on <= length + half) & (off <= half))


def _twist(c: CheckedSection, cuts: WallCuts, check: PartCheck | None) -> float:
    """Torsion of the combination that governs [kNm], the largest where none does."""
    forces = cuts.combined(c.station)
    T = (np.abs(forces.steady) + forces.either)[:, 5] / 1e6
    return float(T.max() if check is None else T[check.index])


def sections_frame(sections: list[CheckedSection], cuts: WallCuts) -> pd.DataFrame:
    """One row a whole section, the worst first."""
    rows = []
    for c in sorted(sections, key=lambda c: -c.worst[0]):
        d, i, s = c.demand, c.index, c.station
        twist = c.torsion[0] if c.torsion else None
        most, why = c.worst
        none = OPEN if c.closed is None else NO_CLAUSE
        rows.append({
            "wall": s.wall, "storey": s.storey, "section": s.part, "at": s.at,
            "panels": " ".join(dict.fromkeys(r.panel for r in s.runs)), "utilisation": c.utilisation,
            "torsion with shear": twist.utilisation if twist is not None else np.nan,
            "along the ray": c.along_ray, "combination": cuts.rows[d.combination[i]].name,
            "N [kN]": d.N[i] / 1e3, "Mx [kNm]": d.M_out[i] / 1e6, "My [kNm]": d.M[i] / 1e6,
            "capacity [kNm]": c.moment / 1e6, "V1 [kN]": d.V[i] / 1e3, "V2 [kN]": d.V_out[i] / 1e3,
            "area [m2]": c.section.A / 1e6, "bars": len(c.section.area),
            "bars [%]": 100.0 * c.section.area.sum() / c.section.A,
            "clause": c.strength.law.clause, "flanges": c.flanges,
            "T [kNm]": _twist(c, cuts, twist),
            "torsion by": none if twist is None else f"{twist.name}, {twist.clause}",
            "status": str(Status.OK) if most <= HELD else Status.EXCEEDED.because(why),
        })  # fmt: skip
    return pd.DataFrame(rows)
