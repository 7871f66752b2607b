"""Punching: perimeters against closed forms, whole checks against reference cases and hand calculations."""

import json
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from conftest import REFERENCE
from sandwich.core.section import Concrete, Steel
from sandwich.core.shown import Shown
from sandwich.mechanics.perimeter import Perimeter
from sandwich.mechanics.region import handed_over
from sandwich.model.perimeter import Plan, circle, leg, rectangle
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.aci318_14.standard import ACI318Of2014
from sandwich.standards.column import ColumnLoad
from sandwich.standards.en1992 import punching
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.is456.standard import IS456
from sandwich.work.slab_column import column_on

EN, ACI, IS = EN1992.recommended(), ACI318(), IS456()
WIDE = shapely.box(-2e4, -2e4, 2e4, 2e4)
X = np.array([1.0, 0.0])
CASES = {c["id"]: c for c in json.loads((REFERENCE / "shear_and_punching.json").read_text()) if "punching" in c["type"]}


def column(standard, slab, area, d, **wanted):
    return column_on(Plan(slab, area, wanted.pop("legs", ())), d + 40.0, d, standard, **wanted)


def load(V, e=(0.0, 0.0), rho=0.006, sigma=0.0):
    return ColumnLoad("persistent", V, V * np.array(e), rho, rho, sigma)


@pytest.mark.parametrize("standard", [EN, ACI, IS], ids=lambda s: s.name)
@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"h": np.nan}, "h = nan mm; a number of 1 mm or more"), ({"d": 281.0}, "d = 281 mm; a number from 1 to 280"),
        ({"kind": "pile"}, "kind = 'pile'"), ({"shear": "stirrups"}, "shear = 'stirrups'"), ({"beta": 0.9}, "beta = 0.9"),
        ({"area": shapely.box(3e4, 0, 4e4, 9)}, "does not lie on the slab"), ({"situation": "ultimate"}, "situation = 'ultimate'"),
        ({"V": np.nan}, "V = nan N; a number of 0 N or more"), ({"V": -1.0}, "V = -1 N"), ({"rho_y": np.nan}, "rho_y = nan"),
        ({"sigma": np.inf}, "sigma = inf MPa; a number that is finite"), ({"moment": [np.nan, 0.0]}, "two finite numbers"),
    ],
)  # fmt: skip
def test_no_punching_of_what_is_no_column_or_load(standard, changed, said):
    own = {"h": 280.0, "d": 236.0, "kind": "column", "shear": "none", "beta": 1.15, "area": rectangle(400.0, 400.0)}
    force = {"situation": "persistent", "V": 4e5, "moment": [0.0, 0.0], "rho_x": 0.006, "rho_y": 0.006, "sigma": 0.0}

    def use(of):
        area, h, d, *words = (of[k] for k in ("area", "h", "d", "kind", "shear", "beta"))
        c = column_on(Plan(WIDE, area), h, d, standard, **dict(zip(("kind", "shear", "beta"), words, strict=True)))
        return standard.punching(Concrete(30.0), Steel(500.0), c, ColumnLoad(**{k: of[k] for k in force})).use

    assert 0.3 < use(own | force) < 1.5
    with pytest.raises(ValueError, match=said):
        use(own | force | changed)


def slab_to(*sides):
    """A slab that ends at the given x and y below zero, and far away above."""
    return shapely.box(*sides, 2e4, 2e4)


@pytest.mark.parametrize("case", [c for c in CASES.values() if c["type"] == "en_punching"], ids=lambda c: c["id"])
def test_reference_cases_of_en_1992(case):
    i, expected = case["inputs"], case["expected"]
    assert i["fcd"] == i["fck"] / 1.5
    c = column(EN, WIDE, rectangle(i["c1"], i["c2"]), i["d"], beta=i["beta"])
    p = EN.punching(Concrete(i["fck"]), Steel(500.0), c, replace(load(i["VEd"]), rho_x=i["rho_ly"], rho_y=i["rho_lz"]))
    assert c.control.u == pytest.approx(expected["u1"], rel=1e-3)
    assert p.v_Ed == pytest.approx(expected["vEd_u1"], rel=1e-3)  # the arcs are chords
    exact = (p.v_Rd_c, expected["vRdc"]), (p.v_max, expected["vRd_max"]), (p.v_face, expected["vEd_u0"])
    assert all(found == pytest.approx(wanted, rel=1e-6) for found, wanted in exact)
    u_out = punching.u_out(i["VEd"], p.v_Rd_c, i["d"], i["beta"])
    assert u_out == pytest.approx(expected["u_out"], rel=1e-6)


