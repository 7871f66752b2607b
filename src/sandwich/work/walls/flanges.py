"""Flanges of walls: panels that meet the end of another one."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from sandwich.model.walls.outline import Stretch
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.given import standing
from sandwich.work.walls.layout import TOUCH, LaidWall


def flange_at(c: CheckedPart, end: str, stretches: Callable[[LaidWall, float], list[Stretch]]) -> tuple[float, float]:
    """Thickness and width of the widest panel that an end of a part meets at mid-height [mm], 0 of a free end.

    Parameters
    ----------
    c : CheckedPart
        The part.
    end : str
        'left' or 'right'.
    stretches : callable
        What stands of the panels of a wall at a height.
    """
    p, wall = c.part, c.wall
    place = wall.panel(p.panel).place(p.a if end == "left" else p.b)[0]
    at = np.array([*place, 0.0])
    best = (0.0, 0.0)
    for s in stretches(wall, (p.low + p.high) / 2.0):
        if s.panel == p.panel:
            continue
        other = wall.panel(s.panel)
        x = float(other.along(at))
        off = float(np.linalg.norm(other.place(min(max(x, 0.0), other.length))[0] - place))
        if off < TOUCH and s.a - TOUCH <= x <= s.b + TOUCH and s.b - s.a > best[1]:
            best = (s.thickness, s.b - s.a)
    return best


def remembered() -> Callable[[LaidWall, float], list[Stretch]]:
    """`standing` that finds each height of a wall once."""
    held: dict[tuple[str, float], list[Stretch]] = {}

    def find(wall: LaidWall, z: float) -> list[Stretch]:
        key = wall.name, z
        if key not in held:
            held[key] = standing(wall, z)
        return held[key]

    return find
