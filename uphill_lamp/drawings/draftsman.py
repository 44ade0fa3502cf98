"""A process of its own that draws pictures while the app answers: setup documents in, JPEG files out, over its own pipes.

    python -m uphill_lamp.drawings.draftsman

Each wish is four numbers (width in px, bytes that follow, metered luminance in cd/m2, face error in stops) and a document;
each answer is a number of bytes and the file, 0 bytes for a document that cannot be drawn. It ends when its input does, so nothing is left behind however the app ends.
"""

from __future__ import annotations

import struct
import subprocess
import sys
import threading
from typing import BinaryIO

from uphill_lamp.core.light.metering import Metered

READY = b"!"  # first of all, once everything is loaded
WISH, ANSWER = struct.Struct("<IIdd"), struct.Struct("<I")


def draw_for_ever(wishes: BinaryIO, answers: BinaryIO) -> None:
    """Answers wishes until there are no more."""
    from pydantic import ValidationError

    from uphill_lamp.core.document import Setup
    from uphill_lamp.core.document.quickstart import setup_from_answers
    from uphill_lamp.core.light.falling import falling_of
    from uphill_lamp.drawings.far_side.render import rendered

    rendered(falling_of(setup_from_answers({})), Metered(1.0, 0.0), 64).jpeg()  # what is imported late, the sun above all, is imported now
    answers.write(READY)
    answers.flush()
    while len(head := wishes.read(WISH.size)) == WISH.size:
        columns, size, mean_cd_m2, error_stops = WISH.unpack(head)
        try:
            setup = Setup.model_validate_json(wishes.read(size))  # the app has checked it already
            picture = rendered(falling_of(setup), Metered(mean_cd_m2, error_stops), columns).jpeg()
        except ValidationError:
            picture = b""
        answers.write(ANSWER.pack(len(picture)) + picture)
        answers.flush()


class Draftsman:
    """The app's end of the pipes. Where the process does not answer, the caller draws by itself."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._ready = threading.Event()
        self._process: subprocess.Popen[bytes] | None = None

    def picture(self, document: bytes, metered: Metered, columns: int) -> bytes | None:
        """A picture as a JPEG file; None while the process is not there yet, is busy or has failed.

        Args:
            document: a setup, as it is stored.
            metered: what its camera makes of it.
            columns: width [px].
        """
        if not self._lock.acquire(blocking=False):
            return None
        try:
            return self._asked(document, metered, columns) if self._running() else None
        except (OSError, struct.error):
            self._process = None
            return None
        finally:
            self._lock.release()

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

    def _running(self) -> bool:
        """Whether the process is there and ready; starts it if it is not there."""
        if self._process is None or self._process.poll() is not None:
            self._ready.clear()
            command = [sys.executable, "-m", "uphill_lamp.drawings.draftsman"]
            self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
            threading.Thread(target=self._await, args=(self._process,), daemon=True).start()
        return self._ready.is_set()

    def _await(self, process: subprocess.Popen[bytes]) -> None:
        assert process.stdout is not None
        if process.stdout.read(1) == READY:
            self._ready.set()


if __name__ == "__main__":
    try:
        draw_for_ever(sys.stdin.buffer, sys.stdout.buffer)
    except (KeyboardInterrupt, BrokenPipeError):
        sys.exit(0)
