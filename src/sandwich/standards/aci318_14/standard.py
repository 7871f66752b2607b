"""ACI 318-14 behind the interface of the design stages: ACI 318-19, less what came new with it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial
from types import MappingProxyType

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.block import StressBlock
from sandwich.standards.aci318 import anchorage, flexure, member, shear, transfer
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.aci318_14 import clauses
from sandwich.standards.arrangement import Floats
from sandwich.standards.column import ColumnLoad, SlabColumn
from sandwich.standards.interface import MemberLaw, SeismicShear, ShearSection, WallEnd, WallPart
from sandwich.standards.interface.anchorage import AnchoredBar, EndedBars, Length

PHI_SHEAR = 0.75  # Table 21.2.1(b)
_READINGS = (
    "clauses cited of ACI 318-19 are those that read the same in ACI 318-14; what differs is cited of ACI 318-14",
    "one-way shear by the simplified expressions 22.5.5.1, 22.5.6.1 and 22.5.7.1",
    "walls that are not special: V_c by the simplified expressions of Table 11.5.4.6, d = 0.8 l_w",
)


@dataclass(frozen=True)
class ACI318Of2014(ACI318):
    """ACI 318-14: no size effect, no amplified shear of special walls, minima and limits of its own."""

    name: str = "ACI 318-14 (SI)"
    f_yt_wall = clauses.F_YT
    in_plane = ("11.5.4.4", "11.5.4.3")
    drift_capacity = False
    seismic_settings = frozenset({"displacement", "ties_round"})
    systems = MappingProxyType[str, float]({})
    grade = clauses.F_Y_SPECIAL

    @property
    def readings(self) -> tuple[str, ...]:
        """What is read into the standard where it has no rule of its own."""
        return (*_READINGS, *super().readings)

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:  # noqa: ARG002
        """Equivalent rectangular stress, tension-controlled from a strain of 0.005."""
        return flexure.stress_block(concrete.cylinder, steel.f_yk, E_s=steel.E_s, controlled=clauses.CONTROLLED)

    def member_law(self, concrete: Concrete, steel: Steel, situation: str) -> MemberLaw:  # noqa: ARG002
        """Rectangular block with phi of Table 21.2.2."""
        reduction = partial(clauses.phi, f_y=steel.f_yk, E_s=steel.E_s)
        turns = (steel.f_yk / steel.E_s, clauses.CONTROLLED)
        return member.member_law(concrete.cylinder, steel.f_yk, E_s=steel.E_s, reduction=reduction, turns=turns)

    def _phi(self, eps_t: Floats, steel: Steel) -> Floats:
        return np.asarray(clauses.phi(eps_t, steel.f_yk, steel.E_s))

    def _controlled(self, steel: Steel) -> float:  # noqa: ARG002
        return clauses.CONTROLLED

    def _slab_minimum(self, h: Floats, steel: Steel) -> Floats:
        return np.asarray(clauses.a_s_min_slab(h, steel.f_yk))

    def _size_effect(self, d: float) -> float:  # noqa: ARG002
        return 1.0

    def _modification(self, steel: Steel) -> transfer.Modification:  # noqa: ARG002
        return transfer.modification(*clauses.TRANSFER)

    def shear_resistance(self, of: ShearSection) -> Floats:
        """Phi v_c of 22.5.5.1, without shear reinforcement [N/mm]."""
        root = shear.root_f_c(of.concrete.cylinder)
        return np.asarray(PHI_SHEAR * clauses.v_c(of.d, root, of.sigma))

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:  # noqa: ARG002
        """None."""
        return 0.0

    def _beam_concrete(self, of: WallPart, N: Floats, root: float) -> Floats:
        return np.asarray(clauses.v_c(of.d, root, -N / of.area))

    def _wall_strength(self, of: WallPart, N: Floats, along: ArrayLike, root: float) -> tuple[Floats, Floats]:
        """11.5.4, of special walls 18.10.4."""
        if of.situation == "seismic":
            return super()._wall_strength(of, N, along, root)
        bare = np.asarray(clauses.V_c(-N, of.area, root))
        steel = clauses.V_s(along, min(of.steel.f_yk, clauses.F_YT), of.area)
        return bare + steel, np.full(N.shape, float(clauses.V_n_max(root, of.area)))

    def _amplified(self, of: SeismicShear) -> float:  # noqa: ARG002
        return float(clauses.V_e(1.0))

    def _end_ratio(self, end: WallEnd) -> float:  # noqa: ARG002
        return 0.0

    def _psi_g(self, f_y: float) -> float:  # noqa: ARG002
        return 1.0

    def hook(self, bar: AnchoredBar) -> Length:
        """l_dh of 25.4.3.1 without ties at the hook."""
        root = min(math.sqrt(bar.concrete.cylinder), anchorage.LIMIT)
        found = float(clauses.l_dh(bar.steel.f_yk, root, bar.diameter))
        return Length(found * (anchorage.YIELDING if bar.yields else 1.0), "25.4.3.1")

    def headed(self, bar: AnchoredBar) -> Length:
        """l_dt of 25.4.4.2; inf of bars that may have no heads, 25.4.4.1."""
        d, f_y = bar.diameter, bar.steel.f_yk
        cover, clear = clauses.HEAD_COVER * d - anchorage.NOISE, clauses.HEAD_CLEAR * d - anchorage.NOISE
        if bar.cover < cover or bar.clear < clear or f_y > clauses.F_Y_HEADED or d > clauses.HEAD_MOST:
            return Length(math.inf, "25.4.4.1")
        return Length(float(clauses.l_dt(f_y, bar.concrete.cylinder, d)), "25.4.4.2")

    def extension(self, bars: EndedBars) -> Length:
        """9.7.3.3, with d = 0.8 l_w of special walls too."""
        found = float(clauses.extension(bars.l_w, bars.diameter, bars.anchorage))
        return Length(found, "9.7.3.3, 18.10.2.3(b)" if bars.seismic else "9.7.3.3, 9.7.3.4")

    def no_lap_below(self, bar: AnchoredBar) -> Length:  # noqa: ARG002
        """No rule."""
        return Length(0.0, "")

    def no_lap(self, l_w: float, h_w: float, h_s: float) -> Length:  # noqa: ARG002
        """No rule."""
        return Length(0.0, "")
