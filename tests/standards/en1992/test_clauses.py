"""Clauses against hand values and reference cases; docstrings against the recorded steps."""

import inspect
import json

import numpy as np
import pytest

from conftest import REFERENCE
from sandwich.section import Concrete, Steel
from sandwich.standards.en1992 import materials, minimum, shear, struts
from sandwich.standards.en1992.standard import EN1992
from sandwich.trace import documented_units, recording

CLAUSES = [
    f
    for module in (materials, minimum, shear, struts)
    for _, f in inspect.getmembers(module, inspect.isfunction)
    if f.__module__ == module.__name__
]

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
]


@pytest.mark.parametrize(("clause", "arguments", "expected"), HAND, ids=lambda v: getattr(v, "__name__", None))
def test_hand_values(clause, arguments, expected):
    assert float(clause(*arguments)) == pytest.approx(expected, rel=1e-6)
    many = clause(*(np.full((2, 3), a) for a in arguments))
    assert many.shape == (2, 3)


@pytest.mark.parametrize("clause", CLAUSES, ids=lambda c: c.__name__)
def test_docstrings_name_every_symbol_with_its_unit_and_a_source(clause):
    units = documented_units(clause)
    parameters = list(inspect.signature(clause).parameters)
    assert list(units)[: len(parameters)] == parameters
    assert all(units.values())
    assert "EN 199" in clause.source
    assert "References" in clause.__doc__
    with recording() as sheet:
        clause(*(1.0 for p in inspect.signature(clause).parameters.values() if p.default is p.empty))
    step = sheet.steps[0][1]
    assert [q.unit for q in step.given] == [units[p] for p in parameters]
    assert len(step.results) >= 1


@pytest.mark.parametrize("case", json.loads((REFERENCE / "en_vrdc.json").read_text()), ids=lambda c: c["id"])
def test_reference_of_shear_without_links(case):
    i, expected = case["inputs"], case["expected"]
    d, b = i["d"], i["bw"]
    ratio = shear.rho_l(i["Asl"] / b / d, 0.0, 0.0)
    stress = shear.sigma_cp(i["N_comp"] / b, i["Ac"] / b, i["fcd"])
    size = shear.k(d)
    least = shear.v_min(size, i["fck"])
    found = shear.v_Rd_c(d, size, ratio, i["fck"], least, stress) * b
    assert found == pytest.approx(expected["VRdc"], rel=1e-6)
    assert (size, ratio, stress, least) == pytest.approx(
        tuple(expected[k] for k in ("k", "rho_l", "sigma_cp", "v_min")), rel=1e-6
    )


def test_situations_pick_the_factors():
    standard, concrete, steel = EN1992.recommended(), Concrete(30.0), Steel(500.0)
    persistent, accidental = (standard.strengths(concrete, steel, s) for s in ("persistent", "accidental"))
    assert persistent.fc_cracked == pytest.approx(10.56)
    assert accidental.fc_uncracked == pytest.approx(25.0)
    assert accidental.f_yd == 500.0
    assert persistent.depth_limit == pytest.approx(0.0035 / (0.0035 + 434.78 / 2e5), rel=1e-4)


CROSS = {"angles": np.radians([0.0, 90.0, 0.0, 90.0]), "sides": np.array([1, 1, -1, -1]), "vertical": "y"}


def test_least_steel_of_slabs_and_walls():
    standard, concrete, steel = EN1992.recommended(), Concrete(30.0), Steel(500.0)
    arguments = (concrete, steel, np.array([250.0]), np.array([[214.0, 202.0, 214.0, 202.0]]))
    slab = standard.minimum_steel("slab", *arguments, np.array([[2.0, 0.0, 0.0, 0.1]]), **CROSS)
    # 0.26 2.8965/500 d where in tension; a fifth of the other direction where not
    assert slab[0] == pytest.approx([0.32232, 0.4, 0.2 * 0.30425, 0.30425], rel=1e-4)
    wall = standard.minimum_steel("wall", *arguments, np.array([[0.0, 2.0, 0.0, 0.0]]), **CROSS)
    assert wall[0] == pytest.approx([0.25 * 2.25 / 2, 0.25, 0.25 * 2.25 / 2, 0.25], rel=1e-6)
    curtain = (concrete, steel, np.array([250.0]), np.array([[131.0, 119.0, np.nan, np.nan]]))
    one = standard.minimum_steel("wall", *curtain, np.zeros((1, 4)), **CROSS)
    assert one[0] == pytest.approx([0.25, 0.5, 0.0, 0.0])
