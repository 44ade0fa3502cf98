"""A process of its own that draws pictures while the app answers: setup documents in, JPEG files out, over its own pipes.

    python -m uphill_lamp.drawings.draftsman [PARENT]   draws until its input ends, or the process PARENT does
    python -m uphill_lamp.drawings.draftsman compile FILE ...    compiles what it draws with, once per machine; the files are
                                                                 setups that have everything in view that may be

Each wish is four numbers (width in px, bytes that follow, metered luminance in cd/m2, face error in stops) and a document;
each answer is a number of bytes and the file, 0 bytes for a document that cannot be drawn. It ends when its input does, so nothing is left
behind however the app ends;
while it loads, which takes seconds, it looks for that process.
"""

from __future__ import annotations

import os
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Iterable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import BinaryIO, get_args

from uphill_lamp import at_start
from uphill_lamp.core.field.camera.metering import Metered

LOOKS_S = 0.5
READY = b"!"  # first of all, once everything is loaded
WISH, ANSWER = struct.Struct("<IIdd"), struct.Struct("<I")


def draw_for_ever(wishes: BinaryIO, answers: BinaryIO) -> None:
    """Answers wishes until there are no more."""
    from pydantic import ValidationError

    from uphill_lamp.core.document import Setup
    from uphill_lamp.core.document.quickstart import setup_from_answers
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of
    from uphill_lamp.drawings.far_side.render import columns_of, rendered

    # What is imported late, the sun above all, is imported now.
    rendered(lit_scene_of(setup_from_answers({})), Metered(1.0, 0.0), Pace.WIDTHS_PX[-1], draft=True).jpeg()
    answers.write(READY)
    answers.flush()
    while len(head := wishes.read(WISH.size)) == WISH.size:
        columns, size, mean_cd_m2, error_stops = WISH.unpack(head)
        try:
            setup = Setup.model_validate_json(wishes.read(size))  # the app has checked it already
            picture = rendered(lit_scene_of(setup), Metered(mean_cd_m2, error_stops), columns_of(setup, columns), draft=True).jpeg()
        except ValidationError:
            picture = b""
        answers.write(ANSWER.pack(len(picture)) + picture)
        answers.flush()


class Pace:
    """How wide drafts are drawn so that they keep up with a hand: narrower on a slow or busy machine, full width on a quick one."""

    WIDTHS_PX = (320, 256, 208, 160)
    FIRST = 2
    SLOW_S, QUICK_S = 0.060, 0.035  # ten a second leave 100 ms, and the page and its figures need most of it

    def __init__(self) -> None:
        self._step = self.FIRST  # a hand that begins to drag must not wait for the width to be found out

    @property
    def columns(self) -> int:
        """Width of the next draft [px]."""
        return self.WIDTHS_PX[self._step]

    def took(self, seconds: float) -> None:
        """Learns from the last draft, a step at a time."""
        step = self._step + (seconds > self.SLOW_S) - (seconds < self.QUICK_S)
        self._step = min(max(step, 0), len(self.WIDTHS_PX) - 1)


