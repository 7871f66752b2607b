"""What a map shows, as numbers: polygons, values, steps, labels. `maps.py` only draws."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.shown import Shown, Sized
from sandwich.drawing.flatten import Flat, flatten

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
GRAIN: Final = 1e-6  # m; what lies closer in a picture is one place


@dataclass(frozen=True)
class Scale:
    """Steps of a colour scale.

    Attributes
    ----------
    levels : tuple of float
        The steps; none for sensible ones.
    names : tuple
        What is written beside them.
    limit : bool
        Whether what lies past the last one fails.
    edge : tuple, optional
        Value of a thick line, and its name.
    """

    levels: tuple[float, ...] = ()
    names: tuple[Sized | str, ...] = ()
    limit: bool = False
    edge: tuple[float, Sized | str] | None = None

    def times(self, factor: float, shown: Shown) -> Scale:
        """The same in the units shown."""
        edge = None if self.edge is None else (factor * self.edge[0], shown.text(self.edge[1]))
        return replace(
            self, levels=tuple(factor * v for v in self.levels), names=tuple(map(shown.text, self.names)), edge=edge
        )


@dataclass(frozen=True)
class MapDescription:
    """One map.

    Attributes
    ----------
    title, unit : str
        What is shown, and its unit.
    view : Flat
        The elements in the picture.
    places : ndarray, shape (n, 2)
        Corners of the triangles that carry the colours [m].
    triangles : ndarray of int, shape (t, 3)
        Their corners.
    values : ndarray, shape (n,)
        Value at each place, nan where the point fails.
    levels : ndarray
        Steps of the colour scale.
    level_names : tuple of str
        What is written beside them, nothing beside none.
    limit : bool
        Whether what lies past the last step fails.
    edge : tuple or None
        Value of a thick line, and its name.
    element : ndarray of int, shape (t,)
        Element of each triangle.
    numbered : bool
        Whether the value of each element is written in it, the largest of its corners.
    hatched : ndarray, shape (h, 3, 2)
        Triangles without a value at a point that is not checked [m].
    outline : ndarray, shape (s, 2, 2)
        Edges of the zone and of its openings [m].
    labels : list of (x, y, text)
        Largest values with their points.
    failed : ndarray, shape (f, 2)
        Places of points without a number [m].
    ticks : ndarray, shape (n, 4)
        x, y and direction of some bars.
    note : str
        A line under the title.
    """

    title: str
    unit: str
    view: Flat
    places: Floats
    triangles: Ints
    values: Floats
    levels: Floats
    outline: Floats
    labels: list[tuple[float, float, str]]
    failed: Floats
    ticks: Floats
    note: str
    level_names: tuple[str, ...] = ()
    limit: bool = False
    edge: tuple[float, str] | None = None
    hatched: Floats = field(default_factory=lambda: np.empty((0, 3, 2)))
    element: Ints = field(default_factory=lambda: np.empty(0, dtype=np.int64))
    numbered: bool = False

    def numbers(self) -> list[tuple[float, float, str]]:
        """Place and value of each element that has one: the largest by size of its corners."""
        count = len(self.view.corners)
        high, low = np.full(count, -np.inf), np.full(count, np.inf)
        own = self.values[self.triangles]
        np.maximum.at(high, self.element, np.where(np.isnan(own), -np.inf, own).max(1))
        np.minimum.at(low, self.element, np.where(np.isnan(own), np.inf, own).min(1))
        value = np.where(np.abs(low) > np.abs(high), low, high)
        there = np.flatnonzero(np.isfinite(value))
        middle = self.view.corners.mean(1)
        return [(float(middle[e, 0]), float(middle[e, 1]), written(float(value[e]))) for e in there]


def steps(largest: float, count: int = 8) -> Floats:
    """Sensible steps of a scale from zero: a multiple of 1, 2, 2.5 or 5 times a power of ten.

    Examples
    --------
    >>> steps(1754.0)
    array([   0.,  250.,  500.,  750., 1000., 1250., 1500., 1750., 2000.])
    """
    if not largest > 0.0:
        return np.array([0.0, 1.0])
    raw = largest / count
    power = 10.0 ** np.floor(np.log10(raw))
    step = next(s * power for s in (1.0, 2.0, 2.5, 5.0, 10.0) if s * power >= raw * (1 - 1e-9))
    return np.asarray(np.arange(0, np.ceil(largest / step - 1e-9) + 1) * step)


def two_sided(largest: float) -> Floats:
    """Steps of a scale from minus to plus the largest value.

    Examples
    --------
    >>> two_sided(190.0)
    array([-200., -150., -100.,  -50.,    0.,   50.,  100.,  150.,  200.])
    """
    up = steps(largest, 4)
    return np.concatenate([-up[:0:-1], up])


@dataclass(frozen=True)
class Sheet:
    """A zone laid flat, on which any of its maps is drawn.

    Attributes
    ----------
    view : Flat
        The elements in the picture.
    outline : ndarray, shape (s, 2, 2)
        Edges of the zone and of its openings [m].
    places : ndarray, shape (p, 2)
        The points in the picture [m].
    corners : ndarray, shape (n, 2)
        Corners of the triangles of its elements [m]: one a point and place.
    triangles : ndarray of int, shape (t, 3)
        Their corners.
    point : ndarray of int, shape (n,)
        Point of each of the corners.
    element : ndarray of int, shape (t,)
        Element of each triangle.
    """

    view: Flat
    outline: Floats
    places: Floats
    corners: Floats
    triangles: Ints
    point: Ints
    element: Ints


def lay_flat(corners: Floats, nodes: Ints, normals: Floats, corner_point: Ints) -> Sheet:
    """Lay a zone flat.

    Parameters
    ----------
    corners : ndarray, shape (e, 4, 3)
        Corner places [mm].
    nodes, corner_point : ndarray of int, shape (e, 4)
        Node and point of each corner, -1 for the fourth corner of a triangle.
    normals : ndarray, shape (e, 3)
        Zone normals.
    """
    real = corner_point >= 0
    view = flatten(np.where(real[..., None], corners, corners[:, 2:3]), normals)
    places = np.zeros((int(corner_point.max(initial=-1)) + 1, 2))
    places[corner_point[real]] = view.corners[real]
    split = np.array([[0, 1, 2], [0, 2, 3]])
    drawn = np.stack([np.ones(len(real), dtype=bool), real[:, 3]], 1).ravel()
    point = corner_point[:, split].reshape(-1, 3)[drawn]
    at = view.corners[:, split].reshape(-1, 3, 2)[drawn]
    grain = np.round(at.reshape(-1, 2) / GRAIN).astype(np.int64)
    order = np.lexsort((*grain.T, point.ravel()))
    new = np.ones(len(order), dtype=bool)
    new[1:] = (np.diff(point.ravel()[order]) != 0) | (np.diff(grain[order], axis=0) != 0).any(1)
    shared = np.empty(len(order), dtype=np.int64)
    shared[order] = np.cumsum(new) - 1
    triangles, first = shared.reshape(-1, 3), order[new]
    if not _unfolded(at, triangles):  # what lies on itself has no contours that go on from one triangle to the next
        triangles, first = np.arange(point.size).reshape(-1, 3), np.arange(point.size)
    outline = describe_outline(view, nodes, real)
    element = np.repeat(np.arange(len(real)), 2)[drawn]
    return Sheet(
        view=view, outline=outline, places=places, corners=at.reshape(-1, 2)[first], triangles=triangles,
        point=point.ravel()[first], element=element,
    )  # fmt: skip


def _unfolded(at: Floats, triangles: Ints) -> bool:
    """Whether no side has two triangles on the same hand."""
    a, b = at[:, 1] - at[:, 0], at[:, 2] - at[:, 0]
    turned = np.where((a[:, 0] * b[:, 1] < a[:, 1] * b[:, 0])[:, None], triangles[:, ::-1], triangles)
    sides = turned * (int(triangles.max(initial=0)) + 1) + np.roll(turned, -1, axis=1)
    return bool(np.diff(np.sort(sides, axis=None)).all())


def describe_map(
    title: str,
    unit: str,
    sheet: Sheet,
    values: Floats,
    names: Sequence[object],
    *,
    directions: Floats | None = None,
    note: str = "",
    scale: float | Scale | None = None,
    unchecked: NDArray[np.bool_] | None = None,
) -> MapDescription:
    """Describe a map of one value a point.

    Parameters
    ----------
    title, unit, note : str
        What is written.
    sheet : Sheet
        The zone laid flat.
    values : ndarray, shape (p,)
        Value of each point in `unit`; nan where it fails.
    names : sequence
        Names of the points.
    directions : ndarray, shape (e, 3), optional
        Direction of the bars of each element.
    scale : float or Scale, optional
        Largest value of the scale, or its steps; the largest value shown by default.
    unchecked : ndarray of bool, shape (p,), optional
        Points without a value that do not fail.

    Returns
    -------
    MapDescription
        Numbers, labels, units and limits of the picture.
    """
    view = sheet.view
    finite = values[np.isfinite(values)]
    own = scale if isinstance(scale, Scale) else Scale()
    largest = scale if isinstance(scale, float) else float(np.abs(finite).max(initial=0.0))
    both = bool((finite < -1e-9 * largest).any()) and not own.levels
    aside = np.zeros(len(values), dtype=bool) if unchecked is None else unchecked
    ticks = _ticks(view, directions) if directions is not None else np.empty((0, 4))
    return MapDescription(
        title=title,
        unit=unit,
        view=view,
        places=sheet.corners,
        triangles=sheet.triangles,
        values=values[sheet.point],
        levels=np.array(own.levels) if own.levels else two_sided(largest) if both else steps(largest),
        outline=sheet.outline,
        labels=_largest(values, sheet.places, names, signed=both),
        failed=sheet.places[~np.isfinite(values) & ~aside],
        ticks=ticks,
        note=note,
        level_names=tuple(map(str, own.names)),
        limit=own.limit,
        edge=None if own.edge is None else (own.edge[0], str(own.edge[1])),
        element=sheet.element,
        hatched=sheet.corners[sheet.triangles[aside[sheet.point][sheet.triangles].any(1)]],
    )


def describe_outline(view: Flat, nodes: Ints, real: NDArray[np.bool_]) -> Floats:
    """Sides that only one element of the zone has, and those that lie apart in the picture."""
    element, corner = np.nonzero(real)
    after = np.where(corner + 1 < real.sum(1)[element], corner + 1, 0)
    pairs = np.sort(np.stack([nodes[element, corner], nodes[element, after]], 1), axis=1)
    ends = np.stack([view.corners[element, corner], view.corners[element, after]], 1)
    key = pairs[:, 0] * (int(nodes.max(initial=0)) + 1) + pairs[:, 1]
    _, first, side = np.unique(key, return_index=True, return_inverse=True)
    placed = np.sort(ends, axis=1)
    away = np.abs(placed - placed[first[side]]).max((1, 2), initial=0.0)
    apart = np.zeros(len(first))
    np.maximum.at(apart, side, away)
    drawn = (np.bincount(side, minlength=len(first)) == 1) | (apart > 1e-3)
    return np.asarray(ends[drawn[side]])


def written(value: float) -> str:
    """A value as it is written in a picture.

    Examples
    --------
    >>> written(1234.5), written(-0.12345)
    ('1234', '-0.123')
    """
    return f"{value:.0f}" if abs(value) >= 10.0 else f"{value:.3g}"


def _largest(
    values: Floats, at: Floats, names: Sequence[object], count: int = 4, *, signed: bool = False
) -> list[tuple[float, float, str]]:
    """The largest values, apart from each other and above the plateau that least steel makes."""
    span = np.ptp(at, axis=0).max() if len(at) else 1.0
    size = np.abs(values) if signed else values
    plateau = 1.02 * float(np.nanmedian(size)) if np.isfinite(values).any() else 0.0
    out: list[tuple[float, float, str]] = []
    for i in np.argsort(-np.nan_to_num(size, nan=-1.0), kind="stable"):
        if len(out) == count or not size[i] > (plateau if out else 0.0):
            break
        if all(np.hypot(*(at[i] - np.array(o[:2]))) > 0.16 * span for o in out):
            out.append((float(at[i, 0]), float(at[i, 1]), f"{written(float(values[i]))}  @ {names[i]}"))
    return out


def _ticks(view: Flat, directions: Floats, across: int = 7) -> Floats:
    """Bar directions at a few elements spread over the picture."""
    drawn = np.flatnonzero(np.abs(directions).any(axis=1))
    middle = view.corners[drawn].mean(1)
    if not len(drawn):
        return np.empty((0, 4))
    low, span = middle.min(0), np.maximum(np.ptp(middle, axis=0), 1e-9)
    cell = np.minimum((middle - low) / span.max() * across, across - 1).astype(int)
    _, chosen = np.unique(cell[:, 0] * 1000 + cell[:, 1], return_index=True)
    flat = view.direction(directions[drawn[chosen]], drawn[chosen])
    return np.column_stack([middle[chosen], flat])
