"""Texts as tables: encoding, separator, decimal sign, header, units row, page breaks, closing lines.

What is not declared is found out from the column names that are wanted, and everything found is noted.
"""

from __future__ import annotations

import codecs
import csv
import gzip
import io
import re
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any, Final, TypeVar

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.on_disc import trim
from sandwich.job.source import Table

T = TypeVar("T")
THREADS: Final = 2  # more hold more of a table, and wait for the disk
LOOK: Final = 400  # lines in which a header is looked for
BLOCK: Final = 1 << 24  # bytes that are read and parsed at once
SIGNS: Final = 2000  # lines below it in which decimal and thousands signs are
_SEPARATORS: Final = (";", "\t", ",", "|", " ")
_ENDS: Final = re.compile(r"[\r\x0b\x0c\x1c-\x1e\x85\u2028\u2029]")  # what else ends a line
_PLAIN_ENDS: Final = "\r\x0b\x0c\x1c\x1d\x1e"  # those of plain ASCII, sought much faster one by one
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


def _opener(path: Path) -> Callable[..., Any]:
    return gzip.open if path.name.lower().endswith(".gz") else open


class Lines:
    """Lines of a text file, which is read some at a time and as often as it is asked for: no text is held as a whole.

    Parameters
    ----------
    path : Path
        The file; its name tells whether it is packed.
    codec : str
        Its encoding.

    Attributes
    ----------
    quoted : bool
        Whether it holds a quotation mark: a cell may go over lines then.
    plain : bool
        Whether it is UTF-8 whose lines end with a line feed alone: its bytes need not be made texts.
    """

    def __init__(self, path: Path, codec: str) -> None:
        self.path, self.codec, self.quoted, self.plain = path, codec, False, False

    def pieces(self) -> Iterator[str]:
        """The text as it is, in pieces of any lines."""
        with _opener(self.path)(self.path, "rb") as file:
            yield from codecs.iterdecode(iter(partial(file.read, BLOCK), b""), self.codec)

    def blocks(self, skip: int = 0) -> Iterator[str]:
        """Whole lines that end with a line feed alone, the last with nothing, after some that are left out."""
        pending, kept = "", ""
        for piece in self.pieces():
            text = kept + piece
            hold = "\r" if text.endswith("\r") else ""  # its line feed may follow
            text = _with_plain_ends(text.removesuffix(hold))
            cut = text.rfind("\n") + 1
            ready, kept = text[:cut], text[cut:] + hold
            while skip and ready:
                ready, skip = ready[ready.find("\n") + 1 :], skip - 1
            if ready:
                if pending:
                    yield pending
                pending = ready
        kept = _with_plain_ends(kept)
        yield "" if skip else (pending + kept).removesuffix("\n")

    def plain_blocks(self, skip: int) -> Iterator[bytes]:
        """The same of a file that is plain, as bytes."""
        pending, kept = b"", b""
        with _opener(self.path)(self.path, "rb") as file:
            for _ in range(skip):
                file.readline()
            for piece in iter(partial(file.read, BLOCK), b""):
                cut = piece.rfind(b"\n") + 1
                if cut:
                    if pending:
                        yield pending
                    pending, kept = kept + piece[:cut], piece[cut:]
                else:
                    kept += piece
        yield (pending + kept).removesuffix(b"\n")

    def first(self, count: int) -> list[str]:
        """The first lines."""
        lines: list[str] = []
        for block in self.blocks():
            start = 0
            while len(lines) < count and start < len(block):
                end = block.find("\n", start)
                end = len(block) if end < 0 else end
                lines.append(block[start:end])
                start = end + 1
            if len(lines) == count:
                break
        return lines


def lines_of(path: Path, declared: str | None, notes: list[str], faults: Faults) -> Lines | None:
    """Lines of a file; the encoding is the declared one, that of its byte-order mark, UTF-8 or Windows-1252."""
    with _opener(path)(path, "rb") as file:
        start = file.read(4)
    marked = next((codec for bom, codec in _BOMS if start.startswith(bom)), None)
    for codec in [declared] if declared else [marked or "utf-8", "cp1252"]:
        lines = Lines(path, codec)
        try:
            first, wrong, lines.plain = "", False, codec == "utf-8"
            for piece in lines.pieces():
                lines.plain = lines.plain and not _other_ends(piece)
                first = first + piece[:10_000] if len(first) < 10_000 else first
                wrong = wrong or "\0" in piece
                lines.quoted = lines.quoted or '"' in piece
            if wrong:
                break
        except LookupError:
            faults.add(path.name, f"'{codec}' is no known encoding", "use utf-8, cp1252 or utf-16")
            return None
        except UnicodeDecodeError:
            continue
        if marked:
            notes.append("byte-order mark")
        if codec == "cp1252" and not declared:
            notes.append("not UTF-8: read as Windows-1252")
        if "\r\n" in first:
            notes.append("lines end with CR LF")
        return lines
    faults.add(path.name, f"is not {declared or 'UTF-8'} text", "declare its encoding")
    return None


