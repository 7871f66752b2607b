"""A plain wall under loads that are known everywhere: its cuts, its parts and their checks by hand, in every setting."""

import numpy as np
import pandas as pd
import pytest
from numpy.testing import assert_allclose

from sandwich import InputError, run_job
from walls.meshes import mesh_of

T, L, H = 200.0, 4000.0, 6000.0
G, E, P = 0.15, 300e3, 0.002  # N/mm of head load along mm times 1e3, N at the head, N/mm2 across

JOB = """
title = "A wall"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
resultants = "resultants.csv"
reactions = "reactions.csv"
units = { length = "mm", thickness = "mm", membrane = "N/mm", moment = "N", shear = "N/mm", force = "N", couple = "N*mm" }
[zones.wall]
all = true
f_ck = 30
f_yk = 500
direction = { along = "vector", vector = [1, 0, 0] }
[storeys]
levels = [0, 3, 6]
[walls.wall]
zones = ["wall"]
[[combinations]]
name = "U"
situation = "persistent"
factors = { G = 1.35, E = 1.5, P = 1.5 }
"""
ALONE = JOB.replace('direction = { along = "vector", vector = [1, 0, 0] }', "shell = false")


def field(case, x, z):
    """Resultants of a cantilever in plane and across it, by statics: linear stress, parabolic shear left even."""
    out = np.zeros((len(x), 8))
    if case == "G":
        out[:, 1] = -G * 1e3
    if case == "E":  # force at the head along x: moment E (H - z)
        out[:, 1] = E * (H - z) * (L / 2 - x) / (L**3 / 12)
        out[:, 2] = E / L
    if case == "P":  # pressure across, towards -y: my positive pulls -z of the element
        out[:, 4] = P * (H - z) ** 2 / 2
        out[:, 7] = P * (H - z)
    return out


def write(folder, job=JOB, holes=None, step=250.0):
    mesh = mesh_of([[(0, 0), (L, 0)]], H, step, {0: holes or []})
    ids = np.arange(len(mesh.xyz)) + 1
    pd.DataFrame({"node": ids, "x": mesh.xyz[:, 0], "y": mesh.xyz[:, 1], "z": mesh.xyz[:, 2]}).to_csv(
        folder / "nodes.csv", index=False
    )
    table = pd.DataFrame(mesh.corners + 1, columns=["n1", "n2", "n3", "n4"])
    table.insert(0, "element", np.arange(len(table)) + 1)
    table["thickness"] = T
    table.to_csv(folder / "elements.csv", index=False)
    parts = []
    for case in ("G", "E", "P"):
        at = mesh.xyz[mesh.corners]
        # as common elements give them: even along its height, the value of the middle
        z = at[..., 2].mean(1, keepdims=True) + 0 * at[..., 2]
        values = field(case, at[..., 0].ravel(), z.ravel())
        frame = pd.DataFrame(values, columns=["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"])
        frame.insert(0, "case", case)
        frame.insert(1, "element", np.repeat(np.arange(len(at)) + 1, 4))
        frame.insert(2, "node", (mesh.corners + 1).ravel())
        parts.append(frame)
    pd.concat(parts).to_csv(folder / "resultants.csv", index=False)
    foot = ids[mesh.xyz[:, 2] == 0.0]
    moment = P * L * H**2 / 2
    rows = [("G", foot[0], 0, 0, G * 1e3 * L / 2, 0, 0), ("G", foot[-1], 0, 0, G * 1e3 * L / 2, 0, 0),
            ("E", foot[0], -E, 0, -E * H / L, 0, 0), ("E", foot[-1], 0, 0, E * H / L, 0, 0),
            ("P", foot[0], 0, P * L * H / 2, 0, -moment / 2, 0), ("P", foot[-1], 0, P * L * H / 2, 0, -moment / 2, 0)]  # fmt: skip
    pd.DataFrame(rows, columns=["case", "node", "fx", "fy", "fz", "mx", "my"]).assign(mz=0.0).to_csv(
        folder / "reactions.csv", index=False
    )
    (folder / "job.toml").write_text(job)
    return folder / "job.toml"


