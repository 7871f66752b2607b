"""Walls of a job as geometry: storeys, panels, openings, parts, under the names of the drawings."""

from __future__ import annotations

import itertools
from dataclasses import asdict, dataclass, replace
from functools import cached_property
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.section import Concrete, Steel
from sandwich.job import Job
from sandwich.job.source import Table
from sandwich.job.walls import Wall
from sandwich.job.zone import Zone
from sandwich.model.mesh import Mesh
from sandwich.model.walls.openings import Opening, openings_of
from sandwich.model.walls.panels import LEAN, Panel, lean, panels_of
from sandwich.model.walls.parts import Kind, Part, parts_of
from sandwich.model.walls.storeys import Storey, levels_found, storeys_of
from sandwich.project.project import Project
from sandwich.project.zone_elements import elements_of_zones, thickness_of_zone
from sandwich.tables.read import read_table
from sandwich.work.walls.given_panels import given_panels
from sandwich.work.walls.settings import refuse_unused

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
TOUCH: Final = 20.0  # mm between lines that meet


@dataclass(frozen=True)
class LaidWall:
    """One wall of a job.

    Attributes
    ----------
    name : str
        Its name.
    asked : Wall
        What the job says of it.
    panels : tuple of Panel
        Its panels.
    openings : tuple of tuple of Opening
        Of each panel.
    parts : tuple of Part
        Of all panels.
    elements : ndarray of int, shape (e,)
        All its elements.
    thickness : ndarray, shape (e,)
        Their thickness [mm].
    zone : ndarray of str, shape (e,)
        Their zones.
    """

    name: str
    asked: Wall
    panels: tuple[Panel, ...]
    openings: tuple[tuple[Opening, ...], ...]
    parts: tuple[Part, ...]
    elements: Ints
    thickness: Floats
    zone: NDArray[np.str_]

    @cached_property
    def joints(self) -> dict[str, list[tuple[float, float, float]]]:
        """Where other panels meet each one: place along it, and their foot and top [mm]."""
        out: dict[str, list[tuple[float, float, float]]] = {p.name: [] for p in self.panels}
        for panel, other in itertools.permutations(self.panels, 2):
            for end in (other.line[0], other.line[-1], panel.line[0], panel.line[-1]):
                xyz = np.array([*end, 0.0])
                s = float(panel.along(xyz))
                off = [float(np.linalg.norm(p.place(float(p.along(xyz)))[0] - end)) for p in (panel, other)]
                beyond = [not -TOUCH <= float(p.along(xyz)) <= p.length + TOUCH for p in (panel, other)]
                if max(off) < TOUCH and not any(beyond):
                    out[panel.name].append((float(round(s)), float(other.z.min()), float(other.z.max())))
        return out

    def panel(self, name: str) -> Panel:
        """The panel of a name."""
        return next(p for p in self.panels if p.name == name)

    def zone_at(self, part: Part) -> str:
        """Zone of most elements of a part."""
        if not len(self.elements):
            return self.asked.zones[0]
        panel = self.panel(part.panel)
        s, z = panel.s.mean(1), panel.z.mean(1)
        inside = (s > part.a) & (s < part.b) & (z > part.low) & (z < part.high)
        mine = np.isin(self.elements, panel.elements[inside] if inside.any() else panel.elements)
        names, count = np.unique(self.zone[mine], return_counts=True)
        return str(names[count.argmax()])

    def thickness_of(self, part: Part) -> float:
        """Least thickness of a part [mm]."""
        return float(self.panel(part.panel).thickness_in(part.a, part.b, part.low, part.high)[0])


