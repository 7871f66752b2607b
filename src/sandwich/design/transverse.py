"""Transverse shear of the ultimate stage: the principal shear against the resistance without links."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShearCheck:
    """Worst shear of p points: force and resistance [N/mm], utilisation [-], combination.

    A point without any resistance has an infinite utilisation.
    """

    v_Ed: Floats
    v_Rd_c: Floats
    utilisation: Floats
    by: NDArray[np.int64]


@dataclass(frozen=True)
class ShearInput:
    """What the clause needs, for rows: shear, direction, depth [mm], steel ratio [-], axial force [N/mm]."""

    v_Ed: Floats
    phi: Floats
    bottom_tension: NDArray[np.bool_]
    d: Floats
    rho: Floats
    n_phi: Floats


def shear_input(settings: Settings, loads: Floats, h: Floats, axes: Floats, a_s: Floats) -> ShearInput:
    """Quantities in the direction of the principal shear; loads (..., 8), h (...), axes and a_s (..., b)."""
    standard, sides, angles = settings.standard, settings.bars.sides, settings.bars.angles
    v_Ed, phi = standard.principal_shear(loads[..., 6], loads[..., 7])
    c, s = np.cos(phi), np.sin(phi)
    n_phi = loads[..., 0] * c * c + loads[..., 1] * s * s + 2 * loads[..., 2] * s * c
    m_phi = loads[..., 3] * c * c + loads[..., 4] * s * s + 2 * loads[..., 5] * s * c
    bottom = m_phi >= 0.0
    there = np.isfinite(axes)
    of_face = np.where(bottom[..., None], sides >= 0, sides <= 0) & there
    # a face without bars has no steel to count on; its depth is taken as that of the other face
    counted = np.where(of_face.any(-1, keepdims=True), of_face, there)
    e = np.nan_to_num(axes)
    low = np.where(bottom[..., None], e, -e)
    depth = h[..., None] / 2 + np.where(of_face, low, np.abs(e))
    along = np.cos(phi[..., None] - angles) ** 2 * counted
    share = along / np.maximum(along.sum(-1, keepdims=True), 1e-12)
    d = (depth * share).sum(-1)
    ratio = np.where(of_face, a_s, 0.0) / depth
    rho = standard.tension_ratio(
        (ratio * np.cos(angles) ** 2).sum(-1), (ratio * np.sin(angles) ** 2).sum(-1), phi,
        (ratio * np.sin(angles) * np.cos(angles)).sum(-1),
    )  # fmt: skip
    return ShearInput(v_Ed, phi, bottom, d, rho, n_phi)


def check_shear(
    combined: Floats, situations: list[str], h: Floats, axes: Floats, a_s: Floats, settings: Settings
) -> ShearCheck:
    """Worst principal shear over the combinations of p points; `combined` has shape (p, k, 8)."""
    p, k, _ = combined.shape
    q = shear_input(
        settings,
        combined,
        np.broadcast_to(h[:, None], (p, k)),
        np.broadcast_to(axes[:, None], (p, k, axes.shape[1])),
        np.broadcast_to(a_s[:, None], (p, k, axes.shape[1])),
    )
    capacity = np.empty((p, k))
    for j, situation in enumerate(situations):
        sigma = settings.standard.axial_stress(settings.concrete, situation, q.n_phi[:, j], h)
        capacity[:, j] = settings.standard.shear_resistance(
            settings.concrete, situation, q.d[:, j], q.rho[:, j], sigma, h
        )
    with np.errstate(divide="ignore", invalid="ignore"):
        use = np.where(q.v_Ed > 0.0, q.v_Ed / capacity, 0.0)
    by = use.argmax(1)
    at = np.arange(p), by
    return ShearCheck(q.v_Ed[at], capacity[at], use[at], by)
