"""Clauses against hand values and reference cases; docstrings against the recorded steps."""

import importlib
import inspect
import json
import pkgutil

import numpy as np
import pytest

from conftest import REFERENCE
from sandwich import Section, design_points
from sandwich.core.section import Concrete, Steel
from sandwich.core.trace import documented_units, recording
from sandwich.standards import aci318, aci318_14, asce7, en1992, en1998, is456, is1893, is13920
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.arrangement import Arrangement
from sandwich.standards.en1992 import (
    crack_steel,
    cracking,
    eccentricity,
    links,
    materials,
    minimum,
    punching,
    shear,
    stresses,
    struts,
    tightness,
)
from sandwich.standards.en1992.standard import COUNTRIES, EN1992
from sandwich.standards.interface import ShearDemand, ShearSection
from sandwich.standards.is456.standard import IS456

TWO_WAY = importlib.import_module("sandwich.standards.aci318.punching")
ACI, IS = (importlib.import_module(f"sandwich.standards.{name}.shear") for name in ("aci318", "is456"))
CLAUSES = [
    f
    for folder in (en1992, en1998, aci318, aci318_14, asce7, is456, is1893, is13920)
    for file in pkgutil.iter_modules(folder.__path__, f"{folder.__name__}.")
    for _, f in inspect.getmembers(importlib.import_module(file.name), inspect.isfunction)
    if f.__module__ == file.name and hasattr(f, "source")
]
ACI_CRACK, IS_CRACK = (importlib.import_module(f"sandwich.standards.{n}.cracking") for n in ("aci318", "is456"))
STANDARDS = (EN1992.recommended(), ACI318(), IS456())

