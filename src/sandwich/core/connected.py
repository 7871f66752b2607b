"""Which of many things hang together."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray


def connected(count: int, a: NDArray[np.integer[Any]], b: NDArray[np.integer[Any]]) -> NDArray[np.int64]:
    """Number of the connected part of each of `count` things, of which those of `a` and `b` meet in pairs."""
    from scipy.sparse import coo_matrix  # late: it takes a fifth of a second
    from scipy.sparse.csgraph import connected_components

    pairs = coo_matrix((np.ones(len(a)), (a, b)), shape=(count, count))
    return np.asarray(connected_components(pairs, directed=False)[1], dtype=np.int64)
