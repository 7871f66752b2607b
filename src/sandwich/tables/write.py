"""Writers: tables and texts appear whole or not at all."""

from __future__ import annotations

import hashlib
import itertools
import os
import tempfile
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, Final
from urllib.parse import quote

import numpy as np
import pandas as pd
import pyarrow as pa
import pyarrow.parquet as pq
from numpy.typing import NDArray
from pyarrow import csv as pa_csv

from sandwich.core.errors import Fault, InputError, StaleError
from sandwich.core.shown import SI, Shown

ROW_GROUP = 8192
_FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")
LONGEST = 90  # signs of a name in a file name, which may hold two and an ending


def file_name(name: str) -> str:
    """A name as part of a file name, different for different names and no longer than a file system takes."""
    quoted = quote(name, safe=" ")
    if len(quoted) <= LONGEST:
        return quoted
    return f"{quoted[: LONGEST - 20]}%{hashlib.sha256(name.encode()).hexdigest()[:16]}"


def check_folder(folder: Path) -> None:
    """Make a folder, or say why it cannot be written.

    Raises
    ------
    InputError
        If it cannot be made or written to.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            pass
    except OSError as error:
        found = f"cannot be written ({error.strerror})"
        raise InputError([Fault(f"folder {folder}", found, "name another folder")]) from None


def write_aside(path: Path, write: Callable[[Path], object]) -> Path:
    """Call `write` with a path beside the wanted one, then rename."""
    aside = path.with_name(f".{os.getpid()}-{path.name}")
    try:
        write(aside)
        aside.replace(path)
    finally:
        aside.unlink(missing_ok=True)
    return path


def write_text(path: Path, text: str) -> Path:
    """Write a text file."""
    return write_aside(path, lambda aside: aside.write_text(text, "utf-8"))


def table_file(name: str, kind: str) -> str:
    """Name of the file of a table, 'parquet' or 'csv': without spaces.

    Examples
    --------
    >>> table_file("service checks", "csv")
    'service_checks.csv'
    """
    return f"{name.replace(' ', '_')}.{kind}"


def write_table(
    frame: pd.DataFrame,
    folder: Path,
    name: str,
    *,
    csv: bool,
    shown: Shown = SI,
) -> None:
    """Write a frame as Parquet in SI units, and as it is shown as CSV with sensible digits."""
    plain = SI.frame(frame)
    write_aside(folder / table_file(name, "parquet"), lambda aside: plain.to_parquet(aside, index=False))
    if csv:
        text = pa.Table.from_pandas(shown.frame(frame).apply(_as_text), preserve_index=False)
        options = pa_csv.WriteOptions(quoting_style="needed")
        write_aside(folder / table_file(name, "csv"), lambda aside: pa_csv.write_csv(text, aside, options))


def write_long_table(frames: Iterable[pd.DataFrame], folder: Path, name: str) -> None:
    """Write frames one after another as one Parquet table in SI units."""

    def write(aside: Path) -> None:
        parts = (pa.Table.from_pandas(SI.frame(frame), preserve_index=False) for frame in frames)
        first = next(parts)
        with pq.ParquetWriter(aside, first.schema) as file:
            for part in itertools.chain([first], parts):
                file.write_table(part.cast(first.schema))

    write_aside(folder / table_file(name, "parquet"), write)


def _as_text(column: pd.Series[Any]) -> pd.Series[Any]:
    """A column as text files have it: six digits, and no text that a spreadsheet would take for a formula."""
    if pd.api.types.is_float_dtype(column):
        return pd.Series(six_digits(column.to_numpy(dtype=float)), column.index)
    if pd.api.types.is_numeric_dtype(column):
        return column
    words = column.map(str)
    return words.where(~words.str.startswith(_FORMULA) | (words == "-"), "'" + words)  # "-" is the unit of a ratio


def six_digits(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Values rounded to six significant digits.

    Examples
    --------
    >>> six_digits(np.array([1234567.8, 0.00123456789, -2.0, 0.0, np.nan]))
    array([ 1.23457e+06,  1.23457e-03, -2.00000e+00,  0.00000e+00,
                    nan])
    """
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        size = np.floor(np.log10(np.abs(values)))
        places = np.where(np.isfinite(size), 5.0 - size, 0.0)
        up, down = 10.0 ** np.clip(places, 0.0, 300.0), 10.0 ** np.clip(-places, 0.0, 300.0)
        rounded = np.round(values / down * up) / up * down
    return np.where(np.isfinite(rounded), rounded, values)


def write_store(path: Path, points: pd.DataFrame, cases: NDArray[np.float64], names: tuple[str, ...]) -> None:
    """Write the point-major store: one row a point, its cases x 8 resultants as one list, fixed row groups."""
    flat = pa.array(np.ascontiguousarray(cases).ravel())
    width = cases.shape[1] * 8
    table = pa.Table.from_pandas(points, preserve_index=False)
    table = table.append_column("resultants", pa.FixedSizeListArray.from_arrays(flat, width))
    table = table.replace_schema_metadata({**(table.schema.metadata or {}), b"cases": "\n".join(names).encode()})
    write_aside(path, lambda aside: pq.write_table(table, aside, row_group_size=ROW_GROUP))


def read_store(path: Path) -> tuple[pd.DataFrame, NDArray[np.float64], tuple[str, ...]]:
    """Read what `write_store` wrote: points, resultants of shape (p, c, 8), case names.

    Raises
    ------
    StaleError
        If the file is not whole.
    """
    try:
        table = pq.read_table(path)
        names = tuple((table.schema.metadata or {})[b"cases"].decode().split("\n"))
    except (OSError, pa.ArrowException, KeyError) as error:
        found = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise StaleError(f"{path} cannot be read ({found}); run the job again") from None
    flat = table.column("resultants").combine_chunks().flatten().to_numpy(zero_copy_only=False)
    points = table.drop_columns(["resultants"]).to_pandas()
    return points, flat.reshape(len(points), len(names), 8), names


def stored_points(path: Path) -> int:
    """How many points a store holds; -1 where there is none, or it is not whole."""
    try:
        return int(pq.read_metadata(path).num_rows)
    except (OSError, pa.ArrowException):
        return -1
