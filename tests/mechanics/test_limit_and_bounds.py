"""Limit analysis against closed forms; bounds and minimum bars against transformations that must not change them."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.mechanics import certificate, settle
from sandwich.mechanics.anydirection import optimum_forces
from sandwich.mechanics.core import thrust
from sandwich.mechanics.inplane import membrane_factor, membrane_holds, orthogonal
from sandwich.mechanics.joint import joint_design
from sandwich.mechanics.leaststeel import optimum_steel
from sandwich.mechanics.limit import load_factor

H, FC = 300.0, 15.0
E4, CROSS = np.array([110.0, 98.0, -110.0, -98.0]), np.radians([0.0, 90.0, 0.0, 90.0])
FORCE = np.array([400.0, 300.0, 200.0, 250.0])
tensor = st.lists(st.floats(-500, 500), min_size=3, max_size=3)


def test_load_factors_of_closed_forms():
    d, f = 150.0 + 110.0, 400.0
    bending = f * (d - f / (2 * FC))  # stress block, bottom x bars alone
    one = load_factor([0, 0, 0, 1e5, 0, 0], H, [110.0], [0.0], [f], FC)
    assert one.lower == pytest.approx(bending / 1e5, rel=2e-3)
    assert one.lower <= one.upper <= bending / 1e5 * (1 + 2e-3)
    pulled = load_factor([200.0, 0, 0, 0, 0, 0], H, [110.0, -110.0], [0.0, 0.0], [300.0, 300.0], FC)
    assert pulled.lower == pytest.approx(3.0, rel=1e-6)
    pressed = load_factor([-1000.0, 0, 0, 0, 0, 0], H, E4, CROSS, FORCE, FC, compressed_bars=0.0)
    assert pressed.lower == pytest.approx(FC * H / 1000.0, rel=1e-6)
    helped = load_factor([-1000.0, 0, 0, 0, 0, 0], H, [0.0], [0.0], [500.0], FC)
    assert helped.lower == pytest.approx((FC * H + 500.0) / 1000.0, rel=1e-6)
    sheared = load_factor([0, 0, 100.0, 0, 0, 0], H, [0.0, 0.0], CROSS[:2], [300.0, 48.0], FC)
    assert sheared.lower == pytest.approx(np.sqrt(300.0 * 48.0) / 100.0, rel=1e-6)  # Nielsen's ellipse
    assert load_factor(np.zeros(6), H, E4, CROSS, FORCE, FC).lower == np.inf
    assert load_factor([0, 100.0, 0, 0, 0, 0], H, [110.0], [0.0], [300.0], FC).lower == pytest.approx(0.0, abs=1e-6)


@given(n=tensor, F=st.tuples(st.floats(0.0, 800.0), st.floats(0.0, 800.0)))
@settings(max_examples=40)
def test_membrane_factors_are_those_of_the_conic_program(n, F):
    P = FC * H
    found = float(membrane_factor(n, *F, P))
    bars = [F[0] / 2, F[1] / 2] * 2
    exact = load_factor([*n, 0, 0, 0], H, E4, CROSS, bars, FC, compressed_bars=0.0)
    if np.abs(n).max() < 10.0 or exact.lower > 400.0:
        return
    assert found == pytest.approx(exact.lower, rel=2e-3, abs=2e-3)
    if found > 0.0:  # twice as much of everything carries twice as much, and turned by 90 degrees the same
        assert membrane_factor(2 * np.array(n), 2 * F[0], 2 * F[1], 2 * P) == pytest.approx(found, rel=1e-9)
        assert membrane_factor([n[1], n[0], -n[2]], F[1], F[0], P) == pytest.approx(found, rel=1e-9)
    assert membrane_holds(np.array(n) * found * (1 - 1e-9), *F, P) or found == 0.0


def test_strength_through_the_depth():
    even = load_factor([0, 0, 0, 1e5, 0, 0], H, E4, CROSS, FORCE, np.full(40, FC))
    same = load_factor([0, 0, 0, 1e5, 0, 0], H, E4, CROSS, FORCE, FC)
    assert even.lower == pytest.approx(same.lower, rel=1e-7)
    top = load_factor([0, 0, 0, 1e5, 0, 0], H, E4, CROSS, FORCE, np.repeat([1e-3, FC], 20))
    assert top.lower == pytest.approx(same.lower, rel=2e-3)  # the compressed half is the top one
    other = load_factor([0, 0, 0, 1e5, 0, 0], H, E4, CROSS, FORCE, np.repeat([FC, 1e-3], 20))
    assert other.lower < 0.75 * same.lower


def test_least_steel_and_load_factor_are_inverse():
    rows = np.array([[80.0, -40.0, 60.0, 5e4, -2e4, 1e4], [-200.0, 90.0, 20.0, -3e4, 4e4, -5e3]])
    least = optimum_steel(rows, H, E4, CROSS, FC)
    total, forces = least.total, least.forces
    factors = [load_factor(r, H, E4, CROSS, forces, FC).lower for r in rows]
    assert min(factors) == pytest.approx(1.0, abs=2e-4)
    less = [load_factor(r, H, E4, CROSS, 0.95 * forces, FC).lower for r in rows]
    assert min(less) < 1.0
    assert 0.995 * total <= least.bound <= total
    dear = optimum_steel(rows, H, E4, CROSS, FC, weights=[3.0, 1.0, 3.0, 1.0])
    assert dear.total <= 3 * (forces[0] + forces[2]) + forces[1] + forces[3] + 1e-6
    assert dear.forces.sum() >= total - 1e-6
    none = optimum_steel([0, 0, 0, -5e4, 0, 0], H, [110.0], [0.0], FC)
    assert none.total == np.inf
    assert none.bound > 1e9


@given(tensor, st.floats(16.0, 90.0), st.floats(0.2, 5.0))
def test_skew_bars_are_orthogonal_ones_in_oblique_axes(n, angle, weight):
    # d1 and d2 become unit vectors by a congruence, which keeps the sign of the concrete's forces
    a = np.radians(angle)
    t = np.linalg.inv(np.array([[1.0, np.cos(a)], [0.0, np.sin(a)]]))
    oblique = t @ np.array([[n[0], n[2]], [n[2], n[1]]]) @ t.T
    scale = np.sqrt(weight)  # a weight is a scale of that axis
    fx, fy, _ = orthogonal(oblique[0, 0] * weight, oblique[1, 1], oblique[0, 1] * scale)
    found = optimum_forces([n], [0.0, a], weights=[weight, 1.0])
    size = max(np.abs(oblique).max() * max(weight, 1.0), 1e-3)
    assert found.total[0] == pytest.approx(fx + fy, rel=1e-7, abs=1e-7 * size)


def test_in_plane_edge_cases():
    found = optimum_forces([[np.nan, 0, 0], [-5.0, -3.0, 1.0], [0, 0, 0]], CROSS[:2])
    assert np.isnan(found.total[0])
    assert_allclose(found.forces[1:], 0.0)
    assert_allclose(found.gap[1:], 0.0)
    with pytest.raises(ValueError, match="15 degrees apart"):
        optimum_forces([[1, 1, 0]], np.radians([0.0, 14.0]))
    with pytest.raises(ValueError, match="15 degrees apart"):
        optimum_forces([[1, 1, 0]], [0.0])
    with pytest.raises(ValueError, match="more than zero"):
        optimum_forces([[1, 1, 0]], CROSS[:2], weights=[1.0, 0.0])


@given(st.integers(0, 10_000))
def test_no_proposal_lifts_the_bound_above_the_steel(seed):
    rng = np.random.default_rng(seed)
    rows = rng.normal(size=(3, 6)) * [150, 150, 60, 2e4, 2e4, 8e3]
    one = settle.design(rows, H, E4, CROSS, FC, FC)
    if np.any(one.status != 0):
        return
    single = np.column_stack([one.forces, one.t, one.fc])[None]
    joint = joint_design(rows[None], [H], E4[None], CROSS, FC, single)
    t = joint.fields[:, :, 4:6]
    wild = rng.normal(size=(1, 3, 2, 3)) * 10 ** rng.uniform(-3, 3)
    assert certificate.lower_bound(rows[None], [H], E4[None], CROSS, t, wild)[0] <= joint.total[0] * (1 + 1e-6)
    low = certificate.lower_bound(rows[None], [H], E4[None], CROSS, joint.priced_t, joint.prices)[0]
    assert low <= joint.total[0] * (1 + 1e-9) + 1e-9
    assert joint.total[0] >= one.total.max() * (1 - 1e-3)
    assert joint.total[0] <= one.forces.max(0).sum() * (1 + 1e-5)
    # twice the yield strength in one combination needs half of its steel
    strong = joint_design(rows[None], [H], E4[None], CROSS, FC, single, strength=[1.0, 2.0, 1.0])
    assert strong.total[0] <= joint.total[0] * (1 + 1e-5)


@given(st.floats(-200, 200), st.floats(-200, 200), st.floats(-3.0, 3.0), st.floats(1.0, 2.5))
def test_thrust_is_a_tensor_along_the_shear(vx, vy, turn, cot):
    n = thrust(vx, vy, cot)
    v = np.hypot(vx, vy)
    assert n[0] + n[1] == pytest.approx(v * cot, abs=1e-9)
    assert n[0] * n[1] - n[2] ** 2 == pytest.approx(0.0, abs=1e-6 * max(v * v, 1.0))
    c, s = np.cos(turn), np.sin(turn)
    turned = thrust(c * vx + s * vy, c * vy - s * vx, cot)
    assert turned[0] == pytest.approx(c * c * n[0] + s * s * n[1] + 2 * s * c * n[2], abs=1e-6 * max(v, 1.0))
