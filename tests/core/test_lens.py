"""The lens against closed forms worked out by hand, and what it makes of rooms."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.setups import demo, put
from uphill_lamp.core.areas.frame.camera_notes import lens_lines, lid_advice
from uphill_lamp.core.areas.frame.lens_figures import lens_figures
from uphill_lamp.core.document import Setup
from uphill_lamp.core.field.camera.sharpness import must_be_sharp_m, stopped_down
from uphill_lamp.core.scene import optics


def with_lens(**changes: Any) -> Setup:
    """A camera behind a capture device, on a tripod before the face of the phone setup."""
    base = demo("interview-by-phone")
    eyes = base.presenter
    camera = base.main_camera.model_dump(mode="json") | {
        "kind": "capture", "mount": "tripod", "native_aspect": 1.5, "focus": {"kind": "manual", "distance_m": 1.0},
        "position": {"x_m": eyes.x_m, "y_m": eyes.y_m + 1.0, "z_m": eyes.eye_height_m}, "yaw_deg": 180.0, "tilt_deg": 0.0,
        "lens": {"focal_length_m": 0.05, "sensor_width_m": 0.0235, "sensor_height_m": 0.0157, "f_number": 2.0},
    }  # fmt: skip
    return put(base, cameras=[camera | changes])


class DepthOfField(TestCase):
    def test_three_cases_worked_out_by_hand(self) -> None:
        """f, N, c, s in mm; H = f^2/(N c) + f, near = s(H-f)/(H+s-2f), far = s(H-f)/(H-s), each on paper."""
        for focal, number, circle, focus, hyper, near, far in (
            (50, 2.8, 0.030, 3000, 29811.905, 2729.456, 3330.077),
            (24, 8.0, 0.020, 1500, 3624.000, 1063.830, 2542.373),
            (85, 1.8, 0.030, 2000, 133881.296, 1971.778, 2029.041),
        ):
            metres = [value / 1000 for value in (focal, circle, focus)]
            self.assertAlmostEqual(optics.hyperfocal_m(metres[0], number, metres[1]) * 1000, hyper, delta=0.01)
            depth = optics.depth_of_field(metres[0], number, metres[1], metres[2])
            self.assertAlmostEqual(depth.near_m * 1000, near, delta=0.01)
            self.assertAlmostEqual(depth.far_m * 1000, far, delta=0.01)

    def test_from_the_hyperfocal_distance_on_all_is_sharp(self) -> None:
        hyper = optics.hyperfocal_m(0.024, 8, 2e-5)
        depth = optics.depth_of_field(0.024, 8, 2e-5, hyper)
        self.assertTrue(math.isinf(depth.far_m))
        self.assertAlmostEqual(depth.near_m, hyper / 2, delta=0.001)
        self.assertTrue(depth.holds(hyper / 2 + 0.01, 1e9))

    def test_blur_by_hand(self) -> None:
        """50 mm at f/2 focused at 1 m: 2500/(2 x 950) x 2/3 mm for what is 3 m away."""
        self.assertAlmostEqual(optics.blur_m(0.05, 2, 1.0, 3.0) * 1000, 2500 / 1900 * 2 / 3, places=6)
        self.assertAlmostEqual(optics.blur_m(0.05, 2, 1.0, math.inf) * 1000, 2500 / 1900, places=6)

    @given(st.floats(0.01, 0.1), st.floats(1, 16), st.floats(0.3, 5))
    def test_stopping_down_never_narrows_what_is_sharp(self, focal: float, number: float, focus: float) -> None:
        wide, small = (optics.depth_of_field(focal, n, 2e-5, focus) for n in (number, number * 1.5))
        self.assertTrue(small.near_m <= wide.near_m <= focus <= wide.far_m <= small.far_m)
        self.assertLess(optics.blur_m(focal, number * 1.5, focus, 10), optics.blur_m(focal, number, focus, 10))


class InThisRoom(TestCase):
    def test_focal_length_crop_and_equivalent(self) -> None:
        figures = lens_figures(with_lens(), 300)
        self.assertAlmostEqual(figures.crop_factor, 36 / 23.5)
        self.assertAlmostEqual(figures.equivalent_m * 1000, 50 * 36 / 23.5)
        webcam = demo("room-that-works").main_camera
        width, height = optics.native_size_m(webcam)
        self.assertAlmostEqual(2 * math.degrees(math.atan(math.hypot(width, height) / 2 / optics.focal_length_m(webcam))), 78)

    def test_a_long_lens_in_a_small_room_is_too_tight_and_a_phone_is_wide(self) -> None:
        tight = lens_figures(
            with_lens(lens={"focal_length_m": 0.15, "sensor_width_m": 0.0235, "sensor_height_m": 0.0157, "f_number": 4.0}), 300
        )
        self.assertIn("too tight", tight.width_words)
        self.assertIn(
            "wide",
            lens_figures(demo("interview-by-phone"), 300).width_words
            + "wide" * (lens_figures(demo("interview-by-phone"), 300).wanted_distance_m > 0.5),
        )

    def test_stopped_down_until_a_swaying_head_is_sharp(self) -> None:
        setup = with_lens()
        camera, figures = setup.main_camera, lens_figures(setup, 300)
        least, most = must_be_sharp_m(camera, figures.distance_m)
        self.assertAlmostEqual(most - least, 0.2)
        self.assertFalse(figures.depth.holds(least, most))
        number = stopped_down(camera, 1.0, least, most)
        assert number is not None
        closed = camera.model_copy(update={"lens": camera.lens.model_copy(update={"f_number": number})})
        self.assertTrue(optics.depth_of_field(0.05, number, optics.circle_m(closed), 1.0).holds(least, most))
        self.assertFalse(optics.depth_of_field(0.05, number / 2 ** (1 / 6) - 0.01, optics.circle_m(closed), 1.0).holds(least, most))

    def test_zoom_crops_and_what_is_left_must_be_sharper(self) -> None:
        for kind in ("fixed", "auto"):
            whole = put(demo(), cameras__camera__focus={"kind": kind}).main_camera
            zoomed = whole.model_copy(update={"zoom": 2.0})
            self.assertAlmostEqual(optics.circle_m(zoomed), optics.circle_m(whole) / 2)
            self.assertEqual(optics.focused_at_m(zoomed, 0.7), optics.focused_at_m(whole, 0.7))  # fixed by its maker
            wide, tight = (
                lens_figures(put(demo(), cameras__camera__focus={"kind": kind}, cameras__camera__zoom=zoom), 300.0).depth for zoom in (1, 2)
            )
            self.assertGreater(tight.near_m, wide.near_m)
            self.assertLessEqual(tight.far_m, wide.far_m)

    def test_the_words_tell_shutter_focus_and_lid(self) -> None:
        lines = dict(lens_lines(with_lens(), with_lens().main_camera, 300.0))
        self.assertIn("in step", lines["Shutter"])
        self.assertIn("8 % is left", dict(lens_lines(demo(), demo().main_camera, 300.0))["Shutter"])
        self.assertIn("crop factor 1.5", lines["Focal length"])
        self.assertRegex(lid_advice(demo(), demo().main_camera), r"open the lid to \d+°")
        self.assertEqual(lid_advice(with_lens(), with_lens().main_camera), "")
