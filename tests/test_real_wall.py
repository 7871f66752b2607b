"""The pump wall with bars, links and joint steel: real shell results through tables, maps and report."""

import numpy as np
import pandas as pd
import pytest

from pump_wall import COMBINATIONS, PLAIN, ZONE
from sandwich import explain_point, run_job

GIVEN = '{ "bottom x" = { diameter = 16, spacing = 150 }, "bottom y" = { diameter = 16, spacing = 100 }, '
GIVEN += '"top x" = { diameter = 16, spacing = 150 }, "top y" = { diameter = 20, spacing = 100 } }'
CORNER = "polygon = [[2.5, 0, 0], [9.5, 0, 0], [9.5, 0, 5.5], [2.5, 0, 5.5]]"
EXTRA = f'[{{ layer = "top x", diameter = 25, spacing = 150, {CORNER} }}]'
OPTIONS = f'minimum = "wall"\nlinks = {{ cot_theta = 1.2 }}\nprovided = {GIVEN}\nadditional = {EXTRA}\n'


def write(folder, options):
    path = folder / "job.toml"
    path.write_text(PLAIN + ZONE.replace('minimum = "wall"\n', options) + COMBINATIONS)
    return path


@pytest.fixture(scope="module")
def wall(tmp_path_factory):
    path = write(tmp_path_factory.mktemp("wall"), OPTIONS)
    return path, run_job(path)


def test_links_are_rows_with_their_limit(wall):
    _, result = wall
    links = result.frame("links")
    assert result.certificate.certified == result.certificate.points == len(result.points)
    assert len(links) > 20
    assert (links["links [mm2/m2]"].diff().dropna() <= 1e-9).all()  # most first
    assert (links["v_Ed [kN/m]"] <= links["v_Rd,max [kN/m]"]).all()
    checks = result.checks[result.checks["check"] == "shear without links"].set_index("point")
    needed = set(checks.index[checks["utilisation"] > 1.0])
    assert needed <= set(links["point"])
    assert set(checks.loc[list(needed), "status"]) == {"links"}
    # 0.08 sqrt(30)/500 is the minimum of the clause
    assert links["links [mm2/m2]"].min() >= 0.08 * np.sqrt(30.0) / 500.0 * 1e6 - 1e-6


def test_bars_and_extra_bars_are_counted_where_they_lie(wall):
    path, result = wall
    mesh = result.bars[0]
    z = result.zones[0]
    layer = z.settings(result.standard).names.index("top x")
    x, height = z.xyz[:, 0] / 1e3, z.xyz[:, 2] / 1e3
    box = (x >= 2.5 - 1e-9) & (x <= 9.5 + 1e-9) & (height <= 5.5 + 1e-9)
    base, more = np.pi * 256 / 4 / 150, np.pi * 625 / 4 / 150
    assert np.allclose(mesh.given.area[:, layer], base + more * box)
    ratio = result.steel.set_index(["layer", "point"])["required [mm2/m]"]["top x"].loc[z.labels].to_numpy()
    assert np.allclose(mesh.use.ratio[:, layer], ratio / 1e3 / mesh.given.area[:, layer])
    bars = pd.read_parquet(path.parent / "results" / "bars.parquet").set_index("layer")
    assert bars.loc["top x", "points insufficient"] == (mesh.use.ratio[:, layer] > 1 + 1e-9).sum()
    use = pd.read_parquet(path.parent / "results" / "utilisation_of_bars.parquet")
    assert len(use) == 12
    assert (use["load factor"].diff().dropna() >= -1e-9).all()
    assert ((use["load factor"] >= 1.0) == (use["status"] == "ok")).all()
    # where bars give all that one design requires, limit analysis agrees
    assert (use[use["utilisation"] <= 1.0]["load factor"] >= 0.995).all()


def test_pages_and_explanation_show_links_and_bars(wall):
    path, result = wall
    names = {f.name for f in (path.parent / "results" / "maps").iterdir()}
    assert {"wall_links.png", "wall_utilisation_of_bars.png"} <= names
    page = (path.parent / "results" / "report.html").read_text()
    for words in ("Links, and bars raised", "The most used points by limit analysis", "16/150", "20/100"):
        assert words in page
    point = result.frame("links").iloc[0]
    sheet = explain_point(path, f"wall/{point['point']}", point["combination"])
    steps = {s.title: s for _, s in sheet.steps}
    assert "Thrust of the struts of the core, half of it in each layer" in steps
    made = {q.symbol: q.value for q in steps["Links and their struts"].results}
    assert made["a_sw"] == pytest.approx(point["links [mm2/m2]"], rel=1e-9)
    used = {q.symbol: q.value for q in steps["Links and their struts"].given}
    assert made["utilisation of the struts"] == pytest.approx(used["v_Ed"] / used["v_max"])


def test_joint_steel_of_real_results(wall, tmp_path):
    _, each = wall
    path = write(tmp_path, 'minimum = "none"\njoint = true\n')
    joint = run_job(path, pictures=False)
    assert joint.certificate.certified == len(joint.points)
    total = joint.points["steel by strength [mm2/m]"]
    assert (joint.points["lower bound of weighted steel [mm2/m]"] <= total * (1 + 1e-6) + 1e-6).all()
    envelope = joint.steel.groupby("point", sort=False)["envelope [mm2/m]"].sum().to_numpy()
    assert (total <= envelope * (1 + 1e-5) + 1e-6).all()
    assert total.sum() < 0.996 * envelope.sum()
    assert joint.certificate.joint[0].startswith("wall")
    assert each.certificate.joint == ()
