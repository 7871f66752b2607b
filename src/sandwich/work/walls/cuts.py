"""Cuts of walls: forces of parts and of whole sections at their stations, for every case and combination."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.combine.table import Combinations, Row
from sandwich.core.connected import connected
from sandwich.core.errors import Faults
from sandwich.job.walls import OwnCut, Spectrum
from sandwich.mechanics.spacecuts import SpaceCut, cut_by_plane
from sandwich.model.walls.outline import Stretch
from sandwich.model.walls.outline import centroid as plan_centroid
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.parts import Kind, Part
from sandwich.project.project import Project
from sandwich.work.walls.cutter import Cutter
from sandwich.work.walls.given import given_stations
from sandwich.work.walls.layout import Walls
from sandwich.work.walls.spectra import with_modes
from sandwich.work.walls.stations import UP, Station, WallCuts, moved, part_axes, section_axes

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
TOUCH: Final = 20.0  # mm between ends of pieces that are one section
NEAR: Final = 200.0  # mm of a place from the panel it is meant for
OWN: Final = "own cut"  # kind of the stations of cuts of the user's own
TURN: Final = np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])  # a tangent times this is to its left


def cut_walls(
    project: Project, walls: Walls, faults: Faults, known: tuple[Station, ...] | None = None
) -> WallCuts | None:
    """Cut all parts and sections of all walls, or take stations that are known; notes cases that cannot be cut."""
    results = project.results
    spectra = _spectra(project, faults)
    rows = _rows(project, spectra, walls, faults)
    if faults.found:
        return None
    factors = np.array([[r.factors.get(c, 0.0) for c in results.cases] for r in rows])
    either = np.array([results.kinds[c].signed is False and not _has_signs(spectra.get(c)) for c in results.cases])
    if known is not None:
        return WallCuts(walls, known, results.cases, tuple(rows), factors, either)
    stations: list[Station] = []
    for wall in walls.walls:
        if wall.asked.forces is not None:
            stations += given_stations(project, walls, wall, results.cases, faults)
            continue
        if walls.mesh is None:
            continue
        cutter = Cutter(wall, walls.mesh, results.corner, walls.storeys, results.nodal)
        if not np.isfinite(cutter.values).all():
            bare = ~np.isfinite(cutter.values).all((0, 3)) & cutter.real
            at = wall.elements[bare.any(1)]
            if len(at):
                found = f"element {walls.mesh.element_ids[at[0]]} has no results"
                faults.add(f"{project.job.path}, walls.{wall.name}", found, "export them; a cut needs all its elements")
                continue
            cutter.values = np.nan_to_num(cutter.values)
        signed = [results.kinds[c].signed is not False for c in results.cases]
        if not cutter.has_nodal(signed):
            where = f"{project.job.path}, walls.{wall.name}"
            faults.add(where, "some of its elements have no nodal forces", "export them for all, or take the table out")
            continue
        for name, own in wall.asked.cuts.items():
            stations += _own(cutter, name, own, f"{project.job.path}, walls.{wall.name}.cuts.{name}", faults)
        for part in wall.parts:
            stations += _of_part(cutter, part) if part.kind.upright else _of_lintel(cutter, part)
        for storey in walls.storeys:
            for end in ("bottom", "top"):
                stations += _of_sections(cutter, storey.name, storey.low, storey.high, end)
    walls_by = {w.name: w for w in walls.walls}
    out = []
    for s in stations:
        cut = walls_by[s.wall].asked.forces is None
        out.append(replace(s, cases=with_modes(s.cases, results.cases, spectra)) if cut else s)
    return WallCuts(walls, tuple(out), results.cases, tuple(rows), factors, either)


def _has_signs(spectrum: Spectrum | None) -> bool:
    return spectrum is not None and spectrum.signs_of is not None


def _spectra(project: Project, faults: Faults) -> dict[str, Spectrum]:
    kinds, where = project.results.kinds, f"{project.job.path}, spectra"
    for name, spectrum in project.job.spectra.items():
        for case in (name, *spectrum.modes):
            if case not in kinds:
                faults.add(f"{where}.{name}", f"no case is called '{case}'", f"there are {', '.join(kinds)}")
        if name in kinds and kinds[name].signed is not False:
            faults.add(
                f"{where}.{name}", f"case '{name}' has signs", f"write [cases.{name}] signed = false, or take it out"
            )
        lost = [m for m in spectrum.modes if m in kinds and kinds[m].signed is False]
        if lost:
            faults.add(
                f"{where}.{name}", f"mode '{lost[0]}' has no signs", "modes are cut one by one: bring them signed"
            )
    return dict(project.job.spectra)


def _rows(project: Project, spectra: dict[str, Spectrum], walls: Walls, faults: Faults) -> list[Row]:
    """Ultimate combinations, one for all patterns of signs; cases without signs need their modes."""
    of: Combinations = project.combinations.ultimate()
    rows: dict[str, Row] = {}
    for r in of.rows:
        rows.setdefault(r.base or r.name, replace(r, name=r.base or r.name, signs={}))
    kinds = project.results.kinds
    bare = sorted(
        {c for r in rows.values() for c, f in r.factors.items() if f and kinds[c].signed is False} - set(spectra)
    )
    if bare and any(w.asked.forces is None for w in walls.walls):
        found = f"case '{bare[0]}' has no signs, and a cut adds forces with their signs"
        remedy = f"bring its modes as cases and name them in [spectra.{bare[0]}], or give the section forces as a table"
        faults.add(f"{project.job.path}, walls", found, remedy)
    return list(rows.values())


def _places(low: float, high: float, distance: float | None) -> list[tuple[str, float]]:
    count = 1 if distance is None else max(int(np.ceil((high - low) / (1e3 * distance) - 1e-9)), 1)
    at = np.linspace(low, high, count + 1)
    return [("bottom", low), *(("between", float(z)) for z in at[1:-1]), ("top", high)]


def _of_part(cutter: Cutter, part: Part) -> list[Station]:
    """Level cuts of a pier or a whole panel: at its ends, at edges of openings beside it, and in between."""
    wall = cutter.wall
    index = next(i for i, p in enumerate(wall.panels) if p.name == part.panel)
    panel = wall.panels[index]
    offset = 1e3 * wall.asked.offset
    places = _places(part.low, part.high, wall.asked.distance)
    if part.kind is Kind.FULL_PIER:
        beside = [o for o in wall.openings[index] if abs(o.b - part.a) < TOUCH or abs(o.a - part.b) < TOUCH]
        edges = sorted({e for o in beside for e in (o.low, o.high) if part.low + TOUCH < e < part.high - TOUCH})
        places = sorted({*places, *(("opening", e) for e in edges)}, key=lambda p: p[1])
    out = []
    for at, z in places:
        inwards = 1.0 if at == "bottom" else -1.0 if at == "top" else 0.0
        step = max(cutter.half(index, 1, z, inwards), offset) if inwards else 0.0
        step = min(step, part.height / 2.0)
        reach = (part.a, part.b)
        if part.reach != reach and part.reach[1] > part.reach[0]:
            beside = [o for o in wall.openings[index] if o.low < z + inwards * step < o.high]
            reach = part.reach if not beside else reach
        found = _level(cutter, panel, index, z + inwards * step, *reach)
        if found is None:
            continue
        to = np.array([0.0, 0.0, z + inwards * min(offset, step)])
        rows = [found] if inwards else []
        for k in (3.0, 5.0) if inwards else ():
            more = _level(cutter, panel, index, z + inwards * k * step, *reach) if k * step < part.height else None
            rows += [more] if more is not None else []
        middle_s = (part.a + part.b) / 2.0
        start = panel.place(middle_s)[0]
        first = part_axes(panel, part.a, part.b, upright=True)[0]
        cases, centroid, axes, area = cutter.inwards(rows or [found], first, to)
        run = Stretch(panel.name, part.a, part.b, wall.thickness_of(part))
        if reach != (part.a, part.b):  # what stands over openings is carried to the pier's own middle
            middle = np.array([*(start if panel.straight else plan_centroid((run,), wall.panels)[0]), centroid[2]])
            cases = moved(cases, axes, centroid, middle)
            centroid, area = middle, part.width * run.thickness
        name = f"{part.panel} {part.name}"
        out.append(Station(
            wall=part.wall, storey=part.storey, part=name, kind=str(part.kind), at=at, place=float(to[2]),
            centroid=centroid, axes=axes, area=area, runs=(run,), one_sided=found.alone, cases=cases, part_of=part,
        ))  # fmt: skip
    return out


def _level(cutter: Cutter, panel: Panel, index: int, z: float, a: float, b: float) -> SpaceCut | None:
    """Pieces of a level cut in one panel between two places along it."""
    cut = cutter.level(z)
    if cut is None:
        return None
    cut = cut.picked(cutter.panel[cut.element] == index)
    if not len(cut.element):
        return None
    found = cut.between(_along(panel, cut.ends), a, b)
    return found if len(found.element) and found.length.sum() > 0.0 else None


def _along(panel: Panel, ends: Floats) -> Floats:
    """Places of the ends of pieces along a panel; a piece at the seam of a ring lies on the side of its middle."""
    s = panel.along(ends)
    if panel.closed:
        off = s - panel.along(ends.mean(1))[:, None]
        s -= panel.length * np.round(off / panel.length)
    return s


def _of_lintel(cutter: Cutter, part: Part) -> list[Station]:
    """Upright cuts of a lintel or parapet at both ends and in its middle."""
    wall = cutter.wall
    index = next(i for i, p in enumerate(wall.panels) if p.name == part.panel)
    panel = wall.panels[index]
    offset = 1e3 * wall.asked.offset
    out = []
    for at, s, inwards in (("left", part.a, 1.0), ("middle", (part.a + part.b) / 2.0, 0.0), ("right", part.b, -1.0)):
        step = min(max(cutter.half(index, 0, s, inwards), offset), part.width / 2.0) if inwards else 0.0
        place, way = panel.place(s + inwards * step)
        normal = np.array([*way, 0.0])
        mine = cutter.panel == index
        try:
            cut = cut_by_plane(cutter.xyz, cutter.real, cutter.axes, [*place, 0.0], normal)
        except ValueError:
            continue
        cut = cut.picked(mine[cut.element])
        near = np.abs(_along(panel, cut.ends).mean(1) - s) < part.width  # a ring is cut on its far side too
        cut = cut.picked(near)
        cut = cut.between(cut.ends[..., 2], part.low, part.high) if len(cut.element) else cut
        if not len(cut.element):
            continue
        to = np.array([*panel.place(s + inwards * min(offset, step))[0], 0.0])
        cases, centroid, axes, area = cutter.forces(cut, UP, to)
        run = Stretch(panel.name, part.low, part.high, wall.thickness_of(part))
        at_s = s + inwards * min(offset, step)
        name = f"{part.panel} {part.name}"
        out.append(
            Station(
                wall=part.wall, storey=part.storey, part=name, kind=str(part.kind), at=at, place=at_s,
                centroid=centroid, axes=axes, area=area, runs=(run,), one_sided=cut.alone, cases=cases, part_of=part,
            )
        )  # fmt: skip
    return out


def _own(cutter: Cutter, name: str, asked: OwnCut, where: str, faults: Faults) -> list[Station]:
    """A cut between two places in one panel: first axis along it, second across the panel."""
    wall = cutter.wall
    start, end = (1e3 * np.asarray(p, dtype=float) for p in (asked.start, asked.end))
    off = []
    for panel in wall.panels:
        ends = np.stack([start, end])
        off.append(float(np.linalg.norm(panel.place(panel.along(ends))[0] - ends[:, :2], axis=1).max()))
    index = int(np.argmin(off))
    panel = wall.panels[index]
    if off[index] > NEAR:
        faults.add(
            where, f"its places lie {off[index] / 1e3:.2g} m off every panel", "give two places in one panel, in m"
        )
        return []
    along = end - start
    length = float(np.linalg.norm(along))
    along /= length
    across = np.array([*panel.place(float(panel.along((start + end) / 2.0)))[1], 0.0]) @ TURN
    try:
        cut = cut_by_plane(cutter.xyz, cutter.real, cutter.axes, start, np.cross(along, across))
    except ValueError:
        cut = None
    if cut is not None:
        cut = cut.picked(cutter.panel[cut.element] == index).within(start, along, 0.0, length)
    if cut is None or not len(cut.element):
        faults.add(where, "it meets no element", "give two places inside the panel, in m")
        return []
    cases, centroid, axes, area = cutter.forces(cut, along, start)
    middle = float(centroid[2])
    storey = next((s for s in cutter.storeys if s.low <= middle <= s.high), cutter.storeys[-1])
    return [
        Station(
            wall=wall.name, storey=storey.name, part=f"{panel.name} {name}", kind=OWN, at="cut", place=middle,
            centroid=centroid, axes=axes, area=area, runs=(), one_sided=cut.alone, cases=cases,
        )
    ]  # fmt: skip


def _of_sections(cutter: Cutter, storey: str, low: float, high: float, at: str) -> list[Station]:
    """Level cuts of a whole wall: one section for all pieces that are connected in plan."""
    wall = cutter.wall
    level, inwards = (low, 1.0) if at == "bottom" else (high, -1.0)
    offset = 1e3 * wall.asked.offset
    halves = [cutter.half(i, 1, level, inwards) for i in range(len(wall.panels))]
    step = min(max(float(np.median(halves)), offset), (high - low) / 2.0)
    cut = cutter.level(level + inwards * step)
    if cut is None:
        return []
    to = np.array([0.0, 0.0, level + inwards * min(offset, step)])
    first = section_axes(wall)[0]
    out = []
    groups = [_connected(cut)]
    levels = [cut]
    for k in (3.0, 5.0):
        more = cutter.level(level + inwards * k * step) if k * step < high - low else None
        if more is None or len(_connected(more)) != len(groups[0]):
            break
        levels.append(more)
        groups.append(_connected(more))
    for k, mine in enumerate(groups[0]):
        part = cut.picked(mine)
        rows = [c.picked(g[k]) for c, g in zip(levels, groups, strict=True)]
        cases, centroid, axes, area = cutter.inwards(rows, first, to)
        runs = _runs(cutter, part)
        out.append(Station(
            wall=wall.name, storey=storey, part=f"section {k + 1}", kind="section", at=at, place=float(to[2]),
            centroid=centroid, axes=axes, area=area, runs=runs, one_sided=part.alone, cases=cases,
        ))  # fmt: skip
    return out


def _connected(cut: SpaceCut) -> list[NDArray[np.bool_]]:
    """Pieces of a level cut that meet, from left to right and from the front to the back."""
    ends = np.round(cut.ends[..., :2] / TOUCH).astype(np.int64)
    _, node = np.unique(ends.reshape(-1, 2), axis=0, return_inverse=True)
    node = node.reshape(-1, 2)
    count = int(node.max()) + 1
    label = connected(count, node[:, 0], node[:, 1])[node[:, 0]]
    groups = [label == v for v in np.unique(label)]
    return sorted(groups, key=lambda g: tuple(np.round(cut.ends[g].mean((0, 1))[[1, 0]], -1)))


def _runs(cutter: Cutter, cut: SpaceCut) -> tuple[Stretch, ...]:
    """Stretches of the panels in a section, of one thickness each."""
    out: list[Stretch] = []
    for i, panel in enumerate(cutter.wall.panels):
        mine = cutter.panel[cut.element] == i
        if not mine.any():
            continue
        s = np.sort(_along(panel, cut.ends[mine]), axis=1)
        h = cutter.wall.thickness[cut.element[mine]]
        order = np.lexsort((s[:, 1], s[:, 0]))
        for a, b, t in zip(s[order, 0], s[order, 1], h[order], strict=True):
            last = out[-1] if out and out[-1].panel == panel.name else None
            if last is not None and a <= last.b + 1.0 and abs(t - last.thickness) < 1e-6:
                out[-1] = replace(last, b=max(last.b, float(b)))
            elif last is None or b > last.b + 1.0 or abs(t - last.thickness) >= 1e-6:
                out.append(Stretch(panel.name, float(a), float(b), float(t)))
    return tuple(out)
