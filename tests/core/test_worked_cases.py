"""Whole figures worked out by hand from the geometry, the light and the sound of simple setups."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given

from tests.promise import promise
from tests.setups import any_setup, demo, demos, put
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.areas.light import lamp_moves as light_moves
from uphill_lamp.core.areas.light.measures import level_band
from uphill_lamp.core.areas.sound import microphone_moves
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.field.camera.response import LightNeed, shutter_s
from uphill_lamp.core.field.light.lit_scene import lit_scene_of, main_source
from uphill_lamp.core.judging import severity_of
from uphill_lamp.core.scene import wording
from uphill_lamp.core.scene.body import meet, trunk
from uphill_lamp.core.scene.handling import root_of
from uphill_lamp.core.scene.placing import (
    camera_pose,
    face_of,
    loudspeaker_place,
    microphone_axis,
    microphone_place,
    pinhole_of,
    wall_behind_m,
    window_pane,
)  # fmt: skip
from uphill_lamp.core.scene.vectors import angle_between_deg, vector, wrapped_deg
from uphill_lamp.core.scene.view import view_of
from uphill_lamp.core.scene.wording import sum_of, the, times


def free_camera(**changes: Any) -> Setup:
    """A camera on a tripod straight before the face, at its height, level: every figure can be worked out by hand."""
    setup = demo("interview-by-phone")
    eyes = face_of(setup).eyes
    values: dict[str, Any] = {
        "cameras__camera__mount": "tripod",
        "cameras__camera__position": {"x_m": eyes[0], "y_m": eyes[1] + 0.6, "z_m": eyes[2]},
        "cameras__camera__tilt_deg": 0.0,
        "cameras__camera__native_aspect": 16 / 9,
        "cameras__camera__lens__diagonal_fov_deg": 78.0,
    }
    return put(setup, **(values | changes))


def figures(setup: Setup) -> dict[str, float]:
    return {name: measure.value for name, measure in appraise(setup).measures.items() if measure.value is not None}


def moves_of(setup: Setup | Appraisal) -> dict[str, Any]:
    appraisal = setup if isinstance(setup, Appraisal) else appraise(setup)
    return {move.id: move for finding in appraisal.findings_with_gains for move in finding.moves}


class Framing(TestCase):
    half_height = math.tan(math.radians(39)) / math.hypot(1, 16 / 9)

    def test_straight_ahead_everything_is_a_closed_form(self) -> None:
        actual = figures(free_camera())
        self.assertAlmostEqual(actual["frame.view_angle"], 0)
        self.assertAlmostEqual(actual["frame.eye_line"], 0.5)
        self.assertAlmostEqual(actual["frame.side_position"], 0.5)
        self.assertAlmostEqual(actual["frame.head_share"], 0.23 / 0.6 / (2 * self.half_height), places=5)
        self.assertAlmostEqual(actual["frame.headroom"], 0.5 - 0.115 / 0.6 / (2 * self.half_height), places=5)
        self.assertAlmostEqual(actual["frame.perspective"], 0.69 / 0.58)

    def test_a_camera_20_cm_low_looks_up_18_degrees(self) -> None:
        setup = free_camera()
        low = put(setup, cameras__camera__position__z_m=setup.cameras[0].position.z_m - 0.2)  # type: ignore[union-attr]
        self.assertAlmostEqual(figures(low)["frame.view_angle"], -math.degrees(math.atan2(0.2, 0.6)))

    def test_zoom_orientation_and_crop_scale_the_head(self) -> None:
        share = figures(free_camera())["frame.head_share"]
        self.assertAlmostEqual(figures(free_camera(cameras__camera__zoom=1.5))["frame.head_share"], 1.5 * share)
        upright = figures(free_camera(cameras__camera__orientation="portrait", call__output_aspect=9 / 16))
        self.assertAlmostEqual(upright["frame.head_share"], share * 9 / 16, places=5)
        wide = figures(free_camera(call__output_aspect=2.35))
        self.assertAlmostEqual(wide["frame.head_share"], share * 2.35 / (16 / 9), places=5)
        square = figures(free_camera(call__output_aspect=1.0))
        self.assertAlmostEqual(square["frame.head_share"], share)

    def test_the_wanted_eye_line_serves_eyes_and_headroom_and_a_third_leaves_looking_room(self) -> None:
        for shot in ("call_tile", "head_and_shoulders", "waist"):
            line = bands.wanted_eye_line(free_camera(preferences__shot=shot).preferences, 0.3)
            self.assertTrue(bands.EYE_LINE[shot].holds(line) and bands.HEADROOM[shot].utility(line - 0.15) > 0.85)
        for yaw_deg, wanted in ((20.0, bands.SIDE_RIGHT_THIRD), (-20.0, bands.SIDE_LEFT_THIRD)):
            # A face turned to its own right (clockwise) looks to the picture's left, and gets the room there.
            turned = free_camera(preferences__side_position="third", presenter__facing_yaw_deg=yaw_deg)
            self.assertEqual(appraise(turned).measures["frame.side_position"].band, wanted)

    def test_too_far_sits_nearer_or_zooms_too_near_sits_back(self) -> None:
        far = free_camera(presenter__y_m=0.9, cameras__camera__tilt_deg=5.0)
        offered = moves_of(far)
        self.assertIn("frame.zoom", offered)
        self.assertIn("real detail", offered["frame.zoom"].detail)
        zoomed = figures(applied(far, offered["frame.zoom"].patch))
        self.assertAlmostEqual(zoomed["frame.head_share"], 0.37, delta=0.02)
        nearer = figures(applied(far, offered["frame.sit_nearer"].patch))
        self.assertGreater(nearer["frame.head_share"], figures(far)["frame.head_share"])
        near = free_camera(presenter__y_m=1.7, cameras__camera__tilt_deg=8.0)
        offered = moves_of(near)
        self.assertIn("frame.sit_for_perspective", offered)
        back = figures(applied(near, offered["frame.sit_for_perspective"].patch))
        self.assertLess(back["frame.perspective"], figures(near)["frame.perspective"])

    def test_a_leaning_camera_is_levelled(self) -> None:
        leaning = free_camera(cameras__camera__roll_deg=-4.0)
        move = moves_of(leaning)["frame.level"]
        self.assertEqual(figures(applied(leaning, move.patch))["frame.roll"], 0)

    def test_nobody_is_told_to_sit_in_the_desk_or_the_wall(self) -> None:
        for name in demos():
            for share in (0.9, 0.2):
                setup = put(demo(name), cameras__camera__lens__diagonal_fov_deg=40.0 + 60 * share)
                for move in moves_of(setup).values():
                    if move.id.startswith("frame.sit"):
                        after = applied(setup, move.patch)
                        self.assertGreater(wall_behind_m(after, face_of(after).eyes, -face_of(after).forward), 0.2)


class Lighting(TestCase):
    def lit(self, **light: Any) -> Setup:
        """A black room at night with one lamp: only its direct light counts."""
        black = {"reflectance": 0.0, "absorption": [0.1] * 7}
        lamp = (
            demo("clock-bench").lights[0].model_dump(mode="json")
            | {"id": "lamp", "name": "Lamp", "flux_lm": 4 * math.pi * 100.0, "stands": "floor"}
            | light
        )
        return put(
            demo("clock-bench"), lights=[lamp], screens__laptop__on=False, desk__reflectance=0.0,
            **{f"room__surfaces__{name}": black for name in ("floor", "ceiling", "wall_x0", "wall_x1", "wall_y0", "wall_y1")},
        )  # fmt: skip

    def test_a_bulb_of_100_candela_straight_ahead(self) -> None:
        setup = self.lit()
        face = face_of(setup)
        place = face.at(0.5, 0.0, -0.03)
        setup = self.lit(position={"x_m": place[0], "y_m": place[1], "z_m": place[2]})
        actual = figures(setup)
        self.assertAlmostEqual(actual["light.face_level"], 400, delta=0.5)
        self.assertAlmostEqual(actual["light.sides"], 0, delta=1e-6)
        # The crown looks straight up and sees nothing of a lamp below it: the floor of 0.1 lx holds.
        self.assertAlmostEqual(actual["light.from_above"], math.log2(0.1 / 400), delta=0.01)

    def test_a_lamp_from_the_side_by_the_cosine_of_each_cheek(self) -> None:
        setup = self.lit()
        face = face_of(setup)
        place = face.at(1.0, 1.0, -0.05)
        setup = self.lit(position={"x_m": place[0], "y_m": place[1], "z_m": place[2]})
        levels = []
        for side in (1, -1):
            spot, normal = (
                face.at(-0.025, side * 0.055, -0.05),
                math.cos(math.radians(50)) * face.forward + side * math.sin(math.radians(50)) * face.left,
            )
            beyond = np.round(place, 4) - spot
            levels.append(100 * float(beyond @ normal) / float(np.linalg.norm(beyond)) ** 3)
        actual = figures(setup)
        self.assertAlmostEqual(actual["light.sides"], math.log2(max(levels) / max(min(levels), 0.1)), delta=0.01)

    def test_the_band_of_the_level_follows_the_camera(self) -> None:
        band = level_band(LightNeed(6000.0, 800.0))
        self.assertEqual((band.ideal_low, band.ideal_high, band.outer_high), (6000, 6000, 24000))
        self.assertEqual(band.utility(6000), 1)

    def test_an_overhead_lamp_is_known_by_its_stand_or_by_its_height(self) -> None:
        self.assertEqual([light.id for light in light_moves.overhead(demo("clock-bench"))], ["ceiling-lamp"])
        over = put(demo("clock-bench"), lights__bench_h_lamp__position={"x_m": 1.5, "y_m": 1.5, "z_m": 2.2})
        self.assertEqual(len(light_moves.overhead(over)), 2)
        off = put(demo("clock-bench"), lights__ceiling_h_lamp__on=False)
        self.assertEqual(light_moves.overhead(off), [])

    @promise(15)
    @given(any_setup)
    def test_a_lamp_is_never_put_where_it_dazzles(self, setup: Any) -> None:
        for light in setup.lights:
            if light.stands == "ceiling":
                continue
            spot = light_moves.best_spot(lit_scene_of(setup), light)
            if spot is not None:
                face = face_of(setup)
                off = angle_between_deg(vector(spot.light.position) - face.eyes, camera_pose(setup, setup.main_camera).place - face.eyes)
                self.assertGreaterEqual(off, 19.9)

    def test_each_look_gets_its_lamp(self) -> None:
        dark = put(demo("clock-bench"), lights__ceiling_h_lamp__on=False, screens__laptop__on=False, lights__bench_h_lamp__stands="floor")
        for look in ("even", "filled", "shaped", "dramatic", "coloured"):
            setup = put(dark, preferences__look=look)
            spot = light_moves.best_spot(lit_scene_of(setup), setup.lights[1])
            assert spot is not None
            after = put(setup, lights__bench_h_lamp=spot.light.model_dump(mode="json"))
            self.assertGreaterEqual(appraise(after).measures["light.sides"].utility or 0, 0.8, look)

    def test_a_window_behind_is_mended_by_turning_round_with_the_picture_kept(self) -> None:
        setup = demo("kitchen-table")
        after = applied(setup, moves_of(setup)["light.turn_to_window.garden-window"].patch)
        face = face_of(after)
        towards = window_pane(after.room, after.room.windows[0]).middle - face.eyes
        self.assertLess(angle_between_deg(face.forward, towards), 60)
        self.assertGreater(figures(after)["light.exposure"], -1.5)
        self.assertAlmostEqual(figures(after)["frame.head_share"], figures(setup)["frame.head_share"], delta=0.01)

    def test_the_main_source_is_the_one_that_gives_most(self) -> None:
        self.assertIsNone(main_source(lit_scene_of(demo(), ())))
        source = main_source(lit_scene_of(demo("kitchen-table")))
        assert source is not None
        self.assertEqual(source.id, "laptop")

    def test_shutters_of_webcam_and_of_a_camera_set_by_hand(self) -> None:
        camera = demo().main_camera
        self.assertAlmostEqual(shutter_s(camera, 50), 1 / 30)
        by_hand = camera.model_copy(update={"kind": "capture", "fps": 25.0})
        self.assertAlmostEqual(shutter_s(by_hand, 50), 1 / 50)
        self.assertAlmostEqual(shutter_s(by_hand, 60), 1 / 60)
        for kind, fps, wanted_s in (
            ("capture", 120.0, 1 / 120),
            ("capture", 240.0, 1 / 240),
            ("webcam", 120.0, 1 / 120),
            ("webcam", 30.0, 0.03),
        ):
            steady = camera.model_copy(update={"kind": kind, "fps": fps, "anti_flicker": "50_hz"})
            self.assertAlmostEqual(shutter_s(steady, 50), wanted_s)


class Hearing(TestCase):
    def test_bringing_a_microphone_to_20_cm_does_so_and_aims_it(self) -> None:
        name = demo("standing-webinar").microphones[0].id.replace("-", "_h_")
        setup = put(demo("standing-webinar"), **{f"microphones__{name}__stand": "boom_arm"})
        after = applied(setup, moves_of(setup)["sound.bring_nearer"].patch)
        microphone, lips = after.microphones[0], face_of(after).lips
        away = microphone_place(after, microphone) - lips
        self.assertAlmostEqual(float(np.linalg.norm(away)), 0.2, delta=0.002)
        self.assertLess(angle_between_deg(microphone_axis(after, microphone), -away), 1)
        self.assertGreater(figures(after)["sound.direct_to_reverberant"], figures(setup)["sound.direct_to_reverberant"] + 6)

    def test_on_the_desk_it_comes_to_the_edge_and_a_dynamic_one_close_up(self) -> None:
        setup = demo("room-that-works")
        name = setup.microphones[0].id.replace("-", "_h_")
        stood = put(setup, **{f"microphones__{name}__stand": "desk_stand", f"microphones__{name}__position__y_m": setup.desk.y_m + 0.2,
            f"microphones__{name}__position__z_m": setup.desk.height_m + 0.2})  # fmt: skip
        after = applied(stood, next(move for move in microphone_moves.nearer(stood)).patch).microphones[0].position
        assert after is not None
        self.assertAlmostEqual(after.y_m, setup.desk.y_m - setup.desk.depth_m / 2 + 0.06, places=3)
        self.assertLessEqual(after.z_m, setup.desk.height_m + 0.3)
        close = put(stood, **{f"microphones__{name}__kind": "xlr_dynamic", f"microphones__{name}__stand": "boom_arm"})
        there = applied(close, next(move for move in microphone_moves.nearer(close)).patch)
        self.assertAlmostEqual(float(np.linalg.norm(microphone_place(there, there.microphones[0]) - face_of(there).lips)), 0.07, places=2)

    def test_doubling_the_distance_in_the_open_costs_6_db(self) -> None:
        soft = {"reflectance": 0.5, "absorption": [1.0] * 7}
        setup = put(
            demo("standing-webinar"),
            **{f"room__surfaces__{name}": soft for name in ("floor", "ceiling", "wall_x0", "wall_x1", "wall_y0", "wall_y1")},
        )
        lips, axis = face_of(setup).lips, face_of(setup).forward
        levels = []
        for away in (0.2, 0.4):
            place = lips + away * axis
            near = put(setup, microphones__desk_h_mic__position={"x_m": place[0], "y_m": place[1], "z_m": place[2]},
                       microphones__desk_h_mic__aim_yaw_deg=180.0, microphones__desk_h_mic__aim_tilt_deg=0.0)  # fmt: skip
            levels.append(appraise(near).heard.direct_db_a)  # type: ignore[union-attr]
        self.assertAlmostEqual(levels[0] - levels[1], 20 * math.log10(2), delta=0.02)

    def test_the_distance_where_voice_and_room_are_alike_is_where_they_are(self) -> None:
        setup = demo("standing-webinar")
        heard = appraise(setup).heard
        assert heard is not None
        lips = face_of(setup).lips
        place = lips + (microphone_place(setup, setup.microphones[0]) - lips) * heard.critical_distance_m / heard.path.distance_m
        there = put(setup, microphones__desk_h_mic__position={"x_m": place[0], "y_m": place[1], "z_m": place[2]})
        self.assertAlmostEqual(figures(there)["sound.direct_to_reverberant"], 0, delta=0.05)

    def test_ticking_clocks_are_offered_to_be_carried_out(self) -> None:
        noisy = put(demo("clock-bench"), noises__clocks__level_db_a=45.0)
        move = moves_of(noisy)["sound.quieten.clocks"]
        after = applied(noisy, move.patch)
        self.assertNotIn("clocks", [noise.id for noise in after.noises])
        self.assertGreater(figures(after)["sound.snr"], figures(noisy)["sound.snr"] + 3)

    def test_a_wish_for_no_headset_is_kept(self) -> None:
        setup = put(demo("clock-bench"), preferences__headset_allowed=False)
        self.assertFalse({"sound.buy_headset"} & set(moves_of(setup)))

    def test_loudspeakers_sit_in_their_screen_or_nowhere_known(self) -> None:
        self.assertIsNone(loudspeaker_place(demo("room-that-works")))
        unknown = put(demo("clock-bench"), computer__loudspeakers_on=None)
        self.assertTrue(math.isfinite(figures(unknown)["sound.echo"]))


class Together(TestCase):
    def test_findings_come_worst_first_and_say_how_bad(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            listed = [finding for finding in appraisal.findings if finding.measures]
            fine = [all(appraisal.measures[item].counts == "quality" for item in finding.measures) for finding in listed]
            self.assertEqual(fine, sorted(fine))  # what is a matter of quality stands last, and is slight
            self.assertTrue(all(finding.severity == "slight" for finding, last in zip(listed, fine, strict=True) if last))
            losses = [finding.loss for finding, last in zip(listed, fine, strict=True) if not last]
            self.assertEqual(losses, sorted(losses, reverse=True))
        self.assertEqual([severity_of(utility) for utility in (0.1, 0.5, 0.8)], ["grave", "clear", "slight"])

    def test_weights_are_the_user_s_and_none_at_all_is_no_crash(self) -> None:
        setup = demo("clock-bench")
        only_eyes = {"sound": 0.0, "light": 0.0, "frame": 0.0, "eyes": 10.0, "backdrop": 0.0}
        appraisal = appraise(put(setup, preferences__weights=only_eyes))
        self.assertAlmostEqual(appraisal.score, appraisal.area("eyes").score)  # type: ignore[union-attr]
        nothing = appraise(put(setup, preferences__weights=dict.fromkeys(only_eyes, 0.0)))
        self.assertTrue(0 < nothing.score < 100)

    def test_what_rays_meet(self) -> None:
        setup = demo("clock-bench")
        pinhole = pinhole_of(setup)
        face, behind = face_of(setup), np.array([[0.75, 0.16, 1.4], [2.05, 0.05, 1.72], [1.5, 0.0, 2.2]])
        targets = np.vstack([face.at(-0.01, 0, -0.03), behind])
        rays = targets - pinhole.place
        view = view_of(setup, pinhole, rays / np.linalg.norm(rays, axis=1, keepdims=True))
        self.assertEqual([view.things[what].kind for what in view.what], ["head", "backdrop", "backdrop", "surface"])
        self.assertEqual([view.things[what].name for what in view.what[1:]], ["clock-shelf", "wall-clock", "wall_y0"])
        np.testing.assert_allclose(view.place[3], behind[2], atol=1e-6)

    def test_the_body_is_met_from_the_front_and_missed_beside_it(self) -> None:
        face = face_of(demo())
        start = face.at(1.0, 0.0, 0.0)
        hit, reach, _ = meet(trunk(demo().presenter), face, start, np.array([-face.forward, face.forward, face.left]).T)
        self.assertEqual(hit.tolist(), [0])
        self.assertAlmostEqual(float(reach[0]), 1.0, delta=0.03)

    def test_figures_are_said_as_people_say_them(self) -> None:
        words = [wording.length(0.14, "cm"), wording.length(2.5, "cm"), wording.length(0.14, "inch"), wording.degrees(4.49), wording.degrees(12.4),
                wording.percent(0.487), wording.lux(38.4), wording.lux(1234), wording.lux(0.04), wording.money(25, "GBP")]  # fmt: skip
        self.assertEqual(words, ["14 cm", "2.50 m", "5.5 in", "4.5°", "12°", "49 %", "38 lx", "1200 lx", "0.0 lx", "about £25"])
        self.assertEqual([wrapped_deg(angle) for angle in (180, -180, 540, 190, -190)], [180, 180, 180, -170, 170])

    def test_what_belongs_to_a_screen_is_moved_with_it(self) -> None:
        self.assertEqual(root_of(demo("clock-bench"), "cameras/camera"), "screens/laptop")
        self.assertEqual(root_of(demo("clock-bench"), "microphones/laptop-mic"), "screens/laptop")
        self.assertEqual(root_of(demo("room-that-works"), "microphones/boom"), "microphones/boom")


class Sentences(TestCase):
    def test_names_stand_in_sentences_as_people_say_them(self) -> None:
        for name, words in (
            ("Bench lamp", "the bench lamp"), ("Desk lamp, left", "the left desk lamp"), ("Earbuds of the spare phone", "the spare phone's earbuds"),
            ("Nila's lamp", "Nila's lamp"), ("Grandma's reading lamp", "Grandma's reading lamp"), ("USB microphone on an arm", "the USB microphone on an arm"),
            ("TV", "the TV"), ("7 W lamp", "7 W lamp"), ("Тарас", "Тарас"), ("<b>", "<b>"), ("{}", "{}"),
        ):  # fmt: skip
            self.assertEqual(the(name), words)

    def test_steps_of_light_are_told_as_times_first_and_money_with_its_sign(self) -> None:
        self.assertEqual([times(stops) for stops in (2, -1.9, 1, 0.6, 5.5)], ["4 times (2 stops)", "3.7 times (1.9 stops)",
            "2 times (1 stop)", "1.5 times (0.6 stops)", "45 times (5.5 stops)"])  # fmt: skip
        self.assertEqual([sum_of(*money) for money in ((34, "GBP"), (7.5, "EUR"), (280, "SEK"))], ["£34", "€7.50", "280 SEK"])
