"""Octave bands at any rate: shares of a spectrum that add up to all of it, and filters whose own ringing is short."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from uphill_lamp.core.arrays import FloatArray

CENTRES_HZ = np.array([125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0])
CUT_HZ = 60.0  # below this nothing is sent: no microphone of a call does
EDGE = np.sqrt(2.0)  # of a band, against its middle
ORDER = 3  # IEC 61260 class 1 asks for no more slope within the band


@lru_cache(maxsize=8)
def octave_shares(count: int, sample_hz: int) -> FloatArray:
    """What share of each frequency of a signal of ``count`` samples belongs to each octave, shape (7, count // 2 + 1) 0-1.

    Neighbours cross over as cosine squared within half an octave either side of their border, so all add up to 1 above CUT_HZ.
    """
    frequencies = np.fft.rfftfreq(count, 1 / sample_hz)
    octave = np.log2(np.maximum(frequencies, 1.0) / CENTRES_HZ[0])
    rising = [np.ones_like(octave)] + [_eased(octave - index + 1.0) for index in range(1, 7)]
    falling = [1 - _eased(octave - index) for index in range(6)] + [np.ones_like(octave)]
    open_ = _eased(np.log2(np.maximum(frequencies, 1.0) / CUT_HZ) + 0.5)
    return np.array([up * down * open_ for up, down in zip(rising, falling, strict=True)])


def _eased(step: FloatArray) -> FloatArray:
    """0 to 1 over a step from 0 to 1, as sine squared."""
    return np.asarray(np.sin(np.pi / 2 * np.clip(step, 0, 1)) ** 2)


@lru_cache(maxsize=32)
def octave_filter(centre_hz: float, sample_hz: int) -> FloatArray | None:
    """Second-order sections of the filter of an octave, shape (S, 6); None where the band does not lie below half the rate."""
    from scipy.signal import butter

    if centre_hz * EDGE >= 0.49 * sample_hz:
        return None
    return np.asarray(butter(ORDER, (centre_hz / EDGE, centre_hz * EDGE), "bandpass", fs=sample_hz, output="sos"))
