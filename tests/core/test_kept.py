"""The memory of what was worked out."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from tests.setups import demo
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.locked_lru import LockedLru, forget_all, held_bytes
from uphill_lamp.drawings.far_side import render


class Memory(TestCase):
    def test_works_out_once_keeps_the_newest_used_and_forgets(self) -> None:
        asked: list[int] = []
        kept: LockedLru[int, int] = LockedLru(2)

        def square(number: int) -> int:
            return kept.get_or_compute(number, lambda: asked.append(number) or number * number)  # type: ignore[func-returns-value]

        self.assertEqual([square(2), square(3), square(2)], [4, 9, 4])
        self.assertEqual(asked, [2, 3])
        square(4)  # 3 has waited longest
        square(2)
        self.assertEqual(asked, [2, 3, 4])
        square(3)
        self.assertEqual(asked, [2, 3, 4, 3])
        kept.forget()
        square(3)
        self.assertEqual(asked[-1], 3)
        self.assertEqual(len(asked), 5)

    def test_what_is_too_heavy_goes_and_what_is_so_by_itself_is_not_kept(self) -> None:
        kept: LockedLru[int, np.ndarray] = LockedLru(9, 1000, held_bytes)
        for number in (100, 300, 500):
            kept.get_or_compute(number, lambda number=number: np.zeros(number, np.uint8))  # type: ignore[misc]
        self.assertEqual(list(kept._found), [100, 300, 500])
        kept.get_or_compute(400, lambda: np.zeros(400, np.uint8))
        self.assertEqual(list(kept._found), [500, 400])
        self.assertEqual(len(kept.get_or_compute(2000, lambda: np.zeros(2000, np.uint8))), 2000)
        self.assertEqual(list(kept._found), [])

    def test_when_all_is_forgotten_the_same_is_worked_out_again(self) -> None:
        lit_scene = lit_scene_of(demo())
        before, drawn = dict(lit_scene.face_lx), render.shot_of(demo(), 80, True).person.covers
        forget_all("uphill_lamp")
        self.assertEqual(len(render._kept._found), 0)
        np.testing.assert_array_equal(render.shot_of(demo(), 80, True).person.covers, drawn)
        self.assertEqual(dict(lit_scene_of(demo()).face_lx), before)
