"""A corpus of bad input through the command line: exit 2, no traceback, words of what was found; nothing written."""

import contextlib
import datetime as dt
import io
import itertools
import re
import shutil
import tempfile
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import write_plate
from sandwich.cli import main

EXTRAS = """
[punching.c]
zone = "plate"
at = [[1.0, 1.0, 0.0]]
c1 = 300
c2 = 300
force = "reactions"
[strips.s]
zone = "plate"
start = [0.1, 1.5, 0.0]
end = [2.9, 1.5, 0.0]
width = 1
"""
NUMBERS = {
    "nodes": ("x", "y", "z"), "elements": ("thickness",), "reactions": ("fx", "fy", "fz"),
    "resultants": ("nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"),
}  # fmt: skip
IDS = {
    "nodes": ("node",),
    "elements": ("element", "n1", "n2", "n3"),
    "resultants": ("case", "element", "node"),
    "reactions": ("case", "node"),
}
VALUES = {
    "a word": "abc",
    "nothing": "",
    "nan": "nan",
    "n/a": "n/a",
    "infinite": "inf",
    "an error": "#REF!",
    "two points": "1.2.3",
    "a comma": '"1,5"',
}


@pytest.fixture(scope="module")
def sound(tmp_path_factory):
    """A plate with reactions, a column and a strip, which runs."""
    folder = tmp_path_factory.mktemp("sound")
    job = write_plate(folder)
    rows = [f"{c},{n},0,0,{10 * f:g}" for c, f in (("G", 1), ("Q", 0.5)) for n in (1, 4, 6, 13, 16)]
    (folder / "reactions.csv").write_text("\n".join(["case,node,fx,fy,fz", *rows]) + "\n")
    text = job.read_text().replace(
        'resultants = "resultants.csv"\n', 'resultants = "resultants.csv"\nreactions = "reactions.csv"\n'
    )
    job.write_text(text + EXTRAS)
    return folder


@pytest.fixture
def broken(sound, tmp_path):
    folder = tmp_path / "job"
    shutil.copytree(sound, folder)
    return folder


def refused(cli, folder, *words):
    before = sorted(f.name for f in folder.rglob("*"))
    code, out, err = cli("run", folder / "job.toml", "--no-pictures")
    said = " ".join((out + err).split())
    assert code == 2, said
    assert "Traceback" not in said
    for word in words:
        assert word in said
    assert sorted(f.name for f in folder.rglob("*")) == before


def edit(path, row, column, value):
    lines = path.read_text().splitlines()
    cells = lines[row].split(",")
    cells[lines[0].split(",").index(column)] = value
    path.write_text("\n".join([*lines[:row], ",".join(cells), *lines[row + 1 :]]) + "\n")


def test_the_sound_job_runs(broken, cli):
    code, _, err = cli("run", broken / "job.toml", "--no-pictures")
    assert (code, err) == (0, "")


CELLS = [
    (table, column, kind) for table, columns in NUMBERS.items() for column in columns for kind in VALUES
]  # fmt: skip


@pytest.mark.parametrize(("table", "column", "kind"), CELLS, ids=map("-".join, CELLS))
def test_a_cell_that_is_no_number(broken, cli, table, column, kind):
    edit(broken / f"{table}.csv", 3, column, VALUES[kind])
    refused(cli, broken, f"{table}.csv", "row 4")


@pytest.mark.parametrize(("table", "kind"), list(itertools.product(NUMBERS, ("nothing", "n/a", "nan"))))
def test_a_row_without_any_number(broken, cli, table, kind):
    """A row that says what it belongs to is not a line of text."""
    for column in NUMBERS[table]:
        edit(broken / f"{table}.csv", 3, column, VALUES[kind])
    refused(cli, broken, f"{table}.csv", "row 4")


