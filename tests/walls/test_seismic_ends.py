"""Boundary elements of a wall of a job, from the forces to the table, by hand under three standards."""

import math
import re

import numpy as np
import pytest

from sandwich import EN1992, Concrete, InputError, Steel, explain_wall, run_job
from sandwich.standards.interface import SeismicDemand, SeismicShear, WallPart
from walls.test_walls_of_a_plate import ALONE as WALLS
from walls.test_walls_of_a_plate import JOB, E, G, H, L, T, write

BARS = """
[[walls.wall.bars]]
vertical = { diameter = 12, spacing = 200 }
horizontal = { diameter = 10, spacing = 200 }
"""

ALONE = WALLS.split("[[combinations]]")[0].replace('zones = ["wall"]', 'zones = ["wall"]\nseismic = {}')


def ends(folder, standard, seismic, g=5.0, e=3.0, situation="seismic", shell=False):
    folder.mkdir(exist_ok=True)
    job = (JOB if shell else WALLS).split("[[combinations]]")[0]  # the walls alone are quick
    job = job.replace('zones = ["wall"]', f'zones = ["wall"]\nseismic = {seismic}')
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    job += BARS + f'[design]\nstandard = "{standard}"\n'
    job += f'[[combinations]]\nname = "E"\nsituation = "{situation}"\nfactors = {{ G = {g}, E = {e} }}\n'
    return run_job(write(folder, job), pictures=False)


def foot(result):
    frame = result.frame("boundary elements")
    return frame[frame["storey"] == "storey 1"].set_index("end")


def test_en_1998_by_hand(tmp_path):
    result = ends(tmp_path / "a", "EN 1992-1-1:2004", '{ ductility = "DCH", q_0 = 4.0, T_1 = 0.3, T_C = 0.5 }')
    found = foot(result)
    f_cd, f_yd, rho = 30 / 1.5, 500 / 1.15, 2 * math.pi * 36 / 200 / T
    N = 5.0 * G * 1e3 * L
    nu, omega = N / (L * T * f_cd), rho * f_yd / f_cd
    b_0 = T - 2 * 30 - 10
    checks = result.frame("wall checks").set_index(["storey", "check"])
    bending = checks.loc[("storey 1", "bending with axial force")]
    over = bending["demand"] / max(bending["capacity"], bending["demand"])  # M_Ed/M_Rd at the base
    mu = 1 + 2 * (4.0 * over - 1) * 0.5 / 0.3
    need = max(30 * mu * (nu + omega) * f_yd / 200e3 * T / b_0 - 0.035, 0)
    ties = max(need / 0.5, 0.12)
    length = max((nu + omega) * L * T / b_0 * (1 - 0.0035 / (0.0035 + 0.1 * 0.5 * ties)), 0.15 * L, 1.5 * T)
    for end in ("left", "right"):
        row = found.loc[end]
        assert row["boundary element"] == "needed"
        assert row["demand"] == pytest.approx(nu, rel=1e-6)
        assert row["length [mm]"] == pytest.approx(length, rel=1e-3)
        assert row["ties each way [%]"] == pytest.approx(100 * ties * f_cd / f_yd / 2, rel=1e-3)
        assert row["spacing of ties [mm]"] == min(b_0 / 2, 125, 6 * 12)
        assert row["minimum thickness [mm]"] == pytest.approx(3000 / (10 if length > max(2 * T, 0.2 * L) else 15))
    assert "thickness" in found.loc["left", "status"]
    sheet = explain_wall(result.job, "storey 1 A W").sheet
    assert any(step.source.startswith("EN 1998-1:2004, 5.4.3.4.2(4)") for _, step in sheet.steps)
    spared = foot(ends(tmp_path / "b", "EN 1992-1-1:2004", "{}", g=1.0))
    assert (spared["boundary element"] == "not needed").all()
    assert (spared["by"] == "nu_d up to 0.15").all()