def by_nodes(folder, act_on, step):
    """The wall with what its nodes exert on the elements, by the same stresses along level edges; no resultants."""
    sign = 1.0 if act_on == "elements" else -1.0
    signs = f'signs = {{ nodal_forces_act_on = "{act_on}" }}\nnodal_forces = "nodal.csv"\n'
    job = write(folder, JOB.replace("[zones.wall]", f"{signs}[zones.wall]"), step=step)
    values = pd.read_csv(folder / "resultants.csv")
    values[["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]] = 0.0
    values.to_csv(folder / "resultants.csv", index=False)
    xyz = pd.read_csv(folder / "nodes.csv").to_numpy()[:, 1:]
    rows = []
    for element, *corner in pd.read_csv(folder / "elements.csv").to_numpy()[:, :5].astype(int):
        at = xyz[np.array(corner) - 1]
        for a in range(4):
            b = next(b for b in range(4) if b != a and at[b, 2] == at[a, 2])
            way = sign * np.sign(at[a, 2] - at[:, 2].mean())
            for case in ("G", "E", "P"):
                own, other = (field(case, at[[i], 0], at[[i], 2])[0] for i in (a, b))
                _, ny, nxy, _, my, _, _, vy = way * step * (2 * own + other) / 6
                rows.append((case, element, corner[a], nxy, -vy, ny, my))
    pd.DataFrame(rows, columns=["case", "element", "node", "fx", "fy", "fz", "mx"]).to_csv(
        folder / "nodal.csv", index=False
    )
    return job


def test_cuts_of_a_part_of_the_nodal_forces_are_refused(tmp_path):
    job = by_nodes(tmp_path, "elements", 500.0)
    some = pd.read_csv(tmp_path / "nodal.csv").query("element > 4")
    some.to_csv(tmp_path / "nodal.csv", index=False)
    with pytest.raises(InputError, match="some of its elements have no nodal forces"):
        run_job(job, pictures=False)
    some.assign(case="Z").to_csv(tmp_path / "nodal.csv", index=False)
    with pytest.raises(InputError, match=r"nodal\.csv: case 'Z' has no results; there are G, E, P"):
        run_job(job, pictures=False)


@pytest.mark.parametrize(("step", "act_on"), [(250.0, ""), (500.0, ""), (250.0, "elements"), (250.0, "nodes")])
def test_cuts_are_statics_whatever_the_mesh(tmp_path, step, act_on):
    job = by_nodes(tmp_path, act_on, step) if act_on else write(tmp_path, step=step)
    result = run_job(job, pictures=False)
    f = result.frame("wall forces").set_index(["part", "storey", "at", "case"])
    for storey, z in (("storey 1", 20.0), ("storey 2", 3020.0)):
        for part in ("A W", "section 1"):
            of = f.loc[(part, storey, "bottom")]
            assert of.loc["G", "N [kN]"] == pytest.approx(-G * L, rel=1e-6)
            assert of.loc["E", "V1 [kN]"] == pytest.approx(E / 1e3, rel=1e-6)
            assert abs(of.loc["E", "M2 [kNm]"]) == pytest.approx(E * (H - z) / 1e6, rel=1e-6)
            assert abs(of.loc["P", "V2 [kN]"]) == pytest.approx(P * L * (H - z) / 1e3, rel=2e-3)
            assert abs(of.loc["P", "M1 [kNm]"]) == pytest.approx(P * L * (H - z) ** 2 / 2e6, rel=1e-2)
    # side by side with statics the lean of both signs is that of the loads: the foot is pulled where E pushes from
    assert result.frame("wall balance")["largest difference [%]"].max() < 1.5


def test_cuts_through_parts_of_elements_keep_to_the_corner_results(tmp_path):
    """Nodal forces are a tenth more than the resultants: whole elements take these, parts of elements do not."""
    own = "cuts = { whole = { start = [1, 0, 2.1], end = [2, 0, 2.1] }, part = { start = [1, 0, 2.1], end = [2.1, 0, 2.1] } }"
    text = JOB.replace('zones = ["wall"]', f'zones = ["wall"]\n{own}')
    plain = run_job(write(tmp_path, job=text), pictures=False).frame("wall forces")
    (tmp_path / "more").mkdir()
    by_nodes(tmp_path / "more", "elements", 250.0)
    nodal = pd.read_csv(tmp_path / "more" / "nodal.csv")
    nodal[["fx", "fy", "fz", "mx"]] *= 1.1
    nodal.to_csv(tmp_path / "nodal.csv", index=False)
    job = tmp_path / "job.toml"
    job.write_text(text.replace("[zones.wall]", 'nodal_forces = "nodal.csv"\n[zones.wall]'))
    found = run_job(job, pictures=False).frame("wall forces")
    for part, factor in (("A whole", 1.1), ("A part", 1.0)):
        pair = [f[(f["part"] == part) & (f["case"] == "G")]["N [kN]"].iloc[0] for f in (plain, found)]
        assert pair[1] == pytest.approx(factor * pair[0], rel=1e-6)
        assert pair[0] == pytest.approx(-G * (1000.0 if part == "A whole" else 1100.0), rel=1e-6)


def test_the_check_of_a_wall_by_hand(tmp_path):
    bars = """
[[walls.wall.bars]]
vertical = { diameter = 12, spacing = 200 }
horizontal = { diameter = 10, spacing = 200 }
[[combinations]]
"""
    result = run_job(write(tmp_path, JOB.replace("[[combinations]]\n", bars.lstrip("\n"), 1)), pictures=False)
    checks = result.frame("wall checks").set_index(["storey", "check"])
    shear = checks.loc[("storey 1", "shear in plane")]
    assert shear["demand"] == pytest.approx(1.5 * E / 1e3, rel=1e-6)
    rho = 2 * np.pi * 25 / 200 / T
    bars, struts = rho * 0.8 * L * 434.78 * 2.5 * T, 0.8 * L * T * 0.6 * 0.88 * 20 / 2.9
    assert shear["capacity"] == pytest.approx(min(bars, struts) / 1e3, rel=1e-3)
    bent = checks.loc[("storey 1", "bending with axial force")]
    assert bent["N [kN]"] == pytest.approx(-1.35 * G * L, rel=1e-6)
    assert abs(bent["M [kNm]"]) == pytest.approx(1.5 * E * (H - 20) / 1e6, rel=1e-6)
    assert abs(bent["M out of plane [kNm]"]) == pytest.approx(1.5 * P * L * (H - 20) ** 2 / 2e6, rel=5e-3)
    assert bent["demand"] == pytest.approx(np.hypot(bent["M [kNm]"], bent["M out of plane [kNm]"]), rel=1e-6)
    least = checks.loc[("storey 1", "minimum vertical")]
    assert (least["demand"], least["capacity"]) == pytest.approx((0.2, 100 * 2 * np.pi * 36 / 200 / T))
    # free edges: foot and head hold it, l_0 is the height of the storey
    assert "second order" in checks.loc[("storey 1", "out of plane"), "note"]


@pytest.mark.parametrize(
    ("setting", "moves"),
    [
        ("curtains = 1", "bending with axial force"),
        ("cover = 60", "out of plane"),
        ("f_yk = 400", "shear in plane"),
        ("cot_theta_max = 1.0", "shear in plane"),
        ('joint = "smooth"', "sliding at joints"),
        ("effective_length = 2.0", "out of plane"),
        ("offset = 1.0", "bending with axial force"),
        ('outer = "vertical"', "out of plane"),
        ("creep = 6.0\neffective_length = 2.0", "out of plane"),
    ],
)
def test_every_setting_is_honoured(tmp_path, setting, moves):
    given = "bars = [{ vertical = { diameter = 12, spacing = 200 }, horizontal = { diameter = 10, spacing = 200 } }]"
    uses = []
    for i, extra in enumerate(("", setting)):
        folder = tmp_path / str(i)
        folder.mkdir()
        job = JOB.replace('zones = ["wall"]', f'zones = ["wall"]\n{given}\n{extra}')
        checks = run_job(write(folder, job, step=500.0), pictures=False).frame("wall checks")
        uses.append(checks[checks["check"] == moves]["utilisation"].max())
    assert abs(uses[1] / uses[0] - 1.0) > 0.01


def test_a_window_leaves_a_lintel_and_sections_of_two(tmp_path):
    result = run_job(write(tmp_path, holes=[(1500, 2500, 0, 2000)]), pictures=False)
    parts = result.frame("wall parts").set_index(["storey", "part"])
    assert parts.loc[("storey 1", "L1"), ["length [m]", "height [m]"]].tolist() == [1.0, 1.0]
    sections = result.frame("wall forces")
    feet = sections[(sections["kind"] == "section") & (sections["at"] == "bottom") & (sections["storey"] == "storey 1")]
    assert set(feet["part"]) == {"section 1", "section 2"}  # the door parts the wall at its foot
    piers = sections[
        (sections["part"].isin(["A P1", "A P2"])) & (sections["at"] == "bottom") & (sections["storey"] == "storey 1")
    ]
    both = [t.groupby("case")["N [kN]"].sum() for t in (feet, piers)]
    assert_allclose(both[0], both[1], rtol=1e-6, atol=1e-6)


def test_walls_that_are_none_are_refused(tmp_path):
    lying = write(tmp_path, JOB.replace("levels = [0, 3, 6]", "levels = [0, 6]"))
    nodes = pd.read_csv(tmp_path / "nodes.csv")
    nodes[["y", "z"]] = nodes[["z", "y"]].to_numpy()
    nodes.to_csv(tmp_path / "nodes.csv", index=False)
    with pytest.raises(InputError, match="are not upright"):
        run_job(lying, pictures=False)
    (tmp_path / "two").mkdir()
    twice = JOB.replace("[[combinations]]", '[walls.again]\nzones = ["wall"]\n[[combinations]]', 1)
    with pytest.raises(InputError, match="is in wall 'wall' too"):
        run_job(write(tmp_path / "two", twice), pictures=False)


def test_the_wall_stands_beside_its_shell_design(tmp_path):
    """By part and direction the most that a point of it requires, of both faces, as the table of steel has it."""
    result = run_job(write(tmp_path, step=500.0), pictures=False)
    beside, steel = result.frame("wall against shell"), result.frame("steel")
    steel = steel.assign(way=np.where(steel["layer"].str.endswith("y"), "vertical", "horizontal"))
    both = steel.groupby(["point", "way"])["required [mm2/m]"].sum()
    most = both.groupby("way").max()
    assert len(beside) == 4
    found = beside.groupby("bars")["by the shell [mm2/m]"].max()
    assert_allclose(found, most[found.index])
    assert beside["shell over wall"].is_monotonic_decreasing
    upright = beside[beside["bars"] == "vertical"].iloc[0]
    assert upright["storey"] == "storey 1"
    at = int(str(upright["at point"]).partition(".")[0])
    foot = pd.read_csv(tmp_path / "nodes.csv").set_index("node").loc[at]
    assert foot["z"] == 0.0  # where the moment is largest, at an edge
    assert foot["x"] in (0.0, L)
    d, s = map(float, result.frame("wall bars").set_index("storey").loc["storey 1", "vertical [mm]"].split("/"))
    assert upright["by the wall [mm2/m]"] == pytest.approx(2e3 * np.pi * d**2 / 4 / s)


def test_a_second_run_with_another_wall_alone_keeps_the_rest(tmp_path):
    """What a wall changes touches no table of the shell design; taken away, its tables go."""
    job = write(tmp_path, step=500.0)
    run_job(job, pictures=False)
    before = {f.name: f.read_bytes() for f in (tmp_path / "results").glob("*.parquet")}
    job.write_text(JOB.replace('zones = ["wall"]', 'zones = ["wall"]\ncover = 45'))
    run_job(job, pictures=False)
    after = {f.name: f.read_bytes() for f in (tmp_path / "results").glob("*.parquet")}
    assert set(before) == set(after)
    changed = {n for n in before if before[n] != after[n]}
    assert changed <= {
        "wall_bars.parquet",
        "wall_laps.parquet",
        "wall_checks.parquet",
        "wall_sections.parquet",
        "wall_against_shell.parquet",
        *("bar_schedule.parquet", "mass_of_bars.parquet", "bars_by_diameter.parquet"),
    }
    assert "wall_checks.parquet" in changed
    levels = "[storeys]\nlevels = [0, 3, 6]\n"
    job.write_text(JOB.replace(f'{levels}[walls.wall]\nzones = ["wall"]\n', ""))
    run_job(job, pictures=False)
    assert not list((tmp_path / "results").glob("wall_*.parquet"))


def test_a_shell_that_is_too_slender_for_first_order_is_told(tmp_path):
    result = run_job(
        write(tmp_path, JOB.replace('zones = ["wall"]', 'zones = ["wall"]\neffective_length = 2.5'), step=500.0),
        pictures=False,
    )
    (grave,) = [w for w in result.warnings if w.grave and "second order out of the plane counts" in str(w)]
    assert grave.subject == "zone wall"
    assert "storey 1 A W first" in str(grave)
    checks = result.frame("wall checks").set_index(["storey", "check"])
    of = checks.loc[("storey 1", "out of plane")]
    # N (l_0/400 and the curvature of 5.8.8) stands over the moment of first order
    assert abs(of["demand"]) > np.hypot(of["M out of plane [kNm]"], of["M [kNm]"]) * 1.001
    assert str(grave) in [str(w) for w in result.project.outcomes["wall checks"].warnings]
