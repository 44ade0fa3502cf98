"""Figures as people say them, in the units the setup asks for."""

from __future__ import annotations

import math
from typing import Literal

Units = Literal["cm", "inch"]
INCH_M = 0.0254
UNIT_WORDS: dict[Units, str] = {"cm": "cm", "inch": "in"}


def length(metres: float, units: Units) -> str:
    """A length as text: ``14 cm``, ``1.20 m``, ``5.5 in``."""
    if units == "inch":
        return f"{metres / INCH_M:.1f} in"
    return f"{metres:.2f} m" if abs(metres) >= 1.995 else f"{metres * 100:.0f} cm"


def degrees(angle_deg: float) -> str:
    """An angle as text, whole degrees from 10 on: ``4.5°``, ``12°``."""
    return f"{angle_deg:.0f}°" if abs(angle_deg) >= 9.95 else f"{angle_deg:.1f}°"


def percent(share: float) -> str:
    """A share as text: ``48 %``."""
    return f"{100 * share:.0f} %"


def lux(level_lx: float) -> str:
    """An illuminance as text to two figures: ``38 lx``, ``1200 lx``."""
    if level_lx < 1:
        return f"{level_lx:.1f} lx"
    step = 10 ** max(0, math.floor(math.log10(level_lx)) - 1)
    return f"{round(level_lx / step) * step:.0f} lx"


def money(amount: float, currency: str) -> str:
    """An amount as text: ``about 25 GBP``."""
    return f"about {amount:g} {currency}"


def kelvin(cct_k: float) -> str:
    """A colour temperature as text, to 100 K: ``2700 K``."""
    return f"{round(cct_k, -2):.0f} K"
