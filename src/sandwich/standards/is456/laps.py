"""IS 456:2000 and IS 13920:2016 behind the interface of anchorage."""

from __future__ import annotations

from typing import Final

from sandwich.standards.interface.anchorage import AnchoredBar, Bend, EndedBars, LappedEnd, LapTies, Length
from sandwich.standards.is456 import anchorage, bends, layers
from sandwich.standards.is13920 import laps

DEPTH: Final = 0.8  # of the length of a wall, 32.4.2


class IS456Anchorage:
    """What `IS456` does for development lengths and laps."""

    @staticmethod
    def _l_d(bar: AnchoredBar) -> float:
        tau_bd = anchorage.tau_bd(bar.concrete.cube, bar.tension)
        return float(anchorage.L_d(bar.diameter, layers.f_yd(bar.steel.f_yk), tau_bd))

    def anchorage(self, bar: AnchoredBar) -> Length:
        """L_d, 26.2.1."""
        return Length(self._l_d(bar), "26.2.1")

    def hook(self, bar: AnchoredBar) -> Length:
        """L_d less the value of a right-angle bend, 26.2.2.1."""
        return Length(float(anchorage.hooked(self._l_d(bar), bar.diameter)), "26.2.2.1")

    def lap(self, bar: AnchoredBar) -> Length:
        """26.2.5.1."""
        near = bar.cover < 2.0 * bar.diameter or bar.clear < max(75.0, 6.0 * bar.diameter)
        return Length(float(anchorage.lap(self._l_d(bar), bar.diameter, bar.tension, near)), "26.2.5.1(c), (d)")

    def bend(self, diameter: float, past: float = 0.0) -> Bend:  # noqa: ARG002
        """26.2.2.1(b), IS 2502."""
        return Bend(float(bends.bend_diameter(diameter)), float(bends.tail(diameter)), "26.2.2.1(b), IS 2502")

    def bend_at_face(self, bar: AnchoredBar, past: float) -> Bend:
        """No check of bends by IS 2502, 26.2.2.5."""
        return self.bend(bar.diameter, past)

    def edge_leg(self, h: float) -> Length:
        """No rule: twice the thickness."""
        return Length(2.0 * h, "")

    def tie_bend(self, diameter: float, *, seismic: bool) -> Bend:
        """26.2.2.4(b), IS 2502, or IS 13920, 3.4."""
        own, clause = (bends.tail_of_tie, "IS 13920, 3.4") if seismic else (bends.tail_of_link, "26.2.2.4(b)")
        return Bend(float(bends.bend_diameter(diameter)), float(own(diameter)), f"{clause}, IS 2502")

    def extension(self, bars: EndedBars) -> Length:
        """26.2.3.1."""
        return Length(float(anchorage.extension(DEPTH * bars.l_w, bars.diameter, bars.anchorage)), "26.2.3.1, 26.2.3.2")

    def lap_ties(self, end: LappedEnd) -> LapTies | None:
        """IS 13920, 10.9.3."""
        least = float(laps.d_lap_ties(end.diameter))
        return LapTies(max(least, end.d_tie), laps.TIES, "IS 13920, 10.9.3") if least else None

    def beyond(self, bar: AnchoredBar, d: float, cot_theta: float | None) -> Length:  # noqa: ARG002
        """26.2.3.1: d, 12 phi, and L_d."""
        return Length(float(anchorage.extension(d, bar.diameter, self._l_d(bar))), "26.2.3.1, 26.2.3.2, 26.2.1")

    def no_lap_below(self, bar: AnchoredBar) -> Length:  # noqa: ARG002
        """No rule."""
        return Length(0.0, "")

    def no_lap(self, l_w: float, h_w: float, h_s: float) -> Length:  # noqa: ARG002
        """IS 13920, 10.9.2."""
        return Length(float(laps.no_lap(l_w, h_w)), "IS 13920, 10.9.2")
