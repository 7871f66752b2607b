"""Minimum and maximum steel, spacing of bars, ties."""

from __future__ import annotations

from typing import Protocol

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.standards.arrangement import Arrangement, Floats


class Minimum(Protocol):
    """What bars there have to be, whatever the strength asks for."""

    def minimum_steel(
        self, rule: str, concrete: Concrete, steel: Steel, h: ArrayLike, bars: Arrangement, required: ArrayLike
    ) -> Floats:
        """Minimum area of each bar layer [mm2/mm], shape (p, b), by the rule of a slab or a wall, or none."""

    def maximum_steel(self, h: ArrayLike) -> Floats:
        """Maximum area of one direction, both faces together [mm2/mm]."""

    def maximum_spacing(self, rule: str, h: float, d: float) -> float:
        """Maximum spacing of bars [mm] in a slab or a wall; inf without a rule."""

    def ties(self, diameter: ArrayLike, h: ArrayLike) -> tuple[Floats, Floats]:
        """Minimum diameter and maximum spacing of ties round bars in compression [mm]."""
