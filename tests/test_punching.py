"""Places of a job that may punch: forces against reactions, tables, raised bars, explanations, bad input."""

import math
import re

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import InputError, check_job, explain_loaded_area, explain_point, run_job
from sandwich.commands.start import copy_demo
from sandwich.core.errors import Faults
from sandwich.project.project import Project
from sandwich.stages.punching import PUNCHING
from sandwich.work.loaded_areas import loaded_areas

REQUIRED = "required [mm2/m]"


@pytest.fixture(scope="module")
def floor(tmp_path_factory):
    """The floor of the demo alone, on thinner columns."""
    job = copy_demo(tmp_path_factory.mktemp("punching") / "demo")
    text = re.sub(r"(?s)\[zones\.drum\].*?(?=\n# Kinds)", "", job.read_text())
    text = re.sub(r"(?m)^(rule|column_bars) = .*\n", "", text)
    text = text.replace("c1 = 400 ", "c1 = 200 ").replace("c2 = 400", "c2 = 200\nbeta = 1.5")
    job.write_text(text.replace("raise_bars = 1.5", "raise_bars = 3.0"))
    return job


@pytest.fixture(scope="module")
def ran(floor):
    return run_job(floor, pictures=True)


def test_forces_of_columns_are_those_of_their_reactions(floor):
    """By the resultants of the elements around a column, less the load on them; moments to the digits of the files."""
    places = loaded_areas(Project.of(floor).load(), Faults())
    assert len(places) == 8
    for p in places:
        names = p.chosen.names
        load = {"SW": 7.0, "FIN": 1.5, "QT": 5.0}  # kN/m2 on the terrace
        q = np.array([sum(f * load.get(c, 0.0) for c, f in p.chosen.row(n).factors.items()) for n in names])
        lost = (p.forces.V - p.other.V) / 1e3
        area = lost / np.where(np.abs(q) > 1.0, q, np.nan)
        assert np.nanmax(area) - np.nanmin(area) < 0.01  # one tributary area, whatever the combination
        assert 0.2 < np.nanmean(area) < 1.5
        assert_allclose(p.other.moment, p.forces.moment, atol=1e-4 * np.abs(p.forces.moment).max())


def test_a_slab_turned_over_has_the_same_columns(floor):
    """Its top looks down: the columns pull on the other face, eccentric to the same side."""
    text = floor.read_text()
    upright = loaded_areas(Project.of(floor).load(), Faults())
    floor.write_text(text.replace("towards = [0, 0, 1]", "towards = [0, 0, -1]"))
    over = loaded_areas(Project.of(floor).load(), Faults())
    floor.write_text(text)
    for a, b in zip(upright, over, strict=True):
        for one, other in ((a.forces, b.forces), (a.other, b.other)):
            assert_allclose(other.V, -one.V, rtol=1e-9)
            # the second axis turns over with the normal
            assert_allclose(other.moment, one.moment * [-1.0, 1.0], rtol=1e-6, atol=1e-6 * np.abs(one.moment).max())


def test_tables_picture_and_raised_bars(floor, ran):
    table = ran.frame("punching").set_index("loaded area")
    use = ran.frame("punching")[["utilisation", "utilisation at the face"]].max(axis=1)
    assert use.is_monotonic_decreasing
    raised = table[table["bars raised by"] > 1.0]
    assert len(raised)
    assert (raised["utilisation"] <= 1.0).all()
    linked = table[table["status"] == "links"]
    rows = ran.tables.get("punching perimeters")
    assert set(rows["loaded area"] if rows is not None else ()) == set(linked.index)
    assert (ran.folder / "maps" / "floor_punching.png").is_file()
    page = (ran.folder / "report.html").read_text()
    assert all(
        word in page for word in ("Perimeters of punching reinforcement" if len(linked) else "Punching", "columns 8")
    )
    floor.write_text(floor.read_text().replace("raise_bars = 3.0", "raise_bars = 1.0"))
    plain = run_job(floor, pictures=False)
    floor.write_text(floor.read_text().replace("raise_bars = 1.0", "raise_bars = 3.0"))
    before, after = (
        plain.steel.set_index(["point", "layer"])["ultimate [mm2/m]"],
        ran.steel.set_index(["point", "layer"])["ultimate [mm2/m]"],
    )
    more = after[after > before * (1 + 1e-9)] / before
    assert set(more.dropna().index.get_level_values("layer")) == {"top x", "top y"}
    assert more.max() == pytest.approx(raised["bars raised by"].max(), rel=1e-6)
    assert (after >= before).all()


