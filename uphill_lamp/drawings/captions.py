"""Words in a drawing, placed so that none lies on another at any size it is shown at.

A drawing shrinks with its page; its words must not. So it is lettered once for each of a few sizes, each a group of its own, and the style
sheet shows the one that fits the width it gets. Where there is no room the less important words are left out: first of all those far from
what is selected.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from uphill_lamp.drawings.lettering import width_px
from uphill_lamp.drawings.svg import Node, group, words

# How far letters of the font that ships reach over and under their line, in shares of their size (its hhea table).
ASCENT, DESCENT = 1.024, 0.4
PLACED, FIGURE, NAME, ASIDE = range(4)  # what comes first where there is not room for all
RIM = 3.0
Box = tuple[float, float, float, float]  # left, top, right, foot [units]


@dataclass(frozen=True)
class _Wish:
    x: float
    y: float
    text: str
    class_: str
    rank: int
    off: float | None  # beside a thing, so far from its middle [units]; None: just here
    anchor: str
    apart: float  # from what is selected [units]

    def tries(self, size: float, width: float) -> list[tuple[float, float, str]]:
        """Places for its line, the best first: x, y and anchor."""
        if self.off is None:
            return [(self.x, self.y, self.anchor), (self.x, self.y + 1.5 * size, self.anchor), (self.x, self.y - 1.5 * size, self.anchor)]
        half, step = width_px(self.text, size) / 2 + 2, 1.2 * size
        mid = min(max(self.x, half + 1), width - half - 1)
        over, under = self.y - self.off, self.y + self.off + 0.75 * size
        near = [(mid, over, "middle"), (mid, under, "middle"), (mid, over - step, "middle"), (mid, under + step, "middle")]
        beside = [(self.x + self.off + 2, self.y + 0.35 * size, "start"), (self.x - self.off - 2, self.y + 0.35 * size, "end")]
        return [*near[:2], *beside, *near[2:]]


class Captions:
    """All words of a drawing, asked for while it is drawn and placed at its end.

    Args:
        width, height: of the drawing [units].
        sizes: letters' sizes it is lettered in, smallest first [units].
        near: where what is selected is, if anything [units].
    """

    def __init__(self, width: float, height: float, sizes: Sequence[float], near: tuple[float, float] | None = None) -> None:
        self.width, self.height, self.sizes, self.near = width, height, sizes, near
        self._wishes: list[_Wish] = []
        self._taken: list[Box] = []
        self._small: list[Box] = []

    def keep_off(self, left: float, top: float, right: float, foot: float) -> None:
        """No words here, as far as that can be helped."""
        self._taken.append((left, top, right, foot))

    def spare(self, x: float, y: float, around: float) -> None:
        """A small thing here, left to be seen by words that have another place beside it."""
        self._small.append((x - around, y - around, x + around, y + around))

    def name(self, x: float, y: float, text: str, off: float, picked: bool = False) -> None:
        """A thing's name near the thing; that of the selected one before all others."""
        self._ask(x, y, text, "label is-picked" if picked else "label", PLACED if picked else NAME, off, "middle")

    def figure(self, x: float, y: float, text: str, class_: str, anchor: str = "start", rank: int = FIGURE) -> None:
        """Words that belong to one place."""
        self._ask(x, y, text, class_, rank, None, anchor)

    def beside(self, x: float, y: float, text: str, class_: str, off: float) -> None:
        """Words that explain a part of the drawing, left out before any name."""
        self._ask(x, y, text, class_, ASIDE, off, "middle")

    def _ask(self, x: float, y: float, text: str, class_: str, rank: int, off: float | None, anchor: str) -> None:
        apart = math.hypot(x - self.near[0], y - self.near[1]) if self.near else 0.0
        self._wishes.append(_Wish(x, y, text, class_, rank, off, anchor, apart))

    def drawn(self) -> list[Node]:
        """A group of words for each size; only the first is shown where no style sheet says otherwise."""
        first = self.sizes[0]
        return [
            group(*self._lettered(size), class_=f"captions size-{size:g}", **({} if size == first else {"display": "none"}))
            for size in self.sizes
        ]

    def _lettered(self, size: float) -> list[Node]:
        taken, placed = list(self._taken), []
        for wish in sorted(self._wishes, key=lambda wished: (wished.rank, wished.apart)):
            free = []
            for x, y, anchor in wish.tries(size, self.width):
                box = _box(x, y, anchor, wish.text, size)
                if self._inside(box) and all(_apart(box, other) for other in taken):
                    free.append((x, y, anchor, box))
            if free:
                x, y, anchor, box = min(free, key=lambda place: sum(not _apart(place[3], small) for small in self._small))
                taken.append(box)
                placed.append(words(x, y, wish.text, class_=wish.class_, text_anchor=anchor))
        return placed

    def _inside(self, box: Box) -> bool:
        return box[0] >= 0 and box[2] <= self.width and box[1] >= -RIM and box[3] <= self.height + RIM


def _box(x: float, y: float, anchor: str, text: str, size: float) -> Box:
    """What a line of words covers, its light rim included across, and as high as a browser takes it to be."""
    wide = 1.04 * width_px(text, size)  # the selected thing's name is bold, figures are tabular
    left = {"start": x, "middle": x - wide / 2, "end": x - wide}[anchor]
    return left - RIM / 2, y - ASCENT * size, left + wide + RIM / 2, y + DESCENT * size


def _apart(a: Box, b: Box) -> bool:
    return a[2] < b[0] or a[0] > b[2] or a[3] < b[1] or a[1] > b[3]
