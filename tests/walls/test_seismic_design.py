"""Bars and ties that the tool chooses for boundary elements, and those that are given: by hand at what it prints."""

import csv
import math
import re
import shutil
from dataclasses import replace

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import ACI318, EN1992, IS456, Concrete, InputError, Steel, run_job, try_job
from sandwich.design.bar_sets import ParallelBars
from sandwich.design.walls.bars import BarGroup, Cover, Ties, WallSteel
from sandwich.design.walls.ends import end_checks, laid_end
from sandwich.standards.interface import SeismicDemand, SeismicShear, WallPart
from standards.test_wall_ends import end
from walls.test_seismic_ends import ALONE, foot
from walls.test_walls_of_a_plate import G, L, T, write

RULE = "rule = { diameters = [10, 12, 16, 20, 25], spacing_min = 100, spacing_max = 200, spacing_step = 50 }\n"


def designed(folder, standard, seismic, g=5.0, e=2.0, bars=""):
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}", f"seismic = {seismic}\n{RULE}")
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    job += bars + f'[design]\nstandard = "{standard}"\n'
    job += f'[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = {{ G = {g}, E = {e} }}\n'
    return run_job(write(folder, job), pictures=False)


def read(row):
    """Number, diameter and length of the bars at an end; diameter, spacing and legs of its ties."""
    count, d = map(float, row["provided bars [mm]"].split("x"))
    ties = [float(v) for v in re.findall(r"[0-9.]+", row["provided ties [mm]"])]
    return count, d, row["provided over [mm]"], ties


def one_source(result):
    """The tables of a run agree on bars and on what fails."""
    bars = result.frame("wall bars").set_index(["storey", "part"])
    ends, checks = result.frame("boundary elements"), result.frame("boundary checks")
    for _, row in ends.iterrows():
        here = checks[(checks["storey"] == row["storey"]) & (checks["end"] == row["end"])]
        assert row["utilisation"] == pytest.approx(here["utilisation"].max() if len(here) else 0.0)
        assert bars.loc[(row["storey"], "W"), "each end [mm]"] == row["provided bars [mm]"]
        assert row["status"].startswith("exceeded") == (row["utilisation"] > 1 + 1e-9)


def test_en_1998_by_hand(tmp_path):
    result = designed(tmp_path, "EN 1992-1-1:2004", "{ q_0 = 3.0, T_1 = 0.3, T_C = 0.5 }")
    one_source(result)
    row = foot(result).loc["left"]
    assert row["boundary element"] == "needed"
    count, d, length, (d_t, s, across, along) = read(row)
    N, f_cd, f_yd = 5.0 * G * 1e3 * L, 20.0, 500 / 1.15
    vertical = float(result.frame("wall bars").iloc[0]["vertical [%]"]) / 100
    horizontal = float(str(result.frame("wall bars").iloc[0]["horizontal [mm]"]).split("/")[0])
    nu, omega, b_0 = N / (L * T * f_cd), vertical * f_yd / f_cd, T - 60 - d_t
    # the loop is closed: mu_phi goes by what the base carries with these bars
    bending = result.frame("wall checks").set_index(["storey", "check"]).loc[("storey 1", "bending with axial force")]
    over = bending["demand"] / max(bending["capacity"], bending["demand"])
    mu = 1 + 2 * (3.0 * over - 1) * 0.5 / 0.3
    need = max(30 * mu * (nu + omega) * f_yd / 200e3 * T / b_0 - 0.035, 0)
    # rows from cover, horizontal bars and half a bar to half a bar before the end of the length
    outer = max(horizontal, d_t)
    first, rows = 30 + outer + d / 2, count / 2
    last = length - d
    h_0 = last + d / 2 + d_t - 30 - d_t
    gaps, wide = (last - first) / (rows - 1), T - 2 * first
    alpha = 1 - (2 * (rows - 1) * gaps**2 + 2 * wide**2) / (6 * b_0 * h_0)
    alpha *= (1 - s / (2 * b_0)) * (1 - s / (2 * h_0))
    volume = (across * b_0 + along * h_0) * math.pi * d_t**2 / 4 / (s * b_0 * h_0) * f_yd / f_cd
    asked = max(need / alpha, 0.08)
    assert volume >= asked
    checks = result.frame("boundary checks").query("storey == 'storey 1' and end == 'left'").set_index("check")
    assert checks.loc["ties", "utilisation"] == pytest.approx(asked / volume, rel=1e-3)
    assert checks.loc["distance of held bars", "demand"] == pytest.approx(max(gaps, wide), rel=1e-6)
    assert checks.loc["bars at the end", "demand"] == 0.5
    assert checks.loc["length of the end", "capacity"] == pytest.approx(h_0, rel=1e-6)
    length = max((nu + omega) * L * T / b_0 * (1 - 0.0035 / (0.0035 + 0.1 * alpha * asked)), 0.15 * L, 1.5 * T)
    assert checks.loc["length of the end", "demand"] == pytest.approx(length, rel=1e-3)
    # longer than a fifth of the wall it has to be a tenth of the storey thick, which no bars mend
    assert set(checks.index[checks["utilisation"] > 1.0]) == {"thickness of the end"}
    assert row["status"] == "exceeded: 300 mm of thickness"
    shears = result.frame("seismic shear")
    assert shears["utilisation"].max() <= 1.0