def test_aci_318_by_hand(tmp_path):
    f_c, area, S = 30.0, L * T, T * L**2 / 6
    N, M = 5.0 * G * 1e3 * L, 3.0 * E * (H - 20)
    by_stress = foot(ends(tmp_path / "a", "ACI 318-19", "{}"))
    pressed = by_stress["demand"].idxmax()
    assert by_stress.loc[pressed, "demand"] == pytest.approx(N / area + M / S, rel=1e-3)
    assert by_stress.loc[pressed, "boundary element"] == "needed"
    other = "left" if pressed == "right" else "right"
    assert by_stress.loc[other, "demand"] == pytest.approx(N / area, rel=1e-6)
    # depth of the neutral axis by a block and bars spread evenly
    rho, y = 2 * math.pi * 36 / 200 / T, (np.arange(4000) + 0.5) / 4000 * L

    def axial(c):
        bars = np.clip(600 * (1 - y / c), -500, 500) * rho * T
        return 0.85 * f_c * (0.85 - 0.05 * 2 / 7) * c * T + bars.mean() * L

    c = next(c for c in np.arange(200.0, 3000.0, 1.0) if axial(c) >= N)
    assert by_stress.loc[pressed, "length [mm]"] == pytest.approx(max(c - 0.1 * L, c / 2), rel=0.03)
    # a wall of 6 by 4 m is too squat for the displacement trigger; ties by the core to the outside of the ties
    length = by_stress.loc[pressed, "length [mm]"]
    ratio = max(0.3 * (length * T / ((length - 30) * (T - 60)) - 1), 0.09) * f_c / 500
    assert by_stress.loc[pressed, "ties each way [%]"] == pytest.approx(100 * ratio, rel=1e-6)
    assert (foot(ends(tmp_path / "b", "ACI 318-19", "{ displacement = 40 }"))["by"] == "stress").all()
    # 4.5 to 6 MPa in the second storey: goes on where the foot has it, and does not begin there
    for e, told in ((0.8, {"stress, going on from below"}), (0.6, set())):
        frame = ends(tmp_path / f"{e}", "ACI 318-19", "{}", e=e).frame("boundary elements")
        upper = frame[(frame["storey"] == "storey 2") & (frame["boundary element"] == "needed")]
        assert set(upper["by"]) == told


def test_is_13920_by_hand(tmp_path):
    result = ends(tmp_path / "a", "IS 456:2000", "{}", g=8.0, shell=True)
    found = foot(result)
    assert (result.frame("wall against shell")["governed by"] == "the point fails").any()
    pressed = found["demand"].idxmax()
    N, M = 8.0 * G * 1e3 * L, 3.0 * E * (H - 20)
    most, even = N / (L * T) + M / (T * L**2 / 6), N / (L * T)
    assert found.loc[pressed, "demand"] == pytest.approx(most, rel=1e-3)
    assert (found.loc[pressed, "boundary element"] == "needed") == (most > 0.2 * 37.5)
    assert found.loc[pressed, "length [mm]"] == pytest.approx(
        min((most - 0.15 * 37.5) / (2 * (most - even)), 0.5) * L, rel=2e-3
    )
    assert found.loc[pressed, "ties each way [%]"] == pytest.approx(5 * 37.5 / 500, rel=1e-6)


def shear(result):
    frame = result.frame("seismic shear")
    return frame[frame["storey"] == "storey 1"].set_index("check")


