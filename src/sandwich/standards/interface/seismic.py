"""Seismic walls: what the standard asks of their ends."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise

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
    dual : bool
        Whether the wall is of a dual system.
    lightly, coupled : bool
        Whether it is a large lightly reinforced wall, or one of ductile coupled walls.
    """

    high: bool = False
    displacement: float = float("nan")
    q_0: float = 3.0
    q: float = 3.0
    T_1: float = float("nan")
    T_C: float = float("nan")
    class_b: bool = False
    dual: bool = False
    lightly: bool = False
    coupled: bool = False


@dataclass(frozen=True)
class LaidEnd:
    """Bars and ties that lie at an end.

    Attributes
    ----------
    length : float
        Length from the edge that they take [mm].
    rows : tuple of tuple of float
        Distance of each row of bars from the edge [mm], and their area [mm2].
    layers : tuple of float
        Places of the bars of a row over the thickness [mm].
    diameters : tuple of float
        Of the thinnest and the thickest of these bars [mm].
    d_tie, spacing : float
        Of the ties [mm]; 0 where there are none.
    across, along : int
        Legs of the ties across the wall and along it.
    cover : float
        To the ties [mm].
    """

    length: float
    rows: tuple[tuple[float, float], ...]
    layers: tuple[float, ...]
    diameters: tuple[float, float]
    d_tie: float
    spacing: float
    across: int
    along: int
    cover: float

    def area(self, length: float) -> float:
        """Area of the bars within a length from the edge [mm2]."""
        return sum(a for x, a in self.rows if x <= length)

    @property
    def tied(self) -> bool:
        """Whether there are ties."""
        return self.d_tie > 0.0

    @property
    def reach(self) -> float:
        """Length of the core from outside to outside of the ties [mm]."""
        return self.rows[-1][0] + self.diameters[1] / 2.0 + self.d_tie - self.cover if self.rows else 0.0

    def gaps(self, legs: int, *, along: bool) -> tuple[float, ...]:
        """Distances between neighbouring bars that so many legs hold, spread evenly over rows or layers [mm]."""
        at = [x for x, _ in self.rows] if along else list(self.layers)
        count = len(at)
        if count < 2 or legs < 2:
            return (at[-1] - at[0],) if count > 1 else ()
        if legs < count:
            at = [at[round(i * (count - 1) / (legs - 1))] for i in range(legs)]
        return tuple(b - a for a, b in pairwise(at))

    @property
    def apart(self) -> float:
        """Largest distance between bars that ties hold, along the wall or across it [mm]."""
        gaps = self.gaps(self.across, along=True) + self.gaps(self.along, along=False)
        return max(gaps, default=0.0)


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
    N, M : ndarray, shape (k,)
        Axial force, compression positive [N], and moment that presses the end [N mm].
    c : ndarray
        Depths of the neutral axis at the nominal strength, the deepest among them [mm].
    area, modulus : float
        Of the gross section [mm2, mm3].
    goes_on : bool
        Whether the same end is a boundary element in the storey below.
    asked : SeismicDemand
        Settings.
    laid : LaidEnd, optional
        Bars and ties that lie there, where they do.
    flange : tuple of float
        Thickness and width of another panel that the end meets [mm], 0 of a free end.
    l_below : float
        Length of the part right below [mm], 0 where there is none.
    strain : callable
        Gives the largest compressive strain of the concrete under the demands [-], inf where it is not known.
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
    laid: LaidEnd | None = None
    flange: tuple[float, float] = (0.0, 0.0)
    l_below: float = 0.0
    strain: Callable[[], float] = lambda: float("inf")


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
    M_u_base, M_R_base, M_n_base, M_pr_base : float
        Moment at the base, what is carried there, that without reduction, and with 1.25 f_y besides [N mm].
    xi : float
        Depth of the neutral axis at the foot over the length, beside the least compression [-].
    asked : SeismicDemand
        Settings.
    coupled : bool
        Whether coupling beams join it to others.
    basement : float
        Height of the wall below the base [mm].
    V_base, V_third : float
        Largest shear at the base and at a third of the height [N].
    """

    part: WallPart
    h_w: float
    h_s: float
    z: float
    storeys: int
    M_u_base: float
    M_R_base: float
    M_n_base: float
    M_pr_base: float
    xi: float
    asked: SeismicDemand
    coupled: bool = False
    basement: float = 0.0
    V_base: float = 0.0
    V_third: float = 0.0


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
    rho, rho_length : float
        Minimum ratio of the vertical bars [-], within which length from the edge [mm].
    clauses : Mapping
        Clauses of single checks by their names; `clause` of the others.
    limits : tuple of MemberCheck
        What no bars mend; their notes say what would.
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
    rho_length: float
    clauses: Mapping[str, str] = field(default_factory=dict)
    limits: tuple[MemberCheck, ...] = ()


@dataclass(frozen=True)
class DynamicAxial:
    """Axial force that acts either way: its part of that by gravity, the strain [-] the concrete may have beside it."""

    ratio: float
    eps_cu: float
    clause: str
