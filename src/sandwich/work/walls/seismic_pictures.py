"""What the pictures of seismic walls show: their ends and coupling beams, demand against capacity, two details."""

from __future__ import annotations

import math
from typing import Final, NamedTuple

import numpy as np

from sandwich.core.shown import Shown
from sandwich.design.walls.bars import BarGroup, Ties, WallSteel, place_lintel, place_wall
from sandwich.design.walls.checks import SEISMIC
from sandwich.design.walls.ends import EndCheck
from sandwich.drawing.wall_records import (
    BeamDetail,
    Box,
    EndBox,
    EndDetail,
    HeightDescription,
    SeismicDetailDescription,
    SeismicElevationDescription,
)
from sandwich.standards.interface import BoundaryNeed
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.coupling import CheckedBeam
from sandwich.work.walls.ends import CheckedEnd
from sandwich.work.walls.feet import under
from sandwich.work.walls.layout import LaidWall, Walls
from sandwich.work.walls.pictures import frame_of, plan_of, starts_of
from sandwich.work.walls.seismic_shear import UP, CheckedShear

Steps = list[tuple[float, float, float]]
SHEAR: Final = "shear in plane"
PAST: Final = 1.6  # of the length of a boundary element that its section is drawn
PIER: Final = 400.0  # mm of the piers beside a coupling beam


def seismic_elevation(
    walls: Walls, wall: LaidWall, ends: list[CheckedEnd], beams: list[CheckedBeam], shown: Shown
) -> SeismicElevationDescription:
    """Boundary elements, bars at ends and coupling beams of a wall."""
    openings, panels, levels = frame_of(walls, wall, shown)
    by, starts = shown.factor("m"), starts_of(wall)
    boxes = [
        Box(by * (starts[p.panel] + p.a / 1e3), by * p.low / 1e3, by * p.width / 1e3, by * p.height / 1e3,
            p.label or p.name, kind=str(p.kind))
        for p in wall.parts
    ]  # fmt: skip
    zones, labels = [], []
    for e in ends:
        p, s = e.part.part, e.steel
        if s.ends is None or e.worst is None:
            continue
        wide = min(s.ends.length, p.width / 2.0)
        x = p.a if e.end == "left" else p.b - wide
        zones.append(EndBox(by * (starts[p.panel] + x / 1e3), by * p.low / 1e3, by * wide / 1e3, by * p.height / 1e3,
                            s.ties is not None, e.worst.check.utilisation))  # fmt: skip
        if e.end == "left":
            ties = f"\nties {s.ties.in_units(shown).partition(',')[0]}" if s.ties is not None else ""
            middle = starts[p.panel] + (p.a + p.b) / 2e3
            text = f"ends {s.ends.in_units(shown)}\nover {s.ends.length * shown.factor('mm'):.4g}{ties}"
            labels.append((by * middle, by * (p.low + p.high) / 2e3, text, by * p.width / 1e3))
    lines = []
    for b in beams:
        q, own = b.part.part, b.steel
        x0, x1 = (by * (starts[q.panel] + v / 1e3) for v in (q.a, q.b))
        y0, y1 = by * q.low / 1e3, by * q.high / 1e3
        if own.diagonals is not None:
            lines += [(x0, y0, x1, y1), (x0, y1, x1, y0)]
        bars = own.diagonals if own.diagonals is not None else own.links
        text = bars.in_units(shown).partition(",")[0]
        labels.append(((x0 + x1) / 2.0, (y0 + y1) / 2.0, text, x1 - x0))
    tied = sum(z.tied for z in zones) // 2
    crossed = sum(b.steel.diagonals is not None for b in beams)
    note = (
        f"bars at the ends of {len(zones) // 2} parts, {tied} with ties (filled by utilisation, the others hatched); "
        f"diagonals in {crossed} of {len(beams)} coupling beams"
    )
    return SeismicElevationDescription(
        title=f"Wall {wall.name}: boundary elements and coupling beams", note=note, openings=openings, panels=panels,
        levels=levels, plan=plan_of(wall, shown), unit=shown.unit("m"), parts=boxes, ends=zones,
        lines=np.array(lines).reshape(-1, 4), labels=labels,
    )  # fmt: skip


