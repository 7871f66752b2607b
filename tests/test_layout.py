"""Bars laid out by rule: covers of fields by hand and at random, and from the job to tables, marks and plans."""

import itertools
import math

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import PLATE, write_plate
from sandwich import InputError, explain_point, run_job, try_job
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import SI, Shown
from sandwich.design.bar_sets import BarRule, ExtraBars, ParallelBars
from sandwich.design.layout.cover import Problem, best_of, covers, options_of, program_of
from sandwich.design.layout.fold import Fold
from sandwich.design.layout.grid import grid_of
from sandwich.design.layout.layer import LayoutRule, lay_layer
from sandwich.design.layout.pieces import STRAIGHT, chords, laps_of
from sandwich.drawing.layout import draw_layout
from sandwich.drawing.maps import png
from sandwich.model.plan import plan_of
from sandwich.project.outcome import Pictures
from sandwich.work.layout import LayerPlan, counted
from walls.test_walls_of_a_plate import JOB, H, L, write

BARS = BarRule((10.0, 12.0, 16.0), (100.0, 150.0, 200.0), 20.0)
M = 500.0


def laid(required, rectangles=8, price=2.0, base=None, beyond=400.0, mirrored=(False, False)):
    """A field of squares of half a metre laid out."""
    n, m = required.shape
    x, y = np.meshgrid((np.arange(n) + 0.5) * M, (np.arange(m) + 0.5) * M, indexing="ij")
    places = np.stack([x.ravel(), y.ravel()], axis=1)
    grid = grid_of(places, np.full((n * m, 2), M / 2), required.ravel(), M, mirrored)
    assert any(mirrored) or grid.required == pytest.approx(required)
    rule = LayoutRule(BARS, base, rectangles, (1000.0, 1000.0), price, lambda d: beyond, 20.0)  # noqa: ARG005
    return grid, lay_layer(grid, rule)


def provided(grid, layer):
    area, count = np.full(grid.fold.count, layer.base.area), np.zeros(grid.fold.count)
    for p in layer.patches:
        i0, i1, j0, j1 = p.box
        area[i0:i1, j0:j1] += p.bars.area
        count[i0:i1, j0:j1] += 1
    return area, count


def test_one_patch_is_one_rectangle_of_least_bars():
    required = np.full((20, 16), 0.35)
    required[6:10, 4:8] = 0.9
    _, layer = laid(required)
    assert layer.base == ParallelBars(10.0, 200.0)
    (patch,) = layer.patches
    assert patch.box == (6, 10, 4, 8)
    # 0.9 less 0.393: 16/400 has 0.503, 12/200 has 0.565
    assert patch.bars == ParallelBars(12.0, 200.0)
    mass = layer.base.area * 10e3 * 8e3 + patch.bars.area * 2000 * (2000 + 2 * 400)
    assert layer.mass == pytest.approx(STEEL_DENSITY * mass + 2.0)
    assert layer.bound <= layer.mass * (1 + 1e-9)
    # a mark that costs more than the mesh does not pay; a base mesh that is given stays
    assert not laid(required, price=1000.0)[1].patches
    assert not laid(required, rectangles=0)[1].patches
    assert laid(required, base=ParallelBars(12.0, 150.0))[1].base == ParallelBars(12.0, 150.0)
    # where no bars of the rule are enough they have the most of it, in places beside the base mesh
    past = laid(np.full((4, 4), 9.0))[1]
    assert (past.base, past.enough) == (ParallelBars(16.0, 100.0), False)
    required[6:10, 4:8] = 9.0
    past = laid(required)[1]
    assert not past.enough
    assert past.base.area + sum(p.bars.area for p in past.patches) >= ParallelBars(16.0, 100.0).area


