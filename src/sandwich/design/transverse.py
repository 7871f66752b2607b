"""Transverse shear of the ultimate stage: the principal shear against the resistance without links."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings
from sandwich.standards.interface import Standard

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


def shear_input(standard: Standard, loads: Floats, h: Floats, axes: Floats, a_s: Floats) -> ShearInput:
    """Quantities in the direction of the principal shear; loads (..., 8), h (...), axes and a_s (..., 4)."""
    v_Ed, phi = standard.principal_shear(loads[..., 6], loads[..., 7])
    c, s = np.cos(phi), np.sin(phi)
    n_phi = loads[..., 0] * c * c + loads[..., 1] * s * s + 2 * loads[..., 2] * s * c
    m_phi = loads[..., 3] * c * c + loads[..., 4] * s * s + 2 * loads[..., 5] * s * c
    bottom = m_phi >= 0.0
    own = np.where(bottom[..., None], axes[..., :2], -axes[..., 2:])
    other = np.where(bottom[..., None], axes[..., 2:], axes[..., :2])
    steel = np.where(bottom[..., None], a_s[..., :2], a_s[..., 2:])
    # a face without bars has no steel to count on; its depth is taken as that of the other face
    curtain = np.where(bottom[..., None], axes[..., :2], -axes[..., :2])
    one = np.isfinite(axes[..., :2]).all(-1) & ~np.isfinite(axes[..., 2:]).any(-1)
    middle = one & (np.abs(axes[..., :2]).max(-1) < 0.1 * h)
    own = np.where(middle[..., None], curtain, own)
    steel = np.where(middle[..., None], a_s[..., :2], steel)
    depth = h[..., None] / 2 + np.where(np.isfinite(own), own, np.abs(other))
    d = depth[..., 0] * c * c + depth[..., 1] * s * s
    ratio = np.where(np.isfinite(own), steel, 0.0) / depth
    return ShearInput(v_Ed, phi, bottom, d, standard.tension_ratio(ratio[..., 0], ratio[..., 1], phi), n_phi)


def check_shear(
    combined: Floats, situations: list[str], h: Floats, axes: Floats, a_s: Floats, settings: Settings
) -> ShearCheck:
    """Worst principal shear over the combinations of p points; `combined` has shape (p, k, 8)."""
    p, k, _ = combined.shape
    q = shear_input(
        settings.standard,
        combined,
        np.broadcast_to(h[:, None], (p, k)),
        np.broadcast_to(axes[:, None], (p, k, 4)),
        np.broadcast_to(a_s[:, None], (p, k, 4)),
    )
    capacity = np.empty((p, k))
    for j, situation in enumerate(situations):
        sigma = settings.standard.axial_stress(settings.concrete, situation, q.n_phi[:, j], h)
        capacity[:, j] = settings.standard.shear_resistance(settings.concrete, situation, q.d[:, j], q.rho[:, j], sigma)
    with np.errstate(divide="ignore", invalid="ignore"):
        use = np.where(q.v_Ed > 0.0, q.v_Ed / capacity, 0.0)
    by = use.argmax(1)
    at = np.arange(p), by
    return ShearCheck(q.v_Ed[at], capacity[at], use[at], by)
