"""Coupling beams of a job: which have diagonals, how these lie, and their checks, by hand under three standards."""

import math
import re

import pytest

from sandwich import InputError, explain_wall, run_job
from walls.test_seismic_design import RULE
from walls.test_seismic_ends import ALONE
from walls.test_walls_of_a_plate import write

HOLE = [(1500, 2500, 0, 2000)]  # leaves a lintel of 1000 by 1000 mm over a door, and a wall over it
T, C = 200.0, 30.0


def beams(folder, standard, seismic="{}", e=1.0, bars="", cover=30, rule=RULE):
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}", f"seismic = {seismic}\n{rule}cover = {cover}")
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    job += bars + f'[design]\nstandard = "{standard}"\n'
    job += f'[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = {{ G = 0.2, E = {e} }}\n'
    result = run_job(write(folder, job, holes=HOLE), pictures=False)
    row = result.frame("coupling beams").iloc[0]
    return result, row, result.frame("coupling checks").set_index("check")


def diagonals(row):
    """Count and diameter of one diagonal; diameter and spacing of its ties, or of the links all round."""
    found = [float(v) for v in re.findall(r"[0-9.]+", row["provided diagonals [mm]"])][1:]
    ties = found[2:] or [float(v) for v in re.findall(r"[0-9.]+", row["links [mm]"])]
    return found[0], found[1], *ties


def depth(result, row):
    """Effective depth of a beam 1000 mm deep: layers of two bars 2.5 diameters apart."""
    n, d = map(float, result.frame("wall bars").set_index("kind").loc["lintel", "each chord [mm]"].split("x"))
    return 1000 - (C + float(row["links [mm]"].split("/")[0]) + d / 2 + (n / 2 - 1) * 2.5 * d / 2)


def test_aci_318_diagonals_with_ties_all_round(tmp_path):
    result, row, checks = beams(tmp_path, "ACI 318-19")
    h, l_n = row["clear span [mm]"] / row["l_n/h"], row["clear span [mm]"]
    assert (l_n, h) == (1000.0, 1000.0)
    limit = 0.33 * math.sqrt(30) * T * h
    assert row["V without diagonals [kN]"] == pytest.approx(limit / 1e3, rel=1e-9)
    assert row["diagonals"] == ("required" if row["V [kN]"] * 1e3 >= limit else "allowed")
    given = "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 20 }\nlinks = { diameter = 10, spacing = 75 }\n"
    result, row, checks = beams(tmp_path / "given", "ACI 318-19", bars=given)
    n, d, d_t, s = diagonals(row)
    assert (n, d, d_t, s) == (4, 20, 10, 75)
    # a group is at least a fifth of the width deep, and its bars with 25 mm between them
    alpha = math.atan((h - 2 * (C + 10) - max(T / 5, 2 * d + 25)) / l_n)
    assert row["angle [deg]"] == pytest.approx(math.degrees(alpha), rel=1e-9)
    V_n = min(2 * n * math.pi * d**2 / 4 * 500 * math.sin(alpha), 0.83 * math.sqrt(30) * T * h)
    assert checks.loc["shear of the diagonals", "capacity"] == pytest.approx(0.85 * V_n / 1e3, rel=1e-9)
    # two legs in 140 mm, six in 940: no more than 200 mm apart
    wide, deep, leg = T - 2 * C, h - 2 * C, math.pi * d_t**2 / 4
    ratio = max(0.09, 0.3 * (T * h / (wide * deep) - 1)) * 30 / 500
    assert checks.loc["ties upright", "utilisation"] == pytest.approx(ratio * s * wide / (2 * leg), rel=1e-9)
    assert checks.loc["ties level", "utilisation"] == pytest.approx(ratio * s * deep / (6 * leg), rel=1e-9)
    assert checks.loc["spacing of ties", "capacity"] == min(150, 5.0 * d)  # bars of grade 550 at 500 MPa
    takes = 2 * (C + 10) + (2 * d + 25) + 2 * d
    assert checks.loc["room for the diagonals", "demand"] == pytest.approx(takes)
    sheet = explain_wall(result.job, f"storey 1 {row['part']}").sheet
    assert any("18.10.7.4" in step.source for _, step in sheet.steps)


