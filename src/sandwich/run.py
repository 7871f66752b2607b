"""Order of the stages of a job: read, combine, ultimate, tables, maps, report; and the explanation of a point."""

from __future__ import annotations

import hashlib
import json
import logging
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd

from sandwich import __version__, compiled
from sandwich.combine.listed import Combinations, combinations_of
from sandwich.design.results import REQUIRED, checks_frame, layer_names, steel_frame
from sandwich.design.summary import Certificate, certificate_of
from sandwich.design.ultimate import Settings, Ultimate, design_ultimate
from sandwich.design.worked import resultant_quantities, worked_point
from sandwich.errors import Fault, Faults, InputError, StaleError
from sandwich.job import TABLES, Job, Zone, load
from sandwich.mechanics.superpose import superpose
from sandwich.model.mesh import Mesh
from sandwich.model.points import Points, make_points
from sandwich.model.turn import turn_corners
from sandwich.model.zones import Orientation, elements_of_zones, orient, thickness_of_zone
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.interface import Strengths
from sandwich.tables.assemble import Results, read_job
from sandwich.tables.write import check_folder, read_store, write_store, write_table, write_text
from sandwich.trace import Quantity, Sheet, Step

log = logging.getLogger("sandwich")
Progress = Callable[[str, int, int], None]


@dataclass(frozen=True)
class ZoneInput:
    """A zone ready for design: its points and what they were made from. Mesh parts are None for a bare table."""

    name: str
    zone: Zone
    labels: np.ndarray
    xyz: np.ndarray
    h: np.ndarray
    one_sided: np.ndarray
    size: np.ndarray
    cases: np.ndarray
    elements: np.ndarray | None = None
    orientation: Orientation | None = None
    points: Points | None = None

    def settings(self, standard: EN1992) -> Settings:
        """What the design of the zone needs."""
        z = self.zone
        return Settings(z.bars.layers(), z.concrete, z.steel, standard, z.method, z.minimum, z.vertical)


@dataclass(frozen=True)
class RunResult:
    """What a run leaves: frames with units in their headings, the certificate, files written."""

    job: Job
    results: Results
    zones: list[ZoneInput]
    combinations: Combinations
    points: pd.DataFrame
    steel: pd.DataFrame
    checks: pd.DataFrame
    certificate: Certificate
    strengths: dict[str, Strengths]
    folder: Path
    report: Path | None = None


def _nothing(what: str, done: int, of: int) -> None:
    """Progress that nobody watches."""


def prepare(job: Job, results: Results) -> list[ZoneInput]:
    """Turn and average the results of every zone.

    Raises
    ------
    InputError
        With every fault of every zone.
    """
    faults = Faults()
    zones = _bare_zone(job, results, faults) if results.mesh is None else _mesh_zones(job, results, faults)
    for z in zones:
        try:
            z.zone.bars.layers().axes(z.h)
        except ValueError as error:
            found, _, remedy = str(error).partition("; ")
            faults.add(f"{job.path}, zones.{z.name}.bars", found, remedy)
    faults.stop()
    return zones


def _mesh_zones(job: Job, results: Results, faults: Faults) -> list[ZoneInput]:
    mesh = results.mesh
    assert mesh is not None
    out = []
    for name, elements in elements_of_zones(job, mesh, faults).items():
        zone = job.zones[name]
        where = f"{job.path}, zones.{name}"
        h = thickness_of_zone(job, name, mesh, elements, faults)
        bare = ~np.isfinite(results.corner[:, elements, :3]).all((0, 2, 3))
        if bare.any():
            more = f" and {bare.sum() - 1} more" if bare.sum() > 1 else ""
            found = f"element {mesh.element_ids[elements[bare]][0]}{more} has no results"
            faults.add(where, found, "export them or take the elements out of the zone")
            continue
        orientation = orient(zone, mesh, elements, where, faults)
        if not np.isfinite(h).all():
            continue
        points = make_points(mesh, elements, h, orientation, zone.points)
        turned = turn_corners(results.corner[:, elements], orientation, zone.offset)
        cases = np.ascontiguousarray(np.moveaxis(points.mean(turned), 0, 1))
        out.append(
            ZoneInput(
                name, zone, points.labels, points.xyz, points.thickness, points.one_sided, points.size, cases,
                elements, orientation, points,
            )  # fmt: skip
        )
        if orientation.flipped.any():
            log.warning("zone %s: %d elements have their normal on the other side; their faces are swapped",
                        name, int(orientation.flipped.sum()))  # fmt: skip
    return out


