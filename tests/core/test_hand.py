"""What a hand does: moving, turning, the words of a tape measure; and where the eyes look."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import any_setup, demo, demos, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.eyes.glances import faces, glance_at
from uphill_lamp.core.areas.eyes.screen_windows import best_spot
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.scene.handling import LISTS, desk_turned, moved, turned
from uphill_lamp.core.scene.placing import camera_pose, face_of, microphone_place, pinhole_of
from uphill_lamp.core.scene.vectors import vector, wrapped_deg
from uphill_lamp.core.tape import entered, fields_of, name_of, words_of
from uphill_lamp.core.tape.quantities import Unreadable, read
from uphill_lamp.core.tape.quantities import written as in_words


def handles(setup: Any) -> list[str]:
    listed = [f"{part}/{thing.id}" for part in LISTS for thing in getattr(setup, part)]
    return ["", "presenter", "desk", *listed, *(f"windows/{window.id}" for window in setup.room.windows)]


class Moving(TestCase):
    @given(any_setup, st.data())
    def test_whatever_is_pushed_however_far_stays_a_valid_setup(self, setup: Any, data: Any) -> None:
        thing = data.draw(st.sampled_from([handle for handle in handles(setup) if handle]))
        by = np.array(data.draw(st.tuples(*[st.floats(-15, 15)] * 3)))
        try:
            patch = moved(setup, thing, by)
        except Refused:
            self.assertTrue(thing.startswith("noises/"), thing)  # a noise from everywhere has no place
            return
        applied(setup, patch)

    def test_a_push_moves_just_so_far_and_takes_along_what_belongs(self) -> None:
        setup, by = demo("standing-webinar"), np.array([0.1, -0.05, 0.02])
        after = applied(setup, moved(setup, "desk", by))
        for part in ("screens", "microphones"):
            np.testing.assert_allclose(vector(getattr(after, part)[0].position) - vector(getattr(setup, part)[0].position), by, atol=1e-9)
        self.assertEqual(after.presenter, setup.presenter)
        lens = camera_pose(setup, setup.main_camera).place
        up = applied(setup, moved(setup, "cameras/camera", np.array([0, 0, 0.1])))
        np.testing.assert_allclose(camera_pose(up, up.main_camera).place - lens, [0, 0, 0.1], atol=1e-9)
        phone = demo("interview-by-phone")
        after = applied(phone, moved(phone, "cameras/camera", np.array([0.05, 0, 0.1])))
        np.testing.assert_allclose(vector(after.screens[0].position) - vector(phone.screens[0].position), [0.05, 0, 0.1], atol=1e-9)

    def test_only_what_was_moved_counts_as_entered(self) -> None:
        after = applied(demo("kitchen-table"), moved(demo("kitchen-table"), "lights/hall-lamp", np.array([0.1, 0, 0])))
        self.assertEqual(after.origins.get("/lights/hall-lamp/position/x_m"), "entered")
        self.assertNotIn("/lights/hall-lamp/position/z_m", after.origins)

    @promise(20)
    @given(st.floats(-179, 179))
    def test_turning_the_desk_turns_all_that_belongs_to_it_alike(self, turn: float) -> None:
        turned_round = 0
        for name in demos():
            setup = demo(name)
            try:
                after = applied(setup, desk_turned(setup, turn, np.array([setup.room.width_m / 2, setup.room.depth_m / 2])))
            except Refused:
                continue  # that way something would stand in a wall
            turned_round += 1
            was, now = face_of(setup), face_of(after)
            for camera in (camera for camera in setup.cameras if camera.mount not in ("wall", "ceiling")):
                before, then = camera_pose(setup, camera), camera_pose(after, next(item for item in after.cameras if item.id == camera.id))
                self.assertLess(np.linalg.norm(self.seen(was, before.place) - self.seen(now, then.place)), 0.005, f"{name} {camera.id}")
                apart = wrapped_deg(then.yaw_deg - before.yaw_deg - turn)
                self.assertAlmostEqual(apart, 0, delta=0.05, msg=f"{name} {camera.id}")
            for screen in (screen for screen in setup.screens if screen.kind != "projection"):
                self.assertAlmostEqual(
                    wrapped_deg(after.screen(screen.id).yaw_deg - screen.yaw_deg - turn), 0, delta=0.05, msg=f"{name} {screen.id}"
                )
        self.assertGreater(turned_round, 0)

    def seen(self, face: Any, place: np.ndarray) -> np.ndarray:
        """A place in the face's own frame."""
        return np.array([(place - face.eyes) @ axis for axis in (face.forward, face.left)] + [place[2] - face.eyes[2]])

    def test_turning_a_thing(self) -> None:
        setup = demo("standing-webinar")
        self.assertEqual(applied(setup, turned(setup, "lights/panel", 30)).lights[1].aim_yaw_deg, 168)
        self.assertEqual(applied(setup, turned(setup, "presenter", -200)).presenter.facing_yaw_deg, 160)
        self.assertEqual(turned(setup, "windows/bay", 10), ())
        with self.assertRaises(Refused):
            turned(setup, "lights/none", 1)