def seismic_details(
    walls: Walls, wall: LaidWall, parts: list[CheckedPart], ends: list[CheckedEnd], shears: list[CheckedShear],
    beams: list[CheckedBeam], shown: Shown,
) -> SeismicDetailDescription:  # fmt: skip
    """Demand against capacity up the height where it is used most, the worst boundary element and coupling beam."""
    worst = max(shears, key=lambda s: s.check.utilisation)
    stack = _stack(worst.part, [c for c in parts if isinstance(c.steel, WallSteel)])
    name = f"{worst.part.part.panel} {worst.part.part.name}"
    heights = tuple(_heights(walls, stack, shears, shown))
    note = f"part {name} and what stands over and under it: the largest utilisation, {worst.check.utilisation:.2f} "
    note += f"({worst.check.name}, {worst.part.part.storey})"
    laid = [
        _Tied(e, e.steel.ends, e.steel.ties, e.need, e.worst)
        for e in ends
        if e.steel.ends and e.steel.ties and e.need and e.worst
    ]
    end = max(laid, key=lambda t: t.worst.check.utilisation, default=None)
    crossed = [b for b in beams if b.steel.diagonals is not None]
    beam = max(crossed or beams, key=lambda b: b.worst.check.utilisation, default=None)
    return SeismicDetailDescription(
        title=f"Wall {wall.name}: moments and shear up the height, details", note=note, heights=heights,
        end=None if end is None else _end(end, shown), beam=None if beam is None else _beam(beam, shown),
    )  # fmt: skip


def _stack(c: CheckedPart, parts: list[CheckedPart]) -> list[CheckedPart]:
    return sorted((p for p in parts if under(p, c) or under(c, p)), key=lambda p: p.part.low)


def _heights(
    walls: Walls, stack: list[CheckedPart], shears: list[CheckedShear], shown: Shown
) -> list[HeightDescription]:
    by, kN, kNm = shown.factor("m") / 1e3, shown.factor("kN") / 1e3, shown.factor("kNm") / 1e6
    levels = [(s.name, by * s.low) for s in walls.storeys] + [("", by * walls.storeys[-1].high)]
    moment: dict[str, Steps] = {"analysis": [], "design": [], "capacity": []}
    shear: dict[str, Steps] = {"analysis": [], "design": [], "capacity": []}
    for c in stack:
        p, d = c.part, c.member.demand
        mine = c.member.situations[d.combination] == SEISMIC
        found = [s for s in shears if s.part.part.full_name == p.full_name]
        own = {s.check.name: s.check for s in found}
        factor = next((s.factor for s in found if s.check.name == SHEAR), 1.0)
        if not mine.any():
            continue
        low, high, most = by * p.low, by * p.high, float(np.abs(d.M[mine]).max())
        moment["analysis"].append((low, high, kNm * most))
        more = UP in own and own[UP].demand >= most
        moment["design"].append((low, high, kNm * (own[UP].demand if more else most)))
        carried = own[UP].capacity if more else _carried(c)
        if math.isfinite(carried):
            moment["capacity"].append((low, high, kNm * carried))
        if SHEAR in own:
            shear["analysis"].append((low, high, kN * float(d.V[mine].max())))
            shear["design"].append((low, high, kN * factor * float(d.V[mine].max())))
            shear["capacity"].append((low, high, kN * own[SHEAR].capacity))
    return [
        HeightDescription("moment in the plane", f"M [{shown.unit('kNm')}]", levels, list(moment.items())),
        HeightDescription("shear in the plane", f"V [{shown.unit('kN')}]", levels, list(shear.items())),
    ]


def _carried(c: CheckedPart) -> float:
    """Moment in the plane that is carried beside the axial force of the largest seismic one [N mm]."""
    d = c.member.demand
    mine = np.flatnonzero(c.member.situations[d.combination] == SEISMIC)
    i = int(mine[np.argmax(np.abs(d.M[mine]))])
    strength = c.member.strengths.of(c.geometry, c.steel, c.member.of, SEISMIC)
    return float(strength.strength(d.N[i], 0.0, d.M[i], ray=False).moment[0])


class _Tied(NamedTuple):
    """An end that has bars of its own with ties."""

    of: CheckedEnd
    ends: BarGroup
    ties: Ties
    need: BoundaryNeed
    worst: EndCheck


