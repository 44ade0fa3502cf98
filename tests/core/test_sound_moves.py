"""For 300 random setups of rooms, microphones and noises: what Sound offers keeps its word; and each kind of move does what it says."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_clarity import moves_of, on_arm
from tests.promise import promise
from tests.setups import any_setup, demo, demos, put
from uphill_lamp.core.appraisal.appraise import appraise, heard_in
from uphill_lamp.core.areas.sound import absorption_moves as softer
from uphill_lamp.core.areas.sound import findings
from uphill_lamp.core.areas.sound.comparison import KINDS, candidates, schools
from uphill_lamp.core.areas.sound.placement_moves import seen_in_picture
from uphill_lamp.core.document import Refused, Setup, applied, typical
from uphill_lamp.core.document.finishes import FINISHES, FURNISHINGS
from uphill_lamp.core.field.sound.capsule import PATTERN_P
from uphill_lamp.core.scene.placing import face_of, microphone_place, room_size
from uphill_lamp.core.scene.vectors import angle_between_deg
from uphill_lamp.core.tape import entered, fields_of

SIDES = ("floor", "ceiling", "wall_x0", "wall_x1", "wall_y0", "wall_y1")
CURVES = ("fan", "fridge", "street", "computer", "clocks", "people", "hum")


@st.composite
def noisy_setups(draw: Any) -> Setup:
    """Rooms of any finish, any microphone anywhere near, noises of all kinds."""
    setup = draw(any_setup)
    face, size = face_of(setup), room_size(setup.room)
    kind = draw(st.sampled_from(["usb_desk", "xlr_dynamic", "xlr_condenser", "shotgun", "phone", "lapel", "headset"]))
    microphone = typical.microphone(kind, "mic", "Microphone", True, pattern=draw(st.sampled_from(sorted(PATTERN_P))))
    if kind not in typical.WORN:
        place = face.at(draw(st.floats(0.02, 1.0)), draw(st.floats(-0.6, 0.6)), draw(st.floats(-0.4, 0.4)))
        place = np.clip(place, 0.06, size - 0.06)
        microphone |= {"at": "room", "position": {f"{axis}_m": float(value) for axis, value in zip("xyz", place, strict=True)},
                       "aim_yaw_deg": draw(st.floats(0, 359)), "aim_tilt_deg": draw(st.floats(-60, 60)),
                       "stand": draw(st.sampled_from(["desk_stand", "boom_arm", "floor_stand"])), "pop_filter": draw(st.booleans())}  # fmt: skip
    if kind.startswith("xlr"):
        microphone["input"] = {"gain_max_db": draw(st.sampled_from([30.0, 56.0])), "phantom_48v": draw(st.booleans())}
    noises = []
    for number in range(draw(st.integers(0, 3))):
        spot = {f"{axis}_m": draw(st.floats(0.0, float(high))) for axis, high in zip("xyz", size, strict=True)}
        noises.append({"id": f"noise-{number}", "name": f"Noise {number}", "curve": draw(st.sampled_from(CURVES)), "level_db_a": draw(st.floats(15, 75)),
                       "steady": draw(st.booleans()), "can_be_stopped": draw(st.booleans()), "position": draw(st.sampled_from([None, spot]))})  # fmt: skip
    soft = [{"id": "soft", "name": "Soft", "kind": draw(st.sampled_from(sorted(FURNISHINGS))), "count": draw(st.integers(1, 4))}]
    return put(
        setup,
        microphones=[microphone],
        noises=noises,
        room__surfaces={side: draw(st.sampled_from(sorted(FINISHES))) for side in SIDES},
        room__furnishings=draw(st.sampled_from([[], soft])),
        preferences__budget=draw(st.sampled_from([0.0, 40.0, 200.0])),
        preferences__headset_allowed=draw(st.booleans()),
        call__sound_delay_s=draw(st.sampled_from([0.0, 0.0, 0.3])),
    )


class KeepTheirWord(TestCase):
    @promise(300)
    @given(noisy_setups())
    def test_whatever_sound_offers(self, setup: Setup) -> None:
        before = appraise(setup)
        measured = {measure.id: measure for measure in before.area("sound").measures}  # type: ignore[union-attr]
        offered = list(findings.moves_for(setup, before.heard, measured))
        self.assertEqual(len({move.id for move in offered}), len(offered))
        for move in offered:
            try:
                after = appraise(applied(setup, move.patch), known=before)
            except Refused:
                continue  # does not fit this room; it is not offered then
            self.assertLessEqual(move.cost.amount, setup.preferences.budget, move.id)
            for name, promised in move.promises:
                self.assertAlmostEqual(after.measures[name].value or 0, promised, delta=0.05, msg=move.id)
            if move.id in ("sound.on_an_arm", "sound.out_of_breath"):
                self.assertEqual(after.measures["sound.pops"].value, 0, move.id)
            if move.id == "sound.noise_removal":
                self.assertEqual(after.heard.sti, before.heard.sti)  # type: ignore[union-attr]
            for moved in after.setup.microphones:
                self.assertTrue((microphone_place(after.setup, moved) >= 0).all(), move.id)

    @promise(60)
    @given(noisy_setups())
    def test_what_no_score_holds_is_gone_after_its_move(self, setup: Setup) -> None:
        before = appraise(setup)
        for finding in before.findings:
            if finding.area == "sound" and not finding.measures:
                for move in findings.moves_beside(setup, heard_in(setup), finding):
                    after = appraise(applied(setup, move.patch), known=before)
                    if finding.id in ("sound.early", "sound.jewellery"):
                        self.assertNotIn(finding.id, {finding.id for finding in after.findings})
                    else:
                        self.assertEqual(len(after.setup.noises), len(setup.noises) - 1)


class EachKind(TestCase):
    def test_the_deaf_side_is_turned_to_a_fan(self) -> None:
        setup = on_arm()
        microphone = microphone_place(setup, setup.microphones[0])
        towards_lips = face_of(setup).lips - microphone
        beside = np.array([towards_lips[1], -towards_lips[0], 0.0]) / float(np.hypot(*towards_lips[:2]))
        place = microphone + 0.4 * beside  # square to the voice, and near
        fan = {"id": "fan", "name": "Fan", "curve": "fan", "level_db_a": 55.0, "steady": True,
               "position": {f"{axis}_m": float(value) for axis, value in zip("xyz", place, strict=True)}}  # fmt: skip
        towards = put(setup, noises=[fan])
        appraisal = appraise(towards)
        move = moves_of(appraisal)["sound.deaf_side"]
        after = appraise(applied(towards, move.patch))
        self.assertGreater(after.measures["sound.snr"].value or 0, (appraisal.measures["sound.snr"].value or 0) + 1)
        self.assertIn("the fan", move.detail)

    def test_an_open_window_is_shut_and_a_quiet_street_is_left_alone(self) -> None:
        street = {"id": "street", "name": "Street", "curve": "street", "level_db_a": 55.0, "steady": True}
        loud = put(demo("clock-bench"), noises=[street])
        move = moves_of(appraise(loud))["sound.shut_window.street"]
        self.assertEqual(applied(loud, move.patch).noises[0].level_db_a, 43.0)
        self.assertIn("Air the room", move.detail)
        quiet = put(demo("clock-bench"), noises=[street | {"level_db_a": 33.0}])
        self.assertNotIn("sound.shut_window.street", moves_of(appraise(quiet)))
        no_window = put(loud, room__windows=[])
        self.assertNotIn("sound.shut_window.street", moves_of(appraise(no_window)))

    def test_a_switch_left_all_round_is_set_to_one_side(self) -> None:
        setup = put(demo("standing-webinar"), microphones__desk_h_mic__pattern="omni")
        after = appraise(applied(setup, moves_of(appraise(setup))["sound.pattern"].patch))
        self.assertEqual(after.setup.microphones[0].pattern, "cardioid")

    def test_a_towel_helps_what_stands_and_is_laid_once(self) -> None:
        setup = demo("standing-webinar")
        appraisal = appraise(setup)
        after = appraise(applied(setup, moves_of(appraisal)["sound.damp"].patch))
        self.assertGreater(after.measures["sound.touch"].value or 0, appraisal.measures["sound.touch"].value or 0)
        self.assertNotIn("sound.damp", moves_of(after))
        self.assertNotIn("sound.damp", moves_of(appraise(demo("clock-bench"))))  # a laptop stands on no towel

    def test_soft_things_are_offered_by_what_they_give_for_their_trouble_and_not_where_a_clap_was_measured(self) -> None:
        setup = put(demo("kitchen-table"), preferences__budget=200.0)
        appraisal = appraise(setup)
        soft = [move for move_id, move in moves_of(appraisal).items() if move_id.startswith("sound.soft.")]
        self.assertEqual(len(soft), softer.OFFERED)
        for move in soft:
            after = appraise(applied(setup, move.patch), known=appraisal)
            self.assertIs(after.area("light").measures, appraisal.area("light").measures)  # type: ignore[union-attr]  # soft things bear on sound alone
            self.assertTrue((after.heard.room.t60_s <= appraisal.heard.room.t60_s).all())  # type: ignore[union-attr]
            self.assertGreater(after.heard.sti, appraisal.heard.sti)  # type: ignore[union-attr]
        duvet = next(move for move in soft if "duvet" in move.id)
        self.assertIn("never round a person", " ".join(duvet.cautions))
        clapped = appraise(put(setup, room__measured_t60_s=[1.5] * 7))
        self.assertFalse([move_id for move_id in moves_of(clapped) if move_id.startswith("sound.soft.")])

    def test_a_dynamic_is_not_powered_and_a_condenser_says_why_it_is_silent(self) -> None:
        dynamic = appraise(on_arm(kind="xlr_dynamic", input={"phantom_48v": False}))
        self.assertIsNotNone(dynamic.heard)
        silent = appraise(on_arm(kind="xlr_condenser", input={"phantom_48v": False}))
        finding = next(finding for finding in silent.findings if finding.id == "sound.no_power")
        self.assertIn("48 V", finding.title)


class SideBySide(TestCase):
    def test_each_stands_in_the_room_and_the_best_comes_first(self) -> None:
        for name in demos():
            setup = demo(name)
            actual = candidates(setup)
            self.assertEqual([candidate.score for candidate in actual], sorted((candidate.score for candidate in actual), reverse=True))
            self.assertEqual(sum(candidate.in_use for candidate in actual), 1)
            for candidate in actual:
                place = microphone_place(setup, candidate.microphone)
                self.assertTrue((place > 0).all() and (place < room_size(setup.room)).all(), candidate.name)
            self.assertTrue(schools(actual))

    def test_what_is_at_hand_is_not_sold_again_and_a_phone_is_there_only_if_owned(self) -> None:
        names = {candidate.name for candidate in candidates(demo("clock-bench"))}
        self.assertNotIn("Earbuds with a cord", names)  # the drawer has a pair
        self.assertIn("Phone laid on the desk", names)
        self.assertNotIn("Phone laid on the desk", {candidate.name for candidate in candidates(demo("room-that-works"))})

    def test_the_kinds_stand_as_far_off_as_their_names_say(self) -> None:
        setup = demo("room-that-works")
        for candidate in candidates(setup):
            kind = next((kind for kind in KINDS if kind.name == candidate.name), None)
            if kind is None or kind.up_deg is None or candidate.heard is None or not kind.away_m:
                continue
            self.assertAlmostEqual(candidate.heard.path.distance_m, kind.away_m, delta=0.005, msg=candidate.name)
            self.assertLess(candidate.heard.path.off_axis_deg, 0.5)
            if kind.away_m < 0.12:
                self.assertTrue(candidate.microphone.pop_filter)

    def test_the_schools_are_told_apart(self) -> None:
        self.assertIn("at your mouth", schools(candidates(demo("kitchen-table"))))
        self.assertIn("as clear", schools(candidates(demo("room-that-works"))))
        self.assertEqual(schools([]), "")

    def test_taking_one_into_use_is_a_patch_that_fits(self) -> None:
        setup = demo("clock-bench")
        usable = [candidate for candidate in candidates(setup) if candidate.use]
        self.assertEqual([candidate.name for candidate in usable], ["Earbuds of the spare phone"])
        named_alike = put(setup, microphones__laptop_h_mic__name="Earbuds of the spare phone")
        use = next(candidate.use for candidate in candidates(named_alike) if candidate.use)
        self.assertEqual(len({microphone.name for microphone in applied(named_alike, use).microphones}), 2)
        after = applied(setup, usable[0].use)
        self.assertAlmostEqual(appraise(after).area("sound").score, usable[0].score, delta=0.01)  # type: ignore[union-attr]


class TapeMeasure(TestCase):
    def test_an_inputs_values_are_told_and_a_typical_one_is_written_down(self) -> None:
        setup = on_arm(kind="xlr_dynamic")
        self.assertIsNone(setup.microphones[0].input)
        keys = {entry.key for entry in fields_of(setup, "microphones/boom")}
        self.assertTrue({"gain_max_db", "ein_dbu", "booster_db", "phantom_48v", "stand", "damped", "aim", "tilt"} <= keys)
        after = applied(setup, entered(setup, "microphones/boom", "gain_max_db", "40"))
        self.assertEqual(after.microphones[0].input.gain_max_db, 40)  # type: ignore[union-attr]
        again = applied(after, entered(after, "microphones/boom", "phantom_48v", ""))
        self.assertEqual((again.microphones[0].input.gain_max_db, again.microphones[0].input.phantom_48v), (40, False))  # type: ignore[union-attr]
        self.assertNotIn("ein_dbu", {entry.key for entry in fields_of(demo(), "microphones/laptop-mic")})

    def test_delay_and_noise_removal_of_the_whole(self) -> None:
        setup = demo()
        self.assertAlmostEqual(applied(setup, entered(setup, "", "sound_delay", "120")).call.sound_delay_s, 0.12)
        self.assertTrue(applied(setup, entered(setup, "computer", "noise_removal", "on")).computer.noise_removal)

    def test_an_arm_out_of_the_picture_is_aimed_at_the_mouth(self) -> None:
        setup = put(demo("kitchen-table"), preferences__budget=200.0, preferences__shot="call_tile",
                    microphones=[typical.microphone("usb_desk", "usb", "USB microphone", at="room", position={"x_m": 1.2, "y_m": 1.4,
                    "z_m": 0.9})])  # fmt: skip
        move = moves_of(appraise(setup)).get("sound.on_an_arm")
        assert move is not None
        after = applied(setup, move.patch)
        microphone, face = after.microphones[0], face_of(after)
        place = microphone_place(after, microphone)
        self.assertFalse(seen_in_picture(after, place[None])[0])
        self.assertGreaterEqual(angle_between_deg(face.forward, place - face.lips), 20)
        self.assertEqual(microphone.stand, "boom_arm")
        yaw = math.radians(microphone.aim_yaw_deg)
        aim = np.array([math.sin(yaw), math.cos(yaw)])
        self.assertGreater(float(aim @ (face.lips - place)[:2]), 0)
