"""What the pictures of walls show: elevations with utilisations and with bars, strength of the worst parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.shown import Shown, Sized
from sandwich.design.walls.bars import LintelSteel, WallSteel, place_lintel, place_wall
from sandwich.design.walls.checks import BENDING, PartCheck
from sandwich.design.walls.curves import curve
from sandwich.design.walls.plane import strain_plane
from sandwich.drawing.wall_records import (
    Box,
    CurveDescription,
    ElevationDescription,
    StrengthDescription,
    WallBarsDescription,
)
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.layout import LaidWall, Walls
from sandwich.work.walls.schedule import (
    CHORDS,
    CLOSING,
    CROSS_TIES,
    DIAGONALS,
    END_BARS,
    END_TIES,
    LEVEL,
    LINKS,
    VERTICAL,
)
from sandwich.work.walls.stations import WallCuts

Marks = Mapping[tuple[str, str, str, str], Sequence[int]]
Floats = NDArray[np.float64]
GAP: Final = 1.2  # m between panels in an elevation
INSIDE: Final = 0.03  # m from an edge of a part to the ends of its bars
ANCHORED: Final = 0.3  # m that chords are drawn past a lintel
DETAILS: Final = ("minimum", "maximum", "spacing", "curtains")  # checks of the steel alone


def starts_of(wall: LaidWall) -> dict[str, float]:
    """Where each panel starts in an elevation [m]."""
    out, at = {}, 0.0
    for p in wall.panels:
        out[p.name] = at
        at += p.length / 1e3 + GAP
    return out


def frame_of(
    walls: Walls, wall: LaidWall, shown: Shown
) -> tuple[list[Box], list[tuple[str, float, float]], list[tuple[str, float]]]:
    """Openings, panels and levels of an elevation in the unit shown."""
    by, starts = shown.factor("m"), starts_of(wall)
    openings = [
        Box(by * (starts[p.name] + o.a / 1e3), by * o.low / 1e3, by * o.width / 1e3, by * o.height / 1e3)
        for p, of in zip(wall.panels, wall.openings, strict=True)
        for o in of
    ]
    panels = [(p.name, by * starts[p.name], by * p.length / 1e3) for p in wall.panels]
    levels = [(s.name, by * s.low / 1e3) for s in walls.storeys] + [("", by * walls.storeys[-1].high / 1e3)]
    return openings, panels, levels


def _boxes(wall: LaidWall, parts: list[CheckedPart], shown: Shown) -> list[Box]:
    by, starts = shown.factor("m"), starts_of(wall)
    out = []
    for c in parts:
        p = c.part
        worst = worst_strength(c)
        out.append(
            Box(
                x=by * (starts[p.panel] + p.a / 1e3), y=by * p.low / 1e3, width=by * p.width / 1e3,
                height=by * p.height / 1e3, name=p.label or p.name, value=worst.utilisation, told=worst.name,
                kind=str(p.kind),
            )
        )  # fmt: skip
    return out


def worst_strength(c: CheckedPart) -> PartCheck:
    """The worst check of strength, or one of the steel alone that is exceeded."""
    strength = [k for k in c.checks if k.utilisation > 1.0 + 1e-9 or not k.name.startswith(DETAILS)]
    return strength[0] if strength else c.checks[0]


def worst_of_table(checks: pd.DataFrame) -> dict[tuple[str, str, str], float]:
    """The same of every part in a table of checks, by wall, storey and part."""
    of_strength = ~checks["check"].str.startswith(DETAILS) | (checks["utilisation"] > 1.0 + 1e-9)
    both = [
        f.groupby(["wall", "storey", "part"], sort=False)["utilisation"].max() for f in (checks[of_strength], checks)
    ]
    return {k: float(both[0].get(k, v)) for k, v in both[1].items()}  # type: ignore[misc]


def plan_of(wall: LaidWall, shown: Shown) -> list[tuple[str, Floats]]:
    """Lines of the panels in plan."""
    return [(p.name, shown.factor("m") * p.line / 1e3) for p in wall.panels]


def elevation(walls: Walls, wall: LaidWall, parts: list[CheckedPart], shown: Shown) -> ElevationDescription:
    """Parts of a wall, coloured by their largest utilisation."""
    openings, panels, levels = frame_of(walls, wall, shown)
    worst = [worst_strength(c) for c in parts]
    most = max(worst, key=lambda k: k.utilisation, default=None)
    told = f"largest {most.utilisation:.2f} ({most.name}); " if most is not None else ""
    note = f"{told}each part by its worst check of strength, and by minimum and spacing where these fail"
    return ElevationDescription(
        title=f"Wall {wall.name}: utilisation", note=note, parts=_boxes(wall, parts, shown), openings=openings,
        panels=panels, levels=levels, plan=plan_of(wall, shown), unit=shown.unit("m"),
    )  # fmt: skip


def _wall_lines(c: CheckedPart, x: float) -> list[tuple[float, float, float, float, float]]:
    """Bars of a wall or pier that starts at x [m], with their diameters [mm]."""
    p, steel = c.part, c.steel
    assert isinstance(steel, WallSteel)
    placed = place_wall(p.width, c.geometry.thickness, steel, c.member.of.cover)
    low, high = p.low / 1e3, p.high / 1e3
    at, first = np.unique(placed.places[:, 0].round(1), return_index=True)
    out = [(x + a / 1e3, low, x + a / 1e3, high, float(placed.diameters[i])) for a, i in zip(at, first, strict=True)]
    h = steel.horizontal
    levels = np.arange(p.low + h.spacing / 2.0, p.high, h.spacing) / 1e3
    return out + [(x + INSIDE, z, x + p.width / 1e3 - INSIDE, z, h.diameter) for z in levels]


def _lintel_lines(c: CheckedPart, x: float) -> list[tuple[float, float, float, float, float]]:
    """Chords and links of a lintel that starts at x [m], with their diameters [mm]."""
    p, steel = c.part, c.steel
    assert isinstance(steel, LintelSteel)
    placed = place_lintel(p.height, c.geometry.thickness, steel, c.member.of.cover)
    low, high, end = p.low / 1e3, p.high / 1e3, x + p.width / 1e3
    levels = low + np.unique(placed.places[:, 0].round(1)) / 1e3
    out = [(x - ANCHORED, z, end + ANCHORED, z, steel.chords.diameter) for z in levels]
    at = x + np.arange(steel.links.spacing / 2.0, p.width, steel.links.spacing) / 1e3
    return out + [(a, low + INSIDE, a, high - INSIDE, steel.links.diameter) for a in at]


def _told(c: CheckedPart, marks: Marks, shown: Shown) -> str:
    """Bars of a part, each with its marks."""
    p = c.part

    def line(words: str, bars: Sized, *layers: str) -> str:
        own = (marks.get((p.wall, p.storey, p.label or f"{p.panel} {p.name}", layer), ()) for layer in layers)
        found = ", ".join(map(str, sorted({m for of in own for m in of})))
        return (f"({found}) " if found else "") + words + bars.in_units(shown).partition(",")[0]

    if isinstance(c.steel, LintelSteel):
        out = [line("", c.steel.chords, CHORDS), line("", c.steel.links, LINKS)]
        if c.steel.diagonals is not None:
            out.append(line("diagonals ", c.steel.diagonals, DIAGONALS))
        return "\n".join(out)
    out = [line("v ", c.steel.vertical, VERTICAL), line("h ", c.steel.horizontal, LEVEL, CLOSING)]
    if c.steel.ends is not None:
        out.append(line("ends ", c.steel.ends, END_BARS))
    if c.steel.ties is not None:
        out.append(line("ties ", c.steel.ties, END_TIES, CROSS_TIES))
    return "\n".join(out)


def laid_bars(
    walls: Walls, wall: LaidWall, parts: list[CheckedPart], marks: Marks, shown: Shown
) -> WallBarsDescription:
    """Bars of a wall in its elevation, with their marks by wall, storey, part and layer of the schedule."""
    openings, panels, levels = frame_of(walls, wall, shown)
    by, starts = shown.factor("m"), starts_of(wall)
    lines: list[tuple[float, float, float, float, float]] = []
    labels: list[tuple[float, float, str, float]] = []
    for c in parts:
        p = c.part
        x = starts[p.panel] + p.a / 1e3
        lines += _wall_lines(c, x) if isinstance(c.steel, WallSteel) else _lintel_lines(c, x)
        text = _told(c, marks, shown)
        labels.append((by * (x + p.width / 2e3), by * (p.low + p.height / 2.0) / 1e3, text, by * p.width / 1e3))
    array = by * np.array(lines).reshape(-1, 5)
    array[:, 4] = np.array(lines).reshape(-1, 5)[:, 4]
    note = (
        f"(marks of the bar schedule) v vertical, h horizontal [{shown.unit('mm')}, diameter/spacing]; lintels: each "
        "chord, links; laps are not drawn"
    )
    return WallBarsDescription(
        title=f"Wall {wall.name}: bars", note=note, lines=array, labels=labels, openings=openings, panels=panels,
        levels=levels, plan=plan_of(wall, shown), unit=shown.unit("m"),
    )  # fmt: skip


def most_bent(parts: list[CheckedPart]) -> CheckedPart:
    """The part that bending with axial force uses most."""
    return max(parts, key=lambda c: max((k.utilisation for k in c.checks if k.name == BENDING), default=0.0))


def strength_of(worst: CheckedPart, cuts: WallCuts, shown: Shown) -> StrengthDescription:
    """Section and curves of a part, with its demands."""
    check = next(k for k in worst.checks if k.name == BENDING)
    d, situations = worst.member.demand, worst.member.situations
    situation = situations[d.combination[check.index]]
    strength = worst.member.strengths.of(worst.geometry, worst.steel, worst.member.of, situation)
    mine = situations[d.combination] == situation
    force, moment = shown.factor("kN") * 1e-3, shown.factor("kNm") * 1e-6
    curves = []
    for title, ways, values in (
        ("in plane", (0.0, np.pi), d.M), ("out of plane", (-np.pi / 2.0, np.pi / 2.0), d.M_out)
    ):  # fmt: skip
        both = [curve(strength, w) for w in ways]
        M = np.concatenate([both[0].M, -both[1].M[::-1]]) * moment
        N = np.concatenate([both[0].N, both[1].N[::-1]]) * force
        keys = [(k.name, k.M * moment, k.N * force) for k in both[0].points]
        points = np.stack([values[mine] * moment, d.N[mine] * force], axis=1)
        governs = np.array([values[check.index] * moment, d.N[check.index] * force])
        curves.append(CurveDescription(
            title=title, N=N, M=M, keys=keys, demands=np.unique(points.round(3), axis=0), governing=governs,
            force=shown.unit("kN"), moment=shown.unit("kNm"),
        ))  # fmt: skip
    section = strength.section
    forces = float(d.N[check.index]), float(d.M_out[check.index]), float(d.M[check.index])
    rings, bars = [r - section.centroid for r in section.rings], section.bars - section.centroid
    plane: tuple[float, float, float] | None
    try:
        found = strain_plane(section, strength.law, *forces)
        plane, stress, most = (found.strain, found.slope_x, found.slope_y), found.stresses, found.corner
        at = f"under the governing demand, {found.concrete * shown.factor('MPa'):.3g} {shown.unit('MPa')} at its corner"
    except ValueError:  # more than it carries: the plane at its strength
        s = strength.strength(*forces)
        if np.isfinite(s.moment[0]):
            ultimate = section.plane(s.theta, s.p, strength.law.concrete)
            plane = float(ultimate.strain[0]), float(ultimate.slope_x[0]), float(ultimate.slope_y[0])
            stress = -strength.law.steel.at(plane[0] + bars @ np.array(plane[1:]))
            most = plane[0] + float((np.concatenate(rings) @ np.array(plane[1:])).max())
            at = "at its strength beside the governing axial force"
        else:
            plane, stress, most = None, np.zeros(len(bars)), 0.0
            at = "carries the governing axial force at no moment"
    p, mm = worst.part, shown.factor("mm")
    combination = cuts.rows[d.combination[check.index]].name
    told = f"; {check.note}" if check.note else ""
    use = f"utilisation {check.utilisation:.2f}" if np.isfinite(check.utilisation) else "not carried"
    note = f"{use} in {combination}, {situation}; N positive in tension{told}"
    return StrengthDescription(
        title=f"Wall {p.wall}: bending with axial force, {p.storey}, {p.panel} {p.label or p.name}", note=note,
        curves=tuple(curves), rings=[r * mm for r in rings], bars=bars * mm,
        diameters=np.sqrt(strength.section.area * 4.0 / np.pi) * mm, stresses=stress * shown.factor("MPa"),
        plane=None if plane is None else (plane[0], plane[1] / mm, plane[2] / mm), most=most, at=at,
        length=shown.unit("mm"), stress=shown.unit("MPa"),
    )  # fmt: skip
