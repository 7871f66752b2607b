"""The command line as a user runs it: a small job, its explanation, and every kind of bad input."""

import json
import re
import subprocess
import sys

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import Section, design_points, run_job
from sandwich.core.section import BarLayers

REQUIRED = "required [mm2/m]"


def test_rows_that_are_the_same_may_be_left_out(plate, cli):
    folder, want = plate.parent, run_job(plate, pictures=False).steel
    rows = (folder / "resultants.csv").read_text().splitlines()
    (folder / "resultants.csv").write_text("\n".join([*rows, rows[1], rows[7]]) + "\n")
    assert 'repeated = "same" of this table' in " ".join(cli("run", plate)[2].split())
    table = '{ file = "resultants.csv", repeated = "same" }'
    plate.write_text(plate.read_text().replace('"resultants.csv"', table))
    pd.testing.assert_frame_equal(run_job(plate, pictures=False).steel, want)
    assert "the same as earlier ones" in " ".join(cli("inspect", plate, "--no-pictures")[1].split())
    (folder / "resultants.csv").write_text("\n".join([*rows, rows[1] + "1"]) + "\n")
    code, _, err = cli("run", plate)
    assert (code, "repeats case G" in err) == (2, True)


def test_a_job_runs_and_equals_the_library(cli, plate):
    plate.write_text(plate.read_text() + "[output]\ncsv = true\n")
    code, out, err = cli("run", plate)
    assert code == 0
    assert err == ""
    assert "16 of 16 points certified" in out
    folder = plate.parent / "results"
    assert {f.name for f in folder.iterdir()} >= {
        "report.html",
        "steel.parquet",
        "steel.csv",
        "checks.csv",
        "record.json",
    }
    steel = pd.read_parquet(folder / "steel.parquet")
    csv = pd.read_csv(folder / "steel.csv")
    assert list(csv.columns) == list(steel.columns)
    # constant resultants: every point equals the point by itself
    resultants = 2.1 * np.array([60.0, -40, 30, 35e3, -20e3, 12e3, 25, 10])
    alone = design_points([resultants], Section(250.0, BarLayers(30.0, 30.0, 12.0, 12.0)))
    for layer, value in alone.steel.set_index("layer")[REQUIRED].items():
        assert_allclose(steel.loc[steel["layer"] == layer, REQUIRED], value, rtol=1e-9)
    page = (folder / "report.html").read_text()
    assert "EN 1992-1-1:2004, recommended values" in page
    assert "http" not in page.replace("http://www.w3.org", "")
    assert len(list((folder / "maps").glob("*.png"))) == 6
    run_job(plate, pictures=False)  # nothing has changed: the report still holds
    assert (folder / "report.html").read_text() == page
    plate.write_text(plate.read_text().replace("cover_top = 30", "cover_top = 31"))
    run_job(plate, pictures=False)  # pictures of older tables do not stay
    plate.write_text(plate.read_text().replace("cover_top = 31", "cover_top = 30"))
    run_job(plate, pictures=False)
    assert not list(folder.rglob("*.png"))
    assert not (folder / "report.html").exists()
    service = pd.read_csv(folder / "service_resultants.csv")
    assert_allclose(service["mx maximum [kNm/m]"], 1.25 * 35.0)


def test_explain_equals_the_table_and_refuses_a_changed_job(cli, plate):
    assert cli("explain", plate, "--point", "6")[::2] == (
        2,
        f"{plate.parent / 'results'} holds no results; run the job first\n",
    )
    cli("run", plate, "--no-pictures")
    page = plate.parent / "worked.html"
    code, out, _ = cli("explain", plate, "--point", "plate/6", "--html", page)
    assert code == 0
    for words in ("1.35 G + 1.5 Q", "(6.2.a)", "f_cd", "Mean of 4 corners", "largest violation", "tensor rule"):
        assert words in out
        assert words in page.read_text().replace("&#43;", "+")
    code, _, err = cli("explain", plate, "--point", "6", "--html", plate / "page.html")
    assert code == 2
    assert "cannot be written" in err
    steel = pd.read_parquet(plate.parent / "results" / "steel.parquet")
    value = steel[(steel["point"] == "6") & (steel["layer"] == "bottom x")][REQUIRED].iloc[0]
    assert f"{value:.1f}"[:4] in out
    assert cli("explain", plate, "--point", "77")[::2] == (
        2, f"--point: {plate} has no point '77'; a point is named like plate/1\n"
    )  # fmt: skip
    assert "there are U1" in cli("explain", plate, "--point", "6", "--combination", "S1")[2]
    plate.write_text(plate.read_text().replace("cover_top = 30", "cover_top = 35"))
    code, _, err = cli("explain", plate, "--point", "6")
    assert code == 2
    assert "have changed since" in err


def test_new_writes_a_job_that_loads_and_does_not_overwrite(cli, tmp_path):
    from sandwich import load_job

    code, out, _ = cli("new", tmp_path / "job")
    assert code == 0
    assert "sandwich run" in out
    assert load_job(tmp_path / "job" / "job.toml").zones["slab"].bars.cover_bottom == 30.0
    code, _, err = cli("new", tmp_path / "job")
    assert code == 2
    assert "is there already" in err


