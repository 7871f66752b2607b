"""The service stage against hand calculations, closed forms and invariants; steel that is added; water."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.core.section import BarLayers, BarLine, Concrete, Steel
from sandwich.design.added import ServiceLoads, add_steel, smaller_bars
from sandwich.design.sections import ServiceBars
from sandwich.design.service import NO_BARS, ServiceRule, check_service
from sandwich.design.service_tables import service_checks
from sandwich.design.settings import Settings
from sandwich.mechanics import cracked
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.en1992.crack_control import stress_of_diameter
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.is456.standard import IS456

H, SITUATION = 300.0, ["quasi-permanent"]
RULE = ServiceRule({"quasi-permanent": ((0.3, 0.3), (0.3, 0.3))})
E_S, E_CM, F_CTM = 2e5, 22e3 * 3.8**0.3, 0.3 * 30 ** (2 / 3)


def settings(standard=None, bars=None):
    return Settings(bars or BarLayers(), Concrete(30.0), Steel(500.0), standard or EN1992.recommended())


def check(rows, area, s=None, rule=RULE, h=H, **more):
    s, rows = s or settings(), np.atleast_2d(np.asarray(rows, dtype=float))
    cases = np.concatenate([rows, np.zeros((len(rows), 8 - rows.shape[1]))], axis=1)[:, None]
    thick = np.full(len(rows), h)
    bars = ServiceBars(
        np.broadcast_to(np.array(area, dtype=float), (len(rows), len(s.names))), s.bars.axes(thick), s.bars.diameters
    )
    return check_service(cases, np.eye(1), SITUATION, thick, bars, s, rule, **more)


def one_way(m, a_s, phi, cover, E_c, k_t):
    """Crack width of a singly reinforced section by hand: 7.3.4 with the quadratic of x."""
    d, n = H - cover - phi / 2, E_S / E_c
    x = -n * a_s + np.sqrt((n * a_s) ** 2 + 2 * n * a_s * d)
    sigma = m / (a_s * (d - x / 3))
    rho = a_s / min(2.5 * (H - d), (H - x) / 3, H / 2)
    eps = max((sigma - k_t * F_CTM / rho * (1 + E_S / E_CM * rho)) / E_S, 0.6 * sigma / E_S)
    wide = np.pi * phi**2 / 4 / a_s > 5 * (cover + phi / 2)
    return (1.3 * (H - x) if wide else 3.4 * cover + 0.425 * 0.8 * 0.5 * phi / rho) * eps, sigma, x


@pytest.mark.parametrize(("m", "a_s"), [(60e3, 0.8), (40e3, 0.5), (120e3, 2.2)])
def test_one_way_bending_by_hand(m, a_s):
    found = check([[0, 0, 0, m, 0, 0]], [a_s, 0, 0, 0])
    each = [one_way(m, a_s, 12.0, 30.0, E_CM / (1 + c), k) for c, k in ((0.0, 0.6), (2.0, 0.4))]
    worst = max(each)
    assert_allclose(found.width[0, 0], worst[0], rtol=1e-4)
    assert found.long[0, 0] == (worst is each[1])
    assert_allclose([found.stress[0, 0], found.depth[0, 0]], worst[1:], rtol=1e-4)
    assert found.width[0, 1] == 0.0
    assert_allclose(found.steel[0], max(e[1] for e in each), rtol=1e-4)
    assert_allclose(found.concrete[0], 2 * m / (each[0][2] * (264.0 - each[0][2] / 3)), rtol=1e-3)


def test_one_way_bending_by_hand_after_two_other_standards():
    """Frosch 1999 and IS 456, annex F, each with its own modulus; the worse of both loadings."""
    m, a_s, phi, cover, d = 70e3, 0.9, 12.0, 30.0, 264.0
    s = np.pi * phi**2 / 4 / a_s

    def section(E_c):
        n = E_S / E_c
        x = -n * a_s + np.sqrt((n * a_s) ** 2 + 2 * n * a_s * d)
        return x, m / (a_s * (d - x / 3))

    aci = []
    for creep in (0.0, 2.0):
        x, sigma = section(4700 * 30**0.5 / (1 + creep))
        aci.append(
            (2 * sigma / E_S * (H - x) / (d - x) * np.hypot(36.0, s / 2), s / min(380 * 280 / sigma - 75, 84e3 / sigma))
        )
    found = check([[0, 0, 0, m, 0, 0]], [a_s, 0, 0, 0], settings(ACI318()))
    assert_allclose([found.width[0, 0], found.simplified_use[0, 0]], np.max(aci, axis=0), rtol=1e-4)
    assert_allclose(found.spacing[0, 0], 2 * np.hypot(36.0, s / 2), rtol=1e-9)
    is_ = []
    for creep in (0.0, 2.0):
        x, sigma = section(5000 * 37.5**0.5 / (1 + creep))
        eps = sigma / E_S * (H - x) / (d - x) - (H - x) ** 2 / (3 * E_S * a_s * (d - x))
        a_cr = np.hypot(36.0, s / 2) - 6
        is_.append(3 * a_cr * eps / (1 + 2 * (a_cr - cover) / (H - x)))
    found = check([[0, 0, 0, m, 0, 0]], [a_s, 0, 0, 0], settings(IS456()))
    assert_allclose(found.width[0, 0], max(is_), rtol=1e-4)
    assert np.isnan(found.simplified_use).all()  # the standard has no check without a width
    pulled = check([[600, 0, 0, 0, 0, 0]], [1.5, 1, 1.5, 1], settings(IS456()))
    assert_allclose(pulled.width[0], 3 * (np.hypot(36.0, np.pi * 36 / 1.5 / 2) - 6) * 200 / E_S, rtol=1e-4)


def test_german_values_space_cracks_by_bond_alone():
    """phi/(3.6 rho) in bending and in tension, whatever the cover."""
    s = settings(EN1992.national("de"))
    found = check(
        [[0, 0, 0, 60e3, 0, 0], [500, 0, 0, 0, 0, 0]], [1.0, 0, 1.0, 0], s, rule=replace(RULE, load_durations=(False,))
    )
    depth = np.minimum(2.5 * 36.0, np.where(found.depth[:, 0] > 0, (H - found.depth[:, 0]) / 3, H / 2))
    assert_allclose(found.spacing[:, 0], 12.0 / (3.6 * 1.0 / depth), rtol=1e-4)


def test_a_curtain_serves_both_faces_of_a_section_in_tension_once():
    s = settings(bars=BarLayers(layout="mid-depth"))
    loads = [[300, 0, 0, 1800, 0, 0], [0, 0, 0, 20e3, 0, 0]]  # tension at the axis of the x bars, bending
    found = check(loads, [1.2, 1.2, 0.0, 0.0], s, rule=replace(RULE, load_durations=(False,)))
    # half of the bars in half of the section; all of them in bending
    by_bond = (found.spacing[0] - 3.4 * (150 - np.array([12, 0]))) / (0.34 * 12 / (0.6 / 150))
    assert np.all((by_bond > 0.75) & (by_bond <= 1.0 + 1e-9))  # one layer alone leaves the slope of the strain open
    rho = 1.2 / ((H - found.depth[1, 0]) / 3)
    assert_allclose(found.spacing[1, 0], 3.4 * 138 + 0.17 * 12 / rho, rtol=1e-3)
    assert found.width[1, 0] > 0.0
    assert found.width[1, 1] == 0.0


def test_limits_of_stress_and_of_diameters():
    concrete, steel, en = Concrete(30.0), Steel(500.0), EN1992.recommended()
    of = {
        (s, i): en.stress_limits(concrete, steel, s, imposed=i)
        for s in ("characteristic", "frequent", "quasi-permanent")
        for i in (False, True)
    }
    assert (of["characteristic", False].concrete, of["characteristic", False].steel) == (18.0, 400.0)
    assert of["characteristic", True].steel == 500.0
    assert of["quasi-permanent", False].concrete == 13.5
    assert np.isinf(of["frequent", False].concrete)
    loads = [[0, 0, 0, 120e3, 0, 0]]
    strained = [check(loads, [1.2, 1, 1, 1], rule=replace(RULE, imposed=i)) for i in (False, True)]
    assert_allclose(strained[0].steel, strained[1].steel)
    # table 7.2N for 0.3 mm: 16 mm up to 240 MPa; nothing past the table, nor for widths below it
    found = stress_of_diameter(np.array([16.0, 14.0, 32.0, 33.0, 5.0]), 0.3, 420.0)
    assert_allclose(found, [240.0, 260.0, 160.0, np.nan, 420.0])
    assert np.isnan(stress_of_diameter(np.array([5.0]), 0.1, 420.0)).all()


def test_pure_shear_is_twice_the_strain_of_its_bars():
    """At 45 degrees the strain across is eps_x + eps_y - eps_2, and cracks lie at s/(2 cos 45) of those along bars."""
    v, a_s, k_t, n = 900.0, 1.5, 0.4, E_S / E_CM
    bars = BarLayers(cover_bottom=30, cover_top=30, diameter_x=12, diameter_y=12)
    axes = np.array([[108.0, 108.0, -108.0, -108.0]])
    s = settings(bars=bars)
    cases = np.array([[[0, 0, v, 0, 0, 0, 0, 0]]], dtype=float)
    found = check_service(
        cases, np.eye(1), SITUATION, np.array([H]), ServiceBars(np.full((1, 4), a_s), axes, np.full(4, 12.0)), s, RULE
    )
    sigma = v / (2 * a_s)
    rho = a_s / min(2.5 * 42.0, H / 2)
    eps = max((sigma - k_t * F_CTM / rho * (1 + n * rho)) / E_S, 0.6 * sigma / E_S)
    across = 2 * eps + 2 * v * 3 / (E_CM * H)
    spacing = (3.4 * 36.0 + 0.425 * 0.8 * 1.0 * 12 / rho) / (2 * np.cos(np.pi / 4))
    assert_allclose(found.strain[0], across, rtol=1e-5)
    assert_allclose(found.spacing[0], spacing, rtol=1e-5)
    assert_allclose(np.degrees(found.theta[0]), 45.0, atol=1e-3)
    assert_allclose(found.width[0], across * spacing, rtol=1e-5)


@given(
    st.floats(0.0, 3.1), st.sampled_from(["EN", "ACI", "IS"]), st.lists(st.floats(-1.0, 1.0), min_size=6, max_size=6)
)
def test_width_does_not_depend_on_the_axes(angle, name, r):
    standard = {"EN": EN1992.recommended(), "ACI": ACI318(), "IS": IS456()}[name]
    r = np.array(r) * np.array([300.0] * 3 + [4e4] * 3)
    c, s = np.cos(angle), np.sin(angle)
    turn = np.array([[c * c, s * s, -2 * c * s], [s * s, c * c, 2 * c * s], [c * s, -c * s, c * c - s * s]])
    degrees = (np.degrees(angle) + np.array([0.0, 90.0]) + 90) % 180 - 90

    def of(angles, r):
        lines = tuple(BarLine(float(a)) for a in angles)
        return check(r, [1.2, 0.9, 0.8, 1.1], settings(standard, BarLayers(bottom=lines, top=lines)))

    one, two = of([0.0, 90.0], r), of(degrees, np.concatenate([turn @ r[:3], turn @ r[3:]]))
    # where a crack turns past 15 degrees of the bars, or bars are as far apart as 5 (c + phi/2), a spacing leaps
    leap = np.abs(one.spacing - two.spacing) > 0.05 * one.spacing if name == "EN" else np.zeros((1, 2), dtype=bool)
    assert_allclose(two.width[~leap], one.width[~leap], rtol=2e-3, atol=1e-5)
    assert_allclose([two.concrete, two.steel], [one.concrete, one.steel], rtol=1e-4, atol=1e-4)


def test_both_faces_of_a_section_in_tension_by_hand():
    """Eccentric tension of two layers: each face has its own bar force, no depth is compressed, k_2 lies between."""
    n, m, a_s, lever = 500.0, 12e3, 1.0, 2 * 114.0
    found = check([[n, 0, 0, m, 0, 0]], [a_s, 1, a_s, 1], rule=replace(RULE, load_durations=(True,)))
    sigma = (n / 2 + np.array([1, -1]) * m / lever) / a_s
    face = (sigma.mean() + np.array([1, -1]) * (sigma[0] - sigma[1]) / 2 * 150 / 114) / E_S
    rho = a_s / min(2.5 * 36.0, H / 2)
    eps = np.maximum((sigma - 0.4 * F_CTM / rho * (1 + E_S / E_CM * rho)) / E_S, 0.6 * sigma / E_S)
    spacing = 3.4 * 30 + 0.8 * face.sum() / (2 * face.max()) * 0.425 * 12 / rho
    assert_allclose(found.stress[0], sigma, rtol=1e-6)
    assert_allclose(found.depth[0], 0.0)
    assert_allclose(found.width[0], spacing * eps, rtol=1e-5)


def test_points_that_cannot_be_checked_say_why():
    found = check(
        [[0, 200, 0, 0, 0, 0], [200, 0, 0, 0, 0, 0], [np.nan, 0, 0, 0, 0, 0]],
        [[0.5, 0, 0.5, 0], [np.nan] * 4, [1.0] * 4],
    )
    assert found.status.tolist() == [cracked.NO_EQUILIBRIUM, NO_BARS, cracked.NOT_FINITE]
    assert found.failing.tolist() == [0, -1, 0]
    assert np.isnan(found.width).all()
    assert np.isnan(found.steel).all()


def test_cracks_through_a_wall_that_holds_water():
    """EN 1992-3, 7.3.1: 0.2 mm less with the head where no 50 mm stay compressed, else table 7.1N."""
    loads = [[300, 0, 0, 0, 0, 0], [0, 0, 0, 50e3, 0, 0], [-400, 0, 0, 50e3, 0, 0]]
    found = check(loads, [2.0] * 4, head=np.array([6000.0, 6000.0, 0.0]))
    assert found.through.tolist() == [True, False, False]
    assert_allclose(found.limit, [[0.125, 0.125], [0.3, 0.3], [0.3, 0.3]])
    assert found.compressed[0] == 0.0
    assert 50.0 < found.compressed[1] < found.compressed[2]
    both = np.array([[[0, 0, 0, 50e3, 0, 0, 0, 0], [0, 0, 0, -50e3, 0, 0, 0, 0]]], dtype=float)
    s = settings()
    bars = ServiceBars(np.full((1, 4), 2.0), s.bars.axes(np.array([H])), s.bars.diameters)
    swayed = check_service(both, np.eye(2), SITUATION * 2, np.array([H]), bars, s, RULE, head=np.array([6000.0]))
    assert swayed.through.tolist() == [True]  # each alone leaves 80 mm compressed, but not the same ones


@pytest.mark.parametrize(
    "row", [[0, 0, 0, 90e3, 20e3, 15e3], [400, 100, 150, 0, 0, 0], [150, 0, 80, 50e3, -30e3, 20e3]]
)
def test_added_steel_is_enough_and_no_more(row):
    s = settings()
    loads = ServiceLoads(
        np.array([[[*row, 0, 0]]], dtype=float), np.eye(1), SITUATION, np.array([H]), np.zeros(1), np.zeros(1)
    )
    bars = ServiceBars(np.full((1, 4), 0.5), s.bars.axes(np.array([H])), s.bars.diameters)
    found = loads.check(bars, s, RULE)
    assert np.nanmax(found.use) > 1.0
    added = add_steel(loads, bars, s, RULE, found)
    assert added.enough.all()

    def use(part):
        return np.nanmax(loads.check(replace(bars, area=bars.area + part * added.area), s, RULE).use)

    assert 0.98 < use(1.0) <= 1.0 + 1e-6
    assert use(0.97) > 1.0
    more = replace(bars, area=bars.area + 0.8 * added.area)
    finer = smaller_bars(loads, more, s, RULE, 0, (6.0, 8.0, 10.0, 12.0))
    assert finer < 12.0
    for d, holds in ((finer, True), (finer + 2.0, finer == 12.0)):
        width = loads.check(replace(more, diameter=np.array([d, d, 12.0, 12.0])), s, RULE).use[0, 0]
        assert (width <= 1.0) == holds
    assert smaller_bars(loads, more, s, RULE, 0, (6.0, 8.0), minimum_spacing=400.0) is None


def test_what_each_standard_asks():
    rows, area = [[0, 0, 0, 70e3, 0, 0]], [0.9, 0.9, 0.9, 0.9]
    for standard in (ACI318(), IS456()):
        s = settings(standard)
        found = check(rows, area, s)
        assert 0.1 < found.width[0, 0] < 0.6
        assert np.isinf(found.concrete_limit).all()
    quick = check(rows, area, settings(ACI318())).simplified_capacity[0, 0]
    sigma = check(rows, area, settings(ACI318())).stress[0, 0]
    assert quick == pytest.approx(
        min(380 * 280 / sigma - 2.5 * 30, 300 * 280 / sigma), rel=0.02
    )  # of the worse loading
    least = [
        check(rows, area, rule=replace(RULE, minimum_reinforcement=k)).minimum[0]
        for k in ("none", "bending", "tension", "restraint")
    ]
    # 0.4 k f_ctm h/2 and k f_ctm h/2 over the stress of table 7.2N at phi*_s by (7.6N), (7.7N): 14.4 mm, 11.5 or 15.4 mm
    more = 2.9 / F_CTM
    assert_allclose(least[1], [0.4 * F_CTM * 150 / (280 - 10 * (14.4 * more - 12))] + [0.0] * 3, rtol=1e-6)
    outer, inner = (F_CTM * 150 / s for s in (280 + 20 * (12 - 11.52 * more), 280 - 10 * (15.36 * more - 12)))
    assert_allclose(least[2:], [[outer, inner] * 2] * 2, rtol=1e-6)
    # by hand with (7.6N) and (7.7N): 250 mm, cover 35, 16 mm in bending, 12 mm in tension
    for kind, phi, want in (("bending", 16.0, 0.781), ("tension", 12.0, 1.494)):
        s = settings(bars=BarLayers(35.0, 35.0, phi, phi))
        found = check([[0, 0, 0, 70e3, 0, 0]], area, s, replace(RULE, minimum_reinforcement=kind), 250.0)
        assert found.minimum[0, 0] == pytest.approx(want, rel=0.002)
    # past the table: no number, and the row says so
    s = settings(bars=BarLayers(60.0, 60.0, 32.0, 32.0))
    found = check([[0, 0, 0, 70e3, 0, 0]], area, s, replace(RULE, minimum_reinforcement="bending"))
    assert np.isnan(found.minimum[0, 0])
    rows = service_checks(
        "z",
        np.array(["1"], dtype=object),
        found,
        ["q"],
        np.full((1, 4), 0.9),
        s,
        replace(RULE, minimum_reinforcement="bending"),
    )
    assert rows.set_index("check").loc["minimum steel for cracking", "status"].startswith("not checked: the table")
    saved = check([[0, 0, 0, 15e3, 0, 0]], area, rule=replace(RULE, uncracked="exempt"))
    assert saved.cracking[0] <= 0.0
    assert saved.width.max() == 0.0
