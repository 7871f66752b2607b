"""What plans and sections of bars are made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LayoutPatch:
    """Additional bars: the ring of their rectangle (v, 2), some of them as they are cut (k, n, 2), and what is told.

    One of the bars is drawn, the first of those whose label stands clear of others; `spans` (k, m, 2) go across them.
    """

    ring: Floats
    bars: Floats
    spans: Floats
    label: str
    second: bool
    upright: bool


@dataclass(frozen=True)
class LayoutDescription:
    """Bars of a face in plan: sides of the zone (n, 2, 2), rectangles, names of both axes."""

    title: str
    note: str
    sides: Floats
    patches: list[LayoutPatch]
    quantities: tuple[str, str]


@dataclass(frozen=True)
class SectionPanel:
    """A section across one direction of bars, heights from the bottom face.

    Attributes
    ----------
    title : str
        What it cuts.
    cut : list of tuple
        Place along the section, height, diameter of bars that are cut, and whether they are additional.
    along : list of tuple
        Height and diameter of bars along the section.
    told : list of tuple
        Height and what is written beside it.
    covers : list of tuple
        From and to of a dimension in height, and its figure.
    """

    title: str
    cut: list[tuple[float, float, float, bool]]
    along: list[tuple[float, float]]
    told: list[tuple[float, str]]
    covers: list[tuple[float, float, str]]


@dataclass(frozen=True)
class SectionOfBars:
    """Sections through a zone at one point: a width of it, its thickness, a panel for each direction of bars."""

    title: str
    note: str
    width: float
    thickness: float
    panels: tuple[SectionPanel, ...]
