"""Top bars in a direction field of their own: against the same bars given as lines, point by point, and in a job."""

from dataclasses import replace

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich import BarLayers, BarLine, Concrete, InputError, Steel, compare_methods, explain_point, run_job, try_job
from sandwich.design.settings import Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.model.zones import Direction, turn_of
from sandwich.standards.en1992.standard import EN1992

BASE = Settings(BarLayers(30.0, 35.0, 12.0, 14.0), Concrete(30.0), Steel(500.0), EN1992.recommended(), minimum="slab")
REQUIRED = "required [mm2/m]"


def design(cases, settings, turn=None):
    k = cases.shape[1]
    h = np.full(len(cases), 250.0)
    return design_ultimate(cases, np.eye(k), ["persistent"] * k, h, settings, turn=turn, workers=1)


def test_turned_bars_are_those_lines():
    rng = np.random.default_rng(2)
    cases = rng.normal(size=(24, 3, 8)) * [150, 150, 80, 60e3, 60e3, 25e3, 30, 30]
    turn = np.repeat(np.round(np.array([-1.2, -0.3, 0.0, 0.7]), 7), 6)
    rng.shuffle(turn)
    u = design(cases, BASE, turn)
    assert u.certified.sum() > 15
    assert_allclose(u.turn, turn)
    bottom = (BarLine(0.0, 12.0), BarLine(90.0, 14.0))
    for angle in np.unique(turn):
        at = turn == angle
        top = tuple(BarLine(a + np.degrees(angle), d) for a, d in ((0.0, 12.0), (90.0, 14.0)))
        lines = design(cases[at], replace(BASE, bars=BarLayers(30.0, 35.0, bottom=bottom, top=top)))
        assert_allclose(u.a_s[at], lines.a_s, rtol=2e-5, atol=2e-5)  # an interior point ends a little inside
        assert_allclose(u.shear.v_Rd_c[at], lines.shear.v_Rd_c, rtol=2e-5)
    straight = design(cases, BASE)
    assert_allclose(u.a_s[turn == 0.0], straight.a_s[turn == 0.0], rtol=1e-12)


def test_directions_at_places():
    rng = np.random.default_rng(1)
    places = np.column_stack([rng.uniform(-5e3, 5e3, (30, 2)), np.zeros(30)])
    bars = np.broadcast_to(np.eye(3), (30, 3, 3))
    radial = turn_of(Direction(along="radial", centre=(0.0, 0.0, 0.0)), bars, places)
    way = places[:, :2] / np.linalg.norm(places[:, :2], axis=1)[:, None]
    assert_allclose(np.abs(np.cos(radial) * way[:, 0] + np.sin(radial) * way[:, 1]), 1.0, atol=1e-9)
    assert (np.abs(radial) <= np.pi / 2 + 1e-7).all()
    tangential = turn_of(Direction(along="tangential", centre=(0.0, 0.0, 0.0)), bars, places)
    assert_allclose(np.abs(np.cos(tangential - radial)), 0.0, atol=1e-6)
    assert turn_of(Direction(along="radial"), bars[:1], np.zeros((1, 3))) == 0.0


def test_a_job_with_radial_bars_over_a_grid(plate, cli):
    text = plate.read_text().replace("[zones.plate]\n", "[zones.plate]\nTOP\nrule = { diameters = [10, 16, 20] }\n")

    def run(top):
        plate.write_text(text.replace("TOP", top))
        return run_job(plate, pictures=top.endswith("}"))

    radial = run('top_direction = { along = "radial", centre = [1.5, 1.5, 0] }')
    assert radial.certificate.failed == 0
    assert "those of the top radial" in (plate.parent / "results" / "report.html").read_text()
    steel = radial.steel.set_index(["layer", "point"])[REQUIRED]
    # results are the same everywhere: bottom bars too where nothing is turned, top bars differ from ray to ray
    assert steel["top x"].round(3).nunique() > 3
    (z,) = radial.zones
    i = int(np.flatnonzero(z.turn != 0.0)[0])
    answer = {q.symbol: q.value for q in explain_point(plate, z.labels[i]).answer}
    assert answer["top x"] == pytest.approx(steel["top x", z.labels[i]], rel=1e-9)
    assert run_job(plate, pictures=False).reused == ("plate",)
    tried = try_job(plate, {"zones.plate.f_ck": "40"}).steel.set_index("layer")
    assert tried.loc["top x", "maximum before [mm2/m]"] == pytest.approx(steel["top x"].max())
    whole = compare_methods(plate, pictures=False).points["sandwich [mm2/m]"]
    by_strength = radial.steel.groupby("point", sort=False)["by strength [mm2/m]"].sum()
    assert_allclose(whole.to_numpy(), by_strength.reindex(z.labels).to_numpy(), rtol=1e-6)
    assert cli("run", plate, "--no-pictures")[0] == 0
    text = text.replace("rule =", "# rule =")
    turned = run('top_direction = { along = "vector", vector = [1, 1, 0] }').steel
    lines = "bottom = [{ angle = 0 }, { angle = 90 }], top = [{ angle = 45 }, { angle = 135 }], "
    plate.write_text(plate.read_text().replace("bars = { ", f"bars = {{ {lines}").replace("top_direction", "# "))
    given = run_job(plate, pictures=False).steel
    assert_allclose(turned[REQUIRED].to_numpy(), given[REQUIRED].to_numpy(), rtol=2e-5, atol=0.02)
    plate.write_text(text.replace("TOP", 'top_direction = { along = "element" }'))
    with pytest.raises(InputError, match="not along elements; take that out"):
        run_job(plate)
