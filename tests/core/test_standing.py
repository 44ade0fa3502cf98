"""Nothing that is advised is impossible: each rule by itself. Offered moves and plans are held to plain geometry where they are worked out."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np

from tests.desks import desk
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import rotated
from uphill_lamp.core.standing.sight import luminance_cd_m2
from uphill_lamp.core.standing.stands_free import Standing, obstacles


def lamp(**changes: Any) -> dict[str, Any]:
    return {"id": "new", "name": "New", "kind": "bulb", "flux_lm": 400.0, "cct_k": 4000.0, "on": True, "stands": "floor"} | changes


class Rules(TestCase):
    def there(self, setup: Setup) -> set[tuple[str, str]]:
        return {(obstacle.rule, obstacle.thing) for obstacle in obstacles(setup)}

    def with_lamp(self, x: float, y: float, z: float, **changes: Any) -> set[tuple[str, str]]:
        """A desk in the middle of its room, seen along +y, with one lamp more."""
        setup = put(desk("14 default"), lights=[lamp(position={"x_m": x, "y_m": y, "z_m": z}, **changes)])
        return self.there(setup)

    def test_lamps_keep_off_the_lines_of_sight_and_stand_on_something(self) -> None:
        setup = desk("14 default")
        eyes, pane = scene_of(setup).face.eyes, scene_of(setup).screens["laptop"]
        for aside_deg, free in ((3, False), (19, False), (28, True), (60, True)):
            place = eyes + rotated(pane.middle - eyes, np.zeros(3), aside_deg)
            self.assertEqual(("in sight", "lights/new") not in self.with_lamp(*place), free, aside_deg)
        self.assertIn(("in the way", "lights/new"), self.with_lamp(*(eyes + pane.middle) / 2))
        sheet = {"transmittance": 0.6, "width_m": 0.4, "height_m": 0.4}  # baking paper hung over the screen
        over = (eyes + pane.middle) / 2 + np.array([0.25, 0.0, 0.05])
        self.assertNotIn(("in the way", "lights/new"), self.with_lamp(*over))
        self.assertIn(("in the way", "lights/new"), self.with_lamp(*over, diffuser=sheet, aim_yaw_deg=270.0))
        for stands, high, rule in (("desk", 0.45, False), ("desk", 0.7, True), ("floor", 0.7, False)):
            rules = self.with_lamp(setup.desk.x_m + 0.5, setup.desk.y_m, setup.desk.height_m + high, stands=stands)
            self.assertEqual(("carried by nothing", "lights/new") in rules, rule, (stands, high))
        self.assertAlmostEqual(luminance_cd_m2(put(setup, lights=[lamp(kind="ring", width_m=0.25, flux_lm=700.0, dim=0.33,
            position={"x_m": 1, "y_m": 1, "z_m": 1})]).lights[0]), 700 * 0.33 / (math.pi**2 / 4 * 0.25**2 * 0.51), places=3)  # fmt: skip

    def test_no_lens_looks_at_the_back_of_a_raised_lid(self) -> None:
        setup = put(demo("clock-bench"), preferences__budget=100.0)
        moves = appraise(setup).moves_worked_out
        phone = applied(setup, moves["frame.use_camera.spare-phone"].patch)
        self.assertNotIn(("in the picture", "screens/laptop"), {(told.rule, told.thing) for told in obstacles(phone)})
        raised = applied(phone, [operation for operation in moves["frame.raise_camera"].patch if "/screens/" in str(operation["path"])])
        self.assertIn(("in the picture", "screens/laptop"), {(told.rule, told.thing) for told in obstacles(raised)})
        self.assertFalse(Standing(phone).free(raised))

    def test_desks_people_microphones_calls_and_curtains(self) -> None:
        setup = desk("14 default")
        self.assertEqual(self.there(setup), set())
        self.assertIn(("through a wall", "desk"), self.there(put(setup, desk__yaw_deg=90.0, desk__x_m=0.2)))
        away = put(setup, presenter__y_m=round(setup.presenter.y_m - 0.25, 3))
        self.assertIn(("out of reach of the keys", "presenter"), self.there(away))
        self.assertNotIn(("out of reach of the keys", "presenter"), self.there(put(away, call__use="recorded")))
        small = put(setup, screens__laptop__windows__call__width_px=640)  # 10 cm
        self.assertIn(("too small to see", "shown/laptop.call"), self.there(small))
        windowed = put(
            desk("03 office"),
            room__furnishings=[{"id": "soft-1", "name": "D", "kind": "duvet", "count": 1}],
            room__windows__window__wall="wall_y1",
        )
        self.assertIn(("before a window", "furnishings/soft-1"), self.there(windowed))
        far = put(desk("11 street"), **{f"microphones__{desk('11 street').microphone_in_use.id}__position__z_m": 1.5})  # type: ignore[union-attr]
        self.assertTrue(any(rule == "carried by nothing" for rule, _ in self.there(far)))

    def test_what_only_a_change_can_do(self) -> None:
        night, day = desk("16 desk lamp"), desk("14 default")
        for setup, least in ((night, 60.0), (day, 0.35 * day.screens[0].luminance_cd_m2)):
            standing = Standing(setup)
            for luminance, free in ((least - 2, False), (least + 2, True)):
                self.assertEqual(standing.free(put(setup, screens__laptop__luminance_cd_m2=luminance)), free, luminance)
        dark = {f"lights__{light.id.replace('-', '_h_')}__on": False for light in night.lights}
        self.assertEqual({obstacle.rule for obstacle in Standing(night).new(put(night, **dark))}, {"dark"})
        self.assertTrue(Standing(day).free(put(day, **{f"lights__{light.id.replace('-', '_h_')}__on": False for light in day.lights})))
        phone = demo("interview-by-phone")
        self.assertFalse(
            Standing(phone).free(put(phone, screens__phone__windows__call__left_px=0, screens__phone__windows__call__top_px=0))
        )
