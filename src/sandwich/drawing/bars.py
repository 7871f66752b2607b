"""Several ways of counting side by side: bars at the worst points, and every point against the last way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from sandwich.drawing.maps import INK, new_figure

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

COLOURS = ("#f0b27a", "#7fb3d5", "#1c2b33")


@dataclass(frozen=True)
class BarsDescription:
    """Values of several ways.

    Attributes
    ----------
    title, note, label : str
        What is written; label has the unit.
    names, ways : list of str
        Of the worst points, and of the ways; the last way is the one the others are held against.
    worst, every : ndarray, shape (n, ways)
        Values at the worst points and at all of them.
    """

    title: str
    note: str
    names: list[str]
    ways: list[str]
    worst: NDArray[np.float64]
    every: NDArray[np.float64]
    label: str


def draw_bars(d: BarsDescription) -> Axes:
    """Draw both panels in a figure 1280 pixels wide."""
    figure = new_figure(d.title, d.note)
    bars = figure.add_axes((0.07, 0.17, 0.50, 0.69))
    at = np.arange(len(d.names))
    for i, way in enumerate(d.ways):
        bars.bar(at + 0.27 * (i - 1), np.nan_to_num(d.worst[:, i]), 0.26, color=COLOURS[i], label=way)
    bars.set_xticks(at, d.names, rotation=60, ha="right", fontsize=9)
    bars.set_ylabel(d.label)
    bars.legend(frameon=False, ncols=len(d.ways), loc="upper right")
    bars.grid(visible=True, axis="y", lw=0.3)
    bars.margins(y=0.12)
    cloud = figure.add_axes((0.65, 0.17, 0.32, 0.69))
    top = 1.05 * float(np.nanmax(d.every, initial=1.0))
    cloud.plot([0.0, top], [0.0, top], color=INK, lw=0.8)
    for i, way in enumerate(d.ways[:-1]):
        cloud.plot(d.every[:, -1], d.every[:, i], ".", color=COLOURS[i], markersize=3, label=way)
    told = "below the line:\nless steel than by all forces"
    cloud.text(0.97, 0.3, told, transform=cloud.transAxes, ha="right", fontsize=9, color=INK)
    cloud.set(xlabel=f"{d.ways[-1]}, every point", ylabel="by a part of the forces", xlim=(0.0, top), ylim=(0.0, top))
    cloud.legend(frameon=False, loc="upper left", markerscale=4)
    cloud.set_aspect("equal")
    first: Axes = bars
    return first
