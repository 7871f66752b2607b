"""EN 1998-1:2004 behind the interface of buildings."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from sandwich.standards.arrangement import Floats
from sandwich.standards.en1998 import sway
from sandwich.standards.interface.building import (
    DRIFT,
    ECCENTRICITY,
    SECOND_ORDER,
    BuildingDemand,
    Sway,
    held,
    mainly,
)
from sandwich.standards.interface.walls import MemberCheck


class EN1998Building:
    """What `EN1992` does for buildings under earthquakes."""

    building_settings = frozenset(
        {
            "q_d",
            "importance",
            "nu",
            "partitions",
            "second_order",
            "regular_in_plan",
            "centre_of_stiffness",
            "torsional_radius",
            "centre_of_mass",
            "plan",
        }
    )

    def gravity_factor(self, factor: float) -> float:
        """As the combination has it: P_tot is that of the seismic design situation."""
        return factor

    def design_displacement(self, d: ArrayLike, of: BuildingDemand) -> Floats:
        """4.3.4(1)P [mm]."""
        return np.asarray(sway.d_s(of.q_d, np.asarray(d, dtype=float)))

    def theta(self, of_storey: Sway, of: BuildingDemand) -> Floats:
        """4.4.2.2(2) [-]."""
        P, V = mainly(of_storey.P, of_storey.V)
        drift = self.design_displacement(of_storey.drift, of)
        return np.asarray(sway.theta(P, drift, V, of_storey.h))

    def sway_checks(self, of_storey: Sway, of: BuildingDemand) -> tuple[MemberCheck, ...]:
        """Limited damage of 4.4.3.2 and second order of 4.4.2.2."""
        drift = self.design_displacement(of_storey.drift, of)
        nu = sway.NU[of.importance] if np.isnan(of.nu) else of.nu
        limit = float(sway.d_r_max(sway.DRIFT[of.partitions], of_storey.h, nu))
        out = [held(DRIFT, "4.4.3.2(1)", drift, limit, "mm", "more stiffness, or partitions that drift more")]
        if np.isfinite(of_storey.P).all() and np.isfinite(of_storey.V).all():
            theta = self.theta(of_storey, of)
            factor = sway.second_order(theta)
            most = np.where((theta > sway.NEGLECTED) & (factor <= of.second_order), sway.APPROXIMATE, sway.NEGLECTED)
            worst = float(theta.max(initial=0.0))
            asked = float(sway.second_order(worst))
            note = "more stiffness" + (
                f", or seismic effects times {asked:.3f}, told as second_order" if worst <= sway.APPROXIMATE else
                ", or an analysis of second order" if worst <= sway.MOST else ""
            )  # fmt: skip
            out.append(held(SECOND_ORDER, "4.4.2.2(2), (3)", theta, most, "-", note))
        return tuple(out)

    def torsion_checks(self, e_0: float, r: float, sides: tuple[float, float]) -> tuple[MemberCheck, ...]:
        """Regularity in plan, 4.2.3.2(6), and torsional flexibility, 5.2.2.1(4)."""
        stiffer = "walls further apart, or an analysis in space and the factors of a torsionally flexible system"
        nearer = "walls nearer to symmetry; or an analysis in space, told as regular_in_plan = false"
        return (
            held(ECCENTRICITY, "4.2.3.2(6)", [e_0], [float(sway.e_0_max(r))], "mm", nearer),
            held("torsional radius", "4.2.3.2(6), 5.2.2.1(4)", [float(sway.l_s(*sides))], [r], "mm", stiffer),
        )

    def joint(self, d: ArrayLike, other: float, of: BuildingDemand, *, aligned: bool) -> tuple[Floats, str]:  # noqa: ARG002
        """4.4.2.7 [mm]."""
        return np.asarray(sway.joint(np.asarray(d, dtype=float), other, aligned)), "4.4.2.7(2), (3)"

    def system(self, share: float) -> tuple[str, str]:
        """5.1.2: wall system, dual system or frame system."""
        name = "wall system" if share >= sway.WALL_SYSTEM else (
            "dual system, equivalent to walls" if share > sway.DUAL else "dual or frame system, equivalent to frames"
        )  # fmt: skip
        return name, "5.1.2(1)"
