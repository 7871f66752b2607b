"""Bearing walls and footing walls of a job against calculations by hand, a number a step."""

import math
import re

import numpy as np
import pandas as pd
import pytest

from sandwich import InputError, run_job

HEAD = """
title = "Walls by hand"
[design]
standard = "{standard}"
[output]
csv = true
"""
CASES = """
[cases.G]
kind = "permanent"
[cases.Q]
kind = "imposed"
category = "C"
[cases.W]
kind = "wind"
"""


def job(tmp_path, text, standard="EN 1992-1-1:2004"):
    (tmp_path / "job.toml").write_text(HEAD.format(standard=standard) + CASES + text)
    return tmp_path / "job.toml"


def combination(name, situation, **factors):
    inner = ", ".join(f"{k} = {v}" for k, v in factors.items())
    return f'[[combinations]]\nname = "{name}"\nsituation = "{situation}"\nfactors = {{ {inner} }}\n'


def stress(depth, x):
    """Of bars [MPa], tension positive, where the edge is at 3.5 per mille."""
    return np.clip(200e3 * 0.0035 * (depth - x) / x, -434.78, 434.78)


def test_a_bearing_wall_by_en_1992(tmp_path):
    """4.2 m, 200 mm, 0.8 m of parapet: 40 kN/m and 30 kN every 2 m at 50 mm, wind 0.9 and 1.2 kN/m2."""
    text = (
        combination("U", "persistent", G=1.35, Q=1.05, W=-1.5)
        + """
[bearing_walls.store]
height = 4.2
parapet = 0.8
thickness = 200
self_weight = "G"
vertical = { diameter = 10, spacing = 200 }
horizontal = { diameter = 8, spacing = 200 }
loads = [{ case = "G", line = 40, eccentricity = 50 },
         { case = "Q", point = 30, spacing = 2.0, bearing = 200, eccentricity = 50 }]
wind = [{ case = "W", wall = 0.9, parapet = 1.2 }]
"""
    )
    frame = run_job(job(tmp_path, text), pictures=False).frame("bearing walls").set_index("section")
    P = 1.35 * 40 + 1.05 * 30 / min(2.0, 0.2 + 4 * 0.2)  # kN/m, the point load on 1.0 m
    head = P * 0.05
    w, w_p = -1.5 * 0.9, -1.5 * 1.2
    middle = head / 2 + w * 4.2**2 / 8 - w_p * 0.8**2 / 4
    own = 1.35 * 25 * 0.2
    assert frame.loc["head", "M first order [kNm/m]"] == pytest.approx(head - w_p * 0.8**2 / 2, rel=5e-3)
    assert frame.loc["middle", "M first order [kNm/m]"] == pytest.approx(middle, rel=5e-3)
    N = P + own * (0.8 + 2.1)
    assert -frame.loc["middle", "N [kN/m]"] == pytest.approx(N, rel=5e-3)
    assert -frame.loc["foot", "N [kN/m]"] == pytest.approx(P + own * 5.0, rel=5e-3)
    # second order at mid-height: l_0 = 4.2, lambda 72.7; equal moments all along
    n, A_s, d = N * 1e3 / (200e3 * 20), 2 * 5 * math.pi * 25, 200 - 30 - 8 - 5
    M_0 = abs(middle) * 1e6 + N * 1e3 * 4200 / 400
    assert 4200 * math.sqrt(12) / 200 > 20 / 1.4 * math.sqrt(1 + 2 * A_s * 434.78 / (200e3 * 20)) * 0.7 / math.sqrt(n)
    K_phi = max(1 + (0.35 + 0.15 - 72.75 / 150) * 2, 1)
    M_0 = 0.6 * max(M_0, N * 1e3 * 20) + 0.4 * M_0  # the minimum eccentricity is in the larger one
    e_2 = K_phi * (434.78 / 200e3) / (0.45 * d) * 4200**2 / 10
    expected = max(M_0 + N * 1e3 * e_2, N * 1e3 * 20) / 1e6
    assert frame.loc["middle", "demand"] == pytest.approx(expected, rel=5e-3)
    # the same by the nominal stiffness: E_cm 32.84 GPa, rho 0.39 %
    stiff = job(tmp_path, text + 'second_order = "nominal stiffness"\n')
    other = run_job(stiff, pictures=False).frame("bearing walls").set_index("section").loc["middle"]
    EI = math.sqrt(1.5) * min(n * 72.75 / 170, 0.2) / 3 * 32837 / 1.2 * 1000 * 200**3 / 12
    N_B = math.pi**2 * (EI + 200e3 * A_s * (d - 100) ** 2) / 4200**2
    grown = M_0 * (1 + math.pi**2 / 8 / (N_B / (N * 1e3) - 1))
    assert other["demand"] == pytest.approx(max(grown, N * 1e3 * 20) / 1e6, rel=5e-3)
    assert other["clause"] == "5.2, 5.8.3, 5.8.7, 6.1(4)"
    # what is carried, by hand: a block 0.8 x deep, bars of both faces by the strain at their depth
    depths, each = np.array([d, 200 - d]), A_s / 2
    x = next(x for x in np.arange(60.0, 5.0, -0.01) if 16e3 * x - (each * stress(depths, x)).sum() <= N * 1e3)
    by_hand = 16e3 * x * (100 - 0.4 * x) + (each * stress(depths, x) * (depths - 100)).sum()
    assert frame.loc["middle", "capacity"] == pytest.approx(by_hand / 1e6, rel=0.01)
    middle = frame.loc["middle"]
    assert middle["utilisation"] == pytest.approx(middle["demand"] / middle["capacity"], rel=1e-6)


