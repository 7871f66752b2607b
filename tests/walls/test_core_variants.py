"""The core turned in plan, by other standards and units, with given bars, and by tables of forces that are wrong."""

import re
import shutil

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import InputError, copy_demo, run_job
from sandwich.commands.explain_wall import explain_wall
from sandwich.core.shown import Shown
from sandwich.drawing import walls as drawing
from sandwich.drawing.maps import png
from sandwich.job import load_job
from sandwich.stages.walls import WALL_CHECKS, WALL_CUTS
from sandwich.work.walls import pictures

SEISMIC = 'seismic = { ductility = "DCM", q_0 = 3.0, T_1 = 0.16, T_C = 0.5 }'
LISTED = """
[[combinations]]
name = "U1"
situation = "persistent"
factors = { SW = 1.2, FG = 1.2, FQ = 1.6 }
[[combinations]]
name = "U2"
situation = "persistent"
factors = { SW = 0.9, FG = 0.9, WX = 1.6, WY = 0.4 }
[[combinations]]
name = "E1"
situation = "seismic"
factors = { SW = 0.9, FG = 0.9, RX = 1.0, RY = 0.3 }
[[combinations]]
name = "E2"
situation = "seismic"
factors = { SW = 1.2, FG = 1.2, FQ = 0.5, EY = -1.0, EX = 0.3 }
"""


@pytest.fixture(scope="module")
def source(tmp_path_factory):
    """The job of the core as it ships."""
    return copy_demo(tmp_path_factory.mktemp("source")).parent / "core"


BUILDING = "walls_carry_all = true"
# bars that are given leave nothing to choose, which is quick
GIVEN = (
    "bars = [{ vertical = { diameter = 12, spacing = 150 }, horizontal = { diameter = 12, spacing = 150 }, "
    "ends = { count = 8, diameter = 16, length = 500 }, ties = { diameter = 10, spacing = 75, across = 4 }, "
    "chords = { count = 4, diameter = 16, length = 100 }, links = { diameter = 10, spacing = 100 } }]"
)


def listed(source, folder, *changes):
    """The core with listed combinations, its text changed; without seismic design and building unless it is changed."""
    shutil.copytree(source, folder, ignore=shutil.ignore_patterns("results"))
    text = (folder / "job.toml").read_text()
    head, _, rest = text.partition("[rules]")
    text = head + "[spectra.RX]" + rest.partition("[spectra.RX]")[2] + LISTED
    if SEISMIC not in dict(changes):
        text = text.replace(SEISMIC, "")
    if not any(old.startswith(("[building]", BUILDING)) for old, _ in changes):
        text = re.sub(r"displacements = .*\n", "", text)
        text = re.sub(r"\[building\](.*\n)*?\n", "", text)
    for old, new in changes:
        assert old in text
        text = text.replace(old, new)
    (folder / "job.toml").write_text(text)
    return folder / "job.toml"


@pytest.fixture(scope="module")
def plain(source, tmp_path_factory):
    """It by EN 1992-1-1, run once."""
    return run_job(listed(source, tmp_path_factory.mktemp("plain") / "core"), pictures=False)


def test_a_core_that_is_turned_is_the_same_core(source, plain, tmp_path):
    job = listed(source, tmp_path / "turned")
    a = np.radians(5.0)
    turn = np.array([[np.cos(a), np.sin(a), 0.0], [-np.sin(a), np.cos(a), 0.0], [0.0, 0.0, 1.0]])
    nodes = pd.read_parquet(job.parent / "nodes.parquet")
    nodes[["x", "y", "z"]] = nodes[["x", "y", "z"]].to_numpy() @ turn + [12.0, -7.0, 0.0]
    nodes.to_parquet(job.parent / "nodes.parquet", index=False)
    axes = pd.read_parquet(job.parent / "axes.parquet")
    for v in ("x", "z"):
        columns = [f"{v}{c}" for c in "xyz"]
        axes[columns] = axes[columns].to_numpy() @ turn
    axes.to_parquet(job.parent / "axes.parquet", index=False)
    reactions = pd.read_parquet(job.parent / "reactions.parquet").astype(dict.fromkeys(("fx", "fy", "mx", "my"), float))
    for f in ("f", "m"):
        columns = [f"{f}{c}" for c in "xyz"]
        reactions[columns] = reactions[columns].to_numpy(dtype=float) @ turn
    reactions.to_parquet(job.parent / "reactions.parquet", index=False)
    turned = run_job(job, pictures=False)
    keys = ["storey", "part", "check"]
    both = plain.frame("wall checks").merge(turned.frame("wall checks"), on=keys)
    assert len(both) == len(plain.frame("wall checks"))
    assert_allclose(both["utilisation_x"], both["utilisation_y"], rtol=1e-4)
    assert_allclose(both["N [kN]_x"], both["N [kN]_y"], rtol=1e-4, atol=0.05)
    sections = [r.frame("wall sections").sort_values(["storey", "at"]) for r in (plain, turned)]
    assert_allclose(*(s["utilisation"] for s in sections), rtol=1e-4, atol=1e-5)
    assert turned.frame("wall balance")["largest difference [%]"].max() < 0.5


