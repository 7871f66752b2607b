"""Shear, steel and second order of walls by three standards, each against a calculation by hand; bars in sections."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich import Concrete, Steel, standard_named
from sandwich.design.bar_sets import BarRule, ParallelBars
from sandwich.design.walls.bars import (
    BarGroup,
    Cover,
    LintelSteel,
    WallSteel,
    effective_depth,
    end_groups,
    mass,
    place_lintel,
    place_wall,
)
from sandwich.design.walls.checks import PartMaterials, Strengths
from sandwich.design.walls.choice import Member, choose_lintel, choose_wall
from sandwich.design.walls.curves import curve
from sandwich.design.walls.demands import corners, demands
from sandwich.design.walls.geometry import PartGeometry
from sandwich.mechanics.modal import combine_modes, cqc_coefficients
from sandwich.standards.interface import ClosedSection, SlenderWall, TorsionWalls, WallPart

EN, ACI, IS = (standard_named(n) for n in ("EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000"))
KN = 1e3


def part(**changed):
    own = {
        "concrete": Concrete(30.0), "steel": Steel(500.0), "situation": "persistent", "length": 3000.0,
        "thickness": 200.0, "height": 6000.0, "along": 0.0025, "across": 0.003, "diameters": (10.0, 12.0),
        "spacings": (200.0, 200.0),
    }  # fmt: skip
    return WallPart(**own | changed)


def row(checks, name):
    return next(c for c in checks if c.name == name)


def test_shear_of_a_wall_by_en_1992():
    """z 2400, d 2667: struts at cot 2.5 give 0.0025 x 2400 x 434.8 x 2.5 x 200 N; compression 600 kN helps the rest."""
    found = EN.wall_shear(part(), [1000 * KN, 250 * KN], [-600 * KN, -600 * KN])
    bars = 0.0025 * 2400.0 * (500.0 / 1.15) * 2.5 * 200.0
    assert_allclose(row(found, "shear in plane").capacity, bars, rtol=1e-9)
    struts = 200.0 * 2400.0 * 0.6 * (1 - 30 / 250) * 20.0 / (2.5 + 0.4)
    assert_allclose(row(found, "struts of the shear").capacity, struts, rtol=1e-9)
    # sliding: rough joint, c 0.4, mu 0.7, f_ctd 1.352
    f_ctd = 0.7 * 0.30 * 30.0 ** (2 / 3) / 1.5
    holds = 0.4 * f_ctd + 0.7 * 1.0 + 0.003 * (500.0 / 1.15) * 0.7
    sliding = row(found, "sliding at joints")
    assert_allclose(sliding.capacity, holds, rtol=1e-9)
    assert_allclose(sliding.demand, [1000 * KN / 600e3, 250 * KN / 600e3])
    # an earthquake halves the bond, tension takes it away and stands the struts up
    shaken = row(EN.wall_shear(part(situation="seismic"), [KN], [-600 * KN]), "sliding at joints").capacity[0]
    f_ctd_E = f_ctd * 1.5 / EN.parameters["seismic"]["gamma_c"]
    f_yd_E = 500.0 / EN.parameters["seismic"]["gamma_s"]
    assert shaken == pytest.approx(0.2 * f_ctd_E + 0.7 * 1.0 + 0.003 * f_yd_E * 0.7)
    pulled = EN.wall_shear(part(), [KN], [300 * KN])
    assert row(pulled, "shear in plane").capacity[0] == pytest.approx(0.0025 * 2400.0 * (500.0 / 1.15) * 200.0)
    assert row(pulled, "sliding at joints").capacity[0] == pytest.approx(-0.7 * 0.5 + 0.003 * (500.0 / 1.15) * 0.7)


def test_shear_of_a_wall_by_aci_318():
    """h_w/l_w 2: alpha_c 0.17; V_n = (0.17 x 5.292 + 0.0025 x 420) A; at most 0.66 root f_c' A, 0.83 of a pier shaken."""
    of = {"concrete": Concrete(28.0), "steel": Steel(420.0)}
    A, root = 600e3, np.sqrt(28.0)
    found = ACI.wall_shear(part(**of), [400 * KN], [-500 * KN])
    assert row(found, "shear in plane").capacity[0] == pytest.approx(0.75 * (0.17 * root + 0.0025 * 420) * A)
    assert row(found, "struts of the shear").capacity[0] == pytest.approx(0.75 * 0.66 * root * A)
    low = ACI.wall_shear(part(height=4000.0, **of), [KN], [0.0])
    assert row(low, "shear in plane").capacity[0] == pytest.approx(0.75 * (0.25 * root + 0.0025 * 420) * A)
    shaken = ACI.wall_shear(part(situation="seismic", **of), [KN], [0.0])
    assert row(shaken, "struts of the shear").capacity[0] == pytest.approx(0.75 * 0.83 * root * A)
    assert row(shaken, "shear in plane").clause == "18.10.4.1"
    pulled = ACI.wall_shear(part(**of), [KN], [600 * KN])  # 0.17 (1 - 1/3.5)
    assert row(pulled, "shear in plane").capacity[0] == pytest.approx(0.75 * (0.17 * (1 - 1 / 3.5) * root + 1.05) * A)
    # 11.6.2 where the shear asks for bars, 11.6.1 where it does not; spacing then l_w/5 and l_w/3
    much, little = (ACI.wall_steel(part(**of), [v], [0.0]) for v in (1100 * KN, 100 * KN))
    need = (1100 * KN / 0.75 / A - 0.17 * root) / 420
    assert row(much, "minimum vertical").demand[0] == pytest.approx(100 * (0.0025 + 0.5 * 0.5 * (need - 0.0025)))
    assert row(much, "minimum horizontal").demand[0] == pytest.approx(0.25)
    assert row(little, "minimum horizontal").demand[0] == pytest.approx(0.20)
    assert row(little, "minimum vertical").demand[0] == pytest.approx(0.12)
    short = ACI.wall_steel(part(length=1500.0, **of), [600 * KN], [0.0])
    assert (row(short, "spacing horizontal").capacity[0], row(short, "spacing vertical").capacity[0]) == (300.0, 450.0)


