"""Turning and averaging on meshes: any element axes give the same bars; patches end where they must."""

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import run_job
from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS, rotate, turn_over
from sandwich.model.mesh import Mesh, corner_axes, frame
from sandwich.model.points import make_points
from sandwich.model.zones import Direction, Orientation, TopSide, orient

REQUIRED = "required [mm2/m]"


def test_axes_of_elements_do_not_matter(tmp_path):
    plain, turned = (tmp_path / n for n in ("plain", "turned"))
    plain.mkdir()
    turned.mkdir()
    want = run_job(write_plate(plain), pictures=False)
    job = write_plate(turned)
    table = pd.read_csv(turned / "resultants.csv").astype(dict.fromkeys(COMPONENTS, float))
    rng = np.random.default_rng(1)
    rows = []
    for e in sorted(table["element"].unique()):
        angle, over = rng.uniform(-np.pi, np.pi), e % 3 == 0
        at = table["element"] == e
        values = rotate(table.loc[at, list(COMPONENTS)].to_numpy(), angle)
        x = [np.cos(angle), np.sin(angle), 0.0]
        table.loc[at, list(COMPONENTS)] = turn_over(values) if over else values
        rows.append([e, *x, 0.0, 0.0, -1.0 if over else 1.0])
    table.to_csv(turned / "resultants.csv", index=False)
    pd.DataFrame(rows, columns=["element", "xx", "xy", "xz", "zx", "zy", "zz"]).to_csv(turned / "axes.csv", index=False)
    job.write_text(
        job.read_text().replace("[zones.plate]", 'axes = "axes.csv"\n[zones.plate]\ntop_side = { towards = [0, 0, 1] }')
    )
    got = run_job(job, pictures=False)
    assert_allclose(got.steel[REQUIRED], want.steel[REQUIRED], rtol=1e-6, atol=1e-6)
    # without a declared side most normals decide, through the mesh
    job.write_text(job.read_text().replace("top_side = { towards = [0, 0, 1] }", ""))
    assert_allclose(run_job(job, pictures=False).steel[REQUIRED], want.steel[REQUIRED], rtol=1e-6, atol=1e-6)
    # looked at from below the faces and the y axis are swapped
    job.write_text(job.read_text().replace("[zones.plate]", "[zones.plate]\ntop_side = { towards = [0, 0, -1] }"))
    below = run_job(job, pictures=False).steel.set_index(["point", "layer"])[REQUIRED].unstack()
    above = want.steel.set_index(["point", "layer"])[REQUIRED].unstack()
    assert_allclose(below["top x"], above["bottom x"], rtol=1e-6, atol=1e-6)
    assert_allclose(below["bottom y"], above["top y"], rtol=1e-6, atol=1e-6)


@pytest.mark.parametrize("kind", ["corners", "centres"])
def test_raw_corners_and_centres_of_a_constant_state_equal_the_means(tmp_path, kind):
    job = write_plate(tmp_path)
    want = run_job(job, pictures=False).steel.groupby("layer")[REQUIRED].max()
    job.write_text(job.read_text().replace("f_yk = 500", f'f_yk = 500\npoints = "{kind}"'))
    got = run_job(job, pictures=False)
    assert len(got.points) == {"corners": 36, "centres": 9}[kind]
    assert_allclose(got.steel.groupby("layer")[REQUIRED].max(), want, rtol=1e-9)


def test_offset_equals_the_moved_moment(tmp_path):
    job = write_plate(tmp_path)
    job.write_text(job.read_text().replace("f_yk = 500", "f_yk = 500\noffset = 25"))
    moved = run_job(job, pictures=False).steel
    job.write_text(job.read_text().replace("offset = 25", ""))
    table = pd.read_csv(tmp_path / "resultants.csv")
    for n, m in (("nx", "mx"), ("ny", "my"), ("nxy", "mxy")):
        table[m] -= table[n] * 0.025
    table.to_csv(tmp_path / "resultants.csv", index=False)
    assert_allclose(run_job(job, pictures=False).steel[REQUIRED], moved[REQUIRED], rtol=1e-9)


