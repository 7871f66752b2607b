"""Picture of a building under earthquakes: what its storeys do, up its height."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, Final

from sandwich.drawing.maps import FAIL, INK, new_figure
from sandwich.drawing.wall_records import BuildingDescription, Steps

if TYPE_CHECKING:
    from matplotlib.axes import Axes

COLOURS: Final = {"x": "#1f5f8b", "y": "#a04000"}
WIDE, GAP, LEFT = 0.26, 0.04, 0.07


def draw_storeys(d: BuildingDescription) -> Axes:
    """Draw drift, second order and displacement of the storeys, in a figure 1280 pixels wide."""
    figure = new_figure(d.title, d.note, 8.0)
    count = len(d.measures) + bool(d.moved)
    axes = [figure.add_axes((LEFT + i * (WIDE + GAP), 0.10, WIDE, 0.76)) for i in range(count)]
    for ax, (quantity, demand, limit) in zip(axes, d.measures, strict=False):
        for way, steps in demand.items():
            _steps(ax, steps, COLOURS[way], "solid", f"in {way}")
        _steps(ax, sorted(set(limit)), FAIL, (0, (5, 2)), "limit")
        ax.set_xlabel(quantity, fontsize=9)
        ax.legend(fontsize=8, loc="center")
    for way, points in d.moved.items():
        x, y = zip(*points, strict=True)
        axes[-1].plot(x, y, color=COLOURS[way], marker="o", ms=4, lw=1.8, label=f"in {way}")
        axes[-1].set_xlabel(d.displacement, fontsize=9)
        axes[-1].legend(fontsize=8, loc="upper left")
    for i, ax in enumerate(axes):
        _levels(ax, d, first=i == 0, last=i == len(axes) - 1)
    return axes[0]


def _steps(ax: Axes, steps: Steps, colour: str, style: object, name: str) -> None:
    values = [v for _, _, v in steps for _ in range(2)]
    heights = [z for low, high, _ in steps for z in (low, high)]
    ax.plot(values, heights, color=colour, lw=2.0, ls=style, label=name)


def _levels(ax: Axes, d: BuildingDescription, *, first: bool, last: bool) -> None:
    for _, y in d.levels:
        ax.axhline(y, color=INK, lw=0.5, ls=(0, (6, 4)), alpha=0.5, zorder=0)
    for (name, low), (_, high) in pairwise(d.levels) if last else ():
        ax.annotate(name, (1.0, (low + high) / 2.0), xycoords=("axes fraction", "data"), xytext=(4, 0), fontsize=8,
                    va="center", textcoords="offset points", color=INK)  # fmt: skip
    ax.set_xlim(left=0.0)
    ax.set_ylim(d.levels[0][1], d.levels[-1][1])
    ax.tick_params(labelsize=8)
    if first:
        ax.set_ylabel(d.height, fontsize=9)
    else:
        ax.set_yticklabels([])
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
