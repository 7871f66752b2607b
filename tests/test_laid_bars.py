"""Shear and punching by the bars that lie there: by hand, in every table and worked calculation, and as they are tried."""

import numpy as np
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import explain_loaded_area, explain_point, run_job, try_job
from sandwich.design.results import SHEAR
from sandwich.stages.required import REQUIRED_STAGE

LAYERS = ("bottom x", "bottom y", "top x", "top y")


def bars(**spacing):
    """Base bars of 12 mm."""
    each = (f'"{n}" = {{ diameter = 12, spacing = {spacing.get(n.replace(" ", "_"), 150)} }}' for n in LAYERS)
    return f"provided = {{ {', '.join(each)} }}\n"


EXTRA = "additional = [" + ", ".join(
    f'{{ layer = "{n}", diameter = 16, spacing = 150, along = [0, 3.5], across = [0, 3.5] }}' for n in ("bottom x", "bottom y")
) + "]\n"  # fmt: skip
PLACE = '[punching.p]\nzone = "plate"\nkind = "loaded area"\ndiameter = 300\nat = [[1.5, 1.5, 0]]\nforce = { G = -100, Q = 0 }\n'


def of(folder, lines, more=""):
    """A plate of 6 by 6 m with lines in its zone."""
    folder.mkdir(exist_ok=True)
    job = write_plate(folder, n=12, size=0.5)
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{lines}") + more)
    return job


def resistance(rho, d, sigma):
    """EN 1992-1-1, (6.2), f_ck 30 [MPa]."""
    k = 1.0 + np.sqrt(200.0 / d)
    return max(0.12 * k * (100.0 * rho * 30.0) ** (1 / 3), 0.035 * k**1.5 * np.sqrt(30.0)) + 0.15 * sigma


def test_base_and_additional_bars_at_their_own_depth_by_hand(tmp_path):
    """Bars of 12 and of 16 mm on one plane: area of both, at the centre of their area; y lies on the thicker x bars."""
    job = of(tmp_path / "a", bars() + EXTRA, PLACE)
    result = run_job(job, pictures=False)
    one, other = (np.pi * d**2 / 4.0 / 150.0 for d in (12.0, 16.0))
    area, mean = one + other, (12.0 * one + 16.0 * other) / (one + other)
    depth = np.array([250.0 - 30.0 - mean / 2.0, 250.0 - 30.0 - 16.0 - mean / 2.0])
    v = 2.1 * np.hypot(25.0, 10.0)  # 1.35 G + 1.5 Q
    c, s = np.array([25.0, 10.0]) / np.hypot(25.0, 10.0)
    n = 2.1 * 60.0 * c * c - 2.1 * 40.0 * s * s + 2.0 * 2.1 * 30.0 * s * c
    d = depth @ [c * c, s * s]
    rho = area / depth @ [c * c, s * s]
    held = resistance(rho, d, -n / 250.0) * d
    row = result.checks[result.checks["check"] == SHEAR].set_index("point").loc[_at(result, 1.0, 2.0)]
    assert_allclose([row["demand"], row["capacity"], row["utilisation"]], [v, held, v / held], rtol=1e-9)
    sheet = explain_point(job, f"plate/{row.name}")
    told = {q.symbol: q.value for _, step in sheet.steps if step.title.startswith("Shear without") for q in step.given}
    assert told["v_Rd_c"] == pytest.approx(held, rel=1e-9)
    area_of = result.frame("punching").iloc[0]
    d = depth.mean()
    sigma = -2.1 * (60.0 - 40.0) / 2.0 / 250.0
    rho = area / np.sqrt(depth.prod())
    assert area_of["d [mm]"] == pytest.approx(d, rel=1e-9)
    assert area_of["v_Rd,c [MPa]"] == pytest.approx(resistance(rho, d, sigma / 1.5), rel=1e-9)  # 0.1 sigma_cp, (6.47)
    assert area_of["bars over it"] == "provided"
    answer = {q.symbol: q.value for q in explain_loaded_area(job, "p").answer}
    assert answer["resistance"] == pytest.approx(area_of["v_Rd,c [MPa]"], rel=1e-9)


def _at(result, x, y):
    points = result.frame("points")
    return points.loc[(points[["x [m]", "y [m]"]] - [x, y]).abs().sum(axis=1).idxmin(), "point"]


