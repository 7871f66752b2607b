"""The explanation of one point of a job, or of a loaded area: from the input to the tables."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.combine.table import Row
from sandwich.commands.explain_columns import near_columns
from sandwich.core.compiled import plain_python
from sandwich.core.errors import Fault, InputError, StaleError
from sandwich.core.resultants import COMPONENTS
from sandwich.core.trace import Quantity, Sheet, Step, recording
from sandwich.design.results import LAYER, REASON, REQUIRED, ULTIMATE_STEEL
from sandwich.design.worked import quantities, resultant_quantities, worked_point
from sandwich.job import Job
from sandwich.mechanics.superpose import superpose
from sandwich.model.held_edges import edge_gain, gained
from sandwich.model.turn import turn_corners
from sandwich.model.zones import Orientation
from sandwich.project.project import Project
from sandwich.project.second_order import plain_name, steps_of
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.punching import MINIMUM_OVER, NAME, PUNCHING
from sandwich.stages.shear import SHEAR_STAGE
from sandwich.stages.ultimate import ULTIMATE, ZoneDesign
from sandwich.standards.interface import Standard
from sandwich.work.punching import PunchedArea, loads_on, steel_over

SAME: Final = 1e-6  # of a stored value: what iterations promise, whatever machine did them


def explain_point(job: str | Path | Job | Project, point: str, combination: str | None = None) -> Sheet:
    """Worked calculation of one point of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job.
    point : str
        ``zone/point`` as in the tables, or the point alone where it is unique.
    combination : str, optional
        An ultimate combination; the one that needs most steel by default.

    Returns
    -------
    Sheet
        From the resultants in element axes to the bars; equal to the stored tables to 1e-6.

    Raises
    ------
    InputError
        If there is no such point or combination.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    standard = project.standard
    designs = project.left(ULTIMATE)  # whose bars may be thicker than the job assumes
    z, i = find_point([d.zone for d in designs.values()], point, project.job)
    ultimate = project.ultimate_of(z)
    if combination is not None and combination not in ultimate.names:
        remedy = f"there are {', '.join(ultimate.names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}'", remedy)])
    axes = z.zone.bars.layers().axes(z.h[i])
    settings, shear = z.settings_at(i, standard), project.left(SHEAR_STAGE)[z.name]
    with plain_python():
        combined = superpose(z.cases[i : i + 1], ultimate.factors)[0]
        sheet = worked_point(
            combined,
            ultimate.names,
            ultimate.situations,
            float(z.h[i]),
            axes=axes,
            settings=settings,
            combination=combination,
            preface=lambda name: steps_before(z, i, project, name),
            support=0 if z.support is None else int(z.support[i]),
            bars=shear.bars.part(i),
        )
    _averaged_bars(sheet, designs[z.name], i, standard)
    _raised(sheet, project, designs[z.name], i)
    _compare(sheet, project.job, z, i)
    return sheet.of_combination()


def _averaged_bars(sheet: Sheet, d: ZoneDesign, i: int, standard: Standard) -> None:
    """Bars of a point that are averages over strips; the answer becomes theirs."""
    u = d.own
    if not (u.cells[i] >= 0).any():
        return
    names = d.zone.settings(standard).names
    means, counts = [], []
    for b in np.flatnonzero(u.cells[i] >= 0):
        count = int((u.cells[:, b] == u.cells[i, b]).sum())
        counts.append(Quantity(f"{names[b]}: points", count, ""))
        means.append(Quantity(names[b], 1e3 * float(u.a_s[i, b]), "mm2/m"))
    sheet.heading = "Averaging strips"
    formula = (
        "sum(area of the point x bars) / sum(area), each combination by itself; then the largest and minimum steel"
    )
    sheet.add(
        Step(
            "Bars averaged over a station of a strip", "equilibrium of the width", formula, tuple(counts), tuple(means)
        )
    )
    known = {q.symbol: q for q in means}
    sheet.answer = tuple(known.get(q.symbol, q) for q in sheet.answer)


