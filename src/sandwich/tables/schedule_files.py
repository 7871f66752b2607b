"""The bar schedule as a workbook, and as JSON of an own schema."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any, Final, Literal

import pandas as pd
from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from pydantic import BaseModel, ConfigDict, Field

from sandwich.core.shown import Shown
from sandwich.tables.write import write_aside, write_text

TOTALS: Final = ("mass [kg]", "number of bars", "surface [m2]", "concrete [m3]", "length of all [m]")
FORMATS: Final = {"m": "#,##0.000", "kg": "#,##0.0", "mm": "0.#", "lb": "#,##0.0", "ft": "#,##0.00", "in": "0.###"}
OTHER: Final = "#,##0.0"
WIDEST: Final = 40  # signs of a column of a workbook


class _Record(BaseModel):
    model_config = ConfigDict(extra="forbid")


class ScheduledShape(_Record):
    """A bending shape: its code by ISO 3766, sides outside to outside, mandrel, tail past each hook [mm]."""

    code: Literal["00", "11", "21", "51", "99"]
    a: float
    b: float | None = None
    c: float | None = None
    mandrel: float | None = None
    tail: float | None = None


class ScheduledBars(_Record):
    """Bars alike of one place: length and lap [mm], mass of all of them with their laps [kg]."""

    mark: int
    zone_or_wall: str
    storey: str
    place: str
    layer: str
    size: str
    diameter: float
    number: int = Field(ge=1)
    shape: ScheduledShape
    length: float
    laps: int = Field(ge=0)
    lap: float | None = None
    mass: float


class BarScheduleFile(_Record):
    """The bar schedule of a job: lengths in mm, masses in kg."""

    format: Literal["sandwich-rc bar schedule"] = "sandwich-rc bar schedule"
    version: Literal[1] = 1
    job: str
    standard: str
    bars: list[ScheduledBars]
    mass: float


def write_json(path: Path, job: str, standard: str, schedule: pd.DataFrame) -> Path:
    """Write the table of bars [mm, kg] as JSON."""
    bars = []
    for row in schedule.to_dict("records"):
        shape = {k: _number(row[f"{k} [mm]"]) for k in ("a", "b", "c", "mandrel", "tail")}
        bars.append(ScheduledBars.model_validate({
            **{k: row[h] for k, h in (("mark", "mark"), ("zone_or_wall", "zone or wall"), ("storey", "storey"),
                                      ("place", "place"), ("layer", "layer"), ("number", "number of bars"),
                                      ("laps", "laps"), ("size", "size"), ("diameter", "diameter [mm]"),
                                      ("mass", "mass [kg]"))},
            "shape": {"code": row["shape by ISO 3766"], **shape}, "length": 1e3 * row["length [m]"],
            "lap": _number(row["lap [mm]"]),
        }))  # fmt: skip
    whole = BarScheduleFile(job=job, standard=standard, bars=bars, mass=float(schedule["mass [kg]"].sum()))
    return write_text(path, whole.model_dump_json(indent=1) + "\n")


def _number(value: Any) -> float | None:
    return None if math.isnan(value) else float(value)


def write_workbook(path: Path, title: str, frames: dict[str, pd.DataFrame], shown: Shown) -> Path:
    """Write tables as sheets of a workbook, units in the headings, totals in the last row."""
    book = Workbook()
    book.remove(book.active)
    book.properties.title = title
    bold = Font(bold=True)
    for name, plain in frames.items():
        sheet = book.create_sheet(name)
        frame = shown.frame(plain)
        totals = {shown.frame(plain[[c]]).columns[0] for c in TOTALS if c in plain}
        sheet.append([title])
        sheet.append([str(c) for c in frame.columns])
        for row in frame.itertuples(index=False):
            sheet.append([None if pd.isna(v) or v == "" else _plain(v) for v in row])
        sheet.append([float(frame[c].sum()) if c in totals else None for c in frame.columns])
        sheet.cell(row=1, column=1).font = bold
        last = len(frame) + 3
        for i, column in enumerate(frame.columns, start=1):
            sheet.cell(row=2, column=i).font = bold
            sheet.cell(row=2, column=i).alignment = Alignment(wrap_text=True, vertical="top")
            sheet.cell(row=last, column=i).font = bold
            texts = [str(v) for v in frame[column]] if not pd.api.types.is_float_dtype(frame[column]) else []
            words = max((len(w) for w in str(column).split()), default=0)
            sheet.column_dimensions[get_column_letter(i)].width = min(max([words, 9, *map(len, texts)]) + 2, WIDEST)
            if pd.api.types.is_float_dtype(frame[column]):
                unit = str(column).rpartition("[")[2].rstrip("]")
                for at in range(3, last + 1):
                    sheet.cell(row=at, column=i).number_format = FORMATS.get(unit, OTHER)
        if not totals & {frame.columns[0]}:
            sheet.cell(row=last, column=1).value = "total"
        sheet.freeze_panes = "A3"
    return write_aside(path, book.save)


def _plain(value: Any) -> Any:
    return value.item() if hasattr(value, "item") else value if isinstance(value, (int, float, str)) else str(value)
