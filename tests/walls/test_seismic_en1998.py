"""EN 1998-1, chapter 5: ductile walls, boundary elements and coupling beams against calculations by hand."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import REFERENCE
from sandwich.standards.en1992.links import nu_1
from sandwich.standards.en1998 import behaviour, boundary, confinement, coupling, shear
from walls.test_seismic_aci318 import agree

CASES = [c for c in json.loads((REFERENCE / "seismic_walls.json").read_text()) if c["id"].startswith("EC")]
CASES += [c for c in json.loads((REFERENCE / "seismic_walls.json").read_text()) if c["type"] == "en_coupling_beam"]
HIGH = {"DCM": False, "DCH": True}


def en_boundary(lw, bw, bc, b0, fcd, fyd, N_ED, rho_v, fyd_v, mu_phi, hs, alpha, ductility):
    nu, omega = boundary.nu_d(N_ED, lw * bw, fcd), boundary.omega_v(rho_v, fyd_v, fcd)
    need = confinement.alpha_omega(mu_phi, nu, omega, fyd / 200e3, bc, b0)
    ties = confinement.omega_wd(need, alpha, HIGH[ductility])
    strain, x = confinement.eps_cu2_c(alpha * ties), boundary.x_u(nu, omega, lw, bc, b0)
    length = boundary.l_c(x, strain, lw, bw)
    return {
        "nu_d": nu, "omega_v": omega, "alpha_omega_required": need, "omega_wd_required": ties, "eps_cu2c": strain,
        "x_u": x, "lc_spalling": x * (1 - 0.0035 / strain), "lc": length,
        "bw_min": boundary.b_w_boundary(length, bw, lw, hs), "bw_ok": bw >= boundary.b_w_boundary(length, bw, lw, hs),
        "As_min_boundary": boundary.A_s_boundary(length, bw),
    }  # fmt: skip


def en_critical_height(lw, hw, hs, n_storeys):
    return {"h_cr": boundary.h_cr(lw, hw, hs, n_storeys)}


def en_axial_limit(N_ED, Ac, fcd, ductility):
    nu, limit = boundary.nu_d(N_ED, Ac, fcd), boundary.NU_MAX[ductility]
    return {"nu_d": nu, "limit": limit, "ok": nu <= limit}


def en_dch_shear_factor(q, MRd, MEd, Se_Tc, Se_T1, hw, lw):
    found = behaviour.epsilon_dch(q, MRd, MEd, Se_Tc, Se_T1, hw, lw)
    return {"kind": "slender" if hw / lw > 2 else "squat", "eps_raw": found, "eps": found}


def en_boundary_hoops(b0, dbL, ductility, fydL, fydw):
    high = HIGH[ductility]
    return {
        "s_max": confinement.s_ties(b0, dbL, high), "d_min": confinement.d_ties(dbL, fydL, fydw, high),
        "bar_distance_max": confinement.held_max(high),
    }  # fmt: skip


def en_mu_phi(q0, T1, TC, MEd, MRd, steel_class):
    return {"value": behaviour.mu_phi(q0, MEd, MRd, T1, TC, steel_class == "B")}


def en_dch_wall_shear(VEd, MEd, N_ED, lw, bwo, fck, fcd, rho_h, fyd_h, rho_v, fyd_v, VRdc, critical):
    struts, span = shear.V_Rd_max_dch(bwo, lw, nu_1(fck, factor=0.6), fcd, critical), MEd / (VEd * lw)
    bars = shear.V_Rd_web_dch(span, VRdc, rho_h, fyd_h, bwo, lw)
    vertical = rho_h * fyd_h * bwo * 0.8 * lw <= shear.V_vertical_dch(rho_v, fyd_v, bwo, lw, N_ED)
    return {
        "V_Rd_max": struts, "alpha_s": span, "V_Rd": bars, "vertical_ok": vertical, "V_capacity": min(struts, bars),
    }  # fmt: skip


def en_sliding(Asj, Asi, phi_incl, fyd, fck, fcd, NEd, MEd, z, xi, lw, bwo, mu_f):
    dowels, inclined = shear.V_dd(Asj, fcd, fyd), shear.V_id(Asi, fyd, phi_incl)
    rub = shear.V_fd(mu_f, Asj * fyd + NEd, xi, MEd, z, shear.V_fd_max(fck, fcd, xi, lw, bwo))
    return {"Vdd": dowels, "Vid": inclined, "Vfd": rub, "V_RdS": dowels + inclined + rub}


def en_alpha(bi, b0, h0, s):
    spread = (1 - s / (2 * b0)) * (1 - s / (2 * h0))
    found = confinement.alpha_confinement(bi, b0, h0, s)
    return {"alpha_n": found / spread, "alpha_s": spread, "alpha": found}


def en_effective_flange(bf_actual, half_distance, height_above):
    return {"value": boundary.flange_width(bf_actual, half_distance, height_above)}


def en_flange_waiver(bf, lf, hs):
    return {"value": bool(boundary.no_boundary_in_flange(bf, lf, hs))}


def en_confinement_waiver(nu_d, q_reduced):
    return {"value": bool(boundary.no_confinement(nu_d, q_reduced))}


def moment_envelope(z, M_base, hw, a1):
    return {"value": behaviour.M_envelope(z, hw, M_base, a1)}


def en_joint_ratio(fctd, fcd, fyd, NEd, Aw):
    return {"value": shear.rho_joint(fctd, fcd, fyd, NEd, Aw)}


def en_web_thickness(hs):
    return {"value": behaviour.b_w_min(hs)}


def en_dcm_shear(V):
    return {"value": behaviour.V_Ed_dcm(V)}


def en_large_lightly_shear(V, q):
    return {"value": behaviour.V_Ed_lightly(V, q)}


def en_coupling_beam(l, h, b, d, fctd, fyd, VEd, alpha, Asi):
    free = coupling.V_no_diagonals(fctd, b, d)
    return {
        "diagonal_required": VEd > free and l / h < 3.0, "V_waiver": free, "l_h": l / h,
        "Asi_required": coupling.A_si(VEd, fyd, alpha), "V_Rd_diagonal": coupling.V_Rd_diagonal(Asi, fyd, alpha),
    }  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda c: f"{c['id']} {c['type']}")
def test_clauses_against_reference_walls(case):
    agree(globals()[case["type"]](**case["inputs"]), case["expected"])


def test_branches_that_the_reference_does_not_reach():
    # a squat wall of high ductility: 1.2 M_Rd/M_Ed, up to q; a tall one has 1.5 at least
    assert behaviour.epsilon_dch(3.0, 2e6, 1e6, 1.0, 1.0, 4e3, 3e3) == pytest.approx(2.4)
    assert behaviour.epsilon_dch(3.0, 9e6, 1e6, 1.0, 1.0, 4e3, 3e3) == 3.0
    assert behaviour.epsilon_dch(3.0, 1e6, 1.5e6, 1.0, 1.0, 9e3, 3e3) == 1.5
    # a short period asks for more curvature; struts of the critical region carry 0.4
    assert behaviour.mu_phi(3.0, 1.0, 1.0, 0.3, 0.6, False) == pytest.approx(9.0)
    assert shear.V_Rd_max_dch(300.0, 4000.0, 0.5, 20.0, True) == pytest.approx(0.4 * 300 * 3200 * 0.5 * 20 / 2)
    assert shear.V_Rd_web_dch(2.5, 800e3, 0.003, 400.0, 300.0, 4000.0) == pytest.approx(0.003 * 400 * 300 * 3200)
    # dowels by the concrete; friction by its own
    assert shear.V_dd(1000.0, 10.0, 500.0) == pytest.approx(1.3 * np.sqrt(5000.0) * 1000)
    assert shear.V_fd(0.6, 1e6, 0.3, 0.0, 1.0, 9e9) == pytest.approx(180e3)
    # half of the base at the top of a dual system; the analysis where it is more
    assert behaviour.V_Ed_dual(10e3, 15e3, 0.0, 2e6, 1.2e6) == pytest.approx(1.1e6)
    assert behaviour.V_Ed_dual(10e3, 15e3, 1.3e6, 2e6, 1.2e6) == 1.3e6
    assert behaviour.q_behaviour(3.0, behaviour.k_w(behaviour.alpha_0([9e3], [6e3])), regular=True) == pytest.approx(
        2.5
    )
    # six storeys: one clear height
    assert boundary.h_cr(3000.0, 17e3, 2800.0, 6) == 2800.0


@given(
    nu=st.floats(0.02, 0.4), more=st.floats(1.0, 2.0), omega=st.floats(0.0, 0.2), mu=st.floats(2.0, 15.0),
    alpha=st.floats(0.3, 0.8),
)  # fmt: skip
def test_more_axial_force_never_relaxes_confinement_nor_shortens_the_boundary(nu, more, omega, mu, alpha):
    few, many = (confinement.alpha_omega(mu, n, omega, 0.0022, 300.0, 230.0) for n in (nu, nu * more))
    assert many >= few
    x = boundary.x_u(nu, omega, 5000.0, 300.0, 230.0)
    assert boundary.l_c(x, confinement.eps_cu2_c(few * more), 5000.0, 300.0) >= boundary.l_c(
        x, confinement.eps_cu2_c(few), 5000.0, 300.0
    )
    assert confinement.omega_wd(many, alpha, True) >= confinement.omega_wd(few, alpha, False)
