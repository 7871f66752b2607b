"""Second runs and drafted jobs, as a user meets them."""

import re
import tomllib

import pytest

from conftest import write_plate
from pump_wall import WALL
from sandwich import InputError, StaleError, load_job, run_job, try_job

TWO_ZONES = """
[zones.left]
elements = [100, 101, 102]
direction = { along = "polyline", line = [[0, 0, 0], [0, 5, 0]] }
bars = { cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12 }
[zones.right]
elements = [103, 104, 105, 106, 107, 108]
direction = { along = "tangential", centre = [100, 1, 0] }
bars = { cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12 }
"""


def two_zones(folder):
    job = write_plate(folder)
    text = job.read_text()
    start, end = text.index("[zones.plate]"), text.index("[[combinations]]")
    job.write_text(text[:start] + TWO_ZONES + text[end:])
    return job


def contents(folder):
    return {str(f.relative_to(folder)): f.read_bytes() for f in sorted(folder.rglob("*")) if f.is_file()}


def test_only_the_changed_zone_is_designed_again_and_nothing_else_differs(cli, tmp_path):
    job = two_zones(tmp_path)
    code, out, _ = cli("run", job)
    assert code == 0
    assert "reused" not in out
    assert "reused   left, right; nothing else has changed" in cli("run", job)[1]
    # x runs along the line, and round a far centre: both are the global y
    for z in run_job(job, pictures=False).zones:
        assert abs(z.on_mesh.orientation.bars[:, 0] @ [0, 1, 0]) == pytest.approx(1.0, rel=1e-3)
    text = job.read_text()
    job.write_text("cover_top = 35".join(text.rsplit("cover_top = 30", 1)))
    out = cli("run", job)[1]
    assert "reused   left; designed again: right" in out
    second = contents(tmp_path / "results")
    for file in sorted((tmp_path / "results").rglob("*"), reverse=True):
        file.unlink() if file.is_file() else file.rmdir()
    assert "reused" not in cli("run", job)[1]
    assert contents(tmp_path / "results") == second
    # what a job no longer makes does not stay, and what was made of other names is not taken over
    cli("run", job)
    job.write_text(
        job.read_text() + '[strips.s]\nzone = "left"\nstart = [0.5, 0.5, 0]\nend = [0.5, 2.5, 0]\nwidth = 0.5\n'
    )
    cli("run", job)
    assert (tmp_path / "results" / "strips.parquet").exists()
    job.write_text(job.read_text().partition("[strips.s]")[0])
    cli("run", job)
    assert contents(tmp_path / "results") == second
    # an output that is not what it was made from is not taken over
    held = tmp_path / "results" / "store" / "left.npz"
    held.write_bytes(held.read_bytes()[:500])
    assert "reused   right; designed again: left" in cli("run", job)[1]
    job.write_text(job.read_text().replace("factors = { G = 1.35", "factors = { G = 1.36"))
    assert "reused" not in cli("run", job)[1]


def test_envelopes_carry_what_acts_together(plate):
    import pandas as pd

    more = '[[combinations]]\nname = "U2"\nsituation = "persistent"\nfactors = { G = -1.0 }\n'
    plate.write_text(plate.read_text() + more)
    result = run_job(plate, pictures=False)
    envelope = pd.read_parquet(plate.parent / "results" / "envelopes.parquet")
    assert len(envelope) == 16 * 8 * 2
    row = envelope.query("point == '6' and component == 'ny' and side == 'minimum'").iloc[0]
    assert (row["combination"], row["nx [kN/m]"], row["ny [kN/m]"]) == (
        "U1",
        pytest.approx(126.0),
        pytest.approx(-84.0),
    )
    row = result.frame("extremes").query("component == 'ny' and side == 'maximum'").iloc[0]
    assert (row["combination"], row["nx [kN/m]"], row["my [kNm/m]"]) == (
        "U2",
        pytest.approx(-60.0),
        pytest.approx(20.0),
    )


DRAFTS = {
    "plain": ([WALL / "plain"], 'node = "id"', {}),
    "kipft": (
        sorted((WALL / "kipft").glob("*.csv*")),
        'thickness = "in"  # found in the files',
        {"# missing": "missing"},
    ),
    "workbook": ([WALL / "formats" / "pump_wall.xlsx"], 'case_from = "sheet"', {}),
    "mesh file": ([WALL / "formats" / "pump_wall.vtu"], "mesh = ", {}),
}


