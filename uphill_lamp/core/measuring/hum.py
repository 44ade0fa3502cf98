"""Hum of the mains in a recording: lines at whole multiples of one frequency, found where nobody speaks."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
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
AT_ONCE = 100_000  # samples that lines are drawn for at once


@dataclass(frozen=True)
class Hum:
    """Hum: its frequency [Hz], and its lines as multiples of it and amplitude (shape (H,), full scale 1)."""

    frequency_hz: float
    orders: NDArray[np.int64]
    amplitudes: FloatArray

    @property
    def lines_hz(self) -> FloatArray:
        """The lines' frequencies, shape (H,)."""
        return np.asarray(self.frequency_hz * self.orders)

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
        power = [float(np.square(np.abs(_fitted(values, _turning(times, base)))).sum()) for base in around]
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


def _turning(times: FloatArray, base_hz: float) -> NDArray[np.complex128]:
    """The harmonics of a frequency at times (N,), as complex turns, shape (N, HARMONICS)."""
    turns = np.exp(2j * np.pi * base_hz * times)
    return np.asarray(np.cumprod(np.repeat(turns[:, None], HARMONICS, axis=1), axis=1))


def _fitted(values: FloatArray, turns: NDArray[np.complex128]) -> NDArray[np.complex128]:
    """Cosine and sine parts of lines by least squares, all at once, as complex amplitudes, shape (H,), of turns (N, H)."""
    table = np.concatenate([turns.real, turns.imag], axis=1)
    # The normal equations: some twenty unknowns, well apart.
    solved = np.linalg.solve(table.T @ table + 1e-9 * np.eye(table.shape[1]), table.T @ values)
    return np.asarray(solved[: turns.shape[1]] + 1j * solved[turns.shape[1] :])


def _drawn(parts: NDArray[np.complex128], turns: NDArray[np.complex128]) -> FloatArray:
    """Lines as they sound, shape (N,)."""
    return np.asarray(turns.real @ parts.real + turns.imag @ parts.imag)


def _lines(times: FloatArray, values: FloatArray, base_hz: float) -> Hum | None:
    turns = _turning(times, base_hz)
    parts = _fitted(values, turns)
    sizes, left = np.abs(parts), values - _drawn(parts, turns)
    # How much there is beside each line, each by itself.
    away = np.exp(2j * np.pi * times[:, None] * BESIDE_HZ[None])
    beside = 2 / len(values) * np.abs((left[:, None] * turns).T @ away)
    sure = (sizes > STANDS_OUT * np.maximum(np.median(beside, axis=1), 1e-9)) & (sizes > ABOVE_ALL * beside.max(axis=1))
    if not (sure[0] or sure.sum() >= LEAST_LINES):
        return None
    orders = np.arange(1, HARMONICS + 1)[sure]
    return Hum(base_hz, orders, sizes[sure])


def usual_hum(hums: Sequence[Hum | None]) -> Hum | None:
    """The hum of a recording from that of its pieces: each line that half of them and more have, in the mean of its power."""
    if len(hums) == 1:
        return hums[0]
    there = [hum for hum in hums if hum is not None]
    mains = Counter(round(hum.frequency_hz) for hum in there).most_common(1)
    alike = [hum for hum in there if round(hum.frequency_hz) == mains[0][0]]
    sizes: dict[int, list[float]] = {}
    for hum in alike:
        for order, size in zip(hum.orders.tolist(), hum.amplitudes.tolist(), strict=True):
            sizes.setdefault(order, []).append(size)
    kept = {order: float(np.sqrt(np.mean(np.square(each)))) for order, each in sorted(sizes.items()) if 2 * len(each) >= len(hums)}
    if not kept:
        return None
    base = float(np.mean([hum.frequency_hz for hum in alike]))
    return Hum(base, np.array(list(kept)), np.array(list(kept.values())))


def without(mono: FloatArray, sample_hz: int, hum: Hum | None) -> FloatArray:
    """A recording without its hum, which is fitted where nobody speaks, shape (N,)."""
    if hum is None:
        return mono
    quiet = np.repeat(quiet_frames(mono, sample_hz), round(FRAME_S * sample_hz))
    quiet = np.concatenate([quiet, np.zeros(len(mono) - len(quiet), dtype=bool)])
    places = np.flatnonzero(quiet)
    places = places[:: max(len(places) // 40_000, 1)]
    parts = _fitted(mono[places], _turning(places / sample_hz, hum.frequency_hz)[:, hum.orders - 1])
    out = mono.copy()
    for begin in range(0, len(mono), AT_ONCE):
        times = np.arange(begin, min(begin + AT_ONCE, len(mono))) / sample_hz
        out[begin : begin + AT_ONCE] -= _drawn(parts, _turning(times, hum.frequency_hz)[:, hum.orders - 1])
    return out
