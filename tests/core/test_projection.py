"""The lens, the projection against an independent pinhole, and the solvers put back into it."""

from __future__ import annotations

import itertools
import math
from unittest import TestCase

import cv2
import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.setups import demo, put
from uphill_lamp.core.areas.frame import solvers
from uphill_lamp.core.areas.frame.measures import view_angle_deg
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.pinhole import Field, Pinhole, cropped, field_of, field_of_diagonal
from uphill_lamp.core.scene.placing import camera_pose, face_of, lid_place, pinhole_of, screen_pane
from uphill_lamp.core.scene.vectors import direction, right_of, yaw_tilt_deg

angles = st.floats(-180, 180)
tilts = st.floats(-60, 60)


class Lens(TestCase):
    def test_a_lens_of_78_degrees(self) -> None:
        field = field_of_diagonal(78, 16 / 9)
        self.assertAlmostEqual(field.horizontal_deg, 70.43, places=2)
        self.assertAlmostEqual(field.vertical_deg, 43.31, places=2)

    def test_focal_length_crop_zoom_and_portrait(self) -> None:
        camera = demo().main_camera.model_copy(update={"native_aspect": 1.5})
        lens = camera.lens.model_copy(
            update={"diagonal_fov_deg": None, "focal_length_m": 0.024, "sensor_width_m": 0.036, "sensor_height_m": 0.024}
        )
        camera = camera.model_copy(update={"lens": lens})
        self.assertAlmostEqual(field_of(camera, 1.5).horizontal_deg, 2 * math.degrees(math.atan(36 / 48)), places=9)
        wide = field_of(camera, 16 / 9)
        self.assertAlmostEqual(wide.half_width, 0.75)
        self.assertAlmostEqual(wide.aspect, 16 / 9)
        closer = field_of(camera.model_copy(update={"zoom": 2.0}), 16 / 9)
        self.assertAlmostEqual(closer.half_height * 2, wide.half_height)
        upright = field_of(camera.model_copy(update={"orientation": "portrait"}), 9 / 16)
        self.assertAlmostEqual(upright.half_height, 0.75)
        self.assertEqual(cropped(Field(1, 1), 2), Field(1, 0.5))
        self.assertEqual(cropped(Field(1, 1), 0.5), Field(0.5, 1))


class Projection(TestCase):
    def test_agrees_with_opencv_for_200_random_cameras(self) -> None:
        rng = np.random.default_rng(5)
        for _ in range(200):
            place, yaw, tilt, roll = rng.uniform(0, 4, 3), *rng.uniform((-180, -70, -180), (180, 70, 180))
            field = Field(*rng.uniform(0.2, 1.5, 2))
            pinhole = Pinhole.posed(place, yaw, tilt, roll, field)
            depth = rng.uniform(0.3, 6, 12)
            spread = rng.uniform(-1.5, 1.5, (12, 2)) * depth[:, None]
            # OpenCV's camera looks along +z with x to the right and y down; ours is turned by yaw, tilt and roll.
            turn_yaw, turn_tilt, turn_roll = (np.radians(angle) for angle in (yaw, tilt, roll))
            level = np.array([[math.cos(turn_yaw), -math.sin(turn_yaw), 0], [0, 0, -1], [math.sin(turn_yaw), math.cos(turn_yaw), 0]])
            about_x, _ = cv2.Rodrigues(np.array([-turn_tilt, 0.0, 0.0]))
            about_z, _ = cv2.Rodrigues(np.array([0.0, 0.0, -turn_roll]))
            rotation = about_z @ about_x @ level
            points = place + np.column_stack([spread, depth]) @ rotation
            turn, _ = cv2.Rodrigues(rotation)
            camera = np.array([[0.5 / field.half_width, 0, 0.5], [0, 0.5 / field.half_height, 0.5], [0, 0, 1]])
            expected, _ = cv2.projectPoints(points, turn, -rotation @ place, camera, None)
            np.testing.assert_allclose(pinhole.project(points), expected[:, 0], atol=1e-6)

    @given(angles, tilts, angles, st.floats(0, 1), st.floats(0, 1), st.floats(0.1, 9))
    def test_a_ray_leads_back_to_its_place(self, yaw: float, tilt: float, roll: float, x: float, y: float, far: float) -> None:
        pinhole = Pinhole.posed(np.array([1.0, 2.0, 1.5]), yaw, tilt, roll, Field(0.7, 0.4))
        place = pinhole.place + far * pinhole.ray(np.array(x), np.array(y))
        np.testing.assert_allclose(pinhole.project(place), [x, y], atol=1e-9)
        self.assertTrue(np.isnan(pinhole.project(2 * pinhole.place - place)).all())

    @given(angles, tilts)
    def test_directions_and_angles_are_each_other_s_inverse(self, yaw: float, tilt: float) -> None:
        back = yaw_tilt_deg(direction(yaw, tilt))
        np.testing.assert_allclose(direction(*back), direction(yaw, tilt), atol=1e-12)
        self.assertAlmostEqual(float(right_of(yaw) @ direction(yaw, 0)), 0)

    def test_a_camera_leaning_clockwise_lowers_what_is_on_the_left(self) -> None:
        straight, leaning = (Pinhole.posed(np.zeros(3), 0, 0, roll, Field(1, 1)) for roll in (0, 10))
        left = np.array([-1.0, 2.0, 0.0])
        self.assertGreater(leaning.project(left)[1], straight.project(left)[1])