def test_a_bearing_wall_by_the_alternative_method_of_aci_318(tmp_path):
    """6.0 m, 200 mm, one curtain of 16 mm at 250: roof 20 kN/m at 75 mm and wind of 1.1 kN/m2."""
    text = (
        combination("U", "persistent", G=1.2, W=1.0)
        + combination("S", "characteristic", G=1.0, W=1.0)
        + """
[bearing_walls.tall]
height = 6.0
thickness = 200
curtains = 1
second_order = "alternative"
f_ck = 28
f_yk = 420
weight = 24
self_weight = "G"
vertical = { diameter = 16, spacing = 250 }
loads = [{ case = "G", line = 20, eccentricity = 75 }]
wind = [{ case = "W", wall = 1.1 }]
"""
    )
    frame = run_job(job(tmp_path, text, "ACI 318-19"), pictures=False).frame("bearing walls")
    middle = frame[frame["section"] == "middle"].iloc[0]
    P = (1.2 * 20 + 1.2 * 24 * 0.2 * 3.0) * 1e3
    M_ua = (1.2 * 20 * 0.075 / 2 + 1.1 * 6.0**2 / 8) * 1e6
    assert middle["M first order [kNm/m]"] == pytest.approx(M_ua / 1e6, rel=5e-3)
    A_s, E_c = 4 * math.pi * 64, 4700 * math.sqrt(28)
    a = (P + A_s * 420) / (0.85 * 28 * 1000)
    c = a / 0.85
    I_cr = max(200e3 / E_c, 6) * (A_s + P * 200 / (2 * 420 * 100)) * (100 - c) ** 2 + 1000 * c**3 / 3
    M_u = M_ua / (1 - 5 * P * 6000**2 / (0.75 * 48 * E_c * I_cr))
    assert middle["demand"] == pytest.approx(M_u / 1e6, rel=5e-3)
    a = (P / 0.9 + A_s * 420) / (0.85 * 28 * 1000)  # at its nominal axial force
    phi_M_n = 0.9 * (A_s * 420 + P / 0.9) * (100 - a / 2)
    assert middle["capacity"] == pytest.approx(phi_M_n / 1e6, rel=5e-3)
    assert middle["clause"] == "11.8.3"
    # in service past 2/3 M_cr the deflection runs on a line to that at M_n, and the axial force goes with it
    P = (20 + 24 * 0.2 * 3.0) * 1e3
    a = (P + A_s * 420) / (0.85 * 28 * 1000)
    c = a / 0.85
    I_cr = max(200e3 / E_c, 6) * (A_s + P * 200 / (2 * 420 * 100)) * (100 - c) ** 2 + 1000 * c**3 / 3
    M_n, M_cr = A_s * 420 * (100 - a / 2) + P * (200 - a) / 2, 0.62 * math.sqrt(28) * 1000 * 200**2 / 6
    to_cr, to_n = (5 * M * 6000**2 / (48 * E_c * I) for M, I in ((M_cr, 1000 * 200**3 / 12), (M_n, I_cr)))

    def deflection(M_sa):
        found = 0.0
        for _ in range(200):
            M_a, limit = M_sa + P * found, 2 / 3 * M_cr
            over = (M_a - limit) / (M_n - limit)
            found = M_a / M_cr * to_cr if M_a <= limit else 2 / 3 * to_cr + over * (to_n - 2 / 3 * to_cr)
        return found

    for W in (1.0, 3.0, 8.0):
        changed = text.replace("{ G = 1.0, W = 1.0 }", f"{{ G = 1.0, W = {W} }}")
        frame = run_job(job(tmp_path, changed, "ACI 318-19"), pictures=False).frame("bearing walls").set_index("check")
        row, M_sa = frame.loc["deflection in service"], (20 * 0.075 / 2 + W * 1.1 * 6.0**2 / 8) * 1e6
        assert (M_sa > 2 / 3 * M_cr) == (W > 1.0)
        assert row["demand"] == pytest.approx(deflection(M_sa), rel=1e-6)
        assert row[["capacity", "unit", "combination"]].tolist() == [40.0, "mm", "S"]
        assert row["status"] == ("ok" if W < 8.0 else "exceeded: deflection in service")
    with pytest.raises(InputError, match="no characteristic combination, which its deflection is checked for"):
        run_job(job(tmp_path, text.replace("characteristic", "frequent"), "ACI 318-19"), pictures=False)


