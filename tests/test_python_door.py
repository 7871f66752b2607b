"""The Python door: what is no word, number or kind of the design is refused; no value that is not finite goes on."""

import shutil
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import (
    BarLayers,
    BarLine,
    Concrete,
    Section,
    StaleError,
    Steel,
    cracked_section,
    design_points,
    explain_point,
    load_factor,
    run_job,
    try_job,
    wood_armer,
)
from sandwich.core.resultants import COMPONENTS
from sandwich.mechanics.cracked import NOT_FINITE, OK
from sandwich.project import project, store
from sandwich.stages import ultimate

LOAD = [100.0, -40.0, 30.0, 35e3, -20e3, 12e3, 25.0, 10.0]


@given(
    st.sampled_from(range(8)), st.sampled_from([np.nan, np.inf, -np.inf]), st.sampled_from(["sandwich", "plate", "membrane"]),
    st.booleans(), st.sampled_from([None, 1.5]), st.booleans(),
)  # fmt: skip
def test_no_value_that_is_not_finite_is_designed(column, value, method, joint, links, lines):
    bars = BarLayers(bottom=(BarLine(0.0), BarLine(60.0)), top=(BarLine(0.0), BarLine(60.0))) if lines else BarLayers()
    rows = np.array([[LOAD, LOAD], [LOAD, LOAD]])
    rows[0, 1, column] = value
    design = design_points(rows, Section(250.0, bars), method=method, joint=joint, links=links, minimum="slab")
    bad, good = (design.steel[design.steel["point"] == p] for p in ("1", "2"))
    assert bad["status"].str.startswith("fails: resultants that are not finite numbers (given 2)").all()
    assert bad["required [mm2/m]"].isna().all()
    assert good["status"].eq("ok").all()
    assert np.isfinite(good["required [mm2/m]"]).all()
    checks = design.checks[design.checks["point"] == "1"]
    assert checks[checks["check"] != "equilibrium stress field"]["utilisation"].isna().all()
    assert not checks["status"].isin(["ok"]).any()


@pytest.mark.parametrize("value", [np.nan, np.inf, -np.inf])
@pytest.mark.parametrize("angles", [None, [0.0, 1.0]])
def test_a_moment_that_is_no_number_has_no_wood_armer_moments(value, angles):
    for place in range(3):
        moments = np.array([[10.0, -5.0, 3.0]] * 2).T
        moments[place, 1] = value
        found = wood_armer(*moments, angles=angles)
        assert np.isfinite(found[:, 0]).all()
        assert np.isnan(found[:, 1]).all()


@pytest.mark.parametrize("value", [np.nan, np.inf, -np.inf, -1.0, 0.0, 1e300])
@pytest.mark.parametrize("name", ["h", "E_c", "E_s", "area", "angles", "resultants"])
def test_a_cracked_section_of_what_is_no_section_says_so_and_ends(name, value):
    own = {"resultants": [100.0, 0, 0, 5e4, 0, 0], "h": 200.0, "axes": [80.0, -80.0, 70.0, -70.0],
           "angles": [0.0, 0.0, 1.57, 1.57], "area": [0.5] * 4, "E_c": 11e3, "E_s": [2e5] * 4}  # fmt: skip
    own[name] = [value, *own[name][1:]] if isinstance(own[name], list) else value
    found = cracked_section(**own)
    least = {"h": 1e-9, "E_c": 1e-9, "E_s": 1e-9, "area": 0.0}.get(name, -np.inf)
    if not np.isfinite(value) or value < least:
        assert found.status == NOT_FINITE
    assert np.isfinite(found.strain).all() == (found.status == OK)


@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"h": np.nan}, "h = nan mm; a number from 1 to 100000 mm"), ({"h": -200.0}, "h = -200 mm"),
        ({"h": "200"}, "is a str"), ({"resultants": [np.inf, 0, 0, 0, 0, 0]}, "resultants = .*; finite numbers"),
        ({"resultants": [1.0, 2.0, 3.0]}, r"resultants has shape \(3,\)"), ({"e": [np.nan]}, "e = .*; finite numbers"),
        ({"angles": [0.0, 1.0]}, r"angles has shape \(2,\)"), ({"force": [-1.0]}, "zero or more"),
        ({"fc": 0.0}, "a strength above zero"), ({"fc": [20.0] * 39}, "or one a layer"), ({"layers": 0}, "layers = 0"),
        ({"layers": True}, "layers = True"), ({"compressed_bars": -0.1}, "compressed_bars = -0.1; a number from 0 to 1"),
    ],
)  # fmt: skip
def test_no_load_factor_of_what_is_no_section(changed, said):
    own = {"resultants": [100.0, 0, 0, 0, 0, 0], "h": 200.0, "e": [0.0], "angles": [0.0], "force": [250.0], "fc": 20.0}
    assert load_factor(**own).lower == pytest.approx(2.5)
    with pytest.raises((TypeError, ValueError), match=said):
        load_factor(**own | changed)


