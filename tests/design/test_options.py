"""Choices that a zone or job may make: uncracked sections, steel across the shear, the angle rule of cracked layers."""

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose
from scipy.optimize import brentq

from sandwich import BarLayers, Concrete, InputError, Section, Steel, design_points, run_job
from sandwich.design.fields import design_combined
from sandwich.design.settings import Settings
from sandwich.design.summary import certificate_lines, certificate_of
from sandwich.design.transverse import shear_rows
from sandwich.design.ultimate import design_ultimate
from sandwich.mechanics.threelayer import layer_tensors
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.en1992 import shells
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.interface import ShearSection
from sandwich.standards.is456.standard import IS456

EN = EN1992.recommended()
BASE = Settings(BarLayers(30.0, 30.0), Concrete(30.0), Steel(500.0), EN, minimum="slab")


def design(cases, settings, h=250.0):
    k = cases.shape[1]
    return design_ultimate(cases, np.eye(k), ["persistent"] * k, np.full(len(cases), h), settings, workers=1)


@pytest.mark.parametrize("f_ck", [20.0, 30.0, 50.0])
def test_cracking_criterion_meets_the_strengths_it_was_made_from(f_ck):
    """Ottosen's surface through uniaxial tension and compression, and the biaxial strength of tests, 1.16 to 1.22 f_cm."""
    f_cm, f_ctm = f_ck + 8.0, 0.3 * f_ck ** (2 / 3)
    tension = brentq(lambda s: shells.Phi(s, 0.0, f_cm, f_ctm), 0.1, 10.0)
    compression = brentq(lambda s: shells.Phi(0.0, -s, f_cm, f_ctm), 1.0, 3.0 * f_cm)
    both = brentq(lambda s: shells.Phi(-s, -s, f_cm, f_ctm), 1.0, 3.0 * f_cm)
    assert tension == pytest.approx(f_ctm, rel=0.01)
    assert compression == pytest.approx(f_cm, rel=0.02)
    assert 1.16 <= both / f_cm <= 1.22
    assert shells.Phi(1.0, -2.0, f_cm, f_ctm) == shells.Phi(-2.0, 1.0, f_cm, f_ctm)


@pytest.mark.parametrize("standard", [EN, ACI318(), IS456()], ids=lambda s: s.name)
def test_uncracked_points_save_steel_only_where_a_zone_asks(standard):
    rng = np.random.default_rng(3)
    cases = rng.normal(size=(60, 3, 8)) * [100, 100, 50, 15e3, 15e3, 8e3, 10, 10]
    base = replace(BASE, standard=standard)
    plain, saving = (design(cases, replace(base, uncracked=u)) for u in ("report", "exempt"))
    whole = plain.cracking <= 0.0
    assert 5 < whole.sum() < 55
    assert_allclose(saving.cracking, plain.cracking)
    assert_allclose(saving.a_s[~whole], plain.a_s[~whole])
    assert (saving.a_s_ultimate[whole] == 0.0).all()
    assert_allclose(saving.a_s[whole], saving.a_s_minimum[whole])
    assert saving.certified.all()
    # the elastic stress of the face by hand, in one direction
    m = np.array([[[0, 0, 0, 20e3, 0, 0, 0, 0.0]]])
    stress = 6 * 20e3 / 250.0**2
    limit = design(m, base).cracking[0]
    if standard is not EN:
        assert limit == pytest.approx(stress / standard.flexural_tension(base.concrete, "persistent") - 1, rel=1e-9)
    else:
        assert (limit > 0) == (stress > 2.9)


@given(angle=st.floats(0.0, 6.2), v=st.floats(10.0, 200.0))
def test_fourth_powers_count_bars_by_their_own_force_along_the_shear(angle, v):
    load = np.array([[[0, 0, 0, 60e3, 60e3, 0, v * np.cos(angle), v * np.sin(angle)]]])
    a_s, h = np.array([[1.0, 0.4, 1.0, 0.4]]), np.array([250.0])
    axes = BASE.bars.axes(h)
    two, four = (shear_rows(load, ["persistent"], h, axes, a_s, replace(BASE, shear_steel=s)) for s in ("cos2", "cos4"))
    assert four.capacity <= two.capacity + 1e-9
    along = np.cos(angle) ** 2, np.sin(angle) ** 2
    depth = h[0] / 2 + axes[0, :2]
    rho = sum(a / z * w**2 for a, z, w in zip(a_s[0, :2], depth, along, strict=True))
    d = two.d[0, 0]
    by_hand = EN.shear_resistance(ShearSection(BASE.concrete, BASE.steel, "persistent", d, 250.0, min(rho, 0.02), 0.0))
    assert four.capacity[0, 0] == pytest.approx(float(by_hand), rel=1e-9)


