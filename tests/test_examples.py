"""The examples run as a user runs them, and say what they claim."""

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
    "bare_table.py": ("sandwich  plate  membrane", "shutter lintel"),
    "skew_bars.py": ("two directions", "three directions", "together saves", "carries", "times its load"),
    "demo_from_python.py": (
        "points certified, 0 fail",
        "drew floor bottom x",
        "Required steel",
        "maximum after",
        "v_Rd_c 0.5",
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
    "punching_by_hand.py": ("edge, perimeter 428", "mm from the face", "by hand: perimeter 428"),
}


@pytest.mark.parametrize("name", sorted(p.name for p in EXAMPLES.glob("*.py")))
def test_example(name, tmp_path):
    done = subprocess.run(
        [sys.executable, EXAMPLES / name, *([tmp_path / "demo"] if name.startswith("demo") else [])],
        capture_output=True, text=True, check=False, cwd=tmp_path,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    for words in SAYS[name]:
        assert words in done.stdout
