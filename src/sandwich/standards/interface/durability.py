"""Cover by exposure, and dimensions by fire."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple, Protocol

from sandwich.core.section import Concrete


@dataclass(frozen=True)
class CoverDemand:
    """What the cover of a face goes by.

    Attributes
    ----------
    concrete : Concrete
        Its strength [MPa].
    exposure : str
        Class of exposure, one of the standard's.
    diameter : float
        Of the outer bars [mm].
    slab : bool
        Whether it is a slab, or a wall.
    life : int
        Design working life [years].
    structural_class : str
        Class to start from, empty for that of the standard.
    quality : bool
        Whether special quality control of the concrete is ensured.
    tolerance : float
        Allowance for deviation [mm], nan for that of the standard.
    """

    concrete: Concrete
    exposure: str
    diameter: float
    slab: bool
    life: int = 50
    structural_class: str = ""
    quality: bool = False
    tolerance: float = float("nan")


@dataclass(frozen=True)
class FireDemand:
    """What the dimensions of a slab or wall go by under fire.

    Attributes
    ----------
    minutes : int
        Fire resistance [min].
    slab : bool
        Whether it is a slab, or a wall.
    sides : int
        Sides of a wall that are exposed.
    mu_fi : float
        Use of a wall in the fire situation [-].
    spans : str
        'one way', 'two way' up to a ratio of the spans of 1.5, 'two way long' up to 2, 'flat'.
    aggregate : str
        'siliceous', 'carbonate', 'sand-lightweight' or 'lightweight'.
    restrained, continuous : bool
        Whether a slab is restrained against expansion; whether it is continuous.
    ratio : float
        Vertical steel of a wall [-].
    """

    minutes: int
    slab: bool
    sides: int = 1
    mu_fi: float = 0.7
    spans: str = "one way"
    aggregate: str = "siliceous"
    restrained: bool = False
    continuous: bool = False
    ratio: float = 0.0


class CoverNeed(NamedTuple):
    """Nominal cover [mm], its clause, and what makes it up."""

    value: float
    clause: str
    by: str


class FireNeed(NamedTuple):
    """Minimum thickness, axis distance and cover [mm], nan of no rule, and their clause."""

    thickness: float
    axis: float
    cover: float
    clause: str


class Durability(Protocol):
    """Cover and fire."""

    @property
    def exposures(self) -> tuple[str, ...]:
        """Its classes of exposure."""

    @property
    def cover_settings(self) -> frozenset[str]:
        """Keys beside the exposure that it takes."""

    @property
    def fire_settings(self) -> frozenset[str]:
        """Keys beside the minutes that it takes."""

    @property
    def fire_minutes(self) -> tuple[int, ...]:
        """Fire resistances of its tables [min]."""

    def nominal_cover(self, of: CoverDemand) -> CoverNeed:
        """Cover that drawings have to have."""

    def fire(self, of: FireDemand) -> FireNeed:
        """What a fire resistance asks of a slab or wall."""
