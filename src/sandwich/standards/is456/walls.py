"""IS 456:2000: walls, piers and lintels from its clauses, in the order of a calculation."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.trace import about
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.walls import (
    MemberCheck,
    OutOfPlane,
    SlenderWall,
    WallPart,
    ratio_check,
    spacing_check,
)
from sandwich.standards.is456 import minimum, shear, slender, wall_shear

RESTRAINED: Final = 0.75  # effective over clear height of a wall whose foot and head cannot turn, 32.2.4(a)
SLENDER: Final = 12.0  # 25.1.2
MOST_SLENDER: Final = 30.0  # 32.2.3


class IS456Walls:
    """What `IS456` does for walls."""

    own_settings: frozenset[str] = frozenset()
    second_order = ("additional moment",)

    def _strength(self, of: WallPart, along: ArrayLike) -> tuple[float, float, Floats]:
        """Strength of the concrete, the largest there may be, and what bars carry [N]."""
        f_ck, f_y = of.concrete.cube, min(of.steel.f_yk, 415.0) if of.beam else of.steel.f_yk
        if of.beam:
            section = of.d * of.thickness
            tau = float(shear.tau_c(100.0 * of.across, f_ck))
            steel = 0.87 * f_y * np.asarray(along) * section
            return tau * section, float(shear.tau_c_max(f_ck, slab=False)) * section, np.asarray(steel)
        section = 0.8 * of.length * of.thickness
        tau = float(wall_shear.tau_cw(f_ck, of.height, of.length))
        most = float(wall_shear.tau_vw_max(f_ck)) * section
        return tau * section, most, np.asarray(wall_shear.V_us(np.asarray(along), f_y, of.thickness, of.length))

    def wall_shear(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:  # noqa: ARG002
        """Shear by 32.4, of lintels by 40; axial force does not enter."""
        v = np.abs(np.asarray(V, dtype=float))
        with about("shear in plane"):
            # 32.4.4: in a wall no taller than long the lesser ratio of both directions counts
            along = of.along if of.beam or of.height > of.length else min(of.along, of.across)
            concrete, most, bars = self._strength(of, along)
        whole = np.full(v.shape, min(concrete + float(bars), most))
        return (
            MemberCheck("shear in plane", "40.4" if of.beam else "32.4.3, 32.4.4", v, whole, "N"),
            MemberCheck("struts of the shear", "40.2.3" if of.beam else "32.4.2.1", v, np.full(v.shape, most), "N"),
        )

    def shear_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> Floats:  # noqa: ARG002
        """Ratio by 32.4.4 or 40.4 beside the concrete, and the minimum of 32.5 or 26.5.1.6."""
        v = np.abs(np.asarray(V, dtype=float))
        concrete, most, one = self._strength(of, 1.0)
        need = np.maximum((v - concrete) / float(one), 0.0)
        return np.where(v > most, np.inf, np.maximum(need, self._least_along(of)))

    def _least_along(self, of: WallPart) -> float:
        if of.beam:
            return float(shear.a_sv_min(min(of.steel.f_yk, 415.0)))
        return float(minimum.rho_h_wall(of.diameters[0], of.steel.f_yk))

    def wall_steel(self, of: WallPart, V: ArrayLike, N: ArrayLike) -> tuple[MemberCheck, ...]:  # noqa: ARG002
        """32.5 of walls, 26.5.1 of lintels."""
        if of.beam:
            return (
                ratio_check("minimum links", "26.5.1.6", self._least_along(of), of.along),
                ratio_check("minimum chord", "26.5.1.1", 0.85 / of.steel.f_yk, of.across),
                spacing_check("spacing of links", "26.5.1.5", of.spacings[0], min(0.75 * of.d, 300.0)),
            )
        most = float(minimum.s_max(of.thickness, wall=True))
        curtains = 2.0 if of.thickness > 200.0 else 1.0
        return (
            ratio_check(
                "minimum vertical", "32.5(a)", float(minimum.rho_v_wall(of.diameters[1], of.steel.f_yk)), of.across
            ),
            ratio_check("minimum horizontal", "32.5(c)", self._least_along(of), of.along),
            spacing_check("spacing vertical", "32.5(b)", of.spacings[1], most),
            spacing_check("spacing horizontal", "32.5(d)", of.spacings[0], most),
            MemberCheck("curtains", "32.5.1", np.array([curtains]), np.array([float(of.curtains)]), "-"),
        )

    def out_of_plane(self, of: SlenderWall, N: ArrayLike, M_1: ArrayLike, M_2: ArrayLike) -> OutOfPlane:
        """Minimum eccentricity of 25.4, additional moment of 39.7 from l_e/D = 12, slenderness up to 30 by 32.2.3."""
        P = np.maximum(-np.asarray(N, dtype=float), 0.0)
        one, two = np.asarray(M_1, dtype=float), np.asarray(M_2, dtype=float)
        swap = np.abs(one) > np.abs(two)
        low, high = np.where(swap, two, one), np.where(swap, one, two)
        small, large = low * np.where(high < 0.0, -1.0, 1.0), np.abs(high)
        factor = of.factor if of.factor is not None else RESTRAINED
        l_e = factor * of.height
        slim = l_e / of.thickness
        area = of.length * of.thickness
        P_uz = slender.P_uz(of.concrete.cube, of.steel.f_yk, area - of.bars, of.bars)
        least = P * slender.e_min_length(of.height, of.thickness)
        initial = np.maximum(0.4 * small + 0.6 * large, 0.4 * large)
        added = np.where(P_uz > P, slender.M_additional(P, of.thickness, l_e), np.inf)  # k = 1, on the safe side
        slender_ = (P > 0.0) & (slim > SLENDER)
        moment = np.where(slender_, np.maximum(initial + added, np.maximum(large, least)), np.maximum(large, least))
        limit = MemberCheck("slenderness", "32.2.3", np.full(P.shape, slim), np.full(P.shape, MOST_SLENDER), "-")
        return OutOfPlane(moment, slender_, "25.4, 32.2, 39.7", (limit,))
