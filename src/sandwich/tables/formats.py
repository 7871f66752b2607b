"""Files of every kind as raw tables: text, workbook, Parquet."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path
from typing import Final

import pandas as pd

from sandwich.core.errors import Faults
from sandwich.job.source import Table
from sandwich.tables.dialect import LOOK, Raw, above, lines_of, parse_text, unique

TEXT: Final = (".csv", ".txt", ".tsv", ".dat", ".asc")
_KINDS = f"{', '.join(TEXT)} (also with .gz), .xlsx or .parquet"

SPARE: Final = 1_000_000  # empty cells of a sheet that do no harm
_SHEET: Final = re.compile(r"xl/worksheets/[^/]+\.xml")
_CELL: Final = re.compile(rb'<(?:\w+:)?c [^>]{0,30}?\br="([A-Z]{1,3})(\d{1,7})"')


def load_raw(folder: Path, table: Table, wanted: set[str], faults: Faults) -> list[Raw]:
    """Every file and sheet of a table as it is written; `wanted` are the column names that must be there."""
    out: list[Raw] = []
    for file in table.files:
        path = folder / file
        try:
            there = path.exists()
        except (OSError, ValueError):  # a loop of links; a name that no file can have
            there = False
        if not there:
            faults.add(str(path), "no such file", "paths are relative to the job file")
            continue
        if not (path.is_file() or path.is_dir()):
            faults.add(str(path), "is no plain file", "export it as a file")
            continue
        try:
            raws = _load(path, table, wanted, faults)
        except Exception as error:  # the readers raise many kinds; each means the file is not such a table
            found = f"cannot be read ({str(error).splitlines()[0] if str(error) else type(error).__name__})"
            faults.add(path.name, found, "export it again as a plain table")
            continue
        if table.case_from == "sheet" and path.suffix.lower() != ".xlsx":
            faults.add(path.name, 'is no workbook, and case_from = "sheet"', 'use "column" or "file"')
        for raw, case in raws:
            raw.frame.columns = [str(c).strip() for c in raw.frame.columns]
            if table.case_from != "column":
                raw.frame["case"] = case if table.case_from == "sheet" else path.name.split(".")[0]
                raw.filled.add("case")
            for column, value in table.fixed.items():
                raw.frame[column] = value
                raw.filled.add(column)
            out.append(raw)
    return out


def _load(path: Path, table: Table, wanted: set[str], faults: Faults) -> list[tuple[Raw, str]]:
    plain, suffix = path.name.lower().removesuffix(".gz"), path.suffix.lower()
    notes: list[str] = []
    if plain.endswith(TEXT) and path.is_file():
        lines = lines_of(path, table.encoding, notes, faults)
        raw = parse_text(lines, table, wanted, notes, faults) if lines is not None else None
        return [(raw, "")] if raw is not None else []
    if path.is_dir() and not any(path.rglob("*.parquet")):
        faults.add(path.name, "holds no Parquet table", "name the files in it")
        return []
    if suffix == ".parquet" or path.is_dir():
        frame = pd.read_parquet(path)
        if frame.columns.empty:
            faults.add(path.name, "holds no Parquet table", f"use {_KINDS}")
            return []
        for column in frame.columns[frame.dtypes == "category"]:  # the folders of a partitioned table
            frame[column] = frame[column].astype(frame[column].cat.categories.dtype)
        frame.index = pd.RangeIndex(1, len(frame) + 1)
        return [(Raw(frame, path.name, notes=["several files"] if path.is_dir() else []), "")]
    if suffix == ".xlsx":
        return _workbook(path, table, wanted, faults)
    faults.add(path.name, "is of no kind that is read", f"use {_KINDS}")
    return []


def _workbook(path: Path, table: Table, wanted: set[str], faults: Faults) -> list[tuple[Raw, str]]:
    """The sheets that are declared, or all that hold the wanted columns."""
    if far_cells(path, faults):
        return []
    with pd.ExcelFile(path, engine="calamine") as book:
        there = [str(s) for s in book.sheet_names]
        for sheet in set(table.sheets) - set(there):
            faults.add(path.name, f"no sheet '{sheet}'", f"it has {', '.join(there)}")
        chosen = [s for s in there if not table.sheets or s in table.sheets]
        sheets = {s: pd.read_excel(book, sheet_name=s, header=None, dtype=object) for s in chosen}
    if chosen and all(cells.empty for cells in sheets.values()):
        faults.add(path.name, "its sheets are empty", "export the table again")
    whole: list[tuple[Raw, str]] = []
    part: list[tuple[Raw, str]] = []
    for sheet, cells in sheets.items():
        if cells.empty:
            continue
        found = _grid(cells, f"{path.name}, sheet {sheet}", table, wanted)
        (whole if wanted <= set(found.frame.columns) else part).append((found, str(sheet)))
    if table.sheets:
        return whole + part  # a declared sheet without a column is a fault the next stage names
    return whole or part[:1]


def far_cells(path: Path, faults: Faults) -> bool:
    """Whether cells of a workbook stand so far apart that a grid of them would fill the memory; notes it."""
    with zipfile.ZipFile(path) as parts:
        for part in parts.namelist():
            if not _SHEET.fullmatch(part):
                continue
            columns: set[bytes] = set()
            last, cells, kept = 0, 0, b""
            with parts.open(part) as stream:
                while piece := stream.read(1 << 22):
                    found = _CELL.findall(kept + piece)
                    columns.update(c for c, _ in found)
                    last = max([last, *(int(found[i][1]) for i in (0, -1))]) if found else last
                    cells += len(found)
                    kept = piece[-60:]
            wide = max((len(c), c) for c in columns)[1].decode() if columns else "A"
            grid = last * sum(26**i * (ord(c) - 64) for i, c in enumerate(reversed(wide)))
            if grid > SPARE + 50 * cells:
                found_there = f"{cells} cells reach to column {wide} and row {last}"
                faults.add(f"{path.name}, {part}", found_there, "delete the stray cells, or export the table alone")
                return True
    return False


def _grid(cells: pd.DataFrame, name: str, table: Table, wanted: set[str]) -> Raw:
    """Cells of a sheet under the row that holds most of the wanted names."""
    head = cells.head(LOOK).to_numpy(dtype=object)
    text = [["" if pd.isna(v) else str(v).strip() for v in row] for row in head]
    if table.header_row is not None:
        at = min(table.header_row - 1, len(text) - 1)
    else:
        at = max(range(len(text)), key=lambda i: (len(wanted & set(text[i])), -i))
    names = [v or f"unnamed {i + 1}" for i, v in enumerate(text[at])]
    frame = cells.iloc[at + 1 :].copy()
    frame.columns = pd.Index(unique(names))
    frame.index = pd.RangeIndex(at + 2, at + 2 + len(frame))
    return Raw(frame.infer_objects(), name, notes=above([" ".join(row) for row in text[:at]], at))
