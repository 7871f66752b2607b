"""Closed forms of in-plane steel and Wood-Armer moments against linear programs."""

import json

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from conftest import REFERENCE
from sandwich import BarLayers, BarLine, Concrete, Section, design_points
from sandwich.mechanics.inplane import orthogonal
from sandwich.mechanics.plate import wood_armer
from sandwich.standards.aci318.standard import ACI318


def test_inplane_totals_equal_the_linear_program():
    t = pd.read_csv(REFERENCE / "inplane_orthogonal.csv")
    t = t[(t["weight_1"] == 1.0) & (t["weight_2"] == 1.0)]
    largest = t[["nx", "ny", "nxy"]].abs().max(axis=1)
    fx, fy, low = orthogonal(t["nx"], t["ny"], t["nxy"])
    assert len(t) > 50
    # accuracy of the reference: 1e-8 of the largest component
    assert np.all(np.abs(fx + fy - t["total"]) <= 1e-6 * np.maximum(largest, t["total"]) + 1e-12)
    assert np.all(low <= t["concrete_min"] + 1e-3 * largest + 1e-9)


def test_plate_totals_equal_the_linear_program():
    cases = json.loads((REFERENCE / "plates.json").read_text())
    single = [c for c in cases if len(c["moments"]) == 1 and c["angles_bottom"] == c["angles_top"] == [0.0, 90.0]]
    assert len(single) > 10
    for c in single:
        m = wood_armer(*c["moments"][0])
        scale = max(np.abs(c["moments"]).max(), c["total_bottom"], c["total_top"], 1e-9)
        assert m[0] + m[1] == pytest.approx(c["total_bottom"], abs=1e-6 * scale)
        assert m[2] + m[3] == pytest.approx(c["total_top"], abs=1e-6 * scale)


def test_joint_membranes_through_the_door():
    """Two combinations that envelopes serve with 450 N/mm need 416.2; reference: linear programs over directions."""
    zero = [0.0] * 5
    rows = [[[200, -100, 50, *zero], [-100, 200, -50, *zero]]]
    design = design_points(rows, Section(250.0), method="membrane", joint=True)
    assert design.ultimate.total[0] * 500 / 1.15 == pytest.approx(416.2278, abs=1e-3)
    assert design.ultimate.a_s_envelope.sum() * 500 / 1.15 == pytest.approx(450.0)
    assert design.ultimate.certified.all()
    cases = json.loads((REFERENCE / "inplane_many_combinations.json").read_text())
    for c in cases:
        if c["angles"] != [0.0, 90.0] or c["weights"] != [1.0, 1.0]:
            continue
        rows = np.zeros((1, len(c["tensors"]), 8))
        rows[0, :, :3] = c["tensors"]
        wide = Section(2000.0, concrete=Concrete(90.0))
        u = design_points(rows, wide, method="membrane", joint=True).ultimate
        assert u.total[0] * 500 / 1.15 == pytest.approx(c["total"], rel=1e-6, abs=1e-6)
        assert u.certified[0]
        assert u.bound[0] <= u.total[0] * (1 + 1e-12)


@pytest.mark.parametrize("standard", [None, ACI318()])
@pytest.mark.parametrize("lines", [(), (BarLine(0.0), BarLine(60.0))])
def test_joint_membranes_never_lie_above_their_envelope(standard, lines):
    rows = np.zeros((100, 5, 8))
    rows[..., :3] = np.random.default_rng(1).normal(0, 300, (100, 5, 3))
    section = Section(250.0, BarLayers(bottom=lines, top=lines))
    u = design_points(rows, section, method="membrane", joint=True, standard=standard).ultimate
    ok = u.failing < 0
    assert u.certified[ok].all()
    assert (u.total[ok] <= u.a_s_envelope[ok].sum(1) * (1 + 1e-9)).all()
    assert (u.bound[ok] <= u.total[ok] * (1 + 1e-9)).all()
    assert u.total[ok].sum() < 0.99 * u.a_s_envelope[ok].sum()


def test_shapes_broadcast():
    assert orthogonal(1.0, 2.0, 3.0).shape == (3,)
    assert orthogonal(np.ones((2, 1)), np.ones(4), 0.0).shape == (3, 2, 4)
    assert wood_armer(np.ones((2, 3)), 0.0, 0.0).shape == (4, 2, 3)
    assert_allclose(orthogonal(0.0, 0.0, -50.0), [50.0, 50.0, -100.0])


@given(st.tuples(*[st.floats(-90.0, 90.0)] * 3), st.floats(20.0, 160.0))
def test_two_bars_at_any_angle_by_the_closed_form(m, degrees):
    """Armer's moments along x and along bars at an angle: oblique parts, each and the size of their twist."""
    angle = np.radians(degrees)
    found = wood_armer(*m, angles=[0.0, angle]).reshape(2, 2)
    for face, sign in zip(found, (1.0, -1.0), strict=True):
        mx, my, mxy = sign * np.array(m)
        cot, s = 1.0 / np.tan(angle), np.sin(angle)
        a, b, c = mx - 2.0 * mxy * cot + my * cot**2, my / s**2, (mxy - my * cot) / s
        first, second = a + abs(c), b + abs(c)
        if first < 0.0:
            first, second = 0.0, max(b + c**2 / abs(a), 0.0)
        elif second < 0.0:
            first, second = max(a + c**2 / abs(b), 0.0), 0.0
        assert_allclose(face.sum(), first + second, rtol=1e-5, atol=1e-4)