@pytest.mark.parametrize(("table", "column"), [(t, c) for t, columns in IDS.items() for c in columns])
@pytest.mark.parametrize("value", ["", "999", "1.5", "x y"])
def test_an_identifier_that_is_lost_or_strange(broken, cli, table, column, value):
    if (table, column, value) in {("nodes", "node", v) for v in ("999", "1.5", "x y")}:
        value = "2"  # a node of another name is a node; a second one is not
    if (table, column) == ("elements", "element") and value:
        value = "101"
    edit(broken / f"{table}.csv", 3, column, value)
    refused(cli, broken, f"{table}.csv")


@pytest.mark.parametrize("table", [*NUMBERS])
@pytest.mark.parametrize(
    "fault", ["a row less", "a row twice", "a column less", "no rows", "no file", "empty", "a field more"]
)
def test_a_table_that_is_not_whole(broken, cli, table, fault):
    path = broken / f"{table}.csv"
    lines = path.read_text().splitlines()
    if fault == "a row less":
        lines = lines[:2] + lines[3:]
    elif fault == "a row twice":
        lines.append(lines[2])
    elif fault == "a column less":
        at = lines[0].split(",").index(NUMBERS[table][-1])
        lines = [",".join(c for i, c in enumerate(line.split(",")) if i != at) for line in lines]
    elif fault == "no rows":
        lines = lines[:1]
    elif fault == "a field more":
        lines[2] += ",7"
    path.write_text("" if fault == "empty" else "\n".join(lines) + "\n")
    if fault == "no file":
        path.unlink()
    said = {("elements", "a column less"): "thickness", ("elements", "a row less"): "not in the mesh"}
    refused(cli, broken, said.get((table, fault), table))