def test_amplified_shear_by_hand(tmp_path):
    V, along, across = 3.0 * E, 2 * math.pi * 25 / 200 / T, 2 * math.pi * 36 / 200 / T
    dcm = ends(tmp_path / "a", "EN 1992-1-1:2004", "{}")
    assert shear(dcm).loc["shear in plane", "demand"] == pytest.approx(1.5 * V / 1e3, rel=1e-3)
    assert (shear(dcm)["factor on V"] == 1.5).all()
    high = ends(tmp_path / "b", "EN 1992-1-1:2004", '{ ductility = "DCH", q_0 = 4, q = 3, T_1 = 0.6, T_C = 0.5 }')
    bending = high.frame("wall checks").set_index(["storey", "check"]).loc[("storey 1", "bending with axial force")]
    # 6 m high and 4 m long, it is squat: 1.2 M_Rd/M_Ed, up to q
    factor = min(1.2 * bending["capacity"] / bending["demand"], 3.0)
    row = shear(high).loc["shear in plane"]
    assert row["factor on V"] == pytest.approx(factor, rel=1e-3)
    span, f_yd = 3.0 * E * (H - 20) / (V * L), 500 / 1.15
    k = 1 + math.sqrt(200 / (0.8 * L / 0.9))
    v_c = max(0.12 * k * (100 * across / 2 * 30) ** (1 / 3), 0.035 * k**1.5 * math.sqrt(30))
    sigma = min(5.0 * G * 1e3 / T, 0.2 * 20)
    alone = (v_c + 0.15 * sigma) * 0.8 * L / 0.9 * T
    assert row["capacity"] == pytest.approx((alone + 0.75 * along * f_yd * T * span * L) / 1e3, rel=5e-3)
    struts = 0.4 * T * 0.8 * L * 0.6 * (1 - 30 / 250) * 20 / 2  # the base is in the critical region
    assert shear(high).loc["struts of the shear", "capacity"] == pytest.approx(struts / 1e3, rel=1e-6)
    aci = ends(tmp_path / "c", "ACI 318-19", "{}", e=1.0)  # 6.0/4.0 is not above 1.5, and below 2: factors of 1
    assert shear(aci).loc["shear in plane", "factor on V"] == 1.0
    assert shear(aci).loc["shear in plane", "demand"] == pytest.approx(E / 1e3, rel=1e-3)
    is456 = shear(ends(tmp_path / "d", "IS 456:2000", "{}", g=1.0, e=1.0))
    beta = 0.8 * 37.5 / (6.89 * 100 * across)
    tau_c = 0.85 * math.sqrt(0.8 * 37.5) * (math.sqrt(1 + 5 * beta) - 1) / (6 * beta)
    web = (tau_c * T + 0.87 * 500 * along * T) * 0.8 * L
    assert is456.loc["shear in plane", "capacity"] == pytest.approx(web / 1e3, rel=5e-3)
    weak = ends(tmp_path / "e", "EN 1992-1-1:2004", "{}", e=12.0)
    assert shear(weak)["status"].str.startswith("exceeded: ").any()


def test_short_piers_are_columns_and_are_told(tmp_path):
    """A door from 0.5 to 3.0 m leaves a pier of 500 by 200 mm beside one of 1000 mm."""
    text = ALONE
    text += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 1.0, E = 0.2 }\n'
    result = run_job(write(tmp_path, text, holes=[(500, 3000, 0, 2000)]), pictures=False)
    frame = result.frame("boundary elements").set_index(["storey", "part", "end"])
    for end in ("left", "right"):
        short = frame.loc[("storey 1", "A P1", end)]
        assert short["boundary element"] == "column"
        assert short["status"] == "not checked: a column, l_w/t 2.5"
        assert np.isnan(short["length [mm]"])
        assert frame.loc[("storey 1", "A P2", end), "status"].startswith(("ok", "exceeded"))
    assert "A P1" not in set(result.frame("seismic shear")["part"])
    lines = [step.title for _, step in explain_wall(result.job, "storey 1 A P1").sheet.steps]
    assert "left end: not checked: a column, l_w/t 2.5" in lines
    # l_w/t up to 2.5 is a column of ACI 318 too, a pier of 3.75 is not
    other = text.replace("[zones.wall]", '[design]\nstandard = "ACI 318-19"\n[zones.wall]', 1)
    (tmp_path / "aci").mkdir()
    wide = run_job(write(tmp_path / "aci", other, holes=[(750, 3000, 0, 2000)]), pictures=False)
    assert (wide.frame("boundary elements")["boundary element"] != "column").all()


def test_columns_alone_and_a_base_that_carries_nothing(tmp_path):
    """Piers of 750 and 500 mm beside a hole over both storeys; an axial force beyond what the section carries."""
    text = ALONE + '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 1.0, E = 0.01 }\n'
    none = run_job(write(tmp_path, text, holes=[(750, 3500, -1, 7000)]), pictures=False)
    assert (none.frame("boundary elements")["boundary element"] == "column").all()
    assert none.frame("seismic shear").empty
    crushed = ends(tmp_path / "a", "EN 1992-1-1:2004", '{ ductility = "DCH", q = 3, T_1 = 0.6, T_C = 0.5 }', g=40.0)
    assert (shear(crushed)["factor on V"] == 3.0).all()
    assert foot(crushed)["status"].str.contains("less axial force").all()


