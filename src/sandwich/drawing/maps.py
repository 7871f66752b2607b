"""Draws map descriptions and the model in space with Matplotlib."""

from __future__ import annotations

import io
import itertools
import warnings
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from matplotlib import colormaps, rc_context, rcParamsDefault
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.cm import ScalarMappable
from matplotlib.collections import LineCollection, PathCollection
from matplotlib.colors import BoundaryNorm
from matplotlib.figure import Figure
from matplotlib.patches import Patch
from matplotlib.path import Path
from matplotlib.text import Text
from matplotlib.ticker import MaxNLocator
from matplotlib.transforms import Bbox
from matplotlib.tri import Triangulation
from mpl_toolkits.mplot3d import proj3d
from mpl_toolkits.mplot3d.art3d import Line3DCollection, Poly3DCollection

from sandwich.drawing.describe import MapDescription
from sandwich.drawing.records import ModelDescription

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

WIDTH = 12.8  # in
_HIGHEST = 14.0  # in
LOW = 0.8  # in: the labels of a map that is lower have no room in it
_PLAIN = {k: v for k, v in rcParamsDefault.items() if not k.startswith(("backend", "savefig.directory", "webagg"))}
ELEVATION, AZIMUTH = 32, -55  # deg
COLOURS, SIGNED = "YlGnBu", "PuOr"
INK = "#1c2b33"
FAIL = "#c62828"
UNCHECKED, HATCH = "#eceff1", "#90a4ae"
_UP, _ROUND = np.radians([ELEVATION, AZIMUTH])
BRIGHT = (0.30, 0.59, 0.11)  # how much of the brightness is red, green and blue
FINE = 10_000  # elements beyond which their edges would hide the colours
FEW = 2_000  # lines of an outline that are drawn one by one
TOWARDS_VIEWER = np.array([np.cos(_UP) * np.cos(_ROUND), np.cos(_UP) * np.sin(_ROUND), np.sin(_UP)])
ZONES = ("#7fb3d5", "#f0b27a", "#a9cf8f", "#c39bd3", "#e6c84f", "#95a5a6")


def draw_map(d: MapDescription, ax: Axes | None = None) -> Axes:
    """Draw one map; a new figure, 1280 pixels wide, where no axes are given."""
    size = np.ptp(d.view.corners.reshape(-1, 2), axis=0)
    wide = size[0] > 2.2 * size[1]
    scale_ax = None
    if ax is None:
        ax, scale_ax = _axes_for(d, size, wide=wide)
    t = Triangulation(d.places[:, 0], d.places[:, 1], d.triangles)
    flat = d.values
    failing = ~np.isfinite(flat)[d.triangles].all(1)
    t.set_mask(failing)
    over: Literal["max", "neither"] = "max" if np.nanmax(flat, initial=0.0) > d.levels[-1] else "neither"
    norm = BoundaryNorm(d.levels, 256, extend=over)
    # what is past a limit is no further step of the scale
    colours = colormaps[SIGNED if d.levels[0] < 0.0 else COLOURS]
    colours = colours.with_extremes(over=FAIL) if d.limit else colours
    if not failing.all():
        # the last step holds its upper end, too
        flat = np.where(flat == d.levels[-1], np.nextafter(d.levels[-1], 0.0), flat)
        ax.tricontourf(t, np.nan_to_num(flat), levels=d.levels, cmap=colours, norm=norm, extend=over)
        if d.edge is not None and np.nanmax(flat, initial=0.0) > d.edge[0]:
            ax.tricontour(t, np.nan_to_num(flat), levels=[d.edge[0]], colors=INK, linewidths=2.2)
    if len(d.hatched):
        ax.add_collection(PathCollection([_joined(d.hatched)], fc=UNCHECKED, ec=HATCH, hatch="////", lw=0.0))
    if len(d.view.corners) <= FINE:
        ax.add_collection(LineCollection(list(_rings(d)), colors=INK, linewidths=0.25, alpha=0.25))
    _outline(ax, d.outline)
    if len(d.ticks):
        half = 0.016 * size.max() * d.ticks[:, 2:]
        ends = np.stack([d.ticks[:, :2] - half, d.ticks[:, :2] + half], 1)
        ax.add_collection(LineCollection(list(ends), colors=INK, linewidths=1.3, alpha=0.75), autolim=False)
    if d.numbered:
        _numbers(ax, d, size)
    _legend(ax, d, past=over == "max" and d.limit)
    for x, y, name in d.view.names:
        ax.annotate(name, (x, y), xytext=(0, 4), textcoords="offset points", ha="center", va="bottom", fontsize=9)
    ax.set_aspect("equal")
    ax.use_sticky_edges = False  # the outline stands clear of the frame
    ax.margins(0.02, 0.05 if d.view.names else 0.02)
    _few_ticks(ax, d.view.corners, size)
    _labels(ax, d)
    ax.set_xlabel(d.view.labels[0])
    ax.set_ylabel(d.view.labels[1])
    bar = ax.figure.colorbar(
        ScalarMappable(norm, colours), cax=scale_ax, ax=None if scale_ax is not None else ax, ticks=d.levels,
        orientation="horizontal" if wide else "vertical",
    )  # fmt: skip
    if not d.level_names:
        bar.set_label(f"[{d.unit}]")
    else:
        bar.ax.set_title(f"[{d.unit}]  bars", fontsize=9, loc="left")
        told = [
            (f"{v:.0f}" if v >= 100.0 else f"{v:.3g}") + (f"  {name}" if name else "")
            for v, name in zip(d.levels, d.level_names, strict=True)
        ]
        (bar.ax.set_xticklabels if wide else bar.ax.set_yticklabels)(told)
        bar.ax.tick_params(labelsize=9)
    return ax


