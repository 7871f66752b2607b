"""The service state of a job as a user asks for it: checks alone, worked crack, faults, a second run, the real wall."""

import re

import numpy as np
import pandas as pd
import pytest

from sandwich import check_job, explain_crack, explain_point, run_job
from sandwich.core.errors import InputError
from sandwich.core.shown import Shown
from sandwich.design.summary import peaks
from test_tendons import write

WISHES = 'service = { widths = { quasi-permanent = { bottom = 0.18, top = 0.3 } }, minimum_reinforcement = "bending", add_reinforcement = true }\n'


@pytest.fixture
def job(tmp_path):
    """A slab that cracks: half of the prestress of the tests of tendons, and twice the moment."""
    job = write(tmp_path)
    text = (
        job.read_text()
        .replace("G = 1.0, P = 0.9", "G = 2.5, P = 0.2")
        .replace('spacing = 100 }, "bottom y"', 'spacing = 75 }, "bottom y"')
    )
    job.write_text(text.partition("[tendons.t]")[0].replace("thickness = 500\n", f"thickness = 500\n{WISHES}"))
    return job


def test_one_requirement_in_table_map_headline_and_explanation(job):
    """Steel, maps and headline show the largest of strength, minimum steel and service; each stands beside it."""
    result = run_job(job, pictures=False)
    steel = result.steel
    parts = steel[["by strength [mm2/m]", "minimum [mm2/m]", "by service [mm2/m]", "ultimate [mm2/m]"]].max(axis=1)
    np.testing.assert_allclose(steel["required [mm2/m]"], parts)
    served = steel[steel["governed by"] == "service"]
    assert len(served)
    assert (served["required [mm2/m]"] == served["by service [mm2/m]"]).all()
    grown = result.service.steel.set_index(["point", "layer"])
    both = served.set_index(["point", "layer"])["required [mm2/m]"]
    at = grown.index.intersection(both.index)
    np.testing.assert_allclose(both[at], grown.loc[at, "before [mm2/m]"] + grown.loc[at, "added [mm2/m]"])
    maps = {name.removeprefix(f"{result.zones[0].name} "): f.describe(Shown()) for name, f in result.figures.items()}
    for row in peaks(steel).itertuples():
        own = steel[steel["layer"] == row.layer]["required [mm2/m]"]
        assert row._3 == own.max()
        if own.max() > 0.0:
            assert np.nanmax(maps[row.layer].values) == pytest.approx(own.max())
    worst = served.iloc[0]
    answer = {q.symbol: q.value for q in explain_point(job, worst["point"]).answer}
    assert answer[worst["layer"]] == pytest.approx(worst["required [mm2/m]"], rel=1e-9)


def test_widths_by_direction_and_by_situation(job):
    """Across skew cracks the limits of both directions count; a worked crack has the limit of its own situation."""
    wishes = "service = { widths = { quasi-permanent = { bottom = { x = 0.1, y = 0.3 }, top = 0.2 }, characteristic = 0.5 } }\n"
    text = job.read_text().replace(WISHES, wishes)
    for angle in (0, 35, 90):
        turned = f"vector = [{np.cos(np.radians(angle))}, {np.sin(np.radians(angle))}, 0]"
        job.write_text(re.sub(r"vector = \[.*?\]", turned, text))
        result = run_job(job, pictures=False)
        cracks = result.service.cracks.query("face == 'bottom'")
        quasi = cracks[
            cracks["combination"].isin([r.name for r in result.combinations.rows if r.situation == "quasi-permanent"])
        ]
        quasi = quasi[quasi["crack width [mm]"] > 0]
        normal = np.radians(quasi["normal of the crack from x [deg]"])
        assert len(quasi)
        assert {0: 0.1, 35: quasi["allowed [mm]"].iloc[0], 90: 0.3}[angle] == pytest.approx(
            quasi["allowed [mm]"].iloc[0]
        )
        assert (angle == 35) == bool(quasi["allowed [mm]"].between(0.11, 0.29).any())
        wanted = 1 / (np.cos(normal) ** 2 / 0.1 + np.sin(normal) ** 2 / 0.3)
        np.testing.assert_allclose(quasi["allowed [mm]"], wanted, rtol=1e-9)
    at = quasi.iloc[0]["point"]
    own = {q.symbol: q.value for q in explain_crack(job, at, combination="S2").sheet.answer}
    assert own["allowed"] == pytest.approx(0.5)
    assert own["utilisation"] == pytest.approx(own["crack width"] / 0.5)