def test_aci_318_by_hand(tmp_path):
    result = designed(tmp_path, "ACI 318-19", "{}")
    one_source(result)
    rows = foot(result)
    row = rows.loc[rows["demand"].idxmax()]
    count, d, length, (d_t, s, across, along) = read(row)
    core = (length - d / 2 + d_t - 30) * (T - 60)
    asked = max(0.3 * (length * T / core - 1), 0.09) * 30 / 500
    legs = math.pi * d_t**2 / 4 / s
    checks = result.frame("boundary checks").query(f"storey == 'storey 1' and end == '{row.name}'").set_index("check")
    for name, number, width in (("across", across, length - d / 2 + d_t - 30), ("along", along, T - 60)):
        assert checks.loc[f"ties {name}", "utilisation"] == pytest.approx(asked * width / (number * legs), rel=1e-6)
        assert number * legs >= asked * width
    assert s <= min(T / 3, 6 * d, 150)
    assert checks.loc["spacing of ties", "demand"] == s
    # 6 (psi) or 0.5 (MPa) of the root of f_c over f_y within 0.15 l_w, where h_w/l_w is 2 or more: here it is 1.5
    assert "bars at the end" not in checks.index
    assert (checks["utilisation"] <= 1.0 + 1e-9).all()
    assert count / 2 >= (length - 2 * (30 + d)) / 200


def test_is_13920_by_hand(tmp_path):
    result = designed(tmp_path, "IS 456:2000", "{}", g=8.0)
    one_source(result)
    rows = foot(result)
    row = rows.loc[rows["demand"].idxmax()]
    count, d, length, _ = read(row)
    checks = result.frame("boundary checks").query(f"storey == 'storey 1' and end == '{row.name}'").set_index("check")
    A_s, area = count * math.pi * d**2 / 4, length * T
    short = 0.4 * 37.5 * (area - A_s) + 0.67 * 500 * A_s
    assert checks.loc["axial force of the end", "capacity"] == pytest.approx(short / 1e3, rel=1e-6)
    # moments of the edge to the middle of the boundary element, less what the web carries
    assert checks.loc["axial force of the end", "demand"] >= 8 * G * 1e3 * L * length / L / 1e3 * (1 - 1e-9)
    assert checks.loc["tension of the end", "capacity"] == pytest.approx(0.87 * 500 * A_s / 1e3, rel=1e-6)
    assert A_s >= 0.008 * row["length [mm]"] * T
    assert (checks["utilisation"] <= 1.0 + 1e-9).all()
    # 10.4.2 and Annex A: the web carries its part of the moment, 20 mm above the base; the ends have the rest
    result = designed(tmp_path / "more", "IS 456:2000", "{}", g=3.0, e=4.0)
    rows = foot(result)
    row = rows.loc[rows["demand"].idxmax()]
    checks = result.frame("boundary checks").query(f"storey == 'storey 1' and end == '{row.name}'").set_index("check")
    N, M, length = 3.0 * G * 1e3 * L, 4.0 * 300e3 * (6000 - 20), row["provided over [mm]"]
    phi = 0.87 * 500 * result.frame("wall bars")["vertical [%]"].iloc[0] / 100 / 37.5
    of, beta = N / (37.5 * L * T), 0.87 * 500 / 0.0035 / 200e3
    x = (phi + of) / (2 * phi + 0.36)
    assert x < 1 / (1 + beta)
    M_uv = phi * ((1 + of / phi) * (0.5 - 0.416 * x) - x**2 * (0.168 + beta**2 / 3)) * 37.5 * T * L**2
    share, couple = N * length / L, (M - M_uv) / (L - length)
    assert checks.loc["axial force of the end", "demand"] == pytest.approx((share + couple) / 1e3, rel=1e-4)
    assert checks.loc["tension of the end", "demand"] == pytest.approx((couple - 0.8 * share) / 1e3, rel=1e-4)


