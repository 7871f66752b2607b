"""Texts as tables: encoding, separator, decimal sign, header, units row, page breaks, closing lines.

What is not declared is found out from the column names that are wanted, and everything found is noted.
"""

from __future__ import annotations

import codecs
import csv
import io
import itertools
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.job.source import Table

LOOK: Final = 400  # lines in which a header is looked for
BLOCK: Final = 1 << 24  # characters that are parsed at once
SIGNS: Final = 2000  # lines below it in which decimal and thousands signs are
_SEPARATORS: Final = (";", "\t", ",", "|", " ")
_ENDS: Final = re.compile(r"[\r\x0b\x0c\x1c-\x1e\x85\u2028\u2029]")  # what else ends a line
_NAMES: Final = {"\t": "tab", " ": "blanks"}
_BOMS: Final = ((codecs.BOM_UTF8, "utf-8-sig"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))


@dataclass
class Raw:
    """A table as it is written: a frame indexed by row as an editor counts it, and what was noticed.

    Attributes
    ----------
    frame : DataFrame
        Columns under the names of the source.
    name : str
        File, and sheet where there is one.
    units : dict
        Unit by source column, from a row of units.
    notes : list of str
        How the table is written.
    decimal, thousands : str
        Signs inside numbers that are still text.
    extra : list of str
        Columns past the header: a row with something there has more fields than the header.
    filled : set of str
        Columns that no row writes itself.
    """

    frame: pd.DataFrame
    name: str
    units: dict[str, str] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)
    decimal: str = "."
    thousands: str = ""
    extra: list[str] = field(default_factory=list)
    filled: set[str] = field(default_factory=set)


def decode(data: bytes, declared: str | None, name: str, notes: list[str], faults: Faults) -> str | None:
    """Text of a file; the encoding is the declared one, that of its byte-order mark, UTF-8 or Windows-1252."""
    marked = next((codec for bom, codec in _BOMS if data.startswith(bom)), None)
    for codec in [declared] if declared else [marked or "utf-8", "cp1252"]:
        try:
            text = data.decode(codec)
        except LookupError:
            faults.add(name, f"'{codec}' is no known encoding", "use utf-8, cp1252 or utf-16")
            return None
        except UnicodeDecodeError:
            continue
        if "\0" in text:
            break
        if marked:
            notes.append("byte-order mark")
        if codec == "cp1252" and not declared:
            notes.append("not UTF-8: read as Windows-1252")
        if "\r\n" in text[:10_000]:
            notes.append("lines end with CR LF")
        return text
    faults.add(name, f"is not {declared or 'UTF-8'} text", "declare its encoding")
    return None


def parse_text(
    held: list[str | None], name: str, table: Table, wanted: set[str], notes: list[str], faults: Faults
) -> Raw | None:
    """Find the header of a text table and read what is under it; the text is taken out of what holds it."""
    text = held.pop()
    if text is None:
        return None
    if not text or text.isspace():
        faults.add(name, "is empty", "export it again as a plain table")
        return None
    text = _with_plain_ends(text)
    top = list(itertools.islice(_each_line(text), (table.header_row or 0) + LOOK + SIGNS))
    found = _header(top, table, wanted)
    if found is None:
        count = text.count("\n") + 1
        faults.add(name, f"header_row = {table.header_row} is past its {count} lines", "count the lines again")
        return None
    at, separator, names = found
    if separator != ",":
        notes.append(f"separator '{_NAMES.get(separator, separator)}'")
    decimal, thousands = _number_signs(top[at + 1 :], separator, table, name, faults)
    if decimal == ",":
        notes.append("decimal comma")
    if thousands:
        notes.append(f"thousands sign '{thousands}'")
    notes += above(top[:at], at)
    start = sum(len(line) + 1 for line in top[: at + 1])
    width = max(_width(block, separator) for block in _blocks(text, start))
    extra = [f"unnamed {i}" for i in range(len(names) + 1, width + 1)]
    names += extra
    parts = _parsed(text, start, separator, unique(names), plain=(decimal, thousands) == (".", ""))
    del text
    frame = parts[0] if len(parts) == 1 else pd.concat(parts)
    parts.clear()
    frame.index = pd.RangeIndex(at + 2, at + 2 + len(frame))
    return Raw(frame, name, notes=notes, decimal=decimal, thousands=thousands, extra=extra)


def _with_plain_ends(text: str) -> str:
    """The text with lines that end with a line feed alone, the last one with nothing."""
    if "\r\n" in text:
        text = text.replace("\r\n", "\n")
    if _ENDS.search(text):
        text = "\n".join(text.splitlines())
    return text.removesuffix("\n")


def _each_line(text: str) -> Iterator[str]:
    """Lines one by one: a list of them takes more memory than the text."""
    start = 0
    while start <= len(text):
        end = text.find("\n", start)
        end = len(text) if end < 0 else end
        yield text[start:end]
        start = end + 1


def _blocks(text: str, start: int) -> Iterator[bytes]:
    """Whole lines in blocks: a parser that holds a table as a whole takes several times its memory."""
    block = len(text) if '"' in text else BLOCK  # a quoted cell may go over lines
    while True:
        end = text.find("\n", start + block)
        end = len(text) if end < 0 else end + 1
        yield text[start:end].encode()
        start = end
        if start >= len(text):
            return


