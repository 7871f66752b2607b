"""A changed thickness, cover, concrete or bar tried on the results of the last run, without running the job."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd

from sandwich.design.bands import Bands
from sandwich.design.results import LAYER, REQUIRED, checks_frame, steel_frame
from sandwich.design.settings import Settings
from sandwich.design.summary import failures
from sandwich.design.ultimate import Ultimate, design_ultimate
from sandwich.errors import Fault, InputError, StaleError
from sandwich.job import Job, from_dict, load_job
from sandwich.prepare import settings_of, standard_of
from sandwich.resume import fresh_job, load_combinations, load_ultimate
from sandwich.tables.write import file_name, read_store

MAY_CHANGE: Final = (
    "thickness",
    "f_ck",
    "strength",
    "f_yk",
    "method",
    "minimum",
    "vertical",
    "together",
    "links",
    "bars",
)
UNCHANGED: Final = (
    "The forces are those of the analysis that came in: another thickness or concrete changes stiffness and weight. "
    "Run the analysis again before you rely on it. Punching is not tried, nor bars raised for it."
)


@dataclass(frozen=True, repr=False)
class Trial:
    """What a change does to the zones it touches.

    Attributes
    ----------
    changes : dict
        Key -> value as given.
    steel : DataFrame
        One row a zone and bar layer: greatest and mean area before and after.
    checks : DataFrame
        One row a zone and check: worst utilisation and points exceeded before and after.
    failures : DataFrame
        Points that fail after the change, by reason.
    note : str
        What a trial does not look at.
    """

    changes: dict[str, str]
    steel: pd.DataFrame
    checks: pd.DataFrame
    failures: pd.DataFrame
    note: str = UNCHANGED

    def __repr__(self) -> str:
        return f"Trial({', '.join(f'{k} = {v}' for k, v in self.changes.items())})"

    def _repr_html_(self) -> str:
        """Steel before and after."""
        return str(self.steel.to_html(index=False, float_format="{:.4g}".format))


def try_job(path: str | Path, changes: Mapping[str, str]) -> Trial:
    """Design the zones that a change touches again, from the store of the last run.

    Parameters
    ----------
    path : str or Path
        The job file; it has been run and not changed since.
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
    job = fresh_job(path)
    changed = _as_laid(_changed(job, changes), job, load_job(job.path))
    standard = standard_of(job)
    names, situations, factors = load_combinations(job.results / "store")
    steel, checks, failing = [], [], []
    for name, zone in changed.zones.items():
        if zone == job.zones[name]:
            continue
        points, cases, _ = read_store(job.results / "store" / f"{file_name(name)}.parquet")
        held = load_ultimate(job.results / "store" / f"{file_name(name)}.npz")
        if held is None:
            raise StaleError(f"the store of zone {name} cannot be read; run the job again")
        h_old = points["thickness"].to_numpy(dtype=float)
        h_new = np.full(len(h_old), zone.thickness) if zone.thickness else h_old
        old, new = settings_of(job.zones[name], standard), settings_of(zone, standard)
        try:
            new.bars.axes(h_new)
        except ValueError as error:
            found, _, remedy = str(error).partition("; ")
            raise InputError([Fault(f"zones.{name}.bars", found, remedy)]) from None
        bands = Bands(held.cells, held.tributary) if (held.cells >= 0).any() else None
        u = design_ultimate(
            cases,
            factors,
            situations,
            h_new,
            new,
            support=held.shear.support,
            bands=bands,
            turn=held.turn,
            workers=job.design.workers,
        )
        labels = points["point"].to_numpy()
        before = _frames(name, labels, held, names, h_old, old)
        after = _frames(name, labels, u, names, h_new, new)
        steel.append(_steel(before[0], after[0]))
        checks.append(_checks(before[1], after[1]))
        failing.append(failures(after[0]))
    if not steel:
        raise InputError([Fault(", ".join(changes), "changes nothing", "give a value that is not the present one")])
    whole = [pd.concat(f, ignore_index=True) for f in (steel, checks, failing)]
    return Trial(dict(changes), whole[0], whole[1], whole[2])


def _as_laid(changed: Job, job: Job, written: Job) -> Job:
    """The changed job with the diameters that the run laid, in zones whose bars are not what is tried."""
    zones = {
        n: z.model_copy(update={"bars": job.zones[n].bars}) if z.bars == written.zones[n].bars else z.as_laid()
        for n, z in changed.zones.items()
    }
    return changed.model_copy(update={"zones": zones})


def _changed(job: Job, changes: Mapping[str, str]) -> Job:
    """The job with its changes, validated as any other."""
    data = tomllib.loads(job.path.read_text("utf-8"))
    faults = []
    for key, text in changes.items():
        parts = key.split(".")
        if len(parts) < 3 or parts[0] != "zones" or parts[2] not in MAY_CHANGE or parts[1] not in job.zones:
            of = ", ".join(MAY_CHANGE)
            remedy = f"zones.NAME.KEY would do, NAME one of {', '.join(job.zones)}, KEY one of {of}"
            faults.append(Fault(f"--set {key}", "cannot be tried", remedy))
            continue
        place: dict[str, Any] = data
        for part in parts[:-1]:
            place = place.setdefault(part, {})
            if not isinstance(place, dict):
                faults.append(Fault(f"--set {key}", f"'{part}' holds no keys", "name a key of a table"))
                break
        else:
            try:
                place[parts[-1]] = tomllib.loads(f"value = {text}")["value"]
            except tomllib.TOMLDecodeError:
                place[parts[-1]] = text  # a word without quotes
    if faults:
        raise InputError(faults)
    return from_dict(data, job.path)


def _frames(
    name: str, labels: np.ndarray, u: Ultimate, names: list[str], h: np.ndarray, settings: Settings
) -> tuple[pd.DataFrame, pd.DataFrame]:
    axes = settings.bars.axes(h)
    return steel_frame(name, labels, u, names, axes, settings), checks_frame(name, labels, u, names, h, settings)


def _steel(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    """Greatest and mean area of each layer; a layer that is on one side only counts as nothing on the other."""
    sides: list[pd.Series] = []
    for frame, word in ((before, "before"), (after, "after")):
        of = frame.groupby(["zone", LAYER], sort=False)[REQUIRED]
        sides += [of.max().rename(f"most {word} [mm2/m]"), of.mean().rename(f"mean {word} [mm2/m]")]
    both = pd.concat(sides, axis=1).fillna(0.0)
    mean = both["mean before [mm2/m]"]
    both["change of the mean [%]"] = 100.0 * (both["mean after [mm2/m]"] / mean.where(mean > 0.0) - 1.0)
    order = [f"{k} {w} [mm2/m]" for k in ("most", "mean") for w in ("before", "after")]
    table = both[[*order, "change of the mean [%]"]].reset_index()
    return pd.DataFrame(table)


def _checks(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    """Worst utilisation of each check, its point, and how many points exceed it."""
    out = []
    for (zone, check), of in after[after["check"] != "witness"].groupby(["zone", "check"], sort=False):
        old = before[before["check"] == check]
        use = of["utilisation"].to_numpy(dtype=float)
        worst = str(of["point"].iloc[int(np.nanargmax(use))]) if np.isfinite(use).any() else "-"
        out.append(
            {
                "zone": zone, "check": check, "clause": of["clause"].iloc[0],
                "worst before": old["utilisation"].max(), "worst after": of["utilisation"].max(),
                "exceeded before": int((old["status"] == "exceeded").sum()),
                "exceeded after": int((of["status"] == "exceeded").sum()),
                "worst at": worst,
            }
        )  # fmt: skip
    return pd.DataFrame(out)
