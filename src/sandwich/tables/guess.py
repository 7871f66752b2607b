"""Guesses at what files hold, from names, units and a few rows: kind of table, columns, units. Nothing is certain."""

from __future__ import annotations

import csv
import re
import unicodedata
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final

import pandas as pd
import pyarrow as pa
import pyarrow.parquet as pq

from sandwich.core import units
from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS, QUANTITY
from sandwich.tables.dialect import LOOK, lines_of
from sandwich.tables.formats import TEXT, far_cells

_NUMBER = re.compile(r"[-+]?\d[\d.,' ]*([eE][-+]?\d+)?")
_UNIT_IN_NAME = re.compile(r"^(.*?)\s*[\[(]([^\])]+)[\])]\s*$")
_NAMES: Final = {  # English, German, French, Spanish, Italian, Portuguese; without accents, spaces and numbering
    "case": (
        "case", "loadcase", "lc", "load", "lastfall", "resultcase", "combination", "cas", "casdecharge", "caso",
        "casodecarga", "hipotesis", "casodicarico", "casodecarregamento",
    ),
    "element": ("element", "elem", "shell", "plate", "eid", "elemento", "coque", "lamina", "guscio", "casca"),
    "node": ("node", "joint", "knoten", "nid", "noeud", "nodo", "nudo"),
    "point": ("point", "place", "station", "punkt", "punto", "ponto"),
    "property": (
        "property", "prop", "section", "sectionname", "querschnitt", "propriete", "propiedad", "seccion", "proprieta",
        "sezione", "propriedade", "secao",
    ),
    "group": ("group", "groupname", "part", "gruppe", "groupe", "grupo", "gruppo"),
    "thickness": ("thickness", "thick", "t", "h", "dicke", "epaisseur", "espesor", "spessore", "espessura"),
    "kind": ("kind", "type", "nature", "art", "tipo"),
    "description": (
        "description", "text", "title", "comment", "beschreibung", "bezeichnung", "descripcion", "descrizione",
        "descricao",
    ),
    "signed": ("signed", "signs"),
    "size": ("size", "dimensions", "abmessungen", "dimensiones", "dimensioni", "dimensoes"),
}  # fmt: skip
_NUMBERING: Final = re.compile(
    r"^(numerode|numero|num|nro|no|nr|n)(?=[a-z]{4})|(?<=[a-z]{3})(nummer|number|num|id|no|nr)$"
)
_WORDS: Final = {word for words in _NAMES.values() for word in words}
_AXES: Final = ("xx", "xy", "xz", "zx", "zy", "zz")
_PAIRS: Final = (
    ("x", "y", "xy"),
    ("xx", "yy", "xy"),
    ("1", "2", "12"),
    ("11", "22", "12"),
    ("a", "b", "ab"),
    ("r", "s", "rs"),
)
MESH_FILES: Final = (".vtu", ".vtk", ".xdmf", ".msh", ".med", ".inp", ".e", ".exo")


@dataclass
class Guess:
    """What a table seems to be.

    Attributes
    ----------
    path : Path
        The file.
    sheet : str
        Sheet of a workbook, '' otherwise.
    kind : str
        A table of the input, '' for nothing that is known.
    at : str
        Where results are: corners, nodes, centres or points.
    columns : dict
        House name -> column.
    units : dict
        Quantity -> unit, from the names or a row of units.
    above : list of str
        Lines of text over the header.
    sheets : list of str
        Sheets alike, for results with a sheet a case.
    spare : dict
        All columns that could be told, also those of other kinds.
    """

    path: Path
    sheet: str = ""
    kind: str = ""
    at: str = "corners"
    columns: dict[str, str] = field(default_factory=dict)
    units: dict[str, str] = field(default_factory=dict)
    above: list[str] = field(default_factory=list)
    sheets: list[str] = field(default_factory=list)
    spare: dict[str, str] = field(default_factory=dict)


def tables_in(path: Path, faults: Faults) -> list[Path]:
    """A file as it is, and a folder whose Parquet files are the parts of one table; else the tables in the folder."""
    if not path.is_dir():
        return [path]
    ends = (*TEXT, *(f"{end}.gz" for end in TEXT), ".xlsx", ".parquet", *MESH_FILES)
    own = [f for f in sorted(path.iterdir()) if f.is_file() and f.name.lower().endswith(ends)]
    if all(f.suffix == ".parquet" for f in own):
        with suppress(pa.ArrowException, OSError):  # what cannot be read is said where it is looked at
            if len({tuple(pq.read_schema(f).names) for f in path.rglob("*.parquet")}) == 1:
                return [path]
    if not own:
        faults.add(str(path), "holds no tables", "name files of an export, or their folder")
    return own