def test_explanations_equal_the_tables(floor, ran, cli):
    assert run_job(floor, pictures=False).reused == ("floor",)
    for name in ("columns 8", "columns 5"):
        row = ran.frame("punching").set_index("loaded area").loc[name]
        answer = {q.symbol: q.value for q in explain_loaded_area(floor, name).answer}
        assert answer["v_Ed"] == pytest.approx(row["v_Ed [MPa]"], rel=1e-9)
        assert answer["utilisation"] == pytest.approx(row["utilisation"], rel=1e-9)
    place = next(f for f in ran.project.left(PUNCHING) if f.raised > 1.0).area
    z = ran.zones[0]
    near = z.labels[int(np.linalg.norm(z.xyz - place.origin, axis=1).argmin())]
    answer = {q.symbol: q.value for q in explain_point(floor, near).answer}
    stored = ran.steel.set_index(["point", "layer"])[REQUIRED]
    assert answer["top x"] == pytest.approx(stored[near, "top x"], rel=1e-9)
    # the service state alone looks at the raised bars too
    pd.testing.assert_frame_equal(check_job(floor, pictures=False).service.cracks, ran.service.cracks)
    code, out, _ = cli("explain", floor, "--punching", place.name, "--combination", place.chosen.names[0])
    assert code == 0
    for words in ("FORCE", "reactions inside its plan", "(6.47)", "u_1"):
        assert words in out
    code, _, err = cli("explain", floor, "--punching", "column 9")
    assert code == 2
    assert "no loaded area 'column 9'; there are columns 1" in " ".join(err.split())
    assert cli("explain", floor)[0] == 2


@pytest.mark.parametrize(("standard", "clause"), [("ACI 318-19", "22.6.5"), ("IS 456:2000", "31.6.3")])
def test_other_standards(floor, standard, clause):
    text = floor.read_text()
    try:
        weaker = (
            re.sub(r"(?m)^service = .*\n", "", text)
            .replace("c1 = 200", "c1 = 120")
            .replace("c2 = 200\nbeta = 1.5", "c2 = 120")
        )
        floor.write_text(weaker.replace("f_ck = 30", "f_ck = 15") + f'\n[design]\nstandard = "{standard}"\n')
        result = run_job(floor, pictures=False)
        found = result.frame("punching")
        sheet = explain_loaded_area(floor, found["loaded area"].iloc[0])
    finally:
        floor.write_text(text)
    assert set(found["clause"]) == {clause}
    assert found["utilisation"].max() > 1.0
    assert {q.symbol: q.value for q in sheet.answer}["v_Ed"] == pytest.approx(found["v_Ed [MPa]"].iloc[0], rel=1e-9)
    assert sum(s.title.startswith("Maximum stress of a force") for _, s in sheet.steps) == 1
    told = next(
        str(w.text) for w in result.warnings if "near loaded areas" in str(w.text)
    )  # their perimeters lie close
    shear = result.checks[result.checks["check"].str.startswith("shear") & (result.checks["zone"] == "floor")]
    assert 0 < int(re.findall(r"\d+", told)[0]) <= (shear["status"] == "exceeded").sum()


@pytest.mark.parametrize(
    ("entry", "words"),
    [
        ("c1 = 300", ["punching.p: the size of a column is not given", "use c1 and c2 in mm, or diameter"]),
        ('kind = "wall end"\nc1 = 200\nc2 = 200', ["use thickness in mm"]),
        ('kind = "wall end"\nthickness = 200', ["along is not given", "in which the wall end goes on"]),
        ('kind = "wall end"\nthickness = 200\nalong = [1, 0, 0]\nforce = "reactions"', ["use force = 'integrated'"]),
        ('diameter = 300\nforce = "reactions"', ["no support inside the area in plan"]),
        ("diameter = 300\nforce = { X = 5 }", ["names case 'X'", "there are G, Q"]),
        ("diameter = 300\ncombinations = ['Z*']", ["no combination has such a name"]),
        ("diameter = 300\nalong = [0, 0, 1]", ["stands at right angles to the slab"]),
        (
            'kind = "wall corner"\nthickness = 200\nalong = [1, 0, 0]\nsecond = [-2, 0, 0]',
            ["p.second: is the direction of the first wall"],
        ),
        ("diameter = 300\nzone = 'roof'", ["no zone 'roof'; there are plate"]),
        ("diameter = 300\nat = [[9, 9, 0]]", ["(9.0, 9.0, 0.0) is not on zone plate"]),
    ],
)
def test_places_that_cannot_be_are_named(tmp_path, entry, words):
    job = write_plate(tmp_path)
    own = [f"{k} = {v}" for k, v in (("zone", '"plate"'), ("at", "[[1.5, 1.5, 0]]")) if f"{k} =" not in entry]
    job.write_text(job.read_text() + "\n[punching.p]\n" + "\n".join([*own, entry]) + "\n")
    with pytest.raises(InputError) as error:
        run_job(job, pictures=False)
    for word in words:
        assert word in str(error.value)


