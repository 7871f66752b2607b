"""Envelopes: extremes of one component at a time, each with its combination and what acts together with it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray

from sandwich.combine.table import Combinations
from sandwich.core.resultants import COMPONENTS
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
    names = np.array([r.name for r in combinations.rows], dtype=object)
    factors = combinations.factors
    labels = np.asarray(labels, dtype=object)
    for part in blocks(len(labels), len(factors)):
        of, combined = labels[part], superpose(cases[part], factors)
        at = np.stack([np.nan_to_num(combined).argmin(1), np.nan_to_num(combined).argmax(1)], -1)  # p, 8, 2
        values = combined[np.arange(len(of))[:, None, None], at]
        columns: dict[str, object] = {
            "zone": zone,
            "point": np.repeat(of, 16),
            "component": np.tile(np.repeat(np.array(COMPONENTS, dtype=object), 2), len(of)),
            "side": np.tile(np.array(["minimum", "maximum"], dtype=object), 8 * len(of)),
            "combination": names[at].ravel(),
        }
        for i, name in enumerate(COMPONENTS):
            unit, scale = UNIT[name]
            columns[f"{name} [{unit}]"] = (values[..., i] * scale).ravel()
        yield pd.DataFrame(columns)


def worst_of(envelope: Iterable[pd.DataFrame]) -> pd.DataFrame:
    """The extreme of each component and side in each zone, with its point and what acts together with it."""
    return _worst(pd.concat([_worst(block) for block in envelope], ignore_index=True))


def _worst(envelope: pd.DataFrame) -> pd.DataFrame:
    rows = []
    for (_, component, side), of in envelope.groupby(["zone", "component", "side"], sort=False):
        values = of[next(c for c in of.columns if c.startswith(f"{component} ["))]
        if values.notna().any():
            at = int(values.argmin() if side == "minimum" else values.argmax())
            rows.append(of.iloc[at])
    return pd.DataFrame(rows).reset_index(drop=True)
