"""What must not change the ultimate stage: axes, faces, units, order of combinations, blocks, compilation."""

import os
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from sandwich import EN1992, BarLayers, BarLine, Concrete, Steel
from sandwich.core.resultants import rotate
from sandwich.design.settings import LinkRule, Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.is456.standard import IS456

SCALE = np.array([150, 150, 80, 3e4, 3e4, 1e4, 40, 40])
BOTTOM = (BarLine(0.0, 14.0), BarLine(70.0, 12.0))
TOP = (BarLine(20.0, 12.0), BarLine(80.0, 10.0), BarLine(140.0, 10.0))
LINES = BarLayers(30.0, 35.0, bottom=BOTTOM, top=TOP)
BASE = Settings(LINES, Concrete(35.0), Steel(500.0), EN1992.recommended())
RULES = st.sampled_from([(t, links) for t in (False, True) for links in (None, LinkRule(1.3, 1.2))])
few = settings(max_examples=25, deadline=None, derandomize=True)


def design(load, s, situations=None):
    k = load.shape[1]
    h = np.full(len(load), 280.0)
    return design_ultimate(load, np.eye(k), situations or ["persistent"] * k, h, s, workers=1)


def loads(seed, points=3, combinations=4):
    return np.random.default_rng(seed).normal(size=(points, combinations, 8)) * SCALE


def turned(lines, by):
    return tuple(replace(line, angle=(line.angle - by + 180.0) % 360.0 - 180.0) for line in lines)


@few
@given(st.integers(0, 10_000), st.floats(-80.0, 80.0), RULES)
def test_turning_all_axes(seed, by, rule):
    s = replace(BASE, joint=rule[0], links=rule[1])
    load = loads(seed)
    base = design(load, s)
    bars = BarLayers(30.0, 35.0, bottom=turned(BOTTOM, by), top=turned(TOP, by))
    other = design(rotate(load, np.radians(by)), replace(s, bars=bars))
    assert_allclose(other.status, base.status)
    assert_allclose(other.total, base.total, rtol=2e-3, atol=1e-4)  # of like fields either may be found
    assert_allclose(other.shear.v_Ed, base.shear.v_Ed, rtol=1e-9)
    if not rule[0] and rule[1] is None:
        assert_allclose(other.total, base.total, rtol=2e-5, atol=1e-6)  # layers settle to 1e-6 of the thickness
        assert_allclose(other.bound, base.bound, rtol=2e-5, atol=1e-6)


@few
@given(st.integers(0, 10_000), RULES)
def test_swapping_the_faces(seed, rule):
    s = replace(BASE, joint=rule[0], links=rule[1])
    load = loads(seed)
    base = design(load, s)
    # about x: nxy, mx, my, vx change their sign; the angles too
    over = load * np.array([1, 1, -1, -1, -1, 1, -1, 1])
    flip = {"bottom": [replace(b, angle=-b.angle) for b in TOP], "top": [replace(b, angle=-b.angle) for b in BOTTOM]}
    bars = BarLayers(35.0, 30.0, bottom=tuple(flip["bottom"]), top=tuple(flip["top"]))
    other = design(over, replace(s, bars=bars))
    assert_allclose(other.status, base.status)
    assert_allclose(other.total, base.total, rtol=2e-3, atol=1e-4)
    if not rule[0] and rule[1] is None:
        n = len(BOTTOM)
        back = np.concatenate([other.a_s_ultimate[:, -n:], other.a_s_ultimate[:, :-n]], axis=1)
        assert_allclose(back.sum(1), base.a_s_ultimate.sum(1), rtol=2e-5, atol=1e-6)