def test_a_force_given_by_case_on_either_face(tmp_path):
    job = write_plate(tmp_path, n=12, size=0.5)
    places = "".join(
        f'[punching."{n}"]\nzone = "plate"\nkind = "loaded area"\ndiameter = 300\nat = [[3, 3, 0]]\nforce = {{ G = {v}, Q = 0 }}\n'
        for n, v in (("up", 200), ("down", -200))
    )
    job.write_text(job.read_text() + places)
    found = run_job(job, pictures=False).frame("punching").set_index("loaded area")
    assert_allclose(found["V [kN]"], [270.0, -270.0] if found.index[0] == "up" else [-270.0, 270.0])
    steel = pd.read_parquet(tmp_path / "results" / "steel.parquet").groupby("layer")[REQUIRED].mean()
    d = 250.0 - 30.0 - 12.0
    for name, face in (("up", "top"), ("down", "bottom")):
        rho = np.sqrt(steel[f"{face} x"] / (d * 1e3) * steel[f"{face} y"] / (d * 1e3))
        k = 1 + np.sqrt(200 / d)
        v = max(0.12 * k * (100 * rho * 30) ** (1 / 3), 0.035 * k**1.5 * 30**0.5)
        sigma = -(1.35 * 60 + 1.5 * 30 - 1.35 * 40 - 1.5 * 20) / 250 / 2
        assert found.loc[name, "v_Rd,c [MPa]"] == pytest.approx(v + 0.1 * sigma, rel=0.02)
        assert found.loc[name, "perimeter [mm]"] == pytest.approx(np.pi * (300 + 4 * d), rel=1e-3)
    assert "mm of thickness" in found["remedy"].iloc[0] or (found["status"] == "ok").all()


def test_both_faces_are_raised_where_the_force_turns(tmp_path):
    """Up in one combination and down in the next: each face has its own tension; the worst at the face is told."""
    job = write_plate(tmp_path, n=12, size=0.5)
    down = '[[combinations]]\nname = "U2"\nsituation = "accidental"\nfactors = { G = -1.35 }\n'
    place = '[punching.p]\nzone = "plate"\nkind = "loaded area"\ndiameter = 300\nat = [[3, 3, 0]]\nforce = { G = 330, Q = 0 }\nraise_bars = 3\n'
    job.write_text(job.read_text() + down + place)
    result = run_job(job, pictures=False)
    (f,) = result.project.left(PUNCHING)
    assert f.raised > 1.0
    own = job.read_text()
    text = own.replace('groups = ["a"]', 'groups = ["a*"]\npeaks = { width = 1.0 }')
    job.write_text(text)  # its force is a peak to average like those that are found
    (zone,) = Project.of(job).load().zones
    assert zone.averaged.places.tolist() == [[3000.0, 3000.0, 0.0]]
    job.write_text(text.replace('"a*"', '"b*"'))
    with pytest.raises(InputError, match="no element is in group 'b\\*'"):
        Project.of(job).load()
    job.write_text(own)
    assert set(f.tops) == {True, False}
    row = result.frame("punching").iloc[0]
    # v_max of the accidental situation is higher: the persistent one is worst at the face
    assert row["combination at the face"] == "U1"
    assert row["v_Rd,max [MPa]"] == pytest.approx(0.4 * 0.528 * 20.0)
    (tmp_path / "plain").mkdir()
    other = write_plate(tmp_path / "plain", n=12, size=0.5)
    other.write_text(other.read_text() + down)
    plain = run_job(other, pictures=False).steel.set_index(["layer", "point"])[REQUIRED]
    ratio = result.steel.set_index(["layer", "point"])[REQUIRED] / plain
    for face in ("top", "bottom"):
        assert max(ratio[f"{face} x"].max(), ratio[f"{face} y"].max()) == pytest.approx(f.raised, rel=1e-6)


