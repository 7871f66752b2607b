"""Effective flange widths of seismic walls in the strength of whole sections."""

import numpy as np
import pytest

from sandwich import run_job
from sandwich.model.walls.flanges import cut_flanges
from sandwich.model.walls.outline import Stretch
from sandwich.model.walls.panels import Panel
from walls.test_flanges import JOB as FLANGED

JOB = (
    FLANGED.replace("levels = [0, 3]", "levels = [0, 3, 6]").replace('names = ["low"]', 'names = ["low", "high"]')
    .replace('openings = "openings.csv"\n', "").replace("seismic = { q_0 = 3.0, T_1 = 0.3, T_C = 0.5 }", "seismic = {}")
    .replace('situation = "seismic"', 'situation = "SITUATION"')
)  # fmt: skip


def section(folder, moment, reach=4.0, situation="seismic", standard="ACI 318-19", spin=0):
    """A web of 4 m along x from the middle of a flange that reaches so far [m] both ways; whole section at the foot."""
    folder.mkdir()
    turn = [(1, 0, 0, 1), (0, -1, 1, 0)][spin]
    rows = []
    for name, *ends in (("A", 0, 0, 4, 0), ("B", 0, -reach, 0, reach)):
        x1, y1, x2, y2 = (turn[i] * x + turn[i + 1] * y for x, y in (ends[:2], ends[2:]) for i in (0, 2))
        rows.append(f"{name},{x1},{y1},{x2},{y2},0.25")
    (folder / "panels.csv").write_text("panel,x1,y1,x2,y2,thickness\n" + "\n".join(rows) + "\n")
    lines = ["storey,part,at,case,N,V1,M1,M2"]
    for storey in ("low", "high"):
        for part in ("A W", "B W", "section 1"):
            force = (-1500, 10, *moment) if part == "section 1" else (-100, 1, 0, 0)
            lines += [f"{storey},{part},{at},G,{','.join(map(str, force))}" for at in ("bottom", "top")]
            lines += [f"{storey},{part},{at},E,0,1,0,0" for at in ("bottom", "top")]
    (folder / "forces.csv").write_text("\n".join(lines) + "\n")
    text = JOB.replace("SITUATION", situation) + f'[design]\nstandard = "{standard}"\n'
    (folder / "job.toml").write_text(text)
    frame = run_job(folder / "job.toml", pictures=False).frame("wall sections")
    return frame[(frame["storey"] == "low") & (frame["at"] == "bottom")].iloc[0]


@pytest.mark.parametrize(
    ("standard", "width", "clause"),
    [("ACI 318-19", 1500, "18.10.5.2"), ("ACI 318-14", 1500, "18.10.5.2"), ("EN 1992-1-1:2004", 1500, "5.4.3.4.1(4)"),
     ("IS 456:2000", 600, "10.1.5")],
)  # fmt: skip
def test_flanges_are_cut_to_the_width_of_the_standard(standard, width, clause, tmp_path):
    """A quarter of the 6 m above the section, or a tenth of the height; what is left is as a wall drawn that way."""
    row = section(tmp_path / "a", (0, 2000), standard=standard)
    assert row["flanges"] == f"cut, {clause}"
    assert row["area [m2]"] == pytest.approx(((250 + 2 * width) * 250 + 3875 * 250) / 1e6, rel=2e-3)
    drawn = section(tmp_path / "b", (0, row["My [kNm]"]), reach=0.125 + width / 1e3, standard=standard)
    assert drawn["flanges"] == "whole"
    assert drawn["area [m2]"] == pytest.approx(row["area [m2]"], rel=2e-3)
    assert drawn["utilisation"] == pytest.approx(row["utilisation"], rel=0.1)  # by a bar or two
    # bending along the flange makes it the web, and the web its flange
    across = section(tmp_path / "c", (2000, 0), standard=standard)
    assert across["area [m2]"] == pytest.approx((8000 * 250 + width * 250) / 1e6, rel=2e-3)
    turned = section(tmp_path / "d", (-2000, 0), standard=standard, spin=1)  # presses the tip again
    assert turned["utilisation"] == pytest.approx(row["utilisation"], rel=1e-6)
    lasting = section(tmp_path / "e", (0, 2000), situation="persistent", standard=standard)
    assert (lasting["flanges"], lasting["area [m2]"]) == ("whole", pytest.approx((8000 * 250 + 3875 * 250) / 1e6))


def plate(name, *line):
    none = np.zeros((0, 4))
    return Panel(name, np.zeros(0, dtype=np.int64), np.array(line, dtype=float), none, none, np.zeros(0))


def test_flanges_between_and_beside_webs():
    """Two webs 4 m apart on a flange that a door parts from its last piece."""
    panels = [plate("A", (0, 0), (0, 3e3)), plate("B", (4e3, 0), (4e3, 3e3)), plate("F", (-5e3, 0), (9e3, 0))]
    section = [
        Stretch("A", 0, 3e3, 300),
        Stretch("B", 0, 3e3, 200),
        Stretch("F", 0, 12e3, 250),
        Stretch("F", 13e3, 14e3, 250),
    ]
    seen = []

    def width(free, distance):
        seen.append((free, distance))
        return min(free, distance / 2, 1000.0)

    found = cut_flanges(section, panels, np.array([0.0, 1.0]), width)
    assert found[:2] == tuple(section[:2])
    assert [(s.a, s.b) for s in found[2:]] == [(3850, 6150), (7900, 10100)]
    assert seen == [(4850, np.inf), (3750, 3750), (3750, 3750), (2900, np.inf)]
    assert cut_flanges(section, panels, np.array([0.0, 1.0]), lambda free, _: free)[2] == Stretch("F", 0, 12e3, 250)
    # along the flange it is the web; a section without webs in a direction stays whole
    assert cut_flanges(section, panels, np.array([1.0, 0.0]), width)[2:] == tuple(section[2:])
    assert cut_flanges(section[:2], panels, np.array([1.0, 0.0]), width) == tuple(section[:2])