@dataclass(frozen=True)
class Walls:
    """All walls of a job and its storeys."""

    walls: tuple[LaidWall, ...]
    storeys: tuple[Storey, ...]
    mesh: Mesh | None
    zones: dict[str, Zone]

    def concrete(self, zone: str) -> Concrete:
        """Concrete of a zone."""
        return self.zones[zone].concrete

    def steel(self, wall: LaidWall, zone: str) -> Steel:
        """Steel of a wall in a zone: that of the wall where it has its own."""
        return Steel(wall.asked.f_yk) if wall.asked.f_yk is not None else self.zones[zone].steel

    @property
    def frame(self) -> pd.DataFrame:
        """One row a part."""
        rows = [
            {
                "wall": p.wall, "panel": p.panel, "storey": p.storey, "part": p.name, "label": p.label,
                "kind": str(p.kind), "length [m]": p.width / 1e3, "height [m]": p.height / 1e3,
                "thickness [mm]": w.thickness_of(p), "from [m]": p.a / 1e3, "to [m]": p.b / 1e3,
                "bottom [m]": p.low / 1e3, "top [m]": p.high / 1e3, "zone": w.zone_at(p),
            }
            for w in self.walls
            for p in w.parts
        ]  # fmt: skip
        return pd.DataFrame(rows)

    @property
    def openings_frame(self) -> pd.DataFrame:
        """One row an opening."""
        rows = [
            {
                "wall": w.name, "panel": p.name, "width [m]": o.width / 1e3, "height [m]": o.height / 1e3,
                "from [m]": o.a / 1e3, "to [m]": o.b / 1e3, "bottom [m]": o.low / 1e3, "top [m]": o.high / 1e3,
                "open area [m2]": o.area / 1e6,
            }
            for w in self.walls
            for p, of in zip(w.panels, w.openings, strict=True)
            for o in of
        ]  # fmt: skip
        columns = ["wall", "panel", "width [m]", "height [m]", "from [m]", "to [m]", "bottom [m]", "top [m]"]
        return pd.DataFrame(rows, columns=None if rows else [*columns, "open area [m2]"])


def lay_walls(project: Project, faults: Faults) -> Walls | None:
    """Find storeys, panels, openings and parts of all walls of a job; notes every fault.

    Returns
    -------
    Walls or None
        None where faults keep it from being laid.
    """
    job, mesh = project.job, project.results.mesh
    before = len(faults.found)
    chosen = _elements(project, faults)
    if len(faults.found) > before:
        return None
    elements = np.concatenate([c[0] for c in chosen.values()]) if chosen else np.empty(0, dtype=np.int64)
    storeys = _storeys(project, mesh, elements, faults)
    laid = []
    for name, wall in job.walls.items() if storeys else ():
        if wall.panels is not None:
            panels, openings = given_panels(project, name, wall.panels, storeys, faults)
            laid.append(_parted(project, name, panels, openings, storeys, faults))
        elif mesh is not None and name in chosen:
            laid += _lay(project, mesh, name, *chosen[name], storeys, faults)
    if len(faults.found) > before:
        return None
    walls = _labelled(project, tuple(laid), storeys, faults)
    return Walls(walls, tuple(storeys), mesh, dict(job.zones)) if len(faults.found) == before else None


def relaid(walls: Walls, job: Job) -> Walls:
    """Walls of the mesh as a job with other thicknesses, concrete or bars has them; their geometry stays."""
    out = []
    for wall in walls.walls:
        h = wall.thickness.copy()
        for zone in wall.asked.zones:
            own = job.zones[zone].thickness
            if own is not None:
                h[wall.zone == zone] = own
        of = np.full(int(wall.elements.max(initial=-1)) + 1, np.nan)
        of[wall.elements] = h
        panels = tuple(replace(p, thickness=of[p.elements]) for p in wall.panels)
        new = replace(wall, asked=job.walls[wall.name], thickness=h, panels=panels)
        new.__dict__["joints"] = wall.joints
        out.append(new)
    return replace(walls, walls=tuple(out), zones=dict(job.zones))


