"""Compiled kernels: one decorator over Numba, with a cache that cannot go stale.

Numba's file cache does not notice that a function called from *another* file has changed and goes on
returning the old number. The cache folder is therefore keyed by a digest of all kernel sources. Only the
folder of our own kernels is set: the user's Numba settings are left as they are.
"""

from __future__ import annotations

import functools
import hashlib
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import platformdirs
from numba import __version__ as numba_version
from numba import njit
from numba.core import config as numba_config

_CONFIG: Any = numba_config  # its settings are made at import and have no types
_MECHANICS = Path(__file__).parent.parent / "mechanics"


@functools.cache
def cache_folder() -> Path | None:
    """Folder of the compiled kernels, or None where no folder can be written."""
    digest = hashlib.sha256(f"numba {numba_version}".encode())
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


def kernel(function: Callable[..., Any]) -> Any:
    """Compile a scalar or loop kernel; it releases the interpreter lock and keeps strict floating point."""
    return _compiled(function, inline=True)


def large_kernel(function: Callable[..., Any]) -> Any:
    """Compile a kernel that is called and not copied into its callers: it takes longer than a call costs."""
    return _compiled(function, inline=False)


def _compiled(function: Callable[..., Any], *, inline: bool) -> Any:
    options: dict[str, Any] = {"nogil": True, "error_model": "numpy", "forceinline": inline}
    folder = cache_folder()
    if folder is None:
        return njit(**options)(function)
    saved = _CONFIG.CACHE_DIR
    _CONFIG.CACHE_DIR = str(folder)  # read once, while the decorator runs
    try:
        return _mending(njit(cache=True, **options)(function))
    finally:
        _CONFIG.CACHE_DIR = saved


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
