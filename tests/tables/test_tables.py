"""Reading and writing: stores, formats, identifiers, triangles, and faults between tables."""

import gzip
import itertools
import shutil

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import InputError, load_job, run_job
from sandwich.job import from_dict
from sandwich.tables.assemble import read_job
from sandwich.tables.columns import rows_text
from sandwich.tables.read import negated
from sandwich.tables.write import read_store, write_aside, write_store

REQUIRED = "required [mm2/m]"


def test_store_round_trip(tmp_path):
    cases = np.random.default_rng(0).normal(size=(20_000, 3, 8))
    points = pd.DataFrame({"point": [f"p{i}" for i in range(20_000)], "thickness": 250.0})
    write_store(tmp_path / "s.parquet", points, cases, ("G", "Q 1", "Wind, x"))
    back, values, names = read_store(tmp_path / "s.parquet")
    np.testing.assert_array_equal(values, cases)
    assert names == ("G", "Q 1", "Wind, x")
    assert back["point"].tolist() == points["point"].tolist()
    assert [f.name for f in tmp_path.iterdir()] == ["s.parquet"]


def test_a_file_appears_whole_or_not_at_all(tmp_path):
    def fails(aside):
        aside.write_text("half")
        raise RuntimeError("disk")

    (tmp_path / "f").write_text("old")
    with pytest.raises(RuntimeError, match="disk"):
        write_aside(tmp_path / "f", fails)
    assert (tmp_path / "f").read_text() == "old"
    assert len(list(tmp_path.iterdir())) == 1


def test_small_words():
    assert rows_text([7]) == "row 7"
    assert rows_text(range(2, 12)) == "rows 2, 3, 4, 5, 6 and 5 more"
    assert negated("bottom", ["vx"]) == {"vx"}
    assert negated("top", ["mx", "vx"]) == {"my", "mxy", "vx"}


def test_parquet_text_identifiers_and_swapped_rows_give_the_same(tmp_path):
    plain, other = tmp_path / "a", tmp_path / "b"
    plain.mkdir()
    other.mkdir()
    want = run_job(write_plate(plain), pictures=False).steel
    job = write_plate(other)
    for name, columns in (("nodes", ["node"]), ("elements", ["n1", "n2", "n3", "n4"]), ("resultants", ["node"])):
        table = pd.read_csv(other / f"{name}.csv")
        table[columns] = "N" + table[columns].astype(str)
        if name == "resultants":
            table = table.sample(frac=1.0, random_state=1)
        table.to_parquet(other / f"{name}.parquet")
    job.write_text(job.read_text().replace(".csv", ".parquet"))
    got = run_job(job, pictures=False).steel
    assert set(got["point"]) == {f"N{p}" for p in want["point"]}
    left = got.assign(point=got["point"].str[1:]).set_index(["point", "layer"])[REQUIRED].sort_index()
    assert_allclose(left, want.set_index(["point", "layer"])[REQUIRED].sort_index(), rtol=1e-12)


def test_triangles_and_numbered_cases(tmp_path):
    (tmp_path / "nodes.csv").write_text("node,x,y,z\n1,0,0,0\n2,1,0,0\n3,1,1,0\n4,0,1,0\n")
    (tmp_path / "elements.csv").write_text("element,n1,n2,n3,n4,thickness\n1,1,2,3,,0.25\n2,1,3,4,,0.25\n")
    rows = [f"7,{e},{n},60,-40,30,35,-20,12,25,10" for e, ring in ((1, (1, 2, 3)), (2, (1, 3, 4))) for n in ring]
    (tmp_path / "resultants.csv").write_text("case,element,node,nx,ny,nxy,mx,my,mxy,vx,vy\n" + "\n".join(rows) + "\n")
    data = {
        "title": "Triangles",
        "input": {"nodes": "nodes.csv", "elements": "elements.csv", "resultants": "resultants.csv"},
        "zones": {"t": {"all": True, "direction": {"along": "element"}}},
        "combinations": [{"name": "U", "situation": "persistent", "factors": {"7": 1.0}}],
    }
    (tmp_path / "job.toml").write_text(_toml(data))
    result = run_job(tmp_path / "job.toml")
    assert sorted(result.points["point"]) == ["1", "2", "3", "4"]
    assert result.certificate.certified == 4
    assert (tmp_path / "results" / "report.html").stat().st_size > 1e5


