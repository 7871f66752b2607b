"""Maps of a zone: one value a point over its surface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from sandwich.core.shown import Sentence, Shown, Sized
from sandwich.design.bar_sets import BarRule, Given, arrangements
from sandwich.drawing.describe import MapDescription, Scale, Sheet, describe_map, lay_flat
from sandwich.project.outcome import Figure
from sandwich.project.zone_input import Surface, ZoneInput
from sandwich.tables.write import file_name

Floats = NDArray[np.float64]
DRAW_MAP = ("maps", "draw_map")
LIMIT_100 = Scale((0.0, 20.0, 40.0, 60.0, 80.0, 100.0), limit=True)
STEPS = 7  # of bars in a scale
BETWEEN = (0.5, 1.0, 2.0)  # spacings of additional bars over those of the base mesh
_SHEETS: WeakKeyDictionary[Surface, dict[float, Sheet]] = WeakKeyDictionary()  # all maps of a zone are drawn on one


def _sheet(s: Surface, metre: float) -> Sheet:
    """A zone laid flat, in a unit of length."""
    sheets = _SHEETS.setdefault(s, {})
    if metre not in sheets:
        corners = metre * s.mesh.xyz[s.corners]
        sheets[metre] = lay_flat(corners, s.corners, s.orientation.bars[:, 2], s.corner_points)
    return sheets[metre]


def zone_map(
    z: ZoneInput, what: str, unit: str, values: Floats, note: str | Sentence = "", *,
    scale: float | Scale | None = None,
    directions: Callable[[], Floats] | None = None, unchecked: NDArray[np.bool_] | None = None, name: str = "",
    rank: int = 50,
) -> Figure:  # fmt: skip
    """A map of one value a point of a zone.

    Parameters
    ----------
    z : ZoneInput
        The zone, which lies on a mesh.
    what, unit : str
        What is shown, and its SI unit.
    values : ndarray, shape (p,)
        Value of each point; nan where there is none.
    note : str or Sentence
        A line under the title.
    scale : float or Scale, optional
        Largest value of the scale, or its steps; the largest value shown by default.
    unchecked : ndarray of bool, shape (p,), optional
        Points without a value that do not fail: hatched.
    directions : callable, optional
        Gives a direction in space of each element, (e, 3), drawn as short lines.
    name : str
        Of the file, after the zone's; what is shown by default.
    rank : int
        Place among the maps of the zone.
    """

    def describe(shown: Shown) -> MapDescription:
        s, by = z.on_mesh, shown.factor(unit)
        found = describe_map(
            f"{z.name}: {what}",
            shown.unit(unit),
            _sheet(s, shown.factor("m")),
            values * by,
            z.labels.tolist(),
            directions=None if directions is None else directions(),
            note=shown.text(note),
            scale=scale.times(by, shown) if isinstance(scale, Scale) else None if scale is None else scale * by,
            unchecked=unchecked,
        )
        first, second = (shown.heading(label) for label in found.view.labels)
        return replace(found, view=replace(found.view, labels=(first, second)))

    return Figure(f"{file_name(z.name)} {file_name(name or what)}", DRAW_MAP, describe, z.name, rank)


def bar_scale(z: ZoneInput, rule: BarRule | None, given: Given | None, layer: int, values: Floats) -> Scale | None:
    """Scale of a map of required steel [mm2/m]: areas of the bars that the rule offers, over the base mesh of a layout.

    A thick line is where the base mesh ends; what no bars of the rule reach is past the scale. None without bars.
    """
    largest = float(np.nanmax(values, initial=0.0))
    base = given.base[layer] if given is not None else None
    edge = (1e3 * base.area, base) if base is not None and largest > 1e3 * base.area * (1.0 + 1e-9) else None
    under, options = 0.0, arrangements(rule) if rule is not None and largest > 0.0 else []
    if options and rule is not None and base is not None and z.zone.layout is not None:
        under = base.area
        options = arrangements(replace(rule, spacings=tuple(base.spacing * k for k in BETWEEN)))
    if not options:
        return Scale(edge=edge) if edge is not None else None
    areas = [1e3 * (under + b.area) for b in options]
    count = next((i + 1 for i, a in enumerate(areas) if a >= largest * (1.0 - 1e-9)), len(areas))
    few = _spread(np.array(areas[:count]), STEPS)
    names: list[Sized | str] = [Sentence("+ {}", options[i]) if under else options[i] for i in few]
    levels = [0.0, *([1e3 * under] if under and base is not None else []), *(areas[i] for i in few)]
    first: list[Sized | str] = ["", *([base] if under and base is not None else [])]
    return Scale(tuple(levels), (*first, *names), limit=largest > levels[-1] * (1.0 + 1e-9), edge=edge)


def _spread(areas: Floats, count: int) -> list[int]:
    """Some of rising areas, the last among them, as evenly spread as they go."""
    wanted = np.linspace(areas[0], areas[-1], count)
    return sorted({int(np.abs(areas - a).argmin()) for a in wanted})
