"""Large lightly reinforced walls: bending and second order beside the dynamic axial force of the standard."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.walls.bars import WallSteel
from sandwich.design.walls.checks import SEISMIC, PartCheck, bending, second_order
from sandwich.design.walls.ends import bars_alone
from sandwich.design.walls.sections import SectionStrength
from sandwich.project.project import Project
from sandwich.standards.interface import DynamicAxial
from sandwich.work.walls.checks import CheckedPart
from sandwich.work.walls.stations import WallCuts

Floats = NDArray[np.float64]
DYNAMIC: Final = "bending with dynamic axial force"
DYNAMIC_OUT: Final = "out of plane with dynamic axial force"


def lasting(project: Project, cuts: WallCuts) -> NDArray[np.bool_]:
    """Which cases are not of an earthquake; all of a job without kinds of cases."""
    kinds = project.results.kinds
    return np.array([kinds[n].kind != SEISMIC if n in kinds else True for n in cuts.case_names])


def gravity(cuts: WallCuts, lasts: NDArray[np.bool_], c: CheckedPart, which: NDArray[np.int64]) -> Floats:
    """Axial force that lasting cases give of some demands of a part [N]."""
    factors = np.array([[row.factors.get(n, 0.0) for n in cuts.case_names] for row in cuts.rows]) * lasts
    N = np.stack([s.cases[:, 0] for s in c.stations])
    d = c.member.demand
    found: Floats = (factors @ N.T)[d.combination[which], d.station[which]]
    return found


def dynamic_checks(
    project: Project, cuts: WallCuts, c: CheckedPart, steel: WallSteel, acts: DynamicAxial, *, exact: bool
) -> Iterator[PartCheck]:
    """Bending in the plane and out of it beside the axial force that acts either way."""
    m, of = c.member, c.member.of
    mine = np.flatnonzero(m.situations[m.demand.combination] == SEISMIC)
    d = m.demand.picked(mine)
    more = acts.ratio * np.abs(gravity(cuts, lasting(project, cuts), c, mine))
    plain = m.strengths.of(c.geometry, bars_alone(steel), of, SEISMIC)
    law = replace(plain.law, concrete=replace(plain.law.concrete, eps_cu=max(acts.eps_cu, plain.law.concrete.eps_cu)))
    strength = SectionStrength(plain.section, law)
    both = np.concatenate([np.arange(len(mine))] * 2)
    moved = replace(d.picked(both), N=np.concatenate([d.N - more, d.N + more]))
    yield bending(DYNAMIC, strength, moved, mine[both], exact=exact, rays=False, clause=acts.clause)
    pressed = replace(d, N=d.N - more)
    bottom, slim, e = second_order(c.geometry, steel, of, m.standard, pressed, m.stations, SEISMIC)
    if np.isfinite(slim.moment).all():
        yield bending(
            DYNAMIC_OUT, strength, e, mine[bottom], exact=exact, rays=False, clause=f"{acts.clause}, {slim.clause}",
            M_out=slim.moment,
        )  # fmt: skip
        return
    i = int(mine[bottom[np.flatnonzero(~np.isfinite(slim.moment))[0]]])
    yield PartCheck(
        name=DYNAMIC_OUT, clause=f"{acts.clause}, {slim.clause}", demand=np.inf, capacity=np.nan, unit="N mm",
        utilisation=np.inf, index=i, note="buckles",
    )  # fmt: skip
