"""Hum of the mains in a recording: lines at whole multiples of one frequency, found where nobody speaks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.levels import FRAME_S, dbfs, quiet_frames

MAINS_HZ = (50.0, 60.0)
OFF_HZ, STEP_HZ = 0.15, 0.01  # the mains keep so near to their frequency
HARMONICS = 10
BESIDE_HZ = np.array([side * away for side in (-1, 1) for away in np.arange(1.5, 13.0, 0.5)])  # where what is under a line is read off
STANDS_OUT, ABOVE_ALL = 3.5, 1.3  # times what is usual beside it, and what is most: then a line is one, and no machine's own
LEAST_LINES = 3
LEAST_QUIET_S, ENOUGH = 0.6, 8000  # of quiet; so many samples tell as well as more
KEPT_HZ = 2400.0  # all harmonics lie under half of this


@dataclass(frozen=True)
class Hum:
    """Hum: its frequency [Hz], and its lines as frequency [Hz] and amplitude (shape (H,), full scale 1)."""

    frequency_hz: float
    lines_hz: FloatArray
    amplitudes: FloatArray

    @property
    def power(self) -> float:
        """Its mean square."""
        return float((self.amplitudes**2).sum() / 2)

    def data(self) -> list[dict[str, float]]:
        """Its lines with their effective level."""
        return [{"hz": float(hz), "dbfs": dbfs(float(size) ** 2 / 2)} for hz, size in zip(self.lines_hz, self.amplitudes, strict=True)]


def hum_of(mono: FloatArray, sample_hz: int) -> Hum | None:
    """The hum in a recording, shape (N,); None where there is none that is sure."""
    times, values = _quiet_samples(mono, sample_hz)
    if len(values) < min(LEAST_QUIET_S * KEPT_HZ, ENOUGH):
        return None
    best: Hum | None = None
    for mains_hz in MAINS_HZ:
        around = np.arange(mains_hz - OFF_HZ, mains_hz + OFF_HZ + STEP_HZ / 2, STEP_HZ)
        power = [float(np.square(_fitted(times, values, base * np.arange(1, HARMONICS + 1))).sum()) for base in around]
        base = float(around[int(np.argmax(power))])
        candidate = _lines(times, values, base)
        if candidate is not None and (best is None or candidate.power > best.power):
            best = candidate
    return best


def _quiet_samples(mono: FloatArray, sample_hz: int) -> tuple[FloatArray, FloatArray]:
    """Times [s] and values of a slower copy of the signal, where nobody speaks."""
    step = max(int(sample_hz // KEPT_HZ), 1)
    slow = mono if step == 1 else _slower(mono, step)
    rate = sample_hz / step
    quiet = quiet_frames(mono, sample_hz)
    times = np.arange(len(slow)) / rate
    inside = np.minimum((times / FRAME_S).astype(int), max(len(quiet) - 1, 0))
    chosen: NDArray[np.int64] = np.flatnonzero(quiet[inside]) if len(quiet) else np.zeros(0, np.int64)
    # Of many, whole frames: every third sample, say, would fold lines onto one another.
    frames = np.searchsorted(np.unique(inside[chosen]), inside[chosen])
    chosen = chosen[frames % max(len(chosen) // ENOUGH, 1) == 0]
    return times[chosen], slow[chosen]


def _slower(mono: FloatArray, step: int) -> FloatArray:
    """Every ``step``-th sample of what lies below, in factors that filters keep up with."""
    from scipy.signal import decimate

    while step > 1:
        factor = next((factor for factor in (10, 8, 6, 5, 4, 3, 2) if step % factor == 0), step)
        mono, step = decimate(mono, factor, ftype="fir", zero_phase=True), step // factor
    return mono


def _fitted(times: FloatArray, values: FloatArray, lines_hz: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Cosine and sine parts of lines by least squares, all at once, shapes (H,)."""
    angles = 2 * np.pi * times[:, None] * lines_hz[None]
    table = np.concatenate([np.cos(angles), np.sin(angles)], axis=1)
    # The normal equations: some twenty unknowns, well apart.
    solved = np.linalg.solve(table.T @ table + 1e-9 * np.eye(table.shape[1]), table.T @ values)
    return solved[: len(lines_hz)], solved[len(lines_hz) :]


def _drawn(times: FloatArray, lines_hz: FloatArray, cosines: FloatArray, sines: FloatArray) -> FloatArray:
    """Lines as they sound, shape (N,)."""
    out = np.zeros(len(times))
    for hz, cosine, sine in zip(lines_hz, cosines, sines, strict=True):
        turn = 2 * np.pi * hz * times
        out += cosine * np.cos(turn) + sine * np.sin(turn)
    return out


def _strengths(times: FloatArray, values: FloatArray, lines_hz: FloatArray) -> FloatArray:
    """How much of each frequency there is by itself, shape (F,)."""
    turns = 2 * np.pi * times[:, None] * lines_hz[None]
    return np.asarray(2 / len(values) * np.hypot(values @ np.cos(turns), values @ np.sin(turns)))


def _lines(times: FloatArray, values: FloatArray, base_hz: float) -> Hum | None:
    lines = base_hz * np.arange(1, HARMONICS + 1)
    parts = _fitted(times, values, lines)
    sizes, left = np.hypot(*parts), values - _drawn(times, lines, *parts)
    beside = _strengths(times, left, (lines[:, None] + BESIDE_HZ).ravel()).reshape(HARMONICS, -1)
    sure = (sizes > STANDS_OUT * np.maximum(np.median(beside, axis=1), 1e-9)) & (sizes > ABOVE_ALL * beside.max(axis=1))
    if not (sure[0] or sure.sum() >= LEAST_LINES):
        return None
    return Hum(base_hz, lines[sure], sizes[sure])


def without(mono: FloatArray, sample_hz: int, hum: Hum | None) -> FloatArray:
    """A recording without its hum, which is fitted where nobody speaks, shape (N,)."""
    if hum is None:
        return mono
    quiet = np.repeat(quiet_frames(mono, sample_hz), round(FRAME_S * sample_hz))
    quiet = np.concatenate([quiet, np.zeros(len(mono) - len(quiet), dtype=bool)])
    places = np.flatnonzero(quiet)
    places = places[:: max(len(places) // 40_000, 1)]
    parts = _fitted(places / sample_hz, mono[places], hum.lines_hz)
    return np.asarray(mono - _drawn(np.arange(len(mono)) / sample_hz, hum.lines_hz, *parts))
