"""Clarity of the voice: the speech transmission index (IEC 60268-16, full method, without masking)."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.arrays import FloatArray

MODULATION_HZ = np.array([0.63, 0.8, 1.0, 1.25, 1.6, 2.0, 2.5, 3.15, 4.0, 5.0, 6.3, 8.0, 10.0, 12.5])
# Weight of each octave, and of what neighbours tell twice, by voice; each less the other is 1.
ALPHA = {
    "male": np.array([0.085, 0.127, 0.230, 0.233, 0.309, 0.224, 0.173]),
    "female": np.array([0.0, 0.117, 0.223, 0.216, 0.328, 0.250, 0.194]),
}
BETA = {"male": np.array([0.085, 0.078, 0.065, 0.011, 0.047, 0.095]), "female": np.array([0.0, 0.099, 0.066, 0.062, 0.025, 0.076])}
DECAY = 13.815511  # natural logarithm of a million: 60 dB
SNR_REACH_DB = 15.0
WORDS = ((0.75, "excellent"), (0.60, "good"), (0.45, "fair"), (0.30, "poor"))


def modulation_indices(direct_db: FloatArray, reverberant_db: FloatArray, noise_db: FloatArray, t60_s: FloatArray) -> FloatArray:
    """What is left of the voice's own rise and fall, per octave.

    With x = 2 pi F T / 13.8: A = d + R / (1 + x^2), B = x R / (1 + x^2), m = sqrt(A^2 + B^2) / (d + R + N), where d, R and N are the
    energies of direct voice, reverberant voice and noise at the capsule (reference/README).

    Args:
        direct_db, reverberant_db, noise_db: as the capsule picks them up, shapes (..., 7) [dB].
        t60_s: reverberation time, shape (7,) [s].

    Returns:
        Modulation transfer index of each octave, shape (..., 7) 0-1.
    """
    d, r, n = (10 ** (np.asarray(level) / 10)[..., None] for level in (direct_db, reverberant_db, noise_db))
    x = 2 * np.pi * MODULATION_HZ * np.asarray(t60_s)[:, None] / DECAY
    left = r / (1 + x * x)
    m = np.clip(np.hypot(d + left, x * left) / (d + r + n), 1e-9, 1 - 1e-9)
    apparent_db = np.clip(10 * np.log10(m / (1 - m)), -SNR_REACH_DB, SNR_REACH_DB)
    return np.asarray(((apparent_db + SNR_REACH_DB) / (2 * SNR_REACH_DB)).mean(axis=-1))


def transmission_index(indices: FloatArray, voice: str = "male") -> float:
    """Speech transmission index, 0-1, from the indices of the octaves, shape (7,); a female voice has no octave at 125 Hz."""
    return float(np.clip(ALPHA[voice] @ indices - BETA[voice] @ np.sqrt(indices[:-1] * indices[1:]), 0, 1))


def clarity_word(sti: float) -> str:
    """The standard's word for a speech transmission index, as it is shown: a figure never has two words."""
    return next((word for least, word in WORDS if shown_sti(sti) >= least), "bad")


def shown_sti(sti: float) -> float:
    """A speech transmission index to the two places it is shown with, halves upwards."""
    return math.floor(100 * sti + 0.5) / 100
