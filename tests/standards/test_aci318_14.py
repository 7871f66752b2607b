"""ACI 318-14 beside ACI 318-19: what differs by hand, from the job to the table where there is one; the rest is the same."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import ACI318, Concrete, Section, Steel, design_points, run_job, standard_named
from sandwich.model.perimeter import rectangle
from sandwich.standards.interface import AnchoredBar, EndedBars, ShearSection, WallPart
from standards.test_slab_column import WIDE, column, load
from walls.test_building import COMBINED
from walls.test_seismic_ends import ALONE, BARS
from walls.test_walls_of_a_plate import E, G, L, T, write

NEW, OLD = ACI318(), standard_named("ACI 318-14")
ROOT = math.sqrt(30.0)


def wall(situation, **more):
    of = {
        "concrete": Concrete(30.0), "steel": Steel(420.0), "situation": situation, "length": 4000.0, "thickness": 200.0,
        "height": 9000.0, "along": 0.003, "across": 0.003, "diameters": (10.0, 10.0), "spacings": (200.0, 200.0),
    }  # fmt: skip
    return WallPart(**(of | more))


def test_sections_in_bending_with_axial_force():
    law, later = (s.member_law(Concrete(30.0), Steel(420.0), "persistent") for s in (OLD, NEW))
    # halfway from eps_ty to 0.005, and to eps_ty + 0.003
    assert float(law.reduction(np.array(0.00355))) == pytest.approx(0.775)
    assert float(later.reduction(np.array(0.0036))) == pytest.approx(0.775)
    assert law.turns == (0.0021, 0.005)
    assert OLD.stress_block(Concrete(30.0), Steel(550.0), "persistent").depth_limit == pytest.approx(0.003 / 0.008)
    assert NEW.stress_block(Concrete(30.0), Steel(550.0), "persistent").depth_limit == pytest.approx(0.003 / 0.00875)


@pytest.mark.parametrize(
    ("f_yk", "ratio"), [(300.0, 0.0020), (420.0, 0.0018), (500.0, 0.0018 * 420 / 500), (560.0, 0.0014)]
)
def test_minimum_steel_of_slabs_at_the_python_door(f_yk, ratio):
    found = [
        design_points([[0.0, 0, 0, 1e3, 1e3, 0, 0, 0]], Section(250.0, steel=Steel(f_yk)), standard=s, minimum="slab")
        for s in ("ACI 318-14", "ACI 318-19")
    ]
    assert found[0].steel["required [mm2/m]"].max() == pytest.approx(ratio * 250e3, rel=1e-6)
    assert found[1].steel["required [mm2/m]"].max() == pytest.approx(450.0, rel=1e-6)


def test_punching_has_no_size_effect_and_no_minimum_over_the_column():
    d = 400.0
    c = column(NEW, WIDE, rectangle(400.0, 400.0), d)
    old, new = (s.punching(Concrete(30.0), Steel(420.0), c, load(1e5)) for s in (OLD, NEW))
    assert old.v_Rd_c == pytest.approx(0.75 * 0.33 * ROOT)
    assert new.v_Rd_c == pytest.approx(old.v_Rd_c * math.sqrt(2 / (1 + 0.004 * d)))
    assert OLD.minimum_over_column(Concrete(30.0), Steel(420.0), c, load(5e6)) == 0.0
    assert NEW.minimum_over_column(Concrete(30.0), Steel(420.0), c, load(5e6)) > 0.0


@given(st.floats(100, 900), st.floats(-4.0, 6.0), st.floats(0.001, 0.03))
def test_one_way_shear_has_no_size_effect_and_no_ratio(d, sigma, rho):
    one = np.array([1.0])
    of = ShearSection(concrete=Concrete(30.0), steel=Steel(420.0), situation="persistent", d=d * one, rho_l=rho * one,
                      sigma=sigma * one, h=(d + 40) * one)  # fmt: skip
    axial = 1 + sigma / (14 if sigma > 0 else 3.5)
    assert OLD.shear_resistance(of)[0] == pytest.approx(0.75 * max(0.17 * axial, 0) * ROOT * d, abs=1e-9)


def test_walls_by_hand():
    V, N = np.array([600e3]), np.array([-1000e3])
    d = 0.8 * 4000
    plain = {c.name: c for c in OLD.wall_shear(wall("persistent"), V, N)}
    assert plain["shear in plane"].clause == "11.5.4.4"
    assert plain["shear in plane"].capacity[0] == pytest.approx(0.75 * (0.17 * ROOT + 0.003 * 420) * 200 * d)
    assert plain["struts of the shear"].capacity[0] == pytest.approx(0.75 * 0.83 * ROOT * 200 * d)
    pulled = OLD.wall_shear(wall("persistent"), V, np.array([800e3]))[0]
    assert pulled.capacity[0] == pytest.approx(0.75 * (0.17 * 0.71 * ROOT + 0.003 * 420) * 200 * d)
    # special walls have the expression of both editions, with 420 MPa at most
    assert OLD.wall_shear(wall("seismic"), V, N)[0].capacity == NEW.wall_shear(wall("seismic"), V, N)[0].capacity
    strong = wall("seismic", steel=Steel(550.0))
    assert OLD.wall_shear(strong, V, N)[0].capacity < NEW.wall_shear(strong, V, N)[0].capacity


def test_anchorage():
    bar = AnchoredBar(Concrete(30.0), Steel(550.0), 25.0, 100.0, 200.0)
    assert NEW.anchorage(bar).value == pytest.approx(1.15 * OLD.anchorage(bar).value)
    assert OLD.hook(bar).value == pytest.approx(0.24 * 550 * 25 / ROOT)
    assert OLD.hook(replace(bar, yields=True)).value == pytest.approx(1.25 * 0.24 * 550 * 25 / ROOT)
    assert OLD.no_lap(4000.0, 16e3, 3200.0).value == 0.0
    assert OLD.extension(EndedBars(700.0, 16.0, 4000.0, 1.0, 3200.0, seismic=True)).value == 3200.0


def seismic(folder, standard, f_yk):
    folder.mkdir()
    job = ALONE.replace("seismic = {}", "seismic = { displacement = 60 }").replace("f_yk = 500", f"f_yk = {f_yk}")
    path = write(folder, job + BARS + f'[design]\nstandard = "{standard}"\n{COMBINED}')
    return run_job(path, pictures=False)


def test_special_walls_from_the_job_to_the_tables(tmp_path):
    old, new = (seismic(tmp_path / s[-2:], s, 420) for s in ("ACI 318-14", "ACI 318-19"))
    shears = [r.frame("seismic shear").query("check == 'shear in plane'") for r in (old, new)]
    assert (shears[0]["factor on V"] == 1.0).all()
    assert shears[0]["demand"].max() == pytest.approx(1.5 * E / 1e3, rel=1e-3)
    ends = [r.frame("boundary elements") for r in (old, new)]
    assert (ends[0]["minimum bars [%]"] == 0.0).all()
    assert ends[0]["demand"].tolist() == pytest.approx(ends[1]["demand"].tolist(), rel=1e-3)
    assert ends[0]["demand"].max() == pytest.approx(5 * G * 1e3 / T + 1.5 * E * 5980 * 6 / (T * L**2), rel=5e-3)
    strong = seismic(tmp_path / "strong", "ACI 318-14", 500).frame("boundary checks").query("check == 'grade'")
    assert len(strong) == 4
    assert (strong["status"] == "exceeded: bars of 420 MPa").all()
