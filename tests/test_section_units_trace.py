"""The bottom row: depths of bars, units at the door, recording of clauses."""

import dataclasses
import os
import shutil
import subprocess
import sys

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich import BarLayers, BarLine, Concrete, Section, Steel
from sandwich.core.trace import documented_units, recording
from sandwich.core.units import factor
from sandwich.standards.en1992.materials import f_cd

NAN = np.nan
# h 300, covers 30 and 40, x 16, y 12: depths of the axes by hand
AXES = [
    ({}, [112.0, 98.0, -102.0, -88.0]),
    ({"outer": "y"}, [100.0, 114.0, -90.0, -104.0]),
    ({"layout": "bottom"}, [112.0, 98.0, NAN, NAN]),
    ({"layout": "top"}, [NAN, NAN, -102.0, -88.0]),
    ({"layout": "mid-depth"}, [6.0, -8.0, NAN, NAN]),
    ({"layout": "mid-depth", "outer": "y"}, [-6.0, 8.0, NAN, NAN]),
]


@pytest.mark.parametrize(("changes", "expected"), AXES)
def test_bar_axes_by_hand(changes, expected):
    bars = BarLayers(30.0, 40.0, 16.0, 12.0, **changes)
    assert_allclose(bars.axes(300.0), expected)
    many = bars.axes(np.full((2, 3), 300.0))
    assert many.shape == (2, 3, 4)
    assert_allclose(many[1, 2], expected)
    thicker = bars.axes(400.0)
    if changes.get("layout") != "mid-depth":
        assert_allclose(np.abs(thicker), np.abs(expected) + 50.0)
    else:
        assert bars.names() == ("curtain x", "curtain y", "top x", "top y")


def test_layers_one_by_one():
    bars = BarLayers(
        30.0, 40.0, bottom=(BarLine(0.0, 16.0), BarLine(60.0, 12.0), BarLine(-180.0, 20.0)), top=(BarLine(45.0, 10.0),)
    )
    assert_allclose(bars.axes(300.0), [112.0, 98.0, 82.0, -105.0])  # 150 less cover and what lies outside
    assert bars.axes(np.full((4,), 300.0)).shape == (4, 4)
    assert bars.names("inside", "outside") == ("inside x", "inside 60 deg", "inside x 2", "outside 45 deg")
    assert_allclose(np.degrees(bars.angles), [0.0, 60.0, -180.0, 45.0])
    assert bars.sides.tolist() == [1, 1, 1, -1]
    assert bars.lines
    assert not bars.closed_form
    assert BarLayers().closed_form
    assert not BarLayers(weight_x=2.0).closed_form
    assert BarLayers(layout="mid-depth").sides.tolist() == [0, 0, 0, 0]
    assert Concrete(37.5, "cube").cylinder == Concrete(30.0).cylinder == 30.0
    assert Concrete(30.0).cube == 37.5


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: BarLine(200.0), "angle = 200 degrees"),
        (lambda: BarLine(0.0, 0.0), "diameter = 0 mm"),
        (lambda: BarLine(0.0, weight=-1.0), "weight = -1"),
        (lambda: BarLayers(weight_y=0.0), "weight_y = 0;"),
        (lambda: BarLayers(bottom=(BarLine(0.0), BarLine(10.0))), "bars at 0 and 10 degrees at the bottom; 15 degrees"),
        (lambda: BarLayers(top=(BarLine(0.0),) * 4), "4 layers at the top; 3 or fewer"),
        (lambda: BarLayers(45.0, bottom=(BarLine(0.0), BarLine(90.0))).axes(100.0), "bottom x bar axis is 51 mm below"),
        (lambda: Concrete(120.0, "cube"), "a cube strength from 15 to 112.5"),
        (
            lambda: Section(100.0, BarLayers(45.0, 20.0)),
            "thickness 100 mm the bottom x bar axis is 51 mm below the face",
        ),
        (lambda: Section(100.0, BarLayers(20.0, 38.0)), "the top y bar axis is 56 mm below the face"),
        (lambda: Section(30.0, BarLayers(5.0, 5.0, 20.0, 20.0, layout="mid-depth")), "curtain at mid-depth is thicker"),
        (lambda: Section(0.0), "h = 0 mm; more than zero"),
        (lambda: BarLayers(-1.0), "cover_bottom = -1 mm; zero or more"),
        (lambda: BarLayers(diameter_y=0.0), "diameter_y = 0 mm; more than zero"),
        (lambda: Concrete(3.0), "f_ck = 3 MPa; a cylinder strength from 12 to 90"),
        (lambda: Concrete(float("nan")), "f_ck = nan"),
        (lambda: Steel(60.0), "f_yk = 60 MPa; a yield strength"),
    ],
)
def test_nothing_invalid_can_be_made(make, words):
    with pytest.raises(ValueError, match=words):
        make()