def test_a_wall_that_cannot_do_it_says_what_would(tmp_path):
    """nu_d 0.49 and twelve times the shear; every row that fails names its clause and a remedy."""
    weak = ends(tmp_path / "a", "EN 1992-1-1:2004", "{}", g=13.0, e=12.0)
    rows = foot(weak)
    assert rows["demand"].iloc[0] == pytest.approx(13 * G * 1e3 / (T * 20), rel=1e-6)
    assert rows["status"].str.contains("less axial force: 0.49 of 0.40").all()
    failing = weak.frame("seismic shear").query("utilisation > 1")
    assert set(failing["check"]) >= {"shear in plane", "struts of the shear"}
    assert failing["clause"].str.len().gt(0).all()
    assert failing["status"].str.match("exceeded: (more horizontal|more vertical|[0-9]+ mm of thickness)").all()
    told = " ".join(str(t) for t in weak.project.outcomes["seismic walls"].verdict)
    assert "checks exceeded" in told
    # the worst stands first, and ends that cannot have what they need before those that can
    use = weak.frame("seismic shear")["utilisation"].to_numpy()
    assert (np.diff(use) <= 0).all()
    status = weak.frame("boundary elements")["status"].str.startswith("exceeded").to_numpy()
    assert (np.diff(status.astype(int)) <= 0).all()


def test_the_base_is_above_the_basement(tmp_path):
    text = ALONE
    text = text.replace("levels = [0, 3, 6]", "levels = [0, 3, 6]\nbasement = 3")
    text += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 5.0, E = 0.5 }\n'
    result = run_job(write(tmp_path, text + BARS), pictures=False)
    frame, shears = result.frame("boundary elements"), result.frame("seismic shear").set_index(["storey", "check"])
    # within the basement the hinge at its roof gives the shear
    bent = result.frame("wall checks").set_index(["storey", "check"]).loc[("storey 2", "bending with axial force")]
    below, above = (shears.loc[(s, "shear in plane")] for s in ("storey 1", "storey 2"))
    assert below["factor by"] == "5.8.1(5)"
    assert below["demand"] == pytest.approx(1.1 * bent["capacity"] / 3.0, rel=2e-2)
    assert below["factor on V"] == pytest.approx(below["demand"] / (0.5 * E / 1e3), rel=5e-3)
    assert above["demand"] == pytest.approx(1.5 * 0.5 * E / 1e3, rel=5e-3)
    heights = frame.groupby("storey")["height [m]"].unique()
    assert heights["storey 1"].tolist() == [-3.0]
    assert heights["storey 2"].tolist() == [0.0]
    # l_w 4 m and one storey of 3 m above the base: the clear height
    assert frame["up to [m]"].to_numpy() == pytest.approx(3.0)
    assert (frame["boundary element"] == "needed").all()


def test_us_units_reach_the_terminal(tmp_path, cli):
    text = ALONE
    text += '[design]\nstandard = "ACI 318-19"\n[output]\nunits = "US"\n'
    text += '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 5.0, E = 3.0 }\n'
    code, out, _ = cli("run", write(tmp_path, text), "--no-pictures")
    assert code == 0
    assert "length [in]" in " ".join(out.split())
    assert "[mm]" not in out


def test_settings_are_honoured_or_refused(tmp_path):
    with pytest.raises(InputError, match=r"seismic.displacement: .* has no use for it"):
        ends(tmp_path / "a", "EN 1992-1-1:2004", "{ displacement = 50 }")
    with pytest.raises(InputError, match="T_1 and T_C go together"):
        ends(tmp_path / "b", "EN 1992-1-1:2004", "{ T_1 = 0.5 }")
    with pytest.raises(InputError, match="the shear of DCH goes by the spectrum"):
        ends(tmp_path / "b", "EN 1992-1-1:2004", '{ ductility = "DCH" }')
    none = ends(tmp_path / "c", "EN 1992-1-1:2004", "{}", situation="persistent")
    assert any("no seismic combination" in str(w) for w in none.warnings)
    assert "boundary elements" not in none.tables


