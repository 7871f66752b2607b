"""Worked calculations: a clause called for one point inside a recording leaves its symbols, values and units.

Units are read from the docstring of the clause, so they are written once. Outside a recording the clause is
the plain function.
"""

from __future__ import annotations

import contextlib
import contextvars
import functools
import html
import inspect
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Final, ParamSpec, TypeVar

from sandwich.core.numbers import digits

P = ParamSpec("P")
R = TypeVar("R")
_NOISE: Final = {
    "kN": 1e-9, "kNm": 1e-9, "kN/m": 1e-9, "kNm/m": 1e-9, "N": 1e-6, "N mm": 1e-3, "-": 1e-12,
}  # by unit  # fmt: skip


@dataclass(frozen=True)
class Quantity:
    """A symbol with its value and unit."""

    symbol: str
    value: object
    unit: str

    @property
    def text(self) -> str:
        """Its value in words; what rounding leaves of no force is nothing.

        Examples
        --------
        >>> Quantity("M", -1.6e-13, "kNm").text, Quantity("left", 1.6e-13, "N/mm").text
        ('0', '1.6e-13')
        """
        nothing = isinstance(self.value, float) and abs(self.value) < _NOISE.get(self.unit, 0.0)
        return "0" if nothing else digits(self.value)


@dataclass(frozen=True)
class Step:
    """One step of a worked calculation: what, by which clause, from which symbols, with which result."""

    title: str
    source: str
    formula: str
    given: tuple[Quantity, ...]
    results: tuple[Quantity, ...]
    note: str = ""


@dataclass(repr=False)
class Sheet:
    """The steps of one worked calculation under headings, and what it comes to."""

    steps: list[tuple[str, Step]] = field(default_factory=list)
    answer: tuple[Quantity, ...] = ()
    heading: str = ""
    alone: tuple[Quantity, ...] = ()
    subject: str = ""

    def of_combination(self) -> Sheet:
        """The sheet with what its combination asks for by itself as the answer, where that was worked out."""
        return replace(self, answer=self.alone) if self.alone else self

    def __repr__(self) -> str:
        answer = ", ".join(f"{q.symbol} {q.text} {q.unit}".rstrip() for q in self.answer)
        return f"Sheet({len(self.steps)} steps: {answer})"

    def _repr_html_(self) -> str:
        """One row a step: what, by which clause, with which result."""
        rows = []
        for heading, step in self.steps:
            found = ", ".join(f"{q.symbol} {q.text} {q.unit}".rstrip() for q in step.results)
            cells = (heading, step.title, step.source, step.formula, found)
            rows.append("<tr>" + "".join(f"<td>{html.escape(c)}</td>" for c in cells) + "</tr>")
        head = "".join(f"<th>{c}</th>" for c in ("part", "step", "source", "formula", "result"))
        return f"<table><tr>{head}</tr>{''.join(rows)}</table>"

    def add(self, step: Step) -> None:
        """Append a step under the current heading, where it is not the last one again."""
        if not self.steps or self.steps[-1] != (self.heading, step):
            self.steps.append((self.heading, step))


_sheet: contextvars.ContextVar[Sheet | None] = contextvars.ContextVar("sheet", default=None)


@contextlib.contextmanager
def recording() -> Iterator[Sheet]:
    """Collect the clauses called inside the block."""
    sheet = Sheet()
    token = _sheet.set(sheet)
    try:
        yield sheet
    finally:
        _sheet.reset(token)


@contextlib.contextmanager
def unrecorded() -> Iterator[None]:
    """Call clauses inside the block without a step: in a search only its result is one."""
    token = _sheet.set(None)
    try:
        yield
    finally:
        _sheet.reset(token)


@contextlib.contextmanager
def about(subject: str) -> Iterator[None]:
    """Clauses called inside the block are for one thing, such as a bar layer; their steps say so."""
    sheet = _sheet.get()
    if sheet is None:
        yield
        return
    before, sheet.subject = sheet.subject, subject
    try:
        yield
    finally:
        sheet.subject = before


def documented_units(function: Callable[..., object]) -> dict[str, str]:
    """Units of the parameters, and of the results under their names, from a numpydoc docstring."""
    doc = inspect.getdoc(function) or ""
    units: dict[str, str] = {}
    for section in re.findall(r"(?ms)^(?:Parameters|Returns)\n-+\n(.*?)(?=^\w[\w ]*\n-+\n|\Z)", doc):
        for names, body in re.findall(r"(?m)^(\w[\w, ]*?) : [^\n]*\n((?:[ \t]+[^\n]*\n?|\n)+)", section + "\n"):
            found = re.search(r"\[([^\]]+)\]", body)
            for name in names.split(","):
                units[name.strip()] = found.group(1) if found else ""
    return units


def clause(source: str, *, formula: str) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Mark a function as one clause of a standard; its steps can be recorded."""

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        @functools.wraps(function)
        def call(*args: P.args, **kwargs: P.kwargs) -> R:
            result = function(*args, **kwargs)
            sheet = _sheet.get()
            if sheet is not None:
                step = _step(function, source, formula, args, kwargs, result)
                sheet.add(replace(step, title=f"{step.title}: {sheet.subject}") if sheet.subject else step)
            return result

        call.__dict__.update(source=source, formula=formula)
        return call

    return decorate


def _step(
    function: Callable[..., object],
    source: str,
    formula: str,
    args: tuple[object, ...],
    kwargs: dict[str, object],
    result: object,
) -> Step:
    bound = inspect.signature(function).bind(*args, **kwargs)
    bound.apply_defaults()
    units = documented_units(function)
    given = tuple(Quantity(k, _plain(v), units.get(k, "")) for k, v in bound.arguments.items())
    results = result if isinstance(result, tuple) else (result,)
    names = [k for k in units if k not in bound.arguments] or [function.__name__]
    title = (inspect.getdoc(function) or function.__name__).split("\n", 1)[0].rstrip(".")
    out = tuple(Quantity(n, _plain(v), units.get(n, "")) for n, v in zip(names, results, strict=True))
    return Step(title, source, formula, given, out)


def _plain(value: object) -> object:
    item = getattr(value, "item", None)
    return item() if item is not None and getattr(value, "size", 1) == 1 else value
