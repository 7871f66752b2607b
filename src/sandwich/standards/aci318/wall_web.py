"""ACI 318-19, 18.10.2 and 18.10.4: web bars of special walls, and all their piers together."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from sandwich.core.shown import Sentence
from sandwich.standards.aci318 import seismic_walls, shear
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.seismic import SeismicShear
from sandwich.standards.interface.seismic_names import CURTAINS, MINIMUM_H, MINIMUM_V, OVER, PIERS, one_check
from sandwich.standards.interface.walls import MemberCheck, WallPart, ratio_check

RATIO: Final = 0.0025  # both ways, 18.10.2.1
PHI_SHEAR: Final = 0.75  # Table 21.2.1(b)


def web_checks(of: SeismicShear, V: Floats) -> tuple[MemberCheck, ...]:
    """Ratios, curtains, and vertical bars of squat walls; V is the shear of the analysis under each demand [N]."""
    part, most = of.part, float(np.max(V, initial=0.0))
    root = float(shear.root_f_c(part.concrete.cylinder))
    low = most <= float(seismic_walls.V_reduced_ratios(root, part.area))
    two = bool(seismic_walls.two_curtains(most, root, part.area, of.h_w, part.length))
    found = [one_check(CURTAINS, "18.10.2.2", 2.0 if two else 1.0, float(part.curtains), "-", "two curtains")]
    if not low:
        found += [
            ratio_check(MINIMUM_H, "18.10.2.1", RATIO, part.along),
            ratio_check(MINIMUM_V, "18.10.2.1", RATIO, part.across),
        ]
    squat = float(seismic_walls.rho_l_squat(of.h_w, part.length, part.along))
    if squat > 0.0:
        found.append(ratio_check(OVER, "18.10.4.3", squat, part.across))
    return tuple(found)


def piers_check(parts: Sequence[WallPart], V: Floats) -> MemberCheck:
    """Shear of all piers that share a lateral force, under each combination [N], against 18.10.4.4."""
    root = float(shear.root_f_c(min(p.concrete.cylinder for p in parts)))
    areas = np.array([p.area for p in parts])
    most = PHI_SHEAR * seismic_walls.V_n_group(np.full(len(parts), np.inf), root, areas)
    worst = float(np.max(V, initial=0.0))
    thicker = max(p.thickness for p in parts) * worst / most
    return MemberCheck(PIERS, "18.10.4.4", V, np.full(V.shape, most), "N", Sentence.minimum("{} of thickness", thicker))
