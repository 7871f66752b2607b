"""One doubt about what came in."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Doubt:
    """One doubt: where, what was seen, how it shows, what usually causes it, and whether steel may be missing."""

    where: str
    what: str
    evidence: str
    usual: str = ""
    grave: bool = False

    def __str__(self) -> str:
        usual = f" Usually: {self.usual}." if self.usual else ""
        return f"{self.where}: {self.what} ({self.evidence}).{usual}"
