"""Flanges of wall sections: what of the panels across a direction stands near enough to the webs along it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Final

import numpy as np
import shapely
from numpy.typing import NDArray

from sandwich.model.walls.outline import SMALL, TOUCH, Stretch, line_of
from sandwich.model.walls.panels import Panel

Floats = NDArray[np.float64]
ALONG: Final = 0.7  # cosine from which a panel counts as a web of a direction


def cut_flanges(
    stretches: Sequence[Stretch], panels: Sequence[Panel], way: Floats, width: Callable[[float, float], float]
) -> tuple[Stretch, ...]:
    """Stretches of a section bent along a direction, their flanges cut to an effective width.

    Parameters
    ----------
    stretches : sequence of Stretch
        What stands of the panels.
    panels : sequence of Panel
        All panels of the wall.
    way : ndarray, shape (2,)
        Direction in plan along which the webs run.
    width : callable
        Effective width beyond the face of a web [mm], by what stands there up to the end or the next web, and by the
        distance to that, inf without one [mm].

    Returns
    -------
    tuple of Stretch
        Webs and curved panels whole, of other panels what lies near a web; all of them where no web is.
    """
    by = {p.name: p for p in panels}
    webs = [s for s in stretches if _is_web(by[s.panel], s, way)]
    if not webs:
        return tuple(stretches)
    out: list[Stretch] = []
    for s in stretches:
        if s in webs or not by[s.panel].straight:
            out.append(s)
            continue
        out += [replace(s, a=a, b=b) for a, b in _near(s, _faces(s, by, webs), width)]
    return tuple(out)


def _is_web(panel: Panel, s: Stretch, way: Floats) -> bool:
    return panel.straight and abs(float(panel.place((s.a + s.b) / 2.0)[1] @ way)) >= ALONG


def _faces(s: Stretch, by: dict[str, Panel], webs: Sequence[Stretch]) -> list[tuple[float, float]]:
    """Where webs stand in a flange: places along its panel between the faces of each."""
    own = shapely.LineString(line_of(by[s.panel], s.a, s.b))
    found = []
    for web in webs:
        reach = s.thickness / 2.0 + TOUCH
        line = shapely.LineString(line_of(by[web.panel], web.a - reach, web.b + reach))
        met = own.intersection(line.buffer(web.thickness / 2.0, cap_style="flat"))
        if not met.is_empty:
            places = shapely.line_locate_point(own, shapely.points(shapely.get_coordinates(met)))
            found.append((s.a + float(places.min()), s.a + float(places.max())))
    return sorted(found)


def _near(
    s: Stretch, faces: list[tuple[float, float]], width: Callable[[float, float], float]
) -> list[tuple[float, float]]:
    """From and to of what counts of a flange, pieces that touch as one."""
    out: list[tuple[float, float]] = []
    for i, (low, high) in enumerate(faces):
        left = low - faces[i - 1][1] if i else np.inf
        right = faces[i + 1][0] - high if i + 1 < len(faces) else np.inf
        a = low - width(min(low - s.a, left), left)
        b = high + width(min(s.b - high, right), right)
        a, b = s.a if a < s.a + SMALL else a, s.b if b > s.b - SMALL else b
        if out and a <= out[-1][1] + SMALL:
            out[-1] = out[-1][0], max(b, out[-1][1])
        else:
            out.append((a, b))
    return out
