"""Sway of a building: drifts, displacements, loads and shears of its storeys under seismic combinations."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Row
from sandwich.core.errors import Faults
from sandwich.design.walls.checks import SEISMIC
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.standards.interface import Buildings, Sway
from sandwich.tables.cases import clean
from sandwich.tables.read import ReadTable, read_table
from sandwich.work.walls.balance import forces_about
from sandwich.work.walls.spectra import with_modes
from sandwich.work.walls.stations import WallCuts

Floats = NDArray[np.float64]
NEAR: Final = 20.0  # mm between a node and its level, and between places that stand over each other
SEISMIC_KINDS: Final = ("seismic", "mode", "combined")
WAYS: Final = ("x", "y")
STRANGE: Final = 0.1  # drift over storey height that no analysis has: a unit is wrong


@dataclass(frozen=True)
class StoreyMotion:
    """One storey: drift and displacement of its points in x and y by case [mm], (c, p, 2), nan where not known.

    `forces` are the gravity load, and the shear in x and y, of each case [N], (c, 3).
    """

    storey: Storey
    points: tuple[str, ...]
    drift: Floats
    top: Floats
    forces: Floats


@dataclass(frozen=True)
class BuildingMotion:
    """All storeys from below, the seismic combinations; kinds of the cases, and which have magnitudes alone."""

    storeys: tuple[StoreyMotion, ...]
    rows: tuple[Row, ...]
    cases: tuple[str, ...]
    quake: NDArray[np.bool_]
    bare: NDArray[np.bool_]
    kinds: dict[str, str | None]

    @property
    def seismic(self) -> Floats:
        """Factors of the seismic cases in each combination, the largest taken as 1, (k, c)."""
        out = np.array([[r.factors.get(c, 0.0) for c in self.cases] for r in self.rows]).reshape(-1, len(self.cases))
        out = out * self.quake
        most = np.abs(out).max(axis=1, initial=0.0, keepdims=True)
        return out / np.where(most > 0.0, most, 1.0)

    def combined(self, values: Floats, factors: Floats) -> Floats:
        """Largest magnitudes of values (c, ...) under factors (k, c); cases that do not act need no values."""
        flat = values.reshape(len(self.cases), -1)
        used = np.abs(factors).max(axis=0, initial=0.0) > 0.0
        flat = np.where(used[:, None], flat, 0.0)
        steady, either = factors * ~self.bare, np.abs(factors) * self.bare
        found = np.abs(steady @ flat) + either @ np.abs(flat)
        return np.asarray(found.reshape(len(factors), *values.shape[1:]))

    def sway(self, at: StoreyMotion, way: int, standard: Buildings) -> Sway:
        """One storey in x (0) or y (1) under all combinations."""
        factors = self.seismic
        drift = self.combined(at.drift[:, :, way], factors)
        top = self.combined(at.top[:, :, way], factors)
        gravity = np.array(
            [[standard.gravity_factor(r.factors.get(c, 0.0)) for c in self.cases] for r in self.rows]
        ).reshape(-1, len(self.cases)) * ~self.quake  # fmt: skip
        return Sway(
            h=at.storey.high - at.storey.low, drift=(drift.min(1) + drift.max(1)) / 2.0, drift_most=drift.max(1),
            top=(top.min(1) + top.max(1)) / 2.0, top_least=top.min(1), top_most=top.max(1),
            P=self.combined(at.forces[:, 0], gravity), V=self.combined(at.forces[:, 1 + way], factors),
        )  # fmt: skip


def motion_of(project: Project, cuts: WallCuts, faults: Faults) -> BuildingMotion | None:
    """Drifts, displacements, loads and shears of all storeys; None of a job without a building, or where it fails."""
    asked = project.job.building
    if asked is None:
        return None
    kinds, cases = project.results.kinds, cuts.case_names
    storeys, count = cuts.walls.storeys, len(faults.found)
    quake = np.array([kinds[c].kind in SEISMIC_KINDS for c in cases], dtype=bool)
    spectra = project.job.spectra
    bare = np.array([
        kinds[c].signed is False and not (c in spectra and spectra[c].signs_of is not None) for c in cases
    ], dtype=bool)  # fmt: skip
    moved = _from_table(project, cuts, faults) if asked.drifts is not None else _from_nodes(project, cuts, faults)
    if moved is None or len(faults.found) > count:
        return None
    given = _forces(project, cuts, faults) if asked.forces is not None else None
    carried = _carried(project, cuts) if asked.walls_carry_all else {}
    none = np.full((len(cases), 3), np.nan)
    out = []
    for s in storeys:
        forces = (given if given is not None else carried).get(s.name, none)
        names, drift, top = moved[s.name]
        out.append(StoreyMotion(s, names, drift, top, forces))
    rows = tuple(r for r in cuts.rows if r.situation == SEISMIC)
    found = BuildingMotion(tuple(out), rows, cases, quake, bare, {c: kinds[c].kind for c in cases})
    _complete(found, str(project.job.path), faults)
    return found if len(faults.found) == count else None


def _complete(of: BuildingMotion, path: str, faults: Faults) -> None:
    """Note cases without drifts, and drifts that are none."""
    used = np.abs(of.seismic).max(axis=0, initial=0.0) > 0.0
    bare = sorted({c for r in of.rows for c, f in r.factors.items() if f and of.kinds.get(c) is None})
    if bare:
        found = f"case '{bare[0]}' of the seismic combinations has no kind, so that it is neither load nor earthquake"
        faults.add(f"{path}, building", found, f'tell it: [cases.{bare[0]}] kind = "permanent", "seismic"')
        return
    if len(of.rows) and not used.any():
        found = "no case of the seismic combinations is of kind seismic"
        faults.add(f"{path}, building", found, 'tell which are: [cases.NAME] kind = "seismic"')
    for s in of.storeys:
        lost = np.flatnonzero(used & ~np.isfinite(s.drift).all((1, 2)))
        if len(lost):
            found = f"case '{of.cases[lost[0]]}' has no drift in '{s.storey.name}'"
            remedy = "give displacements of its modes and name them in [spectra]" if of.bare[lost[0]] else (
                "give its displacements too"
            )  # fmt: skip
            faults.add(f"{path}, building", found, f"{remedy}, or the drifts as a table")
            return
        h = s.storey.high - s.storey.low
        most = np.abs(s.drift[used]).max(initial=0.0)
        if most > STRANGE * h:
            found = f"a drift of {most / 1e3:.3g} m in '{s.storey.name}', which is {h / 1e3:.3g} m high"
            faults.add(f"{path}, building", found, 'tell the unit of the table: units = { length = "mm" }')
            return


Moved = dict[str, tuple[tuple[str, ...], Floats, Floats]]


def _from_nodes(project: Project, cuts: WallCuts, faults: Faults) -> Moved | None:
    """Drifts of nodes that stand over each other at both levels of a storey."""
    u, mesh, where = project.results.displacements, cuts.walls.mesh, f"{project.job.path}, building"
    if u is None or mesh is None:
        faults.add(where, "no drift is known", "give input.displacements, or drifts as a table of their own")
        return None
    spectra, kinds, out = dict(project.job.spectra), project.results.kinds, {}
    # the drift of magnitudes is not their difference
    u = np.where(np.array([kinds[c].signed is False for c in cuts.case_names])[:, None, None], np.nan, u)
    known, xyz = np.isfinite(u).all(2).any(0), mesh.xyz
    for s in cuts.walls.storeys:
        low, high = (np.flatnonzero(known & (np.abs(xyz[:, 2] - z) < NEAR)) for z in (s.low, s.high))
        off = np.linalg.norm(xyz[high, None, :2] - xyz[None, low, :2], axis=2) if len(low) and len(high) else None
        pairs = np.argwhere(off < NEAR) if off is not None else np.empty((0, 2), dtype=np.int64)
        if not len(pairs):
            found = f"no displacements of places that stand over each other in '{s.name}'"
            faults.add(where, found, f"give those of nodes at {s.low / 1e3:g} and {s.high / 1e3:g} m")
            return None
        above, below = high[pairs[:, 0]], low[pairs[:, 1]]
        names = tuple(f"node {mesh.node_ids[i]}" for i in above)
        top, foot = u[:, above, :2], u[:, below, :2]
        out[s.name] = (
            names,
            with_modes(top - foot, cuts.case_names, spectra),
            with_modes(top, cuts.case_names, spectra),
        )
    return out


def beyond_known(project: Project, cuts: WallCuts) -> list[tuple[str, list[str]]]:
    """Storeys that go on past the nodes whose displacements are known, and their nodes that lie beyond."""
    u, mesh = project.results.displacements, cuts.walls.mesh
    if u is None or mesh is None:
        return []
    known, out = np.isfinite(u).all(2).any(0), []
    angle = np.arange(0.0, 2.0 * np.pi, np.pi / 32.0)
    ways = np.stack([np.cos(angle), np.sin(angle)])
    for s in cuts.walls.storeys:
        at = np.abs(mesh.xyz[:, 2] - s.high) < NEAR
        if (at & known).any() and (at & ~known).any():
            reach = (mesh.xyz[at & known, :2] @ ways).max(0)
            left = np.flatnonzero(at & ~known)
            past = left[(mesh.xyz[left, :2] @ ways > reach + NEAR).any(1)]
            if len(past):
                out.append((s.name, [str(n) for n in mesh.node_ids[past]]))
    return out


def _rows(project: Project, read: ReadTable, cuts: WallCuts, faults: Faults) -> tuple[pd.DataFrame, NDArray[np.int64]]:
    """The table without cases that nothing takes, and the number of each row's case; strange names are faults."""
    frame, storeys = read.frame, [s.name for s in cuts.walls.storeys]
    lost = sorted(set(frame["storey"].astype(str)) - set(storeys))
    if lost:
        faults.add(read.name, f"no storey '{lost[0]}'", f"there are {', '.join(storeys)}")
    strange = sorted(set(frame["case"].astype(str)) - set(cuts.case_names) - set(project.results.unread))
    if strange:
        faults.add(read.name, f"case '{strange[0]}' is not known", f"there are {', '.join(cuts.case_names)}")
    case = pd.Index(cuts.case_names).get_indexer(pd.Index(frame["case"]))
    return frame[case >= 0], case[case >= 0]