def test_en_1998_hinges_and_diagonals(tmp_path):
    result, row, checks = beams(tmp_path / "a", "EN 1992-1-1:2004")
    d_l, s = map(float, row["links [mm]"].split("/"))
    n, d = map(float, result.frame("wall bars").set_index("kind").loc["lintel", "each chord [mm]"].split("x"))
    h, l_n, f_yd = 1000.0, 1000.0, 500 / 1.15
    M = n * math.pi * d**2 / 4 * f_yd * (2 * depth(result, row) - h)
    # no case is said to be of an earthquake, so all of the shear counts beside the hinges
    assert checks.loc["shear of the hinges", "demand"] == pytest.approx((2 * M / l_n) / 1e3 + row["V [kN]"], rel=1e-6)
    assert checks.loc["spacing of links", "capacity"] == min(h / 4, 24 * d_l, 225, 8 * d)
    assert s <= checks.loc["spacing of links", "capacity"]
    assert (checks["utilisation"] <= 1).all()
    high = '{ ductility = "DCH", q_0 = 3, T_1 = 0.3, T_C = 0.5 }'
    given = (
        "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 10, ties = { diameter = 8, spacing = 50 } }\n"
        "links = { diameter = 8, spacing = 200 }\n"
    )
    _, row, checks = beams(tmp_path / "b", "EN 1992-1-1:2004", high, bars=given)
    alpha = math.atan((h - 2 * (C + 8) - T / 2) / l_n)  # sides of half the width
    carried = 2 * 4 * math.pi * 25 * f_yd * math.sin(alpha)
    assert checks.loc["shear of the diagonals", "capacity"] == pytest.approx(carried / 1e3, rel=1e-9)
    assert checks.loc["spacing of ties", "capacity"] == min((100 - 8) / 2, 125, 60)
    assert row["governing check"] == "spacing of ties"
    assert "ties at 46 mm" in row["status"]
    assert checks.loc["room for the diagonals", "demand"] == 2 * (C + 8) + 100 + 2 * (8 + 10)


def test_is_13920_and_a_width_without_room(tmp_path):
    result, row, checks = beams(tmp_path / "a", "IS 456:2000", e=2.0)
    limit = 0.1 * math.sqrt(37.5) * 1.0 * T
    assert row["V without diagonals [kN]"] / 1e3 == pytest.approx(limit * depth(result, row) / 1e6, rel=1e-9)
    assert row["diagonals"] == "required"
    n, d, *_ = diagonals(row)
    alpha = math.radians(row["angle [deg]"])
    need = row["V [kN]"] * 1e3 / (1.74 * 500 * math.sin(alpha))
    assert checks.loc["bars of the diagonals", "demand"] == pytest.approx(need, rel=1e-9)
    assert n * math.pi * d**2 / 4 >= need
    assert (checks["utilisation"] <= 1 + 1e-9).all()
    # more cover leaves no room for two diagonals that cross
    _, row, checks = beams(tmp_path / "b", "IS 456:2000", e=2.0, cover=55)
    assert checks.loc["room for the diagonals", "utilisation"] > 1
    assert re.search(r"[0-9]+ mm of thickness, or thinner diagonals", row["status"])
    with pytest.raises(InputError, match="IS 456:2000 has no use for it"):
        beams(tmp_path / "c", "IS 456:2000", '{ ties_round = "diagonals" }')
    alone = "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 20 }\n"
    with pytest.raises(InputError, match="diagonals are those of coupling beams; give seismic"):
        run_job(write(tmp_path / "c", ALONE.replace("seismic = {}\n", "") + alone), pictures=False)


def test_aci_318_hinges_by_hand(tmp_path):
    """18.6.5: 1.25 f_y in both chords, hoops alone; the span is four times the depth, so diagonals are not allowed."""
    slim = [(1000, 3000, 0, 2500), (1000, 3000, 3000, 7000)]
    given = (
        "[[walls.wall.bars]]\nchords = { count = 4, diameter = 16, length = 1 }\n"
        "links = { diameter = 10, spacing = 150 }\n"
    )
    job = ALONE.replace("seismic = {}", f"seismic = {{}}\n{RULE}") + given + '[design]\nstandard = "ACI 318-19"\n'
    job += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 0.2, E = 0.1 }\n'
    result = run_job(write(tmp_path, job, holes=slim), pictures=False)
    row = result.frame("coupling beams").iloc[0]
    checks = result.frame("coupling checks").set_index("check")
    h, l_n = 500.0, 2000.0
    assert (row["l_n/h"], row["diagonals"]) == (4.0, "not allowed")
    d = h - (C + 10 + 8 + 2.5 * 16 / 2)
    pulled = 1.25 * 500 * 4 * math.pi * 64
    M_pr = pulled * (d - pulled / (1.7 * 30 * T))
    assert checks.loc["shear of the hinges", "demand"] == pytest.approx(2 * M_pr / l_n / 1e3 + row["V [kN]"], rel=1e-6)
    V_s = 2 * math.pi * 25 / 150 * 500 * d
    assert checks.loc["shear of the hinges", "capacity"] == pytest.approx(0.75 * V_s / 1e3, rel=1e-6)
    assert checks.loc["spacing of links", "capacity"] == pytest.approx(min(d / 4, 150, 5 * 16))
    assert "links at 80 mm" in row["status"]
    assert checks.loc["maximum chord", "demand"] == pytest.approx(100 * 4 * math.pi * 64 / (T * d), rel=1e-6)
    sheet = explain_wall(result.job, f"storey 1 {row['part']}").sheet
    told = [step.title for _, step in sheet.steps]
    assert {"shear of the hinges", "spacing of links"} <= set(told)


