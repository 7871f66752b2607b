"""A changed thickness, cover, concrete or bar tried on the results of the last run, without running the job."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.commands.trial_bars import BAR_KEYS, SHEARS, BarTrial, try_bars
from sandwich.commands.trial_walls import WallTrial, touches_walls, try_walls
from sandwich.core.errors import Fault, InputError
from sandwich.core.status import Status, is_status
from sandwich.design.averaging import AveragingStrips
from sandwich.design.laid_shear import shear_by_bars, with_shear
from sandwich.design.record import Ultimate
from sandwich.design.results import FIELD, LAYER, REQUIRED, checks_frame, steel_frame
from sandwich.design.settings import Settings
from sandwich.design.summary import failures
from sandwich.design.ultimate import design_ultimate
from sandwich.job import Job
from sandwich.job.keys import key_parts, quoted
from sandwich.job.zone import Zone
from sandwich.project.outcome import Table, Text
from sandwich.project.project import Project
from sandwich.project.second_order import with_additions
from sandwich.project.zone_input import settings_of
from sandwich.stages.shear import stored_shear
from sandwich.stages.ultimate import StoredZone, stored_zone

MAY_CHANGE: Final = (
    "thickness",
    "f_ck",
    "strength",
    "f_yk",
    "method",
    "minimum",
    "vertical",
    "joint",
    "links",
    "bars",
    *BAR_KEYS,
)
WALL_MAY_CHANGE: Final = (
    "bars", "rule", "same_bars", "end_bars", "curtains", "cover", "outer", "effective_length", "cot_theta_max", "f_yk",
    "creep", "joint", "second_order", "seismic", "through",
)  # fmt: skip
UNCHANGED: Final = (
    "The forces are those of the analysis that was read: another thickness or concrete changes stiffness and weight. "
    "Run the analysis again before you rely on it. Punching is not tried, nor are bars raised for it or gaps in "
    "minimum steel closed. Shear counts on the bars that the run laid, where it did; a rule chooses bars anew in a "
    "run, which designs at their depths."
)

ON_FORCES: Final = (
    "The forces are those of the analysis that was read. Bars of walls stay those of the run, unless their rule, given "
    "bars or seismic design are changed; a run chooses them again."
)


@dataclass(frozen=True, repr=False)
class Trial:
    """What a change does to the zones it touches.

    Attributes
    ----------
    changes : dict
        Key -> value as given.
    steel : DataFrame
        One row a zone and bar layer: maximum and mean area before and after.
    checks : DataFrame
        One row a zone and check: worst utilisation and points exceeded before and after.
    failures : DataFrame
        Points that fail after the change, by reason.
    note : str
        What a trial does not look at.
    walls : WallTrial or None
        What it does to walls, where it touches any.
    bars : tuple of BarTrial
        What other bars do to zones, where it changes any.
    units : str
        Units of the job that are shown.
    """

    changes: dict[str, str]
    steel: pd.DataFrame
    checks: pd.DataFrame
    failures: pd.DataFrame
    note: str = UNCHANGED
    walls: WallTrial | None = None
    bars: tuple[BarTrial, ...] = ()
    units: str = "SI"

    @property
    def blocks(self) -> tuple[Text | Table, ...]:
        """The trial as a terminal shows it."""
        of_walls = self.walls.blocks if self.walls is not None else ()
        of_bars = tuple(block for of in self.bars for block in of.blocks)
        note = (Text(self.note, "quiet"),) if self.note else ()
        if not len(self.steel):
            return (*of_bars, *of_walls, *note)
        over = (self.checks["worst after"] > 1.0).to_numpy(dtype=bool) if len(self.checks) else None
        failing = Table("Points that fail after it", self.failures, bad=np.ones(len(self.failures), dtype=bool))
        return (
            *((failing,) if len(self.failures) else ()),
            Table("Steel", self.steel),
            Table("Checks", self.checks.drop(columns="clause", errors="ignore"), bad=over),
            *of_bars,
            *of_walls,
            *note,
        )

    def __repr__(self) -> str:
        return f"Trial({', '.join(f'{k} = {v}' for k, v in self.changes.items())})"

    def _repr_html_(self) -> str:
        """Steel before and after."""
        shown = self.steel if len(self.steel) or self.walls is None else self.walls.parts
        shown = self.bars[0].bars if self.bars and not len(self.steel) else shown
        return str(shown.to_html(index=False, float_format="{:.4g}".format))


def try_job(job: str | Path | Job | Project, changes: Mapping[str, str]) -> Trial:
    """Design the zones that a change touches again, from the store of the last run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it has been run and not changed since.
    changes : mapping
        Key of the job -> TOML value, such as ``{"zones.floor.thickness": "300"}``.

    Returns
    -------
    Trial
        Steel and utilisations before and after; nothing is written.

    Raises
    ------
    InputError
        If a key or value will not do, or is one that a trial cannot change.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    standard, changed, units = project.standard, _changed(project.job, changes), project.job.output.units
    steel, checks, failing, of_bars = [], [], [], []
    walls = try_walls(project, changed) if touches_walls(project.job, changed) else None
    for name, tried in changed.zones.items() if project.job.designs_shells else ():
        written = project.job.zones[name]
        if tried == written or not written.shell:
            continue
        stored = stored_zone(project, name)
        held, names, h_old = stored.design, stored.names, stored.h
        laid = written.with_diameters(stored.diameters) if stored.deeper else written.as_laid()
        # bars that are not what is tried stay as the run laid them
        own = tried.bars != written.bars
        zone = _as_deep(tried, stored) if own else replace(tried, bars=laid.bars)
        h_new = np.full(len(h_old), zone.thickness) if zone.thickness else h_old
        old = settings_of(laid, standard)
        try:
            new = settings_of(zone, standard)
            new.bars.axes(h_new)
        except ValueError as error:
            found, _, remedy = str(error).partition("; ")
            raise InputError([Fault(f"zones.{name}", found, remedy)]) from None
        strips = AveragingStrips(held.cells, held.tributary) if (held.cells >= 0).any() else None
        cases = stored.cases
        if zone.second_order is not None:  # every combination stands both ways, its own addition in a further column
            few, factors = len(stored.factors) // 2, stored.factors[::2]
            plain = slice(cases.shape[1] - few)
            cases = with_additions(
                cases[:, plain], factors[:, plain], stored.situations[::2], h_new, new, zone.second_order
            )
        design = partial(_designed, stored, cases, h_new, strips, project.job.design.workers)
        other_bars = any(getattr(tried, key) != getattr(written, key) for key in BAR_KEYS)
        if other_bars:
            alike = replace(tried, **{key: getattr(written, key) for key in BAR_KEYS}) == written
            of_bars.append(try_bars(project, name, tried, h_new, design, alike=alike))
            if alike:
                continue
        u = design(new)
        labels, bars = stored.labels, stored_shear(project, name)
        axes = (old.bars.axes(h_old), new.bars.axes(h_new))
        same_layers = axes[0].shape == axes[1].shape and bool((np.isnan(axes[0]) == np.isnan(axes[1])).all())
        held = with_shear(held, bars.check)
        if bars.laid and same_layers:
            at = axes[1] + np.sign(axes[1]) * (np.abs(bars.axes) - np.abs(axes[0]))
            u = with_shear(u, shear_by_bars(u, cases, stored.factors, stored.situations, h_new, area=bars.area, axes=at,
                                            settings=new))  # fmt: skip
        before = _frames(name, labels, held, names, h_old, old)
        after = _frames(name, labels, u, names, h_new, new)
        if bars.laid and (other_bars or not same_layers):  # not known, or with the other bars
            before, after = ((s, c[~c["check"].isin(SHEARS)]) for s, c in (before, after))
        steel.append(_steel(before[0], after[0]))
        checks.append(_checks(before[1], after[1]))
        failing.append(failures(after[0]))
    if not steel and (walls is not None or of_bars):
        none = pd.DataFrame()
        note = ON_FORCES if walls is not None else ""
        return Trial(dict(changes), none, none, none, note=note, walls=walls, bars=tuple(of_bars), units=units)
    if not steel:
        raise InputError([Fault(", ".join(changes), "changes nothing", "give a value that is not the present one")])
    whole = [pd.concat(f, ignore_index=True) for f in (steel, checks, failing)]
    return Trial(dict(changes), whole[0], whole[1], whole[2], walls=walls, bars=tuple(of_bars), units=units)


