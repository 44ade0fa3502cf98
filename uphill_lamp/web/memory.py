"""Memory given back to the machine, as far as the C library can be asked for it."""

from __future__ import annotations

import ctypes
import gc
import os
import threading
import time
from functools import cache

MOST_ARENAS = 2  # the library would else keep a heap for each thread that ever asked for memory
REST_S = float(os.environ.get("UPHILL_REST_S", "300"))  # after so long without a request what was kept is let go
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


_asked = [0.0]  # when something was last asked for; a list, so that no thread need say that it writes to it


def asked() -> None:
    """A request has come: what is kept is wanted."""
    _asked[0] = time.monotonic()


def rest_when_idle() -> None:
    """Starts a thread that lets go of what was kept for the next picture, once nothing has been asked for a while."""
    threading.Thread(target=_rest_for_ever, daemon=True, name="rest").start()


def _rest_for_ever() -> None:
    rested = 0.0
    while True:
        time.sleep(REST_S / 5)
        if rested < _asked[0] < time.monotonic() - REST_S:
            rested = time.monotonic()
            rest()


def rest() -> None:
    """Lets go of all that can be worked out again."""
    from uphill_lamp.core.locked_lru import forget_all  # late: the first page needs nothing of the computation

    forget_all("uphill_lamp")
    give_back()
