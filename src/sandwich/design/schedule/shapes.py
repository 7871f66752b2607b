"""Bending shapes: their codes, dimensions and cutting lengths."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

STRAIGHT, BENT, TWICE_BENT, LINK, TIE = "00", "11", "21", "51", "99"  # codes of ISO 3766; 99 is any other shape
ROUNDED: Final = 25.0  # mm, lengths of bars
LEGS: Final = 5.0  # mm, of legs that may be longer
CORNER: Final = math.pi / 2.0
HOOK: Final = 3.0 * math.pi / 4.0  # of 135 degrees
NAMES: Final = {
    STRAIGHT: "straight", BENT: "bent once", TWICE_BENT: "U", LINK: "closed link", TIE: "cross tie, 135 degrees",
}  # fmt: skip


@dataclass(frozen=True)
class Shape:
    """One bending shape.

    Attributes
    ----------
    code : str
        00 straight, 11 bent once, 21 bent twice (U), 51 a closed link, 99 a cross tie with hooks of 135 degrees.
    sides : tuple of float
        a, b, c, outside to outside [mm]; of a closed link its two sides.
    mandrel : float
        Diameter of the mandrel [mm].
    tail : float
        Straight length past each hook of a link or a cross tie [mm].
    """

    code: str
    sides: tuple[float, ...]
    mandrel: float = 0.0
    tail: float = 0.0

    def length(self, d: float) -> float:
        """Length along the axis of a bar of a diameter [mm].

        Examples
        --------
        >>> round(Shape(BENT, (500.0, 300.0), 40.0).length(10.0), 1)
        779.3
        >>> round(Shape(LINK, (300.0, 200.0), 40.0, 50.0).length(10.0), 1)
        1095.6
        """
        outside, axis = self.mandrel / 2.0 + d, (self.mandrel + d) / 2.0
        if self.code == LINK:  # three corners, and both hooks round the bar of the fourth
            corners = 3.0 * CORNER + 2.0 * HOOK
            return 2.0 * sum(self.sides) - 8.0 * outside + corners * axis + 2.0 * self.tail
        if self.code == TIE:
            return self.sides[0] - 2.0 * outside + 2.0 * HOOK * axis + 2.0 * self.tail
        return sum(self.sides) - (len(self.sides) - 1) * (2.0 * outside - CORNER * axis)

    @property
    def told(self) -> dict[str, float]:
        """Dimensions by their letters [mm]."""
        out = dict(zip("abc", self.sides, strict=False))
        return {**out, "mandrel": self.mandrel, "tail": self.tail} if self.code != STRAIGHT else out


def rounded_up(length: float, step: float = ROUNDED) -> float:
    """A length rounded up to whole steps [mm]."""
    return math.ceil(length / step - 1e-6) * step


def straight(length: float) -> Shape:
    """A straight bar of a length [mm], rounded up."""
    return Shape(STRAIGHT, (rounded_up(length),))
