"""The answers inspection tries, on exact fields: every wrong reading is told from its equilibrium, and only that."""

import itertools

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich.core.resultants import rotate, turn_over
from sandwich.inspection.balance import balance
from sandwich.inspection.equilibrium import gradients, membrane, moments_and_shear
from sandwich.inspection.neighbours import READINGS, jumps
from sandwich.model.averaging import find_peaks
from sandwich.model.mesh import Mesh, corner_axes
from sandwich.model.points import SmoothEdges

N = 8
LINE = np.arange(N + 1) * 500.0


def grid(height=0.0):
    x, y = np.meshgrid(LINE, LINE, indexing="ij")
    xyz = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, height)])
    node = np.arange(x.size).reshape(x.shape)
    corners = np.stack([node[:-1, :-1], node[1:, :-1], node[1:, 1:], node[:-1, 1:]], -1).reshape(-1, 4)
    return xyz, corners


def mesh_of(xyz, corners):
    e = len(corners)
    axes = corner_axes(xyz, corners)
    return Mesh(
        node_ids=np.arange(len(xyz)),
        xyz=xyz,
        element_ids=np.arange(e),
        corners=corners,
        thickness=np.full(e, 250.0),
        group=np.full(e, ""),
        axes=axes,
    )


def field(places, seed):
    """Cubic moments with their shear, and membrane forces from a stress function under a constant load."""
    x, y = places[..., 0] / 1e3, places[..., 1] / 1e3
    a = np.random.default_rng(seed).uniform(0.5, 2.0, (6, 2)) * 1e3
    out = np.zeros((2, *x.shape, 8))
    for k in range(2):
        b = a[:, k]
        out[k, ..., 3] = b[0] * x**2 + b[1] * x * y
        out[k, ..., 4] = b[2] * y**2 - b[3] * x * y
        out[k, ..., 5] = b[4] * x * y + b[5] * x
        out[k, ..., 6] = -(2 * b[0] * x + b[1] * y + b[4] * x) / 1e3
        out[k, ..., 7] = -(2 * b[2] * y - b[3] * x + b[4] * y + b[5]) / 1e3
        # nx = F,yy, ny = F,xx, nxy = -F,xy of F = b0 x3 y + b1 x y3 + b2 x2 y2
        out[k, ..., 0] = 6 * b[1] * x * y + 2 * b[2] * x**2 + 0.1 * b[4] * x
        out[k, ..., 1] = 6 * b[0] * x * y + 2 * b[2] * y**2
        out[k, ..., 2] = -(3 * b[0] * x**2 + 3 * b[1] * y**2 + 4 * b[2] * x * y)
    return out


def readings(values, corners, xyz):
    bars = np.tile(np.eye(3), (len(corners), 1, 1))
    real = np.ones(corners.shape, dtype=bool)
    slope = gradients(xyz[corners], bars, real, values)
    return moments_and_shear(slope[..., 3:6], values[..., 6:].mean(2)), membrane(slope[..., :3])


WRONG = {
    (): lambda v: v,
    ("vx with the other sign",): lambda v: v * [1, 1, 1, 1, 1, 1, -1, 1],
    ("vy with the other sign",): lambda v: v * [1, 1, 1, 1, 1, 1, 1, -1],
    ("mxy with the other sign",): lambda v: v * [1, 1, 1, 1, 1, -1, 1, 1],
    ("all moments, or vx and vy, with the other sign",): lambda v: v * [1, 1, 1, -1, -1, -1, 1, 1],
    ("mx and my swapped",): lambda v: v[..., [0, 1, 2, 4, 3, 5, 6, 7]],
    ("nxy with the other sign",): lambda v: v * [1, 1, -1, 1, 1, 1, 1, 1],
    ("nx and ny swapped",): lambda v: v[..., [1, 0, 2, 3, 4, 5, 6, 7]],
}


@pytest.mark.parametrize("changes", WRONG, ids=lambda c: c[0] if c else "right")
@given(seed=st.integers(0, 10**6), factor=st.sampled_from([1.0, 4.4482, 1e-3]))
def test_a_wrong_reading_is_told_and_only_that(changes, seed, factor):
    xyz, corners = grid()
    values = WRONG[changes](field(xyz[corners], seed))
    values[..., 6:] *= factor
    bending, plane = readings(values, corners, xyz)
    of_plane = bool(changes) and changes[0].startswith("n")
    assert (plane if of_plane else bending).changes == changes
    assert not (bending if of_plane else plane).changes
    if "swapped" not in str(changes) and not of_plane:
        assert bending.scale == pytest.approx(factor, rel=0.03)


