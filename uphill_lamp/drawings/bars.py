"""A reading as a bar: the wanted band and a tick where the figure is; and the figure in words."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from uphill_lamp.core.scene.wording import lux
from uphill_lamp.drawings.svg import Node, SvgText, line, path, rect

if TYPE_CHECKING:
    from uphill_lamp.core.judging import Band, Measure

WIDTH, HEIGHT = 100.0, 14.0
MINUS = "\u2212"
SIGNED = ("frame.view_angle", "light.exposure", "light.separation", "light.tint", "light.key_height")


def figure_words(measure: Measure) -> str:
    """A measure's figure with its unit."""
    if measure.value is None:
        return "–"
    return _said(measure.unit, measure.value, signed=measure.id in SIGNED)


def band_words(measure: Measure) -> str:
    """The wanted band in words; empty for a measure that is only shown."""
    band = measure.band
    if band is None:
        return ""
    low, high = band.ideal_low, band.ideal_high
    if low is None or high is None:
        end = high if low is None else low
        if low is None and measure.unit == "share" and high == 0:
            return "0 %"
        return f"{'up to' if low is None else 'from'} {_said(measure.unit, end or 0.0)}"
    if low == -high:
        return f"within ±{_said(measure.unit, high)}"
    return (
        f"{_bare(measure.unit, low)}–{_said(measure.unit, high)}"
        if low >= 0
        else f"{_bare(measure.unit, low)} to {_said(measure.unit, high, True)}"
    )


def _bare(unit: str, value: float) -> str:
    text = _said(unit, value)
    return text.split(" ")[0].rstrip("°×")


def _said(unit: str, value: float, signed: bool = False) -> str:
    sign = "+" if signed and value > 0.049 else ""
    if unit == "deg":
        return f"{sign}{_number(value, 1)}°"
    if unit == "share":
        return f"{_number(100 * value, 0)} %"
    if unit == "lx":
        return lux(value)
    if unit == "ratio":
        return f"{value:.2f}×"
    if unit == "duv":
        return f"{'+' if value > 0 and signed else ''}{_number(value, 3)}"
    if unit == "STI":
        return _number(value, 2)
    if unit == "s":
        return f"{value:.2f} s"
    if unit == "Ra":
        return f"{_number(value, 0)} of 100"
    if unit == "stops":
        figure = _number(value, 1)
        return f"{sign}{figure} stop{'' if figure.lstrip(MINUS) == '1' else 's'}"
    return f"{_number(value, 0)} {'dB' if unit.startswith('dB b') else unit}"


def _number(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}"
    if digits and text.endswith(".0"):
        text = text[:-2]
    if text.lstrip("-").strip("0.") == "":
        text = text.lstrip("-")
    return text.replace("-", MINUS)


def bar(measure: Measure) -> SvgText:
    """The bar of a measure; nothing is drawn for one without a band."""
    if measure.band is None:
        return SvgText("")
    low, high = _span(measure.band)
    band = measure.band

    def place(value: float) -> float:
        return 3 + (WIDTH - 6) * min(max((_way(band, value) - low) / (high - low), 0.0), 1.0)

    ideal_low = 3 if measure.band.ideal_low is None else place(measure.band.ideal_low)
    ideal_high = WIDTH - 3 if measure.band.ideal_high is None else place(measure.band.ideal_high)
    parts: list[Node] = [
        rect(3, 5, WIDTH - 6, 5, rx=2.5, class_="bar-ground"),
        rect(ideal_low, 5, ideal_high - ideal_low, 5, rx=2.5, class_="bar-band"),
    ]
    if measure.value is not None:
        x = place(measure.value)
        beyond = not low <= _way(measure.band, measure.value) <= high
        parts.append(line(x, 1, x, 13, class_="bar-tick"))
        if beyond:  # an arrowhead: the figure lies off the end of the bar
            out = -1 if x < WIDTH / 2 else 1
            parts.append(path(f"M{x:.1f},4 l{3 * out},3.5 l{-3 * out},3.5 Z", class_="bar-beyond"))
    return Node("svg", *parts, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}", class_="bar", aria_hidden="true",
                preserveAspectRatio="none").text()  # fmt: skip


def _way(band: Band | None, value: float) -> float:
    return math.log2(max(value, 1e-6)) if band is not None and band.log2 else value


def _span(band: Band) -> tuple[float, float]:
    """Ends of the bar: the outer limits with a little beyond; an open end reaches as far past the ideal as the fade is long."""
    ends = [_way(band, end) for end in (band.outer_low, band.ideal_low, band.ideal_high, band.outer_high) if end is not None]
    low, high = min(ends), max(ends)
    fade = high - low
    if band.outer_low is None:
        low -= fade * 0.8
    if band.outer_high is None:
        high += fade * 0.8
    margin = 0.06 * (high - low)
    return low - margin, high + margin
