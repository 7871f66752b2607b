"""Walls whose loads are given directly: bearing walls, and isolated walls on a strip footing."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.core.section import Concrete, Steel
from sandwich.job.bars import Parallel, Rule
from sandwich.job.base import (
    Finite,
    Megapascals,
    Metres,
    Millimetres,
    Millimetres0,
    Model,
    NotNegative,
    Offset,
    Positive,
    record,
)
from sandwich.job.walls import SecondOrder


@record
class WallLoad(Model):
    """A load on the head of a bearing wall: along it [kN/m], or points [kN] at a spacing [m] on a bearing [mm].

    The eccentricity [mm] is that of the load from mid-thickness, positive towards the outer face.
    """

    case: str
    line: Finite | None = None
    point: Finite | None = None
    spacing: Metres | None = None
    bearing: Millimetres0 = 0.0
    eccentricity: Offset = 0.0

    @model_validator(mode="after")
    def _one_kind(self) -> WallLoad:
        if (self.line is None) == (self.point is None):
            raise ValueError(
                "a load is along the wall or in points; give line in kN/m, or point in kN with its spacing"
            )
        if (self.point is None) != (self.spacing is None):
            raise ValueError("point loads have a spacing in m; give both, or neither")
        return self


@record
class WallWind(Model):
    """Pressure on a bearing wall and on its parapet [kN/m2], positive from the outer face inwards."""

    case: str
    wall: Finite
    parapet: Finite | None = None


@record
class OfConcrete(Model):
    """Materials of a wall [MPa]."""

    f_ck: Megapascals = 30.0
    strength: Literal["cylinder", "cube"] = "cylinder"
    f_yk: Megapascals = 500.0

    @model_validator(mode="after")
    def _exists(self) -> OfConcrete:
        _ = self.concrete, self.steel
        return self

    @property
    def cases(self) -> set[str]:
        """Cases of its loads."""
        return set()

    @property
    def concrete(self) -> Concrete:
        """Its concrete."""
        return Concrete(self.f_ck, self.strength)

    @property
    def steel(self) -> Steel:
        """Its steel."""
        return Steel(self.f_yk)


@record
class BearingWall(OfConcrete):
    """A wall held at its foot and its head, loaded at its head, with wind and its own weight.

    Attributes
    ----------
    height, parapet : float
        From foot to head, and above the head [m].
    thickness, cover : float
        Thickness, and cover to the outer bars [mm].
    curtains, vertical, horizontal, outer, rule
        Bars, chosen by the rule where they are not given.
    effective_length : float
        Effective over clear height; that of the standard if left out.
    second_order : str
        Method of second order, of a standard that has several.
    weight : float
        Of the concrete [kN/m3]; its case is `self_weight`, none if left out.
    """

    height: Metres
    thickness: Millimetres
    parapet: Annotated[float, Field(ge=0.0, le=20.0)] = 0.0
    curtains: Literal[1, 2] = 2
    cover: Millimetres0 = 30.0
    outer: Literal["horizontal", "vertical"] = "horizontal"
    vertical: Parallel | None = None
    horizontal: Parallel | None = None
    rule: Rule = Rule()
    effective_length: Annotated[float, Field(gt=0.0, le=2.5)] | None = None
    second_order: SecondOrder | None = None
    creep: NotNegative = 2.0
    weight: Positive = 25.0
    self_weight: str | None = None
    loads: tuple[WallLoad, ...] = ()
    wind: tuple[WallWind, ...] = ()

    @model_validator(mode="after")
    def _parapet_is_there(self) -> BearingWall:
        if self.parapet == 0.0 and any(w.parapet is not None for w in self.wind):
            raise ValueError("wind on a parapet, and there is none; give its height in m, or take that wind out")
        return self

    @property
    def cases(self) -> set[str]:
        """Cases of its loads."""
        own = {self.self_weight} if self.self_weight is not None else set()
        return own | {load.case for load in self.loads} | {w.case for w in self.wind}


@record
class FootingLoad(Model):
    """Forces of a case on the top of a footing: N [kN], compression positive, M [kNm] and V [kN] along the wall."""

    case: str
    N: Finite = 0.0
    M: Finite = 0.0
    V: Finite = 0.0


@record
class Soil(Model):
    """What the ground gives: allowable pressure [kN/m2], friction [-], passive pressure [kN/m2], factors of safety."""

    pressure: Positive
    friction: Annotated[float, Field(ge=0.0, le=1.5)] = 0.5
    passive: NotNegative = 0.0
    sliding: Positive = 1.5
    overturning: Positive = 1.5


@record
class FootingWall(OfConcrete):
    """An isolated wall on its own strip footing.

    Attributes
    ----------
    length, thickness : float
        Of the wall [m], [mm].
    footing_length, width, depth : float or None
        Of the footing [m], [m], [mm]; what is left out is sized in steps of `step` [m], the depth in 50 mm.
    soil_above : float
        Weight of soil and floor over the footing [kN/m2], in the case of the self weight.
    """

    length: Metres
    thickness: Millimetres
    footing_length: Metres | None = None
    width: Metres | None = None
    depth: Millimetres | None = None
    step: Metres = 0.1
    cover: Millimetres0 = 50.0
    across: Parallel | None = None
    along: Parallel | None = None
    rule: Rule = Rule()
    weight: Positive = 25.0
    soil_above: NotNegative = 0.0
    self_weight: str
    soil: Soil
    loads: Annotated[tuple[FootingLoad, ...], Field(min_length=1)]

    @property
    def cases(self) -> set[str]:
        """Cases of its loads."""
        return {self.self_weight} | {load.case for load in self.loads}
