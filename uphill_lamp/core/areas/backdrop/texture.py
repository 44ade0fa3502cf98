"""How restless what is drawn of each kind is in itself, and how fine that is: what light alone does not tell.

Taken from the kinds as they are drawn, at their usual size: the spread of log2 of their reflectance over what they cover, and the blur,
as wide as it is at half its height, that halves it.
"""

from __future__ import annotations

# Spread [stops] and the width of the blur that halves it [m].
TEXTURES: dict[str, tuple[float, float]] = {
    "plain_wall": (0.0, 0.1),
    "shelf": (0.73, 0.11),
    "bookcase": (0.91, 0.055),
    "plant": (0.29, 0.14),
    "picture": (1.16, 0.05),
    "clock": (1.47, 0.037),
    "door": (0.13, 0.045),
    "bed": (1.25, 0.4),
    "clutter": (0.97, 0.3),
    "screen": (1.11, 0.02),
    "green_screen": (0.39, 0.17),
    "folding_screen": (0.72, 0.08),
    "sheet": (0.15, 0.04),
    "curtain": (0.50, 0.055),
    "mirror": (0.32, 0.12),
    "clothes_rail": (1.43, 0.4),
    "board": (0.83, 0.05),
    "papers": (0.53, 0.015),
    "cloth": (0.30, 0.18),
}


def texture_stops(kind: str, blur_m: float) -> float:
    """The spread that is left of a kind's own pattern once it is blurred [stops].

    Args:
        kind: of a thing behind.
        blur_m: how wide the lens draws a point there [m].
    """
    stops, halved_m = TEXTURES[kind]
    return stops / (1 + blur_m / halved_m)