GIVEN = """
[[walls.wall.bars]]
vertical = { diameter = 12, spacing = 200 }
horizontal = { diameter = 10, spacing = 200 }
ends = { count = 14, diameter = 16, length = 800 }
ties = { diameter = 8, spacing = 200, across = 2 }
"""


def test_too_few_ties_are_named_with_what_cures_them(tmp_path):
    result = designed(tmp_path / "a", "EN 1992-1-1:2004", "{ q_0 = 3.0 }", bars=GIVEN)
    one_source(result)
    failing = result.frame("boundary checks").query("storey == 'storey 1' and utilisation > 1").set_index("check")
    assert set(failing.index) == {"ties", "spacing of ties", "distance of held bars"}
    assert failing.loc["spacing of ties", "status"].iloc[0] == "exceeded: ties at 66 mm"
    assert set(failing["clause"]) == {"5.4.3.4.2(4), (9)", "5.4.3.2.2(11)a", "5.4.3.2.2(11)b"}
    row = foot(result).loc["left"]
    assert row["governing check"] == failing["utilisation"].idxmax()
    assert "bars with legs of ties at 200 mm" in row["status"]
    # what would do is rounded to the safe side, and is told in the units shown
    shown = GIVEN + '[output]\nunits = "US"\ncsv = true\n'
    result = designed(tmp_path / "us", "ACI 318-19", "{}", bars=shown)
    checks, told = result.frame("boundary checks"), pd.read_csv(tmp_path / "us" / "results" / "boundary_checks.csv")
    wide = checks["check"] == "spacing of ties"
    for limit, status, us in zip(checks["capacity"][wide], checks["status"][wide], told["status"][wide], strict=True):
        assert status == f"exceeded: ties at {math.floor(limit + 1e-6)} mm"
        assert us == f"exceeded: ties at {math.floor(limit + 1e-6) / 25.4:.4g} in"
    assert row["provided ties [mm]"] == "8/200, 2 across, 2 along"
    cured = GIVEN.replace("spacing = 200, across = 2", "spacing = 65, across = 7")
    held = designed(tmp_path / "b", "EN 1992-1-1:2004", "{ q_0 = 3.0 }", bars=cured)
    now = held.frame("boundary checks").query("storey == 'storey 1'").set_index("check")
    assert (now.loc[list(set(failing.index)), "utilisation"] <= 1).all()
    with pytest.raises(InputError, match="ties are those of boundary elements; give seismic"):
        run_job(write(tmp_path / "b", ALONE.replace("seismic = {}\n", "") + GIVEN), pictures=False)


def test_lengths_are_stepped_or_constant(tmp_path):
    """Half of the moment in the upper storey: its ends are shorter, or as long as those below where that is asked for."""
    lengths = {}
    for way in ("stepped", "constant"):
        result = designed(tmp_path / way, "IS 456:2000", f'{{ length = "{way}" }}', e=1.8)
        frame = result.frame("boundary elements")
        needed = frame[frame["boundary element"] == "needed"]
        assert len(set(needed["storey"])) == 2
        lengths[way] = needed.groupby("storey")["provided over [mm]"].max()
        assert (frame["utilisation"] <= 1 + 1e-9).all()
    assert lengths["stepped"]["storey 2"] < lengths["stepped"]["storey 1"]
    assert lengths["constant"]["storey 2"] == lengths["constant"]["storey 1"] == lengths["stepped"]["storey 1"]


STEEL = WallSteel(ParallelBars(12, 200), ParallelBars(10, 200), BarGroup(12, 20, 900.0))


def use(standard, steel, which, layers=2, **more):
    """Largest utilisation of the ties of an end with some bars."""
    cover = Cover(30.0, layers)
    laid = laid_end(4000.0, 300.0, steel, cover, 0.0)
    need = standard.boundary(end(laid=laid, d_tie=laid.d_tie, d_b=20.0, **more))
    found = end_checks(need, laid, 4000.0, 300.0, by_volume=standard.ties_by_volume)
    return max((c.check.utilisation for c in found if c.check.name in which), default=0.0)


