"""Seismic walls: what the standard asks of their ends."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Protocol, runtime_checkable

from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.anchorage import AnchoredBar, Length
from sandwich.standards.interface.seismic_names import HELD
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

    @property
    def remedy(self) -> str:
        """What would do where the wall cannot have it."""
        return "; ".join(c.note for c in self.limits if float(c.utilisation.max()) > HELD)


@dataclass(frozen=True)
class DynamicAxial:
    """Axial force that acts either way: its part of that by gravity, the strain [-] the concrete may have beside it."""

    ratio: float
    eps_cu: float
    clause: str


@dataclass(frozen=True)
class LaidDiagonals:
    """Diagonals of a coupling beam with their ties.

    Attributes
    ----------
    area, diameter : float
        Of the bars of one diagonal [mm2], and of one of them [mm].
    count : int
        Bars of one diagonal.
    alpha : float
        Angle between them and the axis of the beam [rad].
    d_tie, spacing : float
        Of the ties [mm].
    whole : bool
        Whether the ties go round the whole beam, or round each diagonal.
    legs : tuple of int
        Legs across the depth and across the width of what they go round.
    core : tuple of float
        Width and depth of that, from outside to outside of the ties [mm].
    apart : float
        Largest distance between legs [mm].
    """

    area: float
    diameter: float
    count: int
    alpha: float
    d_tie: float
    spacing: float
    whole: bool
    legs: tuple[int, int]
    core: tuple[float, float]
    apart: float


@dataclass(frozen=True)
class CouplingBeam:
    """A lintel of a seismic wall as a coupling beam.

    Attributes
    ----------
    part : WallPart
        As its shear looks at it: length is its depth, height its clear span.
    A_s : float
        Bars of each chord [mm2].
    cover : float
        To the links [mm].
    V, V_g : float
        Largest shear of the seismic combinations, and what the loads beside the earthquake give of it [N].
    asked : SeismicDemand
        Settings.
    laid : LaidDiagonals, optional
        Its diagonals.
    levels : float
        Part of the levels of the wall whose coupling beams are all of a span up to five depths [-].
    """

    part: WallPart
    A_s: float
    cover: float
    V: float
    V_g: float
    asked: SeismicDemand
    laid: LaidDiagonals | None = None
    levels: float = 1.0


@dataclass(frozen=True)
class CouplingNeed:
    """Whether a coupling beam has to have diagonals, or may have them: the shear held against its limit [N]."""

    required: bool
    allowed: bool
    limit: float
    clause: str


@runtime_checkable
class SeismicWalls(Protocol):
    """Ends of seismic walls, of some standards."""

    @property
    def seismic_settings(self) -> frozenset[str]:
        """Keys of the seismic design that it takes."""

    @property
    def systems(self) -> frozenset[str]:
        """Names of the structural systems that it tells apart."""

    @property
    def column_ratio(self) -> float:
        """Length over thickness up to which a part is a column [-]."""

    @property
    def ties_by_volume(self) -> bool:
        """Whether ties count by their volume in the core between their axes, or each way in that to their outsides."""

    def boundary(self, end: WallEnd) -> BoundaryNeed:
        """What an end of a wall has to have under the demands that press it."""

    def seismic_shear(
        self, of: SeismicShear, V: ArrayLike, N: ArrayLike, M: ArrayLike
    ) -> tuple[float, str, tuple[MemberCheck, ...]]:
        """Factor on the shear of the analysis, its clause, and the checks under it.

        V and N, tension positive [N], are those of the analysis, M [N mm] the largest in the storey beside them, (k,).
        """

    def piers(self, parts: Sequence[WallPart], V: Floats) -> MemberCheck | None:
        """Shear (k,) of all piers that share a lateral force [N], of a standard that limits it; amplified already."""

    def behaviour(
        self, system: str, alpha: float | None, h_w: Sequence[float], l_w: Sequence[float], *, high: bool, regular: bool
    ) -> tuple[float, float]:
        """Basic value of the behaviour factor and the factor, by heights and lengths of all walls [mm]."""

    def seismic_moment(self, of: SeismicShear, z: ArrayLike, M_base: ArrayLike) -> tuple[Floats, str]:
        """Design moment (k,) at heights above the base by its moments there [N mm], 0 of none, and its clause."""

    def dynamic_axial(self, asked: SeismicDemand) -> DynamicAxial | None:
        """Axial force that acts either way beside that of the analysis, of walls that have one."""

    @property
    def ties_all_round(self) -> bool:
        """Whether ties round the whole coupling beam may hold its diagonals, instead of ties round each."""

    def cage(self, b: float) -> tuple[float, float]:
        """Least width and depth of the bars of a diagonal with their ties in a beam of a width [mm]."""

    @property
    def bends_count(self) -> bool:
        """Whether anchorage of a bent bar is measured along it, or from the face to the outside of its bend."""

    def coupling_anchorages(self, bar: AnchoredBar, kind: str) -> dict[str, Length]:
        """Lengths of a bar of a coupling beam beyond the face of the wall, the straight one first, then bent, headed.

        `kind` is 'chords' or 'diagonals', or 'chords beside diagonals'.
        """

    def coupling(self, beam: CouplingBeam) -> CouplingNeed:
        """Whether a coupling beam has to have diagonals."""

    def coupling_checks(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        """Checks of its diagonals, or without them of its shear by hinges and its links; notes say what would do."""
