"""A job in US customary units: numbers with units at the door, tables and report as they are shown."""

import re

import numpy as np
import pandas as pd
import pint
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import InputError, explain_point, load_job, run_job
from sandwich.core.shown import _US, Measure, Sentence, Shown
from sandwich.core.units import read_value
from sandwich.design.bar_sets import ParallelBars

PER = {"kNm/m": "kN*m/m", "kip ft/ft": "kip*ft/ft", "kNm": "kN*m", "kip ft": "kip*ft", "psf": "lbf/ft**2"}


def pinted(unit):
    text = PER.get(unit, unit)
    text = re.sub(r"\b(mm|m|in|ft)([23])\b", r"\1**\2", text)
    return text.replace("kip", "kilopound_force")


@pytest.mark.parametrize("unit", _US)
def test_units_shown_are_those_of_pint(unit):
    name, factor = _US[unit]
    registry = pint.UnitRegistry()
    registry.define("kilopound_force = 1000 * pound_force")
    assert registry.Quantity(1.0, pinted(unit)).to(pinted(name)).magnitude == pytest.approx(factor, rel=1e-12)


def test_tables_and_sentences():
    frame = pd.DataFrame(
        {
            "at [m]": [3.048],
            "unit": ["mm2/m"],
            "demand": [1000.0],
            "utilisation": [0.7],
            "bars [mm]": [Sentence("{}", ParallelBars(12.7, 254.0))],
            "told": [Sentence("{} and {}", Measure(10.0, "kN/m2"), Measure(254.0, "mm"))],
        }
    )
    shown = Shown("US").frame(frame).iloc[0].to_dict()
    assert shown == {
        "at [ft]": pytest.approx(10.0), "unit": "in2/ft", "demand": pytest.approx(0.4724409), "utilisation": 0.7,
        "bars [in]": "#4/10", "told": "208.9 psf and 10 in",
    }  # fmt: skip
    plain = Shown().frame(frame).iloc[0].to_dict()
    assert plain == {**frame.iloc[0], "bars [mm]": "#4/254", "told": "10 kN/m2 and 254 mm"}


def test_a_job_in_us_units_is_the_same_job(tmp_path, cli):
    job = write_plate(tmp_path)
    text = job.read_text() + '[design]\nstandard = "ACI 318-19"\n'
    places = (
        '[punching.p]\nzone = "plate"\nat = [[1.524, 1.524, 0]]\nc1 = 304.8\nc2 = 304.8\nforce = { G = 90, Q = 0 }\n'
    )
    job.write_text(
        text.replace("f_yk = 500", "f_yk = 413.6854\nthickness = 254").replace("f_ck = 30", "f_ck = 27.579029") + places
    )
    metric = run_job(job, pictures=False)
    stored = pd.read_parquet(tmp_path / "results" / "steel.parquet")
    us = text.replace("f_yk = 500", 'f_yk = "60 ksi"\nthickness = "10 in"').replace("f_ck = 30", 'f_ck = "4000 psi"')
    us += '[punching.p]\nzone = "plate"\nat = [["5 ft", "60 in", 0]]\nc1 = "1 ft"\nc2 = "12 in"\nforce = { G = 90, Q = 0 }\n'
    job.write_text(us + '[output]\nunits = "US"\ncsv = true\n')
    result = run_job(job)
    assert_allclose(result.steel["required [mm2/m]"], metric.steel["required [mm2/m]"], rtol=1e-6, atol=1e-6)
    shown = pd.read_csv(tmp_path / "results" / "steel.csv")
    assert_allclose(shown["required [in2/ft]"], stored["required [mm2/m]"] * 304.8 / 645.16 / 1e3, rtol=1e-4)
    row = pd.read_csv(tmp_path / "results" / "punching.csv").iloc[0]
    assert row["V [kip]"] == pytest.approx(1.35 * 90 / 4.448222, rel=1e-5)
    page = (tmp_path / "results" / "report.html").read_text()
    for words in ("required [in2/ft]", "cover 1.181 / 1.181", "f_ck 4000 (cylinder), f_yk 60000", "V [kip]"):
        assert words in page
    assert "[mm2/m]" not in page
    out = " ".join(cli("run", job, "--no-pictures")[1].split())
    assert "[in2/ft]" in out
    assert "[mm2/m]" not in out
    point = str(result.steel["point"].iloc[0])
    assert all(q.unit == "mm2/m" for q in explain_point(job, point).answer)


def test_bars_keep_the_names_of_their_sizes(tmp_path):
    """In tables in any units, in the schedule, and back through a table of bars; areas are those of ASTM A615."""
    job = write_plate(tmp_path)
    bars = ", ".join(f'"{f} {w}" = {{ diameter = "#6", spacing = "12 in" }}' for f in ("bottom", "top") for w in "xy")
    text = job.read_text().replace("[zones.plate]", f"[zones.plate]\nprovided = {{ {bars} }}")
    job.write_text(f'{text}[design]\nstandard = "ACI 318-19"\n[output]\nunits = "US"\ncsv = true\n')
    result = run_job(job, pictures=False)
    assert set(map(str, result.frame("bars")["bars [mm]"])) == {"#6/304.8"}
    shown = pd.read_csv(tmp_path / "results" / "bars.csv")
    assert set(shown["bars [in]"]) == {"#6/12"}
    assert_allclose(shown["provided [in2/ft]"], 0.44, rtol=5e-3)
    schedule = result.frame("bar schedule")
    assert set(schedule["size"]) == {"#6"}
    assert_allclose(schedule["diameter [mm]"], 19.05)
    result.frame("layout").assign(**{"bars [mm]": lambda f: f["bars [mm]"].astype(str)}).to_csv(tmp_path / "own.csv")
    job.write_text(job.read_text().replace(f"provided = {{ {bars} }}", 'bars_table = "own.csv"'))
    again = run_job(job, pictures=False)
    assert set(map(str, again.frame("bars")["bars [mm]"])) == {"#6/304.8"}


def test_values_with_units(tmp_path):
    assert read_value("length", "#8") == 25.4
    job = write_plate(tmp_path)
    job.write_text(
        job.read_text()
        .replace("diameter_x = 12", 'diameter_x = "#4"')
        .replace("cover_top = 30", 'cover_top = "1.5 in"')
    )
    bars = load_job(job).zones["plate"].bars
    assert (bars.diameter_x, bars.cover_top) == (12.7, 38.1)
    text = job.read_text()
    for value, words in (
        ('"3 kip"', "is not a unit of length"),
        ('"thick"', "is no number with a unit"),
        ('"-2 in"', "use more than 0"),
    ):
        job.write_text(text.replace('diameter_x = "#4"', f"diameter_x = {value}"))
        with pytest.raises(InputError, match=words):
            load_job(job)
    job.write_text(text + '[output]\nunits = "US"\ncsv = true\n')
    with pytest.raises(InputError, match="US customary units are for ACI 318"):
        load_job(job)
    assert np.isfinite(read_value("stress", "4 ksi"))
