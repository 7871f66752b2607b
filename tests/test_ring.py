"""Zones that go round: rings with radial bars laid out in sectors, and bars that close round drums."""

import math
import shutil

import numpy as np
import pandas as pd
import pytest

from sandwich import InputError, run_job, try_job
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import SI
from sandwich.design.layout.pieces import Round, laps_round, pieces
from sandwich.model.plan import plan_of
from sandwich.project.outcome import Pictures
from sandwich.stages.layout import LAYOUT as LAYOUT_STAGE

A, B, N, M = 2.0, 8.0, 9, 48  # radii of the ring [m], elements out and round
JOB = """
title = "Ring"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
axes = "axes.csv"
cases = "cases.csv"
resultants = "resultants.csv"
units = { length = "m", thickness = "m", membrane = "kN/m", moment = "kN*m/m", shear = "kN/m" }
[zones.ring]
all = true
f_ck = 30
f_yk = 500
minimum = "slab"
direction = { along = "ALONG", centre = [0, 0, 0] }
top_side = { towards = [0, 0, 1] }
bars = { layout = "both", cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12, outer = "OUTER" }
rule = { diameters = [10, 12, 14, 16], spacing_min = 100, spacing_max = 200, spacing_step = 25 }
EXTRA
[[combinations]]
name = "U"
situation = "persistent"
factors = { G = 1.35 }
"""
LAYOUT = "layout = { seconds = 5, module = 1.0, rectangles = 5 }\nedges = { openings = false, corners = false }"