def _joined(triangles: NDArray[np.float64]) -> Path:
    """Triangles (n, 3, 2) as one path, all turned the same way: one by one, hatching takes long and shows seams."""
    a, b, c = np.moveaxis(triangles, 1, 0)
    turned = (b - a)[:, 0] * (c - a)[:, 1] < (b - a)[:, 1] * (c - a)[:, 0]
    corners = np.where(turned[:, None, None], triangles[:, ::-1], triangles)
    codes = np.tile(np.array([Path.MOVETO, Path.LINETO, Path.LINETO, Path.CLOSEPOLY], dtype=Path.code_type), len(a))
    return Path(corners[:, [0, 1, 2, 0]].reshape(-1, 2), codes)


def _outline(ax: Axes, lines: NDArray[np.float64]) -> None:
    """Draw lines (n, 2, 2): few each for itself, on whole pixels; many as one path, as thousands take long."""
    if len(lines) <= FEW:
        ax.add_collection(LineCollection(list(lines), colors=INK, linewidths=1.4))
        return
    codes = np.tile(np.array([Path.MOVETO, Path.LINETO], dtype=Path.code_type), len(lines))
    path = Path(lines.reshape(-1, 2), codes)
    ax.add_collection(PathCollection([path], facecolors="none", edgecolors=INK, linewidths=1.4))


def _numbers(ax: Axes, d: MapDescription, size: NDArray[np.float64]) -> None:
    """The value of each element in it, as large as it fits."""
    box = ax.get_position()
    scale = float(
        min(np.array(ax.figure.bbox.size) * [box.width, box.height] / np.maximum(size, 1e-9))
    )  # pixels a metre
    wide = scale * np.ptp(d.view.corners[..., 0], axis=1)
    longest = max((len(text) for *_, text in d.numbers()), default=1)
    fits = float(np.clip(0.72 * np.median(wide) / (0.6 * longest), 1.5, 11.0)) * 72.0 / ax.figure.dpi
    norm, colours = BoundaryNorm(d.levels, 256, extend="max"), colormaps[SIGNED if d.levels[0] < 0.0 else COLOURS]
    for x, y, text in d.numbers():
        ink = INK if np.dot(colours(norm(float(text)))[:3], BRIGHT) > 0.45 else "white"
        ax.text(x, y, text, fontsize=fits, color=ink, ha="center", va="center", clip_on=True)


def _legend(ax: Axes, d: MapDescription, *, past: bool) -> None:
    """What marks besides the colours mean."""
    if len(d.failed):
        ax.plot(*d.failed.T, "x", color=FAIL, markersize=7, markeredgewidth=2, label=f"{len(d.failed)} points fail")
    if d.edge is not None:
        ax.plot([], [], color=INK, lw=2.2, label=f"the base mesh {d.edge[1]} ends")
    handles = ax.get_legend_handles_labels()[0]
    if past:
        handles.append(Patch(fc=FAIL, label=f"more than {d.levels[-1]:.4g} {d.unit}"))
    if len(d.hatched):
        handles.append(Patch(fc=UNCHECKED, ec=HATCH, hatch="////", label="not checked"))
    if not handles:
        return
    over = {}
    if ax.get_position().height * ax.figure.bbox.height < LOW * ax.figure.dpi:  # beside the title: it has no room in it
        over = {"bbox_to_anchor": (0.985, 0.985), "bbox_transform": ax.figure.transFigure}
    ax.legend(handles=handles, loc="upper right", framealpha=0.9, **over)


