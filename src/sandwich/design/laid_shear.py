"""Transverse shear by the bars that lie there, which may be more, and deeper, than what the design requires."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.record import Ultimate
from sandwich.design.settings import Settings
from sandwich.design.transverse import ShearCheck, check_shear, shear_rows
from sandwich.mechanics.superpose import blocks, superpose

Floats = NDArray[np.float64]
_BLOCK: Final = 2048  # points checked at once, at most


def shear_by_bars(
    u: Ultimate, cases: Floats, factors: Floats, situations: list[str], h: Floats, *, area: Floats, axes: Floats,
    settings: Settings,
) -> ShearCheck:  # fmt: skip
    """Shear of p designed points with the ratio of tension steel and the depth of given bars.

    Parameters
    ----------
    u : Ultimate
        The design of the points.
    cases, factors, situations, h, settings
        As in `design_ultimate`.
    area : ndarray, shape (p, b)
        Bars that lie there [mm2/mm].
    axes : ndarray, shape (p, b)
        Their axes below mid-depth [mm], nan where a layer does not exist.

    Returns
    -------
    ShearCheck
        With links where the design has them and these bars still need them; bars were raised as in the design. A point
        that fails keeps the shear of its design.
    """
    out = {f.name: getattr(u.shear, f.name).copy() for f in fields(ShearCheck)}
    sound = u.failing < 0
    for angle in np.unique(u.turn[sound]):
        own, of = settings.turned(float(angle)), np.flatnonzero(sound & (u.turn == angle))
        for part in blocks(len(of), len(factors), _BLOCK):
            at = of[part]
            rows = shear_rows(
                superpose(cases[at], factors), situations, h[at], axes[at], area[at], own, u.shear.support[at]
            )
            need = (rows.use > 1.0) & (u.shear.a_sw[at] > 0.0)[:, None]
            found = check_shear(rows, need, u.shear.raised[at], situations, own)
            for name, values in out.items():
                values[at] = getattr(found, name)
    return ShearCheck(**out)


def with_shear(u: Ultimate, shear: ShearCheck) -> Ultimate:
    """The design with another check of its shear."""
    return replace(u, shear=shear)
