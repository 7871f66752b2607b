"""Gaps in the minimum steel of a slab: small parts that do not pull have the minimum of what is around them."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from sandwich.core.connected import connected
from sandwich.core.errors import Faults
from sandwich.design.record import Ultimate
from sandwich.job import Job
from sandwich.project.zone_input import ZoneInput
from sandwich.work.layout import trims


def without_gaps(z: ZoneInput, u: Ultimate) -> Ultimate:
    """The design of a zone with the minimum steel of its gaps.

    Parameters
    ----------
    z : ZoneInput
        The zone, which says up to which area a part without minimum steel is a gap.
    u : Ultimate
        Its design.

    Returns
    -------
    Ultimate
        In each layer, points of a gap have the largest minimum of the points next to it; so noise of the resultants
        does not switch minimum steel on and off point by point.
    """
    if z.surface is None or z.zone.minimum != "slab" or z.zone.points != "nodes" or z.zone.minimum_gaps <= 0.0:
        return u
    a, b = _neighbours(z.surface.corner_points)
    area = trims(z) / 1e6
    least, steel = u.a_s_minimum.copy(), u.a_s.copy()
    exists = np.isfinite(z.zone.bars.layers().axes(z.h))
    for i in range(least.shape[1]):
        bare = exists[:, i] & (least[:, i] == 0.0)
        if not bare.any() or bare.all():
            continue
        inner = bare[a] & bare[b]
        part = connected(len(least), a[inner], b[inner])
        size = np.bincount(part, weights=np.where(bare, area, 0.0))
        around = np.zeros(len(size))
        for one, other in ((a, b), (b, a)):
            edge = bare[one] & ~bare[other]
            np.maximum.at(around, part[one[edge]], np.nan_to_num(least[other[edge], i]))
        filled = np.where(bare & (size <= z.zone.minimum_gaps)[part], around[part], 0.0)
        least[:, i] = np.where(filled > 0.0, filled, least[:, i])
        steel[:, i] = np.where(filled > 0.0, np.maximum(steel[:, i], filled), steel[:, i])
    return replace(u, a_s=steel, a_s_minimum=least)


def _neighbours(corners: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Pairs of points of one element."""
    pairs = [corners[:, [i, j]] for i, j in itertools.combinations(range(corners.shape[1]), 2)]
    each = np.concatenate(pairs)
    each = each[(each >= 0).all(1)]
    return each[:, 0], each[:, 1]


def check_gaps(job: Job, zones: list[ZoneInput], faults: Faults) -> None:
    """Note zones that say what a gap is and have no minimum steel that could have one."""
    for z in zones:
        if not job.writes("zones", z.name, "minimum_gaps"):
            continue
        where = f"{job.path}, zones.{z.name}.minimum_gaps"
        if z.zone.minimum != "slab":
            faults.add(where, f'has no use with minimum = "{z.zone.minimum}"', 'take it out, or use minimum = "slab"')
        elif z.surface is None or z.zone.points != "nodes":
            faults.add(where, "needs points at the nodes of a mesh", "take it out")