def _raised(sheet: Sheet, project: Project, d: ZoneDesign, i: int) -> None:
    """Bars of a point that punching raises or asks for, or that lie near a column; the answer becomes theirs."""
    names = d.zone.settings(project.standard).names
    pairs = zip(names, d.final.a_s[i], d.own.a_s[i], strict=True)
    found = {n: Quantity(n, 1e3 * a, "mm2/m") for n, a, b in pairs if a > b}
    if not found:
        return
    sheet.answer = tuple(found.get(q.symbol, q) for q in sheet.answer)
    filled = d.final.a_s_minimum[i] > d.own.a_s_minimum[i]
    gaps = {n: 1e3 * a for n, a, own in zip(names, d.final.a_s_minimum[i], filled, strict=True) if own}
    if gaps:
        told = "parts of the layer without tension up to this area: as beside them"
        limit = (Quantity("area", d.zone.zone.minimum_gaps, "m2"),)
        more = tuple(Quantity(n, a, "mm2/m") for n, a in gaps.items())
        sheet.heading = "Minimum steel"
        sheet.add(Step("Gaps in the minimum steel of a face", "closed, on the safe side", told, limit, more))
    found = {n: q for n, q in found.items() if q.value > gaps.get(n, 0.0)}
    near = dict(near_columns(project, d, i, found))
    sheet.heading = "Bars near columns"
    for step in near.values():
        sheet.add(step)
    more = tuple(q for name, q in found.items() if name not in near)
    if not more:
        return
    table = pd.read_parquet(project.job.results / "punching.parquet")
    own = table[table["zone"] == d.zone.name]
    raised, minimum = own[own["bars raised by"] > 1.0], own[own[MINIMUM_OVER] > 0.0]
    given = tuple(
        Quantity(f"{name}: bars raised by", by, "")
        for name, by in zip(raised[NAME], raised["bars raised by"], strict=True)
    )
    given += tuple(
        Quantity(f"{name}: minimum", by, "mm2/m") for name, by in zip(minimum[NAME], minimum[MINIMUM_OVER], strict=True)
    )
    sheet.heading = "Punching"
    sheet.add(Step("Bars in tension over a loaded area", project.standard.clauses["punching"], "", given, more))


