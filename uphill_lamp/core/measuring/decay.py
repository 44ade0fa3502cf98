"""Claps in a recording, and how the room dies away after them."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.levels import frame_powers, high_passed
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ, octave_filter

STEP_S = 0.002
RISE, BEFORE_S, LEAST_DBFS = 10**2.0, 0.05, -45.0  # a clap rises so much, within its own frame, over what was before it
AFTER_S, OVER_AFTER = (0.04, 0.4), 2.0  # and nothing that follows comes near it: a voice begins with less than it goes on with
OVER_VOICE = 4.0  # over what is loud in the recording as a whole
BRIGHT_HZ, BRIGHT, BURST_S = 3000.0, 0.08, 0.005  # and has so much of its power that high: pulses of a voice have next to none
APART_S = 0.4
TAIL_S = 4.0
LEAST_RANGE_DB = 35.0  # of the decay over the noise, for the slope from -5 to -25 dB
FROM_DB, TO_DB = -5.0, -25.0


def claps_s(mono: FloatArray, sample_hz: int) -> list[float]:
    """Where hands were clapped, or something as short was struck [s]."""
    powers = np.maximum(frame_powers(mono, sample_hz, STEP_S), 1e-14)
    before, after = round(BEFORE_S / STEP_S), [round(at / STEP_S) for at in AFTER_S]
    loud = max(OVER_VOICE * float(np.quantile(frame_powers(mono, sample_hz), 0.9)), 10 ** (LEAST_DBFS / 10))
    slow = np.convolve(powers, np.full(5, 0.2), "same")  # over 10 ms: what follows a clap in a bare room is uneven
    high = high_passed(mono, sample_hz, min(BRIGHT_HZ, 0.4 * sample_hz))
    claps: list[float] = []
    free = before
    for index in np.flatnonzero(powers[: len(powers) - after[0]] > 0.2 * loud).tolist():
        if index < free:
            continue
        peak = float(powers[index : index + 3].max())
        follows = float(slow[index + after[0] : index + after[1]].max())
        steep = peak > RISE * float(np.median(powers[index - before : index])) and powers[index] > 0.2 * peak
        if steep and peak > loud and peak > OVER_AFTER * follows and _bright(mono, high, sample_hz, index):
            claps.append(_onset(mono, sample_hz, index))
            free = index + round(APART_S / STEP_S)
    loudest = max((_power_at(mono, sample_hz, clap) for clap in claps), default=0.0)
    return [clap for clap in claps if _power_at(mono, sample_hz, clap) > 0.01 * loudest]


def _bright(mono: FloatArray, high: FloatArray, sample_hz: int, index: int) -> bool:
    begin = round((index - 1) * STEP_S * sample_hz)
    burst = slice(begin, begin + round((BURST_S + 2 * STEP_S) * sample_hz))
    return float((high[burst] ** 2).sum()) > BRIGHT * float((mono[burst] ** 2).sum())


def _power_at(mono: FloatArray, sample_hz: int, clap: float) -> float:
    begin = round(clap * sample_hz)
    return float((mono[begin : begin + round(0.01 * sample_hz)] ** 2).mean())


def _onset(mono: FloatArray, sample_hz: int, index: int) -> float:
    """The first sample within a frame or the one before it that comes near the peak."""
    begin = max(round((index - 1) * STEP_S * sample_hz), 0)
    part = np.abs(mono[begin : begin + round(4 * STEP_S * sample_hz)])
    return (begin + int(np.argmax(part > 0.3 * part.max()))) / sample_hz


def decays_s(mono: FloatArray, sample_hz: int, claps: list[float]) -> list[list[float]]:
    """Reverberation times T20 of each octave from 125 Hz to 8 kHz after the claps [s]; those whose decay drowns are left out."""
    spans = list(pairwise((*claps, len(mono) / sample_hz)))
    out: list[list[float]] = []
    for centre_hz in CENTRES_HZ:
        times = [_t20(mono, sample_hz, float(centre_hz), clap, end) for clap, end in spans]
        out.append([value for value in times if value is not None])
    return out


def _t20(mono: FloatArray, sample_hz: int, centre_hz: float, clap_s: float, end_s: float) -> float | None:
    """T20 after one clap: Schroeder's integral of the filtered, reversed decay, the noise taken off."""
    from scipy.signal import sosfilt

    sections = octave_filter(centre_hz, sample_hz)
    begin, end = round(clap_s * sample_hz), round(min(clap_s + TAIL_S, end_s - 0.05) * sample_hz)
    if sections is None or end - begin < 0.3 * sample_hz:
        return None
    # Reversed, a filter's own ringing lies before the sound, and not in its decay.
    decay = sosfilt(sections, mono[begin:end][::-1])[::-1] ** 2
    noise = float(np.median(frame_powers(np.sqrt(decay[-max(len(decay) // 5, 1) :]), sample_hz, 0.02)))
    smooth = frame_powers(np.sqrt(decay), sample_hz, 0.01)
    if 10 * math.log10(max(smooth.max(), 1e-30) / max(noise, 1e-30)) < LEAST_RANGE_DB:
        return None
    # Up to where the decay meets the noise; what lies beyond is little, and noise.
    meets = np.flatnonzero(smooth < 2.0 * noise)
    last = int(meets[0] * 0.01 * sample_hz) if len(meets) else len(decay)
    energy = np.cumsum((decay[:last] - noise)[::-1])[::-1]
    curve = 10 * np.log10(np.maximum(energy / energy[0], 1e-9))
    part = np.flatnonzero((curve <= FROM_DB) & (curve >= TO_DB))
    if len(part) < 10:
        return None
    slope = np.polyfit(part / sample_hz, curve[part], 1)[0]
    return -60 / float(slope) if slope < 0 else None
