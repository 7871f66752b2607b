"""Faults of a job in words of our own: where, what was found, a remedy."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any, Final

_MOST: Final = 60  # signs of a value that are shown
UNKNOWN: Final = "unexpected_keyword_argument"  # the kind of a fault
_KINDS: Final = {
    "float": "a number", "int": "a whole number", "string": "a text", "bool": "true or false", "tuple": "a list",
    "list": "a list", "dict": "a table { ... }", "dataclass": "a table { ... }", "date": "another kind of value",
}  # fmt: skip
_BOUNDS: Final = {
    "greater_than": ("more than", "gt"), "greater_than_equal": ("no less than", "ge"), "less_than": ("less than", "lt"),
    "less_than_equal": ("no more than", "le"),
}  # fmt: skip


def where_of(loc: Iterable[int | str], data: Any) -> tuple[int | str, ...]:
    """The keys of a fault that stand in the data, and the last one where it is missing there.

    What a validator adds, such as the kind of a value it tried, is left out.
    """
    parts, out, at = list(loc), [], data
    for i, part in enumerate(parts):
        there = (isinstance(at, dict) and part in at) or (
            isinstance(at, list | tuple) and isinstance(part, int) and part < len(at)
        )
        if there:
            out.append(part)
            at = at[part]
        elif i == len(parts) - 1 and (isinstance(at, dict) or isinstance(part, int)) and "[" not in str(part):
            out.append(part)
    return tuple(out)


def accepted(e: Any) -> str:
    """What a fault of a validator asks for."""
    kind, about = str(e["type"]), e.get("ctx", {})
    if kind == "literal_error":
        return f"{about['expected'].replace(chr(39), chr(34))}"
    if kind in _BOUNDS:
        word, name = _BOUNDS[kind]
        return f"{word} {about[name]:g}"
    if kind == "finite_number":
        return "a finite number"
    if kind == "too_short":
        return f"{about['min_length']} or more entries"
    if kind == "too_long":
        return f"no more than {about['max_length']} entries"
    if kind.startswith("string_too"):
        return "a text of another length"
    if kind == "int_from_float":
        return "a whole number"
    if kind == "missing":
        return "one more entry"
    stem = re.split("_", kind)[0]
    return _KINDS.get(stem, "another value")


def shown(value: Any) -> str:
    """A value as it is written, cut where it is long."""
    text = repr(value)
    return text if len(text) <= _MOST else f"{text[: _MOST - 3]}..."


def gathered(errors: list[Any], data: Any) -> list[tuple[tuple[int | str, ...], Any, list[str]]]:
    """Faults by place: the first of each place, and all that is accepted there.

    Of the ways to write a value, one that fits as far as some place inside it counts, and not those that do not fit
    at all.
    """
    at = [where_of(e["loc"], data) for e in errors]
    out: dict[tuple[int | str, ...], tuple[Any, list[str]]] = {}
    for place, e in zip(at, errors, strict=True):
        deeper = any(len(p) > len(place) and p[: len(place)] == place for p in at)
        if deeper and e["type"] not in ("value_error", UNKNOWN, "missing"):
            continue
        first, ways = out.setdefault(place, (e, []))
        way = accepted(e)
        if way not in ways:
            ways.append(way)
        if e["type"] == "value_error" and first["type"] != "value_error":
            out[place] = (e, ways)
    return [(place, e, ways) for place, (e, ways) in out.items()]
