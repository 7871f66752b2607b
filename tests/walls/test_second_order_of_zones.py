"""Walls designed point by point with imperfection and second order: by hand, from the job file to the tables."""

import math

import numpy as np
import pandas as pd
import pytest

from sandwich import InputError, Section, design_points, explain_point, run_job, try_job
from sandwich.core.section import BarLayers

JOB = """title = "Strip of a wall"
[design]
standard = "{standard}"
[input]
resultants = "r.csv"
[zones.wall]
thickness = {h}
minimum_eccentricity = false
bars = {{ cover_bottom = 30, cover_top = 30, diameter_x = 8, diameter_y = 10 }}
{more}
[[combinations]]
name = "U"
situation = "persistent"
factors = {{ G = 1.35, Q = 1.5 }}
[[combinations]]
name = "QP"
situation = "quasi-permanent"
factors = {{ G = 1.0 }}
"""
ROWS = """case,point,nx,ny,nxy,mx,my,mxy,vx,vy
G,bent,0,-200,0,0,10,0,0,0
Q,bent,0,-40,0,0,-20,0,0,0
G,even,0,-200,0,0,0,0,0,0
Q,even,0,-40,0,0,0,0,0,0
G,pulled,0,100,0,0,5,0,0,0
Q,pulled,0,20,0,0,5,0,0,0
"""


def wall(folder, h=200, more="second_order = { effective_length = 5.0 }", standard="EN 1992-1-1:2004", rows=ROWS):
    folder.mkdir(exist_ok=True)
    (folder / "r.csv").write_text(rows)
    (folder / "job.toml").write_text(JOB.format(h=h, more=more, standard=standard))
    return folder / "job.toml"


def required(result):
    return result.frame("steel").pivot(index="point", columns="layer", values="required [mm2/m]")


def test_points_by_themselves_are_as_those_of_a_job(tmp_path):
    """The same resultants through the Python door."""
    steel = required(run_job(wall(tmp_path), pictures=False))
    of = {"bent": (-200 * 1.35 - 60, 13.5 - 30), "even": (-330, 0), "pulled": (165, 14.25)}
    rows = [[0, of[p][0], 0, 0, 1e3 * of[p][1], 0, 0, 0] for p in steel.index]
    bars = BarLayers(30.0, 30.0, 8.0, 10.0)
    section = Section(200.0, bars=bars)
    found = design_points(rows, section, effective_length=5000.0, minimum_eccentricity=False).steel
    own = found.assign(point=[steel.index[int(p) - 1] for p in found["point"]])
    own = own.pivot(index="point", columns="layer", values="required [mm2/m]")
    pd.testing.assert_frame_equal(own[list(steel)], steel, rtol=1e-9, check_names=False)
    with pytest.raises(ValueError, match="effective_length"):
        design_points(rows, section, effective_length=-1.0)
    with pytest.raises(ValueError, match="membrane"):
        design_points(rows, section, effective_length=5000.0, method="membrane")


def test_moments_by_hand_reach_the_bars_of_both_faces(tmp_path):
    steel = required(run_job(wall(tmp_path / "a"), pictures=False))
    # EN: l_0 5.0, lambda 86.6 over the limit, e_i 12.5, e_2 with K_r = 1 and the creep of lambda
    P, M = 1.35 * 200e3 + 1.5 * 40e3, abs(1.35 * 10e6 - 1.5 * 20e6)
    d, slim = 200 - 30 - 8 - 5, 5000 * math.sqrt(12) / 200
    e_2 = max(1, 1 + (0.35 + 0.15 - slim / 150) * 2) * (500 / 1.15 / 200e3) / (0.45 * d) * 5000**2 / 10
    bent, even = (
        max(M + P * 12.5, P * 20) + P * e_2,
        P * (0.6 * 20 + 0.4 * 12.5) + P * e_2,
    )  # the minimum eccentricity is in the larger
    rows = rows_of(P, {"bent +": -bent, "bent -": bent - 2 * M, "even": even, "even -": -even})
    plain = required(run_job(wall(tmp_path / "b", more="", rows=rows), pictures=False))
    by_hand = np.maximum(plain.loc["bent +"], plain.loc["bent -"])
    assert np.allclose(steel.loc["bent"], by_hand, rtol=1e-6, atol=1e-6)
    assert by_hand["top y"] > 100.0
    assert np.allclose(steel.loc["even"], np.maximum(plain.loc["even"], plain.loc["even -"]), rtol=1e-6, atol=1e-6)
    assert steel.loc["even", "bottom y"] > 5.0
    assert steel.loc["even", "bottom y"] == pytest.approx(steel.loc["even", "top y"], rel=1e-6)
    first = required(run_job(wall(tmp_path / "c", more=""), pictures=False))
    assert np.allclose(steel.loc["pulled"], first.loc["pulled"])
    assert (steel.loc["bent"] >= first.loc["bent"] - 1e-9).all()


def rows_of(P, moments):
    """Points under one axial force [N/m] with moments [N mm/mm] by name, spread over both cases."""
    return "case,point,nx,ny,nxy,mx,my,mxy,vx,vy\n" + "".join(
        f"{case},{name},0,{-P / 1e3 / f},0,0,{m / 1e6 / f},0,0,0\n"
        for name, m in moments.items()
        for case, f in (("G", 2.7), ("Q", 3.0))
    )