@pytest.mark.parametrize("case", [c for c in CASES.values() if c["type"] == "aci_punching"], ids=lambda c: c["id"])
def test_reference_cases_of_aci_318(case):
    i, expected = case["inputs"], case["expected"]
    c1, c2 = i["c1"], i["c2"]
    ends = {"inside": (-2e4, -2e4), "edge": (-c1 / 2, -2e4), "corner": (-c1 / 2, -c2 / 2)}[i["position"]]
    c = column(ACI, slab_to(*ends), rectangle(c1, c2), i["d"])
    assert c.place == i["position"]
    assert c.control.u == pytest.approx(expected["bo"], rel=1.5e-3)
    p = ACI.punching(Concrete(i["fc"]), Steel(420.0), c, load(1e5))
    assert p.v_Rd_c == pytest.approx(expected["phi_vc"], rel=1e-3)


def test_perimeters_have_their_closed_forms():
    d, c1, c2 = 200.0, 300.0, 500.0
    line = column(EN, WIDE, rectangle(c1, c2), d).control
    # (6.41), eccentricity along c1
    W = c1**2 / 2 + c1 * c2 + 4 * c2 * d + 16 * d**2 + 2 * np.pi * d * c1
    assert line.first_moment(X, line.centroid) == pytest.approx(W, rel=3e-3)
    edge = column(EN, slab_to(-c1 / 2, -2e4), rectangle(c1, c2), d)
    assert (edge.place, edge.control.u) == ("edge", pytest.approx(2 * c1 + c2 + 2 * np.pi * d, rel=2e-3))
    # (6.45), eccentricity along the edge
    W = c2**2 / 4 + c1 * c2 + 4 * c1 * d + 8 * d**2 + np.pi * d * c2
    assert edge.control.first_moment(X[::-1], edge.control.centroid) == pytest.approx(W, rel=3e-3)
    corner = column(EN, slab_to(-c1 / 2, -c2 / 2), rectangle(c1, c2), d)
    assert corner.control.u == pytest.approx(c1 + c2 + np.pi * d, rel=3e-3)
    assert column(EN, WIDE, circle(400.0), d).control.u == pytest.approx(np.pi * (400.0 + 4 * d), rel=1e-3)
    # an edge far off leaves the closed perimeter shorter; a near one does not, Figure 6.15
    near, far = (column(EN, slab_to(-away, -2e4), rectangle(c1, c2), d) for away in (600.0, 1200.0))
    assert near.control.u == pytest.approx(2 * (600.0 + c1 / 2) + c2 + 2 * np.pi * d, rel=2e-3)
    assert far.control.u == pytest.approx(2 * (c1 + c2) + 4 * np.pi * d, rel=2e-3)
    assert (near.place, far.place) == ("edge", "inside")
    # an end and a corner of a wall
    end = column(EN, WIDE, leg(X, 250.0, 250.0), d, legs=((X, 250.0),), kind="wall end", beta=1.35)
    assert end.control.u == pytest.approx(250.0 + 2 * 250.0 + 2 * np.pi * d, rel=3e-3)
    ways = ((X, 375.0), (X[::-1], 375.0))
    area = shapely.union_all([leg(a, 250.0, 375.0, 125.0) for a, _ in ways])
    assert column(EN, WIDE, area, d, legs=ways).control.u == pytest.approx(2 * 500.0 + np.pi * d, rel=5e-3)


