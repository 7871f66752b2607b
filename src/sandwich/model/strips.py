"""Cells of slab strips: which points lie in one strip of parallel bars at one station along them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh, element_areas
from sandwich.model.points import Points

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def cells_of(along: Floats, across: Floats, edges: Floats, step: float) -> Ints:
    """Cell of each place: strip between two edges across, times station of a length along; -1 outside all strips.

    Parameters
    ----------
    along, across : ndarray, shape (p,)
        Places along the bars and across them [mm].
    edges : ndarray, shape (s + 1,)
        Edges of the strips, rising [mm].
    step : float
        Length of a station [mm].

    Examples
    --------
    >>> cells_of(np.array([0.0, 9.0, 0.0]), np.array([1.0, 1.0, 7.0]), np.array([0.0, 5.0]), 5.0).tolist()
    [0, 2, -1]
    """
    strip = np.searchsorted(edges, across + 1e-6, side="right") - 1
    strip = np.where(np.abs(across - edges[-1]) <= 1e-6, len(edges) - 2, strip)
    station = np.round((along - along.min(initial=np.inf)) / step).astype(np.int64)
    out = strip * (station.max(initial=0) + 1) + station
    return np.where((strip >= 0) & (strip < len(edges) - 1), out, -1)


def tributary_areas(mesh: Mesh, elements: Ints, points: Points) -> Floats:
    """Area that each point stands for: equal parts of its elements [mm2], shape (p,)."""
    corners = mesh.corners[elements]
    share = element_areas(mesh.xyz, corners) / (corners >= 0).sum(1)
    return np.asarray(np.bincount(points.point, share[points.element], len(points.labels)), dtype=float)
