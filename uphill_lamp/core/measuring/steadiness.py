"""What does not stay as it is in a clip: where the picture stands, how bright it is, its white, its focus, the head."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.frames import held_share

OVER_S = 0.5  # exposure and white are looked at in means over so long
RESTING_S = 1.0  # what a shaken picture comes back to
LEAST_LEVEL = 1e-3
SHARP = 90  # percentile of sharpness that counts as in focus
BLURRED = 0.5  # of its edges' power: less is out of focus
FIDGETS_HZ = (0.3, 3.0)
RHYTHM_S = 5.0
RHYTHM_SHARE = 0.5  # of the head's swaying that one beat makes up: so much is a rhythm


def pumping_stops(levels: FloatArray, times_s: FloatArray) -> float:
    """How far brightness goes up and down, in means over half a second [stops].

    Args:
        levels: linear luminance of the face, or of the whole, shape (N,) 0-1.
    """
    held = held_share(np.log2(np.maximum(levels, LEAST_LEVEL)), times_s, OVER_S)
    return float(held.max() - held.min())


def drift_stops(red: FloatArray, blue: FloatArray, times_s: FloatArray) -> float:
    """How far white wanders: red against blue, in means over half a second [stops]."""
    ratio = np.log2(np.maximum(red, LEAST_LEVEL) / np.maximum(blue, LEAST_LEVEL))
    held = held_share(ratio, times_s, OVER_S)
    return float(held.max() - held.min())


def shake_px(places: FloatArray, times_s: FloatArray) -> tuple[float, FloatArray]:
    """How far the picture is shaken off where it rests, in 95 of 100 pictures [px], and each picture's own, shape (N,).

    Args:
        places: where each picture stands against the first, shape (N, 2) [px].
    """
    resting = np.stack([held_share(places[:, axis], times_s, RESTING_S) for axis in (0, 1)], axis=1)
    off = np.hypot(*(places - resting).T)
    return float(np.percentile(off, 95)), off


def out_of_focus_share(edges: FloatArray) -> float:
    """Share of the time that a clip's edges are less than half as strong as at its best, 0-1: the lens hunts.

    Args:
        edges: mean power of the picture's finest changes, shape (N,).
    """
    return float((edges < BLURRED * np.percentile(edges, SHARP)).mean()) if len(edges) else 0.0


@dataclass(frozen=True)
class Fidgets:
    """How far a head sways [head heights a minute], and the seconds of a beat that it keeps; None without one."""

    travel: float
    rhythm_s: float | None


def fidgets(places: FloatArray, times_s: FloatArray, head_px: float) -> Fidgets | None:
    """How a head sways between 0.3 and 3 times a second; None for less than four seconds of it.

    Args:
        places: where it is, shape (N, 2) [px].
    """
    if len(places) < 12 or times_s[-1] - times_s[0] < 4:
        return None
    slow = np.stack([held_share(places[:, axis], times_s, 1 / FIDGETS_HZ[0]) for axis in (0, 1)], axis=1)
    fine = np.stack([held_share(places[:, axis], times_s, 1 / FIDGETS_HZ[1]) for axis in (0, 1)], axis=1)
    sway = (fine - slow) / head_px
    length_s = float(times_s[-1] - times_s[0])
    travel = 60 * float(np.hypot(*np.diff(sway, axis=0).T).sum()) / length_s
    return Fidgets(travel, _rhythm_s(sway, times_s) if length_s > RHYTHM_S else None)


def _rhythm_s(sway: FloatArray, times_s: FloatArray) -> float | None:
    even = np.arange(times_s[0], times_s[-1], 1 / 12)
    axis = int(np.argmax(sway.var(axis=0)))
    wave = np.interp(even, times_s, sway[:, axis])
    if wave.std() < 0.01:
        return None
    power = np.abs(np.fft.rfft((wave - wave.mean()) * np.hanning(len(wave)), 4 * len(wave))) ** 2
    beats = np.fft.rfftfreq(4 * len(wave), 1 / 12)
    fit = (beats >= FIDGETS_HZ[0]) & (beats <= FIDGETS_HZ[1])
    peak = int(np.argmax(np.where(fit, power, 0.0)))
    near = np.abs(beats - beats[peak]) < 2.5 / (times_s[-1] - times_s[0])
    return float(1 / beats[peak]) if power[near & fit].sum() > RHYTHM_SHARE * power[fit].sum() and power[peak] > 0 else None
