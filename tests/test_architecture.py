"""The arrows of the design, read from the imports; and what the command line loads before it works."""

import ast
import graphlib
import subprocess
import sys
from pathlib import Path

import pytest

import sandwich

ROOT = Path(sandwich.__file__).parent
FLOORS = """
_version core
mechanics
standards model
job
combine tables
design drawing
project
inspection work
stages
report
commands
cli __init__
__main__
"""
HEIGHT = {room: floor for floor, rooms in enumerate(FLOORS.strip().splitlines()) for room in rooms.split()}


def _imports(path):
    """Modules that a module imports, also inside functions and for type checkers alone."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and (node.module or "").split(".")[0] == "sandwich":
            inner = [f"{node.module}.{a.name}" for a in node.names]
            yield from (i if i in MODULES else node.module for i in inner)


def _name(path):
    return ".".join(("sandwich", *path.relative_to(ROOT).with_suffix("").parts)).removesuffix(".__init__")


MODULES = {_name(p): p for p in ROOT.rglob("*.py")}
LEANS_ON = {name: set(_imports(p)) - {name} for name, p in MODULES.items()}


def test_arrows_go_down_or_stay_on_their_floor():
    def floor(name):
        return HEIGHT[(name.split(".") + ["__init__"])[1]]

    up = [(a, b) for a, on in LEANS_ON.items() for b in on if floor(b) > floor(a)]
    aside = [
        (a, b)
        for a, on in LEANS_ON.items()
        for b in on
        if floor(a) == floor(b) and a.split(".")[1:2] != b.split(".")[1:2]
    ]
    assert not up
    assert {(a.split(".")[1], b.split(".")[1]) for a, b in aside} <= {("core", "_version")}


def test_no_module_leans_on_itself_by_any_way():
    graph = {a: on for a, on in LEANS_ON.items() if not a.endswith("__init__")}
    assert list(graphlib.TopologicalSorter(graph).static_order())


def test_help_loads_nothing_heavy():
    code = "import sys, sandwich.cli; print(sorted({m.split('.')[0] for m in sys.modules}))"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    heavy = {"numpy", "shapely", "numba", "pandas", "pyarrow", "scipy", "matplotlib", "pydantic", "jinja2", "pint"}
    assert not {h for h in heavy if f"'{h}'" in loaded}


def test_every_public_name_resolves():
    assert all(getattr(sandwich, name) is not None for name in sandwich.__all__)
    with pytest.raises(AttributeError, match="no attribute 'nothing'"):
        sandwich.nothing  # noqa: B018
