"""ACI 318-19 behind the interface of anchorage."""

from __future__ import annotations

import math
from typing import Final

from sandwich.standards.aci318 import anchorage, bends
from sandwich.standards.interface.anchorage import AnchoredBar, Bend, EndedBars, LappedEnd, LapTies, Length

DEPTH: Final = 0.8  # of the length of a wall, 11.5.4.2


class ACI318Anchorage:
    """What `ACI318` does for development and splices."""

    def _l_d(self, bar: AnchoredBar) -> float:
        f_y, d_b = bar.steel.f_yk, bar.diameter
        root = math.sqrt(bar.concrete.cylinder)
        c_b = min(bar.cover, bar.clear / 2.0) + d_b / 2.0
        index = anchorage.K_tr(bar.ties) if bar.ties else 0.0
        return float(anchorage.l_d(f_y, root, d_b, c_b, index, not bar.good, self._psi_g(f_y)))

    def _psi_g(self, f_y: float) -> float:
        """Factor of the grade [-]."""
        return float(anchorage.psi_g(f_y))

    def anchorage(self, bar: AnchoredBar) -> Length:
        """l_d, or l_dc of bars that are pressed alone; 1.25 times where bars yield."""
        if not bar.tension:
            root = math.sqrt(bar.concrete.cylinder)
            return Length(float(anchorage.l_dc(bar.steel.f_yk, root, bar.diameter)), "25.4.9.2")
        if bar.yields:
            return Length(anchorage.YIELDING * self._l_d(bar), "25.4.2.4, 18.10.2.3(b)")
        return Length(self._l_d(bar), "25.4.2.4")

    def hook(self, bar: AnchoredBar) -> Length:
        """l_dh without ties at the hook."""
        found = float(anchorage.l_dh(bar.steel.f_yk, bar.concrete.cylinder, bar.diameter))
        return Length(found * (anchorage.YIELDING if bar.yields else 1.0), "25.4.3.1")

    def bend(self, diameter: float, past: float = 0.0) -> Bend:  # noqa: ARG002
        """Table 25.3.1."""
        return Bend(float(bends.bend_diameter(diameter)), float(bends.l_ext(diameter)), "25.3.1")

    def bend_at_face(self, bar: AnchoredBar, past: float) -> Bend:
        """No rule of its own."""
        return self.bend(bar.diameter, past)

    def edge_leg(self, h: float) -> Length:
        """No rule: twice the thickness."""
        return Length(2.0 * h, "")

    def tie_bend(self, diameter: float, *, seismic: bool) -> Bend:
        """Table 25.3.2, and 25.3.4."""
        clause = "25.3.2, 25.3.4" if seismic else "25.3.2"
        return Bend(float(bends.bend_diameter_tie(diameter)), float(bends.l_ext_tie(diameter)), clause)

    def headed(self, bar: AnchoredBar) -> Length:
        """l_dt without ties; inf of bars that may have no heads, 25.4.4.1."""
        d, apart = bar.diameter, bar.clear + bar.diameter + anchorage.NOISE
        if (
            bar.cover + anchorage.NOISE < anchorage.HEAD_COVER * d
            or apart < anchorage.HEAD_APART * d
            or d > anchorage.HEAD_MOST
        ):
            return Length(math.inf, "25.4.4.1")
        wide = apart >= anchorage.HEAD_WIDE * d
        return Length(float(anchorage.l_dt(bar.steel.f_yk, bar.concrete.cylinder, d, wide)), "25.4.4.2")

    def lap(self, bar: AnchoredBar) -> Length:
        """Class B of 25.5.2.1, or 25.5.5 of bars that are pressed alone; of l_d with 1.25 where bars yield."""
        if not bar.tension:
            found = anchorage.l_sc(bar.steel.f_yk, bar.diameter, bar.concrete.cylinder)
            return Length(float(found), "25.5.5.1")
        l_d = self.anchorage(bar)
        clause = "25.5.2.1" + (", 18.10.2.3(b)" if bar.yields else "")
        return Length(float(anchorage.l_st(l_d.value, bar.share, 1.0)), clause)

    def extension(self, bars: EndedBars) -> Length:
        """9.7.3.3, or 18.10.2.3(a) of special walls."""
        if not bars.seismic:
            plain = anchorage.extension(DEPTH * bars.l_w, bars.diameter, bars.anchorage)
            return Length(float(plain), "9.7.3.3, 9.7.3.4")
        special = float(anchorage.extension_seismic(bars.h_next, bars.anchorage))
        return Length(max(special, bars.anchorage), "18.10.2.3(a)")

    def lap_ties(self, end: LappedEnd) -> LapTies | None:  # noqa: ARG002
        """None."""
        return None

    def beyond(self, bar: AnchoredBar, d: float, cot_theta: float | None) -> Length:  # noqa: ARG002
        """7.7.3.3, 7.7.3.4: d, 12 d_b, and l_d."""
        return Length(float(anchorage.extension(d, bar.diameter, self._l_d(bar))), "7.7.3.3, 7.7.3.4, 25.4.2.4")

    def no_lap_below(self, bar: AnchoredBar) -> Length:
        """18.10.2.3(c)."""
        return Length(self._l_d(bar), "18.10.2.3(c)")

    def no_lap(self, l_w: float, h_w: float, h_s: float) -> Length:  # noqa: ARG002
        """18.10.2.3(c)."""
        return Length(float(anchorage.no_lap(h_s)), "18.10.2.3(c)")
