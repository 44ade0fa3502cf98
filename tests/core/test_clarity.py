"""Clarity, touch, gain and turns against independent values and closed forms, and the laws they must keep."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import any_setup, demo, put, reference
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.sound.head_turn_loss import Losses, losses_of
from uphill_lamp.core.areas.sound.placement_moves import seen_in_picture
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.document.devices import Input, Microphone
from uphill_lamp.core.field.sound import octaves
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Path, directivity_factor, heard_by, speech_at
from uphill_lamp.core.field.sound.clarity import MODULATION_HZ, clarity_word, modulation_indices, transmission_index
from uphill_lamp.core.field.sound.gain import gain_of
from uphill_lamp.core.field.sound.room import room_sound, statistics_of
from uphill_lamp.core.field.sound.touch import pop_risk, proximity_effect_db

SILENT = np.full(7, -200.0)


def on_arm(**changes: Any) -> Setup:
    """The good room with its microphone changed."""
    return put(demo("room-that-works"), **{f"microphones__boom__{name}": value for name, value in changes.items()})


def xlr(kind: str, **into: Any) -> Microphone:
    sensitivity = {"xlr_dynamic": -55.0, "xlr_condenser": -34.0}[kind]
    boom = demo("room-that-works").microphones[0]
    return boom.model_copy(update={"kind": kind, "sensitivity_dbv": sensitivity, "input": Input(**into)})


def moves_of(appraisal: Appraisal) -> dict[str, Any]:
    return {move.id: move for finding in appraisal.findings_with_gains for move in finding.moves}


class AgainstTheReference(TestCase):
    def test_the_index_of_eight_rooms(self) -> None:
        spread = []
        for case in reference("sound_open")["cases"]:
            with self.subTest(case["id"]):
                expected, microphone = case["expected"], case["microphone"]
                room = statistics_of(case["volume_m3"], [(wall["area_m2"], np.array(wall["alpha"])) for wall in case["walls"]], np.zeros(7))
                noise = np.array(case["noise_omni_db"]) - 10 * math.log10(float(directivity_factor(microphone["p"])))
                direct, reverberant = np.array(expected["direct_db"]), np.array(expected["reverberant_db"])
                if case["talker"] == "human":
                    path = Path(microphone["distance_m"], case["angle_to_mic_deg"], microphone["off_axis_deg"])
                    direct, reverberant = speech_at(room, path, microphone["p"], np.array(case["speech_1m_db"]))
                indices = modulation_indices(direct, reverberant, noise, room.t60_s)
                np.testing.assert_allclose(indices, expected["mti"], atol=0.001)
                actual = transmission_index(indices)
                self.assertAlmostEqual(actual, expected["sti"], delta=0.001)
                quiet = transmission_index(modulation_indices(direct, reverberant, SILENT, room.t60_s))
                self.assertAlmostEqual(quiet, expected["sti_no_noise"], delta=0.001)
                spread.append(actual - expected["sti_ism"])
        # Against image sources the formula is as far off as the reference's own says it is: +0.03, worst +0.10.
        self.assertLess(float(np.mean(spread)), 0.04)
        self.assertLess(max(spread), 0.10)
        np.testing.assert_allclose(MODULATION_HZ, reference("sound_open")["modulation_hz"])

    def test_words_of_the_standard(self) -> None:
        self.assertEqual([clarity_word(sti) for sti in (0.1, 0.3, 0.5, 0.74, 0.75)], ["bad", "poor", "fair", "good", "excellent"])


class ClosedForms(TestCase):
    def test_dry_speech_in_noise_at_0_db_is_halfway(self) -> None:
        level = np.full(7, 60.0)
        np.testing.assert_allclose(modulation_indices(level, SILENT, level, np.ones(7)), 0.5, atol=1e-6)
        for voice in octaves.SPEECH_SHAPE_DB:
            self.assertAlmostEqual(transmission_index(np.ones(7), voice), 1, places=3)
            self.assertEqual(transmission_index(np.zeros(7), voice), 0)

    def test_reverberation_alone_filters_modulations_as_an_exponential_does(self) -> None:
        t60_s = 1.7
        m = 1 / np.sqrt(1 + (2 * np.pi * MODULATION_HZ * t60_s / 13.815511) ** 2)
        wanted = np.mean((np.clip(10 * np.log10(m / (1 - m)), -15, 15) + 15) / 30)
        np.testing.assert_allclose(modulation_indices(SILENT, np.full(7, 60.0), SILENT, np.full(7, t60_s)), wanted, atol=1e-6)

    def test_nearness_by_hand(self) -> None:
        self.assertTrue((proximity_effect_db(1.0, 0.03, 0.0, np.array([125.0, 8000.0])) == 0).all())
        # Cardioid, 5 cm, 125 Hz: kr = 0.1145; |0.5 + 0.5 (1 + 1/(j kr))| = |1 - 4.367 j| = 4.48, 13.0 dB.
        self.assertAlmostEqual(float(proximity_effect_db(0.5, 0.05, 0.0, np.array([125.0]))[0]), 13.03, delta=0.02)
        self.assertLess(float(proximity_effect_db(0.5, 1.0, 0.0, np.array([1000.0]))[0]), 0.1)

    def test_gain_by_hand(self) -> None:
        # 74 dB at a capsule of -55 dBV: -75 dBV, -72.8 dBu; to -18 below a full scale of 9 dBu: 63.8 dB, of which 56 are there.
        gain = gain_of(xlr("xlr_dynamic"), 74.0)
        assert gain is not None
        self.assertAlmostEqual(gain.speech_dbu, -72.8)
        self.assertAlmostEqual(gain.needed_db, 63.8)
        self.assertAlmostEqual(gain.short_db, 7.8)
        self.assertAlmostEqual(gain.input_noise_db_a, -126 - 2.2 + 55 + 94)
        self.assertAlmostEqual(gain.input_noise_dbfs, -126 + 63.8 - 9)
        boosted, loud = gain_of(xlr("xlr_dynamic", booster_db=25.0), 74.0), gain_of(xlr("xlr_condenser"), 74.0)
        assert boosted is not None and loud is not None
        self.assertEqual((boosted.short_db, loud.short_db), (0.0, 0.0))
        self.assertAlmostEqual(boosted.input_noise_db_a, gain.input_noise_db_a - 25)
        self.assertIsNone(gain_of(demo().microphones[0], 70.0))

    def test_pops_by_distance_and_angle(self) -> None:
        self.assertEqual(pop_risk(0.03, 0.0, False), 1)
        for risk in (pop_risk(0.03, 0.0, True), pop_risk(0.13, 0.0, False), pop_risk(0.05, 20.0, False)):
            self.assertEqual(risk, 0)
        self.assertAlmostEqual(pop_risk(0.075, 10.0, False), 0.25)


class Laws(TestCase):
    @given(st.floats(0.03, 3.0), st.floats(0.0, 1.0), st.floats(0.2, 3.0), st.floats(20, 70), st.sampled_from(sorted(PATTERN_P)))
    def test_nearer_is_never_less_clear(self, away_m: float, share: float, t60_s: float, noise_db: float, pattern: str) -> None:
        room = statistics_of(40.0, [(70.0, np.full(7, 0.161 * 40 / (70 * t60_s)))], np.zeros(7))
        speech, actual = np.array([62.9, 62.9, 59.2, 53.2, 47.2, 41.2, 35.2]), []
        for metres in (away_m, away_m * (1 - 0.9 * share)):
            direct, reverberant = speech_at(room, Path(metres, 0.0, 0.0), PATTERN_P[pattern], speech)
            actual.append(transmission_index(modulation_indices(direct, reverberant, np.full(7, noise_db), room.t60_s)))
        self.assertGreaterEqual(actual[1], actual[0] - 1e-9)

    @promise(40)
    @given(any_setup, st.floats(0, 20))
    def test_more_noise_is_no_clearer_and_all_figures_are_finite(self, setup: Setup, louder_db: float) -> None:
        """No clearer by more than a trace: the standard takes off what neighbouring octaves tell twice, less so when one of them is lost."""
        louder = put(setup, noises=[noise.model_dump() | {"level_db_a": min(noise.level_db_a + louder_db, 110)} for noise in setup.noises])
        before, after = appraise(setup), appraise(louder)
        for measure in before.area("sound").measures:  # type: ignore[union-attr]
            self.assertTrue(measure.value is None or math.isfinite(measure.value), measure.id)
        if before.heard and after.heard:
            self.assertLessEqual(after.heard.sti, before.heard.sti + 0.005)

    def test_what_the_body_carries_turns_along_and_what_stands_does_not(self) -> None:
        setup = on_arm(aim_yaw_deg=220.0)
        microphone = setup.microphones[0]
        heard = heard_by(setup, microphone)
        losses = losses_of(setup, microphone, heard)
        self.assertGreater(losses.wide.level_db, losses.turn.level_db)
        self.assertGreater(losses.turn.level_db, 0)
        self.assertGreater(losses.lean.level_db, 0)
        worn = microphone.model_copy(update={"at": "body"})
        self.assertEqual(losses_of(setup, worn, heard), Losses())

    def test_a_turn_is_what_turning_presenter_and_microphone_about_gives(self) -> None:
        setup = on_arm()
        presenter, microphone = setup.presenter, setup.microphones[0]
        heard = heard_by(setup, microphone)
        actual, neck_m = losses_of(setup, microphone, heard).turn.level_db, 0.085
        levels = []
        for side in (-30.0, 30.0):
            yaw = [math.radians(presenter.facing_yaw_deg + turn) for turn in (0.0, side)]
            x_m = presenter.x_m + neck_m * (math.sin(yaw[1]) - math.sin(yaw[0]))
            y_m = presenter.y_m + neck_m * (math.cos(yaw[1]) - math.cos(yaw[0]))
            turned = put(setup, presenter__x_m=x_m, presenter__y_m=y_m, presenter__facing_yaw_deg=(presenter.facing_yaw_deg + side) % 360)
            levels.append(heard.speech_db_a - heard_by(turned, microphone).speech_db_a)
        self.assertAlmostEqual(actual, max(levels), delta=0.01)


class Edges(TestCase):
    def test_inside_the_head_at_no_distance_and_far_away(self) -> None:
        room = demo("room-that-works")
        lips = (room.presenter.x_m, room.presenter.y_m, room.presenter.eye_height_m - 0.07)
        for forward_m in (0.0, -0.05, 0.001, 2.0):
            setup = on_arm(position={"x_m": lips[0], "y_m": min(lips[1] + forward_m, room.room.depth_m), "z_m": lips[2]})
            heard = heard_by(setup, setup.microphones[0])
            self.assertTrue(0 <= heard.sti <= 1 and math.isfinite(heard.snr_db))

    def test_rooms_that_swallow_all_nothing_and_are_tiny(self) -> None:
        for absorption in (1.0, 0.0, 0.01):
            own = {"reflectance": 0.5, "absorption": [absorption] * 7}
            surfaces = dict.fromkeys(("floor", "ceiling", "wall_x0", "wall_x1", "wall_y0", "wall_y1"), own)
            setup = put(demo("kitchen-table"), room__surfaces=surfaces, room__furnishings=[], room__windows=[])
            heard = appraise(setup).heard
            assert heard is not None
            self.assertTrue(0 <= heard.sti <= 1 and np.isfinite(heard.room.t60_s).all())
        five_m3 = demo().room.model_copy(update={"width_m": 1.6, "depth_m": 1.6, "height_m": 1.95, "windows": ()})
        tiny = room_sound(five_m3)
        self.assertAlmostEqual(tiny.volume_m3, 4.99, delta=0.01)
        self.assertTrue((tiny.t60_s > 0).all() and (tiny.t60_s < 1).all())

    def test_noise_louder_than_speech(self) -> None:
        setup = put(demo(), noises=[{"id": "drill", "name": "Drill next door", "curve": "fan", "level_db_a": 100.0, "steady": True}])
        appraisal = appraise(setup)
        self.assertLess(appraisal.heard.sti, 0.1)  # type: ignore[union-attr]
        self.assertLess(appraisal.measures["sound.snr"].value or 0, 0)
        self.assertIn("bad", next(finding.why for finding in appraisal.findings if finding.id == "sound.snr"))


class Mended(TestCase):
    def test_a_condenser_without_48_v_gives_nothing_until_it_gets_it(self) -> None:
        setup = on_arm(kind="xlr_condenser", input={"phantom_48v": False})
        dead = appraise(setup)
        self.assertIsNone(dead.heard)
        self.assertIn("48 V", dead.measures["sound.sti"].why_none)
        move = moves_of(dead)["sound.power"]
        self.assertIn("48 V", " ".join(move.cautions))
        self.assertIsNotNone(appraise(applied(setup, move.patch)).heard)

    def test_a_deaf_dynamic_gets_a_booster_if_there_is_money(self) -> None:
        far = on_arm(kind="xlr_dynamic", sensitivity_dbv=-57.0)
        self.assertNotIn("sound.booster", moves_of(appraise(far)))
        rich = put(far, preferences__budget=100.0)
        appraisal = appraise(rich)
        self.assertGreater(appraisal.measures["sound.gain"].value or 0, 3)
        self.assertIn("dBu", appraisal.measures["sound.gain"].about)
        mended = appraise(applied(rich, moves_of(appraisal)["sound.booster"].patch))
        self.assertEqual(mended.measures["sound.gain"].value, 0)

    def test_ticking_clocks_are_found_and_dealt_with(self) -> None:
        appraisal = appraise(demo("clock-bench"))
        move = moves_of(appraisal)["sound.quieten.clocks"]
        quiet = appraise(applied(appraisal.setup, move.patch))
        self.assertGreater(quiet.measures["sound.snr"].value or 0, (appraisal.measures["sound.snr"].value or 0) + 1)

    def test_who_wears_nothing_on_the_head_is_offered_a_lapel(self) -> None:
        setup = put(demo("clock-bench"), preferences__headset_allowed=False, kit=[])
        moves = moves_of(appraise(setup))
        self.assertIn("sound.buy_lapel", moves)
        self.assertNotIn("sound.buy_headset", moves)
        after = appraise(applied(setup, moves["sound.buy_lapel"].patch))
        self.assertEqual(after.setup.microphone_in_use.kind, "lapel")  # type: ignore[union-attr]

    def test_an_event_is_told_of_and_can_be_stopped(self) -> None:
        place = {"x_m": 1.0, "y_m": 1.0, "z_m": 1.0}
        bell = {
            "id": "bell",
            "name": "Striking clock",
            "curve": "clocks",
            "level_db_a": 75.0,
            "steady": False,
            "can_be_stopped": True,
            "position": place,
        }
        setup = put(demo(), noises=[bell])
        appraisal = appraise(setup)
        event = next(finding for finding in appraisal.findings_with_gains if finding.id == "sound.event")
        after = appraise(applied(setup, event.moves[0].patch))
        self.assertNotIn("sound.event", {finding.id for finding in after.findings})

    def test_a_late_camera_holds_the_sound_back(self) -> None:
        setup = put(demo(), cameras__camera__latency_s=0.18)
        appraisal = appraise(setup)
        finding = next(finding for finding in appraisal.findings_with_gains if finding.id == "sound.early")
        self.assertIn("165 ms", finding.title)
        after = appraise(applied(setup, finding.moves[0].patch))
        self.assertAlmostEqual(after.measures["sound.early"].value or 0, 0, places=6)

    def test_a_microphone_in_the_breath_is_moved_aside_or_filtered(self) -> None:
        base = put(demo("room-that-works"), preferences__budget=50.0)
        presenter = base.presenter
        yaw = math.radians(presenter.facing_yaw_deg)
        place = {
            "x_m": presenter.x_m + 0.06 * math.sin(yaw),
            "y_m": presenter.y_m + 0.06 * math.cos(yaw),
            "z_m": presenter.eye_height_m - 0.07,
        }
        setup = put(base, microphones__boom__position=place, microphones__boom__pop_filter=False)
        appraisal = appraise(setup)
        self.assertGreater(appraisal.measures["sound.pops"].value or 0, 0.4)
        for move_id in ("sound.out_of_breath", "sound.pop_filter"):
            after = appraise(applied(setup, moves_of(appraisal)[move_id].patch))
            self.assertLess(after.measures["sound.pops"].value or 0, 0.01, move_id)

    def test_the_arm_keeps_the_microphone_out_of_the_picture_and_the_breath(self) -> None:
        for name in ("standing-webinar", "room-that-works"):
            setup = put(demo(name), preferences__budget=200.0)
            move = moves_of(appraise(setup)).get("sound.on_an_arm")
            if move is None:
                continue
            after = appraise(applied(setup, move.patch))
            microphone = after.setup.microphone_in_use
            assert microphone is not None and microphone.position is not None
            place = np.array([microphone.position.x_m, microphone.position.y_m, microphone.position.z_m])
            self.assertFalse(seen_in_picture(after.setup, place[None])[0])
            self.assertEqual(after.measures["sound.pops"].value, 0)
            self.assertIn("arm", move.title)

    def test_both_schools_come_out_of_the_numbers(self) -> None:
        """An echoing, noisy room wants the close dynamic; in a furnished, quiet one a condenser at 40 cm is as clear."""
        close = {"kind": "xlr_dynamic", "sensitivity_dbv": -55.0, "self_noise_db_a": 18.0, "pattern": "cardioid"}
        open_ = {"kind": "xlr_condenser", "sensitivity_dbv": -34.0, "self_noise_db_a": 12.0, "pattern": "cardioid"}
        actual: dict[tuple[str, str], float] = {}
        good = demo("room-that-works")
        chair = {"id": "chair", "name": "Armchair", "kind": "armchair", "count": 1}
        furnished = put(good, room__furnishings=[*(item.model_dump() for item in good.room.furnishings), chair],
                        noises=[noise.model_dump() | {"level_db_a": 25.0} for noise in good.noises])  # fmt: skip
        for room, setup in (("kitchen-table", demo("kitchen-table")), ("furnished", furnished)):
            presenter = setup.presenter
            yaw = math.radians(presenter.facing_yaw_deg)
            for name, kind, away_m in (("close", close, 0.07), ("open", open_, 0.4)):
                place = {"x_m": presenter.x_m + away_m * math.sin(yaw), "y_m": presenter.y_m + away_m * math.cos(yaw),
                         "z_m": presenter.eye_height_m - 0.07}  # fmt: skip
                stands = {"id": name, "name": name, "at": "room", "position": place, "stand": "boom_arm", "in_use": True,
                          "aim_yaw_deg": (presenter.facing_yaw_deg + 180) % 360} | kind  # fmt: skip
                microphone = Microphone.model_validate(stands)
                actual[room, name] = heard_by(setup, microphone).sti
        self.assertGreater(actual["kitchen-table", "close"], actual["kitchen-table", "open"] + 0.1)
        self.assertLess(abs(actual["furnished", "close"] - actual["furnished", "open"]), 0.03)

    def test_octaves_of_the_index_add_up(self) -> None:
        heard = appraise(demo()).heard
        assert heard is not None
        self.assertEqual(heard.octave_indices.shape, (7,))
        self.assertAlmostEqual(heard.sti, transmission_index(heard.octave_indices, heard.voice))
        self.assertAlmostEqual(octaves.a_level(heard.noise_db), heard.noise_db_a)