def footing(**changed):
    own = {
        "length": 3.0, "thickness": 200, "footing_length": 4.0, "width": 1.4, "depth": 400, "soil_above": 8.0, "cover": 50,
    } | changed  # fmt: skip
    lines = "\n".join(f"{k} = {v}" for k, v in own.items() if v is not None)
    return f"""
[footing_walls.gable]
{lines}
self_weight = "G"
across = {{ diameter = 12, spacing = 200 }}
along = {{ diameter = 12, spacing = 200 }}
soil = {{ pressure = 250, friction = 0.5, passive = 20 }}
loads = [{{ case = "G", N = 400 }}, {{ case = "Q", N = 120 }}, {{ case = "W", M = 260, V = 70 }}]
"""


RULED = combination("U", "persistent", G=1.0, W=1.5) + combination("S", "characteristic", G=1.0, W=1.0)


def rows(tmp_path, text):
    return run_job(job(tmp_path, text), pictures=False).frame("footing walls").set_index("check")


def test_a_footing_wall_by_hand(tmp_path):
    """4.0 x 1.4 x 0.4 m under 400 kN, 260 kNm and 70 kN: whole contact in service, sections at 1.5 times the wind."""
    of = rows(tmp_path, RULED + footing())
    own = (25 * 0.4 + 8) * 1.4 * 4.0
    N, M = 400 + own, 260 + 70 * 0.4
    e = M / N
    assert e < 4.0 / 6
    assert of.loc["bearing pressure", "demand"] == pytest.approx(N / 5.6 * (1 + 6 * e / 4), rel=5e-3)
    assert of.loc["sliding", "demand"] == pytest.approx(1.5 * 70, rel=5e-3)
    assert of.loc["sliding", "capacity"] == pytest.approx(0.5 * N + 20 * 1.4 * 0.4, rel=5e-3)
    assert of.loc["overturning", "capacity"] == pytest.approx(N * 2 / M, rel=5e-3)
    # ultimate: the footing lifts, 2 N / (3 B (L/2 - e))
    e = 1.5 * M / N
    assert e > 4.0 / 6
    q = 2 * N / (3 * 1.4 * (2.0 - e)) - (25 * 0.4 + 8)
    assert of.loc["bending across", "demand"] == pytest.approx(q * 0.6**2 / 2, rel=5e-3)
    d = 0.4 - 0.05 - 0.006
    assert of.loc["shear across", "demand"] == pytest.approx(q * (0.6 - d), rel=5e-3)
    A_s = 5 * math.pi * 36
    a = A_s * 434.78 / (1000 * 20)
    assert of.loc["bending across", "capacity"] == pytest.approx(A_s * 434.78 * (344 - a / 2) / 1e6, rel=5e-3)
    k = 1 + math.sqrt(200 / 344)
    v = max(0.12 * k * (100 * A_s / 344e3 * 30) ** (1 / 3), 0.035 * k**1.5 * math.sqrt(30)) * 344
    assert of.loc["shear across", "capacity"] == pytest.approx(v, rel=5e-3)
    assert of.loc["minimum steel across", "demand"] == pytest.approx(0.26 * 2.896 / 500 * 344 * 1000, rel=5e-3)


