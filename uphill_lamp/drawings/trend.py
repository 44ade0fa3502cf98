"""How a figure went from one time to the next: a bar a time, the wanted figure as a line across."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, rect, words

WIDTH, HEIGHT = 460.0, 130.0
LEFT, RIGHT, TOP, FOOT = 34.0, 12.0, 14.0, 26.0
LEAST_TOP = 4.0  # of the scale, so that small figures are not drawn as large


@dataclass(frozen=True)
class Time:
    """One time: what stands under its bar, the figure (None where there was none), whether it went well."""

    label: str
    value: float | None
    well: bool = True


def trend(times: Sequence[Time], what: str, wanted: float | None = None, unit: str = "") -> SvgText:
    """The bars, oldest first; a time that did not go well has a hollow bar, one without a figure a dot on the ground.

    Args:
        times: one at least.
        what: the figure's name, for whoever does not see it.
        wanted: up to where it is good.
        unit: of the figure.
    """
    known = [time.value for time in times if time.value is not None]
    top = max([*known, LEAST_TOP, wanted or 0.0]) * 1.1
    ground, high = HEIGHT - FOOT, HEIGHT - FOOT - TOP
    step = (WIDTH - LEFT - RIGHT) / len(times)
    marks: list[Node | None] = [line(LEFT, ground, WIDTH - RIGHT, ground, class_="trend-ground")]
    if wanted is not None:
        level = ground - high * wanted / top
        marks += [
            line(LEFT, level, WIDTH - RIGHT, level, class_="trend-wanted"),
            words(LEFT - 4, level + 4, f"{wanted:g}", text_anchor="end"),
        ]
    for place, time in enumerate(times):
        middle = LEFT + (place + 0.5) * step
        wide = min(step * 0.6, 28.0)
        if time.value is None:
            marks.append(circle(middle, ground, 2, class_="trend-none"))
        else:
            tall = high * time.value / top
            marks.append(rect(middle - wide / 2, ground - tall, wide, tall, rx=2, class_="trend-bar" + ("" if time.well else " is-hollow")))
            marks.append(words(middle, ground - tall - 3, f"{time.value:g}", text_anchor="middle", class_="trend-figure"))
        if place in (0, len(times) - 1) or len(times) <= 6:
            marks.append(words(middle, HEIGHT - 8, time.label, text_anchor="middle"))
    each = ", ".join(
        f"{time.label} {'none' if time.value is None else f'{time.value:g}'}{'' if time.well else ' (not so well)'}" for time in times
    )
    return drawing(WIDTH, HEIGHT, f"{what}{f' [{unit}]' if unit else ''}: {each}", group(*marks), role="img", class_="trend").text()
