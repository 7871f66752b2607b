"""Diagrams along a strip: moment, shear and steel per width, extremes over the combinations."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np

from sandwich.drawing.maps import FAIL, INK, new_figure
from sandwich.drawing.records import DiagramDescription

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

FILL, LINE = "#bcd9ea", "#2471a3"


def draw_diagram(d: DiagramDescription) -> Axes:
    """Draw the extremes of each panel, its single combinations as fine lines, its largest values with their places."""
    figure = new_figure(d.title, d.note)
    count = len(d.panels)
    axes = figure.subplots(count, 1, sharex=True, squeeze=False)[:, 0]
    figure.subplots_adjust(left=0.08, right=0.97, top=0.87, bottom=0.08, hspace=0.12)
    for ax, (label, values) in zip(axes, d.panels, strict=True):
        none = np.isnan(values).all(1)  # stations at which no combination has an answer
        low, high = (np.where(none, np.nan, of(values, axis=1, initial=-s * np.inf, where=~np.isnan(values)))
                     for of, s in ((np.min, -1.0), (np.max, 1.0)))  # fmt: skip
        ax.axhline(0.0, color=INK, lw=0.8)
        ax.set_ylabel(label)
        ax.grid(visible=True, lw=0.3)
        if none.all():
            ax.text(0.5, 0.5, "fails at every station", transform=ax.transAxes, color=FAIL, ha="center", va="center")
            continue
        ax.fill_between(d.s, low, high, color=FILL)
        ax.plot(d.s, values[:, :: max(values.shape[1] // 40, 1)], color=LINE, lw=0.3, alpha=0.5)
        ax.plot(d.s, low, d.s, high, color=LINE, lw=1.4)
        for curve, i in ((low, int(np.nanargmin(low))), (high, int(np.nanargmax(high)))):
            if abs(curve[i]) > 1e-9 * max(np.nanmax(np.abs(values)), 1e-12):
                _label(ax, d.s, i, float(curve[i]))
        ax.margins(x=0.01, y=0.12)
    axes[-1].set_xlabel(d.along)
    first: Axes = axes[0]
    return first


def _label(ax: Axes, s: NDArray[np.float64], i: int, value: float) -> None:
    """A value with its place, inside the axes."""
    share = (s[i] - s[0]) / (s[-1] - s[0])
    side: Literal["left", "center", "right"] = "left" if share < 0.1 else "right" if share > 0.9 else "center"
    up = value >= 0.0
    ax.annotate(
        f"{value:.4g} at {s[i]:.3g} m", (s[i], value), xytext=(0, -4 if up else 4), textcoords="offset points", ha=side,
        va="top" if up else "bottom", fontsize=9,
        bbox={"boxstyle": "round,pad=0.15", "fc": "white", "ec": "none", "alpha": 0.85},
    )  # fmt: skip
