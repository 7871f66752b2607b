"""Seismic walls: what the standard asks of their ends."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol, runtime_checkable

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.walls import MemberCheck, WallPart


@dataclass(frozen=True)
class SeismicDemand:
    """What the seismic design of a wall goes by.

    Attributes
    ----------
    high : bool
        Whether of high ductility, of a standard with two classes.
    displacement : float
        Design displacement at the top over the height above the critical section [-], nan where it is not given.
    q_0, q : float
        Basic value of the behaviour factor, and the factor itself [-].
    T_1, T_C : float
        First period, and that at the end of constant acceleration [s]; nan where the first is the longer.
    class_b : bool
        Whether the bars are of class B.
    """

    high: bool = False
    displacement: float = float("nan")
    q_0: float = 3.0
    q: float = 3.0
    T_1: float = float("nan")
    T_C: float = float("nan")
    class_b: bool = False


@dataclass(frozen=True)
class WallEnd:
    """One end of a section of a seismic wall under the k demands that press it.

    Attributes
    ----------
    concrete, steel : Concrete, Steel
        Materials [MPa].
    l_w, t : float
        Length of the wall and thickness of the end [mm].
    h_w, h_s, z : float
        Height of the wall above its base, clear height of the storey, height of the section above the base [mm].
    storeys : int
        Number of storeys.
    cover, d_tie, d_b : float
        To the ties, assumed diameter of the ties, diameter of the vertical bars [mm].
    rho_v : float
        Ratio of the vertical web bars [-].
    M_u_base, V_u_base, M_R_base : float
        Largest moment and shear at the base, and what is carried there beside the axial force [N mm, N].
    N, M, c : ndarray, shape (k,)
        Axial force, compression positive [N], moment that presses the end [N mm], depth of the neutral axis at the
        nominal strength beside it [mm].
    area, modulus : float
        Of the gross section [mm2, mm3].
    goes_on : bool
        Whether the same end is a boundary element in the storey below.
    asked : SeismicDemand
        Settings.
    """

    concrete: Concrete
    steel: Steel
    l_w: float
    t: float
    h_w: float
    h_s: float
    z: float
    storeys: int
    cover: float
    d_tie: float
    d_b: float
    rho_v: float
    M_u_base: float
    V_u_base: float
    M_R_base: float
    N: Floats
    M: Floats
    c: Floats
    area: float
    modulus: float
    goes_on: bool
    asked: SeismicDemand


@dataclass(frozen=True)
class SeismicShear:
    """Shear of a part of a seismic wall.

    Attributes
    ----------
    part : WallPart
        As its shear looks at it; the situation is seismic.
    h_w, h_s, z : float
        Height of the wall above its base, clear height of the storey, height of the part above the base [mm].
    storeys : int
        Number of storeys.
    M_u_base, M_R_base, M_pr_base : float
        Moment at the base, what is carried there, and that with 1.25 f_y and without reduction [N mm].
    asked : SeismicDemand
        Settings.
    """

    part: WallPart
    h_w: float
    h_s: float
    z: float
    storeys: int
    M_u_base: float
    M_R_base: float
    M_pr_base: float
    asked: SeismicDemand


@dataclass(frozen=True)
class BoundaryNeed:
    """What an end has to have.

    Attributes
    ----------
    needed : bool
        Whether it is a boundary element.
    trigger, clause : str
        By which rule, with what.
    demand, limit : float
        What is held against what by it, in `unit`.
    length, width, extent : float
        Length along the wall, thickness [mm], height above the base up to which it goes on [mm].
    ties : float
        Area of ties over spacing and width of the core across them, each way [-]; nan where the standard asks for none.
    spacing, held, d_tie : float
        Largest spacing of the ties, largest distance between bars they hold, their minimum diameter [mm].
    rho : float
        Minimum ratio of the vertical bars in it [-].
    remedy : str
        What would do where the wall cannot have it.
    """

    needed: bool
    trigger: str
    clause: str
    demand: float
    limit: float
    unit: str
    length: float
    width: float
    extent: float
    ties: float
    spacing: float
    held: float
    d_tie: float
    rho: float
    remedy: str = ""


@runtime_checkable
class SeismicWalls(Protocol):
    """Ends of seismic walls, of some standards."""

    @property
    def seismic_settings(self) -> frozenset[str]:
        """Keys of the seismic design that it takes."""

    @property
    def column_ratio(self) -> float:
        """Length over thickness up to which a part is a column [-]."""

    def boundary(self, end: WallEnd) -> BoundaryNeed:
        """What an end of a wall has to have under the demands that press it."""

    def seismic_shear(
        self, of: SeismicShear, V: ArrayLike, N: ArrayLike, M: ArrayLike
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """Factor on the shear of the analysis, its clause, and the checks under it.

        V and N, tension positive [N], are those of the analysis, M [N mm] the largest in the storey beside them, (k,).
        """
