"""Octave bands 125 Hz to 8 kHz: spectra, A-weighting, sums of levels."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.arrays import FloatArray

A_WEIGHTS_DB = np.array([-16.1, -8.6, -3.2, 0.0, 1.2, 1.0, -1.1])

# Speech by octave against its A-weighted level (IEC 60268-16); a female voice has next to nothing at 125 Hz.
SPEECH_SHAPE_DB = {
    "male": np.array([2.9, 2.9, -0.8, -6.8, -12.8, -18.8, -24.8]),
    "female": np.array([-40.0, 5.3, -1.9, -9.1, -15.8, -16.7, -18.0]),
}
# Speech level 1 m in front of the mouth [dB(A)] (ISO 9921).
EFFORT_DB_A = {"relaxed": 54.0, "normal": 60.0, "raised": 66.0, "loud": 72.0}
# Talker's first-order pattern per band: p + (1 - p) cos(angle) (reference/README, "human").
TALKER_P = np.array([0.95, 0.90, 0.82, 0.78, 0.70, 0.62, 0.55])

# Typical shapes of common noises by octave; only differences count. Working values: a fan falls slowly, a fridge and mains
# hum sit low, street comes dulled through a window, clocks tick high, people sound like speech.
NOISE_SHAPES_DB = {
    "fan": np.array([0.0, 0.0, -1.0, -4.0, -8.0, -14.0, -22.0]),
    "fridge": np.array([6.0, 2.0, -3.0, -8.0, -14.0, -20.0, -28.0]),
    "street": np.array([8.0, 3.0, -1.0, -4.0, -8.0, -15.0, -24.0]),
    "computer": np.array([0.0, -1.0, -2.0, -3.0, -6.0, -10.0, -16.0]),
    "clocks": np.array([-20.0, -14.0, -8.0, -3.0, 0.0, 1.0, -2.0]),
    "people": np.array([2.9, 2.9, -0.8, -6.8, -12.8, -18.8, -24.8]),
    "hum": np.array([0.0, -8.0, -18.0, -30.0, -40.0, -45.0, -50.0]),
}
# Self-noise of a capsule and its amplifier rises about 3 dB an octave, as white noise does.
SELF_NOISE_SHAPE_DB = np.arange(7) * 3.0


def a_level(octaves_db: FloatArray) -> float:
    """A-weighted level of an octave spectrum, shape (7,) [dB] -> [dB(A)]."""
    return float(total(octaves_db + A_WEIGHTS_DB))


def total(levels_db: FloatArray) -> float:
    """Sum of levels by energy, shape (N,) [dB]."""
    return 10 * math.log10(float((10 ** (np.asarray(levels_db) / 10)).sum()))


def summed(*spectra_db: FloatArray) -> FloatArray:
    """Sum of spectra by energy, each of shape (7,) [dB]."""
    return np.asarray(10 * np.log10(np.sum(10 ** (np.array(spectra_db) / 10), axis=0)))


def shaped(shape_db: FloatArray, level_db_a: float) -> FloatArray:
    """A spectrum of a given shape at an A-weighted level, shape (7,) [dB]."""
    return shape_db + (level_db_a - a_level(shape_db))
