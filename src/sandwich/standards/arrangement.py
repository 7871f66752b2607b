"""How bar layers lie to each other, as rules of minimum steel ask: directions, faces, what is shared."""

from __future__ import annotations

import math
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
_ACROSS: Final = math.sin(math.radians(15.0))  # of the angle between bars that count as two directions
_UPRIGHT: Final = math.sin(math.radians(45.0)) + 1e-9  # bars of a wall nearer to the vertical count as vertical


class Arrangement(NamedTuple):
    """Bar layers of p points.

    Effective depths (p, b) [mm], nan where there is none; angles [rad], faces and diameters [mm], each (b,).
    """

    depths: Floats
    angles: Floats
    sides: NDArray[np.int64]
    diameters: Floats
    vertical: str = "y"

    @property
    def there(self) -> NDArray[np.bool_]:
        """Layers that exist, shape (p, b)."""
        return np.isfinite(self.depths)

    @property
    def upright(self) -> NDArray[np.bool_]:
        """Vertical layers of a wall, shape (b,)."""
        return np.abs(np.sin(self.angles) if self.vertical == "y" else np.cos(self.angles)) > _UPRIGHT

    def across(self, i: int) -> NDArray[np.bool_]:
        """Layers of the same face that cross layer i, shape (b,)."""
        return np.asarray((self.sides == self.sides[i]) & (np.abs(np.sin(self.angles - self.angles[i])) > _ACROSS))

    def along(self, i: int) -> NDArray[np.bool_]:
        """Layers of both faces in the direction of layer i, shape (b,)."""
        return np.asarray(np.abs(np.sin(self.angles - self.angles[i])) <= _ACROSS)


def each(whole: ArrayLike, layers: NDArray[np.bool_]) -> Floats:
    """Steel of one direction shared alike by the layers (p, b) that run in it."""
    return np.asarray(np.asarray(whole)[..., None] / np.maximum(layers.sum(-1), 1)[..., None])


def slab_in_every_direction(least: Floats, required: Floats, bars: Arrangement) -> Floats:
    """Minimum steel (p,) of a slab: whole in a layer that pulls, else shared by the layers of a direction."""
    pulls = (required > 0.0) & bars.there
    out = np.where(pulls, least[..., None], 0.0)
    for i in range(required.shape[-1]):
        along = bars.along(i) & bars.there
        idle = ~(pulls & along).any(-1)
        out[..., i] = np.where(idle, each(least, along)[..., 0], out[..., i])
    return np.where(bars.there, out, 0.0)


def wall_by_ratios(vertical: Floats, horizontal: Floats, h: Floats, bars: Arrangement) -> Floats:
    """Minimum steel of a wall from ratios (b,) of both faces together, shared alike by the faces."""
    up, there = bars.upright, bars.there
    of_vertical = each(h, there & up) * vertical
    of_horizontal = each(h, there & ~up) * horizontal
    return np.where(there, np.where(up, of_vertical, of_horizontal), 0.0)
