"""Many pictures drawn at once: half of them by a second process, where there is a second core."""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from typing import Any, Final, NamedTuple

FEW: Final = 6  # pictures for which a second process does not pay


class Task(NamedTuple):
    """One picture: module and function of the drawings, and what it shows."""

    module: str
    function: str
    shows: Any


def draw(task: Task) -> bytes:
    """A picture as PNG."""
    png = import_module("sandwich.drawing.maps").png  # the drawing library takes a second
    return bytes(png(getattr(import_module(f"sandwich.drawing.{task.module}"), task.function), task.shows))


def draw_all(tasks: Sequence[Task], done: Callable[[int], None]) -> list[bytes]:
    """Pictures of all tasks, in their order.

    Parameters
    ----------
    tasks : sequence of Task
        What is drawn.
    done : callable
        Called with the number of pictures that are ready.

    Returns
    -------
    list of bytes
        PNG, the same whoever drew it.
    """
    shared = list(range(1, len(tasks), 2)) if len(tasks) >= FEW and (os.cpu_count() or 1) > 1 else []
    helper = _Helper([tasks[i] for i in shared]) if shared else None
    out: dict[int, bytes] = {}
    for i, task in enumerate(tasks):
        if i not in shared:
            out[i] = draw(task)
            done(len(out))
    pictures = helper.pictures() if helper is not None else []
    out |= dict(zip(shared, pictures or [draw(tasks[i]) for i in shared], strict=True))
    done(len(out))
    return [out[i] for i in range(len(tasks))]


class _Helper:
    """A second process that draws; where it cannot be had, it gives no pictures."""

    def __init__(self, tasks: list[Task]) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        try:
            command = [sys.executable, "-P", "-m", "sandwich.drawing"]
            self._process = subprocess.Popen(  # noqa: S603  # this program itself
                command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
            )
            if self._process.stdin is not None:
                pickle.dump(tasks, self._process.stdin)
                self._process.stdin.close()
                self._process.stdin = None
        except OSError:
            self._process = None

    def pictures(self) -> list[bytes]:
        """What it drew, nothing where it failed."""
        if self._process is None:
            return []
        found, _ = self._process.communicate()
        if self._process.returncode != 0:
            return []
        return list(pickle.loads(found))  # noqa: S301  # written by the process started above