@settings(max_examples=10, deadline=None)
@given(
    peaks=st.lists(
        st.tuples(st.integers(0, 15), st.integers(0, 11), st.floats(0.2, 2.0), st.floats(0.5, 3.0)), max_size=4
    ),
    most=st.integers(1, 6),
    mirrored=st.tuples(st.booleans(), st.booleans()),
    odd=st.booleans(),
)
def test_every_square_has_what_it_requires(peaks, most, mirrored, odd):
    """Symmetric or not; what is symmetric is the same turned over."""
    i, j = np.meshgrid(np.arange(16 + odd), np.arange(12 + odd), indexing="ij")
    required = np.full(i.shape, 0.3)
    for a, b, high, wide in peaks:
        required = required + high * np.exp(-((i - a) ** 2 + (j - b) ** 2) / wide**2)
    grid, layer = laid(required, rectangles=most, mirrored=mirrored)
    if not layer.enough:  # the most of the rule is there, in all places that ask for it
        assert required.max() > ParallelBars(16.0, 100.0).area
        required = np.minimum(required, ParallelBars(16.0, 100.0).area)
    area, count = provided(grid, layer)
    at = [np.floor(((k + 0.5) * M - s) / M + 1e-9).astype(int) for k, s in zip((i, j), grid.start, strict=True)]
    there = area[tuple(np.minimum(k, n - 1) for k, n in zip(at, area.shape, strict=True))]
    assert (there >= required - 1e-8).all()
    assert len(layer.patches) <= most
    assert count.max(initial=0) <= 2
    assert layer.bound <= layer.mass * (1 + 1e-9)
    for axis in np.flatnonzero(mirrored):
        np.testing.assert_allclose(area, np.flip(area, axis))
    for p in layer.patches:
        apart = 1 / (1 / layer.base.spacing + 1 / p.bars.spacing)
        assert apart - (layer.base.diameter + p.bars.diameter) / 2 >= BARS.clear - 1e-9
        assert p.bars.spacing / layer.base.spacing in (0.5, 1.0, 2.0)
    peak = laid(np.full(required.shape, required.max()))[1]
    assert peak.base is None or layer.mass <= peak.mass + 1e-9


def test_where_nearly_all_lacks_a_little_the_base_mesh_is_heavier():
    required = np.full((10, 16), 0.5)
    required[3:5, 8:] = 0.0
    _, layer = laid(required)
    assert (str(layer.base), layer.patches) == ("12/200", ())


@settings(max_examples=25)
@given(seed=st.integers(0, 2**32 - 1), most=st.integers(1, 3))
def test_no_other_choice_of_rectangles_costs_less(seed, most):
    rng = np.random.default_rng(seed)
    short = rng.choice([0.0, 0.3, 0.5, 0.8, 1.1], (2, 3))
    ends = [list(itertools.combinations(range(n + 1), 2)) for n in short.shape]
    bars = [ParallelBars(10.0, 200.0), ParallelBars(12.0, 200.0), ParallelBars(16.0, 250.0)]
    problem = Problem(
        short, [(*a, *b) for a in ends[0] for b in ends[1]], bars, M, 300.0, 2e5, most, 1.5 / 125.0,
        Fold(short.shape, (False, False)), (1, 1), np.ones(2), np.ones(3),
    )  # fmt: skip
    program, options = program_of(problem), options_of(problem)
    found = best_of(program, 20.0)
    least = 0.0 if not short.any() else math.inf
    for count in range(1, most + 1):
        for chosen in itertools.combinations(options, count):
            over, dense = np.zeros(short.shape), np.zeros(short.shape)
            for o in chosen:
                over[o.box[0] : o.box[1], o.box[2] : o.box[3]] += 1.0
                dense[o.box[0] : o.box[1], o.box[2] : o.box[3]] += 1.0 / o.bars.spacing
            if over.max() <= 2 and dense.max() <= problem.room and covers(problem, chosen):
                least = min(least, sum(problem.cost(o.box, o.bars) for o in chosen))
    assert program.bound <= least * (1 + 1e-6)
    assert found.cost == pytest.approx(least, rel=0.02) or found.cost == least
    assert found.bound <= found.cost


def test_lines_are_cut_at_holes_and_stock():
    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=float) * 1000
    cells = np.stack([square + [1000 * i, 1000 * j] for i in range(4) for j in range(3) if (i, j) != (1, 1)])
    assert chords(cells, 1500.0) == [(0.0, 1000.0), (2000.0, 4000.0)]
    assert chords(cells, 500.0) == [(0.0, 4000.0)]
    assert chords(cells, 3500.0) == []
    assert [laps_of(v, 12e3, 600.0) for v in (12e3, 12001.0, 23400.0, 23401.0)] == [0, 1, 1, 2]


