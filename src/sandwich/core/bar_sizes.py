"""Sizes of bars that have names."""

from __future__ import annotations

from typing import Final

ALIKE: Final = 1e-6  # mm
NAMED: Final = {  # ASTM A615: nominal diameters of inch-pound bars [in]
    "#3": 0.375, "#4": 0.5, "#5": 0.625, "#6": 0.75, "#7": 0.875, "#8": 1.0, "#9": 1.128, "#10": 1.27, "#11": 1.41,
    "#14": 1.693, "#18": 2.257,
}  # fmt: skip


def size(diameter: float, by: float = 1.0) -> str:
    """A diameter [mm] by the name it has, else as a number in a unit of which one millimetre has `by`.

    Examples
    --------
    >>> size(12.0), size(19.05), size(19.05, 1 / 25.4), size(12.0, 1 / 25.4)
    ('12', '#6', '#6', '0.472')
    """
    named = next((name for name, inches in NAMED.items() if abs(25.4 * inches - diameter) < ALIKE), None)
    return named or (f"{diameter:g}" if by == 1.0 else f"{diameter * by:.3g}")