@pytest.mark.parametrize(
    ("standard", "clauses"),
    [
        ("ACI 318-19", {"11.5.4.3", "18.10.4.1", "11.6.1", "6.2.5, 6.6.4", "22.5"}),
        ("IS 456:2000", {"32.4.3, 32.4.4", "32.4.2.1", "32.5(a)", "25.4, 32.2, 39.7", "40.4"}),
    ],
)
def test_the_core_by_other_standards(source, tmp_path, standard, clauses):
    units = '\n[output]\nunits = "US"\ncsv = true\n' if standard.startswith("ACI") else ""
    job = listed(
        source, tmp_path / "core", ("[spectra.RX]", f'[design]\nstandard = "{standard}"\n{units}\n[spectra.RX]'),
    )  # fmt: skip
    result = run_job(job, pictures=False)
    checks = result.frame("wall checks")
    either = {"11.5.4.3", "18.10.4.1"}  # whichever governs the shear of a part
    assert clauses - either <= set(checks["clause"])
    assert not (clauses & either) or either & set(checks["clause"])
    assert np.isfinite(checks["utilisation"]).all()
    assert (result.frame("wall sections")["utilisation"] < 1.0).all()
    top = result.frame("wall sections").set_index("at").loc["top"]
    by = top["torsion by"].str
    assert by.contains("no clause" if standard.startswith("IS") else "22.7").all(), by
    worst = checks.iloc[0]
    found = explain_wall(job, f"{worst['storey']} {worst['part']}")
    assert found.sheet.answer[0].value == pytest.approx(worst["utilisation"], rel=1e-6)
    if units:
        table = pd.read_csv(job.parent / "results" / "wall_forces.csv")
        assert_allclose(table["N [kip]"], result.frame("wall forces")["N [kN]"] / 4.4482216, rtol=1e-5, atol=1e-4)
        assert {"M2 [kip ft]", "place [ft]"} <= set(table.columns)


def test_bars_that_are_given_are_taken(source, plain, tmp_path):
    bars = """
[[walls.core.bars]]
panels = ["A"]
storeys = ["ground"]
parts = ["P2"]
vertical = { diameter = 16, spacing = 150 }
horizontal = { diameter = 12, spacing = 150 }
ends = { count = 6, diameter = 20, length = 250 }
[[walls.core.bars]]
parts = ["L1", "L2"]
chords = { count = 4, diameter = 25, length = 150 }
[[walls.core.bars]]
vertical = { diameter = 12, spacing = 200 }
"""
    job = listed(source, tmp_path / "core", ('[[combinations]]\nname = "U1"', bars + '[[combinations]]\nname = "U1"'))
    result = run_job(job, pictures=False)
    found = result.frame("wall bars").set_index(["storey", "panel", "part"])
    pier = found.loc[("ground", "A", "P2")]
    assert (str(pier["vertical [mm]"]), str(pier["horizontal [mm]"]), str(pier["each end [mm]"])) == (
        "16/150",
        "12/150",
        "6x20",
    )
    assert pier["bars"] == "given"
    assert set(found.loc[found["kind"] == "lintel", "each chord [mm]"].astype(str)) == {"4x25"}
    others = found[(found["kind"] != "lintel") & (found["kind"] != "parapet")].drop(index=("ground", "A", "P2"))
    assert set(others["vertical [mm]"].astype(str)) == {"12/200"}
    # more bars in a pier are used less in bending
    use = [
        r.frame("wall checks")
        .set_index(["storey", "part", "check"])
        .loc[("ground", "A P2", "bending with axial force"), "utilisation"]
        for r in (plain, result)
    ]
    assert use[1] < use[0]