def test_second_moments_of_the_critical_section():
    d, c1, c2 = 240.0, 400.0, 600.0
    line = column(ACI, WIDE, rectangle(c1, c2), d).control
    b1, b2 = c1 + d, c2 + d
    J = d * b1**3 / 6 + b1 * d**3 / 6 + d * b2 * b1**2 / 2  # of an inner column, ACI 421.1R
    assert line.second_moments(d)[0, 0] == pytest.approx(J, rel=1e-9)
    edge = column(ACI, slab_to(-c1 / 2, -2e4), rectangle(c1, c2), d).control
    b1 = c1 + d / 2
    away = b1**2 / (2 * b1 + b2)  # of the centroid from the inner side
    J = 2 * (b1 * d**3 / 12 + d * b1**3 / 12 + b1 * d * (b1 / 2 - away) ** 2) + b2 * d * away**2
    assert edge.second_moments(d)[0, 0] == pytest.approx(J, rel=6e-3)
    assert edge.centroid[0] == pytest.approx(c1 / 2 + d / 2 - away, abs=1.5)


@pytest.mark.parametrize(("standard", "strains"), [(ACI, (0.0055, 0.0105)), (ACI318Of2014(), (0.004, 0.010))])
def test_flexure_takes_more_of_a_moment_where_shear_is_low(standard, strains):
    """Table 8.4.2.2.4 by hand: gamma_v = 1 - 1.25 x 0.6 of inner columns, none across an edge and at a corner."""
    d, c = 200.0, 400.0
    inner, edge, corner = (
        [column(standard, slab, rectangle(c, c), d, modified=m) for m in (False, True)]
        for slab in (WIDE, slab_to(-c / 2, -2e4), slab_to(-c / 2, -c / 2))
    )
    f, steel, beta_1 = Concrete(30.0), Steel(500.0), 0.85 - 0.05 * 2 / 7
    across, other = (0.85 * beta_1 * 30.0 / 500.0 / (1.0 + eps / 0.003) for eps in strains)  # the most bars

    def stress(columns, V, e, rho):
        return [standard.punching(f, steel, q, load(V, e, rho)).v_Ed for q in columns]

    b = c + d
    J = d * b**3 / 6 + b * d**3 / 6 + d * b * b**2 / 2
    limit = 0.4 * 0.75 * 0.33 * np.sqrt(30.0) * 4 * b * d
    for V, rho, part in ((0.999, 0.999, 0.25), (1.001, 0.999, 0.4), (0.999, 1.001, 0.4)):
        found = stress(inner, V * limit, (50.0, 0.0), rho * other)
        mean = V * limit / (4 * b * d)
        np.testing.assert_allclose(found, [mean + V * limit * 50.0 * p * b / 2 / J for p in (0.4, part)], rtol=1e-6)
    for columns, most in ((edge, 0.75), (corner, 0.5)):
        u, start = columns[0].control.u, columns[0].control.centroid
        limit = most * 0.75 * 0.33 * np.sqrt(30.0) * u * d
        ways = (X, X[::-1])[: 1 if columns is edge else 2]
        for way in ways:
            e = start + way * 30.0  # about the centroid: across the edge, or any way at a corner
            for V, rho, free in ((0.999, 0.999, True), (1.001, 0.999, False), (0.999, 1.001, False)):
                usual, found = stress(columns, V * limit, e, rho * across)
                assert usual > 1.01 * V * limit / (u * d)
                assert found == pytest.approx(V * limit / (u * d) if free else usual, rel=1e-6)
    # the bars that flexure itself then needs count, too: 0.75 M in 400 + 3 x 240
    M = 0.9 * 500.0 * 0.9 * d**2 * (c + 3 * 240.0) * other / 0.75
    for over, part in ((0.999, 0.25), (1.001, 0.4)):
        found = standard.punching(f, steel, inner[1], replace(load(1e5), moment=np.array([over * M, 0.0]))).v_Ed
        assert found == pytest.approx(1e5 / (4 * b * d) + over * M * part * b / 2 / J, rel=1e-6)
    for wrong in ({"beta": 1.2}, {"kind": "loaded area"}):
        with pytest.raises(ValueError, match="modified goes with columns"):
            column(standard, WIDE, rectangle(c, c), d, modified=True, **wrong)
    with pytest.raises(ValueError, match="modified goes with columns"):
        column(EN, WIDE, rectangle(c, c), d, modified=True)


