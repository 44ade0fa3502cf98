"""The memory of what was worked out."""

from __future__ import annotations

from unittest import TestCase

from uphill_lamp.core.scene.kept import Kept


class Memory(TestCase):
    def test_works_out_once_keeps_the_newest_used_and_forgets(self) -> None:
        asked: list[int] = []
        kept: Kept[int, int] = Kept(2)

        def square(number: int) -> int:
            return kept.get(number, lambda: asked.append(number) or number * number)  # type: ignore[func-returns-value]

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