@pytest.mark.parametrize("same", ["panel", "storey", "wall"])
def test_parts_that_share_their_bars(source, tmp_path, same):
    job = load_job(listed(source, tmp_path / "core")).with_values({"walls.core.same_bars": same})
    result = run_job(job, pictures=False)
    bars = result.frame("wall bars")
    upright = bars[~bars["kind"].isin(["lintel", "parapet"])].astype(str)
    by = {"panel": ["storey", "panel"], "storey": ["storey"], "wall": ["wall"]}[same]
    assert (upright.groupby(by)["vertical [mm]"].agg(set).map(len) == 1).all()
    assert (result.frame("wall checks")["utilisation"] <= 1.0 + 1e-9).all()


def test_cuts_of_the_users_own(source, plain, tmp_path):
    """A level cut of a panel is its part's, an upright one that of the lintel; what lies off the wall is refused."""
    cuts = """
[walls.core.cuts]
"back" = { start = [0, 4, 3.4], end = [6.4, 4, 3.4] }
"lintel" = { start = [4.4, 0, 5.6], end = [4.4, 0, 6.4] }
[[combinations]]
name = "U1"
"""
    job = listed(source, tmp_path / "core", ('[[combinations]]\nname = "U1"\n', cuts))
    f = run_job(job, pictures=False).frame("wall forces").set_index(["storey", "part", "at", "case"])
    of = plain.frame("wall forces").set_index(["storey", "part", "at", "case"])
    for case in ("FG", "EX", "WY"):
        own, lintel = f.loc[("first", "E back", "cut", case)], of.loc[("first", "A L2", "middle", case)]
        part = of.loc[("first", "E W", "bottom", case)]
        assert own["N [kN]"] == pytest.approx(part["N [kN]"], rel=0.04, abs=10.0)
        # 0.18 m further up the moment is less by what the shear turns, and by that of the panels at its ends
        assert own["M2 [kNm]"] == pytest.approx(part["M2 [kNm]"] - 0.18 * part["V1 [kN]"], rel=0.04, abs=10.0)
        upright = f.loc[("first", "A lintel", "cut", case)]
        assert abs(upright["V1 [kN]"]) == pytest.approx(abs(lintel["V1 [kN]"]), rel=1e-6, abs=1e-6)
        assert upright["M2 [kNm]"] == pytest.approx(lintel["M2 [kNm]"], rel=1e-6, abs=1e-6)
    text = job.read_text()
    job.write_text(text.replace("start = [0, 4, 3.4]", "start = [0, 9, 3.4]"))
    with pytest.raises(InputError, match="off every panel"):
        run_job(job, pictures=False)
    job.write_text(text.replace("start = [0, 4, 3.4], end = [6.4, 4, 3.4]", "start = [0, 4, 30], end = [6.4, 4, 30]"))
    with pytest.raises(InputError, match="meets no element"):
        run_job(job, pictures=False)


def test_walls_of_a_group_get_the_same_bars(tmp_path):
    two = BY_FORCES.replace(
        "[walls.gable]", '[walls.other]\nzones = ["wall"]\npanels = "panels.csv"\nforces = "small.csv"\n[walls.gable]'
    )
    small = FORCES.replace(",640", ",64").replace(",210,", ",21,")
    by_forces(tmp_path / "apart", FORCES.replace(",640", ",3000"), two)
    (tmp_path / "apart" / "small.csv").write_text(small)
    apart = run_job(tmp_path / "apart" / "job.toml", pictures=False).frame("wall bars")
    assert apart["vertical [mm]"].astype(str).nunique() == 2 or apart["each end [mm]"].astype(str).nunique() == 2
    grouped = two.replace('zones = ["wall"]', 'zones = ["wall"]\ngroup = "gables"\nsame_bars = "panel"')
    (tmp_path / "apart" / "job.toml").write_text(grouped)
    result = run_job(tmp_path / "apart" / "job.toml", pictures=False)
    bars = result.frame("wall bars").astype(str)[["vertical [mm]", "horizontal [mm]", "each end [mm]"]]
    assert len(bars.drop_duplicates()) == 1
    assert (result.frame("wall checks")["utilisation"] <= 1.0 + 1e-9).all()


