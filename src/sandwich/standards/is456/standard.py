"""IS 456:2000 behind the interface of the design stages."""

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
from sandwich.standards.arrangement import Arrangement, Floats, slab_in_every_direction, wall_by_ratios
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, SlabColumn
from sandwich.standards.common import PrincipalShear
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits
from sandwich.standards.interface import Links, MemberLaw, ShearDemand, ShearSection, Strengths
from sandwich.standards.is456 import crack_control, cracking, flexure, layers, member, minimum, shear, slab_column
from sandwich.standards.is456.columns import IS456Columns
from sandwich.standards.is456.durability import IS456Cover
from sandwich.standards.is456.laps import IS456Anchorage
from sandwich.standards.is456.walls import IS456Walls
from sandwich.standards.is1893.building import IS1893Building
from sandwich.standards.is13920.wall_beams import IS13920Coupling
from sandwich.standards.is13920.wall_ends import IS13920Ends

_CLAUSES = {
    "layers": "38.1, 39.3 (our reading)", "yield": "38.1(f)", "shear": "40.2", "links": "40.4", "struts": "40.2.3.1",
    "minimum of slabs": "26.5.2.1", "maximum steel": "26.5.1.1(b)", "axial": "25.4", "spacing": "26.3.3(b), 32.5",
    "uncracked": "6.2.2 (our reading)",
    "crack width": "annex F", "minimum for cracking": "26.5.2.1",
    "ties": "32.5", "punching": "31.6.3", "punching links": "31.6.3.2",
}  # fmt: skip
_READINGS = (
    "crack width: annex F at the face, strain across the crack; without its denominator where all is in tension",
    "layers: 0.36 f_ck/0.84 opposite bars that pull, 0.4 f_ck where none does, six tenths of that where cracked",
    "shear in the direction of the principal shear; tension lowers it by 1 + 0.29 P_u/A_g, to nothing at 3.4 MPa",
    "links and maximum steel by the clauses of beams, minimum links too",
    "shear where the section is uncracked in bending along it: the bars of either face count",
    "punching: wall ends and corners with 1.35 and 1.2 times the mean stress; farther sections cut their corners",
)


