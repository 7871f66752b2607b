"""Records that every stage leaves in the same form."""

from __future__ import annotations

from dataclasses import dataclass

from sandwich.core.shown import SI, Sentence, Shown


@dataclass(frozen=True)
class WarningNote:
    """What stands in doubt.

    Attributes
    ----------
    subject : str
        The zone, table, case or place.
    text : str or Sentence
        What was seen.
    evidence : str or Sentence
        How it shows.
    cause : str
        What usually causes it.
    grave : bool
        Whether steel may be missing.
    """

    subject: str
    text: str | Sentence
    evidence: str | Sentence = ""
    cause: str = ""
    grave: bool = False

    def in_units(self, shown: Shown) -> str:
        """The warning as a sentence or two."""
        evidence = f" ({shown.text(self.evidence)})" if self.evidence else ""
        cause = f" Usually: {self.cause}." if self.cause else ""
        return f"{self.subject}: {shown.text(self.text)}{evidence}.{cause}"

    def __str__(self) -> str:
        return self.in_units(SI)