def test_shear_of_a_wall_by_is_456():
    """H/L 2: tau_c = max(min(1 x 0.2, 0.045 x 3), 0.15) root f_ck, bars 0.87 f_y rho 0.8 L t, at most 0.17 f_ck."""
    concrete = Concrete(25.0, "cube")
    found = IS.wall_shear(part(concrete=concrete, steel=Steel(415.0)), [300 * KN], [0.0])
    section = 0.8 * 3000.0 * 200.0
    assert row(found, "shear in plane").capacity[0] == pytest.approx((0.15 * 5.0 + 0.87 * 415 * 0.0025) * section)
    assert row(found, "struts of the shear").capacity[0] == pytest.approx(0.17 * 25 * section)
    low = part(concrete=concrete, steel=Steel(415.0), height=3000.0, across=0.0015)
    # as long as tall: 2 x 0.2 root f_ck, and the lesser of both ratios
    assert row(IS.wall_shear(low, [KN], [0.0]), "shear in plane").capacity[0] == pytest.approx(
        (2.0 + 0.87 * 415 * 0.0015) * section
    )


@pytest.mark.parametrize("standard", [EN, ACI, IS], ids=["EN", "ACI", "IS"])
@pytest.mark.parametrize("beam", [False, True], ids=["wall", "lintel"])
@given(v=st.floats(1.0, 1200.0), n=st.floats(-900.0, 200.0))
def test_the_steel_that_shear_asks_for_is_enough(standard, beam, v, n):
    """With the ratio that a demand asks for it is carried, with a little less it is not, where strength asks for it."""
    of = part(d=560.0, length=600.0, across=0.005) if beam else part(across=0.004)
    need = float(standard.shear_steel(of, [v * KN], [n * KN])[0])
    if np.isfinite(need):
        with_it = of.__class__(**{**of.__dict__, "along": need, "across": max(of.across, need)})
        use = row(standard.wall_shear(with_it, [v * KN], [n * KN]), "shear in plane").utilisation[0]
        assert use <= 1.0 + 1e-9
        least = float(standard.shear_steel(of, [0.0], [n * KN])[0])
        if need > 1.05 * max(least, 0.0025):
            less = of.__class__(**{**with_it.__dict__, "along": 0.95 * need})
            assert row(standard.wall_shear(less, [v * KN], [n * KN]), "shear in plane").utilisation[0] > 1.0
    else:
        assert row(standard.wall_shear(of, [v * KN], [n * KN]), "struts of the shear").utilisation[0] > 1.0


