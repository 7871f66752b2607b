"""Tables at the door: raw tables become frames with the names, units and signs of the house.

Every fault of a table is collected, with the row as a text editor counts it. What a table means for the
others (a result of an element that does not exist) is checked where they are put together.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core import units
from sandwich.core.errors import Faults
from sandwich.core.resultants import QUANTITY
from sandwich.job.source import Table
from sandwich.tables.columns import identifier, rows_text, texts
from sandwich.tables.columns import numbers as numbers_of
from sandwich.tables.dialect import Raw
from sandwich.tables.formats import load_raw

NOISE: Final = 6  # digits after the point [mm]
_MOMENTS = ("mx", "my", "mxy")


@dataclass(frozen=True)
class TableSpec:
    """What a table must and may hold: identifiers, numbers with their quantity, texts.

    Cells of optional numbers may be empty in a `sparse` one. Lengths of one `as_drawn` are sizes that limits are held
    against: as thicknesses of all tables, they are rounded, so that no unit leaves its noise on them.
    """

    identifiers: tuple[str, ...]
    numbers: dict[str, str]
    optional_numbers: dict[str, str]
    optional_texts: tuple[str, ...] = ()
    optional_identifiers: tuple[str, ...] = ()
    sparse: bool = False
    as_drawn: bool = False

    @property
    def wanted(self) -> tuple[str, ...]:
        """Columns it must have."""
        return (*self.identifiers, *self.numbers)

    @property
    def optional(self) -> tuple[str, ...]:
        """Columns it may have."""
        return (*self.optional_numbers, *self.optional_texts, *self.optional_identifiers)


_UNIT_VECTORS = dict.fromkeys(("xx", "xy", "xz", "zx", "zy", "zz"), "")
_THICKNESS = {"thickness": "thickness"}
_FORCES = dict.fromkeys(("fx", "fy", "fz"), "force")
_COUPLES = dict.fromkeys(("mx", "my", "mz"), "couple")
_CASE_TEXTS = ("kind", "category", "action", "direction", "stage", "situation", "signed", "signs_from", "description")
SPECS: Final = {
    "nodes": TableSpec(("node",), dict.fromkeys("xyz", "length"), {}),
    "elements": TableSpec(("element", "n1", "n2", "n3"), {}, _THICKNESS, ("group", "property"), ("n4",)),
    "members": TableSpec(("n1", "n2"), {}, {}, ("size",)),
    "axes": TableSpec(("element",), _UNIT_VECTORS, {}),
    "properties": TableSpec(("property",), {}, _THICKNESS, ("group",)),
    "assignments": TableSpec(("element",), {}, _THICKNESS, ("group", "property")),
    "cases": TableSpec(("case",), {}, {}, _CASE_TEXTS),
    "resultants": TableSpec(("case", "element", "node"), dict(QUANTITY), {}),
    "resultants at nodes": TableSpec(("case", "node"), dict(QUANTITY), {}),
    "resultants at centres": TableSpec(("case", "element"), dict(QUANTITY), {}),
    "points": TableSpec(("case", "point"), dict(QUANTITY), _THICKNESS),
    "tendons": TableSpec(("tendon",), dict.fromkeys("xyz", "length"), {"depth": "thickness"}),
    "labels": TableSpec(("storey", "name", "label"), {}, {}),
    "panels": TableSpec(
        ("panel",),
        dict.fromkeys(("x1", "y1", "x2", "y2"), "length") | _THICKNESS,
        dict.fromkeys(("bottom", "top"), "length"),
        sparse=True,
        as_drawn=True,
    ),
    "openings": TableSpec(("panel",), dict.fromkeys(("from", "to", "bottom", "top"), "length"), {}, as_drawn=True),
    "section forces": TableSpec(
        ("storey", "part", "case"),
        {"N": "force", "V1": "force", "M2": "couple"},
        {"V2": "force", "M1": "couple", "T": "couple", "place": "length"},
        ("at",),
    ),
    "parts": TableSpec(
        ("panel", "storey", "part"),
        {},
        dict.fromkeys(("from", "to", "bottom", "top"), "length"),
        ("kind",),
        sparse=True,
        as_drawn=True,
    ),
    "reactions": TableSpec(("case", "node"), _FORCES, _COUPLES),
    "nodal_forces": TableSpec(("case", "element", "node"), _FORCES, _COUPLES),
    "displacements": TableSpec(("case", "node"), dict.fromkeys(("ux", "uy", "uz"), "length"), {}),
    "storey drifts": TableSpec(
        ("storey", "case"), dict.fromkeys(("dx", "dy"), "length"), dict.fromkeys(("ux", "uy"), "length"), ("point",)
    ),
    "storey forces": TableSpec(("storey", "case"), dict.fromkeys(("P", "Vx", "Vy"), "force"), {}),
}


@dataclass(frozen=True)
class ReadTable:
    """A table in house names, N and mm; its name in messages; what was noticed about how it is written."""

    frame: pd.DataFrame
    name: str
    notes: list[str]


def read_table(
    folder: Path,
    table: Table,
    kind: str,
    key: str,
    unit_of: Mapping[str, str],
    negate: set[str],
    faults: Faults,
    *,
    leave_out: bool = False,
) -> ReadTable | None:
    """Read one table into house names and internal units, or note why not.

    Parameters
    ----------
    folder : Path
        Folder its files are relative to.
    table : Table
        Files and how they are written.
    kind : str
        Which of `SPECS` it is.
    key : str
        Key of the job that holds it, for messages.
    unit_of : mapping
        Unit by quantity.
    negate : set
        Components whose sign is turned.
    faults : Faults
        Collects what is wrong.
    leave_out : bool
        Whether rows with numbers that are empty or not finite are left out and noted.

    Returns
    -------
    ReadTable or None
        N, mm; index = row as an editor counts it. None where nothing usable was found.
    """
    spec = SPECS[kind]
    wanted, optional = spec.wanted, spec.optional
    given = {*table.fixed, *(["case"] if table.case_from != "column" else [])}
    for house in (*table.columns, *table.fixed):
        if house not in wanted + optional:
            where = f"{key}.{'columns' if house in table.columns else 'fixed'}.{house}"
            faults.add(where, "is no column of this table", f"use one of {', '.join(wanted + optional)}")
    sources = {table.columns.get(c, c) for c in wanted if c not in given}
    sources |= {s for house, s in table.columns.items() if house in optional}
    raws = load_raw(folder, table, sources, faults)
    own = {q: u for q, u in asdict(table.units).items() if u is not None}
    found = normalise(
        raws, spec, key, table.columns, {**unit_of, **own}, negate, faults,
        check_units=table.units_row == "check", leave_out=leave_out,
    )  # fmt: skip
    return _once(found) if found is not None and table.repeated == "same" else found


def _once(table: ReadTable) -> ReadTable:
    """The table without rows that say what an earlier one says, to the last digit."""
    again = table.frame.duplicated()
    if not again.any():
        return table
    notes = [*table.notes, f"{rows_text(table.frame.index[again])} left out: the same as earlier ones"]
    return ReadTable(table.frame[~again], table.name, notes)


def normalise(
    raws: list[Raw],
    spec: TableSpec,
    key: str,
    mapping: Mapping[str, str],
    unit_of: Mapping[str, str],
    negate: set[str],
    faults: Faults,
    *,
    check_units: bool = True,
    leave_out: bool = False,
) -> ReadTable | None:
    """Raw tables of one kind as one frame in house names and internal units; see `read_table`."""
    parts, notes = [], []
    for raw in raws:
        part = _one(
            raw,
            spec,
            key,
            mapping,
            unit_of=unit_of,
            negate=negate,
            faults=faults,
            check_units=check_units,
            leave_out=leave_out,
        )
        notes += [n if len(raws) == 1 else f"{raw.name}: {n}" for n in raw.notes]
        if part is not None:
            if len(raws) > 1:
                part.index = pd.Index([f"{raw.name.rpartition(', ')[2]}:{i}" for i in part.index])
            parts.append(part)
    if not parts:
        return None
    name = raws[0].name if len(raws) == 1 else f"{raws[0].name.split(', ')[0]} ({len(raws)} tables)"
    return ReadTable(parts[0] if len(parts) == 1 else pd.concat(parts), name, notes)


def _one(
    raw: Raw,
    spec: TableSpec,
    key: str,
    mapping: Mapping[str, str],
    *,
    unit_of: Mapping[str, str],
    negate: set[str],
    faults: Faults,
    check_units: bool,
    leave_out: bool,
) -> pd.DataFrame | None:
    wanted, optional = spec.wanted, spec.optional
    there = list(map(str, raw.frame.columns))
    for column in (*wanted, *(c for c in optional if c in mapping)):
        source = mapping.get(column, column)
        if source in there:
            continue
        where = f"{key}.columns.{column}" if column in mapping else f"{raw.name}, header"
        remedy = f"it has {', '.join(there)}" + ("" if column in mapping else f"; map one in {key}.columns")
        faults.add(where, f"{raw.name} has no column '{source}'", remedy)
    columns = {c: mapping.get(c, c) for c in (*wanted, *optional) if mapping.get(c, c) in there}
    if not set(wanted) <= set(columns):
        return None
    for column, source in columns.items():
        if f"{source} #2" in there:
            faults.add(f"{raw.name}, header", f"column '{source}' stands twice", "keep one column of a name")
        other = next((c for c, s in columns.items() if s == source and c != column), None)
        if other is not None and column < other:
            faults.add(f"{key}.columns", f"'{source}' is {column} and {other}", "name a column of its own for each")
    if "n1" in columns and "n5" in there and (texts(raw.frame["n5"]) != "").any():
        faults.add(f"{raw.name}, column n5", "an element has five nodes", "use elements of three or four")
    quantities = {**spec.numbers, **spec.optional_numbers}
    numbers = {s: quantities[c] for c, s in columns.items() if c in quantities}
    keys = [columns[c] for c in (spec.numbers or spec.identifiers[1:] or spec.identifiers)]
    ids = [columns[c] for c in spec.identifiers if columns[c] not in raw.filled]
    frame = _data_rows(raw, [columns[c] for c in wanted], keys, numbers, ids)
    if check_units:
        _check_units(raw, numbers, unit_of, key, faults)
    wide = frame[raw.extra].notna().any(axis=1) if raw.extra else pd.Series(False, frame.index)
    if wide.any():
        found = f"has more fields than the header ({len(there) - len(raw.extra)})"
        remedy = "mend the row; numbers with decimal commas need another separator"
        faults.add(f"{raw.name}, {rows_text(frame.index[wide])}", found, remedy)
    if frame.empty:
        faults.add(raw.name, "has a header and no rows", "give a table with at least one row")
        return None
    own: dict[str, pd.Series] = {}
    for column, source in columns.items():
        where = f"{raw.name}, column {source}"
        if column in spec.optional_texts and frame[source].isna().all():
            own[column] = pd.Series("", frame.index)
        elif column not in quantities:
            own[column] = identifier(frame[source], where, column in spec.identifiers, faults)
        else:
            optional_number = column in spec.optional_numbers
            quiet = spec.sparse if optional_number else leave_out
            values = numbers_of(frame[source], where, raw, faults, quiet)
            factor = _factor(quantities[column], unit_of, key, faults)
            own[column] = values * factor * (-1.0 if column in negate else 1.0)
            if quantities[column] == "thickness" or (spec.as_drawn and quantities[column] == "length"):
                own[column] = own[column].round(NOISE)
        if source in frame and list(columns.values()).count(source) == 1:
            del frame[source]  # a large table is not held twice
    table = pd.DataFrame(own, index=frame.index, copy=False)
    if not leave_out:
        return table
    bad = ~np.isfinite(table[list(spec.numbers)].to_numpy(dtype=float)).all(1)
    if bad.any():
        raw.notes.append(f"{rows_text(table.index[bad])} left out: empty or not a number")
        table = table[~bad]
    return table


def _named(text: Mapping[str, pd.Series], ids: list[str]) -> NDArray[np.bool_]:
    """Rows whose identifiers are all there and look like those of the other rows: no titles and closing lines."""
    out = np.ones(len(next(iter(text.values()))), dtype=bool)
    for column in ids:
        cells = text[column]
        there = cells != ""
        for pattern in (r"[-+]?\d+(?:\.0*)?", r"\S+"):  # numbers, else one word
            fits = cells.str.fullmatch(pattern)
            if fits.sum() > 0.5 * max(int(there.sum()), 1):
                there &= fits
                break
        out &= there.to_numpy(dtype=bool)
    return out if ids else np.zeros(len(out), dtype=bool)


def _data_rows(
    raw: Raw, wanted: list[str], keys: list[str], numbers: Mapping[str, str], ids: list[str]
) -> pd.DataFrame:
    """Rows that hold data: without repeated headers, rows of units, titles and closing lines, which are noted."""
    frame = raw.frame
    if not any(pd.api.types.is_object_dtype(frame[c]) or pd.api.types.is_string_dtype(frame[c]) for c in keys):
        empty = frame[keys].isna().all(axis=1)
        if not empty.any():
            return frame
    text = {c: texts(frame[c]) for c in {*wanted, *keys, *numbers, *ids}}
    header = np.logical_and.reduce([text[c] == c for c in wanted])
    _note_rows(raw, header, "the header again (page breaks)")
    unit_row = np.zeros(len(frame), dtype=bool)
    if numbers:
        cells = [text[c] for c in numbers]
        filled = np.logical_or.reduce([c != "" for c in cells])
        worded = np.logical_and.reduce([~c.str.contains(r"^[-+]?[.,]?\d|nan|inf", case=False) for c in cells])
        for i in np.flatnonzero(filled & worded & ~header)[:200]:
            found = {c: text[c].iloc[i] for c in numbers if text[c].iloc[i]}
            if all(units.is_unit(u) for u in found.values()):
                unit_row[i] = True
                raw.units.update(found)
    _note_rows(raw, unit_row, f"a row of units ({', '.join(dict.fromkeys(raw.units.values()))})")
    # a title or closing line holds no number, and nothing in most of its columns
    empty = np.mean([text[c] == "" for c in keys], axis=0)
    number = np.logical_or.reduce([text[c].str.contains(r"^[-+]?[.,]?\d[\d.,' ]*(?:[eE][-+]?\d+)?$") for c in keys])
    # a row that names what it belongs to is one whose numbers are missing
    nothing = ((empty == 1.0) | ((empty >= 0.5) & ~number)) & ~unit_row & ~_named(text, ids)
    lines = {i: " ".join(str(v) for v in frame.iloc[i] if not pd.isna(v)).strip() for i in np.flatnonzero(nothing)}
    worded = [i for i, line in lines.items() if line]
    if worded:
        _note_rows(raw, np.isin(np.arange(len(frame)), worded), f"a line of text ('{lines[worded[0]]}')")
    data: pd.DataFrame = frame.loc[~(header | unit_row | nothing)]
    return data


def _note_rows(raw: Raw, rows: NDArray[np.bool_], what: str) -> None:
    if rows.any():
        raw.notes.append(f"{rows_text(raw.frame.index[rows])}: {what}")


def _check_units(raw: Raw, numbers: Mapping[str, str], unit_of: Mapping[str, str], key: str, faults: Faults) -> None:
    """A row of units in the table must say what the job says."""
    wrong: dict[str, tuple[str, str]] = {}
    for source, unit in raw.units.items():
        quantity = numbers[source]
        try:
            agrees = abs(units.factor(quantity, unit) / units.factor(quantity, unit_of[quantity]) - 1.0) < 1e-6
        except (ValueError, KeyError):
            agrees = False
        if not agrees:
            wrong.setdefault(quantity, (source, unit))
    for quantity, (source, unit) in wrong.items():
        found = f"the row of units says '{unit}', the job says '{unit_of.get(quantity, '-')}'"
        remedy = f'write {key}.units = {{ {quantity} = "{unit}" }}, or units_row = "ignore"'
        faults.add(f"{raw.name}, column {source}", found, remedy)


def _factor(quantity: str, unit_of: Mapping[str, str], key: str, faults: Faults) -> float:
    if not quantity:
        return 1.0
    try:
        return units.factor(quantity, unit_of[quantity])
    except ValueError as error:
        where = f"{key}.units.{quantity} or input.units.{quantity}"
        if where not in {f.where for f in faults.found}:
            found, _, remedy = str(error).partition("; ")
            faults.add(where, found, remedy)
        return 1.0


def negated(positive_moment_tension: str, negate: Iterable[str]) -> set[str]:
    """Components to negate so that a positive moment puts the bottom in tension."""
    out = set(negate)
    return out ^ set(_MOMENTS) if positive_moment_tension == "top" else out