def _bare_zone(job: Job, results: Results, faults: Faults) -> list[ZoneInput]:
    if len(job.zones) != 1:
        found = f"{len(job.zones)} zones for a bare table of resultants"
        faults.add(f"{job.path}, zones", found, "one zone takes all its points; a mesh is needed for more")
        faults.stop()
    name, zone = next(iter(job.zones.items()))
    p = len(results.point_ids)
    h = np.full(p, zone.thickness) if zone.thickness else results.thickness
    if not np.isfinite(h).all():
        where = f"{job.path}, zones.{name}"
        faults.add(where, "no thickness", "give zones.NAME.thickness in mm or a column 'thickness'")
        faults.stop()
    labels = np.array([str(v) for v in results.point_ids])
    cases = np.ascontiguousarray(np.moveaxis(results.point, 0, 1))
    if zone.offset:
        from sandwich.resultants import to_mid_depth

        cases = to_mid_depth(cases, np.full(cases.shape[:-1], zone.offset))
    nowhere = np.full((p, 3), np.nan)
    return [ZoneInput(name, zone, labels, nowhere, h, np.zeros(p, dtype=bool), np.full(p, np.nan), cases)]


def points_frame(zones: list[ZoneInput], ultimate: list[Ultimate], combinations: Combinations) -> pd.DataFrame:
    """One row a point: place, thickness, doubts about its resultants."""
    out = []
    for z, u in zip(zones, ultimate, strict=True):
        worst_v = np.abs(superpose(z.cases, combinations.factors)[:, :, 6:]).max((1, 2))
        low = np.where(z.one_sided, worst_v * np.nan_to_num(z.size) / 2, 0.0)
        out.append(
            pd.DataFrame(
                {
                    "zone": z.name, "point": z.labels.astype(object),
                    "x [m]": z.xyz[:, 0] / 1e3, "y [m]": z.xyz[:, 1] / 1e3, "z [m]": z.xyz[:, 2] / 1e3,
                    "thickness [mm]": z.h, "one-sided": z.one_sided,
                    "moment low by up to [kNm/m]": low / 1e3,
                    "lower bound [mm2/m]": u.bound * 1e3, "steel by strength [mm2/m]": u.total * 1e3,
                    "certified": u.certified,
                }
            )  # fmt: skip
        )
    return pd.concat(out, ignore_index=True)


def digest(job: Job) -> str:
    """Digest of everything a job's results are made from: job file, tables, version."""
    found = hashlib.sha256(__version__.encode())
    for file in (job.path, *(job.folder / f for t in TABLES if (f := getattr(job.input, t)))):
        found.update(file.name.encode() + file.read_bytes())
    return found.hexdigest()


def run_job(path: str | Path, *, progress: Progress = _nothing, pictures: bool = True) -> RunResult:
    """Run a job from its file to tables, maps and report.

    Parameters
    ----------
    path : str or Path
        The job file.
    progress : callable, optional
        Called with the stage, the work done and the whole.
    pictures : bool
        Whether maps and the report are made.

    Returns
    -------
    RunResult
        Frames, certificate and the files written.

    Raises
    ------
    InputError
        If anything that came in cannot be used; nothing is written then.
    """
    job = load(path)
    progress("reading", 0, 1)
    results = read_job(job)
    zones = prepare(job, results)
    check_folder(job.results)
    combinations = combinations_of(job, results.cases)
    ultimate = combinations.ultimate()
    standard = EN1992.recommended()
    if compiled.is_cold():
        log.warning("compiling once; later runs start at once")
    store = job.results / "store"
    store.mkdir(exist_ok=True)
    designed = []
    whole = sum(len(z.labels) for z in zones)
    done = 0

    def advance(count: int) -> None:
        nonlocal done
        done += count
        progress("ultimate design", done, whole)

    for z in zones:
        place = pd.DataFrame({"point": z.labels.astype(object), "thickness": z.h})
        write_store(store / f"{_file(z.name)}.parquet", place, z.cases, results.cases)
        _, cases, _ = read_store(store / f"{_file(z.name)}.parquet")
        designed.append(
            design_ultimate(
                cases, ultimate.factors, ultimate.situations, z.h, z.settings(standard),
                workers=job.design.workers, progress=advance,
            )  # fmt: skip
        )
    steel = pd.concat(
        [
            steel_frame(
                z.name, z.labels, u, ultimate.names, (z.zone.faces.bottom, z.zone.faces.top),
                z.zone.bars.layers().axes(z.h),
            )  # fmt: skip
            for z, u in zip(zones, designed, strict=True)
        ],
        ignore_index=True,
    )
    checks = pd.concat(
        [
            checks_frame(z.name, z.labels, u, ultimate.names, z.h, z.settings(standard))
            for z, u in zip(zones, designed, strict=True)
        ],
        ignore_index=True,
    ).sort_values("utilisation", ascending=False, kind="stable", ignore_index=True)
    points = points_frame(zones, designed, ultimate)
    for frame, name in ((points, "points"), (steel, "steel"), (checks, "checks"), (combinations.frame(), "combinations")):
        write_table(frame, job.results, name, csv=job.output.csv)
    service = _service_frame(zones, combinations.service())
    if service is not None:
        write_table(service, job.results, "service resultants", csv=job.output.csv)
    strengths = {z.name: standard.strengths(z.zone.concrete, z.zone.steel, "persistent") for z in zones}
    result = RunResult(
        job, results, zones, combinations, points, steel, checks, certificate_of(designed), strengths, job.results
    )
    report = None
    if pictures:
        from sandwich.report.page import write_report

        report = write_report(result, standard.name, progress)
    record = {"digest": digest(job), "version": __version__, "standard": standard.name}
    write_text(job.results / "record.json", json.dumps(record, indent=1) + "\n")
    return replace(result, report=report)


