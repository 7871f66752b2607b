"""Pictures drawn by a second process: a copy of the first, one that starts from nothing, one that fails, none."""

import shutil
import subprocess
import sys

from sandwich import run_job


def test_pictures_are_the_same_whoever_draws_them(plate, monkeypatch):
    def drawn(run):
        shutil.rmtree(plate.parent / "results", ignore_errors=True)
        run()
        return {p.name: p.read_bytes() for p in (plate.parent / "results" / "maps").glob("*.png")}

    command = [sys.executable, "-m", "sandwich", "run", plate]
    by_a_copy = drawn(lambda: subprocess.run(command, check=True, capture_output=True))
    assert len(by_a_copy) == 6
    monkeypatch.setattr("os.cpu_count", lambda: 1)
    assert drawn(lambda: run_job(plate)) == by_a_copy
    monkeypatch.setattr("os.cpu_count", lambda: 2)
    monkeypatch.setattr("sandwich.drawing.workers.FEW", 5)
    assert drawn(lambda: run_job(plate)) == by_a_copy
    monkeypatch.setattr("sys.executable", shutil.which("false"))
    assert drawn(lambda: run_job(plate)) == by_a_copy


def test_the_demo_runs_both_jobs_where_no_copy_can_be_made(cli, tmp_path, monkeypatch):
    jobs = []
    monkeypatch.setattr("sandwich.core.copies.can_fork", lambda: False)
    monkeypatch.setattr("sandwich.cli._run", lambda job, *_: jobs.append(job.relative_to(tmp_path).as_posix()))
    assert cli("demo", tmp_path / "demo")[0] == 0
    assert jobs == ["demo/job.toml", "demo/core/job.toml"]


def test_the_copy_of_the_demo_tells_its_end(tmp_path):
    """What the second job says comes after the first, and its code is that of the command."""
    script = """
import sys
import sandwich.cli
from sandwich.core.errors import Fault, InputError
def run(job, pictures=True):
    print("ran", job.parent.name)
    if job.parent.name == "core":
        raise InputError([Fault("here", "wrong", "mend")])
sandwich.cli._run = run
sys.argv = ["sandwich", "demo", sys.argv[1]]
sandwich.cli.main()
"""
    command = [sys.executable, "-c", script, tmp_path / "demo"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert (done.returncode, done.stdout, done.stderr) == (2, "ran demo\n\nran core\n", "here: wrong; mend\n")
