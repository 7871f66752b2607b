"""The ultimate stage: envelopes, governing combinations, shear, warnings, proof; and its worked calculation."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich import EN1992, BarLayers, BarLine, Concrete, Section, Steel, design_points
from sandwich.core.resultants import COMPONENTS, rotate
from sandwich.design.advice import NOTHING, advice
from sandwich.design.results import checks_frame
from sandwich.design.settings import LinkRule, Settings
from sandwich.design.summary import certificate_of, exceeded, failures, peaks
from sandwich.design.transverse import shear_input, shear_rows
from sandwich.design.ultimate import design_ultimate, fields_and_links
from sandwich.mechanics.superpose import superpose
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.is456 import layers
from sandwich.standards.is456.standard import IS456

REQUIRED = "required [mm2/m]"
BARS = BarLayers(30.0, 35.0, 14.0, 12.0)
SECTION = Section(280.0, BARS, Concrete(35.0), Steel(500.0))
RNG = np.random.default_rng(5)
SCALE = np.array([150, 150, 80, 3e4, 3e4, 1e4, 60, 60])
SKEW = BarLayers(
    30.0, 35.0, bottom=(BarLine(10.0, 14.0), BarLine(80.0)), top=(BarLine(0.0), BarLine(60.0), BarLine(120.0, 10.0))
)
LAYOUTS = ["both", "bottom", "top", "mid-depth", "skew"]


def bars_of(layout):
    return SKEW if layout == "skew" else BarLayers(30.0, 35.0, 14.0, 12.0, layout=layout)


@pytest.fixture(autouse=True)
def same_numbers():
    """Random numbers of a test do not depend on the tests before it."""
    RNG.bit_generator.state = np.random.default_rng(5).bit_generator.state


def rows(*shape):
    return RNG.normal(size=(*shape, 8)) * SCALE


def settings(**changes):
    return Settings(
        **{"bars": BARS, "concrete": Concrete(35.0), "steel": Steel(500.0), "standard": EN1992.recommended(), **changes}
    )


def test_envelope_is_the_largest_of_the_combinations_and_names_it():
    many = rows(30, 6)
    design = design_points(many, SECTION)
    single = [design_points(many[:, k], SECTION).ultimate.a_s_ultimate for k in range(6)]
    u = design.ultimate
    assert_allclose(u.a_s_ultimate, np.max(single, axis=0), rtol=1e-12)
    for i, layer in np.ndindex(30, 4):
        k = u.governing[i, layer]
        if k >= 0:
            assert single[k][i, layer] == pytest.approx(u.a_s_ultimate[i, layer], rel=1e-12)
        else:
            assert u.a_s_ultimate[i, layer] == 0.0
    assert np.all(u.bound <= u.total * (1 + 1e-9))
    assert np.all(u.certified)
    assert set(design.steel["combination"]) <= {*(f"given {k + 1}" for k in range(6)), ""}


def test_combinations_are_factored_sums_in_any_block():
    cases, factors = rows(11, 3), np.array([[1.35, 1.5, 0.0], [1.0, 0.0, -1.5]])
    combined = superpose(cases, factors)
    assert_allclose(combined, np.einsum("kc,pci->pki", factors, cases), rtol=1e-12)
    h = np.linspace(250.0, 400.0, 11)
    whole = design_ultimate(cases, factors, ["persistent", "accidental"], h, settings(), workers=1)
    parts = design_ultimate(cases, factors, ["persistent", "accidental"], h, settings(), workers=4, block=3)
    for name in ("a_s", "governing", "bound", "violation", "layers", "gap"):
        np.testing.assert_array_equal(getattr(whole, name), getattr(parts, name))
    np.testing.assert_array_equal(whole.shear.utilisation, parts.shear.utilisation)
    # each point by itself, each combination with its own partial factors
    for i in (0, 7):
        section = Section(h[i], BARS, Concrete(35.0), Steel(500.0))
        alone = [
            design_points(combined[i : i + 1, k], section, situation=s).ultimate.a_s_ultimate[0]
            for k, s in enumerate(("persistent", "accidental"))
        ]
        assert_allclose(whole.a_s_ultimate[i], np.max(alone, axis=0), rtol=1e-9)


@given(st.floats(-200, 200), st.floats(-200, 200), st.floats(-3.1, 3.1))
def test_principal_shear_does_not_depend_on_axes(vx, vy, angle):
    load = np.array([40.0, -20.0, 15.0, 2e4, -1e4, 5e3, vx, vy])
    even = np.array([100.0, 100.0, -100.0, -100.0])
    steel = np.array([0.8, 0.8, 0.3, 0.3])
    here = shear_input(settings(), load, np.array(280.0), even, steel, 1.0)
    there = shear_input(settings(), rotate(load, angle), np.array(280.0), even, steel, 1.0)
    assert_allclose(there.v_Ed, here.v_Ed, atol=1e-9)
    if here.v_Ed > 1e-6:
        assert_allclose([there.n_phi, there.d, there.rho], [here.n_phi, here.d, here.rho], rtol=1e-6, atol=1e-6)
        assert bool(there.bottom_tension) == bool(here.bottom_tension) or abs(load[3:6]).max() < 1e-6


def test_shear_by_hand():
    # along x, bottom in tension: d = 280 - 30 - 7 = 243, steel of the bottom x bars
    load = [-84.0, 0, 0, 60e3, 0, 0, 130.0, 0.0]
    design = design_points([load], SECTION)
    a_s, d = design.ultimate.a_s[0, 0], 243.0
    size, sigma = 1 + np.sqrt(200 / d), 84.0 / 280.0
    strength = max(0.12 * size * (100 * a_s / d * 35.0) ** (1 / 3), 0.035 * size**1.5 * 35.0**0.5)
    resistance = (strength + 0.15 * sigma) * d
    shear = design.checks.set_index("check").loc["shear without links"]
    assert shear["capacity"] == pytest.approx(resistance, rel=1e-9)
    assert shear["utilisation"] == pytest.approx(130.0 / resistance, rel=1e-9)
    assert shear["status"] == ("exceeded" if resistance < 130.0 else "ok")
    # strong tension leaves nothing: no limit to the utilisation, and a row that says so
    torn = (
        design_points([[4000.0, 0, 0, 0, 0, 0, 10.0, 0]], SECTION).checks.set_index("check").loc["shear without links"]
    )
    assert torn["capacity"] == 0.0
    assert np.isinf(torn["utilisation"])
    assert torn["status"] == "exceeded"


@pytest.mark.parametrize("layout", LAYOUTS)
@pytest.mark.parametrize("method", ["sandwich", "plate", "membrane"])
def test_every_row_is_certified_or_says_why(layout, method):
    section = Section(280.0, bars_of(layout), Concrete(35.0), Steel(500.0))
    load = rows(60, 2)
    crushing = [[-9e3, 0, 0, 900e3, 0, 0, 0, 0]]
    load[:6] = [[[0.0] * 8] * 2, [[np.nan] * 8] * 2, crushing * 2] * 2
    design = design_points(load, section, method=method, minimum="wall")
    u = design.ultimate
    failed = u.failing >= 0
    assert np.all(u.certified | failed)
    assert np.isnan(u.a_s[failed]).all()
    assert np.isfinite(u.a_s[~failed][:, np.isfinite(section.bars.axes(280.0))]).all()
    assert failed[1]
    assert failed[4]
    status = design.steel.drop_duplicates("point").set_index("point")["status"]
    assert (status[failed] != "ok").all()
    assert (status[~failed] == "ok").all()
    assert status["2"].startswith("fails: resultants that are not finite numbers (given 1)")
    assert status["3"].startswith(
        "fails: no stress field" if layout == "top" and method != "membrane" else "fails: concrete"
    )
    assert not design.checks["status"].isna().any()
    found = failures(design.steel)
    assert found["points"].sum() == failed.sum()
    certificate = certificate_of([u])
    assert (certificate.points, certificate.failed, certificate.uncertified) == (60, failed.sum(), 0)
    assert certificate.violation <= 1e-6
    if method == "sandwich":
        assert certificate.single_worst < (0.03 if layout in ("both", "skew") else 0.1)
        assert certificate.any_layers == certificate.certified
    tops = peaks(design.steel).set_index("layer")[REQUIRED]
    assert_allclose(tops, np.nanmax(u.a_s[:, np.isfinite(section.bars.axes(280.0))], axis=0) * 1e3)


@pytest.mark.parametrize("layout", ["both", "bottom", "skew", "pressed"])
def test_steel_for_all_combinations_together(layout):
    bars = BARS if layout == "pressed" else bars_of(layout)
    section, load = Section(280.0, bars, Concrete(35.0), Steel(500.0)), rows(50, 7)
    if layout == "bottom":
        load[..., 3:5] = np.abs(load[..., 3:5])
    if layout == "pressed":  # layers that nearly fill the section
        section = Section(280.0, BARS, Concrete(16.0), Steel(500.0))
        load = load * 2.0 - np.array([400.0, 300, 0, 0, 0, 0, 0, 0])
    apart = design_points(load, section).ultimate
    joint = design_points(load, section, joint=True)
    u = joint.ultimate
    assert np.all(u.certified[u.failing < 0])
    good = (u.failing < 0) & (u.bound > 0.0)
    assert good.sum() > 5
    assert_allclose(u.a_s_envelope, apart.a_s_ultimate)
    saved = 1 - u.total[good] / apart.total[good]
    assert saved.min() > -1e-9
    gap = u.total[good] / u.bound[good] - 1
    assert gap.min() > -1e-9
    if layout != "pressed":  # layers that fill the section leave little to save
        assert saved.max() > 0.03
        assert np.median(gap) < 1e-4
    # another order of the combinations gives the same steel, and so does any block
    turned = design_points(load[:, ::-1], section, joint=True).ultimate
    assert_allclose(turned.total[good], u.total[good], rtol=2e-3)
    sheet = joint.explain(str(np.flatnonzero(good)[0] + 1))
    there = np.isfinite(section.bars.axes(280.0))
    assert_allclose([q.value for q in sheet.answer], u.a_s[good][0][there] * 1e3, rtol=1e-9)


def test_what_fails_is_a_row():
    # more than the balanced moment: bars do not yield before the concrete crushes
    heavy = design_points([[0, 0, 0, 530e3, 0, 0, 0, 0]], SECTION)
    over = exceeded(heavy.checks).set_index("check")
    x = heavy.ultimate.layers[0] * 280.0 / 0.8
    assert over.loc["bars reach yield", "worst"] == pytest.approx(
        x / 243.0 / (0.0035 / (0.0035 + 500 / 1.15 / 2e5)), rel=1e-6
    )
    # membrane tension of 60 kN/m in a plate whose moments ask for about 90 kN/m
    plate = design_points([[60.0, 0, 0, 20e3, 0, 0, 0, 0]], SECTION, method="plate")
    assert plate.ultimate.neglected[0] == pytest.approx(60.0 / plate.ultimate.force[0].sum(), rel=1e-6)
    assert "membrane force neglected" in set(exceeded(plate.checks)["check"])
    pressed = design_points([[-900.0, 0, 0, 20e3, 0, 0, 0, 0]], SECTION, method="plate")
    assert pressed.ultimate.neglected[0] == pytest.approx(0.5 * 900.0 / (280.0 * 35.0 / 1.5), rel=1e-6)
    assert not len(exceeded(design_points([[1.0, 0, 0, 20e3, 0, 0, 0, 0]], SECTION, method="plate").checks))
    wall = design_points([[200.0, 0, 0, 20e3, 0, 0, 0, 0]], SECTION, method="membrane")
    assert wall.ultimate.neglected[0] == pytest.approx(20e3 / (0.8 * 280.0) / 200.0, rel=1e-6)


def test_proof_is_made_with_the_steel_of_the_table():
    s = settings()
    load, h = rows(5, 3), np.full(5, 280.0)
    strengths = [s.standard.strengths(s.concrete, s.steel, "persistent")] * 3
    u = design_points(load, SECTION).ultimate
    proof = fields_and_links(load, strengths, ["persistent"] * 3, h, s.bars.axes(h), s).fields.rows
    enough = np.repeat(u.a_s, 3, axis=0) * strengths[0].f_yd
    assert_allclose(proof.violation(enough, "sandwich").reshape(5, 3).max(1), u.violation, atol=1e-12)
    assert u.violation.max() < 1e-6
    assert np.all(proof.violation(0.97 * enough, "sandwich").reshape(5, 3).max(1) > 1e-3)


@pytest.mark.parametrize("layout", LAYOUTS)
@pytest.mark.parametrize("method", ["sandwich", "plate", "membrane"])
def test_worked_calculation_equals_the_table(layout, method):
    section = Section(280.0, bars_of(layout), Concrete(60.0), Steel(500.0))
    load = rows(12, 3)
    design = design_points(load, section, method=method, minimum="slab")
    table = design.steel.set_index(["point", "layer"])[REQUIRED]
    for point in ("1", "5", "12"):
        i = int(point) - 1
        sheet = design.explain(point)
        if design.ultimate.failing[i] >= 0:
            assert sheet.answer[0].value.startswith("fails")
            continue
        assert [q.symbol for q in sheet.answer] == list(table[point].index)
        assert_allclose([q.value for q in sheet.answer], table[point], rtol=1e-9)
        chosen = design.explain(point, "given 2")
        steps = {s.title: s for _, s in chosen.steps}
        held = [q.value for q in steps["Equilibrium of the field"].given]
        want = load[i, 1, :6] * [1, 1, 1, 1e-3, 1e-3, 1e-3]
        if method == "plate":
            want[:3] = 0.0
        if method == "membrane":
            want[3:] = 0.0
        assert_allclose(held, want, rtol=1e-6, atol=1e-6)
        bars = {q.symbol: q.value for q in steps["Bar forces"].results}
        assert bars["lower bound"] <= bars["total"] * (1 + 1e-9) + 1e-9
        sources = " ".join(s.source for _, s in chosen.steps)
        for clause in ("3.1.6(1)P", "3.2.7(2)", "(6.55)", "(6.56)", "9.2.1.1(1)", "(6.2.a)", "LL.123"):
            assert clause in sources
        if method == "plate" and layout != "skew":
            assert_allclose(
                [q.value for q in steps["Wood-Armer moments, membrane forces left out"].results][:1],
                max(0.0, (load[i, 1, 3] + abs(load[i, 1, 5])) / 1e3)
                if load[i, 1, 4] >= -abs(load[i, 1, 5])
                else max(0.0, (load[i, 1, 3] + load[i, 1, 5] ** 2 / abs(load[i, 1, 4])) / 1e3),
                rtol=1e-9,
                atol=1e-9,
            )
    with pytest.raises(KeyError, match="no point '99'; there are 1, 2"):
        design.explain("99")
    with pytest.raises(KeyError, match="no ultimate combination 'x'"):
        design.explain("1", "x")


def test_frames_in_and_out():
    frame = pd.DataFrame(rows(3), columns=list(COMPONENTS), index=["a", "b", "c"])
    design = design_points(frame[list(COMPONENTS)[::-1]], SECTION)
    assert list(design.steel["point"].unique()) == ["a", "b", "c"]
    assert_allclose(design.ultimate.a_s, design_points(frame.to_numpy(), SECTION).ultimate.a_s)
    assert "bottom x" in str(design)
    assert "<table" in design._repr_html_()
    with pytest.raises(ValueError, match=r"shape \(1, 1, 3\); \(p, 8\)"):
        design_points([[1.0, 2.0, 3.0]], SECTION)


@pytest.mark.parametrize(
    ("standard", "limit"),
    [
        (EN1992.recommended(), 20.0 * (250.0 - 40.0)),  # 6.1(4): 20 mm
        (ACI318(), 0.80 * 0.65 * 0.85 * 30.0 * 250.0),  # 22.4.2.1
        (IS456(), layers.fc_whole(37.5) * 210.0),
    ],
    ids=["EN", "ACI", "IS"],
)
def test_compression_of_a_wall_has_a_least_eccentricity(standard, limit):
    for share in (0.999, 1.001):
        row = [[0, -share * limit, 0, 0, 0, 0, 0, 0]]
        wall = design_points(row, Section(250.0), minimum="wall", standard=standard)
        check = wall.checks.set_index("check").loc["axial compression"]
        assert (check["demand"], check["capacity"]) == (pytest.approx(share * limit), pytest.approx(limit))
        assert check["status"] == ("ok" if share < 1.0 else "exceeded")
        assert wall.steel["status"].eq("ok").all()  # layers of the whole section fit
        titles = [s.title for _, s in wall.explain("1").steps]
        assert "Principal compression of the membrane forces" in titles
    assert "axial compression" not in set(design_points(row, Section(250.0), standard=standard).checks["check"])
    pulled = design_points(
        [[300.0, -share * limit, 0, 0, 0, 0, 0, 0]], Section(250.0), minimum="wall", standard=standard
    )
    assert pulled.ultimate.axial_limit[0] < 0.9 * limit  # tension across: cracked concrete


@pytest.mark.parametrize("standard", [EN1992.recommended(), ACI318(), IS456()], ids=lambda s: s.name)
def test_links_carry_what_the_concrete_does_not(standard):
    load = np.array([[[20, 10, 5, 80e3, 60e3, 10e3, 180.0, 60.0], [0, 0, 0, 20e3, 60e3, 10e3, 30.0, 20.0]]])
    load = np.repeat(load, 3, axis=0) * np.array([1.0, 0.05, 8.0])[:, None, None]
    load[2, :, :6] /= 8.0
    h, factors, ultimate = np.full(3, 280.0), np.eye(2), ["persistent"] * 2
    base, links = (
        settings(standard=standard, links=None),
        LinkRule(1.5 if "cot_theta" in standard.own_settings else 1.0),
    )
    plain, linked = (
        design_ultimate(load, factors, ultimate, h, s) for s in (base, settings(standard=standard, links=links))
    )
    assert np.all(plain.certified)
    assert np.all(linked.certified)
    s = linked.shear
    assert_allclose(s.a_sw > 0, [True, False, True])
    assert_allclose(linked.a_s[1], plain.a_s[1])
    # the struts are a truss: links over one row of struts carry the shear, and the bars its thrust
    d = s.v_strut[0] / (0.9 * s.a_sw[0] * s.cot_theta[0] * 500 / 1.15)
    if isinstance(standard, EN1992):
        assert 228.0 < d < 243.0
        # half of the thrust goes to the face in tension, with the shear part of its tensor; lever arms shrink a little
        x, y = 180.0, 60.0
        more = (x + y) ** 2 / np.hypot(x, y) * s.cot_theta[0] / 2
        steel = (linked.a_s_ultimate[0] - plain.a_s_ultimate[0]).sum() * 500 / 1.15
        assert steel == pytest.approx(more, rel=0.15)
    checks = checks_frame("z", ["a", "b", "c"], linked, ["1", "2"], h, settings(standard=standard, links=links))
    struts = checks[checks["check"] == "struts of the links"].set_index("point")
    assert struts["status"].tolist() == ["ok", "ok", "exceeded"]
    assert checks[checks["check"] == "shear without links"]["status"].tolist()[:2] == ["links", "ok"]
    # no combination is left above the resistance without links of its own
    rule = settings(standard=standard, links=links)
    strengths = [standard.strengths(rule.concrete, rule.steel, "persistent")] * 2
    axes = rule.bars.axes(h)
    loaded = fields_and_links(load, strengths, ultimate, h, axes, rule)
    again = shear_rows(load, ultimate, h, axes, np.nan_to_num(linked.a_s), rule)
    assert not ((again.use > 1.0) & ~loaded.need).any()
    # a little more shear than the concrete carries: bars raised as far as needed, and no further
    v = load[:1].copy()
    v[..., 6:] *= 1.03 / plain.shear.utilisation[0]
    raised = design_ultimate(v, factors, ultimate, h[:1], settings(standard=standard, links=LinkRule(1.0, 1.6)))
    assert raised.shear.a_sw[0] == 0.0
    assert 1.0 < raised.shear.raised[0] <= 1.6
    assert 0.999 < raised.shear.utilisation[0] <= 1.0
    sheet = design_points(v, SECTION, standard=standard).explain("1")
    assert any("Shear without links" in step.title for _, step in sheet.steps)


def test_advice_is_a_design_that_passes():
    cases = np.array([[0, 0, 0, 300e3, 0, 0, 230.0, 0.0]])
    s = settings()

    def worst(check, h, **changes):
        u = design_ultimate(cases[None], np.eye(1), ["persistent"], np.array([h]), settings(**changes))
        frame = checks_frame("z", ["a"], u, ["1"], np.array([h]), settings(**changes)).set_index("check")
        return frame.loc[check, "utilisation"]

    said = str(advice(cases, np.eye(1), ["persistent"], 280.0, s, "shear without links"))
    assert "links of" in said
    thick = float(said.split(" mm of thickness", maxsplit=1)[0].rsplit(" ", maxsplit=1)[-1])
    assert worst("shear without links", thick) <= 1.0 < worst("shear without links", thick - 10.0)
    if "f_ck" in said:
        grade = float(said.split("f_ck ")[1].split(" ", maxsplit=1)[0])
        assert worst("shear without links", 280.0, concrete=Concrete(grade)) <= 1.0
    one = advice(-cases, np.eye(1), ["persistent"], 280.0, settings(bars=BarLayers(layout="bottom")))
    assert str(one).startswith("bars on both faces")
    crushed = advice(400.0 * cases, np.eye(1), ["persistent"], 280.0, s)
    assert str(crushed) == NOTHING


@pytest.mark.parametrize("standard", [EN1992.recommended(), ACI318(), IS456()], ids=lambda s: s.name)
def test_bars_of_either_face_count_where_bending_cracks_nothing(standard):
    s = settings(standard=standard)
    h, steel = np.array([280.0]), np.array([[0.0, 0.0, 1.2, 1.2]])
    axes = s.bars.axes(h)
    cracks = standard.flexural_tension(s.concrete, "persistent") * 280.0**2 / 6

    def capacity(m, n=0.0):
        load = np.array([[[n, 0, 0, m, 0, 0, 40.0, 0.0]]])
        return float(shear_rows(load, ["persistent"], h, axes, steel, s).capacity[0, 0])

    top = capacity(-2.0 * cracks)
    assert capacity(0.99 * cracks) == pytest.approx(top)  # the top bars serve, at their own depth
    assert capacity(1.01 * cracks) < top
    assert capacity(0.99 * cracks, 50.0) < top  # tension cracks it sooner, and lowers the strength
