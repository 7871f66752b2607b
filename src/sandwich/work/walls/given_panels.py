"""Panels and openings of walls from tables of their own, without a mesh."""

from __future__ import annotations

from dataclasses import asdict

import numpy as np

from sandwich.core.errors import Faults
from sandwich.job.source import Table
from sandwich.model.walls.openings import Opening
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.storeys import Storey
from sandwich.project.project import Project
from sandwich.tables.read import read_table


def given_panels(
    project: Project, name: str, table: Table, storeys: list[Storey], faults: Faults
) -> tuple[list[Panel], list[list[Opening]]]:
    """Panels and openings of a wall from its tables; a panel of several rows changes its thickness up its height."""
    job, asked = project.job, project.job.walls[name]
    units = asdict(job.input.units)
    key = f"walls.{name}"
    read = read_table(job.folder, table, "panels", f"{key}.panels", units, set(), faults)
    holes = (
        read_table(job.folder, asked.openings, "openings", f"{key}.openings", units, set(), faults)
        if asked.openings is not None
        else None
    )
    if read is None:
        return [], []
    panels = []
    for panel, rows in read.frame.groupby(read.frame["panel"].astype(str), sort=False):
        line = rows[["x1", "y1", "x2", "y2"]].to_numpy(dtype=float)
        if np.ptp(line, axis=0).max() > 0.0 or np.allclose(line[0, :2], line[0, 2:]):
            where = f"{read.name}, row {rows.index[0]}"
            faults.add(
                where,
                f"panel {panel} has no single line in plan",
                "give x1, y1, x2, y2 of two places, the same in all its rows",
            )
            continue
        ends = line[0].reshape(2, 2)
        length = float(np.linalg.norm(ends[1] - ends[0]))
        lows = rows["bottom"].to_numpy(dtype=float) if "bottom" in rows else np.full(len(rows), np.nan)
        highs = rows["top"].to_numpy(dtype=float) if "top" in rows else np.full(len(rows), np.nan)
        lows = np.where(np.isfinite(lows), lows, storeys[0].low)
        highs = np.where(np.isfinite(highs), highs, storeys[-1].high)
        # a piece a storey, so that thickness is found at each height
        z, h = [], []
        for s in storeys:
            for low, high, t in zip(lows, highs, rows["thickness"].to_numpy(dtype=float), strict=True):
                a, b = max(low, s.low), min(high, s.high)
                if b > a:
                    z.append([a, a, b, b])
                    h.append(t)
        panels.append(
            Panel(str(panel), np.arange(len(h)), ends, np.tile([0.0, length, length, 0.0], (len(h), 1)),
                  np.array(z).reshape(-1, 4), np.array(h))
        )  # fmt: skip
    openings: list[list[Opening]] = [[] for _ in panels]
    if holes is not None:
        of = {p.name: i for i, p in enumerate(panels)}
        for i, row in holes.frame.iterrows():
            panel, a, b, low, high = str(row["panel"]), row["from"], row["to"], row["bottom"], row["top"]
            if panel not in of or not (b > a and high > low):
                found = (
                    f"panel {panel} is none of the wall" if panel not in of else "from, to, bottom and top make no box"
                )
                faults.add(f"{holes.name}, row {i}", found, f"panels are {', '.join(of)}; values rise")
                continue
            openings[of[panel]].append(Opening(a, b, low, high, (b - a) * (high - low)))
    return panels, openings
