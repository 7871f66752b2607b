"""Dense arrays of resultants: at the corners of a mesh, or at the points of a bare table."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.on_disc import filled
from sandwich.core.resultants import COMPONENTS
from sandwich.model.mesh import Mesh
from sandwich.tables.columns import rows_text
from sandwich.tables.meshing import locate, repeated
from sandwich.tables.read import ReadTable

Floats = NDArray[np.float64]
CARRIES: Final = 1e-6  # of the largest force or couple of a support: with less a node carries nothing


def corner_array(
    read: ReadTable, at: str, mesh: Mesh, cases: tuple[str, ...], faults: Faults, *, leave_out: bool
) -> Floats:
    """Resultants of element corners, shape (cases, e, 4, 8), nan where there are none.

    Results at nodes or centres go to all the corners they stand for. With `leave_out` a corner without a row is
    noted and stays nan; otherwise it is a fault.
    """
    if at == "centres":
        return _from_centres(read, mesh, cases, faults)
    if at == "nodes":
        return _from_nodes(read, mesh, cases, faults)
    return at_corners(read, COMPONENTS, mesh, cases, faults, leave_out=leave_out)


def at_corners(
    read: ReadTable, components: tuple[str, ...], mesh: Mesh, cases: tuple[str, ...], faults: Faults, *,
    leave_out: bool = False,
) -> Floats:  # fmt: skip
    """Values by case, element and node, shape (cases, e, 4, components), nan where there are none."""
    table, name = read.frame, read.name
    element = located(mesh.element_ids, table, "element", name, faults)
    node = located(mesh.node_ids, table, "node", name, faults)
    code, there = pd.factorize(table["case"])
    known = (element >= 0) & (node >= 0)
    place = np.full(len(table), -1, dtype=np.int8)
    for i in (3, 2, 1, 0):
        place[mesh.corners[:, i][element] == node] = i
    stray = known & (place < 0)
    if stray.any():
        first = table[stray].iloc[0]
        found = f"node {first['node']} is no corner of element {first['element']}"
        faults.add(f"{name}, {rows_text(table.index[stray])}", found, "mend the number")
    good = known & (place >= 0)
    every = np.zeros((len(there), len(mesh.corners), 4), dtype=bool)
    row = np.ravel_multi_index((code[good], element[good], place[good]), every.shape)
    every.reshape(-1)[row] = True
    if not good.all() or every.sum() < len(row):
        repeated(table, ["case", "element", "node"], name, faults)
    case = pd.Index(cases).get_indexer(pd.Index(there))
    shape = (len(cases), len(mesh.corners), 4)
    given = np.zeros(shape, dtype=bool)
    given[case[case >= 0]] = every[case >= 0]
    case = case[code]
    good &= case >= 0
    row = np.ravel_multi_index((case[good], element[good], place[good]), shape)
    del element, node, code, case, place, every
    corner = filled((*shape, len(components)), np.nan)
    for i, component in enumerate(components):
        corner.reshape(-1, len(components))[row, i] = table.pop(component).to_numpy()[good]  # never held twice
    # an element with some corners in some cases must have all of them in all cases
    real = mesh.corners >= 0
    used = np.asarray(given.any(axis=(0, 2)))
    missing = np.argwhere(real & used[:, None] & ~given)
    if len(missing):
        k, e, c = missing[0]
        found = f"no row for case {cases[k]}, element {mesh.element_ids[e]}, node {mesh.node_ids[mesh.corners[e, c]]}"
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        if leave_out:
            read.notes.append(f"{found}{more}: left out of the means of their nodes")
        else:
            remedy = 'export every corner of every case, or leave these corners out: input.missing = "leave out"'
            faults.add(name, found + more, remedy)
    return corner


def checked_reactions(
    read: ReadTable, mesh: Mesh, cases: tuple[str, ...], faults: Faults, *, leave_out: bool
) -> pd.DataFrame:
    """Reactions of nodes of the mesh and of known cases, one row each, every node in every case that has any."""
    table, name = read.frame, read.name
    repeated(table, ["case", "node"], name, faults)
    node = located(mesh.node_ids, table, "node", name, faults)
    case = pd.Index(cases).get_indexer(pd.Index(table["case"]))
    strange = np.asarray(case < 0)
    if strange.any():
        found = f"case '{table['case'][strange].iloc[0]}' has no results"
        faults.add(f"{name}, {rows_text(table.index[strange])}", found, f"there are {', '.join(cases[:8])}")
    good = (case >= 0) & (node >= 0)
    nodes, row = np.unique(node[good], return_inverse=True)
    given = np.zeros((len(cases), len(nodes)), dtype=bool)
    given[case[good], row] = True
    missing = np.argwhere(np.asarray(given.any(axis=1))[:, None] & ~given)
    if len(missing):
        k, i = missing[0]
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        found = f"no row for case {cases[k]}, node {mesh.node_ids[nodes[i]]}{more}"
        if leave_out:
            read.notes.append(f"{found}: taken for zero")
        else:
            remedy = 'export every support in every case, or take them for zero: input.missing = "leave out"'
            faults.add(name, found, remedy)
    return table


def carrying(reactions: pd.DataFrame) -> pd.DataFrame:
    """Reactions of the nodes that carry something in a case: some exports list all nodes of a model.

    Parameters
    ----------
    reactions : DataFrame
        Columns node, fx, fy, fz and perhaps mx, my, mz [N, N mm].

    Returns
    -------
    DataFrame
        Its rows of nodes with more than a millionth of the largest force or couple; all where nothing is carried.
    """
    size = np.zeros(len(reactions))
    for kind in (["fx", "fy", "fz"], ["mx", "my", "mz"]):
        values = reactions[[c for c in kind if c in reactions]].abs().to_numpy().max(axis=1, initial=0.0)
        size = np.maximum(size, values / max(float(values.max(initial=0.0)), 1e-30))
    most = pd.Series(size, reactions.index).groupby(reactions["node"]).transform("max")
    return reactions[most > CARRIES] if (most > CARRIES).any() else reactions


def displacements_of(
    read: ReadTable | None, mesh: Mesh | None, cases: tuple[str, ...], there: tuple[str, ...], faults: Faults
) -> Floats | None:
    """Displacements of nodes by case (c, n, 3) [mm], nan where the table has none; None without a table."""
    if read is None:
        return None
    table, name = read.frame, read.name
    if mesh is None:
        faults.add(name, "a bare table has no nodes that move", "give nodes and elements, or take it out")
        return None
    repeated(table, ["case", "node"], name, faults)
    node = located(mesh.node_ids, table, "node", name, faults)
    strange = ~np.isin(table["case"].astype(str), there)
    if strange.any():
        found = f"case '{table['case'][strange].iloc[0]}' has no results"
        faults.add(f"{name}, {rows_text(table.index[strange])}", found, f"there are {', '.join(there[:8])}")
    case = pd.Index(cases).get_indexer(pd.Index(table["case"]))
    good = (case >= 0) & (node >= 0)
    out = np.full((len(cases), len(mesh.node_ids), 3), np.nan)
    out[case[good], node[good]] = table[["ux", "uy", "uz"]].to_numpy(dtype=float)[good]
    return out


def located(ids: NDArray[np.generic], table: pd.DataFrame, what: str, name: str, faults: Faults) -> NDArray[np.int64]:
    """Position of each row's element or node in the mesh, -1 and a fault where it is not there."""
    at = locate(pd.Index(ids), table[what])
    lost = at < 0
    if lost.any():
        found = f"{what} {table[what][lost].iloc[0]} is not in the mesh"
        faults.add(f"{name}, {rows_text(table.index[lost])}", found, f"add the {what} or drop its rows")
    return at


