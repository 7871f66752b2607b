"""Many pictures drawn at once: half of them by a second process, where there is a second core."""

from __future__ import annotations

import atexit
import os
import pickle
import signal
import subprocess
import sys
from collections.abc import Callable, Sequence
from contextlib import suppress
from functools import partial
from importlib import import_module
from typing import Any, BinaryIO, Final, NamedTuple

from sandwich.core.copies import can_fork, copied
from sandwich.core.on_disc import trim

FEW: Final = 6  # pictures for which a second process does not pay
DRAWS: Final = "sandwich.drawing.maps"  # has the drawing library, which takes half a second


class Task(NamedTuple):
    """One picture: module and function of the drawings, and what it shows."""

    module: str
    function: str
    shows: Any


def draw(task: Task) -> bytes:
    """A picture as PNG."""
    png = import_module(DRAWS).png
    trim()  # what the last one took: a map of a large mesh is large
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
    helper = (_standing_by[0] if _standing_by else _started()) if len(tasks) >= FEW and _has_second_core() else None
    shared = list(range(1, len(tasks), 2)) if helper is not None and helper.give(tasks[1::2]) else []
    out: dict[int, bytes] = {}
    for i, task in enumerate(tasks):
        if i not in shared:
            out[i] = draw(task)
            done(len(out))
    pictures = helper.pictures() if helper is not None and shared else []
    if helper is not None and helper not in _standing_by:
        helper.close()
    out |= dict(zip(shared, pictures or [draw(tasks[i]) for i in shared], strict=True))
    done(len(out))
    return [out[i] for i in range(len(tasks))]


def serve(tasks: BinaryIO, pictures: BinaryIO) -> None:
    """Draw batches of tasks until no more come in, each as it comes."""
    import_module(DRAWS)  # while the other process still reads and designs
    with suppress(EOFError):
        while True:
            pickle.dump([draw(task) for task in pickle.load(tasks)], pictures)  # noqa: S301  # by the one that asks
            pictures.flush()


class _Helper:
    """A second process that draws; where it fails, it gives no pictures."""

    def __init__(self, tasks: BinaryIO, pictures: BinaryIO, wait: Callable[[], object]) -> None:
        self._tasks, self._pictures, self._wait = tasks, pictures, wait

    def give(self, tasks: Sequence[Task]) -> bool:
        """Whether it took the tasks."""
        try:
            pickle.dump(list(tasks), self._tasks)
            self._tasks.flush()
        except OSError:
            return False
        return True

    def pictures(self) -> list[bytes]:
        """What it drew."""
        try:
            return list(pickle.load(self._pictures))  # noqa: S301  # by the process that this one has started
        except (EOFError, OSError, pickle.UnpicklingError):
            return []

    def close(self) -> None:
        """Let it go."""
        for pipe in (self._tasks, self._pictures):
            with suppress(OSError):  # of what it did not take
                pipe.close()
        self._wait()


_standing_by: list[_Helper] = []


def stand_by() -> None:
    """Have a helper ready: a copy of this process, with all that is loaded, which waits for pictures to draw."""
    if _standing_by or not can_fork() or not _has_second_core():
        return
    (its_tasks, tasks), (pictures, its_pictures) = os.pipe(), os.pipe()
    number = copied()
    if number == 0:
        os.close(tasks)
        os.close(pictures)
        signal.signal(signal.SIGINT, signal.SIG_IGN)  # it ends with the one that asks
        with suppress(BaseException), os.fdopen(its_tasks, "rb") as come, os.fdopen(its_pictures, "wb") as go:
            serve(come, go)
        os._exit(0)
    os.close(its_tasks)
    os.close(its_pictures)
    helper = _Helper(os.fdopen(tasks, "wb"), os.fdopen(pictures, "rb"), partial(os.waitpid, number, 0))
    atexit.register(helper.close)
    _standing_by.append(helper)


def _started() -> _Helper | None:
    """A helper that starts from nothing; none where the system has no process to give."""
    (its_tasks, tasks), (pictures, its_pictures) = os.pipe(), os.pipe()
    try:
        process = subprocess.Popen(  # this program itself
            [sys.executable, "-P", "-m", "sandwich.drawing"],
            stdin=its_tasks, stdout=its_pictures, stderr=subprocess.DEVNULL,
        )  # fmt: skip
    except OSError:
        return None
    finally:
        os.close(its_tasks)
        os.close(its_pictures)
    return _Helper(os.fdopen(tasks, "wb"), os.fdopen(pictures, "rb"), process.wait)


def _has_second_core() -> bool:
    return (os.cpu_count() or 1) > 1
