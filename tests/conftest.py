"""Shared helpers: the command line as a user runs it, and a small job of one plate."""

import functools
import json
import subprocess
import sys
from pathlib import Path
from types import SimpleNamespace

import pytest
from filelock import FileLock
from hypothesis import settings

settings.register_profile("kernels", deadline=None, derandomize=True, max_examples=36)
settings.load_profile("kernels")
REFERENCE = Path(__file__).parent / "reference"

PLATE = """
title = "Plate"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
resultants = "resultants.csv"
[zones.plate]
groups = ["a"]
f_ck = 30
f_yk = 500
bars = { cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12 }
[[combinations]]
name = "U1"
situation = "persistent"
factors = { G = 1.35, Q = 1.5 }
[[combinations]]
name = "S1"
situation = "frequent"
factors = { G = 1.0, Q = 0.5 }
"""


@pytest.fixture(scope="session", autouse=True)
def compiled_kernels():
    """Compile before the first test, so that no test sees the line about it."""
    from sandwich import Section, design_points

    design_points([[1.0, 0, 0, 0, 0, 0, 0, 0]], Section(200.0))


@pytest.fixture(scope="session", autouse=True)
def commands():
    """Make the commands once, which a process of its own would do for each call."""
    import typer.main

    typer.main.get_command = functools.cache(typer.main.get_command)


@pytest.fixture(scope="session")
def fernhill(tmp_path_factory, worker_id):
    """The demo as one command makes it, once for all workers: its folder, left as it is, and what the command said."""
    base = tmp_path_factory.getbasetemp()
    shared = base if worker_id == "master" else base.parent
    folder, told = shared / "demo" / "fernhill", shared / "demo.json"
    with FileLock(shared / "demo.lock"):
        if not told.is_file():
            command = [sys.executable, "-m", "sandwich", "demo", folder]
            done = subprocess.run(command, capture_output=True, text=True, check=True)
            told.write_text(json.dumps({"stdout": done.stdout, "stderr": done.stderr}))
    return folder, SimpleNamespace(**json.loads(told.read_text()))


@pytest.fixture
def cli(capsys, monkeypatch):
    """Run the command line in this process; gives exit code, stdout, stderr."""
    from sandwich.cli import main

    monkeypatch.setenv("COLUMNS", "160")

    def call(*args):
        monkeypatch.setattr(sys, "argv", ["sandwich", *map(str, args)])
        try:
            main()
            code = 0
        except SystemExit as stop:
            code = stop.code or 0
        out, err = capsys.readouterr()
        return code, out, err

    return call


def write_plate(folder, n=3, size=1.0):
    """A flat plate of n x n elements with constant case values; returns the job file."""
    line = range(n + 1)
    node = {(i, j): 1 + i * (n + 1) + j for i in line for j in line}
    nodes = ["node,x,y,z"] + [f"{node[i, j]},{i * size},{j * size},0" for i in line for j in line]
    elements, rows = ["element,n1,n2,n3,n4,thickness,group"], ["case,element,node,nx,ny,nxy,mx,my,mxy,vx,vy"]
    rings = [[node[i, j], node[i + 1, j], node[i + 1, j + 1], node[i, j + 1]] for i in range(n) for j in range(n)]
    elements += [f"{100 + k},{','.join(map(str, r))},0.25,a" for k, r in enumerate(rings)]
    for case, factor in (("G", 1.0), ("Q", 0.5)):
        values = ",".join(f"{factor * v:g}" for v in (60, -40, 30, 35, -20, 12, 25, 10))
        rows += [f"{case},{100 + k},{m},{values}" for k, r in enumerate(rings) for m in r]
    for name, lines in (("nodes", nodes), ("elements", elements), ("resultants", rows)):
        (folder / f"{name}.csv").write_text("\n".join(lines) + "\n")
    (folder / "job.toml").write_text(PLATE)
    return folder / "job.toml"


@pytest.fixture
def plate(tmp_path):
    """The job file of a small plate."""
    return write_plate(tmp_path)
