"""The arrows of the design, read from the imports; and what the command line loads before it works."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

import sandwich

ROOT = Path(sandwich.__file__).parent
BOTTOM = {"units", "resultants", "section", "trace", "errors", "compiled", "_version"}
MAY_LEAN_ON = {
    **dict.fromkeys(BOTTOM, BOTTOM),
    "mechanics": BOTTOM,
    "standards": {"mechanics", *BOTTOM},
    "job": {"standards", *BOTTOM},  # names of situations
    "model": {"job", "mechanics", *BOTTOM},
    "combine": {"job", "standards", "mechanics", *BOTTOM},
    "tables": {"job", "model", *BOTTOM},
    "design": {"standards", "mechanics", *BOTTOM},
    "drawing": {"model", *BOTTOM},  # what a corner of a surface is
    "report": {"resume", "design", "standards", "drawing", "tables", *BOTTOM},
    "start": {"draft", *BOTTOM},
    "draft": {"job", "model", "tables", *BOTTOM},
    "prepare": {"job", "model", "tables", "design", "standards", *BOTTOM},
    "resume": {"prepare", "job", "combine", "tables", "design", "standards", *BOTTOM},
    "flat": {"incoming", "prepare", "combine", "tables", "model", "mechanics", *BOTTOM},
    "places": {"flat", "incoming", "prepare", "job", "combine", "model", "mechanics", "standards", *BOTTOM},
    "punching": {"places", "meshes", "prepare", "design", "standards", *BOTTOM},
    "strips": {"flat", "incoming", "prepare", "job", "model", "combine", "tables", "standards", "mechanics", *BOTTOM},
    "trial": {"resume", "prepare", "job", "tables", "design", "standards", *BOTTOM},
    "methods": {"resume", "prepare", "job", "tables", "design", "standards", "drawing", *BOTTOM},
    "incoming": {"prepare", "job", "combine", "tables", *BOTTOM},
    "inspection": {"incoming", "prepare", "job", "mechanics", "model", "combine", "tables", *BOTTOM},
    "inspect": {"incoming", "inspection", "tables", "report", *BOTTOM},
    "meshes": {"prepare", "job", "model", "combine", "design", "standards", *BOTTOM},
    "serviceability": {
        "places",
        "punching",
        "incoming",
        "resume",
        "tables",
        "meshes",
        "prepare",
        "job",
        "combine",
        "design",
        "standards",
        *BOTTOM,
    },
    "tendons": {
        "incoming",
        "prepare",
        "job",
        "model",
        "combine",
        "tables",
        "design",
        "standards",
        "mechanics",
        *BOTTOM,
    },
    "result": {
        "tendons",
        "serviceability",
        "punching",
        "meshes",
        "strips",
        "prepare",
        "job",
        "combine",
        "tables",
        "design",
        "standards",
        *BOTTOM,
    },
    "run": {
        "places",
        "punching",
        "serviceability",
        "tendons",
        "meshes",
        "inspection",
        "resume",
        "strips",
        "incoming",
        "result",
        "prepare",
        "job",
        "combine",
        "tables",
        "design",
        "standards",
        "mechanics",
        "report",
        *BOTTOM,
    },
    "explanation": {
        "places",
        "punching",
        "resume",
        "incoming",
        "prepare",
        "job",
        "model",
        "combine",
        "tables",
        "design",
        "standards",
        "mechanics",
        *BOTTOM,
    },
    "check": {
        "tendons",
        "serviceability",
        "meshes",
        "resume",
        "incoming",
        "prepare",
        "tables",
        "design",
        "standards",
        "report",
        *BOTTOM,
    },
    "crack_explained": {
        "explanation",
        "serviceability",
        "resume",
        "incoming",
        "prepare",
        "job",
        "design",
        "mechanics",
        "drawing",
        *BOTTOM,
    },
    "cli": {
        "crack_explained",
        "check",
        "methods",
        "trial",
        "inspect",
        "run",
        "explanation",
        "start",
        "report",
        *BOTTOM,
    },
    "__main__": {"cli"},
}


def _imports(path):
    """Rooms a module imports, also inside functions; imports for type checkers alone do not count."""
    tree = ast.parse(path.read_text())
    typing_only = {
        id(n)
        for block in ast.walk(tree)
        if isinstance(block, ast.If) and ast.unparse(block.test) == "TYPE_CHECKING"
        for n in ast.walk(block)
    }
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.ImportFrom)
            and (node.module or "").startswith("sandwich")
            and id(node) not in typing_only
        ):
            rest = node.module.split(".")[1:]
            yield from [rest[0]] if rest else [a.name for a in node.names]


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda p: str(p.relative_to(ROOT)))
def test_arrows_run_one_way(path):
    room = path.relative_to(ROOT).parts[0].removesuffix(".py")
    if room == "__init__":
        return
    wrong = {i for i in _imports(path) if i not in MAY_LEAN_ON[room] | {room, "__version__"}}
    assert not wrong, f"{room} leans on {wrong}"


def test_help_loads_nothing_heavy():
    code = "import sys, sandwich.cli; print(sorted({m.split('.')[0] for m in sys.modules}))"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    heavy = {"numpy", "shapely", "numba", "pandas", "pyarrow", "scipy", "matplotlib", "pydantic", "jinja2", "pint"}
    assert not {h for h in heavy if f"'{h}'" in loaded}


def test_every_public_name_resolves():
    assert all(getattr(sandwich, name) is not None for name in sandwich.__all__)
    with pytest.raises(AttributeError, match="no attribute 'nothing'"):
        sandwich.nothing  # noqa: B018
