"""Maps of a zone: one value a point over its surface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from sandwich.core.shown import Sentence, Shown
from sandwich.drawing.describe import MapDescription, Sheet, describe_map, lay_flat
from sandwich.project.outcome import Figure
from sandwich.project.zone_input import Surface, ZoneInput
from sandwich.tables.write import file_name

Floats = NDArray[np.float64]
DRAW_MAP = ("maps", "draw_map")
_SHEETS: WeakKeyDictionary[Surface, dict[float, Sheet]] = WeakKeyDictionary()  # all maps of a zone are drawn on one


def _sheet(s: Surface, metre: float) -> Sheet:
    """A zone laid flat, in a unit of length."""
    sheets = _SHEETS.setdefault(s, {})
    if metre not in sheets:
        corners = metre * s.mesh.xyz[s.corners]
        sheets[metre] = lay_flat(corners, s.corners, s.orientation.bars[:, 2], s.corner_points)
    return sheets[metre]


def zone_map(
    z: ZoneInput, what: str, unit: str, values: Floats, note: str | Sentence = "", *, scale: float | None = None,
    directions: Callable[[], Floats] | None = None, name: str = "", rank: int = 50,
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
    scale : float, optional
        Largest value of the scale; the largest value shown by default.
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
            [str(v) for v in z.labels],
            directions=None if directions is None else directions(),
            note=shown.text(note),
            scale=None if scale is None else scale * by,
        )
        first, second = (shown.heading(label) for label in found.view.labels)
        return replace(found, view=replace(found.view, labels=(first, second)))

    return Figure(f"{file_name(z.name)} {file_name(name or what)}", DRAW_MAP, describe, z.name, rank)
