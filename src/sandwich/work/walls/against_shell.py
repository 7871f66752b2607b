"""Bars of walls held against what the design of the same zones, point by point, asks for."""

from __future__ import annotations

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.design.results import LAYER, REASON, REQUIRED
from sandwich.design.walls.bars import WallSteel
from sandwich.project.zone_input import ZoneInput
from sandwich.work.walls.checks import CheckedPart

Floats = NDArray[np.float64]
UPRIGHT = 0.7  # sine from which bars count as vertical
WAYS = ("horizontal", "vertical")
FAILS = "the point fails"


def against_shell(parts: list[CheckedPart], zones: list[ZoneInput], steel: pd.DataFrame) -> pd.DataFrame | None:
    """One row a part and direction: bars of the wall, and the most that a point of its zones requires.

    Parameters
    ----------
    parts : list of CheckedPart
        Parts of walls with their bars.
    zones : list of ZoneInput
        Zones that are designed point by point.
    steel : DataFrame
        Required steel of points and bar layers.

    Returns
    -------
    DataFrame or None
        Where the shell design asks for more comes first; None where no zone of a wall is designed so.
    """
    by_zone = {z.name: _required(z, steel[steel["zone"] == z.name]) for z in zones if z.surface is not None}
    rows = []
    for c in parts:
        p, s = c.part, c.steel
        zone = c.wall.zone_at(p)
        if not isinstance(s, WallSteel) or zone not in by_zone:
            continue
        of = by_zone[zone]
        panel = c.wall.panel(p.panel)
        xyz = of[["x", "y", "z"]].to_numpy(dtype=float)
        along = panel.along(xyz)
        inside = np.linalg.norm(panel.place(along)[0] - xyz[:, :2], axis=1) < c.geometry.thickness / 2.0
        inside &= (along >= p.a - 1.0) & (along <= p.b + 1.0) & (xyz[:, 2] >= p.low - 1.0) & (xyz[:, 2] <= p.high + 1.0)
        for way, bars in zip(WAYS, (s.horizontal, s.vertical), strict=True):
            mine = of[inside & (of["way"] == way).to_numpy()]
            if not len(mine):
                continue
            worst = mine.loc[mine["required"].idxmax()]
            there = 1e3 * c.member.of.cover.curtains * bars.area
            rows.append({
                "wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}", "label": p.label, "bars": way,
                "by the wall [mm2/m]": there, "by the shell [mm2/m]": float(worst["required"]),
                "shell over wall": float(worst["required"]) / there, "at point": worst["point"],
                "governed by": worst[REASON], "combination": worst["combination"],
            })  # fmt: skip
    if not rows:
        return None
    return pd.DataFrame(rows).sort_values("shell over wall", ascending=False, kind="stable").reset_index(drop=True)


def _required(z: ZoneInput, steel: pd.DataFrame) -> pd.DataFrame:
    """Required steel of both faces together by point and direction, with the layer that asks for most."""
    layers = z.zone.bars.layers()
    names = layers.names(z.zone.faces.bottom, z.zone.faces.top)
    bars = z.on_mesh.points.bars
    lift = np.cos(layers.angles)[None] * bars[:, 0, 2:3] + np.sin(layers.angles)[None] * bars[:, 1, 2:3]
    upright = pd.Series(np.median(np.abs(lift), axis=0) > UPRIGHT, index=names)
    own = steel.assign(way=np.where(steel[LAYER].map(upright).to_numpy(dtype=bool), WAYS[1], WAYS[0]))
    lost = own[REQUIRED].isna()  # what fails has no steel that would do
    own[REQUIRED] = own[REQUIRED].fillna(np.inf)
    own[REASON] = own[REASON].astype(object).mask(lost, FAILS)
    most = own.loc[own.groupby(["point", "way"], sort=False)[REQUIRED].idxmax()]
    total = own.groupby(["point", "way"], sort=False)[REQUIRED].sum().rename("required").reset_index()
    found = most.merge(total, on=["point", "way"])
    place = pd.DataFrame(z.xyz, columns=["x", "y", "z"]).assign(point=z.labels)
    return found.merge(place, on="point")
