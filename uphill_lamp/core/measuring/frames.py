"""When the pictures of a clip come: their rate, those that never came, those that show what was there already."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray

LATE = 1.6  # of the usual time between pictures: from here on at least one is missing
NOTHING_NEW = 0.02  # of 255, on average: less is the same picture once more
SAME_SHARE, SAME_LEVEL = 0.3, 0.8  # of what usually changes, and of 255: packed anew, the same picture changes by less than both


@dataclass(frozen=True)
class Rate:
    """Pictures a second, how many never came, and how many stood still."""

    fps: float
    dropped: int
    frozen: int


def rate_of(times_s: FloatArray, changes: FloatArray) -> Rate | None:
    """How regularly pictures come; None for fewer than three.

    Args:
        times_s: when each is shown, rising, shape (N,) [s].
        changes: how far each one's pixels differ from the one before on average, shape (N,) [of 255]; the first counts for nothing.
    """
    if len(times_s) < 3:
        return None
    gaps = np.diff(times_s)
    usual = float(np.median(gaps))
    if usual <= 0:
        return None
    steady = gaps[gaps < LATE * usual]
    late = gaps[gaps >= LATE * usual]
    dropped = int(np.round(late / float(steady.mean()) - 1).sum()) if len(late) else 0
    same = min(max(SAME_SHARE * float(np.median(changes[1:])), NOTHING_NEW), SAME_LEVEL)
    return Rate(1 / float(steady.mean()), dropped, int((changes[1:] < same).sum()))


def held_share(values: FloatArray, times_s: FloatArray, over_s: float) -> FloatArray:
    """A running mean over so many seconds, one value for each there is, shape (N,); the ends have fewer to go by."""
    if not len(values):
        return values
    sums = np.concatenate([[0.0], np.cumsum(values)])
    first = np.searchsorted(times_s, times_s - over_s / 2 - 1e-9)
    last = np.searchsorted(times_s, times_s + over_s / 2 + 1e-9)
    return np.asarray((sums[last] - sums[first]) / np.maximum(last - first, 1))
