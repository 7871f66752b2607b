"""Sections: thickness, bar layers at true depth, and materials by their characteristic strengths."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import Final, Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.errors import check_choice, check_kind, check_number

BARS: Final = ("bottom x", "bottom y", "top x", "top y")
CYLINDER_OF_CUBE: Final = 0.8
STEEL_DENSITY: Final = 7.85e-6  # kg/mm3
CLOSEST: Final = 15.0  # deg between bars of one face that count as two directions
MOST_LINES: Final = 3  # layers a face
WEIGHTS: Final = (1e-3, 1e3)  # of the bars of a layer in the total
Layout = Literal["both", "bottom", "top", "mid-depth"]


@dataclass(frozen=True)
class Concrete:
    """Concrete by its characteristic strength f_ck [MPa], of cylinders or of cubes.

    A standard that is given the other kind takes the cylinder strength for 0.8 of the cube strength.
    """

    f_ck: float
    kind: Literal["cylinder", "cube"] = "cylinder"

    def __post_init__(self) -> None:
        check_choice("kind", self.kind, ("cylinder", "cube"))
        check_number("f_ck", self.f_ck, -inf, inf, " MPa")
        if not 12.0 <= self.cylinder <= 90.0:
            limits = (
                "a cylinder strength from 12 to 90" if self.kind == "cylinder" else "a cube strength from 15 to 112.5"
            )
            raise ValueError(f"f_ck = {self.f_ck:g} MPa; {limits} MPa is wanted")

    @property
    def cylinder(self) -> float:
        """Cylinder strength [MPa]."""
        return self.f_ck if self.kind == "cylinder" else CYLINDER_OF_CUBE * self.f_ck

    @property
    def cube(self) -> float:
        """Cube strength [MPa]."""
        return self.f_ck if self.kind == "cube" else self.f_ck / CYLINDER_OF_CUBE


@dataclass(frozen=True)
class Steel:
    """Reinforcing steel by its yield strength f_yk and modulus E_s [MPa]."""

    f_yk: float
    E_s: float = 200_000.0

    def __post_init__(self) -> None:
        check_number("f_yk", self.f_yk, -inf, inf, " MPa")
        check_number("E_s", self.E_s, 1e5, 3e5, " MPa")
        if not 200.0 <= self.f_yk <= 700.0:
            raise ValueError(f"f_yk = {self.f_yk:g} MPa; a yield strength from 200 to 700 MPa is wanted")


@dataclass(frozen=True)
class BarLine:
    """One layer of parallel bars: direction from x towards y [deg], diameter [mm], weight in the total [-]."""

    angle: float
    diameter: float = 12.0
    weight: float = 1.0

    def __post_init__(self) -> None:
        check_number("weight", self.weight, *WEIGHTS)
        for name in ("angle", "diameter"):
            check_number(name, getattr(self, name), -inf, inf)
        if not -180.0 <= self.angle <= 180.0:
            raise ValueError(f"angle = {self.angle:g} degrees; a direction from -180 to 180 is wanted")
        if not self.diameter > 0.0:
            raise ValueError(f"diameter = {self.diameter:g} mm; more than zero is wanted")

    @property
    def name(self) -> str:
        """x, y or the angle."""
        turned = self.angle % 180.0
        return {0.0: "x", 90.0: "y"}.get(turned, f"{self.angle:g} deg")


@dataclass(frozen=True)
class BarLayers:
    """Where the bars of a zone lie: covers, assumed diameters and which direction is outermost.

    Attributes
    ----------
    cover_bottom, cover_top : float
        Clear cover to the outermost bars [mm].
    diameter_x, diameter_y : float
        Assumed diameters [mm]; the depths follow from them.
    top_diameter_x, top_diameter_y : float, optional
        Those of the top face where they differ [mm].
    outer : {'x', 'y'}
        Direction of the outermost layer of both faces.
    layout : {'both', 'bottom', 'top', 'mid-depth'}
        Bars on both faces, on one face, or one curtain at mid-depth (x on the bottom side of it).
    bottom, top : tuple of BarLine
        Layers of each face in any directions, the outermost first; where given they replace the diameters,
        the outer direction and the layout.
    weight_x, weight_y : float
        Weight of the bars of a direction in the total that is minimised; lines have their own.
    top_turn : float
        Angle from the directions of the bottom face to those of the top face, which may run in a field of their own
        [rad].
    """

    cover_bottom: float = 30.0
    cover_top: float = 30.0
    diameter_x: float = 12.0
    diameter_y: float = 12.0
    outer: Literal["x", "y"] = "x"
    layout: Layout = "both"
    bottom: tuple[BarLine, ...] = ()
    top: tuple[BarLine, ...] = ()
    weight_x: float = 1.0
    weight_y: float = 1.0
    top_turn: float = 0.0
    top_diameter_x: float | None = None
    top_diameter_y: float | None = None

    def __post_init__(self) -> None:
        check_choice("outer", self.outer, ("x", "y"))
        check_choice("layout", self.layout, ("both", "bottom", "top", "mid-depth"))
        for name in ("cover_bottom", "cover_top", "diameter_x", "diameter_y", "top_turn"):
            check_number(name, getattr(self, name), -inf, inf)
        for name in ("weight_x", "weight_y"):
            check_number(name, getattr(self, name), *WEIGHTS)
        for face in ("bottom", "top"):
            for line in getattr(self, face):
                check_kind(face, line, BarLine, "BarLine(45.0)")
        for name in ("cover_bottom", "cover_top"):
            if not getattr(self, name) >= 0.0:
                raise ValueError(f"{name} = {getattr(self, name):g} mm; zero or more is wanted")
        of_top = [(n, " mm") for n in ("top_diameter_x", "top_diameter_y") if getattr(self, n) is not None]
        for name, unit in (("diameter_x", " mm"), ("diameter_y", " mm"), *of_top):
            if not getattr(self, name) > 0.0:
                raise ValueError(f"{name} = {getattr(self, name):g}{unit}; more than zero is wanted")
        for face, lines in (("bottom", self.bottom), ("top", self.top)):
            if len(lines) > MOST_LINES:
                raise ValueError(f"{len(lines)} layers at the {face}; {MOST_LINES} or fewer are wanted")
            for i, one in enumerate(lines):
                for other in lines[:i]:
                    apart = abs(np.sin(np.radians(one.angle - other.angle)))
                    if np.sin(np.radians(0.5)) < apart < np.sin(np.radians(CLOSEST)) - 1e-9:
                        found = f"bars at {other.angle:g} and {one.angle:g} degrees at the {face}"
                        raise ValueError(f"{found}; {CLOSEST:g} degrees apart or more, or the same direction is wanted")

    @property
    def lines(self) -> bool:
        """Whether the layers are given one by one, in any directions."""
        return bool(self.bottom or self.top)

    @property
    def weights(self) -> NDArray[np.float64]:
        """Weight of each layer in the total, shape (b,)."""
        if self.lines:
            return np.array([b.weight for b in (*self.bottom, *self.top)])
        return np.array([self.weight_x, self.weight_y] * 2)

    @property
    def closed_form(self) -> bool:
        """Whether bars along x and y of equal weight have their closed form."""
        return not self.lines and self.weight_x == self.weight_y and self.top_turn == 0.0

    @property
    def angles(self) -> NDArray[np.float64]:
        """Directions of the layers from x towards y [rad], shape (b,)."""
        each = [b.angle for b in (*self.bottom, *self.top)] if self.lines else [0.0, 90.0, 0.0, 90.0]
        return np.asarray(np.radians(each) + np.where(self.sides < 0, self.top_turn, 0.0))

    @property
    def diameters(self) -> NDArray[np.float64]:
        """Assumed diameters of the layers [mm], shape (b,)."""
        if self.lines:
            return np.array([b.diameter for b in (*self.bottom, *self.top)])
        bottom = [self.diameter_x, self.diameter_y]
        top = [self.top_diameter_x or self.diameter_x, self.top_diameter_y or self.diameter_y]
        return np.array(bottom + (bottom if self.layout == "mid-depth" else top))

    @property
    def sides(self) -> NDArray[np.int64]:
        """Face of each layer: 1 bottom, -1 top, 0 a curtain at mid-depth, shape (b,)."""
        if self.lines:
            return np.array([1] * len(self.bottom) + [-1] * len(self.top))
        return np.array([0, 0, 0, 0] if self.layout == "mid-depth" else [1, 1, -1, -1])

    def names(self, bottom: str = "bottom", top: str = "top") -> tuple[str, ...]:
        """Names of the layers with names of the faces; a lone curtain is called so."""
        if self.lines:
            out: list[str] = []
            for face, lines in ((bottom, self.bottom), (top, self.top)):
                for i, line in enumerate(lines):
                    same = sum(b.name == line.name for b in lines[:i])
                    out.append(f"{face} {line.name}" + (f" {same + 1}" if same else ""))
            return tuple(out)
        if self.layout == "mid-depth":
            bottom = "curtain"
        return (f"{bottom} x", f"{bottom} y", f"{top} x", f"{top} y")

    def axes(self, h: ArrayLike) -> NDArray[np.float64]:
        """Distance of each bar axis from mid-depth.

        Parameters
        ----------
        h : array_like, shape (...)
            Thickness [mm].

        Returns
        -------
        ndarray, shape (..., b)
            e of the layers [mm], positive towards the bottom; of `BARS`, nan where there is no bar, unless the
            layers are given one by one.

        Raises
        ------
        ValueError
            If a bar would lie outside the section or past its mid-depth.
        """
        h = np.asarray(h, dtype=float)
        if self.lines:
            return self._axes_of_lines(h)
        e = np.full((*h.shape, 4), np.nan)
        if self.layout == "mid-depth":
            e[..., 0], e[..., 1] = 0.5 * self.diameter_y, -0.5 * self.diameter_x
            if self.outer == "y":
                e *= -1.0
            reach = np.maximum(np.abs(e[..., 0]) + self.diameter_x / 2, np.abs(e[..., 1]) + self.diameter_y / 2)
            if np.any(reach > h / 2):
                raise ValueError(_outside(h, "the curtain at mid-depth is thicker than the section"))
            return e
        depths = self._depths()
        for i in range(2):
            if self.layout in ("both", "bottom"):
                e[..., i] = h / 2 - depths[i]
            if self.layout in ("both", "top"):
                e[..., i + 2] = -(h / 2 - depths[i + 2])
        for i, side in enumerate((1, 1, -1, -1)):
            past = e[..., i] * side <= 0.0
            if np.any(past):
                what = f"the {BARS[i]} bar axis is {depths[i]:g} mm below the face, past mid-depth"
                raise ValueError(_outside(h[past], what))
        return e

    def _depths(self) -> list[float]:
        """Depth of each bar axis below its own face [mm]."""
        out = []
        for cover, (x, y) in ((self.cover_bottom, self.diameters[:2]), (self.cover_top, self.diameters[2:])):
            out += [cover + x / 2, cover + x + y / 2] if self.outer == "x" else [cover + y + x / 2, cover + y / 2]
        return [float(d) for d in out]

    def _axes_of_lines(self, h: NDArray[np.float64]) -> NDArray[np.float64]:
        e: list[NDArray[np.float64]] = []
        names = self.names()
        for side, cover, lines in ((1, self.cover_bottom, self.bottom), (-1, self.cover_top, self.top)):
            depth = cover
            for line in lines:
                axis = depth + line.diameter / 2
                past = h / 2 - axis <= 0.0
                if np.any(past):
                    what = f"the {names[len(e)]} bar axis is {axis:g} mm below the face, past mid-depth"
                    raise ValueError(_outside(h[past], what))
                e.append(side * (h / 2 - axis))
                depth += line.diameter
        return np.stack(e, axis=-1)


def _outside(h: NDArray[np.float64], what: str) -> str:
    return f"with thickness {np.min(h):g} mm {what}; use less cover, smaller bars or a thicker section"


@dataclass(frozen=True)
class Section:
    """One section: thickness h [mm], bar layers, concrete and steel."""

    h: float
    bars: BarLayers = BarLayers()
    concrete: Concrete = Concrete(30.0)
    steel: Steel = Steel(500.0)

    def __post_init__(self) -> None:
        check_number("h", self.h, -inf, inf, " mm")
        check_kind("bars", self.bars, BarLayers, "BarLayers(30.0, 30.0)")
        check_kind("concrete", self.concrete, Concrete, "Concrete(30.0)")
        check_kind("steel", self.steel, Steel, "Steel(500.0)")
        if not self.h > 0.0:
            raise ValueError(f"h = {self.h:g} mm; more than zero is wanted")
        self.bars.axes(self.h)
