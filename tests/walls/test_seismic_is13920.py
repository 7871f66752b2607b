"""IS 13920:2016, clause 10 and Annex A: ductile walls and coupling beams against calculations by hand."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import REFERENCE
from sandwich.standards.is456 import shear
from sandwich.standards.is13920 import boundary, coupling, strength, walls
from walls.test_seismic_aci318 import agree

CASES = [c for c in json.loads((REFERENCE / "seismic_walls.json").read_text()) if c["type"].startswith("is")]


def is_general(tw, lw, hw, fck, Vu, coupled):
    tau = walls.tau_v(Vu, tw, lw)
    return {
        "tw_min": walls.t_w_min(coupled), "lw_tw_min": walls.L_T_MIN, "lw_tw_ok": lw / tw >= walls.L_T_MIN,
        "wall_class": walls.wall_class(hw, lw), "tau_v": tau, "two_curtains": bool(walls.two_curtains(tau, fck, tw)),
        "bar_d_max": walls.d_max(tw), "s_max": walls.s_max(lw, tw),
    }  # fmt: skip


def is_wall_shear(Vu, tw, lw, fck, fy, pt, Ah, sv):
    tau, strength, most = walls.tau_v(Vu, tw, lw), shear.tau_c(pt, fck), shear.tau_c_max(fck, slab=False)
    return {
        "tau_v": tau, "tau_c": strength, "tau_c_max": most, "section_ok": tau <= most,
        "Ah_over_sv": walls.A_h(Vu, strength, tw, lw, fy), "Vu_capacity": walls.V_u_web(strength, tw, lw, fy, Ah / sv),
    }  # fmt: skip


def is_boundary_trigger(Pu, Mu, Ag, I, lw, fck):
    stress, (limit, end) = boundary.edge_stress(Pu, Mu, Ag, I, lw), boundary.stress_limits(fck)
    return {"sigma_max": stress, "boundary_required": stress >= limit, "may_discontinue": stress < end}


def is13920_annexA(fck, fy, tw, lw, rho, Pu):
    phi, beta, axial = 0.87 * fy * rho / fck, 0.87 * fy / (0.0035 * 200e3), Pu / (fck * tw * lw)
    x = strength.x_u_web(axial, phi, beta)
    return {
        "xu": x * lw, "case": "A-2a" if x <= 1 / (1 + beta) else "A-2b",
        "Mu": strength.M_uv(axial, phi, beta) * fck * tw * lw**2, "xu_star": lw / (1 + beta),
    }  # fmt: skip


def is_boundary_axial(Pu_element, Mu, Muv, Cw, Ag_be, As_be, fck, fy):
    pressed, pulled = boundary.P_boundary(Pu_element, Mu, Muv, Cw)
    low, high = boundary.RHO_BOUNDARY
    return {
        "P_compression": pressed, "P_tension": pulled,
        "capacity_short_column": boundary.P_short_column(fck, fy, Ag_be, As_be), "ratio": As_be / Ag_be,
        "ratio_ok": low <= As_be / Ag_be <= high,
    }  # fmt: skip


def is_joint_ratio(tau_v, Pu, Ag, fy):
    return {"value": walls.rho_joint(tau_v, Pu, Ag, fy)}


def is_coupling_beam(Vu, ls, D, b, d, fck, fy, alpha):
    tau, limit = Vu / (b * d), coupling.tau_no_diagonals(fck, ls, D)
    return {
        "tau_ve": tau, "limit": limit, "diagonal_required": tau > limit, "Asd": coupling.A_sd(Vu, fy, alpha),
    }  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda c: f"{c['id']} {c['type']}")
def test_clauses_against_reference_walls(case):
    agree(globals()[case["type"]](**case["inputs"]), case["expected"])


@given(phi=st.floats(0.03, 0.2), axial=st.floats(0.0, 0.45), fy=st.sampled_from([415.0, 500.0]))
def test_annex_a_is_the_section_with_its_bars_spread(phi, axial, fy):
    """Both branches against strips of concrete (0.36 f_ck x at 0.416 x) and of bars."""
    beta = 0.87 * fy / (0.0035 * 200e3)
    x, M = float(strength.x_u_web(axial, phi, beta)), float(strength.M_uv(axial, phi, beta))
    if np.isnan(x):
        return
    y = (np.arange(40_000) + 0.5) / 40_000
    bars = phi * np.clip((1 - y / x) / beta, -1.0, 1.0)
    assert 0.36 * x + bars.mean() == pytest.approx(axial, abs=2e-4)
    by_strips = 0.36 * x * (0.5 - 0.416 * x) + (bars * (0.5 - y)).mean()
    assert by_strips == pytest.approx(M, abs=3e-4)  # its coefficients have three digits


def test_branches_that_the_reference_does_not_reach():
    assert walls.wall_class(4000.0, 5000.0) == "squat"
    assert walls.A_h(100e3, 0.4, 200.0, 3000.0, 415.0) == 0.0
    assert walls.rho_joint(0.5, 2e6, 1e6, 415.0) == 0.0
    assert not walls.two_curtains(1.0, 25.0, 150.0)
    assert (boundary.P_boundary(500e3, 1e9, 2e9, 4000.0) == [500e3, 400e3]).all()  # the web carries the moment
