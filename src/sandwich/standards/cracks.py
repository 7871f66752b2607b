"""Records of crack width and of service stresses between the design stages and a standard."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.standards.arrangement import Floats


@dataclass(frozen=True)
class CrackWidth:
    """Widths of r cracks and what they come from, each (r,).

    Width [mm], zero where there is no crack, inf where no bar crosses it; maximum spacing of the cracks [mm], mean
    strain across them [-]; depth of the effective tension zone where the standard has one [mm].
    """

    w: Floats
    spacing: Floats
    strain: Floats
    tension_zone: Floats | None = None


@dataclass(frozen=True)
class QuickCheck:
    """A check of bars without a width, of r cracks: what is there and what is allowed [mm], each (r,)."""

    demand: Floats
    capacity: Floats

    @property
    def use(self) -> Floats:
        """Demand over capacity [-]; zero without a demand, inf where nothing is allowed."""
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(self.demand > 0.0, self.demand / self.capacity, 0.0)


OWN_LIMIT = "own limit"


@dataclass(frozen=True)
class StressLimits:
    """Maximum concrete stress and steel stress in a situation [MPa], inf without a limit, and clauses."""

    concrete: float
    steel: float
    concrete_clause: str
    steel_clause: str


@dataclass(frozen=True)
class FirstCracks:
    """What minimum steel against cracking is asked for: bending, tension or restraint, and the section.

    Thickness, mean stress with compression positive [MPa], diameter of the bars and the depth of their axes below the
    face [mm], each (p,); width allowed [mm], tensile strength when cracks are first expected over f_ctm [-].
    """

    rule: str
    concrete: Concrete
    steel: Steel
    h: Floats
    sigma_c: Floats
    diameter: Floats
    depth: Floats
    width: float
    part: float
