"""Files measured in a child of its own, one at a time, watched and ended when it takes too much."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.looking.children import Answer, Forker, Heard, resident_bytes
from uphill_lamp.looking.decoding import container_of

MOST_RESIDENT, MOST_S, MOST_CLIP_S, STEP_S = 500_000_000, 240.0, 450.0, 0.05
MOST_BYTES = 2_000_000_000
STOPPED = Fault("", "stopped", "")
_one_at_a_time = threading.Lock()


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

    def data(self) -> dict[str, Any]:
        """As the child reads it."""
        return {"path": str(self.path.resolve()), "preview": self.preview, "known": self.known}


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
    limits_s = [MOST_CLIP_S if container_of(job.path) else MOST_S for job in jobs]
    heard, why = Heard(), None
    for _ in range(2):  # a process that waited may just have ended for want of work
        forker = Forker.at_hand()
        reader = forker.asked([job.data() for job in jobs], heard)
        why = _watched(forker, reader, heard, limits_s, cancelled, tell)
        if not heard.ended:  # whatever was said meanwhile: nothing of it is to be taken for the next run's
            forker.end()
        if why or heard.pid:
            break
    yield from heard.answers
    if len(heard.answers) < len(jobs):
        yield Refused([why or Fault("", "a file that could not be looked at to its end", "another file, or a shorter one")])


def _watched(
    forker: Forker,
    reader: threading.Thread,
    heard: Heard,
    limits_s: list[float],
    cancelled: Callable[[], bool],
    tell: Callable[[float], None],
) -> Fault | None:
    """Waits until a child has ended, and ends it where it takes too much; why it was ended.

    Args:
        forker, reader: where it came from, and the thread that ends with it.
        heard: what it says meanwhile.
        limits_s: how long it may take for each of its files [s].
    """
    begun_s, done = time.monotonic(), 0
    while reader.is_alive():
        if len(heard.answers) > done:
            begun_s, done = time.monotonic(), len(heard.answers)
        tell(done + heard.share)
        limit_s, why = limits_s[min(done, len(limits_s) - 1)], None
        if time.monotonic() > begun_s + limit_s:
            why = Fault("", f"a file that takes more than {limit_s:g} s to look at", "a shorter one")
        elif heard.pid and resident_bytes(heard.pid) > MOST_RESIDENT:
            why = Fault("", "a file that takes too much memory", "a smaller one")
        elif cancelled():
            why = STOPPED
        if why:
            forker.end()
            reader.join()
            return why
        reader.join(STEP_S)
    return None
