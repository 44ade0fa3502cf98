"""What takes long to work out and is the same for ever, kept on this machine beside the compiled code (NUMBA_CACHE_DIR)."""

from __future__ import annotations

import hashlib
import os
import tempfile
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

HERE = Path(__file__).parent


def stored(name: str, work: Callable[[], NDArray[Any]]) -> NDArray[Any]:
    """An array by what it was worked out from, mapped from its file; worked out where there is no file or no place for one."""
    folder = os.environ.get("NUMBA_CACHE_DIR")
    if not folder:
        return work()
    file = Path(folder) / f"{hashlib.sha256((_made_by() + name).encode()).hexdigest()[:24]}.npy"
    try:
        return np.asarray(np.load(file, mmap_mode="r", allow_pickle=False))
    except (OSError, ValueError):  # not there, or not whole
        made = work()
        _write(file, made)
        return made


def _write(file: Path, made: NDArray[Any]) -> None:
    """Puts a file there whole or not at all: another process may want it at the same time."""
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=file.parent, suffix=".part", delete=False) as part:
            np.save(part, made, allow_pickle=False)
        os.replace(part.name, file)
    except OSError:  # a full or read-only disk: it is worked out again next time
        return


@lru_cache(maxsize=1)
def _made_by() -> str:
    """Changes whenever the sculpted parts or anything that works with them changes."""
    digest = hashlib.sha256()
    for file in sorted([*HERE.glob("*.py"), *HERE.glob("*.npz")]):
        digest.update(file.read_bytes())
    return digest.hexdigest()
