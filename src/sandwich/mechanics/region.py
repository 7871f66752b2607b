"""What a slab hands over in a region, from its resultants in the elements around it."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
_AT: Final = 1.0 / np.sqrt(3.0)


def handed_over(corners: Floats, inside: NDArray[np.bool_], m: Floats, v: Floats) -> tuple[Floats, Floats]:
    """Force and its moments that the slab outside a region hands over to a support inside it.

    Parameters
    ----------
    corners : ndarray, shape (e, 4, 2)
        Corners of the elements around the region in plan; a triangle repeats its third.
    inside : ndarray of bool, shape (e, 4)
        Corners that move with the region.
    m : ndarray, shape (e, 4, k, 3)
        mx, my, mxy at the corners for k loadings, in the axes of the plan.
    v : ndarray, shape (e, 4, k, 2)
        vx, vy.

    Returns
    -------
    V : ndarray, shape (k,)
        Force of the support on the slab along its normal, less the load on the elements around it.
    moment : ndarray, shape (k, 2)
        V times its eccentricity along both axes.

    References
    ----------
    Virtual work: the region is lifted, and tilted about either axis, while the nodes outside stay; the work of the
    resultants in the elements between is that of the support. Equilibrium of the elements makes it exact, where an
    integral along a line depends on where it crosses them. Shear strains are tied as in Bathe and Dvorkin, 1985.
    """
    V, moment = np.zeros(m.shape[2]), np.zeros((m.shape[2], 2))
    lift = inside.astype(float)
    tied = _tied(corners, lift)
    for xi in (-_AT, _AT):
        for eta in (-_AT, _AT):
            N = 0.25 * np.array(
                [(1 - xi) * (1 - eta), (1 + xi) * (1 - eta), (1 + xi) * (1 + eta), (1 - xi) * (1 + eta)]
            )
            along = 0.25 * np.array([[eta - 1, 1 - eta, 1 + eta, -1 - eta], [xi - 1, -1 - xi, 1 + xi, 1 - xi]])
            J = np.einsum("ic,ecd->eid", along, corners)
            weight = np.abs(J[:, 0, 0] * J[:, 1, 1] - J[:, 0, 1] * J[:, 1, 0])
            here_m, here_v = np.einsum("c,eckf->ekf", N, m), np.einsum("c,eckf->ekf", N, v)
            rise = np.linalg.solve(J, np.einsum("ic,ec->ei", along, lift)[..., None])[..., 0]
            V += np.einsum("e,ekf,ef->k", weight, here_v, rise)
            bend = np.stack([here_m[..., [0, 2]], here_m[..., [2, 1]]], -2)  # (e, k, 2, 2)
            moment += np.einsum("e,ekij,ej->ki", weight, bend, rise)
            across = [(1 - s) / 2 * pair[0] + (1 + s) / 2 * pair[1] for s, pair in zip((eta, xi), tied, strict=True)]
            moment += np.einsum("e,eki,eij->kj", weight, here_v, np.linalg.solve(J, np.stack(across, 1)))
    return V, moment


def _tied(corners: Floats, lift: Floats) -> list[tuple[Floats, Floats]]:
    """Shear strain of both tilts along opposite sides of the elements, (e, 2) each, at the middles of the sides."""

    def side(a: int, b: int) -> Floats:
        way = corners[:, b] - corners[:, a]
        rise = lift[:, [b]] * corners[:, b] - lift[:, [a]] * corners[:, a]
        return np.asarray((rise - (lift[:, [a]] + lift[:, [b]]) / 2.0 * way) / 2.0)

    return [(side(0, 1), side(3, 2)), (side(0, 3), side(1, 2))]