def test_drums_are_laid_flat():
    angle = np.radians(np.arange(0.0, 270.0, 3.0))
    at = np.array([[4 + 6 * math.cos(a), 6 * math.sin(a), z] for a in angle for z in (0.0, 2.0)]) * 1e3
    for sense in (1.0, -1.0):
        x = sense * np.array([[-math.sin(a), math.cos(a), 0.0] for a in angle for _ in range(2)])
        plan = plan_of(at, at, x, np.tile([0.0, 0.0, 1.0], (len(at), 1)))
        assert plan.radius == pytest.approx(6000.0)
        assert plan.places.min(0) == pytest.approx([0.0, 0.0], abs=0.01)
        assert plan.places.max(0) == pytest.approx([6000 * math.radians(267), 2000.0])
        far = np.linalg.norm(at[10] - at[20])  # a chord of the drum, by the way round
        assert 2 * 6000 * math.sin(abs(plan.places[10, 0] - plan.places[20, 0]) / 12000) == pytest.approx(far)
    whole = at[: 2 * 90].copy()
    turn = np.repeat(np.radians(np.arange(0.0, 360.0, 4.0)), 2)
    whole[:, :2] = 6e3 * np.column_stack([np.cos(turn), np.sin(turn)])
    plan = plan_of(
        whole, whole, np.column_stack([-np.sin(turn), np.cos(turn), 0 * turn]), np.tile([0.0, 0.0, 1.0], (180, 1))
    )
    first = np.arange(0, 180, 2)
    sides = plan.cells(np.column_stack([first, (first + 2) % 180, (first + 3) % 180, first + 1]))
    assert np.ptp(sides, axis=1) == pytest.approx(np.tile([6e3 * math.radians(4.0), 2000.0], (90, 1)))
    turned = np.stack([np.cos(at[:, 0]), np.sin(at[:, 0]), 0 * at[:, 0]], axis=1)
    assert plan_of(at, at, turned, turned) is None


RULE = "rule = { diameters = [10, 12, 16], spacing_min = 100, spacing_max = 200, spacing_step = 50 }\n"
LAYOUT = RULE + "layout = { stock = 5.0, module = 0.5 }\n"


def job(zone, layers=""):
    text = JOB.split("[storeys]")[0].replace("f_yk = 500\n", f"f_yk = 500\n{zone}")
    return text + layers + JOB[JOB.index("[[combinations]]") :]


@pytest.fixture(scope="module")
def wall(tmp_path_factory):
    """A cantilever under pressure laid out: most is required of the upright bars at its foot."""
    return run_job(write(tmp_path_factory.mktemp("layout"), job(LAYOUT)), pictures=False)


def test_the_layout_holds_at_every_point(wall):
    bars = wall.frame("bars")
    assert (bars["status"] == "ok").all()
    assert (bars["utilisation"] <= 1 + 1e-9).all()
    places, marks = wall.frame("layout"), wall.frame("bar schedule")
    summary = next(t for t in wall.project.outcomes["layout"].summary).frame.set_index("layer")
    np.testing.assert_allclose(bars.set_index("layer")["mass [kg/m2]"], summary["provided [kg/m2]"], rtol=1e-12)
    upright = places[places["layer"] == "bottom y"]
    assert len(upright) > 1
    # the pressure bends the foot: rectangles stand there
    assert (upright["along from [m]"] == 0.0).sum() > 1
    # cut bars weigh what their areas do, with what goes past the rectangles, laps and less cover at the edges
    for row in places.to_dict("records"):
        own = marks[(marks["layer"] == row["layer"]) & (marks["place"] == row["place"])]
        assert own["mass [kg]"].sum() == pytest.approx(row["mass [kg]"])
        assert own["number of bars"].sum() == row["number of bars"]
        d, s = map(float, str(row["bars [mm]"]).split("/"))
        wide = 1e3 * (row["across to [m]"] - row["across from [m]"])
        long = 1e3 * (row["along to [m]"] - row["along from [m]"])
        if row["place"] == "base":
            long -= 2 * 30.0
        else:
            assert row["number of bars"] == math.ceil(wide / s - 1e-6)
            low = max(1e3 * row["along from [m]"] - row["beyond each end [mm]"], 30.0)  # cover at the foot
            long = 1e3 * row["along to [m]"] + row["beyond each end [mm]"] - low
        length = own["length [m]"].max() * 1e3
        assert length == pytest.approx(math.ceil(long / 25 - 1e-6) * 25, abs=1)
        one = STEEL_DENSITY * math.pi * d**2 / 4 * (length + (own["laps"] * own["lap [mm]"].fillna(0)).max())
        assert row["mass [kg]"] == pytest.approx(row["number of bars"] * one, rel=1e-9)
    assert sorted(set(marks["mark"])) == list(range(1, marks["mark"].max() + 1))
    alike = marks.groupby("mark")[["diameter [mm]", "length [m]", "laps", "shape"]].nunique()
    assert (alike == 1).all().all()  # bars of one mark are alike, and bars alike have one
    assert (
        len(marks.drop_duplicates(["diameter [mm]", "length [m]", "laps", "lap [mm]", "shape"]))
        == len(alike)
        < len(marks)
    )
    long_bars = marks[marks["length [m]"] > 5.0]
    assert (long_bars["laps"] == 1).all()
    assert len(long_bars)


