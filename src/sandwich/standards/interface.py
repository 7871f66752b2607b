"""What the design stages ask of any standard, and the records they get back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal, Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.section import Concrete, Steel

Situation = Literal["persistent", "accidental", "seismic", "characteristic", "frequent", "quasi-permanent"]
ULTIMATE: Final = ("persistent", "accidental", "seismic")
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Strengths:
    """Design strengths of one situation [MPa]: bars, cracked and uncracked layers; yield strain limit [-].

    `depth_limit` is the greatest x/d at which bars in tension still reach their yield strength.
    """

    f_yd: float
    fc_cracked: float
    fc_uncracked: float
    depth_limit: float
    block: float


class Standard(Protocol):
    """A design standard as the stages see it."""

    @property
    def name(self) -> str:
        """Standard, year and the set of national values."""

    def strengths(self, concrete: Concrete, steel: Steel, situation: str) -> Strengths:
        """Design strengths in a situation."""

    def minimum_steel(
        self,
        rule: str,
        concrete: Concrete,
        steel: Steel,
        h: ArrayLike,
        depths: ArrayLike,
        required: ArrayLike,
        *,
        vertical: str,
    ) -> Floats:
        """Least area of each bar layer [mm2/mm], shape (..., 4)."""

    def shear_resistance(
        self,
        concrete: Concrete,
        situation: str,
        d: ArrayLike,
        rho_l: ArrayLike,
        sigma_cp: ArrayLike,
    ) -> Floats:
        """Shear resistance without links [N/mm]."""