class Draftsman:
    """The app's end of the pipes. Where the process does not answer, the caller draws by itself."""

    READY_S = 20.0  # a process that has just been started may take so long on a slow machine

    def __init__(self) -> None:
        self.pace = Pace()
        self._beside = ThreadPoolExecutor(max_workers=1, thread_name_prefix="draft")
        self._first = ThreadPoolExecutor(max_workers=1, thread_name_prefix="first draft")
        self._lock = threading.Lock()
        self._ready = threading.Event()
        self._process: subprocess.Popen[bytes] | None = None

    def picture(self, document: bytes, metered: Metered, columns: int, wait_s: float = 0.0) -> bytes | None:
        """A picture as a JPEG file; None while the process is not there yet, is busy or has failed.

        Args:
            document: a setup, as it is stored.
            metered: what its camera makes of it.
            columns: width [px].
            wait_s: how long to wait for a process that is getting ready or busy [s].
        """
        if not self._lock.acquire(timeout=wait_s):
            return None
        try:
            return self._asked(document, metered, columns) if self._running(wait_s) else None
        except (OSError, struct.error):
            self._process = None
            return None
        finally:
            self._lock.release()

    def begin(self, document: bytes, metered: Metered) -> Future[bytes | None]:
        """Has a draft drawn while the caller goes on."""
        return self._beside.submit(self.draft, document, metered)

    def meet(self, document: bytes, metered: Metered) -> None:
        """Has the process get to know a setup as soon as it is ready, so that the first draft of it need not wait."""
        self._first.submit(self.draft, document, metered, self.READY_S)

    def draft(self, document: bytes, metered: Metered, wait_s: float = 0.0) -> bytes | None:
        """A picture for while something is dragged, as wide as this machine draws it in time; None as for ``picture``."""
        began = time.perf_counter()
        drawn = self.picture(document, metered, self.pace.columns, wait_s)
        if drawn and not wait_s:  # what was waited for tells nothing of the pace
            self.pace.took(time.perf_counter() - began)
        return drawn

    def start(self) -> None:
        """Starts the process, so that the first picture need not wait for it."""
        with self._lock:
            self._running()

    def _asked(self, document: bytes, metered: Metered, columns: int) -> bytes | None:
        process = self._process
        assert process is not None and process.stdin is not None and process.stdout is not None
        process.stdin.write(WISH.pack(columns, len(document), metered.mean_cd_m2, metered.error_stops) + document)
        process.stdin.flush()
        (size,) = ANSWER.unpack(process.stdout.read(ANSWER.size))
        return process.stdout.read(size) or None

    def _running(self, wait_s: float = 0.0) -> bool:
        """Whether the process is there and ready, in so many seconds; starts it if it is not there."""
        if self._process is None or self._process.poll() is not None:
            self._ready.clear()
            command = [sys.executable, "-m", "uphill_lamp.drawings.draftsman", str(os.getpid())]
            self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
            threading.Thread(target=self._await, args=(self._process,), daemon=True).start()
        return self._ready.wait(wait_s)

    def _await(self, process: subprocess.Popen[bytes]) -> None:
        assert process.stdout is not None
        if process.stdout.read(1) == READY:
            self._ready.set()


def _end_with(parent: int) -> None:
    """Ends this process once the one that started it is gone."""

    def look() -> None:
        while os.getppid() == parent:
            time.sleep(LOOKS_S)
        os._exit(0)

    threading.Thread(target=look, daemon=True).start()


def compile_all(files: Iterable[Path] = ()) -> None:
    """Draws once whatever takes long the first time, so that all that is compiled and worked out for it is there from now on:
    setups of the quick start, and those in the files (lamps in view and other devices have loops of their own)."""
    from uphill_lamp.core.document import Setup
    from uphill_lamp.core.document.people import Presenter
    from uphill_lamp.core.document.quickstart import setup_from_answers
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of
    from uphill_lamp.drawings.far_side.render import FULL_COLUMNS, rendered
    from uphill_lamp.drawings.figure.fitted import Look, average_of
    from uphill_lamp.drawings.figure.surround import openness

    setups = [setup_from_answers({}), setup_from_answers({"window": "front", "when": "bright"})]
    setups += [Setup.model_validate_json(file.read_bytes()) for file in files]
    for setup in setups:
        for columns, draft in ((Pace.WIDTHS_PX[0], True), (FULL_COLUMNS, False)):
            rendered(lit_scene_of(setup), Metered(1.0, 0.0), columns, draft)
    fields = Presenter.model_fields
    for hair in get_args(fields["hair"].annotation):
        for posture in get_args(fields["posture"].annotation):
            openness(average_of(Look(hair, posture, hat=False, brim_m=0.0, light=True)))


if __name__ == "__main__":
    at_start.prepare()
    if sys.argv[1:2] == ["compile"]:
        compile_all(Path(name) for name in sys.argv[2:])
        sys.exit(0)
    if sys.argv[1:]:
        _end_with(int(sys.argv[1]))
    try:
        draw_for_ever(sys.stdin.buffer, sys.stdout.buffer)
    except (KeyboardInterrupt, BrokenPipeError):
        sys.exit(0)
