"""Steel of in-plane forces: orthogonal bars, one tensor (a membrane, or one layer, or a plate's moments).

One principle: bars carry forces f >= 0 and the concrete C = N - f d d^T carries compression only. Closed form
for orthogonal bars of minimum total, and for what given bars carry; skew and three-way bars are not held here.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel


@kernel
def orthogonal_compression(nx, ny, nxy):
    """Concrete compressions (u, v) along x and y of the minimum-steel field, for one tensor."""
    q = abs(nxy)
    if nx < -q:
        return -nx, q * q / -nx
    if ny < -q:
        return q * q / -ny, -ny
    return q, q


@kernel
def _orthogonal_rows(nx, ny, nxy, out):
    for i in range(nx.size):
        if not math.isfinite(nx[i] + ny[i] + nxy[i]):
            out[:, i] = math.nan  # a maximum of zero and no number would be zero
            continue
        u, v = orthogonal_compression(nx[i], ny[i], nxy[i])
        fx, fy = max(0.0, nx[i] + u), max(0.0, ny[i] + v)
        cx, cy = nx[i] - fx, ny[i] - fy
        out[0, i], out[1, i] = fx, fy
        out[2, i] = 0.5 * (cx + cy) - math.hypot(0.5 * (cx - cy), nxy[i])


def orthogonal(nx: ArrayLike, ny: ArrayLike, nxy: ArrayLike) -> NDArray[np.float64]:
    """Minimum bar forces along x and y for in-plane forces, and the concrete's largest compression.

    Parameters
    ----------
    nx, ny, nxy : float or array_like
        Membrane forces [N/mm], tension positive; any shapes that broadcast.

    Returns
    -------
    ndarray, shape (3, ...)
        Bar forces fx, fy [N/mm] and the smaller principal force of the concrete [N/mm], negative in compression; nan
        where a force is not finite.

    Notes
    -----
    fx = nx + |nxy| and fy = ny + |nxy|; where nx < -|nxy|, fx = 0 and fy = ny + nxy^2/|nx| (and swapped);
    nothing where both principal forces are compressive. The total fx + fy is the minimum possible.

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


def membrane_holds(n: ArrayLike, F_x: ArrayLike, F_y: ArrayLike, P: ArrayLike) -> NDArray[np.bool_]:
    """Whether bars along x and y and concrete of given strength carry in-plane forces.

    Parameters
    ----------
    n : array_like, shape (..., 3)
        nx, ny, nxy [N/mm].
    F_x, F_y, P : array_like, shape (...)
        Strength of the bars along x and y, and of the concrete in compression [N/mm].

    Returns
    -------
    ndarray of bool, shape (...)
        True where the concrete can have compressions c_x = f_x - n_x and c_y alike, f between 0 and F, with
        |nxy| <= sqrt(c_x c_y) and |nxy| <= sqrt((P - c_x)(P - c_y)).

    References
    ----------
    M. P. Nielsen, Limit Analysis and Concrete Plasticity, 1984; both conditions are met best at c_x + c_y = P, or at a
    bound of one of them.
    """
    n = np.asarray(n, dtype=float)
    F_x, F_y, P = (np.broadcast_to(np.asarray(v, dtype=float), n.shape[:-1]) for v in (F_x, F_y, P))
    low = [np.maximum(-n[..., i], 0.0) for i in range(2)]
    slack = 1e-9 * P  # a force of rounding needs no bar
    high = [np.minimum(P, F + slack - n[..., i]) for i, F in enumerate((F_x, F_y))]
    best = np.full(n.shape[:-1], -1.0)
    starts = [(P / 2, P / 2), *((b, P - b) for b in (low[0], high[0])), *((P - b, b) for b in (low[1], high[1]))]
    for start in starts:
        c = [np.clip(s, a, np.maximum(a, b)) for s, a, b in zip(start, low, high, strict=True)]
        # by the squares; products of what is less than nothing are nothing
        most = np.minimum(c[0] * c[1], np.maximum(P - c[0], 0.0) * np.maximum(P - c[1], 0.0))
        best = np.maximum(best, np.sqrt(most))
    fits = (low[0] <= high[0]) & (low[1] <= high[1])
    return np.asarray(fits & (np.abs(n[..., 2]) <= best))


def membrane_factor(n: ArrayLike, F_x: ArrayLike, F_y: ArrayLike, P: ArrayLike) -> NDArray[np.float64]:
    """Maximum factor on in-plane forces that bars and concrete carry, see `membrane_holds`; up to 1000.

    Notes
    -----
    What can be carried is convex and holds zero, so the factor is found by halving, from below.
    """
    n = np.asarray(n, dtype=float)
    low, high = np.zeros(n.shape[:-1]), np.full(n.shape[:-1], 1000.0)
    low = np.where(membrane_holds(1000.0 * n, F_x, F_y, P), high, low)
    for _ in range(50):
        middle = (low + high) / 2.0
        holds = membrane_holds(middle[..., None] * n, F_x, F_y, P)
        low, high = np.where(holds, middle, low), np.where(holds, high, middle)
    return low
