"""Bars chosen by rule and bars given: areas, depths, what is short, limit analysis, a second run, the command line."""

import itertools

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import explain_point, run_job, try_job
from sandwich.design.bar_sets import BarRule, choose
from sandwich.model.inside import inside

RULE = "rule = { diameters = [10, 16, 20], spacing_min = 100, spacing_max = 200, spacing_step = 50 }\n"


def with_lines(plate, lines):
    plate.write_text(plate.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{lines}"))
    return run_job(plate, pictures=False)


def test_the_choice_is_the_least_that_is_enough():
    rule = BarRule((8.0, 10.0, 12.0, 16.0), (100.0, 125.0, 150.0, 200.0))
    areas = sorted(np.pi * d * d / 4 / s for d in rule.diameters for s in rule.spacings)
    for required in np.linspace(0.05, 2.2, 40):
        chosen = choose(required, rule)
        enough = [a for a in areas if a >= required]
        assert (chosen is None) == (not enough)
        if chosen:
            assert chosen.area == pytest.approx(min(enough))


def test_chosen_bars_lie_at_their_own_depth(plate):
    assumed = run_job(plate, pictures=False)
    result = with_lines(plate, RULE)
    bars = result.frame("bars").set_index("layer")
    most = result.steel.groupby("layer")["required [mm2/m]"].max()
    assert_allclose(bars["required [mm2/m]"], most.reindex(bars.index))
    assert (bars["utilisation"] <= 1.0).all()
    assert (bars["status"] == "ok").all()
    assert_allclose(bars["mass [kg/m2]"], bars["provided [mm2/m]"] * 7.85e-3)
    diameters = bars["bars [mm]"].str.split("/").str[0].astype(float)
    laid = result.zones[0].zone.bars
    assert diameters.max() > 12.0
    assert max(laid.diameter_x, laid.diameter_y) == diameters.max()
    assert most.sum() > assumed.steel.groupby("layer")["required [mm2/m]"].max().sum()  # deeper bars, shorter arms
    # explanation, trial and second run see the bars that were laid
    point = result.steel.loc[result.steel["required [mm2/m]"].idxmax(), "point"]
    assert explain_point(plate, point).answer
    trial = try_job(plate, {"zones.plate.f_ck": "40"})
    assert_allclose(trial.steel.set_index("layer")["maximum before [mm2/m]"], most.reindex(trial.steel["layer"]))
    again = run_job(plate, pictures=False)
    assert again.reused == ("plate",)
    assert again.steel.equals(result.steel)
    assert again.zones[0].zone.bars == laid
    plate.write_text(plate.read_text().replace(RULE, ""))
    assert run_job(plate, pictures=False).steel.equals(assumed.steel)


def test_spacings_that_the_standard_forbids_are_not_chosen(plate):
    rule = "rule = { diameters = [16], spacing_min = 100, spacing_max = 600, spacing_step = 100 }\n"
    free = with_lines(plate, rule).bars[0]
    bound = with_lines(plate, 'minimum = "slab"\n').bars[0]
    widest = [max(b.spacing for b in m.given.base if b is not None) for m in (free, bound)]
    assert widest[0] == 600.0
    assert widest[1] <= 400.0


def test_where_no_bars_are_enough_the_point_that_lacks_most_is_named(plate):
    table = plate.parent / "resultants.csv"
    rows = pd.read_csv(table)
    values = rows.columns[3:]
    rows[values] = rows[values].mul(1.0 + rows["node"] / 16.0, axis=0)
    rows.to_csv(table, index=False)
    rule = "rule = { diameters = [6], spacing_min = 200, spacing_max = 200, spacing_step = 50 }\n"
    result = with_lines(plate, rule)
    bars = result.frame("bars").set_index("layer")
    past = bars[bars["status"] == "short: no bars of the rule are enough"]
    assert len(past)
    most = result.steel.groupby("layer")["required [mm2/m]"].max()
    assert_allclose(past["required [mm2/m]"], most[past.index])
    assert set(past["at point"]) == {"16"}
    # they have the most of the rule, and are used as far as these
    assert set(past["bars [mm]"].astype(str)) == {"6/200"}
    assert_allclose(past["utilisation"], past["required [mm2/m]"] / (9e3 * np.pi / 200))
    assert set(result.frame("utilisation of bars")["point"]) == {str(n) for n in range(5, 17)}


def test_bars_that_do_not_fit_are_not_chosen(plate):
    plate.write_text(plate.read_text().replace("cover_bottom = 30", "cover_bottom = 60"))
    thick = with_lines(plate, "rule = { diameters = [12, 60], spacing_min = 200, spacing_max = 200 }\n").bars[0]
    assert {b.diameter for b in thick.given.base if b is not None} <= {12.0}


def test_limit_analysis_excuses_strength_and_nothing_else():
    from sandwich import BarLayers, Concrete, Section, Steel, design_points
    from sandwich.design.bar_sets import Given
    from sandwich.design.bars import used

    load = np.array([[[0, 0, 0, 90e3, 70e3, 30e3, 10.0, 0], [0, 0, 0, 60e3, 90e3, 30e3, 10.0, 0]]])
    section = Section(250.0, BarLayers(30.0, 30.0), Concrete(30.0), Steel(500.0))
    for rule, share, v, excused in (("none", 0.95, 10, True), ("wall", 0.95, 10, False), ("none", 0.95, 400, False)):
        load[..., 6] = v
        d = design_points(load, section, minimum=rule)
        area = d.ultimate.a_s_ultimate * [share, 1.4, 1.0, 1.0]  # short one way, more the other: the twist turns
        found = used(load, np.eye(2), d.situations, d.h, d.ultimate, Given((None,) * 4, area, chosen=False), d.settings)
        assert found.ratio.max() > 1.0
        assert 1.0 <= found.factor[0] < 1.2
        assert found.excused[0] == excused
    # every combination that is short is analysed: the weaker way decides
    few = np.array([[area[0, 0], 0.25 * area[0, 1], 0.0, 0.0]])
    weak = used(load, np.eye(2), d.situations, d.h, d.ultimate, Given((None,) * 4, few, chosen=False), d.settings)
    assert weak.factor[0] < 0.6
    assert weak.by[0] == 1


def test_given_bars_and_limit_analysis(plate, cli):
    most = run_job(plate, pictures=False).steel.groupby("layer")["required [mm2/m]"].max()
    layer = most.idxmax()

    def spaced(share):
        each = {n: np.pi * 36 * 1e3 / (m * (share if n == layer else 2.0)) for n, m in most.items() if m > 0}
        return ", ".join(f'"{n}" = {{ diameter = 12, spacing = {s} }}' for n, s in each.items())

    original = plate.read_text()
    factors = []
    for share in (2.0, 0.8):
        plate.write_text(original)
        result = with_lines(plate, f"provided = {{ {spaced(share)} }}\n")
        mesh = result.bars[0]
        row = mesh.bars.set_index("layer").loc[layer]
        assert row["utilisation"] == pytest.approx(1 / share, rel=1e-6)
        assert (row["points insufficient"] > 0) == (share < 1)
        factors.append(mesh.points["load factor"].min())
    assert factors[0] >= 1.0  # bars that one design is content with
    assert factors[1] < factors[0]
    code, out, _ = cli("run", plate, "--no-pictures")
    assert code == 0
    assert "by limit analysis of the layered section" in " ".join(out.split())
    # extra bars where they are short
    x, y = result.zones[0].xyz[:, 0] / 1e3, result.zones[0].xyz[:, 1] / 1e3
    box = [[x.min(), y.min(), 0], [x.max(), y.min(), 0], [x.max(), y.max(), 0], [x.min(), y.max(), 0]]
    extra = f'additional = [{{ layer = "{layer}", diameter = 16, spacing = 100, polygon = {np.array(box, float).tolist()}, within = 9 }}]\n'
    assert (with_lines(plate, extra).bars[0].bars["status"] == "ok").all()
    plate.write_text(
        original.replace(
            "[zones.plate]\n", '[zones.plate]\nprovided = { "roof x" = { diameter = 10, spacing = 90 } }\n'
        )
    )
    code, _, err = cli("run", plate)
    assert code == 2
    assert "no layer 'roof x'" in err
    assert "bottom x" in err


def test_given_bars_of_a_membrane(plate):
    """At all points by the closed form; bars of just what is required hold, half of them do not."""
    original = plate.read_text()
    plate.write_text(original.replace("[zones.plate]\n", '[zones.plate]\nmethod = "membrane"\n'))
    most = run_job(plate, pictures=False).steel.groupby("layer")["required [mm2/m]"].max()
    for share in (1.0 + 1e-6, 0.5):
        each = {n: np.pi * 25 * 1e3 / (m * share) for n, m in most.items() if m > 0}
        bars = ", ".join(f'"{n}" = {{ diameter = 10, spacing = {s} }}' for n, s in each.items())
        plate.write_text(
            original.replace("[zones.plate]\n", f'[zones.plate]\nmethod = "membrane"\nprovided = {{ {bars} }}\n')
        )
        result = run_job(plate, pictures=False)
        use = result.bars[0].use
        assert np.isfinite(use.factor).all()
        assert (use.factor >= 1.0 - 1e-9).all() == (share > 1.0)
        assert use.factor.min() == pytest.approx(1.0 if share > 1.0 else 0.5, rel=0.25)
        checks = result.checks[result.checks["check"].str.startswith("bars: ")]
        assert checks["utilisation"].max() == pytest.approx(1 / share, rel=1e-6)
        assert set(checks["status"]) == ({"ok"} if share > 1.0 else {"exceeded"})
        told = result.exceeded[result.exceeded["check"].str.startswith("bars: ")]
        assert (len(told) > 0) == (share < 1.0)
        bars = mesh_rows(result)  # two tables of one run say the same
        for row in told.itertuples():
            own = bars.loc[row.check.removeprefix("bars: ")]
            assert (own["points insufficient"], own["at point"]) == (row.points, row.point)
            assert own["utilisation"] == pytest.approx(row.worst)
        assert told["remedy"].str.endswith("mm2/m").all()


def mesh_rows(result):
    return result.frame("bars").set_index("layer")


def write_moment(plate, m, lines, h=200):
    """The plate with one moment both ways, and lines of its zone."""
    table = plate.parent / "resultants.csv"
    rows = [r.rsplit(",", 8)[0] + f",0,0,0,{m},{m},0,0,0" for r in table.read_text().splitlines()[1:] if r[0] == "G"]
    table.write_text("\n".join(["case,element,node,nx,ny,nxy,mx,my,mxy,vx,vy", *rows]) + "\n")
    text = plate.read_text().replace("G = 1.35, Q = 1.5", "G = 1.0").replace("G = 1.0, Q = 0.5", "G = 0.5")
    plate.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\nthickness = {h}\n{lines}"))
    return run_job(plate, pictures=False)


def test_given_and_extra_bars_lie_at_their_own_depth(plate):
    """25 mm at 400 mm in 200 mm carry 63.6 kNm/m the inner way, not the 74 that bars of the assumed 12 mm would."""
    given = (
        'provided = { "bottom x" = { diameter = 25, spacing = 400 }, "bottom y" = { diameter = 25, spacing = 400 } }\n'
    )
    result = write_moment(plate, 73.5, given)
    inner = result.steel[result.steel["layer"] == "bottom y"]
    assert (inner["axis below mid-depth [mm]"] == 100 - 30 - 25 - 12.5).all()
    use = result.bars[0].use
    f, fc = np.pi * 625 / 4 / 400 * 500 / 1.15, 20.0
    d = 132.5
    assert f * (d - f / fc / 2) == pytest.approx(63.6e3, rel=0.003)
    assert np.nanmin(use.factor) == pytest.approx(63.6 / 73.5, rel=0.01)
    assert not use.excused.any()
    # extra bars of 25 mm between those of 12 mm: the inner layer lies on them
    text = plate.read_text().replace("diameter = 25, spacing = 400", "diameter = 12, spacing = 150")
    extra = 'additional = [{ layer = "bottom x", diameter = 25, spacing = 150, polygon = [[0,0,0],[1.5,0,0],[1.5,3,0],[0,3,0]] }]\n'
    plate.write_text(
        text.replace(
            "thickness = 200\n",
            f"thickness = 200\n{extra}minimum = 'slab'\nservice = {{ widths = {{ frequent = 0.3 }} }}\n",
        )
    )
    result = run_job(plate, pictures=False)
    bars = result.service.zones[0].bars
    inside = result.zones[0].xyz[:, 0] < 1500
    a = np.pi / 4 * np.array([144.0, 625.0])
    mean = a @ [6.0, 12.5] / a.sum()
    assert_allclose(bars.axes[inside, :2], [[100 - 30 - mean, 100 - 30 - 25 - 6]] * inside.sum())
    assert_allclose(bars.axes[~inside, :2], [[100 - 30 - 6, 100 - 30 - 12 - 6]] * (~inside).sum())
    assert_allclose(bars.spacing[inside, 0], 75.0)
    assert_allclose(bars.diameter[inside, 0], (144 + 625) / 37)
    assert_allclose(bars.cover[inside, 0], 30.0)
    row = mesh_rows(result).loc["bottom x"]
    assert (row["bars [mm]"], row["extra bars [mm]"]) == ("12/150", f"25/150 at {inside.sum()} points")
    spacing = result.checks[result.checks["check"] == "spacing of bars: bottom y"].iloc[0]
    assert (spacing["demand"], spacing["capacity"], spacing["status"]) == (150.0, 250.0, "ok")
    # the ultimate design takes the thickest bars of a layer for the whole zone
    outer = result.steel[result.steel["layer"] == "bottom x"]
    assert (outer["axis below mid-depth [mm]"] == 100 - 30 - 12.5).all()


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        ('provided = { "bottom x" = { diameter = 50, spacing = 20 } }', "of concrete between them"),
        ('provided = { "bottom x" = { diameter = 12, spacing = 1e-300 } }', "of concrete between them"),
        (
            'provided = { "bottom x" = { diameter = 60, spacing = 200 }, "bottom y" = { diameter = 60, spacing = 200 } }',
            "past mid-depth",
        ),
        ("rule = { diameters = [12], spacing_min = 1, spacing_max = 2 }", "from 40 to 1000 mm"),
        ("rule = { diameters = [12], spacing_step = 1e-9 }", "more than 200 spacings"),
        ("rule = { diameters = [60], spacing_min = 50, spacing_max = 70 }", "no diameter leaves"),
    ],
)
def test_bars_that_cannot_be(plate, cli, lines, said):
    plate.write_text(plate.read_text().replace("[zones.plate]\n", f"[zones.plate]\nthickness = 200\n{lines}\n"))
    code, _, err = cli("run", plate)
    assert code == 2
    assert said in " ".join(err.split())


