"""ACI 318-19, 18.10.7: coupling beams, from its clauses in the order of a calculation."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Final

from sandwich.core.shown import Measure, Sentence
from sandwich.standards.aci318 import boundary_ties, coupling, hinged_beams
from sandwich.standards.interface.anchorage import AnchoredBar, Length
from sandwich.standards.interface.coupling import CouplingBeam, CouplingNeed, LaidDiagonals
from sandwich.standards.interface.seismic_names import BESIDE_DIAGONALS, DIAGONALS, one_check
from sandwich.standards.interface.walls import MemberCheck

PHI_SHEAR: Final = 0.75
ROUND: Final = 0.002  # of bars round diagonals with ties of their own, each way: 18.10.7.4(c)
APART: Final = 300.0  # mm between them
STRUTS: Final = 0.66  # 22.5.1.2
SLENDER, LONG = 2.0, 5.0  # h_w/l_w and l_n/h of ductile coupled walls from, l_n/h up to, 18.10.9.2 and .3
MOST_LEVELS: Final = 0.9  # of the levels
COUPLED: Final = "slenderness of coupled walls"
SHORT: Final = "span over depth"
LEVELS: Final = "levels of spans up to five depths"


class ACI318Coupling:
    """What `ACI318` does for coupling beams."""

    ties_all_round = True
    bends_count = False  # 25.4.3.1: l_dh is to the outside of the hook
    anchorage: Callable[[AnchoredBar], Length]
    hook: Callable[[AnchoredBar], Length]
    headed: Callable[[AnchoredBar], Length]

    def cage(self, b: float) -> tuple[float, float]:
        """Half of the width, and a fifth of it, 18.10.7.4(c)."""
        return b / 2.0, b / 5.0

    def coupling(self, beam: CouplingBeam) -> CouplingNeed:
        """By span over depth and the shear, 18.10.7.1 to .3."""
        p = beam.part
        root = math.sqrt(p.concrete.cylinder)
        kind = coupling.kind(p.height, p.length, beam.V, root, p.area)
        limit = float(coupling.V_diagonals(root, p.area))
        return CouplingNeed(kind == "diagonals", kind != "frame beam", limit, "18.10.7.2")

    def coupling_checks(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        """Diagonals by 18.10.7.4; without them the rules of beams of special frames, 18.6."""
        found = _hinged(beam) if beam.laid is None else _diagonals(beam, beam.laid)
        return (*found, *_coupled(beam)) if beam.asked.coupled else found

    def coupling_anchorages(self, bar: AnchoredBar, kind: str) -> dict[str, Length]:
        """1.25 of the development length in tension, 18.10.2.5; beside diagonals that of other bars."""
        bar = replace(bar, yields=False)
        found = {"straight": self.anchorage(bar), "bent": self.hook(bar), "headed": self.headed(bar)}
        if kind == BESIDE_DIAGONALS:
            return found
        own = "18.10.2.5(b)" if kind == DIAGONALS else "18.10.2.5(a)"
        return {k: Length(float(coupling.l_d_beam(v.value)), f"{own}, {v.clause}") for k, v in found.items()}


def coupled_wall(h_w: float, l_w: float) -> MemberCheck:
    """Slenderness of each of ductile coupled walls."""
    note = Sentence.maximum("walls up to {} long, or no ductile coupled walls", h_w / SLENDER)
    return one_check(COUPLED, "18.10.9.2", SLENDER, h_w / l_w, "h_w/l_w", note)


def _coupled(beam: CouplingBeam) -> tuple[MemberCheck, ...]:
    """Spans over depths of the beams of ductile coupled walls."""
    p = beam.part
    deep, ratio = Sentence.maximum("a beam up to {} deep", p.height / SLENDER), p.height / p.length
    out = (one_check(SHORT, "18.10.9.3(a)", SLENDER, ratio, "l_n/h", deep),)
    if ratio <= LONG:
        return out
    note = Sentence.maximum("a beam {} deep, here or at another level", p.height / LONG)
    short = sum(r <= LONG for r in beam.spans) / max(len(beam.spans), 1)
    return (*out, one_check(LEVELS, "18.10.9.3(b)", 100.0 * MOST_LEVELS, 100.0 * short, "%", note))


def _hinged(beam: CouplingBeam) -> tuple[MemberCheck, ...]:
    p, f_c = beam.part, beam.part.concrete.cylinder
    M_pr = hinged_beams.M_pr(beam.A_s, p.steel.f_yk, f_c, p.thickness, p.d)
    V_e = float(hinged_beams.V_e(M_pr, M_pr, p.height, beam.V_g))
    V_s = float(hinged_beams.V_s(p.along, p.steel.f_yk, p.thickness, p.d))
    carried = PHI_SHEAR * min(V_s, STRUTS * math.sqrt(f_c) * p.thickness * p.d)
    spacing = float(hinged_beams.s_hoops(p.d, p.diameters[1], p.steel.f_yk))
    most = hinged_beams.RHO_MAX[0 if p.steel.f_yk < 500.0 else 1]
    return (
        one_check("shear of the hinges", "18.6.5", V_e, carried, "N", "more links"),
        one_check(
            "spacing of links", "18.6.4.4", p.spacings[0], spacing, "mm", Sentence.maximum("links at {}", spacing)
        ),
        one_check("maximum chord", "18.6.3.1", 100.0 * p.across, 100.0 * most, "%", "fewer bars in the chords"),
    )


def _diagonals(beam: CouplingBeam, laid: LaidDiagonals) -> tuple[MemberCheck, ...]:
    p, f_c, f_y = beam.part, beam.part.concrete.cylinder, beam.part.steel.f_yk
    V_n = float(coupling.V_n_diagonal(laid.area, f_y, laid.alpha, math.sqrt(f_c), p.area))
    wide, deep = laid.core
    ring = 2.0 * beam.cover
    A_g = p.area if laid.whole else (wide + ring) * (deep + ring)
    leg = math.pi * laid.d_tie**2 / 4.0
    spacing = float(coupling.s_diagonals(laid.diameter, f_y, laid.whole))
    most = coupling.TIES_OF_BEAM if laid.whole else coupling.TIES_OF_DIAGONALS
    if not laid.whole:
        spacing = min(spacing, float(boundary_ties.s_o(laid.apart)))
    clause = "18.10.7.4(d)" if laid.whole else "18.10.7.4(c)"
    out = [
        one_check("shear of the diagonals", "18.10.7.4(a)", beam.V, coupling.PHI_DIAGONAL * V_n, "N",
                  "thicker diagonals, or a deeper beam"),
        one_check("bars of a diagonal", "18.10.7.4(b)", 4.0, float(laid.count), "", "four bars or more"),
        one_check("spacing of ties", clause, laid.spacing, spacing, "mm", Sentence.maximum("ties at {}", spacing)),
        one_check("legs of ties", clause, laid.apart, most, "mm", Sentence.maximum("legs at {}", most)),
    ]  # fmt: skip
    for way, legs, core in (("ties upright", laid.legs[0], wide), ("ties level", laid.legs[1], deep)):
        need = float(coupling.A_sh_diagonals(laid.spacing, core, A_g, wide * deep, f_c, f_y))
        out.append(one_check(way, clause, need, legs * leg, "mm2", Sentence("{} of legs", Measure(need, "mm2", ".0f"))))
    if not laid.whole:
        out.append(one_check("bars round the diagonals", clause, 100.0 * ROUND, 100.0 * p.along, "%", "more links"))
        out.append(
            one_check("spacing of links", clause, p.spacings[0], APART, "mm", Sentence.maximum("links at {}", APART))
        )
    return tuple(out)
