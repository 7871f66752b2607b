"""EN 1992-1-1:2004 behind the interface of anchorage."""

from __future__ import annotations

import math
from typing import Any, Final

from sandwich.standards.en1992 import anchorage, bends, materials
from sandwich.standards.en1998 import confinement, lightly
from sandwich.standards.interface.anchorage import AnchoredBar, Bend, EndedBars, LappedEnd, LapTies, Length

LEVER: Final = 0.8  # of the length of a wall
Z: Final = 0.9  # of the effective depth of a slab, 6.2.3(1)


class EN1992Anchorage:
    """What `EN1992` does for anchorage and laps."""

    parameters: dict[str, Any]

    def _basic(self, bar: AnchoredBar) -> float:
        """l_b,rqd at the design strength of the bar [mm]."""
        partial = self.parameters["persistent"]
        f_ctd = materials.f_ctd(materials.f_ctm(bar.concrete.cylinder), gamma_c=partial["gamma_c"])
        f_ctd = min(float(f_ctd), anchorage.MOST_F_CTD / partial["gamma_c"])
        f_bd = anchorage.f_bd(f_ctd, bar.diameter, bar.good)
        sigma = materials.f_yd(bar.steel.f_yk, gamma_s=partial["gamma_s"])
        return float(anchorage.l_b_rqd(bar.diameter, sigma, f_bd))

    @staticmethod
    def _factors(bar: AnchoredBar, *, bent: bool) -> float:
        """alpha_1 alpha_2; transverse bars and pressure are left out."""
        if not bar.tension:
            return 1.0
        c_d = min(bar.clear / 2.0, bar.cover)
        alpha_1 = anchorage.alpha_1(c_d, bar.diameter, bent)
        return float(alpha_1 * anchorage.alpha_2(c_d, bar.diameter, bent))

    def anchorage(self, bar: AnchoredBar) -> Length:
        """l_bd of a straight bar, 8.4.4."""
        alpha = self._factors(bar, bent=False)
        return _clamping(bar, float(anchorage.l_bd(self._basic(bar), alpha, bar.diameter, bar.tension)), "8.4.4(1)")

    def hook(self, bar: AnchoredBar) -> Length:
        """l_bd of a bent bar, 8.4.4."""
        alpha = self._factors(bar, bent=True)
        return _clamping(bar, float(anchorage.l_bd(self._basic(bar), alpha, bar.diameter, True)), "8.4.4(1), table 8.2")

    def lap(self, bar: AnchoredBar) -> Length:
        """l_0, 8.7.3."""
        alpha_6 = anchorage.alpha_6(bar.share)
        alpha = self._factors(bar, bent=False)
        return Length(float(anchorage.l_0(self._basic(bar), alpha, alpha_6, bar.diameter)), "8.7.3(1)")

    def bend(self, diameter: float, past: float = 0.0) -> Bend:
        """8.3(2), (3), figure 8.1."""
        inside = float(bends.phi_inside(diameter, past))
        clause = "8.3(2), (3), figure 8.1" if inside else "8.3(2), figure 8.1"
        return Bend(float(bends.phi_m(diameter)), float(bends.tail(diameter)), clause, inside)

    def bend_at_face(self, bar: AnchoredBar, past: float) -> Bend:
        """8.3(2), (8.1) of a bar at its full stress, figure 8.1."""
        own = self.bend(bar.diameter, past)
        if not own.inside:
            return own
        partial, most = self.parameters["persistent"], bends.MOST_F_CK
        f_cd = materials.f_cd(
            min(bar.concrete.cylinder, most), gamma_c=partial["gamma_c"], alpha_cc=self.parameters["values"]["alpha_cc"]
        )
        force = math.pi * bar.diameter**2 / 4.0 * materials.f_yd(bar.steel.f_yk, gamma_s=partial["gamma_s"])
        a_b = min(bar.cover, bar.clear / 2.0) + bar.diameter / 2.0
        held = float(bends.phi_m_min(force, a_b, bar.diameter, f_cd))
        return own._replace(mandrel=max(own.mandrel, held), inside=0.0, clause="8.3(2), (8.1), figure 8.1")

    def edge_leg(self, h: float) -> Length:
        """Twice the thickness, 9.3.1.4(1)."""
        return Length(float(bends.edge_leg(h)), "9.3.1.4(1)")

    def tie_bend(self, diameter: float, *, seismic: bool) -> Bend:
        """8.3(2), 8.5, or EN 1998-1, 5.6.1(2)."""
        own, clause = (bends.tail_of_tie, "EN 1998-1, 5.6.1(2)") if seismic else (bends.tail_of_link, "8.5(1)")
        return Bend(float(bends.phi_m(diameter)), float(own(diameter)), f"8.3(2), {clause}")

    def extension(self, bars: EndedBars) -> Length:
        """l_bd past the shifted line of tension, 9.2.1.3; the moments of seismic walls are shifted already."""
        if bars.seismic:
            return Length(bars.anchorage, "9.2.1.3(3); EN 1998-1, 5.4.2.4(5)")
        shift = float(anchorage.a_l(LEVER * bars.l_w, bars.cot_theta))
        return Length(shift + bars.anchorage, "9.2.1.3(2), (3)")

    def lap_ties(self, end: LappedEnd) -> LapTies | None:
        """EN 1998-1, 5.6.3, of boundary elements."""
        if end.d_tie <= 0.0:
            return None
        leg = math.pi * end.d_tie**2 / 4.0
        found = confinement.s_lap(end.t, leg, end.diameter, end.f_yk, end.f_yk)
        return LapTies(end.d_tie, float(found), "EN 1998-1, 5.6.3(3), (4)")

    def beyond(self, bar: AnchoredBar, d: float, cot_theta: float | None) -> Length:
        """l_bd past the shifted line of tension: by d without links, 9.2.1.3(2), 9.3.1.1(4)."""
        shift = d if cot_theta is None else float(anchorage.a_l(Z * d, cot_theta))
        return Length(shift + self.anchorage(bar).value, "9.2.1.3(2), 9.3.1.1(4), 8.4.4(1)")

    def no_lap_below(self, bar: AnchoredBar) -> Length:  # noqa: ARG002
        """No rule."""
        return Length(0.0, "")

    def no_lap(self, l_w: float, h_w: float, h_s: float) -> Length:  # noqa: ARG002
        """No rule: laps in critical regions have their ties by EN 1998-1, 5.6.3(3)."""
        return Length(0.0, "")


def _clamping(bar: AnchoredBar, length: float, clause: str) -> Length:
    """Anchorage, half as long again of bars that clamp joints of large lightly reinforced walls."""
    if not bar.clamps:
        return Length(length, clause)
    return Length(float(lightly.l_bd_clamping(length)), f"{clause}; EN 1998-1, 5.4.3.5.2(4)")
