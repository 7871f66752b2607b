"""Ends of seismic walls, storey by storey: their demands, and what the standard asks of them."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.trace import about, unrecorded
from sandwich.design.walls.bars import Cover, LintelSteel, WallSteel
from sandwich.design.walls.checks import SEISMIC, wall_part
from sandwich.design.walls.ends import EndCheck, bars_alone, end_checks, laid_end
from sandwich.design.walls.geometry import PartGeometry
from sandwich.job.walls import Seismic
from sandwich.model.walls.parts import Kind
from sandwich.project.project import Project
from sandwich.standards.interface import BoundaryNeed, Buildings, SeismicDemand, SeismicWalls, WallEnd
from sandwich.work.walls.building import Q_0
from sandwich.work.walls.building import demand_of as building_demand
from sandwich.work.walls.building import motion as building_motion
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.feet import Place, Pressed, base_of, pressed_ends, seismic_foot, sense_of, under, unreduced
from sandwich.work.walls.flanges import flange_at, remembered
from sandwich.work.walls.stations import WallCuts
from sandwich.work.walls.sway import on_top

Floats = NDArray[np.float64]
TIE: Final = 10.0  # mm, assumed
ALIKE: Final = 0.1  # of the length of a part
BESIDE: Final = 20.0  # mm between a part and a lintel beside it
PARALLEL: Final = 0.966  # cosine of 15 degrees
PROBABLE: Final = 1.25  # of the yield strength
ENDS: Final = ("left", "right")


@dataclass(frozen=True)
class CheckedEnd:
    """One end of a part at its foot, with what the standard asks of it and the combination that presses it most.

    `need` is None of a part that is a column by its length; `checks` hold what lies there against the rest.
    """

    part: CheckedPart
    steel: WallSteel
    end: str
    need: BoundaryNeed | None
    checks: tuple[EndCheck, ...]
    combination: str
    height: float

    @property
    def worst(self) -> EndCheck | None:
        """The check with the largest utilisation."""
        return max(self.checks, key=lambda c: c.check.utilisation, default=None)


def demand_of(
    asked: Seismic, h_w: float, moved: float = math.nan, factors: tuple[float, float] | None = None
) -> SeismicDemand:
    """Settings as the standard takes them.

    Parameters
    ----------
    asked : Seismic
        Seismic design of the wall.
    h_w : float
        Its height above its base [mm].
    moved : float
        Its displacement at the top, where none is given [mm].
    factors : tuple of float, optional
        Basic value of the behaviour factor and the factor by its system [-].
    """
    drift = (moved if asked.displacement is None else asked.displacement) / h_w
    T_1, T_C = (math.nan if t is None else t for t in (asked.T_1, asked.T_C))
    q_0, q = factors if factors is not None else (asked.q_0 or Q_0, asked.q_0 or Q_0)
    return SeismicDemand(
        high=asked.ductility == "DCH", displacement=drift, q_0=q_0, q=asked.q if asked.q is not None else q, T_1=T_1,
        T_C=T_C, class_b=asked.steel_class == "B", dual=asked.system == "dual",
        lightly=asked.lightly, coupled=asked.system == "ductile coupled",
    )  # fmt: skip


class SeismicEnds:
    """What the standard asks of the ends of seismic walls, at the bars that their parts have at the moment."""

    def __init__(self, project: Project, cuts: WallCuts, parts: list[CheckedPart], standard: SeismicWalls) -> None:
        self.project, self.cuts, self.standard = project, cuts, standard
        self.parts = {c.part.full_name: c for c in parts}
        self._below = {s.name for s in cuts.walls.storeys if s.basement}
        self._senses: dict[str, float] = {}
        self._needed: dict[tuple[str, str], bool] = {}
        self._pressed: dict[tuple[str, WallSteel], dict[str, Pressed] | None] = {}
        self._probable: dict[tuple[str, WallSteel | LintelSteel], tuple[float, float]] = {}
        self._shallow: dict[tuple[str, WallSteel], float] = {}
        self._flanges: dict[tuple[str, str], tuple[float, float]] = {}
        self._standing = remembered()
        self._q: dict[Seismic, tuple[float, float]] = {}
        self._bases: dict[tuple[str, WallSteel | LintelSteel], tuple[float, float, float]] = {}

    def asked(self, c: CheckedPart) -> Seismic | None:
        """Seismic design of the wall of a part, None of parts without one."""
        return self.project.job.walls[c.part.wall].seismic if isinstance(c.steel, WallSteel) else None

    def column(self, c: CheckedPart) -> bool:
        """Whether a part is a column by its length."""
        return c.geometry.length / c.geometry.thickness <= self.standard.column_ratio

    @cached_property
    def rising(self) -> list[CheckedPart]:
        """Parts that have ends, from below."""
        mine = [c for c in self.parts.values() if self.asked(c) is not None and len(seismic_foot(c))]
        return sorted(mine, key=lambda p: p.part.low)

    def flange(self, c: CheckedPart, end: str) -> tuple[float, float]:
        """Thickness and width of the panel that an end meets [mm], 0 of a free end."""
        key = c.part.full_name, end
        if key not in self._flanges:
            self._flanges[key] = flange_at(c, end, self._standing)
        return self._flanges[key]

    def coupled(self, c: CheckedPart) -> bool:
        """Whether a lintel beside a part joins it to another."""
        p = c.part
        return any(
            o.kind is Kind.LINTEL and o.panel == p.panel and o.low < p.high + BESIDE and o.high > p.low - BESIDE
            and min(abs(o.a - p.b), abs(o.b - p.a)) < BESIDE
            for o in c.wall.parts
        )  # fmt: skip

    def piers(self, c: CheckedPart) -> list[CheckedPart]:
        """Parts of a wall that share its shear in a storey in one direction."""
        way = c.wall.panel(c.part.panel).place((c.part.a + c.part.b) / 2.0)[1]
        return [
            o for o in self.rising
            if o.part.wall == c.part.wall and o.part.storey == c.part.storey and not self.column(o)
            and abs(float(o.wall.panel(o.part.panel).place((o.part.a + o.part.b) / 2.0)[1] @ way)) > PARALLEL
        ]  # fmt: skip

    def put(self, c: CheckedPart) -> None:
        """Take a part with other bars in the place of what it was."""
        self.parts[c.part.full_name] = c
        self.__dict__.pop("rising", None)

    def of(self, c: CheckedPart, steel: WallSteel | None = None) -> list[CheckedEnd]:
        """Both ends of a part, with its own bars or others; from below, as ends may go on from the storey beneath."""
        steel = steel or c.steel  # type: ignore[assignment]
        asked = self.asked(c)
        if asked is None or not isinstance(steel, WallSteel):
            return []
        pressed = self._ends(c, steel)
        if pressed is None:
            return []
        at, out = self.place(c), []
        base = self.base(at.foot if at.foot.part is not c.part else replace(c, steel=steel))
        cover, g = c.member.of.cover, c.geometry
        for name, p in pressed.items():
            part = wall_part(g, steel, c.member.of, SEISMIC)
            bars = [steel.vertical.diameter] + ([steel.ends.diameter] if steel.ends is not None else [])
            end = WallEnd(
                concrete=c.member.of.concrete, steel=c.member.of.steel, l_w=g.length, t=g.thickness, h_w=at.h_w,
                h_s=g.height, z=at.z, storeys=at.storeys, cover=cover.cover,
                d_tie=TIE if steel.ties is None else steel.ties.diameter, d_b=min(bars), rho_v=part.across,
                M_u_base=base[0], V_u_base=base[1], M_R_base=base[2], N=p.N, M=p.M, c=p.c, area=part.area,
                modulus=g.thickness * g.length**2 / 6.0, goes_on=self._below_needs(c, name),
                asked=self.demand(c, asked, at), strain=p.strain,
                flange=self.flange(c, name), l_below=self._length_below(c),
            )  # fmt: skip
            need, checks = (None, []) if self.column(c) else self._checked(end, g, steel, cover, name)
            self._needed[c.part.full_name, name] = need is not None and need.needed
            out.append(
                CheckedEnd(
                    part=c,
                    steel=steel,
                    end=name,
                    need=need,
                    checks=tuple(checks),
                    combination=self.cuts.rows[p.worst].name,
                    height=at.z,
                )
            )
        return out

    def _checked(
        self, end: WallEnd, g: PartGeometry, steel: WallSteel, cover: Cover, name: str
    ) -> tuple[BoundaryNeed, list[EndCheck]]:
        """What an end needs, and what lies there held against it."""
        by_volume = self.standard.ties_by_volume
        if steel.ends is None:
            # how far the bars of the web count goes by what the end needs
            with unrecorded():
                first = self.standard.boundary(end)
            laid = laid_end(g.length, g.thickness, steel, cover, max(first.length, first.rho_length))
        else:
            laid = laid_end(g.length, g.thickness, steel, cover, 0.0)
        if laid.rows:
            end = replace(end, laid=laid, d_b=laid.diameters[0])
        with about(f"{name} end"):
            need = self.standard.boundary(end)
        return need, end_checks(need, laid, g.length, g.thickness, by_volume=by_volume)

    def _below_needs(self, c: CheckedPart, end: str) -> bool:
        """Whether the same end of the part under it is a boundary element."""
        beneath = [p for p in self.rising if p.part is not c.part and under(p, c)]
        last = max(beneath, key=lambda p: p.part.low, default=None)
        return last is not None and self._needed.get((last.part.full_name, end), False)

    def _length_below(self, c: CheckedPart) -> float:
        """Length of the part right under a part [mm], 0 where there is none."""
        beneath = [p for p in self.rising if p.part is not c.part and under(p, c)]
        return max(beneath, key=lambda p: p.part.low).geometry.length if beneath else 0.0

    def demand(self, c: CheckedPart, asked: Seismic, at: Place) -> SeismicDemand:
        """Settings of the seismic design of a part, with the displacement of the building where none is given."""
        standard, building = self.project.standard, self.project.job.building
        factors = self._factors(asked)
        if asked.displacement is not None or building is None or "displacement" not in self.standard.seismic_settings:
            return demand_of(asked, at.h_w, factors=factors)
        moves = building_motion(self.project, self.cuts)
        if moves is None or not isinstance(standard, Buildings):
            return demand_of(asked, at.h_w, factors=factors)
        panel = next(w for w in self.cuts.walls.walls if w.name == c.part.wall).panel(c.part.panel)
        way = panel.place((c.part.a + c.part.b) / 2.0)[1]
        found = on_top(moves, c.part.low - at.z + at.h_w, way)
        moved = standard.design_displacement(found, building_demand(self.project, building))
        return demand_of(asked, at.h_w, float(moved.max(initial=0.0)), factors)

    def _factors(self, asked: Seismic) -> tuple[float, float] | None:
        """Behaviour factors by the system, with heights and lengths of the walls at their bases."""
        if asked.system is None:
            return None
        if asked not in self._q:
            feet = [c for c in self.rising if self.place(c).foot.part is c.part and not self.column(c)]
            heights, lengths = [self.place(c).h_w for c in feet], [c.geometry.length for c in feet]
            with unrecorded():
                self._q[asked] = self.standard.behaviour(
                    asked.system,
                    asked.alpha_u_1,
                    heights,
                    lengths,
                    high=asked.ductility == "DCH",
                    regular=asked.regular,
                )
        return self._q[asked]

    def shear_at(self, c: CheckedPart, at: Place, height: float) -> float:
        """Largest seismic shear of the part over the same foot at a height above the base [N]."""
        level = at.foot.part.low + height
        found = [o for o in self.rising if under(at.foot, o) and o.part.low <= level + 1.0 and o.part.high > level]
        o = found[0] if found else c
        d = o.member.demand
        mine = o.member.situations[d.combination] == SEISMIC
        return float(np.abs(d.V[mine]).max(initial=0.0))

    def place(self, c: CheckedPart) -> Place:
        """Where a part stands in its wall."""
        mine = [p for p in self.parts.values() if p.part.wall == c.part.wall and p.part.kind.upright]
        over = [p for p in mine if p.part.storey not in self._below] or mine
        base, top = min(p.part.low for p in over), max(p.part.high for p in over)
        # the critical section of a part of the basement stands over it
        foot = min((p for p in over if under(p, c) or under(c, p)), key=lambda p: p.part.low, default=c)
        below = base - min(p.part.low for p in mine)
        return Place(foot, top - base, c.part.low - base, len({p.part.storey for p in over}), below)

    def lowest_alike(self, c: CheckedPart) -> CheckedPart:
        """The lowest part under a part that is as long as it, or the part itself."""
        near = ALIKE * c.geometry.length
        alike = [
            p for p in self.rising
            if under(p, c) and max(abs(p.part.a - c.part.a), abs(p.part.b - c.part.b)) <= near
            and p.part.storey not in self._below
        ]  # fmt: skip
        return min(alike, key=lambda p: p.part.low, default=c)

    def base(self, foot: CheckedPart) -> tuple[float, float, float]:
        """Largest moment and shear of seismic combinations at the base, and the moment that is carried there."""
        if isinstance(foot.steel, WallSteel):
            foot = replace(foot, steel=bars_alone(foot.steel))
        key = foot.part.full_name, foot.steel
        if key not in self._bases:
            self._bases[key] = base_of(foot)
        return self._bases[key]

    def probable(self, foot: CheckedPart) -> tuple[float, float]:
        """Moments that are carried at the base without reduction, with f_y and with 1.25 f_y [N mm]."""
        if isinstance(foot.steel, WallSteel):
            foot = replace(foot, steel=bars_alone(foot.steel))
        key = foot.part.full_name, foot.steel
        if key not in self._probable:
            self._probable[key] = unreduced(foot, 1.0), unreduced(foot, PROBABLE)
        return self._probable[key]

    def shallow(self, c: CheckedPart, steel: WallSteel) -> float:
        """Depth of the neutral axis at the foot beside the least compression, over the length [-]."""
        key = c.part.full_name, bars_alone(steel)
        if key not in self._shallow:
            at = seismic_foot(c)
            strength = c.member.strengths.of(c.geometry, key[1], c.member.of, SEISMIC)
            N = float(c.member.demand.N[at].max()) if len(at) else 0.0
            depth = float(strength.strength(N, 0.0, 1.0, ray=False).c[0])
            self._shallow[key] = min(depth / c.geometry.length, 1.0) if math.isfinite(depth) else 0.0
        return self._shallow[key]

    def _ends(self, c: CheckedPart, steel: WallSteel) -> dict[str, Pressed] | None:
        """Demands at the foot that press each end: N, M, depth of the neutral axis, combination."""
        key = c.part.full_name, bars_alone(steel)
        if key not in self._pressed:
            if c.part.full_name not in self._senses:
                strength = c.member.strengths.of(c.geometry, steel, c.member.of, SEISMIC)
                self._senses[c.part.full_name] = sense_of(strength)
            sense = self._senses[c.part.full_name]
            self._pressed[key] = pressed_ends(c, bars_alone(steel), sense)
        return self._pressed[key]


def ends_of(
    project: Project, cuts: WallCuts, parts: list[CheckedPart], only: CheckedPart | None = None
) -> list[CheckedEnd]:
    """Both ends of all piers and walls of seismic walls, or of one; parts without seismic combinations have none."""
    if not isinstance(project.standard, SeismicWalls):
        return []
    ends = SeismicEnds(project, cuts, parts, project.standard)
    out: list[CheckedEnd] = []
    for c in ends.rising:
        if only is None or c is only:
            out += ends.of(c)
        elif under(c, only):
            with unrecorded():
                ends.of(c)
    return out