@given(
    st.sampled_from([ACI318(), EN1992.recommended(), IS456()]), st.sampled_from([8.0, 10.0, 12.0]),
    st.floats(50.0, 200.0), st.integers(2, 6), st.floats(2e6, 9e6),
)  # fmt: skip
def test_more_ties_never_raise_utilisation(standard, d, s, across, N):
    ties = Ties(d, s, across)
    ratios, spacing = ("ties", "ties across", "ties along"), ("spacing of ties",)
    before = use(standard, replace(STEEL, ties=ties), ratios, N=N)
    closer = replace(ties, spacing=0.9 * s)
    assert use(standard, replace(STEEL, ties=closer), ratios, N=N) <= before * (1 + 1e-9)
    assert use(standard, replace(STEEL, ties=closer), spacing) <= use(standard, replace(STEEL, ties=ties), spacing)
    more = replace(ties, across=across + 1)
    held = (*ratios, "distance of held bars")
    assert use(standard, replace(STEEL, ties=more), held, N=N) <= use(
        standard, replace(STEEL, ties=ties), held, N=N
    ) * (1 + 1e-9)


def test_moments_up_the_height_and_sliding_by_hand(tmp_path):
    """A pier of 1.25 by 6 m beside a slot: slender, so its moments fall from the base no faster than its height."""
    slot = [(1250, 2500, -1, 7000)]
    bars = "[[walls.wall.bars]]\nvertical = { diameter = 12, spacing = 100 }\n"
    bars += "horizontal = { diameter = 10, spacing = 100 }\n"
    for kind, cot in (('"DCM"', 2.5), ('"DCH", q_0 = 3, T_1 = 0.3, T_C = 0.5', 1.0)):
        job = ALONE.replace("seismic = {}", f"seismic = {{ ductility = {kind} }}") + bars
        job += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 3.0, E = 0.3 }\n'
        result = run_job(write(tmp_path, job, holes=slot), pictures=False)
        forces = result.frame("wall forces").query("part == 'A W'").set_index(["storey", "at", "case"])
        shear = result.frame("seismic shear").query("part == 'A W'").set_index(["storey", "check"])
        M_base = 0.3 * forces.loc[("storey 1", "bottom", "E"), "M2 [kNm]"]
        a_1 = 0.8 * 1.25 * cot / 2
        asked = M_base * (1 - (3.02 - a_1) / 6.0)
        assert shear.loc[("storey 2", "bending up the height"), "demand"] == pytest.approx(asked, rel=1e-6)
        at_analysis = 0.3 * forces.loc[("storey 2", "bottom", "E"), "M2 [kNm]"]
        assert asked > at_analysis
    base = shear.loc[("storey 1", "sliding at the base")]
    assert ("storey 2", "sliding at the base") not in shear.index
    rho, f_yd, f_cd, l_w = 2 * math.pi * 36 / 100 / T, 500 / 1.15, 20.0, 1250.0
    A_sj, N = rho * l_w * T, -1e3 * (0.3 * forces.loc[("storey 1", "bottom", "E"), "N [kN]"] - 3.0 * 187.5)
    x = next(x for x in range(1, 1250) if 0.8 * x * T * f_cd + rho * T * f_yd * (x - (l_w - x)) >= N)
    most = 0.5 * 0.6 * (1 - 30 / 250) * f_cd * x * T
    rubs = min(0.7 * ((A_sj * f_yd + N) * x / l_w + M_base * 1e6 / (0.8 * l_w)), most)
    dowels = A_sj * min(1.3 * math.sqrt(f_cd * f_yd), 0.25 * f_yd)
    assert base["capacity"] == pytest.approx((dowels + rubs) / 1e3, rel=0.05)


def test_shear_weaker_than_bending_has_the_smaller_factor():
    """21.2.4.1 of ACI 318: 0.60 where the bending strength brings more shear than is carried."""
    part = WallPart(
        concrete=Concrete(30.0), steel=Steel(420.0), situation="seismic", length=4000.0, thickness=300.0,
        height=24e3, along=0.003, across=0.003, diameters=(12.0, 12.0), spacings=(200.0, 200.0),
    )  # fmt: skip
    V_n = 1.2e6 * (0.17 * math.sqrt(30) + 0.003 * 420)
    for over, phi in ((0.99, 0.75), (1.01, 0.60)):
        of = SeismicShear(
            part=part, h_w=24e3, h_s=3e3, z=0.0, storeys=8, M_u_base=1e9, M_R_base=1e9, M_n_base=over * V_n / 1e6 * 1e9,
            M_pr_base=1.5e9, xi=0.2, asked=SeismicDemand(),
        )  # fmt: skip
        _, _, checks = ACI318().seismic_shear(of, [1e6], [0.0], [1e9])
        shear = next(c for c in checks if c.name == "shear in plane")
        assert float(shear.capacity[0]) == pytest.approx(phi * V_n, rel=1e-6)
        assert ("21.2.4.1" in shear.clause) == (phi < 0.7)


