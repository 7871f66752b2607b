"""Curved walls of a job: a ring and a half ring under the shear flow of a thin tube, by hand."""

import math

import numpy as np
import pandas as pd
import pytest

from sandwich import InputError, explain_wall, run_job
from walls.meshes import mesh_of

R, T, N_, V_ = 3000.0, 200.0, 2.0e6, 6.0e6  # mm, N: compression, and shear along y
JOB = """title = "Tube"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
resultants = "resultants.csv"
[zones.tube]
everything = true
f_ck = 30
f_yk = 500
shell = false
[storeys]
levels = [0, {top}]
[walls.tube]
zones = ["tube"]
cot_theta_max = 1.0
bars = [{{ vertical = {{ diameter = 12, spacing = 150 }}, horizontal = {{ diameter = 12, spacing = 150 }} }}]
{more}
[[combinations]]
name = "E"
situation = "{situation}"
factors = {{ G = 1.0 }}
"""


def tube(folder, degrees, turn=0.0, situation="persistent", more="", holes=()):
    """A job of a tube, or a part of one about y, in equilibrium with N and V at every height; its facets in plan."""
    folder.mkdir()
    at = np.radians(np.arange(-degrees / 2, degrees / 2 + 2.5, 5.0) - 90.0 + turn)
    line = np.stack([R * np.cos(at), R * np.sin(at)], axis=1)
    line[-1] = line[0] if degrees == 360 else line[-1]
    step = float(np.linalg.norm(np.diff(line, axis=0), axis=1).mean())
    whole = step * (len(line) - 1)
    boxes = [(a * whole, b * whole, low * step, high * step) for a, b, low, high in holes]
    mesh = mesh_of([line], 12 * step, step, {0: boxes})
    pd.DataFrame(mesh.xyz / 1e3, columns=list("xyz")).rename_axis("node").to_csv(folder / "nodes.csv")
    table = pd.DataFrame(mesh.corners, columns=["n1", "n2", "n3", "n4"]).rename_axis("element")
    table.assign(thickness=T / 1e3).to_csv(folder / "elements.csv")
    own = mesh.xyz[mesh.corners]
    way = (own[:, 1] - own[:, 0])[:, :2]
    facet = np.linalg.norm(way, axis=1)
    way /= facet[:, None]
    toward = np.array([-math.sin(math.radians(turn)), math.cos(math.radians(turn))])
    at_foot = np.isclose(own[:, 0, 2], 0.0)
    size = float((facet * (way @ toward) ** 2)[at_foot].sum())
    rows = pd.DataFrame({
        "case": "G", "element": np.repeat(np.arange(len(facet)), 4), "node": mesh.corners.ravel(),
        "nx": 0.0, "ny": -N_ / whole, "nxy": np.repeat(V_ / size * (way @ toward), 4),
        "mx": 0.0, "my": 0.0, "mxy": 0.0, "vx": 0.0, "vy": 0.0,
    })  # fmt: skip
    rows.to_csv(folder / "resultants.csv", index=False)
    (folder / "job.toml").write_text(JOB.format(top=12 * step / 1e3, situation=situation, more=more))
    return folder / "job.toml"


@pytest.mark.parametrize("turn", [0.0, 17.0, 200.0])
def test_a_ring_carries_shear_alike_in_all_directions(turn, tmp_path):
    result = run_job(tube(tmp_path / "a", 360, turn), pictures=False)
    own = result.frame("wall checks").set_index("check")  # no piece is lost at the seam
    steps = {s.title: s for _, s in explain_wall(tmp_path / "a" / "job.toml", "storey 1 A W").sheet.steps}
    shown = {q.symbol: q.value for q in (*steps["Extent of the ring"].given, *steps["Extent of the ring"].results)}
    assert math.hypot(shown["V1"], shown["V2"]) == pytest.approx(shown["V"])
    assert own.loc["shear in plane", "demand"] == pytest.approx(V_ / 1e3, rel=1e-4)
    assert own.loc["shear in plane", "N [kN]"] == pytest.approx(-N_ / 1e3, rel=1e-6)
    assert not own.index.str.contains("across the chord").any()
    row = result.frame("wall sections").iloc[0]
    assert math.hypot(row["V1 [kN]"], row["V2 [kN]"]) == pytest.approx(V_ / 1e3, rel=1e-6)
    facet = 2 * R * math.sin(math.radians(2.5))
    ways = np.abs(np.cos(np.radians(np.arange(2.5, 360, 5))))
    web = facet * ways[ways > 0.7].sum()
    steel = 2 * math.pi * 36 / 150  # of both curtains
    bars = result.frame("bar schedule").set_index("layer")  # its level bars close on themselves
    assert "closing bars" not in bars.index
    assert bars.loc["level", ["number of bars", "laps"]].tolist() == [2 * math.ceil(12 * facet / 150), 2]
    assert bars.loc["level", "length [m]"] == pytest.approx(2 * math.pi * R / 1e3, abs=0.03)
    both = abs(row["V1 [kN]"]) + abs(row["V2 [kN]"])
    assert row["torsion with shear"] == pytest.approx(both * 1e3 / (0.8 * web * steel * 500 / 1.15), rel=1e-3)


