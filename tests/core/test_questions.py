"""Questions before advice: what rests on a guess nobody made does not lead, and its answers say what they are drawn as."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from tests.desks import DESKS, desk
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.appraisal.causes import asked_first
from uphill_lamp.core.areas.eyes.glances import faces
from uphill_lamp.core.areas.eyes.question import PLACES, window_on_screen
from uphill_lamp.core.areas.frame.question import HEADS, head_in_picture
from uphill_lamp.core.areas.sound.question import FAR_M, distance_from_mouth
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.scene.placing import microphone_place
from uphill_lamp.core.scene.scene import scene_of


class Questions(TestCase):
    setups: dict[str, Setup] = {name: desk(name) for name in DESKS} | {name: demo(name) for name in ("kitchen-table", "standing-webinar")}

    def test_where_the_head_is(self) -> None:
        asked = 0
        for name, setup in self.setups.items():
            question = head_in_picture(setup)
            asked += question is not None
            for answer in question.answers if question else ():
                with self.subTest(name, answer=answer.key):
                    after = applied(setup, answer.patch)
                    crown = scene_of(after).pinhole.project(scene_of(after).face.crown)
                    self.assertAlmostEqual(float(crown[1]), HEADS[answer.key][1], delta=0.002)
                    self.assertIsNone(head_in_picture(after))
        self.assertGreater(asked, 10)

    def test_where_the_window_is(self) -> None:
        asked = 0
        for name, setup in self.setups.items():
            question = window_on_screen(setup)
            asked += question is not None
            for answer in question.answers if question else ():
                with self.subTest(name, answer=answer.key):
                    after = applied(setup, answer.patch)
                    seen = faces(after)
                    assert seen and seen.window and seen.screen
                    shares = np.array([seen.window.left_px, seen.window.top_px, seen.window.width_px, seen.window.height_px], float)
                    shares /= np.tile([seen.screen.width_px, seen.screen.height_px], 2)
                    np.testing.assert_allclose(shares, PLACES[answer.key][1], atol=0.01)
                    self.assertIsNone(window_on_screen(after))
        self.assertGreater(asked, 10)
        self.assertIsNone(window_on_screen(desk("04 two monitors")))  # somebody put that window where it is

    def test_how_far_the_microphone_is(self) -> None:
        asked = 0
        for name, setup in self.setups.items():
            question = distance_from_mouth(setup)
            asked += question is not None
            for answer in question.answers if question else ():
                with self.subTest(name, answer=answer.key):
                    after = applied(setup, answer.patch)
                    assert after.microphone_in_use
                    away = microphone_place(after, after.microphone_in_use) - scene_of(after).face.lips
                    self.assertAlmostEqual(float(np.linalg.norm(away)), FAR_M[answer.key][1], delta=0.002)
                    self.assertIsNone(distance_from_mouth(after))
        self.assertGreaterEqual(asked, 3)
        self.assertIsNone(distance_from_mouth(desk("01 dorm")))  # a built-in one is where its laptop is

    def test_a_guess_does_not_lead_until_it_is_answered(self) -> None:
        lamps = appraise(desk("12 lamps"))
        asking = asked_first(lamps.causes)
        assert asking and asking.asks
        self.assertEqual(asking.asks.key, "head")
        self.assertIsNone(lamps.causes[0].first.asks)
        answers = {answer.key: answer for answer in asking.asks.answers}
        low = appraise(applied(lamps.setup, answers["low"].patch))
        self.assertEqual(low.causes[0].first.id, "frame.eye_line")
        self.assertIsNone(asked_first(low.causes))
        high = appraise(applied(lamps.setup, answers["high"].patch))
        self.assertNotIn("frame.eye_line", [finding.id for finding in high.findings])

    def test_what_was_entered_is_not_asked(self) -> None:
        setup = desk("12 lamps")
        camera = setup.main_camera
        told = put(setup, origins=setup.model_dump(mode="json")["origins"] | {f"/cameras/{camera.id}/tilt_deg": "entered"})
        self.assertIsNone(head_in_picture(told))
        self.assertIsNone(asked_first([cause for cause in appraise(told).causes if cause.first.area == "frame"]))
