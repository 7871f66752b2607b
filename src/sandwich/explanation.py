"""The explanation of one point of a job, or of a place that may punch: from what came in to the tables."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pandas as pd

from sandwich.combine.table import Row
from sandwich.design.results import LAYER, REASON, REQUIRED, ULTIMATE_STEEL
from sandwich.design.ultimate import Ultimate
from sandwich.design.worked import quantities, resultant_quantities, worked_point
from sandwich.errors import Fault, Faults, InputError, StaleError
from sandwich.incoming import Incoming, bring_in
from sandwich.job import Job
from sandwich.mechanics.superpose import superpose
from sandwich.model.held_edges import carried, edge_gain
from sandwich.model.mesh import Mesh
from sandwich.model.turn import turn_corners
from sandwich.model.zones import Orientation
from sandwich.places import places_of
from sandwich.prepare import ZoneInput, standard_of
from sandwich.punching import BESIDE, PunchedPlace, loads_on, punch_places, steel_of, steel_over
from sandwich.resultants import COMPONENTS
from sandwich.resume import fresh_job, load_ultimate
from sandwich.standards.interface import Standard
from sandwich.tables.write import file_name
from sandwich.trace import Quantity, Sheet, Step, recording


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
    z, i = find_point([replace(z, zone=job.zones[z.name]) for z in came.zones], point, job)
    ultimate = came.combinations.ultimate()
    if combination is not None and combination not in ultimate.names:
        remedy = f"there are {', '.join(ultimate.names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}'", remedy)])
    combined = superpose(z.cases[i : i + 1], ultimate.factors)[0]
    axes = z.zone.bars.layers().axes(z.h[i])
    settings = z.settings_at(i, standard_of(job))
    sheet = worked_point(
        combined, ultimate.names, ultimate.situations, float(z.h[i]), axes, settings, combination,
        lambda name: steps_before(z, i, came, name), support=0 if z.support is None else int(z.support[i]),
    )  # fmt: skip
    _banded(sheet, job, z, i, standard_of(job))
    _raised(sheet, came, z, i, standard_of(job))
    _compare(sheet, job, z, i)
    return sheet.of_combination()


def _banded(sheet: Sheet, job: Job, z: ZoneInput, i: int, standard: Standard) -> None:
    """Bars of a point that are averages over strips; the answer becomes theirs."""
    u = load_ultimate(job.results / "store" / f"{file_name(z.name)}.npz") if z.bands is not None else None
    if u is None or not (u.cells[i] >= 0).any():
        return
    names = z.settings(standard).names
    means, counts = [], []
    for b in np.flatnonzero(u.cells[i] >= 0):
        count = int((u.cells[:, b] == u.cells[i, b]).sum())
        counts.append(Quantity(f"{names[b]}: points", count, ""))
        means.append(Quantity(names[b], 1e3 * float(u.a_s[i, b]), "mm2/m"))
    sheet.heading = "Strips"
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


def _raised(sheet: Sheet, came: Incoming, z: ZoneInput, i: int, standard: Standard) -> None:
    """Bars of a point that punching raises or asks for; the answer becomes theirs."""
    faults = Faults()
    u = load_ultimate(came.job.results / "store" / f"{file_name(z.name)}.npz")
    if u is None or not any(p.zone == z.name for p in came.job.punching.values()):
        return
    found, over = punch_places(places_of(came, faults), z, u, standard)
    names = z.settings(standard).names
    more = tuple(Quantity(n, 1e3 * a, "mm2/m") for n, a, b in zip(names, over.a_s[i], u.a_s[i], strict=True) if a > b)
    if more:
        raised = {q.symbol: q for q in more}
        sheet.heading = "Punching"
        given = tuple(Quantity(f"{f.place.name}: bars raised by", f.raised, "") for f in found if f.raised > 1.0)
        given += tuple(Quantity(f"{f.place.name}: least", 1e3 * f.least, "mm2/m") for f in found if f.least > 0.0)
        sheet.add(Step("Bars in tension over a place that may punch", standard.clauses["punching"], "", given, more))
        sheet.answer = tuple(raised.get(q.symbol, q) for q in sheet.answer)


def explain_place(path: str | Path, place: str, combination: str | None = None) -> Sheet:
    """Worked calculation of one place that may punch, of a job that has been run.

    Parameters
    ----------
    path : str or Path
        The job file.
    place : str
        Name of the place as in the table of punching.
    combination : str, optional
        An ultimate combination; the worst by default.

    Returns
    -------
    Sheet
        From the forces to the reinforcement; equal to the stored table to 1e-9.

    Raises
    ------
    InputError
        If there is no such place or combination.
    StaleError
        If the job was not run, or has changed since.
    """
    job = fresh_job(path)
    came, faults = bring_in(path), Faults()
    places = {p.name: p for p in places_of(came, faults)}
    faults.stop()
    if place not in places:
        remedy = f"there are {', '.join(places)}" if places else "the job has no [punching.NAME]"
        raise InputError([Fault("--place", f"{job.path} has no place '{place}'", remedy)])
    at, standard = places[place], standard_of(job)
    z = next(replace(z, zone=job.zones[z.name]) for z in came.zones if z.name == at.zone)
    u = load_ultimate(job.results / "store" / f"{file_name(z.name)}.npz")
    if u is None:
        raise StaleError(f"{job.results} holds no design of zone {z.name}; run the job again")
    (worst,), _ = punch_places([at], z, u, standard)
    names = at.chosen.names
    if combination is not None and combination not in names:
        remedy = f"there are {', '.join(names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}' there", remedy)])
    k = names.index(combination) if combination else worst.by
    sheet = _worked_place(worst, k, z, u, standard)
    if k == worst.by:
        table = pd.read_parquet(job.results / "punching.parquet").set_index("place").loc[place]
        pairs = ((worst.punched.v_Ed, "v_Ed [MPa]"), (worst.punched.v_Rd_c, "resistance without [MPa]"))
        if any(abs(value - table[name]) > 1e-9 * max(abs(value), 1.0) for value, name in pairs):
            raise StaleError(f"{place} differs from the stored table; run the job again")
    return sheet


def _worked_place(worst: PunchedPlace, k: int, z: ZoneInput, u: Ultimate, standard: Standard) -> Sheet:
    """Steps of one combination of a place."""
    at, settings = worst.place, z.settings(standard)
    top = bool(at.forces.V[k] >= 0.0)
    over = steel_over(at, z, steel_of(z, u, settings), settings, top=top)
    column = at.column(at.h, over.d, standard)
    load = next(q for j, q in loads_on(at, z, over, worst.raised, settings, top=top) if j == k)
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
            sheet.add(Step("The same found the other way", "equilibrium", "", (), other))
        sheet.heading = "Bars over it"
        face = settings.faces[int(top)]
        count = f"means over {len(over.points)} points in the width of the area and {BESIDE:g} d on both sides"
        ratios = quantities(("rho_1", "rho_2"), np.array([load.rho_x, load.rho_y]), "-")
        given = (Quantity("raised by", worst.raised, ""),) if worst.raised > 1.0 else ()
        results = (Quantity("d", over.d, "mm"), *ratios, Quantity("sigma_cp", load.sigma, "MPa"))
        sheet.add(Step(f"Depth and bars of the {face}, in tension", "", count, given, results))
        sheet.heading = "Control perimeter"
        edges = f"{column.place}; it runs to {len(column.edges)} free edges"
        middle = quantities(("centroid 1", "centroid 2"), column.control.centroid, "mm")
        sheet.add(
            Step("Shortest perimeter on the slab, without its parts behind openings", standard.clauses["punching"],
                 edges, (), (Quantity("length", column.control.u, "mm"), *middle))
        )  # fmt: skip
        sheet.heading = "Punching"
        p = standard.punching(settings.concrete, settings.steel, column, load)
        standard.least_over_column(settings.concrete, settings.steel, column, load)
        sheet.answer = (
            Quantity("v_Ed", p.v_Ed, "MPa"), Quantity("resistance", p.v_Rd_c, "MPa"),
            Quantity("utilisation", p.use, ""), Quantity("at the face", p.use_face, ""),
            Quantity("status", worst.status, ""),
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
        raise InputError([Fault("--point", f"'{point}' is in several zones", f"one of {names} would do")])
    examples = ", ".join(f"{z.name}/{z.labels[0]}" for z in zones)
    raise InputError([Fault("--point", f"{job.path} has no point '{point}'", f"a point is named like {examples}")])


def steps_before(z: ZoneInput, i: int, came: Incoming, name: str) -> list[Step]:
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
        held = _held_step(z, e, corner, factors, came, element, node)
        steps.append(
            Step(f"Element {element} at node {node}: from its own axes to the bar directions", "tensor rule",
                 "n, m by the tensor rule; v by the vector rule", given, resultant_quantities(turned))
        )  # fmt: skip
        steps += held
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


def _held_step(
    z: ZoneInput, e: np.int64, corner: np.int64, factors: np.ndarray, came: Incoming, element: object, node: object
) -> list[Step]:
    """What the moments of a corner gain on the way to a held edge."""
    assert z.elements is not None
    assert z.orientation is not None
    if z.held is None or not (z.held.element == e).any():
        return []
    own = replace(z.held.picked(z.held.element == e), element=np.zeros((z.held.element == e).sum(), dtype=np.int64))
    o = Orientation(z.orientation.flipped[[e]], z.orientation.angle[[e]], z.orientation.bars[[e]])
    turned = turn_corners(came.results.corner[:, z.elements[[e]]], o, z.zone.offset)
    signed = np.array([came.results.kinds[c].signed is not False for c in came.results.cases])
    gain = carried(np.zeros_like(turned), own, edge_gain(turned, own, signed))[:, 0, corner, 3:6]
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
        stored = row.get(ULTIMATE_STEEL, row[REQUIRED])
        if pd.isna(stored):
            stored = row[REQUIRED]
        if row["layer"] not in worked:
            if not np.isnan(stored):
                raise StaleError("the worked calculation fails where the table has steel; run the job again")
            continue
        if not abs(float(worked[row["layer"]]) - stored) <= 1e-9 * max(abs(stored), 1.0):  # type: ignore[arg-type]
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