def parse_text(lines: Lines, table: Table, wanted: set[str], notes: list[str], faults: Faults) -> Raw | None:
    """Find the header of a text table and read what is under it."""
    name = lines.path.name
    if all(not block or block.isspace() for block in lines.blocks()):
        faults.add(name, "is empty", "export it again as a plain table")
        return None
    top = lines.first((table.header_row or 0) + LOOK + SIGNS)
    found = _header(top, table, wanted)
    if found is None:
        count = sum(block.count("\n") for block in lines.blocks()) + 1
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
    parts = _parsed(lines, at + 1, separator, names, plain=(decimal, thousands) == (".", ""))
    extra = [str(c) for c in parts[0].columns[len(names) :]]
    frame = parts[0] if len(parts) == 1 else _joined(parts)
    frame.index = pd.RangeIndex(at + 2, at + 2 + len(frame))
    return Raw(frame, name, notes=notes, decimal=decimal, thousands=thousands, extra=extra)


def _other_ends(text: str) -> bool:
    """Whether anything but a line feed ends a line."""
    return any(end in text for end in _PLAIN_ENDS) if text.isascii() else _ENDS.search(text) is not None


def _with_plain_ends(text: str) -> str:
    """Lines that end with a line feed alone."""
    if "\r\n" in text:
        text = text.replace("\r\n", "\n")
    if not _other_ends(text):
        return text
    lines = text.splitlines(keepends=True)
    last = "\n" if lines[-1] != lines[-1].splitlines()[0] else ""
    return "\n".join(line.splitlines()[0] for line in lines) + last


def _blocks(lines: Lines, skip: int) -> Iterator[bytes]:
    """Blocks of lines for the parser: one that holds a table as a whole takes several times its memory."""
    if lines.quoted:
        yield "".join(lines.blocks(skip)).encode()
        return
    if lines.plain:
        yield from lines.plain_blocks(skip)
        return
    for block in lines.blocks(skip):
        yield block.encode()


def _in_threads(work: Callable[[bytes], T], blocks: Iterator[bytes]) -> Iterator[T]:
    """What `work` makes of each block, in their order; no more blocks are held than are worked on."""
    with ThreadPoolExecutor(THREADS) as pool:
        waiting: deque[Future[T]] = deque()
        for block in blocks:
            waiting.append(pool.submit(work, block))
            if len(waiting) > THREADS:
                yield waiting.popleft().result()
        while waiting:
            yield waiting.popleft().result()


def _width(block: bytes, separator: str) -> int:
    """Number of fields of the line that has most."""
    cells = np.frombuffer(block, dtype=np.uint8)
    ends = np.append(np.flatnonzero(cells == ord("\n")), len(cells))
    if separator == " ":
        blank = (cells == ord(" ")) | (cells == ord("\t")) | (cells == ord("\n"))
        fields = np.flatnonzero(~blank & np.append(True, blank[:-1]))
        return int(np.diff(np.searchsorted(fields, ends), prepend=0).max())
    return int(np.diff(np.searchsorted(np.flatnonzero(cells == ord(separator)), ends), prepend=0).max()) + 1


def _parsed(lines: Lines, skip: int, separator: str, names: list[str], *, plain: bool) -> list[pd.DataFrame]:
    """Blocks of lines under the header; a column is numbers where all its cells are.

    Fields past the header get columns of their own behind the others.
    """

    def parsed(block: bytes, names: list[str], kinds: dict[str, type]) -> pd.DataFrame:
        frame = pd.read_csv(
            io.BytesIO(block), sep=r"\s+" if separator == " " else separator, header=None, names=names,
            index_col=False, dtype=kinds, low_memory=False, skip_blank_lines=False, skipinitialspace=True,
            keep_default_na=False, na_values=[""],
        )  # fmt: skip
        return pd.DataFrame({c: frame[c].copy() for c in frame}, copy=False)  # columns that can go one by one

    def all_parsed(names: list[str], mixed: list[str]) -> list[pd.DataFrame]:
        texts: dict[str, type] = dict.fromkeys(mixed if plain else names, str)

        def one(block: bytes) -> pd.DataFrame | int:
            width = _width(block, separator)
            return width if width > len(names) else parsed(block, names, texts)

        parts: list[pd.DataFrame] = []
        for part in _in_threads(one, _blocks(lines, skip)):
            if isinstance(part, int):
                return all_parsed([*names, *(f"unnamed {i}" for i in range(len(names) + 1, part + 1))], mixed)
            parts.append(part)
        return parts

    parts = all_parsed(unique(names), [])
    mixed = [c for c in parts[0].columns if len({_kind(part[c]) for part in parts}) > 1]
    # numbers in one block are texts where others are
    return all_parsed([*parts[0].columns], mixed) if mixed else parts


def _joined(parts: list[pd.DataFrame]) -> pd.DataFrame:
    """The parts as one frame, column by column: not both at once."""
    whole = {}
    for c in [*parts[0].columns]:
        trim()
        whole[c] = pd.concat([part.pop(c) for part in parts], ignore_index=True)
    return pd.DataFrame(whole, copy=False)


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
