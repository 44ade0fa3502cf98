"""Short cuts of the picture give what the long way gives."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from tests.setups import demo
from uphill_lamp.core.scene.placing import pinhole_of
from uphill_lamp.drawings.far_side.room import room_seen
from uphill_lamp.drawings.figure.stored import stored


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