SETTINGS = [
    ("f_ck = 30", f"f_ck = {v}", "f_ck") for v in ("true", "[30]", "'x'", "0", "-30", "nan", "inf", "300", "1979-05-27", "'30 mm'", "{}")
] + [
    ("cover_bottom = 30", f"cover_bottom = {v}", "cover_bottom") for v in ("true", "-1", "nan", "'x'", "[]", "'30 MPa'", "07:32:00")
] + [
    ("diameter_x = 12", f"diameter_x = {v}", "diameter_x") for v in ("true", "0", "-12", "inf", "{}", "'12 kN'")
] + [
    ("width = 1\n", f"width = {v}\n", "width") for v in ("true", "0", "-1", "inf", "[1]", "'1 s'")
] + [
    ("c1 = 300", f"c1 = {v}", "c1") for v in ("true", "0", "nan", "'x'", "[300]")
] + [
    ("factors = { G = 1.35, Q = 1.5 }", f"factors = {v}", "factors")
    for v in ("{}", "{ G = true }", "{ G = nan }", "{ G = 'x' }", "{ G = 0 }", "[1]", "{ G = inf }")
] + [
    ('force = "reactions"', f"force = {v}", "force") for v in ("{}", "{ G = 10 }", "{ X = 1 }", "true", "'x'", "{ G = nan, Q = 1 }", "{ G = true, Q = 1 }")
] + [
    ("title = ", f"{v} = 1\ntitle = ", v) for v in ("written", "path")
] + [
    ('situation = "persistent"', f"situation = {v}", "situation") for v in ("'ultimate'", "true", "1", "''", "[]")
] + [
    ("[zones.plate]\n", f"[zones.plate]\n{v}\n", word)
    for v, word in (
        ("thickness = 0", "thickness"), ("thickness = true", "thickness"), ("thicknes = 200", "thicknes"), ("method = 'wood'", "method"),
        ("minimum = 'walls'", "minimum"), ("vertical = 'Y'", "vertical"), ("vertical = 1", "vertical"), ("points = 'node'", "points"),
        ("links = 0", "links"), ("links = { cot_theta = 0 }", "cot_theta"), ("links = { cot_theta = true }", "cot_theta"),
        ("peaks = { width = 0 }", "width"), ("peaks = { width = 1, at = [[99, 99, 0]] }", "peaks"), ("joint = 1", "joint"), ("joint = 'yes'", "joint"),
        ("averaging_strips = { x = [1] }", "averaging_strips"), ("averaging_strips = { x = [2, 1] }", "averaging_strips"), ("averaging_strips = {}", "averaging_strips"),
        ("provided = { 'roof' = { diameter = 12, spacing = 100 } }", "roof"), ("provided = { 'bottom x' = { diameter = 0, spacing = 100 } }", "diameter"),
        ("provided = { 'bottom x' = { diameter = 12 } }", "spacing"), ("provided = { 'bottom x' = { diameter = 120, spacing = 200 } }", "diameter"),
        ("provided = { 'bottom x' = { diameter = 12, spacing = 12 } }", "concrete between"),
        ("additional = [{ layer = 'bottom x', diameter = 12, spacing = 100, polygon = [[0,0,0],[1,0,0]] }]", "polygon"),
        ("additional = [{ layer = 'roof', diameter = 12, spacing = 100, polygon = [[0,0,0],[1,0,0],[1,1,0]] }]", "roof"),
        ("rule = { diameters = [] }", "diameter"), ("rule = { spacing_min = 300, spacing_max = 100 }", "spacings"), ("rule = { spacing_step = 0 }", "step"),
        ("service = {}", "quasi-permanent"), ("service = { widths = { frequent = 0 } }", "widths"), ("service = { ages = [] }", "ages"),
        ("service = { creep = -1 }", "creep"), ("service = { ages = ['short', 'short'] }", "age"), ("supports = 'all'", "supports"),
        ("faces = { bottom = 'a', top = 'a' }", "faces"), ("direction = { along = 'polyline', line = [[0,0,0]] }", "polyline"),
        ("direction = { along = 'up' }", "along"), ("direction = { angle = true }", "angle"), ("direction = { vector = [0, 0, 1] }", "direction"),
        ("elements = [999]", "999"), ("strength = 'cubes'", "strength"), ("offset = true", "offset"), ("uncracked = 'no'", "uncracked"),
    )
] + [
    ('groups = ["a"]', f"groups = {v}", "zones.plate") for v in ("['b']", "'a'", "[1]", "[]", "true")
] + [
    ("[input]\n", f"[input]\n{v}\n", word)
    for v, word in (
        ("units = { length = 'parsec2' }", "length"), ("units = { moment = 'kN/m' }", "moment"), ("signs = { negate = ['nz'] }", "negate"),
        ("missing = 'drop'", "missing"), ("case_names = { X = 'Y' }", "X"), ("unknown = 1", "unknown"),
    )
] + [
    ("[zones.plate]", v, word)
    for v, word in (
        ("[zones]\nplate = 1\n[zones.other]", "plate"), ("[rules]\ncode = 'EC'\n[zones.plate]", "code"), ("[design]\nstandard = 'ACI'\n[zones.plate]", "standard"),
        ("[design]\nworkers = -1\n[zones.plate]", "workers"), ("[output]\nunits = 'US'\n[zones.plate]", "US"), ("[cases.X]\nkind = 'wind'\n[zones.plate]", "X"),
        ("[cases.G]\nkind = 'windy'\n[zones.plate]", "kind"), ("[cases.G]\nstage = true\n[zones.plate]", "stage"), ("[strips.t]\nzone = 'x'\nstart=[0,0,0]\nend=[1,0,0]\nwidth=1\n[zones.plate]", "zone"),
        ("[strips.t]\nzone = 'plate'\nstart=[0,0,0]\nend=[0,0,0]\nwidth=1\n[zones.plate]", "strips"), ("[punching.t]\nzone = 'plate'\nat=[[50,50,0]]\nc1=300\nc2=300\n[zones.plate]", "punching"),
        ("[zones.plate", "job.toml"), ("[zones.plate]\nf_ck = 20", "job.toml"), ("title = 1\n[zones.plate]", "job.toml"), ("\x00[zones.plate]", "job.toml"),
    )
]  # fmt: skip


@pytest.mark.parametrize(("old", "new", "word"), SETTINGS, ids=[f"{n.strip()[:60]}" for _, n, _ in SETTINGS])
def test_a_setting_that_will_not_do(broken, cli, old, new, word):
    job = broken / "job.toml"
    assert old in job.read_text()
    job.write_text(job.read_text().replace(old, new, 1))
    refused(cli, broken, word)