def test_a_zone_designed_with_less_shear_than_its_wall_is_told(tmp_path):
    result = ends(tmp_path / "a", "EN 1992-1-1:2004", "{}", g=1.0, e=0.5, shell=True)
    told = [w for w in result.project.outcomes["seismic walls"].warnings if w.subject == "zone wall"]
    assert [str(w.evidence) for w in told] == ["give shear_factor = 1.5 in [zones.wall]"]
    text = result.job.path.read_text().replace("[zones.wall]", "[zones.wall]\nshear_factor = 1.5", 1)
    result.job.path.write_text(text)
    again = run_job(result.job.path, pictures=False)
    assert not [w for w in again.project.outcomes["seismic walls"].warnings if w.subject == "zone wall"]
    shell = [r.frame("wall against shell").query("bars == 'horizontal'") for r in (again, result)]
    more = shell[0]["by the shell [mm2/m]"].max() / shell[1]["by the shell [mm2/m]"].max()
    assert 1.05 < more <= 1.5 + 1e-9


SYSTEMS = {
    '{ system = "uncoupled" }': (3.0, 3.0), '{ system = "coupled", regular = false }': (3.6 * 0.8, 3.6 * 0.8),
    '{ ductility = "DCH", system = "coupled", T_1 = 0.3, T_C = 0.5 }': (5.4, 5.4),
    '{ system = "torsionally flexible" }': (2.0, 2.0), '{ system = "dual", alpha_u_1 = 1.1 }': (3.3, 3.3),
}  # fmt: skip


@pytest.mark.parametrize("seismic", SYSTEMS)
def test_behaviour_factor_by_the_system(seismic, tmp_path):
    """Table 5.1 with k_w of the job's own wall, 6 m over 4 m: (1 + 1.5)/3; given values, the same design."""
    q_0, q = SYSTEMS[seismic]
    k_w = (1 + H / L) / 3
    given = re.sub(r'system = "[a-z ]+"', f"q_0 = {q_0}, q = {max(q * k_w, 1.5)}", seismic)
    given = re.sub(r", (alpha_u_1 = [0-9.]+|regular = false)", "", given)
    tables = [
        {n: ends(tmp_path / k, "EN 1992-1-1:2004", s).frame(n) for n in ("boundary elements", "seismic shear")}
        for k, s in (("a", seismic), ("b", given))
    ]
    for name, table in tables[0].items():
        numbers = table.select_dtypes("number").columns
        np.testing.assert_allclose(table[numbers], tables[1][name][numbers], rtol=1e-9)


def test_shear_of_a_slender_wall_of_a_dual_system(tmp_path):
    """Narrower than half of its height: above a third of the height the line from there to half of the base shear."""
    own = ALONE.replace("seismic = {}", 'seismic = { system = "dual" }').replace(
        "levels = [0, 3, 6]", "levels = [0, 2, 4, 6]"
    )
    own += BARS + '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 1.0, E = 1.0 }\n'
    path = write(tmp_path, own, holes=[(2000.0, 4000.0, 0.0, 6000.0)])
    found = run_job(path, pictures=False).frame("seismic shear").query("check == 'shear in plane'").set_index("storey")
    # the shear is even up the height, so that the envelope asks for nothing more
    assert (found["factor by"] == "5.4.2.4(7)").all()
    demand = SeismicShear(
        part=WallPart(concrete=Concrete(30.0), steel=Steel(500.0), situation="seismic", length=2000.0, thickness=T,
                      height=2000.0, along=0.003, across=0.003, diameters=(10.0, 10.0), spacings=(200.0, 200.0)),
        h_w=12e3, h_s=2000.0, z=8000.0, storeys=6, M_u_base=1.0, M_R_base=1.0, M_n_base=1.0, M_pr_base=1.0, xi=0.2,
        asked=SeismicDemand(dual=True), V_base=400e3, V_third=250e3,
    )  # fmt: skip
    factor, clause, checks = EN1992.recommended().seismic_shear(demand, [100e3], [-1e6], [0.0])
    line = 1.5 * (250e3 + (8000 / 12000 - 1 / 3) / (2 / 3) * (200e3 - 250e3))
    assert clause == "5.4.2.4(8)"
    assert checks[0].demand.max() == pytest.approx(line)
    assert factor == pytest.approx(line / 100e3)
