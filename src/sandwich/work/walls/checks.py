"""Walls of a job checked at their bars, given or chosen: parts, and whole sections."""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.status import Status
from sandwich.design.bar_sets import BarRule, ParallelBars
from sandwich.design.walls.bars import BarGroup, Cover, Diagonals, LintelSteel, Ties, WallSteel, mass
from sandwich.design.walls.checks import PartCheck, PartMaterials, Strengths
from sandwich.design.walls.choice import Member, choose_lintel, choose_wall, decided
from sandwich.design.walls.demands import demands
from sandwich.design.walls.geometry import PartGeometry
from sandwich.job.walls import Wall, WallBars
from sandwich.model.walls.outline import line_of
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.parts import Part
from sandwich.project.project import Project
from sandwich.work.walls.cuts import TOUCH
from sandwich.work.walls.layout import LaidWall
from sandwich.work.walls.stations import Station, WallCuts

Floats = NDArray[np.float64]
ALIKE: Final = 9  # digits after the point of a utilisation
FORCE: Final = {"N": ("kN", 1e-3), "N mm": ("kNm", 1e-6)}
OF_UPRIGHT: Final = ("vertical", "horizontal", "ends", "ties")
CHECK_COLUMNS: Final = (
    "wall", "storey", "part", "label", "kind", "check", "utilisation", "demand", "capacity", "unit", "clause",
    "combination", "at", "N [kN]", "V [kN]", "M [kNm]", "M out of plane [kNm]", "status", "note",
)  # fmt: skip
OF_LINTEL: Final = ("chords", "links", "diagonals")


@dataclass(frozen=True)
class Laid:
    """Bars of a part, whether they are given, and what decided."""

    steel: WallSteel | LintelSteel
    given: bool
    decided: str


@dataclass(frozen=True)
class CheckedPart:
    """One part with its bars and its checks."""

    wall: LaidWall
    part: Part
    geometry: PartGeometry
    steel: WallSteel | LintelSteel
    member: Member
    stations: tuple[Station, ...]
    given: bool
    decided: str

    @property
    def checks(self) -> list[PartCheck]:
        """Its checks, the worst first."""
        return sorted(self.member.checks(self.steel), key=lambda c: -c.utilisation)


def members_of(
    project: Project, cuts: WallCuts, *, known: dict[str, Laid] | None = None, only: set[str] | None = None,
    rays: bool = True, progress: Callable[[int, int], None] | None = None,
) -> list[CheckedPart]:  # fmt: skip
    """All parts with their bars: those given, and what the rule of the wall chooses for the rest.

    Parameters
    ----------
    project : Project
        The job.
    cuts : WallCuts
        Forces of its parts.
    known : dict, optional
        Bars of parts by their full names that are taken as they are.
    only : set of str, optional
        Walls that are wanted; all by default.
    rays : bool
        Whether checks tell utilisations along the ray.
    progress : callable, optional
        Told how many groups of parts are done, of how many.

    Returns
    -------
    list of CheckedPart
        In the order of the walls and their parts.
    """
    strengths = Strengths(project.standard)
    situations = np.array([r.situation for r in cuts.rows], dtype=object)
    of_part: dict[tuple[str, str, str], list[Station]] = defaultdict(list)
    for s in cuts.stations:
        if s.part_of is not None:
            of_part[s.key].append(s)
    groups: dict[tuple[str, ...], list[tuple[LaidWall, Part, Member, tuple[Station, ...]]]] = defaultdict(list)
    for wall in cuts.walls.walls:
        for part in wall.parts if only is None or wall.name in only else ():
            stations = tuple(of_part.get((part.wall, part.storey, f"{part.panel} {part.name}"), ()))
            if not stations:
                continue
            member = _member(project, cuts, wall, part, stations, strengths, situations, rays=rays)
            groups[group_of(wall, part)].append((wall, part, member, stations))
    found: dict[int, CheckedPart] = {}
    order = {id(p): i for i, p in enumerate(p for w in cuts.walls.walls for p in w.parts)}
    for done, group in enumerate(groups.values()):
        wall, part, *_ = group[0]
        members = [m for _, _, m, _ in group]
        laid = [known[p.full_name] for _, p, _, _ in group if known is not None and p.full_name in known]
        if len(laid) < len(group):
            laid = [_steel(wall, part, members)] * len(group)
        for (own_wall, own, member, stations), bars in zip(group, laid, strict=True):
            found[order[id(own)]] = CheckedPart(
                wall=own_wall, part=own, geometry=member.geometry, steel=bars.steel, member=member,
                stations=stations, given=bars.given, decided=bars.decided,
            )  # fmt: skip
        if progress is not None:
            progress(done + 1, len(groups))
    return [found[i] for i in sorted(found)]