@pytest.mark.parametrize(
    ("kind", "value"),
    [("parquet", v) for v in (True, pd.Timestamp("2020-01-01"), pd.Timedelta(hours=5), None)]
    + [("xlsx", v) for v in (True, pd.Timestamp("2020-01-01"), dt.time(7), None, "#REF!")],
    ids=str,
)
def test_cells_of_other_kinds(broken, cli, kind, value):
    frame = pd.read_csv(broken / "reactions.csv").astype({"fz": object})
    if kind == "parquet" and value is not None:
        frame["fz"] = pd.Series([value] * len(frame))
    else:
        frame.loc[2, "fz"] = value
    if kind == "parquet":
        frame.to_parquet(broken / "reactions.parquet")
    else:
        frame.to_excel(broken / "reactions.xlsx", index=False)
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("reactions.csv", f"reactions.{kind}"))
    refused(cli, broken, f"reactions.{kind}", "column fz")


@pytest.mark.parametrize(
    ("cells", "word"),
    [
        (("10,5", "1.035"), "'1.035' is not written with decimal sign ','"),
        (("43,75", "1,035.0"), "thousands commas"),
        (("1.035,5", "10.35"), "'10.35' is not written"),
        (("1,035.5", "10,35"), "decimal comma"),
        (("1.035,5", "1.0.35,5"), "'1.0.35,5' is not written"),
        (("1,035", "2,050"), "may have a decimal or a thousands comma"),
    ],
)
def test_decimal_and_thousands_signs_are_not_mixed(broken, cli, cells, word):
    path = broken / "reactions.csv"
    lines = [line.replace(",", ";") for line in path.read_text().splitlines()]
    at = [line.rpartition(";")[0] + ";" + cells[i % 2] for i, line in enumerate(lines[1:])]
    path.write_text("\n".join([lines[0], *at]) + "\n")
    refused(cli, broken, word)
    path.write_text("\n".join([lines[0], *(line.rpartition(";")[0] + ";1.035,5" for line in lines[1:])]) + "\n")
    assert cli("run", broken / "job.toml", "--no-pictures")[0] == 0  # written alike they are read


@pytest.mark.parametrize(
    "key",
    [
        "direction = { angle = 5 }",
        "peaks = { width = 1 }",
        "averaging_strips = { x = [0, 1] }",
        "supports = 'found'",
        "groups = ['a']",
        "points = 'centres'",
    ],
)
def test_a_bare_table_takes_nothing_that_needs_places(tmp_path, cli, key):
    (tmp_path / "r.csv").write_text("case,point,nx,ny,nxy,mx,my,mxy,vx,vy\nG,1,0,0,0,20,0,0,0,0\n")
    (tmp_path / "job.toml").write_text(
        f'title = "t"\n[input]\nresultants = "r.csv"\n[zones.z]\nthickness = 200\n{key}\n[[combinations]]\nname = "u"\nsituation = "persistent"\nfactors = {{ G = 1 }}\n'
    )
    refused(cli, tmp_path, key.split()[0], "bare table")


def test_a_listed_combination_draws_from_one_result_set(broken, cli):
    job = broken / "job.toml"
    text = job.read_text().replace("factors = { G = 1.35, Q = 1.5 }", 'factors = { G = 1.35, "soft/Q" = 1.5 }')
    job.write_text(text + '[sets.soft]\nresultants = "resultants.csv"\n')
    refused(cli, broken, "adds cases of 2 result sets")


