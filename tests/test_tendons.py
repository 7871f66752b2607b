"""Tendons of a job: stresses against a plate in one-way bending, depth profiles, directions, faults."""

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import run_job

H, SPAN = 0.5, 8.0
JOB = """
title = "Tendons"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
resultants = "resultants.csv"
[zones.slab]
groups = ["a"]
f_ck = 40
thickness = 500
provided = { "bottom x" = { diameter = 12, spacing = 100 }, "bottom y" = { diameter = 12, spacing = 100 }, "top x" = { diameter = 12, spacing = 100 }, "top y" = { diameter = 12, spacing = 100 } }
direction = { along = "vector", vector = [DIRECTION] }
[cases.P]
kind = "prestress"
[[combinations]]
name = "U"
situation = "persistent"
factors = { G = 1.35, P = 1.0 }
[[combinations]]
name = "S1"
situation = "quasi-permanent"
factors = { G = 1.0, P = 0.9 }
[[combinations]]
name = "S2"
situation = "characteristic"
factors = { G = 1.5, P = 0.9 }
[[combinations]]
name = "S3"
situation = "characteristic"
factors = { G = 1.0, P = 1.1 }
[tendons.t]
zone = "slab"
table = "tendons.csv"
duct = 60
sigma_p = 1380
f_pk = 1860
"""


def test_tendons_do_not_depend_on_the_first_corner(tmp_path):
    found = []
    for turn in range(2):
        folder = tmp_path / str(turn)
        folder.mkdir()
        job = write(folder)
        nodes = pd.read_csv(folder / "nodes.csv")
        inner = ~(nodes["x"].isin([0.0, SPAN]) | nodes["y"].isin([0.0, 2.0]))
        nodes.loc[inner, "x"] += 0.1 * np.sin(nodes.loc[inner, "node"])  # elements that are no rectangles
        nodes.to_csv(folder / "nodes.csv", index=False)
        elements = pd.read_csv(folder / "elements.csv")
        if turn:
            elements[["n1", "n2", "n3", "n4"]] = elements[["n2", "n3", "n4", "n1"]].to_numpy()
        elements.to_csv(folder / "elements.csv", index=False)
        axes = pd.DataFrame(
            {"element": elements["element"], "xx": 1.0, "xy": 0.0, "xz": 0.0, "zx": 0.0, "zy": 0.0, "zz": 1.0}
        )
        axes.to_csv(folder / "axes.csv", index=False)
        job.write_text(job.read_text().replace('nodes = "nodes.csv"', 'nodes = "nodes.csv"\naxes = "axes.csv"'))
        found.append(run_job(job, pictures=False).tendons.tables)
    for name, frame in found[0].items():
        pd.testing.assert_frame_equal(frame, found[1][name], rtol=1e-6, check_exact=False)