def _elements(project: Project, faults: Faults) -> dict[str, tuple[Ints, Floats, NDArray[np.str_]]]:
    """Elements, thickness and zones of the walls that are found in the mesh."""
    job, mesh = project.job, project.results.mesh
    where = f"{job.path}, walls"
    found = {name: wall for name, wall in job.walls.items() if wall.panels is None}
    if not found:
        return {}
    if mesh is None:
        remedy = "give nodes and elements, or the wall's own panels and forces"
        faults.add(f"{where}.{next(iter(found))}", "a bare table has no places", remedy)
        return {}
    quiet = Faults()  # what is wrong with zones is told where they are made
    of_zones = elements_of_zones(job, mesh, quiet)
    chosen: dict[str, tuple[Ints, Floats, NDArray[np.str_]]] = {}
    taken: dict[str, str] = {}
    for name, wall in found.items():
        parts = []
        for zone in wall.zones:
            if zone in taken:
                told = f"zone '{zone}' is in wall '{taken[zone]}' too"
                faults.add(f"{where}.{name}.zones", told, "give it to one wall")
            taken[zone] = name
            elements = of_zones.get(zone, np.empty(0, dtype=np.int64))
            h = thickness_of_zone(job, zone, mesh, elements, quiet)
            parts.append((elements, h, np.full(len(elements), zone)))
        elements, h, zones = (np.concatenate([p[i] for p in parts]) for i in range(3))
        if not len(elements):
            faults.add(f"{where}.{name}", "its zones hold no element", "name zones of wall elements")
            continue
        leaning = lean(mesh, elements) > LEAN
        if leaning.any():
            told = f"element {mesh.element_ids[elements[leaning][0]]} and {leaning.sum() - 1} more are not upright"
            faults.add(f"{where}.{name}", told, "leave floors and inclined elements to other zones")
            continue
        chosen[name] = elements, h, zones
    return chosen


def _storeys(project: Project, mesh: Mesh | None, elements: Ints, faults: Faults) -> list[Storey]:
    asked, where = project.job.storeys, f"{project.job.path}, storeys"
    if not asked.levels and (mesh is None or not len(elements)):
        faults.add(f"{where}.levels", "are not given, and there is no mesh to find them in", "give them in m, rising")
        return []
    levels = 1e3 * np.array(asked.levels) if asked.levels or mesh is None else levels_found(mesh, elements)
    try:
        return storeys_of(levels.tolist(), asked.names, None if asked.basement is None else 1e3 * asked.basement)
    except ValueError as error:
        found, _, remedy = str(error).partition("; ")
        at = ", ".join(f"{v / 1e3:g}" for v in levels)
        faults.add(where, f"{found} (levels at {at} m)", remedy)
        return []


def _lay(
    project: Project, mesh: Mesh, name: str, elements: Ints, h: Floats, zone: NDArray[np.str_],
    storeys: list[Storey], faults: Faults,
) -> list[LaidWall]:  # fmt: skip
    try:
        panels = panels_of(mesh, elements, h)
    except ValueError as error:
        found, _, remedy = str(error).partition("; ")
        faults.add(f"{project.job.path}, walls.{name}", found, remedy)
        return []
    laid = _parted(project, name, panels, [openings_of(p) for p in panels], storeys, faults)
    return [replace(laid, elements=elements, thickness=h, zone=zone)]


def _parted(
    project: Project, name: str, panels: list[Panel], openings: list[list[Opening]], storeys: list[Storey],
    faults: Faults,
) -> LaidWall:  # fmt: skip
    """A wall with its parts, those of the user's own table over those that are found."""
    asked = project.job.walls[name]
    parts: list[Part] = []
    for panel, of in zip(panels, openings, strict=True):
        parts += parts_of(name, panel, of, storeys, piers_alone=asked.piers_alone)
    if asked.parts is not None:
        parts = _overridden(project, name, asked.parts, parts, panels, faults)
    _honoured(project, name, [p.name for p in panels], parts, faults)
    none = np.empty(0)
    return LaidWall(
        name=name, asked=asked, panels=tuple(panels), openings=tuple(map(tuple, openings)), parts=tuple(parts),
        elements=none.astype(np.int64), thickness=none, zone=none.astype(np.str_),
    )  # fmt: skip


def _honoured(project: Project, name: str, panels: list[str], parts: list[Part], faults: Faults) -> None:
    """What is asked for by name is there, each entry of bars has parts, and the standard takes all settings."""
    job = project.job
    where, asked = f"{job.path}, walls.{name}", job.walls[name]
    for strange in [n for n in asked.through if n not in panels]:
        faults.add(f"{where}.through", f"no panel '{strange}'", f"there are {', '.join(panels)}")
    refuse_unused(job, ("walls", name), asked, project.standard, faults)
    left = parts
    for i, bars in enumerate(asked.bars):
        mine = [p for p in left if bars.fits(p.storey, p.panel, p.name)]
        if not mine:
            there = "; ".join(
                f"{what} {', '.join(dict.fromkeys(names))}"
                for what, names in (
                    ("storeys", [p.storey for p in left]), ("panels", [p.panel for p in left]),
                    ("parts", [p.name for p in left]),
                )
            )  # fmt: skip
            remedy = f"left for it are {there}" if left else "leave it out: entries before it take all parts"
            faults.add(f"{where}.bars, entry {i + 1}", "fits no part", remedy)
        left = [p for p in left if p not in mine]