@pytest.mark.parametrize("standard", ["ACI 318-19", "IS 456:2000"])
def test_moments_of_other_standards_by_hand(tmp_path, standard):
    strong = ROWS.replace("0,-40,0,0,-20", "0,-40,0,0,-60")
    steel = required(run_job(wall(tmp_path / "a", standard=standard, rows=strong), pictures=False))
    P, M, h, l_e = 330e3, 76.5e6, 200.0, 5000.0
    if standard.startswith("ACI"):
        # k l/r = 83; E_c 4700 f_c'^(1/2), 0.4 E I/1.6, even moments and C_m = 1
        P_c = math.pi**2 * 0.4 * 4700 * math.sqrt(30) * 1000 * h**3 / 12 / 1.6 / l_e**2
        delta = 1 / (1 - P / (0.75 * P_c))
        bent, even = (delta * max(m, P * (15 + 0.03 * h)) for m in (M, 0.0))
        assert delta == pytest.approx(1.35, abs=0.01)
    else:
        # l_e/D = 25: P D/2000 (l_e/D)^2 more; least eccentricity l/500 + D/30, 20 mm or more
        more = P * h / 2000 * (l_e / h) ** 2
        bent, even = (max(m + more, P * 20) for m in (M, 0.0))
    moments = {"bent +": -bent, "bent -": bent - 2 * M, "even": even, "even -": -even}
    rows = rows_of(P, moments)
    plain = required(run_job(wall(tmp_path / "b", more="", rows=rows, standard=standard), pictures=False))
    for name in ("bent", "even"):
        pair = [n for n in moments if n.startswith(name)]
        assert np.allclose(steel.loc[name], plain.loc[pair].max(), rtol=1e-5, atol=1e-5)
    assert steel.loc["bent"].max() > 100.0


def test_it_is_explained_tried_and_taken_over(tmp_path):
    job = wall(tmp_path / "a")
    run_job(job, pictures=False)
    sheet = explain_point(job, "bent")
    steps = [step for _, step in sheet.steps]
    assert any(step.source.startswith("EN 1992-1-1:2004, 5.8.8") for step in steps)
    assert steps[0].title.startswith("Combination U bow")
    tried = try_job(job, {"zones.wall.thickness": "180"}).steel.set_index("layer")["maximum after [mm2/m]"]
    fresh = run_job(wall(tmp_path / "b", h=180), pictures=False).frame("steel").groupby("layer")["required [mm2/m]"]
    pd.testing.assert_series_equal(tried, fresh.max(), check_names=False, check_like=True, rtol=1e-9)
    again = run_job(job, pictures=False)
    assert "wall" in again.reused


@pytest.mark.parametrize(
    ("more", "standard", "told"),
    [
        ("second_order = { effective_length = 4.0, creep = 1.0 }", "ACI 318-19", "has no use for it; take it out"),
        ('method = "membrane"\nsecond_order = { effective_length = 4 }', "EN 1992-1-1:2004", "method = 'membrane'"),
    ],
)
def test_what_it_has_no_use_for_is_refused(tmp_path, more, standard, told):
    with pytest.raises(InputError, match=told):
        run_job(wall(tmp_path / "a", more=more, standard=standard), pictures=False)


def test_a_wall_beyond_the_limits_of_its_standard_is_told(tmp_path):
    job = wall(tmp_path / "a", more="second_order = { effective_length = 12.0 }", standard="ACI 318-19")
    found = run_job(job, pictures=False)
    assert any("buckle or pass a limit of 6.2.5, 6.6.4" in str(w) for w in found.warnings)
    assert (found.frame("steel").groupby("point")["required [mm2/m]"].count() == 0).any()


SEISMIC = """[[combinations]]
name = "E"
situation = "seismic"
factors = { G = 2.0, Q = 2.0 }
"""
SHEARED = "case,point,nx,ny,nxy,mx,my,mxy,vx,vy\nG,a,0,-300,40,0,4,0,0,0\nQ,a,0,0,60,0,2,0,0,0\n"


@pytest.mark.parametrize("bow", ["", "second_order = { effective_length = 5.0 }\n"])
def test_amplified_shear_of_seismic_combinations_is_that_of_results_amplified_by_hand(bow, tmp_path):
    """Only seismic combinations have it, with and without second order, in tables, calculation and trial."""
    own = wall(tmp_path / "a", more=f"{bow}shear_factor = 1.5\n" + SEISMIC, rows=SHEARED)
    result = run_job(own, pictures=False)
    other = SHEARED.replace(",40,", ",60,").replace(",60,0,2", ",90,0,2")
    by_hand = run_job(wall(tmp_path / "b", more=bow + SEISMIC, rows=other), pictures=False)
    steel = required(result)
    pd.testing.assert_frame_equal(steel, required(by_hand), rtol=1e-9)
    # persistent combinations keep their shear
    plain = run_job(wall(tmp_path / "c", more=bow, rows=SHEARED), pictures=False)
    with pytest.raises(InputError, match="shear_factor: there is no seismic combination for it"):
        run_job(wall(tmp_path / "d", more=f"{bow}shear_factor = 1.5\n", rows=SHEARED), pictures=False)
    assert required(plain).max().max() < steel.max().max()
    name = "E bow +" if bow else "E"
    steps = {s.title: s for _, s in explain_point(own, "a", combination=name).steps}
    assert [q.value for q in steps["In-plane shear of a seismic wall"].results] == [300.0]
    tried = try_job(own, {"zones.wall.thickness": "220"}).steel.set_index("layer")["maximum after [mm2/m]"]
    more = f"{bow}shear_factor = 1.5\n" + SEISMIC
    again = required(run_job(wall(tmp_path / "e", h=220, more=more, rows=SHEARED), pictures=False)).max()
    pd.testing.assert_series_equal(tried, again, check_names=False, check_like=True, rtol=1e-9)
