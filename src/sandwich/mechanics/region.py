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
    integral along a line depends on where it crosses them.
    """
    V, moment = np.zeros(m.shape[2]), np.zeros((m.shape[2], 2))
    lift = inside.astype(float)
    for xi in (-_AT, _AT):
        for eta in (-_AT, _AT):
            N = 0.25 * np.array(
                [(1 - xi) * (1 - eta), (1 + xi) * (1 - eta), (1 + xi) * (1 + eta), (1 - xi) * (1 + eta)]
            )
            along = 0.25 * np.array([[eta - 1, 1 - eta, 1 + eta, -1 - eta], [xi - 1, -1 - xi, 1 + xi, 1 - xi]])
            J = np.einsum("ic,ecd->eid", along, corners)
            area = J[:, 0, 0] * J[:, 1, 1] - J[:, 0, 1] * J[:, 1, 0]
            slope = np.linalg.solve(J, np.broadcast_to(along, (len(J), 2, 4)))  # of the shape functions, (e, 2, 4)
            here_m, here_v = np.einsum("c,eckf->ekf", N, m), np.einsum("c,eckf->ekf", N, v)
            phi, rise = lift @ N, np.einsum("eic,ec->ei", slope, lift)
            weight = np.abs(area)
            V += np.einsum("e,ekf,ef->k", weight, here_v, rise)
            bend = np.stack([here_m[..., [0, 2]], here_m[..., [2, 1]]], -2)  # (e, k, 2, 2)
            bending = np.einsum("e,ekij,ej->ki", weight, bend, rise)
            tilt = np.einsum("eic,ec,ecj->eij", slope, lift, corners) - phi[:, None, None] * np.eye(2)
            moment += bending + np.einsum("e,eki,eij->kj", weight, here_v, tilt)
    return V, moment
