"""Drawings: escaped by construction, to scale, and the picture's pixels agree with the figures."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase
from xml.etree import ElementTree

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.desks import desk
from tests.promise import promise
from tests.setups import any_setup, demo, demos, put
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.document import applied, written
from uphill_lamp.core.document.quickstart import QUESTIONS
from uphill_lamp.core.field.light.sources import PointSource
from uphill_lamp.core.scene.body import head_frame
from uphill_lamp.core.scene.placing import Face, face_of, pinhole_of
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import view_of
from uphill_lamp.drawings import answers, bars, level_colours, overlay, plan, screen, side, slope
from uphill_lamp.drawings.draftsman import Draftsman, Pace
from uphill_lamp.drawings.far_side import levels
from uphill_lamp.drawings.far_side.colour import tone_table, white_rgb, white_xy
from uphill_lamp.drawings.far_side.mirror import Mirrors
from uphill_lamp.drawings.far_side.render import luminance, render, rendered
from uphill_lamp.drawings.lit_face import lit_face
from uphill_lamp.drawings.sheet import within
from uphill_lamp.drawings.svg import Node, words

STAGES = ("frame", "light", "sound", "eyes")


def with_glasses(face: Face, kind: str) -> Face:
    return replace(face, presenter=face.presenter.model_copy(update={"glasses": kind}))


class Svg(TestCase):
    @given(st.text(max_size=40))
    def test_no_text_or_attribute_can_leave_its_place(self, text: str) -> None:
        text = "".join(mark for mark in text if mark >= " " and not 0xD800 <= ord(mark) < 0xE000 and ord(mark) not in (0xFFFE, 0xFFFF))
        for hostile in (text, f"</text><script>{text}</script>", f'" onload="{text}'):
            tree = ElementTree.fromstring(Node("g", words(1, 2, hostile), aria_label=hostile).text())
            self.assertEqual(tree.attrib, {"aria-label": " ".join(hostile.split(" "))} | tree.attrib)
            self.assertEqual([child.tag for child in tree.iter()], ["g", "text"])
            self.assertEqual(tree[0].text or "", hostile)

    def test_markup_in_names_is_drawn_as_text(self) -> None:
        setup = put(demo(), lights__bench_h_lamp__name="<script>alert(1)</script> & “lamp”")
        appraisal = appraise(setup)
        for drawing in (plan.plan(appraisal, "light", "lights/bench-lamp"), side.side(appraisal, "light", "")):
            self.assertNotIn("<script", drawing)
            self.assertIn("&lt;script&gt;", drawing)
            ElementTree.fromstring(drawing)


class Sheets(TestCase):
    @promise(25)
    @given(any_setup, st.sampled_from(STAGES))
    def test_every_setup_can_be_drawn_with_everything_in_reach(self, setup: object, stage: str) -> None:
        appraisal = appraise(setup)  # type: ignore[arg-type]
        for drawing in (plan.plan(appraisal, stage, ""), side.side(appraisal, stage, "presenter"), overlay.overlay(appraisal, stage)):
            tree = ElementTree.fromstring(drawing)
            self.assertNotIn("nan", drawing.lower().replace("alternance", ""))
            things = [node for node in tree.iter() if "data-thing" in node.attrib]
            self.assertTrue(all(node.get("tabindex") == "0" and node.get("aria-label") for node in things))
        above = {node.get("data-thing") for node in ElementTree.fromstring(plan.plan(appraisal, stage, "")).iter()} - {None}
        listed = {f"lights/{light.id}" for light in appraisal.setup.lights} | {f"cameras/{camera.id}" for camera in appraisal.setup.cameras}
        self.assertLessEqual(listed | {"presenter", "desk"}, above)

    def test_the_plan_is_to_scale(self) -> None:
        setup = demo()
        sheet = plan.plan_sheet(setup)
        (x1, y1), (x2, y2) = sheet.at(np.array([0, 0, 0])), sheet.at(np.array([setup.room.width_m, setup.room.depth_m, 0]))
        self.assertAlmostEqual((x2 - x1) / setup.room.width_m, sheet.scale)
        self.assertAlmostEqual((y1 - y2) / setup.room.depth_m, sheet.scale)
        self.assertTrue(0 < x1 < x2 < plan.WIDTH and 0 < y2 < y1 < plan.HEIGHT)

    def test_bars_answers_and_the_hill(self) -> None:
        measures = appraise(demo()).measures
        self.assertEqual(bars.figure_words(measures["frame.view_angle"]), "\u221215.3°")
        self.assertEqual(bars.band_words(measures["frame.view_angle"]), "\u22121 to +3°")
        self.assertEqual(bars.band_words(measures["frame.roll"]), "within ±0.5°")
        self.assertEqual(bars.band_words(measures["sound.snr"]), "from 30 dB")
        self.assertEqual(bars.band_words(measures["light.sides"]), "up to 0.5 stops")
        for measure in measures.values():
            if measure.band:
                ElementTree.fromstring(bars.bar(measure))
        for question in QUESTIONS:
            sketches = {answers.answer(question.key, answer.key) for answer in question.answers}
            self.assertEqual(len(sketches), len(question.answers))
        heights = [slope.rise(x) for x in range(0, 1281, 64)]
        self.assertEqual(heights, sorted(heights, reverse=True))
        ElementTree.fromstring(slope.hill())


class BeforeTheLens(TestCase):
    def test_a_microphone_and_its_arm_are_drawn_where_they_are_in_view(self) -> None:
        """What is advised is seen: at the mouth it hides pixels where the projection puts it, and none once it is put away."""
        setup = desk("10 dynamic")
        near = applied(setup, appraise(put(setup, preferences__budget=0.0)).moves_worked_out["sound.bring_nearer"].patch)
        microphone = near.microphone_in_use
        assert microphone is not None and microphone.position is not None
        shots = []
        for shown in (near, put(near, microphones=[])):
            appraisal = appraise(shown)
            shots.append(luminance(appraisal.lit_scene, 320, draft=True).mean(axis=2))
        changed = np.abs(np.log2(np.maximum(shots[0], 1e-3) / np.maximum(shots[1], 1e-3))) > 0.5
        rows, columns = changed.shape
        across, down = scene_of(near).pinhole.project(vector(microphone.position))
        self.assertTrue(changed[min(int(down * rows), rows - 1), min(int(across * columns), columns - 1)])
        self.assertLess(changed.mean(), 0.08)


class FarSide(TestCase):
    def test_the_face_is_where_the_projection_says_and_lit_as_computed(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            picture = render(appraisal).pixels
            self.assertEqual(picture.shape, (360, 640, 3))
            x, y = pinhole_of(appraisal.setup).project(face_of(appraisal.setup).at(0.0, 0.0, -0.03))
            if 0.05 < x < 0.95 and 0.05 < y < 0.95:
                patch = self._patch(picture, x, y)
                self.assertGreater(patch[0], patch[2] * 0.8, f"{name}: skin is not blue")

    def test_the_bright_side_of_the_face_is_the_bright_side_of_the_picture(self) -> None:
        for window, brighter in (("left", 1), ("right", -1)):
            from uphill_lamp.core.document.quickstart import setup_from_answers

            appraisal = appraise(setup_from_answers({"when": "bright", "window": window, "lamps": []}))
            picture = render(appraisal).pixels.astype(float)
            sides = [self._cheek(appraisal, picture, side_m) for side_m in (0.035, -0.035)]
            self.assertGreater((sides[0] - sides[1]) * brighter, 15)

    def test_a_silhouette_is_dark_and_a_good_room_is_not(self) -> None:
        dark, good = (
            self._cheek(appraise(demo(name)), render(appraise(demo(name))).pixels.astype(float), 0.0)
            for name in ("kitchen-table", "room-that-works")
        )
        self.assertLess(dark, 40)
        self.assertGreater(good, 90)

    def test_it_is_the_same_each_time_grainier_in_the_dark_and_any_hair_will_do(self) -> None:
        setup = demo("clock-bench")
        one, two = (render(appraise(setup), 160).jpeg() for _ in range(2))
        self.assertEqual(one, two)
        self.assertTrue(one.startswith(b"\xff\xd8"))
        hair = {kind: render(appraise(put(setup, presenter__hair=kind)), 160).jpeg() for kind in ("short", "long", "covered", "none")}
        self.assertEqual(len(set(hair.values())), 4)
        night = put(setup, lights=[], screens__laptop__on=False)
        self.assertGreater(self._grain(night), 2 * self._grain(demo("room-that-works")))

    def test_lenses_mirror_a_screen_where_the_law_of_reflection_has_it_and_no_other_way(self) -> None:
        setup = put(demo("clock-bench"), screens__laptop__position__z_m=0.97, screens__laptop__hinge_deg=82.0)
        face, lens = face_of(setup), pinhole_of(setup).place
        y, z = np.meshgrid(np.linspace(-0.056, 0.056, 40), np.linspace(-0.02, 0.015, 20))
        places = np.column_stack([np.zeros(y.size), y.ravel(), z.ravel()])
        rays = places @ head_frame(face) + face.eyes - lens
        rays /= np.linalg.norm(rays, axis=1, keepdims=True)
        sources = appraise(setup).lit_scene.sources
        wearing = {kind: with_glasses(face, kind) for kind in ("plain", "anti_reflective")}
        glare = {kind: Mirrors(sources, worn).in_lenses(places, rays).sum() for kind, worn in wearing.items()}
        self.assertGreater(glare["plain"], 4 * glare["anti_reflective"])
        self.assertGreater(glare["anti_reflective"], 0)
        self.assertEqual(Mirrors((), wearing["plain"]).in_lenses(places, rays).sum(), 0)
        # Straight back: a source at the camera is mirrored only where the surface looks at the camera.
        flat = np.array([[0.0, 0.0325, 0.0]])
        lamp = PointSource("", lens, np.array([0, 1.0, 0]), np.array([1.0, 0, 0]), 1000, 360, 4000)
        self.assertEqual(Mirrors((lamp,), wearing["plain"]).in_lenses(flat, rays[:1]).sum(), 0)
        self.assertEqual(len(Mirrors((), with_glasses(face, "none")).lens_places(np.array([1.0, 0, 0]), -np.eye(3))[0]), 0)

    def test_colour_of_white_and_development(self) -> None:
        self.assertAlmostEqual(white_xy(6500)[0], 0.3128, delta=0.001)
        self.assertAlmostEqual(white_xy(2700)[0], 0.4599, delta=0.001)
        warm, cool = white_rgb(2700), white_rgb(9000)
        self.assertGreater(warm[0] / warm[2], 3)
        self.assertLess(cool[0] / cool[2], 1)
        levels = tone_table().astype(int)
        self.assertTrue((np.diff(levels) >= 0).all())
        self.assertEqual((levels[0], levels[-1]), (0, 255))

    def _cheek(self, appraisal: Appraisal, picture: np.ndarray, left_m: float) -> float:
        x, y = pinhole_of(appraisal.setup).project(face_of(appraisal.setup).at(-0.01, left_m, -0.035))
        return float(self._patch(picture, x, y).mean())

    def _patch(self, picture: np.ndarray, x: float, y: float) -> np.ndarray:
        rows, columns = picture.shape[:2]
        row, column = int(y * rows), int(x * columns)
        return picture[max(row - 3, 0) : row + 4, max(column - 3, 0) : column + 4].astype(float).mean(axis=(0, 1))

    def _grain(self, setup: object) -> float:
        picture = render(appraise(setup)).pixels.astype(float)[20:60, 200:280, 1]  # type: ignore[arg-type]
        return float(np.abs(np.diff(picture, axis=1)).mean())


class TheDraftsman(TestCase):
    def test_draws_what_the_app_would_and_goes_when_its_input_ends(self) -> None:
        appraisal = appraise(demo("clock-bench"))
        document = written(appraisal.setup).encode()
        draftsman = Draftsman()
        draftsman.start()
        self.assertTrue(draftsman._ready.wait(60))
        try:
            self.assertEqual(
                draftsman.picture(document, appraisal.metered, 208),
                rendered(appraisal.lit_scene, appraisal.metered, 208, draft=True).jpeg(),
            )
            self.assertIsNone(draftsman.picture(b"{}", appraisal.metered, 208))
            self.assertIsNotNone(draftsman.picture(document, appraisal.metered, 64))
        finally:
            process = draftsman._process
            assert process is not None and process.stdin is not None and process.stdout is not None
            process.stdin.close()
            self.assertEqual(process.wait(20), 0)
            process.stdout.close()


class LightLevels(TestCase):
    def test_each_colour_is_the_level_that_falls_there(self) -> None:
        appraisal = appraise(demo("clock-bench"))
        pixels = levels.light_levels(appraisal).pixels
        rows, columns = pixels.shape[:2]
        pinhole = pinhole_of(appraisal.setup)
        checked = 0
        for x, y in ((0.1, 0.2), (0.3, 0.15), (0.9, 0.12), (0.12, 0.9), (0.5, 0.25)):
            view = view_of(appraisal.setup, pinhole, pinhole.ray(np.array([x]), np.array([y])))
            if view.things[view.what[0]].kind != "surface":
                continue
            level = float(appraisal.lit_scene.illuminance_lx(view.place, view.normal)[0])
            if min(abs(np.log2(level / step)) for step in level_colours.STEPS_LX) < 0.1:
                continue  # on the edge of two
            wanted = [int(level_colours.colour_of(level)[at : at + 2], 16) for at in (1, 3, 5)]
            np.testing.assert_allclose(pixels[int(y * rows), int(x * columns)], wanted, atol=2)
            checked += 1
        self.assertGreater(checked, 1)

    def test_colours_grow_lighter_and_have_their_words(self) -> None:
        brightness = [sum(int(colour[at : at + 2], 16) for at in (1, 3, 5)) for colour in level_colours.COLOURS]
        self.assertEqual(brightness, sorted(brightness))
        self.assertEqual(len(level_colours.key()), len(level_colours.STEPS_LX) + 1)
        self.assertEqual(
            (level_colours.colour_of(0.0), level_colours.colour_of(1e6)), (level_colours.COLOURS[0], level_colours.COLOURS[-1])
        )

    @promise(10)
    @given(any_setup)
    def test_any_setup_has_its_levels_and_its_face(self, setup: object) -> None:
        appraisal = appraise(setup)  # type: ignore[arg-type]
        self.assertEqual(levels.light_levels(appraisal).pixels.shape[2], 3)
        text = lit_face(appraisal)
        ElementTree.fromstring(text)
        self.assertEqual(text.count("<circle"), 6)


class ThePaceOfDrafts(TestCase):
    def test_narrows_while_drafts_are_slow_and_widens_when_they_are_quick(self) -> None:
        pace = Pace()
        for took_s, columns in (
            (2 * Pace.SLOW_S, 160),
            (Pace.SLOW_S, 160),
            (Pace.QUICK_S / 2, 208),
            (Pace.QUICK_S / 2, 256),
            (0.05, 256),
            (0, 320),
            (0, 320),
        ):
            pace.took(took_s)
            self.assertEqual(pace.columns, columns)

    @given(st.lists(st.floats(0, 10), max_size=30))
    def test_never_leaves_its_widths(self, times: list[float]) -> None:
        pace = Pace()
        for seconds in times:
            pace.took(seconds)
            self.assertIn(pace.columns, Pace.WIDTHS_PX)


class Overlays(TestCase):
    def test_the_destination_shows_on_the_picture(self) -> None:
        for values, mark in (({"call__destination": "square"}, "cut-away"), ({"call__destination": "vertical_clip"}, "there-you"),
                             ({"call__slides": "beside"}, "there-slide"), ({"call__slides": "corner"}, "there-slide")):  # fmt: skip
            text = overlay.overlay(appraise(put(demo("interview-by-phone"), **values)), "frame")
            self.assertIn(mark, text)
            ElementTree.fromstring(text)
        self.assertNotIn("there", overlay.overlay(appraise(demo("clock-bench")), "frame"))

    def test_what_leaves_a_box_is_cut_at_it(self) -> None:
        cut = within([(-1.0, 0.5), (0.5, -1.0), (2.0, 0.5), (0.5, 2.0)], (0, 0, 1, 1))
        self.assertEqual(len(cut), 4 if len(cut) == 4 else 8)
        self.assertTrue(all(-1e-9 <= value <= 1 + 1e-9 for spot in cut for value in spot))
        self.assertEqual(within([(2.0, 2.0), (3.0, 2.0), (2.0, 3.0)], (0, 0, 1, 1)), [])
        self.assertEqual(within([(0.2, 0.2), (0.8, 0.2), (0.5, 0.8)], (0, 0, 1, 1)), [(0.2, 0.2), (0.8, 0.2), (0.5, 0.8)])

    def test_a_screen_is_drawn_with_all_its_windows_and_the_zone_of_contact(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            for shown_on in appraisal.setup.screens:
                text = screen.screen(appraisal, shown_on, "")
                ElementTree.fromstring(text)
                self.assertEqual(text.count("data-thing"), len(shown_on.windows))
        self.assertIn("contact-zone", screen.screen(appraise(demo("clock-bench")), demo("clock-bench").screens[0], ""))
