"""Mounts, gear and destinations: every fault of Frame that no score holds, and the moves that mend it."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np

from tests.core.test_lens import with_lens
from tests.core.test_worked_cases import free_camera, moves_of
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.frame import hands_on_view as hands
from uphill_lamp.core.areas.frame import slides_behind as behind
from uphill_lamp.core.areas.frame.gear_moves import desk_share
from uphill_lamp.core.areas.frame.sway import sway_of
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.scene import destination
from uphill_lamp.core.scene.destination import least_letters_pt, slide_covered, slide_words
from uphill_lamp.core.scene.placing import camera_pose, face_of, screen_pane
from uphill_lamp.core.scene.scene import scene_of

BOOK = {"id": "book", "name": "Book", "entry": "book", "thickness_m": 0.04, "count": 5}


def found(setup: Setup) -> set[str]:
    return {finding.id for finding in appraise(setup).findings}


def after(setup: Setup, move_id: str) -> Setup:
    return applied(setup, moves_of(setup)[move_id].patch)


class Mounts(TestCase):
    def monitor(self, **changes: Any) -> Setup:
        return put(demo("standing-webinar"), preferences__camera_height="eye_level", **changes)

    def test_a_monitor_goes_down_to_the_desk_then_a_flat_clamp_helps(self) -> None:
        high = self.monitor(presenter__eye_height_m=1.36, presenter__posture="sitting")
        lowered = after(high, "frame.raise_camera")
        foot = screen_pane(lowered.screens[0]).at(0.5, 1.0)[2]
        self.assertGreaterEqual(foot, lowered.desk.height_m + 0.029)
        self.assertIn("goes no lower", moves_of(high)["frame.raise_camera"].detail)
        offered = moves_of(high)
        if "frame.flat_clamp" in offered:
            flat = after(high, "frame.flat_clamp")
            self.assertLess(camera_pose(flat, flat.main_camera).place[2], camera_pose(lowered, lowered.main_camera).place[2])
        self.assertIn("frame.move_desk", offered)

    def test_chair_and_desk_bring_eyes_and_lens_together(self) -> None:
        setup = put(demo("room-that-works"), presenter__eye_height_m=demo("room-that-works").presenter.eye_height_m - 0.10)
        raised = after(setup, "frame.move_chair")
        self.assertTrue(appraise(raised).measures["frame.view_angle"].band.holds(appraise(raised).measures["frame.view_angle"].value))  # type: ignore[union-attr, arg-type]
        self.assertIn("Feet flat", " ".join(moves_of(setup)["frame.move_chair"].cautions))
        self.assertNotIn("frame.move_chair", moves_of(put(setup, presenter__posture="standing")))
        stand = demo("standing-webinar")
        lifted = after(stand, "frame.move_desk")
        step = lifted.desk.height_m - stand.desk.height_m
        self.assertAlmostEqual(lifted.screens[0].position.z_m - stand.screens[0].position.z_m, step, places=3)
        self.assertLessEqual(lifted.desk.height_m, 1.2)

    def test_stands_keep_within_their_reach_and_walls_need_tools(self) -> None:
        phone = demo("interview-by-phone")
        high = put(phone, presenter__eye_height_m=1.45)
        lens = camera_pose(after(high, "frame.raise_camera"), high.main_camera).place
        self.assertLessEqual(lens[2], high.desk.height_m + 0.6 + 1e-6)
        wall = free_camera(cameras__camera__mount="wall", presenter__eye_height_m=1.1)
        self.assertIn("hidden cable", " ".join(moves_of(wall)["frame.raise_camera"].cautions))
        with_books = put(phone, kit=[*[item.model_dump(mode="json") for item in phone.kit], BOOK])
        self.assertEqual(
            moves_of(with_books)["frame.raise_camera"].cost.kind,
            "owned" if "Book" in moves_of(with_books)["frame.raise_camera"].detail else "free",
        )

    def test_a_lid_that_would_tilt_its_lens_into_the_wall_is_no_move_and_no_crash(self) -> None:
        setup = demo("clock-bench")
        lid = setup.screens[0]
        near = put(
            setup,
            desk__y_m=3.0,
            presenter__y_m=2.6,
            screens__laptop__position={"x_m": lid.position.x_m, "y_m": 3.38, "z_m": 0.9},
            screens__laptop__hinge_deg=88.0,
        )
        for height in (1.0, 1.2, 1.5):
            there = put(near, presenter__eye_height_m=height, kit=[{"id": "phone", "name": "Old phone", "entry": "old_phone"}])
            for finding in appraise(there).findings_with_gains:
                for move in finding.moves:
                    applied(there, move.patch)

    def test_no_stand_is_sold_beyond_the_budget(self) -> None:
        low = put(demo("clock-bench"), presenter__eye_height_m=1.32, presenter__glasses="none", preferences__budget=0.0)
        self.assertNotIn("frame.laptop_stand", moves_of(low))
        self.assertIn("frame.raise_camera", moves_of(low))


class Gear(TestCase):
    def test_a_raised_laptop_lifts_its_keys_until_others_are_used(self) -> None:
        setup = demo("clock-bench")
        self.assertNotIn("frame.keyboard", found(setup))
        raised = after(setup, "frame.raise_camera")
        self.assertIn("frame.keyboard", found(raised))
        move = moves_of(raised)["frame.separate_keyboard"]
        self.assertEqual((move.cost.kind, move.cost.amount), ("buy", 18))
        self.assertTrue(0.1 <= (move.gain or 0) < 2)
        self.assertNotIn("frame.keyboard", found(after(raised, "frame.separate_keyboard")))
        owner = put(raised, kit=[{"id": "keys", "name": "Old keyboard", "entry": "keyboard"}])
        used = after(owner, "frame.separate_keyboard")
        self.assertEqual((moves_of(owner)["frame.separate_keyboard"].cost.kind, used.kit), ("owned", ()))

    def test_a_standing_desk_sways_and_a_tripod_does_not(self) -> None:
        on_top = demo("standing-webinar")
        pinhole, pose = scene_of(on_top).pinhole, scene_of(on_top).lens
        high_m, desk_m = pose.place[2] - on_top.desk.height_m, on_top.desk.height_m
        sway, half = 0.06e-3 * (desk_m / 0.74) ** 3 / 0.35, math.radians(pinhole.field.horizontal_deg) / 2
        shakes = {"monitor_top": 0.40, "arm": 0.25}
        loose = {"on_screen": None, "lens_offset_m": 0.0, "position": dict(zip(("x_m", "y_m", "z_m"), map(float, pose.place), strict=True)),
                 "yaw_deg": pose.yaw_deg, "tilt_deg": pose.tilt_deg, "mount": "arm"}  # fmt: skip
        setup = put(on_top, cameras=[on_top.main_camera.model_dump(mode="json") | loose])
        for there, stiff_m in zip((on_top, setup), shakes.values(), strict=True):
            wanted = sway * (1 + (high_m / stiff_m) ** 2) / (2 * half)
            self.assertAlmostEqual(appraise(there).measures["frame.shake"].value or 0, wanted, places=9)
        self.assertIn("frame.wobble", found(setup))
        fixed = after(setup, "frame.tripod")
        self.assertNotIn("frame.wobble", found(fixed))
        np.testing.assert_allclose(camera_pose(fixed, fixed.main_camera).place, camera_pose(setup, setup.main_camera).place, atol=1e-3)
        self.assertGreater(appraise(fixed).score, appraise(setup).score)
        self.assertEqual(appraise(fixed).measures["frame.shake"].value, 0)
        heights = [
            appraise(put(setup, desk__height_range=None, desk__height_m=high)).measures["frame.shake"].value for high in (0.7, 0.9, 1.1)
        ]
        self.assertEqual(heights, sorted(heights))

    def test_focus_on_the_eyes_stop_down_or_sit_back(self) -> None:
        soft = with_lens(focus={"kind": "manual", "distance_m": 1.6})
        self.assertIn("frame.focus", found(soft))
        closed = moves_of(soft)["frame.stop_down"]
        self.assertTrue("stand-in" in closed.detail and "times the light" in closed.detail and "on your eyes" in closed.title)
        self.assertNotIn("frame.focus", found(after(soft, "frame.stop_down")))
        small = with_lens(
            focus={"kind": "manual", "distance_m": 2.5},
            lens={"focal_length_m": 0.016, "sensor_width_m": 0.0235, "sensor_height_m": 0.0157, "f_number": 4.0},
        )
        self.assertIn("stand-in", moves_of(small)["frame.focus_on_eyes"].detail)
        self.assertNotIn("frame.focus", found(after(small, "frame.focus_on_eyes")))
        near = put(demo("room-that-works"), presenter__y_m=demo("room-that-works").presenter.y_m + 0.38, desk__depth_m=1.6)
        fixed = put(near, cameras__camera__focus={"kind": "fixed"})
        if "frame.focus" in found(fixed):
            self.assertNotIn("frame.focus", found(after(fixed, "frame.back_into_focus")))

    def test_a_phone_turned_round_and_fewer_pictures_give_more_light(self) -> None:
        dark = put(demo("clock-bench"), preferences__budget=60.0)
        phone = after(dark, "frame.use_camera.spare-phone")
        dim = put(phone, lights__bench_h_lamp__on=False, lights__ceiling_h_lamp__dim=0.3, cameras__spare_h_phone__fps=60.0)
        level = lambda setup: appraise(setup).measures["light.face_level"].utility or 0  # noqa: E731
        self.assertGreater(level(after(dim, "light.fewer_pictures")), level(dim))
        self.assertIn("2.0 times", moves_of(dim)["light.fewer_pictures"].detail)
        rear = after(dim, "light.rear_camera")
        self.assertGreater(level(rear), level(dim))
        self.assertIn("frame.blind", found(rear))

    def test_the_rear_camera_wants_a_mirror(self) -> None:
        rear = put(demo("interview-by-phone"), cameras__camera__kind="phone_rear")
        self.assertIn("frame.blind", found(rear))
        self.assertNotIn("frame.blind", found(after(rear, "frame.mirror")))

    def test_a_small_desk_fills_up(self) -> None:
        small = put(demo("clock-bench"), desk__width_m=0.45, desk__depth_m=0.3)
        self.assertAlmostEqual(desk_share(small), (0.33 * 0.23 + 0.17 * 0.17) / 0.135)
        self.assertLess(desk_share(after(small, "frame.clamp_lamp.bench-lamp")), desk_share(small))

    def test_other_cameras_are_tried_from_where_they_stand(self) -> None:
        setup = demo("clock-bench")
        eyes = face_of(setup).eyes
        spare = demo("room-that-works").main_camera.model_dump(mode="json") | {
            "id": "spare", "name": "Spare webcam", "use": "spare", "mount": "tripod", "on_screen": None, "lens_offset_m": 0.0,
            "position": {"x_m": eyes[0] + 0.1, "y_m": eyes[1] + 0.75, "z_m": eyes[2]}, "yaw_deg": 0.0, "tilt_deg": 0.0,
        }  # fmt: skip
        two = put(setup, cameras=[setup.main_camera.model_dump(mode="json"), spare])
        used = after(two, "frame.use_camera.spare")
        self.assertEqual(used.main_camera.id, "spare")
        figures = appraise(used).measures
        self.assertAlmostEqual(figures["frame.side_position"].value or 0, 0.5, delta=0.01)
        self.assertEqual(figures["frame.eye_line"].utility, 1)
        phone = after(put(setup, preferences__budget=60.0), "frame.use_camera.spare-phone")
        self.assertEqual((phone.main_camera.kind, phone.main_camera.mount), ("phone_front", "holder"))
        self.assertTrue(all(item.id != "spare-phone" for item in phone.kit))


class Destinations(TestCase):
    def test_bars_and_cuts_by_hand(self) -> None:
        self.assertAlmostEqual(destination.bars_share(16 / 9, 9 / 16), 1 - 81 / 256)
        self.assertAlmostEqual(destination.bars_share(4 / 3, 16 / 9), 0.25)
        self.assertEqual(destination.bars_share(1.5, 1.5), 0)
        box = destination.crop_box(16 / 9, 1)
        self.assertAlmostEqual(box.right - box.left, 9 / 16)
        self.assertEqual((box.top, box.foot), (0, 1))
        self.assertAlmostEqual(destination.crop_box(1, 16 / 9).foot - destination.crop_box(1, 16 / 9).top, 9 / 16)

    def test_a_wide_picture_in_an_upright_place_is_turned_on_its_side(self) -> None:
        clip = put(demo("interview-by-phone"), call__destination="vertical_clip")
        self.assertIn("frame.bars", found(clip))
        turned = after(clip, "frame.turn_on_side")
        self.assertNotIn("frame.bars", found(turned))
        self.assertEqual(turned.main_camera.orientation, "portrait")
        four_thirds = put(turned, cameras__camera__native_aspect=4 / 3)
        self.assertGreater(appraise(four_thirds).score, 0)
        self.assertNotIn("frame.turn_on_side", moves_of(put(demo("clock-bench"), call__destination="vertical_clip")))

    def test_a_square_cut_keeps_eyes_and_chin_or_says_so(self) -> None:
        square = put(free_camera(), call__destination="square", cameras__camera__yaw_deg=161.0)
        self.assertIn("frame.cut", found(square))
        self.assertTrue(destination.head_kept(after(square, "frame.turn_camera")))
        self.assertAlmostEqual(destination.bars(square.call), 0)

    def test_small_beside_the_slides_and_too_few_pixels(self) -> None:
        corner = put(free_camera(), call__slides="corner", presenter__y_m=0.9)
        self.assertIn("frame.small_there", found(corner))
        share = appraise(corner).measures["frame.head_share"].value or 0
        self.assertAlmostEqual(appraise(corner).measures["frame.face_there"].value or 0, share * 256 / (16 / 9))
        self.assertEqual(after(corner, "frame.slides_beside").call.slides, "beside")
        # By hand: 256 of 1280 px across and 144 of 720 down; 5 px of small letters are 10 px of letters, on 720 or 540 px of 540 points.
        self.assertAlmostEqual(slide_covered(corner.call), 0.04)
        beside = corner.call.model_copy(update={"slides": "beside"})
        self.assertEqual([least_letters_pt(call) for call in (corner.call, beside)], [7.5, 10.0])
        self.assertEqual((slide_covered(beside), slide_words(demo().call)), (0.0, ""))
        strong = put(free_camera(presenter__y_m=0.9), cameras__camera__zoom=3.0)
        self.assertIn("frame.detail", found(strong))
        self.assertIn("640 × 360", next(finding.title for finding in appraise(strong).findings if finding.id == "frame.detail"))
        self.assertEqual(after(strong, "frame.nearer_not_zoomed").main_camera.zoom, 1)

    def test_an_extreme_shape_and_a_lens_in_the_face_are_no_crash(self) -> None:
        for setup in (
            put(free_camera(), call__output_aspect=2.35),
            put(free_camera(), call__output_aspect=0.41),
            free_camera(presenter__y_m=1.83),
        ):
            appraisal = appraise(setup)
            self.assertGreaterEqual(appraisal.score, 0)
            self.assertIsInstance(appraisal.findings_with_gains, tuple)

    def test_slides_behind_are_hidden_by_who_stands_before_them(self) -> None:
        setup = demo("interview-by-phone")
        face = face_of(setup)
        wall = {"id": "beamer", "name": "Projection", "kind": "projection", "position": {"x_m": float(face.eyes[0]), "y_m": 0.03, "z_m": 1.3}, "yaw_deg": 0.0,
                "tilt_deg": 0.0, "width_m": 1.1, "height_m": 0.62, "width_px": 1920, "height_px": 1080, "luminance_cd_m2": 80.0,
                "white_share": 0.7}  # fmt: skip
        shown = put(setup, screens=[*[screen.model_dump(mode="json") for screen in setup.screens], wall], call__slides="screen_behind")
        self.assertGreater(behind.hidden_share(shown), 0.15)
        self.assertIn("frame.slides_behind", found(shown))
        aside = after(shown, "frame.step_aside")
        self.assertLessEqual(behind.hidden_share(aside), 0.15)
        self.assertGreater(behind.in_view_share(shown), 0.5)
        self.assertLess(behind.text_px(shown) or 9, 8)
        self.assertEqual(after(shown, "frame.share_slides").call.slides, "beside")
        self.assertEqual(behind.hidden_share(setup), 0)


class Hands(TestCase):
    def over(self, height_m: float = 0.5) -> Setup:
        setup = demo("clock-bench")
        spot = hands.over_hands(setup)
        camera = demo("interview-by-phone").main_camera.model_dump(mode="json") | {
            "id": "down", "name": "Down", "use": "bench_view", "mount": "arm", "tilt_deg": -90.0, "yaw_deg": 0.0, "native_aspect": 16 / 9,
            "lens": {"diagonal_fov_deg": 78.0, "sensor_width_m": 0.0048, "sensor_height_m": 0.0027, "f_number": 2.0},
            "position": {"x_m": float(spot[0]), "y_m": float(spot[1]), "z_m": setup.desk.height_m + height_m},
        }  # fmt: skip
        return put(setup, cameras=[setup.main_camera.model_dump(mode="json"), camera])

    def test_coverage_detail_and_print_are_closed_forms(self) -> None:
        setup = self.over()
        view = hands.bench_view(setup, setup.cameras[1])
        assert view is not None
        half_width = np.tan(np.radians(39)) * (16 / 9) / np.hypot(16 / 9, 1)
        self.assertAlmostEqual(view.width_m, 2 * half_width * 0.5, places=5)
        self.assertAlmostEqual(view.depth_m, view.width_m * 9 / 16, places=5)
        self.assertAlmostEqual(view.px_per_mm, 1920 / view.width_m / 1000, places=5)
        self.assertAlmostEqual(view.smallest_print_pt, 8 / (1280 / view.width_m) / 0.48 / (0.0254 / 72), places=4)
        self.assertTrue(view.in_focus and view.fits_hands)
        self.assertAlmostEqual(hands.print_points(0.48 * 12 * 0.0254 / 72), 12)

    def test_too_near_too_low_and_none(self) -> None:
        low = self.over(0.12)
        view = hands.bench_view(low, low.cameras[1])
        assert view is not None
        self.assertFalse(view.in_focus and view.fits_hands)
        raised = applied(low, next(move.patch for move in hands.moves(low) if move.id == "hands.height"))
        better = hands.bench_view(raised, raised.cameras[1])
        assert better is not None
        self.assertTrue(better.in_focus and better.fits_hands)
        level = put(low, cameras__down__tilt_deg=0.0)
        self.assertIsNone(hands.bench_view(level, level.cameras[1]))
        new = applied(demo("clock-bench"), next(iter(hands.moves(demo("clock-bench")))).patch)
        self.assertEqual(next(camera.use for camera in new.cameras if camera.id == "spare-phone"), "bench_view")
        self.assertEqual(list(hands.moves(put(demo("clock-bench"), kit=[]))), [])

    def test_a_thing_held_up_fills_a_third_or_cannot_be_focused(self) -> None:
        setup = free_camera()
        held = hands.held_up(setup, 0.10)
        half_width = np.tan(np.radians(39)) * (16 / 9) / np.hypot(16 / 9, 1)
        self.assertAlmostEqual(held.distance_m, 0.10 / (2 * half_width / 3), places=6)
        self.assertFalse(hands.held_up(demo("clock-bench"), 0.02).in_focus)


class Swaying(TestCase):
    def test_room_to_sway_is_even_for_a_centred_face_and_less_when_near(self) -> None:
        sway = sway_of(free_camera())
        self.assertAlmostEqual(sway.left_m, sway.right_m, delta=0.011)
        half_width = np.tan(np.radians(39)) * (16 / 9) / np.hypot(16 / 9, 1)
        self.assertAlmostEqual(sway.left_m, 0.15 * 2 * half_width * 0.6, delta=0.012)
        self.assertLess(sway_of(free_camera(cameras__camera__zoom=1.4)).left_m, sway.left_m)
        self.assertEqual(sway_of(free_camera(cameras__camera__yaw_deg=120.0)).left_m, 0)
