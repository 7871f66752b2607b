"""Bar schedule: bending shapes against their geometry, bars of walls by hand, workbook and JSON."""

import json
import math
import re

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from sandwich import InputError, StaleError, bar_schedule, run_job
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import Shown
from sandwich.design.schedule.shapes import BENT, LINK, TIE, TWICE_BENT, Shape
from sandwich.project.outcome import figures_of
from sandwich.tables.schedule_files import BarScheduleFile
from test_layout import RULE
from test_layout import job as plate_job
from walls.test_coupling_beams import beams
from walls.test_wall_laps import laps
from walls.test_walls_of_a_plate import write

SCHEDULE = "bar schedule"


@given(
    d=st.floats(6, 40), times=st.floats(4, 10), a=st.floats(1000, 3000), b=st.floats(900, 3000), tail=st.floats(0, 200)
)
def test_lengths_are_those_of_the_axis(d, times, a, b, tail):
    """Against polylines of sharp corners at the axis with round ones cut in, and a rounded rectangle."""
    mandrel = times * d
    axis = (mandrel + d) / 2
    lost = 2 * axis - math.pi / 2 * axis
    assert Shape(BENT, (a, b), mandrel).length(d) == pytest.approx(a - d / 2 + b - d / 2 - lost)
    assert Shape(TWICE_BENT, (a, b, a), mandrel).length(d) == pytest.approx(2 * (a - d / 2) + b - d - 2 * lost)
    ring = shapely.box(0, 0, a - 2 * axis - d, b - 2 * axis - d).buffer(axis, quad_segs=200).exterior.length
    hooks = 2 * (0.75 * math.pi * axis + tail) - math.pi / 2 * axis
    assert Shape(LINK, (a, b), mandrel, tail).length(d) == pytest.approx(ring + hooks, rel=1e-5)
    straight = a - 2 * (axis + d / 2)
    assert Shape(TIE, (a,), mandrel, tail).length(d) == pytest.approx(straight + 2 * (0.75 * math.pi * axis + tail))


def rows_of(result):
    frame = result.frame(SCHEDULE)
    return frame, frame.set_index(["storey", "layer", "length [m]"]).sort_index()


def up(length, step=25):
    return math.ceil(length / step - 1e-6) * step


def test_elevations_have_the_marks_of_the_schedule(tmp_path):
    """Each line of a label names bars by the marks and the diameter that they have in the table."""
    result, _ = laps(tmp_path / "a")
    frame = result.frame(SCHEDULE).set_index("mark")
    (name,) = (f for f in figures_of(result.project.outcomes.values()) if re.fullmatch("wall .* bars", f))
    shown = figures_of(result.project.outcomes.values())[name].describe(Shown())
    seen = set()
    for _, _, text, _ in shown.labels:
        for line in text.split("\n"):
            marks, diameter = re.fullmatch(r"\(([\d, ]+)\) \D*(?:\d+x)?(\d+)(?:/\d+)?", line).groups()
            own = frame.loc[[int(m) for m in marks.split(", ")]]
            assert set(own["diameter [mm]"]) == {int(diameter)}
            seen |= set(own.index)
    assert seen == set(frame.index)