def explain_loaded_area(job: str | Path | Job | Project, area: str, combination: str | None = None) -> Sheet:
    """Worked calculation of one loaded area, of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job.
    area : str
        Name of the loaded area as in the table of punching.
    combination : str, optional
        An ultimate combination; the worst by default.

    Returns
    -------
    Sheet
        From the forces to the reinforcement; equal to the stored table to 1e-6.

    Raises
    ------
    InputError
        If there is no such loaded area or combination.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    areas = {p.area.name: p for p in project.left(PUNCHING)} if PUNCHING.asked(project) else {}
    if area not in areas:
        remedy = f"there are {', '.join(areas)}" if areas else "the job has no [punching.NAME]"
        raise InputError([Fault("--punching", f"{project.job.path} has no loaded area '{area}'", remedy)])
    worst, standard = areas[area], project.standard
    d = project.left(ULTIMATE)[worst.area.zone]
    names = worst.area.chosen.names
    if combination is not None and combination not in names:
        remedy = f"there are {', '.join(names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}' there", remedy)])
    k = names.index(combination) if combination else worst.by
    sheet = _worked_area(worst, k, d, standard)
    if k == worst.by:
        table = pd.read_parquet(project.job.results / "punching.parquet").set_index(NAME).loc[area]
        pairs = ((worst.punched.v_Ed, "v_Ed [MPa]"), (worst.punched.v_Rd_c, "v_Rd,c [MPa]"))
        if any(abs(value - table[name]) > SAME * max(abs(value), 1.0) for value, name in pairs):
            raise StaleError(f"{area} differs from the stored table; run the job again")
    return sheet


def _worked_area(worst: PunchedArea, k: int, d: ZoneDesign, standard: Standard) -> Sheet:
    """Steps of one combination of a loaded area."""
    z, at = d.zone, worst.area
    settings = z.settings(standard)
    top = bool(at.forces.V[k] >= 0.0)
    over = steel_over(at, z, worst.steel, settings, top=top)
    load = next(q for j, q in loads_on(at, z, over, worst.factor, settings, top=top) if j == k)
    source = {"integrated": "resultants of the elements around it", "reactions": "reactions inside its plan"}
    of = "force given by case" if isinstance(at.entry.force, dict) else source[at.entry.force]
    V, moment = at.forces.V / 1e3, at.forces.moment / 1e6
    with recording() as sheet:
        sheet.heading = "Force"
        row = at.chosen.row(at.chosen.names[k])
        sheet.add(Step(f"Combination {row.name}", row.clause, row.expression, (), ()))
        found = (Quantity("V", float(V[k]), "kN"), *quantities(("V e_1", "V e_2"), moment[k], "kNm"))
        sheet.add(Step(f"Force and moments about the middle of {at.name}", "equilibrium", of, (), found))
        if at.other is not None:
            by = (Quantity("V", float(at.other.V[k] / 1e3), "kN"),)
            other = by + quantities(("V e_1", "V e_2"), at.other.moment[k] / 1e6, "kNm")
            sheet.add(Step("The same by the other method", "equilibrium", "", (), other))
        sheet.heading = "Bars over it"
        face = settings.faces[int(top)]
        beside = standard.control(at.h, over.d).beside
        count = f"means over {len(over.points)} points in the width of the area and {beside:.3g} d on both sides"
        ratios = quantities(("rho_1", "rho_2"), np.array([load.rho_x, load.rho_y]), "-")
        given = (Quantity("raised by", worst.factor, ""),) if worst.factor > 1.0 else ()
        depths = quantities(("h", "d"), np.array([at.h, over.d]), "mm")
        results = (*depths, *ratios, Quantity("sigma_cp", load.sigma, "MPa"))
        bars = "Bars provided at" if worst.steel.laid else "Bars required at"
        sheet.add(Step(f"{bars} the {face}, in tension, and their depth", "", count, given, results))
        sheet.heading = "Control perimeter"
        column = at.column(at.h, over.d, standard)
        edges = f"{column.place}; it runs to {len(column.edges)} free edges"
        middle = quantities(("centroid 1", "centroid 2"), column.control.centroid, "mm")
        sheet.add(
            Step("Shortest perimeter on the slab, without its parts behind openings", standard.clauses["punching"],
                 edges, (), (Quantity("length", column.control.u, "mm"), *middle))
        )  # fmt: skip
        sheet.heading = "Punching"
        p = standard.punching(settings.concrete, settings.steel, column, load)
        standard.minimum_over_column(settings.concrete, settings.steel, column, load)
        sheet.answer = (
            Quantity("v_Ed", p.v_Ed, "MPa"), Quantity("resistance", p.v_Rd_c, "MPa"),
            Quantity("utilisation", p.use, ""), Quantity("at the face", p.use_face, ""),
            Quantity("status", str(worst.status), ""),
        )  # fmt: skip
        r = p.reinforcement
        if r is not None and not r.why:
            rows = zip(r.distance, r.length, r.area, r.legs, strict=True)
            told = tuple(
                Quantity(
                    f"row {i + 1}", f"{a:.0f} mm from the face, {s:.0f} mm2 on {length:.0f} mm, {n} legs or more", ""
                )
                for i, (a, length, s, n) in enumerate(rows)
            )
            sheet.add(Step("Rows of reinforcement", standard.clauses["punching links"], "", (), told))
    return sheet


def find_point(zones: list[ZoneInput], point: str, job: Job) -> tuple[ZoneInput, int]:
    """Zone and row of a point by its name; `InputError` where there is none, or several."""
    found = []
    for z in zones:
        for i, label in enumerate(z.labels):
            if point in (label, f"{z.name}/{label}"):
                found.append((z, i))
    if len(found) == 1:
        return found[0]
    if found:
        names = ", ".join(f"{z.name}/{z.labels[i]}" for z, i in found)
        raise InputError([Fault("--point", f"'{point}' is in several zones", f"use one of {names}")])
    if not zones:
        raise InputError([Fault("--point", f"{job.path} designs no zone point by point", "explain a part with --wall")])
    examples = ", ".join(f"{z.name}/{z.labels[0]}" for z in zones)
    raise InputError([Fault("--point", f"{job.path} has no point '{point}'", f"a point is named like {examples}")])


def steps_before(z: ZoneInput, i: int, project: Project, name: str) -> list[Step]:
    """Steps from the resultants in element axes to those of the point."""
    row, results, rules = project.combinations.row(plain_name(name)), project.results, project.job.rules
    factors = np.array([0.0 if results.kinds[c].signed is False else row.factors.get(c, 0.0) for c in results.cases])
    source = f"{rules.code}, {row.clause}" if rules is not None and row.ruled else row.clause
    steps = [Step(f"Combination {name}", source, row.expression, (), ())]
    added = steps_of(z, i, name, project.combinations.ultimate(), project.standard)
    if z.surface is None:
        return [*steps, *_signs(z, i, project, row), *added]
    s = z.surface
    mesh, points, o = s.mesh, s.points, s.orientation
    used = np.flatnonzero(points.point == i)
    for c in used:
        e, corner = points.element[c], points.corner[c]
        own = np.tensordot(factors, np.nan_to_num(results.corner[:, s.elements[e], corner]), 1)
        single = Orientation(o.flipped[e : e + 1], o.angle[e : e + 1], o.bars[e : e + 1])
        turned = turn_corners(np.broadcast_to(own, (1, 4, 8)).copy(), single, z.zone.offset)[0, 0]
        element = mesh.element_ids[s.elements[e]]
        node = mesh.node_ids[mesh.corners[s.elements[e], corner]]
        given = (
            *resultant_quantities(own),
            Quantity("angle to the x bars", float(np.degrees(o.angle[e])), "deg"),
            Quantity("turned over", "yes" if o.flipped[e] else "no", ""),
        )
        held = _held_step(z, e, corner, factors, project, element, node)
        steps.append(
            Step(f"Element {element} at node {node}: from its own axes to the bar directions", "tensor rule",
                 "n, m by the tensor rule; v by the vector rule", given, resultant_quantities(turned))
        )  # fmt: skip
        steps += held
    if len(used) > 1:
        there = np.isfinite(results.corner[:, s.elements[points.element[used]], points.corner[used]].sum(-1))
        lost = tuple(
            Quantity(f"corners without a row in {case}", int((~there[k]).sum()), "")
            for k, case in enumerate(results.cases)
            if not there[k].all()
        )
        formula = "sum / count" if not lost else "each case by itself: sum / count of the corners it has"
        steps.append(Step(f"Mean of {len(used)} corners", "one smooth patch", formula, lost, ()))
    return [*steps, *_averages(z, i), *_signs(z, i, project, row), *added]


def _held_step(
    z: ZoneInput, e: np.int64, corner: np.int64, factors: np.ndarray, project: Project, element: object, node: object
) -> list[Step]:
    """What the moments of a corner gain on the way to a held edge."""
    s = z.on_mesh
    if s.held is None or not (s.held.element == e).any():
        return []
    its = s.held.element == e
    own = replace(s.held.picked(its), element=np.zeros(its.sum(), dtype=np.int64))
    o = Orientation(s.orientation.flipped[[e]], s.orientation.angle[[e]], s.orientation.bars[[e]])
    turned = turn_corners(project.results.corner[:, s.elements[[e]]], o, z.zone.offset)
    signed = np.array([project.results.kinds[c].signed is not False for c in project.results.cases])
    gain = gained(turned.shape[:-1], own, edge_gain(turned, own, signed))[:, 0, corner]
    added = np.tensordot(factors, gain, 1)
    if not added.any():
        return []
    distance = Quantity("from the middle of the element", float(own.reach.max()), "mm")
    formula = "dm_s/ds = -v_s - dm_st/dt; each case by itself, as far as its corner values do not show it"
    return [
        Step(f"Element {element} at node {node}: moments carried to the held edge", "equilibrium of the element",
             formula, (distance,), quantities(COMPONENTS[3:6], added / 1e3, "kNm/m"))
    ]  # fmt: skip


def _averages(z: ZoneInput, i: int) -> list[Step]:
    """That the point is an average about a peak, and which."""
    if z.averaged is None or z.zone.peaks is None or i not in z.averaged.point:
        return []
    x, y, az = z.averaged.places[z.averaged.peak[int(np.flatnonzero(z.averaged.point == i)[0])]] / 1e3
    given = (Quantity("width", z.zone.peaks.width, "m"), *quantities(("x", "y", "z"), np.array([x, y, az]), "m"))
    formula = "x: mean along y; y: mean along x; nxy, mxy: mean of both; over the width centred at the peak"
    return [Step("Peak averaged over a width", "statics of a section of that width", formula, given, ())]


def _signs(z: ZoneInput, i: int, project: Project, row: Row) -> list[Step]:
    """Magnitudes of the cases without signs, with the signs this combination gives them."""
    if not row.signs:
        return []
    own = np.array([bool(c.component) for c in project.combinations.columns])
    factors = replace(project.combinations, rows=(row,)).factors[0] * own
    added = np.tensordot(factors, z.cases[i, : len(factors)], 1)
    cases = ", ".join(dict.fromkeys(c.case for c in project.combinations.columns if c.component))
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
        stored = row.get(ULTIMATE_STEEL, row[REQUIRED])
        if pd.isna(stored):
            stored = row[REQUIRED]
        if row["layer"] not in worked:
            if not np.isnan(stored):
                raise StaleError("the worked calculation fails where the table has steel; run the job again")
            continue
        if not abs(float(worked[row["layer"]]) - stored) <= SAME * max(abs(stored), 1.0):  # type: ignore[arg-type]
            raise StaleError(f"{row['layer']} differs from the stored table; run the job again")
    more = rows[rows[REASON] == "service"]
    if len(more):
        sheet.heading = "Service"
        asked = {str(r[LAYER]): Quantity(str(r[LAYER]), float(r[REQUIRED]), "mm2/m") for _, r in more.iterrows()}
        sheet.add(
            Step("Bars that service asks for", "minimum steel against cracking, widths, stresses: explain --crack",
                 "larger than that of the ultimate state", (), tuple(asked.values()))
        )  # fmt: skip
        sheet.answer = tuple(asked.get(q.symbol, q) for q in sheet.answer)
