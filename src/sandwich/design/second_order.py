"""Moments that a wall gets out of its plane besides those of the analysis, as a strip of a point bends.

What is not known at a point is taken on the safe side: even moments over the height, and no bars in its stiffness.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from sandwich.design.settings import Settings
from sandwich.standards.arrangement import Floats
from sandwich.standards.interface import SlenderWall

UPRIGHT: Final = 0.7  # sine from which bars count as vertical
WAYS: Final = {" bow +": 1.0, " bow -": -1.0}
BUCKLES: Final = 1e3  # MPa over the thickness: a moment that no section carries


@dataclass(frozen=True)
class AddedMoment:
    """Moments besides those of the analysis, either way (p, k) [N], and what stands against them.

    `beyond` says where the wall buckles or a limit of the standard is passed.
    """

    moment: Floats
    beyond: Floats
    clause: str


def added_moment(
    combined: Floats, situations: list[str], h: Floats, settings: Settings, length: float, creep: float
) -> AddedMoment:
    """Imperfection, minimum eccentricity and second order of a strip of a wall, by its standard.

    Parameters
    ----------
    combined : ndarray, shape (p, k, 8)
        Resultants of each combination in the bar directions [N, mm].
    situations : list of str, length k
        Situation of each.
    h : ndarray, shape (p,)
        Thickness [mm].
    settings : Settings
        Bars, materials, standard, which bars are vertical.
    length : float
        Effective length [mm].
    creep : float
        Effective creep ratio [-].

    Returns
    -------
    AddedMoment
        Zero where the strip pulls; where it buckles a moment that nothing carries.
    """
    v = vertical(settings)
    angles = settings.bars.angles
    upright = np.abs(np.sin(angles) if v else np.cos(angles)) > UPRIGHT
    axes = np.abs(settings.bars.axes(h))
    depth = h / 2.0 + np.nanmin(np.where(upright & np.isfinite(axes), axes, h[:, None] / 2.0), axis=1)
    out, beyond = (np.zeros(combined.shape[:2]) for _ in range(2))
    clause = ""
    of = np.array(situations)
    for t, d in np.unique(np.stack([h, depth], axis=1), axis=0):
        at = np.flatnonzero((h == t) & (depth == d))
        for situation in dict.fromkeys(situations):
            here = np.ix_(at, np.flatnonzero(of == situation))
            n, m = (combined[..., i][here] for i in (v, 3 + v))
            wall = SlenderWall(
                concrete=settings.concrete, steel=settings.steel, situation=situation, length=1.0, thickness=float(t),
                height=length, edges=2, between=length, bars=0.0, depth=float(d), factor=1.0, creep=creep,
                transverse=True,
            )  # fmt: skip
            found = settings.standard.out_of_plane(wall, n, m, m)
            whole = np.where(np.isfinite(found.moment), found.moment, BUCKLES * t)
            out[here] = np.where(n < 0.0, np.maximum(whole - np.abs(m), 0.0), 0.0)
            beyond[here] = ~np.isfinite(found.moment)
            for limit in found.limits:
                beyond[here] = np.maximum(beyond[here], (limit.utilisation > 1.0) & (n < 0.0))
            clause = found.clause
    return AddedMoment(out, beyond, clause)


def both_ways(combined: Floats, added: Floats, settings: Settings) -> Floats:
    """Resultants (p, k, 8) with what is added to their vertical moments (p, k), each both ways, (p, 2 k, 8)."""
    out = np.repeat(combined, len(WAYS), axis=1)
    signs = np.tile(list(WAYS.values()), combined.shape[1])
    out[..., 3 + vertical(settings)] += signs * np.repeat(added, len(WAYS), axis=1)
    return out


def vertical(settings: Settings) -> int:
    """Which of the bar directions is the vertical one: 0 for x, 1 for y."""
    return 0 if settings.vertical == "x" else 1