def test_bars_of_a_wall_by_hand(tmp_path):
    """A wall of 4 m, 200 mm thick, two storeys of 3 m; 16/150 and eight 20 at each end below, 12/150 and four above."""
    result, of = laps(tmp_path / "a")
    frame, rows = rows_of(result)
    web, ends = of.loc[("storey 1", "web")], of.loc[("storey 1", "each end")]
    # 2840 mm between the inner rows of the ends: 18 pairs; lapped with thinner bars, they go as far as is required
    long = up(1e3 * max(web["others end at [m]"], web["up to [m]"])) / 1e3
    vertical = rows.loc[("storey 1", "vertical")]
    assert vertical.index.tolist() == [long]
    assert vertical["number of bars"].tolist() == [36]
    pairs = {up(1e3 * ends[k]) / 1e3 for k in ("up to [m]", "others end at [m]")}
    at_ends = rows.loc[("storey 1", "bars of ends")]
    assert set(at_ends.index) == pairs
    assert at_ends["number of bars"].tolist() == [8, 8]
    level, closing = (rows.loc[("storey 2", k)].iloc[0] for k in ("level", "closing bars"))
    assert (level["number of bars"], level["a [mm]"], closing["number of bars"]) == (30, up(4000 - 60), 30)
    over = 500 / 1.15 / (4 * 2.25 * 0.7 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)  # poor bond
    leg = up(1.5 * (1 - 0.15 * (30 - 10) / 10) * over * 10, 5)
    assert closing[["a [mm]", "b [mm]", "c [mm]", "mandrel [mm]"]].tolist() == [leg, 140, leg, 40]
    assert closing["shape by ISO 3766"] == "21"
    # under the cover, with a leg of 5 diameters past the bend; 7 diameters of mandrel above 16 mm
    for layer, d, leg, mandrel in (("vertical", 12, 100, 48), ("bars of ends", 20, 190, 140)):
        top = rows.loc[("storey 2", layer)].iloc[0]
        assert top[["a [mm]", "b [mm]", "mandrel [mm]"]].tolist() == [2970, leg, mandrel]
        axis = (mandrel + d) / 2
        length = up(2970 + leg - d - (2 - math.pi / 2) * axis)
        mass = STEEL_DENSITY * math.pi * d**2 / 4 * length * top["number of bars"]
        assert top["mass [kg]"] == pytest.approx(mass)
    masses = result.frame("mass of bars")
    assert masses["concrete [m3]"].tolist() == pytest.approx([4 * 3 * 0.2] * 2)
    for name, column in (("mass of bars", "mass [kg]"), ("bars by diameter", "mass [kg]")):
        assert result.frame(name)[column].sum() == pytest.approx(frame["mass [kg]"].sum())
    # as by areas: vertical bars once over the height with what is lapped, anchored and bent
    area = {d: STEEL_DENSITY * math.pi * d**2 / 4 * 1e3 for d in (12, 16, 20)}
    by_area = 36 * (area[16] + area[12]) * 3 + area[20] * (16 + 8) * 3
    past = 36 * area[16] * (long - 3) + area[20] * 8 * (sum(pairs) - 6)
    past += 36 * area[12] * (0.100 - 0.030) + 8 * area[20] * (0.190 - 0.030)
    upright = frame[frame["layer"].isin(["vertical", "bars of ends"])]["mass [kg]"].sum()
    assert upright == pytest.approx(by_area + past, rel=0.005)


@pytest.mark.parametrize("standard", ["EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000"])
def test_ties_of_ends(standard, tmp_path):
    """Closed ties round the bars of both ends, cross ties for legs past two, hooks of the standard."""
    lower = (
        "[[walls.wall.bars]]\nvertical = { diameter = 12, spacing = 150 }\n"
        "ends = { count = 8, diameter = 16, length = 400 }\n"
        "ties = { diameter = 8, spacing = 100, across = 4, along = 2 }\n"
    )
    result, _ = laps(tmp_path / "a", standard, lower, "", seismic=True)
    _, rows = rows_of(result)
    ties, cross = (rows.loc[("storey 1", k)].iloc[0] for k in ("ties of ends", "cross ties of ends"))
    assert (ties["number of bars"], cross["number of bars"]) == (2 * 30, 2 * 30 * 2)
    assert ties["a [mm]"] == cross["a [mm]"] == 200 - 2 * 30
    # from the outside of the ties at the edge to that round the last row
    assert ties["b [mm]"] == pytest.approx(400 - 16 - 30 + 16 / 2 + 8)
    mandrel, tail = {"EN": (32, 80), "AC": (32, 75), "IS": (64, 65)}[standard[:2]]
    assert ties[["mandrel [mm]", "tail [mm]"]].tolist() == [mandrel, tail]


def test_bars_in_the_bends_of_closing_bars(tmp_path):
    """Bars of 8 mm cross closing bars of 10 mm: two of 10 mm at each end, lapped; not where bars of ends are thicker."""
    thin = "[[walls.wall.bars]]\nvertical = { diameter = 8, spacing = 150 }\n"
    _, rows = rows_of(laps(tmp_path / "a", upper=thin)[0])
    assert ("storey 1", "in bends of closing bars") not in rows.index
    (found,) = rows.loc[("storey 2", "in bends of closing bars")].to_dict("records")
    over = 500 / 1.15 / (4 * 2.25 * 0.7 * 0.7 * 0.30 * 30 ** (2 / 3) / 1.5)  # poor bond
    lap = 1.5 * (1 - 0.15 * (30 - 10) / 10) * over * 10
    assert (found["number of bars"], found["diameter [mm]"], found["a [mm]"]) == (4, 10, up(3000 + lap))
    _, rows = rows_of(laps(tmp_path / "b", "ACI 318-19", upper=thin)[0])
    assert not rows.index.get_level_values(1).str.startswith("in bends").any()


