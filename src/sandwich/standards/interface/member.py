"""Members in bending with axial force, as any standard gives them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.planesection import BarLaw, ConcreteLaw
from sandwich.standards.arrangement import Floats


@dataclass(frozen=True)
class MemberLaw:
    """What sections of a member are made of in a situation.

    Attributes
    ----------
    concrete, steel : ConcreteLaw, BarLaw
        Design values.
    clause : str
        Where they stand.
    reduction : callable or None
        Factor [-] on the whole resistance by the strain of the most pulled bar, tension positive, where the standard
        has one.
    turns : tuple of float
        Strains at which it changes its slope [-]: it is constant before the first and after the last, linear between.
    most : float
        Part of the axial resistance that is the most [-].
    steel_at_most : float
        Largest stress of the bars in that axial resistance [MPa].
    """

    concrete: ConcreteLaw
    steel: BarLaw
    clause: str
    reduction: Callable[[Floats], Floats] | None = None
    turns: tuple[float, ...] = ()
    most: float = 1.0
    steel_at_most: float = np.inf


class Member(Protocol):
    """Bending with axial force."""

    def member_law(self, concrete: Concrete, steel: Steel, situation: str) -> MemberLaw:
        """Laws of a section in a situation."""
