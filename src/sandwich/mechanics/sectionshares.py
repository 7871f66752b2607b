"""Share of each wall of a level section in the forces of the whole: the section stays plane and keeps its shape."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


def section_shares(
    middle: ArrayLike, way: ArrayLike, length: ArrayLike, thickness: ArrayLike, forces: ArrayLike
) -> Floats:
    """Forces of straight walls that make a level section, in equilibrium with those of the section.

    Axial forces and moments are those of a linear stress over the uncracked walls. Shear and torsion are those of
    a section that moves and turns as a rigid shape over its height: along itself each wall resists by its area, across
    itself by (t/l)^2 of that, in torsion by l t^3/3.

    Parameters
    ----------
    middle : array_like, shape (k, 2)
        Middles of the walls in plan [mm].
    way : array_like, shape (k, 2)
        Unit vectors along them.
    length, thickness : array_like, shape (k,)
        [mm].
    forces : array_like, shape (c, 6)
        Force in x and y and axial force [N], tension positive, then moments about x, y and the vertical [N mm], at the
        origin of the plan.

    Returns
    -------
    ndarray, shape (k, c, 6)
        N, V1, V2, M1, M2, T of each wall about its own middle, axis 1 along it and 2 to its left.

    References
    ----------
    Linear stress: Navier (1826). Torsion of the thin rectangle: Saint-Venant (1855).
    """
    x, e, forces = (np.asarray(v, dtype=float) for v in (middle, way, forces))
    h, t = np.asarray(length, dtype=float), np.asarray(thickness, dtype=float)
    n = np.stack([-e[:, 1], e[:, 0]], axis=1)
    area = h * t
    about = area @ x / area.sum()
    x = x - about
    F, N, M = forces[:, :2], forces[:, 2], forces[:, 3:].copy()
    M[:, 0] -= about[1] * N
    M[:, 1] += about[0] * N
    M[:, 2] -= about[0] * F[:, 1] - about[1] * F[:, 0]

    both = e[:, :, None] * e[:, None, :], n[:, :, None] * n[:, None, :]
    own = (area * h**2 / 12.0)[:, None, None] * both[0] + (area * t**2 / 12.0)[:, None, None] * both[1]
    whole = own.sum(0) + np.einsum("k,ki,kj->ij", area, x, x)
    slope = np.linalg.solve(whole, np.stack([-M[:, 1], M[:, 0]]))  # of the stress, (2, c)
    axial = area[:, None] * (N / area.sum() + x @ slope)
    bent = own @ slope  # first moments of the stress about the walls' own middles, (k, 2, c)
    turned = np.stack([bent[:, 1], -bent[:, 0]], axis=2)

    stiff = area[:, None, None] * (both[0] + ((t / h) ** 2)[:, None, None] * both[1])
    lever = np.stack([-x[:, 1], x[:, 0]], axis=1)
    push = np.einsum("kij,kj->ki", stiff, lever)  # of a unit turn
    twist = h * t**3 / 3.0
    size = np.sqrt(twist.sum() / area.sum() + (x**2).sum(1).max())  # turns in the measure of the moves
    system = np.zeros((3, 3))
    system[:2, :2] = stiff.sum(0)
    system[:2, 2] = system[2, :2] = push.sum(0) / size
    system[2, 2] = ((push * lever).sum() + twist.sum()) / size**2
    move = np.linalg.solve(system, np.concatenate([F, M[:, 2:] / size], axis=1).T)  # (3, c)
    shear = np.einsum("kij,jc->kci", stiff, move[:2]) + push[:, None] * (move[2] / size)[:, None]
    torsion = twist[:, None] * move[2] / size

    def local(vectors: Floats) -> tuple[Floats, Floats]:
        return np.einsum("kci,ki->kc", vectors, e), np.einsum("kci,ki->kc", vectors, n)

    return np.stack([axial, *local(shear), *local(turned), torsion], axis=2)
