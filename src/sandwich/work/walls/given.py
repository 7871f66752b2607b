"""Section forces of walls from tables of their own, instead of cuts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.model.walls.outline import Stretch, centroid, pieces
from sandwich.model.walls.parts import Part
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.tables.assemble import forces_of_wall
from sandwich.work.walls.layout import LaidWall, Walls
from sandwich.work.walls.shares import shares
from sandwich.work.walls.stations import FORCES, Station, part_axes, section_axes

Floats = NDArray[np.float64]
SECTION = "section"
WHOLE = "section 1"
PANEL = "panel"
GIVEN = "given"
ENDS = ("bottom", "top")
UPRIGHT = (*ENDS, "between", "opening")
OF_A_LINTEL = {"left": "left", "middle": "middle", "right": "right", "bottom": "left", "top": "right"}
NEAR = 1.0  # mm


@dataclass(frozen=True)
class _Rows:
    """Rows of one place: forces of all cases in a part, or in a panel or section by its name."""

    where: str
    storey: Storey
    name: str
    part: Part | None
    end: str
    place: float
    forces: Floats

    @property
    def is_section(self) -> bool:
        """Whether it is a whole section."""
        return self.part is None and _is_section(self.name)


def given_stations(
    project: Project, walls: Walls, wall: LaidWall, cases: tuple[str, ...], faults: Faults
) -> list[Station]:
    """Stations of a wall with the forces of its table, all cases at each; parts without any take their share."""
    found: list[Station] = []
    levels: dict[tuple[str, str], tuple[str, int, set[str]]] = {}
    for r in _rows(project, walls, wall, cases, faults):
        if r.part is not None:
            found.append(_of_part(wall, r.part, r.end, r.place, r.forces))
            continue
        low, high = r.storey.low, r.storey.high
        place = r.place if np.isfinite(r.place) else {"top": high, "bottom": low}.get(r.end, (low + high) / 2.0)
        z = min(max(place, low + NEAR), high - NEAR)  # at its levels the panels of the next storey begin
        apart = pieces([s for s in standing(wall, z) if r.is_section or s.panel == r.name], wall.panels)
        if not apart:
            faults.add(r.where, f"nothing stands of {r.name} in '{r.storey.name}' at its {r.end}", "take the row out")
            continue
        if r.is_section:
            levels.setdefault((r.storey.name, r.end), (r.where, len(apart), set()))[2].add(r.name)
            apart = [p for k, p in enumerate(apart) if r.name == f"{SECTION} {k + 1}"]
        if apart:
            runs = tuple(run for p in apart for run in p)
            found.append(_of_section(wall, r.storey.name, r.name, r.end, place, runs, r.forces))
    for (storey, end), (where, count, names) in levels.items():
        if names != {f"{SECTION} {k + 1}" for k in range(count)}:
            there = f"'{storey}', {end}: {count} sections stand apart"
            remedy = f"give those of {SECTION} 1 to {count}, or of panels or parts"
            faults.add(where, f"{there}, with forces of {', '.join(sorted(names))}", remedy)
    done = {s.part_of.full_name for s in found if s.part_of is not None}
    left = [p for p in wall.parts if p.kind.upright and p.full_name not in done]
    _apart(wall, left, f"walls.{wall.name}.parts", faults)
    whole = sorted((s for s in found if s.part_of is None), key=lambda s: s.kind == SECTION)
    given = {(s.storey, r.panel) for s in whole for r in s.runs}
    bent = next((p for p in left if (p.storey, p.panel) in given and not wall.panel(p.panel).straight), None)
    if bent is not None:
        told = f"{bent.panel} {bent.name} in '{bent.storey}' is curved and takes no share of a section"
        faults.add(f"walls.{wall.name}.forces", told, "give rows of all parts")
    signed = np.array([project.results.kinds[c].signed is not False for c in cases])
    out = [s for s in found if s.kind != PANEL] + shares(wall, whole, left, signed)
    order = {"bottom": 0, "left": 0, "between": 1, "middle": 1, "opening": 1, "top": 2, "right": 2}
    return sorted(out, key=lambda s: (s.part_of is None, order[s.at], s.place))


def _apart(wall: LaidWall, left: list[Part], where: str, faults: Faults) -> None:
    """Note parts that overlap, among which no forces can be shared."""
    upright = [p for p in wall.parts if p.kind.upright]
    for p in left:
        other = next(
            (q for q in upright if q is not p and (q.panel, q.storey) == (p.panel, p.storey)
             and min(p.b, q.b) > max(p.a, q.a) + NEAR and min(p.high, q.high) > max(p.low, q.low) + NEAR),
            None,
        )  # fmt: skip
        if other is not None:
            told = (
                f"{p.panel} {p.name} and {other.name} in '{p.storey}' overlap and would share forces of their section"
            )
            faults.add(where, told, "leave one out by kind none, or give rows of both in the table of forces")
            return


def _rows(project: Project, walls: Walls, wall: LaidWall, cases: tuple[str, ...], faults: Faults) -> Iterator[_Rows]:
    """Rows of the table by their places, those that hold."""
    read = forces_of_wall(project.job, wall.name, faults)
    if read is None:
        return
    frame = read.frame
    lost = sorted(set(map(str, frame["case"])) - set(cases) - set(project.results.unread))
    if lost:
        faults.add(read.name, f"case '{lost[0]}' is not known", f"there are {', '.join(cases)}")
    columns = [c for c in FORCES if c in frame]
    curved = next((p.name for p in wall.panels if not p.straight), None)
    if curved is not None and not {"V2", "M1"} <= set(columns):
        faults.add(f"{read.name}, header", f"panel {curved} is curved, and V2 or M1 is missing", "give both columns")
    values = np.zeros((len(frame), 6))
    values[:, [FORCES.index(c) for c in columns]] = np.nan_to_num(frame[columns].to_numpy(dtype=float))
    parts = {(p.storey, f"{p.panel} {p.name}"): p for p in wall.parts} | {
        (p.storey, p.label): p for p in wall.parts if p.label
    }
    labels = [(p.storey, p.label) for p in wall.parts]
    storeys = {s.name: s for s in walls.storeys}
    index = {c: i for i, c in enumerate(cases)}
    places = frame.assign(
        storey=frame["storey"].astype(str), part=frame["part"].astype(str), case=frame["case"].astype(str),
        at=frame["at"].astype(str).str.strip().str.lower() if "at" in frame else "",
        place=frame["place"].astype(str) if "place" in frame else "nan",
    ).groupby(["storey", "part", "at", "place"], sort=False)  # fmt: skip
    seen = set()
    for key, of_place in places:
        storey, name, end, height = map(str, key)
        where, rows = f"{read.name}, row {of_place.index[0]}", frame.index.get_indexer(of_place.index)
        if storey not in storeys:
            faults.add(where, f"no storey '{storey}'", f"there are {', '.join(storeys)}")
            continue
        if labels.count((storey, name)) > 1:
            faults.add(where, f"several parts in '{storey}' are labelled '{name}'", "name them by panel and part")
            continue
        own, name = parts.get((storey, name)), WHOLE if name == SECTION else name
        if own is None and not _is_section(name) and name not in {p.name for p in wall.panels}:
            there = ", ".join(n for s, n in parts if s == storey)
            remedy = f"there are {there}, whole panels by their names, and '{WHOLE}' is the whole section"
            faults.add(where, f"no part '{name}' in '{storey}'", remedy)
            continue
        of_case = frame["case"].iloc[rows].astype(str)
        again = of_case[of_case.duplicated()]
        missing = [c for c in cases if c not in set(of_case)]
        if len(again) or missing:
            fault = f"case {again.iloc[0]} stands twice" if len(again) else f"case {missing[0]} is missing"
            faults.add(where, f"{name} in '{storey}', {end or 'bottom'}: {fault}", "give one row a case")
            continue
        end = end or "bottom"
        words = ENDS if _is_section(name) else UPRIGHT if own is None or own.kind.upright else OF_A_LINTEL
        if end not in words:
            faults.add(where, f"{name} in '{storey}': at '{end}'", f"give {', '.join(words)}")
            continue
        if _is_section(name) and (storey, name, end) in seen:
            faults.add(where, f"{name} in '{storey}' stands twice at its {end}", "give it once")
            continue
        seen.add((storey, name, end))
        low, high = _extent(own or storeys[storey])
        place = float(height)
        if np.isfinite(place) and not low - NEAR <= place <= high + NEAR:
            fault = f"place {place / 1e3:g} m lies outside, {low / 1e3:g} to {high / 1e3:g} m"
            faults.add(where, f"{name} in '{storey}': {fault}", "give a place in it [m], or none")
            continue
        known = of_case.isin(cases).to_numpy()
        forces = np.zeros((len(cases), 6))
        forces[[index[c] for c in of_case[known]]] = values[rows[known]]
        yield _Rows(where, storeys[storey], name, own, end, place, forces)


def _is_section(name: str) -> bool:
    return name.startswith(f"{SECTION} ") and name.partition(" ")[2].isdigit()


def _extent(p: Part | Storey) -> tuple[float, float]:
    """Between which places forces are given: heights, or places along the panel of a lintel [mm]."""
    if isinstance(p, Storey):
        return p.low, p.high
    return (p.low, p.high) if p.kind.upright else (p.a, p.b)


def _of_part(wall: LaidWall, p: Part, end: str, place: float, forces: Floats) -> Station:
    low, high = _extent(p)
    at = end if p.kind.upright else OF_A_LINTEL[end]
    if not np.isfinite(place):
        place = {"top": high, "right": high, "bottom": low, "left": low}.get(at, (low + high) / 2.0)
    panel = wall.panel(p.panel)
    t = wall.thickness_of(p)
    s, z = ((p.a + p.b) / 2.0, place) if p.kind.upright else (place, (p.low + p.high) / 2.0)
    axes = part_axes(panel, *((p.a, p.b) if p.kind.upright else (s, s)), upright=p.kind.upright)
    run = Stretch(p.panel, p.a, p.b, t) if p.kind.upright else Stretch(p.panel, p.low, p.high, t)
    xy, _ = panel.place(s) if panel.straight or not p.kind.upright else centroid((run,), wall.panels)
    return Station(
        wall=p.wall, storey=p.storey, part=f"{p.panel} {p.name}", kind=str(p.kind), at=at, place=place,
        centroid=np.array([*xy, z]), axes=axes, area=(run.b - run.a) * t,
        runs=(run,), one_sided=0.0, cases=forces, part_of=p, by=GIVEN,
    )  # fmt: skip


def _of_section(
    wall: LaidWall, storey: str, part: str, at: str, place: float, runs: tuple[Stretch, ...], forces: Floats
) -> Station:
    """A whole section, or all of a panel, at a height; its forces are about its centroid, a panel's in its own axes."""
    xy, area = centroid(runs, wall.panels)
    panel = next((p for p in wall.panels if p.name == part), None)
    axes = section_axes(wall) if panel is None else part_axes(panel, runs[0].a, runs[-1].b, upright=True)
    return Station(
        wall=wall.name, storey=storey, part=part, kind=SECTION if panel is None else PANEL, at=at, place=place,
        centroid=np.array([*xy, place]), axes=axes, area=area, runs=runs, one_sided=0.0, cases=forces, by=GIVEN,
    )  # fmt: skip


def standing(wall: LaidWall, z: float) -> list[Stretch]:
    """What stands of the panels of a wall at a height."""
    out = []
    for panel, openings in zip(wall.panels, wall.openings, strict=True):
        here = (panel.z.min(1) <= z) & (panel.z.max(1) >= z)
        if not here.any():
            continue
        at, end = float(panel.s[here].min()), float(panel.s[here].max())
        t = float(panel.thickness[here].min())
        for o in sorted((o for o in openings if o.low < z < o.high), key=lambda o: o.a):
            if o.a > at:
                out.append(Stretch(panel.name, at, o.a, t))
            at = max(at, o.b)
        if end > at:
            out.append(Stretch(panel.name, at, end, t))
    return out
