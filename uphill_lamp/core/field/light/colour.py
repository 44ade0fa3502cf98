"""Colour of white light: chromaticity of a source, mixtures by illuminance, colour temperature and tint (docs/method/light.md, "Colour").

Whites below 4000 K lie on the Planckian locus, from 4000 K on the CIE daylight locus (CIE 15). Colour temperature and Duv by
Y. Ohno, "Practical use and calculation of CCT and Duv", LEUKOS 10 (2014): triangular solution on a table of the locus.
"""

from __future__ import annotations

from collections.abc import Sequence
from colorsys import hsv_to_rgb
from functools import lru_cache
from pathlib import Path

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.scene.colour_difference import XYZ_OF_RGB, linear_of

DAYLIGHT_FROM_K = 4000.0
LUMA = np.array([0.2126, 0.7152, 0.0722])  # luminance of linear sRGB (IEC 61966-2-1)
HUE_SATURATION = 0.9  # coloured lamps are a little paler than the edges of sRGB
_TABLE = Path(__file__).parent / "planckian.csv"  # tests/core/make_planckian.py makes it


@lru_cache(maxsize=1)
def _planckian() -> tuple[FloatArray, FloatArray]:
    """Temperatures (N,) [K] and chromaticities (N, 2) in CIE 1960 u, v of black bodies."""
    rows = np.loadtxt(_TABLE, delimiter=",", skiprows=1)
    return rows[:, 0], rows[:, 1:]


def _daylight_uv(cct_k: float) -> tuple[float, float]:
    t = 1000.0 / min(cct_k, 25_000.0)
    if cct_k <= 7000:
        x = -4.6070 * t**3 + 2.9678 * t**2 + 0.09911 * t + 0.244063
    else:
        x = -2.0064 * t**3 + 1.9018 * t**2 + 0.24748 * t + 0.237040
    return _uv(x, -3.0 * x * x + 2.870 * x - 0.275)


def _uv(x: float, y: float) -> tuple[float, float]:
    below = -2 * x + 12 * y + 3
    return 4 * x / below, 6 * y / below


@lru_cache(maxsize=512)
def white_uv(cct_k: float, duv: float = 0.0) -> tuple[float, float]:
    """Chromaticity (CIE 1960 u, v) of a lamp's light.

    Args:
        cct_k: correlated colour temperature, 1000-40 000 [K].
        duv: how far off its white line it lies, positive to green [no unit].
    """
    temperatures, line = _planckian()
    at = np.array([np.interp(cct_k, temperatures, line[:, axis]) for axis in range(2)])
    spot = at if cct_k < DAYLIGHT_FROM_K else np.array(_daylight_uv(cct_k))
    if duv:
        nearby = (np.interp(cct_k * 1.005, temperatures, line[:, axis]) for axis in range(2))
        along = np.array(list(nearby)) - at
        across = np.array([along[1], -along[0]]) / np.hypot(*along)
        spot = spot + duv * across * np.sign(across[1])
    return float(spot[0]), float(spot[1])


@lru_cache(maxsize=64)
def hue_rgb(hue_deg: float) -> tuple[float, float, float]:
    """Linear sRGB of a coloured lamp's light at luminance 1.

    Args:
        hue_deg: 0 red, 120 green, 240 blue [deg].
    """
    linear = linear_of(np.array(hsv_to_rgb(hue_deg % 360 / 360, HUE_SATURATION, 1.0)))
    red, green, blue = (float(part) for part in linear / (LUMA @ linear))
    return red, green, blue


@lru_cache(maxsize=64)
def hue_uv(hue_deg: float) -> tuple[float, float]:
    """Chromaticity (CIE 1960 u, v) of a coloured lamp's light."""
    x, y, z = XYZ_OF_RGB @ np.array(hue_rgb(hue_deg))
    return float(4 * x / (x + 15 * y + 3 * z)), float(6 * y / (x + 15 * y + 3 * z))


def mixed_uv(whites: Sequence[tuple[float, float]], shares: FloatArray) -> FloatArray:
    """Chromaticities of mixtures, added in CIE XYZ.

    Args:
        whites: u, v of each of S lights.
        shares: illuminance of each light in each of M mixtures, shape (M, S) [lx].

    Returns:
        u, v of each mixture, shape (M, 2); NaN where there is no light.
    """
    u, v = np.array(whites, dtype=float).reshape(-1, 2).T
    # x = 3u/(2u-8v+4), y = 2v/(2u-8v+4): X and X+Y+Z of each light for luminance 1, in terms of u and v.
    x_of, sum_of = 1.5 * u / v, (2 * u - 8 * v + 4) / (2 * v)
    with np.errstate(invalid="ignore", divide="ignore"):
        total = shares.sum(axis=1)
        x, y = (shares @ x_of) / (shares @ sum_of), total / (shares @ sum_of)
        return np.stack(_uv(x, y), axis=1)


def cct_and_duv(uv: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Correlated colour temperature [K] and distance from the Planckian locus of chromaticities (M, 2), each of shape (M,)."""
    temperatures, line = _planckian()
    across, up = uv[:, :1] - line[:, 0], uv[:, 1:] - line[:, 1]
    off = across * across + up * up
    off[np.isnan(off)] = np.inf
    middle = np.clip(off.argmin(axis=1), 1, len(line) - 2)
    rows = np.arange(len(uv))
    before, after = np.sqrt(off[rows, middle - 1]), np.sqrt(off[rows, middle + 1])
    step = line[middle + 1] - line[middle - 1]
    length = np.hypot(step[:, 0], step[:, 1])
    with np.errstate(invalid="ignore"):
        along = (before**2 - after**2 + length**2) / (2 * length)
        share = along / length
        cct_k = temperatures[middle - 1] + share * (temperatures[middle + 1] - temperatures[middle - 1])
        side = np.sign(uv[:, 1] - (line[middle - 1, 1] + share * step[:, 1]))
        return cct_k, np.sqrt(np.maximum(before**2 - along**2, 0.0)) * side


def mired(cct_k: float) -> float:
    """A colour temperature on the scale on which equal steps look alike [mired]."""
    return 1e6 / cct_k
