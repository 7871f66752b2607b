"""Punching of slabs."""

from __future__ import annotations

from typing import Protocol

from sandwich.core.section import Concrete, Steel
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, SlabColumn


class Punching(Protocol):
    """Punching of loaded areas."""

    def control(self, h: float, d: float) -> ControlRule:
        """Where punching is looked at in a slab of thickness h and effective depth d [mm]."""

    def punching(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
        """Punching of a loaded area under one combination."""

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:
        """Minimum tension steel over a loaded area that punching itself asks for [mm2/mm]."""
