"""A tried change says what a run of the changed job says, touches nothing and refuses what it cannot look at."""

import math

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich import InputError, run_job, try_job
from sandwich.core.errors import StaleError
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import write

REQUIRED = "required [mm2/m]"
CHANGES = {
    "zones.plate.thickness": ("300", "f_ck = 30", "thickness = 300\nf_ck = 30"),
    "zones.plate.bars.cover_top": ("45", "cover_top = 30", "cover_top = 45"),
    "zones.plate.method": ("plate", "f_ck = 30", 'method = "plate"\nf_ck = 30'),
    "zones.plate.links": ("{ cot_theta = 2.0 }", "f_ck = 30", "links = { cot_theta = 2.0 }\nf_ck = 30"),
    "zones.plate.joint": ("true", "f_ck = 30", "joint = true\nf_ck = 30"),
    "zones.plate.bars.bottom": (
        "[{ angle = 20 }, { angle = 95, diameter = 10 }]",
        "bars = { ",
        "bars = { bottom = [{ angle = 20 }, { angle = 95, diameter = 10 }], ",
    ),
    "zones.plate.bars.layout": ('"bottom"', "bars = { ", 'bars = { layout = "bottom", '),
}


@pytest.mark.parametrize("key", CHANGES)
def test_a_trial_equals_a_run_of_the_changed_job(key, plate):
    value, old, new = CHANGES[key]
    before = run_job(plate, pictures=False)
    held = {f: f.read_bytes() for f in plate.parent.rglob("*") if f.is_file()}
    trial = try_job(plate, {key: value})
    assert {f: f.read_bytes() for f in plate.parent.rglob("*") if f.is_file()} == held
    plate.write_text(plate.read_text().replace(old, new))
    after = run_job(plate, pictures=False)
    steel = trial.steel.set_index("layer")
    for result, word in ((before, "before"), (after, "after")):
        most = result.steel.groupby("layer")[REQUIRED].max().reindex(steel.index, fill_value=0.0)
        assert_allclose(steel[f"maximum {word} [mm2/m]"], most, rtol=1e-12)
        checks = (
            result.checks[result.checks["check"] != "equilibrium stress field"].groupby("check")["utilisation"].max()
        )
        worst = trial.checks.set_index("check")[f"worst {word}"].dropna()
        assert_allclose(worst, checks.reindex(worst.index), rtol=1e-12)
    fails = int(after.certificate.failed)
    assert trial.failures["points"].sum() == fails
    assert (fails > 0) == ("layout" in key or "bottom" in key)  # one face has no bars for the other's moment
    mean = steel["mean after [mm2/m]"] / steel["mean before [mm2/m]"].where(steel["mean before [mm2/m]"] > 0) - 1
    assert_allclose(steel["change of the mean [%]"], 100 * mean, equal_nan=True)