HAND = [
    (materials.f_cd, (30.0,), 20.0),
    (materials.f_yd, (500.0,), 434.7826087),
    (materials.f_ctm, (30.0,), 2.896468),  # table 3.1 prints 2.9
    (materials.f_ctm, (60.0,), 4.354741),  # 4.4
    (materials.eta, (70.0,), 0.9),
    (materials.lambda_, (70.0,), 0.75),
    (materials.eps_cu3, (90.0,), 0.0026),
    (struts.nu_prime, (50.0,), 0.8),
    (struts.sigma_Rd_max_cracked, (20.0, 0.88), 10.56),
    (shear.k, (800.0,), 1.5),
    (shear.rho_l, (0.03, 0.03, 0.4), 0.02),
    (shear.sigma_cp, (2000.0, 300.0, 20.0), 4.0),
    (minimum.a_s_min_slab, (200.0, 2.9, 500.0), 0.3016),
    (minimum.a_s_min_slab, (200.0, 2.0, 500.0), 0.26),
    (minimum.a_s_vmin, (250.0,), 0.5),
    (minimum.a_s_hmin, (250.0, 0.8), 0.25),
    (minimum.a_s_max, (250.0,), 10.0),
    (materials.f_ctd, (3.0,), 1.4),
    (links.nu_1, (50.0,), 0.48),
    (links.v_Rd_max, (180.0, 0.528, 20.0, 2.5), 655.4483),
    (links.v_Rd_s, (0.001, 200.0, 435.0, 2.5), 217.5),
    (links.a_sw, (217.5, 200.0, 435.0, 2.5), 0.001),
    (links.rho_w_min, (25.0, 500.0), 0.0008),
    (punching.rho_l, (0.01, 0.09), 0.02),
    (punching.f_ywd_ef, (300.0, 435.0), 325.0),
    (punching.v_Rd_cs, (0.6, 200.0, 150.0, 300.0, 300.0, 4000.0), 0.675),
    (punching.v_Rd_c, (2.0, 0.001, 30.0, 0.542, -1.0), 0.442),
    (minimum.s_max_slabs, (120.0,), 240.0),
    (ACI.lambda_s, (500.0,), 0.8164966),
    (ACI.axial_term, (-1.2, 30.0), -0.2),
    (ACI.v_c, (200.0, 1.0, 0.008, 5.0, 0.0), 132.0),
    (ACI.v_c, (200.0, 1.0, 0.008, 5.0, -1.0), 0.0),
    (ACI.a_v, (150.0, 80.0, 400.0, 200.0), 0.0015),
    (ACI.v_max, (120.0, 5.0, 200.0), 780.0),
    (TWO_WAY.gamma_v, (900.0, 400.0), 0.5),
    (TWO_WAY.A_v_punching, (1.5, 0.8, 2400.0, 100.0, 400.0), 720.0),
    (TWO_WAY.A_s_column, (1.2, 1000.0, 2400.0, 20.0, 400.0, 1.0, 5.0), 2400.0),
    (TWO_WAY.A_s_column, (0.6, 1000.0, 2400.0, 20.0, 400.0, 1.0, 5.0), 0.0),
    (IS.moment_by_shear, (900.0, 400.0), 0.5),
    (ACI.v_c_punching, (200.0, 1.0, 5.0, 4.0, 2400.0), 1.275),
    (ACI.v_c_punching, (200.0, 1.0, 5.0, 1.0, 8000.0), 1.245),
    (links.cot_theta, (900.0, 180.0, 0.528, 20.0), 1.3953170),
    (eccentricity.k_moment, (0.75,), 0.525),
    (eccentricity.beta_inside, (1e6, 5000.0, 0.6, 0.7, 50e6, 40e6, 1.5e6, 1.4e6), 1.1414214),
    (eccentricity.beta_edge, (1e6, 3000.0, 2400.0, 0.6, 40e6, 1.2e6), 1.31),
    (eccentricity.beta_corner, (1800.0, 1200.0), 1.5),
    (punching.A_sw, (0.9, 0.6, 5000.0, 150.0, 300.0), 750.0),
    (punching.A_sw_min, (36.0, 500.0, 150.0, 3000.0), 288.0),
    (punching.u_out, (500e3, 0.6, 200.0, 1.2), 5000.0),
    (punching.v_Ed, (500e3, 2500.0, 200.0, 1.2), 1.2),
    (punching.v_Rd_max, (0.5, 20.0), 4.0),
    (IS.a_sv_min, (250.0,), 0.4 / 217.5),
    (IS.k_slab, (140.0,), 1.3),
    (IS.delta, (-30.0, 20.0), 0.0),
    (IS.delta, (9.0, 20.0), 1.5),
    (IS.tau_c_max, (27.5,), 1.65),
    (IS.tau_punching, (36.0, 0.8), 1.5),
    (IS.a_sv, (0.9, 0.5, 500.0), 0.4 / (0.87 * 415.0)),
    (materials.E_cm, (38.0,), 32836.57),  # table 3.1 prints 33 GPa
    (materials.E_cm, (68.0,), 39099.874),  # 39 GPa
    (materials.E_c_eff, (33000.0, 1.2), 15000.0),
    (stresses.sigma_p_mean, (1770.0,), 1327.5),
    (cracking.h_c_ef, (300.0, 270.0, 60.0), 75.0),
    (cracking.h_c_ef, (200.0, 150.0, 0.0), 100.0),
    (cracking.h_c_ef, (300.0, 200.0, 120.0), 60.0),
    (cracking.rho_p_eff, (1.5, 75.0), 0.02),
    (cracking.eps_difference, (300.0, 3.0, 0.02, 6.0, 0.4, 2e5), 0.001164),
    (cracking.k_2, (8e-4, 4e-4), 0.75),
    (cracking.k_2, (4e-4, 8e-4), 0.75),
    (cracking.s_r_max, (30.0, 12.0, 0.02, 1.0), 306.0),
    (cracking.eps_across, (2e-3, 5e-4, 0.5), 1e-3),
    (cracking.phi_star, (200.0, 0.4), 32.0),
    (cracking.phi_star, (220.0, 0.3), 20.5),
    (cracking.phi_star, (200.0, 0.25), 20.5),
    (cracking.phi_star, (150.0, 0.2), 25.0),
    (cracking.phi_star, (200.0, 0.1), 0.0),
    (cracking.phi_s, (16.0, 2.9, 1.0, 300.0, 300.0, 250.0), 12.0),
    (cracking.phi_s, (20.0, 2.9, 0.4, 100.0, 200.0, 150.0), 8.0),
    (cracking.s_bars, (200.0, 0.2), 150.0),
    (cracking.s_bars, (300.0, 0.4), 175.0),
    (cracking.s_bars, (320.0, 0.2), 0.0),
    (crack_steel.k, (200.0,), 1.0),
    (crack_steel.k, (550.0,), 0.825),
    (crack_steel.k_c, (1.0, 1500.0, 3.0), 0.3407407),  # pressed: k_1 1.5, h/h* 1.5
    (crack_steel.k_c, (10.0, 300.0, 3.0), 0.0),
    (crack_steel.k_c, (-9.0, 300.0, 3.0), 1.0),
    (tightness.w_k1, (1000.0, 250.0), 0.2),
    (tightness.w_k1, (6000.0, 300.0), 0.125),
    (tightness.w_k1, (20000.0, 300.0), 0.05),
    (tightness.x_min, (220.0,), 44.0),
    (ACI_CRACK.E_c, (36.0,), 28200.0),
    (ACI_CRACK.s_crack, (210.0, 50.0), 381.6666667),
    (ACI_CRACK.s_crack, (210.0, 30.0), 400.0),
    (ACI_CRACK.d_star, (60.0, 160.0), 100.0),
    (ACI_CRACK.beta, (1e-3, 2e-3), 1.0),
    (ACI_CRACK.w_c, (1e-3, 1.25, 120.0), 0.3),
    (IS_CRACK.E_c, (36.0,), 30000.0),
    (IS_CRACK.E_ce, (30000.0, 2.0), 10000.0),
    (IS_CRACK.a_cr, (160.0, 60.0, 20.0), 90.0),
    (IS_CRACK.eps_m, (1e-4, 400.0, 100.0, 350.0, 0.5, 2e5), 0.0),
    (IS_CRACK.w_cr_tension, (80.0, 1e-3), 0.24),
]


