"""What a standard answers of seismic walls."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol, runtime_checkable

from numpy.typing import ArrayLike

from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.anchorage import AnchoredBar, Length
from sandwich.standards.interface.coupling import CouplingBeam, CouplingNeed
from sandwich.standards.interface.seismic import BoundaryNeed, DynamicAxial, SeismicDemand, SeismicShear, WallEnd
from sandwich.standards.interface.walls import MemberCheck, WallPart


@runtime_checkable
class SeismicWalls(Protocol):
    """Ends of seismic walls, of some standards."""

    @property
    def seismic_settings(self) -> frozenset[str]:
        """Keys of the seismic design that it takes."""

    @property
    def systems(self) -> Mapping[str, float]:
        """Names of the structural systems that it tells apart, with the longest first period each may have [s]."""

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

    def flange_width(self, free: float, distance: float, h_above: float, h_w: float) -> Length:
        """Effective width of a flange beyond the face of a web.

        `free` of it stands up to its end or the next web, whose face is `distance` away, inf without one; heights of
        the wall above the section and above its base [mm].
        """

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