def test_what_is_tried_is_what_a_run_gives(tmp_path):
    """Other bars, or another concrete, beside the table of the run before and of a run with them."""
    new = bars(bottom_x=100)
    job = of(tmp_path / "a", bars(), PLACE)
    before = run_job(job, pictures=False)
    value = new.partition("= ")[2].strip()
    tried = try_job(job, {"zones.plate.provided": value}).bars[0]
    concrete = try_job(job, {"zones.plate.f_ck": "40"}).checks.set_index("check").loc[SHEAR]
    both = try_job(job, {"zones.plate.provided": value, "zones.plate.f_ck": "40"})
    assert len(both.checks)
    assert not set(both.checks["check"]) & set(both.bars[0].shear["check"])  # shear stands once, with the other bars
    after = run_job(of(tmp_path / "b", new, PLACE), pictures=False)
    stiff = job.read_text().replace("f_ck = 30", "f_ck = 40")
    job.write_text(stiff)
    other = run_job(job, pictures=False)
    worst = [r.checks.loc[r.checks["check"] == SHEAR, "utilisation"].max() for r in (before, after, other)]
    row = tried.shear.set_index("check").loc[SHEAR]
    assert_allclose(row[["utilisation before", "utilisation after"]].astype(float), worst[:2], rtol=1e-9)
    assert_allclose(concrete[["worst before", "worst after"]].astype(float), [worst[0], worst[2]], rtol=1e-9)
    assert worst[1] < worst[0]
    punched = tried.punching.iloc[0]
    own = [r.frame("punching")["utilisation"].iloc[0] for r in (before, after)]
    assert_allclose(punched[["utilisation before", "utilisation after"]].astype(float), own, rtol=1e-9)


def test_bars_that_are_short_carry_less_shear(tmp_path):
    """Required bars do, a third of them do not: by the cube root of the ratio, with the remedy that cures it."""
    use = {}
    for name, spacing in (("enough", 80), ("short", 240)):
        design = '[design]\nstandard = "ACI 318-19"\n'
        job = of(tmp_path / name, bars(**dict.fromkeys(("bottom_x", "bottom_y", "top_x", "top_y"), spacing)), design)
        table = tmp_path / name / "resultants.csv"
        text = table.read_text().replace(",30,-20,15,", ",0,0,0,").replace(",60,-40,30,", ",0,0,0,")
        table.write_text(text.replace(",12.5,5\n", ",18,7.2\n").replace(",12,25,10\n", ",12,36,14.4\n"))
        result = run_job(job, pictures=False)
        use[name] = result.checks.loc[result.checks["check"] == SHEAR, "utilisation"].max()
    assert use["short"] / use["enough"] == pytest.approx(3 ** (1 / 3), rel=1e-9)
    assert use["short"] > 1.0 > use["enough"]
    told = result.project.left(REQUIRED_STAGE).exceeded
    assert told.loc[told["check"] == SHEAR, "remedy"].astype(str).tolist() == ["the bars that are required there"]


def test_bars_that_are_enough_need_no_links(tmp_path):
    """The required steel alone needs links; a heavier mesh does without, whether it is given or chosen."""
    rule = "rule = { diameters = [20], spacing_min = 120, spacing_max = 120, spacing_step = 10 }\n"
    found = {}
    for name, lines in (("required", ""), ("chosen", rule)):
        job = of(tmp_path / name, "links = {}\n" + lines)
        table = tmp_path / name / "resultants.csv"
        table.write_text(table.read_text().replace(",12.5,5\n", ",25,10\n").replace(",12,25,10\n", ",12,50,20\n"))
        found[name] = run_job(job, pictures=False)
    links = {n: r.frame("links")["links [mm2/m2]"].max() if len(r.frame("links")) else 0.0 for n, r in found.items()}
    use = {n: r.checks.loc[r.checks["check"] == SHEAR, "utilisation"].max() for n, r in found.items()}
    assert use["required"] > 1.0 > use["chosen"]
    assert links["required"] > 0.0 == links["chosen"]
    point = found["chosen"].checks["point"].iloc[0]
    told = [step.title for _, step in explain_point(tmp_path / "chosen" / "job.toml", f"plate/{point}").steps]
    assert any("the bars provided need no links" in title for title in told)


def test_a_rule_chooses_the_bars_of_layers_that_are_not_given(tmp_path):
    """The given layer as it is, and told where it is short; the others as the rule alone has them; tried alike."""
    rule = "rule = { diameters = [10, 12, 16], spacing_min = 100, spacing_max = 200, spacing_step = 25 }\n"
    one = 'provided = { "bottom x" = { diameter = 10, spacing = 200 } }\n'
    alone = run_job(of(tmp_path / "alone", rule), pictures=False)
    tried = try_job(tmp_path / "alone" / "job.toml", {"zones.plate.provided": one.partition("= ")[2].strip()}).bars[0]
    both = run_job(of(tmp_path / "both", rule + one), pictures=False)
    rows, others = (r.frame("bars").set_index("layer") for r in (both, alone))
    assert str(rows.loc["bottom x", "bars [mm]"]) == "10/200"
    assert rows.loc["bottom x", "status"].startswith("short")
    rest = [n for n in rows.index if n != "bottom x"]
    assert rows.loc[rest, "bars [mm]"].astype(str).tolist() == others.loc[rest, "bars [mm]"].astype(str).tolist()
    assert (rows.loc[rest, "utilisation"] <= 1.0).all()
    assert (both.checks["check"] == "bars: bottom x").any()
    after = tried.bars.set_index("layer")
    assert_allclose(after["utilisation after"].astype(float), rows.loc[after.index, "utilisation"], rtol=1e-9)
