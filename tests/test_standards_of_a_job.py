"""A job under three standards and with every new setting, on the command line; and what bad settings get."""

import re

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import explain_point, run_job

REQUIRED = "required [mm2/m]"
STANDARDS = {"EN 1992-1-1:2004": "6.2.2", "ACI 318-19": "22.5.5", "IS 456:2000": "40.2"}


def changed(plate, zone="", more=""):
    text = plate.read_text()
    plate.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\n{zone}\n") + more)
    return text


@pytest.mark.parametrize("standard", STANDARDS)
def test_a_job_under_each_standard(standard, plate, cli):
    changed(plate, 'minimum = "slab"\nlinks = { cot_theta = 1.0 }', f'[design]\nstandard = "{standard}"\n')
    code, out, _ = cli("run", plate)
    assert code == 0
    assert "points certified" in " ".join(out.split())
    page = (plate.parent / "results" / "report.html").read_text()
    assert standard in page
    assert "Read into the standard" in page
    assert ("national annex" in page) == standard.startswith("EN")
    checks = pd.read_parquet(plate.parent / "results" / "checks.parquet")
    assert set(checks[checks["check"] == "shear without links"]["clause"].astype(str)) == {STANDARDS[standard]}
    steel = pd.read_parquet(plate.parent / "results" / "steel.parquet")
    worst = steel.loc[steel[REQUIRED].idxmax()]
    code, out, _ = cli("explain", plate, "--point", worst["point"])
    assert code == 0
    said = " ".join(out.split())
    assert standard in said
    found = re.search(rf"{worst['layer']} ([\d.]+) mm2/m", said)
    assert float(found[1]) == pytest.approx(worst[REQUIRED], rel=1e-3)


