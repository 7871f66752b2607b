"""Pictures drawn beside other work by a second process, where there is a second core."""

from __future__ import annotations

import atexit
import os
import pickle
import signal
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from functools import partial
from importlib import import_module
from typing import Any, BinaryIO, Final, NamedTuple, Self

from sandwich.core.copies import can_fork, copied
from sandwich.core.on_disc import trim

FEW: Final = 8  # pictures for which to start a second process does not pay
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


class PictureQueue:
    """Pictures that a second process draws while this one goes on; both draw those it has not begun by the end."""

    def __init__(self) -> None:
        self._tasks: dict[str, Task] = {}
        self._asked: dict[str, Future[bytes | None]] = {}
        self._asking = ThreadPoolExecutor(1)
        self._helper = _standing_by[0] if _standing_by and _has_second_core() else None

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        """Let go of what is not drawn, and of the second process."""
        self._asking.shutdown(cancel_futures=True)
        if self._helper is not None and self._helper not in _standing_by:
            self._helper.close()
        self._helper = None

    def add(self, name: str, task: Task) -> None:
        """One more picture."""
        self._tasks[name] = task
        if self._helper is None and len(self._tasks) == FEW and _has_second_core():
            self._helper = _started()
        if self._helper is not None:
            for other in [n for n in self._tasks if n not in self._asked]:
                self._asked[other] = self._asking.submit(self._helper.picture, self._tasks[other])

    def finished(self, done: Callable[[int, int], None]) -> dict[str, bytes]:
        """All pictures by name.

        Parameters
        ----------
        done : callable
            Called with the number of pictures that are ready, and of all.

        Returns
        -------
        dict of bytes
            PNG, the same whoever drew it.
        """
        out: dict[str, bytes] = {}
        for name, task in reversed(self._tasks.items()):
            if name not in self._asked or self._asked[name].cancel():
                out[name] = draw(task)
                done(len(out) + sum(f.done() and not f.cancelled() for f in self._asked.values()), len(self._tasks))
        for name, asked in self._asked.items():
            if name not in out:
                out[name] = asked.result() or draw(self._tasks[name])
        if out:
            done(len(out), len(self._tasks))
        return out


def serve(tasks: BinaryIO, pictures: BinaryIO) -> None:
    """Draw tasks until no more come in, each as it comes."""
    import_module(DRAWS)  # while the other process still reads and designs
    with suppress(EOFError):
        while True:
            pickle.dump(draw(pickle.load(tasks)), pictures)  # noqa: S301  # by the one that asks
            pictures.flush()


class _Helper:
    """A second process that draws; where it fails, it gives no picture."""

    def __init__(self, tasks: BinaryIO, pictures: BinaryIO, wait: Callable[[], object]) -> None:
        self._tasks, self._pictures, self._wait = tasks, pictures, wait

    def picture(self, task: Task) -> bytes | None:
        """What it draws of a task."""
        try:
            pickle.dump(task, self._tasks)
            self._tasks.flush()
            return bytes(pickle.load(self._pictures))  # noqa: S301  # by the process that this one has started
        except (EOFError, OSError, pickle.UnpicklingError):
            return None

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
