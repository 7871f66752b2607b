"""Maps of a job: steps by bars, where the base mesh ends, what is past a limit, what is not checked."""

import math

import numpy as np
import pytest

from sandwich import run_job
from sandwich.core.shown import Shown
from sandwich.drawing.bar_section import draw_bar_section
from sandwich.drawing.maps import FAIL, draw_map
from sandwich.project.outcome import figures_of
from test_layout import LAYOUT, RULE
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import write

RED = [int(FAIL[i : i + 2], 16) for i in (1, 3, 5)]


def run(folder, zone):
    folder.mkdir()
    result = run_job(write(folder, plate_job(zone), step=500.0), pictures=False)
    found = figures_of(result.project.outcomes.values())
    return result, {name.removeprefix("wall "): f.describe(Shown("SI")) for name, f in found.items() if f.zone}


def red(description):
    canvas = draw_map(description).figure.canvas
    canvas.draw()
    return (np.asarray(canvas.buffer_rgba())[..., :3] == RED).all(-1).mean()


def test_steps_are_areas_of_bars_of_the_rule(tmp_path):
    rule = RULE.replace("12, 16", "12, 16, 25")
    result, maps = run(tmp_path / "a", rule)
    for layer in ("bottom x", "bottom y", "top x", "top y"):
        d = maps[layer]
        for level, name in list(zip(d.levels, d.level_names, strict=True))[1:]:
            diameter, spacing = map(float, name.split("/"))
            assert diameter in (10, 12, 16, 25)
            assert spacing in (100, 150, 200)
            assert level == pytest.approx(1e3 * math.pi * diameter**2 / 4 / spacing)
        assert np.all(np.diff(d.levels) > 0)
        assert len(d.levels) <= 8
        assert d.levels[-1] >= np.nanmax(d.values) * (1 - 1e-9)
        assert not d.limit
    us = next(f for f in figures_of(result.project.outcomes.values()).values() if f.name == "wall bottom y").describe(
        Shown("US")
    )
    assert us.levels == pytest.approx(maps["bottom y"].levels * 25.4**-2 * 0.3048)
    assert us.unit == "in2/ft"


def test_a_line_where_the_base_mesh_of_a_layout_ends(tmp_path):
    result, maps = run(tmp_path / "a", LAYOUT)
    places = result.frame("layout").set_index(["layer", "place"])["bars [mm]"].astype(str)
    with_more = {layer for layer, place in places.index if place != "base"}
    assert with_more
    for layer in with_more:
        d = maps[layer]
        assert d.edge[1] == places[layer, "base"] == d.level_names[1]
        assert d.edge[0] == d.levels[1]
        assert all(name.startswith("+ ") for name in d.level_names[2:])
    # the same figures in the tables: provided, and how far it is used
    steel, bars = result.frame("steel"), result.frame("bars").set_index("layer")
    worst = steel.groupby("layer")["utilisation"].max()
    assert worst.to_dict() == pytest.approx(bars["utilisation"].to_dict())
    np.testing.assert_allclose(
        steel["utilisation"] * steel["provided [mm2/m]"], steel["required [mm2/m]"], rtol=1e-9, atol=1e-9
    )
    assert steel["provided [mm2/m]"].nunique() > len(bars)


def test_what_is_past_the_bars_is_red_and_what_is_not_checked_hatched(tmp_path):
    given = ", ".join(
        f'"{face} {way}" = {{ diameter = 8, spacing = 200 }}' for face in ("bottom", "top") for way in "xy"
    )
    _, few = run(tmp_path / "a", f"provided = {{ {given} }}\n")
    _, enough = run(
        tmp_path / "b",
        f"provided = {{ {given.replace('diameter = 8, spacing = 200', 'diameter = 32, spacing = 100')} }}\n",
    )
    assert few["utilisation of bars"].limit
    assert red(few["utilisation of bars"]) > 0.02
    assert red(enough["utilisation of bars"]) == 0.0
    # a map of what the base mesh lacks has its line without a rule, too
    assert any(d.edge is not None and d.edge[1] == "8/200" for d in few.values())
    assert all(d.edge is None for d in enough.values())
    # bars of the rule that are never enough: the scale ends with the largest of them
    _, short = run(tmp_path / "c", "rule = { diameters = [8], spacing_min = 200, spacing_max = 200 }\n")
    past = [d for name, d in short.items() if d.level_names]
    assert any(d.limit and d.level_names[-1] == "8/200" and red(d) > 0.0 for d in past)
    _, held = run(tmp_path / "d", "supports = [{ line = [[0, 0, 3], [4, 0, 3]], width = 300 }]\n")
    shear = held["shear"]
    assert len(shear.hatched)
    assert not len(shear.failed)
    assert np.isnan(shear.values).any()


def test_a_section_shows_the_bars_where_they_lie(tmp_path):
    result, _ = run(tmp_path / "a", LAYOUT)
    figures = {
        f.name: f
        for s in result.project.outcomes["layout"].sections
        for b in s.blocks
        for f in getattr(b, "figures", ())
    }
    d = figures["bars wall section"].describe(Shown("SI"))
    assert (d.width, d.thickness) == (1000, 200)
    steel, places = result.frame("steel"), result.frame("layout").set_index(["layer", "place"])["bars [mm]"].astype(str)
    at = d.title.rsplit(" ", 1)[1]
    own = steel[steel["point"] == at].set_index("layer")
    thickest = {name: max(float(b.split("/")[0]) for b in bars) for name, bars in places.groupby("layer")}
    for panel, way in zip(d.panels, "xy", strict=True):
        assert panel.title.startswith(f"across the {way} bars")
        for face in ("bottom", "top"):
            row = own.loc[f"{face} {way}"]
            # x bars lie outside, bars of a layer at the depth of its thickest
            depth = 30 + (thickest[f"{face} x"] if way == "y" else 0) + thickest[f"{face} {way}"] / 2
            z = depth if face == "bottom" else 200 - depth
            mine = sorted((x, diameter, more) for x, height, diameter, more in panel.cut if height == pytest.approx(z))
            # their area over the width is what is provided there, to one bar
            area = sum(math.pi * diameter**2 / 4 for _, diameter, _ in mine)
            assert area == pytest.approx(row["provided [mm2/m]"], abs=1.01 * max(math.pi * m[1] ** 2 / 4 for m in mine))
            base = [x for x, _, more in mine if not more]
            diameter, spacing = map(float, places[f"{face} {way}", "base"].split("/"))
            assert np.diff(base) == pytest.approx(spacing)
            assert {diameter} == {m[1] for m in mine if not m[2]}
            assert min(np.diff([x for x, *_ in mine])) >= 20 + max(m[1] for m in mine)
        assert [c[2] for c in panel.covers] == ["30", "30"]
    assert "additional" in d.note
    assert figures["bars wall section"].describe(Shown("US")).thickness == pytest.approx(200 / 25.4)
    assert draw_bar_section(d).figure.get_size_inches()[0] == 12.8
