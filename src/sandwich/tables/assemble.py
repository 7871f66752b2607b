"""From the tables of a job to a mesh and dense arrays of resultants, with every mismatch named at once."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, replace

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.on_disc import give_back
from sandwich.job import Job
from sandwich.job.actions import Case
from sandwich.job.source import MESH_TABLES, RESULT_TABLES, Signs, Table
from sandwich.model.mesh import Mesh
from sandwich.tables.cases import asked_for, case_names, clean, clean_tables, describe_cases
from sandwich.tables.corners import (
    at_corners,
    bare_points,
    carrying,
    checked_reactions,
    corner_array,
    displacements_of,
)
from sandwich.tables.meshfile import load_mesh_file
from sandwich.tables.meshing import mesh_of
from sandwich.tables.read import SPECS, ReadTable, negated, normalise, read_table

Floats = NDArray[np.float64]
Tables = dict[str, ReadTable | None]


@dataclass(frozen=True)
class Results:
    """Everything that was read.

    Attributes
    ----------
    cases : tuple of str
        Case names in the order of the tables; those of a further result set are called SET/CASE.
    unread : tuple of str
        Cases of the tables whose results nothing asks for; they are not among `cases`.
    mesh : Mesh or None
        None for a bare table.
    corner : ndarray, shape (cases, e, 4, 8)
        Resultants of element corners in element axes [N, mm], nan where there are none. Empty for a bare table.
    point_ids : ndarray, shape (p,)
        Points of a bare table.
    point : ndarray, shape (cases, p, 8)
        Their resultants in bar directions [N, mm].
    thickness : ndarray, shape (p,)
        Their thickness [mm], nan where the table gives none.
    kinds : dict
        What each case is.
    reactions : DataFrame or None
        case, node, fx, fy, fz (mx, my, mz) [N, mm] of the supports on the structure.
    notes : dict
        What was noticed about how each table is written.
    nodal : ndarray, shape (cases, e, 4, 6), or None
        Forces and moments of the nodes on the elements, fx to mz [N, N mm], nan where there are none.
    displacements : ndarray, shape (cases, n, 3), or None
        Of the nodes in global axes [mm], nan where there are none.
    """

    cases: tuple[str, ...]
    mesh: Mesh | None
    corner: Floats
    point_ids: NDArray[np.generic]
    point: Floats
    thickness: Floats
    kinds: dict[str, Case] = field(default_factory=dict)
    reactions: pd.DataFrame | None = None
    notes: dict[str, list[str]] = field(default_factory=dict)
    unread: tuple[str, ...] = ()
    nodal: Floats | None = None
    displacements: Floats | None = None


def read_job(job: Job, *, every_case: bool = True) -> Results:
    """Read and check all tables of a job.

    Parameters
    ----------
    job : Job
        The job.
    every_case : bool
        Whether results are kept of cases that nothing asks for; the rows of these are looked at in any way.

    Raises
    ------
    InputError
        With every fault of every table.
    """
    faults = Faults()
    tables = read_main(job, faults)
    clean_tables(tables, job.input.case_names, "input", "", faults)
    mesh = mesh_of(tables, faults) if job.has_mesh else None
    notes = {kind: t.notes for kind, t in tables.items() if t is not None}
    of_main = case_names(tables, faults)
    give_back()  # what reading took
    if job.of_forces and not of_main:
        of_tables = (c for t in section_forces(job, faults).values() for c in t.frame["case"])
        of_main = tuple(dict.fromkeys((*of_tables, *job.cases)))
    parts, sets = [], [(tables, job.input.resultants, of_main)]
    for name, further in job.sets.items():
        own = _read_set(job, name, faults)
        clean_tables(own, further.case_names, f"sets.{name}", f"{name}/", faults)
        sets.append((own, further.resultants, case_names(own, faults)))
        notes |= {f"{name}/{kind}": t.notes for kind, t in own.items() if t is not None}
    there: dict[str, Case] = {}
    for own, _, cases in sets:
        declared = {c: job.cases[c] for c in job.cases if c in cases or (own is tables and "/" not in c)}
        there |= describe_cases(cases, own.get("cases"), declared, str(job.path), faults)
    asked = set(there) if every_case else asked_for(job, there)
    ids: NDArray[np.generic] = np.empty(0)
    thickness = np.empty(0)
    points: list[Floats] = []
    for own, table, all_cases in sets:
        cases = tuple(c for c in all_cases if c in asked)
        read = own.pop("resultants", None)
        if read is None:
            if own is tables and job.input.resultants is None and not faults.found and not job.of_forces:
                faults.add(str(job.path), f"{job.input.mesh.file if job.input.mesh else ''} holds no results",
                           "see input.mesh.arrays, or name a table in input.resultants")  # fmt: skip
            continue
        if job.has_mesh and mesh is not None:
            at = table.at if table is not None else "corners"
            leave_out = job.input.missing == "leave out"
            parts.append(corner_array(read, at, mesh, cases, faults, leave_out=leave_out))
        elif not job.has_mesh:
            now, values, h = bare_points(read, cases, faults)
            if points and set(now) != set(ids):
                faults.add(read.name, "its points are not those of the first result set", "export the same points")
                continue
            order = pd.Index(now).get_indexer(pd.Index(ids)) if points else np.arange(len(now))
            points.append(values[:, order])
            ids, thickness = (ids, thickness) if len(points) > 1 else (now, h)
        del read
    faults.stop()
    reactions = tables.get("reactions")
    if reactions is not None and mesh is not None:
        leave_out = job.input.missing == "leave out"
        checked_reactions(reactions, mesh, tuple(there), faults, leave_out=leave_out)
    kinds = {c: case for c, case in there.items() if c in asked}
    cases = tuple(kinds)
    nodal = _nodal(tables.pop("nodal_forces", None), mesh, kinds, tuple(there), str(job.path), faults)
    corner = np.concatenate(parts) if len(parts) > 1 else parts[0] if parts else np.empty((len(cases), 0, 4, 8))
    point = np.concatenate(points) if points else np.empty((len(cases), 0, 8))
    moved = displacements_of(tables.pop("displacements", None), mesh, cases, tuple(there), faults)
    signed = (corner, point) if moved is None else (corner, point, moved)
    kinds = _take_signs(kinds, cases, signed, str(job.path), faults)
    faults.stop()
    support = carrying(reactions.frame) if reactions is not None else None
    if reactions is not None and support is not None and len(support) < len(reactions.frame):
        bare = reactions.frame["node"].nunique() - support["node"].nunique()
        reactions.notes.append(f"{bare} nodes carry nothing and are no supports")
    return Results(
        cases=cases,
        mesh=mesh,
        corner=corner,
        point_ids=ids,
        point=point,
        thickness=thickness,
        kinds=kinds,
        reactions=support,
        notes=notes,
        nodal=nodal,
        displacements=moved,
        unread=tuple(c for c, case in there.items() if c not in asked and case.kind not in ("unused", "mode")),
    )


def _nodal(
    read: ReadTable | None, mesh: Mesh | None, kinds: dict[str, Case], cases: tuple[str, ...], path: str, faults: Faults
) -> Floats | None:
    """Forces of the nodes on the elements, of every case that has signs."""
    if read is None:
        return None
    if mesh is None:
        faults.add(f"{path}, input.nodal_forces", "needs a mesh", "bring nodes and elements, or take it out")
        return None
    for strange in sorted(set(read.frame["case"]) - set(cases)):
        faults.add(read.name, f"case '{strange}' has no results", f"there are {', '.join(cases[:8])}")
    for couple in {"mx", "my", "mz"} - set(read.frame):
        read.frame[couple] = 0.0
    signed = tuple(c for c, case in kinds.items() if case.signed is not False)
    found = at_corners(read, ("fx", "fy", "fz", "mx", "my", "mz"), mesh, signed, faults)
    whole = np.full((len(kinds), *found.shape[1:]), np.nan)
    whole[[i for i, c in enumerate(kinds) if c in signed]] = found
    return whole


def _take_signs(
    kinds: dict[str, Case], cases: tuple[str, ...], arrays: tuple[Floats, ...], path: str, faults: Faults
) -> dict[str, Case]:
    """Give magnitudes the signs of another case where the job says so, in place; they then count as signed."""
    out = dict(kinds)
    for name, case in kinds.items():
        if case.signs_from is None:
            continue
        if case.signs_from not in cases:
            faults.add(
                f"{path}, cases.{name}.signs_from", f"no case '{case.signs_from}'", f"there are {', '.join(cases)}"
            )
            continue
        at, of = cases.index(name), cases.index(case.signs_from)
        for values in arrays:
            values[at] = np.copysign(values[at], values[of])
        out[name] = replace(case, signed=True)
    return out


def read_main(job: Job, faults: Faults) -> Tables:
    """The tables of `[input]`: of the mesh file, and over them those that are named."""
    unit_of = asdict(job.input.units)
    negate = negated(job.input.signs.positive_moment_tension, job.input.signs.negate)
    tables: Tables = {}
    if job.input.mesh is not None:
        for kind, raw in load_mesh_file(job.folder, job.input.mesh, faults).items():
            turned = negate if kind == "resultants" else set()
            tables[kind] = normalise([raw], SPECS[kind], "input.mesh", {}, unit_of, turned, faults)
    for kind in (*MESH_TABLES, *RESULT_TABLES):
        table: Table | None = getattr(job.input, kind)
        if table is not None:
            tables[kind] = _read(job, table, kind, f"input.{kind}", unit_of, negate, faults)
    return tables


def section_forces(job: Job, faults: Faults) -> dict[str, ReadTable]:
    """Section forces of the walls that bring them, by wall, with plain names of cases."""
    read = {name: forces_of_wall(job, name, faults) for name in job.walls}
    return {name: table for name, table in read.items() if table is not None}


def forces_of_wall(job: Job, name: str, faults: Faults) -> ReadTable | None:
    """Section forces that a wall brings, with plain names of cases."""
    wall = job.walls[name]
    if wall.forces is None:
        return None
    key = f"walls.{name}.forces"
    read = read_table(job.folder, wall.forces, "section forces", key, asdict(job.input.units), set(wall.negate), faults)
    if read is not None:
        read.frame["case"] = clean(read.frame["case"], job.input.case_names)
    return read


def _read_set(job: Job, name: str, faults: Faults) -> Tables:
    """The tables of a further result set."""
    further = job.sets[name]
    own = {q: u for q, u in asdict(further.units).items() if u is not None}
    unit_of = {**asdict(job.input.units), **own}
    signs: Signs = further.signs or job.input.signs
    negate = negated(signs.positive_moment_tension, signs.negate)
    key = f"sets.{name}"
    tables: Tables = {
        "resultants": _read(job, further.resultants, "resultants", f"{key}.resultants", unit_of, negate, faults)
    }
    if further.cases is not None:
        tables["cases"] = _read(job, further.cases, "cases", f"{key}.cases", unit_of, set(), faults)
    return tables


def _read(
    job: Job, table: Table, kind: str, key: str, unit_of: dict[str, str], negate: set[str], faults: Faults
) -> ReadTable | None:
    spec = kind
    if kind == "resultants":
        spec = f"resultants at {table.at}" if table.at != "corners" else kind if job.has_mesh else "points"
    leave_out = kind == "resultants" and job.has_mesh and job.input.missing == "leave out"
    turned = negate if kind == "resultants" else set()
    signs = job.input.signs
    if (kind == "reactions" and signs.reactions_act_on == "supports") or (
        kind == "nodal_forces" and signs.nodal_forces_act_on == "nodes"
    ):
        turned = {"fx", "fy", "fz", "mx", "my", "mz"}
    return read_table(job.folder, table, spec, key, unit_of, turned, faults, leave_out=leave_out)
