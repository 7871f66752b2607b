"""Feet of parts of seismic walls: where they stand, what presses their ends, what they carry."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from sandwich.design.walls.bars import WallSteel
from sandwich.design.walls.checks import SEISMIC
from sandwich.design.walls.plane import strain_plane
from sandwich.design.walls.sections import SectionStrength
from sandwich.work.walls.checks import CheckedPart

Floats = NDArray[np.float64]
ENDS = ("left", "right")


@dataclass(frozen=True)
class Pressed:
    """Demands at the foot that press one end."""

    N: Floats
    M: Floats
    c: Floats
    worst: int  # its combination
    strain: Callable[[], float]


@dataclass(frozen=True)
class Place:
    """Where a part stands in its wall: lowest part under it, heights of wall and part above the base, basement."""

    foot: CheckedPart
    h_w: float
    z: float
    storeys: int
    basement: float


def under(low: CheckedPart, high: CheckedPart) -> bool:
    """Whether a part stands under another of the same panel, or is it."""
    a, b = low.part, high.part
    inside = a.a <= (b.a + b.b) / 2.0 <= a.b
    return (a.wall, a.panel) == (b.wall, b.panel) and a.kind.upright and a.low <= b.low and inside


def seismic_foot(c: CheckedPart) -> NDArray[np.int64]:
    """Numbers of the seismic demands at the foot of a part."""
    d = c.member.demand
    return np.flatnonzero((c.member.situations[d.combination] == SEISMIC) & (d.station == 0))


def pressed_ends(c: CheckedPart, steel: WallSteel, sense: float) -> dict[str, Pressed] | None:
    """Demands at the foot that press each end."""
    d, at = c.member.demand, seismic_foot(c)
    if not len(at):
        return None
    strength = c.member.strengths.of(c.geometry, steel, c.member.of, SEISMIC)
    nominal, out = strength.unreduced, {}
    for name, way in zip(ENDS, (-1.0, 1.0), strict=True):
        # a moment that presses this end whole, or not at all; without one both ends are pressed alike
        pressing = np.maximum(way * d.M[at] * sense, 0.0)
        # the deepest neutral axis is that beside the largest compression
        s = nominal.strength(d.N[at].min(), 0.0, way * sense, ray=False)
        depth = np.where(np.isfinite(s.c), s.c, c.geometry.length)
        N = np.maximum(-d.N[at], 0.0)
        i = int(np.argmax(pressing + 0.5 * N * c.geometry.length))
        strain = partial(_strain, strength, float(d.N[at[i]]), float(way * sense * pressing[i]))
        out[name] = Pressed(N, pressing, depth, int(d.combination[at[i]]), lru_cache(strain))
    return out


def _strain(strength: SectionStrength, N: float, M: float) -> float:
    """Largest compressive strain of the concrete under a demand in the plane [-], inf where it is not carried."""
    try:
        return float(strain_plane(strength.section, strength.law, N, 0.0, M).corner)
    except ValueError:
        return math.inf


def sense_of(strength: SectionStrength) -> float:
    """Sign of the moment in the plane that presses the right end."""
    s = strength.strength(0.0, 0.0, 1.0, ray=False)
    return 1.0 if math.cos(float(s.theta[0])) > 0.0 else -1.0


def base_of(foot: CheckedPart) -> tuple[float, float, float]:
    """Largest moment and shear of seismic combinations at the base, and the moment that is carried there."""
    d, at = foot.member.demand, seismic_foot(foot)
    if not len(at):
        return 0.0, 0.0, 0.0
    i = int(at[np.argmax(np.abs(d.M[at]))])
    strength = foot.member.strengths.of(foot.geometry, foot.steel, foot.member.of, SEISMIC)
    carried = float(strength.strength(d.N[i], 0.0, d.M[i], ray=False).moment[0])
    return float(np.abs(d.M[at]).max()), float(d.V[at].max()), carried if math.isfinite(carried) else 0.0


def unreduced(foot: CheckedPart, over: float) -> float:
    """Moment at the base with so much of f_y and no reduction, the largest beside the axial forces there [N mm]."""
    d, at = foot.member.demand, seismic_foot(foot)
    if not len(at) or not isinstance(foot.steel, WallSteel):
        return 0.0
    plain = foot.member.strengths.of(foot.geometry, foot.steel, foot.member.of, SEISMIC)
    # of the yield strength, whatever partial factor the law of the situation has
    strong = replace(plain.law.steel, strength=over * foot.member.of.steel.f_yk)
    strength = SectionStrength(plain.section, replace(plain.law, steel=strong), nominal=True)
    moments = strength.strength(d.N[at], 0.0 * d.N[at], np.where(d.M[at] < 0.0, -1.0, 1.0), ray=False).moment
    return float(np.nanmax(moments, initial=0.0))
