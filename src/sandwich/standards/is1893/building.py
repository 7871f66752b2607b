"""IS 1893 (Part 1):2016 behind the interface of buildings."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.building import (
    DRIFT,
    MAIN,
    SECOND_ORDER,
    TORSION,
    BuildingDemand,
    Sway,
    held,
    mainly,
)
from sandwich.standards.interface.walls import MemberCheck
from sandwich.standards.is1893 import sway


class IS1893Building:
    """What `IS456` does for buildings under earthquakes."""

    building_settings = frozenset({"R"})

    def gravity_factor(self, factor: float) -> float:
        """As the combination has it."""
        return factor

    def design_displacement(self, d: ArrayLike, of: BuildingDemand) -> Floats:
        """R times that of the analysis, as 7.11.3 takes it [mm]."""
        return of.R * np.asarray(d, dtype=float)

    def theta(self, of_storey: Sway, of: BuildingDemand) -> Floats:  # noqa: ARG002
        """Stability index of IS 456, E-2 [-]."""
        P, V = mainly(of_storey.P, of_storey.V)
        return np.asarray(sway.Q(P, of_storey.drift, V, of_storey.h))

    def sway_checks(self, of_storey: Sway, of: BuildingDemand) -> tuple[MemberCheck, ...]:
        """Drift of 7.11.1.1, stability index of IS 456, torsional irregularity of Table 5."""
        limit = float(sway.drift_max(of_storey.h))
        out = [held(DRIFT, "IS 1893, 7.11.1.1", of_storey.drift_most, limit, "mm", "more stiffness")]
        if np.isfinite(of_storey.P).all() and np.isfinite(of_storey.V).all():
            note = "more stiffness, or columns and walls designed for sway"
            out.append(held(SECOND_ORDER, "IS 456, E-2", self.theta(of_storey, of), sway.NO_SWAY, "-", note))
        some = of_storey.top > MAIN * of_storey.top.max(initial=0.0)
        least = np.where(some, of_storey.top_least, 1.0)
        ratio = np.where(some, of_storey.top_most, 1.0) / np.maximum(least, 1e-9)
        return (*out, held(TORSION, "IS 1893, Table 5(i)", ratio, sway.IRREGULAR, "-", "walls nearer to symmetry"))

    def torsion_checks(self, e_0: float, r: float, sides: tuple[float, float]) -> tuple[MemberCheck, ...]:  # noqa: ARG002
        """None: torsion goes by the displacements of floors."""
        return ()

    def joint(self, d: ArrayLike, other: float, of: BuildingDemand, *, aligned: bool) -> tuple[Floats, str]:  # noqa: ARG002
        """7.11.3, of displacements that have their factors [mm]."""
        return np.asarray(sway.separation(1.0, 1.0, np.asarray(d, dtype=float), other)), "IS 1893, 7.11.3"

    def system(self, share: float) -> tuple[str, str]:  # noqa: ARG002
        """None: the system is chosen from Table 9."""
        return "", ""
