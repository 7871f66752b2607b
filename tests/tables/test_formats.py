"""Tables as they are really written: whatever the dialect, the same numbers come out, and what was noticed is said."""

import gzip
import re

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import PLATE, write_plate
from sandwich import InputError, load_job, run_job
from sandwich.core.resultants import COMPONENTS
from sandwich.job import from_dict
from sandwich.tables.assemble import read_job

REQUIRED = "required [mm2/m]"


def rewrite(name, change, key=""):
    """Write a table of the plate in another way and tell the job of it."""

    def apply(folder):
        file = change(folder, (folder / f"{name}.csv").read_text())
        job = (folder / "job.toml").read_text()
        entry = f'{name} = {{ file = "{file}", {key} }}' if key else f'{name} = "{file}"'
        (folder / "job.toml").write_text(job.replace(f'{name} = "{name}.csv"', entry))

    return apply


def save(name, data):
    def write(folder, text):
        made = data(text)
        (folder / name).write_bytes(made if isinstance(made, bytes) else made.encode())
        return name

    return write


def office(text):
    """Semicolons, decimal commas, lines above, a row of units, pages that repeat the header, a closing line."""
    head, *rows = text.replace(".", ",").replace(",", ";", 0).splitlines()
    cells = [r.split(",") for r in text.splitlines()]
    rows = [";".join(c.replace(".", ",") for c in r) for r in cells[1:]]
    head = ";".join(cells[0])
    unit = ";;;" + ";".join(["kN/m"] * 3 + ["kNm/m"] * 3 + ["kN/m"] * 2)
    page = ["Project;Plate", "", head, unit]
    return (
        "\r\n".join([*page, *rows[:30], "Page 2;;;;;;;;;;", head, unit, *rows[30:], "", "End of table;72 rows"])
        + "\r\n"
    )


def partitioned(folder, _text):
    table = pd.read_csv(folder / "resultants.csv")
    table.to_parquet(folder / "parts", partition_cols=["case"])
    return "parts"


WRITTEN = {
    "office": (rewrite("resultants", save("r.txt", lambda t: b"\xef\xbb\xbf" + office(t).encode())),
               ["byte-order mark", "CR LF", "separator ';'", "decimal comma", "2 lines above the header", "rows 4, 37: a row of units", "row 36: the header again", "rows 35, 81: a line of text"]),
    "gzip and tabs": (rewrite("resultants", save("r.tsv.gz", lambda t: gzip.compress(t.replace(",", "\t").encode()))), ["separator 'tab'"]),
    "blanks and pipes": (lambda f: (rewrite("nodes", save("n.txt", lambda t: t.replace(",", "   ")))(f),
                                    rewrite("elements", save("e.dat", lambda t: t.replace(",", " | ")))(f)), ["separator 'blanks'", "separator '|'"]),
    "utf-16": (rewrite("resultants", save("r.csv", lambda t: t.encode("utf-16"))), ["byte-order mark"]),
    "windows": (rewrite("nodes", save("n.csv", lambda t: ("Stra\xdfe\n" + t).encode("cp1252"))), ["read as Windows-1252", "1 lines above"]),
    "thousands": (rewrite("nodes", save("n.csv", lambda t: "node;x;y;z\n" + "\n".join(
        f"{a};{float(x) * 1000:,.2f};{float(y) * 1000:,.2f};{z}" for a, x, y, z in (r.split(",") for r in t.splitlines()[1:]))),
        'units = { length = "mm" }'), ["thousands sign ','"]),
    "partitioned": (rewrite("resultants", partitioned), ["several files"]),
    "a file a case": (lambda f: (
        [(f / f"{c}.csv").write_text("\n".join([t[0].partition(",")[2]] + [r.partition(",")[2] for r in t[1:] if r.startswith(c)]))
         for t in [(f / "resultants.csv").read_text().splitlines()] for c in "GQ"],
        (f / "job.toml").write_text((f / "job.toml").read_text().replace(
            'resultants = "resultants.csv"', 'resultants = { file = ["G.csv", "Q.csv"], case_from = "file" }'))), []),
    "thickness by element": (lambda f: (
        rewrite("elements", save("e.csv", lambda t: "\n".join(",".join(r.split(",")[:5]) for r in t.splitlines())))(f),
        (f / "extra.csv").write_text("element,thickness,group\n" + "".join(f"{100 + k},25,a\n" for k in range(9))),
        (f / "job.toml").write_text((f / "job.toml").read_text().replace(
            "[zones.plate]", 'assignments = { file = "extra.csv", units = { thickness = "cm" } }\n[zones.plate]'))),
        ["gives thickness, group to 9 elements by element"]),
    "results at centres": (rewrite("resultants", save("c.csv", lambda t: "\n".join(
        [t.splitlines()[0].replace("node,", "")] + [",".join(np.delete(r.split(","), 2)) for r in t.splitlines()[1::4]])),
        'at = "centres"'), ["results at element centres"]),
    "results at nodes": (lambda f: rewrite("resultants", save("c.csv", lambda _: pd.read_csv(f / "resultants.csv").drop(
        columns="element").drop_duplicates(["case", "node"]).to_csv(index=False)), 'at = "nodes"')(f), ["results at nodes"]),
}  # fmt: skip