class TapeMeasure(TestCase):
    def test_typing_what_stands_there_changes_no_figure_and_counts_as_entered(self) -> None:
        for name in demos():
            setup = demo(name)
            before = appraise(setup)
            for handle in handles(setup):
                for entry in fields_of(setup, handle):
                    if not entry.text and entry.quantity != "switch":
                        continue  # nothing stands there
                    with self.subTest(name, handle=handle, field=entry.key):
                        after = applied(setup, entered(setup, handle, entry.key, entry.text))
                        self.assertAlmostEqual(appraise(after, known=before).score, before.score, delta=0.35)
                        self.assertEqual(next(e for e in fields_of(after, handle) if e.key == entry.key).text, entry.text)

    @given(st.floats(0, 170), st.sampled_from(["left", "right"]), st.floats(0.3, 1.1), st.floats(-0.4, 0.5))
    def test_a_lamp_stands_where_a_person_says(self, aside: float, side: str, away: float, up: float) -> None:
        setup, lamp = put(demo("kitchen-table"), presenter__x_m=2.0, presenter__y_m=1.8), "lights/hall-lamp"
        for key, text in (
            ("distance", "80"),
            ("up", f"{up * 100:.2f}"),
            ("distance", "80"),
            ("aside", f"{aside:.2f}"),
            ("side", side),
            ("distance", f"{max(away, abs(up) + 0.1) * 100:.3f}"),
        ):
            setup = applied(setup, entered(setup, lamp, key, text))
        place, face = vector(setup.lights[1].position), face_of(setup)
        beyond = place - face.eyes
        self.assertAlmostEqual(beyond[2], up, delta=0.002)
        self.assertAlmostEqual(float(np.linalg.norm(beyond)), max(away, abs(up) + 0.1), delta=0.004)
        turn = math.degrees(math.atan2(float(beyond @ face.left), float(beyond @ face.forward)))
        level = math.hypot(beyond[0], beyond[1])
        self.assertAlmostEqual(abs(turn), aside, delta=0.25 / level)  # three entries, each to the millimetre
        if 1 < aside < 169:
            self.assertEqual(turn > 0, side == "left")

    def test_a_camera_62_cm_from_the_eyes(self) -> None:
        for name in demos():
            setup = demo(name)
            camera = setup.main_camera
            after = applied(setup, entered(setup, f"cameras/{camera.id}", "distance", "62 cm"))
            self.assertAlmostEqual(float(np.linalg.norm(pinhole_of(after).place - face_of(after).eyes)), 0.62, delta=0.002)

    def test_a_place_beyond_the_wall_is_refused_and_the_nearest_told(self) -> None:
        for handle, key, text in (
            ("lights/bench-lamp", "distance", "390"),
            ("presenter", "behind", "900"),
            ("cameras/camera", "distance", "10"),
        ):
            with self.assertRaises(Refused) as caught:
                entered(demo(), handle, key, text)
            self.assertRegex(caught.exception.faults[0].expected, "the nearest is|inside the room", handle)

    def test_what_can_be_read_and_what_cannot(self) -> None:
        for text, units, metres in (
            ("62", "cm", 0.62),
            ("62 cm", "inch", 0.62),
            ("2'4\"", "inch", 0.7112),
            ("2' 4\"", "cm", 0.7112),
            ("2 ft 4 in", "cm", 0.7112),
            ("2ft 4in", "inch", 0.7112),
            ('28½"', "inch", 0.7239),
            ("28 1/2 in", "cm", 0.7239),
            ("28 1/2", "inch", 0.7239),
            ("½ m", "cm", 0.5),
            ("2′ 4½″", "cm", 0.7239),
            ("2 ft", "inch", 0.6096),
            ("3 feet 0 inches", "cm", 0.9144),
            ("0,62 m", "cm", 0.62),
            ('24.5"', "cm", 0.6223),
            ("24.5", "inch", 0.6223),
            ("\u22125", "cm", -0.05),
            ("620mm", "cm", 0.62),
        ):
            self.assertAlmostEqual(read("length", text, units), metres, msg=text)  # type: ignore[arg-type]
        self.assertEqual((read("percent", "60 %", "cm"), read("angle", "12°", "cm"), read("number", "470 lm", "cm")), (0.6, 12, 470))
        for text in (
            "",
            "abc",
            "1e400",
            "nan",
            "inf",
            "12 parsec",
            "1.2.3",
            "--3",
            "9" * 60,
            "6 2",
            "281/2",
            "28.5½",
            "3/2",
            "1/0",
            "2'13\"",
            "2' 4 cm",
            "½½",
        ):
            for quantity in ("length", "angle", "percent", "number"):
                with self.assertRaises(Unreadable):
                    read(quantity, text if text != "12 parsec" or quantity != "number" else "12 <b>", "cm")  # type: ignore[arg-type]

    @given(st.floats(-3, 12), st.sampled_from(["cm", "inch"]))
    def test_a_length_written_reads_back(self, metres: float, units: Any) -> None:
        self.assertAlmostEqual(read("length", in_words("length", metres, units), units), metres, delta=0.0013)

    def test_wrong_entries_say_what_was_expected_at_the_field(self) -> None:
        for handle, key, text, expected in (
            ("presenter", "eyes", "900", "50 cm to 220 cm"),
            ("lights/bench-lamp", "dim", "150", "0 % to 100 %"),
            ("", "sky", "green", "overcast"),
            ("desk", "none", "1", "a field"),
        ):
            with self.assertRaises(Refused) as caught:
                applied(demo(), entered(demo(), handle, key, text))
            self.assertEqual(caught.exception.faults[0].path, f"/{handle}#{key}")
            self.assertIn(expected, caught.exception.faults[0].expected)

    def test_places_are_said_from_the_presenter_s_seat(self) -> None:
        self.assertEqual(
            words_of(demo(), "windows/window"),
            "ahead, to your left, 1.64 m away, 38 cm above your eyes".replace(
                "1.64 m", words_of(demo(), "windows/window").split(", ")[2].replace(" away", "")
            ),
        )
        self.assertTrue(words_of(demo("kitchen-table"), "windows/garden-window").startswith("behind"))
        self.assertEqual((words_of(demo(), ""), name_of(demo(), "presenter")), ("", "You"))