@pytest.mark.parametrize("name", DRAFTS)
def test_a_job_is_drafted_from_an_export(name, cli, tmp_path):
    files, line, mend = DRAFTS[name]
    code, out, _ = cli("new", tmp_path / "job", "--from", *files)
    assert code == 0
    assert "look at its guesses, then: sandwich inspect" in out
    path = tmp_path / "job" / "job.toml"
    text = path.read_text()
    assert line in text
    data = tomllib.loads(text)
    assert len(data["cases"]) == 6
    for zone in data["zones"].values():
        assert (zone["minimum"], zone["direction"]["along"]) == ("wall", "horizontal")
    for old, new in mend.items():
        text = text.replace(old, new)
    path.write_text(text)
    assert load_job(path).title == "New job"
    code, out, _ = cli("inspect", path, "--no-pictures")
    assert code == 0
    # the other office's moments are counted as the guess has it; in the others inspection finds the other sign
    assert ("all moments, or vx and vy, with the other sign" in " ".join(out.split())) == (name != "kipft")


HEADS = {  # case, element, node, its numbers, thickness, group
    "German": ("Lastfall", "Element-Nr.", "Knoten", "Dicke [m]", "Gruppe"),
    "French": ("Cas de charge", "Élément", "Nœud", "Épaisseur [m]", "Groupe"),
    "Spanish": ("Hipótesis", "Elemento", "Nudo", "Espesor (m)", "Grupo"),
    "Italian": ("Caso di carico", "N° elemento", "Nodo", "Spessore [m]", "Gruppo"),
    "Portuguese": ("Caso", "Elemento", "Nó", "Espessura [m]", "Grupo"),
}


@pytest.mark.parametrize("language", HEADS)
def test_headers_of_other_languages_are_drafted(language, cli, tmp_path):
    case, element, node, thickness, group = HEADS[language]
    folder = tmp_path / "export"
    folder.mkdir()
    want = run_job(write_plate(folder), pictures=False).steel
    tables = {n: (folder / f"{n}.csv").read_text().split("\n", 1)[1] for n in ("nodes", "elements", "resultants")}
    corners = [f"{node}{i}" for i in range(1, 5)]
    heads = {
        "nodes": [node, "X [m]", "Y [m]", "Z [m]"],
        "elements": [element, *corners, thickness, group],
        "resultants": [
            case, element, node, "nx [kN/m]", "ny [kN/m]", "nxy [kN/m]", "mx [kNm/m]", "my [kNm/m]", "mxy [kNm/m]",
            "vx [kN/m]", "vy [kN/m]",
        ],
    }  # fmt: skip
    for name, head in heads.items():
        (folder / f"{name}.csv").write_text(",".join(head) + "\n" + tables[name], encoding="utf-8")
    code, _, err = cli("new", tmp_path / "job", "--from", *(folder / f"{n}.csv" for n in heads))
    assert code == 0, err
    path = tmp_path / "job" / "job.toml"
    lines = (folder / "job.toml").read_text()
    text = path.read_text()
    combinations = lines[lines.index("[[combinations]]") :]
    path.write_text(text[: text.index("[rules]")] + combinations if "[rules]" in text else text + combinations)
    result = run_job(path, pictures=False)
    assert len(result.steel) == len(want)


def test_forces_of_nodes_on_elements_are_told_from_reactions(cli, tmp_path):
    folder = tmp_path / "export"
    folder.mkdir()
    write_plate(folder, n=2)
    heads = {"forces": "LC,Elem,Joint,FX,FY,FZ,MX,MY,MZ", "supports": "LC,Joint,FX,FY,FZ,MX,MY,MZ"}
    for name, head in heads.items():
        row = "G,1,1,0,0,5,0,0,0" if "Elem" in head else "G,1,0,0,5,0,0,0"
        (folder / f"{name}.csv").write_text(f"{head}\n{row}\n")
    files = [folder / f"{n}.csv" for n in ("nodes", "elements", "resultants", *heads)]
    code, out, err = cli("new", tmp_path / "job", "--from", *files)
    assert code == 0, out + err
    given = tomllib.loads((tmp_path / "job" / "job.toml").read_text())["input"]
    assert given["nodal_forces"]["file"].endswith("forces.csv")
    assert given["reactions"]["file"].endswith("supports.csv")