def test_tension_shift_and_anchorage_go_past_the_rectangles(wall):
    row = wall.frame("layout").query("layer == 'bottom y' and place != 'base'").iloc[0]
    d, s = map(float, str(row["bars [mm]"]).split("/"))
    base = float(str(wall.frame("layout").query("layer == 'bottom y'")["bars [mm]"].iloc[0]).split("/")[1])
    axis = wall.frame("steel").query("layer == 'bottom y'")["axis below mid-depth [mm]"].iloc[0]
    depth = 100.0 + axis
    cover = 200.0 - depth - d / 2
    c_d = min(cover, (1 / (1 / base + 1 / s) - d) / 2)
    f_bd = 2.25 * 0.7 * 0.3 * 30 ** (2 / 3) / 1.5
    l_bd = max(min(max(1 - 0.15 * (c_d - d) / d, 0.7), 1.0) * d / 4 * 500 / 1.15 / f_bd, 10 * d, 100)
    assert row["beyond each end [mm]"] == pytest.approx(depth + l_bd, rel=1e-6)


def given_again(wall, shorter=0.0, drop=0.0):
    """The layout as bars of the job itself, the first rectangle shorter or thinner."""
    rows = wall.frame("layout")
    base, more = {}, []
    for row in rows.to_dict("records"):
        d, s = str(row["bars [mm]"]).split("/")
        if row["place"] == "base":
            base[row["layer"]] = f"{{ diameter = {d}, spacing = {s} }}"
            continue
        first = not more
        along = [row["along from [m]"], row["along to [m]"] - (shorter if first else 0.0)]
        across = [row["across from [m]"], row["across to [m]"]]
        thin = float(d) - (drop if first else 0.0)
        more.append(
            f'{{ layer = "{row["layer"]}", diameter = {thin}, spacing = {s}, along = {along}, across = {across} }}'
        )
    bars = "provided = { " + ", ".join(f'"{k}" = {v}' for k, v in base.items()) + " }\n"
    return bars + f"additional = [{', '.join(more)}]\n"


def test_a_shorter_rectangle_or_a_thinner_bar_breaks_it(wall, tmp_path):
    for name, changed, holds in (
        ("same", {}, True),
        ("short", {"shorter": 0.3}, False),
        ("thin", {"drop": 4.0}, False),
    ):
        folder = tmp_path / name
        folder.mkdir()
        bars = run_job(write(folder, job(given_again(wall, **changed))), pictures=False).frame("bars")
        ratio = bars.set_index("layer")["utilisation"]
        if holds:
            assert ratio.max() <= 1.0 + 1e-9
        else:
            assert ratio.max() > 1.0


def test_plans_show_what_the_table_has(wall):
    blocks = [b for s in wall.project.outcomes["layout"].sections for b in s.blocks]
    figures = [f for b in blocks if isinstance(b, Pictures) for f in b.figures]
    (bottom,) = [f.describe(SI) for f in figures if f.name.endswith("bottom")]
    rows = wall.frame("layout").query("layer in ('bottom x', 'bottom y') and place != 'base'")
    assert len(bottom.patches) == len(rows)
    for patch, row in zip(bottom.patches, rows.to_dict("records"), strict=True):
        assert str(row["bars [mm]"]) in patch.label
        assert np.ptp(patch.ring[:, 1]) == pytest.approx(row["along to [m]"] - row["along from [m]"])
        assert patch.upright
    assert bottom.sides.max((0, 1)) == pytest.approx([L / 1e3, H / 1e3])
    assert png(draw_layout, figures[0].describe(Shown("US")))[:4] == b"\x89PNG"


