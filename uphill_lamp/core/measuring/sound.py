"""All figures of a recording (docs/method/measuring.md, "Sound")."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring import decay, faults, levels, pace
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.hum import Hum, hum_of, without
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ

SHORTEST_S, CLAP_S = 1.0, 0.15
LEAST_SNR_DB = 3.0
LEAD_S, BLOCK_S = 0.15, 0.5  # off the first word and the beginning; clocks tick once and more in a block
NOT_LOSSLESS = "too compressed to tell: record without compression"
SILENT = "there is nothing to be heard"
SHORT = "too short: a second at least"


@dataclass(frozen=True, eq=False)
class Recording:
    """Samples of shape (N, channels), full scale 1; ``lossless`` where nothing was thrown away on the way."""

    samples: FloatArray
    sample_hz: int
    lossless: bool = True

    @property
    def mono(self) -> FloatArray:
        """The mean of the channels that carry something, shape (N,)."""
        dead = faults.dead_channels(self.samples)
        alive = [index for index in range(self.samples.shape[1]) if index + 1 not in dead]
        return np.asarray(self.samples[:, alive].mean(axis=1))


NAMES = ("integrated_lufs", "true_peak_dbtp", "speech_active_dbfs", "noise_dbfs", "snr_db", "snr_a_db", "hum", "clipped_samples", "pops_s", "keys_s",
         "dead_channels", "band_edge_hz", "t20_s", "claps_s", "speech_start_s", "speech_end_s", "words_a_minute")  # fmt: skip


def sound_figures(recording: Recording) -> tuple[Figure, ...]:
    """All figures of a recording; those that are not to be had are refused with the reason."""
    samples, rate = recording.samples, recording.sample_hz
    why = SHORT if len(samples) < SHORTEST_S * rate else SILENT if not np.abs(samples).max(initial=0.0) > 1e-6 else ""
    if why:
        return tuple(refused(f"sound.{name}", why) for name in NAMES)
    mono = recording.mono - recording.mono.mean()
    hum = hum_of(mono, rate)
    plain = without(mono, rate, hum)
    noise = levels.noise_power(levels.high_passed(plain, rate, 20.0), rate)
    claps = decay.claps_s(plain, rate)
    rings = pace.clap_spans_s(plain, rate, noise, claps)
    speech = _speech(_without(plain, rate, rings), rate, noise, claps)
    return (
        *_levels(recording, noise, speech),
        _voice_over_noise(plain, rate, noise, speech, hum, rings),
        Figure("sound.hum", hum.data() if hum else [], "", 0.5),
        *_broken(recording, plain, claps),
        *_room(plain, rate, claps),
        *_when(plain, rate, noise, speech, rings),
    )


def _speech(mono: FloatArray, rate: int, noise: float, claps: list[float]) -> float | None:
    """Active level of the speech [dBFS]; None where there is none to be told from the noise."""
    active = levels.active_speech(mono, rate, noise)
    if active is None or active[0] - levels.dbfs(noise) < LEAST_SNR_DB:
        return None
    # Claps alone are loud for a few hundredths of a second, and no speech.
    return None if claps and active[1] * len(mono) / rate < 0.6 * len(claps) + 0.5 else active[0]


def _without(samples: FloatArray, rate: int, rings: list[tuple[float, float]], span: tuple[float, float] | None = None) -> FloatArray:
    """Samples without claps and what rings after them, of a span [s] or of all, shape (N,)."""
    kept = np.ones(len(samples), dtype=bool)
    for begin, end in rings:
        kept[round(begin * rate) : round(end * rate)] = False
    if span is not None:
        kept[: round(span[0] * rate)], kept[round(span[1] * rate) :] = False, False
    return samples[kept] if kept.any() else samples


def _levels(recording: Recording, noise: float, speech: float | None) -> tuple[Figure, ...]:
    samples, rate = recording.samples, recording.sample_hz
    loudness = levels.loudness_lufs(samples, rate)
    nobody = "nobody speaks, or no louder than the noise"
    clipped = "clipped: how loud it was is not to be told" if faults.clipped_samples(samples) else ""
    noise_figure = Figure("sound.noise_dbfs", levels.dbfs(noise), "dBFS", 1.0) if noise else refused(
        "sound.noise_dbfs", "there is no pause that is not cut to silence", "dBFS")  # fmt: skip
    clear = speech is not None and not clipped
    return (
        Figure("sound.integrated_lufs", loudness, "LUFS", 0.1 if rate > 8000 else 0.3) if loudness is not None else refused(
            "sound.integrated_lufs", SILENT, "LUFS"),
        Figure("sound.true_peak_dbtp", levels.true_peak_dbtp(samples), "dBTP", 0.2),
        Figure("sound.speech_active_dbfs", speech, "dBFS", 0.5) if clear else refused("sound.speech_active_dbfs", clipped or nobody, "dBFS"),
        noise_figure,
        Figure("sound.snr_db", speech - levels.dbfs(noise), "dB", 1.5) if clear and noise and speech is not None else refused(
            "sound.snr_db", clipped or nobody, "dB"),
    )  # fmt: skip


def _voice_over_noise(
    mono: FloatArray, rate: int, noise: float, speech: float | None, hum: Hum | None, rings: list[tuple[float, float]]
) -> Figure:
    """Voice over noise, hum and all, as an ear hears both: A-weighted, from the first word to the last."""
    span = pace.speech_span_s(mono, rate, noise, rings) if speech is not None and noise else None
    if span is None:
        return refused("sound.snr_a_db", "nobody speaks, or there is no pause", "dB")
    heard = levels.a_weighted(mono, rate)
    quiet = _quiet_power(heard, rate, span[0])
    if hum is not None:
        quiet += float(((hum.amplitudes * levels.a_gains(hum.lines_hz)) ** 2).sum() / 2)
    voice = float((_without(heard, rate, rings, span) ** 2).mean()) - quiet
    return Figure("sound.snr_a_db", levels.dbfs(voice) - levels.dbfs(quiet), "dB", 1.5)


def _quiet_power(heard: FloatArray, rate: int, begins_s: float) -> float:
    """Power of the noise: what is usual in blocks before the first word, where there are three, ticks of clocks and all; else its floor."""
    block = round(BLOCK_S * rate)
    before = heard[round(LEAD_S * rate) : max(round((begins_s - LEAD_S) * rate), 0)]
    if len(before) < 3 * block:
        return levels.noise_power(heard, rate)
    # The middle of them: one in which somebody moved, or a door fell shut, counts for nothing.
    return float(np.median((before[: len(before) // block * block].reshape(-1, block) ** 2).mean(axis=1)))


def _broken(recording: Recording, mono: FloatArray, claps: list[float]) -> tuple[Figure, ...]:
    samples, rate = recording.samples, recording.sample_hz
    clipped = faults.clipped_samples(samples)
    edge = faults.band_edge_hz(mono, rate)
    narrow = rate <= 16000
    return (
        Figure("sound.clipped_samples", float(clipped), "", 0.05 * clipped) if recording.lossless else refused(
            "sound.clipped_samples", NOT_LOSSLESS),
        Figure("sound.pops_s", [at for at in faults.pops_s(mono, rate) if not any(abs(at - clap) < CLAP_S for clap in claps)], "s", 0.03),
        Figure("sound.keys_s", [at for at in faults.keys_s(mono, rate) if not any(abs(at - clap) < CLAP_S for clap in claps)], "s", 0.03, "fair"),
        Figure("sound.dead_channels", list(faults.dead_channels(samples))),
        Figure("sound.band_edge_hz", edge or rate / 2, "Hz", 500.0) if edge or narrow else refused(
            "sound.band_edge_hz", f"none: it goes on to {rate / 2000:g} kHz", "Hz"),
    )  # fmt: skip


def _room(mono: FloatArray, rate: int, claps: list[float]) -> tuple[Figure, ...]:
    if not claps:
        why = "nobody claps"
        return refused("sound.t20_s", why, "s"), Figure("sound.claps_s", [], "s", 0.03)
    times = decay.decay_s(mono, rate, claps)
    listed = [{"hz": float(hz), "s": value} for hz, value in zip(CENTRES_HZ, times, strict=True)]
    figure = Figure("sound.t20_s", listed, "s", None, "fair") if any(times) else refused(
        "sound.t20_s", "the clap drowns in the noise before it has died away by 35 dB", "s")  # fmt: skip
    return figure, Figure("sound.claps_s", list(claps), "s", 0.03)


def _when(mono: FloatArray, rate: int, noise: float, speech: float | None, rings: list[tuple[float, float]]) -> tuple[Figure, ...]:
    span = pace.speech_span_s(mono, rate, noise, rings) if speech is not None else None
    if span is None:
        return tuple(refused(f"sound.{name}", "nobody speaks") for name in ("speech_start_s", "speech_end_s", "words_a_minute"))
    words = pace.words_a_minute(mono, rate, span)
    return (
        Figure("sound.speech_start_s", span[0], "s", 0.2),
        Figure("sound.speech_end_s", span[1], "s", 0.2),
        Figure("sound.words_a_minute", words, "words/min", 0.15 * words, "fair") if words else refused(
            "sound.words_a_minute", "less than two seconds of speech", "words/min"),
    )  # fmt: skip
