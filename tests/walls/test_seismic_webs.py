"""Webs of seismic walls, piers that share a force, ends in flanges: each clause by hand, from the job to the table."""

import math
import re

import numpy as np
import pandas as pd
import pytest

from sandwich import copy_demo, run_job
from walls.test_core_variants import GIVEN, SEISMIC, listed
from walls.test_seismic_ends import ALONE
from walls.test_walls_of_a_plate import E, G, L, T, write

BARS = """[[walls.wall.bars]]
vertical = {{ diameter = {}, spacing = {} }}
horizontal = {{ diameter = {}, spacing = {} }}
"""
HIGH = '{ ductility = "DCH", q_0 = 4.0, T_1 = 0.3, T_C = 0.5 }'


def webs(folder, standard, bars=(10, 200, 10, 200), seismic="{}", g=5.0, e=1.0, more="", grade=500, size=None):
    """Checks of the shear of the foot of a wall, by their names."""
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}", f"seismic = {seismic}\n{more}").replace("f_yk = 500", f"f_yk = {grade}")
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    job += BARS.format(*bars) + f'[design]\nstandard = "{standard}"\n'
    job += f'[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = {{ G = {g}, E = {e} }}\n'
    path = write(folder, job)
    if size is not None:
        text = pd.read_csv(folder / "elements.csv").assign(thickness=size)
        text.to_csv(folder / "elements.csv", index=False)
    frame = run_job(path, pictures=False).frame("seismic shear")
    return frame[frame["storey"] == "storey 1"].set_index("check")


def ratio(d, s, t=T):
    return 100 * 2 * math.pi * d**2 / 4 / s / t


def test_webs_of_high_ductility(tmp_path):
    found = webs(tmp_path / "a", "EN 1992-1-1:2004", (10, 300, 6, 150), HIGH, g=1.0)
    assert found.loc["minimum horizontal", "capacity"] == pytest.approx(ratio(6, 150))
    assert found.loc["minimum horizontal", ["demand", "clause"]].tolist() == [0.2, "5.5.3.4.5(13)"]
    assert found.loc["spacing vertical", ["demand", "capacity"]].tolist() == [300.0, 250.0]
    assert found.loc["spacing vertical", "status"].startswith("exceeded: more vertical bars")
    assert found.loc["spacing horizontal", ["demand", "capacity"]].tolist() == [150.0, 150.0]  # 25 diameters
    assert found.loc["diameter horizontal", ["demand", "capacity"]].tolist() == [8.0, 6.0]
    assert found.loc["diameter horizontal", "status"] == "exceeded: bars of 8 to 25 mm"
    assert found.loc["diameter vertical", ["demand", "capacity"]].tolist() == [10.0, 25.0]
    assert found.loc["thickness of the web", ["demand", "capacity"]].tolist() == [150.0, 200.0]
    # (1.3 f_ctd - N/A)/(f_yd + 1.5 (f_cd f_yd)^(1/2)), the least axial force of the storey
    f_ctd, f_yd, N = 0.7 * 0.3 * 30 ** (2 / 3) / 1.5, 500 / 1.15, G * 1e3 * L
    joint = max((1.3 * f_ctd - N / (L * T)) / (f_yd * (1 + 1.5 * math.sqrt(20 / f_yd))), 0.0025)
    assert found.loc["bars across joints", "demand"] == pytest.approx(100 * joint, rel=1e-3)
    assert found.loc["bars across joints", "capacity"] == pytest.approx(ratio(10, 300))
    assert (found.loc[["minimum horizontal", "spacing vertical"], "combination"] == "").all()
    medium = webs(tmp_path / "b", "EN 1992-1-1:2004", (10, 300, 6, 150), g=1.0)
    assert "minimum horizontal" not in medium.index
    thin = webs(tmp_path / "c", "EN 1992-1-1:2004", size=140.0)
    assert thin.loc["thickness of the web", "status"] == "exceeded: 150 mm of thickness"