def look(path: Path, faults: Faults) -> list[Guess]:
    """Guess what a file holds: one guess for it, or one for each sheet that can be told."""
    if not path.is_file() and not path.is_dir():
        faults.add(str(path), "no such file", "name files of an export")
        return []
    if path.suffix in MESH_FILES:
        return [Guess(path, kind="mesh")]
    try:
        grids = _grids(path, faults)
    except Exception as error:  # the readers raise many kinds; each means the file is no table
        faults.add(path.name, f"cannot be read ({str(error).splitlines()[0]})", "export it again as a plain table")
        return []
    found: list[Guess] = []
    for sheet, grid in grids.items():
        guess = _one(path, sheet, grid)
        alike = next((g for g in found if sheet and (g.kind, g.columns) == (guess.kind, guess.columns)), None)
        if alike is not None:
            alike.sheets.append(sheet)
        elif guess.kind or not sheet:
            guess.sheets = [sheet] if sheet else []
            found.append(guess)
            if guess.kind == "elements" and set(_AXES) <= set(guess.spare):
                own = {k: guess.spare[k] for k in ("element", *_AXES)}
                found.append(Guess(path, sheet, "axes", columns=own, sheets=guess.sheets))
    return found


def _grids(path: Path, faults: Faults) -> dict[str, list[list[str]]]:
    """The first rows of every table of a file as cells."""
    plain = path.name.removesuffix(".gz")
    if path.suffix == ".parquet" or path.is_dir():
        frame = pd.read_parquet(path)
        return {"": [list(map(str, frame.columns)), *frame.head(50).astype(str).to_numpy().tolist()]}
    if path.suffix == ".xlsx":
        if far_cells(path, faults):
            return {}
        sheets = pd.read_excel(path, sheet_name=None, header=None, nrows=LOOK, engine="calamine", dtype=object)
        return {
            str(name): [["" if pd.isna(v) else str(v).strip() for v in row] for row in cells.to_numpy(dtype=object)]
            for name, cells in sheets.items()
        }
    if plain.endswith(TEXT):
        lines = lines_of(path, None, [], faults)
        return {"": _split(lines.first(LOOK) if lines is not None else [])}
    faults.add(path.name, "is of no kind that is read", f"use {', '.join(TEXT)}, .xlsx, .parquet or a mesh file")
    return {}


