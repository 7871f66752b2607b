"""From read tables to a mesh and dense arrays of resultants, with every mismatch between tables named."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.errors import Faults
from sandwich.job import TABLES, Job
from sandwich.model.mesh import Mesh, corner_axes, element_areas, frame
from sandwich.resultants import COMPONENTS
from sandwich.tables.read import MISSING, negated, read_table, rows_text

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Results:
    """Everything that came in.

    Attributes
    ----------
    cases : tuple of str
        Case names in the order of the table.
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
    """

    cases: tuple[str, ...]
    mesh: Mesh | None
    corner: Floats
    point_ids: NDArray[np.generic]
    point: Floats
    thickness: Floats


def read_job(job: Job) -> Results:
    """Read and check all tables of a job.

    Raises
    ------
    InputError
        With every fault of every table.
    """
    faults = Faults()
    unit_of = job.input.units.model_dump()
    negate = negated(job.input.signs.positive_moment_tension, job.input.signs.negate)
    frames: dict[str, pd.DataFrame | None] = {}
    names = {}
    for table in TABLES:
        file = getattr(job.input, table)
        if file is None:
            continue
        kind = "points" if table == "resultants" and not job.has_mesh else table
        mapping = getattr(job.input.columns, table)
        frames[table] = read_table(job.folder / file, kind, mapping, unit_of, negate, faults)
        names[table] = (job.folder / file).name
    cases = _cases(job, frames, names, faults)
    results = None
    if job.has_mesh:
        mesh = _mesh(frames, names, faults)
        if mesh is not None and frames["resultants"] is not None:
            corner = _corner_array(frames["resultants"], names["resultants"], mesh, cases, faults)
            none = np.empty(0)
            results = Results(cases, mesh, corner, none, np.empty((len(cases), 0, 8)), none)
    elif frames["resultants"] is not None:
        results = _bare(frames["resultants"], names["resultants"], cases, faults)
    faults.stop()
    assert results is not None
    return results


def _cases(job: Job, frames: dict[str, pd.DataFrame | None], names: dict[str, str], faults: Faults) -> tuple[str, ...]:
    resultants, table = frames.get("resultants"), frames.get("cases")
    found = tuple(map(str, pd.unique(resultants["case"]))) if resultants is not None else ()
    cases = found
    if table is not None:
        listed = table["case"].astype(str)
        again = listed.duplicated()
        if again.any():
            rows = rows_text(table.index[again])
            faults.add(f"{names['cases']}, {rows}", "names a case a second time", "one row a case would do")
        cases = tuple(pd.unique(listed))
        for case in sorted(set(found) - set(cases)):
            faults.add(
                names["resultants"], f"case '{case}' is not in {names['cases']}", "add it there or drop its rows"
            )
        if resultants is not None:
            for case in sorted(set(cases) - set(found)):
                faults.add(
                    names["cases"], f"case '{case}' has no rows in {names['resultants']}", "export it or drop it"
                )
        _signed_only(job, table, names["cases"], faults)
    if resultants is not None:
        for i, combination in enumerate(job.combinations):
            for case in combination.factors:
                if case not in cases:
                    where = f"{job.path}, combinations[{i}] '{combination.name}'"
                    faults.add(where, f"names case '{case}', which has no results", f"there are {', '.join(cases)}")
    return cases


def _signed_only(job: Job, table: pd.DataFrame, name: str, faults: Faults) -> None:
    """Results without signs may be neither averaged nor turned nor superposed: refuse them where they are used."""
    if "signed" not in table:
        return
    unsigned = table["signed"].astype(str).str.lower().isin(["no", "n", "false", "0"])
    used = {case for combination in job.combinations for case in combination.factors}
    for case in sorted(used & set(table["case"][unsigned].astype(str))):
        where = f"{name}, {rows_text(table.index[unsigned & (table['case'].astype(str) == case)])}"
        faults.add(where, f"case '{case}' has no signs and is in a combination", "bring modal or signed results of it")


def _repeated(frame: pd.DataFrame, keys: list[str], name: str, faults: Faults) -> None:
    again = frame.duplicated(keys)
    if again.any():
        first = frame.loc[again, keys].iloc[0]
        what = ", ".join(f"{k} {v}" for k, v in first.items())
        faults.add(f"{name}, {rows_text(frame.index[again])}", f"repeats {what}", "one row each would do")


def _locate(ids: pd.Index, column: pd.Series) -> NDArray[np.int64]:
    if ids.dtype == column.dtype:
        return ids.get_indexer(pd.Index(column))
    return ids.astype(str).get_indexer(pd.Index(column.astype(str)))


def _mesh(frames: dict[str, pd.DataFrame | None], names: dict[str, str], faults: Faults) -> Mesh | None:
    nodes, elements = frames["nodes"], frames["elements"]
    if nodes is None or elements is None:
        return None
    _repeated(nodes, ["node"], names["nodes"], faults)
    _repeated(elements, ["element"], names["elements"], faults)
    ids = pd.Index(nodes["node"])
    if not ids.is_unique or elements["element"].duplicated().any():
        return None
    corners = np.full((len(elements), 4), -1, dtype=np.int64)
    whole = True
    for i, name in enumerate(("n1", "n2", "n3", "n4")):
        if name not in elements:
            continue
        column = elements[name]
        at = _locate(ids, column)
        # a triangle leaves its fourth corner empty; some write 0, which is a node only where there is one
        empty = column.astype(str).isin(["", str(MISSING), "0"]) & (at < 0)
        given = ~empty if name == "n4" else pd.Series(True, elements.index)
        lost = (at < 0) & given.to_numpy()
        if lost.any():
            row = elements[lost].iloc[0]
            where = f"{names['elements']}, {rows_text(elements.index[lost])}, column {name}"
            found = f"element {row['element']} names node {row[name]}, which {names['nodes']} does not hold"
            faults.add(where, found, "add the node or mend the number")
            whole = False
        corners[:, i] = np.where(given, at, -1)
    if not whole:
        return None
    xyz = nodes[["x", "y", "z"]].to_numpy()
    flat = ~(element_areas(xyz, corners) > 0.0)
    if flat.any():
        row = elements[flat].iloc[0]
        where = f"{names['elements']}, {rows_text(elements.index[flat])}"
        faults.add(where, f"element {row['element']} has no area", "mend its nodes or drop it")
        return None
    thickness = elements["thickness"].to_numpy() if "thickness" in elements else np.full(len(elements), np.nan)
    thin = ~(thickness > 0.0) & np.isfinite(thickness)
    if thin.any():
        where = f"{names['elements']}, {rows_text(elements.index[thin])}, column thickness"
        faults.add(where, f"found {thickness[thin][0]:g}", "more than zero would do")
    group = np.array(elements["group"].astype(str)) if "group" in elements else np.full(len(elements), "")
    axes = corner_axes(xyz, corners)
    if "axes" in frames:
        given_axes = _own_axes(frames["axes"], elements, names, faults)
        axes = given_axes if given_axes is not None else axes
    return Mesh(ids.to_numpy(), xyz, elements["element"].to_numpy(), corners, thickness, group, axes)


def _own_axes(
    table: pd.DataFrame | None, elements: pd.DataFrame, names: dict[str, str], faults: Faults
) -> Floats | None:
    if table is None:
        return None
    _repeated(table, ["element"], names["axes"], faults)
    if table["element"].duplicated().any():
        return None
    at = _locate(pd.Index(table["element"]), elements["element"])
    if (at < 0).any():
        lost = elements["element"][at < 0]
        where = f"{names['axes']}"
        found = f"no axes for element {lost.iloc[0]}" + (f" and {len(lost) - 1} more" if len(lost) > 1 else "")
        faults.add(where, found, "one row for each element would do")
        return None
    x = table[["xx", "xy", "xz"]].to_numpy()[at]
    z = table[["zx", "zy", "zz"]].to_numpy()[at]
    norms = np.linalg.norm(x, axis=1), np.linalg.norm(z, axis=1)
    skew = np.abs(np.sum(x * z, axis=1)) > 1e-3
    bad = (np.abs(norms[0] - 1.0) > 1e-2) | (np.abs(norms[1] - 1.0) > 1e-2) | skew
    if bad.any():
        rows = rows_text(table.index[at[bad]])
        faults.add(f"{names['axes']}, {rows}", "x and z are not unit vectors at right angles", "export them again")
        return None
    return frame(x, z)


def _corner_array(table: pd.DataFrame, name: str, mesh: Mesh, cases: tuple[str, ...], faults: Faults) -> Floats:
    corner = np.full((len(cases), len(mesh.corners), 4, 8), np.nan)
    _repeated(table, ["case", "element", "node"], name, faults)
    element = _locate(pd.Index(mesh.element_ids), table["element"])
    node = _locate(pd.Index(mesh.node_ids), table["node"])
    case = pd.Index(cases).get_indexer(pd.Index(table["case"].astype(str)))
    for at, what in ((element, "element"), (node, "node")):
        lost = at < 0
        if lost.any():
            value = table[what][lost].iloc[0]
            found = f"{what} {value} is not in the mesh"
            faults.add(f"{name}, {rows_text(table.index[lost])}", found, f"add the {what} or drop its rows")
    match = np.asarray(mesh.corners[element] == node[:, None])
    stray = ~match.any(1) & (element >= 0) & (node >= 0)
    if stray.any():
        row = table[stray].iloc[0]
        found = f"node {row['node']} is no corner of element {row['element']}"
        faults.add(f"{name}, {rows_text(table.index[stray])}", found, "mend the number")
    good = match.any(1) & (element >= 0) & (case >= 0)
    corner[case[good], element[good], match.argmax(1)[good]] = table[list(COMPONENTS)].to_numpy()[good]
    # an element with some corners in some cases must have all of them in all cases
    real = mesh.corners >= 0
    given = np.zeros((len(cases), len(mesh.corners), 4), dtype=bool)
    given[case[good], element[good], match.argmax(1)[good]] = True
    used = np.asarray(given.any(axis=(0, 2)))
    missing = np.argwhere(real & used[:, None] & ~given)
    if len(missing):
        k, e, c = missing[0]
        found = f"no row for case {cases[k]}, element {mesh.element_ids[e]}, node {mesh.node_ids[mesh.corners[e, c]]}"
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        faults.add(name, found + more, "export every corner of every case")
    return corner


def _bare(table: pd.DataFrame, name: str, cases: tuple[str, ...], faults: Faults) -> Results:
    _repeated(table, ["case", "point"], name, faults)
    ids = pd.Index(pd.unique(table["point"]))
    at = ids.get_indexer(pd.Index(table["point"]))
    case = pd.Index(cases).get_indexer(pd.Index(table["case"].astype(str)))
    good = case >= 0
    point = np.full((len(cases), len(ids), 8), np.nan)
    given = np.zeros((len(cases), len(ids)), dtype=bool)
    point[case[good], at[good]] = table[list(COMPONENTS)].to_numpy()[good]
    given[case[good], at[good]] = True
    missing = np.argwhere(~given)
    if len(missing):
        k, p = missing[0]
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        faults.add(name, f"no row for case {cases[k]}, point {ids[p]}{more}", "give every point in every case")
    thickness = np.full(len(ids), np.nan)
    if "thickness" in table:
        thickness[at] = table["thickness"].to_numpy()
        mixed = table.groupby("point", sort=False)["thickness"].nunique()
        if (mixed > 1).any():
            faults.add(name, f"point {mixed.index[mixed > 1][0]} has two thicknesses", "one thickness a point would do")
        if (thickness <= 0.0).any():
            faults.add(name, "a thickness is zero or less", "more than zero would do")
    return Results(cases, None, np.empty((len(cases), 0, 4, 8)), ids.to_numpy(), point, thickness)
