"""Draws map descriptions and the model in space with Matplotlib."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib import colormaps
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.collections import LineCollection
from matplotlib.colors import BoundaryNorm
from matplotlib.figure import Figure
from matplotlib.patches import Patch
from matplotlib.ticker import MaxNLocator
from matplotlib.tri import Triangulation
from mpl_toolkits.mplot3d.art3d import Poly3DCollection

from sandwich.drawing.describe import MapDescription

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

COLOURS = "YlGnBu"
INK = "#1c2b33"
FAIL = "#c62828"
ZONES = ("#7fb3d5", "#f0b27a", "#a9cf8f", "#c39bd3", "#e6c84f", "#95a5a6")


def draw_map(d: MapDescription, ax: Axes | None = None) -> Axes:
    """Draw one map; a new figure of 12.8 x 8 in where no axes are given."""
    if ax is None:
        ax = _figure().add_subplot()
    xy = d.triangles.reshape(-1, 2)
    t = Triangulation(xy[:, 0], xy[:, 1], np.arange(len(xy)).reshape(-1, 3))
    flat = d.values.reshape(-1)
    t.set_mask(~np.isfinite(d.values).all(1))
    norm = BoundaryNorm(d.levels, 256)
    filled = ax.tricontourf(
        t, np.nan_to_num(flat), levels=d.levels, cmap=colormaps[COLOURS], norm=norm,
        extend="max" if np.nanmax(flat, initial=0.0) > d.levels[-1] else "neither",
    )
    mesh = LineCollection(_rings(d), colors=INK, linewidths=0.25, alpha=0.25)
    ax.add_collection(mesh)
    ax.add_collection(LineCollection(d.outline, colors=INK, linewidths=1.4))
    span = np.ptp(d.view.corners.reshape(-1, 2), axis=0).max()
    if len(d.ticks):
        half = 0.018 * span * d.ticks[:, 2:]
        ends = np.stack([d.ticks[:, :2] - half, d.ticks[:, :2] + half], 1)
        ax.add_collection(LineCollection(ends, colors=INK, linewidths=1.3, alpha=0.75))
    if len(d.failed):
        ax.plot(*d.failed.T, "x", color=FAIL, markersize=7, markeredgewidth=2, label=f"{len(d.failed)} points fail")
        ax.legend(loc="upper left", bbox_to_anchor=(0.0, -0.08), frameon=False)
    _labels(ax, d, span)
    ax.set_aspect("equal")
    ax.autoscale_view()
    ax.margins(0.04)
    ax.set_xlabel(d.view.labels[0])
    ax.set_ylabel(d.view.labels[1])
    ax.set_title(d.title + (f"\n{d.note}" if d.note else ""), loc="left", fontsize=11)
    figure = ax.get_figure()
    assert figure is not None
    wide = np.ptp(d.view.corners[..., 0]) > 2.2 * np.ptp(d.view.corners[..., 1])
    bar = figure.colorbar(
        filled, ax=ax, ticks=d.levels, shrink=0.7 if wide else 0.85, pad=0.13 if wide else 0.02,
        orientation="horizontal" if wide else "vertical", aspect=40,
    )  # fmt: skip
    bar.set_label(f"[{d.unit}]")
    return ax


def _rings(d: MapDescription) -> NDArray[np.float64]:
    c = d.view.corners
    return np.concatenate([c, c[:, :1]], axis=1)


def _labels(ax: Axes, d: MapDescription, span: float) -> None:
    low, high = d.view.corners.reshape(-1, 2).min(0), d.view.corners.reshape(-1, 2).max(0)
    for x, y, text in d.labels:
        right, up = x < low[0] + 0.75 * (high[0] - low[0]), y < low[1] + 0.8 * (high[1] - low[1])
        ax.annotate(
            text, (x, y), xytext=(10 if right else -10, 10 if up else -10), textcoords="offset points",
            ha="left" if right else "right", va="bottom" if up else "top", fontsize=9, color=INK,
            bbox={"boxstyle": "round,pad=0.2", "fc": "white", "ec": INK, "lw": 0.6, "alpha": 0.9},
            arrowprops={"arrowstyle": "-", "color": INK, "lw": 0.8}, zorder=5,
        )  # fmt: skip
        ax.plot([x], [y], "o", color=INK, markersize=3.5, zorder=4)


def draw_model(polygons: list[NDArray[np.float64]], names: list[str], title: str, ax: Any = None) -> Any:
    """Draw the zones in space: a list of (e, 4, 3) corner places [m], one a zone."""
    if ax is None:
        ax = _figure().add_subplot(projection="3d")
    everything = np.concatenate([p.reshape(-1, 3) for p in polygons])
    for i, p in enumerate(polygons):
        colour = ZONES[i % len(ZONES)]
        ax.add_collection3d(
            Poly3DCollection(p, facecolors=colour, edgecolors=INK, linewidths=0.15, alpha=0.85)
        )
    low, high = everything.min(0), everything.max(0)
    span = np.maximum(high - low, 0.15 * (high - low).max())
    ax.set(xlim=(low[0], low[0] + span[0]), ylim=(low[1], low[1] + span[1]), zlim=(low[2], low[2] + span[2]))
    ax.set(xlabel="x [m]", ylabel="y [m]", zlabel="z [m]")
    for axis, extent in zip((ax.xaxis, ax.yaxis, ax.zaxis), high - low, strict=True):
        axis.set_major_locator(MaxNLocator(6 if extent > 0.3 * span.max() else 2))
    ax.set_box_aspect(span)
    ax.view_init(elev=28, azim=-60)
    ax.set_title(title, loc="left", fontsize=11)
    handles = [Patch(facecolor=ZONES[i % len(ZONES)], edgecolor=INK) for i in range(len(names))]
    ax.legend(handles, names, loc="upper left", frameon=False)
    return ax


def _figure() -> Figure:
    figure = Figure(figsize=(12.8, 8.0), dpi=100, layout="constrained")
    FigureCanvasAgg(figure)
    return figure


def png(ax: Any) -> bytes:
    """The figure of some axes as PNG, 1280 x 800."""
    buffer = io.BytesIO()
    ax.get_figure().savefig(buffer, format="png", dpi=100)
    return buffer.getvalue()
