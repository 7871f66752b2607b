"""Envelopes: extremes of one component at a time, each with its combination and what acts together with it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray

from sandwich.combine.table import Combinations
from sandwich.core.resultants import COMPONENTS
from sandwich.core.words import column
from sandwich.mechanics.superpose import blocks, superpose

UNIT = {c: ("kNm/m", 1e-3) if c.startswith("m") else ("kN/m", 1.0) for c in COMPONENTS}


def envelope_blocks(
    zone: str, labels: ArrayLike, cases: NDArray[np.float64], combinations: Combinations
) -> Iterator[pd.DataFrame]:
    """Minimum and maximum of each component at each point with the concurrent values, some points at a time.

    Parameters
    ----------
    zone : str
        Name of the zone.
    labels : array_like, shape (p,)
        Points.
    cases : ndarray, shape (p, c, 8)
        Columns of the store [N, mm].
    combinations : Combinations
        Rows over the same columns.

    Yields
    ------
    DataFrame
        One row a point, component and side: the combination and all eight components it has there.
    """
    for part in blocks(len(cases), len(combinations.factors)):
        count = part.stop - part.start
        at, values = _extremes(cases[part], combinations.factors)
        points = column(np.asarray(labels)[part], np.repeat(np.arange(count), 2 * len(COMPONENTS)))
        yield _rows(
            zone, points, np.tile(np.arange(at[0].size), count), at.ravel(), values.reshape(-1, 8), combinations
        )


def worst_of(zone: str, labels: ArrayLike, cases: NDArray[np.float64], combinations: Combinations) -> pd.DataFrame:
    """The extreme of each component and side in a zone, with its point and what acts together with it.

    Parameters and columns are those of `envelope_blocks`.
    """
    signs = np.where(np.arange(2) == 0, -1.0, 1.0)  # the largest of minus the minimum
    worst = np.full((len(COMPONENTS), 2), -np.inf)
    point, by = (np.zeros(worst.shape, dtype=np.int64) for _ in range(2))
    held = np.full((*worst.shape, len(COMPONENTS)), np.nan)
    component, side = np.indices(worst.shape)
    for part in blocks(len(cases), len(combinations.factors)):
        at, values = _extremes(cases[part], combinations.factors)
        own = signs * np.einsum("pcsc->pcs", values)
        own = np.where(np.isnan(own), -np.inf, own)
        first = own.argmax(0)
        better = own[first, component, side] > worst
        worst = np.where(better, own[first, component, side], worst)
        point = np.where(better, part.start + first, point)
        by = np.where(better, at[first, component, side], by)
        held = np.where(better[..., None], values[first, component, side], held)
    there = np.flatnonzero(np.isfinite(worst).ravel())
    points = column(labels, point.ravel()[there])
    return _rows(zone, points, there, by.ravel()[there], held.reshape(-1, 8)[there], combinations)


def _extremes(
    cases: NDArray[np.float64], factors: NDArray[np.float64]
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Combination of the minimum and maximum of each component, (p, 8, 2), and what it has there, (p, 8, 2, 8)."""
    combined = superpose(cases, factors)
    known = np.nan_to_num(combined)
    at = np.stack([known.argmin(1), known.argmax(1)], -1)
    return at, combined[np.arange(len(cases))[:, None, None], at]


def _rows(
    zone: str, points: Any, which: NDArray[np.int64], by: NDArray[np.int64], values: NDArray[np.float64],
    combinations: Combinations,
) -> pd.DataFrame:  # fmt: skip
    """Rows of a table of envelopes; `which` counts components and sides, minimum before maximum."""
    columns: dict[str, object] = {
        "zone": column([zone], np.zeros(len(which), dtype=np.int64)),
        "point": points,
        "component": column(COMPONENTS, which // 2),
        "side": column(["minimum", "maximum"], which % 2),
        "combination": column([r.name for r in combinations.rows], by),
    }
    for i, name in enumerate(COMPONENTS):
        unit, scale = UNIT[name]
        columns[f"{name} [{unit}]"] = values[:, i] * scale
    return pd.DataFrame(columns)
