"""The hands-on picture: the bench as the camera over it sees it, with hands, a rule and print to judge by."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.areas.frame.hands_on_view import BenchView, bench_pinhole, over_hands
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.vectors import Vector, direction, right_of
from uphill_lamp.drawings.sheet import within
from uphill_lamp.drawings.svg import Node, SvgText, drawing, group, line, polygon, polyline, rect, words

WIDTH = 560.0
PRINTS_PT = (8, 12, 18, 24)


class _Bench:
    """Places on the bench, right and ahead of where the hands work, in the picture [units]."""

    def __init__(self, setup: Setup, view: BenchView) -> None:
        self.pinhole = bench_pinhole(setup, view.camera)
        self.height = WIDTH / self.pinhole.field.aspect
        self.middle, self.ahead, self.right = over_hands(setup), direction(setup.desk.yaw_deg), right_of(setup.desk.yaw_deg)

    def at(self, right_m: float, ahead_m: float, up_m: float = 0.0) -> tuple[float, float] | None:
        place: Vector = self.middle + right_m * self.right + ahead_m * self.ahead + np.array([0.0, 0.0, up_m])
        spot = self.pinhole.project(place)
        return None if np.isnan(spot).any() else (float(spot[0]) * WIDTH, float(spot[1]) * self.height)

    def shape(self, corners: list[tuple[float, float]], class_: str, up_m: float = 0.0) -> Node | None:
        spots = [self.at(*corner, up_m) for corner in corners]
        inside = within([spot for spot in spots if spot], (0, 0, WIDTH, self.height)) if all(spots) else []
        return polygon(inside, class_=class_) if len(inside) > 2 else None


def bench_picture(setup: Setup, view: BenchView) -> SvgText:
    """What the far side sees of the bench."""
    bench, desk = _Bench(setup, view), setup.desk
    middle = np.array([desk.x_m, desk.y_m, desk.height_m]) - bench.middle
    x, y = float(middle @ bench.right), float(middle @ bench.ahead)
    half_w, half_d = desk.width_m / 2, desk.depth_m / 2
    top = bench.shape([(x - half_w, y - half_d), (x + half_w, y - half_d), (x + half_w, y + half_d), (x - half_w, y + half_d)], "desk")
    return drawing(
        WIDTH, bench.height, "The bench as the camera over it sees it",
        rect(0, 0, WIDTH, bench.height, class_="bench-floor"), top, _sheet(bench, view), _rule(bench), _hand(bench, -1), _hand(bench, 1),
        class_="bench-picture", role="img",
    ).text()  # fmt: skip


def _sheet(bench: _Bench, view: BenchView) -> Node:
    """A sheet of A4 with lines of print; those too small to read are drawn as grey bars."""
    paper = bench.shape([(-0.105, -0.06), (0.105, -0.06), (0.105, 0.237), (-0.105, 0.237)], "sheet-of-paper")
    lines: list[Node | None] = [paper]
    for number, points in enumerate(PRINTS_PT):
        low = 0.19 - 0.055 * number
        a, b = bench.at(-0.09, low), bench.at(0.09, low)
        if a is None or b is None or not (a[0] >= 0 and b[0] <= WIDTH and 0 < a[1] < bench.height):
            continue
        size = points * 0.0254 / 72 * 1000 * WIDTH / (view.width_m * 1000)
        if points >= view.smallest_print_pt:
            lines.append(words(a[0], a[1], f"{points} pt reads", class_="bench-print", font_size=f"{size:.1f}"))
        else:
            lines.append(rect(a[0], a[1] - size * 0.5, abs(b[0] - a[0]) * 0.7, max(size * 0.5, 1.0), class_="bench-unread"))
            lines.append(words(a[0] + abs(b[0] - a[0]) * 0.72, a[1], f"{points} pt", class_="small"))
    return group(*lines)


def _rule(bench: _Bench) -> Node:
    """A rule of 30 cm along the near side."""
    parts: list[Node | None] = [bench.shape([(-0.15, -0.13), (0.15, -0.13), (0.15, -0.10), (-0.15, -0.10)], "bench-rule")]
    for mark in range(0, 31, 5):
        a, b = bench.at(-0.15 + mark / 100, -0.10), bench.at(-0.15 + mark / 100, -0.112)
        if a and b and 0 <= a[1] <= bench.height and 0 <= a[0] <= WIDTH:
            parts.append(line(*a, *b, class_="bench-mark"))
            parts.append(words(b[0], b[1] + 11, str(mark), class_="small", text_anchor="middle"))
    return group(*parts)


def _hand(bench: _Bench, side: int) -> Node | None:
    """A hand of 19 cm on each side, from the near edge."""
    palm = [(0.165, -0.16), (0.15, -0.02), (0.155, 0.015), (0.205, 0.03), (0.245, 0.005), (0.245, -0.16)]
    shape = bench.shape([(side * across, along) for across, along in palm], "bench-hand", 0.02)
    fingers = []
    for number in range(4):
        a, b = (
            bench.at(side * (0.162 + 0.023 * number), 0.0, 0.02),
            bench.at(side * (0.145 + 0.021 * number), 0.085 - 0.008 * abs(number - 1.4), 0.02),
        )
        if a and b:
            fingers.append(polyline([a, b], class_="bench-finger"))
    return group(shape, *fingers)
