"""Strips and averaged peaks: closed forms, statics, the total a section carries."""

import copy
import json
import math
import shutil
from dataclasses import replace

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from pump_wall import COMBINATIONS, PLAIN, WALL, ZONE, write_wall
from sandwich import InputError, run_job
from sandwich.commands.start import copy_demo
from sandwich.core.errors import Faults
from sandwich.job.strip import Strip
from sandwich.project.project import Project
from sandwich.work.strips import strips_of, with_steel

REQUIRED = "required [mm2/m]"
SPAN, LOAD = 6.0, 12.0  # m, kN/m2


def strips(came, **wanted):
    faults = Faults()
    other = copy.copy(came)
    other.job = replace(came.job, strips={n: Strip(**s) for n, s in wanted.items()})
    found = strips_of(other, faults)
    faults.stop()
    return [with_steel(s, other.zone(s.strip.zone), other.standard) for s in found]


@pytest.fixture(scope="module")
def one_way(tmp_path_factory):
    """A slab that spans one way under uniform load, with the exact resultants: m = w x (L - x)/2, v = w (x - L/2)."""
    folder = tmp_path_factory.mktemp("slab")
    job = write_plate(folder, n=24, size=SPAN / 24)
    nodes = pd.read_csv(folder / "nodes.csv").set_index("node")
    table = pd.read_csv(folder / "resultants.csv").query("case == 'G'").astype({"mx": float, "vx": float})
    x = nodes.loc[table["node"], "x"].to_numpy()
    table[["nx", "ny", "nxy", "my", "mxy", "vy"]] = 0.0
    table["mx"], table["vx"] = LOAD * x * (SPAN - x) / 2, LOAD * (x - SPAN / 2)
    table.to_csv(folder / "resultants.csv", index=False)
    job.write_text(job.read_text().replace("G = 1.35, Q = 1.5", "G = 1.0").replace("G = 1.0, Q = 0.5", "G = 1.0"))
    return Project.of(job).load()


def test_a_strip_sees_the_bars_at_the_depth_they_are_laid_at(one_way, tmp_path):
    """A rule that takes 20 mm where 12 mm were assumed: d = 250 - 30 - 10."""
    job = shutil.copytree(one_way.job.folder, tmp_path / "job") / "job.toml"
    lines = 'zone = "plate"\nstart = [0, 2.9, 0]\nend = [6, 2.9, 0]\nwidth = 2\nstations = 49\n'
    text = job.read_text().replace("[zones.plate]\n", "[zones.plate]\nrule = { diameters = [20] }\n")
    job.write_text(f"{text}[strips.s]\n{lines}")
    result = run_job(job, pictures=False)
    frame = result.frame("strips")
    row = frame[(frame["combination"] == "U1") & np.isclose(frame["s [m]"], 3.0)].iloc[0]
    a = 210 - math.sqrt(210**2 - 2 * 54e3 / 20)
    assert row["bottom by stress block [mm2/m]"] == pytest.approx(20 * a / (500 / 1.15) * 1e3, rel=5e-5)
    assert result.steel["axis below mid-depth [mm]"].max() == pytest.approx(125 - 40)


# by hand, for m = 12 6^2/8 = 54 kNm/m at d = 250 - 30 - 6 = 214 mm, in mm2/mm:
# EN: f_cd 20, a = 214 - sqrt(214^2 - 2 54000/20) = 13.012; A_s = 20 13.012/434.78
# ACI: 0.85 30 = 25.5, m/0.9 = 60000: a = 11.293; A_s = 25.5 11.293/500
# IS: cube 30/0.8 = 37.5; 0.36 37.5/0.84 = 16.071: a = 16.324; A_s = 16.071 16.324/435
BLOCKS = {"EN 1992-1-1:2004": 0.59856, "ACI 318-19": 0.57594, "IS 456:2000": 0.60310}


