"""Levels of a recording: loudness, true peak, speech where there is speech, noise where there is none."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

SILENT_DBFS = -120.0  # below this there is nothing: what would be less is told as this
FRAME_S = 0.05
QUIET_SHARE, QUIET_ADD_DB = 0.08, 0.8  # the lowest frames lie this much under the noise's own level (tried on kept material)
LEAST_LOUDNESS_S, GATE_LUFS, GATE_LU = 0.4, -70.0, 10.0  # one block of BS.1770, and its gates
# ITU-T P.56 method B: envelope of two poles, hangover, margin between the threshold and the active level.
ENVELOPE_S, HANGOVER_S, MARGIN_DB = 0.03, 0.2, 15.9
LEAST_EXPONENT = 22  # of thresholds 2^-1, 2^-2 and so on
CUT_HZ = 70.0  # what is lower is no speech, but steps and wind
OVERSAMPLED, A_AT_1000_DB = 4, 2.0


def dbfs(power: float) -> float:
    """Level of a mean square against full scale 1 [dB]."""
    return max(10 * math.log10(power), SILENT_DBFS) if power > 0 else SILENT_DBFS


def loudness_blocks(samples: FloatArray, sample_hz: int) -> FloatArray:
    """Loudness of each block of ITU-R BS.1770 of samples (N, channels), shape (B,) [LUFS]; none for less than a block."""
    import pyloudnorm

    if len(samples) < LEAST_LOUDNESS_S * sample_hz:
        return np.zeros(0)
    meter = pyloudnorm.Meter(sample_hz)
    meter.integrated_loudness(samples)
    return np.array(meter.blockwise_loudness)


def loudness_lufs(blocks: FloatArray) -> float | None:
    """Integrated loudness of blocks: gated at -70 LUFS, then 10 LU under what is left (ITU-R BS.1770-4, eq. 4 to 7); None for silence."""
    loud = blocks[blocks > GATE_LUFS]
    if not len(loud):
        return None
    return _mean_lufs(loud[loud > _mean_lufs(loud) - GATE_LU])


def _mean_lufs(blocks: FloatArray) -> float:
    return 10 * math.log10(float(np.mean(10 ** (blocks / 10))))


def true_peak(samples: FloatArray) -> float:
    """Highest peak between the samples of any channel, four times oversampled, of samples (N, channels), full scale 1."""
    from scipy.signal import firwin, resample_poly

    peak = float(np.abs(samples).max(initial=0.0))
    if peak <= 0:
        return 0.0
    # Only round what comes near the highest sample can a peak between samples be higher than all others.
    near = np.flatnonzero((np.abs(samples) > 0.7 * peak).any(axis=1))
    between = firwin(20 * OVERSAMPLED + 1, 1 / OVERSAMPLED, window=("kaiser", 5.0))
    for begin, end in _stretches(near, 64, len(samples)):
        peak = max(peak, float(np.abs(resample_poly(samples[begin:end], OVERSAMPLED, 1, axis=0, window=between)).max()))
    return peak


def _stretches(places: NDArray[np.int64], margin: int, count: int) -> list[tuple[int, int]]:
    """Stretches of samples round places, those that meet joined."""
    breaks = np.flatnonzero(np.diff(places) > 2 * margin)
    firsts, lasts = places[np.r_[0, breaks + 1]], places[np.r_[breaks, len(places) - 1]]
    return [(max(int(first) - margin, 0), min(int(last) + margin + 1, count)) for first, last in zip(firsts, lasts, strict=True)]


def frame_size(sample_hz: int, frame_s: float = FRAME_S) -> int:
    """Samples of a frame."""
    return max(round(frame_s * sample_hz), 1)


def frame_powers(mono: FloatArray, sample_hz: int, frame_s: float = FRAME_S) -> FloatArray:
    """Mean square of frames one after another, shape (F,)."""
    size = frame_size(sample_hz, frame_s)
    count = len(mono) // size
    return np.asarray((mono[: count * size].reshape(count, size) ** 2).mean(axis=1))


def high_passed(mono: FloatArray, sample_hz: int, cut_hz: float = CUT_HZ) -> FloatArray:
    """A signal without what lies under a frequency, nothing shifted in time."""
    from scipy.signal import butter, sosfiltfilt

    return np.asarray(sosfiltfilt(butter(2, cut_hz, "highpass", fs=sample_hz, output="sos"), mono))


def a_gains(hz: FloatArray) -> FloatArray:
    """How the A curve of IEC 61672 weighs amplitudes at frequencies, shape of ``hz``."""
    squared = hz**2
    curve = (12194.0**2 * squared**2) / (
        (squared + 20.6**2) * np.sqrt((squared + 107.7**2) * (squared + 737.9**2)) * (squared + 12194.0**2)
    )
    return np.asarray(curve * 10 ** (A_AT_1000_DB / 20))


def a_weighted(mono: FloatArray, sample_hz: int) -> FloatArray:
    """A signal as the A curve hears it, shape (N,)."""
    from scipy.fft import irfft, next_fast_len, rfft

    size = next_fast_len(len(mono), real=True)
    return np.asarray(irfft(rfft(mono, size) * a_gains(np.fft.rfftfreq(size, 1 / sample_hz)), size)[: len(mono)])


def quiet_frames(mono: FloatArray, sample_hz: int) -> NDArray[np.bool_]:
    """Frames of 50 ms in which nobody speaks, shape (F,): those within 6 dB of the lowest twelfth, digital silence apart."""
    powers = frame_powers(mono, sample_hz)
    heard = powers[powers > 1e-13]
    if not len(heard):
        return np.zeros(len(powers), dtype=bool)
    floor = np.sort(heard)[: max(math.ceil(QUIET_SHARE * len(heard)), 1)].mean()
    return np.asarray((powers > 1e-13) & (powers < floor * 10**0.6))


def noise_power(powers: FloatArray) -> float:
    """Mean square of the noise, from the quietest of frames of 50 ms, by their mean squares (F,); 0 where there is none to be heard."""
    heard = powers[powers > 1e-13]
    if not len(heard):
        return 0.0
    lowest = np.sort(heard)[: max(math.ceil(QUIET_SHARE * len(heard)), 1)].mean()
    return float(lowest * 10 ** (QUIET_ADD_DB / 10))


@dataclass(frozen=True)
class Spoken:
    """What ITU-T P.56 counts: the sum of squares over 70 Hz, the samples, and how many are active at thresholds 2^-1, 2^-2 and so on."""

    squares: float
    samples: int
    active: tuple[int, ...]

    def __add__(self, other: Spoken) -> Spoken:
        active = tuple(map(sum, zip(self.active, other.active, strict=True)))
        return Spoken(self.squares + other.squares, self.samples + other.samples, active)


def spoken_in(mono: FloatArray, sample_hz: int) -> Spoken:
    """What there may be of speech in samples, shape (N,)."""
    from scipy.signal import lfilter

    signal = high_passed(mono, sample_hz)
    decay = math.exp(-1 / (sample_hz * ENVELOPE_S))
    envelope = lfilter([1 - decay], [1, -decay], lfilter([1 - decay], [1, -decay], np.abs(signal)))
    hangover = round(HANGOVER_S * sample_hz)
    active = tuple(_held(envelope >= 2.0**-exponent, hangover) for exponent in range(1, LEAST_EXPONENT))
    return Spoken(float((signal**2).sum()), len(signal), active)


def active_speech(spoken: Spoken, noise: float) -> tuple[float, float] | None:
    """Active level of speech [dBFS] and how many samples are active; None where there is none.

    Args:
        noise: its mean square, taken off.
    """
    speech = spoken.squares - noise * spoken.samples
    if speech <= 0:
        return None
    before: tuple[float, float, float] | None = None
    for exponent, active in enumerate(spoken.active, 1):
        if not active:
            continue
        level = 10 * math.log10(speech / active)
        above = level + 20 * exponent * math.log10(2.0)
        if above >= MARGIN_DB:
            return _between(before or (above, level, active), (above, level, active))
        before = above, level, active
    return None


def _held(active: NDArray[np.bool_], hangover: int) -> int:
    """How many samples are active, each going on for the hangover."""
    places = np.flatnonzero(active)
    if not len(places):
        return 0
    return int(np.minimum(np.diff(places), hangover + 1).sum()) + min(hangover + 1, len(active) - int(places[-1]))


def _between(before: tuple[float, float, float], after: tuple[float, float, float]) -> tuple[float, float]:
    """Level and activity where the level lies just the margin over the threshold, between two thresholds."""
    wide = after[0] - before[0]
    share = (MARGIN_DB - before[0]) / wide if wide > 0 else 1.0
    return before[1] + share * (after[1] - before[1]), before[2] + share * (after[2] - before[2])
