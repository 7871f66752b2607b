"""Walls whose forces come for whole sections or panels: the share of each part, from the table to the checks."""

import re
import shutil

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich import InputError, explain_wall, run_job, try_job
from sandwich.mechanics.sectionshares import section_shares

JOB = """
title = "Wall by sections"
[input]
cases = "cases.csv"
units = {{ length = "m", thickness = "m", force = "kN", couple = "kN*m" }}
[zones.wall]
f_ck = 30
f_yk = 500
[rules]
code = "EN 1990:2002"
[storeys]
levels = [0, 3, 6]
names = ["ground", "first"]
[walls.wall]
zones = ["wall"]
panels = "panels.csv"
openings = "openings.csv"
forces = "forces.csv"
rule = {{ diameters = [10, 12, 16, 20], spacing_min = 100, spacing_max = 200, spacing_step = 50 }}
{more}
"""
PANELS = "panel,x1,y1,x2,y2,thickness\nA,0,0,4,0,0.2\nB,4,0,4,3,0.25\n"
DOORS = "panel,from,to,bottom,top\nA,1,2,0,2.2\nA,1,2,3,5.2\n"
HEAD = "storey,part,at,case,N,V1,V2,M1,M2,T\n"
PANEL_ROWS = HEAD + "".join(
    f"{s},{p},bottom,G,-600,0,0,0,0,0\n{s},{p},bottom,W,0,90,0,0,120,0\n" for s in ("ground", "first") for p in "AB"
)


def made(folder, panels=PANELS, openings=DOORS, forces=PANEL_ROWS, more=""):
    folder.mkdir(exist_ok=True)
    (folder / "cases.csv").write_text("case,kind\nG,permanent\nW,wind\n")
    (folder / "job.toml").write_text(JOB.format(more=more))
    for name, text in (("panels", panels), ("openings", openings), ("forces", forces)):
        (folder / f"{name}.csv").write_text(text)
    return folder / "job.toml"


@given(st.integers(1, 7), st.integers(0, 10**6))
def test_shares_are_in_equilibrium_with_the_section(count, seed):
    """Walls in any places and directions: all six forces, at any origin; the stress is linear over all of them."""
    r = np.random.default_rng(seed)
    middle, angle = r.uniform(-9e3, 9e3, (count, 2)), r.uniform(0.0, 7.0, count)
    way = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    left = np.stack([-way[:, 1], way[:, 0]], axis=1)
    length, thickness = r.uniform(800, 6000, count), r.uniform(120, 500, count)
    forces = r.normal(size=(3, 6)) * [1e5, 1e5, 1e6, 1e9, 1e9, 1e8]
    found = section_shares(middle, way, length, thickness, forces)
    N, V1, V2, M1, M2, T = np.moveaxis(found, 2, 0)
    F = V1[..., None] * way[:, None] + V2[..., None] * left[:, None]
    M = M1[..., None] * way[:, None] + M2[..., None] * left[:, None]
    x, y = middle.T[:, :, None]
    sums = [*F.sum(0).T, N.sum(0), (M[..., 0] + y * N).sum(0), (M[..., 1] - x * N).sum(0)]
    sums.append((T + x * F[..., 1] - y * F[..., 0]).sum(0))
    assert_allclose(np.transpose(sums), forces, atol=1e-8 * 9e3 * 1e6)
    # one linear stress has them all: its slope along a wall is that of the moment in its plane
    stress = N / (length * thickness)[:, None]
    basis = np.column_stack([np.ones(count), middle])
    along = -M2 / (length**3 * thickness / 12.0)[:, None]
    across = M1 / (length * thickness**3 / 12.0)[:, None]
    slope = np.einsum("kc,ki->kic", along, way) + np.einsum("kc,ki->kic", across, left)
    assert_allclose(slope, np.broadcast_to(slope[:1], slope.shape), rtol=1e-6, atol=1e-9 * np.abs(slope).max())
    flat = stress - np.einsum("ki,kic->kc", basis[:, 1:], slope)
    assert_allclose(flat, np.broadcast_to(flat[:1], flat.shape), rtol=1e-6, atol=1e-8 * np.abs(stress).max())