@few
@given(st.integers(0, 10_000), RULES, st.permutations(range(4)))
def test_order_of_combinations_and_blocks(seed, rule, order):
    s = replace(BASE, joint=rule[0], links=rule[1])
    load = loads(seed, points=5)
    situations = ["persistent", "accidental", "persistent", "seismic"]
    base = design(load, s, situations)
    other = design(load[:, order], s, [situations[i] for i in order])
    assert_allclose(other.status == 0, base.status == 0)
    assert_allclose(other.total, base.total, rtol=2e-3, atol=1e-4)
    assert_allclose(other.shear.utilisation, base.shear.utilisation, rtol=5e-2)
    h = np.full(5, 280.0)
    parts = design_ultimate(load, np.eye(4), situations, h, s, workers=3, block=2)
    for name in ("a_s", "bound", "violation", "governing"):
        assert_allclose(getattr(parts, name), getattr(base, name), err_msg=name)
    assert_allclose(parts.shear.a_sw, base.shear.a_sw)
    # a combination twice changes nothing, and more combinations never ask for less
    twice = design(np.concatenate([load, load[:, :1]], axis=1), s, [*situations, situations[0]])
    assert_allclose(twice.total, base.total, rtol=2e-3, atol=1e-4)
    fewer = design(load[:, :2], s, situations[:2])
    good = (fewer.failing < 0) & (base.failing < 0)
    assert np.all(fewer.total[good] <= base.total[good] * (1 + 2e-3) + 1e-4)


@few
@given(st.integers(0, 10_000), st.sampled_from([ACI318(), IS456()]), st.booleans())
def test_other_standards_are_certified_and_bounded(seed, standard, joint):
    s = replace(BASE, standard=standard, joint=joint, links=LinkRule())
    u = design(loads(seed) * np.array([2, 2, 1, 2, 2, 1, 2, 2]), s)
    good = u.failing < 0
    assert np.all(u.certified[good])
    assert np.all(u.bound[good] <= u.total[good] * (1 + 1e-6) + 1e-12)
    assert np.all(u.a_s[good] >= u.a_s_ultimate[good] - 1e-12)
    # reduced strengths ask for no less steel than the bars' full strength would
    forces = u.force[good]
    assert np.all(u.a_s_ultimate[good] * s.steel.f_yk >= forces - 1e-6 * forces.max())


def test_scale_of_section_and_units():
    load = loads(7)
    base = design(load, BASE)
    # twice the size: forces per width double, moments per width grow by four
    big = BarLayers(
        60.0, 70.0, bottom=tuple(replace(b, diameter=2 * b.diameter) for b in BOTTOM),
        top=tuple(replace(b, diameter=2 * b.diameter) for b in TOP),
    )  # fmt: skip
    grown = load * np.array([2, 2, 2, 4, 4, 4, 2, 2])
    other = design_ultimate(grown, np.eye(4), ["persistent"] * 4, np.full(3, 560.0), replace(BASE, bars=big), workers=1)
    assert_allclose(other.total, 2 * base.total, rtol=1e-6)
    assert_allclose(other.layers, base.layers, rtol=1e-4)


CODE = """
import numpy as np
from test_invariance import BASE, design, loads
from dataclasses import replace
from sandwich.design.settings import LinkRule
for joint in (False, True):
    u = design(loads(11, 2, 3), replace(BASE, joint=joint, links=LinkRule()))
    print(" ".join(f"{v:.9e}" for v in np.concatenate([u.a_s.ravel(), u.bound, u.violation * 0.0])))
"""


@pytest.mark.parametrize("jit", ["0", "1"])
def test_compiled_stage_equals_plain_python(jit):
    environment = {**os.environ, "NUMBA_DISABLE_JIT": jit, "PYTHONPATH": os.path.dirname(__file__)}  # noqa: PTH120
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", CODE], capture_output=True, text=True, check=True, env=environment
    )
    printed = [np.array(line.split(), dtype=float) for line in done.stdout.splitlines()]
    for joint, values in zip((False, True), printed, strict=True):
        u = design(loads(11, 2, 3), replace(BASE, joint=joint, links=LinkRule()))
        assert_allclose(values[: u.a_s.size], u.a_s.ravel(), rtol=1e-5, atol=1e-6)