@pytest.mark.parametrize("name", WRITTEN)
def test_any_way_of_writing_gives_the_same(name, tmp_path):
    plain, other = tmp_path / "plain", tmp_path / "other"
    plain.mkdir()
    other.mkdir()
    want = run_job(write_plate(plain), pictures=False)
    job = write_plate(other)
    change, words = WRITTEN[name]
    change(other)
    got = run_job(job, pictures=False)
    assert_allclose(got.steel[REQUIRED], want.steel[REQUIRED], rtol=1e-12)
    notes = "; ".join(n for of in got.project.results.notes.values() for n in of)
    for word in words:
        assert word in notes


def job_line(old, new):
    return lambda f: (f / "job.toml").write_text((f / "job.toml").read_text().replace(old, new))


REFUSED = {
    "row of units": (rewrite("resultants", save("r.txt", lambda t: office(t).replace("kNm/m", "kip-ft/ft"))),
                     ["column mx: the row of units says 'kip-ft/ft', the job says 'kN*m/m'", 'units = { moment = "kip-ft/ft" }']),
    "comma of either kind": (rewrite("nodes", save("n.csv", lambda t: t.replace(",", ";").replace(";1.0;", ";1,250;").replace(";2.0;", ";2,250;"))),
                             ["'1,250' may have a decimal or a thousands comma", "declare decimal"]),
    "no such sheet": (lambda f: (pd.DataFrame({"a": [1]}).to_csv(f / "x.csv"), job_line('"nodes.csv"', '{ file = "x.csv", header_row = 9 }')(f)),
                      ["header_row = 9 is past its 2 lines"]),
    "more fields than the header": (lambda f: (f / "nodes.csv").write_text((f / "nodes.csv").read_text().replace("2,0.0,1.0,0", "2,0.0,1,5,0")),
                                    ["nodes.csv, row 3: has more fields than the header (4)", "decimal commas"]),
    "sheet of a text": (job_line('"nodes.csv"', '{ file = "nodes.csv", case_from = "sheet" }'), ["nodes.csv: is no workbook"]),
    "no text": (lambda f: (f / "nodes.csv").write_bytes(b"node,x\0,y,z"), ["nodes.csv: is not UTF-8 text"]),
    "no parquet": (lambda f: ((f / "parts").mkdir(), job_line('"nodes.csv"', '"parts"')(f)), ["parts: holds no Parquet table"]),
    "unknown encoding": (job_line('"nodes.csv"', '{ file = "nodes.csv", encoding = "klingon" }'), ["'klingon' is no known encoding"]),
    "case of another name": (job_line("[zones.plate]", '[input.case_names]\n"Gg" = "X"\n[zones.plate]'), ["input.case_names: no case is called 'Gg'"]),
    "a set without rows": (job_line("[zones.plate]", '[sets.soft]\nresultants = "none.csv"\n[zones.plate]'), ["none.csv: no such file"]),
    "property without a row": (lambda f: (
        rewrite("elements", save("e.csv", lambda t: t.replace("thickness", "property").replace("0.25", "W25")))(f),
        (f / "p.csv").write_text("property,thickness\nW30,0.3\n"), job_line("[zones.plate]", 'properties = "p.csv"\n[zones.plate]')(f)),
        ["p.csv: no property 'W25', which element 100 has"]),
    "node values of turned axes": (lambda f: (WRITTEN["results at nodes"][0](f), (f / "axes.csv").write_text(
        "element,xx,xy,xz,zx,zy,zz\n" + "".join(f"{100 + i},{'1,0' if i else '0,1'},0,0,0,1\n" for i in range(9))),
        job_line("[zones.plate]", 'axes = "axes.csv"\n[zones.plate]')(f)), ["has one value for elements 100 and", "whose axes differ"]),
}  # fmt: skip


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_told_is_refused(name, plate):
    change, words = REFUSED[name]
    change(plate.parent)
    with pytest.raises(InputError) as error:
        run_job(plate, pictures=False)
    for word in words:
        assert word in str(error.value)


