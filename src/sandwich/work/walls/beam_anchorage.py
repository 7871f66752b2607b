"""Bars of coupling beams beyond the faces of the walls beside them: how long, straight or bent, and the room there."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from sandwich.core.trace import about
from sandwich.design.walls.bars import LintelSteel, place_lintel
from sandwich.design.walls.checks import NONE, governs
from sandwich.design.walls.coupling import CLEAR
from sandwich.design.walls.ends import EndCheck
from sandwich.standards.interface import Anchorage, AnchoredBar, Bend, Length, SeismicWalls
from sandwich.standards.interface.seismic_names import BESIDE_DIAGONALS, CHORDS, DIAGONALS, one_check
from sandwich.work.walls.checks import CheckedPart

BESIDE: Final = 20.0  # mm between a lintel and a part beside it
BEND: Final = 5.0  # diameters from the face to the outside of a bend
CHECK: Final = "anchorage in the walls"
STRAIGHT, BENT = "straight", "bent"


@dataclass(frozen=True)
class BeamAnchorage:
    """Anchorage of one kind of bars of a coupling beam, bent or headed where the wall beside is too short.

    `takes` is what it takes of the wall, `room` what there is [mm]; `bend` that of bars that are bent.
    """

    which: str
    length: Length
    how: str
    takes: float
    room: float
    bend: Bend | None = None

    @property
    def check(self) -> EndCheck:
        """Whether it finds room in the walls."""
        note = f"thinner {self.which}, or a longer wall beside it"
        check = one_check(CHECK, self.length.clause, self.takes, self.room, "mm", note)
        return EndCheck(replace(governs(check), index=NONE), note)


def room_beside(c: CheckedPart) -> float:
    """Length of the shorter wall or pier beside a lintel, less its cover [mm]; inf where panels meet instead."""
    p = c.part
    beside = [
        o.width for o in c.wall.parts
        if o.kind.upright and o.panel == p.panel and o.low < p.high - BESIDE and o.high > p.low + BESIDE
        and min(abs(o.a - p.b), abs(o.b - p.a)) < BESIDE
    ]  # fmt: skip
    return min(beside) - c.member.of.cover.cover if len(beside) == 2 else math.inf


def beam_anchorages(
    standard: SeismicWalls, bends: Anchorage, c: CheckedPart, steel: LintelSteel
) -> tuple[BeamAnchorage, ...]:
    """Anchorage of the chords of a lintel, and of its diagonals where it has some."""
    room, of, inside = room_beside(c), c.member.of, c.member.of.cover.cover + steel.links.diameter
    at = place_lintel(c.geometry.length, c.geometry.thickness, steel, of.cover).places
    d = steel.chords.diameter
    apart = np.linalg.norm(at[:, None] - at, axis=-1)
    bars = [(CHORDS, d, float(apart[apart > 1e-6].min()) - d)]
    if steel.diagonals is not None:
        bars.append((DIAGONALS, steel.diagonals.diameter, CLEAR))
    out = []
    for which, diameter, clear in bars:
        bar = AnchoredBar(
            concrete=of.concrete, steel=of.steel, diameter=diameter, cover=inside, clear=max(clear, 0.0), good=False,
        )  # fmt: skip
        kind = BESIDE_DIAGONALS if which == CHORDS and steel.diagonals is not None else which
        with about(which):
            found = standard.coupling_anchorages(bar, kind)

        ways = [_way(standard, bends, bar, how, length) for how, length in found.items() if math.isfinite(length.value)]
        how, length, need, bend = next((w for w in ways if w[2] <= room), min(ways, key=lambda w: w[2]))
        out.append(BeamAnchorage(which, length, how, need, room, bend=bend))
    return tuple(out)


def _way(
    standard: SeismicWalls, bends: Anchorage, bar: AnchoredBar, how: str, length: Length
) -> tuple[str, Length, float, Bend | None]:
    """One way of anchorage, what it takes of the wall [mm], and the bend of a bent bar."""
    if how != BENT:
        return how, length, length.value, None
    straight = BEND * bar.diameter
    bend = bends.bend_at_face(bar, length.value - straight if standard.bends_count else 0.0)
    if not standard.bends_count:
        return how, length, length.value, bend
    takes = bend.mandrel / 2.0 + bar.diameter
    if takes <= straight:
        return how, length, straight, bend
    return how, Length(length.value, f"{length.clause}; {bend.clause}"), takes, bend
