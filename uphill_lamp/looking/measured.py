"""Files measured in a child of its own, one at a time, watched and ended when it takes too much."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.looking.decoding import container_of

MOST_RESIDENT, MOST_S, MOST_CLIP_S, STEP_S = 500_000_000, 240.0, 450.0, 0.05
MOST_BYTES = 2_000_000_000
STOPPED = Fault("", "stopped", "")
_one_at_a_time = threading.Lock()
Answer = dict[str, Any] | Refused


@dataclass(frozen=True)
class Job:
    """A file to be measured.

    Args:
        path: the file.
        preview: whether a small copy of a picture is wanted too, as text.
        known: of a clip, when somebody looks where: spans [s] by ``lens_s``, ``window_s`` and ``speech_s``; of a picture, where white
            ``paper`` is, x and y [px].
    """

    path: Path
    preview: bool = False
    known: Mapping[str, Any] | None = None

    def argument(self) -> str:
        """As the child reads it."""
        return json.dumps({"path": str(self.path.resolve()), "preview": self.preview, "known": self.known})


def measured(
    path: Path, cancelled: Callable[[], bool] = lambda: False, preview: bool = False, known: Mapping[str, Any] | None = None
) -> dict[str, Any]:
    """All figures of a picture, a sound or a clip, worked out in a child.

    Args:
        path, preview, known: as of a ``Job``.
        cancelled: asked again and again; the child ends as soon as it says so.

    Raises:
        Refused: if the file cannot be read, is too large, takes too long or too much memory, or the child was ended.
        OSError: if there is no such file.
    """
    [answer] = measured_all([Job(path, preview, known)], cancelled)
    if isinstance(answer, Refused):
        raise answer
    return answer


def measured_all(
    jobs: Sequence[Job], cancelled: Callable[[], bool] = lambda: False, tell: Callable[[float], None] = lambda share: None
) -> list[Answer]:
    """All figures of each file, or why there are none. One child looks at all of them; a file that ends it does not end the next.

    Args:
        jobs: the files.
        cancelled: asked again and again; what is not done then is refused as stopped.
        tell: told again and again how much of all is done, 0-1.

    Raises:
        OSError: if there is no such file.
    """
    answers: list[Answer] = []
    with _one_at_a_time:
        while len(answers) < len(jobs):
            left = list(jobs[len(answers) :])
            if cancelled():
                return answers + [Refused([STOPPED])] * len(left)
            if (size := left[0].path.stat().st_size) > MOST_BYTES:
                answers.append(Refused([Fault("", f"a file of {size / 1e9:.1f} GB", f"{MOST_BYTES / 1e9:g} GB at most")]))
                continue
            fit = next((number for number, job in enumerate(left) if job.path.stat().st_size > MOST_BYTES), len(left))
            answers += _ran(left[:fit], cancelled, partial(_tell_of_all, tell, len(answers), len(jobs)))
    return answers


def _tell_of_all(tell: Callable[[float], None], before: int, count: int, done: float) -> None:
    tell((before + done) / count)


def _ran(jobs: list[Job], cancelled: Callable[[], bool], tell: Callable[[float], None]) -> Iterator[Answer]:
    """Answers of a child as far as it comes; the last is why it was ended, if it was.

    Args:
        jobs, cancelled: as of ``measured_all``.
        tell: told again and again how many files are done, parts of them counted.
    """
    environment = {name: value for name, value in os.environ.items() if name in ("PATH", "LANG", "HOME", "PYTHONPATH", "LD_LIBRARY_PATH")}
    environment |= {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "PYTHONPATH": os.pathsep.join(sys.path)}
    command, heard = [sys.executable, "-m", "uphill_lamp.looking.child", *(job.argument() for job in jobs)], _Heard()
    child = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, stdin=subprocess.DEVNULL, env=environment)
    # It may write no file: what it says goes through a pipe, emptied while it is watched.
    reader = threading.Thread(target=heard.read, args=(child.stdout,), daemon=True)
    reader.start()
    limits_s = [MOST_CLIP_S if container_of(job.path) else MOST_S for job in jobs]
    why = _watched(child, heard, limits_s, cancelled, tell)
    reader.join(timeout=5)
    yield from heard.answers
    if len(heard.answers) < len(jobs):
        yield Refused([why or Fault("", "a file that could not be looked at to its end", "another file, or a shorter one")])


class _Heard:
    """What a child has said so far: its answers, and how much of the next one's file is done, 0-1."""

    def __init__(self) -> None:
        self.answers: list[Answer] = []
        self.share = 0.0

    def read(self, lines: Iterable[bytes]) -> None:
        """Takes its lines as they come; half a line, where it was ended in the middle, is none."""
        for line in lines:
            if not line.endswith(b"\n"):
                return
            answer = dict(json.loads(line))
            if "done" in answer:
                self.share = float(answer["done"])
                continue
            self.answers.append(Refused([Fault(*fault) for fault in answer["faults"]]) if "faults" in answer else answer)
            self.share = 0.0


def _watched(
    child: subprocess.Popen[bytes], heard: _Heard, limits_s: list[float], cancelled: Callable[[], bool], tell: Callable[[float], None]
) -> Fault | None:
    """Waits for the child, and ends it where it takes too much; why it was ended.

    Args:
        heard: what it says meanwhile.
        limits_s: how long it may take for each of its files [s].
    """
    begun_s, done = time.monotonic(), 0
    while child.poll() is None:
        if len(heard.answers) > done:
            begun_s, done = time.monotonic(), len(heard.answers)
        tell(done + heard.share)
        limit_s, why = limits_s[min(done, len(limits_s) - 1)], None
        if time.monotonic() > begun_s + limit_s:
            why = Fault("", f"a file that takes more than {limit_s:g} s to look at", "a shorter one")
        elif resident_bytes(child.pid) > MOST_RESIDENT:
            why = Fault("", "a file that takes too much memory", "a smaller one")
        elif cancelled():
            why = STOPPED
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