@pytest.mark.parametrize("block", BLOCKS)
def test_one_way_slab_has_its_static_moment_and_the_steel_of_a_hand_calculation(one_way, block):
    line = {"start": (0, 2.9, 0), "end": (SPAN, 2.9, 0), "width": 2.0, "stations": 49}
    (found,) = strips(one_way, s={"zone": "plate", **line, "block": block, "load": {"G": -LOAD}})
    x = found.s
    middle = found.totals[:, 0, 3] / 1e6
    assert middle.max() == pytest.approx(2.0 * LOAD * SPAN**2 / 8, rel=1e-6)
    at_nodes = np.isclose(x * 4 % 1.0, 0.0) & (x > 0) & (x < SPAN)
    assert_allclose(middle[at_nodes], (2.0 * LOAD * x * (SPAN - x) / 2)[at_nodes], rtol=1e-4)
    assert found.imbalance.max() < 0.005
    checks = found.checks().iloc[0]
    assert checks["load from shear [kN]"] == pytest.approx(-LOAD * 2.0 * SPAN, rel=0.05)  # element means at the ends
    assert checks["load declared [kN]"] == pytest.approx(-LOAD * 2.0 * SPAN, rel=1e-3)
    frame = found.frame()
    per_metre = frame[frame["combination"] == "U1"].set_index("s [m]")
    assert per_metre["M per width [kNm/m]"].max() == pytest.approx(54.0, rel=1e-6)
    assert per_metre.loc[3.0, "bottom by stress block [mm2/m]"] == pytest.approx(1e3 * BLOCKS[block], rel=5e-5)
    assert set(per_metre["face in tension"]) <= {"bottom", "top"}
    service = frame[frame["combination"] == "S1"]
    assert service["bottom by stress block [mm2/m]"].isna().all()
    assert service["status"].eq("not designed: a service combination").all()