def test_piers_beside_a_door_by_hand(tmp_path):
    """A panel of 4 m with a door from 1 to 2 m, 2.2 m high: piers of 1 and 2 m under N = -600, V = 90, M = 120 at its foot."""
    result = run_job(made(tmp_path), pictures=False)
    f = result.frame("wall forces").set_index(["storey", "part", "case", "at"]).sort_index()
    A, x, own = np.array([0.2, 0.4]), np.array([0.5, 3.0]), np.array([0.2, 1.6]) / 12.0
    x = x - A @ x / 0.6
    inertia = A @ x**2 + own.sum()
    M = 120.0 - 1.1 * 90.0  # halfway up the door
    for i, part in enumerate(("A P1", "A P2")):
        at = f.loc[("ground", part)]
        assert_allclose(at.loc["G", "N [kN]"], -600.0 * A[i] / 0.6)
        assert_allclose(at.loc["W", "N [kN]"], -A[i] * x[i] * M / inertia)
        assert_allclose(at.loc["W", "V1 [kN]"], 90.0 * A[i] / 0.6)
        share, brought = M * own[i] / inertia, 1.1 * 90.0 * A[i] / 0.6
        assert_allclose(at.loc[("W", "bottom"), "M2 [kNm]"], share + brought)
        assert_allclose(at.loc[("W", "opening"), "M2 [kNm]"], share - brought)
        assert set(at["by"]) == {"share of A"}
    assert f.loc[("ground", "B W", "W", "bottom"), "M2 [kNm]"] == pytest.approx(120.0)  # a panel without openings
    checks = result.frame("wall checks")
    assert set(checks["part"]) == {"A P1", "A P2", "B W"}
    told = [str(w) for w in result.warnings]
    assert any("6 parts have no forces of their own" in w for w in told)
    assert any("2 of 8 parts are not checked" in w and "A L1" in w for w in told)
    sheet = explain_wall(tmp_path / "job.toml", "ground A P2").sheet
    assert any("share of A" in step.source for _, step in sheet.steps)


def test_the_core_by_whole_sections_alone(fernhill, tmp_path):
    """Forces of whole sections instead of the mesh's cuts: those of its parts, of the largest of the storey in each case."""
    core = fernhill[0] / "core"
    cuts = pd.read_parquet(core / "results" / "wall_forces.parquet")
    job = shutil.copytree(core, tmp_path / "core", ignore=shutil.ignore_patterns("results")) / "job.toml"
    cuts[cuts["kind"].isin(["section", "lintel", "parapet"])].to_csv(job.parent / "forces.csv", index=False)
    names = ["N [kN]", "V1 [kN]", "V2 [kN]", "M1 [kNm]", "M2 [kNm]", "T [kNm]", "place [m]"]
    columns = ", ".join(f'{n.split()[0]} = "{n}"' for n in names)
    text = job.read_text().replace(
        "[walls.core]\n", f'[walls.core]\nforces = {{ file = "forces.csv", columns = {{ {columns} }} }}\n'
    )
    job.write_text(text)
    result = run_job(job, pictures=False)
    shares = result.frame("wall forces")
    shares = shares[shares["by"] == "share of section 1"]
    both = shares.merge(cuts, on=["storey", "part", "at", "case"], suffixes=("", " cut"))
    both = both[both["at"].eq("bottom") & both["case"].isin(["EX", "EY"])]
    both = both.drop_duplicates(["storey", "part", "case"])  # piers have shares of both ends of the storey
    ground = both[both["storey"] == "ground"]
    assert len(both) == 2 * 39
    assert len(ground) == 2 * 7
    for name in ("N [kN]", "V1 [kN]", "M2 [kNm]"):
        largest = ground.groupby("case")[f"{name} cut"].transform(lambda v: v.abs().max())
        assert ((ground[name] - ground[f"{name} cut"]).abs() / largest).max() < 0.27
    assert (result.folder / "wall_checks.parquet").is_file()


PANEL_A = "\n".join(r for r in PANEL_ROWS.splitlines() if ",B," not in r) + "\n"
WHOLE = PANEL_A.replace(",A,", ",section 1,")
FAULTS = {
    "a misspelt end": (WHOLE.replace("bottom", "botom"), "section 1 in 'ground': at 'botom'; give bottom, top"),
    "a word for a number": (
        WHOLE.replace("-600", "600 down"),
        "column N, rows 2, 4: found '600 down'; give a finite number",
    ),
    "no such part": (WHOLE.replace("section 1", "C"), "no part 'C' in 'ground'; there are A P1, A P2, A L1"),
    "outside": (
        WHOLE.replace("case,", "case,place,").replace(",G,", ",G,4.5,").replace(",W,", ",W,4.5,"),
        "place 4.5 m lies outside, 0 to 3 m",
    ),
    "twice": (
        WHOLE + "".join(f"{r}\n".replace("bottom", "") for r in WHOLE.splitlines()[1:3]),
        "section 1 in 'ground' stands twice at its bottom",
    ),
    "one of two": (
        WHOLE,
        "'ground', bottom: 2 sections stand apart, with forces of section 1; give those of section 1 to 2",
    ),
}