def test_a_trial_on_the_command_line(cli, plate):
    code, _, err = cli("try", plate, "--set", "zones.plate.thickness=300")
    assert code == 2
    assert "run the job first" in err
    cli("run", plate, "--no-pictures")
    code, out, _ = cli("try", plate, "--set", "zones.plate.thickness=300", "--set", "zones.plate.f_ck = 40")
    assert code == 0
    for words in (
        "zones.plate.thickness = 300, zones.plate.f_ck = 40",
        "maximum after",
        "worst after",
        "Run the analysis again",
    ):
        assert words in " ".join(out.split())
    for change, words in (
        ("zones.roof.f_ck=40", "NAME one of plate"),
        ("zones.plate.points=corners", "cannot be tried"),
        ("zones.plate.f_ck=4", "f_ck = 4 MPa"),
        ("zones.plate.f_ck=30", "changes nothing"),
        ("zones.plate.bars.cover_top=200", "past mid-depth"),
        ("zones.plate.f_ck.x=1", "'f_ck' holds no keys"),
        ("zones.plate.f_ck", "is not KEY=VALUE"),
    ):
        code, out, err = cli("try", plate, "--set", change)
        assert (code, out) == (2, "")
        assert words in err
    bars = "zones.plate.bars={ cover_top = 40 }"
    for one, other, words in (
        ("zones.plate.f_ck=35", "zones.plate.f_ck = 40", "a key stands twice"),
        ("zones.plate.f_ck=35", 'zones."plate".f_ck=40', "which is given too"),
        (bars, "zones.plate.bars.cover_bottom=45", "stands in 'zones.plate.bars', which is given too"),
        ("zones.plate.bars.cover_bottom=45", bars, "stands in 'zones.plate.bars', which is given too"),
    ):
        code, out, err = cli("try", plate, "--set", one, "--set", other)
        assert (code, out) == (2, "")
        assert words in " ".join(err.split())
    plate.write_text(plate.read_text().replace("G = 1.35", "G = 1.36"))
    with pytest.raises(StaleError):
        try_job(plate, {"zones.plate.thickness": "300"})
    assert np.isfinite(run_job(plate, pictures=False).certificate.violation)
    (plate.parent / "results" / "store" / "plate.npz").write_bytes(b"")
    with pytest.raises(StaleError, match="cannot be read"):
        try_job(plate, {"zones.plate.thickness": "300"})
    with pytest.raises(InputError):
        try_job(plate, {"zones": "300"})


def test_names_with_dots_and_signs_stand_in_quotes(cli, plate):
    plate.write_text(plate.read_text().replace("[zones.plate]", '[zones."level 1.5 = roof"]'))
    assert cli("run", plate, "--no-pictures")[0] == 0
    code, out, _ = cli("try", plate, "--set", 'zones."level 1.5 = roof".thickness = 300')
    assert code == 0
    assert "level 1.5 = roof" in out
    code, _, err = cli("try", plate, "--set", "zones.level 1.5 = roof.thickness=300")
    assert code == 2
    assert 'NAME one of "level 1.5 = roof"' in err


GIVEN = {"bottom x": (10, 200), "bottom y": (16, 200), "top x": (12, 200), "top y": (12, 150)}
MORE = '[{ layer = "bottom y", diameter = 12, spacing = 200, along = [0, 2], across = [0, 2] }]'


def bars_text(sets):
    return "{ " + ", ".join(f'"{k}" = {{ diameter = {d}, spacing = {s} }}' for k, (d, s) in sets.items()) + " }"


@pytest.mark.parametrize("assumed", [16, 12, None])
def test_bars_that_are_tried_are_those_of_a_run(assumed, tmp_path):
    """Depths that stay and depths that change: utilisation, cracks and mass as the run with these bars has them."""
    start = {k: (assumed or d, 100) for k, (d, _) in GIVEN.items()}
    for name in "ab":
        (tmp_path / name).mkdir()
    common = "service = { widths = { quasi-permanent = 0.2 } }\n"
    quasi = '[[combinations]]\nname = "Q"\nsituation = "quasi-permanent"\nfactors = { G = 1.0, P = 0.3 }\n'
    first = write(tmp_path / "a", plate_job(f"provided = {bars_text(start)}\n{common}") + quasi, step=500.0)
    run_job(first, pictures=False)
    held = {f: f.read_bytes() for f in first.parent.rglob("*") if f.is_file()}
    trial = try_job(first, {"zones.wall.provided": bars_text(GIVEN), "zones.wall.additional": MORE})
    assert {f: f.read_bytes() for f in first.parent.rglob("*") if f.is_file()} == held
    second = write(
        tmp_path / "b", plate_job(f"provided = {bars_text(GIVEN)}\nadditional = {MORE}\n{common}") + quasi, step=500.0
    )
    result = run_job(second, pictures=False)
    (tried,) = trial.bars
    bars, wanted = tried.bars.set_index("layer"), result.frame("bars").set_index("layer")
    np.testing.assert_allclose(bars["utilisation after"], wanted["utilisation"], rtol=1e-9)
    np.testing.assert_allclose(bars["required [mm2/m]"], wanted["required [mm2/m]"], rtol=1e-9)
    np.testing.assert_allclose(bars["mass after [kg/m2]"], wanted["mass [kg/m2]"], rtol=1e-9)
    assert bars.loc["bottom y", "bars before [mm]"] == f"{assumed or 16}/100"
    assert bars.loc["bottom y", "bars after [mm]"].startswith("16/200 + 12/200 at ")
    service = tried.service.set_index("check")["utilisation after"]
    checks = result.frame("service checks").groupby("check")["utilisation"].max()
    np.testing.assert_allclose(service, checks.reindex(service.index), rtol=1e-9)
    assert tried.mass[1] == pytest.approx(wanted["mass [kg/m2]"].sum() * 24)  # m2
    laid = sum(d**2 for d, _ in start.values())
    assert tried.mass[0] == pytest.approx(7.85e-6 * math.pi * laid / 4 / 100 * 24e6)
    assert f"{tried.mass[0]:,.0f} kg before" in str([str(b.text) for b in trial.blocks if hasattr(b, "text")])


