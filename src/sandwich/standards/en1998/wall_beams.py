"""EN 1998-1:2004, 5.4.3.1 and 5.5.3.5: coupling beams, in the order of a calculation."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.section import Concrete, Steel
from sandwich.standards.en1992 import materials
from sandwich.standards.en1998 import confinement, coupling, hinged_beams
from sandwich.standards.interface.anchorage import AnchoredBar, Length
from sandwich.standards.interface.coupling import CouplingBeam, CouplingNeed, LaidDiagonals
from sandwich.standards.interface.seismic_names import DIAGONALS, one_check
from sandwich.standards.interface.walls import MemberCheck, WallPart

LONG: Final = 3.0  # clear span over depth from which a coupling beam is a beam, 5.5.3.5(2)b
FACES: Final = 0.002  # of bars at both faces, each way: EN 1992-1-1, 9.7(1)


class EN1998Coupling:
    """What `EN1992` does for coupling beams."""

    ties_all_round = False
    bends_count = True  # EN 1992-1-1, figure 8.1a
    anchorage: Callable[[AnchoredBar], Length]
    hook: Callable[[AnchoredBar], Length]
    wall_shear: Callable[[WallPart, ArrayLike, ArrayLike], tuple[MemberCheck, ...]]
    parameters: dict[str, Any]
    _strengths: Callable[[Concrete, Steel], tuple[float, float]]

    def cage(self, b: float) -> tuple[float, float]:
        """Sides of half the width, 5.5.3.5(3)b."""
        return b / 2.0, b / 2.0

    def coupling_anchorages(self, bar: AnchoredBar, kind: str) -> dict[str, Length]:
        """l_bd, half as long again of diagonals, 5.5.3.5(3)b."""
        found = {"straight": self.anchorage(bar), "bent": self.hook(bar)}
        if kind != DIAGONALS:
            return found
        return {
            k: Length(float(coupling.l_bd_diagonal(v.value)), f"5.5.3.5(3)b, EN 1992-1-1, {v.clause}")
            for k, v in found.items()
        }

    def coupling(self, beam: CouplingBeam) -> CouplingNeed:
        """Of DCH by the shear and the span, 5.5.3.5(2); of DCM it is a beam."""
        p = beam.part
        f_ctm = materials.f_ctm(p.concrete.cylinder)
        f_ctd = materials.f_ctd(f_ctm, gamma_c=self.parameters["seismic"]["gamma_c"])
        limit = float(coupling.V_no_diagonals(f_ctd, p.thickness, p.d))
        short = p.height / p.length < LONG
        high = beam.asked.high
        return CouplingNeed(high and short and limit < beam.V, short, limit, "5.5.3.5(2)" if high else "5.4.3.1")

    def coupling_checks(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        """Diagonals by 5.5.3.5(3); without them shear by hinges and links of the critical regions of beams."""
        return self._hinged(beam) if beam.laid is None else self._diagonals(beam, beam.laid)

    def _hinged(self, beam: CouplingBeam) -> tuple[MemberCheck, ...]:
        p, high = beam.part, beam.asked.high
        _, f_yd = self._strengths(p.concrete, p.steel)
        M_Rb = beam.A_s * f_yd * (2.0 * p.d - p.length)  # both chords alike
        acts = float(hinged_beams.V_hinges(M_Rb, M_Rb, p.height, beam.V_g,
                                           hinged_beams.GAMMA_RD["DCH" if high else "DCM"]))  # fmt: skip
        part = replace(p, cot_theta_max=1.0) if high else p  # 5.5.3.1.2(2)
        shear = self.wall_shear(part, np.array([acts]), np.zeros(1))
        spacing = float(hinged_beams.s_links(p.length, p.diameters[0], p.diameters[1], high))
        clause = "5.5.3.1.3(6)c" if high else "5.4.3.1.2(6)c"
        named = {"shear in plane": ("shear of the hinges", "more links"),
                 "struts of the shear": ("struts of the hinges", "a wider beam")}  # fmt: skip
        return (
            *(replace(c, name=named[c.name][0], note=named[c.name][1]) for c in shear if c.name in named),
            one_check("spacing of links", clause, p.spacings[0], spacing, "mm", f"links at {spacing:.0f} mm"),
        )

    def _diagonals(self, beam: CouplingBeam, laid: LaidDiagonals) -> tuple[MemberCheck, ...]:
        p = beam.part
        _, f_yd = self._strengths(p.concrete, p.steel)
        carried = float(coupling.V_Rd_diagonal(laid.area, f_yd, laid.alpha))
        b_0 = min(laid.core) - laid.d_tie
        spacing = float(confinement.s_ties(b_0, laid.diameter, True))
        thick = float(confinement.d_ties(laid.diameter, f_yd, f_yd, True))
        held, side = float(confinement.held_max(True)), self.cage(p.thickness)[0]
        deep = float(hinged_beams.s_deep(p.thickness))
        return (
            one_check("shear of the diagonals", "5.5.3.5(3)a", beam.V, carried, "N", "thicker diagonals"),
            one_check("sides of the diagonals", "5.5.3.5(3)b", side, min(laid.core), "mm", f"ties {side:.0f} mm wide"),
            one_check("spacing of ties", "5.5.3.5(3)c, 5.5.3.2.2(12)", laid.spacing, spacing, "mm",
                      f"ties at {spacing:.0f} mm"),
            one_check("diameter of ties", "5.5.3.2.2(12)", thick, laid.d_tie, "mm", f"ties of {thick:.3g} mm"),
            one_check("legs of ties", "5.5.3.2.2(12)c", laid.apart, held, "mm", f"legs at {held:.0f} mm"),
            one_check("bars at the faces", "5.5.3.5(3)d", 100.0 * FACES, 100.0 * p.along, "%", "more links"),
            one_check("spacing of links", "5.5.3.5(3)d", p.spacings[0], deep, "mm",
                      f"links at {deep:.0f} mm"),
        )  # fmt: skip
