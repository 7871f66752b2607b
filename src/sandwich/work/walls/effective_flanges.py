"""Effective flange widths of whole sections of seismic walls."""

from __future__ import annotations

from dataclasses import dataclass

from sandwich.model.walls.flanges import cut_flanges
from sandwich.model.walls.outline import Stretch
from sandwich.project.project import Project
from sandwich.standards.interface import SeismicWalls
from sandwich.work.walls.layout import LaidWall
from sandwich.work.walls.stations import Station, WallCuts


@dataclass(frozen=True)
class CutFlanges:
    """Stretches of a section bent along its first and along its second axis, and the clause that cuts their flanges."""

    runs: tuple[tuple[Stretch, ...], tuple[Stretch, ...]]
    clause: str


class Flanges:
    """Cuts the flanges of seismic walls."""

    def __init__(self, project: Project, cuts: WallCuts) -> None:
        self.project = project
        below = {s.name for s in cuts.walls.storeys if s.basement}
        self._heights = {
            w.name: (min((p.low for p in w.parts if p.storey not in below), default=0.0), max(p.high for p in w.parts))
            for w in cuts.walls.walls if w.parts
        }  # fmt: skip

    def of(self, wall: LaidWall, s: Station) -> CutFlanges | None:
        """A whole section with its flanges cut, None where no rule cuts them."""
        standard = self.project.standard
        if wall.asked.seismic is None or not isinstance(standard, SeismicWalls) or wall.name not in self._heights:
            return None
        base, top = self._heights[wall.name]
        clauses: dict[str, None] = {}

        def width(free: float, distance: float) -> float:
            found = standard.flange_width(free, distance, max(top - s.place, 0.0), top - base)
            clauses[found.clause] = None
            return found.value

        first, second = (cut_flanges(s.runs, wall.panels, s.axes[k, :2], width) for k in (0, 1))
        if (first, second) == (s.runs, s.runs):
            return None
        return CutFlanges((first, second), ", ".join(clauses))
