"""Names of the checks of seismic walls, and rows of one demand."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.shown import Words
from sandwich.standards.interface.walls import MemberCheck

HELD: Final = 1.0 + 1e-9
# checks of an end at its bars and ties
LENGTH: Final = "length of the end"
BARS: Final = "bars at the end"
TIES: Final = "ties"
ACROSS: Final = "ties across"
ALONG: Final = "ties along"
SPACING: Final = "spacing of ties"
HELD_BARS: Final = "distance of held bars"
TIE: Final = "diameter of ties"
THIN: Final = "diameter at the end"
# checks of the web
WEB: Final = "thickness of the web"
CURTAINS: Final = "curtains"
MINIMUM_H, MINIMUM_V = "minimum horizontal", "minimum vertical"
SPACING_H, SPACING_V = "spacing horizontal", "spacing vertical"
DIAMETER_H, DIAMETER_V = "diameter horizontal", "diameter vertical"
JOINT: Final = "bars across joints"
OVER: Final = "vertical beside horizontal"
PIERS: Final = "struts of the piers"
LARGE: Final = "length of a large wall"
# kinds of bars of coupling beams
CHORDS, DIAGONALS, BESIDE_DIAGONALS = "chords", "diagonals", "chords beside diagonals"


def one_check(name: str, clause: str, demand: float, capacity: float, unit: str, note: Words) -> MemberCheck:
    """A check of one demand, whose note says what would do."""
    return MemberCheck(name, clause, np.array([demand]), np.array([capacity]), unit, note)
