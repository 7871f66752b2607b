"""Compiled kernels: one decorator over Numba, with a cache that cannot go stale.

Numba's file cache does not notice that a function called from *another* file has changed and goes on
returning the old number. The cache folder is therefore keyed by a digest of all kernel sources. Only the
folder of our own kernels is set: the user's Numba settings are left as they are.
"""

from __future__ import annotations

import contextlib
import functools
import hashlib
import importlib.metadata
import os
import sys
import threading
from collections.abc import Callable, Iterator
from contextvars import ContextVar
from pathlib import Path
from typing import Any

import numpy as np
import platformdirs

_MECHANICS = Path(__file__).parent.parent / "mechanics"
_PLAIN: ContextVar[bool] = ContextVar("plain", default=False)
_MAKING = threading.RLock()


@functools.cache
def cache_folder() -> Path | None:
    """Folder of the compiled kernels, or None where no folder can be written."""
    digest = hashlib.sha256(f"numba {importlib.metadata.version('numba')}".encode())
    for source in (Path(__file__), *sorted(_MECHANICS.rglob("*.py"))):
        digest.update(source.name.encode() + source.read_bytes())
    root = os.environ.get("SANDWICH_KERNEL_CACHE") or platformdirs.user_cache_dir("sandwich-rc")
    folder = Path(root) / "kernels" / digest.hexdigest()[:16]
    try:
        for part in (Path(root), folder.parent, folder):
            part.mkdir(parents=True, exist_ok=True, mode=0o700)
            if not _ours(part):
                return None
        probe = folder / f".write-{os.getpid()}"
        probe.touch()
        probe.unlink()
    except OSError:
        return None
    return folder


def _ours(folder: Path) -> bool:
    """Whether nobody but the user can put compiled code into a folder."""
    if not hasattr(os, "getuid"):
        return True
    status = folder.stat()
    return status.st_uid == os.getuid() and not status.st_mode & 0o022


def is_cold() -> bool:
    """Whether the kernels still have to be compiled on this machine."""
    folder = cache_folder()
    return folder is None or next(folder.rglob("*.nbc"), None) is None


@contextlib.contextmanager
def plain_python() -> Iterator[None]:
    """Kernels run as they are written, unless the compiler is there: to import it takes longer than a few points.

    Both ways agree to what the iterations promise, 1e-6, most often to rounding.
    """
    token = _PLAIN.set("numba" not in sys.modules)
    try:
        with np.errstate(all="ignore"):
            yield
    finally:
        _PLAIN.reset(token)


class Kernel:
    """A kernel that is compiled, or read from the cache, when it is first called."""

    def __init__(self, function: Callable[..., Any], *, inline: bool) -> None:
        functools.update_wrapper(self, function)
        self.py_func = function
        self._inline = inline

    def __call__(self, *args: Any) -> Any:
        """What the function gives."""
        return self.py_func(*args) if _PLAIN.get() else self._compiled(*args)

    @functools.cached_property
    def _compiled(self) -> Any:
        with _MAKING:
            return _compiled(self.py_func, inline=self._inline)

    @property
    def _numba_type_(self) -> Any:
        """As which the compiler sees it in another kernel."""
        return getattr(self._compiled, "_numba_type_", None)


def kernel(function: Callable[..., Any]) -> Any:
    """Compile a scalar or loop kernel; it releases the interpreter lock and keeps strict floating point."""
    return Kernel(function, inline=True)


def large_kernel(function: Callable[..., Any]) -> Any:
    """Compile a kernel that is called and not copied into its callers: it takes longer than a call costs."""
    return Kernel(function, inline=False)


def _compiled(function: Callable[..., Any], *, inline: bool) -> Any:
    from numba import njit
    from numba.core import config

    settings: Any = config  # they are made at import and have no types
    options: dict[str, Any] = {"nogil": True, "error_model": "numpy", "forceinline": inline}
    folder = cache_folder()
    if folder is None:
        return njit(**options)(function)
    saved = settings.CACHE_DIR
    settings.CACHE_DIR = str(folder)  # read once, while the decorator runs
    try:
        return _mending(njit(cache=True, **options)(function))
    finally:
        settings.CACHE_DIR = saved


def _mending(dispatcher: Any) -> Any:
    """The kernel with a cache that is emptied, and made again, where it cannot be read."""
    cache = getattr(dispatcher, "_cache", None)  # there is no other way to it
    if cache is None:  # plain Python
        return dispatcher
    read = cache.load_overload

    def load_overload(signature: Any, context: Any) -> Any:
        try:
            return read(signature, context)
        except Exception:  # noqa: BLE001  # whatever a damaged file does to the reader
            cache.flush()
            return None

    cache.load_overload = load_overload
    return dispatcher
