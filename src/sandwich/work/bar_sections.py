"""What the sections through a zone show: its bars at one point, to scale."""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from sandwich.core.shown import Shown
from sandwich.design.bar_sets import Given
from sandwich.design.settings import Settings
from sandwich.drawing.layout_records import SectionOfBars, SectionPanel
from sandwich.project.zone_input import ZoneInput

WIDTH: Final = 1000.0  # mm of the zone that is shown
STARTS: Final = 16  # places of the first of additional bars that are looked at
OVER: Final = 2  # rectangles of a layer over each other
ALIKE: Final = 0.02  # of the sine of the angle between bars that count as one direction


def most_bars(given: Given) -> int:
    """The point with the most bars; those where rectangles meet lie in several of them and do not count."""
    sets = np.zeros(given.area.shape, dtype=int)
    for e in given.extra:
        sets[e.at, e.layer] += 1
    inside = (sets <= OVER).all(1)
    return int(np.where(inside | (not inside.any()), given.area.sum(1), -1.0).argmax())


def bar_section(z: ZoneInput, given: Given, settings: Settings, point: int, shown: Shown) -> SectionOfBars:
    """Sections across the bars of the first direction and of those most across it, at one point of a zone.

    Parameters
    ----------
    z, given, settings : ZoneInput, Given, Settings
        The zone and its bars.
    point : int
        Number of the point.
    shown : Shown
        Units.
    """
    bars, h = settings.bars, float(z.h[point])
    # where they lie: the design may know thicker bars, which lie deeper
    thickest = [float(d) or float(own) for d, own in zip(given.diameters, bars.diameters, strict=True)]
    axes = z.zone.with_diameters(thickest).bars.layers().axes(np.array([h]))[0]
    there = [i for i in range(len(axes)) if np.isfinite(axes[i]) and given.area[point, i] > 0.0]
    ways = [bars.angles[there[0]]] if there else []
    ways += [a for a in bars.angles[there] if all(abs(math.sin(a - w)) > 0.5 for w in ways)][:1]
    mm = shown.factor("mm")
    panels = tuple(_panel(given, settings, point, there, axes, h=h, way=float(way), shown=shown) for way in ways)
    return SectionOfBars(
        title=f"{z.name}: section at point {z.labels[point]}",
        note=f"where most bars lie; {WIDTH * mm:.4g} {shown.unit('mm')} of it, bars to scale; "
        "blue: base mesh, brown: additional bars, grey: bars along the section",
        width=WIDTH * mm, thickness=h * mm, panels=panels,
    )  # fmt: skip


def _panel(
    given: Given, settings: Settings, point: int, there: list[int], axes: np.ndarray, *, h: float, way: float,
    shown: Shown,
) -> SectionPanel:  # fmt: skip
    """A section across bars that run one way."""
    bars, mm = settings.bars, shown.factor("mm")
    cut: list[tuple[float, float, float, bool]] = []
    along: list[tuple[float, float]] = []
    told: list[tuple[float, str]] = []
    faces: dict[int, list[float]] = {}
    for i in there:
        z = (h / 2.0 - float(axes[i])) * mm
        base, extra = given.base[i], [e for e in given.extra if e.layer == i and e.at[point]]
        sets = ([(base, False)] if base is not None else []) + [(e.bars, True) for e in extra]
        side = 1 if axes[i] >= 0.0 else -1
        thick = max(b.diameter for b, _ in sets)
        # bars lie at the depth of the thickest of their layer
        faces.setdefault(side, []).append(h / 2.0 - side * float(axes[i]) - float(given.diameters[i]) / 2.0)
        if abs(math.sin(bars.angles[i] - way)) < ALIKE:
            taken = np.empty(0)
            for b, more in sets:
                places = _between(taken, b.spacing)
                taken = np.concatenate([taken, places])
                cut += [(float(x) * mm, z, b.diameter * mm, more) for x in places]
            names = " + ".join(b.in_units(shown) for b, _ in sets)
            told.append((z, f"{settings.names[i]}: {names}"))
        else:
            along.append((z, thick * mm))
    covers = []
    for side, below in faces.items():
        c = min(below) * mm
        low, high = (0.0, c) if side > 0 else (h * mm - c, h * mm)
        covers.append((low, high, f"{c:.3g}"))
    first = next(settings.names[i] for i in there if abs(math.sin(bars.angles[i] - way)) < ALIKE)
    words = first.removeprefix(settings.faces[0]).removeprefix(settings.faces[1]).strip()
    return SectionPanel(f"across the {words} bars, h = {h * mm:.4g} {shown.unit('mm')}", cut, along, told, covers)


def _between(taken: np.ndarray, spacing: float) -> np.ndarray:
    """Places at a spacing over the width [mm], as far from those that are taken as they go."""
    best, room = np.empty(0), -1.0
    for start in (np.arange(STARTS) + 0.5) / STARTS * spacing if len(taken) else (spacing / 2.0,):
        places = np.arange(start, WIDTH, spacing)
        apart = float(np.abs(places[:, None] - taken).min(initial=spacing))
        if apart > room + 1e-6:
            best, room = places, apart
    return best
