"""Wood-Armer moments: the in-plane principle on the moments of each face, for bars at right angles or at any."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.anydirection import optimum_forces
from sandwich.mechanics.inplane import orthogonal


def wood_armer(mx: ArrayLike, my: ArrayLike, mxy: ArrayLike, *, angles: ArrayLike | None = None) -> NDArray[np.float64]:
    """Minimum design moments along the bars of both faces.

    Parameters
    ----------
    mx, my, mxy : float or array_like
        Moments [N], positive where the bottom is in tension; any shapes that broadcast.
    angles : array_like, shape (b,), optional
        Directions of the bars of each face from x towards y [rad], two of them at least 15 degrees apart; bars along
        x and y by default.

    Returns
    -------
    ndarray, shape (2 b, ...)
        Moment capacities along the bars at the bottom, then at the top [N], all zero or more, of the minimum total;
        nan where a moment is not finite.

    Raises
    ------
    ValueError
        If the bars do not hold moments of every direction.

    References
    ----------
    R. H. Wood, "The reinforcement of slabs in accordance with a pre-determined field of moments", Concrete
    2, 1968, with G. S. T. Armer's discussion of bars at any angle.

    Examples
    --------
    >>> wood_armer(40e3, -10e3, 15e3)
    array([55000.,  5000.,     0., 15625.])
    >>> wood_armer(40e3, -10e3, 15e3, angles=np.radians([0.0, 60.0])).round(-1)
    array([43330., 10650.,  4640., 37320.])
    """
    if angles is not None:
        moments = np.stack(np.broadcast_arrays(mx, my, mxy), axis=-1).astype(float)
        faces = [optimum_forces(sign * moments.reshape(-1, 3), angles).forces.T for sign in (1.0, -1.0)]
        return np.concatenate(faces).reshape(-1, *moments.shape[:-1])
    mx, my, mxy = (np.asarray(a, dtype=float) for a in (mx, my, mxy))
    bottom = orthogonal(mx, my, mxy)[:2]
    top = orthogonal(-mx, -my, -mxy)[:2]
    return np.concatenate([bottom, top])
