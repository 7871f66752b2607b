"""Laps and ends of the vertical bars of walls, from the job to the table, by hand at bars that are given."""

import math
import re

import pytest

from sandwich import explain_wall, run_job
from walls.test_seismic_ends import ALONE
from walls.test_walls_of_a_plate import write

LOWER = """
[[walls.wall.bars]]
storeys = ["storey 1"]
vertical = { diameter = 16, spacing = 150 }
ends = { count = 8, diameter = 20, length = 600 }
"""
UPPER = """
[[walls.wall.bars]]
vertical = { diameter = 12, spacing = 150 }
ends = { count = 4, diameter = 20, length = 600 }
"""
COMBINED = '[[combinations]]\nname = "S"\nsituation = "seismic"\nfactors = { G = 1.0, E = 1.0 }\n'
HORIZONTAL = "horizontal = { diameter = 10, spacing = 200 }\n"


def laps(folder, standard="EN 1992-1-1:2004", lower=LOWER, upper=UPPER, seismic=False, levels="[0, 3, 6]"):
    folder.mkdir(exist_ok=True)
    job = ALONE if seismic else ALONE.replace("seismic = {}\n", "")
    job = job.replace('zones = ["wall"]', 'zones = ["wall"]\ncot_theta_max = 1.0') if standard.startswith("EN") else job
    job = job.replace("levels = [0, 3, 6]", f"levels = {levels}")
    job += lower + HORIZONTAL + (upper + HORIZONTAL if upper else "")
    result = run_job(write(folder, f'{job}[design]\nstandard = "{standard}"\n{COMBINED}'), pictures=False)
    return result, result.frame("wall laps").set_index(["storey", "bars"])


def test_en_by_hand(tmp_path):
    result, found = laps(tmp_path / "a")
    over = 500 / 1.15 / (4 * 2.25 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)  # l_b,rqd over the diameter
    web, ends = found.loc[("storey 1", "web")], found.loc[("storey 1", "each end")]
    # cover of vertical bars 30 + 10; half the clear distance 67: alpha_2 by the cover
    assert web["lap [mm]"] == pytest.approx(1.5 * (1 - 0.15 * (40 - 16) / 16) * over * 16)
    assert web["lap from [m]"] == 0.0
    assert web["go on above"] == "lapped with 12/150"
    assert web["others end at [m]"] == pytest.approx(3 + (1600 + web["anchorage [mm]"]) / 1e3)
    assert ends["go on above"] == "4 of 8"
    # rows 600 mm from the edge in four pairs: the bars stand far apart
    assert ends["anchorage [mm]"] == pytest.approx((1 - 0.15 * (40 - 20) / 20) * over * 20)
    assert ends["up to [m]"] == pytest.approx(3 + found.loc[("storey 2", "each end"), "lap [mm]"] / 1e3)
    top = found.loc[("storey 2", "each end")]
    assert top["go on above"] == "none: bent at the top"
    assert top["up to [m]"] == 6.0
    sheet = explain_wall(result.job, "storey 1 A W").sheet
    told = [step for heading, step in sheet.steps if heading == "Laps and ends of vertical bars"]
    assert told[-1].title == "each end 8x20: 4 of 8 above"
    assert any(s.source.startswith("EN 1992-1-1:2004, 9.2.1.3(2)") for s in told)


def test_special_walls_of_aci(tmp_path):
    _, found = laps(tmp_path / "a", "ACI 318-19", seismic=True)
    ends, web = found.loc[("storey 1", "each end")], found.loc[("storey 1", "web")]
    assert math.isnan(ends["lap [mm]"])
    assert ends["lap by"] == "runs through from below, 18.10.2.3(c)"
    assert ends["others end at [m]"] == pytest.approx(6.0)  # 3.66 m above would be past the top
    # web bars may be lapped there, with 1.25 times the length
    l_d = 500 * 0.8 * 1.15 * 16 / (1.1 * math.sqrt(30) * 2.5)
    assert web["lap [mm]"] == pytest.approx(1.3 * 1.25 * max(l_d, 300))
    plain = laps(tmp_path / "b", "ACI 318-19")[1].loc[("storey 1", "web")]
    assert plain["lap [mm]"] == pytest.approx(1.3 * max(l_d, 300))
    assert plain["others end at [m]"] == pytest.approx(6.0)  # 0.8 l_w = 3.2 m
    # in a high storey the lap starts past the height that it is kept out of
    high = laps(tmp_path / "c", "IS 456:2000", seismic=True, levels="[0, 6]", upper="", lower=LOWER.replace(
        'storeys = ["storey 1"]\n', ""))[1].loc[("storey 1", "each end")]  # fmt: skip
    assert high["lap from [m]"] == 4.0  # l_w
    assert high["lap by"] == "26.2.5.1(c), (d)"
    assert high["ties over the lap [mm]"] == "6/150 by IS 13920, 10.9.3"
    # below the base a lap ends l_d before it
    below = laps(tmp_path / "d", "ACI 318-19", seismic=True, levels="[0, 1.25, 6]\nbasement = 1.25")[1]
    told = below.loc[("storey 1", "each end"), "status"]
    assert re.fullmatch(r"exceeded: the lap ends within \d+ mm below the base \(18.10.2.3\(c\)\): .*", told)


def test_ties_over_laps_of_boundary_elements(tmp_path):
    """Of EN 1998-1, 5.6.3: a quarter of the thickness, 100 mm, or by the area of a leg."""
    for d, d_tie, spacing, told in ((20, 8, 100, 50), (20, 8, 40, 40), (32, 6, 100, 40)):
        ties = f"ties = {{ diameter = {d_tie}, spacing = {spacing}, across = 4 }}\n"
        lower = LOWER.replace("diameter = 20", f"diameter = {d}") + ties
        _, found = laps(tmp_path / f"{d} {spacing}", lower=lower, seismic=True)
        assert told == min(200 / 4, spacing, 5 * (50 * math.pi * d_tie**2 / 4 / d // 5))
        assert found.loc[("storey 1", "each end"), "ties over the lap [mm]"].startswith(f"{d_tie}/{told} by EN 1998-1")
        assert found.loc[("storey 1", "web"), "ties over the lap [mm]"] == ""
    plain = laps(tmp_path / "plain", seismic=True)[1]
    assert plain.loc[("storey 1", "each end"), "ties over the lap [mm]"] == ""


def test_laps_longer_than_their_storey_and_bars_that_grow(tmp_path):
    thick = LOWER.replace("diameter = 16", "diameter = 40").replace(
        'storeys = ["storey 1"]\n', 'storeys = ["storey 2"]\n'
    )
    result, found = laps(tmp_path / "a", lower=thick, levels="[0, 3, 4, 6]")
    row = found.loc[("storey 2", "web")]
    assert row["status"] == "exceeded: the lap is longer than the storey: thinner bars, or couplers"
    assert any("laps do not fit" in str(t) for t in result.project.outcomes["wall laps"].verdict)
    # where more bars stand above, those below go on and no others end
    below = found.loc[("storey 1", "web")]
    assert below["go on above"] == "lapped with 40/150"
    assert math.isnan(below["others end at [m]"])
    assert below["up to [m]"] == pytest.approx(3 + row["lap [mm]"] / 1e3)
