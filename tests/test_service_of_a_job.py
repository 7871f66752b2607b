"""The service state of a job as a user asks for it: checks alone, worked crack, faults, a second run, the real wall."""

import re

import numpy as np
import pandas as pd
import pytest

from sandwich import check_job, explain_crack, run_job
from sandwich.errors import InputError
from test_tendons import write

WISHES = 'service = { widths = { quasi-permanent = { bottom = 0.18, top = 0.3 } }, least = "bending", adds = true }\n'


@pytest.fixture
def job(tmp_path):
    """A slab that cracks: half of the prestress of the tests of tendons, and twice the moment."""
    job = write(tmp_path)
    text = (
        job.read_text()
        .replace("G = 1.0, P = 0.9", "G = 2.5, P = 0.2")
        .replace('spacing = 100 }, "bottom y"', 'spacing = 75 }, "bottom y"')
    )
    job.write_text(text.partition("[tendons.t]")[0].replace("thickness = 500\n", f"thickness = 500\n{WISHES}"))
    return job


def test_run_check_and_explanation_agree(job, cli):
    result = run_job(job, pictures=False)
    worst = result.service.cracks.iloc[0]
    assert worst["utilisation"] == pytest.approx(1.0, abs=0.01)  # steel was added up to the limit
    assert result.service.steel["layer"].unique().tolist() == ["bottom x"]
    assert result.meshes[0].given.base[0].spacing == 75  # given bars stay as they are
    alone = check_job(job, pictures=False).service
    for name in ("cracks", "checks", "steel"):
        pd.testing.assert_frame_equal(getattr(alone, name), getattr(result.service, name))
    explained = explain_crack(job, worst["point"])
    answer = {q.symbol: q.value for q in explained.sheet.answer}
    assert answer["crack width"] == pytest.approx(worst["crack width [mm]"], rel=1e-9)
    assert answer["face"] == "bottom"
    clauses = " ".join(step.source for _, step in explained.sheet.steps)
    for clause in ("(7.8)", "(7.9)", "(7.10)", "(7.11)", "(7.13)", "(7.20)"):
        assert clause in clauses
    d = explained.section
    assert d.pressed[1] == 250.0
    assert d.effective[0] == -250.0
    # the drawing in balance: concrete along x and all bars carry the membrane force
    bars = sum(
        stress * np.pi * 36 / (75 if name == "bottom x" else 100)
        for z, _, name, stress, _ in d.bars
        if name.endswith("x")
    )
    added = result.service.steel.set_index("point").loc[worst["point"], "added [mm2/m]"] / 1e3
    bars += added * next(s for _, _, n, s, _ in d.bars if n == "bottom x")
    assert bars + np.trapezoid(d.concrete, d.z) == pytest.approx(-0.2 * 2000, rel=0.01)

    code, out, _ = cli("check", job, "--only", "stresses")
    assert code == 0
    assert "tension of bars" in out
    assert "crack width" not in out
    assert (job.parent / "results" / "service" / "service.html").exists()
    page = job.parent / "crack.html"
    code, out, _ = cli("explain", job, "--point", worst["point"], "--crack", "--face", "top", "--html", page)
    assert code == 0
    assert "CRACK AT THE TOP" in out
    assert "data:image/png" in page.read_text()


def test_faults_and_second_run(job, cli):
    code, _, err = cli("check", job)
    assert code == 2
    assert "run the job first" in err
    run_job(job, pictures=False)
    store = job.parent / "results" / "store" / "slab service.npz"
    made = store.stat().st_mtime_ns
    kept = run_job(job, pictures=False).service.cracks
    assert store.stat().st_mtime_ns == made
    for words, call in (
        ("no check 'welds'", lambda: check_job(job, "welds")),
        ("no face 'left'", lambda: explain_crack(job, "40", "left")),
        ("'S2' has no limit of width", lambda: explain_crack(job, "40", combination="S2")),
    ):
        with pytest.raises(InputError, match=re.escape(words)):
            call()
    text = job.read_text()
    job.write_text(text.replace('least = "bending"', "creep = 3.0"))
    assert not run_job(job, pictures=False).service.cracks.equals(kept)
    job.write_text(
        text.replace("quasi-permanent = {", "frequent = {")
        .replace("adds = true", "adds = true, water = { level = 3 }")
        .replace("[input]", '[design]\nstandard = "IS 456:2000"\n[input]')
    )
    code, _, err = cli("run", job)
    assert code == 2
    assert "no frequent combination" in err
    assert "has no rule of tightness" in err
    job.write_text(
        text.replace('situation = "quasi-permanent"', 'situation = "persistent"').replace(
            'situation = "characteristic"', 'situation = "persistent"'
        )
    )
    assert "no service combination" in cli("run", job)[2]
    assert "input should be" in cli("run", write(job.parent, extra='decompression = "always"\n'))[2]
