"""Plane cuts through shells in space against reference walls and cores, applied loads and turned models."""

import json

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from conftest import REFERENCE
from sandwich.mechanics.spacecuts import cut_by_plane, cut_forces

FOLDER = REFERENCE / "cuts"
CASES = json.loads((FOLDER / "cases.json").read_text())["cases"]
NAMES = ("N", "V1", "V2", "M1", "M2", "T")


def model(case):
    """Corners, which of them exist, axes, thickness and resultants of a reference case in the signs of the house."""
    folder = FOLDER / case["directory"]
    nodes, elements, values = (pd.read_csv(folder / f"{n}.csv") for n in ("nodes", "elements", "values"))
    nodes = nodes.set_index(nodes.columns[0])
    ids = elements[["n1", "n2", "n3", "n4"]]
    real = ids.notna().to_numpy()
    xyz = nodes.loc[ids.fillna(ids["n1"].iloc[0]).astype(int).to_numpy().ravel()].to_numpy().reshape(-1, 4, 3)
    panels = {p["name"]: p for p in case["inputs"]["panels"]}
    own = np.array([[panels[p]["e1"], panels[p]["e2"]] for p in elements["panel"]])
    axes = np.concatenate([own, np.cross(own[:, 0], own[:, 1])[:, None]], axis=1)
    columns = ["n11", "n22", "n12", "m11", "m22", "m12", "q1", "q2"]
    if "node" in values:
        table = values.set_index(["element", "node"])[columns]
        owner = np.repeat(elements["element"].to_numpy(), 4)
        keys = zip(owner, ids.T.fillna(ids["n1"]).T.to_numpy().ravel(), strict=True)
        corner = table.loc[[(e, int(n)) for e, n in keys]].to_numpy().reshape(-1, 4, 8)
    else:
        corner = np.repeat(values.set_index("element").loc[elements["element"], columns].to_numpy()[:, None], 4, axis=1)
    corner[..., 3:6] *= -1.0
    return xyz, real, axes, elements["thickness"].to_numpy(dtype=float), corner[None], elements["panel"].to_numpy()


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_cuts_of_reference_walls(case):
    xyz, real, axes, h, values, panel = model(case)
    given_, expected = case["inputs"]["cut"], case["expected"]
    cut = cut_by_plane(xyz, real, axes, given_["point"], given_["normal"])
    for name, (low, high) in (given_["limits"] or {}).items():
        place = next(p for p in case["inputs"]["panels"] if p["name"] == name)
        cut = cut.picked(panel[cut.element] == name).within(place["origin"], place["e1"], low, high)
    found = cut_forces(cut, xyz, real, axes, h, values, given_["a1"])
    exact, wanted = expected["exact_field"], expected["interpolated"]
    assert_allclose(found.centroid, exact["centroid"], atol=0.5)
    assert found.area == pytest.approx(exact["area"], rel=1e-5)
    force, moment = (np.linalg.norm([wanted[n] for n in names]) for names in (NAMES[:3], NAMES[3:]))
    for name in NAMES:
        size = force if name in NAMES[:3] else moment
        assert_allclose(getattr(found, name)[0], wanted[name], atol=1e-5 * size, err_msg=name)
    # the parts of all panels add up
    parts = [cut_forces(cut.picked(panel[cut.element] == p), xyz, real, axes, h, values, given_["a1"], found.centroid)
             for p in np.unique(panel[cut.element])]  # fmt: skip
    for name in NAMES:
        assert_allclose(
            sum(getattr(p, name)[0] for p in parts), getattr(found, name)[0], atol=1e-9 * max(force, moment)
        )


@given(st.floats(-3.0, 3.0), st.floats(-1.5, 1.5), st.tuples(*[st.floats(-5e3, 5e3)] * 3))
def test_a_model_that_is_turned_has_the_same_cut(yaw, pitch, shift):
    xyz, real, axes, h, values, _ = model(CASES[6])
    first, second = (np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) for a in (yaw, pitch))
    turn, tilt = np.eye(3), np.eye(3)
    turn[:2, :2], tilt[1:, 1:] = first, second
    way = (turn @ tilt).T
    point, normal = np.array([2400.0, 2700.0, 4100.0]), np.array([0.1, 0.2, 1.0])

    def forces(places, axes, point, normal, one):
        return cut_forces(cut_by_plane(places, real, axes, point, normal), places, real, axes, h, values, one)

    plain = forces(xyz, axes, point, normal, np.array([1.0, 0.0, 0.0]))
    moved = forces(xyz @ way + shift, axes @ way, point @ way + shift, normal @ way, np.array([1.0, 0.0, 0.0]) @ way)
    back = forces(xyz, axes, point, -normal, np.array([1.0, 0.0, 0.0]))
    scale = max(abs(getattr(plain, n)[0]) for n in NAMES[:3]), max(abs(getattr(plain, n)[0]) for n in NAMES[3:])
    for name in NAMES:
        size = scale[0] if name in NAMES[:3] else scale[1]
        assert_allclose(getattr(moved, name), getattr(plain, name), atol=1e-6 * size)
    assert_allclose(back.N, plain.N, atol=1e-6 * scale[0])  # what it pulls here it pulls there
    assert_allclose(back.T, plain.T, atol=1e-6 * scale[1])


def test_a_cut_along_edges_takes_both_sides_and_one_at_the_border():
    xyz, real, axes, h, values, _ = model(CASES[0])
    heights = np.unique(xyz[..., 2])
    inner, border = (cut_by_plane(xyz, real, axes, [0.0, 0.0, z], [0.0, 0.0, 1.0]) for z in (heights[3], heights[0]))
    assert not inner.one_sided.any()
    assert border.one_sided.all()
    length = np.ptp(xyz[..., 0])
    for cut in (inner, border):
        assert cut.length.sum() == pytest.approx(length)
    beside = [cut_forces(cut_by_plane(xyz, real, axes, [0, 0, heights[3] + s], [0, 0, 1]), xyz, real, axes, h, values)
              for s in (-0.01, 0.01)]  # fmt: skip
    found = cut_forces(inner, xyz, real, axes, h, values)
    assert_allclose(found.V1, (beside[0].V1 + beside[1].V1) / 2, rtol=1e-4)
    for bad, words in ((([0, 0, 9e9], [0, 0, 1]), "cuts no element"), (([0, 0, 0], [0, 0, 0]), "of some length")):
        with pytest.raises(ValueError, match=words):
            cut_by_plane(xyz, real, axes, *bad)
    # a second wall beside it that ends at the plane counts whole, and is said to be there on one side
    ends = np.flatnonzero(xyz[..., 2].mean(1) > heights[3])
    both = [np.concatenate([v, v[ends]]) for v in (xyz, real, axes, h)]
    both[0][len(xyz):, :, 1] += 3000.0  # fmt: skip
    cut = cut_by_plane(*both[:3], [0.0, 0.0, heights[3]], [0.0, 0.0, 1.0])
    assert cut.length[cut.element >= len(xyz)].sum() == pytest.approx(length)
    assert cut.length[cut.element < len(xyz)].sum() == pytest.approx(length)
    assert_allclose(cut.one_sided, cut.element >= len(xyz))
    with pytest.raises(ValueError, match="no piece with a thickness"):
        cut_forces(inner.picked(inner.element < 0), xyz, real, axes, h, values)
    with pytest.raises(ValueError, match="stands on the plane"):
        cut_forces(inner, xyz, real, axes, h, values, [0, 0, 1])
