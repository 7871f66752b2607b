"""Closed forms of in-plane steel and Wood-Armer moments against linear programs."""

import json

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import REFERENCE
from sandwich.mechanics.inplane import orthogonal
from sandwich.mechanics.plate import wood_armer


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


def test_shapes_broadcast():
    assert orthogonal(1.0, 2.0, 3.0).shape == (3,)
    assert orthogonal(np.ones((2, 1)), np.ones(4), 0.0).shape == (3, 2, 4)
    assert wood_armer(np.ones((2, 3)), 0.0, 0.0).shape == (4, 2, 3)
    assert_allclose(orthogonal(0.0, 0.0, -50.0), [50.0, 50.0, -100.0])
