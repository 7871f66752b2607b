"""Columns at the door: identifiers and numbers of a raw table, each fault with its rows."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Iterable
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.tables.dialect import Raw

HUGE: Final = 1e15  # no length, force or moment in any unit
MISSING: Final = -1  # a whole-number identifier that is not given


def rows_text(rows: Iterable[object], most: int = 5) -> str:
    """Row numbers in words: the first few and how many more."""
    rows = list(rows)
    text = ", ".join(map(str, rows[:most]))
    more = f" and {len(rows) - most} more" if len(rows) > most else ""
    return f"row{'s' if len(rows) > 1 else ''} {text}{more}"


def texts(column: pd.Series) -> pd.Series:
    """Cells as texts without blanks around them, an empty one where nothing is."""
    return column.astype(object).where(column.notna(), "").astype(str).str.strip()


def identifier(column: pd.Series, where: str, needed: bool, faults: Faults) -> pd.Series:
    """Whole numbers or texts; one that is not given is `MISSING` or nothing."""
    if isinstance(column.dtype, pd.StringDtype):  # each word is looked at once: most columns repeat a few
        at, words = pd.factorize(column, use_na_sentinel=False)
        distinct = pd.Series(words)
    else:
        at, distinct = np.arange(len(column)), column
    if not pd.api.types.is_numeric_dtype(distinct):  # texts around the table make texts of numbers
        whole = pd.to_numeric(distinct, errors="coerce")
        written = texts(distinct)
        if (whole.isna() == (written == "")).all() and not written.str.match(r"0\d").any():
            distinct = whole
    missing = column.isna()
    if needed and missing.any():
        faults.add(f"{where}, {rows_text(column.index[missing])}", "is empty", "give an identifier")
    if pd.api.types.is_float_dtype(distinct) and (distinct.fillna(0.0) % 1.0 == 0.0).all():
        distinct = distinct.fillna(MISSING).astype("int64")  # whole numbers with gaps arrive as floats
    if not pd.api.types.is_integer_dtype(distinct):
        distinct = texts(distinct)
        strange = distinct.str.contains(r"[\x00-\x08\x0b-\x1f\x7f-\x9f]").to_numpy(dtype=bool)
        if strange.any():
            found = f"{distinct[strange].iloc[0]!r} holds a control character"
            faults.add(f"{where}, {rows_text(column.index[strange[at]])}", found, "use plain text")
    return distinct.iloc[at].set_axis(column.index)


def numbers(column: pd.Series, where: str, raw: Raw, faults: Faults, quiet: bool) -> pd.Series:
    """Finite numbers; where they may be missing, nan."""
    other = _no_numbers(column)
    if other.any():
        found = f"found {column[other].iloc[0]!r}, which is no number"
        faults.add(f"{where}, {rows_text(column.index[other])}", found, "give a finite number")
        return pd.Series(np.zeros(len(column)), column.index)
    if not pd.api.types.is_numeric_dtype(column) and (raw.decimal, raw.thousands) != (".", ""):
        column = _plain(column, where, raw, faults)
    values = pd.to_numeric(column, errors="coerce").astype(float)
    size = np.abs(values.to_numpy())
    huge = np.isfinite(size) & (size > HUGE)
    if huge.any():
        found = f"found {column[huge].iloc[0]}, which nothing measures"
        faults.add(f"{where}, {rows_text(column.index[huge])}", found, "mend the number")
        values = values.mask(huge, 0.0)
    bad = ~np.isfinite(values.to_numpy())
    if bad.any() and not quiet:
        first = column[bad].iloc[0]
        found = "empty or nan" if pd.isna(first) or str(first).strip().lower() == "nan" else f"'{first}'"
        faults.add(f"{where}, {rows_text(column.index[bad])}", f"found {found}", "give a finite number")
    return values


def _no_numbers(column: pd.Series) -> pd.Series:
    """Cells that hold a truth value, a date or a duration."""
    kinds = (pd.api.types.is_bool_dtype, pd.api.types.is_datetime64_any_dtype, pd.api.types.is_timedelta64_dtype)
    if any(kind(column) for kind in kinds):
        return column.notna()
    if pd.api.types.is_object_dtype(column):
        words = (bool, np.bool_, dt.date, dt.time, dt.timedelta)
        return column.map(lambda v: isinstance(v, words))
    return pd.Series(np.zeros(len(column), dtype=bool), column.index)


def _plain(column: pd.Series, where: str, raw: Raw, faults: Faults) -> pd.Series:
    """Texts of numbers with a decimal point and nothing else; one that is grouped otherwise is a fault."""
    text = texts(column)
    comma, group = re.escape(raw.decimal), re.escape(raw.thousands) if raw.thousands else ""
    whole = rf"(?:\d{{1,3}}(?:{group}\d{{3}})+|\d+)" if group else r"\d+"
    alike = text.str.fullmatch(rf"[-+]?(?:{whole}(?:{comma}\d*)?|{comma}\d+)(?:[eE][-+]?\d+)?")
    mixed = text.str.fullmatch(r"[-+]?[\d.,' ]+(?:[eE][-+]?\d+)?") & ~alike
    if mixed.any():
        how = f"decimal sign '{raw.decimal}'" + (f" and thousands sign '{raw.thousands}'" if raw.thousands else "")
        found = f"'{text[mixed].iloc[0]}' is not written with {how}, as other numbers are"
        faults.add(f"{where}, {rows_text(column.index[mixed])}", found, "write all numbers of the table alike")
        text = text.where(~mixed, "0")
    if raw.thousands:
        text = text.str.replace(raw.thousands, "", regex=False)
    return text.where(text != "", None).str.replace(raw.decimal, ".", regex=False)