def _once(frame: pd.DataFrame, key: list[str], name: str, remedy: str, faults: Faults) -> None:
    """Note the first case that stands twice in a storey."""
    again = frame.duplicated(key)
    if again.any():
        row = frame[again].iloc[0]
        faults.add(
            f"{name}, row {frame.index[again][0]}", f"case {row['case']} stands twice in '{row['storey']}'", remedy
        )


def _table(project: Project, kind: str, faults: Faults) -> ReadTable | None:
    job, asked = project.job, project.job.building
    table = None if asked is None else asked.drifts if kind == "drifts" else asked.forces
    if table is None:
        return None
    read = read_table(job.folder, table, f"storey {kind}", f"building.{kind}", asdict(job.input.units), set(), faults)
    if read is not None:
        read.frame["case"] = clean(read.frame["case"], job.input.case_names)
    return read


def _from_table(project: Project, cuts: WallCuts, faults: Faults) -> Moved | None:
    """Drifts of a table, by points where it names some."""
    read = _table(project, "drifts", faults)
    if read is None:
        return None
    frame, case = _rows(project, read, cuts, faults)
    point = frame["point"].astype(str) if "point" in frame else pd.Series("", frame.index)
    frame = frame.assign(point=point)
    _once(frame, ["storey", "case", "point"], read.name, "give each once, or name points", faults)
    out: Moved = {}
    for s in cuts.walls.storeys:
        mine = (frame["storey"].astype(str) == s.name).to_numpy()
        names = list(dict.fromkeys(frame["point"][mine])) or [""]
        drift = np.full((len(cuts.case_names), len(names), 2), np.nan)
        top = drift.copy()
        at = case[mine], [names.index(p) for p in frame["point"][mine]]
        drift[at] = frame.loc[mine, ["dx", "dy"]].to_numpy(dtype=float)
        if {"ux", "uy"} <= set(frame):
            top[at] = frame.loc[mine, ["ux", "uy"]].to_numpy(dtype=float)
        spectra = dict(project.job.spectra)
        drift, top = (with_modes(v, cuts.case_names, spectra) for v in (drift, top))
        out[s.name] = tuple(names), drift, top
    return out


