"""A date's light as a curve over the clock, how good each measure is below it, and a year as a sheet of days and hours."""

from __future__ import annotations

import io
from datetime import date, datetime
from itertools import pairwise

import numpy as np

from uphill_lamp.core.areas.light.day import Day, Span, Year
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.judging import WANTING, Band
from uphill_lamp.drawings.svg import Node, SvgText, drawing, group, line, path, polyline, rect, words

WIDTH, LEFT, RIGHT = 760.0, 58.0, 748.0
TOP, FOOT = 22.0, 208.0
LEAST_LX, MOST_LX = 1.0, 50_000.0
STRIP, STRIP_GAP = 17.0, 7.0
HEIGHT = FOOT + 26 + 4 * (STRIP + STRIP_GAP) + 4
NAMES = {"level_lx": "On you", "sides_stops": "Sides", "sun_share": "Sun", "behind_stops": "Behind"}


def place_of(day: Day, index: float) -> float:
    """Where an instant lies across the drawing [units]."""
    return LEFT + (RIGHT - LEFT) * (index / max(len(day.instants) - 1, 1))


def _height(level_lx: float) -> float:
    share = np.log(max(level_lx, LEAST_LX) / LEAST_LX) / np.log(MOST_LX / LEAST_LX)
    return FOOT - (FOOT - TOP) * min(float(share), 1.0)


def day_curve(day: Day) -> SvgText:
    """Light on the face through a date, with the windows alone and with the lamps; strips below tell how good the rest is."""
    level = day.level
    top, foot = _height(level.ideal_high or MOST_LX), _height(level.ideal_low or LEAST_LX)
    parts = [
        rect(LEFT, top, RIGHT - LEFT, foot - top, class_="day-wanted"),
        words(RIGHT - 4, top + 13, "wanted", class_="small", text_anchor="end"),
        *_levels(),
        *(_sunny(day, span) for span in day.sunny_spans),
        _curve(day, day.windows.level_lx, "day-windows"),
        _curve(day, day.lamps.level_lx, "day-lamps"),
        *_hours(day),
        *_strips(day),
        *_call(day),
    ]
    label = f"Light on your face on {day.day:%d %B %Y}, hour by hour"
    return drawing(WIDTH, HEIGHT, label, *parts, class_="day-drawing", role="img").text()


def _levels() -> list[Node]:
    shapes = []
    for level in (10, 100, 1000, 10_000):
        y = _height(level)
        shapes += [line(LEFT, y, RIGHT, y, class_="day-rule"), words(LEFT - 6, y + 4, f"{level} lx", class_="small", text_anchor="end")]
    return shapes


def _curve(day: Day, level_lx: FloatArray, kind: str) -> Node:
    return polyline([(place_of(day, index), _height(float(lx))) for index, lx in enumerate(level_lx)], class_=kind)


def _sunny(day: Day, span: Span) -> Node:
    left, right = place_of(day, span.first), place_of(day, span.last)
    rays = [line(x, TOP - 10, x, TOP - 3) for x in np.arange(left, right + 3, 5)]
    return group(Node("title", "The sun falls on your face"), *rays, class_="day-sun")


def _hours(day: Day) -> list[Node]:
    shapes = [line(LEFT, FOOT, RIGHT, FOOT, class_="floor")]
    for index, clock in enumerate(day.clock):
        if clock.minute == 0 and clock.hour % 3 == 0:
            x = place_of(day, index)
            shapes += [
                line(x, FOOT, x, FOOT + 4, class_="floor"),
                words(x, FOOT + 16, f"{clock.hour}", class_="small", text_anchor="middle"),
            ]
    return shapes


def _strips(day: Day) -> list[Node]:
    """How good each measure is, with the lamps, as a height: full is well within what is wanted."""
    shapes = []
    for row, (band, name) in enumerate(day.bands()):
        foot = FOOT + 26 + (row + 1) * (STRIP + STRIP_GAP)
        heights = [foot - STRIP * (band.utility(float(value)) if np.isfinite(value) else 0.0) for value in getattr(day.lamps, name)]
        outline = " ".join(f"L{place_of(day, index):.1f},{y:.1f}" for index, y in enumerate(heights))
        shapes += [
            words(LEFT - 6, foot - 4, NAMES[name], class_="small", text_anchor="end"),
            rect(LEFT, foot - STRIP, RIGHT - LEFT, STRIP, class_="day-strip"),
            path(f"M{LEFT},{foot} {outline} L{RIGHT},{foot} Z", class_="day-good"),
        ]
    return shapes


def _call(day: Day) -> list[Node]:
    """The call itself, if it falls on this date, and the place for the hand."""
    call = day.setup.place.call_at
    foot = HEIGHT - 4
    shapes = []
    if call.date() == day.day:
        left = place_of(day, day.nearest(call))
        right = min(left + (RIGHT - LEFT) * day.setup.place.duration_s / 86_400, RIGHT)
        shapes.append(rect(left, TOP - 12, max(right - left, 2), foot - TOP + 12, class_="day-call"))
        on_left = left > WIDTH * 0.8
        shapes.append(
            words(
                left - 4 if on_left else left + 4, TOP + 2, "the call", class_="gaze-text small", text_anchor="end" if on_left else "start"
            )
        )
    return [*shapes, line(LEFT, TOP - 12, LEFT, foot, class_="day-hand", data_hand="")]


