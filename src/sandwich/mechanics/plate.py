"""Wood-Armer moments of orthogonal bars: the in-plane principle on the moments of each face."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.inplane import orthogonal


def wood_armer(mx: ArrayLike, my: ArrayLike, mxy: ArrayLike) -> NDArray[np.float64]:
    """Minimum design moments along orthogonal bars of both faces.

    Parameters
    ----------
    mx, my, mxy : float or array_like
        Moments [N], positive where the bottom is in tension; any shapes that broadcast.

    Returns
    -------
    ndarray, shape (4, ...)
        Moment capacities along x and y at the bottom, then at the top [N], all zero or more.

    References
    ----------
    R. H. Wood, "The reinforcement of slabs in accordance with a pre-determined field of moments", Concrete
    2, 1968, with G. S. T. Armer's discussion.

    Examples
    --------
    >>> wood_armer(40e3, -10e3, 15e3)
    array([55000.,  5000.,     0., 15625.])
    """
    mx, my, mxy = (np.asarray(a, dtype=float) for a in (mx, my, mxy))
    bottom = orthogonal(mx, my, mxy)[:2]
    top = orthogonal(-mx, -my, -mxy)[:2]
    return np.concatenate([bottom, top])
