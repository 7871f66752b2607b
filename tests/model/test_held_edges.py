"""Moments at held edges: a cantilever slab by its closed form, the pump wall's base against statics."""

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from pump_wall import write_wall
from sandwich import explain_point, run_job

SPAN, LOAD, N = 4.0, 10.0, 8  # m, kN/m2, elements


def cantilever(folder, *, follow, held=True, lines=""):
    """Held along x = 0, free at x = 4 m: m = -w (L - x)^2/2, v = w (L - x); corner moments of the middle, or exact."""
    job = write_plate(folder, n=N, size=SPAN / N)
    nodes = pd.read_csv(folder / "nodes.csv").set_index("node")
    table = pd.read_csv(folder / "resultants.csv").query("case == 'G'").astype(dict.fromkeys(["mx", "vx"], float))
    x = nodes.loc[table["node"], "x"].to_numpy()
    middle = table.groupby("element")["node"].transform(lambda n: nodes.loc[n, "x"].mean()).to_numpy()
    at = x if follow else middle
    table[["nx", "ny", "nxy", "my", "mxy", "vy"]] = 0.0
    table["mx"], table["vx"] = -LOAD * (SPAN - at) ** 2 / 2, -LOAD * (SPAN - x)
    table.to_csv(folder / "resultants.csv", index=False)
    edge = nodes.index[nodes["x"] == 0.0]
    (folder / "reactions.csv").write_text(
        "case,node,fx,fy,fz\n" + "".join(f"G,{n},0,0,{LOAD * SPAN**2 / len(edge)}\n" for n in edge)
    )
    text = job.read_text().replace("G = 1.35, Q = 1.5", "G = 1.0").replace("G = 1.0, Q = 0.5", "G = 1.0")
    if held:
        text = text.replace(
            'resultants = "resultants.csv"\n', 'resultants = "resultants.csv"\nreactions = "reactions.csv"\n'
        )
    job.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\n{lines}"))
    return job, run_job(job, pictures=False)


def moment(result, x):
    z = result.zones[0]
    return z.cases[np.isclose(z.xyz[:, 0], 1e3 * x), 0, 3] / 1e3


def test_the_moment_reaches_the_edge_by_equilibrium(tmp_path):
    exact = -LOAD * SPAN**2 / 2
    job, result = cantilever(tmp_path, follow=False)
    h = SPAN / N
    assert_allclose(moment(result, 0.0), exact + LOAD * h**2 / 8, rtol=1e-9)  # the load on half an element is left
    assert_allclose(moment(result, SPAN), -LOAD * h**2 / 8, rtol=1e-9)  # a free edge stays as it is
    assert result.warnings == []
    assert result.points["moment low by up to [kNm/m]"].max() == 0.0
    titles = [s.title for _, s in explain_point(job, "1").steps]
    assert "Element 100 at node 1: moments carried to the held edge" in titles
    inner = result.zones[0].labels[np.isclose(result.zones[0].xyz[:, 0], 2e3)][0]
    assert not any("carried" in s.title for _, s in explain_point(job, str(inner)).steps)


def test_corner_values_that_follow_the_shear_are_left(tmp_path):
    _, result = cantilever(tmp_path, follow=True)
    assert_allclose(moment(result, 0.0), -LOAD * SPAN**2 / 2, rtol=1e-9)


@pytest.mark.parametrize("how", ["off", "unknown"])
def test_what_is_not_carried_is_told_with_the_right_amount(tmp_path, cli, how):
    lines = "carry_to_edges = false\n" if how == "off" else ""
    job, result = cantilever(tmp_path, follow=False, held=how == "off", lines=lines)
    h = SPAN / N
    raw = -LOAD * (SPAN - h / 2) ** 2 / 2
    assert_allclose(moment(result, 0.0), raw, rtol=1e-9)
    low = LOAD * (SPAN - h / 2) * h / 2
    assert result.points["moment low by up to [kNm/m]"].max() == pytest.approx(low, rel=1e-9)
    for command in ("inspect", "run"):
        out = " ".join(cli(command, job)[1].split())
        assert "moments are low at edges, should these be held" in out
        assert f"by up to {low:.3g} kNm/m" in out
    assert "moments are low at edges" in (tmp_path / "results" / "report.html").read_text()


def test_supports_hold_edges_and_magnitudes_grow(tmp_path):
    lines = "supports = [{ line = [[0, 0, 0], [0, 4, 0]], width = 200 }]\n"
    _, result = cantilever(tmp_path, follow=False, held=False, lines=lines)
    assert moment(result, 0.0).min() < -LOAD * SPAN**2 / 2 * 0.99
    job = tmp_path / "job.toml"
    table = pd.read_csv(tmp_path / "resultants.csv")
    table[["mx", "vx"]] = table[["mx", "vx"]].abs()
    table.to_csv(tmp_path / "resultants.csv", index=False)
    job.write_text(job.read_text() + "[cases.G]\nsigned = false\n")
    z = run_job(job, pictures=False).zones[0]
    assert np.abs(z.cases[np.isclose(z.xyz[:, 0], 0.0), 3, 3]).min() > 1e3 * LOAD * SPAN**2 / 2 * 0.99


def test_the_base_of_the_pump_wall_has_its_static_moment(tmp_path):
    """One-sided corner values are 2 to 4 % low; statics of the loads: checks of the model."""
    z = run_job(write_wall(tmp_path), pictures=False).zones[0]
    base = np.flatnonzero(np.abs(z.xyz[:, 2]) < 1.0)
    base = base[np.argsort(z.xyz[base, 0])]
    totals = np.abs(np.trapezoid(z.cases[base, :, 4], z.xyz[base, 0], axis=0)) / 1e6
    by_statics = {1: 2607.599, 2: 2118.794, 3: 998.945}  # EP, WP, SUR
    for case, want in by_statics.items():
        assert totals[case] == pytest.approx(want, rel=2e-3)