def test_a_strip_that_is_pulled_through_has_bars_on_both_faces(tmp_path):
    """m 10 kNm/m and n 500 kN/m: forces of both layers by equilibrium, 704 and 446 mm2/m."""
    job = write_plate(tmp_path)
    table = pd.read_csv(tmp_path / "resultants.csv").query("case == 'G'")
    table[["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]] = [500.0, 0, 0, 10.0, 0, 0, 0, 0]
    table.to_csv(tmp_path / "resultants.csv", index=False)
    job.write_text(
        job.read_text().replace("G = 1.35, Q = 1.5", "G = 1.0").replace("G = 1.0, Q = 0.5", "G = 1.0")
        + '[strips.s]\nzone = "plate"\nstart = [0, 1.5, 0]\nend = [3, 1.5, 0]\nwidth = 1\n'
    )  # fmt: skip
    frame = run_job(job, pictures=False).strips[0].frame().query("combination == 'U1'")
    assert_allclose(frame["bottom by stress block [mm2/m]"], (500 * 89 + 10e3) / 178 / 500 * 1.15 * 1e3, rtol=1e-6)
    assert_allclose(frame["top by stress block [mm2/m]"], (500 * 89 - 10e3) / 178 / 500 * 1.15 * 1e3, rtol=1e-6)
    assert (frame["status"] == "ok").all()


def test_a_strip_across_and_askew_turns_the_moments(one_way):
    across, askew = strips(
        one_way,
        across={"zone": "plate", "start": (3, 0.1, 0), "end": (3, 5.9, 0), "width": 1.0},
        askew={"zone": "plate", "start": (2, 2, 0), "end": (4, 4, 0), "width": 0.01},
    )
    assert abs(across.totals[..., 3]).max() < 1e-3 * 54e6
    middle = askew.totals[20, 0] / askew.covered[20] / 1e3
    assert_allclose(middle[3:6], [27e3, 27e3, -27e3], rtol=1e-3)  # half of mx each way at 45 degrees
    assert np.isnan(askew.steel).all()


def test_cuts_of_the_pump_wall_equal_statics():
    """Moment and shear of every case 1 m above the base against the loads above it."""
    by_hand = json.loads((WALL / "plain" / "checks.json").read_text())
    cases = "".join(
        f'[[combinations]]\nname = "{c}"\nsituation = "frequent"\nfactors = {{ {c} = 1.0 }}\n' for c in by_hand
    )
    import tempfile
    from pathlib import Path

    with tempfile.TemporaryDirectory() as folder:
        came = Project.of(write_wall(Path(folder), PLAIN, ZONE, COMBINATIONS + cases)).load()
    line = {"start": (6, 0, 0), "end": (6, 0, 6), "width": 12.2, "stations": 25, "combinations": tuple(by_hand)}
    (found,) = strips(came, s={"zone": "wall", **line})
    at = found.totals[4] / np.where(np.arange(8) >= 3, 1e6, 1e3)
    at[:, 6] *= 1e3
    for case, checks in by_hand.items():
        row = at[found.combinations.index(case)]
        for key, value in (("Fz", row[0]), ("Fy", row[6]), ("Mx", -row[3])):
            if f"cut z=1.0 {key}" in checks:
                corner, statics, _ = checks[f"cut z=1.0 {key}"]
                assert abs(value) == pytest.approx(abs(corner), rel=1e-4)
                assert abs(value) == pytest.approx(abs(statics), rel=0.008)
    base = found.checks().set_index("combination").loc["EP"]
    assert base["load from shear [kN]"] == pytest.approx(by_hand["EP"]["cut z=0.0 one-sided Fy"][0], rel=1e-4)


def test_a_strip_of_the_demo_balances(tmp_path):
    came = Project.of(copy_demo(tmp_path / "demo")).load()
    radial = next(s for s in strips_of(came, Faults()) if s.name == "rim to drum")
    checks = radial.checks().set_index("combination")
    dead, live = ("1 SW + 1 FIN + 1 DOME", "1 SW + 1 FIN + 1 DOME + 1 QI")
    for expression in (dead, live):
        row = checks.loc[next(r.name for r in came.combinations.rows if r.expression == expression)]
        assert row["moment imbalance [% of maximum]"] < 2.0
        assert row["load from shear [kN]"] == pytest.approx(row["load declared [kN]"], rel=0.035)


@pytest.mark.parametrize(
    ("strip", "words"),
    [
        ({"zone": "roof"}, ["strips.s.zone: no zone 'roof'", "there are plate"]),
        ({"start": (0, 0, 0), "end": (0, 0, 3)}, ["the line leaves the surface"]),
        ({"start": (2, 8, 0), "end": (4, 8, 0)}, ["outside zone plate"]),
        ({"load": {"X": 1.0}}, ["strips.s.load: names case 'X'", "there are G"]),
        ({"combinations": ("X*",)}, ["no combination has such a name", "U1"]),
    ],
)
def test_strips_that_cannot_be_are_named(one_way, strip, words):
    line = {"zone": "plate", "start": (1, 1, 0), "end": (5, 1, 0), "width": 1.0}
    with pytest.raises(InputError) as error:
        strips(one_way, s={**line, **strip})
    for word in words:
        assert word in str(error.value)


def test_averaging_a_peak_keeps_what_a_section_carries(cli, tmp_path):
    zone = ZONE.replace("minimum", "peaks = { width = 1.0, at = [[9, 0, 1.25]] }\nminimum")
    job = write_wall(tmp_path, PLAIN, zone)
    result = run_job(job, pictures=False)
    (z,) = result.zones
    place = np.array([9000.0, 0.0, 1250.0])
    assert set(np.abs(z.xyz[z.averaged.point] - place).max(1).round(6) <= 500.0) == {True}
    peak = int(np.linalg.norm(z.xyz - place, axis=1).argmin())
    for component, axis in ((3, 2), (4, 0), (6, 2)):  # mx and vx over a height, my over a length
        at = np.abs(z.xyz[:, 2 - axis] - place[2 - axis]) < 1.0
        # the corner of the opening: its sill below, its jamb beside; the side with less concrete counts
        away = (place[axis] - z.xyz[:, axis]) * (1 if axis == 2 else -1)
        at &= (away > -1.0) & (away < 501.0)
        line = z.xyz[at, axis].argsort()
        of = z.raw[at][line][:, :, component]
        mean = np.trapezoid(of, z.xyz[at, axis][line], axis=0) / np.ptp(z.xyz[at, axis])
        assert_allclose(z.cases[peak, :, component], mean, rtol=1e-3, atol=1e-3 * np.abs(of).max())
    untouched = np.setdiff1d(np.arange(len(z.labels)), z.averaged.point)
    assert_allclose(z.cases[untouched], z.raw[untouched])
    peaks = pd.read_parquet(tmp_path / "results" / "averaged_peaks.parquet")
    assert (peaks.query("component == 'vx'")["averaged"] < peaks.query("component == 'vx'")["raw"].max() / 4).all()
    row = peaks.set_index(["point", "component"]).loc[(z.labels[peak], "mx")]
    combined = result.project.combinations.ultimate().factors
    for name, cases in (("raw", z.raw), ("averaged", z.cases)):
        assert row[name] == pytest.approx(np.abs(combined @ cases[peak, :, 3]).max() / 1e3, rel=1e-9)
    points = result.points.set_index("point")["averaged over [m]"]
    assert points[z.labels[peak]] == 1.0
    assert points.isna().sum() == len(untouched)
    assert any("not the raw peak, at these points: wall: " in line for line in lines(result))
    assert "Peak averaged over a width" in cli("explain", job, "--point", z.labels[peak])[1]
    found = write_wall(tmp_path, PLAIN, ZONE.replace("minimum", "peaks = { width = 0.5 }\nminimum"))
    (z,) = Project.of(found).load().zones
    corners = {(x, h) for x in (2.5, 4.25) for h in (2.5, 3.75)} | {(x, h) for x in (7.5, 9.0) for h in (1.25, 3.75)}
    assert {(x, h) for x, _, h in (z.averaged.places / 1e3).round(6).tolist()} == corners


def lines(result):
    from sandwich.design.summary import certificate_lines

    return certificate_lines(result.certificate)