@pytest.mark.parametrize(
    "name", ["[/]", "[east]", "[bold red]x", "$x_{$", "a/b", "=1+2", "-x", "x;y", "'q\"", "\\u2028"]
)
def test_names_are_harmless(broken, cli, name):
    """Whatever signs a name holds, it is printed as it is, drawn, and no formula in a table."""
    job = broken / "job.toml"
    quoted = '"' + name.replace('"', '\\"') + '"'
    text = (
        job.read_text().replace("[zones.plate]", f"[zones.{quoted}]").replace('"plate"', quoted).replace('"U1"', quoted)
    )
    job.write_text(text.replace("[strips.s]", f"[strips.{quoted}]").replace("[punching.c]", f"[punching.{quoted}]"))
    job.write_text(job.read_text() + "[output]\ncsv = true\n")
    pictures = () if name in ("[/]", "$x_{$") else ("--no-pictures",)
    code, out, err = cli("run", job, *pictures)
    assert (code, err) == (0, "")
    assert name.startswith("\\") or name in out
    csv = pd.read_csv(broken / "results" / "steel.csv", dtype=str)
    assert csv["zone"].str.match(r"[^=+\-@]").all()
    assert code == 0
    assert cli("explain", job, "--point", "1")[0] == 0


@pytest.mark.parametrize("text", ["\\u001b[31m", "a\\u0007", "\\u0000"])
def test_control_characters_are_refused(broken, cli, text):
    job = broken / "job.toml"
    job.write_text(job.read_text().replace('name = "U1"', f'name = "{text}"'))
    refused(cli, broken, "control character")
    assert "\x1b" not in cli("run", job)[2]


def test_other_marks_and_endings_are_read(broken, cli):
    job = broken / "job.toml"
    (broken / "nodes.csv").rename(broken / "NODES.CSV")
    job.write_text("\ufeff" + job.read_text().replace("nodes.csv", "NODES.CSV"), "utf-8")
    assert cli("run", job, "--no-pictures")[0] == 0


def test_faults_of_the_program_end_in_a_word(broken, cli, monkeypatch):
    import sandwich.commands.run

    for error, code, word in (
        (ZeroDivisionError("division"), 70, "a fault of the program: ZeroDivisionError division"),
        (
            OSError(28, "No space left on device", "x.csv"),
            2,
            "x.csv: cannot be read or written (No space left on device)",
        ),
    ):
        monkeypatch.setattr(sandwich.commands.run, "execute", lambda *_a, e=error, **_k: (_ for _ in ()).throw(e))
        found, out, err = cli("run", broken / "job.toml")
        assert found == code
        assert word in err
        assert "Traceback" not in out + err


def test_an_interruption_is_quiet(broken):
    import signal
    import subprocess
    import sys

    script = (
        "import sys, time, sandwich.commands.run as r\nr.execute = lambda *a, **k: (print('now', flush=True), time.sleep(30))\n"
        "from sandwich.cli import main\nsys.argv = ['sandwich', 'run', sys.argv[1]]\nmain()"
    )
    with subprocess.Popen(
        [sys.executable, "-c", script, str(broken / "job.toml")], stdout=-1, stderr=-1, text=True
    ) as run:
        assert run.stdout.readline() == "now\n"
        run.send_signal(signal.SIGINT)
        _, err = run.communicate(timeout=20)
    assert run.returncode == 130
    assert err == "stopped; a next run clears what is left\n"


@pytest.mark.parametrize(
    ("edit_it", "words"),
    [
        (lambda t: t.replace("fz\n", "fz,fz\n", 1).replace("0\n", "0,0\n"), ["reactions.csv", "stands twice"]),
        (lambda t: t.replace("case,node,fx,fy,fz", "case,node,fx,n5,fz"), ["has no column 'fy'"]),
        (lambda t: t.replace(",10\n", ",1e300\n", 1), ["1e+300", "nothing measures"]),
    ],
)
def test_columns_twice_and_numbers_of_nothing(broken, cli, edit_it, words):
    path = broken / "reactions.csv"
    path.write_text(edit_it(path.read_text()))
    refused(cli, broken, *words)


