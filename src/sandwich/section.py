"""Sections: thickness, bar layers at true depth, and materials by their characteristic strengths."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

BARS: Final = ("bottom x", "bottom y", "top x", "top y")
Layout = Literal["both", "bottom", "top", "mid-depth"]


@dataclass(frozen=True)
class Concrete:
    """Concrete by its characteristic cylinder strength f_ck [MPa]."""

    f_ck: float

    def __post_init__(self) -> None:
        if not 12.0 <= self.f_ck <= 90.0:
            raise ValueError(f"f_ck = {self.f_ck:g} MPa; a cylinder strength from 12 to 90 MPa is wanted")


@dataclass(frozen=True)
class Steel:
    """Reinforcing steel by its yield strength f_yk and modulus E_s [MPa]."""

    f_yk: float
    E_s: float = 200_000.0

    def __post_init__(self) -> None:
        if not 200.0 <= self.f_yk <= 700.0:
            raise ValueError(f"f_yk = {self.f_yk:g} MPa; a yield strength from 200 to 700 MPa is wanted")


@dataclass(frozen=True)
class BarLayers:
    """Where the bars of a zone lie: covers, assumed diameters and which direction is outermost.

    Attributes
    ----------
    cover_bottom, cover_top : float
        Clear cover to the outermost bars [mm].
    diameter_x, diameter_y : float
        Assumed diameters [mm]; the depths follow from them.
    outer : {'x', 'y'}
        Direction of the outermost layer of both faces.
    layout : {'both', 'bottom', 'top', 'mid-depth'}
        Bars on both faces, on one face, or one curtain at mid-depth (x on the bottom side of it).
    """

    cover_bottom: float = 30.0
    cover_top: float = 30.0
    diameter_x: float = 12.0
    diameter_y: float = 12.0
    outer: Literal["x", "y"] = "x"
    layout: Layout = "both"

    def __post_init__(self) -> None:
        for name in ("cover_bottom", "cover_top"):
            if not getattr(self, name) >= 0.0:
                raise ValueError(f"{name} = {getattr(self, name):g} mm; zero or more is wanted")
        for name in ("diameter_x", "diameter_y"):
            if not getattr(self, name) > 0.0:
                raise ValueError(f"{name} = {getattr(self, name):g} mm; more than zero is wanted")

    def names(self, bottom: str = "bottom", top: str = "top") -> tuple[str, ...]:
        """Names of `BARS` with other names of the faces; a lone curtain is called so."""
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
        ndarray, shape (..., 4)
            e of `BARS` [mm], positive towards the bottom, nan where there is no bar.

        Raises
        ------
        ValueError
            If a bar would lie outside the section or past its mid-depth.
        """
        h = np.asarray(h, dtype=float)
        e = np.full((*h.shape, 4), np.nan)
        if self.layout == "mid-depth":
            e[..., 0], e[..., 1] = 0.5 * self.diameter_y, -0.5 * self.diameter_x
            if self.outer == "y":
                e *= -1.0
            reach = np.maximum(np.abs(e[..., 0]) + self.diameter_x / 2, np.abs(e[..., 1]) + self.diameter_y / 2)
            if np.any(reach > h / 2):
                raise ValueError(_outside(h, "the curtain at mid-depth is thicker than the section"))
            return e
        first, second = self.diameter_x, self.diameter_y
        if self.outer == "y":
            first, second = second, first
        depths = [first / 2, first + second / 2]
        if self.outer == "y":
            depths.reverse()
        for i in range(2):
            if self.layout in ("both", "bottom"):
                e[..., i] = h / 2 - self.cover_bottom - depths[i]
            if self.layout in ("both", "top"):
                e[..., i + 2] = -(h / 2 - self.cover_top - depths[i])
        for i, side in enumerate((1, 1, -1, -1)):
            past = e[..., i] * side <= 0.0
            if np.any(past):
                cover = self.cover_bottom if side > 0 else self.cover_top
                what = f"the {BARS[i]} bar axis is {cover + depths[i % 2]:g} mm below the face, past mid-depth"
                raise ValueError(_outside(h[past], what))
        return e


def _outside(h: NDArray[np.float64], what: str) -> str:
    return f"with thickness {np.min(h):g} mm {what}; less cover, smaller bars or a thicker section would do"


@dataclass(frozen=True)
class Section:
    """One section: thickness h [mm], bar layers, concrete and steel."""

    h: float
    bars: BarLayers = BarLayers()
    concrete: Concrete = Concrete(30.0)
    steel: Steel = Steel(500.0)

    def __post_init__(self) -> None:
        if not self.h > 0.0:
            raise ValueError(f"h = {self.h:g} mm; more than zero is wanted")
        self.bars.axes(self.h)
