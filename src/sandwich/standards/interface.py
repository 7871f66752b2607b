"""What the design stages ask of any standard, and the records they get back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final, Literal, Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.block import StressBlock
from sandwich.section import Concrete, Steel

Situation = Literal["persistent", "accidental", "seismic", "characteristic", "frequent", "quasi-permanent"]
ULTIMATE: Final = ("persistent", "accidental", "seismic")
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Strengths:
    """Design strengths of one situation: bars, cracked and uncracked layers [MPa].

    `depth_limit` is the greatest x/d at which bars in tension still reach their yield strength, `block` the
    depth of a compressed layer over x [-].
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

    @property
    def clauses(self) -> Mapping[str, str]:
        """Clause behind each check of the tables: layers, yield, shear, greatest steel."""

    def strengths(self, concrete: Concrete, steel: Steel, situation: str) -> Strengths:
        """Design strengths in a situation."""

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:
        """Block of compression of a one-way section in a situation."""

    def minimum_steel(
        self,
        rule: str,
        concrete: Concrete,
        steel: Steel,
        h: ArrayLike,
        depths: ArrayLike,
        required: ArrayLike,
        *,
        angles: Floats,
        sides: NDArray[np.int64],
        vertical: str,
    ) -> Floats:
        """Least area of each bar layer [mm2/mm], shape (..., b)."""

    def greatest_steel(self, h: ArrayLike) -> Floats:
        """Greatest area of one direction, both faces together [mm2/mm]."""

    def principal_shear(self, v_x: ArrayLike, v_y: ArrayLike) -> tuple[Floats, Floats]:
        """Principal transverse shear [N/mm] and its direction from x towards y [rad]."""

    def tension_ratio(self, rho_x: ArrayLike, rho_y: ArrayLike, phi: ArrayLike, rho_xy: ArrayLike = 0.0) -> Floats:
        """Ratio of tension steel [-] that counts in a direction, from that of all bars as a tensor."""

    def axial_stress(self, concrete: Concrete, situation: str, n: ArrayLike, h: ArrayLike) -> Floats:
        """Mean axial stress [MPa], compression positive, of a membrane force n [N/mm], tension positive."""

    def shear_resistance(
        self,
        concrete: Concrete,
        situation: str,
        d: ArrayLike,
        rho_l: ArrayLike,
        sigma_cp: ArrayLike,
    ) -> Floats:
        """Shear resistance without links [N/mm]."""
