"""Errors a caller can act on: every one says where, what was found and a remedy."""

from __future__ import annotations

import difflib
from collections.abc import Iterable
from dataclasses import dataclass
from math import inf
from numbers import Real
from typing import Any


@dataclass(frozen=True)
class Fault:
    """One thing wrong with an input.

    Attributes
    ----------
    where : str
        File, and row or key in it.
    found : str
        What is there.
    remedy : str
        The remedy.
    """

    where: str
    found: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.where}: {self.found}; {self.remedy}"


class SandwichError(Exception):
    """Base of all errors of this package."""


class InputError(SandwichError, ValueError):
    """Input that cannot be used; `faults` holds every fault found, not only the first."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("\n".join(map(str, faults)))


class StaleError(SandwichError, RuntimeError):
    """Stored results that no longer belong to the job they are asked about."""


def check_choice(name: str, value: Any, allowed: Iterable[str]) -> None:
    """Refuse a word that is not one of those allowed.

    Raises
    ------
    ValueError
        With the nearest word that is known.
    """
    words = tuple(allowed)
    if value in words:
        return
    near = difflib.get_close_matches(str(value).lower(), words, 1)
    remedy = f"'{near[0]}' is near; " if near else ""
    raise ValueError(f"{name} = {value!r} is not known; {remedy}one of {', '.join(words)} is wanted")


def check_kind(name: str, value: Any, kind: type, example: str) -> None:
    """Refuse a value of another kind.

    Raises
    ------
    TypeError
        With its remedy.
    """
    if not isinstance(value, kind):
        raise TypeError(
            f"{name} = {value!r} is a {type(value).__name__}; a {kind.__name__} such as {example} is wanted"
        )


def check_number(name: str, value: Any, low: float, high: float, unit: str = "") -> None:
    """Refuse what is not a finite number from `low` to `high`.

    Raises
    ------
    TypeError, ValueError
        If it is no number; if it lies outside.
    """
    if isinstance(value, bool) or not isinstance(value, Real):
        raise TypeError(f"{name} = {value!r} is a {type(value).__name__}; a number is wanted")
    if not low <= float(value) <= high or abs(float(value)) == inf:
        limit = f"from {low:g} to {high:g}{unit}" if high < inf else f"of {low:g}{unit} or more"
        raise ValueError(
            f"{name} = {float(value):g}{unit}; a number {limit if low > -inf else 'that is finite'} is wanted"
        )


class Faults:
    """Collects faults, so that a user sees all of them at once."""

    def __init__(self) -> None:
        self.found: list[Fault] = []

    def add(self, where: str, found: str, remedy: str) -> None:
        """Note one fault."""
        self.found.append(Fault(where, found, remedy))

    def stop(self) -> None:
        """Raise `InputError` if anything was found."""
        if self.found:
            raise InputError(self.found)