@pytest.mark.parametrize(
    ("wrong", "error", "said"),
    [
        (lambda: design_points([LOAD], Section(250.0), minimum="Slab"), ValueError, "minimum = 'Slab' is not known; 'slab' is near"),
        (lambda: design_points([LOAD], Section(250.0), minimum="walls"), ValueError, "'wall' is near"),
        (lambda: design_points([LOAD], Section(250.0), vertical="Y"), ValueError, "'y' is near"),
        (lambda: design_points([LOAD], Section(250.0), method="wood"), ValueError, "one of sandwich, plate, membrane"),
        (lambda: design_points([LOAD], Section(250.0), situation="ultimate"), ValueError, "one of persistent"),
        (lambda: design_points([LOAD], Section(250.0), links=2, standard="IS 456:2000"), ValueError, "struts of 45 degrees"),
        (lambda: design_points([LOAD], Section(250.0), links=0), ValueError, "cot_theta = 0; a number from 1 to 2.5"),
        (lambda: design_points([LOAD], Section(250.0), standard="ACI"), ValueError, "standard = 'ACI' is not known"),
        (lambda: design_points([LOAD], 250.0), TypeError, "a Section such as"),
        (lambda: Section(250.0, concrete=30), TypeError, "a Concrete such as"),
        (lambda: Section(250.0, bars=30), TypeError, "a BarLayers such as"),
        (lambda: Section(np.inf), ValueError, "h = inf"),
        (lambda: Section("250"), TypeError, "h = '250' is a str"),
        (lambda: Concrete(30.0, "Cube"), ValueError, "'cube' is near"),
        (lambda: Concrete(np.nan), ValueError, "f_ck = nan"),
        (lambda: Steel(True), TypeError, "a number is wanted"),
        (lambda: Steel(500.0, 200.0), ValueError, "E_s = 200 MPa"),
        (lambda: BarLayers(weight_x=np.inf), ValueError, "weight_x = inf"),
        (lambda: BarLine(0.0, weight=np.inf), ValueError, "weight = inf"),
        (lambda: BarLayers(outer="X"), ValueError, "'x' is near"),
        (lambda: BarLayers(bottom=(45.0,)), TypeError, "a BarLine such as"),
        (lambda: design_points(np.zeros((0, 8)), Section(250.0)), ValueError, "with a point or more"),
        (lambda: design_points([LOAD[:7]], Section(250.0)), ValueError, r"shape \(1, 1, 7\)"),
        (lambda: design_points([["a"] * 8], Section(250.0)), ValueError, "not all numbers"),
        (lambda: design_points(pd.DataFrame([LOAD[:7]], columns=COMPONENTS[:7]), Section(250.0)), ValueError, "no column vy"),
        (lambda: design_points(pd.DataFrame([LOAD] * 2, columns=COMPONENTS, index=["a", "a"]), Section(250.0)), ValueError, "stands twice"),
    ],
)  # fmt: skip
def test_what_is_not_known_is_refused(wrong, error, said):
    with pytest.raises(error, match=said):
        wrong()


def test_standards_come_by_name_and_every_name_of_the_door_is_there():
    import sandwich

    by_name, itself = (
        design_points([LOAD], Section(250.0, concrete=Concrete(30.0, "cube")), standard=s).ultimate.a_s
        for s in ("IS 456:2000", sandwich.IS456())
    )
    np.testing.assert_array_equal(by_name, itself)
    assert sandwich.standard_named("EN 1992-1-1:2004", "de").name != sandwich.EN1992.recommended().name
    for wrong in ({"parameters": "de"}, {"cracked": "EN 1992-2, 6.109"}):
        with pytest.raises(ValueError, match="ACI 318-19 has one set of values"):
            sandwich.standard_named("ACI 318-19", **wrong)
    with pytest.raises(ValueError, match=r"cracked = '6\.110' is not known"):
        sandwich.standard_named("EN 1992-1-1:2004", cracked="6.110")
    assert all(getattr(sandwich, name) is not None for name in sandwich.__all__)
    assert (Path(sandwich.__file__).parent / "py.typed").exists()


def test_results_say_shortly_what_they_are(plate):
    result = run_job(plate, pictures=False)
    assert repr(result).startswith("RunResult(Plate: 16 of 16 points certified; tables in ")
    assert "bottom x" in result._repr_html_()
    assert repr(design_points([LOAD], Section(250.0))) == (
        "PointDesign(1 points, 1 combinations, EN 1992-1-1:2004, recommended values)"
    )
    tried = try_job(plate, {"zones.plate.f_ck": "35"})
    assert repr(tried) == "Trial(zones.plate.f_ck = 35)"
    assert "bottom x" in tried._repr_html_()


def test_other_formulas_make_results_anew(plate, monkeypatch, tmp_path):
    run_job(plate, pictures=False)
    assert run_job(plate, pictures=False).reused == ("plate",)
    package = tmp_path / "sandwich"
    shutil.copytree(
        Path(store.__file__).parent.parent, package, ignore=shutil.ignore_patterns("__pycache__", "demo_data")
    )
    monkeypatch.setattr(store, "ROOT", package)
    assert store.formulas.__wrapped__() == store.formulas()
    for name in (
        "core/section.py",
        "work/bars.py",
        "stages/punching.py",
        "commands/check.py",
        "_version.py",
        "standards/en1992/shear.py",
    ):
        text = (package / name).read_text()
        (package / name).write_text(text + "\n")
        other = store.formulas.__wrapped__()
        assert other != store.formulas(), name
        (package / name).write_text(text)
    for module in (project, ultimate):
        monkeypatch.setattr(module, "formulas", lambda: other)
    with pytest.raises(StaleError, match="run the job again"):
        explain_point(plate, "1")
    assert run_job(plate, pictures=False).reused == ()
    assert explain_point(plate, "1").answer