@pytest.mark.parametrize(("clause", "arguments", "expected"), HAND, ids=lambda v: getattr(v, "__name__", None))
def test_hand_values(clause, arguments, expected):
    assert float(clause(*arguments)) == pytest.approx(expected, rel=1e-6)
    many = clause(*(np.full((2, 3), a) for a in arguments))
    assert many.shape == (2, 3)


@pytest.mark.parametrize("clause", CLAUSES, ids=lambda c: f"{c.__module__.split('.')[2]}.{c.__name__}")
def test_docstrings_name_every_symbol_with_its_unit_and_a_source(clause):
    units = documented_units(clause)
    parameters = list(inspect.signature(clause).parameters)
    assert list(units)[: len(parameters)] == parameters
    assert all(units.values())
    assert any(
        name in clause.source
        for name in (
            "EN 199",
            "ACI 318-19",
            "ACI 318-14",
            "ACI 216.1-14",
            "ASCE 7-16",
            "IS 456:2000",
            "IS 13920:2016",
            "IS 1893",
        )
    )
    assert "References" in clause.__doc__
    with recording() as sheet:
        needed = [p for p in inspect.signature(clause).parameters.values() if p.default is p.empty]
        clause(*(2.0 - 0.1 * i for i in range(len(needed))))
    step = sheet.steps[0][1]
    assert [q.unit for q in step.given] == [units[p] for p in parameters]
    assert len(step.results) >= 1


def en_vrdc(fck, bw, d, Asl, N_comp, Ac, fcd):
    ratio, size, stress = shear.rho_l(Asl / bw / d, 0.0, 0.0), shear.k(d), shear.sigma_cp(N_comp / bw, Ac / bw, fcd)
    least = shear.v_min(size, fck)
    found = {"VRdc": shear.v_Rd_c(d, size, ratio, fck, least, stress) * bw}
    return found | {"k": size, "rho_l": ratio, "sigma_cp": stress, "v_min": least}


def en_vrd_links(fck, fcd, bw, z, Asw, s, fywd):
    nu, area = links.nu_1(fck), Asw / s / bw
    cot = min(np.sqrt(nu * fcd / (area * fywd) - 1), 2.5)
    carried, most = links.v_Rd_s(area, z, fywd, cot) * bw, links.v_Rd_max(z, nu, fcd, cot) * bw
    return {"cot": links.cot_theta(carried / bw, z, nu, fcd), "nu1": nu, "VRds": carried, "VRd_max": most}