def test_records_are_frozen():
    with pytest.raises(dataclasses.FrozenInstanceError):
        Section(300.0).h = 200.0


# pound-force 4.4482216152605 N, foot 304.8 mm, tonne-force 9806.65 N: exact by definition
UNITS = [
    ("length", "m", 1000.0),
    ("thickness", "in", 25.4),
    ("membrane", "kip/ft", 4448.2216152605 / 304.8),
    ("moment", "kip*ft/ft", 4448.2216152605),
    ("moment", "lbf*in/in", 4.4482216152605),
    ("moment", "kN*m/m", 1000.0),
    ("moment", "MN*m/m", 1e6),
    ("shear", "kN/m", 1.0),
    ("shear", "kgf/cm", 9.80665 / 10.0),
]


@pytest.mark.parametrize(("quantity", "unit", "expected"), UNITS)
def test_units(quantity, unit, expected):
    assert factor(quantity, unit) == pytest.approx(expected, rel=1e-12)


@pytest.mark.parametrize(
    ("quantity", "unit", "words"),
    [
        ("moment", "kN/m", "not a unit of moment"),
        ("shear", "furble", "not a known unit"),
        ("length", "m m)", "not a known unit"),
    ],
)
def test_wrong_units_say_what_is_accepted(quantity, unit, words):
    with pytest.raises(ValueError, match=words):
        factor(quantity, unit)


def test_kernels_are_keyed_by_their_sources_and_do_without_a_folder(tmp_path, monkeypatch):
    from sandwich.core import compiled

    monkeypatch.setenv("SANDWICH_KERNEL_CACHE", str(tmp_path))
    folder = compiled.cache_folder.__wrapped__()
    assert folder.parent == tmp_path / "kernels"
    copy = tmp_path / "mechanics"
    shutil.copytree(compiled._MECHANICS, copy)
    monkeypatch.setattr(compiled, "_MECHANICS", copy)
    assert compiled.cache_folder.__wrapped__() == folder
    (copy / "plate.py").write_text("changed")
    assert compiled.cache_folder.__wrapped__() != folder
    inner = compiled.cache_folder.__wrapped__()
    (copy / "deeper").mkdir()
    (copy / "deeper" / "kernel.py").write_text("new")
    assert compiled.cache_folder.__wrapped__() != inner
    (tmp_path / "kernels").chmod(0o777)  # somebody else could put code there
    assert compiled.cache_folder.__wrapped__() is None
    (tmp_path / "file").touch()
    monkeypatch.setenv("SANDWICH_KERNEL_CACHE", str(tmp_path / "file"))
    assert compiled.cache_folder.__wrapped__() is None


def test_a_damaged_cache_of_kernels_mends_itself(tmp_path):
    script = "from sandwich.mechanics.inplane import orthogonal; print(orthogonal(1.0, 2.0, 3.0))"
    said = []
    for damage in (False, True):
        for file in tmp_path.rglob("*.nb[ic]") if damage else ():
            file.write_bytes(b"damaged")
        run = subprocess.run(
            [sys.executable, "-c", script], env={**os.environ, "SANDWICH_KERNEL_CACHE": str(tmp_path)},
            capture_output=True, text=True, check=True,
        )  # fmt: skip
        said.append(run.stdout)
    assert said[0] == said[1] != ""
    assert any(f.read_bytes() != b"damaged" for f in tmp_path.rglob("*.nbi"))


def test_recording_keeps_order_headings_and_units_and_does_not_leak():
    with recording() as outer:
        outer.heading = "first"
        f_cd(30.0)
        with recording() as inner:
            f_cd(np.array([40.0]), gamma_c=1.2)
        outer.heading = "second"
        f_cd(50.0, alpha_cc=0.85)
    f_cd(60.0)
    assert [h for h, _ in outer.steps] == ["first", "second"]
    assert len(inner.steps) == 1
    step = inner.steps[0][1]
    assert [(q.symbol, q.value, q.unit) for q in step.given] == [
        ("f_ck", 40.0, "MPa"),
        ("gamma_c", 1.2, "-"),
        ("alpha_cc", 1.0, "-"),
    ]
    assert [(q.symbol, q.unit) for q in step.results] == [("f_cd", "MPa")]
    assert step.results[0].value == pytest.approx(40.0 / 1.2)
    assert step.title == "Design compressive strength of concrete"


def test_units_are_read_from_docstrings():
    def example(a, b_c, d):
        """One line.

        Parameters
        ----------
        a, b_c : float
            Two lengths [mm] of
            something.
        d : ndarray
            No unit.

        Returns
        -------
        area : float
            Product [mm2].

        Notes
        -----
        Not [here].
        """
        return a * b_c * d

    assert documented_units(example) == {"a": "mm", "b_c": "mm", "d": "", "area": "mm2"}
