"""EN 1998-1:2004, 5.4.1.2.3 and 5.5.3.4.5: thickness of webs, and the bars that those of high ductility have."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.shown import Sentence
from sandwich.standards.arrangement import Floats
from sandwich.standards.en1998 import behaviour, shear
from sandwich.standards.interface.seismic import SeismicShear
from sandwich.standards.interface.seismic_names import (
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

RATIO: Final = 0.002  # of web bars, 5.5.3.4.5(13)
THIN: Final = 8.0  # mm, 5.5.3.4.5(15)
THICK: Final = 8.0  # of the width over the diameter
APART: Final = (250.0, 25.0)  # mm, diameters


def web_checks(of: SeismicShear, P: Floats, strengths: tuple[float, float, float]) -> tuple[MemberCheck, ...]:
    """Thickness; in DCH ratios, diameters and spacings of web bars, and bars across joints.

    P is the compression beside each demand [N]; f_cd, f_yd and f_ctd [MPa].
    """
    part = of.part
    least = float(behaviour.b_w_min(of.h_s))
    found = [one_check(WEB, "5.4.1.2.3(1)", least, part.thickness, "mm", Sentence.minimum("{} of thickness", least))]
    if not of.asked.high:
        return tuple(found)
    f_cd, f_yd, f_ctd = strengths
    joint = float(np.max(shear.rho_joint(f_ctd, f_cd, f_yd, P, part.area)))
    most = [min(APART[0], APART[1] * d) for d in part.diameters]
    found += [
        ratio_check(MINIMUM_H, "5.5.3.4.5(13)", RATIO, part.along),
        ratio_check(MINIMUM_V, "5.5.3.4.5(13)", RATIO, part.across),
        ratio_check(JOINT, "5.5.3.4.5(16), (17)", joint, part.across),
        spacing_check(SPACING_H, "5.5.3.4.5(15)", part.spacings[0], most[0]),
        spacing_check(SPACING_V, "5.5.3.4.5(15)", part.spacings[1], most[1]),
    ]
    for name, d in ((DIAMETER_H, part.diameters[0]), (DIAMETER_V, part.diameters[1])):
        thin = d < THIN
        found.append(one_check(
            name, "5.5.3.4.5(15)", THIN if thin else d, d if thin else part.thickness / THICK, "mm",
            f"bars of {THIN:.0f} to {part.thickness / THICK:.0f} mm",
        ))  # fmt: skip
    return tuple(found)
