"""Anchorage and laps: tables of textbooks and hand calculations, two and more a standard, and what has to rise or fall."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import ACI318, EN1992, IS456, Concrete, Steel
from sandwich.standards.interface import AnchoredBar, EndedBars

EN, ACI, IS = EN1992.recommended(), ACI318(), IS456()


def bar(f_ck, f_yk, d, cover=None, clear=None, kind="cylinder", **more):
    wide = 1.0 * d if cover is None else cover
    return AnchoredBar(Concrete(f_ck, kind), Steel(f_yk), d, wide, 2.0 * wide if clear is None else clear, **more)


# l_b,rqd over the diameter of B500 in good and poor conditions, as design tables print it (f_yd 435 MPa)
@pytest.mark.parametrize(
    ("f_ck", "good", "poor"), [(20, 47, 67), (25, 40, 58), (30, 36, 51), (40, 30, 42), (50, 25, 36)]
)
def test_en_anchorage_over_diameter(f_ck, good, poor):
    for d in (12.0, 25.0):
        assert EN.anchorage(bar(f_ck, 500, d)).value / d == pytest.approx(good, abs=0.75)
        assert EN.anchorage(bar(f_ck, 500, d, good=False)).value / d == pytest.approx(poor, abs=0.9)


def test_en_by_hand():
    # 25 mm, C30/37, cover 50 mm, 100 mm clear: c_d = 50, alpha_2 = 1 - 0.15 x 25/25 = 0.85
    own = bar(30, 500, 25, 50.0, 100.0)
    basic = 25 / 4 * (500 / 1.15) / (2.25 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)
    assert EN.anchorage(own).value == pytest.approx(0.85 * basic)
    assert EN.lap(own).value == pytest.approx(0.85 * 1.5 * basic)
    assert EN.lap(replace(own, share=0.33)).value == pytest.approx(0.85 * 1.15 * basic)
    assert EN.anchorage(replace(own, tension=False)).value == pytest.approx(basic)
    # hooked: c_d is not past three diameters, so nothing is gained; with 80 mm it is
    assert EN.hook(own).value == pytest.approx(basic)
    assert EN.hook(replace(own, cover=80.0, clear=160.0)).value == pytest.approx(0.7 * 0.97 * basic)
    # thick bars and strong concrete: eta_2 and the bond of C60/75
    thick = bar(90, 500, 40)
    f_bd = 2.25 * 0.92 * 3.1 / 1.5
    assert EN.anchorage(thick).value == pytest.approx(10 * 500 / 1.15 / f_bd)
    # fewer bars above: the tension is shifted by z cot theta/2; seismic envelopes have that already
    ended = EndedBars(700.0, 16.0, 4000.0, 1.5, 3000.0, seismic=False)
    assert EN.extension(ended).value == pytest.approx(0.8 * 4000 * 1.5 / 2 + 700)
    assert EN.extension(replace(ended, seismic=True)).value == 700.0


def test_aci_by_hand():
    # No. 25 of 420 MPa in 28 MPa: (420/(1.1 x 5.29)) d_b/2.5 with wide cover, /1.5 where c_b is 1.5 d_b
    wide = bar(28, 420, 25.4, 100.0)
    root = math.sqrt(28)
    assert ACI.anchorage(wide).value == pytest.approx(420 / (1.1 * root * 2.5) * 25.4)
    near = bar(28, 420, 25.4, 25.4)
    assert ACI.anchorage(near).value / 25.4 == pytest.approx(48.0, rel=0.01)  # 47.4 of the same in pounds and inches
    assert ACI.anchorage(replace(near, ties=25.4 / 80)).value == pytest.approx(420 / (1.1 * root * 2.0) * 25.4)
    assert ACI.lap(near).value == pytest.approx(1.3 * ACI.anchorage(near).value)
    assert ACI.anchorage(replace(near, yields=True)).value == pytest.approx(1.25 * ACI.anchorage(near).value)
    # a grade of 550 MPa by psi_g 1.15, a small bar by psi_s 0.8, a top bar by psi_t 1.3
    small = bar(28, 550, 19.1, 100.0, good=False)
    assert ACI.anchorage(small).value == pytest.approx(550 * 1.3 * 0.8 * 1.15 / (1.1 * root * 2.5) * 19.1)
    pressed = replace(near, tension=False)
    assert ACI.anchorage(pressed).value == pytest.approx(max(0.24 * 420 / root, 0.043 * 420) * 25.4)
    assert ACI.lap(pressed).value == pytest.approx(0.071 * 420 * 25.4)
    hook = 420 * 1.6 * 1.25 * (28 / 105 + 0.6) * 25.4**1.5 / (23 * root)
    assert ACI.hook(near).value == pytest.approx(hook)
    ended = EndedBars(800.0, 25.4, 3000.0, 1.0, 3000.0, seismic=True)
    assert ACI.extension(ended).value == 3660.0
    assert ACI.extension(replace(ended, h_next=2500.0)).value == 3300.0
    assert ACI.extension(replace(ended, seismic=False)).value == 2400.0
    assert [ACI.no_lap(3000.0, 16e3, h).value for h in (3200.0, 7000.0)] == [3200.0, 6100.0]


# development length over the diameter of grade 415 in tension and compression, as the handbook of IS 456 prints it
@pytest.mark.parametrize(("f_ck", "pulled", "pressed"), [(20, 47.0, 37.6), (25, 40.3, 32.2), (30, 37.6, 30.1)])
def test_is_over_diameter(f_ck, pulled, pressed):
    own = bar(f_ck, 415, 16, 40.0, 200.0, kind="cube")
    assert IS.anchorage(own).value / 16 == pytest.approx(pulled, abs=0.06)
    assert IS.anchorage(replace(own, tension=False)).value / 16 == pytest.approx(pressed, abs=0.06)
    assert IS.lap(own).value == IS.anchorage(own).value
    assert IS.lap(replace(own, cover=30.0)).value == pytest.approx(1.4 * IS.anchorage(own).value)
    assert IS.hook(own).value == pytest.approx(IS.anchorage(own).value - 128)
    assert IS.no_lap(3000.0, 24e3, 3000.0).value == 4000.0
    assert IS.extension(EndedBars(500.0, 16.0, 3000.0, 1.0, 3000.0, seismic=True)).value == 2400.0


@pytest.mark.parametrize("standard", [EN, ACI, IS], ids=lambda s: type(s).__name__)
@given(st.floats(8, 40), st.floats(20, 50), st.floats(15, 80), st.floats(30, 300))
def test_lengths_rise_with_diameter_and_fall_with_cover_and_strength(standard, d, f_ck, cover, clear):
    own = bar(f_ck, 500, d, cover, clear)
    for of in (standard.anchorage, standard.lap):
        here = of(own).value
        assert of(replace(own, diameter=1.1 * d)).value >= here - 1e-9
        assert of(replace(own, concrete=Concrete(f_ck + 10))).value <= here + 1e-9
        assert of(replace(own, cover=cover + 20)).value <= here + 1e-9
        assert of(replace(own, ties=0.2)).value <= here + 1e-9
    assert standard.lap(own).value >= standard.anchorage(own).value - 1e-9
