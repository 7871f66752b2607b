"""The core of the demo designed under three standards: all holds with the bars that are chosen, and the tables agree."""

import math

import numpy as np
import pytest

from sandwich import copy_demo, explain_wall, run_job
from sandwich.core.shown import SI, Shown
from sandwich.drawing import seismic as drawing
from sandwich.drawing.maps import png
from sandwich.project.outcome import Pictures
from walls.test_core_variants import SEISMIC, listed

FINE = ("spacing_min = 100", "spacing_min = 75"), ("spacing_step = 50", "spacing_step = 25")
DESIGNS = {
    "DCM": ((SEISMIC, SEISMIC),),
    "DCH": (
        (SEISMIC, 'seismic = { ductility = "DCH", q_0 = 3.0, T_1 = 0.16, T_C = 0.5 }'),
        ("f_yk = 500", "f_yk = 500\nthickness = 350"),
    ),
    "ACI": ((SEISMIC, "seismic = { displacement = 120.0 }"), ("[spectra.RX]", '[design]\nstandard = "ACI 318-19"\n[spectra.RX]'), *FINE),
    "IS": ((SEISMIC, "seismic = {}"), ("f_yk = 500", "f_yk = 500\nthickness = 300"), ("[spectra.RX]", '[design]\nstandard = "IS 456:2000"\n[spectra.RX]')),
}  # fmt: skip


@pytest.fixture(scope="module", params=DESIGNS)
def core(request, tmp_path_factory):
    source = copy_demo(tmp_path_factory.mktemp("source")).parent / "core"
    job = listed(source, tmp_path_factory.mktemp(request.param) / "core", *DESIGNS[request.param])
    return request.param, job, run_job(job, pictures=False)


def figures(result):
    blocks = [b for s in result.project.outcomes["seismic walls"].sections for b in s.blocks]
    return {f.draw[1]: f for b in blocks if isinstance(b, Pictures) for f in b.figures}


def test_all_holds_with_the_bars_that_are_chosen(core):
    kind, _, result = core
    for name in ("wall checks", "seismic shear", "boundary checks", "coupling checks"):
        frame = result.frame(name)
        worst = frame.loc[frame["utilisation"].idxmax()] if len(frame) else None
        assert worst is None or worst["utilisation"] <= 1 + 1e-9, (name, dict(worst))
    ends, beams = result.frame("boundary elements"), result.frame("coupling beams")
    assert (ends["status"].str.startswith(("ok", "not checked: a column"))).all()
    assert len(beams) == 14
    told = str(result.project.outcomes["seismic walls"].verdict[0])
    assert f"{(ends['boundary element'] == 'needed').sum()} of {len(ends)} ends need a boundary element" in told
    assert "all hold" in told
    # which of the standards ask for what here
    assert not (beams["diagonals"] == "required").any()
    assert (ends["boundary element"] == "needed").any() == (kind in ("DCM", "ACI"))


def test_tables_of_bars_and_of_checks_agree(core):
    _, _, result = core
    bars = result.frame("wall bars").assign(part=lambda f: f["panel"] + " " + f["part"]).set_index(["storey", "part"])
    for row in result.frame("boundary elements").query("`boundary element` != 'column'").to_dict("records"):
        own = bars.loc[(row["storey"], row["part"])]
        assert own["each end [mm]"] == row["provided bars [mm]"]
        assert own["ties of ends [mm]"] == row["provided ties [mm]"]
    laps = result.frame("wall laps").query("bars == 'each end'").set_index(["storey", "part"])
    for row in result.frame("boundary elements").query("`boundary element` != 'column'").to_dict("records"):
        own = laps["up to [m]"].get((row["storey"], row["part"]), math.nan)
        assert row["bars up to [m]"] == own or math.isnan(own)
    for row in result.frame("coupling beams").to_dict("records"):
        own = bars.loc[(row["storey"], row["part"])]
        assert own["diagonals [mm]"] == row["provided diagonals [mm]"]
        assert own["links [mm]"] == row["links [mm]"]
    key = ["storey", "part", "end"]
    worst = result.frame("boundary checks").groupby(key)["utilisation"].max()
    ends = result.frame("boundary elements").set_index(key)["utilisation"].dropna()
    assert all(math.isclose(v, worst.get(k, 0.0), rel_tol=1e-12) for k, v in ends.items())


def test_worked_calculations_equal_the_tables(core):
    _, job, result = core
    ends = result.frame("boundary elements").query("`boundary element` != 'column'").iloc[0]
    sheet = explain_wall(job, f"{ends['storey']} {ends['part']}").sheet
    steps = {step.title: step for _, step in sheet.steps}
    checks = result.frame("boundary checks")
    for row in checks[(checks["storey"] == ends["storey"]) & (checks["part"] == ends["part"])].itertuples():
        step = steps[f"{row.end} end: {row.check}"]
        assert float(step.results[0].value) == pytest.approx(row.utilisation, rel=1e-9)
        assert step.source == row.clause
    beam = result.frame("coupling beams").iloc[0]
    titles = {step.title for _, step in explain_wall(job, f"{beam['storey']} {beam['part']}").sheet.steps}
    assert beam["governing check"] in titles


def test_pictures_show_what_the_tables_have(core):
    _, _, result = core
    both = figures(result)
    elevation = both["draw_seismic_elevation"].describe(SI)
    laid = result.frame("boundary elements").query("`provided bars [mm]` != ''")
    assert len(elevation.ends) == len(laid)
    assert sum(e.tied for e in elevation.ends) == (laid["provided ties [mm]"] != "").sum()
    np.testing.assert_allclose(sorted(e.value for e in elevation.ends), sorted(laid["utilisation"]))
    crossed = (result.frame("coupling beams")["provided diagonals [mm]"] != "").sum()
    assert len(elevation.lines) == 2 * crossed
    details = both["draw_seismic_details"].describe(SI)
    shear = result.frame("seismic shear")
    worst = shear.iloc[0]
    assert f"part {worst['part']}" in details.note
    for height in details.heights:
        series = dict(height.series)
        for (low, high, design), (*_, carried), (*_, plain) in zip(
            series["design"], series["capacity"], series["analysis"], strict=True
        ):
            assert low < high
            assert plain <= design * (1 + 1e-9)
            assert design <= carried * (1 + 1e-9)
    if details.beam is not None and details.beam.diagonals:
        (x0, y0, x1, y1), (_, y2, _, y3) = details.beam.diagonals
        assert (y0 + y1) / 2 == pytest.approx(details.beam.size[1] / 2)
        assert (y0, y1) == pytest.approx((y3, y2))
        assert x1 > details.beam.size[0] > 0 > x0
    if details.end is not None:
        assert details.end.ring[2] <= details.end.length + details.end.bars[:, 2].max()
    inches = both["draw_seismic_elevation"].describe(Shown("US"))
    assert inches.unit == "ft"
    assert inches.ends == [] or inches.ends[0].width == pytest.approx(elevation.ends[0].width / 0.3048)
    for name, what in (("draw_seismic_elevation", elevation), ("draw_seismic_details", details)):
        assert png(getattr(drawing, name), what)[:4] == b"\x89PNG"