class Looking(TestCase):
    @given(st.floats(-30, 30), st.floats(-30, 30))
    def test_a_glance_is_split_into_aside_and_up(self, left: float, up: float) -> None:
        eyes, lens = np.zeros(3), np.array([0.0, 1.0, 0.0])
        target = np.array([-math.tan(math.radians(left)), 1.0, math.tan(math.radians(up))])
        glance = glance_at(eyes, lens, target)
        self.assertAlmostEqual(glance.left_deg, left)
        self.assertAlmostEqual(glance.up_deg, up)

    def test_a_look_at_the_lens_misses_by_nothing_and_straight_up_is_no_crash(self) -> None:
        glance = glance_at(np.zeros(3), np.array([0.3, 0.5, 0.2]), np.array([0.6, 1.0, 0.4]))
        self.assertAlmostEqual(abs(glance.left_deg) + abs(glance.up_deg), 0)
        glance_at(np.zeros(3), np.array([0, 0, 1.0]), np.array([0.1, 1, 0]))

    @given(any_setup)
    def test_the_solver_s_window_lies_on_the_screen_and_is_no_further_off(self, setup: Any) -> None:
        point = faces(setup)
        assert point is not None and point.screen is not None and point.window is not None
        screen, shown = point.screen, point.window
        spot = best_spot(setup, screen, shown)
        left, top, width, height = spot.left, spot.top, spot.width, spot.height
        self.assertTrue(0 <= left <= screen.width_px - width and 0 <= top <= screen.height_px - height)
        root = f"screens__{screen.id}__windows__{shown.id}__"
        after = put(setup, **{root + "left_px": left, root + "top_px": top, root + "width_px": width, root + "height_px": height})
        was, now = appraise(setup).area("eyes"), appraise(after).area("eyes")
        assert was is not None and now is not None
        self.assertGreaterEqual(now.score, was.score - 1e-6)

    def test_a_screen_without_the_call_leaves_eyes_out(self) -> None:
        appraisal = appraise(put(demo(), screens__laptop__windows=[]))
        self.assertIsNone(appraisal.area("eyes"))
        self.assertGreater(appraisal.score, 0)

    def test_a_worn_microphone_turns_with_its_wearer(self) -> None:
        setup = demo("interview-by-phone")
        patch = next(
            move.patch
            for finding in appraise(setup).findings_with_gains
            for move in finding.moves
            if move.id.startswith("sound.use_microphone")
        )
        worn = applied(setup, patch)
        microphone = worn.microphone_in_use
        assert microphone is not None
        away = [
            float(np.linalg.norm(microphone_place(s, microphone) - face_of(s).lips))
            for s in (worn, put(worn, presenter__facing_yaw_deg=70.0))
        ]
        self.assertAlmostEqual(away[0], away[1])
        self.assertEqual(worn.computer.listening, "headphones")