def _as_deep(tried: Zone, stored: StoredZone) -> Zone:
    """A zone with other bars; those that the run chose are as thick again where their layers are the same."""
    zone = tried.as_laid()
    now = zone.bars.layers().diameters
    same = stored.deeper and len(now) == len(stored.diameters)
    return zone.with_diameters([float(d) for d in np.maximum(now, stored.diameters)]) if same else zone


def _designed(
    stored: StoredZone, cases: np.ndarray, h: np.ndarray, strips: AveragingStrips | None, workers: int,
    settings: Settings,
) -> Ultimate:  # fmt: skip
    """The ultimate design of a stored zone with other settings."""
    return design_ultimate(
        cases, stored.factors, stored.situations, h, settings, support=stored.design.shear.support, strips=strips,
        turn=stored.design.turn, workers=workers,
    )  # fmt: skip


def _changed(job: Job, changes: Mapping[str, str]) -> Job:
    """The job with its changes, validated as any other."""
    faults, values = [], {}
    for key, text in changes.items():
        parts = key_parts(key)
        of_wall = len(parts) >= 3 and parts[0] == "walls" and parts[1] in job.walls and parts[2] in WALL_MAY_CHANGE
        of_zone = len(parts) >= 3 and parts[0] == "zones" and parts[1] in job.zones and parts[2] in MAY_CHANGE
        if not (of_wall or of_zone):
            of = ", ".join(MAY_CHANGE)
            remedy = f"use zones.NAME.KEY, NAME one of {', '.join(map(quoted, job.zones)) or 'none'}, KEY one of {of}"
            if job.walls:
                names = ", ".join(map(quoted, job.walls))
                remedy += f"; or walls.NAME.KEY, NAME one of {names}, KEY one of {', '.join(WALL_MAY_CHANGE)}"
            faults.append(Fault(f"--set {key}", "cannot be tried", remedy))
            continue
        try:
            values[key] = tomllib.loads(f"value = {text}")["value"]
        except tomllib.TOMLDecodeError:
            values[key] = text  # a word without quotes
    if faults:
        raise InputError(faults)
    return job.with_values(values)


