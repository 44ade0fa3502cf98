"""Octave bands of a signal: filters that add up to the signal itself, and levels."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.octave_filters import octave_shares

SAMPLE_HZ = 24000
PASCAL_DB = 94.0  # a signal of effective value 1 is a sound of 94 dB


def shares(count: int) -> FloatArray:
    """What share of each frequency of a signal of ``count`` samples belongs to each octave, shape (7, count // 2 + 1) 0-1."""
    return octave_shares(count, SAMPLE_HZ)


def handy(count: int) -> int:
    """The next even number of samples that is quick to work with."""
    from scipy.fft import next_fast_len

    return 2 * int(next_fast_len((count + 1) // 2, real=True))


def split(signal: FloatArray) -> FloatArray:
    """A signal in octaves, shape (N,) -> (7, N); they add up to it above CUT_HZ."""
    return np.fft.irfft(np.fft.rfft(signal) * shares(len(signal)), len(signal), axis=1)


def weighted(signal: FloatArray, gains: FloatArray) -> FloatArray:
    """A signal with a gain for each octave, shapes (N,) and (7,)."""
    return np.asarray(np.fft.irfft(np.fft.rfft(signal) * (gains @ shares(len(signal))), len(signal)))


def levels_db(signal: FloatArray) -> FloatArray:
    """Level of each octave, shape (7,) [dB SPL]."""
    return np.asarray(PASCAL_DB + 10 * np.log10(np.maximum((split(signal) ** 2).mean(axis=1), 1e-14)))


def noise(levels_wanted_db: FloatArray, count: int, seed: int) -> FloatArray:
    """Noise with a level in each octave, shape (7,) [dB SPL] -> (count,); the same each time for a seed."""
    white = np.random.default_rng(seed).standard_normal(count)
    return weighted(white, 10 ** ((levels_wanted_db - levels_db(white)) / 20))
