"""An isolated wall on its strip footing: bearing pressure with uplift, sliding, overturning, shear and bending."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.section import Concrete, Steel
from sandwich.core.trace import clause
from sandwich.design.bar_sets import ParallelBars
from sandwich.design.walls.sections import SectionStrength
from sandwich.mechanics.planesection import PlaneSection
from sandwich.standards.arrangement import Arrangement
from sandwich.standards.interface import MemberCheck, ShearSection, Standard
from sandwich.standards.interface.member import MemberLaw

Floats = NDArray[np.float64]
STRIP: Final = 1000.0  # mm


@dataclass(frozen=True)
class Footing:
    """A strip footing under a wall, along which moment and shear act [mm], and its bars across and along.

    `cover` is that to the lower bars, which run across.
    """

    length: float
    width: float
    depth: float
    wall_length: float
    wall_thickness: float
    cover: float
    across: ParallelBars
    along: ParallelBars

    @property
    def overhangs(self) -> tuple[float, float]:
        """Across the wall, and past its ends [mm]."""
        return (self.width - self.wall_thickness) / 2.0, (self.length - self.wall_length) / 2.0

    @property
    def depths(self) -> tuple[float, float]:
        """Effective depths of the bars across and along [mm]."""
        first = self.depth - self.cover - self.across.diameter / 2.0
        return first, first - (self.across.diameter + self.along.diameter) / 2.0


@dataclass(frozen=True)
class FootingForces:
    """Forces of k combinations at the foot of the footing: N compression positive [N], M [N mm], V [N], (k,)."""

    N: Floats
    M: Floats
    V: Floats


@clause("equilibrium", formula="q = N/(B L)(1 + 6 e/L) up to e = L/6, then 2 N/(3 B (L/2 - e)); e = M/N")
def q_max(N: Floats, M: Floats, B: float, L: float) -> Floats:
    """Largest pressure under a footing that does not pull.

    Parameters
    ----------
    N : ndarray
        Vertical force, compression positive [N].
    M : ndarray
        Moment about the middle [N mm].
    B : float
        Width [mm].
    L : float
        Length in the direction of the moment [mm].

    Returns
    -------
    q_max : ndarray
        Pressure [MPa]; inf where the footing overturns.

    References
    ----------
    Equilibrium; linear pressure without tension.

    Examples
    --------
    >>> q_max(np.array([600e3, 600e3]), np.array([0.0, 900e6]), 1500.0, 4000.0).tolist()
    [0.1, 0.5333333333333333]
    """
    N, M = np.asarray(N, dtype=float), np.abs(np.asarray(M, dtype=float))
    with np.errstate(divide="ignore", invalid="ignore"):
        e = np.where(N > 0.0, M / np.where(N > 0.0, N, 1.0), np.inf)
        whole = N / (B * L) * (1.0 + 6.0 * e / L)
        part = 2.0 * N / (3.0 * B * (L / 2.0 - e))
    return np.where(e <= L / 6.0, whole, np.where(e < L / 2.0, part, np.inf))


@clause("equilibrium", formula="R = mu N + passive pressure B D")
def sliding_resistance(N: Floats, mu: float, passive: float, B: float, D: float) -> Floats:
    """Resistance of a footing against sliding.

    Parameters
    ----------
    N : ndarray
        Vertical force, compression positive [N].
    mu : float
        Coefficient of friction [-].
    passive : float
        Passive pressure on its end [MPa].
    B, D : float
        Width and depth [mm].

    Returns
    -------
    sliding_resistance : ndarray
        Force [N].

    References
    ----------
    Equilibrium.

    Examples
    --------
    >>> float(sliding_resistance(np.array(600e3), 0.5, 0.05, 1500.0, 400.0))
    330000.0
    """
    return mu * np.maximum(N, 0.0) + passive * B * D


@clause("equilibrium", formula="factor = N L/2 / M")
def overturning_factor(N: Floats, M: Floats, L: float) -> Floats:
    """Stabilising over overturning moment about the edge of a footing.

    Parameters
    ----------
    N : ndarray
        Vertical force, compression positive [N].
    M : ndarray
        Moment about the middle [N mm].
    L : float
        Length in the direction of the moment [mm].

    Returns
    -------
    overturning_factor : ndarray
        Factor [-]; inf without a moment.

    References
    ----------
    Equilibrium.

    Examples
    --------
    >>> float(overturning_factor(np.array(600e3), np.array(600e6), 4000.0))
    2.0
    """
    size = np.abs(np.asarray(M, dtype=float))
    with np.errstate(divide="ignore"):
        return np.where(size > 0.0, np.maximum(N, 0.0) * L / 2.0 / np.where(size > 0.0, size, 1.0), np.inf)


def ground_checks(
    f: Footing,
    forces: FootingForces,
    *,
    pressure: float,
    friction: float,
    passive: float,
    sliding: float,
    overturning: float,
) -> list[MemberCheck]:
    """Pressure, sliding and overturning in service combinations; `sliding` and `overturning` are factors of safety."""
    q = q_max(forces.N, forces.M, f.width, f.length)
    holds = sliding_resistance(forces.N, friction, passive, f.width, f.depth)
    turns = overturning_factor(forces.N, forces.M, f.length)
    lifted = np.abs(forces.M) > forces.N * f.length / 6.0
    told = ((lifted & np.isfinite(q), "part of the footing lifts"), (~np.isfinite(q), "the footing topples"))
    note = "; ".join(f"{what} in {of.sum()} of {len(q)} combinations" for of, what in told if of.any())
    return [
        MemberCheck("bearing pressure", "equilibrium", 1e3 * q, np.full(q.shape, 1e3 * pressure), "kN/m2", note),
        MemberCheck("sliding", "equilibrium", sliding * np.abs(forces.V), holds, "N"),
        MemberCheck("overturning", "equilibrium", np.full(q.shape, overturning), turns, "-"),
    ]


def section_checks(
    f: Footing,
    forces: FootingForces,
    weight: Floats,
    concrete: Concrete,
    steel: Steel,
    standard: Standard,
    situation: str,
) -> list[MemberCheck]:
    """Bending and shear of both overhangs in ultimate combinations of one situation, minimum steel.

    Parameters
    ----------
    f : Footing
        The footing.
    forces : FootingForces
        At its foot.
    weight : ndarray, shape (k,)
        Pressure of what lies on it, its own weight with it, which bends it back [MPa].
    concrete, steel, standard, situation
        Materials, the standard, what picks the partial factors.

    Returns
    -------
    list of MemberCheck
        Of the whole largest pressure over each overhang, on the safe side.
    """
    q = q_max(forces.N, forces.M, f.width, f.length)
    net = np.where(np.isfinite(q), np.maximum(q - weight, 0.0), np.inf)
    out = []
    law = standard.member_law(concrete, steel, situation)
    layers = Arrangement(
        np.array([f.depths]), np.array([0.0, np.pi / 2.0]), np.ones(2, dtype=np.int64),
        np.array([f.across.diameter, f.along.diameter]),
    )  # fmt: skip
    laid = np.array([[f.across.area, f.along.area]])  # the lighter way has its part of the other
    least = 1e3 * standard.minimum_steel("slab", concrete, steel, np.array([f.depth]), layers, laid)[0]
    for i, (way, overhang, d, bars) in enumerate(
        zip(("across", "along"), f.overhangs, f.depths, (f.across, f.along), strict=True)
    ):
        if overhang > 0.0:
            of = ShearSection(
                concrete=concrete, steel=steel, situation=situation, d=np.array([d]), h=np.array([f.depth]),
                rho_l=np.array([bars.area / d]), sigma=np.zeros(1),
            )  # fmt: skip
            out += _overhang(way, overhang, net, of, law, standard)
        by, there = standard.clauses["minimum of slabs"], np.array([1e3 * bars.area])
        out.append(MemberCheck(f"minimum steel {way}", by, least[[i]], there, "mm2/m"))
    return out


def _overhang(
    way: str, overhang: float, net: Floats, of: ShearSection, law: MemberLaw, standard: Standard
) -> list[MemberCheck]:
    """Bending and shear of a metre of an overhang [mm] under a pressure (k,) [MPa]."""
    d, h, rho_l = (float(np.ravel(v)[0]) for v in (of.d, of.h, of.rho_l))
    m = net * overhang**2 / 2.0 * STRIP
    section = PlaneSection.of(
        [[(0, 0), (STRIP, 0), (STRIP, h), (0, h)]], [(STRIP / 2.0, h - d)], [STRIP * rho_l * d], trusted=True
    )
    carried = SectionStrength(section, law).at_axis(np.pi / 2.0, 0.0)
    capacity = np.full(m.shape, float(np.hypot(carried.Mx, carried.My)))
    v = net * (overhang - d) if overhang > d else np.zeros(net.shape)  # a footing that topples has no finite net
    holds = np.full(v.shape, float(standard.shear_resistance(of)[0]) * STRIP)
    return [
        MemberCheck(f"bending {way}", law.clause, m, capacity, "N mm"),
        MemberCheck(f"shear {way}", standard.clauses["shear"], v * STRIP, holds, "N"),
    ]
