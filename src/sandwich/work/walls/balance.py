"""Cuts at the foot of walls held against the reactions of their supports."""

from __future__ import annotations

from typing import Final

import numpy as np
import pandas as pd

from sandwich.project.project import Project
from sandwich.tables.meshing import locate
from sandwich.work.walls.stations import FORCES, Station, WallCuts

FOOT: Final = 50.0  # mm: supports no further from the foot of a wall


def balance_frame(project: Project, cuts: WallCuts) -> pd.DataFrame | None:
    """One row a wall and case with signs: foot cut, reactions, difference; None without reactions.

    A wall whose elements are supported elsewhere too is left out.
    """
    table, mesh = project.results.reactions, cuts.walls.mesh
    if table is None or mesh is None:
        return None
    node = locate(pd.Index(mesh.node_ids), table["node"])
    case = pd.Index(project.results.cases).get_indexer(pd.Index(table["case"]))
    known = (node >= 0) & (case >= 0)
    table, node, case = table[known], node[known], case[known]
    names = [c for c in ("fx", "fy", "fz", "mx", "my", "mz") if c in table]
    values = table[names].to_numpy(dtype=float) @ np.eye(len(names), 6)
    rows = []
    for wall in (w for w in cuts.walls.walls if w.asked.panels is None and w.asked.forces is None):
        corners = mesh.corners[wall.elements]
        own = np.isin(node, corners[corners >= 0])
        low = float(mesh.xyz[np.unique(corners[corners >= 0]), 2].min())
        at_foot = mesh.xyz[node, 2] < low + FOOT
        feet = [s for s in cuts.stations if s.wall == wall.name and s.kind == "section" and s.at == "bottom"]
        feet = [s for s in feet if s.place < low + max(2e3 * wall.asked.offset, FOOT)]
        if not feet or not own.any() or (own & ~at_foot).any():
            continue
        about = feet[0].centroid
        force, moment = np.zeros((len(cuts.case_names), 3)), np.zeros((len(cuts.case_names), 3))
        np.add.at(force, case[own], values[own, :3])
        arms = np.cross(mesh.xyz[node[own]] - about, values[own, :3]) + values[own, 3:]
        np.add.at(moment, case[own], arms)
        # what the upper part does to the lower one is the opposite of what supports do to the wall
        given = -np.concatenate([force, moment], axis=1)
        cut = np.sum([forces_about(s, about) for s in feet], axis=0)
        size = np.repeat(np.stack([np.abs(given[:, :3]).max(1), np.abs(given[:, 3:]).max(1)], axis=1), 3, axis=1)
        off = 100.0 * np.abs(cut - given) / np.maximum(size, 1e-9)
        spread = np.linalg.norm(np.ptp(mesh.xyz[node[own]], axis=0))
        off[:, 3:] = np.where(size[:, 3:] > 1e-3 * size[:, :3] * spread, off[:, 3:], 0.0)
        for i, name in enumerate(cuts.case_names):
            if project.results.kinds[name].signed is False or size[i].max() == 0.0:
                continue
            row: dict[str, object] = {"wall": wall.name, "case": name}
            for j, axis in enumerate(("Fx", "Fy", "Fz", "Mx", "My", "Mz")):
                unit, scale = ("kN", 1e-3) if j < 3 else ("kNm", 1e-6)
                row |= {f"{axis} cut [{unit}]": cut[i, j] * scale, f"{axis} reactions [{unit}]": given[i, j] * scale}
            rows.append(row | {"largest difference [%]": float(off[i].max())})
    return pd.DataFrame(rows) if rows else None


def forces_about(s: Station, place: np.ndarray) -> np.ndarray:
    """Forces and moments of a station in global axes about a place, (c, 6)."""
    by = dict(zip(FORCES, s.cases.T, strict=True))
    force = np.stack([by["V1"], by["V2"], by["N"]], axis=1) @ s.axes
    moment = np.stack([by["M1"], by["M2"], by["T"]], axis=1) @ s.axes
    return np.concatenate([force, moment + np.cross(s.centroid - place, force)], axis=1)
