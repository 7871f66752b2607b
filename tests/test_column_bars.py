"""Bars over and through columns: uniform fields by hand, three standards, settings without a rule."""

import math

import numpy as np
import pytest

from conftest import PLATE, write_plate
from sandwich import InputError, explain_point, run_job
from sandwich.stages.column_bars import band_row
from sandwich.standards.interface import Near
from sandwich.work.column_bars import Band
from test_schedule import up

PLACES = [(x, y) for x in (3, 6, 9) for y in (3, 6, 9)]
RULE = "rule = { diameters = [10, 12, 14, 16], spacing_min = 100, spacing_max = 200, spacing_step = 25 }\n"
TENTH = 10**2 * math.pi / 4 / 0.2  # mm2/m of 10/200


def mesh(diameter, spacing):
    layers = (f'"{f} {w}" = {{ diameter = {diameter}, spacing = {spacing} }}' for f in ("bottom", "top") for w in "xy")
    return f"provided = {{ {', '.join(layers)} }}\n"


def slab(folder, column_bars, *, bars=RULE, standard="EN 1992-1-1:2004", force="{ G = 100, Q = 50 }", at=PLACES):
    """A run of a plate of 12 m with columns, whose resultants are the same everywhere."""
    folder.mkdir()
    path = write_plate(folder, 12)
    results = folder / "resultants.csv"
    for factor in (1.0, 0.5):
        old, new = (60, -40, 30, 35, -20, 12, 25, 10), (0, 0, 0, -35, -25, 0, 25, 10)
        both = (",".join(f"{factor * v:g}" for v in values) for values in (old, new))
        results.write_text(results.read_text().replace(*both))
    places = ", ".join(f"[{x}, {y}, 0]" for x, y in at)
    zone = f"thickness = 250\n{bars}column_bars = {column_bars}\n[zones.plate]"
    text = PLATE.replace("[zones.plate]", f'[design]\nstandard = "{standard}"\n[zones.plate]')
    text = text.replace("f_ck = 30\n", f"f_ck = 30\n{zone.removesuffix('[zones.plate]')}")
    if at:
        text += f'[punching.c]\nzone = "plate"\nat = [{places}]\nc1 = 400\nc2 = 400\nforce = {force}\n'
    path.write_text(text)
    result = run_job(path, pictures=False)
    return result, result.frame("column bars") if "column bars" in result.tables else None


def test_half_of_the_top_bars_of_a_panel_lie_in_a_quarter_of_it(tmp_path):
    """The same steel everywhere: twice as much over a column, whatever its panels; only where columns follow."""
    result, found = slab(tmp_path / "a", "{}")
    top = found[found["check"] == "top bars near the column"].set_index(["layer", "column"])
    names = {place: f"c {i + 1}" for i, place in enumerate(PLACES)}
    steel = result.frame("steel").set_index(["layer", "point"])
    xyz = result.frame("points").set_index("point")[["x [m]", "y [m]"]]
    for layer, across in (("top x", 1), ("top y", 0)):
        own = steel.loc[layer]["by strength [mm2/m]"].max()
        inside = [names[p] for p in PLACES if p[across] == 6]
        assert own > 0
        assert sorted(top.loc[layer].index) == sorted(inside)
        np.testing.assert_allclose(top.loc[layer]["demand"], 2 * own, rtol=1e-6)
        np.testing.assert_allclose(top.loc[layer]["width [mm]"], 0.25 * 3000)
        np.testing.assert_allclose(top.loc[layer]["panels [mm2]"], 3 * own, rtol=1e-6)
        assert (top.loc[layer]["utilisation"] <= 1).all()
        required = steel.loc[layer]["required [mm2/m]"]
        raised = required.index[required >= 2 * own * (1 - 1e-9)]
        off = (xyz.loc[raised].iloc[:, across] - 6).abs()
        assert 0 < len(raised) < len(required)
        assert off.max() <= 0.375 + 0.5
        assert set(steel.loc[layer].loc[raised]["governed by"]) == {"bars raised for shear, punching or columns"}
    # a worked point opens its bars to the clause
    sheet = explain_point(tmp_path / "a" / "job.toml", raised[0])
    step = next(s for heading, s in sheet.steps if heading == "Bars near columns")
    assert step.source == "9.4.1(2)"
    assert {q.symbol: q.value for q in step.given} == pytest.approx({"A_t": 3 * own, "b": 750})
    assert {q.symbol: q.value for q in sheet.answer}[step.results[0].symbol] == pytest.approx(2 * own)
    own = slab(tmp_path / "b", "{ panel = [4, 5] }")[1]
    other = own[own["check"] == "top bars near the column"].set_index("layer")
    assert len(other) == 18
    np.testing.assert_allclose(other.loc["top x", "width [mm]"], 0.25 * 5000)
    np.testing.assert_allclose(other.loc["top y", "width [mm]"], 0.25 * 4000)
    np.testing.assert_allclose(other["demand"].groupby("layer").first(), top["demand"].groupby("layer").first())
    # bars that are given stay as they are, and are told
    given, told = slab(tmp_path / "c", "{}", bars=mesh(10, 200))
    short = told[told["check"] == "top bars near the column"]
    np.testing.assert_allclose(short["capacity"], TENTH)
    np.testing.assert_allclose(short["utilisation"], short["demand"] / TENTH)
    over = short["utilisation"] > 1
    assert over.any()
    assert (short["status"].str.startswith("exceeded") == over).all()
    assert given.frame("bars")["status"].str.len().all()


