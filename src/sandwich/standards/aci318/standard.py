"""ACI 318-19 behind the interface of the design stages (SI units of the standard, normalweight concrete)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.core.situations import check_ultimate
from sandwich.mechanics.block import StressBlock
from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.aci318 import (
    crack_control,
    cracking,
    flexure,
    layers,
    member,
    minimum,
    shear,
    slab_column,
    transfer,
)
from sandwich.standards.aci318.columns import ACI318Columns
from sandwich.standards.aci318.durability import ACI318Cover
from sandwich.standards.aci318.laps import ACI318Anchorage
from sandwich.standards.aci318.wall_beams import ACI318Coupling
from sandwich.standards.aci318.wall_ends import ACI318Ends
from sandwich.standards.aci318.walls import ACI318Walls
from sandwich.standards.arrangement import Arrangement, Floats, slab_in_every_direction, wall_by_ratios
from sandwich.standards.asce7.building import ASCE7Building
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, SlabColumn
from sandwich.standards.common import PrincipalShear
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits
from sandwich.standards.interface import Links, MemberLaw, ShearDemand, ShearSection, Strengths

_PHI_SHEAR = 0.75  # Table 21.2.1(b)
_CLAUSES = {
    "layers": "22.2.2, 23.4.3 (our reading)", "yield": "21.2.2", "shear": "22.5.5", "links": "22.5.8",
    "struts": "22.5.1.2", "minimum of slabs": "7.6.1.1",
    "maximum steel": "10.6.1.1", "axial": "22.4.2.1", "spacing": "8.7.2.2, 11.7.2.1, 11.7.3.1",
    "uncracked": "19.2.3.1 (our reading)",
    "crack width": "Frosch 1999", "bars for cracks": "24.3.2", "minimum for cracking": "24.4.3",
    "ties": "11.7.4", "punching": "22.6.5", "punching links": "22.6.6",
}  # fmt: skip
_READINGS = (
    "crack width: Frosch 1999, with the principal strain across the crack; the standard itself asks for spacings alone",
    "layers: 0.85 f_c' with phi = 0.9 where bars pull and the section is tension-controlled, else 0.65; no transition",
    "cracked layers: a strut crossed by bars, phi 0.75, beta_s 0.75",
    "shear in the direction of the principal shear, with the tension steel and membrane force of that direction",
    "walls: the ratios of Table 11.6.1; the in-plane shear of the whole wall is not known at a point",
    "shear where the section is uncracked in bending along it: the bars of either face count",
    "piers and walls: h_w and l_w are their own clear height and length; 18.10.4 in seismic combinations",
    "second order: EI by 6.6.4.4.4(a) with 0.6 of the axial force sustained, k = 1 unless given",
    "punching: wall ends and corners with 1.35 and 1.2 times the mean stress; lambda_s kept with reinforcement",
)


@dataclass(frozen=True)
class ACI318(
    ACI318Walls, ACI318Ends, ACI318Coupling, ASCE7Building, ACI318Anchorage, ACI318Cover, ACI318Columns, PrincipalShear
):
    """ACI 318-19."""

    name: str = "ACI 318-19 (SI)"

    @property
    def clauses(self) -> Mapping[str, str]:
        """Clause behind each check of the tables."""
        return _CLAUSES

    @property
    def readings(self) -> tuple[str, ...]:
        """What is read into the standard where it has no rule of its own."""
        return _READINGS

    @property
    def to_check(self) -> tuple[str, ...]:
        """Nothing: there is no national annex."""
        return ()

    def strengths(self, concrete: Concrete, steel: Steel, situation: str) -> Strengths:
        """Design strengths; phi by the strain check of Table 21.2.2, alike in all situations."""
        check_ultimate(situation)
        controlled, deep = float(layers.phi(True)), float(layers.phi(False))
        block = self.stress_block(concrete, steel, situation)
        return Strengths(
            f_yd=controlled * steel.f_yk,
            fc_cracked=float(layers.fc_cracked(concrete.cylinder)),
            fc_uncracked=float(layers.fc_whole(concrete.cylinder, deep)),
            depth_limit=block.depth_limit,
            block=block.part,
            fc_bending=float(layers.fc_whole(concrete.cylinder, controlled)),
            f_yd_deep=deep * steel.f_yk,
        )

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:
        """Equivalent rectangular stress of 22.2.2.4."""
        check_ultimate(situation)
        return flexure.stress_block(concrete.cylinder, steel.f_yk, E_s=steel.E_s)

    def member_law(self, concrete: Concrete, steel: Steel, situation: str) -> MemberLaw:
        """Rectangular block of 22.2.2.4 with phi of Table 21.2.2, alike in all situations."""
        check_ultimate(situation)
        return member.member_law(concrete.cylinder, steel.f_yk, E_s=steel.E_s)

    def minimum_steel(
        self,
        rule: str,
        concrete: Concrete,  # noqa: ARG002
        steel: Steel,
        h: ArrayLike,
        bars: Arrangement,
        required: ArrayLike,
    ) -> Floats:
        """Minimum area of each bar layer: 7.6.1.1 and 24.4 of slabs, 11.6.1 of walls [mm2/mm], shape (p, b)."""
        h, required = np.asarray(h, dtype=float), np.asarray(required, dtype=float)
        if rule == "slab":
            return slab_in_every_direction(self._slab_minimum(h, steel), required, bars)
        if rule == "wall":
            vertical = minimum.rho_l_wall(bars.diameters, steel.f_yk)
            return wall_by_ratios(vertical, minimum.rho_t_wall(bars.diameters, steel.f_yk), h, bars)
        return np.zeros(required.shape)

    def _slab_minimum(self, h: Floats, steel: Steel) -> Floats:  # noqa: ARG002
        """Minimum of a slab, both faces together [mm2/mm]."""
        return np.asarray(minimum.a_s_min_slab(h))

    def _size_effect(self, d: float) -> float:
        """Factor lambda_s of 22.5.5.1.3 on two-way shear [-]."""
        return float(shear.lambda_s(d))

    def maximum_steel(self, h: ArrayLike) -> Floats:
        """Maximum area of one direction, both faces together [mm2/mm]."""
        return np.asarray(minimum.a_s_max(np.asarray(h, dtype=float)))

    def axial_resistance(self, fc: ArrayLike, h: ArrayLike) -> Floats:
        """Maximum axial compression of 22.4.2.1 [N/mm]."""
        return np.asarray(layers.p_n_max(np.asarray(fc, dtype=float), np.asarray(h, dtype=float)))

    def maximum_spacing(self, rule: str, h: float, d: float) -> float:  # noqa: ARG002
        """Maximum spacing of bars [mm] by the rule of a slab or a wall."""
        return float(minimum.s_max(h, wall=rule == "wall")) if rule != "none" else math.inf

    def ties(self, diameter: ArrayLike, h: ArrayLike) -> tuple[Floats, Floats]:
        """Minimum diameter and maximum spacing of ties round bars in compression [mm]."""
        return np.asarray(minimum.d_ties(diameter)), np.asarray(minimum.s_ties(diameter, h))

    def cracking(self, concrete: Concrete, sigma_1: ArrayLike, sigma_2: ArrayLike) -> Floats:
        """Maximum principal tension over the flexural strength, less 1 [-]."""
        return np.maximum(sigma_1, sigma_2) / float(layers.f_r(concrete.cylinder)) - 1.0

    def flexural_tension(self, concrete: Concrete, situation: str) -> float:  # noqa: ARG002
        """Modulus of rupture of 19.2.3.1 [MPa]."""
        return float(layers.f_r(concrete.cylinder))

    def shear_resistance(self, of: ShearSection) -> Floats:
        """Phi v_c by Table 22.5.5.1(c), without shear reinforcement [N/mm]."""
        f_c = of.concrete.cylinder
        axial = shear.axial_term(of.sigma, f_c)
        return np.asarray(_PHI_SHEAR * shear.v_c(of.d, shear.lambda_s(of.d), of.rho_l, shear.root_f_c(f_c), axial))

    def links(self, of: ShearDemand) -> Links:
        """Vertical links by 22.5.8 beside v_c, struts at 45 degrees, bars of 420 MPa at most."""
        d, v_c = np.asarray(of.d, dtype=float), np.asarray(of.resistance, dtype=float) / _PHI_SHEAR
        f_yt, root = min(of.steel.f_yk, 420.0), shear.root_f_c(of.concrete.cylinder)
        least = float(shear.a_v_min(of.concrete.cylinder, f_yt))
        area = np.maximum(shear.a_v(np.asarray(of.v_Ed, dtype=float), v_c, f_yt, d, phi=_PHI_SHEAR), least)
        return Links(area, np.asarray(_PHI_SHEAR * shear.v_max(v_c, root, d)), np.ones(d.shape))

    @property
    def links_thickness(self) -> float:
        """None."""
        return 0.0

    def control(self, h: float, d: float) -> ControlRule:
        """Where punching is looked at in a slab of thickness h and effective depth d [mm]."""
        return slab_column.control(h, d)

    def punching(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
        """Punching of a loaded area under one combination."""
        size, table = self._size_effect(column.d), self._modification(steel)
        return slab_column.punch(concrete, steel, column, load, size, table)

    def _modification(self, steel: Steel) -> transfer.Modification:
        eps_ty = steel.f_yk / steel.E_s
        return transfer.modification(eps_ty + 0.003, eps_ty + 0.008)

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:
        """Minimum tension steel over a column by 8.6.1.2 [mm2/mm]."""
        return slab_column.minimum_over_column(steel, concrete, column, load)

    @property
    def width_limits(self) -> Mapping[str, float]:
        """No limit under service loads: 24.3.2 limits the spacing of bars there [mm]."""
        return {"characteristic": math.inf}

    @property
    def simplified_rules(self) -> bool:
        """24.3.2 is asked, a width is not."""
        return True

    def modulus(self, concrete: Concrete, creep: float) -> float:
        """Modulus of the concrete [MPa], effective with a creep coefficient."""
        return float(cracking.E_c(concrete.cylinder) / (1.0 + creep))

    def stress_limits(self, concrete: Concrete, steel: Steel, situation: str, *, imposed: bool) -> StressLimits:  # noqa: ARG002
        """None of its own: bars stay elastic [MPa]."""
        return StressLimits(math.inf, steel.f_yk, "", "elastic bars")

    def crack_width(self, concrete: Concrete, face: FaceCrack, *, long: bool) -> CrackWidth:  # noqa: ARG002
        """Crack width, alike for short and long-term loading."""
        return crack_control.crack_width(face)

    def crack_check(self, concrete: Concrete, face: FaceCrack, limit: Floats) -> QuickCheck | None:  # noqa: ARG002
        """Spacing of bars by 24.3.2."""
        return crack_control.by_spacing(face)

    def minimum_for_cracking(self, of: FirstCracks) -> Floats:
        """Shrinkage and temperature steel of 24.4.3.2, half of it a face [mm2/mm]; it does not ask how cracks come."""
        return self._slab_minimum(of.h, of.steel) / 2.0
