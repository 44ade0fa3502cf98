"""All figures of a recording (docs/method/measuring.md, "Sound")."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain

import numpy as np

from uphill_lamp.core.measuring import faults, levels, pace
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.heard import SHORTEST_S, Heard, heard
from uphill_lamp.core.measuring.hum import usual_hum
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ
from uphill_lamp.core.measuring.recording import Recording

LEAST_SNR_DB = 3.0
LEAD_S, BLOCK_STEPS = 0.15, 50  # off the first word and the beginning; clocks tick once and more in half a second
FRAME_STEPS = 5
NOT_LOSSLESS = "too compressed to tell: record without compression"
SILENT = "there is nothing to be heard"
SHORT = "too short: a second at least"
NAMES = ("integrated_lufs", "true_peak_dbtp", "speech_active_dbfs", "noise_dbfs", "snr_db", "snr_a_db", "hum", "clipped_samples", "pops_s", "keys_s",
         "dead_channels", "band_edge_hz", "t20_s", "claps_s", "speech_start_s", "speech_end_s", "words_a_minute")  # fmt: skip


def sound_figures(recording: Recording) -> tuple[Figure, ...]:
    """All figures of a recording; those that are not to be had are refused with the reason."""
    short = len(recording.samples) < SHORTEST_S * recording.sample_hz
    return figures_of([] if short else [heard(recording)])


def figures_of(pieces: Sequence[Heard]) -> tuple[Figure, ...]:
    """All figures of a recording from its pieces, in their order; of none, they are refused as too short."""
    if not pieces or not any(highest.peak > 1e-6 for piece in pieces for highest in piece.highest):
        return tuple(refused(f"sound.{name}", SILENT if pieces else SHORT) for name in NAMES)
    whole = _Whole(pieces)
    return (*whole.levels(), whole.voice_over_noise(), whole.hum_figure(), *whole.broken(), *whole.room(), *whole.when())


def products_of(pieces: Sequence[Heard]) -> np.ndarray:
    """Means of the channels times one another over all of a recording, shape (C, C)."""
    return np.average([piece.products for piece in pieces], axis=0, weights=[piece.samples for piece in pieces])


class _Whole:
    """Figures of a whole recording, from what was heard in each of its pieces."""

    def __init__(self, pieces: Sequence[Heard]) -> None:
        self._pieces, self._rate, self._lossless = pieces, pieces[0].sample_hz, pieces[0].lossless
        self._noise = levels.noise_power(np.concatenate([piece.frames for piece in pieces]))
        self._hum = usual_hum([piece.hum for piece in pieces])
        self._claps = list(chain.from_iterable(piece.claps_s for piece in pieces))
        self._rings = list(chain.from_iterable(piece.rings_s for piece in pieces))
        self._speech = self._spoken_dbfs()
        steps = pace.joined([piece.steps for piece in pieces])
        self._span = pace.speech_span_s(steps, self._noise, self._rings) if self._speech is not None else None
        self._clipped = faults.clipped_samples([piece.highest for piece in pieces])

    def _spoken_dbfs(self) -> float | None:
        """Active level of the speech [dBFS]; None where there is none to be told from the noise."""
        spoken = self._pieces[0].spoken
        for piece in self._pieces[1:]:
            spoken += piece.spoken
        active = levels.active_speech(spoken, self._noise)
        if active is None or active[0] - levels.dbfs(self._noise) < LEAST_SNR_DB:
            return None
        # Claps alone are loud for a few hundredths of a second, and no speech.
        return None if self._claps and active[1] / self._rate < 0.6 * len(self._claps) + 0.5 else active[0]

    def levels(self) -> tuple[Figure, ...]:
        loudness = levels.loudness_lufs(np.concatenate([piece.blocks_lufs for piece in self._pieces]))
        nobody, speech, noise = "nobody speaks, or no louder than the noise", self._speech, self._noise
        clipped = "clipped: how loud it was is not to be told" if self._clipped else ""
        noise_figure = Figure("sound.noise_dbfs", levels.dbfs(noise), "dBFS", 1.0) if noise else refused(
            "sound.noise_dbfs", "there is no pause that is not cut to silence", "dBFS")  # fmt: skip
        clear = speech is not None and not clipped
        return (
            Figure("sound.integrated_lufs", loudness, "LUFS", 0.1 if self._rate > 8000 else 0.3) if loudness is not None else refused(
                "sound.integrated_lufs", SILENT, "LUFS"),
            Figure("sound.true_peak_dbtp", levels.dbfs(max(piece.true_peak for piece in self._pieces) ** 2), "dBTP", 0.2),
            Figure("sound.speech_active_dbfs", speech, "dBFS", 0.5) if clear else refused("sound.speech_active_dbfs", clipped or nobody, "dBFS"),
            noise_figure,
            Figure("sound.snr_db", speech - levels.dbfs(noise), "dB", 1.5) if clear and noise and speech is not None else refused(
                "sound.snr_db", clipped or nobody, "dB"),
        )  # fmt: skip

    def voice_over_noise(self) -> Figure:
        """Voice over noise, hum and all, as an ear hears both: A-weighted, from the first word to the last."""
        if self._span is None or not self._noise:
            return refused("sound.snr_a_db", "nobody speaks, or there is no pause", "dB")
        weighted = pace.joined([piece.weighted for piece in self._pieces])
        quiet = _quiet_power(weighted, self._span[0])
        if self._hum is not None:
            quiet += float(((self._hum.amplitudes * levels.a_gains(self._hum.lines_hz)) ** 2).sum() / 2)
        spoken = weighted.within(*self._span)
        for ring in self._rings:
            spoken &= ~weighted.within(*ring)
        voice = float(weighted.powers[spoken].mean()) - quiet if spoken.any() else 0.0
        return Figure("sound.snr_a_db", levels.dbfs(voice) - levels.dbfs(quiet), "dB", 1.5)

    def hum_figure(self) -> Figure:
        return Figure("sound.hum", self._hum.data() if self._hum else [], "", 0.5)

    def broken(self) -> tuple[Figure, ...]:
        spectrum = np.average([piece.spectrum for piece in self._pieces], axis=0, weights=[piece.samples for piece in self._pieces])
        edge, narrow = faults.band_edge_hz(spectrum, self._rate), self._rate <= 16000
        return (
            Figure("sound.clipped_samples", float(self._clipped), "", 0.05 * self._clipped) if self._lossless else refused(
                "sound.clipped_samples", NOT_LOSSLESS),
            Figure("sound.pops_s", list(chain.from_iterable(piece.pops_s for piece in self._pieces)), "s", 0.03),
            Figure("sound.keys_s", list(chain.from_iterable(piece.keys_s for piece in self._pieces)), "s", 0.03, "fair"),
            Figure("sound.dead_channels", list(faults.dead_channels(np.diag(products_of(self._pieces))))),
            Figure("sound.band_edge_hz", edge or self._rate / 2, "Hz", 500.0) if edge or narrow else refused(
                "sound.band_edge_hz", f"none: it goes on to {self._rate / 2000:g} kHz", "Hz"),
        )  # fmt: skip

    def room(self) -> tuple[Figure, ...]:
        if not self._claps:
            return refused("sound.t20_s", "nobody claps", "s"), Figure("sound.claps_s", [], "s", 0.03)
        listed = []
        for number, hz in enumerate(CENTRES_HZ):
            times = [value for piece in self._pieces for value in piece.decays_s[number]]
            listed.append({"hz": float(hz), "s": float(np.median(times)) if times else None})
        figure = Figure("sound.t20_s", listed, "s", None, "fair") if any(octave["s"] for octave in listed) else refused(
            "sound.t20_s", "the clap drowns in the noise before it has died away by 35 dB", "s")  # fmt: skip
        return figure, Figure("sound.claps_s", self._claps, "s", 0.03)

    def when(self) -> tuple[Figure, ...]:
        if self._span is None:
            return tuple(refused(f"sound.{name}", "nobody speaks") for name in ("speech_start_s", "speech_end_s", "words_a_minute"))
        words = pace.words_a_minute(pace.joined([piece.voice for piece in self._pieces]), self._span)
        return (
            Figure("sound.speech_start_s", self._span[0], "s", 0.2),
            Figure("sound.speech_end_s", self._span[1], "s", 0.2),
            Figure("sound.words_a_minute", words, "words/min", 0.15 * words, "fair") if words else refused(
                "sound.words_a_minute", "less than two seconds of speech", "words/min"),
        )  # fmt: skip


def _quiet_power(weighted: pace.Steps, begins_s: float) -> float:
    """Power of the noise: what is usual in blocks before the first word, where there are three, ticks of clocks and all; else its floor."""
    before = weighted.powers[weighted.within(LEAD_S, begins_s - LEAD_S)]
    if len(before) < 3 * BLOCK_STEPS:
        powers = weighted.powers
        return levels.noise_power(powers[: len(powers) // FRAME_STEPS * FRAME_STEPS].reshape(-1, FRAME_STEPS).mean(axis=1))
    # The middle of them: one in which somebody moved, or a door fell shut, counts for nothing.
    return float(np.median(before[: len(before) // BLOCK_STEPS * BLOCK_STEPS].reshape(-1, BLOCK_STEPS).mean(axis=1)))
