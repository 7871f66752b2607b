"""The folder of results: files of others stay, one run at a time, what a killed run left goes, what was read is vouched for."""

import os
import signal
import subprocess
import sys
import time

import pytest
from filelock import FileLock

from sandwich import InputError, StaleError, explain_point, inspect_job, run_job


def files(folder):
    return {f.relative_to(folder).as_posix(): f.read_bytes() for f in folder.rglob("*") if f.is_file()}


@pytest.mark.parametrize(
    "name", ["points.csv", "steel.parquet", "report.html", "maps/photo.png", "store/notes.txt", "record.json"]
)
def test_files_of_others_stop_a_run_and_stay(plate, cli, name):
    mine = plate.parent / "results" / name
    mine.parent.mkdir(parents=True, exist_ok=True)
    mine.write_text("mine")
    code, _, err = cli("run", plate)
    assert code == 2
    assert f"holds {name}, which no run of this program wrote" in " ".join(err.split())
    assert mine.read_text() == "mine"
    assert set(files(plate.parent / "results")) == {name, ".lock"}


def test_other_files_of_others_are_left(plate):
    notes = plate.parent / "results" / "notes.txt"
    notes.parent.mkdir()
    notes.write_text("mine")
    for _ in range(2):
        run_job(plate)
        assert notes.read_text() == "mine"


@pytest.mark.parametrize(
    ("folder", "word"),
    [(".", "holds the job"), ("..", "holds the job"), ("../../..", "holds the job"), ("in", "holds in/nodes.csv")],
)
def test_results_do_not_lie_over_the_job_or_its_inputs(plate, cli, folder, word):
    (plate.parent / "in").mkdir()
    (plate.parent / "nodes.csv").rename(plate.parent / "in" / "nodes.csv")
    plate.write_text(plate.read_text().replace('"nodes.csv"', '"in/nodes.csv"') + f'[output]\nfolder = "{folder}"\n')
    before = files(plate.parent)
    for command in ("run", "inspect"):
        code, _, err = cli(command, plate)
        assert code == 2
        assert word in " ".join(err.split())
    assert files(plate.parent) == before


def test_a_worked_page_overwrites_no_file_of_others(plate, cli):
    run_job(plate, pictures=False)
    table = plate.parent / "nodes.csv"
    other = plate.parent / "page.html"
    other.write_text("<html>mine</html>")
    for target in (plate, table, other):
        before = target.read_bytes()
        assert cli("explain", plate, "--point", "1", "--html", target)[0] == 2
        assert target.read_bytes() == before
    own = plate.parent / "own.html"
    for _ in range(2):
        assert cli("explain", plate, "--point", "1", "--html", own)[0] == 0


def test_two_runs_do_not_write_at_once(plate):
    run_job(plate, pictures=False)
    with FileLock(plate.parent / "results" / ".lock"), pytest.raises(InputError, match="another run is writing"):
        run_job(plate, pictures=False)
    run_job(plate, pictures=False)


def test_tables_that_change_while_they_are_read_are_not_vouched_for(plate, caplog):
    table = plate.parent / "resultants.csv"

    def edit(stage, done, _whole):
        if stage == "reading" and done:
            table.write_text(table.read_text().replace("60,-40", "61,-40"))

    run_job(plate, pictures=False, progress=edit)
    assert "changed while they were read" in caplog.text
    with pytest.raises(StaleError, match="run the job again"):
        explain_point(plate, "1")
    run_job(plate, pictures=False)
    assert explain_point(plate, "1").answer


def test_old_results_stand_until_new_ones_are_whole_and_a_killed_run_leaves_nothing(plate):
    run_job(plate)
    results = plate.parent / "results"
    before = files(results)
    plate.write_text(plate.read_text().replace("cover_top = 30", "cover_top = 60"))
    script = (
        "import sys, time, pathlib, sandwich, sandwich.stages.required as r\n"
        "def slow(*a):\n    (pathlib.Path(sys.argv[1]).parent / 'results' / '.99-steel.parquet').write_text('x')\n"
        "    print('now', flush=True); time.sleep(60)\nr._required = slow\nsandwich.run_job(sys.argv[1])"
    )
    with subprocess.Popen([sys.executable, "-c", script, str(plate)], stdout=subprocess.PIPE, text=True) as run:
        assert run.stdout.readline() == "now\n"
        os.kill(run.pid, signal.SIGKILL)
    now = files(results)
    assert all(
        now[f] == before[f]
        for f in before
        if f.endswith(("steel.parquet", "report.html", ".png")) and not f.startswith(".99")
    )
    with pytest.raises(StaleError):
        explain_point(plate, "1")
    time.sleep(0.1)
    run_job(plate)
    assert not [f for f in files(results) if f.startswith(".99")]
    assert explain_point(plate, "1").answer
    inspect_job(plate, pictures=False)
    assert set(files(results)) >= {"steel.parquet", "inspection/zones.parquet"}


def test_zones_with_like_and_long_names_have_stores_of_their_own(plate):
    text = plate.read_text()
    start, end = text.index("[zones.plate]"), text.index("[[combinations]]")
    one = text[start:end].replace('groups = ["a"]', "elements = [100, 101, 102]")
    names = ["slab", "slab service", "墙" * 40, "n" * 300]
    zones = [
        one.replace("[zones.plate]", f'[zones."{n}"]').replace("[100, 101, 102]", e)
        for n, e in zip(names, ("[100, 101]", "[102, 103]", "[104, 105]", "[106, 107, 108]"), strict=True)
    ]
    zones[1] += "service = { widths = { frequent = 0.3 } }\n"
    plate.write_text(text[:start] + "\n".join(zones) + text[end:])
    run_job(plate, pictures=False)
    assert sorted(run_job(plate, pictures=False).reused) == sorted(names)