def test_a_layout_over_a_mesh_that_is_given_has_them_too(tmp_path):
    """What the base mesh lacks over columns is laid in rectangles, and punching counts on both."""
    result, found = slab(tmp_path / "a", "{}", bars=f"{RULE}{mesh(14, 150)}layout = {{ module = 0.5 }}\n")
    top = found[found["check"] == "top bars near the column"]
    assert (top["demand"] > 14**2 * math.pi / 4 / 0.15).all()
    assert (top["utilisation"] <= 1.0).all()
    assert (result.frame("layout")["place"] != "base").any()
    punching = result.frame("punching")
    assert set(punching["bars over it"]) == {"provided"}
    alone = slab(tmp_path / "b", "{}", bars=mesh(14, 150))[0].frame("punching")
    assert punching["v_Rd,c [MPa]"].max() > alone["v_Rd,c [MPa]"].max() * 1.03


def test_two_bottom_bars_pass_through_each_column(tmp_path):
    """A column of 400 mm surely has one bar of a mesh of 200 mm in it, and two of one of 150 mm."""
    over = 500 / 1.15 / 4 / (2.25 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)  # good bond
    for spacing, added in ((200, 1), (150, 0), (350, 2)):
        result, found = slab(tmp_path / f"{spacing}", "{}", bars=mesh(10, spacing))
        through = found[found["check"] == "bottom bars through the column"]
        assert len(through) == 2 * len(PLACES)
        assert set(through["added bars"]) == {added}
        assert (through["capacity"] == 2).all()
        rows = result.frame("bar schedule")
        rows = rows[rows["place"] == "through columns"].set_index("layer")
        assert sorted(rows.index) == (["bottom x", "bottom y"] if added else [])
        if added:
            assert (rows["number of bars"] == added * len(PLACES)).all()
            alpha = max(1 - 0.15 * (30 - 10) / 10, 0.7)
            assert set(rows["length [m]"]) == {up(400 + 2 * alpha * over * 10) / 1e3}
            assert (rows["mark"] > 0).all()
    assert slab(tmp_path / "none", "{ through = false }")[1]["check"].nunique() == 1


