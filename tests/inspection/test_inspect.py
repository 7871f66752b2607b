"""Inspection of real shell results: sound ones raise no warning, broken copies are named, other exports design alike."""

import re

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from pump_wall import COMBINATIONS, KIPFT, MESH_FILE, PLAIN, WALL, WORKBOOK, ZONE, write_wall
from sandwich import run_job

REQUIRED = "required [mm2/m]"


@pytest.fixture(scope="module")
def plain(tmp_path_factory):
    """Steel of the plain export by point and layer."""
    result = run_job(write_wall(tmp_path_factory.mktemp("plain")), pictures=False)
    return result.steel.astype({"point": int}).set_index(["point", "layer"])[REQUIRED]


def test_sound_results_raise_no_warning(cli, tmp_path):
    code, out, err = cli("inspect", write_wall(tmp_path))
    assert (code, err) == (0, "")
    assert "No warnings: axes, neighbours, slopes, supports and sizes agree." in out
    folder = tmp_path / "results" / "inspection"
    assert {"axes_wall.png", "zones.png", "inspection.html"} <= {f.name for f in folder.iterdir()}
    cases = pd.read_parquet(folder / "cases.parquet").set_index("case")
    assert cases.loc["SW", "reactions z [kN]"] == pytest.approx(743.2031, rel=1e-4)  # its weight
    ranges = pd.read_parquet(folder / "ranges.parquet").set_index("case")
    assert ranges.loc["EP", "my minimum [kNm/m]"] < -200.0 < 0.0 <= ranges.loc["EP", "my maximum [kNm/m]"] + 100.0


@pytest.mark.parametrize("source", [MESH_FILE, WORKBOOK], ids=["mesh file", "workbook"])
def test_other_formats_design_to_the_same_steel(source, plain, tmp_path):
    steel = run_job(write_wall(tmp_path, source), pictures=False).steel.astype({"point": int})
    got = steel.set_index(["point", "layer"])[REQUIRED].reindex(plain.index)
    assert_allclose(got, plain, rtol=1e-4, atol=0.06)  # five digits


def test_the_other_office_designs_to_the_same_steel_and_every_quirk_is_named(cli, plain, tmp_path):
    job = write_wall(tmp_path, KIPFT)
    code, out, err = cli("inspect", job, "--no-pictures")
    assert code == 0
    assert "175 elements have their normal on the other side" in err.replace("\n         ", " ")
    for words in ("175 of 1153 elements have their normal", "84 by +180 degrees, 156 by +270 degrees", "row 12304 left out",
                  "no row for case EP, element 1101, node 7203 and 11 more"):  # fmt: skip
        assert words in out
    tables = pd.read_parquet(tmp_path / "results" / "inspection" / "tables.parquet").set_index("table")[
        "how it is written"
    ]
    for words in ("byte-order mark", "CR LF", "separator ';'", "decimal comma", "8 lines above the header", "row 10: a row of units",
                  "row 27673: a line of text ('End of table 27661 rows')", "cases renamed: Eigengewicht Wand = SW"):  # fmt: skip
        assert words in tables["resultants"]
    assert "gives thickness to 1153 elements by property" in tables["properties"]
    steel = run_job(job, pictures=False).steel.astype({"point": int})
    steel["point"] -= 7000
    got = steel.set_index(["point", "layer"])[REQUIRED].reindex(plain.index)
    gaps = {203, 204, 252, 253, 440, 441, 489, 490, 634}  # nodes of the elements with gaps
    whole = ~plain.index.get_level_values("point").isin(gaps)
    assert_allclose(got[whole], plain[whole], rtol=1e-4, atol=0.06)
    assert_allclose(got, plain, rtol=0.035)


def edit(table, change):
    """Change one table of the plain export; the job then names the copy."""

    def apply(folder, job):
        name = f"{table}.csv.gz" if table == "resultants" else f"{table}.csv"
        frame = pd.read_csv(WALL / "plain" / name)
        change(frame).to_csv(folder / f"{table}.csv", index=False)
        return job.replace(f"{WALL}/plain/{name}", f"{folder}/{table}.csv")

    return apply


def swap(old, new):
    def apply(_folder, job):
        assert old in job
        return job.replace(old, new)

    return apply


def scaled(factor, *columns):
    return lambda f: f.assign(**{c: f[c] * factor for c in columns})


def exchanged(a, b):
    return lambda f: f.rename(columns={a: b, b: a})


def block(frame, column="element"):
    """Elements in the middle of the wall."""
    return frame[column].between(1700, 1779)


def flipped(axes):
    axes.loc[block(axes), ["zx", "zy", "zz"]] *= -1
    return axes


def quarter(axes):
    axes.loc[block(axes), ["xx", "xy", "xz"]] = [0, 0, 1]
    return axes


