"""What the log teaches: how long lines really take, what keeps going wrong, what is never used (docs/method/go.md, "Log")."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import median

LATELY, OFTEN, OF_LAST = 5, 3, 10
FIGURES = re.compile(r"\([^)]*\d[^)]*\)|[-+−]?\d+(?:[.,]\d+)?")


@dataclass(frozen=True)
class Use:
    """One call or recording as it went: day, whether it went well, what went wrong (ids of findings, or words), takes that were done
    again, minutes until ready, seconds by line of the run sheet, paths of devices that were there and not used, a line of one's own."""

    day: date
    well: bool
    wrong: tuple[str, ...] = ()
    retakes: int = 0
    ready_min: float | None = None
    seconds: Mapping[str, float] | None = None
    unused: tuple[str, ...] = ()
    words: str = ""


def times_s(uses: Sequence[Use]) -> dict[str, float]:
    """How long each line takes: the median of the last five times that it was timed, by its id [s].

    Args:
        uses: oldest first.
    """
    timed: dict[str, list[float]] = {}
    for use in uses:
        for line, seconds in (use.seconds or {}).items():
            timed.setdefault(line, []).append(seconds)
    return {line: median(seconds[-LATELY:]) for line, seconds in timed.items()}


def ready_lately_min(uses: Sequence[Use]) -> float | None:
    """Minutes until ready: the median of the last five uses that were timed; None where none was."""
    timed = [use.ready_min for use in uses if use.ready_min is not None]
    return median(timed[-LATELY:]) if timed else None


def went_wrong(uses: Sequence[Use]) -> tuple[tuple[str, int], ...]:
    """What went wrong in the last ten uses, in its newest words, with how often, most often first.

    Words that differ in their figures alone tell of the same.
    """
    lately = uses[-OF_LAST:]
    words = {plain(wrong): wrong for use in lately for wrong in use.wrong}
    counts = Counter(wrong for use in lately for wrong in dict.fromkeys(plain(wrong) for wrong in use.wrong))
    return tuple((words[wrong], times) for wrong, times in counts.most_common())


def keeps_going_wrong(uses: Sequence[Use]) -> tuple[tuple[str, int], ...]:
    """What went wrong three times and more in the last ten uses, most often first."""
    return tuple((wrong, times) for wrong, times in went_wrong(uses) if times >= OFTEN)


def plain(words: str) -> str:
    """What went wrong without its figures: they differ from one time to the next."""
    return " ".join(FIGURES.sub("", words).split()).lower()


def never_used(uses: Sequence[Use], devices: Sequence[str]) -> tuple[str, ...]:
    """Devices that were not used in any of the last ten uses, of which there must be ten; they can stay at home."""
    lately = uses[-OF_LAST:]
    return tuple(device for device in devices if len(lately) == OF_LAST and all(device in use.unused for use in lately))