def test_a_footing_wall_by_is_456(tmp_path):
    """3.6 x 1.2 x 0.35 m, M25 and Fe 415: the footing lifts in service already; cube strength in all its parts."""
    text = combination("U", "persistent", G=1.5, W=1.5) + combination("S", "characteristic", G=1.0, W=1.0)
    text += footing(footing_length=3.6, width=1.2, depth=350).replace(
        "thickness = 200", 'thickness = 200\nf_ck = 25\nstrength = "cube"\nf_yk = 415'
    )
    path = job(tmp_path, text, "IS 456:2000")
    of = run_job(path, pictures=False).frame("footing walls").set_index("check")
    own = (25 * 0.35 + 8) * 1.2 * 3.6
    N, M = 400 + own, 260 + 70 * 0.35
    e = M / N
    assert e > 0.6
    assert of.loc["bearing pressure", "demand"] == pytest.approx(2 * N / (3 * 1.2 * (1.8 - e)), rel=5e-3)
    assert of.loc["bearing pressure", "note"] == "part of the footing lifts in 1 of 1 combinations"
    assert of.loc["overturning", "capacity"] == pytest.approx(N * 1.8 / M, rel=5e-3)
    assert of.loc["sliding", "capacity"] == pytest.approx(0.5 * N + 20 * 1.2 * 0.35, rel=5e-3)
    q = 1.5 * (2 * N / (3 * 1.2 * (1.8 - e)) - own / (1.2 * 3.6))
    d, A_s = 350 - 50 - 6, 5 * math.pi * 36
    assert of.loc["bending across", "demand"] == pytest.approx(q * 0.5**2 / 2, rel=5e-3)
    assert of.loc["bending along", "demand"] == pytest.approx(q * 0.3**2 / 2, rel=5e-3)
    x = 0.87 * 415 * A_s / (0.36 * 25 * 1000)
    assert of.loc["bending across", "capacity"] == pytest.approx(0.87 * 415 * A_s * (d - 0.42 * x) / 1e6, rel=5e-3)
    assert of.loc["shear across", "demand"] == pytest.approx(q * (0.5 - d / 1e3), rel=5e-3)
    beta = max(0.8 * 25 / (6.89 * 100 * A_s / (1000 * d)), 1)
    tau_c = 0.85 * math.sqrt(20) * (math.sqrt(1 + 5 * beta) - 1) / (6 * beta)
    assert of.loc["shear across", "capacity"] == pytest.approx(tau_c * d, rel=5e-3)
    assert of.loc["minimum steel across", "demand"] == pytest.approx(0.0012 * 350 * 1000, rel=5e-3)


def test_bars_of_a_footing_as_long_as_its_wall_are_the_least_of_the_rule(tmp_path):
    """Across by bending, along a fifth of that, 9.3.1.1(2), or 9.2.1.1; one step less of either is too little."""
    rule = "rule = { diameters = [10, 16, 25], spacing_min = 100, spacing_max = 250, spacing_step = 25 }\n"
    own = footing(footing_length=3.0, width=4.0, depth=800)
    free = re.sub(r"(?m)^(across|along) = .*\n", "", own) + rule
    found = rows(tmp_path, RULED + free.replace("N = 400", "N = 1500"))
    assert (found["utilisation"] <= 1.0).all()
    bars = [tuple(map(int, b.split("/"))) for b in re.findall(r"\d+/\d+", found["bars [mm]"].iloc[0])]
    area = [math.pi * d**2 / 4 * 1e3 / s for d, s in bars]
    least = 0.26 * 2.896 / 500 * (800 - 50 - bars[0][0] - bars[1][0] / 2) * 1e3
    assert found.loc["minimum steel along", "demand"] == pytest.approx(max(0.2 * area[0], least), rel=1e-3)
    every = sorted((math.pi * d**2 / 4 * 1e3 / s, d, s) for d in (10, 16, 25) for s in range(100, 251, 25))
    for i, way in enumerate(("across", "along")):
        less = max(e for e in every if e[0] < area[i] - 1e-6)
        laid = [*bars[:i], less[1:], *bars[i + 1 :]]
        text = re.sub(r"(?m)^(across|along) = .*\n", "", own).replace("N = 400", "N = 1500")
        text += "".join(
            f"{w} = {{ diameter = {d}, spacing = {s} }}\n" for w, (d, s) in zip(("across", "along"), laid, strict=True)
        )
        again = rows(tmp_path, RULED + text)
        assert again.loc[[f"bending {way}", f"minimum steel {way}"] if i == 0 else [f"minimum steel {way}"],
                         "utilisation"].max() > 1.0  # fmt: skip


