"""The eight stress resultants of a shell per unit width: order, signs, rotation, turning over, offset.

Tension positive; m = -int sigma z dz, so a positive moment puts the bottom (-z) in tension; v = int tau_z dz.
"""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

COMPONENTS: Final = ("nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy")
QUANTITY: Final = dict(zip(COMPONENTS, ("membrane",) * 3 + ("moment",) * 3 + ("shear",) * 2, strict=True))
_TURNED_OVER = np.array([1.0, 1.0, -1.0, -1.0, -1.0, 1.0, -1.0, 1.0])


def rotate(resultants: ArrayLike, angle: ArrayLike) -> NDArray[np.float64]:
    """Resultants in axes turned by an angle from x towards y.

    Parameters
    ----------
    resultants : array_like, shape (..., 8)
        nx ny nxy [N/mm], mx my mxy [N], vx vy [N/mm].
    angle : array_like, shape that broadcasts with (...)
        Angle from the old x to the new x, positive towards y [rad].

    Returns
    -------
    ndarray, shape (..., 8)
        The same in the new axes; units as given.

    References
    ----------
    Tensor rule for n and m, vector rule for v.

    Examples
    --------
    >>> rotate([0, 0, 100.0, 0, 0, 0, 0, 0], np.pi / 4)[:3].round(9)
    array([ 100., -100.,    0.])
    """
    old = np.asarray(resultants, dtype=float)
    c, s = np.cos(angle), np.sin(angle)
    new = np.empty(np.broadcast_shapes(old.shape, (*np.shape(angle), 8)))
    for start in (0, 3):
        ax, ay, axy = np.ascontiguousarray(np.moveaxis(old[..., start : start + 3], -1, 0))
        twist = 2 * axy * s * c
        new[..., start] = ax * c * c + ay * s * s + twist
        new[..., start + 1] = ax * s * s + ay * c * c - twist
        new[..., start + 2] = (ay - ax) * s * c + axy * (c * c - s * s)
    new[..., 6] = old[..., 6] * c + old[..., 7] * s
    new[..., 7] = old[..., 7] * c - old[..., 6] * s
    return new


def turn_over(resultants: ArrayLike) -> NDArray[np.float64]:
    """Resultants of an element turned over about its x axis: y and z change their sense.

    Parameters
    ----------
    resultants : array_like, shape (..., 8)
        nx ny nxy [N/mm], mx my mxy [N], vx vy [N/mm].

    Returns
    -------
    ndarray, shape (..., 8)
        nxy, mx, my and vx change sign; units as given.

    References
    ----------
    Definition of the resultants.

    Examples
    --------
    >>> turn_over([1, 2, 3, 4, 5, 6, 7, 8])
    array([ 1.,  2., -3., -4., -5.,  6., -7.,  8.])
    """
    return np.asarray(np.asarray(resultants, dtype=float) * _TURNED_OVER)


def to_mid_depth(resultants: ArrayLike, offset: ArrayLike) -> NDArray[np.float64]:
    """Move resultants from a reference surface to mid-depth: m becomes m - n e.

    Parameters
    ----------
    resultants : array_like, shape (..., 8)
        nx ny nxy [N/mm], mx my mxy [N], vx vy [N/mm].
    offset : array_like, shape that broadcasts with (...)
        Distance e of the reference surface from mid-depth, positive towards the bottom [mm].

    Returns
    -------
    ndarray, shape (..., 8)
        The same at mid-depth; units as given.

    References
    ----------
    Statics.

    Examples
    --------
    >>> to_mid_depth([100.0, 0, 0, 0, 0, 0, 0, 0], 50.0)[3]
    np.float64(-5000.0)
    """
    moved = np.array(resultants, dtype=float)
    moved[..., 3:6] -= moved[..., :3] * np.asarray(offset, dtype=float)[..., None]
    return moved