@dataclass(frozen=True)
class IS456(
    IS456Walls, IS13920Ends, IS13920Coupling, IS1893Building, IS456Anchorage, IS456Cover, IS456Columns, PrincipalShear
):
    """IS 456:2000; its f_ck is the cube strength."""

    name: str = "IS 456:2000"

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
        """Design strengths, alike in all situations; x_u/d up to x_u,max/d."""
        check_ultimate(situation)
        block = flexure.stress_block(concrete.cube, steel.f_yk, E_s=steel.E_s)
        f_yd = float(layers.f_yd(steel.f_yk))
        return Strengths(
            f_yd=f_yd,
            fc_cracked=float(layers.fc_cracked(concrete.cube)),
            fc_uncracked=float(layers.fc_whole(concrete.cube)),
            depth_limit=block.depth_limit,
            block=block.part,
            fc_bending=float(layers.fc_bending(concrete.cube)),
            f_yd_deep=f_yd,
            compressed=layers.f_sc(steel.f_yk) / f_yd,
        )

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:
        """Block of 38.1."""
        check_ultimate(situation)
        return flexure.stress_block(concrete.cube, steel.f_yk, E_s=steel.E_s)

    def member_law(self, concrete: Concrete, steel: Steel, situation: str) -> MemberLaw:
        """Parabola and rectangle of 38.1, alike in all situations."""
        check_ultimate(situation)
        return member.member_law(concrete.cube, steel.f_yk, E_s=steel.E_s)

    def minimum_steel(
        self,
        rule: str,
        concrete: Concrete,  # noqa: ARG002
        steel: Steel,
        h: ArrayLike,
        bars: Arrangement,
        required: ArrayLike,
    ) -> Floats:
        """Minimum area of each bar layer: 26.5.2.1 of slabs, 32.5 of walls [mm2/mm], shape (p, b)."""
        h, required = np.asarray(h, dtype=float), np.asarray(required, dtype=float)
        if rule == "slab":
            return slab_in_every_direction(np.asarray(minimum.a_s_min_slab(h, steel.f_yk)), required, bars)
        if rule == "wall":
            vertical = minimum.rho_v_wall(bars.diameters, steel.f_yk)
            return wall_by_ratios(vertical, minimum.rho_h_wall(bars.diameters, steel.f_yk), h, bars)
        return np.zeros(required.shape)

    def maximum_steel(self, h: ArrayLike) -> Floats:
        """Maximum area of one direction, both faces together [mm2/mm]."""
        return np.asarray(minimum.a_s_max(np.asarray(h, dtype=float)))

    def axial_resistance(self, fc: ArrayLike, h: ArrayLike) -> Floats:
        """Compression with the minimum eccentricity of 25.4 [N/mm]."""
        h = np.asarray(h, dtype=float)
        return np.asarray(layers.p_u(np.asarray(fc, dtype=float), h, layers.e_min(h)))

    def maximum_spacing(self, rule: str, h: float, d: float) -> float:
        """Maximum spacing of bars [mm] by the rule of a slab or a wall."""
        return float(minimum.s_max(h if rule == "wall" else d, wall=rule == "wall")) if rule != "none" else math.inf

    def ties(self, diameter: ArrayLike, h: ArrayLike) -> tuple[Floats, Floats]:
        """Minimum diameter and maximum spacing of ties round bars in compression [mm]."""
        return np.asarray(minimum.d_ties(diameter)), np.asarray(minimum.s_ties(diameter, h))

    def cracking(self, concrete: Concrete, sigma_1: ArrayLike, sigma_2: ArrayLike) -> Floats:
        """Maximum principal tension over the flexural strength, less 1 [-]."""
        return np.maximum(sigma_1, sigma_2) / float(layers.f_cr(concrete.cube)) - 1.0

    def flexural_tension(self, concrete: Concrete, situation: str) -> float:  # noqa: ARG002
        """Flexural strength of 6.2.2 [MPa]."""
        return float(layers.f_cr(concrete.cube))

    def shear_resistance(self, of: ShearSection) -> Floats:
        """K delta tau_c d by 40.2 [N/mm]."""
        f_ck = of.concrete.cube
        stress = shear.tau_c(100.0 * np.asarray(of.rho_l), f_ck)
        return np.asarray(shear.k_slab(of.h) * shear.delta(of.sigma, f_ck) * stress * np.asarray(of.d, dtype=float))

    def links(self, of: ShearDemand) -> Links:
        """Vertical links by 40.4 beside tau_c, struts at 45 degrees; half of tau_c,max for slabs."""
        d, f_yk = np.asarray(of.d, dtype=float), of.steel.f_yk
        area = shear.a_sv(np.asarray(of.v_Ed, dtype=float) / d, np.asarray(of.resistance, dtype=float) / d, f_yk)
        area = np.maximum(area, shear.a_sv_min(f_yk))
        return Links(area, np.asarray(shear.tau_c_max(of.concrete.cube) * d), np.ones(d.shape))

    @property
    def links_thickness(self) -> float:
        """None."""
        return 0.0

    def control(self, h: float, d: float) -> ControlRule:  # noqa: ARG002
        """Where punching is looked at in a slab of thickness h and effective depth d [mm]."""
        return slab_column.control(h)

    def punching(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
        """Punching of a loaded area under one combination."""
        return slab_column.punch(concrete, steel, column, load)

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:  # noqa: ARG002
        """None: the standard asks for none [mm2/mm]."""
        return 0.0

    @property
    def width_limits(self) -> Mapping[str, float]:
        """35.3.2 [mm]."""
        return {"characteristic": 0.3}

    @property
    def simplified_rules(self) -> bool:
        """There is none."""
        return False

    def modulus(self, concrete: Concrete, creep: float) -> float:
        """Modulus of the concrete [MPa], effective with a creep coefficient."""
        return float(cracking.E_ce(cracking.E_c(concrete.cube), creep))

    def stress_limits(self, concrete: Concrete, steel: Steel, situation: str, *, imposed: bool) -> StressLimits:  # noqa: ARG002
        """None of its own: bars stay elastic [MPa]."""
        return StressLimits(math.inf, steel.f_yk, "", "elastic bars")

    def crack_width(self, concrete: Concrete, face: FaceCrack, *, long: bool) -> CrackWidth:  # noqa: ARG002
        """Crack width, alike for short and long-term loading."""
        return crack_control.crack_width(face)

    def crack_check(self, concrete: Concrete, face: FaceCrack, limit: Floats) -> QuickCheck | None:  # noqa: ARG002
        """None: the standard has no such rule."""
        return None

    def minimum_for_cracking(self, of: FirstCracks) -> Floats:
        """Minimum steel of 26.5.2.1, half of it a face [mm2/mm]; the standard has no rule for cracking."""
        return np.asarray(minimum.a_s_min_slab(of.h, of.steel.f_yk) / 2.0)
