"""Sound against statistical reference values, and the laws it must keep."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.setups import any_setup, demo, put, reference
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.field.sound import octaves
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Path, directivity_factor, heard_by, pattern_gain, speech_at, speech_octaves_db
from uphill_lamp.core.field.sound.room import room_sound, statistics_of


class AgainstTheReference(TestCase):
    def test_times_levels_and_ratios_of_eight_rooms(self) -> None:
        for case in reference("sound_open")["cases"]:
            with self.subTest(case["id"]):
                areas = [(wall["area_m2"], np.array(wall["alpha"])) for wall in case["walls"]]
                room, expected = statistics_of(case["volume_m3"], areas, np.zeros(7)), case["expected"]
                np.testing.assert_allclose(room.t60_s, expected["t60_eyring_s"], rtol=0.005)
                np.testing.assert_allclose(room.sabine_t60_s, expected["t60_sabine_s"], rtol=0.005)
                np.testing.assert_allclose(np.sqrt(room.critical_squared_m2), expected["critical_distance_omni_m"], rtol=0.005)
                if case["talker"] != "human":
                    continue  # one case has a talker of another kind
                microphone = case["microphone"]
                path = Path(microphone["distance_m"], case["angle_to_mic_deg"], microphone["off_axis_deg"])
                direct, reverberant = speech_at(room, path, microphone["p"], np.array(case["speech_1m_db"]))
                np.testing.assert_allclose(direct, expected["direct_db"], atol=0.05)
                np.testing.assert_allclose(reverberant, expected["reverberant_db"], atol=0.05)
                self.assertAlmostEqual(octaves.a_level(direct) - octaves.a_level(reverberant), expected["drr_a_db"], delta=0.05)
                speech = octaves.a_level(octaves.summed(direct, reverberant))
                self.assertAlmostEqual(speech, expected["speech_dba"], delta=0.05)
                noise = octaves.a_level(np.array(case["noise_omni_db"]) - 10 * math.log10(float(directivity_factor(microphone["p"]))))
                self.assertAlmostEqual(noise, expected["noise_dba"], delta=0.05)
        np.testing.assert_allclose(octaves.A_WEIGHTS_DB, reference("sound_open")["a_weights"])

    def test_speech_of_both_voices_has_its_level(self) -> None:
        for voice in octaves.SPEECH_SHAPE_DB:
            for effort, level in octaves.EFFORT_DB_A.items():
                self.assertAlmostEqual(octaves.a_level(speech_octaves_db(voice, effort)), level)


class Laws(TestCase):
    @given(st.sampled_from(sorted(PATTERN_P)))
    def test_directivity_is_the_mean_over_all_directions(self, pattern: str) -> None:
        cosines = np.linspace(-1, 1, 20001)
        mean = np.mean([(PATTERN_P[pattern] + (1 - PATTERN_P[pattern]) * cosines) ** 2])
        self.assertAlmostEqual(float(directivity_factor(PATTERN_P[pattern])) * mean, 1, places=3)
        self.assertAlmostEqual(float(pattern_gain(PATTERN_P[pattern], 0)), 1)

    @given(st.floats(0.05, 1.2), st.floats(0.01, 0.6))
    def test_nearer_is_never_less_clear(self, away: float, step: float) -> None:
        room = room_sound(demo().room)
        near, far = (octaves.a_level(speech_at(room, Path(d, 0, 0), 0.5, np.zeros(7))[0]) for d in (away, away + step))
        self.assertGreater(near, far)

    @given(any_setup, st.sampled_from(["sofa", "rug", "heavy_curtain", "duvet"]), st.integers(1, 5))
    def test_soft_things_never_lengthen_the_reverberation(self, setup: Any, kind: str, count: int) -> None:
        thing = {"id": "soft", "name": "Soft thing", "kind": kind, "count": count}
        softer = put(setup, room__furnishings=[*(item.model_dump() for item in setup.room.furnishings), thing])
        self.assertTrue((room_sound(softer.room).t60_s <= room_sound(setup.room).t60_s).all())

    def test_a_measured_time_wins(self) -> None:
        self.assertEqual(room_sound(put(demo(), room__measured_t60_s=[0.5] * 7).room).t60_s.tolist(), [0.5] * 7)

    def test_a_cardioid_turned_away_from_a_noise_hears_less_of_it(self) -> None:
        setup = put(demo("standing-webinar"), room__surfaces__ceiling="acoustic_ceiling")
        towards = put(setup, microphones__desk_h_mic__aim_yaw_deg=28.0)
        self.assertLess(heard_by(setup, setup.microphones[0]).noise_db_a, heard_by(towards, towards.microphones[0]).noise_db_a)

    def test_headphones_end_the_echo_and_no_microphone_is_no_crash(self) -> None:
        self.assertEqual(appraise(put(demo(), computer__listening="headphones")).measures["sound.echo"].value, 60)
        silent = appraise(put(demo(), microphones__laptop_h_mic__in_use=False))
        self.assertIsNone(silent.measures["sound.snr"].value)
        self.assertEqual(silent.area("sound").score, 0)  # type: ignore[union-attr]
        finding = next(finding for finding in silent.findings_with_gains if finding.id == "sound.no_microphone")
        self.assertTrue(finding.moves)