@pytest.mark.parametrize(
    ("zone", "told"),
    [
        ("layout = {}\n", "give rule = {} too"),
        (LAYOUT + 'additional = [{ layer = "bottom x", diameter = 10, spacing = 100, along = [0, 1], across = [0, 1] }]\n',
         "layout chooses the additional bars"),
        (RULE + 'additional = [{ layer = "bottom x", diameter = 10, spacing = 100, along = [0, 1] }]\n', "go together"),
        (RULE + 'additional = [{ layer = "bottom x", diameter = 10, spacing = 100, along = [1, 0], across = [0, 1] }]\n',
         "from the smaller to the larger"),
        (RULE + 'additional = [{ layer = "bottom x", diameter = 10, spacing = 100, along = [50, 60], across = [0, 1] }]\n',
         "holds no point"),
    ],
)  # fmt: skip
def test_what_cannot_be_laid_out_is_said(tmp_path, zone, told):
    with pytest.raises(InputError, match=told):
        run_job(write(tmp_path, job(zone)), pictures=False)


def test_lengths_past_the_rectangles_by_other_standards(tmp_path):
    """The larger of d, 12 diameters and the development length; bars of the face stand 30 mm below it."""
    given = (
        'provided = { "bottom y" = { diameter = 12, spacing = 200 } }\n'
        'additional = [{ layer = "bottom y", diameter = 16, spacing = 200, along = [0, 2], across = [1, 3] }]\n'
    )
    found = {}
    for name in ("ACI 318-19", "IS 456:2000"):
        folder = tmp_path / name[:2]
        folder.mkdir()
        text = job(given).replace("f_yk = 500", "f_yk = 420")
        text = text.replace("f_ck = 30", 'f_ck = 30\nstrength = "cube"') if name.startswith("IS") else text
        result = run_job(write(folder, text + f'[design]\nstandard = "{name}"\n'), pictures=False)
        found[name] = result.frame("layout").set_index("place").loc["rectangle 1"]
    # x bars of 12 mm lie outside: cover 42 mm to bars 100 mm apart, c_b 50 mm; 20 mm and less has psi_s 0.8
    l_d = 420 * 0.8 * 16 / (1.1 * math.sqrt(30) * 2.5)
    depth = 200 - 42 - 8
    aci, is_456 = found["ACI 318-19"], found["IS 456:2000"]
    assert aci["beyond each end [mm]"] == pytest.approx(max(depth, 12 * 16, l_d, 300), rel=1e-6)
    assert aci["beyond by"].startswith("7.7.3.3")
    assert is_456["beyond each end [mm]"] == pytest.approx(16 * 0.87 * 420 / (4 * 1.6 * 1.5), rel=1e-6)
    # without a base mesh under them as well, and both weigh what they are
    for row in found.values():
        assert row["number of bars"] == 10
        length = 2000 - 30 + row["beyond each end [mm]"]
        assert row["mass [kg]"] == pytest.approx(10 * STEEL_DENSITY * math.pi * 64 * math.ceil(length / 25 - 1e-6) * 25)


def test_additional_bars_alone_are_cut_too(tmp_path):
    given = (
        'provided = { "bottom x" = { diameter = 12, spacing = 200 } }\n'
        'additional = [{ layer = "top y", diameter = 12, spacing = 150, along = [0, 1], across = [0, 3] }]\n'
    )
    result = run_job(write(tmp_path, job(given)), pictures=False)
    places = result.frame("layout").set_index(["layer", "place"])
    assert set(places.index) == {("bottom x", "base"), ("top y", "rectangle 1")}
    assert places.loc[("top y", "rectangle 1"), "number of bars"] == 20
    polygon = (
        'provided = { "bottom x" = { diameter = 12, spacing = 200 } }\nadditional = [{ layer = "bottom x", diameter = 12, '
        "spacing = 150, polygon = [[0, 0, 0], [3, 0, 0], [3, 0, 2], [0, 0, 2]] }]\n"
    )
    (tmp_path / "b").mkdir()
    result = run_job(write(tmp_path / "b", job(polygon)), pictures=False)
    assert any("polygons of space" in w.evidence for w in result.warnings)


