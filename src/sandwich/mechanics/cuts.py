"""Integrals of resultants along straight cuts through a flat mesh of triangles, and the free body between cuts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
ASIDE: Final = 1e-6  # of the length of a cut: how far its two sides are looked at beside it


@dataclass(frozen=True)
class Pieces:
    """Pieces of a cut inside triangles.

    Attributes
    ----------
    triangle : ndarray of int, shape (q,)
        Triangle of each piece.
    weights : ndarray, shape (q, 3)
        Weight of the triangle's corners in the integral over the piece [length].
    length : float
        Length of the cut inside the mesh.
    """

    triangle: NDArray[np.int64]
    weights: Floats
    length: float


def cut(triangles: Floats, a: Floats, b: Floats, times: int) -> Pieces:
    """Pieces of the straight cut from a to b, the mean of both of its sides.

    Parameters
    ----------
    triangles : ndarray, shape (t, 3, 2)
        Corners.
    a, b : ndarray, shape (2,)
        Ends of the cut.
    times : int
        How often the triangles cover the mesh: twice, where quads are split by both diagonals.

    Returns
    -------
    Pieces
        With them an integral is ``(weights * values[triangle]).sum()``, exact for values linear in each triangle.

    References
    ----------
    Trapezoidal rule, exact for linear functions.
    """
    found = sides(triangles, a, b)
    return Pieces(
        np.concatenate([f.triangle for f in found]),
        np.concatenate([f.weights for f in found]) / (2 * times),
        sum(f.length for f in found) / (2 * times),
    )


def sides(triangles: Floats, a: Floats, b: Floats) -> tuple[Pieces, Pieces]:
    """The left and the right side of a cut by themselves, see `cut`; they differ where it runs along an edge."""
    along = b - a
    aside = ASIDE * np.array([-along[1], along[0]])
    return _one_side(triangles, a + aside, b + aside), _one_side(triangles, a - aside, b - aside)


def _one_side(triangles: Floats, a: Floats, b: Floats) -> Pieces:
    low, high = np.minimum(a, b), np.maximum(a, b)
    near = np.flatnonzero(np.all((triangles.min(1) <= high) & (triangles.max(1) >= low), axis=1))
    p = triangles[near]
    area = _cross(p)
    keep = np.abs(area) > 0.0
    near, p, area = near[keep], p[keep], area[keep]
    at_a, at_b = _shares(p, area, a), _shares(p, area, b)
    change = at_b - at_a
    with np.errstate(divide="ignore", invalid="ignore"):
        root = -at_a / change
    start = np.where(change > 0.0, root, np.where((change == 0.0) & (at_a < 0.0), np.inf, -np.inf)).max(1)
    end = np.where(change < 0.0, root, np.inf).min(1)
    start, end = np.maximum(start, 0.0), np.minimum(end, 1.0)
    inside = end > start
    near, at_a, change, start, end = (v[inside] for v in (near, at_a, change, start, end))
    length = (end - start) * float(np.hypot(*(b - a)))
    middle = at_a + ((start + end) / 2)[:, None] * change
    return Pieces(near, middle * length[:, None], float(length.sum()))


def _cross(p: Floats) -> Floats:
    """Twice the signed area of triangles (t, 3, 2)."""
    u, v = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    return np.asarray(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0])


def _shares(p: Floats, area: Floats, at: Floats) -> Floats:
    """Barycentric coordinates of one place in every triangle, shape (t, 3)."""
    d = at - p
    opposite = [(1, 2), (2, 0), (0, 1)]
    return np.stack([(d[:, i, 0] * d[:, j, 1] - d[:, i, 1] * d[:, j, 0]) / area for i, j in opposite], 1)


@dataclass(frozen=True)
class FreeBody:
    """Equilibrium of a strip between two cuts, for each of k loadings.

    Attributes
    ----------
    moment : ndarray, shape (k,)
        What is left of the moments about the second cut, of the largest of their terms [-].
    load : ndarray, shape (k,)
        Load on the strip along its normal that its shear forces ask for [force].
    """

    moment: Floats
    load: Floats


def free_body(
    s: Floats,
    M: Floats,
    V: Floats,
    twist: Floats,
    side: Floats,
    force: Floats | float = 0.0,
    couple: Floats | float = 0.0,
) -> FreeBody:
    """Balance of a strip between its first and last cut.

    Parameters
    ----------
    s : ndarray, shape (n,)
        Places of the cuts along the strip.
    M, V : ndarray, shape (n, k)
        Moment and shear of the cuts.
    twist, side : ndarray, shape (k,)
        Twisting moment and shear along both edges of the strip, left minus right seen along it.
    force, couple : ndarray, shape (k,)
        What supports inside the strip exert along its normal, and about the axis to its left.

    Returns
    -------
    FreeBody
        M + int V + twist - couple = 0 and V + side + force + load = 0, as differences between both ends.

    References
    ----------
    Equilibrium of a plate strip: vx = -(dmx/dx + dmxy/dy), dvx/dx + dvy/dy + q = 0.
    """
    carried = np.trapezoid(V, s, axis=0)
    left = M[-1] - M[0] + carried + twist - couple
    size = np.maximum(np.abs(M).max(0), 1e-12)
    return FreeBody(np.abs(left) / size, V[0] - V[-1] - side - force)