@pytest.mark.parametrize("size", ["", "C 0.45 x 0.3", "d = 450 mm", "450x300x12"])
@pytest.mark.parametrize("feet", [False, True])
def test_many_groups_become_zones_by_plane_and_single_supports_are_drafted(feet, size, cli, tmp_path):
    folder = tmp_path / "export"
    folder.mkdir()
    write_plate(folder, n=4)
    lines = (folder / "elements.csv").read_text().splitlines()
    named = [f"{v.rpartition(',')[0]},G{k % 10}" for k, v in enumerate(lines[1:])]
    (folder / "elements.csv").write_text("\n".join([lines[0], *named]) + "\n")
    nodes = (folder / "nodes.csv").read_text()
    below = {n: n + 900 if feet else n for n in (13, 21, 22)}  # one alone, two beside each other
    held = [f"{case},{n},0,0,10,0,0,0" for case in "GQ" for n in below.values()]
    held += [f"{case},{n},0,0,{1e-9 if case == 'G' else 0},0,0,0" for case in "GQ" for n in (1, 11)]  # held by nothing
    places = dict(line.split(",", 1) for line in nodes.splitlines())
    columns = [f"{n + 900},{places[str(n)].rpartition(',')[0]},-3" for n in below]
    (folder / "nodes.csv").write_text(nodes + ("\n".join(columns) + "\n" if feet else ""))
    if size:  # columns are told by the members of frames; one that leans is none
        more = [f"{n + 900},{places[str(n)].rpartition(',')[0]},-3" for n in (*below, 1)]
        (folder / "nodes.csv").write_text(nodes + "\n".join(more) + "\n")
        members = [f"{k},{n + 900},{n},{size}" for k, n in enumerate(below)] + [f"9,901,2,{size}"]
        (folder / "frames.csv").write_text("\n".join(["member,n1,n2,size", *members]) + "\n")
    if feet or not size:
        (folder / "reactions.csv").write_text("\n".join(["case,node,fx,fy,fz,mx,my,mz", *held]) + "\n")
    assert "13,2.0,2.0,0" in nodes
    (tmp_path / "nothing").mkdir()
    assert "nothing: holds no tables; name" in cli("new", tmp_path / "job", "--from", tmp_path / "nothing")[2]
    code, out, err = cli("new", tmp_path / "job", "--from", folder)
    assert code == 0, out + err
    text = (tmp_path / "job" / "job.toml").read_text()
    data = tomllib.loads(text)
    assert list(data["zones"]) == ["floors"]
    assert data["zones"]["floors"]["groups"] == [f"G{k}" for k in range(10)]
    path = tmp_path / "job" / "job.toml"
    if feet or not size:  # with reactions it is told that no punching is checked there
        code, out, err = cli("inspect", path, "--no-pictures")
        assert code == 0, err
        assert re.search(r"punching is not checked\s+1 at nodes 13\s", out)
        assert "2 nodes carry nothing and are no supports" in " ".join(out.split())
    # what stands in comments is a job, too
    path.write_text(re.sub(r"^# (?=(?:\[punching|[a-z_0-9]+ = ))(?!missing|kind)", "", text, flags=re.MULTILINE))
    job = load_job(path)
    assert job.zones["floors"].rule.diameters == (8, 10, 12, 14)
    assert job.zones["floors"].column_bars is not None
    assert job.zones["floors"].layout is not None
    assert job.punching["columns of floors"].at == ((2.0, 2.0, 0.0),)
    assert "punching is not checked" not in cli("inspect", path, "--no-pictures")[1]
    assert job.punching["columns of floors"].force == ("integrated" if feet or size else "reactions")
    sides = (
        job.punching["columns of floors"].c1,
        job.punching["columns of floors"].c2,
        job.punching["columns of floors"].diameter,
    )
    assert sides == {"": (300, 300, None), "C 0.45 x 0.3": (450, 300, None), "d = 450 mm": (None, None, 450)}.get(
        size, (300, 300, None)
    )