@given(angle=st.floats(-3.0, 3.0), seed=st.integers(0, 10**6))
def test_the_fit_does_not_depend_on_the_axes(angle, seed):
    xyz, corners = grid()
    values = field(xyz[corners], seed)
    c, s = np.cos(angle), np.sin(angle)
    bars = np.tile([[c, s, 0], [-s, c, 0], [0, 0, 1.0]], (len(corners), 1, 1))
    turned = rotate(values, angle)
    slope = gradients(xyz[corners], bars, np.ones(corners.shape, dtype=bool), turned)
    bending = moments_and_shear(slope[..., 3:6], turned[..., 6:].mean(2))
    assert bending.error < 0.05
    assert membrane(slope[..., :3]).error < 0.1
    assert not bending.changes


def pairs_of(corners):
    sides = {}
    for e, ring in enumerate(corners.tolist()):
        for a, b in zip(ring, ring[1:] + ring[:1], strict=True):
            sides.setdefault((min(a, b), max(a, b)), []).append(e)
    a, b, nodes = zip(*[(*of, nodes) for nodes, of in sides.items() if len(of) == 2], strict=True)
    return SmoothEdges(np.array(a), np.array(b), np.array(nodes))


UNDONE = {
    "turned over": turn_over,
    "turned by 90 degrees": lambda v: rotate(v, -np.pi / 2),
    "turned by 270 degrees": lambda v: rotate(v, np.pi / 2),
    "with moments of the other sign": READINGS["with moments of the other sign"],
}


@pytest.mark.parametrize("reading", UNDONE)
def test_a_block_of_elements_in_wrong_axes_is_found(reading):
    xyz, corners = grid()
    values = field(xyz[corners], 5)
    assert jumps(pairs_of(corners), corners, values).edges == 0
    inside = [e for e, c in enumerate(xyz[corners].mean(1)) if abs(c[0] - 1750) < 800 and abs(c[1] - 2250) < 800]
    values[:, inside] = UNDONE[reading](values[:, inside])
    found = jumps(pairs_of(corners), corners, values)
    assert found.elements.tolist() == inside
    # quarter turns and half turns differ in v alone: either may be named for the other
    assert found.reading == reading or {found.reading, reading} <= {"turned by 90 degrees", "turned by 270 degrees"}
    noisy = values * np.random.default_rng(0).choice([1.0, -1.0], (1, len(corners), 1, 1))
    assert jumps(pairs_of(corners), corners, noisy).edges > 20


@pytest.mark.parametrize(
    ("membrane_factor", "shear_factor"), list(itertools.product([1.0, -1.0, 4.4482], [1.0, 0.3048]))
)
def test_reactions_tell_the_scale_of_membrane_and_shear(membrane_factor, shear_factor):
    xyz, corners = grid()
    mesh = mesh_of(xyz, corners)
    corner = np.zeros((2, len(corners), 4, 8))
    corner[0, ..., 1], corner[0, ..., 2] = 30.0, 12.0  # ny, nxy
    corner[1, ..., 7] = -8.0  # vy
    held = np.flatnonzero(xyz[:, 1] == 0.0)
    share = np.where((xyz[held, 0] == 0.0) | (xyz[held, 0] == LINE[-1]), 0.5, 1.0) * 500.0
    zero = np.zeros(len(held))
    # on the edge y = 0 the outward normal is -y: tractions -nxy, -ny, -vy
    table = pd.DataFrame(
        {
            "case": np.repeat(["A", "B"], len(held)),
            "node": np.tile(held, 2),
            "fx": np.concatenate([-12.0 * share, zero]),
            "fy": np.concatenate([-30.0 * share, zero]),
            "fz": np.concatenate([zero, 8.0 * share]),
        }
    )
    corner[..., :3] *= membrane_factor
    corner[..., 6:] *= shear_factor
    found = balance(mesh, ("A", "B"), corner, table)
    assert_allclose([found.membrane, found.shear], [1 / membrane_factor, 1 / shear_factor], rtol=1e-9)
    assert balance(mesh, ("A", "B"), corner, table.assign(node=40)) is None  # a support inside is no edge


def test_singular_places_are_found():
    xyz, corners = grid()
    middle = xyz[corners].mean(1)
    hole = (np.abs(middle[:, 0] - 1250) < 300) & (np.abs(middle[:, 1] - 1250) < 300)
    wall_base = [(2500.0, 500.0 * k) for k in range(3, 6)]  # a wall stands on three nodes of the slab
    node = {tuple(p[:2]): i for i, p in enumerate(xyz)}
    base = [node[p] for p in wall_base]
    top = np.arange(len(base)) + len(xyz)
    both = np.vstack([xyz, xyz[base] + [0, 0, 1000.0]])
    wall = [[base[0], base[1], top[1], top[0]], [base[1], base[2], top[2], top[1]]]
    mesh = mesh_of(both, np.vstack([corners[~hole], wall]))
    slab = np.arange((~hole).sum())
    column = node[3000.0, 1000.0]
    found = {tuple(p[:2]) for p in find_peaks(mesh, slab, np.array([column, node[0.0, 0.0]]))}
    opening = {(x, y) for x in (1000.0, 1500.0) for y in (1000.0, 1500.0)}
    assert found == opening | {wall_base[0], wall_base[2]} | {(3000.0, 1000.0)}