def en_links_required(fck, fcd, bw, z, fywd, fyk, VEd):
    assert fyk / fywd == pytest.approx(1.15, rel=1e-4)
    cot = links.cot_theta(VEd / bw, z, links.nu_1(fck), fcd)
    area = links.a_sw(VEd / bw, z, fywd, cot) * bw
    return {"cot": None, "Asw_over_s": None} if np.isnan(cot) else {"cot": cot, "Asw_over_s": area}


def aci_vc(fc, bw, d, rho_w, Nu_comp, Ag, has_min_stirrups):
    assert not has_min_stirrups
    size, root = ACI.lambda_s(d), ACI.root_f_c(fc)
    v = ACI.v_c(d, size, rho_w, root, ACI.axial_term(Nu_comp / Ag, fc))
    return {"lambda_s": size, "Vc": v * bw, "phiVc": 0.75 * v * bw, "Vu_max": 0.75 * ACI.v_max(v, root, d) * bw}


def is456_shear(Vu, b, d, pt, fck, fy, slab_depth, Pu, Ag):
    k = IS.k_slab(slab_depth) if slab_depth else 1.0
    factor = IS.delta(Pu / Ag, fck)
    tau = k * factor * IS.tau_c(pt, fck)
    least = IS.a_sv_min(fy) * b
    area = max(IS.a_sv(Vu / b / d, tau, fy) * b, least)
    most = IS.tau_c_max(fck, slab=slab_depth is not None)
    return {"tau_c": tau, "tau_c_max": most, "k": k, "delta": factor, "Asv_over_sv_min": least, "Asv_over_sv": area}


def en_as_min(h, b, fct, sigma_s, kind, N_comp):
    sigma = N_comp / h / b
    k_c = 1.0 if kind == "tension" else crack_steel.k_c(sigma, h, fct)
    pulled = h if kind == "tension" else h * fct / (2 * (fct + sigma))  # just before cracking under N and M
    k = crack_steel.k(h)
    return {"k": k, "kc": k_c, "As_min": crack_steel.A_s_min(k_c, k, fct, pulled, sigma_s) * b}


def en_crack_width(sigma_s, As, phi, c, d, h, x, b, fct, kt, k2, s_bars):
    depth = cracking.h_c_ef(h, d, x)
    rho = cracking.rho_p_eff(As / b, depth)
    wide = s_bars > 5 * (c + phi / 2)
    s = cracking.s_r_max_wide(h, x) if wide else cracking.s_r_max(c, phi, rho, k2)
    eps = cracking.eps_difference(sigma_s, fct, rho, 6.0, kt, 2e5)
    width = cracking.w_k(s, eps)
    return {"hc_ef": depth, "rho_p_eff": rho, "eps_diff": eps, "sr_max": s, "wide_spacing": wide, "wk": width}


def en_skew_spacing(theta, sr_y, sr_z):
    return {"value": cracking.s_r_max_skew(theta, sr_y, sr_z)}


def en_stress_limits(fck, fyk):
    concrete = {"k1_char": stresses.sigma_c_char(fck), "k2_quasi": stresses.sigma_c_quasi(fck)}
    return concrete | {"k3_steel": stresses.sigma_s_char(fyk), "k4_imposed": stresses.sigma_s_imposed(fyk)}


def aci_bar_spacing(fy, cc):
    return {"value": ACI_CRACK.s_crack(2 / 3 * fy, cc)}


def is456_crack_width(eps1, b, h, x, d, a, acr, cmin, As):
    assert a == h
    eps = IS_CRACK.eps_m(eps1, h, x, d, As / b, 2e5)
    return {"eps_m": eps, "w": IS_CRACK.w_cr(acr, eps, cmin, h, x)}


REFERENCES = [c for n in ("shear_and_punching", "cracking") for c in json.loads((REFERENCE / f"{n}.json").read_text())]


@pytest.mark.parametrize(
    "case",
    [c for c in REFERENCES if c["type"] in globals()],
    ids=lambda c: f"{c['type']} {c['id']}",
)
def test_references_worked_by_hand(case):
    found = globals()[case["type"]](**case["inputs"])
    assert found
    for name, value in found.items():
        expected = case["expected"][name]
        assert value is None if expected is None else value == pytest.approx(expected, rel=1e-6), name