def _forces(project: Project, cuts: WallCuts, faults: Faults) -> dict[str, Floats]:
    """Gravity load and shears of the storeys of a table, (c, 3) each."""
    read = _table(project, "forces", faults)
    if read is None:
        return {}
    frame, case = _rows(project, read, cuts, faults)
    _once(frame, ["storey", "case"], read.name, "give each once", faults)
    out = {}
    for s in cuts.walls.storeys:
        mine = (frame["storey"].astype(str) == s.name).to_numpy()
        values = np.full((len(cuts.case_names), 3), np.nan)
        values[case[mine]] = frame.loc[mine, ["P", "Vx", "Vy"]].to_numpy(dtype=float)
        out[s.name] = with_modes(values, cuts.case_names, dict(project.job.spectra))
    return out


def sections_at(project: Project, cuts: WallCuts, storey: str, wall: str = "") -> Floats:
    """Forces in x, y and z that whole sections carry at the foot of a storey, of one wall or of all, (c, 3) [N]."""
    feet = [s for s in cuts.stations if s.kind == "section" and s.at == "bottom" and s.storey == storey]
    own = [s for s in feet if not wall or s.wall == wall]
    # modes are added before they are combined
    found = [forces_about(s, s.centroid)[:, :3] for s in own]
    total = np.sum(found, axis=0) if found else np.zeros((len(cuts.case_names), 3))
    return with_modes(total, cuts.case_names, dict(project.job.spectra))


def _carried(project: Project, cuts: WallCuts) -> dict[str, Floats]:
    """Gravity load, compression positive, and shears by the cuts of the walls."""
    out = {}
    for s in cuts.walls.storeys:
        of = sections_at(project, cuts, s.name)
        out[s.name] = np.stack([-of[:, 2], of[:, 0], of[:, 1]], axis=1)
    return out


def on_top(motion: BuildingMotion, level: float, way: Floats) -> Floats:
    """Largest displacement of the points of a level along a direction in plan under each combination [mm], (k,)."""
    at = next((s for s in motion.storeys if abs(s.storey.high - level) < NEAR), motion.storeys[-1])
    return np.asarray(motion.combined(at.top @ way, motion.seismic).max(1, initial=0.0))
