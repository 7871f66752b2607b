"""Walls tried with another thickness, concrete or bars on the forces of the last run."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Fault, Faults, InputError, StaleError
from sandwich.core.shown import Sentence, Shown
from sandwich.drawing.wall_records import StrengthDescription
from sandwich.job import Job
from sandwich.project.outcome import Table, Text
from sandwich.project.project import Project
from sandwich.tables.write import check_folder, write_aside
from sandwich.work.walls.checks import CheckedPart, Laid, given_bars, members_of
from sandwich.work.walls.cuts import cut_walls
from sandwich.work.walls.layout import Walls, lay_walls
from sandwich.work.walls.pictures import most_bent, strength_of, worst_of_table, worst_strength
from sandwich.work.walls.stations import WallCuts
from sandwich.work.walls.store import load_bars, load_stations

RULES: Final = ("bars", "rule", "same_bars", "end_bars", "curtains")  # what makes the bars be chosen again
MOVES: Final = 0.05  # of the stiffness: a change from which the analysis would move
STIFFNESS: Final = 0.3  # power of the strength with which the modulus of concrete grows
MOST: Final = 16  # rows that are shown


@dataclass(frozen=True, repr=False)
class WallTrial:
    """What a change does to the walls it touches.

    Attributes
    ----------
    parts : DataFrame
        One row a part that changes: bars and worst check of strength before and after, the worst after first.
    moved : tuple of str
        What of the change would move the analysis.
    bent : tuple
        The part that bending uses most after the change, before it and after it, with the cuts of both.
    """

    parts: pd.DataFrame
    moved: tuple[str, ...]
    bent: tuple[tuple[CheckedPart, WallCuts], tuple[CheckedPart, WallCuts]]
    shown: Shown

    def describe(self) -> StrengthDescription:
        """Curves of the part that bending uses most after the change, those before it dashed."""
        old, new = (strength_of(part, cuts, self.shown) for part, cuts in self.bent)
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
        return (Table(f"Walls: parts that change{count}", self.parts.head(MOST), bad=bad[:MOST]), *warned)


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
    old_walls, old_cuts = _cuts(project, project, key)
    changed = project.changed(new)
    new_walls, new_cuts = _cuts(changed, project, key)
    known = load_bars(project, key) or {}
    kept = {
        p.full_name: known[p.full_name]
        for w in new_walls.walls
        for p in w.parts
        if _keeps(old_walls, w.name, new, p.full_name, known)
    }
    touched = {
        w.name
        for w in new_walls.walls
        if new.walls[w.name] != project.job.walls[w.name]
        or any(new.zones[z] != project.job.zones[z] for z in w.asked.zones)
    }
    before = {c.part.full_name: c for c in members_of(project, old_cuts, known=known, only=touched, rays=False)}
    after = members_of(changed, new_cuts, known=kept, only=touched, rays=False)
    stored = worst_of_table(pd.read_parquet(project.job.results / "wall_checks.parquet"))
    rows, moved = [], []
    for c in after:
        b = before.get(c.part.full_name)
        if b is None or (b.steel == c.steel and b.geometry == c.geometry and b.member.of == c.member.of):
            continue
        p, two = c.part, worst_strength(c)
        one = stored[p.wall, p.storey, f"{p.panel} {p.name}"]
        if b.steel == c.steel and abs(one - two.utilisation) < 1e-9:
            continue
        moved.append(c)
        rows.append({
            "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.label or p.name}",
            "bars before [mm]": b.told, "bars after [mm]": c.told, "before": one, "after": two.utilisation,
            "governing check": two.name,
        })  # fmt: skip
    if not rows:
        return None
    frame = pd.DataFrame(rows).sort_values("after", ascending=False, kind="stable").reset_index(drop=True)
    shown = Shown(project.job.output.units)
    bent = most_bent(moved)
    both = (before[bent.part.full_name], old_cuts), (bent, new_cuts)
    return WallTrial(frame, tuple(map(str, _moved(old_walls, new_walls))), both, shown)


def _cuts(project: Project, stored: Project, key: str) -> tuple[Walls, WallCuts]:
    """Walls as a job has them, on the stations of the last run."""
    faults = Faults()
    walls = lay_walls(project, faults)
    cuts = None if walls is None else cut_walls(project, walls, faults, load_stations(stored, walls, key))
    faults.stop()
    if walls is None or cuts is None:
        raise StaleError("the walls of the last run cannot be read; run the job again")
    return walls, cuts


def _keeps(old: Walls, wall: str, new: Job, part: str, known: dict[str, Laid]) -> bool:
    """Whether a part keeps its bars: nothing that bars are chosen by has changed for it."""
    before = next(w for w in old.walls if w.name == wall)
    was, now = before.asked, new.walls[wall]
    if part not in known or any(getattr(was, k) != getattr(now, k) for k in RULES if k != "bars"):
        return False
    own = next((p for p in before.parts if p.full_name == part), None)
    return own is not None and given_bars(was, own) == given_bars(now, own)


def _moved(old: Walls, new: Walls) -> list[Sentence]:
    """What of a change would move the forces of the analysis."""
    out = []
    for was, now in zip(old.walls, new.walls, strict=True):
        for name in was.asked.zones:
            before, after = (float(np.median(w.thickness[w.zone == name])) for w in (was, now))
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
