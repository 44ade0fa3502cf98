"""What is broken in a recording: clipping, pops of breath, dead or doubled channels, a narrow line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.levels import frame_powers

LEAST_RUN, AT_PEAK = 3, 4e-5  # samples one after another that lie within this of their own peak are cut off
LEAST_CLIPPED, LEAST_RUNS = 6, 2
DEAD_DBFS, ALIKE = -80.0, 0.999
POP_HZ, ABOVE_HZ = (20.0, 70.0), (90.0, 250.0)
POP_STEP_S, POP_OVER_REST, POP_OVER_ABOVE, POP_OVER_LEVEL = 0.01, 8.0, 1.0, 0.05  # powers against powers
APART_S, FILTER_S = 0.15, 0.02  # so much before a burst a filter that shifts nothing begins to ring
KEY_HZ, VOICED_HZ, KEY_STEP_S = 3500.0, (120.0, 1000.0), 0.005
KEY_OVER_REST, KEY_OVER_BEFORE, KEY_OVER_QUIET = 30.0, 8.0, 12.0  # powers against powers
KEY_GONE_S, KEY_NEAR_S, KEY_APART_S = 0.06, 0.2, 0.06
EDGE_FALL_DB, EDGE_WIDE_HZ, EDGE_LEAST_HZ = 40.0, 400.0, 1500.0
BINS = 2048  # of a spectrum


@dataclass(frozen=True)
class Highest:
    """The highest value of a channel of a piece of a recording, and the lengths of the runs of three and more samples that stand there."""

    peak: float
    runs: tuple[int, ...]


def highest_of(samples: FloatArray) -> list[Highest]:
    """The highest value of each channel of (N, channels) and, of the channel upside down, the lowest."""
    return [_highest(side) for channel in samples.T for side in (channel, -channel)]


def _highest(side: FloatArray) -> Highest:
    peak = float(side.max(initial=0.0))
    runs = _runs(side >= peak - AT_PEAK) if peak > 1e-3 else np.zeros(0, np.int64)
    return Highest(peak, tuple(runs[runs >= LEAST_RUN].tolist()))


def clipped_samples(pieces: Sequence[Sequence[Highest]]) -> int:
    """How many samples of a recording stand in runs of three or more at the highest or the lowest value of their channel.

    Args:
        pieces: as ``highest_of`` tells of each piece, all of as many channels.
    """
    count = 0
    for sides in zip(*pieces, strict=True):
        peak = max(side.peak for side in sides)
        runs = [run for side in sides if side.peak >= peak - AT_PEAK for run in side.runs]
        count += sum(runs) if len(runs) >= LEAST_RUNS and sum(runs) >= LEAST_CLIPPED else 0
    return count


def _runs(there: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Lengths of the runs of what is true."""
    edges = np.flatnonzero(np.diff(np.r_[0, there.astype(np.int8), 0]))
    return np.asarray(edges[1::2] - edges[::2])


def dead_channels(powers: FloatArray) -> list[int]:
    """Which channels carry nothing while another does, by their mean squares (channels,); counted from 1."""
    loudest = float(powers.max(initial=0.0))
    if len(powers) < 2 or loudest <= 1e-12:
        return []
    return [index + 1 for index, power in enumerate(powers) if power < max(10 ** (DEAD_DBFS / 10), 1e-5 * loudest)]


def is_doubled(products: FloatArray) -> bool:
    """Whether two channels carry the same, one microphone written twice, by the means of what they are times one another (2, 2)."""
    if products.shape != (2, 2) or dead_channels(np.diag(products)):
        return False
    both = float(np.sqrt(products[0, 0] * products[1, 1]))
    return both > 0 and float(products[0, 1]) / both > ALIKE


