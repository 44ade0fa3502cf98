"""Figures as people say them, in the units the setup asks for."""

from __future__ import annotations

import math
import re
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


SIGNS = {"GBP": "£", "EUR": "€", "USD": "$"}


def sum_of(amount: float, currency: str) -> str:
    """An amount as text, with its currency's sign where it has one that all know: ``£34``, ``£7.50``, ``280 SEK``."""
    figures = f"{amount:.0f}" if abs(amount - round(amount)) < 0.005 else f"{amount:.2f}"
    sign = SIGNS.get(currency)
    return f"{sign}{figures}" if sign else f"{figures} {currency}"


def plain_sum(amount: float) -> str:
    """An amount as it stands in a field: ``25``, ``19.50``."""
    return f"{amount:.2f}".removesuffix(".00")


def money(amount: float, currency: str) -> str:
    """What something costs about, as text: ``about £25``."""
    return f"about {sum_of(amount, currency)}"


def kelvin(cct_k: float) -> str:
    """A colour temperature as text, to 100 K: ``2700 K``."""
    return f"{round(cct_k, -2):.0f} K"


def times(stops: float) -> str:
    """How many times as much a step in stops is, the plain figure first: ``4 times (2 stops)``, ``1.5 times (0.6 stops)``."""
    ratio = 2 ** abs(stops)
    figure = f"{ratio:.0f}" if ratio >= 9.5 else f"{ratio:.1f}".removesuffix(".0")
    return f"{figure} times ({in_stops(stops)})"


def in_stops(stops: float) -> str:
    """A step in stops as text, without its sign: ``1 stop``, ``0.6 stops``."""
    figure = f"{abs(stops):.1f}".removesuffix(".0")
    return f"{figure} stop{'' if figure == '1' else 's'}"


# Words that names of things begin with which are no names of anybody's own; inside a sentence they stand in lower case.
_ORDINARY = frozenset(
    [
        "adjustable",
        "any",
        "bay",
        "bed",
        "bench",
        "black",
        "blouse",
        "blue",
        "board",
        "bookcase",
        "bracelet",
        "bracelets",
        "brown",
        "built",
        "cardigan",
        "ceiling",
        "chair",
        "checked",
        "clip",
        "clock",
        "clocks",
        "clothes",
        "clutter",
        "coloured",
        "computer",
        "condenser",
        "curtain",
        "dark",
        "daylight",
        "desk",
        "door",
        "dress",
        "dynamic",
        "earbuds",
        "earrings",
        "east",
        "fan",
        "floor",
        "folding",
        "framed",
        "fridge",
        "front",
        "full",
        "garden",
        "gold",
        "golden",
        "green",
        "grey",
        "hall",
        "hat",
        "headphones",
        "headset",
        "heavy",
        "herb",
        "hung",
        "jacket",
        "jewellery",
        "jumper",
        "kitchen",
        "lamp",
        "lapel",
        "laptop",
        "led",
        "left",
        "light",
        "lights",
        "lit",
        "loudspeakers",
        "main",
        "microphone",
        "mirror",
        "monitor",
        "narrow",
        "necklace",
        "new",
        "north",
        "notes",
        "old",
        "pale",
        "panel",
        "papers",
        "pendant",
        "phone",
        "picture",
        "pink",
        "plain",
        "plant",
        "print",
        "prompter",
        "purple",
        "reading",
        "rear",
        "red",
        "right",
        "ring",
        "road",
        "room",
        "rug",
        "scarf",
        "screen",
        "sheet",
        "shelf",
        "shirt",
        "silver",
        "simple",
        "slides",
        "small",
        "sofa",
        "soft",
        "south",
        "spare",
        "speaker",
        "standing",
        "street",
        "striped",
        "table",
        "tablet",
        "tall",
        "ticking",
        "top",
        "torch",
        "tripod",
        "upright",
        "video",
        "wall",
        "webcam",
        "west",
        "white",
        "whiteboard",
        "wide",
        "window",
        "wired",
        "wooden",
        "yellow",
    ]
)
_OF = re.compile(r"(?P<part>.+?) of the (?P<whole>.+)")


def named(name: str) -> str:
    """A thing's name inside a sentence: ordinary words in lower case, somebody's own name as it was typed.

    ``Bench lamp`` gives ``bench lamp``, ``Desk lamp, left`` gives ``left desk lamp``, ``Nila's lamp`` stays.
    """
    first = re.match(r"[^\W\d_]+", name)
    plain = f"{name[0].lower()}{name[1:]}" if first and first[0].lower() in _ORDINARY and not first[0].isupper() else name
    for side in ("left", "right"):
        if plain.endswith(f", {side}"):
            return f"{side} {plain.removesuffix(f', {side}')}"
    return plain


def the(name: str) -> str:
    """A thing's name with its article where it takes one: ``the bench lamp``, ``the spare phone's earbuds``, ``Nila's lamp``."""
    plain = named(name)
    owner = _OF.fullmatch(plain)
    if owner and plain != name:
        return f"the {owner['whole']}'s {owner['part']}"
    return f"the {plain}" if plain != name or plain[:1].islower() or re.match(r"[A-Z]{2,}\b", plain) else plain


def sentence(words: str) -> str:
    """Words as the beginning of a sentence."""
    return words[:1].upper() + words[1:]
