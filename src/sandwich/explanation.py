"""The explanation of one point of a job: from the resultants in element axes to the bars of the tables."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pandas as pd

from sandwich.combine.table import Row
from sandwich.design.results import REQUIRED
from sandwich.design.worked import quantities, resultant_quantities, worked_point
from sandwich.errors import Fault, InputError, StaleError
from sandwich.incoming import Incoming, bring_in
from sandwich.job import Job
from sandwich.mechanics.superpose import superpose
from sandwich.model.mesh import Mesh
from sandwich.model.turn import turn_corners
from sandwich.model.zones import Orientation
from sandwich.prepare import ZoneInput, standard_of
from sandwich.resume import fresh_job
from sandwich.trace import Quantity, Sheet, Step


def explain_point(path: str | Path, point: str, combination: str | None = None) -> Sheet:
    """Worked calculation of one point of a job that has been run.

    Parameters
    ----------
    path : str or Path
        The job file.
    point : str
        ``zone/point`` as in the tables, or the point alone where it is unique.
    combination : str, optional
        An ultimate combination; the one that needs most steel by default.

    Returns
    -------
    Sheet
        From the resultants in element axes to the bars; equal to the stored tables to 1e-9.

    Raises
    ------
    InputError
        If there is no such point or combination.
    StaleError
        If the job was not run, or has changed since.
    """
    job = fresh_job(path)
    came = bring_in(path)
    # the run may have laid thicker bars than the job assumes
    z, i = _find([replace(z, zone=job.zones[z.name]) for z in came.zones], point, job)
    ultimate = came.combinations.ultimate()
    if combination is not None and combination not in ultimate.names:
        remedy = f"there are {', '.join(ultimate.names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}'", remedy)])
    combined = superpose(z.cases[i : i + 1], ultimate.factors)[0]
    axes = z.zone.bars.layers().axes(z.h[i])
    settings = z.settings(standard_of(job))
    sheet = worked_point(
        combined, ultimate.names, ultimate.situations, float(z.h[i]), axes, settings, combination,
        lambda name: _preface(z, i, came, name),
    )  # fmt: skip
    _compare(sheet, job, z, i)
    return sheet


def _find(zones: list[ZoneInput], point: str, job: Job) -> tuple[ZoneInput, int]:
    found = []
    for z in zones:
        for i, label in enumerate(z.labels):
            if point in (label, f"{z.name}/{label}"):
                found.append((z, i))
    if len(found) == 1:
        return found[0]
    if found:
        names = ", ".join(f"{z.name}/{z.labels[i]}" for z, i in found)
        raise InputError([Fault("--point", f"'{point}' is in several zones", f"one of {names} would do")])
    examples = ", ".join(f"{z.name}/{z.labels[0]}" for z in zones)
    raise InputError([Fault("--point", f"{job.path} has no point '{point}'", f"a point is named like {examples}")])


def _preface(z: ZoneInput, i: int, came: Incoming, name: str) -> list[Step]:
    """Steps from the resultants in element axes to those of the point."""
    row, results, rules = came.combinations.row(name), came.results, came.job.rules
    factors = np.array([0.0 if results.kinds[c].signed is False else row.factors.get(c, 0.0) for c in results.cases])
    source = f"{rules.code}, {row.clause}" if rules is not None and row.ruled else row.clause
    steps = [Step(f"Combination {name}", source, row.expression, (), ())]
    if z.points is None or z.elements is None or z.orientation is None or results.mesh is None:
        return [*steps, *_signs(z, i, came, row)]
    mesh: Mesh = results.mesh
    used = np.flatnonzero(z.points.point == i)
    for c in used:
        e, corner = z.points.element[c], z.points.corner[c]
        own = np.tensordot(factors, np.nan_to_num(results.corner[:, z.elements[e], corner]), 1)
        o = z.orientation
        single = Orientation(o.flipped[e : e + 1], o.angle[e : e + 1], o.bars[e : e + 1])
        turned = turn_corners(np.broadcast_to(own, (1, 4, 8)).copy(), single, z.zone.offset)[0, 0]
        element = mesh.element_ids[z.elements[e]]
        node = mesh.node_ids[mesh.corners[z.elements[e], corner]]
        given = (
            *resultant_quantities(own),
            Quantity("angle to the x bars", float(np.degrees(o.angle[e])), "deg"),
            Quantity("turned over", "yes" if o.flipped[e] else "no", ""),
        )
        steps.append(
            Step(f"Element {element} at node {node}: from its own axes to the bar directions", "tensor rule",
                 "n, m by the tensor rule; v by the vector rule", given, resultant_quantities(turned))
        )  # fmt: skip
    if len(used) > 1:
        there = np.isfinite(results.corner[:, z.elements[z.points.element[used]], z.points.corner[used]].sum(-1))
        lost = tuple(
            Quantity(f"corners without a row in {case}", int((~there[k]).sum()), "")
            for k, case in enumerate(results.cases)
            if not there[k].all()
        )
        formula = "sum / count" if not lost else "each case by itself: sum / count of the corners it has"
        steps.append(Step(f"Mean of {len(used)} corners", "one smooth patch", formula, lost, ()))
    return [*steps, *_averages(z, i), *_signs(z, i, came, row)]


def _averages(z: ZoneInput, i: int) -> list[Step]:
    """That the point is an average about a peak, and which."""
    if z.averaged is None or z.zone.peaks is None or i not in z.averaged.point:
        return []
    x, y, az = z.averaged.places[z.averaged.peak[int(np.flatnonzero(z.averaged.point == i)[0])]] / 1e3
    given = (Quantity("width", z.zone.peaks.width, "m"), *quantities(("x", "y", "z"), np.array([x, y, az]), "m"))
    formula = "x: mean along y; y: mean along x; nxy, mxy: mean of both; over the width centred at the peak"
    return [Step("Peak averaged over a width", "statics of a section of that width", formula, given, ())]


def _signs(z: ZoneInput, i: int, came: Incoming, row: Row) -> list[Step]:
    """Magnitudes of the cases without signs, with the signs this combination gives them."""
    if not row.signs:
        return []
    own = np.array([bool(c.component) for c in came.combinations.columns])
    factors = replace(came.combinations, rows=(row,)).factors[0] * own
    added = np.tensordot(factors, z.cases[i], 1)
    cases = ", ".join(dict.fromkeys(c.case for c in came.combinations.columns if c.component))
    formula = "sum of factor x magnitude with one sign a component; all sign patterns are designed"
    return [
        Step(
            f"Results without signs: {cases}",
            "magnitudes of a modal combination",
            formula,
            (),
            resultant_quantities(added),
        )
    ]


def _compare(sheet: Sheet, job: Job, z: ZoneInput, i: int) -> None:
    """Hold the worked calculation against the stored table."""
    table = pd.read_parquet(job.results / "steel.parquet")
    rows = table[(table["zone"] == z.name) & (table["point"] == z.labels[i])]
    worked = {q.symbol: q.value for q in sheet.answer}
    for _, row in rows.iterrows():
        stored = row[REQUIRED]
        if row["layer"] not in worked:
            if not np.isnan(stored):
                raise StaleError("the worked calculation fails where the table has steel; run the job again")
            continue
        if not abs(float(worked[row["layer"]]) - stored) <= 1e-9 * max(abs(stored), 1.0):  # type: ignore[arg-type]
            raise StaleError(f"{row['layer']} differs from the stored table; run the job again")
