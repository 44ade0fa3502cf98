"""The camera that ships, the words for the picture, and what the camera makes of light: blur, halo, lamps in view."""

from __future__ import annotations

import io
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from PIL import Image

from tests.core.test_light_table import lamp_before
from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import applied
from uphill_lamp.core.field.camera.metering import meter
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m, native_size_m
from uphill_lamp.core.scene.placing import face_of, pinhole_of, screen_pane
from uphill_lamp.core.scene.view import view_of
from uphill_lamp.drawings import camera
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.far_side import develop
from uphill_lamp.drawings.far_side.cast import flats_of
from uphill_lamp.drawings.far_side.render import luminance, render, rendered, shot_of
from uphill_lamp.drawings.figure.lit import SUN_AWAY_M, spots_of

FAST = {"focal_length_m": 0.018, "sensor_width_m": 0.0236, "sensor_height_m": 0.0157, "f_number": 1.4}


class InThePicture(TestCase):
    def test_after_every_move_that_is_offered_the_face_is_still_seen(self) -> None:
        """What a move puts down must not stand before the lens, unless it is a glass to look through."""
        for name in demos():
            appraisal = appraise(demo(name))
            moves = {move.id: move for finding in appraisal.findings_with_gains for move in finding.moves}
            for move in moves.values():
                setup = applied(appraisal.setup, move.patch)
                shot = shot_of(setup, 96, draft=True)
                x, y = shot.pinhole.project(face_of(setup).at(0.0, 0.0, -0.03))
                rows, columns = shot.person.covers.shape
                if 0 < x < 1 and 0 < y < 1:
                    self.assertGreater(float(shot.person.covers[int(y * rows), int(x * columns)]), 0.5, (name, move.id))

    def test_a_lens_looks_through_a_prompters_glass_and_others_see_it(self) -> None:
        setup = put(demo("standing-webinar"), preferences__budget=200.0, kit=[{"id": "phone", "name": "Old phone", "entry": "old_phone"}])
        moves = {move.id: move for finding in appraise(setup).findings_with_gains for move in finding.moves}
        through = applied(setup, moves["eyes.prompter"].patch)
        seen = [shot_of(made, 160).person.covers for made in (setup, through)]
        np.testing.assert_array_equal(*seen)
        self.assertIn("prompter", {flat.name for flat in flats_of(through, face_of(through).eyes)})


class Clip(TestCase):
    def test_lids_close_now_and_then_and_open_again(self) -> None:
        times = np.arange(0, 20, 0.02)
        lids = np.array([camera.lids_at(float(time_s)) for time_s in times])
        self.assertEqual(lids.min(), 0)
        self.assertGreater(lids.max(), 0.9)
        shut = (np.diff((lids > 0.5).astype(int)) > 0).sum()
        self.assertAlmostEqual(shut, 20 / camera.BLINK_EVERY_S, delta=1)
        self.assertLess(float((lids > 0).mean()), 0.12)

    def test_a_clip_is_pictures_of_one_size_in_which_the_head_moves_and_the_eyes_shut(self) -> None:
        appraisal = appraise(demo("room-that-works"))
        pictures = [picture.pixels for picture in camera.clip(appraisal, 0.4, columns=160)]
        self.assertEqual({picture.shape for picture in pictures}, {(90, 160, 3)})
        self.assertEqual(len(pictures), 4)
        self.assertFalse((pictures[0] == pictures[-1]).all())
        setup = appraisal.setup
        x, y = pinhole_of(setup).project(face_of(setup).at(0, setup.presenter.head.pupils_m / 2, 0))
        patches = []
        for lids in (0.0, 1.0):
            picture = rendered(appraisal.lit_scene, appraisal.metered, 960, lids=lids).pixels.astype(float)
            row, column = int(y * picture.shape[0]), int(x * picture.shape[1])
            patches.append(picture[row - 1 : row + 2, column - 1 : column + 2].mean())
        self.assertGreater(patches[1], patches[0] + 25)  # a lid is lighter than a pupil

    def test_files_are_what_they_are_called(self) -> None:
        picture = camera.still(appraise(demo("room-that-works")), 160)
        self.assertEqual(Image.open(io.BytesIO(picture.png())).format, "PNG")
        self.assertEqual(Image.open(io.BytesIO(picture.jpeg())).size, (160, 90))


