"""Bars in compression: closed forms of a pressed section, certificates, ties, and what a job says of them."""

from dataclasses import replace

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import BarLayers, Concrete, Steel, explain_point, run_job
from sandwich.design.averaging import AveragingStrips
from sandwich.design.bar_sets import Given
from sandwich.design.bars import used
from sandwich.design.compression import compression_frame
from sandwich.design.settings import Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.is456.standard import IS456

STANDARDS = (EN1992.recommended(), ACI318(), IS456())
H = 200.0


def design(cases, standard, **changes):
    settings = Settings(BarLayers(30.0, 30.0, 16.0, 16.0), Concrete(30.0), Steel(500.0), standard, compression=True)
    settings = replace(settings, **changes)
    k = cases.shape[1]
    return settings, design_ultimate(cases, np.eye(k), ["persistent"] * k, np.full(len(cases), H), settings, workers=1)


@pytest.mark.parametrize("standard", STANDARDS, ids=lambda s: s.name)
def test_a_pressed_section_by_hand(standard):
    """n = 1.2 times what the concrete carries along x: the rest in x bars at their strength in compression."""
    s = standard.strengths(Concrete(30.0), Steel(500.0), "persistent")
    n = 1.2 * s.fc_uncracked * H
    load = np.array([[[-n, 0, 0, 0, 0, 0, 0, 0.0]]])
    settings, u = design(load, standard)
    assert u.certified.all()
    by_hand = 0.2 * s.fc_uncracked * H / (s.f_yd_deep * s.compressed)
    assert u.a_s[0, [0, 2]].sum() == pytest.approx(by_hand, rel=1e-4)
    assert_allclose(u.a_s[0, [1, 3]], 0.0, atol=1e-6)
    assert u.pressed[0].sum() == pytest.approx(0.2 * s.fc_uncracked * H, rel=1e-4)
    assert 0.6 < s.compressed <= 1.0
    _, without = design(load, standard, compression=False)
    assert without.failing[0] == 0
    frame = compression_frame("z", np.array(["1"], dtype=object), u, np.array([H]), settings)
    apart = {"EN": min(20 * 16, H), "AC": min(16 * 16, 48 * 9.5, H), "IS": min(16 * 16, H, 300)}[standard.name[:2]]
    assert (frame["ties apart up to [mm]"] == apart).all()
    assert set(frame["clause"]) == {standard.clauses["ties"]}


def test_points_that_crush_are_saved_and_others_left_alone():
    standard = STANDARDS[0]
    rng = np.random.default_rng(11)
    cases = rng.normal(size=(40, 2, 8)) * [900, 900, 400, 40e3, 40e3, 15e3, 0, 0]
    cases[:, :, :2] -= 2600.0
    settings, u = design(cases, standard)
    _, without = design(cases, standard, compression=False)
    crushed = without.failing >= 0
    assert 5 < crushed.sum() < 38
    assert_allclose(u.a_s[~crushed], without.a_s[~crushed])
    assert (u.pressed[~crushed] == 0.0).all()
    saved = crushed & (u.failing < 0)
    assert saved.sum() > 5
    assert u.certified[saved].all()
    assert (u.pressed[saved].max(1) > 0.0).all()
    # their bars come from no field of pulling bars: neither analysed nor averaged as such
    bare = Given((None,) * 4, 0.97 * np.nan_to_num(u.a_s), chosen=False)
    use = used(cases, np.eye(2), ["persistent"] * 2, np.full(40, H), u, bare, settings)
    assert np.isnan(use.factor[saved]).all()
    assert not use.excused[saved].any()
    strips = AveragingStrips(np.zeros((40, 4), dtype=np.int64), np.ones(40))
    one = design_ultimate(cases, np.eye(2), ["persistent"] * 2, np.full(40, H), settings, strips=strips, workers=1)
    assert_allclose(one.a_s, u.a_s)
    # the saved sections carry every combination, and not with a tenth less of their bars
    from sandwich.mechanics.limit import load_factor

    s = standard.strengths(settings.concrete, settings.steel, "persistent")
    axes = settings.bars.axes(H)
    for i in np.flatnonzero(saved)[:8]:
        factor = [
            [
                load_factor(
                    c[:6],
                    H,
                    axes,
                    settings.bars.angles,
                    part * s.f_yd * u.a_s[i],
                    s.fc_uncracked,
                    compressed_bars=s.compressed,
                ).lower
                for c in cases[i]
            ]
            for part in (1.0, 0.9)
        ]
        assert min(factor[0]) >= 1.0 - 1e-6
        assert min(factor[1]) < min(factor[0])


def test_a_job_with_bars_in_compression(plate):
    text = plate.read_text().replace("[zones.plate]\n", "[zones.plate]\nthickness = 180\ncompression_bars = true\n")
    plate.write_text(text.replace("G = 1.35, Q = 1.5", "G = 3.0"))
    result = run_job(plate, pictures=True)
    table = pd.read_parquet(plate.parent / "results" / "compression_bars.parquet")
    assert len(table)
    assert result.certificate.failed == 0
    assert "Bars in compression" in (plate.parent / "results" / "report.html").read_text()
    point = table["point"].iloc[0]
    sheet = explain_point(plate, point)
    stored = result.steel.set_index(["point", "layer"])["required [mm2/m]"]
    assert {q.symbol: q.value for q in sheet.answer}["top x"] == pytest.approx(stored[point, "top x"], rel=1e-9)
    assert any(step.title.startswith("Bars in compression") for _, step in sheet.steps)