def _end(e: _Tied, shown: Shown) -> EndDetail:
    """Section of the left end, to scale."""
    part = e.of.part
    g, cover = part.geometry, part.member.of.cover
    placed = place_wall(g.length, g.thickness, e.of.steel, cover)
    drawn = min(PAST * e.ends.length, g.length)
    here = placed.places[:, 0] <= drawn
    bars = np.column_stack([placed.places[here], placed.diameters[here]])
    own = bars[bars[:, 0] <= e.ends.length]
    rows, layers = np.unique(own[:, 0].round(3)), np.unique(own[:, 1].round(3))
    half = e.ties.diameter / 2.0
    ring = (
        cover.cover + half, cover.cover + half, float(rows[-1]) + e.ends.diameter / 2.0 + half,
        g.thickness - cover.cover - half,
    )  # fmt: skip
    legs = [(float(x), ring[1], float(x), ring[3]) for x in _spread(rows, e.ties.across)[1:-1]]
    legs += [(ring[0], float(y), ring[2], float(y)) for y in _spread(layers, e.ties.along)[1:-1]]
    mm, p = shown.factor("mm"), part.part
    told = (
        f"{e.ends.in_units(shown)} over {e.ends.length * mm:.4g} {shown.unit('mm')} (asked "
        f"{e.need.length * mm:.4g}), ties {e.ties.in_units(shown)}"
    )
    told += f"\nutilisation {e.worst.check.utilisation:.2f} ({e.worst.check.name}, {e.worst.check.clause})"
    kind = "boundary element" if e.need.needed else "end of a wall"
    return EndDetail(
        title=f"{kind}, {p.storey}, {p.panel} {p.label or p.name}", size=(drawn * mm, g.thickness * mm),
        bars=bars * mm, ring=(ring[0] * mm, ring[1] * mm, ring[2] * mm, ring[3] * mm),
        legs=[(a * mm, b * mm, c * mm, d * mm) for a, b, c, d in legs], length=e.ends.length * mm, told=told,
        unit=shown.unit("mm"),
    )  # fmt: skip


def _spread(at: np.ndarray[tuple[int], np.dtype[np.float64]], legs: int) -> list[float]:
    """Places of so many legs, spread evenly over bars."""
    count = len(at)
    picked = range(count) if legs >= count else [round(i * (count - 1) / max(legs - 1, 1)) for i in range(legs)]
    return [float(at[i]) for i in picked]


def _beam(b: CheckedBeam, shown: Shown) -> BeamDetail:
    """Elevation of a coupling beam, to scale."""
    g, s, cover = b.part.geometry, b.steel, b.part.member.of.cover
    l_n, h, mm = g.height, g.length, shown.factor("mm")
    lines, ties, group = [], [], 0.0
    if b.laid is not None and s.diagonals is not None:
        rise = l_n * math.tan(b.laid.alpha)
        mid, more = h / 2.0, PIER * math.tan(b.laid.alpha)
        lines = [(-PIER, mid - way * (rise / 2.0 + more), l_n + PIER, mid + way * (rise / 2.0 + more))
                 for way in (1.0, -1.0)]  # fmt: skip
        group = b.laid.core[1] if not b.laid.whole else h - 2.0 * (cover.cover + s.links.diameter) - rise
        if s.diagonals.ties is not None:
            run = s.diagonals.ties.spacing * math.cos(b.laid.alpha)
            ties = [float(x) for x in np.arange(run / 2.0, l_n, run)]
    chords = sorted({round(float(x), 1) for x in place_lintel(h, g.thickness, s, cover).places[:, 0]})
    links = [float(x) for x in np.arange(min(50.0, s.links.spacing / 2.0), l_n, s.links.spacing)]
    p = b.part.part
    diagonals = f"diagonals {s.diagonals.in_units(shown)}" if s.diagonals is not None else "no diagonals"
    told = f"{diagonals}; chords {s.chords.in_units(shown)}, links {s.links.in_units(shown)}"
    if b.laid is not None:
        told += f"; {math.degrees(b.laid.alpha):.1f} deg"
    told += f"\nutilisation {b.worst.check.utilisation:.2f} ({b.worst.check.name}, {b.worst.check.clause})"
    return BeamDetail(
        title=f"coupling beam, {p.storey}, {p.panel} {p.label or p.name}", size=(l_n * mm, h * mm),
        diagonals=[(a * mm, c * mm, d * mm, e * mm) for a, c, d, e in lines], group=group * mm,
        chords=[c * mm for c in chords], links=[x * mm for x in links], ties=[x * mm for x in ties], told=told,
        unit=shown.unit("mm"),
    )  # fmt: skip
