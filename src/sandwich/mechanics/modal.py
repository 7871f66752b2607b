"""Modes combined to the most that they give together: SRSS and CQC."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


def cqc_coefficients(periods: Sequence[float], damping: float) -> Floats:
    """Correlation of modes of one damping, shape (m, m) [-].

    Parameters
    ----------
    periods : sequence of float
        Periods of the modes [s].
    damping : float
        Of the critical [-].

    Returns
    -------
    ndarray, shape (m, m)
        1 for a mode with itself.

    References
    ----------
    Wilson, Der Kiureghian, Bayo 1981.

    Examples
    --------
    >>> cqc_coefficients([0.5, 0.45], 0.05).round(3).tolist()
    [[1.0, 0.473], [0.473, 1.0]]
    """
    t = np.asarray(periods, dtype=float)
    r = t[:, None] / t
    top = 8.0 * damping**2 * (1.0 + r) * r**1.5
    return np.asarray(top / ((1.0 - r**2) ** 2 + 4.0 * damping**2 * r * (1.0 + r) ** 2))


def combine_modes(
    modes: ArrayLike, periods: Sequence[float], damping: float, rule: Literal["CQC", "SRSS"],
    *, signs_of: int | None = None,
) -> Floats:  # fmt: skip
    """The most that modes give together, value by value.

    Parameters
    ----------
    modes : array_like, shape (m, ...)
        Values of each mode with their signs, any unit.
    periods : sequence of float
        Their periods [s]; not used by SRSS.
    damping : float
        Of the critical [-].
    rule : str
        'CQC' or 'SRSS'.
    signs_of : int, optional
        Mode whose signs the result takes; without it magnitudes are given.

    Returns
    -------
    ndarray, shape (...)
        In the unit of the modes.

    Examples
    --------
    >>> combine_modes([[3.0, -1.0], [-4.0, 0.0]], (), 0.05, "SRSS", signs_of=0).tolist()
    [5.0, -1.0]
    """
    values = np.asarray(modes, dtype=float)
    rho = cqc_coefficients(periods, damping) if rule == "CQC" else np.eye(len(values))
    size = np.sqrt(np.maximum(np.einsum("ij,i...,j...->...", rho, values, values), 0.0))
    return np.asarray(size if signs_of is None else np.where(values[signs_of] < 0.0, -size, size))
