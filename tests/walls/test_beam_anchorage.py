"""Bars of coupling beams in the walls beside them, by hand under four standards; ductile coupled walls."""

import math

import pandas as pd
import pytest

from sandwich import InputError, run_job
from walls.test_seismic_ends import ALONE, BARS
from walls.test_walls_of_a_plate import write

DOORS = [(1500, 2500, 0, 2000), (1500, 2500, 3000, 5000)]  # lintels of 1000 by 1000 mm between piers of 1500 mm
CHORDS = "chords = {{ count = 2, diameter = {} , length = 100 }}\nlinks = {{ diameter = 10, spacing = 100 }}\n"
CROSSED = "diagonals = { count = 4, diameter = 16, ties = { diameter = 8, spacing = 75 } }\n"


def beam(folder, standard, d=16, more="", seismic="{}", holes=DOORS, grade=420):
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}", f"seismic = {seismic}").replace("f_yk = 500", f"f_yk = {grade}")
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    job += BARS + CHORDS.format(d) + more + f'[design]\nstandard = "{standard}"\n'
    job += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 0.5, E = 0.2 }\n'
    result = run_job(write(folder, job, holes=holes), pictures=False)
    checks = result.frame("coupling checks")
    own = checks[checks["storey"] == "storey 1"].drop_duplicates("check").set_index("check")
    told = result.frame("coupling beams").set_index("storey").loc["storey 1", "bars into the walls"]
    return result, own, told


def l_bd(d, f_yd):
    """8.4.4 of a straight bar high in its pour: cover 40 mm, f_ctd of C30."""
    f_bd = 2.25 * 0.7 * min(0.7 * 0.3 * 30 ** (2 / 3) / 1.5, 3.1 / 1.5)
    alpha_2 = min(max(1 - 0.15 * (40 - d) / d, 0.7), 1.0)
    return alpha_2 * d / 4 * f_yd / f_bd


def test_straight_bars_where_the_walls_are_long_enough(tmp_path):
    _, checks, told = beam(tmp_path / "en", "EN 1992-1-1:2004")
    row = checks.loc["anchorage in the walls"]
    assert row["demand"] == pytest.approx(l_bd(16, 420 / 1.15), rel=1e-6)
    assert row["capacity"] == 1500 - 30
    assert told == f"chords {l_bd(16, 420 / 1.15):.0f} mm"
    crossed = beam(tmp_path / "x", "EN 1992-1-1:2004", more=CROSSED)
    assert crossed[2].startswith(f"chords {l_bd(16, 420 / 1.15):.0f} mm; diagonals ")
    # 25 mm between bars of a diagonal: c_d of 12.5 mm, alpha_2 of 1
    diagonal = 1.5 * l_bd(16, 420 / 1.15) / (1 - 0.15 * 24 / 16)
    assert crossed[1].loc["anchorage in the walls", "demand"] == pytest.approx(diagonal, rel=1e-6)
    result, _, _ = beam(tmp_path / "is", "IS 456:2000", more=CROSSED)
    rows = result.frame("coupling checks").query("check == 'anchorage in the walls'").set_index("clause")
    # 1.7 MPa of M35, 1.6 times of deformed bars, table of 26.2.1.1
    row = rows.loc["10.5.3, IS 456, 26.2.1"].iloc[0]
    assert rows.loc["26.2.1", "demand"].iloc[0] == pytest.approx(row["demand"] / 1.5)
    assert row["demand"] == pytest.approx(1.5 * 16 * 0.87 * 420 / (4 * 1.6 * 1.7))


