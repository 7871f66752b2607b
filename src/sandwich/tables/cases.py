"""Cases: names cleaned and mapped, kinds and signs from the table of cases and from the job."""

from __future__ import annotations

import difflib
import unicodedata
from dataclasses import asdict, fields
from typing import Any, Final, get_args

import numpy as np
import pandas as pd
from pydantic import ValidationError

from sandwich.core.errors import Faults
from sandwich.job import Job
from sandwich.job.actions import Case, Kind
from sandwich.job.wording import accepted
from sandwich.tables.columns import rows_text
from sandwich.tables.read import ReadTable

KINDS: Final = {  # other words for the kinds of `Case`
    "dead": "permanent", "self weight": "permanent", "live": "imposed", "fluid": "water", "soil": "earth",
    "thermal": "temperature", "earthquake": "seismic", "roof live": "roof", "superdead": "permanent",
}  # fmt: skip
_YES: Final = {"yes": True, "y": True, "true": True, "1": True, "no": False, "n": False, "false": False, "0": False}


def clean(names: pd.Series, mapping: dict[str, str]) -> pd.Series:
    """Case names without odd blanks, under the names of the job."""
    code, words = pd.factorize(names)
    plain = [" ".join(unicodedata.normalize("NFC", str(n)).split()) for n in words]
    return pd.Series(np.array([mapping.get(c, c) for c in plain], dtype=object)[code], names.index, dtype=str)


def clean_tables(
    tables: dict[str, ReadTable | None], mapping: dict[str, str], key: str, prefix: str, faults: Faults
) -> None:
    """Clean the case names of all tables in place; notes names of the mapping that no table has."""
    seen: set[str] = set()
    for kind in ("resultants", "cases", "reactions", "nodal_forces", "displacements"):
        table = tables.get(kind)
        if table is not None:
            seen |= set(clean(pd.Series(pd.unique(table.frame["case"])), {}))
            renamed = [f"{old} = {new}" for old, new in mapping.items() if old in seen]
            if renamed:
                table.notes.append(f"cases renamed: {', '.join(renamed)}")
            table.frame["case"] = prefix + clean(table.frame["case"], mapping)
    for name in mapping:
        if seen and name not in seen:
            near = difflib.get_close_matches(name, sorted(seen), 1) or sorted(seen)[:8]
            faults.add(f"{key}.case_names", f"no case is called '{name}'", f"there are {', '.join(near)}")


def case_names(tables: dict[str, ReadTable | None], faults: Faults) -> tuple[str, ...]:
    """Cases of one analysis in the order of its table of cases, else of its results."""
    results, table = tables.get("resultants"), tables.get("cases")
    found = tuple(pd.unique(results.frame["case"])) if results is not None else ()
    if table is None:
        return found
    listed = table.frame["case"]
    again = listed.duplicated()
    if again.any():
        rows = rows_text(table.frame.index[again])
        faults.add(f"{table.name}, {rows}", "names a case a second time", "use one row a case")
    cases = tuple(pd.unique(listed))
    if results is not None:
        for case in sorted(set(found) - set(cases)):
            faults.add(results.name, f"case '{case}' is not in {table.name}", "add it there or drop its rows")
        for case in sorted(set(cases) - set(found)):
            faults.add(table.name, f"case '{case}' has no rows in {results.name}", "export it or drop it")
    return cases


def asked_for(job: Job, kinds: dict[str, Case]) -> set[str]:
    """Cases whose results a design of the job takes: those of its combinations, and those it names elsewhere.

    All of them where a name is not known: the message that names it lists them.
    """
    ruled = job.rules is not None
    asked = {
        c
        for c, case in kinds.items()
        if (ruled and case.kind not in ("unused", "mode")) or case.kind in ("combined", "prestress")
    }
    for row in job.combinations:
        asked |= {f"{row.result_set}/{n}" if row.result_set and "/" not in n else n for n in row.factors}
    for strip in job.strips.values():
        asked |= set(strip.load)
    for column in job.punching.values():
        asked |= set(column.force) if isinstance(column.force, dict) else set()
    for name, spectrum in job.spectra.items():
        asked |= {name, *spectrum.modes}
    asked |= {case.signs_from for c, case in kinds.items() if c in asked and case.signs_from}
    return asked if asked and asked <= set(kinds) else set(kinds)


def describe_cases(
    cases: tuple[str, ...], table: ReadTable | None, declared: dict[str, Case], path: str, faults: Faults
) -> dict[str, Case]:
    """What every case is: the job's word before that of the table.

    A kind of the table that is not known leaves the case without one; rules ask for it, listed combinations do not.
    """
    rows = {str(r["case"]): (i, r) for i, r in table.frame.iterrows()} if table is not None else {}
    out = {}
    for case in cases:
        entry: dict[str, Any] = {}
        where = ""
        if case in rows:
            i, row = rows[case]
            where = f"{table.name if table else ''}, row {i}"
            known = [f.name for f in fields(Case) if f.name in row]
            entry = {k: row[k] for k in known if str(row[k]).strip() not in ("", "-1")}
            _words(entry)
        if case in declared:
            where = f"{path}, cases.{case}"
            entry |= {k: v for k, v in asdict(declared[case]).items() if v is not None}
        try:
            out[case] = Case(**entry)
        except ValidationError as error:
            for e in error.errors():
                if e["type"] == "value_error":
                    found, _, remedy = str(e["ctx"]["error"]).rpartition("; ")
                    faults.add(where, found, remedy)
                else:
                    faults.add(where, f"{e['loc'][-1]} is '{e['input']}'", f"use {accepted(e)}")
            out[case] = Case()
    for case in declared:
        if case not in cases:
            near = difflib.get_close_matches(case, cases, 1) or cases[:8]
            faults.add(f"{path}, cases.{case}", "there is no such case", f"there are {', '.join(near)}")
    return out


def _words(entry: dict[str, Any]) -> None:
    """Other words for kinds and for yes and no."""
    if "kind" in entry:
        word = str(entry["kind"]).strip().lower()
        known = KINDS.get(word, word)
        if known in get_args(Kind):
            entry["kind"] = known
        else:
            del entry["kind"]
    if "signed" in entry:
        word = str(entry["signed"]).strip().lower()
        entry["signed"] = _YES.get(word, word)
    for key in ("direction", "situation"):
        if key in entry:
            entry[key] = str(entry[key]).strip().lower()
