"""``python -m uphill_lamp.looking.forker``: a process that has everything imported that measuring needs, and forks a child for each run of files.

To import it all takes as long as to measure a picture, so it is done once and not for every file. This process never opens what
somebody sent: it reads the jobs of a run, a line of JSON, and the child that it forks keeps the limits and ends with the run. Both speak
through standard output, a line of JSON each: the child's place among processes (``child``), its answers, and how it ended (``ended``,
``cpu_s``). It ends by itself when nobody has asked for long, or when who started it is gone.
"""

from __future__ import annotations

import gc
import importlib
import json
import os
import select
import sys
from typing import Any

from uphill_lamp import at_start

IDLE_S = 300.0
FAILED = 70
NEEDED = (
    "av", "cv2", "PIL.Image", "PIL.JpegImagePlugin", "scipy.fft", "scipy.ndimage", "scipy.signal", "soundfile",
    "uphill_lamp.core.check.paper", "uphill_lamp.core.check.tone", "uphill_lamp.core.measuring.clip", "uphill_lamp.core.measuring.sound",
    "uphill_lamp.core.measuring.still", "uphill_lamp.looking.child", "uphill_lamp.looking.clips", "uphill_lamp.looking.decoding",
    "uphill_lamp.looking.faces", "uphill_lamp.looking.marks", "uphill_lamp.looking.segments",
)  # fmt: skip


def main() -> int:
    """Forks a child for each line that comes, one after another, until none comes any more."""
    at_start.prepare()
    for name in NEEDED:
        importlib.import_module(name)
    from uphill_lamp.looking import faces

    faces.read_nets()
    gc.freeze()  # what is here stays, in the children too
    with open(0, "rb", buffering=0, closefd=False) as asked:
        while select.select([asked], [], [], IDLE_S)[0] and (line := asked.readline()).endswith(b"\n"):
            _forked(json.loads(line))
    return 0


def _forked(jobs: list[dict[str, Any]]) -> None:
    """Lets a child do the jobs, and tells how it ended and how long it worked [s]."""
    pid = os.fork()
    if not pid:
        _child(jobs)
    _, status, used = os.wait4(pid, 0)
    # A line of its own, should the child have been ended in the middle of one.
    sys.stdout.write("\n")
    say({"ended": os.waitstatus_to_exitcode(status), "cpu_s": round(used.ru_utime + used.ru_stime, 3)})


def _child(jobs: list[dict[str, Any]]) -> None:
    from uphill_lamp.looking import child

    status = FAILED
    try:
        with open(os.devnull, "rb") as nothing:
            os.dup2(nothing.fileno(), 0)  # what is asked next is not for the child
        say({"child": os.getpid()})
        child.work(jobs, say)
        status = 0
    finally:
        os._exit(status)


def say(line: dict[str, Any]) -> None:
    """Prints a line of JSON at once."""
    sys.stdout.write(json.dumps(line) + "\n")
    sys.stdout.flush()


if __name__ == "__main__":
    sys.exit(main())
