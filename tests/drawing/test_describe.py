"""Map descriptions: steps, labels, outlines, failed points, unrolled cylinders."""

import numpy as np
import pytest
from matplotlib.text import Text
from numpy.testing import assert_allclose

from sandwich.drawing.describe import describe_map, lay_flat, steps
from sandwich.drawing.flatten import flatten
from sandwich.drawing.maps import TOWARDS_VIEWER, draw_map, draw_model, png
from sandwich.drawing.records import ModelDescription


@pytest.mark.parametrize(
    ("largest", "step", "count"), [(1754, 250, 9), (1000, 200, 6), (0.9, 0.2, 6), (7, 1, 8), (81, 20, 6)]
)
def test_steps_are_sensible_and_cover(largest, step, count):
    s = steps(largest)
    assert_allclose(np.diff(s), step)
    assert len(s) == count
    assert s[-1] >= largest > s[-2]


def grid(n=4):
    line = np.arange(n + 1) * 1000.0
    x, y = np.meshgrid(line, line, indexing="ij")
    xyz = np.stack([x, y, 0 * x], -1).reshape(-1, 3)
    i = np.arange((n + 1) ** 2).reshape(n + 1, n + 1)
    nodes = np.stack([i[:-1, :-1], i[1:, :-1], i[1:, 1:], i[:-1, 1:]], -1).reshape(-1, 4)
    return xyz, nodes


def test_description_of_a_plate_with_a_hole_and_a_failed_point():
    xyz, nodes = grid()
    nodes = np.delete(nodes, 5, axis=0)
    values = np.linspace(0, 480, len(xyz))
    values[3] = np.nan
    normals = np.tile([0.0, 0.0, 1.0], (len(nodes), 1))
    names = [str(i) for i in range(len(xyz))]
    d = describe_map(
        "plate",
        "mm2/m",
        lay_flat(xyz[nodes], nodes, normals, nodes),
        values,
        names,
        directions=np.tile([1.0, 0, 0], (15, 1)),
    )
    assert d.view.kind == "plan"
    assert len(d.outline) == 16 + 4  # the edge and the hole
    assert d.labels[0] == (4.0, 4.0, "480  @ 24")
    assert_allclose(d.failed, [[0.0, 3.0]])
    assert d.levels[-1] == 500.0
    assert_allclose(np.abs(d.ticks[:, 2]), 1.0)
    assert png(draw_map, d)[:4] == b"\x89PNG"


def test_a_cylinder_is_unrolled_to_its_length():
    k, r = 36, 5000.0
    a = 2 * np.pi * np.arange(k + 1) / k
    ring = np.stack([r * np.cos(a), r * np.sin(a)], -1)
    corners = np.array([[[*ring[i], 0], [*ring[i + 1], 0], [*ring[i + 1], 900], [*ring[i], 900]] for i in range(k)])
    middle = corners.mean(1)
    normals = np.stack([middle[:, 0], middle[:, 1], 0 * a[:-1]], -1) / np.linalg.norm(middle[:, :2], axis=1)[:, None]
    flat = flatten(corners, normals)
    assert flat.kind == "unrolled"
    widths = np.ptp(flat.corners[..., 0], axis=1)
    assert_allclose(widths, 2 * np.pi * 5.0 / k, rtol=1e-6)
    assert_allclose(np.ptp(flat.corners[..., 0]), 2 * np.pi * 5.0, rtol=0.03)
    assert flatten(corners, np.tile([0.0, 1.0, 0.0], (k, 1))).kind == "elevation"


def test_a_zone_that_looks_away_is_drawn():
    square = np.array([[[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]]], dtype=float)
    assert png(draw_model, ModelDescription([square], ["a"], "t", [-TOWARDS_VIEWER[None]]))[:4] == b"\x89PNG"