def test_gaps_are_left_out_case_by_case(plate):
    folder = plate.parent
    table = pd.read_csv(folder / "resultants.csv")
    at = (table["element"] == 100) & (table["node"] == 6) & (table["case"] == "G")
    table.loc[at, "mx"] = np.nan
    table = table.drop(table.index[(table["element"] == 104) & (table["case"] == "Q")])
    table.to_csv(folder / "resultants.csv", index=False)
    plate.write_text(plate.read_text().replace("[zones.plate]", 'missing = "leave out"\n[zones.plate]'))
    result = run_job(plate, pictures=False)  # constant values: the mean of fewer corners is the same
    assert result.steel[REQUIRED].groupby(result.steel["layer"]).std().max() < 1e-9
    assert sum("left out" in str(d) or "no row" in str(d) for d in result.warnings) == 2


def test_sets_are_combined_apart_and_have_their_own_units(plate):
    folder = plate.parent
    table = pd.read_csv(folder / "resultants.csv")
    table[list(COMPONENTS)] *= 2.0 / 1e3
    table.to_csv(folder / "soft.csv", index=False)
    soft = 'resultants = "soft.csv"\nunits = { membrane = "MN/m", moment = "MN*m/m", shear = "MN/m" }\n'
    more = '[[combinations]]\nname = "U2"\nset = "soft"\nsituation = "persistent"\nfactors = { G = 1.35, Q = 1.5 }\n'
    plate.write_text(plate.read_text().replace("[zones.plate]", f"[sets.soft]\n{soft}[zones.plate]") + more)
    result = run_job(plate, pictures=False)
    assert result.project.results.cases == ("G", "Q", "soft/G", "soft/Q")
    factors = result.combinations.factors[[r.name in ("U1", "U2") for r in result.combinations.rows]]
    assert_allclose(factors, [[1.35, 1.5, 0, 0], [0, 0, 1.35, 1.5]])
    one = result.zones[0].cases[0]
    assert_allclose(one[2:], 2.0 * one[:2], rtol=1e-12)
    assert set(result.steel["combination"]) <= {"U2", ""}


def test_magnitudes_are_bounded_or_take_the_signs_of_a_mode(plate):
    folder = plate.parent
    table = pd.read_csv(folder / "resultants.csv")
    quake = table[table["case"] == "Q"].assign(case="E")
    quake[list(COMPONENTS)] = quake[list(COMPONENTS)].abs()
    pd.concat([table, quake]).to_csv(folder / "resultants.csv", index=False)
    job = PLATE.replace("groups", 'direction = { angle = 30 }\nunsigned = "bound"\ngroups')
    seismic = '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 1.0, E = 1.0 }\n'
    plate.write_text(job + "[cases.E]\nsigned = false\n" + seismic)
    result = run_job(plate, pictures=False)
    assert result.combinations.frame().set_index("combination").loc["E", "sign patterns"] == 256
    nx, ny, nxy = 30.0, 20.0, 15.0
    c, s = np.cos(np.radians(30)), np.sin(np.radians(30))
    own = [i for i, k in enumerate(result.combinations.columns) if k.component == "nx"]
    assert_allclose(result.zones[0].cases[:, own, 0], c * c * nx + s * s * ny + 2 * s * c * nxy, rtol=1e-9)
    assert any("256 sign patterns are combined" in str(d) for d in result.warnings)
    worst = result.steel.groupby("layer")[REQUIRED].max()
    # with the signs of Q the magnitudes are Q again: never more than all patterns
    plate.write_text(job + '[cases.E]\nsigned = false\nsigns_from = "Q"\n' + seismic)
    signed = run_job(plate, pictures=False)
    assert_allclose(signed.zones[0].cases[:, 2], signed.zones[0].cases[:, 1], rtol=1e-12)
    assert np.all(signed.steel.groupby("layer")[REQUIRED].max() <= worst + 1e-9)
    assert any("not conservative" in str(d) for d in signed.warnings)


