"""Ends of seismic walls: bars and ties that lie there, their checks, and the least that pass."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np

from sandwich.core.shown import Measure, Sentence, Words
from sandwich.design.bar_sets import BarRule
from sandwich.design.walls.bars import BarGroup, Cover, Ties, WallSteel, place_wall
from sandwich.design.walls.checks import NONE, PartCheck, governs
from sandwich.standards.interface import BoundaryNeed, LaidEnd, MemberCheck
from sandwich.standards.interface.seismic_names import ACROSS, ALONG, BARS, HELD_BARS, LENGTH, SPACING, TIE, TIES

HELD: Final = 1.0 + 1e-9
STEP: Final = 50.0  # mm, of the length of a boundary element
MORE: Final = 3  # rows of bars past the fewest that are tried
APART: Final = 75.0  # mm between rows, at least
BY_TIES: Final = (TIES, ACROSS, ALONG, SPACING, TIE)  # what ties mend; rows of bars mend the distance too


@dataclass(frozen=True)
class EndCheck:
    """One check of an end, with what would do where it fails."""

    check: PartCheck
    remedy: Words


def laid_end(length: float, thickness: float, steel: WallSteel, cover: Cover, within: float) -> LaidEnd:
    """Bars and ties at an end of a section; without bars of its own the end has those of the web within a length.

    Parameters
    ----------
    length, thickness : float
        Of the section [mm].
    steel, cover : WallSteel, Cover
        Its bars.
    within : float
        Length that counts where no bars are laid at the ends [mm].
    """
    ties = steel.ties
    rows, layers, diameters = _rows(length, thickness, bars_alone(steel), cover, within)
    return LaidEnd(
        length=min(steel.ends.length, length / 2.0) if steel.ends is not None else 0.0, rows=rows, layers=layers,
        diameters=diameters, d_tie=ties.diameter if ties is not None else 0.0,
        spacing=ties.spacing if ties is not None else 0.0, across=ties.across if ties is not None else 0,
        along=ties.along if ties is not None else 0, cover=cover.cover,
    )  # fmt: skip


def bars_alone(steel: WallSteel) -> WallSteel:
    """Bars as bending sees them: of the ties the diameter alone."""
    return steel if steel.ties is None else replace(steel, ties=Ties(steel.ties.diameter, 1.0, 1))


@lru_cache(maxsize=4096)
def _rows(
    length: float, thickness: float, steel: WallSteel, cover: Cover, within: float
) -> tuple[tuple[tuple[float, float], ...], tuple[float, ...], tuple[float, float]]:
    """Rows of bars with their areas, places over the thickness, thinnest and thickest diameter."""
    placed = place_wall(length, thickness, steel, cover)
    reach = min(steel.ends.length if steel.ends is not None else within, length / 2.0) + 0.5
    here = placed.places[:, 0] <= reach
    x, areas, thin = placed.places[here, 0].round(3), placed.areas[here], placed.diameters[here]
    rows = tuple((float(at), float(areas[x == at].sum())) for at in np.unique(x))
    first = placed.places[here][x == x.min(), 1] if here.any() else np.empty(0)
    return rows, tuple(map(float, np.sort(first))), (float(thin.min(initial=np.inf)), float(thin.max(initial=0.0)))


def end_checks(need: BoundaryNeed, laid: LaidEnd, l_w: float, t: float, *, by_volume: bool) -> list[EndCheck]:
    """What an end needs held against what lies there, each with what would do.

    Parameters
    ----------
    need : BoundaryNeed
        What the standard asks for.
    laid : LaidEnd
        What lies there.
    l_w, t : float
        Length of the wall and thickness of the end [mm].
    by_volume : bool
        Whether ties count by their volume in the core between their axes, or each way in that to their outsides.
    """
    out = [EndCheck(governs(c), c.note) for c in need.limits]

    def add(name: str, demand: float, capacity: float, unit: str, remedy: Words) -> None:
        check = MemberCheck(name, need.clauses.get(name, need.clause), np.array([demand]), np.array([capacity]), unit)
        out.append(EndCheck(replace(governs(check), index=NONE), remedy))

    if need.needed:
        # from the axis of the ties, or from the edge
        reach = (laid.reach - laid.d_tie if by_volume else laid.reach + laid.cover) if laid.length else 0.0
        whole = laid.length >= l_w / 2.0 - 0.5  # both meet: all of the section is confined
        over = Sentence.minimum("bars at the ends over {}", math.ceil(need.length / STEP) * STEP)
        add(LENGTH, min(need.length, reach) if whole else need.length, reach, "mm", over)
    if need.rho:
        area = need.rho * need.rho_length * t
        provided = 100.0 * laid.area(need.rho_length) / (need.rho_length * t)
        more = Sentence("{} within {} of the edge", Measure(area, "mm2", ".0f"), Measure(need.rho_length, "mm", ".0f"))
        add(BARS, 100.0 * need.rho, provided, "%", more)
    if math.isfinite(need.ties):
        _tie_ratios(need, laid, t, add, by_volume=by_volume)
    if math.isfinite(need.spacing):
        # no ties stand for ties as far apart as one likes
        spacing = laid.spacing if laid.tied else math.inf
        add(SPACING, spacing, need.spacing, "mm", Sentence.maximum("ties at {}", need.spacing))
        add(HELD_BARS, laid.apart, need.held, "mm", Sentence.maximum("bars with legs of ties at {}", need.held))
        add(TIE, need.d_tie, laid.d_tie, "mm", Sentence("ties of {}", Measure(need.d_tie, "mm", ".3g")))
    return out


def _tie_ratios(
    need: BoundaryNeed, laid: LaidEnd, t: float, add: Callable[[str, float, float, str, str], None], *, by_volume: bool
) -> None:
    inside = laid.d_tie if by_volume else 0.0
    wide, long = t - 2.0 * laid.cover - inside, laid.reach - inside
    area = math.pi * laid.d_tie**2 / 4.0
    ratio = {
        name: 100.0 * legs * area / (laid.spacing * core) if laid.tied and core > 0.0 else 0.0
        for name, legs, core in ((ACROSS, laid.across, long), (ALONG, laid.along, wide))
    }
    if by_volume:
        add(TIES, 200.0 * need.ties, sum(ratio.values()), "%", f"{200.0 * need.ties:.2f} % of ties by volume")
        return
    for name in (ACROSS, ALONG):
        add(name, 100.0 * need.ties, ratio[name], "%", f"{100.0 * need.ties:.2f} % of ties, or more legs of them")


def worst_of(checks: Sequence[EndCheck]) -> float:
    """Largest utilisation of some checks, 0 of none."""
    return max((c.check.utilisation for c in checks), default=0.0)


def groups_of(rule: BarRule, length: float, t: float, cover: Cover, least: WallSteel, apart: float) -> list[BarGroup]:
    """Bars that may stand in a boundary element, by rising area.

    Rows no further apart than ties hold, over the thickness in as many layers as that distance asks for.
    """
    out = []
    for d in rule.diameters:
        if d < least.vertical.diameter:
            continue
        outer = max(least.horizontal.diameter, least.ties.diameter if least.ties is not None else 0.0)
        edge = cover.depth(d, outer)
        layers = max(2, cover.curtains, math.ceil((t - 2.0 * edge) / apart - 1e-6) + 1)
        between = max(length - d - edge, 0.0)
        fewest = math.ceil(between / apart - 1e-6) + 1
        least_rows = max(fewest, 2)
        out += [
            BarGroup(rows * layers, d, length, 0 if layers == cover.curtains else layers)
            for rows in range(least_rows, least_rows + MORE)
            if rows == least_rows or between / (rows - 1) >= APART
        ]
    floor = 0.0 if least.ends is None else least.ends.area
    return sorted((g for g in out if g.area >= floor * (1.0 - 1e-9)), key=lambda g: g.area)


def steel_of(ties: Ties, group: BarGroup, t: float) -> float:
    """Volume of the ties of an end over its height [mm2]."""
    return ties.leg / ties.spacing * (ties.across * t + ties.along * group.length)


def ties_of(rule: BarRule, group: BarGroup, cover: Cover, t: float) -> Iterator[Ties]:
    """Ties of a boundary element of a thickness [mm] with a leg at every bar, the least steel first."""
    layers = group.layers or cover.curtains
    rows = math.ceil(group.count / layers)
    found = [Ties(d, s, rows, max(layers, 2)) for d in rule.diameters for s in rule.spacings]
    yield from sorted(found, key=lambda o: (steel_of(o, group, t), -o.spacing))


def rounded(length: float, l_w: float) -> float:
    """A length of boundary elements as it is laid [mm]."""
    return min(math.ceil(length / STEP - 1e-6) * STEP, l_w / 2.0)
