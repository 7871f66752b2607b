"""Bars of walls, piers and lintels chosen within a rule: least steel that passes all checks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from sandwich.design.bar_sets import BarRule, ParallelBars, arrangements
from sandwich.design.walls.bars import BarGroup, LintelSteel, WallSteel, end_groups, mass
from sandwich.design.walls.checks import (
    BENDING,
    ROOM,
    SEISMIC,
    PartCheck,
    PartMaterials,
    Strengths,
    check_lintel,
    check_wall,
    lintel_part,
    wall_part,
)
from sandwich.design.walls.demands import Acting, Demand, by_situation
from sandwich.design.walls.geometry import ACROSS, PartGeometry, sheared
from sandwich.standards.interface import Standard, WallPart

T = TypeVar("T")
Floats = NDArray[np.float64]
LEVER: Final = 0.8  # of the length, between the forces of the couple of both ends
HELD: Final = 1.0 + 1e-9


class Member:
    """One part with its demands, checked at any bars."""

    def __init__(
        self, geometry: PartGeometry, of: PartMaterials, standard: Standard, strengths: Strengths, demand: Demand,
        situations: NDArray[np.object_], stations: int, *, rays: bool = True,
    ) -> None:  # fmt: skip
        self.geometry, self.of, self.standard, self.strengths = geometry, of, standard, strengths
        self.demand, self.situations, self.stations = demand, situations, stations
        self.rays = rays
        self._checked: dict[tuple[WallSteel | LintelSteel, bool], list[PartCheck]] = {}

    def checks(self, steel: WallSteel | LintelSteel, *, exact: bool = True) -> list[PartCheck]:
        """All its checks at some bars; see `check_wall`."""
        key = steel, exact
        if key not in self._checked:
            common = (self.geometry, steel, self.of, self.standard, self.strengths, self.by_situation)
            if isinstance(steel, LintelSteel):
                self._checked[key] = check_lintel(*common, exact=exact, rays=self.rays)  # type: ignore[arg-type]
            else:
                self._checked[key] = check_wall(*common, self.stations, exact=exact, rays=self.rays)  # type: ignore[arg-type]
        return self._checked[key]

    def holds(self, steel: WallSteel | LintelSteel) -> bool:
        """Whether all checks pass that vertical bars, or chords, mend."""
        return all(c.utilisation <= HELD for c in self.checks(steel, exact=False) if c.name not in UNMENDED)

    @cached_property
    def by_situation(self) -> list[Acting]:
        """Demands by situation."""
        return by_situation(self.demand, self.situations)


UNMENDED: Final = (  # what vertical bars do not change, or make worse
    "struts of the shear", "curtains", "slenderness", "second order", "shear in plane", "minimum horizontal",
    "spacing horizontal", ROOM, f"struts of the shear{ACROSS}", f"shear{ACROSS}",
)  # fmt: skip


def choose_wall(
    members: Sequence[Member], rule: BarRule, given: WallSteel | None, *, fixed: tuple[bool, bool, bool], ends: bool
) -> tuple[WallSteel, str]:
    """The least steel with which all members pass, and what decided.

    Parameters
    ----------
    members : sequence of Member
        Parts that get the same bars.
    rule : BarRule
        Bars that may be chosen.
    given : WallSteel, optional
        Bars that are given where `fixed` says so.
    fixed : tuple of bool
        Whether vertical, horizontal and end bars are given.
    ends : bool
        Whether bars at the ends may be chosen.

    Returns
    -------
    WallSteel, str
        The bars, and the check that decided; the most of the rule where nothing passes.
    """
    options = arrangements(rule)
    steel = given or WallSteel(options[0], options[0])
    if not fixed[0]:
        steel = replace(steel, vertical=_by_minimum(members, options, steel))
    for _ in range(2):  # the minimum of horizontal bars may follow the vertical ones, and the other way round
        if not fixed[1]:
            steel = replace(steel, horizontal=_horizontal(members, options, steel))
        if not fixed[0] or (ends and not fixed[2]):
            steel = _vertical(members, options, rule, steel, fixed=fixed, ends=ends)
    return steel, decided(members, steel)


def decided(members: Sequence[Member], steel: WallSteel | LintelSteel) -> str:
    """The check with the largest utilisation among all members."""
    rows = [c for m in members for c in m.checks(steel)]
    return max(rows, key=lambda c: c.utilisation).name if rows else ""


def _by_minimum(members: Sequence[Member], options: list[ParallelBars], steel: WallSteel) -> ParallelBars:
    """The least vertical bars that the minimum and the spacing ask for."""
    names = "minimum vertical", "spacing vertical"
    tried = (replace(steel, vertical=o) for o in options)
    found = next((t for t in tried if all(steel_holds(m, t, names) for m in members)), None)
    return found.vertical if found is not None else options[-1]


def steel_holds(member: Member, steel: WallSteel, names: tuple[str, ...]) -> bool:
    """Whether checks of the steel alone hold, those of some names."""
    for situation, _, d in member.by_situation:
        part = wall_part(member.geometry, steel, member.of, situation)
        for of in sheared(member.geometry, part, d):
            rows = member.standard.wall_steel(of.part, of.V, of.N)
            if any(c.utilisation.max() > HELD for c in rows if c.name in names):
                return False
    return True


def _web(
    members: Sequence[Member], options: list[ParallelBars], tried: Callable[[Member, ParallelBars, str], WallPart],
    names: tuple[str, str], carried: str = "",
) -> ParallelBars:  # fmt: skip
    """The least bars for shear that hold the checks of some names as well; `tried` has a member with an option.

    Demands of the situation `carried` are carried by other bars.
    """

    def enough(m: Member, option: ParallelBars) -> bool:
        for situation, _, d in m.by_situation:
            if situation == carried:
                continue
            part = tried(m, option, situation)
            for of in sheared(m.geometry, part, d):
                need = m.standard.shear_steel(of.part, of.V, of.N)
                # no steel helps struts that crush: a check tells
                most = float(need[np.isfinite(need)].max(initial=0.0))
                rows = [c for c in m.standard.wall_steel(of.part, of.V, of.N) if c.name in names]
                if part.along < most * (1.0 - 1e-9) or any(c.utilisation.max() > HELD for c in rows):
                    return False
        return True

    return next((o for o in options if all(enough(m, o) for m in members)), options[-1])


def _horizontal(members: Sequence[Member], options: list[ParallelBars], steel: WallSteel) -> ParallelBars:
    def tried(m: Member, option: ParallelBars, situation: str) -> WallPart:
        return wall_part(m.geometry, replace(steel, horizontal=option), m.of, situation)

    return _web(members, options, tried, ("minimum horizontal", "spacing horizontal"))


def _first(options: Sequence[T], passes: Callable[[T], bool]) -> T | None:
    """The first option that passes, where more steel never fails what less passes; None if the last one fails."""
    if not options or not passes(options[-1]):
        return None
    low, high = 0, len(options) - 1
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if passes(options[middle]) else (middle + 1, high)
    return options[low]


def _vertical(
    members: Sequence[Member], options: list[ParallelBars], rule: BarRule, steel: WallSteel,
    *, fixed: tuple[bool, bool, bool], ends: bool,
) -> WallSteel:  # fmt: skip
    """Uniform bars, or the least web bars with bars at the ends: what weighs less."""

    def passes(tried: WallSteel) -> bool:
        return all(m.holds(tried) for m in members)

    if passes(steel):
        return steel
    found = []
    web = [o for o in options if o.area >= steel.vertical.area * (1.0 - 1e-9)]
    if not fixed[0]:
        uniform = _first([replace(steel, vertical=o) for o in web], passes)
        found += [uniform] if uniform is not None else []
    length = min(m.geometry.length for m in members)
    if ends and not fixed[2]:
        curtains = members[0].of.cover.curtains
        couple = max(_couple(m, steel) for m in members)
        # without a couple it is bending out of the plane that asks for more, which bars all along carry
        groups = list(end_groups(rule, length, curtains)) if couple > 0.0 else []
        start = [g for g in groups if g.area >= 0.5 * couple] or groups[-1:]
        concentrated = _first([replace(steel, ends=g) for g in start], passes)
        found += [concentrated] if concentrated is not None else []
    if not found:
        return replace(steel, vertical=web[-1]) if not fixed[0] else steel
    return min(
        found,
        key=lambda s: sum(
            mass(m.geometry.length, m.geometry.height, m.geometry.thickness, s, m.of.cover) for m in members
        ),
    )


def _couple(member: Member, steel: WallSteel) -> float:
    """Area at an end for the couple of tension and compression, beside half of the axial force [mm2]."""
    d, g = member.demand, member.geometry
    f_y = min(
        member.standard.member_law(member.of.concrete, member.of.steel, s).steel.strength
        for s, *_ in member.by_situation
    )
    web = member.of.cover.curtains * steel.vertical.area * g.length / 2.0
    force = np.abs(d.M) / (LEVER * g.length) + d.N / 2.0
    return max(float(force.max()) / f_y - web, 0.0)


def choose_lintel(
    members: Sequence[Member], rule: BarRule, given: LintelSteel | None, fixed: tuple[bool, bool]
) -> tuple[LintelSteel, str]:
    """The least chords and links with which all lintels pass, and what decided; `fixed` says which are given."""
    options = arrangements(rule)
    groups = sorted(
        (BarGroup(n, d, 0.0) for d in rule.diameters for n in (2, 4, 6, 8)), key=lambda g: (g.area, g.count)
    )
    steel = given or LintelSteel(groups[0], options[0])
    if not fixed[1]:
        steel = replace(steel, links=_links(members, options, steel))
    if not fixed[0]:
        found = _first([replace(steel, chords=g) for g in groups], lambda s: all(_bends(m, s) for m in members))
        steel = found or replace(steel, chords=groups[-1])
    if not fixed[1]:
        steel = replace(steel, links=_links(members, options, steel))
    return steel, decided(members, steel)


def _bends(member: Member, steel: LintelSteel) -> bool:
    return all(c.utilisation <= HELD for c in member.checks(steel, exact=False) if c.name in (BENDING, "minimum chord"))


def _links(members: Sequence[Member], options: list[ParallelBars], steel: LintelSteel) -> ParallelBars:
    carried = SEISMIC if steel.diagonals is not None else ""

    def tried(m: Member, option: ParallelBars, situation: str) -> WallPart:
        return lintel_part(m.geometry, replace(steel, links=option), m.of, situation)

    return _web(members, options, tried, ("minimum links", "spacing of links"), carried)
