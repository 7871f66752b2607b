"""Sections in bending with axial force against reference values, fibres, closed forms and their own symmetries."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from conftest import REFERENCE
from sandwich import ACI318, IS456, Concrete, PlaneSection, SectionStrength, Steel, standard_named
from sandwich.mechanics.block import bending_steel
from sandwich.standards.aci318.member import P_n_max_ratio, P_o, member_law
from sandwich.standards.en1992 import member as en1992

CASES = json.loads((REFERENCE / "plane_sections.json").read_text())
LAWS = [
    standard_named(name).member_law(Concrete(30.0), Steel(500.0), "persistent")
    for name in ("EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000")
]


def section_of(case):
    outlines, bars = case["inputs"]["polygons"], np.array(case["inputs"]["bars"], dtype=float).reshape(-1, 3)
    holes = [h for p in outlines for h in p["holes"]]
    return PlaneSection.of([p["outer"] for p in outlines], bars[:, :2], bars[:, 2], holes=holes)


def law_of(case):
    m, standard = case["inputs"]["material"], case["standard"]
    if standard == "ACI":
        return ACI318().member_law(Concrete(m["fc"]), Steel(m["fy"]), "persistent")
    if standard == "IS":
        return IS456().member_law(Concrete(m["fck"], "cube"), Steel(m["fy"]), "persistent")
    return en1992.member_law(m["fck"], m["fyk"], alpha_cc=m["alpha_cc"])


@pytest.mark.parametrize("case", CASES["section_nm"], ids=lambda c: f"{c['id']} {c['standard']} {c['shape']}")
def test_axial_force_and_bending_of_reference_sections(case):
    section, law, expected = section_of(case), law_of(case), case["expected"]
    strength, squash = SectionStrength(section, law), abs(expected["N_max_compression"])
    assert pytest.approx(expected["area"], rel=1e-6) == section.A
    assert_allclose(section.centroid, expected["centroid"], atol=0.1)
    second = expected["second_moments"]
    assert_allclose(
        section.second_moments, [second[k] for k in ("Ixx", "Iyy", "Ixy")], atol=1e-6 * max(second.values())
    )
    assert strength.compression == pytest.approx(expected["N_max_compression"], rel=1e-4)
    assert strength.tension == pytest.approx(expected["N_max_tension"], abs=1e-4 * squash)
    largest = max(np.hypot(x["MX"], x["MY"]) for x in expected["fixed_neutral_axis"])
    for rows, of in (
        (expected["fixed_neutral_axis"], strength),
        (expected.get("nominal", []), SectionStrength(section, law, nominal=True)),
    ):
        if rows:
            found = of.at_axis(np.radians([x["theta_deg"] for x in rows]), [x["N"] for x in rows])
            assert_allclose(found.Mx, [x["MX"] for x in rows], atol=1e-4 * largest)
            assert_allclose(found.My, [x["MY"] for x in rows], atol=1e-4 * largest)
            assert_allclose(of.phi(found.eps_t), [x.get("phi", 1.0) for x in rows], atol=1e-3)
    free = expected.get("free_neutral_axis")
    if free:
        found = strength.contour(free["N"], np.radians([free["vector_angle_deg"]]))
        assert found[0] == pytest.approx(free["M"], rel=1e-3)
    for u in expected.get("utilisation", ()):
        found = strength.strength(*(u["demand"][k] for k in ("N", "MX", "MY")))
        assert found.along_ray[0] == pytest.approx(u["along_ray"], rel=1e-3)
        carried = not isinstance(u["constant_N"], str)
        assert found.utilisation[0] == (pytest.approx(u["constant_N"], rel=1e-3, abs=1e-9) if carried else np.inf)


@pytest.mark.parametrize("case", CASES["section_biaxial"], ids=lambda c: f"{c['id']} {c['standard']} {c['shape']}")
def test_contours_of_reference_sections(case):
    strength, N = SectionStrength(section_of(case), law_of(case)), case["inputs"]["N"]
    rows, axes = case["expected"]["by_moment_direction"], case["expected"]["by_neutral_axis"]
    assert_allclose(
        strength.contour(N, np.radians([x["vector_angle_deg"] for x in rows])), [x["M"] for x in rows], rtol=1e-4
    )
    found, largest = strength.at_axis(np.radians([x["theta_deg"] for x in axes]), N), max(x["M"] for x in rows)
    assert_allclose(found.Mx, [x["MX"] for x in axes], atol=1e-4 * largest)
    assert_allclose(found.My, [x["MY"] for x in axes], atol=1e-4 * largest)


def angle_section(turn=0.0, shift=(0.0, 0.0), scale=1.0):
    """An L of 3 by 2 m with bars along both legs, turned, shifted and scaled."""
    corners = np.array([[0, 0], [3000, 0], [3000, 250], [300, 250], [300, 2000], [0, 2000]], dtype=float)
    bars = np.array(
        [[x, y] for x in range(50, 2951, 290) for y in (50, 200)] + [[60, y] for y in range(300, 1960, 165)]
    )
    c, s = np.cos(turn), np.sin(turn)
    way = np.array([[c, s], [-s, c]])
    return PlaneSection.of(
        [scale * corners @ way + shift], scale * bars @ way + shift, np.full(len(bars), scale**2 * 314.0)
    )


@pytest.mark.parametrize("law", LAWS, ids=["EN", "ACI", "IS"])
def test_states_equal_a_sum_over_fibres(law):
    section = angle_section()
    step = 5.0
    x, y = (v.ravel() for v in np.meshgrid(np.arange(2.5, 3000, step), np.arange(2.5, 2000, step)))
    inside = (y < 250) | (x < 300)
    fibres = np.column_stack([x, y])[inside] - section.centroid
    bars = section.bars - section.centroid
    for theta, p in ((0.3, 0.05), (2.0, 0.4), (4.0, 0.9), (5.5, 1.3), (1.0, 1.97)):
        plane = section.plane(theta, p, law.concrete)
        own, at_bars = (plane.strain + plane.slope_x * q[:, 0] + plane.slope_y * q[:, 1] for q in (fibres, bars))
        force = np.concatenate(
            [step**2 * law.concrete.at(own), section.area * (law.steel.at(at_bars) - law.concrete.at(at_bars))]
        )
        places, found = np.concatenate([fibres, bars]), section.states(theta, p, law.concrete, law.steel)
        size = np.abs(force).sum()
        assert_allclose(found.N, -force.sum(), atol=3e-3 * size)
        assert_allclose([found.Mx, found.My], [-(force * places[:, 1]).sum(), (force * places[:, 0]).sum()],
                        atol=3e-3 * size * 1000.0)  # fmt: skip
        assert found.eps_t == pytest.approx(-at_bars.min(), rel=1e-9)
    even = section.states(0.7, 2.0, law.concrete, law.steel)
    assert pytest.approx(section.squash(law.concrete, law.steel), rel=1e-4) == even.N
    assert pytest.approx(section.pull(law.steel)) == section.states(0.7, 0.0, law.concrete, law.steel).N


@settings(max_examples=12)
@given(st.sampled_from(LAWS), st.floats(-3.0, 3.0), st.floats(0.2, 5.0), st.floats(-0.5, 0.1), st.floats(-np.pi, np.pi))
def test_a_section_turned_shifted_and_scaled_carries_the_same(law, turn, scale, part, way):
    plain, moved = angle_section(), angle_section(turn, (700.0, -400.0), scale)
    first, second = (SectionStrength(s, law) for s in (plain, moved))
    N = part * (first.tension if part > 0.0 else -first.compression)
    M = first.contour(N, [way])
    assert_allclose(second.contour(scale**2 * N, [way + turn]), scale**3 * M, rtol=2e-3)
    demand = N, 0.6 * M[0] * np.cos(way), 0.6 * M[0] * np.sin(way)
    found = first.strength(*demand)
    assert found.utilisation[0] == pytest.approx(0.6, rel=1e-6)
    # what is carried in proportion lies on the surface
    there = first.strength(*(v / found.along_ray[0] for v in demand))
    assert there.along_ray[0] == pytest.approx(1.0, rel=2e-3)


@pytest.mark.parametrize("law", LAWS, ids=["EN", "ACI", "IS"])
def test_both_utilisations_agree_on_what_is_carried(law):
    strength, rng, k = SectionStrength(angle_section(), law), np.random.default_rng(3), 120
    part, way = rng.uniform(-1.1, 1.1, k), rng.uniform(-np.pi, np.pi, k)
    N = np.where(part < 0.0, -part * strength.compression, part * strength.tension)
    M = rng.uniform(0.01, 1.5, k) * strength.contour(0.0, [0.0])[0]
    found = strength.strength(N, M * np.cos(way), M * np.sin(way))
    assert np.isfinite(found.along_ray).all()
    assert ((found.utilisation < 0.995) <= (found.along_ray < 1.005)).all()
    assert ((found.along_ray < 0.995) <= (found.utilisation < 1.005)).all()
    # near the largest compression a section whose bars lie aside carries a force only beside a moment
    over = strength.strength(strength.compression, 0.0, 0.0).along_ray[0]
    assert (over > 1.01) == (law.reduction is None)
    between = strength.strength(strength.compression * np.array([0.99, 1.01]) / over, 0.0, 0.0)
    assert_allclose(between.utilisation, [0.0, np.inf])


@pytest.mark.parametrize("law", LAWS, ids=["EN", "ACI", "IS"])
def test_a_section_that_is_its_own_mirror_image_carries_what_its_surface_all_round_does(law):
    corners, middles = [(0, 0), (900, 0), (900, 250), (0, 250)], [(450, 0), (900, 125), (450, 250), (0, 125)]
    bars, area = [(x, y) for x in (40, 300, 600, 860) for y in (50, 200)], [314, 314, 113, 113, 113, 113, 314, 314]
    mirrored = SectionStrength(PlaneSection.of([corners], bars, area), law)
    whole = SectionStrength(PlaneSection.of([np.stack([corners, middles], 1).reshape(-1, 2)], bars, area), law)
    assert mirrored.section.symmetric
    assert not whole.section.symmetric  # corners amid its sides, and all is computed
    way = np.linspace(0.0, 2.0 * np.pi, 41)
    d = np.linspace(-2e6, 3e5, 41), 2e8 * np.sin(way), 2e8 * np.cos(way)
    for kind in ("utilisation", "along_ray", "c", "eps_t"):
        assert_allclose(getattr(mirrored.strength(*d), kind), getattr(whole.strength(*d), kind), rtol=1e-7)
    for moved, heavier in (((41, 50), 314), ((40, 51), 314), ((40, 50), 315)):
        other = PlaneSection.of([corners], [moved, *bars[1:]], [heavier, *area[1:]])
        assert not other.symmetric
        both = SectionStrength(other, law).strength(0.0, 0.0, [1e8, -1e8]).moment
        assert abs(both[0] / both[1] - 1.0) > 1e-6


@pytest.mark.parametrize("standard", ["ACI 318-19", "ACI 318-14"])
def test_states_that_meet_demands_have_their_force_and_direction(standard):
    """Where the factor on the strength turns, too: it is linear between its turns."""
    law = standard_named(standard).member_law(Concrete(30.0), Steel(500.0), "persistent")
    eps = np.linspace(0.0, 2.0 * max(law.turns), 41)
    inside = law.reduction(np.array([min(law.turns), max(law.turns)]))
    np.testing.assert_allclose(law.reduction(eps), np.interp(eps, sorted(law.turns), inside), rtol=1e-12)
    strength = SectionStrength(angle_section(), law)
    way = np.linspace(0.1, 6.2, 23)
    N = np.linspace(0.6 * strength.compression, 0.5 * strength.tension, 23)
    found = strength.strength(N, 1e6 * np.cos(way), 1e6 * np.sin(way))
    state = strength.states(found.theta, found.p)
    size = np.abs(strength.compression)
    assert_allclose(state.N, N, atol=1e-7 * size)
    assert_allclose(
        state.Mx * np.sin(way) - state.My * np.cos(way), 0.0, atol=1e-7 * np.hypot(state.Mx, state.My).max()
    )


def test_a_strip_bends_as_its_block_says():
    """One layer of bars in 1 m of a slab, against the closed form of the design of one-way sections."""
    h, d, f_c, f_y = 250.0, 200.0, 30.0, 420.0
    law = member_law(f_c, f_y)
    block = ACI318().stress_block(Concrete(f_c), Steel(f_y), "persistent")
    for m in (20e3, 60e3, 110e3):
        area = float(bending_steel(m, 0.0, d, h, block))
        section = PlaneSection.of([[(0, 0), (1000, 0), (1000, h), (0, h)]], [(500.0, h - d)], [1000.0 * area])
        found = SectionStrength(section, law).contour(0.0, [np.pi])  # the bottom is pulled
        assert found[0] == pytest.approx(1000.0 * m, rel=1e-6)


def test_the_most_axial_strength_and_what_cannot_be_carried():
    section = angle_section()
    for f_y in (420.0, 690.0):
        strength = SectionStrength(section, member_law(40.0, f_y))
        most = 0.65 * P_n_max_ratio() * P_o(40.0, f_y, section.A, section.area.sum())
        assert strength.compression == pytest.approx(-most, rel=1e-9)
        over = strength.strength([1.01 * strength.compression, 1.01 * strength.tension], 0.0, 0.0)
        assert (over.utilisation == np.inf).all()
        assert (over.along_ray >= 1.01 - 1e-9).all()
    nothing = strength.strength(0.0, 0.0, 0.0)
    assert nothing.utilisation[0] == nothing.along_ray[0] == 0.0
    bare = SectionStrength(PlaneSection.of([[(0, 0), (300, 0), (300, 4000), (0, 4000)]]), LAWS[0])
    with pytest.raises(ValueError, match="demand 2 of 3 is not finite"):
        bare.strength([0.0, np.nan, 0.0], 1.0, 0.0)
    pulled = bare.strength([1e5, -2e6], [1e8, 1e8], 0.0)
    assert pulled.utilisation[0] == np.inf
    assert pulled.utilisation[1] < 1.0


SQUARE = [(0, 0), (9, 0), (9, 9), (0, 9)]


@pytest.mark.parametrize(
    ("given_", "words"),
    [
        (([[(0, 0), (1, 0)]],), "three finite corners"),
        (([[(0, 0), (1, 0), (2, 0)]],), "no area"),
        (([SQUARE], [(1, 1)], [1.0, 2.0]), "1 places and 2 areas"),
        (([SQUARE], [(1, 1)], [-2.0]), "not more than zero"),
        (([SQUARE], [(5, 5), (9.1, 5)], [1.0, 1.0]), r"the bar at \(9.1, 5\) lies 0.1 mm outside the concrete"),
        (([SQUARE], [(2, 2)], [1.0], [[(1, 1), (3, 1), (3, 3), (1, 3)]]), r"\(2, 2\) lies 1 mm outside"),
        (([[(0, 0), (9, 9), (9, 0), (0, 5)]],), "crosses itself"),
        (([SQUARE, [(8, 0), (12, 0), (12, 9), (8, 9)]],), "outlines lie over each other"),
        (([SQUARE], (), (), [[(8, 1), (12, 1), (12, 2), (8, 2)]]), "a hole lies outside"),
        (([SQUARE], (), (), [[(1, 1), (3, 1), (3, 3), (1, 3)], [(2, 2), (4, 2), (4, 4), (2, 4)]]), "holes lie over"),
    ],
)
def test_no_section(given_, words):
    outlines, bars, area, holes = (*given_, *((), (), ())[len(given_) - 1 :])
    with pytest.raises(ValueError, match=words):
        PlaneSection.of(outlines, bars, area, holes=holes)


def test_holes_as_large_as_the_outline():
    with pytest.raises(ValueError, match="holes are as large"):
        PlaneSection.of([SQUARE], holes=[SQUARE])
