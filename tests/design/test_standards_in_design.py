"""Three standards in the stage: one-way bending by the block, the strain check of phi, the demo's floor and drum."""

from dataclasses import replace

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich import EN1992, BarLayers, Concrete, Section, Steel, design_points
from sandwich.commands.start import copy_demo
from sandwich.design.fields import stress_fields
from sandwich.design.rows import compressed_depth
from sandwich.design.settings import Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.mechanics.block import bending_steel
from sandwich.project.project import Project
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.is456.standard import IS456

STANDARDS = (EN1992.recommended(), ACI318(), IS456())
SECTION = Section(280.0, BarLayers(30.0, 35.0, 14.0, 12.0), Concrete(30.0), Steel(420.0))


@pytest.mark.parametrize("standard", STANDARDS, ids=lambda s: s.name)
@pytest.mark.parametrize(("m", "n"), [(40e3, 0.0), (150e3, 0.0), (-90e3, 0.0), (90e3, -150.0), (60e3, 120.0)])
def test_one_way_bending_is_the_block_of_the_standard(standard, m, n):
    design = design_points([[n, 0, 0, m, 0, 0, 0, 0]], SECTION, standard=standard)
    block = standard.stress_block(SECTION.concrete, SECTION.steel, "persistent")
    d = 280.0 / 2 + abs(SECTION.bars.axes(280.0)[0 if m > 0 else 2])
    by_hand = float(bending_steel(abs(m), n, d, 280.0, block))
    assert design.ultimate.a_s_ultimate[0].sum() == pytest.approx(by_hand, rel=2e-3)


def test_strain_check_of_aci():
    aci, loads = ACI318(), np.zeros((3, 8))
    loads[:, 3] = 100e3, 560e3, 80e3
    loads[:, 0] = 0.0, 0.0, -2500.0
    u = design_points(loads, SECTION, standard=aci).ultimate
    s = aci.strengths(SECTION.concrete, SECTION.steel, "persistent")
    assert (s.f_yd, s.f_yd_deep) == pytest.approx((0.9 * 420.0, 0.65 * 420.0))
    f_yd = u.force.sum(1) / np.where(u.a_s_ultimate.sum(1) > 0, u.a_s_ultimate.sum(1), 1.0)
    assert f_yd[0] == pytest.approx(0.9 * 420.0, rel=1e-9)
    # too deep for 0.003 beyond yield: the lower factor for bars and concrete, or no field at all
    assert u.failing[1] >= 0 or f_yd[1] == pytest.approx(0.65 * 420.0, rel=1e-9)
    # no bar pulls: the layers are those of compression-controlled concrete
    assert u.a_s_ultimate[2].sum() == pytest.approx(0.0, abs=1e-9)
    assert u.layers[2] > 2500.0 / (0.65 * 0.85 * 30.0) / 280.0 * 0.999


def test_the_demo_under_each_standard(tmp_path):
    came = Project.of(copy_demo(tmp_path / "demo")).load()
    combinations = came.combinations.ultimate()
    mean = {}
    for z in came.zones:
        for standard in STANDARDS:
            s = replace(z.settings(standard), minimum="none")
            u = design_ultimate(z.cases, combinations.factors, combinations.situations, z.h, s)
            assert u.certified.all()
            assert np.all(u.bound <= u.total * (1 + 1e-9) + 1e-12)
            mean[z.name, standard.name] = u.total.mean() * s.steel.f_yk
    names = [s.name for s in STANDARDS]
    for zone in ("floor", "drum"):
        forces = np.array([mean[zone, n] for n in names])
        # bars at 1/1.15, 0.9 and 0.87 of their yield strength; lever arms differ by little
        assert_allclose(forces * [1 / 1.15, 0.9, 0.87], forces[0] / 1.15, rtol=0.03)


@pytest.mark.parametrize("standard", [ACI318(), IS456()], ids=lambda s: s.name)
def test_joint_designs_keep_the_strain_that_their_strengths_ask_for(standard):
    """Bars of combinations with the higher strengths pull, and x/d keeps its limit in the joint field."""
    rng = np.random.default_rng(3)
    rows = rng.normal(0, 1, (150, 4, 8)) * [600, 600, 300, 6e4, 6e4, 2e4, 0, 0]
    s = Settings(BarLayers(), Concrete(30.0), Steel(500.0), standard, joint=True)
    of, h = [standard.strengths(s.concrete, s.steel, "persistent")] * 4, np.full(150, 250.0)
    found = stress_fields(rows, of, h, s.bars.axes(h), s).rows
    force = found.witness.bars.reshape(150, 4, 4)
    t = np.stack([found.witness.t_bottom, found.witness.t_top], -1).reshape(150, 4, 2)
    deep = compressed_depth(force, t, of, h, s.bars.axes(h)) > 1.0 + 1e-9
    low = of[0].f_yd_deep, of[0].fc_uncracked, min(of[0].fc_cracked, of[0].fc_uncracked)
    high = (found.f_yd > low[0]) | (
        np.maximum(found.witness.fc_bottom, found.witness.fc_top) > max(low[1:]) * (1 + 1e-9)
    )
    ok = found.ok.reshape(150, 4).all(1)
    assert ok.sum() > 100
    assert not (deep & high.reshape(150, 4))[ok].any()
    assert found.violation(np.full((600, 4), 1e9), "sandwich")[np.repeat(ok, 4)].max() < 1e-6


def test_the_angle_rule_has_its_own_whole_strength_and_no_joint_design():
    ruled = replace(EN1992.recommended(), cracked="EN 1992-2, 6.109")
    assert ruled.strengths(Concrete(30.0), Steel(500.0), "persistent").fc_uncracked == 17.0  # (6.110): 0.85 f_cd
    with pytest.raises(ValueError, match="take 'joint' out"):
        design_points([[1.0] * 8], Section(200.0), standard=ruled, joint=True)