def test_webs_of_special_walls(tmp_path):
    root = math.sqrt(30)
    low, high = 0.083 * root * L * T, 0.17 * root * L * T
    for e, asked, two in ((0.9 * low / E, False, 1.0), (1.1 * low / E, True, 1.0), (1.1 * high / E, True, 2.0)):
        found = webs(tmp_path / f"{e:.2f}", "ACI 318-19", (10, 400, 10, 450), g=1.0, e=e, grade=420)
        assert ("minimum horizontal" in found.index) == asked
        assert found.loc["curtains", "demand"] == two
        # 6 m over 4 m: vertical bars no fewer than horizontal ones
        over = found.loc["vertical beside horizontal"]
        assert (over["demand"], over["capacity"]) == pytest.approx((ratio(10, 450), ratio(10, 400)))
    assert found.loc["minimum horizontal", "status"].startswith("exceeded: more horizontal bars")
    one = webs(tmp_path / "one", "ACI 318-19", g=1.0, e=1.1 * high / E, more="curtains = 1", grade=420)
    assert one.loc["curtains", "status"] == "exceeded: two curtains"
    # one wall alone is all its piers: 0.66 where each by itself has 0.83
    piers = found.loc["struts of the piers"]
    assert piers["capacity"] == pytest.approx(0.75 * 0.66 * root * L * T / 1e3, rel=1e-3)
    assert piers["demand"] == pytest.approx(1.1 * high / 1e3, rel=5e-3)
    strong = webs(tmp_path / "strong", "ACI 318-19", (16, 100, 16, 100), g=1.0, e=0.6 * root * L * T / E, grade=420)
    assert strong.loc["struts of the piers", "utilisation"] > 1 > strong.loc["struts of the shear", "utilisation"]
    wanted = float(re.search(r"([\d.]+) mm", strong.loc["struts of the piers", "status"])[1])
    assert wanted == pytest.approx(T * strong.loc["struts of the piers", "utilisation"], abs=1)


def test_webs_of_ductile_walls(tmp_path):
    found = webs(tmp_path / "a", "IS 456:2000", (25, 500, 10, 450))
    assert found.loc["diameter vertical", ["demand", "capacity"]].tolist() == [25.0, 20.0]
    assert found.loc["diameter vertical", "status"] == "exceeded: bars up to 20 mm"
    assert found.loc["spacing vertical", "capacity"] == 450.0
    assert found.loc["minimum horizontal", ["demand", "clause"]].tolist() == [0.25, "10.1.6, Table 1"]
    assert found.loc["curtains", "demand"] == 2.0  # 200 mm thick
    assert found.loc["thickness of the web", "demand"] == 150.0
    stress, held = E / (T * 0.8 * L), 5 * G * 1e3 * L / (L * T)
    assert found.loc["bars across joints", "demand"] == pytest.approx(
        100 * 0.92 / 500 * max(stress - held, 0), abs=1e-9
    )
    slides = webs(tmp_path / "b", "IS 456:2000", g=0.5, e=3.0)
    stress, held = 3 * E / (T * 0.8 * L), 0.5 * G * 1e3 / T
    assert slides.loc["bars across joints", "demand"] == pytest.approx(100 * 0.92 / 500 * (stress - held), rel=5e-3)


@pytest.fixture(scope="module")
def source(tmp_path_factory):
    return copy_demo(tmp_path_factory.mktemp("source")).parent / "core"


def test_bars_are_chosen_until_webs_hold_and_coupled_walls_are_thick(source, tmp_path):
    is_ = ("[spectra.RX]", '[design]\nstandard = "IS 456:2000"\n[spectra.RX]')
    result = run_job(listed(source, tmp_path / "is", (SEISMIC, "seismic = {}"), is_), pictures=False)
    found = result.frame("seismic shear")
    thick = found[found["check"] == "thickness of the web"].set_index(["storey", "part"])
    coupled = thick[thick["demand"] == 300.0]
    assert {p for _, p in coupled.index if p.startswith("A")} == {"A P2", "A P3"}  # A P1 is a column
    assert (coupled["status"] == "exceeded: 300 mm of thickness").all()
    rest = found[found["check"] != "thickness of the web"]
    assert (rest["utilisation"] <= 1 + 1e-9).all()
    bars = result.frame("wall bars")
    assert (bars.dropna(subset=["horizontal [%]"]).query("part == 'W'")["horizontal [%]"] >= 0.25 - 1e-9).all()


def test_ends_in_flanges(source, tmp_path):
    en = run_job(listed(source, tmp_path / "en", (SEISMIC, f"{SEISMIC}\n{GIVEN}")), pictures=False).frame(
        "boundary elements"
    )
    flanged = en[en["by"] == "in a flange"]
    # the pier beside the lift door ends at the corner of the core; both of its ends are pressed as much
    assert set(zip(flanged["part"], flanged["end"], strict=True)) == {("A P3", "right")}
    assert (flanged["minimum bars [%]"] == 0.0).all()
    free = en[(en["part"] == "A P3") & (en["end"] == "left") & (en["storey"] == "ground")].iloc[0]
    assert free["boundary element"] == "needed"
    aci = (
        (SEISMIC, f"seismic = {{ displacement = 120.0 }}\n{GIVEN}"),
        ("[spectra.RX]", '[design]\nstandard = "ACI 318-19"\n[spectra.RX]'),
    )
    ends = run_job(listed(source, tmp_path / "aci", *aci), pictures=False).frame("boundary elements")
    ground = ends[ends["storey"] == "ground"].set_index(["part", "end"])["length [mm]"]
    assert ground["A P3", "right"] == pytest.approx(max(ground["A P3", "left"], 125 + 300))
    assert np.isfinite(ground["A P3", "left"])
