"""Pictures of axes: local x of the elements, normals and bar directions of a zone laid flat."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.lines import Line2D
from matplotlib.patches import Patch

from sandwich.drawing.describe import describe_outline
from sandwich.drawing.flatten import Flat, flatten
from sandwich.drawing.maps import INK, new_figure

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

TURNED, OVER, BARS = "#d35400", "#f6d5c1", "#2471a3"
MOST = 1500  # arrows in one picture


@dataclass(frozen=True)
class AxesDescription:
    """Axes of one zone.

    Attributes
    ----------
    title, note : str
        What is written.
    view : Flat
        The elements in the picture.
    outline : ndarray, shape (s, 2, 2)
        Edges of the zone and of its openings [m].
    places : ndarray, shape (n, 2)
        Middles of the elements that carry arrows [m].
    local_x, bars_x : ndarray, shape (n, 2)
        Directions there.
    turned : ndarray of bool, shape (n,)
        Elements whose x axis is not along the bars of most.
    over : ndarray of bool, shape (e,)
        Elements whose normal looks away from the top.
    size : float
        Length of an arrow [m].
    """

    title: str
    note: str
    view: Flat
    outline: NDArray[np.float64]
    places: NDArray[np.float64]
    local_x: NDArray[np.float64]
    bars_x: NDArray[np.float64]
    turned: NDArray[np.bool_]
    over: NDArray[np.bool_]
    size: float


def describe_axes(
    title: str,
    corners: NDArray[np.float64],
    nodes: NDArray[np.int64],
    bars: NDArray[np.float64],
    *,
    local_x: NDArray[np.float64],
    angle: NDArray[np.float64],
    over: NDArray[np.bool_],
    faces: tuple[str, str],
) -> AxesDescription:
    """Describe the axes of a zone: corner places (e, 4, 3) [mm], nodes (e, 4), bars (e, 3, 3), local x (e, 3)."""
    real = nodes >= 0
    filled = np.where(real[..., None], corners, corners[:, 2:3])
    view = flatten(filled, bars[:, 2])
    middle = view.corners.mean(1)
    chosen = _spread(middle)
    turns = np.round(np.degrees(angle)) % 360
    values, count = np.unique(turns, return_counts=True)
    turned = np.minimum((turns - values[count.argmax()]) % 360, (values[count.argmax()] - turns) % 360) > 15.0
    if len(values) > 12:  # axes that run round with the surface: no main direction
        turned[:] = False
    note = f"local x of the elements and the bar directions used; the face '{faces[1]}' looks at the reader"
    size = 0.7 * float(np.sqrt(np.ptp(middle[:, 0]) * np.ptp(middle[:, 1]) / max(len(chosen), 1)))
    return AxesDescription(
        title=title,
        note=note,
        view=view,
        outline=describe_outline(view, nodes, real),
        places=middle[chosen],
        local_x=view.direction(local_x[chosen], chosen),
        bars_x=view.direction(bars[chosen, 0], chosen),
        turned=turned[chosen],
        over=over,
        size=size,
    )


def _spread(middle: NDArray[np.float64]) -> NDArray[np.int64]:
    """All elements, or one in each cell of a grid where there are too many."""
    if len(middle) <= MOST:
        return np.arange(len(middle))
    low, span = middle.min(0), np.maximum(np.ptp(middle, axis=0), 1e-9)
    across = int(np.sqrt(MOST * span.max() / span.min()))
    cell = ((middle - low) / span.max() * across).astype(np.int64)
    return np.unique(cell[:, 0] * (across + 1) + cell[:, 1], return_index=True)[1]


def draw_axes(d: AxesDescription) -> Axes:
    """Draw the axes of a zone in a figure 1280 pixels wide."""
    size = np.ptp(d.view.corners.reshape(-1, 2), axis=0)
    height = float(np.clip(12.0 * size[1] / size[0] + 2.2, 4.5, 8.0))
    figure = new_figure(d.title, d.note, height)
    ax = figure.add_axes((0.06, 0.75 / height, 0.92, 1 - 2.1 / height))
    ax.add_collection(
        PolyCollection(
            list(d.view.corners), facecolors=[OVER if o else "white" for o in d.over], edgecolors=INK, linewidths=0.2
        )
    )
    ax.add_collection(LineCollection(list(d.outline), colors=INK, linewidths=1.4))
    bars = np.stack([d.places - 0.5 * d.size * d.bars_x, d.places + 0.5 * d.size * d.bars_x], 1)
    ax.add_collection(LineCollection(list(bars), colors=BARS, linewidths=1.0, alpha=0.6), autolim=False)
    for of, colour in ((~d.turned, INK), (d.turned, TURNED)):
        if of.any():
            start = d.places[of] - 0.4 * d.size * d.local_x[of]
            way = 0.8 * d.size * d.local_x[of]
            ax.quiver(
                *start.T,
                *way.T,
                angles="xy",
                scale_units="xy",
                scale=1.0,
                color=colour,
                width=0.0012,
                headwidth=5,
                headlength=6,
            )
    ax.set_aspect("equal")
    ax.margins(0.02)
    ax.set_xlabel(d.view.labels[0])
    ax.set_ylabel(d.view.labels[1])
    handles: list[Line2D | Patch] = [
        Line2D([], [], color=INK, marker=">", label="local x"),
        Line2D([], [], color=BARS, label="x bars"),
    ]
    if d.turned.any():
        handles.append(Line2D([], [], color=TURNED, marker=">", label=f"local x of {d.turned.sum()} turned elements"))
    if d.over.any():
        handles.append(Patch(facecolor=OVER, edgecolor=INK, label=f"{d.over.sum()} normals on the other side"))
    at = (0.99, 1 - 0.75 / height)
    ax.figure.legend(handles=handles, loc="upper right", ncols=4, frameon=False, bbox_to_anchor=at)
    return ax
