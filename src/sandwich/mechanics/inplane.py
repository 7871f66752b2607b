"""Steel of in-plane forces: orthogonal bars, one tensor (a membrane, or one layer, or a plate's moments).

One principle: bars carry forces f >= 0 and the concrete C = N - f d d^T carries compression only. Closed form
for orthogonal bars of least total; skew and three-way bars are not held here.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.compiled import kernel


@kernel
def orthogonal_compression(nx, ny, nxy):
    """Concrete compressions (u, v) along x and y of the least-steel field, for one tensor."""
    q = abs(nxy)
    if nx < -q:
        return -nx, q * q / -nx
    if ny < -q:
        return q * q / -ny, -ny
    return q, q


@kernel
def _orthogonal_rows(nx, ny, nxy, out):
    for i in range(nx.size):
        u, v = orthogonal_compression(nx[i], ny[i], nxy[i])
        fx, fy = max(0.0, nx[i] + u), max(0.0, ny[i] + v)
        cx, cy = nx[i] - fx, ny[i] - fy
        out[0, i], out[1, i] = fx, fy
        out[2, i] = 0.5 * (cx + cy) - math.hypot(0.5 * (cx - cy), nxy[i])


def orthogonal(nx: ArrayLike, ny: ArrayLike, nxy: ArrayLike) -> NDArray[np.float64]:
    """Least bar forces along x and y for in-plane forces, and the concrete's largest compression.

    Parameters
    ----------
    nx, ny, nxy : float or array_like
        Membrane forces [N/mm], tension positive; any shapes that broadcast.

    Returns
    -------
    ndarray, shape (3, ...)
        Bar forces fx, fy [N/mm] and the smaller principal force of the concrete [N/mm], negative in compression.

    Notes
    -----
    fx = nx + |nxy| and fy = ny + |nxy|; where nx < -|nxy|, fx = 0 and fy = ny + nxy^2/|nx| (and swapped);
    nothing where both principal forces are compressive. The total fx + fy is the least possible.

    References
    ----------
    M. P. Nielsen, Limit Analysis and Concrete Plasticity, 1984; EN 1992-1-1:2004, Annex F.

    Examples
    --------
    >>> orthogonal(100.0, -20.0, 50.0)[:2]
    array([150.,  30.])
    """
    arrays = np.broadcast_arrays(*(np.asarray(a, dtype=float) for a in (nx, ny, nxy)))
    out = np.empty((3, arrays[0].size))
    _orthogonal_rows(*(np.ascontiguousarray(a).ravel() for a in arrays), out)
    return out.reshape(3, *arrays[0].shape)
