"""Tendons laid over flat and curved meshes."""

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich.model.mesh import Mesh, corner_axes
from sandwich.model.points import make_points
from sandwich.model.tendon_lines import lay
from sandwich.model.zones import Orientation

R, ROUND, HIGH = 5000.0, 60, 8


def drum():
    """A closed cylinder, its elements' x round it, normals outwards."""
    angle, z = np.meshgrid(2 * np.pi * np.arange(ROUND) / ROUND, 500.0 * np.arange(HIGH + 1), indexing="ij")
    xyz = np.stack([R * np.cos(angle), R * np.sin(angle), z], axis=-1).reshape(-1, 3)
    i = np.arange(len(xyz)).reshape(ROUND, HIGH + 1)
    j = np.roll(i, -1, axis=0)
    corners = np.stack([i[:, :-1], j[:, :-1], j[:, 1:], i[:, 1:]], axis=-1).reshape(-1, 4)
    axes, count = corner_axes(xyz, corners), len(corners)
    mesh = Mesh(
        node_ids=np.arange(len(xyz)),
        xyz=xyz,
        element_ids=np.arange(count),
        corners=corners,
        thickness=np.full(count, 300.0),
        group=np.full(count, "a"),
        axes=axes,
    )
    o = Orientation(np.zeros(count, dtype=bool), np.zeros(count), axes)
    elements = np.arange(count)
    return mesh, elements, o, make_points(mesh, elements, mesh.thickness, o, "nodes")


def ring(radius, rise=0.0, turns=0.5):
    t = np.linspace(0.0, 2 * np.pi * turns, 241)
    return np.stack([radius * np.cos(t), radius * np.sin(t), 1800.0 + rise * t / t[-1]], axis=1)


@pytest.mark.parametrize("offset", [0.0, 60.0, -45.0])
def test_a_ring_tendon_follows_the_drum(offset):
    line = lay(ring(R + offset), None, *drum())
    assert (line.element >= 0).all()
    assert_allclose(line.s[-1], np.pi * R, rtol=2e-3)  # along mid-depth, over chords of six degrees
    # it runs straight between places and elements are flat: their sagitta is R (1 - cos 3 deg)
    assert np.abs(line.height - offset - 0.5 * R * (1 - np.cos(np.pi / ROUND))).max() < R * (1 - np.cos(np.pi / ROUND))
    assert np.abs(np.degrees(line.angle)).max() < 3.1  # against the chord of each element
    assert_allclose(line.weights.sum(1), 1.0)
    assert len(np.unique(line.element)) in range(ROUND // 2, ROUND // 2 + 3)  # the ends lie on edges


def test_depths_stand_in_for_heights():
    places = ring(R, rise=1500.0)
    line = lay(places, np.linspace(90.0, 210.0, len(places)), *drum())
    assert_allclose(line.height[[0, -1]], [60.0, -60.0], atol=1e-6)
    slope = np.degrees(np.arctan2(1500.0, np.pi * R))
    assert_allclose(np.degrees(line.angle).mean(), slope, atol=0.1)


def test_what_leaves_the_zone_is_marked():
    places = np.array([[R, 0.0, 3000.0], [R, 0.0, 4600.0]])  # past the top edge at 4 m
    line = lay(places, None, *drum())
    assert line.element[0] >= 0
    assert (line.element[line.xyz[:, 2] > 4050.0] == -1).all()
