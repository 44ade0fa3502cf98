"""How what is written out triangle by triangle is compiled: once per machine, kept, and free of the interpreter's lock."""

from __future__ import annotations

import os
from pathlib import Path

if "NUMBA_CACHE_DIR" not in os.environ and os.environ.get("UPHILL_STATE"):
    os.environ["NUMBA_CACHE_DIR"] = str(Path(os.environ["UPHILL_STATE"]) / "compiled")

import numba

compiled = numba.njit(cache=True, nogil=True, fastmath=True)
