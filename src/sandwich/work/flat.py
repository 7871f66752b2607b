"""A flat part of a zone, its resultants integrated across straight cuts, and what its supports exert."""

from __future__ import annotations

from dataclasses import dataclass
from fnmatch import fnmatch
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.core.errors import Faults
from sandwich.core.resultants import rotate
from sandwich.mechanics.cuts import cut
from sandwich.mechanics.superpose import superpose
from sandwich.model.points import split_both_ways
from sandwich.model.turn import turn_corners
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.tables.meshing import locate

Floats = NDArray[np.float64]
FLAT: Final = np.cos(np.radians(15.0))


@dataclass(frozen=True)
class FlatPart:
    """Triangles of a flat part, by both diagonals of its elements, and its resultants under k combinations.

    Attributes
    ----------
    triangles : ndarray, shape (t, 3, 2)
        Corners along both axes of the part [mm].
    corner : ndarray of int, shape (t, 3)
        Row of `moments` of each corner.
    resultants : ndarray, shape (q, k, 8)
        Of the points, in the bar directions [N, mm].
    shear : ndarray, shape (t, k, 2)
        Mean transverse shear of each element, which is better than any corner value of common shell elements.
    angle : ndarray, shape (t,)
        From the x bars to the first axis [rad].
    """

    triangles: Floats
    corner: NDArray[np.int64]
    resultants: Floats
    shear: Floats
    angle: Floats

    def across(self, a: Floats, b: Floats) -> tuple[Floats, float]:
        """Integrals (k, 8) over a cut from a to b, in the axes of the part, and its length inside."""
        pieces = cut(self.triangles, a, b, times=2)
        values = self.resultants[self.corner[pieces.triangle]]
        values[..., 6:] = self.shear[pieces.triangle][:, None]
        values = rotate(values, self.angle[pieces.triangle][:, None, None])
        return np.einsum("qc,qckf->kf", pieces.weights, values), pieces.length


def level_elements(z: ZoneInput, origin: Floats, normal: Floats, apart: float | Floats) -> NDArray[np.bool_]:
    """Elements of a zone whose normal is that of a plane, and which are no further from it than `apart` [mm]."""
    s = z.on_mesh
    level = s.orientation.bars[:, 2] @ normal > FLAT
    off = np.abs((s.mesh.centres[s.elements] - origin) @ normal) < apart
    return np.asarray(level & off)


def laid_flat(z: ZoneInput, origin: Floats, axes: Floats) -> Floats:
    """Corners of the elements of a zone along two axes from a place [mm], (e, 4, 2); a triangle repeats its third."""
    nodes = z.on_mesh.corners
    flat = (z.on_mesh.mesh.xyz[nodes] - origin) @ axes.T
    return np.asarray(np.where((nodes >= 0)[..., None], flat, flat[:, 2:3]))


def flat_part(
    z: ZoneInput,
    project: Project,
    chosen: Combinations,
    use: NDArray[np.bool_],
    *,
    flat: Floats,
    axes: Floats,
    where: str,
    faults: Faults,
    carried: bool = True,
) -> FlatPart | None:
    """The elements `use` of a zone under some combinations; notes points without results.

    With `carried`, moments reach held edges as the zone has them; without, they are as they was read.
    """
    at = z.on_mesh.points.of_corners(len(flat))
    at = np.where(at >= 0, at, at[:, 2:3])
    corner_points = split_both_ways(at[use])
    bars = z.on_mesh.orientation.bars[use]
    angle = np.repeat(np.arctan2(bars[:, 1] @ axes[0], bars[:, 0] @ axes[0]), 4)
    used, corner_points = np.unique(corner_points, return_inverse=True)
    cases = z.cases if z.raw is None else z.raw  # a total needs no averaged peaks
    if not carried and z.on_mesh.uncarried is not None:
        cases = z.on_mesh.uncarried
    combined = superpose(cases[used], chosen.factors)
    lost = used[~np.isfinite(combined).all((1, 2))]
    if len(lost):
        faults.add(where, f"point {z.labels[lost[0]]} has no results", "export them, or choose another place")
        return None
    shear = np.repeat(_middle_shear(z, project, chosen)[use], 4, axis=0)
    return FlatPart(split_both_ways(flat[use]), corner_points.reshape(-1, 3), combined, shear, angle)


def _middle_shear(z: ZoneInput, project: Project, chosen: Combinations) -> Floats:
    """Shear of each element, (e, k, 2): its mean."""
    s = z.on_mesh
    turned = turn_corners(project.results.corner, s.orientation, z.zone.offset, s.elements)[..., 6:]
    there = np.isfinite(turned)
    mean = np.where(there, turned, 0.0).sum(2) / np.maximum(there.sum(2), 1)
    return np.asarray(np.einsum("kc,cei->eki", factors_of_cases(project, chosen), mean))


def factors_of_cases(project: Project, chosen: Combinations) -> Floats:
    """Factors of the cases with signs, (k, cases)."""
    return np.array([[r.factors.get(c, 0.0) for c in project.results.cases] for r in chosen.rows])


def signed_combinations(
    combinations: Combinations, patterns: tuple[str, ...], where: str, faults: Faults
) -> Combinations | None:
    """Combinations by the patterns of their names; magnitudes without signs cannot be integrated."""
    rows = tuple(r for r in combinations.rows if any(fnmatch(r.base or r.name, p) for p in patterns))
    if not rows:
        names = ", ".join(combinations.names[:8])
        faults.add(f"{where}.combinations", "no combination has such a name", f"there are {names}")
        return None
    unsigned = next((r for r in rows if r.signs), None)
    if unsigned is not None:
        cases = ", ".join(c for c in unsigned.factors if any(k.component and k.case == c for k in combinations.columns))
        found = f"combination {unsigned.base} holds {cases} without signs, which cannot be integrated"
        faults.add(where, found, "bring modal results or signed section forces, or choose other combinations")
        return None
    return Combinations(rows, combinations.columns)


@dataclass(frozen=True)
class Supports:
    """Supports of a model: places (n, 3) [mm], forces and couples on it under k combinations (k, n, 3) [N, N mm]."""

    xyz: Floats
    force: Floats
    couple: Floats


def supports_of(project: Project, chosen: Combinations) -> Supports | None:
    """What every support exerts under some combinations; None where no reactions was read."""
    mesh, table = project.results.mesh, project.results.reactions
    if table is None or mesh is None:
        return None
    at = locate(pd.Index(mesh.node_ids), table["node"])
    table, at = table[at >= 0], at[at >= 0]
    nodes, row = np.unique(at, return_inverse=True)
    case = pd.Index(project.results.cases).get_indexer(pd.Index(table["case"]))
    values = np.zeros((len(project.results.cases), len(nodes), 6))
    names = [c for c in ("fx", "fy", "fz", "mx", "my", "mz") if c in table]
    known = case >= 0
    np.add.at(values, (case[known], row[known]), table[names].to_numpy()[known] @ np.eye(len(names), 6))
    combined = np.einsum("kc,cni->kni", factors_of_cases(project, chosen), values)
    return Supports(mesh.xyz[nodes], combined[..., :3], combined[..., 3:])