def group_of(wall: LaidWall, part: Part) -> tuple[str, ...]:
    """What parts share that get the same bars; lintels do so for themselves, and parts with other bars given."""
    same = wall.asked.same_bars
    scope = {
        "part": (part.storey, part.panel, part.name), "panel": (part.storey, part.panel),
        "storey": (part.storey,), "wall": (),
    }[same]  # fmt: skip
    given = given_bars(wall.asked, part)
    kind = "upright" if part.kind.upright else f"lintel {round(part.height)} {round(part.width)}"
    return (wall.asked.group or wall.name, kind, repr(given), str(round(wall.thickness_of(part))), *scope)


def given_bars(asked: Wall, part: Part) -> WallBars | None:
    """What the first entry of the job's bars that fits a part gives it; None where that is nothing."""
    found = next((bars for bars in asked.bars if bars.fits(part.storey, part.panel, part.name)), None)
    mine, other = (OF_UPRIGHT, OF_LINTEL) if part.kind.upright else (OF_LINTEL, OF_UPRIGHT)
    if found is None or all(getattr(found, name) is None for name in mine):
        return None
    return replace(found, **dict.fromkeys(other))  # type: ignore[arg-type]  # each of them may be left out


def _steel(wall: LaidWall, part: Part, members: list[Member]) -> Laid:
    rule = BarRule(wall.asked.rule.diameters, wall.asked.rule.spacings)
    bars = given_bars(wall.asked, part) or WallBars()
    first = ParallelBars(rule.diameters[0], rule.spacings[-1])

    def parallel(of: object) -> ParallelBars:
        return ParallelBars(of.diameter, of.spacing) if of is not None else first  # type: ignore[attr-defined]

    if part.kind.upright:
        e, t = bars.ends, bars.ties
        ends = None if e is None else BarGroup(e.count, e.diameter, e.length, e.layers or 0)
        ties = None if t is None else Ties(t.diameter, t.spacing, t.across, t.along)
        given = WallSteel(parallel(bars.vertical), parallel(bars.horizontal), ends, ties)
        fixed = bars.vertical is not None, bars.horizontal is not None, bars.ends is not None
        if fixed[0] and fixed[1]:
            return Laid(given, True, decided(members, given))
        steel, decides = choose_wall(members, rule, given, fixed=fixed, ends=wall.asked.end_bars and not fixed[0])
        return Laid(steel, False, decides)
    chords = bars.chords
    group = (
        BarGroup(chords.count, chords.diameter, chords.length)
        if chords is not None
        else BarGroup(2, first.diameter, 0.0)
    )
    own = LintelSteel(group, parallel(bars.links), _diagonals(bars))
    both = chords is not None, bars.links is not None
    if all(both):
        return Laid(own, True, decided(members, own))
    lintel, decides = choose_lintel(members, rule, own, both)
    return Laid(lintel, False, decides)


def _diagonals(bars: WallBars) -> Diagonals | None:
    d = bars.diagonals
    if d is None:
        return None
    return Diagonals(d.count, d.diameter, None if d.ties is None else ParallelBars(d.ties.diameter, d.ties.spacing))


def _member(
    project: Project, cuts: WallCuts, wall: LaidWall, part: Part, stations: tuple[Station, ...], strengths: Strengths,
    situations: NDArray[np.object_], *, rays: bool,
) -> Member:  # fmt: skip
    zone = wall.zone_at(part)
    asked = wall.asked
    of = PartMaterials(
        concrete=cuts.walls.concrete(zone), steel=cuts.walls.steel(wall, zone),
        cover=Cover(asked.cover, asked.curtains, asked.outer == "vertical"), creep=asked.creep,
        effective_length=asked.effective_length, cot_theta_max=asked.cot_theta_max, joint=asked.joint,
        second_order=asked.second_order or "",
    )  # fmt: skip
    t = wall.thickness_of(part)
    if part.kind.upright:
        edges, between = held_edges(wall, part)
        panel, s = wall.panel(part.panel), stations[0]
        line: tuple[tuple[float, float], ...] = ()
        if not panel.straight:
            at = (line_of(panel, part.a, part.b) - s.centroid[:2]) @ s.axes[:2, :2].T
            line = tuple((round(float(x), 1), round(float(y), 1)) for x, y in at)
        tall = max(part.height, _height(cuts, panel) * part.width / panel.length)
        geometry = PartGeometry(part.width, t, part.height, edges=edges, between=between, line=line, tall=tall)
    else:
        geometry = PartGeometry(part.height, t, part.width)
    combined = [cuts.combined(s) for s in stations]
    demand = demands(np.stack([c.steady for c in combined]), np.stack([c.either for c in combined]))
    return Member(
        geometry=geometry, of=of, standard=project.standard, strengths=strengths, demand=demand,
        situations=situations, stations=len(stations), rays=rays,
    )  # fmt: skip


def _height(cuts: WallCuts, panel: Panel) -> float:
    """Height of a panel over the basement, or of all of it where it is basement alone [mm]."""
    low, high = float(panel.z.min()), float(panel.z.max())
    base = max((s.high for s in cuts.walls.storeys if s.basement), default=low)
    return high - max(base, low) if high > base else high - low


