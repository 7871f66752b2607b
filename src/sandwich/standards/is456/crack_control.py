"""IS 456:2000, annex F, for rows of cracked sections."""

from __future__ import annotations

import numpy as np

from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.cracks import CrackWidth
from sandwich.standards.is456 import cracking


def crack_width(face: FaceCrack) -> CrackWidth:
    """Surface crack width of annex F, with the strain across the crack at the face and the bars that cross it."""
    bars, rows = face.bars, np.arange(len(face.h))
    across = face.across
    most = across.argmax(1)
    crosses = across[rows, most] > 0.0
    phi, cover = bars.diameter[rows, most], np.where(crosses, bars.cover[rows, most], 0.0)
    distance = cracking.a_cr(np.where(crosses, bars.spacing[rows, most], 0.0), cover + phi / 2.0, phi)
    area = np.where(crosses, (bars.area * across**2).sum(1), 1.0)
    bent = face.open & (face.x > 0.0) & (face.d > face.x + 1.0)
    x, d = np.where(bent, face.x, 0.0), np.where(bent, face.d, face.h)
    eps = np.where(bent, cracking.eps_m(face.near, face.h, x, d, area, face.E_s), np.maximum(face.near, 0.0))
    w = np.asarray(cracking.w_cr(distance, eps, cover, face.h, x))
    if not bent.all():
        w = np.where(bent, w, cracking.w_cr_tension(distance, eps))
    w = np.where(face.open, np.where(crosses, w, np.inf), 0.0)
    return CrackWidth(w, np.full(len(w), np.nan), np.where(face.open, eps, 0.0))  # the annex knows no spacing
