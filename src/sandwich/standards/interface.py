"""What the design stages ask of any standard, and the records they get back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final, Literal, Protocol, runtime_checkable

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.block import StressBlock
from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.arrangement import Arrangement, Floats
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, SlabColumn
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits

Situation = Literal["persistent", "accidental", "seismic", "characteristic", "frequent", "quasi-permanent"]
ServiceSituation = Literal["characteristic", "frequent", "quasi-permanent"]
ULTIMATE: Final = ("persistent", "accidental", "seismic")


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


@dataclass(frozen=True)
class Links:
    """Vertical links of rows: area over area of plan [-], strut limit [N/mm], cot theta of the struts [-]."""

    a_sw: Floats
    v_max: Floats
    cot_theta: Floats


@dataclass(frozen=True)
class ShearSection:
    """Sections under transverse shear, in its direction: all that a resistance without links may depend on.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    situation : str
        Picks the partial factors.
    d, h : array_like
        Effective depth and thickness [mm].
    rho_l : array_like
        Ratio of tension steel [-].
    sigma : array_like
        Mean axial stress, compression positive [MPa].
    """

    concrete: Concrete
    steel: Steel
    situation: str
    d: ArrayLike
    h: ArrayLike
    rho_l: ArrayLike
    sigma: ArrayLike


@dataclass(frozen=True)
class ShearDemand:
    """Shear forces that links are to carry.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials; links of the steel of the bars [MPa].
    situation : str
        Picks the partial factors.
    v_Ed, d, resistance : array_like
        Shear force [N/mm], effective depth [mm], resistance without links [N/mm].
    cot_theta : float
        Of the struts [-].
    """

    concrete: Concrete
    steel: Steel
    situation: str
    v_Ed: ArrayLike
    d: ArrayLike
    resistance: ArrayLike
    cot_theta: float


class Standard(Protocol):
    """A design standard as the stages see it."""

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

    def minimum_steel(
        self, rule: str, concrete: Concrete, steel: Steel, h: ArrayLike, bars: Arrangement, required: ArrayLike
    ) -> Floats:
        """Minimum area of each bar layer [mm2/mm], shape (p, b), by the rule of a slab or a wall, or none."""

    def maximum_steel(self, h: ArrayLike) -> Floats:
        """Maximum area of one direction, both faces together [mm2/mm]."""

    def axial_resistance(self, fc: ArrayLike, h: ArrayLike) -> Floats:
        """Compression that a section of concrete strength fc [MPa] carries with the minimum eccentricity [N/mm]."""

    def maximum_spacing(self, rule: str, h: float, d: float) -> float:
        """Maximum spacing of bars [mm] in a slab or a wall; inf without a rule."""

    def ties(self, diameter: ArrayLike, h: ArrayLike) -> tuple[Floats, Floats]:
        """Minimum diameter and maximum spacing of ties round bars in compression [mm]."""

    def cracking(self, concrete: Concrete, sigma_1: ArrayLike, sigma_2: ArrayLike) -> Floats:
        """Criterion of principal elastic stresses [MPa]: up to zero the concrete is uncracked [-]."""

    def principal_shear(self, v_x: ArrayLike, v_y: ArrayLike) -> tuple[Floats, Floats]:
        """Principal transverse shear [N/mm] and its direction from x towards y [rad]."""

    def tension_ratio(self, rho_x: ArrayLike, rho_y: ArrayLike, phi: ArrayLike, rho_xy: ArrayLike = 0.0) -> Floats:
        """Ratio of tension steel [-] that counts in a direction, from that of all bars as a tensor."""

    def flexural_tension(self, concrete: Concrete, situation: str) -> float:
        """Stress of the extreme fibre up to which a section counts as uncracked in bending for shear [MPa]."""

    def axial_stress(self, concrete: Concrete, situation: str, n: ArrayLike, h: ArrayLike) -> Floats:
        """Mean axial stress [MPa], compression positive, of a membrane force n [N/mm], tension positive."""

    def shear_resistance(self, of: ShearSection) -> Floats:
        """Design shear resistance without links [N/mm]."""

    def links(self, of: ShearDemand) -> Links:
        """Vertical links for a shear force [N/mm] above the resistance without, at struts of cot theta."""

    @property
    def links_thickness(self) -> float:
        """Thickness from which a slab may have links [mm]; zero without a rule."""

    def control(self, h: float, d: float) -> ControlRule:
        """Where punching is looked at in a slab of thickness h and effective depth d [mm]."""

    def punching(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
        """Punching of a loaded area under one combination."""

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:
        """Minimum tension steel over a loaded area that punching itself asks for [mm2/mm]."""

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
