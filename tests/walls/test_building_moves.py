"""The building when its input is reordered, shaken, cut short, or in other units; spectra, basements and shares by hand."""

import shutil

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import explain_wall, run_job
from walls.test_building import MOVED, checks, written
from walls.test_walls_of_a_plate import E, G, L

EN = "EN 1992-1-1:2004"
PLAIN = "q_d = 3\nwalls_carry_all = true"
KEY = ["storey", "direction", "check"]


def tables(path):
    result = run_job(path, pictures=False)
    return {n: result.frame(n) for n in ("building checks", "storey drifts", "base shear of walls")}


def same(a, b, rtol):
    for name, frame in a.items():
        key = [k for k in (*KEY, "wall") if k in frame]
        one, two = (f.set_index(key).sort_index() for f in (frame, b[name]))
        assert one.index.equals(two.index), name
        numbers = one.select_dtypes("number").columns
        assert_allclose(one[numbers], two[numbers], rtol=rtol, atol=1e-12, err_msg=name)


@pytest.fixture(scope="module")
def plain(tmp_path_factory):
    path = written(tmp_path_factory.mktemp("plain") / "a", EN, PLAIN)
    return path, tables(path)


def moved(plain, folder, change, name="moved.csv"):
    shutil.copytree(plain[0].parent, folder, ignore=shutil.ignore_patterns("results"))
    frame = pd.read_csv(folder / name)
    change(frame).to_csv(folder / name, index=False)
    return folder / "job.toml"


def test_order_of_rows_and_cases_that_nothing_takes(plain, tmp_path):
    shuffled = moved(plain, tmp_path / "a", lambda f: f.sample(frac=1.0, random_state=3))
    same(plain[1], tables(shuffled), 1e-12)
    gravity = moved(plain, tmp_path / "b", lambda f: pd.concat([f, f.assign(case="G", ux=50.0)]))
    same(plain[1], tables(gravity), 1e-12)


def test_rounding_noise_moves_little(plain, tmp_path):
    noise = np.random.default_rng(7)
    shaken = moved(plain, tmp_path / "a", lambda f: f.assign(ux=f["ux"] * (1 + 1e-6 * noise.standard_normal(len(f)))))
    same(plain[1], tables(shaken), 1e-5)


def test_nodes_that_have_no_displacement_are_left_out(plain, tmp_path):
    nodes = pd.read_csv(plain[0].parent / "nodes.csv").set_index("node")

    def at(*ends):
        return lambda f: f[nodes.loc[f["node"], "x"].isin(ends).to_numpy()]

    # both edges tell as much as all nodes; the left one alone has no torsion
    same(plain[1], tables(moved(plain, tmp_path / "a", at(0.0, L))), 1e-12)
    left = tables(moved(plain, tmp_path / "b", at(0.0)))["storey drifts"]
    assert (left["largest over mean [-]"] == 1.0).all()
    assert left["drift [mm]"].tolist() == pytest.approx([MOVED, 2 * MOVED])


def test_levels_without_displacements_are_told(plain, tmp_path, cli):
    nodes = pd.read_csv(plain[0].parent / "nodes.csv").set_index("node")
    path = moved(plain, tmp_path / "a", lambda f: f[nodes.loc[f["node"], "z"].ne(3000.0).to_numpy()])
    code, _, err = cli("run", path)
    assert code == 2
    assert (
        "no displacements of places that stand over each other in 'storey 1'; give those of nodes at 0 and 3 m" in err
    )
    strange = moved(plain, tmp_path / "b", lambda f: f.assign(node=f["node"] + 100000))
    code, _, err = cli("run", strange)
    assert code == 2
    assert "moved.csv" in err
    assert "is not in the mesh" in err


def test_a_spectrum_is_combined_after_its_modes_are_subtracted(plain, tmp_path):
    """Two modes, SRSS: one moves both floors, the other the upper one back; magnitudes alone have no drift."""
    folder = tmp_path / "a"
    shutil.copytree(plain[0].parent, folder, ignore=shutil.ignore_patterns("results"))
    cases = pd.read_csv(folder / "resultants.csv")
    more = [cases[cases["case"] == "E"].assign(case=c) for c in ("M1", "M2", "R")]
    pd.concat([cases, *more]).to_csv(folder / "resultants.csv", index=False)
    reactions = pd.read_csv(folder / "reactions.csv")
    more = [reactions[reactions["case"] == "E"].assign(case=c) for c in ("M1", "M2", "R")]
    pd.concat([reactions, *more]).to_csv(folder / "reactions.csv", index=False)
    nodes = pd.read_csv(folder / "nodes.csv")
    shapes = {"M1": (2.0, 5.0), "M2": (1.0, -1.0), "R": (np.hypot(2, 1), np.hypot(5, 1))}
    rows = [
        pd.DataFrame({"case": c, "node": nodes["node"], "ux": np.interp(nodes["z"], [0, 3000, 6000], [0, *u]), "uy": 0.0,
                      "uz": 0.0})
        for c, u in shapes.items()
    ]  # fmt: skip
    pd.concat(rows).to_csv(folder / "moved.csv", index=False)
    text = (folder / "job.toml").read_text().replace("E = 1.5", "R = 1.5")
    spectrum = '[cases.M1]\nkind = "mode"\n[cases.M2]\nkind = "mode"\n[cases.R]\nkind = "seismic"\nsigned = false\n'
    spectrum += '[spectra.R]\nmodes = ["M1", "M2"]\ncombination = "SRSS"\n'
    (folder / "job.toml").write_text(text.replace("[cases.G]", f"{spectrum}[cases.G]"))
    found = tables(folder / "job.toml")["storey drifts"].set_index("storey")
    assert found["drift [mm]"].tolist() == pytest.approx([np.hypot(2, 1), np.hypot(3, 2)])
    assert found["design displacement [mm]"].tolist() == pytest.approx([3 * np.hypot(2, 1), 3 * np.hypot(5, 1)])
    # both modes carry what E does: each storey has the root of two of its shear
    assert found["V [kN]"].tolist() == pytest.approx([np.sqrt(2) * E / 1e3] * 2, rel=2e-3)
    without = text.replace("[cases.G]", spectrum.partition("[spectra")[0] + "[cases.G]")
    (folder / "job.toml").write_text(without)
    with pytest.raises(Exception, match="has no signs, and a cut adds forces"):
        run_job(folder / "job.toml", pictures=False)


