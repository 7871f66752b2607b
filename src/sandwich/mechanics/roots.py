"""Sign changes along arrays, and roots between bounds for many values at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
ROUNDS: Final = 108


def changes(values: Floats) -> NDArray[np.bool_]:
    """Between which neighbours along the last axis values change their sign."""
    above = values > 0.0
    return np.asarray(above[..., :-1] != above[..., 1:])


def share(values: Floats) -> Floats:
    """Where between neighbours along the last axis the line through both is zero, 0 to 1."""
    with np.errstate(divide="ignore", invalid="ignore"):
        part = np.clip(values[..., :-1] / (values[..., :-1] - values[..., 1:]), 0.0, 1.0)
    return np.where(np.isfinite(part), part, 0.0)


def root(
    of: Callable[[Floats], Floats], bounds: tuple[Floats, Floats], values: tuple[Floats, Floats], close: float
) -> Floats:
    """Where values change their sign between bounds: by secants that keep it between them, every third by halving.

    Parameters
    ----------
    of : callable
        Values at places, each (k,).
    bounds, values : tuple of ndarray
        Both bounds and the values there, each (k,).
    close : float
        Size of a value that counts as zero; where there is a step the place of the step is found.

    Returns
    -------
    ndarray, shape (k,)
        Places.
    """
    (low, high), (at_low, at_high) = bounds, values
    middle = high
    for i in range(ROUNDS):
        with np.errstate(divide="ignore", invalid="ignore"):
            middle = low - at_low * (high - low) / (at_high - at_low)
        middle = np.where(np.isfinite(middle) & (i % 3 < 2), middle, (low + high) / 2.0)
        value = of(middle)
        if ((np.abs(value) < close) | (high - low < 1e-12)).all():
            break
        same = value * at_low > 0.0
        low, high = np.where(same, middle, low), np.where(same, high, middle)
        # an end that stays counts by half, so that both ends move
        at_low, at_high = np.where(same, value, at_low / 2.0), np.where(same, at_high / 2.0, value)
    return middle
