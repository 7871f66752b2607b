"""What long work tells of itself."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[str, int, int], None]
"""Called with what is done, the work done and the whole."""


def unwatched(what: str, done: int, of: int) -> None:
    """Progress that nobody watches."""
