"""The mesh from its tables: corners, thickness, group and axes of every element, with mismatches named."""

from __future__ import annotations

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.model.mesh import Mesh, corner_axes, crossed, element_areas, frame
from sandwich.tables.columns import MISSING, rows_text
from sandwich.tables.read import ReadTable

Floats = NDArray[np.float64]


def repeated(frame: pd.DataFrame, keys: list[str], name: str, faults: Faults) -> None:
    """Note rows that come a second time."""
    again = frame.duplicated(keys)
    if again.any():
        first = frame.loc[again, keys].iloc[0]
        what = ", ".join(f"{k} {v}" for k, v in first.items())
        same = frame.duplicated()[again].all()
        remedy = "keep one row each" + (', or repeated = "same" of this table: they are the same' if same else "")
        faults.add(f"{name}, {rows_text(frame.index[again])}", f"repeats {what}", remedy)


def locate(ids: pd.Index, column: pd.Series) -> NDArray[np.int64]:
    """Position of each identifier among `ids`, -1 where it is not there; numbers and texts may be mixed."""
    if ids.dtype == column.dtype:
        return ids.get_indexer(pd.Index(column))
    return ids.astype(str).get_indexer(pd.Index(column.astype(str)))


def mesh_of(tables: dict[str, ReadTable | None], faults: Faults) -> Mesh | None:
    """The mesh of the tables nodes, elements, axes, properties and assignments; None where it is not whole."""
    names = {kind: t.name for kind, t in tables.items() if t is not None}
    first, second = tables.get("nodes"), tables.get("elements")
    if first is None or second is None:
        return None
    nodes, elements = first.frame, second.frame
    if not np.isfinite(nodes[["x", "y", "z"]].to_numpy(dtype=float)).all():  # named where the table is read
        return None
    repeated(nodes, ["node"], names["nodes"], faults)
    repeated(elements, ["element"], names["elements"], faults)
    ids = pd.Index(nodes["node"])
    if not ids.is_unique or elements["element"].duplicated().any():
        return None
    corners = np.full((len(elements), 4), -1, dtype=np.int64)
    whole = True
    for i, name in enumerate(("n1", "n2", "n3", "n4")):
        if name not in elements:
            continue
        column = elements[name]
        at = locate(ids, column)
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
    wrong = crossed(xyz, corners)
    if wrong.any():
        row = elements[wrong].iloc[0]
        where = f"{names['elements']}, {rows_text(elements.index[wrong])}"
        faults.add(where, f"the sides of element {row['element']} cross", "give the nodes in their order round it")
        return None
    elements = _assigned(elements, tables, faults)
    thickness = elements["thickness"].to_numpy(float) if "thickness" in elements else np.full(len(elements), np.nan)
    thin = ~(thickness > 0.0) & np.isfinite(thickness)
    if thin.any():
        where = f"{names['elements']}, {rows_text(elements.index[thin])}, column thickness"
        faults.add(where, f"found {thickness[thin][0]:g}", "give more than zero")
    group = np.array(elements["group"].astype(str)) if "group" in elements else np.full(len(elements), "")
    axes = corner_axes(xyz, corners)
    own = tables.get("axes")
    if own is not None:
        _stray(own, elements["element"])
        given_axes = _own_axes(own.frame, elements, names, faults)
        axes = given_axes if given_axes is not None else axes
    return Mesh(
        node_ids=ids.to_numpy(),
        xyz=xyz,
        element_ids=elements["element"].to_numpy(),
        corners=corners,
        thickness=thickness,
        group=group,
        axes=axes,
    )


def _assigned(elements: pd.DataFrame, tables: dict[str, ReadTable | None], faults: Faults) -> pd.DataFrame:
    """Elements with what other tables say of them: by element, then by property; nothing given is overwritten."""
    for kind, key in (("assignments", "element"), ("properties", "property")):
        other = tables.get(kind)
        if other is None:
            continue
        repeated(other.frame, [key], other.name, faults)
        if key not in elements:
            faults.add(other.name, "the elements have no property", "map it: elements.columns = { property = ... }")
            continue
        if other.frame[key].duplicated().any():
            continue
        at = locate(pd.Index(other.frame[key]), elements[key])
        if key == "element":  # a list of properties is that of the whole model
            _stray(other, elements[key])
        if kind == "properties" and (at < 0).any():
            lost = elements[at < 0].iloc[0]
            found = f"no property '{lost[key]}', which element {lost['element']} has"
            faults.add(other.name, found, "add its row")
        elements = elements.copy()
        what = ", ".join(other.frame.columns.drop(key))
        other.notes.append(f"gives {what} to {int((at >= 0).sum())} elements by {key}")
        for column in other.frame.columns.drop(key):
            values = other.frame[column].to_numpy()[at]
            values = np.where(at >= 0, values, np.nan if column == "thickness" else "")
            if column in elements:
                given = elements[column].notna() & (elements[column].astype(str) != "")
                values = np.where(given, elements[column], values)
            elements[column] = values.astype(float) if column == "thickness" else values
    return elements


def _stray(table: ReadTable, elements: pd.Series) -> None:
    """Note rows of a table that are of no element."""
    lost = table.frame["element"][locate(pd.Index(elements.unique()), table.frame["element"]) < 0]
    if len(lost):
        more = f" and {len(lost) - 1} more" if len(lost) > 1 else ""
        table.notes.append(f"there is no element {lost.iloc[0]}{more}, which it names: left out")


def _own_axes(table: pd.DataFrame, elements: pd.DataFrame, names: dict[str, str], faults: Faults) -> Floats | None:
    repeated(table, ["element"], names["axes"], faults)
    if table["element"].duplicated().any():
        return None
    at = locate(pd.Index(table["element"]), elements["element"])
    if (at < 0).any():
        lost = elements["element"][at < 0]
        where = f"{names['axes']}"
        found = f"no axes for element {lost.iloc[0]}" + (f" and {len(lost) - 1} more" if len(lost) > 1 else "")
        faults.add(where, found, "give one row for each element")
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
