"""What a stage leaves: tables, pictures, lines for the terminal, warnings, a section of the report.

The terminal and the report know these records and no stage.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, Final, Generic, Literal, TypeVar

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.records import WarningNote
from sandwich.core.shown import Sentence, Shown

T = TypeVar("T")
Tone = Literal["plain", "good", "bad", "quiet"]
# ranks: what is shown before what; a stage of its own finds a place between them
HEAD: Final = 0
FAILS: Final = 10
STAGES: Final = 50
STEEL: Final = 80
END: Final = 90


@dataclass(frozen=True)
class Text:
    """A sentence or more."""

    text: Sentence | str
    tone: Tone = "plain"
    rank: int = STAGES


@dataclass(frozen=True)
class Table:
    """A table that is shown: a frame in SI units, a line above it, and the rows that are bad."""

    title: str
    frame: pd.DataFrame
    note: Sentence | str = ""
    bad: NDArray[np.bool_] | None = None
    rank: int = STAGES

    def shown(self, shown: Shown) -> pd.DataFrame:
        """The frame in the units shown, without columns that are empty."""
        frame = shown.frame(self.frame)
        empty = [c for c in frame if len(frame) and frame[c].map(lambda v: isinstance(v, str) and not v).all()]
        return frame.drop(columns=empty)

    def row_is_bad(self, i: int) -> bool:
        """Whether a row, counted from zero, is marked."""
        return self.bad is not None and bool(self.bad[i])


@dataclass(frozen=True)
class Figure:
    """A picture: its file, what draws it, and what it shows, described in the units asked for.

    `draw` names a module of the drawings and a function in it; the maps of a zone stand together in the report.
    """

    name: str
    draw: tuple[str, str]
    describe: Callable[[Shown], Any]
    zone: str = ""
    rank: int = STAGES


@dataclass(frozen=True)
class Pictures:
    """Pictures inside a section."""

    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Section:
    """A part of the report."""

    title: str
    blocks: tuple[Text | Table | Pictures, ...]
    rank: int = STAGES


@dataclass(frozen=True)
class Outcome(Generic[T]):
    """What a stage leaves.

    Attributes
    ----------
    left : T
        What later stages work with.
    tables : dict
        Frames by name, in SI units.
    verdict : tuple of Text
        What holds and what does not: the box at the head of the report.
    summary : tuple of Text and Table
        For the terminal.
    figures : tuple of Figure
        Pictures that stand in no section: the maps of the zones.
    warnings : tuple of WarningNote
        What was designed with a warning.
    sections : tuple of Section
        For the report.
    long : dict
        Tables that are for programs alone, by name: what gives their frames one after another. They are written as
        Parquet, never as text, and never held as a whole.
    reused : tuple of str
        Zones taken over from the last run.
    """

    left: T
    tables: dict[str, pd.DataFrame] = field(default_factory=dict)
    verdict: tuple[Text, ...] = ()
    summary: tuple[Text | Table, ...] = ()
    figures: tuple[Figure, ...] = ()
    warnings: tuple[WarningNote, ...] = ()
    sections: tuple[Section, ...] = ()
    long: dict[str, Callable[[], Iterator[pd.DataFrame]]] = field(default_factory=dict)
    reused: tuple[str, ...] = ()

    def frame(self, name: str) -> pd.DataFrame:
        """One of its tables as a whole."""
        return self.tables[name] if name in self.tables else pd.concat(self.long[name](), ignore_index=True)


def figures_of(outcomes: Iterable[Outcome[Any]]) -> dict[str, Figure]:
    """All pictures by name, those inside sections among them."""
    out: dict[str, Figure] = {}
    for o in outcomes:
        inside = (f for s in o.sections for b in s.blocks if isinstance(b, Pictures) for f in b.figures)
        out |= {f.name: f for f in (*o.figures, *inside)}
    return out
