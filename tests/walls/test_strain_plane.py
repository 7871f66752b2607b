"""Strain planes of sections under any demand, by fibres, the transformed section and the strength they run into."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich import Concrete, PlaneSection, SectionStrength, Steel, standard_named
from sandwich.design.walls.plane import EPS_C, strain_plane

L, T = 2000.0, 250.0
BARS = np.array([(x, y) for x in np.linspace(50.0, L - 50.0, 10) for y in (45.0, 205.0)])
WALL = PlaneSection.of([[(0, 0), (L, 0), (L, T), (0, T)]], BARS, np.full(len(BARS), 201.0))
ANGLE = PlaneSection.of(
    [[(0, 0), (1800, 0), (1800, 200), (200, 200), (200, 1200), (0, 1200)]],
    [(50, 50), (1750, 50), (1750, 150), (150, 1150), (50, 1150), (900, 100)],
    [400.0] * 6,
)
LAWS = {n: standard_named(n).member_law(Concrete(30.0), Steel(500.0), "persistent")
        for n in ("EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000")}  # fmt: skip


def by_fibres(section, law, plane, count=400):
    """N, M_x, M_y of a plane on a grid of fibres, with the parabola written out."""
    corners = np.concatenate(section.rings)
    low, high = corners.min(0), corners.max(0)
    x, y = (low[i] + (np.arange(count) + 0.5) / count * (high - low)[i] for i in (0, 1))
    X, Y = np.meshgrid(x, y)
    inside = np.ones(X.shape, dtype=bool) if section is WALL else ((Y < 200) | (X < 200))
    cx, cy = section.centroid
    strain = plane.strain + plane.slope_x * (X - cx) + plane.slope_y * (Y - cy)
    n, eps_c = (law.concrete.n, law.concrete.eps_c) if law.concrete.n > 0 else (2.0, EPS_C)

    def stress(e):
        return law.concrete.stress * (1.0 - (1.0 - np.clip(e / eps_c, 0.0, 1.0)) ** n)

    area = (high - low).prod() / count**2
    force = np.where(inside, stress(strain), 0.0) * area
    bars = section.bars - section.centroid
    e = plane.strain + bars @ [plane.slope_x, plane.slope_y]
    pull = section.area * (np.clip(law.steel.E_s * e, -law.steel.strength, law.steel.strength) - stress(e))
    N = -force.sum() - pull.sum()
    return N, -(force * (Y - cy)).sum() - pull @ bars[:, 1], (force * (X - cx)).sum() + pull @ bars[:, 0]


@pytest.mark.parametrize("section", [WALL, ANGLE], ids=["wall", "angle"])
@pytest.mark.parametrize("law", LAWS.values(), ids=["EN", "ACI", "IS"])
@settings(max_examples=15)
@given(n=st.floats(-0.6, 0.1), way=st.floats(-3.1, 3.1), part=st.floats(0.05, 0.95))
def test_a_plane_is_in_equilibrium_with_its_demand(section, law, n, way, part):
    strength = SectionStrength(section, law)
    N = n * -strength.compression if n < 0 else n * strength.tension * 5
    most = strength.contour(N, [way])[0]
    if not np.isfinite(most):
        return
    Mx, My = part * most * np.cos(way), part * most * np.sin(way)
    plane = strain_plane(section, law, N, Mx, My)
    found = by_fibres(section, law, plane)
    size = abs(strength.compression) * np.array([1.0, np.ptp(section.rings[0][:, 1]), np.ptp(section.rings[0][:, 0])])
    assert_allclose(np.array(found) / size, np.array([N, Mx, My]) / size, atol=2e-3)
    assert plane.corner <= law.concrete.eps_cu * (1 + 1e-6)
    bars = section.bars - section.centroid
    e = plane.strain + bars @ [plane.slope_x, plane.slope_y]
    assert_allclose(plane.stresses, -np.clip(200e3 * e, -law.steel.strength, law.steel.strength), rtol=1e-9)


def test_small_demands_follow_the_transformed_section():
    """Where all is pressed and little, strains are those of elastic concrete with n = E_s/E_c at the origin."""
    law = LAWS["EN 1992-1-1:2004"]
    E_c = 2 * 20.0 / 0.002
    extra = WALL.area.sum() * (200e3 / E_c - 1)
    bars = WALL.bars - WALL.centroid
    A, I = L * T + extra, T * L**3 / 12 + (200e3 / E_c - 1) * (WALL.area * bars[:, 0] ** 2).sum()
    N, M = -40e3, 4e6
    plane = strain_plane(WALL, law, N, 0.0, M)
    assert plane.strain == pytest.approx(-N / (E_c * A), rel=5e-3)
    assert plane.slope_x == pytest.approx(M / (E_c * I), rel=5e-3)
    assert plane.slope_y == pytest.approx(0.0, abs=1e-12)


@pytest.mark.parametrize("name", ["EN 1992-1-1:2004", "IS 456:2000"])
def test_at_its_strength_the_corner_is_at_its_ultimate_strain(name):
    law = LAWS[name]
    strength = SectionStrength(WALL, law)
    most = strength.strength(-1.5e6, 0.0, 1.0)
    plane = strain_plane(WALL, law, -1.5e6, 0.0, 0.9999 * float(most.moment[0]))
    assert plane.corner < law.concrete.eps_cu
    assert plane.stresses.max() == pytest.approx(law.steel.strength)
    with pytest.raises(ValueError, match="does not carry the demand"):
        strain_plane(WALL, law, -1.5e6, 0.0, 1.2 * float(most.moment[0]))
    with pytest.raises(ValueError, match="does not carry the demand"):
        strain_plane(WALL, law, 1.1 * strength.tension, 0.0, 0.0)


@given(st.floats(-1e-3, 2.5e-3), st.floats(-2e-6, 2e-6), st.floats(-1e-5, 1e-5))
def test_resultants_of_a_plane_change_evenly(e, gx, gy):
    """Planes that differ by little differ by little, also where they are all but even."""
    law = LAWS["EN 1992-1-1:2004"]
    one, two = WALL.resultants([[e, gx, gy], [e + 1e-7, gx * (1 + 1e-6), gy]], law.concrete, law.steel)
    size = np.array([1e7, 2.5e9, 2e10])
    assert (np.abs(one - two) / size).max() < 2e-3
    even = WALL.resultants([[e, 0.0, 0.0], [e, 1e-12, 0.0]], law.concrete, law.steel)
    assert_allclose(even[0] / size, even[1] / size, atol=1e-4)
