"""A cracked section through its depth: concrete and bars, strains across the crack, stresses of concrete and bars."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from matplotlib.patches import Rectangle

from sandwich.drawing.maps import FAIL, INK, new_figure
from sandwich.drawing.records import SectionDescription

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

CONCRETE, PRESSED, EFFECTIVE = "#e8e4dc", "#9fc5e0", "#f3d9b1"


def draw_section(d: SectionDescription) -> Axes:
    """Draw the four panels over one depth, in a figure 1280 pixels wide."""
    figure = new_figure(d.title, d.note, 6.0)
    panels = figure.subplots(1, 4, sharey=True, width_ratios=(1.1, 1, 1, 1))
    figure.subplots_adjust(left=0.08, right=0.98, top=0.80, bottom=0.12, wspace=0.12)
    half = float(d.z.max())
    section, strain, concrete, bars = panels
    section.add_patch(Rectangle((0.0, -half), 1.0, 2.0 * half, fc=CONCRETE, ec=INK, lw=1.2))
    for (low, high), colour, told in (
        (d.pressed, PRESSED, "compressed"),
        (d.effective, EFFECTIVE, "effective in tension"),
    ):
        if high > low:
            section.add_patch(Rectangle((0.0, low), 1.0, high - low, fc=colour, ec="none"))
            inner = high if abs(high) < abs(low) else low
            at = "top" if inner == high else "bottom"
            section.text(0.5, inner, told, ha="center", va=at, fontsize=8, color=INK)
    for z, phi, name, _, crosses in d.bars:
        section.plot(
            np.linspace(0.12, 0.88, 5), [z] * 5, "o", ms=max(phi / 3.0, 2.5), color=INK if crosses else "#8a949a"
        )
        section.text(1.03, z, name, fontsize=8, va="center", color=INK)
    section.set(
        xlim=(-0.02, 1.5), xticks=[], ylabel=f"z [mm]   ({d.faces[0]} below, {d.faces[1]} above)", title="section"
    )
    _profile(strain, d.z, d.strain, "strain across the crack [1e-3]")
    _profile(concrete, d.z, d.concrete, "concrete, principal compression [MPa]")
    bars.axvline(0.0, color=INK, lw=0.8)
    for z, _, name, stress, crosses in d.bars:
        bars.plot([0.0, stress], [z, z], lw=5, color=FAIL if crosses else "#8a949a", solid_capstyle="butt")
        bars.annotate(
            f"{stress:.0f}  {name}", (max(stress, 0.0), z), xytext=(4, 0), textcoords="offset points", va="center",
            fontsize=8,
        )  # fmt: skip
    most = max([abs(b[3]) for b in d.bars] + [1.0])
    least = min([b[3] for b in d.bars] + [0.0])
    bars.set(title="steel stress [MPa]", xlim=(1.15 * least, 1.9 * most))
    bars.set_ylim(-1.04 * half, 1.04 * half)
    first: Axes = section
    return first


def _profile(ax: Axes, z: NDArray[np.float64], values: NDArray[np.float64], title: str) -> None:
    ax.axvline(0.0, color=INK, lw=0.8)
    ax.fill_betweenx(z, 0.0, values, where=(values > 0.0).tolist(), color="#f5b7b1", lw=0)
    ax.fill_betweenx(z, 0.0, values, where=(values < 0.0).tolist(), color=PRESSED, lw=0)
    ax.plot(values, z, color=INK, lw=1.2)
    for i in (0, -1):
        if abs(values[i]) > 1e-9:
            ax.annotate(
                f"{values[i]:.3g}", (values[i], z[i]), xytext=(4 if values[i] > 0.0 else -4, 8 if i == 0 else -10),
                textcoords="offset points", ha="left" if values[i] > 0.0 else "right", fontsize=8,
            )  # fmt: skip
    ax.set_title(title, fontsize=10)
    ax.grid(visible=True, lw=0.3)
    ax.margins(x=0.24)
