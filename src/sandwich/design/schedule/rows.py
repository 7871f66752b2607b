"""Rows of the bar schedule: bars alike of one place, marks of bars alike."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.bar_sizes import size
from sandwich.core.section import STEEL_DENSITY
from sandwich.design.schedule.shapes import NAMES, Shape, rounded_up

SCHEDULE, MASSES, SIZES = "bar schedule", "mass of bars", "bars by diameter"
COLUMNS: Final = [
    "mark", "zone or wall", "storey", "place", "layer", "size", "diameter [mm]", "number of bars", "shape",
    "shape by ISO 3766", "a [mm]", "b [mm]", "c [mm]", "mandrel [mm]", "tail [mm]", "length [m]", "laps", "lap [mm]",
    "mass [kg]",
]  # fmt: skip


@dataclass(frozen=True)
class BarRow:
    """Bars alike of one place.

    Attributes
    ----------
    of, storey, place, layer : str
        Zone or wall, storey of a wall, part of it, and which bars of that.
    diameter : float
        Of the bars [mm].
    number : int
        How many.
    shape : Shape
        As they are bent.
    laps : int
        Of each of them, as the stock is shorter.
    lap : float
        Length of a lap [mm].
    mark : int
        The mark, 0 before they are numbered.
    """

    of: str
    storey: str
    place: str
    layer: str
    diameter: float
    number: int
    shape: Shape
    laps: int = 0
    lap: float = 0.0
    mark: int = 0

    @property
    def length(self) -> float:
        """Length of one bar without its laps [mm], rounded up to 25 mm."""
        return rounded_up(self.shape.length(self.diameter))

    @property
    def mass(self) -> float:
        """Of all of them with their laps [kg]."""
        return self.number * STEEL_DENSITY * math.pi * self.diameter**2 / 4.0 * (self.length + self.laps * self.lap)

    @property
    def alike(self) -> tuple[object, ...]:
        """What bars of one mark share."""
        sides = tuple(round(v, 1) for v in self.shape.sides)
        return (
            self.of, self.diameter, self.shape.code, sides, self.shape.mandrel, self.shape.tail, self.length, self.laps,
            round(self.lap, 1) if self.laps else 0.0,
        )  # fmt: skip


@dataclass(frozen=True)
class Concrete:
    """Concrete of a zone or of a storey of a wall: surface [mm2] and volume [mm3]."""

    of: str
    storey: str
    surface: float
    volume: float


@dataclass(frozen=True)
class Schedule:
    """All bars of a job and the concrete they are in."""

    rows: tuple[BarRow, ...] = ()
    concrete: tuple[Concrete, ...] = field(default=())

    @property
    def mass(self) -> float:
        """Of all bars [kg]."""
        return sum(r.mass for r in self.rows)


def marked(rows: Sequence[BarRow], first: int) -> list[BarRow]:
    """Rows with running marks: bars alike of a zone or wall share theirs."""
    marks: dict[tuple[object, ...], int] = {}
    return [replace(r, mark=marks.setdefault(r.alike, first + len(marks))) for r in rows]


def told_marks(marks: Iterable[int]) -> str:
    """Marks in words, such as 3, 7 to 9."""
    out: list[list[int]] = []
    for m in sorted(set(marks)):
        if out and m == out[-1][-1] + 1:
            out[-1].append(m)
        else:
            out.append([m])
    return ", ".join(f"{run[0]} to {run[-1]}" if len(run) > 2 else ", ".join(map(str, run)) for run in out)


def schedule_frame(schedule: Schedule) -> pd.DataFrame:
    """One row bars alike of one place."""
    rows = []
    for r in schedule.rows:
        told = r.shape.told
        rows.append({
            "mark": r.mark, "zone or wall": r.of, "storey": r.storey, "place": r.place, "layer": r.layer,
            "size": size(r.diameter), "diameter [mm]": r.diameter, "number of bars": r.number,
            "shape": NAMES[r.shape.code], "shape by ISO 3766": r.shape.code, "a [mm]": told["a"],
            **{f"{k} [mm]": told.get(k, np.nan) or np.nan for k in ("b", "c", "mandrel", "tail")},
            "length [m]": r.length / 1e3, "laps": r.laps, "lap [mm]": r.lap if r.laps else np.nan, "mass [kg]": r.mass,
        })  # fmt: skip
    return pd.DataFrame(rows, columns=COLUMNS)


def to_look_at(frame: pd.DataFrame) -> pd.DataFrame:
    """A table without the column of sizes where these repeat the diameters: no bar has a name."""
    return frame if frame["size"].str.startswith("#").any() else frame.drop(columns="size")


def masses_frame(schedule: Schedule) -> pd.DataFrame:
    """One row a zone or a storey of a wall: mass, by surface and by volume of its concrete."""
    by: dict[tuple[str, str], float] = {}
    for r in schedule.rows:
        by[r.of, r.storey] = by.get((r.of, r.storey), 0.0) + r.mass
    rows = []
    for c in schedule.concrete:
        mass = by.get((c.of, c.storey), 0.0)
        rows.append({
            "zone or wall": c.of, "storey": c.storey, "mass [kg]": mass, "surface [m2]": c.surface / 1e6,
            "concrete [m3]": c.volume / 1e9, "mass [kg/m2]": 1e6 * mass / c.surface,
            "mass [kg/m3]": 1e9 * mass / c.volume,
        })  # fmt: skip
    return pd.DataFrame(rows)


def sizes_frame(schedule: Schedule) -> pd.DataFrame:
    """One row a diameter: number of bars, their length and mass."""
    rows = []
    for d in sorted({r.diameter for r in schedule.rows}):
        own = [r for r in schedule.rows if r.diameter == d]
        rows.append({
            "size": size(d), "diameter [mm]": d, "number of bars": sum(r.number for r in own),
            "length of all [m]": sum(r.number * (r.length + r.laps * r.lap) for r in own) / 1e3,
            "mass [kg]": sum(r.mass for r in own),
        })  # fmt: skip
    return pd.DataFrame(rows)
