"""Where speech begins and ends, and how fast it is."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.levels import frame_powers

STEP_S = 0.01
OVER_NOISE, UNDER_LOUD = 10**0.9, 10**-3.2
LEAST_S, BRIDGED_S = 0.08, 0.6  # shorter bursts are no speech; shorter gaps belong to it
CLAP_S, RINGS_S = (0.03, 0.6), 5.0  # so long before and after a clap it is heard, and as long as it rings, up to so long
SYLLABLES = 1.1  # peaks miss every tenth syllable
SYLLABLES_PER_WORD = 1.25  # of plain English as it is spoken
SLOW, PROMINENT_DB = 0.05, 2.0


def speech_span_s(
    mono: FloatArray, sample_hz: int, noise: float, without: Iterable[tuple[float, float]] = ()
) -> tuple[float, float] | None:
    """When speech begins and ends [s]; None where there is none.

    Args:
        noise: its power.
        without: spans that are no speech [s].
    """
    powers = frame_powers(mono, sample_hz, STEP_S)
    loud = float(np.quantile(powers, 0.95)) if len(powers) else 0.0
    there = powers > max(OVER_NOISE * noise, UNDER_LOUD * loud, 1e-12)
    for begin, end in without:
        there[round(begin / STEP_S) : round(end / STEP_S)] = False
    edges = np.flatnonzero(np.diff(np.r_[0, there.astype(np.int8), 0]))
    spans = [(begin, end) for begin, end in zip(edges[::2], edges[1::2], strict=True) if (end - begin) * STEP_S >= LEAST_S]
    if not spans:
        return None
    return spans[0][0] * STEP_S, spans[-1][1] * STEP_S


def clap_spans_s(mono: FloatArray, sample_hz: int, noise: float, claps: Iterable[float]) -> list[tuple[float, float]]:
    """From each clap to where what rings after it drowns in the noise [s]."""
    powers = np.convolve(frame_powers(mono, sample_hz, STEP_S), np.full(5, 0.2), "same")
    there, spans = powers > OVER_NOISE * noise, []
    for clap in claps:
        after = there[round((clap + CLAP_S[1]) / STEP_S) : round((clap + RINGS_S) / STEP_S)]
        spans.append((max(clap - CLAP_S[0], 0.0), clap + CLAP_S[1] + STEP_S * float(np.argmin(np.r_[after, False]))))
    return spans


def words_a_minute(mono: FloatArray, sample_hz: int, span: tuple[float, float]) -> float | None:
    """Pace from the peaks of the voice's envelope, one a syllable; None for less than 2 s."""
    from scipy.signal import butter, find_peaks, sosfiltfilt

    begin, end = (round(at * sample_hz) for at in span)
    if span[1] - span[0] < 2.0:
        return None
    high = min(3400.0, 0.45 * sample_hz)
    voice = sosfiltfilt(butter(2, (300.0, high), "bandpass", fs=sample_hz, output="sos"), mono[begin:end])
    powers = frame_powers(voice, sample_hz, STEP_S)
    width = round(SLOW / STEP_S)
    level = 10 * np.log10(np.maximum(np.convolve(powers, np.hanning(2 * width + 1) / width, "same"), 1e-12))
    peaks, _ = find_peaks(level, prominence=PROMINENT_DB, height=float(level.max()) - 25)
    syllables = SYLLABLES * len(peaks)
    return float(syllables / SYLLABLES_PER_WORD / (span[1] - span[0]) * 60)
