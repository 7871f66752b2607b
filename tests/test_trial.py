"""A tried change says what a run of the changed job says, touches nothing and refuses what it cannot look at."""

import numpy as np
import pytest
from numpy.testing import assert_allclose

from sandwich import InputError, run_job, try_job
from sandwich.core.errors import StaleError

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
        most = result.steel.groupby("layer")[REQUIRED].max().reindex(steel.index).fillna(0.0)
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
    plate.write_text(plate.read_text().replace("G = 1.35", "G = 1.36"))
    with pytest.raises(StaleError):
        try_job(plate, {"zones.plate.thickness": "300"})
    assert np.isfinite(run_job(plate, pictures=False).certificate.violation)
    (plate.parent / "results" / "store" / "plate.npz").write_bytes(b"")
    with pytest.raises(StaleError, match="cannot be read"):
        try_job(plate, {"zones.plate.thickness": "300"})
    with pytest.raises(InputError):
        try_job(plate, {"zones": "300"})
