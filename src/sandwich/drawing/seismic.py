"""Draws seismic walls: boundary elements and coupling beams, demand up the height, two details to scale."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.patches import Circle, Polygon, Rectangle

from sandwich.drawing.maps import FAIL, INK, new_figure
from sandwich.drawing.wall_records import (
    BeamDetail,
    EndDetail,
    HeightDescription,
    SeismicDetailDescription,
    SeismicElevationDescription,
)
from sandwich.drawing.walls import CONCRETE, utilisation_colours, utilisation_scale, wall_stage

if TYPE_CHECKING:
    from matplotlib.axes import Axes

BARS, TIES, PLAIN = "#34495e", "#a04000", "#b8c4cc"
SERIES: Final = {
    "analysis": (INK, 1.2, (0, (2, 2))), "design": ("#1f5f8b", 2.2, "solid"), "capacity": (TIES, 1.8, (0, (6, 2))),
}  # fmt: skip


def draw_seismic_elevation(d: SeismicElevationDescription) -> Axes:
    """Draw the ends and coupling beams of a wall in its elevation, in a figure 1280 pixels wide."""
    figure, ax = wall_stage(d)
    own, norm = utilisation_colours()
    for b in sorted(d.parts, key=lambda b: b.kind in ("lintel", "parapet")):
        ax.add_patch(Rectangle((b.x, b.y), b.width, b.height, fc=CONCRETE, ec=INK, lw=0.7, zorder=1))
    for e in d.ends:
        fails = e.value > 1.0 + 1e-9
        face = FAIL if fails else own(norm(min(e.value, 1.0 - 1e-9))) if e.tied else "none"
        ax.add_patch(Rectangle((e.x, e.y), e.width, e.height, fc=face, ec=INK, lw=0.8, zorder=2,
                               hatch=None if e.tied else "||||"))  # fmt: skip
    if len(d.lines):
        ax.add_collection(LineCollection(list(d.lines.reshape(-1, 2, 2)), colors=BARS, linewidths=2.0, zorder=3))
    for x, y, text, room in d.labels:
        narrow = room < 0.05 * (d.panels[-1][1] + d.panels[-1][2])
        ax.text(x, y, text, ha="center", va="center", fontsize=5.8, zorder=6, color=INK, linespacing=0.95,
                rotation=90 if narrow and "\n" in text else 0,
                bbox={"fc": "white", "ec": "none", "alpha": 0.85, "pad": 0.8})  # fmt: skip
    utilisation_scale(figure)
    return ax


def draw_seismic_details(d: SeismicDetailDescription) -> Axes:
    """Draw moments and shear up the height, a boundary element and a coupling beam, 1280 pixels wide."""
    figure = new_figure(d.title, d.note, 8.0)
    first = figure.add_axes((0.07, 0.08, 0.19, 0.78))
    _up(first, d.heights[0], named=True)
    _up(figure.add_axes((0.29, 0.08, 0.19, 0.78)), d.heights[1], named=False)
    over, below = figure.add_axes((0.54, 0.56, 0.44, 0.28)), figure.add_axes((0.54, 0.08, 0.44, 0.36))
    if d.end is not None:
        _end(over, d.end)
    else:
        _none(over, "no boundary element has ties")
    if d.beam is not None:
        _beam(below, d.beam)
    else:
        _none(below, "no coupling beam")
    return first


def _none(ax: Axes, text: str) -> None:
    ax.text(0.5, 0.5, text, ha="center", va="center", fontsize=9, color=INK, transform=ax.transAxes)
    ax.set_axis_off()


def _up(ax: Axes, d: HeightDescription, *, named: bool) -> None:
    for name, y in d.levels:
        ax.axhline(y, color=INK, lw=0.5, ls=(0, (6, 4)), alpha=0.5, zorder=0)
        if name and named:
            ax.annotate(name, (1.0, y), xycoords=("axes fraction", "data"), xytext=(-3, 2),
                        textcoords="offset points", fontsize=7, color=INK, ha="right", zorder=5,
                        bbox={"fc": "white", "ec": "none", "alpha": 0.7, "pad": 0.3})  # fmt: skip
    for name, steps in d.series:
        colour, width, style = SERIES[name]
        values = [v for _, _, v in steps for _ in range(2)]
        heights = [z for low, high, _ in steps for z in (low, high)]
        ax.plot(values, heights, color=colour, lw=width, ls=style, label=name)
    most = max((v for _, steps in d.series for _, _, v in steps), default=1.0)
    ax.set_xlim(0.0, 1.12 * most)
    ax.set_ylim(d.levels[0][1], d.levels[-1][1])
    ax.set_title(d.title, fontsize=9, color=INK)
    ax.set_xlabel(d.quantity, fontsize=9)
    ax.tick_params(labelsize=7)
    if named:
        ax.set_ylabel("height [m]", fontsize=9)
    else:
        ax.set_yticklabels([])
        ax.legend(fontsize=7, loc="best", framealpha=0.9)
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)


def _bare(ax: Axes, title: str, told: str, unit: str) -> None:
    ax.set_aspect("equal")
    ax.set_title(f"{title} [{unit}]", fontsize=9, color=INK, loc="left")
    ax.set_xlabel(told, fontsize=8, loc="left")
    ax.set_xticks([])
    ax.set_yticks([])
    for side in ax.spines.values():
        side.set_visible(False)


def _span(ax: Axes, a: float, b: float, y: float, text: str) -> None:
    """A dimension between two places."""
    ax.annotate("", (a, y), (b, y), arrowprops={"arrowstyle": "<->", "lw": 0.7, "color": INK}, annotation_clip=False)
    ax.text((a + b) / 2.0, y, text, ha="center", va="center", fontsize=7, color=INK,
            bbox={"fc": "white", "ec": "none", "pad": 0.5})  # fmt: skip


def _end(ax: Axes, d: EndDetail) -> None:
    """Section of an end: concrete, ties, bars."""
    wide, deep = d.size
    broken = [(wide * 1.012, 0.35 * deep), (wide * 0.988, 0.65 * deep)]
    edge = np.array([(0, 0), (wide, 0), *broken, (wide, deep), (0, deep)])
    ax.add_patch(Polygon(edge, closed=True, fc=CONCRETE, ec=INK, lw=1.1))
    x0, y0, x1, y1 = d.ring
    ax.add_patch(Rectangle((x0, y0), x1 - x0, y1 - y0, fc="none", ec=TIES, lw=1.8, zorder=2))
    for a, b, c, e in d.legs:
        ax.plot([a, c], [b, e], color=TIES, lw=1.3, zorder=2)
    for x, y, dia in d.bars:
        ax.add_patch(Circle((x, y), dia / 2.0, fc=BARS if x <= d.length else PLAIN, ec=INK, lw=0.5, zorder=3))
    _span(ax, 0.0, d.length, -0.18 * deep, f"{d.length:.4g}")
    ax.annotate("", (-0.03 * wide, 0), (-0.03 * wide, deep), arrowprops={"arrowstyle": "<->", "lw": 0.7, "color": INK},
                annotation_clip=False)  # fmt: skip
    ax.text(-0.045 * wide, deep / 2.0, f"{deep:.4g}", rotation=90, ha="right", va="center", fontsize=7, color=INK)
    ax.set_xlim(-0.09 * wide, 1.03 * wide)
    ax.set_ylim(-0.32 * deep, 1.08 * deep)
    _bare(ax, d.title, d.told, d.unit)


def _beam(ax: Axes, d: BeamDetail) -> None:
    """Elevation of a coupling beam between two piers."""
    l_n, h = d.size
    past = -d.diagonals[0][0] if d.diagonals else 0.25 * l_n
    for x in (-past, l_n):
        ax.add_patch(Rectangle((x, -0.12 * h), past, 1.24 * h, fc=CONCRETE, ec="none", zorder=0))
    ax.add_patch(Rectangle((0, 0), l_n, h, fc=CONCRETE, ec="none", zorder=0))
    for x in (0.0, l_n):
        ax.plot([x, x], [-0.12 * h, 0.0], color=INK, lw=1.1)
        ax.plot([x, x], [h, 1.12 * h], color=INK, lw=1.1)
    ax.plot([0, l_n], [0, 0], color=INK, lw=1.1)
    ax.plot([0, l_n], [h, h], color=INK, lw=1.1)
    inside = min(d.chords, default=0.05 * h)
    for x in d.links:
        ax.plot([x, x], [inside, h - inside], color=TIES, lw=0.8, alpha=0.75, zorder=1)
    for y in d.chords:
        ax.plot([-0.9 * past, l_n + 0.9 * past], [y, y], color=BARS, lw=1.2, zorder=2)
    for a, b, c, e in d.diagonals:
        angle = math.atan2(e - b, c - a)
        off = d.group / 2.0 * 0.7 / math.cos(angle)
        for way in (1.0, -1.0):
            ax.plot([a, c], [b + way * off, e + way * off], color=BARS, lw=2.0, zorder=3)
        for at in d.ties:
            middle = b + (at - a) * math.tan(angle)
            dx, dy = -math.sin(angle) * d.group / 2.0, math.cos(angle) * d.group / 2.0
            ax.plot([at - dx, at + dx], [middle - dy, middle + dy], color=TIES, lw=0.9, zorder=2)
    _span(ax, 0.0, l_n, -0.06 * h, f"{l_n:.4g}")
    ax.text(-past * 0.5, h / 2.0, f"{h:.4g} deep", rotation=90, ha="center", va="center", fontsize=7, color=INK,
            bbox={"fc": CONCRETE, "ec": "none", "pad": 0.5})  # fmt: skip
    ax.set_xlim(-past, l_n + past)
    ax.set_ylim(-0.14 * h, 1.14 * h)
    _bare(ax, d.title, d.told, d.unit)
