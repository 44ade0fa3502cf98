"""Bands that lamps on the mains draw over a picture, which is read line by line."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray

BESIDE_HZ, STEP_S = (
    1.2,
    0.1,
)  # how far beside the place where a mains' beat should be one is looked for, in steps of so much by the clip's length
LONGEST_S = 15.0  # of a clip: more tells nothing more
LEAST_HZ = 0.3  # slower than this nothing crawls: it stands still, and is not to be told from the room
OVER_USUAL = 4.0  # times what is found at other beats: so much is one
LEAST_PICTURES, LEAST_S = 24, 1.5
LEAST_LEVEL = 0.01  # of full, linear: lines darker than this tell nothing
PADDED = 4  # times finer than the lines are
OTHER_BEATS = 12


def beat_hz(light_hz: float, fps: float) -> float:
    """How fast bands of so many flickers a second crawl through pictures that come at a rate, 0 to half of it [Hz]."""
    beat = light_hz % fps
    return min(beat, fps - beat)


def bands_share(lines: FloatArray, times_s: FloatArray, fps: float) -> tuple[float, float] | None:
    """How strong the bands are, (L high - L low) / (L high + L low), 0-1, and the flickers a second that draw them; (0, 0) without any.

    None where they could not be told: too few pictures, or a rate at which those of both mains stand still.

    Args:
        lines: mean linear luminance of each picture's lines, shape (N, lines).
        times_s: when each is shown, shape (N,).
    """
    beats = {light_hz: beat_hz(light_hz, fps) for light_hz in (100.0, 120.0)}
    crawling = {light_hz: beat for light_hz, beat in beats.items() if beat >= LEAST_HZ}
    if len(lines) < LEAST_PICTURES or times_s[-1] - times_s[0] < LEAST_S or not crawling:
        return None
    lines, times_s = (part[times_s <= times_s[0] + LONGEST_S] for part in (lines, times_s))
    usual = lines.mean(axis=0)
    lit = usual > LEAST_LEVEL
    if lit.sum() < 16:
        return None
    rough = lines[:, lit] / usual[lit]
    rough = rough / np.maximum(rough.mean(axis=1, keepdims=True), 1e-6) - 1  # what all lines share is exposure, and no band
    strength = {
        light_hz: _strongest(rough, times_s, _near(beat, fps, float(times_s[-1] - times_s[0]))) for light_hz, beat in crawling.items()
    }
    light_hz = max(strength, key=lambda name: strength[name])
    apart = [
        beat for beat in np.linspace(LEAST_HZ, fps / 2, OTHER_BEATS) if all(abs(beat - other) > 2 * BESIDE_HZ for other in beats.values())
    ]
    floor = float(np.median([_strongest(rough, times_s, np.array([beat])) for beat in apart])) if apart else 0.0
    return (strength[light_hz], light_hz) if strength[light_hz] > OVER_USUAL * floor + 1e-4 else (0.0, 0.0)


def _near(beat: float, fps: float, length_s: float) -> FloatArray:
    near = beat + np.arange(-BESIDE_HZ, BESIDE_HZ, STEP_S / length_s)
    return near[(near >= LEAST_HZ) & (near <= fps / 2)]


def _strongest(rough: FloatArray, times_s: FloatArray, beats: FloatArray) -> float:
    """The largest amplitude of a wave over lines and pictures that beats so often, in its unit."""
    if not len(beats):
        return 0.0
    window = np.hanning(len(times_s) + 2)[1:-1]
    turned = np.exp(-2j * np.pi * beats[:, None] * times_s) * (window / window.sum())
    waves = turned @ rough  # shape (beats, lines)
    over_lines = np.hanning(rough.shape[1] + 2)[1:-1]
    spectrum = np.abs(np.fft.fft(waves * (over_lines / over_lines.sum()), PADDED * rough.shape[1], axis=1))
    return 2 * float(spectrum.max())
