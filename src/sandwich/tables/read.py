"""Tables at the door: CSV and Parquet files become frames with the names, units and signs of the house.

Every fault of a table is collected, with the row as a text editor counts it. What a table means for the
others (a result of an element that does not exist) is checked in `assemble.py`.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich import units
from sandwich.errors import Faults
from sandwich.resultants import QUANTITY

MISSING: Final = -1  # a whole-number identifier that is not given
_MOMENTS = ("mx", "my", "mxy")


@dataclass(frozen=True)
class TableSpec:
    """What a table must and may hold: identifiers, numbers with their quantity, texts."""

    identifiers: tuple[str, ...]
    numbers: dict[str, str]
    optional_numbers: dict[str, str]
    optional_texts: tuple[str, ...] = ()
    optional_identifiers: tuple[str, ...] = ()


_UNIT_VECTORS = dict.fromkeys(("xx", "xy", "xz", "zx", "zy", "zz"), "")
SPECS: Final = {
    "nodes": TableSpec(("node",), dict.fromkeys("xyz", "length"), {}),
    "elements": TableSpec(("element", "n1", "n2", "n3"), {}, {"thickness": "thickness"}, ("group",), ("n4",)),
    "axes": TableSpec(("element",), _UNIT_VECTORS, {}),
    "cases": TableSpec(("case",), {}, {}, ("kind", "description", "signed")),
    "resultants": TableSpec(("case", "element", "node"), dict(QUANTITY), {}),
    "points": TableSpec(("case", "point"), dict(QUANTITY), {"thickness": "thickness"}),
}


def rows_text(rows: Iterable[int], most: int = 5) -> str:
    """Row numbers in words: the first few and how many more."""
    rows = list(rows)
    text = ", ".join(map(str, rows[:most]))
    more = f" and {len(rows) - most} more" if len(rows) > most else ""
    return f"row{'s' if len(rows) > 1 else ''} {text}{more}"


def read_table(
    path: Path, name: str, mapping: dict[str, str], unit_of: dict[str, str], negate: set[str], faults: Faults
) -> pd.DataFrame | None:
    """Read one table into house names and internal units, or note why not.

    Parameters
    ----------
    path : Path
        A .csv (also .csv.gz) or .parquet file.
    name : str
        Which of `SPECS` it is.
    mapping : dict
        House name -> column name, where they differ.
    unit_of : dict
        Unit by quantity.
    negate : set
        Components whose sign is turned.
    faults : Faults
        Collects what is wrong.

    Returns
    -------
    DataFrame or None
        N, mm; index = row as an editor counts it. None where nothing usable was found.
    """
    spec = SPECS[name]
    frame = _load(path, faults)
    if frame is None:
        return None
    wanted = (*spec.identifiers, *spec.numbers)
    optional = (*spec.optional_numbers, *spec.optional_texts, *spec.optional_identifiers)
    for house, source in mapping.items():
        if house not in wanted + optional:
            key = f"input.columns.{name}.{house}"
            faults.add(key, "maps a column this table does not have", f"one of {', '.join(wanted + optional)} would do")
        elif source not in frame.columns:
            key = f"input.columns.{name}.{house}"
            faults.add(key, f"{path.name} has no column '{source}'", f"it has {', '.join(map(str, frame.columns))}")
    for column in wanted:
        if column not in mapping and column not in frame.columns:
            faults.add(
                f"{path.name}, header",
                f"no column '{column}'",
                f"it has {', '.join(map(str, frame.columns))}; map one in input.columns.{name}",
            )
    if frame.empty:
        faults.add(str(path.name), "has a header and no rows", "a table with at least one row would do")
        return None
    table = pd.DataFrame(index=frame.index)
    for column in (*wanted, *optional):
        source = mapping.get(column, column)
        if source not in frame.columns:
            continue
        if column in spec.identifiers + spec.optional_identifiers + spec.optional_texts:
            needed = column in spec.identifiers
            table[column] = _identifier(frame[source], f"{path.name}, column {source}", needed, faults)
        else:
            quantity = {**spec.numbers, **spec.optional_numbers}[column]
            values = _numbers(frame[source], f"{path.name}, column {source}", faults)
            factor = _factor(quantity, unit_of, faults)
            table[column] = values * factor * (-1.0 if column in negate else 1.0)
    return table if set(wanted) <= set(table.columns) else None


def _load(path: Path, faults: Faults) -> pd.DataFrame | None:
    if not path.is_file():
        faults.add(str(path), "no such file", "paths are relative to the job file")
        return None
    try:
        if path.name.endswith(".parquet"):
            frame = pd.read_parquet(path)
            frame.index = pd.RangeIndex(1, len(frame) + 1)
        elif path.name.endswith((".csv", ".csv.gz")):
            frame = pd.read_csv(path, low_memory=False, skipinitialspace=True, keep_default_na=False, na_values=[""])
            frame.index = pd.RangeIndex(2, len(frame) + 2)
        else:
            faults.add(str(path.name), "is neither .csv, .csv.gz nor .parquet", "export one of these")
            return None
    except Exception as error:  # the readers raise many kinds; each means the file is not such a table
        faults.add(str(path.name), f"cannot be read ({str(error).splitlines()[0]})", "export it again as a plain table")
        return None
    frame.columns = [str(c).strip() for c in frame.columns]
    return frame


def _identifier(column: pd.Series, where: str, needed: bool, faults: Faults) -> pd.Series:
    missing = column.isna()
    if needed and missing.any():
        faults.add(f"{where}, {rows_text(column.index[missing])}", "is empty", "give an identifier")
    if pd.api.types.is_integer_dtype(column):
        return column
    if pd.api.types.is_float_dtype(column) and (column.fillna(0.0) % 1.0 == 0.0).all():
        return column.fillna(MISSING).astype("int64")  # whole numbers with gaps arrive as floats
    return column.fillna("").astype(str).str.strip()


def _numbers(column: pd.Series, where: str, faults: Faults) -> pd.Series:
    values = pd.to_numeric(column, errors="coerce").astype(float)
    bad = ~np.isfinite(values.to_numpy())
    if bad.any():
        first = column[bad].iloc[0]
        found = "empty" if pd.isna(first) and not isinstance(first, float) else f"'{first}'"
        found = "empty or nan" if found == "'nan'" else found
        faults.add(f"{where}, {rows_text(column.index[bad])}", f"found {found}", "a finite number would do")
    return values


def _factor(quantity: str, unit_of: dict[str, str], faults: Faults) -> float:
    if not quantity:
        return 1.0
    try:
        return units.factor(quantity, unit_of[quantity])
    except ValueError as error:
        where = f"input.units.{quantity}"
        if where not in {f.where for f in faults.found}:
            found, _, remedy = str(error).partition("; ")
            faults.add(where, found, remedy)
        return 1.0


def negated(positive_moment_tension: str, negate: Iterable[str]) -> set[str]:
    """Components to negate so that a positive moment puts the bottom in tension."""
    out = set(negate)
    return out ^ set(_MOMENTS) if positive_moment_tension == "top" else out