def _axes_for(d: MapDescription, size: NDArray[np.float64], *, wide: bool) -> tuple[Axes, Axes]:
    """Axes for a map and for its scale: beside it, or below a wide one in a lower figure."""
    far = 0.006 * max(len(f"{np.abs(d.view.corners[..., 1]).max():.0f}") - 3, 0)  # room for places with many digits
    if not wide:
        high = float(np.clip(1.2 * size[1] / size[0] * 2.2, 8.0, _HIGHEST))  # a tower gets a higher figure
        figure = new_figure(d.title, d.note, high)
        below, top = 0.64 / high, 1.0 - 1.04 / high
        at = (0.06 + far, below, 0.80 - far, top - below)
        left = 0.88 if d.level_names else 0.90
        return figure.add_axes(at), figure.add_axes((left, below + 0.05, 0.018, top - below - 0.1))
    across = 0.90 * WIDTH
    high = across * size[1] / size[0]
    above, below = 1.0 + max(LOW - high, 0.0), 1.7  # labels stand over a low map
    whole = high + above + below
    figure = new_figure(d.title, d.note, whole)
    scale_ax = figure.add_axes((0.20, 0.7 / whole, 0.60, 0.22 / whole))
    return figure.add_axes((0.06 + far, below / whole, 0.90 - far, high / whole)), scale_ax


def new_figure(title: str, note: str = "", height: float = 8.0) -> Figure:
    """A figure 12.8 in wide, by default 1280 x 800 pixels, with its title and a note at the upper left."""
    figure = Figure(figsize=(WIDTH, height), dpi=100)
    FigureCanvasAgg(figure)
    figure.text(0.02, 1 - 0.28 / height, title, fontsize=14, fontweight="bold", color=INK, va="center")
    figure.text(0.02, 1 - 0.60 / height, note, fontsize=10, color=INK, va="center")
    return figure


def _rings(d: MapDescription) -> NDArray[np.float64]:
    c = d.view.corners
    return np.concatenate([c, c[:, :1]], axis=1)


def _few_ticks(ax: Axes, corners: NDArray[np.float64], size: NDArray[np.float64]) -> None:
    """No more ticks on an axis than there is room for."""
    box = ax.get_position()
    room = np.array(ax.figure.bbox.size) / 100.0 * [box.width, box.height]  # in
    inches = size * min(room / np.maximum(size, 1e-9))
    for axis, length, ends in zip((ax.xaxis, ax.yaxis), inches, corners.reshape(-1, 2).T, strict=True):
        axis.set_major_locator(MaxNLocator(int(np.clip(length / 0.7, 1, 10)), min_n_ticks=1))
        if 0.3 < length < 1.4:  # room for no more than its ends
            places = max(1 - int(np.floor(np.log10(np.ptp(ends)))), 0)
            axis.set_ticks(pair := [ends.min(), ends.max()], [f"{round(v, places):.12g}" for v in pair])


def _labels(ax: Axes, d: MapDescription) -> None:
    """The largest values, each where it covers no other and stays inside the picture."""
    ax.apply_aspect()
    renderer = ax.figure.canvas.get_renderer()  # type: ignore[attr-defined]
    top = max(ax.bbox.y1, ax.bbox.y0 + LOW * ax.figure.dpi)
    taken: list[Bbox] = []
    for x, y, text in d.labels:
        ax.plot([x], [y], "o", color=INK, markersize=3.5, zorder=4)
        label = ax.annotate(
            text, (x, y), xytext=(0, 0), textcoords="offset points", fontsize=9, color=INK,
            bbox={"boxstyle": "round,pad=0.2", "fc": "white", "ec": INK, "lw": 0.6, "alpha": 0.9},
            arrowprops={"arrowstyle": "-", "color": INK, "lw": 0.8}, zorder=5,
        )  # fmt: skip
        for away, up, right in itertools.product((10, 30, 55, 90), (True, False), (True, False)):
            label.set(ha="left" if right else "right", va="bottom" if up else "top")
            label.xyann = (away if right else -away, away if up else -away)
            label.update_positions(renderer)
            box = Text.get_window_extent(label, renderer).padded(4)
            inside = ax.figure.bbox.x0 < box.x0 and box.x1 < ax.figure.bbox.x1 and ax.bbox.y0 < box.y0 < top - 14
            if inside and not any(box.overlaps(other) for other in taken):
                break
        taken.append(Text.get_window_extent(label, renderer).padded(4))


