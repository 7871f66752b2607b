"""Bars of seismic walls: what their boundary elements and their amplified shear ask for beyond the checks of walls."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

from sandwich.core.trace import unrecorded
from sandwich.design.bar_sets import BarRule, arrangements
from sandwich.design.walls.bars import BarGroup, LintelSteel, Ties, WallSteel
from sandwich.design.walls.checks import PartCheck
from sandwich.design.walls.choice import steel_holds
from sandwich.design.walls.ends import BY_TIES, HELD, EndCheck, groups_of, rounded, steel_of, ties_of, worst_of
from sandwich.job.walls import Seismic, Wall, WallBars
from sandwich.project.project import Project
from sandwich.standards.interface import SeismicWalls
from sandwich.work.walls.checks import CheckedPart, given_bars, group_of
from sandwich.work.walls.coupling import CouplingBeams
from sandwich.work.walls.ends import CheckedEnd, SeismicEnds
from sandwich.work.walls.feet import under
from sandwich.work.walls.seismic_shear import BY_NO_BARS, BY_VERTICAL, shears_at
from sandwich.work.walls.stations import WallCuts

SEISMIC_TABLES: Final = ("seismic shear", "boundary checks", "coupling checks")
ROUNDS: Final = 8
NEAR: Final = 1.25  # of the spacing with the thickest ties: wider ones are not looked at
LEAST: Final = (("minimum vertical", "spacing vertical"), ("minimum horizontal", "spacing horizontal"))
BY_ENDS: Final = "boundary element"
BY_BEAM: Final = "coupling beam"
BY_SHEAR: Final = "shear of the seismic wall"


@dataclass(frozen=True)
class Designed:
    """Parts with their bars, and whether more bars and the shear they bring came to rest."""

    parts: list[CheckedPart]
    settled: bool


def designed(
    project: Project, cuts: WallCuts, parts: list[CheckedPart], keep: frozenset[str] = frozenset()
) -> Designed:
    """Parts of seismic walls with the bars that their ends and their shear ask for; the others as they are.

    More vertical bars raise what the base carries, and with it the shear; bars only grow until nothing moves.

    Parameters
    ----------
    project, cuts, parts : Project, WallCuts, list of CheckedPart
        The job, its forces, and the parts with the bars that the checks of walls ask for.
    keep : frozenset of str
        Full names of parts whose bars stay.
    """
    if not isinstance(project.standard, SeismicWalls) or not project.job.seismic_walls:
        return Designed(parts, True)
    beams = CouplingBeams(project, cuts, parts, project.standard)
    own = _beams(beams, keep)
    parts = [own.get(c.part.full_name, c) for c in parts]
    ends = SeismicEnds(project, cuts, parts, project.standard)
    groups: dict[tuple[str, ...], list[str]] = {}
    for c in ends.rising:
        if c.part.full_name not in keep and not ends.column(c):
            groups.setdefault(group_of(c.wall, c.part), []).append(c.part.full_name)
    alike: dict[tuple[str, ...], list[str]] = {}
    for c in parts:
        key, name = group_of(c.wall, c.part), c.part.full_name
        if key in groups and name not in groups[key] and name in ends.parts and name not in keep:
            alike.setdefault(key, []).append(name)
    moved = True
    with unrecorded():
        for _ in range(ROUNDS):
            moved = False
            for key, names in groups.items():
                of = _Group(ends, [ends.parts[n] for n in names])
                steel, by = of.steel()
                if steel == of.parts[0].steel:
                    continue
                moved = True
                for c in of.parts:
                    ends.put(replace(c, steel=steel, decided=by))
                for c in (ends.parts[n] for n in alike.get(key, ())):
                    ends.put(_with_web(c, steel, by))
            if not moved:
                break
    return Designed([ends.parts[c.part.full_name] for c in parts], not moved)


def _with_web(c: CheckedPart, steel: WallSteel, by: str) -> CheckedPart:
    """A part that gets the web bars of its group, though the design of seismic walls does not ask for them in it."""
    assert isinstance(c.steel, WallSteel)
    own = replace(c.steel, vertical=steel.vertical, horizontal=steel.horizontal)
    return replace(c, steel=own, decided=by) if own != c.steel and c.member.holds(own) else c


def _beams(beams: CouplingBeams, keep: frozenset[str]) -> dict[str, CheckedPart]:
    """Coupling beams with the bars that their hinges or diagonals ask for, those that change."""
    groups: dict[tuple[str, ...], list[CheckedPart]] = {}
    for name, c in beams.parts.items():
        if name not in keep:
            groups.setdefault(group_of(c.wall, c.part), []).append(c)
    out: dict[str, CheckedPart] = {}
    with unrecorded():
        for group in groups.values():
            first = group[0].steel
            steel = beams.chosen(group, first) if isinstance(first, LintelSteel) else first
            if steel != group[0].steel:
                out |= {c.part.full_name: replace(c, steel=steel, decided=BY_BEAM) for c in group}
    return out


def worst_seismic(
    project: Project, cuts: WallCuts, parts: list[CheckedPart], moved: list[CheckedPart]
) -> dict[str, PartCheck]:
    """The worst check of the seismic design of the parts that moved, and of what stands over and under them."""
    if not isinstance(project.standard, SeismicWalls) or not project.job.seismic_walls:
        return {}
    ends = SeismicEnds(project, cuts, parts, project.standard)
    beams = CouplingBeams(project, cuts, moved, project.standard)
    found = [(b.part, b.worst.check) for b in beams.all()]
    for c in ends.rising:
        if any(under(c, m) or under(m, c) for m in moved):
            found += [(c, e.worst.check) for e in ends.of(c) if e.worst is not None]
            found += [(c, s.check) for s in shears_at(ends, c)]
    out: dict[str, PartCheck] = {}
    for c, check in found:
        name = c.part.full_name
        if name not in out or check.utilisation > out[name].utilisation:
            out[name] = check
    return out


class _Group:
    """Parts that get the same bars."""

    def __init__(self, ends: SeismicEnds, parts: list[CheckedPart]) -> None:
        self.ends, self.parts = ends, parts
        first = parts[0]
        self.wall: Wall = first.wall.asked
        self.given = given_bars(self.wall, first.part) or WallBars()
        self.asked = ends.asked(first) or Seismic()
        self.rule = BarRule(self.wall.rule.diameters, self.wall.rule.spacings)

    def steel(self) -> tuple[WallSteel, str]:
        """Bars that hold all of them, and what decided; those they have where nothing of the rule does."""
        start = self.parts[0].steel
        assert isinstance(start, WallSteel)
        # bars at the ends that are asked for in any case carry bending better than those of the web
        first = self._for_ends(start) if self.asked.lightly else start
        steel = self._for_shear(first)
        by = BY_SHEAR if steel != first else BY_ENDS if first != start else self.parts[0].decided
        more = self._for_ends(steel)
        return more, by if more == steel else BY_ENDS

    def _for_shear(self, steel: WallSteel) -> WallSteel:
        """Horizontal bars, and vertical ones, that hold the amplified shear."""
        options = arrangements(self.rule)

        def fails(tried: WallSteel, vertical: bool) -> bool:
            least = LEAST[0 if vertical else 1]
            if not all(steel_holds(c.member, tried, least) for c in self.parts):
                return True
            found = [s.check for c in self.parts for s in shears_at(self.ends, c, tried, bends=vertical, exact=False)]
            return any(
                k.utilisation > HELD and not k.name.startswith("struts") and k.name not in BY_NO_BARS for k in found
                if (k.name in BY_VERTICAL) == vertical
            )  # fmt: skip

        def chosen(now: WallSteel, tried: list[WallSteel], vertical: bool) -> WallSteel:
            if not tried or not fails(now, vertical):
                return now
            return next((t for t in tried if not fails(t, vertical)), tried[-1])

        if self.given.vertical is None:
            over = [o for o in options if o.area > steel.vertical.area]
            steel = chosen(steel, [replace(steel, vertical=o) for o in over], True)
        if self.given.horizontal is None:
            over = [o for o in options if o.area > steel.horizontal.area]
            steel = chosen(steel, [replace(steel, horizontal=o) for o in over], False)
        return steel

    def _ends(self, steel: WallSteel) -> list[CheckedEnd]:
        return [e for c in self.parts for e in self.ends.of(c, steel)]

    def _mended(self, found: list[CheckedEnd]) -> list[EndCheck]:
        """Checks that bars and ties can mend."""
        return [c for e in found for c in e.checks if e.need is not None and c.check.name not in _fixed(e)]

    def _for_ends(self, steel: WallSteel) -> WallSteel:
        """Bars at the ends, then their ties."""
        may_bars = self.wall.end_bars and self.given.vertical is None and self.given.ends is None
        may_ties = self.given.ties is None
        found = self._ends(steel)
        if worst_of(self._mended(found)) <= HELD and (steel.ties is None or not may_ties) and not self._short(found):
            return steel
        bars = [c for c in self._mended(found) if c.check.name not in BY_TIES]
        wanted = any(e.need is not None and e.need.needed for e in found)
        if may_bars and (worst_of(bars) > HELD or wanted or steel.ends is None or self._short(found)):
            return self._with_bars(steel, found, may_ties=may_ties)
        return self._with_ties(steel) if may_ties else steel

    def _short(self, found: list[CheckedEnd]) -> bool:
        """Whether boundary elements above each other shall be of one length, and these are shorter."""
        return any(
            e.need is not None and e.need.needed and self._constant(e.part) > _length(e.part) + 0.5 for e in found
        )

    def _constant(self, c: CheckedPart) -> float:
        """Length of the longest boundary element over or under a part, where they are of one length [mm]."""
        if self.asked.length != "constant":
            return 0.0
        stack = [p for p in self.ends.rising if under(p, c) or under(c, p)]
        return min(max((_length(p) for p in stack), default=0.0), c.geometry.length / 2.0)

    def _with_bars(self, steel: WallSteel, found: list[CheckedEnd], *, may_ties: bool) -> WallSteel:
        """The least bars at the ends that pass with the most ties, then the least ties for them."""
        needs = [(e.need, e.part) for e in found if e.need is not None]
        cover = self.parts[0].member.of.cover
        l_w = min(c.geometry.length for c in self.parts)
        t = self.parts[0].geometry.thickness
        apart = min(n.held for n, _ in needs)
        length = max((n.length if n.needed else n.rho_length for n, _ in needs if n.needed or n.rho), default=0.0)
        length = max([length, *(self._constant(c) for n, c in needs if n.needed)])
        own = steel.ends.length if steel.ends is not None else 0.0
        slack = cover.cover + max(self.rule.diameters) if any(n.needed for n, _ in needs) else 0.0
        options = sorted(
            (
                g
                for more in (0.0, slack)
                for g in groups_of(self.rule, max(rounded(length + more, l_w), own), t, cover, steel, apart)
            ),
            key=lambda g: (g.area, g.length),
        )
        nearest: tuple[float, WallSteel] | None = None
        least: tuple[float, WallSteel] | None = None
        for group in dict.fromkeys(options):
            if least is not None and group.area >= least[0]:
                break  # thicker bars alone weigh more than what was found with its ties
            tried = replace(steel, ends=group, ties=self._most(group) if may_ties else steel.ties)
            use = worst_of(self._mended(self._ends(tried)))
            if nearest is None or use < nearest[0]:
                nearest = use, tried
            if use <= HELD and all(c.member.holds(tried) for c in self.parts):
                found_here = self._with_ties(tried) if may_ties else tried
                weight = group.area + (steel_of(found_here.ties, group, t) if found_here.ties is not None else 0.0)
                if least is None or weight < least[0]:
                    least = weight, found_here
        if least is not None:
            return least[1]
        if nearest is None:
            return steel
        return self._with_ties(nearest[1]) if may_ties else nearest[1]

    def _most(self, group: BarGroup) -> Ties:
        """The most ties of the rule for some bars."""
        rule = self.asked.ties
        layers = group.layers or self.parts[0].member.of.cover.curtains
        return Ties(rule.diameters[-1], rule.spacings[0], -(-group.count // layers), max(layers, 2))

    def _with_ties(self, steel: WallSteel) -> WallSteel:
        """The least ties that pass, none where none are asked for; those that come nearest where none passes."""

        def use(tried: WallSteel) -> float:
            return worst_of([c for c in self._mended(self._ends(tried)) if c.check.name in BY_TIES])

        bare = replace(steel, ties=None)
        if worst_of(self._mended(self._ends(bare))) <= HELD:
            return bare
        if steel.ends is None:
            return bare  # bars of the web alone have no ties
        rule, t = BarRule(self.asked.ties.diameters, self.asked.ties.spacings), self.parts[0].geometry.thickness
        most = [e.need for e in self._ends(replace(steel, ties=self._most(steel.ends))) if e.need is not None]
        apart = NEAR * min((n.spacing for n in most if math.isfinite(n.spacing)), default=math.inf)
        best: tuple[float, WallSteel] | None = None
        for ties in ties_of(rule, steel.ends, self.parts[0].member.of.cover, t):
            if ties.spacing > max(apart, rule.spacings[0]):
                continue
            tried = replace(steel, ties=ties)
            found = use(tried)
            if best is None or found < best[0]:
                best = found, tried
            if found <= HELD:
                return tried
        return best[1] if best is not None else bare


def _fixed(e: CheckedEnd) -> set[str]:
    """Checks of an end that no bars mend."""
    return {c.name for c in e.need.limits if not str(c.note).startswith("more bars")} if e.need is not None else set()


def _length(c: CheckedPart) -> float:
    """Length of the boundary elements of a part [mm], 0 of one without ties."""
    s = c.steel
    return s.ends.length if isinstance(s, WallSteel) and s.ends is not None and s.ties is not None else 0.0