def bent(path):
    """The wall bent to a quarter of a drum: the same resultants in the axes of its elements."""
    nodes = pd.read_csv(path.parent / "nodes.csv")
    radius = 2 * L / math.pi
    angle = nodes["x"] / radius
    nodes["x"], nodes["y"] = radius * np.sin(angle), radius * (1 - np.cos(angle))
    nodes.to_csv(path.parent / "nodes.csv", index=False)
    text = path.read_text().replace('reactions = "reactions.csv"\n', "")
    text = text.replace('direction = { along = "vector", vector = [1, 0, 0] }',
                        f'direction = {{ along = "horizontal" }}\ntop_side = {{ away_from = [0, {radius / 1e3}, 0] }}')  # fmt: skip
    path.write_text(text)
    return path


def test_a_drum_is_laid_out_as_the_wall_it_is_bent_from(wall, tmp_path):
    drum = run_job(bent(write(tmp_path, job(LAYOUT))), pictures=False)
    here, there = (r.frame("layout") for r in (wall, drum))
    assert there["bars [mm]"].map(str).tolist() == here["bars [mm]"].map(str).tolist()
    assert there["place"].tolist() == here["place"].tolist()
    upright = here["layer"] == "bottom y"
    for column in ("along from [m]", "along to [m]"):
        np.testing.assert_allclose(there[upright][column], here[upright][column], atol=1e-3)
    np.testing.assert_allclose(there["mass [kg]"].sum(), here["mass [kg]"].sum(), rtol=0.01)
    # the way round is that of the bars, wherever it starts
    wide = [f["across to [m]"] - f["across from [m]"] for f in (here[upright], there[upright])]
    np.testing.assert_allclose(wide[1], wide[0], atol=0.02)
    figures = [f for s in drum.project.outcomes["layout"].sections for b in s.blocks
               if isinstance(b, Pictures) for f in b.figures]  # fmt: skip
    sides = figures[0].describe(SI).sides
    assert np.ptp(sides, axis=(0, 1)) == pytest.approx([L / 1e3, H / 1e3], abs=0.01)


def test_layouts_in_the_units_of_the_user(wall):
    """Plans and tables in inches and feet tell the same bars."""
    blocks = [b for s in wall.project.outcomes["layout"].sections for b in s.blocks]
    figure = next(f for b in blocks if isinstance(b, Pictures) for f in b.figures)
    plain, other = figure.describe(SI), figure.describe(Shown("US"))
    np.testing.assert_allclose(other.sides, plain.sides / 0.3048)
    for a, b in zip(plain.patches, other.patches, strict=True):
        np.testing.assert_allclose(b.ring, a.ring / 0.3048)
        long = [float(p.label.rpartition(" ")[2]) for p in (a, b)]
        assert long[1] == pytest.approx(long[0] / 25.4, abs=0.51)
    assert "[ft]" in other.quantities[0]


SERVICE = """
[[combinations]]
name = "Q"
situation = "quasi-permanent"
factors = { G = 1.0, P = 0.6 }
"""


def test_service_is_met_by_the_bars_that_are_laid(tmp_path):
    """Widths, minimum steel and strength with the bars of the layout, and the same again from the store."""
    asked = LAYOUT + 'service = { add_reinforcement = true, minimum_reinforcement = "bending" }\n'
    path = write(tmp_path, job(asked) + SERVICE)
    result = run_job(path, pictures=False)
    assert (result.frame("bars")["status"] == "ok").all()
    checks = result.frame("service checks")
    own = checks[checks["check"].str.startswith(("crack", "minimum", "steel stress"))]
    assert len(own)
    assert (own["utilisation"] <= 1 + 1e-6).all()
    before = {p.name: p.read_bytes() for p in (tmp_path / "results").glob("*.parquet")}
    run_job(path, pictures=False)
    assert {p.name: p.read_bytes() for p in (tmp_path / "results").glob("*.parquet")} == before