def test_run_check_and_explanation_agree(job, cli):
    result = run_job(job, pictures=False)
    worst = result.service.cracks.iloc[0]
    assert worst["utilisation"] == pytest.approx(1.0, abs=0.01)  # steel was added up to the limit
    assert result.service.steel["layer"].unique().tolist() == ["bottom x"]
    assert result.bars[0].given.base[0].spacing == 75  # given bars stay as they are
    alone = check_job(job, pictures=False).service
    for name in ("cracks", "checks", "steel"):
        pd.testing.assert_frame_equal(getattr(alone, name), getattr(result.service, name))
    explained = explain_crack(job, worst["point"])
    answer = {q.symbol: q.value for q in explained.sheet.answer}
    assert answer["crack width"] == pytest.approx(worst["crack width [mm]"], rel=1e-9)
    assert answer["face"] == "bottom"
    clauses = " ".join(step.source for _, step in explained.sheet.steps)
    for clause in ("(7.8)", "(7.9)", "(7.10)", "(7.11)", "(7.13)", "(7.20)"):
        assert clause in clauses
    d = explained.section
    assert d.pressed[1] == 250.0
    assert d.effective[0] == -250.0
    # the drawing in balance: concrete along x and all bars carry the membrane force
    bars = sum(
        stress * np.pi * 36 / (75 if name == "bottom x" else 100)
        for z, _, name, stress, _ in d.bars
        if name.endswith("x")
    )
    added = result.service.steel.set_index("point").loc[worst["point"], "added [mm2/m]"] / 1e3
    bars += added * next(s for _, _, n, s, _ in d.bars if n == "bottom x")
    assert bars + np.trapezoid(d.concrete, d.z) == pytest.approx(-0.2 * 2000, rel=0.01)

    code, out, _ = cli("check", job, "--only", "stresses")
    assert code == 0
    assert "steel stress" in out
    assert "crack width" not in out
    assert (job.parent / "results" / "service" / "service.html").exists()
    page = job.parent / "crack.html"
    code, out, _ = cli("explain", job, "--point", worst["point"], "--crack", "--face", "top", "--html", page)
    assert code == 0
    assert "CRACK AT THE TOP" in out
    assert "data:image/png" in page.read_text()


def test_faults_and_second_run(job, cli):
    code, _, err = cli("check", job)
    assert code == 2
    assert "run the job first" in err
    run_job(job, pictures=False)
    store = job.parent / "results" / "store" / "slab+service.npz"
    made = store.stat().st_mtime_ns
    kept = run_job(job, pictures=False).service.cracks
    assert store.stat().st_mtime_ns == made
    for words, call in (
        ("no check 'welds'", lambda: check_job(job, "welds")),
        ("no face 'left'", lambda: explain_crack(job, "40", "left")),
        ("'S2' has no limit of width", lambda: explain_crack(job, "40", combination="S2")),
    ):
        with pytest.raises(InputError, match=re.escape(words)):
            call()
    text = job.read_text()
    job.write_text(text.replace('minimum_reinforcement = "bending"', "creep = 3.0"))
    assert not run_job(job, pictures=False).service.cracks.equals(kept)
    job.write_text(
        text.replace("quasi-permanent = {", "frequent = {")
        .replace("add_reinforcement = true", "add_reinforcement = true, water = { level = 3 }")
        .replace("[input]", '[design]\nstandard = "IS 456:2000"\n[input]')
    )
    code, _, err = cli("run", job)
    assert code == 2
    assert "no frequent combination" in err
    assert "has no rule of tightness" in err
    job.write_text(
        text.replace('situation = "quasi-permanent"', 'situation = "persistent"').replace(
            'situation = "characteristic"', 'situation = "persistent"'
        )
    )
    assert "no service combination" in cli("run", job)[2]
    assert 'use "characteristic"' in cli("run", write(job.parent, extra='decompression = "always"\n'))[2]


def test_report_maps_and_us_units(job):
    text = job.read_text().replace("thickness = 500\n", "thickness = 500\nf_yk = 420\n")
    text = text.replace(
        "widths = { quasi-permanent = { bottom = 0.18, top = 0.3 } }", "widths = { quasi-permanent = 0.05 }"
    )
    job.write_text(text + '\n[design]\nstandard = "ACI 318-19"\n[output]\nunits = "US"\ncsv = true\n')
    result = run_job(job)
    figures = {name.removeprefix(f"{result.zones[0].name} "): f for name, f in result.figures.items()}
    described = {name: f.describe(Shown("US")) for name, f in figures.items()}
    assert {"cracks bottom before", "cracks bottom", "added bottom x"} <= set(described)
    assert "cracks top" not in described  # nothing cracks there
    cracks = result.service.cracks
    worst = cracks[cracks["face"] == "bottom"]["crack width [mm]"].max()
    drawn = described["cracks bottom"]
    assert drawn.unit == "in"
    assert np.max(drawn.values) == pytest.approx(worst / 25.4, rel=1e-9)
    assert np.max(described["cracks bottom before"].values) > np.max(drawn.values)
    assert "widths allowed: quasi-permanent 0.001969 in;" in drawn.note
    # lines of the cracks across the span of the strip, at elements that crack
    lines = drawn.ticks[np.abs(drawn.ticks[:, 2:]).any(axis=1)]
    assert len(lines)
    assert np.abs(lines[:, 2]).max() < 1e-6 * np.abs(lines[:, 3]).max()
    page = (job.parent / "results" / "report.html").read_text()
    for words in (
        "Service state",
        "Frosch 1999",
        "24.3.2",
        "Steel added for the service state",
        "Too wide with the bars",
        "elastic bars",
    ):
        assert words in page
    assert re.search(r"modulus of the concrete \d+ psi", page)
    table = pd.read_csv(job.parent / "results" / "cracks.csv")
    assert table["crack width [in]"].max() == pytest.approx(cracks["crack width [mm]"].max() / 25.4, rel=1e-5)


