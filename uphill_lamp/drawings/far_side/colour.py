"""Colour of white light as linear sRGB, and the way from linear light to the screen."""

from __future__ import annotations

from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.colour import LUMA as RGB_LUMA
from uphill_lamp.core.field.light.colour import hue_rgb, white_uv
from uphill_lamp.core.scene.colour_difference import linear_of

_XYZ_TO_RGB = np.array([[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]])
MIDTONE = 0.23  # a camera's own development lifts what it meters, 0.18, by about a third of a stop
CONTRAST = 1.15  # exponent of the development about the middle tone
LUMA = RGB_LUMA.astype(np.float32)


def white_xy(cct_k: float, duv: float = 0.0) -> tuple[float, float]:
    """Chromaticity (CIE 1931) of a white, ``duv`` off its line."""
    u, v = white_uv(cct_k, duv)
    below = 2 * u - 8 * v + 4
    return 3 * u / below, 2 * v / below


@lru_cache(maxsize=256)
def _white_rgb(cct_k: float, duv: float) -> tuple[float, float, float]:
    x, y = white_xy(cct_k, duv)
    rgb = np.maximum(_XYZ_TO_RGB @ np.array([x / y, 1.0, (1 - x - y) / y]), 0.005)
    return tuple(rgb / float(rgb @ LUMA))


def white_rgb(cct_k: float, duv: float = 0.0) -> FloatArray:
    """Linear sRGB of a white at luminance 1, shape (3,) [no unit]."""
    return np.array(_white_rgb(round(cct_k), round(duv, 4)), dtype=np.float32)


class Coloured(Protocol):
    """What a source or a lamp says of its colour."""

    @property
    def cct_k(self) -> float:
        """Of its white [K]."""

    @property
    def duv(self) -> float:
        """How far off the white line [no unit]."""

    @property
    def hue_deg(self) -> float | None:
        """Of a deliberate accent [deg]."""


def light_rgb(light: Coloured) -> FloatArray:
    """Linear sRGB of a lamp's or a pane's light at luminance 1, shape (3,): its white, or an accent's hue."""
    if light.hue_deg is not None:
        return np.array(hue_rgb(round(light.hue_deg, 1)), dtype=np.float32)
    return white_rgb(light.cct_k, light.duv)


@lru_cache(maxsize=64)
def hex_rgb(colour: str) -> FloatArray:
    """Linear sRGB of #rrggbb, shape (3,) [no unit]."""
    return linear_of(np.array([int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)])).astype(np.float32)


def of_reflectance(colour: FloatArray, reflectance: float) -> FloatArray:
    """A hue brought to a reflectance, shape (3,) [no unit]."""
    luma = max(float(colour @ LUMA), 1e-3)
    return np.minimum(colour * np.float32(reflectance / luma), 0.97)


@lru_cache(maxsize=1)
def tone_table() -> NDArray[np.uint8]:
    """Linear 0-4 in 4096 steps to 8 bits: a little steeper than life about the mean, as cameras are, and a shoulder that burns out
    at about 2.5 stops over grey."""
    linear = MIDTONE * (np.linspace(0, 4, 4096) / MIDTONE) ** CONTRAST
    knee = 0.6
    bent = np.where(linear < knee, linear, knee + (1 - knee) * (1 - np.exp(-(linear - knee) / (1 - knee))))
    encoded = np.where(bent <= 0.0031308, 12.92 * bent, 1.055 * bent ** (1 / 2.4) - 0.055)
    return np.clip(np.round(encoded * 255), 0, 255).astype(np.uint8)