@pytest.mark.parametrize(
    ("lines", "word"),
    [
        ("[input.reactions]\nfile = 'reactions.csv'\ncolumns = { fx = 'fz' }\n", "'fz' is fx and fz"),
        (
            "[punching.d]\nzone = 'plate'\nat = [[1, 1, 0], [1, 1, 0]]\nc1 = 200\nc2 = 200\n",
            "overlap; use one loaded area",
        ),
        ("[punching.d]\nzone = 'plate'\nat = [[1.2, 1, 0]]\nc1 = 200\nc2 = 200\n", "overlap; use one loaded area"),
        ("[tendons.t]\nzone = 'plate'\ntable = 't.csv'\nduct = 60\n", "no case is prestress"),
    ],
)
def test_entries_that_cannot_stand_together(broken, cli, lines, word):
    job = broken / "job.toml"
    text = job.read_text()
    if lines.startswith("[input.reactions]"):
        text = text.replace('reactions = "reactions.csv"\n', "")
    (broken / "t.csv").write_text("tendon,x,y,z\nT,0,1,0\nT,3,1,0\n")
    job.write_text(text + lines)
    refused(cli, broken, word)


def test_extra_bars_elsewhere_and_a_fifth_node(broken, cli):
    job = broken / "job.toml"
    extra = 'additional = [{ layer = "bottom x", diameter = 12, spacing = 100, polygon = [[50,50,0],[51,50,0],[51,51,0]] }]\n'
    text = job.read_text()
    job.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\n{extra}"))
    refused(cli, broken, "holds no point of the zone")
    job.write_text(text)
    path = broken / "elements.csv"
    lines = path.read_text().splitlines()
    path.write_text("\n".join([lines[0] + ",n5", *(line + ",1" for line in lines[1:])]) + "\n")
    refused(cli, broken, "five nodes")


@pytest.mark.parametrize(
    ("zone", "more", "words"),
    [
        ("averaging_strips = { x = [50, 60], y = [70, 80] }", "", "its strips hold no point of the zone"),
        ("supports = [{ line = [[50, 0, 0], [50, 4, 0]], width = 200 }]", "", "no point of the zone is near it"),
        ("", "[actions.wind]\nboth_ways = true\n", "actions are for rules of combination"),
        ("minimum = 'slab'\nvertical = 'x'", "", "vertical: has no use with minimum"),
        ("shear_factor = 1.5", "", "shear_factor: there is no seismic combination for it"),
        ("", "[storeys]\nnames = ['a']\n", "storeys are those of walls"),
        ("offset = 20", "[walls.w]\nzones = ['plate']\n", "zone plate has an offset, and cuts go by"),
        (
            "shell = false\nminimum = 'wall'",
            "[walls.w]\nzones = ['plate']\n",
            "minimum, bars are for the design of a shell",
        ),
        ("", "[input.signs]\nnodal_forces_act_on = 'nodes'\n", "nodal_forces_act_on is for nodal_forces"),
        (
            "rule = {}\nlimits = { bar_ratio = 0.03 }",
            "",
            "none of its bars fits a thickness of 250 mm with bars up to 7.5",
        ),
        ("minimum = 'slab'\nrule = { spacing_min = 425, spacing_max = 500 }", "", "none of its spacings is allowed"),
        ("service = { widths = { frequent = { bottom = 0.2 } } }", "", "widths.frequent.top: is missing"),
        (
            "service = { fct_eff_ratio = 0.5 }",
            "[design]\nstandard = 'ACI 318-19'\n",
            "fct_eff_ratio: ACI 318-19 (SI) has no use",
        ),
        ("service = { widths = { frequent = { bottom = 0.2, top = { x = 0.1 } } } }", "", "frequent.top.y: is missing"),
        ("", "[rules]\ncode = 'IS 456:2000'\nS_DS = 1.0\n", "rules.S_DS: IS 456:2000 has no use for it"),
        ("", "[rules]\ncode = 'ASCE 7-16'\nultimate = '6.10'\n", "rules.ultimate: ASCE 7-16 has no use for it"),
        ("", "[rules]\ncode = 'ASCE 7-16'\nsituations = ['frequent']\n", "ASCE 7-16 has no frequent combinations"),
        ("", "[punching.d]\nzone = 'plate'\nat = [[1, 1, 0]]\nc1 = 1e300\nc2 = 200\n", "give a number up to 1e+15"),
    ],
)
def test_settings_that_nothing_uses_are_refused(broken, cli, zone, more, words):
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{zone}\n") + more)
    refused(cli, broken, words)


