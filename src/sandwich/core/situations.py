"""Design situations of the ultimate limit state."""

from __future__ import annotations

from typing import Final

from sandwich.core.errors import check_choice

ULTIMATE: Final = ("persistent", "accidental", "seismic")


def check_ultimate(situation: str) -> None:
    """Refuse what is no ultimate situation.

    Raises
    ------
    ValueError
        With the nearest word that is known.
    """
    check_choice("situation", situation, ULTIMATE)