def fold(angles, thickness=None, extra=()):
    """Strips of 1 m side by side, each turned by the next angle [deg], and extra elements."""
    place, nodes = np.zeros(3), [np.zeros(3)]
    for a in np.cumsum(angles):
        place = place + [np.cos(np.radians(a)), 0.0, np.sin(np.radians(a))]
        nodes.append(place)
    xyz = np.array([p + [0, y, 0] for p in nodes for y in (0.0, 1.0)])
    corners = np.array([[2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1] for i in range(len(angles))])
    if extra:
        xyz = np.vstack(
            [
                xyz,
                [
                    [
                        *p,
                    ]
                    for p in extra
                ],
            ]
        )
        corners = np.vstack([corners, [2, 3, len(xyz) - 1, len(xyz) - 2]])
    e = len(corners)
    h = np.full(e, 0.2) if thickness is None else np.array(thickness)
    axes = corner_axes(xyz, corners)
    mesh = Mesh(
        node_ids=np.arange(len(xyz)),
        xyz=xyz,
        element_ids=np.arange(e),
        corners=corners,
        thickness=h,
        group=np.full(e, ""),
        axes=axes,
    )
    orientation = Orientation(np.zeros(e, bool), np.zeros(e), frame(axes[:, 0], axes[:, 2]))
    return make_points(mesh, np.arange(e), h, orientation, "nodes")


def test_patches_end_at_kinks_thickness_steps_and_branches():
    smooth = fold([0, 10, 10])
    assert len(smooth.labels) == 8
    assert smooth.one_sided.sum() == 8  # a single strip: every node lies on its free edge
    assert len(fold([0, 20]).labels) == 8  # a kink of more than 15 degrees: the two nodes are split
    assert sorted(fold([0, 20]).labels)[2:6] == ["2.1", "2.2", "3.1", "3.2"]
    assert len(fold([0, 0], [0.2, 0.3]).labels) == 8
    assert len(fold([0, 0], extra=([1, 0, 1.0], [1, 1, 1.0])).labels) == 12  # a wall joins: three patches a node


@pytest.mark.parametrize("seed", range(4))
def test_one_plane_has_one_side_wherever_walls_meet_it(seed):
    """A box of walls with one across, elements in any order and drawn any way round: no wall changes its top face."""
    rng, xyz, quads = np.random.default_rng(seed), {}, []
    walls = np.array([[[0, 0], [6, 0]], [[6, 0], [6, 4]], [[6, 4], [0, 4]], [[0, 4], [0, 0]], [[3, 0], [3, 4]]])
    for start, along in zip(walls[:, 0], walls[:, 1] - walls[:, 0], strict=True):
        length = int(np.abs(along).max())
        for i, z in np.ndindex(length, 3):
            ring = [(*(start + along // length * u), v) for u, v in ((i, z), (i + 1, z), (i + 1, z + 1), (i, z + 1))]
            ring = [xyz.setdefault(tuple(map(int, p)), len(xyz)) for p in ring]
            quads.append(np.roll(ring[:: rng.choice([1, -1])], rng.integers(4)))
    corners, places = rng.permutation(np.array(quads)), 1e3 * np.array(list(xyz), dtype=float)
    e = len(corners)
    axes = corner_axes(places, corners)
    mesh = Mesh(
        node_ids=np.arange(len(places)),
        xyz=places,
        element_ids=np.arange(e),
        corners=corners,
        thickness=np.full(e, 250.0),
        group=np.full(e, ""),
        axes=axes,
    )
    normal = orient(Direction("horizontal"), TopSide(), mesh, np.arange(e), "", Faults()).bars[:, 2].round(6)
    middle = mesh.centres.round(3)
    for axis, at in ((1, 0.0), (0, 6e3), (1, 4e3), (0, 0.0), (0, 3e3)):
        assert len(np.unique(normal[middle[:, axis] == at], axis=0)) == 1
    outward = [normal[middle[:, axis] == at][0, axis] for axis, at in ((1, 0.0), (0, 6e3), (1, 4e3), (0, 0.0))]
    assert np.array_equal(outward, [-1, 1, 1, -1]) or np.array_equal(outward, [1, -1, -1, 1])