def slim(**changed):
    own = {
        "concrete": Concrete(30.0), "steel": Steel(500.0), "situation": "persistent", "length": 2000.0,
        "thickness": 200.0, "height": 4000.0, "edges": 2, "between": 2000.0, "bars": 2000 * 200 * 0.003, "depth": 160.0,
    }  # fmt: skip
    return SlenderWall(**own | changed)


def test_second_order_out_of_plane_by_hand():
    """EN: l_0 4000, lambda 69.3, e_i 10, nominal curvature; ACI: P_c with 0.4 E I/1.6; IS: 0.75 H, P D/2000 (l/D)^2."""
    N, M = -1200 * KN, np.array([12e6])
    found = EN.out_of_plane(slim(), [N], [0.0], M)
    P, f_cd, f_yd = 1200 * KN, 20.0, 500 / 1.15
    n, omega, slender = P / (400e3 * f_cd), 1200.0 * f_yd / (400e3 * f_cd), 4000 * np.sqrt(12) / 200
    M02 = max(12e6 + P * 10.0, P * 20.0)
    M0e = max(0.6 * M02 + 0.4 * (P * 10.0), 0.4 * M02)
    K_phi = max(1 + (0.35 + 30 / 200 - slender / 150) * 2.0, 1.0)
    e2 = min((1 + omega - n) / (1 + omega - 0.4), 1.0) * K_phi * (f_yd / 200e3) / (0.45 * 160) * 4000**2 / 10
    assert found.slender[0]
    assert found.moment[0] == pytest.approx(max(M02, M0e + P * e2), rel=1e-9)
    # held at both sides a wall of 4 m between corners 2 m apart is short
    assert not EN.out_of_plane(slim(edges=4), [N], [0.0], M).slender[0]

    found = ACI.out_of_plane(slim(concrete=Concrete(28.0), steel=Steel(420.0)), [N], [4e6], M)
    EI = 0.4 * 4700 * np.sqrt(28.0) * 2000 * 200**3 / 12 / 1.6
    P_c = np.pi**2 * EI / 4000**2
    delta = max((0.6 + 0.4 * 4 / 12) / (1 - P / (0.75 * P_c)), 1.0)
    assert found.moment[0] == pytest.approx(delta * max(12e6, P * 21.0), rel=1e-6)
    assert found.limits[0].demand[0] == pytest.approx(delta, rel=1e-6)
    assert found.limits[0].capacity[0] == 1.4
    assert np.isinf(ACI.out_of_plane(slim(concrete=Concrete(28.0), height=9000.0), [N], [0.0], M).moment[0])

    found = IS.out_of_plane(slim(concrete=Concrete(30.0, "cube")), [N], [0.0], M)
    added = P * 200 / 2000 * (3000 / 200) ** 2
    assert found.moment[0] == pytest.approx(max(0.6 * 12e6 + added, P * 20.0))
    assert found.limits[0].demand[0] == pytest.approx(15.0)
    # in tension nothing is added
    for standard in (EN, ACI, IS):
        assert standard.out_of_plane(slim(), [100 * KN], [3e6], M).moment[0] == pytest.approx(12e6)


@given(
    length=st.floats(400.0, 6000.0), spacing=st.sampled_from([100.0, 150.0, 200.0]), d=st.sampled_from([10.0, 16.0]),
    curtains=st.sampled_from([1, 2]), ends=st.booleans(),
)  # fmt: skip
def test_bars_stand_inside_no_further_apart_than_their_spacing(length, spacing, d, curtains, ends):
    steel = WallSteel(ParallelBars(d, spacing), ParallelBars(10.0, 200.0), BarGroup(6, 20.0, 300.0) if ends else None)
    placed = place_wall(length, 250.0, steel, Cover(30.0, curtains))
    x, y = placed.places.T
    assert_allclose(np.sort(x), np.sort(length - x), atol=1e-9)
    assert_allclose(np.sort(y), np.sort(250.0 - y), atol=1e-9)
    assert x.min() >= 40.0
    assert y.min() >= (40.0 + d / 2 if curtains == 2 else 125.0) - 1e-9
    if not (ends and length < 1000.0):
        assert np.diff(np.unique(x.round(6))).max(initial=0.0) <= max(spacing, 115.0 if ends else 0.0) + 1e-6
    if ends:
        assert np.isclose(placed.diameters, 20.0).sum() >= 12
    one = STEEL_KG * (placed.areas.sum() * 3000.0 + curtains * ParallelBars(10.0, 200.0).area * 3000.0 * length)
    assert mass(length, 3000.0, 250.0, steel, Cover(30.0, curtains)) == pytest.approx(one)


