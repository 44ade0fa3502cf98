"""Typed text to figures and back: lengths in the user's units, angles, shares, money, plain numbers."""

from __future__ import annotations

import math
import re
from typing import Literal

from uphill_lamp.core.scene.wording import INCH_M, UNIT_WORDS, Units

Quantity = Literal["length", "angle", "percent", "number", "fine", "money", "choice", "switch", "text", "moment", "colour", "octaves"]

_FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅝": 0.625, "⅞": 0.875, "⅓": 1 / 3, "⅔": 2 / 3}
_PART = "".join(_FRACTIONS)
_TYPED = re.compile(rf"^\s*([-+\u2212]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)?\s*([{_PART}]|(?<!\d)\d{{1,2}}/\d{{1,2}})?\s*([^\d\s/{_PART}].*)?$")
# Feet and inches together, as they are read off a tape: 2'4", 2 ft 4 in, 2′ 4½″.
_FEET = re.compile(
    rf"^\s*(\d+)\s*(?:'|’|′|ft|feet|foot)\s*(\d+(?:[.,]\d+)?)?\s*([{_PART}]|(?<!\d)\d{{1,2}}/\d{{1,2}})?\s*(?:\"|”|″|''|in|inch|inches)?\s*$",
    re.I,
)
_LENGTHS_M = {
    "m": 1.0, "cm": 0.01, "mm": 0.001, "in": INCH_M, "inch": INCH_M, "inches": INCH_M, '"': INCH_M, "”": INCH_M, "″": INCH_M,
    "ft": 12 * INCH_M, "feet": 12 * INCH_M, "'": 12 * INCH_M, "’": 12 * INCH_M, "′": 12 * INCH_M,
}  # fmt: skip
_MONEY_SIGNS = re.compile(r"^\s*(?:[£$€¥₹]|[A-Za-z]{2,3}\b\.?)|(?:[£$€¥₹]|\b[A-Za-z]{2,3}\.?)\s*$")
_ANGLES = ("°", "deg", "degrees")


class Unreadable(ValueError):
    """Typed text that is no such figure; its message says what was expected."""


def _split(text: str, expected: str) -> tuple[float, str]:
    if len(text) > 40:
        raise Unreadable(f"expected {expected}")
    typed = _TYPED.match(text)
    if not typed or not (typed[2] or typed[3]):
        raise Unreadable(f"expected {expected}")
    value = _whole_and_part(typed[2], typed[3], expected)
    return -value if typed[1] in ("-", "\u2212") else value, (typed[4] or "").strip().lower()


def _whole_and_part(whole: str | None, part: str | None, expected: str) -> float:
    """``28`` and ``½`` or ``1/2`` together; a fraction after a decimal part is none anybody reads off a tape."""
    value = float((whole or "0").replace(",", "."))
    if not part:
        return value
    if whole and not whole.isdecimal():
        raise Unreadable(f"expected {expected}")
    if part in _FRACTIONS:
        return value + _FRACTIONS[part]
    above, below = (int(figure) for figure in part.split("/"))
    if not 0 < above < below:
        raise Unreadable(f"expected {expected}")
    return value + above / below


def read(quantity: Quantity, text: str, units: Units) -> float:
    """A figure from typed text: metres, degrees, shares of one or plain numbers.

    Args:
        quantity: what is asked for.
        text: as typed; a decimal comma will do, and a length may name its own unit.
        units: what a length without a unit is in.

    Raises:
        Unreadable: for anything else.
    """
    if quantity == "length":
        expected = f"a length such as 62 {UNIT_WORDS[units]}" if units == "cm" else "a length such as 24 in, 28½ in or 2 ft 4 in"
        if len(text) <= 40 and (feet := _FEET.match(text)):
            inches = _whole_and_part(feet[2], feet[3], expected)
            if inches >= 12 and (feet[2] or feet[3]):
                raise Unreadable("expected fewer than 12 inches beside the feet")
            return (12 * int(feet[1]) + inches) * INCH_M
        value, unit = _split(text, expected)
        factor = _LENGTHS_M.get(unit or UNIT_WORDS[units])
        if factor is None:
            raise Unreadable(f"expected {expected}")
        return value * factor
    if quantity == "angle":
        value, unit = _split(text, "an angle in degrees, such as 12")
        if unit and unit not in _ANGLES:
            raise Unreadable("expected an angle in degrees, such as 12")
        return value
    if quantity == "money":
        text = _MONEY_SIGNS.sub("", text)
    value, unit = _split(text, "a share such as 60 %" if quantity == "percent" else "a number")
    if quantity == "percent":
        if unit not in ("", "%"):
            raise Unreadable("expected a share such as 60 %")
        return value / 100
    if unit and not re.fullmatch(r"[a-z()/%°² ]{0,12}", unit):
        raise Unreadable("expected a number")
    return value


def written(quantity: Quantity, value: float, units: Units) -> str:
    """A figure as it stands in a field, without its unit; ``read`` gives it back to the last digit shown."""
    if not math.isfinite(value):
        return ""
    if quantity == "length":
        return _trimmed(value / (INCH_M if units == "inch" else 0.01), 1)
    if quantity == "percent":
        return _trimmed(100 * value, 0)
    return _trimmed(value, {"angle": 1, "fine": 5}.get(quantity, 2))


def unit_of(quantity: Quantity, units: Units, plain: str = "") -> str:
    """The unit that stands behind a field."""
    return {"length": UNIT_WORDS[units], "angle": "°", "percent": "%"}.get(quantity, plain)


def _trimmed(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text