def test_pictures_show_the_tables(plain):
    cuts, (parts, _) = plain.project.left(WALL_CUTS), plain.project.left(WALL_CHECKS)
    wall, shown = cuts.walls.walls[0], Shown()
    d = pictures.elevation(cuts.walls, wall, parts, shown)
    checks = plain.frame("wall checks")
    own = pictures.worst_of_table(checks)
    assert {round(b.value, 9) for b in d.parts} == {round(v, 9) for v in own.values()}
    # panels stand side by side; what is wall and what is open fill them
    assert all(b[1] >= a[1] + a[2] for a, b in zip(d.panels[:-1], d.panels[1:], strict=True))
    area = sum(p[2] for p in d.panels) * 16.0
    piers = sum(b.width * b.height for b in d.parts if b.kind in ("wall", "full-height pier"))
    over = sum(b.width * b.height for b in d.parts if b.kind in ("lintel", "parapet"))
    assert piers + over + sum(o.width * o.height for o in d.openings) == pytest.approx(area, rel=1e-6)
    feet = pictures.elevation(cuts.walls, wall, parts, Shown("US"))
    assert feet.unit == "ft"
    assert feet.panels[0][2] == pytest.approx(d.panels[0][2] / 0.3048)
    laid = pictures.laid_bars(cuts.walls, wall, parts, {}, shown)
    upright = laid.lines[:, 0] == laid.lines[:, 2]
    assert upright.any()
    assert (~upright).any()
    assert len(laid.labels) == len(parts)
    bent = pictures.most_bent(parts)
    s = pictures.strength_of(bent, cuts, shown)
    for c in s.curves:
        inside = np.interp(
            c.governing[1], np.sort(c.N[: len(c.N) // 2]), c.M[: len(c.N) // 2][np.argsort(c.N[: len(c.N) // 2])]
        )
        assert abs(c.governing[0]) <= abs(inside) * 1.02
    assert len(s.stresses) == len(s.bars)
    for draw, of in ((drawing.draw_elevation, d), (drawing.draw_bars, laid), (drawing.draw_strength, s)):
        assert png(draw, of)[:4] == b"\x89PNG"


FORCES = "storey,part,at,case,N,V1,M2\n" + "".join(
    f"low,A W,{at},{case},{n},{v},{m}\n"
    for case, n, v, m in (("G", -900, 0, 50), ("E", 30, 210, 640))
    for at in ("bottom", "top")
)
BY_FORCES = """
title = "One wall by its forces"
[cases.G]
kind = "permanent"
[cases.E]
kind = "seismic"
[zones.wall]
f_ck = 30
f_yk = 500
[storeys]
levels = [0, 3]
names = ["low"]
[walls.gable]
zones = ["wall"]
panels = "panels.csv"
forces = "forces.csv"
[[combinations]]
name = "E"
situation = "seismic"
factors = { G = 1.0, E = 1.0 }
"""


def by_forces(folder, forces=FORCES, job=BY_FORCES):
    folder.mkdir(exist_ok=True)
    (folder / "panels.csv").write_text("panel,x1,y1,x2,y2,thickness\nA,0,0,3,0,0.2\n")
    (folder / "forces.csv").write_text(forces)
    (folder / "job.toml").write_text(job)
    return folder / "job.toml"


def test_a_wall_by_forces_alone(tmp_path):
    result = run_job(by_forces(tmp_path / "one"), pictures=True)
    assert result.report.exists()
    checks = result.frame("wall checks").set_index("check")
    bent = checks.loc["bending with axial force"]
    assert (bent["N [kN]"], bent["M [kNm]"], bent["V [kN]"]) == pytest.approx((-870.0, 690.0, 210.0))
    # the other way round a source may count: what is negated twice is the same
    turned = FORCES.replace(",-900,", ",900,").replace(",30,", ",-30,")
    again = run_job(
        by_forces(tmp_path / "two", turned, BY_FORCES.replace("[walls.gable]", '[walls.gable]\nnegate = ["N"]')),
        pictures=False,
    )
    assert_allclose(again.frame("wall checks")["utilisation"], result.frame("wall checks")["utilisation"], rtol=1e-9)
    # magnitudes of a spectrum act with any sign
    unsigned = BY_FORCES.replace('kind = "seismic"', 'kind = "seismic"\nsigned = false')
    either = (
        run_job(by_forces(tmp_path / "three", FORCES, unsigned), pictures=False).frame("wall checks").set_index("check")
    )
    assert either.loc["bending with axial force", "utilisation"] >= bent["utilisation"] - 1e-9
    assert abs(either.loc["bending with axial force", "M [kNm]"]) == pytest.approx(690.0)


@pytest.mark.parametrize(
    ("old", "new", "found"),
    [
        ("low,A W,top,E,30,210,640\n", "", "case E is missing"),
        ("low,A W,top,E,", "low,A W,top,G,", "case G stands twice"),
        ("low,A W,top,E,", "low,A P7,top,E,", "no part 'A P7' in 'low'"),
        ("low,A W,top,E,", "high,A W,top,E,", "no storey 'high'"),
        ("low,A W,top,E,30", "low,A W,top,E,much", "give a finite number"),
        (",M2\n", ",M3\n", "no column 'M2'"),
    ],
)
def test_forces_that_will_not_do_say_why(tmp_path, cli, old, new, found):
    assert old in FORCES
    code, _, err = cli("run", by_forces(tmp_path / "wrong", FORCES.replace(old, new, 1)))
    assert code == 2
    assert found in err
    assert "forces.csv" in err
    assert not list((tmp_path / "wrong").glob("results/wall*"))


@pytest.mark.parametrize(
    ("old", "new", "found"),
    [
        ("levels = [0, 3]\n", "", "are not given, and there is no mesh to find them in"),
        ('panels = "panels.csv"\n', "", "panels"),
        ('forces = "forces.csv"\n', "", "panels of a table have no results that could be cut"),
        ("levels = [0, 3]", "levels = [3, 0]", "levels do not rise"),
        ("[walls.gable]", "[walls.gable]\nofset = 0.1", "did you mean 'offset'"),
    ],
)
def test_walls_without_a_mesh_need_their_tables(tmp_path, cli, old, new, found):
    code, _, err = cli("run", by_forces(tmp_path / "wrong", FORCES, BY_FORCES.replace(old, new, 1)))
    assert code == 2
    assert found in err


@pytest.mark.parametrize("standard", ["EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000"])
@pytest.mark.parametrize("force", ["-90000", "90000"])
def test_more_than_any_bars_carry(tmp_path, cli, standard, force):
    # an axial force beyond the section, and a shear beyond its struts: told as such, drawn, explained
    text = BY_FORCES.replace("[cases.G]", f'[design]\nstandard = "{standard}"\n[cases.G]')
    job = by_forces(tmp_path / "job", FORCES.replace("-900", force).replace(",210,", ",21000,"), text)
    checks = run_job(job).frame("wall checks").set_index("check")
    assert np.isposinf(checks.loc[["bending with axial force", "out of plane"], "utilisation"]).all()
    assert not checks["utilisation"].isna().any()
    struts = checks.loc["struts of the shear"]
    assert struts["utilisation"] == pytest.approx(21000.0 / struts["capacity"], rel=1e-6)
    assert (checks["status"] != "ok").equals(checks["utilisation"] > 1.0)
    code, told, _ = cli("explain", job, "--wall", "low A W")
    assert code == 0
    assert "bending with axial force inf" in told
    assert "e+308" not in told + (job.parent / "results" / "report.html").read_text()


WHOLE = 'zones = ["wall"]\npanels = "panels.csv"\nforces = "forces.csv"\n'


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ('through = ["A", "Z"]', "walls.gable.through: no panel 'Z'; there are A"),
        ("bars = [{ parts = ['P9'] }]", "bars, entry 1: fits no part; left for it are storeys low; panels A; parts W"),
        ("bars = [{}, { storeys = ['low'] }]", "bars, entry 2: fits no part; leave it out"),
        ('second_order = "alternative"', "no second order by 'alternative'; use nominal curvature or"),
        ("distance = 0.5", "distance places cuts, and this wall brings its forces; take distance out"),
        (
            f'group = "g"\nend_bars = false\n{WHOLE}[walls.other]\ngroup = "g"',
            "of group 'g' and differ in end_bars; give both",
        ),
        (
            f'joint = "smooth"\n{WHOLE}[design]\nstandard = "ACI 318-19"\n[walls.other]',
            "has no use for it; take it out",
        ),
    ],
)
def test_settings_of_a_wall_are_honoured_or_refused(tmp_path, line, told):
    job = by_forces(tmp_path / "job", job=BY_FORCES.replace("[walls.gable]", f"[walls.gable]\n{line}"))
    with pytest.raises(InputError, match=re.escape(told)):
        run_job(job, pictures=False)


