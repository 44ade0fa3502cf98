"""Files measured in a child of its own, one at a time, watched and ended when it takes too much."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.looking.decoding import container_of

MOST_RESIDENT, MOST_S, MOST_CLIP_S, STEP_S = 500_000_000, 90.0, 450.0, 0.05
MOST_BYTES = 2_000_000_000
_one_at_a_time = threading.Lock()


def measured(
    path: Path, cancelled: Callable[[], bool] = lambda: False, preview: bool = False, known: Mapping[str, Any] | None = None
) -> dict[str, Any]:
    """All figures of a picture, a sound or a clip, worked out in a child.

    Args:
        path: the file.
        cancelled: asked again and again; the child ends as soon as it says so.
        preview: whether a small copy of a picture is wanted too, as text.
        known: of a clip, when somebody looks where: spans [s] by ``lens_s`` and ``window_s``.

    Raises:
        Refused: if the file cannot be read, is too large, takes too long or too much memory, or the child was ended.
        OSError: if there is no such file.
    """
    if path.stat().st_size > MOST_BYTES:
        raise Refused([Fault("", f"a file of {path.stat().st_size / 1e9:.1f} GB", f"{MOST_BYTES / 1e9:g} GB at most")])
    with _one_at_a_time:
        arguments = [str(path.resolve()), *(["--preview"] if preview else []), *([f"--known={json.dumps(known)}"] if known else [])]
        answer = _ran(arguments, cancelled, MOST_CLIP_S if container_of(path) else MOST_S)
    if "faults" in answer:
        raise Refused([Fault(*fault) for fault in answer["faults"]])
    return answer


def _ran(arguments: list[str], cancelled: Callable[[], bool], most_s: float) -> dict[str, Any]:
    environment = {name: value for name, value in os.environ.items() if name in ("PATH", "LANG", "HOME", "PYTHONPATH", "LD_LIBRARY_PATH")}
    environment |= {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "PYTHONPATH": os.pathsep.join(sys.path)}
    command, printed = [sys.executable, "-m", "uphill_lamp.looking.child", *arguments], list[bytes]()
    child = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, stdin=subprocess.DEVNULL, env=environment)
    # It may write no file: what it says goes through a pipe, emptied while it is watched.
    reader = threading.Thread(target=lambda: printed.append(child.stdout.read()), daemon=True)  # type: ignore[union-attr]
    reader.start()
    why = _watched(child, cancelled, most_s)
    reader.join(timeout=5)
    text = b"".join(printed)
    if why:
        raise Refused([why])
    try:
        return dict(json.loads(text))
    except ValueError:
        raise Refused([Fault("", "a file that could not be looked at to its end", "another file, or a shorter one")]) from None


def _watched(child: subprocess.Popen[bytes], cancelled: Callable[[], bool], most_s: float) -> Fault | None:
    """Waits for the child, and ends it where it takes too much; why it was ended."""
    end, why = time.monotonic() + most_s, None
    while child.poll() is None:
        if time.monotonic() > end:
            why = Fault("", f"a file that takes more than {most_s:g} s to look at", "a shorter one")
        elif resident_bytes(child.pid) > MOST_RESIDENT:
            why = Fault("", "a file that takes too much memory", "a smaller one")
        elif cancelled():
            why = Fault("", "stopped", "")
        if why:
            child.kill()
            child.wait()
            return why
        time.sleep(STEP_S)
    return None


def resident_bytes(pid: int) -> int:
    """How much memory a process holds; 0 where that is not told."""
    try:
        with open(f"/proc/{pid}/statm", encoding="ascii") as counts:
            return int(counts.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, IndexError, ValueError):
        return 0