@given(angle=st.floats(0.0, 6.3), e=st.tuples(st.floats(-300, 300), st.floats(-300, 300)))
def test_stress_turns_with_the_column(angle, e):
    c, s = np.cos(angle), np.sin(angle)
    turn = np.array([[c, -s], [s, c]])
    line = column(ACI, slab_to(-200.0, -700.0), rectangle(400.0, 600.0), 200.0).control
    turned = Perimeter(line.segments @ turn.T)
    for V in (0.0, 3e5):
        M = 1e5 * np.array(e)
        stress = []
        for one, moment in ((line, M), (turned, turn @ M)):
            r = one.worst_place(V, moment, 200.0)
            stress.append(V / (one.u * 200.0) + r @ np.linalg.solve(one.second_moments(200.0), moment))
        assert abs(stress[0]) == pytest.approx(abs(stress[1]), rel=1e-9, abs=1e-9)
    W = [one.first_moment(a, one.centroid) for one, a in ((line, X), (turned, turn @ X))]
    assert W[0] == pytest.approx(W[1], rel=1e-9)


def test_openings_cut_what_lies_behind_them():
    d = 200.0
    free = column(EN, WIDE, rectangle(400.0, 400.0), d).control.u
    hole = shapely.box(900.0, -300.0, 1200.0, 300.0)  # wider than deep: no widening
    cut = column(EN, WIDE - hole, rectangle(400.0, 400.0), d).control
    assert cut.u == pytest.approx(free - 400.0, abs=3.0)  # tangents at 300/900 pass the ends of the straight side
    assert cut.centroid[0] < -50.0
    deep = shapely.box(900.0, -150.0, 2100.0, 150.0)  # l1 = 1200 > l2 = 300: l2 becomes 600, Figure 6.14
    assert column(EN, WIDE - deep, rectangle(400.0, 400.0), d).control.u == pytest.approx(free - 400.0, abs=3.0)
    assert column(EN, WIDE - shapely.box(1450, -300, 1700, 300), rectangle(400.0, 400.0), d).control.u == pytest.approx(
        free
    )
    narrow = column(ACI, WIDE - hole, rectangle(400.0, 400.0), d).control.u  # d/2: chord at x = 300 of the same rays
    assert narrow == pytest.approx(2400.0 - 2 * 100.0, abs=3.0)


def test_moments_by_the_text_of_en_1992():
    d, V = 200.0, 5e5
    C, S = Concrete(30.0), Steel(500.0)

    def beta(c, e):
        return EN.punching(C, S, c, load(V, e)).v_Ed * c.control.u * d / V

    round_ = column(EN, WIDE, circle(400.0), d, round_=True)
    assert beta(round_, (120.0, 0.0)) == pytest.approx(1 + 0.6 * np.pi * 120.0 / (400.0 + 4 * d), rel=2e-3)  # (6.42)
    square = column(EN, WIDE, rectangle(400.0, 400.0), d)
    b = 400.0 + 4 * d
    assert beta(square, (60.0, 80.0)) == pytest.approx(1 + 1.8 * np.hypot(60.0 / b, 80.0 / b), rel=0.02)  # (6.43)
    edge = column(EN, slab_to(-200.0, -2e4), rectangle(400.0, 400.0), d)
    reduced = 400.0 + 2 * 200.0 + 2 * np.pi * d  # Figure 6.20 a)
    assert beta(edge, (90.0, 0.0)) == pytest.approx(edge.control.u / reduced, rel=2e-3)
    assert beta(edge, (90.0, 50.0)) > beta(edge, (90.0, 0.0))
    outside = beta(edge, (-90.0, 0.0))
    W = edge.control.first_moment(X, edge.control.centroid)
    away = 90.0 + edge.control.centroid[0]
    assert outside == pytest.approx(1 + 0.6 * away * edge.control.u / W, rel=1e-9)  # (6.39) about the centroid
    corner = column(EN, slab_to(-200.0, -200.0), rectangle(400.0, 400.0), d)
    assert beta(corner, (50.0, 50.0)) == pytest.approx((800.0 + np.pi * d) / (400.0 + np.pi * d), rel=3e-3)
    assert edge.face == pytest.approx(1200.0, abs=3.0)
    p = EN.punching(C, S, corner, load(V))
    assert p.v_face == pytest.approx(beta(corner, (0, 0)) * V / (3 * d * d), rel=2e-3)  # u_0 = 3 d
    for c in (edge, corner):  # no moment, as of a bearing: rounding noise does not choose the expression
        noise = [beta(c, (f * 1e-3, g * 1e-3)) for f in (-1, 0, 1) for g in (-1, 0, 1)]
        assert max(noise) < 1.001 * min(noise)
        assert min(noise) > 0.999 * beta(c, (-1e-3, 0.0))
    none = EN.punching(C, S, square, load(0.0))
    assert none.use < 1e-4
    assert np.isfinite(none.v_Ed)


