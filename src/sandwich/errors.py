"""Errors a caller can act on: every one says where, what was found and what would do."""

from __future__ import annotations

from dataclasses import dataclass


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
        What would do.
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
