"""How different two colours look: CIEDE2000 (G. Sharma, W. Wu, E. N. Dalal, Color Research and Application 30, 2005), D65 white."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.arrays import FloatArray

XYZ_OF_RGB = np.array(
    [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]]
)  # of linear sRGB
_WHITE = np.array([0.95047, 1.0, 1.08883])
NEUTRAL = "#ffffff"  # of what has no colour entered


def lab_of(colour: str, reflectance: float) -> FloatArray:
    """CIELAB of a surface, shape (3,): the hue of its sRGB colour at its reflectance.

    Args:
        colour: as ``#rrggbb``; its lightness plays no part.
        reflectance: 0-1.
    """
    xyz = _xyz(colour)
    xyz = xyz * (reflectance / xyz[1]) if xyz[1] > 1e-6 else _WHITE * reflectance
    share = xyz / _WHITE
    root = np.where(share > (6 / 29) ** 3, np.cbrt(share), share * (29 / 6) ** 2 / 3 + 4 / 29)
    return np.array([116 * root[1] - 16, 500 * (root[0] - root[1]), 200 * (root[1] - root[2])])


def luminance_of(colour: str) -> float:
    """Relative luminance of an sRGB colour, ``#rrggbb``: what it reflects, if it is a surface's as drawn, 0-1."""
    return float(_xyz(colour)[1])


def _xyz(colour: str) -> FloatArray:
    return np.asarray(XYZ_OF_RGB @ linear_of(np.array([int(colour[start : start + 2], 16) for start in (1, 3, 5)]) / 255))


def linear_of(encoded: FloatArray) -> FloatArray:
    """Linear light of values encoded as sRGB, 0-1 (IEC 61966-2-1)."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def difference(first: FloatArray, second: FloatArray) -> float:
    """CIEDE2000 between two CIELAB colours, each of shape (3,) [no unit]."""
    chroma = (math.hypot(*first[1:]) + math.hypot(*second[1:])) / 2
    stretch = 1 + 0.5 * (1 - math.sqrt(chroma**7 / (chroma**7 + 25.0**7)))
    (l1, a1, b1), (l2, a2, b2) = (float(first[0]), first[1] * stretch, first[2]), (float(second[0]), second[1] * stretch, second[2])
    c1, c2 = math.hypot(a1, b1), math.hypot(a2, b2)
    h1, h2 = math.degrees(math.atan2(b1, a1)) % 360, math.degrees(math.atan2(b2, a2)) % 360
    turn = h2 - h1 if abs(h2 - h1) <= 180 else h2 - h1 - math.copysign(360, h2 - h1)  # opposite hues have their middle between them
    turn = 0.0 if c1 * c2 == 0 else turn
    hue = h1 + h2 if c1 * c2 == 0 else (h1 + turn / 2) % 360
    light, mean_chroma = (l1 + l2) / 2, (c1 + c2) / 2
    weight = (
        1
        - 0.17 * math.cos(math.radians(hue - 30))
        + 0.24 * math.cos(math.radians(2 * hue))
        + 0.32 * math.cos(math.radians(3 * hue + 6))
        - 0.20 * math.cos(math.radians(4 * hue - 63))
    )
    by_light = (l2 - l1) / (1 + 0.015 * (light - 50) ** 2 / math.sqrt(20 + (light - 50) ** 2))
    by_chroma = (c2 - c1) / (1 + 0.045 * mean_chroma)
    by_hue = 2 * math.sqrt(c1 * c2) * math.sin(math.radians(turn / 2)) / (1 + 0.015 * mean_chroma * weight)
    power = 2 * math.sqrt(mean_chroma**7 / (mean_chroma**7 + 25.0**7))
    blue = -math.sin(math.radians(60 * math.exp(-(((hue - 275) / 25) ** 2)))) * power
    return math.sqrt(by_light**2 + by_chroma**2 + by_hue**2 + blue * by_chroma * by_hue)
