"""Service state: stresses, cracks, and what only some standards have."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol, runtime_checkable

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.arrangement import Floats
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits


class Service(Protocol):
    """Stresses and cracks of the service state."""

    @property
    def width_limits(self) -> Mapping[str, float]:
        """Crack widths allowed by situation where a job says nothing [mm]; inf where none is asked."""

    @property
    def simplified_rules(self) -> bool:
        """Whether the check of cracks without a width is the rule itself, and not one of two ways."""

    def modulus(self, concrete: Concrete, creep: float) -> float:
        """Modulus of the concrete [MPa], effective with a creep coefficient."""

    def stress_limits(self, concrete: Concrete, steel: Steel, situation: str, *, imposed: bool) -> StressLimits:
        """Maximum concrete stress and steel stress [MPa], of loads or of imposed deformations alone."""

    def crack_width(self, concrete: Concrete, face: FaceCrack, *, long: bool) -> CrackWidth:
        """Crack width at one face of cracked sections under short or long-term loading."""

    def crack_check(self, concrete: Concrete, face: FaceCrack, limit: Floats) -> QuickCheck | None:
        """Control of cracks without a width, for widths allowed [mm]; None where the standard has none."""

    def minimum_for_cracking(self, of: FirstCracks) -> Floats:
        """Minimum steel of one face and direction against cracking [mm2/mm]; nan where a table of the rule ends."""


@runtime_checkable
class Tightness(Protocol):
    """A standard with rules for structures that hold water back."""

    def tightness(self, h: Floats, head: Floats) -> tuple[Floats, Floats]:
        """Width of cracks through a wall that holds water back, and compressed depth that stops them [mm]."""


@runtime_checkable
class Prestress(Protocol):
    """A standard with a limit of the stress of tendons in service."""

    def tendon_stress(self, f_pk: float) -> float:
        """Maximum stress of tendons in service [MPa] of a strength."""
