"""Bars of a zone: where they lie, which may be chosen, how they are laid out, which are provided."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Final, Literal

from pydantic import Field, model_validator

from sandwich.core.section import BarLayers, BarLine, Layout
from sandwich.job.base import (
    Coordinate,
    Finite,
    Metres,
    Millimetres,
    Millimetres0,
    Model,
    NotNegative,
    Place,
    Positive,
    record,
)

CLEAR: Final = 20.0  # mm of concrete between bars, EN 1992-1-1, 8.2(2); other standards ask for more


Diameter = Annotated[Millimetres, Field(ge=3.0, le=60.0)]


@record
class Line(Model):
    """One layer of parallel bars: direction from the x bars of the zone [deg], diameter [mm], weight in the total."""

    angle: Finite
    diameter: Millimetres = 12.0
    weight: Positive = 1.0


@record
class Bars(Model):
    """Where the bars of a zone lie [mm]."""

    layout: Layout = "both"
    cover_bottom: Millimetres0 = 30.0
    cover_top: Millimetres0 = 30.0
    diameter_x: Millimetres = 12.0
    diameter_y: Millimetres = 12.0
    top_diameter_x: Millimetres | None = None
    top_diameter_y: Millimetres | None = None
    outer: Literal["x", "y"] = "x"
    weight_x: Positive = 1.0
    weight_y: Positive = 1.0
    bottom: tuple[Line, ...] = ()
    top: tuple[Line, ...] = ()

    @model_validator(mode="after")
    def _layers_will_do(self) -> Bars:
        self.layers()
        return self

    def layers(self) -> BarLayers:
        """The same for the core."""
        bottom, top = (tuple(BarLine(**asdict(b)) for b in side) for side in (self.bottom, self.top))
        return BarLayers(**{**asdict(self), "bottom": bottom, "top": top})


@record
class Parallel(Model):
    """Parallel bars [mm]."""

    diameter: Diameter
    spacing: Annotated[Millimetres, Field(le=1000.0)]

    @model_validator(mode="after")
    def _concrete_between(self) -> Parallel:
        if self.spacing - self.diameter < CLEAR:
            raise ValueError(
                f"bars of {self.diameter:g} mm at {self.spacing:g} mm leave {self.spacing - self.diameter:g} mm of "
                f"concrete between them; {CLEAR:g} mm or more is wanted"
            )
        return self


Span = tuple[Coordinate, Coordinate]


@record
class Additional(Parallel):
    """Additional bars of a layer inside a polygon [m], for points no further from its plane than `within` [m].

    Instead of the polygon `along` and `across` the bars, from and to [m], in the plan of the zone.
    """

    layer: str
    polygon: tuple[Place, ...] = ()
    within: Metres = 0.2
    along: Span | None = None
    across: Span | None = None

    @model_validator(mode="after")
    def _has_area(self) -> Additional:
        if self.along is not None or self.across is not None:
            if self.along is None or self.across is None or self.polygon:
                raise ValueError("along and across go together, without a polygon; give both [from, to] in m")
            if self.along[1] <= self.along[0] or self.across[1] <= self.across[0]:
                raise ValueError("along and across run from the smaller to the larger place; turn them round")
            return self
        if len(set(self.polygon)) < 3:
            raise ValueError("a polygon needs three different places or more: polygon = [[x, y, z], ...] in m")
        return self


@record
class Rule(Model):
    """Bars that may be chosen for a zone: diameters, spacings from..to in steps [mm]."""

    diameters: tuple[Diameter, ...] = (8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 25.0, 28.0, 32.0)
    spacing_min: Millimetres = 100.0
    spacing_max: Millimetres = 250.0
    spacing_step: Millimetres = 25.0

    @model_validator(mode="after")
    def _can_be_chosen(self) -> Rule:
        if not self.diameters:
            raise ValueError("no diameter; give one or more")
        if self.spacing_max < self.spacing_min:
            raise ValueError(
                f"spacings from {self.spacing_min:g} to {self.spacing_max:g} mm; give spacing_max not below spacing_min"
            )
        if self.spacing_max > 1000.0 or self.spacing_min < 40.0:
            raise ValueError(
                f"spacings from {self.spacing_min:g} to {self.spacing_max:g} mm; from 40 to 1000 mm is wanted"
            )
        if (self.spacing_max - self.spacing_min) / self.spacing_step > 200.0:
            raise ValueError(
                f"spacing_step = {self.spacing_step:g} mm gives more than 200 spacings; a larger step is wanted"
            )
        if self.spacing_max - min(self.diameters) < CLEAR:
            raise ValueError(
                f"no diameter leaves {CLEAR:g} mm between bars at {self.spacing_max:g} mm; give wider spacings"
            )
        return self

    @property
    def spacings(self) -> tuple[float, ...]:
        """Spacings that may be chosen [mm]."""
        count = int((self.spacing_max - self.spacing_min) / self.spacing_step + 1e-9)
        return tuple(self.spacing_min + i * self.spacing_step for i in range(count + 1))


@record
class OwnLimits(Model):
    """Limits of a zone beside those of the standard.

    Attributes
    ----------
    minimum_steel : float or dict
        Steel that every point has at least [mm2/m], of all layers or of each by its name.
    bar_ratio : float, optional
        Largest diameter of bars over the thickness.
    """

    minimum_steel: NotNegative | dict[str, NotNegative] = Field(default_factory=dict)
    bar_ratio: Annotated[float, Field(gt=0.0, le=0.5)] | None = None


@record
class EdgeBars(Model):
    """Bars at the free edges and openings of a zone that has bars.

    Attributes
    ----------
    u_bars : bool
        Whether U-bars close its free edges.
    openings : bool
        Whether bars that openings cut are replaced beside them, half on each side.
    corners : bool
        Whether a diagonal bar a face lies at each corner of an opening.
    """

    u_bars: bool = True
    openings: bool = True
    corners: bool = True


@record
class ColumnBars(Model):
    """Bars over and through the columns that `[punching]` has on a zone.

    Attributes
    ----------
    panel : tuple of float, optional
        Widths of the panels along the x and the y bars of the zone [m]; those to the next columns, or to the edge of
        the slab, by default.
    through : bool
        Whether bottom bars pass through each column.
    """

    panel: tuple[Metres, Metres] | None = None
    through: bool = True


@record
class Arranged(Model):
    """How the bars of a zone are laid out by its rule: a base mesh over all, additional bars in rectangles.

    Attributes
    ----------
    rectangles : int
        Rectangles of a layer at most.
    length, width : float
        Shortest sides along and across the bars [m].
    module : float
        Grid of the edges of rectangles [m].
    price : float
        Steel that one rectangle more has to save at least [kg].
    seconds : float
        Longest time for the optimum of each base mesh that is looked at; one that is reached may lie elsewhere on
        another machine [s].
    stock : float
        Longest bars [m].
    symmetric : {'none', 'x', 'y', 'both'}
        Along which bars the layout is the same on both sides of the middle of the zone.
    """

    rectangles: Annotated[int, Field(ge=0, le=40)] = 8
    length: Metres = 1.0
    width: Metres = 1.0
    module: Annotated[Metres, Field(ge=0.05)] = 0.25
    price: NotNegative = 5.0
    seconds: Annotated[Positive, Field(le=600.0)] = 20.0
    stock: Annotated[Metres, Field(ge=2.0)] = 12.0
    symmetric: Literal["none", "x", "y", "both"] = "none"
