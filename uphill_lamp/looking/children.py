"""Children that measure files: the process they are forked from, what is heard of them, and how much memory they hold."""

from __future__ import annotations

import atexit
import json
import os
import signal
import subprocess
import sys
import threading
from collections.abc import Iterable
from typing import Any

from uphill_lamp.core.document.faults import Fault, Refused

PASSED_ON = ("PATH", "LANG", "HOME", "LD_LIBRARY_PATH")  # of what surrounds this process
Answer = dict[str, Any] | Refused


class Forker:
    """The process that waits with everything imported and forks a child for each run of files; one of this process's own."""

    _kept: Forker | None = None

    def __init__(self) -> None:
        environment = {name: os.environ[name] for name in PASSED_ON if name in os.environ}
        environment |= {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "PYTHONPATH": os.pathsep.join(sys.path)}
        self._owner = os.getpid()
        # A session of its own: it is ended together with its child, and not by a key pressed at the terminal.
        self._process = subprocess.Popen(
            [sys.executable, "-m", "uphill_lamp.looking.forker"], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL, env=environment, start_new_session=True,
        )  # fmt: skip

    @classmethod
    def at_hand(cls) -> Forker:
        """The one that waits, or a new one where it has ended or belongs to the process that this one was forked from."""
        kept = cls._kept
        if kept is None or kept._owner != os.getpid() or kept._process.poll() is not None:
            cls._kept = kept = cls()
        return kept

    def asked(self, jobs: list[dict[str, Any]], heard: Heard) -> threading.Thread:
        """Hands it a run of files; what is heard of their child is read by a thread that ends with the child."""
        try:
            assert self._process.stdin
            self._process.stdin.write(json.dumps(jobs).encode() + b"\n")
            self._process.stdin.flush()
        except OSError:
            pass  # it has ended: nothing will be heard of it
        # The child may write no file: what it says goes through a pipe, emptied while it is watched.
        reader = threading.Thread(target=heard.read, args=(self._process.stdout,), daemon=True)
        reader.start()
        return reader

    def end(self) -> None:
        """Ends it with its child."""
        if self._process.poll() is None:
            os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait()

    @classmethod
    def end_kept(cls) -> None:
        """Ends the one that waits, if there is one of this process."""
        if cls._kept is not None and cls._kept._owner == os.getpid():
            cls._kept.end()
        cls._kept = None


atexit.register(Forker.end_kept)


class Heard:
    """What a child has said so far: where it runs, its answers, how much of the next one's file is done, 0-1; whether it has ended, and how
    long it worked [s]."""

    def __init__(self) -> None:
        self.pid = 0
        self.ended = False
        self.cpu_s = 0.0
        self.answers: list[Answer] = []
        self.share = 0.0

    def read(self, lines: Iterable[bytes]) -> None:
        """Takes its lines as they come, until it has ended; half a line, where it was ended in the middle, is none."""
        for line in lines:
            try:
                answer = json.loads(line)
            except ValueError:
                continue
            if not isinstance(answer, dict):
                continue
            if "ended" in answer:
                self.ended, self.cpu_s = True, float(answer["cpu_s"])
                return
            if "child" in answer:
                self.pid = int(answer["child"])
            elif "done" in answer:
                self.share = float(answer["done"])
            else:
                self.answers.append(Refused([Fault(*fault) for fault in answer["faults"]]) if "faults" in answer else answer)
                self.share = 0.0


def resident_bytes(pid: int) -> int:
    """How much memory a process holds; 0 where that is not told."""
    try:
        with open(f"/proc/{pid}/statm", encoding="ascii") as counts:
            return int(counts.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, IndexError, ValueError):
        return 0
