"""Ladders worked out in a thread beside the pages: progress told, stopped on wish, kept by what they were worked out from."""

from __future__ import annotations

import threading
from collections import OrderedDict, deque
from dataclasses import dataclass, field

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document import applied
from uphill_lamp.core.steps.ladder import Ladder, climbed
from uphill_lamp.core.steps.table import Cancelled
from uphill_lamp.web.memory import give_back
from uphill_lamp.web.setups.documents import appraised, digest_of, text_of

MOST_KEPT = 12
LOOKS_S = 0.1  # so often a job that waits for its turn looks whether it is still wanted
MOST_WAITING = 2  # requests that may wait for steps at the same time
Key = tuple[object, ...]


@dataclass
class Job:
    """A ladder being worked out, or worked out, or stopped."""

    key: Key
    owner: int = 0  # the setup whose steps these are
    queued: bool = True  # while another setup's are being worked out
    done: int = 0
    total: int = 0
    ladder: Ladder | None = None
    failed: str = ""
    _stop: threading.Event = field(default_factory=threading.Event)
    _ended: threading.Event = field(default_factory=threading.Event)

    @property
    def share(self) -> float:
        """How far it is, 0-1."""
        return self.done / self.total if self.total else 0.0

    @property
    def running(self) -> bool:
        """Whether it goes on; one that was stopped does not, though its thread may take a moment to notice."""
        return not self._ended.is_set() and not self._stop.is_set()

    @property
    def stopped(self) -> bool:
        return self._stop.is_set() and self.ladder is None

    def given_up(self) -> bool:
        """Ends a job that was stopped before it was begun; whether it was."""
        if self._stop.is_set():
            self._ended.set()
        return self._ended.is_set()

    def stop(self) -> None:
        """No longer wanted."""
        self._stop.set()

    def wait(self, seconds: float) -> bool:
        """Waits for the end, unless as many wait already as may; whether it has come."""
        if not _waiting.acquire(blocking=False):
            return self._ended.is_set()
        try:
            return self._ended.wait(seconds)
        finally:
            _waiting.release()

    def work(self, appraisal: Appraisal, limit: float) -> None:
        """Works the ladder out, and appraises what each rung leads to, so that its picture can be asked for."""

        def told(done: int, total: int) -> None:
            self.done, self.total = done, total

        self.queued = False
        try:
            ladder = climbed(appraisal, limit, told, self._stop.is_set)
            for number in range(len(ladder.rungs)):
                reached(appraisal, ladder, number)
            self.ladder = ladder
        except Cancelled:
            pass
        finally:  # a thread has nobody above it: what goes wrong here is printed by Python, and told on the page
            give_back()
            self.failed = "" if self.ladder or self._stop.is_set() else "Something of ours went wrong while the steps were worked out."
            self._ended.set()


_jobs: OrderedDict[Key, Job] = OrderedDict()
_lock = threading.Lock()
_line: deque[Job] = deque()  # one ladder at a time, in the order they were asked for
_turn = threading.Condition()
_waiting = threading.BoundedSemaphore(MOST_WAITING)


def job_for(appraisal: Appraisal, limit: float, stamp: tuple[object, ...], again: bool = False, owner: int = 0) -> Job:
    """The job of a document, started if there is none; ``again`` starts one that was stopped. A newer wish of the same setup
    stops the one before; other setups' are waited for. Another budget is the same job, as long as
    as much money is looked at."""
    wishes = appraisal.setup.preferences.model_copy(update={"budget": 0.0})
    key = digest_of(text_of(appraisal.setup.model_copy(update={"preferences": wishes, "origins": {}}))), limit, stamp
    with _lock:
        job = _jobs.get(key)
        if job is not None and not (again and (job.stopped or job.failed)):
            _jobs.move_to_end(key)
            return job
        for other in _jobs.values():
            if other.running and other.owner == owner:
                other.stop()
        job = _jobs[key] = Job(key, owner)
        while len(_jobs) > MOST_KEPT:
            _jobs.popitem(last=False)
    there = catalogue()  # looked up here: the thread has no business with the database

    def run() -> None:
        try:
            with using(there):
                if _has_its_turn(job):
                    job.work(appraisal, limit)
        finally:
            with _turn:
                _line.remove(job)
                _turn.notify_all()

    with _turn:
        _line.append(job)
    threading.Thread(target=run, daemon=True, name="ladder").start()
    return job


def _has_its_turn(job: Job) -> bool:
    """Waits until all that were asked for before have ended; False for a job that was stopped meanwhile."""
    with _turn:
        while not job.given_up():
            if _line[0] is job:
                return True
            _turn.wait(LOOKS_S)
    return False


def reached(appraisal: Appraisal, ladder: Ladder, number: int) -> tuple[str, Appraisal]:
    """Digest and appraisal of the setup as a rung leaves it.

    Raises:
        Refused: if it cannot be saved so, which the ladder has ruled out.
    """
    patch = [operation for action in ladder.rungs[number].chosen for operation in action.patch]
    document = applied(appraisal.setup, patch)
    return appraised(text_of(document), appraisal, document)


def forget() -> None:
    """Stops and forgets every job, for tests."""
    with _lock:
        for job in _jobs.values():
            job.stop()
        _jobs.clear()