def test_a_job_names_its_files(tmp_path):
    job = load_job(write_plate(tmp_path))
    assert job.files == ("nodes.csv", "elements.csv", "resultants.csv")
    bare = {"title": "T", "zones": {"z": {}}, "input": {"resultants": ["a", "b"]}}
    with pytest.raises(InputError, match=r"input\.resultants"):
        from_dict(bare, tmp_path / "job.toml")
    with pytest.raises(InputError, match="no resultants"):
        from_dict({**bare, "input": {}}, tmp_path / "job.toml")
    assert read_job(job).notes == {"nodes": [], "elements": [], "resultants": []}


def mesh_file(folder, **arrays):
    """Three elements of a VTU file that share no points, with results in cell arrays; the job names it alone."""
    import meshio

    places = np.array(
        [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [1, 0, 0], [2, 0, 0], [2, 1, 0], [1, 0, 0], [2, 1, 0], [1, 1, 0.0]]
    )
    cells = [
        ("quad", np.array([[0, 1, 2, 3]])),
        ("triangle", np.array([[4, 5, 6], [7, 8, 9]])),
        ("line", np.array([[0, 1]])),
    ]
    data = {name: [np.full(1, v), np.full(2, v), np.full(1, v)] for name, v in arrays.items()}
    meshio.write(folder / "model.vtu", meshio.Mesh(places, cells, cell_data=data))
    text = (folder / "job.toml").read_text()
    text = re.sub(r"(?m)^(nodes|elements) = .*\n", "", text).replace(
        'resultants = "resultants.csv"', 'mesh = "model.vtu"'
    )
    text = (
        text.replace('groups = ["a"]', 'all = true\ndirection = { along = "vector" }')
        .replace(", Q = 1.5", "")
        .replace(", Q = 0.5", "")
    )
    (folder / "job.toml").write_text(text)


def test_a_mesh_file_without_numbers_is_joined_by_place(plate):
    values = dict(zip(COMPONENTS, (60.0, 60, 0, 35, 35, 0, 25, 10), strict=True))  # the same in any axes
    mesh_file(plate.parent, thickness=0.25, **{f"G:{c}": v for c, v in values.items()})
    result = run_job(plate, pictures=False)
    assert sorted(result.points["point"]) == ["1", "2", "3", "4", "5", "6"]
    notes = "; ".join(result.project.results.notes["nodes"])
    assert "10 points joined to 6 nodes by their place" in notes
    assert "1 cells of type line left out" in notes
    steel = result.steel.groupby("layer")[REQUIRED]
    assert steel.max().to_numpy() == pytest.approx(steel.min().to_numpy())
    mesh_file(plate.parent, thickness=0.25, other=1.0)
    with pytest.raises(InputError, match=r"model\.vtu holds no results; see input\.mesh\.arrays"):
        run_job(plate, pictures=False)
    (plate.parent / "model.vtu").write_text("<x>")
    with pytest.raises(InputError, match="cannot be read"):
        run_job(plate, pictures=False)
    for old, words in (
        ('"{case}{case}"', "a pattern like"),
        ('{ file = "m.vtu", components = { sxx = "a" } }', "no component 'sxx'"),
    ):
        entry = old if old.startswith("{ ") else f'{{ file = "m.vtu", arrays = {old} }}'
        plate.write_text(re.sub(r"mesh = .*", lambda _, e=entry: f"mesh = {e}", plate.read_text()))
        with pytest.raises(InputError, match=words):
            load_job(plate)
