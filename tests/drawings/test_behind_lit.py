"""What is judged of the things behind in their light, against the picture's own pixels."""

from __future__ import annotations

import math
import typing
from unittest import TestCase
from unittest.mock import patch

import cv2
import numpy as np

from tests.desks import desk
from tests.setups import demo
from uphill_lamp.core.areas.backdrop.lit import COLUMNS, ROWS, SHADE_SHARE, SHADE_STOPS, lit_of
from uphill_lamp.core.areas.backdrop.texture import TEXTURES, texture_stops
from uphill_lamp.core.document import Setup, typical
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.far_side import room
from uphill_lamp.drawings.far_side.paint import glow, painted
from uphill_lamp.drawings.far_side.render import luminance, shot_of

LUMA = np.array([0.2126, 0.7152, 0.0722])
PIXEL_M = 0.005
HALF_HEIGHT = 2.355  # of a Gaussian: its width at half its height by its spread


def stops(setup: Setup, columns: int) -> np.ndarray:
    return np.asarray(np.log2(np.maximum(luminance(lit_scene_of(setup), columns) @ LUMA, 0.01)))


class Shadow(TestCase):
    def test_it_is_where_the_picture_darkens_and_as_deep(self) -> None:
        """The picture with the body's shadow against the same without it, at the places of the meter's rays."""
        for name in ("05 teacher", "12 lamps", "10 dynamic"):
            setup = desk(name)
            lit = lit_of(setup)
            shadow = lit.shadow()
            assert shadow is not None
            dark = stops(setup, COLUMNS * 8)
            with patch.object(room, "_kept_off", lambda seen, *rest: np.zeros((len(seen.coarse[0]), 3), np.float32)):
                light = stops(setup, COLUMNS * 8)
            person = shot_of(setup, COLUMNS * 8).person.covers > 0.01
            seen = (dark - light)[4::8, 4::8][:ROWS, :COLUMNS]
            free = lit.sight.meets("surface", "backdrop").reshape(ROWS, COLUMNS) & ~person[4::8, 4::8][:ROWS, :COLUMNS]
            self.assertLess(float(np.abs(seen - shadow.shaded)[free].mean()), 0.06, name)
            self.assertGreater(float(np.corrcoef(seen[free], shadow.shaded[free])[0, 1]), 0.88, name)
            where = np.where(free, seen, 0.0)
            steepest = max(float(np.abs(np.diff(where, axis=axis))[_both(free, axis)].max()) for axis in (0, 1))
            figure = steepest * math.sqrt(float((where < -SHADE_STOPS).mean()) / SHADE_SHARE)
            self.assertTrue(0.75 < figure / shadow.stops < 1.35, (name, figure, shadow.stops))


def _both(free: np.ndarray, axis: int) -> np.ndarray:
    """Where a place and the next one along an axis are both free."""
    return free[:-1] & free[1:] if axis == 0 else free[:, :-1] & free[:, 1:]


class Outline(TestCase):
    def test_what_is_right_behind_the_head_is_as_bright_as_in_the_picture(self) -> None:
        for setup in (demo("room-that-works"), desk("05 teacher"), desk("14 default")):
            rim, level = lit_of(setup).sight.rim, lit_of(setup).metered.rim_cd_m2
            assert rim is not None
            half, shown = len(level) // 2, stops(setup, 640)
            columns, rows = (scene_of(setup).pinhole.project(rim.place[half:]) * shown.shape[::-1]).astype(int).T
            past = shot_of(setup, 640).person.covers[rows, columns] < 0.01
            self.assertGreaterEqual(past.sum(), 6)
            apart = np.abs(np.log2(level[half:]) - shown[rows, columns])[past]
            self.assertLess(float(np.median(apart)), 0.25)


class Textures(TestCase):
    def test_each_kind_is_as_restless_as_it_is_drawn_and_a_blur_calms_it_as_much(self) -> None:
        self.assertEqual(set(TEXTURES), set(typing.get_args(BackdropThing.model_fields["kind"].annotation)))
        for kind in TEXTURES:
            thing = BackdropThing.model_validate(typical.backdrop(kind, "x", {"x_m": 1.0, "y_m": 1.0, "z_m": 1.0}))
            drawn, there = self._drawn(thing)
            spread = float(drawn[there].std())
            self.assertAlmostEqual(texture_stops(kind, 0.0), spread, delta=0.08, msg=kind)
            for wide_m in (0.02, 0.05, 0.08):
                soft = self._blurred(drawn, there, wide_m)
                self.assertAlmostEqual(texture_stops(kind, wide_m), soft, delta=0.12, msg=(kind, wide_m))

    @staticmethod
    def _drawn(thing: BackdropThing) -> tuple[np.ndarray, np.ndarray]:
        """log2 of what each place of a kind reflects, or shines, and whether it covers what is behind it."""
        columns, rows = round(thing.width_m / PIXEL_M), round(thing.height_m / PIXEL_M)
        across, down = (grid.ravel() for grid in np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows))
        albedo, covers = painted(thing, across, down)
        level = albedo @ LUMA if thing.kind != "screen" else np.maximum(glow(thing, across, down), 0.1)
        return np.log2(np.maximum(level, 0.005)).reshape(rows, columns), np.asarray(covers).reshape(rows, columns) > 0.5

    @staticmethod
    def _blurred(drawn: np.ndarray, there: np.ndarray, wide_m: float) -> float:
        spread_px = wide_m / PIXEL_M / HALF_HEIGHT
        soft, share = (
            cv2.GaussianBlur(one, (0, 0), spread_px, borderType=cv2.BORDER_CONSTANT)
            for one in (np.where(there, drawn, 0.0), there.astype(float))
        )
        return float((soft / np.maximum(share, 1e-3))[there].std())
