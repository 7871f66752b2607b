"""Draws walls: elevations by utilisation and with bars, strength of a section."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib import colormaps
from matplotlib.cm import ScalarMappable
from matplotlib.collections import LineCollection
from matplotlib.colors import BoundaryNorm, ListedColormap
from matplotlib.patches import Circle, Polygon, Rectangle

from sandwich.drawing.maps import COLOURS, FAIL, INK, new_figure
from sandwich.drawing.wall_records import (
    CurveDescription,
    ElevationDescription,
    StrengthDescription,
    WallBarsDescription,
    WallDescription,
)

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

STEPS: Final = np.array([0.0, 0.25, 0.5, 0.7, 0.85, 1.0])
OPEN, CONCRETE, PRESSED = "#f4f6f7", "#e8e4dc", "#9fc5e0"
KEY_DOT: Final = "#7d3c98"


def utilisation_colours() -> tuple[ListedColormap, BoundaryNorm]:
    """Colours of utilisations, and where they change."""
    own = ListedColormap([*colormaps[COLOURS](np.linspace(0.08, 0.72, len(STEPS) - 1)), FAIL])
    return own, BoundaryNorm([*STEPS, 1.25], own.N)


def wall_stage(d: WallDescription) -> tuple[Figure, Axes]:
    """Axes with levels, panels and openings."""
    high = d.levels[-1][1] - d.levels[0][1]
    wide = d.panels[-1][1] + d.panels[-1][2]
    figure = new_figure(d.title, d.note, float(np.clip(11.2 * high / wide + 1.6, 4.2, 9.5)))
    ax = figure.add_axes((0.07, 0.09, 0.80, 0.77))
    for name, y in d.levels:
        ax.axhline(y, color=INK, lw=0.5, ls=(0, (6, 4)), alpha=0.5, zorder=0)
        if name:
            ax.annotate(name, (0.0, y), xycoords=("axes fraction", "data"), xytext=(4, 2), textcoords="offset points",
                        fontsize=7, color=INK, alpha=0.8)  # fmt: skip
    for name, x, length in d.panels:
        ax.annotate(f"panel {name}", (x + length / 2.0, d.levels[-1][1]), xytext=(0, 7), textcoords="offset points",
                    ha="center", fontsize=10, color=INK)  # fmt: skip
    for o in d.openings:
        ax.add_patch(Rectangle((o.x, o.y), o.width, o.height, fc=OPEN, ec=INK, lw=0.8, zorder=3))
        ax.plot([o.x, o.x + o.width], [o.y, o.y + o.height], color=INK, lw=0.4, zorder=4)
        ax.plot([o.x, o.x + o.width], [o.y + o.height, o.y], color=INK, lw=0.4, zorder=4)
    plan = figure.add_axes((0.885, 0.83, 0.105, 0.15))
    for name, line in d.plan:
        plan.plot(*line.T, color=INK, lw=2.2, solid_capstyle="projecting")
        middle = line[len(line) // 2] if len(line) > 2 else line.mean(0)
        plan.text(float(middle[0]), float(middle[1]), name, fontsize=7, ha="center", va="center", color=INK,
                  bbox={"boxstyle": "circle,pad=0.15", "fc": "white", "ec": INK, "lw": 0.5})  # fmt: skip
    plan.set_aspect("equal")
    plan.margins(0.15)
    plan.set_axis_off()
    ax.set_xlim(-0.12 * wide / max(wide, 1.0) - 1.6 * (high / 16.0), wide + 0.3)
    ax.set_ylim(d.levels[0][1] - 0.02 * high, d.levels[-1][1] + 0.06 * high)
    ax.set_aspect("equal")
    ax.set_xlabel(f"along the panels [{d.unit}]")
    ax.set_ylabel(f"height [{d.unit}]")
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    return figure, ax


def draw_elevation(d: ElevationDescription) -> Axes:
    """Draw the parts of a wall by their utilisation, in a figure 1280 pixels wide."""
    figure, ax = wall_stage(d)
    own, norm = utilisation_colours()
    for b in sorted(d.parts, key=lambda b: b.kind in ("lintel", "parapet")):
        over = b.value > 1.0 + 1e-9
        colour = FAIL if over else own(norm(min(b.value, 1.0 - 1e-9)))
        dark = over or b.value > 0.85
        ax.add_patch(Rectangle((b.x, b.y), b.width, b.height, fc=colour, ec=INK, lw=1.0, zorder=2))
        text = f"{b.name}\n{b.value:.2f}" if np.isfinite(b.value) else f"{b.name}\nfails"
        narrow = b.width < 0.03 * (d.panels[-1][1] + d.panels[-1][2])
        if b.height < 0.055 * (d.levels[-1][1] - d.levels[0][1]) or narrow:
            text = text.replace("\n", " ")
        ax.text(b.x + b.width / 2.0, b.y + b.height / 2.0, text, ha="center", va="center", zorder=5,
                fontsize=6.5 if narrow or "\n" not in text else 8, color="white" if dark else INK,
                rotation=90 if narrow else 0)  # fmt: skip
    utilisation_scale(figure)
    return ax


def utilisation_scale(figure: Figure) -> None:
    """The scale of utilisations beside an elevation."""
    own, norm = utilisation_colours()
    scale = figure.add_axes((0.905, 0.14, 0.016, 0.58))
    bar = figure.colorbar(ScalarMappable(norm, own), cax=scale, ticks=list(STEPS))
    bar.set_label("utilisation; above 1 red", fontsize=9)


def draw_bars(d: WallBarsDescription) -> Axes:
    """Draw the bars of a wall in its elevation, in a figure 1280 pixels wide."""
    _, ax = wall_stage(d)
    for _, x, length in d.panels:
        low, high = d.levels[0][1], d.levels[-1][1]
        ax.add_patch(Rectangle((x, low), length, high - low, fc=CONCRETE, ec=INK, lw=0.8, zorder=1))
    if len(d.lines):
        ends = d.lines[:, :4].reshape(-1, 2, 2)
        ax.add_collection(LineCollection(list(ends), colors="#34495e", linewidths=d.lines[:, 4] / 22.0, zorder=2))
    for x, y, text, room in d.labels:
        narrow = room < 0.05 * (d.panels[-1][1] + d.panels[-1][2])
        ax.text(x, y, text, ha="center", va="center", fontsize=5.8, zorder=6, color=INK, linespacing=0.95,
                rotation=90 if narrow and "v " in text else 0,
                bbox={"fc": "white", "ec": "none", "alpha": 0.82, "pad": 0.8})  # fmt: skip
    return ax


def draw_strength(d: StrengthDescription) -> Axes:
    """Draw the curves of a section about its demands, one of them whole, and the section, 1280 pixels wide."""
    figure = new_figure(d.title, d.note, 8.4)
    first = figure.add_axes((0.07, 0.45, 0.41, 0.43))
    second = figure.add_axes((0.57, 0.45, 0.41, 0.43))
    _curve(first, d.curves[0])
    _curve(second, d.curves[1])
    _whole(figure.add_axes((0.07, 0.07, 0.24, 0.29)), d.curves[0])
    _plan(figure.add_axes((0.46, 0.08, 0.52, 0.26)), d)
    return first


def _outline(ax: Axes, c: CurveDescription) -> None:
    ax.fill(c.M, c.N, fc="#eaf2f8", ec="#2471a3", lw=1.6, zorder=1)
    if c.before is not None:
        ax.plot(c.before[1], c.before[0], color=FAIL, lw=1.1, ls=(0, (5, 3)), zorder=2)
    ax.axhline(0.0, color=INK, lw=0.6)
    ax.axvline(0.0, color=INK, lw=0.6)
    ax.grid(visible=True, lw=0.3)


def _curve(ax: Axes, c: CurveDescription) -> None:
    """Curve about the demands: where walls live the axial force is low."""
    _outline(ax, c)
    if len(c.demands):
        ax.plot(
            c.demands[:, 0], c.demands[:, 1], ".", ms=3.5, color=INK, alpha=0.6, zorder=3,
            label=f"{len(c.demands)} demand{'s' * (len(c.demands) > 1)}",
        )  # fmt: skip
    ax.plot(*c.governing, "o", ms=8, mfc="none", mec=FAIL, mew=1.8, zorder=4, label="governing")
    low, high = c.demands[:, 1].min(initial=0.0), max(c.demands[:, 1].max(initial=0.0), c.N.max())
    low = min(max(min(2.0 * low, 0.2 * c.N.min()), c.N.min()), low)
    room = 0.06 * (high - low)
    ax.set_ylim(high + room, low - room)  # compression upwards
    near = np.clip(c.N, low, high) == c.N
    wide = max(np.abs(c.M[near]).max(initial=0.0), np.abs(c.demands[:, 0]).max(initial=0.0))
    ax.set_xlim(-1.12 * wide, 1.12 * wide)
    for name, m, n in c.keys:
        if low <= n <= high:
            ax.plot(m, n, "s", ms=4, color=KEY_DOT, zorder=3)
            side = -1 if m > 0.55 * wide else 1
            ax.annotate(name, (m, n), xytext=(6 * side, 5), textcoords="offset points", fontsize=7, color=KEY_DOT,
                        ha="right" if side < 0 else "left")  # fmt: skip
    ax.set(xlabel=f"M {c.title} [{c.moment}]", ylabel=f"N [{c.force}], compression upwards")
    ax.legend(loc="upper left", fontsize=7, framealpha=0.9)


def _whole(ax: Axes, c: CurveDescription) -> None:
    """The whole curve with its key points, named beside it."""
    _outline(ax, c)
    if len(c.demands):
        ax.plot(c.demands[:, 0], c.demands[:, 1], ".", ms=2, color=INK, alpha=0.6, zorder=3)
    keys = sorted(c.keys, key=lambda k: k[2])
    span = float(np.ptp(c.N)) or 1.0
    places = np.array([n for _, _, n in keys])
    for i in range(1, len(places)):
        places[i] = max(places[i], places[i - 1] + 0.085 * span)
    for (name, m, n), at in zip(keys, places, strict=True):
        ax.plot(m, n, "s", ms=3.5, color=KEY_DOT, zorder=3)
        ax.annotate(f"{name}  {n:.0f}, {m:.0f}", (m, n), xytext=(1.04, at), textcoords=("axes fraction", "data"),
                    fontsize=6.5, color=KEY_DOT, va="center",
                    arrowprops={"arrowstyle": "-", "lw": 0.4, "color": KEY_DOT, "alpha": 0.6})  # fmt: skip
    ax.invert_yaxis()
    ax.tick_params(labelsize=7)
    ax.set_xlabel(f"whole curve {c.title}: N [{c.force}], M [{c.moment}]", fontsize=8)


def _plan(ax: Axes, d: StrengthDescription) -> None:
    """Section with the pressed part, bars by their stress."""
    for ring in d.rings:
        ax.add_patch(Polygon(ring, closed=True, fc=CONCRETE, ec=INK, lw=1.2))
    corners = np.concatenate(d.rings)
    size = np.ptp(corners, axis=0)
    told = ""
    if d.plane is not None:
        eps, gx, gy = d.plane
        x, y = np.meshgrid(np.linspace(corners[:, 0].min(), corners[:, 0].max(), 400),
                           np.linspace(corners[:, 1].min(), corners[:, 1].max(), 60))  # fmt: skip
        levels = [0.0, max(d.most, 1e-9) * 1.001]
        pressed = ax.contourf(x, y, eps + gx * x + gy * y, levels=levels, colors=[PRESSED], zorder=1.5)
        pressed.set_clip_path(Polygon(d.rings[0], closed=True, transform=ax.transData))
        told = (
            f"; pressed part blue, largest strain {1e3 * d.most:.2f} per mille;\nbars from "
            f"{d.stresses.min(initial=0.0):.0f} to {d.stresses.max(initial=0.0):.0f} {d.stress}, red in tension, blue "
            "in compression"
        )
    most = max(float(np.abs(d.stresses).max(initial=0.0)), 1e-9)
    shades = colormaps["RdBu_r"]
    for (a, b), dia, stress in zip(d.bars, d.diameters, d.stresses, strict=True):
        ax.add_patch(
            Circle(
                (a, b),
                max(dia / 2.0, 0.004 * size.max()),
                fc=shades(0.5 + 0.5 * stress / most),
                ec=INK,
                lw=0.4,
                zorder=3,
            )
        )
    ax.set_xlim(corners[:, 0].min() - 0.03 * size[0], corners[:, 0].max() + 0.03 * size[0])
    ax.set_ylim(corners[:, 1].min() - 0.1 * size[1], corners[:, 1].max() + 0.1 * size[1])
    ax.set_aspect("equal")
    ax.tick_params(labelsize=7)
    ax.set_xlabel(f"section [{d.length}] {d.at}{told}", fontsize=8)
    ax.set_yticks([])
    for side in ("top", "right", "left"):
        ax.spines[side].set_visible(False)