@pytest.mark.parametrize(("h_w", "wanted"), [(3000.0, 0.25 + 0.5 * 0.4 * 0.35), (4999.0, 0.25), (5001.0, 0.25)])
def test_upright_bars_of_squat_walls_of_is_13920(h_w, wanted):
    """Table 1: 0.0025 + 0.5 (1 - h_w/l_w)(rho_h - 0.0025) where a wall is lower than long."""
    part = WallPart(
        concrete=Concrete(37.5, "cube"), steel=Steel(500.0), situation="seismic", length=5000.0, thickness=250.0,
        height=3000.0, along=0.006, across=0.003, diameters=(12.0, 12.0), spacings=(200.0, 200.0),
    )  # fmt: skip
    of = SeismicShear(
        part=part, h_w=h_w, h_s=3000.0, z=0.0, storeys=1, M_u_base=1e9, M_R_base=1e9, M_n_base=1e9, M_pr_base=1.2e9,
        xi=0.2, asked=SeismicDemand(),
    )  # fmt: skip
    found = {c.name: c for c in IS456().seismic_shear(of, [1e5], [-1e6], [1e9])[2]}["minimum vertical"]
    assert float(found.demand[0]) == pytest.approx(wanted, abs=2e-4)


def test_wall_piers_of_aci_318():
    """18.10.8: five thicknesses long and more than twice as high; hoops 150 mm apart, 2.5 times the shear."""
    part = WallPart(
        concrete=Concrete(30.0), steel=Steel(420.0), situation="seismic", length=1250.0, thickness=250.0,
        height=4000.0, along=0.004, across=0.003, diameters=(12.0, 12.0), spacings=(200.0, 200.0),
    )  # fmt: skip
    of = SeismicShear(
        part=part, h_w=1500.0, h_s=3000.0, z=0.0, storeys=1, M_u_base=1e9, M_R_base=1e9, M_n_base=1e9, M_pr_base=1.2e9,
        xi=0.2, asked=SeismicDemand(),
    )  # fmt: skip
    factor, clause, checks = ACI318().seismic_shear(of, [1e5], [0.0], [1e9])
    assert (factor, clause) == (2.5, "18.10.8.1(a)")
    hoops = {c.name: c for c in checks}["spacing of hoops"]
    assert float(hoops.utilisation[0]) == pytest.approx(200 / 150)
    wide = replace(of, part=replace(part, length=1600.0))  # 6.4 thicknesses: a wall
    factor, _, checks = ACI318().seismic_shear(wide, [1e5], [0.0], [1e9])
    assert factor == 1.0
    assert "spacing of hoops" not in {c.name for c in checks}


def test_thick_ends_have_layers_and_lengths_in_units_of_the_country(tmp_path):
    """A wall of 600 mm: bars over its thickness no further apart than ties hold; inches in what is shown."""
    folder = tmp_path / "a"
    folder.mkdir()
    job = ALONE.replace("seismic = {}", f"seismic = {{}}\n{RULE}")
    job = (
        job.replace("f_yk = 500", "f_yk = 500\nthickness = 600")
        + '[design]\nstandard = "ACI 318-19"\n[output]\nunits = "US"\ncsv = true\n'
    )
    job += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 16.0, E = 6.0 }\n'
    result = run_job(write(folder, job), pictures=False)
    rows = foot(result)
    row = rows.loc[rows["demand"].idxmax()]
    assert row["boundary element"] == "needed"
    count, d, length, (d_t, _, across, along) = read(row)
    assert along == 3
    assert count == across * along
    checks = result.frame("boundary checks").query(f"storey == 'storey 1' and end == '{row.name}'").set_index("check")
    outer = max(d_t, float(str(result.frame("wall bars").iloc[0]["horizontal [mm]"]).split("/")[0]))
    over = (600 - 2 * (30 + outer + d / 2)) / (along - 1)
    row_apart = (length - d - (30 + outer + d / 2)) / (across - 1)
    assert checks.loc["distance of held bars", "demand"] == pytest.approx(max(over, row_apart), abs=0.01)
    assert (checks["utilisation"] <= 1 + 1e-9).all()
    head, first = (result.job.results / "boundary_elements.csv").read_text().splitlines()[:2]
    assert "length [in]" in head
    assert "provided over [in]" in head
    shown = dict(zip(csv_row(head), csv_row(first), strict=True))
    worst = result.frame("boundary elements").iloc[0]["length [mm]"]
    assert float(shown["length [in]"]) == pytest.approx(worst / 25.4, rel=2e-3)


