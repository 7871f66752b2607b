"""Do shear forces match the slope of the moments, and membrane forces each other? Usual mistakes tried as answers."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
CLEAR: Final = 0.5  # another reading must leave less than this part of the error to be named
GOOD: Final = 0.35  # and explain the results to this part of their size


@dataclass(frozen=True)
class Reading:
    """How the results of one zone fit equilibrium as they are, and read in the best other way.

    Attributes
    ----------
    error, best_error : float
        Root mean square of what is left, over that of the results [-].
    changes : tuple of str
        Changes of the best other reading, none where the results fit as they are.
    scale : float
        Results over what their partners ask for, at the best reading [-]; 1 where units agree.
    elements : int
        Elements that were looked at.
    """

    error: float
    best_error: float
    changes: tuple[str, ...]
    scale: float
    elements: int


def gradients(corners: Floats, bars: Floats, real: NDArray[np.bool_], values: Floats) -> Floats:
    """Slope of corner values in each element.

    Parameters
    ----------
    corners : ndarray, shape (e, 4, 3)
        Places [mm].
    bars : ndarray, shape (e, 3, 3)
        Unit vectors of x, y, normal.
    real : ndarray of bool, shape (e, 4)
        Corners that exist.
    values : ndarray, shape (k, e, 4, c)
        Values at the corners.

    Returns
    -------
    ndarray, shape (2, k, e, c)
        Slope along x and y [per mm]: the plane nearest to the corner values.
    """
    count = real.sum(1)[:, None]
    flat = np.einsum("ecd,ead->eca", corners, bars[:, :2])
    middle = (flat * real[..., None]).sum(1) / count
    d = (flat - middle[:, None]) * real[..., None]
    gram = np.einsum("eca,ecb->eab", d, d)
    weights = np.einsum("eab,ecb->eca", np.linalg.inv(gram), d)
    return np.asarray(np.einsum("eca,kecf->akef", weights, np.where(real[..., None], values, 0.0)))


def moments_and_shear(slope: Floats, shear: Floats) -> Reading:
    """Fit of v = -(dm/dx + dm/dy) over the elements of a zone.

    Parameters
    ----------
    slope : ndarray, shape (2, k, e, 3)
        Slopes of mx, my, mxy along x and y.
    shear : ndarray, shape (k, e, 2)
        vx, vy of the elements.

    Returns
    -------
    Reading
        The best of all signs of vx, vy, mxy with and without swapped mx and my.

    References
    ----------
    Equilibrium of a plate element.
    """
    found = []
    for swap, sign_x, sign_y, twist in itertools.product((False, True), (1, -1), (1, -1), (1, -1)):
        mx, my = (1, 0) if swap else (0, 1)
        wanted = np.stack([
            -sign_x * (slope[0, ..., mx] + twist * slope[1, ..., 2]),
            -sign_y * (slope[1, ..., my] + twist * slope[0, ..., 2]),
        ], -1)  # fmt: skip
        changes = ["mx and my swapped"] if swap else []
        if sign_x < 0 and sign_y < 0 and twist > 0:
            changes.append("all moments, or vx and vy, with the other sign")
        else:
            changes += [
                f"{n} with the other sign" for n, s in (("vx", sign_x), ("vy", sign_y), ("mxy", twist)) if s < 0
            ]
        found.append((_fit(wanted, shear), tuple(changes)))
    return _best(found, shear.shape[1])


def membrane(slope: Floats) -> Reading:
    """Fit of dnx/dx + dnxy/dy = const and dny/dy + dnxy/dx = const in each case (a load of its own weight).

    Parameters
    ----------
    slope : ndarray, shape (2, k, e, 3)
        Slopes of nx, ny, nxy along x and y.

    Returns
    -------
    Reading
        The best of both signs of nxy with and without swapped nx and ny.

    References
    ----------
    Equilibrium of a disc element.
    """
    found = []
    for swap, twist in itertools.product((False, True), (1, -1)):
        nx, ny = (1, 0) if swap else (0, 1)
        own = np.stack([slope[0, ..., nx], slope[1, ..., ny]], -1)
        other = -twist * np.stack([slope[1, ..., 2], slope[0, ..., 2]], -1)
        own, other = (v - np.median(v, axis=1, keepdims=True) for v in (own, other))
        changes = (["nx and ny swapped"] if swap else []) + (["nxy with the other sign"] if twist < 0 else [])
        found.append((_fit(other, own), tuple(changes)))
    return _best(found, slope.shape[2])


def _fit(wanted: Floats, given: Floats) -> tuple[float, float]:
    """Scale that brings `wanted` nearest to `given`, and the error left, robust against a few singular places."""
    size = np.sqrt(np.mean(wanted**2, axis=(1, 2), keepdims=True) * np.mean(given**2, axis=(1, 2), keepdims=True))
    if not (size > 0.0).any():
        return 1.0, 0.0
    root = np.sqrt(np.where(size > 0.0, size, 1.0))
    a, b = wanted / root, given / root
    scale = 1.0
    keep = np.ones(a.shape, dtype=bool)
    for _ in range(3):
        norm = float(np.sum(a[keep] ** 2))
        scale = float(np.sum(a[keep] * b[keep])) / norm if norm > 0.0 else 1.0
        left = np.abs(b - scale * a)
        keep = left <= np.quantile(left, 0.9)
    left = np.abs(b - abs(scale) * a)  # a negative scale is another sign, not a unit
    whole = float(np.sum(b[keep] ** 2))
    return scale, float(np.sqrt(np.sum(left[keep] ** 2) / whole)) if whole > 0.0 else 0.0


def _best(found: list[tuple[tuple[float, float], tuple[str, ...]]], elements: int) -> Reading:
    (scale, error), _ = found[0]
    positive = [f for f in found if f[0][0] > 0.0] or found[:1]
    best = min(positive, key=lambda f: f[0][1] + 0.02 * len(f[1]))
    if best is found[0] or (scale > 0.0 and (best[0][1] > CLEAR * error or best[0][1] > GOOD)):
        return Reading(error, error, (), scale, elements)
    return Reading(error, best[0][1], best[1], best[0][0], elements)