def test_node_zero_and_identifiers_with_a_point_are_taken_as_they_are(plate):
    folder = plate.parent
    want = run_job(plate, pictures=False)
    # node 2, a fourth corner of the first element, becomes node 0
    for name, columns in (("nodes", ["node"]), ("elements", ["n1", "n2", "n3", "n4"]), ("resultants", ["node"])):
        table = pd.read_csv(folder / f"{name}.csv")
        table[columns] = table[columns].replace(2, 0)
        table.to_csv(folder / f"{name}.csv", index=False)
    got = run_job(plate, pictures=False)
    assert set(got.points["point"]) == {"0", *want.points["point"]} - {"2"}
    assert got.steel[REQUIRED].max() == pytest.approx(want.steel[REQUIRED].max(), rel=1e-9)
    # labels like 5.1 are names, not numbers to be cut
    for name in ("nodes", "resultants"):
        text = pd.read_csv(folder / f"{name}.csv")
        text["node"] = text["node"] + 0.1
        text.to_csv(folder / f"{name}.csv", index=False)
    elements = pd.read_csv(folder / "elements.csv")
    elements[["n1", "n2", "n3", "n4"]] += 0.1
    elements.to_csv(folder / "elements.csv", index=False)
    assert "5.1" in set(run_job(plate, pictures=False).points["point"])


def _toml(data):
    """Just enough of TOML for a nested dictionary: inline tables all the way."""

    def value(v):
        if isinstance(v, dict):
            return "{" + ", ".join(f'"{k}" = {value(w)}' for k, w in v.items()) + "}"
        if isinstance(v, list):
            return "[" + ", ".join(map(value, v)) + "]"
        return str(v).lower() if isinstance(v, bool) else f'"{v}"' if isinstance(v, str) else repr(v)

    return "\n".join(f"{k} = {value(v)}" for k, v in data.items())


