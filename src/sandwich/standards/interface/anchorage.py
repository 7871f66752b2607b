"""Anchorage, laps and ends of bars."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple, Protocol

from sandwich.core.section import Concrete, Steel


class Length(NamedTuple):
    """A length [mm] and the clause it follows."""

    value: float
    clause: str


@dataclass(frozen=True)
class AnchoredBar:
    """A bar at its full design stress.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    diameter : float
        Of the bar [mm].
    cover : float
        Clear cover of the bar [mm].
    clear : float
        Clear distance to the next bar [mm].
    good : bool
        Whether bond conditions are good: no more than 300 mm of fresh concrete below, or an upright bar.
    ties : float
        Area of ties that cross its splitting plane, over their spacing and the number of bars [mm].
    share : float
        Part of the bars that are lapped at one place [-].
    tension : bool
        Whether the bar may pull.
    yields : bool
        Whether it is likely to yield there under an earthquake.
    clamps : bool
        Whether it crosses construction joints of a large lightly reinforced wall.
    """

    concrete: Concrete
    steel: Steel
    diameter: float
    cover: float
    clear: float
    good: bool = True
    ties: float = 0.0
    share: float = 1.0
    tension: bool = True
    yields: bool = False
    clamps: bool = False


@dataclass(frozen=True)
class EndedBars:
    """Vertical bars of a wall that end above a floor, where fewer are required.

    Attributes
    ----------
    anchorage : float
        Their anchorage length [mm].
    diameter : float
        Of the bars [mm].
    l_w : float
        Length of the wall [mm].
    cot_theta : float
        Of the struts of its shear [-].
    h_next : float
        Height of the storey above the floor [mm].
    seismic : bool
        Whether the wall has a seismic design.
    """

    anchorage: float
    diameter: float
    l_w: float
    cot_theta: float
    h_next: float
    seismic: bool


@dataclass(frozen=True)
class LappedEnd:
    """Lapped bars at an end of a seismic wall.

    Attributes
    ----------
    diameter, d_tie : float
        Of the bars and of the ties that lie there, 0 without [mm].
    f_yk : float
        Yield strength of both [MPa].
    t : float
        Thickness of the wall [mm].
    """

    diameter: float
    d_tie: float
    f_yk: float
    t: float


@dataclass(frozen=True)
class LapTies:
    """Ties over a lap: minimum diameter, largest spacing [mm], their clause."""

    diameter: float
    spacing: float
    clause: str


class Bend(NamedTuple):
    """Diameter of the mandrel and straight length past the last bend [mm], with their clauses.

    `inside` is the least diameter of a bar inside the bend with which this mandrel holds [mm], 0 of no rule.
    """

    mandrel: float
    tail: float
    clause: str
    inside: float = 0.0


class Anchorage(Protocol):
    """Lengths of bars beyond the places where they are wanted, and their bends."""

    def bend(self, diameter: float, past: float = 0.0) -> Bend:
        """Bend of 90 degrees of a bar of a diameter that is to be anchored over a length past its end [mm]."""

    def bend_at_face(self, bar: AnchoredBar, past: float) -> Bend:
        """The same of a bar in a plane close to a face, where no bar inside the bend helps."""

    def edge_leg(self, h: float) -> Length:
        """Legs of U-bars at the free edge of a slab or wall of a thickness [mm]."""

    def tie_bend(self, diameter: float, *, seismic: bool) -> Bend:
        """Bends of a link or tie of a diameter [mm], hooks of 135 degrees at its ends."""

    def anchorage(self, bar: AnchoredBar) -> Length:
        """Of a straight bar."""

    def hook(self, bar: AnchoredBar) -> Length:
        """Of a bar in tension with a bend or hook, to its outside."""

    def lap(self, bar: AnchoredBar) -> Length:
        """Of bars side by side."""

    def extension(self, bars: EndedBars) -> Length:
        """How far bars go above the floor from which they are no longer required."""

    def lap_ties(self, end: LappedEnd) -> LapTies | None:
        """Ties over the laps of bars at the ends of seismic walls, None of no rule."""

    def beyond(self, bar: AnchoredBar, d: float, cot_theta: float | None) -> Length:
        """How far bars of a slab go past the place from which they are no longer required.

        Effective depth [mm]; of the struts where there are links, None where there are none.
        """

    def no_lap_below(self, bar: AnchoredBar) -> Length:
        """Length below the base of a seismic wall within which bars at ends are not lapped, 0 of no rule."""

    def no_lap(self, l_w: float, h_w: float, h_s: float) -> Length:
        """Height above the base within which bars at the ends of seismic walls are not lapped, 0 of no rule.

        Length and height of the wall, height of its lowest storey [mm].
        """