def draw_model(d: ModelDescription, ax: Any = None) -> Any:
    """Draw the zones in space, some normals as lines."""
    polygons, names, title, normals = d.polygons, d.names, d.title, d.normals
    alone = ax is None
    if alone:
        ax = new_figure(title).add_axes((0.0, 0.0, 1.0, 0.95), projection="3d")
    everything = np.concatenate(polygons)
    colours = [ZONES[i % len(ZONES)] for i, p in enumerate(polygons) for _ in p]
    # one collection, so that near polygons of one zone hide far ones of another
    # the axes are a square in the middle of the figure: not clipped to it
    ax.add_collection3d(
        Poly3DCollection(everything, facecolors=colours, edgecolors=INK, linewidths=0.15, clip_on=False)
    )
    low, high = everything.reshape(-1, 3).min(0), everything.reshape(-1, 3).max(0)
    ax.computed_zorder = False
    for p, n in zip(polygons, normals or [], strict=bool(normals)):
        few = np.flatnonzero(n @ TOWARDS_VIEWER > 0.15)
        if not len(few):  # all of the zone looks away
            continue
        few = few[np.unique((np.arange(60) * 0.618 % 1.0 * len(few)).astype(int))]
        ends = np.stack([p[few].mean(1), p[few].mean(1) + 0.06 * (high - low).max() * n[few]], 1)
        ax.add_collection3d(Line3DCollection(ends, colors=FAIL, linewidths=1.2, clip_on=False, zorder=9))
    span = np.maximum(high - low, 0.15 * (high - low).max())
    ax.set(xlim=(low[0], low[0] + span[0]), ylim=(low[1], low[1] + span[1]), zlim=(low[2], low[2] + span[2]))
    ax.set(xlabel="x [m]", ylabel="y [m]", zlabel="z [m]")
    for axis, extent, others in zip((ax.xaxis, ax.yaxis, ax.zaxis), high - low, span.sum() - span, strict=True):
        ticks = 6 if extent > 0.3 * span.max() else 2
        axis.set_major_locator(MaxNLocator(ticks, prune="lower" if axis is ax.yaxis else None))
        # texts stand off an axis by parts of the other extents, beside 8 and 21 points that are fixed
        slender = max(1.0, float(span.max() / others))
        axis.set_tick_params(pad=11.5 * slender - 8.0)
        axis.labelpad = 29.0 * slender - 21.0
    ax.view_init(elev=ELEVATION, azim=AZIMUTH)
    _fill(ax, span, low + span * list(np.ndindex(2, 2, 2)))
    handles = [Patch(facecolor=ZONES[i % len(ZONES)], edgecolor=INK) for i in range(len(names))]
    at = {"bbox_to_anchor": (0.02, 0.92), "bbox_transform": ax.figure.transFigure} if alone else {}
    ax.legend(handles, names, loc="upper left", frameon=False, **at)
    return ax


def _fill(ax: Any, span: NDArray[np.float64], places: NDArray[np.float64]) -> None:
    """Zoom so that what lies within some places fills the figure and nothing is cut off, and put it in the middle."""
    ax.set_box_aspect(span, zoom=1.0)
    ax.apply_aspect()
    width, height = ax.figure.bbox.size
    x, y, _ = proj3d.proj_transform(*places.T, ax.get_proj())
    seen = ax.transData.transform(np.column_stack([x, y]))
    low, high = seen.min(0), seen.max(0)
    room = np.array([0.80 * width, 0.74 * height])  # the rest is for ticks, labels and the title
    zoom = float(min(room / np.maximum(high - low, 1.0)))
    ax.set_box_aspect(span, zoom=zoom)
    middle = ax.bbox.get_points().mean(0)
    shift = (np.array([0.5 * width, 0.47 * height]) - (middle + zoom * ((low + high) / 2 - middle))) / [width, height]
    box = ax.get_position(original=True)
    ax.set_position((box.x0 + shift[0], box.y0 + shift[1], box.width, box.height))


def png(draw: Callable[..., Any], *what: Any, **options: Any) -> bytes:
    """What a function draws as PNG, at its own size: alike whatever the settings of the user, names as they are."""
    buffer = io.BytesIO()
    with rc_context(rc={**_PLAIN, "text.parse_math": False}), warnings.catch_warnings():
        warnings.filterwarnings("ignore", "Glyph .* missing from font")  # a box stands for it
        figure = draw(*what, **options).figure
        figure.canvas.print_png(buffer, pil_kwargs={"compress_level": 3})
    for held in [c for ax in figure.axes for c in ax.collections]:
        held.remove()  # the parts of a figure hold each other: what is large would stay until it is looked for
    return buffer.getvalue()
