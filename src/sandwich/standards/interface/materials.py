"""Materials and sections, as any standard gives them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, Protocol

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.block import StressBlock
from sandwich.standards.arrangement import Floats

Situation = Literal["persistent", "accidental", "seismic", "characteristic", "frequent", "quasi-permanent"]
ServiceSituation = Literal["characteristic", "frequent", "quasi-permanent"]


@dataclass(frozen=True)
class Strengths:
    """Design strengths of one situation: bars, cracked and uncracked layers [MPa].

    `depth_limit` is the maximum x/d at which bars in tension still reach their yield strength, `block` the
    depth of a compressed layer over x [-]. `f_yd` and `fc_bending` hold where bars pull and x/d keeps the limit;
    elsewhere `f_yd_deep` and `fc_uncracked`, which some standards reduce. `per_degree` is what a cracked layer loses
    for each degree that its compression is turned from that of the elastic shell [-], up to `max_turn` [deg],
    `compressed` the part of its strength that a bar reaches in compression [-].
    """

    f_yd: float
    fc_cracked: float
    fc_uncracked: float
    depth_limit: float
    block: float
    fc_bending: float
    f_yd_deep: float
    per_degree: float = 0.0
    max_turn: float = 0.0
    compressed: float = 1.0

    @property
    def by_strain(self) -> bool:
        """Whether strengths depend on the strain of the bars."""
        return self.fc_bending != self.fc_uncracked or self.f_yd_deep != self.f_yd


class Materials(Protocol):
    """Name, clauses and what sections are made of."""

    @property
    def name(self) -> str:
        """Standard, year and the set of national values."""

    @property
    def clauses(self) -> Mapping[str, str]:
        """Clause behind each check: layers, yield, shear, links, struts, maximum steel, punching, punching links."""

    @property
    def readings(self) -> tuple[str, ...]:
        """What is read into the standard where it has no rule of its own."""

    @property
    def to_check(self) -> tuple[str, ...]:
        """What a user has to check of its values, such as against a national annex; nothing where there is none."""

    def strengths(self, concrete: Concrete, steel: Steel, situation: str) -> Strengths:
        """Design strengths in a situation."""

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:
        """Block of compression of a one-way section in a situation."""

    def axial_resistance(self, fc: ArrayLike, h: ArrayLike) -> Floats:
        """Compression that a section of concrete strength fc [MPa] carries with the minimum eccentricity [N/mm]."""

    def cracking(self, concrete: Concrete, sigma_1: ArrayLike, sigma_2: ArrayLike) -> Floats:
        """Criterion of principal elastic stresses [MPa]: up to zero the concrete is uncracked [-]."""