# ---- the year
COLOURS = {"night": (38, 48, 62), "dusk": (108, 96, 122), "low": (172, 140, 120), "good": (246, 207, 134), "much": (255, 244, 214), "sun": (176, 64, 42),
           "none": (246, 241, 230)}  # fmt: skip
YEAR_LEGEND = (
    ("night", "night"),
    ("low", "too little for this camera"),
    ("good", "enough by the window alone"),
    ("much", "glaring"),
    ("sun", "sun on your face"),
)


def year_png(year: Year, level: Band) -> bytes:
    """A year as a picture: a column for each day, a row for each ten minutes, midnight at the top."""
    from PIL import Image

    low, high = level.ideal_low or 0.0, level.ideal_high or np.inf
    lux, sunny = year.level_lx.T, year.sun_share.T > 0
    cells = np.full((*lux.shape, 3), COLOURS["none"], dtype=np.uint8)  # an hour that the clock skips stays empty
    bearable = level.outer_low or 0.0
    for here, kind in (
        (np.isfinite(lux), "night"),
        (lux >= 0.1 * bearable, "dusk"),
        (lux >= bearable, "low"),
        (lux >= low, "good"),
        (lux > high, "much"),
        (sunny, "sun"),
    ):
        cells[here] = COLOURS[kind]
    file = io.BytesIO()
    Image.fromarray(cells).save(file, "PNG", optimize=True)
    return file.getvalue()


YEAR_WIDTH, YEAR_HEIGHT, YEAR_LEFT, YEAR_TOP = 1100.0, 262.0, 44.0, 8.0
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def year_frame(day: Day, address: str) -> SvgText:
    """The year's picture with its months and hours, the date shown marked, and the call where it is held."""
    width, height = YEAR_WIDTH - YEAR_LEFT - 4, YEAR_HEIGHT - YEAR_TOP - 26
    first = date(day.day.year, 1, 1)
    days = (date(day.day.year, 12, 31) - first).days + 1

    def across(some_day: date) -> float:
        return YEAR_LEFT + width * (some_day - first).days / days

    parts = [
        Node("image", href=address, x=YEAR_LEFT, y=YEAR_TOP, width=width, height=height, preserveAspectRatio="none", class_="year-sheet")
    ]
    for hour in (0, 6, 12, 18, 24):
        y = YEAR_TOP + height * hour / 24
        parts += [
            words(YEAR_LEFT - 6, y + 4, f"{hour}", text_anchor="end", class_="small"),
            line(YEAR_LEFT - 4, y, YEAR_LEFT, y, class_="floor"),
        ]
    for number, name in enumerate(MONTHS, start=1):
        x = across(date(day.day.year, number, 1))
        parts += [
            line(x, YEAR_TOP + height, x, YEAR_TOP + height + 4, class_="floor"),
            words(x + 4, YEAR_TOP + height + 15, name, class_="small"),
        ]
    x, call = across(day.day), day.setup.place.call_at
    parts.append(rect(x - 1, YEAR_TOP - 4, max(width / days, 2) + 2, height + 8, class_="year-date"))
    if call.year == day.day.year:
        y = YEAR_TOP + height * (call.hour + call.minute / 60) / 24
        parts.append(rect(across(call.date()) - 3, y - 4, 8, 8, class_="year-call"))
    label = f"{day.day.year} by day and hour: when the windows alone give your face enough light"
    return drawing(YEAR_WIDTH, YEAR_HEIGHT, label, *parts, class_="year-drawing", role="img").text()


def held_down_by(day: Day) -> str:
    """What is off most of the date with the lamps on, as its strip is called; empty if nothing is."""
    off = {name: sum(band.utility(float(value)) < WANTING for value in getattr(day.lamps, name)) for band, name in day.bands()}
    worst = max(off, key=lambda name: off[name])
    return NAMES[worst] if off[worst] else ""


def spans_words(day: Day, spans: list[Span]) -> str:
    """Stretches of a date in words: ``09:10-11:40 and 14:00-15:20``; ``all day``; empty for none."""
    if len(spans) == 1 and spans[0].first == 0 and spans[0].last == len(day.instants) - 1:
        return "all day"
    phrases = [_span_words(day, span) for span in spans]
    return " and ".join(phrases) if len(phrases) < 3 else ", ".join(phrases[:-1]) + f" and {phrases[-1]}"


def _span_words(day: Day, span: Span) -> str:
    first, last = _clock(day.clock[span.first]), _clock(day.clock[span.last])
    if span.first == 0:
        return f"until {last}"
    return f"from {first}" if span.last == len(day.instants) - 1 else f"{first}–{last}"


def _clock(moment: datetime) -> str:
    return f"{moment:%H:%M}"


def clock_changes(day: Day) -> bool:
    """Whether the clock is put forward or back on this date."""
    return any(one.utcoffset() != other.utcoffset() for one, other in pairwise(day.clock))
