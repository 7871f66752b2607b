"""Cuts and bars of walls as the last run left them."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any, Final

import numpy as np

from sandwich.design.bar_sets import ParallelBars
from sandwich.design.walls.bars import BarGroup, Diagonals, LintelSteel, Ties, WallSteel
from sandwich.model.walls.outline import Stretch
from sandwich.project.project import Project
from sandwich.project.store import load_arrays, save_arrays
from sandwich.work.walls.checks import CheckedPart, Laid
from sandwich.work.walls.layout import Walls
from sandwich.work.walls.stations import Station

CUTS: Final = "walls cuts"
BARS: Final = "walls bars"
TEXTS: Final = ("wall", "storey", "part", "kind", "at", "by")
NUMBERS: Final = ("place", "area", "one_sided")
NEAR: Final = 1.0  # mm inside the storey and the stretch: where the thickness of a section is looked for


def save_stations(project: Project, stations: tuple[Station, ...]) -> None:
    """Keep stations with the key of the job."""
    texts = [[getattr(s, n) for n in TEXTS] + [[[r.panel, r.a, r.b, r.thickness] for r in s.runs]] for s in stations]
    arrays: dict[str, Any] = {n: np.array([getattr(s, n) for s in stations]) for n in NUMBERS}
    arrays |= {n: np.stack([getattr(s, n) for s in stations]) for n in ("centroid", "axes", "cases")}
    save_arrays(project.store / f"{CUTS}.npz", project.made_from, arrays | {"texts": np.array(json.dumps(texts))})


def load_stations(project: Project, walls: Walls, key: str) -> tuple[Station, ...] | None:
    """Stations of the last run, those of thicknesses as the walls have them now; None where there are none."""
    held = load_arrays(project.store / f"{CUTS}.npz", key)
    if held is None:
        return None
    by_name, storeys = {w.name: w for w in walls.walls}, {s.name: s for s in walls.storeys}
    parts = {(p.wall, p.storey, f"{p.panel} {p.name}"): p for w in walls.walls for p in w.parts}
    out = []
    for i, (wall, storey, part, kind, at, by, runs) in enumerate(json.loads(str(held["texts"]))):
        of = parts.get((wall, storey, part))
        place = float(held["place"][i])
        stretches = []
        z = min(max(place, storeys[storey].low + NEAR), storeys[storey].high - NEAR)
        for panel, a, b, _ in runs:
            own = by_name[wall].panel(panel)
            t = own.thickness_at(a + NEAR, b - NEAR, z) if of is None else by_name[wall].thickness_of(of)
            stretches.append(Stretch(panel, a, b, t))
        out.append(
            Station(
                wall=wall, storey=storey, part=part, kind=kind, at=at, place=place, centroid=held["centroid"][i],
                axes=held["axes"][i], area=float(held["area"][i]), runs=tuple(stretches),
                one_sided=float(held["one_sided"][i]), cases=held["cases"][i], part_of=of, by=by,
            )
        )  # fmt: skip
    return tuple(out)


def save_bars(project: Project, parts: list[CheckedPart]) -> None:
    """Keep the bars of all parts with the key of the job."""
    rows = [[c.part.full_name, type(c.steel).__name__, asdict(c.steel), c.given, c.decided] for c in parts]
    save_arrays(project.store / f"{BARS}.npz", project.made_from, {"bars": np.array(json.dumps(rows))})


def _diagonals(of: dict[str, Any] | None) -> Diagonals | None:
    if of is None:
        return None
    ties = None if of["ties"] is None else ParallelBars(**of["ties"])
    return Diagonals(of["count"], of["diameter"], ties)


def load_bars(project: Project, key: str) -> dict[str, Laid] | None:
    """Bars of all parts of the last run by their full names, None where there are none."""
    held = load_arrays(project.store / f"{BARS}.npz", key)
    if held is None:
        return None
    out = {}
    for name, kind, of, given, decided in json.loads(str(held["bars"])):
        steel: WallSteel | LintelSteel
        if kind == WallSteel.__name__:
            ends = None if of["ends"] is None else BarGroup(**of["ends"])
            ties = None if of["ties"] is None else Ties(**of["ties"])
            steel = WallSteel(ParallelBars(**of["vertical"]), ParallelBars(**of["horizontal"]), ends, ties)
        else:
            steel = LintelSteel(BarGroup(**of["chords"]), ParallelBars(**of["links"]), _diagonals(of["diagonals"]))
        out[name] = Laid(steel, given, decided)
    return out
