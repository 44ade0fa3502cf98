"""The desk in the picture: where it lies, what it hides, and how bright its top is."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from tests.setups import demo, put
from uphill_lamp.core.field.camera.camera_rays import camera_rays_of
from uphill_lamp.core.field.light.boards import board_of
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.placing import face_of, pinhole_of
from uphill_lamp.drawings.far_side.cast import SURFACES, flats_of
from uphill_lamp.drawings.far_side.colour import LUMA
from uphill_lamp.drawings.far_side.render import luminance, shot_of
from uphill_lamp.drawings.figure.surround import MIDDLE_M

COLUMNS = 320


class Desk(TestCase):
    """A camera over it that looks down over the desk at whoever sits there."""

    def setUp(self) -> None:
        free = {"mount": "arm", "on_screen": None, "position": {"x_m": 1.9, "y_m": 2.6, "z_m": 1.95}}
        camera = (
            demo("standing-webinar").main_camera.model_dump(mode="json") | free | {"yaw_deg": 180.0, "tilt_deg": -55.0, "roll_deg": 0.0}
        )
        self.setup = put(demo("standing-webinar"), cameras=[camera])

    def on(self) -> tuple[np.ndarray, np.ndarray]:
        """Where the picture shows the desk's top, and where the presenter."""
        shot = shot_of(self.setup, COLUMNS)
        kinds = [*SURFACES, *(flat.kind for flat in flats_of(self.setup, pinhole_of(self.setup).place))]
        return shot.room.what == kinds.index("desk"), shot.person.covers > 0.5

    def test_it_lies_where_projection_has_it_and_hides_what_is_below(self) -> None:
        self.setup = put(self.setup, presenter__y_m=2.1)  # close to its edge
        desk, person = self.on()
        pinhole, at = pinhole_of(self.setup), self.setup.desk
        rows, columns = desk.shape
        middle = pinhole.project(np.array([[at.x_m, at.y_m - at.depth_m / 4, at.height_m]]))[0] * (columns, rows)
        self.assertTrue(desk[int(middle[1]), int(middle[0])])
        hips = pinhole.project(np.array([[at.x_m, 2.1, at.height_m - 0.25]]))[0] * (columns, rows)
        self.assertTrue(person.any())
        self.assertFalse(person[int(hips[1]), int(hips[0])])

    def test_a_desk_through_the_middle_of_the_head_still_gives_a_picture(self) -> None:
        """Nonsense that can be typed: no figure of the picture may be other than finite."""
        setup, head = put(self.setup, desk__height_range=None), face_of(self.setup).at(*MIDDLE_M)
        desk = np.array([setup.desk.x_m, setup.desk.y_m, setup.desk.height_m])
        middle = head - (board_of(setup.desk).cells[0] - desk)
        setup = put(setup, desk__x_m=float(middle[0]), desk__y_m=float(middle[1]), desk__height_m=float(middle[2]))
        self.assertLess(float(np.linalg.norm(board_of(setup.desk).cells[0] - head)), 1e-3)
        self.assertTrue(np.isfinite(luminance(lit_scene_of(setup), 96)).all())

    def test_its_top_is_as_bright_as_light_has_it(self) -> None:
        desk, person = self.on()
        lit_scene = lit_scene_of(self.setup)
        shown = luminance(lit_scene, COLUMNS) @ LUMA
        inner = desk & ~person
        wanted = lit_scene.sent_by_desk.sum(axis=1) / np.pi
        self.assertTrue(wanted.min() * 0.7 < np.median(shown[inner]) < wanted.max() * 1.05, (wanted, np.median(shown[inner])))

    def test_the_camera_meters_it_and_takes_it_for_no_background(self) -> None:
        sight = camera_rays_of(self.setup)
        self.assertTrue(sight.meets("desk").any())
        dark = put(self.setup, desk__reflectance=0.05)
        self.assertLess(
            luminance(lit_scene_of(dark), COLUMNS)[self.on()[0]].mean(), luminance(lit_scene_of(self.setup), COLUMNS)[self.on()[0]].mean()
        )