def test_a_rule_is_tried_and_what_is_not_there_refused(tmp_path):
    path = write(tmp_path, plate_job("rule = { diameters = [12, 16], spacing_min = 100, spacing_max = 200 }\n"))
    before = run_job(path, pictures=False).frame("bars").set_index("layer")
    trial = try_job(path, {"zones.wall.rule.diameters": "[25, 32]"})
    (tried,) = trial.bars
    text = path.read_text().replace("diameters = [12, 16]", "diameters = [25, 32]")
    bars = tried.bars.set_index("layer")
    path.write_text(text)
    after = run_job(path, pictures=False).frame("bars").set_index("layer")
    assert bars["bars after [mm]"].astype(str).to_dict() == after["bars [mm]"].astype(str).to_dict()
    assert bars["bars before [mm]"].astype(str).to_dict() == before["bars [mm]"].astype(str).to_dict()
    np.testing.assert_allclose(bars["utilisation after"], after["utilisation"], rtol=1e-9)
    # bars that are thicker than the rule's lie deeper, and those of the rule are as thick again under another cover
    more = '[{ layer = "top x", diameter = 40, spacing = 200, along = [0, 2], across = [0, 2] }]'
    (tried,) = try_job(path, {"zones.wall.additional": more}).bars
    cover = try_job(path, {"zones.wall.bars.cover_top": "45"}).steel.set_index("layer")["maximum after [mm2/m]"]
    path.write_text(text.replace("rule = ", f"additional = {more}\nrule = "))
    wanted = run_job(path, pictures=False).frame("bars").set_index("layer")
    np.testing.assert_allclose(tried.bars.set_index("layer")["utilisation after"], wanted["utilisation"], rtol=1e-9)
    path.write_text(text.replace("[storeys]", "") + "[zones.wall.bars]\ncover_top = 45\n")
    steel = run_job(path, pictures=False).steel.groupby("layer")["required [mm2/m]"].max()
    np.testing.assert_allclose(cover, steel.reindex(cover.index), rtol=1e-9)
    with pytest.raises(InputError, match="no layer 'middle'"):
        try_job(path, {"zones.wall.provided": '{ "middle" = { diameter = 10, spacing = 100 } }'})


def test_a_trial_is_told_in_the_units_of_the_job(tmp_path, cli):
    more = '[design]\nstandard = "ACI 318-19"\n[output]\nunits = "US"\n'
    path = write(tmp_path, plate_job(f"provided = {bars_text(GIVEN)}\n") + more, step=500.0)
    run_job(path, pictures=False)
    code, told, _ = cli(
        "try", path, "--set", f"zones.wall.provided={bars_text({k: (d, 100) for k, (d, _) in GIVEN.items()})}"
    )
    assert code == 0
    assert "[in2/ft]" in told
    assert " lb before, " in told
