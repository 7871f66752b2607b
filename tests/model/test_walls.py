"""Panels, storeys, openings and parts of walls found from meshes that are drawn for it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.model.walls.openings import openings_of
from sandwich.model.walls.outline import Stretch, centroid, outline
from sandwich.model.walls.panels import panels_of
from sandwich.model.walls.parts import Kind, parts_of
from sandwich.model.walls.storeys import levels_found, storeys_of
from walls.meshes import mesh_of

STRAIGHT = [[(0, 0), (5000, 0)]]
CORE = [[(0, 0), (4000, 0)], [(4000, 0), (4000, 3000)], [(4000, 3000), (0, 3000)], [(0, 3000), (0, 0)]]


def panels(mesh):
    return panels_of(mesh, np.arange(len(mesh.corners)), mesh.thickness)


def found(holes, height=6000.0, levels=(0.0, 3000.0, 6000.0), **how):
    (panel,) = panels(mesh_of(STRAIGHT, height, 250.0, {0: holes}))
    of = openings_of(panel)
    boxes = {
        (p.storey[-1], p.name): (p.kind, p.a, p.b, p.low, p.high)
        for p in parts_of("W", panel, of, storeys_of(levels), **how)
    }
    return [(o.a, o.b, o.low, o.high) for o in of], boxes


FULL, LINTEL, WALL, PARAPET = Kind.FULL_PIER, Kind.LINTEL, Kind.WALL, Kind.PARAPET


@pytest.mark.parametrize(
    ("holes", "boxes"),
    [
        # a door at the edge of the wall
        ([(0, 1000, 0, 2000)], {("1", "P1"): (FULL, 1000, 5000, 0, 3000), ("1", "L1"): (LINTEL, 0, 1000, 2000, 3000),
                                ("2", "W"): (WALL, 0, 5000, 3000, 6000)}),
        # two windows above each other in one storey
        ([(2000, 3000, 500, 1500), (2000, 3000, 2000, 2500)],
         {("1", "P1"): (FULL, 0, 2000, 0, 3000), ("1", "P2"): (FULL, 3000, 5000, 0, 3000),
          ("1", "L1"): (LINTEL, 2000, 3000, 1500, 2000), ("1", "L2"): (LINTEL, 2000, 3000, 2500, 3000),
          ("1", "B1"): (PARAPET, 2000, 3000, 0, 500), ("2", "W"): (WALL, 0, 5000, 3000, 6000)}),
        # a slot down to the base, with wall above it
        ([(2000, 2500, 0, 5000)],
         {("1", "P1"): (FULL, 0, 2000, 0, 3000), ("1", "P2"): (FULL, 2500, 5000, 0, 3000),
          ("2", "P1"): (FULL, 0, 2000, 3000, 6000), ("2", "P2"): (FULL, 2500, 5000, 3000, 6000),
          ("2", "L1"): (LINTEL, 2000, 2500, 5000, 6000)}),
        # an opening wider than half of the wall
        ([(500, 4500, 0, 2000)], {("1", "P1"): (FULL, 0, 500, 0, 3000), ("1", "P2"): (FULL, 4500, 5000, 0, 3000),
                                  ("1", "L1"): (LINTEL, 500, 4500, 2000, 3000), ("2", "W"): (WALL, 0, 5000, 3000, 6000)}),
        # windows above each other in two storeys: the lintel reaches up to the sill of the next
        ([(2000, 3000, 1000, 2000), (2000, 3000, 4000, 5000)],
         {("1", "P1"): (FULL, 0, 2000, 0, 3000), ("1", "P2"): (FULL, 3000, 5000, 0, 3000),
          ("1", "L1"): (LINTEL, 2000, 3000, 2000, 4000), ("1", "B1"): (PARAPET, 2000, 3000, 0, 1000),
          ("2", "P1"): (FULL, 0, 2000, 3000, 6000), ("2", "P2"): (FULL, 3000, 5000, 3000, 6000),
          ("2", "L1"): (LINTEL, 2000, 3000, 5000, 6000)}),
        # a step in the outline is no opening
        ([(3000, 5000, 3000, 6000)], {("1", "W"): (WALL, 0, 5000, 0, 3000), ("2", "W"): (WALL, 0, 3000, 3000, 6000)}),
    ],
    ids=["door at the edge", "two windows", "slot", "wide", "stacked", "step"],
)  # fmt: skip
def test_openings_and_parts(holes, boxes):
    openings, parts = found(holes)
    assert openings == ([] if holes[0][:2] == (3000, 5000) else sorted(holes, key=lambda h: (h[2], h[0])))
    assert parts == boxes


def test_staggered_windows_leave_piers_of_their_own_heights():
    _, parts = found([(1000, 3000, 500, 1500), (2000, 4000, 2000, 2500)], levels=(0.0, 3000.0, 6000.0))
    piers = sorted(v[1:] for (storey, _), v in parts.items() if v[0] is Kind.PIER and storey == "1")
    assert piers == [(0, 2000, 2000, 2500), (3000, 5000, 500, 1500)]
    assert [v[1:3] for (storey, _), v in parts.items() if v[0] is FULL and storey == "1"] == [(0, 1000), (4000, 5000)]


@given(st.floats(-3.1, 3.1), st.booleans())
def test_a_core_is_four_panels_whichever_way_it_stands(angle, flipped):
    c, s = np.cos(angle), np.sin(angle)
    mesh = mesh_of(CORE, 3000.0, 500.0, rise=np.array([[c, -s, 0], [s, c, 0], [0, 0, 1.0]]))
    if flipped:
        mesh.corners[::2] = mesh.corners[::2, ::-1]  # every other normal looks the other way
    of = panels(mesh)
    assert sorted(round(p.length) for p in of) == [3000, 3000, 4000, 4000]
    assert [p.name for p in of] == ["A", "B", "C", "D"]
    for p in of:
        assert_allclose(np.ptp(p.s), p.length, rtol=1e-3)
        place, way = p.place(p.length / 3)
        assert p.along(np.array([*place, 7.0])) == pytest.approx(p.length / 3)
        assert np.linalg.norm(way) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("lines", "lengths"),
    [
        ([[(0, 0), (4000, 0)], [(2000, 0), (2000, 3000)]], [3000, 4000]),  # a T: what runs through stays one
        ([[(0, 0), (2000, 0)], [(2000, 0), (2000, 3000)], [(2000, 3000), (4000, 3000)]], [2000, 2000, 3000]),  # a Z
        ([[(2000 * np.cos(a), 2000 * np.sin(a)) for a in np.radians(np.arange(0, 181, 5))]], [6283]),
    ],
    ids=["T", "Z", "half round"],
)
def test_panels_meet_at_edges(lines, lengths):
    of = panels(mesh_of(lines, 2000.0, 250.0))
    assert_allclose(sorted(p.length for p in of), lengths, rtol=2e-3)


def test_a_ring_starts_where_it_has_no_opening():
    ring = [(3000 * np.cos(a), 3000 * np.sin(a)) for a in np.radians(np.arange(0, 361, 5))]
    length = 2 * 3000 * np.pi
    (panel,) = panels(mesh_of([ring], 3000.0, length / 72, {0: [(0, 0.1 * length, 1000.0, 2000.0)]}))
    assert panel.closed
    (o,) = openings_of(panel)
    assert o.width == pytest.approx(0.1 * length, rel=0.05)
    assert panel.length == pytest.approx(length, rel=2e-3)


def test_levels_stand_where_floors_meet_the_walls():
    mesh = mesh_of(STRAIGHT, 6000.0, 500.0)
    at = {tuple(p): i for i, p in enumerate(mesh.xyz.tolist())}
    floor = [[at[x, 0.0, 3000.0], at[x + 500.0, 0.0, 3000.0]] for x in np.arange(0.0, 5000.0, 500.0)]
    beside = np.array([[x, 1000.0, 3000.0] for x in np.arange(0.0, 5001.0, 500.0)])
    count = len(mesh.xyz)
    slabs = np.array([[*e, count + i + 1, count + i] for i, e in enumerate(floor)])
    whole = mesh_of(STRAIGHT, 6000.0, 500.0).__class__(
        np.arange(count + len(beside)), np.concatenate([mesh.xyz, beside]), np.arange(len(mesh.corners) + len(slabs)),
        np.concatenate([mesh.corners, slabs]), np.full(len(mesh.corners) + len(slabs), 200.0),
        np.array([""] * (len(mesh.corners) + len(slabs))), np.zeros((len(mesh.corners) + len(slabs), 3, 3)),
    )  # fmt: skip
    assert levels_found(whole, np.arange(len(mesh.corners))).tolist() == [0.0, 3000.0, 6000.0]
    assert [s.basement for s in storeys_of([0.0, 3000.0, 6000.0], basement=3000.0)] == [True, False]
    with pytest.raises(ValueError, match="do not rise"):
        storeys_of([0.0, 0.0])
    with pytest.raises(ValueError, match="no storey ends at or below the basement's 2 m"):
        storeys_of([0.0, 3000.0], basement=2000.0)


def test_outline_of_a_core_is_whole_at_its_corners():
    of = panels(mesh_of(CORE, 3000.0, 500.0))
    stretches = [Stretch(p.name, 0.0, p.length, 200.0) for p in of]
    (outer,), (inner,) = outline(stretches, of)
    assert_allclose([np.ptp(outer, axis=0), np.ptp(inner, axis=0)], [[4200.0, 3200.0], [3800.0, 2800.0]], atol=0.1)
    middle, area = centroid(stretches, of)
    assert_allclose(middle, [2000.0, 1500.0], atol=1e-6)
    assert area == pytest.approx(14000.0 * 200.0)