@given(
    st.sampled_from([EN, ACI, IS]), st.tuples(*[st.floats(-150.0, 150.0)] * 2), st.tuples(*[st.floats(0.0, 600.0)] * 2),
    st.tuples(*[st.floats(-1.0, 1.0)] * 4),
)  # fmt: skip
def test_punching_moves_as_little_as_its_input(standard, e, gap, noise):
    """Places and moments moved by 1e-6 of a metre move the utilisation by no more than a few thousandths."""
    uses = []
    for s in (0.0, 1e-3):
        sides = [-200.0 - 3.0 * round(g, 0) + s * n for g, n in zip(gap, noise, strict=False)]
        c = column(standard, slab_to(*sides), rectangle(400.0, 400.0), 200.0)
        moved = load(5e5, np.array(e).round(1) + s * np.array(noise[2:]))
        uses.append(standard.punching(Concrete(30.0), Steel(500.0), c, moved).use)
    assert uses[1] == pytest.approx(uses[0], rel=3e-3)


@pytest.mark.parametrize(("standard", "V"), [(EN, 6e5), (ACI, 7e5), (IS, 7e5)], ids=lambda s: getattr(s, "name", ""))
def test_reinforcement_carries_its_force_and_ends_where_none_is_needed(standard, V):
    d, C, S = 200.0, Concrete(30.0), Steel(500.0)
    e = (40.0, 20.0)
    c = column(standard, WIDE, rectangle(400.0, 400.0), d, shear="links")
    p = standard.punching(C, S, c, load(V, e))
    assert p.use > 1.0
    r = p.reinforcement
    assert r.why == ""
    assert np.all(np.diff(r.distance) <= 0.75 * d + 1e-9)
    area, s = r.area[0], r.distance[1] - r.distance[0]
    if standard is EN:
        f = punching.f_ywd_ef(d, 500.0 / 1.15)
        assert punching.v_Rd_cs(p.v_Rd_c, d, s, area, f, c.control.u) >= p.v_Ed * (1 - 1e-9)
        assert c.at(r.reach, "round").u == pytest.approx(
            punching.u_out(p.v_Ed * c.control.u * d, p.v_Rd_c, d), rel=1e-3
        )
        assert r.distance[-1] >= r.reach - 1.5 * d - 1e-6
        assert all(n * 2.0 * d >= u for n, u in zip(r.legs, r.length, strict=True))
    else:
        f, share = (420.0, 0.17 * np.sqrt(30.0)) if standard is ACI else (0.87 * 415.0, 0.5 * p.v_Rd_c)
        phi = 0.75 if standard is ACI else 1.0
        assert phi * (share + area * f / (c.control.u * s)) == pytest.approx(p.v_Ed, rel=1e-6)
        assert r.distance[-1] >= r.reach - 0.5 * d - 1e-6
        beyond = replace(c, control=c.at(r.reach, "cut"))
        limit = 0.75 * 0.17 * np.sqrt(30.0) if standard is ACI else 0.5 * p.v_Rd_c
        assert standard.punching(C, S, beyond, load(V, e)).v_Ed == pytest.approx(limit, rel=1e-3)
    too_much = standard.punching(C, S, c, load(3.0 * V, e))
    assert too_much.reinforcement.why
    bare = standard.punching(C, S, replace(c, shear="none"), load(V, e))
    assert (bare.v_Ed, bare.v_Rd_c, bare.reinforcement) == (p.v_Ed, p.v_Rd_c, None)
    if standard is EN and np.isfinite(bare.raised):
        enough = EN.punching(C, S, c, load(V, e, rho=0.006 * bare.raised))
        assert enough.use == pytest.approx(1.0, rel=1e-9)


