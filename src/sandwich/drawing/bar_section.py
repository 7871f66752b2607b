"""Sections through a zone with its bars to scale."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from matplotlib.patches import Circle, Rectangle

from sandwich.drawing.layout_records import SectionOfBars, SectionPanel
from sandwich.drawing.maps import INK, new_figure

if TYPE_CHECKING:
    from matplotlib.axes import Axes

CONCRETE: Final = "#efece5"
BASE, EXTRA, ALONG = "#1f5f8b", "#a04000", "#7f8c8d"  # bars cut, additional bars cut, bars along the section
ROOM: Final = 8.2  # in, of the width that is shown
UNDER: Final = 0.75  # in, below a panel
WIDE: Final = 12.8 * 0.96 / ROOM  # of the axes, over the width
TEXT: Final = 8.5


def draw_bar_section(d: SectionOfBars) -> Axes:
    """Draw the panels below each other, in a figure 1280 pixels wide."""
    deep = d.thickness / d.width * ROOM + UNDER
    height = len(d.panels) * deep + 1.1
    figure = new_figure(d.title, d.note, height)
    axes = []
    for n, panel in enumerate(d.panels):
        low = (len(d.panels) - 1 - n) * deep + 0.1
        ax = figure.add_axes((0.02, low / height, 0.96, deep / height))
        _panel(ax, panel, d)
        axes.append(ax)
    return axes[0]


def _panel(ax: Axes, p: SectionPanel, d: SectionOfBars) -> None:
    w, h = d.width, d.thickness
    ax.add_patch(Rectangle((0.0, 0.0), w, h, fc=CONCRETE, ec=INK, lw=1.2))
    for z, diameter in p.along:
        ax.add_patch(Rectangle((0.0, z - diameter / 2.0), w, diameter, fc=ALONG, alpha=0.55, lw=0))
    for x, z, diameter, extra in p.cut:
        ax.add_patch(Circle((x, z), diameter / 2.0, fc=EXTRA if extra else BASE, lw=0))
    for z, text in p.told:
        ax.annotate(
            text, (w, z), xytext=(6, 0), textcoords="offset points", fontsize=TEXT, color=INK, va="center",
            annotation_clip=False,
        )  # fmt: skip
    for z0, z1, text in p.covers:
        ax.annotate(
            "", (-0.03 * w, z0), (-0.03 * w, z1), arrowprops={"arrowstyle": "|-|,widthA=0.2,widthB=0.2", "lw": 0.8},
            annotation_clip=False,
        )  # fmt: skip
        ax.text(-0.045 * w, (z0 + z1) / 2.0, text, fontsize=TEXT, ha="right", va="center", color=INK)
    ax.text(0.0, -0.02 * w, p.title, fontsize=9.5, color=INK, va="top")
    ax.set_xlim(-0.10 * w, (WIDE - 0.10) * w)
    ax.set_ylim(-UNDER / ROOM * w, h)
    ax.set_aspect("equal", anchor="NW")
    ax.axis("off")
