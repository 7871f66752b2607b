"""IS 13920:2016, 10.5 and 6.3: coupling beams, in the order of a calculation."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.shown import Measure, Sentence
from sandwich.standards.interface.anchorage import AnchoredBar, Length
from sandwich.standards.interface.coupling import CouplingBeam, CouplingNeed, LaidDiagonals
from sandwich.standards.interface.seismic_names import BESIDE_DIAGONALS, one_check
from sandwich.standards.interface.walls import MemberCheck, WallPart
from sandwich.standards.is13920 import boundary, coupling, hinged_beams

LEAST: Final = (4, 8.0)  # bars of a diagonal, and their diameter [mm], 10.5.2
PITCH: Final = 100.0  # mm of their ties, 10.5.2
LONG: Final = 4.0  # clear span over depth from which it is a beam alone, as diagonals are too flat


class IS13920Coupling:
    """What `IS456` does for coupling beams."""

    ties_all_round = False
    bends_count = True  # IS 456, 26.2.2.1
    anchorage: Callable[[AnchoredBar], Length]
    hook: Callable[[AnchoredBar], Length]
    wall_shear: Callable[[WallPart, ArrayLike, ArrayLike], tuple[MemberCheck, ...]]

    def cage(self, b: float) -> tuple[float, float]:  # noqa: ARG002
        """No size of its own: what the bars need."""
        return 0.0, 0.0

    def coupling_anchorages(self, bar: AnchoredBar, kind: str) -> dict[str, Length]:
        """1.5 of the development length in tension, 10.5.3; beside diagonals that of other bars."""
        found = {"straight": self.anchorage(bar), "bent": self.hook(bar)}
        if kind == BESIDE_DIAGONALS:
            return found
        return {k: Length(float(coupling.L_anchored(v.value)), f"10.5.3, IS 456, {v.clause}") for k, v in found.items()}

    def coupling(self, beam: CouplingBeam) -> CouplingNeed:
        """By the shear stress, 10.5.1."""
        p = beam.part
        tau = float(coupling.tau_no_diagonals(p.concrete.cube, p.height, p.length))
        limit = tau * p.thickness * p.d
        return CouplingNeed(limit < beam.V, p.height / p.length < LONG, limit, "10.5.1")

    def coupling_checks(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        """Diagonals by 10.5.2; without them shear by hinges and the links of beams, 6.3."""
        return self._hinged(beam) if beam.laid is None else _diagonals(beam, beam.laid)

    def _hinged(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        p = beam.part
        M_u = 0.87 * p.steel.f_yk * beam.A_s * (2.0 * p.d - p.length)  # both chords alike
        acts = float(hinged_beams.V_hinges(M_u, M_u, p.height, beam.V_g))
        shear = self.wall_shear(p, np.array([acts]), np.zeros(1))
        spacing = float(hinged_beams.s_links(p.d, p.diameters[1]))
        named = {"shear in plane": ("shear of the hinges", "more links"),
                 "struts of the shear": ("struts of the hinges", "a wider beam")}  # fmt: skip
        return (
            *(replace(c, name=named[c.name][0], note=named[c.name][1]) for c in shear if c.name in named),
            one_check(
                "spacing of links", "6.3.5", p.spacings[0], spacing, "mm", Sentence.maximum("links at {}", spacing)
            ),
        )


def _diagonals(beam: CouplingBeam, laid: LaidDiagonals) -> tuple[MemberCheck, ...]:
    p = beam.part
    f_ck, f_y = p.concrete.cube, p.steel.f_yk
    need = float(coupling.A_sd(beam.V, f_y, laid.alpha))
    ratio, leg = float(boundary.rho_ties(f_ck, f_y)), math.pi * laid.d_tie**2 / 4.0
    wide, deep = laid.core
    out = [
        one_check("bars of the diagonals", "10.5.2", need, laid.area, "mm2", "thicker diagonals"),
        one_check("bars of a diagonal", "10.5.2", float(LEAST[0]), float(laid.count), "", "four bars or more"),
        one_check("diameter of the bars", "10.5.2", LEAST[1], laid.diameter, "mm", "bars of 8 mm or more"),
        one_check("spacing of ties", "10.5.2", laid.spacing, PITCH, "mm", Sentence.maximum("ties at {}", PITCH)),
    ]
    for way, legs, core in (("ties upright", laid.legs[0], wide), ("ties level", laid.legs[1], deep)):
        area = ratio * laid.spacing * core
        out.append(
            one_check(
                way, "10.5.2, 10.4.4", area, legs * leg, "mm2", Sentence("{} of legs", Measure(area, "mm2", ".0f"))
            )
        )
    return tuple(out)
