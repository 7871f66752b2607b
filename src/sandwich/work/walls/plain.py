"""Bearing walls and footing walls of a job: bars and sizes chosen or given, checks of every combination."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Row
from sandwich.core.errors import Faults
from sandwich.core.shown import Measure, Sentence, Words
from sandwich.core.status import Status
from sandwich.design.bar_sets import BarRule, ParallelBars, arrangements
from sandwich.design.walls.bars import Cover, WallSteel
from sandwich.design.walls.bearing import (
    ALTERNATIVE,
    STRIP,
    BearingSection,
    HeadLoads,
    bearing_sections,
    effective_width,
    service_deflection,
)
from sandwich.design.walls.checks import BENDING, PartMaterials, no_room, wall_part
from sandwich.design.walls.footing import Footing, FootingForces, ground_checks, section_checks
from sandwich.design.walls.geometry import PartGeometry
from sandwich.job.bars import Parallel
from sandwich.job.plain_walls import BearingWall, FootingWall
from sandwich.project.project import Project
from sandwich.standards.interface import AlternativeWalls, MemberCheck
from sandwich.work.walls.settings import refuse_unused

Floats = NDArray[np.float64]
HELD: Final = 1.0 + 1e-9
SHOWN: Final = {"N": ("kN", 1e-3), "N mm": ("kNm", 1e-6)}
LEAST_DEPTH: Final = 300.0  # mm
DEPTH_STEP: Final = 50.0  # mm
DEPTHS: Final = 15  # steps of the depth that are looked at
LARGEST: Final = 60  # steps of a size in plan that are looked at


@dataclass(frozen=True)
class SizedFooting:
    """A footing wall with its footing, checks by name with the combination that governs each."""

    name: str
    footing: Footing
    checks: tuple[tuple[MemberCheck, str], ...]


@dataclass(frozen=True)
class CheckedBearing:
    """A bearing wall with its bars and sections by situation, the steel it has to have, and its combinations.

    `service` is a check of characteristic combinations, with their names, where a method asks for one.
    """

    name: str
    steel: WallSteel
    sections: tuple[tuple[BearingSection, tuple[str, ...]], ...]
    least: tuple[MemberCheck, ...]
    service: tuple[tuple[MemberCheck, tuple[str, ...]], ...] = ()

    @property
    def holds(self) -> bool:
        """Whether its sections do, and what its method asks in service."""
        used = [s.utilisation for s, _ in self.sections] + [c.utilisation for c, _ in self.service]
        return all(u.max() <= HELD for u in used)


def check_plain(project: Project, faults: Faults) -> None:
    """Note loads of cases that are not known, and settings that the standard does not use."""
    job, kinds = project.job, (*project.results.kinds, *project.results.unread)
    both = [("bearing_walls", n, w) for n, w in job.bearing_walls.items()]
    for key, name, wall in (*both, *(("footing_walls", n, w) for n, w in job.footing_walls.items())):
        where = f"{job.path}, {key}.{name}"
        for case in sorted(wall.cases - set(kinds)):
            there = f"there are {', '.join(kinds)}" if kinds else f"write [cases.{case}] with its kind"
            faults.add(where, f"no case is called '{case}'", there)
        if isinstance(wall, BearingWall):
            refuse_unused(job, (key, name), wall, project.standard, faults)
    asking = [("footing_walls", "the ground")] if job.footing_walls else []
    asking += [(f"bearing_walls.{n}.second_order", "its deflection") for n, w in job.bearing_walls.items()
               if w.second_order == ALTERNATIVE]  # fmt: skip
    for key, what in asking if not _characteristic(project) else []:
        remedy = 'list one, or let [rules] make them: situations = ["persistent", "characteristic"]'
        faults.add(f"{job.path}, {key}", f"no characteristic combination, which {what} is checked for", remedy)


def _characteristic(project: Project) -> list[Row]:
    return [r for r in project.combinations.service().rows if r.situation == "characteristic"]


def _factors(rows: list[Row], case: str) -> Floats:
    return np.array([r.factors.get(case, 0.0) for r in rows])


def bearing_wall(project: Project, name: str) -> CheckedBearing:
    """One bearing wall: the least bars of its rule with which all sections hold, or the bars it is given."""
    w = project.job.bearing_walls[name]
    options = arrangements(BarRule(w.rule.diameters, w.rule.spacings))

    def made(vertical: ParallelBars, horizontal: ParallelBars) -> CheckedBearing:
        return _bearing(project, name, w, WallSteel(vertical, horizontal))

    horizontals = [_laid(w.horizontal)] if w.horizontal is not None else options
    verticals = [_laid(w.vertical)] if w.vertical is not None else options
    horizontal = horizontals[0]
    for horizontal in horizontals:
        if not _short(made(verticals[-1], horizontal), "horizontal"):
            break
    low, high = 0, len(verticals) - 1
    while low < high:  # more steel never carries less
        middle = (low + high) // 2
        found = made(verticals[middle], horizontal)
        good = found.holds and not _short(found, "vertical")
        low, high = (low, middle) if good else (middle + 1, high)
    for horizontal in horizontals:  # the minimum of horizontal bars may follow the vertical ones
        found = made(verticals[low], horizontal)
        if not _short(found, "horizontal"):
            break
    return found


def _laid(bars: Parallel) -> ParallelBars:
    return ParallelBars(bars.diameter, bars.spacing)


def _short(found: CheckedBearing, way: str) -> bool:
    return any(c.utilisation.max() > HELD for c in found.least if way in c.name)


def _bearing(project: Project, name: str, w: BearingWall, steel: WallSteel) -> CheckedBearing:
    cover = Cover(w.cover, w.curtains, w.outer == "vertical")
    of = PartMaterials(w.concrete, w.steel, cover, w.creep, w.effective_length, second_order=w.second_order or "")
    geometry = PartGeometry(STRIP, w.thickness, 1e3 * w.height)
    rows = list(project.combinations.ultimate().rows)
    sections, least = [], []
    for situation in dict.fromkeys(r.situation for r in rows):
        mine = [r for r in rows if r.situation == situation]
        loads = head_loads(w, mine)
        found = bearing_sections(
            geometry, 1e3 * w.parapet, steel, of, project.standard, loads, situation,
            weight=w.weight * 1e-6,
        )  # fmt: skip
        names = tuple(r.name for r in mine)
        sections += [(s, names) for s in found]
        part = wall_part(geometry, steel, of, situation)
        nothing = np.zeros(1)
        # its own length is not told: nothing hangs on it without shear
        least = [
            *project.standard.wall_steel(replace(part, length=1e3 * w.height), nothing, nothing),
            *no_room(steel, cover, w.thickness),
        ]
    service: tuple[tuple[MemberCheck, tuple[str, ...]], ...] = ()
    if of.second_order == ALTERNATIVE and isinstance(project.standard, AlternativeWalls):
        mine = _characteristic(project)
        check = service_deflection(
            geometry, 1e3 * w.parapet, steel, of, project.standard, head_loads(w, mine), weight=w.weight * 1e-6
        )
        service = ((check, tuple(r.name for r in mine)),)
    return CheckedBearing(name, steel, tuple(sections), tuple(least), service)


def head_loads(w: BearingWall, rows: list[Row]) -> HeadLoads:
    """Loads of combinations on a metre of a bearing wall."""
    k = len(rows)
    P, M, wind, on_parapet = (np.zeros(k) for _ in range(4))
    for load in w.loads:
        f = _factors(rows, load.case)
        if load.line is not None:
            per = load.line * STRIP
        else:
            width = effective_width(1e3 * (load.spacing or 0.0), load.bearing, w.thickness)
            per = 1e3 * (load.point or 0.0) * STRIP / width
        P += f * per
        M += f * per * load.eccentricity
    for blown in w.wind:
        f = _factors(rows, blown.case)
        wind += f * blown.wall * 1e-3 * STRIP
        on_parapet += f * (blown.parapet if blown.parapet is not None else blown.wall) * 1e-3 * STRIP
    own = _factors(rows, w.self_weight) if w.self_weight is not None else np.zeros(k)
    return HeadLoads(P, M, wind, on_parapet, own)


def _status(use: float, why: Words) -> Words:
    return str(Status.OK) if use <= HELD else Status.EXCEEDED.because(why)


def bearing_frame(walls: list[CheckedBearing]) -> pd.DataFrame:
    """One row a wall, section and check, the worst first."""
    rows = []
    for w in walls:
        text = Sentence("v {} h {}", w.steel.vertical, w.steel.horizontal)
        for s, names in w.sections:
            i = int(np.argmax(s.utilisation))
            use = float(s.utilisation[i])
            rows.append({
                "wall": w.name, "section": s.place, "check": BENDING, "utilisation": use,
                "demand": s.moment[i] / 1e6, "capacity": s.capacity[i] / 1e6, "unit": "kNm/m",
                "N [kN/m]": s.N[i] / 1e3, "M first order [kNm/m]": s.first[i] / 1e6,
                "combination": names[i], "clause": s.clause,
                "bars [mm]": text, "status": _status(use, s.note or BENDING),
            })  # fmt: skip
        for c, names in (*w.service, *((c, ("",)) for c in w.least)):
            i = int(np.argmax(c.utilisation))
            use = float(c.utilisation[i])
            rows.append({
                "wall": w.name, "section": "middle" if names[0] else "", "check": c.name, "utilisation": use,
                "demand": float(c.demand[i]), "capacity": float(c.capacity[i]), "unit": c.unit, "clause": c.clause,
                "bars [mm]": text, "combination": names[min(i, len(names) - 1)], "status": _status(use, c.name),
            })  # fmt: skip
    return pd.DataFrame(rows).sort_values("utilisation", ascending=False, kind="stable").reset_index(drop=True)


def footing_wall(project: Project, name: str) -> SizedFooting:
    """One footing wall: for the least depth whose sections hold, the smallest plan that the ground carries.

    What the job gives is kept; where nothing holds, the last that was tried.
    """
    w = project.job.footing_walls[name]
    options = arrangements(BarRule(w.rule.diameters, w.rule.spacings))
    depths = [w.depth] if w.depth is not None else [LEAST_DEPTH + DEPTH_STEP * i for i in range(DEPTHS)]
    found = None
    for depth in depths:
        across, along = (_laid(b) if b is not None else options[0] for b in (w.across, w.along))
        f = Footing(
            length=0.0, width=0.0, depth=depth, wall_length=1e3 * w.length, wall_thickness=w.thickness, cover=w.cover,
            across=across, along=along,
        )  # fmt: skip
        f = _on_ground(project, w, f)
        for i, (way, given) in enumerate((("across", w.across), ("along", w.along))):
            if given is None:
                f = _barred(project, w, f, way, options, i)
        found = SizedFooting(name, f, tuple(_checks(project, w, f)))
        if all(c.utilisation.max() <= HELD for c, _ in found.checks):
            break
    assert found is not None
    return found


def _on_ground(project: Project, w: FootingWall, f: Footing) -> Footing:
    """The footing of the smallest area that the ground carries, in steps; the largest that is looked at if none is."""
    step = 1e3 * w.step
    first = math.ceil(w.thickness / step) * step
    lengths = [f.wall_length + 2.0 * step * i for i in range(LARGEST // 2)]
    widths = [first + step * i for i in range(LARGEST)]
    lengths = lengths if w.footing_length is None else [1e3 * w.footing_length]
    widths = widths if w.width is None else [1e3 * w.width]
    # no longer past the ends than wide beside the wall, so that both ways bend alike
    plans = [
        (a, b) for a in lengths for b in widths
        if a - f.wall_length <= b - f.wall_thickness or w.footing_length is not None or w.width is not None
    ]  # fmt: skip
    for length, width in sorted(plans, key=lambda s: (s[0] * s[1], s[0])):
        f = replace(f, length=length, width=width)
        if all(c.utilisation.max() <= HELD for c, _ in _checks(project, w, f, sections=False)):
            return f
    return f


def _barred(project: Project, w: FootingWall, f: Footing, way: str, options: list[ParallelBars], i: int) -> Footing:
    """The footing with the least bars across or along."""
    made: Callable[[ParallelBars], Footing] = lambda o: replace(f, across=o) if i == 0 else replace(f, along=o)  # noqa: E731
    low, high = 0, len(options) - 1
    while low < high:
        middle = (low + high) // 2
        rows = _checks(project, w, made(options[middle]), ground=False)
        good = all(c.utilisation.max() <= HELD for c, _ in rows if c.name in (f"bending {way}", f"minimum steel {way}"))
        low, high = (low, middle) if good else (middle + 1, high)
    return made(options[low])


def _forces(w: FootingWall, f: Footing, rows: list[Row]) -> tuple[FootingForces, Floats]:
    """Forces at the foot of a footing, and the pressure of what lies on it."""
    own = w.weight * 1e-6 * f.depth + w.soil_above * 1e-3
    weight = _factors(rows, w.self_weight) * own
    N, M, V = weight * f.width * f.length, np.zeros(len(rows)), np.zeros(len(rows))
    for load in w.loads:
        k = _factors(rows, load.case)
        N = N + 1e3 * k * load.N
        M = M + 1e6 * k * load.M + 1e3 * k * load.V * f.depth
        V = V + 1e3 * k * load.V
    return FootingForces(N, M, V), weight


def _checks(
    project: Project, w: FootingWall, f: Footing, *, ground: bool = True, sections: bool = True
) -> list[tuple[MemberCheck, str]]:
    out: list[tuple[MemberCheck, str]] = []

    def take(checks: list[MemberCheck], rows: list[Row]) -> None:
        for c in checks:
            i = int(np.argmax(c.utilisation))
            one = replace(c, demand=np.atleast_1d(c.demand)[[i]], capacity=np.atleast_1d(c.capacity)[[i]])
            old = next((k for k, (o, _) in enumerate(out) if o.name == c.name), None)
            row = one, rows[i].name if len(np.atleast_1d(c.demand)) == len(rows) else ""
            if old is None:
                out.append(row)
            elif one.utilisation[0] > out[old][0].utilisation[0]:
                out[old] = row

    if ground:
        rows = _characteristic(project)
        forces, _ = _forces(w, f, rows)
        s = w.soil
        take(
            ground_checks(
                f, forces, pressure=s.pressure * 1e-3, friction=s.friction, passive=s.passive * 1e-3, sliding=s.sliding,
                overturning=s.overturning,
            ), rows,
        )  # fmt: skip
    ultimate = list(project.combinations.ultimate().rows) if sections else []
    for situation in dict.fromkeys(r.situation for r in ultimate):
        rows = [r for r in ultimate if r.situation == situation]
        forces, weight = _forces(w, f, rows)
        take(section_checks(f, forces, weight, w.concrete, w.steel, project.standard, situation), rows)
    return out


def footing_frame(walls: list[SizedFooting]) -> pd.DataFrame:
    """One row a footing and check, the worst first."""
    rows = []
    for w in walls:
        f = w.footing
        size = Sentence("{} x {} x {}", *(Measure(v / 1e3, "m", "g") for v in (f.length, f.width, f.depth)))
        for c, combination in w.checks:
            unit, scale = SHOWN.get(c.unit, (c.unit, 1.0))
            use = float(c.utilisation[0])
            rows.append({
                "wall": w.name, "check": c.name, "utilisation": use, "demand": c.demand[0] * scale,
                "capacity": c.capacity[0] * scale, "unit": unit, "combination": combination, "clause": c.clause,
                "footing": size, "bars [mm]": Sentence("across {}, along {}", f.across, f.along), "note": c.note,
                "status": _status(use, c.name),
            })  # fmt: skip
    return pd.DataFrame(rows).sort_values("utilisation", ascending=False, kind="stable").reset_index(drop=True)
