"""How wide words come out in the letters the app ships with, so that what is drawn round them fits."""

from __future__ import annotations

import unicodedata

# Advances of the regular letters, in thousandths of their size; a test holds them against the font itself.
_ADVANCES = {
    **dict.fromkeys("0123456789+−×", 497), **dict.fromkeys(".,:;·’'", 249), " ": 200, "%": 824, "°": 331, "-": 311, "(": 303, ")": 303, "/": 350,
    **dict(zip("abcdefghijklm", (504, 553, 456, 555, 496, 292, 504, 544, 246, 247, 495, 255, 829), strict=True)),
    **dict(zip("nopqrstuvwxyz", (547, 542, 555, 555, 347, 419, 338, 544, 467, 719, 446, 467, 425), strict=True)),
    **dict(zip("ABCDEFGHIJKLM", (543, 588, 571, 615, 527, 494, 617, 652, 263, 479, 579, 486, 727), strict=True)),
    **dict(zip("NOPQRSTUVWXYZ", (647, 664, 566, 664, 569, 534, 536, 645, 515, 786, 513, 476, 539), strict=True)),
}  # fmt: skip
OTHER, BROAD = 560, 1000  # letters of other scripts; such as are written in squares


def width_px(text: str, size_px: float) -> float:
    """How wide a line of regular letters of a size is [px]."""
    return sum(_ADVANCES.get(letter) or _other(letter) for letter in text) * size_px / 1000


def _other(letter: str) -> int:
    if unicodedata.combining(letter):
        return 0
    return BROAD if unicodedata.east_asian_width(letter) in "WF" else OTHER