def test_a_footing_is_sized_and_one_that_overturns_is_told(tmp_path):
    found = rows(tmp_path, RULED + footing(footing_length=None, width=None, depth=None))
    assert (found["utilisation"] <= 1.0).all()
    assert found["status"].eq("ok").all()
    length, width, _ = (float(v.removesuffix(" m")) for v in str(found["footing"].iloc[0]).split(" x "))
    assert [v * 10 for v in ((length - 3.0) / 2.0, width)] == pytest.approx([round(length * 5 - 15), round(width * 10)])
    # one step narrower the ground does not carry it
    less = rows(tmp_path, RULED + footing(footing_length=length, width=round(width - 0.1, 3), depth=None))
    assert (less.loc[["bearing pressure", "sliding", "overturning"], "utilisation"] > 1.0).any()
    lost = rows(tmp_path, RULED.replace("W = 1.0", "W = 6.0") + footing())
    assert np.isinf(lost.loc["bearing pressure", "utilisation"])
    assert lost.loc["bearing pressure", "status"].startswith("exceeded")
    deep = rows(tmp_path, RULED.replace("W = 1.0", "W = 6.0").replace("W = 1.5", "W = 9.0") + footing(depth=900))
    assert deep.loc["shear across", "demand"] == 0.0  # no section beyond its depth, however it topples


def test_bars_are_chosen_and_faults_are_named(tmp_path, cli):
    text = (
        RULED.replace("U", "V")
        + """
[bearing_walls.store]
height = 4.0
thickness = 180
loads = [{ case = "G", line = 60, eccentricity = 40 }]
wind = [{ case = "W", wall = 1.0 }]
"""
    )
    frame = run_job(job(tmp_path, text), pictures=False).frame("bearing walls")
    assert frame["status"].eq("ok").all()
    assert pd.read_csv(tmp_path / "results" / "bearing_walls.csv").shape == frame.shape
    # of upright bars the next lighter ones do not hold
    rule = "rule = { diameters = [8, 10, 12], spacing_min = 100, spacing_max = 200, spacing_step = 50 }\n"
    windy = text.replace("wall = 1.0 }]", f"wall = 12.0 }}]\n{rule}")
    chosen = str(run_job(job(tmp_path, windy), pictures=False).frame("bearing walls")["bars [mm]"].iloc[0])
    area = {f"{d}/{s}": d**2 / s for d in (8, 10, 12) for s in (100, 150, 200)}
    bars, level = re.fullmatch(r"v (\S+) h (\S+)", chosen).groups()
    assert min(area.values()) < area[bars] < max(area.values())
    lighter = max((b for b in area if area[b] < area[bars]), key=area.get)
    for of, holds in ((bars, True), (lighter, False)):
        given = windy.replace(rule, "")
        for way, laid in (("vertical", of), ("horizontal", level)):
            given += "{} = {{ diameter = {}, spacing = {} }}\n".format(way, *laid.split("/"))
        again = run_job(job(tmp_path, given), pictures=False).frame("bearing walls")
        assert again["status"].eq("ok").all() == holds
    path = job(tmp_path, windy, "ACI 318-19")
    path.write_text(path.read_text().replace("[output]", '[output]\nunits = "US"'))
    run_job(path, pictures=False)
    table = pd.read_csv(tmp_path / "results" / "bearing_walls.csv")
    assert set(table["unit"]) == {"-", "%", "in", "kip ft/ft"}
    told = table["bars [in]"].iloc[0]
    assert re.fullmatch(r"v 0\.\d+/\d+\.\d+ h 0\.\d+/\d+\.\d+", told)
    wrong = text.replace('case = "G", line = 60', 'case = "X", line = 60, point = 3').replace(
        "height = 4.0", "hight = 4.0"
    )
    code, _, err = cli("run", job(tmp_path, wrong))
    assert code == 2
    assert "bearing_walls.store.hight" in err
    assert "give line in kN/m, or point in kN with its spacing" in err
    with pytest.raises(InputError, match="no case is called 'X'"):
        run_job(job(tmp_path, text.replace('case = "G", line', 'case = "X", line')), pictures=False)
    with pytest.raises(
        InputError, match="no second order by 'alternative'; use nominal curvature or nominal stiffness"
    ):
        run_job(job(tmp_path, text + 'second_order = "alternative"\n'), pictures=False)
    with pytest.raises(InputError, match=r"bearing_walls.store.creep: .*has no use for it; take it out"):
        run_job(job(tmp_path, text + "creep = 2.0\n", "ACI 318-19"), pictures=False)
    with pytest.raises(InputError, match="wind on a parapet, and there is none"):
        run_job(job(tmp_path, text.replace("wall = 1.0", "wall = 1.0, parapet = 1.0")), pictures=False)
    with pytest.raises(InputError, match="no characteristic combination"):
        run_job(job(tmp_path, combination("U", "persistent", G=1.0) + footing()), pictures=False)
