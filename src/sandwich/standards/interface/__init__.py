"""What the design asks of any standard, by subject; a standard is all of them together.

What only some standards have is a protocol of its own, such as `Tightness`: whoever needs it asks whether the standard
is one.
"""

from __future__ import annotations

from typing import Protocol

from sandwich.standards.interface.anchorage import Anchorage, AnchoredBar, Bend, EndedBars, LappedEnd, LapTies, Length
from sandwich.standards.interface.building import BuildingDemand, Buildings, Sway
from sandwich.standards.interface.columns import ColumnBars, Near, SlabJoint, Through
from sandwich.standards.interface.coupling import CouplingBeam, CouplingNeed, LaidDiagonals
from sandwich.standards.interface.durability import CoverDemand, CoverNeed, Durability, FireDemand, FireNeed
from sandwich.standards.interface.materials import Materials, ServiceSituation, Situation, Strengths
from sandwich.standards.interface.member import Member, MemberLaw
from sandwich.standards.interface.minimum import Minimum
from sandwich.standards.interface.punching import Punching
from sandwich.standards.interface.seismic import (
    BoundaryNeed,
    DynamicAxial,
    LaidEnd,
    SeismicDemand,
    SeismicShear,
    WallEnd,
)
from sandwich.standards.interface.seismic_walls import SeismicWalls
from sandwich.standards.interface.service import Prestress, Service, Tightness
from sandwich.standards.interface.shear import Links, Shear, ShearDemand, ShearSection
from sandwich.standards.interface.walls import (
    AlternativeWalls,
    ClosedSection,
    MemberCheck,
    OutOfPlane,
    SlenderWall,
    TorsionWalls,
    WallPart,
    Walls,
)


class Standard(
    Materials, Minimum, Shear, Punching, ColumnBars, Service, Member, Walls, Anchorage, Durability, Protocol
):
    """A design standard as the stages see it."""


__all__ = [
    "AlternativeWalls",
    "Anchorage",
    "AnchoredBar",
    "Bend",
    "BoundaryNeed",
    "BuildingDemand",
    "Buildings",
    "ClosedSection",
    "ColumnBars",
    "CouplingBeam",
    "CouplingNeed",
    "CoverDemand",
    "CoverNeed",
    "Durability",
    "DynamicAxial",
    "EndedBars",
    "FireDemand",
    "FireNeed",
    "LaidDiagonals",
    "LaidEnd",
    "LapTies",
    "LappedEnd",
    "Length",
    "Links",
    "Materials",
    "Member",
    "MemberCheck",
    "MemberLaw",
    "Minimum",
    "Near",
    "OutOfPlane",
    "Prestress",
    "Punching",
    "SeismicDemand",
    "SeismicShear",
    "SeismicWalls",
    "Service",
    "ServiceSituation",
    "Shear",
    "ShearDemand",
    "ShearSection",
    "Situation",
    "SlabJoint",
    "SlenderWall",
    "Standard",
    "Strengths",
    "Sway",
    "Through",
    "Tightness",
    "TorsionWalls",
    "WallEnd",
    "WallPart",
    "Walls",
]
