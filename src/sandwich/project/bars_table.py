"""Bars of zones from a table of their own, such as the edited layout of an earlier run."""

from __future__ import annotations

import math
import re
from copy import deepcopy
from pathlib import Path
from typing import Any, Final

import pandas as pd

from sandwich.core.errors import Faults
from sandwich.job import Job
from sandwich.job.load import from_dict

BASE: Final = "base"
SPANS: Final = {
    "along": ("along from [m]", "along to [m]"), "across": ("across from [m]", "across to [m]"),
}  # fmt: skip
COLUMNS: Final = ("zone", "layer", "place", "bars [mm]", *SPANS["along"], *SPANS["across"])
BARS: Final = re.compile(r"\s*(\d+(?:\.\d+)?|#\d+)\s*/\s*(\d+(?:\.\d+)?)\s*")
APART: Final = ("provided", "additional", "layout")
KINDS: Final = (".csv", ".xlsx", ".parquet")


def with_bars_tables(job: Job) -> Job:
    """The job with the bars that tables give its zones, as if they stood in its file.

    Raises
    ------
    InputError
        If a table is missing, lacks columns or rows, or holds what are no bars; all faults at once.
    """
    asked = {name: z.bars_table for name, z in job.zones.items() if z.bars_table}
    if not asked:
        return job
    faults = Faults()
    data = deepcopy(job.written)
    for name, file in asked.items():
        for key in APART:
            if job.writes("zones", name, key):
                faults.add(f"{job.path}, zones.{name}.{key}", "bars_table gives the bars", "take one of them out")
        frame = _read(job, name, file, faults)
        if frame is not None:
            data["zones"][name] |= _bars(frame, file, faults)
        del data["zones"][name]["bars_table"]
    faults.stop()
    return from_dict(data, job.path)


def _read(job: Job, zone: str, file: str, faults: Faults) -> pd.DataFrame | None:
    """The rows of a zone, None where they cannot be had."""
    path, where = job.folder / file, f"{job.path}, zones.{zone}.bars_table"
    if path.resolve().is_relative_to(job.results.resolve()):
        faults.add(where, f"'{file}' lies in the results, which a run replaces", "copy it beside the job")
        return None
    if not path.is_file():
        faults.add(where, f"no file '{file}'", "give the path of a table of bars, relative to the job")
        return None
    if path.suffix not in KINDS:
        faults.add(where, f"'{file}' is of no kind that is read", f"use {', '.join(KINDS)}")
        return None
    try:
        frame = _frame(path)
    except (OSError, ValueError) as error:
        faults.add(
            file, f"cannot be read ({str(error).splitlines()[0]})", "save it as a table with one row of headings"
        )
        return None
    lost = [c for c in COLUMNS if c not in frame]
    if lost:
        faults.add(file, f"lacks {', '.join(lost)}", "keep the headings of the table layout, in m and mm")
        return None
    own = frame[frame["zone"].astype(str) == zone]
    if own.empty:
        faults.add(
            file, f"no row of zone '{zone}'", f"there are {', '.join(map(str, frame['zone'].unique())) or 'none'}"
        )
        return None
    return own


def _frame(path: Path) -> pd.DataFrame:
    if path.suffix == ".csv":
        return pd.read_csv(path)
    return pd.read_parquet(path) if path.suffix == ".parquet" else pd.read_excel(path, engine="calamine")


def _bars(frame: pd.DataFrame, file: str, faults: Faults) -> dict[str, Any]:
    """Base meshes and additional bars of rows of a table."""
    provided: dict[str, dict[str, Any]] = {}
    additional: list[dict[str, Any]] = []
    for at, row in frame.iterrows():
        where, layer = f"{file}, row {int(str(at)) + 2}", str(row["layer"])
        text = str(row["bars [mm]"])
        matched = BARS.fullmatch(text)
        base = str(row["place"]) == BASE
        if matched is None:
            if not (base and text.startswith("no")):  # a layer without bars
                faults.add(where, f"'{text}' are no bars", "write diameter/spacing in mm, such as 12/150 or #4/150")
            continue
        diameter = matched[1] if matched[1].startswith("#") else float(matched[1])
        bars = {"diameter": diameter, "spacing": float(matched[2])}
        if base:
            if layer in provided:
                faults.add(where, f"a second base mesh of {layer}", "give it another place, or take one out")
            provided[layer] = bars
            continue
        spans = {key: [_number(row[c]) for c in columns] for key, columns in SPANS.items()}
        bad = [c for key, columns in SPANS.items() for c, v in zip(columns, spans[key], strict=True) if math.isnan(v)]
        if bad:
            faults.add(where, f"no number in {', '.join(bad)}", "give where the bars lie in m")
            continue
        additional.append({"layer": layer, **bars, **spans})
    return {"provided": provided, "additional": additional}


def _number(value: Any) -> float:
    try:
        return float(value)
    except (TypeError, ValueError):
        return math.nan
