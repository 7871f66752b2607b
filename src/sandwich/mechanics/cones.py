"""Cone programs of sections in layers of constant stress: concrete within its strength, and the solver."""

from __future__ import annotations

import functools
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
LAYERS: Final = 40


@functools.cache
def programs() -> tuple[Any, Any]:
    """The solver of cone programs and its matrices, which take a while to import."""
    import clarabel
    from scipy import sparse

    return clarabel, sparse


def dyads_of(angles: Floats) -> Floats:
    """Parts xx, yy, xy of a unit force along directions [rad], (3, b)."""
    c, s = np.cos(angles), np.sin(angles)
    return np.stack([c * c, s * s, c * s])


def concrete_cones(count: int, fc: Floats, first: int, size: int) -> tuple[list[Any], list[Floats], list[Any]]:
    """Cones of `count` fields of layer stresses from variable `first` on: none in tension, none above fc (layers,)."""
    clarabel, _ = programs()
    number = len(fc) * count
    right = []
    for offset in (0.0 * fc, 2.0 * fc):
        b = np.zeros(3 * number)
        b[::3] = np.tile(offset, count)
        right.append(b)
    return _cone_rows(number, first, size), right, [clarabel.SecondOrderConeT(3)] * (2 * number)


@functools.lru_cache(maxsize=32)
def _cone_rows(number: int, first: int, size: int) -> list[Any]:
    """Rows of the cones of `number` tensors: first those of no tension, then those of the strength."""
    _, sparse = programs()
    # (a, b, c): trace, difference, twice the shear
    map3 = np.array([[1.0, 1.0, 0.0], [1.0, -1.0, 0.0], [0.0, 0.0, 2.0]])
    eye = np.eye(number)
    free_of_tension = sparse.csc_matrix(np.kron(eye, map3 * np.array([[1.0], [1.0], [1.0]])))
    within = sparse.csc_matrix(np.kron(eye, map3 * np.array([[-1.0], [1.0], [1.0]])))
    rows = []
    for block in (free_of_tension, within):
        whole = sparse.csc_matrix((3 * number, size)).tolil()
        whole[:, first : first + 3 * number] = block
        rows.append(whole.tocsc())
    return rows


def solve_cones(price: Floats, rows: list[Any], right: list[Floats], cones: list[Any]) -> Any:
    """Least price of what lies in the cones, as the solver gives it."""
    clarabel, sparse = programs()
    options = clarabel.DefaultSettings()
    options.verbose = False
    options.tol_gap_abs = options.tol_gap_rel = options.tol_feas = 1e-9
    size = price.size
    solver = clarabel.DefaultSolver(
        sparse.csc_matrix((size, size)),
        price,
        sparse.csc_matrix(sparse.vstack(rows)),
        np.concatenate(right),
        cones,
        options,
    )
    return solver.solve()


def equal_layers(count: int) -> tuple[Floats, Floats]:
    """Middles of equal layers from the bottom up, positive towards the bottom, and their thickness, both over h."""
    return 0.5 - (np.arange(count) + 0.5) / count, np.full(count, 1.0 / count)
