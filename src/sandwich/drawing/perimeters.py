"""Plan of the places of a slab that may punch, and the worst of them with its perimeters."""

from __future__ import annotations

import textwrap
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.lines import Line2D
from matplotlib.patches import Patch, Polygon

from sandwich.drawing.maps import FAIL, INK, new_figure
from sandwich.drawing.records import PlanDescription

if TYPE_CHECKING:
    from matplotlib.axes import Axes

HOLDS, ROWS = "#2471a3", "#d35400"
PANEL = "#d5dbdf"
LINE = 66  # letters in a line over the worst place


def draw_plan(d: PlanDescription) -> Axes:
    """Draw the whole slab and its worst place in a figure 1280 pixels wide."""
    figure = new_figure(d.title, d.note)
    whole = figure.add_axes((0.05, 0.08, 0.50, 0.77))
    detail = figure.add_axes((0.60, 0.08, 0.38, 0.77))
    for ax, places in ((whole, d.places), (detail, d.places[:1])):
        for panel in (p for p in d.places if p.panel):
            ax.add_patch(Polygon(panel.area, facecolor=PANEL, edgecolor=INK, lw=0.8, zorder=0.5))
        for ring in d.rings:
            ax.add_patch(Polygon(ring, fill=False, edgecolor=INK, lw=1.4))
        for p in places:
            colour = FAIL if p.fails else HOLDS
            if not p.panel:
                ax.add_patch(Polygon(p.area, facecolor=INK, edgecolor=INK))
            ax.add_collection(LineCollection(list(p.rows), colors=ROWS, linewidths=1.0, capstyle="round"))
            ax.add_collection(LineCollection(list(p.perimeter), colors=colour, linewidths=2.0, capstyle="round"))
            ax.add_collection(LineCollection(list(p.behind), colors=colour, linewidths=1.0, linestyles=":"))
        ax.set_aspect("equal")
        ax.set_xlabel(d.axes[0])
    whole.set_ylabel(d.axes[1])
    whole.autoscale_view()
    whole.margins(0.06)
    for p in d.places:
        around = np.concatenate([p.area, p.perimeter.reshape(-1, 2), p.rows.reshape(-1, 2)])
        top = ((around[:, 0].min() + around[:, 0].max()) / 2, around[:, 1].max())
        whole.annotate(
            f"{p.name}: {100.0 * p.use:.0f} %", top, xytext=(0, 4), textcoords="offset points", ha="center",
            fontsize=8, color=FAIL if p.fails else INK,
        )  # fmt: skip
    worst = d.places[0]
    pieces = np.concatenate([worst.perimeter, worst.behind, worst.rows]).reshape(-1, 2)
    low, high = pieces.min(0), pieces.max(0)
    middle, half = (low + high) / 2, 0.62 * float((high - low).max())
    detail.set(xlim=(middle[0] - half, middle[0] + half), ylim=(middle[1] - half, middle[1] + half))
    told = textwrap.fill(f"{worst.name}: {worst.told}", LINE)
    detail.set_title(told, fontsize=10, loc="left", color=FAIL if worst.fails else INK)
    handles: list[Line2D | Patch] = [
        Patch(facecolor=INK, label="loaded area"),
        *([Patch(facecolor=PANEL, edgecolor=INK, label="drop panel")] if any(p.panel for p in d.places) else []),
        Line2D([], [], color=FAIL if worst.fails else HOLDS, lw=2, label="control perimeter"),
    ]
    if len(worst.behind):
        handles.append(Line2D([], [], color=HOLDS, lw=1, ls=":", label="behind an opening"))
    if len(worst.rows):
        handles.append(Line2D([], [], color=ROWS, lw=1, label="perimeters of reinforcement"))
    detail.legend(handles=handles, loc="upper right", fontsize=8, framealpha=0.9)
    return whole
