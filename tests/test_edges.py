"""Bars at free edges and openings of zones: by hand, at edges of the zone, turned, and where they are refused."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from sandwich import InputError, run_job
from sandwich.core.shown import Shown
from sandwich.work.edge_bars import cells_sides, openings_of
from test_layout import job as plate_job
from test_schedule import up
from walls.test_walls_of_a_plate import write

LAYERS = ("bottom x", "bottom y", "top x", "top y")
BARS = "provided = { " + ", ".join(f'"{name}" = {{ diameter = 12, spacing = 200 }}' for name in LAYERS) + " }\n"


def scheduled(folder, zone, hole=(1500, 2500, 2000, 3000), standard="EN 1992-1-1:2004"):
    folder.mkdir()
    text = plate_job(BARS + zone).replace("f_yk = 500", "f_yk = 420" if standard.startswith("ACI") else "f_yk = 500")
    path = write(folder, f'{text}[design]\nstandard = "{standard}"\n', holes=[hole])
    result = run_job(path, pictures=False)
    frame = result.frame("bar schedule")
    return result, frame[~frame["place"].str.startswith("base")].set_index(["place", "layer"]).sort_index()


def test_an_opening_in_a_plate_by_hand(tmp_path):
    """One square metre in 4 x 6 m of 200 mm with 12/200: five bars are cut, three lie on each side of it."""
    result, rows = scheduled(tmp_path / "a", "edges = {}\n")
    over = 500 / 1.15 / (4 * 2.25 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)  # good bond
    for layer in ("bottom x", "bottom y"):
        own = rows.loc["beside opening 1", layer]
        own = own.iloc[0] if own.ndim > 1 else own
        assert own["number of bars"] == 6
        assert own["diameter [mm]"] == 12
    # upright bars: c_d is half of the 38 mm between bars 50 mm apart
    alpha = max(1 - 0.15 * (19 - 12) / 12, 0.7)
    upright = rows.loc["beside opening 1", "bottom y"]
    assert upright["length [m]"] == up(1000 + 2 * alpha * over * 12) / 1e3
    level = rows.loc["beside opening 1", "bottom x"]
    assert level["length [m]"] == up(1000 + 2 * alpha * over / 0.7 * 12) / 1e3
    for way, edge in (("x", 2 * 6 + 2 * 1), ("y", 2 * 4 + 2 * 1)):
        u = rows.loc["free edges", f"U-bars along {way}"]
        assert u["number of bars"] == math.ceil(edge / 0.2)
        assert u[["a [mm]", "c [mm]", "mandrel [mm]"]].tolist() == [400, 400, 48]
        # between the outsides of both layers: x bars lie outside
        assert u["b [mm]"] == pytest.approx(200 - 2 * 30 - (24 if way == "y" else 0))
    # x bars lie outside the U-bars along y: a bar of their own in each bend, less the cover at its ends
    inside = rows.loc["free edges", "in bends of U-bars along y"]
    assert inside["length [m]"].tolist() == [up(4000 - 60) / 1e3] * 2 + [up(1000 - 60) / 1e3] * 2
    assert inside[["number of bars", "diameter [mm]"]].to_numpy().tolist() == [[2, 12]] * 4
    assert ("free edges", "in bends of U-bars along x") not in rows.index
    for face in ("bottom", "top"):
        assert rows.loc["corners of opening 1", f"{face} diagonal"]["number of bars"] == 4
    marks = result.frame("bar schedule")["mark"]
    assert sorted(set(marks)) == list(range(1, marks.max() + 1))
    # what is at the edges is beside what is provided, in the schedule alone
    bare, none = scheduled(tmp_path / "b", "")
    assert none.empty
    assert result.frame("layout").equals(bare.frame("layout"))
    figures = [
        f for s in result.project.outcomes["layout"].sections for b in s.blocks for f in getattr(b, "figures", ())
    ]
    patches = figures[0].describe(Shown("SI")).patches
    assert len(patches) == 4
    assert all("3x12" in p.label for p in patches)


def test_parts_of_it_are_left_out_and_lines_end_at_edges(tmp_path):
    _, rows = scheduled(tmp_path / "a", "edges = { u_bars = false, corners = false }\n", hole=(250, 1250, 2000, 3000))
    assert set(rows.index.get_level_values("place")) == {"beside opening 1"}
    # 250 mm from the edge of the wall the level bars end under the cover there
    level = rows.loc["beside opening 1", "bottom x"]
    alone = scheduled(tmp_path / "b", "edges = { u_bars = false, corners = false }\n")[1].loc[
        "beside opening 1", "bottom x"
    ]
    past = (alone["length [m]"] * 1e3 - 1000) / 2
    assert past > 250
    assert level["length [m]"] == pytest.approx((1250 - 30 + past) / 1e3, abs=0.026)
    _, aci = scheduled(tmp_path / "c", "edges = {}\n", standard="ACI 318-19")
    l_d = 420 * 0.8 * 12 / (1.1 * math.sqrt(30) * min((25 / 12), 2.5))  # c_b: half of the 50 mm between axes
    assert aci.loc["beside opening 1", "bottom y"]["length [m]"] == up(1000 + 2 * max(l_d, 300)) / 1e3
    path = write(tmp_path, plate_job("edges = {}\n"))
    with pytest.raises(InputError, match="edges follow the base mesh"):
        run_job(path, pictures=False)
    one = 'provided = { "bottom x" = { diameter = 12, spacing = 200 } }\nedges = { openings = false }\n'
    told = run_job(write(tmp_path, plate_job(one), step=500.0), pictures=False).warnings
    assert any("has no U-bars at its free edges" in str(w.text) for w in told)


@settings(max_examples=25, deadline=None)
@given(turn=st.floats(0, math.pi), i=st.integers(1, 3), j=st.integers(1, 2), wide=st.integers(1, 2))
def test_openings_are_found_however_a_zone_is_turned(turn, i, j, wide):
    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=float) * 1000
    left_out = {(a, j) for a in range(i, i + wide)}
    c = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    cells = (
        np.stack([square + [1000 * a, 1000 * b] for a in range(6) for b in range(4) if (a, b) not in left_out]) @ c.T
    )
    sides = cells_sides(cells).reshape(-1, 2, 2)
    keys = [tuple(sorted(map(tuple, s.round(0)))) for s in sides]
    free = np.array([keys.count(k) == 1 for k in keys])
    (ring,) = openings_of(cells, sides[free])
    found, wanted = shapely.Polygon(ring), shapely.Polygon((square * [wide, 1] + [1000 * i, 1000 * j]) @ c.T)
    assert found.symmetric_difference(wanted).area < 1e-3 * wanted.area