@settings(max_examples=3, deadline=None)
@given(noise=st.integers(0, 2**32 - 1))
def test_rounding_noise_and_turning_leave_the_layout(noise):
    i, j = np.meshgrid(np.arange(14), np.arange(10), indexing="ij")
    required = 0.35 + 1.1 * np.exp(-((i - 6) ** 2 + (j - 4) ** 2) / 4.0)
    _, layer = laid(required)
    rng = np.random.default_rng(noise)
    _, other = laid(required * (1 + 1e-10 * rng.standard_normal(required.shape)))
    assert other.mass == pytest.approx(layer.mass, rel=1e-6)
    _, mirrored = laid(required[::-1, ::-1])
    assert mirrored.mass == pytest.approx(layer.mass, rel=0.02)
    # more required never takes less
    assert laid(required + 0.2)[1].mass >= layer.mass * (1 - 0.02)


def test_every_setting_of_a_layout_is_honoured(tmp_path):
    def places(name, layout, more=""):
        folder = tmp_path / name
        folder.mkdir()
        rule = RULE.replace("12, 16", "12, 16, 20")
        result = run_job(write(folder, job(f"{rule}layout = {layout}\n{more}")), pictures=False)
        assert (result.frame("bars")["utilisation"] <= 1 + 1e-9).all()
        frame = result.frame("layout")
        return frame, frame[frame["place"] != "base"], result.frame("bar schedule")

    _, one, _ = places("one", "{ rectangles = 1, module = 0.5 }")
    assert (one.groupby("layer").size() <= 1).all()
    frame, none, _ = places("none", "{ rectangles = 0 }")
    assert none.empty
    assert (frame["place"] == "base").all()
    _, large, _ = places("large", "{ length = 2.0, width = 3.0, module = 0.5 }")
    assert len(large)
    assert (large["along to [m]"] - large["along from [m]"] >= 2.0 - 1e-9).all()
    assert (large["across to [m]"] - large["across from [m]"] >= 3.0 - 1e-9).all()
    edges = large[["along from [m]", "along to [m]", "across from [m]", "across to [m]"]].to_numpy()
    np.testing.assert_allclose(edges, np.round(edges / 0.5) * 0.5, atol=1e-9)
    _, even, _ = places("even", "{ symmetric = 'both', module = 0.5 }")
    frame = frame[frame["place"] == "base"].set_index("layer")
    for layer, own in even.groupby("layer"):
        ends = own[["along from [m]", "along to [m]", "across from [m]", "across to [m]"]].to_numpy()
        whole = frame.loc[layer, ["along from [m]", "along to [m]", "across from [m]", "across to [m]"]].to_numpy(float)
        for k in (0, 2):
            image = ends.copy()
            image[:, [k, k + 1]] = whole[k] + whole[k + 1] - ends[:, [k + 1, k]]
            np.testing.assert_allclose(np.sort(image, axis=0), np.sort(ends, axis=0), atol=1e-9)
    _, dear, _ = places("dear", "{ price = 500.0, module = 0.5 }")
    assert len(dear) < len(large)
    frame, _, marks = places(
        "given", "{ module = 0.5, stock = 3.0 }", 'provided = { "bottom y" = { diameter = 12, spacing = 150 } }\n'
    )
    assert str(frame.query("layer == 'bottom y' and place == 'base'")["bars [mm]"].iloc[0]) == "12/150"
    assert (marks[marks["length [m]"] > 3.0]["laps"] >= 1).all()
    assert (marks[marks["length [m]"] <= 3.0]["laps"] == 0).all()


def test_points_of_a_layout_are_explained_and_tried_from_the_store(tmp_path):
    path = write(tmp_path, job(LAYOUT))
    result = run_job(path, pictures=False)
    worst = result.steel.sort_values("required [mm2/m]", ascending=False).iloc[0]
    sheet = explain_point(path, f"wall/{worst['point']}")
    told = [q.value for _, step in sheet.steps for q in step.results]
    assert any(
        abs(float(v) - worst["required [mm2/m]"]) < 1e-3 * worst["required [mm2/m]"] for v in told if v is not None
    )
    kept = (tmp_path / "results" / "store" / "wall+layout.npz").read_bytes()
    trial = try_job(path, {"zones.wall.thickness": "250"})
    thick = trial.steel.set_index("layer").loc["bottom y"]
    assert thick["maximum after [mm2/m]"] < thick["maximum before [mm2/m]"]
    assert (tmp_path / "results" / "store" / "wall+layout.npz").read_bytes() == kept


