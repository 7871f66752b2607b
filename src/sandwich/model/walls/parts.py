"""Parts of walls by storey: whole panels, piers beside openings, lintels over them, parapets under them."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from sandwich.model.walls.openings import Opening
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.storeys import Storey

TOUCH: Final = 20.0  # mm: what is nearer counts as touching
LEAST: Final = 100.0  # mm: narrower or lower parts are left out


class Kind(StrEnum):
    """What a part is."""

    WALL = "wall"
    FULL_PIER = "full-height pier"
    PIER = "pier"
    LINTEL = "lintel"
    PARAPET = "parapet"

    @property
    def upright(self) -> bool:
        """Whether its sections are level ones."""
        return self in (Kind.WALL, Kind.FULL_PIER, Kind.PIER)


LETTER: Final = {Kind.WALL: "W", Kind.FULL_PIER: "P", Kind.PIER: "P", Kind.LINTEL: "L", Kind.PARAPET: "B"}


@dataclass(frozen=True)
class Part:
    """One part of one panel: a box in its elevation [mm].

    Attributes
    ----------
    wall, panel, storey, name : str
        Where it is, and its own name there.
    kind : Kind
        What it is.
    a, b, low, high : float
        Along the panel and upwards [mm].
    reach : tuple of float
        Along the panel [mm], what its sections above and below openings take in; its own width unless it carries more.
    label : str
        Name on drawings.
    """

    wall: str
    panel: str
    storey: str
    name: str
    kind: Kind
    a: float
    b: float
    low: float
    high: float
    reach: tuple[float, float] = (0.0, 0.0)
    label: str = ""

    @property
    def full_name(self) -> str:
        """Name over all walls."""
        return f"{self.wall} {self.panel} {self.storey} {self.name}"

    @property
    def width(self) -> float:
        """Length along the panel [mm]."""
        return self.b - self.a

    @property
    def height(self) -> float:
        """Height [mm]."""
        return self.high - self.low


def parts_of(
    wall: str, panel: Panel, openings: Sequence[Opening], storeys: Sequence[Storey], *, piers_alone: bool = False
) -> list[Part]:
    """Parts of one panel, storey by storey from below, from left to right.

    Parameters
    ----------
    wall : str
        Name of the wall.
    panel : Panel
        The panel.
    openings : sequence of Opening
        Its openings.
    storeys : sequence of Storey
        All storeys; those the panel does not reach give no part.
    piers_alone : bool
        Whether full-height piers carry what stands above and below openings: sections there take in half of each
        opening beside the pier.

    Returns
    -------
    list of Part
        A panel without an opening in a storey is one part there.
    """
    out: list[Part] = []
    for storey in storeys:
        z = panel.z
        inside = (z.max(1) > storey.low + TOUCH) & (z.min(1) < storey.high - TOUCH)
        if not inside.any():
            continue
        low, high = max(storey.low, float(z[inside].min())), min(storey.high, float(z[inside].max()))
        ends = float(panel.s[inside].min()), float(panel.s[inside].max())
        band = [o for o in openings if o.high > low + TOUCH and o.low < high - TOUCH]
        found: list[tuple[Kind, float, float, float, float]] = []
        if not band:
            found.append((Kind.WALL, *ends, low, high))
        full = _between(ends, band)
        found += [(Kind.FULL_PIER, a, b, low, high) for a, b in full] if band else []
        found += [(Kind.PIER, *p) for p in _beside(ends, low, high, band) if not _among(p[:2], full)]
        found += _over_and_under(panel, storey, openings)
        found = [f for f in found if f[2] - f[1] >= LEAST and f[4] - f[3] >= LEAST]
        out += _named(wall, panel, storey, found, band, alone=piers_alone)
    return out


def _between(ends: tuple[float, float], openings: Sequence[Opening]) -> list[tuple[float, float]]:
    """What openings leave of a length."""
    edges, at = [], ends[0]
    for o in sorted(openings, key=lambda o: o.a):
        if o.a > at + TOUCH:
            edges.append((at, o.a))
        at = max(at, o.b)
    return [*edges, (at, ends[1])] if ends[1] > at + TOUCH else edges


def _among(one: tuple[float, float], others: Sequence[tuple[float, float]]) -> bool:
    return any(abs(one[0] - a) <= TOUCH and abs(one[1] - b) <= TOUCH for a, b in others)


def _beside(
    ends: tuple[float, float], low: float, high: float, openings: Sequence[Opening]
) -> list[tuple[float, float, float, float]]:
    """Piers at the heights of openings; heights that leave the same piers are one."""
    levels = sorted({low, high, *(min(max(v, low), high) for o in openings for v in (o.low, o.high))})
    out: list[tuple[float, float, float, float]] = []
    for under, over in itertools.pairwise(levels):
        if over - under <= TOUCH:
            continue
        here = [o for o in openings if o.low < over - TOUCH and o.high > under + TOUCH]
        for a, b in _between(ends, here) if here else []:
            last = next((p for p in out if _among((a, b), [p[:2]]) and abs(p[3] - under) <= TOUCH), None)
            if last is not None:
                out[out.index(last)] = (*last[:3], over)
            else:
                out.append((a, b, under, over))
    return out


def _over_and_under(
    panel: Panel, storey: Storey, openings: Sequence[Opening]
) -> list[tuple[Kind, float, float, float, float]]:
    """Lintels over the openings whose head is in a storey; parapets under those with nothing but wall below."""
    out: list[tuple[Kind, float, float, float, float]] = []
    for o in openings:
        shared = [p for p in openings if p is not o and min(p.b, o.b) - max(p.a, o.a) > 0.5 * min(p.width, o.width)]
        if storey.low + TOUCH < o.high < storey.high + TOUCH:
            top = float(panel.z[(panel.s.min(1) < o.b) & (panel.s.max(1) > o.a)].max())
            above = min((p.low for p in shared if p.low >= o.high - TOUCH), default=top)
            # up to the opening above where that begins before its storey ends; else this storey's own top
            end = above if above < storey.high + 0.5 * (storey.high - storey.low) else storey.high
            out.append((Kind.LINTEL, o.a, o.b, o.high, min(end, top)))
        if storey.low - TOUCH <= o.low < storey.high - TOUCH:
            beneath = max((p.high for p in shared if p.high <= o.low + TOUCH), default=-1e300)
            foot = float(panel.z.min())
            if beneath < storey.low - 0.5 * (storey.high - storey.low):
                out.append((Kind.PARAPET, o.a, o.b, max(storey.low, foot), o.low))
    return out


def _named(
    wall: str, panel: Panel, storey: Storey, found: list[tuple[Kind, float, float, float, float]],
    openings: Sequence[Opening], *, alone: bool,
) -> list[Part]:  # fmt: skip
    count: dict[str, int] = {}
    out = []
    for kind, a, b, low, high in sorted(found, key=lambda f: (list(Kind).index(f[0]), f[1], f[3])):
        letter = LETTER[kind]
        count[letter] = count.get(letter, 0) + 1
        name = letter if kind is Kind.WALL else f"{letter}{count[letter]}"
        part = Part(
            wall=wall, panel=panel.name, storey=storey.name, name=name, kind=kind, a=a, b=b, low=low, high=high,
            reach=(a, b),
        )  # fmt: skip
        if alone and kind is Kind.FULL_PIER:
            left = [(o.a + o.b) / 2 for o in openings if abs(o.b - a) <= TOUCH]
            right = [(o.a + o.b) / 2 for o in openings if abs(o.a - b) <= TOUCH]
            part = replace(part, reach=(min([a, *left]), max([b, *right])))
        out.append(part)
    return out
