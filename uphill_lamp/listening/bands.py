"""Octave bands of a signal: filters that add up to the signal itself, and levels."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from uphill_lamp.core.arrays import FloatArray

SAMPLE_HZ = 24000
CENTRES_HZ = np.array([125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0])
CUT_HZ = 60.0  # below this nothing is sent: no microphone of a call does
PASCAL_DB = 94.0  # a signal of effective value 1 is a sound of 94 dB


@lru_cache(maxsize=4)
def shares(count: int) -> FloatArray:
    """What share of each frequency of a signal of ``count`` samples belongs to each octave, shape (7, count // 2 + 1) 0-1.

    Neighbours cross over as cosine squared within half an octave either side of their border, so all add up to 1 above CUT_HZ.
    """
    frequencies = np.fft.rfftfreq(count, 1 / SAMPLE_HZ)
    octave = np.log2(np.maximum(frequencies, 1.0) / CENTRES_HZ[0])
    rising = [np.ones_like(octave)] + [_eased(octave - index + 1.0) for index in range(1, 7)]
    lit_scene = [1 - _eased(octave - index) for index in range(6)] + [np.ones_like(octave)]
    open_ = _eased(np.log2(np.maximum(frequencies, 1.0) / CUT_HZ) + 0.5)
    return np.array([up * down * open_ for up, down in zip(rising, lit_scene, strict=True)])


def _eased(step: FloatArray) -> FloatArray:
    """0 to 1 over a step from 0 to 1, as sine squared."""
    return np.asarray(np.sin(np.pi / 2 * np.clip(step, 0, 1)) ** 2)


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
