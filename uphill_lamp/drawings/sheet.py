"""What the plan and the side view share: the scale, pickable things, dimension lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.areas.eyes.glances import looked_at
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.tape.place_phrases import where
from uphill_lamp.drawings.captions import PLACED, Captions
from uphill_lamp.drawings.svg import Node, Value, group, line

Box = tuple[float, float, float, float]  # left, top, right, foot [units]
Spot = tuple[float, float]


def within(corners: Sequence[Spot], box: Box) -> list[Spot]:
    """A convex shape cut to a box, side by side (Sutherland and Hodgman 1974); empty if it lies outside [units]."""
    cut = list(corners)
    for axis, edge, sign in ((0, box[0], 1), (1, box[1], 1), (0, box[2], -1), (1, box[3], -1)):
        kept: list[Spot] = []
        for first, second in zip(cut, cut[1:] + cut[:1], strict=True):
            a, b = sign * (first[axis] - edge), sign * (second[axis] - edge)
            if a >= 0:
                kept.append(first)
            if (a < 0) != (b < 0):
                share = a / (a - b)
                kept.append((first[0] + share * (second[0] - first[0]), first[1] + share * (second[1] - first[1])))
        cut = kept
    return cut


@dataclass(frozen=True)
class Sheet:
    """A flat view of the room: which room directions lie to the right and up, and how metres become drawing units."""

    right: Vector
    up: Vector
    scale: float
    left: float
    foot: float
    origin: Vector

    def at(self, place: Vector) -> tuple[float, float]:
        """Drawing place of a room place [units]."""
        beyond = np.asarray(place, dtype=float) - self.origin
        return float(self.left + self.scale * (beyond @ self.right)), float(self.foot - self.scale * (beyond @ self.up))

    def along(self, direction: Vector) -> tuple[float, float]:
        """Drawing direction of a room direction [units per metre]."""
        return float(self.scale * (direction @ self.right)), float(-self.scale * (direction @ self.up))


def thing(setup: Setup, handle: str, name: str, picked: str, *children: Node | None, **attributes: Value) -> Node:
    """Something that can be picked, dragged and reached with Tab; its name says where it is to who does not see the drawing."""
    chosen, place = handle == picked, where(setup, handle)
    return group(
        *children, class_="thing is-picked" if chosen else "thing", data_thing=handle, tabindex=0, role="button",
        aria_pressed="true" if chosen else "false", aria_label=f"{name}, {place}" if place else name, **attributes,
    )  # fmt: skip


def gaze_lines(setup: Setup, sheet: Sheet) -> Node | None:
    """From the eyes to what is looked at during a call."""
    points = [point for point in looked_at(setup) if point.shows in ("call", "notes")]
    lines = [line(*sheet.at(scene_of(setup).face.eyes), *sheet.at(point.place), class_="gaze") for point in points]
    return group(*lines) if lines else None


def dimension(
    captions: Captions, a: tuple[float, float], b: tuple[float, float], text: str, off: float = 0.0, class_: str = "dimension"
) -> Node:
    """A dimension line between two points, ``off`` units to its side; its figure is asked of the captions."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = max((dx * dx + dy * dy) ** 0.5, 1e-6)
    nx, ny = -dy / length * off, dx / length * off
    ax, ay, bx, by = a[0] + nx, a[1] + ny, b[0] + nx, b[1] + ny
    tx, ty = -dy / length * 4, dx / length * 4
    steep = abs(by - ay) > abs(bx - ax)
    x, y = (ax + bx) / 2, (ay + by) / 2
    place = (x + 5, y + 4, "start") if steep else (x, y - 4, "middle")
    captions.figure(place[0], place[1], text, f"{class_} figure-of", place[2], rank=PLACED)
    return group(
        line(ax, ay, bx, by), line(ax - tx, ay - ty, ax + tx, ay + ty), line(bx - tx, by - ty, bx + tx, by + ty), class_=class_
    )  # fmt: skip
