"""What every process of the app sets before it works: nothing heavy is imported before it."""

from __future__ import annotations

import gc
import os

# New objects before the collector looks, and how often the older ones are looked at. An appraisal makes thousands of small objects that
# no cycle holds, beside a hundred thousand that stay: with the interpreter's own 700 an eighth of the time went into looking at them.
NEW, TIMES = 50_000, 20


def prepare() -> None:
    """Many small products of small tables in one thread: threads that wait for each other take the cores from the page and the draftsman."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    gc.set_threshold(NEW, TIMES, TIMES)