def test_studs_and_least_bars_of_aci_318():
    d, C, S = 200.0, Concrete(30.0), Steel(420.0)
    c = column(ACI, WIDE, rectangle(400.0, 400.0), d, shear="studs")
    links = replace(c, shear="links")
    q = load(8e5)
    studs, stirrups = (ACI.punching(C, S, one, q).reinforcement for one in (c, links))
    assert studs.area[0] / (studs.distance[1] - studs.distance[0]) < stirrups.area[0] / (
        stirrups.distance[1] - stirrups.distance[0]
    )
    thin = column(ACI, WIDE, rectangle(400.0, 400.0), 120.0, shear="links")
    told = Shown("US").text(ACI.punching(C, S, thin, load(3.8e5)).reinforcement.why)
    assert told == "d is 4.724 in and stirrups need 5.906 in (22.6.7.1); use studs"
    # by hand: v_uv = 8e5/(2400 200) = 1.667 > 0.75 0.17 sqrt(30); b_slab = 400 + 3 240; 5 v b_slab b_o/(phi 40 420)
    assert ACI.minimum_over_column(C, S, c, q) * 1120.0 == pytest.approx(
        5 * 8e5 / 480e3 * 1120.0 * 2400.0 / (0.75 * 40 * 420), rel=2e-3
    )
    assert ACI.minimum_over_column(C, S, c, load(1e5)) == 0.0
    assert EN.minimum_over_column(C, S, c, q) == 0.0


@given(
    bend=st.tuples(*[st.floats(-2, 2)] * 3), slope=st.tuples(*[st.floats(-1, 1)] * 4),
    bumps=st.lists(st.floats(-0.2, 0.2), min_size=50, max_size=50),
)  # fmt: skip
def test_a_field_in_equilibrium_hands_nothing_over(bend, slope, bumps):
    """Constant moments on a distorted mesh, and linear ones with their shear on a square one: no force, no moment."""
    x, y = np.meshgrid(np.arange(5.0), np.arange(5.0))
    xy = np.stack([x, y], -1) + np.array(bumps).reshape(5, 5, 2)
    corners = np.array([[xy[j, i], xy[j, i + 1], xy[j + 1, i + 1], xy[j + 1, i]] for j in range(4) for i in range(4)])
    inner = np.array(
        [
            [(i, j) == (2, 2) for i, j in ((a, b), (a + 1, b), (a + 1, b + 1), (a, b + 1))]
            for b in range(4)
            for a in range(4)
        ]
    )
    square = np.round(corners)
    for places, rise in ((corners, (0.0,) * 4), (square, slope)):  # tied shear is exact where sides are parallel
        X_, Y_ = places[..., 0], places[..., 1]
        a, b, c, e = rise
        m = np.stack([bend[0] + a * X_ + b * Y_, bend[1] + c * X_ + e * Y_, bend[2] + 0 * X_], -1)[:, :, None]
        v = np.broadcast_to(np.array([-a, -e]), (*X_.shape, 1, 2))
        V, moment = handed_over(places, inner, m, v)
        assert abs(V[0]) < 1e-12
        assert np.abs(moment).max() < 1e-12