RESULTS = "resultants"
BROKEN = {
    "unit of moments": (swap('moment = "kN*m/m"', 'moment = "kip*ft/ft"'), ["in size", "shear to slope of the moments: 0.224 times (the ratio of kip and kN)"]),
    "unit of membrane forces": (swap('moment = "kN*m/m"', 'membrane = "kip/ft"'),
                                ["membrane forces along the supported edges do not balance", "14.5 times (the ratio of kip/ft and kN/m)"]),
    "unit of lengths": (swap('moment = "kN*m/m"', 'length = "ft"'), ["shear to slope of the moments: 0.30", "(the ratio of ft and m)", "unit of moment, shear and length"]),
    "thickness in mm": (edit("elements", scaled(1000.0, "thickness")), ["not that of a wall or slab", "450000 mm", "mm read as m"]),
    "one sign": (edit(RESULTS, scaled(-1.0, "vx")), ["do not match the slope", "with vx with the other sign"]),
    "tension side of moments": (swap('"top"', '"bottom"'), ["all moments, or vx and vy, with the other sign"]),
    "sign of the twist": (edit(RESULTS, scaled(-1.0, "mxy")), ["mxy with the other sign"]),
    "sign of the membrane shear": (edit(RESULTS, scaled(-1.0, "nxy")), ["membrane forces are not in balance", "nxy with the other sign"]),
    "swapped moments": (edit(RESULTS, exchanged("mx", "my")), ["mx and my swapped"]),
    "swapped membrane forces": (edit(RESULTS, exchanged("nx", "ny")), ["nx and ny swapped"]),
    "flipped normals": (edit("local_axes", flipped), ["80 of 1153 elements have their normal", "one side is read turned over: elements 1700, 1701"]),
    "turned axes": (edit("local_axes", quarter), ["80 by +270 degrees", "read turned by 90 degrees: elements 1700"]),
    "missing corner": (edit(RESULTS, lambda f: f.drop(1000)), ["no row for case SW, element 1251, node 356", "leave these corners out"]),
    "not a number": (edit(RESULTS, lambda f: f.assign(my=f["my"].where(f.index != 77))), ["column my, row 79", "found empty or nan"]),
    "case without results": (edit(RESULTS, lambda f: f.assign(mx=f["mx"].where(f["case"] != "WP", 0), my=f["my"].where(f["case"] != "WP", 0),
                             mxy=f["mxy"].where(f["case"] != "WP", 0), vx=f["vx"].where(f["case"] != "WP", 0), vy=f["vy"].where(f["case"] != "WP", 0))),
                             ["case WP", "all its results are zero"]),
    "case in no combination": (swap("WP = 1.35, ", ""), ["not every case is in a combination", "in none: WP"]),
    "elements of no zone": (swap("all = true", 'groups = ["W3"]'), ["288 elements belong to no zone", "elements 1001"]),
    "bars of a thicker wall": (swap("cover_top = 40", "cover_top = 150"), ["the thickness hardly suits the bars", "51 mm from mid-depth"]),
}  # fmt: skip


@pytest.mark.parametrize("name", BROKEN)
def test_a_broken_copy_is_named(name, cli, tmp_path):
    change, words = BROKEN[name]
    job = tmp_path / "job.toml"
    job.write_text(change(tmp_path, PLAIN + ZONE + COMBINATIONS))
    code, out, err = cli("inspect", job, "--no-pictures")
    assert code == (2 if "missing" in name or "number" in name else 0)
    said = " ".join((out + err).split())
    for word in words:
        assert word in said, said[:3000]


@pytest.mark.parametrize("names", [["nx", "ny", "nxy"], ["mx", "my", "mxy", "vx", "vy"]])
def test_what_an_analysis_rounds_is_in_no_balance_and_told_nowhere(names, cli, tmp_path):
    """Forces of one kind alone, the others 1e-13 of a kN: no reading of these is looked for."""

    def rounded(frame):
        noise = np.random.default_rng(1).normal(size=(len(frame), len(names))) * 1e-13
        return frame.assign(**dict(zip(names, noise.T, strict=True)))

    job = tmp_path / "job.toml"
    text = edit(RESULTS, rounded)(tmp_path, PLAIN + ZONE + COMBINATIONS)
    job.write_text(re.sub(r"(?m)^reactions = .*\n", "", text))
    code, out, err = cli("inspect", job, "--no-pictures")
    assert (code, err) == (0, "")
    assert not re.search("balance|slope of|do not agree|jump across", out), out[:2000]


def test_magnitudes_without_signs_are_named_until_they_are_declared(plate, cli):
    table = plate.parent / "resultants.csv"
    head, *rows = table.read_text().splitlines()
    table.write_text("\n".join([head, *(r.replace(",-", ",") if r[0] == "Q" else r for r in rows)]) + "\n")
    for command in (("inspect", plate, "--no-pictures"), ("run", plate)):
        code, out, _ = cli(*command)
        assert code == 0
        assert "case Q: may be magnitudes without signs" in out.replace("\n", " ")
    assert "may be magnitudes without signs" in (plate.parent / "results" / "report.html").read_text()
    plate.write_text(plate.read_text() + "[cases.Q]\nsigned = true\n")
    assert "may be magnitudes" not in cli("inspect", plate, "--no-pictures")[1]


def test_seismic_cases_without_a_direction_are_named(plate, cli):
    text = plate.read_text().split("[[combinations]]")[0]
    plate.write_text(
        text + '[rules]\ncode = "EN 1990:2002"\n[cases.G]\nkind = "seismic"\n[cases.Q]\nkind = "seismic"\n'
    )
    assert "seismic cases act one at a time" in cli("inspect", plate, "--no-pictures")[1].replace("\n", " ")
    plate.write_text(plate.read_text() + 'direction = "x"\n')
    assert "cases G" in cli("inspect", plate, "--no-pictures")[1].replace("\n", " ")