@pytest.mark.parametrize(
    ("zone", "words"),
    [('supports = "found"', "no wall meets it in the mesh"), ("peaks = { width = 1 }", "no peak is found")],
)
def test_searches_without_a_find_are_warnings(tmp_path, cli, zone, words):
    job = write_plate(tmp_path)
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{zone}\n"))
    axes = ["element,xx,xy,xz,zx,zy,zz", *(f"{100 + k},1,0,0,0,0,1" for k in range(12))]
    (tmp_path / "axes.csv").write_text("\n".join(axes) + "\n")
    job.write_text(job.read_text().replace("[input]\n", '[input]\naxes = "axes.csv"\n'))
    out = " ".join(cli("inspect", job, "--no-pictures")[1].split())
    assert words in out
    assert "there is no element 109 and 2 more" in out


def test_a_support_between_the_points_of_a_coarse_mesh_is_no_mistake(broken, cli):
    job = broken / "job.toml"
    line = "supports = [{ line = [[0.5, 0, 0], [0.5, 3, 0]], width = 100 }]"
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{line}\n"))
    assert cli("run", job, "--no-pictures")[0] == 0


def test_a_narrow_terminal_cuts_no_verdict(broken, cli, monkeypatch):
    monkeypatch.setenv("COLUMNS", "80")
    rule = "rule = { diameters = [8, 10] }\nminimum = 'wall'\n"
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{rule}"))
    monkeypatch.setattr("sys.stdout.isatty", lambda: False, raising=False)
    out = cli("run", job, "--no-pictures")[1]
    assert "utilisation" in out
    assert "…" not in out


@pytest.mark.parametrize("far", [None, (1048576, 16384), (1048576, 1), (9, 16384)])
def test_a_workbook_of_nothing_or_of_far_cells(broken, cli, far):
    rows = pd.read_csv(broken / "resultants.csv")
    with pd.ExcelWriter(broken / "resultants.xlsx", engine="openpyxl") as book:
        (rows if far else rows.iloc[:0, :0]).to_excel(book, index=False)
        if far:
            book.book.active.cell(*far, "x")
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("resultants.csv", "resultants.xlsx"))
    code, _, err = cli("run", job)
    assert code == 2
    assert ("cells reach to column" if far else "its sheets are empty") in " ".join(err.split())
    if far:
        assert "cells reach to column" in " ".join(
            cli("new", broken / "new", "--from", broken / "resultants.xlsx")[2].split()
        )


def test_a_folder_of_texts_is_no_table(broken, cli):
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("resultants.csv", "."))
    refused(cli, broken, "holds no Parquet table", "name the files in it")


def test_sides_that_cross_and_odd_words_of_cases(broken, cli):
    path = broken / "nodes.csv"
    plain = path.read_text()
    path.write_text(plain.replace("6,1.0,1.0,0", "6,2.6,0.2,0"))
    refused(cli, broken, "elements.csv, row", "cross; give the nodes in their order")
    path.write_text(plain)
    (broken / "cases.csv").write_text("case,kind,signed\nG,permanent,perhaps\nQ,imposed,yes\n")
    job = broken / "job.toml"
    job.write_text(job.read_text().replace("[input]\n", '[input]\ncases = "cases.csv"\n'))
    refused(cli, broken, "cases.csv, row 2", "true or false is wanted")


ODD = (
    "0", "-1", "1e300", "nan", "inf", "true", '""', '"x"', "[]", "{}", "[1]", "[[1]]", "1e-300", "2024-01-01",
    "99999999999999999999", '"[/]"', '"../.."', "{ a = 1 }", '"found"', "-0.0", '"\u00e9"', '["a", "a"]', "1e5",
)  # fmt: skip
CELLS = ("", "nan", "inf", "-1", "0", "1e300", "x", "1,5", "1e-300", "99999999999", "=1+1", "true", "2024-01-01", '"a')