def _split(lines: list[str]) -> list[list[str]]:
    """Lines by the separator that gives most of them the same number of fields."""
    best: list[list[str]] = []
    score = (0, 0)
    for separator in (";", "\t", ",", "|", " "):
        rows = [
            line.split() if separator == " " else [f.strip() for f in next(csv.reader([line], delimiter=separator), [])]
            for line in lines
        ]
        widths = [len(r) for r in rows if len(r) > 1]
        usual = max(set(widths), key=widths.count) if widths else 0
        now = (widths.count(usual) if separator != " " else widths.count(usual) // 2, usual)
        if now > score:
            best, score = rows, now
    return best


def _is_number(cell: str) -> bool:
    return bool(_NUMBER.fullmatch(cell)) or cell.lower() in ("nan", "inf", "-inf")


def _one(path: Path, sheet: str, rows: list[list[str]]) -> Guess:
    guess = Guess(path, sheet)
    widths = [len(r) for r in rows if len(r) > 1]
    usual = max(set(widths), key=lambda w: (widths.count(w), w)) if widths else 0
    wide = [(i, sum(map(_is_number, r))) for i, r in enumerate(rows) if len(r) == usual > 1]
    head = next((i for i, n in wide if 2 * n >= usual), next((i for i, n in wide if n), None))
    if head is None:  # a table of texts: its first row of several fields is the header
        at = next((i for i, r in enumerate(rows) if sum(map(bool, r)) > 1), None)
        unit_row: list[str] = []
    else:
        at, unit_row = head - 1, []
        while at >= 0 and (not any(rows[at]) or all(not c or units.is_unit(c) for c in rows[at])):
            names = [c for c in rows[at] if c]
            if names and _known(rows[at]):
                break  # names such as x, y, h are units as well
            unit_row = rows[at] if names else unit_row
            at -= 1
    if at is None or at < 0:
        return guess
    guess.above = [" ".join(c for c in r if c) for r in rows[:at] if any(r)]
    names = [c for c in rows[at] if c]
    unit_of = {name: unit for name, unit in zip(rows[at], unit_row, strict=False) if name and unit}
    for name in names:
        match = _UNIT_IN_NAME.match(name)
        if match and units.is_unit(match[2]):
            unit_of.setdefault(name, match[2])
    guess.columns = _columns(names)
    _decide(guess)
    quantity = {**dict.fromkeys("xyz", "length"), "thickness": "thickness"}
    quantity |= dict.fromkeys(("fx", "fy", "fz"), "force") | dict.fromkeys(("mx", "my", "mz"), "couple")
    if guess.kind == "resultants":
        quantity |= QUANTITY
    for house, column in guess.columns.items():
        if house in quantity and column in unit_of:
            guess.units.setdefault(quantity[house], unit_of[column])
    return guess


def _known(cells: list[str]) -> bool:
    """Whether a row of cells that could be units names columns instead."""
    plain = {_plain(c) for c in cells}
    return len(plain & _WORDS) > 0 or {"x", "y", "z"} <= plain


def _plain(name: str) -> str:
    match = _UNIT_IN_NAME.match(name)
    word = re.sub(r"[\s_.\-'°º]", "", match[1] if match else name).lower().replace("œ", "oe")
    word = re.sub("^nó(?![a-z])", "node", word)  # without its accent it is a number
    bare = "".join(c for c in unicodedata.normalize("NFKD", word) if not unicodedata.combining(c))
    shorter = _NUMBERING.sub("", bare)
    return shorter if shorter in _WORDS else bare


def _columns(names: list[str]) -> dict[str, str]:
    """House name -> column for every name that can be told."""
    plain = {_plain(n): n for n in reversed(names)}
    out: dict[str, str] = {}
    for house, words in _NAMES.items():
        word = next((w for w in words if w in plain), None)
        if word is not None:
            out[house] = plain[word]
    if "node" not in out and "element" not in out and "id" in plain:
        out["node" if {"x", "y", "z"} <= set(plain) else "element"] = plain["id"]
    for stem in ("n", "node", "corner", "joint", "knoten", "noeud", "nodo", "nudo"):
        for marks in ("1234", "ijkl"):
            found = {f"n{k + 1}": plain[f"{stem}{m}"] for k, m in enumerate(marks) if f"{stem}{m}" in plain}
            if len(found) >= 2 and {"n1", "n2"} <= set(found) and "n1" not in out:
                out |= found
    for axis in "xyz":
        for word in (axis, f"global{axis}", f"coord{axis}", f"{axis}coord"):
            if word in plain:
                out.setdefault(axis, plain[word])
    for first, third in (("x", "z"), ("1", "3"), ("localx", "localz")):
        six = {f"{a}{b}": plain.get(f"{p}{b}") for a, p in (("x", first), ("z", third)) for b in "xyz"}
        if all(six.values()):
            out |= {k: v for k, v in six.items() if v}
    for letter, stems in (("n", ("n", "s")), ("m", ("m",))):
        for stem in stems:
            for a, b, ab in _PAIRS:
                three = [plain.get(stem + s) for s in (a, b, ab)]
                if all(three) and f"{letter}xy" not in out:
                    out |= {f"{letter}{s}": str(v) for s, v in zip(("x", "y", "xy"), three, strict=True)}
    for stem in ("v", "q"):
        for a, b in (("x", "y"), ("xz", "yz"), ("1", "2"), ("13", "23"), ("a", "b"), ("r", "s")):
            if stem + a in plain and stem + b in plain and "vx" not in out:
                out |= {"vx": plain[stem + a], "vy": plain[stem + b]}
    for stem in ("f", "r", "p"):
        for marks in ("xyz", "123"):
            if all(stem + m in plain for m in marks) and "fx" not in out:
                out |= {f"f{a}": plain[stem + m] for a, m in zip("xyz", marks, strict=True)}
                if all("m" + m in plain for m in marks):
                    out |= {f"m{a}": plain["m" + m] for a, m in zip("xyz", marks, strict=True)}
    return out


def _decide(guess: Guess) -> None:
    """Kind of the table, and only the columns that kind has."""
    has = set(guess.columns)
    keep: set[str]
    if set(COMPONENTS) <= has and ("case" in has or guess.sheet):
        guess.kind, keep = "resultants", {"case", "element", "node", *COMPONENTS}
        if "element" not in has:
            guess.at = "nodes" if "node" in has else "points"
            keep |= {"point", "thickness"}
        elif "node" not in has:
            guess.at = "centres"
    elif {"fx", "fy", "fz", "node", "element"} <= has:
        guess.kind, keep = "nodal_forces", {"case", "element", "node", "fx", "fy", "fz", "mx", "my", "mz"}
    elif {"fx", "fy", "fz", "node"} <= has:
        guess.kind, keep = "reactions", {"case", "node", "fx", "fy", "fz", "mx", "my", "mz"}
    elif {"n1", "n2", "n3"} <= has:
        guess.kind, keep = "elements", {"element", "n1", "n2", "n3", "n4", "thickness", "group", "property"}
    elif {"n1", "n2"} <= has and "case" not in has:  # principal forces are named so, too
        guess.kind, keep = "members", {"n1", "n2", "size"}
    elif {"xx", "zz", "element"} <= has:
        guess.kind, keep = "axes", {"element", *_AXES}
    elif {"x", "y", "z", "node"} <= has:
        guess.kind, keep = "nodes", {"node", "x", "y", "z"}
    elif {"property", "thickness"} <= has and "element" not in has:
        guess.kind, keep = "properties", {"property", "thickness", "group"}
    elif "element" in has and has & {"thickness", "group", "property"}:
        guess.kind, keep = "assignments", {"element", "thickness", "group", "property"}
    elif "case" in has and has & {"kind", "description", "signed"}:
        guess.kind, keep = "cases", {"case", "kind", "description", "signed"}
    else:
        keep = set()
    guess.spare = guess.columns
    guess.columns = {k: v for k, v in guess.columns.items() if k in keep}
