"""Panels and openings of walls from tables of their own, without a mesh."""

from __future__ import annotations

from dataclasses import asdict
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.job.source import Table
from sandwich.model.walls.openings import Opening
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.tables.read import ReadTable, read_table

TOUCH: Final = 1.0  # mm


def given_panels(
    project: Project, name: str, table: Table, storeys: list[Storey], faults: Faults
) -> tuple[list[Panel], list[list[Opening]]]:
    """Panels and openings of a wall from its tables; a panel of several rows changes its thickness up its height."""
    job, asked = project.job, project.job.walls[name]
    units = asdict(job.input.units)
    key = f"walls.{name}"
    if len(asked.zones) > 1:
        told = f"{len(asked.zones)} zones, and no mesh tells which panel is in which"
        faults.add(f"{job.path}, {key}.zones", told, "give one, and walls of their own for the others")
    read = read_table(job.folder, table, "panels", f"{key}.panels", units, set(), faults)
    holes = (
        read_table(job.folder, asked.openings, "openings", f"{key}.openings", units, set(), faults)
        if asked.openings is not None
        else None
    )
    if read is None:
        return [], []
    if faults.found:
        return [], []
    if (own := job.zones[asked.zones[0]].thickness) is not None:
        read.frame["thickness"] = own
    rows_of = read.frame.groupby(read.frame["panel"].astype(str), sort=False)
    found = [_panel(str(p), rows, f"{read.name}, row {rows.index[0]}", storeys, faults) for p, rows in rows_of]
    panels = [p for p in found if p is not None]
    if holes is None or faults.found:
        return panels, [[] for _ in panels]
    return panels, _openings(holes, panels, faults)


def _panel(name: str, rows: pd.DataFrame, where: str, storeys: list[Storey], faults: Faults) -> Panel | None:
    """One panel by its rows, or nothing where they do not make one."""
    line = rows[["x1", "y1", "x2", "y2"]].to_numpy(dtype=float)
    if np.ptp(line, axis=0).max() > 0.0 or np.allclose(line[0, :2], line[0, 2:]):
        remedy = "give x1, y1, x2, y2 of two places, the same in all its rows"
        faults.add(where, f"panel {name} has no single line in plan", remedy)
        return None
    ends = line[0].reshape(2, 2)
    length = float(np.linalg.norm(ends[1] - ends[0]))
    thickness = rows["thickness"].to_numpy(dtype=float)
    strange = thickness[~((thickness > 0.0) & (thickness < length))]
    if len(strange):
        told = f"panel {name} of {length / 1e3:g} m is {strange[0] / 1e3:g} m thick"
        faults.add(where, told, "give its thickness, and its unit in input.units")
        return None
    foot, head = storeys[0].low, storeys[-1].high
    lows = rows["bottom"].fillna(foot).to_numpy(dtype=float) if "bottom" in rows else np.full(len(rows), foot)
    highs = rows["top"].fillna(head).to_numpy(dtype=float) if "top" in rows else np.full(len(rows), head)
    order = np.argsort(lows, kind="stable")
    if (highs <= lows).any() or (highs[order][:-1] > lows[order][1:] + TOUCH).any():
        faults.add(where, f"heights of panel {name} fall, or overlap", "give bottom below top, and each height once")
        return None
    # a piece a storey, so that thickness is found at each height
    z, h = [], []
    for s in storeys:
        for low, high, t in zip(lows, highs, thickness, strict=True):
            a, b = max(low, s.low), min(high, s.high)
            if b > a:
                z.append([a, a, b, b])
                h.append(t)
    if not h:
        faults.add(where, f"panel {name} stands in no storey", f"they go from {foot / 1e3:g} to {head / 1e3:g} m")
        return None
    s_of = np.tile([0.0, length, length, 0.0], (len(h), 1))
    return Panel(name, np.arange(len(h)), ends, s_of, np.array(z).reshape(-1, 4), np.array(h))


def _openings(read: ReadTable, panels: list[Panel], faults: Faults) -> list[list[Opening]]:
    """Openings of each panel, those inside it and apart from each other."""
    openings: dict[str, list[Opening]] = {p.name: [] for p in panels}
    by = {p.name: p for p in panels}
    for i, row in read.frame.iterrows():
        name, a, b, low, high = str(row["panel"]), row["from"], row["to"], row["bottom"], row["top"]
        where = f"{read.name}, row {i}"
        if name not in by or not (b > a and high > low):
            found = f"panel {name} is none of the wall" if name not in by else "from, to, bottom and top make no box"
            faults.add(where, found, f"panels are {', '.join(by)}; values rise")
            continue
        if not by[name].holds(a, b, low, high):
            faults.add(
                where, f"it lies outside panel {name}, {by[name].extent}", "give places along the panel, and heights"
            )
            continue
        if any(o.b > a + TOUCH and o.a < b - TOUCH and o.high > low + TOUCH and o.low < high - TOUCH
               for o in openings[name]):  # fmt: skip
            faults.add(where, f"it overlaps another opening of panel {name}", "give each opening once")
            continue
        openings[name].append(Opening(a, b, low, high, (b - a) * (high - low)))
    return [openings[p.name] for p in panels]