def test_a_polygon_in_space_holds_what_a_flat_one_does():
    rng = np.random.default_rng(4)
    flat = rng.uniform(-2, 2, (300, 2))
    star = np.array([[2, 0], [0.5, 0.5], [0, 2], [-0.5, 0.5], [-2, 0], [-0.5, -0.5], [0, -2], [0.5, -0.5]], float)
    x, y = np.abs(flat).T
    want = np.where(x >= y, y <= (2 - x) / 3, x <= (2 - y) / 3)  # a star of four kites
    turn = np.linalg.qr(rng.normal(size=(3, 3)))[0]
    places, corners = (np.column_stack([v, np.zeros(len(v))]) @ turn.T + 5.0 for v in (flat, star))
    assert_allclose(inside(places, corners, 0.1), want)
    assert not inside(places + turn[:, 2], corners, 0.5).any()


def test_points_with_links():
    from sandwich import Section, design_points

    load = [[0, 0, 0, 60e3, 0, 0, 300.0, 0]]
    bare, linked = (design_points(load, Section(250.0), links=c) for c in (None, 2.0))
    assert bare.checks.set_index("check").loc["shear without links", "status"] == "exceeded"
    assert linked.checks.set_index("check").loc["shear without links", "status"] == "links"
    more = linked.steel["required [mm2/m]"] - bare.steel["required [mm2/m]"]
    # statics about the top layer, whose middle lies 118 mm above mid-depth: the thrust v cot theta at mid-depth
    assert more.sum() == pytest.approx(300.0 * 2.0 * 118.0 / (118.0 + 89.0) / (500 / 1.15) * 1e3, rel=0.02)