MISMATCHES = {
    "two zones": (
        lambda f: (f / "job.toml").write_text((f / "job.toml").read_text() + "[zones.again]\nelements = [104, 999]\n"),
        ["element 999 is not in the mesh", "1 elements are in zone 'plate' too, element 104 first"],
    ),
    "zone of nothing": (
        lambda f: (f / "job.toml").write_text((f / "job.toml").read_text() + "[zones.none]\n"),
        ["zones.none", "holds no elements", "all = true"],
    ),
    "case table": (
        lambda f: (
            (f / "cases.csv").write_text("case,description\nG,weight\nG,again\nW,wind\n"),
            (f / "job.toml").write_text((f / "job.toml").read_text().replace("[zones.plate]", 'cases = "cases.csv"\n[zones.plate]')),
        ),
        ["cases.csv, row 3: names a case a second time", "case 'Q' is not in cases.csv", "case 'W' has no rows"],
    ),
    "unsigned and askew": (
        lambda f: (
            (f / "cases.csv").write_text("case,signed\nG,yes\nQ,no\n"),
            (f / "job.toml").write_text((f / "job.toml").read_text().replace("[zones.plate]", 'cases = "cases.csv"\n[zones.plate]\ndirection = { angle = 30 }')),
        ),
        ["case 'Q' has no signs and element 100 would be turned by 30.0 degrees", "bring modal or signed results"],
    ),
    "axes": (
        lambda f: (
            (f / "axes.csv").write_text("element,xx,xy,xz,zx,zy,zz\n100,1,0,0,0,0,1\n"),
            (f / "job.toml").write_text((f / "job.toml").read_text().replace("[zones.plate]", 'axes = "axes.csv"\n[zones.plate]')),
        ),
        ["axes.csv: no axes for element 101 and 7 more"],
    ),
    "skew axes": (
        lambda f: (
            (f / "axes.csv").write_text("element,xx,xy,xz,zx,zy,zz\n" + "".join(f"{100 + i},1,0,0,0.6,0,0.8\n" for i in range(9))),
            (f / "job.toml").write_text((f / "job.toml").read_text().replace("[zones.plate]", 'axes = "axes.csv"\n[zones.plate]')),
        ),
        ["axes.csv, rows 2, 3, 4, 5, 6 and 4 more: x and z are not unit vectors at right angles"],
    ),
    "stray node": (
        lambda f: (f / "resultants.csv").write_text((f / "resultants.csv").read_text().replace("G,100,1,", "G,100,16,", 1)),
        ["row 2: node 16 is no corner of element 100", "no row for case G, element 100, node 1"],
    ),
    "steep bars": (
        lambda f: (f / "job.toml").write_text((f / "job.toml").read_text().replace("f_yk = 500", 'f_yk = 500\ndirection = { vector = [0, 0, 1] }')),
        ["zones.plate.direction", "stands at right angles to element 100", "'horizontal'"],
    ),
    "negative thickness": (
        lambda f: (f / "elements.csv").write_text((f / "elements.csv").read_text().replace(",0.25,a", ",-0.25,a", 1)),
        ["elements.csv, row 2, column thickness", "-250", "more than zero"],
    ),
    "edgeways": (
        lambda f: (f / "job.toml").write_text((f / "job.toml").read_text().replace("f_yk = 500", "f_yk = 500\ntop_side = { towards = [1, 0, 0] }")),
        ["zones.plate.top_side: does not tell top from bottom at element 100", "crosses the surface"],
    ),
    "wrong unit": (
        lambda f: (f / "job.toml").write_text((f / "job.toml").read_text() + '[input.units]\nmoment = "MN*m/m"\n'),
        # 6 * 35e6 / 250^2 + 60 / 250 MPa
        ["half of the points have an elastic stress of 3.36e+03 MPa or more from one case", "look at input.units"],
    ),
    "no area": (
        lambda f: (f / "elements.csv").write_text((f / "elements.csv").read_text().replace("100,1,5,6,2", "100,1,5,1,5", 1)),
        ["elements.csv, row 2: element 100 has no area"],
    ),
    "unknown format": (
        lambda f: ((f / "nodes.csv").rename(f / "nodes.doc"), (f / "job.toml").write_text((f / "job.toml").read_text().replace("nodes.csv", "nodes.doc"))),
        ["nodes.doc", "is of no kind that is read"],
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", MISMATCHES)
def test_mismatches_between_tables_are_named(name, plate):
    change, words = MISMATCHES[name]
    change(plate.parent)
    with pytest.raises(InputError) as error:
        run_job(plate, pictures=False)
    for word in words:
        assert word in str(error.value)
    assert all(f.where and f.found and f.remedy for f in error.value.faults)


def test_elements_without_results_outside_zones_do_not_matter(plate):
    path = plate.parent / "elements.csv"
    path.write_text(path.read_text() + "900,1,2,6,5,0.25,b\n")
    assert run_job(plate, pictures=False).certificate.certified > 0
    plate.write_text(plate.read_text().replace('groups = ["a"]', "all = true"))
    with pytest.raises(InputError, match="element 900 has no results"):
        run_job(plate, pictures=False)


def test_results_that_nothing_asks_for_are_looked_at_and_not_kept(plate):
    before = run_job(plate, pictures=False)
    table = plate.parent / "resultants.csv"
    rows = table.read_text().splitlines()
    more = [r.replace("Q,", "W,", 1) for r in rows if r.startswith("Q,")]
    table.write_text("\n".join([rows[0], *more, *rows[1:]]))
    after = run_job(plate, pictures=False)
    assert (after.project.results.cases, after.project.results.unread) == (("G", "Q"), ("W",))
    pd.testing.assert_frame_equal(after.steel, before.steel)
    assert "in none: W" in str(after.warnings)
    assert read_job(load_job(plate)).cases == ("W", "G", "Q")
    table.write_text(table.read_text().replace(more[2], more[2].replace("100,6,", "100,77,")))
    with pytest.raises(InputError, match="node 77 is not in the mesh"):
        run_job(plate, pictures=False)


def test_a_table_of_many_blocks_is_that_of_one(plate, monkeypatch):
    """Also where numbers of one block are texts in another, and blocks end anywhere."""
    table = plate.parent / "resultants.csv"
    rows = table.read_text().splitlines()
    rows[-1:] = [rows[-1], "", "End of table"]
    ends = ("\n", "\r\n", "\r", "\x0c", "\u2028")  # the last is no ASCII, which is sought another way
    for end, size in itertools.product(ends, (1 << 24, 1, 50, 333)):
        monkeypatch.setattr("sandwich.tables.dialect.BLOCK", size)
        for name, packed in (("resultants.csv", False), ("resultants.csv.gz", True))[: 1 + (size == 333)]:
            text = end.join(rows).encode()
            (plate.parent / name).write_bytes(gzip.compress(text) if packed else text)
            parts = read_job(load_job(plate).with_values({"input.resultants": name}))
            if size == 1 << 24 and not packed:
                whole = parts
                assert np.isfinite(whole.corner).all()
            assert parts.notes == whole.notes
            np.testing.assert_array_equal(parts.corner, whole.corner)


@pytest.mark.parametrize("full", [False, True])
def test_results_in_a_file_are_those_in_memory(plate, monkeypatch, full):
    """Whatever is given back between stages, and where the disc has no room for them."""
    whole = run_job(plate, pictures=False)
    frames = {name: whole.frame(name) for name in ("steel", "checks", "points")}
    monkeypatch.setattr("sandwich.core.on_disc.LARGE", 1)
    if full:
        monkeypatch.setattr("os.posix_fallocate", lambda *_: (_ for _ in ()).throw(OSError(28, "no space")))
    shutil.rmtree(whole.job.results)
    result = run_job(plate, pictures=False)
    assert isinstance(result.project.results.corner.base, np.ndarray) != full  # a view of the file
    for name, frame in frames.items():
        pd.testing.assert_frame_equal(result.frame(name), frame)


def test_job_from_a_dictionary_and_its_defaults(tmp_path):
    data = {
        "title": "T",
        "input": {"resultants": "r.csv"},
        "zones": {"z": {}},
        "combinations": [{"name": "U", "situation": "seismic", "factors": {"G": 1.0}}],
    }
    job = from_dict(data, tmp_path / "job.toml")
    zone = job.zones["z"]
    assert (zone.method, zone.points, zone.minimum) == ("sandwich", "nodes", "none")
    assert job.results == tmp_path / "results"
    assert not job.has_mesh
    for change, words in (
        ({"zones": {}}, "no zone"),
        ({"input": {"resultants": "r.csv", "nodes": "n.csv"}}, "needs both 'nodes' and 'elements'"),
        ({"combinations": data["combinations"] * 2}, "named twice: U"),
        ({"combinations": [{"name": "U", "situation": "seismic", "factors": {}}]}, "no case has a factor"),
        ({"title": None}, "title"),
        ({"zones": {"z": {"faces": {"bottom": "wet", "top": "wet"}}}}, "both faces are called 'wet'"),
        ({"zones": {"z": {"thickness": float("inf")}}}, "thickness"),
    ):
        with pytest.raises(InputError, match=words):
            from_dict({**data, **change}, tmp_path / "job.toml")
    with pytest.raises(InputError, match="is a folder"):
        load_job(tmp_path)
    (tmp_path / "latin.toml").write_bytes(b'title = "\xe4"')
    with pytest.raises(InputError, match="is not UTF-8"):
        load_job(tmp_path / "latin.toml")
