"""Bar sets: parallel bars, the rule they are chosen by, a base mesh with additional bars in places."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.bar_sizes import size
from sandwich.core.shown import Shown
from sandwich.design.record import Ultimate

Floats = NDArray[np.float64]


NO_MESH: Final = "no bars of the rule are enough"


@dataclass(frozen=True)
class BarRule:
    """What may be chosen: diameters [mm], spacings from..to in steps [mm], with minimum concrete between bars [mm]."""

    diameters: tuple[float, ...]
    spacings: tuple[float, ...]
    clear: float = 0.0


@dataclass(frozen=True)
class ParallelBars:
    """Parallel bars: diameter and spacing [mm]."""

    diameter: float
    spacing: float

    @property
    def area(self) -> float:
        """Area per width [mm2/mm]."""
        return math.pi * self.diameter**2 / 4.0 / self.spacing

    def __str__(self) -> str:
        return f"{size(self.diameter)}/{self.spacing:g}"

    def in_units(self, shown: Shown) -> str:
        """Diameter and spacing in the units shown."""
        by = shown.factor("mm")
        return str(self) if by == 1.0 else f"{size(self.diameter, by)}/{self.spacing * by:.3g}"


def choose(required: float, rule: BarRule) -> ParallelBars | None:
    """Bars of minimum area that give what is required [mm2/mm]; of equal ones the widest spacing; None if none do.

    Examples
    --------
    >>> str(choose(1.0, BarRule((10.0, 12.0, 16.0), (100.0, 150.0, 200.0))))
    '16/200'
    """
    options = [ParallelBars(d, s) for d in rule.diameters for s in rule.spacings if s - d >= rule.clear]
    enough = [o for o in options if o.area >= required * (1.0 - 1e-9)]
    return min(enough, key=lambda o: (round(o.area, 9), -o.spacing)) if enough else None


@dataclass(frozen=True)
class ExtraBars:
    """Additional bars of a layer: the points that have them, and the place.

    Attributes
    ----------
    layer : int
        Number of the layer.
    bars : ParallelBars
        Diameter and spacing [mm].
    at : ndarray of bool, shape (p,)
        Points of the zone.
    region : tuple of float, optional
        From and to along the bars, from and to across them [mm] in the plan of the zone; None of a polygon in space.
    """

    layer: int
    bars: ParallelBars
    at: NDArray[np.bool_]
    region: tuple[float, float, float, float] | None = None


@dataclass(frozen=True)
class LayerBound:
    """Steel of a layer that was laid out, with anchorage and the prices of marks, and the lower bound [kg]."""

    layer: int
    mass: float
    bound: float

    @property
    def gap(self) -> float:
        """How far the steel is above its bound at most [-]; 0 where rounding alone parts them."""
        gap = self.mass / self.bound - 1.0
        return gap if gap > 1e-8 else 0.0


@dataclass(frozen=True)
class Given:
    """Bars of a zone.

    Attributes
    ----------
    base : tuple of ParallelBars or None
        Base mesh of each layer, None without one.
    area : ndarray, shape (p, b)
        Of all bars [mm2/mm].
    chosen : bool
        Whether they were chosen by rule.
    extra : tuple of ExtraBars
        Additional bars.
    bounds : tuple of LayerBound
        Of layers that were laid out.
    most : tuple of int
        Layers that have the most of the rule, which is not enough.
    """

    base: tuple[ParallelBars | None, ...]
    area: Floats
    chosen: bool
    extra: tuple[ExtraBars, ...] = ()
    bounds: tuple[LayerBound, ...] = ()
    most: tuple[int, ...] = ()

    @property
    def diameters(self) -> Floats:
        """Thickest bar of each layer [mm], 0 without bars."""
        out = np.array([b.diameter if b is not None else 0.0 for b in self.base])
        for e in self.extra:
            out[e.layer] = max(out[e.layer], e.bars.diameter)
        return out

    @property
    def thinnest(self) -> Floats:
        """Thinnest bar of each layer [mm], 0 without bars."""
        out = np.array([b.diameter if b is not None else np.inf for b in self.base])
        for e in self.extra:
            out[e.layer] = min(out[e.layer], e.bars.diameter)
        return np.where(np.isfinite(out), out, 0.0)


def choose_mesh(u: Ultimate, there: NDArray[np.bool_], rules: Sequence[BarRule]) -> Given:
    """Base mesh for the most any point requires, else the heaviest of the rule of a layer; `there` (b,) exist."""
    needs = np.where(np.isfinite(u.a_s), u.a_s, 0.0).max(0, initial=0.0)
    found = [choose(float(need), r) if t else None for need, t, r in zip(needs, there, rules, strict=True)]
    most = tuple(i for i, b in enumerate(found) if there[i] and b is None)
    heaviest = [max(arrangements(r), key=lambda b: b.area, default=None) for r in rules]
    base = tuple(heaviest[i] if i in most else b for i, b in enumerate(found))
    area = np.array([b.area if b is not None else 0.0 for b in base])
    return Given(base, np.broadcast_to(area, u.a_s.shape).copy(), chosen=True, most=most)


def arrangements(rule: BarRule) -> list[ParallelBars]:
    """All bars of a rule by rising area; of equal ones the widest spacing."""
    found = [ParallelBars(d, s) for d in rule.diameters for s in rule.spacings if s - d >= rule.clear]
    return sorted(found, key=lambda o: (round(o.area, 9), -o.spacing))