def _dense(
    read: ReadTable, what: str, ids: NDArray[np.generic], cases: tuple[str, ...], faults: Faults
) -> tuple[Floats, NDArray[np.bool_]]:
    """Values by case and identifier, shape (cases, ids, 8), and which identifiers have any; gaps are faults."""
    table, name = read.frame, read.name
    repeated(table, ["case", what], name, faults)
    at = located(ids, table, what, name, faults)
    case = pd.Index(cases).get_indexer(pd.Index(table["case"]))
    good = (case >= 0) & (at >= 0)
    values = np.full((len(cases), len(ids), 8), np.nan)
    values[case[good], at[good]] = table[list(COMPONENTS)].to_numpy()[good]
    used = np.isfinite(values).all(2).any(0)
    missing = np.argwhere(used & ~np.isfinite(values).all(2))
    if len(missing):
        k, i = missing[0]
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        faults.add(name, f"no row for case {cases[k]}, {what} {ids[i]}{more}", f"give every {what} in every case")
    return values, used


def _from_centres(read: ReadTable, mesh: Mesh, cases: tuple[str, ...], faults: Faults) -> Floats:
    values, _ = _dense(read, "element", mesh.element_ids, cases, faults)
    read.notes.append("results at element centres: peaks between centres are not seen")
    return np.where((mesh.corners >= 0)[None, :, :, None], values[:, :, None], np.nan)


def _from_nodes(read: ReadTable, mesh: Mesh, cases: tuple[str, ...], faults: Faults) -> Floats:
    """Node values belong to no element: they can be used only where the axes of a node's elements agree."""
    values, used = _dense(read, "node", mesh.node_ids, cases, faults)
    element, corner = np.nonzero(mesh.corners >= 0)
    node = mesh.corners[element, corner]
    first = np.zeros(len(mesh.node_ids), dtype=np.int64)
    first[node[::-1]] = element[::-1]
    agree = np.sum(mesh.axes[element][:, [0, 2]] * mesh.axes[first[node]][:, [0, 2]], axis=2).min(1)
    bad = (agree < np.cos(np.radians(15.0))) & used[node]
    if bad.any():
        i = node[bad][0]
        others = mesh.element_ids[element[node == i]]
        found = f"node {mesh.node_ids[i]} has one value for elements {others[0]} and {others[-1]}, whose axes differ"
        faults.add(read.name, found, "export results at corners or centres, or with all axes alike")
    read.notes.append("results at nodes: averaged before they were read, also across thicknesses and walls that meet")
    return np.where((mesh.corners >= 0)[None, :, :, None], values[:, mesh.corners], np.nan)


def bare_points(read: ReadTable, cases: tuple[str, ...], faults: Faults) -> tuple[NDArray[np.generic], Floats, Floats]:
    """Identifiers, resultants (cases, p, 8) and thickness (p,) of a bare table of points."""
    table, name = read.frame, read.name
    ids = pd.unique(table["point"])
    point, _ = _dense(read, "point", np.asarray(ids), cases, faults)
    thickness = np.full(len(ids), np.nan)
    if "thickness" in table:
        thickness[pd.Index(ids).get_indexer(pd.Index(table["point"]))] = table["thickness"].to_numpy()
        mixed = table.groupby("point", sort=False)["thickness"].nunique()
        if (mixed > 1).any():
            faults.add(name, f"point {mixed.index[mixed > 1][0]} has two thicknesses", "give one thickness a point")
        if (thickness <= 0.0).any():
            faults.add(name, "a thickness is zero or less", "give more than zero")
    return np.asarray(ids), point, thickness