def pops_s(mono: FloatArray, sample_hz: int) -> list[float]:
    """Where breath hits the microphone: bursts of 20-70 Hz far over their rest, over the voice's own lowest octave and the level [s]."""
    from scipy.signal import butter, sosfiltfilt

    low, above = (sosfiltfilt(butter(2, band, "bandpass", fs=sample_hz, output="sos"), mono) for band in (POP_HZ, ABOVE_HZ))
    powers, voiced = (_smooth(frame_powers(signal, sample_hz, POP_STEP_S)) for signal in (low, above))
    if len(powers) < 10:
        return []
    rest, level = float(np.median(powers)), float((mono**2).mean())
    burst = (powers > POP_OVER_REST * rest) & (powers > POP_OVER_ABOVE * voiced) & (powers > POP_OVER_LEVEL * level)
    starts = np.flatnonzero(np.diff(np.r_[0, burst.astype(np.int8)]) > 0)
    onsets: list[float] = []
    for start in starts:
        stop = start + int(np.argmin(np.r_[burst[start:], False]))
        peak = float(powers[start:stop].max())
        first = start
        while first > 0 and powers[first - 1] > 0.05 * peak:
            first -= 1
        onset = float(first * POP_STEP_S) + FILTER_S
        if not onsets or onset - onsets[-1] > APART_S:
            onsets.append(onset)
    return onsets


def keys_s(mono: FloatArray, sample_hz: int) -> list[float]:
    """Where keys are struck while nobody speaks: short bursts over 3.5 kHz, with nothing voiced near them [s]."""
    from scipy.signal import butter, sosfiltfilt

    if sample_hz < 16000:
        return []
    high = sosfiltfilt(butter(4, KEY_HZ, "highpass", fs=sample_hz, output="sos"), mono)
    voice = sosfiltfilt(butter(2, VOICED_HZ, "bandpass", fs=sample_hz, output="sos"), mono)
    powers = frame_powers(high, sample_hz, KEY_STEP_S)
    voiced = np.convolve(frame_powers(voice, sample_hz, KEY_STEP_S), np.full(5, 0.2), "same")
    near, gone = round(KEY_NEAR_S / KEY_STEP_S), round(KEY_GONE_S / KEY_STEP_S)
    if len(powers) < 2 * near:
        return []
    rest, quiet = float(np.quantile(powers, 0.2)) + 1e-12, float(np.quantile(voiced, 0.2)) + 1e-12
    onsets: list[float] = []
    for index in np.flatnonzero(powers[: len(powers) - gone] > KEY_OVER_REST * rest).tolist():
        if onsets and index * KEY_STEP_S - onsets[-1] < KEY_APART_S:
            continue
        peak = float(powers[index : index + 3].max())
        sudden = peak > KEY_OVER_BEFORE * float(powers[max(index - 8, 0) : max(index - 1, 1)].max())
        short = float(powers[index + gone - 3 : index + gone].max()) < 0.1 * peak
        beside = np.r_[voiced[max(index - near, 0) : max(index - 4, 0)], voiced[index + gone : index + near]]
        if sudden and short and len(beside) and float(beside.max()) < KEY_OVER_QUIET * quiet:
            onsets.append(float(index * KEY_STEP_S))
    return onsets


def _smooth(powers: FloatArray) -> FloatArray:
    return np.asarray(np.convolve(powers, np.full(3, 1 / 3), "same"))


def spectrum_of(mono: FloatArray, sample_hz: int) -> FloatArray:
    """Power by frequency from 0 to half the rate, shape (BINS + 1,), of a second or more."""
    from scipy.signal import welch

    return np.asarray(welch(mono, sample_hz, nperseg=2 * BINS)[1])


def band_edge_hz(spectrum: FloatArray, sample_hz: int) -> float | None:
    """Where a spectrum breaks off: it falls by 40 dB within 400 Hz [Hz]; None where it goes on."""
    from scipy.ndimage import median_filter

    hz = np.linspace(0, sample_hz / 2, len(spectrum))
    level = 10 * np.log10(np.maximum(spectrum, 1e-20))
    step = max(round(EDGE_WIDE_HZ / hz[1]), 1)
    wide = median_filter(level, 5, mode="nearest")
    falls = wide[:-step] - wide[step:]
    high = np.flatnonzero((falls > EDGE_FALL_DB) & (hz[:-step] > EDGE_LEAST_HZ))
    if not len(high):
        return None
    best = int(high[np.argmax(falls[high])])
    steepest = best + int(np.argmax(-np.diff(wide[best : best + step + 1])))
    return float(hz[steepest])
