"""Bending of a one-way section by a block of constant compression."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


class StressBlock(NamedTuple):
    """A block of compression and the bars against it.

    `stress` [MPa] over `part` of the depth to the neutral axis, bars at `strength` [MPa], `depth_limit` the
    maximum x/d, `phi` the reduction of the whole resistance [-].
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
        Area per width [mm2/mm]; nan where the neutral axis lies deeper than the limit allows, and where the whole
        section is in tension, which takes bars on both faces.

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
        a = d - np.sqrt(d**2 - 2.0 * about / block.stress)
    steel = (block.stress * a + n / block.phi) / block.strength
    deep = ~(a <= block.part * block.depth_limit * d)
    return np.where(deep | (a < -1e-9 * d), np.nan, np.maximum(steel, 0.0))


def bars_of_faces(
    m: ArrayLike, n: ArrayLike, d: ArrayLike, d_far: ArrayLike, h: ArrayLike, block: StressBlock
) -> Floats:
    """Area of the bars of both faces of a section in bending with axial force.

    Parameters
    ----------
    m : array_like
        Moment per width, positive [N].
    n : array_like
        Axial force per width, tension positive [N/mm].
    d, d_far : array_like
        Effective depth of the bars at the face in tension from the other face, and of those at the other face from the
        first one; nan where there are none [mm].
    h : array_like
        Thickness [mm].
    block : StressBlock
        Compression, bars and limits.

    Returns
    -------
    ndarray, shape (2, ...)
        Areas at the face in tension and at the other [mm2/mm]; nan where the section is too shallow, or lacks bars at
        a face that is pulled.

    References
    ----------
    `bending_steel`; where the whole section is pulled, equilibrium of the two layers of bars.

    Examples
    --------
    >>> block = StressBlock(20.0, 0.8, 500 / 1.15, 0.6)
    >>> (bars_of_faces(10e3, 500.0, 214.0, 214.0, 250.0, block) * 1e3).round(0)
    array([704., 446.])
    """
    m, n, d, d_far, h = np.broadcast_arrays(*(np.asarray(v, dtype=float) for v in (m, n, d, d_far, h)))
    near, far = d - h / 2, d_far - h / 2
    pulled = m - n * near < 0.0
    one = bending_steel(m, n, d, h, block)
    strength = block.phi * block.strength
    lever = np.where(near + far > 0.0, near + far, np.nan)  # one layer of bars at mid-depth has none
    both = (n * far + m) / lever / strength, (n * near - m) / lever / strength
    return np.stack([np.where(pulled, both[0], one), np.where(pulled, both[1], np.where(np.isnan(one), np.nan, 0.0))])
