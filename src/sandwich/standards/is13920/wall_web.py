"""IS 13920:2016, 10.1 and 10.7: thickness and web bars of ductile walls, and bars across their joints."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.shown import Sentence
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface.seismic import SeismicShear
from sandwich.standards.interface.seismic_names import (
    CURTAINS,
    DIAMETER_H,
    DIAMETER_V,
    JOINT,
    MINIMUM_H,
    MINIMUM_V,
    SPACING_H,
    SPACING_V,
    WEB,
    one_check,
)
from sandwich.standards.interface.walls import MemberCheck, ratio_check, spacing_check
from sandwich.standards.is13920 import walls

RATIO: Final = 0.0025  # of web bars both ways, Table 1
SQUAT: Final = "squat"


def web_checks(of: SeismicShear, V: Floats, P: Floats) -> tuple[MemberCheck, ...]:
    """Thickness, curtains, ratios, diameters and spacings of web bars, and bars across joints.

    V and P are shear and compression of each demand [N].
    """
    part, f_ck = of.part, of.part.concrete.cube
    least = float(walls.t_w_min(of.coupled))
    stress = walls.tau_v(V, part.thickness, part.length)
    two = bool(np.any(walls.two_curtains(stress, f_ck, part.thickness)))
    upright = RATIO
    if walls.wall_class(of.h_w, part.length) == SQUAT:
        upright += 0.5 * (1.0 - of.h_w / part.length) * (max(part.along, RATIO) - RATIO)
    joint = float(np.max(walls.rho_joint(stress, P, part.area, part.steel.f_yk)))
    most, thick = float(walls.s_max(part.length, part.thickness)), float(walls.d_max(part.thickness))
    return (
        one_check(WEB, "10.1.2", least, part.thickness, "mm", Sentence.minimum("{} of thickness", least)),
        one_check(CURTAINS, "10.1.7", 2.0 if two else 1.0, float(part.curtains), "-", "two curtains"),
        ratio_check(MINIMUM_H, "10.1.6, Table 1", RATIO, part.along),
        ratio_check(MINIMUM_V, "10.1.6, Table 1", upright, part.across),
        ratio_check(JOINT, "10.7.1", joint, part.across),
        spacing_check(SPACING_H, "10.1.9", part.spacings[0], most),
        spacing_check(SPACING_V, "10.1.9", part.spacings[1], most),
        one_check(DIAMETER_H, "10.1.8", part.diameters[0], thick, "mm", Sentence.maximum("bars up to {}", thick)),
        one_check(DIAMETER_V, "10.1.8", part.diameters[1], thick, "mm", Sentence.maximum("bars up to {}", thick)),
    )