def test_limit_analysis_counts_on_cracked_concrete_where_bars_pull():
    """A verdict that whole concrete on the side of the pulling bars alone would give (1.06) is not given."""
    from sandwich import BarLayers, Section, design_points
    from sandwich.design.bar_sets import Given
    from sandwich.design.bars import used

    load = np.array([[[12.7, 49.5, -72.2, -16.07e3, -51.5e3, -7.54e3, 0.0, 0.0]]])
    d = design_points(load, Section(250.0, BarLayers(30.0, 30.0)))
    area = np.pi / 4 * np.array([[12**2 / 188.5, 0.0, 6**2 / 224, 12**2 / 104]])
    found = used(load, np.eye(1), d.situations, d.h, d.ultimate, Given((None,) * 4, area, chosen=False), d.settings)
    assert found.factor[0] == pytest.approx(0.946, abs=0.003)
    assert not found.excused[0]


def test_every_load_factor_has_a_field_that_keeps_the_rule_of_cracked_halves():
    from sandwich.mechanics.certificate import keeps_cracked_rule, layered_violations
    from sandwich.mechanics.cones import equal_layers
    from sandwich.mechanics.limit import cracked_load_factor, load_factor

    rng = np.random.default_rng(11)
    angles = np.array([0.0, np.pi / 2, 0.0, np.pi / 2])
    for i in range(60):
        h = rng.uniform(150, 400)
        e = np.array([h / 2 - 36, h / 2 - 48, 36 - h / 2, 48 - h / 2])
        strength = rng.uniform(0, 500, 4) * (rng.random(4) > 0.2)
        load = np.concatenate([rng.normal(0, 100, 3), rng.normal(0, 40e3, 3)])
        s = cracked_load_factor(load, h, e, angles, strength, 12.0, 20.0)
        reached = load * s.lower
        of = (v[None] for v in (s.bars, strength, s.concrete, s.fc))
        wrong = layered_violations(reached[None], np.array([h]), e[None], angles, *of, *equal_layers(len(s.fc)))
        assert wrong[0] <= 1e-5 * max(np.abs(reached[:3]).max(), np.abs(reached[3:]).max() / h, 1.0)
        assert keeps_cracked_rule(s.bars, e, h, s.fc, 12.0)
        if i < 15:  # no state of whole and cracked halves does better, those that are not solved neither
            each = []
            for halves in itertools.product((True, False), repeat=2):
                pulls, fc = np.where(e > 0.0, *halves), np.repeat(np.where(halves, 12.0, 20.0), 20)
                of = e[pulls], angles[pulls], strength[pulls]
                each.append(load_factor(load, h, *of, fc, compressed_bars=0.0).lower)
            assert s.lower == pytest.approx(np.nanmax(each), rel=1e-6, abs=1e-9)
