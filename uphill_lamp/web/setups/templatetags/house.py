"""Template helpers: drawings, bars, figures in words, icons."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

from uphill_lamp.core.scene.wording import Units, degrees, length, money, sum_of
from uphill_lamp.drawings import answers, asked, bars, finishes
from uphill_lamp.drawings.slope import hill as hill_drawing
from uphill_lamp.drawings.svg import SvgText

if TYPE_CHECKING:
    from uphill_lamp.core.areas.eyes.glances import Glance
    from uphill_lamp.core.judging import Cost, Measure

register = template.Library()
ICONS = Path(__file__).resolve().parents[2] / "static" / "vendor" / "icons"


@register.filter
def figure(measure: Measure) -> str:
    """A measure's figure with its unit."""
    return bars.figure_words(measure)


@register.filter
def band(measure: Measure) -> str:
    """A measure's wanted band in words."""
    return bars.band_words(measure)


GOOD_ENOUGH = 0.85  # judging.WANTING, which the first page must not import; a test holds them equal


@register.filter
def bar(measure: Measure) -> SvgText:
    """A measure as a bar."""
    return bars.bar(measure)


@register.filter
def mood(utility: float | None) -> str:
    """How good a figure is, as a class and a word for screen readers."""
    if utility is None:
        return "shown"
    return "good" if utility >= GOOD_ENOUGH else "fair" if utility >= 0.5 else "poor"


@register.filter
def mood_word(utility: float | None) -> str:
    """The same for everybody, before the wanted band: only what lies in it is called good."""
    if utility is not None and GOOD_ENOUGH <= utility < 1:
        return "good enough, "
    return {"good": "good, ", "fair": "fair, ", "poor": "off, "}.get(mood(utility), "")


@register.filter
def score_mood(score: float | None) -> str:
    """How good a score is, as a class."""
    return "none" if score is None else "low" if score < 45 else "middling" if score < 75 else "high"


@register.filter
def glance(look: Glance) -> str:
    """How a look misses the lens, in words: ``7.7° below, 1.2° left``."""
    parts = []
    if abs(look.up_deg) >= 0.5:
        parts.append(f"{degrees(abs(look.up_deg))} {'above' if look.up_deg > 0 else 'below'}")
    if abs(look.left_deg) >= 0.5:
        parts.append(f"{degrees(abs(look.left_deg))} {'left' if look.left_deg > 0 else 'right'}")
    return ", ".join(parts) or "at the lens"


@register.filter
def metres(length_m: float, units: Units) -> str:
    """A length in the setup's units."""
    return length(length_m, units)


@register.filter
def unlocalised(figure: float | str) -> str:
    """A figure for a script to read, with a point whatever the language."""
    return str(figure)


@register.filter
def millimetres(length_m: float) -> str:
    """A small length."""
    return f"{length_m * 1000:.1f} mm"


@register.filter
def duration(seconds: float) -> str:
    """A time as minutes and seconds."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"


@register.filter
def price(cost: Cost) -> str:
    """What a move asks for, in words."""
    return {"free": "free", "owned": "in your drawer"}.get(cost.kind) or money(cost.amount, cost.currency)


@register.filter
def sum_in(amount: float, currency: str) -> str:
    """An amount in a currency, such as ``£34``."""
    return sum_of(amount, currency)


@register.filter
def plan_named(cost: float, currency: str) -> str:
    """What the best set of steps for a sum is called."""
    from uphill_lamp.core.steps.rungs import plan_name  # late: only pages of steps name plans

    return plan_name(cost, currency)


@register.filter
def points(gain: float | None) -> str:
    """A gain in points."""
    if gain is None:
        return ""
    if abs(gain) < 0.05:
        return "±0"
    sign = "+" if gain > 0 else "−"
    return f"{sign}{abs(gain):.0f}" if abs(gain) >= 0.95 else f"{sign}{abs(gain):.1f}"


@register.simple_tag
def answer_sketch(question: str, key: str) -> SvgText:
    """The drawn answer of a quick-start question."""
    return answers.answer(question, key)


@register.simple_tag
def asked_sketch(question: str, key: str) -> SvgText:
    """The drawn answer of a question on the bench."""
    return asked.sketch(question, key)


@register.simple_tag
def hill() -> SvgText:
    """The hill behind the stages."""
    return hill_drawing()


@cache
def _icon(name: str) -> SafeString:
    return SafeString(
        (ICONS / f"{name}.svg").read_text().split("-->", 1)[1].replace("<svg", '<svg aria-hidden="true" focusable="false"', 1)
    )


@register.simple_tag
def icon(name: str) -> SafeString:
    """An icon of our own vendored set, by a name that stands in a template (never by what a user typed)."""
    return _icon(name)


@register.filter
def finish_picture(name: str) -> SvgText:
    """A small picture of a finish; the page holds ``finish_symbols``."""
    return finishes.finish_picture(name)


@register.simple_tag
def finish_symbols() -> SvgText:
    """What the small pictures of finishes are taken from."""
    return finishes.finish_symbols()


@register.simple_tag
def at_fault(fault: object, key: str) -> SafeString:
    """Attributes of a field that is refused, naming the sentence that says why; none if it is not."""
    return format_html('aria-invalid="true" aria-describedby="fault-{}"', key) if fault else SafeString("")
