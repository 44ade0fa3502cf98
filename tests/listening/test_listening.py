"""What is heard agrees with the plan: level over noise, reverberation, loudness; recordings are read with suspicion."""

from __future__ import annotations

import io
from typing import Any
from unittest import TestCase

import numpy as np
import pyloudnorm
import soundfile
from hypothesis import given
from hypothesis import strategies as st
from scipy.signal import oaconvolve

from tests.promise import promise
from tests.setups import demo, demos, put
from uphill_lamp.core.areas.sound.comparison import candidates
from uphill_lamp.core.document import Refused
from uphill_lamp.core.field.sound.capsule import PATTERN_P, heard_by
from uphill_lamp.core.field.sound.octaves import a_level
from uphill_lamp.core.field.sound.room import room_sound, side_absorption
from uphill_lamp.core.field.sound.touch import proximity_effect_db
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ
from uphill_lamp.listening import bands
from uphill_lamp.listening.bands import SAMPLE_HZ
from uphill_lamp.listening.impulse import impulse_of
from uphill_lamp.listening.own import read_voice
from uphill_lamp.listening.render import (
    FOLDER,
    LEAD_S,
    LOUDNESS_LUFS,
    VOICES,
    around_of,
    as_wav,
    dry_voice,
    rendered,
    reverberation_s,
    snr_db,
    ticks,
)

SIDES = (("floor", ("",)), ("ceiling", ("",)), ("wall_", ("x0", "x1", "y0", "y1")))


def in_use(setup: Any) -> Any:
    return setup.microphone_in_use


