"""Words of a table, repeated: much faster than to make a column of them one by one."""

from __future__ import annotations

from typing import Any

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray


def column(words: ArrayLike, code: NDArray[np.integer]) -> Any:
    """A column of a table with the word of each code; the last word is that of -1.

    Examples
    --------
    >>> list(column(["bottom", "top"], np.array([1, 0, 1])))
    ['top', 'bottom', 'top']
    """
    values = np.asarray(words, dtype=object)
    return pd.Series(values).array.take(np.where(code < 0, len(values) + code, code))