@pytest.mark.parametrize("stretch", [(60.0, 0.5, 1.0), (10.0, 0.5, 1.0), (1.0, 1.0, 1.0), (1.0, 1.0, 40.0)])
def test_texts_of_slender_pictures_lie_inside(stretch):
    xyz, nodes = grid(12)
    xyz = (xyz[:, [0, 2, 1]] if stretch[2] > 1.0 else xyz) * stretch + [0.0, 181.2e6, 0.0]  # far from the origin
    normals = np.cross(xyz[nodes[:, 1]] - xyz[nodes[:, 0]], xyz[nodes[:, 3]] - xyz[nodes[:, 0]])
    sheet = lay_flat(xyz[nodes], nodes, normals / np.linalg.norm(normals, axis=1)[:, None], nodes)
    values = np.zeros(len(xyz))
    values[[0, 40, 90, 168]] = 900.0, 800.0, 1000.0, 700.0
    flat = draw_map(describe_map("strip", "mm2/m", sheet, values, np.arange(len(xyz)).tolist()))
    solid = draw_model(ModelDescription([xyz[nodes] / 1e3], ["zone of a long name"], "strip", None))
    for figure in (flat.figure, solid.figure):
        figure.canvas.draw()
    assert stretch[0] != 10.0 or [t.get_text() for t in flat.get_yticklabels()] == ["181200", "181206"]
    names = [solid.zaxis.label, solid.yaxis.label, *solid.get_legend().get_texts()]
    scale = next(ax for ax in flat.figure.axes if ax is not flat).get_window_extent()
    assert len(flat.texts) > 1
    for text in [*flat.texts, flat.yaxis.label, solid.xaxis.label, *names]:
        box = Text.get_window_extent(text)  # without its arrow
        assert box.x0 > 0.0
        assert box.y0 > 0.0
        assert (box.max < text.figure.bbox.max).all()
        assert text not in flat.texts or not box.overlaps(scale)


def test_the_walls_of_a_core_lie_side_by_side():
    """Each wall by itself, none over another, all on one height, each named by its plane."""
    walls = []
    for a, b in (((0, 0), (6, 0)), ((6, 0), (6, 4)), ((6, 4), (0, 4)), ((0, 4), (0, 0)), ((3, 0), (3, 4))):
        start, along = np.array(a, dtype=float), np.subtract(b, a) / np.abs(np.subtract(b, a)).max()
        for i, z in np.ndindex(int(np.abs(np.subtract(b, a)).max()), 9):
            ring = [[*(start + u * along), v] for u, v in ((i, z), (i + 1, z), (i + 1, z + 1), (i, z + 1))]
            walls.append(ring)
    corners = 1e3 * np.array(walls)
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 3] - corners[:, 0]) / 1e6
    view = flatten(corners, normals)
    assert view.kind == "faces"
    assert sorted(name for *_, name in view.names) == ["x = 0", "x = 3", "x = 6", "y = 0", "y = 4"]
    assert_allclose(view.corners[..., 1], corners[..., 2] / 1e3, atol=1e-9)
    cell = np.unique(view.corners.mean(1).round(3), axis=0)
    assert len(cell) == len(corners)
    assert_allclose(np.ptp(view.corners, axis=1), 1.0)
    up = view.direction(np.tile([0.0, 0.0, 1.0], (len(corners), 1)), np.arange(len(corners)))
    assert_allclose(up, np.tile([0.0, 1.0], (len(corners), 1)), atol=1e-12)
    # a plate of one value is drawn in its colour, and labels keep apart
    nodes = np.unique(corners.reshape(-1, 3), axis=0, return_inverse=True)[1].reshape(-1, 4)
    count = int(nodes.max()) + 1
    d = describe_map(
        "core",
        "mm2/m",
        lay_flat(corners, nodes, normals, nodes),
        np.full(count, 250.0),
        [str(i) for i in range(count)],
    )
    canvas = draw_map(d).figure.canvas
    canvas.draw()
    picture = np.asarray(canvas.buffer_rgba())
    assert (picture[..., :3].reshape(-1, 3) == [8, 29, 88]).all(1).mean() > 0.2