def test_drafts_that_cannot_be_made_leave_nothing(cli, tmp_path):
    odd = tmp_path / "odd.csv"
    odd.write_text("a,b\n1,2\n")
    for files, words in (([odd], "no table of resultants can be told"), ([tmp_path / "none.csv"], "no such file")):
        code, _, err = cli("new", tmp_path / "job", "--from", *files)
        assert code == 2
        assert words in err
        assert not (tmp_path / "job").exists()
    assert cli("new", tmp_path / "job", odd)[0] == 2
    path = two_zones(tmp_path)
    path.write_text(path.read_text().replace(", line = [[0, 0, 0], [0, 5, 0]]", ""))
    with pytest.raises(InputError, match="polyline needs line"):
        load_job(path)


def test_values_of_a_national_annex_come_from_a_file(cli, plate):

    plate.write_text(plate.read_text() + '[design]\nparameters = "annex.toml"\n')
    annex = plate.parent / "annex.toml"
    assert "annex.toml: cannot be read" in cli("run", plate)[2]
    annex.write_text('name = "A"\n[persistent]\ngamma_c = 1.4\ngamma_x = 1\n[values]\nalpha_cc = -1\n[more]\na = 1\n')
    err = cli("run", plate)[2]
    for words in (
        "persistent.gamma_x: is no parameter; use one of gamma_c, gamma_s",
        "values.alpha_cc: found -1",
        "annex.toml, more: is no section",
    ):
        assert words in err
    annex.write_text('name = "values of the annex"\n[persistent]\ngamma_s = 1.0\n[values]\nalpha_cc = 0.85\n')
    result = run_job(plate)
    zone = result.zones[0].zone
    strengths = result.standard.strengths(zone.concrete, zone.steel, "persistent")
    assert (strengths.f_yd, strengths.fc_uncracked) == (500.0, pytest.approx(0.85 * 30 / 1.5))
    page = (plate.parent / "results" / "report.html").read_text()
    assert "values of the annex" in page
    assert "those of values of the annex," in page
    assert "alpha_cc 0.85" in cli("explain", plate, "--point", "6")[1]
    annex.write_text(annex.read_text().replace("0.85", "0.9"))  # another value: another design
    assert cli("explain", plate, "--point", "6")[0] == 2
    assert not run_job(plate, pictures=False).reused


def test_a_store_that_is_not_whole_is_made_again(plate):
    first = run_job(plate, pictures=False)
    store = plate.parent / "results" / "store" / "plate.parquet"
    store.write_bytes(store.read_bytes()[:100])
    with pytest.raises(StaleError, match="run the job again"):
        try_job(plate, {"zones.plate.f_ck": "40"})
    again = run_job(plate, pictures=False)
    assert again.reused == ()
    assert again.steel.equals(first.steel)
    assert len(try_job(plate, {"zones.plate.f_ck": "40"}).steel)


def test_reactions_may_act_on_the_supports(plate):
    rows = [f"{c},{n},0,0,{10 * f:g}" for c, f in (("G", 1), ("Q", 0.5)) for n in (1, 4, 6, 13, 16)]
    place = '[punching.c]\nzone = "plate"\nat = [[1, 1, 0]]\nc1 = 300\nc2 = 300\nforce = "reactions"\n'
    text = (
        plate.read_text().replace(
            'resultants = "resultants.csv"\n', 'resultants = "resultants.csv"\nreactions = "r.csv"\n'
        )
        + place
    )
    found = []
    for sign, signs in (("", ""), ("-", 'signs = { reactions_act_on = "supports" }\n')):
        lines = [r.rpartition(",")[0] + f",{sign}{r.rpartition(',')[2]}" for r in rows]
        (plate.parent / "r.csv").write_text("\n".join(["case,node,fx,fy,fz", *lines]) + "\n")
        plate.write_text(text.replace("[input]\n", f"[input]\n{signs}"))
        found.append(run_job(plate, pictures=False).frame("punching")["V [kN]"].tolist())
    assert found[0] == found[1] == [pytest.approx(21.0)]
