"""Numbers as people read them: sensible digits for tables, pages and the terminal."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    import pandas as pd
    from numpy.typing import NDArray

USES: Final = ("required / provided", "utilisation", "worst", "worst before", "worst after")


def most_of(*values: NDArray[np.float64]) -> int:
    """Number of the largest value; of alike ones that of which the next values are largest, at last the first.

    Values alike to 1e-9 count as one, so that rounding noise does not choose.

    Examples
    --------
    >>> most_of(np.array([1.0, 2.0, 2.0 + 1e-12])), most_of(np.full(3, np.inf), np.array([1.0, 3.0, 2.0]))
    (1, 1)
    """
    left = np.ones(len(values[0]), dtype=bool)
    for v in values:
        most = v[left].max()
        left &= v >= (most - 1e-9 * abs(most) if np.isfinite(most) else most)
    return int(left.argmax())


def utilisation(value: float) -> str:
    """A utilisation in words: what is above 1 is never written as 1.

    Examples
    --------
    >>> utilisation(0.99999), utilisation(1.00004), utilisation(1.23456), utilisation(float("inf"))
    ('1', '1.00004', '1.23', 'inf')
    """
    text = digits(value, 3)
    return f"{value:.6g}" if value > 1.0 and text == "1" else text


def cell(column: str, value: object) -> str:
    """A value of a table in words, a utilisation as such, a change with its sign."""
    if isinstance(value, bool | np.bool_):
        return "yes" if value else "no"
    if isinstance(value, float) and column.startswith("change") and np.isfinite(value):
        return f"{value:+.1f}"
    use = isinstance(value, float) and column in USES
    return utilisation(float(value)) if use else digits(value)  # type: ignore[arg-type]


def is_number(column: pd.Series[Any]) -> bool:
    """Whether a column of a table holds numbers, with words between them or not."""
    if column.dtype == object:
        return any(isinstance(v, float) for v in column)
    return column.dtype.kind in "iuf"


def digits(value: object, significant: int = 4) -> str:
    """A value in words: four significant digits, no exponent where it can be avoided.

    Examples
    --------
    >>> digits(1754.1152), digits(0.0021151), digits(1e-13), digits(290.0), digits("yes")
    ('1754', '0.002115', '1.0e-13', '290', 'yes')
    """
    if isinstance(value, np.ndarray):
        return ", ".join(digits(v, significant) for v in value.ravel().tolist())
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return str(value)
    if isinstance(value, int):
        return str(value)
    if math.isnan(value):
        return "-"
    if math.isinf(value):
        return str(value)
    size = abs(value)
    if size < 1e-12:
        return "0" if size < 1e-30 else f"{value:.1e}"
    if size < 1e-4 or size >= 1e9:
        return f"{value:.1e}"
    decimals = max(0, significant - 1 - math.floor(math.log10(size)))
    text = f"{value:.{decimals}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text