STEEL_KG = 7.85e-6


def test_chords_of_a_lintel_have_their_depth():
    steel = LintelSteel(BarGroup(4, 16.0, 0.0), ParallelBars(8.0, 150.0))
    placed = place_lintel(600.0, 200.0, steel, Cover(30.0))
    assert sorted(set(placed.places[:, 0].round(3))) == [46.0, 86.0, 514.0, 554.0]
    assert effective_depth(600.0, steel, Cover(30.0)) == pytest.approx(600.0 - 66.0)
    assert next(end_groups(BarRule((12.0,), (200.0,)), 2000.0, 2)).count == 4


def member(N, M, V=100 * KN, M_out=0.0, length=3000.0, standard=EN):
    steady = np.zeros((1, len(np.atleast_1d(N)), 6))
    steady[0, :, 0], steady[0, :, 1], steady[0, :, 3], steady[0, :, 4] = N, V, M_out, M
    d = demands(steady, np.zeros_like(steady))
    of = PartMaterials(Concrete(30.0), Steel(500.0), Cover(30.0))
    where = np.array(["persistent"] * steady.shape[1], dtype=object)
    return Member(PartGeometry(length, 200.0, 3000.0, 4, length), of, standard, Strengths(standard), d, where, 1)


RULE = BarRule((10.0, 12.0, 16.0), (100.0, 150.0, 200.0))


def test_the_least_steel_that_holds_is_chosen():
    for M, out in ((0.3e9, 0.0), (2.5e9, 0.0), (0.2e9, 60e6)):
        m = member(-600 * KN, M, M_out=out)
        steel, decided = choose_wall([m], RULE, None, fixed=(False, False, False), ends=True)
        assert all(c.utilisation <= 1.0 + 1e-9 for c in m.checks(steel))
        assert decided in [c.name for c in m.checks(steel)]
        weight = mass(3000.0, 3000.0, 200.0, steel, Cover(30.0))
        for d in RULE.diameters:
            for s in RULE.spacings:  # nothing uniform that holds weighs less
                other = WallSteel(ParallelBars(d, s), steel.horizontal)
                held = all(c.utilisation <= 1.0 for c in m.checks(other))
                assert not held or mass(3000.0, 3000.0, 200.0, other, Cover(30.0)) >= weight - 1e-6
        assert (steel.ends is None) or out == 0.0
    # what no bars of the rule carry keeps the most, and says what is exceeded
    lost = member(-600 * KN, 20e9)
    steel, decided = choose_wall([lost], RULE, None, fixed=(False, False, False), ends=False)
    assert decided in ("bending with axial force", "out of plane")
    assert max(c.utilisation for c in lost.checks(steel)) > 1.0


def test_a_lintel_gets_chords_and_links():
    m = member([0.0, 0.0], [60e6, -60e6], V=150 * KN, length=600.0)
    steel, _ = choose_lintel([m], RULE, None, (False, False))
    checks = m.checks(steel)
    assert all(c.utilisation <= 1.0 + 1e-9 for c in checks)
    by_hand = 60e6 / (0.9 * effective_depth(600.0, steel, Cover(30.0)) * 500 / 1.15)
    assert steel.chords.area >= 0.9 * by_hand
    assert {c.name for c in checks} >= {
        "bending with axial force",
        "shear in plane",
        "minimum links",
        "spacing of links",
    }


@given(st.integers(0, 10_000))
def test_corners_of_the_demands_tell_what_all_tell(seed):
    """A convex strength that carries the corners carries all; the farthest demand in any direction is a corner."""
    rng = np.random.default_rng(seed)
    N, Mx, My = rng.normal(size=(3, 60)) * [[1e6], [1e7], [1e9]]
    at = corners(N, Mx, My)
    way = rng.normal(size=(3, 20)) / [[1e6], [1e7], [1e9]]
    along = np.stack([N, Mx, My]).T @ way
    assert_allclose(along[at].max(0), along.max(0), rtol=1e-5)
    flat = corners(N, np.zeros(60), np.zeros(60))
    assert set(flat) == {int(N.argmin()), int(N.argmax())}


