"""Rotation, turning over and offset against invariants and definitions."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.core.resultants import rotate, to_mid_depth, turn_over

values = st.lists(st.floats(-1e4, 1e4), min_size=8, max_size=8).map(np.array)
angles = st.floats(-7.0, 7.0)


@given(values, angles, angles)
def test_rotations_add_up_and_keep_the_invariants(r, a, b):
    atol = 1e-9 * max(np.abs(r).max(), 1.0)
    assert_allclose(rotate(rotate(r, a), b), rotate(r, a + b), atol=atol)
    turned = rotate(r, a)
    for i in (0, 3):
        assert_allclose(turned[i] + turned[i + 1], r[i] + r[i + 1], atol=atol)
        determinants = [t[i] * t[i + 1] - t[i + 2] ** 2 for t in (turned, r)]
        assert_allclose(*determinants, atol=atol * max(np.abs(r).max(), 1.0))
    assert_allclose(np.hypot(*turned[6:]), np.hypot(*r[6:]), atol=atol)


@given(values, angles)
def test_turning_over_twice_changes_nothing_and_reverses_angles(r, a):
    assert_allclose(turn_over(turn_over(r)), r)
    assert_allclose(turn_over(rotate(r, a)), rotate(turn_over(r), -a), atol=1e-9 * max(np.abs(r).max(), 1.0))


def test_definitions():
    # integrate a stress state over the depth, then look at it from the turned axes
    z = (np.arange(2000) + 0.5) / 2000 * 200.0 - 100.0
    stress = np.array([3.0 + 0.02 * z, -1.0 + 0.01 * z, 0.5 - 0.03 * z])
    n, m = stress.sum(1) * 0.1, -(stress * z).sum(1) * 0.1
    over = np.array([stress[0][::-1], stress[1][::-1], -stress[2][::-1]])
    n_over, m_over = over.sum(1) * 0.1, -(over * z).sum(1) * 0.1
    assert_allclose(turn_over([*n, *m, 0, 0])[:6], [*n_over, *m_over], atol=1e-9)
    # a reference surface 40 mm below mid-depth sees a lever arm that is 40 mm longer
    m_ref = -(stress * (z + 40.0)).sum(1) * 0.1
    assert_allclose(to_mid_depth([*n, *m_ref, 0, 0], -40.0)[3:6], m, rtol=1e-12)
