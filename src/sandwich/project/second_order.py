"""Zones of walls whose combinations add something of their own: amplified shear, moments of second order.

What a combination adds is a column of the zone of its own, which acts with both signs: every design of the zone then
sees plain factored sums.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from sandwich.combine.table import Column, Combinations, Row
from sandwich.core.errors import Faults
from sandwich.core.records import WarningNote
from sandwich.core.trace import Quantity, Step, recording
from sandwich.design.second_order import WAYS, AddedMoment, added_moment, vertical
from sandwich.design.settings import Settings
from sandwich.job import Job
from sandwich.job.zone import SecondOrder
from sandwich.mechanics.superpose import superpose
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Standard

NXY: Final = 2  # among the resultants
SEISMIC: Final = "seismic"


def plain_name(name: str) -> str:
    """Name of a combination without the way its wall bows."""
    return next((name.removesuffix(way) for way in WAYS if name.endswith(way)), name)


def combinations_of_zone(z: ZoneInput, ultimate: Combinations) -> Combinations:
    """Ultimate combinations of a zone: each with its own additions, where the zone asks for them."""
    ultimate = _amplified(z, ultimate)
    if z.zone.second_order is None:
        return ultimate
    own = tuple(Column(f"second order of {r.name}") for r in ultimate.rows)
    rows = tuple(
        replace(r, name=r.name + way, factors={**r.factors, column.case: sign}, base=r.base or r.name)
        for r, column in zip(ultimate.rows, own, strict=True)
        for way, sign in WAYS.items()
    )
    return replace(ultimate, rows=rows, columns=(*ultimate.columns, *own))


def bowed(z: ZoneInput, ultimate: Combinations, standard: Standard) -> ZoneInput:
    """The zone with a column for what each combination adds, made anew where it has them."""
    of, plain = z.zone.second_order, z.cases[:, : len(ultimate.columns)]
    more = _amplified(z, ultimate)
    count = len(more.columns) - len(ultimate.columns)
    if count:
        own = np.zeros((len(plain), count, 8))
        seismic = np.array([s == SEISMIC for s in ultimate.situations])
        own[..., NXY] = (z.zone.shear_factor - 1.0) * superpose(plain, ultimate.factors[seismic])[..., NXY]
        plain = np.concatenate([plain, own], axis=1)
    if of is not None and ultimate.rows:
        plain = with_additions(plain, more.factors, more.situations, z.h, z.settings(standard), of)
    return z if plain.shape == z.cases.shape and not count else replace(z, cases=plain)


def check_shear_factors(job: Job, zones: list[ZoneInput], combinations: Combinations, faults: Faults) -> None:
    """Note factors on the shear of seismic combinations where there are none."""
    if not any(r.situation == SEISMIC for r in combinations.rows):
        for z in (z for z in zones if z.zone.shear_factor > 1.0):
            where = f"{job.path}, zones.{z.name}.shear_factor"
            faults.add(where, "there is no seismic combination for it", "take it out, or give one")


def _amplified(z: ZoneInput, ultimate: Combinations) -> Combinations:
    """Seismic combinations with a column for what their nxy has more, of a zone that asks for it."""
    mine = [r for r in ultimate.rows if r.situation == SEISMIC and z.zone.shear_factor > 1.0]
    if not mine:
        return ultimate
    own = {r.name: Column(f"amplified shear of {r.name}") for r in mine}
    rows = tuple(
        replace(r, factors={**r.factors, own[r.name].case: 1.0}) if r.name in own else r for r in ultimate.rows
    )
    return replace(ultimate, rows=rows, columns=(*ultimate.columns, *own.values()))


def with_additions(
    plain: np.ndarray, factors: np.ndarray, situations: list[str], h: np.ndarray, settings: Settings, of: SecondOrder
) -> np.ndarray:
    """Columns of a zone, and one more for what each combination adds."""
    found = _added(plain, factors, situations, h, settings, of)
    more = np.zeros((len(plain), len(factors), 8))
    more[..., 3 + vertical(settings)] = found.moment
    return np.concatenate([plain, more], axis=1)


def _added(
    plain: np.ndarray, factors: np.ndarray, situations: list[str], h: np.ndarray, settings: Settings, of: SecondOrder
) -> AddedMoment:
    return added_moment(superpose(plain, factors), situations, h, settings, 1e3 * of.effective_length, of.creep)


def warnings_of(z: ZoneInput, ultimate: Combinations, standard: Standard) -> list[WarningNote]:
    """Points that buckle, or where the standard wants another calculation."""
    of = z.zone.second_order
    if of is None or not ultimate.rows:
        return []
    plain = z.cases[:, : len(ultimate.columns)]
    found = _added(plain, ultimate.factors, ultimate.situations, z.h, z.settings(standard), of)
    bad = found.beyond.any(1)
    if not bad.any():
        return []
    told = f"{int(bad.sum())} points buckle or pass a limit of {found.clause}, {z.labels[int(bad.argmax())]} first"
    return [WarningNote(f"zone {z.name}", told, "take a thicker wall, or one held at more places", grave=True)]


def steps_of(z: ZoneInput, i: int, name: str, ultimate: Combinations, standard: Standard) -> list[Step]:
    """How the additions of one combination at one point come about."""
    of, sign = z.zone.second_order, next((s for way, s in WAYS.items() if name.endswith(way)), None)
    row = next((r for r in ultimate.rows if r.name == plain_name(name)), None)
    if row is None:  # of service, which has no additions
        return []
    shear = _shear_step(z, i, row, ultimate)
    if of is None or sign is None:
        return shear
    one = replace(ultimate, rows=(row,))
    plain = z.cases[[i], : len(ultimate.columns)]
    with recording() as inner:
        found = _added(plain, one.factors, one.situations, z.h[[i]], z.settings_at(i, standard), of)
    given = (Quantity("effective length", of.effective_length, "m"),)
    m = ("mx", "my")[vertical(z.settings(standard))]
    moment = Quantity(f"{m} added", sign * float(found.moment[0, 0]) / 1e3, "kNm/m")
    title = "Moment added out of the plane, both ways"
    return [*shear, *(s for _, s in inner.steps), Step(title, found.clause, "M_design - |M|", given, (moment,))]


def _shear_step(z: ZoneInput, i: int, row: Row, ultimate: Combinations) -> list[Step]:
    """In-plane shear of a seismic combination times the factor of the zone."""
    factor = z.zone.shear_factor
    if row.situation != SEISMIC or factor == 1.0:
        return []
    one = replace(ultimate, rows=(row,))
    plain = float(superpose(z.cases[[i], : len(ultimate.columns)], one.factors)[0, 0, NXY])
    given = (Quantity("nxy", plain, "kN/m"), Quantity("shear_factor", factor, "-"))
    more = (Quantity("nxy", factor * plain, "kN/m"),)
    return [Step("In-plane shear of a seismic wall", "as the zone says", "shear_factor nxy", given, more)]
