"""Open mesh files through meshio: nodes, elements, axes and the results in their arrays, as raw tables."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS
from sandwich.job.source import MeshFile
from sandwich.tables.dialect import Raw

_CORNERS: Final = {"triangle": 3, "quad": 4}
SAME = 1e-6  # of the extent: nodes this near are one node
Arrays = dict[str, NDArray[Any]]


def load_mesh_file(folder: Path, mesh: MeshFile, faults: Faults) -> dict[str, Raw]:
    """Tables of a mesh file under the names of the house, in its own units and signs."""
    import meshio

    path = folder / mesh.file
    if not path.is_file():
        faults.add(str(path), "no such file", "paths are relative to the job file")
        return {}
    try:
        read = meshio.read(path)
    except (Exception, SystemExit) as error:  # meshio raises many kinds and may even leave
        told = not isinstance(error, SystemExit) and str(error)
        first = str(error).splitlines()[0] if told else "not such a file"
        faults.add(path.name, f"cannot be read ({first})", "use a .vtu, .vtk, .xdmf or other open mesh file")
        return {}
    blocks = [(i, b) for i, b in enumerate(read.cells) if b.type in _CORNERS]
    if not blocks:
        kinds = ", ".join(sorted({b.type for b in read.cells})) or "nothing"
        faults.add(path.name, f"holds {kinds}", "use triangles and quads of shells")
        return {}
    for _, b in blocks:
        lost = (b.data < 0) | (b.data >= len(read.points))
        if lost.any():
            found = f"a {b.type} names point {b.data[lost][0]} of {len(read.points)}, counted from 0"
            faults.add(path.name, found, "write the mesh again")
            return {}
    notes = [f"{len(b.data)} cells of type {b.type} left out" for b in read.cells if b.type not in _CORNERS]
    cells = np.concatenate([np.pad(b.data, ((0, 0), (0, 4 - b.data.shape[1])), constant_values=-1) for _, b in blocks])
    cell: Arrays = {k: np.concatenate([np.asarray(v[i]) for i, _ in blocks]) for k, v in read.cell_data.items()}
    point: Arrays = {k: np.asarray(v) for k, v in read.point_data.items()}
    node, xyz = _nodes(np.asarray(read.points, dtype=float), point.get(mesh.node), notes)
    element = cell[mesh.element] if mesh.element in cell else np.arange(1, len(cells) + 1)
    whole = [_whole(f"{path.name}, array {n}", v, faults) for n, v in ((mesh.node, node), (mesh.element, element))]
    if not all(whole) or not _at_one_place(path.name, mesh.node, node, xyz, faults):
        return {}
    tables = {
        "nodes": pd.DataFrame({"node": node, "x": xyz[:, 0], "y": xyz[:, 1], "z": xyz[:, 2]}).drop_duplicates("node"),
        "elements": _elements(element, node, cells, cell, mesh),
    }
    if mesh.local_x in cell and mesh.local_z in cell:
        both = np.column_stack([cell[mesh.local_x], cell[mesh.local_z]])
        tables["axes"] = pd.DataFrame(both, columns=["xx", "xy", "xz", "zx", "zy", "zz"])
        tables["axes"].insert(0, "element", element)
    results = _results(mesh, point, cell, cells, element=element, node=node, file=path.name, faults=faults)
    if results is not None:
        tables["resultants"] = results
    return {
        k: Raw(v.set_axis(pd.RangeIndex(1, len(v) + 1)), f"{path.name}, {k}", notes=notes) for k, v in tables.items()
    }


def _nodes(xyz: NDArray[np.float64], given: NDArray[Any] | None, notes: list[str]) -> tuple[NDArray[Any], Any]:
    """Numbers of the nodes: those of an array, or one number for all points in one place."""
    xyz = np.column_stack([xyz, np.zeros((len(xyz), 3 - xyz.shape[1]))])
    if given is not None:
        return given, xyz
    grain = SAME * max(float(np.ptp(xyz, axis=0).max()), 1e-12)
    _, number = np.unique(np.round(xyz / grain).astype(np.int64), axis=0, return_inverse=True)
    number = number.reshape(-1) + 1
    if number.max() < len(xyz):
        notes.append(f"{len(xyz)} points joined to {number.max()} nodes by their place")
    return number, xyz


def _whole(where: str, numbers: NDArray[Any], faults: Faults) -> bool:
    """Whether an array of numbers of nodes or elements holds whole numbers, one each."""
    good = numbers.ndim == 1 and (
        numbers.dtype.kind not in "fc" or bool((np.isfinite(numbers) & (numbers == np.round(numbers))).all())
    )
    if not good:
        lost = numbers.ravel()[~(np.isfinite(numbers.ravel()) & (numbers.ravel() == np.round(numbers.ravel())))]
        found = f"found {lost[0]:g}" if len(lost) else f"holds {numbers.shape[-1]} numbers each"
        faults.add(where, found, "give one whole number each")
    return good


def _at_one_place(file: str, name: str, node: NDArray[Any], xyz: NDArray[np.float64], faults: Faults) -> bool:
    """Whether points with one number lie in one place."""
    _, first, of = np.unique(node, return_index=True, return_inverse=True)
    apart = np.abs(xyz - xyz[first[of.ravel()]]).max(1) > 1e-3 * max(float(np.ptp(xyz, axis=0).max()), 1e-12)
    if apart.any():
        faults.add(f"{file}, array {name}", f"node {node[apart][0]} lies in two places", "give one number a place")
    return not apart.any()


def _elements(element: Any, node: Any, cells: Any, cell: Arrays, mesh: MeshFile) -> pd.DataFrame:
    table = pd.DataFrame({"element": element})
    for c in range(4):
        real = cells[:, c] >= 0
        table[f"n{c + 1}"] = pd.Series(node[cells[:, c]]).where(real) if not real.all() else node[cells[:, c]]
    for name, source in (("thickness", mesh.thickness), ("group", mesh.group)):
        if source in cell:
            table[name] = cell[source]
    return table


def _results(
    mesh: MeshFile, point: Arrays, cell: Arrays, cells: Any, *, element: Any, node: Any, file: str, faults: Faults
) -> pd.DataFrame | None:
    """Corner results of every case whose arrays are there: of points, or of cells for all their corners."""
    pattern = re.escape(mesh.arrays).replace(r"\{case\}", "(?P<case>.+)").replace(r"\{component\}", "(?P<component>.+)")
    house = {mesh.components.get(c, c): c for c in COMPONENTS}
    found: dict[str, dict[str, NDArray[Any]]] = {}
    row, corner = np.nonzero(cells >= 0)
    for arrays, of_points in ((point, True), (cell, False)):
        for name, values in arrays.items():
            match = re.fullmatch(pattern, name)
            if match is None or match["component"] not in house:
                continue
            if values.size != len(values):
                faults.add(f"{file}, array {name}", f"holds {values.shape[1]} numbers each", "give one a component")
                continue
            case = match.groupdict().get("case") or "results"
            at = cells[row, corner] if of_points else row
            found.setdefault(case, {}).setdefault(house[match["component"]], values.reshape(len(values))[at])
    if not found:
        return None
    ids = {"element": element[row], "node": node[cells[row, corner]]}
    return pd.concat([pd.DataFrame({"case": case, **ids, **values}) for case, values in found.items()])