@pytest.mark.parametrize(("standard", "phi", "through"), [("ACI 318-19", 0.9, True), ("IS 456:2000", 0.87, False)])
def test_bars_near_a_column_take_their_part_of_the_moment(tmp_path, standard, phi, through):
    """Of a square column six tenths, within one and a half thicknesses on either side."""
    result, found = slab(tmp_path / "a", "{}", standard=standard, bars=mesh(12, 200), force='"integrated"', at=[(6, 6)])
    moment = found[found["check"] == "moment to the column by flexure"].set_index("layer")
    punching = result.frame("punching").iloc[0]
    assert len(moment) >= 2
    np.testing.assert_allclose(moment["width [mm]"], 400 + 3 * 250)
    for layer, along in (("top x", "V e along c1 [kNm]"), ("top y", "V e across [kNm]")):
        row = moment.loc[layer]
        assert row["moment [kNm]"] >= abs(punching[along]) * (1 - 1e-9)
        d = 250 - 30 - (6 if layer == "top x" else 18)
        a_s = 0.6 * row["moment [kNm]"] * 1e6 / (0.9 * d * phi * 500)
        assert row["demand"] == pytest.approx(a_s / 1.15, rel=1e-6)
    assert ("bottom bars through the column" in set(found["check"])) == through


@pytest.mark.parametrize(("place", "width"), [((6, 0.5), 400 + 700), ((0.5, 0.5), 700 + 350)])
def test_bars_across_an_edge_take_the_moment_of_its_column(tmp_path, place, width):
    """EN 1992-1-1, figure 9.9: y from the edge to the innermost face; at a corner the slab ends before y/2."""
    result, found = slab(tmp_path / "a", "{}", bars=mesh(12, 200), force='"integrated"', at=[place])
    moment = found[found["check"] == "moment to the column by flexure"].set_index("layer")
    faces = {"bottom", "top"} if place == (0.5, 0.5) else {str(k).split()[0] for k in moment.index}
    across = {"y"} if place[0] == 6 else {"x", "y"}
    assert {str(k).split()[1] for k in moment.index} == across
    assert {str(k).split()[0] for k in moment.index} <= faces
    punching = result.frame("punching").iloc[0]
    for layer, row in moment.iterrows():
        own = abs(punching["V e along c1 [kNm]" if layer.endswith("x") else "V e across [kNm]"])
        d = 250 - 30 - (6 if layer.endswith("x") else 18)
        assert row["clause"] == "9.4.2(1)"
        assert row["width [mm]"] == pytest.approx(width, abs=2)
        assert row["moment [kNm]"] >= own * (1 - 1e-9)
        steel = row["moment [kNm]"] * 1e6 / (0.9 * d * 500 / 1.15) / row["width [mm]"] * 1e3
        assert row["demand"] == pytest.approx(steel, rel=1e-6)


def test_bars_askew_of_an_edge_leave_a_row_that_says_so(tmp_path):
    """Up to 25 degrees they count as bars across it; a standard that goes by no edge is not asked about one."""
    bars = mesh(12, 200) + "direction = { along = 'vector', vector = [1, 0, 0], angle = ANGLE }\n"
    common = {"force": '"integrated"', "at": [(6, 0.5)]}
    for angle, lost in ((20, False), (40, True)):
        result, found = slab(
            tmp_path / str(angle), "{ through = false }", bars=bars.replace("ANGLE", str(angle)), **common
        )
        assert list(found["status"].str.startswith("not checked: bars are askew")) == [lost] * len(found)
        assert found["moment [kNm]"].gt(0).all()
        assert found["demand"].isna().all() == lost
        told = [t.text for o in result.project.outcomes.values() for t in o.verdict]
        assert any("1 not checked" in str(t) for t in told) == lost
    _, found = slab(tmp_path / "aci", "{}", bars=bars.replace("ANGLE", "40"), standard="ACI 318-19", **common)
    assert not found["status"].str.startswith("not checked").any()


def test_a_band_ends_at_the_edge_of_the_slab(tmp_path):
    """500 mm from an edge: the same moment in what there is of the width."""
    _, found = slab(
        tmp_path / "a", "{}", standard="ACI 318-19", bars=mesh(12, 200), force='"integrated"', at=[(6, 0.5)]
    )
    moment = found[found["check"] == "moment to the column by flexure"].set_index("layer")
    assert moment.loc["bottom x", "width [mm]"] == pytest.approx(500 + (400 + 3 * 250) / 2, abs=2)
    assert moment.loc["bottom y", "width [mm]"] == pytest.approx(400 + 3 * 250)
    x, y = 400 + 208, 400 + 104 + 300  # the critical section runs to the edge
    for layer, d, ratio in (("bottom x", 214, x / y), ("bottom y", 202, y / x)):
        row = moment.loc[layer]
        steel = row["moment [kNm]"] * 1e6 / (0.9 * d * 0.9 * 500) / row["width [mm]"] * 1e3
        assert row["demand"] == pytest.approx(steel / (1 + 2 / 3 * math.sqrt(ratio)), rel=1e-3)


