"""Plan of the bars of a face: rectangles of additional bars with one bar each as it is cut."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.patches import Polygon

from sandwich.drawing.layout_records import Floats, LayoutDescription, LayoutPatch
from sandwich.drawing.maps import INK, WIDTH, new_figure

if TYPE_CHECKING:
    from matplotlib.axes import Axes

COLOURS: Final = ("#1f5f8b", "#a04000")  # bars along x, along y
END: Final = 0.008  # of the drawing, half of a tick at the end of a bar
ALONG: Final = (0.5, 0.25, 0.75)  # of a bar, where its label may stand
FONT: Final = 7.5  # pt
LETTER: Final = 0.58 * FONT / 72.0  # in, the mean width of a letter
ROOM: Final = 11.0  # in, the height of tall plans


def draw_layout(d: LayoutDescription) -> Axes:
    """Draw the bars of a face, in a figure 1280 pixels wide."""
    low, high = d.sides.min((0, 1)), d.sides.max((0, 1))
    size = np.maximum(high - low, 1e-9)
    height = float(np.clip(0.86 * WIDTH * size[1] / size[0] + 1.6, 4.0, ROOM))
    figure = new_figure(d.title, d.note, height)
    ax = figure.add_axes((0.07, 0.6 / height, 0.90, 1.0 - 1.6 / height))
    ax.add_collection(LineCollection(list(d.sides), colors=INK, linewidths=1.2))
    inch = float((1.06 * size / [0.90 * WIDTH, height - 1.6]).max())
    for p, number, place in _placed(d.patches, inch):
        _patch(ax, p, number, place, float(size.max()))
    ax.set_aspect("equal")
    ax.set_xlim(low[0] - 0.03 * size[0], high[0] + 0.03 * size[0])
    ax.set_ylim(low[1] - 0.03 * size[1], high[1] + 0.03 * size[1])
    ax.set_xlabel(d.quantities[0], fontsize=9)
    ax.set_ylabel(d.quantities[1], fontsize=9)
    ax.tick_params(labelsize=8)
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    return ax


def _placed(patches: list[LayoutPatch], inch: float) -> Iterator[tuple[LayoutPatch, int, Floats]]:
    """Rectangles with the bar that is drawn and the place of its label, the smallest first: clear of others if it can.

    `inch` is that of the drawing in its units.
    """
    labels, bars = np.zeros((0, 4)), np.zeros((0, 4))
    for p in sorted(patches, key=lambda p: float(np.ptp(p.ring, axis=0).prod())):
        best: tuple[float, int, Floats, Floats, Floats] | None = None
        for (number, bar), at in itertools.product(enumerate(p.bars), ALONG):
            place = np.array([np.interp(at, np.linspace(0.0, 1.0, len(bar)), v) for v in bar.T])
            box, line = _label_box(p, place, inch), _grown(np.concatenate([bar.min(0), bar.max(0)]), 0.03 * inch)
            hidden = _common(box, labels) + 0.3 * _common(box, bars) + 0.3 * _common(line, labels)
            if best is None or hidden < best[0] - 1e-9:
                best = hidden, number, place, box, line
        if best is None:
            continue
        labels, bars = np.vstack([labels, best[3]]), np.vstack([bars, best[4]])
        yield p, best[1], best[2]


def _label_box(p: LayoutPatch, place: Floats, inch: float) -> Floats:
    """What a label covers: from and to along x and y, (x, y, x, y)."""
    long, high = len(p.label) * LETTER * inch, 1.4 * FONT / 72.0 * inch
    if p.upright:
        return np.array(
            [place[0] - 0.07 * inch - high, place[1] - long / 2, place[0] - 0.07 * inch, place[1] + long / 2]
        )
    return np.array([place[0] - long / 2, place[1] + 0.07 * inch, place[0] + long / 2, place[1] + 0.07 * inch + high])


def _grown(box: Floats, by: float) -> Floats:
    return np.asarray(box + np.array([-by, -by, by, by]))


def _common(box: Floats, others: Floats) -> float:
    """Part of the smaller one that a box shares with others, of all together."""
    low, high = np.maximum(others[:, :2], box[:2]), np.minimum(others[:, 2:], box[2:])
    areas = np.minimum((others[:, 2:] - others[:, :2]).prod(1), (box[2:] - box[:2]).prod())
    return float((np.clip(high - low, 0.0, None).prod(1) / np.maximum(areas, 1e-12)).sum())


def _patch(ax: Axes, p: LayoutPatch, number: int, place: Floats, size: float) -> None:
    colour, bar, span = COLOURS[int(p.second)], p.bars[number], p.spans[number]
    ax.add_patch(Polygon(p.ring, facecolor=colour, alpha=0.10, lw=0))
    ax.add_patch(Polygon(p.ring, fill=False, edgecolor=colour, lw=1.0, ls=(0, (4, 2))))
    ax.plot(*bar.T, color=colour, lw=2.0, solid_capstyle="butt")
    for end, way in ((bar[0], bar[1] - bar[0]), (bar[-1], bar[-1] - bar[-2])):
        across = np.array([-way[1], way[0]]) / max(float(np.linalg.norm(way)), 1e-9)
        ax.plot(*np.stack([end - END * size * across, end + END * size * across]).T, color=colour, lw=1.4)
    # the reach of the bars across them
    ax.plot(*span.T, color=colour, lw=0.8)
    for tip, tail in ((span[0], span[1]), (span[-1], span[-2])):
        near = tip + 1e-3 * (tail - tip)  # heads alone: a line drawn twice is a thicker one
        head = {"arrowstyle": "->", "color": colour, "lw": 0.8, "shrinkA": 0.0, "shrinkB": 0.0}
        ax.annotate("", tip, near, arrowprops=head)
    ax.annotate(
        p.label, (float(place[0]), float(place[1])), xytext=(-5, 0) if p.upright else (0, 5),
        textcoords="offset points", fontsize=FONT,
        color=colour, rotation=90 if p.upright else 0, ha="right" if p.upright else "center",
        va="center" if p.upright else "bottom", bbox={"facecolor": "white", "alpha": 0.75, "lw": 0, "pad": 0.8},
    )  # fmt: skip
