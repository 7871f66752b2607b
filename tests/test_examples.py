"""The examples run as a user runs them, and say what they claim."""

import importlib
import runpy
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

EXAMPLES = Path(__file__).parents[1] / "examples"
SAYS = {
    "another_offices_export.py": (
        "a row of units (kip/ft, kip-ft/ft)",
        "warnings: []",
        "largest difference of the steel",
    ),
    "one_point_by_hand.py": ("by hand         667.", "three layers    667.", "certified     True"),
    "typed_names.py": ("4 bar layers, load factor 1.",),
    "bare_table.py": ("sandwich  plate  membrane", "shutter lintel"),
    "skew_bars.py": ("two directions", "three directions", "together saves", "carries", "times its load"),
    "demo_from_python.py": (
        "points certified, 0 fail",
        "drew floor bottom x",
        "Required steel",
        "maximum after",
        "v_Rd_c 0.6",
    ),
    "prestressed_deck.py": (
        "by hand: n -1890 N/mm, m 164 kNm/m, -1.00 MPa",
        "along the tendon: -1.00 MPa",
        "main T3 crosses element 1368 from 6.71 to 6.96 m, 470 mm below the top face",
        "drew Tendons main",
    ),
    "rainwater_cistern.py": (
        "after   water side 0.17",
        "too wide at 0 of 1224 points",
        "by hand: n_x 105 N/mm",
        "width 0.168 mm of 0.185 mm",
        "drew wall: steel added for service",
    ),
    "core_from_forces.py": (
        "480 checks of 54 parts from cuts and from section forces",
        "utilisations differ by less than 1e-6: yes",
        "the same bars in all parts: yes",
        "third A L2: bending with axial force 0.976",
    ),
    "wall_section.py": ("along the ray 0.19, 0.19, 0.20, 1.05", "M_n = 6.756 MNm; sandwich 6.756 MNm, c 506.1"),
    "bars_of_the_floor.py": ("provided: 29", "utilisation 1.00", "cut bars: 10", "drew the top bars"),
    "punching_by_hand.py": ("edge, perimeter 428", "mm from the face", "by hand: perimeter 428"),
}


ALONE = ("one_point_by_hand.py",)
OF_THE_DEMO = {
    "another_offices_export.py": "demo",
    "bars_of_the_floor.py": "demo",
    "core_from_forces.py": "core/fernhill",
    "demo_from_python.py": "demo",
}


@pytest.mark.parametrize("name", sorted(p.name for p in EXAMPLES.glob("*.py")))
def test_example(name, tmp_path, request, monkeypatch, capsys):
    command = [str(EXAMPLES / name)]
    if name in OF_THE_DEMO:  # they take a folder where the demo was run
        shutil.copytree(request.getfixturevalue("fernhill")[0], tmp_path / OF_THE_DEMO[name])
        command.append(str(tmp_path / OF_THE_DEMO[name].partition("/")[0]))
    monkeypatch.chdir(tmp_path)
    if name in ALONE:
        out = subprocess.run([sys.executable, *command], capture_output=True, text=True, check=True).stdout
    else:  # in this process, which has its imports
        monkeypatch.setattr(sys, "argv", command)
        runpy.run_path(command[0], run_name="__main__")
        out = capsys.readouterr().out
    for words in SAYS[name]:
        assert words in out


CELLS = (
    """from sandwich import Section, design_points
design = design_points([[100.0, -40.0, 30.0, 35e3, -20e3, 12e3, 25.0, 10.0]], Section(250.0))
design""",
    """import matplotlib.pyplot as plt
figure, ax = plt.subplots()
design.plot(ax)
plt.close(figure)
figure""",
    "design.explain('1')",
    """from sandwich import copy_demo, run_job
result = run_job(copy_demo('fernhill'), pictures=False)
result""",
    "result.frame('steel').nlargest(3, 'required [mm2/m]')",
    """figure, ax = plt.subplots()
result.plot('floor top y', ax)
plt.close(figure)
figure""",
)


def test_a_notebook(tmp_path, fernhill):
    """What a notebook shows: tables, drawings, a short text for a result."""
    nbformat = pytest.importorskip("nbformat")
    from nbclient import NotebookClient

    book = nbformat.v4.new_notebook(cells=[nbformat.v4.new_code_cell(c) for c in CELLS])
    shutil.copytree(fernhill[0], tmp_path / "fernhill")
    NotebookClient(book, timeout=600, kernel_name="python3", resources={"metadata": {"path": tmp_path}}).execute()
    shown = [o["data"] for c in book.cells for o in c["outputs"] if o["output_type"] == "execute_result"]
    assert len(shown) == len(CELLS)
    assert all("<table" in shown[i]["text/html"] for i in (0, 2, 3, 4))
    assert all(len(shown[i]["image/png"]) > 5000 for i in (1, 5))
    assert shown[2]["text/plain"].startswith("Sheet(")
    assert len(shown[2]["text/plain"]) < 300
    assert shown[3]["text/plain"].startswith("RunResult(Fernhill Observatory: instrument floor and drum: 2487 of 2487")
    assert len(shown[3]["text/plain"]) < 200


def test_the_list_of_clauses_is_of_these_sources():
    reference = importlib.import_module("tools.reference")
    assert reference.PAGE.read_text(encoding="utf-8") == reference.page()
    assert reference.SCHEMA.read_text(encoding="utf-8") == reference.schema()
