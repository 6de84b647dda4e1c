"""What a long-running server holds: freed arrays go back to the system at once.

A solve makes arrays of tens of megabytes in whichever thread serves it. The C library keeps what a
thread freed for that thread's next need, so that an evening's planning held gigabytes.
"""

from __future__ import annotations

import ctypes
import sys

_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8  # malloc.h of the GNU C library
_LARGE = 1 << 20  # bytes from which an array is a mapping of its own, gone when it is freed
_ARENAS = 2


def settle() -> bool:
    """Have freed memory given back; before threads are started. False where the C library is
    another than GNU's, which is left as it is."""
    library = _gnu()
    if library is None:
        return False
    for name, value in ((_M_MMAP_THRESHOLD, _LARGE), (_M_TRIM_THRESHOLD, 2 * _LARGE),
                        (_M_ARENA_MAX, _ARENAS)):  # fmt: skip
        library.mallopt(name, value)
    return True


def give_back() -> None:
    """Give what is free by now back to the system."""
    library = _gnu()
    if library is not None:
        library.malloc_trim(0)


def _gnu() -> ctypes.CDLL | None:
    if not sys.platform.startswith("linux"):
        return None
    try:
        library = ctypes.CDLL("libc.so.6")
        return library if hasattr(library, "mallopt") and hasattr(library, "malloc_trim") else None
    except OSError:
        return None
