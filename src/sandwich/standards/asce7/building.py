"""ASCE 7-16 behind the interface of buildings."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from sandwich.standards.arrangement import Floats
from sandwich.standards.asce7 import sway
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

USUAL = 0.020  # of the storey height, Table 12.12-1, other structures of risk category I and II


class ASCE7Building:
    """What `ACI318` does for buildings under earthquakes."""

    building_settings = frozenset({"C_d", "I_e", "drift_limit", "second_order", "A_x"})

    def gravity_factor(self, factor: float) -> float:
        """12.8.7: no load factor needs to exceed 1."""
        return min(factor, 1.0)

    def design_displacement(self, d: ArrayLike, of: BuildingDemand) -> Floats:
        """12.8.6 [mm]."""
        return np.asarray(sway.delta_x(of.C_d, np.asarray(d, dtype=float), of.I_e))

    def theta(self, of_storey: Sway, of: BuildingDemand) -> Floats:
        """12.8.7 [-]."""
        P, V = mainly(of_storey.P, of_storey.V)
        drift = self.design_displacement(of_storey.drift, of)
        return np.asarray(sway.theta(P, drift, of.I_e, V, of_storey.h, of.C_d))

    def sway_checks(self, of_storey: Sway, of: BuildingDemand) -> tuple[MemberCheck, ...]:
        """Drift of 12.12.1, stability of 12.8.7, torsional irregularity of Table 12.3-1."""
        at_end = self.design_displacement(of_storey.drift_most, of)
        irregular = of_storey.drift_most > sway.IRREGULAR * of_storey.drift
        # 12.8.6, 12.12.1: along any edge where the torsion is irregular
        drift = np.where(irregular, at_end, self.design_displacement(of_storey.drift, of))
        ratio = USUAL if np.isnan(of.drift) else of.drift
        limit = float(sway.Delta_max(ratio, of_storey.h))
        out = [held(DRIFT, "ASCE 7, 12.12.1", drift, limit, "mm", "more stiffness")]
        if np.isfinite(of_storey.P).all() and np.isfinite(of_storey.V).all():
            theta, highest = self.theta(of_storey, of), float(sway.theta_max(1.0, of.C_d))
            factor = sway.second_order(theta)
            most = np.where((theta > sway.NEGLECTED) & (factor <= of.second_order), highest, sway.NEGLECTED)
            most = np.minimum(most, max(highest, 1e-9))
            worst = float(theta.max(initial=0.0))
            asked = float(sway.second_order(worst))
            can = f", or seismic effects times {asked:.3f}, told as second_order" if worst <= highest else ""
            out.append(held(SECOND_ORDER, "ASCE 7, 12.8.7", theta, most, "-", f"more stiffness{can}"))
        some = of_storey.top > MAIN * of_storey.top.max(initial=0.0)
        mean = np.where(some & (of_storey.top > 0.0), of_storey.top, 1.0)
        A_x = np.asarray(sway.A_x(np.where(some, of_storey.top_most, 1.0), mean))
        asked = float(A_x.max(initial=1.0))
        note = f"accidental torsion times {asked:.3f}, told as A_x; or walls further apart"
        return (*out, held(TORSION, "ASCE 7, 12.8.4.3, Table 12.3-1", A_x, of.A_x, "-", note))

    def torsion_checks(self, e_0: float, r: float, sides: tuple[float, float]) -> tuple[MemberCheck, ...]:  # noqa: ARG002
        """None: torsion goes by the displacements of floors."""
        return ()

    def joint(self, d: ArrayLike, other: float, of: BuildingDemand, *, aligned: bool) -> tuple[Floats, str]:  # noqa: ARG002
        """12.12.3 [mm]."""
        return np.asarray(sway.separation(np.asarray(d, dtype=float), other)), "ASCE 7, 12.12.3"

    def system(self, share: float) -> tuple[str, str]:  # noqa: ARG002
        """None: the system is chosen from Table 12.2-1."""
        return "", ""
