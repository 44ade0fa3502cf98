"""Short cuts of the picture give what the long way gives."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from tests.setups import demo, demos
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.placing import pinhole_of
from uphill_lamp.drawings.far_side import room
from uphill_lamp.drawings.far_side.colour import LUMA
from uphill_lamp.drawings.far_side.light import Returned
from uphill_lamp.drawings.far_side.room import room_luminance, room_seen
from uphill_lamp.drawings.figure.lit import ENOUGH_SPOTS
from uphill_lamp.drawings.figure.shadows import Maps
from uphill_lamp.drawings.figure.stored import stored


class WhileDragged(TestCase):
    def test_light_off_whole_patches_is_as_good_as_off_their_cells_for_a_draft(self) -> None:
        for name in demos():
            lit_scene = lit_scene_of(demo(name))
            pinhole, returned = pinhole_of(lit_scene.setup), Returned(lit_scene)
            with patch.object(room, "_kept_off", lambda seen, *rest: np.zeros((len(seen.coarse[0]), 3), np.float32)):
                quick, exact = (
                    room_luminance(room_seen(lit_scene.setup, pinhole, 208, 117, 1, False, by_elements), lit_scene, returned, ()) @ LUMA
                    for by_elements in (True, False)
                )
            apart = np.abs(quick / np.maximum(exact, 1e-3) - 1)
            self.assertLess(float(np.median(apart)), 0.015, name)
            self.assertLess(float(np.quantile(apart, 0.95)), 0.09, name)

    def test_the_few_spots_whose_shadow_a_picture_keeps_are_spread_over_what_shines(self) -> None:
        for side, count in ((6, 6), (4, 8)):
            spots = np.stack(np.meshgrid(np.arange(side), np.arange(side)), axis=-1).reshape(-1, 2) - (side - 1) / 2
            looks = np.zeros((2, side**2, 4, 3), np.float32)
            looks[:, :, 3, :2] = spots
            near = np.zeros((side**2, 1, 1), np.float32)
            chosen = Maps(looks, (near, near)).some(ENOUGH_SPOTS).spots
            self.assertEqual(len(chosen), count)
            np.testing.assert_allclose(chosen[:, :2].mean(axis=0), 0, atol=0.3)
            np.testing.assert_allclose(chosen[:, :2].std(axis=0), spots.std(axis=0), rtol=0.15)


class OnlyWhereColourChanges(TestCase):
    def test_a_second_look_at_edges_alone_is_as_good_as_at_every_pixel(self) -> None:
        for name in ("clock-bench", "kitchen-table", "room-that-works"):
            setup = demo(name)
            pinhole = pinhole_of(setup)
            actual = room_seen(setup, pinhole, 320, 180, 2, rough=False).albedo
            with patch("uphill_lamp.drawings.far_side.room.EDGE_ALBEDO", -1.0):
                wanted = room_seen(setup, pinhole, 320, 180, 2, rough=False).albedo
            apart = np.abs(actual - wanted).max(axis=1)
            # What is thinner than a pixel, a clock's hand, may fall between the first look's samples.
            self.assertLess(float(np.mean(apart > 0.02)), 0.01, name)
            self.assertLess(float(apart.mean()), 0.001, name)

    def test_a_window_shines_as_brightly(self) -> None:
        setup = demo("kitchen-table")
        pinhole = pinhole_of(setup)
        shares = []
        for fine in (1, 2):
            shining = room_seen(setup, pinhole, 320, 180, fine, rough=False).shining
            shares.append(sum(float(lit_cells.share.sum()) for lit_cells in shining if lit_cells.flat.kind == "window"))
        self.assertGreater(shares[0], 100)
        self.assertAlmostEqual(shares[1] / shares[0], 1, delta=0.02)  # the bars of its frame are thinner than a pixel


class Stored(TestCase):
    def test_worked_out_once_and_again_only_if_the_file_is_not_whole(self) -> None:
        times: list[int] = []

        def work() -> np.ndarray[tuple[int], np.dtype[np.int64]]:
            times.append(1)
            return np.arange(5)

        with tempfile.TemporaryDirectory() as folder, patch.dict(os.environ, {"NUMBA_CACHE_DIR": folder}):
            for _ in range(3):
                np.testing.assert_array_equal(stored("five", work), np.arange(5))
            self.assertEqual(len(times), 1)
            (file,) = Path(folder).iterdir()
            file.write_bytes(file.read_bytes()[:60])
            np.testing.assert_array_equal(stored("five", work), np.arange(5))
            self.assertEqual(len(times), 2)
            stored("six", work)
            self.assertEqual(len(list(Path(folder).iterdir())), 2)

    def test_without_a_place_to_keep_it_it_is_worked_out_each_time(self) -> None:
        with patch.dict(os.environ):
            os.environ.pop("NUMBA_CACHE_DIR", None)
            self.assertEqual(stored("one", lambda: np.ones(2)).sum(), 2)
        with tempfile.NamedTemporaryFile() as no_folder, patch.dict(os.environ, {"NUMBA_CACHE_DIR": no_folder.name}):
            self.assertEqual(stored("one", lambda: np.ones(2)).sum(), 2)