def test_aci_without_a_width_limits_the_spacing(job):
    text = job.read_text().replace("widths = { quasi-permanent = { bottom = 0.18, top = 0.3 } }, ", "")
    text = text.replace("G = 1.5, P = 0.9", "G = 2.5, P = 0.2")
    job.write_text(text + '\n[design]\nstandard = "ACI 318-19"\n')
    result = run_job(job, pictures=False)
    checks = result.service.checks
    spacing = checks[checks["check"] == "crack control without calculation: bottom"]
    assert spacing["utilisation"].max() > 0.2
    assert (spacing["clause"] == "24.3.2").all()
    widths = result.service.cracks
    assert np.isinf(widths["allowed [mm]"]).all()
    assert widths["crack width [mm]"].max() > 0.0
    assert (widths["utilisation"] == 0.0).all()
    job.write_text(
        job.read_text().replace("spacing = 75", "spacing = 200").replace("G = 2.5, P = 0.2", "G = 2.0, P = 0.2")
    )
    sparse = run_job(job, pictures=False).service
    before = sparse.zones[0].before
    assert np.nanmax(before.simplified_use) > 1.0
    assert sparse.steel["layer"].unique().tolist() == ["bottom x"]
    spacing = sparse.checks[sparse.checks["check"] == "crack control without calculation: bottom"]
    assert 0.95 < spacing["utilisation"].max() <= 1.0 + 1e-6
    job.write_text(job.read_text().replace("add_reinforcement = true", "add_reinforcement = false"))
    left = run_job(job).service.checks
    assert (
        left[(left["check"] == "crack control without calculation: bottom") & (left["utilisation"] > 1.0)]["status"]
        == "exceeded"
    ).all()
    assert "characteristic no limit / no limit" in (job.parent / "results" / "report.html").read_text()


def test_a_bare_table_with_points_that_lack_bars(tmp_path, cli):
    rows = [
        "case,point,nx,ny,nxy,mx,my,mxy,vx,vy",
        "G,wall,0,400,0,0,0,0,0,0",
        "G,strip,700,0,0,12,0,0,0,0",
        "G,tied,300,0,0,0,0,0,0,0",
        "G,idle,-500,-500,0,0,0,0,0,0",
    ]
    (tmp_path / "forces.csv").write_text("\n".join(rows) + "\n")
    job = tmp_path / "job.toml"
    job.write_text(
        'title = "Bare"\n[input]\nresultants = "forces.csv"\n[zones.all]\nall = true\nthickness = 250\n'
        'provided = { "bottom x" = { diameter = 12, spacing = 150 }, "top x" = { diameter = 12, spacing = 150 } }\n'
        'service = { load_durations = ["long"], uncracked = "exempt" }\n'
        '[[combinations]]\nname = "U"\nsituation = "persistent"\nfactors = { G = 1.35 }\n'
        '[[combinations]]\nname = "Q"\nsituation = "quasi-permanent"\nfactors = { G = 1.0 }\n'
    )
    result = run_job(job)
    assert not (tmp_path / "results" / "maps").exists()
    cracks = result.service.cracks.set_index(["point", "face"])
    assert cracks.loc[("wall", "top"), "status"] == "not checked: no equilibrium: tension where no bars are (Q)"
    assert cracks.loc[("idle", "top"), "status"] == "no crack"
    assert cracks.loc[("tied", "top"), "status"] == "uncracked"
    assert cracks.loc[("strip", "bottom"), "loading"] == "long"
    assert cracks.loc[("strip", "bottom"), "crack width [mm]"] > cracks.loc[("strip", "top"), "crack width [mm]"] > 0.0
    assert cracks.index[0][0] == "wall"  # what was not checked comes first
    checks = result.service.checks
    assert (checks[checks["point"] == "wall"]["status"].str.startswith("not checked")).all()
    code, out, _ = cli("check", job)
    assert code == 0
    assert "1 point without a service state, not checked: no equilibrium: tension where no bars are." in out
    job.write_text(
        job.read_text().replace('load_durations = ["long"]', 'load_durations = ["long"], water = { level = 3 }')
    )
    assert "a bare table has no heights" in cli("run", job)[2]


def test_tendons_alone(tmp_path, cli):
    job = write(tmp_path)
    state = run_job(job, pictures=False).tendons
    code, out, _ = cli("check", job, "--only", "tendons")
    assert code == 0
    assert "t A" in out
    own = pd.read_parquet(tmp_path / "results" / "service" / "tendons.parquet")
    pd.testing.assert_frame_equal(own, state.tendons)
    assert "Concrete stress along each tendon" in (tmp_path / "results" / "service" / "service.html").read_text()
    assert "no zone asks for its service state" in cli("check", job, "--only", "cracks")[2]
