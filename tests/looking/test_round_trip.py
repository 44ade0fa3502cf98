"""Round trip of a sound: the stand-in for a microphone makes what a setup would send, and what is measured in it is what the plan expects."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.signal import fftconvolve

from tests.promise import promise
from tests.setups import demo, demos, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.check.sheet import expected_of, shown_value
from uphill_lamp.core.document import Setup
from uphill_lamp.core.measuring.recording import Recording
from uphill_lamp.core.measuring.sound import sound_figures
from uphill_lamp.listening import render
from uphill_lamp.listening.impulse import impulse_of

HZ = render.SAMPLE_HZ
SILENT_S, READ_S, CLAP_S, AFTER_S = 3, 9, 1, 4
HEARD_ALWAYS_DB = 14.0  # A-weighted; under that, with what rumbles, nobody may be told from the noise


def taken(setup: Setup, seed: int) -> np.ndarray:
    """Three seconds of silence, a sentence, a clap, silence, as the setup's voice microphone gives them, shape (N,)."""
    microphone = setup.microphone_in_use
    assert microphone is not None
    way, random = impulse_of(setup, microphone), np.random.default_rng(seed)
    voice = fftconvolve(render.spoken(render.dry_voice("calm")[: READ_S * HZ], setup), way.whole)
    times = np.arange(round(0.004 * HZ)) / HZ
    clap = fftconvolve(8 * random.standard_normal(len(times)) * np.exp(-times / 0.0012), way.whole)
    begin = SILENT_S * HZ
    struck = begin + len(voice) + CLAP_S * HZ
    out = np.zeros(struck + len(clap) + AFTER_S * HZ)
    out[begin : begin + len(voice)] += voice
    out[struck : struck + len(clap)] += clap
    out += render.around_of(setup, microphone, way.heard, len(out))[: len(out)]
    return np.round(0.9 * out / np.abs(out).max() * 32767) / 32768


class Sounds(TestCase):
    @promise(30)
    @given(
        st.sampled_from(demos()),
        st.floats(20, 48),
        st.floats(0.7, 1.3),
        st.sampled_from(["relaxed", "normal", "raised"]),
        st.integers(0, 10**6),
    )
    def test_a_simulated_take_gives_what_the_plan_expects(self, name: str, noise_db: float, rings: float, effort: str, seed: int) -> None:
        base = demo(name)
        heard = appraise(base).heard
        assert heard is not None
        times = [round(float(np.clip(value * rings, 0.12, 4.0)), 3) for value in heard.room.t60_s]
        changes = {"room__measured_t60_s": times, "presenter__voice_effort": effort}
        if base.noises:
            changes[f"noises__{base.noises[0].id.replace('-', '_h_')}__level_db_a"] = round(noise_db, 1)
        setup = put(base, **changes)
        plan = appraise(setup)
        figures = {figure.id: figure for figure in sound_figures(Recording(taken(setup, seed)[:, None], HZ))}
        about = f"{name}, {noise_db:.0f} dB, {rings:.2f}, {effort}, {seed}"
        expected_db, expected_s = expected_of("sound.snr_a_db", plan), expected_of("sound.t20_s", plan)
        assert expected_db is not None and expected_s is not None
        over = figures["sound.snr_a_db"]
        if over.value is None:
            self.assertLess(expected_db, HEARD_ALWAYS_DB, about + over.refused)
        else:
            self.assertAlmostEqual(over.value, expected_db, delta=2.5, msg=about)  # type: ignore[arg-type]
            self.assertAlmostEqual(figures["sound.speech_start_s"].value, SILENT_S, delta=0.5, msg=about)  # type: ignore[arg-type]
        self.assertEqual(len(figures["sound.claps_s"].value), 1, about)  # type: ignore[arg-type]
        measured_s = shown_value("sound.t20_s", figures["sound.t20_s"].value)
        if measured_s is not None:
            self.assertAlmostEqual(measured_s, expected_s, delta=0.12 * expected_s + 0.03, msg=about)
        self.assertEqual(figures["sound.hum"].value, [], about)
        self.assertEqual(figures["sound.pops_s"].value, [], about)
        self.assertEqual(figures["sound.clipped_samples"].value, 0, about)
