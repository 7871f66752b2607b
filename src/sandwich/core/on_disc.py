"""Large arrays in files without a name: their memory is the system's to take back, and ours to give back early."""

from __future__ import annotations

import ctypes
import mmap
import os
import sys
import tempfile
import weakref
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

LARGE: Final = 16_000_000  # bytes from which a file pays
_OPEN: Final[weakref.WeakSet[mmap.mmap]] = weakref.WeakSet()


def filled(shape: tuple[int, ...], value: float) -> NDArray[np.float64]:
    """An array of one value, in a file where it is large.

    Examples
    --------
    >>> filled((2, 2), 1.0)
    array([[1., 1.],
           [1., 1.]])
    """
    size = 8 * int(np.prod(shape))
    held = _mapped(size) if size >= LARGE else None
    if held is None:
        return np.full(shape, value)
    _OPEN.add(held)
    out: NDArray[Any] = np.frombuffer(held, dtype=np.float64).reshape(shape)
    out[...] = value
    return out


def _mapped(size: int) -> mmap.mmap | None:
    """A file without a name, of which every byte is there before it is written; None where the disc is full."""
    if not hasattr(os, "posix_fallocate"):
        return None
    try:
        with tempfile.TemporaryFile() as file:
            os.posix_fallocate(file.fileno(), 0, size)
            return mmap.mmap(file.fileno(), size)
    except OSError:
        return None


def give_back() -> None:
    """Give back memory that nothing uses, and that of all arrays in files; what is used again is read again."""
    import pyarrow as pa  # loaded by whoever has read a table

    pa.set_memory_pool(pa.system_memory_pool())  # the others keep what is released for themselves
    for pool in (pa.default_memory_pool(), pa.system_memory_pool()):
        pool.release_unused()
    trim()
    unload()


def unload() -> None:
    """Give back the memory of all arrays in files; what is used again is read again."""
    for held in _OPEN if hasattr(mmap, "MADV_DONTNEED") else ():
        held.madvise(mmap.MADV_DONTNEED)


def trim() -> None:
    """Give back what the C library keeps of freed memory, where it can be told to (glibc)."""
    release = getattr(ctypes.CDLL(None), "malloc_trim", None) if sys.platform == "linux" else None
    if release is not None:
        release(0)