class LaptopLid(TestCase):
    def test_camera_height_and_tilt_follow_the_hinge(self) -> None:
        for hinge in (75.0, 90.0, 112.0, 130.0):
            setup = put(demo(), screens__laptop__hinge_deg=hinge)
            screen, pose = setup.screens[0], camera_pose(setup, setup.main_camera)
            self.assertAlmostEqual(pose.place[2], screen.position.z_m + 0.195 * math.sin(math.radians(hinge)))
            self.assertAlmostEqual(pose.tilt_deg, hinge - 90)
            self.assertAlmostEqual(
                float(np.linalg.norm(lid_place(screen, 0.1) - [screen.position.x_m, screen.position.y_m, screen.position.z_m])), 0.1
            )
            pane = screen_pane(screen)
            np.testing.assert_allclose(np.cross(pane.right, pane.up), pane.normal, atol=1e-12)


class Solvers(TestCase):
    @given(st.floats(0.3, 2), st.floats(-20, 30), st.floats(0.6, 1.8))
    def test_a_rise_gives_its_view_angle(self, far: float, target: float, eyes_z: float) -> None:
        rise = aiming.rise_for_view_angle_m(eyes_z, 0.9, far, target)
        self.assertAlmostEqual(view_angle_deg(np.array([0, 0, eyes_z]), np.array([0, far, 0.9 + rise])), target, places=9)

    @given(st.floats(0.1, 0.9), st.floats(0.25, 0.8))
    def test_a_distance_gives_its_head_share_on_the_axis(self, share: float, half_height: float) -> None:
        away = solvers.distance_for_head_share_m(0.23, share, half_height)
        pinhole = Pinhole.posed(np.zeros(3), 0, 0, 0, Field(1, half_height))
        spots = pinhole.project(np.array([[0, away, 0.115], [0, away, -0.115]]))
        self.assertAlmostEqual(spots[1, 1] - spots[0, 1], share, places=6)

    @given(st.floats(-20, 20), st.floats(0.2, 0.6), st.floats(0.3, 0.7))
    def test_a_tilt_puts_the_eyes_on_their_line(self, elevation: float, line: float, half_height: float) -> None:
        eyes = direction(0, elevation)
        tilt = aiming._tilt_near_deg(eyes, line, Field(1, half_height))
        self.assertAlmostEqual(Pinhole.posed(np.zeros(3), 0, tilt, 0, Field(1, half_height)).project(eyes)[1], line, places=6)

    @given(st.floats(0.3, 0.7), st.floats(0.25, 0.5), st.floats(-8, 8), st.floats(-0.3, 0.3), st.floats(-0.4, 0.3))
    def test_aiming_puts_a_face_where_it_is_wanted_off_the_axis_too(self, x: float, y: float, roll: float, aside: float, up: float) -> None:
        target, field = np.array([aside, 0.8, up]), Field(0.7, 0.4)
        aim = aiming.aimed(np.zeros(3), roll, field, target, x, y)
        assert aim is not None
        np.testing.assert_allclose(Pinhole.posed(np.zeros(3), *aim, roll, field).project(target), [x, y], atol=1e-6)

    @given(st.floats(0.26, 0.42), st.floats(-1, 8), st.floats(1.05, 1.4), st.floats(0.45, 0.9))
    def test_a_lid_is_solved_for_height_and_line_together(self, line: float, angle: float, eyes_z: float, away: float) -> None:
        setup = put(demo(), presenter__eye_height_m=eyes_z, presenter__y_m=2.07 - away)
        screen, camera, eyes = setup.screens[0], setup.main_camera, face_of(setup).eyes
        actual = aiming.lid_for(screen, camera, eyes, field_of(camera, 16 / 9), line, angle)
        assume(actual is not None)
        assert actual is not None
        solved = put(setup, screens__laptop__hinge_deg=actual[0], screens__laptop__position__z_m=actual[1])
        pinhole = pinhole_of(solved)
        self.assertAlmostEqual(pinhole.project(eyes)[1], line, places=6)
        self.assertAlmostEqual(view_angle_deg(eyes, pinhole.place), angle, places=6)

    @given(st.lists(st.integers(8, 60), max_size=7), st.integers(1, 250))
    def test_books_are_the_closest_pile_with_the_fewest_books(self, books_mm: list[int], rise_mm: int) -> None:
        chosen = solvers.books_for(rise_mm / 1000, [book / 1000 for book in books_mm])
        piles = [pile for count in range(len(books_mm) + 1) for pile in itertools.combinations(range(len(books_mm)), count)]
        best = min(piles, key=lambda pile: (abs(sum(books_mm[i] for i in pile) - rise_mm), len(pile)))
        got = chosen or []
        self.assertEqual(
            (abs(sum(books_mm[i] for i in got) - rise_mm), len(got)), (abs(sum(books_mm[i] for i in best) - rise_mm), len(best))
        )
