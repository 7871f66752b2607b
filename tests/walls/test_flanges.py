"""Ends of a web that meet a flange, from walls given by tables: when it takes the place of a boundary element."""

import pytest

from sandwich import explain_wall, run_job

JOB = """
title = "A web and its flange"
[cases.G]
kind = "permanent"
[cases.E]
kind = "seismic"
[zones.wall]
f_ck = 30
f_yk = 500
[storeys]
levels = [0, 3]
names = ["low"]
[walls.wall]
zones = ["wall"]
panels = "panels.csv"
openings = "openings.csv"
forces = "forces.csv"
rule = { diameters = [12], spacing_min = 200, spacing_max = 200 }
bars = [{ vertical = { diameter = 12, spacing = 200 }, horizontal = { diameter = 12, spacing = 200 } }]
seismic = { q_0 = 3.0, T_1 = 0.3, T_C = 0.5 }
[[combinations]]
name = "E"
situation = "seismic"
factors = { G = 1.0, E = 1.0 }
"""


def ends(folder, thickness=0.2, door=(1.0, 1.5), turn=False, standard="EN 1992-1-1:2004"):
    """A web of 4 m along x from the middle of a flange of 4 m with a door: ends of the web."""
    folder.mkdir(exist_ok=True)
    web, flange = ("A", 0, 0, 4, 0, 0.25), ("B", 0, -2, 0, 2, thickness)
    if turn:  # the same in plan, a quarter turned and drawn the other way round
        web, flange = ("A", 0, 4, 0, 0, 0.25), ("B", 2, 0, -2, 0, thickness)
    rows = "\n".join(",".join(map(str, p)) for p in (web, flange))
    (folder / "panels.csv").write_text(f"panel,x1,y1,x2,y2,thickness\n{rows}\n")
    (folder / "openings.csv").write_text(f"panel,from,to,bottom,top\nB,{door[0]},{door[1]},0,2.2\n")
    lines = ["storey,part,at,case,N,V1,M2"]
    for part in ("A W", "B P1", "B P2"):
        for at in ("bottom", "top"):
            big = part == "A W"
            lines += [
                f"low,{part},{at},G,{-4000 if big else -100},0,0",
                f"low,{part},{at},E,0,{300 if big else 10},400",
            ]
    (folder / "forces.csv").write_text("\n".join(lines) + "\n")
    text = JOB + f'[design]\nstandard = "{standard}"\n'
    if standard.startswith("ACI"):
        text = text.replace("q_0 = 3.0, T_1 = 0.3, T_C = 0.5", "")
    (folder / "job.toml").write_text(text)
    frame = run_job(folder / "job.toml", pictures=False).frame("boundary elements")
    return frame[frame["part"] == "A W"].set_index("end")


@pytest.mark.parametrize("turn", [False, True])
def test_a_flange_takes_the_place_of_a_boundary_element(turn, tmp_path):
    met, free = ("right", "left") if turn else ("left", "right")
    found = ends(tmp_path / "a", turn=turn)
    assert found.loc[met, ["boundary element", "by"]].tolist() == ["not needed", "in a flange"]
    assert found.loc[met, "minimum bars [%]"] == 0.0
    assert found.loc[free, ["boundary element", "by"]].tolist() == ["needed", "critical height"]
    assert found.loc[free, "minimum bars [%]"] == 0.5


# h_s/15 is 200 mm and h_s/5 600 mm of 3 m; the door leaves 4 m, then what stands between it and the far end
@pytest.mark.parametrize(
    ("thickness", "door", "taken"),
    [(0.2, (1.0, 1.5), True), (0.19, (1.0, 1.5), False), (0.25, (1.8, 2.2), False), (0.2, (2.2, 3.0), True)],
)
def test_only_a_flange_that_is_thick_and_wide_enough(thickness, door, taken, tmp_path):
    found = ends(tmp_path / "a", thickness, door)
    assert (found.loc["left", "by"] == "in a flange") == taken


def test_boundary_element_of_a_flanged_wall_reaches_into_the_web(tmp_path):
    found = ends(tmp_path / "a", standard="ACI 318-19")
    # half of the flange and 300 mm at least, from the middle of the flange
    assert found.loc["left", "length [mm]"] == pytest.approx(max(found.loc["right", "length [mm]"], 100 + 300))


@pytest.mark.parametrize(("off", "met"), [(0.005, True), (0.1, False)])
def test_a_web_that_ends_short_of_the_flange_has_a_free_end(off, met, tmp_path):
    """Millimetres between the lines of panels are those of drawings; past that the end is free."""
    ends(tmp_path / "a")
    path = tmp_path / "a" / "panels.csv"
    path.write_text(path.read_text().replace("A,0,0,4", f"A,{off},0,4"))
    result = run_job(tmp_path / "a" / "job.toml", pictures=False)
    left = result.frame("boundary elements").set_index(["part", "end"]).loc[("A W", "left")]
    assert (left["by"] == "in a flange") == met
    # the calculation of the part names the clause either way
    sheet = explain_wall(result.job, "low A W").sheet
    own = [s for _, s in sheet.steps if s.source == "EN 1998-1:2004, 5.4.3.4.2(7)"]
    assert [bool(s.results[0].value) for s in own] == ([True] if met else [])
