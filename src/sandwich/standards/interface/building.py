"""The building as a whole under earthquakes: drift, second order, torsion, joints."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol, runtime_checkable

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.shown import Words
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.walls import MemberCheck

DRIFT = "storey drift"
SECOND_ORDER = "second order of the storey"
TORSION = "torsion of the floor"
ECCENTRICITY = "eccentricity"
MAIN = 0.5  # of the largest shear: combinations whose earthquake acts mainly in the direction


@dataclass(frozen=True)
class BuildingDemand:
    """What the checks of a building go by.

    Attributes
    ----------
    q_d : float
        Factor from displacements of the analysis to those of the design earthquake, of EN 1998-1 [-].
    nu, drift : float
        Reduction for limited damage, and largest drift over storey height [-]; nan: that of the standard.
    importance, partitions : str
        Class of the building and what its partitions are, of EN 1998-1.
    C_d, I_e : float
        Amplification of deflections and importance factor, of ASCE 7 [-].
    R : float
        Response reduction factor, of IS 1893 [-].
    second_order : float
        Factor on seismic effects for second order that the analysis has already [-].
    A_x : float
        Factor on accidental torsion that the analysis has already [-].
    """

    q_d: float = 1.0
    nu: float = float("nan")
    drift: float = float("nan")
    importance: str = "II"
    partitions: str = "brittle"
    C_d: float = 1.0
    I_e: float = 1.0
    R: float = 1.0
    second_order: float = 1.0
    A_x: float = 1.0


@dataclass(frozen=True)
class Sway:
    """One storey in one direction under k seismic combinations, their largest seismic factor taken as 1.

    Attributes
    ----------
    h : float
        Height of the storey [mm].
    drift, drift_most : ndarray, shape (k,)
        Mean of the largest and smallest drift of its points, and the largest, by the analysis [mm].
    top, top_least, top_most : ndarray
        Mean of the smallest and the largest displacement of the floor above, and both [mm].
    P, V : ndarray
        Gravity load at and above the storey, and its seismic shear [N]; nan where they are not known.
    """

    h: float
    drift: Floats
    drift_most: Floats
    top: Floats
    top_least: Floats
    top_most: Floats
    P: Floats
    V: Floats


def held(name: str, clause: str, demand: ArrayLike, capacity: ArrayLike, unit: str, note: Words) -> MemberCheck:
    """A check of several demands, whose note says what would do."""
    demand = np.asarray(demand, dtype=float)
    return MemberCheck(name, clause, demand, np.broadcast_to(np.asarray(capacity, dtype=float), demand.shape), unit,
                       note)  # fmt: skip


def mainly(P: Floats, V: Floats) -> tuple[Floats, Floats]:
    """Load and shear of combinations whose earthquake acts mainly in the direction, no load in the others."""
    some = MAIN * np.nanmax(V, initial=0.0) < V
    return np.where(some, P, 0.0), np.where(some, V, 1.0)


@runtime_checkable
class Buildings(Protocol):
    """Checks of buildings, of some standards."""

    @property
    def building_settings(self) -> frozenset[str]:
        """Keys of the building that it takes."""

    def gravity_factor(self, factor: float) -> float:
        """Factor on a vertical load in the checks of second order, by that of the combination [-]."""

    def design_displacement(self, d: ArrayLike, of: BuildingDemand) -> Floats:
        """Displacement by the design earthquake, by that of the analysis [mm]."""

    def theta(self, sway: Sway, of: BuildingDemand) -> Floats:
        """Coefficient of second order of a storey [-], nan where loads are not known."""

    def sway_checks(self, sway: Sway, of: BuildingDemand) -> tuple[MemberCheck, ...]:
        """Drift, second order where loads are known, and torsion of the floor; notes say what would do."""

    def torsion_checks(self, e_0: float, r: float, sides: tuple[float, float]) -> tuple[MemberCheck, ...]:
        """By eccentricity, torsional radius and sides of a floor [mm], of standards that ask for them."""

    def joint(self, d: ArrayLike, other: float, of: BuildingDemand, *, aligned: bool) -> tuple[Floats, str]:
        """Width of a joint by the displacements of both buildings by the design earthquake [mm], and its clause."""

    def system(self, share: float) -> tuple[str, str]:
        """What a building is by the part of its base shear that walls take [-], and the clause; empty of no rule."""
