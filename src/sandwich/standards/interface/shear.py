"""Transverse shear, without links and with them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.standards.arrangement import Floats


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


class Shear(Protocol):
    """Transverse shear of slabs and walls."""

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