@pytest.mark.parametrize("turn", [0.0, 50.0])
def test_a_half_ring_is_sheared_across_its_chord(turn, tmp_path):
    job = tube(tmp_path / "a", 180, turn)
    result = run_job(job, pictures=False)
    checks, forces = result.frame("wall checks").set_index("check"), result.frame("wall forces")
    # an even axial force acts at the centroid of the half ring, which lies off its line
    assert forces[["M1 [kNm]", "M2 [kNm]"]].abs().to_numpy().max() < 1e-3 * N_ * R / 1e6
    assert checks.loc["shear in plane", "demand"] < 1e-3 * V_ / 1e3
    row = checks.loc["shear across the chord"]
    assert row["demand"] == pytest.approx(V_ / 1e3, rel=1e-4)
    # a web of 3 m with both curtains, struts at 45 degrees
    assert row["capacity"] == pytest.approx(0.8 * R * 2 * math.pi * 36 / 150 * 500 / 1.15 / 1e3, rel=1e-3)
    # what its extent has of the axial force: 3 m of a line of 9.42 m
    held = checks.loc["sliding at joints across the chord"]
    f_ctd = 0.7 * 0.3 * 30 ** (2 / 3) / 1.5
    rho = 2 * math.pi * 36 / 150 / T
    stress = N_ / (math.pi * R * T)
    assert held["capacity"] == pytest.approx(0.4 * f_ctd + 0.7 * (stress + rho * 500 / 1.15), rel=2e-3)
    sheet = explain_wall(job, "storey 1 A W").sheet
    assert any("across the chord" in s.title for _, s in sheet.steps)
    told = {q.symbol: q.value for q in sheet.answer}
    assert told["shear across the chord"] == pytest.approx(row["utilisation"], rel=1e-9)


def test_piers_over_the_seam_of_a_ring_are_told(tmp_path):
    """Eight windows all round: the seam lies in a pier, both sides of which carry what is even over the ring."""
    job = tube(tmp_path / "a", 360, holes=[(i / 8 + 0.04, i / 8 + 0.1, 4, 8) for i in range(8)])
    result = run_job(job, pictures=False)
    parts = result.frame("wall parts").query("kind == 'full-height pier'")
    assert len(parts) == 9
    assert parts["length [m]"].iloc[[0, -1]].sum() == pytest.approx(parts["length [m]"].iloc[1], abs=0.3)
    forces = result.frame("wall forces").query("at == 'bottom' and kind == 'full-height pier'")
    carried = parts["length [m]"].sum() / (72 * 2 * R / 1e3 * math.sin(math.radians(2.5)))
    assert forces["N [kN]"].sum() == pytest.approx(-N_ / 1e3 * carried, rel=1e-4)
    assert any("ring A: 1 piers stand over its seam, P1 and P9" in str(w.text) for w in result.warnings)
    (job.parent / "parts.csv").write_text("storey,panel,part,from,to,bottom,top\nstorey 1,A,P1,18.0,19.4,0,3\n")
    job.write_text(job.read_text().replace("cot_theta_max", 'parts = "parts.csv"\ncot_theta_max'))
    with pytest.raises(InputError, match="it lies outside panel A, 0 to 18"):
        run_job(job, pictures=False)


def test_given_forces_of_a_curved_wall(tmp_path):
    """They are those of its parts, with both shear forces and moments."""
    job = tube(tmp_path / "a", 180, more='forces = "f.csv"')
    row = "storey 1,{},bottom,G,-2000,900,500"
    (job.parent / "f.csv").write_text(f"storey,part,at,case,N,V1,M2\n{row.format('A W')}\n")
    with pytest.raises(InputError, match="panel A is curved, and V2 or M1 is missing"):
        run_job(job, pictures=False)
    for part, found in (("A W", None), ("section 1", "A W in 'storey 1' is curved and takes no share of a section")):
        (job.parent / "f.csv").write_text(f"storey,part,at,case,N,V1,M2,V2,M1\n{row.format(part)},2500,0\n")
        if found is not None:
            with pytest.raises(InputError, match=found):
                run_job(job, pictures=False)
            continue
        checks = run_job(job, pictures=False).frame("wall checks").set_index("check")
        assert checks.loc["shear across the chord", "demand"] == 2500


def test_a_flat_arc_is_checked_as_a_straight_wall_and_a_curved_seismic_one_is_told(tmp_path):
    checks = run_job(tube(tmp_path / "a", 60), pictures=False).frame("wall checks")
    assert not checks["check"].str.contains("across the chord").any()
    seismic = 'seismic = { ductility = "DCM", q_0 = 3.0, T_1 = 0.16, T_C = 0.5 }'
    told = run_job(tube(tmp_path / "b", 180, situation="seismic", more=seismic), pictures=False).warnings
    assert any(w.grave and "curved panels designed for earthquakes" in str(w.text) for w in told)