def test_as_a_process(plate):
    done = subprocess.run(
        [sys.executable, "-m", "sandwich", "run", plate.parent / "none.toml"],
        capture_output=True,
        text=True,
        check=False,
    )
    assert (done.returncode, done.stdout) == (2, "")
    assert done.stderr == f"{plate.parent / 'none.toml'}: no such file; give the path of a job file\n"
    version = subprocess.run(
        [sys.executable, "-m", "sandwich", "--version"], capture_output=True, text=True, check=True
    )
    assert re.fullmatch(r"\d+\.\d+\.\d+\n", version.stdout)


def swap(name, old, new, count=1):
    def change(folder):
        path = folder / name
        assert old in path.read_text()
        path.write_text(path.read_text().replace(old, new, count))

    return change


def line(name, number, new):
    """Replace a line of a file, as an editor counts it; None removes it."""

    def change(folder):
        lines = (folder / name).read_text().splitlines()
        lines[number - 1 : number] = [] if new is None else [new]
        (folder / name).write_text("\n".join(lines) + "\n")

    return change


def append(name, text):
    return lambda folder: (folder / name).write_text((folder / name).read_text() + text)


BAD = {
    "missing column": (swap("resultants.csv", "mxy", "twist"), ["resultants.csv, header", "no column 'mxy'", "map one in"]),
    "unknown column mapping": (
        swap("job.toml", '"nodes.csv"', '{ file = "nodes.csv", columns = { x = "east", w = "y" } }'),
        ["input.nodes.columns.x", "has no column 'east'", "input.nodes.columns.w", "use one of node, x, y, z"],
    ),
    "unknown unit": (append("job.toml", '[input.units]\nmoment = "kN/m"\nshear = "blip"\n'),
                     ["input.units.moment", "is not a unit of moment", "a unit like 'kN*m/m' is", "input.units.shear", "'blip' is not a known unit"]),
    "nan and infinity": (
        lambda f: (line("resultants.csv", 5, "G,100,5,nan,0,0,0,0,0,0,0")(f), line("resultants.csv", 9, "G,101,6,0,inf,0,0,x,0,0,0")(f)),
        ["column nx, row 5", "column ny, row 9: found 'inf'", "column my, row 9: found 'x'", "give a finite number"],
    ),
    "repeated row of a case that nothing takes": (
        append("resultants.csv", 2 * "X,100,1,0,0,0,0,0,0,0,0\n"), ["row 75", "repeats case X, element 100, node 1"],
    ),
    "repeated row": (append("resultants.csv", "G,100,1,0,0,0,0,0,0,0,0\n"), ["row 74", "repeats case G, element 100, node 1"]),
    "missing row": (line("resultants.csv", 3, None), ["no row for case G, element 100, node 5", "export every corner"]),
    "element naming no node": (line("elements.csv", 2, "100,1,5,6,99,0.25,a"), ["elements.csv, row 2, column n4", "names node 99"]),
    "result of no element": (append("resultants.csv", "G,900,1,0,0,0,0,0,0,0,0\n"), ["row 74", "element 900 is not in the mesh"]),
    "zone without elements": (swap("job.toml", '["a"]', '["b"]'), ["zones.plate.groups", "no element is in group 'b'", "have a"]),
    "missing thickness": (line("elements.csv", 2, "100,1,5,6,2,,a"), ["column thickness, row 2", "found empty"]),
    "no thickness at all": (lambda f: [line("elements.csv", i + 2, f"{100 + i},{r},a")(f) for i, r in enumerate([])] or
                            (f / "elements.csv").write_text(re.sub(",0.25|,thickness", "", (f / "elements.csv").read_text())),
                            ["zones.plate", "element 100 and 8 more has no thickness", "thickness in mm"]),
    "bar axis outside": (swap("job.toml", "cover_top = 30", "cover_top = 120"), ["zones.plate.bars", "top x bar axis", "past mid-depth"]),
    "combination naming no case": (swap("job.toml", "Q = 1.5", "W = 1.5"), ["'U1'", "names case 'W', which has no results", "G, Q"]),
    "unwritable folder": (append("job.toml", '[output]\nfolder = "nodes.csv/out"\n'), ["cannot be written", "name another folder"]),
    "broken toml": (append("job.toml", "[zones.x\n"), ["is not valid TOML", "line"]),
    "empty table": (lambda f: (f / "nodes.csv").write_text("node,x,y,z\n"), ["nodes.csv", "has a header and no rows"]),
    "empty file": (lambda f: (f / "nodes.csv").write_text(""), ["nodes.csv", "is empty"]),
    "no such table": (swap("job.toml", '"nodes.csv"', '"knots.csv"'), ["knots.csv", "no such file"]),
    "misspelt keys": (lambda f: (swap("job.toml", "f_ck", "f_kc")(f), swap("job.toml", "cover_top", "cover_tpo")(f)),
                      ["zones.plate.f_kc", "did you mean 'f_yk' or 'f_ck'?", "zones.plate.bars.cover_tpo", "'cover_top'"]),
    "impossible values": (lambda f: (swap("job.toml", "f_ck = 30", "f_ck = 3")(f), swap("job.toml", '"persistent"', '"always"')(f)),
                          ["f_ck = 3 MPa", "12 to 90", "combinations.0.situation", "'always'", "accidental"]),
}  # fmt: skip