@pytest.mark.parametrize("standard", ["ACI 318-19", "EN 1992-1-1:2004"])
def test_a_coupling_beam_with_diagonals(standard, tmp_path):
    """A lintel of 1 x 1 m, 200 mm thick: bars into the walls as they were checked, cross ties over all six legs."""
    bars = "[[walls.wall.bars]]\ndiagonals = { count = 4, diameter = 20 }\nlinks = { diameter = 10, spacing = 75 }\n"
    result, row, _ = beams(tmp_path / "a", standard, bars=bars)
    rows = result.frame(SCHEDULE).query("place == 'A L1'").set_index("layer")
    links, cross = rows.loc["links"], rows.loc["cross ties of diagonals"]
    assert links[["number of bars", "a [mm]", "b [mm]"]].tolist() == [14, 140, 940]
    assert cross[["number of bars", "a [mm]"]].tolist() == [14 * (6 - 2), 140]
    chords, beyond = (float(v) for v in re.findall(r"(?:chords|diagonals) (\d+)", str(row["bars into the walls"])))
    assert rows.loc["chords", "length [m]"] == pytest.approx((1000 + 2 * chords) / 1e3, abs=0.026)
    assert rows.loc["chords", "number of bars"] == 2 * float(result.frame("wall bars").set_index("kind").loc[
        "lintel", "each chord [mm]"].split("x")[0])  # fmt: skip
    own, span = rows.loc["diagonals"], 1000 / math.cos(math.radians(row["angle [deg]"]))
    assert own[["number of bars", "shape by ISO 3766"]].tolist() == [8, "21"]
    if standard.startswith("ACI"):  # l_dh to the outside of the hook, 12 d_b past its bend
        assert own[["mandrel [mm]", "a [mm]"]].tolist() == [120, 12 * 20 + 60 + 20]
        assert own["b [mm]"] == pytest.approx(span + 2 * beyond, abs=1.1)
    else:  # along the bar; mandrels by (8.1), bars 25 mm apart, f_cd 20 MPa
        mandrel = math.pi * 100 * 500 / 1.15 * (1 / 22.5 + 1 / 40) / 20
        assert own["mandrel [mm]"] == pytest.approx(mandrel)
        assert own["b [mm]"] == pytest.approx(span + 2 * (mandrel / 2 + 20))
        assert own["a [mm]"] == pytest.approx(max(beyond - mandrel / 2 - 20, 100) + mandrel / 2 + 20, abs=5.6)


def test_a_workbook_and_json_have_what_the_tables_have(tmp_path, cli):
    zone = RULE + 'provided = { "bottom x" = { diameter = 12, spacing = 200 } }\n'
    path = write(tmp_path, plate_job(zone) + '[output]\nunits = "US"\n[design]\nstandard = "ACI 318-19"\n')
    with pytest.raises(StaleError, match="run the job first"):
        bar_schedule(path)
    result = run_job(path, pictures=False)
    frame = result.frame(SCHEDULE)
    code, told, _ = cli("schedule", path, "--to", tmp_path / "b.xlsx", "--to", tmp_path / "b.json")
    assert code == 0
    assert "mass [lb/ft2]" in told
    book = load_workbook(tmp_path / "b.xlsx")
    assert book.sheetnames == [SCHEDULE, "mass of bars", "bars by diameter"]
    sheet = book[SCHEDULE]
    heads = [c.value for c in sheet[2]]
    assert sheet.max_row == len(frame) + 3
    last = {h: c.value for h, c in zip(heads, sheet[sheet.max_row], strict=True)}
    assert last["mass [lb]"] == pytest.approx(frame["mass [kg]"].sum() / 0.45359237)
    assert last["number of bars"] == frame["number of bars"].sum()
    assert last["mark"] == "total"
    first = {h: c.value for h, c in zip(heads, sheet[3], strict=True)}
    assert first["length [ft]"] == pytest.approx(frame["length [m]"].iloc[0] / 0.3048)
    held = BarScheduleFile.model_validate_json((tmp_path / "b.json").read_text())
    assert held.mass == pytest.approx(frame["mass [kg]"].sum())
    assert [b.length for b in held.bars] == pytest.approx((1e3 * frame["length [m]"]).tolist())
    assert json.loads((tmp_path / "b.json").read_text())["format"] == "sandwich-rc bar schedule"
    for name, told in (("b.pdf", "use .xlsx or .json"), ("none/b.xlsx", "cannot be written")):
        with pytest.raises(InputError, match=told):
            bar_schedule(path).write(tmp_path / name)


def test_a_job_without_bars_says_so(tmp_path):
    path = write(tmp_path, plate_job(""))
    run_job(path, pictures=False)
    with pytest.raises(InputError, match="no bars are chosen or given"):
        bar_schedule(path)