def test_hooks_and_heads_where_they_are_not(tmp_path):
    near = [(x0 - 1250, x1 - 1250, a, b) for x0, x1, a, b in DOORS]  # a pier of 250 mm on the left
    psi_c = 30 / 105 + 0.6

    def headed(d):
        return 1.25 * 420 * 1.25 * psi_c * d**1.5 / (31 * math.sqrt(30))

    # of 16 mm, 104 mm apart: 6 diameters; of 20 mm, 100 mm apart: not
    for d, psi_p in ((16, 1.0), (20, 1.6)):
        _, checks, _ = beam(tmp_path / f"{d}", "ACI 318-19", d=d, holes=near)
        assert checks.loc["anchorage in the walls", "demand"] == pytest.approx(psi_p * headed(d), rel=1e-6)
    assert checks.loc["anchorage in the walls", "status"] == "exceeded: thinner chords, or a longer wall beside it"
    _, checks, told = beam(tmp_path / "thin", "ACI 318-19", d=12, holes=near)
    assert told == "chords 188 mm headed"  # 150 mm at least
    assert checks.loc["anchorage in the walls", "clause"] == "18.10.2.5(a), 25.4.4.2"
    _, checks, told = beam(tmp_path / "14", "ACI 318-14", d=12, holes=near)
    assert checks.loc["anchorage in the walls", "demand"] == pytest.approx(1.25 * 0.19 * 420 * 12 / math.sqrt(30))
    assert told.endswith("headed")
    _, checks, told = beam(tmp_path / "en", "EN 1992-1-1:2004", d=20, holes=near)
    assert told.endswith("bent")
    # (8.1): half of a mandrel that is larger than 7 diameters, and the bar; 40 mm of cover, f_cd 20 MPa
    mandrel = math.pi * 100 * 420 / 1.15 * (1 / 50 + 1 / 40) / 20
    assert checks.loc["anchorage in the walls", "demand"] == pytest.approx(mandrel / 2 + 20)
    assert checks.loc["anchorage in the walls", "capacity"] == 220.0
    assert checks.loc["anchorage in the walls", "clause"].endswith("8.3(2), (8.1), figure 8.1")


def test_noise_of_rounding_leaves_the_anchorage(tmp_path):
    """Bars that are exactly as far from their faces as heads ask for: 40 mm and 80 mm of 20 mm bars, ACI 318-14."""
    near = [(x0 - 1250, x1 - 1250, a, b) for x0, x1, a, b in DOORS]
    lengths = []
    for name, t in (("exact", 200.0), ("less", 200.0 - 1e-9), ("more", 200.0 + 1e-9)):
        folder = tmp_path / name
        folder.mkdir()
        job = ALONE.replace("f_yk = 500", "f_yk = 420") + BARS + CHORDS.format(20)
        job += '[design]\nstandard = "ACI 318-14"\n[[combinations]]\nname = "E"\nsituation = "seismic"\n'
        path = write(folder, job + "factors = { G = 0.5, E = 0.2 }\n", holes=near)
        elements = pd.read_csv(folder / "elements.csv").assign(thickness=t)
        elements.to_csv(folder / "elements.csv", index=False, float_format="%.12f")
        checks = run_job(path, pictures=False).frame("coupling checks")
        lengths.append(checks.query("check == 'anchorage in the walls'")["demand"].max())
    assert lengths == pytest.approx([1.25 * 0.19 * 420 * 20 / math.sqrt(30)] * 3)


def test_ductile_coupled_walls(tmp_path):
    low = [(1250, 2750, 0, 2500), (1250, 2750, 3000, 5750)]  # lintels 500 and 250 mm deep: l_n/h 3 and 6
    seismic = '{ system = "ductile coupled" }'
    result, checks, _ = beam(tmp_path / "a", "ACI 318-19", seismic=seismic, holes=low)
    assert checks.loc["span over depth", ["demand", "capacity", "clause"]].tolist() == [2.0, 3.0, "18.10.9.3(a)"]
    upper = result.frame("coupling checks").query("check == 'levels of spans up to five depths'")
    assert upper[["storey", "demand", "capacity"]].to_numpy().tolist() == [["storey 2", 90.0, 50.0]]
    slim = result.frame("seismic shear").query("check == 'slenderness of coupled walls'")
    assert slim["capacity"].tolist() == [6000 / 1250] * 2  # both piers at the base, and nothing above
    result, checks, _ = beam(tmp_path / "b", "ACI 318-19", seismic=seismic)
    assert checks.loc["span over depth", "status"] == "exceeded: a beam up to 500 mm deep"
    assert "span over depth" not in beam(tmp_path / "c", "ACI 318-19")[1].index
    for standard, told in (("EN 1992-1-1:2004", "is no system of"), ("IS 456:2000", "has no use for it")):
        with pytest.raises(InputError, match=told):
            beam(tmp_path / standard[:2], standard, seismic=seismic)