def _overridden(
    project: Project, name: str, table: Table, parts: list[Part], panels: list[Panel], faults: Faults
) -> list[Part]:
    """Parts with those of the user's own table in the place of what was found."""
    job = project.job
    units = asdict(job.input.units)
    read = read_table(job.folder, table, "parts", f"walls.{name}.parts", units, set(), faults)
    if read is None:
        return parts
    out = {(p.panel, p.storey, p.name): p for p in parts}
    kinds, storeys = [str(k) for k in Kind], {p.storey for p in parts}
    for i, row in read.frame.iterrows():
        at, key = f"{read.name}, row {i}", (str(row["panel"]), str(row["storey"]), str(row["part"]))
        kind = str(row.get("kind", "")).strip().lower()
        if key[0] not in [p.name for p in panels] or key[1] not in storeys:
            there = f"panels {', '.join(p.name for p in panels)}; storeys {', '.join(sorted(storeys))}"
            faults.add(at, f"there is no panel {key[0]} in '{key[1]}'", f"there are {there}")
            continue
        if kind == "none":
            if out.pop(key, None) is None:
                faults.add(at, f"no part {key[2]} to leave out", "look at the table of wall parts")
            continue
        known = out.get(key)
        if kind and kind not in kinds:
            faults.add(at, f"kind is '{kind}'", f"use one of {', '.join(kinds)}, none")
            continue
        box = [float(row.get(c, np.nan)) for c in ("from", "to", "bottom", "top")]
        if known is not None:
            box = [
                v if np.isfinite(v) else w for v, w in zip(box, (known.a, known.b, known.low, known.high), strict=True)
            ]
        if not np.isfinite(box).all() or box[1] <= box[0] or box[3] <= box[2]:
            faults.add(at, "from, to, bottom and top make no box", "give all four, rising")
            continue
        own = next(p for p in panels if p.name == key[0])
        if not own.holds(*box):
            faults.add(at, f"it lies outside panel {key[0]}, {own.extent}", "give places along the panel, and heights")
            continue
        of = Kind(kind) if kind else known.kind if known is not None else Kind.PIER
        a, b, low, high = box
        out[key] = Part(
            wall=name, panel=key[0], storey=key[1], name=key[2], kind=of, a=a, b=b, low=low, high=high, reach=(a, b),
        )  # fmt: skip
    return list(out.values())


def _labelled(
    project: Project, walls: tuple[LaidWall, ...], storeys: list[Storey], faults: Faults
) -> tuple[LaidWall, ...]:
    """Walls whose parts have their names on drawings, by the table of labels."""
    asked = project.job.storeys.labels
    if asked is None:
        return walls
    read = read_table(project.job.folder, asked, "labels", "storeys.labels", {}, set(), faults)
    if read is None:
        return walls
    of = {(str(r["storey"]), str(r["name"])): (i, str(r["label"])) for i, r in read.frame.iterrows()}
    used: set[tuple[str, str]] = set()

    def named(p: Part) -> Part:
        own, panel = f"{p.wall} {p.panel} {p.name}", f"{p.wall} {p.panel}"
        for name in (own, panel):
            if (p.storey, name) in of:
                used.add((p.storey, name))
                label = of[(p.storey, name)][1]
                return replace(p, label=label if name == own or p.kind is Kind.WALL else f"{label} {p.name}")
        return p

    out = tuple(replace(w, parts=tuple(map(named, w.parts))) for w in walls)
    for key in [k for k in of if k not in used][:5]:
        there = ", ".join(
            dict.fromkeys(f"{p.wall} {p.panel} {p.name}" for w in walls for p in w.parts if p.storey == key[0])
        )
        remedy = f"there are {there}" if there else f"storeys are {', '.join(s.name for s in storeys)}"
        faults.add(f"{read.name}, row {of[key][0]}", f"no part is called '{key[1]}' in '{key[0]}'", remedy)
    return out