def test_cracked_layers_lose_strength_by_the_angle_of_their_compression():
    rng = np.random.default_rng(8)
    cases = rng.normal(size=(80, 1, 8)) * [300, 300, 200, 60e3, 60e3, 30e3, 0, 0]
    ruled = replace(BASE, standard=replace(EN, cracked="EN 1992-2, 6.109"), minimum="none")
    u, plain = design(cases, ruled), design(cases, replace(BASE, minimum="none"))
    good = (u.failing < 0) & (plain.failing < 0)
    assert good.sum() > 60
    assert u.certified[good].all()
    assert (plain.turned[good] == 0.0).all()
    strengths = [ruled.standard.strengths(ruled.concrete, ruled.steel, "persistent")]
    h = np.full(80, 250.0)
    rows = design_combined(cases, strengths, h, ruled.bars.axes(h), ruled)
    t = np.column_stack([rows.witness.t_bottom, rows.witness.t_top])
    layers = layer_tensors(rows.demand, h, rows.axes, rows.angles, rows.witness.bars, t)
    held = rows.turned <= 1.0
    assert held.sum() > 5
    for i in np.flatnonzero(held & rows.ok):
        for side, (layer, fc) in enumerate(zip(layers, (rows.witness.fc_bottom, rows.witness.fc_top), strict=True)):
            n, m = rows.demand[i, :3] / 250.0, 6.0 * rows.demand[i, 3:] / 250.0**2
            matrices = [np.array([[a, c], [c, b]]) for a, b, c in (layer[i], n + (1 - 2 * side) * m)]
            ways = [np.linalg.eigh(one)[1][:, 0] for one in matrices]
            turned = np.degrees(np.arccos(min(abs(ways[0] @ ways[1]), 1.0)))
            if fc[i] < 15.0 and np.abs(layer[i]).max() > 1e-3:  # a cracked layer that is pressed
                assert turned <= 15.0 + 1e-6
                assert fc[i] <= 10.56 * (1 - 0.032 * turned) * (1 + 1e-6)


def test_choices_of_a_job(plate, cli):
    text = plate.read_text()
    plate.write_text(text + '[design]\ncracked_layers = "EN 1992-2, 6.109"\n')
    checks = run_job(plate, pictures=False).checks
    assert "EN 1992-2 6.109(103)" in set(checks["clause"])
    for more, words in (
        (
            '[design]\nstandard = "ACI 318-19"\ncracked_layers = "EN 1992-2, 6.109"\n',
            "cracked_layers is a choice of EN 1992",
        ),
        ('[design]\ncracked_layers = "EN 1992-2, 6.109"\n', "take 'joint' out"),
    ):
        zone = "joint = true\n" if "joint" in words else ""
        plate.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\n{zone}") + more)
        with pytest.raises(InputError, match=words):
            run_job(plate)
    plate.write_text(
        text.replace("[zones.plate]\n", '[zones.plate]\nuncracked = "exempt"\nminimum = "slab"\n').replace(
            "G = 1.35, Q = 1.5", "G = 0.3"
        )
    )
    result = run_job(plate)
    assert (result.points["cracking, uncracked up to 0"] <= 0.0).all()
    assert "stay uncracked in every combination" in (plate.parent / "results" / "report.html").read_text()
    assert "it is reported" not in cli("explain", plate, "--point", result.points["point"].iloc[0])[1]


def test_weights_do_not_make_points_fail():
    """Many layers carry what three do not; where a rule of angles forbids them, bars of equal weight, and that is said."""
    rows = np.random.default_rng(2).normal(0, 1, (200, 8)) * [400, 400, 200, 5e4, 5e4, 2e4, 0, 0]
    even = design_points(rows, Section(250.0)).ultimate
    ruled = replace(EN, cracked="EN 1992-2, 6.109")
    for (x, y), standard in itertools.product(((0.2, 5.0), (5.0, 0.2)), (EN, ruled)):
        u = design_points(rows, Section(250.0, BarLayers(weight_x=x, weight_y=y)), standard=standard).ultimate
        assert u.certified[u.failing < 0].all()
        if standard is EN:
            assert (u.failing >= 0).sum() <= (even.failing >= 0).sum()
            assert not u.even.any()
            continue
        assert 0 < u.even.sum() < 100
        lines = " ".join(certificate_lines(certificate_of([u])))
        assert (
            f"Bars of equal weight, since layers do not fit with the weights asked for: {u.even.sum()} points" in lines
        )


def test_one_combination_is_explained_by_its_own_bars():
    rows = np.array([[[0, 0, 0, 60e3, 0, 0, 0, 0], [0, 0, 0, 20e3, 0, 0, 0, 0]]], dtype=float)
    design = design_points(rows, Section(250.0))
    alone = [design_points(rows[:, k], Section(250.0)).ultimate.a_s_ultimate[0, 0] * 1e3 for k in (0, 1)]
    for k, name in enumerate(design.combinations):
        assert design.explain("1", name).answer[0].value == pytest.approx(alone[k], rel=1e-9)
    assert design.explain("1").answer[0].value == pytest.approx(alone[0], rel=1e-9)
