"""The shipped demo, end to end: symmetry, statics, certificate, maps, report, explanations."""

import re
import shutil

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import InputError, Status, explain_crack, explain_point, run_job
from sandwich.commands.start import copy_demo
from sandwich.core.shown import SI
from sandwich.core.status import is_status
from sandwich.design.summary import certificate_lines, exceeded, peaks, worst_checks
from sandwich.stages.required import worst_points

REQUIRED = "required [mm2/m]"


@pytest.fixture(scope="module")
def demo(fernhill):
    folder, done = fernhill
    assert "certified for every combination" in done.stdout
    assert "%" not in done.stderr  # no progress where nobody watches
    assert "walls: 54 parts and 10 sections checked, all hold" in done.stdout
    assert (folder / "core" / "results" / "report.html").exists()
    return folder


@pytest.fixture(scope="module")
def result(demo, tmp_path_factory):
    again = shutil.copytree(demo, tmp_path_factory.mktemp("again") / "fernhill")
    return run_job(again / "job.toml", pictures=False)


def test_every_point_is_certified(result):
    c = result.certificate
    assert c.points == len(result.points) > 2000
    assert (c.certified, c.failed, c.uncertified) == (c.points, 0, 0)
    assert c.violation <= 1e-6
    assert c.single_median <= 0.005
    assert c.single_worst <= 0.06
    assert c.any_layers == c.points
    assert 0.0 <= c.gap_median <= c.gap_95 < 0.5
    assert len(certificate_lines(c)) == 5
    assert result.steel[REQUIRED].notna().all()
    assert (result.steel["status"] == "ok").all()


def mirrored(result, zone, names):
    """Table of a zone's points by place, and of the points mirrored at the x axis."""
    p = result.points[result.points["zone"] == zone]
    place = p[["x [m]", "y [m]", "z [m]"]].round(4)
    labels = p["point"].to_numpy()
    key = dict(zip(map(tuple, place.to_numpy() + 0.0), labels, strict=True))
    single = place.drop_duplicates(keep=False)
    pairs = [
        (labels[p.index.get_loc(i)], key[x, -y + 0.0, z])
        for i, (x, y, z) in zip(single.index, single.to_numpy() + 0.0, strict=True)
    ]
    steel = result.steel[result.steel["zone"] == zone].pivot_table(
        index="point", columns="layer", values="by strength [mm2/m]"
    )
    left, right = zip(*pairs, strict=True)
    return steel.loc[list(left), names].to_numpy(), steel.loc[list(right), names].to_numpy()


def test_steel_is_symmetric_where_the_model_is(demo):
    job = demo / "symmetric.toml"
    text = (demo / "job.toml").read_text()
    # without wind along y the model and its loads are symmetric about the x axis
    text = text.replace("[rules]", '[cases.WY]\nkind = "unused"\n\n[rules]').replace('"results"', '"symmetric"')
    job.write_text(text)
    result = run_job(job, pictures=False)
    for zone, names in (
        ("floor", ["bottom x", "bottom y", "top x", "top y"]),
        ("drum", ["inside x", "inside y", "outside x", "outside y"]),
    ):
        here, there = mirrored(result, zone, names)
        assert len(here) > 1000
        # node numbers run one way round: rounding to six digits is all that differs
        assert_allclose(here, there, atol=2e-3 * here.max(), rtol=2e-3)


def test_steel_is_where_it_must_be(result):
    floor = result.steel[result.steel["zone"] == "floor"].merge(result.points, on=["zone", "point"])
    floor["r"] = np.hypot(floor["x [m]"], floor["y [m]"])
    at = floor.loc[floor.groupby("layer")[REQUIRED].idxmax()].set_index("layer")
    # hogging over the drum, sagging round the opening inside it
    assert_allclose(at.loc[["top x", "top y"], "r"], 6.0, atol=0.01)
    assert np.all(at.loc[["bottom x", "bottom y"], "r"] < 3.0)
    drum = result.steel[result.steel["zone"] == "drum"].merge(result.points, on=["zone", "point"])
    lintel = drum.loc[drum[drum["layer"] == "inside x"][REQUIRED].idxmax()]
    assert abs(np.degrees(np.arctan2(lintel["y [m]"], lintel["x [m]"]))) <= 40.0
    assert lintel["z [m]"] >= 7.0
    # nowhere below the minimum steel of a wall: 0.002 h vertical, half a face; a quarter of it horizontal
    assert drum.loc[drum["layer"].str.endswith("y"), REQUIRED].min() == pytest.approx(220.0)
    assert drum.loc[drum["layer"].str.endswith("x"), REQUIRED].min() == pytest.approx(110.0)


def test_resultants_balance_the_loads(result):
    """The vertical force through the drum half a step below the floor, and the weight it carries above."""
    drum = next(z for z in result.zones if z.name == "drum")
    mesh = result.project.results.mesh
    case = result.project.results.cases.index("DOME")
    turned = drum.on_mesh.points.mean(np.zeros((1, len(drum.on_mesh.elements), 4, 8)))  # shape only
    assert turned.shape == (1, len(drum.labels), 8)
    centres = mesh.centres[drum.on_mesh.elements]
    ring = np.abs(centres[:, 2] - 250.0) < 1.0
    assert ring.sum() == 72
    from sandwich.model.turn import turn_corners

    corner = turn_corners(result.project.results.corner[:, drum.on_mesh.elements], drum.on_mesh.orientation)
    ny = corner[case][ring, :, 1].mean(1)
    width = 2 * 6000.0 * np.sin(np.pi / 72)
    # 25 kN/m on the rim; a part of it goes through the floor into the columns
    assert -0.999 * 25.0 * 2 * np.pi * 6000.0 < (ny * width).sum() < -0.85 * 25.0 * 2 * np.pi * 6000.0
    # above the floor and the shutter all of it
    rim = np.abs(centres[:, 2] - 7750.0) < 1.0
    assert (corner[case][rim, :, 1].mean(1) * width).sum() == pytest.approx(-25.0 * 2 * np.pi * 6000.0, rel=0.01)