@pytest.mark.parametrize("standard", STANDARDS, ids=lambda s: s.name)
def test_standards_answer_alike(standard):
    concrete, steel = Concrete(37.5, "cube"), Steel(420.0)
    s = standard.strengths(concrete, steel, "persistent")
    block = standard.stress_block(concrete, steel, "persistent")
    # a layer opposite bars that pull is the block of the one-way section
    assert s.fc_bending == pytest.approx(block.phi * block.stress, rel=1e-9)
    assert s.f_yd == pytest.approx(block.phi * block.strength, rel=1e-9)
    assert s.fc_cracked < s.fc_uncracked <= s.fc_bending
    assert s.f_yd_deep <= s.f_yd
    assert standard.readings
    assert {"layers", "yield", "shear", "links", "struts", "maximum steel"} <= set(standard.clauses)
    d, h = np.array([210.0]), np.array([250.0])
    resistance = standard.shear_resistance(ShearSection(concrete, steel, "persistent", d, h, 0.006, 0.0))
    pulled = standard.shear_resistance(ShearSection(concrete, steel, "persistent", d, h, 0.006, -1.0))
    assert 0.0 < pulled < resistance
    found = standard.links(ShearDemand(concrete, steel, "persistent", 1.5 * resistance, d, resistance, 1.0))
    assert found.v_max > resistance
    assert found.a_sw > 0.0


def test_situations_pick_the_factors():
    standard, concrete, steel = EN1992.recommended(), Concrete(30.0), Steel(500.0)
    persistent, accidental = (standard.strengths(concrete, steel, s) for s in ("persistent", "accidental"))
    assert persistent.fc_cracked == pytest.approx(10.56)
    assert accidental.fc_uncracked == pytest.approx(25.0)
    assert accidental.f_yd == 500.0
    assert persistent.depth_limit == pytest.approx(0.0035 / (0.0035 + 434.78 / 2e5), rel=1e-4)


@pytest.mark.parametrize(
    ("p_t", "f_ck", "expected"),
    [
        (0.25, 20, 0.36),
        (0.5, 20, 0.48),
        (1.0, 25, 0.64),
        (1.5, 30, 0.76),
        (2.0, 35, 0.86),
        (3.0, 40, 1.01),
        (0.25, 40, 0.38),
    ],
)
def test_table_19_of_is_456(p_t, f_ck, expected):
    assert float(IS.tau_c(p_t, f_ck)) == pytest.approx(expected, abs=0.006)  # printed to two digits


def test_greatest_spacing():
    en, aci, is_ = ([s.maximum_spacing(r, 120.0, 95.0) for r in ("slab", "wall", "none")] for s in STANDARDS)
    assert en == [240.0, 360.0, np.inf]  # 2 h near maximum moments of slabs, 3 h of walls
    assert aci == [240.0, 360.0, np.inf]  # 2 h at critical sections of slabs, 3 h of walls
    assert is_ == [285.0, 360.0, np.inf]  # 3 d, and 3 t
    assert [s.maximum_spacing("slab", 400.0, 370.0) for s in STANDARDS] == [250.0, 450.0, 300.0]
    assert [s.maximum_spacing("wall", 400.0, 370.0) for s in STANDARDS] == [400.0, 450.0, 450.0]


def test_national_spacings_and_links_of_thin_slabs():
    germany = EN1992.national("de")
    assert [germany.maximum_spacing("slab", h, h) for h in (150.0, 200.0, 300.0)] == [150.0, 200.0, 250.0]
    assert [germany.maximum_spacing("wall", h, h) for h in (120.0, 300.0)] == [240.0, 300.0]
    for country in ("uk", "fr"):  # struts no flatter than 45 degrees: tension is not told apart
        found = EN1992.national(country).links(
            ShearDemand(Concrete(30.0), Steel(500.0), "persistent", 300.0, 200.0, 100.0, 2.5)
        )
        assert found.cot_theta == 1.0
    thin = [[0, 0, 0, 20e3, 0, 0, 300.0, 0]]
    for h, allowed in ((199.0, False), (200.0, True)):  # 9.3.2(1)
        found = design_points(thin, Section(h), links=1.0)
        assert (found.ultimate.shear.a_sw[0] > 0.0) == allowed
        assert found.checks.set_index("check").loc["shear without links", "status"] == (
            "links" if allowed else "exceeded"
        )


