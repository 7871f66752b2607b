"""Three layers against a cone program of our own, hand results and invariants."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.mechanics import certificate, threelayer
from sandwich.mechanics.threelayer import LACKS, NO_FIELD, OK, design, layer_tensors, strain_tensors

NAN = np.nan
H, E4, FC = 300.0, (110.0, 98.0, -112.0, -98.0), (10.56, 20.0)
SECTION = [H, *E4, *FC]
CROSS = np.radians([0.0, 90.0, 0.0, 90.0])
loads = st.tuples(
    st.lists(st.floats(-400, 400), min_size=3, max_size=3), st.lists(st.floats(-8e4, 8e4), min_size=3, max_size=3)
).map(lambda t: np.array(t[0] + t[1]))


def one(row, section=SECTION, method="sandwich"):
    return design([row], [0], [section], method=method)[0]


def largest_violation(rows, out, section):
    rows, h, axes = np.atleast_2d(rows), np.full(len(out), section[0]), np.tile(section[1:5], (len(out), 1))
    bottom, top = layer_tensors(rows, h, axes, CROSS, out[:, :4], out[:, 4:6])
    w = certificate.Witness(out[:, :4], bottom, top, *out[:, 4:6].T, *out[:, 10:12].T)
    return certificate.violations(rows, h, axes, CROSS, out[:, :4], w).largest


def cone_program(row, h, axes, tb, tt):
    """Minimum total force at given layers by a second-order cone program: none of the code under test."""
    clarabel = pytest.importorskip("clarabel")
    from scipy.sparse import csc_matrix

    there = [i for i in range(4) if np.isfinite(axes[i])]
    yb, yt = (h - tb) / 2, (h - tt) / 2
    n, m = np.array(row[:3]), np.array(row[3:6])
    scale = max(np.abs(n).max(), np.abs(m).max() / h)
    a, b = [-np.eye(len(there))], [np.zeros(len(there))]
    for demand, share in (
        ((n * yt + m) / (yb + yt), [(yt + axes[i]) / (yb + yt) for i in there]),
        ((n * yb - m) / (yb + yt), [(yb - axes[i]) / (yb + yt) for i in there]),
    ):
        sign = np.array([1.0 if i % 2 == 0 else -1.0 for i in there])
        a.append(np.stack([-np.array(share), np.array(share) * sign, np.zeros(len(there))]))
        b.append(np.array([-demand[0] - demand[1], demand[0] - demand[1], 2 * demand[2]]) / scale)
    cones = [clarabel.NonnegativeConeT(len(there)), clarabel.SecondOrderConeT(3), clarabel.SecondOrderConeT(3)]
    options = clarabel.DefaultSettings()
    options.verbose = False
    size = len(there)
    zero, price = csc_matrix((size, size)), np.ones(size)
    found = clarabel.DefaultSolver(zero, price, csc_matrix(np.vstack(a)), np.concatenate(b), cones, options).solve()
    return found.obj_val * scale if "Solved" in str(found.status) else np.inf


@pytest.mark.parametrize(
    "axes",
    [E4, (110.0, 98.0, NAN, NAN), (6.0, -6.0, NAN, NAN), (110.0, 98.0, -112.0, NAN), (NAN, 110.0, -98.0, -110.0)],
    ids=["both faces", "bottom", "curtain", "no top y", "no bottom x"],
)
def test_total_is_the_optimum_at_its_thicknesses_and_the_witness_holds(axes):
    rng = np.random.default_rng(7)
    rows = rng.normal(size=(60, 6)) * [150, 150, 80, 3e4, 3e4, 1e4] - rng.integers(0, 2, (60, 1)) * [
        200,
        200,
        0,
        0,
        0,
        0,
    ]
    rows[::7, 2] = rows[::7, 5] = 0.0
    section = [H, *axes, *FC]
    out = design(rows, np.zeros(60, int), [section])
    good = out[:, 12] == OK
    assert good.sum() >= 10
    for row, o in zip(rows[good], out[good], strict=True):
        best = cone_program(row, H, axes, o[4], o[5])
        assert o[:4].sum() == pytest.approx(best, abs=2e-5 * max(best, np.abs(row[:3]).max(), 1.0))
    scale = np.maximum(np.abs(rows[good, :3]).max(1), 1.0)
    assert np.all(largest_violation(rows[good], out[good], section) <= 1e-6 * scale)
    for row in rows[np.isin(out[:, 12], (NO_FIELD, *LACKS))]:
        assert cone_program(row, H, axes, 0.0, 0.0) > 1e3 * np.abs(row).max() or np.isnan(axes).any()


def test_hand_cases():
    m, d, fc = 60e3, H / 2 + 110.0, 20.0
    force = (d - np.sqrt(d * d - 2 * m / fc)) * fc  # stress block: m = f (d - f / (2 fc))
    assert_allclose(one([0, 0, 0, m, 0, 0])[:4], [force, 0, 0, 0], rtol=1e-6, atol=1e-6)
    assert_allclose(one([0, 0, 0, m, 0, 0], method="plate")[:4], [force, 0, 0, 0], rtol=1e-6, atol=1e-6)
    shear = one([0, 0, -120.0, 0, 0, 0])
    assert_allclose([shear[0] + shear[2], shear[1] + shear[3]], [120.0, 120.0], rtol=1e-9)
    tension = one([200.0, 50.0, 0, 0, 0, 0])
    assert_allclose(tension[[0, 2]] @ [110.0, -112.0], 0.0, atol=1e-6)
    assert_allclose([tension[0] + tension[2], tension[1] + tension[3]], [200.0, 50.0], rtol=1e-8)
    assert_allclose(one([-300.0, -200.0, 20.0, 0, 0, 0])[:4], 0.0, atol=1e-7)
    crushed = one([-7000.0, 0, 0, 0, 0, 0])
    assert crushed[12] == threelayer.LAYERS_DO_NOT_FIT
    bottom = [H, 110.0, 98.0, NAN, NAN, *FC]
    for row, lacking in (([0, 0, 0, -m, 0, 0], 2), ([0, 0, 0, m, -m, 0], 3), ([50, 50, 0, m, -m, 0], 3)):
        assert one(row, bottom)[12] == LACKS[lacking]
    assert one([0, 0, 0, m, m, 0], [H, NAN, NAN, -110.0, -98.0, *FC])[12] == LACKS[0]
    assert one([NAN, 0, 0, 0, 0, 0])[12] == threelayer.NOT_FINITE
    assert one([1, 0, 0, 0, 0, 0], [H, NAN, 98.0, NAN, -98.0, *FC])[12] == threelayer.NO_BARS_X


@given(loads)
def test_axes_faces_and_scale(row):
    even = [H, 110.0, 98.0, -110.0, -98.0, *FC]
    base = one(row, even)
    scale = max(np.abs(row[:3]).max(), np.abs(row[3:]).max() / 100.0, 1e-3)
    nx, ny, nxy, mx, my, mxy = row
    quarter = one([ny, nx, -nxy, my, mx, -mxy], [H, 98.0, 110.0, -98.0, -110.0, *FC])
    over = one([nx, ny, -nxy, -mx, -my, mxy], even)
    double = one([*(2 * row[:3]), *(2 * row[3:])], [H, 110.0, 98.0, -110.0, -98.0, 2 * FC[0], 2 * FC[1]])
    assert base[12] == quarter[12] == over[12] == double[12]
    if base[12] == OK:
        tolerance = {"rtol": 1e-5, "atol": 1e-5 * scale}  # the layers settle to 1e-7 of the thickness
        assert_allclose(quarter[[1, 0, 3, 2]].sum(), base[:4].sum(), **tolerance)
        assert_allclose(over[:4].sum(), base[:4].sum(), **tolerance)
        assert_allclose(double[:4].sum(), 2 * base[:4].sum(), rtol=1e-5, atol=2e-5 * scale)
        assert largest_violation(row, base[None], even)[0] <= 1e-6 * max(np.abs(row[:3]).max(), 1.0)


@given(loads, st.sampled_from(["sandwich", "membrane"]))
def test_lower_bound_proves_the_optimum(row, method):
    if method == "membrane":
        row = np.append(row[:3], [0.0, 0.0, 0.0])
    out = one(row, method=method)
    if out[12] != OK:
        return
    strains = strain_tensors([row], [H], out[None])
    bound = certificate.lower_bound([[row]], [H], [E4], CROSS, out[4:6][None, None], strains[:, None])[0]
    total = out[:4].sum()
    assert bound <= total * (1 + 1e-9) + 1e-6
    assert bound >= total * (1 - 1e-4) - 1e-4 * max(np.abs(row[:3]).max(), 1.0)


def test_certificate_sees_a_false_witness():
    rows = np.array([[100.0, -50.0, 40.0, 2e4, 1e4, 5e3]])
    out = design(rows, [0], [SECTION])
    assert largest_violation(rows, out, SECTION)[0] < 1e-9
    for column, factor in ((0, 0.98), (4, 0.9), (11, 0.5), (10, 0.5)):
        false = out.copy()
        false[0, column] *= factor
        bottom, top = layer_tensors(rows, [H], [E4], CROSS, out[:, :4], out[:, 4:6])  # the tensors of the true field
        w = certificate.Witness(false[:, :4], bottom, top, *false[:, 4:6].T, *false[:, 10:12].T)
        assert certificate.violations(rows, [H], [E4], CROSS, out[:, :4], w).largest[0] > 1e-3


def test_compiled_rows_equal_the_plain_loop():
    rng = np.random.default_rng(3)
    rows = rng.normal(size=(12, 6)) * [150, 150, 80, 3e4, 3e4, 1e4]
    plain = np.empty((12, threelayer.N_OUT))
    threelayer.design_rows.py_func(rows, np.zeros(12, int), np.array([SECTION]), threelayer.SANDWICH, plain)
    assert_allclose(plain, design(rows, np.zeros(12, int), [SECTION]), rtol=1e-9, atol=1e-9)
