"""What is heavy is imported late, by one thread, whole: two threads that import libraries full of circles at once meet halves of them."""

from __future__ import annotations

import threading

_lock = threading.Lock()
_loaded = False


def load() -> None:
    """Imports all that figures and pictures are worked out with; at once the second time."""
    global _loaded
    with _lock:
        if _loaded:
            return
        import pvlib.solarposition  # noqa: F401
        import scipy.optimize  # noqa: F401

        from uphill_lamp.drawings.far_side import render  # noqa: F401

        _loaded = True