def test_ties_round_each_diagonal_and_high_ductility(tmp_path):
    """The other way of 18.10.7.4, and EN 1998-1 DCH past f_ctd b d: both choose diagonals that hold."""
    bars = "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 10, ties = { diameter = 8, spacing = 40 } }\n"
    bars += "links = { diameter = 10, spacing = 200 }\n"
    _, row, checks = beams(tmp_path / "a", "ACI 318-19", '{ ties_round = "diagonals" }', bars=bars)
    wide, deep = T / 2, max(T / 5, 2 * 10 + 25 + 16)
    ratio = max(0.09, 0.3 * ((wide + 2 * C) * (deep + 2 * C) / (wide * deep) - 1)) * 30 / 500
    leg = math.pi * 16
    assert checks.loc["ties upright", "utilisation"] == pytest.approx(ratio * 40 * wide / (2 * leg), rel=1e-9)
    assert checks.loc["ties level", "utilisation"] == pytest.approx(ratio * 40 * deep / (2 * leg), rel=1e-9)
    assert checks.loc["spacing of ties", "capacity"] == 50.0
    assert checks.loc["bars round the diagonals", "demand"] == 0.2
    high = '{ ductility = "DCH", q_0 = 3, T_1 = 0.3, T_C = 0.5 }'
    result, row, checks = beams(tmp_path / "b", "EN 1992-1-1:2004", high, e=4.0)
    f_ctd = 0.7 * 0.3 * 30 ** (2 / 3) / 1.5
    assert row["V without diagonals [kN]"] == pytest.approx(f_ctd * T * depth(result, row) / 1e3, rel=1e-6)
    assert row["diagonals"] == ("required" if row["V [kN]"] > row["V without diagonals [kN]"] else "allowed")
    if row["diagonals"] == "required":
        n, d, *_ = diagonals(row)
        carried = 2 * n * math.pi * d**2 / 4 * 500 / 1.15 * math.sin(math.radians(row["angle [deg]"]))
        assert checks.loc["shear of the diagonals", "capacity"] == pytest.approx(carried / 1e3, rel=1e-9)
    # one source: the table of bars has what the table of beams has
    lintel = result.frame("wall bars").set_index("kind").loc["lintel"]
    assert lintel["diagonals [mm]"] == row["provided diagonals [mm]"]
    assert lintel["links [mm]"] == row["links [mm]"]
    # seismic demands of a lintel with diagonals are checked there alone
    own = result.frame("wall checks").query(f"part == '{row['part']}'")
    assert ("bending with axial force" in set(own["check"])) == (row["provided diagonals [mm]"] == "")


def test_a_lintel_that_only_an_earthquake_loads_keeps_its_minimum(tmp_path):
    """Diagonals carry all of its demands: its own steel is held against the minimum, and it stands in the picture."""
    given = "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 20 }\n"
    job = ALONE.replace("seismic = {}", f"seismic = {{}}\n{RULE}") + given + '[design]\nstandard = "ACI 318-19"\n'
    job += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 0.2, E = 1.0 }\n'
    result = run_job(write(tmp_path, job, holes=HOLE))
    own = result.frame("wall checks").query("kind == 'lintel'")
    assert set(own["check"]) == {"minimum chord", "minimum links", "spacing of links"}
    assert (tmp_path / "results" / "maps" / "wall_wall_seismic.png").stat().st_size > 20_000
    assert (tmp_path / "results" / "maps" / "wall_wall.png").stat().st_size > 20_000