@pytest.mark.parametrize("same", ["part", "wall"])
def test_walls_of_a_group_share_what_is_chosen_and_keep_what_is_given(tmp_path, same):
    """Each wall gives its own vertical bars by its first entry; the horizontal ones are chosen."""
    given = "bars = [{{ vertical = {{ diameter = {}, spacing = 100 }} }}]"
    one, two = (f'group = "g"\nsame_bars = "{same}"\n{given.format(d)}' for d in (12, 16))
    gable = BY_FORCES[BY_FORCES.index("[walls.gable]") : BY_FORCES.index("[[combinations]]")]
    other = gable.replace("[walls.gable]", f"[walls.other]\n{two}")
    text = BY_FORCES.replace(gable, gable.replace("[walls.gable]", f"[walls.gable]\n{one}") + other)
    bars = run_job(by_forces(tmp_path / "job", job=text), pictures=False).frame("wall bars").set_index("wall")
    column = next(c for c in bars.columns if c.startswith("vertical"))
    assert bars.loc["gable", column] == "12/100"
    assert bars.loc["other", column] == "16/100"
    # the same panel and horizontal bars, twice the vertical ones by area
    heavier = bars["mass [kg]"]
    assert heavier["other"] > heavier["gable"] > 0.0


def test_bars_that_the_thickness_has_no_room_for(tmp_path):
    text = BY_FORCES.replace("[walls.gable]", "[walls.gable]\ncover = 90")
    checks = run_job(by_forces(tmp_path / "job", job=text), pictures=False).frame("wall checks").set_index("check")
    assert checks.loc["room for the bars", "utilisation"] == pytest.approx((2 * 90 + 2 * (8 + 8)) / 200)
    assert checks.loc["room for the bars", "status"].startswith("exceeded")
    thin = run_job(by_forces(tmp_path / "thin"), pictures=False).frame("wall checks")
    assert "room for the bars" not in set(thin["check"])