def told(s: WallSteel | LintelSteel) -> str:
    """Bars in a few signs."""
    if isinstance(s, LintelSteel):
        return f"{s.chords}, links {s.links}{f', diagonals {s.diagonals}' if s.diagonals is not None else ''}"
    ends = f" ends {s.ends}" if s.ends is not None else ""
    return f"v {s.vertical} h {s.horizontal}{ends}{f' ties {s.ties}' if s.ties is not None else ''}"


def held_edges(wall: LaidWall, part: Part) -> tuple[int, float]:
    """Edges of a part that are held, foot and head among them, and the length between upright ones.

    Other panels of the wall hold it where they meet it; of several lengths between them the one that buckles first.
    """
    joints = [j for j in wall.joints[part.panel] if j[1] <= part.low + TOUCH and j[2] >= part.high - TOUCH]
    held = sorted({s for s, _, _ in joints if part.a - TOUCH <= s <= part.b + TOUCH})
    if not held:
        return 2, part.width
    lengths = [(4, b - a) for a, b in itertools.pairwise(held)]
    if held[0] > part.a + TOUCH:
        lengths.append((3, held[0] - part.a))
    if held[-1] < part.b - TOUCH:
        lengths.append((3, part.b - held[-1]))
    if not lengths:
        return 2, part.width
    return max(lengths, key=lambda e: e[1] * (3.0 if e[0] == 3 else 1.0))


def bars_frame(parts: list[CheckedPart]) -> pd.DataFrame:
    """One row a part: its bars."""
    rows = []
    for c in parts:
        p, s, cover = c.part, c.steel, c.member.of.cover
        row: dict[str, object] = {
            "wall": p.wall, "panel": p.panel, "storey": p.storey, "part": p.name, "label": p.label,
            "kind": str(p.kind),
        }  # fmt: skip
        if isinstance(s, WallSteel):
            along, across = s.ratios(c.geometry.thickness, cover.curtains)
            total = mass(c.geometry.length, c.geometry.height, c.geometry.thickness, s, cover)
            row |= {
                "vertical [mm]": s.vertical, "horizontal [mm]": s.horizontal, "each end [mm]": s.ends or "",
                "ties of ends [mm]": s.ties or "",
                "vertical [%]": 100.0 * across, "horizontal [%]": 100.0 * along, "mass [kg]": total,
            }  # fmt: skip
        else:
            row |= {"each chord [mm]": s.chords, "links [mm]": s.links, "diagonals [mm]": s.diagonals or ""}
        rows.append(row | {"bars": "given" if c.given else "chosen", "decided by": c.decided})
    columns = [
        "wall", "panel", "storey", "part", "label", "kind", "vertical [mm]", "horizontal [mm]", "each end [mm]",
        "ties of ends [mm]", "each chord [mm]", "links [mm]", "diagonals [mm]", "vertical [%]", "horizontal [%]",
        "mass [kg]", "bars", "decided by",
    ]  # fmt: skip
    frame = pd.DataFrame(rows).reindex(columns=columns)
    texts = [c for c in columns if c.endswith("[mm]")]
    frame[texts] = frame[texts].astype(object).where(frame[texts].notna(), "")
    return frame


def checks_frame(parts: list[CheckedPart], cuts: WallCuts) -> pd.DataFrame:
    """One row a part and check, the worst first."""
    rows = [_row(check, c, cuts) for c in parts for check in c.checks]
    return worst_first(pd.DataFrame(rows, columns=CHECK_COLUMNS))


def worst_first(frame: pd.DataFrame) -> pd.DataFrame:
    """Rows by falling utilisation, those alike in their order."""
    if frame.empty:
        return frame
    falling = frame["utilisation"].round(ALIKE).sort_values(ascending=False, kind="stable")
    return frame.loc[falling.index].reset_index(drop=True)


def _row(check: PartCheck, of: CheckedPart, cuts: WallCuts) -> dict[str, object]:
    unit, scale = FORCE.get(check.unit, (check.unit, 1.0))
    p = of.part
    row: dict[str, object] = {
        "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}", "label": p.label, "kind": str(p.kind),
        "check": check.name,
    }  # fmt: skip
    d, i = of.member.demand, check.index
    row |= {
        "utilisation": check.utilisation, "demand": check.demand * scale, "capacity": check.capacity * scale,
        "unit": unit, "clause": check.clause,
        "combination": cuts.rows[d.combination[i]].name if i >= 0 else "",
        "at": of.stations[d.station[i]].at if i >= 0 else "",
        "N [kN]": d.N[i] / 1e3 if i >= 0 else math.nan, "V [kN]": d.V[i] / 1e3 if i >= 0 else math.nan,
        "M [kNm]": d.M[i] / 1e6 if i >= 0 else math.nan,
        "M out of plane [kNm]": d.M_out[i] / 1e6 if i >= 0 else math.nan,
    }  # fmt: skip
    held = check.utilisation <= 1.0 + 1e-9
    row["status"] = str(Status.OK) if held else Status.EXCEEDED.because(f"by {check.name}")
    row["note"] = check.note
    return row
