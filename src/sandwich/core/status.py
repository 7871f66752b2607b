"""What a row of a table comes to: one status, and why after a colon."""

from __future__ import annotations

from enum import StrEnum
from typing import Final, overload

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.shown import Sentence, Words


class Status(StrEnum):
    """What a check, a point, a bar layer or a station comes to."""

    OK = "ok"
    EXCUSED = "ok by limit analysis"
    LINKS = "links"  # of transverse shear and punching: satisfied by links
    STUDS = "studs"
    NO_CRACK = "no crack"
    UNCRACKED = "uncracked"
    PAST_TABLES = "past the tables"
    NOT_DESIGNED = "not designed"
    NOT_CHECKED = "not checked"
    NO_STEEL = "no steel"
    SHORT = "short"
    NOT_ENOUGH = "not enough"
    EXCEEDED = "exceeded"
    FAILS = "fails"

    @overload
    def because(self, reason: str) -> str: ...
    @overload
    def because(self, reason: Sentence) -> Sentence: ...
    def because(self, reason: Words) -> Words:
        """The status as tables have it, with its reason."""
        return f"{self}: {reason}" if isinstance(reason, str) else Sentence(f"{self}: {{}}", reason)


POINT_FAILS: Final = Status.NOT_CHECKED.because("the point fails")
HOLDS: Final = frozenset({
    Status.OK, Status.EXCUSED, Status.LINKS, Status.STUDS, Status.NO_CRACK, Status.UNCRACKED, Status.PAST_TABLES,
})  # fmt: skip


def status_of(text: str) -> Status:
    """The status in a cell of a table.

    Raises
    ------
    ValueError
        If there is none.
    """
    return Status(text.partition(": ")[0])


def is_status(column: ArrayLike, *any_of: Status) -> NDArray[np.bool_]:
    """Rows of a column of statuses with one of these, shape (n,)."""
    texts = np.asarray(column, dtype=object).tolist()
    known = {text: status_of(str(text)) in any_of for text in set(texts)}
    return np.fromiter((known[text] for text in texts), dtype=bool, count=len(texts))
