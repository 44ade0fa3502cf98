"""Tone of a voice as it was recorded: its octaves against a usual voice's (IEC 60268-16), which room and microphone bend."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.sound.capsule import speech_octaves_db
from uphill_lamp.core.measuring import levels
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.heard import Heard
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ

EVEN_HZ = (500.0, 2000.0)  # octaves whose mean is nought
OVER_NOISE = 2.0  # power over the noise's from which on an octave of a voice is told
LEAST_S = 2.0


def usual_octaves_db() -> FloatArray:
    """Octaves of a usual voice, the power of the standard's two on average, shape (7,) [dB]."""
    both = [speech_octaves_db(voice, "normal") for voice in ("female", "male")]
    return np.asarray(10 * np.log10(np.mean(10 ** (np.array(both) / 10), axis=0)))


def tone_figure(pieces: Sequence[Heard], span_s: tuple[float, float] | None) -> Figure:
    """How each octave of a voice stands against a usual voice's [dB], 125 Hz to 8 kHz.

    Args:
        pieces: of a recording, as they were heard.
        span_s: when speech begins and ends; None where nobody speaks.
    """
    if span_s is None or span_s[1] - span_s[0] < LEAST_S:
        return refused("sound.tone_db", "nobody speaks for two seconds")
    usual_db = usual_octaves_db()
    times = np.concatenate([piece.frames_s for piece in pieces])
    spoken = (times >= span_s[0]) & (times + levels.FRAME_S <= span_s[1])
    known = [_octave_db(octave, spoken) for octave in np.concatenate([piece.octaves for piece in pieces], axis=1)]
    against = [None if level is None else level - usual for level, usual in zip(known, usual_db, strict=True)]
    middle = [value for value, hz in zip(against, CENTRES_HZ, strict=True) if value is not None and EVEN_HZ[0] <= hz <= EVEN_HZ[1]]
    if len(middle) < 3:
        return refused("sound.tone_db", "the voice's middle drowns in the noise")
    even = float(np.mean(middle))
    listed = [
        {"hz": float(hz), "db": None if value is None else float(value) - even} for hz, value in zip(CENTRES_HZ, against, strict=True)
    ]
    return Figure("sound.tone_db", listed, "dB", 3.0, "rough")


def _octave_db(powers: FloatArray, spoken: NDArray[np.bool_]) -> float | None:
    """Level of an octave of the voice, the noise taken off [dB]; None where that drowns it, or the rate does not reach it.

    Args:
        powers: of its frames, shape (F,); NaN where the rate does not reach it.
        spoken: which of them lie between the first word and the last.
    """
    if np.isnan(powers[0]):
        return None
    noise, power = levels.noise_power(powers), float(powers[spoken].mean())
    return levels.dbfs(power - noise) if power > OVER_NOISE * noise else None