@given(st.data())
def test_any_change_of_the_job_or_its_tables_ends_in_a_word(sound, data):
    """Exit 0 or 2 and no NumPy warning, which would be an error here; no steel that is not a number and is called ok."""
    name = data.draw(st.sampled_from(["job.toml", "job.toml", "nodes.csv", "elements.csv", "resultants.csv"]))
    with tempfile.TemporaryDirectory() as folder:
        where = Path(folder) / "job"
        shutil.copytree(sound, where)
        lines = (where / name).read_text().splitlines()
        k = data.draw(st.integers(0, len(lines) - 1))
        if name == "job.toml":
            head, sign, tail = lines[k].partition("=")
            parts = [m.span() for m in re.finditer(r'-?\d+(\.\d+)?|"[^"]*"|\[[^\[\]]*\]', tail)] or [(0, len(tail))]
            start, end = data.draw(st.sampled_from(parts))
            lines[k] = head + sign + tail[:start] + data.draw(st.sampled_from(ODD)) + tail[end:] if sign else ""
        else:
            cells = lines[k].split(",")
            cells[data.draw(st.integers(0, len(cells) - 1))] = data.draw(st.sampled_from(CELLS))
            lines[k] = ",".join(cells)
        (where / name).write_text("\n".join(lines) + "\n")
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err), pytest.MonkeyPatch.context() as patch:
            patch.setattr("sys.argv", ["sandwich", "run", str(where / "job.toml"), "--no-pictures"])
            try:
                main()
                code = 0
            except SystemExit as stop:
                code = stop.code or 0
        assert code in (0, 2), err.getvalue()
        if code == 2:
            assert not any(word in err.getvalue() for word in ("pydantic", "literal[", "function-", "Traceback"))
            assert not list(where.glob("results/*.parquet"))
            return
        for table in where.glob("*/steel.parquet"):
            steel = pd.read_parquet(table)
            assert not (steel["required [mm2/m]"].isna() & (steel["status"] == "ok")).any()


def test_an_element_drawn_twice_is_grave(broken, cli):
    elements, rows = broken / "elements.csv", broken / "resultants.csv"
    own = elements.read_text().splitlines()[1].split(",")
    twice = [v.replace(f",{own[0]},", ",999,", 1) for v in rows.read_text().splitlines() if f",{own[0]}," in v]
    elements.write_text(elements.read_text() + ",".join(["999", *own[1:]]) + "\n")
    rows.write_text(rows.read_text() + "\n".join(twice) + "\n")
    code, out, err = cli("run", broken / "job.toml", "--no-pictures")
    assert code == 0
    assert f"2 elements lie on another one (elements {own[0]}, 999;" in " ".join((out + err).split())


@pytest.mark.parametrize(
    ("connected", "width", "first", "word"),
    [
        (77, 1, 1, "names point 77 of 9"), (-3, 1, 1, "names point -3 of 9"), (0, 3, 1, "holds 3 numbers each"),
        (0, 1, np.nan, "array node_id: found nan"), (0, 1, 2, "node 2 lies in two places"),
    ],
)  # fmt: skip
def test_a_mesh_file_that_does_not_hold_together(tmp_path, cli, connected, width, first, word):
    import meshio

    points = np.array([[i, j, 0.0] for i in range(3) for j in range(3)])
    quads = np.array([[connected, 3, 4, 1], [3, 6, 7, 4], [1, 4, 5, 2], [4, 7, 8, 5]])
    values = {f"{c}:{k}": np.ones(9) for c in "GQ" for k in ("nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy")}
    values["G:nx"] = np.ones((9, width)).squeeze()
    values["node_id"] = np.array([first, *range(2, 10)])
    meshio.Mesh(points, [("quad", quads)], point_data=values).write(tmp_path / "m.vtu")
    job = write_plate(tmp_path)
    tables = 'nodes = "nodes.csv"\nelements = "elements.csv"\nresultants = "resultants.csv"'
    text = job.read_text().replace(tables, 'mesh = "m.vtu"').replace('groups = ["a"]', "all = true\nthickness = 250")
    job.write_text(text)
    refused(cli, tmp_path, "m.vtu", word)
