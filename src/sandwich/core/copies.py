"""Copies of this process, which have all it has loaded: where the system allows for them."""

from __future__ import annotations

import os
import sys
import tempfile
import threading
import warnings
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass


def can_fork() -> bool:
    """Whether a copy of this process can be made safely: one thread, on a system whose libraries allow for it."""
    return sys.platform == "linux" and threading.active_count() == 1


def copied() -> int:
    """Make a copy of this process; its number, 0 in the copy."""
    with warnings.catch_warnings():
        # of threads that libraries of linear algebra have waiting, and end and start anew by themselves
        warnings.simplefilter("ignore", DeprecationWarning)
        return os.fork()


@dataclass
class Words:
    """What a program wrote, and its exit code."""

    out: str = ""
    err: str = ""
    code: int = 0


@contextmanager
def beside(program: Callable[[], object]) -> Iterator[Words]:
    """Run a program in a copy of this process while the block runs; its words are whole after it."""
    words = Words()
    with tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as err:
        number = copied()
        if number == 0:
            _to_its_end(program, out.fileno(), err.fileno())
        try:
            yield words
        finally:
            words.code = os.waitstatus_to_exitcode(os.waitpid(number, 0)[1])
        out.seek(0)
        err.seek(0)
        words.out, words.err = out.read().decode(), err.read().decode()


def _to_its_end(program: Callable[[], object], out: int, err: int) -> None:
    """Run a program with its words in files, and end this process with it."""
    code: object = 70
    try:
        os.dup2(out, sys.stdout.fileno())
        os.dup2(err, sys.stderr.fileno())
        for stream in (sys.stdout, sys.stderr):
            stream.reconfigure(encoding="utf-8")  # type: ignore[union-attr]
        program()
        code = 0
    except SystemExit as stop:
        code = stop.code or 0
    finally:  # whatever happens, the copy ends here
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code if isinstance(code, int) else 1)