def test_a_curve_has_its_key_points_and_its_cap():
    m = member(-600 * KN, 1e9, standard=ACI)
    of = PartMaterials(Concrete(28.0), Steel(420.0), Cover(30.0))
    steel = WallSteel(ParallelBars(12.0, 200.0), ParallelBars(10.0, 200.0))
    strength = m.strengths.of(m.geometry, steel, of, "persistent")
    found = curve(strength, 0.0)
    named = {k.name: k for k in found.points}
    A_s = strength.section.area.sum()
    P_o = 0.85 * 28.0 * (600e3 - A_s) + 420.0 * A_s
    assert pytest.approx(-0.65 * 0.80 * P_o, rel=1e-9) == named["cap"].N
    assert found.N.min() == pytest.approx(named["cap"].N)
    assert pytest.approx(0.9 * 420.0 * A_s) == named["pure tension"].N
    bent = strength.strength(0.0, 0.0, 1.0).moment[0]
    assert pytest.approx(bent, rel=1e-3) == named["pure bending"].M
    order = ["zero steel stress", "half yield", "balanced", "pure bending"]
    assert [named[n].N for n in order if n in named] == sorted(named[n].N for n in order if n in named)


def test_modes_are_combined_by_their_correlation():
    values = np.array([[3.0, -2.0], [4.0, 1.0]])
    assert_allclose(combine_modes(values, (), 0.05, "SRSS"), np.hypot(*values))
    # equal periods add with their signs, far ones by squares
    assert_allclose(combine_modes(values, (0.5, 0.5), 0.05, "CQC"), np.abs(values.sum(0)), rtol=1e-12)
    assert_allclose(combine_modes(values, (5.0, 0.01), 0.05, "CQC"), np.hypot(*values), rtol=1e-3)
    assert_allclose(combine_modes(values, (), 0.05, "SRSS", signs_of=0), [5.0, -np.sqrt(5.0)])
    rho = cqc_coefficients([0.6, 0.5, 0.2], 0.05)
    assert_allclose(rho, rho.T)


def tube(**changed):
    """A square tube of 4.0 m between middle lines, 250 mm, bars 10/200 on both faces each way."""
    a_s = 2 * np.pi * 25 / 200
    own = {
        "concrete": Concrete(30.0), "steel": Steel(500.0), "situation": "persistent", "area": 16e6, "round": 16e3,
        "thickness": 250.0, "transverse": a_s, "along": a_s * 16e3, "webs": (2e6, 2e6), "web_steel": (8e3 * a_s, 8e3 * a_s),
    }  # fmt: skip
    return ClosedSection(**own | changed)


def test_torsion_of_a_closed_core_by_hand():
    """Shear flow T/(2 A) in four walls beside the shear of two of them."""
    a_s, T, V = 2 * np.pi * 25 / 200, 3e9, 900 * KN
    found = EN.torsion(tube(), [T, T], [0.0, V], [0.0, 0.0])
    flow = T / (2 * 16e6)
    struts, bars = row(found, "struts of shear and torsion"), row(found, "horizontal bars of shear and torsion")
    nu_f = 0.6 * (1 - 30 / 250) * 20
    assert_allclose(
        struts.demand, [flow / (nu_f * 250 / 2), flow / (nu_f * 250 / 2) + V / (0.8 * 2e6 * nu_f / 2)], rtol=1e-9
    )
    assert_allclose(
        bars.demand, [flow / (a_s * 434.78), flow / (a_s * 434.78) + V / (0.8 * 8e3 * a_s * 434.78)], rtol=1e-4
    )
    # what goes round and what goes along carry the same flow at 45 degrees
    along = row(found, "bars along for torsion")
    assert along.utilisation[0] == pytest.approx(bars.demand[0], rel=1e-9)
    found = ACI.torsion(tube(), [T, T], [0.0, V], [0.0, 0.0])
    bars = row(found, "horizontal bars of shear and torsion")
    assert bars.demand[0] == pytest.approx(T / (0.75 * 2 * 0.85 * 16e6 * a_s * 420), rel=1e-9)
    assert bars.demand[1] - bars.demand[0] == pytest.approx(V / (0.75 * 8e3 * a_s * 420), rel=1e-9)
    struts = row(found, "struts of shear and torsion")
    assert struts.demand[1] == pytest.approx(T / (1.7 * 16e6 * 250) + V / 2e6)
    assert struts.capacity[0] == pytest.approx(0.75 * 0.83 * np.sqrt(30.0))
    assert not isinstance(IS, TorsionWalls)