def test_maps_and_report(demo, result):
    names = {f.name for f in (demo / "results" / "maps").iterdir()}
    want = {
        f"{z} {n}.png".replace(" ", "_")
        for z, faces in (("floor", ("bottom", "top")), ("drum", ("inside", "outside")))
        for n in [*(f"{f} {d}" for f in faces for d in "xy"), "shear", "utilisation of bars"]
    }
    assert names == want | {
        "model.png",
        "floor_punching.png",
        "drum_links.png",
        *(f"floor_cracks_{face}.png" for face in ("bottom", "top")),
        "strip_beside_the_opening.png",
        "strip_rim_to_drum.png",
        *(f"bars_{zone}_section.png" for zone in ("floor", "drum")),
    }
    page = (demo / "results" / "report.html").read_text()
    assert page.count("data:image/png;base64,") == 22
    assert not re.search(r'(src|href)="(?!data:|#)', page)
    for words in (
        "points certified",
        "The worst ten points",
        "1.35 SW + 1.35 FIN + 1.35 DOME + 1.05 QI + 1.05 QT - 1.5 WY",
        "10.56",
        "The input",
        "national annex",
        "<td>cover for durability, fire resistance</td>",  # what the demo does not ask for
    ):
        assert words in page
    for row in peaks(result.steel).itertuples():
        assert row.point in page
    for zone in result.zones:
        own = [f for o in result.project.outcomes.values() for f in o.figures if f.zone == zone.name]
        described = {f.name.removeprefix(f"{zone.name} "): f.describe(SI) for f in own if f.draw[0] == "maps"}
        assert {d.view.kind for d in described.values()} == {"plan" if zone.name == "floor" else "unrolled"}
        steel = result.steel[result.steel["zone"] == zone.name]
        for layer, most in steel.groupby("layer")[REQUIRED].max().items():
            assert described[layer].levels[-1] >= most  # a scale a layer, up to bars that are enough
        first = described[f"{zone.zone.faces.bottom} x"]
        value, point = first.labels[0][2].split("  @ ")
        top = steel[steel["layer"] == f"{zone.zone.faces.bottom} x"].set_index("point")[REQUIRED]
        assert (float(value), point) == (pytest.approx(top.max(), abs=0.5), top.idxmax())
    ten = worst_points(result.checks)
    assert len(ten) == 10
    assert ten["utilisation"].is_monotonic_decreasing
    assert not any(
        "moments are low at edges" in d for d in map(str, result.warnings)
    )  # the floor and the drum hold each other
    assert (exceeded(result.checks)["worst"] > 1.0).all()


def test_explanations_equal_the_tables(demo, result):
    rng = np.random.default_rng(2)
    steel = pd.read_parquet(demo / "results" / "steel.parquet")
    for i in rng.integers(0, len(result.points), 5):
        row = result.points.iloc[i]
        sheet = explain_point(demo / "job.toml", f"{row['zone']}/{row['point']}")
        stored = steel[(steel["zone"] == row["zone"]) & (steel["point"] == row["point"])]
        assert [q.symbol for q in sheet.answer] == stored["layer"].tolist()
        assert_allclose([q.value for q in sheet.answer], stored[REQUIRED], rtol=1e-9)
        titles = [s.title for _, s in sheet.steps]
        assert any(t.startswith("Element ") for t in titles)
    cracks = result.service.cracks
    for row in cracks[cracks["zone"] == "floor"].iloc[[0, 40, 900]].itertuples():
        answer = {
            q.symbol: q.value for q in explain_crack(demo / "job.toml", f"floor/{row.point}", row.face).sheet.answer
        }
        assert answer["crack width"] == pytest.approx(row[4], rel=1e-9)
    spared = explain_crack(demo / "job.toml", "drum/2206").sheet.answer
    assert spared[-1].value == "uncracked in every service combination: no width is asked"
    with pytest.raises(InputError, match=r"no point 'floor/0'; a point is named like floor/"):
        explain_point(demo / "job.toml", "floor/0")
    with pytest.raises(InputError, match=r"is in several zones; use one of floor/649\.1, drum/649\.1"):
        explain_point(demo / "job.toml", "649.1")


def test_a_demo_that_is_there_is_run_as_it_is(demo):
    changed = (demo / "job.toml").read_text()
    assert copy_demo(demo) == demo / "job.toml"
    assert (demo / "job.toml").read_text() == changed


def test_every_status_is_one_of_the_list(result):
    with_status = {n: f for n, f in result.tables.items() if "status" in f}
    assert {"steel", "checks", "bars", "cracks", "punching"} <= set(with_status)
    for frame in with_status.values():
        assert is_status(frame["status"], *Status).all()
    cracks = pd.DataFrame(
        {"zone": "w", "point": ["1", "2"], "check": "crack width", "utilisation": [0.5, np.inf],
         "status": ["ok", Status.EXCEEDED.because("no bars of the face cross it")]}
    )  # fmt: skip
    assert worst_checks(cracks)[["point", "points exceeded"]].to_numpy().tolist() == [["2", 1]]
