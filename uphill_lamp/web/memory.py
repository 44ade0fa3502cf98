"""Memory given back to the machine, as far as the C library can be asked for it."""

from __future__ import annotations

import ctypes
import gc
from functools import cache

MOST_ARENAS = 2  # the library would else keep a heap for each thread that ever asked for memory
_ARENAS = -8  # mallopt's name for that bound


@cache
def _library() -> ctypes.CDLL | None:
    try:
        library = ctypes.CDLL(None)
        return library if hasattr(library, "malloc_trim") and hasattr(library, "mallopt") else None
    except OSError:
        return None


def bound() -> None:
    """Keeps the number of heaps small; to be called before threads are started."""
    if (library := _library()) is not None:
        library.mallopt(_ARENAS, MOST_ARENAS)


def give_back() -> None:
    """After work that took much: what is no longer used goes back to the machine."""
    gc.collect()
    if (library := _library()) is not None:
        library.malloc_trim(0)