@pytest.mark.parametrize("name", BAD)
def test_bad_input(name, cli, plate):
    change, words = BAD[name]
    change(plate.parent)
    code, out, err = cli("run", plate)
    assert code == 2
    assert out == ""
    for word in words:
        assert word in err
    assert "Traceback" not in err
    assert not (plate.parent / "results").exists()


def test_bare_table_with_declared_columns_units_and_signs(cli, tmp_path):
    (tmp_path / "forces.csv").write_text(
        "load,place,nx,ny,nxy,mx,my,mxy,vx,vy\nA,p1,10,0,0,-7.5,0,0,0,0\nA,p2,0,0,20,0,0,0,0,0\n"
    )
    (tmp_path / "job.toml").write_text(
        """title = "Bare"
[input]
resultants = { file = "forces.csv", columns = { case = "load", point = "place" } }
[input.units]
membrane = "kip/ft"
moment = "kip*ft/ft"
[input.signs]
positive_moment_tension = "top"
[zones.all]
thickness = 250
bars = { cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12 }
[[combinations]]
name = "A"
situation = "accidental"
factors = { A = 1.0 }
"""
    )
    assert cli("run", tmp_path / "job.toml")[0] == 0
    steel = pd.read_parquet(tmp_path / "results" / "steel.parquet").set_index(["point", "layer"])[REQUIRED]
    kip = 4448.2216152605
    n, m = 10 * kip / 304.8, 7.5 * kip * 1.0
    alone = design_points([[n, 0, 0, m, 0, 0, 0, 0]], Section(250.0, BarLayers(30, 30, 12, 12)), situation="accidental")
    assert_allclose(steel["p1"].to_numpy(), alone.steel[REQUIRED], rtol=1e-5, atol=1e-6)
    # accidental: f_yd = 500 MPa, shear alone needs |nxy| both ways
    assert steel["p2"][["bottom x", "top x"]].sum() == pytest.approx(20 * kip / 304.8 / 500 * 1e3, rel=1e-5)


def test_any_block_size_and_any_number_of_workers_give_the_same_bytes(plate, monkeypatch):
    from sandwich.design import ultimate

    whole = run_job(plate, pictures=False).steel
    original = ultimate.design_ultimate
    monkeypatch.setattr(
        "sandwich.stages.ultimate.design_ultimate", lambda *a, **k: original(*a, **{**k, "workers": 3, "block": 5})
    )
    pd.testing.assert_frame_equal(run_job(plate, pictures=False).steel, whole, check_exact=True)


def test_parts_and_failures_are_said(cli, tmp_path):
    job = write_plate(tmp_path)
    text = job.read_text()
    job.write_text(text.replace("f_yk = 500", 'f_yk = 500\nmethod = "plate"'))
    out = cli("run", job, "--no-pictures")[1]
    assert "membrane force neglected" in out
    assert "Certified is a part of the resultants in plate: the moments alone" in out
    job.write_text(text.replace("f_yk = 500", 'f_yk = 500\nmethod = "membrane"'))
    assert "moment neglected" in cli("run", job, "--no-pictures")[1]
    job.write_text(
        text.replace("diameter_y = 12", 'diameter_y = 12, layout = "bottom"').replace(
            "f_yk = 500", 'f_yk = 500\nfaces = { top = "upper" }'
        )
    )
    code, out, _ = cli("run", job)
    assert code == 0
    assert "Points that fail" in out
    assert "points fail, without steel; points with steel and without a stress field: 0" in out
    page = (tmp_path / "results" / "report.html").read_text()
    assert re.search(r"<td>design</td>.*>fails</td>.*tension where there is no upper y bar", page)
    assert "tension where there is no upper y bar" in out
    steel = pd.read_parquet(tmp_path / "results" / "steel.parquet")
    assert steel.loc[steel["status"] != "ok", REQUIRED].isna().all()
    assert (steel["status"] != "ok").any()
    checks = pd.read_parquet(tmp_path / "results" / "checks.parquet")
    failing = checks["point"].isin(steel.loc[steel["status"] != "ok", "point"]) & (
        checks["check"] != "equilibrium stress field"
    )
    assert set(checks.loc[failing, "status"]) == {"not checked: the point fails"}
    assert checks.loc[failing, "utilisation"].isna().all()
    assert "no stress field" in cli("explain", job, "--point", "6")[1]
    assert json.loads((tmp_path / "results" / "record.json").read_text())["standard"].startswith("EN 1992")
