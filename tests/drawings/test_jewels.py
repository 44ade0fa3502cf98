"""Jewellery in the picture: where it is worn, and a spark where it glints."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from tests.core.test_behind_lit import RING, lit_by_bulb
from tests.setups import demo, put
from uphill_lamp.core.areas.backdrop.shine import glinting
from uphill_lamp.core.document import Setup
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.worn import places_of
from uphill_lamp.drawings.far_side.render import luminance

LUMA, COLUMNS = np.array([0.2126, 0.7152, 0.0722]), 640


class Jewels(TestCase):
    def about(self, setup: Setup, reach: int = 4) -> np.ndarray:
        """Luminance where a pendant hangs [cd/m2]."""
        seen = luminance(lit_scene_of(setup), COLUMNS) @ LUMA
        worn = put(setup, presenter__clothing=[RING | {"worn_at": "neck"}])
        x, y = scene_of(setup).pinhole.project(places_of(worn, worn.presenter.clothing[0])[0])
        row, column = int(y * seen.shape[0]), int(x * seen.shape[1])
        return np.asarray(seen[row - reach : row + reach + 1, column - reach : column + reach + 1])

    def test_a_pendant_is_there_and_a_spark_only_where_it_glints(self) -> None:
        for setup, sparks in ((lit_by_bulb((1.0, 0.0, 0.3)), True), (demo("room-that-works"), False)):
            worn = put(setup, presenter__clothing=[RING | {"worn_at": "neck"}])
            self.assertEqual(glinting(worn, lit_scene_of(worn)) is not None, sparks)
            bare = self.about(put(setup, presenter__clothing=[]))
            there = self.about(worn)
            self.assertGreater(float(np.abs(there / bare - 1).max()), 0.15)
            self.assertEqual(float(there.max() / np.median(bare)) > 10, sparks)

    def test_what_is_no_longer_worn_or_hidden_by_hair_leaves_the_picture_as_it_is(self) -> None:
        ears = put(demo("room-that-works"), presenter__clothing=[RING | {"worn_at": "ears"}])
        bare = put(demo("room-that-works"), presenter__clothing=[])
        for hair, alike in (("short", False), ("long", True)):
            shown = [luminance(lit_scene_of(put(there, presenter__hair=hair)), COLUMNS) for there in (ears, bare)]
            self.assertEqual(bool(np.array_equal(*shown)), alike, hair)
