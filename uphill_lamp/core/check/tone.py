"""Tone of a voice as it was recorded: its octaves against a usual voice's (IEC 60268-16), which room and microphone bend."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.sound.capsule import speech_octaves_db
from uphill_lamp.core.measuring import levels
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ, octave_filter
from uphill_lamp.core.measuring.sound import Recording

EVEN_HZ = (500.0, 2000.0)  # octaves whose mean is nought
OVER_NOISE = 2.0  # power over the noise's from which on an octave of a voice is told
LEAST_S = 2.0


def usual_octaves_db() -> FloatArray:
    """Octaves of a usual voice, the power of the standard's two on average, shape (7,) [dB]."""
    both = [speech_octaves_db(voice, "normal") for voice in ("female", "male")]
    return np.asarray(10 * np.log10(np.mean(10 ** (np.array(both) / 10), axis=0)))


def tone_figure(recording: Recording, span_s: tuple[float, float] | None) -> Figure:
    """How each octave of a voice stands against a usual voice's [dB], 125 Hz to 8 kHz.

    Args:
        span_s: when speech begins and ends; None where nobody speaks.
    """
    if span_s is None or span_s[1] - span_s[0] < LEAST_S:
        return refused("sound.tone_db", "nobody speaks for two seconds")
    usual_db = usual_octaves_db()
    known = [_octave_db(recording, float(hz), span_s) for hz in CENTRES_HZ]
    against = [None if level is None else level - usual for level, usual in zip(known, usual_db, strict=True)]
    middle = [value for value, hz in zip(against, CENTRES_HZ, strict=True) if value is not None and EVEN_HZ[0] <= hz <= EVEN_HZ[1]]
    if len(middle) < 3:
        return refused("sound.tone_db", "the voice's middle drowns in the noise")
    even = float(np.mean(middle))
    listed = [
        {"hz": float(hz), "db": None if value is None else float(value) - even} for hz, value in zip(CENTRES_HZ, against, strict=True)
    ]
    return Figure("sound.tone_db", listed, "dB", 3.0, "rough")


def _octave_db(recording: Recording, centre_hz: float, span_s: tuple[float, float]) -> float | None:
    """Level of an octave of the voice, the noise taken off [dB]; None where that drowns it, or the rate does not reach it."""
    from scipy.signal import sosfilt

    rate = recording.sample_hz
    sections = octave_filter(centre_hz, rate)
    if sections is None:
        return None
    octave: FloatArray = np.asarray(sosfilt(sections, recording.mono))
    noise = levels.noise_power(octave, rate)
    power = float((octave[round(span_s[0] * rate) : round(span_s[1] * rate)] ** 2).mean())
    return levels.dbfs(power - noise) if power > OVER_NOISE * noise else None