def test_a_part_without_forces_is_told(tmp_path):
    text = BY_FORCES.replace("levels = [0, 3]", "levels = [0, 3, 6]").replace('["low"]', '["low", "high"]')
    told = [str(w) for w in run_job(by_forces(tmp_path / "job", job=text), pictures=False).warnings]
    assert any("1 of 2 parts are not checked, they have no forces: high A W first" in w for w in told)


def test_parts_of_a_group_keep_the_same_web_bars(source, tmp_path):
    """Piers of a panel: what sliding of the seismic walls asks for is laid in a short pier, a column to them, too."""
    folder = tmp_path / "core"
    shutil.copytree(source, folder, ignore=shutil.ignore_patterns("results"))
    job = folder / "job.toml"
    rule = "rule = { diameters = [8, 10, 12], spacing_min = 100, spacing_max = 200, spacing_step = 25 }"
    text = re.sub(r"(?m)^rule = .*$", rule, job.read_text())
    job.write_text(text.replace("[walls.core]", '[walls.core]\nsame_bars = "panel"\njoint = "very smooth"'))
    bars = run_job(job, pictures=False).frame("wall bars")
    webs = bars[bars["vertical [mm]"] != ""].assign(pair=lambda b: b["vertical [mm]"] + " " + b["horizontal [mm]"])
    assert not webs.drop_duplicates(["storey", "panel", "pair"]).duplicated(["storey", "panel"]).any()
    raised = webs[webs["decided by"] == "shear of the seismic wall"]
    (storey, part), *_ = [(r["storey"], f"{r['panel']} {r['part']}") for _, r in raised.iterrows() if r["part"] == "P1"]
    found = explain_wall(job, f"{storey} {part}")  # with the bars of the run
    checks = pd.read_parquet(folder / "results" / "wall_checks.parquet")
    own = checks[(checks["storey"] == storey) & (checks["part"] == part)].set_index("check")["utilisation"]
    told = {q.symbol: q.value for q in found.sheet.answer}
    assert told == pytest.approx({name: own[name] for name in told}, rel=1e-6)