def _file(name: str) -> str:
    return "".join(c if c.isalnum() or c in "-_" else "_" for c in name)


def _service_frame(zones: list[ZoneInput], service: Combinations) -> pd.DataFrame | None:
    """Extremes of each component over the service combinations, one row a point."""
    if not service.names:
        return None
    out = []
    for z in zones:
        combined = superpose(z.cases, service.factors)
        columns: dict[str, Any] = {"zone": z.name, "point": z.labels.astype(object)}
        for i, name in enumerate(("nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy")):
            unit, scale = ("kNm/m", 1e-3) if name.startswith("m") else ("kN/m", 1.0)
            columns[f"{name} least [{unit}]"] = combined[:, :, i].min(1) * scale
            columns[f"{name} greatest [{unit}]"] = combined[:, :, i].max(1) * scale
        out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True)


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
    job = load(path)
    stored = job.results / "record.json"
    if not stored.is_file():
        raise StaleError(f"{job.results} holds no results; run the job first")
    if json.loads(stored.read_text("utf-8"))["digest"] != digest(job):
        raise StaleError(f"the job or its tables have changed since {job.results} was made; run the job again")
    results = read_job(job)
    zones = prepare(job, results)
    z, i = _find(zones, point, job)
    ultimate = combinations_of(job, results.cases).ultimate()
    if combination is not None and combination not in ultimate.names:
        remedy = f"there are {', '.join(ultimate.names)}"
        raise InputError([Fault("--combination", f"no ultimate combination '{combination}'", remedy)])
    combined = superpose(z.cases[i : i + 1], ultimate.factors)[0]
    axes = z.zone.bars.layers().axes(z.h[i])
    settings = z.settings(EN1992.recommended())
    arguments = (combined, ultimate.names, ultimate.situations, float(z.h[i]), axes, settings)
    chosen = combination or _worked_name(worked_point(*arguments))
    preface = _preface(z, i, results, ultimate, chosen)
    sheet = worked_point(*arguments, chosen, preface)
    _compare(sheet, job, z, i)
    return sheet


def _worked_name(sheet: Sheet) -> str:
    title = next(s.title for _, s in sheet.steps if s.title.startswith("Resultants of "))
    return title.removeprefix("Resultants of ").removesuffix(" in the bar directions")


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


def _preface(z: ZoneInput, i: int, results: Results, combinations: Combinations, name: str) -> list[Step]:
    """Steps from the resultants in element axes to those of the point."""
    expression = combinations.expression(name)
    factors = combinations.factors[combinations.names.index(name)]
    steps = [Step(f"Combination {name}", "listed in the job", expression, (), ())]
    if z.points is None or z.elements is None or z.orientation is None or results.mesh is None:
        return steps
    mesh: Mesh = results.mesh
    used = np.flatnonzero(z.points.point == i)
    for c in used:
        e, corner = z.points.element[c], z.points.corner[c]
        own = np.tensordot(factors, results.corner[:, z.elements[e], corner], 1)
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
        steps.append(Step(f"Mean of {len(used)} corners", "one smooth patch", "sum / count", (), ()))
    return steps


def _compare(sheet: Sheet, job: Job, z: ZoneInput, i: int) -> None:
    """Hold the worked calculation against the stored table."""
    table = pd.read_parquet(job.results / "steel.parquet")
    rows = table[(table["zone"] == z.name) & (table["point"] == z.labels[i])]
    worked = {q.symbol: q.value for _, s in sheet.steps if s.title == "Required steel" for q in s.results}
    names = dict(zip(layer_names((z.zone.faces.bottom, z.zone.faces.top)), layer_names(), strict=True))
    for _, row in rows.iterrows():
        stored = row[REQUIRED]
        if names[row["layer"]] not in worked:
            if not np.isnan(stored):
                raise StaleError("the worked calculation fails where the table has steel; run the job again")
            continue
        if abs(float(worked[names[row["layer"]]]) - stored) > 1e-9 * max(abs(stored), 1.0):  # type: ignore[arg-type]
            raise StaleError(f"{row['layer']} differs from the stored table; run the job again")