def even(samples: Any) -> Any:
    return samples[: len(samples) // 2 * 2]


def recording(samples: Any, rate: int = 16000, kind: str = "WAV") -> bytes:
    file = io.BytesIO()
    soundfile.write(file, samples, rate, format=kind)
    return file.getvalue()


class Bands(TestCase):
    def test_octaves_add_up_to_the_signal(self) -> None:
        signal = np.random.default_rng(1).standard_normal(SAMPLE_HZ)
        spectrum = np.abs(np.fft.rfft(bands.split(signal).sum(axis=0) - signal))
        above = np.fft.rfftfreq(len(signal), 1 / SAMPLE_HZ) > 100
        self.assertLess(float(spectrum[above].max()), 1e-6 * float(np.abs(np.fft.rfft(signal)).max()))

    @promise(20)
    @given(st.lists(st.floats(0, 80), min_size=7, max_size=7))
    def test_noise_has_the_wished_level_as_a_whole(self, wanted: list[float]) -> None:
        made = bands.noise(np.array(wanted), SAMPLE_HZ, 3)
        self.assertAlmostEqual(a_level(bands.levels_db(made)), a_level(np.array(wanted)), delta=3)  # neighbours share their borders

    def test_a_tone_is_in_its_octave(self) -> None:
        tone = np.sqrt(2) * np.sin(2 * np.pi * 1000 * np.arange(SAMPLE_HZ) / SAMPLE_HZ)
        levels = bands.levels_db(tone)
        self.assertEqual(int(levels.argmax()), 3)
        self.assertAlmostEqual(float(levels[3]), 94.0, delta=0.01)


class AsPlanned(TestCase):
    def test_level_over_noise_and_loudness_of_the_file(self) -> None:
        for name in demos():
            setup = demo(name)
            voice = "high" if setup.presenter.voice == "female" else "low"
            dry = dry_voice(voice)
            actual = rendered(setup, in_use(setup), dry)
            self.assertAlmostEqual(snr_db(actual), actual.heard.snr_db, delta=1.5, msg=name)
            played, rate = soundfile.read(io.BytesIO(as_wav(actual.played)))
            self.assertEqual(rate, SAMPLE_HZ)
            self.assertAlmostEqual(pyloudnorm.Meter(rate).integrated_loudness(played), LOUDNESS_LUFS, delta=0.5, msg=name)
            # From the file alone: what is there before the first word, and while it is spoken.
            lead = int(LEAD_S * rate)
            before, spoken = even(played[2000 : lead - 2000]), even(played[lead + 2000 : lead + 2000 + len(dry)])
            noise, both = (10 ** (a_level(bands.levels_db(part)) / 10) for part in (before, spoken))
            if actual.heard.snr_db < 35:  # a quieter room's noise is lost in the file's last bits
                self.assertAlmostEqual(10 * np.log10((both - noise) / noise), actual.heard.snr_db, delta=1.5, msg=name)

    def test_reverberation_of_the_way_to_the_capsule(self) -> None:
        for name in demos():
            setup = demo(name)
            way = impulse_of(setup, in_use(setup))
            plan, actual = way.heard.room.t60_s, reverberation_s(way.room)
            np.testing.assert_allclose(actual, plan, rtol=0.1, err_msg=name)
            # As a file has it: a clap heard through the same room, its straight sound left out.
            clap = np.zeros(SAMPLE_HZ)
            clap[100] = 1.0
            self.assertAlmostEqual(
                float(reverberation_s(even(oaconvolve(clap, way.room)))[2:4].mean() / plan[2:4].mean()), 1, delta=0.1, msg=name
            )

    def test_straight_sound_over_the_room_is_the_plans(self) -> None:
        for candidate in candidates(demo("clock-bench"))[:6]:
            assert candidate.heard is not None
            way = impulse_of(demo("clock-bench"), candidate.microphone)
            noise = np.random.default_rng(2).standard_normal(SAMPLE_HZ)
            straight, room = (bands.levels_db(even(oaconvolve(noise, part)))[3] for part in (way.straight, way.room))
            path, plan_db = candidate.heard.path, float(candidate.heard.direct_db[3] - candidate.heard.reverberant_db[3])
            near_db = proximity_effect_db(PATTERN_P[candidate.microphone.pattern], path.distance_m, path.off_axis_deg, CENTRES_HZ)[3]
            self.assertAlmostEqual(straight - room, plan_db + float(near_db), delta=0.6, msg=candidate.name)

    def test_the_same_twice_and_alike_loud_through_all(self) -> None:
        setup = demo("kitchen-table")
        actual = [rendered(setup, candidate.microphone, dry_voice("low")) for candidate in candidates(setup)[:3]]
        for item in actual:
            self.assertAlmostEqual(item.played_lufs, actual[0].played_lufs, delta=0.5)
            self.assertLessEqual(float(np.abs(item.played).max()), 0.98)
        again = rendered(setup, candidates(setup)[0].microphone, dry_voice("low"))
        np.testing.assert_array_equal(again.played, actual[0].played)

    def test_clocks_tick_and_are_as_loud_as_planned(self) -> None:
        level = np.array([10.0, 16, 22, 27, 30, 31, 28])
        heard = ticks(level, 4 * SAMPLE_HZ, 5)
        np.testing.assert_allclose(bands.levels_db(heard), level, atol=1.5)
        power = (heard.reshape(-1, SAMPLE_HZ // 100) ** 2).mean(axis=1)
        self.assertGreater(float(power.max()), 20 * float(np.median(power)))
        setup = demo("clock-bench")
        microphone = in_use(setup)
        plan = heard_by(setup, microphone)
        around = around_of(setup, microphone, plan, 4 * SAMPLE_HZ)
        self.assertAlmostEqual(a_level(bands.levels_db(around)), plan.noise_db_a, delta=0.7)

    def test_odd_rooms_and_places(self) -> None:
        base = demo("clock-bench")
        for own, t60 in ((1.0, None), (0.01, None), (0.1, [0.4] * 7)):
            finish = {"reflectance": 0.5, "absorption": [own] * 7}
            surfaces = {f"{kind}{end}": finish for kind, ends in SIDES for end in ends}
            setup = put(base, room__surfaces=surfaces, room__measured_t60_s=t60)
            way = impulse_of(setup, in_use(setup))
            self.assertTrue(np.isfinite(way.whole).all())
        worn = next(candidate.microphone for candidate in candidates(base) if candidate.microphone.kind == "headset")
        inside = worn.model_copy(update={"from_mouth": worn.from_mouth.model_copy(update={"forward_m": 0.0, "left_m": 0.0, "up_m": 0.0})})  # type: ignore[union-attr]
        self.assertTrue(np.isfinite(impulse_of(base, inside).whole).all())
        self.assertTrue(np.isfinite(heard_by(base, inside).sti))

    def test_sides_of_the_room_mean_what_the_room_means(self) -> None:
        for name in demos():
            room = demo(name).room
            sides, sound = side_absorption(room), room_sound(room)
            w, d, h = room.width_m, room.depth_m, room.height_m
            areas = {"floor": w * d, "ceiling": w * d, "wall_x0": d * h, "wall_x1": d * h, "wall_y0": w * h, "wall_y1": w * h}
            mean = sum(areas[side] * sides[side] for side in sides) / sound.surface_m2
            np.testing.assert_allclose(mean, sound.mean_absorption, atol=0.02)


class Voices(TestCase):
    def test_they_ship_dry_short_and_small(self) -> None:
        for name in VOICES:
            voice = dry_voice(name)
            self.assertTrue(4 < len(voice) / SAMPLE_HZ < 9)
            self.assertLess((FOLDER / f"{name}.flac").stat().st_size, 400_000)

    def test_a_recording_becomes_a_sample(self) -> None:
        tone = 0.2 * np.sin(np.arange(3 * 16000) * 0.2)
        for kind in ("WAV", "FLAC", "OGG"):
            voice = read_voice(recording(np.stack([tone, tone], axis=1), kind=kind))
            self.assertAlmostEqual(len(voice) / SAMPLE_HZ, 3, delta=0.05)
            self.assertAlmostEqual(float(np.abs(voice).max()), 0.7, places=6)
        self.assertAlmostEqual(len(read_voice(recording(np.tile(tone, 60)))) / SAMPLE_HZ, 12, delta=0.01)  # of three minutes the first 12 s

    def test_what_is_no_voice_is_refused_with_words(self) -> None:
        cases = {
            "no recording": b"a text file named .wav", "silence": recording(np.zeros(32000)), "0.5 s": recording(np.ones(8000) * 0.1),
            "MB": b"\0" * 12_000_001, "no numbers": self._not_numbers(), "channels": recording(np.zeros((16000, 9))),
        }  # fmt: skip
        for words, data in cases.items():
            with self.assertRaises(Refused) as caught:
                read_voice(data)
            self.assertIn(words, caught.exception.faults[0].found, words)

    @promise(60)
    @given(st.binary(max_size=200))
    def test_noise_of_bytes_is_refused_and_nothing_else(self, tail: bytes) -> None:
        with self.assertRaises(Refused):
            read_voice(recording(np.zeros(100))[:44] + tail)

    @staticmethod
    def _not_numbers() -> bytes:
        file = io.BytesIO()
        soundfile.write(file, np.full(32000, np.nan, np.float32), 16000, format="WAV", subtype="FLOAT")
        return file.getvalue()