def _with_a_drop_panel(folder, own_zone, half=2, thickness=0.4):
    """A plate of 10 x 10 m, 250 mm thick, 400 mm over the 2 m in its middle, and a column of 300 mm there."""
    job = write_plate(folder, n=20, size=0.5)
    rows = pd.read_csv(folder / "elements.csv")
    k = rows["element"] - 100
    thick = (k // 20).between(10 - half, 9 + half) & (k % 20).between(10 - half, 9 + half)
    rows.loc[thick, "thickness"] = thickness
    rows.loc[thick & own_zone, "group"] = "b"
    rows.to_csv(folder / "elements.csv", index=False)
    column = '[punching.column]\nzone = "%s"\ndiameter = 300\nat = [[5, 5, 0]]\nforce = { G = 500, Q = 0 }\n'
    text = job.read_text() + column % ("panel" if own_zone else "plate")
    zone = re.search(r"(?s)\[zones\.plate\].*?(?=\[\[)", text).group()
    more = zone.replace("zones.plate", "zones.panel").replace('["a"]', '["b"]') if own_zone else ""
    job.write_text(text.replace(zone, zone + more))
    return job


DROP = '[punching.panel]\nzone = "plate"\nkind = "drop panel"\nc1 = 2000\nc2 = 2000\nat = [[5, 5, 0]]\nforce = { G = 500, Q = 0 }\n'


@pytest.mark.parametrize(
    ("half", "thickness", "width"), [(2, 0.4, 300 + 3 * 400), (1, 0.6, 300 + 2 * (350 + 1.5 * 250))]
)
def test_flexure_transfers_moment_within_a_drop_panel_and_the_slab_beside_it(tmp_path, half, thickness, width):
    """ACI 318-19, table 8.4.2.2.3."""
    job = _with_a_drop_panel(tmp_path, False, half, thickness)
    text = job.read_text().replace("force = { G = 500, Q = 0 }", 'force = "integrated"')
    bars = "".join(f'"{f} {w}" = {{ diameter = 12, spacing = 150 }}\n' for f in ("bottom", "top") for w in "xy")
    text = text.replace("[[combinations]]", f"[zones.plate.provided]\n{bars}[[combinations]]", 1)
    text = text.replace("[zones.plate]\n", "[zones.plate]\ncolumn_bars = { through = false }\n")
    panel = DROP.replace("2000", str(1000 * half)).replace("{ G = 500, Q = 0 }", '"integrated"')
    job.write_text(text + panel + '[design]\nstandard = "ACI 318-19"\n')
    found = run_job(job, pictures=False).frame("column bars")
    assert len(found)
    assert_allclose(found["width [mm]"], width, rtol=1e-3)
    job.write_text(job.read_text().replace("diameter = 300\n", "diameter = 300\nmodified_gamma_f = true\n"))
    with pytest.raises(InputError, match="'column' stands on a drop panel; take modified_gamma_f out"):
        run_job(job, pictures=False)


@pytest.mark.parametrize("own_zone", [False, True])
def test_a_drop_panel_is_checked_in_the_slab_beyond_it(tmp_path, own_zone, cli):
    job = _with_a_drop_panel(tmp_path, own_zone)
    plain = run_job(job, pictures=False)
    (warning,) = (w for w in plain.warnings if w.subject == "column")
    assert warning.grave
    own = job.read_text() + DROP
    d, r = 250.0 - 30.0 - 12.0, 0.56 * 2000.0
    for standard, u, clause in (
        ("EN 1992-1-1:2004", 2.0 * np.pi * (r + 2.0 * d), "6.4"), ("ACI 318-19", 4.0 * (2000.0 + d), "22.6.5"),
        ("IS 456:2000", 4.0 * (2000.0 + d), "31.6.3"),
    ):  # fmt: skip
        job.write_text(own + f'[design]\nstandard = "{standard}"\n')
        result = run_job(job, pictures=False)
        assert not [w for w in result.warnings if w.subject in ("column", "panel")]
        found = result.frame("punching").set_index("loaded area")
        assert found.loc["panel", ["kind", "where", "d [mm]", "clause"]].tolist() == ["drop panel", "inside", d, clause]
        assert found.loc["panel", "perimeter [mm]"] == pytest.approx(u, rel=1e-3)
        assert found.loc["panel", "v_Ed [MPa]"] == pytest.approx(675e3 / (u * d), rel=1e-3)
        assert found.loc["column", "d [mm]"] == pytest.approx(400.0 - 42.0)
    job.write_text(own)
    run_job(job, pictures=False)
    code, out, _ = cli("explain", job, "--punching", "panel")
    assert code == 0
    assert "(6.34)" in out
    # a slab that is thinner on one side alone, beyond the control perimeter, may be meant
    rows = pd.read_csv(tmp_path / "elements.csv")
    rows.assign(thickness=np.where(rows["element"] < 100 + 12 * 20, 0.4, 0.25)).to_csv(
        tmp_path / "elements.csv", index=False
    )
    job.write_text(own.split("[punching.panel]")[0])
    assert [w.grave for w in run_job(job, pictures=False).warnings if w.subject == "column"] == [False]
    rows.to_csv(tmp_path / "elements.csv", index=False)
    # its size has to be that of the thick part
    for was, now, words in (("2000", "2400", "larger than the thick part"), ("[[5, 5", "[[1.5, 5", "no thinner slab")):
        job.write_text(own.split("[punching.panel]")[0] + DROP.replace(was, now))
        with pytest.raises(InputError, match=words):
            run_job(job, pictures=False)


@pytest.mark.parametrize(("apart", "standard", "meet"), [(1.1, "EN 1992-1-1:2004", True), (1.2, "EN 1992-1-1:2004", False), (0.5, "ACI 318-19", True), (0.6, "ACI 318-19", False)])  # fmt: skip
def test_places_whose_perimeters_meet_are_told(tmp_path, apart, standard, meet):
    """Faces of 300 mm columns, 2 d or d/2 of each, d of 208 mm; a force to the other side is none of the same."""
    job = write_plate(tmp_path, n=12, size=0.5)
    text = job.read_text() + f'[design]\nstandard = "{standard}"\n'
    entry = '[punching.{n}]\nzone = "plate"\ndiameter = 300\nat = {at}\nforce = {{ G = {G}, Q = 0 }}\n'
    two = [entry.format(n=n, at=f"[[{x}, 3, 0]]", G=G) for n, x, G in (("a", 3, 50), ("b", 3 + apart, 40))]
    job.write_text(text + "".join(two))
    warnings = [w for w in run_job(job, pictures=False).warnings if w.subject == "a, b"]
    assert [w.grave for w in warnings] == [True] * meet
    job.write_text(text + two[0] + two[1].replace("G = 40", "G = -40"))
    assert not [w for w in run_job(job, pictures=False).warnings if w.subject == "a, b"]


@pytest.mark.parametrize(
    ("standard", "distance", "clause"), [("EN 1992-1-1:2004", 2.0, "6.4"), ("ACI 318-19", 0.5, "22.6.5")]
)
def test_the_end_and_the_corner_of_a_wall_by_hand(standard, distance, clause, tmp_path):
    """200 mm thick under a slab of 250 mm: what counts of it, the perimeter round three sides and round a corner."""
    job = write_plate(tmp_path, n=8)
    wall = 'zone = "plate"\nthickness = 200\nalong = [1, 0, 0]\nforce = { G = 100, Q = 0 }\n'
    text = f'[design]\nstandard = "{standard}"\n[punching.end]\nkind = "wall end"\nat = [[4, 4, 0]]\n{wall}'
    text += f'[punching.corner]\nkind = "wall corner"\nat = [[2, 2, 0]]\nsecond = [0, -1, 0]\n{wall}'
    grade = "f_yk = 420" if standard.startswith("ACI") else "f_yk = 500"
    job.write_text(job.read_text().replace("f_yk = 500", grade) + text)
    rows = run_job(job, pictures=False).frame("punching").set_index("loaded area")
    d = 250 - 30 - 12
    away = distance * d
    corner = math.pi / 2 * away if standard.startswith("EN") else 2 * away
    # 200 mm of each wall beside the end, the shorter of 2 b and 5.6 d - b over two; 300 mm from the middle of a corner
    for name, u, beta in (("end", 200 + 2 * 200 + 2 * corner, 1.35), ("corner", 2 * (100 + 300) + corner, 1.2)):
        assert rows.loc[name, "perimeter [mm]"] == pytest.approx(u, rel=5e-3)
        assert rows.loc[name, "v_Ed [MPa]"] == pytest.approx(beta * 1.35 * 100e3 / (u * d), rel=5e-3)
        assert rows.loc[name, "clause"] == clause
    job.write_text(job.read_text().replace("[[4, 4, 0]]", "[[14, 4, 0]]"))
    with pytest.raises(InputError, match="is not on zone plate"):
        run_job(job, pictures=False)