def test_flexure_takes_more_where_it_is_asked_for(tmp_path, cli):
    """ACI 318-19, 8.4.2.2.4: bars for all of M_sc at edges and 1.25 gamma_f of it inside, and less of it in shear."""
    common = {"standard": "ACI 318-19", "bars": mesh(12, 150), "at": [(0.2, 6), (6, 6)]}
    runs = [slab(tmp_path / str(i), "{}", force=f'"integrated"\n{more}', **common)
            for i, more in enumerate(("", "modified_gamma_f = true"))]  # fmt: skip
    usual, found = (f[f["check"].str.startswith("moment")].set_index(["column", "layer"]) for _, f in runs)
    d = {"x": 214, "y": 202}
    for at, row in found.iterrows():
        per_moment = 1e9 / (0.9 * d[at[1][-1]] * 0.9 * 500 * row["width [mm]"])
        part = 1.0 if at[0] == "c 1" else 1.25 * 0.6
        assert row["demand"] == pytest.approx(part * row["moment [kNm]"] * per_moment, rel=1e-3)
        assert row["demand"] > usual.loc[at, "demand"]
    before, after = (r.frame("punching").set_index("loaded area") for r, _ in runs)
    assert (after["v_Ed [MPa]"] < before["v_Ed [MPa]"]).all()
    c = after.loc["c 1"]  # across the edge by flexure alone
    mean = abs(c["V [kN]"]) * 1e3 / (c["perimeter [mm]"] * c["d [mm]"])
    assert mean <= c["v_Ed [MPa]"] < 0.5 * before.loc["c 1", "v_Ed [MPa]"]
    assert "ACI 318-19, Table 8.4.2.2.4" in cli("explain", tmp_path / "1" / "job.toml", "--punching", "c 1")[1]
    asked = (tmp_path / "1" / "job.toml").read_text()
    for old, new, wanted in (
        ("column_bars = {}\n", "", "give zones.plate.column_bars"),
        ("ACI 318-19", "IS 456:2000", "has one part of a moment for flexure"),
        ('force = "integrated"', "beta = 1.2", "modified_gamma_f goes with columns without beta"),
    ):
        assert old in asked
        (tmp_path / "1" / "job.toml").write_text(asked.replace(old, new))
        with pytest.raises(InputError, match=wanted):
            run_job(tmp_path / "1" / "job.toml", pictures=False)


def test_a_panel_with_a_point_that_fails_is_not_checked():
    """Its steel is not known, and less than all of a panel is no answer."""
    rule = Near(1000.0, 1000.0, "9.4.1(2)")
    needs, there = np.array([1.0, np.nan, 2.0]), np.array([4.0, 4.0, 4.0])
    band = Band("c", 2, "top bars near the column", needs * 2e3, rule, (0.0, 1.0), np.zeros((3, 2)), needs)
    row = band_row("slab", band, "top x", there, needs / there)
    assert row["status"] == "not checked: a point of the panels beside it fails"
    assert np.isnan(row["utilisation"])


def test_settings_without_a_rule_are_refused(tmp_path):
    with pytest.raises(InputError, match="no column stands on the zone"):
        slab(tmp_path / "a", "{}", at=[])
    with pytest.raises(InputError, match=r"column_bars\.through.*has no use for it"):
        slab(tmp_path / "b", "{ through = true }", standard="IS 456:2000")
    with pytest.raises(InputError, match=r"column_bars\.panel.*has no use for it"):
        slab(tmp_path / "c", "{ panel = [5, 5] }", standard="ACI 318-19")
    with pytest.raises(InputError, match="column_bars go by bars"):
        slab(tmp_path / "d", "{}", bars="")
    result, found = slab(tmp_path / "e", "{ through = false }", at=[(6, 6)])
    assert found is None
    assert any("asks for nothing" in str(w.text) for w in result.warnings)
