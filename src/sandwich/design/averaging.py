"""Bars averaged over strips of a slab: forces formed at points for each combination, then averaged across a width."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.fields import design_combined
from sandwich.design.minimum import minimum_steel
from sandwich.design.pressed import in_many_layers
from sandwich.design.record import Ultimate
from sandwich.design.rows import fields_of
from sandwich.design.settings import Settings
from sandwich.design.transverse import ShearCheck, check_shear, shear_rows
from sandwich.mechanics.superpose import blocks, superpose

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_AT_ONCE: Final = 40  # combinations


@dataclass(frozen=True)
class AveragingStrips:
    """Cells over which bars are averaged: a station of a strip, by point and bar layer (p, b), -1 for none.

    `tributary` is the area that each point stands for, shape (p,) [mm2].
    """

    cells: Ints
    tributary: Floats


def averaged(
    u: Ultimate, cases: Floats, factors: Floats, situations: list[str], *, h: Floats, settings: Settings, support: Ints,
    strips: AveragingStrips,
) -> Ultimate:  # fmt: skip
    """The design with the bars of each cell averaged.

    Parameters
    ----------
    u : Ultimate
        The design of the points.
    cases, factors, situations, h, settings, support
        As in `design_ultimate`.
    strips : AveragingStrips
        Which points are averaged.

    Returns
    -------
    Ultimate
        Areas, minimum steel and shear with them. The bars of each combination are averaged by themselves; a cell with a
        point that fails or has bars in compression is left as it is.

    References
    ----------
    Bars in tension yield and share what a width of slab asks for; equilibrium of the width is kept.
    """
    p, b = strips.cells.shape
    strengths = [settings.standard.strengths(settings.concrete, settings.steel, s) for s in situations]
    axes = settings.bars.axes(h)
    areas = np.zeros((p, b))
    bad = u.failing >= 0
    if settings.joint:
        areas = _means(np.nan_to_num(u.a_s_ultimate)[:, None], strips)[:, 0]
    else:
        for part in blocks(len(factors), p, _AT_ONCE):
            few = strengths[part]
            rows = design_combined(superpose(cases, factors[part]), few, h, axes, settings)
            if settings.method == "sandwich":
                rows = in_many_layers(fields_of(rows, p, settings.bars.weights), few, settings, every=True).rows
            each = (rows.witness.bars / rows.f_yd[:, None]).reshape(p, len(few), b)
            areas = np.maximum(areas, _means(each, strips).max(1))
    cells = strips.cells.copy()
    alone = bad | (u.pressed > 0.0).any(1)  # bars in compression come from the point, not from its combinations' fields
    for i in range(b):
        cells[np.isin(cells[:, i], cells[alone, i]), i] = -1
    strength = np.where(cells >= 0, areas, u.a_s_ultimate)
    least = np.where(
        bad[:, None], np.nan, minimum_steel(np.nan_to_num(strength), h, h[:, None] / 2 + np.abs(axes), settings)
    )
    required = np.maximum(strength, least)
    shear = {f.name: getattr(u.shear, f.name).copy() for f in fields(ShearCheck)}
    for part in blocks(p, len(factors), 2048):
        rows_ = shear_rows(
            superpose(cases[part], factors), situations, h[part], axes[part], np.nan_to_num(required[part]), settings,
            support[part],
        )  # fmt: skip
        checked = check_shear(rows_, np.zeros(rows_.v_Ed.shape, bool), np.ones(len(rows_.v_Ed)), situations, settings)
        for name, values in shear.items():
            values[part] = getattr(checked, name)
    return replace(
        u, a_s=required, a_s_ultimate=strength, a_s_minimum=least, cells=cells, tributary=strips.tributary,
        total=strength @ settings.bars.weights, bound=np.where((cells >= 0).any(1), np.nan, u.bound),
        shear=ShearCheck(**shear),
    )  # fmt: skip


def averaged_cases(cases: Floats, strips: AveragingStrips) -> Floats:
    """Resultants averaged over the cells, for the service state: elastic, where bars are not averaged as at yield.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case in the bar directions [N, mm].
    strips : AveragingStrips
        Which points are averaged.

    Returns
    -------
    ndarray, shape (p, c, 8)
        nx, mx over the cells of the x bars, ny, my over those of the y bars, nxy, mxy the mean of both; vx, vy and
        points outside the cells as they are.

    References
    ----------
    Statics of a section of the width.
    """
    out = cases.copy()
    twice = replace(strips, cells=np.repeat(strips.cells[:, :2], 4, axis=1))
    own = cases[..., [0, 3, 2, 5, 1, 4, 2, 5]]
    means = np.where(twice.cells[:, None] >= 0, _means(own, twice), own)
    out[..., [0, 3, 1, 4]] = means[..., [0, 1, 4, 5]]
    out[..., [2, 5]] = (means[..., [2, 3]] + means[..., [6, 7]]) / 2
    return out


def _means(each: Floats, strips: AveragingStrips) -> Floats:
    """Means over the cells of (p, k, b), given to each of their points; zero outside."""
    out = np.zeros(each.shape)
    for i in range(each.shape[2]):
        at = np.flatnonzero(strips.cells[:, i] >= 0)
        if not len(at):
            continue
        _, row = np.unique(strips.cells[at, i], return_inverse=True)
        weight = strips.tributary[at]
        whole = np.zeros((row.max() + 1, each.shape[1]))
        np.add.at(whole, row, weight[:, None] * each[at, :, i])
        out[at, :, i] = (whole / np.bincount(row, weight)[:, None])[row]
    return out