def csv_row(line):
    return next(csv.reader([line]))


def test_noise_moves_no_bars_and_a_second_run_tells_the_same(tmp_path):
    one = designed(tmp_path / "a", "EN 1992-1-1:2004", "{ q_0 = 3.0 }")
    again = run_job(one.job, pictures=False)
    for name in ("wall bars", "boundary elements", "boundary checks", "seismic shear"):
        pd.testing.assert_frame_equal(one.frame(name), again.frame(name))
    folder = tmp_path / "b"
    shutil.copytree(tmp_path / "a", folder, ignore=shutil.ignore_patterns("results"))
    table = pd.read_csv(folder / "resultants.csv")
    rng = np.random.default_rng(3)
    forces = ["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]
    table[forces] *= 1 + 1e-9 * rng.standard_normal(table[forces].shape)
    table.sample(frac=1.0, random_state=5).to_csv(folder / "resultants.csv", index=False)
    noisy = run_job(folder / "job.toml", pictures=False)
    for name in ("vertical [mm]", "horizontal [mm]", "each end [mm]", "ties of ends [mm]"):
        assert list(noisy.frame("wall bars")[name].astype(str)) == list(one.frame("wall bars")[name].astype(str))
    key = ["storey", "end", "check"]
    both = [r.frame("boundary checks").set_index(key)["utilisation"].sort_index() for r in (one, noisy)]
    np.testing.assert_allclose(both[0], both[1], rtol=1e-6)


def test_an_end_is_tried(tmp_path):
    """Fewer ties on the forces of the last run: what a run with them gives; all of an end in one call."""
    result = designed(
        tmp_path / "a", "EN 1992-1-1:2004", "{ q_0 = 3.0 }", bars=GIVEN.replace("across = 2", "across = 7")
    )
    given = GIVEN.replace("[[walls.wall.bars]]\n", "").replace("across = 2", "across = 4")
    text = "[{" + ", ".join(line for line in given.strip().splitlines()) + "}]"
    trial = try_job(result.job, {"walls.wall.bars": text}).walls.parts.set_index("storey")
    other = designed(
        tmp_path / "b", "EN 1992-1-1:2004", "{ q_0 = 3.0 }", bars=GIVEN.replace("across = 2", "across = 4")
    )
    run = (
        pd.concat([other.frame(n) for n in ("boundary checks", "seismic shear")]).groupby("storey")["utilisation"].max()
    )
    assert trial.loc["storey 1", "after"] == pytest.approx(run["storey 1"], rel=1e-9)
    assert "4 across" in trial.loc["storey 1", "bars after [mm]"]
    was = (
        pd.concat([result.frame(n) for n in ("boundary checks", "seismic shear")])
        .groupby("storey")["utilisation"]
        .max()
    )
    assert trial.loc["storey 1", "before"] == pytest.approx(was["storey 1"], rel=1e-9)
    assert trial.loc["storey 1", "after"] >= trial.loc["storey 1", "before"]


def test_shear_of_aci_318_goes_by_the_whole_wall(tmp_path):
    """A panel of 2.5 by 6 m in storeys of 3 m: alpha_c is 0.17 by 2.4, not 0.25 by 1.2 of the storey."""
    job = ALONE.replace("seismic = {}\n", "") + GIVEN.replace("ties", "# ties").replace("ends", "# ends")
    job += '[design]\nstandard = "ACI 318-19"\n'
    job += '[[combinations]]\nname = "U"\nsituation = "persistent"\nfactors = { G = 3.0, E = 0.3 }\n'
    result = run_job(write(tmp_path, job, holes=[(2500, 4100, -1, 7000)]), pictures=False)
    row = result.frame("wall checks").query("storey == 'storey 1' and check == 'shear in plane'").iloc[0]
    V_n = 2500 * T * (0.17 * math.sqrt(30) + 2 * math.pi * 25 / 200 / T * 500)
    assert row["capacity"] == pytest.approx(0.75 * V_n / 1e3, rel=1e-6)