def test_basements_are_left_out_and_walls_that_share_with_frames_are_named(plain, tmp_path):
    folder = tmp_path / "a"
    shutil.copytree(plain[0].parent, folder, ignore=shutil.ignore_patterns("results"))
    text = (folder / "job.toml").read_text()
    (folder / "job.toml").write_text(text.replace("levels = [0, 3, 6]", "levels = [0, 3, 6]\nbasement = 3"))
    found = tables(folder / "job.toml")
    assert set(found["storey drifts"]["storey"]) == {"storey 2"}
    assert found["base shear of walls"]["V [kN]"].max() == pytest.approx(E / 1e3, rel=2e-3)
    forces = 'q_d = 3\nforces = { file = "loads.csv", units = { force = "kN" } }'
    for whole, system in ((420.0, "wall system"), (500.0, "dual system, equivalent to walls"),
                          (700.0, "dual or frame system, equivalent to frames")):  # fmt: skip
        path = written(tmp_path / f"{whole:g}", EN, forces)
        rows = [(s, "G", 900, 0, 0) for s in ("storey 1", "storey 2")]
        rows += [(s, "E", 0, whole, 0) for s in ("storey 1", "storey 2")]
        pd.DataFrame(rows, columns=["storey", "case", "P", "Vx", "Vy"]).to_csv(path.parent / "loads.csv", index=False)
        share = tables(path)["base shear of walls"].set_index("wall").loc["all walls"]
        assert share["share [%]"] == pytest.approx(100 * E / 1e3 / whole, rel=2e-3)
        assert share["system"] == system
    # the same forces decide second order
    theta = checks(path).loc[("storey 2", "second order of the storey"), "demand"]
    assert theta == pytest.approx(5 * 900 * 3 * 2.2 * MOVED / (700 * 3000))


def test_us_customary_units_of_the_building_and_the_laps(tmp_path):
    building = 'C_d = 5\nwalls_carry_all = true\nneighbours = [{ side = "-x", gap = "1 in", displacement = "0.5 in" }]'
    si = run_job(written(tmp_path / "si", "ACI 318-14", building), pictures=False)
    us = written(tmp_path / "us", "ACI 318-14", building)
    us.write_text(us.read_text().replace("[building]", '[output]\nunits = "US"\ncsv = true\n[building]', 1))
    result = run_job(us, pictures=True)
    assert result.report.exists()
    drifts = pd.read_csv(us.parent / "results" / "storey_drifts.csv")
    own = si.frame("storey drifts")
    assert drifts["drift [in]"].tolist() == pytest.approx((own["drift [mm]"] / 25.4).tolist(), rel=1e-4)
    assert drifts["P [kip]"].tolist() == pytest.approx((own["P [kN]"] / 4.4482216).tolist(), rel=1e-4)
    laps = pd.read_csv(us.parent / "results" / "wall_laps.csv")
    assert laps["lap [in]"].tolist() == pytest.approx((si.frame("wall laps")["lap [mm]"] / 25.4).tolist(), rel=1e-4)
    assert laps["up to [ft]"].tolist() == pytest.approx(
        (si.frame("wall laps")["up to [m]"] / 0.3048).tolist(), rel=1e-4
    )
    joint = si.frame("building checks").set_index("check").loc["joint at -x"]
    assert joint["capacity"] == pytest.approx(25.4)
    assert joint["demand"] == pytest.approx(np.hypot(5 * 3 * 1.2 * MOVED, 12.7))
    sheet = explain_wall(us, "storey 1 A W").sheet
    assert any("ACI 318-14" in step.source for _, step in sheet.steps)


def test_loads_of_a_table_hold_where_walls_do_not_carry_all(tmp_path):
    """Gravity with its factor of the combination, compression positive; both directions by themselves."""
    building = 'q_d = 3\nforces = { file = "loads.csv", units = { force = "kN" } }'
    path = written(tmp_path / "a", EN, building)
    found = tables(path)["storey drifts"].set_index("storey")
    assert found.loc["storey 1", "P [kN]"] == pytest.approx(5 * 600)
    assert found.loc["storey 1", "V [kN]"] == pytest.approx(300)
    carried = tables(written(tmp_path / "b", EN, PLAIN))["storey drifts"].set_index("storey")
    assert carried.loc["storey 1", "P [kN]"] == pytest.approx(5 * G * L, rel=2e-3)