def cross(*depths):
    return Arrangement(
        np.array([depths]), np.radians([0.0, 90.0, 0.0, 90.0]), np.array([1, 1, -1, -1]), np.full(4, 12.0)
    )


def test_least_steel_of_slabs_and_walls():
    concrete, steel, h = Concrete(30.0), Steel(500.0), np.array([250.0])
    both, one = cross(214.0, 202.0, 214.0, 202.0), cross(131.0, 119.0, np.nan, np.nan)
    en, aci, is_ = (lambda *a, s=s: s.minimum_steel(a[0], concrete, steel, h, *a[1:])[0] for s in STANDARDS)
    # 0.26 2.8965/500 d where in tension; a fifth of the other direction where not
    pulls = np.array([[2.0, 0.0, 0.0, 0.1]])
    assert en("slab", both, pulls) == pytest.approx([0.32232, 0.4, 0.2 * 0.30425, 0.30425], rel=1e-4)
    upright = np.array([[0.0, 2.0, 0.0, 0.0]])
    assert en("wall", both, upright) == pytest.approx([0.25 * 2.25 / 2, 0.25, 0.25 * 2.25 / 2, 0.25], rel=1e-6)
    assert en("wall", one, np.zeros((1, 4))) == pytest.approx([0.25, 0.5, 0.0, 0.0])
    # 0.0018 h in a layer that pulls; shared by the faces of a direction where none does
    assert aci("slab", both, pulls) == pytest.approx([0.45, 0.0, 0.0, 0.45])
    assert aci("slab", both, upright) == pytest.approx([0.225, 0.45, 0.225, 0.0])
    assert aci("wall", both, upright) == pytest.approx([0.25, 0.15, 0.25, 0.15])
    assert is_("slab", both, pulls) == pytest.approx([0.3, 0.0, 0.0, 0.3])
    assert is_("wall", one, upright) == pytest.approx([0.5, 0.3, 0.0, 0.0])
    assert aci("none", both, pulls) == pytest.approx([0.0] * 4)


def test_national_sets():
    """Every shipped set loads; values of the German one by hand."""
    sets = {c: EN1992.national(c) for c in COUNTRIES}
    assert len({s.name for s in sets.values()}) == len(COUNTRIES) == 8
    concrete, steel = Concrete(30.0), Steel(500.0)
    f_cd = {c: s.stress_block(concrete, steel, "persistent").stress for c, s in sets.items()}
    assert {c: round(v, 6) for c, v in f_cd.items()} == {
        c: 20.0 if c in ("at", "cz", "fr") else 17.0 for c in COUNTRIES
    }
    de = sets["de"]
    assert de.strengths(concrete, steel, "accidental").fc_uncracked == pytest.approx(0.85 * 30 / 1.3)
    for d, factor in ((400.0, 0.0525), (700.0, 0.045), (1000.0, 0.0375)):
        k = 1 + (200.0 / d) ** 0.5
        least = factor / 1.5 * k**1.5 * 30**0.5 + 0.12 * 1.0
        found = de.shear_resistance(ShearSection(concrete, steel, "persistent", d, d + 50.0, 1e-4, 1.0))
        assert float(found) == pytest.approx(least * d, rel=1e-9)
        rich = 0.15 / 1.5 * k * (100 * 0.02 * 30) ** (1 / 3) * d
        assert float(
            de.shear_resistance(ShearSection(concrete, steel, "persistent", d, d + 50.0, 0.02, 0.0))
        ) == pytest.approx(rich, rel=1e-9)
    v = np.array([100.0])
    assert de.links(ShearDemand(concrete, steel, "persistent", v, 2 * v, v / 2, 2.5)).cot_theta[0] == 1.0
    assert sets["at"].links(ShearDemand(concrete, steel, "persistent", v, 2 * v, v / 2, 2.5)).cot_theta[
        0
    ] == pytest.approx(1.667)
    assert len(de.to_check) >= 5
    assert len(EN1992.recommended().to_check) == 1
