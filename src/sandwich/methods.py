"""Plate, membrane and three layers side by side on the results of the last run: what each method neglects."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.design.ultimate import Ultimate, design_ultimate
from sandwich.errors import Fault, InputError
from sandwich.job import Job
from sandwich.prepare import settings_of, standard_of
from sandwich.resume import fresh_job, load_combinations, load_ultimate
from sandwich.tables.owned import results_folder
from sandwich.tables.write import file_name, read_store, write_table

METHODS: Final = ("plate", "membrane", "sandwich")
TABLE: Final = "methods"


@dataclass(frozen=True, repr=False)
class Compared:
    """The three methods for the same points.

    Attributes
    ----------
    job : Job
        The job.
    steel : DataFrame
        One row a point and bar layer: area by strength of each method, without minimum steel.
    points : DataFrame
        One row a point: all layers together, and the force each method leaves out over its bar force.
    summary : DataFrame
        One row a zone: means, and how many points have less steel by a part of the forces than by all of them.
    folder : Path
        Where the tables are.
    picture : Path or None
        The figure of the worst points.
    """

    job: Job
    steel: pd.DataFrame
    points: pd.DataFrame
    summary: pd.DataFrame
    folder: Path
    picture: Path | None = None

    def __repr__(self) -> str:
        return f"Compared({self.job.title}: {len(self.points)} points; tables in {self.folder})"

    def _repr_html_(self) -> str:
        """Means of each zone."""
        return str(self.summary.to_html(index=False, float_format="{:.4g}".format))


def compare_methods(path: str | Path, zone: str | None = None, *, pictures: bool = True) -> Compared:
    """Design the points of a job by all three methods, from the store of the last run.

    Parameters
    ----------
    path : str or Path
        The job file; it has been run and not changed since.
    zone : str, optional
        One zone; all by default.
    pictures : bool
        Whether the figure is drawn.

    Returns
    -------
    Compared
        Steel by strength of plate (moments alone), membrane (membrane forces alone) and sandwich (both).

    Raises
    ------
    InputError
        If there is no such zone.
    StaleError
        If the job was not run, or has changed since.
    """
    job = fresh_job(path)
    if zone is not None and zone not in job.zones:
        raise InputError([Fault("--zone", f"no zone '{zone}'", f"there are {', '.join(job.zones)}")])
    standard = standard_of(job)
    _, situations, factors = load_combinations(job.results / "store")
    steel, points = [], []
    for name in [zone] if zone else list(job.zones):
        held, cases, _ = read_store(job.results / "store" / f"{file_name(name)}.parquet")
        h, labels = held["thickness"].to_numpy(dtype=float), held["point"].to_numpy()
        settings = settings_of(job.zones[name], standard)
        last = load_ultimate(job.results / "store" / f"{file_name(name)}.npz")
        turn = None if last is None else last.turn
        found = {
            m: design_ultimate(cases, factors, situations, h, replace(settings, method=m, minimum="none"), turn=turn)
            for m in METHODS
        }
        there = np.isfinite(settings.bars.axes(h)[0])
        for i in np.flatnonzero(there):
            layer = {"zone": name, "point": labels, "layer": settings.names[i]}
            steel.append(pd.DataFrame({**layer, **{f"{m} [mm2/m]": u.a_s[:, i] * 1e3 for m, u in found.items()}}))
        points.append(_points(name, labels, found))
    frames = pd.concat(steel, ignore_index=True), pd.concat(points, ignore_index=True)
    summary = pd.DataFrame([_summary(name, of) for name, of in frames[1].groupby("zone", sort=False)])
    with results_folder(job, (f"{TABLE}.parquet", f"{TABLE}.csv", f"{TABLE}.png")):
        write_table(frames[0], job.results, TABLE, csv=job.output.csv)
        picture = _picture(job, frames[1]) if pictures else None
    return Compared(job, *frames, summary, job.results, picture)


def _points(name: str, labels: np.ndarray, found: dict[str, Ultimate]) -> pd.DataFrame:
    columns: dict[str, object] = {"zone": name, "point": labels}
    for m, u in found.items():
        columns[f"{m} [mm2/m]"] = u.a_s.sum(1, where=np.isfinite(u.a_s)) * 1e3 + np.where(u.failing >= 0, np.nan, 0.0)
    for m in ("plate", "membrane"):
        columns[f"left out by {m} [of bar force]"] = found[m].neglected
    return pd.DataFrame(columns)


def _summary(name: object, of: pd.DataFrame) -> dict[str, object]:
    whole = of["sandwich [mm2/m]"]
    out: dict[str, object] = {"zone": name, "points": len(of)}
    out |= {f"mean {m} [mm2/m]": of[f"{m} [mm2/m]"].mean() for m in METHODS}
    for m in ("plate", "membrane"):
        out[f"points with less by {m}"] = int((of[f"{m} [mm2/m]"] < 0.98 * whole - 1.0).sum())
    return out


def _picture(job: Job, points: pd.DataFrame) -> Path:
    from sandwich.drawing.bars import BarsDescription, draw_bars
    from sandwich.drawing.maps import png
    from sandwich.tables.write import write_aside

    columns = [f"{m} [mm2/m]" for m in METHODS]
    each = max(14 // points["zone"].nunique(), 1)
    by_zone = points.sort_values("sandwich [mm2/m]", ascending=False).groupby("zone", sort=False)
    worst = by_zone.head(each).sort_values(["zone", "sandwich [mm2/m]"], ascending=[True, False]).head(28)
    shown = BarsDescription(
        f"{job.title}: three methods", "steel by strength of all bar layers of a point, without minimum steel",
        [f"{r.zone}/{r.point}" for r in worst.itertuples()], list(METHODS), worst[columns].to_numpy(dtype=float),
        points[columns].to_numpy(dtype=float), "steel [mm2/m]",
    )  # fmt: skip
    picture = png(draw_bars, shown)
    return write_aside(job.results / f"{TABLE}.png", lambda aside: aside.write_bytes(picture))
