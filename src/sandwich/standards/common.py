"""What standards without clauses for shells share: shear in the direction of its principal value, by equilibrium."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete
from sandwich.standards.arrangement import Floats


class PrincipalShear:
    """Shear, steel and axial force in the direction of the principal shear."""

    def principal_shear(self, v_x: ArrayLike, v_y: ArrayLike) -> tuple[Floats, Floats]:
        """Principal transverse shear [N/mm] and its direction from x towards y [rad]."""
        return np.hypot(v_x, v_y), np.arctan2(v_y, v_x)

    def tension_ratio(self, rho_x: ArrayLike, rho_y: ArrayLike, phi: ArrayLike, rho_xy: ArrayLike = 0.0) -> Floats:
        """Ratio of tension steel [-] in the direction of the shear, turned as a tensor."""
        c, s = np.cos(phi), np.sin(phi)
        return np.asarray(np.asarray(rho_x) * c * c + np.asarray(rho_y) * s * s + 2.0 * np.asarray(rho_xy) * s * c)

    def axial_stress(self, concrete: Concrete, situation: str, n: ArrayLike, h: ArrayLike) -> Floats:  # noqa: ARG002
        """Mean axial stress [MPa], compression positive, of a membrane force n [N/mm], tension positive."""
        return np.asarray(-np.asarray(n, dtype=float) / h)
