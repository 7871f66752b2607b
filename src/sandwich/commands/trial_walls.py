"""Walls tried with another thickness, concrete or bars on the forces of the last run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Fault, Faults, InputError, StaleError
from sandwich.core.shown import Sentence, Shown
from sandwich.drawing.wall_records import StrengthDescription
from sandwich.job import Job
from sandwich.job.walls import Wall
from sandwich.model.walls.parts import Part
from sandwich.project.outcome import Table, Text
from sandwich.project.project import Project
from sandwich.tables.write import check_folder, write_aside
from sandwich.work.walls.checks import CheckedPart, Laid, given_bars, members_of, told
from sandwich.work.walls.cuts import cut_walls
from sandwich.work.walls.layout import LaidWall, Walls, lay_walls, relaid
from sandwich.work.walls.pictures import most_bent, strength_of, worst_of_table, worst_strength
from sandwich.work.walls.sections import sections_of
from sandwich.work.walls.seismic import SEISMIC_TABLES, designed, worst_seismic
from sandwich.work.walls.stations import WallCuts
from sandwich.work.walls.store import load_bars, load_stations

CHOSEN: Final = ("rule", "same_bars", "end_bars", "curtains", "seismic")  # what makes the bars be chosen again
MOVES: Final = 0.05  # of the stiffness: a change from which the analysis would move
STIFFNESS: Final = 0.3  # power of the strength with which the modulus of concrete grows
MOST: Final = 16  # rows that are shown
SECTIONS: Final = 4  # whole sections that are looked at


@dataclass(frozen=True, repr=False)
class WallTrial:
    """What a change does to the walls it touches.

    Attributes
    ----------
    parts : DataFrame
        One row a part that changes: bars and worst check before and after, of strength and seismic design; the worst
        after first.
    sections : DataFrame
        One row a whole section of these parts, those that were used most: utilisation before and after.
    moved : tuple of str
        What of the change would move the analysis.
    bent : tuple
        The part that bending uses most after the change, with its cuts.
    before : callable
        Gives the same part before the change.
    """

    parts: pd.DataFrame
    sections: pd.DataFrame
    moved: tuple[str, ...]
    bent: tuple[CheckedPart, WallCuts]
    before: Callable[[CheckedPart], tuple[CheckedPart, WallCuts]]
    shown: Shown

    def describe(self) -> StrengthDescription:
        """Curves of the part that bending uses most after the change, those before it dashed."""
        both = self.before(self.bent[0]), self.bent
        old, new = (strength_of(part, cuts, self.shown) for part, cuts in both)
        curves = tuple(replace(n, before=(o.N, o.M)) for o, n in zip(old.curves, new.curves, strict=True))
        return replace(new, curves=curves, note=f"{new.note}; dashed: before the change")

    def draw(self, path: str | Path) -> Path:
        """Draw these curves as PNG.

        Raises
        ------
        InputError
            If the path is no name of a PNG.
        """
        from sandwich.drawing.maps import png
        from sandwich.drawing.walls import draw_strength

        target = Path(path)
        if target.suffix.lower() != ".png":
            raise InputError([Fault(str(target), "is no name of a picture", "use a name that ends in .png")])
        check_folder(target.parent)
        write_aside(target, lambda aside: aside.write_bytes(png(draw_strength, self.describe())))
        return target

    @property
    def blocks(self) -> tuple[Text | Table, ...]:
        """As a terminal shows it."""
        bad = (self.parts["after"] > 1.0 + 1e-9).to_numpy(dtype=bool)
        count = f", the worst {MOST} of {len(self.parts)}" if len(self.parts) > MOST else ""
        warned = tuple(Text(m, "bad") for m in self.moved)
        parts = Table(f"Walls: parts that change{count}", self.parts.head(MOST), bad=bad[:MOST])
        if not len(self.sections):
            return (parts, *warned)
        over = (self.sections["after"] > 1.0 + 1e-9).to_numpy(dtype=bool)
        sections = Table(f"Whole sections, up to {SECTIONS} of those that were used most", self.sections, bad=over)
        return (parts, sections, *warned)


def touches_walls(old: Job, new: Job) -> bool:
    """Whether a change touches a wall or a zone of one."""
    zones = {z for w in old.walls.values() for z in w.zones}
    return old.walls != new.walls or any(old.zones[z] != new.zones[z] for z in zones)


def try_walls(project: Project, new: Job) -> WallTrial | None:
    """Check the walls of a changed job on the forces of the last run; None where nothing of them changes.

    Raises
    ------
    InputError
        If the changed walls cannot be laid.
    """
    key = project.made_from
    old_walls = _laid(project)
    changed = project.changed(new)
    from_mesh = all(len(w.elements) for w in old_walls.walls)
    new_walls = relaid(old_walls, new) if from_mesh else _laid(changed)
    new_cuts = _cuts(changed, new_walls, project, key)
    known = load_bars(project, key) or {}
    old = {w.name: w for w in old_walls.walls}
    touched = {n for n, w in old.items() if _touched(project.job, new, n, w.asked.zones)}
    parts = [(w, p) for w in new_walls.walls if w.name in touched for p in w.parts if p.full_name in known]
    kept = {p.full_name: known[p.full_name] for w, p in parts if _keeps(old[w.name].asked, w.asked, p)}
    stored = worst_of_table(pd.read_parquet(project.job.results / "wall_checks.parquet"))
    for name in SEISMIC_TABLES if project.job.seismic_walls else ():
        more = pd.read_parquet(project.job.results / f"{name.replace(' ', '_')}.parquet")
        for k, v in more.groupby(["wall", "storey", "part"])["utilisation"].max().items():
            stored[k] = max(stored.get(k, 0.0), float(v))  # type: ignore[index, call-overload]
    rows, moved = [], []
    members = members_of(changed, new_cuts, known=kept, only=touched, rays=False)
    members = designed(changed, new_cuts, members, frozenset(kept)).parts
    other = [c for c in members if _differs(c, known, project.job, new, old)]
    seismic = worst_seismic(changed, new_cuts, members, other)
    for c in members:
        p, was = c.part, known[c.part.full_name]
        if c not in other and p.full_name not in seismic:
            continue
        one, two = stored[p.wall, p.storey, f"{p.panel} {p.name}"], worst_strength(c)
        own = seismic.get(p.full_name)
        two = own if own is not None and own.utilisation > two.utilisation else two
        if was.steel == c.steel and abs(one - two.utilisation) < 1e-9:
            continue
        moved.append(c)
        rows.append({
            "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.label or p.name}",
            "bars before [mm]": told(was.steel), "bars after [mm]": told(c.steel), "before": one,
            "after": two.utilisation, "governing check": two.name,
        })  # fmt: skip
    if not rows:
        return None
    frame = pd.DataFrame(rows).sort_values("after", ascending=False, kind="stable").reset_index(drop=True)

    def before(bent: CheckedPart) -> tuple[CheckedPart, WallCuts]:
        cuts = _cuts(project, old_walls, project, key)
        found = members_of(project, cuts, known=known, only={bent.part.wall}, rays=False)
        return next(c for c in found if c.part.full_name == bent.part.full_name), cuts

    bent = most_bent(moved)
    shown = Shown(project.job.output.units)
    sections = _sections(project, changed, new_cuts, members, moved)
    return WallTrial(frame, sections, tuple(map(str, _moved(old_walls, new_walls))), (bent, new_cuts), before, shown)


def _sections(
    project: Project, changed: Project, cuts: WallCuts, members: list[CheckedPart], moved: list[CheckedPart]
) -> pd.DataFrame:
    """Whole sections that the changed parts belong to, those that the run used most, before and after."""
    table = pd.read_parquet(project.job.results / "wall_sections.parquet")
    if table.empty:
        return table
    storeys = {(c.part.wall, c.part.storey) for c in moved if c.part.kind.upright}
    mine = np.array([k in storeys for k in zip(table["wall"], table["storey"], strict=True)], dtype=bool)
    use = table[["utilisation", "torsion with shear"]].max(axis=1)
    most = table[mine].assign(before=use).sort_values("before", ascending=False, kind="stable").head(SECTIONS)
    columns = ["wall", "storey", "section", "at", "before"]
    before = {tuple(k): float(v) for *k, v in most[columns].iloc[::-1].itertuples(index=False)}  # the worst of a name
    found = sections_of(changed, cuts, members, lambda s: (s.wall, s.storey, s.part, s.at) in before)
    rows = []
    for c in found:
        s, (after, check) = c.station, c.worst
        rows.append({
            "wall": s.wall, "storey": s.storey, "section": s.part, "at": s.at,
            "before": before[s.wall, s.storey, s.part, s.at], "after": after, "governing check": check,
        })  # fmt: skip
    frame = pd.DataFrame(rows, columns=[*columns, "after", "governing check"])
    order = frame.sort_values("after", ascending=False, kind="stable")
    return order.drop_duplicates(columns[:4]).reset_index(drop=True)


def _differs(c: CheckedPart, known: dict[str, Laid], job: Job, new: Job, old: dict[str, LaidWall]) -> bool:
    """Whether a part has other bars than before, or is checked by something else."""
    return known[c.part.full_name].steel != c.steel or not _same(job, new, old[c.part.wall], c)


def _touched(job: Job, new: Job, wall: str, zones: tuple[str, ...]) -> bool:
    return new.walls[wall] != job.walls[wall] or any(new.zones[z] != job.zones[z] for z in zones)


def _same(job: Job, new: Job, was: LaidWall, c: CheckedPart) -> bool:
    """Whether nothing that a part is checked by has changed but, perhaps, the bars of others."""
    others = [f.name for f in fields(Wall) if f.name not in ("bars", *CHOSEN)]
    zone = was.zone_at(c.part)
    return all(getattr(was.asked, k) == getattr(c.wall.asked, k) for k in others) and job.zones[zone] == new.zones[zone]


def _laid(project: Project) -> Walls:
    """Walls as a job has them."""
    faults = Faults()
    walls = lay_walls(project, faults)
    faults.stop()
    if walls is None:
        raise StaleError("the walls of the last run cannot be read; run the job again")
    return walls


def _cuts(project: Project, walls: Walls, stored: Project, key: str) -> WallCuts:
    """Walls on the stations of the last run."""
    faults = Faults()
    cuts = cut_walls(project, walls, faults, load_stations(stored, walls, key))
    faults.stop()
    if cuts is None:
        raise StaleError("the cuts of the last run cannot be read; run the job again")
    return cuts


def _keeps(was: Wall, now: Wall, part: Part) -> bool:
    """Whether a part keeps its bars: nothing that bars are chosen by has changed for it."""
    same = all(getattr(was, k) == getattr(now, k) for k in CHOSEN)
    return same and given_bars(was, part) == given_bars(now, part)


def _thickness(wall: LaidWall, zone: str) -> NDArray[np.float64]:
    """Thickness of the elements in a zone, or of panels that are given [mm]."""
    if len(wall.elements):
        return np.asarray(wall.thickness[wall.zone == zone])
    return np.concatenate([p.thickness for p in wall.panels])


def _moved(old: Walls, new: Walls) -> list[Sentence]:
    """What of a change would move the forces of the analysis."""
    out = []
    for was, now in zip(old.walls, new.walls, strict=True):
        for name in was.asked.zones:
            before, after = (float(np.median(_thickness(w, name))) for w in (was, now))
            if abs(after / before - 1.0) > MOVES:
                ratio = after / before
                out.append(Sentence(
                    "zone {} would be {} times as stiff in its plane and {} times across it: forces of another "
                    "thickness are those of another analysis", name, f"{ratio:.2f}", f"{ratio**3:.2f}",
                ))  # fmt: skip
            a, b = old.zones[name].concrete.cylinder, new.zones[name].concrete.cylinder
            if abs((b / a) ** STIFFNESS - 1.0) > MOVES:
                told = f"{(b / a) ** STIFFNESS:.2f}"
                out.append(Sentence("zone {} would be about {} times as stiff with the other concrete", name, told))
    return out
