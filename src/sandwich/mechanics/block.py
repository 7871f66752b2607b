"""Bending of a one-way section by a block of constant compression."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


class StressBlock(NamedTuple):
    """A block of compression and the bars against it.

    `stress` [MPa] over `part` of the depth to the neutral axis, bars at `strength` [MPa], `depth_limit` the
    greatest x/d, `phi` the reduction of the whole resistance [-].
    """

    stress: float
    part: float
    strength: float
    depth_limit: float
    phi: float = 1.0


def bending_steel(m: ArrayLike, n: ArrayLike, d: ArrayLike, h: ArrayLike, block: StressBlock) -> Floats:
    """Area of the bars in tension of a section in bending with axial force.

    Parameters
    ----------
    m : array_like
        Moment per width, positive [N].
    n : array_like
        Axial force per width, tension positive [N/mm].
    d, h : array_like
        Effective depth and thickness [mm].
    block : StressBlock
        Compression, bars and limits.

    Returns
    -------
    ndarray
        Area per width [mm2/mm]; nan where the neutral axis lies deeper than the limit allows.

    References
    ----------
    Equilibrium: m - n z_s = f a (d - a/2), A_s = (f a + n)/f_y with z_s from mid-depth to the bars.

    Examples
    --------
    >>> float(bending_steel(60e3, 0.0, 200.0, 250.0, StressBlock(20.0, 0.8, 435.0, 0.6)).round(4))
    0.7177
    """
    m, n, d, h = (np.asarray(v, dtype=float) for v in (m, n, d, h))
    about = (m - n * (d - h / 2)) / block.phi
    with np.errstate(invalid="ignore"):
        a = d - np.sqrt(d**2 - 2.0 * np.maximum(about, 0.0) / block.stress)
    steel = (block.stress * a + n / block.phi) / block.strength
    deep = ~(a <= block.part * block.depth_limit * d)
    return np.where(deep, np.nan, np.maximum(steel, 0.0))