def test_cubes_are_cylinders_of_four_fifths(plate):
    by_cylinder = run_job(plate, pictures=False).steel
    text = plate.read_text()
    plate.write_text(text.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"'))
    assert_allclose(run_job(plate, pictures=False).steel[REQUIRED], by_cylinder[REQUIRED], rtol=1e-12)


def test_weights_and_joint_steel_reach_tables_and_summary(plate, cli):
    envelope = run_job(plate, pictures=False)
    text = changed(plate, "joint = true")
    joint = run_job(plate, pictures=False)
    assert "envelope [mm2/m]" in joint.steel
    assert_allclose(joint.steel["envelope [mm2/m]"], envelope.steel["by strength [mm2/m]"], rtol=1e-9, atol=1e-9)
    _, out, _ = cli("run", plate, "--no-pictures")
    assert "together saves against their envelope: plate" in " ".join(out.split())
    plate.write_text(text.replace("bars = { ", "bars = { weight_x = 4.0, "))
    dear = run_job(plate, pictures=False)
    by_layer = [r.steel.groupby("layer")["by strength [mm2/m]"].sum() for r in (envelope, dear)]
    assert by_layer[1]["bottom x"] <= by_layer[0]["bottom x"] * (1 + 1e-6)
    assert dear.certificate.failed == 0


def test_lines_of_bars_in_a_job(plate, cli):
    lines = "[{ angle = 0, diameter = 14 }, { angle = 60 }, { angle = 120 }]"
    plate.write_text(plate.read_text().replace("bars = { ", f"bars = {{ bottom = {lines}, top = {lines}, "))
    code, _, _ = cli("run", plate)
    assert code == 0
    steel = pd.read_parquet(plate.parent / "results" / "steel.parquet")
    assert set(steel["layer"]) == {f"{f} {d}" for f in ("bottom", "top") for d in ("x", "60 deg", "120 deg")}
    assert "bottom 60 deg 12" in (plate.parent / "results" / "report.html").read_text()
    point = str(steel.loc[steel[REQUIRED].idxmax(), "point"])
    sheet = explain_point(plate, point)
    assert_allclose([q.value for q in sheet.answer], steel[steel["point"].astype(str) == point][REQUIRED], rtol=1e-5)
    code, _, _ = cli("methods", plate)
    assert code == 0
    assert np.isfinite(pd.read_parquet(plate.parent / "results" / "methods.parquet")["sandwich [mm2/m]"]).all()


@pytest.mark.parametrize(
    ("zone", "more", "words"),
    [
        ('strength = "prism"', "", ("zones.plate.strength", "cube")),
        ("links = { cot_theta = 3.0 }", "", ("zones.plate.links.cot_theta", "2.5")),
        ("links = { cot_theta = 2.0 }", '[design]\nstandard = "ACI 318-19"\n', ("links.cot_theta", "45 degrees")),
        ("links = { raise_bars = 0.5 }", "", ("zones.plate.links.raise_bars", "1")),
        ("rule = { diameters = [] }", "", ("zones.plate.rule", "no diameter")),
        ("rule = { spacing_min = 200, spacing_max = 100 }", "", ("zones.plate.rule", "200 to 100")),
        ('provided = { "top x" = { diameter = 0, spacing = 100 } }', "", ("zones.plate.provided", "0")),
        ('additional = [{ layer = "top x", diameter = 8, spacing = 100, polygon = [[0,0,0],[1,0,0]] }]', "", ("three different",)),
        ('additional = [{ layer = "x", diameter = 8, spacing = 99, polygon = [[0,0,0],[1,0,0],[1,1,0]] }]', "", ("no layer 'x'", "bottom x")),
        ("", '[design]\nstandard = "IS 456"\n', ("design.standard", "IS 456:2000")),
        ("", '[design]\nstandard = "ACI 318-19"\nparameters = "own.toml"\n', ("no national values", "parameters")),
    ],
)  # fmt: skip
def test_bad_settings_are_named(zone, more, words, plate, cli):
    changed(plate, zone, more)
    code, out, err = cli("run", plate)
    assert (code, out) == (2, "")
    for word in words:
        assert word in err
    assert not (plate.parent / "results").exists()


def test_bad_layers_are_named(plate, cli):
    text = plate.read_text()
    for lines, words in (
        ("bottom = [{ angle = 0 }, { angle = 5 }]", "15 degrees apart"),
        ("top = [{ angle = 0, diametre = 5 }]", "diametre"),
        ("bottom = [{ angle = 400 }]", "angle = 400"),
        ("weight_x = 0", "weight_x"),
    ):
        plate.write_text(text.replace("bars = { ", f"bars = {{ {lines}, "))
        code, _, err = cli("run", plate)
        assert code == 2
        assert words in err
        assert "zones.plate.bars" in err


def test_remedies_stand_beside_what_is_exceeded(plate, cli):
    # a thin plate with bars on one face: points fail, and shear is too much where they do not
    text = plate.read_text()
    plate.write_text(text.replace("bars = { ", 'bars = { layout = "bottom", '))
    result = run_job(plate)
    assert len(result.failures)
    assert result.failures["remedy"].str.contains("bars on both faces").all()
    assert "bars on both faces" in (plate.parent / "results" / "report.html").read_text()
    _, out, _ = cli("run", plate, "--no-pictures")
    assert "remedy" in " ".join(out.split())
    plate.write_text(text)
    table = plate.parent / "resultants.csv"
    table.write_text(re.sub(r",25,10$", ",90,40", table.read_text(), flags=re.MULTILINE))
    result = run_job(plate)
    shear = result.exceeded[result.exceeded["check"] == "shear without links"]
    assert shear["remedy"].str.contains(r"links of \d+ mm2/m2").all()
    page = (plate.parent / "results" / "report.html").read_text()
    assert shear["remedy"].iloc[0] in page
    assert "Each remedy was found by designing the point with it" in page
    # the remedy named is one: with its links no check of shear is exceeded at that point
    plate.write_text(plate.read_text().replace("[zones.plate]\n", "[zones.plate]\nlinks = {}\n"))
    linked = run_job(plate, pictures=False)
    at = linked.frame("links").set_index("point").loc[shear["point"].iloc[0], "links [mm2/m2]"]
    assert f"links of {at:.0f} mm2/m2" in str(shear["remedy"].iloc[0])


def test_a_national_set_of_a_job(plate, cli):
    changed(plate, more='[design]\nparameters = "de"\n')
    assert cli("run", plate)[0] == 0
    page = (plate.parent / "results" / "report.html").read_text()
    assert "EN 1992-1-1:2004, values for Germany" in page
    assert "check them against the national annex" in page
    assert "The annex has a rule that these values do not hold: 9.2.1.1(1)" in page
    plate.write_text(plate.read_text().replace('"de"', '"dk"'))
    code, _, err = cli("run", plate)
    assert code == 2
    assert "or a TOML file of values" in " ".join(err.split())
