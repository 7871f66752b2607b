"""Plate, membrane and three layers side by side on the results of the last run: what each method neglects."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Fault, InputError
from sandwich.design.record import Ultimate
from sandwich.design.ultimate import design_ultimate
from sandwich.job import Job
from sandwich.project.outcome import Table, Text
from sandwich.project.project import Project
from sandwich.project.zone_input import settings_of
from sandwich.stages.ultimate import stored_zone
from sandwich.tables.owned import results_folder
from sandwich.tables.write import write_table

METHODS: Final = ("plate", "membrane", "sandwich")
TABLE: Final = "methods"
NOTE: Final = "Steel by strength of all bar layers of a point; plate leaves membrane forces out, membrane moments."


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

    @property
    def blocks(self) -> tuple[Text | Table, ...]:
        """What each method comes to, and the points where plate or membrane design falls most short."""
        whole = self.points["sandwich [mm2/m]"]
        short = [(whole - self.points[f"{m} [mm2/m]"]).nlargest(5).index for m in ("plate", "membrane")]
        return (
            Table("Zones", self.summary),
            Table(
                "Points where plate or membrane design is most unconservative",
                self.points.loc[short[0].union(short[1])],
            ),
            Text(NOTE, "quiet"),
        )

    def __repr__(self) -> str:
        return f"Compared({self.job.title}: {len(self.points)} points; tables in {self.folder})"

    def _repr_html_(self) -> str:
        """Means of each zone."""
        return str(self.summary.to_html(index=False, float_format="{:.4g}".format))


def compare_methods(job: str | Path | Job | Project, zone: str | None = None, *, pictures: bool = True) -> Compared:
    """Design the points of a job by all three methods, from the store of the last run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it has been run and not changed since.
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
    project = Project.last_run(job)
    job = project.job
    if zone is not None and zone not in job.zones:
        raise InputError([Fault("--zone", f"no zone '{zone}'", f"there are {', '.join(job.zones)}")])
    standard = project.standard
    shells = [n for n, z in job.zones.items() if z.shell] if job.designs_shells else []
    if not shells or (zone is not None and zone not in shells):
        told = f"zone '{zone}' is not" if zone is not None else "no zone is"
        raise InputError([Fault("--zone", f"{told} designed point by point", "take shell = false out of a zone")])
    steel, points = [], []
    for name in [zone] if zone else shells:
        stored = stored_zone(project, name)
        h, labels = stored.h, stored.labels
        written = job.zones[name]
        laid = written.with_diameters(stored.diameters) if stored.deeper else written.as_laid()
        settings = settings_of(laid, standard)
        found = {
            m: design_ultimate(
                stored.cases, stored.factors, stored.situations, h, replace(settings, method=m, minimum="none"),
                turn=stored.design.turn,
            )
            for m in METHODS
        }  # fmt: skip
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
        columns[f"neglected by {m} [of bar force]"] = found[m].neglected
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
        title=f"{job.title}: three methods",
        note="steel by strength of all bar layers of a point, without minimum steel",
        names=[f"{r.zone}/{r.point}" for r in worst.itertuples()],
        ways=list(METHODS),
        worst=worst[columns].to_numpy(dtype=float),
        every=points[columns].to_numpy(dtype=float),
        label="steel [mm2/m]",
    )
    picture = png(draw_bars, shown)
    return write_aside(job.results / f"{TABLE}.png", lambda aside: aside.write_bytes(picture))