def ring(folder, along="radial", extra=LAYOUT, span=2 * math.pi, hole=(), thin=N, mixed=None, size=(N, M)):
    """A ring, or a part of one, whose moments are larger about one direction and near its inner edge.

    From row `thin` of its elements it is 200 mm thick; `mixed` puts the rows of the tables in another order.
    """
    n, m = size
    whole = span > 6.28
    r, t = np.linspace(A, B, n + 1), np.linspace(0.0, span, m + 1)[: m if whole else m + 1]
    number = np.arange(len(r) * len(t)).reshape(len(r), -1) + 1
    R, T = np.meshgrid(r, t, indexing="ij")
    nodes = pd.DataFrame({"node": number.ravel(), "x": (R * np.cos(T)).ravel(), "y": (R * np.sin(T)).ravel(), "z": 0.0})
    elements, axes, results = [], [], []
    for k in range(n * m):
        i, j = divmod(k, m)
        if (i, j) in hole:
            continue
        a = span / m * (j + 0.5)
        corners = [(i, j), (i + 1, j), (i + 1, (j + 1) % len(t)), (i, (j + 1) % len(t))]
        elements.append((k + 1, *(number[c] for c in corners), 0.25 if i < thin else 0.2))
        axes.append((k + 1, math.cos(a), math.sin(a), 0.0, 0.0, 0.0, 1.0))
        for c in corners:
            s = (r[c[0]] - A) / (B - A)
            more = 1.0 + 1.5 * max(0.0, 1.0 - abs(math.remainder(t[c[1]] - 1.5, 2 * math.pi)) / 0.35)
            results.append(("G", k + 1, number[c], 0, 0, 0, 120 * s * (1 - s) * more, (80 - 60 * s) * more, 0, 20, 0))
    folder.mkdir(exist_ok=True)
    for name, table in (
        ("nodes", nodes),
        ("elements", pd.DataFrame(elements, columns=["element", "n1", "n2", "n3", "n4", "thickness"])),
        ("axes", pd.DataFrame(axes, columns=["element", "xx", "xy", "xz", "zx", "zy", "zz"])),
        (
            "resultants",
            pd.DataFrame(
                results, columns=["case", "element", "node", "nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]
            ),
        ),
        ("cases", pd.DataFrame({"case": ["G"], "kind": ["permanent"], "signed": ["yes"]})),
    ):
        rows = table if mixed is None else table.sample(frac=1, random_state=mixed)
        rows.to_csv(folder / f"{name}.csv", index=False)
    (folder / "job.toml").write_text(
        JOB.replace("ALONG", along).replace("EXTRA", extra).replace("OUTER", "xy"[along != "radial"])
    )
    return folder / "job.toml"


@pytest.fixture(scope="module")
def radial(tmp_path_factory):
    return run_job(ring(tmp_path_factory.mktemp("ring")), pictures=False)


def test_sectors_give_every_point_what_it_requires(radial):
    bars, places = radial.frame("bars"), radial.frame("layout")
    assert (bars["status"] == "ok").all()
    assert {"sector 1"} <= set(places["place"])
    (schedule,) = radial.project.left(LAYOUT_STAGE)
    for p in schedule.places:
        a0, a1, c0, c1 = (v / 1e3 for v in p.region)
        s, outer = p.bars.spacing / 1e3, B
        if p.layer.endswith("x"):  # radial bars: at no radius less than at their far ends
            assert len(p.pieces) == math.ceil((c1 - c0) * a1 / outer / s - 1e-6)
            for r in np.linspace(a0, a1, 23):
                there = sum(q.start <= 1e3 * r + 31.0 and q.end >= 1e3 * r - 31.0 for q in p.pieces)
                arc = (c1 - c0) * r / outer
                assert there >= arc / s * (1.0 - 1e-9) - 1.0
                assert there <= 2.0 * arc / s + 2.0 or r - a1 / 2.0 < 0.6
        else:  # bars round the middle: as long as their circles
            assert len(p.pieces) == math.ceil((c1 - c0) / s - 1e-6)
            for q in p.pieces:
                r, turn = q.across / 1e3, (a1 - a0) / outer
                whole = turn > 6.28
                long = turn * r + (0.0 if whole else 2.0 * p.beyond.value / 1e3)
                assert q.closed == whole
                assert q.length / 1e3 == pytest.approx(long, abs=0.0251)
                assert q.length / 1e3 >= long - 1e-9


def test_bars_round_the_middle_lap_with_themselves(radial):
    marks, places = radial.frame("bar schedule"), radial.frame("layout")
    base = places[(places["layer"] == "top y") & (places["place"] == "base")].iloc[0]
    own = marks[(marks["layer"] == "top y") & (marks["place"] == "base")]
    d, s = map(float, str(base["bars [mm]"]).split("/"))
    number = math.ceil((B - A) * 1e3 / s - 1e-6)
    radii = A + (np.arange(number) + 0.5) * (B - A) / number
    lap = own["lap [mm]"].iloc[0] / 1e3
    laps = np.ceil(2 * math.pi * radii / (12.0 - lap))
    assert own["number of bars"].sum() == number
    mass = STEEL_DENSITY * 1e9 * math.pi / 4 * (d / 1e3) ** 2 * (2 * math.pi * radii + laps * lap).sum()
    assert own["mass [kg]"].sum() == pytest.approx(mass, rel=1e-3)
    u_bars = marks[marks["place"] == "free edges"]
    radial_base = places[(places["layer"] == "bottom x") & (places["place"] == "base")]["bars [mm]"].iloc[0]
    apart = float(str(radial_base).partition("/")[2])
    assert u_bars["number of bars"].sum() == math.ceil(2 * math.pi * (A + B) * 1e3 / apart - 1e-6)


def test_a_ring_named_by_its_tangents_has_the_same_bars(radial, tmp_path):
    other = run_job(ring(tmp_path / "t", "tangential"), pictures=False)
    swapped = {"x": "y", "y": "x"}
    here, there = (r.frame("layout").set_index(["layer", "place"]) for r in (radial, other))
    for (layer, place), row in here.iterrows():
        same = there.loc[(layer[:-1] + swapped[layer[-1]], place)]
        assert str(same["bars [mm]"]) == str(row["bars [mm]"])


def test_the_plan_of_a_ring_shows_it_as_it_is(radial):
    blocks = [b for s in radial.project.outcomes["layout"].sections for b in s.blocks if isinstance(b, Pictures)]
    plan = next(f for b in blocks for f in b.figures if f.name.startswith("layout")).describe(SI)
    radii = np.linalg.norm(plan.sides, axis=-1)
    assert np.minimum(abs(radii - A), abs(radii - B)).max() < 1e-6
    assert plan.quantities == ("x [m]", "y [m]")
    for p in plan.patches:
        assert np.linalg.norm(p.ring, axis=1).min() >= A - 1e-6
        assert np.linalg.norm(p.ring, axis=1).max() <= B + 1e-6


def test_what_does_not_go_with_radial_bars_is_refused(tmp_path):
    with pytest.raises(InputError, match="goes with bars that keep one direction"):
        run_job(ring(tmp_path / "r", extra="layout = { symmetric = 'x' }"), pictures=False)


def test_bars_beside_an_opening_of_a_ring_by_hand(tmp_path):
    """An opening of 30 degrees, radii 4.667 to 6 m, in 12/200; the same wherever it lies."""
    layers = ("bottom x", "bottom y", "top x", "top y")
    bars = ", ".join(f'"{name}" = {{ diameter = 12, spacing = 200 }}' for name in layers)
    extra = f"provided = {{ {bars} }}\nedges = {{ u_bars = false }}"
    tables = []
    for n, first in enumerate((10, 46)):  # the second one over the angle 0
        hole = [(i, (first + k) % M) for i in (4, 5) for k in range(4)]
        result = run_job(ring(tmp_path / str(n), extra=extra, hole=hole), pictures=False)
        marks = result.frame("bar schedule")
        tables.append(marks[marks["place"] != "base"].drop(columns="mark").astype(str).to_numpy().tolist())
        (schedule,) = result.project.left(LAYOUT_STAGE)
        cut = {"x": math.radians(30) * B / 0.2, "y": (4 / 3) / 0.2}  # radial bars all reach a radius of 6 m
        for b in schedule.edges.beside:
            way, past = b.layer[-1], b.beyond.value / 1e3
            assert b.warning is None
            assert b.cut == pytest.approx(cut[way], rel=1e-4)
            assert len(b.pieces) == 2 * b.each == 2 * math.ceil(cut[way] / 2)
            if way == "x":
                for p in b.pieces:
                    assert (p.start, p.end) == pytest.approx((1e3 * (A + 8 / 3 - past), 1e3 * (6 + past)), abs=0.1)
                angles = np.sort([p.across / 1e3 / B for p in b.pieces])
                near = 1e3 * np.diff(angles) * (A + 8 / 3 - past)  # at the ends towards the middle
                np.testing.assert_allclose(np.delete(near, b.each - 1), 50.0, rtol=1e-4)
                clear = 1e3 * (np.diff(angles)[b.each - 1] - math.radians(30)) * (A + 8 / 3 - past)
                assert clear == pytest.approx(2 * (30 + 6), abs=0.1)
            else:
                radii = sorted(p.across for p in b.pieces)
                inside = [1e3 * (A + 8 / 3) - 36 - 50 * k for k in range(4)][::-1]
                np.testing.assert_allclose(radii, [*inside, *(6036 + 50 * k for k in range(4))], atol=0.1)
                for p in b.pieces:
                    assert (p.end - p.start) * p.scale == pytest.approx(
                        math.radians(30) * p.across + 2e3 * past, abs=0.2
                    )
    assert tables[0] == tables[1]
    corners = result.frame("bar schedule").set_index("place").loc["corners of opening 1"]
    assert corners["number of bars"].tolist() == [4, 4]
    inner = [(i, j) for i in (0, 1) for j in (10, 11)]  # open to the middle
    found = run_job(ring(tmp_path / "m", extra=extra, hole=inner), pictures=False)
    assert not found.project.left(LAYOUT_STAGE)[0].edges.beside
    long = [(i, j) for i in range(1, 8) for j in (10, 11)]  # 16 bars on each side, room for 13
    found = run_job(ring(tmp_path / "w", extra=extra.replace("200", "150"), hole=long), pictures=False)
    assert any("opening 1, bottom y: 6 of 32 bars have no room" in str(w) for w in found.warnings)


def test_bars_are_cut_alike_whatever_the_points(tmp_path):
    layers = ", ".join(f'"{f} {w}" = {{ diameter = 12, spacing = 200 }}' for f in ("bottom", "top") for w in "xy")
    marks, sides = [], []
    for points in ("nodes", "corners", "centres"):
        extra = f'points = "{points}"\nprovided = {{ {layers} }}\nedges = {{}}'
        hole = [(i, j) for i in (4, 5) for j in (47, 0)]
        result = run_job(ring(tmp_path / points, extra=extra, hole=hole), pictures=False)
        marks.append(result.frame("bar schedule").astype(str).to_numpy().tolist())
        blocks = [b for s in result.project.outcomes["layout"].sections for b in s.blocks if isinstance(b, Pictures)]
        sides.append(blocks[0].figures[0].describe(SI).sides)
    assert marks[0] == marks[1] == marks[2]
    assert len(sides[0]) == 2 * M + 2 * (2 + 2)
    np.testing.assert_allclose(sides[1], sides[0], atol=1e-9)
    np.testing.assert_allclose(sides[2], sides[0], atol=1e-9)


def test_a_column_on_a_zone_with_second_order(tmp_path):
    """Second order adds cases to a zone, and none to the force of its columns."""
    column = '[punching.c]\nzone = "ring"\nat = [[0, -5, 0]]\nc1 = 300\nc2 = 500\nforce = { G = -300 }\n'
    use = []
    for more in ("", "second_order = { effective_length = 3.0 }\n"):
        job = ring(tmp_path / f"s{len(more)}", extra=more + column)
        job.write_text(job.read_text().replace('minimum = "slab"', 'minimum = "wall"'))
        use.append(run_job(job, pictures=False).frame("punching")["V [kN]"].tolist())
    assert use[0] == use[1] == [-1.35 * 300.0]


def test_rows_in_any_order_give_the_same_and_directions_are_those_of_the_places(tmp_path):
    """Peaks with a point as near to one as to the other, a column where the thickness changes, radial bars."""
    extra = (
        'peaks = { width = 1.5, at = "found" }\n[punching.column]\nzone = "ring"\nat = [[4, 0, 0], [0, 6, 0]]\n'
        "c1 = 300\nc2 = 400\nforce = { G = -200 }"
    )
    hole = [(i, j) for i in (4, 5) for j in (30, 31)]
    found = []
    for mixed in (None, 1, 2):
        job = ring(tmp_path / str(mixed), extra=extra, hole=hole, thin=3, mixed=mixed)
        result = run_job(job, pictures=False)
        z = result.project.zones[0]
        out = z.xyz[:, :2] / np.linalg.norm(z.xyz[:, :2], axis=1)[:, None]
        inside = ~z.one_sided
        np.testing.assert_allclose(z.on_mesh.points.bars[inside, 0, :2], out[inside], atol=1e-9)
        x = z.on_mesh.bars_at(np.array([0.0, 6e3, 0.0]))[0]
        np.testing.assert_allclose(x, [0.0, 1.0, 0.0], atol=1e-9)
        steel, punching = result.steel.set_index(["point", "layer"]).sort_index(), result.frame("punching")
        found.append((steel["required [mm2/m]"], punching["utilisation"], result.frame("averaged peaks")))
        # at a radius of 4 m 250 mm meets 200 mm
        assert punching["d [mm]"].max() < 200 - 30
    for steel, use, peaks in found[1:]:
        np.testing.assert_allclose(steel, found[0][0].loc[steel.index], rtol=1e-7, atol=1e-9)
        assert use.tolist() == pytest.approx(found[0][1].tolist(), rel=1e-9)
        order = ["point", "component"]
        pd.testing.assert_frame_equal(
            *(f.sort_values(order, ignore_index=True).astype({"point": str}) for f in (peaks, found[0][2]))
        )


def test_a_ring_lies_anywhere_in_space():
    r, t = (v.ravel() for v in np.meshgrid([2e3, 5e3, 8e3], np.radians(np.arange(0.0, 360.0, 5.0))))
    out = np.column_stack([np.cos(t), np.sin(t), 0 * t])
    round_ = np.column_stack([-np.sin(t), np.cos(t), 0 * t])
    Q = np.linalg.qr(np.random.default_rng(1).normal(size=(3, 3)))[0]
    Q *= np.linalg.det(Q)
    at = (r[:, None] * out) @ Q.T + [1e4, -2e4, 3e3]
    for x, y, k in ((out, round_, 1), (round_, -out, 0), (-out, -round_, 1)):
        plan = plan_of(at, at, x @ Q.T, y @ Q.T)
        assert plan.closed
        assert plan.turning == k
        np.testing.assert_allclose(plan.places[:, 1 - k], r, rtol=1e-9)
        np.testing.assert_allclose(np.linalg.norm(np.array(plan.start) - [1e4, -2e4, 3e3]), 8e3, rtol=1e-6)
        way = np.diff(np.unique(plan.places[:, k].round(3)))
        np.testing.assert_allclose(way, 8e3 * math.radians(5.0), rtol=1e-4)
    assert plan_of(at, at, *(v @ Q.T for v in (0.8 * out + 0.6 * round_, 0.8 * round_ - 0.6 * out))) is None
    middle = np.vstack([at, [1e4, -2e4, 3e3]])  # its bars would meet
    assert plan_of(middle, at, out @ Q.T, round_ @ Q.T) is None


def test_bars_close_round_a_drum_and_pass_its_seam():
    whole = 12e3
    square = np.array([[0.0, 0.0], [1e3, 0.0], [1e3, 1e3], [0.0, 1e3]])
    opening = ((5, 1), (6, 1))
    cells = np.stack([square + [1e3 * i, 1e3 * j] for i in range(12) for j in range(2) if (i, j) not in opening])
    found = list(pieces(cells, (0.0, whole, 0.0, 2e3), 0.0, 1e3, 50.0, Round(whole)))
    assert [(p.length, p.closed) for p in found] == [(12e3, True), (9900.0, False)]
    assert (found[1].start, found[1].end) == (7050.0, 16950.0)
    # bars of a rectangle near the seam go past it
    (past,) = pieces(cells, (500.0, 2e3, 0.0, 1e3), 800.0, 1e3, 50.0, Round(whole))
    assert (past.start, past.end) == (-300.0, 2800.0)
    assert [laps_round(v, 12e3, 600.0) for v in (5e3, 11400.0, 11401.0, 22801.0)] == [1, 1, 2, 3]


def test_a_layout_of_a_ring_comes_back_as_bars_of_the_job(radial, tmp_path):
    job = ring(tmp_path / "back", extra='bars_table = "bars.parquet"')
    shutil.copy(radial.project.job.results / "layout.parquet", job.parent / "bars.parquet")
    back = run_job(job, pictures=False)
    for column in ("bars [mm]", "number of bars", "mass [kg]"):
        assert back.frame("layout")[column].map(str).tolist() == radial.frame("layout")[column].map(str).tolist()
    np.testing.assert_allclose(back.steel["provided [mm2/m]"], radial.steel["provided [mm2/m]"])


def test_other_bars_are_tried_on_a_ring(radial):
    found = try_job(radial.project, {"zones.ring.rule.diameters": "[12, 16]"})
    area = M / 2.0 * math.sin(2.0 * math.pi / M) * (B**2 - A**2)
    before = radial.frame("bars")["mass [kg/m2]"].sum() * area
    assert found.bars[0].mass[0] == pytest.approx(before, rel=1e-6)
    assert found.bars[0].bars["mass after [kg/m2]"].sum() * area == pytest.approx(found.bars[0].mass[1], rel=1e-6)


def test_radial_bars_keep_the_clear_distance_where_they_are_closest(tmp_path):
    job = ring(tmp_path / "close")
    lines = job.read_text().splitlines()

    def with_rule(most, layout=True):
        rule = f"rule = {{ diameters = [10], spacing_min = 50, spacing_max = {most}, spacing_step = 25 }}"
        kept = [rule if li.startswith("rule") else li for li in lines if layout or not li.startswith("layout")]
        job.write_text("\n".join(kept))

    with_rule(50)
    with pytest.raises(InputError, match=r"none of its bars keeps 20 mm in layer bottom x"):
        run_job(job, pictures=False)  # 10/50 would leave 25 - 10 mm
    for layout in (True, False):
        with_rule(75, layout)
        bars = run_job(job, pictures=False).frame("bars").set_index("layer")["bars [mm]"].astype(str)
        assert "10/50" not in set(bars[["bottom x", "top x"]])
        if not layout:
            assert bars["bottom x"] == "10/75"  # the heaviest that leaves 37.5 - 10 mm
    with_rule(75)
    job.write_text(
        job.read_text().replace(
            "[zones.ring]", '[zones.ring]\nprovided = { "bottom x" = { diameter = 10, spacing = 50 } }'
        )
    )
    with pytest.raises(InputError, match=r"radial bars at half of 50 mm leave 15 mm of concrete between them"):
        run_job(job, pictures=False)
