"""Walls and their parts: shear in their plane, their steel, second order out of their plane."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol, runtime_checkable

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.core.shown import Words
from sandwich.standards.arrangement import Floats


@dataclass(frozen=True)
class MemberCheck:
    """One clause for k demands: name, clause, demand, capacity and utilisation (k,), unit.

    Of a minimum the demand is the minimum and the capacity what is provided.
    """

    name: str
    clause: str
    demand: Floats
    capacity: Floats
    unit: str
    note: Words = ""

    @property
    def utilisation(self) -> Floats:
        """Demand over capacity [-]; inf where there is a demand and no capacity, or no number."""
        demand, capacity = np.abs(self.demand), np.asarray(self.capacity, dtype=float)
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(
                demand == 0.0, 0.0, np.where((capacity > 0.0) & ~np.isnan(demand), demand / capacity, np.inf)
            )


def ratio_check(name: str, clause: str, minimum: float, provided: float) -> MemberCheck:
    """A minimum ratio held against what is provided [-]."""
    return MemberCheck(name, clause, np.array([100.0 * minimum]), np.array([100.0 * provided]), "%")


def spacing_check(name: str, clause: str, provided: float, maximum: float) -> MemberCheck:
    """A spacing held against its maximum [mm]."""
    return MemberCheck(name, clause, np.array([provided]), np.array([maximum]), "mm")


@dataclass(frozen=True)
class WallPart:
    """A wall, a pier, or a lintel as its shear and its steel look at it.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    situation : str
        Picks the partial factors.
    length, thickness : float
        In the direction of the shear, and across [mm].
    height : float
        Of a pier or wall the height whose ratio to its length counts, clear span of a lintel [mm].
    along, across : float
        Ratio of the bars along the shear and across it [-]: horizontal and vertical bars of a wall; of a lintel its
        links, and the bars of one chord.
    diameters, spacings : tuple of float
        Of these bars, along and across [mm].
    curtains : int
        Layers of bars.
    d : float
        Effective depth of a lintel [mm]; 0 of a wall, where the standard says.
    cot_theta_max : float
        Flattest struts, of a standard that lets them be chosen [-].
    joint : str
        Surface of construction joints.
    """

    concrete: Concrete
    steel: Steel
    situation: str
    length: float
    thickness: float
    height: float
    along: float
    across: float
    diameters: tuple[float, float]
    spacings: tuple[float, float]
    curtains: int = 2
    d: float = 0.0
    cot_theta_max: float = 2.5
    joint: str = "rough"

    @property
    def beam(self) -> bool:
        """Whether it is a lintel."""
        return self.d > 0.0

    @property
    def area(self) -> float:
        """Area of the section [mm2]."""
        return self.length * self.thickness


@dataclass(frozen=True)
class SlenderWall:
    """A wall or pier out of its plane.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    situation : str
        Picks the partial factors.
    length, thickness, height : float
        Length, thickness and clear height [mm].
    edges : int
        Edges that are held: 2 (foot and head), 3 or 4.
    between : float
        Length between the upright edges that are held, or from one to the free edge [mm].
    bars : float
        Area of the vertical bars [mm2].
    depth : float
        Effective depth out of plane [mm].
    factor : float or None
        Effective over clear height where it is given [-].
    creep, sustained : float
        Effective creep ratio and the sustained part of the axial force [-].
    transverse : bool
        Whether loads act between the ends.
    method : str
        Of second order, one of those of the standard; its first if left out.
    """

    concrete: Concrete
    steel: Steel
    situation: str
    length: float
    thickness: float
    height: float
    edges: int
    between: float
    bars: float
    depth: float
    factor: float | None = None
    creep: float = 2.0
    sustained: float = 0.6
    transverse: bool = False
    method: str = ""


@dataclass(frozen=True)
class OutOfPlane:
    """Moments out of plane with all that a standard adds, (k,) [N mm]; inf where the wall buckles.

    `slender` says where second order counts; `limits` are further checks, such as of slenderness itself.
    """

    moment: Floats
    slender: Floats
    clause: str
    limits: tuple[MemberCheck, ...] = ()


@dataclass(frozen=True)
class ClosedSection:
    """A closed section of walls under shear and torsion.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    situation : str
        Picks the partial factors.
    area, round : float
        Inside the middle line of its outer walls [mm2], and length of that line [mm].
    thickness : float
        Of its thinnest outer wall [mm].
    transverse, along : float
        Horizontal bars over their spacing, of the outer wall that has least [mm2/mm]; all bars along it [mm2].
    webs : tuple of float
        Thickness times length of the walls along both axes [mm2].
    web_steel : tuple of float
        Ratio of their horizontal bars times that, along both axes [mm2].
    """

    concrete: Concrete
    steel: Steel
    situation: str
    area: float
    round: float
    thickness: float
    transverse: float
    along: float
    webs: tuple[float, float]
    web_steel: tuple[float, float]


@runtime_checkable
class TorsionWalls(Protocol):
    """Torsion of closed sections with shear, of some standards."""

    def torsion(self, of: ClosedSection, T: ArrayLike, V_1: ArrayLike, V_2: ArrayLike) -> tuple[MemberCheck, ...]:
        """Struts and bars under torsion [N mm] and shear along both axes [N], (k,); the demand is the sum of shares."""


@runtime_checkable
class AlternativeWalls(Protocol):
    """A method of its own for slender walls held at foot and head, of some standards."""

    def alternative_moment(self, of: SlenderWall, N: ArrayLike, M: ArrayLike) -> OutOfPlane:
        """Design moment at mid-height from that of the loads [N mm] beside axial forces (k,) [N]."""

    def service_deflection(self, of: SlenderWall, N: ArrayLike, M: ArrayLike) -> MemberCheck:
        """Deflection at mid-height in service, from the moment of the loads [N mm] beside axial forces (k,) [N]."""


class Walls(Protocol):
    """Walls, piers and lintels."""

    @property
    def own_settings(self) -> frozenset[str]:
        """Keys of walls, their second order, links and the service state that not every standard takes: its own."""

    @property
    def second_order(self) -> tuple[str, ...]:
        """Methods of second order out of the plane, the first is taken where none is asked for."""

    def wall_shear(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:
        """Shear in the plane for forces (k,) [N], N positive in tension."""

    def wall_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:
        """Minimum and maximum steel and spacings: the demand is the minimum, or the spacing that lies there."""

    def shear_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> Floats:
        """Ratio of the bars along the shear that it asks for, minimum included (k,) [-]; inf where struts fail."""

    def out_of_plane(self, of: SlenderWall, N: ArrayLike, M_1: ArrayLike, M_2: ArrayLike) -> OutOfPlane:
        """Design moments from those at both ends [N mm] beside axial forces (k,) [N], positive in tension."""