TABLES = {
    "no thickness": ({"panels": PANELS.replace("0.2\n", "-0.2\n")}, "panel A of 4 m is -0.2 m thick"),
    "millimetres": ({"panels": PANELS.replace("0.2\n", "200\n")}, "panel A of 4 m is 200 m thick"),
    "a panel twice": ({"panels": PANELS + "A,0,0,4,0,0.3\n"}, "heights of panel A fall, or overlap"),
    "outside": ({"openings": DOORS.replace("A,1,2,3", "A,3,5,3")}, "it lies outside panel A, 0 to 4 m, 0 to 6 m high"),
    "an opening twice": (
        {"openings": DOORS.replace("A,1,2,3", "A,1.5,2.5,1")},
        "it overlaps another opening of panel A",
    ),
    "nothing stands": ({"openings": "panel,from,to,bottom,top\nA,0,4,0,2.2\n"}, "nothing stands of A in 'ground'"),
}


@pytest.mark.parametrize("name", TABLES)
def test_panels_and_openings_that_make_no_wall_are_told(name, tmp_path):
    tables, told = TABLES[name]
    with pytest.raises(InputError, match=re.escape(told)):
        run_job(made(tmp_path, **tables), pictures=False)


@pytest.mark.parametrize("name", FAULTS)
def test_what_is_wrong_with_given_sections_is_told(name, tmp_path):
    forces, told = FAULTS[name]
    with pytest.raises(InputError, match=re.escape(told)):
        run_job(made(tmp_path, panels=PANELS.replace("B,4,0,4,3,0.25\n", ""), forces=forces), pictures=False)


def test_whole_sections_alone_and_thickness_by_storey(tmp_path):
    """An L that grows thinner: its sections are explained as they were checked, at the thickness where they stand."""
    panels = "panel,x1,y1,x2,y2,thickness,bottom,top\n"
    panels += "".join(f"{p},{t},{z},{z + 3}\n" for p in ("A,0,0,4,0", "B,4,0,4,3") for t, z in ((0.3, 0), (0.2, 3)))
    rows = "".join(
        f"{s},section 1,{at},G,-600,0,0,0,0,0\n{s},section 1,{at},W,0,90,0,0,120,0\n"
        for s in ("ground", "first") for at in ("bottom", "top")
    )  # fmt: skip
    job = made(tmp_path, panels, "panel,from,to,bottom,top\nA,1,2,0.9,2.2\n", HEAD + rows)
    result = run_job(job, pictures=False)
    sections = result.frame("wall sections").set_index(["storey", "at"])
    assert_allclose(sections.loc["first", "area [m2]"], 0.2 * 7.0 + 0.01, atol=0.011)
    for storey, at in sections.index:
        sheet = explain_wall(job, f"{storey} section 1 {at}").sheet
        assert sheet.answer[0].value == pytest.approx(sections.loc[(storey, at), "utilisation"], rel=1e-9)
    piers = result.frame("wall forces").query("part == 'A P1' and case == 'W'")
    assert piers["at"].tolist() == ["bottom", "opening", "opening", "top"]  # of the ground storey


def test_zones_of_given_panels(tmp_path):
    """Their thickness goes before that of the table, in a run and in a trial; settings of shells are refused."""
    bars = "bars = [{ vertical = { diameter = 12, spacing = 150 }, horizontal = { diameter = 12, spacing = 150 } }]"
    job = made(tmp_path, more=bars)
    run_job(job, pictures=False)
    tried = try_job(job, {"zones.wall.thickness": "300"}).walls
    assert "1.33 times as stiff" in " ".join(map(str, tried.moved))
    plain = job.read_text()
    job.write_text(plain.replace("f_ck = 30", "f_ck = 30\nthickness = 300"))
    result = run_job(job, pictures=False)
    assert set(result.frame("wall parts")["thickness [mm]"]) == {300.0}
    checks = result.frame("wall checks").set_index(["storey", "part", "check"])["utilisation"]
    for r in tried.parts.to_dict("records"):
        assert r["after"] == pytest.approx(checks[r["storey"], r["part"], r["governing check"]])
    job.write_text(plain.replace("f_ck = 30", 'f_ck = 30\nminimum = "wall"\noffset = 20'))
    with pytest.raises(InputError, match="offset, minimum are for the design of a shell, and there are no results of"):
        run_job(job, pictures=False)