def test_a_layer_that_asks_for_more_has_the_most_of_the_rule_and_a_curtain_its_plan(tmp_path):
    for name in "ab":
        (tmp_path / name).mkdir()
    thin = RULE.replace("10, 12, 16", "6")
    short = run_job(write(tmp_path / "a", job(f"{thin}layout = {{ rectangles = 0 }}\n")), pictures=False)
    layers = short.frame("bars").set_index("layer")
    past = layers[layers["status"].str.contains("no bars of the rule")]
    assert len(past)
    assert past["utilisation"].between(1.0, 100.0).all()
    assert past["mass [kg/m2]"].gt(0).all()
    rows = short.frame("layout").set_index("layer")["bars [mm]"].astype(str)
    assert (rows[past.index] == past["bars [mm]"].astype(str)).all()
    curtain = run_job(write(tmp_path / "b", job(LAYOUT, '[zones.wall.bars]\nlayout = "mid-depth"\n')), pictures=False)
    figures = [f for s in curtain.project.outcomes["layout"].sections for b in s.blocks
               for f in getattr(b, "figures", ())]  # fmt: skip
    assert [f.name.rsplit(" ", 1)[1] for f in figures] == ["curtain", "section"]
    assert figures[0].describe(Shown("SI")).title.endswith("bars, curtain")


def test_a_point_on_an_edge_has_the_bars_of_the_side_with_fewer():
    """Two rectangles side by side with a third over both, of a zone of 4 x 2 m."""
    places = np.array([[x, y] for x in (0.0, 1e3, 2e3, 3e3, 4e3) for y in (0.0, 1e3, 2e3)])
    flat = LayerPlan(places, np.array([1.0, 0.0]), np.array([0.0, 1.0]), STRAIGHT)
    none = np.zeros(len(places), dtype=bool)
    sets = [(12, 100, (0, 2e3, 0, 2e3)), (16, 200, (2e3, 3e3, 0, 2e3)), (10, 200, (1e3, 3e3, 1e3, 2e3))]
    extra = [ExtraBars(0, ParallelBars(d, s), none, region) for d, s, region in sets]
    found = counted([*extra, ExtraBars(1, ParallelBars(8, 100), ~none)], lambda _: flat)
    area = {d: math.pi * d**2 / 4 / s for d, s, _ in sets}
    have = sum(e.bars.area * e.at for e in found[:3]).reshape(5, 3)
    # at the edges of the zone bars count, at inner ones those of the side with fewer
    wanted = np.array([
        [area[12]] * 3,
        [area[12], area[12], area[12]],
        [area[16], area[16], area[16] + area[10]],
        [0, 0, 0],
        [0, 0, 0],
    ])  # fmt: skip
    assert have == pytest.approx(wanted)
    assert found[3].at.all()
    mirrored = counted([ExtraBars(0, e.bars, none, (4e3 - e.region[1], 4e3 - e.region[0], *e.region[2:])) for e in extra],
                       lambda _: flat)  # fmt: skip
    assert sum(e.bars.area * e.at for e in mirrored).reshape(5, 3)[::-1] == pytest.approx(wanted)


def test_bars_that_end_inside_a_slab_are_told(tmp_path):
    """Two zones of one slab; one that stands on the other at a right angle is none."""
    path = write_plate(tmp_path, n=4, size=1.5)
    elements = tmp_path / "elements.csv"
    head, *lines = elements.read_text().splitlines()
    lines[8:] = [line.removesuffix("a") + "b" for line in lines[8:]]
    elements.write_text("\n".join([head, *lines]) + "\n")
    rule = (
        "rule = { diameters = [10, 12], spacing_min = 100, spacing_max = 200, spacing_step = 50 }\n"
        'direction = { along = "vector", vector = [0, 1, 0] }\n'
    )
    zone = PLATE.partition("[zones.plate]")[2].partition("[[")[0] + rule
    path.write_text(PLATE.replace("[[", f"{rule}[zones.other]{zone}[[".replace('["a"]', '["b"]'), 1))

    def told():
        return [w for w in run_job(path, pictures=False).warnings if "border" in str(w.text)]

    (warning,) = told()
    assert warning.grave
    assert (warning.subject, str(warning.evidence)[:4]) == ("zones plate and other", "6 m ")
    nodes = tmp_path / "nodes.csv"
    rows = pd.read_csv(nodes)
    rows["z"], rows["x"] = (rows["x"] - 3.0).clip(lower=0.0), rows["x"].clip(upper=3.0)
    rows.to_csv(nodes, index=False)
    assert not told()