def _frames(
    name: str, labels: np.ndarray, u: Ultimate, names: list[str], h: np.ndarray, settings: Settings
) -> tuple[pd.DataFrame, pd.DataFrame]:
    axes = settings.bars.axes(h)
    return steel_frame(name, labels, u, names, axes, settings), checks_frame(name, labels, u, names, h, settings)


def _steel(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    """Maximum and mean area of each layer; a layer that is on one side only counts as nothing on the other."""
    groups = [frame.groupby(["zone", LAYER], sort=False)[REQUIRED] for frame in (before, after)]
    layers = groups[0].max().index.append(groups[1].max().index).unique()
    sides: list[pd.Series] = []
    for of, word in zip(groups, ("before", "after"), strict=True):
        for what, found in (("maximum", of.max()), ("mean", of.mean())):  # nan where every point fails
            sides.append(found.reindex(layers, fill_value=0.0).rename(f"{what} {word} [mm2/m]"))
    both = pd.concat(sides, axis=1)
    mean = both["mean before [mm2/m]"]
    both["change of the mean [%]"] = 100.0 * (both["mean after [mm2/m]"] / mean.where(mean > 0.0) - 1.0)
    order = [f"{k} {w} [mm2/m]" for k in ("maximum", "mean") for w in ("before", "after")]
    table = both[[*order, "change of the mean [%]"]].reset_index()
    return pd.DataFrame(table)


def _checks(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    """Worst utilisation of each check, its point, and how many points exceed it."""
    out = []
    for (zone, check), of in after[after["check"] != FIELD].groupby(["zone", "check"], sort=False):
        old = before[before["check"] == check]
        use = of["utilisation"].to_numpy(dtype=float)
        worst = str(of["point"].iloc[int(np.nanargmax(use))]) if np.isfinite(use).any() else "-"
        out.append(
            {
                "zone": zone, "check": check, "clause": of["clause"].iloc[0],
                "worst before": old["utilisation"].max(), "worst after": of["utilisation"].max(),
                "exceeded before": int(is_status(old["status"], Status.EXCEEDED).sum()),
                "exceeded after": int(is_status(of["status"], Status.EXCEEDED).sum()),
                "worst at": worst,
            }
        )  # fmt: skip
    return pd.DataFrame(out)