def _width(block: bytes, separator: str) -> int:
    """Number of fields of the line that has most."""
    cells = np.frombuffer(block, dtype=np.uint8)
    ends = np.append(np.flatnonzero(cells == ord("\n")), len(cells))
    if separator == " ":
        blank = (cells == ord(" ")) | (cells == ord("\t")) | (cells == ord("\n"))
        fields = np.flatnonzero(~blank & np.append(True, blank[:-1]))
        return int(np.diff(np.searchsorted(fields, ends), prepend=0).max())
    return int(np.diff(np.searchsorted(np.flatnonzero(cells == ord(separator)), ends), prepend=0).max()) + 1


def _parsed(text: str, start: int, separator: str, names: list[str], *, plain: bool) -> list[pd.DataFrame]:
    """Blocks of lines under the header; a column is numbers where all its cells are."""

    def parsed(block: bytes, kinds: dict[str, type]) -> pd.DataFrame:
        return pd.read_csv(
            io.BytesIO(block), sep=r"\s+" if separator == " " else separator, header=None, names=names,
            index_col=False, dtype=kinds, low_memory=False, skip_blank_lines=False, skipinitialspace=True,
            keep_default_na=False, na_values=[""],
        )  # fmt: skip

    texts: dict[str, type] = {} if plain else dict.fromkeys(names, str)
    parts = [parsed(block, texts) for block in _blocks(text, start)]
    mixed = [c for c in names if len({_kind(part[c]) for part in parts}) > 1]
    if mixed:  # numbers in one block are texts where others are
        parts = [parsed(block, {**texts, **dict.fromkeys(mixed, str)}) for block in _blocks(text, start)]
    return parts


def _kind(column: pd.Series) -> str:
    numbers = pd.api.types.is_numeric_dtype(column) and not pd.api.types.is_bool_dtype(column)
    return "numbers" if numbers else str(column.dtype)


def above(lines: list[str], count: int) -> list[str]:
    """Note on the lines above a header."""
    first = next((line.strip(" ;,\t") for line in lines if line.strip(" ;,\t")), "")
    return [f"{count} lines above the header ('{first}' ...)"] if first else []


def unique(names: list[str]) -> list[str]:
    """Column names, a repeated one with a number behind it."""
    out: list[str] = []
    for name in names:
        k = sum(n == name or n.startswith(f"{name} #") for n in out)
        out.append(f"{name} #{k + 1}" if k else name)
    return out


def _split(line: str, separator: str) -> list[str]:
    if separator == " ":
        return line.split()
    return [f.strip() for f in next(csv.reader([line], delimiter=separator), [])]


def _header(lines: list[str], table: Table, wanted: set[str]) -> tuple[int, str, list[str]] | None:
    """Line, separator and names of the header: the first line with most of the wanted names."""
    candidates = [table.separator] if table.separator else _SEPARATORS
    if table.header_row is not None:
        if table.header_row > len(lines):
            return None
        tried = [table.header_row - 1]
    else:
        tried = [i for i, line in enumerate(lines[:LOOK]) if line.strip()]
    best = (-1, 0, 0, ",", [""])
    for i in tried:
        for separator in candidates:
            names = _split(lines[i], separator)
            matched = len(wanted & set(names))
            score = (matched, len(names) if i == tried[0] and not matched else 0)
            if score > best[:2]:
                best = (*score, i, separator, names)
    return best[2], best[3], best[4]


def _number_signs(lines: list[str], separator: str, table: Table, name: str, faults: Faults) -> tuple[str, str]:
    """Decimal and thousands sign, declared or found in the first lines."""
    if table.decimal or separator == ",":
        return table.decimal or ".", table.thousands or ""
    cells = [c for line in lines[:SIGNS] for c in _split(line, separator)]
    commas = [c for c in cells if re.fullmatch(r"[-+]?\d+,\d+([eE][-+]?\d+)?", c)]
    grouped = next((c for c in cells if re.fullmatch(r"[-+]?\d{1,3}(,\d{3})+\.\d+", c)), None)
    pointed = next((c for c in cells if re.fullmatch(r"[-+]?\d{1,3}(\.\d{3})+,\d+", c)), None)
    whole = r"[-+]?[1-9]\d{0,2},\d{3}"
    other = pointed or next((c for c in commas if not re.fullmatch(whole, c)), None) if grouped else None
    if grouped and other:
        found = f"'{grouped}' has thousands commas, '{other}' a decimal comma"
        faults.add(name, found, "write all numbers alike, or declare decimal and thousands")
    if grouped:
        return ".", ","
    if pointed:
        return ",", "."
    if not commas:
        return ".", table.thousands or ""
    if table.thousands == ",":
        return ".", ","
    if all(re.fullmatch(whole, c) for c in commas):
        where, found = name, f"'{commas[0]}' may have a decimal or a thousands comma"
        faults.add(where, found, "declare decimal = ',' or thousands = ','")
    return ",", table.thousands or ""
