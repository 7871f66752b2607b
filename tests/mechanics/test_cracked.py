"""The cracked elastic section against energy minimisation, closed forms, layers of its own and invariants."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.mechanics.cracked import NO_EQUILIBRIUM, NOT_CONVERGED, NOT_FINITE, OK, cracked_section

CASES = json.loads((Path(__file__).parents[1] / "reference" / "cracked_service.json").read_text())
H, AXES, CROSS = 300.0, np.array([110.0, 98.0, -112.0, -98.0]), np.radians([0.0, 90.0, 0.0, 90.0])
E_C, E_S = 11_000.0, 200_000.0
forces = st.lists(st.floats(-3.0, 3.0), min_size=6, max_size=6).map(lambda r: np.where(np.abs(r) < 1e-9, 0.0, r))


def layers(strain, curvature, h, E_c, count=4000):
    """Energy [N/mm] and resultants (6,) of the concrete by many layers: none of the code under test."""
    z = ((np.arange(count) + 0.5) / count - 0.5) * h
    eps = strain - z[:, None] * curvature
    values, vectors = np.linalg.eigh(np.stack([eps[:, [0, 2]] * [1, 0.5], eps[:, [2, 1]] * [0.5, 1]], axis=1))
    pressed = E_c * np.minimum(values, 0.0)
    sigma = np.einsum("zik,zk,zjk->zij", vectors, pressed, vectors)
    n = np.stack([sigma[:, 0, 0], sigma[:, 1, 1], sigma[:, 0, 1]], axis=1)
    dz = h / count
    return (pressed * values).sum() / 2 * dz, np.concatenate([n.sum(0) * dz, -(n * z[:, None]).sum(0) * dz])


def bars_of(axes, angles, area, E_s, strain, curvature):
    """Energy and resultants of the bars, by their definition."""
    out, energy = np.zeros(6), 0.0
    for e, angle, a in zip(axes, angles, area * E_s, strict=True):
        d = np.array([np.cos(angle) ** 2, np.sin(angle) ** 2, np.cos(angle) * np.sin(angle)])
        eps = d @ (strain + e * curvature)
        energy += a * eps**2 / 2
        out += a * eps * np.concatenate([d, e * d])
    return energy, out


def test_reference_cases_by_energy_minimisation():
    """Steel stresses within 0.5 % or 0.5 MPa on every case, potential at most 1e-8 above the reference's."""
    for case in CASES:
        e, angle, area, modulus = np.array(
            [[-b["z"], np.radians(b["angle"]), b["as"], b["Es"]] for b in case["bars"]]
        ).T
        r = np.array(case["resultants"])
        state = cracked_section(r, case["h"], e, angle, area, E_c=case["Ec"], E_s=modulus)
        assert state.status == OK
        expected = np.array(case["bar_stress"])
        assert np.all(np.abs(state.bar_stress - expected) <= np.maximum(0.5, 0.005 * np.abs(expected))), case["id"]

        def potential(strain, curvature, case=case, r=r, bars=(e, angle, area, modulus)):
            energy = layers(strain, curvature, case["h"], case["Ec"])[0] + bars_of(*bars, strain, curvature)[0]
            return energy - r @ np.concatenate([strain, curvature])

        own, least = (
            potential(state.strain, state.curvature),
            potential(*map(np.array, (case["strain"], case["curvature"]))),
        )
        assert own <= least + 1e-8 * abs(least), case["id"]


def test_cracked_one_way_section():
    """x of a beam with bars on both faces from the quadratic of its first moments."""
    m, a, b, d, d2 = 60e3, 1.2, 0.5, H / 2 + 110.0, H / 2 - 112.0
    ratio = E_S / E_C
    x = -ratio * (a + b) + np.sqrt((ratio * (a + b)) ** 2 + 2 * ratio * (a * d + b * d2))
    inertia = x**3 / 3 + ratio * (a * (d - x) ** 2 + b * (x - d2) ** 2)
    state = cracked_section([0, 0, 0, m, 0, 0], H, AXES, CROSS, [a, 1, b, 1], E_c=E_C)
    assert_allclose(state.bar_stress[[0, 2]], ratio * m / inertia * np.array([d - x, d2 - x]), rtol=1e-7)
    assert_allclose(state.at(H / 2 - x)[0], 0.0, atol=1e-12)
    assert_allclose(state.bar_stress[[1, 3]], 0.0, atol=1e-6)


@pytest.mark.parametrize(
    ("r", "stress"),
    [([400, 0, 0, 0, 0, 0], [200, 0, 200, 0]), ([300, 300, 0, 0, 0, 0], [150] * 4), ([0, 0, 0, 0, 0, 0], [0] * 4)],
)
def test_tension_is_carried_by_the_bars_alone(r, stress):
    state = cracked_section(r, H, [100, 100, -100, -100], CROSS, 1.0, E_c=E_C)
    assert_allclose(state.bar_stress, stress, atol=1e-6)


def test_pure_shear_cracks_at_45_degrees():
    """Bars carry the shear both ways, struts at 45 degrees twice of it."""
    v, a = 250.0, 0.8
    state = cracked_section([0, 0, v, 0, 0, 0], H, [100, 100, -100, -100], CROSS, a, E_c=E_C)
    assert_allclose(state.bar_stress, v / (2 * a), rtol=1e-7)
    eps = v / (2 * a * E_S)
    strut = -2 * v / (E_C * H)
    assert_allclose(state.strain, [eps, eps, 2 * (eps - strut)], rtol=1e-7)
    assert_allclose(state.curvature, 0.0, atol=1e-15)


