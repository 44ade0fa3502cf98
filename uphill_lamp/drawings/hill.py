"""The hill: money to the right, score up, a way of stones from where the setup stands over every rung to the top."""

from __future__ import annotations

import math
from itertools import pairwise

from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.rungs import Rung, plan_name
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, path, polyline, rect, words

WIDTH, HEIGHT = 640.0, 330.0
LEFT, RIGHT, TOP, FOOT = 44.0, 616.0, 50.0, 290.0
FREE_M = 70.0  # width of the slope that costs nothing, before money begins [units]
STONE, NEAREST = 11.0, 25.0


class Scale:
    """Money to units to the right, score to units up."""

    def __init__(self, ladder: Ladder, most: float) -> None:
        self.most = max(most, 1.0)
        low = min(ladder.score, 100.0)
        self.floor = max(0.0, 10 * math.floor((low - 4) / 10))

    def x(self, money: float) -> float:
        return LEFT + FREE_M + (RIGHT - LEFT - FREE_M) * min(money / self.most, 1.0)

    def y(self, score: float) -> float:
        return FOOT - (FOOT - TOP) * (score - self.floor) / (100 - self.floor)


def hill(ladder: Ladder, budget: float, most: float) -> SvgText:
    """The hill of a ladder.

    Args:
        budget: what may be spent; a line marks it.
        most: money at the right edge.
    """
    scale = Scale(ladder, most)
    parts = [*_ground(ladder, scale), *_axes(ladder, scale), _budget(budget, scale), *_way(ladder, scale)]
    label = (
        f"From {ladder.score:.0f} points now to {ladder.rungs[0].score:.0f} for nothing, "
        f"and {ladder.plan_within(budget).score:.0f} within {budget:g} {ladder.currency}"
        if ladder.rungs
        else f"{ladder.score:.0f} points now"
    )
    return drawing(WIDTH, HEIGHT, label, *parts, class_="hill-drawing").text()


def _ground(ladder: Ladder, scale: Scale) -> list[Node]:
    """The land below the best that each amount buys: terraces, and over them the line from rung to rung."""
    front = [point for point in ladder.front if point.cost <= scale.most + 1e-9]
    if not front:
        return []
    edge = f"M{LEFT:g},{FOOT:g} L{LEFT:g},{scale.y(ladder.score):.1f}"
    start = scale.x(0)
    edge += f" C{LEFT + 26:g},{scale.y(ladder.score):.1f} {start - 34:.1f},{scale.y(front[0].score):.1f} {start:.1f},{scale.y(front[0].score):.1f}"
    for before, point in pairwise(front):
        x = scale.x(point.cost)
        edge += f" L{x - 3:.1f},{scale.y(before.score):.1f} L{x + 3:.1f},{scale.y(point.score):.1f}"
    edge += f" L{RIGHT:g},{scale.y(front[-1].score):.1f}"
    ridge = polyline(
        [(scale.x(rung.cost), scale.y(rung.score)) for rung in ladder.rungs if rung.cost <= scale.most + 1e-9], class_="hill-ridge"
    )
    return [path(edge + f" L{RIGHT:g},{FOOT:g} Z", class_="hill-land"), path(edge, class_="hill-edge"), ridge]


def _axes(ladder: Ladder, scale: Scale) -> list[Node]:
    shapes = [line(LEFT, FOOT, RIGHT, FOOT, class_="hill-axis")]
    for score in range(int(scale.floor), 101, 10 if scale.floor >= 50 else 20):
        y = scale.y(score)
        shapes += [line(LEFT - 4, y, LEFT, y, class_="hill-axis"), words(LEFT - 8, y + 4, str(score), class_="small", text_anchor="end")]
    step = _round_step(scale.most / 4)
    for number in range(int(scale.most / step + 1e-9) + 1):
        x = scale.x(number * step)
        shapes += [
            line(x, FOOT, x, FOOT + 4, class_="hill-axis"),
            words(x, FOOT + 17, f"{number * step:g}", class_="small", text_anchor="middle"),
        ]
    shapes.append(words(RIGHT, HEIGHT - 6, f"money, {ladder.currency}", class_="small", text_anchor="end"))
    shapes.append(words(LEFT + FREE_M / 2 - 6, FOOT + 17, "free", class_="small", text_anchor="middle"))
    shapes.append(words(LEFT - 36, 14, "score", class_="small"))
    return shapes


def _round_step(wanted: float) -> float:
    size = 10 ** math.floor(math.log10(max(wanted, 1e-6)))
    return next(size * factor for factor in (1, 2, 5, 10) if size * factor >= wanted)


def _budget(budget: float, scale: Scale) -> Node:
    x = scale.x(min(budget, scale.most))
    return group(
        line(x, TOP - 14, x, FOOT, class_="hill-budget"),
        words(x, FOOT - 9, f"budget {budget:g}", class_="small", text_anchor="end", dx=-5),
        class_="hill-budget-mark", data_budget_mark="1", data_left=f"{scale.x(0):.2f}", data_right=f"{RIGHT:.2f}", data_most=f"{scale.most:g}",
    )  # fmt: skip


def _way(ladder: Ladder, scale: Scale) -> list[Node]:
    """Where it stands now, and a stone for every rung, each a link to what it holds; the place to stop has a flag."""
    y = scale.y(ladder.score)
    shapes = [circle(LEFT + 2, y, 5.0, class_="hill-now"), words(LEFT + 8, y + 18, f"now {ladder.score:.0f}", class_="label")]
    last = -1e9
    for number, rung in enumerate(ladder.rungs):
        if rung.cost > scale.most + 1e-9:
            continue
        x, y = scale.x(rung.cost), scale.y(rung.score)
        up = 0.0 if x - last >= NEAREST else -16.0
        last = x
        shapes.append(_stone(number, rung, x, y + up, ladder))
    return shapes


def _stone(number: int, rung: Rung, x: float, y: float, ladder: Ladder) -> Node:
    stop = number == ladder.stop
    label = f"{plan_name(rung.cost, ladder.currency)}: {rung.score:.0f} points" + ("; stop here" if stop else "")
    flag = (
        group(line(x, y - STONE, x, y - 28, class_="hill-pole"), path(f"M{x:.1f},{y - 28:.1f} l15,4.5 l-15,4.5 z", class_="hill-flag"))
        if stop
        else None
    )
    mark = "hill-stone" if rung.worth_it else "hill-stone is-dear"
    stone = group(circle(x, y, STONE), words(x, y + 4, str(number + 1), text_anchor="middle"), class_=mark)
    below = words(x, y + 26, f"{rung.score:.0f}", class_="label", text_anchor="middle")
    label_words = words(x, y, label, class_="unseen")  # for those who hear the page
    return Node("a", label_words, flag, stone, below, href=f"#rung-{number + 1}", class_="hill-link")


def bought_bar(rung: Rung, most: float) -> SvgText:
    """A rung's money as a bar: what is used, and what is then no longer used."""
    whole = max(most, rung.paid, 1.0)
    used, lost = 120 * rung.cost / whole, 120 * rung.wasted / whole
    return drawing(
        120, 8, f"{rung.cost:g} used, {rung.wasted:g} no longer used", rect(0, 0, 120, 8, class_="bar-ground"), rect(0, 0, used, 8, class_="money-used"),
        rect(used, 0, lost, 8, class_="money-lost"), class_="money-bar", role="img",
    ).text()  # fmt: skip
