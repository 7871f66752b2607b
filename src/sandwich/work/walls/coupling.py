"""Coupling beams of seismic walls: their demands, whether they have to have diagonals, their bars and checks."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from sandwich.design.bar_sets import BarRule, ParallelBars, arrangements
from sandwich.design.walls.bars import BarGroup, Diagonals, LintelSteel
from sandwich.design.walls.checks import SEISMIC
from sandwich.design.walls.choice import choose_lintel
from sandwich.design.walls.coupling import ROOM, beam_checks
from sandwich.design.walls.ends import HELD, EndCheck, worst_of
from sandwich.job.walls import Seismic, WallBars
from sandwich.model.walls.parts import Kind
from sandwich.project.project import Project
from sandwich.standards.interface import CouplingNeed, LaidDiagonals, SeismicWalls
from sandwich.work.walls.beam_anchorage import BeamAnchorage, beam_anchorages
from sandwich.work.walls.checks import CheckedPart, given_bars
from sandwich.work.walls.dynamic import lasting
from sandwich.work.walls.ends import demand_of
from sandwich.work.walls.stations import WallCuts

PAIRS: Final = (2, 4, 6)
COUNTS: Final = (4, 6, 8)
BY_TIES: Final = (
    "spacing of ties", "legs of ties", "ties upright", "ties level", "diameter of ties", "bars round the diagonals",
    "bars at the faces", "spacing of links", ROOM,
)  # fmt: skip


@dataclass(frozen=True)
class CheckedBeam:
    """One coupling beam with its checks."""

    part: CheckedPart
    steel: LintelSteel
    need: CouplingNeed
    laid: LaidDiagonals | None
    checks: tuple[EndCheck, ...]
    V: float
    combination: str
    anchored: tuple[BeamAnchorage, ...]

    @property
    def worst(self) -> EndCheck:
        """The check with the largest utilisation."""
        return max(self.checks, key=lambda c: c.check.utilisation)


class CouplingBeams:
    """Lintels of seismic walls that seismic combinations act on."""

    def __init__(self, project: Project, cuts: WallCuts, parts: list[CheckedPart], standard: SeismicWalls) -> None:
        self.project, self.cuts, self.standard = project, cuts, standard
        self.parts = {c.part.full_name: c for c in parts if self._counts(c)}
        uprights = [c.part for c in parts if c.part.kind.upright]
        self._h_w = max((p.high for p in uprights), default=1.0) - min((p.low for p in uprights), default=0.0)
        self._lasting = lasting(project, cuts)
        spans: dict[str, dict[str, float]] = {}
        for c in self.parts.values():
            levels = spans.setdefault(c.part.wall, {})
            levels[c.part.storey] = max(levels.get(c.part.storey, 0.0), c.geometry.height / c.geometry.length)
        self._spans = {wall: tuple(held.values()) for wall, held in spans.items()}

    def _counts(self, c: CheckedPart) -> bool:
        d = c.member.demand
        acts = bool((c.member.situations[d.combination] == SEISMIC).any())
        asked = self.project.job.walls[c.part.wall].seismic is not None
        # a parapet stands on what is under it and couples nothing
        return c.part.kind is Kind.LINTEL and isinstance(c.steel, LintelSteel) and asked and acts

    def asked(self, c: CheckedPart) -> Seismic:
        """Seismic design of the wall of a part."""
        return self.project.job.walls[c.part.wall].seismic or Seismic()

    def forces(self, c: CheckedPart) -> tuple[float, float, str]:
        """Largest shear of seismic combinations, what other cases give of it [N], and the combination."""
        d = c.member.demand
        mine = np.flatnonzero(c.member.situations[d.combination] == SEISMIC)
        i = int(mine[np.argmax(d.V[mine])])
        row = self.cuts.rows[d.combination[i]]
        factors = np.array([row.factors.get(n, 0.0) for n in self.cuts.case_names])
        own = c.stations[d.station[i]].cases[:, 1]
        return float(d.V[i]), abs(float((factors * own)[self._lasting].sum())), row.name

    def all(self) -> list[CheckedBeam]:
        """All of them at their own bars."""
        return [self.of(c, c.steel) for c in self.parts.values() if isinstance(c.steel, LintelSteel)]

    def of(self, c: CheckedPart, steel: LintelSteel) -> CheckedBeam:
        """A coupling beam at some bars."""
        V, V_g, name = self.forces(c)
        need, laid, checks = beam_checks(
            self.standard, c.geometry, steel, c.member.of, (V, V_g), demand_of(self.asked(c), self._h_w),
            self._spans.get(c.part.wall, ()),
        )  # fmt: skip
        anchored = beam_anchorages(self.standard, self.project.standard, c, steel)
        checks += [a.check for a in anchored]
        return CheckedBeam(
            part=c, steel=steel, need=need, laid=laid, checks=tuple(checks), V=V, combination=name, anchored=anchored,
        )  # fmt: skip

    def chosen(self, group: list[CheckedPart], first: LintelSteel) -> LintelSteel:
        """Bars with which all lintels of a group pass: links for hinges at their ends, or diagonals."""
        given = given_bars(group[0].wall.asked, group[0].part) or WallBars()
        if given.diagonals is not None or first.diagonals is not None:
            return first
        plain = first if given.links is not None else self._with_links(group, first, chords=given.chords is None)
        found = [self.of(c, plain) for c in group]
        required = any(b.need.required for b in found)
        holds = self._holds(group, plain) and all(self._carries(c, plain) for c in group)
        if not required and (holds or not all(b.need.allowed for b in found)):
            return plain
        crossed = self._with_diagonals(group, first, given)
        if required or (self._holds(group, crossed) and all(self._carries(c, crossed) for c in group)):
            return crossed
        return plain

    def _holds(self, group: list[CheckedPart], steel: LintelSteel, names: tuple[str, ...] | None = None) -> bool:
        """Whether all lintels of a group pass, or those of their checks that are named."""
        checks = (k.check for c in group for k in self.of(c, steel).checks)
        return all(k.utilisation <= HELD for k in checks if names is None or k.name in names)

    @staticmethod
    def _carries(c: CheckedPart, steel: LintelSteel) -> bool:
        return all(k.utilisation <= HELD for k in c.member.checks(steel, exact=False))

    def _rules(self, c: CheckedPart) -> tuple[BarRule, BarRule]:
        """Bars of the wall, and ties of its seismic design, that may be chosen."""
        own, ties = c.wall.asked.rule, self.asked(c).ties
        return BarRule(own.diameters, own.spacings), BarRule(ties.diameters, ties.spacings)

    def _with_links(self, group: list[CheckedPart], steel: LintelSteel, *, chords: bool) -> LintelSteel:
        """The least links that hold the hinges; those of the ties may stand closer than those of the wall.

        Thicker chords let them stand further apart, thinner ones find room in the walls: both together weigh least.
        """
        if self._holds(group, steel):
            return steel
        rules, g = self._rules(group[0]), group[0].geometry
        links = [o for rule in rules for o in arrangements(rule) if o.area >= steel.links.area]
        links = sorted(dict.fromkeys(links), key=lambda o: (o.area, -o.spacing))
        own = steel.chords
        others = [BarGroup(n, d, own.length) for d in rules[0].diameters for n in PAIRS] * chords
        best: tuple[float, LintelSteel] | None = None
        for chord in [own, *sorted((o for o in others if own.area < o.area), key=lambda o: o.area)]:
            if best is not None and 2.0 * chord.area >= best[0]:
                break
            tried = (replace(steel, chords=chord, links=o) for o in links)
            found = next((t for t in tried if self._holds(group, t)), None)
            if found is not None and all(self._carries(c, found) for c in group):
                weight = 2.0 * chord.area + found.links.area * 2.0 * (g.length + g.thickness)
                best = min(best or (math.inf, found), (weight, found), key=lambda b: b[0])
        return best[1] if best is not None else replace(steel, links=links[-1] if links else steel.links)

    def _with_diagonals(self, group: list[CheckedPart], steel: LintelSteel, given: WallBars) -> LintelSteel:
        """The least diagonals that hold, then their ties; what comes nearest where none does."""
        rule, ties = self._rules(group[0])
        whole = self.standard.ties_all_round and self.asked(group[0]).ties_round == "beam"
        options = sorted((Diagonals(n, d) for d in rule.diameters for n in COUNTS), key=lambda o: (o.area, o.count))
        best: tuple[float, LintelSteel] | None = None
        for own in options:
            with_own = replace(steel, diagonals=own)
            if given.links is None:  # the links that the other situations need
                with_own, _ = choose_lintel(
                    [c.member for c in group], rule, with_own, (given.chords is not None, False)
                )  # fmt: skip
            tried = self._tied(group, with_own, own, ties, whole=whole, fixed=given.links is not None)
            use = worst_of([k for c in group for k in self.of(c, tried).checks])
            if best is None or use < best[0]:
                best = use, tried
            if use <= HELD:
                return tried
        return best[1] if best is not None else steel

    def _tied(
        self, group: list[CheckedPart], steel: LintelSteel, own: Diagonals, rule: BarRule, *, whole: bool, fixed: bool,
    ) -> LintelSteel:  # fmt: skip
        """Bars with the least ties that pass, with the most where none does or ties cannot mend what fails."""
        ties = sorted(arrangements(rule), key=lambda o: (o.area, -o.spacing))

        def with_ties(o: ParallelBars) -> LintelSteel:
            if whole:
                return steel if fixed else replace(steel, links=o)
            return replace(steel, diagonals=replace(own, ties=o))

        most = with_ties(ties[-1])
        fails = [k for c in group for k in self.of(c, most).checks if k.check.name not in BY_TIES]
        if worst_of(fails) > HELD:
            return most
        if not whole and not fixed:
            options = [replace(steel, links=o) for o in arrangements(rule) if o.area >= steel.links.area]
            faces = ("bars round the diagonals", "bars at the faces", "spacing of links")
            probe = (replace(s, diagonals=replace(own, ties=ties[-1])) for s in (steel, *options))
            steel = next((s for s in probe if self._holds(group, s, faces)), steel)
        tried = [with_ties(o) for o in ties if not whole or o.area >= steel.links.area]
        return next((t for t in tried if self._holds(group, t, BY_TIES)), most)


def beams_of(project: Project, cuts: WallCuts, parts: list[CheckedPart]) -> list[CheckedBeam]:
    """All coupling beams of seismic walls."""
    if not isinstance(project.standard, SeismicWalls):
        return []
    beams = CouplingBeams(project, cuts, parts, project.standard)
    return beams.all()
