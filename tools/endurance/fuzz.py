"""``./uphill fuzz --seconds N --seed S``: hostile input at every address and every reader of files, and what came of it."""

from __future__ import annotations

import argparse
import os
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

MOST_CPU_S = 2.0  # of processor time, for one answer
WORST_SHOWN = 5
TURN = 40  # cases at the addresses, then as many at the readers


@dataclass
class Told:
    """What a run of the fuzzers came to."""

    seed: int
    cases: Counter[str] = field(default_factory=Counter)
    outcomes: Counter[str] = field(default_factory=Counter)
    slowest: list[tuple[float, str]] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)

    def note(self, area: str, outcome: str, took_s: float, what: str) -> None:
        """One case: which fuzzer, how it ended, its processor time, and what was tried, so that it can be tried again."""
        self.cases[area] += 1
        self.outcomes[f"{area}: {outcome}"] += 1
        self.slowest = sorted([*self.slowest, (took_s, what)], reverse=True)[:WORST_SHOWN]
        if took_s > MOST_CPU_S:
            self.slow.append(f"{took_s:.1f} s of processor time: {what}")

    def fault(self, what: str) -> None:
        """A case that must not end so, with where it broke."""
        self.faults.append(f"{what}\n{traceback.format_exc()}" if sys.exc_info()[0] else what)

    def printed(self) -> str:
        """All of it, for a terminal."""
        lines = [f"seed {self.seed}: " + ", ".join(f"{count} cases at the {area}" for area, count in sorted(self.cases.items()))]
        lines += [f"  {outcome}: {count}" for outcome, count in sorted(self.outcomes.items())]
        lines += ["slowest, in seconds of processor time:", *(f"  {took:.2f} {what[:160]}" for took, what in self.slowest)]
        lines += [f"SLOW: {what}" for what in self.slow]
        lines += [f"FAULT: {what}" for what in self.faults]
        if not self.faults and not self.slow:
            lines.append(f"no 500, no crash, no answer over {MOST_CPU_S:g} s of processor time")
        return "\n".join(lines)


def clocked(work: Callable[[], object]) -> tuple[object, float]:
    """A piece of work's result and its processor time in this thread [s]."""
    began = time.thread_time()
    result = work()
    return result, time.thread_time() - began


def run(seed: int, goes_on: Callable[[int], bool]) -> Told:
    """Both fuzzers in turn, for as long as they are told to.

    Args:
        seed: of all that is tried; the same seed tries the same.
        goes_on: asked with the number of cases so far.
    """
    from tools.endurance.readers import Readers
    from tools.endurance.routes import Routes

    tally, chance = Told(seed), random.Random(seed)
    routes, readers = Routes(chance, tally), Readers(chance, tally)
    while goes_on(sum(tally.cases.values())):
        for turn in (routes.once, readers.once):
            for _ in range(TURN):
                if not goes_on(sum(tally.cases.values())):
                    break
                turn()
    routes.close()
    return tally


def main() -> int:
    """The command; 1 if something must be mended, else 0."""
    options = argparse.ArgumentParser(prog="uphill fuzz", description=__doc__)
    options.add_argument("--seconds", type=float, default=60.0)
    options.add_argument("--seed", type=int, default=1)
    asked = options.parse_args()
    with tempfile.TemporaryDirectory(prefix="uphill-fuzz-") as state:
        os.environ |= {"UPHILL_STATE": state, "DJANGO_SETTINGS_MODULE": "uphill_lamp.web.settings"}
        from uphill_lamp.drawings.draftsman import compile_all
        from uphill_lamp.web import heavy, running

        running.prepare()
        heavy.load()
        compile_all()  # what the first picture and the first sheet load is no answer's own time
        import weasyprint  # noqa: F401

        end = time.monotonic() + asked.seconds
        tally = run(asked.seed, lambda _: time.monotonic() < end)
    print(tally.printed())
    return 1 if tally.faults or tally.slow else 0


if __name__ == "__main__":
    sys.exit(main())
