"""The building as a whole: where its drifts and storey forces come from, what its checks go by."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sandwich.job.base import Coordinate, Metres, Millimetres0, Model, Positive, record
from sandwich.job.source import ATable

Ratio = Annotated[float, Field(gt=0.0, le=0.1)]


@record
class Neighbour(Model):
    """Building beside it: the side, the gap and its displacement by the design earthquake [mm], its top [m]."""

    side: Literal["+x", "-x", "+y", "-y"]
    gap: Millimetres0
    displacement: Millimetres0 = 0.0
    top: Coordinate | None = None
    aligned: bool = False


@record
class Building(Model):
    """Checks of the building under its seismic combinations.

    Attributes
    ----------
    drifts : table
        Drift of each storey by case, instead of those of `input.displacements`.
    forces : table
        Gravity load and shear of each storey by case.
    walls_carry_all : bool
        Whether the walls of the job carry all of it, so that their cuts give loads and shears of the storeys.
    plan : tuple of float
        Corners x, y and x, y of the floors [m]; those of the mesh if left out.
    centre_of_mass : tuple of float
        Its x and y [m]; the middle of the plan if left out.
    centre_of_stiffness, torsional_radius : tuple of float
        Centre x and y, and radii of x and y [m], by the analysis; by second moments of area of walls if left out.
    regular_in_plan : bool
        Whether the building is taken as regular in plan, of EN 1998-1.
    q_d, importance, nu, partitions : see below
        Displacement behaviour factor, class, reduction for limited damage and partitions of EN 1998-1.
    C_d, I_e, drift_limit : float
        Amplification of deflections, importance factor, drift over storey height of ASCE 7 [-].
    R : float
        Response reduction factor of IS 1893 [-].
    second_order, A_x : float
        Factors on seismic effects and accidental torsion that the analysis has already [-].
    neighbours : tuple of Neighbour
        Buildings beside it.
    """

    drifts: ATable | None = None
    forces: ATable | None = None
    walls_carry_all: bool = False
    plan: tuple[Coordinate, Coordinate, Coordinate, Coordinate] | None = None
    centre_of_mass: tuple[Coordinate, Coordinate] | None = None
    centre_of_stiffness: tuple[Coordinate, Coordinate] | None = None
    torsional_radius: tuple[Metres, Metres] | None = None
    regular_in_plan: bool = True
    q_d: Positive | None = None
    importance: Literal["I", "II", "III", "IV"] = "II"
    nu: Annotated[float, Field(gt=0.0, le=1.0)] | None = None
    partitions: Literal["brittle", "ductile", "separate"] = "brittle"
    C_d: Positive | None = None
    I_e: Annotated[float, Field(ge=1.0, le=2.0)] = 1.0
    drift_limit: Ratio = 0.020
    R: Positive | None = None
    second_order: Annotated[float, Field(ge=1.0, le=2.0)] = 1.0
    A_x: Annotated[float, Field(ge=1.0, le=3.0)] = 1.0
    neighbours: tuple[Neighbour, ...] = ()

    @model_validator(mode="after")
    def _goes_together(self) -> Building:
        if self.forces is not None and self.walls_carry_all:
            raise ValueError("loads of the storeys come from one place; give forces, or walls_carry_all = true")
        if (self.centre_of_stiffness is None) != (self.torsional_radius is None):
            raise ValueError("centre_of_stiffness and torsional_radius go together; give both in m, or neither")
        if self.centre_of_mass is not None and not self.regular_in_plan:
            raise ValueError("centre_of_mass is for regularity in plan alone; take it out, or regular_in_plan = false")
        if self.plan is not None and (self.plan[0] >= self.plan[2] or self.plan[1] >= self.plan[3]):
            raise ValueError("plan holds no floor; give its lower corner, then its upper one: x, y, x, y in m")
        return self
