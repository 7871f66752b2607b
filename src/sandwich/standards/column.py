"""What punching asks of a standard, and what it answers: a loaded area of a slab under one combination."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import inf
from typing import Final, Literal, NamedTuple

import numpy as np

from sandwich.core.errors import check_number
from sandwich.core.shown import Words
from sandwich.core.situations import check_ultimate
from sandwich.core.trace import clause
from sandwich.mechanics.perimeter import Perimeter
from sandwich.standards.arrangement import Floats

Corners = Literal["round", "straight", "cut"]
Kind = Literal["column", "wall end", "wall corner", "loaded area"]
Shear = Literal["none", "links", "studs"]
# of a moment, from the sizes of the critical section in the direction of its eccentricity and across
Part = Callable[[float, float], float]


STATED: Final = {"wall end": 1.35, "wall corner": 1.2}  # beta, our reading: no standard here gives one


class ControlRule(NamedTuple):
    """Where a standard looks.

    Distance of the control perimeter over d, its corners, openings that count [mm], whether their shadow is widened;
    depths on both sides of an area over which steel ratios are means; of a wall the part that counts at its end or
    corner: up to so many depths of its thickness and of its perimeter; the radius that a rectangular head inside the
    slab counts with, by its sides [mm], where it counts as a circle.
    """

    distance: float
    corners: Corners
    reach: float
    widen: bool
    beside: float = 3.0
    wall_thickness: float = 2.8
    wall_perimeter: float = 5.6
    head: Callable[[float, float], float] | None = None


@dataclass(frozen=True)
class SlabColumn:
    """A loaded area of a slab, seen in plan about its middle.

    Attributes
    ----------
    kind : str
        Column, wall end, wall corner or loaded area.
    sides : ndarray, shape (v, 2)
        Corners of the area [mm].
    round : bool
        Whether it is a circle.
    edges : ndarray, shape (0 to 2, 2)
        Outward normals of the free edges that the control perimeter runs to [-].
    gaps : ndarray, shape (0 to 2,)
        Distance of the faces of the area from these edges [mm].
    face : float
        Length of the faces that touch the slab [mm].
    h, d : float
        Thickness and mean effective depth of the face in tension [mm].
    control : Perimeter
        Control perimeter.
    at : callable
        Perimeter at a distance from the faces [mm] with given corners.
    beta : float or None
        Factor of the unbalanced moment where it is stated [-].
    shear : str
        Punching reinforcement that may be used: none, links, studs.
    modified : bool
        Whether flexure may take more of the moment where the standard permits it, and bars are there for it.
    """

    kind: Kind
    sides: Floats
    round: bool
    edges: Floats
    gaps: Floats
    face: float
    h: float
    d: float
    control: Perimeter
    at: Callable[[float, Corners], Perimeter]
    beta: float | None = None
    shear: Shear = "none"
    modified: bool = False

    @property
    def place(self) -> str:
        """Where it stands: inside, edge, corner; walls, whose perimeter is open, as at an edge."""
        return ("inside", "edge", "corner")[max(len(self.edges), int(self.kind in STATED))]

    def size(self, direction: Floats) -> float:
        """Size along a direction [mm]."""
        return float(np.ptp(self.sides @ direction))


@dataclass(frozen=True)
class ColumnLoad:
    """One combination: force [N], its eccentricity moments V e along both axes [N mm], steel ratios, axial stress.

    The eccentricity is that of the reaction from the middle of the loaded area; the axial stress is the mean of
    both directions, compression positive [MPa].
    """

    situation: str
    V: float
    moment: Floats
    rho_x: float
    rho_y: float
    sigma: float

    def __post_init__(self) -> None:
        check_ultimate(self.situation)
        check_number("V", self.V, 0.0, inf, " N")
        for name in ("rho_x", "rho_y"):
            check_number(name, getattr(self, name), 0.0, 1.0)
        check_number("sigma", self.sigma, -inf, inf, " MPa")
        moment = np.asarray(self.moment, dtype=float)
        if moment.shape != (2,) or not np.isfinite(moment).all():
            raise ValueError(f"moment = {moment.tolist()} N mm; two finite numbers are wanted")


@dataclass(frozen=True)
class Reinforcement:
    """Punching reinforcement, a row a perimeter: from the face, length of the perimeter [mm], area [mm2], legs.

    `why` says why no reinforcement is enough, '' where it is; `reach` is the distance of the perimeter beyond which
    the slab needs none [mm].
    """

    distance: tuple[float, ...] = ()
    length: tuple[float, ...] = ()
    area: tuple[float, ...] = ()
    legs: tuple[int, ...] = ()
    reach: float = 0.0
    why: Words = ""


@dataclass(frozen=True)
class Punched:
    """Punching of one combination: stresses and resistances [MPa], at the control perimeter and at the face.

    `raised` is the factor on the bars in tension with which the slab holds without reinforcement; inf where none does.
    """

    v_Ed: float
    v_Rd_c: float
    v_face: float
    v_max: float
    raised: float
    reinforcement: Reinforcement | None = None

    @property
    def use(self) -> float:
        """Utilisation without punching reinforcement."""
        return self.v_Ed / self.v_Rd_c if self.v_Rd_c > 0.0 else np.inf

    @property
    def use_face(self) -> float:
        """Utilisation of the limit that no reinforcement raises."""
        return self.v_face / self.v_max


def spread(first: float, step: float, last: float, least: int = 2) -> tuple[float, ...]:
    """Distances of perimeters of reinforcement [mm]: from the first in steps until the last is covered."""
    count = max(int(np.ceil((last - first) / step - 1e-9)) + 1, least)
    return tuple(first + i * step for i in range(count))


def farthest(enough: Callable[[float], bool], start: float, d: float) -> float | None:
    """Minimum distance from the faces [mm] at which a condition holds; None if it does not within forty depths."""
    low, high = start, start
    while not enough(high):
        low, high = high, high + d
        if high > 40.0 * d:
            return None
    for _ in range(30):
        middle = (low + high) / 2.0
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def eccentric(column: SlabColumn, line: Perimeter, load: ColumnLoad, along: Part, across: Part | None = None) -> float:
    """Maximum stress on a critical section: the force, or the force times beta, else force and moments [MPa].

    `along` and `across`, by default the same, give the part of the moment of each axis that shear carries.
    """
    d = column.d
    if line.u <= 0.0:  # nothing of the slab is left there
        return np.inf
    if column.beta is not None:
        return column.beta * load.V / (line.u * d)
    size = np.maximum(line.extent, 1.0)
    carried = np.array([along(size[0], size[1]), (across or along)(size[1], size[0])])
    moment = carried * (load.moment - load.V * line.centroid)
    J, r = line.second_moments(d), line.worst_place(load.V, moment, d)
    return float(v_eccentric(load.V, line.u, d, moment[0], moment[1], J[0, 0], J[1, 1], J[0, 1], r[0], r[1]))


@clause(
    "ACI 318-19, R8.4.4.2.3; IS 456:2000, 31.6.2.2",
    formula="v = |V/(b_o d) + r . J^-1 M| where it is largest, M the part of the moment about the centroid",
)
def v_eccentric(
    V: float, b_o: float, d: float, M_1: float, M_2: float, J_11: float, J_22: float, J_12: float, r_1: float,
    r_2: float,
) -> float:  # fmt: skip
    """Maximum stress of a force and of moments that shear carries, varying linearly over the critical section.

    Parameters
    ----------
    V : float
        Force [N].
    b_o, d : float
        Critical section and depth [mm].
    M_1, M_2 : float
        Moments V e about its centroid that shear carries [N mm].
    J_11, J_22, J_12 : float
        Second moments of its faces [mm4].
    r_1, r_2 : float
        Place of the maximum stress from the centroid [mm].

    Returns
    -------
    v : float
        Stress [MPa].

    References
    ----------
    Equilibrium with v = a + b . r.
    """
    J = max(J_11 * J_22 - J_12**2, 1e-6)
    slope = (J_22 * M_1 - J_12 * M_2) / J, (J_11 * M_2 - J_12 * M_1) / J
    return abs(V / (b_o * d) + slope[0] * r_1 + slope[1] * r_2)
