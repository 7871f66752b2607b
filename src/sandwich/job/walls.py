"""Walls: storeys and their names, groups of zones read as walls, their cuts and bars; spectra of modes."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.job.bars import Diameter, Parallel, Rule
from sandwich.job.base import Coordinate, Megapascals, Metres, Millimetres0, Model, NotNegative, Place, Positive, record
from sandwich.job.source import ATable


@record
class Storeys(Model):
    """Levels [m], found from the floors that meet the walls if left out; names from below; a table of labels."""

    levels: tuple[Coordinate, ...] = ()
    names: tuple[str, ...] = ()
    basement: Coordinate | None = None
    labels: ATable | None = None

    @model_validator(mode="after")
    def _rise(self) -> Storeys:
        if self.levels and (len(self.levels) < 2 or any(b <= a for a, b in itertools.pairwise(self.levels))):
            raise ValueError("levels do not rise; give two or more in m, each above the last")
        return self


@record
class Spectrum(Model):
    """Modes of a case without signs, which are cut one by one and combined at the cut."""

    modes: Annotated[tuple[str, ...], Field(min_length=1)]
    combination: Literal["CQC", "SRSS"] = "CQC"
    periods: tuple[Positive, ...] = ()
    damping: Annotated[float, Field(gt=0.0, lt=1.0)] = 0.05
    signs_of: str | None = None

    @model_validator(mode="after")
    def _has_periods(self) -> Spectrum:
        if self.combination == "CQC" and len(self.periods) != len(self.modes):
            raise ValueError(
                f"CQC takes one period a mode, and {len(self.modes)} modes have {len(self.periods)}; give periods in s"
            )
        if self.signs_of is not None and self.signs_of not in self.modes:
            raise ValueError(f"signs_of is no mode of it; use one of {', '.join(self.modes)}")
        return self


SecondOrder = Literal[
    "nominal curvature", "nominal stiffness", "moment magnification", "alternative", "additional moment"
]


@record
class EndBars(Model):
    """Bars at each end of a part: their number, diameter [mm] and the length they take [mm]."""

    count: Annotated[int, Field(ge=1, le=200)]
    diameter: Diameter
    length: Annotated[Millimetres0, Field(gt=0)]


@record
class BoundaryBars(EndBars):
    """Bars at each end of a wall or pier; `layers` over its thickness, one in each curtain if left out."""

    layers: Annotated[int, Field(ge=1, le=8)] | None = None


@record
class GivenTies(Model):
    """Ties of the bars at the ends: diameter and spacing [mm], legs across the wall and along it."""

    diameter: Diameter
    spacing: Annotated[Millimetres0, Field(gt=0)]
    across: Annotated[int, Field(ge=1, le=100)]
    along: Annotated[int, Field(ge=2, le=8)] = 2


@record
class GivenDiagonals(Model):
    """Bars of each of two diagonals of a coupling beam, and the ties round each; without them the links hold both."""

    count: Annotated[int, Field(ge=2, le=40)]
    diameter: Diameter
    ties: Parallel | None = None


@record
class WallBars(Model):
    """Bars of a wall: both ways at each face, at the ends with ties, in lintels; the first entry that fits holds.

    `storeys`, `panels` and `parts` are the names it is for, all if left out.
    """

    storeys: tuple[str, ...] = ()
    panels: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    vertical: Parallel | None = None
    horizontal: Parallel | None = None
    ends: BoundaryBars | None = None
    ties: GivenTies | None = None
    chords: EndBars | None = None
    links: Parallel | None = None
    diagonals: GivenDiagonals | None = None

    def fits(self, storey: str, panel: str, part: str) -> bool:
        """Whether it is for a part."""
        asked = ((self.storeys, storey), (self.panels, panel), (self.parts, part))
        return all(not names or name in names for names, name in asked)


@record
class OwnCut(Model):
    """A straight cut in one panel between two places of it [m]."""

    start: Place
    end: Place

    @model_validator(mode="after")
    def _has_length(self) -> OwnCut:
        if self.start == self.end:
            raise ValueError("start and end are one place; give two")
        return self


@record
class Seismic(Model):
    """Seismic design of a wall: class of ductility and what curvature goes by (EN 1998-1), displacement (ACI 318).

    Attributes
    ----------
    ductility : str
        Medium or high, of EN 1998-1.
    displacement : float
        Design displacement at the top [mm], of ACI 318.
    q_0, q : float
        Basic value of the behaviour factor [-], 3 if nothing is said, and the factor itself, the same if left out.
    system, alpha_u_1, regular : see below
        Structural system, overstrength ratio and regularity in elevation, which give q_0 and q of EN 1998-1.
    T_1, T_C : float
        First period, and that at the end of constant acceleration [s]; with T_1 the longer if left out.
    steel_class : str
        Of the bars, EN 1992-1-1, table C.1.
    ties : Rule
        Ties that may be chosen: diameters and spacings [mm].
    length : str
        Whether boundary elements are stepped from storey to storey, or as long as the longest above each other.
    ties_round : str
        What the ties of diagonals go round, of ACI 318; of the others each diagonal.
    """

    ductility: Literal["DCM", "DCH"] = "DCM"
    displacement: Millimetres0 | None = None
    q_0: Annotated[float, Field(ge=1.0, le=8.0)] | None = None
    q: Annotated[float, Field(ge=1.0, le=8.0)] | None = None
    system: (
        Literal["uncoupled", "coupled", "dual", "torsionally flexible", "large lightly reinforced", "ductile coupled"]
        | None
    ) = None
    alpha_u_1: Annotated[float, Field(ge=1.0, le=1.5)] | None = None
    regular: bool = True
    T_1: Positive | None = None
    T_C: Positive | None = None
    steel_class: Literal["B", "C"] = "C"
    ties: Rule = Rule(diameters=(8.0, 10.0, 12.0, 16.0), spacing_min=50.0, spacing_max=200.0)
    length: Literal["stepped", "constant"] = "stepped"
    ties_round: Literal["beam", "diagonals"] = "beam"

    @property
    def lightly(self) -> bool:
        """Whether the wall is a large lightly reinforced one."""
        return self.system == "large lightly reinforced"

    @model_validator(mode="after")
    def _periods_go_together(self) -> Seismic:
        if (self.T_1 is None) != (self.T_C is None):
            raise ValueError("T_1 and T_C go together; give both in s, or neither where T_1 is the longer")
        if self.ductility == "DCH" and self.T_1 is None:
            raise ValueError("the shear of DCH goes by the spectrum; give T_1 and T_C in s")
        if self.system is not None and self.q_0 is not None:
            raise ValueError("system gives q_0; give one of them")
        if self.system is None and (self.alpha_u_1 is not None or not self.regular):
            raise ValueError("alpha_u_1 and regular belong to a system; give system too, or q itself")
        counts = self.system in {"coupled", "dual"} or (self.system == "uncoupled" and self.ductility == "DCH")
        if self.alpha_u_1 is not None and not counts:
            raise ValueError(f"alpha_u_1 does not count for {self.ductility} walls that are {self.system}; take it out")
        if self.lightly and self.ductility == "DCH":
            raise ValueError('large lightly reinforced walls are of ductility "DCM"; take ductility out')
        return self


@record
class Wall(Model):
    """Zones read as one wall, of one panel or of several that meet.

    Attributes
    ----------
    zones : tuple of str
        Its zones.
    panels, openings : table
        Lines of its panels in plan and their openings, instead of those found in the mesh.
    forces : table
        Section forces of its parts by case, instead of those of its cuts.
    cuts : dict
        Cuts of the user's own by name, whose forces are wanted.
    group : str
        Name of a group of walls that `same_bars` takes as one.
    negate : tuple of str
        Of these, what the source counts the other way round.
    offset : float
        Of cuts from levels and edges of openings [m].
    distance : float
        Greatest distance between cuts [m]; bottom and top alone if left out.
    piers_alone : bool
        Whether full-height piers carry what stands above and below openings.
    parts : table
        Parts of the user's own: they replace those of the same name, or are added; kind none removes one.
    bars : tuple
        Bars that are given; what they leave open is chosen by the rule.
    rule : Rule
        Bars that may be chosen.
    curtains : int
        Layers of bars, at both faces or at mid-depth.
    cover : float
        To the outer bars [mm].
    outer : str
        Which bars lie outside.
    same_bars : str
        For which parts the rule chooses one arrangement.
    end_bars : bool
        Whether the rule may add bars at the ends.
    effective_length : float
        Effective over clear height of piers out of plane, instead of that of the standard by the edges held.
    cot_theta_max : float
        Flattest struts of the shear in plane [-], of a standard that lets them be chosen.
    f_yk : float
        Of its steel [MPa], instead of that of its zones.
    creep : float
        Effective creep ratio of second order [-].
    joint : str
        Surface of construction joints.
    second_order : str
        Method of second order out of the plane, of a standard that has several.
    seismic : Seismic
        Seismic design of its ends; none if left out.
    through : tuple of str
        Panels whose bars run through corners, the first before the others; then by their letters.
    """

    zones: Annotated[tuple[str, ...], Field(min_length=1)]
    panels: ATable | None = None
    openings: ATable | None = None
    forces: ATable | None = None
    cuts: dict[str, OwnCut] = Field(default_factory=dict)
    group: str = ""
    negate: tuple[Literal["N", "V1", "V2", "M1", "M2", "T"], ...] = ()
    offset: Metres = 0.02
    distance: Metres | None = None
    piers_alone: bool = False
    parts: ATable | None = None
    bars: tuple[WallBars, ...] = ()
    rule: Rule = Rule()
    curtains: Literal[1, 2] = 2
    cover: Millimetres0 = 30.0
    outer: Literal["horizontal", "vertical"] = "horizontal"
    same_bars: Literal["part", "panel", "storey", "wall"] = "part"
    end_bars: bool = True
    effective_length: Annotated[float, Field(gt=0.0, le=2.5)] | None = None
    cot_theta_max: Annotated[float, Field(ge=1.0, le=2.5)] = 2.5
    f_yk: Megapascals | None = None
    creep: NotNegative = 2.0
    joint: Literal["very smooth", "smooth", "rough", "indented"] = "rough"
    second_order: SecondOrder | None = None
    seismic: Seismic | None = None
    through: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _goes_together(self) -> Wall:
        if self.openings is not None and self.panels is None:
            raise ValueError("openings are places along panels; give panels too, or take openings out")
        if self.panels is not None and self.forces is None:
            raise ValueError("panels of a table have no results that could be cut; give forces too")
        if self.cuts and self.forces is not None:
            raise ValueError("cuts are made in results, and this wall brings its forces; take cuts out")
        if self.seismic is None and any(bars.ties is not None for bars in self.bars):
            raise ValueError("ties are those of boundary elements; give seismic = {} too, or take ties out")
        if self.seismic is None and any(bars.diagonals is not None for bars in self.bars):
            raise ValueError("diagonals are those of coupling beams; give seismic = {} too, or take diagonals out")
        if self.negate and self.forces is None:
            raise ValueError("negate turns signs of a table of forces; give forces, or take it out")
        return self
