"""Section forces of walls from tables of their own, instead of cuts."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.model.walls.outline import Stretch, centroid
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.tables.assemble import section_forces
from sandwich.work.walls.layout import LaidWall, Walls
from sandwich.work.walls.stations import FORCES, Station, part_axes, section_axes

Floats = NDArray[np.float64]
SECTION = "section"
ENDS = {"": "bottom", "bottom": "bottom", "top": "top", "left": "left", "right": "right", "middle": "middle"}


def given_stations(
    project: Project, walls: Walls, wall: LaidWall, cases: tuple[str, ...], faults: Faults
) -> list[Station]:
    """Stations of a wall with the forces of its table, all cases at each."""
    read = section_forces(project.job, Faults())[wall.name]
    frame = read.frame
    where = read.name
    lost = sorted(set(map(str, frame["case"])) - set(cases) - set(project.results.unread))
    if lost:
        faults.add(where, f"case '{lost[0]}' is not known", f"there are {', '.join(cases)}")
    columns = [c for c in FORCES if c in frame]
    values = np.zeros((len(frame), 6))
    values[:, [FORCES.index(c) for c in columns]] = np.nan_to_num(frame[columns].to_numpy(dtype=float))
    parts = {(p.storey, f"{p.panel} {p.name}"): p for p in wall.parts} | {
        (p.storey, p.label): p for p in wall.parts if p.label
    }
    storeys = {s.name: s for s in walls.storeys}
    at = frame["at"].astype(str).str.strip().str.lower() if "at" in frame else frame["case"].map(lambda _: "")
    index = {c: i for i, c in enumerate(cases)}
    out = []
    place_of = frame["place"] if "place" in frame else frame["case"].map(lambda _: np.nan)
    keys = list(zip(frame["storey"].astype(str), frame["part"].astype(str), at, place_of.map(str), strict=True))
    for key in dict.fromkeys(keys):
        rows = np.array([k == key for k in keys])
        storey, part, end, height = key
        first = frame.index[int(rows.argmax())]
        place = f"{where}, row {first}"
        if storey not in storeys:
            faults.add(place, f"no storey '{storey}'", f"there are {', '.join(storeys)}")
            continue
        own = parts.get((storey, part))
        if own is None and not part.startswith(SECTION):
            there = ", ".join(n for s, n in parts if s == storey)
            faults.add(
                place, f"no part '{part}' in '{storey}'", f"there are {there}; '{SECTION} 1' is the whole section"
            )
            continue
        of_case = frame["case"][rows].astype(str)
        again = of_case[of_case.duplicated()]
        missing = [c for c in cases if c not in set(of_case)]
        if len(again) or missing:
            found = f"case {again.iloc[0]} stands twice" if len(again) else f"case {missing[0]} is missing"
            faults.add(place, f"{part} in '{storey}', {end or 'bottom'}: {found}", "give one row a case")
            continue
        forces = np.zeros((len(cases), 6))
        forces[[index[c] for c in of_case]] = values[rows]
        station = _station(wall, storeys[storey], part, end, float(height), own is not None, forces)
        if station is not None:
            out.append(station)
    order = {"bottom": 0, "left": 0, "between": 1, "middle": 1, "opening": 1, "top": 2, "right": 2}
    return sorted(out, key=lambda s: (s.part_of is None, order[s.at], s.place))


def _station(
    wall: LaidWall, storey: Storey, part: str, end: str, height: float, known: bool, forces: Floats
) -> Station | None:
    at = ENDS.get(end, "between")
    if known:
        p = next(q for q in wall.parts if q.storey == storey.name and part in (f"{q.panel} {q.name}", q.label))
        panel = wall.panel(p.panel)
        if not p.kind.upright and at in ("bottom", "top"):
            at = {"bottom": "left", "top": "right"}[at]
        level = {"top": p.high, "between": (p.low + p.high) / 2.0}.get(at, p.low)
        level = height if np.isfinite(height) and p.kind.upright else level
        s = {"left": p.a, "right": p.b}.get(at, (p.a + p.b) / 2.0)
        xy, _ = panel.place(s)
        t = wall.thickness_of(p)
        z = level if p.kind.upright else (p.low + p.high) / 2.0
        run = Stretch(p.panel, p.a, p.b, t) if p.kind.upright else Stretch(p.panel, p.low, p.high, t)
        place, axes, area = np.array([*xy, z]), part_axes(panel, s, upright=p.kind.upright), (run.b - run.a) * t
        at_place = z if p.kind.upright else s
        name = f"{p.panel} {p.name}"
        return Station(
            wall=p.wall, storey=p.storey, part=name, kind=str(p.kind), at=at, place=at_place, centroid=place,
            axes=axes, area=area, runs=(run,), one_sided=0.0, cases=forces, part_of=p,
        )  # fmt: skip
    at = "top" if at == "top" else "bottom"
    z = storey.high - 1.0 if at == "top" else storey.low + 1.0
    stretches = standing(wall, z)
    if not stretches:
        return None
    middle, area = centroid(stretches, wall.panels)
    place, axes = np.array([*middle, z]), section_axes(wall)
    return Station(
        wall=wall.name, storey=storey.name, part=part, kind=SECTION, at=at, place=z, centroid=place, axes=axes,
        area=area, runs=tuple(stretches), one_sided=0.0, cases=forces,
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