def test_pure_twisting():
    """Bars stretch alike in depth; struts at 45 degrees lie at both faces, down to z0 from a quadratic."""
    a, kappa = 0.9, 4e-6
    half, k = H / 2, 4 * a * E_S / E_C  # E_c (half - z0)^2 / 4 = a E_s z0
    z0 = (2 * half + k - np.sqrt((2 * half + k) ** 2 - 4 * half**2)) / 2
    m = E_C * kappa / 2 * ((half**3 - z0**3) / 3 - z0 * (half**2 - z0**2) / 2)
    state = cracked_section([0, 0, 0, 0, 0, m], H, AXES * [1, 1, 1, 1], CROSS, a, E_c=E_C)
    same = cracked_section([0, 0, 0, 0, 0, m], H, [90, 90, -90, -90], CROSS, a, E_c=E_C)
    assert_allclose(same.bar_stress, E_S * kappa * z0 / 2, rtol=2e-6)
    assert_allclose(same.curvature, [0, 0, kappa], atol=2e-6 * kappa)
    assert_allclose(state.curvature[2], kappa, rtol=0.01)


@given(forces, st.floats(0.02, 3.1), st.floats(0.01, 100.0))
def test_axes_faces_and_scale_do_not_matter(r, angle, scale):
    """Turned, turned over and scaled loads give the same bars; equilibrium holds by layers of another code."""
    r = r * np.array([300.0] * 3 + [2e4] * 3)
    area = np.array([1.1, 0.7, 0.9, 1.3])

    def solve(r, axes, angles):
        return cracked_section(r, H, axes, angles, area, E_c=E_C)

    base = solve(r, AXES, CROSS)
    assert base.status == OK
    size = np.abs(r[:3]).max() + np.abs(r[3:]).max() * 2 / H
    tolerance = {"rtol": 1e-4, "atol": 1e-4 * size / 0.7}
    c, s = np.cos(angle), np.sin(angle)
    turn = np.array([[c * c, s * s, -2 * c * s], [s * s, c * c, 2 * c * s], [c * s, -c * s, c * c - s * s]])
    turned = np.concatenate([turn @ r[:3], turn @ r[3:]])
    assert_allclose(solve(turned, AXES, CROSS + angle).bar_stress, base.bar_stress, **tolerance)
    assert_allclose(solve(r * [1, 1, 1, -1, -1, -1], -AXES, CROSS).bar_stress, base.bar_stress, **tolerance)
    assert_allclose(solve(r * scale, AXES, CROSS).bar_stress / scale, base.bar_stress, **tolerance)
    left = (
        layers(base.strain, base.curvature, H, E_C)[1]
        + bars_of(AXES, CROSS, area, E_S, base.strain, base.curvature)[1]
        - r
    )
    assert np.abs(left * [1, 1, 1, 2 / H, 2 / H, 2 / H]).max() <= 1e-4 * size + 1e-9


@given(
    forces,
    st.lists(
        st.tuples(st.sampled_from([-1, 1]), st.floats(0.03, 0.4), st.floats(-1.57, 1.57), st.floats(-3.3, -1.4)),
        min_size=1, max_size=6,
    ),
    st.sets(st.integers(0, 5)),
    st.floats(100.0, 1500.0),
    st.floats(-6.0, 0.0),
)  # fmt: skip
def test_every_section_settles_or_says_why(r, bars, none, h, small):
    """Steel from 0.05 to 4 % at any angles, faces without bars, parts of the load missing or a trifle."""
    side, depth, angle, ratio = np.array(bars).T
    r = r * np.where(np.isin(np.arange(6), list(none)), 10.0**small, 1.0) * np.array([h] * 3 + [h**2 / 6] * 3)
    state = cracked_section(r, h, side * (0.5 - depth) * h, angle, 10**ratio * h, E_c=30_000.0)
    assert state.status in (OK, NOT_CONVERGED, NO_EQUILIBRIUM)
    assert np.isfinite(state.strain).all() == np.isfinite(state.bar_stress).all() == (state.status == OK)
    faces = [angle[side == s] for s in (-1, 1)]
    if all(len(f) > 1 and np.ptp(np.sin(f[:, None] - f)) > 0.5 for f in faces):
        assert state.status == OK
    broken = cracked_section([np.nan, *r[1:]], h, side * (0.5 - depth) * h, angle, 1.0, E_c=30_000.0)
    assert broken.status == NOT_FINITE


def test_a_principal_strain_that_only_just_passes_zero_inside_settles():
    """Of a strain that touches zero the force has no step as it begins to pass it."""
    r = [8.2600410e-01, -7.7045305e00, -1.7625645e-01, -1.3018390e03, -2.1137840e04, -3.3842270e03]
    axes, area = [104.0, 92.0, -103.0, -90.0], [0.64627049, 0.75398224, 1.0262536, 1.13097336]
    found = cracked_section(r, 280.0, axes, CROSS, area, E_c=30618.62178479)
    assert found.status == OK
    concrete = layers(found.strain, found.curvature, 280.0, 30618.62178479)[1]
    whole = concrete + bars_of(axes, CROSS, np.array(area), E_S, found.strain, found.curvature)[1]
    assert_allclose(whole, r, atol=1e-5 * 21e3)
