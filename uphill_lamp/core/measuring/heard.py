"""What is kept of a recording, or of a piece of a long one: all that its figures are worked out from, and none of its samples."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring import decay, faults, levels, pace
from uphill_lamp.core.measuring.hum import Hum, hum_of, without
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ, octave_filter
from uphill_lamp.core.measuring.pace import Steps, steps_of
from uphill_lamp.core.measuring.recording import Recording

SHORTEST_S, CLAP_S = 1.0, 0.15
RUMBLE_HZ = 20.0  # what is lower is not heard, and no noise


@dataclass(frozen=True, eq=False)
class Heard:
    """A piece of a recording as it was heard; times count from the recording's begin, powers against full scale 1.

    Args:
        sample_hz, samples, lossless: of the piece.
        products: means of the channels times one another, shape (C, C).
        true_peak: between samples.
        highest: of each channel, upright and upside down.
        blocks_lufs: of BS.1770.
        hum: of the mains; it is taken off before what follows.
        frames: mean squares over 20 Hz in frames of 50 ms, shape (F,).
        spoken: what P.56 counts, claps left out.
        steps, voice, weighted: in steps of 10 ms: all, what tells syllables, and as an ear hears it.
        octaves: mean squares from 125 Hz to 8 kHz in frames, shape (7, F); NaN where the rate does not reach.
        frames_s: when those begin [s], shape (F,).
        spectrum: by frequency to half the rate.
        claps_s, rings_s: claps, and from before each to where what rings after it has died away.
        decays_s: T20 after each clap, by octave.
        pops_s, keys_s: breath and keys; none that is a clap.
    """

    sample_hz: int
    samples: int
    lossless: bool
    products: FloatArray
    true_peak: float
    highest: tuple[faults.Highest, ...]
    blocks_lufs: FloatArray
    hum: Hum | None
    frames: FloatArray
    spoken: levels.Spoken
    steps: Steps
    voice: Steps
    weighted: Steps
    octaves: FloatArray
    frames_s: FloatArray
    spectrum: FloatArray
    claps_s: tuple[float, ...]
    rings_s: tuple[tuple[float, float], ...]
    decays_s: tuple[tuple[float, ...], ...]
    pops_s: tuple[float, ...]
    keys_s: tuple[float, ...]


def heard(recording: Recording, begin_s: float = 0.0) -> Heard:
    """A recording, or a piece of one, heard: a second of it at least.

    Args:
        begin_s: when the piece begins within the whole.
    """
    samples, rate = recording.samples, recording.sample_hz
    mixed = recording.mono
    mono = mixed - mixed.mean()
    hum = hum_of(mono, rate)
    plain = without(mono, rate, hum)
    frames = levels.frame_powers(levels.high_passed(plain, rate, RUMBLE_HZ), rate)
    claps = decay.claps_s(plain, rate)
    rings = pace.clap_spans_s(steps_of(plain, rate), levels.noise_power(frames), claps)
    octaves = _octaves(mixed, rate)
    return Heard(
        rate, len(samples), recording.lossless,
        samples.T @ samples / len(samples), levels.true_peak(samples), tuple(faults.highest_of(samples)),
        levels.loudness_blocks(samples, rate), hum, frames, levels.spoken_in(_but(plain, rate, rings), rate),
        steps_of(plain, rate, begin_s), steps_of(pace.voiced(plain, rate), rate, begin_s), steps_of(levels.a_weighted(plain, rate), rate, begin_s),
        octaves, begin_s + levels.frame_size(rate) / rate * np.arange(octaves.shape[1]), faults.spectrum_of(plain, rate),
        tuple(begin_s + clap for clap in claps), tuple((begin_s + begin, begin_s + end) for begin, end in rings),
        tuple(map(tuple, decay.decays_s(plain, rate, claps))),
        _apart(faults.pops_s(plain, rate), claps, begin_s), _apart(faults.keys_s(plain, rate), claps, begin_s),
    )  # fmt: skip


def _but(samples: FloatArray, rate: int, rings: list[tuple[float, float]]) -> FloatArray:
    """Samples without claps and what rings after them, shape (N,)."""
    kept = np.ones(len(samples), dtype=bool)
    for begin, end in rings:
        kept[round(begin * rate) : round(end * rate)] = False
    return samples[kept] if kept.any() else samples


def _apart(times_s: list[float], claps: list[float], begin_s: float) -> tuple[float, ...]:
    """Times within the whole of what is no clap."""
    return tuple(begin_s + at for at in times_s if not any(abs(at - clap) < CLAP_S for clap in claps))


def _octaves(mono: FloatArray, rate: int) -> FloatArray:
    from scipy.signal import sosfilt

    rows = []
    for centre_hz in CENTRES_HZ:
        sections = octave_filter(float(centre_hz), rate)
        nothing = np.full(len(mono) // levels.frame_size(rate), np.nan)
        rows.append(nothing if sections is None else levels.frame_powers(sosfilt(sections, mono), rate))
    return np.array(rows)