class Words(TestCase):
    def test_what_would_strike_whoever_sees_it(self) -> None:
        words = {name: alt_text(appraise(demo(name))) for name in ("kitchen-table", "clock-bench", "room-that-works", "standing-webinar")}
        self.assertIn("in silhouette", words["kitchen-table"])
        self.assertIn("brighter than you", words["kitchen-table"])
        self.assertIn("Seen from below", words["clock-bench"])
        self.assertIn("a bright patch in the glasses", words["clock-bench"])
        self.assertIn("well exposed", words["room-that-works"])
        self.assertTrue(all(text.endswith(".") and ".." not in text for text in words.values()))

    def test_the_dark_side_is_named_as_the_picture_has_it(self) -> None:
        setup = put(demo("clock-bench"), lights__ceiling_h_lamp__on=False, screens__laptop__on=False)
        lit = lit_scene_of(setup).face_lx
        self.assertIn(
            f"the {'left' if lit['left_cheek'] > lit['right_cheek'] else 'right'} of your face in shadow", alt_text(appraise(setup))
        )


class Developing(TestCase):
    def test_blur_is_the_lens_formula_in_pixels(self) -> None:
        setup = put(demo("room-that-works"), cameras__camera__lens=FAST, cameras__camera__zoom=1.0)
        lens, pinhole = setup.main_camera, pinhole_of(setup)
        focal, focus = focal_length_m(lens), focused_at_m(lens, float(np.linalg.norm(face_of(setup).eyes - pinhole.place)))
        for at_m in (0.5, 2.0, 4.0):
            wanted = blur_m(focal, 1.4, focus, at_m) / native_size_m(lens)[0] * 640
            self.assertAlmostEqual(float(develop.blur_px(setup, pinhole, 640, np.array(at_m))), wanted, delta=0.02 * wanted)

    def test_an_open_lens_softens_what_is_behind_and_not_the_face(self) -> None:
        works = put(demo("room-that-works"), lights__shelf_h_lamp__on=False)  # a bright lamp's edge would outdo all others
        sharp = put(works, cameras__camera__lens=FAST | {"f_number": 22.0}, cameras__camera__zoom=1.0)
        soft = put(sharp, cameras__camera__lens__f_number=1.4)
        pictures = [luminance(lit_scene_of(setup), 640) for setup in (sharp, soft)]
        shot = shot_of(sharp, 640)
        body = shot.person.covers > 0.99
        behind = shot.person.covers < 0.01
        steps = [
            np.diff(picture @ np.array([0.2, 0.7, 0.1]), axis=1) ** 2 for picture in pictures
        ]  # squared: an edge spread out counts less
        self.assertLess(steps[1][behind[:, 1:]].mean(), 0.7 * steps[0][behind[:, 1:]].mean())
        self.assertAlmostEqual(steps[1][body[:, 1:]].mean() / steps[0][body[:, 1:]].mean(), 1, delta=0.15)

    def test_a_lamp_in_view_has_its_halo_and_one_behind_the_lens_is_not_drawn(self) -> None:
        works = demo("room-that-works")
        dark = put(works, lights__shelf_h_lamp__on=False)
        lit_scene = lit_scene_of(works)
        shelf = next(light for light in works.lights if light.id == "shelf-lamp").position
        x, y = pinhole_of(works).project(np.array([shelf.x_m, shelf.y_m, shelf.z_m]))
        row, column = int(y * 360), int(x * 640)
        on, off = (rendered(light, meter(light), 640).pixels.astype(float) for light in (lit_scene, lit_scene_of(dark)))
        self.assertGreater(on[row, column].min(), 250)
        ring = on[row - 14 : row + 15, column - 14 : column + 15].mean() - off[row - 14 : row + 15, column - 14 : column + 15].mean()
        self.assertGreater(ring, 20)
        self.assertTrue(np.isfinite(luminance(lit_scene_of(put(works, lights__key__position__y_m=2.75)), 160)).all())

    def test_a_dirty_lens_lifts_the_dark_near_a_bright_window_and_keeps_the_light(self) -> None:
        clean = demo("kitchen-table")
        dirty = put(clean, cameras__camera__lens__haze_share=0.2)
        faces = [self._mean(setup, (0.0, 0.0, -0.03)) for setup in (clean, dirty)]
        self.assertGreater(faces[1], faces[0] + 15)
        spans = [np.ptp(rendered(lit_scene_of(setup), meter(lit_scene_of(setup)), 320).pixels.mean(axis=2)) for setup in (clean, dirty)]
        self.assertLess(spans[1], spans[0])

    def _mean(self, setup: Any, place: tuple[float, float, float]) -> float:
        picture = rendered(lit_scene_of(setup), meter(lit_scene_of(setup)), 320).pixels.astype(float)
        x, y = pinhole_of(setup).project(face_of(setup).at(*place))
        row, column = int(y * picture.shape[0]), int(x * picture.shape[1])
        return float(picture[row - 2 : row + 3, column - 2 : column + 3].mean())

    def test_the_body_throws_its_shadow_on_the_wall_behind(self) -> None:
        setup = lamp_before((1.2, 0.25, 0.05))
        shot, lit_scene = shot_of(setup, 320), lit_scene_of(setup)
        lamp = next(source for source in lit_scene.sources if source.id == "bench-lamp")
        # Straight on from the lamp through the head to the wall behind: there it is dark.
        ray = face_of(setup).at(-0.09, 0, 0.02) - lamp.place
        beyond = lamp.place + ray * (0.001 - lamp.place[1]) / ray[1]
        spot = pinhole_of(setup).project(beyond)
        self.assertTrue((spot > 0).all() and (spot < 1).all())
        luminance(lit_scene, 320)
        hidden = shot.room.hidden.get_or_compute(lamp.content, lambda: self.fail("the picture kept no shadow of the lamp"))
        coarse = shot.room.coarse[1][hidden[0]]
        self.assertLess(float(np.linalg.norm(coarse - beyond, axis=1).min()), 0.06)

    def test_a_lens_looks_past_the_screen_it_sits_on_and_at_the_back_of_another(self) -> None:
        phone = demo("interview-by-phone")
        screen, lens = phone.screens[0], pinhole_of(phone).place
        pane = screen_pane(screen)
        for behind_m, backs in ((0.01, 0), (0.2, 1)):
            flats = flats_of(phone, pane.middle - behind_m * pane.normal)
            self.assertEqual(sum(flat.kind == "back" and flat.name == screen.id for flat in flats), backs)
        self.assertEqual(sum(flat.kind == "back" and flat.name == screen.id for flat in flats_of(phone, lens)), 0)

    @promise(25)
    @given(varied_setups())
    def test_the_body_takes_as_much_of_the_picture_as_the_metering_reckons(self, setup: Any) -> None:
        pinhole, columns = pinhole_of(setup), 80
        rows = max(2, round(columns / pinhole.field.aspect))
        x, y = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
        reckoned = view_of(setup, pinhole, pinhole.ray(x.ravel(), y.ravel())).mask("head", "neck", "shirt").mean()
        self.assertAlmostEqual(float(shot_of(setup, columns, True).person.covers.mean()), reckoned, delta=0.06 + 0.35 * reckoned)

    def test_an_upright_picture_has_no_more_pixels_than_a_landscape(self) -> None:
        for aspect in (0.4, 9 / 16, 1.0, 4 / 3, 16 / 9, 2.4):
            setup = put(demo("interview-by-phone"), call__output_aspect=aspect)
            rows, columns = camera.still(appraise(setup), 320).pixels.shape[:2]
            self.assertAlmostEqual(columns / rows, aspect, delta=0.02 * aspect)
            self.assertLessEqual(rows * columns, 1.02 * 320 * 180)

    def test_small_lamps_shine_from_a_disc_and_the_sun_from_afar(self) -> None:
        lit_scene = lit_scene_of(demo("room-that-works"))
        bulb = next(source for source in lit_scene.sources if source.id == "shelf-lamp")
        eyes = face_of(lit_scene.setup).eyes
        self.assertAlmostEqual(float(np.linalg.norm(spots_of(bulb, eyes, False).mean(axis=0) - bulb.place)), 0, delta=1e-9)
        self.assertGreater(SUN_AWAY_M, 20)

    def test_drafts_and_full_pictures_show_the_same(self) -> None:
        appraisal = appraise(demo("room-that-works"))
        full, draft = (
            render(appraisal, 320).pixels.astype(float),
            rendered(appraisal.lit_scene, appraisal.metered, 320, draft=True).pixels.astype(float),
        )
        self.assertLess(float(np.abs(full - draft).mean()), 6)
