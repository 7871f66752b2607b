"""Plan of the bars of a face: rectangles of additional bars with one bar each as it is cut."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.patches import Polygon

from sandwich.drawing.layout_records import LayoutDescription, LayoutPatch
from sandwich.drawing.maps import INK, WIDTH, new_figure

if TYPE_CHECKING:
    from matplotlib.axes import Axes

COLOURS: Final = ("#1f5f8b", "#a04000")  # bars along x, along y
END: Final = 0.008  # of the drawing, half of a tick at the end of a bar
ROOM: Final = 11.0  # in, the height of tall plans


def draw_layout(d: LayoutDescription) -> Axes:
    """Draw the bars of a face, in a figure 1280 pixels wide."""
    low, high = d.sides.min((0, 1)), d.sides.max((0, 1))
    size = np.maximum(high - low, 1e-9)
    height = float(np.clip(0.86 * WIDTH * size[1] / size[0] + 1.6, 4.0, ROOM))
    figure = new_figure(d.title, d.note, height)
    ax = figure.add_axes((0.07, 0.6 / height, 0.90, 1.0 - 1.6 / height))
    ax.add_collection(LineCollection(list(d.sides), colors=INK, linewidths=1.2))
    for n, p in enumerate(d.patches):
        _patch(ax, p, float(size.max()), 0.25 + 0.5 * (n % 3) / 2.0)
    ax.set_aspect("equal")
    ax.set_xlim(low[0] - 0.03 * size[0], high[0] + 0.03 * size[0])
    ax.set_ylim(low[1] - 0.03 * size[1], high[1] + 0.03 * size[1])
    ax.set_xlabel(d.quantities[0], fontsize=9)
    ax.set_ylabel(d.quantities[1], fontsize=9)
    ax.tick_params(labelsize=8)
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    return ax


def _patch(ax: Axes, p: LayoutPatch, size: float, at: float) -> None:
    colour = COLOURS[int(p.upright)]
    ax.add_patch(Polygon(p.ring, facecolor=colour, alpha=0.10, lw=0))
    ax.add_patch(Polygon(p.ring, fill=False, edgecolor=colour, lw=1.0, ls=(0, (4, 2))))
    way = (p.bar[1] - p.bar[0]) / max(float(np.linalg.norm(p.bar[1] - p.bar[0])), 1e-9)
    across = np.array([-way[1], way[0]])
    ax.plot(*p.bar.T, color=colour, lw=2.0, solid_capstyle="butt")
    for end in p.bar:
        ax.plot(*np.stack([end - END * size * across, end + END * size * across]).T, color=colour, lw=1.4)
    # the reach of the bars across them
    low, high = (p.ring @ across).min(), (p.ring @ across).max()
    middle = p.bar.mean(0)
    spread = np.stack([middle + (v - middle @ across) * across for v in (low, high)])
    ax.annotate("", spread[0], spread[1], arrowprops={"arrowstyle": "<->", "color": colour, "lw": 0.8})
    place = p.bar[0] + at * (p.bar[1] - p.bar[0])
    ax.annotate(
        p.label, place, xytext=(-5, 0) if p.upright else (0, 5), textcoords="offset points", fontsize=7.5,
        color=colour, rotation=90 if p.upright else 0, ha="right" if p.upright else "center",
        va="center" if p.upright else "bottom", bbox={"facecolor": "white", "alpha": 0.75, "lw": 0, "pad": 0.8},
    )  # fmt: skip
