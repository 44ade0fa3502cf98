"""Whites as a screen shows them: warm to cool, each as bright as the screen can make it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.drawings.far_side.colour import LUMA, white_rgb

CCTS_K = tuple(range(2000, 9001, 250))


@dataclass(frozen=True, slots=True)
class White:
    """A white: temperature [K], linear sRGB with its largest channel at 1, and its luminance against full white, 0-1."""

    cct_k: int
    linear: tuple[float, float, float]
    share: float


def whites() -> list[White]:
    """All whites of the full-screen lamp."""
    shapes = []
    for cct_k in CCTS_K:
        rgb = white_rgb(cct_k)
        rgb = np.clip(rgb / rgb.max(), 0, 1)
        shapes.append(White(cct_k, (float(rgb[0]), float(rgb[1]), float(rgb[2])), float(rgb @ LUMA)))
    return shapes
