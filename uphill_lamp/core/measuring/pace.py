"""Where speech begins and ends, and how fast it is."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.levels import frame_powers, frame_size

STEP_S = 0.01
OVER_NOISE, UNDER_LOUD = 10**0.9, 10**-3.2
LEAST_S, BRIDGED_S = 0.08, 0.6  # shorter bursts are no speech; shorter gaps belong to it
CLAP_S, RINGS_S = (0.03, 0.6), 5.0  # so long before and after a clap it is heard, and as long as it rings, up to so long
SYLLABLES = 1.1  # peaks miss every tenth syllable
SYLLABLES_PER_WORD = 1.25  # of plain English as it is spoken
SLOW, PROMINENT_DB = 0.05, 2.0


@dataclass(frozen=True, eq=False)
class Steps:
    """A recording in steps of 10 ms: when each begins [s] and lasts [s], and what its mean square is, all shape (S,) but how long one is."""

    times_s: FloatArray
    each_s: float
    powers: FloatArray

    def within(self, begin_s: float, end_s: float) -> NDArray[np.bool_]:
        """Which steps lie between two times."""
        middle = self.times_s + self.each_s / 2
        return np.asarray((middle >= begin_s) & (middle < end_s))


def steps_of(mono: FloatArray, sample_hz: int, begin_s: float = 0.0) -> Steps:
    """Samples in steps, shape (N,), the first at a time."""
    powers, each_s = frame_powers(mono, sample_hz, STEP_S), frame_size(sample_hz, STEP_S) / sample_hz
    return Steps(begin_s + each_s * np.arange(len(powers)), each_s, powers)


def joined(parts: Sequence[Steps]) -> Steps:
    """Steps one after another."""
    return Steps(np.concatenate([part.times_s for part in parts]), parts[0].each_s, np.concatenate([part.powers for part in parts]))


def speech_span_s(steps: Steps, noise: float, without: Iterable[tuple[float, float]] = ()) -> tuple[float, float] | None:
    """When speech begins and ends [s]; None where there is none.

    Args:
        noise: its power.
        without: spans that are no speech [s].
    """
    loud = float(np.quantile(steps.powers, 0.95)) if len(steps.powers) else 0.0
    there = steps.powers > max(OVER_NOISE * noise, UNDER_LOUD * loud, 1e-12)
    for begin, end in without:
        there &= ~steps.within(begin, end)
    edges = np.flatnonzero(np.diff(np.r_[0, there.astype(np.int8), 0]))
    spans = [(begin, end) for begin, end in zip(edges[::2], edges[1::2], strict=True) if (end - begin) * STEP_S >= LEAST_S]
    if not spans:
        return None
    return float(steps.times_s[spans[0][0]]), float(steps.times_s[spans[-1][1] - 1]) + steps.each_s


def clap_spans_s(steps: Steps, noise: float, claps: Iterable[float]) -> list[tuple[float, float]]:
    """From each clap to where what rings after it drowns in the noise [s]."""
    there, spans = np.convolve(steps.powers, np.full(5, 0.2), "same") > OVER_NOISE * noise, []
    for clap in claps:
        after = there[steps.within(clap + CLAP_S[1], clap + RINGS_S)]
        spans.append((max(clap - CLAP_S[0], 0.0), clap + CLAP_S[1] + steps.each_s * float(np.argmin(np.r_[after, False]))))
    return spans


def voiced(mono: FloatArray, sample_hz: int) -> FloatArray:
    """What of a signal tells syllables: 300 to 3400 Hz, nothing shifted in time, shape (N,)."""
    from scipy.signal import butter, sosfiltfilt

    high = min(3400.0, 0.45 * sample_hz)
    return np.asarray(sosfiltfilt(butter(2, (300.0, high), "bandpass", fs=sample_hz, output="sos"), mono))


def words_a_minute(voice: Steps, span: tuple[float, float]) -> float | None:
    """Pace from the peaks of the envelope of what is ``voiced``, one a syllable; None for less than 2 s."""
    from scipy.signal import find_peaks

    if span[1] - span[0] < 2.0:
        return None
    width = round(SLOW / STEP_S)
    smooth = np.convolve(voice.powers[voice.within(*span)], np.hanning(2 * width + 1) / width, "same")
    level = 10 * np.log10(np.maximum(smooth, 1e-12))
    peaks, _ = find_peaks(level, prominence=PROMINENT_DB, height=float(level.max()) - 25)
    syllables = SYLLABLES * len(peaks)
    return float(syllables / SYLLABLES_PER_WORD / (span[1] - span[0]) * 60)
