"""ACI 318-19, 24.3, and a computed crack width, for rows of cracked sections."""

from __future__ import annotations

import numpy as np

from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.aci318 import cracking
from sandwich.standards.cracks import CrackWidth, QuickCheck


def crack_width(face: FaceCrack) -> CrackWidth:
    """Crack width by Frosch, of the layer that crosses the crack most squarely, with the principal strain there."""
    bars, rows = face.bars, np.arange(len(face.h))
    across = face.across
    most = across.argmax(1)
    crosses = across[rows, most] > 0.0
    axis = np.where(crosses, bars.cover[rows, most] + bars.diameter[rows, most] / 2.0, 0.0)
    distance = cracking.d_star(axis, np.where(crosses, bars.spacing[rows, most], 0.0))
    strain = np.where(face.open, face.eps_1, 0.0)
    growth = np.where(face.open, cracking.beta(face.near, np.where(face.open, face.eps_1, 1.0)), 1.0)
    w = np.where(face.open & ~crosses, np.inf, cracking.w_c(strain, growth, distance))
    return CrackWidth(w, 2.0 * distance, strain * growth)


def by_spacing(face: FaceCrack) -> QuickCheck:
    """24.3.2 of the layer whose spacing is used most, each with its own stress in service."""
    bars = face.bars
    pulls = bars.there & (bars.stress > 1e-6) & face.open[:, None]
    allowed = np.maximum(cracking.s_crack(np.where(pulls, bars.stress, 1.0), bars.cover), 0.0)
    with np.errstate(divide="ignore"):
        use = np.where(pulls, bars.spacing / allowed, 0.0)
    rows, most = np.arange(len(face.h)), use.argmax(1)
    there = pulls[rows, most]
    return QuickCheck(np.where(there, bars.spacing[rows, most], 0.0), allowed[rows, most])