def write(folder, direction="1, 0, 0", tendons=None, extra=""):
    """A strip of plate that bends and is pressed along x: G gives m = 100 x (8 - x) kNm/m, P gives n = -2000 kN/m."""
    nx, ny = 16, 4
    x, y = (v.ravel() for v in np.meshgrid(np.linspace(0, SPAN, nx + 1), np.linspace(0, 2, ny + 1), indexing="ij"))
    pd.DataFrame({"node": range(len(x)), "x": x, "y": y, "z": 0.0}).to_csv(folder / "nodes.csv", index=False)
    i = np.arange(len(x)).reshape(nx + 1, ny + 1)
    corners = np.stack([i[:-1, :-1], i[1:, :-1], i[1:, 1:], i[:-1, 1:]], axis=-1).reshape(-1, 4)
    frame = pd.DataFrame(corners, columns=["n1", "n2", "n3", "n4"]).assign(group="a")
    frame.index.name = "element"
    frame.to_csv(folder / "elements.csv")
    rows = []
    for case, n, m in (("G", 0.0, 100.0), ("P", -2000.0, 0.0)):
        for e, nodes in enumerate(corners):
            rows += [(case, e, k, n, 0, 0, m * x[k] * (SPAN - x[k]) / 16, 0, 0, 0, 0) for k in nodes]
    names = ["case", "element", "node", "nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]
    pd.DataFrame(rows, columns=names).to_csv(folder / "resultants.csv", index=False)
    if tendons is None:
        s = np.linspace(0, SPAN, 33)
        tendons = pd.DataFrame({"tendon": "A", "x": s, "y": 0.9, "z": -0.6 * s / SPAN * (1 - s / SPAN)})
    tendons.to_csv(folder / "tendons.csv", index=False)
    job = folder / "job.toml"
    job.write_text(JOB.replace("DIRECTION", direction) + extra)
    return job


@pytest.mark.parametrize("direction", ["1, 0, 0", "0.6, 0.8, 0"])
def test_stress_around_a_duct_by_hand(tmp_path, direction):
    state = run_job(write(tmp_path, direction), pictures=False).tendons
    (laid, found), row = state.found[0], state.tendons.iloc[0]
    s = laid.line.s / 1e3
    m, z = 100e3 * s * (SPAN - s) / 16, -600.0 * s / SPAN * (1 - s / SPAN)
    assert_allclose(laid.line.height, z, atol=1.5)  # a polyline of 33 places
    assert_allclose(np.degrees(laid.line.angle), 0.0 if direction.startswith("1") else -53.1301, atol=1e-3)
    for edge, side in ((found.upper, 1), (found.lower, -1)):
        # the moment is linear between nodes half a metre apart
        assert_allclose(edge[:, 1], -1800 / 500 - 12 * m * (z + side * 55) / 500**3, atol=0.06)
    assert row["status"] == "ok"
    assert row["concrete at the duct [MPa]"] == pytest.approx(-1800 / 500 + 12 * 100e3 * 205 / 500**3, abs=0.02)
    # at mid-span the section stays compressed: an elastic section of concrete and bars, half as much moment again
    E_c, area = 22e3 * 4.8**0.3, np.pi * 12**2 / 4 / 100
    inertia = 500**3 / 12 + 2 * area * 200e3 / E_c * 214.0**2
    expected = 195e3 * 50e3 * 150 / E_c / inertia
    bare = 195e3 * 50e3 * 150 / E_c / (500**3 / 12)
    # bars along it stiffen the section as they should, turned ones less
    assert expected * 0.99 < row["increase [MPa]"] < (expected * 1.01 if direction.startswith("1") else bare)
    assert row["increase by"] == "S2"  # S3 has another prestress
    crossed = state.crossings
    assert crossed["from [m]"].is_monotonic_increasing
    assert crossed["below the top face [mm]"].max() == pytest.approx(400.0, abs=2.0)


def test_depths_in_place_of_heights_and_what_is_exceeded(tmp_path):
    s = np.linspace(0, SPAN, 33)
    depth = 250.0 + 600.0 * s / SPAN * (1 - s / SPAN)
    by_depth = pd.DataFrame({"tendon": "A", "x": s, "y": 0.9, "z": 0.0, "depth": depth / 1e3})
    by_depth = by_depth[["tendon", "x", "y", "z", "depth"]]
    job = write(tmp_path, tendons=by_depth)
    job.write_text(
        job.read_text()
        .replace("G = 1.0, P = 0.9", "G = 2.5, P = 0.9")
        .replace("duct = 60", "duct = 60\nrange_of = 'characteristic'\nrange_allowed = 0.0001")
    )
    row = run_job(job, pictures=False).tendons.tendons.iloc[0]
    assert row["concrete at the duct [MPa]"] == pytest.approx(-1800 / 500 + 12 * 250e3 * 205 / 500**3, abs=0.05)
    assert row["status"].startswith("exceeded: no decompression within 25 mm of the duct")
    assert "range" not in row["status"]  # one characteristic combination a prestress: no range


def test_every_fault_of_tendons_is_named(tmp_path, cli):
    places = pd.DataFrame(
        {"tendon": ["A", "A", "B", "B", "C"], "x": [0, 8, 0, 9, 1], "y": 1.0, "z": [-0.24, 0, 0, 0, 0]}
    )
    job = write(
        tmp_path,
        tendons=places,
        extra='decompression = "frequent"\n[tendons.u]\nzone = "wall"\ntable = "tendons.csv"\nduct = 60\n',
    )
    code, _, err = cli("run", job)
    assert code == 2
    for words in (
        "no frequent combination",
        "no zone 'wall'",
        "its duct leaves the section",
        "leaves zone slab at (8.",
        "one place only",
    ):
        assert words in err
    assert not (tmp_path / "results").exists()
